//! The session sheet: plain text as coaches type it, read into blocks and problems, and printed back. Reading
//! never stops and never panics; printing and reading again gives the same session.

mod answer;
mod clean;
mod format;
mod heading;
mod model;
mod movement_line;
mod print;
mod problem;
mod quantity;
mod read;
mod strength_line;
mod wish_line;

pub use answer::{Answer, BlockAnswer, Total, TotalCount, answer};
pub use model::{
    Block, BlockKind, Count, Format, Item, LiftSets, Load, MoveLine, Named, Percent, PercentBase, Score,
    Sheet, Target, TargetUnit, Tempo, WeightUnit, Wish, WordLoad,
};
pub use print::print;
#[allow(unused_imports)]
pub(crate) use print::{clock_line, move_line, target_words};
pub use problem::{Problem, Severity};
pub use quantity::{read_clock, read_number};
pub use read::{MOST_LINES, Reading, read};

#[cfg(test)]
mod tests;
