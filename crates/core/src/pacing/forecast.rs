//! Many runs of one member with the uncertainty of what is known about them: the range that is shown.

use super::athlete::Athlete;
use super::math::{exp, ln, normal_quantile};
use super::params::*;
use super::policy::Policy;
use super::run::{Run, simulate_tasks, tasks_for};
use super::workout::{Scored, Workout};
use crate::movement::catalogue;
use crate::units::Provenance;
use rand::SeedableRng;
use rand::seq::SliceRandom;
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64Mcg;
use rayon::prelude::*;

/// A run is stopped after so many caps: the member cannot do this, whatever the time (pacing model, cost).
const HOPELESS_CAPS: f64 = 3.0;
/// Runs of one member that one core does in one piece.
const RUNS_TOGETHER: usize = 25;

/// Results that each run stands for: the noise around it in slices of equal chance.
const NOISES: usize = 5;
/// What is drawn of an athlete: engine, cycle, seven groups, reserve.
const OF_ATHLETE: usize = 10;

/// A result is called tested when so much of it hangs on what is (own).
const MOSTLY: f64 = 0.6;
/// What a result hangs on for so much is worth asking for (own).
const A_PART: f64 = 0.15;

/// How well a member's engine, speed and each group are known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Known {
    /// Engine: by a time trial.
    pub engine: Provenance,
    /// Speed of hand.
    pub cycle: Provenance,
    /// Each group, in the table's order.
    pub groups: [Provenance; 7],
}

impl Known {
    /// Everything known equally well.
    pub fn all(p: Provenance) -> Known {
        Known { engine: p, cycle: p, groups: [p; 7] }
    }

    /// Engine, speed of hand and groups, in the order of [`Forecast::hangs_on`].
    fn all_of(&self) -> [Provenance; 9] {
        let [a, b, c, d, e, f, g] = self.groups;
        [self.engine, self.cycle, a, b, c, d, e, f, g]
    }

    /// The word for a result that hangs on these shares: tested when most of it hangs on what is tested, estimated when most hangs on
    /// that or what is estimated.
    pub fn overall(&self, hangs_on: &[f64; 9]) -> Provenance {
        let share = |p: Provenance| {
            self.all_of().iter().zip(hangs_on).filter(|(k, _)| **k == p).map(|(_, s)| s).sum::<f64>()
        };
        let (tested, estimated) = (share(Provenance::Tested), share(Provenance::Estimated));
        if tested >= MOSTLY {
            Provenance::Tested
        } else if tested + estimated >= MOSTLY {
            Provenance::Estimated
        } else {
            Provenance::Assumed
        }
    }

    /// What is known least of all that a result hangs on, where it hangs on that for a good part: a name to ask for.
    pub fn weakest(&self, hangs_on: &[f64; 9]) -> Option<&'static str> {
        let names = ["engine", "speed of hand", "squat", "hinge", "push", "pull", "grip", "core", "calf"];
        names
            .into_iter()
            .zip(self.all_of())
            .zip(hangs_on)
            .filter(|((name, k), s)| *k != Provenance::Tested && **s >= A_PART && *name != "speed of hand")
            .max_by(|a, b| {
                ((a.0.1 == Provenance::Assumed), a.1)
                    .partial_cmp(&((b.0.1 == Provenance::Assumed), b.1))
                    .unwrap_or(std::cmp::Ordering::Equal)
            })
            .map(|((name, _), _)| name)
    }
}

fn sd(p: Provenance) -> [f64; 3] {
    match p {
        Provenance::Tested => SD_TESTED,
        Provenance::Estimated => SD_ESTIMATED,
        // no ability is known by results: they speak of a whole workout
        Provenance::Assumed | Provenance::Results => SD_ASSUMED,
    }
}

/// Scores of many runs, best first for times, worst first for reps: sorted upwards.
#[derive(Debug, Clone, PartialEq)]
pub struct Forecast {
    /// Sorted scores; infinite where the member could not finish at all.
    pub scores: Vec<f64>,
    /// Share of the runs in which a set ends before it was meant to.
    pub broken: f64,
    /// How much the result hangs on engine, speed of hand and each group: shares of its variance if all were known alike.
    pub hangs_on: [f64; 9],
    /// Share of the runs that a judge of theirs lets pass.
    pub kept: f64,
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

/// Standard normals of `runs` runs in so many dimensions: in each dimension one of every slice of equal chance, in an order of
/// its own (Latin hypercube; McKay, Beckman and Conover 1979).
fn spread_evenly(runs: usize, dimensions: usize, seed: u64) -> Vec<Vec<f64>> {
    let mut rng = Pcg64Mcg::seed_from_u64(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15));
    let slices: Vec<f64> =
        (0..runs).map(|i| normal_quantile((i as f64 + 0.5) / runs.max(1) as f64)).collect();
    (0..dimensions)
        .map(|_| {
            let mut one = slices.clone();
            one.shuffle(&mut rng);
            one
        })
        .collect()
}

/// The drawn member of one run: factors of engine, cycle, groups and reserve, then of each task.
fn drawn(athlete: &Athlete, known: &Known, spread: &[f64], z: impl Fn(usize) -> f64) -> (Athlete, Vec<f64>) {
    let engine = z(0) * sd(known.engine)[0].hypot(DAY_E);
    let cycle = z(1) * sd(known.cycle)[1];
    let mut groups = known.groups.map(|g| sd(g)[2].hypot(DAY_F));
    groups.iter_mut().enumerate().for_each(|(i, g)| *g *= z(2 + i));
    let residuals = spread.iter().enumerate().map(|(i, sd)| exp(sd * z(OF_ATHLETE + i))).collect();
    (athlete.with_factors(engine, cycle, &groups, z(OF_ATHLETE - 1) * S_WP), residuals)
}

