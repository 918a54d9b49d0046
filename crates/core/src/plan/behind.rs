//! Somebody who is late in the middle of the work: where they end as it stands, what is called out to them alone, and what is left of
//! their work once that is taken.

use super::cut::{Left, Rest, plain, time};
use super::mark::Mark;
use super::pace::{VersionPace, of_splits};
use super::shout::{Shout, once, steps};
use super::workout::WorkoutPlan;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::{Placed, Work};
use serde::{Deserialize, Serialize};

/// Steps that are offered as done, the last first: which of them it was the coach sees.
const OFFERED: usize = 2;

/// Steps that somebody has done, and when.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Passed {
    /// Rounds, or lines of a list done once.
    pub steps: usize,
    /// s on the workout's clock.
    pub at_s: f64,
}

/// Where somebody ends, s: 8 times in 10 between the first and the last. The rest is as uncertain in proportion as the whole was (own).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ends {
    /// One in ten ends before.
    pub low: f64,
    /// Likely.
    pub middle: f64,
    /// One in ten ends after.
    pub high: f64,
}

/// Somebody late at a step.
#[derive(Debug, Clone, PartialEq)]
pub struct Behind {
    /// The step.
    pub at: Mark,
    /// How it is counted.
    pub passed: Passed,
    /// When they do it on pace, s.
    pub on_pace_s: f64,
    /// As it stands.
    pub stays: Ends,
    /// The one thing that brings them inside, and where they end then; `None` where nothing does that can be called out.
    pub cut: Option<(Shout, Ends)>,
}

/// Why nothing is called out to somebody.
#[derive(Debug, Clone, PartialEq)]
pub enum NoCut {
    /// The work is not done against the clock with rounds or lines of one part: there is nothing to cut, or it is no one thing.
    Other,
    /// It has no target and no cap to be late for.
    NoWindow,
    /// It is far beyond them: no pace to be late by.
    Beyond,
    /// They are not late yet: the first step is theirs until a time, s.
    OnPace(Mark, f64),
}

/// What is left of somebody's work.
#[derive(Debug, Clone, PartialEq)]
pub struct AfterCut {
    /// The work with what was called out.
    pub work: Work,
    /// Where they end.
    pub ends: Ends,
    /// Steps that are left, with when they are done, s.
    pub steps: Vec<(Mark, f64)>,
}

/// One member's own way through their own work.
struct Own<'w> {
    placed: &'w Placed,
    next: Option<&'w Work>,
    standard: Standard,
    pace: VersionPace,
    end: f64,
    whole: f64,
    window: (Option<f64>, f64),
}

impl Own<'_> {
    fn left(&self, done: usize) -> Left<'_> {
        let (work, p) = (&self.placed.work, &self.placed.predicted);
        Left {
            work,
            next: self.next,
            done,
            who: (self.standard, &p.athlete),
            way: &p.policy,
            whole: self.whole,
        }
    }

    fn rest(&self, passed: Passed) -> Option<Rest> {
        let on_pace = self.pace.checkpoints.get(passed.steps.checked_sub(1)?)?.on_pace;
        Some(Rest { at: passed.at_s, on_pace, end: self.end }).filter(|_| on_pace > 0.0)
    }

    /// A time at the end with the range of what is left.
    fn ends(&self, passed: Passed, middle: f64) -> Ends {
        let r = &self.placed.predicted.prediction;
        let at = |decile: f64| passed.at_s + (middle - passed.at_s) * decile / r.p50();
        Ends { low: at(r.p10()), middle, high: at(r.p90()) }
    }

    fn behind(&self, passed: Passed) -> Option<Behind> {
        let at = self.pace.checkpoints.get(passed.steps.checked_sub(1)?)?;
        let rest = self.rest(passed)?;
        let first = self.left(passed.steps).first_inside(rest, &self.pace.time_shares, self.window);
        Some(Behind {
            at: at.at.clone(),
            passed,
            on_pace_s: at.on_pace,
            stays: self.ends(passed, rest.ends(1.0)),
            cut: first.map(|(shout, s)| (shout, self.ends(passed, s))),
        })
    }

    fn after(&self, passed: Passed, shout: &Shout) -> Option<AfterCut> {
        let (rest, left) = (self.rest(passed)?, self.left(passed.steps));
        let work = shout.apply(left.work, passed.steps, left.next);
        let middle = rest.ends(left.share(shout));
        let (from, to) = (left.before(&work, passed.steps), time(&work, left.who, left.way));
        let n = steps(&work);
        let step = |k: usize| {
            let share = if k == n { 1.0 } else { (left.before(&work, k) - from) / (to - from).max(1.0) };
            let mark = if k == n { Mark::Finish } else { self.pace.checkpoints.get(k - 1)?.at.clone() };
            Some((mark, passed.at_s + (middle - passed.at_s) * share.clamp(0.0, 1.0)))
        };
        let steps = (passed.steps + 1..=n).filter_map(step).collect();
        Some(AfterCut { work, ends: self.ends(passed, middle), steps })
    }
}

