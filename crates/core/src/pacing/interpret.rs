//! Walks the tree of work. Every function returns false when a deadline was hit or the member is stuck.

use super::state::{Horizon, Sim};
use super::workout::{Amount, Node, Station};

/// "As much as possible" in units.
const MAX_UNITS: f64 = 1e6;
/// Cycles after which a clock that runs until failure ends.
const MOST_CYCLES: u32 = 60;
/// A cycle of which less is done is as bad as this share.
const LEAST_DONE: f64 = 0.1;
/// A failed cycle counts as less than a whole one.
const MOST_SHARE: f64 = 0.99;

impl<'a> Sim<'a> {
    pub fn run_all(&mut self, nodes: &'a [Node], number: Option<f64>) -> bool {
        nodes.iter().all(|node| self.run(node, number))
    }

    pub fn amount(&mut self, a: &Amount, number: Option<f64>) -> bool {
        let n = a.units(number, self.pass);
        self.work(a.slot, n, a.line)
    }

    fn run(&mut self, node: &'a Node, number: Option<f64>) -> bool {
        match node {
            Node::Task(a) => self.amount(a, number),
            Node::OnPass { pass, body } => *pass != self.pass || self.run_all(body, number),
            Node::Rounds { n, rest, body } => self.passes(*n, |s, i| {
                s.run_all(body, number)
                    && s.round_done()
                    && (*rest <= 0.0 || i + 1 == *n || s.fixed_rest(*rest))
            }),
            Node::Scheme { reps, body } => {
                let n = reps.len() as u32;
                let mut each = reps.iter();
                self.passes(n, |s, _| s.run_all(body, each.next().copied()) && s.round_done())
            }
            Node::Ladder { start, step, n, body } => {
                self.passes(*n, |s, i| s.run_all(body, Some(start + step * f64::from(i))) && s.round_done())
            }
            Node::Rest(t) => self.fixed_rest(*t),
            Node::Amrap { t, buy_in, body } => self.window(*t, 0.0, 0.0, |s| {
                if s.uncounted(buy_in) {
                    s.over_and_over(body, number);
                }
            }),
            Node::Stations { on, off, rounds, items, each } => {
                self.stations([*on, *off], *rounds, items, *each)
            }
            Node::Windows { n, on, off, buy_in, body, max } => {
                self.windows(*n, *on, *off, buy_in, body, max.as_ref())
            }
            Node::Every { t, n, body } => self.every(*t, *n, |_| body, number),
            Node::Alternating { t, n, items } => {
                let k = items.len().max(1) as u32;
                self.every(*t, *n, |i| items.get((i % k) as usize).map_or(&[][..], Vec::as_slice), number)
            }
            Node::UntilFailure { t, start, step, body } => self.until_failure(*t, *start, *step, body),
            Node::Interrupt { every, at_zero, task, body } => {
                self.minute_every = *every;
                self.minute_task = task;
                self.next_minute = self.t + if *at_zero { 0.0 } else { *every };
                let ok = self.run_all(body, number);
                self.next_minute = f64::INFINITY;
                ok
            }
            Node::Penalty { on, task, body } => {
                self.penalty = Some((on, task));
                let ok = self.run_all(body, number);
                self.penalty = None;
                ok
            }
        }
    }

    /// Passes of a list, with their number for work that rises.
    fn passes(&mut self, n: u32, mut each: impl FnMut(&mut Self, u32) -> bool) -> bool {
        let outer = self.pass;
        let ok = (0..n).all(|i| {
            self.pass = i;
            each(self, i)
        });
        self.pass = outer;
        ok
    }

    /// Work before the score begins.
    fn uncounted(&mut self, nodes: &'a [Node]) -> bool {
        let counted = std::mem::replace(&mut self.counting, false);
        let ok = self.run_all(nodes, None);
        self.counting = counted;
        ok
    }

