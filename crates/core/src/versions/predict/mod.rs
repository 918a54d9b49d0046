//! How one member fares at one version: a quick middle for searching, and the range that is shown.

mod beyond;
mod foretold;
mod open;
mod quick;
mod splits;
mod wishes;

pub use beyond::{far_beyond, too_much_in_all};
pub use foretold::format_of;
pub use open::{Fault, OpenClock};
pub use quick::{Quick, compile_for, paced_score, quick_score, slot_of};
pub use splits::{LineSets, Splits, splits, traced};
pub use wishes::{first_set, most_of, wishes_broken};

use super::work::{Work, rounds_of_units};
use crate::learning::Foretold;
use crate::pacing::{
    Athlete, Forecast, Policy, Run, Scored, Style, Workout, best_pacing, best_pacing_in, forecast_judged,
    settle, tasks_for,
};
use crate::reason::Beyond;
use crate::roster::Ability;
use crate::sheet::TargetUnit;
use crate::stimulus::Stimulus;
use crate::units::{Provenance, Standard};
use quick::to_unit;
use serde::{Deserialize, Serialize};

/// A middle later than so many caps is no time any more but a sign to scale.
const MOST_CAPS: f64 = 2.5;
/// Sweeps of the pacing search for a shown range: the second sweep gains under 1 per cent.
const SWEEPS: u32 = 1;

/// What a prediction counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum PredictionUnit {
    #[serde(rename = "s")]
    Seconds,
    #[serde(rename = "reps")]
    Reps,
    #[serde(rename = "rounds")]
    Rounds,
    #[serde(rename = "cycles")]
    Cycles,
    /// Seconds of rest left in the tightest cycle.
    #[serde(rename = "rest")]
    Rest,
}

/// The range of one member's result.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Prediction {
    /// What it counts.
    pub unit: PredictionUnit,
    /// 10 to 90 per cent of the runs, in steps of 10; times stop at the cap.
    pub deciles: [f64; 9],
    /// Share of the runs inside the window.
    pub on_stimulus: f64,
    /// Share of the runs that the cap ends.
    pub capped: f64,
    /// On an open clock: share of the runs that go on as they began.
    #[serde(default)]
    pub steady: Option<f64>,
    /// How well is known what the result hangs on.
    pub provenance: Provenance,
    /// What is known least of what it hangs on.
    #[serde(default)]
    pub weakest: Option<String>,
    /// Set where the work is far beyond the member: what to do instead of a time.
    pub scale_this: Option<Beyond>,
    /// What it was before results moved it; `None` where no result can be compared with it.
    #[serde(default)]
    pub foretold: Option<Foretold>,
    /// Results of the member's own that moved it.
    #[serde(default)]
    pub results: u32,
    /// Whether results moved it, theirs or others' of the hall.
    #[serde(default)]
    pub moved: bool,
}

impl Prediction {
    /// Whether the middle lies in a window, and on an open clock most runs go on as they began.
    pub fn likely(&self, window: &Stimulus) -> bool {
        let asked = !window.no_window() || self.steady.is_some();
        self.scale_this.is_none() && asked && window.holds(self.p50()) && self.goes_on()
    }

    /// Whether most runs go on as they began, where that is asked.
    pub fn goes_on(&self) -> bool {
        self.steady.is_none_or(|s| s >= 0.5)
    }

    /// The fast (or low) end of the 80 % range.
    pub fn p10(&self) -> f64 {
        self.deciles[0]
    }

    /// The middle.
    pub fn p50(&self) -> f64 {
        self.deciles[4]
    }

    /// The slow (or high) end.
    pub fn p90(&self) -> f64 {
        self.deciles[8]
    }
}

/// A prediction with the run behind it.
#[derive(Debug, Clone)]
pub struct Predicted {
    /// The range.
    pub prediction: Prediction,
    /// The mean member's best paced run, with every set.
    pub run: Run,
    /// What was run.
    pub workout: Workout,
    /// The mean member's pacing.
    pub policy: Policy,
    /// The mean member.
    pub athlete: Athlete,
    /// How the hall wants sets broken: what is advised, not how fast anybody is.
    pub style: Style,
    /// A line of it is far beyond the member, whatever the runs say.
    beyond: bool,
}

/// How a range is made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Effort {
    /// Simulated runs.
    pub runs: u32,
    /// Seed of all draws.
    pub seed: u64,
    /// How the hall wants sets broken.
    pub style: Style,
}

/// The range of a member's results.
pub fn predict(
    work: &Work,
    standard: Standard,
    ability: &Ability,
    stimulus: &Stimulus,
    effort: Effort,
) -> Predicted {
    let athlete = &ability.athlete;
    let (workout, lines) = compile_for(work, standard, athlete, stimulus);
    let tasks = tasks_for(&workout, athlete, &[]);
    let scale_this = beyond::beyond(&tasks, &workout, &lines);
    let (policy, run) = if scale_this.is_some() {
        settle(&workout, athlete, &tasks, &Policy::default())
    } else {
        best_pacing(&workout, athlete, SWEEPS)
    };
    let beyond = scale_this.is_some();
    let many = many_runs(work, standard, ability, &workout, &policy, effort);
    let prediction = of_forecast(work, standard, &workout, stimulus, &many, ability, scale_this);
    Predicted { prediction, run, workout, policy, athlete: athlete.clone(), style: effort.style, beyond }
}

