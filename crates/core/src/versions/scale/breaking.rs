//! Ways of breaking the sets of one member's work, compared: the model's own and the four that coaches differ on.

use super::place::Placed;
use crate::pacing::{Force, Policy, Scored, SetPlan, forecast, settle, simulate_tasks, tasks_for};
use crate::roster::Ability;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::predict::{Prediction, compile_for, of_forecast};
use crate::versions::work::Work;

/// Runs of a comparison: fewer than of a range, the same draws for every way.
const RUNS: u32 = 80;
/// Runs where only one movement is broken another way.
const EACH_RUNS: u32 = 40;
/// Even sets are tried from two to so many for each line.
const MOST_EVEN: u32 = 5;
/// Reserve floor of a set that is planned.
const FLOOR: f64 = 0.05;
/// Shares of descending sets (own): each set a little smaller than the one before.
const DESCENDING: [f64; 4] = [0.4, 0.3, 0.2, 0.1];

/// One way, for one member.
#[derive(Debug, Clone, PartialEq)]
pub struct Breaking {
    /// In words.
    pub name: String,
    /// Its range.
    pub prediction: Prediction,
    /// Sets of the mean member's run.
    pub sets: u32,
    /// Share of the runs in which a set ends before it was meant to.
    pub broken: f64,
    /// The one that the plan uses.
    pub own: bool,
}

fn even(n: u32) -> SetPlan {
    SetPlan::Shares { shares: vec![1.0 / f64::from(n)], theta: FLOOR }
}

/// The ways compared for every movement that is broken by fatigue, alone: (line in words, ways), everything else as planned.
pub fn breakings_by_line(
    placed: &Placed,
    standard: Standard,
    ability: &Ability,
    stimulus: &Stimulus,
    seed: u64,
) -> Vec<(String, Vec<Breaking>)> {
    let p = &placed.predicted;
    let (_, compiled) = compile_for(&placed.work, standard, &p.athlete, stimulus);
    let tasks = tasks_for(&p.workout, &p.athlete, &[]);
    let mut place = 0;
    let mut out: Vec<(String, Vec<Breaking>)> = Vec::new();
    let mut seen: Vec<usize> = Vec::new();
    for line in &placed.work.lines {
        let slot = compiled.slots.iter().find(|(at, _)| *at == place).map(|(_, s)| *s);
        place += 1 + line.along.len();
        let Some(slot) = slot.filter(|s| !seen.contains(s)) else { continue };
        seen.push(slot);
        // what fits into one fresh set is not broken
        let broken =
            tasks.get(slot).is_some_and(|t| t.limited() && t.most.is_finite() && line.largest() > 1.0);
        if !broken {
            continue;
        }
        let ways = compared(placed, standard, ability, stimulus, seed, Some(slot));
        if !ways.is_empty() {
            out.push((line.text_for(standard), ways));
        }
    }
    out
}

/// The ways compared for the whole work, the plan's own first; empty where it is far beyond the member or nothing is broken by
/// fatigue.
pub fn breakings(
    placed: &Placed,
    standard: Standard,
    ability: &Ability,
    stimulus: &Stimulus,
    seed: u64,
) -> Vec<Breaking> {
    compared(placed, standard, ability, stimulus, seed, None)
}

fn compared(
    placed: &Placed,
    standard: Standard,
    ability: &Ability,
    stimulus: &Stimulus,
    seed: u64,
    slot: Option<usize>,
) -> Vec<Breaking> {
    let p = &placed.predicted;
    if p.prediction.scale_this.is_some() || p.workout.team.is_some() {
        return Vec::new();
    }
    let (work, workout): (&Work, _) = (&placed.work, &p.workout);
    let tasks = tasks_for(workout, &p.athlete, &[]);
    let forced = |plan: SetPlan| {
        // with one movement dictated the rest stays as planned
        let rest = if slot.is_some() { p.policy.clone() } else { Policy::default() };
        let policy = Policy { force: Some(Force { slot, plan }), ..rest };
        settle(workout, &p.athlete, &tasks, &policy).0
    };
    let run = |policy: &Policy| simulate_tasks(workout, &p.athlete, &tasks, policy, true, false);
    // as few even sets as are fastest
    let best_even = (2..=MOST_EVEN)
        .map(|n| {
            let policy = forced(even(n));
            let score = run(&policy).score(workout.scored);
            (n, policy, if workout.scored == Scored::Time { score } else { -score })
        })
        .min_by(|a, b| a.2.total_cmp(&b.2));
    let mut ways = vec![("as planned: the best that was found".to_owned(), p.policy.clone(), true)];
    if let Some((n, policy, _)) = best_even {
        ways.push((format!("{n} even sets of each line"), policy, false));
    }
    ways.push((
        "descending sets".to_owned(),
        forced(SetPlan::Shares { shares: DESCENDING.to_vec(), theta: FLOOR }),
        false,
    ));
    ways.push(("unbroken, then singles".to_owned(), forced(SetPlan::ToFailureThenSingles), false));
    ways.push(("singles from the start".to_owned(), forced(SetPlan::Singles), false));
    ways.into_iter()
        .map(|(name, policy, own)| {
            let many = forecast(
                workout,
                &p.athlete,
                &ability.known,
                &policy,
                if slot.is_some() { EACH_RUNS } else { RUNS },
                seed,
            );
            Breaking {
                name,
                prediction: of_forecast(work, standard, workout, stimulus, &many, ability, None),
                sets: run(&policy).set_count,
                broken: many.broken,
                own,
            }
        })
        .collect()
}
