//! The front door of the simulator: one run, the settled engine budget, the best pacing of a member.

use super::athlete::Athlete;
use super::policy::{Force, Policy, Style};
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
    let mut sim = Sim::new(workout, athlete, tasks, policy, capped, log);
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
        if run.stuck || workout.team.is_some() {
            break;
        }
        policy.segments = run.segments.clone();
        run = simulate_tasks(workout, athlete, tasks, &policy, false, false);
    }
    (policy, run)
}

type Lever = (fn(&Policy) -> f64, fn(&mut Policy, f64), &'static [f64]);

const LEVERS: [Lever; 5] = [
    (|p| p.sigma, |p, v| p.sigma = v, &[1.0, 0.7, 0.5, 0.33, 0.2, 0.05]),
    (|p| p.theta, |p, v| p.theta = v, &[0.0, 0.1, 0.2, 0.3, 0.4]),
    (|p| p.omega, |p, v| p.omega = v, &[0.0, 0.3, 0.6]),
    (|p| p.lead, |p, v| p.lead = v, &[0.0, 0.6, 1.0]),
    (|p| p.q, |p, v| p.q = v, &[1.0, 1.12, 1.3, 1.6]),
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
    let (mut policy, mut best) = settle(workout, athlete, &tasks, &start);
    if best.stuck || workout.team.is_some() || start.force.is_some() {
        return (policy, best);
    }
    let mut lowest = best.objective(workout.scored);
    for _ in 0..sweeps {
        let mut changed = false;
        for (get, put, values) in LEVERS {
            for v in values {
                if get(&policy) == *v {
                    continue;
                }
                let mut tried = policy.clone();
                put(&mut tried, *v);
                // a set that uses a share of what is left in hand is larger than the next one
                let leads = tried.lead > 0.0;
                if (style == Style::Even && leads) || (style == Style::Descending && !leads) {
                    continue;
                }
                let run = simulate_tasks(workout, athlete, &tasks, &tried, false, false);
                let objective = run.objective(workout.scored);
                if objective < lowest - 1e-9 {
                    tried.segments = run.segments.clone();
                    (lowest, best, policy, changed) = (objective, run, tried, true);
                }
            }
        }
        if !changed {
            break;
        }
    }
    (policy, best)
}

/// An increasing function's root by bisection.
fn root(mut f: impl FnMut(f64) -> f64, mut lo: f64, mut hi: f64) -> f64 {
    for _ in 0..30 {
        let mid = 0.5 * (lo + hi);
        if f(mid) < 0.0 { lo = mid } else { hi = mid }
    }
    0.5 * (lo + hi)
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
