//! Cycles of lifts: the list, the editor, the calendar with missed weeks.

use super::id;
use crate::app::App;
use crate::day::read_day;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Fields, Who, blocking, once, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::{Days, NaiveDate};
use lantern_core::cycle::{Cycle, Given, Week, WeekKind, fill, monday};
use lantern_core::movement::{Found, catalogue, say::spoken};
use lantern_core::pacing::table::LIFTS;
use lantern_core::sheet::{PercentBase, read_clock, read_number};
use lantern_core::units::{clock, plain};
use lantern_store::{Connection, CycleId, GymId, cycle, gym, lifting};

/// Empty rows below the weeks.
const SPARE_ROWS: usize = 3;
/// Window of a base week when none is typed, s.
const WINDOW_S: u32 = 900;

#[derive(Template)]
#[template(path = "cycles/list.html")]
struct List {
    frame: Frame,
    rows: Vec<Row>,
}

struct Row {
    id: String,
    name: String,
    lift: String,
    now: String,
    says: String,
    dates: String,
    missed: String,
}

#[derive(Template)]
#[template(path = "cycles/edit.html")]
struct Edit {
    frame: Frame,
    heading: String,
    action: String,
    id: String,
    form: Form,
    problems: Vec<String>,
    lifts: Vec<String>,
    kinds: [(&'static str, &'static str); 5],
    bases: [(&'static str, &'static str); 3],
    calendar: Vec<CalendarRow>,
    line: String,
}

struct CalendarRow {
    monday: String,
    date: String,
    week: String,
    says: String,
    lifted: String,
    /// Over, and nobody lifted.
    missed: bool,
    held: bool,
    now: bool,
}

/// The editor's texts as they are typed.
#[derive(Clone, Default)]
struct Form {
    name: String,
    lift: String,
    start: String,
    of: String,
    of_reps: String,
    every: String,
    window: String,
    /// kind, sets, reps, low, high.
    weeks: Vec<[String; 5]>,
}

impl Form {
    fn of(c: &Cycle) -> Form {
        let (of, of_reps) = match &c.of {
            PercentBase::RepMax(n) => ("rep-max", n.to_string()),
            PercentBase::TrainingMax => ("training-max", String::new()),
            _ => ("1rm", String::new()),
        };
        Form {
            name: c.name.clone(),
            lift: spoken(&c.lift),
            start: c.start.to_string(),
            of: of.to_owned(),
            of_reps,
            every: c.every_s.map(|s| clock(f64::from(s))).unwrap_or_default(),
            window: clock(f64::from(c.window_s)),
            weeks: c
                .weeks
                .iter()
                .map(|w| {
                    let kind = w.kind.word().to_owned();
                    if w.kind == WeekKind::Base {
                        return [kind, String::new(), w.reps.to_string(), String::new(), String::new()];
                    }
                    [kind, w.sets.to_string(), w.reps.to_string(), plain(w.low), plain(w.high)]
                })
                .collect(),
        }
    }

    fn read(f: &Fields) -> Form {
        let get = |name: &str| f.get(name).trim().to_owned();
        let column = |name: &str| f.all(name).into_iter().map(|v| v.trim().to_owned()).collect::<Vec<_>>();
        let columns = ["kind", "sets", "reps", "low", "high"].map(column);
        let n = columns.first().map_or(0, Vec::len).min(60);
        let at = |c: &Vec<String>, i: usize| c.get(i).cloned().unwrap_or_default();
        Form {
            name: get("name"),
            lift: get("lift"),
            start: get("start"),
            of: get("of"),
            of_reps: get("of_reps"),
            every: get("every"),
            window: get("window"),
            weeks: (0..n)
                .map(|i| std::array::from_fn(|c| columns.get(c).map(|c| at(c, i)).unwrap_or_default()))
                .collect(),
        }
    }

