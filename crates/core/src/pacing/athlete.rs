//! One member as the pacing model sees them: engine, reserves, maxes, speed of hand. Levels are our own defaults.

use super::math::{exp, pow};
use super::params::LAM;
use super::table::{LIFTS, REP_ANCHORS};
use crate::ratios;
use crate::units::Standard;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::sync::LazyLock;

/// How experienced a member is. Decides every default about them.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Level {
    /// In the first months.
    New,
    /// Trains two or three times a week.
    Regular,
    /// Years of it.
    Seasoned,
    /// Competes.
    Competitive,
}

impl Level {
    /// All, weakest first.
    pub const ALL: [Level; 4] = [Level::New, Level::Regular, Level::Seasoned, Level::Competitive];

    /// The word in files and on pages.
    pub fn word(self) -> &'static str {
        match self {
            Level::New => "new",
            Level::Regular => "regular",
            Level::Seasoned => "seasoned",
            Level::Competitive => "competitive",
        }
    }
}

/// A member's abilities, ready for the simulator.
#[derive(Debug, Clone, PartialEq)]
pub struct Athlete {
    /// Body mass, kg.
    pub mass: f64,
    /// Engine, 1 = a regular member of the heavier standard.
    pub engine: f64,
    /// Engine reserve W', es.
    pub reserve: f64,
    /// 1RM in kg, in the order of [`LIFTS`].
    pub one_rm: [f64; 12],
    /// Best unbroken set, in the order of [`REP_ANCHORS`].
    pub unbroken: [f64; 16],
    /// Factor on all cycle times.
    pub cycle: f64,
    /// Factor on changes of movement.
    pub transition: f64,
    /// Rest taken over rest needed.
    pub dawdle: f64,
    /// Running cost, es per metre.
    pub run_cost: f64,
    /// Factor on machine economy.
    pub erg: f64,
    /// Capacity factor of each group.
    pub factor: [f64; 7],
}

/// 1RM of an anchor lift over the back squat.
fn share_of_squat(lift: &str, standard: Standard, level: Level) -> f64 {
    ratios::lift(lift).map_or(0.0, |l| l.share(standard, level == Level::New))
}

/// Best sets that are shorter the heavier the body is.
const OWN_WEIGHT: [&str; 8] = [
    "pull-up",
    "strict-pull-up",
    "push-up",
    "ring-dip",
    "handstand-push-up",
    "muscle-up",
    "toes-to-bar",
    "rope-climb",
];
/// Body mass makes them so much shorter and longer at most.
const UNBROKEN_BY_MASS: [f64; 2] = [0.5, 1.3];

#[derive(Deserialize)]
struct LevelRow {
    mass: f64,
    #[serde(rename = "E")]
    engine: f64,
    #[serde(rename = "Wp")]
    reserve: f64,
    back_squat_x_mass: f64,
    max_reps: HashMap<String, f64>,
    cycle: f64,
    transition: f64,
    dawdle: f64,
    e_run: f64,
}

#[derive(Deserialize)]
struct LevelFile {
    male: HashMap<Level, LevelRow>,
    female: HashMap<Level, LevelRow>,
}

static LEVELS: LazyLock<Option<LevelFile>> =
    LazyLock::new(|| serde_json::from_str(include_str!("../../data/levels.json")).ok());

impl Athlete {
    /// The default of a level and standard, at that default's body mass.
    pub fn of_level(standard: Standard, level: Level) -> Athlete {
        let rows = LEVELS.as_ref().map(|f| match standard {
            Standard::Heavier => &f.male,
            Standard::Lighter => &f.female,
        });
        let Some(row) = rows.and_then(|r| r.get(&level)) else {
            return Athlete::plain();
        };
        Athlete {
            mass: row.mass,
            engine: row.engine,
            reserve: row.reserve,
            one_rm: LIFTS.map(|l| row.back_squat_x_mass * row.mass * share_of_squat(l, standard, level)),
            unbroken: REP_ANCHORS.map(|a| row.max_reps.get(a).copied().unwrap_or(0.0)),
            cycle: row.cycle,
            transition: row.transition,
            dawdle: row.dawdle,
            run_cost: row.e_run,
            ..Athlete::plain()
        }
    }

