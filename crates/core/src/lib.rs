//! All rules and arithmetic of Honest Lantern: no I/O, no clock, no SQL, no HTML; randomness by seed.
//!
//! One module a task, in the order in which a coach works; [`plan`] joins them.

pub mod cautions;
pub mod cycle;
pub mod held;
pub mod hour;
pub mod kinds;
pub mod kit;
pub mod learning;
pub mod loads;
pub mod logbook;
pub mod mend;
pub mod moved;
pub mod movement;
pub mod pacing;
pub mod people;
pub mod plan;
pub mod ratios;
pub mod reason;
pub mod record;
pub mod roster;
pub mod say;
pub mod schools;
pub mod settings;
pub mod sheet;
pub mod stimulus;
pub mod timetable;
pub mod units;
pub mod versions;
pub mod warmup;
mod words;
