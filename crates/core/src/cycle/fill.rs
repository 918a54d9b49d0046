//! Linear filling between given weeks.

use super::{Week, WeekKind};

/// A week as a coach gives it: whole, or only its place.
#[derive(Debug, Clone, PartialEq)]
pub enum Given {
    /// All of it.
    Week(Week),
    /// To be filled from the weeks around it.
    Open,
}

/// Fills open weeks evenly between the working weeks given before and after them; before the first and after the last
/// they are like it. Per cents to the half, sets and reps to the whole. Base and deload weeks are passed over: they say
/// nothing about the weeks around them.
///
/// # Errors
/// When no working week is given, or the list is empty.
pub fn fill(given: &[Given]) -> Result<Vec<Week>, String> {
    let known: Vec<(usize, &Week)> = given
        .iter()
        .enumerate()
        .filter_map(|(i, g)| match g {
            Given::Week(w) if w.kind == WeekKind::Work => Some((i, w)),
            _ => None,
        })
        .collect();
    if known.is_empty() && given.contains(&Given::Open) {
        return Err(
            "Write at least one working week: the open ones are filled from those around them.".to_owned()
        );
    }
    Ok(given
        .iter()
        .enumerate()
        .filter_map(|(i, g)| match g {
            Given::Week(w) => Some(w.clone()),
            Given::Open => between(&known, i),
        })
        .collect())
}

fn between(known: &[(usize, &Week)], at: usize) -> Option<Week> {
    let before = known.iter().rev().find(|(i, _)| *i < at);
    let after = known.iter().find(|(i, _)| *i > at);
    let (a, b) = match (before, after) {
        (Some(a), Some(b)) => (a, b),
        (Some(a), None) => (a, a),
        (None, Some(b)) => (b, b),
        (None, None) => return None,
    };
    let share = if b.0 == a.0 { 0.0 } else { (at - a.0) as f64 / (b.0 - a.0) as f64 };
    let line = |x: f64, y: f64| x + (y - x) * share;
    let half = |v: f64| (v * 2.0).round() / 2.0;
    let whole = |x: u32, y: u32| line(f64::from(x), f64::from(y)).round() as u32;
    Some(Week {
        kind: WeekKind::Work,
        sets: whole(a.1.sets, b.1.sets),
        reps: whole(a.1.reps, b.1.reps),
        low: half(line(a.1.low, b.1.low)),
        high: half(line(a.1.high, b.1.high)),
    })
}
