//! Lines of a strength block: `front squat 5 x 3 @ 78-82% of 1RM, every 2:30`, and lines that add to it.

use super::clean::Line;
use super::model::{LiftSets, Named, Percent, PercentBase, WeightUnit};
use super::modifiers::{percent_base, tempo};
use super::movement_line::problem;
use super::problem::{Problem, Severity};
use super::quantity::{NUM, TIME, catch, group, pattern, place, read_clock, read_number};
use crate::movement::{Found, catalogue};
use crate::units::KG_PER_LB;

pattern!(
    SETS,
    r"^(?P<name>[^\d@]*?)[\s:,]*(?:(?P<sets>\d{1,3})\s*(?:x|sets?\s+of|sets?)\s*(?P<reps>\d{1,3}|max)\b|(?P<scheme>\d{1,2}(?:\s*-\s*\d{1,2}){1,}))(?P<tail>.*)$"
);
pattern!(
    PERCENT,
    r"(?:@|\bat\b)?\s*(?P<list>\d{1,4}(?:[.,]\d)?\s*%?(?:(?:\s*-\s*|,\s+|\s*/\s*)\d{1,4}(?:[.,]\d)?\s*%?)*)\s*%(?:\s*of\s+(?:the\s+|your\s+)?(?P<of>1\s?rm|\d+\s?rm|training max|tm|max|[a-z][a-z -]*))?"
);
pattern!(
    WEIGHT,
    r"(?:@|\bat\b)\s*\(?(?P<a>",
    NUM,
    r")(?:\s*/\s*(?P<b>",
    NUM,
    r"))?\s*(?P<unit>kgs?|lbs?|#|pounds?)?\)?"
);
pattern!(EVERY, r"\bevery\s+(?P<t>", TIME, r")");
pattern!(REST, r"\brest\s*:?\s*(?P<t>", TIME, r")");
pattern!(LAST, r"\blast\s+(?P<n>\d{1,2})\s+(?:sets?\s+)?at\s+(?:the\s+)?top");
pattern!(ADD, r"\badd(?:ing)?\s+(?:weight|load)");
pattern!(WEEK, r"\bweek\s+(?P<k>\d{1,2})\s*(?:of|/)\s*(?P<n>\d{1,2})");
pattern!(
    CLIMB,
    r"\bfrom\s+\d{1,3}\s*%?\s*(?:-|to)\s*\d{1,3}\s*%|[,\s]\s*(?:build(?:ing)?|climb(?:ing)?)(?:\s+(?:up|each\s+set|every\s+set))?\s*$"
);
pattern!(TEMPO_AT, r"\btempo\b");
pattern!(CHAIN_REPS, r"^\s*(?:\+\s*\d{1,2}\s*)+");
pattern!(
    BY_CYCLE,
    r"^(?P<name>[^\d@]+?)[\s:,]+(?:from|by|on|as\s+in|per)\s+(?:the|its|our)?\s*cycle\b(?P<tail>.*)$"
);

/// Most sets that are read.
const MOST_SETS: u32 = 40;
/// Stands for a written 0, which is no number of reps.
const NO_REPS: u32 = u32::MAX;

/// `front squat from the cycle`: the gym's cycle says the rest.
pub(super) fn read_by_cycle(
    line: &Line,
    lift: Option<&Named>,
    problems: &mut Vec<Problem>,
) -> Option<LiftSets> {
    let c = catch(&BY_CYCLE, &line.low)?;
    let at = c.name("name").map_or(0..0, |m| m.range());
    let name = line.text.get(at.clone()).unwrap_or_default().trim();
    let movement = match lift {
        Some(lift) if name.is_empty() => lift.clone(),
        _ => named_before(line, at.end, name, problems)?,
    };
    Some(LiftSets { by_cycle: true, ..LiftSets::of(movement, Vec::new(), line.number) })
}

/// `week 3 of 6` anywhere in the text.
pub(super) fn week(low: &str) -> Option<[u32; 2]> {
    let c = catch(&WEEK, low)?;
    let n = |g| group(&c, g).and_then(|t| t.parse().ok());
    Some([n("k")?, n("n")?]).filter(|[k, n]| k <= n && *k > 0)
}

