//! Which ways there are for a day, by what it is made of. Whether one helps is not asked here.

use super::Mend;
use crate::hour::{HourPart, Slot, Standing};
use crate::kinds::Gear;
use crate::loads::Fit;
use crate::mend::{By, Short, Way, changes};
use crate::movement::say::spoken;
use crate::plan::decision::{Decision, MOST_HEATS, starts_of};
use crate::plan::today::todays_block;
use crate::plan::{ClassPlan, PlanOf, StrengthPlan, WorkoutPlan};
use crate::sheet::{Block, BlockKind, Format};

/// Shares of the work that are tried, per cent (own).
const PERCENTS: [u32; 6] = [90, 80, 75, 67, 60, 50];
/// A cap is not set under this share of what it was, or of the slow end without one (own).
const LEAST_CAP: f64 = 0.7;
/// Sets are not closer together than this share of what is written (own).
const LEAST_EVERY: f64 = 0.75;
/// Stands that are lent as racks, beyond those of the kit (own).
const MORE_RACKS: u32 = 3;

/// Fewer members are not halved (own).
const LEAST_HALVED: usize = 4;

/// The order in which parts are cut that touch no work.
const AROUND: [HourPart; 7] = [
    HourPart::Accessory,
    HourPart::CoolDown,
    HourPart::Brief,
    HourPart::ChangeOver,
    HourPart::WorkoutBrief,
    HourPart::Skill,
    HourPart::WarmUp,
];

/// Every way that the day has, from what runs on; nothing where it fits and kit is enough.
pub fn ways(of: &PlanOf, plan: &ClassPlan) -> Vec<Mend> {
    let mut out = Vec::new();
    let over = plan.hour.overrun_s;
    if over > 0 {
        around(plan, &mut out);
        for s in plan.strength.iter().filter(|s| comes(plan, HourPart::Strength, s.block)) {
            of_strength(of, plan, s, &mut out);
        }
        for w in plan.workouts.iter().filter(|w| comes(plan, HourPart::Workout, w.block)) {
            shorter(of, plan, w, &mut out);
        }
        leave(plan, &mut out);
    }
    for w in plan.workouts.iter().filter(|w| comes(plan, HourPart::Workout, w.block)) {
        kit(of, plan, w, &mut out);
    }
    out
}

/// Whether a part of a block is still to come.
fn comes(plan: &ClassPlan, part: HourPart, block: usize) -> bool {
    let here = |s: &&Slot| s.part == part && s.block == Some(block);
    plan.hour.slots.iter().filter(here).any(|s| s.standing == Standing::ToCome)
}

fn around(plan: &ClassPlan, out: &mut Vec<Mend>) {
    let over = plan.hour.overrun_s;
    for part in AROUND {
        let slots = plan.hour.slots.iter().filter(|s| {
            s.part == part && s.length_s > s.least_s && s.standing == Standing::ToCome && s.column.is_none()
        });
        for s in slots {
            let to_s = s.length_s - (s.length_s - s.least_s).min(over);
            out.push(Mend {
                way: Way::Shorter { part, from_s: s.length_s, to_s },
                decision: Decision::Length { key: s.key.clone(), seconds: to_s },
            });
        }
    }
}

