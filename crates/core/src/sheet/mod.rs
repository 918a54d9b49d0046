//! The session sheet: plain text as coaches type it, read into blocks and problems, and printed back. Reading
//! never stops and never panics; printing and reading again gives the same session.

mod aim;
mod answer;
mod around;
mod assemble;
mod atom;
mod clock;
mod clock_words;
mod compose;
mod count;
mod draft;
mod feature;
mod fill;
mod glossary;
mod heading;
mod item;
mod kind;
mod levels;
mod lift;
mod lifts;
mod line;
mod lines;
mod load;
mod model;
mod number;
mod percent;
mod plausible;
mod print;
mod problem;
mod read;
mod reading;
mod scan;
mod scope;
mod search;
mod segment;
mod sets;
mod statement;
mod teams;
mod text;
mod timing;
mod token;
mod totals;
mod weights;
mod work;

pub use answer::{Answer, BlockAnswer, PartAnswer, TargetAnswer, TeamAnswer, answer};
pub use glossary::{Glossary, OwnMeaning, OwnPhrase, Role};
pub use kind::{LineKind, Sure};
pub use model::{
    Block, BlockKind, Build, Count, Extra, Format, Item, LevelForm, LiftSets, Load, LoadFrom, MoveLine,
    Named, Other, Part, Percent, PercentBase, Score, Sheet, TOP_LEVEL, Target, TargetUnit, Team, TeamMode,
    Tempo, WeightUnit, When, Who, Wish, WordLoad,
};
pub use number::{read_clock, read_number};
pub use print::move_line;
pub use print::print;
#[allow(unused_imports)]
pub(crate) use print::{clock_line, target_words, wish_line};
pub use problem::{Asks, Problem, Severity};
pub use read::{MOST_LINES, read, read_with};
pub use reading::{Chosen, PlaceOf, ReadWith, Reading};
pub use search::{Query, dated};
pub use totals::{Total, TotalCount};

#[cfg(test)]
mod tests;
