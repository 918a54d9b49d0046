//! The session sheet: text on the left, what was read on the right, problems at their place.

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, load};
use crate::draw::esc;
use crate::error::Page;
use crate::frame::{Frame, go, html};
use crate::session::{Change, Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::movement::catalogue;
use lantern_core::sheet::{
    Block, Format, LiftSets, LineKind, MoveLine, Part, Problem, Reading, Severity, TeamMode, TotalCount, read,
};
use lantern_core::units::{clock, pair, plain};
use lantern_store::{ClassId, sheet};
use std::collections::BTreeMap;

/// Lines that are shown beside the text; a longer paste is read all the same.
const MOST_SHOWN: usize = 300;
/// Problems that are shown at once.
const MOST_PROBLEMS: usize = 12;
/// Least height of the paper, in lines.
const LEAST_LINES: usize = 17;

/// One line beside the text.
struct LineView {
    number: usize,
    marked: String,
    bad: bool,
    tag: &'static str,
    kind: &'static str,
    text: String,
}

/// One problem below the text.
struct ProblemView {
    index: usize,
    line: u32,
    column: u32,
    length: u32,
    error: bool,
    first: bool,
    message: String,
    suggestions: Vec<String>,
}

#[derive(Template)]
#[template(path = "sheet/reading.html")]
struct ReadingPart {
    base: String,
    oob: bool,
    lines: Vec<LineView>,
    cut: usize,
    problems: Vec<ProblemView>,
    more: usize,
    sums: String,
    saved: String,
}

#[derive(Template)]
#[template(path = "sheet/page.html")]
struct SheetPage {
    frame: Frame,
    base: String,
    text: String,
    height: usize,
    reading: ReadingPart,
}

/// What each line was read as: (kind, words).
fn said(reading: &Reading, text: &str) -> BTreeMap<u32, (&'static str, String)> {
    let mut out = BTreeMap::new();
    for (line, number) in text.lines().zip(1u32..) {
        if line.trim().starts_with("//") {
            out.insert(number, ("", "<span class=\"u\">a comment</span>".to_owned()));
        }
    }
    let lines: Vec<&str> = text.lines().collect();
    for (number, kind) in &reading.lines {
        let low = lines.get((*number as usize).saturating_sub(1)).map_or_else(String::new, |l| l.trim().to_lowercase());
        if let Some(entry) = line_words(reading, *number, *kind, &low) {
            out.insert(*number, entry);
        }
    }
    out
}

fn line_words(reading: &Reading, number: u32, kind: LineKind, low: &str) -> Option<(&'static str, String)> {
    let s = &reading.sheet;
    let block = s.blocks.iter().rev().find(|b| b.line <= number);
    let part = block.and_then(|b| b.parts.iter().rev().find(|p| p.line <= number).or(b.parts.first()));
    let read_only = || ("", "<span class=\"u\">read</span>".to_owned());
    Some(match kind {
        LineKind::Title => ("Name", format!("<b>{}</b>", esc(s.title.as_deref().unwrap_or_default()))),
        LineKind::Day => day_words(reading, low).unwrap_or_else(read_only),
        LineKind::Heading => block_words(block?),
        LineKind::Note => ("Note", "kept word for word".to_owned()),
        LineKind::Week => {
            let [k, n] = block?.week?;
            ("Cycle", format!("<b>week {k}</b> of {n}"))
        }
        LineKind::Score => ("Score", format!("<b>{}</b>", block?.scored().words())),
        LineKind::Keep => ("Keep", "in every version".to_owned()),
        LineKind::Variant => ("Instead", "where that kit is missing".to_owned()),
        LineKind::Team => {
            let t = block?.team?;
            let how = match t.mode {
                TeamMode::Alternate => "whole rounds in turn",
                TeamMode::OneWorks => "one works, the others rest",
                TeamMode::Share => "the reps of every line shared",
            };
            ("Together", format!("<b>{} people</b>, {how}", t.size))
        }
        LineKind::Part => ("Part", rest_before(part?)),
        LineKind::Rest => {
            let lifts = block.is_some_and(|b| !b.lifts.is_empty());
            ("Rest", if lifts { "between sets".to_owned() } else { "fixed, on the clock".to_owned() })
        }
        LineKind::Build => {
            let b = block?.builds.iter().find(|b| b.line == number)?;
            let name = b.movement.id().map_or_else(String::new, |id| catalogue().name(id));
            let window = b.window_s.map_or_else(String::new, |s| format!(" in {}", clock(f64::from(s))));
            ("Build", format!("<b>{}</b> to the day's heaviest {}{window}", esc(&name), b.reps))
        }
        LineKind::Sets => match block?.lifts.iter().find(|l| l.line == number) {
            Some(l) => ("Sets", lift_words(l)),
            None => read_only(),
        },
        LineKind::Clock => ("Clock", part.and_then(part_words).unwrap_or_default()),
        LineKind::Work | LineKind::Around => match block?.moves().find(|m| m.line == number) {
            Some(m) => (if kind == LineKind::Work { "Work" } else { "Around" }, move_words(block?, part?, m)),
            None => read_only(),
        },
    })
}

fn rest_before(p: &Part) -> String {
    if p.rest_s > 0 { format!("next, after <b>{}</b> of rest", clock(f64::from(p.rest_s))) } else { "next, straight on".to_owned() }
}

fn day_words(reading: &Reading, low: &str) -> Option<(&'static str, String)> {
    let key = low.split(':').next().unwrap_or_default().trim();
    let s = &reading.sheet;
    Some(match key {
        "title" | "name" => ("Name", format!("<b>{}</b>", esc(s.title.as_deref().unwrap_or_default()))),
        "date" | "day" => ("When", format!("<b>{}</b>", s.date?.format("%A %-d %B %Y"))),
        "class" | "class length" => ("Class", format!("<b>{}</b>", clock(f64::from(s.class_s?)))),
        "intent" | "feel" | "stimulus" | "goal" | "intention" => {
            ("Stimulus", "<b>Your note</b>, kept word for word".to_owned())
        }
        "units" | "unit" => ("Units", "loads without a unit".to_owned()),
        _ => return None,
    })
}

/// The clock of a part in words.
fn part_words(p: &Part) -> Option<String> {
    let t = |s: &u32| clock(f64::from(*s));
    Some(match p.format.as_ref()? {
        Format::Rounds { n } => format!("<b>{n} rounds</b>, clock counts up"),
        Format::Scheme { reps } => {
            let reps: Vec<String> = reps.iter().map(u32::to_string).collect();
            format!("<b>{}</b> for time", reps.join("-"))
        }
        Format::Chipper => "<b>once through</b>, clock counts up".to_owned(),
        Format::Amrap { seconds } => format!("<b>{}</b>, as many rounds as possible", t(seconds)),
        Format::Quality { rounds, .. } if *rounds > 1 => format!("{rounds} rounds with care, unscored"),
        Format::Quality { .. } => "with care, unscored".to_owned(),
        Format::Every { seconds, n } => format!("<b>every {}</b>, {n} times{}", t(seconds), in_all(p)),
        Format::EveryAlternating { seconds, n } => {
            format!("<b>every {}</b>, a line in turn, {n} times{}", t(seconds), in_all(p))
        }
        Format::EveryUntilFailure { seconds } => format!("<b>every {}</b> until a cycle is not finished", t(seconds)),
        Format::Intervals { on, off, n } => {
            format!("<b>{n} windows</b> of {}, {} rest{}", t(on), t(off), in_all(p))
        }
        Format::Stations { on, off, rounds } => {
            format!("<b>{rounds} rounds</b> of stations, {} on, {} off{}", t(on), t(off), in_all(p))
        }
        Format::OnOff { on, off, n, alternating } => {
            let how = if *alternating { "in turn" } else { "on each line" };
            format!("<b>{n} times</b> {} on, {} off, {how}{}", t(on), t(off), in_all(p))
        }
        Format::Sets | Format::BuildToMax | Format::ClimbingSingles => return None,
    })
}

fn in_all(p: &Part) -> String {
    p.clock_s().map_or_else(String::new, |s| format!(" · {} in all", clock(f64::from(s))))
}

fn block_words(b: &Block) -> (&'static str, String) {
    let kind = match b.kind.word() {
        "warm-up" => "Warm-up",
        "strength" => "Strength",
        "skill" => "Skill",
        "workout" => "Workout",
        "accessory" => "Accessory",
        _ => "Cool-down",
    };
    let mut parts = Vec::new();
    if let Some(n) = &b.name {
        parts.push(format!("<b>{}</b>", esc(n)));
    }
    if let Some(d) = b.duration_s {
        parts.push(format!("<b>{}</b> set aside", clock(f64::from(d))));
    }
    if let Some(c) = b.cap_s {
        parts.push(format!("<b>cap {}</b>", clock(f64::from(c))));
    }
    if let Some(t) = b.target {
        let s = lantern_core::stimulus::Stimulus::of_sheet(b, t, None);
        parts.push(format!("target {}", s.window_text()));
    }
    if parts.is_empty() {
        parts.extend(part_words(b.first()));
    }
    if parts.is_empty() && !b.lifts.is_empty() {
        let sets: usize = b.lifts.iter().map(|l| l.reps.len()).sum();
        let lifts = if b.lifts.len() == 1 { "1 lift".to_owned() } else { format!("{} lifts", b.lifts.len()) };
        parts.push(format!("<b>{lifts}</b>, {sets} sets"));
    }
    (kind, parts.join(" · "))
}

fn lift_words(l: &LiftSets) -> String {
    let name = l.movement.id().map_or_else(String::new, |id| catalogue().name(id));
    let reps = l.reps.first().copied().unwrap_or(0);
    let sets = if l.reps.iter().all(|r| *r == reps) {
        format!("{} sets of {reps}", l.reps.len())
    } else {
        l.reps.iter().map(u32::to_string).collect::<Vec<_>>().join("-")
    };
    let percent = l.percent.as_ref().map(|p| {
        let values: Vec<String> = p.values.iter().map(|v| plain(*v)).collect();
        format!(" at {} %", values.join(if p.band { " to " } else { ", " }))
    });
    let every = l.every_s.map(|s| {
        let n = l.reps.len() as u32;
        format!(" · {n} × {} = {}", clock(f64::from(s)), clock(f64::from(s * n)))
    });
    format!("<b>{}</b>, {sets}{}{}", esc(&name), percent.unwrap_or_default(), every.unwrap_or_default())
}

fn move_words(b: &Block, p: &Part, m: &MoveLine) -> String {
    let Some(id) = m.movement.id() else { return "of something".to_owned() };
    let total = b.totals().into_iter().find(|t| t.movement == id).and_then(|t| t.count);
    let suffix = match m.unit.suffix() {
        "" => String::new(),
        s => format!(" {s}"),
    };
    let all = match total {
        Some(TotalCount::Each(n)) => format!(" · {}{suffix} in all", plain(n)),
        Some(TotalCount::ByStandard(c)) => format!(" · {}{suffix} in all", pair(c)),
        None => String::new(),
    };
    let load = match &m.load {
        Some(lantern_core::sheet::Load::Kg { kg, .. }) => format!(" at {} kg", pair(*kg)),
        Some(lantern_core::sheet::Load::Percent { percent, .. }) => format!(" at {} %", plain(*percent)),
        _ => String::new(),
    };
    format!(
        "<b>{}</b>{load}{}",
        esc(&catalogue().name(id)),
        if p.rounds() > 1 || m.count.is_none() { all } else { String::new() }
    )
}

/// A line with the meant characters of its problems marked.
fn marked(line: &str, problems: &[&Problem]) -> String {
    let chars: Vec<char> = line.chars().collect();
    let mut bad = vec![false; chars.len()];
    for p in problems {
        let from = (p.column as usize).saturating_sub(1);
        for slot in bad.iter_mut().skip(from).take(p.length as usize) {
            *slot = true;
        }
    }
    let mut out = String::new();
    let mut open = false;
    for (c, b) in chars.iter().zip(&bad) {
        if *b != open {
            out.push_str(if *b { "<span class=\"hl-bad\">" } else { "</span>" });
            open = *b;
        }
        out.push_str(&esc(&c.to_string()));
    }
    if open {
        out.push_str("</span>");
    }
    out
}

fn part(base: &str, text: &str, reading: &Reading, saved: String, oob: bool) -> ReadingPart {
    let says = said(reading, text);
    let all: Vec<&str> = text.split('\n').collect();
    let lines = all
        .iter()
        .zip(1..)
        .take(MOST_SHOWN)
        .map(|(line, number)| {
            let here: Vec<&Problem> = reading.problems.iter().filter(|p| p.line as usize == number).collect();
            let error = here.iter().any(|p| p.severity == Severity::Error);
            let warned = !here.is_empty();
            let (kind, text) = says.get(&(number as u32)).cloned().unwrap_or_default();
            // only the characters that can be seen beside the reading are worth drawing
            let visible: String = line.trim_end_matches('\r').chars().take(400).collect();
            LineView {
                number,
                marked: marked(&visible, &here),
                bad: warned,
                tag: if error { "not read" } else { "look" },
                kind,
                text,
            }
        })
        .collect();
    let first = reading.problems.iter().position(|p| p.severity == Severity::Error).unwrap_or(0);
    let problems: Vec<ProblemView> = reading
        .problems
        .iter()
        .enumerate()
        .take(MOST_PROBLEMS)
        .map(|(index, p)| ProblemView {
            index,
            line: p.line,
            column: p.column,
            length: p.length,
            error: p.severity == Severity::Error,
            first: index == first,
            message: p.message.clone(),
            suggestions: p.suggestions.clone(),
        })
        .collect();
    let written = all.iter().filter(|l| !l.trim().is_empty()).count();
    let mut unread: Vec<u32> =
        reading.problems.iter().filter(|p| p.severity == Severity::Error).map(|p| p.line).collect();
    unread.dedup();
    ReadingPart {
        base: base.to_owned(),
        oob,
        cut: all.len().saturating_sub(MOST_SHOWN),
        more: reading.problems.len().saturating_sub(MOST_PROBLEMS),
        lines,
        problems,
        sums: format!("{} of {written} written lines read.", written.saturating_sub(unread.len())),
        saved,
    }
}

fn page(who: &Who, class: &ClassPage) -> SheetPage {
    let draft = class.session.draft.clone();
    let text = draft.clone().unwrap_or_else(|| class.session.sheet.clone());
    let saved = match draft {
        Some(_) => "Kept as a draft. Save it to plan with it.".to_owned(),
        None => "Saved.".to_owned(),
    };
    let reading = read(&text);
    let p = part(&class.base(), &text, &reading, saved, false);
    let mut frame = class.frame(who, "sheet");
    if let Some(step) = frame.steps.as_mut().and_then(|s| s.list.first_mut()) {
        step.look = reading.problems.iter().filter(|p| p.severity == Severity::Error).count();
    }
    SheetPage {
        frame,
        base: class.base(),
        height: text.split('\n').count().clamp(LEAST_LINES, MOST_SHOWN),
        text,
        reading: p,
    }
}

/// `GET /classes/{id}/sheet`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    html(&blocking(&app, move |conn, app| Ok(page(&who, &load(conn, app, who.gym(), class)?))).await?)
}

