//! The track record: how often results fell inside the range that was promised for them.

use crate::units::Provenance;
use serde::{Deserialize, Serialize};

/// The promise: so many of a hundred results fall inside their range.
pub const PROMISED: f64 = 0.80;
/// Under so many results no claim is made.
pub const LEAST_FOR_A_CLAIM: usize = 30;
/// Standard normal quantile of a 95 % interval.
const Z95: f64 = 1.959_964;

/// One result beside its prediction, in the same unit.
#[derive(Debug, Clone, PartialEq)]
pub struct Pair {
    /// 10 to 90 per cent of the predicted runs.
    pub deciles: [f64; 9],
    /// What happened.
    pub result: f64,
    /// Smaller is faster.
    pub is_time: bool,
    /// What the prediction rested on.
    pub provenance: Provenance,
}

impl Pair {
    /// Inside the 80 % range.
    pub fn inside(&self) -> bool {
        let [low, .., high] = self.deciles;
        outside(low, high, self.result, self.is_time) == 0.0
    }

    /// Which tenth of the predicted runs the result fell in: 0 better than all shown, 9 worse; each should hold a tenth.
    pub fn slot(&self) -> usize {
        let below = self.deciles.iter().filter(|d| self.result > **d).count();
        if self.is_time { below } else { 9 - below }
    }
}

/// How a result stands to what was foretold.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Landed {
    /// Which tenth of the predicted runs it fell in, 0 to 9, better first.
    pub slot: u8,
    /// Inside the range.
    pub inside: bool,
    /// What the prediction rested on.
    pub provenance: Provenance,
}

impl Pair {
    /// How the result stands.
    pub fn landed(&self) -> Landed {
        Landed { slot: self.slot().min(9) as u8, inside: self.inside(), provenance: self.provenance }
    }
}

/// How far a result lies outside its range: under 0 below it, over 0 above it, 0 inside, in the result's unit.
///
/// Printed ranges are whole seconds, so half a second outside is inside as printed.
pub fn outside(low: f64, high: f64, result: f64, is_time: bool) -> f64 {
    let slack = if is_time { 0.5 + 1e-9 } else { 1e-9 };
    if result < low - slack {
        result - low
    } else if result > high + slack {
        result - high
    } else {
        0.0
    }
}

/// So many of so many, with the range in which the true share likely lies.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Share {
    /// Inside.
    pub inside: usize,
    /// Of.
    pub of: usize,
    /// Low end of the 95 % interval, 0 to 1.
    pub low: f64,
    /// High end.
    pub high: f64,
}

impl Share {
    /// Wilson's interval (Wilson 1927), which holds for small counts.
    pub fn of(inside: usize, of: usize) -> Share {
        if of == 0 {
            return Share { inside, of, low: 0.0, high: 1.0 };
        }
        let (n, p) = (of as f64, inside as f64 / of as f64);
        let z2 = Z95 * Z95;
        let centre = (p + z2 / (2.0 * n)) / (1.0 + z2 / n);
        let half = Z95 / (1.0 + z2 / n) * (p * (1.0 - p) / n + z2 / (4.0 * n * n)).sqrt();
        Share { inside, of, low: (centre - half).max(0.0), high: (centre + half).min(1.0) }
    }

    /// The share itself; 0 of nothing.
    pub fn value(&self) -> f64 {
        if self.of == 0 { 0.0 } else { self.inside as f64 / self.of as f64 }
    }

    /// Whether the promise can still be true.
    pub fn verdict(&self) -> Verdict {
        if self.of < LEAST_FOR_A_CLAIM {
            Verdict::TooFew
        } else if self.high < PROMISED {
            Verdict::TooNarrow
        } else if self.low > PROMISED {
            Verdict::TooWide
        } else {
            Verdict::Holds
        }
    }
}

/// What the counts say about the ranges.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum Verdict {
    TooFew,
    Holds,
    TooNarrow,
    TooWide,
}

impl Verdict {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Verdict::TooFew => "too few to say",
            Verdict::Holds => "holds",
            Verdict::TooNarrow => "ranges too narrow",
            Verdict::TooWide => "ranges too wide",
        }
    }
}

/// The record of many results.
#[derive(Debug, Clone, PartialEq)]
pub struct Record {
    /// All.
    pub all: Share,
    /// By what the prediction rested on.
    pub by_provenance: Vec<(Provenance, Share)>,
    /// Results in each tenth of the range, better first.
    pub slots: [usize; 10],
}

/// Adds up results that stand alike: (how, how many).
pub fn record(results: &[(Landed, usize)]) -> Record {
    let share = |fits: &dyn Fn(&Landed) -> bool| {
        let of = results.iter().filter(|(j, _)| fits(j));
        let inside = of.clone().filter(|(j, _)| j.inside).map(|(_, n)| n).sum();
        Share::of(inside, of.map(|(_, n)| n).sum())
    };
    let by_provenance = [Provenance::Tested, Provenance::Estimated, Provenance::Assumed]
        .into_iter()
        .map(|p| (p, share(&|j| j.provenance == p)))
        .collect();
    let mut slots = [0; 10];
    for (j, n) in results {
        if let Some(s) = slots.get_mut(usize::from(j.slot)) {
            *s += n;
        }
    }
    Record { all: share(&|_| true), by_provenance, slots }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pair(result: f64, is_time: bool) -> Pair {
        let deciles = [540.0, 560.0, 575.0, 590.0, 600.0, 612.0, 625.0, 645.0, 680.0];
        Pair { deciles, result, is_time, provenance: Provenance::Tested }
    }

    #[test]
    fn the_ends_of_a_range_are_inside_as_printed() {
        assert!(pair(540.0, true).inside() && pair(680.4, true).inside());
        assert!(!pair(681.0, true).inside() && !pair(539.0, true).inside());
    }

    #[test]
    fn slots_run_from_better_to_worse_for_both_kinds() {
        assert_eq!((pair(500.0, true).slot(), pair(605.0, true).slot(), pair(900.0, true).slot()), (0, 5, 9));
        assert_eq!((pair(500.0, false).slot(), pair(900.0, false).slot()), (9, 0));
    }

    #[test]
    fn wilsons_interval_by_hand() {
        // 166 of 214: p = .7757, z = 1.96: .7151 to .8264
        let s = Share::of(166, 214);
        assert!((s.low - 0.7153).abs() < 0.001 && (s.high - 0.8264).abs() < 0.001, "{s:?}");
        assert_eq!(s.verdict(), Verdict::Holds);
        assert_eq!(Share::of(10, 29).verdict(), Verdict::TooFew);
        assert_eq!(Share::of(19, 40).verdict(), Verdict::TooNarrow);
        assert_eq!(Share::of(100, 101).verdict(), Verdict::TooWide);
        assert_eq!(Share::of(0, 0).value(), 0.0);
    }

    #[test]
    fn counts_add_up() {
        let many = |result, n| (pair(result, true).landed(), n);
        let r = record(&[many(600.0, 2), many(900.0, 1), many(550.0, 3)]);
        assert_eq!((r.all.inside, r.all.of), (5, 6));
        // 600 is not over the fifth decile, 550 is over the first
        assert_eq!(r.slots, [0, 3, 0, 0, 2, 0, 0, 0, 0, 1]);
        assert_eq!((r.by_provenance[0].1.of, r.by_provenance[2].1.of), (6, 0));
        assert_eq!(record(&[]).all.of, 0);
    }
}
