//! Strength loads by rack: one line a member, one column a change of weight. What a coach changes here: kilograms, racks,
//! the way in which turns fit, and which of the day's maxima become bases.

pub mod rack;
mod view;

pub(super) use view::attempts;

use super::{CautionView, block_of, cautions, decide, id};
use crate::app::App;
use crate::class_page::{load as load_class, planned};
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html};
use crate::session::{Change, Who, blocking, once};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::loads::Fit;
use lantern_core::plan::{Decision, new_base};
use lantern_core::units::clock;
use lantern_store::{ClassId, MemberId, roster};

#[derive(Template)]
#[template(path = "plan/loads.html")]
struct LoadsPage {
    frame: Frame,
    base: String,
    lead: String,
    lifts: Vec<view::Lift>,
    open: Vec<String>,
    cautions: Vec<CautionView>,
    defers: &'static str,
}

/// `GET /classes/{id}/loads`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = blocking(&app, move |conn, _| {
        let lifted = page.lifted(conn)?;
        let mut lifts = Vec::new();
        for s in &page.plan.strength {
            for (i, l) in s.lifts.iter().enumerate() {
                let before = view::before(conn, &page, l)?;
                lifts.push(view::lift(&page, s, i, l, &lifted, &before));
            }
        }
        let total: u32 = page.plan.strength.iter().map(|s| s.length_s).sum();
        let said = |o: &String| lifts.iter().any(|l| l.open.contains(o));
        let open: Vec<String> =
            page.plan.strength.iter().flat_map(|s| &s.open).filter(|o| !said(o)).cloned().collect();
        Ok(LoadsPage {
            frame: page.frame(&who, "loads"),
            base: page.base(),
            lead: if lifts.is_empty() {
                String::new()
            } else {
                format!(
                    "Nearest weight your plates can build, in {}. {} with the build-up.",
                    page.kit.unit_word(),
                    clock(f64::from(total))
                )
            },
            cautions: cautions(&page, |b| page.plan.strength.iter().any(|s| Some(s.block) == b)),
            lifts,
            open,
            defers: lantern_core::cautions::DEFERS,
        })
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/load`: kilograms more or less on a member's working sets.
pub async fn load(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let f = &change.fields;
    let by_kg = f.get("by").parse::<f64>().ok().filter(|v| v.is_finite() && v.abs() <= 50.0);
    let block = f.get("block").parse::<usize>().ok();
    let (Some(by_kg), Some(block)) = (by_kg, block) else {
        return Err(WebError::Unreadable("a change of load is a number of kilograms up to 50".to_owned()));
    };
    let member = id(f.get("member"))?.to_string();
    decide(app, change, &path, Decision::Load { block, member, by_kg }, "loads").await
}

/// `POST /classes/{id}/move`: a member to another rack.
pub async fn to_rack(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let f = &change.fields;
    let small = |name: &str, most: usize| f.get(name).parse::<usize>().ok().filter(|n| *n < most);
    let (Some(lift), Some(rack)) = (small("lift", 100), small("rack", 40)) else {
        return Err(WebError::Unreadable("a rack is a number from 1 to 40".to_owned()));
    };
    let (block, member) = (block_of(&change)?, id(f.get("member"))?.to_string());
    decide(app, change, &path, Decision::Rack { block, lift, member, rack }, "loads").await
}

/// `POST /classes/{id}/fit`: how the turns are made to fit.
pub async fn fit(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let f = &change.fields;
    let (word, n) = f.get("way").split_once(' ').unwrap_or((f.get("way"), "0"));
    let fit = n.parse().ok().and_then(|n| Fit::of(word, n));
    let Some(fit) = fit else {
        return Err(WebError::Unreadable("this is no way to make turns fit".to_owned()));
    };
    let block = block_of(&change)?;
    decide(app, change, &path, Decision::Fit { block, fit }, "loads").await
}

/// `POST /classes/{id}/bases`: the chosen members' best sets of the day become bases.
pub async fn bases(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let block = block_of(&change)?;
    let lift = change.fields.get("lift").parse::<usize>().unwrap_or(0);
    let chosen: Vec<String> = change.fields.all("member").into_iter().map(str::to_owned).collect();
    let gym = change.who.gym();
    planned(&app, gym, class).await?;
    once(&app, key, move |conn, app| {
        let page = load_class(conn, app, gym, class)?;
        let lifted = page.lifted(conn)?;
        let plan = page.plan.strength.iter().find(|s| s.block == block).and_then(|s| s.lifts.get(lift));
        let plan = plan.ok_or(WebError::NoPage)?;
        for (i, m) in page.plan.members.iter().enumerate().filter(|(_, m)| chosen.contains(&m.id)) {
            let done = view::attempts(&lifted, block, lift, &m.id);
            if let (Some((best, false)), Ok(who)) =
                (new_base(plan, i, m, &done, page.class.starts_at.date()), m.id.parse::<MemberId>())
            {
                roster::add_maxes(conn, gym, who, &[best])?;
            }
        }
        Ok(())
    })
    .await?;
    go(&format!("/classes/{class}/loads"))
}
