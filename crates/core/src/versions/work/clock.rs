//! The clock that a part of a workout runs on.

use serde::{Deserialize, Serialize};

/// The clock that a part of the work runs on. Times in seconds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Clock {
    /// The list so many times.
    Rounds(u32),
    /// The list once for each number of a scheme.
    Scheme(u32),
    /// The list once.
    Once,
    /// The list over and over for so many seconds.
    Amrap(u32),
    /// The list at the start of every so many seconds.
    Every {
        /// Interval.
        every_s: u32,
        /// Cycles.
        n: u32,
    },
    /// One line at the start of every so many seconds, in turn.
    Alternating {
        /// Interval.
        every_s: u32,
        /// Cycles in all.
        n: u32,
    },
    /// The list every so many seconds until a cycle is not finished.
    UntilFailure {
        /// Interval.
        every_s: u32,
    },
    /// Windows with rest between; a last line with as much as possible takes what is left of each.
    Windows {
        /// Work.
        on_s: u32,
        /// Rest.
        off_s: u32,
        /// Windows.
        n: u32,
    },
    /// A window for each line in turn.
    Stations {
        /// Work.
        on_s: u32,
        /// Rest.
        off_s: u32,
        /// Times through.
        rounds: u32,
    },
    /// Short windows: in turn over the lines, or all of them on each line.
    OnOff {
        /// Work.
        on_s: u32,
        /// Rest.
        off_s: u32,
        /// Windows, of each line unless they alternate.
        n: u32,
        /// In turn.
        alternating: bool,
    },
}

impl Clock {
    /// Done as fast as possible.
    pub fn for_time(self) -> bool {
        matches!(self, Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once)
    }

    /// Cycles whose measure is the rest that is left.
    pub fn cycles(self) -> Option<u32> {
        match self {
            Clock::Every { every_s, .. } | Clock::Alternating { every_s, .. } => Some(every_s),
            _ => None,
        }
    }

    /// Interval of a clock that runs until a cycle fails, s.
    pub fn interval_s(self) -> Option<u32> {
        match self {
            Clock::UntilFailure { every_s } => Some(every_s),
            _ => None,
        }
    }

    /// In words: `3 rounds`, `every 2:00, 8 times`.
    pub fn text(self) -> String {
        let t = |s: u32| crate::units::clock(f64::from(s));
        match self {
            Clock::Rounds(1) => "1 round".to_owned(),
            Clock::Rounds(n) | Clock::Scheme(n) => format!("{n} rounds"),
            Clock::Once => "once through".to_owned(),
            Clock::Amrap(s) => format!("as many rounds as possible in {}", t(s)),
            Clock::Every { every_s, n } => format!("every {}, {n} times", t(every_s)),
            Clock::Alternating { every_s, n } => format!("every {} a line in turn, {n} times", t(every_s)),
            Clock::UntilFailure { every_s } => format!("every {} until failure", t(every_s)),
            Clock::Windows { on_s, off_s, n } => format!("{n} windows of {}, {} rest", t(on_s), t(off_s)),
            Clock::Stations { on_s, off_s, rounds } => {
                format!("stations of {}, {} rest, {rounds} rounds", t(on_s), t(off_s))
            }
            Clock::OnOff { on_s, off_s, n, alternating } => {
                let how = if alternating { "in turn" } else { "on each line" };
                format!("{} on, {} off, {n} times {how}", t(on_s), t(off_s))
            }
        }
    }
}
