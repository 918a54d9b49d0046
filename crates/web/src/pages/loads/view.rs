//! A lift as the loads page shows it.

use crate::class_page::ClassPage;
use crate::draw::stack::{change, stack, words};
use crate::error::WebError;
use crate::pages::Mark;
use lantern_core::kinds::Gear;
use lantern_core::loads::{Attempt, Fit, MemberLift, one_rep_max};
use lantern_core::movement::{catalogue, say::spoken};
use lantern_core::plan::{LiftPlan, StrengthPlan, lifter_state, new_base};
use lantern_core::sheet::LiftSets;
use lantern_core::units::clock;
use lantern_store::lifting::{Lifted, LiftedSet, history};
use lantern_store::{Connection, MemberId};
use std::collections::HashMap;

pub(super) struct Lift {
    pub block: usize,
    pub lift: usize,
    pub name: String,
    /// At most two, as they are said.
    pub cues: Vec<String>,
    pub what: String,
    pub cycle: String,
    pub open: Vec<String>,
    pub offers: Vec<(String, String)>,
    /// The way that was chosen, when it is not the sheet's.
    pub fit: String,
    pub columns: Vec<String>,
    pub racks: Vec<Rack>,
    pub moves: String,
    /// Somebody lifted it before.
    pub before: bool,
    /// Somebody builds up to the work.
    pub ramp: bool,
    /// The day's maxima, for a build.
    pub heavy: Option<Heavy>,
    pub can_move: bool,
}

pub(super) struct Rack {
    pub number: Option<usize>,
    pub name: String,
    pub says: Vec<String>,
    pub span: usize,
    pub rows: Vec<Row>,
}

pub(super) struct Row {
    pub id: String,
    pub name: String,
    pub lift: String,
    pub base: String,
    pub base_kg: String,
    pub mark: Mark,
    pub before: String,
    pub before_says: String,
    /// Reps and what was left, beside the weight.
    pub before_went: String,
    pub ramp: String,
    pub sets: Vec<Set>,
    pub says: Vec<String>,
    pub lit: bool,
    pub last: bool,
    /// Rack before and after this one, from 0, where there is one.
    pub up: Option<usize>,
    pub down: Option<usize>,
    pub done: String,
}

pub(super) struct Set {
    pub kg: String,
    pub percent: String,
    pub same: bool,
    pub stack: String,
    pub plates: String,
}

pub(super) struct Heavy {
    pub rule: String,
    pub rows: Vec<HeavyRow>,
    pub open: usize,
}

pub(super) struct HeavyRow {
    pub id: String,
    pub name: String,
    pub sets: String,
    pub best: String,
    pub next: String,
    pub why: String,
    /// What the base would be, in words; empty without a finished set.
    pub base: String,
    pub kept: bool,
}

/// What members lifted of a lift before this class.
pub(super) type Before = HashMap<(MemberId, String), Lifted>;

pub(super) fn before(conn: &mut Connection, page: &ClassPage, lift: &LiftPlan) -> Result<Before, WebError> {
    let mut by_lift: HashMap<&str, Vec<MemberId>> = HashMap::new();
    for (i, l) in &lift.members {
        if let Some(id) = page.plan.members.get(*i).and_then(|m| m.id.parse().ok()) {
            by_lift.entry(&l.lift).or_default().push(id);
        }
    }
    let mut out = HashMap::new();
    for (movement, members) in by_lift {
        let all = history(conn, page.gym.id, &members, movement, page.class.starts_at)?;
        for (member, mut days) in all {
            out.extend(days.pop().map(|d| ((member, movement.to_owned()), d)));
        }
    }
    Ok(out)
}

/// Sets of a member as they went.
pub(crate) fn attempts(lifted: &[LiftedSet], block: usize, lift: usize, member: &str) -> Vec<Attempt> {
    lifted
        .iter()
        .filter(|s| (s.place.block as usize, s.place.lift as usize) == (block, lift))
        .filter(|s| s.place.member.to_string() == member)
        .map(|s| s.went)
        .collect()
}

/// Sets at which any member's weight changes: the columns of the table.
fn changes(lift: &LiftPlan) -> Vec<usize> {
    let n = lift.members.iter().map(|(_, l)| l.working().count()).max().unwrap_or(0);
    (0..n)
        .filter(|i| {
            *i == 0
                || lift.members.iter().any(|(_, l)| {
                    let of = |k: usize| l.working().nth(k).map(|s| (s.load_kg, s.reps));
                    of(*i) != of(i - 1)
                })
        })
        .collect()
}

