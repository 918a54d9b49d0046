//! The rack's own view, for a tablet beside it: whose turn it is, what to put on, sets ticked off.

use super::view::attempts;
use crate::app::App;
use crate::class_page::{ClassPage, blocks_of, load, planned};
use crate::draw::stack::{stack, words};
use crate::error::{Page, WebError};
use crate::frame::{go, html, html_as};
use crate::pages::{block_of, id};
use crate::session::{Change, Theme, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use chrono::{DateTime, Utc};
use lantern_core::loads::{Attempt, Bars, SetLoad};
use lantern_core::movement::catalogue;
use lantern_core::plan::{LiftPlan, RackState, lifter_state, rack_state};
use lantern_core::sheet::read_number;
use lantern_core::units::clock;
use lantern_store::lifting::{LiftedSet, Place, last_at, log, take_back};
use lantern_store::{ClassId, MemberId};
use serde::Deserialize;
use std::collections::HashMap;

#[derive(Template)]
#[template(path = "plan/rack.html")]
struct RackPage {
    theme: Theme,
    single_keys: bool,
    account: String,
    base: String,
    csrf: String,
    /// The save of the sheet that it was made from.
    seen: i32,
    session: String,
    number: usize,
    others: Vec<(usize, bool)>,
    lifts: Vec<(String, String, bool)>,
    at: String,
    name: String,
    what: String,
    heavy: bool,
    turn: Option<Turn>,
    finished: String,
    rows: Vec<Row>,
    problem: String,
    typed: (String, String),
    unit: &'static str,
    /// ms since 1970.
    now: i64,
}

struct Turn {
    id: String,
    name: String,
    number: u32,
    of: String,
    reps: u32,
    kg: String,
    kg_value: String,
    stack: String,
    plates: String,
    change: String,
    why: String,
    tempo: String,
}

struct Row {
    id: String,
    name: String,
    done: Vec<String>,
    next: String,
    why: String,
    turn: bool,
    last_number: u32,
    /// When their rest is over, ms since 1970; none before their first set and after their last.
    rested: Option<i64>,
}

/// Which lift of the session: `block-position`.
#[derive(Deserialize, Default)]
pub struct At {
    at: Option<String>,
}

fn read_at(text: &str) -> Option<(usize, usize)> {
    let (b, l) = text.split_once('-')?;
    Some((b.parse().ok()?, l.parse().ok()?))
}

/// Lifts that are lifted at a rack: (block, position, plan).
fn racked(page: &ClassPage) -> Vec<(usize, usize, &LiftPlan)> {
    page.plan
        .strength
        .iter()
        .flat_map(|s| s.lifts.iter().enumerate().map(move |(i, l)| (s.block, i, l)))
        .filter(|(.., l)| !l.racks.racks.is_empty())
        .collect()
}

fn said(page: &ClassPage, a: &Attempt) -> String {
    let left = a.reserve.map(|r| format!(" ({r} left)")).unwrap_or_default();
    if a.missed {
        format!("{} missed", page.kit.mark(a.kg))
    } else {
        format!("{}{left}", page.kit.mark(a.kg))
    }
}

fn turn(page: &ClassPage, lift: &LiftPlan, state: &RackState) -> Option<Turn> {
    let l = state.lifters.get(state.turn?)?;
    let (m, own) = (page.plan.members.get(l.member)?, lift.of(l.member)?);
    let s: &SetLoad = l.next.as_ref()?;
    let side = |plates: &[f64]| plates.iter().map(|p| page.kit.mark(*p)).collect::<Vec<_>>().join(" + ");
    let (off, on) = &state.change;
    let begun = state.lifters.iter().any(|l| !l.done.is_empty());
    let change = match (off.is_empty(), on.is_empty()) {
        (true, true) if begun => "the bar stays as it is".to_owned(),
        (true, true) => String::new(),
        (true, false) => format!("each side put {} on", side(on)),
        (false, true) => format!("each side take {} off", side(off)),
        (false, false) => format!("each side take {} off, put {} on", side(off), side(on)),
    };
    let planned = own.working().count();
    Some(Turn {
        id: m.id.clone(),
        name: m.name.clone(),
        number: l.number,
        of: match lift.heavy {
            // a day's maximum may take more sets than were planned for it
            Some(_) if l.number as usize > planned => String::new(),
            Some(_) => format!(" of about {planned}"),
            None => format!(" of {planned}"),
        },
        reps: s.reps,
        kg: page.kit.mark(s.load_kg),
        kg_value: format!("{}", s.load_kg),
        stack: stack(&s.per_side_kg, &page.kit),
        plates: words(&s.per_side_kg, &page.kit),
        change,
        why: l.why.clone(),
        tempo: own.tempo.map(|t| format!("tempo {}", t.words())).unwrap_or_default(),
    })
}

/// When members' last sets were logged.
type LastSets = HashMap<(MemberId, u32, u32), DateTime<Utc>>;

/// When a member's rest after their last set of a lift is over, ms since 1970.
fn rested(
    page: &ClassPage,
    last: &LastSets,
    (block, position): (usize, usize),
    member: &str,
    lift: &LiftPlan,
) -> Option<i64> {
    let of = (member.parse().ok()?, page.blocks.id(block)?, u32::try_from(position).ok()?);
    // in a superset the other lift is done meanwhile
    let superset = page.plan.strength.iter().any(|s| s.block == block && s.superset);
    let rest_ms = (1000.0 * lift.rest_s().filter(|_| !superset)?) as i64;
    last.get(&of).map(|at| at.timestamp_millis() + rest_ms)
}

/// What was typed and is wrong: kilograms, reps, the problem.
#[derive(Default)]
struct Typed {
    kg: String,
    reps: String,
    problem: String,
}

#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn view(
    page: &ClassPage,
    who: &Who,
    (lifted, last): (&[LiftedSet], &LastSets),
    rack: usize,
    at: Option<(usize, usize)>,
    typed: Typed,
) -> Result<RackPage, WebError> {
    let all = racked(page);
    let bars = Bars::of(&page.kit);
    let state_of = |b: usize, i: usize, l: &LiftPlan| {
        rack_state(l, rack, &page.plan.members, &bars, |m| {
            page.plan.members.get(m).map(|m| attempts(lifted, b, i, &m.id)).unwrap_or_default()
        })
    };
    // the lift that was asked for, else the first that is not finished here
    let chosen = at
        .and_then(|at| all.iter().find(|(b, i, _)| (*b, *i) == at))
        .or_else(|| all.iter().find(|(b, i, l)| state_of(*b, *i, l).is_some_and(|s| s.turn.is_some())))
        .or(all.first())
        .copied();
    let (block, position, lift) = chosen.ok_or(WebError::NoPage)?;
    let state = state_of(block, position, lift).ok_or(WebError::NoPage)?;
    let turn = turn(page, lift, &state);
    let every = lift.sets.every_s.map(|e| format!("every {}", clock(f64::from(e)))).unwrap_or_default();
    let what = match &lift.heavy {
        Some(h) => format!("to a {}RM in {}", h.build.reps, clock(f64::from(h.window_s))),
        None => format!("{} sets {every}", lift.sets.reps.len()),
    };
    Ok(RackPage {
        theme: who.theme,
        single_keys: who.sign_in.single_keys,
        account: who.account().to_string(),
        base: page.base(),
        csrf: who.sign_in.csrf.clone(),
        seen: page.session.version,
        session: page.name(),
        number: rack + 1,
        others: (0..lift.racks.racks.len()).map(|r| (r + 1, r == rack)).collect(),
        lifts: all
            .iter()
            .map(|(b, i, l)| (format!("{b}-{i}"), catalogue().name(l.id()), (*b, *i) == (block, position)))
            .collect(),
        at: format!("{block}-{position}"),
        name: catalogue().name(lift.id()),
        what,
        heavy: lift.heavy.is_some(),
        finished: if turn.is_none() {
            "Everybody at this rack is done. Strip the bar.".to_owned()
        } else {
            String::new()
        },
        rows: state
            .lifters
            .iter()
            .enumerate()
            .filter_map(|(n, l)| {
                let m = page.plan.members.get(l.member)?;
                Some(Row {
                    id: m.id.clone(),
                    name: m.name.clone(),
                    done: l.done.iter().map(|a| said(page, a)).collect(),
                    next: l.next.as_ref().map(|s| page.kit.mark(s.load_kg)).unwrap_or_default(),
                    why: if l.next.is_none() { l.why.clone() } else { String::new() },
                    turn: state.turn == Some(n),
                    last_number: l.done.len() as u32,
                    rested: l.next.as_ref().and_then(|_| rested(page, last, (block, position), &m.id, lift)),
                })
            })
            .collect(),
        turn,
        problem: typed.problem,
        typed: (typed.kg, typed.reps),
        now: Utc::now().timestamp_millis(),
        unit: page.kit.unit_word(),
    })
}

