//! Members: the list, and everything known about one. Forms come back as they were typed.

use super::{Mark, id};
use crate::app::App;
use crate::day::read_day;
use crate::error::{Page, WebError};
use crate::frame::{Frame, Part, go, html, html_as};
use crate::session::{Change, Fields, Who, blocking, once, once_unless};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::loads::ledger;
use lantern_core::movement::{Found, catalogue, say::spoken};
use lantern_core::pacing::Level;
use lantern_core::pacing::table::{LIFTS, REP_ANCHORS};
use lantern_core::roster::{Best, LIMITS, Max, Member, Trial, doubts, edited, read_limit};
use lantern_core::sheet::{read_clock, read_number};
use lantern_core::units::{Standard, clock, plain};
use lantern_core::versions::say_limit;
use lantern_store::account::Role;
use lantern_store::{Connection, MemberId, StoreError, gym, kit, lifting, roster};
use std::collections::BTreeMap;

/// Rows of lifts, and of best sets, that a form holds.
const MOST_ROWS: usize = 400;
/// Empty rows below the known ones.
const SPARE_ROWS: usize = 3;
const TRIALS: [(&str, &str); 2] = [("row-2000", "2 km row"), ("run-1000", "1 km run")];

#[derive(Template)]
#[template(path = "members/list.html")]
struct List {
    frame: Frame,
    count: String,
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
        let members = roster::list(conn, who.gym())?;
        let gone = |(id, name, on): (MemberId, String, NaiveDate)| {
            (id.to_string(), name, on.format("%-d %B %Y").to_string())
        };
        Ok(List {
            left: roster::left(conn, who.gym())?.into_iter().map(gone).collect(),
            owner: who.sign_in.account.role == Role::Owner,
            frame: Frame::new(&who, &gym, Part::Members, "Members"),
            count: format!("{} in this hall", super::versions::members(members.len())),
            rows: members
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
                    limits: m.limits.iter().map(|l| say_limit(l)).collect::<Vec<_>>().join(", "),
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
}

/// A lift as today's numbers would use it.
struct Use {
    name: String,
    words: String,
    kg: String,
    spread: String,
    since: String,
    mark: Mark,
    old: bool,
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

/// The form's texts, as they are typed.
#[derive(Clone, Default)]
struct Form {
    fields: BTreeMap<&'static str, String>,
    limits: Vec<String>,
    lifts: Vec<[String; 5]>,
    bests: Vec<[String; 3]>,
    /// Time and day of each trial.
    trials: BTreeMap<&'static str, [String; 2]>,
    /// What was known when the form was opened.
    shown: Option<Member>,
}

fn day(d: Option<NaiveDate>) -> String {
    d.map(|d| d.to_string()).unwrap_or_default()
}

impl Form {
    fn of(m: &Member) -> Form {
        let number = |v: Option<f64>| v.map(plain).unwrap_or_default();
        let trial = |t: &&str| {
            let found = m.trials.iter().find(|x| x.test == **t);
            found.map(|x| [clock(x.seconds), day(x.date)]).unwrap_or_default()
        };
        Form {
            fields: [
                ("name", m.name.clone()),
                ("standard", m.standard.word().to_owned()),
                ("level", m.level.word().to_owned()),
                ("mass", number(m.body_mass_kg)),
                ("stature", number(m.stature_cm)),
                ("hooks", m.hooks.map(|h| h.to_string()).unwrap_or_default()),
            ]
            .into_iter()
            .collect(),
            limits: m.limits.clone(),
            lifts: m
                .maxes
                .iter()
                .map(|x| {
                    let reserve = if x.reserve == 0 { String::new() } else { x.reserve.to_string() };
                    [spoken(&x.lift), plain(x.kg), x.reps.to_string(), reserve, day(x.date)]
                })
                .collect(),
            bests: m.unbroken.iter().map(|x| [spoken(&x.movement), plain(x.reps), day(x.date)]).collect(),
            trials: TRIALS.iter().map(|(t, _)| (*t, trial(t))).collect(),
            shown: Some(m.clone()),
        }
    }

    /// What was shown, as the form says it: every trial has one row.
    fn shown(&self) -> Option<Member> {
        let mut m = self.shown.clone()?;
        let mut seen: Vec<String> = Vec::new();
        m.trials.retain(|t| {
            let first = !seen.contains(&t.test);
            seen.push(t.test.clone());
            first
        });
        Some(m)
    }

    fn read(f: &Fields) -> Form {
        let column = |name: &str| f.all(name).into_iter().map(|v| v.trim().to_owned()).collect::<Vec<_>>();
        let at = |v: &[String], i: usize| v.get(i).cloned().unwrap_or_default();
        let (lift, kg, reps, reserve, on) =
            (column("lift"), column("kg"), column("reps"), column("reserve"), column("lift_date"));
        let (best, best_reps, best_on) = (column("best"), column("best_reps"), column("best_date"));
        Form {
            fields: ["name", "standard", "level", "mass", "stature", "hooks"]
                .map(|n| (n, f.get(n).trim().to_owned()))
                .into_iter()
                .collect(),
            limits: f.all("limit").into_iter().map(str::to_owned).collect(),
            lifts: (0..lift.len())
                .map(|i| [at(&lift, i), at(&kg, i), at(&reps, i), at(&reserve, i), at(&on, i)])
                .collect(),
            bests: (0..best.len()).map(|i| [at(&best, i), at(&best_reps, i), at(&best_on, i)]).collect(),
            trials: TRIALS
                .iter()
                .map(|(t, _)| (*t, [f.get(t), f.get(&format!("{t}_date"))].map(|v| v.trim().to_owned())))
                .collect(),
            shown: serde_json::from_str(f.get("shown")).ok(),
        }
    }
}

/// Problems by field and by row.
#[derive(Default)]
struct Wrong {
    fields: BTreeMap<&'static str, String>,
    lifts: BTreeMap<usize, String>,
    bests: BTreeMap<usize, String>,
    trials: BTreeMap<&'static str, String>,
}

impl Wrong {
    fn any(&self) -> bool {
        !(self.fields.is_empty() && self.lifts.is_empty() && self.bests.is_empty() && self.trials.is_empty())
    }
}

fn movement(text: &str) -> Result<String, String> {
    let words: Vec<&str> = text.split_whitespace().collect();
    match catalogue().find(&words, true) {
        Found::Movement { id, words: n, .. } if n == words.len() => Ok(id),
        _ => {
            let near: Vec<String> =
                catalogue().nearest(text, 3).iter().map(|m| catalogue().written(&m.id)).collect();
            let mean =
                if near.is_empty() { String::new() } else { format!(" Did you mean {}?", near.join(", ")) };
            Err(format!("I do not know “{text}”.{mean}"))
        }
    }
}

fn date(text: &str) -> Result<Option<NaiveDate>, String> {
    if text.is_empty() {
        return Ok(None);
    }
    read_day(text, "The day").map(Some)
}

fn lift_row(r: &[String; 5]) -> Result<Max, String> {
    let [lift, kg, reps, reserve, on] = r;
    let number = |t: &str, low: f64, high: f64, what: &str| {
        read_number(t)
            .filter(|v| (low..=high).contains(v))
            .ok_or_else(|| format!("{what} is a number from {} to {}.", plain(low), plain(high)))
    };
    let reps = if reps.is_empty() { 1.0 } else { number(reps, 1.0, 30.0, "The number of reps")? };
    let reserve = if reserve.is_empty() { 0.0 } else { number(reserve, 0.0, 10.0, "The reps left")? };
    let kg = number(kg, 1.0, 500.0, "The load in kg")?;
    Ok(Max { lift: movement(lift)?, kg, reps: reps as u32, reserve: reserve as u32, date: date(on)? })
}

fn best_row(r: &[String; 3]) -> Result<Best, String> {
    let [name, reps, on] = r;
    let reps = read_number(reps)
        .filter(|v| (0.0..=2000.0).contains(v))
        .ok_or("The best set is a number from 0 to 2000.")?;
    Ok(Best { movement: movement(name)?, reps, date: date(on)? })
}

fn check(form: &Form) -> (Member, Wrong) {
    let mut wrong = Wrong::default();
    let text = |n: &str| form.fields.get(n).map_or("", String::as_str);
    let mut m = Member::unknown(text("name"), Standard::Heavier, Level::Regular);
    if !m.name.chars().any(char::is_alphanumeric) {
        wrong.fields.insert("name", "Write a name.".to_owned());
    } else if m.name.chars().count() > 80 {
        wrong.fields.insert("name", "A name has at most 80 letters.".to_owned());
    }
    if text("standard") == "lighter" {
        m.standard = Standard::Lighter;
    }
    m.level = Level::ALL.into_iter().find(|l| l.word() == text("level")).unwrap_or(Level::Regular);
    for (name, low, high, what) in [("mass", 25.0, 250.0, "Body mass"), ("stature", 100.0, 230.0, "Stature")]
    {
        let t = text(name);
        let v = read_number(t).filter(|v| (low..=high).contains(v));
        if !t.is_empty() && v.is_none() {
            wrong.fields.insert(
                name,
                format!("{what} is a number from {} to {}, or empty.", plain(low), plain(high)),
            );
        }
        if name == "mass" { m.body_mass_kg = v } else { m.stature_cm = v }
    }
    let hooks = text("hooks");
    m.hooks = hooks.parse::<u32>().ok().filter(|h| (1..=60).contains(h));
    if !hooks.is_empty() && m.hooks.is_none() {
        wrong.fields.insert("hooks", "The hole of the hooks is a number from 1 to 60, or empty.".to_owned());
    }
    check_rows(form, &mut m, &mut wrong);
    (m, wrong)
}

/// Limits, lifts, best sets and trials of a form.
fn check_rows(form: &Form, m: &mut Member, wrong: &mut Wrong) {
    for limit in &form.limits {
        match read_limit(limit) {
            Ok(known) => m.limits.push(known),
            Err(e) => drop(wrong.fields.insert("limit", e)),
        }
    }
    if form.lifts.len() > MOST_ROWS || form.bests.len() > MOST_ROWS {
        wrong.fields.insert(
            "name",
            format!("A form holds {MOST_ROWS} rows of lifts and of sets. Read a CSV for more."),
        );
    }
    for (i, r) in form.lifts.iter().enumerate().filter(|(_, r)| r.iter().any(|c| !c.is_empty())) {
        match lift_row(r) {
            Ok(x) => m.maxes.push(x),
            Err(e) => drop(wrong.lifts.insert(i, e)),
        }
    }
    for (i, r) in form.bests.iter().enumerate().filter(|(_, r)| r.iter().any(|c| !c.is_empty())) {
        match best_row(r) {
            Ok(x) => m.unbroken.push(x),
            Err(e) => drop(wrong.bests.insert(i, e)),
        }
    }
    for (test, _) in TRIALS {
        let [t, on] = form.trials.get(test).cloned().unwrap_or_default();
        let seconds = read_clock(&t, 60.0).map(f64::from).filter(|s| (60.0..=3600.0).contains(s));
        match (seconds, date(&on)) {
            (Some(seconds), Ok(date)) => m.trials.push(Trial { test: test.to_owned(), seconds, date }),
            (Some(_), Err(e)) => drop(wrong.trials.insert(test, e)),
            (None, _) if t.is_empty() => {}
            (None, _) => drop(wrong.trials.insert(test, "Write the time as 7:45.".to_owned())),
        }
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
        frame,
        action: at.map_or_else(|| "/members/new".to_owned(), |id| format!("/members/{id}")),
        leave: at.map(|id| format!("/members/{id}/leave")).unwrap_or_default(),
        shown: form.shown.as_ref().and_then(|m| serde_json::to_string(m).ok()).unwrap_or_default(),
        top_problem: if wrong.any() && top_problem.is_empty() {
            "Nothing was saved yet: mend what is marked below.".to_owned()
        } else {
            top_problem.to_owned()
        },
        limits: LIMITS.iter().map(|l| (*l, say_limit(l), form.limits.iter().any(|x| x == l))).collect(),
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
        let frame = Frame::new(&who, &gym, Part::Members, "New member");
        Ok(edit(frame, None, &form, Wrong::default(), "", Vec::new()))
    })
    .await?;
    html(&page)
}

fn uses(
    conn: &mut Connection,
    who: &Who,
    gym: &gym::Gym,
    id: MemberId,
    m: &Member,
    today: NaiveDate,
) -> Result<Vec<Use>, WebError> {
    let kit = kit::find(conn, who.gym())?;
    let logged = lifting::movements(conn, who.gym(), id)?;
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
    let today = (app.now)().date();
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let m = roster::find(conn, who.gym(), member)?;
        let uses = uses(conn, &who, &gym, member, &m, today)?;
        let unit = kit::find(conn, who.gym())?.unit;
        let frame = Frame::new(&who, &gym, Part::Members, &m.name);
        let mut page = edit(frame, Some(&member.to_string()), &Form::of(&m), Wrong::default(), "", uses);
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
        let frame = Frame::new(&who, &gym, Part::Members, "Member");
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

/// `POST /members/{id}/leave`: out of the roster and of classes to come; what they did stays.
pub async fn leave(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let member = MemberId(id(&path)?);
    let (gym, now) = (change.who.gym(), (app.now)());
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
    if change.who.sign_in.account.role != Role::Owner {
        return Err(WebError::NotAllowed);
    }
    let (gym, today) = (change.who.gym(), (app.now)().date());
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn bad_figures_are_answered_at_their_field_and_nothing_typed_is_lost() {
        let f = Fields::read(b"name=&mass=fat&lift=frnt+squat&kg=80&reps=1&reserve=&lift_date=&best=pull-up&best_reps=9&best_date=&row-2000=soon").unwrap();
        let form = Form::read(&f);
        let (_, wrong) = check(&form);
        assert_eq!(wrong.fields.keys().copied().collect::<Vec<_>>(), ["mass", "name"]);
        assert!(wrong.lifts[&0].contains("Did you mean front squat"), "{:?}", wrong.lifts);
        assert!(wrong.bests.is_empty() && wrong.trials.contains_key("row-2000"));
        assert_eq!((form.lifts[0][0].as_str(), form.fields["mass"].as_str()), ("frnt squat", "fat"));
    }

    #[test]
    fn a_whole_member_survives_the_form() {
        let mut m = Member::unknown("Ada", Standard::Lighter, Level::Seasoned);
        m.maxes.push(Max {
            lift: "front-squat".into(),
            kg: 82.5,
            reps: 3,
            reserve: 1,
            date: NaiveDate::from_ymd_opt(2026, 9, 1),
        });
        m.unbroken.push(Best { movement: "toes-to-bar".into(), reps: 12.0, date: None });
        m.trials.push(Trial {
            test: "row-2000".into(),
            seconds: 478.0,
            date: NaiveDate::from_ymd_opt(2026, 3, 1),
        });
        m.limits.push("knee".into());
        m.hooks = Some(9);
        let (again, wrong) = check(&Form::of(&m));
        assert!(!wrong.any());
        assert_eq!(again, m_named(&m, &again));
    }

    fn m_named(m: &Member, like: &Member) -> Member {
        Member { id: like.id.clone(), ..m.clone() }
    }
}
