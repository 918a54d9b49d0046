//! What the lines of a lift say, once read: its sets, and what lower levels do instead.

use super::lines::{Named, Tempo, is_false};
use super::percent::Percent;
use crate::units::WeightUnit;
use serde::{Deserialize, Serialize};

/// Sets of one lift.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LiftSets {
    /// The lift.
    pub movement: Named,
    /// Reps of each set; 0: as many as possible with the form that counts.
    pub reps: Vec<u32>,
    /// Further parts of a chain, done after the lift without putting the weight down: what and how many reps of it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub chain: Vec<(String, u32)>,
    /// The gym's cycle of this lift says sets, reps and percentages.
    #[serde(default, skip_serializing_if = "is_false")]
    pub by_cycle: bool,
    /// The reps are for each side.
    #[serde(default, skip_serializing_if = "is_false")]
    pub per_side: bool,
    /// Percentages of a base.
    pub percent: Option<Percent>,
    /// Loads in kg, [heavier, lighter], when written.
    pub kg: Option<[f64; 2]>,
    /// The unit in which they were typed, and in which they are printed back.
    #[serde(skip)]
    pub typed: WeightUnit,
    /// Add weight from set to set, by feel.
    pub add_weight: bool,
    /// The load climbs from set to set on a clock.
    pub climb: bool,
    /// Seconds from one set's start to the next.
    pub every_s: Option<u32>,
    /// Seconds between sets.
    pub rest_s: Option<u32>,
    /// The last so many sets at the band's top.
    pub last_at_top: Option<u32>,
    /// Tempo.
    pub tempo: Option<Tempo>,
    /// Words kept for the coach.
    pub note: Option<String>,
    /// Whose sets these are, where the sheet has several levels; else everybody's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub level: Option<u8>,
    /// What lower levels of the sheet do instead, highest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub forms: Vec<LevelForm>,
    /// Line on the sheet.
    pub line: u32,
}

/// What one level of the sheet does instead of the sets as written.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LevelForm {
    /// 1 the lowest, 2 the middle, 3 the highest.
    pub level: u8,
    /// Its sets.
    pub sets: LiftSets,
}

impl LiftSets {
    /// Sets of a lift of which nothing else is said.
    pub fn of(movement: Named, reps: Vec<u32>, line: u32) -> LiftSets {
        LiftSets {
            movement,
            reps,
            chain: Vec::new(),
            by_cycle: false,
            per_side: false,
            percent: None,
            kg: None,
            typed: WeightUnit::Kg,
            add_weight: false,
            climb: false,
            every_s: None,
            rest_s: None,
            last_at_top: None,
            tempo: None,
            note: None,
            level: None,
            forms: Vec::new(),
            line,
        }
    }

    /// The last so many of the sets, for every level: where they climb, the first are the ones to spare.
    pub fn last(mut self, sets: usize) -> LiftSets {
        let all = self.reps.len();
        let spared = all.saturating_sub(sets.max(1));
        self.reps.drain(..spared);
        if let Some(p) = self.percent.as_mut().filter(|p| !p.band) {
            for list in [&mut p.values, &mut p.tops] {
                if list.len() == all {
                    list.drain(..spared);
                }
            }
        }
        for form in &mut self.forms {
            form.sets = form.sets.clone().last(sets);
        }
        self
    }

    /// Whether every set has the same reps.
    pub fn even(&self) -> bool {
        self.reps.iter().all(|r| Some(r) == self.reps.first())
    }

    /// Reps of the largest set; 0 where every set is as many as possible.
    pub fn most_reps(&self) -> u32 {
        self.reps.iter().copied().max().unwrap_or(0)
    }
}

/// The level that does the sets as written.
pub const TOP_LEVEL: u8 = 3;
