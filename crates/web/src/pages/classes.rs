//! The week's classes, a new class, who is booked, undo.

use super::{hours, id};
use crate::app::App;
use crate::class_page::name_of;
use crate::day::{asked, read_day};
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use chrono::{Duration, NaiveDate, NaiveDateTime, NaiveTime};
use lantern_core::sheet::{Reading, Severity, read};
use lantern_store::class::{Listed, NewClass};
use lantern_store::timetable::due;
use lantern_store::{ClassId, Connection, GymId, MemberId, SessionId, class, decision, gym, roster, sheet};
use serde::Deserialize;

/// Which week or day is asked for.
#[derive(Deserialize)]
pub struct When {
    #[serde(default, deserialize_with = "asked")]
    week: Option<NaiveDate>,
    #[serde(default, deserialize_with = "asked")]
    date: Option<NaiveDate>,
}

#[derive(Template)]
#[template(path = "classes/week.html")]
struct Week {
    frame: Frame,
    span: String,
    before: NaiveDate,
    after: NaiveDate,
    empty: bool,
    /// Nobody is in the hall yet.
    new: bool,
    /// Its first day, and its classes of the timetable that are not made yet.
    first: NaiveDate,
    due: Vec<String>,
    days: Vec<Day>,
}

struct Day {
    name: String,
    date: NaiveDate,
    today: bool,
    classes: Vec<Row>,
}

struct Row {
    at: String,
    href: String,
    name: String,
    what: String,
    coach: String,
    booked: String,
    waiting: u32,
    problems: usize,
    state: String,
}

fn row(who: &Who, l: &Listed, now: NaiveDateTime) -> Row {
    let reading = read(&l.sheet);
    let problems = reading.problems.iter().filter(|p| p.severity == Severity::Error).count();
    let over = l.class.starts_at + Duration::seconds(i64::from(l.class.length_s.unwrap_or(3600))) < now;
    let state = match (l.logged, over) {
        _ if l.class.cancelled => "cancelled".to_owned(),
        (0, true) => "no results yet".to_owned(),
        (0, false) if l.sheet.trim().is_empty() => "no sheet yet".to_owned(),
        (0, false) => "planned".to_owned(),
        (n, _) => format!("{n} of {} logged", l.booked),
    };
    // a held class has its results: its sheet is history
    let problems = if l.logged > 0 { 0 } else { problems };
    let step = if l.logged > 0 {
        "log"
    } else if l.sheet.trim().is_empty() || problems > 0 {
        "sheet"
    } else {
        "hour"
    };
    Row {
        at: l.class.starts_at.format("%H:%M").to_string(),
        href: who.at(l.class.id, step),
        name: name_of(&reading),
        what: what(&reading),
        coach: l.class.coach.clone().unwrap_or_default(),
        booked: l.class.places.map_or_else(|| l.booked.to_string(), |n| format!("{} of {n}", l.booked)),
        waiting: l.waiting,
        problems,
        state,
    }
}

/// What a sheet holds, in a few words.
pub fn what(reading: &Reading) -> String {
    let parts = reading.sheet.blocks.iter().filter_map(|b| {
        if let Some(build) = b.builds.first() {
            let name = build.movement.id().map(lantern_core::movement::say::spoken).unwrap_or_default();
            return Some(format!("{name}, heaviest {}", build.reps));
        }
        let lift = b.lifts.first().and_then(|l| Some((l, l.movement.id()?))).map(|(l, id)| {
            let name = lantern_core::movement::say::spoken(id);
            if l.by_cycle {
                format!("{name} from the cycle")
            } else {
                format!("{name}, {} sets", l.reps.len())
            }
        });
        lift.or_else(|| lantern_core::versions::Work::from_block(b).ok().map(|w| w.clock_text()))
    });
    parts.collect::<Vec<_>>().join("; ")
}

/// `GET /classes?week=…`.
pub async fn week(app: Data<App>, who: Who, when: Query<When>) -> Page {
    let now = who.now(&app);
    let day = when.week.unwrap_or_else(|| now.date());
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let first = day.week(gym.week_from).first_day();
        let (from, to) =
            (first.and_time(NaiveTime::MIN), (first + Duration::days(7)).and_time(NaiveTime::MIN));
        let listed = class::list(conn, who.gym(), from, to)?;
        let days: Vec<Day> = (0..7)
            .map(|i| {
                let date = first + Duration::days(i);
                let classes = listed
                    .iter()
                    .filter(|l| l.class.starts_at.date() == date)
                    .map(|l| row(&who, l, now))
                    .collect();
                Day { name: date.format("%A %-d").to_string(), date, today: date == now.date(), classes }
            })
            .collect();
        Ok(Week {
            frame: Frame::new(&who, &gym, Area::Classes, "Classes"),
            span: format!(
                "{} to {}",
                first.format("%-d %B"),
                (first + Duration::days(6)).format("%-d %B %Y")
            ),
            before: first - Duration::days(7),
            after: first + Duration::days(7),
            empty: listed.is_empty(),
            first,
            due: due(conn, who.gym(), first, now)?
                .into_iter()
                .map(|(_, at)| at.format("%a %H:%M").to_string())
                .collect(),
            new: listed.is_empty() && roster::list(conn, who.gym())?.is_empty(),
            days,
        })
    })
    .await?;
    html(&page)
}

