//! A local reserve in closed form: rest, reps, and what a rep costs.

use lantern_core::pacing::params::*;

/// Deficit after a rest of `x` time constants: a ln(d0 / d) + BETA (d0 - d) = x, by Newton.
pub fn recover(d: f64, a: f64, x: f64) -> f64 {
    if d <= 1e-9 || x <= 0.0 {
        return d;
    }
    if x < 0.1 {
        // a rest this short goes at the speed of its beginning
        return d * (-x / (a + BETA * d)).exp();
    }
    let mut y = d.ln();
    let rhs = a * y + BETA * d - x;
    for _ in 0..40 {
        let e = y.exp();
        y -= (a * y + BETA * e - rhs) / (a + BETA * e);
    }
    y.exp()
}

/// Reps that take the deficit from `d0` to `d1` at a cost of `k` a rep and `x` time constants of rest in each.
pub fn reps_between(d0: f64, d1: f64, a: f64, k: f64, x: f64) -> f64 {
    if d1 <= d0 {
        return 0.0;
    }
    let (p, q) = (k * a, k * BETA - x);
    if q.abs() < 1e-4 * p {
        return (a * (d1 - d0) + BETA * (d1 * d1 - d0 * d0) / 2.0) / p;
    }
    let (from, to) = (p + q * d0, p + q * d1);
    if to <= 1e-9 * p {
        return f64::INFINITY;
    }
    BETA / q * (d1 - d0) + (a - BETA * p / q) / q * (to / from).ln()
}

/// Reps from a deficit down to a floor; the deep zone at its mean cost.
pub fn deep_reps(d0: f64, c: f64, floor: f64, k: f64, x: f64) -> f64 {
    let a = 1.0 + BETA * (1.0 - c);
    if floor >= R_DEEP {
        return reps_between(d0, c - floor, a, k, x);
    }
    let edge = c - R_DEEP;
    let shallow = if d0 < edge { reps_between(d0, edge, a, k, x) } else { 0.0 };
    let from = R_DEEP.min(c - d0);
    if from <= floor {
        return shallow;
    }
    let mean = k * (1.0 + B_DEEP * (1.0 - 0.5 * (from + floor) / R_DEEP));
    shallow + reps_between(d0.max(edge), c - floor, a, mean, x)
}

/// Cost of a rep such that a fresh set ends at `most` reps.
pub fn cost_for(most: f64, cycle: f64, start: f64, quick: f64) -> f64 {
    if most <= 1.0 {
        return 1.0;
    }
    let (mut most, mut cut) = (most + start, 1.0);
    let x = RHO * cycle / (TAU / quick);
    let lasts = most * cycle;
    if lasts > T_SET {
        (most, cut) = (T_SET / cycle, (T_SET / lasts).powf(P_SET));
        if most <= 1.0 {
            return cut.min(1.0);
        }
    }
    let (mut low, mut high) = (0.1 / most, 1.0);
    for _ in 0..60 {
        let k = 0.5 * (low + high);
        if deep_reps(0.5 * k, 1.0, 0.0, k, x) > most - 0.5 { low = k } else { high = k }
    }
    0.5 * (low + high) * cut
}