impl WorkoutPlan {
    fn own(&self, i: usize, standard: Standard) -> Result<Own<'_>, NoCut> {
        let p = self.placed.get(i).ok_or(NoCut::Other)?;
        let stimulus: &Stimulus = &p.work.keeps(self.stimulus.as_ref().ok_or(NoCut::Other)?);
        let elsewhere = self.starts.get(i).is_some_and(|s| *s > 0) && once(&p.work);
        if !stimulus.is_time() || !plain(&p.work) || steps(&p.work) < 2 || p.work.team.is_some() || elsewhere
        {
            return Err(NoCut::Other);
        }
        let high = stimulus.high.or(stimulus.cap_s).ok_or(NoCut::NoWindow)?;
        let r = &p.predicted.prediction;
        let splits = self.splits.get(i).filter(|_| r.scale_this.is_none()).ok_or(NoCut::Beyond)?;
        let pace = of_splits(p.tier, r.p50(), Some(i), splits.clone(), &p.work, stimulus);
        let end = pace.checkpoints.last().map_or(0.0, |c| c.on_pace);
        let whole = time(&p.work, (standard, &p.predicted.athlete), &p.predicted.policy);
        if end <= 0.0 || !whole.is_finite() || pace.checkpoints.len() < steps(&p.work) {
            return Err(NoCut::Beyond);
        }
        let next = self.versions.get(p.tier as usize + 1).map(|v| &v.work);
        Ok(Own { placed: p, next, standard, pace, end, whole, window: (stimulus.low, high) })
    }

    /// The steps that a member who is late at a time may just have done, the last first, each with where they end and what is called
    /// out. `standard`: theirs; `at_s`: s on the workout's clock.
    ///
    /// # Errors
    /// Why nothing is.
    pub fn behind(&self, i: usize, standard: Standard, at_s: f64) -> Result<Vec<Behind>, NoCut> {
        let own = self.own(i, standard)?;
        let open = own.pace.checkpoints.iter().take_while(|c| c.at != Mark::Finish);
        let late = open.clone().take_while(|c| c.on_pace < at_s).count();
        let first = || open.clone().next().map_or(NoCut::Other, |c| NoCut::OnPace(c.at.clone(), c.on_pace));
        let offered = (1..=late).rev().take(OFFERED).filter_map(|steps| own.behind(Passed { steps, at_s }));
        let offered: Vec<Behind> = offered.collect();
        if offered.is_empty() { Err(first()) } else { Ok(offered) }
    }

    /// What is left of a member's work after something was called out to them; `None` where the plan has changed so that it says nothing.
    pub fn after_cut(
        &self,
        i: usize,
        standard: Standard,
        (passed, shout): (Passed, &Shout),
    ) -> Option<AfterCut> {
        self.own(i, standard).ok()?.after(passed, shout)
    }
}
