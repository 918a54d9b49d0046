//! Closed forms of one local reserve. A reserve R under a ceiling C has the deficit D = C - R. At rest
//! dD/dt = -D / (tau (A + beta D)) with A = 1 + beta (1 - C); during a rep it recovers at rho times that and
//! the rep adds its cost k.

use super::math::{exp, ln, pow};
use super::params::{B_DEEP, BETA, P_SET, R_DEEP, RHO, T_SET, TAU};
use std::sync::LazyLock;

/// Up to here the short series for exp(-x) is exact to 1e-9.
pub const SERIES_END: f64 = 0.1;

/// exp(-x) for 0 <= x < [`SERIES_END`].
#[inline]
pub fn exp_minus_series(x: f64) -> f64 {
    // in pairs, so that the products are computed side by side
    let y = x * x;
    (1.0 - x) + y * ((0.5 - x * (1.0 / 6.0)) + y * (1.0 / 24.0 - x * (1.0 / 120.0)))
}

/// exp(-x) for x >= 0; nearly every rep and short rest lies where a series is exact to 1e-9.
#[inline]
pub fn exp_minus(x: f64) -> f64 {
    if x < SERIES_END {
        return exp_minus_series(x);
    }
    if x > 0.25 {
        return exp(-x);
    }
    let y = x * x;
    // even and odd terms apart, so that they are computed side by side
    let even = 1.0 + y * (1.0 / 2.0 + y * (1.0 / 24.0 + y * (1.0 / 720.0 + y * (1.0 / 40320.0))));
    let odd = 1.0 + y * (1.0 / 6.0 + y * (1.0 / 120.0 + y * (1.0 / 5040.0)));
    even - x * odd
}

/// Nodes of [`omega`] to the unit, and the span of the table.
const NODES: f64 = 64.0;
const TABLE_FROM: f64 = -7.0;
const TABLE_TO: f64 = 2.0;

/// The root v of v + ln v = z (the Wright function), at the nodes.
static OMEGA: LazyLock<Vec<f64>> = LazyLock::new(|| {
    let n = ((TABLE_TO - TABLE_FROM) * NODES) as usize + 2;
    (0..n)
        .map(|i| {
            let z = TABLE_FROM + i as f64 / NODES;
            // Newton in ln v, from below the root: never overshoots
            let mut y = z.min(0.0);
            for _ in 0..60 {
                y -= (exp(y) + y - z) / (exp(y) + 1.0);
            }
            exp(y)
        })
        .collect()
});

/// The root between two nodes by a cubic with the true slopes v / (1 + v); exact to 1e-10. `None` off the table.
#[inline]
fn omega(z: f64) -> Option<f64> {
    if !(TABLE_FROM..TABLE_TO).contains(&z) {
        return None;
    }
    let at = (z - TABLE_FROM) * NODES;
    let i = at as usize;
    let [v0, v1] = *OMEGA.get(i..i + 2)? else { return None };
    let s = at - i as f64;
    let (m0, m1) = (v0 / (1.0 + v0) / NODES, v1 / (1.0 + v1) / NODES);
    let rise = v1 - v0;
    Some(v0 + s * (m0 + s * ((3.0 * rise - 2.0 * m0 - m1) + s * (m0 + m1 - 2.0 * rise))))
}

/// Deficit after resting `x` = dt/tau: solves A ln(D0/D) + beta (D0 - D) = x, so splitting a rest changes nothing.
///
/// With v = beta D / A it is v + ln v = v0 + ln v0 - x/A: one logarithm and a look into a table.
pub fn recover(deficit: f64, a: f64, x: f64) -> f64 {
    if deficit <= 1e-9 || x <= 0.0 {
        return deficit;
    }
    if x < 0.1 {
        return deficit * exp_minus(x / (a + BETA * deficit));
    }
    let per = 1.0 / a;
    let v = BETA * per * deficit;
    match omega(v + ln(v) - x * per) {
        Some(v) => v * a / BETA,
        None => recover_long(deficit, a, x),
    }
}

/// The same off the table, by Newton steps in ln D from the old value, which never overshoot.
fn recover_long(deficit: f64, a: f64, x: f64) -> f64 {
    let mut y = ln(deficit);
    let rhs = a * y + BETA * deficit - x;
    for _ in 0..4 {
        let ey = exp(y);
        y -= (a * y + BETA * ey - rhs) / (a + BETA * ey);
    }
    exp(y)
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
    BETA / q * (d1 - d0) + (a - BETA * p / q) / q * ln(v / u)
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
/// rep, in reps; `quick`: how much sooner than from a long set it is recovered from.
pub fn cost_for(most: f64, c: f64, start: f64, quick: f64) -> f64 {
    if most <= 1.0 {
        return 1.0;
    }
    let mut most = most + start;
    let (x, t) = (RHO * c * quick / TAU, most * c);
    let mut cut = 1.0;
    if t > T_SET {
        // the falling ceiling does part of very long sets
        most = T_SET / c;
        cut = pow(T_SET / t, P_SET);
        if most <= 1.0 {
            return cut.min(1.0);
        }
    }
    let wanted = most - 0.5; // the first half rep gets no recovery
    root_of_cost(most, |k| deep_reps(0.5 * k, 1.0, 0.0, k, x) / wanted) * cut
}

/// Where a falling function of the cost is 1, from 0.1/most to 1. Reps fall about as 1/k, so the next guess is a secant
/// in logarithms, and the middle of the bracket where that leaves it.
fn root_of_cost(most: f64, f: impl Fn(f64) -> f64) -> f64 {
    const STEPS: u32 = 40;
    const CLOSE: f64 = 1e-10;
    let (mut lo, mut hi) = (0.1 / most, 1.0);
    let mut k = (1.0 / most).clamp(lo, hi);
    let mut last: Option<(f64, f64)> = None;
    for _ in 0..STEPS {
        let v = f(k);
        if (v - 1.0).abs() < CLOSE {
            break;
        }
        if v > 1.0 {
            lo = k;
        } else {
            hi = k;
        }
        let lv = ln(v);
        let slope = match last {
            Some((k0, lv0)) if lv.is_finite() && lv0.is_finite() && k0 != k => (lv - lv0) / ln(k / k0),
            _ => -1.0,
        };
        last = Some((k, lv));
        let guess = if lv.is_finite() && slope < -0.01 { k * exp(-lv / slope) } else { f64::NAN };
        let next = if guess > lo && guess < hi { guess } else { 0.5 * (lo + hi) };
        if (next - k).abs() <= 1e-12 * k {
            break;
        }
        k = next;
    }
    k
}