    /// The cycle, or everything that is wrong.
    fn cycle(&self, held: Vec<NaiveDate>) -> Result<Cycle, Vec<String>> {
        let mut wrong = Vec::new();
        let words: Vec<&str> = self.lift.split_whitespace().collect();
        let lift = match catalogue().find(&words, true) {
            Found::Movement { id, words: n, .. } if n == words.len() => id,
            _ => {
                wrong.push(format!("I do not know the lift “{}”.", self.lift));
                String::new()
            }
        };
        let start = read_day(&self.start, "The start").unwrap_or_else(|words| {
            wrong.push(words);
            NaiveDate::default()
        });
        let time = |text: &str, what: &str, wrong: &mut Vec<String>| match read_clock(text, 60.0) {
            Some(s) => Some(s),
            None if text.is_empty() => None,
            None => {
                wrong.push(format!("{what}: “{text}” is no time. Write, say, 2:30."));
                None
            }
        };
        let every_s = time(&self.every, "Sets start every", &mut wrong);
        let window_s = time(&self.window, "Window of a base week", &mut wrong).unwrap_or(WINDOW_S);
        let of = match self.of.as_str() {
            "training-max" => PercentBase::TrainingMax,
            "rep-max" => match self.of_reps.parse::<u32>().ok().filter(|n| (1..=10).contains(n)) {
                Some(n) => PercentBase::RepMax(n),
                None => {
                    wrong.push("The rep maximum has from 1 to 10 reps.".to_owned());
                    PercentBase::OneRm
                }
            },
            _ => PercentBase::OneRm,
        };
        let mut given = Vec::new();
        for (k, row) in (1..).zip(&self.weeks) {
            match week(row) {
                Ok(Some(g)) => given.push(g),
                Ok(None) => {}
                Err(e) => wrong.push(format!("Week {k}: {e}")),
            }
        }
        let weeks = fill(&given).unwrap_or_else(|e| {
            wrong.push(e);
            Vec::new()
        });
        let cycle = Cycle { name: self.name.clone(), lift, start, of, every_s, window_s, weeks, held };
        if wrong.is_empty() {
            wrong = cycle.check();
        }
        if wrong.is_empty() { Ok(cycle) } else { Err(wrong) }
    }
}

/// A row of the editor; `None` for one that is no week.
fn week([kind, sets, reps, low, high]: &[String; 5]) -> Result<Option<Given>, String> {
    if kind.is_empty() {
        let typed = [sets, reps, low, high].iter().any(|t| !t.is_empty());
        return if typed { Err("choose what the week is for.".to_owned()) } else { Ok(None) };
    }
    if kind == "fill" {
        return Ok(Some(Given::Open));
    }
    let kind = WeekKind::of(kind).ok_or("choose what the week is for.")?;
    let whole = |t: &str, what: &str| t.parse::<u32>().map_err(|_| format!("{what} are a number."));
    let percent = |t: &str| {
        read_number(t.trim_end_matches('%').trim()).ok_or_else(|| "per cents are numbers.".to_owned())
    };
    if kind == WeekKind::Base {
        let reps = if reps.is_empty() { 1 } else { whole(reps, "reps")? };
        return Ok(Some(Given::Week(Week { kind, sets: 1, reps, low: 0.0, high: 0.0 })));
    }
    let low = percent(low)?;
    let high = if high.is_empty() { low } else { percent(high)? };
    Ok(Some(Given::Week(Week { kind, sets: whole(sets, "sets")?, reps: whole(reps, "reps")?, low, high })))
}

fn calendar(
    conn: &mut Connection,
    of: GymId,
    c: &Cycle,
    today: NaiveDate,
) -> Result<Vec<CalendarRow>, WebError> {
    let lifted = lifting::days_of(conn, of, &c.lift, monday(c.start), c.end())?;
    let this = monday(today);
    Ok(c.calendar()
        .into_iter()
        .map(|(day, week)| {
            let days: Vec<String> = lifted
                .iter()
                .filter(|d| monday(**d) == day)
                .map(|d| d.format("%a %-d %b").to_string())
                .collect();
            let held = c.holds(day);
            CalendarRow {
                monday: day.to_string(),
                date: day.format("%-d %b").to_string(),
                week: match week {
                    Some(_) if held => "does not count".to_owned(),
                    Some(k) => format!("week {}", k + 1),
                    None => String::new(),
                },
                says: week.filter(|_| !held).map(|k| c.says(k)).unwrap_or_default(),
                missed: days.is_empty() && day < this && !held,
                lifted: days.join(", "),
                held,
                now: day == this,
            }
        })
        .collect())
}

