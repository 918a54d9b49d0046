//! At the finish: names that stay in their places, each tapped when its member is done. The wall's clock gives the time; what is tapped
//! is logged like what is typed, and taken back the same way.

use super::behind::{CutView, LateView, cut_of};
use super::view::{self, RowView, Said};
use super::{Typed, keep, read_row, row_of, taken_back};
use crate::app::App;
use crate::class_page::{ClassPage, load, planned};
use crate::clocks::shown;
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html, html_as};
use crate::pages::id;
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use chrono::Utc;
use lantern_core::hour::{Stage, WallClock};
use lantern_core::sheet::Score;
use lantern_core::units::clock;
use lantern_core::versions::Tier;
use lantern_store::logbook::Changed;
use lantern_store::{ClassId, Connection, MemberId, logbook};
use serde::Deserialize;
use uuid::Uuid;

#[derive(Template)]
#[template(path = "log/finish.html")]
pub(super) struct FinishPage {
    frame: Frame,
    base: String,
    /// The workout's clock as scripts read it, and the word of its part.
    clock: String,
    part: String,
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
pub(super) struct Tile {
    block: u32,
    row: RowView,
    tier: Tier,
    /// What was called out to them.
    cut: Option<CutView>,
    /// What can be, once it is asked for.
    pub late: Option<LateView>,
}

/// What a script swaps after a tap.
#[derive(Template)]
#[template(path = "log/finish_part.html")]
struct FinishPart {
    base: String,
    csrf: String,
    /// None where the workout is not timed any more.
    tile: Option<Tile>,
    tally: String,
    said: Option<Said>,
}

/// Which workout, and which change a page was called with.
#[derive(Deserialize)]
pub struct Of {
    block: Option<u32>,
    last: Option<Uuid>,
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
    let page = blocking(&app, move |conn, _| {
        let changes = logbook::changes(conn, who.gym(), class)?;
        let last = of.last.and_then(|id| changes.iter().find(|c| c.id == id));
        let said = last.map(|c| view::said(&page, &changes, c));
        view(conn, &page, &who, &changes, (of.block, &Typed::default()), said)
    })
    .await?;
    html(&page)
}

fn view(
    conn: &mut Connection,
    page: &ClassPage,
    who: &Who,
    changes: &[Changed],
    (asked, typed): (Option<u32>, &Typed),
    said: Option<Said>,
) -> Result<FinishPage, WebError> {
    let log = view::page(conn, page, who, changes, typed, None)?;
    let mut others = timed(page);
    let at = others.iter().position(|(b, _)| Some(*b) == asked).unwrap_or(0);
    let block = if others.is_empty() { None } else { Some(others.remove(at)) };
    let tiles = block.as_ref().map(|(b, _)| log.rows(*b).iter().map(|r| tile(page, *b, r)).collect());
    let first = block.as_ref().map(|b| b.0);
    Ok(FinishPage {
        frame: page.frame(who, "log"),
        base: page.base(),
        clock: shown(page.class.wall.stage.as_deref(), workout_clock(page, first), Utc::now()).to_string(),
        part: first.and_then(part_of).unwrap_or_default(),
        block,
        others,
        tiles: tiles.unwrap_or_default(),
        tally: log.tally,
        said,
    })
}

fn tile(page: &ClassPage, block: u32, row: &RowView) -> Tile {
    let chosen = row.tiers.iter().find(|t| t.1).map_or(Tier::Full, |t| t.0);
    Tile { block, row: row.clone(), tier: chosen, cut: cut_of(page, &row.id, block), late: None }
}

/// The clock of a workout, by the id of its block, whatever the walls show by now.
fn workout_clock(page: &ClassPage, block: Option<u32>) -> WallClock {
    page.class.wall.clock_of(&block.and_then(part_of).unwrap_or_default())
}

/// The word of a workout's part.
fn part_of(block: u32) -> Option<String> {
    Stage::Workout(block as usize).key()
}

/// What the clock of a workout shows now, s.
pub(super) fn clock_seconds(page: &ClassPage, block: u32) -> Result<f64, String> {
    match workout_clock(page, Some(block)).shows(Utc::now()) {
        Some(s) if s >= 1.0 => Ok(s),
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
        "" => match clock_seconds(page, typed.block) {
            Ok(s) => Typed { result: clock(s), ..typed },
            Err(problem) => Typed { problem, ..typed },
        },
        shown => Typed { result: shown.to_owned(), ..typed },
    }
}

/// `POST /classes/{id}/finish`: a member is done. Who is logged already keeps their result: two coaches may tap one name.
pub async fn done(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let at = row_of(&change)?;
    let (who, hx, fields) = (change.who, change.hx, change.fields);
    planned(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        let mut typed = tapped(&page, &fields);
        if let Some(there) = logbook::one(conn, who.gym(), class, at)? {
            let name = page.plan.members.iter().find(|m| m.id == typed.member).map_or("", |m| &m.name);
            let words = format!("{name} is logged already: {}. Correct it in the log.", there.outcome.text());
            let typed = Typed { block: at.1, member: typed.member, ..Typed::default() };
            return answer(conn, app, &who, class, typed, Some(words));
        }
        if typed.problem.is_empty() {
            match read_row(&page, &typed) {
                Ok(logged) => keep(conn, &page, &who, &logged)?,
                Err(words) => typed.problem = words,
            }
        }
        answer(conn, app, &who, class, typed, None)
    })
    .await?
    .send(hx)
}

