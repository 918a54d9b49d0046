//! One result beside the prediction that it was given, in the same unit.

use crate::learning::Format;
use crate::pacing::ln;
use crate::units::Provenance;

/// What is compared.
#[derive(Debug, Clone, PartialEq)]
pub struct Pair {
    /// 10 to 90 per cent of the predicted runs, as printed.
    pub deciles: [f64; 9],
    /// What happened; the cap where it ended it.
    pub result: f64,
    /// Smaller is faster.
    pub is_time: bool,
    /// The cap ended it.
    pub at_cap: bool,
    /// What was said.
    pub promise: Promise,
}

/// What a prediction said beside its range.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Promise {
    /// What it rested on.
    pub provenance: Provenance,
    /// Kind of work, where that was kept.
    pub format: Option<Format>,
    /// Results of the member's own behind it.
    pub results: u32,
    /// The chance of the window, and whether it came.
    pub window: Option<Said>,
    /// The chance of the cap, and whether it came.
    pub cap: Option<Said>,
}

/// A chance that was said, and whether it came.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Said {
    /// 0 to 1.
    pub chance: f64,
    /// It did.
    pub came: bool,
}

/// How a result stands to what was foretold.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Landed {
    /// Where it fell; `None` for a result at the cap of whose range the cap is an end: that would hold whatever is capped, so only the
    /// chance of the cap is judged.
    pub place: Option<Place>,
    /// What was said.
    pub promise: Promise,
}

/// Where a result fell.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Place {
    /// Which tenth of the predicted runs, 0 to 9, better first: 0 and 9 are outside the range.
    pub slot: u8,
    /// Inside the range as printed.
    pub inside: bool,
    /// Later or fewer than the middle by so much, in logarithms.
    pub off: Option<f64>,
    /// Half of the range, in logarithms.
    pub half: Option<f64>,
}

/// Why a result is not judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Unjudged {
    /// Another version was done than the one that was foretold.
    OtherVersion,
    /// Less was called out to them on the floor than was foretold.
    Cut,
    /// No range was given: the work was to be scaled, or the member or block was not in the plan.
    NoRange,
    /// It is no number, or one of another kind than was foretold.
    NoNumber,
    /// The plan or the result cannot be read any more.
    Unread,
}

impl Unjudged {
    /// All.
    pub const ALL: [Unjudged; 5] =
        [Unjudged::OtherVersion, Unjudged::Cut, Unjudged::NoRange, Unjudged::NoNumber, Unjudged::Unread];

    /// Its key.
    pub fn word(self) -> &'static str {
        match self {
            Unjudged::OtherVersion => "other-version",
            Unjudged::Cut => "cut",
            Unjudged::NoRange => "no-range",
            Unjudged::NoNumber => "no-number",
            Unjudged::Unread => "unread",
        }
    }

    /// From its key.
    pub fn read(word: &str) -> Option<Unjudged> {
        Unjudged::ALL.into_iter().find(|u| u.word() == word)
    }

    /// Why, for so many results.
    pub fn says(self, n: usize) -> String {
        match self {
            Unjudged::OtherVersion => format!("{n} in another version than foretold"),
            Unjudged::Cut => format!("{n} cut on the floor"),
            Unjudged::NoRange => format!("{n} without a range"),
            Unjudged::NoNumber => format!("{n} unfinished, or of another kind than foretold"),
            Unjudged::Unread => format!("{n} whose plan cannot be read any more"),
        }
    }
}

impl Pair {
    /// How the result stands.
    pub fn landed(&self) -> Landed {
        let [low, .., high] = self.deciles;
        let off = outside(low, high, self.result, self.is_time);
        let place = (!self.at_cap || off != 0.0).then(|| self.place(off));
        Landed { place, promise: self.promise }
    }

