//! Many runs of one member with the uncertainty of what is known about them: the range that is shown.

use super::athlete::Athlete;
use super::params::*;
use super::policy::Policy;
use super::run::{simulate_tasks, tasks_for};
use super::workout::{Scored, Workout};
use crate::movement::catalogue;
use crate::units::Provenance;
use rand::SeedableRng;
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64Mcg;
use rayon::prelude::*;

/// A run is stopped after so many caps: the member cannot do this, whatever the time (pacing model, cost).
const HOPELESS_CAPS: f64 = 3.0;
/// Runs of one member that one core does in one piece.
const RUNS_TOGETHER: usize = 25;

/// How well a member's engine, speed and each group are known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Known {
    /// Engine: from a time trial.
    pub engine: Provenance,
    /// Speed of hand: from logged sessions.
    pub cycle: Provenance,
    /// Each group, in the table's order.
    pub groups: [Provenance; 7],
}

impl Known {
    /// Everything known equally well.
    pub fn all(p: Provenance) -> Known {
        Known { engine: p, cycle: p, groups: [p; 7] }
    }

    /// The best word for the whole: tested when engine and most groups are, assumed when nothing is known.
    pub fn overall(&self) -> Provenance {
        let count = |p: Provenance| {
            self.groups.iter().filter(|g| **g == p).count() + usize::from(self.engine == p) * 2
        };
        if count(Provenance::Tested) >= 4 {
            Provenance::Tested
        } else if count(Provenance::Tested) + count(Provenance::Estimated) >= 2 {
            Provenance::Estimated
        } else {
            Provenance::Assumed
        }
    }
}

fn sd(p: Provenance) -> [f64; 3] {
    match p {
        Provenance::Tested => SD_TESTED,
        Provenance::Estimated => SD_ESTIMATED,
        Provenance::Assumed => SD_ASSUMED,
    }
}

/// Scores of many runs, best first for times, worst first for reps: sorted upwards.
#[derive(Debug, Clone, PartialEq)]
pub struct Forecast {
    /// Sorted scores; infinite where the member could not finish at all.
    pub scores: Vec<f64>,
    /// Share of the runs in which a set ends before it was meant to.
    pub broken: f64,
    /// What they measure.
    pub scored: Scored,
    /// Cap in seconds, when time counts.
    pub cap: Option<f64>,
}

impl Forecast {
    /// Nearest-rank quantile, `p` from 0 to 1; infinite when there is no run.
    pub fn quantile(&self, p: f64) -> f64 {
        let last = self.scores.len().saturating_sub(1) as f64;
        self.scores.get((p * last).round() as usize).copied().unwrap_or(f64::INFINITY)
    }

    /// Share of runs from `low` to `high`.
    pub fn within(&self, low: f64, high: f64) -> f64 {
        self.share(|s| s >= low && s <= high)
    }

    /// Share of runs below `value`.
    pub fn below(&self, value: f64) -> f64 {
        self.share(|s| s < value)
    }

    /// Share of runs past the cap.
    pub fn capped(&self) -> f64 {
        self.cap.map_or(0.0, |cap| self.share(|s| s > cap))
    }

    /// Share of runs that never end: the work is beyond the member.
    pub fn cannot(&self) -> f64 {
        self.share(|s| !s.is_finite())
    }

    fn share(&self, test: impl Fn(f64) -> bool) -> f64 {
        let n = self.scores.iter().filter(|s| test(**s)).count();
        n as f64 / self.scores.len().max(1) as f64
    }
}

/// Draws of one run: factors of the member, and the noise on the result.
struct Draw {
    engine: f64,
    cycle: f64,
    groups: [f64; 7],
    reserve: f64,
    noise: f64,
}

/// Log sd of a result around its run: execution, the model's own error, the class's day.
fn noise_sd() -> f64 {
    EXEC.hypot(MODEL).hypot(CLASS)
}

/// Log sd of each task's own residual.
fn residual_sds(workout: &Workout) -> Vec<f64> {
    let skilled = |row: usize| {
        let id = super::table::at(row).map(|r| r.id.as_str());
        id.and_then(|id| catalogue().movement(id)).is_some_and(|m| m.skill >= SKILLED)
    };
    workout.tasks.iter().map(|(row, _)| if skilled(*row) { S_SKILL } else { S_MV }).collect()
}