    fn over_and_over(&mut self, body: &'a [Node], number: Option<f64>) {
        self.passes(u32::MAX, |s, _| {
            let begin = s.t;
            // a body without work would never end
            s.run_all(body, number) && s.round_done() && s.t > begin
        });
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
            self.given_rest(left);
            self.t = self.deadline;
        }
        (self.deadline, self.horizon, self.work_after, self.rest_after) = old;
        !cut
    }

    fn counted(&self) -> f64 {
        self.reps + self.part
    }

    fn stations(&mut self, on_off: [f64; 2], rounds: u32, items: &[Station], each: bool) -> bool {
        let [on, off] = on_off;
        let total = items.len() as u32 * rounds;
        let mut before = self.counted();
        for (i, station) in (0..rounds).flat_map(|_| items.iter()).enumerate() {
            let left = f64::from(total - i as u32 - 1);
            let ok = self.window(on, left * on, left * off, |s| {
                if let Some(a) = &station.work {
                    s.work(a.slot, a.n.unwrap_or(MAX_UNITS), a.line);
                }
            });
            let last_of_round = each || (i + 1) % items.len().max(1) == 0;
            if last_of_round {
                self.lowest = self.lowest.min(self.counted() - before);
                before = self.counted();
            }
            if !ok || (left > 0.0 && !self.given_rest(off)) {
                return false;
            }
            if last_of_round {
                self.round_done();
            }
        }
        true
    }

    fn windows(
        &mut self,
        n: u32,
        on: f64,
        off: f64,
        buy_in: &'a [Node],
        body: &'a [Node],
        max: Option<&Amount>,
    ) -> bool {
        for i in 0..n {
            let left = f64::from(n - i - 1);
            let before = self.counted();
            let rounds = self.rounds;
            self.pass = i;
            let ok = self.window(on, left * on, left * off, |s| {
                if s.uncounted(buy_in) {
                    match max {
                        Some(a) => {
                            s.work(a.slot, MAX_UNITS, a.line);
                        }
                        None => s.over_and_over(body, None),
                    }
                }
            });
            self.lowest = self.lowest.min(self.counted() - before);
            // a round of a clock with windows is a window, whatever was done inside
            self.rounds = rounds;
            if !ok || (left > 0.0 && !self.given_rest(off)) {
                return false;
            }
            self.round_done();
        }
        self.pass = 0;
        true
    }

    /// One cycle on the clock: whether it was finished inside its time.
    fn cycle(&mut self, t: f64, body: &'a [Node], number: Option<f64>) -> bool {
        let (begin, before) = (self.t, self.counted());
        let old = (self.deadline, self.horizon);
        self.deadline = old.0.min(begin + t);
        self.horizon = Horizon::Cycle;
        let ok = self.run_all(body, number);
        (self.deadline, self.horizon) = old;
        let margin = if ok {
            t - (self.t - begin)
        } else {
            // not finished: the time that is missing at the pace so far, so that a worse miss is a lower figure
            let done = (self.counted() - before) / Node::units_of(body, number, self.pass).max(1e-9);
            t * (1.0 - 1.0 / done.clamp(LEAST_DONE, 1.0))
        };
        self.least_margin = self.least_margin.min(margin);
        ok
    }

    fn every(&mut self, t: f64, cycles: u32, body: impl Fn(u32) -> &'a [Node], number: Option<f64>) -> bool {
        self.passes(cycles, |s, i| {
            let begin = s.t;
            if s.cycle(t, body(i), number) {
                s.round_done();
            }
            if s.stuck || s.t >= s.deadline {
                return false;
            }
            i + 1 == cycles || s.given_rest((begin + t - s.t).max(0.0))
        })
    }

    fn until_failure(&mut self, t: f64, start: f64, step: f64, body: &'a [Node]) -> bool {
        let first = self.rounds;
        for i in 0..MOST_CYCLES {
            let (begin, before) = (self.t, self.counted());
            self.pass = i;
            let k = start + step * f64::from(i);
            if !self.cycle(t, body, Some(k)) {
                let share = (self.counted() - before) / Node::units_of(body, Some(k), i).max(1e-9);
                self.reps = f64::from(self.rounds - first);
                self.part = share.min(MOST_SHARE);
                self.stuck = false;
                self.pass = 0;
                return true;
            }
            self.round_done();
            if !self.given_rest((begin + t - self.t).max(0.0)) {
                return false;
            }
        }
        self.pass = 0;
        self.reps = f64::from(self.rounds - first);
        self.part = 0.0;
        true
    }
}
