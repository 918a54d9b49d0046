//! Joins the tasks: the plan is a pure function of what the coach knows and decided. Same inputs, same plan.

mod advice;
mod answer;
mod behind;
mod brief;
mod compared;
mod cut;
mod decision;
mod done;
mod fetch;
mod groups;
mod hours;
mod mark;
mod memo;
mod mends;
mod moves;
mod pace;
mod pairs;
mod places;
mod placing;
mod set_phases;
mod share;
mod shout;
mod strength;
mod text;
mod today;
mod told;
mod trace;
mod turns;
mod workout;

pub use advice::{
    Bite, MachinePace, OtherLoad, even_targets, first_bite, interruption, machine_paces, other_loads,
    shared_bars,
};
pub use answer::{
    AnswerSet, BlockLoads, CountAnswer, DrillAnswer, LineAnswer, MemberAnswer, OwnLine, PlanAnswer,
    PredictionAnswer, RackAnswer, SetPlanAnswer, StrengthAnswer, VersionAnswer, answer,
};
pub use behind::{AfterCut, Behind, Ends, NoCut, Passed};
pub use brief::{
    Aloud, Breaks, Brief, BriefVersion, BriefWorkout, PaceLine, Purpose, Sentence, Space, Taught, Topic,
    brief,
};
pub use compared::{Compared, ComparedOf};
pub use cut::Cut;
pub use decision::{
    Decision, fit_of, load_by, of_the_day, school_of, settings_with, stimulus_of, version_of,
};
pub use fetch::{Fetch, Thing};
pub use mark::Mark;
pub use memo::{Forgetful, Input, Kept, Key, Memo, Sealed, Stopped, recall};
pub use mends::{Fitting, Gives, Mend, Weighed, fitting, ways, weigh};
pub use moves::moved;
pub use pace::{Checkpoint, VersionPace};
pub use pairs::{Pairing, pairings};
pub use set_phases::{SetPhase, SetPhaseKind};
pub use shout::{MOST_WORDS, Shout, first_rounds};
pub use strength::{Heavy, LiftPlan, StrengthPlan};
pub use text::{text, text_of_ways};
pub use told::Told;
pub use trace::{Strategy, TraceRow, Traced, rows, seconds_by_kind, traced_at_middle, traced_run};
pub use turns::{LifterState, RackState, lifter_state, new_base, rack_state};
pub use workout::{Expected, PartStimulus, Shares, WorkoutPlan};

use crate::cautions::{Note, notes};
use crate::cycle::Cycle;
use crate::hour::{Hour, HourPart};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::logbook::{Outcome, volume_done};
use crate::roster::{Ability, Member, Volume};
use crate::settings::Settings;
use crate::sheet::{Block, Sheet};
use crate::units::WeightUnit;
use crate::versions::Tier;
use crate::warmup::{For, WarmUp, in_shape, warm_up};
use chrono::NaiveDate;
use placing::AbilityOf;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};
use strength::StrengthOf;

/// Most members that are planned; a class is never larger.
pub const MOST_MEMBERS: usize = 60;

/// Who and what is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Class {
    /// Booked members, in the order of sign-up.
    pub members: Vec<Member>,
    /// The gym's kit.
    pub kit: Kit,
    /// The day.
    pub date: NaiveDate,
    /// Class length, s; `None`: the sheet's, else the gym's.
    pub length_s: Option<u32>,
    /// Drills of the hall's days before, the newest first, as far as they are looked at.
    #[serde(deserialize_with = "crate::warmup::days_of_drills")]
    pub recent_drills: Vec<Vec<String>>,
    /// The gym's cycles of lifts.
    pub cycles: Vec<Cycle>,
}

/// How to plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Options {
    /// Everybody at Full, unscaled.
    pub as_written: bool,
    /// Runs of each range.
    pub runs: u32,
    /// Seed of all draws.
    pub seed: u64,
}

