//! How one member fares at one version: a quick middle for searching, and the range that is shown.

use super::board::{board_of_units, rounds_of_units};
use super::compile::{Compiled, compile_lines};
use super::open::OpenClock;
use super::work::Work;
use crate::pacing::{
    Athlete, Forecast, Policy, Run, Scored, Style, Task, Workout, best_pacing, best_pacing_in,
    forecast_judged, settle, tasks_for,
};
use crate::roster::Ability;
use crate::sheet::{TargetUnit, Wish};
use crate::stimulus::{Stimulus, groups_of};
use crate::units::{Provenance, Standard};
use serde::{Deserialize, Serialize};

/// The middle of many runs lies later than the settled run by about this: any weak pattern slows the whole
/// (own; the reference distribution of the pacing model has 1.03 to 1.12).
const MIDDLE_OF_MANY: f64 = 1.05;
/// More reps in all than so many of a member's largest sets is work far beyond them (own: two sets of ten are a long day, a
/// dozen is no workout).
const MOST_SETS_IN_ALL: f64 = 11.5;
/// The same of a lift at a load, which no rest makes light again.
const MOST_LOADED_SETS: f64 = 8.0;
/// The same from [`HEAVY_SHARE`] of the maximum on.
const MOST_HEAVY_SETS: f64 = 4.75;
const HEAVY_SHARE: f64 = 0.7;
/// The same in one round of a list without an end.
const MOST_SETS_A_ROUND: f64 = 7.0;
/// A middle later than so many caps is no time any more but a sign to scale.
const MOST_CAPS: f64 = 2.5;
/// Sweeps of the pacing search for a shown range: the second sweep gains under 1 per cent.
const SWEEPS: u32 = 1;

/// A score in the window's unit from one settled run.
#[derive(Debug, Clone)]
pub struct Quick {
    /// s, rounds or reps; infinite when the work cannot be done.
    pub score: f64,
    /// How much of what an open clock asks the run breaks; 0 on every other clock.
    pub unsteady: f64,
    /// Line at which the member is stuck or far beyond, by slot.
    pub beyond: Option<usize>,
    /// The run.
    pub run: Run,
    /// What was run.
    pub workout: Workout,
    /// Which task stands for which line.
    pub lines: Compiled,
}

/// One settled run of an athlete: cheap, for searching.
pub fn quick_score(work: &Work, standard: Standard, athlete: &Athlete, stimulus: &Stimulus) -> Quick {
    let (workout, lines) = compile_lines(work, standard, athlete, stimulus.cap_s);
    let tasks = tasks_for(&workout, athlete, &[]);
    let beyond = tasks.iter().find(|t| !t.feasible).map(|t| t.slot);
    let (_, run) = settle(&workout, athlete, &tasks, &Policy::default());
    let score = to_unit(work, standard, &workout, stimulus, run.score(workout.scored), MIDDLE_OF_MANY);
    let unsteady = OpenClock::of(work)
        .map_or(0.0, |o| o.miss(&run, rounds_of_units(work, standard, &workout, run.reps + run.part)));
    let score = if beyond.is_some() { worst(stimulus) } else { score };
    Quick { score, unsteady, beyond, run, workout, lines }
}

fn worst(stimulus: &Stimulus) -> f64 {
    if stimulus.is_time() { f64::INFINITY } else { 0.0 }
}

/// The simulator's score in the window's unit; `late` stretches it towards the middle of many runs.
fn to_unit(
    work: &Work,
    standard: Standard,
    workout: &Workout,
    stimulus: &Stimulus,
    score: f64,
    late: f64,
) -> f64 {
    match (workout.scored, stimulus.unit) {
        (Scored::Time, _) => score * late,
        // all that is done in a cycle takes longer; what is left of it is rest
        (Scored::Margin, _) => match work.cycle_s() {
            Some(t) => t - (t - score) * late,
            None => score,
        },
        _ if work.until_failure() => score / late,
        (_, TargetUnit::Rounds) => rounds_of_units(work, standard, workout, score / late),
        _ => board_of_units(work, standard, workout, score / late),
    }
}

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
    pub scale_this: Option<String>,
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
    let (workout, lines) = compile_lines(work, standard, athlete, stimulus.cap_s);
    let tasks = tasks_for(&workout, athlete, &[]);
    let scale_this = beyond(&tasks, &workout, &lines);
    let (policy, run) = if scale_this.is_some() {
        settle(&workout, athlete, &tasks, &Policy::default())
    } else {
        best_pacing(&workout, athlete, SWEEPS)
    };
    let runs = effort.runs.max(1);
    let open = OpenClock::of(work);
    let many = forecast_judged(&workout, athlete, &ability.known, &policy, (runs, effort.seed), |run| {
        open.is_none_or(|o| o.holds(run, rounds_of_units(work, standard, &workout, run.reps + run.part)))
    });
    let prediction = of_forecast(work, standard, &workout, stimulus, &many, ability, scale_this);
    Predicted { prediction, run, workout, policy, athlete: athlete.clone(), style: effort.style }
}

