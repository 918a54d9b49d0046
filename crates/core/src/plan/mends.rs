//! What can be done where a day runs over its hour or kit is short: every way as a decision, with what it gives and costs when the
//! day is planned with it, and the cheapest of them that together make the day fit.

mod fitting;
mod ways;

pub use fitting::{Fitting, fitting};
pub use ways::ways;

use super::decision::Decision;
use super::memo::{Input, Memo, Stopped};
use super::{ClassPlan, PlanOf};
use crate::hour::Hour;
use crate::mend::{Short, Way};
use rayon::prelude::*;

/// A way that spares members less waiting on average is none, s (own).
const LEAST_LESS_S: f64 = 15.0;

/// A way and the decision by which it is taken.
#[derive(Debug, Clone, PartialEq)]
pub struct Mend {
    /// What is changed.
    pub way: Way,
    /// How it is said to the plan.
    pub decision: Decision,
}

/// What a day gives.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Gives {
    /// s from the start to the end of the last part.
    pub end_s: u32,
    /// s past the end of the class.
    pub over_s: u32,
    /// Members who are expected on stimulus, on average over the workouts; `None` without one, or with nobody there.
    pub on_stimulus: Option<f64>,
    /// Things of which there are too few.
    pub short: usize,
    /// s that a member waits for a place on average, all workouts together.
    pub waits_s: f64,
}

impl Gives {
    /// What a plan gives.
    pub fn of(plan: &ClassPlan) -> Gives {
        let shares: Vec<f64> = plan.workouts.iter().filter_map(|w| w.shares()).map(|s| s.placed).collect();
        Gives {
            end_s: plan.hour.end_s(),
            over_s: plan.hour.overrun_s,
            on_stimulus: (!shares.is_empty()).then(|| shares.iter().sum::<f64>() / shares.len() as f64),
            short: plan.workouts.iter().flat_map(|w| &w.short).filter(|s| s.asks()).count(),
            waits_s: plan.workouts.iter().flat_map(|w| &w.short).map(waits_of).sum(),
        }
    }
}

fn waits_of(s: &Short) -> f64 {
    if let Short::Places { waits_s, .. } = s { *waits_s } else { 0.0 }
}

/// A way with what the day gives when it is taken.
#[derive(Debug, Clone, PartialEq)]
pub struct Weighed {
    /// The way.
    pub mend: Mend,
    /// The day with it.
    pub then: Gives,
    /// Its hour.
    pub hour: Hour,
    /// s that are won; less than 0: it takes longer.
    pub wins_s: i64,
    /// What it costs, on the scale of [`Way::price`]: members who are lost and what no forecast sees.
    pub cost: f64,
}

/// The ways weighed by planning the day with each; what changes nothing for the better is left out. What spares the work comes first,
/// then what costs least.
///
/// # Errors
/// `Stopped` where nobody waits for it any more.
pub fn weigh(of: &PlanOf, plan: &ClassPlan, memo: &dyn Memo) -> Result<Vec<Weighed>, Stopped> {
    let now = Gives::of(plan);
    let all: Vec<Weighed> = ways(of, plan)
        .into_par_iter()
        .map(|mend| {
            let plan = with(of, std::slice::from_ref(&mend.decision), memo)?;
            let then = Gives::of(&plan);
            let lost = match (now.on_stimulus, then.on_stimulus) {
                (Some(a), Some(b)) => (a - b).max(0.0),
                _ => 0.0,
            };
            let wins_s = i64::from(now.end_s) - i64::from(then.end_s);
            Ok(Weighed { cost: mend.way.price() + lost, wins_s, then, hour: plan.hour, mend })
        })
        .collect::<Result<_, Stopped>>()?;
    let mut out: Vec<Weighed> = all.into_iter().filter(|w| helps(&now, w)).collect();
    out.sort_by(|a, b| {
        let spares = |w: &Weighed| !w.mend.way.spares_the_work();
        spares(a).cmp(&spares(b)).then(a.cost.total_cmp(&b.cost))
    });
    Ok(out)
}

fn helps(now: &Gives, w: &Weighed) -> bool {
    let for_kit = matches!(w.mend.way, Way::Heats { .. } | Way::Starts { .. } | Way::Pairs { .. });
    (now.over_s > 0 && w.wins_s > 0)
        || (for_kit && (w.then.short < now.short || w.then.waits_s < now.waits_s - LEAST_LESS_S))
}

/// The day with further decisions.
fn with(of: &PlanOf, more: &[Decision], memo: &dyn Memo) -> Result<ClassPlan, Stopped> {
    let decisions: Vec<Decision> = of.decisions.iter().chain(more).cloned().collect();
    PlanOf { decisions: &decisions, ..*of }.make(memo)
}