fn column_names(at: &[usize], lift: &LiftPlan) -> Vec<String> {
    let n = lift.sets.reps.len();
    let reps = |i: usize| lift.sets.reps.get(i).copied().unwrap_or(0);
    let mixed = !lift.sets.even();
    at.iter()
        .enumerate()
        .map(|(c, from)| {
            let to = at.get(c + 1).copied().unwrap_or(n);
            let of = if mixed { format!(" × {}", reps(*from)) } else { String::new() };
            match to.saturating_sub(*from) {
                0 | 1 => format!("Set {}{of}", from + 1),
                _ => format!("Sets {} to {to}{of}", from + 1),
            }
        })
        .collect()
}

fn sets(page: &ClassPage, l: &MemberLift, at: &[usize], every_stack: bool) -> Vec<Set> {
    let kit = &page.kit;
    let mut before: Option<(f64, u32, Vec<f64>)> = None;
    let first_reps = l.working().next().map(|s| s.reps);
    let own_reps = l.working().any(|s| Some(s.reps) != first_reps);
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
            let same = before.as_ref().is_some_and(|b| b.0 == s.load_kg && b.1 == s.reps);
            let barred = s.bar_kg > 0.0;
            let more = before.as_ref().map(|b| change(&b.2, &s.per_side_kg, kit)).unwrap_or_default();
            let first = before.is_none();
            before = Some((s.load_kg, s.reps, s.per_side_kg.clone()));
            Set {
                kg: match (s.load_kg > 0.0, s.reps) {
                    (true, _) => kit.mark(s.load_kg),
                    (false, 0) => "max".to_owned(),
                    (false, n) => n.to_string(),
                },
                percent: s.percent.map(|p| format!("{p:.1} %")).unwrap_or_default(),
                same,
                stack: if barred && !same && (first || every_stack) {
                    stack(&s.per_side_kg, kit)
                } else {
                    String::new()
                },
                plates: match (barred, s.load_kg > 0.0) {
                    (true, _) if !first && !more.is_empty() => more,
                    (true, _) => words(&s.per_side_kg, kit),
                    (false, true) if own_reps => format!("each × {}", s.reps),
                    (false, true) => "each".to_owned(),
                    (false, false) => "reps".to_owned(),
                },
            }
        })
        .collect()
}

fn went_words(a: &Attempt) -> String {
    let missed = if a.missed { " missed" } else { "" };
    let left = a.reserve.map(|r| format!(", {r} left")).unwrap_or_default();
    format!("× {}{missed}{left}", a.reps)
}

fn attempt_words(page: &ClassPage, a: &Attempt) -> String {
    format!("{} {}", page.kit.mark(a.kg), went_words(a))
}

struct Here<'a> {
    page: &'a ClassPage,
    lift: &'a LiftPlan,
    at: Vec<usize>,
    block: usize,
    position: usize,
    lifted: &'a [LiftedSet],
    before: &'a Before,
}

/// What a member does, where it is not the block's: another lift, a level's own sets.
fn label(l: &MemberLift, of: &str) -> String {
    let other = (l.lift != of).then(|| spoken(&l.lift));
    let sets = l.form.as_ref().map(|f| match (f.even(), f.most_reps()) {
        (true, n) if n > 0 => format!("{} × {n}", f.reps.len()),
        _ => format!("{} sets", f.reps.len()),
    });
    other.into_iter().chain(sets).collect::<Vec<_>>().join(", ")
}

