//! Percentages as a sheet says them, and what they are of.

use crate::units::plain;
use serde::{Deserialize, Serialize};

/// Percentages of a lift's sets.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Percent {
    /// One, a band's low and high end, or one for each set.
    pub values: Vec<f64>,
    /// The high ends where each set has a band of its own, whose low ends `values` are; else empty.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub tops: Vec<f64>,
    /// A band (`78-82`), not a list.
    pub band: bool,
    /// Of what.
    pub of: PercentBase,
}

impl Percent {
    /// The same for every set, or one a set.
    pub fn list(values: Vec<f64>, of: PercentBase) -> Percent {
        Percent { values, tops: Vec::new(), band: false, of }
    }

    /// A band for all sets.
    pub fn between(low: f64, high: f64, of: PercentBase) -> Percent {
        Percent { values: vec![low, high], tops: Vec::new(), band: true, of }
    }

    /// Low and high end of a set; those of the last one that is said for the sets behind it.
    pub fn of_set(&self, i: usize) -> Option<[f64; 2]> {
        let at = |list: &[f64]| list.get(i).or(list.last()).copied();
        match (self.band, self.values.as_slice()) {
            (true, [low, high]) => Some([*low, *high]),
            (_, values) => {
                let low = at(values)?;
                Some([low, at(&self.tops).unwrap_or(low)])
            }
        }
    }

    /// Low and high end for each of so many sets.
    pub fn ends(&self, sets: usize) -> Vec<[f64; 2]> {
        (0..sets).filter_map(|i| self.of_set(i)).collect()
    }

    /// The highest of all.
    pub fn most(&self) -> Option<f64> {
        self.values.iter().chain(&self.tops).copied().max_by(f64::total_cmp)
    }

    /// In words: `78 to 82`, `60, 70, 80`, `60 to 65, 70 to 75`.
    pub fn words(&self) -> String {
        let low = self.values.iter().map(|v| plain(*v));
        let all: Vec<String> = if self.tops.is_empty() {
            low.collect()
        } else {
            low.zip(&self.tops)
                .map(|(l, t)| if l == plain(*t) { l } else { format!("{l} to {}", plain(*t)) })
                .collect()
        };
        all.join(if self.band { " to " } else { ", " })
    }
}

/// What a percentage is of.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PercentBase {
    /// Not said: the gym's school decides.
    Unsaid,
    /// The one-rep maximum.
    OneRm,
    /// The training maximum.
    TrainingMax,
    /// A recent n-rep maximum: percent of that load itself.
    RepMax(u32),
    /// Another lift's one-rep maximum.
    Lift(String),
}
