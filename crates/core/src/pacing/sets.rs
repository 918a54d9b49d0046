//! Sets of one movement: how large, with how much rest before, and what comes between them.

use super::math::ln;
use super::params::*;
use super::policy::{Block, Progress, SetPlan};
use super::state::{Horizon, Sim};
use super::task::{Pace, Task};
use super::trace::{Did, Steadiness};

/// Why a set ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum End {
    Done,
    Deadline,
    Minute,
    Cannot,
    Forced,
}

/// The share of a line that must be its first set after the first round (own).
const LATER_FIRST_SHARE: f64 = 1.0 / 3.0;

/// A set that would leave less than half of itself is one of two even ones.
fn even_tail(left: f64, size: f64) -> f64 {
    let rest = left - size;
    if rest > 0.0 && rest < size / 2.0 { (left / 2.0).ceil() } else { size }
}

impl Sim<'_> {
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
        if let Some(force) = &self.policy.force
            && force.slot.map_or(!task.flow, |s| s == task.slot)
        {
            return self.forced_set(task, &force.plan, left, start, failed);
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
        } else {
            let now = self.available(task, p.theta, false);
            let most = self.not_larger(left);
            if now >= left && most >= left {
                return (left.max(1.0), self.engine_wait(task), false);
            }
            self.swayed.sizes = true;
            let full = self.available(task, p.theta, true).max(1.0);
            let cap = (p.sigma * full).min(full - 0.01).max(1.0);
            let equal = (left / (left / cap - 1e-9).ceil() - 1e-9).ceil();
            let asked = self.asked_size(task, left);
            if p.lead * now >= equal.max(asked) + 1.0 {
                size = even_tail(left, left.min((p.lead * now).floor()).min(most)).max(asked);
            } else {
                size = equal.min(most).max(asked);
                wait = self.wait_for(task, size, if size > full { 0.0 } else { p.theta });
            }
        }
        let balance = self.engine_wait(task);
        (size.max(1.0), wait.max(balance), false)
    }

    /// No set is larger than the one before it in its line.
    fn not_larger(&self, left: f64) -> f64 {
        if self.block.sets == 0 { left } else { self.block.last.max(1.0) }
    }

    /// The size of the next set that keeps what the sheet asks; 0 where it asks nothing.
    fn asked_size(&self, task: &Task, left: f64) -> f64 {
        let (asked, block) = (task.asked, self.block);
        let by_sets = asked.most_sets.map_or(0.0, |n| {
            let sets_left = f64::from(n.saturating_sub(block.sets).max(1));
            (left / sets_left - 1e-9).ceil()
        });
        let share = asked.first_share.filter(|_| block.sets == 0);
        let by_share = share.map_or(0.0, |s| (self.first_share(s) * block.whole - 1e-9).ceil());
        by_sets.max(by_share)
    }

    /// The share of a line that its first set must have: less of it after the first round.
    fn first_share(&self, share: f64) -> f64 {
        if self.rounds == 0 { share } else { share.min(LATER_FIRST_SHARE) }
    }

    /// A line is done: what of its sets was not as the sheet asks.
    fn line_done(&mut self, task: &Task) {
        let (asked, block) = (task.asked, self.block);
        let sets = asked.most_sets.map_or(0, |n| block.sets.saturating_sub(n));
        let short = asked.first_share.is_some_and(|s| block.first + 0.5 < self.first_share(s) * block.whole);
        self.steadiness.over = self.steadiness.over.max(sets).max(u32::from(short));
    }

    /// Rest that keeps some of the engine's balance for what is left.
    fn engine_wait(&mut self, task: &Task) -> f64 {
        let p = self.policy;
        let Some(total) = self.segment_left.filter(|s| *s > 0.0) else { return 0.0 };
        let could = !p.hot && !task.flow && task.pace == Pace::Cycle && self.horizon == Horizon::ForTime;
        self.swayed.balance |= could;
        if !could || p.omega <= 0.0 {
            return 0.0;
        }
        let full = self.athlete.reserve;
        let need = p.omega * full * (1.0 - self.segment_spent / total).max(0.0);
        if self.w < need { full / self.engine() * ln((full - self.w) / (full - need)) } else { 0.0 }
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
            self.forced = Progress { i: 0, owed: 0.0, whole: left, t0: self.t };
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
        let sized = match plan {
            SetPlan::Sizes { sizes, theta } => {
                Some((sizes.get(i).or(sizes.last()).copied().unwrap_or(1.0), *theta))
            }
            SetPlan::Shares { shares, theta } => {
                let share = shares.get(i).or(shares.last()).copied().unwrap_or(1.0);
                Some(((share * self.forced.whole - 1e-9).ceil().max(1.0), *theta))
            }
            _ => None,
        };
        match plan {
            SetPlan::Clock { size, every } => {
                let begin = self.forced.t0 + i as f64 * every;
                (*size, (begin - self.t).max(0.0), true)
            }
            _ => {
                let Some((s, theta)) = sized else { return (1.0, 0.0, false) };
                let full = self.available(task, 0.0, true).max(1.0);
                let floor = if s <= self.available(task, theta, true) { theta } else { 0.0 };
                let wait = self.wait_for(task, s.min(full), floor);
                (s, if i == 0 { wait.min(4.0) } else { wait }, false)
            }
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
            self.interrupted = true;
            self.counting = counted;
            if !ok {
                return false;
            }
        }
        true
    }

    /// `n` units of a task, in sets; false when the deadline came or the member is stuck. `line`: what it stands for.
    #[expect(
        clippy::too_many_lines,
        reason = "stood before the rule; split it when this room is put in order"
    )]
    pub fn work(&mut self, slot: usize, n: f64, line: usize) -> bool {
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
        let outer = std::mem::replace(&mut self.block, Block { whole: chunks, ..Block::default() });
        while done < chunks {
            if self.in_hand != Some(slot) {
                self.in_hand = Some(slot);
                let back = if std::mem::take(&mut self.interrupted) { BACK } else { 0.0 };
                let change = (TRANS + task.setup + back) * self.athlete.transition * self.policy.slow;
                if self.t > 0.0 {
                    let from = self.t;
                    let whole = self.rest(change);
                    self.note(Did::Change, from, slot, line, 0.0);
                    if !whole {
                        return false;
                    }
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
                    let (from, until) = (self.t, (self.next_minute - self.t).max(0.0));
                    let whole = self.rest(until);
                    self.note(Did::Break, from, slot, line, 0.0);
                    if !whole || !self.minute() {
                        return false;
                    }
                    (why, first) = (End::Done, true);
                    continue;
                }
                let from = self.t;
                let whole = self.rest(wait);
                self.steadiness.stood += self.t - from;
                self.note(Did::Break, from, slot, line, 0.0);
                if !whole {
                    return false;
                }
            }
            let whole = size.floor();
            let (got, ended) = self.set(task, whole, scale, unit, line);
            why = ended;
            done += got;
            if got > 0.0 {
                self.block.sets += 1;
                self.block.last = whole;
                self.block.first = if self.block.sets == 1 { got } else { self.block.first };
            }
            failed = if why == End::Forced { whole - got } else { 0.0 };
            self.broken += u32::from(why == End::Forced);
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
        self.line_done(task);
        if n <= Steadiness::FEW_REPS && !task.flow {
            self.steadiness.sets = self.steadiness.sets.max(self.block.sets);
        }
        self.block = outer;
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
}
