//! How long sets take, how long to rest, and how long a strength block runs when racks are shared.

use crate::sheet::{LiftSets, Tempo};

/// Getting to the bar and away, s (own).
const SET_UP_S: f64 = 8.0;
/// Changing plates between two members, s (own).
const PLATES_S: f64 = 25.0;
/// Changing members when the weight stays, s (own).
const SAME_S: f64 = 8.0;
/// A warm-up set with its plates, s for each member at the rack (own).
const RAMP_TURN_S: f64 = 38.0;

/// One rep, s (own; tempo digits summed, X = 1 s).
fn rep_time(lift: &str, tempo: Option<Tempo>) -> f64 {
    if let Some(Tempo([lower, bottom, lift, top])) = tempo {
        return f64::from(lower) + f64::from(bottom) + f64::from(lift.max(1)) + f64::from(top);
    }
    match lift {
        l if l.contains("press") => 2.5,
        l if l.contains("squat") && !l.contains("clean") && !l.contains("snatch") => 3.0,
        "deadlift" => 3.0,
        l if l.contains("clean") || l.contains("snatch") || l.contains("jerk") => 5.0,
        _ => 3.0,
    }
}

/// Reps of a set to the most, for its time (own).
const MAX_SET_REPS: u32 = 10;

/// A set with its set-up, s; 0 reps: as many as possible.
pub fn set_time(lift: &str, reps: u32, tempo: Option<Tempo>) -> f64 {
    reps_time(lift, reps, tempo) + SET_UP_S
}

/// The reps alone, s: what a further part of a chain adds.
pub fn reps_time(lift: &str, reps: u32, tempo: Option<Tempo>) -> f64 {
    let reps = if reps == 0 { MAX_SET_REPS } else { reps };
    f64::from(reps) * rep_time(lift, tempo)
}

/// Rest after a set where the sheet gives none, s, by the percentage of the 1RM (own).
pub fn rest_after(percent: f64) -> f64 {
    match percent {
        p if p < 70.0 => 90.0,
        p if p <= 80.0 => 120.0,
        p if p <= 90.0 => 165.0,
        _ => 210.0,
    }
}

/// What the turns at the fullest rack are made of.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Turns {
    /// Members at it.
    pub members: u32,
    /// One member's set with its set-up, s; the longest.
    pub set_s: f64,
    /// Turns of a round in which plates change.
    pub changes: u32,
}

impl Turns {
    /// One member's longest turn: the set and the plates, s.
    pub fn turn_s(&self) -> f64 {
        self.set_s + if self.changes > 0 { PLATES_S } else { SAME_S }
    }

    /// A round of turns, one set for each, s.
    pub fn round_s(&self) -> f64 {
        let same = self.members.saturating_sub(self.changes);
        f64::from(self.members) * self.set_s + f64::from(self.changes) * PLATES_S + f64::from(same) * SAME_S
    }
}

/// Length of one lift's sets for the class.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct StrengthTime {
    /// Warm-up sets, s.
    pub ramp_s: f64,
    /// Working sets, s.
    pub work_s: f64,
    /// From one set's start to the next for one member, s.
    pub interval_s: f64,
    /// One member's turn at a shared rack: the set and the plates, s.
    pub turn_s: f64,
    /// A round of turns at the fullest rack, s.
    pub round_s: f64,
    /// Done in so many waves, one after the other.
    pub waves: u32,
    /// Members' turns at the fullest rack take longer than the sheet's interval.
    pub does_not_fit: Option<String>,
}

impl StrengthTime {
    /// All of it, s.
    pub fn total(&self) -> f64 {
        self.ramp_s + self.work_s
    }
}

/// Length of a lift. `also_s`: what is done after each set before its rest, away from the rack (the other half of a
/// superset), s; `waves`: groups that lift one after the other.
pub fn strength_time(
    sets: &LiftSets,
    percent: f64,
    turns: Turns,
    ramp_sets: u32,
    also_s: f64,
    waves: u32,
) -> StrengthTime {
    let waves = waves.max(1);
    let turns = Turns {
        members: turns.members.div_ceil(waves),
        changes: turns.changes.min(turns.members.div_ceil(waves)),
        ..turns
    };
    let round_s = turns.round_s();
    let rest = sets.rest_s.map_or_else(|| rest_after(percent), f64::from);
    let own = turns.set_s + also_s + rest;
    let interval_s = sets.every_s.map_or_else(|| round_s.max(own), f64::from);
    let n = sets.reps.len() as f64;
    let does_not_fit = (sets.every_s.is_some() && round_s > interval_s + 0.5).then(|| {
        format!(
            "{} members at a rack need {} for a turn each and the sheet gives {}.",
            turns.members,
            crate::units::clock(round_s),
            crate::units::clock(interval_s)
        )
    });
    // nobody waits after the last set, but the last member's turn must end
    let once = if sets.every_s.is_some() {
        n * interval_s
    } else {
        (n - 1.0).max(0.0) * interval_s + (round_s + also_s)
    };
    StrengthTime {
        ramp_s: f64::from(waves) * f64::from(ramp_sets) * RAMP_TURN_S * f64::from(turns.members.max(1)),
        work_s: f64::from(waves) * once,
        interval_s,
        turn_s: turns.turn_s(),
        round_s,
        waves,
        does_not_fit,
    }
}
