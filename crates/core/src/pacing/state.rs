//! State of one member in one workout: clock, engine balance, local reserves, deadline, and what effort is spread over.
//! Sets are planned in `sets.rs`, reps done in `rep.rs`, the tree of work is walked in `interpret.rs`.

use super::athlete::Athlete;
use super::math::ln;
use super::params::*;
use super::policy::{Block, Policy, Progress, Swayed};
use super::reserve::{deep_reps, exp_minus, recover};
use super::task::Task;
use super::trace::{Did, Span, Steadiness};
use super::workout::Node;

/// Over what the effort is spread.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Horizon {
    /// Cost left in the segment.
    ForTime,
    /// Seconds left.
    Timed,
    /// Natural pace: cycles on a clock.
    Cycle,
    /// Partners: this share of the engine, because the others' turns are rest.
    Turns(f64),
}

/// State of one member in one workout.
pub(super) struct Sim<'a> {
    pub athlete: &'a Athlete,
    pub tasks: &'a [Task],
    pub policy: &'a Policy,
    pub t: f64,
    pub w: f64,
    pub(super) r: [f64; 7],
    pub(super) c: [f64; 7],
    pub(super) touched: [f64; 7],
    /// How much sooner each group recovers than from long sets, by what tired it.
    pub(super) quick: [f64; 7],
    pub deadline: f64,
    pub in_hand: Option<usize>,
    /// Work on the clock has just interrupted the rest.
    pub interrupted: bool,
    pub horizon: Horizon,
    pub work_after: f64,
    pub rest_after: f64,
    pub(super) segment_left: Option<f64>,
    segment: usize,
    pub segment_spent: f64,
    pub segments: Vec<f64>,
    pub reps: f64,
    pub part: f64,
    pub counting: bool,
    pub rounds: u32,
    /// Pass of the enclosing list, from 0.
    pub pass: u32,
    pub next_minute: f64,
    pub minute_every: f64,
    pub minute_task: &'a [Node],
    pub in_minute: bool,
    pub penalty: Option<(&'a [usize], &'a [Node])>,
    pub(super) in_penalty: bool,
    pub stuck: bool,
    pub least_margin: f64,
    /// Fewest units of a round or window.
    pub lowest: f64,
    pub(super) forced: Progress,
    pub(super) block: Block,
    pub(super) log: bool,
    pub trace: Vec<Span>,
    pub round_ends: Vec<f64>,
    pub steadiness: Steadiness,
    /// s and units when the round began.
    round_from: (f64, f64),
    pub set_count: u32,
    /// Sets that ended before they were meant to.
    pub broken: u32,
    pub steps: u64,
    /// What of the policy had a say.
    pub swayed: Swayed,
}

pub(super) fn reserve(a: &[f64; 7], g: usize) -> f64 {
    a.get(g).copied().unwrap_or(1.0)
}

impl<'a> Sim<'a> {
    pub fn new(
        athlete: &'a Athlete,
        tasks: &'a [Task],
        policy: &'a Policy,
        deadline: f64,
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
            quick: [1.0; 7],
            deadline,
            in_hand: None,
            interrupted: false,
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
            pass: 0,
            next_minute: f64::INFINITY,
            minute_every: 0.0,
            minute_task: &[],
            in_minute: false,
            penalty: None,
            in_penalty: false,
            stuck: false,
            least_margin: f64::INFINITY,
            lowest: f64::INFINITY,
            forced: Progress::default(),
            block: Block::default(),
            log,
            trace: Vec::new(),
            round_ends: Vec::new(),
            steadiness: Steadiness::default(),
            round_from: (0.0, 0.0),
            set_count: 0,
            broken: 0,
            steps: 0,
            swayed: Swayed::default(),
        }
    }

    /// A round, cycle or window is done; always true, so that it can stand in a chain.
    pub fn round_done(&mut self) -> bool {
        self.rounds += 1;
        let now = (self.t, self.reps + self.part);
        self.steadiness.round(now.0 - self.round_from.0, now.1 - self.round_from.1);
        self.round_from = now;
        if self.log {
            self.round_ends.push(self.t);
        }
        true
    }

    fn new_segment(&mut self) {
        self.segments.push(self.segment_spent);
        self.segment += 1;
        self.segment_spent = 0.0;
        self.segment_left = self.policy.segments.get(self.segment).copied();
    }

    /// E(t): the engine fades in long work.
    pub(super) fn engine(&self) -> f64 {
        self.athlete.engine * (1.0 - FADE * ln(1.0 + (self.t / T_FADE).powi(2)))
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
            let ceiling = 1.0 - (1.0 - *c) * exp_minus(dt / TAU_SLOW);
            let tau = TAU / reserve(&self.quick, g) * (1.0 + A_TAU * (1.0 - self.w / self.athlete.reserve));
            *r = ceiling - recover(deficit, 1.0 + BETA * (1.0 - ceiling), dt / tau);
            *c = ceiling;
            *at = self.t;
        }
    }

    pub(super) fn touch_all(&mut self, task: &Task) {
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
            self.w = full - (full - self.w) * exp_minus(self.engine() * dt / full);
            self.t += dt;
        }
        whole
    }

    /// Puts what was done from `from` to now into the trace.
    pub fn note(&mut self, did: Did, from: f64, slot: usize, line: usize, units: f64) {
        if self.log && self.t > from {
            self.trace.push(Span { did, slot, line, round: self.rounds, from, to: self.t, units });
        }
    }

    /// A rest that the clock or the sheet gives.
    pub fn given_rest(&mut self, seconds: f64) -> bool {
        let from = self.t;
        let whole = self.rest(seconds);
        self.note(Did::Rest, from, 0, 0, 0.0);
        whole
    }

    pub fn fixed_rest(&mut self, seconds: f64) -> bool {
        let whole = self.given_rest(seconds);
        self.new_segment();
        self.in_hand = None;
        whole
    }

    /// Even-effort engine demand over the rest of the horizon.
    pub(super) fn even_demand(&self, engine: f64, w: f64, t: f64) -> f64 {
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
            Horizon::Turns(share) => share * engine,
        }
    }

    /// Reps possible now (or from rested) down to `floor` x weight.
    pub(super) fn available(&self, task: &Task, floor: f64, rested: bool) -> f64 {
        let x = RHO * task.cycle * task.quick / TAU;
        let mut n = f64::INFINITY;
        for u in task.reserves() {
            let c = reserve(&self.c, u.group);
            let d0 = if rested { 0.0 } else { c - reserve(&self.r, u.group) };
            n = n.min(deep_reps(d0, c, floor * u.weight, u.cost, x));
        }
        (n - task.start).max(0.0)
    }

    /// Seconds of rest until `s` reps are possible down to `floor`.
    pub(super) fn wait_for(&self, task: &Task, s: f64, floor: f64) -> f64 {
        let s = s + task.start;
        let slowest = TAU * (1.0 + 0.7 * A_TAU * (1.0 - self.w / self.athlete.reserve));
        let x = RHO * task.cycle * task.quick / TAU;
        let mut longest = 0.0f64;
        for u in task.reserves() {
            let tau = slowest / reserve(&self.quick, u.group);
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
                longest = longest.max(tau * (a * ln(d / d0) + BETA * (d - d0)));
            }
        }
        longest
    }
}
