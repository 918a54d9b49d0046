//! A block of lifts: every member's weights, who shares a rack, how long it takes.

use super::decision::{Decision, fit_of, in_halves, load_by, racked};
use super::memo::{Input, Memo, Stopped};
use crate::cycle::{Cycle, running};
use crate::kinds::Gear;
use crate::kit::Kit;
use crate::loads::{
    Bars, Fit, Floor, Lifter, MemberLift, Offer, RackPlan, StrengthTime, Turns, offers, plan_heavy,
    prescribe, racks, reps_time, set_time, sets_that_fit, strength_time, with_weights,
};
use crate::movement::catalogue;
use crate::roster::Member;
use crate::schools::DailyHeavy;
use crate::settings::Settings;
use crate::sheet::{Block, Build, LiftSets};
use crate::units::clock;
use chrono::NaiveDate;
use rayon::prelude::*;

/// Window of a maximum of the day that names none, s (own).
pub(super) const BUILD_S: u32 = 900;

/// What planning a block needs to know.
pub(super) struct StrengthDay<'a> {
    pub members: &'a [Member],
    pub kit: &'a Kit,
    pub bars: &'a Bars,
    pub settings: &'a Settings,
    pub date: NaiveDate,
    pub decisions: &'a [Decision],
    pub cycles: &'a [Cycle],
}

/// A block of lifts, by all that its plan hangs on.
#[derive(Debug)]
pub(super) struct StrengthOf<'a> {
    pub index: usize,
    pub block: &'a Block,
    pub members: &'a [Member],
    pub kit: &'a Kit,
    pub settings: &'a Settings,
    pub date: NaiveDate,
    /// About this block.
    pub decisions: Vec<Decision>,
    pub cycles: &'a [Cycle],
}

impl Input for StrengthOf<'_> {
    type Made = StrengthPlan;

    fn make(&self, _: &dyn Memo) -> Result<StrengthPlan, Stopped> {
        let StrengthOf { members, kit, settings, date, cycles, .. } = *self;
        let day = StrengthDay {
            members,
            kit,
            bars: &Bars::of(kit),
            settings,
            date,
            decisions: &self.decisions,
            cycles,
        };
        Ok(plan_block(&day, self.index, self.block))
    }
}

/// A rep maximum of the day.
#[derive(Debug, Clone, PartialEq)]
pub struct Heavy {
    /// As on the sheet.
    pub build: Build,
    /// s for all of it.
    pub window_s: u32,
    /// Sets that fit, with the rack shared as it is.
    pub fit: usize,
}

/// One lift of a block.
#[derive(Debug, Clone)]
pub struct LiftPlan {
    /// As on the sheet, or as the cycle says.
    pub sets: LiftSets,
    /// Set when it is a maximum of the day.
    pub heavy: Option<Heavy>,
    /// (member, weights), in the order of the class; members without a weight are left out.
    pub members: Vec<(usize, MemberLift)>,
    /// Racks.
    pub racks: RackPlan,
    /// Time.
    pub time: StrengthTime,
    /// Ways to make the turns fit, when they do not.
    pub offers: Vec<Offer>,
    /// Week of the cycle behind it, in words.
    pub cycle: Option<String>,
}

impl LiftPlan {
    /// The weights of a member.
    pub fn of(&self, member: usize) -> Option<&MemberLift> {
        self.members.iter().find(|(i, _)| *i == member).map(|(_, l)| l)
    }

    /// s of rest after a member's set, by the plan: from its end to the start of their next one; `None` where nobody says when that
    /// is.
    pub fn rest_s(&self) -> Option<f64> {
        let set_s = set_time(self.id(), self.sets.most_reps(), self.sets.tempo);
        Some(self.time.interval_s - set_s).filter(|s| *s >= 1.0)
    }

    /// Catalogue id of the lift on the sheet; empty for one that is not known.
    pub fn id(&self) -> &str {
        self.sets.movement.id().unwrap_or("")
    }
}

/// A block of lifts.
#[derive(Debug, Clone)]
pub struct StrengthPlan {
    /// Block of the sheet, from 0.
    pub block: usize,
    /// In order; several make a superset.
    pub lifts: Vec<LiftPlan>,
    /// The lifts are done in turn, with the rest after the last of them.
    pub superset: bool,
    /// How the turns are made to fit.
    pub fit: Fit,
    /// Half of the class lifts at a time, while the other half works.
    pub halves: bool,
    /// s for all of it.
    pub length_s: u32,
    /// What does not fit, in plain words.
    pub open: Vec<String>,
}

/// A lift as it is to be done today.
enum Today {
    Sets(Box<LiftSets>, Option<String>),
    Test(Build, Option<String>),
    Nothing(String),
}

