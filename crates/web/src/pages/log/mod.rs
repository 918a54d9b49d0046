//! Results: typed per member or in one line, answered beside the prediction, corrected and taken back; nothing of it is lost without
//! a word. Forms speak of blocks by their ids, so that a sheet that changed meanwhile moves no result.

pub mod behind;
pub mod finish;
mod view;

use super::id;
use super::learnt::read_why;
use crate::app::App;
use crate::class_page::{ClassPage, load, planned, planned_with_todays};
use crate::error::{Page, WebError};
use crate::frame::{go, html, html_as};
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use lantern_core::logbook::{Whom, read_result, split_entry, whom};
use lantern_core::sheet::{Block, Score, read_number};
use lantern_core::versions::Tier;
use lantern_store::learning::leave_out;
use lantern_store::logbook::{Changed, Holds, Logged};
use lantern_store::{ClassId, Connection, MemberId, logbook};
use serde::Deserialize;
use uuid::Uuid;
use view::{LogPage, LogPart, Said};

/// Longest note, characters.
const MOST_NOTE: usize = 500;

/// What was typed into one row, or into the one line, and what is wrong with it.
#[derive(Default, Clone)]
struct Typed {
    /// Id of the block.
    block: u32,
    member: String,
    tier: String,
    result: String,
    load: String,
    note: String,
    problem: String,
    /// The line, where it was typed as one.
    line: Option<String>,
    line_problem: String,
}

/// A block that is scored: a workout with a clock, or a lift by its load.
fn scored(b: &Block) -> bool {
    b.scored() != Score::None
}

/// Which change a page was called with.
#[derive(Deserialize)]
pub struct Last {
    last: Option<Uuid>,
}

/// `GET /classes/{id}/log`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, last: Query<Last>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = blocking(&app, move |conn, _| {
        let changes = logbook::changes(conn, who.gym(), class)?;
        let last = last.last.and_then(|id| changes.iter().find(|c| c.id == id));
        let said = last.map(|c| view::said(&page, &changes, c));
        view::page(conn, &page, &who, &changes, &Typed::default(), said)
    })
    .await?;
    html(&page)
}

/// Reads a row's fields into a result; the problem in words.
fn read_row(page: &ClassPage, typed: &Typed) -> Result<Logged, String> {
    let gone = "This block is not on the sheet any more.";
    let position = page.blocks.position(typed.block).ok_or(gone)?;
    let block = page.plan.sheet.blocks.get(position).filter(|b| scored(b)).ok_or(gone)?;
    let outcome = read_result(&typed.result, block.scored(), block.cap_s.map(f64::from))?;
    let tier = Tier::read(&typed.tier).ok_or("Choose the version that was done.")?;
    let load_kg = match typed.load.trim() {
        "" => None,
        t => Some(
            read_number(t)
                .filter(|v| (0.5..=600.0).contains(v))
                .ok_or("Write the load in kilograms, say 42.5, or leave it empty.")?,
        ),
    };
    if typed.note.chars().count() > MOST_NOTE {
        return Err(format!("The note is longer than {MOST_NOTE} characters. Shorten it."));
    }
    let member = typed.member.parse::<MemberId>().map_err(|_| "This member is not booked.".to_owned())?;
    let volume = page.plan.volume_done(position, &typed.member, tier, &outcome);
    Ok(Logged {
        member,
        block: typed.block,
        outcome,
        tier,
        load_kg,
        note: typed.note.trim().to_owned(),
        volume,
    })
}

/// What an attempt to change the log came to.
struct Done {
    class: ClassId,
    /// The change that was made, to be said with its undo; none where something is wrong.
    change: Option<Uuid>,
    /// Answers a script.
    part: LogPart,
    /// Answers a plain form where something is wrong.
    page: Option<LogPage>,
}

impl Done {
    /// A part of the page for a script, else the page.
    fn answer(self, hx: bool) -> Page {
        let status = if self.change.is_some() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
        match (hx, self.page, self.change) {
            (true, ..) => html_as(status, &self.part),
            (false, Some(page), None) => html_as(status, &page),
            (false, _, Some(change)) => go(&format!("/classes/{}/log?last={change}", self.class)),
            (false, None, None) => go(&format!("/classes/{}/log", self.class)),
        }
    }
}

