//! One run of a workout, rep by rep: state of the member, sets, rests, deadlines. The tree of work is walked in
//! `interpret.rs`; nothing is allocated in the rep loop.

use super::athlete::Athlete;
use super::params::*;
use super::policy::{Policy, Progress, SetPlan};
use super::reserve::{deep_reps, recover};
use super::task::{Pace, Task, Use};
use super::workout::{Node, Workout};

/// Why a set ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum End {
    Done,
    Deadline,
    Minute,
    Cannot,
    Forced,
}

/// Over what the effort is spread.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Horizon {
    /// Cost left in the segment.
    ForTime,
    /// Seconds left.
    Timed,
    /// Natural pace: cycles on a clock.
    Cycle,
}

/// One set in a trace.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SetDone {
    /// Slot of the task.
    pub slot: usize,
    /// s, start.
    pub from: f64,
    /// s, end.
    pub to: f64,
    /// Units done.
    pub units: f64,
}

/// State of one member in one workout.
pub(super) struct Sim<'a> {
    pub athlete: &'a Athlete,
    pub tasks: &'a [Task],
    pub policy: &'a Policy,
    pub t: f64,
    pub w: f64,
    r: [f64; 7],
    c: [f64; 7],
    touched: [f64; 7],
    pub deadline: f64,
    pub in_hand: Option<usize>,
    pub horizon: Horizon,
    pub work_after: f64,
    pub rest_after: f64,
    segment_left: Option<f64>,
    segment: usize,
    pub segment_spent: f64,
    pub segments: Vec<f64>,
    pub reps: f64,
    pub part: f64,
    pub counting: bool,
    pub rounds: u32,
    pub next_minute: f64,
    pub minute_every: f64,
    pub minute_task: &'a [Node],
    pub in_minute: bool,
    pub penalty: Option<(&'a [usize], &'a [Node])>,
    in_penalty: bool,
    pub stuck: bool,
    pub least_margin: f64,
    forced: Progress,
    log: bool,
    pub sets: Vec<SetDone>,
    pub round_ends: Vec<f64>,
    pub set_count: u32,
    pub steps: u64,
}

fn reserve(a: &[f64; 7], g: usize) -> f64 {
    a.get(g).copied().unwrap_or(1.0)
}

