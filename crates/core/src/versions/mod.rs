//! Versions of a workout, in rooms one above the other: the work itself (`work/`), how it goes for a member (`predict/`), what may
//! change and for whom (`scale/`), and how Trim and Base are found (`search/`). Times in seconds, loads kg of one implement.

mod predict;
mod scale;
mod search;
mod work;

pub use predict::{
    Effort, Fault, LineSets, OpenClock, Predicted, Prediction, PredictionUnit, Quick, Splits, compile_for,
    most_of, paced_score, predict, quick_score, splits, traced,
};
pub use scale::{
    Amount, Bound, Breaking, GUARDS, Guard, Hands, Hinder, Instruction, Levers, Personal, PlaceDay, Placed,
    Setting, Tried, at_hand, before_results, bound, breakings, breakings_by_line, budget, change_text,
    guard_of, kit_has, out_of_reach, own_weights, place, too_early_to_swing, volume, with_this_kit,
    within_limits,
};
pub use search::{
    Candidate, Group, GroupFit, Room, Search, Variant, VariantFrom, Version, Versions, Without,
    candidates as candidates_of, fit_of, make, search_of, without,
};
pub use work::{
    Along, Call, Clock, Compiled, Line, Phase, PhaseKind, Section, Tier, Weight, Work, board_of_units,
    board_reps, compile, compile_lines, even_up, friendly, friendly_count, friendly_counts, line_kg,
    own_levels, rounds_of_units,
};

#[cfg(test)]
mod tests;
