//! Who is booked for a class: places and the waiting list, how they came, names from a table, and what a change did to the plan.

use super::classes::{member_ids, picks};
use super::id;
use crate::app::App;
use crate::class_page::{name_of, planned};
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, html, html_as};
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use chrono::{Duration, NaiveDateTime, NaiveTime};
use lantern_core::people::Act;
use lantern_core::plan::{ClassPlan, moved};
use lantern_core::sheet::read;
use lantern_core::timetable::{Came, MOST_NAMES, Standing, Unclear, read_names};
use lantern_store::booking::{self, Booking};
use lantern_store::class::Class;
use lantern_store::{ClassId, Connection, GymId, MemberId, class, gym, roster, sheet};
use serde::Deserialize;
use std::sync::Arc;

#[derive(Template)]
#[template(path = "classes/bookings.html")]
struct BookingsPage {
    frame: Frame,
    base: String,
    hint: String,
    /// What a change did, in words.
    told: Vec<String>,
    saved: bool,
    rows: Vec<Row>,
    waiting: u32,
    /// Hours of the same day with more room: (address, words).
    emptier: Vec<(String, String)>,
    /// Who was booked when the page was made.
    was: String,
    members: Vec<(String, String, bool)>,
    /// Somebody was booked at the same hour a week before.
    week_before: bool,
    names: String,
    unclear: Vec<String>,
}

struct Row {
    id: String,
    name: String,
    standing: String,
    /// They have no place: there is nothing to come to.
    waits: bool,
    came: Option<Came>,
}

/// Members ticked otherwise than they are booked.
#[derive(Default)]
struct Typed {
    ticked: Option<Vec<String>>,
    names: String,
    unclear: Vec<String>,
}

pub(super) fn standing(s: Standing) -> String {
    match s {
        Standing::Booked => "booked".to_owned(),
        Standing::Waits(0) => "waits, first in line".to_owned(),
        Standing::Waits(n) => format!("waits, {n} before them"),
    }
}

/// Places and how many of them are taken, in words.
fn taken(c: &Class, all: &[Booking]) -> String {
    let booked = all.iter().filter(|b| b.standing == Standing::Booked).count();
    match c.places {
        None => format!("{booked} booked"),
        Some(n) if all.len() > booked => format!("{booked} of {n} places, {} wait", all.len() - booked),
        Some(n) => format!("{booked} of {n} places"),
    }
}

/// Other classes of the day with room that have not begun, the emptiest first.
fn emptier(
    conn: &mut Connection,
    of: GymId,
    c: &Class,
    now: NaiveDateTime,
) -> Result<Vec<(String, String)>, WebError> {
    let day = c.starts_at.date().and_time(NaiveTime::MIN);
    let mut all = class::list(conn, of, day, day + Duration::days(1))?;
    all.retain(|l| {
        l.class.starts_at > now
            && l.class.id != c.id
            && !l.class.cancelled
            && l.class.places.is_none_or(|n| l.booked < n)
    });
    all.sort_by_key(|l| l.booked);
    let words = |l: &class::Listed| {
        let of = l.class.places.map(|n| format!(" of {n}")).unwrap_or_default();
        format!("{} with {}{of}", l.class.starts_at.format("%H:%M"), l.booked)
    };
    Ok(all.iter().map(|l| (format!("/classes/{}/bookings", l.class.id), words(l))).collect())
}

fn page(
    conn: &mut Connection,
    app: &App,
    who: &Who,
    at: ClassId,
    typed: Typed,
) -> Result<BookingsPage, WebError> {
    let gym = gym::find(conn, who.gym())?;
    let c = class::find(conn, who.gym(), at)?;
    let name = name_of(&read(&sheet::find(conn, who.gym(), c.session)?.sheet));
    let all = booking::sign_ups(conn, who.gym(), at)?;
    let booked: Vec<String> = all.iter().map(|b| b.member.to_string()).collect();
    let waiting = all.iter().filter(|b| b.standing != Standing::Booked).count();
    let full = c.places.is_some_and(|n| usize::try_from(n).is_ok_and(|n| all.len() >= n));
    Ok(BookingsPage {
        frame: Frame::new(who, &gym, Area::Classes, "Who is booked"),
        base: format!("/classes/{at}"),
        hint: format!("{name}, {} · {}", c.starts_at.format("%A %-d %B, %H:%M"), taken(&c, &all)),
        told: Vec::new(),
        saved: false,
        rows: all
            .iter()
            .map(|b| Row {
                id: b.member.to_string(),
                name: b.name.clone(),
                standing: standing(b.standing),
                waits: b.standing != Standing::Booked,
                came: b.came,
            })
            .collect(),
        waiting: u32::try_from(waiting).unwrap_or(0),
        emptier: if full { emptier(conn, who.gym(), &c, who.now(app))? } else { Vec::new() },
        was: booked.join(","),
        members: picks(conn, who.gym(), typed.ticked.as_ref().unwrap_or(&booked))?,
        week_before: !booking::week_before(conn, who.gym(), at)?.is_empty(),
        names: typed.names,
        unclear: typed.unclear,
    })
}

/// What is ticked when the page is opened.
#[derive(Deserialize)]
pub struct Tick {
    r#as: Option<String>,
}

/// `GET /classes/{id}/bookings?as=week-before`: who is booked; ticked as they are, or as a week before.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, tick: Query<Tick>) -> Page {
    let at = ClassId(id(&path)?);
    let like_before = tick.r#as.as_deref() == Some("week-before");
    let page = blocking(&app, move |conn, app| {
        let mut typed = Typed::default();
        if like_before {
            let all = booking::sign_ups(conn, who.gym(), at)?.into_iter().map(|b| b.member);
            let all = all.chain(booking::week_before(conn, who.gym(), at)?);
            typed.ticked = Some(all.map(|m| m.to_string()).collect());
        }
        page(conn, app, &who, at, typed)
    })
    .await?;
    html(&page)
}

