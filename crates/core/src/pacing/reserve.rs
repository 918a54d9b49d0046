//! Closed forms of one local reserve. A reserve R under a ceiling C has the deficit D = C - R. At rest
//! dD/dt = -D / (tau (A + beta D)) with A = 1 + beta (1 - C); during a rep it recovers at rho times that and
//! the rep adds its cost k.

use super::params::{B_DEEP, BETA, P_SET, R_DEEP, RHO, T_SET, TAU};

/// Deficit after resting `x` = dt/tau: solves A ln(D0/D) + beta (D0 - D) = x, so splitting a rest changes nothing.
pub fn recover(deficit: f64, a: f64, x: f64) -> f64 {
    if deficit <= 1e-9 || x <= 0.0 {
        return deficit;
    }
    if x < 0.1 {
        return deficit * (-x / (a + BETA * deficit)).exp();
    }
    let mut y = deficit.ln();
    let rhs = a * y + BETA * deficit - x;
    for _ in 0..4 {
        let ey = y.exp();
        y -= (a * y + BETA * ey - rhs) / (a + BETA * ey);
    }
    y.exp()
}

/// Reps (continuous) that take the deficit from `d0` to `d1`; `k` cost a rep, `x` = rho c/tau.
pub fn reps_between(d0: f64, d1: f64, a: f64, k: f64, x: f64) -> f64 {
    if d1 <= d0 {
        return 0.0;
    }
    let (p, q) = (k * a, k * BETA - x);
    if q.abs() < 1e-4 * p {
        return (a * (d1 - d0) + BETA * (d1 * d1 - d0 * d0) / 2.0) / p;
    }
    let (u, v) = (p + q * d0, p + q * d1);
    if v <= 1e-9 * p {
        return f64::INFINITY;
    }
    BETA / q * (d1 - d0) + (a - BETA * p / q) / q * (v / u).ln()
}

/// Reps from deficit `d0` under ceiling `c` down to reserve `floor`; the deep zone is taken at its mean cost.
pub fn deep_reps(d0: f64, c: f64, floor: f64, k: f64, x: f64) -> f64 {
    let a = 1.0 + BETA * (1.0 - c);
    if floor >= R_DEEP {
        return reps_between(d0, c - floor, a, k, x);
    }
    let edge = c - R_DEEP;
    let shallow = if d0 < edge { reps_between(d0, edge, a, k, x) } else { 0.0 };
    let r0 = R_DEEP.min(c - d0);
    if r0 <= floor {
        return shallow;
    }
    let mean = k * (1.0 + B_DEEP * (1.0 - 0.5 * (r0 + floor) / R_DEEP));
    shallow + reps_between(d0.max(edge), c - floor, a, mean, x)
}

/// Cost per rep (cycle `c` s) such that a fresh set ends at `most` reps; `start`: extra cost of a set's first
/// rep, in reps. Bisection, 30 steps.
pub fn cost_for(most: f64, c: f64, start: f64) -> f64 {
    if most <= 1.0 {
        return 1.0;
    }
    let mut most = most + start;
    let (x, t) = (RHO * c / TAU, most * c);
    let mut cut = 1.0;
    if t > T_SET {
        // the falling ceiling does part of very long sets
        most = T_SET / c;
        cut = (T_SET / t).powf(P_SET);
        if most <= 1.0 {
            return cut.min(1.0);
        }
    }
    let (mut lo, mut hi) = (0.1 / most, 1.0);
    let wanted = most - 0.5; // the first half rep gets no recovery
    for _ in 0..30 {
        let k = 0.5 * (lo + hi);
        if deep_reps(0.5 * k, 1.0, 0.0, k, x) > wanted {
            lo = k;
        } else {
            hi = k;
        }
    }
    0.5 * (lo + hi) * cut
}
