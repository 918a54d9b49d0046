//! All rules and arithmetic of Honest Lantern: no I/O, no clock, no SQL, no HTML; randomness by seed.

pub mod movement;
pub mod pacing;
pub mod sheet;
pub mod units;
