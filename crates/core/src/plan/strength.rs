//! A block of lifts: every member's weights, who shares a rack, how long it takes.

use super::decision::{Decision, load_by};
use crate::kit::Kit;
use crate::loads::{Bars, MemberLift, RackPlan, StrengthTime, prescribe, racks, strength_time};
use crate::movement::catalogue;
use crate::roster::Member;
use crate::settings::Settings;
use crate::sheet::{Block, LiftSets};
use chrono::NaiveDate;
use rayon::prelude::*;

/// What planning a block needs to know.
pub(super) struct Day<'a> {
    pub members: &'a [Member],
    pub kit: &'a Kit,
    pub bars: &'a Bars,
    pub settings: &'a Settings,
    pub date: NaiveDate,
    pub decisions: &'a [Decision],
}

/// One lift of a block.
#[derive(Debug, Clone)]
pub struct LiftPlan {
    /// As on the sheet.
    pub sets: LiftSets,
    /// (member, weights), in the order of the class; members without a weight are left out.
    pub members: Vec<(usize, MemberLift)>,
    /// Racks.
    pub racks: RackPlan,
    /// Time.
    pub time: StrengthTime,
}

impl LiftPlan {
    /// The weights of a member.
    pub fn of(&self, member: usize) -> Option<&MemberLift> {
        self.members.iter().find(|(i, _)| *i == member).map(|(_, l)| l)
    }
}

/// A block of lifts.
#[derive(Debug, Clone)]
pub struct StrengthPlan {
    /// Block of the sheet, from 0.
    pub block: usize,
    /// In order; several make a superset.
    pub lifts: Vec<LiftPlan>,
    /// s for all of it.
    pub length_s: u32,
    /// What does not fit, in plain words.
    pub open: Vec<String>,
}

pub(super) fn plan_block(day: &Day, index: usize, block: &Block) -> StrengthPlan {
    let lifts: Vec<LiftPlan> = block.lifts.iter().map(|l| plan_lift(day, index, l)).collect();
    let computed: f64 = lifts.iter().map(|l| l.time.total()).sum();
    let length_s = (computed / 10.0).ceil() as u32 * 10;
    let mut open: Vec<String> = lifts.iter().filter_map(|l| l.time.does_not_fit.clone()).collect();
    for l in &lifts {
        if l.racks.crowded {
            open.push(format!(
                "{} members on {} racks is more than {} to a rack: use two waves or more racks.",
                l.members.len(),
                l.racks.racks.len(),
                day.settings.per_rack
            ));
        }
        if let Some(said) = l.sets.movement.id().filter(|_| l.members.is_empty() && !day.members.is_empty()) {
            open.push(format!(
                "No weights for {}: the lift is not loaded.",
                catalogue().name(said).to_lowercase()
            ));
        }
    }
    StrengthPlan { block: index, lifts, length_s, open }
}

fn plan_lift(day: &Day, index: usize, sets: &LiftSets) -> LiftPlan {
    let mut members: Vec<(usize, MemberLift)> = day
        .members
        .par_iter()
        .enumerate()
        .filter_map(|(i, m)| Some((i, prescribe(m, sets, day.kit, day.bars, day.settings, day.date)?)))
        .collect();
    for (i, lift) in &mut members {
        let Some(m) = day.members.get(*i) else { continue };
        let by = load_by(day.decisions, index, &m.id);
        if by != 0.0 {
            shift(lift, m, by, day.bars);
        }
    }
    // replacements off the bar need no rack
    let barred: Vec<(usize, &MemberLift)> =
        members.iter().filter(|(_, l)| l.bar_kg() > 0.0).map(|(i, l)| (*i, l)).collect();
    let plan = racks(&barred, day.kit.count("rack"), day.settings.per_rack);
    let fullest = plan.racks.iter().map(|r| r.members.len()).max().unwrap_or(1) as u32;
    let ramp =
        members.iter().map(|(_, l)| l.sets.iter().filter(|s| s.warm_up).count()).max().unwrap_or(0) as u32;
    let percent = sets.percent.as_ref().and_then(|p| p.values.last()).copied().unwrap_or(75.0);
    let id = sets.movement.id().unwrap_or("");
    // the empty bar belongs to the warm-up's rehearsal
    let time = strength_time(id, sets, percent, fullest, ramp.saturating_sub(1));
    LiftPlan { sets: sets.clone(), racks: plan, time, members }
}

/// Puts the coach's kilograms on every working set, to what can be loaded.
fn shift(lift: &mut MemberLift, member: &Member, by: f64, bars: &Bars) {
    let base = lift.base.kg;
    for set in lift.sets.iter_mut().filter(|s| !s.warm_up) {
        let wish = (set.load_kg + by).max(0.0);
        if set.bar_kg <= 0.0 {
            continue;
        }
        let Some(w) = bars.choose(member.standard, wish).and_then(|b| b.nearest(wish)) else { continue };
        set.load_kg = w.kg;
        set.bar_kg = w.bar_kg;
        set.per_side_kg.clone_from(&w.per_side);
        set.percent = (base > 0.0).then(|| w.kg / base * 100.0);
    }
    lift.reasons.push(format!("You set {}{} kg.", if by > 0.0 { "+" } else { "" }, crate::units::plain(by)));
}
