//! Reads a whole sheet: lines heard one by one, blocks cut over all of them, statements put together, scopes carried,
//! and what is odd said.

use super::assemble::Assembler;
use super::feature::{Feature, feature, sets_below};
use super::glossary::Glossary;
use super::heading::{meta, read_date};
use super::kind::{LineKind, Sure};
use super::line::hear;
use super::model::BlockKind;
use super::problem::{Problem, Severity};
use super::reading::{Chosen, PlaceOf, ReadWith, Reading, Spoken};
use super::scan::problem;
use super::segment::{Act, Choice, segment};
use super::statement::{Stated, Statement};
use super::text::row;
use rayon::prelude::*;

/// Lines that are read; what stands below is reported and left.
pub const MOST_LINES: usize = 10_000;
/// Characters of a line that are read.
const MOST_CHARS: usize = 2_000;
/// Problems that are reported one by one.
const MOST_PROBLEMS: usize = 300;
/// Lines for which near names are looked up: the search is costly.
const MOST_SUGGESTED: usize = 20;
/// Suggestions that are tried before they are offered; those of the problems below come when the first are mended.
const MOST_TRIED: usize = 24;
/// Characters of a sheet up to which suggestions are tried.
const LONGEST_TRIED: usize = 20_000;
/// A choice that wins by fewer points than this is shown with its runner-up.
const CLOSE: f64 = 1.0;
/// The same for talk, which nearly everything could be.
const CLOSE_TALK: f64 = 0.4;

/// Reads a sheet. Never fails: what cannot be read becomes a problem, the rest a session.
///
/// ```
/// let r = lantern_core::sheet::read("# workout cap 12:00\n3 rounds for time\n15 wall balls 9/6 kg");
/// assert!(r.problems.is_empty());
/// assert_eq!(r.sheet.blocks[0].cap_s, Some(720));
/// ```
pub fn read(text: &str) -> Reading {
    read_with(text, &ReadWith::default())
}

/// Reads a sheet by what a hall has and has answered. A suggestion is offered only where taking it leaves fewer problems.
pub fn read_with(text: &str, with: &ReadWith<'_>) -> Reading {
    let mut reading = read_once(text, with);
    let before = weight_of(&reading);
    let short = text.len() <= LONGEST_TRIED;
    let mut left = MOST_TRIED;
    for i in 0..reading.problems.len() {
        let Some(p) = reading.problems.get(i).filter(|p| !p.suggestions.is_empty()) else { continue };
        let fits: Vec<bool> = (0..p.suggestions.len())
            .map(|s| {
                let tried = short && left > 0;
                left = left.saturating_sub(1);
                tried && weight_of(&read_once(&p.apply(text, s), with)) < before
            })
            .collect();
        if let Some(p) = reading.problems.get_mut(i) {
            let mut fit = fits.into_iter();
            p.suggestions.retain(|_| fit.next().unwrap_or(false));
        }
    }
    reading
}

/// Errors, then warnings: what a suggestion must lessen.
fn weight_of(r: &Reading) -> (usize, usize) {
    let errors = r.problems.iter().filter(|p| p.severity == Severity::Error).count();
    (errors, r.problems.len() - errors)
}

fn read_once(text: &str, with: &ReadWith<'_>) -> Reading {
    let glossary = with.glossary.unwrap_or(Glossary::standard());
    let mut a = Assembler::default();
    let heard = all_lines(text, glossary, &mut a);
    a.sheet.units = if a.units_said { a.sheet.units } else { with.units };
    super::scope::units(&heard, &mut a, with);
    let mut features: Vec<Feature> = heard.iter().map(|l| feature(&l.heard, &l.stated)).collect();
    sets_below(&mut features);
    let mut fixed: Vec<Option<Act>> = heard.iter().map(|l| chosen(l, with.choices)).collect();
    for (i, (l, f)) in heard.iter().zip(&features).enumerate() {
        if strange(l, f, i)
            && let Some(act) = fixed.get_mut(i)
        {
            *act = Some(Act::Open(BlockKind::Workout));
        }
    }
    let choices = segment(&features, &fixed);
    for ((l, c), f) in heard.iter().zip(&choices).zip(&features) {
        one(&mut a, l, c.act, f);
    }
    a.close_block();
    let places = places(&heard, &choices, &a);
    finish(a, places)
}

