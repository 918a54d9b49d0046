//! Versions of a workout: what may change (levers), which changes make Trim and Base (search), who does which (place),
//! and what is personal. Times in seconds, loads kg of one implement.

mod board;
mod breaking;
mod built;
mod compile;
mod ease;
mod friendly;
mod from_sheet;
mod groups;
mod guard;
mod height;
mod levers;
mod open;
mod personal;
mod place;
mod predict;
mod search;
mod splits;
mod together;
mod tried;
mod variants;
mod work;

pub use board::{board_of_units, board_reps, rounds_of_units};
pub use breaking::{Breaking, breakings, breakings_by_line};
pub use compile::{Compiled, compile, compile_lines, line_kg};
pub use friendly::{friendly, friendly_counts};
pub use from_sheet::own_levels;
pub use groups::{Version, Versions, make};
pub use guard::{Bound, GUARDS, Guard, bound, guard_of, volume};
pub use levers::{Levers, Setting, at_hand, kit_has};
pub use open::{Fault, OpenClock};
pub use personal::{Personal, change_text, say_limit, too_early_to_swing};
pub use place::{Day, Placed, Tried, place, within_limits};
pub use predict::{Effort, Predicted, Prediction, PredictionUnit, Quick, predict, quick_score};
pub use search::{Fit, Found, Group, Loads, Tier, Wanted, find, first_set, fit_of, next_to};
pub use splits::{LineSets, Splits, splits, traced};
pub use tried::{Candidate, Search, search_of};
pub use variants::{From as VariantFrom, Variant, Without, without};
pub use work::{Along, Clock, Line, Section, Weight, Work};

#[cfg(test)]
mod tests;