impl Default for Options {
    fn default() -> Options {
        Options { as_written: false, runs: 96, seed: 1 }
    }
}

/// The whole plan of a class.
#[derive(Debug, Clone)]
pub struct ClassPlan {
    /// Name of the session.
    pub title: Option<String>,
    /// As read, with what was decided of its blocks today.
    pub sheet: Sheet,
    /// Who is planned for.
    pub members: Vec<Member>,
    /// Their abilities, in the same order.
    pub abilities: Vec<Ability>,
    /// The hour.
    pub hour: Hour,
    /// The warm-up.
    pub warm_up: WarmUp,
    /// Blocks with lifts.
    pub strength: Vec<StrengthPlan>,
    /// Scored work.
    pub workouts: Vec<WorkoutPlan>,
    /// Safety notes.
    pub cautions: Vec<Note>,
    /// In what the hall's weights are marked.
    pub unit: WeightUnit,
    /// What could not be planned, in plain words.
    pub problems: Vec<String>,
}

/// All that a plan is a function of.
#[derive(Debug, Clone, Copy)]
pub struct PlanOf<'a> {
    /// The session as read.
    pub sheet: &'a Sheet,
    /// Who and what is there.
    pub class: &'a Class,
    /// What the hall has settled.
    pub settings: &'a Settings,
    /// The coach's, in order.
    pub decisions: &'a [Decision],
    /// How to plan.
    pub options: Options,
}

impl Input for PlanOf<'_> {
    type Made = ClassPlan;

    fn make(&self, memo: &dyn Memo) -> Result<ClassPlan, Stopped> {
        let PlanOf { class, decisions, .. } = *self;
        let sheet = &*today::todays(self.sheet, decisions);
        let settings = &settings_with(self.settings, decisions);
        let (members, mut problems) = planned_for(class);
        let known = |member: &Member| recall(memo, &AbilityOf { member, date: class.date });
        let abilities: Vec<_> = members.par_iter().map(known).collect::<Result<_, _>>()?;
        let abilities: Vec<Ability> = abilities.iter().map(|a| Ability::clone(a)).collect();
        let strength = strengths(self, sheet, &members, settings, memo)?;
        let day = workout::WorkoutDay {
            members: &members,
            kit: &class.kit,
            bars: &Bars::of(&class.kit),
            settings,
            date: class.date,
            decisions,
            options: self.options,
        };
        let workouts: Vec<WorkoutPlan> = sheet
            .blocks
            .iter()
            .enumerate()
            .filter(|(_, b)| b.on_the_clock())
            .map(|(i, b)| {
                workout::plan_block(&day, i, b, halves_at(&strength, sheet, i, members.len()), memo)
            })
            .collect::<Result<_, _>>()?;
        problems.extend(workouts.iter().filter_map(|w| w.waits.clone()));
        let hour = hours::plan_hour(&hours::HourOf {
            sheet,
            class,
            settings,
            decisions,
            strength: &strength,
            workouts: &workouts,
        });
        let warm_s = hour.slots.iter().find(|s| s.part == HourPart::WarmUp).map_or(0, |s| s.length_s);
        let avoid = decision::swapped(decisions);
        let done = done::done(&workouts);
        let of = For { sheet, kit: &class.kit, recent: &class.recent_drills, avoid: &avoid, done: &done };
        let warm = warm_up(of, warm_s);
        let who: Vec<&Member> = members.iter().collect();
        Ok(ClassPlan {
            title: sheet.title.clone(),
            cautions: notes(&as_today(&sheet.blocks, &strength), &who),
            sheet: sheet.clone(),
            hour,
            warm_up: in_shape(warm, settings.answer()),
            strength,
            workouts,
            unit: class.kit.unit,
            problems,
            members,
            abilities,
        })
    }
}

