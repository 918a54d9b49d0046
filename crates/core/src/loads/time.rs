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

/// A set with its set-up, s.
pub fn set_time(lift: &str, reps: u32, tempo: Option<Tempo>) -> f64 {
    f64::from(reps) * rep_time(lift, tempo) + SET_UP_S
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

/// Length of one lift's sets for the class.
#[derive(Debug, Clone, PartialEq)]
pub struct StrengthTime {
    /// Warm-up sets, s.
    pub ramp_s: f64,
    /// Working sets, s.
    pub work_s: f64,
    /// From one set's start to the next for one member, s.
    pub interval_s: f64,
    /// One member's turn at a shared rack: the set and the plates, s.
    pub turn_s: f64,
    /// Members' turns at the fullest rack take longer than the sheet's interval.
    pub does_not_fit: Option<String>,
}

impl StrengthTime {
    /// All of it, s.
    pub fn total(&self) -> f64 {
        self.ramp_s + self.work_s
    }
}

/// Length of a lift for racks of at most `per_rack` members, with `ramp_sets` warm-up sets before the work.
pub fn strength_time(
    lift: &str,
    sets: &LiftSets,
    percent: f64,
    per_rack: u32,
    ramp_sets: u32,
) -> StrengthTime {
    let reps = sets.reps.iter().copied().max().unwrap_or(1);
    let set = set_time(lift, reps, sets.tempo);
    let k = f64::from(per_rack.max(1));
    let turn_s = set + if per_rack > 1 { PLATES_S } else { SAME_S };
    let turns = k * turn_s;
    let rest = sets.rest_s.map_or_else(|| rest_after(percent), f64::from);
    let interval_s = sets.every_s.map_or_else(|| turns.max(set + rest), f64::from);
    let n = sets.reps.len() as f64;
    let does_not_fit = (sets.every_s.is_some() && turns > interval_s + 0.5).then(|| {
        format!(
            "{per_rack} members at a rack need {} for a turn each and the sheet gives {}. Use more racks, two waves or fewer sets.",
            crate::units::clock(turns),
            crate::units::clock(interval_s)
        )
    });
    StrengthTime {
        ramp_s: f64::from(ramp_sets) * RAMP_TURN_S * k,
        // nobody waits after the last set, but the last member's turn must end
        work_s: if sets.every_s.is_some() { n * interval_s } else { (n - 1.0).max(0.0) * interval_s + turns },
        interval_s,
        turn_s,
        does_not_fit,
    }
}
