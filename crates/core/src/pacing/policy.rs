//! How a member paces: set sizes, floors and reserves held back; and forced ways of breaking sets.

use crate::schools::SetBreaking;
/// Pacing of one member through one workout.
#[derive(Debug, Clone, PartialEq)]
pub struct Policy {
    /// Reserve floor at the end of a planned set.
    pub theta: f64,
    /// Set size as a share of a full set from rested.
    pub sigma: f64,
    /// A set may use this share of what is available now.
    pub lead: f64,
    /// Engine balance kept back at a set start, x the share left.
    pub omega: f64,
    /// Multiplies the even-effort engine demand.
    pub q: f64,
    /// Stretches all cycle times and rests.
    pub slow: f64,
    /// No pacing: full speed, sets to failure.
    pub hot: bool,
    /// Engine cost of every segment (a fixed point, see `settle`).
    pub segments: Vec<f64>,
    /// A way of breaking sets that the coach or a strategy dictates.
    pub force: Option<Force>,
}

impl Default for Policy {
    fn default() -> Policy {
        Policy {
            theta: 0.2,
            sigma: 0.5,
            lead: 0.0,
            omega: 0.3,
            q: 1.0,
            slow: 1.0,
            hot: false,
            segments: Vec::new(),
            force: None,
        }
    }
}

/// A dictated way of breaking sets.
#[derive(Debug, Clone, PartialEq)]
pub struct Force {
    /// Of this slot; `None`: of everything that is broken by fatigue.
    pub slot: Option<usize>,
    /// How.
    pub plan: SetPlan,
}

/// A forced way of breaking the sets of one movement.
#[derive(Debug, Clone, PartialEq)]
pub enum SetPlan {
    /// These sizes, the last repeats; rests are the shortest that make the next set possible.
    Sizes {
        /// Set sizes.
        sizes: Vec<f64>,
        /// Reserve floor.
        theta: f64,
    },
    /// These shares of what a line asks for, the last repeats; rests as for sizes.
    Shares {
        /// Shares of the line's count, 0 to 1.
        shares: Vec<f64>,
        /// Reserve floor.
        theta: f64,
    },
    /// One size, started every so many seconds.
    Clock {
        /// Set size.
        size: f64,
        /// Seconds between starts.
        every: f64,
    },
    /// One set to failure, then singles.
    ToFailureThenSingles,
    /// One rep at a time.
    Singles,
}

/// Which parts of a policy had a say in a run: with another value of the others it would have gone the same.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Swayed {
    /// A set was sized: `sigma` and `lead`.
    pub sizes: bool,
    /// A pace was held back to last: `q`.
    pub demand: bool,
    /// Some of the engine's balance could have been kept: `omega`.
    pub balance: bool,
}

/// How a hall wants large sets broken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default, serde::Serialize)]
pub enum Style {
    /// Whatever is fastest.
    #[default]
    Free,
    /// Equal sets from the first to the last.
    Even,
    /// Larger sets first.
    Descending,
    /// One set to failure, then singles.
    UnbrokenThenSingles,
    /// Singles from the start.
    Singles,
}

impl Style {
    /// By the hall's way of breaking sets.
    pub fn of_school(way: SetBreaking) -> Style {
        match way {
            SetBreaking::EvenOnClock => Style::Even,
            SetBreaking::Descending => Style::Descending,
            SetBreaking::UnbrokenThenSingles => Style::UnbrokenThenSingles,
            SetBreaking::Singles => Style::Singles,
        }
    }

    /// What it dictates whatever the clock says.
    pub(super) fn forced(self) -> Option<SetPlan> {
        match self {
            Style::UnbrokenThenSingles => Some(SetPlan::ToFailureThenSingles),
            Style::Singles => Some(SetPlan::Singles),
            _ => None,
        }
    }
}

/// Where a forced plan stands in its block.
#[derive(Debug, Clone, Default)]
pub(super) struct Progress {
    pub i: usize,
    pub owed: f64,
    /// What the line asks for in all.
    pub whole: f64,
    pub t0: f64,
}

/// Where the sets of a line stand in one round.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Block {
    /// What the line asks for in all.
    pub whole: f64,
    /// Sets so far.
    pub sets: u32,
    /// The last one's size.
    pub last: f64,
    /// The first one's size.
    pub first: f64,
}
