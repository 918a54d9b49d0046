//! What happened on the clock in one run: work, breaks, rests and changes, one after another.

/// What a stretch of time was.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Did {
    /// A set.
    Work,
    /// A break between sets, as long as the member takes.
    Break,
    /// A rest that the clock or the sheet gives, or a partner's turn.
    Rest,
    /// From one movement to the next.
    Change,
}

impl Did {
    /// The word in files and on pages.
    pub fn word(self) -> &'static str {
        match self {
            Did::Work => "work",
            Did::Break => "break",
            Did::Rest => "rest",
            Did::Change => "change",
        }
    }
}

/// How steadily a run went: what work on an open clock is judged by.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Steadiness {
    /// s stood still between sets, beyond the rests that are given.
    pub stood: f64,
    /// s and units of the first whole round or window.
    pub first: Option<(f64, f64)>,
    /// The same of the last.
    pub last: Option<(f64, f64)>,
    /// Most sets that a line of few reps took.
    pub sets: u32,
    /// Sets beyond what the sheet asks, in the worst line of a round.
    pub over: u32,
}

impl Steadiness {
    /// Reps up to which a line should not be in many sets.
    pub const FEW_REPS: f64 = 15.0;

    /// A round of so many seconds and units is done.
    pub(super) fn round(&mut self, seconds: f64, units: f64) {
        self.first = self.first.or(Some((seconds, units)));
        self.last = Some((seconds, units));
    }
}

/// A stretch of time in a trace.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span {
    /// What it was.
    pub did: Did,
    /// Slot of the task (of the next one for a change).
    pub slot: usize,
    /// Place of the line that the task stands for.
    pub line: usize,
    /// Whole rounds, cycles or windows done before it.
    pub round: u32,
    /// s, start.
    pub from: f64,
    /// s, end.
    pub to: f64,
    /// Units done.
    pub units: f64,
}