/// A line that stays unclear, as it is told.
fn told(u: &Unclear, names: &[String]) -> String {
    let among: Vec<&str> = u.among.iter().filter_map(|i| names.get(*i)).map(String::as_str).collect();
    match among.as_slice() {
        [] => format!("Line {}: nobody here is called “{}”.", u.line, u.text),
        all => format!("Line {}: “{}” may be {}. Write more of the name.", u.line, u.text, all.join(" or ")),
    }
}

/// Whether a list was typed since it was read last.
fn unread(names: &str, read: &str) -> bool {
    let plain = |text: &str| text.split_whitespace().map(str::to_owned).collect::<Vec<_>>();
    !names.trim().is_empty() && plain(names) != plain(read)
}

/// Ticks whom a pasted list names, beside those who are ticked; nothing is booked by that.
fn read_list(
    conn: &mut Connection,
    of: GymId,
    mut ticked: Vec<String>,
    names: &str,
) -> Result<Typed, WebError> {
    if names.lines().count() > MOST_NAMES {
        let words = format!("The list has more than {MOST_NAMES} lines. Cut it, and read it in parts.");
        return Ok(Typed { ticked: Some(ticked), names: names.to_owned(), unclear: vec![words] });
    }
    let members = roster::list(conn, of)?;
    let all: Vec<String> = members.iter().map(|m| m.name.clone()).collect();
    let (found, unclear) = read_names(names, &all);
    ticked.extend(found.iter().filter_map(|i| members.get(*i)).map(|m| m.id.clone()));
    // what was found is ticked, what was not stays to be mended
    let left: Vec<&str> = unclear.iter().map(|u| u.text.as_str()).collect();
    Ok(Typed {
        ticked: Some(ticked),
        names: left.join("\n"),
        unclear: unclear.iter().map(|u| told(u, &all)).collect(),
    })
}

/// The plan of a class as it stands, for somebody who may see it; `None` where nothing is planned.
async fn plan_of(app: &App, who: &Who, at: ClassId) -> Result<Option<Arc<ClassPlan>>, WebError> {
    if !who.may(Act::Coach) {
        return Ok(None);
    }
    let page = planned(app, who.gym(), at).await?;
    let anything = !(page.plan.workouts.is_empty() && page.plan.strength.is_empty());
    Ok(anything.then_some(page.plan))
}

/// Does a change of who comes and shows the page again, with what it did to the plan; `names`: lines of a list that stay unclear.
async fn changed(
    app: Data<App>,
    change: Change,
    at: ClassId,
    names: String,
    work: impl FnOnce(&mut Connection, GymId) -> Result<(), WebError> + Send + 'static,
) -> Page {
    let (key, who) = (change.key(), change.who);
    let before = plan_of(&app, &who, at).await?;
    let gym = who.gym();
    once(&app, key, move |conn, _| work(conn, gym)).await?;
    let now = plan_of(&app, &who, at).await?;
    let typed = Typed { names, ..Typed::default() };
    let mut shown = blocking(&app, move |conn, app| page(conn, app, &who, at, typed)).await?;
    shown.saved = true;
    if let (Some(before), Some(now)) = (before, now) {
        let all = moved(&before, &now);
        shown.told = all.iter().map(|m| lantern_core::say::moved(m, now.unit)).collect();
    }
    html(&shown)
}

/// `POST /classes/{id}/bookings`: whoever was ticked or unticked since the page was made is booked or not. A list of names is read
/// first, and what it named is ticked: nobody is booked who was not seen ticked.
pub async fn change(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let at = ClassId(id(&path)?);
    let ticked: Vec<String> = change.fields.all("member").into_iter().map(str::to_owned).collect();
    let names = change.fields.get("names").to_owned();
    let only_read = change.fields.get("do") == "read";
    if only_read || unread(&names, change.fields.get("read")) {
        let who = change.who;
        let shown = blocking(&app, move |conn, app| {
            let mut typed = read_list(conn, who.gym(), ticked, &names)?;
            if !only_read {
                typed
                    .unclear
                    .insert(0, "Nothing is saved yet: the list is read now. Look, and save.".to_owned());
            }
            page(conn, app, &who, at, typed)
        })
        .await?;
        let status = if shown.unclear.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
        return html_as(status, &shown);
    }
    let was: Vec<String> =
        change.fields.get("was").split(',').filter(|m| !m.is_empty()).map(str::to_owned).collect();
    let (ticked, was) = (member_ids(&ticked)?, member_ids(&was)?);
    changed(app, change, at, names, move |conn, gym| {
        let only =
            |a: &[MemberId], b: &[MemberId]| a.iter().filter(|m| !b.contains(m)).copied().collect::<Vec<_>>();
        // somebody else's change since the page was made stays
        Ok(booking::change(conn, gym, at, &only(&ticked, &was), &only(&was, &ticked))?)
    })
    .await
}

/// `POST /classes/{id}/came`: somebody came late, did not come, or came as booked.
pub async fn came(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let at = ClassId(id(&path)?);
    let member = MemberId(id(change.fields.get("member"))?);
    let came = match change.fields.get("came") {
        "" => None,
        word => Some(Came::from_word(word).ok_or(WebError::NoPage)?),
    };
    changed(app, change, at, String::new(), move |conn, gym| {
        Ok(booking::keep_came(conn, gym, at, member, came)?)
    })
    .await
}
