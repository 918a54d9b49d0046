//! One run, rep by rep: rests, sets, and what each takes.

use super::reserve::{deep_reps, recover};
use super::spec::{Spec, resolve};
use lantern_core::pacing::params::*;
use lantern_core::pacing::{Athlete, Node, Policy, Workout};

#[derive(Clone, Copy, PartialEq)]
pub enum End {
    Done,
    Deadline,
    Minute,
    Cannot,
    Forced,
}

/// Over what effort is spread.
#[derive(Clone, Copy, PartialEq)]
pub enum Horizon {
    Natural,
    Segment,
    Timed { after: f64, rests: f64 },
    Turns(f64),
}

/// A run.
pub struct Sim<'a> {
    pub a: &'a Athlete,
    pub specs: Vec<Spec>,
    pub pol: Policy,
    pub t: f64,
    pub w: f64,
    pub r: [f64; 7],
    pub c: [f64; 7],
    pub seen: [f64; 7],
    pub speed: [f64; 7],
    pub deadline: f64,
    pub cur: Option<usize>,
    pub horizon: Horizon,
    pub segments: Vec<f64>,
    pub spent: f64,
    pub left: Option<f64>,
    pub reps: f64,
    pub part: f64,
    pub counting: bool,
    pub rounds: u32,
    pub pass: u32,
    pub next_minute: f64,
    pub minute_every: f64,
    pub minute_task: Vec<Node>,
    pub in_minute: bool,
    pub interrupted: bool,
    pub penalty: Option<(Vec<usize>, Vec<Node>)>,
    pub in_penalty: bool,
    pub sets: u32,
    pub stuck: bool,
    pub margins: Vec<f64>,
}

