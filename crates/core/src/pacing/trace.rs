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
