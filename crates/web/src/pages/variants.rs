//! The workout without some kit: its three versions, what changes and why, and the block as sheet text.

use super::{block_of, id};
use crate::app::App;
use crate::class_page::{ClassPage, load, planned};
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html};
use crate::session::{Change, Who, apart, once};
use actix_web::web::{Data, Path, Query};
use askama::Template;
use lantern_core::plan::{ClassPlan, WorkoutPlan};
use lantern_core::roster::{Ability, Member};
use lantern_core::versions::{Tier, Variant, VariantFrom, Without, without};
use lantern_store::{ClassId, sheet};
use serde::Deserialize;

#[derive(Template)]
#[template(path = "plan/variants.html")]
struct VariantsPage {
    frame: Frame,
    base: String,
    /// (word in the address, name, open).
    list: Vec<(String, &'static str, bool)>,
    word: &'static str,
    heading: &'static str,
    works: Vec<WorkView>,
}

struct WorkView {
    block: usize,
    name: String,
    clock: String,
    /// Needs nothing that is taken away, or waits for its sheet.
    same: String,
    versions: Vec<VersionView>,
    changes: Vec<String>,
    text: String,
}

struct VersionView {
    tier: Tier,
    lines: Vec<String>,
    clock: String,
}

/// Which is open.
#[derive(Deserialize)]
pub struct Open {
    without: Option<String>,
}

/// A workout of a plan without some kit; `None` where nothing would change.
pub fn made(page: &ClassPage, plan: &ClassPlan, w: &WorkoutPlan, variant: Variant) -> Option<Without> {
    let (block, made) = (page.plan.sheet.blocks.get(w.block)?, w.made.as_ref()?);
    let class: Vec<(&Member, &Ability)> = plan.members.iter().zip(&plan.abilities).collect();
    without(
        variant,
        &VariantFrom {
            block,
            written: &made.levers.written,
            stimulus: w.stimulus.as_ref()?,
            class: &class,
            kit: &page.kit,
            settings: &w.schools,
            today: page.inputs.date,
        },
    )
}

fn work(page: &ClassPage, w: &WorkoutPlan, variant: Variant) -> WorkView {
    let name = w.name.clone().unwrap_or_else(|| "Workout".to_owned());
    let found = made(page, &page.plan, w, variant);
    let same = match (&w.waits, &found) {
        (Some(waits), _) => waits.clone(),
        (None, None) => "Needs nothing that is taken away: it stays as it is.".to_owned(),
        _ => String::new(),
    };
    let full = found.as_ref().and_then(|f| f.made.list.first()).map(|v| v.work.clock());
    WorkView {
        block: w.block,
        name,
        clock: w.versions.first().map(|v| v.work.clock_text()).unwrap_or_default(),
        same,
        versions: found
            .iter()
            .flat_map(|f| &f.made.list)
            .map(|v| VersionView {
                tier: v.tier,
                lines: v.work.lines.iter().map(lantern_core::versions::Line::text).collect(),
                clock: if Some(v.work.clock()) == full { String::new() } else { v.work.clock_text() },
            })
            .collect(),
        changes: found.as_ref().map(|f| f.changes.clone()).unwrap_or_default(),
        text: found.map(|f| f.text).unwrap_or_default(),
    }
}

/// `GET /classes/{id}/variants?without=…`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, open: Query<Open>) -> Page {
    let class = ClassId(id(&path)?);
    let variant = open.without.as_deref().and_then(Variant::read).unwrap_or(Variant::NoBarbell);
    let page = planned(&app, who.gym(), class).await?;
    let page = apart(move |_| {
        Ok(VariantsPage {
            frame: page.frame(&who, "versions"),
            base: page.base(),
            list: Variant::ALL
                .iter()
                .map(|v| (v.word().replace(' ', "-"), v.word(), *v == variant))
                .collect(),
            word: variant.word(),
            heading: variant.heading(),
            works: page.plan.workouts.iter().map(|w| work(&page, w, variant)).collect(),
        })
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/variants`: puts the variant under the sheet's draft, where the coach looks at it before it counts.
pub async fn to_sheet(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let block = block_of(&change)?;
    let variant = Variant::read(change.fields.get("without"))
        .ok_or_else(|| WebError::Unreadable("this is no kit that can be taken away".to_owned()))?;
    let by = change.who.here();
    planned(&app, by.0, class).await?;
    once(&app, key, move |conn, app| {
        let page = load(conn, app, by.0, class)?;
        let w = page.plan.workouts.iter().find(|w| w.block == block).ok_or(WebError::NoPage)?;
        let found = made(&page, &page.plan, w, variant).ok_or(WebError::NoPage)?;
        let so_far = page.session.draft_of(by.1).unwrap_or(&page.session.sheet);
        let text = format!("{}\n\n{}", so_far.trim_end(), found.text);
        Ok(sheet::keep_draft(conn, by, page.session.id, &text)?)
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}