/// `GET /classes/{id}/rack/{n}`.
pub async fn show(app: Data<App>, who: Who, path: Path<(String, usize)>, at: Query<At>) -> Page {
    let (class, number) = path.into_inner();
    let class = ClassId(id(&class)?);
    let rack = number.checked_sub(1).ok_or(WebError::NoPage)?;
    let at = at.at.as_deref().and_then(read_at);
    let page = planned(&app, who.gym(), class).await?;
    let page = blocking(&app, move |conn, _| {
        let lifted = page.lifted(conn)?;
        let last = last_at(conn, who.gym(), class)?;
        view(&page, &who, (&lifted, &last), rack, at, Typed::default())
    })
    .await?;
    html(&page)
}

/// The set of a form; what is wrong in words.
fn read_set(
    page: &ClassPage,
    lift: &LiftPlan,
    member: usize,
    done: &[Attempt],
    f: &crate::session::Fields,
) -> Result<(String, Attempt), String> {
    let own = lift.of(member).ok_or("This member does not lift here.")?;
    let m = page.plan.members.get(member).ok_or("This member is not booked.")?;
    let bars = Bars::of(&page.kit);
    let next = lifter_state(lift, member, m, &bars, done).and_then(|s| s.next);
    let kg = match f.get("kg").trim() {
        "" => read_number(f.get("planned")).filter(|v| (0.0..=600.0).contains(v)),
        typed => read_number(typed).map(|v| page.kit.kg_of(v)).filter(|v| (1.0..=600.0).contains(v)),
    }
    .ok_or("Write the weight as a number, say 42.5.")?;
    let written = next.map_or(1, |s| s.reps);
    let missed = f.get("went") == "missed";
    let reps = match f.get("reps").trim() {
        "" if missed => written.saturating_sub(1),
        "" => written,
        typed => typed.parse().ok().filter(|n| *n <= 200).ok_or("Reps are a number from 0 to 200.")?,
    };
    let reserve = match f.get("went") {
        "missed" | "done" => None,
        n => Some(n.parse::<u32>().ok().filter(|n| *n <= 10).ok_or("Reps left are a number from 0 to 10.")?),
    };
    Ok((own.lift.clone(), Attempt { kg: (kg * 100.0).round() / 100.0, reps, reserve, missed }))
}

