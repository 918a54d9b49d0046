//! Splits and sets of one member: the paced run stretched to the middle of the range, so that the printed parts add up
//! to the printed result.

use super::Predicted;
use crate::pacing::{Did, Run, Span};
use crate::units::{clock, plain};
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
    /// s on the clock at the start of each set: when it is picked up.
    pub starts: Vec<f64>,
    /// s on the clock at its start.
    pub from_s: f64,
    /// s on the clock at its end.
    pub to_s: f64,
    /// Mean rest between its sets, s; 0 for a single set.
    pub rest_s: f64,
}

impl LineSets {
    /// Sets in words: `8 + 7`; three or more equal ones in a row as `2 + 4×1`.
    pub fn text(&self) -> String {
        let mut runs: Vec<(f64, usize)> = Vec::new();
        for n in self.sets.iter().map(|n| n.round()) {
            match runs.last_mut() {
                Some((last, k)) if (*last - n).abs() < 0.5 => *k += 1,
                _ => runs.push((n, 1)),
            }
        }
        let say = |(n, k): (f64, usize)| match k {
            1 => plain(n),
            2 => format!("{0} + {0}", plain(n)),
            _ => format!("{k}×{}", plain(n)),
        };
        runs.into_iter().map(say).collect::<Vec<_>>().join(" + ")
    }

    /// The same with the clock at which each set but the first is picked up: `8 + 7, on it at 0:45`.
    pub fn on_the_clock(&self) -> String {
        let at: Vec<String> = self.starts.iter().skip(1).map(|t| clock(*t)).collect();
        if at.is_empty() { self.text() } else { format!("{}, on it at {}", self.text(), at.join(", ")) }
    }
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
pub fn splits(predicted: &Predicted, to_s: Option<f64>) -> Splits {
    if predicted.prediction.scale_this.is_some() {
        return Splits::default();
    }
    let stretch = to_s.filter(|_| predicted.run.time > 0.0).map_or(1.0, |t| t / predicted.run.time);
    let run = traced(predicted);
    let lines = of_trace(&run.trace, stretch);
    Splits { round_ends: run.round_ends.iter().map(|t| t * stretch).collect(), lines }
}

/// The run as it is advised, with everything that happened on the clock: the search keeps none.
pub fn traced(predicted: &Predicted) -> Run {
    let tasks = crate::pacing::tasks_for(&predicted.workout, &predicted.athlete, &[]);
    crate::pacing::simulate_tasks(
        &predicted.workout,
        &predicted.athlete,
        &tasks,
        &predicted.advised(),
        false,
        true,
    )
}

/// Sets of the same line in the same round, one after another.
fn of_trace(trace: &[Span], stretch: f64) -> Vec<LineSets> {
    let mut out: Vec<LineSets> = Vec::new();
    for s in trace.iter().filter(|s| s.did == Did::Work && s.units > 0.0) {
        let round = s.round as usize;
        match out.last_mut() {
            Some(l) if l.position == s.line && l.round == round => {
                // the mean over the rests so far and this one
                let n = l.sets.len() as f64;
                l.rest_s = (l.rest_s * (n - 1.0) + s.from * stretch - l.to_s) / n;
                l.sets.push(s.units);
                l.starts.push(s.from * stretch);
                l.to_s = s.to * stretch;
            }
            _ => out.push(LineSets {
                position: s.line,
                round,
                sets: vec![s.units],
                starts: vec![s.from * stretch],
                from_s: s.from * stretch,
                to_s: s.to * stretch,
                rest_s: 0.0,
            }),
        }
    }
    out
}