impl Predicted {
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
    scale_this: Option<String>,
) -> Prediction {
    let convert = |s: f64| to_unit(work, standard, workout, stimulus, s, 1.0);
    let cap = stimulus.cap_s.filter(|_| workout.scored == Scored::Time);
    let mut scores: Vec<f64> = many.scores.iter().map(|s| convert(*s)).collect();
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
    let middle = many.quantile(0.5);
    let late = workout.scored == Scored::Time
        && (cap.is_some_and(|c| middle > MOST_CAPS * c) || !middle.is_finite());
    let scale_this = scale_this.or_else(|| {
        late.then(|| {
            if middle.is_finite() {
                format!("This would take about {}: scale this.", crate::units::clock(middle))
            } else {
                "Most runs take more than three caps or never end: scale this.".to_owned()
            }
        })
    });
    let unit = match (workout.scored, stimulus.unit) {
        (Scored::Time, _) => PredictionUnit::Seconds,
        (Scored::Margin, _) => PredictionUnit::Rest,
        _ if work.until_failure() => PredictionUnit::Cycles,
        (_, TargetUnit::Rounds) => PredictionUnit::Rounds,
        _ => PredictionUnit::Reps,
    };
    let provenance = ability.known.overall(&many.hangs_on);
    let weakest = ability.known.weakest(&many.hangs_on).map(str::to_owned);
    // a cycle that was not finished leaves no rest, however much was missing
    let deciles = deciles.map(|d| if d.is_finite() { d.max(0.0) } else { last_finite });
    Prediction { unit, deciles, on_stimulus, capped, steady, provenance, weakest, scale_this }
}

fn share(scores: &[f64], test: impl Fn(f64) -> bool) -> f64 {
    scores.iter().filter(|s| test(**s)).count() as f64 / scores.len().max(1) as f64
}

/// Too much of a task for a member.
pub struct TooMuch<'a> {
    task: &'a Task,
    /// Units, in all or in one round of a list without an end.
    units: f64,
    in_a_round: bool,
}

/// Tasks of which a workout holds many times the largest set.
pub fn far_beyond<'a>(tasks: &'a [Task], lines: &'a Compiled) -> impl Iterator<Item = TooMuch<'a>> {
    tasks.iter().filter(|t| super::search::limited(t) && t.most.is_finite()).filter_map(|task| {
        let of = |all: &[f64]| all.get(task.slot).copied().unwrap_or(0.0);
        let most = match task.share {
            s if s >= HEAVY_SHARE => MOST_HEAVY_SETS,
            s if s > 0.0 => MOST_LOADED_SETS,
            _ => MOST_SETS_IN_ALL,
        };
        let (total, round) = (of(&lines.amounts), of(&lines.in_a_round));
        if total > most * task.most {
            Some(TooMuch { task, units: total, in_a_round: false })
        } else {
            (round > MOST_SETS_A_ROUND * task.most).then_some(TooMuch {
                task,
                units: round,
                in_a_round: true,
            })
        }
    })
}

/// The first line that is far beyond a member: a load or skill they cannot do, or many times their largest set.
fn beyond(tasks: &[Task], workout: &Workout, lines: &Compiled) -> Option<String> {
    if let Some(task) = tasks.iter().find(|t| !t.feasible) {
        let name = name_of(workout, task.slot);
        return Some(format!("{name} cannot be done yet at this load or skill: scale this."));
    }
    let much = far_beyond(tasks, lines).next()?;
    Some(format!(
        "{} {} {} with a largest set of {}: scale this.",
        crate::units::plain(much.units.round()),
        name_of(workout, much.task.slot),
        if much.in_a_round { "a round" } else { "in all" },
        crate::units::plain(much.task.most.round())
    ))
}

