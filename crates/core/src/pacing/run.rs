//! The front door of the simulator: one run, the settled engine budget, the best pacing of a member.

use super::athlete::Athlete;
use super::params::GUARD;
use super::policy::{Force, Policy, Style, Swayed};
use super::state::Sim;
use super::task::{Task, resolve};
use super::team::with_equals;
use super::trace::{Span, Steadiness};
use super::workout::{Scored, Workout};

/// What one run gave.
#[derive(Debug, Clone)]
pub struct Run {
    /// s on the clock at the end.
    pub time: f64,
    /// Everything was done.
    pub done: bool,
    /// Counted units.
    pub reps: f64,
    /// Share of the unit that the deadline cut.
    pub part: f64,
    /// Whole rounds.
    pub rounds: u32,
    /// Least rest left in a cycle, s; below 0 the time that the worst cycle was short of.
    pub margin: f64,
    /// The member cannot do a movement at all.
    pub stuck: bool,
    /// Engine balance left, es.
    pub engine_left: f64,
    /// How many sets it took.
    pub set_count: u32,
    /// How many of them ended before they were meant to.
    pub broken: u32,
    /// Engine cost of each segment, es.
    pub segments: Vec<f64>,
    /// Units of the worst round or window.
    pub lowest: f64,
    /// How steadily it went.
    pub steadiness: Steadiness,
    /// What happened on the clock, when logged.
    pub trace: Vec<Span>,
    /// s at the end of each round, when logged.
    pub round_ends: Vec<f64>,
    /// Simulated steps.
    pub steps: u64,
    /// What of the policy had a say.
    pub swayed: Swayed,
}

impl Run {
    /// The number that is compared, logged and predicted; infinite when a timed workout was not finished.
    pub fn score(&self, scored: Scored) -> f64 {
        match scored {
            Scored::Time if self.done => self.time,
            Scored::Time => f64::INFINITY,
            Scored::Margin => self.margin,
            Scored::Lowest if self.lowest.is_finite() => self.lowest,
            Scored::Reps | Scored::Lowest => self.reps + self.part,
        }
    }

    /// Smaller is better.
    fn objective(&self, scored: Scored) -> f64 {
        if self.stuck {
            return 1e9 - self.reps;
        }
        match scored {
            Scored::Time if self.done => self.time,
            Scored::Time => 1e6 - self.reps,
            Scored::Margin => -self.margin - 1000.0 * f64::from(self.rounds),
            Scored::Reps => -(self.reps + self.part),
            // the whole decides between equal lows
            Scored::Lowest => -self.score(scored) - 1e-3 * (self.reps + self.part),
        }
    }
}

/// The workout's tasks for one member; `residuals` are the member's own factors by slot (missing: 1).
pub fn tasks_for(workout: &Workout, athlete: &Athlete, residuals: &[f64]) -> Vec<Task> {
    workout
        .tasks
        .iter()
        .enumerate()
        .filter_map(|(slot, (row, load))| {
            let task = resolve(athlete, *row, *load, residuals.get(slot).copied().unwrap_or(1.0), slot)?;
            let asked = workout.asked.iter().find(|(s, _)| *s == slot).map(|(_, a)| *a).unwrap_or_default();
            Some(Task { asked, ..task })
        })
        .collect()
}

/// One run with the given tasks; `capped` stops at the workout's cap, `log` keeps every set.
pub fn simulate_tasks(
    workout: &Workout,
    athlete: &Athlete,
    tasks: &[Task],
    policy: &Policy,
    capped: bool,
    log: bool,
) -> Run {
    if workout.team.is_some() {
        return with_equals(workout, athlete, tasks, policy, capped, log);
    }
    let until = if capped { workout.cap.unwrap_or(GUARD) } else { GUARD };
    until_deadline(workout, athlete, tasks, policy, until, log)
}

/// One run that ends at `until`, s, whatever is left.
fn until_deadline(
    workout: &Workout,
    athlete: &Athlete,
    tasks: &[Task],
    policy: &Policy,
    until: f64,
    log: bool,
) -> Run {
    let mut sim = Sim::new(athlete, tasks, policy, until, log);
    let ok = sim.run_all(&workout.body, None);
    let spent = sim.segment_spent;
    sim.segments.push(spent);
    Run {
        time: sim.t,
        done: ok && !sim.stuck,
        reps: sim.reps,
        part: sim.part,
        rounds: sim.rounds,
        margin: sim.least_margin,
        stuck: sim.stuck,
        engine_left: sim.w,
        set_count: sim.set_count,
        broken: sim.broken,
        segments: sim.segments,
        steadiness: sim.steadiness,
        trace: sim.trace,
        lowest: sim.lowest,
        round_ends: sim.round_ends,
        steps: sim.steps,
        swayed: sim.swayed,
    }
}

/// One run of a workout by a member.
pub fn simulate(workout: &Workout, athlete: &Athlete, policy: &Policy, capped: bool, log: bool) -> Run {
    simulate_tasks(workout, athlete, &tasks_for(workout, athlete, &[]), policy, capped, log)
}

