//! Strength: from what is known about a lift to every set's weight and plates, the ramp up to it, the time it
//! takes and who shares a rack. kg, per cent, seconds.

mod base;
mod one_rep_max;
mod prescribe;
mod racks;
mod ramp;
mod time;

pub use base::{Base, Estimate, RATIOS, base_for, estimate};
pub use one_rep_max::{OneRepMax, brzycki, epley, one_rep_max, percent_for_reps, wathan};
pub use prescribe::{Bars, MemberLift, SetLoad, prescribe};
pub use racks::{Rack, RackPlan, plate_moves, racks};
pub use ramp::ramp;
pub use time::{StrengthTime, rest_after, set_time, strength_time};

#[cfg(test)]
mod tests;
