//! The hour: what adds up, what runs over, ways to fit.

use super::{CautionView, cautions, decide, id};
use crate::app::App;
use crate::class_page::planned;
use crate::error::{Page, WebError};
use crate::frame::{Frame, html};
use crate::session::{Change, Who, apart};
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::Duration;
use lantern_core::plan::Decision;
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
    mends: Vec<MendView>,
    cautions: Vec<CautionView>,
    defers: &'static str,
}

struct SlotView {
    key: String,
    name: &'static str,
    at: String,
    how: String,
    by_coach: bool,
    length: String,
    less: u32,
    more: u32,
    at_least: bool,
}

struct MendView {
    key: String,
    seconds: u32,
    text: String,
    wins: String,
}

/// `GET /classes/{id}/hour`.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = apart(move |_| {
        let h = &page.plan.hour;
        let f = |s: u32| clock(f64::from(s));
        let sum: u32 = h.slots.iter().map(|s| s.length_s).sum();
        let ends = page.class.starts_at + Duration::seconds(i64::from(h.length_s));
        let longest = h.slots.iter().max_by_key(|s| s.length_s);
        Ok(HourPage {
            frame: page.frame(&who, "hour"),
            base: page.base(),
            span: format!("{} to {}", page.class.starts_at.format("%H:%M"), ends.format("%H:%M")),
            problems: page.plan.problems.clone(),
            over: if h.overrun_s > 0 {
                format!("The hour runs {} over.", f(h.overrun_s))
            } else {
                String::new()
            },
            cause: longest
                .map(|s| {
                    format!(
                        "The longest part is {}, {}: {}.",
                        s.part.word().to_lowercase(),
                        f(s.length_s),
                        s.how
                    )
                })
                .unwrap_or_default(),
            slots: h
                .slots
                .iter()
                .map(|s| SlotView {
                    key: s.key.clone(),
                    name: s.part.word(),
                    at: f(s.start_s),
                    how: s.how.clone(),
                    by_coach: s.set_by_coach,
                    length: f(s.length_s),
                    less: s.length_s.saturating_sub(STEP_S).max(s.least_s.min(s.length_s)),
                    more: (s.length_s + STEP_S).min(MOST_S),
                    at_least: s.length_s <= s.least_s,
                })
                .collect(),
            spare: if h.overrun_s > 0 {
                format!("{} over", f(h.overrun_s))
            } else {
                format!("{} spare of {}", f(h.spare_s), f(h.length_s))
            },
            total: f(sum),
            mends: h
                .mends
                .iter()
                .map(|m| MendView {
                    key: m.key.clone(),
                    seconds: m.length_s,
                    text: m.text.clone(),
                    wins: f(m.wins_s),
                })
                .collect(),
            cautions: cautions(&page, |_| true),
            defers: lantern_core::cautions::DEFERS,
        })
    })
    .await?;
    html(&page)
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