/// The fixed point of the segments' engine costs for a policy: once without, three times with the last costs.
pub fn settle(workout: &Workout, athlete: &Athlete, tasks: &[Task], policy: &Policy) -> (Policy, Run) {
    let mut policy = Policy { segments: Vec::new(), ..policy.clone() };
    let mut run = simulate_tasks(workout, athlete, tasks, &policy, false, false);
    for _ in 0..3 {
        if run.stuck || workout.team.is_some() || same_costs(&policy.segments, &run.segments) {
            break;
        }
        policy.segments.clone_from(&run.segments);
        run = simulate_tasks(workout, athlete, tasks, &policy, false, false);
    }
    (policy, run)
}

/// Whether the costs that a run was planned with are those that it had: planned again it would go the same.
fn same_costs(planned: &[f64], had: &[f64]) -> bool {
    planned.len() == had.len() && planned.iter().zip(had).all(|(p, h)| (p - h).abs() <= SETTLED * h)
}

/// Costs that differ by no more than this share are the same (own).
const SETTLED: f64 = 1e-6;

/// A part of a policy: read, set, whether it had a say in a run, the values in their order, and whether each of them is tried
/// or only those next to the best. Chosen by 400 random workouts against all 810 combinations, each settled: what is found
/// lies 0.5 % over the best in the mean, 2 % at nine in ten, where trying each value of all five finds 0.5 % and 1.8 %.
struct Lever {
    get: fn(&Policy) -> f64,
    put: fn(&mut Policy, f64),
    swayed: fn(Swayed) -> bool,
    values: &'static [f64],
    each: bool,
}

const LEVERS: [Lever; 5] = [
    Lever {
        get: |p| p.sigma,
        put: |p, v| p.sigma = v,
        swayed: |s| s.sizes,
        values: &[1.0, 0.7, 0.5, 0.33, 0.2, 0.05],
        each: false,
    },
    Lever {
        get: |p| p.theta,
        put: |p, v| p.theta = v,
        swayed: |_| true,
        values: &[0.0, 0.1, 0.2, 0.3, 0.4],
        each: true,
    },
    Lever {
        get: |p| p.omega,
        put: |p, v| p.omega = v,
        swayed: |s| s.balance,
        values: &[0.0, 0.3, 0.6],
        each: false,
    },
    Lever {
        get: |p| p.lead,
        put: |p, v| p.lead = v,
        swayed: |s| s.sizes,
        values: &[0.0, 0.6, 1.0],
        each: true,
    },
    Lever {
        get: |p| p.q,
        put: |p, v| p.q = v,
        swayed: |s| s.demand,
        values: &[1.0, 1.12, 1.3, 1.6],
        each: false,
    },
];

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

/// An increasing function's root in a bracket, to 1e-9 of it, in far fewer looks than halving takes: the line between the ends;
/// an end that stays a second time counts half (the Illinois way; Dowell and Jarratt 1971).
fn root(f: impl Fn(f64) -> f64, mut lo: f64, mut hi: f64) -> f64 {
    const CLOSE: f64 = 1e-9;
    let (mut below, mut above) = (f(lo), f(hi));
    if below >= 0.0 || above <= 0.0 {
        return if below >= 0.0 { lo } else { hi };
    }
    let close = CLOSE * (hi - lo);
    let (mut at, mut last) = (lo, 0.0);
    for _ in 0..40 {
        let line = lo - below * (hi - lo) / (above - below);
        let next = if line > lo && line < hi { line } else { 0.5 * (lo + hi) };
        let moved = (next - at).abs();
        at = next;
        if moved <= close {
            break;
        }
        let value = f(at);
        if value < 0.0 {
            above *= if last < 0.0 { 0.5 } else { 1.0 };
            (lo, below) = (at, value);
        } else {
            below *= if last > 0.0 { 0.5 } else { 1.0 };
            (hi, above) = (at, value);
        }
        last = value;
    }
    at
}

/// The athlete whose 2 km row and 1 km run (s, all out) are as tested. The row sets engine and W'; the run then
/// sets the running cost, or the engine when there is no row.
pub fn fit_tests(athlete: &Athlete, row_2k: Option<f64>, run_1k: Option<f64>) -> Athlete {
    let time = |a: &Athlete, id: &str, n: f64| super::machines::all_out(a, id, n).unwrap_or_default();
    let scaled = |a: &Athlete, x: f64| Athlete { engine: a.engine * x, reserve: a.reserve * x, ..a.clone() };
    let mut a = athlete.clone();
    if let Some(seconds) = row_2k {
        a = scaled(&a, root(|x| seconds - time(&scaled(&a, x), "row", 2000.0), 0.4, 2.2));
    }
    match (row_2k, run_1k) {
        (Some(_), Some(seconds)) => {
            let cost = |x: f64| Athlete { run_cost: x, ..a.clone() };
            a = cost(root(|x| time(&cost(x), "run", 1000.0) - seconds, 0.15, 0.8));
        }
        (None, Some(seconds)) => {
            a = scaled(&a, root(|x| seconds - time(&scaled(&a, x), "run", 1000.0), 0.4, 2.2));
        }
        _ => {}
    }
    a
}
