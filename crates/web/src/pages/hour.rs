//! The hour: what adds up, what runs over, who works when, and what runs now.

use super::{CautionView, cautions, decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::error::{Page, WebError};
use crate::frame::{Frame, html, html_as};
use crate::pages::ways::body;
use crate::session::{Change, Who, apart};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::{Duration, NaiveDateTime};
use lantern_core::hour::{Hour, HourPart, Running, Slot, Standing};
use lantern_core::mend::Short;
use lantern_core::movement::say::capital;
use lantern_core::plan::{Decision, WorkoutPlan, of_the_day};
use lantern_core::units::clock;
use lantern_store::ClassId;

/// One step of a part's length, s.
const STEP_S: u32 = 30;
/// Longest a part can be set to, s.
const MOST_S: u32 = 3 * 3600;

#[derive(Template)]
#[template(path = "plan/hour.html")]
struct HourPage {
    frame: Frame,
    base: String,
    span: String,
    problems: Vec<String>,
    over: String,
    cause: String,
    slots: Vec<SlotView>,
    spare: String,
    total: String,
    /// The day runs over, or kit is short.
    asks: bool,
    /// What is short, with item, number, members and moment.
    short: Vec<String>,
    groups: Vec<GroupView>,
    /// What is decided of the day: in words, and what takes it back.
    decided: Vec<(String, String)>,
    now: NowView,
    cautions: Vec<CautionView>,
    defers: &'static str,
}

struct SlotView {
    key: String,
    id: String,
    name: String,
    at: String,
    how: String,
    by_coach: bool,
    length: String,
    less: u32,
    more: u32,
    at_least: bool,
    standing: &'static str,
    /// Its length is not set here: it is over, or runs.
    closed: bool,
}

/// Who works when.
struct GroupView {
    heading: &'static str,
    title: String,
    /// (which, when, who).
    rows: Vec<(String, String, String)>,
}

/// What runs now, as it is asked.
struct NowView {
    /// (key, name, chosen).
    parts: Vec<(String, String, bool)>,
    /// Clock time.
    at: String,
    /// Minutes that it still needs.
    left: String,
    /// What was said, in words; empty: nothing.
    said: String,
    /// What is wrong with what was typed.
    problem: String,
}

fn words(s: u32) -> String {
    clock(f64::from(s))
}

/// `GET /classes/{id}/hour`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let now = who.now(&app);
    let page = apart(move |_| Ok(view(&page, &who, now))).await?;
    html(&page)
}

fn view(page: &ClassPage, who: &Who, now: NaiveDateTime) -> HourPage {
    let h = &page.plan.hour;
    let ends = page.class.starts_at + Duration::seconds(i64::from(h.length_s));
    let longest = h.slots.iter().max_by_key(|s| s.length_s);
    let cause = |s: &Slot| {
        format!("The longest part is {}, {}: {}.", s.part.word().to_lowercase(), words(s.length_s), s.how)
    };
    let name = |i: usize| page.plan.members.get(i).map(|m| m.name.clone()).unwrap_or_default();
    let short: Vec<String> = (page.plan.workouts.iter().flat_map(|w| &w.short))
        .map(|s| lantern_core::say::short(s, page.plan.unit, name))
        .collect();
    HourPage {
        frame: page.frame(who, "hour"),
        base: page.base(),
        span: format!("{} to {}", page.class.starts_at.format("%H:%M"), ends.format("%H:%M")),
        problems: page.plan.problems.clone(),
        over: match h.overrun_s {
            0 => String::new(),
            s => format!("The hour runs {} over.", words(s)),
        },
        cause: longest.map(cause).unwrap_or_default(),
        slots: h.slots.iter().enumerate().map(|(i, s)| slot(i, s)).collect(),
        spare: match h.overrun_s {
            0 => format!("{} spare of {}", words(h.spare_s), words(h.length_s)),
            s => format!("{} over", words(s)),
        },
        total: words(h.end_s()),
        asks: h.overrun_s > 0 || page.plan.workouts.iter().flat_map(|w| &w.short).any(Short::asks),
        short,
        groups: page.plan.workouts.iter().filter_map(|w| groups(page, w)).collect(),
        decided: decided(page),
        now: now_view(page, h, now),
        cautions: cautions(page, |_| true),
        defers: lantern_core::cautions::DEFERS,
    }
}