/// `GET /classes/{id}`: the step where a coach goes on.
pub async fn open(who: Who, class: Path<String>) -> Page {
    go(&who.at(ClassId(id(&class)?), "hour"))
}

#[derive(Template)]
#[template(path = "classes/edit.html")]
struct Edit {
    frame: Frame,
    problem: String,
    typed: hours::Typed,
    coaches: Vec<(String, String, bool)>,
    sessions: Vec<(String, String, bool)>,
    members: Vec<(String, String, bool)>,
}

/// What was typed, so that a form comes back as it was sent.
#[derive(Default, Clone)]
struct Typed {
    when: hours::Typed,
    session: String,
    members: Vec<String>,
}

fn edit(
    conn: &mut Connection,
    who: &Who,
    typed: &Typed,
    problem: &str,
    today: NaiveDate,
) -> Result<Edit, WebError> {
    let gym = gym::find(conn, who.gym())?;
    let near = read_day(&typed.when.date, "The day").unwrap_or(today);
    let sessions = sheet::list(conn, who.gym(), near - Duration::days(14), near + Duration::days(14))?;
    Ok(Edit {
        frame: Frame::new(who, &gym, Area::Classes, "New class"),
        problem: problem.to_owned(),
        typed: typed.when.clone(),
        coaches: hours::coaches(conn, who, &typed.when.coach)?,
        sessions: sessions
            .into_iter()
            .map(|s| {
                let name = format!("{}, {}", name_of(&read(&s.sheet)), s.on_date.format("%-d %B"));
                (s.id.to_string(), name, s.id.to_string() == typed.session)
            })
            .collect(),
        members: picks(conn, who.gym(), &typed.members)?,
    })
}

pub(super) fn picks(
    conn: &mut Connection,
    gym: GymId,
    chosen: &[String],
) -> Result<Vec<(String, String, bool)>, WebError> {
    let members = roster::list(conn, gym)?;
    Ok(members.into_iter().map(|m| (m.id.clone(), m.name, chosen.contains(&m.id))).collect())
}

/// `GET /classes/new?date=…`.
pub async fn new(app: Data<App>, who: Who, when: Query<When>) -> Page {
    let today = who.now(&app).date();
    let typed = Typed {
        when: hours::Typed {
            date: when.date.unwrap_or(today).to_string(),
            time: "18:00".to_owned(),
            coach: who.sign_in.account.id.to_string(),
            ..hours::Typed::default()
        },
        ..Typed::default()
    };
    html(&blocking(&app, move |conn, _| edit(conn, &who, &typed, "", today)).await?)
}

pub(super) fn member_ids(members: &[String]) -> Result<Vec<MemberId>, WebError> {
    members.iter().map(|m| id(m).map(MemberId)).collect()
}

/// `POST /classes/new`.
pub async fn add(app: Data<App>, change: Change) -> Page {
    let key = change.key();
    let today = change.who.now(&app).date();
    let f = &change.fields;
    let typed = Typed {
        when: hours::Typed::read(&change),
        session: f.get("session").to_owned(),
        members: f.all("member").into_iter().map(str::to_owned).collect(),
    };
    let who = change.who;
    let parsed = typed.when.parse();
    let hour = match parsed {
        Ok(p) => p,
        Err(problem) => {
            let page = blocking(&app, move |conn, _| edit(conn, &who, &typed, &problem, today)).await?;
            return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page);
        }
    };
    let by = who.clone();
    let made = once(&app, key, move |conn, _| {
        let gym = by.gym();
        let session = match typed.session.as_str() {
            "" => sheet::add(conn, gym, hour.starts_at.date(), "")?,
            s => SessionId(id(s)?),
        };
        let booked = member_ids(&typed.members)?;
        let class::Hour { starts_at, length_s, places, coach } = hour;
        Ok(class::add(conn, gym, &NewClass { session, starts_at, length_s, places, coach, booked })?)
    })
    .await?;
    go(&who.at(made, "sheet"))
}

/// `POST /classes/{id}/undo`: takes one's own last decision back, or does it again.
pub async fn undo(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (gym, by) = (change.who.gym(), change.who.sign_in.account.id);
    let again = change.fields.get("as") == "redo";
    let back = match change.fields.get("back") {
        "changes" => "changes",
        step => crate::frame::STEPS.iter().find(|(_, p)| *p == step).map_or("hour", |(_, p)| p),
    };
    once(&app, key, move |conn, _| {
        class::find(conn, gym, class)?;
        let turn = if again { decision::redo } else { decision::undo };
        Ok(turn(conn, gym, class, by)?)
    })
    .await?;
    go(&format!("/classes/{class}/{back}"))
}
