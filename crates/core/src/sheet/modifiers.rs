//! What stands behind a movement on a line of work: weight, height, tempo, each side, notes.

use super::clean::Line;
use super::model::{Load, MoveLine, PercentBase, Tempo, WeightUnit, WordLoad};
use super::movement_line::{Around, problem};
use super::problem::{Problem, Severity};
use super::quantity::{NUM, catch, group, pattern, place, read_number};
use crate::movement::{Found, LoadKind, Movement, canonical_words, catalogue};
use crate::units::KG_PER_LB;
use regex::Captures;

pattern!(
    LOAD,
    r"^\s*(?:@\s*|at\s+)?\(?\s*(?:(?P<n>[12])\s*x\s*)?(?P<a>-?",
    NUM,
    r")(?:\s*/\s*(?P<b>",
    NUM,
    r"))?\s*(?P<unit>kilograms?|kilos?|kgs?|pounds?|lbs?|#|cms?|centimetres?|inches|inch|in\b|%)?(?:\s*of\s+(?P<of>[a-z0-9][a-z0-9 -]*))?\s*\)?"
);
pattern!(TEMPO, r"^\s*tempo\s*:?\s*(?P<a>\d|x)[-\s./]?(?P<b>\d|x)[-\s./]?(?P<c>\d|x)[-\s./]?(?P<d>\d|x)");
pattern!(NOTE, r"^\s*\((?P<text>[^)]*)\)?");

/// Reads tempo digits; X is as fast as possible, kept as 0.
pub(super) fn tempo(text: &str) -> Option<(Tempo, usize)> {
    let c = catch(&TEMPO, text)?;
    let digit = |name: &str| group(&c, name).map_or(0, |d| d.parse().unwrap_or(0));
    Some((Tempo([digit("a"), digit("b"), digit("c"), digit("d")]), place(&c).end))
}

/// `light`, `moderate`, `heavy` at the start of a text, and its length.
pub(super) fn word_load(low: &str) -> Option<(WordLoad, usize)> {
    [("light", WordLoad::Light), ("moderate", WordLoad::Moderate), ("heavy", WordLoad::Heavy)]
        .into_iter()
        .find(|(w, _)| low.strip_prefix(w).is_some_and(|r| !r.starts_with(char::is_alphanumeric)))
        .map(|(w, l)| (l, w.len()))
}

/// Where the first so many words of a text end.
pub(super) fn words_end(text: &str, words: usize) -> usize {
    let mut end = 0;
    let mut seen = 0;
    let mut inside = false;
    for (i, c) in text.char_indices() {
        if c.is_whitespace() {
            if inside && seen == words {
                return end;
            }
            inside = false;
        } else {
            if !inside {
                seen += 1;
                inside = true;
            }
            end = i + c.len_utf8();
        }
    }
    end
}

/// Reads what stands behind a movement: load, height, tempo, sides; what is left is kept as notes.
pub(super) fn modifiers(
    tail: &Line,
    around: &Around,
    row: Option<&Movement>,
    out: &mut MoveLine,
    notes: &mut Vec<String>,
    problems: &mut Vec<Problem>,
) {
    let mut rest = tail.from(0);
    // every turn takes at least one word, so this ends
    while !rest.text.is_empty() {
        let low = rest.low.clone();
        let skip = low.len() - low.trim_start_matches([',', ';', ' ', ')']).len();
        if skip > 0 {
            rest = rest.from(skip);
            continue;
        }
        if let Some((t, end)) = tempo(&low) {
            out.tempo = Some(t);
            rest = rest.from(end);
        } else if let Some((load, end)) = word_load(&low) {
            out.load = Some(Load::Word(load));
            rest = rest.from(end);
        } else if let Some(end) = take(&low, &["each side", "per side"]) {
            out.per_side = true;
            rest = rest.from(end);
        } else if let Some(end) = take(&low, &["unbroken"]) {
            out.unbroken = true;
            rest = rest.from(end);
        } else if let Some(c) = catch(&LOAD, &low).filter(|c| is_load(c, &low)) {
            read_load(&rest, &c, around, row, out, notes, problems);
            rest = rest.from(place(&c).end);
        } else if let Some(c) = catch(&NOTE, &low) {
            let m = c.name("text").map_or(0..0, |m| m.range());
            notes.push(rest.text.get(m).unwrap_or_default().trim().to_owned());
            rest = rest.from(place(&c).end);
        } else {
            let end = words_end(&rest.text, 1).max(1);
            notes.push(rest.text.get(..end).unwrap_or_default().to_owned());
            rest = rest.from(end);
        }
    }
    for note in notes.iter_mut() {
        note.retain(|c| c != ')');
    }
    notes.retain(|n| !n.is_empty());
}

