//! Versions of a workout: what may change (levers), which changes make Trim and Base (search), who does which (place),
//! and what is personal. Times in seconds, loads kg of one implement.

mod compile;
mod friendly;
mod groups;
mod levers;
mod personal;
mod place;
mod predict;
mod search;
mod splits;
mod work;

pub use compile::{board_reps, compile, line_kg, round_units, rounds_of_units};
pub use friendly::{friendly, friendly_counts};
pub use groups::{Version, Versions, make};
pub use levers::{Levers, Setting, at_hand, kit_has};
pub use personal::{Personal, change_text, say_limit};
pub use place::{Day, Placed, Tried, place};
pub use predict::{Predicted, Prediction, PredictionUnit, Quick, predict, quick_score};
pub use search::{Group, Tier, find, first_set};
pub use splits::{LineSets, Splits, splits};
pub use work::{Along, Clock, Line, Weight, Work};

#[cfg(test)]
mod tests;
