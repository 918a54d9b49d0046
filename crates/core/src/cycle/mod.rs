//! A cycle: one lift over some weeks, from a base week that tests to the heaviest, with a deload where wanted. Pure dates
//! and figures: which week a day lies in, what that week lifts, what is filled in between given weeks.

mod fill;

pub use fill::{Given, fill};

use crate::movement::catalogue;
use crate::sheet::{Build, LiftSets, Named, Percent, PercentBase};
use crate::units::{clock, plain};
use chrono::{Datelike, Days, NaiveDate, Weekday};
use serde::{Deserialize, Serialize};

/// Most weeks of a cycle.
pub const MOST_WEEKS: usize = 26;

/// What a week is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum WeekKind {
    /// Tests the base: a rep maximum of the day.
    Base,
    /// Sets at a band.
    Work,
    /// Lighter on purpose.
    Deload,
}

impl WeekKind {
    /// The word in forms and files.
    pub fn word(self) -> &'static str {
        match self {
            WeekKind::Base => "base",
            WeekKind::Work => "work",
            WeekKind::Deload => "deload",
        }
    }

    /// Of a form's word.
    pub fn of(word: &str) -> Option<WeekKind> {
        [WeekKind::Base, WeekKind::Work, WeekKind::Deload].into_iter().find(|k| k.word() == word)
    }
}

/// One week.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Week {
    /// What it is for.
    pub kind: WeekKind,
    /// Sets; in a base week unused.
    pub sets: u32,
    /// Reps of a set; in a base week those of the maximum.
    pub reps: u32,
    /// Per cent, low end.
    pub low: f64,
    /// Per cent, high end.
    pub high: f64,
}

/// A cycle of a gym.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Cycle {
    /// Name, as the coach calls it.
    pub name: String,
    /// Catalogue id of the lift.
    pub lift: String,
    /// Monday of week 1.
    pub start: NaiveDate,
    /// What the percentages are of.
    pub of: PercentBase,
    /// Seconds from one set's start to the next, when they start on a clock.
    pub every_s: Option<u32>,
    /// Window of a base week, s.
    pub window_s: u32,
    /// In order.
    pub weeks: Vec<Week>,
    /// Mondays of calendar weeks that do not count: the week before them is lifted again after.
    pub held: Vec<NaiveDate>,
}

/// Monday of a day's week.
pub fn monday(day: NaiveDate) -> NaiveDate {
    day.checked_sub_days(Days::new(u64::from(day.weekday().num_days_from_monday()))).unwrap_or(day)
}

impl Cycle {
    /// Position of the week that a day lies in, from 0; `None` outside the cycle. Weeks that were held back do not count:
    /// a held week repeats the one before it.
    pub fn week_at(&self, day: NaiveDate) -> Option<usize> {
        let first = monday(self.start);
        let this = monday(day);
        if this < first {
            return None;
        }
        let passed = usize::try_from((this - first).num_weeks()).ok()?;
        let held = self.held.iter().filter(|h| monday(**h) >= first && monday(**h) <= this).count();
        let at = passed.saturating_sub(held);
        (at < self.weeks.len()).then_some(at)
    }

    /// Last day of the cycle.
    pub fn end(&self) -> NaiveDate {
        let weeks = self.weeks.len() + self.held.iter().filter(|h| monday(**h) >= monday(self.start)).count();
        let days = (7 * weeks as u64).saturating_sub(1);
        monday(self.start).checked_add_days(Days::new(days)).unwrap_or(self.start)
    }

    /// Calendar weeks of the cycle up to a day, as Mondays with the position of their week.
    pub fn calendar(&self) -> Vec<(NaiveDate, Option<usize>)> {
        let mut out = Vec::new();
        let mut at = monday(self.start);
        while at <= self.end() && out.len() < 4 * MOST_WEEKS {
            out.push((at, self.week_at(at)));
            let Some(next) = at.checked_add_days(Days::new(7)) else { break };
            at = next;
        }
        out
    }

    /// Whether a calendar week is held back.
    pub fn holds(&self, day: NaiveDate) -> bool {
        self.held.iter().any(|h| monday(*h) == monday(day))
    }