/// Forms send line ends as CRLF; the sheet keeps LF.
fn typed(change: &Change) -> String {
    change.fields.get("sheet").replace("\r\n", "\n")
}

/// `POST /classes/{id}/sheet`: saves; stays here while something is not read, else goes on to the hour.
pub async fn save(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, gym) = (typed(&change), change.who.gym());
    let errors = read(&text).has_errors();
    blocking(&app, move |conn, _| {
        let session = lantern_store::class::find(conn, gym, class)?.session;
        Ok(sheet::change(conn, gym, session, &text)?)
    })
    .await?;
    go(&format!("/classes/{class}/{}", if errors { "sheet" } else { "hour" }))
}

/// `POST /classes/{id}/sheet/read`: the reading of what is typed, which is kept as a draft.
pub async fn read_part(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, gym) = (typed(&change), change.who.gym());
    let now = (app.now)().format("%H:%M").to_string();
    let shown = blocking(&app, move |conn, _| {
        let session = lantern_store::class::find(conn, gym, class)?.session;
        let same = sheet::find(conn, gym, session)?.sheet == text;
        if same {
            sheet::change(conn, gym, session, &text)?;
        } else {
            sheet::keep_draft(conn, gym, session, &text)?;
        }
        let saved = if same {
            "Saved.".to_owned()
        } else {
            format!("Kept as a draft at {now}. Save it to plan with it.")
        };
        Ok(part(&format!("/classes/{class}"), &text, &read(&text), saved, true))
    })
    .await?;
    html(&shown)
}