fn edit(
    frame: Frame,
    at: Option<CycleId>,
    form: Form,
    problems: Vec<String>,
    calendar: Vec<CalendarRow>,
) -> Edit {
    let mut form = form;
    let free = form.weeks.iter().filter(|w| w.iter().all(String::is_empty)).count();
    form.weeks.extend((0..SPARE_ROWS.saturating_sub(free)).map(|_| Default::default()));
    Edit {
        heading: if at.is_some() && !form.name.is_empty() {
            form.name.clone()
        } else {
            "New cycle".to_owned()
        },
        action: at.map_or_else(|| "/cycles/new".to_owned(), |id| format!("/cycles/{id}")),
        id: at.map(|id| id.to_string()).unwrap_or_default(),
        line: format!("{} from the cycle", form.lift),
        frame,
        form,
        problems,
        lifts: LIFTS.iter().map(|l| spoken(l)).collect(),
        kinds: [
            ("", "no week"),
            ("base", "tests the base"),
            ("work", "work"),
            ("fill", "work, filled in"),
            ("deload", "deload"),
        ],
        bases: [
            ("1rm", "the 1RM"),
            ("training-max", "the training maximum"),
            ("rep-max", "a rep maximum of"),
        ],
        calendar,
    }
}

/// `GET /cycles`.
pub async fn list(app: Data<App>, who: Who) -> Page {
    let today = who.now(&app).date();
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let mut rows = Vec::new();
        for (id, c) in cycle::list(conn, who.gym())? {
            let missed = calendar(conn, who.gym(), &c, today)?.iter().filter(|r| r.missed).count();
            let week = c.week_at(today);
            rows.push(Row {
                id: id.to_string(),
                lift: catalogue().name(&c.lift),
                now: match week {
                    Some(k) => format!("week {} of {}", k + 1, c.weeks.len()),
                    None if today < monday(c.start) => "still to come".to_owned(),
                    None => "over".to_owned(),
                },
                says: week.map(|k| c.says(k)).unwrap_or_default(),
                dates: format!("{} to {}", c.start.format("%-d %b"), c.end().format("%-d %b %Y")),
                missed: match missed {
                    0 => String::new(),
                    1 => "1 week nobody lifted".to_owned(),
                    n => format!("{n} weeks nobody lifted"),
                },
                name: c.name,
            });
        }
        Ok(List { frame: Frame::new(&who, &gym, Area::Cycles, "Cycles"), rows })
    })
    .await?;
    html(&page)
}

/// `GET /cycles/new`.
pub async fn new(app: Data<App>, who: Who) -> Page {
    let today = who.now(&app).date();
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let next = monday(today).checked_add_days(Days::new(7)).unwrap_or(today);
        let row = |r: [&str; 5]| r.map(str::to_owned);
        // a shape to start from: test, climb to a heavy week, deload
        let form = Form {
            start: next.to_string(),
            of: "rep-max".to_owned(),
            of_reps: "5".to_owned(),
            every: "2:30".to_owned(),
            window: clock(f64::from(WINDOW_S)),
            weeks: vec![
                row(["base", "", "5", "", ""]),
                row(["work", "5", "5", "75", "80"]),
                row(["fill", "", "", "", ""]),
                row(["fill", "", "", "", ""]),
                row(["work", "5", "3", "85", "90"]),
                row(["deload", "3", "5", "60", "65"]),
            ],
            ..Form::default()
        };
        let frame = Frame::new(&who, &gym, Area::Cycles, "New cycle");
        Ok(edit(frame, None, form, Vec::new(), Vec::new()))
    })
    .await?;
    html(&page)
}

/// `GET /cycles/{id}`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let at = CycleId(id(&path)?);
    let today = who.now(&app).date();
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let c = cycle::find(conn, who.gym(), at)?;
        let weeks = calendar(conn, who.gym(), &c, today)?;
        let frame = Frame::new(&who, &gym, Area::Cycles, &c.name);
        Ok(edit(frame, Some(at), Form::of(&c), Vec::new(), weeks))
    })
    .await?;
    html(&page)
}

