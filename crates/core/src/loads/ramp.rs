//! Warm-up sets from the empty bar to the first working set.

use crate::kit::{Loadable, Loaded};

/// Shares of the working load behind the empty bar (own).
const SHARES: [f64; 4] = [0.45, 0.65, 0.78, 0.87];
/// One more before a heavy single (own).
const HEAVY_SHARE: f64 = 0.94;
/// Reps in order; from the third on never more than the working reps.
const REPS: [u32; 6] = [8, 5, 3, 2, 1, 1];
/// No jump under this, kg.
const LEAST_JUMP_KG: f64 = 5.0;
/// The last jump is at most this share of the working load, or so many kg below [`LIGHT_KG`] (own).
const LAST_JUMP: f64 = 0.15;
const LAST_JUMP_KG: f64 = 10.0;
const LIGHT_KG: f64 = 70.0;
/// Work under so many times the empty bar needs one step only (own).
const LIGHT_WORK: f64 = 1.5;

/// The ramp to a working set: (reps, weight), lightest first. `heavy_single`: a single over 90 % follows.
pub fn ramp(bar: &Loadable, working_kg: f64, working_reps: u32, heavy_single: bool) -> Vec<(u32, Loaded)> {
    let Some(empty) = bar.all().first() else { return Vec::new() };
    if working_kg - empty.kg < LEAST_JUMP_KG {
        return Vec::new();
    }
    let mut steps: Vec<Loaded> = vec![empty.clone()];
    let one = working_kg < LIGHT_WORK * empty.kg;
    let shares = if one { &SHARES[3..] } else { &SHARES[..] };
    for share in shares.iter().chain(heavy_single.then_some(&HEAVY_SHARE)) {
        let last = steps.last().map_or(empty.kg, |s| s.kg);
        let Some(w) = bar.nearest(working_kg * share) else { continue };
        if w.kg - last >= LEAST_JUMP_KG && working_kg - w.kg >= LEAST_JUMP_KG {
            steps.push(w.clone());
        }
    }
    near_enough(bar, working_kg, &mut steps);
    let n = steps.len();
    steps
        .into_iter()
        .enumerate()
        .map(|(i, w)| {
            // the last before the work is done once
            let reps = if i > 1 && i + 1 == n { 1 } else { REPS.get(i).copied().unwrap_or(1) };
            (if i < 2 { reps } else { reps.min(working_reps.max(1)) }, w)
        })
        .collect()
}

/// The last jump is small enough: where rounding or a light bar left a larger one, a step lies between.
fn near_enough(bar: &Loadable, working_kg: f64, steps: &mut Vec<Loaded>) {
    let most = if working_kg < LIGHT_KG { LAST_JUMP_KG } else { LAST_JUMP * working_kg };
    for _ in 0..3 {
        let last = steps.last().map_or(0.0, |s| s.kg);
        if working_kg - last <= most + 1e-6 {
            return;
        }
        let next = bar.below(working_kg - LEAST_JUMP_KG.max(most / 2.0));
        match next.filter(|w| w.kg - last >= LEAST_JUMP_KG - 1e-6) {
            Some(w) => steps.push(w.clone()),
            None => return,
        }
    }
}
