//! Ways to make a day fit its hour and its kit: each with what it gives and costs, taken by one press.

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, blocks_of, planned};
use crate::draw::strip_of_hour::strip;
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html};
use crate::plan_cache::Ways;
use crate::session::{Change, Who, apart, once};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::mend::Way;
use lantern_core::plan::{Decision, Gives, Mend, Weighed, of_the_day, ways};
use lantern_core::say::way;
use lantern_core::units::clock;
use lantern_store::{ClassId, StoreError, decision};

/// Ways that are offered for the hour, and for the kit.
const MOST_SHOWN: usize = 16;

#[derive(Template)]
#[template(path = "plan/ways.html")]
struct WaysPage {
    frame: Frame,
    base: String,
    /// As it stands: (strip, end, what it is over or has to spare, on stimulus, short).
    now: RowView,
    rows: Vec<RowView>,
    together: Option<TogetherView>,
    /// Why no way is enough; empty where one is.
    short_of: String,
}

struct RowView {
    says: String,
    gives: String,
    strip: String,
    end: String,
    left: String,
    over: bool,
    on_stimulus: String,
    short: String,
    decision: String,
}

struct TogetherView {
    /// Several ways.
    several: bool,
    says: Vec<String>,
    left: String,
    on_stimulus: String,
    decisions: String,
}

fn words(s: u32) -> String {
    clock(f64::from(s))
}

fn left_of(g: &Gives, length_s: u32) -> String {
    match g.over_s {
        0 if g.end_s == length_s => "adds up".to_owned(),
        0 => format!("{} spare", words(length_s.saturating_sub(g.end_s))),
        s => format!("{} over", words(s)),
    }
}

fn on_stimulus(g: &Gives, members: usize) -> String {
    g.on_stimulus.map_or_else(String::new, |v| format!("{v:.1} of {members}"))
}

fn short_words(g: &Gives) -> String {
    let things = match g.short {
        0 => return String::new(),
        1 => "1 thing short".to_owned(),
        n => format!("{n} things short"),
    };
    match (g.waits_s / 5.0).round() * 5.0 {
        s if s >= 5.0 => format!("{things}, {} of waiting", clock(s)),
        _ => things,
    }
}

/// Decisions as a button sends them.
pub(super) fn body(all: &[Decision]) -> String {
    // a decision is plain data: it always has a text
    serde_json::to_string(all).unwrap_or_default()
}

fn row(page: &ClassPage, w: &Weighed) -> RowView {
    let (length, members) = (page.plan.hour.length_s, page.plan.members.len());
    RowView {
        says: way(&w.mend.way),
        gives: match w.wins_s {
            0 => "no longer".to_owned(),
            s if s > 0 => format!("wins {}", clock(s as f64)),
            s => format!("{} longer", clock(-s as f64)),
        },
        strip: strip(&w.hour, Some(&page.plan.hour)),
        end: words(w.then.end_s),
        left: left_of(&w.then, length),
        over: w.then.over_s > 0,
        on_stimulus: on_stimulus(&w.then, members),
        short: short_words(&w.then),
        decision: body(std::slice::from_ref(&w.mend.decision)),
    }
}

fn view(page: &ClassPage, who: &Who, found: &Ways) -> WaysPage {
    let (h, members) = (&page.plan.hour, page.plan.members.len());
    let together = found.together.as_ref().map(|f| TogetherView {
        several: f.mends.len() > 1,
        says: f.mends.iter().map(|m| way(&m.way)).collect(),
        left: left_of(&f.then, h.length_s),
        on_stimulus: on_stimulus(&f.then, members),
        decisions: body(&f.mends.iter().map(|m| m.decision.clone()).collect::<Vec<_>>()),
    });
    let missing = match &found.together {
        Some(f) => f.then.over_s,
        None => found.now.over_s,
    };
    WaysPage {
        frame: page.frame(who, "hour"),
        base: page.base(),
        now: RowView {
            says: "As it stands".to_owned(),
            gives: String::new(),
            strip: strip(h, None),
            end: words(found.now.end_s),
            left: left_of(&found.now, h.length_s),
            over: found.now.over_s > 0,
            on_stimulus: on_stimulus(&found.now, members),
            short: short_words(&found.now),
            decision: String::new(),
        },
        rows: found.all.iter().take(MOST_SHOWN).map(|w| row(page, w)).collect(),
        together,
        short_of: match missing {
            0 => String::new(),
            s => format!(
                "All that can be cut together leaves {} over: the parts that remain are at their least. Give the class more time, or take a block off the sheet.",
                words(s)
            ),
        },
    }
}

/// `GET /classes/{id}/ways`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = apart(move |waiting| {
        let found = app.plans.ways(&page.plan_of(), &page.plan, waiting)?;
        Ok(view(&page, &who, &found))
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/ways`: takes one way, or several together, or takes one back; only what the plan offers as it stands now.
pub async fn take(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let asked: Vec<Decision> = serde_json::from_str(change.fields.get("decisions"))
        .map_err(|_| WebError::Unreadable("this is no way that is offered".to_owned()))?;
    let page = planned(&app, change.who.gym(), class).await?;
    let offered = ways(&page.plan_of(), &page.plan);
    let back = of_the_day(&page.decisions);
    let known = |d: &Decision| offered.iter().any(|m| takes(m, d)) || back.iter().any(|(_, b)| b == d);
    let twice = |(i, d): (usize, &Decision)| asked.iter().skip(i + 1).any(|o| o == d);
    let many = asked.is_empty() || asked.len() > offered.len().max(1);
    if many || !asked.iter().all(known) || asked.iter().enumerate().any(twice) {
        // the plan has moved on since the page was shown
        return Err(WebError::Store(StoreError::Raced));
    }
    let (gym, by, seen) = (change.who.gym(), change.who.account(), change.seen());
    once(&app, key, move |conn, _| {
        let blocks = blocks_of(conn, gym, class, seen)?;
        let ids = asked.into_iter().map(|d| d.at_block(|at| blocks.id(at).map(|id| id as usize)));
        let ids: Option<Vec<Decision>> = ids.collect();
        let ids = ids.ok_or(WebError::Store(StoreError::Raced))?;
        Ok(decision::add_all(conn, gym, class, &ids, by)?)
    })
    .await?;
    go(&format!("/classes/{class}/hour"))
}

/// Whether a decision takes a way; of a part less may be cut than is offered.
fn takes(offered: &Mend, asked: &Decision) -> bool {
    match (&offered.way, &offered.decision, asked) {
        (
            Way::Shorter { from_s, to_s, .. },
            Decision::Length { key: a, .. },
            Decision::Length { key: b, seconds },
        ) => a == b && (*to_s..*from_s).contains(seconds),
        (_, offered, asked) => offered == asked,
    }
}
