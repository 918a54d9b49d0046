//! A class that was held: what it was planned from stays as it was, its blocks keep their identity through edits, and results are
//! judged by what was foretold before them.

mod blocks;
mod judge;

pub use blocks::{Blocks, KeptBlock, Looks};
pub use judge::{Judged, Side, board_reps, judge, landed, seen};

use crate::plan::{Class, Options};
use crate::settings::Settings;
use crate::sheet::Chosen;
use serde::{Deserialize, Serialize};

/// Everything that a plan was made from when the first result was logged, but for what the coach decides: with it the same plan is
/// made again, whatever happens to sheet, roster, kit and settings later.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Inputs {
    /// The sheet as it was typed.
    pub sheet: String,
    /// What was chosen for its doubtful lines.
    pub choices: Vec<(String, Chosen)>,
    /// Its blocks.
    pub blocks: Blocks,
    /// Who and what was there.
    pub class: Class,
    /// The hall's answers.
    pub settings: Settings,
    /// Runs of each range.
    pub runs: u32,
    /// Seed of all draws.
    pub seed: u64,
}

impl Inputs {
    /// How to plan with them.
    pub fn options(&self) -> Options {
        Options { as_written: false, runs: self.runs, seed: self.seed }
    }
}
