//! Strength: from what is known about a lift to every set's weight and plates, the ramp up to it, the time it
//! takes and who shares a rack. kg, per cent, seconds.

mod base;
mod by_hand;
mod ceiling;
mod change;
mod estimate;
mod fit;
mod form;
mod heavy;
mod implement;
mod instead;
mod ledger;
mod one_rep_max;
mod prescribe;
mod progress;
mod racks;
mod ramp;
mod time;
mod wanted;

pub use base::{Base, base_for};
pub use by_hand::put_on;
pub use change::{plate_change, plate_moves};
pub use estimate::{Estimate, estimate};
pub(crate) use estimate::{by_mass, of_level, own_one_rm};
pub use fit::{Fit, Offer, offers};
pub use heavy::{Attempt, NextSet, best_of_day, next_set, plan_heavy, sets_that_fit};
pub use ledger::{LedgerRow, ledger};
pub use one_rep_max::{OneRepMax, brzycki, epley, one_rep_max, percent_for_reps, wathan};
pub use prescribe::{Bars, MemberLift, SetLoad, prescribe};
pub use progress::{Point, progress};
pub use racks::{Floor, Lifter, Rack, RackPlan, racks, with_weights};
pub use ramp::ramp;
pub use time::{StrengthTime, Turns, reps_time, rest_after, set_time, strength_time};
pub use wanted::tempo_share;

#[cfg(test)]
mod heavy_tests;
#[cfg(test)]
mod tests;
