//! Warm-up sets from the empty bar to the first working set.

use crate::kit::{Loadable, Loaded};

/// Shares of the working load (own).
const SHARES: [f64; 5] = [0.40, 0.55, 0.70, 0.80, 0.90];
/// Reps in order; from the third on never more than the working reps.
const REPS: [u32; 6] = [8, 5, 3, 2, 1, 1];
/// No jump under this, kg.
const LEAST_JUMP_KG: f64 = 5.0;
/// No jump over this share of the working load.
const MOST_JUMP: f64 = 0.25;
/// No warm-up set over this share, but before heavy singles.
const MOST_SHARE: f64 = 0.92;

/// The ramp to a working set: (reps, weight), lightest first. `heavy_single`: a single over 90 % follows.
pub fn ramp(bar: &Loadable, working_kg: f64, working_reps: u32, heavy_single: bool) -> Vec<(u32, Loaded)> {
    let Some(empty) = bar.all().first() else { return Vec::new() };
    if working_kg - empty.kg < LEAST_JUMP_KG {
        return Vec::new();
    }
    let mut steps: Vec<Loaded> = vec![empty.clone()];
    for share in SHARES {
        let wish = working_kg * share;
        let Some(w) = bar.nearest(wish) else { continue };
        let last = steps.last().map_or(empty.kg, |s| s.kg);
        let limit = working_kg * if heavy_single { 0.97 } else { MOST_SHARE };
        let needed = working_kg - last > MOST_JUMP * working_kg;
        if w.kg - last < LEAST_JUMP_KG || w.kg > limit || working_kg - w.kg < LEAST_JUMP_KG {
            continue;
        }
        // the last step before the work is left out when the jump without it is small enough
        if share >= 0.90 && !needed && !heavy_single {
            continue;
        }
        steps.push(w.clone());
    }
    fill_gaps(bar, working_kg, &mut steps);
    steps
        .into_iter()
        .enumerate()
        .map(|(i, w)| {
            let reps = REPS.get(i).copied().unwrap_or(1);
            (if i < 2 { reps } else { reps.min(working_reps.max(1)) }, w)
        })
        .collect()
}

fn fill_gaps(bar: &Loadable, working_kg: f64, steps: &mut Vec<Loaded>) {
    let most = MOST_JUMP * working_kg;
    for _ in 0..4 {
        let gap = (0..steps.len()).find(|i| {
            let from = steps.get(*i).map_or(0.0, |s| s.kg);
            let to = steps.get(i + 1).map_or(working_kg, |s| s.kg);
            to - from > most + 1e-6
        });
        let Some(i) = gap else { return };
        let from = steps.get(i).map_or(0.0, |s| s.kg);
        let to = steps.get(i + 1).map_or(working_kg, |s| s.kg);
        let between = bar
            .nearest((from + to) / 2.0)
            .filter(|w| w.kg - from >= LEAST_JUMP_KG && to - w.kg >= LEAST_JUMP_KG);
        match between {
            Some(w) => steps.insert(i + 1, w.clone()),
            None => return,
        }
    }
}
