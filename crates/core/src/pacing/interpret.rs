//! Walks the tree of work. Every function returns false when a deadline was hit or the member is stuck.

use super::simulate::{Horizon, Sim};
use super::workout::Node;

/// "As much as possible" in units.
const MAX_UNITS: f64 = 1e6;
/// Cycles after which a rising ladder ends.
const MOST_CYCLES: u32 = 60;

impl<'a> Sim<'a> {
    pub fn run_all(&mut self, nodes: &'a [Node], n: Option<f64>) -> bool {
        nodes.iter().all(|node| self.run(node, n))
    }

    fn run(&mut self, node: &'a Node, n: Option<f64>) -> bool {
        match node {
            Node::Task { slot, n: own, times } => {
                self.work(*slot, own.unwrap_or_else(|| n.unwrap_or(0.0) * times))
            }
            Node::Rounds { n: rounds, rest, body } => {
                for i in 0..*rounds {
                    if !self.run_all(body, n) {
                        return false;
                    }
                    self.round_done();
                    if *rest > 0.0 && i + 1 < *rounds && !self.fixed_rest(*rest) {
                        return false;
                    }
                }
                true
            }
            Node::Scheme { reps, body } => reps.iter().all(|k| {
                let ok = self.run_all(body, Some(*k));
                if ok {
                    self.round_done();
                }
                ok
            }),
            Node::Ladder { start, step, n: most, body } => (0..*most).all(|i| {
                let ok = self.run_all(body, Some(start + step * f64::from(i)));
                if ok {
                    self.round_done();
                }
                ok
            }),
            Node::Rest(t) => self.fixed_rest(*t),
            Node::Amrap { t, body } => self.window(*t, 0.0, 0.0, |s| {
                loop {
                    let begin = s.t;
                    if !s.run_all(body, n) {
                        break;
                    }
                    s.round_done();
                    if s.t <= begin {
                        break; // a body without work would never end
                    }
                }
            }),
            Node::Stations { on, off, rounds, items } => self.stations(*on, *off, *rounds, items),
            Node::Windows { n: windows, on, off, buy_in, max } => {
                self.windows(*windows, *on, *off, buy_in, *max)
            }
            Node::Every { t, n: cycles, body } => self.every(*t, *cycles, body, n),
            Node::EveryRising { t, start, step, per, body } => self.rising(*t, *start, *step, *per, body),
            Node::Interrupt { every, at_zero, task, body } => {
                self.minute_every = *every;
                self.minute_task = task;
                self.next_minute = self.t + if *at_zero { 0.0 } else { *every };
                let ok = self.run_all(body, n);
                self.next_minute = f64::INFINITY;
                ok
            }
            Node::Penalty { on, task, body } => {
                self.penalty = Some((on, task));
                let ok = self.run_all(body, n);
                self.penalty = None;
                ok
            }
        }
    }

    /// Work under a deadline; the clock always ends at the window's end.
    fn window(&mut self, t: f64, work_after: f64, rest_after: f64, work: impl FnOnce(&mut Self)) -> bool {
        let old = (self.deadline, self.horizon, self.work_after, self.rest_after);
        let end = self.t + t;
        self.deadline = old.0.min(end);
        (self.horizon, self.work_after, self.rest_after) = (Horizon::Timed, work_after, rest_after);
        work(self);
        let cut = self.stuck || self.deadline < end;
        if self.t < self.deadline {
            let left = self.deadline - self.t - 1e-9;
            self.rest(left);
            self.t = self.deadline;
        }
        (self.deadline, self.horizon, self.work_after, self.rest_after) = old;
        !cut
    }

    fn stations(&mut self, on: f64, off: f64, rounds: u32, items: &[usize]) -> bool {
        let total = items.len() as u32 * rounds;
        for (i, slot) in (0..rounds).flat_map(|_| items.iter()).enumerate() {
            let left = f64::from(total - i as u32 - 1);
            let ok = self.window(on, left * on, left * off, |s| {
                s.work(*slot, MAX_UNITS);
            });
            if !ok || (left > 0.0 && !self.rest(off)) {
                return false;
            }
            if (i + 1) % items.len().max(1) == 0 {
                self.round_done();
            }
        }
        true
    }

    fn windows(&mut self, n: u32, on: f64, off: f64, buy_in: &'a [Node], max: usize) -> bool {
        for i in 0..n {
            let left = f64::from(n - i - 1);
            let ok = self.window(on, left * on, left * off, |s| {
                let counted = std::mem::replace(&mut s.counting, false);
                let done = s.run_all(buy_in, None);
                s.counting = counted;
                if done {
                    s.work(max, MAX_UNITS);
                }
            });
            if !ok || (left > 0.0 && !self.rest(off)) {
                return false;
            }
            self.round_done();
        }
        true
    }

    /// One cycle on the clock: whether it was finished, and whether the whole workout's deadline came.
    fn cycle(&mut self, t: f64, body: &'a [Node], n: Option<f64>) -> bool {
        let begin = self.t;
        let old = (self.deadline, self.horizon);
        self.deadline = old.0.min(begin + t);
        self.horizon = Horizon::Cycle;
        let ok = self.run_all(body, n);
        (self.deadline, self.horizon) = old;
        self.least_margin = self.least_margin.min(if ok { t - (self.t - begin) } else { 0.0 });
        ok
    }

    fn every(&mut self, t: f64, cycles: u32, body: &'a [Node], n: Option<f64>) -> bool {
        for i in 0..cycles {
            let begin = self.t;
            if self.cycle(t, body, n) {
                self.round_done();
            }
            if self.stuck || self.t >= self.deadline {
                return false;
            }
            if i + 1 < cycles && !self.rest((begin + t - self.t).max(0.0)) {
                return false;
            }
        }
        true
    }

    fn rising(&mut self, t: f64, start: f64, step: f64, per: f64, body: &'a [Node]) -> bool {
        let mut k = start;
        for _ in 0..MOST_CYCLES {
            let (begin, before) = (self.t, self.reps + self.part);
            if !self.cycle(t, body, Some(k)) {
                // score: cycles and the share of the failed one
                let share = (self.reps + self.part - before) / (k * per).max(1e-9);
                self.reps = f64::from(self.rounds);
                self.part = share.min(0.99);
                self.stuck = false;
                return true;
            }
            self.round_done();
            if !self.rest((begin + t - self.t).max(0.0)) {
                return false;
            }
            k += step;
        }
        self.reps = f64::from(self.rounds);
        self.part = 0.0;
        true
    }
}