/// The page as it is after an attempt: with what was changed, or with what is wrong.
fn done(
    conn: &mut Connection,
    app: &App,
    who: &Who,
    class: ClassId,
    typed: Typed,
    at: Option<(MemberId, u32)>,
) -> Result<Done, WebError> {
    let page = load(conn, app, who.gym(), class)?;
    let changes = logbook::changes(conn, who.gym(), class)?;
    let of = |c: &&Changed| at == Some((c.member, c.block));
    let last = changes.iter().rev().find(of);
    let said: Option<Said> = last.map(|c| view::said(&page, &changes, c));
    let from_line = typed.line.is_some();
    let row = at.map(|(m, b)| (m.to_string(), b)).or_else(|| {
        let wrong = !typed.problem.is_empty();
        wrong.then(|| (typed.member.clone(), typed.block))
    });
    let whole = view::page(conn, &page, who, &changes, &typed, said.clone())?;
    let part = LogPart::of(&whole, row, from_line, said);
    Ok(Done { class, change: last.map(|c| c.id), part, page: last.is_none().then_some(whole) })
}

/// Keeps a result with what the class is held by.
fn keep(conn: &mut Connection, page: &ClassPage, who: &Who, logged: &Logged) -> Result<(), WebError> {
    let (plan, inputs) = (page.answer_by_ids(), page.inputs_now());
    let holds = Holds { plan: &plan, inputs: &inputs };
    logbook::log(conn, who.gym(), page.class.id, logged, (holds, &who.sign_in.account.name))?;
    Ok(())
}

/// Logs what was typed, or says what is wrong with it.
fn write(
    conn: &mut Connection,
    app: &App,
    who: &Who,
    page: &ClassPage,
    mut typed: Typed,
) -> Result<Done, WebError> {
    let class = page.class.id;
    if typed.line_problem.is_empty() {
        match read_row(page, &typed) {
            Ok(logged) => {
                keep(conn, page, who, &logged)?;
                let typed =
                    Typed { line: typed.line.map(|_| String::new()), block: typed.block, ..Typed::default() };
                return done(conn, app, who, class, typed, Some((logged.member, logged.block)));
            }
            Err(words) if typed.line.is_some() => typed.line_problem = words,
            Err(words) => typed.problem = words,
        }
    }
    done(conn, app, who, class, typed, None)
}

/// `POST /classes/{id}/log`: one row.
pub async fn log(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let f = &change.fields;
    let typed = Typed {
        block: f.get("block").parse().unwrap_or(u32::MAX),
        member: f.get("member").to_owned(),
        tier: f.get("tier").to_owned(),
        result: f.get("result").to_owned(),
        load: f.get("load").to_owned(),
        note: f.get("note").to_owned(),
        ..Typed::default()
    };
    let (who, hx) = (change.who, change.hx);
    planned(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        write(conn, app, &who, &page, typed)
    })
    .await?
    .answer(hx)
}

/// `POST /classes/{id}/log/line`: one line, `bea 1042`, for a workout. It says the result only: version, load and note of the row
/// stay.
pub async fn line(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let line: String = change.fields.get("line").trim().to_owned();
    let block: Option<u32> = change.fields.get("block").parse().ok();
    let (who, hx) = (change.who, change.hx);
    planned(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        let typed = of_line(conn, &page, line, block)?;
        write(conn, app, &who, &page, typed)
    })
    .await?
    .answer(hx)
}

/// What a line says, with the rest of the row as it is.
fn of_line(
    conn: &mut Connection,
    page: &ClassPage,
    line: String,
    block: Option<u32>,
) -> Result<Typed, WebError> {
    let names: Vec<String> = page.plan.members.iter().map(|m| m.name.clone()).collect();
    let first =
        || page.plan.workouts.iter().find(|w| w.waits.is_none()).and_then(|w| page.blocks.id(w.block));
    let block = block.filter(|b| page.blocks.position(*b).is_some()).or_else(first).unwrap_or(u32::MAX);
    let mut typed = Typed { line: Some(line.clone()), block, ..Typed::default() };
    let Some((letters, result)) = split_entry(&line) else {
        typed.line_problem = "Write a few letters of the name, then the result: bea 1042.".to_owned();
        return Ok(typed);
    };
    match whom(letters, &names) {
        Whom::Nobody => typed.line_problem = format!("Nobody booked starts with {letters}."),
        Whom::Several(all) => {
            let list: Vec<&str> = all.iter().filter_map(|i| names.get(*i)).map(String::as_str).collect();
            typed.line_problem = format!(
                "{} members start with {letters}: {}. Type one letter more.",
                list.len(),
                list.join(", ")
            );
        }
        Whom::One(i) => {
            typed.member = page.plan.members.get(i).map(|m| m.id.clone()).unwrap_or_default();
            result.clone_into(&mut typed.result);
            let w = page.plan.workouts.iter().find(|w| page.blocks.id(w.block) == Some(block));
            let planned = w.and_then(|w| w.placed.get(i)).map_or(Tier::Full, |p| p.tier);
            let row = match typed.member.parse::<MemberId>() {
                Ok(member) => logbook::one(conn, page.gym.id, page.class.id, (member, block))?,
                Err(_) => None,
            };
            typed.tier = row.as_ref().map_or(planned, |r| r.tier).letter().to_owned();
            if let Some(row) = row {
                typed.load = row.load_kg.map(lantern_core::units::plain).unwrap_or_default();
                typed.note = row.note;
            }
        }
    }
    Ok(typed)
}