impl<'a> Sim<'a> {
    pub fn new(w: &Workout, a: &'a Athlete, pol: Policy) -> Sim<'a> {
        let left = pol.segments.first().copied();
        Sim {
            a,
            specs: w.tasks.iter().map(|(row, load)| resolve(a, *row, *load)).collect(),
            pol,
            t: 0.0,
            w: a.reserve,
            r: [1.0; 7],
            c: [1.0; 7],
            seen: [0.0; 7],
            speed: [1.0; 7],
            deadline: f64::INFINITY,
            cur: None,
            horizon: Horizon::Segment,
            segments: Vec::new(),
            spent: 0.0,
            left,
            reps: 0.0,
            part: 0.0,
            counting: true,
            rounds: 0,
            pass: 0,
            next_minute: f64::INFINITY,
            minute_every: 0.0,
            minute_task: Vec::new(),
            in_minute: false,
            interrupted: false,
            penalty: None,
            in_penalty: false,
            sets: 0,
            stuck: false,
            margins: Vec::new(),
        }
    }

    pub fn engine(&self) -> f64 {
        self.a.engine * (1.0 - FADE * (1.0 + (self.t / T_FADE).powi(2)).ln())
    }

    pub fn touch(&mut self, g: usize) {
        let dt = self.t - self.seen[g];
        if dt > 0.0 {
            let d = self.c[g] - self.r[g];
            let c = 1.0 - (1.0 - self.c[g]) * (-dt / TAU_SLOW).exp();
            let tau = TAU / self.speed[g] * (1.0 + A_TAU * (1.0 - self.w / self.a.reserve));
            self.r[g] = c - recover(d, 1.0 + BETA * (1.0 - c), dt / tau);
            self.c[g] = c;
            self.seen[g] = self.t;
        }
    }

    pub fn rest(&mut self, dt: f64) -> bool {
        let (mut dt, mut whole) = (dt, true);
        if self.t + dt >= self.deadline {
            (dt, whole) = ((self.deadline - self.t).max(0.0), false);
        }
        if dt > 0.0 {
            let full = self.a.reserve;
            self.w = full - (full - self.w) * (-self.engine() * dt / full).exp();
            self.t += dt;
        }
        whole
    }

    /// Engine demand of an even effort over what is left.
    pub fn even(&self, e: f64, w: f64, t: f64) -> f64 {
        match self.horizon {
            Horizon::Segment => match self.left {
                None => 1.15 * e,
                Some(all) => {
                    let left = all - self.spent;
                    if left <= 1.02 * w { 20.0 * e } else { e * left / (left - w) }
                }
            },
            Horizon::Timed { after, rests } => {
                e + (w + ETA * e * rests) / (after + self.deadline - t).max(1.0)
            }
            Horizon::Turns(times) => e * times,
            Horizon::Natural => 20.0 * e,
        }
    }

    pub fn available(&self, s: &Spec, floor: f64, rested: bool) -> f64 {
        let x = RHO * s.cycle / (TAU / s.quick);
        let n = s
            .used
            .iter()
            .map(|(g, k, w)| {
                let d0 = if rested { 0.0 } else { self.c[*g] - self.r[*g] };
                deep_reps(d0, self.c[*g], floor * w, *k, x)
            })
            .fold(f64::INFINITY, f64::min);
        (n - s.row.start).max(0.0)
    }

    pub fn wait_for(&self, s: &Spec, reps: f64, floor: f64) -> f64 {
        let n = reps + s.row.start;
        let slow = TAU * (1.0 + 0.7 * A_TAU * (1.0 - self.w / self.a.reserve));
        let x = RHO * s.cycle / (TAU / s.quick);
        let mut t: f64 = 0.0;
        for (g, k, w) in &s.used {
            let (tau, c, mut k) = (slow / self.speed[*g], self.c[*g], *k);
            let a = 1.0 + BETA * (1.0 - c);
            let th = floor * w;
            let limit = c - th;
            if th < R_DEEP {
                let deep = deep_reps(c - R_DEEP, c, th, k, x);
                if n > deep {
                    k = if deep.is_finite() { (k * (n - deep) + (R_DEEP - th)) / n } else { k };
                } else {
                    k *= 1.0 + B_DEEP * (1.0 - th / R_DEEP - 0.5 * n * k / R_DEEP);
                }
            }
            let mut d0 = limit - n * k;
            for _ in 0..2 {
                let mid = (0.5 * (limit + d0)).max(0.0);
                d0 = limit - n * (k - x * mid / (a + BETA * mid)).max(0.0);
            }
            let (d0, d) = (d0.max(0.03 * c), c - self.r[*g]);
            if d > d0 {
                t = t.max(tau * (a * (d / d0).ln() + BETA * (d - d0)));
            }
        }
        t
    }

    /// (size, rest before it); `before`: the size of the set before it in the line.
    pub fn plan(&mut self, s: &Spec, left: f64, first: bool, before: Option<f64>) -> (f64, f64) {
        for (g, ..) in &s.used {
            self.touch(*g);
        }
        let p = self.pol.clone();
        let (mut size, mut wait) = (left, 0.0);
        if p.hot {
            if !first || self.available(s, 0.0, false) < 1.0 {
                let full = self.available(s, 0.0, true).max(1.0);
                wait = self.wait_for(s, left.min(0.35 * full).max(1.0), 0.0);
            }
        } else if s.flow {
            if self.available(s, 0.0, false) < 1.0 {
                wait = self.wait_for(s, left.min(3.0), p.theta);
            }
        } else {
            let now = self.available(s, p.theta, false);
            let largest = before.unwrap_or(left);
            if now < left || largest < left {
                let full = self.available(s, p.theta, true).max(1.0);
                let most = (p.sigma * full).min(full - 0.01).max(1.0);
                size = (left / (left / most - 1e-9).ceil() - 1e-9).ceil();
                if p.lead * now >= size + 1.0 {
                    size = left.min((p.lead * now).floor()).min(largest);
                    let rest = left - size;
                    if rest > 0.0 && rest < size / 2.0 {
                        size = (left / 2.0).ceil();
                    }
                } else {
                    size = size.min(largest);
                    wait = self.wait_for(s, size, if size > full { 0.0 } else { p.theta });
                }
            }
        }
        let held = !p.hot && p.omega > 0.0 && !s.flow && s.kind == 0 && self.horizon == Horizon::Segment;
        if let Some(all) = self.left.filter(|l| held && *l > 0.0) {
            let full = self.a.reserve;
            let need = p.omega * full * (1.0 - self.spent / all).max(0.0);
            if self.w < need {
                wait = wait.max(full / self.engine() * ((full - self.w) / (full - need)).ln());
            }
        }
        (size.max(1.0), wait)
    }

    pub fn minute(&mut self) -> bool {
        while self.t >= self.next_minute - 1e-9 {
            self.next_minute += self.minute_every;
            let counted = std::mem::replace(&mut self.counting, false);
            self.in_minute = true;
            let ok = self.all(&self.minute_task.clone(), None);
            self.in_minute = false;
            self.interrupted = true;
            self.counting = counted;
            if !ok {
                return false;
            }
        }
        true
    }

    /// So many units of a movement, in sets.
    pub fn work(&mut self, slot: usize, n: f64) -> bool {
        let s = self.specs[slot].clone();
        if n <= 0.0 {
            return true;
        }
        if !s.feasible {
            self.stuck = true;
            return false;
        }
        let steps = (n / s.row.chunk - 1e-9).ceil().max(1.0);
        let unit = n / steps;
        let (mut done, mut first, mut why) = (0.0, true, End::Done);
        let mut before = None;
        while done < steps {
            if self.cur != Some(slot) {
                self.cur = Some(slot);
                let back = if std::mem::take(&mut self.interrupted) { BACK } else { 0.0 };
                let change = (TRANS + s.row.setup + back) * self.a.transition * self.pol.slow;
                if self.t > 0.0 && !self.rest(change) {
                    return false;
                }
            }
            let (size, mut wait) = self.plan(&s, steps - done, first, before);
            let size = size.min(steps - done).min(s.skill_set);
            if !first {
                if let Some((on, body)) = self.penalty.clone().filter(|_| !self.in_penalty)
                    && (on.is_empty() || on.contains(&slot))
                {
                    let counted = std::mem::replace(&mut self.counting, false);
                    self.in_penalty = true;
                    let ok = self.all(&body, None);
                    self.in_penalty = false;
                    self.counting = counted;
                    if !ok {
                        return false;
                    }
                    first = true;
                    continue;
                }
                wait = wait.max(s.shortest_break) + if why == End::Forced { STALL } else { 0.0 };
            }
            if wait > 0.0 {
                wait *= self.a.dawdle * self.pol.slow;
                if self.t + wait >= self.next_minute && !self.in_minute {
                    self.rest((self.next_minute - self.t).max(0.0));
                    if !self.minute() {
                        return false;
                    }
                    (why, first) = (End::Done, true);
                    continue;
                }
                if !self.rest(wait) {
                    return false;
                }
            }
            let (got, ended) = self.set(&s, size.floor(), unit / s.row.chunk, unit);
            why = ended;
            done += got;
            before = if got > 0.0 { Some(size.floor().max(1.0)) } else { before };
            first = false;
            match why {
                End::Deadline => return false,
                End::Cannot => {
                    self.stuck = true;
                    return false;
                }
                End::Minute => {
                    if !self.minute() {
                        return false;
                    }
                    first = true;
                }
                _ => {}
            }
        }
        true
    }

    /// One set, rep by rep.
    pub fn set(&mut self, s: &Spec, size: f64, scale: f64, unit: f64) -> (f64, End) {
        for (g, ..) in &s.used {
            self.touch(*g);
        }
        let (p, full, e) = (self.pol.clone(), self.a.reserve, self.engine());
        let (mut got, mut why) = (0.0, End::Done);
        let main = s.row.primary;
        let kp = s.used[0].1 * scale;
        while got < size {
            if self.t >= self.next_minute - 1e-9 && !self.in_minute {
                why = End::Minute;
                break;
            }
            let ends = s.used.iter().find_map(|(g, k, _)| {
                let k = k * scale;
                if k > 1.25 * self.c[*g] {
                    Some(End::Cannot)
                } else {
                    (self.r[*g] < 0.999 * k && self.r[*g] < 0.96 * self.c[*g]).then_some(End::Forced)
                }
            });
            if let Some(end) = ends {
                why = end;
                break;
            }
            let share = self.w / full;
            let empty = (1.0 - share).powi(2);
            let rp = self.r[main];
            let begin = if got == 0.0 { 1.0 + s.row.start } else { 1.0 };
            let (mut c, mut busy, energy);
            if s.kind >= 2 {
                let mut demand = e * (1.0 + MORT_ERG * share);
                if !p.hot {
                    demand = demand.min((p.q * self.even(e, self.w, self.t)).max(0.5 * e));
                }
                let shown = s.display * demand / p.slow;
                c = if s.kind == 3 {
                    3600.0 / shown * unit
                } else {
                    (WATT_CUBE / ((shown - IDLE_KCAL) / WATT_KCAL).max(20.0)).powf(1.0 / 3.0) * unit
                };
                energy = demand / p.slow * c;
                busy = c;
            } else {
                c = s.cycle * scale * (1.0 + A_R * (1.0 - rp).powi(2)) * (1.0 + A_W * empty) * p.slow;
                busy = c;
                energy = s.energy * scale * begin;
                if s.flow && !p.hot {
                    let even = energy / (p.q * self.even(e, self.w, self.t));
                    if even > c {
                        c = even.min(c * s.row.stretch);
                    }
                }
                let least = energy / (e * (1.0 + MORT * share));
                if least > c {
                    if !s.flow && got > 0.0 && share < W_LOW && least > c * s.row.stretch {
                        why = End::Forced;
                        break;
                    }
                    c = least;
                }
                if s.kind == 1 || !s.flow {
                    busy = c;
                }
            }
            if s.flow && !p.hot && rp - kp < p.theta {
                let room = (self.c[main] - rp).max(0.02);
                let steady = kp * TAU / s.quick * (1.0 + BETA * (1.0 - rp)) / room + (1.0 - RHO) * busy;
                if steady > c {
                    c = steady.min(c * s.row.stretch);
                }
            }
            if self.t + c > self.deadline + 1e-9 {
                if self.counting {
                    self.part += ((self.deadline - self.t) / c).max(0.0) * unit;
                }
                self.t = self.deadline;
                why = End::Deadline;
                break;
            }
            self.t += c;
            got += 1.0;
            self.w = if energy >= e * c {
                (self.w - (energy - e * c)).max(0.0)
            } else {
                full - (full - self.w) * (-(e * c - energy) / full).exp()
            };
            self.spent += energy;
            self.tire(s, scale * begin, c, busy, share);
        }
        for (g, k, w) in &s.used {
            self.speed[*g] += (2.0 * k * w.min(1.0) * scale * got).min(1.0) * (s.quick - self.speed[*g]);
            self.seen[*g] = self.t;
        }
        if self.counting {
            self.reps += got * unit;
        }
        self.sets += u32::from(got > 0.0);
        (got, why)
    }

    /// What one rep takes from the reserves it uses.
    pub fn tire(&mut self, s: &Spec, scale: f64, c: f64, busy: f64, share: f64) {
        let tau = TAU / s.quick * (1.0 + A_TAU * (1.0 - share));
        let x = (RHO * busy + c - busy) / tau;
        let slow = (-c / TAU_SLOW).exp();
        for (g, k, _) in &s.used {
            let (k, r) = (k * scale, self.r[*g]);
            let deep = if r < R_DEEP { 1.0 + B_DEEP * (1.0 - r / R_DEEP) } else { 1.0 };
            let ceiling = 1.0 - (1.0 - self.c[*g]) * slow;
            let left = ceiling - (self.c[*g] - r) * (-x / (1.0 + BETA * (1.0 - r))).exp() - k * deep;
            self.c[*g] =
                ceiling - PHI / s.quick * deep * deep * k * (ceiling - C_MIN).max(0.0) / (1.0 - C_MIN);
            self.r[*g] = left.max(0.0);
            self.seen[*g] = self.t;
        }
    }
}