fn of_strength(of: &PlanOf, plan: &ClassPlan, s: &StrengthPlan, out: &mut Vec<Mend>) {
    let block = s.block;
    let mut fit = |way: Way, fit: Fit| out.push(Mend { way, decision: Decision::Fit { block, fit } });
    let Some(first) = s.lifts.iter().find(|l| l.heavy.is_none()) else { return };
    let sets = s.lifts.iter().map(|l| l.sets.reps.len() as u32).max().unwrap_or(0);
    for to in [sets.saturating_sub(1), sets.saturating_sub(2)] {
        if to >= 2 && to * 2 >= sets && to < sets {
            fit(Way::Sets { from: sets, to }, Fit::Fewer(to));
        }
    }
    if let Some(every) = first.sets.every_s {
        let least = (f64::from(every) * LEAST_EVERY).max(first.time.round_s);
        let to_s = ((least / 15.0).ceil() * 15.0) as u32;
        if to_s < every {
            fit(Way::Every { from_s: every, to_s }, Fit::Every(to_s));
        }
    }
    let (fullest, racks) = (first.racks.fullest(), first.racks.racks.len() as u32);
    if fullest > 1 {
        let lifters: u32 = first.racks.racks.iter().map(|r| r.members.len() as u32).sum();
        let to = lifters.div_ceil(fullest - 1);
        let have = of.class.kit.count(Gear::Rack);
        if to > racks && to <= have + MORE_RACKS {
            fit(Way::Racks { from: racks, to, lent: to.saturating_sub(have) }, Fit::Racks(to));
        }
    }
    let alone = next_to(plan, block).is_some_and(|w| w.groups.len() < 2);
    if !s.halves && alone && plan.members.len() >= LEAST_HALVED {
        out.push(Mend { way: Way::Halves, decision: Decision::Halves { block, on: true } });
    }
}

/// The workout that comes right after the lifts of a block, with nothing but its change-over and brief between.
fn next_to(plan: &ClassPlan, block: usize) -> Option<&WorkoutPlan> {
    let lifts = |s: &Slot| s.part == HourPart::Strength && s.block == Some(block);
    let mut after = plan.hour.slots.iter().skip_while(|s| !lifts(s)).skip(1);
    let next = after.find(|s| !matches!(s.part, HourPart::ChangeOver | HourPart::WorkoutBrief))?;
    plan.workouts.iter().find(|w| next.part == HourPart::Workout && next.block == Some(w.block))
}

/// The name of a workout where the day has several.
fn named(plan: &ClassPlan, w: &WorkoutPlan) -> Option<String> {
    (plan.workouts.len() > 1).then(|| w.name.clone().unwrap_or_else(|| "the workout".to_owned()))
}

/// A cap, or less of the work: the mildest that does something, and the mildest that is enough by its clock.
fn shorter(of: &PlanOf, plan: &ClassPlan, w: &WorkoutPlan, out: &mut Vec<Mend>) {
    let (Some(written), Some(now)) = (of.sheet.blocks.get(w.block), plan.sheet.blocks.get(w.block)) else {
        return;
    };
    let over = plan.hour.overrun_s;
    cap(plan, w, out);
    for by in [By::Rounds, By::Counts] {
        let mut offered: Vec<Block> = Vec::new();
        for percent in PERCENTS {
            let decision = Decision::Less { block: w.block, by, percent };
            let decisions: Vec<Decision> = of.decisions.iter().chain([&decision]).cloned().collect();
            let then = todays_block(written, w.block, &decisions);
            let changes = changes(now, &then);
            if !changes.iter().any(|c| c.lost() > 0.0) || offered.contains(&then) {
                continue;
            }
            let wins = length(now).zip(length(&then)).map(|(a, b)| a.saturating_sub(b));
            let enough = wins.is_some_and(|s| s >= over);
            if offered.is_empty() || enough {
                out.push(Mend { way: Way::Less { workout: named(plan, w), changes }, decision });
                offered.push(then);
            }
            if enough {
                break;
            }
        }
    }
}

/// s of a workout by its clock or cap.
fn length(block: &Block) -> Option<u32> {
    block.clock_s().or(block.cap_s)
}

fn cap(plan: &ClassPlan, w: &WorkoutPlan, out: &mut Vec<Mend>) {
    let Some(stimulus) = w.stimulus.as_ref().filter(|s| s.is_time()) else { return };
    let slot = plan.hour.slots.iter().find(|s| s.part == HourPart::Workout && s.block == Some(w.block));
    let Some(now) = slot.map(|s| s.length_s) else { return };
    let from_s = stimulus.cap_s.map(|c| c as u32);
    let least = (LEAST_CAP * f64::from(now) / 60.0).ceil() as u32 * 60;
    let fits = (now.saturating_sub(plan.hour.overrun_s) / 60 * 60).max(least);
    let mut wanted: Vec<u32> = w.cap_proposed_s.into_iter().chain([fits]).collect();
    wanted.retain(|s| *s < now && *s >= least);
    wanted.dedup();
    for to_s in wanted {
        out.push(Mend {
            way: Way::Cap { workout: named(plan, w), from_s, to_s },
            decision: Decision::Cap { block: w.block, seconds: Some(to_s) },
        });
    }
}

