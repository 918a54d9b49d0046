//! One member's run of one workout with everything that happened on the clock: what `simulate --trace` prints and the
//! strip on the pacing page draws.

use crate::pacing::{
    Did, Force, Policy, Run, Scored, SetPlan, Workout, best_pacing, settle, simulate_tasks, tasks_for,
};
use crate::roster::Ability;
use crate::stimulus::Stimulus;
use crate::units::{Standard, Unit, clock, plain};
use crate::versions::{Placed, Work, board_of_units, compile_lines, rounds_of_units, traced};
use serde::Serialize;

/// How a run is paced.
#[derive(Debug, Clone, PartialEq)]
pub enum Strategy {
    /// As fast as an even effort allows: the best pacing found.
    Even,
    /// Full speed from the start, sets to failure.
    Hot,
    /// Every line in one set; what fails is finished in pieces.
    Unbroken,
    /// One rep at a time.
    Singles,
    /// These set sizes, the last repeats.
    Sets(Vec<u32>),
}

impl Strategy {
    /// Reads `even`, `hot`, `unbroken`, `singles`, `sets:8-7`.
    ///
    /// # Errors
    /// Says which words there are.
    ///
    /// ```
    /// use lantern_core::plan::Strategy;
    /// assert_eq!(Strategy::read("sets:8-7"), Ok(Strategy::Sets(vec![8, 7])));
    /// assert!(Strategy::read("sets:").is_err());
    /// ```
    pub fn read(text: &str) -> Result<Strategy, String> {
        let all = || "Write even, hot, unbroken, singles, or sets with sizes, say sets:8-7.".to_owned();
        Ok(match text.trim().to_ascii_lowercase().as_str() {
            "even" => Strategy::Even,
            "hot" => Strategy::Hot,
            "unbroken" => Strategy::Unbroken,
            "singles" => Strategy::Singles,
            other => {
                let sizes: Vec<u32> = other
                    .strip_prefix("sets:")
                    .ok_or_else(all)?
                    .split('-')
                    .map(|n| n.trim().parse().ok().filter(|n| (1..=1000).contains(n)).ok_or_else(all))
                    .collect::<Result<_, _>>()?;
                Strategy::Sets(sizes)
            }
        })
    }

    fn policy(&self, workout: &Workout, ability: &Ability) -> Policy {
        let forced = |plan| Policy { force: Some(Force { slot: None, plan }), ..Policy::default() };
        match self {
            Strategy::Even => return best_pacing(workout, &ability.athlete, 2).0,
            Strategy::Hot => return Policy { hot: true, ..Policy::default() },
            _ => {}
        }
        let policy = match self {
            Strategy::Singles => forced(SetPlan::Singles),
            Strategy::Sets(sizes) => {
                let sizes = sizes.iter().map(|n| f64::from(*n)).collect();
                forced(SetPlan::Sizes { sizes, theta: 0.05 })
            }
            _ => forced(SetPlan::Sizes { sizes: vec![f64::MAX], theta: 0.0 }),
        };
        settle(workout, &ability.athlete, &tasks_for(workout, &ability.athlete, &[]), &policy).0
    }
}

/// A stretch of time in a member's run.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct TraceRow {
    /// s, start.
    pub from_s: f64,
    /// s, end.
    pub to_s: f64,
    /// work, break, rest or change.
    pub what: &'static str,
    /// Rounds, cycles or windows done before it.
    pub round: u32,
    /// Line of the work, from 0; none for a rest.
    pub line: Option<usize>,
    /// Movement done, broken off or gone to.
    pub movement: String,
    /// Units done.
    pub units: f64,
    /// What they count.
    pub unit: &'static str,
}

/// One run.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Traced {
    /// Result in words: `10:42`, `5+12`, `142 reps`.
    pub result: String,
    /// Everything was done.
    pub done: bool,
    /// Sets.
    pub sets: u32,
    /// s of work, breaks, rest, changes.
    pub seconds: [f64; 4],
    /// In order.
    pub rows: Vec<TraceRow>,
}