    /// The sets of a week, for everything but a base week.
    pub fn sets(&self, week: usize, line: u32) -> Option<LiftSets> {
        let w = self.weeks.get(week).filter(|w| w.kind != WeekKind::Base)?;
        let values = if (w.high - w.low).abs() < 0.01 { vec![w.low] } else { vec![w.low, w.high] };
        Some(LiftSets {
            percent: Some(Percent { band: values.len() == 2, ..Percent::list(values, self.of.clone()) }),
            every_s: self.every_s,
            by_cycle: true,
            ..LiftSets::of(Named::Known(self.lift.clone()), vec![w.reps; w.sets as usize], line)
        })
    }

    /// The test of a base week.
    pub fn test(&self, week: usize, line: u32) -> Option<Build> {
        let w = self.weeks.get(week).filter(|w| w.kind == WeekKind::Base)?;
        Some(Build {
            movement: Named::Known(self.lift.clone()),
            reps: w.reps,
            window_s: Some(self.window_s),
            no_misses: false,
            line,
        })
    }

    /// What a week lifts, in a line: `5 x 3 at 78 to 82 %`, `build to a 5RM in 15:00`.
    pub fn says(&self, week: usize) -> String {
        let Some(w) = self.weeks.get(week) else { return String::new() };
        if w.kind == WeekKind::Base {
            return format!("build to a {}RM in {}", w.reps, clock(f64::from(self.window_s)));
        }
        let band = if (w.high - w.low).abs() < 0.01 {
            plain(w.low)
        } else {
            format!("{} to {}", plain(w.low), plain(w.high))
        };
        let deload = if w.kind == WeekKind::Deload { ", deload" } else { "" };
        format!("{} x {} at {band} %{deload}", w.sets, w.reps)
    }

    /// What is wrong with it, in sentences; empty when nothing is.
    pub fn check(&self) -> Vec<String> {
        let mut out = Vec::new();
        if self.name.trim().is_empty() || self.name.chars().count() > 80 {
            out.push("Give the cycle a name of at most 80 letters.".to_owned());
        }
        if catalogue().movement(&self.lift).is_none() {
            out.push("Choose a lift of the catalogue.".to_owned());
        }
        if self.start.weekday() != Weekday::Mon {
            out.push("A cycle starts on a Monday.".to_owned());
        }
        if !(2000..=2100).contains(&self.start.year()) {
            out.push("A cycle starts between 2000 and 2100.".to_owned());
        }
        if self.weeks.is_empty() || self.weeks.len() > MOST_WEEKS {
            out.push(format!("A cycle has from 1 to {MOST_WEEKS} weeks."));
        }
        if !(300..=3600).contains(&self.window_s) {
            out.push("The window of a base week is from 5 to 60 minutes.".to_owned());
        }
        if self.every_s.is_some_and(|s| !(20..=1800).contains(&s)) {
            out.push("Sets on a clock start from 0:20 to 30:00 apart.".to_owned());
        }
        for (k, w) in (1..).zip(&self.weeks) {
            if w.kind == WeekKind::Base {
                if !(1..=10).contains(&w.reps) {
                    out.push(format!("Week {k}: a base is tested with 1 to 10 reps."));
                }
                continue;
            }
            if !(1..=20).contains(&w.sets) || !(1..=30).contains(&w.reps) {
                out.push(format!("Week {k}: from 1 to 20 sets of 1 to 30 reps."));
            }
            if !(10.0..=110.0).contains(&w.low) || !(10.0..=110.0).contains(&w.high) || w.low > w.high {
                out.push(format!("Week {k}: a band runs from low to high, between 10 and 110 %."));
            }
        }
        out
    }
}

/// The cycle that a lift is in on a day: the one that began last.
pub fn running<'a>(cycles: &'a [Cycle], lift: &str, day: NaiveDate) -> Option<(&'a Cycle, usize)> {
    cycles
        .iter()
        .filter(|c| c.lift == lift)
        .filter_map(|c| Some((c, c.week_at(day)?)))
        .max_by_key(|(c, _)| c.start)
}

#[cfg(test)]
mod tests;
