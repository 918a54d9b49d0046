//! Lines above the work: block headings, and what the sheet says about the day (title, date, class length).

use super::clean::Line;
use super::model::{Block, BlockKind, Sheet, WeightUnit};
use super::movement_line::problem;
use super::problem::{Problem, Severity};
use super::quantity::{TIME, catch, group, pattern, place, read_clock};
use super::wish_line::take_cap_and_target;
use chrono::NaiveDate;

pattern!(
    META,
    r"^(?P<key>title|name|date|day|intent|intention|feel|stimulus|goal|class(?:\s+length)?|units?)\s*:\s*(?P<value>.*)$"
);
pattern!(DURATION, r"^\s*\(?\s*(?P<t>", TIME, r")\s*\)?(?:\s|$)");
pattern!(ORDINAL, r#"^(?P<n>#?[1-4])\s*(?:$|[:,](?:\s|$)|\s")"#);
pattern!(NUMERIC, r"^(?P<a>\d{1,4})[-./](?P<b>\d{1,2})[-./](?P<c>\d{1,4})$");

const KINDS: [(&str, BlockKind); 31] = [
    ("warm-up", BlockKind::WarmUp),
    ("warm up", BlockKind::WarmUp),
    ("warmup", BlockKind::WarmUp),
    ("strength", BlockKind::Strength),
    ("lifting", BlockKind::Strength),
    ("lifts", BlockKind::Strength),
    ("lift", BlockKind::Strength),
    ("skills", BlockKind::Skill),
    ("skill", BlockKind::Skill),
    ("technique", BlockKind::Skill),
    ("gymnastics", BlockKind::Skill),
    ("workout of the day", BlockKind::Workout),
    ("workout", BlockKind::Workout),
    ("conditioning", BlockKind::Workout),
    ("metabolic conditioning", BlockKind::Workout),
    ("metcon", BlockKind::Workout),
    ("wod", BlockKind::Workout),
    ("accessory work", BlockKind::Accessory),
    ("accessories", BlockKind::Accessory),
    ("accessory", BlockKind::Accessory),
    ("finisher", BlockKind::Accessory),
    ("extras", BlockKind::Accessory),
    ("extra", BlockKind::Accessory),
    ("cool-down", BlockKind::CoolDown),
    ("cool down", BlockKind::CoolDown),
    ("cooldown", BlockKind::CoolDown),
    ("mobility", BlockKind::CoolDown),
    ("stretching", BlockKind::CoolDown),
    ("stretches", BlockKind::CoolDown),
    ("stretch", BlockKind::CoolDown),
    ("cool", BlockKind::CoolDown),
];

fn kind_at(low: &str) -> Option<(BlockKind, usize)> {
    KINDS
        .iter()
        .find(|(w, _)| {
            low.strip_prefix(w).is_some_and(|r| !r.starts_with(|c: char| c.is_alphanumeric() || c == '-'))
        })
        .map(|(w, k)| (*k, w.len()))
}

/// Reads a heading: the block that it opens and what else stood on the line.
pub(super) fn read_heading(line: &Line, problems: &mut Vec<Problem>) -> Option<(Block, Option<Line>)> {
    let hashes = line.text.len() - line.text.trim_start_matches('#').len();
    let body = line.from(hashes);
    let Some((kind, end)) = kind_at(&body.low) else {
        return (hashes > 0).then(|| unknown_kind(line, &body, problems));
    };
    let tail = body.text.get(end..).unwrap_or_default();
    let colon = tail.trim_start().starts_with(':');
    let from = end + if colon { tail.find(':').unwrap_or(0) + 1 } else { 0 };
    let mut rest = body.from(from);
    // without # and colon, only a name, a length, a cap or a target may follow; prose that begins so is no heading
    let mut block = Block::new(kind, line.number);
    let mut found = Vec::new();
    rest = take_name(&rest, &mut block, &mut found);
    rest = take_cap_and_target(&rest, &mut block, &mut found);
    // `workout 2` is the second one, not two minutes
    if let Some(c) = catch(&ORDINAL, &rest.low) {
        rest = rest.from(c.name("n").map_or(0, |m| m.end()));
        rest = take_name(&rest, &mut block, &mut found);
    }
    if let Some(c) = catch(&DURATION, &rest.low)
        && let Some(t) = group(&c, "t").and_then(|t| read_clock(t, 60.0))
        && starts_like_time(&rest.low)
    {
        block.duration_s = Some(t).filter(|t| *t > 0);
        rest = rest.from(place(&c).end);
        rest = take_name(&rest, &mut block, &mut found);
    }
    let more = rest.text.trim_matches([',', ':', ' ', '-']).to_owned();
    if hashes == 0 && !colon && !more.is_empty() {
        return None;
    }
    problems.append(&mut found);
    Some((block, (!more.is_empty()).then_some(rest)))
}

/// `12:00` or `12 min` is a length; `3 rounds` is not.
fn starts_like_time(low: &str) -> bool {
    let t = low.trim_start_matches(['(', ' ']);
    let end = t.find(|c: char| !(c.is_ascii_digit() || c == ':')).unwrap_or(t.len());
    let after = t.get(end..).unwrap_or_default().trim_start();
    let amount = t.get(..end).unwrap_or_default();
    amount.contains(':') && !after.starts_with("amrap") && !after.starts_with("on")
        || after.is_empty()
        || after.starts_with(')')
        || (["min", "'", "s ", "sec"].iter().any(|u| after.starts_with(u)) && !after.contains("amrap"))
}

fn unknown_kind(line: &Line, body: &Line, problems: &mut Vec<Problem>) -> (Block, Option<Line>) {
    let mut p = problem(line, 0, line.text.len(), Severity::Error, String::new());
    p.message = "I do not know this kind of block. Write # warm-up, # strength, # skill, # workout, # accessory or # cool-down; I read it as a workout.".to_owned();
    p.suggestions = ["# workout", "# strength", "# accessory"].map(str::to_owned).to_vec();
    problems.push(p);
    let mut block = Block::new(BlockKind::Workout, line.number);
    let name = body.text.trim_matches(['"', ' ']).chars().take(60).collect::<String>();
    block.name = (!name.is_empty()).then_some(name);
    (block, None)
}

/// Takes a name in quotes off the front; an unclosed quote runs to the end of the line.
fn take_name(rest: &Line, block: &mut Block, problems: &mut Vec<Problem>) -> Line {
    if !rest.text.starts_with('"') {
        return rest.clone();
    }
    let inside = rest.text.get(1..).unwrap_or_default();
    if let Some(end) = inside.find('"') {
        let name = inside.get(..end).unwrap_or_default().trim();
        block.name = (!name.is_empty()).then(|| name.to_owned());
        return rest.from(end + 2);
    }
    let mut p = problem(rest, 0, rest.text.len(), Severity::Error, String::new());
    p.message = "The quotation mark is not closed. I took the rest of the line as the name.".to_owned();
    p.suggestions = vec![format!("{}\"", rest.text)];
    problems.push(p);
    block.name = Some(inside.trim().to_owned()).filter(|n| !n.is_empty());
    rest.from(rest.text.len())
}

/// Reads a line about the day; whether it was one. `late`: a block stands above it.
pub(super) fn read_meta(line: &Line, late: bool, sheet: &mut Sheet, problems: &mut Vec<Problem>) -> bool {
    let Some(c) = catch(&META, &line.low) else { return false };
    let key = group(&c, "key").unwrap_or("");
    let intent = matches!(key, "intent" | "intention" | "feel" | "stimulus" | "goal");
    if late && !intent {
        return false;
    }
    let at = c.name("value").map_or(line.text.len(), |m| m.start());
    let value = line.from(at);
    if value.text.is_empty() {
        return true;
    }
    let mut say = |message: &str| {
        problems.push(problem(&value, 0, value.text.len(), Severity::Error, message.to_owned()));
    };
    match key {
        "title" | "name" => {
            sheet.title = Some(value.text.trim_matches('"').trim().to_owned()).filter(|t| !t.is_empty())
        }
        "date" | "day" => match read_date(&value.low) {
            Some(date) => sheet.date = Some(date),
            None => say("I cannot read this date. Write it as 2026-11-23 or 23 November 2026."),
        },
        "unit" | "units" => match value.low.chars().next() {
            Some('k') => sheet.units = WeightUnit::Kg,
            Some('l' | 'p') => sheet.units = WeightUnit::Lb,
            _ => say("Units are kg or lb."),
        },
        _ if intent => sheet.intent = Some(value.text.clone()),
        _ => match read_clock(&value.low, 60.0).filter(|s| (300..=4 * 3600).contains(s)) {
            Some(s) => sheet.class_s = Some(s),
            None => say("A class lasts from 5:00 to 240:00. Write, say, class: 60:00."),
        },
    }
    true
}

/// A date as people write it: ISO, `23.11.2026` and `23/11/2026` (day first), `23 Nov 2026`, `Nov 23, 2026`.
pub(super) fn read_date(low: &str) -> Option<NaiveDate> {
    const MONTHS: [&str; 12] =
        ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
    const DAYS: [&str; 7] = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"];
    let words: Vec<&str> = low
        .split(|c: char| c.is_whitespace() || c == ',')
        .filter(|w| !w.is_empty() && !DAYS.iter().any(|d| w.starts_with(d)))
        .collect();
    if let [one] = words.as_slice() {
        let c = catch(&NUMERIC, one)?;
        let n = |g| group(&c, g).and_then(|t| t.parse::<u32>().ok());
        let (a, b, d) = (n("a")?, n("b")?, n("c")?);
        let (y, m, day) = if a > 31 { (a, b, d) } else { (if d < 100 { d + 2000 } else { d }, b, a) };
        return NaiveDate::from_ymd_opt(i32::try_from(y).ok()?, m, day);
    }
    let month = words.iter().find_map(|w| MONTHS.iter().position(|m| w.starts_with(m)))? as u32 + 1;
    let numbers: Vec<u32> = words
        .iter()
        .filter_map(|w| w.trim_end_matches(|c: char| c.is_alphabetic() || c == '.').parse().ok())
        .collect();
    let day = numbers.iter().find(|n| (1..=31).contains(*n))?;
    let year = numbers.iter().find(|n| **n >= 1900)?;
    NaiveDate::from_ymd_opt(i32::try_from(*year).ok()?, month, *day)
}
