//! What was learnt of one member, ready to move their forecasts.

use super::foretold::{Foretold, Format, Group};
use super::params::{CLASS, FORMAT, FROM_RESULTS, GROUP, HALL, MEMBER, NARROWED, OWN};
use crate::pacing::{exp, ln};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// Variance of a sum of effects before any result.
pub(super) fn first_variance() -> f64 {
    [HALL, CLASS, FORMAT, GROUP, MEMBER, OWN].iter().map(|sd| sd * sd).sum()
}

/// How often a member did work of a kind.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Times {
    /// Kind of work.
    pub format: Format,
    /// What limits it.
    pub group: Group,
    /// Results.
    pub times: u32,
}

/// What was learnt of a member, as their forecasts need it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Learnt {
    /// Results of their own that taught something.
    pub results: u32,
    /// The first of them.
    pub since: Option<NaiveDate>,
    /// Their scatter over the usual one.
    pub spread: f64,
    /// Mean log sd of what was foretold of them; 0 before any result.
    pub usual_sd: f64,
    /// What they did.
    pub done: Vec<Times>,
    /// For each format, and in it for each ability, in the order of both: later than foretold by so much in logarithms, and the variance
    /// of that with a new class's own effect; to a millionth.
    pub known: Vec<[f64; 2]>,
}

/// How a forecast moves.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shift {
    /// Later by so much, in logarithms.
    pub late: f64,
    /// So many times as wide, in logarithms.
    pub width: f64,
    /// Results of the member's own behind it.
    pub results: u32,
}

impl Shift {
    /// Whether a forecast rests on the member's own results now.
    pub fn from_results(&self) -> bool {
        self.results >= FROM_RESULTS && self.width < NARROWED
    }

    /// A score moved: `middle` of all, `time` when less is better. What never ends stays so.
    pub fn moved(&self, score: f64, middle: f64, time: bool) -> f64 {
        let sure = score > 0.0 && score.is_finite() && middle > 0.0 && middle.is_finite();
        if !sure {
            return score;
        }
        let late = if time { self.late } else { -self.late };
        middle * exp(late + self.width * ln(score / middle))
    }
}

impl Learnt {
    /// What is known of work of a format that an ability limits.
    fn at(&self, format: Format, group: Group) -> Option<[f64; 2]> {
        let f = Format::ALL.iter().position(|x| *x == format)?;
        let g = Group::ALL.iter().position(|x| *x == group)?;
        self.known.get(f * Group::ALL.len() + g).copied()
    }

    /// How late work of a format is for this member, whatever limits it: the mean over what they did, else over everything.
    pub fn late(&self, format: Format) -> f64 {
        let times =
            |g: Group| self.done.iter().filter(|d| d.group == g).map(|d| f64::from(d.times)).sum::<f64>();
        // what was never done counts a little, so that somebody of whom nothing is known moves with the hall
        let (sum, weight) = Group::ALL.into_iter().fold((0.0, 0.0), |(s, w), g| {
            let one = times(g) + 0.01;
            self.at(format, g).map_or((s, w), |[late, _]| (s + one * late, w + one))
        });
        if weight > 0.0 { sum / weight } else { 0.0 }
    }

    /// How a forecast of this member moves.
    pub fn shift(&self, foretold: &Foretold) -> Option<Shift> {
        let [late, variance] = self.at(foretold.format, foretold.group)?;
        let noise = foretold.noise();
        let width = ((variance + noise * self.spread.powi(2)) / (first_variance() + noise)).sqrt();
        Some(Shift { late, width, results: self.results })
    }
}