/// Sets of a lift, when the line has them. `lift`: a lift named on an earlier line.
pub(super) fn read_sets(
    line: &Line,
    lift: Option<&Named>,
    units: WeightUnit,
    problems: &mut Vec<Problem>,
) -> Option<LiftSets> {
    let c = catch(&SETS, &line.low)?;
    let name_at = c.name("name").map_or(0..0, |m| m.range());
    let name = line.text.get(name_at.clone()).unwrap_or_default().trim();
    let tail_at = c.name("tail").map_or(line.text.len(), |m| m.start());
    let reps: Vec<u32> = match (group(&c, "sets"), group(&c, "scheme")) {
        (Some(sets), _) => {
            let n: u32 = sets.parse().ok()?;
            let reps = match group(&c, "reps")? {
                "max" => 0,
                r => r.parse().ok().filter(|n| *n > 0).unwrap_or(NO_REPS),
            };
            vec![reps; n.min(MOST_SETS) as usize]
        }
        (None, Some(scheme)) => scheme.split('-').filter_map(|n| n.trim().parse().ok()).collect(),
        _ => return None,
    };
    let tail = line.from(tail_at);
    // 5 x 2 + 1: reps of the further parts of a chain
    let more = catch(&CHAIN_REPS, &tail.low).map_or(0, |m| m.get(0).map_or(0, |g| g.end()));
    let more_reps: Vec<u32> =
        tail.low.get(..more).unwrap_or("").split('+').filter_map(|n| n.trim().parse().ok()).collect();
    let tail = tail.from(more);
    let (movement, chain, rest) = if name.is_empty() {
        let (movement, rest) = named_after(&tail, lift)?;
        let (chain, rest) = chain_after(&rest);
        (movement, chain, rest)
    } else {
        let mut links = name.split('+').map(str::trim).filter(|n| !n.is_empty());
        let first = links.next().unwrap_or(name);
        let end = name_at.start + first.len();
        let movement =
            named_before(line, if name.contains('+') { end } else { name_at.end }, first, problems)?;
        let mut chain = Vec::new();
        for link in links {
            match named_before(line, name_at.end, link, problems)? {
                Named::Known(id) => chain.push(id),
                Named::Unknown(_) => return Some(LiftSets::of(movement, reps, line.number)),
            }
        }
        (movement, chain, tail)
    };
    let mut sets = LiftSets::of(movement, reps, line.number);
    sets.chain =
        chain.into_iter().enumerate().map(|(i, id)| (id, more_reps.get(i).copied().unwrap_or(1))).collect();
    let written = |scheme: &str| scheme.split('-').any(|n| n.trim().parse() == Ok(0u32));
    if sets.reps.is_empty() || sets.reps.contains(&NO_REPS) || group(&c, "scheme").is_some_and(written) {
        let message = "Sets need at least 1 rep. Write, say, 5 x 3.".to_owned();
        problems.push(problem(line, 0, line.text.len(), Severity::Error, message));
        sets.reps.retain(|r| *r > 0 && *r != NO_REPS);
    }
    add_to(&rest, &mut sets, units, problems);
    Some(sets)
}

fn named_before(line: &Line, end: usize, name: &str, problems: &mut Vec<Problem>) -> Option<Named> {
    let words: Vec<&str> = name.trim_end_matches([':', ',', ' ']).split_whitespace().collect();
    match catalogue().find(&words, true) {
        Found::Movement { id, .. } => Some(Named::Known(id)),
        _ if words.len() <= 4 => {
            let near: Vec<String> =
                catalogue().nearest(name, 3).iter().map(|m| catalogue().written(&m.id)).collect();
            let message = format!("I do not know the lift “{name}”.");
            let mut p = problem(line, 0, end, Severity::Error, message);
            p.suggestions = near;
            problems.push(p);
            Some(Named::Unknown(name.to_owned()))
        }
        _ => None,
    }
}

/// `+ front squat + push jerk` behind the first lift, and what follows it.
fn chain_after(rest: &Line) -> (Vec<String>, Line) {
    let mut out = Vec::new();
    let mut at = rest.clone();
    loop {
        let trimmed = at.text.trim_start();
        let Some(after) = trimmed.strip_prefix('+') else { return (out, at) };
        let skip = at.text.len() - after.len();
        let body = at.from(skip);
        let lead = body.text.len() - body.text.trim_start().len();
        let body = body.from(lead);
        let words: Vec<&str> = body.text.split_whitespace().take_while(|w| *w != "+").collect();
        let Found::Movement { id, words: n, .. } = catalogue().find(&words, true) else { return (out, at) };
        let len = words.iter().take(n).map(|w| w.len() + 1).sum::<usize>().min(body.text.len());
        out.push(id);
        at = body.from(len);
    }
}

