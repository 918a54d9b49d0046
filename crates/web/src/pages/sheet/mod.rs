//! The session sheet: text on the left, what was read on the right, problems at their place.

mod answers;
mod help;
pub mod sums;
mod words;

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, planned, read_here};
use crate::day::read_day;
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html, html_as};
use crate::session::{Change, Who, blocking, once, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use answers::{CloseView, close_calls};
pub use answers::{choose, take};
use askama::Template;
use help::{Example, examples};
use lantern_core::kit::Kit;
use lantern_core::sheet::{Problem, Reading, Severity, Sheet, Sure, dated, print};
use lantern_store::sheet::Session;
use lantern_store::{ClassId, GymId, StoreError, gym, kit, sheet};
use similar::{DiffTag, TextDiff};
use sums::{BlockSums, sums};
use words::{marked, said};

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
    /// Its place was read from the lines around it.
    inferred: bool,
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
    close: Vec<CloseView>,
    more: usize,
    sums: String,
    blocks: Vec<BlockSums>,
    /// The sheet in its canonical form, when that differs from what is typed and nothing would be lost.
    canonical: String,
    saved: String,
}

#[derive(Template)]
#[template(path = "sheet/page.html")]
struct SheetPage {
    frame: Frame,
    base: String,
    text: String,
    /// The save that is edited.
    version: i32,
    /// Typed and not saved.
    draft: bool,
    /// Classes that are planned by it, where they are several.
    shared: usize,
    /// What somebody else saved meanwhile, line by line.
    raced: Vec<OtherLine>,
    height: usize,
    reading: ReadingPart,
    examples: Vec<Example>,
    copy_to: String,
}

/// A line of two texts side by side.
struct OtherLine {
    mine: String,
    theirs: String,
    differs: bool,
}

/// Two texts side by side, lines that are alike beside each other.
fn beside(mine: &str, theirs: &str) -> Vec<OtherLine> {
    let diff = TextDiff::from_lines(mine, theirs);
    let mut out: Vec<OtherLine> = Vec::new();
    let line = |text: &str| text.trim_end_matches('\n').to_owned();
    for op in diff.ops() {
        let (a, b) = (diff.old_slices().get(op.old_range()), diff.new_slices().get(op.new_range()));
        let (a, b) = (a.unwrap_or_default(), b.unwrap_or_default());
        for i in 0..a.len().max(b.len()) {
            let of = |side: &[&str]| side.get(i).map(|t| line(t)).unwrap_or_default();
            out.push(OtherLine { mine: of(a), theirs: of(b), differs: op.tag() != DiffTag::Equal });
        }
    }
    out.truncate(MOST_SHOWN);
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
                inferred: reading
                    .places
                    .iter()
                    .any(|p| p.line as usize == number && p.sure == Sure::Inferred),
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
        close: close_calls(reading, &all),
        problems,
        blocks: sums(&reading.sheet),
        canonical: canonical(&reading.sheet, text, reading.has_errors()),
        sums: format!("{} of {written} written lines read.", written.saturating_sub(unread.len())),
        saved,
    }
}

/// The canonical form of a sheet that is read without errors and typed otherwise.
fn canonical(sheet: &Sheet, text: &str, errors: bool) -> String {
    let printed = print(sheet);
    let same = printed.trim() == text.trim();
    // comments are not part of a session: the offer would lose them
    let comments = text.lines().any(|l| l.contains("//"));
    if same || errors || comments || sheet.blocks.is_empty() { String::new() } else { printed }
}

fn page(who: &Who, class: &ClassPage, shared: usize, raced: Option<String>) -> SheetPage {
    let own = class.session.draft_of(who.account());
    let draft = raced.clone().or_else(|| own.map(str::to_owned));
    let text = draft.clone().unwrap_or_else(|| class.session.sheet.clone());
    let others = raced.map(|mine| beside(&mine, &class.session.sheet)).unwrap_or_default();
    let saved = match draft {
        Some(_) => "Kept as a draft. Save it to plan with it.".to_owned(),
        None => "Saved.".to_owned(),
    };
    let reading = read_here(&text, &class.session, &class.gym.settings, &class.kit);
    let p = part(&class.base(), &text, &reading, saved, false);
    let mut frame = class.frame(who, "sheet");
    if let Some(step) = frame.steps.as_mut().and_then(|s| s.list.first_mut()) {
        step.look = reading.problems.iter().filter(|p| p.severity == Severity::Error).count();
    }
    SheetPage {
        frame,
        base: class.base(),
        version: class.session.version,
        draft: own.is_some(),
        shared: if shared > 1 { shared } else { 0 },
        raced: others,
        height: text.split('\n').count().clamp(LEAST_LINES, MOST_SHOWN),
        text,
        reading: p,
        examples: examples(),
        copy_to: (class.class.starts_at.date() + chrono::Duration::days(7)).to_string(),
    }
}

/// `GET /classes/{id}/sheet`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let class = planned(&app, who.gym(), class).await?;
    let of = (who.gym(), class.session.id);
    let shared = blocking(&app, move |conn, _| Ok(sheet::classes_of(conn, of.0, of.1)?)).await?;
    html(&page(&who, &class, shared, None))
}

/// Forms send line ends as CRLF; the sheet keeps LF.
fn typed(change: &Change) -> String {
    change.fields.get("sheet").replace("\r\n", "\n")
}

async fn session_of(app: &App, of: GymId, class: ClassId) -> Result<(Session, gym::Gym, Kit), WebError> {
    blocking(app, move |conn, _| {
        let session = lantern_store::class::find(conn, of, class)?.session;
        Ok((sheet::find(conn, of, session)?, gym::find(conn, of)?, kit::find(conn, of)?))
    })
    .await
}

