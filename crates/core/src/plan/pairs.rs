//! Suggested pairs and teams: of near equal pace and like loads, so that nobody waits and no bar is changed between turns;
//! how long a turn is, and what each team is likely to need with its own members.

use super::workout::WorkoutPlan;
use crate::pacing::{Shared, simulate_partners};
use crate::roster::{Ability, Member};
use crate::versions::{Line, Placed, compile_lines};

/// What one kind of weight that two of a team do not share counts for, in shares of the pace (own).
const LOAD: f64 = 0.05;
/// What two versions in one team count for (own).
const VERSION: f64 = 0.25;

/// A suggested team.
#[derive(Debug, Clone, PartialEq)]
pub struct Pairing {
    /// Positions in the class.
    pub members: Vec<usize>,
    /// Slowest over fastest alone, less 1.
    pub spread: f64,
    /// Weights that its members do not share.
    pub other_loads: usize,
    /// Per cent of the work of each, by their pace alone: who is twice as fast does twice as much. Sums to 100.
    pub shares: Vec<u32>,
    /// Reps of a turn for each line of a shared list, in words; whole rounds where they alternate.
    pub turns: String,
    /// Likely result of these members together, in words; empty where their versions differ.
    pub likely: String,
}

/// Teams of a workout that is done together; empty for everything else.
pub fn pairings(w: &WorkoutPlan, members: &[Member], abilities: &[Ability]) -> Vec<Pairing> {
    let (Some(stimulus), Some(team)) = (&w.stimulus, w.versions.first().and_then(|v| v.work.team)) else {
        return Vec::new();
    };
    let size = (team.size as usize).max(2);
    let mut order: Vec<usize> = (0..w.placed.len()).collect();
    let pace = |i: usize| w.placed.get(i).map_or(0.0, |p| p.predicted.prediction.p50().max(1e-6));
    let tier = |i: usize| w.placed.get(i).map(|p| p.tier);
    order.sort_by(|a, b| tier(*a).cmp(&tier(*b)).then(pace(*a).total_cmp(&pace(*b))));
    let mut groups: Vec<Vec<usize>> = order.chunks(size).map(<[usize]>::to_vec).collect();
    // somebody left over makes the last team one larger
    if groups.len() > 1 && groups.last().is_some_and(|g| g.len() < size) {
        let rest = groups.pop().unwrap_or_default();
        let n = groups.len();
        for (k, i) in rest.into_iter().enumerate() {
            if let Some(g) = groups.get_mut(n - 1 - k % n) {
                g.push(i);
            }
        }
    }
    let cost =
        |g: &[usize]| spread(w, g) + LOAD * other_loads(w, members, g) as f64 + VERSION * versions(w, g);
    // two members of two teams change places while that makes both together better
    loop {
        let mut changed = false;
        for a in 0..groups.len() {
            for b in a + 1..groups.len() {
                changed |= swap(&mut groups, (a, b), &cost);
            }
        }
        if !changed {
            break;
        }
    }
    groups
        .into_iter()
        .map(|g| {
            let likely = together(w, members, abilities, &g).map(|v| stimulus.write(v)).unwrap_or_default();
            Pairing {
                spread: spread(w, &g),
                other_loads: other_loads(w, members, &g),
                turns: turns(w, members, abilities, &g),
                shares: shares(w, &g),
                likely,
                members: g,
            }
        })
        .collect()
}

fn swap(groups: &mut [Vec<usize>], (a, b): (usize, usize), cost: &impl Fn(&[usize]) -> f64) -> bool {
    let (Some(x), Some(y)) = (groups.get(a).cloned(), groups.get(b).cloned()) else { return false };
    let before = cost(&x) + cost(&y);
    for i in 0..x.len() {
        for j in 0..y.len() {
            let (mut p, mut q) = (x.clone(), y.clone());
            if let (Some(u), Some(v)) = (p.get_mut(i), q.get_mut(j)) {
                std::mem::swap(u, v);
            }
            if cost(&p) + cost(&q) < before - 1e-6 {
                for (at, g) in [(a, p), (b, q)] {
                    if let Some(slot) = groups.get_mut(at) {
                        *slot = g;
                    }
                }
                return true;
            }
        }
    }
    false
}

fn placed<'a>(w: &'a WorkoutPlan, g: &'a [usize]) -> impl Iterator<Item = &'a Placed> {
    g.iter().filter_map(|i| w.placed.get(*i))
}

fn spread(w: &WorkoutPlan, g: &[usize]) -> f64 {
    let all: Vec<f64> = placed(w, g).map(|p| p.predicted.prediction.p50().max(1e-6)).collect();
    let (low, high) = all.iter().fold((f64::INFINITY, 0.0f64), |(a, b), v| (a.min(*v), b.max(*v)));
    if low.is_finite() { high / low - 1.0 } else { 0.0 }
}