/// Every line heard, on all cores; what says something of the day is taken at once.
fn all_lines(text: &str, glossary: &Glossary, a: &mut Assembler) -> Vec<Spoken> {
    let rows = rows(text, a);
    let spoken: Vec<Spoken> = rows.par_iter().map(|r| Spoken::of(hear(r, glossary, false))).collect();
    let mut out: Vec<Spoken> = Vec::with_capacity(rows.len());
    let mut unknown = 0;
    for (row, mut l) in rows.into_iter().zip(spoken) {
        if of_the_day(&row, out.is_empty(), late(&out), a) {
            continue;
        }
        if let Some(text) = keyed(&row.line, "note") {
            let words = Stated { what: Statement::Words(text), from: 0, to: 4, problems: Vec::new() };
            l.stated = vec![words];
            out.push(l);
            continue;
        }
        // near names are looked up for the first lines that need them only: the search is costly
        let wrong =
            l.heard.said.iter().filter(|s| s.problems.iter().any(|p| p.severity == Severity::Error)).count();
        if wrong > 0 && unknown < MOST_SUGGESTED {
            l = Spoken::of(hear(&row, glossary, true));
        }
        unknown += wrong;
        out.push(l);
    }
    coloured(&mut out);
    out
}

/// The lines that hold anything.
fn rows(text: &str, a: &mut Assembler) -> Vec<super::text::Row> {
    let mut out = Vec::new();
    let mut gap = false;
    let mut label = None;
    for (i, raw) in text.split('\n').enumerate() {
        let number = i as u32 + 1;
        if i >= MOST_LINES {
            let message = format!("The sheet has more than {MOST_LINES} lines. I read those above this one.");
            a.limits.push(Problem::at(number, Severity::Error, message));
            break;
        }
        let cut = raw.char_indices().nth(MOST_CHARS).map(|(at, _)| at);
        let Some(mut row) = row(number, cut.and_then(|at| raw.get(..at)).unwrap_or(raw), gap) else {
            gap |= !raw.contains(char::is_alphanumeric);
            continue;
        };
        // `Part B` on a line of its own: the dress of the next line
        if let Some(l) = super::text::only_label(&row.line.low) {
            (label, gap) = (Some(l), true);
            a.lines.push((number, LineKind::Heading));
            continue;
        }
        row.label = row.label.or(label.take());
        gap = false;
        if cut.is_some() {
            let message =
                format!("This line has more than {MOST_CHARS} characters. I read the first {MOST_CHARS}.");
            a.limits.push(problem(&row.line, 0, 20, Severity::Warning, message));
        }
        out.push(row);
    }
    out
}

/// Whether any line has been work.
fn late(out: &[Spoken]) -> bool {
    out.iter().any(|l| l.stated.iter().any(|s| !matches!(s.what, Statement::Wrong)))
}

/// What says something of the day or the class is taken at once; whether the line was such.
fn of_the_day(row: &super::text::Row, first: bool, late: bool, a: &mut Assembler) -> bool {
    let number = row.line.number;
    if let Some(text) = keyed(&row.line, "message") {
        a.sheet.messages.push(text);
        a.lines.push((number, LineKind::Message));
        return true;
    }
    let units = a.sheet.units;
    if meta(&row.line, late, &mut a.sheet, &mut a.problems) {
        a.units_said |= row.line.low.starts_with("unit") || a.sheet.units != units;
        a.lines.push((number, LineKind::Day));
        return true;
    }
    if a.sheet.date.is_none()
        && first
        && let Some(date) = read_date(&row.line.low)
    {
        a.sheet.date = Some(date);
        a.lines.push((number, LineKind::Day));
        return true;
    }
    false
}

/// Discs of several colours are levels.
fn coloured(all: &mut [Spoken]) {
    let colours: std::collections::BTreeSet<u32> = all.iter().filter_map(|l| l.heard.row.level).collect();
    if colours.len() < 2 {
        return;
    }
    for l in all {
        if let Some(n) = l.heard.row.level
            && !l.stated.iter().any(|s| matches!(s.what, Statement::Level(_)))
        {
            l.stated.insert(0, Stated { what: Statement::Level(n), from: 0, to: 0, problems: Vec::new() });
        }
    }
}

/// `message: TEXT` and `note: TEXT`, as sheets are printed.
fn keyed(line: &super::text::Line, key: &str) -> Option<String> {
    let rest = line.low.strip_prefix(key)?;
    rest.starts_with(": ").then(|| line.text.get(key.len() + 2..).unwrap_or_default().trim().to_owned())
}

fn chosen(l: &Spoken, choices: &[(String, Chosen)]) -> Option<Act> {
    let text = l.heard.row.line.text.trim();
    if matches!(l.stated.first().map(|s| &s.what), Some(Statement::Words(_))) {
        return Some(Act::On);
    }
    choices.iter().find(|(t, _)| t.trim() == text).map(|(_, c)| match c {
        Chosen::Message => Act::Message,
        Chosen::GoesOn => Act::On,
        Chosen::Opens(k) => Act::Open(*k),
    })
}