fn today(day: &StrengthDay, l: &LiftSets) -> Today {
    let id = l.movement.id().unwrap_or("");
    let found = running(day.cycles, id, day.date);
    if !l.by_cycle {
        return Today::Sets(Box::new(l.clone()), None);
    }
    let Some((cycle, week)) = found else {
        return Today::Nothing(format!(
            "No cycle of {} runs on {}: write its sets on the sheet, or start a cycle.",
            catalogue().name(id).to_lowercase(),
            day.date.format("%-d %B")
        ));
    };
    let words =
        Some(format!("{}, week {} of {}: {}", cycle.name, week + 1, cycle.weeks.len(), cycle.says(week)));
    match (cycle.sets(week, l.line), cycle.test(week, l.line)) {
        (Some(mut sets), _) => {
            sets.note.clone_from(&l.note);
            sets.every_s = l.every_s.or(sets.every_s);
            sets.rest_s = l.rest_s;
            sets.tempo = l.tempo;
            Today::Sets(Box::new(sets), words)
        }
        (None, Some(test)) => Today::Test(test, words),
        (None, None) => Today::Nothing(format!("{} has no week {}.", cycle.name, week + 1)),
    }
}

fn plan_block(day: &StrengthDay, index: usize, block: &Block) -> StrengthPlan {
    let fit = fit_of(day.decisions, index);
    let mut open = Vec::new();
    let mut lifts: Vec<LiftPlan> = Vec::new();
    let all = block.lifts.iter().map(|l| today(day, l));
    let tests = block.builds.iter().map(|b| Today::Test(b.clone(), None));
    for what in all.chain(tests) {
        let at = lifts.len();
        match what {
            Today::Sets(sets, words) => lifts.push(plan_lift(day, (index, at), &sets, fit, words)),
            Today::Test(build, words) => {
                let window = build.window_s.or(block.duration_s).unwrap_or(BUILD_S);
                lifts.push(plan_test(day, (index, at), &build, window, words));
            }
            Today::Nothing(why) => open.push(why),
        }
    }
    let clocked = lifts.iter().filter(|l| l.sets.every_s.is_some()).count();
    let superset = lifts.len() > 1 && clocked <= 1 && lifts.iter().all(|l| l.heavy.is_none());
    if superset {
        pair(&mut lifts, waves_of(day, index, fit));
    }
    for l in &mut lifts {
        open.extend(l.time.does_not_fit.clone());
        if let (true, Some(every)) = (l.time.does_not_fit.is_some(), l.sets.every_s) {
            let n = l.racks.racks.iter().map(|r| r.members.len() as u32).sum();
            let racks = rack_count(day, fit);
            l.offers = offers(turns(l), every, l.sets.reps.len() as u32, n, racks);
        }
        open.extend(said(day, l));
    }
    if let (true, Some(l)) = (superset, lifts.first())
        && l.sets.every_s.is_some()
        && l.time.interval_s + 0.5 < own_turn(&lifts)
    {
        open.push(format!(
            "One round of the superset takes {} and the sheet gives {}.",
            clock(own_turn(&lifts)),
            clock(l.time.interval_s)
        ));
    }
    let computed: f64 = lifts.iter().map(|l| l.time.total()).sum();
    let length_s = (computed / 10.0).ceil() as u32 * 10;
    let halves = in_halves(day.decisions, index);
    StrengthPlan { block: index, lifts, superset, fit, halves, length_s, open }
}

/// What the coach must settle about a lift.
fn said(day: &StrengthDay, l: &LiftPlan) -> Vec<String> {
    let mut open = Vec::new();
    if l.racks.crowded && l.time.does_not_fit.is_none() {
        open.push(format!(
            "{} members on {} racks is more than {} to a rack: use two waves or more racks.",
            l.members.len(),
            l.racks.racks.len(),
            day.settings.per_rack
        ));
    }
    open.extend(l.racks.short.iter().cloned());
    if let Some(h) = l.heavy.as_ref().filter(|h| h.fit < 3) {
        open.push(format!(
            "{} holds {} sets with the racks shared as they are: too few to build to a maximum.",
            clock(f64::from(h.window_s)),
            h.fit
        ));
    }
    if l.sets.movement.id().is_some() && l.members.is_empty() && !day.members.is_empty() {
        open.push(format!("No weights for {}.", catalogue().name(l.id()).to_lowercase()));
    }
    if !l.sets.by_cycle
        && let Some((c, week)) = running(day.cycles, l.id(), day.date)
        && l.heavy.is_none()
        && c.sets(week, 0).is_some_and(|s| s.reps != l.sets.reps || s.percent != l.sets.percent)
    {
        open.push(format!(
            "The sheet's sets are taken; {} has in week {}: {}.",
            c.name,
            week + 1,
            c.says(week)
        ));
    }
    open
}

