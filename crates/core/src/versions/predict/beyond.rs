//! Work that is far beyond a member: no time is given for it.

use crate::pacing::{Task, Workout};
use crate::reason::{Asked, Beyond};
use crate::versions::work::Compiled;

/// More reps in all than so many of a member's largest sets is work far beyond them (own: two sets of ten are a long day, a
/// dozen is no workout).
const MOST_SETS_IN_ALL: f64 = 11.5;
/// The same of a lift at a load, which no rest makes light again.
const MOST_LOADED_SETS: f64 = 8.0;
/// The same from [`HEAVY_SHARE`] of the maximum on.
const MOST_HEAVY_SETS: f64 = 4.75;
const HEAVY_SHARE: f64 = 0.7;
/// The same in one round of a list without an end.
const MOST_SETS_A_ROUND: f64 = 7.0;
/// Too much of a task for a member.
pub struct TooMuch<'a> {
    task: &'a Task,
    /// Units, in all or in one round of a list without an end.
    units: f64,
    in_a_round: bool,
}

impl TooMuch<'_> {
    /// Slot of the task.
    pub fn slot(&self) -> usize {
        self.task.slot
    }

    /// How much of it is asked.
    pub fn asked(&self) -> Asked {
        Asked::Amount { units: self.units, in_a_round: self.in_a_round }
    }
}

/// Whether so much in all is far beyond somebody with a largest set at a share of their maximum.
pub fn too_much_in_all(total: f64, largest: f64, share: f64) -> bool {
    let most = match share {
        s if s >= HEAVY_SHARE => MOST_HEAVY_SETS,
        s if s > 0.0 => MOST_LOADED_SETS,
        _ => MOST_SETS_IN_ALL,
    };
    total > most * largest
}

/// Tasks of which a workout holds many times the largest set.
pub fn far_beyond<'a>(tasks: &'a [Task], lines: &'a Compiled) -> impl Iterator<Item = TooMuch<'a>> {
    tasks.iter().filter(|t| t.limited() && t.most.is_finite()).filter_map(|task| {
        let of = |all: &[f64]| all.get(task.slot).copied().unwrap_or(0.0);
        let (total, round) = (of(&lines.amounts), of(&lines.in_a_round));
        if too_much_in_all(total, task.most, task.share) {
            Some(TooMuch { task, units: total, in_a_round: false })
        } else {
            (round > MOST_SETS_A_ROUND * task.most).then_some(TooMuch {
                task,
                units: round,
                in_a_round: true,
            })
        }
    })
}

/// The first line that is far beyond a member: a load or skill they cannot do, or many times their largest set.
pub(super) fn beyond(tasks: &[Task], workout: &Workout, lines: &Compiled) -> Option<Beyond> {
    let of = |slot: usize| {
        let row = workout.tasks.get(slot).and_then(|(row, _)| crate::pacing::table::at(*row));
        row.map_or_else(String::new, |r| r.id.clone())
    };
    if let Some(task) = tasks.iter().find(|t| !t.feasible) {
        return Some(Beyond::NotYet { movement: of(task.slot) });
    }
    let much = far_beyond(tasks, lines).next()?;
    Some(Beyond::TooMuch {
        movement: of(much.task.slot),
        units: much.units,
        in_a_round: much.in_a_round,
        largest: much.task.most,
    })
}