fn one(a: &mut Assembler, l: &Spoken, act: Act, f: &Feature) {
    let line = &l.heard.row.line;
    // a heading with a hash of a kind that nobody knows
    if f.hashes && f.head.is_none() && matches!(act, Act::Open(_)) {
        a.strange_kind(&l.heard);
        return;
    }
    if act == Act::Message
        && a.block.is_none()
        && a.sheet.blocks.is_empty()
        && a.sheet.title.is_none()
        && is_title(a, l, f)
    {
        let name = l.heard.name.clone().unwrap_or_else(|| line.text.trim_matches(['"', ':', ' ']).to_owned());
        a.sheet.title = Some(name);
        if let Some(s) = l.stated.iter().find(|s| super::assemble::is_work(&s.what)) {
            let message = "I took this line as the session's name, though it names work. If it is work, write a heading above it: # workout.";
            a.problems.push(problem(line, s.from, s.to, Severity::Warning, message));
        }
        a.lines.push((line.number, LineKind::Title));
        return;
    }
    a.line(&l.heard, &l.stated, act);
}

/// A heading with a hash of a kind that nobody knows; the first line may be a title in such dress.
fn strange(l: &Spoken, f: &Feature, place: usize) -> bool {
    let digits = l.heard.row.line.low.contains(|c: char| c.is_ascii_digit());
    f.hashes && f.head.is_none() && l.heard.row.hashes == 1 && (place > 0 || digits)
}

/// The first line of talk is a title when it is short.
fn is_title(a: &Assembler, l: &Spoken, f: &Feature) -> bool {
    let first = a.lines.iter().all(|(_, k)| *k == LineKind::Day);
    first && f.words <= 8 && !l.heard.row.line.text.ends_with(['.', '!', '?'])
}

fn places(heard: &[Spoken], choices: &[Choice], a: &Assembler) -> Vec<PlaceOf> {
    let chosen = |act: Act| match act {
        Act::Message => Chosen::Message,
        Act::On => Chosen::GoesOn,
        Act::Open(k) => Chosen::Opens(k),
    };
    let kinds: std::collections::HashMap<u32, LineKind> = a.lines.iter().copied().collect();
    heard
        .iter()
        .zip(choices)
        .map(|(l, c)| {
            let line = l.heard.row.line.number;
            let kind = kinds.get(&line).copied();
            let near = |act: Act| if act == Act::Message { CLOSE_TALK } else { CLOSE };
            let close = c.other.filter(|(act, by)| *by < near(*act) && c.act != Act::Message);
            let sure = match kind {
                Some(LineKind::Unread) => Sure::Unread,
                _ if close.is_some() => Sure::Inferred,
                _ => Sure::Sure,
            };
            PlaceOf {
                line,
                text: l.heard.row.line.text.clone(),
                sure,
                now: chosen(c.act),
                other: close.map(|(act, _)| chosen(act)),
            }
        })
        .collect()
}

fn finish(mut a: Assembler, places: Vec<PlaceOf>) -> Reading {
    super::scope::carry(&mut a.sheet);
    super::plausible::check(&a.sheet, &mut a.problems);
    if a.sheet.blocks.is_empty() {
        a.problems.push(Problem {
            line: 1,
            column: 1,
            length: 1,
            severity: Severity::Warning,
            message: "There is no session on this sheet yet. Write, say, 3 rounds for time and a line for each movement.".to_owned(),
            suggestions: Vec::new(), asks: None
        });
    }
    one_a_place(&mut a.problems);
    a.problems.append(&mut a.limits);
    a.problems.sort_by_key(|p| (p.line, p.severity));
    let more = a.problems.len().saturating_sub(MOST_PROBLEMS);
    if more > 0 {
        // errors must not hide behind warnings
        a.problems.sort_by_key(|p| (p.severity, p.line, p.column));
        a.problems.truncate(MOST_PROBLEMS);
        a.problems.sort_by_key(|p| (p.line, p.column));
        if let Some(last) = a.problems.last().cloned() {
            let message = format!("{more} more problems are not listed. Is this a session sheet?");
            a.problems.push(Problem { message, suggestions: Vec::new(), ..last });
        }
    }
    a.lines.sort_by_key(|(n, _)| *n);
    Reading { sheet: a.sheet, problems: a.problems, lines: a.lines, places }
}

/// One problem a line: the worst, then the first.
fn one_a_place(problems: &mut Vec<Problem>) {
    problems.sort_by_key(|p| (p.line, p.severity, p.column));
    problems.dedup_by_key(|p| p.line);
}