/// The class's session and the reading of a text as its sheet; no connection is held while it is read.
async fn hear(app: &App, of: GymId, class: ClassId, text: &str) -> Result<(Session, Reading), WebError> {
    let (session, hall, kit) = session_of(app, of, class).await?;
    let reading = read_here(text, &session, &hall.settings, &kit);
    Ok((session, reading))
}

/// `POST /classes/{id}/sheet`: saves; stays here while something is not read, else goes on to the hour.
pub async fn save(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (text, gym) = (typed(&change), change.who.gym());
    let (session, hall, kit) = session_of(&app, gym, class).await?;
    let seen = change.fields.get("version").parse::<i32>().unwrap_or(session.version);
    let reading = read_here(&text, &session, &hall.settings, &kit);
    // what is logged and decided for a block goes with it
    let before = read_here(&session.sheet, &session, &hall.settings, &kit);
    let blocks = session.blocks.align(&before.sheet.blocks).align(&reading.sheet.blocks);
    let (who, by) = (change.who.clone(), change.who.here());
    let mine = text.clone();
    let raced = once_unless(
        &app,
        key,
        |raced: &Option<usize>| raced.is_some(),
        move |conn, _| match sheet::save(conn, by, session.id, (&text, &blocks), seen) {
            Ok(()) => Ok(None),
            Err(StoreError::Raced) => Ok(Some(sheet::classes_of(conn, by.0, session.id)?)),
            Err(e) => Err(WebError::Store(e)),
        },
    )
    .await?;
    match raced {
        Some(shared) => {
            let class = planned(&app, by.0, class).await?;
            html_as(StatusCode::CONFLICT, &page(&who, &class, shared, Some(mine)))
        }
        None => go(&format!("/classes/{class}/{}", if reading.has_errors() { "sheet" } else { "hour" })),
    }
}

/// `POST /classes/{id}/sheet/discard`: drops what was typed and not saved.
pub async fn discard(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let by = change.who.here();
    once(&app, key, move |conn, _| {
        let session = lantern_store::class::find(conn, by.0, class)?.session;
        Ok(sheet::drop_draft(conn, by, session)?)
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}

/// `POST /classes/{id}/sheet/read`: the reading of what is typed, which is kept as a draft.
pub async fn read_part(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, by) = (typed(&change), change.who.here());
    let now = change.who.now(&app).format("%H:%M").to_string();
    let (session, reading) = hear(&app, by.0, class, &text).await?;
    let same = session.sheet == text;
    let saved = if same {
        "Saved.".to_owned()
    } else {
        format!("Kept as a draft at {now}. Save it to plan with it.")
    };
    let shown = part(&format!("/classes/{class}"), &text, &reading, saved, true);
    blocking(&app, move |conn, _| {
        match same {
            true => sheet::drop_draft(conn, by, session.id)?,
            false => sheet::keep_draft(conn, by, session.id, &text)?,
        }
        Ok(())
    })
    .await?;
    html(&shown)
}

/// `POST /classes/{id}/sheet/canonical`: the sheet in its canonical form, as a draft.
pub async fn tidy(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, by) = (typed(&change), change.who.here());
    let (session, reading) = hear(&app, by.0, class, &text).await?;
    let tidied = canonical(&reading.sheet, &text, reading.has_errors());
    let kept = if tidied.is_empty() { text } else { tidied };
    blocking(&app, move |conn, _| Ok(sheet::keep_draft(conn, by, session.id, &kept)?)).await?;
    go(&format!("/classes/{class}/sheet"))
}

/// `POST /classes/{id}/sheet/copy`: the saved sheet and its hour on another day, with the same members booked.
pub async fn copy(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let gym = change.who.gym();
    let day = read_day(change.fields.get("day"), "The day").map_err(WebError::Unreadable)?;
    let made = once(&app, key, move |conn, _| {
        let session = lantern_store::class::find(conn, gym, class)?.session;
        let text = dated(&sheet::find(conn, gym, session)?.sheet, day);
        Ok(lantern_store::class::copy(conn, gym, class, day, &text)?)
    })
    .await?;
    go(&format!("/classes/{made}/sheet"))
}

/// `GET /sheet-words`: what the editor completes: movements, and words of the format.
pub async fn completions(_who: Who) -> Page {
    let words = help::completions();
    Ok(actix_web::HttpResponse::Ok().insert_header(("Cache-Control", "private, max-age=600")).json(words))
}

/// `POST /classes/{id}/sheet/check`: the same without script.
pub async fn check(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (text, by) = (typed(&change), change.who.here());
    blocking(&app, move |conn, _| {
        let session = lantern_store::class::find(conn, by.0, class)?.session;
        Ok(sheet::keep_draft(conn, by, session, &text)?)
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_texts_stand_side_by_side() {
        let lines = beside("a\nb\nc", "a\nx\ny\nc");
        let all: Vec<(&str, &str, bool)> =
            lines.iter().map(|l| (l.mine.as_str(), l.theirs.as_str(), l.differs)).collect();
        assert_eq!(all, [("a", "a", false), ("b", "x", true), ("", "y", true), ("c", "c", false)]);
    }
    use lantern_core::sheet::read;

    const TEXT: &str = "title: Quay\nintent: steady\n\n# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\nweek 3 of 6\n\n# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n12 power clean 60/42.5 kg\n12 power claens\nsets: power clean <= 2\nscore: time\n// why";

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
}
