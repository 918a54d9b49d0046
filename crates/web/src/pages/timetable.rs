//! The classes of every week, how full they were, and weeks made from them.

use super::hours::{coaches, read_coach, read_hour, read_length, read_places};
use super::id;
use crate::app::App;
use crate::day::{DAYS, day_word, read_day, read_weekday};
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Who, blocking, once, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::{Duration, NaiveDate, NaiveTime, Weekday};
use lantern_core::people::Act;
use lantern_core::timetable::{Fill, Fullness, Regular, fills};
use lantern_store::timetable::{Kept, add as add_regular, end as end_regular, filled, list, make_week};
use lantern_store::{AccountId, Connection, RegularId, gym};

/// Weeks over which it is counted how full an hour was.
const WEEKS: i64 = 4;

#[derive(Template)]
#[template(path = "classes/timetable.html")]
struct TimetablePage {
    frame: Frame,
    /// It is theirs to change.
    settles: bool,
    rows: Vec<Row>,
    problem: String,
    typed: Typed,
    coaches: Vec<(String, String, bool)>,
    days: [(&'static str, bool); 7],
    weeks: i64,
}

struct Row {
    id: RegularId,
    day: &'static str,
    /// The first of its day.
    first: bool,
    at: String,
    length: String,
    places: String,
    coach: String,
    full: String,
    /// Said where an hour is emptier or fuller than others.
    mark: &'static str,
    until: String,
}

/// A regular class as typed.
#[derive(Default, Clone)]
struct Typed {
    day: String,
    at: String,
    length: String,
    places: String,
    coach: String,
    from: String,
}

impl Typed {
    fn parse(&self, today: NaiveDate) -> Result<(Regular, Option<AccountId>), String> {
        let from = if self.from.is_empty() { today } else { read_day(&self.from, "The first day")? };
        let class = Regular {
            weekday: read_weekday(&self.day).ok_or("Choose the day of the week.")?,
            at: read_hour(&self.at)?,
            length_s: read_length(&self.length)?,
            places: read_places(&self.places)?,
            from,
            until: None,
        };
        Ok((class, read_coach(&self.coach)?))
    }
}

/// How full an hour was, in words.
fn full(fill: &Fill) -> (String, &'static str) {
    let n = if fill.classes == 1 { "1 class".to_owned() } else { format!("{} classes", fill.classes) };
    let of = fill.places.map(|p| format!(" of {p}")).unwrap_or_default();
    let mark = match fill.fullness() {
        Some(Fullness::Room) => "room",
        Some(Fullness::Full) => "full",
        None => "",
    };
    (format!("{:.1}{of} in {n}", fill.booked), mark)
}

fn row(k: &Kept, before: Option<Weekday>, all: &[Fill]) -> Row {
    let fill = all.iter().find(|f| f.at == (k.class.weekday, k.class.at));
    let (full, mark) = fill.map(full).unwrap_or_else(|| ("none yet".to_owned(), ""));
    Row {
        id: k.id,
        day: day_word(k.class.weekday),
        first: before != Some(k.class.weekday),
        at: k.class.at.format("%H:%M").to_string(),
        length: k.class.length_s.map(|s| format!("{} min", s / 60)).unwrap_or_default(),
        places: k.class.places.map(|n| n.to_string()).unwrap_or_default(),
        coach: k.coach_name.clone().unwrap_or_default(),
        full,
        mark,
        until: k.class.until.map(|d| d.format("%-d %B").to_string()).unwrap_or_default(),
    }
}

fn page(
    conn: &mut Connection,
    who: &Who,
    today: NaiveDate,
    typed: Typed,
    problem: String,
) -> Result<TimetablePage, WebError> {
    let hall = gym::find(conn, who.gym())?;
    let now = today.and_time(NaiveTime::MIN);
    let all = fills(&filled(conn, who.gym(), now - Duration::weeks(WEEKS), now)?);
    let kept = list(conn, who.gym(), today)?;
    let before = std::iter::once(None).chain(kept.iter().map(|k| Some(k.class.weekday)));
    let rows = kept.iter().zip(before).map(|(k, before)| row(k, before, &all)).collect();
    Ok(TimetablePage {
        frame: Frame::new(who, &hall, Area::Classes, "Timetable"),
        settles: who.may(Act::Settle),
        rows,
        problem,
        coaches: coaches(conn, who, &typed.coach)?,
        days: DAYS.map(|(word, _)| (word, word == typed.day)),
        typed,
        weeks: WEEKS,
    })
}

/// `GET /timetable`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let today = who.now(&app).date();
    let page =
        blocking(&app, move |conn, _| page(conn, &who, today, Typed::default(), String::new())).await?;
    html(&page)
}

/// `POST /timetable`: one more class of every week.
pub async fn add(app: Data<App>, change: Change) -> Page {
    let (key, f) = (change.key(), &change.fields);
    let get = |name: &str| f.get(name).trim().to_owned();
    let typed = Typed {
        day: get("day"),
        at: get("at"),
        length: get("length"),
        places: get("places"),
        coach: get("coach"),
        from: get("from"),
    };
    let today = change.who.now(&app).date();
    let who = change.who;
    let done = once_unless(&app, key, Option::is_some, move |conn, _| match typed.parse(today) {
        Ok((class, coach)) => {
            add_regular(conn, who.gym(), &class, coach)?;
            Ok(None)
        }
        Err(problem) => page(conn, &who, today, typed, problem).map(Some),
    })
    .await?;
    match done {
        None => go("/timetable"),
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
    }
}

/// `POST /timetable/{id}/end`: it is held no more from today on; classes that were made stay.
pub async fn end(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let (key, regular) = (change.key(), RegularId(id(&path)?));
    let (gym, today) = (change.who.gym(), change.who.now(&app).date());
    let last = today.pred_opt().unwrap_or(today);
    once(&app, key, move |conn, _| Ok(end_regular(conn, gym, regular, last)?)).await?;
    go("/timetable")
}

/// `POST /timetable/make`: the classes of a week that are not made yet.
pub async fn make(app: Data<App>, change: Change) -> Page {
    let key = change.key();
    let first = read_day(change.fields.get("week"), "The week").map_err(WebError::Unreadable)?;
    let (gym, now) = (change.who.gym(), change.who.now(&app));
    once(&app, key, move |conn, _| {
        let first = first.week(gym::find(conn, gym)?.week_from).first_day();
        Ok(make_week(conn, gym, first, now)?)
    })
    .await?;
    go(&format!("/classes?week={first}"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_regular_class_is_read_or_refused_in_words() {
        let today = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let typed =
            Typed { day: "Friday".into(), at: "06:30".into(), places: "12".into(), ..Typed::default() };
        let (class, coach) = typed.parse(today).unwrap();
        assert_eq!((class.weekday, class.places, class.from, coach), (Weekday::Fri, Some(12), today, None));
        let wrong = |f: &dyn Fn(&mut Typed)| {
            let mut t = typed.clone();
            f(&mut t);
            t.parse(today).unwrap_err()
        };
        assert!(wrong(&|t| t.day = "Someday".into()).contains("day of the week"));
        assert!(wrong(&|t| t.at = "half six".into()).contains("no time"));
        assert!(wrong(&|t| t.places = "0".into()).contains("places"));
        assert!(wrong(&|t| t.from = "soon".into()).contains("The first day is no date"));
        assert!(wrong(&|t| t.coach = "x".into()).contains("coach"));
    }

    #[test]
    fn an_hour_is_marked_where_it_is_empty_or_full() {
        let at = (Weekday::Mon, NaiveTime::MIN);
        let of = |booked, places| full(&Fill { at, classes: 4, booked, places });
        assert_eq!(of(4.25, Some(16)), ("4.2 of 16 in 4 classes".to_owned(), "room"));
        assert_eq!(of(15.5, Some(16)).1, "full");
        assert_eq!(of(11.0, Some(16)).1, "");
        assert_eq!(of(3.0, None), ("3.0 in 4 classes".to_owned(), ""));
    }
}