impl<'a> Sim<'a> {
    pub fn new(
        workout: &Workout,
        athlete: &'a Athlete,
        tasks: &'a [Task],
        policy: &'a Policy,
        capped: bool,
        log: bool,
    ) -> Sim<'a> {
        Sim {
            athlete,
            tasks,
            policy,
            t: 0.0,
            w: athlete.reserve,
            r: [1.0; 7],
            c: [1.0; 7],
            touched: [0.0; 7],
            deadline: if capped { workout.cap.unwrap_or(GUARD) } else { GUARD },
            in_hand: None,
            horizon: Horizon::ForTime,
            work_after: 0.0,
            rest_after: 0.0,
            segment_left: policy.segments.first().copied(),
            segment: 0,
            segment_spent: 0.0,
            segments: Vec::new(),
            reps: 0.0,
            part: 0.0,
            counting: true,
            rounds: 0,
            next_minute: f64::INFINITY,
            minute_every: 0.0,
            minute_task: &[],
            in_minute: false,
            penalty: None,
            in_penalty: false,
            stuck: false,
            least_margin: f64::INFINITY,
            forced: Progress::default(),
            log,
            sets: Vec::new(),
            round_ends: Vec::new(),
            set_count: 0,
            steps: 0,
        }
    }

    pub fn round_done(&mut self) {
        self.rounds += 1;
        if self.log {
            self.round_ends.push(self.t);
        }
    }

    fn new_segment(&mut self) {
        self.segments.push(self.segment_spent);
        self.segment += 1;
        self.segment_spent = 0.0;
        self.segment_left = self.policy.segments.get(self.segment).copied();
    }

    /// E(t): the engine fades in long work.
    fn engine(&self) -> f64 {
        self.athlete.engine * (1.0 - FADE * (1.0 + (self.t / T_FADE).powi(2)).ln())
    }

    /// Brings an idle reserve up to now.
    fn touch(&mut self, g: usize) {
        let (Some(r), Some(c), Some(at)) = (self.r.get_mut(g), self.c.get_mut(g), self.touched.get_mut(g))
        else {
            return;
        };
        let dt = self.t - *at;
        if dt > 0.0 {
            let deficit = *c - *r;
            let ceiling = 1.0 - (1.0 - *c) * (-dt / TAU_SLOW).exp();
            let tau = TAU * (1.0 + A_TAU * (1.0 - self.w / self.athlete.reserve));
            *r = ceiling - recover(deficit, 1.0 + BETA * (1.0 - ceiling), dt / tau);
            *c = ceiling;
            *at = self.t;
        }
    }

    fn touch_all(&mut self, task: &Task) {
        for u in task.reserves() {
            self.touch(u.group);
        }
    }

    /// Rests; false when the deadline cuts it short.
    pub fn rest(&mut self, seconds: f64) -> bool {
        let mut dt = seconds;
        let mut whole = true;
        if self.t + dt >= self.deadline {
            dt = (self.deadline - self.t).max(0.0);
            whole = false;
        }
        if dt > 0.0 {
            let full = self.athlete.reserve;
            self.w = full - (full - self.w) * (-self.engine() * dt / full).exp();
            self.t += dt;
        }
        whole
    }

    pub fn fixed_rest(&mut self, seconds: f64) -> bool {
        let whole = self.rest(seconds);
        self.new_segment();
        self.in_hand = None;
        whole
    }

    /// Even-effort engine demand over the rest of the horizon.
    fn even_demand(&self, engine: f64, w: f64, t: f64) -> f64 {
        match self.horizon {
            Horizon::ForTime => match self.segment_left {
                None => 1.15 * engine,
                Some(total) => {
                    let left = total - self.segment_spent;
                    if left <= 1.02 * w { 20.0 * engine } else { engine * left / (left - w) }
                }
            },
            Horizon::Timed => {
                let work = (self.work_after + self.deadline - t).max(1.0);
                engine + (w + ETA * engine * self.rest_after) / work
            }
            Horizon::Cycle => 20.0 * engine,
        }
    }

    /// Reps possible now (or from rested) down to `floor` x weight.
    fn available(&self, task: &Task, floor: f64, rested: bool) -> f64 {
        let x = RHO * task.cycle / TAU;
        let mut n = f64::INFINITY;
        for u in task.reserves() {
            let c = reserve(&self.c, u.group);
            let d0 = if rested { 0.0 } else { c - reserve(&self.r, u.group) };
            n = n.min(deep_reps(d0, c, floor * u.weight, u.cost, x));
        }
        (n - task.start).max(0.0)
    }

    /// Seconds of rest until `s` reps are possible down to `floor`.
    fn wait_for(&self, task: &Task, s: f64, floor: f64) -> f64 {
        let s = s + task.start;
        let tau = TAU * (1.0 + 0.7 * A_TAU * (1.0 - self.w / self.athlete.reserve));
        let x = RHO * task.cycle / TAU;
        let mut longest = 0.0f64;
        for u in task.reserves() {
            let (c, r) = (reserve(&self.c, u.group), reserve(&self.r, u.group));
            let a = 1.0 + BETA * (1.0 - c);
            let th = floor * u.weight;
            let limit = c - th;
            let mut k = u.cost;
            if th < R_DEEP {
                let deep = deep_reps(c - R_DEEP, c, th, k, x);
                if s > deep {
                    if deep.is_finite() {
                        k = (k * (s - deep) + (R_DEEP - th)) / s;
                    }
                } else {
                    k *= 1.0 + B_DEEP * (1.0 - th / R_DEEP - 0.5 * s * k / R_DEEP);
                }
            }
            let mut d0 = limit - s * k;
            for _ in 0..2 {
                let mid = (0.5 * (limit + d0)).max(0.0);
                d0 = limit - s * (k - x * mid / (a + BETA * mid)).max(0.0);
            }
            d0 = d0.max(0.03 * c);
            let d = c - r;
            if d > d0 {
                longest = longest.max(tau * (a * (d / d0).ln() + BETA * (d - d0)));
            }
        }
        longest
    }

    /// (set size, rest wanted before it, the rest is exact). `start`: first set of the block; `first`: no break
    /// has to be taken before it; `failed`: reps of the last set that were planned but not done.
    fn plan_set(
        &mut self,
        task: &Task,
        left: f64,
        start: bool,
        first: bool,
        failed: f64,
    ) -> (f64, f64, bool) {
        self.touch_all(task);
        if let Some((slot, plan)) = &self.policy.force
            && *slot == task.slot
        {
            return self.forced_set(task, plan, left, start, failed);
        }
        let p = self.policy;
        let mut wait = 0.0;
        let size;
        if p.hot {
            size = left;
            if !first || self.available(task, 0.0, false) < 1.0 {
                let full = self.available(task, 0.0, true).max(1.0);
                wait = self.wait_for(task, left.min(0.35 * full).max(1.0), 0.0);
            }
        } else if task.flow {
            size = left;
            if self.available(task, 0.0, false) < 1.0 {
                wait = self.wait_for(task, left.min(3.0), p.theta);
            }
        } else if self.available(task, p.theta, false) >= left {
            size = left;
        } else {
            let now = self.available(task, p.theta, false);
            let full = self.available(task, p.theta, true).max(1.0);
            let cap = (p.sigma * full).min(full - 0.01).max(1.0);
            let equal = (left / (left / cap - 1e-9).ceil() - 1e-9).ceil();
            if p.lead * now >= equal + 1.0 {
                size = left.min((p.lead * now).floor());
            } else {
                size = equal;
                wait = self.wait_for(task, equal, if equal > full { 0.0 } else { p.theta });
            }
        }
        (size.max(1.0), wait.max(self.engine_wait(task)), false)
    }

    /// Rest that keeps some of the engine's balance for what is left.
    fn engine_wait(&self, task: &Task) -> f64 {
        let p = self.policy;
        let Some(total) = self.segment_left.filter(|s| *s > 0.0) else { return 0.0 };
        let holds = !p.hot && p.omega > 0.0 && !task.flow && task.pace == Pace::Cycle;
        if !holds || self.horizon != Horizon::ForTime {
            return 0.0;
        }
        let full = self.athlete.reserve;
        let need = p.omega * full * (1.0 - self.segment_spent / total).max(0.0);
        if self.w < need { full / self.engine() * ((full - self.w) / (full - need)).ln() } else { 0.0 }
    }

    fn forced_set(
        &mut self,
        task: &Task,
        plan: &SetPlan,
        left: f64,
        start: bool,
        failed: f64,
    ) -> (f64, f64, bool) {
        if start {
            self.forced = Progress { i: 0, owed: 0.0, t0: self.t };
        }
        let i = self.forced.i;
        self.forced.i += 1;
        match plan {
            SetPlan::Singles => return (1.0, self.wait_for(task, 1.0, 0.15), false),
            SetPlan::ToFailureThenSingles if i > 0 => return (1.0, self.wait_for(task, 1.0, 0.05), false),
            SetPlan::ToFailureThenSingles => {
                let ready = self.available(task, 0.0, false) >= 1.0;
                return (left, if ready { 0.0 } else { self.wait_for(task, 1.0, 0.0) }, false);
            }
            _ => {}
        }
        // a set that broke early is finished in pieces before the plan goes on
        if failed > 0.0 || self.forced.owed > 0.0 {
            self.forced.i -= 1;
            let owed = if failed > 0.0 { failed.min(left) } else { self.forced.owed };
            let n = owed.min((0.35 * self.available(task, 0.0, true)).floor()).max(1.0);
            self.forced.owed = owed - n;
            return (n, self.wait_for(task, n, 0.0), false);
        }
        match plan {
            SetPlan::Clock { size, every } => {
                let begin = self.forced.t0 + i as f64 * every;
                (*size, (begin - self.t).max(0.0), true)
            }
            SetPlan::Sizes { sizes, theta } => {
                let s = sizes.get(i).or(sizes.last()).copied().unwrap_or(1.0);
                let full = self.available(task, 0.0, true).max(1.0);
                let floor = if s <= self.available(task, *theta, true) { *theta } else { 0.0 };
                let wait = self.wait_for(task, s.min(full), floor);
                (s, if i == 0 { wait.min(4.0) } else { wait }, false)
            }
            _ => (1.0, 0.0, false),
        }
    }

    /// Runs what is due as the minute turns; false at the deadline.
    fn minute(&mut self) -> bool {
        while self.t >= self.next_minute - 1e-9 {
            self.next_minute += self.minute_every;
            let counted = std::mem::replace(&mut self.counting, false);
            self.in_minute = true;
            let task = self.minute_task;
            let ok = self.run_all(task, None);
            self.in_minute = false;
            self.counting = counted;
            if !ok {
                return false;
            }
        }
        true
    }

    /// `n` units of a task, in sets; false when the deadline came or the member is stuck.
    pub fn work(&mut self, slot: usize, n: f64) -> bool {
        let Some(task) = self.tasks.get(slot) else { return true };
        if n <= 0.0 {
            return true;
        }
        if !task.feasible {
            self.stuck = true;
            return false;
        }
        let chunks = (n / task.chunk - 1e-9).ceil().max(1.0);
        let unit = n / chunks;
        let scale = unit / task.chunk;
        let (mut done, mut failed) = (0.0, 0.0);
        let (mut first, mut start, mut why) = (true, true, End::Done);
        while done < chunks {
            if self.in_hand != Some(slot) {
                self.in_hand = Some(slot);
                let change = (TRANS + task.setup) * self.athlete.transition * self.policy.slow;
                if self.t > 0.0 && !self.rest(change) {
                    return false;
                }
            }
            let (size, mut wait, exact) = self.plan_set(task, chunks - done, start, first, failed);
            let size = size.min(chunks - done).min(task.skill_set);
            start = false;
            if !first {
                if let Some(paid) = self.pay_penalty(slot) {
                    if !paid {
                        return false;
                    }
                    first = true; // the way there and back is the break
                    continue;
                }
                wait = wait.max(task.shortest_break) + if why == End::Forced { STALL } else { 0.0 };
            }
            if wait > 0.0 {
                if !exact {
                    wait *= self.athlete.dawdle * self.policy.slow;
                }
                if self.t + wait >= self.next_minute && !self.in_minute {
                    let until = (self.next_minute - self.t).max(0.0);
                    self.rest(until);
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
            let whole = size.floor();
            let (got, ended) = self.set(task, whole, scale, unit);
            why = ended;
            done += got;
            failed = if why == End::Forced { whole - got } else { 0.0 };
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
                End::Done | End::Forced => {}
            }
        }
        true
    }

    /// Pays the price of a break where one is set: `None` when none is due, else whether it was finished.
    fn pay_penalty(&mut self, slot: usize) -> Option<bool> {
        let (on, task) = self.penalty?;
        if self.in_penalty || !(on.is_empty() || on.contains(&slot)) {
            return None;
        }
        let counted = std::mem::replace(&mut self.counting, false);
        self.in_penalty = true;
        let ok = self.run_all(task, None);
        self.in_penalty = false;
        self.counting = counted;
        Some(ok)
    }

    /// Can the next rep be done?
    fn next_rep(&self, uses: &[Use], scale: f64) -> Option<End> {
        for u in uses {
            let k = u.cost * scale;
            let (c, r) = (reserve(&self.c, u.group), reserve(&self.r, u.group));
            if k > 1.25 * c {
                return Some(End::Cannot);
            }
            if r < 0.999 * k && r < 0.96 * c {
                return Some(End::Forced);
            }
        }
        None
    }

    /// One set of `s` steps, rep by rep: steps done and why it ended.
    #[allow(clippy::too_many_lines)] // one loop in the order of the model's section 7; splitting it hides the order
    fn set(&mut self, task: &Task, s: f64, scale: f64, unit: f64) -> (f64, End) {
        self.touch_all(task);
        let p = self.policy;
        let (from, engine, full) = (self.t, self.engine(), self.athlete.reserve);
        let uses = task.reserves();
        let (primary, kp) = uses.first().map_or((0, 0.0), |u| (u.group, u.cost * scale));
        let erg = matches!(task.pace, Pace::ErgMetres | Pace::ErgCalories);
        let (mut w, mut t, mut got, mut why) = (self.w, self.t, 0.0, End::Done);
        while got < s {
            if t >= self.next_minute - 1e-9 && !self.in_minute {
                why = End::Minute;
                break;
            }
            if let Some(end) = self.next_rep(uses, scale) {
                why = end;
                break;
            }
            let share = w / full;
            let empty2 = (1.0 - share) * (1.0 - share);
            let rp = reserve(&self.r, primary);
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
                c = task.cycle * scale * (1.0 + A_R * (1.0 - rp).powi(2)) * (1.0 + A_W * empty2) * p.slow;
                busy = c;
                energy = task.energy * scale * first;
                let cost = energy * economy;
                if task.flow && !p.hot {
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
                if task.pace == Pace::Run || !task.flow {
                    busy = c; // no rest inside the cycle
                }
            }
            if task.flow && !p.hot && rp - kp < p.theta {
                let room = (reserve(&self.c, primary) - rp).max(0.02);
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
            let demand = cost / c;
            w = if demand >= engine {
                (w - (demand - engine) * c).max(0.0)
            } else {
                full - (full - w) * (-(engine - demand) * c / full).exp()
            };
            self.segment_spent += cost;
            let tau = TAU * (1.0 + A_TAU * (1.0 - share));
            let (x, slow) = ((RHO * busy + c - busy) / tau, (-c / TAU_SLOW).exp());
            for u in uses {
                self.spend(u.group, u.cost * scale * first, x, slow, t);
            }
        }
        if why == End::Deadline {
            for u in uses {
                if let Some(at) = self.touched.get_mut(u.group) {
                    *at = t;
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
            if self.log {
                self.sets.push(SetDone { slot: task.slot, from, to: t, units: got * unit });
            }
        }
        (got, why)
    }

    /// One rep's cost on one reserve, with the recovery that goes on during it.
    #[inline]
    fn spend(&mut self, g: usize, k: f64, x: f64, slow: f64, t: f64) {
        let (Some(r), Some(c), Some(at)) = (self.r.get_mut(g), self.c.get_mut(g), self.touched.get_mut(g))
        else {
            return;
        };
        let m = if *r < R_DEEP { 1.0 + B_DEEP * (1.0 - *r / R_DEEP) } else { 1.0 };
        let ceiling = 1.0 - (1.0 - *c) * slow;
        let left = ceiling - (*c - *r) * (-x / (1.0 + BETA * (1.0 - *r))).exp() - k * m;
        *c = ceiling - PHI * m * m * k * (ceiling - C_MIN).max(0.0) / (1.0 - C_MIN);
        *r = left.max(0.0);
        *at = t;
    }
}
