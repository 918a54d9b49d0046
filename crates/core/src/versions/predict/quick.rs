//! A quick middle for searching: one settled run of an athlete.

use super::open::OpenClock;
use super::wishes::asked_of;
use crate::pacing::{Athlete, Policy, Run, Scored, Task, Workout, best_pacing, settle, tasks_for};
use crate::sheet::TargetUnit;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::work::{Compiled, Work, board_of_units, compile_lines, rounds_of_units};

/// The middle of many runs lies later than the settled run by about this: any weak pattern slows the whole
/// (own; the reference distribution of the pacing model has 1.03 to 1.12).
const MIDDLE_OF_MANY: f64 = 1.05;
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

impl Quick {
    /// The same, later by so much as results have taught, in logarithms.
    #[must_use]
    pub fn later(mut self, late: f64) -> Quick {
        let by = if self.workout.scored == Scored::Time { late } else { -late };
        // rest that is left is no ratio
        if self.workout.scored != Scored::Margin {
            self.score *= crate::pacing::exp(by);
        }
        self
    }
}

/// One settled run of an athlete: cheap, for searching.
pub fn quick_score(work: &Work, standard: Standard, athlete: &Athlete, stimulus: &Stimulus) -> Quick {
    let run = |w: &Workout, tasks: &[Task]| settle(w, athlete, tasks, &Policy::default()).1;
    scored(work, standard, athlete, stimulus, MIDDLE_OF_MANY, run)
}

/// The same of a run that is paced as well as a short search finds: what a member's range lies around.
pub fn paced_score(work: &Work, standard: Standard, athlete: &Athlete, stimulus: &Stimulus) -> Quick {
    scored(work, standard, athlete, stimulus, 1.0, |w, _| best_pacing(w, athlete, 1).1)
}

fn scored(
    work: &Work,
    standard: Standard,
    athlete: &Athlete,
    stimulus: &Stimulus,
    late: f64,
    run: impl FnOnce(&Workout, &[Task]) -> Run,
) -> Quick {
    let (workout, lines) = compile_for(work, standard, athlete, stimulus);
    let tasks = tasks_for(&workout, athlete, &[]);
    let beyond = tasks.iter().find(|t| !t.feasible).map(|t| t.slot);
    let run = run(&workout, &tasks);
    let score = to_unit(work, standard, &workout, stimulus, run.score(workout.scored), late);
    let unsteady = OpenClock::of(work)
        .map_or(0.0, |o| o.miss(&run, rounds_of_units(work, standard, &workout, run.reps + run.part)));
    let score = if beyond.is_some() { worst(stimulus) } else { score };
    Quick { score, unsteady, beyond, run, workout, lines }
}

fn worst(stimulus: &Stimulus) -> f64 {
    if stimulus.is_time() { f64::INFINITY } else { 0.0 }
}

/// The simulator's score in the window's unit; `late` stretches it towards the middle of many runs.
pub(super) fn to_unit(
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

/// The work of one athlete with its cap and with what the sheet asks of the sets.
pub fn compile_for(
    work: &Work,
    standard: Standard,
    athlete: &Athlete,
    stimulus: &Stimulus,
) -> (Workout, Compiled) {
    let (mut workout, lines) = compile_lines(work, standard, athlete, stimulus.cap_s);
    workout.asked = asked_of(work, stimulus, &lines);
    (workout, lines)
}

/// Slot of a line's task in its first round.
pub fn slot_of(work: &Work, lines: &Compiled, line: usize) -> Option<usize> {
    let before = work.position_of(line);
    lines.slots.iter().find(|(place, _)| *place == before).map(|(_, slot)| *slot)
}
