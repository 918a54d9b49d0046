//! What a workout should feel like: the window in which results should land, the cap, how sets may break. Said on
//! the sheet, or inferred from a model member and marked as assumed.

mod edit;
mod infer;
mod limits;

pub use edit::{Chosen, Typed, Wrong, read_typed};
pub use infer::{infer, unit_of};
pub use limits::{Limits, groups_of, limits};

use crate::sheet::{Block, Target, TargetUnit, Wish};
use serde::{Deserialize, Serialize};

/// Who said it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Said {
    /// Stands on the sheet.
    Sheet,
    /// Worked out from the regular model member: to be looked at.
    Assumed,
    /// The coach's own, from the stimulus screen.
    Coach,
}

/// How long the work lasts: short under 5 min, medium to 15, long above.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum Length {
    Short,
    Medium,
    Long,
}

impl Length {
    /// Of so many seconds.
    pub fn of(seconds: f64) -> Length {
        match seconds {
            s if s < 300.0 => Length::Short,
            s if s <= 900.0 => Length::Medium,
            _ => Length::Long,
        }
    }

    /// The word that people read.
    pub fn word(self) -> &'static str {
        match self {
            Length::Short => "short",
            Length::Medium => "medium",
            Length::Long => "long",
        }
    }
}

/// The stimulus of one workout.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Stimulus {
    /// Unit of the window.
    pub unit: TargetUnit,
    /// From; open below without.
    pub low: Option<f64>,
    /// To; open above without.
    pub high: Option<f64>,
    /// Who said the window.
    pub said: Said,
    /// s.
    pub cap_s: Option<f64>,
    /// What every version keeps.
    pub wishes: Vec<Wish>,
    /// By the window's middle (or the clock's length).
    pub length: Length,
}

impl Stimulus {
    /// The stimulus of a block with its window as said on the sheet.
    pub fn of_sheet(block: &Block, target: Target, clock_s: Option<f64>) -> Stimulus {
        let middle = clock_s.unwrap_or_else(|| match (target.low, target.high) {
            (Some(a), Some(b)) => (a + b) / 2.0,
            (a, b) => b.or(a).unwrap_or(600.0),
        });
        Stimulus {
            unit: target.unit,
            low: target.low,
            high: target.high,
            said: Said::Sheet,
            cap_s: block.cap_s.map(f64::from),
            wishes: block.wishes.clone(),
            length: Length::of(middle),
        }
    }

    /// Whether smaller scores are better.
    pub fn is_time(&self) -> bool {
        self.unit == TargetUnit::Seconds
    }

    /// Whether more is better: nobody is told that they do too much.
    fn counts(&self) -> bool {
        matches!(self.unit, TargetUnit::Rounds | TargetUnit::Reps)
    }

    /// The upper end where it is one.
    pub(crate) fn top(&self) -> Option<f64> {
        self.high.filter(|_| !self.counts())
    }

    /// Whether nothing is asked but that the work goes on as it began.
    pub fn only_steady(&self) -> bool {
        self.counts() && self.no_window()
    }

    /// Whether there is nothing to be judged by: no time, no count.
    pub fn no_window(&self) -> bool {
        self.low.is_none() && self.high.is_none()
    }

    /// Whether a score lies in the window.
    pub fn holds(&self, score: f64) -> bool {
        self.low.is_none_or(|l| score >= l - 1e-9) && self.top().is_none_or(|h| score <= h + 1e-9)
    }

    /// Whether a score is too weak: slower than the window, or under it.
    pub fn too_hard(&self, score: f64) -> bool {
        if self.is_time() {
            self.high.is_some_and(|h| score > h)
        } else {
            self.low.is_some_and(|l| score < l)
        }
    }

    /// The window's width, or a fifth of its one end.
    fn width(&self) -> f64 {
        match (self.low, self.high) {
            (Some(a), Some(b)) => (b - a).max(1e-6),
            (a, b) => a.or(b).unwrap_or(1.0) * 0.2,
        }
    }

    /// The same window with so many times its rounds or reps; times and rests stay.
    pub fn times(&self, share: f64) -> Stimulus {
        let counts = matches!(self.unit, TargetUnit::Rounds | TargetUnit::Reps);
        let end = |v: Option<f64>| v.map(|v| if counts { v * share } else { v });
        Stimulus { low: end(self.low), high: end(self.high), ..self.clone() }
    }

    /// How far a score is from the comfortable middle of the window, in windows: 0 inside the middle seven tenths.
    pub fn miss(&self, score: f64) -> f64 {
        if !score.is_finite() {
            return 50.0;
        }
        let w = self.width();
        let low = self.low.map_or(f64::NEG_INFINITY, |l| l + 0.15 * w);
        let high = self.top().map_or(f64::INFINITY, |h| h - 0.15 * w);
        ((low - score).max(score - high) / w).max(0.0)
    }

    /// Whether a score lies on the easy side of the window's middle.
    pub fn on_easy_side(&self, score: f64) -> bool {
        match (self.low, self.high) {
            (Some(a), Some(b)) if self.is_time() => score < (a + b) / 2.0,
            (Some(a), Some(b)) => score > (a + b) / 2.0,
            (low, high) => {
                !self.too_hard(score) && if self.is_time() { high.is_none() } else { low.is_none() }
            }
        }
    }

    /// How far a score is from the window's middle, in windows; from the open window's one end where it has one.
    pub fn from_middle(&self, score: f64) -> f64 {
        if !score.is_finite() {
            return 50.0;
        }
        match (self.low, self.top()) {
            (Some(a), Some(b)) => (score - (a + b) / 2.0).abs() / self.width(),
            _ => self.miss(score),
        }
    }

    /// A score in the window's unit as people read it.
    pub fn write(&self, score: f64) -> String {
        crate::say::score(self.unit, score)
    }

    /// The window in words: `9:00 to 12:00`, `5 to 6 rounds`, `under 10:00`.
    pub fn window_text(&self) -> String {
        crate::say::window(self.unit, [self.low, self.high], self.only_steady())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn window(text: &str) -> Stimulus {
        let block = read(text).sheet.blocks[0].clone();
        Stimulus::of_sheet(&block, block.target.expect("target"), None)
    }

    #[test]
    fn a_window_knows_what_lies_in_it() {
        let s = window("# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n10 burpees");
        assert!(s.holds(540.0) && s.holds(720.0) && !s.holds(721.0));
        assert!(s.too_hard(721.0) && !s.too_hard(500.0));
        assert_eq!((s.miss(630.0), s.miss(720.0)), (0.0, 27.0 / 180.0));
        assert_eq!(s.window_text(), "9:00 to 12:00");
        assert_eq!((s.cap_s, s.length), (Some(840.0), Length::Medium));
    }

    #[test]
    fn more_is_better_where_rounds_count() {
        let s = window("# workout target 5-6 rounds\namrap 12:00\n10 burpees");
        assert!(s.too_hard(4.9) && !s.too_hard(7.0));
        assert_eq!(s.window_text(), "5 to 6 rounds");
        assert!(s.miss(f64::INFINITY) > 10.0);
    }

    #[test]
    fn an_open_window_has_one_end() {
        let s = window("# workout target under 10:00\nfor time\n50 burpees");
        assert_eq!(s.window_text(), "under 10:00");
        assert!(s.holds(10.0) && !s.holds(601.0));
    }
}