/// The cycle that was written, or the form with what is wrong.
type Written = (Option<CycleId>, Option<Edit>);

async fn write(app: Data<App>, change: Change, at: Option<CycleId>) -> Page {
    let key = change.key();
    let form = Form::read(&change.fields);
    let who = change.who;
    let done = once_unless(
        &app,
        key,
        |d: &Written| d.1.is_some(),
        move |conn, _| {
            let gym = gym::find(conn, who.gym())?;
            let held = match at {
                Some(id) => cycle::find(conn, who.gym(), id)?.held,
                None => Vec::new(),
            };
            let c = match form.cycle(held) {
                Ok(c) => c,
                Err(problems) => {
                    let frame = Frame::new(&who, &gym, Area::Cycles, "Cycle");
                    return Ok((at, Some(edit(frame, at, form, problems, Vec::new()))));
                }
            };
            let id = match at {
                Some(id) => {
                    cycle::change(conn, who.gym(), id, &c)?;
                    id
                }
                None => cycle::add(conn, who.gym(), &c)?,
            };
            Ok((Some(id), None))
        },
    )
    .await?;
    match done {
        (_, Some(page)) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
        (Some(id), None) => go(&format!("/cycles/{id}")),
        (None, None) => go("/cycles"),
    }
}

/// `POST /cycles/new`.
pub async fn add(app: Data<App>, change: Change) -> Page {
    write(app, change, None).await
}

/// `POST /cycles/{id}`.
pub async fn change(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let at = CycleId(id(&path)?);
    write(app, change, Some(at)).await
}

/// `POST /cycles/{id}/hold`: a calendar week does not count, or counts after all.
pub async fn hold(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = CycleId(id(&path)?);
    let day = read_day(change.fields.get("week"), "The week").map_err(WebError::Unreadable)?;
    let hold = change.fields.get("as") == "hold";
    let gym = change.who.gym();
    once(&app, key, move |conn, _| {
        let mut c = cycle::find(conn, gym, at)?;
        c.held.retain(|h| monday(*h) != monday(day));
        if hold && day >= monday(c.start) && day <= c.end() {
            c.held.push(monday(day));
            c.held.sort();
        }
        Ok(cycle::change(conn, gym, at, &c)?)
    })
    .await?;
    go(&format!("/cycles/{at}"))
}

/// `POST /cycles/{id}/remove`.
pub async fn remove(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = CycleId(id(&path)?);
    let gym = change.who.gym();
    once(&app, key, move |conn, _| Ok(cycle::remove(conn, gym, at)?)).await?;
    go("/cycles")
}

#[cfg(test)]
mod tests {
    use super::*;

    const FORM: &[u8] = b"name=Autumn&lift=front+squat&start=2026-11-09&of=rep-max&of_reps=5&every=2:30&window=15:00&kind=base&sets=&reps=5&low=&high=&kind=work&sets=5&reps=5&low=70&high=75&kind=fill&sets=&reps=&low=&high=&kind=work&sets=5&reps=3&low=80&high=85&kind=&sets=&reps=&low=&high=";

    #[test]
    fn a_cycle_survives_its_form() {
        let c = Form::read(&Fields::read(FORM).unwrap()).cycle(Vec::new()).unwrap();
        assert_eq!((c.weeks.len(), c.weeks[2].reps, c.weeks[2].low), (4, 4, 75.0));
        assert_eq!(Form::of(&c).cycle(Vec::new()).unwrap(), c);
    }

    #[test]
    fn what_is_wrong_is_said_and_nothing_typed_is_lost() {
        let text = String::from_utf8_lossy(FORM).replace("front+squat", "frunt").replace("low=70", "low=x");
        let form = Form::read(&Fields::read(text.as_bytes()).unwrap());
        let wrong = form.cycle(Vec::new()).unwrap_err().join(" ");
        assert!(wrong.contains("frunt") && wrong.contains("Week 2: per cents are numbers"), "{wrong}");
        assert_eq!(form.weeks[1][3], "x");
    }
}
