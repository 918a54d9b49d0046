//! The shares, steps and budgets by which versions are made (`data/scaling.toml`).

use crate::movement::{LoadKind, Movement};
use serde::Deserialize;
use std::collections::BTreeMap;
use std::sync::LazyLock;

/// Shares of the written weight for Trim and Base.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Guide {
    #[allow(dead_code, reason = "says in the data what the shares are for")]
    class: String,
    pub shares: [f64; 2],
    #[serde(default)]
    movements: Vec<String>,
    #[serde(default)]
    load: Vec<LoadKind>,
}

/// Sizes down for Trim, Base and one step lower.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Sizes {
    pub load: LoadKind,
    pub down: [usize; 3],
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Least {
    movements: Vec<String>,
    kg: [f64; 2],
}

/// A scheme and what stands in for it, hardest first.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Scheme {
    pub written: Vec<u32>,
    pub instead: Vec<Vec<u32>>,
}

/// How much is cut.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct AmountShares {
    pub shares: [f64; 3],
    pub least_rounds: f64,
    pub minutes: [f64; 3],
}

/// Instructions that a version may have.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Budget {
    pub trim: usize,
    pub base: usize,
    pub more_from_lines: usize,
}

/// What somebody is given of a skill.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Skill {
    pub new: u8,
    pub lowered: Vec<String>,
    pub most_lowered: f64,
    pub least_reps: f64,
    pub least_calories: f64,
    pub slow: Vec<String>,
    pub takes_months: u8,
}

/// Strict before swung.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Swing {
    pub strict_first: f64,
    pub strict_of_swung: f64,
    /// Movement with a swing to the strict one.
    pub before: BTreeMap<String, String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Table {
    guide: Vec<Guide>,
    pub sizes: Vec<Sizes>,
    least: Vec<Least>,
    pub scheme: Vec<Scheme>,
    pub amount: AmountShares,
    pub budget: Budget,
    pub skill: Skill,
    pub swing: Swing,
}

// data that ships: a test reads it, so it never fails here
#[allow(clippy::expect_used)]
static TABLE: LazyLock<Table> = LazyLock::new(|| {
    toml::from_str(include_str!("../../../data/scaling.toml")).expect("scaling.toml is read by a test")
});

pub(super) fn table() -> &'static Table {
    &TABLE
}

impl Table {
    /// Shares of Trim and Base for a movement that is loaded by weight; `None` where sizes go down.
    pub fn shares(&self, m: &Movement) -> Option<[f64; 2]> {
        if self.sizes.iter().any(|s| s.load == m.load) {
            return None;
        }
        let fits = |g: &&Guide| g.movements.contains(&m.id) || g.load.contains(&m.load);
        self.guide.iter().find(fits).map(|g| g.shares)
    }

    /// The least that a version asks of a movement, kg of one implement.
    pub fn least(&self, movement: &str) -> Option<[f64; 2]> {
        self.least.iter().find(|l| l.movements.iter().any(|m| m == movement)).map(|l| l.kg)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::catalogue;

    #[test]
    fn every_loaded_movement_has_a_way_of_getting_lighter() {
        for m in &catalogue().movements {
            if matches!(m.load, LoadKind::None | LoadKind::Machine) {
                continue;
            }
            let sizes = table().sizes.iter().any(|s| s.load == m.load);
            assert!(sizes || table().shares(m).is_some(), "{}", m.id);
        }
        let known = |id: &String| catalogue().movement(id).is_some();
        assert!(table().guide.iter().flat_map(|g| &g.movements).all(known));
        assert!(table().least.iter().flat_map(|l| &l.movements).all(known));
        let (skill, swing) = (&table().skill, &table().swing);
        assert!(skill.lowered.iter().chain(&skill.slow).all(known));
        assert!(swing.before.iter().all(|(a, b)| known(a) && known(b)));
    }

    #[test]
    fn neighbours_are_never_under_six_tenths_of_each_other() {
        for g in &table().guide {
            let [trim, base] = g.shares;
            assert!((0.6..=0.9).contains(&trim) && (0.6..=0.9).contains(&(base / trim)), "{}", g.class);
        }
    }
}
