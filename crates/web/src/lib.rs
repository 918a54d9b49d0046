//! Requests into calls, results into pages. Handlers read, load, call the core and fill a view; they compute nothing of
//! the job. Start at `routes.rs` (every address) and `class_page.rs` (what a step of a class needs).

mod app;
mod assets;
mod class_page;
mod clocks;
mod day;
mod draw;
mod error;
mod frame;
mod learners;
mod metrics;
mod pages;
mod plan_cache;
pub mod post;
mod routes;
mod session;
#[cfg(test)]
#[path = "../build/trim.rs"]
mod trim;

pub use app::{App, Config, serve};

/// How an event of a feed is proven to be a hall's own.
pub mod feed {
    pub use crate::pages::feed::{PROOF, TIME, proof};
}