/// A or B, where a day holds two things to do.
fn leave(plan: &ClassPlan, out: &mut Vec<Mend>) {
    let main = |b: &&(usize, &Block)| {
        let work = b.1.on_the_clock() || !b.1.lifts.is_empty() || !b.1.builds.is_empty();
        work && matches!(b.1.kind, BlockKind::Strength | BlockKind::Skill | BlockKind::Workout)
    };
    let blocks: Vec<(usize, &Block)> = plan.sheet.blocks.iter().enumerate().collect();
    let all: Vec<&(usize, &Block)> = blocks.iter().filter(main).collect();
    if all.len() < 2 {
        return;
    }
    for (i, b) in all {
        if comes(plan, HourPart::of(b.kind), *i) {
            let what = called(b);
            out.push(Mend { way: Way::Leave { what }, decision: Decision::Leave { block: *i, left: true } });
        }
    }
}

/// A block as it is spoken of: by its name, else by its part and lifts.
fn called(b: &Block) -> String {
    let part = HourPart::of(b.kind).word();
    let lifts = b.lifts.iter().map(|l| &l.movement).chain(b.builds.iter().map(|x| &x.movement));
    let names: Vec<String> = lifts.filter_map(|m| m.id()).map(spoken).collect();
    match &b.name {
        Some(name) => name.clone(),
        None if names.is_empty() => part.to_owned(),
        None => format!("{part} ({})", names.join(", ")),
    }
}

/// Ways to have enough of what is short.
fn kit(of: &PlanOf, plan: &ClassPlan, w: &WorkoutPlan, out: &mut Vec<Mend>) {
    let Some(block) = plan.sheet.blocks.get(w.block) else { return };
    let mut push = |way: Way, decision: Decision| out.push(Mend { way, decision });
    let short: Vec<&Short> = w.short.iter().filter(|s| s.asks()).collect();
    let Some(most) = short.iter().map(|s| s.heats()).max() else { return };
    let heats = most * w.groups.len().max(1) as u32;
    let halved = w.groups.len() as u32 > w.heats;
    if heats > 1 && !halved {
        let most = heats.min(MOST_HEATS).min(plan.members.len() as u32);
        let mut wanted = vec![2, most];
        wanted.retain(|n| *n as usize > w.groups.len() && *n <= most);
        wanted.dedup();
        for n in wanted {
            let way = Way::Heats { workout: named(plan, w), heats: n };
            push(way, Decision::Heats { block: w.block, heats: n });
        }
    }
    let lines = w.versions.first().map_or(0, |v| v.work.lines.len()) as u32;
    let places = short.iter().filter(|s| s.in_turn()).map(|s| s.heats()).max().unwrap_or(1);
    let now = w.starts.iter().max().map_or(1, |s| s + 1);
    // one more than by the count: lines take unequal time
    let starts = (places * now + 1).min(lines);
    if places > 1 && starts > now && starts_of(of.decisions, w.block) != Some(starts) {
        push(Way::Starts { workout: named(plan, w), starts }, Decision::Starts { block: w.block, starts });
    }
    let paired = block.team.is_none()
        && block
            .parts
            .iter()
            .all(|p| p.format.as_ref().is_some_and(|f| f.for_time() || matches!(f, Format::Amrap { .. })));
    if paired && plan.members.len() >= 2 {
        push(Way::Pairs { workout: named(plan, w) }, Decision::Pairs { block: w.block, on: true });
    }
}
