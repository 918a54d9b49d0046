//! The front door of the simulator: one run, the settled engine budget, a member fitted to trials.

use super::athlete::Athlete;
use super::params::GUARD;
use super::policy::{Policy, Swayed};
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
    pub(super) fn objective(&self, scored: Scored) -> f64 {
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
pub(super) fn until_deadline(
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