/// `(5 s pause)` is a note, `(60 kg)` and `(60)` are loads.
fn is_load(c: &Captures<'_>, low: &str) -> bool {
    let at = place(c);
    let bracket = low.get(at.clone()).is_some_and(|t| t.contains('(') && !t.contains(')'));
    !at.is_empty() && !bracket
}

fn take(low: &str, words: &[&str]) -> Option<usize> {
    words.iter().find(|w| low.starts_with(**w)).map(|w| w.len())
}

fn read_load(
    line: &Line,
    c: &Captures<'_>,
    around: &Around,
    row: Option<&Movement>,
    out: &mut MoveLine,
    notes: &mut Vec<String>,
    problems: &mut Vec<Problem>,
) {
    let at = place(c);
    let negative = group(c, "a").is_some_and(|a| a.starts_with('-'));
    let Some(a) = group(c, "a").and_then(|a| read_number(a.trim_start_matches('-'))) else { return };
    let b = group(c, "b").and_then(read_number).unwrap_or(a);
    let unit = group(c, "unit").unwrap_or("");
    if negative || a <= 0.0 || b <= 0.0 {
        let message = "A load must be more than 0. Write the weight, or leave it out.".to_owned();
        problems.push(problem(line, at.start, at.end, Severity::Error, message));
        return;
    }
    if unit == "%" {
        if a > 110.0 {
            let message = format!("{a} % is more than anybody lifts. Write at most 110 %.");
            problems.push(problem(line, at.start, at.end, Severity::Error, message));
        } else {
            let of = group(c, "of").map_or(PercentBase::Unsaid, percent_base);
            out.load = Some(Load::Percent { percent: a, of });
        }
        return;
    }
    let tall = row.is_some_and(|m| m.rx_height_cm.is_some() && m.load == LoadKind::None);
    if unit.starts_with('c') || unit.starts_with("in") || (tall && unit.is_empty()) {
        let inches = unit.starts_with("in") || (unit.is_empty() && a < 40.0);
        let f = if inches { 2.54 } else { 1.0 };
        out.height_cm = Some([(a * f).round(), (b * f).round()]);
        return;
    }
    let carries = row.is_none_or(|m| m.load != LoadKind::None);
    if unit.is_empty() && !carries {
        notes.push(line.text.get(at).unwrap_or_default().trim().to_owned());
        return;
    }
    let pounds = unit.starts_with('p')
        || unit.starts_with('l')
        || unit == "#"
        || (unit.is_empty() && around.units == WeightUnit::Lb);
    let f = if pounds { KG_PER_LB } else { 1.0 };
    let kg = [a * f, b * f].map(|v| (v * 100.0).round() / 100.0);
    if kg.iter().any(|v| *v > 400.0) {
        let message = "That is over 400 kg. Check the number and its unit.".to_owned();
        problems.push(problem(line, at.start, at.end, Severity::Warning, message));
    }
    let pair = row.is_some_and(|m| m.load == LoadKind::DumbbellPair);
    let implements = group(c, "n").and_then(|n| n.parse().ok()).unwrap_or(if pair { 2 } else { 1 });
    out.load = Some(Load::Kg { kg, implements });
}

/// `1rm`, `training max`, `5rm` or a lift.
pub(super) fn percent_base(text: &str) -> PercentBase {
    let words = canonical_words(text).concat();
    match words.as_str() {
        "1rm" | "max" | "onerepmax" | "1repmax" => PercentBase::OneRm,
        "trainingmax" | "tm" => PercentBase::TrainingMax,
        _ => match words.strip_suffix("rm").and_then(|n| n.parse::<u32>().ok()) {
            Some(n) if n >= 1 => PercentBase::RepMax(n),
            _ => {
                let split: Vec<&str> = text.split_whitespace().collect();
                match catalogue().find(&split, true) {
                    Found::Movement { id, .. } => PercentBase::Lift(id),
                    _ => PercentBase::Unsaid,
                }
            }
        },
    }
}
