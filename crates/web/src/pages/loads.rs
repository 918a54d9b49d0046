//! Strength loads by rack: one line a member, one column a change of weight.

use super::{CautionView, Mark, cautions, decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, load as load_class};
use crate::draw::stack::{stack, words};
use crate::error::{Page, WebError};
use crate::frame::{Frame, html};
use crate::session::{Change, Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::loads::MemberLift;
use lantern_core::movement::say::spoken;
use lantern_core::plan::{Decision, LiftPlan, StrengthPlan};
use lantern_core::units::{clock, plain};
use lantern_store::ClassId;

#[derive(Template)]
#[template(path = "plan/loads.html")]
struct LoadsPage {
    frame: Frame,
    base: String,
    lead: String,
    undo: usize,
    lifts: Vec<Lift>,
    cautions: Vec<CautionView>,
    defers: &'static str,
}

struct Lift {
    block: usize,
    name: String,
    what: String,
    open: Vec<String>,
    base_head: String,
    columns: Vec<String>,
    racks: Vec<Rack>,
    moves: String,
}

struct Rack {
    name: String,
    says: Vec<String>,
    span: usize,
    rows: Vec<Row>,
}

struct Row {
    id: String,
    name: String,
    lift: String,
    base: String,
    base_kg: String,
    mark: Mark,
    ramp: String,
    sets: Vec<Set>,
    says: Vec<String>,
    lit: bool,
    last: bool,
}

struct Set {
    kg: String,
    percent: String,
    same: bool,
    stack: String,
    plates: String,
}

/// Sets at which any member's weight changes: the columns of the table.
fn changes(lift: &LiftPlan) -> Vec<usize> {
    let n = lift.sets.reps.len();
    (0..n)
        .filter(|i| {
            *i == 0
                || lift.members.iter().any(|(_, l)| {
                    let kg = |k: usize| l.working().nth(k).map(|s| s.load_kg);
                    kg(*i) != kg(i - 1)
                })
        })
        .collect()
}

fn column_names(at: &[usize], n: usize) -> Vec<String> {
    at.iter()
        .enumerate()
        .map(|(c, from)| {
            let to = at.get(c + 1).copied().unwrap_or(n);
            match to - from {
                1 => format!("Set {}", from + 1),
                _ => format!("Sets {} to {to}", from + 1),
            }
        })
        .collect()
}

fn sets(l: &MemberLift, at: &[usize]) -> Vec<Set> {
    let mut before: Option<f64> = None;
    at.iter()
        .map(|i| {
            let Some(s) = l.working().nth(*i) else {
                return Set {
                    kg: String::new(),
                    percent: String::new(),
                    same: false,
                    stack: String::new(),
                    plates: String::new(),
                };
            };
            let same = before == Some(s.load_kg);
            before = Some(s.load_kg);
            let barred = s.bar_kg > 0.0;
            Set {
                kg: plain(s.load_kg),
                percent: s.percent.map(|p| format!("{p:.1} %")).unwrap_or_default(),
                same,
                stack: if barred && !same { stack(&s.per_side_kg) } else { String::new() },
                plates: if barred { words(&s.per_side_kg) } else { "each".to_owned() },
            }
        })
        .collect()
}

fn row(page: &ClassPage, lift: &LiftPlan, i: usize, at: &[usize]) -> Option<Row> {
    let (m, l) = (page.plan.members.get(i)?, lift.of(i)?);
    let ramp: Vec<String> = l.sets.iter().filter(|s| s.warm_up).map(|s| plain(s.load_kg)).collect();
    let other = Some(l.lift.as_str()) != lift.sets.movement.id();
    Some(Row {
        id: m.id.clone(),
        name: m.name.clone(),
        lift: if other { spoken(&l.lift) } else { String::new() },
        base: l.base.words.clone(),
        base_kg: format!("{:.1}", l.base.kg),
        mark: Mark::of(l.base.provenance),
        ramp: ramp.join(" · "),
        sets: sets(l, at),
        says: l.reasons.iter().chain(&l.open).cloned().collect(),
        lit: !l.open.is_empty(),
        last: false,
    })
}

fn rack(name: String, says: Vec<String>, mut rows: Vec<Row>) -> Rack {
    if let Some(last) = rows.last_mut() {
        last.last = true;
    }
    let span = rows.iter().map(|r| 1 + usize::from(!r.says.is_empty())).sum();
    Rack { name, says, span, rows }
}

fn lift_view(page: &ClassPage, s: &StrengthPlan, lift: &LiftPlan) -> Lift {
    let at = changes(lift);
    let reps = lift.sets.reps.iter().copied().max().unwrap_or(0);
    let turn = lift.time.turn_s;
    let mut racks: Vec<Rack> = lift
        .racks
        .racks
        .iter()
        .enumerate()
        .map(|(n, r)| {
            let rows: Vec<Row> = r.members.iter().filter_map(|i| row(page, lift, *i, &at)).collect();
            let bar = r.members.first().and_then(|i| lift.of(*i)).map_or(0.0, MemberLift::bar_kg);
            let says = vec![
                format!("{} kg bar", plain(bar)),
                format!("{} × {} = {}", r.members.len(), clock(turn), clock(turn * r.members.len() as f64)),
                format!("{} plates moved", r.moves),
            ];
            rack(format!("Rack {}", n + 1), says, rows)
        })
        .collect();
    let off: Vec<Row> = lift
        .members
        .iter()
        .filter(|(_, l)| l.bar_kg() <= 0.0)
        .filter_map(|(i, _)| row(page, lift, *i, &at))
        .collect();
    if !off.is_empty() {
        racks.push(rack("Off the rack".to_owned(), vec!["no bar".to_owned()], off));
    }
    let id = lift.sets.movement.id().unwrap_or("");
    let every = lift.sets.every_s.map(|e| format!(" every {}", clock(f64::from(e)))).unwrap_or_default();
    let percent = lift.sets.percent.as_ref().map(|p| {
        let list: Vec<String> = p.values.iter().map(|v| plain(*v)).collect();
        format!(" at {} %", list.join(if p.band { " to " } else { ", " }))
    });
    let n = lift.sets.reps.len();
    let saved = lift.racks.moves_in_list_order.saturating_sub(lift.racks.moves);
    Lift {
        block: s.block,
        name: lantern_core::movement::catalogue().name(id),
        what: format!("{n} sets of {reps}{every}{}", percent.unwrap_or_else(|| ", by feel".to_owned())),
        open: s.open.clone(),
        base_head: "100 %, kg".to_owned(),
        columns: column_names(&at, n),
        racks,
        moves: format!(
            "{} plate moves in all; racked in the order of sign-up it would be {} more.",
            lift.racks.moves, saved
        ),
    }
}

/// `GET /classes/{id}/loads`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = blocking(&app, move |conn, app| {
        let page = load_class(conn, app, who.gym(), class)?;
        let lifts: Vec<Lift> =
            page.plan.strength.iter().flat_map(|s| s.lifts.iter().map(|l| lift_view(&page, s, l))).collect();
        let total: u32 = page.plan.strength.iter().map(|s| s.length_s).sum();
        Ok(LoadsPage {
            frame: page.frame(&who, "loads"),
            base: page.base(),
            lead: if lifts.is_empty() {
                String::new()
            } else {
                format!(
                    "Nearest weight your plates can build. {} with the build-up.",
                    clock(f64::from(total))
                )
            },
            undo: page.decisions.len(),
            cautions: cautions(&page, |b| page.plan.strength.iter().any(|s| Some(s.block) == b)),
            lifts,
            defers: lantern_core::cautions::DEFERS,
        })
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/load`.
pub async fn load(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let f = &change.fields;
    let by_kg = f.get("by").parse::<f64>().ok().filter(|v| v.is_finite() && v.abs() <= 50.0);
    let block = f.get("block").parse::<usize>().ok();
    let (Some(by_kg), Some(block)) = (by_kg, block) else {
        return Err(WebError::Unreadable("a change of load is a number of kilograms up to 50".to_owned()));
    };
    let member = id(f.get("member"))?.to_string();
    decide(app, change, &path, Decision::Load { block, member, by_kg }, "loads").await
}