/// The row that a form is about.
fn row_of(change: &Change) -> Result<(MemberId, u32), WebError> {
    let block = change.fields.get("block").parse().map_err(|_| WebError::NoPage)?;
    Ok((MemberId(id(change.fields.get("member"))?), block))
}

/// Takes a result back and answers with what it leaves.
async fn taken_back<T, F>(app: Data<App>, change: Change, path: &str, then: F) -> Result<T, WebError>
where
    T: Send + 'static,
    F: FnOnce(&mut Connection, &App, &Who, ClassId, (MemberId, u32)) -> Result<T, WebError> + Send + 'static,
{
    let key = change.key();
    let class = ClassId(id(path)?);
    let at = row_of(&change)?;
    let who = change.who;
    planned_with_todays(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        logbook::remove(conn, who.gym(), class, at, &who.sign_in.account.name)?;
        then(conn, app, &who, class, at)
    })
    .await
}

/// `POST /classes/{id}/log/back`: takes a result back.
pub async fn take_back(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let hx = change.hx;
    let back = |conn: &mut Connection, app: &App, who: &Who, class, at: (MemberId, u32)| {
        done(conn, app, who, class, Typed { block: at.1, ..Typed::default() }, Some(at))
    };
    taken_back(app, change, &path, back).await?.answer(hx)
}

/// `POST /classes/{id}/log/teach`: a result is left out of learning, or taken in again.
pub async fn teach(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (member, block) = row_of(&change)?;
    let why = read_why(change.fields.get("why"))?;
    let (who, hx) = (change.who, change.hx);
    planned(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        leave_out(conn, who.gym(), class, (member, block), why)?;
        let mut done =
            done(conn, app, &who, class, Typed { block, ..Typed::default() }, Some((member, block)))?;
        done.part.says(Said::of_learning(why));
        Ok(done)
    })
    .await?
    .answer(hx)
}

/// `POST /classes/{id}/log/undo`: what a change replaced is there again, unless the row was changed since.
pub async fn undo(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let of = id(change.fields.get("change"))?;
    let (who, hx) = (change.who, change.hx);
    planned_with_todays(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        let changes = logbook::changes(conn, who.gym(), class)?;
        let c = changes.iter().find(|c| c.id == of).ok_or(WebError::NoPage)?;
        let at = (c.member, c.block);
        let newest = changes.iter().rev().find(|x| (x.member, x.block) == at).map(|x| x.id);
        if newest != Some(c.id) {
            return Err(WebError::Store(lantern_store::StoreError::Raced));
        }
        match c.was.clone() {
            None => drop(logbook::remove(conn, who.gym(), class, at, &who.sign_in.account.name)?),
            Some(was) => {
                let page = load(conn, app, who.gym(), class)?;
                keep(conn, &page, &who, &was.logged(c.member, c.block))?;
            }
        }
        done(conn, app, &who, class, Typed { block: c.block, ..Typed::default() }, Some(at))
    })
    .await?
    .answer(hx)
}

/// `POST /classes/{id}/log/belong`: the results of a block that left the sheet belong to another.
pub async fn belong(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let number = |name: &str| change.fields.get(name).parse::<u32>().map_err(|_| WebError::NoPage);
    let (from, to, gym) = (number("from")?, number("to")?, change.who.gym());
    planned(&app, gym, class).await?;
    once(&app, key, move |conn, app| {
        let page = load(conn, app, gym, class)?;
        let here = page.blocks.position(to).and_then(|p| page.plan.sheet.blocks.get(p)).is_some_and(scored);
        if !here || page.blocks.position(from).is_some() {
            return Err(WebError::NoPage);
        }
        Ok(logbook::belong(conn, gym, class, from, to)?)
    })
    .await?;
    go(&format!("/classes/{class}/log"))
}

/// `POST /classes/{id}/log/anew`: a held class is planned from today's sheet, roster, kit and settings; results stay.
pub async fn anew(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let gym = change.who.gym();
    once(&app, key, move |conn, _| {
        lantern_store::class::find(conn, gym, class)?;
        Ok(logbook::plan_anew(conn, gym, class)?)
    })
    .await?;
    go(&format!("/classes/{class}/log"))
}
