//! What the program is made of: its subcommands, its settings, its demo hall. `main.rs` only calls them.

pub mod commands;
pub mod demo;
pub mod post;
pub mod settings;
