//! What every version keeps, and where the time of a round goes.

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, load};
use crate::draw::bars::shares;
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::movement::say::spoken;
use lantern_core::plan::WorkoutPlan;
use lantern_core::sheet::{TotalCount, Wish};
use lantern_core::stimulus::Said;
use lantern_core::units::{clock, pair, plain};
use lantern_store::ClassId;

#[derive(Template)]
#[template(path = "plan/stimulus.html")]
struct StimulusPage {
    frame: Frame,
    base: String,
    intent: String,
    works: Vec<Work>,
}

struct Work {
    name: String,
    clock: String,
    waits: Option<String>,
    window: String,
    said: &'static str,
    assumed: bool,
    cap: String,
    length: &'static str,
    wishes: Vec<String>,
    totals: Vec<(String, String)>,
    rest: String,
    shares: String,
    share_words: Vec<(String, String, u32)>,
    whose: String,
    likely: String,
    look: usize,
}

fn wish(w: &Wish) -> String {
    match w {
        Wish::MostSets { movement, sets } => format!("{} in {sets} sets at most", spoken(movement)),
        Wish::UnbrokenShare { movement, share } => {
            format!("{} % of {} unbroken", plain(share * 100.0), spoken(movement))
        }
        Wish::LeastRest { seconds } => format!("{} of rest each cycle", clock(f64::from(*seconds))),
        Wish::LeastPace { reps_per_min } => format!("{} reps a minute or more", plain(*reps_per_min)),
        Wish::LongestRound { seconds } => format!("no round over {}", clock(f64::from(*seconds))),
        Wish::Limit { what } => format!("limited by {what}"),
    }
}

/// A share in whole per cent, with all shares adding up to 100.
fn percents(values: &[f64]) -> Vec<u32> {
    lantern_core::units::apportion(100, values)
}

fn work(page: &ClassPage, w: &WorkoutPlan) -> Work {
    let block = page.plan.sheet.blocks.get(w.block);
    let full = w.versions.first();
    let pace = w.pace.first();
    let stimulus = w.stimulus.as_ref();
    let names: Vec<String> =
        full.map(|v| v.work.lines.iter().map(|l| spoken(&l.movement)).collect()).unwrap_or_default();
    let parts: Vec<(String, f64)> =
        pace.map(|p| names.iter().cloned().zip(p.time_shares.iter().copied()).collect()).unwrap_or_default();
    let whole = percents(&parts.iter().map(|p| p.1).collect::<Vec<_>>());
    let totals = block.map(|b| {
        let all = if b.totals().iter().all(|t| t.count.is_some()) { b.totals() } else { b.per_round() };
        all.into_iter()
            .map(|t| {
                let n = match t.count {
                    Some(TotalCount::Each(n)) => plain(n),
                    Some(TotalCount::ByStandard(c)) => pair(c),
                    None => "open".to_owned(),
                };
                (spoken(&t.movement), format!("{n} {}", t.unit.suffix()).trim().to_owned())
            })
            .collect()
    });
    let rest = block.map_or(0, lantern_core::sheet::Block::fixed_rest_s);
    Work {
        name: w.name.clone().unwrap_or_else(|| "Workout".to_owned()),
        clock: full.map(|v| v.work.clock_text()).unwrap_or_default(),
        waits: w.waits.clone(),
        window: stimulus.map(|s| s.window_text()).unwrap_or_default(),
        said: match stimulus.map(|s| s.said) {
            Some(Said::Assumed) => "worked out from a regular member",
            _ => "from the sheet",
        },
        assumed: stimulus.is_some_and(|s| s.said == Said::Assumed),
        cap: stimulus.and_then(|s| s.cap_s).map(clock).unwrap_or_default(),
        length: stimulus.map_or("", |s| s.length.word()),
        wishes: stimulus.map(|s| s.wishes.iter().map(wish).collect()).unwrap_or_default(),
        totals: totals.unwrap_or_default(),
        rest: if rest > 0 { clock(f64::from(rest)) } else { String::new() },
        shares: if parts.len() > 1 && parts.iter().any(|p| p.1 > 0.0) {
            shares(&parts)
        } else {
            String::new()
        },
        share_words: parts
            .iter()
            .zip(&whole)
            .map(|((n, _), p)| (n.clone(), format!("{p} %"), (*p).max(1)))
            .collect(),
        whose: match pace.and_then(|p| p.member).and_then(|m| page.plan.members.get(m)) {
            Some(m) => format!("for {}, the middle member at Full", m.name),
            None => "for a seasoned model member".to_owned(),
        },
        likely: format!("{} of {}", w.likely_inside(), w.placed.len()),
        look: w.placed.iter().filter(|p| w.off(p).is_some()).count(),
    }
}

/// `GET /classes/{id}/stimulus`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = blocking(&app, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        Ok(StimulusPage {
            frame: page.frame(&who, "stimulus"),
            base: page.base(),
            intent: page.plan.sheet.intent.clone().unwrap_or_default(),
            works: page.plan.workouts.iter().map(|w| work(&page, w)).collect(),
        })
    })
    .await?;
    html(&page)
}