fn versions(w: &WorkoutPlan, g: &[usize]) -> f64 {
    let mut all: Vec<_> = placed(w, g).map(|p| p.tier).collect();
    all.sort();
    all.dedup();
    all.len().saturating_sub(1) as f64
}

/// Shares of the work by the speed of each alone: rounds or reps done, or one over the time.
fn shares(w: &WorkoutPlan, g: &[usize]) -> Vec<u32> {
    let time = w.stimulus.as_ref().is_some_and(crate::stimulus::Stimulus::is_time);
    let speed: Vec<f64> = placed(w, g)
        .map(|p| p.predicted.prediction.p50().max(1e-6))
        .map(|v| if time { 1.0 / v } else { v })
        .collect();
    crate::units::apportion(100, &speed)
}

/// Lines on which the members of a team lift different weights, counted by the weights too many.
fn other_loads(w: &WorkoutPlan, members: &[Member], g: &[usize]) -> usize {
    let lines = placed(w, g).map(|p| p.work.lines.len()).max().unwrap_or(0);
    (0..lines)
        .map(|i| {
            let mut kg: Vec<f64> = g
                .iter()
                .filter_map(|m| Some((w.placed.get(*m)?, members.get(*m)?)))
                .filter_map(|(p, m)| Some(m.standard.of(p.work.lines.get(i)?.kg()?)))
                .collect();
            kg.sort_by(f64::total_cmp);
            kg.dedup();
            kg.len().saturating_sub(1)
        })
        .sum()
}

/// Score of these members together in the window's unit; `None` where their versions differ or it cannot be done.
fn together(w: &WorkoutPlan, members: &[Member], abilities: &[Ability], g: &[usize]) -> Option<f64> {
    if versions(w, g) > 0.0 {
        return None;
    }
    let first = *g.first()?;
    let (p, m, a) = (w.placed.get(first)?, members.get(first)?, abilities.get(first)?);
    let stimulus = w.stimulus.as_ref()?;
    let (workout, _) = compile_lines(&p.work, m.standard, &a.athlete, stimulus.cap_s);
    workout.team.as_ref()?;
    let athletes: Vec<&crate::pacing::Athlete> =
        g.iter().filter_map(|i| abilities.get(*i)).map(|a| &a.athlete).collect();
    let run = simulate_partners(&workout, &athletes);
    if stimulus.is_time() {
        return run.done.then_some(run.time);
    }
    let counted: f64 = run.each.iter().sum();
    Some(match stimulus.unit {
        crate::sheet::TargetUnit::Rounds => {
            crate::versions::rounds_of_units(&p.work, m.standard, &workout, counted)
        }
        _ => crate::versions::board_of_units(&p.work, m.standard, &workout, counted),
    })
}

/// Reps of a turn for the weakest of a team, line by line.
fn turns(w: &WorkoutPlan, members: &[Member], abilities: &[Ability], g: &[usize]) -> String {
    let of = |i: &usize| -> Option<Vec<(usize, f64)>> {
        let (p, m, a) = (w.placed.get(*i)?, members.get(*i)?, abilities.get(*i)?);
        let (workout, _) = compile_lines(&p.work, m.standard, &a.athlete, None);
        let (_, shared) = workout.team.as_ref()?;
        let mut out = Vec::new();
        for s in shared {
            match s {
                Shared::Switch { tasks, .. } => {
                    for (amount, turn) in tasks {
                        if !out.iter().any(|(line, _)| *line == amount.line) {
                            out.push((amount.line, *turn));
                        }
                    }
                }
                Shared::Alternate { .. } => return Some(Vec::new()),
                Shared::Rest(_) | Shared::Ladder { .. } => {}
            }
        }
        Some(out)
    };
    let all: Vec<Vec<(usize, f64)>> = g.iter().filter_map(of).collect();
    let Some(first) = all.first() else { return String::new() };
    if first.is_empty() {
        return "whole rounds in turn".to_owned();
    }
    first
        .iter()
        .enumerate()
        .filter_map(|(i, (line, _))| {
            let least = all.iter().filter_map(|v| v.get(i)).map(|(_, n)| *n).fold(f64::INFINITY, f64::min);
            let line = w.placed.get(*g.first()?)?.work.lines.get(*line)?;
            let turn = Line {
                counts: vec![[least; 2]],
                weight: None,
                height_cm: None,
                along: Vec::new(),
                ..line.clone()
            };
            Some(turn.text())
        })
        .collect::<Vec<_>>()
        .join(", ")
}
