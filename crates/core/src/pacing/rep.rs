//! One set, rep by rep, in the order of the model: can the next rep be done, its pace, its price. Nothing is allocated
//! here and nothing that stays the same from rep to rep is computed twice.

use super::params::*;
use super::sets::End;
use super::state::Sim;
use super::task::{Pace, Task};
use super::trace::Did;

/// One reserve in use, taken out of the state for the length of a set.
#[derive(Clone, Copy)]
struct Used {
    r: f64,
    c: f64,
    /// Cost of one step.
    k: f64,
    group: usize,
}

/// exp(-x) for small x >= 0; the series is exact to 1e-11 below a quarter, which covers nearly every rep.
#[inline]
fn exp_minus(x: f64) -> f64 {
    if x > 0.25 {
        return (-x).exp();
    }
    let y = x * x;
    // even and odd terms apart, so that they are computed side by side
    let even = 1.0 + y * (1.0 / 2.0 + y * (1.0 / 24.0 + y * (1.0 / 720.0 + y / 40320.0)));
    let odd = 1.0 + y * (1.0 / 6.0 + y * (1.0 / 120.0 + y / 5040.0));
    even - x * odd
}

/// Can the next rep be done?
#[inline]
fn next_rep(used: &[Used]) -> Option<End> {
    for u in used {
        if u.k > 1.25 * u.c {
            return Some(End::Cannot);
        }
        if u.r < 0.999 * u.k && u.r < 0.96 * u.c {
            return Some(End::Forced);
        }
    }
    None
}

/// One rep's cost on one reserve, with the recovery that goes on during it.
#[inline]
fn spend(u: &mut Used, first: f64, x: f64, slow: f64) {
    let k = u.k * first;
    let m = if u.r < R_DEEP { 1.0 + B_DEEP * (1.0 - u.r / R_DEEP) } else { 1.0 };
    let ceiling = 1.0 - (1.0 - u.c) * slow;
    let left = ceiling - (u.c - u.r) * exp_minus(x / (1.0 + BETA * (1.0 - u.r))) - k * m;
    u.c = ceiling - PHI * m * m * k * (ceiling - C_MIN).max(0.0) / (1.0 - C_MIN);
    u.r = left.max(0.0);
}

impl Sim<'_> {
    /// One set of `s` steps, rep by rep: steps done and why it ended.
    #[allow(clippy::too_many_lines)] // one loop in the order of the model; splitting it hides the order
    pub(super) fn set(&mut self, task: &Task, s: f64, scale: f64, unit: f64, line: usize) -> (f64, End) {
        self.touch_all(task);
        let p = self.policy;
        let (from, engine, full) = (self.t, self.engine(), self.athlete.reserve);
        let mut taken = [Used { r: 1.0, c: 1.0, k: 0.0, group: 0 }; 5];
        for (slot, u) in taken.iter_mut().zip(task.reserves()) {
            let of = |a: &[f64; 7]| a.get(u.group).copied().unwrap_or(1.0);
            *slot = Used { r: of(&self.r), c: of(&self.c), k: u.cost * scale, group: u.group };
        }
        let Some(used) = taken.get_mut(..task.used.min(5)) else { return (0.0, End::Done) };
        let kp = used.first().map_or(0.0, |u| u.k);
        let erg = matches!(task.pace, Pace::ErgMetres | Pace::ErgCalories);
        let run = task.pace == Pace::Run;
        let held = task.flow && !p.hot;
        let (base_cycle, base_energy, per_full) = (task.cycle * scale * p.slow, task.energy * scale, 1.0 / full);
        let (mut w, mut t, mut got, mut why) = (self.w, self.t, 0.0, End::Done);
        while got < s {
            if t >= self.next_minute - 1e-9 && !self.in_minute {
                why = End::Minute;
                break;
            }
            if let Some(end) = next_rep(used) {
                why = end;
                break;
            }
            let share = w * per_full;
            let empty = 1.0 - share;
            let empty2 = empty * empty;
            let (rp, cp) = used.first().map_or((1.0, 1.0), |u| (u.r, u.c));
            let economy = 1.0 + B_W * empty2;
            let first = if got == 0.0 { 1.0 + task.start } else { 1.0 };
            let (mut c, mut busy, energy);
            if erg {
                let mut demand = engine * (1.0 + MORT_ERG * share);
                if !p.hot {
                    demand = demand.min((p.q * self.even_demand(engine, w, t)).max(0.5 * engine));
                }
                let shown = task.display * demand / economy / p.slow;
                c = if task.pace == Pace::ErgCalories {
                    3600.0 / shown * unit
                } else {
                    (WATT_CUBE / ((shown - IDLE_KCAL) / WATT_KCAL).max(20.0)).cbrt() * unit
                };
                energy = demand / p.slow * c / economy;
                busy = c;
            } else {
                c = base_cycle * (1.0 + A_R * (1.0 - rp) * (1.0 - rp)) * (1.0 + A_W * empty2);
                busy = c;
                energy = base_energy * first;
                let cost = energy * economy;
                if held {
                    let even = cost / (p.q * self.even_demand(engine, w, t));
                    if even > c {
                        c = even.min(c * task.stretch);
                    }
                }
                let least = cost / (engine * (1.0 + MORT * share));
                if least > c {
                    if !task.flow && got > 0.0 && share < W_LOW && least > c * task.stretch {
                        why = End::Forced;
                        break;
                    }
                    c = least;
                }
                if run || !task.flow {
                    busy = c; // no rest inside the cycle
                }
            }
            if held && rp - kp < p.theta {
                let room = (cp - rp).max(0.02);
                let steady = kp * TAU * (1.0 + BETA * (1.0 - rp)) / room + (1.0 - RHO) * busy;
                if steady > c {
                    c = steady.min(c * task.stretch);
                }
            }
            if t + c > self.deadline + 1e-9 {
                if self.counting {
                    self.part += ((self.deadline - t) / c).max(0.0) * unit;
                }
                t = self.deadline;
                why = End::Deadline;
                break;
            }
            t += c;
            got += 1.0;
            let cost = energy * economy;
            let surplus = cost - engine * c;
            w = if surplus >= 0.0 {
                (w - surplus).max(0.0)
            } else {
                full - (full - w) * exp_minus(-surplus * per_full)
            };
            self.segment_spent += cost;
            let x = (RHO * busy + c - busy) / (TAU * (1.0 + A_TAU * empty));
            let slow = exp_minus(c / TAU_SLOW);
            for u in used.iter_mut() {
                spend(u, first, x, slow);
            }
        }
        let (to, cut) = (t, why == End::Deadline);
        for u in used.iter() {
            if let (Some(r), Some(c), Some(at)) =
                (self.r.get_mut(u.group), self.c.get_mut(u.group), self.touched.get_mut(u.group))
            {
                (*r, *c) = (u.r, u.c);
                if got > 0.0 || cut {
                    *at = to;
                }
            }
        }
        (self.t, self.w) = (t, w);
        self.steps += got as u64;
        if self.counting {
            self.reps += got * unit;
        }
        if got > 0.0 {
            self.set_count += 1;
            self.note(Did::Work, from, task.slot, line, got * unit);
        }
        (got, why)
    }
}
