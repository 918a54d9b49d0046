//! How a workout is walked: rounds, clocks, interruptions.

use super::sim::{Horizon, Sim};
use lantern_core::pacing::{Amount, Node};

impl Sim<'_> {
    pub fn all(&mut self, nodes: &[Node], number: Option<f64>) -> bool {
        nodes.iter().all(|n| self.node(n, number))
    }

    pub fn passes(&mut self, n: u32, mut each: impl FnMut(&mut Self, u32) -> bool) -> bool {
        let outer = self.pass;
        let ok = (0..n).all(|i| {
            self.pass = i;
            each(self, i)
        });
        self.pass = outer;
        ok
    }

    pub fn node(&mut self, node: &Node, number: Option<f64>) -> bool {
        match node {
            Node::Task(a) => self.work(a.slot, a.units(number, self.pass)),
            Node::OnPass { pass, body } => self.pass != *pass || self.all(body, number),
            Node::Rounds { n, rest, body } => self.passes(*n, |s, i| {
                s.all(body, number) && {
                    s.rounds += 1;
                    *rest <= 0.0 || i + 1 == *n || s.fixed_rest(*rest)
                }
            }),
            Node::Scheme { reps, body } => {
                self.passes(reps.len() as u32, |s, i| s.all(body, Some(reps[i as usize])))
            }
            Node::Rest(t) => self.fixed_rest(*t),
            Node::Amrap { t, body, .. } => self.timed(*t, 0.0, 0.0, |s| {
                s.passes(u32::MAX, |s, _| s.all(body, number));
            }),
            Node::Stations { on, off, rounds, items, .. } => {
                let n = items.len() as u32 * rounds;
                (0..n).all(|i| {
                    let left = f64::from(n - i - 1);
                    let work = items[i as usize % items.len()].work;
                    self.timed(*on, left * on, left * off, |s| {
                        if let Some(Amount { slot, .. }) = work {
                            s.work(slot, 1e6);
                        }
                    }) && (left == 0.0 || self.rest(*off))
                })
            }
            Node::Every { t, n, body } => (0..*n).all(|i| {
                let next = self.t + t;
                self.cycle(*t, body);
                !self.stuck && self.t < self.deadline && (i + 1 == *n || self.rest((next - self.t).max(0.0)))
            }),
            Node::Interrupt { every, at_zero, task, body } => {
                self.minute_every = *every;
                self.minute_task = task.clone();
                self.next_minute = self.t + if *at_zero { 0.0 } else { *every };
                let ok = self.all(body, number);
                self.next_minute = f64::INFINITY;
                ok
            }
            Node::Penalty { on, task, body } => {
                self.penalty = Some((on.clone(), task.clone()));
                let ok = self.all(body, number);
                self.penalty = None;
                ok
            }
            other => panic!("not written down plainly: {other:?}"),
        }
    }

    /// One cycle of a clock; the rest that it leaves, none that is counted where it was not finished.
    pub fn cycle(&mut self, t: f64, body: &[Node]) {
        let (begin, deadline, horizon) = (self.t, self.deadline, self.horizon);
        (self.deadline, self.horizon) = (deadline.min(begin + t), Horizon::Natural);
        let ok = self.all(body, None);
        (self.deadline, self.horizon) = (deadline, horizon);
        self.margins.push(if ok { t - (self.t - begin) } else { f64::NEG_INFINITY });
    }

    pub fn fixed_rest(&mut self, t: f64) -> bool {
        let ok = self.rest(t);
        self.segments.push(std::mem::take(&mut self.spent));
        self.left = self.pol.segments.get(self.segments.len()).copied();
        self.cur = None;
        ok
    }

    pub fn timed(&mut self, t: f64, after: f64, rests: f64, f: impl FnOnce(&mut Self)) -> bool {
        let (deadline, horizon) = (self.deadline, self.horizon);
        let end = self.t + t;
        self.deadline = deadline.min(end);
        self.horizon = Horizon::Timed { after, rests };
        f(self);
        let cut = self.stuck || self.deadline < end;
        if self.t < self.deadline {
            self.rest(self.deadline - self.t - 1e-9);
            self.t = self.deadline;
        }
        (self.deadline, self.horizon) = (deadline, horizon);
        !cut
    }
}