/// `POST /classes/{id}/rack/{n}`: a set as it went, or one taken back.
pub async fn change(app: Data<App>, change: Change, path: Path<(String, usize)>) -> Page {
    let key = change.key();
    let (class, number) = path.into_inner();
    let class = ClassId(id(&class)?);
    let rack = number.checked_sub(1).ok_or(WebError::NoPage)?;
    let block = block_of(&change)?;
    let position = change.fields.get("lift").parse::<usize>().map_err(|_| WebError::NoPage)?;
    let member = MemberId(id(change.fields.get("member"))?);
    let who = change.who.clone();
    planned(&app, who.gym(), class).await?;
    let wrong = once(&app, key, move |conn, app| {
        let f = &change.fields;
        let page = load(conn, app, who.gym(), class)?;
        let lifted = page.lifted(conn)?;
        let lift = racked(&page)
            .into_iter()
            .find(|(b, i, _)| (*b, *i) == (block, position))
            .map(|(.., l)| l)
            .ok_or(WebError::NoPage)?;
        let i = page.plan.members.iter().position(|m| m.id == member.to_string()).ok_or(WebError::NoPage)?;
        let done = attempts(&lifted, block, position, &member.to_string());
        let kept = blocks_of(conn, who.gym(), class, change.seen())?.id(block).ok_or(WebError::NoPage)?;
        let place = |number: usize| Place {
            member,
            block: kept,
            lift: u32::try_from(position).unwrap_or(0),
            number: u32::try_from(number).unwrap_or(0),
        };
        if f.get("went") == "back" {
            take_back(conn, who.gym(), class, place(done.len()))?;
            return Ok(None);
        }
        // a second tap on the same set changes nothing
        if f.get("number").parse::<usize>().ok() != Some(done.len() + 1) {
            return Ok(None);
        }
        match read_set(&page, lift, i, &done, f) {
            Ok((movement, went)) => {
                log(conn, who.gym(), class, &LiftedSet { place: place(done.len() + 1), movement, went })?;
                Ok(None)
            }
            Err(problem) => {
                let typed = Typed {
                    kg: f.get("kg").to_owned(),
                    reps: f.get("reps").to_owned(),
                    problem: problem.clone(),
                };
                let last = last_at(conn, who.gym(), class)?;
                view(&page, &who, (&lifted, &last), rack, Some((block, position)), typed).map(Some)
            }
        }
    })
    .await?;
    match wrong {
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
        None => go(&format!("/classes/{class}/rack/{number}?at={block}-{position}")),
    }
}
