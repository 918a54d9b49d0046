//! Joins the tasks: the plan is a pure function of what the coach knows and decided. Same inputs, same plan.

mod advice;
mod answer;
mod brief;
mod cut;
mod decision;
mod fetch;
mod hours;
mod mark;
mod memo;
mod pace;
mod pairs;
mod share;
mod shout;
mod strength;
mod text;
mod trace;
mod turns;
mod workout;

pub use advice::{
    Bite, MachinePace, OtherLoad, even_targets, first_bite, interruption, machine_paces, other_loads,
    shared_bars,
};
pub use answer::{
    AnswerSet, BlockLoads, CountAnswer, LineAnswer, MemberAnswer, OwnLine, PlanAnswer, PredictionAnswer,
    RackAnswer, SetPlanAnswer, StrengthAnswer, VersionAnswer, answer,
};
pub use brief::{
    Aloud, Breaks, Brief, BriefVersion, BriefWorkout, PaceLine, Purpose, Sentence, Space, Taught, Topic,
    brief,
};
pub use cut::Cut;
pub use decision::{Decision, fit_of, load_by, school_of, settings_with, stimulus_of, version_of};
pub use fetch::{Fetch, Thing};
pub use mark::Mark;
pub use memo::{Forgetful, Kept, Memo, recall};
pub use pace::{Checkpoint, VersionPace};
pub use pairs::{Pairing, pairings};
pub use shout::{MOST_WORDS, Shout, first_rounds};
pub use strength::{Heavy, LiftPlan, StrengthPlan};
pub use text::text;
pub use trace::{Strategy, TraceRow, Traced, rows, seconds_by_kind, traced_at_middle, traced_run};
pub use turns::{LifterState, RackState, lifter_state, new_base, rack_state};
pub use workout::{Expected, PartStimulus, Shares, WorkoutPlan};

use crate::cautions::{Note, notes};
use crate::cycle::Cycle;
use crate::hour::{Hour, Part};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::logbook::{Outcome, volume_done};
use crate::roster::{Ability, Member, Volume, ability};
use crate::settings::Settings;
use crate::sheet::{Block, Sheet};
use crate::units::WeightUnit;
use crate::versions::Tier;
use crate::warmup::{WarmUp, in_shape, warm_up};
use chrono::NaiveDate;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};

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
    /// Drills of the gym's last three sessions.
    pub recent_drills: Vec<String>,
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
    /// As read.
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

/// Makes the plan.
pub fn plan(
    sheet: &Sheet,
    class: &Class,
    settings: &Settings,
    decisions: &[Decision],
    options: Options,
) -> ClassPlan {
    plan_with(sheet, class, settings, decisions, options, &Forgetful)
}

/// Makes the plan; what a memo still knows is not computed again.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub fn plan_with(
    sheet: &Sheet,
    class: &Class,
    settings: &Settings,
    decisions: &[Decision],
    options: Options,
    memo: &dyn Memo,
) -> ClassPlan {
    let settings = &settings_with(settings, decisions);
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
    let known = |m: &Member| recall(memo, "ability", (m, class.date), || ability(m, class.date));
    let abilities: Vec<Ability> = members.par_iter().map(|m| Ability::clone(&known(m))).collect();
    let bars = Bars::of(&class.kit);
    let day = strength::Day {
        members: &members,
        kit: &class.kit,
        bars: &bars,
        settings,
        date: class.date,
        decisions,
        cycles: &class.cycles,
        memo,
    };
    let strength: Vec<StrengthPlan> = sheet
        .blocks
        .iter()
        .enumerate()
        .filter(|(_, b)| !b.lifts.is_empty() || !b.builds.is_empty())
        .map(|(i, b)| {
            let key = (
                i,
                b,
                &members,
                &class.kit,
                settings,
                class.date,
                &decision::of_strength(decisions, i),
                &class.cycles,
            );
            StrengthPlan::clone(&recall(memo, "strength", key, || strength::plan_block(&day, i, b)))
        })
        .collect();
    let workouts: Vec<WorkoutPlan> = sheet
        .blocks
        .iter()
        .enumerate()
        .filter(|(_, b)| b.on_the_clock())
        .map(|(i, b)| workout::plan_block(&day, &abilities, i, b, options))
        .collect();
    problems.extend(workouts.iter().filter_map(|w| w.waits.clone()));
    let hour = hours::plan_hour(sheet, class, settings, decisions, &strength, &workouts);
    let warm_s = hour.slots.iter().find(|s| s.part == Part::WarmUp).map_or(0, |s| s.length_s);
    let warm = warm_up(sheet, warm_s, &class.kit, &class.recent_drills, &decision::swapped(decisions));
    let warm = in_shape(warm, settings.school("general-warm-up"));
    let who: Vec<&Member> = members.iter().collect();
    ClassPlan {
        title: sheet.title.clone(),
        cautions: notes(&as_today(&sheet.blocks, &strength), &who),
        sheet: sheet.clone(),
        hour,
        warm_up: warm,
        strength,
        workouts,
        unit: class.kit.unit,
        problems,
        members,
        abilities,
    }
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
