//! One set, rep by rep, in the order of the model: can the next rep be done, its pace, its price. Nothing is allocated
//! here and nothing that stays the same from rep to rep is computed twice.

use super::math::cbrt;
use super::params::*;
use super::reserve::{SERIES_END, exp_minus, exp_minus_series};
use super::sets::End;
use super::state::Sim;
use super::task::{Pace, Task};
use super::trace::Did;

/// The reserves in use, taken out of the state for the length of a set; the first is the primary one.
#[derive(Clone, Copy)]
struct Used<const N: usize> {
    r: [f64; N],
    c: [f64; N],
    /// Cost of one step.
    k: [f64; N],
}

impl<const N: usize> Used<N> {
    /// Can the next rep be done?
    #[inline]
    fn next_rep(&self) -> Option<End> {
        // nearly always it can: one test over all, without branches, before the exact one
        let mut doubtful = false;
        for ((r, c), k) in self.r.iter().zip(&self.c).zip(&self.k) {
            doubtful |= (0.8 * k > *c) | (*r < *k);
        }
        if doubtful { self.which_ends() } else { None }
    }

    fn which_ends(&self) -> Option<End> {
        for ((r, c), k) in self.r.iter().zip(&self.c).zip(&self.k) {
            if *k > 1.25 * c {
                return Some(End::Cannot);
            }
            if *r < 0.999 * k && *r < 0.96 * c {
                return Some(End::Forced);
            }
        }
        None
    }

    /// One rep's cost, with the recovery that goes on during it: `rest` s of rest at the time constant `tau`, s. `tiring`: how
    /// much of a long set's fall of the ceiling it brings.
    #[inline]
    fn spend(&mut self, first: f64, rest: f64, tau: f64, slow: f64, tiring: f64) {
        // the exponent of every reserve is at most rest / tau: one branch for all of them
        if rest < SERIES_END * tau {
            self.lower(first, slow, tiring, |r| exp_minus_series(rest / (tau * (1.0 + BETA - BETA * r))));
        } else {
            self.lower(first, slow, tiring, |r| exp_minus(rest / (tau * (1.0 + BETA - BETA * r))));
        }
    }

    #[inline]
    fn lower(&mut self, first: f64, slow: f64, tiring: f64, kept: impl Fn(f64) -> f64) {
        const LOWERED: f64 = PHI / (1.0 - C_MIN);
        const STEEP: f64 = B_DEEP / R_DEEP;
        for ((r, c), k) in self.r.iter_mut().zip(&mut self.c).zip(&self.k) {
            let k = k * first;
            // 1 above the deep zone, 1 + B_DEEP at its bottom
            let m = (1.0 + B_DEEP - STEEP * *r).max(1.0);
            let cost = k * m;
            let ceiling = 1.0 - (1.0 - *c) * slow;
            let left = ceiling - (*c - *r) * kept(*r) - cost;
            *c = ceiling - LOWERED * tiring * m * cost * (ceiling - C_MIN).max(0.0);
            *r = left.max(0.0);
        }
    }
}

