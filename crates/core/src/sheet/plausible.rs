//! What is odd on a sheet: the sheet's own arithmetic and the catalogue's usual ranges. Warnings at their place.

use super::model::{Block, BlockKind, Count, Format, Item, Load, Sheet};
use super::problem::{Problem, Severity};
use crate::movement::catalogue;
use crate::units::Unit;

/// A weight further from the usual ones than this is odd.
const ODD: f64 = 1.6;
/// Work that lasts longer than this is a slip of the pen, hours (own).
const MOST_HOURS: f64 = 2.0;

/// Adds a warning for each thing that is odd.
pub(super) fn check(sheet: &Sheet, problems: &mut Vec<Problem>) {
    no_workout(sheet, problems);
    let mut say = |line: u32, message: String| {
        problems.push(Problem {
            line,
            column: 1,
            length: 1,
            severity: Severity::Warning,
            message,
            suggestions: Vec::new(),
            asks: None,
        });
    };
    for b in &sheet.blocks {
        weights(b, &mut say);
        counts(b, &mut say);
        clocks(b, &mut say);
        endless(b, &mut say);
        if b.kind == BlockKind::Workout
            && b.parts.iter().all(|p| p.moves().next().is_none())
            && b.lifts.is_empty()
            && b.builds.is_empty()
            && b.notes.is_empty()
            && b.duration_s.is_none()
        {
            say(b.line, "This workout has no work yet. Write a line for each movement below it.".to_owned());
        }
    }
}

/// Work is named, and nothing of it is a workout or a lift.
fn no_workout(sheet: &Sheet, problems: &mut Vec<Problem>) {
    let main = |b: &Block| !matches!(b.kind, BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Skill);
    let worked = |b: &&Block| b.moves().next().is_some();
    if sheet.blocks.iter().any(main) {
        return;
    }
    if let Some(b) = sheet.blocks.iter().rfind(worked).filter(|b| b.moves().count() > 3) {
        let message =
            "I found no workout on this sheet, though work is named. Write # workout above it.".to_owned();
        problems.push(Problem::at(b.line, Severity::Warning, message));
    }
}

/// More than any class does: rounds that take hours at a rep a second.
fn endless(b: &Block, say: &mut dyn FnMut(u32, String)) {
    for p in &b.parts {
        if !matches!(p.format, Some(Format::Rounds { .. } | Format::Quality { .. } | Format::Chipper)) {
            continue;
        }
        let round: f64 = p.moves().map(least_s).sum();
        let hours = round * f64::from(p.rounds()) / 3600.0;
        if hours > MOST_HOURS {
            let times = if p.rounds() > 1 {
                format!("{} rounds of this list take", p.rounds())
            } else {
                "This takes".to_owned()
            };
            say(
                p.line,
                format!("{times} over {} hours at a rep a second. Check the numbers.", hours.floor()),
            );
        }
    }
}

/// The least that a line takes anybody, s: a rep a second, a metre in a sixth, a calorie in two.
fn least_s(m: &super::model::MoveLine) -> f64 {
    let n = match &m.count {
        Some(Count::Each(n)) => *n,
        Some(Count::ByStandard([a, b])) => a.min(*b),
        Some(Count::Scheme(reps)) => {
            reps.iter().map(|r| f64::from(*r)).sum::<f64>() / reps.len().max(1) as f64
        }
        Some(Count::Max) | None => 0.0,
    };
    n * match m.unit {
        Unit::Reps | Unit::Seconds => 1.0,
        Unit::Metres => 1.0 / 6.0,
        Unit::Calories => 2.0,
    }
}

/// A scored clock in a warm-up, and lines that do not divide the minutes of their clock.
fn clocks(b: &Block, say: &mut dyn FnMut(u32, String)) {
    for p in &b.parts {
        let scored = matches!(
            p.format,
            Some(Format::Amrap { .. } | Format::Every { .. } | Format::EveryUntilFailure { .. })
        );
        if b.kind == BlockKind::WarmUp && (scored || b.cap_s.is_some()) && p.moves().next().is_some() {
            say(p.line, "This warm-up has a clock that people are scored on. Is it the workout? Write # workout above it.".to_owned());
        }
        let lines = p.items.len() as u32;
        if let Some(Format::EveryAlternating { n, .. }) = p.format
            && lines > 1
            && n % lines != 0
        {
            say(
                p.line,
                format!("{n} cycles are not divided by {lines} lines: the first lines get one turn more."),
            );
        }
    }
}

fn weights(b: &Block, say: &mut dyn FnMut(u32, String)) {
    for m in b.moves() {
        let (Some(id), Some(Load::Kg { kg: [heavy, light], typed, .. })) = (m.movement.id(), &m.load) else {
            continue;
        };
        if heavy < light {
            say(
                m.line,
                format!(
                    "The pair {} has its lighter weight first. The first is the heavier standard.",
                    crate::units::pair([*heavy, *light])
                ),
            );
        }
        let Some(usual) = catalogue().movement(id).and_then(|m| m.rx_load) else { continue };
        let ([_, least], [most, _]) = (usual.light, usual.heavy);
        if *heavy > most * ODD * 1.25 || *heavy < least / (ODD * 2.0) {
            say(
                m.line,
                format!(
                    "{} is far from what is usual for {}. Check the weight and its unit.",
                    typed.pair_words([*heavy; 2]),
                    catalogue().written(id)
                ),
            );
        }
    }
}

/// Odd totals by side.
fn counts(b: &Block, say: &mut dyn FnMut(u32, String)) {
    for p in &b.parts {
        for item in &p.items {
            if let Item::Move(m) = item
                && m.movement
                    .id()
                    .and_then(|id| catalogue().movement(id))
                    .is_some_and(|row| row.per_side && row.load != crate::movement::LoadKind::Dumbbell)
                && !m.per_side
                && let Some(super::model::Count::Each(n)) = m.count
                && m.unit == crate::units::Unit::Reps
                && n % 2.0 == 1.0
            {
                say(
                    m.line,
                    format!(
                        "{} is an odd number for a movement by side. Is it for each side? Write {}/side.",
                        crate::units::plain(n),
                        crate::units::plain(n)
                    ),
                );
            }
        }
    }
}
