//! Machines and places by moment: how many are at a rower, a rig or a wall at once, by everybody's middle way through the workout.

use super::workout::WorkoutPlan;
use crate::kinds::Gear;
use crate::kit::{COUNTED, Kit};
use crate::mend::Short;
use crate::movement::catalogue;
use crate::versions::{LineSets, Splits};

/// What there are fewer places of than members who are there at once, group by group of those who work at the same time.
pub(super) fn places_short(w: &WorkoutPlan, kit: &Kit) -> Vec<Short> {
    let counted = COUNTED.iter().copied().filter(|g| *g != Gear::Rack && kit.count(*g) > 0);
    let of = |gear: Gear| {
        let all = w.at_once.iter().filter_map(|g| busiest(w, gear, g, kit.count(gear)));
        all.max_by(|a, b| waits(a).total_cmp(&waits(b)))
    };
    counted.filter_map(of).collect()
}

fn waits(s: &Short) -> f64 {
    if let Short::Places { waits_s, .. } = s { *waits_s } else { 0.0 }
}

/// Waiting that is shorter for each on average is no shortage, s (own).
const LEAST_WAIT_S: f64 = 10.0;

/// One member at a thing.
struct Stay {
    who: usize,
    movement: String,
    from_s: f64,
    to_s: f64,
}

fn busiest(w: &WorkoutPlan, gear: Gear, group: &[usize], have: u32) -> Option<Short> {
    let stays: Vec<Stay> = group.iter().flat_map(|i| stays(w, gear, *i)).collect();
    let there = |t: f64| stays.iter().filter(move |s| s.from_s <= t && t < s.to_s);
    let mut moments: Vec<f64> = stays.iter().flat_map(|s| [s.from_s, s.to_s]).collect();
    moments.sort_by(f64::total_cmp);
    moments.dedup();
    let (mut peak, mut at_s, mut too_many_s) = (0, 0.0, 0.0);
    for (t, next) in moments.iter().zip(moments.iter().skip(1)) {
        let n = there(*t).count();
        too_many_s += (n as f64 - f64::from(have)).max(0.0) * (next - t);
        if n > peak {
            (peak, at_s) = (n, *t);
        }
    }
    let mut who: Vec<usize> = there(at_s).map(|s| s.who).collect();
    who.sort_unstable();
    let movement = there(at_s).next()?.movement.clone();
    let waits_s = too_many_s / group.len().max(1) as f64;
    (waits_s >= LEAST_WAIT_S).then_some(Short::Places { gear, movement, have, at_s, who, waits_s })
}

/// When a member is at a thing.
fn stays(w: &WorkoutPlan, gear: Gear, i: usize) -> Vec<Stay> {
    let (Some(p), Some(splits)) = (w.placed.get(i), w.splits.get(i)) else { return Vec::new() };
    let movements: Vec<&str> = p.work.positions().collect();
    let needs = |at: usize| {
        let id = movements.get(at)?;
        catalogue().movement(id).filter(|m| m.equipment.contains(&gear)).map(|_| (*id).to_owned())
    };
    let start = w.starts.get(i).copied().unwrap_or(0);
    let of = w.starts.iter().max().map_or(1, |s| s + 1);
    turned(splits, start, of)
        .into_iter()
        .filter_map(|(at, from_s, to_s)| Some(Stay { who: i, movement: needs(at)?, from_s, to_s }))
        .collect()
}

/// The way of somebody who begins at the `start`-th of so many lines: (position, from, to) in s. Every line takes as long as it does
/// in the written order (own).
fn turned(splits: &Splits, start: u32, of: u32) -> Vec<(usize, f64, f64)> {
    let mut out = Vec::with_capacity(splits.lines.len());
    let mut rounds: Vec<Vec<&LineSets>> = Vec::new();
    for l in &splits.lines {
        match rounds.last_mut().filter(|r| r.last().is_some_and(|x| x.round == l.round)) {
            Some(round) => round.push(l),
            None => rounds.push(vec![l]),
        }
    }
    for round in &rounds {
        let n = round.len();
        let first = (start as usize * n) / (of.max(1) as usize);
        let Some(mut at) = round.first().map(|l| l.from_s) else { continue };
        for k in (first..n).chain(0..first) {
            let Some(l) = round.get(k) else { continue };
            // with the way to the next line
            let slot = round.get(k + 1).map_or(l.to_s, |next| next.from_s) - l.from_s;
            out.push((l.position, at, at + (l.to_s - l.from_s).min(slot)));
            at += slot;
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(position: usize, round: usize, from_s: f64, to_s: f64) -> LineSets {
        LineSets { position, round, sets: Vec::new(), starts: Vec::new(), from_s, to_s, rest_s: 0.0 }
    }

    #[test]
    fn who_begins_elsewhere_does_the_same_in_another_order() {
        let splits = Splits {
            round_ends: vec![100.0],
            lines: vec![
                line(0, 0, 0.0, 40.0),
                line(1, 0, 45.0, 60.0),
                line(2, 0, 60.0, 100.0),
                line(0, 1, 100.0, 130.0),
            ],
        };
        assert_eq!(turned(&splits, 0, 3)[..2], [(0, 0.0, 40.0), (1, 45.0, 60.0)]);
        let second = turned(&splits, 1, 3);
        assert_eq!(second, [(1, 0.0, 15.0), (2, 15.0, 55.0), (0, 55.0, 95.0), (0, 100.0, 130.0)]);
    }
}