impl Sim<'_> {
    /// One set of `s` steps: steps done and why it ended. The state is up to date (`plan_set`) but for a rest since.
    pub(super) fn set(&mut self, task: &Task, s: f64, scale: f64, unit: f64, line: usize) -> (f64, End) {
        self.touch_all(task);
        // the number of reserves is known to the compiler, so that the loop over them has no branches
        match task.used {
            0 | 1 => self.reps::<1>(task, s, scale, unit, line),
            2 => self.reps::<2>(task, s, scale, unit, line),
            3 => self.reps::<3>(task, s, scale, unit, line),
            4 => self.reps::<4>(task, s, scale, unit, line),
            _ => self.reps::<5>(task, s, scale, unit, line),
        }
    }

    /// After a set the groups that it used recover as it is recovered from, by the share of their reserve that it took.
    fn tire(&mut self, task: &Task, reps: f64) {
        for u in task.reserves() {
            if let Some(quick) = self.quick.get_mut(u.group) {
                *quick += (2.0 * u.cost * u.weight.min(1.0) * reps).min(1.0) * (task.quick - *quick);
            }
        }
    }

    /// The loop, rep by rep.
    #[allow(clippy::too_many_lines)] // one loop in the order of the model; splitting it hides the order
    fn reps<const N: usize>(
        &mut self,
        task: &Task,
        s: f64,
        scale: f64,
        unit: f64,
        line: usize,
    ) -> (f64, End) {
        let p = self.policy;
        let (from, engine, full) = (self.t, self.engine(), self.athlete.reserve);
        let mut used = Used::<N> { r: [1.0; N], c: [1.0; N], k: [0.0; N] };
        for (i, u) in task.reserves().iter().take(N).enumerate() {
            let of = |a: &[f64; 7]| a.get(u.group).copied().unwrap_or(1.0);
            if let (Some(r), Some(c), Some(k)) = (used.r.get_mut(i), used.c.get_mut(i), used.k.get_mut(i)) {
                (*r, *c, *k) = (of(&self.r), of(&self.c), u.cost * scale);
            }
        }
        let kp = used.k.first().copied().unwrap_or(0.0);
        let erg = matches!(task.pace, Pace::ErgMetres | Pace::ErgCalories);
        let run = task.pace == Pace::Run;
        let held = task.flow && !p.hot;
        self.swayed.demand |= held || (erg && !p.hot);
        let (base_cycle, base_energy, per_full) =
            (task.cycle * scale * p.slow, task.energy * scale, 1.0 / full);
        let (mut w, mut t, mut got, mut why) = (self.w, self.t, 0.0, End::Done);
        while got < s {
            if t >= self.next_minute - 1e-9 && !self.in_minute {
                why = End::Minute;
                break;
            }
            if let Some(end) = used.next_rep() {
                why = end;
                break;
            }
            let share = w * per_full;
            let empty = 1.0 - share;
            let empty2 = empty * empty;
            let (rp, cp) = used.r.first().zip(used.c.first()).map_or((1.0, 1.0), |(r, c)| (*r, *c));
            let first = if got == 0.0 { 1.0 + task.start } else { 1.0 };
            let (mut c, mut busy, energy);
            if erg {
                let mut demand = engine * (1.0 + MORT_ERG * share);
                if !p.hot {
                    demand = demand.min((p.q * self.even_demand(engine, w, t)).max(0.5 * engine));
                }
                let shown = task.display * demand / p.slow;
                c = if task.pace == Pace::ErgCalories {
                    3600.0 / shown * unit
                } else {
                    cbrt(WATT_CUBE / ((shown - IDLE_KCAL) / WATT_KCAL).max(20.0)) * unit
                };
                energy = demand / p.slow * c;
                busy = c;
            } else {
                c = base_cycle * (1.0 + A_R * (1.0 - rp) * (1.0 - rp)) * (1.0 + A_W * empty2);
                busy = c;
                energy = base_energy * first;
                if held {
                    let even = energy / (p.q * self.even_demand(engine, w, t));
                    if even > c {
                        c = even.min(c * task.stretch);
                    }
                }
                // the division waits until it is needed: the next rep hangs on this one's pace
                let most = engine * (1.0 + MORT * share);
                if energy > c * most {
                    let least = energy / most;
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
                let steady = kp * TAU / task.quick * (1.0 + BETA * (1.0 - rp)) / room + (1.0 - RHO) * busy;
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
            let surplus = energy - engine * c;
            w = if surplus >= 0.0 {
                (w - surplus).max(0.0)
            } else {
                full - (full - w) * exp_minus(-surplus * per_full)
            };
            self.segment_spent += energy;
            let slow = exp_minus(c / TAU_SLOW);
            let tau = TAU / task.quick * (1.0 + A_TAU * empty);
            used.spend(first, RHO * busy + c - busy, tau, slow, 1.0 / task.quick);
        }
        self.tire(task, scale * got);
        let (to, cut) = (t, why == End::Deadline);
        for ((u, r), c) in task.reserves().iter().zip(&used.r).zip(&used.c) {
            if let (Some(slot_r), Some(slot_c), Some(at)) =
                (self.r.get_mut(u.group), self.c.get_mut(u.group), self.touched.get_mut(u.group))
            {
                (*slot_r, *slot_c) = (*r, *c);
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
        }
        // a rep that the clock cuts off is work too
        self.note(Did::Work, from, task.slot, line, got * unit);
        (got, why)
    }
}