/// `POST /classes/{id}/finish/back`: a tap is taken back.
pub async fn back(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let hx = change.hx;
    let back = |conn: &mut Connection, app: &App, who: &Who, class, (member, block): (MemberId, u32)| {
        let typed = Typed { block, member: member.to_string(), ..Typed::default() };
        answer(conn, app, who, class, typed, None)
    };
    taken_back(app, change, &path, back).await?.send(hx)
}

/// How a tap came out.
pub(super) struct Answer {
    address: String,
    /// The change that was made, to be said; none where something is wrong or nothing was done.
    change: Option<Uuid>,
    /// Nothing is wrong with it.
    fine: bool,
    page: FinishPage,
    block: u32,
    member: String,
}

impl Answer {
    /// With something more at the member's tile.
    pub fn with(mut self, more: impl FnOnce(&mut Tile)) -> Answer {
        let of = |t: &&mut Tile| (t.row.id.as_str(), t.block) == (self.member.as_str(), self.block);
        if let Some(tile) = self.page.tiles.iter_mut().find(of) {
            more(tile);
        }
        self
    }

    pub fn send(self, hx: bool) -> Page {
        let status = if self.fine { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
        let last = self.change.map(|c| format!("&last={c}"));
        match (hx, last) {
            (true, _) => html_as(status, &self.page.part_of(&self.member, self.block)),
            (false, Some(last)) => go(&format!("{}{last}", self.address)),
            (false, None) => html_as(status, &self.page),
        }
    }
}

impl FinishPage {
    /// The tile of one member of a workout.
    fn part_of(&self, member: &str, block: u32) -> FinishPart {
        FinishPart {
            base: self.base.clone(),
            csrf: self.frame.csrf.clone(),
            tile: self.tiles.iter().find(|t| (t.row.id.as_str(), t.block) == (member, block)).cloned(),
            tally: self.tally.clone(),
            said: self.said.clone(),
        }
    }
}

/// The page as it is now, with what was done, what is wrong, or `already`: why nothing was done.
fn answer(
    conn: &mut Connection,
    app: &App,
    who: &Who,
    class: ClassId,
    typed: Typed,
    already: Option<String>,
) -> Result<Answer, WebError> {
    let page = load(conn, app, who.gym(), class)?;
    let changes = logbook::changes(conn, who.gym(), class)?;
    let fine = typed.problem.is_empty();
    let of = |c: &&Changed| (c.member.to_string(), c.block) == (typed.member.clone(), typed.block);
    let last = changes.iter().rev().find(of).filter(|_| fine && already.is_none());
    // a workout that left the sheet meanwhile has no tile to say it at
    let gone = !fine && timed(&page).iter().all(|(b, _)| *b != typed.block);
    let aside = already.or_else(|| gone.then(|| format!("{} Open this page again.", typed.problem)));
    let said = last.map(|c| view::said(&page, &changes, c)).or(aside.map(Said::words));
    let change = last.map(|c| c.id);
    // what is fine stands in the log: the tile shows that
    let wrong = if fine { Typed::default() } else { typed.clone() };
    let shown = view(conn, &page, who, &changes, (Some(typed.block), &wrong), said)?;
    let address = format!("/classes/{class}/finish?block={}", typed.block);
    Ok(Answer { address, change, fine, page: shown, block: typed.block, member: typed.member })
}

/// The page as it is, with something said.
pub(super) fn page_now(
    conn: &mut Connection,
    page: &ClassPage,
    who: &Who,
    typed: &Typed,
    said: Option<String>,
) -> Result<FinishPage, WebError> {
    let changes = logbook::changes(conn, page.gym.id, page.class.id)?;
    view(conn, page, who, &changes, (Some(typed.block), &Typed::default()), said.map(Said::words))
}

/// An answer that logs nothing.
pub(super) fn answered(class: ClassId, typed: &Typed, page: FinishPage) -> Answer {
    let address = format!("/classes/{class}/finish?block={}", typed.block);
    Answer { address, change: None, fine: true, page, block: typed.block, member: typed.member.clone() }
}