    fn place(&self, off: f64) -> Place {
        let [low, .., middle, _, _, _, high] = self.deciles;
        let ratio = |a: f64, b: f64| (a > 0.0 && b > 0.0).then(|| ln(a / b));
        // how late one at the cap would have been is not known
        let late = ratio(self.result, middle).filter(|_| !self.at_cap);
        let late = late.map(|l| if self.is_time { l } else { -l });
        let half = ratio(high, low).map(|w| w / 2.0);
        Place { slot: self.slot(off), inside: off == 0.0, off: late, half }
    }

    /// The tenth: outside and the ends of the range follow one rule, so that the inner eight are what is inside.
    fn slot(&self, off: f64) -> u8 {
        let worse = if self.is_time { off > 0.0 } else { off < 0.0 };
        if off != 0.0 {
            return if worse { 9 } else { 0 };
        }
        let inner = self.deciles.iter().skip(1).take(7);
        let over = inner.filter(|d| self.result > **d).count().min(7) as u8;
        if self.is_time { 1 + over } else { 8 - over }
    }
}

/// How far a result lies outside its range: under 0 below it, over 0 above it, 0 inside, in the result's unit.
///
/// A printed figure is inside when the result rounds to it: whole seconds and reps, hundredths of a round.
pub fn outside(low: f64, high: f64, result: f64, is_time: bool) -> f64 {
    let slack = if is_time { 0.5 + 1e-9 } else { 0.005 + 1e-9 };
    if result < low - slack {
        result - low
    } else if result > high + slack {
        result - high
    } else {
        0.0
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pair(result: f64, is_time: bool) -> Pair {
        let deciles = [540.0, 560.0, 575.0, 590.0, 600.0, 612.0, 625.0, 645.0, 680.0];
        let promise =
            Promise { provenance: Provenance::Tested, format: None, results: 0, window: None, cap: None };
        Pair { deciles, result, is_time, at_cap: false, promise }
    }

    fn slot(result: f64, is_time: bool) -> (u8, bool) {
        let p = pair(result, is_time).landed().place.unwrap();
        (p.slot, p.inside)
    }

    #[test]
    fn the_ends_of_a_range_are_inside_as_printed() {
        assert_eq!((slot(540.0, true), slot(680.4, true)), ((1, true), (8, true)));
        assert_eq!((slot(681.0, true), slot(539.0, true)), ((9, false), (0, false)));
        assert_eq!(slot(539.6, true), (1, true), "it rounds to the printed end");
    }

    #[test]
    fn slots_run_from_better_to_worse_for_both_kinds() {
        assert_eq!([500.0, 605.0, 900.0].map(|r| slot(r, true).0), [0, 5, 9]);
        assert_eq!([500.0, 605.0, 900.0].map(|r| slot(r, false).0), [9, 4, 0]);
    }

    #[test]
    fn what_is_inside_and_the_inner_slots_are_the_same_results() {
        for r in 500..720 {
            for time in [true, false] {
                let (slot, inside) = slot(f64::from(r) + 0.3, time);
                assert_eq!((1..=8).contains(&slot), inside, "{r} {time}");
            }
        }
    }

    #[test]
    fn off_is_late_or_few_in_logarithms_and_half_the_width() {
        let p = pair(660.0, true).landed().place.unwrap();
        assert!((p.off.unwrap() - 1.1f64.ln()).abs() < 1e-12);
        assert!((p.half.unwrap() - (680.0f64 / 540.0).ln() / 2.0).abs() < 1e-12);
        assert!((pair(660.0, false).landed().place.unwrap().off.unwrap() + 1.1f64.ln()).abs() < 1e-12);
    }

    #[test]
    fn a_capped_result_is_a_miss_unless_its_range_ends_at_the_cap() {
        let capped = |at| Pair { at_cap: true, ..pair(at, true) }.landed().place;
        assert_eq!(capped(680.0), None, "the range ends there: it would hold whatever is capped");
        let late = capped(840.0).unwrap();
        assert_eq!((late.slot, late.inside, late.off), (9, false, None));
    }
}
