//! What is called out to somebody who is late at a checkpoint: the first thing after which they still end inside the window, found
//! by running what is left, slowed as they are.

use super::mark::Mark;
use super::pace::VersionPace;
use super::shout::{Shout, candidates, first_rounds, once, steps};
use crate::pacing::{Athlete, Policy, best_pacing, settle, tasks_for};
use crate::sheet::When;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::{Clock, Line, Work, compile_lines};

/// The cut is enough for somebody so much later than the latest time on pace (own): a tenth.
const LATER: f64 = 1.10;
/// Shares of the work at which a clock is looked at (own): no more often than that, or the room hears nothing else.
const LOOKS: [f64; 2] = [1.0 / 3.0, 2.0 / 3.0];

/// What is called out from a checkpoint on.
#[derive(Debug, Clone, PartialEq)]
pub struct Cut {
    /// The one thing.
    pub shout: Shout,
    /// Ends here, s, when the checkpoint is passed a tenth later than the latest time; the cap where that ends it.
    pub ends_s: f64,
}

/// Whether a work is of one part whose steps can be shortened one by one.
pub(super) fn plain(work: &Work) -> bool {
    let clock =
        work.sections.len() == 1 && matches!(work.clock(), Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once);
    let apart = |w: Option<When>| matches!(w, None | Some(When::BuyIn | When::CashOut | When::AfterRound(_)));
    clock && work.lines.iter().all(|l| apart(l.around) && (l.around.is_none() || !once(work)))
}

/// Time of a run of a work, s, by somebody who goes on as they began.
pub(super) fn time(work: &Work, (standard, athlete): (Standard, &Athlete), way: &Policy) -> f64 {
    let (workout, _) = compile_lines(work, standard, athlete, None);
    let tasks = tasks_for(&workout, athlete, &[]);
    let run = settle(&workout, athlete, &tasks, way).1;
    if run.done { run.time } else { f64::INFINITY }
}

/// How the whole of a work is paced.
fn way_of(work: &Work, (standard, athlete): (Standard, &Athlete)) -> Policy {
    let (workout, _) = compile_lines(work, standard, athlete, None);
    best_pacing(&workout, athlete, 1).0
}

/// The steps after which a clock is looked at: at a third and two thirds of the rounds, or of the time of a list.
fn looks(pace: &VersionPace, work: &Work, end: f64) -> Vec<usize> {
    let n = steps(work);
    let at = |share: f64| {
        if !once(work) {
            return (n as f64 * share).round() as usize;
        }
        let off = |k: &usize| {
            pace.checkpoints.get(k - 1).map_or(f64::INFINITY, |c| (c.on_pace / end - share).abs())
        };
        (1..n).min_by(|a, b| off(a).total_cmp(&off(b))).unwrap_or(1)
    };
    let mut out: Vec<usize> = LOOKS.into_iter().map(|s| at(s).clamp(1, n.saturating_sub(1).max(1))).collect();
    out.dedup();
    out
}

/// Adds to at most two checkpoints of work against the clock what is called out to somebody late; `next`: the version below.
pub(super) fn add_cuts(
    pace: &mut VersionPace,
    (work, next): (&Work, Option<&Work>),
    who: (Standard, &Athlete),
    stimulus: &Stimulus,
) {
    let n = steps(work);
    let (true, Some(high)) = (plain(work) && n >= 2, stimulus.high.filter(|_| stimulus.is_time())) else {
        return;
    };
    let Some(end) = pace.checkpoints.last().map(|c| c.on_pace).filter(|e| *e > 0.0) else { return };
    let way = &way_of(work, who);
    let whole = time(work, who, way);
    if pace.checkpoints.len() < n || !whole.is_finite() {
        return;
    }
    let mut capped = false;
    for k in looks(pace, work, end) {
        let shares = pace.time_shares.clone();
        let Some(c) = pace.checkpoints.get_mut(k - 1).filter(|c| c.at != Mark::Finish) else { continue };
        let Some(latest) = c.latest_window else { continue };
        let at = latest * LATER;
        let left = Left { work, next, done: k, who, way, whole };
        let rest = Rest { at, on_pace: c.on_pace, end };
        let first = left.first_inside(rest, &shares, (stimulus.low, high));
        let first = first.map(|(shout, ends_s)| Cut { shout, ends_s });
        // nothing helps that can be called out: the cap ends it, said once
        let at_cap = stimulus.cap_s.filter(|_| !capped).map(|cap| Cut { shout: Shout::AtCap, ends_s: cap });
        capped = capped || first.is_none();
        c.cut = first.or(at_cap);
    }
}

/// What is left of a work after a step.
pub(super) struct Left<'w> {
    /// As it was begun.
    pub work: &'w Work,
    /// The version below.
    pub next: Option<&'w Work>,
    /// Steps that are done.
    pub done: usize,
    /// Who does it.
    pub who: (Standard, &'w Athlete),
    /// How it is paced.
    pub way: &'w Policy,
    /// s of the whole run.
    pub whole: f64,
}

/// How late somebody is, s.
#[derive(Debug, Clone, Copy)]
pub(super) struct Rest {
    /// When the steps were done.
    pub at: f64,
    /// When they are on pace.
    pub on_pace: f64,
    /// When all of it is.
    pub end: f64,
}

impl Rest {
    /// Where somebody ends with a share of the time of what is left, slowed as they are.
    pub fn ends(&self, share: f64) -> f64 {
        self.at + self.at / self.on_pace * (self.end - self.on_pace) * share
    }
}

impl Left<'_> {
    /// The first thing that can be called out after which somebody ends inside a window, with where.
    pub fn first_inside(
        &self,
        rest: Rest,
        shares: &[f64],
        window: (Option<f64>, f64),
    ) -> Option<(Shout, f64)> {
        candidates(self.work, self.done, shares, self.next).into_iter().find_map(|shout| {
            let ends_s = rest.ends(self.share(&shout));
            let inside = ends_s <= window.1 && window.0.is_none_or(|low| ends_s >= low);
            inside.then_some((shout, ends_s))
        })
    }

    /// Time of the first steps of a work, s: nothing that comes after them.
    pub fn before(&self, work: &Work, steps: usize) -> f64 {
        let mut before = first_rounds(work, steps);
        let later = |l: &Line| match l.around {
            Some(When::CashOut) => true,
            Some(When::AfterRound(n)) => n as usize > steps,
            _ => false,
        };
        while let Some(i) = before.lines.iter().position(later) {
            before.remove(i);
        }
        time(&before, self.who, self.way)
    }

    /// The share of the time of what is left that remains with a shout.
    pub fn share(&self, shout: &Shout) -> f64 {
        let all = self.whole - self.before(self.work, self.done);
        let less = shout.apply(self.work, self.done, self.next);
        let now = time(&less, self.who, self.way) - self.before(&less, self.done);
        if all > 0.0 { (now / all).clamp(0.0, 1.0) } else { 0.0 }
    }
}
