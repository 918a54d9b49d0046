//! What of a workout is really done: the versions that somebody stands in, as the warm-up must know them.

use super::WorkoutPlan;
use crate::versions::{Line, Tier, Version};
use crate::warmup::{Done, DoneLine};

/// The versions of the first workout that somebody does, hardest first; the hardest where nobody is booked.
pub(super) fn done(workouts: &[WorkoutPlan]) -> Vec<Done> {
    let Some(w) = workouts.iter().find(|w| w.waits.is_none()) else { return Vec::new() };
    let Some(full) = w.versions.first() else { return Vec::new() };
    let there = |v: &&Version| w.placed.iter().any(|p| p.tier == v.tier);
    let line = |(written, l): (&Line, &Line)| DoneLine {
        written: written.movement.clone(),
        movement: l.movement.clone(),
        count: l.counts.first().map(|c| c[0]),
        unit: l.unit,
    };
    let one = |v: &Version| Done {
        version: v.tier.word().to_owned(),
        for_new: v.tier == Tier::Base,
        lines: full.work.lines.iter().zip(&v.work.lines).map(line).collect(),
    };
    let all: Vec<Done> = w.versions.iter().filter(there).map(one).collect();
    if all.is_empty() { vec![one(full)] } else { all }
}