/// `runs` runs with the pacing of the mean member, spread evenly over what is not known; each stands for several results,
/// one of every slice of the noise around a run. The same seed gives the same scores: neither the order nor the number of
/// threads matters.
pub fn forecast(
    workout: &Workout,
    athlete: &Athlete,
    known: &Known,
    policy: &Policy,
    runs: u32,
    seed: u64,
) -> Forecast {
    forecast_judged(workout, athlete, known, policy, (runs, seed), |_| true)
}

/// The same with a judge of every run; [`Forecast::kept`] is the share that it lets pass.
pub fn forecast_judged(
    workout: &Workout,
    athlete: &Athlete,
    known: &Known,
    policy: &Policy,
    (runs, seed): (u32, u64),
    judge: impl Fn(&Run) -> bool + Sync,
) -> Forecast {
    // a run that takes many caps says no more than one that never ends
    let hopeless = workout.cap.filter(|_| workout.scored == Scored::Time).map(|c| HOPELESS_CAPS * c);
    let watched = Workout { cap: hopeless.or(workout.cap), ..workout.clone() };
    let workout_cap = workout.cap;
    let workout = &watched;
    let spread = residual_sds(workout);
    let n = runs.max(1) as usize;
    let normals = spread_evenly(n, OF_ATHLETE + spread.len() + 1, seed);
    let at = |dimension: usize, run: usize| {
        normals.get(dimension).and_then(|d| d.get(run)).copied().unwrap_or(0.0)
    };
    let all: Vec<(f64, bool, bool)> = (0..n)
        .into_par_iter()
        .with_min_len(RUNS_TOGETHER)
        .map(|i| {
            let (drawn, residuals) = drawn(athlete, known, &spread, |d| at(d, i));
            let tasks = tasks_for(workout, &drawn, &residuals);
            let run = simulate_tasks(workout, &drawn, &tasks, policy, hopeless.is_some(), false);
            (run.score(workout.scored), run.broken > 0, judge(&run))
        })
        .collect();
    let broken = all.iter().filter(|r| r.1).count() as f64 / n as f64;
    let kept = all.iter().filter(|r| r.2).count() as f64 / n as f64;
    let noises = noises(n, workout.scored, |run| at(OF_ATHLETE + spread.len(), run));
    let mut scores: Vec<f64> = all.iter().zip(&noises).flat_map(|(r, x)| x.map(|x| r.0 * x)).collect();
    scores.sort_by(f64::total_cmp);
    let hangs_on = hangs_on(&all, known, workout.scored, at);
    Forecast { scores, broken, hangs_on, kept, scored: workout.scored, cap: workout_cap }
}

/// Shares of a result's variance by what was drawn: squares of the slopes on each, at the spread of what is only assumed.
/// Slopes that chance alone would give in so many runs count as none.
fn hangs_on(
    all: &[(f64, bool, bool)],
    known: &Known,
    scored: Scored,
    at: impl Fn(usize, usize) -> f64,
) -> [f64; 9] {
    let value = |s: f64| if scored == Scored::Margin { s } else { ln(s.max(1e-6)) };
    let runs: Vec<(usize, f64)> =
        all.iter().enumerate().filter(|(_, r)| r.0.is_finite()).map(|(i, r)| (i, value(r.0))).collect();
    let n = runs.len() as f64;
    if n < 10.0 {
        return [0.0; 9];
    }
    let mean = runs.iter().map(|(_, v)| v).sum::<f64>() / n;
    let var = runs.iter().map(|(_, v)| (v - mean).powi(2)).sum::<f64>() / n;
    let mut out: [f64; 9] = std::array::from_fn(|d| {
        let cov = runs.iter().map(|(i, v)| at(d, *i) * (v - mean)).sum::<f64>() / n;
        let (drawn, assumed) = match d {
            0 => (sd(known.engine)[0], SD_ASSUMED[0]),
            1 => (sd(known.cycle)[1], SD_ASSUMED[1]),
            _ => (known.groups.get(d - 2).map_or(SD_ASSUMED[2], |g| sd(*g)[2]), SD_ASSUMED[2]),
        };
        let by_chance = cov * cov < 4.0 * var / n;
        if by_chance { 0.0 } else { (cov * assumed / drawn).powi(2) }
    });
    let sum: f64 = out.iter().sum();
    out.iter_mut().for_each(|s| *s = if sum > 0.0 { *s / sum } else { 0.0 });
    out
}

/// Factor of a noise that lies `z` standard normals from its middle: wider on the side where results are worse.
fn noise(scored: Scored, z: f64) -> f64 {
    let worse = (z > 0.0) == (scored == Scored::Time);
    exp(z * noise_sd() * if worse { WORSE_SIDE } else { BETTER_SIDE })
}

/// Factors of the noise for each run: one of every [`NOISES`]th of its distribution, shifted inside it by the run's place `z`
/// among all, so that together they fill it evenly.
fn noises(runs: usize, scored: Scored, z: impl Fn(usize) -> f64) -> Vec<[f64; NOISES]> {
    let mut places: Vec<usize> = (0..runs).collect();
    places.sort_by(|a, b| z(*a).total_cmp(&z(*b)));
    let mut out = vec![[1.0; NOISES]; runs];
    // what a cycle leaves is no result that grows with the noise
    if scored == Scored::Margin {
        return out;
    }
    for (place, run) in places.into_iter().enumerate() {
        let inside = (place as f64 + 0.5) / runs as f64;
        if let Some(slot) = out.get_mut(run) {
            *slot =
                std::array::from_fn(|k| noise(scored, normal_quantile((k as f64 + inside) / NOISES as f64)));
        }
    }
    out
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
