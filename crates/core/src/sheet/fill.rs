//! What the lines of a part leave open, filled in once all of them are read: counts that the clock gives, stations told by their
//! minutes, and what cannot be filled said at its line.

use super::model::{Count, Format, Item, Part};
use super::problem::{Problem, Severity};
use super::scan::problem;
use super::text::Line;
use crate::units::Unit;

/// Lines without a count begin with so many, and have so many more each round.
pub(super) fn rise_from(part: &mut Part, first: u32, step: u32) {
    for item in &mut part.items {
        if let Item::Move(m) = item
            && m.count.is_none()
        {
            m.count = Some(Count::Each(f64::from(first)));
            m.rise = Some(f64::from(step));
        }
    }
}

/// `one minute of rowing, one minute of burpees, one minute of rest`: stations, as much as there is time for.
pub(super) fn timed_stations(part: &mut Part) {
    let Some(n) = (match part.format {
        Some(Format::Rounds { n } | Format::Quality { rounds: n, .. }) => Some(n),
        _ => None,
    }) else {
        return;
    };
    let times: Vec<Option<u32>> = part
        .items
        .iter()
        .map(|i| match i {
            Item::Rest { seconds } => Some(*seconds),
            Item::Move(m) => match m.count {
                Some(Count::Each(t))
                    if m.unit == Unit::Seconds
                        && m.movement.id().is_some_and(|id| super::work::usual_unit(id) != Unit::Seconds) =>
                {
                    Some(t as u32)
                }
                _ => None,
            },
        })
        .collect();
    let Some(Some(on)) = times.first().copied() else { return };
    if times.len() < 2 || on < 20 || times.iter().any(|t| *t != Some(on)) || part.moves().take(2).count() < 2
    {
        return;
    }
    part.format = Some(Format::Stations { on, off: 0, rounds: n });
    for item in &mut part.items {
        if let Item::Move(m) = item {
            let machine = m
                .movement
                .id()
                .and_then(|id| crate::movement::catalogue().movement(id))
                .is_some_and(|row| row.load == crate::movement::LoadKind::Machine);
            m.count = Some(Count::Max);
            m.unit = if machine {
                Unit::Calories
            } else {
                m.movement.id().map_or(Unit::Reps, super::work::usual_unit)
            };
        }
    }
}

/// Whoever has a window or waits for a partner does as much as there is time for.
pub(super) fn open_counts(part: &mut Part) {
    for item in &mut part.items {
        if let Item::Move(m) = item
            && m.count.is_none()
        {
            m.count = Some(Count::Max);
        }
    }
}

/// Work without a count is said at its line.
pub(super) fn uncounted(part: &Part, filled: bool, problems: &mut Vec<Problem>) {
    let last = part.items.len();
    let lines = part.items.iter().enumerate().filter_map(|(at, i)| match i {
        Item::Move(m) if m.count.is_none() && m.movement.id().is_some() && !(filled && at + 1 == last) => {
            Some(m.line)
        }
        _ => None,
    });
    for line in lines {
        let message =
            "A count is missing. Write how many, how far or how long before the movement.".to_owned();
        problems.push(Problem {
            line,
            column: 1,
            length: 1,
            severity: Severity::Error,
            message,
            suggestions: Vec::new(),
            asks: None,
        });
    }
}

/// Stations typed `1 row`, `2 bike`, `3 ...` are numbered, not counted.
pub(super) fn stations_counted(part: &Part) -> bool {
    let counts: Vec<f64> = part
        .moves()
        .filter_map(|m| match &m.count {
            Some(Count::Each(n)) => Some(*n),
            _ => None,
        })
        .collect();
    counts.len() > 2
        && counts.len() == part.moves().count()
        && counts.iter().zip(1u32..).all(|(c, k)| *c == f64::from(k))
}

/// A line's own scheme must give a number for every round.
pub(super) fn own_schemes(part: &Part, problems: &mut Vec<Problem>) {
    for m in part.moves() {
        if let Some(Count::Scheme(reps)) = &m.count
            && part.rounds() > 1
            && reps.len() != part.rounds() as usize
        {
            let message = format!(
                "This line has {} numbers and the workout {} rounds. Write one number for each round.",
                reps.len(),
                part.rounds()
            );
            problems.push(Problem::at(m.line, Severity::Error, message));
        }
    }
}

/// Three lines and more in every minute are more often meant in turn: said, with the other reading.
pub(super) fn all_in_each_cycle(part: &Part, clock: &(Line, usize, usize), problems: &mut Vec<Problem>) {
    let lines = part.moves().count() as u32;
    if let Some(Format::Every { seconds: 60, n }) = part.format
        && lines >= 3
        && n % lines == 0
    {
        let message =
            format!("I read all {lines} lines in every minute. Did you mean one line a minute, in turn?");
        let (line, from, to) = clock;
        let mut p = problem(line, *from, *to, Severity::Warning, message);
        let text = line.text.get(*from..*to).unwrap_or_default();
        p.suggestions = vec![format!("{}, alternating", text.trim_end_matches([':', ' ']))];
        problems.push(p);
    }
}