fn row(h: &Here, i: usize, rack: Option<usize>) -> Option<Row> {
    let (m, l) = (h.page.plan.members.get(i)?, h.lift.of(i)?);
    let ramp: Vec<String> = l.sets.iter().filter(|s| s.warm_up).map(|s| h.page.kit.mark(s.load_kg)).collect();
    let before = m.id.parse().ok().and_then(|id: MemberId| h.before.get(&(id, l.lift.clone())));
    let done = attempts(h.lifted, h.block, h.position, &m.id).len();
    let all = l.working().count();
    let racks = h.page.kit.count(Gear::Rack).max(h.lift.racks.racks.len() as u32) as usize;
    Some(Row {
        id: m.id.clone(),
        name: m.name.clone(),
        lift: label(l, h.lift.id()),
        base: l.base.words.clone(),
        base_kg: if l.loadable() {
            h.page.kit.mark((l.base.kg * 10.0).round() / 10.0)
        } else {
            String::new()
        },
        mark: Mark::of(l.base.provenance),
        before: before.map(|b| h.page.kit.mark(b.went.kg)).unwrap_or_default(),
        before_says: before
            .map(|b| format!("{}, {}", attempt_words(h.page, &b.went), b.date.format("%-d %b")))
            .unwrap_or_default(),
        before_went: before.map(|b| went_words(&b.went)).unwrap_or_default(),
        ramp: ramp.join(" · "),
        sets: sets(h.page, l, &h.at, h.at.len() <= 3),
        says: l.says(h.page.kit.unit),
        lit: !l.open.is_empty(),
        last: false,
        up: rack.and_then(|r| r.checked_sub(1)),
        down: rack.map(|r| r + 1).filter(|r| *r < racks),
        done: if done > 0 { format!("{done} of {} done", all.max(done)) } else { String::new() },
    })
}

fn rack(number: Option<usize>, name: String, says: Vec<String>, mut rows: Vec<Row>) -> Rack {
    if let Some(last) = rows.last_mut() {
        last.last = true;
    }
    let span = rows.iter().map(|r| 1 + usize::from(!r.says.is_empty())).sum::<usize>().max(1);
    Rack { number, name, says, span, rows }
}

fn racks(h: &Here) -> Vec<Rack> {
    let turn = h.lift.time.turn_s;
    let mut out: Vec<Rack> = h
        .lift
        .racks
        .racks
        .iter()
        .enumerate()
        .map(|(n, r)| {
            let rows: Vec<Row> = r.members.iter().filter_map(|i| row(h, *i, Some(n))).collect();
            let mut bars: Vec<String> = r
                .members
                .iter()
                .filter_map(|i| h.lift.of(*i))
                .map(|l| h.page.kit.mark(MemberLift::bar_kg(l)))
                .collect();
            bars.dedup();
            let says = if rows.is_empty() {
                vec!["free".to_owned()]
            } else {
                vec![
                    format!("{} {} bar, {} moved", bars.join(" and "), h.page.kit.unit_word(), r.moves),
                    format!("{} × {} = {}", rows.len(), clock(turn), clock(turn * rows.len() as f64)),
                ]
            };
            rack(Some(n), format!("Rack {}", n + 1), says, rows)
        })
        .collect();
    let off: Vec<Row> = h
        .lift
        .members
        .iter()
        .filter(|(_, l)| l.bar_kg() <= 0.0)
        .filter_map(|(i, _)| row(h, *i, None))
        .collect();
    if !off.is_empty() {
        out.push(rack(None, "Off the rack".to_owned(), vec!["no bar".to_owned()], off));
    }
    out
}

fn heavy(h: &Here) -> Option<Heavy> {
    let of = h.lift.heavy.as_ref()?;
    let bars = lantern_core::loads::Bars::of(&h.page.kit);
    let date = h.page.class.starts_at.date();
    let unit = h.page.kit.unit_word();
    let rows: Vec<HeavyRow> = h
        .lift
        .members
        .iter()
        .filter_map(|(i, _)| {
            let m = h.page.plan.members.get(*i)?;
            let done = attempts(h.lifted, h.block, h.position, &m.id);
            if done.is_empty() {
                return None;
            }
            let state = lifter_state(h.lift, *i, m, &bars, &done)?;
            let best = new_base(h.lift, *i, m, &done, date);
            Some(HeavyRow {
                id: m.id.clone(),
                name: m.name.clone(),
                sets: done.iter().map(|a| attempt_words(h.page, a)).collect::<Vec<_>>().join(" · "),
                best: best.as_ref().map(|(b, _)| h.page.kit.mark(b.kg)).unwrap_or_default(),
                next: state.next.map(|s| h.page.kit.mark(s.load_kg)).unwrap_or_default(),
                why: state.why,
                base: best
                    .as_ref()
                    .map(|(b, _)| {
                        let one = one_rep_max(b.kg, b.reps, b.reserve)
                            .map(|o| {
                                format!(
                                    "{} to {}",
                                    h.page.kit.mark(o.low.round()),
                                    h.page.kit.mark(o.high.round())
                                )
                            })
                            .unwrap_or_default();
                        match (b.reps + b.reserve, b.reserve) {
                            (1, _) => format!("tested 1RM {} {unit}", h.page.kit.mark(b.kg)),
                            (_, 0) => format!("tested {}RM; 1RM {one} {unit} estimated", b.reps),
                            (_, q) => format!("{} reps with {q} left; 1RM {one} {unit} estimated", b.reps),
                        }
                    })
                    .unwrap_or_default(),
                kept: best.is_some_and(|(_, kept)| kept),
            })
        })
        .collect();
    let misses = if of.build.no_misses { "a miss ends it" } else { "two misses end it" };
    Some(Heavy {
        rule: format!(
            "{} sets fit into {} with the racks shared like this. After each set: 3 or more left +7.5 %, 2 left +5 %, 1 left \
             +2.5 %, none left stops; {misses}.",
            of.fit,
            clock(f64::from(of.window_s))
        ),
        open: rows.iter().filter(|r| !r.base.is_empty() && !r.kept).count(),
        rows,
    })
}

