//! The best pacing of a member: a search along the parts of a policy.

use super::athlete::Athlete;
use super::params::GUARD;
use super::policy::{Force, Policy, Style, Swayed};
use super::run::{Run, settle, tasks_for, until_deadline};
use super::task::Task;
use super::workout::{Scored, Workout};

type Get = fn(&Policy) -> f64;
type Put = fn(&mut Policy, f64);

/// A part of a policy: read, set, whether it had a say in a run, the values in their order, and whether each of them is tried
/// or only those next to the best. Chosen by 400 random workouts against all 810 combinations, each settled: what is found
/// lies 0.5 % over the best in the mean, 2 % at nine in ten, where trying each value of all five finds 0.5 % and 1.8 %.
struct Lever {
    get: Get,
    put: Put,
    swayed: fn(Swayed) -> bool,
    values: &'static [f64],
    each: bool,
}

const LEVERS: [Lever; 5] = [
    lever((|p| p.sigma, |p, v| p.sigma = v), |s| s.sizes, &[1.0, 0.7, 0.5, 0.33, 0.2, 0.05], false),
    lever((|p| p.theta, |p, v| p.theta = v), |_| true, &[0.0, 0.1, 0.2, 0.3, 0.4], true),
    lever((|p| p.omega, |p, v| p.omega = v), |s| s.balance, &[0.0, 0.3, 0.6], false),
    lever((|p| p.lead, |p, v| p.lead = v), |s| s.sizes, &[0.0, 0.6, 1.0], true),
    lever((|p| p.q, |p, v| p.q = v), |s| s.demand, &[1.0, 1.12, 1.3, 1.6], false),
];

const fn lever(
    (get, put): (Get, Put),
    swayed: fn(Swayed) -> bool,
    values: &'static [f64],
    each: bool,
) -> Lever {
    Lever { get, put, swayed, values, each }
}

/// The best paced policy: coordinate search, at most `sweeps` times over the levers.
pub fn best_pacing(workout: &Workout, athlete: &Athlete, sweeps: u32) -> (Policy, Run) {
    best_pacing_in(workout, athlete, sweeps, Style::Free)
}

/// The best paced policy among those that break sets in a style.
pub fn best_pacing_in(workout: &Workout, athlete: &Athlete, sweeps: u32, style: Style) -> (Policy, Run) {
    let tasks = tasks_for(workout, athlete, &[]);
    let start = Policy {
        force: style.forced().map(|plan| Force { slot: None, plan }),
        lead: if style == Style::Descending { 0.6 } else { 0.0 },
        ..Policy::default()
    };
    let (policy, best) = settle(workout, athlete, &tasks, &start);
    if best.stuck || workout.team.is_some() || start.force.is_some() {
        return (policy, best);
    }
    let lowest = best.objective(workout.scored);
    let mut search = PacingSearch { workout, athlete, tasks: &tasks, style, policy, best, lowest };
    for _ in 0..sweeps {
        if LEVERS.iter().filter(|lever| search.walk(lever)).count() == 0 {
            break;
        }
    }
    (search.policy, search.best)
}

/// The best policy so far.
struct PacingSearch<'a> {
    workout: &'a Workout,
    athlete: &'a Athlete,
    tasks: &'a [Task],
    style: Style,
    policy: Policy,
    best: Run,
    lowest: f64,
}

impl PacingSearch<'_> {
    /// Along a lever's values from where the policy stands, one way as long as it gets better, else the other way.
    fn walk(&mut self, lever: &Lever) -> bool {
        if !(lever.swayed)(self.best.swayed) {
            return false;
        }
        let now = (lever.get)(&self.policy);
        if lever.each {
            let others = lever.values.iter().filter(|v| **v != now);
            return others.filter(|v| self.better(lever, **v)).count() > 0;
        }
        let at = lever.values.iter().position(|v| *v == now).unwrap_or(0);
        let (before, from) = lever.values.split_at(at);
        let up = from.iter().skip(1).take_while(|v| self.better(lever, **v)).count();
        up > 0 || before.iter().rev().take_while(|v| self.better(lever, **v)).count() > 0
    }

    /// Takes a value of a lever where it is better.
    fn better(&mut self, lever: &Lever, value: f64) -> bool {
        let mut tried = self.policy.clone();
        (lever.put)(&mut tried, value);
        // a set that uses a share of what is left in hand is larger than the next one
        let leads = tried.lead > 0.0;
        if (self.style == Style::Even && leads) || (self.style == Style::Descending && !leads) {
            return false;
        }
        let by_time = self.workout.scored == Scored::Time;
        // who is not done by the time of the best is no better
        let until = if self.best.done && by_time { self.best.time } else { GUARD };
        let run = until_deadline(self.workout, self.athlete, self.tasks, &tried, until, false);
        let objective = run.objective(self.workout.scored);
        let better = objective < self.lowest - 1e-9;
        if better {
            tried.segments.clone_from(&run.segments);
            (self.lowest, self.best, self.policy) = (objective, run, tried);
        }
        better
    }
}
