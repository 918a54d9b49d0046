//! The life of a class: another hour, length or coach, cancelled and after all, repeated in the weeks that follow.

use super::id;
use crate::app::App;
use crate::day::read_day;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Who, blocking, once, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use chrono::NaiveTime;
use lantern_core::timetable::PLACES;
use lantern_store::{AccountId, ClassId, Connection, account, class, gym};
use serde::{Deserialize, Serialize};

/// Weeks in which a class is repeated at once.
const MOST_WEEKS: u8 = 12;

#[derive(Template)]
#[template(path = "classes/hour.html")]
struct HourForm {
    frame: Frame,
    base: String,
    problem: String,
    typed: Typed,
    /// What it was before the last save, and in words.
    was: Option<(Typed, String)>,
    coaches: Vec<(String, String, bool)>,
    cancelled: bool,
    most_weeks: u8,
}

/// When a class is and who coaches it, as typed.
#[derive(Default, Clone, PartialEq, Serialize, Deserialize)]
pub struct Typed {
    pub date: String,
    pub time: String,
    pub length: String,
    #[serde(default)]
    pub places: String,
    pub coach: String,
}

impl Typed {
    /// As a form sent it.
    pub fn read(change: &Change) -> Typed {
        let field = |name: &str| change.fields.get(name).to_owned();
        Typed {
            date: field("date"),
            time: field("time"),
            length: field("length"),
            places: field("places"),
            coach: field("coach"),
        }
    }

    /// When it is, how long, for how many and by whom; what is wrong in words.
    pub fn parse(&self) -> Result<class::Hour, String> {
        let date = read_day(&self.date, "The day")?;
        let at = read_hour(&self.time)?;
        let (length_s, places) = (read_length(&self.length)?, read_places(&self.places)?);
        let coach = read_coach(&self.coach)?;
        Ok(class::Hour { starts_at: date.and_time(at), length_s, places, coach })
    }

    /// Of a class as it is.
    fn of(c: &class::Class) -> Typed {
        Typed {
            date: c.starts_at.date().to_string(),
            time: c.starts_at.format("%H:%M").to_string(),
            length: c.length_s.map(|s| (s / 60).to_string()).unwrap_or_default(),
            places: c.places.map(|n| n.to_string()).unwrap_or_default(),
            coach: c.coach_id.map(|c| c.to_string()).unwrap_or_default(),
        }
    }
}

/// The coach as chosen; nothing chosen: nobody yet.
pub(super) fn read_coach(text: &str) -> Result<Option<AccountId>, String> {
    match text {
        "" => Ok(None),
        c => c.parse().map(Some).map_err(|_| "Choose the coach from the list.".to_owned()),
    }
}

/// An hour as typed.
pub(super) fn read_hour(text: &str) -> Result<NaiveTime, String> {
    NaiveTime::parse_from_str(text.trim(), "%H:%M")
        .map_err(|_| "The hour is no time. Write, say, 18:00.".to_owned())
}

/// Minutes of a class as typed, s; nothing typed: as on the sheet or usual in the hall.
pub(super) fn read_length(text: &str) -> Result<Option<u32>, String> {
    let wrong = "A class lasts from 5 to 240 minutes. Write, say, 60, or leave it empty.";
    let minutes = read_number_in(text, 5..=240, wrong)?;
    Ok(minutes.map(|m| m * 60))
}

/// Places of a class as typed; nothing typed: as many as like.
pub(super) fn read_places(text: &str) -> Result<Option<u32>, String> {
    let wrong = "A class has from 1 to 200 places. Write, say, 16, or leave it empty.";
    read_number_in(text, PLACES, wrong)
}

fn read_number_in(
    text: &str,
    range: std::ops::RangeInclusive<u32>,
    wrong: &str,
) -> Result<Option<u32>, String> {
    match text.trim() {
        "" => Ok(None),
        t => t.parse().ok().filter(|n| range.contains(n)).map(Some).ok_or_else(|| wrong.to_owned()),
    }
}

/// Coaches of a hall: (key, name, chosen).
pub(super) fn coaches(
    conn: &mut Connection,
    who: &Who,
    chosen: &str,
) -> Result<Vec<(String, String, bool)>, WebError> {
    let all = account::list(conn, who.gym())?;
    Ok(all.into_iter().map(|a| (a.id.to_string(), a.name, a.id.to_string() == chosen)).collect())
}

