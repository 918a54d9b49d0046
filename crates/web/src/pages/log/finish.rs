//! At the finish: names that stay in their places, each tapped when its member is done. The wall's clock gives the time; what is tapped
//! is logged like what is typed, and taken back the same way.

use super::view::{self, RowView, Said};
use super::{Typed, keep, read_row, row_of};
use crate::app::App;
use crate::class_page::{ClassPage, load, planned, planned_with_todays};
use crate::clocks::shown;
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html, html_as};
use crate::pages::id;
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use chrono::Utc;
use lantern_core::hour::WallClock;
use lantern_core::sheet::Score;
use lantern_core::units::clock;
use lantern_core::versions::Tier;
use lantern_store::logbook::Changed;
use lantern_store::{ClassId, Connection, logbook};
use serde::Deserialize;

#[derive(Template)]
#[template(path = "log/finish.html")]
struct FinishPage {
    frame: Frame,
    base: String,
    /// The clock as scripts read it.
    clock: String,
    /// The workout: id and name; none where nothing is scored by its time.
    block: Option<(u32, String)>,
    /// The others that are.
    others: Vec<(u32, String)>,
    tiles: Vec<Tile>,
    tally: String,
    said: Option<Said>,
}

/// One member.
#[derive(Clone)]
struct Tile {
    block: u32,
    row: RowView,
    tier: Tier,
}

/// What a script swaps after a tap.
#[derive(Template)]
#[template(path = "log/finish_part.html")]
struct FinishPart {
    base: String,
    csrf: String,
    tile: Tile,
    tally: String,
    said: Option<Said>,
}

/// Which workout.
#[derive(Deserialize)]
pub struct Of {
    block: Option<u32>,
}

/// Workouts that are scored by their time: (id, name).
pub(super) fn timed(page: &ClassPage) -> Vec<(u32, String)> {
    let blocks = page.plan.sheet.blocks.iter().enumerate();
    blocks
        .filter(|(_, b)| matches!(b.scored(), Score::Time | Score::TimeMinusRest))
        .filter_map(|(at, b)| {
            Some((page.blocks.id(at)?, b.name.clone().unwrap_or_else(|| "Workout".to_owned())))
        })
        .collect()
}

/// `GET /classes/{id}/finish`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, of: Query<Of>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    html(&blocking(&app, move |conn, _| view(conn, &page, &who, of.block)).await?)
}

fn view(
    conn: &mut Connection,
    page: &ClassPage,
    who: &Who,
    asked: Option<u32>,
) -> Result<FinishPage, WebError> {
    let changes = logbook::changes(conn, who.gym(), page.class.id)?;
    let log = view::page(conn, page, who, &changes, &Typed::default(), None)?;
    let mut others = timed(page);
    let at = others.iter().position(|(b, _)| Some(*b) == asked).unwrap_or(0);
    let block = if others.is_empty() { None } else { Some(others.remove(at)) };
    let tiles = block.as_ref().map(|(b, _)| log.rows(*b).iter().map(|r| tile(*b, r)).collect());
    Ok(FinishPage {
        frame: page.frame(who, "log"),
        base: page.base(),
        clock: shown(page.class.clock, Utc::now()).to_string(),
        block,
        others,
        tiles: tiles.unwrap_or_default(),
        tally: log.tally,
        said: None,
    })
}

fn tile(block: u32, row: &RowView) -> Tile {
    let chosen = row.tiers.iter().find(|t| t.1).map_or(Tier::Full, |t| t.0);
    Tile { block, row: row.clone(), tier: chosen }
}

/// What the clock shows now, as somebody would type it.
fn time_now(clock_: WallClock) -> Result<String, String> {
    match clock_.shows(Utc::now()) {
        Some(s) if s >= 1.0 => Ok(clock(s)),
        Some(_) => Err("The clock has only just been started.".to_owned()),
        None => Err("The wall’s clock stands. Start it, or type the result in the log.".to_owned()),
    }
}

/// A tap: the time that the screen showed, else what the clock shows when it arrives.
fn tapped(page: &ClassPage, f: &crate::session::Fields) -> Typed {
    let typed = Typed {
        block: f.get("block").parse().unwrap_or(u32::MAX),
        member: f.get("member").to_owned(),
        tier: f.get("tier").to_owned(),
        ..Typed::default()
    };
    match f.get("result") {
        "" => match time_now(page.class.clock) {
            Ok(result) => Typed { result, ..typed },
            Err(problem) => Typed { problem, ..typed },
        },
        shown => Typed { result: shown.to_owned(), ..typed },
    }
}

/// `POST /classes/{id}/finish`: a member is done.
pub async fn done(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (who, hx, fields) = (change.who, change.hx, change.fields);
    planned(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        let mut typed = tapped(&page, &fields);
        if typed.problem.is_empty() {
            match read_row(&page, &typed) {
                Ok(logged) => keep(conn, &page, &who, &logged)?,
                Err(words) => typed.problem = words,
            }
        }
        answer(conn, app, &who, class, typed)
    })
    .await?
    .send(hx)
}

/// `POST /classes/{id}/finish/back`: a tap is taken back.
pub async fn back(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (member, block) = row_of(&change)?;
    let (who, hx) = (change.who, change.hx);
    planned_with_todays(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        logbook::remove(conn, who.gym(), class, (member, block), &who.sign_in.account.name)?;
        answer(conn, app, &who, class, Typed { block, member: member.to_string(), ..Typed::default() })
    })
    .await?
    .send(hx)
}

/// How a tap came out.
struct Answer {
    class: ClassId,
    block: u32,
    /// Nothing is wrong with it.
    fine: bool,
    part: FinishPart,
}

impl Answer {
    fn send(self, hx: bool) -> Page {
        let status = if self.fine { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
        if hx {
            html_as(status, &self.part)
        } else {
            go(&format!("/classes/{}/finish?block={}", self.class, self.block))
        }
    }
}

/// The member's tile as it is now, with what was done or what is wrong.
fn answer(
    conn: &mut Connection,
    app: &App,
    who: &Who,
    class: ClassId,
    typed: Typed,
) -> Result<Answer, WebError> {
    let page = load(conn, app, who.gym(), class)?;
    let changes = logbook::changes(conn, who.gym(), class)?;
    let log = view::page(conn, &page, who, &changes, &typed, None)?;
    let row = log.rows(typed.block).iter().find(|r| r.id == typed.member).ok_or(WebError::NoPage)?;
    let fine = typed.problem.is_empty();
    let of = |c: &&Changed| (c.member.to_string(), c.block) == (typed.member.clone(), typed.block);
    let said = changes.iter().rev().find(of).filter(|_| fine).map(|c| view::said(&page, &changes, c));
    let csrf = who.sign_in.csrf.clone();
    let part =
        FinishPart { base: page.base(), csrf, tile: tile(typed.block, row), tally: log.tally.clone(), said };
    Ok(Answer { class, block: typed.block, fine, part })
}