fn name_of(workout: &Workout, slot: usize) -> String {
    let row = workout.tasks.get(slot).and_then(|(row, _)| crate::pacing::table::at(*row));
    row.map_or_else(String::new, |r| crate::movement::say::spoken(&r.id))
}

/// How a run breaks the wishes of a stimulus: 0 when it keeps all of them; 1 for each set or half-minute too much.
pub fn wishes_broken(work: &Work, quick: &Quick, stimulus: &Stimulus, tasks: &[Task]) -> f64 {
    let mut out = 0.0;
    for wish in &stimulus.wishes {
        match wish {
            Wish::MostSets { movement, sets } => {
                out += most_sets(work, quick, tasks, movement, f64::from(*sets))
            }
            Wish::UnbrokenShare { movement, share } => {
                for (count, most) in sizes(work, quick, tasks, movement) {
                    out += (share * count - most).max(0.0) / count.max(1.0) * 2.0;
                }
            }
            Wish::LongestRound { seconds } => {
                let longest = quick.run.time / work.rounds().max(1) as f64;
                out += ((longest - f64::from(*seconds)) / 30.0).max(0.0);
            }
            Wish::LeastPace { reps_per_min } => {
                let pace = quick.run.reps / quick.run.time.max(1.0) * 60.0;
                out += ((reps_per_min - pace) / reps_per_min.max(0.1)).max(0.0) * 2.0;
            }
            Wish::Limit { what } => {
                if let Some(groups) = groups_of(what) {
                    out += broken_by_others(work, quick, tasks, groups);
                }
            }
            // the rest of a cycle is the unit of its window
            Wish::LeastRest { .. } => {}
        }
    }
    for line in work.lines.iter().filter(|l| l.unbroken) {
        out += most_sets(work, quick, tasks, &line.movement, 1.0);
    }
    out
}

/// Half of each set after the first that a line needs whose group is not the one that should be the limit: what must not be the
/// limit is not broken (own).
fn broken_by_others(work: &Work, quick: &Quick, tasks: &[Task], groups: &[usize]) -> f64 {
    (0..work.lines.len())
        .filter_map(|i| {
            let (slot, line) = (slot_of(work, quick, i)?, work.lines.get(i)?);
            let task = tasks.get(slot).filter(|t| super::search::limited(t) && t.most.is_finite())?;
            let row = crate::pacing::table::at(quick.workout.tasks.get(slot)?.0)?;
            let sets = (line.largest() / (task.most * 0.67).max(1.0)).ceil();
            (!groups.contains(&row.primary)).then_some(0.5 * (sets - 1.0).max(0.0))
        })
        .sum()
}

/// (count of a round, largest fresh set) of the lines that stand for a movement.
fn sizes(work: &Work, quick: &Quick, tasks: &[Task], movement: &str) -> Vec<(f64, f64)> {
    work.lines
        .iter()
        .enumerate()
        .filter(|(_, l)| stands_for(&l.movement, movement))
        .filter_map(|(i, l)| Some((l.largest(), slot_of(work, quick, i).and_then(|s| tasks.get(s))?.most)))
        .collect()
}

/// A lower rung still stands for the movement of the wish.
fn stands_for(id: &str, wished: &str) -> bool {
    id == wished
        || crate::movement::catalogue()
            .ladder_for(wished)
            .is_some_and(|l| l.rungs.iter().any(|r| r.movement == id))
}

/// Slot of a line's task in its first round.
pub fn slot_of(work: &Work, quick: &Quick, line: usize) -> Option<usize> {
    let before: usize = work.lines.iter().take(line).map(|l| 1 + l.along.len()).sum();
    quick.lines.slots.iter().find(|(place, _)| *place == before).map(|(_, slot)| *slot)
}

fn most_sets(work: &Work, quick: &Quick, tasks: &[Task], movement: &str, wanted: f64) -> f64 {
    sizes(work, quick, tasks, movement)
        .into_iter()
        // the largest fresh set shrinks to about two thirds in the middle of the work (own)
        .map(|(count, most)| (count / (most * 0.67).max(1.0)).ceil())
        .map(|sets| (sets - wanted).max(0.0))
        .sum()
}
