//! Versions of a workout: what may change (levers), which changes make Trim and Base (search), who does which (place),
//! and what is personal. Times in seconds, loads kg of one implement.

mod board;
mod breaking;
mod compile;
mod friendly;
mod from_sheet;
mod groups;
mod levers;
mod personal;
mod place;
mod predict;
mod search;
mod splits;
mod together;
mod work;

pub use board::{board_of_units, board_reps, rounds_of_units};
pub use breaking::{Breaking, breakings};
pub use compile::{Compiled, compile, compile_lines, line_kg};
pub use friendly::{friendly, friendly_counts};
pub use groups::{Version, Versions, make};
pub use levers::{Levers, Setting, at_hand, kit_has};
pub use personal::{Personal, change_text, say_limit};
pub use place::{Day, Placed, Tried, place};
pub use predict::{Predicted, Prediction, PredictionUnit, Quick, predict, quick_score};
pub use search::{Group, Tier, find, first_set};
pub use splits::{LineSets, Splits, splits, traced};
pub use work::{Along, Clock, Line, Section, Weight, Work};

#[cfg(test)]
mod tests;
