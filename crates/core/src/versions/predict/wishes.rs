//! What the sheet asks of a run beside its end: sets, unbroken shares, rounds, pace, what should be the limit.

use super::quick::{Quick, slot_of};
use crate::movement::catalogue;
use crate::pacing::{Asked, Task, table};
use crate::sheet::{TeamMode, Wish};
use crate::stimulus::{Stimulus, groups_of};
use crate::versions::work::{Compiled, Line, Work};

/// Share of a round's count that the first whole set must reach where the sheet says nothing about sets (own).
const LEAST_FIRST_SET: f64 = 1.0 / 3.0;
/// Up to so many reps a line is one set where the sheet says nothing (own).
const WHOLE_TO: f64 = 5.0;
/// A working set is about this share of the largest fresh one (own).
const WORKING_SHARE: f64 = 0.67;

/// Most sets of a line that the sheet asks for: of its movement, or of the one that it stands for.
pub fn most_of(line: &Line, stimulus: &Stimulus) -> Option<u32> {
    let said = stimulus.wishes.iter().filter_map(|w| match w {
        Wish::MostSets { movement, sets } if stands_for(line, movement) => Some(*sets),
        _ => None,
    });
    said.min().into_iter().chain(line.unbroken.then_some(1)).min()
}

/// The share of a line that the sheet wants in its first set.
fn share_of(line: &Line, stimulus: &Stimulus) -> Option<f64> {
    stimulus.wishes.iter().find_map(|w| match w {
        Wish::UnbrokenShare { movement, share } if stands_for(line, movement) => Some(*share),
        _ => None,
    })
}

/// A lower rung still stands for the movement of a wish.
fn stands_for(line: &Line, wished: &str) -> bool {
    let on_ladder = || {
        let ladder = catalogue().ladder_for(wished);
        line.stands_for.is_none()
            && ladder.is_some_and(|l| l.rungs.iter().any(|r| r.movement == line.movement))
    };
    line.movement == wished || line.stands_for.as_deref() == Some(wished) || on_ladder()
}

/// What is asked of the sets of each slot.
pub(super) fn asked_of(work: &Work, stimulus: &Stimulus, lines: &Compiled) -> Vec<(usize, Asked)> {
    let mut out: Vec<(usize, Asked)> = Vec::new();
    for (i, line) in work.lines.iter().enumerate() {
        let asked = Asked { most_sets: most_of(line, stimulus), first_share: share_of(line, stimulus) };
        let known = |s: usize| out.iter().any(|(x, _)| *x == s);
        if let Some(slot) = slot_of(work, lines, i).filter(|s| asked != Asked::default() && !known(*s)) {
            out.push((slot, asked));
        }
    }
    out
}

/// How many of a line's reps a member must be able to do in one set when fresh: what the sheet asks, else a third of them, or all
/// of a few.
pub fn first_set(work: &Work, line: usize, stimulus: &Stimulus) -> f64 {
    let Some(l) = work.lines.get(line) else { return 1.0 };
    // what a team shares is taken in parts
    let largest = match work.team {
        Some(t) if t.mode != TeamMode::Alternate => (l.largest() / f64::from(t.size.max(1))).ceil(),
        _ => l.largest(),
    };
    let share = match (most_of(l, stimulus), share_of(l, stimulus)) {
        (Some(sets), share) => share.unwrap_or(0.0).max(1.0 / f64::from(sets.max(1))),
        (None, Some(share)) => share,
        (None, None) => LEAST_FIRST_SET,
    };
    let asked = (largest * share - 1e-9).ceil();
    asked.max(if largest <= WHOLE_TO && l.kg().is_some() { largest } else { 1.0 })
}

/// How a run breaks the wishes of a stimulus: 0 when it keeps all of them; 1 for each set or half-minute too much.
pub fn wishes_broken(work: &Work, quick: &Quick, stimulus: &Stimulus, tasks: &[Task]) -> f64 {
    let mut out = f64::from(quick.run.steadiness.over);
    for wish in &stimulus.wishes {
        match wish {
            Wish::LongestRound { seconds } => {
                let longest = quick.run.time / work.rounds().max(1) as f64;
                out += ((longest - f64::from(*seconds)) / 30.0).max(0.0);
            }
            Wish::LeastPace { reps_per_min } => {
                let pace = quick.run.reps / quick.run.time.max(1.0) * 60.0;
                out += ((reps_per_min - pace) / reps_per_min.max(0.1)).max(0.0) * 2.0;
            }
            Wish::Limit { what } => {
                if let Some(groups) = groups_of(what) {
                    out += broken_by_others(work, quick, tasks, groups);
                }
            }
            // counted on the run above; the rest of a cycle is the unit of its window
            Wish::MostSets { .. } | Wish::UnbrokenShare { .. } | Wish::LeastRest { .. } => {}
        }
    }
    out
}

/// Half of each set after the first that a line needs whose group is not the one that should be the limit: what must not be the
/// limit is not broken (own).
fn broken_by_others(work: &Work, quick: &Quick, tasks: &[Task], groups: &[usize]) -> f64 {
    (0..work.lines.len())
        .filter_map(|i| {
            let (slot, line) = (slot_of(work, &quick.lines, i)?, work.lines.get(i)?);
            let task = tasks.get(slot).filter(|t| t.limited() && t.most.is_finite())?;
            let row = table::at(quick.workout.tasks.get(slot)?.0)?;
            let sets = (line.largest() / (task.most * WORKING_SHARE).max(1.0)).ceil();
            (!groups.contains(&row.primary)).then_some(0.5 * (sets - 1.0).max(0.0))
        })
        .sum()
}
