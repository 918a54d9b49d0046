//! What gives way, and for whom: levers, guide weights, amounts, what a member's body, log and limits allow, and their place.

mod amount;
mod breaking;
mod guard;
mod guide;
mod height;
mod instruction;
mod levers;
mod limits;
mod look;
mod offers;
mod personal;
mod place;
mod reach;
mod reason;
mod replace;
mod skill;
mod strict;
mod table;
mod weight;

pub use amount::Amount;
pub use breaking::{Breaking, breakings, breakings_by_line};
pub use guard::{Bound, GUARDS, Guard, bound, cap_to, guard_of, volume};
pub use guide::at_hand;
pub use instruction::{Instruction, budget, instructions, instructions_capped, sentence};
pub use levers::{Levers, Setting, kit_has};
pub use personal::{Personal, change_text};
pub use place::{PlaceDay, Placed, Tried, before_results, place, within_limits};
pub use reach::out_of_reach;
pub use reason::{Hinder, hindered};
pub use replace::{replaced_for_both, with_this_kit};
pub use skill::{Doer, missing_lines};
pub use strict::too_early_to_swing;
pub use weight::{Hands, lightest_share, own_weights, weights_for_sets};

#[cfg(test)]
mod tests;
