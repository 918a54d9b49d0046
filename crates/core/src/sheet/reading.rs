//! What reading is given beside the text, what comes of it, and a line as it was heard.

use super::glossary::Glossary;
use super::kind::{LineKind, Sure};
use super::line::Heard;
use super::model::{BlockKind, Sheet, WeightUnit};
use super::problem::{Problem, Severity};
use super::statement::{Stated, statements};
use serde::{Deserialize, Serialize};

/// What came of a sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Reading {
    /// All that could be read.
    pub sheet: Sheet,
    /// What could not, or should be looked at; by line and column.
    pub problems: Vec<Problem>,
    /// What each written line was read as, in order.
    pub lines: Vec<(u32, LineKind)>,
    /// How sure each line's place is, and the other place that came near.
    pub places: Vec<PlaceOf>,
}

/// How sure the place of a line is.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct PlaceOf {
    /// The line.
    pub line: u32,
    /// Its text, by which a choice for it is kept.
    pub text: String,
    /// How sure.
    pub sure: Sure,
    /// What it is read as.
    pub now: Chosen,
    /// What it could be too, where that is close.
    pub other: Option<Chosen>,
}

/// What a coach has chosen for a line whose place was in doubt.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Chosen {
    /// It is said to the class.
    Message,
    /// It goes on with the block above.
    GoesOn,
    /// It opens a block of this kind.
    Opens(BlockKind),
}

/// What reading goes by beside the text.
#[derive(Debug, Clone, Default)]
pub struct ReadWith<'a> {
    /// Unit of weights without one: the hall's kit.
    pub units: WeightUnit,
    /// What the hall answered about usual pound pairs on a sheet in kilograms.
    pub pound_pairs: Option<WeightUnit>,
    /// The hall's phrases with the embedded ones; `None`: the embedded ones.
    pub glossary: Option<&'a Glossary>,
    /// The coach's choices, by the text of the line (trimmed).
    pub choices: &'a [(String, Chosen)],
}

impl Reading {
    /// Whether part of the sheet waits for the coach.
    pub fn has_errors(&self) -> bool {
        self.problems.iter().any(|p| p.severity == Severity::Error)
    }
}

/// A line that was heard, with its statements.
pub(super) struct Spoken {
    pub heard: Heard,
    pub stated: Vec<Stated>,
}

impl Spoken {
    pub fn of(heard: Heard) -> Spoken {
        let stated = statements(&heard);
        Spoken { heard, stated }
    }
}
