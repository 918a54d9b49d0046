//! The warm-up: minutes, doses, what each drill prepares.

use super::{decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::session::{Change, Who};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::hour::HourPart;
use lantern_core::movement::say::spoken;
use lantern_core::plan::Decision;
use lantern_core::units::clock;
use lantern_store::ClassId;

/// Columns of the table that fit beside the text.
const MOST_COLUMNS: usize = 6;

#[derive(Template)]
#[template(path = "plan/warm_up.html")]
struct WarmUpPage {
    frame: Frame,
    base: String,
    span: String,
    columns: Vec<String>,
    steps: Vec<StepView>,
    sum: String,
    how: String,
    missing: String,
    coverage: Vec<(String, u32, String)>,
}

struct StepView {
    part: &'static str,
    rows: usize,
    last: bool,
    at: String,
    name: String,
    cue: String,
    easier: String,
    length: String,
    dots: Vec<bool>,
    drill: String,
}

fn view(who: &Who, page: &ClassPage) -> WarmUpPage {
    let w = &page.plan.warm_up;
    let slot = page.plan.hour.slots.iter().find(|s| s.part == HourPart::WarmUp);
    let (start, length) = slot.map_or((0, 0), |s| (s.start_s, s.length_s));
    let f = |s: u32| clock(f64::from(s));
    let columns: Vec<&String> = w.movements.iter().take(MOST_COLUMNS).collect();
    let mut at = start;
    let steps = w
        .steps
        .iter()
        .enumerate()
        .map(|(i, s)| {
            let first = i == 0 || w.steps.get(i - 1).is_some_and(|b| b.part != s.part);
            let view = StepView {
                part: s.part.word(),
                rows: if first { w.steps.iter().filter(|x| x.part == s.part).count() } else { 0 },
                last: w.steps.get(i + 1).is_none_or(|n| n.part != s.part),
                at: f(at),
                name: s.said(),
                cue: s.cue.clone(),
                easier: s.easier.clone(),
                length: f(s.seconds),
                dots: columns.iter().map(|m| s.prepares.contains(m)).collect(),
                drill: match (s.part, &s.drill) {
                    (
                        lantern_core::warmup::WarmUpPart::Rehearse
                        | lantern_core::warmup::WarmUpPart::Written,
                        _,
                    )
                    | (_, None) => String::new(),
                    (_, Some(d)) => d.clone(),
                },
            };
            at += s.seconds;
            view
        })
        .collect();
    let whole = lantern_core::units::apportion(100, &w.coverage.iter().map(|c| c.demand).collect::<Vec<_>>());
    WarmUpPage {
        frame: page.frame(who, "warm-up"),
        base: page.base(),
        span: format!("{} to {}", f(start), f(start + length)),
        columns: columns.iter().map(|m| spoken(m)).collect(),
        steps,
        sum: if w.missing.is_empty() {
            format!("Every large demand of the day is met before it is asked for. Sum {}.", f(length))
        } else {
            format!("Sum {}.", f(length))
        },
        how: w.how.clone(),
        missing: w.missing.join(", "),
        coverage: w.coverage.iter().zip(whole).map(|(c, p)| (c.region.clone(), p, f(c.seconds))).collect(),
    }
}

/// `GET /classes/{id}/warm-up`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    html(&view(&who, &planned(&app, who.gym(), class).await?))
}

/// `POST /classes/{id}/swap`.
pub async fn swap(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let drill: String = change.fields.get("drill").chars().take(80).collect();
    decide(app, change, &path, Decision::SwapDrill { drill }, "warm-up").await
}
