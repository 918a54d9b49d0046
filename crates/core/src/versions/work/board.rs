//! The simulator's units as a score on a board: rounds as a decimal, reps.

use super::{Clock, Line, Work};
use crate::pacing::{Node, Workout};
use crate::units::{Standard, Unit};

/// Reps of one round as a board counts them: every rep and calorie is one, a distance or a hold is one in all.
fn board(line: &Line, n: f64) -> f64 {
    match line.unit {
        Unit::Reps | Unit::Calories => n,
        Unit::Metres | Unit::Seconds => 1.0,
    }
}

/// Reps of a whole round on the board, for one standard.
pub fn board_reps(work: &Work, standard: Standard) -> f64 {
    work.list(0).map(|(_, l)| board(l, l.count(0, standard)) + along(l, standard)).sum()
}

fn along(line: &Line, standard: Standard) -> f64 {
    line.along.iter().filter_map(|a| a.counts.first()).map(|c| standard.of(*c)).sum()
}

/// The lists of a workout in the simulator's units, in order: (how many passes, list); an open list stands last.
fn lists(workout: &Workout) -> Vec<(u32, &[Node])> {
    fn collect<'a>(nodes: &'a [Node], out: &mut Vec<(u32, &'a [Node])>) {
        for node in nodes {
            match node {
                Node::Amrap { body, .. } | Node::Windows { body, max: None, .. } => {
                    out.push((u32::MAX, body))
                }
                Node::UntilFailure { body, .. } => out.push((u32::MAX, body)),
                Node::Rounds { n, body, .. } | Node::Every { n, body, .. } => out.push((*n, body)),
                Node::Interrupt { body, .. } | Node::Penalty { body, .. } => collect(body, out),
                _ => {}
            }
        }
    }
    let mut out = Vec::new();
    collect(&workout.body, &mut out);
    out
}

/// The list of a pass, and the pass inside its own rounds.
fn list_at<'a>(lists: &[(u32, &'a [Node])], pass: u32) -> Option<(&'a [Node], u32)> {
    let mut before = 0u32;
    for (n, body) in lists {
        if pass - before < *n {
            return Some((body, pass - before));
        }
        before = before.saturating_add(*n);
    }
    None
}

/// Rounds as a decimal from the simulator's counted units: 4 rounds and 12 of 30 reps are 4.4.
pub fn rounds_of_units(work: &Work, standard: Standard, workout: &Workout, counted: f64) -> f64 {
    let lists = lists(workout);
    let (mut left, mut whole) = (counted, 0u32);
    // a list that rises is longer each time
    let (list, pass) = loop {
        let Some((list, pass)) = list_at(&lists, whole) else { return f64::from(whole) };
        let round = Node::units_of(list, None, pass);
        if round <= 0.0 {
            return f64::from(whole);
        }
        if left + 1e-9 < round {
            break (list, pass);
        }
        left -= round;
        whole += 1;
    };
    let weights: Vec<f64> = work
        .list(0)
        .flat_map(|(_, l)| {
            let rise = l.rise * f64::from(pass);
            let n = l.count(whole as usize, standard) + rise;
            let along = l.along.iter().filter_map(|a| a.counts.first()).map(move |c| standard.of(*c));
            std::iter::once(board(l, n)).chain(along)
        })
        .collect();
    let reps: f64 = weights.iter().sum();
    let mut done = 0.0;
    let tasks = list.iter().filter_map(|n| match n {
        Node::Task(a) => Some(a.units(None, pass)),
        _ => None,
    });
    for (n, weight) in tasks.zip(weights) {
        if n > 0.0 {
            done += (left / n).clamp(0.0, 1.0) * weight;
        }
        left -= n;
        if left <= 0.0 {
            break;
        }
    }
    f64::from(whole) + done / reps.max(1.0)
}

/// Reps on the board from the simulator's counted units: distances and holds of a list count one in all.
pub fn board_of_units(work: &Work, standard: Standard, workout: &Workout, counted: f64) -> f64 {
    // a list with work that has no count is counted rep by rep
    if work.one_amrap() && work.lines.iter().all(|l| !l.counts.is_empty()) {
        return rounds_of_units(work, standard, workout, counted) * board_reps(work, standard);
    }
    let open = matches!(work.clock(), Clock::Windows { .. }) && !work.ends_with_max(0);
    let list = lists(workout).first().map_or(0.0, |(_, body)| Node::units_of(body, None, 0));
    let reps = board_reps(work, standard);
    if open && list > 0.0 && reps > 0.0 { counted * reps / list } else { counted }
}
