//! The real interface in headless Chromium.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

mod cards;
mod decide;
mod driver;
mod finish;
mod first;
mod frame;
mod hall;
mod legible;
mod outbox;
mod page;
mod story;
mod strength;
mod walls;
mod whole;
