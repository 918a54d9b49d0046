//! A version's work as the simulator runs it for one member, and the simulator's units as a score on a board.

use super::work::{Clock, Line, Weight, Work};
use crate::movement::{LoadKind, catalogue};
use crate::pacing::{Athlete, Node, Scored, Workout, resolve, table};
use crate::sheet::PercentBase;
use crate::units::{Standard, Unit};

/// Length of one lunge or crawl step, m (own).
const STEP_M: f64 = 0.8;
/// Share of a bar's percentage that is rounded to, kg: what two plates of 1.25 make.
const ROUND_KG: f64 = 2.5;

/// kg of one implement that a member lifts on a line.
pub fn line_kg(line: &Line, standard: Standard, athlete: &Athlete) -> Option<f64> {
    match line.weight.as_ref()? {
        Weight::Kg(kg) => Some(standard.of(*kg)),
        Weight::Percent { percent, of } => {
            let lift = match of {
                PercentBase::Lift(lift) => lift.as_str(),
                _ => line.movement.as_str(),
            };
            let one = athlete.one_rm_for(lift)?;
            Some(((one * percent / 100.0) / ROUND_KG).round() * ROUND_KG)
        }
    }
}

/// Native units of the pacing row for an amount of a line.
fn units(line_unit: Unit, n: f64, row: usize, athlete: &Athlete, load: f64) -> f64 {
    let Some(r) = table::at(row) else { return n };
    match (line_unit, r.unit) {
        (Unit::Seconds, "s") => n,
        (Unit::Seconds, _) => {
            let per_unit = resolve(athlete, row, load, 1.0, 0).map_or(2.0, |t| t.cycle / t.chunk);
            (n / per_unit.max(0.05)).max(1.0)
        }
        (Unit::Metres, "rep") => (n / STEP_M).round().max(1.0),
        _ => n,
    }
}

/// The tree that the simulator walks for one member.
pub fn compile(work: &Work, standard: Standard, athlete: &Athlete, cap: Option<f64>) -> Workout {
    let scored = if work.amrap_s().is_some() { Scored::Reps } else { Scored::Time };
    let mut out = Workout { scored, cap, tasks: Vec::new(), body: Vec::new() };
    let last = work.lines.len();
    let between = work.rests.iter().filter(|(at, _)| *at == last).map(|(_, s)| f64::from(*s)).sum();
    match work.clock {
        Clock::Rounds(n) => {
            let body = round(work, 0, standard, athlete, &mut out);
            out.body = vec![Node::Rounds { n, rest: between, body }];
        }
        Clock::Scheme(n) => {
            for r in 0..n as usize {
                let body = round(work, r, standard, athlete, &mut out);
                out.body.push(Node::Rounds { n: 1, rest: 0.0, body });
                if between > 0.0 && r + 1 < n as usize {
                    out.body.push(Node::Rest(between));
                }
            }
        }
        Clock::Once => {
            let body = round(work, 0, standard, athlete, &mut out);
            out.body = vec![Node::Rounds { n: 1, rest: 0.0, body }];
        }
        Clock::Amrap(t) => {
            let mut body = round(work, 0, standard, athlete, &mut out);
            if between > 0.0 {
                body.push(Node::Rest(between));
            }
            out.body = vec![Node::Amrap { t: f64::from(t), body }];
        }
    }
    out
}

fn round(work: &Work, r: usize, standard: Standard, athlete: &Athlete, out: &mut Workout) -> Vec<Node> {
    let mut body = Vec::new();
    for (i, line) in work.lines.iter().enumerate() {
        let rest: u32 = work.rests.iter().filter(|(at, _)| *at == i).map(|(_, s)| s).sum();
        if rest > 0 {
            body.push(Node::Rest(f64::from(rest)));
        }
        let load = line_kg(line, standard, athlete).unwrap_or(0.0) * line.held();
        let load = if loaded(&line.movement) { load } else { 0.0 };
        if let Some(row) = table::index_for(&line.movement, line.unit) {
            let n = units(line.unit, line.count(r, standard), row, athlete, load);
            body.push(Node::Task { slot: out.slot(row, load), n: Some(n), times: 1.0 });
        }
        for a in &line.along {
            if let Some(row) = table::index(&a.movement) {
                let n = a.counts.get(r).or(a.counts.last()).map_or(0.0, |c| standard.of(*c));
                body.push(Node::Task { slot: out.slot(row, 0.0), n: Some(n), times: 1.0 });
            }
        }
    }
    body
}

fn loaded(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| !matches!(m.load, LoadKind::None | LoadKind::Machine))
}

/// Units of a compiled round in order: what the sets of a run are matched against.
pub fn round_units(workout: &Workout) -> Vec<Vec<(usize, f64)>> {
    fn tasks(body: &[Node]) -> Vec<(usize, f64)> {
        body.iter()
            .filter_map(|n| match n {
                Node::Task { slot, n: Some(n), .. } => Some((*slot, *n)),
                _ => None,
            })
            .collect()
    }
    workout
        .body
        .iter()
        .flat_map(|node| match node {
            Node::Rounds { n, body, .. } => vec![tasks(body); *n as usize],
            Node::Amrap { body, .. } => vec![tasks(body)],
            _ => Vec::new(),
        })
        .collect()
}

/// Reps of one round as a board counts them: every rep and calorie is one, a distance or a hold is one in all.
fn board(line: &Line, n: f64) -> f64 {
    match line.unit {
        Unit::Reps | Unit::Calories => n,
        Unit::Metres | Unit::Seconds => 1.0,
    }
}

/// Reps of a whole round on the board, for one standard.
pub fn board_reps(work: &Work, standard: Standard) -> f64 {
    work.lines.iter().map(|l| board(l, l.count(0, standard)) + along(l, standard)).sum()
}

fn along(line: &Line, standard: Standard) -> f64 {
    line.along.iter().filter_map(|a| a.counts.first()).map(|c| standard.of(*c)).sum()
}

/// Rounds as a decimal from the simulator's counted units: 4 rounds and 12 of 30 reps are 4.4.
pub fn rounds_of_units(work: &Work, standard: Standard, workout: &Workout, counted: f64) -> f64 {
    let tasks = round_units(workout).into_iter().next().unwrap_or_default();
    let whole_units: f64 = tasks.iter().map(|(_, n)| n).sum();
    let reps = board_reps(work, standard);
    if whole_units <= 0.0 || reps <= 0.0 {
        return 0.0;
    }
    let whole = (counted / whole_units + 1e-9).floor();
    let mut left = counted - whole * whole_units;
    let mut done = 0.0;
    let weights = work.lines.iter().flat_map(|l| {
        std::iter::once(board(l, l.count(0, standard)))
            .chain(l.along.iter().filter_map(|a| a.counts.first()).map(move |c| standard.of(*c)))
    });
    for ((_, n), weight) in tasks.iter().zip(weights) {
        let part = (left / n).clamp(0.0, 1.0);
        done += part * weight;
        left -= n;
        if left <= 0.0 {
            break;
        }
    }
    whole + done / reps
}