fn rack_count(day: &StrengthDay, fit: Fit) -> u32 {
    match fit {
        Fit::Racks(n) => n,
        _ => day.kit.count(Gear::Rack),
    }
}

/// The longest round of turns: that of the rack which needs most.
fn turns(l: &LiftPlan) -> Turns {
    let reps = l.sets.reps.iter().copied().max().unwrap_or(0);
    let of = |members: &[usize], changes: u32| {
        let set = |m: &usize| {
            l.of(*m).map_or(0.0, |x| {
                let reps = if reps == 0 { 0 } else { x.working().map(|s| s.reps).max().unwrap_or(reps) };
                let links: f64 = l.sets.chain.iter().map(|(id, n)| reps_time(id, *n, None)).sum();
                set_time(&x.lift, reps, x.tempo) + links
            })
        };
        let set_s = members.iter().map(set).fold(0.0, f64::max);
        Turns { members: members.len() as u32, set_s, changes }
    };
    let alone = Turns { members: 1, set_s: set_time(l.id(), reps, l.sets.tempo), changes: 0 };
    l.racks
        .racks
        .iter()
        .map(|r| of(&r.members, r.changes))
        .max_by(|a, b| a.round_s().total_cmp(&b.round_s()))
        .unwrap_or(alone)
}

/// Those who lift a bar; replacements off the bar need no rack.
fn lifters<'a>(day: &StrengthDay, id: &str, members: &'a [(usize, MemberLift)]) -> Vec<Lifter<'a>> {
    let from_rack = catalogue().movement(id).is_some_and(|m| m.needs(Gear::Rack));
    members
        .iter()
        .filter(|(_, l)| l.bar_kg() > 0.0)
        .filter_map(|(i, l)| Some(Lifter::of(*i, day.members.get(*i)?, l, from_rack)))
        .collect()
}

/// Racks for the weights of a lift, with the coach's moves; then the coach's kilograms, which move nobody to another rack.
fn share_racks(
    day: &StrengthDay,
    at: (usize, usize),
    id: &str,
    members: &mut [(usize, MemberLift)],
    floor: Floor,
) -> RackPlan {
    let moved: Vec<(usize, usize)> = racked(day.decisions, at.0, at.1)
        .into_iter()
        .filter_map(|(id, rack)| Some((day.members.iter().position(|m| m.id == id)?, rack)))
        .collect();
    let plan = racks(&lifters(day, id, members), floor, &moved);
    if put_on(day, at.0, members) { with_weights(&lifters(day, id, members), floor, &plan) } else { plan }
}

fn plan_lift(
    day: &StrengthDay,
    at: (usize, usize),
    sets: &LiftSets,
    fit: Fit,
    cycle: Option<String>,
) -> LiftPlan {
    let mut sets = sets.clone();
    match fit {
        Fit::Sets(n) => {
            // fewer sets in the same time
            let before = sets.reps.len() as u32;
            sets.every_s = sets.every_s.map(|e| e.saturating_mul(before) / n.max(1));
            sets.reps.truncate(n as usize);
        }
        Fit::Fewer(n) => sets = sets.last(n as usize),
        Fit::Every(s) if sets.every_s.is_some() => sets.every_s = Some(s),
        _ => {}
    }
    let mut members: Vec<(usize, MemberLift)> = day
        .members
        .par_iter()
        .enumerate()
        .filter_map(|(i, m)| Some((i, prescribe(m, &sets, day.kit, day.bars, day.settings, day.date)?)))
        .collect();
    let id = sets.movement.id().unwrap_or("").to_owned();
    // a clock that leaves time for two turns wants two at a rack, where there are racks enough
    let set_s = set_time(&id, sets.most_reps(), sets.tempo);
    let turn = Turns { members: 1, set_s, changes: 1 }.turn_s();
    let by_clock = sets.every_s.map_or(u32::MAX, |e| (f64::from(e) / turn).floor().max(1.0) as u32);
    let clock = sets.every_s.map(|e| (f64::from(e), set_s));
    let per_rack = day.settings.per_rack.min(by_clock).max(1);
    let floor = Floor { racks: rack_count(day, fit), per_rack, kit: day.kit, clock };
    let racks = share_racks(day, at, &id, &mut members, floor);
    let mut out = LiftPlan {
        sets,
        heavy: None,
        members,
        racks,
        time: StrengthTime::default(),
        offers: Vec::new(),
        cycle,
    };
    out.racks.crowded = out.racks.fullest() > day.settings.per_rack;
    out.time = time_of(&out, 0.0, waves_of(day, at.0, fit));
    out
}

