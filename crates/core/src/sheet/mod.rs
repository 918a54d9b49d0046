//! The session sheet: plain text as coaches type it, read into blocks and problems, and printed back. Reading
//! never stops and never panics; printing and reading again gives the same session.

mod answer;
mod block_lines;
mod build_line;
mod clean;
mod draft;
mod format;
mod heading;
mod lines;
mod model;
mod modifiers;
mod movement_line;
mod print;
mod problem;
mod quantity;
mod read;
mod search;
mod strength_line;
mod structure;
mod totals;
mod windows;
mod wish_line;

pub use answer::{Answer, BlockAnswer, PartAnswer, TargetAnswer, TeamAnswer, answer};
pub use model::{
    Block, BlockKind, Build, Count, Extra, Format, Item, LiftSets, Load, MoveLine, Named, Part, Percent,
    PercentBase, Score, Sheet, Target, TargetUnit, Team, TeamMode, Tempo, WeightUnit, When, Wish, WordLoad,
};
pub use print::print;
#[allow(unused_imports)]
pub(crate) use print::{clock_line, move_line, target_words, wish_line};
pub use problem::{Problem, Severity};
pub use quantity::{read_clock, read_number};
pub use read::{LineKind, MOST_LINES, Reading, read};
pub use search::{Query, dated};
pub use totals::{Total, TotalCount};

#[cfg(test)]
mod tests;
