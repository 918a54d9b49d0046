//! The people of a class and what is known about them. Limits are private: they shape the plan and appear only
//! where the coach works.

mod ability;
mod doubts;
mod edit;
mod known_csv;
mod proposal;
mod read_csv;
mod retests;

pub use ability::{Ability, ability};
pub use doubts::{Doubt, doubts};
pub use edit::edited;
pub use known_csv::{Cell, Figure, HEADINGS, Known, Row, read_known, write_known};
pub use proposal::{MOST_WAITING, Proposal};
pub use read_csv::{Roster, RosterProblem, read_csv};
pub use retests::retests;

use crate::kinds::Limit;
use crate::learning::Learnt;
use crate::movement::{Cause, Movement};
use crate::pacing::Level;
use crate::units::Standard;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// A member.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Member {
    /// Key of the row, or the name from a file.
    pub id: String,
    /// Name on lists.
    pub name: String,
    /// Which load of a pair.
    pub standard: Standard,
    /// Experience.
    pub level: Level,
    /// kg.
    pub body_mass_kg: Option<f64>,
    /// cm.
    pub stature_cm: Option<f64>,
    /// Parts of the body or kinds of work to spare; the catalogue says which movements they rule out.
    pub limits: Vec<Limit>,
    /// Best lifts.
    pub maxes: Vec<Max>,
    /// Best unbroken sets.
    pub unbroken: Vec<Best>,
    /// Time trials.
    pub trials: Vec<Trial>,
    /// Hole of a rack's hooks that the member uses, counted from the floor, where it matters to them.
    #[serde(default)]
    pub hooks: Option<u32>,
    /// Sessions in the log; `None` when no log is kept (files).
    pub sessions_logged: Option<u32>,
    /// Day of the last session in the log.
    #[serde(default)]
    pub last_session: Option<NaiveDate>,
    /// What the sessions of the last weeks held.
    #[serde(default)]
    pub sessions: Vec<Session>,
    /// What the hall's results have taught of their forecasts; `None` before any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub learnt: Option<Learnt>,
}

/// Reps of each guarded pattern, by the guard's id.
pub type Volume = BTreeMap<String, f64>;

/// What a logged session held of the patterns that are guarded.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Session {
    /// Day.
    pub date: NaiveDate,
    /// Reps.
    pub reps: Volume,
}

/// A load lifted for some reps.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Max {
    /// Catalogue id.
    pub lift: String,
    /// kg.
    pub kg: f64,
    /// Reps done.
    pub reps: u32,
    /// Reps that were left, as the member said.
    pub reserve: u32,
    /// Day.
    pub date: Option<NaiveDate>,
}

/// A best unbroken set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Best {
    /// Catalogue id.
    pub movement: String,
    /// Reps (seconds for holds).
    pub reps: f64,
    /// Day.
    pub date: Option<NaiveDate>,
}

/// A time over a known distance, all out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Trial {
    /// `row-2000` or `run-1000`.
    pub test: String,
    /// Seconds.
    pub seconds: f64,
    /// Day.
    pub date: Option<NaiveDate>,
}

/// A limit by its name, `no-impact` or `no impact`; what is not one is named with the nearest.
///
/// # Errors
/// In words, with a suggestion where one is near.
pub fn read_limit(text: &str) -> Result<Limit, String> {
    let id = text.trim().to_lowercase().replace([' ', '_'], "-");
    if let Some(limit) = Limit::from_word(&id) {
        return Ok(limit);
    }
    let words = || Limit::ALL.iter().map(|l| l.word());
    let near = words()
        .map(|l| (strsim::jaro_winkler(l, &id), l))
        .filter(|(like, _)| *like >= NEAR_NAME)
        .max_by(|a, b| a.0.total_cmp(&b.0));
    let all = || format!("Limits are {}.", words().collect::<Vec<_>>().join(", "));
    let mean = near.map_or_else(all, |(_, l)| format!("Did you mean {l}?"));
    Err(format!("I do not know the limit “{}”. {mean}", text.trim()))
}

/// Names at least so alike are suggested for each other.
const NEAR_NAME: f64 = 0.8;

impl Member {
    /// Somebody of whom only level and standard are known.
    pub fn unknown(name: &str, standard: Standard, level: Level) -> Member {
        Member {
            id: name.to_owned(),
            name: name.to_owned(),
            standard,
            level,
            body_mass_kg: None,
            stature_cm: None,
            limits: Vec::new(),
            maxes: Vec::new(),
            unbroken: Vec::new(),
            trials: Vec::new(),
            hooks: None,
            sessions_logged: None,
            last_session: None,
            sessions: Vec::new(),
            learnt: None,
        }
    }

    /// The eight model members: four levels of both standards.
    pub fn archetypes() -> Vec<Member> {
        Level::ALL
            .into_iter()
            .flat_map(|level| {
                Standard::BOTH.map(|s| Member::unknown(&format!("{} {}", level.word(), s.word()), s, level))
            })
            .collect()
    }

    /// Under 8 logged sessions, or new and without a tested lift: lighter and slower, not by percentage.
    pub fn is_newer(&self) -> bool {
        self.sessions_logged.is_some_and(|n| n < 8) || (self.level == Level::New && self.maxes.is_empty())
    }

    /// New here or to training, and nothing is tested: what they lift is chosen by feel, under a ceiling.
    pub fn is_newcomer(&self) -> bool {
        self.is_newer() && self.maxes.is_empty() && self.unbroken.is_empty()
    }

    /// Can stand beside somebody new at a rack: seasoned, or a regular with 30 logged sessions (own).
    pub fn is_experienced(&self) -> bool {
        match self.level {
            Level::Seasoned | Level::Competitive => true,
            Level::Regular => self.sessions_logged.is_some_and(|n| n >= 30),
            Level::New => false,
        }
    }

    /// The first limit that rules a movement out, with the movement's own list.
    pub fn limit_against(&self, avoid_with: &[Limit]) -> Option<Limit> {
        self.limits.iter().copied().find(|l| avoid_with.contains(l))
    }

    /// Their limits that rule a movement out, as causes for which something stands in, in the order of the limits.
    pub fn causes_against(&self, movement: &Movement) -> Vec<Cause> {
        let against = |l: &&Limit| movement.avoid_with.contains(l) && self.limits.contains(l);
        Limit::ALL.iter().filter(against).map(|l| Cause::of_limit(*l)).collect()
    }

    /// Fastest time of a trial, s.
    pub fn best_trial(&self, test: &str) -> Option<f64> {
        self.trials.iter().filter(|t| t.test == test).map(|t| t.seconds).reduce(f64::min)
    }

    /// Best unbroken set of a movement.
    pub fn best_of(&self, movement: &str) -> Option<&Best> {
        self.unbroken.iter().filter(|b| b.movement == movement).max_by(|a, b| a.reps.total_cmp(&b.reps))
    }
}

#[cfg(test)]
mod tests;