fn form(
    conn: &mut Connection,
    who: &Who,
    at: ClassId,
    typed: Option<Typed>,
    problem: &str,
) -> Result<HourForm, WebError> {
    let gym = gym::find(conn, who.gym())?;
    let c = class::find(conn, who.gym(), at)?;
    let typed = typed.unwrap_or_else(|| Typed::of(&c));
    Ok(HourForm {
        frame: Frame::new(who, &gym, Area::Classes, "Hour and coach"),
        base: format!("/classes/{at}"),
        problem: problem.to_owned(),
        coaches: coaches(conn, who, &typed.coach)?,
        was: None,
        typed,
        cancelled: c.cancelled,
        most_weeks: MOST_WEEKS,
    })
}

/// `GET /classes/{id}/when`; after a save with what it was before, which one press brings back.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, was: Option<Query<Typed>>) -> Page {
    let at = ClassId(id(&path)?);
    let was = was.map(Query::into_inner);
    let page = blocking(&app, move |conn, _| {
        let mut page = form(conn, &who, at, None, "")?;
        page.was = was.filter(|w| *w != page.typed).and_then(|w| {
            let when = w.parse().ok()?.starts_at;
            let coach = page.coaches.iter().find(|c| c.0 == w.coach).map(|c| format!(", {}", c.1));
            let words = format!("{}{}", when.format("%A %-d %B, %H:%M"), coach.unwrap_or_default());
            Some((w, words))
        });
        Ok(page)
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/when`: another day, hour, length or coach.
pub async fn change(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = ClassId(id(&path)?);
    let typed = Typed::read(&change);
    let who = change.who;
    let done = once_unless(&app, key, Result::is_err, move |conn, _| match typed.parse() {
        Err(problem) => form(conn, &who, at, Some(typed), &problem).map(Err),
        Ok(hour) => {
            let was = Typed::of(&class::find(conn, who.gym(), at)?);
            class::change_hour(conn, who.gym(), at, &hour)?;
            Ok(Ok(was))
        }
    })
    .await?;
    match done {
        Err(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
        Ok(was) => {
            let was = serde_urlencoded::to_string(&was).map_err(|e| WebError::Failed(e.to_string()))?;
            go(&format!("/classes/{at}/when?{was}"))
        }
    }
}

/// `POST /classes/{id}/cancel`: it does not take place, or does after all.
pub async fn cancel(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = ClassId(id(&path)?);
    let (gym, off) = (change.who.gym(), change.fields.get("as") != "back");
    let day = once(&app, key, move |conn, _| {
        class::cancel(conn, gym, at, off)?;
        Ok(class::find(conn, gym, at)?.starts_at.date())
    })
    .await?;
    go(&format!("/classes?week={day}"))
}

/// `POST /classes/{id}/repeat`: the same hour, length, coach and members in the weeks after it, without a sheet.
pub async fn repeat(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = ClassId(id(&path)?);
    let gym = change.who.gym();
    let weeks = change.fields.get("weeks").parse::<u8>().ok().filter(|n| (1..=MOST_WEEKS).contains(n));
    let weeks = weeks.ok_or_else(|| {
        WebError::Unreadable(format!("a class is repeated in 1 to {MOST_WEEKS} weeks; write a number"))
    })?;
    let day = once(&app, key, move |conn, _| {
        class::repeat(conn, gym, at, weeks)?;
        Ok(class::find(conn, gym, at)?.starts_at.date() + chrono::Duration::weeks(1))
    })
    .await?;
    go(&format!("/classes?week={day}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_hour_is_read_or_refused_in_words() {
        let of = |date: &str, time: &str, length: &str| {
            let typed =
                Typed { date: date.into(), time: time.into(), length: length.into(), ..Typed::default() };
            typed.parse()
        };
        let hour = of("2026-11-24", "18:00", "75").unwrap();
        assert_eq!((hour.starts_at.to_string().as_str(), hour.length_s), ("2026-11-24 18:00:00", Some(4500)));
        let bare = of("2026-11-24", "18:00", " ").unwrap();
        assert_eq!((bare.length_s, bare.places, bare.coach), (None, None, None));
        assert_eq!((read_places(" 16 "), read_places("")), (Ok(Some(16)), Ok(None)));
        for wrong in ["0", "201", "-3", "many"] {
            assert!(read_places(wrong).unwrap_err().contains("from 1 to 200 places"), "{wrong}");
        }
        assert!(of("2026-11-24", "6 pm", "").unwrap_err().contains("The hour is no time"));
        assert!(of("9999-11-24", "18:00", "").unwrap_err().contains("Check the year"));
        for wrong in ["4", "241", "an hour"] {
            assert!(
                of("2026-11-24", "18:00", wrong).unwrap_err().contains("from 5 to 240 minutes"),
                "{wrong}"
            );
        }
    }
}