/// `POST /classes/{id}/sheet/check`: the same without script.
pub async fn check(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, gym) = (typed(&change), change.who.gym());
    blocking(&app, move |conn, _| {
        let session = lantern_store::class::find(conn, gym, class)?.session;
        Ok(sheet::keep_draft(conn, gym, session, &text)?)
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}

/// `POST /classes/{id}/sheet/take`: puts a suggestion in its place; the result is a draft.
pub async fn take(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, gym) = (typed(&change), change.who.gym());
    let taken = change.fields.get("take").split_once('.').and_then(|(p, s)| {
        let (p, s) = (p.parse::<usize>().ok()?, s.parse::<usize>().ok()?);
        Some(read(&text).problems.get(p)?.apply(&text, s))
    });
    blocking(&app, move |conn, _| {
        let session = lantern_store::class::find(conn, gym, class)?.session;
        Ok(sheet::keep_draft(conn, gym, session, &taken.unwrap_or(text))?)
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}

#[cfg(test)]
mod tests {
    use super::*;

    const TEXT: &str = "title: Quay\nintent: steady\n\n# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\nweek 3 of 6\n\n# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n12 power clean 60/42.5 kg\n12 power claens\nsets: power clean <= 2\nscore: time\n// why";

    fn says(line: u32) -> (&'static str, String) {
        said(&read(TEXT), TEXT).get(&line).cloned().unwrap_or_default()
    }

    #[test]
    fn each_line_says_what_it_was_read_as() {
        assert_eq!(says(1), ("Name", "<b>Quay</b>".to_owned()));
        assert_eq!(says(2).0, "Stimulus");
        assert_eq!(says(3), ("", String::new()));
        assert_eq!(says(4), ("Strength", "<b>1 lift</b>, 5 sets".to_owned()));
        assert_eq!(
            says(5),
            ("Sets", "<b>Front squat</b>, 5 sets of 3 at 78 to 82 % · 5 × 2:30 = 12:30".to_owned())
        );
        assert_eq!(says(6), ("Cycle", "<b>week 3</b> of 6".to_owned()));
        assert_eq!(says(8), ("Workout", "<b>Quay</b> · <b>cap 14:00</b> · target 9:00 to 12:00".to_owned()));
        assert_eq!(says(9), ("Clock", "<b>3 rounds</b>, clock counts up".to_owned()));
        assert_eq!(says(10), ("Work", "<b>Power clean</b> at 60/42.5 kg · 36 in all".to_owned()));
        assert_eq!((says(12).0, says(13).0), ("Keep", "Score"));
        assert!(says(14).1.contains("a comment"));
    }

    #[test]
    fn the_meant_characters_are_marked_and_all_are_escaped() {
        let r = read("# workout\nfor time\n10 <b> & co");
        let p: Vec<&Problem> = r.problems.iter().filter(|p| p.line == 3).collect();
        let m = marked("10 <b> & co", &p);
        assert!(
            m.contains("<span class=\"hl-bad\">") && m.contains("&lt;b&gt;") && !m.contains("<b>"),
            "{m}"
        );
        assert_eq!(marked("plain", &[]), "plain");
    }

    #[test]
    fn a_part_counts_lines_and_cuts_what_is_too_long_to_show() {
        let r = read(TEXT);
        let p = part("/classes/x", TEXT, &r, "Saved.".into(), true);
        assert_eq!(p.sums, "11 of 12 written lines read.");
        assert_eq!((p.lines.len(), p.cut, p.problems.len()), (14, 0, 1));
        assert!(p.problems[0].first && p.problems[0].suggestions[0] == "power clean");
        let many = "10 burpees\n".repeat(900);
        let p = part("/classes/x", &many, &read(&many), String::new(), true);
        assert_eq!((p.lines.len(), p.cut), (MOST_SHOWN, 901 - MOST_SHOWN));
    }

    #[test]
    fn a_sheet_without_headings_says_its_clock_where_the_work_begins() {
        let text = "21-15-9 for time\nthrusters 40/30\npull-ups";
        let all = said(&read(text), text);
        assert!(all[&1].1.contains("21-15-9"), "{all:?}");
        assert_eq!(all[&2].0, "Work");
    }
}