/// Groups that lift one after the other: two where half of the class works meanwhile.
fn waves_of(day: &StrengthDay, block: usize, fit: Fit) -> u32 {
    match fit {
        _ if in_halves(day.decisions, block) => 2,
        Fit::Waves(n) => n,
        _ => 1,
    }
}

/// Time of a lift, with so many seconds of other work after each set.
fn time_of(l: &LiftPlan, also_s: f64, waves: u32) -> StrengthTime {
    let ramp =
        l.members.iter().map(|(_, l)| l.sets.iter().filter(|s| s.warm_up).count()).max().unwrap_or(0) as u32;
    let percent = l.sets.percent.as_ref().and_then(|p| p.values.last()).copied().unwrap_or(75.0);
    // the empty bar belongs to the warm-up's rehearsal; whoever does most sets ends last
    let of = |sets: &LiftSets| strength_time(sets, percent, turns(l), ramp.saturating_sub(1), also_s, waves);
    let forms = l.members.iter().filter_map(|(_, m)| m.form.as_ref());
    forms.map(of).fold(of(&l.sets), |a, b| if b.total() > a.total() { b } else { a })
}

/// One member's round of a superset without rest, s.
fn own_turn(lifts: &[LiftPlan]) -> f64 {
    lifts.iter().map(|l| turns(l).set_s).sum()
}

/// Two lifts in turn: the rest comes after the last of them, and the rounds of the first carry the time of all.
fn pair(lifts: &mut [LiftPlan], waves: u32) {
    let also: f64 = lifts.iter().skip(1).map(|l| turns(l).set_s).sum();
    let rest = lifts.iter().rev().find_map(|l| l.sets.rest_s);
    let every = lifts.iter().find_map(|l| l.sets.every_s);
    let rounds = lifts.iter().map(|l| l.sets.reps.len()).max().unwrap_or(0);
    let mut first = true;
    for l in lifts {
        if first {
            let mut longest = l.clone();
            longest.sets.rest_s = rest;
            longest.sets.every_s = every;
            longest.sets.reps.resize(rounds, l.sets.most_reps());
            l.time = time_of(&longest, also, waves);
        } else {
            l.time.work_s = 0.0;
            l.time.does_not_fit = None;
        }
        first = false;
    }
}

fn plan_test(
    day: &StrengthDay,
    at: (usize, usize),
    build: &Build,
    window_s: u32,
    cycle: Option<String>,
) -> LiftPlan {
    // a hall that wants no failed lift wants none here either
    let build = &Build {
        no_misses: build.no_misses || day.settings.answer::<DailyHeavy>() == DailyHeavy::HeavyNoFail,
        ..build.clone()
    };
    let id = build.movement.id().unwrap_or("").to_owned();
    let n = day.members.len() as u32;
    let (stands, most) = (rack_count(day, Fit::AsWritten).max(1), day.settings.per_rack.max(1));
    let share = n.div_ceil(stands.min(n.div_ceil(most).max(1)).max(1));
    let fit = sets_that_fit(&id, build, f64::from(window_s), share);
    let mut members: Vec<(usize, MemberLift)> = day
        .members
        .iter()
        .enumerate()
        .filter_map(|(i, m)| Some((i, plan_heavy(m, build, fit, day.kit, day.bars, day.settings, day.date)?)))
        .collect();
    let sets = members.iter().map(|(_, l)| l.working().count()).max().unwrap_or(fit);
    let floor = Floor { racks: rack_count(day, Fit::AsWritten), per_rack: most, kit: day.kit, clock: None };
    let racks = share_racks(day, at, &id, &mut members, floor);
    let sets = LiftSets {
        by_cycle: cycle.is_some(),
        ..LiftSets::of(build.movement.clone(), vec![build.reps; sets], build.line)
    };
    let mut out = LiftPlan {
        sets,
        heavy: Some(Heavy { build: build.clone(), window_s, fit }),
        members,
        racks,
        time: StrengthTime::default(),
        offers: Vec::new(),
        cycle,
    };
    let turns = turns(&out);
    let rounds = (out.sets.reps.len() as f64).max(1.0);
    out.time = StrengthTime {
        work_s: f64::from(window_s),
        interval_s: f64::from(window_s) / rounds,
        turn_s: turns.turn_s(),
        round_s: turns.round_s(),
        waves: 1,
        ..StrengthTime::default()
    };
    out
}

/// Puts the coach's kilograms on every working set, to what can be loaded; whether there were any.
fn put_on(day: &StrengthDay, block: usize, members: &mut [(usize, MemberLift)]) -> bool {
    let mut any = false;
    for (i, lift) in members {
        let Some(m) = day.members.get(*i) else { continue };
        let by = load_by(day.decisions, block, &m.id);
        if by != 0.0 {
            crate::loads::put_on(lift, m.standard, by, day.bars);
            any = true;
        }
    }
    any
}