fn decided(page: &ClassPage) -> Vec<(String, String)> {
    let says = |d: &Decision| capital(&d.says(|id| page.member_name(id)));
    let all = of_the_day(&page.decisions);
    all.into_iter().map(|(d, back)| (says(&d), body(&[back]))).collect()
}

fn slot(at: usize, s: &Slot) -> SlotView {
    let beside = s.column.is_some_and(|c| c.with_before);
    SlotView {
        key: s.key.clone(),
        id: format!("{}-{at}", s.key),
        name: if beside {
            format!("beside it: {}", s.part.word().to_lowercase())
        } else {
            s.part.word().to_owned()
        },
        at: words(s.start_s),
        how: s.how.clone(),
        by_coach: s.set_by_coach,
        length: words(s.length_s),
        less: s.length_s.saturating_sub(STEP_S).max(s.least_s.min(s.length_s)),
        more: (s.length_s + STEP_S).min(MOST_S),
        at_least: s.length_s <= s.least_s,
        standing: match s.standing {
            Standing::Done => "over",
            Standing::Runs => "runs now",
            Standing::ToCome => "",
        },
        closed: s.standing != Standing::ToCome,
    }
}

/// Who works when, where not all do at once; who begins where, where not all begin at the first line.
fn groups(page: &ClassPage, w: &WorkoutPlan) -> Option<GroupView> {
    let names = |all: &[usize]| {
        let named = all.iter().filter_map(|i| page.plan.members.get(*i)).map(|m| m.name.clone());
        named.collect::<Vec<_>>().join(", ")
    };
    let when = |group: usize| {
        let slot = page.plan.hour.slot_of(HourPart::Workout, w.block, Some(group as u32));
        slot.map(|s| at_clock(page, s.start_s)).unwrap_or_default()
    };
    let called = |n: usize| match (w.heats, n) {
        (1, 0) => "Lifts first, works".to_owned(),
        (1, _) => "Lifts second, works".to_owned(),
        _ => format!("Heat {}", n + 1),
    };
    let mut rows: Vec<(String, String, String)> = Vec::new();
    if w.groups.len() > 1 {
        rows.extend(w.groups.iter().enumerate().map(|(n, all)| (called(n), when(n), names(all))));
    }
    let starts = w.starts.iter().max().map_or(1, |s| s + 1);
    let full = w.versions.first().map(|v| &v.work);
    for (start, full) in (0..starts).filter(|_| starts > 1).filter_map(|s| Some((s, full?))) {
        let here: Vec<usize> = (0..w.starts.len()).filter(|i| w.starts.get(*i) == Some(&start)).collect();
        rows.push((format!("Begin at {}", w.begins_at(start, full)), String::new(), names(&here)));
    }
    let heading = if w.groups.len() > 1 { "Who works when" } else { "Who begins where" };
    let title = w.name.clone().unwrap_or_else(|| "Workout".to_owned());
    (!rows.is_empty()).then_some(GroupView { heading, title, rows })
}

fn at_clock(page: &ClassPage, s: u32) -> String {
    (page.class.starts_at + Duration::seconds(i64::from(s))).format("%H:%M").to_string()
}

