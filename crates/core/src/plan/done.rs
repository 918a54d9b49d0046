//! What of a workout is really done: the versions that somebody stands in, as the warm-up must know them.

use super::WorkoutPlan;
use crate::versions::{Line, Tier};
use crate::warmup::{Done, DoneLine};

/// The versions that somebody does, hardest first, each with its lines of every workout; the hardest where nobody is booked.
pub(super) fn done(workouts: &[WorkoutPlan]) -> Vec<Done> {
    let planned: Vec<&WorkoutPlan> = workouts.iter().filter(|w| w.waits.is_none()).collect();
    let nobody = planned.iter().all(|w| w.placed.is_empty());
    let there = |w: &WorkoutPlan, tier: Tier| {
        if nobody { tier == Tier::Full } else { w.placed.iter().any(|p| p.tier == tier) }
    };
    let of = |tier: Tier| Done {
        version: tier.word().to_owned(),
        for_new: tier == Tier::Base,
        lines: planned.iter().filter(|w| there(w, tier)).flat_map(|w| lines(w, tier)).collect(),
    };
    Tier::ALL.into_iter().map(of).filter(|d| !d.lines.is_empty()).collect()
}

/// Lines of a version, each with what is written in its place.
fn lines(w: &WorkoutPlan, tier: Tier) -> Vec<DoneLine> {
    let of = |t: Tier| w.versions.iter().find(|v| v.tier == t).map_or(&[][..], |v| v.work.lines.as_slice());
    let line = |(written, l): (&Line, &Line)| DoneLine {
        written: written.movement.clone(),
        movement: l.movement.clone(),
        count: l.counts.first().map(|c| c[0]),
        unit: l.unit,
    };
    of(Tier::Full).iter().zip(of(tier)).map(line).collect()
}
