//! What is called out to somebody who is late at a checkpoint: the first thing after which they still end inside the window, found
//! by running what is left, slowed as they are.

use super::mark::Mark;
use super::pace::VersionPace;
use super::shout::{Shout, candidates, first_rounds, once, steps};
use crate::pacing::{Policy, best_pacing, settle, tasks_for};
use crate::roster::Ability;
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
fn plain(work: &Work) -> bool {
    let clock =
        work.sections.len() == 1 && matches!(work.clock(), Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once);
    let apart = |w: Option<When>| matches!(w, None | Some(When::BuyIn | When::CashOut | When::AfterRound(_)));
    clock && work.lines.iter().all(|l| apart(l.around) && (l.around.is_none() || !once(work)))
}

/// Time of a run of a work, s, by somebody who goes on as they began.
fn time(work: &Work, (standard, ability): (Standard, &Ability), way: &Policy) -> f64 {
    let (workout, _) = compile_lines(work, standard, &ability.athlete, None);
    let tasks = tasks_for(&workout, &ability.athlete, &[]);
    let run = settle(&workout, &ability.athlete, &tasks, way).1;
    if run.done { run.time } else { f64::INFINITY }
}

/// How the whole of a work is paced.
fn way_of(work: &Work, (standard, ability): (Standard, &Ability)) -> Policy {
    let (workout, _) = compile_lines(work, standard, &ability.athlete, None);
    best_pacing(&workout, &ability.athlete, 1).0
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
    who: (Standard, &Ability),
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
        // what is left of a shorter work takes its share of the time that is left on pace, slowed as they are
        let ends = |shout: &Shout| at + at / c.on_pace * (end - c.on_pace) * left.share(shout);
        let first = candidates(work, k, &shares, next).into_iter().find_map(|shout| {
            let ends_s = ends(&shout);
            let inside = ends_s <= high && stimulus.low.is_none_or(|low| ends_s >= low);
            inside.then_some(Cut { shout, ends_s })
        });
        // nothing helps that can be called out: the cap ends it, said once
        let at_cap = stimulus.cap_s.filter(|_| !capped).map(|cap| Cut { shout: Shout::AtCap, ends_s: cap });
        capped = capped || first.is_none();
        c.cut = first.or(at_cap);
    }
}

/// What is left of a work after a step.
struct Left<'w> {
    work: &'w Work,
    next: Option<&'w Work>,
    done: usize,
    who: (Standard, &'w Ability),
    way: &'w Policy,
    /// s of the whole run.
    whole: f64,
}

impl Left<'_> {
    /// Time of the steps that are done, s: nothing that comes after them.
    fn before(&self, work: &Work) -> f64 {
        let mut before = first_rounds(work, self.done);
        let later = |l: &Line| match l.around {
            Some(When::CashOut) => true,
            Some(When::AfterRound(n)) => n as usize > self.done,
            _ => false,
        };
        while let Some(i) = before.lines.iter().position(later) {
            before.remove(i);
        }
        time(&before, self.who, self.way)
    }

    /// The share of the time of what is left that remains with a shout.
    fn share(&self, shout: &Shout) -> f64 {
        let all = self.whole - self.before(self.work);
        let less = shout.apply(self.work, self.done, self.next);
        let now = time(&less, self.who, self.way) - self.before(&less);
        if all > 0.0 { (now / all).clamp(0.0, 1.0) } else { 0.0 }
    }
}