/// Makes the plan.
pub fn plan(
    sheet: &Sheet,
    class: &Class,
    settings: &Settings,
    decisions: &[Decision],
    options: Options,
) -> ClassPlan {
    // who remembers nothing is never stopped: the first time makes it
    loop {
        if let Ok(plan) = (PlanOf { sheet, class, settings, decisions, options }).make(&Forgetful) {
            return plan;
        }
    }
}

/// Who is planned for, and what is to be said about it.
fn planned_for(class: &Class) -> (Vec<Member>, Vec<String>) {
    let mut problems = Vec::new();
    let mut members = class.members.clone();
    if members.len() > MOST_MEMBERS {
        problems.push(format!("I plan for the first {MOST_MEMBERS} of {} members.", members.len()));
        members.truncate(MOST_MEMBERS);
    }
    if members.is_empty() {
        problems.push(
            "Nobody is booked yet. The versions are made for the model levels; book members to place them."
                .to_owned(),
        );
    }
    (members, problems)
}

/// The halves of the class in a workout, where half of it lifts the block before meanwhile.
fn halves_at(strength: &[StrengthPlan], sheet: &Sheet, at: usize, members: usize) -> Option<Vec<Vec<usize>>> {
    let s = strength.iter().find(|s| s.halves && s.block < at)?;
    let next = sheet.blocks.iter().enumerate().skip(s.block + 1).find(|(_, b)| b.on_the_clock());
    (next.map(|(i, _)| i) == Some(at) && members > 1).then(|| groups::halves(s, members))
}

/// The plans of all blocks with lifts.
fn strengths(
    of: &PlanOf,
    sheet: &Sheet,
    members: &[Member],
    settings: &Settings,
    memo: &dyn Memo,
) -> Result<Vec<StrengthPlan>, Stopped> {
    let lifts = sheet.blocks.iter().enumerate().filter(|(_, b)| !b.lifts.is_empty() || !b.builds.is_empty());
    lifts
        .map(|(index, block)| {
            let input = StrengthOf {
                index,
                block,
                members,
                kit: &of.class.kit,
                settings,
                date: of.class.date,
                decisions: decision::of_strength(of.decisions, index),
                cycles: &of.class.cycles,
            };
            Ok(StrengthPlan::clone(&*recall(memo, &input)?))
        })
        .collect()
}

/// Blocks with the lifts that are really done: what a cycle says stands in the place of its line.
fn as_today(blocks: &[Block], strength: &[StrengthPlan]) -> Vec<Block> {
    let mut out = blocks.to_vec();
    for s in strength {
        let Some(b) = out.get_mut(s.block) else { continue };
        b.builds = s.lifts.iter().filter_map(|l| l.heavy.as_ref()).map(|h| h.build.clone()).collect();
        b.lifts = s.lifts.iter().filter(|l| l.heavy.is_none()).map(|l| l.sets.clone()).collect();
    }
    out
}

impl ClassPlan {
    /// Reps of each guarded pattern behind a member's result in a version of a block.
    pub fn volume_done(&self, block: usize, member: &str, tier: Tier, outcome: &Outcome) -> Volume {
        let found = || {
            let w = self.workouts.iter().find(|w| w.block == block)?;
            let i = self.members.iter().position(|m| m.id == member)?;
            let own = w.placed.get(i).filter(|p| p.tier == tier).map(|p| &p.work);
            let work = own.or_else(|| w.versions.iter().find(|v| v.tier == tier).map(|v| &v.work))?;
            Some(volume_done(work, self.members.get(i)?.standard, outcome))
        };
        found().unwrap_or_default()
    }

    /// Things to look at in the versions: members likely outside the window, work to scale, a window that is assumed.
    pub fn to_look_at(&self) -> usize {
        self.workouts
            .iter()
            .map(|w| {
                let assumed = usize::from(
                    w.stimulus.as_ref().is_some_and(|s| s.said == crate::stimulus::Said::Assumed),
                );
                assumed + w.placed.iter().filter(|p| w.off(p).is_some()).count()
            })
            .sum()
    }
}

#[cfg(test)]
mod tests;
