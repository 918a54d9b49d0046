//! Headings in any dress, and what a sheet says about its day: title, date, class length, units, intent.
//!
//! Accepted, each with the kind read:
//!
//! | line | kind |
//! | --- | --- |
//! | `# workout "Breakwater" cap 14:00` | workout |
//! | `*WARM UP*` | warm-up |
//! | `Part 1 - STRENGTH (wk 3/6)` | strength |
//! | `WOD 2, cap 8 min` | workout |
//! | `Block 1 (warm up, 8 min)` | warm-up |
//! | `then wod` | workout |
//! | `WU 10` | warm-up |

use super::glossary::Role;
use super::model::{BlockKind, Sheet, WeightUnit};
use super::number::read_clock;
use super::problem::{Problem, Severity};
use super::scan::{Scan, problem};
use super::text::Line;
use super::token::Kind;
use chrono::NaiveDate;

const KINDS: [(Role, BlockKind); 6] = [
    (Role::WarmUp, BlockKind::WarmUp),
    (Role::Strength, BlockKind::Strength),
    (Role::Skill, BlockKind::Skill),
    (Role::Workout, BlockKind::Workout),
    (Role::Accessory, BlockKind::Accessory),
    (Role::CoolDown, BlockKind::CoolDown),
];

/// Words that are headings and hardly anything else, so that prose may follow.
const PLAIN: [&str; 12] = [
    "wod",
    "metcon",
    "wu",
    "warmup",
    "warm",
    "conditioning",
    "finisher",
    "accessory",
    "cooldown",
    "cool",
    "strength",
    "skill",
];

/// What may follow a heading on its line.
const CLOCKED: [Role; 12] = [
    Role::Cap,
    Role::ForTime,
    Role::RoundsForTime,
    Role::Amrap,
    Role::Emom,
    Role::Quality,
    Role::Target,
    Role::Pairs,
    Role::Every,
    Role::Week,
    Role::Stations,
    Role::Intervals,
];

/// Words of everyday that are a heading only with a sign or a number behind them.
const WEAK: [&str; 16] = [
    "power", "lift", "barbell", "extra", "cool", "prep", "engine", "grinder", "chipper", "bonus", "practice",
    "recovery", "stretch", "mobility", "general", "midline",
];

/// A heading word at a place, whether nothing else can be meant, and the place after it. `dressed`: the line has a hash
/// or a part's letter, or is bold.
pub(super) fn head(s: &Scan<'_>, i: usize, dressed: bool) -> Option<(BlockKind, bool, usize)> {
    let (kind, next) = KINDS
        .iter()
        .filter_map(|(role, kind)| s.role(i, *role).map(|n| (*kind, n)))
        .max_by_key(|(_, n)| *n)?;
    // a movement that begins with the word goes before: `power clean`, `stretch` is none
    if s.name(i).is_some_and(|(_, n)| n > next || n == next && kind == BlockKind::Strength) {
        return None;
    }
    let number =
        matches!(s.tokens.get(next).map(|t| t.kind), Some(Kind::Number(_) | Kind::Time(_) | Kind::Ticks(_)));
    let clocked = s.any(next, &CLOCKED).is_some();
    let closed = s.end(next)
        || s.sign(next, '-')
        || s.sign(next, '(')
        || s.sign(next, '=')
        || s.sign(next, '/')
        || s.sign(next, '"');
    let word = s.canon(i);
    // a single letter pair is a heading only alone, before a sign or a number
    let sure = closed || number || clocked || dressed;
    let plain = PLAIN.contains(&word) || next > i + 1;
    let weak = WEAK.contains(&word);
    if weak && next == i + 1 && !(closed || dressed && s.end(next)) && !(number && word != "power") {
        return None;
    }
    (sure || plain).then_some((kind, sure, next))
}

/// Reads a line about the day; whether it was one. `late`: a block stands above it.
pub(super) fn meta(line: &Line, late: bool, sheet: &mut Sheet, problems: &mut Vec<Problem>) -> bool {
    let sign = line.low.find([':', '|']).unwrap_or(line.low.len());
    let key = line.low.get(..sign).unwrap_or_default().trim();
    let known = [
        "title",
        "name",
        "date",
        "day",
        "intent",
        "intention",
        "feel",
        "stimulus",
        "goal",
        "class",
        "class length",
        "unit",
        "units",
    ];
    if sign == line.low.len() || !known.contains(&key) {
        return false;
    }
    let intent = matches!(key, "intent" | "intention" | "feel" | "stimulus" | "goal");
    let value = line.from(sign + 1);
    // `Goal: 7+ rounds` is a target, not a feeling
    let figures = value.low.contains(|c: char| c.is_ascii_digit()) && matches!(key, "goal" | "stimulus");
    if (late && !intent) || figures {
        return false;
    }
    if value.text.is_empty() {
        return true;
    }
    let mut say =
        |message: &str| problems.push(problem(&value, 0, value.text.len(), Severity::Error, message));
    match key {
        "title" | "name" => {
            sheet.title = Some(value.text.trim_matches('"').trim().to_owned()).filter(|t| !t.is_empty());
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
        .split(|c: char| c.is_whitespace() || c == ',' || c == '|')
        .filter(|w| !w.is_empty() && !DAYS.iter().any(|d| w.starts_with(d)))
        .collect();
    if let [one] = words.as_slice() {
        let parts: Vec<&str> = one.split(['-', '.', '/']).collect();
        let [a, b, c] = parts.as_slice() else { return None };
        let n = |t: &str| t.parse::<u32>().ok().filter(|_| t.len() <= 4);
        let (a, b, d) = (n(a)?, n(b)?, n(c)?);
        let (y, m, day) = if a > 31 { (a, b, d) } else { (if d < 100 { d + 2000 } else { d }, b, a) };
        return NaiveDate::from_ymd_opt(i32::try_from(y).ok()?, m, day);
    }
    let month = words.iter().find_map(|w| MONTHS.iter().position(|m| w.starts_with(m)))? as u32 + 1;
    let numbers: Vec<u32> = words
        .iter()
        .filter_map(|w| w.trim_end_matches(|c: char| c.is_alphabetic() || c == '.').parse().ok())
        .collect();
    let day = numbers.iter().find(|n| (1..=31).contains(*n))?;
    let year = numbers.iter().find(|n| (1900..3000).contains(*n))?;
    NaiveDate::from_ymd_opt(i32::try_from(*year).ok()?, month, *day)
}
