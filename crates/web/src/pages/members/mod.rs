//! Members: the list (`list.rs`), and everything known about one. Forms come back as they were typed (`form.rs`).

pub(super) mod form;
mod list;
pub mod own_page;
pub mod table;

pub use list::{come_back, erase, leave, list};

use super::{Mark, id};
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Who, blocking, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::NaiveDate;
use form::{Form, TRIALS, Wrong, check};
use lantern_core::kinds::Limit;
use lantern_core::loads::ledger;
use lantern_core::movement::{catalogue, say::spoken};
use lantern_core::pacing::Level;
use lantern_core::pacing::table::{LIFTS, REP_ANCHORS};
use lantern_core::roster::{Member, doubts, edited};
use lantern_core::units::Standard;
use lantern_store::{Connection, MemberId, StoreError, gym, kit, lifting, roster};
use std::collections::BTreeMap;

/// Empty rows below the known ones.
const SPARE_ROWS: usize = 3;

#[derive(Template)]
#[template(path = "members/edit.html")]
struct Edit {
    frame: Frame,
    heading: String,
    action: String,
    leave: String,
    top_problem: String,
    fields: BTreeMap<&'static str, String>,
    problems: BTreeMap<&'static str, String>,
    limits: Vec<(&'static str, String, bool)>,
    lifts: Vec<([String; 5], String)>,
    bests: Vec<([String; 3], String)>,
    trials: Vec<(&'static str, &'static str, [String; 2], String)>,
    /// What was known when the form was opened, to be sent back with it.
    shown: String,
    lift_names: Vec<String>,
    anchor_names: Vec<String>,
    uses: Vec<Use>,
    /// What of it does not fit together.
    doubts: Vec<String>,
    /// Their own page, and what they say of themselves.
    own: Option<own_page::Part>,
}

/// A lift as today's numbers would use it.
pub(super) struct Use {
    pub(super) name: String,
    pub(super) words: String,
    pub(super) kg: String,
    pub(super) spread: String,
    pub(super) since: String,
    pub(super) mark: Mark,
    pub(super) old: bool,
    /// Something is known of it.
    pub(super) known: bool,
    /// Address of its progress; empty where nothing is known.
    progress: String,
}

impl Edit {
    fn f(&self, name: &str) -> &str {
        self.fields.get(name).map_or("", String::as_str)
    }

    fn problem(&self, name: &str) -> &str {
        self.problems.get(name).map_or("", String::as_str)
    }
}

fn edit(
    frame: Frame,
    at: Option<&str>,
    form: &Form,
    wrong: Wrong,
    top_problem: &str,
    uses: Vec<Use>,
) -> Edit {
    let mut lifts: Vec<([String; 5], String)> = form
        .lifts
        .iter()
        .enumerate()
        .map(|(i, r)| (r.clone(), wrong.lifts.get(&i).cloned().unwrap_or_default()))
        .collect();
    let mut bests: Vec<([String; 3], String)> = form
        .bests
        .iter()
        .enumerate()
        .map(|(i, r)| (r.clone(), wrong.bests.get(&i).cloned().unwrap_or_default()))
        .collect();
    let spare = |n: usize| SPARE_ROWS.saturating_sub(n);
    let free_lifts = lifts.iter().filter(|(r, _)| r.iter().all(String::is_empty)).count();
    lifts.extend((0..spare(free_lifts)).map(|_| Default::default()));
    let free_bests = bests.iter().filter(|(r, _)| r.iter().all(String::is_empty)).count();
    bests.extend((0..spare(free_bests)).map(|_| Default::default()));
    Edit {
        heading: match at {
            Some(_) => form.fields.get("name").cloned().unwrap_or_default(),
            None => "New member".to_owned(),
        },
        doubts: Vec::new(),
        own: None,
        frame,
        action: at.map_or_else(|| "/members/new".to_owned(), |id| format!("/members/{id}")),
        leave: at.map(|id| format!("/members/{id}/leave")).unwrap_or_default(),
        shown: form.shown.as_ref().and_then(|m| serde_json::to_string(m).ok()).unwrap_or_default(),
        top_problem: if wrong.any() && top_problem.is_empty() {
            "Nothing was saved yet: mend what is marked below.".to_owned()
        } else {
            top_problem.to_owned()
        },
        limits: Limit::ALL
            .iter()
            .map(|l| (l.word(), l.says(), form.limits.iter().any(|x| x == l.word())))
            .collect(),
        trials: TRIALS
            .iter()
            .map(|(t, name)| {
                (
                    *t,
                    *name,
                    form.trials.get(t).cloned().unwrap_or_default(),
                    wrong.trials.get(t).cloned().unwrap_or_default(),
                )
            })
            .collect(),
        lifts,
        bests,
        lift_names: LIFTS.iter().map(|l| spoken(l)).collect(),
        anchor_names: REP_ANCHORS.iter().map(|l| spoken(l)).collect(),
        fields: form.fields.clone(),
        problems: wrong.fields,
        uses,
    }
}

/// `GET /members/new`.
pub async fn new(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let form = Form::of(&Member::unknown("", Standard::Heavier, Level::Regular));
        let frame = Frame::new(&who, &gym, Area::Members, "New member");
        Ok(edit(frame, None, &form, Wrong::default(), "", Vec::new()))
    })
    .await?;
    html(&page)
}