    fn plain() -> Athlete {
        Athlete {
            mass: 75.0,
            engine: 1.0,
            reserve: 80.0,
            one_rm: [60.0; 12],
            unbroken: [10.0; 16],
            cycle: 1.0,
            transition: 1.0,
            dawdle: 1.0,
            run_cost: 0.345,
            erg: 1.0,
            factor: [1.0; 7],
        }
    }

    /// 1RM of a lift that anchors the model, kg.
    pub fn one_rm_of(&self, lift: &str) -> Option<f64> {
        LIFTS.iter().position(|l| *l == lift).and_then(|i| self.one_rm.get(i)).copied()
    }

    /// 1RM of any loaded movement through the lifts that bound it, kg of everything lifted at once.
    pub fn one_rm_for(&self, movement: &str) -> Option<f64> {
        match &super::table::row(movement)?.kind {
            super::table::Kind::Load(anchors) => anchors
                .iter()
                .filter_map(|(i, ratio)| self.one_rm.get(*i).map(|kg| kg * ratio))
                .min_by(f64::total_cmp),
            _ => None,
        }
    }

    /// Somebody in the middle of a group: every figure is the group's median, the lower of two. A mean would hide those
    /// who cannot do a skill behind those who can. `None` for an empty group.
    pub fn middle_of(group: &[&Athlete]) -> Option<Athlete> {
        let mut out = (*group.first()?).clone();
        let middle = |f: &dyn Fn(&Athlete) -> f64| {
            let mut all: Vec<f64> = group.iter().map(|a| f(a)).collect();
            all.sort_by(f64::total_cmp);
            all.get((all.len() - 1) / 2).copied().unwrap_or(0.0)
        };
        out.mass = middle(&|a| a.mass);
        out.engine = middle(&|a| a.engine);
        out.reserve = middle(&|a| a.reserve);
        out.cycle = middle(&|a| a.cycle);
        out.transition = middle(&|a| a.transition);
        out.dawdle = middle(&|a| a.dawdle);
        out.run_cost = middle(&|a| a.run_cost);
        out.erg = middle(&|a| a.erg);
        for (i, slot) in out.one_rm.iter_mut().enumerate() {
            *slot = middle(&|a| a.one_rm.get(i).copied().unwrap_or(0.0));
        }
        for (i, slot) in out.unbroken.iter_mut().enumerate() {
            *slot = middle(&|a| a.unbroken.get(i).copied().unwrap_or(0.0));
        }
        Some(out)
    }

    /// The same member with log factors on engine, cycle and each group.
    pub fn with_factors(&self, engine: f64, cycle: f64, groups: &[f64; 7], reserve: f64) -> Athlete {
        let mut a = self.clone();
        a.engine *= exp(engine);
        a.cycle *= exp(cycle);
        a.reserve *= exp(reserve);
        for (f, g) in a.factor.iter_mut().zip(groups) {
            *f *= exp(*g);
        }
        a
    }

    /// Best sets of pulls and presses of the body's own weight for another body mass: longer by this factor, within bounds.
    pub fn unbroken_by_mass(&mut self, factor: f64) {
        let [low, high] = UNBROKEN_BY_MASS;
        for (slot, anchor) in self.unbroken.iter_mut().zip(REP_ANCHORS) {
            if OWN_WEIGHT.contains(&anchor) {
                *slot *= factor.clamp(low, high);
            }
        }
    }

    /// 1RM of an anchor lift after the group's factor, kg.
    pub(super) fn strength(&self, lift: usize, ratio: f64, group: usize) -> f64 {
        let f = self.factor.get(group).copied().unwrap_or(1.0);
        self.one_rm.get(lift).copied().unwrap_or(0.0) * ratio * pow(f, LAM)
    }
}
