//! What was foretold of a result before anything was learnt, and how far the result lies from it.

use super::params::{MOST_LATE, NOISE, NOISE_POWER};
use crate::pacing::{ln, pow};
use serde::{Deserialize, Serialize};

/// Kinds of work that a forecast may have wrong alike.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Format {
    /// The same list several times against the clock.
    Rounds,
    /// Counts that change from round to round.
    Scheme,
    /// A list done once.
    List,
    /// One movement.
    Single,
    /// As much as possible in a time.
    Open,
    /// Windows, stations and cycles.
    Windows,
}

impl Format {
    /// All, in a fixed order.
    pub const ALL: [Format; 6] =
        [Format::Rounds, Format::Scheme, Format::List, Format::Single, Format::Open, Format::Windows];

    /// Its key where it is kept.
    pub fn word(self) -> &'static str {
        match self {
            Format::Rounds => "rounds",
            Format::Scheme => "scheme",
            Format::List => "list",
            Format::Single => "single",
            Format::Open => "open",
            Format::Windows => "windows",
        }
    }

    /// From its key.
    pub fn read(word: &str) -> Option<Format> {
        Format::ALL.into_iter().find(|f| f.word() == word)
    }
}

/// What limits a result.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Group {
    /// Engine.
    Engine,
    /// Speed of hand.
    Speed,
    /// Squat and hinge.
    Legs,
    /// Push.
    Push,
    /// Pull and grip.
    Pull,
    /// Core.
    Core,
    /// Calf: rope and jumps.
    Calf,
}

impl Group {
    /// All, in a fixed order.
    pub const ALL: [Group; 7] =
        [Group::Engine, Group::Speed, Group::Legs, Group::Push, Group::Pull, Group::Core, Group::Calf];

    /// Its key where it is kept.
    pub fn word(self) -> &'static str {
        match self {
            Group::Engine => "engine",
            Group::Speed => "speed",
            Group::Legs => "legs",
            Group::Push => "push",
            Group::Pull => "pull",
            Group::Core => "core",
            Group::Calf => "calf",
        }
    }

    /// From its key.
    pub fn read(word: &str) -> Option<Group> {
        Group::ALL.into_iter().find(|g| g.word() == word)
    }

    /// What a result hangs on most: shares of engine, speed of hand, squat, hinge, push, pull, grip, core and calf.
    pub fn of(hangs_on: &[f64; 9]) -> Group {
        let [engine, speed, squat, hinge, push, pull, grip, core, calf] = *hangs_on;
        let sums = [engine, speed, squat + hinge, push, pull + grip, core, calf];
        let most = sums.iter().enumerate().max_by(|a, b| a.1.total_cmp(b.1).then(b.0.cmp(&a.0)));
        most.and_then(|(i, _)| Group::ALL.get(i)).copied().unwrap_or(Group::Engine)
    }
}

/// A forecast before anything was learnt.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Foretold {
    /// Its middle, in its unit; beyond a cap too.
    pub middle: f64,
    /// Log sd towards better results, over 0.
    pub better: f64,
    /// Log sd towards worse ones, over 0.
    pub worse: f64,
    /// Kind of work.
    pub format: Format,
    /// What limits it.
    pub group: Group,
}

/// How much later (or fewer) than the middle a result is, in logarithms; `None` where it cannot be said. `time`: less is better.
pub fn late(foretold: &Foretold, result: f64, time: bool) -> Option<f64> {
    let sure = result > 0.0 && result.is_finite() && foretold.middle > 0.0 && foretold.middle.is_finite();
    let ratio = sure.then(|| ln(result / foretold.middle))?;
    Some(if time { ratio } else { -ratio }.clamp(-MOST_LATE, MOST_LATE))
}

impl Foretold {
    /// Sd on the side of a miss.
    pub(super) fn side(&self, late: f64) -> f64 {
        if late > 0.0 { self.worse } else { self.better }
    }

    /// Variance of one result around what its forecast would be if everything were learnt.
    pub(super) fn noise(&self) -> f64 {
        let said = 0.5 * (self.better + self.worse);
        NOISE * NOISE * pow(said / NOISE, NOISE_POWER)
    }

    /// Whether a learner can use it.
    pub(super) fn sound(&self) -> bool {
        let ok = |v: f64| v.is_finite() && v > 0.0;
        ok(self.middle) && ok(self.better) && ok(self.worse)
    }
}