/// Runs a workout once for a member.
pub fn traced_run(
    work: &Work,
    standard: Standard,
    ability: &Ability,
    cap: Option<f64>,
    how: &Strategy,
) -> Traced {
    let (workout, _) = compile_lines(work, standard, &ability.athlete, cap);
    let tasks = tasks_for(&workout, &ability.athlete, &[]);
    let policy = how.policy(&workout, ability);
    let run = simulate_tasks(&workout, &ability.athlete, &tasks, &policy, true, true);
    let rows = rows(work, &run);
    Traced {
        result: result(work, standard, &workout, &run),
        done: run.done,
        sets: run.set_count,
        seconds: seconds_by_kind(&run),
        rows,
    }
}

/// s of work, breaks, rest and changes in a run that was logged.
pub fn seconds_by_kind(run: &Run) -> [f64; 4] {
    [Did::Work, Did::Break, Did::Rest, Did::Change]
        .map(|kind| run.trace.iter().filter(|s| s.did == kind).map(|s| s.to - s.from).sum())
}

/// A placed member's run with all that happens on the clock, stretched to the middle of their range where the score is a
/// time; `None` where the work is far beyond them.
pub fn traced_at_middle(p: &Placed, stimulus: &Stimulus) -> Option<Run> {
    let prediction = &p.predicted.prediction;
    if prediction.scale_this.is_some() {
        return None;
    }
    let mut run = traced(&p.predicted);
    if stimulus.is_time() && run.time > 0.0 {
        let stretch = prediction.p50() / run.time;
        run.trace.iter_mut().for_each(|s| (s.from, s.to) = (s.from * stretch, s.to * stretch));
        run.round_ends.iter_mut().for_each(|t| *t *= stretch);
    }
    Some(run)
}

/// The rows of a run that was logged.
pub fn rows(work: &Work, run: &Run) -> Vec<TraceRow> {
    // a place counts the lines and what is done along with them
    let places: Vec<(usize, &str, Unit)> = work
        .lines
        .iter()
        .enumerate()
        .flat_map(|(i, l)| {
            std::iter::once((i, l.movement.as_str(), l.unit))
                .chain(l.along.iter().map(move |a| (i, a.movement.as_str(), Unit::Reps)))
        })
        .collect();
    run.trace
        .iter()
        .map(|s| {
            let at = (s.did != Did::Rest).then(|| places.get(s.line)).flatten();
            TraceRow {
                from_s: (s.from * 10.0).round() / 10.0,
                to_s: (s.to * 10.0).round() / 10.0,
                what: s.did.word(),
                round: s.round,
                line: at.map(|(i, ..)| *i),
                movement: at.map_or_else(String::new, |(_, m, _)| (*m).to_owned()),
                units: (s.units * 100.0).round() / 100.0,
                unit: at.filter(|_| s.did == Did::Work).map_or("", |(.., u)| u.word()),
            }
        })
        .collect()
}

fn result(work: &Work, standard: Standard, workout: &Workout, run: &Run) -> String {
    if run.stuck {
        return "cannot be done at this load or skill".to_owned();
    }
    let counted = run.reps + run.part;
    match workout.scored {
        Scored::Time if run.done => clock(run.time),
        Scored::Time => {
            let at = rounds_of_units(work, standard, workout, counted);
            format!("cap, {} rounds done", plain((at * 100.0).floor() / 100.0))
        }
        Scored::Margin if run.margin < 0.0 => "a cycle is not finished in its time".to_owned(),
        Scored::Margin => format!("{} of rest in the tightest cycle", clock(run.margin)),
        Scored::Lowest => format!("lowest {} reps", plain(run.lowest.floor())),
        Scored::Reps if work.until_failure() => {
            format!("{} cycles", plain((counted * 100.0).floor() / 100.0))
        }
        Scored::Reps if work.one_amrap() => {
            let rounds = rounds_of_units(work, standard, workout, counted);
            format!("{} rounds", plain((rounds * 100.0).floor() / 100.0))
        }
        Scored::Reps => format!("{} reps", plain(board_of_units(work, standard, workout, counted).floor())),
    }
}
