//! The list of members, those who left, and what becomes of a member.

use super::super::{id, versions::members};
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html};
use crate::session::{Change, Who, blocking, once};
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::movement::say::spoken;
use lantern_core::people::Act;
use lantern_core::roster::Max;
use lantern_core::units::{clock, plain};
use lantern_store::{MemberId, gym, own_page, roster};

#[derive(Template)]
#[template(path = "members/list.html")]
struct List {
    frame: Frame,
    count: String,
    /// Of members' own pages: what waits for a coach.
    proposals: usize,
    rows: Vec<Row>,
    /// Who left: id, name, day.
    left: Vec<(String, String, String)>,
    owner: bool,
}

struct Row {
    id: String,
    name: String,
    level: &'static str,
    standard: &'static str,
    mass: String,
    lifts: String,
    sets: String,
    engine: String,
    limits: String,
    sessions: String,
}

fn few(list: Vec<String>) -> String {
    match list.len() {
        0 => "–".to_owned(),
        1..=3 => list.join(", "),
        n => format!("{} and {} more", list.iter().take(2).cloned().collect::<Vec<_>>().join(", "), n - 2),
    }
}

fn lift_text(m: &Max) -> String {
    let reps = if m.reps == 1 && m.reserve == 0 { String::new() } else { format!(" × {}", m.reps) };
    format!("{} {}{reps}", spoken(&m.lift), plain(m.kg))
}

/// `GET /members`.
pub async fn list(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let all = roster::list(conn, who.gym())?;
        let gone = |(id, name, on): (MemberId, String, NaiveDate)| {
            (id.to_string(), name, on.format("%-d %B %Y").to_string())
        };
        Ok(List {
            left: roster::left(conn, who.gym())?.into_iter().map(gone).collect(),
            owner: who.may(Act::Erase),
            frame: Frame::new(&who, &gym, Area::Members, "Members"),
            proposals: own_page::proposals(conn, who.gym())?.len(),
            count: format!("{} in this hall", members(all.len())),
            rows: all
                .into_iter()
                .map(|m| Row {
                    level: m.level.word(),
                    standard: m.standard.word(),
                    mass: m.body_mass_kg.map_or_else(|| "–".to_owned(), |kg| format!("{} kg", plain(kg))),
                    lifts: few(m.maxes.iter().map(lift_text).collect()),
                    sets: few(m
                        .unbroken
                        .iter()
                        .map(|b| format!("{} {}", plain(b.reps), spoken(&b.movement)))
                        .collect()),
                    engine: few(m
                        .trials
                        .iter()
                        .map(|t| format!("{} {}", t.test.replace('-', " "), clock(t.seconds)))
                        .collect()),
                    limits: m.limits.iter().map(|l| l.says()).collect::<Vec<_>>().join(", "),
                    sessions: m.sessions_logged.unwrap_or(0).to_string(),
                    id: m.id,
                    name: m.name,
                })
                .collect(),
        })
    })
    .await?;
    html(&page)
}

/// `POST /members/{id}/leave`: out of the roster and of classes to come; what they did stays.
pub async fn leave(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let member = MemberId(id(&path)?);
    let (gym, now) = (change.who.gym(), change.who.now(&app));
    once(&app, key, move |conn, _| Ok(roster::leave(conn, gym, member, now)?)).await?;
    go("/members#left")
}

/// `POST /members/{id}/back`: a member who left is back.
pub async fn come_back(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let member = MemberId(id(&path)?);
    let gym = change.who.gym();
    once(&app, key, move |conn, _| Ok(roster::come_back(conn, gym, member)?)).await?;
    go("/members")
}

/// `POST /members/{id}/erase`: the owner erases a member who left, for good; the name is typed to confirm it.
pub async fn erase(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let member = MemberId(id(&path)?);
    let (gym, today) = (change.who.gym(), change.who.now(&app).date());
    let typed = change.fields.get("name").trim().to_owned();
    once(&app, key, move |conn, _| {
        let left = roster::left(conn, gym)?;
        let named = left.iter().any(|(id, name, _)| *id == member && *name == typed);
        if !named {
            return Err(WebError::Unreadable(
                "the name typed is not that of the member who left; nothing was erased".to_owned(),
            ));
        }
        Ok(roster::erase(conn, gym, member, today)?)
    })
    .await?;
    go("/members#left")
}