fn now_view(page: &ClassPage, h: &Hour, now: NaiveDateTime) -> NowView {
    let gone = (now - page.class.starts_at).num_seconds();
    let runs_at = |s: &&Slot| i64::from(s.start_s) <= gone && gone < i64::from(s.end_s());
    let key = match &h.running {
        Some(r) => Some(r.key.clone()),
        None => h.slots.iter().find(runs_at).map(|s| s.key.clone()),
    };
    let mut parts: Vec<(String, String, bool)> = Vec::new();
    for s in &h.slots {
        if !parts.iter().any(|(k, ..)| *k == s.key) {
            parts.push((s.key.clone(), s.part.word().to_owned(), Some(&s.key) == key.as_ref()));
        }
    }
    let inside = (0..i64::from(MOST_S)).contains(&gone);
    let end = h.slots.iter().find(|s| Some(&s.key) == key.as_ref()).map(|s| i64::from(s.end_s()));
    let left = end.map(|e| (e - gone).max(0)).filter(|_| inside).unwrap_or(0);
    let named = |k: &str| h.slots.iter().find(|s| s.key == k).map_or("", |s| s.part.word()).to_lowercase();
    let said = h.running.as_ref().map(|r| {
        format!(
            "You said that at {} {} still ran and needed {}.",
            at_clock(page, r.at_s),
            named(&r.key),
            words(r.left_s)
        )
    });
    NowView {
        parts,
        at: if inside {
            now.format("%H:%M").to_string()
        } else {
            page.class.starts_at.format("%H:%M").to_string()
        },
        left: (left.max(0) as f64 / 60.0).ceil().to_string(),
        said: said.unwrap_or_default(),
        problem: String::new(),
    }
}

/// `POST /classes/{id}/length`.
pub async fn length(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let seconds = change.fields.get("seconds").parse::<u32>().ok().filter(|s| *s <= MOST_S);
    let seconds = seconds.ok_or_else(|| {
        WebError::Unreadable("a length is a number of seconds up to three hours".to_owned())
    })?;
    let key: String = change.fields.get("key").chars().take(40).collect();
    let back = "hour";
    decide(app, change, &path, Decision::Length { key, seconds }, back).await
}

/// `POST /classes/{id}/running`: what runs now, so that the rest is put behind it.
pub async fn running(app: Data<App>, change: Change, path: Path<String>) -> Page {
    if change.fields.get("do") == "as-planned" {
        return decide(app, change, &path, Decision::Running { at: None }, "hour").await;
    }
    let class = ClassId(id(&path)?);
    let page = planned(&app, change.who.gym(), class).await?;
    match running_of(&page, &change) {
        Ok(at) => decide(app, change, &path, Decision::Running { at: Some(at) }, "hour").await,
        Err(problem) => {
            let (who, now) = (change.who.clone(), change.who.now(&app));
            let typed = ["key", "at", "left"].map(|f| change.fields.get(f).to_owned());
            let page = apart(move |_| Ok(wrong(view(&page, &who, now), typed, problem))).await?;
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &page)
        }
    }
}

/// The page with what was typed still in its fields, and why it cannot be.
fn wrong(mut page: HourPage, [key, at, left]: [String; 3], problem: String) -> HourPage {
    page.now.parts.iter_mut().for_each(|p| p.2 = p.0 == key);
    (page.now.at, page.now.left, page.now.problem) = (at, left, problem);
    page
}

fn running_of(page: &ClassPage, change: &Change) -> Result<Running, String> {
    let key = change.fields.get("key").to_owned();
    if !page.plan.hour.slots.iter().any(|s| s.key == key) {
        return Err("This part is not in the hour any more. Choose another.".to_owned());
    }
    let typed = change.fields.get("at").trim();
    let at = chrono::NaiveTime::parse_from_str(typed, "%H:%M")
        .map_err(|_| format!("“{typed}” is no time of day. Write 18:24."))?;
    let start = page.class.starts_at;
    let gone = (start.date().and_time(at) - start).num_seconds();
    // a class that runs past midnight
    let gone = if gone < -12 * 3600 { gone + 24 * 3600 } else { gone };
    let at_s = u32::try_from(gone).ok().filter(|s| *s <= MOST_S);
    let at_s = at_s.ok_or_else(|| format!("{typed} is before the class or long after it."))?;
    let typed = change.fields.get("left").trim();
    let left: f64 =
        typed.replace(',', ".").parse().map_err(|_| format!("“{typed}” is no number of minutes."))?;
    if !(0.0..=120.0).contains(&left) {
        return Err("A part still needs 0 to 120 minutes.".to_owned());
    }
    Ok(Running { key, at_s, left_s: (left * 60.0).round() as u32 })
}