fn draw(known: &Known, rng: &mut Pcg64Mcg) -> Draw {
    let mut z = |sd: f64| -> f64 {
        let v: f64 = StandardNormal.sample(rng);
        v * sd
    };
    let engine = z(sd(known.engine)[0].hypot(DAY_E));
    let cycle = z(sd(known.cycle)[1]);
    let groups = known.groups.map(|g| z(sd(g)[2].hypot(DAY_F)));
    let reserve = z(S_WP);
    let noise = z(noise_sd()).exp();
    Draw { engine, cycle, groups, reserve, noise }
}

/// `runs` runs with the pacing of the mean member. The same seed gives the same scores: every run has its own
/// stream, so neither the order nor the number of threads matters.
pub fn forecast(
    workout: &Workout,
    athlete: &Athlete,
    known: &Known,
    policy: &Policy,
    runs: u32,
    seed: u64,
) -> Forecast {
    // a run that takes many caps says no more than one that never ends
    let hopeless = workout.cap.filter(|_| workout.scored == Scored::Time).map(|c| HOPELESS_CAPS * c);
    let watched = Workout { cap: hopeless.or(workout.cap), ..workout.clone() };
    let workout_cap = workout.cap;
    let workout = &watched;
    let spread = residual_sds(workout);
    let all: Vec<(f64, bool)> = (0..runs)
        .into_par_iter()
        .with_min_len(RUNS_TOGETHER)
        .map(|i| {
            let mut rng = Pcg64Mcg::seed_from_u64(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ u64::from(i));
            let d = draw(known, &mut rng);
            let residuals: Vec<f64> = spread
                .iter()
                .map(|sd| {
                    let v: f64 = StandardNormal.sample(&mut rng);
                    (sd * v).exp()
                })
                .collect();
            let drawn = athlete.with_factors(d.engine, d.cycle, &d.groups, d.reserve);
            let tasks = tasks_for(workout, &drawn, &residuals);
            let run = simulate_tasks(workout, &drawn, &tasks, policy, hopeless.is_some(), false);
            let score = run.score(workout.scored);
            (if workout.scored == Scored::Margin { score } else { score * d.noise }, run.broken > 0)
        })
        .collect();
    let broken = all.iter().filter(|r| r.1).count() as f64 / f64::from(runs.max(1));
    let mut scores: Vec<f64> = all.into_iter().map(|r| r.0).collect();
    scores.sort_by(f64::total_cmp);
    Forecast { scores, broken, scored: workout.scored, cap: workout_cap }
}

/// One believable true member behind what is known about them, drawn from the same uncertainty as the runs of a forecast
/// (without the day's form). Used to make demonstration data.
pub fn hidden_truth(athlete: &Athlete, known: &Known, seed: u64) -> Athlete {
    let mut rng = Pcg64Mcg::seed_from_u64(seed);
    let mut z = |sd: f64| -> f64 {
        let v: f64 = StandardNormal.sample(&mut rng);
        v * sd
    };
    let engine = z(sd(known.engine)[0]);
    let cycle = z(sd(known.cycle)[1]);
    let groups = known.groups.map(|g| z(sd(g)[2]));
    athlete.with_factors(engine, cycle, &groups, z(S_WP))
}

/// One believable result of a member whose true abilities are `athlete`: the day's form and execution only.
/// Used to make demonstration data.
pub fn one_result(workout: &Workout, athlete: &Athlete, policy: &Policy, seed: u64) -> f64 {
    let mut rng = Pcg64Mcg::seed_from_u64(seed);
    let mut z = |sd: f64| -> f64 {
        let v: f64 = StandardNormal.sample(&mut rng);
        v * sd
    };
    let engine = z(DAY_E);
    let groups = [(); 7].map(|()| z(DAY_F));
    let noise = z(noise_sd()).exp();
    let day = athlete.with_factors(engine, 0.0, &groups, 0.0);
    let run = simulate_tasks(workout, &day, &tasks_for(workout, &day, &[]), policy, false, false);
    run.score(workout.scored) * noise
}