fn named_after(tail: &Line, lift: Option<&Named>) -> Option<(Named, Line)> {
    // the parts of a chain are named one by one
    let words: Vec<&str> = tail.text.split_whitespace().take_while(|w| *w != "+").collect();
    if let Found::Movement { id, words: n, .. } = catalogue().find(&words, true) {
        let skip = words.iter().take(n).map(|w| w.len() + 1).sum::<usize>().min(tail.text.len());
        return Some((Named::Known(id), tail.from(skip)));
    }
    lift.map(|l| (l.clone(), tail.clone()))
}

/// Adds what a line says about sets (percentages, rest, tempo ...); whether it said anything.
pub(super) fn add_to(
    line: &Line,
    sets: &mut LiftSets,
    units: WeightUnit,
    problems: &mut Vec<Problem>,
) -> bool {
    let low = line.low.as_str();
    let mut said = false;
    if catch(&CLIMB, low).is_some() {
        sets.climb = true;
        said = true;
    }
    if let Some(c) = catch(&PERCENT, low) {
        read_percent(line, &c, sets, problems);
        said = true;
    } else if let Some(c) = catch(&WEIGHT, low) {
        let a = group(&c, "a").and_then(read_number).unwrap_or(0.0);
        let b = group(&c, "b").and_then(read_number).unwrap_or(a);
        let unit = group(&c, "unit").unwrap_or("");
        let pounds = unit.starts_with(['l', 'p', '#']) || (unit.is_empty() && units == WeightUnit::Lb);
        let f = if pounds { KG_PER_LB } else { 1.0 };
        sets.kg = Some([a * f, b * f].map(|v| (v * 100.0).round() / 100.0));
        said = true;
    }
    if let Some(t) = catch(&EVERY, low).and_then(|c| group(&c, "t").and_then(|t| read_clock(t, 60.0))) {
        sets.every_s = Some(t);
        said = true;
    }
    if let Some(c) = catch(&REST, low) {
        // a bare number after rest is seconds from 15 on: nobody rests 90 minutes
        let text = group(&c, "t").unwrap_or("");
        let bare = if read_number(text).is_some_and(|n| n >= 15.0) { 1.0 } else { 60.0 };
        sets.rest_s = read_clock(text, bare);
        said = true;
    }
    if let Some(n) = catch(&LAST, low).and_then(|c| group(&c, "n").and_then(|n| n.parse().ok())) {
        sets.last_at_top = Some(n);
        said = true;
    }
    if catch(&ADD, low).is_some() {
        sets.add_weight = true;
        said = true;
    }
    if let Some(m) = TEMPO_AT.as_ref().and_then(|r| r.find(low))
        && let Some((t, _)) = tempo(low.get(m.start()..).unwrap_or_default())
    {
        sets.tempo = Some(t);
        said = true;
    }
    if let (Some(open), Some(close)) = (line.text.find('('), line.text.rfind(')'))
        && open < close
    {
        sets.note = line.text.get(open + 1..close).map(|t| t.trim().to_owned()).filter(|t| !t.is_empty());
    }
    said || week(low).is_some()
}

fn read_percent(line: &Line, c: &regex::Captures<'_>, sets: &mut LiftSets, problems: &mut Vec<Problem>) {
    let at = place(c);
    let list = group(c, "list").unwrap_or("");
    // 75, 78, 82 % and 75/78/82 % are one for each set; a comma without a space is a decimal one
    let mut values: Vec<f64> = list
        .replace(", ", "/")
        .split(['-', '/'])
        .filter_map(|v| read_number(v.trim().trim_end_matches('%')))
        .collect();
    let of = group(c, "of").map_or(PercentBase::Unsaid, percent_base);
    if let Some(v) = values.iter().find(|v| **v > 110.0) {
        let message = format!("{v} % is more than anybody lifts. Write at most 110 %.");
        problems.push(problem(line, at.start, at.end, Severity::Error, message));
        return;
    }
    if values.iter().any(|v| *v < 10.0) {
        let message = "Under 10 % is no working weight. Check the percentage.".to_owned();
        problems.push(problem(line, at.start, at.end, Severity::Error, message));
        return;
    }
    let band = values.len() == 2 && sets.reps.len() != 2 && list.contains('-');
    if band && values.first() > values.last() {
        values.reverse();
        let message = "The band runs from high to low. I read it the right way round.".to_owned();
        problems.push(problem(line, at.start, at.end, Severity::Warning, message));
    }
    sets.percent = Some(Percent { values, band, of });
}