pub(super) fn uses(
    conn: &mut Connection,
    gym: &gym::Gym,
    id: MemberId,
    m: &Member,
    today: NaiveDate,
) -> Result<Vec<Use>, WebError> {
    let kit = kit::find(conn, gym.id)?;
    let logged = lifting::movements(conn, gym.id, id)?;
    let mark = |kg: f64| kit.mark((kg * 10.0).round() / 10.0);
    let unit = kit.unit_word();
    Ok(ledger(m, &gym.settings, today)
        .into_iter()
        .map(|r| Use {
            name: catalogue().name(&r.lift),
            words: r.base.words,
            kg: format!("{} {unit}", mark(r.base.kg)),
            spread: match r.spread {
                Some((low, high)) if high - low > 0.05 => format!("{} to {}", mark(low), mark(high)),
                Some((kg, _)) => mark(kg),
                None => "unknown".to_owned(),
            },
            since: r.since.map(|d| d.format("%-d %b %Y").to_string()).unwrap_or_default(),
            mark: Mark::of(r.base.provenance),
            old: r.base.old,
            known: r.known,
            progress: if r.known || logged.contains(&r.lift) {
                format!("/members/{id}/lifts/{}", r.lift)
            } else {
                String::new()
            },
        })
        .collect())
}

/// `GET /members/{id}`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let member = MemberId(id(&path)?);
    let today = who.now(&app).date();
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let m = roster::find(conn, who.gym(), member)?;
        let uses = uses(conn, &gym, member, &m, today)?;
        let unit = kit::find(conn, who.gym())?.unit;
        let frame = Frame::new(&who, &gym, Area::Members, &m.name);
        let mut page = edit(frame, Some(&member.to_string()), &Form::of(&m), Wrong::default(), "", uses);
        page.own = Some(own_page::part(conn, &who, (member, &m), today)?);
        page.doubts = doubts(&m, today).iter().map(|d| d.says(unit)).collect();
        Ok(page)
    })
    .await?;
    html(&page)
}

async fn write(app: Data<App>, change: Change, at: Option<MemberId>) -> Page {
    let key = change.key();
    let form = Form::read(&change.fields);
    let (m, wrong) = check(&form);
    let who = change.who;
    let again = once_unless(&app, key, Option::is_some, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Area::Members, "Member");
        let key = at.map(|a| a.to_string());
        if wrong.any() {
            return Ok(Some(edit(frame, key.as_deref(), &form, wrong, "", Vec::new())));
        }
        let done = match at {
            Some(id) => roster::change(conn, who.gym(), id, |now| match form.shown() {
                Some(shown) => edited(now, &shown, &m),
                None => m.clone(),
            }),
            None => roster::add(conn, who.gym(), &m, 0).map(|_| ()),
        };
        match done {
            Ok(()) => Ok(None),
            Err(StoreError::Taken(_)) => {
                let mut wrong = Wrong::default();
                wrong.fields.insert("name", format!("{} is in this hall already. Add a letter.", m.name));
                Ok(Some(edit(frame, key.as_deref(), &form, wrong, "", Vec::new())))
            }
            Err(e @ StoreError::Refused) => {
                Ok(Some(edit(frame, key.as_deref(), &form, Wrong::default(), &e.to_string(), Vec::new())))
            }
            Err(e) => Err(WebError::Store(e)),
        }
    })
    .await?;
    match again {
        None => go("/members"),
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
    }
}

/// `POST /members/new`.
pub async fn add(app: Data<App>, change: Change) -> Page {
    write(app, change, None).await
}

/// `POST /members/{id}`.
pub async fn change(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let at = MemberId(id(&path)?);
    write(app, change, Some(at)).await
}
