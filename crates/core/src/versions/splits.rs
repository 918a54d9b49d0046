//! Splits and sets of one member: the paced run stretched to the middle of the range, so that the printed parts add up
//! to the printed result.

use super::compile::round_units;
use super::predict::Predicted;
use crate::pacing::SetDone;
use serde::{Deserialize, Serialize};

/// How one line is broken in one round.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LineSets {
    /// Line with its along movements counted on: position in the round.
    pub position: usize,
    /// Round, from 0.
    pub round: usize,
    /// Units of each set, in order.
    pub sets: Vec<f64>,
    /// s on the clock at its start.
    pub from_s: f64,
    /// s on the clock at its end.
    pub to_s: f64,
    /// Mean rest between its sets, s; 0 for a single set.
    pub rest_s: f64,
}

/// A member's way through a workout.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Splits {
    /// s on the clock at the end of each round.
    pub round_ends: Vec<f64>,
    /// Every line of every round, in order.
    pub lines: Vec<LineSets>,
}

/// The splits of a prediction; empty where the work is far beyond the member. `to_s`: where the last round ends (the
/// middle of the range for a time), `None` to keep the run's own clock.
pub fn splits(predicted: &Predicted, to_s: Option<f64>, amrap: bool) -> Splits {
    if predicted.prediction.scale_this.is_some() {
        return Splits::default();
    }
    let stretch = to_s.filter(|_| predicted.run.time > 0.0).map_or(1.0, |t| t / predicted.run.time);
    // run again with a log: the search keeps none
    let run = crate::pacing::simulate_tasks(
        &predicted.workout,
        &predicted.athlete,
        &crate::pacing::tasks_for(&predicted.workout, &predicted.athlete, &[]),
        &predicted.policy,
        false,
        true,
    );
    let rounds = round_units(&predicted.workout);
    let lines = walk(&run.sets, &rounds, amrap, stretch);
    Splits { round_ends: run.round_ends.iter().map(|t| t * stretch).collect(), lines }
}

/// Matches the sets in order with what each round asks for.
fn walk(sets: &[SetDone], rounds: &[Vec<(usize, f64)>], amrap: bool, stretch: f64) -> Vec<LineSets> {
    let mut out = Vec::new();
    let mut i = 0;
    let mut round = 0;
    while let Some(tasks) = if amrap { rounds.first() } else { rounds.get(round) } {
        for (position, (slot, n)) in tasks.iter().enumerate() {
            let mut line =
                LineSets { position, round, sets: Vec::new(), from_s: 0.0, to_s: 0.0, rest_s: 0.0 };
            let (mut left, mut rest) = (*n, 0.0);
            while left > 1e-6 {
                let Some(s) = sets.get(i).filter(|s| s.slot == *slot) else { break };
                if line.sets.is_empty() {
                    line.from_s = s.from * stretch;
                } else {
                    rest += s.from * stretch - line.to_s;
                }
                line.to_s = s.to * stretch;
                line.sets.push(s.units);
                left -= s.units;
                i += 1;
            }
            if line.sets.is_empty() {
                return out;
            }
            line.rest_s = if line.sets.len() > 1 { rest / (line.sets.len() - 1) as f64 } else { 0.0 };
            out.push(line);
        }
        round += 1;
        if i >= sets.len() || round > 400 {
            break;
        }
    }
    out
}
