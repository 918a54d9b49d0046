//! Members from a table: what is read is shown first, with every bad cell at its place; then those who are not there yet are added.

use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, html, html_as};
use crate::session::{Change, Who, blocking, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::Data;
use askama::Template;
use lantern_core::roster::{Member, Roster, RosterProblem, read_csv};
use lantern_core::units::plain;
use lantern_store::{Connection, gym, in_one_step, roster};

/// Longest text that is read, bytes.
const MOST_BYTES: usize = 500_000;
/// Members that are added at once.
const MOST_ROWS: usize = 1000;

#[derive(Template)]
#[template(path = "members/roster.html")]
struct RosterPage {
    frame: Frame,
    text: String,
    problem: String,
    rows: Vec<Row>,
    new: usize,
    problems: Vec<RosterProblem>,
    done: String,
}

struct Row {
    name: String,
    standard: &'static str,
    level: &'static str,
    mass: String,
    lifts: usize,
    sets: usize,
    limits: String,
    /// A member of this name is there already.
    there: bool,
}

fn row(m: &Member, there: bool) -> Row {
    Row {
        name: m.name.clone(),
        standard: m.standard.word(),
        level: m.level.word(),
        mass: m.body_mass_kg.map(plain).unwrap_or_default(),
        lifts: m.maxes.len(),
        sets: m.unbroken.len(),
        limits: m.limits.iter().map(|l| l.word()).collect::<Vec<_>>().join(", "),
        there,
    }
}

fn page(
    conn: &mut Connection,
    who: &Who,
    text: String,
    read: Roster,
    done: String,
) -> Result<RosterPage, WebError> {
    let hall = gym::find(conn, who.gym())?;
    let names: Vec<String> = roster::list(conn, who.gym())?.iter().map(|m| m.name.to_lowercase()).collect();
    let rows: Vec<Row> =
        read.members.iter().map(|m| row(m, names.contains(&m.name.to_lowercase()))).collect();
    let problem = if rows.is_empty() && !text.trim().is_empty() {
        "No member could be read. The first row names the columns: name, standard, level, and what else is known."
    } else {
        ""
    };
    Ok(RosterPage {
        frame: Frame::new(who, &hall, Area::Members, "Members from a table"),
        text,
        problem: problem.to_owned(),
        new: rows.iter().filter(|r| !r.there).count(),
        rows,
        problems: read.problems,
        done,
    })
}

fn nothing() -> Roster {
    Roster { members: Vec::new(), problems: Vec::new() }
}

/// `GET /members/roster`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    html(&blocking(&app, move |conn, _| page(conn, &who, String::new(), nothing(), String::new())).await?)
}

/// `POST /members/roster`: the preview; with `add` those who are not there yet are added, all or none.
pub async fn read(app: Data<App>, change: Change) -> Page {
    let key = change.key();
    let text = change.fields.get("text").to_owned();
    if text.len() > MOST_BYTES || text.lines().count() > MOST_ROWS {
        return Err(WebError::Unreadable("the table is longer than 1000 rows; cut it in two".to_owned()));
    }
    let add = change.fields.get("do") == "add";
    let who = change.who;
    let refused = |p: &RosterPage| p.done.is_empty();
    let shown = once_unless(&app, key, refused, move |conn, _| {
        let read = read_csv(&text);
        if !add {
            return page(conn, &who, text, read, String::new());
        }
        let there: Vec<String> =
            roster::list(conn, who.gym())?.iter().map(|m| m.name.to_lowercase()).collect();
        let new: Vec<&Member> =
            read.members.iter().filter(|m| !there.contains(&m.name.to_lowercase())).collect();
        in_one_step(conn, |conn| new.iter().try_for_each(|m| roster::add(conn, who.gym(), m, 0).map(drop)))?;
        let (added, left) = (new.len(), read.members.len() - new.len());
        let members = if added == 1 { "member" } else { "members" };
        let stay = match left {
            0 => String::new(),
            n => format!(" {n} were there already and stay as they are."),
        };
        page(conn, &who, String::new(), nothing(), format!("{added} {members} added.{stay}"))
    })
    .await?;
    let status = if shown.problem.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    html_as(status, &shown)
}