fn what(lift: &LiftPlan) -> String {
    if let Some(h) = &lift.heavy {
        return format!(
            "{} to a {}RM in {}",
            lift.sets.reps.len(),
            h.build.reps,
            clock(f64::from(h.window_s))
        );
    }
    let forms =
        lift.sets.forms.iter().map(|f| format!("; level {}: {}", f.level, sets_words(&f.sets, lift.id())));
    sets_words(&lift.sets, lift.id()) + &forms.collect::<String>()
}

/// Sets as the sheet has them: `5 sets of 3 at 78 to 82 %`; the lift is named where it is another than the block's.
fn sets_words(s: &LiftSets, of: &str) -> String {
    let every = s.every_s.map(|e| format!(" every {}", clock(f64::from(e)))).unwrap_or_default();
    let percent = s.percent.as_ref().map(|p| format!(" at {} %", p.words()));
    let kg = s.kg.map(|_| " as written".to_owned());
    let reps = match (s.most_reps(), !s.even()) {
        (0, _) => "as many as possible".to_owned(),
        (_, true) => s.reps.iter().map(u32::to_string).collect::<Vec<_>>().join("-"),
        (n, false) => n.to_string(),
    };
    let name =
        s.movement.id().filter(|id| *id != of).map(|id| format!("{}, ", spoken(id))).unwrap_or_default();
    let chain: String = s.chain.iter().map(|(id, n)| format!(" + {n} {}", spoken(id))).collect();
    let tempo = s.tempo.map(|t| format!(", tempo {}", t.words())).unwrap_or_default();
    let n = s.reps.len();
    let weight = percent
        .or(kg)
        .unwrap_or_else(|| if s.most_reps() == 0 { String::new() } else { ", by feel".to_owned() });
    format!("{name}{n} sets of {reps}{chain}{every}{weight}{tempo}")
}

pub(super) fn lift(
    page: &ClassPage,
    s: &StrengthPlan,
    position: usize,
    lift: &LiftPlan,
    lifted: &[LiftedSet],
    before: &Before,
) -> Lift {
    let h = Here { page, lift, at: changes(lift), block: s.block, position, lifted, before };
    let saved = lift.racks.moves_in_list_order.saturating_sub(lift.racks.moves);
    let alone = match lift.racks.alone {
        0 => String::new(),
        n => format!(" {n} newer without an experienced member beside them."),
    };
    let racks = racks(&h);
    Lift {
        block: s.block,
        lift: position,
        name: catalogue().name(lift.id()),
        what: what(lift),
        cues: catalogue().cues(lift.id()),
        cycle: lift.cycle.clone().unwrap_or_default(),
        open: if position == 0 { s.open.clone() } else { Vec::new() },
        offers: lift
            .offers
            .iter()
            .map(|o| {
                let (word, n) = o.fit.word();
                (format!("{word} {n}"), o.says.clone())
            })
            .collect(),
        fit: if s.fit == Fit::AsWritten || position > 0 { String::new() } else { s.fit.says() },
        columns: column_names(&h.at, lift),
        ramp: racks.iter().flat_map(|r| &r.rows).any(|r| !r.ramp.is_empty()),
        before: racks.iter().flat_map(|r| &r.rows).any(|r| !r.before.is_empty()),
        can_move: lift.racks.racks.len() > 1 || page.kit.count(Gear::Rack) > 1,
        racks,
        moves: format!(
            "{} plate moves in all; racked in the order of sign-up it would be {saved} more.{alone}",
            lift.racks.moves
        ),
        heavy: heavy(&h),
    }
}