/// Runs with what is not known of a member, paced one way.
fn many_runs(
    work: &Work,
    standard: Standard,
    ability: &Ability,
    workout: &Workout,
    policy: &Policy,
    effort: Effort,
) -> Forecast {
    let (open, runs) = (OpenClock::of(work), effort.runs.max(1));
    forecast_judged(workout, &ability.athlete, &ability.known, policy, (runs, effort.seed), |run| {
        open.is_none_or(|o| o.holds(run, rounds_of_units(work, standard, workout, run.reps + run.part)))
    })
}

impl Predicted {
    /// The same work of the same member in other runs: how it is paced is known.
    #[must_use]
    pub fn again(
        self,
        work: &Work,
        standard: Standard,
        ability: &Ability,
        stimulus: &Stimulus,
        effort: Effort,
    ) -> Predicted {
        let many = many_runs(work, standard, ability, &self.workout, &self.policy, effort);
        let scale_this = self.prediction.scale_this.clone().filter(|_| self.beyond);
        let prediction = of_forecast(work, standard, &self.workout, stimulus, &many, ability, scale_this);
        Predicted { prediction, style: effort.style, ..self }
    }

    /// The pacing that is advised: the hall's way of breaking sets.
    pub fn advised(&self) -> Policy {
        match self.style {
            Style::Free => self.policy.clone(),
            style => best_pacing_in(&self.workout, &self.athlete, SWEEPS, style).0,
        }
    }
}

pub(super) fn of_forecast(
    work: &Work,
    standard: Standard,
    workout: &Workout,
    stimulus: &Stimulus,
    many: &Forecast,
    ability: &Ability,
    scale_this: Option<Beyond>,
) -> Prediction {
    let convert = |s: f64| to_unit(work, standard, workout, stimulus, s, 1.0);
    let time = workout.scored == Scored::Time;
    let foretold = foretold::foretold(work, many, convert);
    let shift = foretold.as_ref().and_then(|b| ability.learnt.as_ref()?.shift(b));
    let all_middle = many.quantile(0.5);
    let shifted = |s: f64| shift.map_or(s, |x| x.moved(s, all_middle, time));
    let cap = stimulus.cap_s.filter(|_| workout.scored == Scored::Time);
    let mut scores: Vec<f64> = many.scores.iter().map(|s| convert(shifted(*s))).collect();
    scores.sort_by(f64::total_cmp);
    let capped = cap.map_or(0.0, |c| share(&scores, |s| s > c));
    let window = work.keeps(stimulus);
    let steady = OpenClock::of(work).map(|_| many.kept);
    // where nothing is asked nothing can be on stimulus
    let asked = if window.no_window() { steady.unwrap_or(0.0) } else { steady.unwrap_or(1.0) };
    let on_stimulus = share(&scores, |s| window.holds(s) && cap.is_none_or(|c| s <= c)) * asked;
    let at = |p: f64| {
        let i = (p * scores.len().saturating_sub(1) as f64).round() as usize;
        let v = scores.get(i).copied().unwrap_or(f64::INFINITY);
        cap.map_or(v, |c| v.min(c))
    };
    // runs that never end without a cap to end them stand at the slowest that did
    let last_finite = scores.iter().copied().filter(|s| s.is_finite()).fold(0.0, f64::max);
    let deciles = [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9].map(at);
    let middle = shifted(all_middle);
    let late = time && (cap.is_some_and(|c| middle > MOST_CAPS * c) || !middle.is_finite());
    let scale_this = scale_this.or_else(|| {
        late.then(|| if middle.is_finite() { Beyond::TooLong { seconds: middle } } else { Beyond::NeverEnds })
    });
    let unit = match (workout.scored, stimulus.unit) {
        (Scored::Time, _) => PredictionUnit::Seconds,
        (Scored::Margin, _) => PredictionUnit::Rest,
        _ if work.until_failure() => PredictionUnit::Cycles,
        (_, TargetUnit::Rounds) => PredictionUnit::Rounds,
        _ => PredictionUnit::Reps,
    };
    let provenance = match shift {
        Some(s) if s.from_results() => Provenance::Results,
        _ => ability.known.overall(&many.hangs_on),
    };
    let results = shift.map_or(0, |s| s.results);
    let weakest = ability.known.weakest(&many.hangs_on).map(str::to_owned);
    // a cycle that was not finished leaves no rest, however much was missing
    let deciles = deciles.map(|d| if d.is_finite() { d.max(0.0) } else { last_finite });
    Prediction {
        unit,
        deciles,
        on_stimulus,
        capped,
        steady,
        provenance,
        weakest,
        scale_this,
        foretold,
        results,
        moved: shift.is_some(),
    }
}

fn share(scores: &[f64], test: impl Fn(f64) -> bool) -> f64 {
    scores.iter().filter(|s| test(**s)).count() as f64 / scores.len().max(1) as f64
}
