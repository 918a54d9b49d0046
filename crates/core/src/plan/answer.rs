//! The plan as other programs see it (`plan --format json`) and as it is frozen beside a class's results.

use super::told::Told;
use super::{ClassPlan, WorkoutPlan};
use crate::cautions::of_the_day;
use crate::learning::Foretold;
use crate::loads::MemberLift;
use crate::reason::Reason;
use crate::sheet::TargetUnit;
use crate::stimulus::Stimulus;
use crate::units::{Provenance, Standard, Unit};
use crate::versions::{Line, Personal, Placed, PredictionUnit, Splits, Tier, Version, Work};
use serde::{Deserialize, Serialize};

/// Name and number of the format.
pub const SCHEMA: &str = "lantern-plan/1";

/// A plan in the open format; durations in whole seconds, loads in kg.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct PlanAnswer {
    pub schema: String,
    pub title: Option<String>,
    pub hour: HourAnswer,
    pub warm_up: Vec<DrillAnswer>,
    pub strength: Vec<StrengthAnswer>,
    pub versions: Vec<VersionAnswer>,
    pub members: Vec<MemberAnswer>,
    pub cautions: Vec<CautionAnswer>,
    pub problems: Vec<String>,
    /// What is said of the day as a whole: what nobody has yet, what is short.
    #[serde(default)]
    pub notes: Vec<String>,
}

/// The hour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct HourAnswer {
    pub length_s: u32,
    pub overrun_s: u32,
    pub blocks: Vec<HourBlock>,
}

/// A part of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct HourBlock {
    pub kind: String,
    pub start_s: u32,
    pub length_s: u32,
}

/// A line of the warm-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct DrillAnswer {
    pub name: String,
    pub kind: String,
    pub seconds: u32,
    pub regions: Vec<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drill: Option<String>,
}

/// Who shares a rack for a lift.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct StrengthAnswer {
    pub block: usize,
    pub lift: String,
    pub racks: Vec<RackAnswer>,
}

/// One rack.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct RackAnswer {
    pub members: Vec<String>,
    pub moves: u32,
}

/// One version.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct VersionAnswer {
    pub block: usize,
    pub tier: Tier,
    pub lines: Vec<LineAnswer>,
    pub rounds: Option<u32>,
    pub seconds: Option<u32>,
    pub board_reps: [f64; 2],
    /// The version in one sentence.
    #[serde(default)]
    pub says: String,
    /// How many instructions it takes.
    #[serde(default)]
    pub spoken: usize,
    /// They, one by one.
    #[serde(default)]
    pub instructions: Vec<String>,
    /// Its guide weights, kg of one implement, in the order of its loaded lines.
    #[serde(default)]
    pub guide: Vec<[f64; 2]>,
    /// For whom it was made.
    #[serde(default)]
    pub made_for: String,
}

/// A line of what a member really does.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct OwnLine {
    pub block: usize,
    pub line: usize,
    pub movement: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub variant: Option<String>,
    /// One for all rounds, or one for each.
    pub counts: Vec<f64>,
    pub unit: Unit,
    /// Of one implement; `None` where nothing is held.
    #[serde(default)]
    pub load_kg: Option<f64>,
    pub text: String,
}

/// A line of a version.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct LineAnswer {
    pub movement: String,
    /// None where it is done as much as possible.
    pub count: Option<CountAnswer>,
    pub unit: Unit,
    /// Part of the block, from 0.
    #[serde(default, skip_serializing_if = "first_part")]
    pub part: usize,
    /// When it is done, where it does not stand in the list.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub around: Option<crate::sheet::When>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load_kg: Option<[f64; 2]>,
    pub text: String,
}

fn first_part(part: &usize) -> bool {
    *part == 0
}

/// One count, one for each standard, or one for each round.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
#[allow(missing_docs)]
pub enum CountAnswer {
    Each(f64),
    ByStandard([f64; 2]),
    Rounds(Vec<f64>),
}

/// A member's plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct MemberAnswer {
    pub name: String,
    pub id: String,
    /// By which weights and counts; `None` in plans from before it was kept.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub standard: Option<Standard>,
    pub tier: Option<Tier>,
    /// Lines of their own that must be said: a movement or a count.
    pub personal: Vec<String>,
    /// Weights and heights of their own: on the card, not said aloud.
    #[serde(default)]
    pub weights: Vec<String>,
    /// What they do, line by line.
    #[serde(default)]
    pub lines: Vec<OwnLine>,
    /// What keeps them from Full, or changed a line.
    #[serde(default)]
    pub reason_kinds: Vec<crate::versions::Hinder>,
    /// More, for who will be early: offered, not assigned.
    #[serde(default)]
    pub offers: Vec<String>,
    /// What a limit changes: the coach's and the member's own to see.
    #[serde(default)]
    pub private: Vec<String>,
    pub reasons: Vec<String>,
    /// The same with code, figures and a private mark; empty in plans from before they were kept.
    #[serde(default)]
    pub why: Vec<Told>,
    pub loads: Vec<BlockLoads>,
    pub predictions: Vec<PredictionAnswer>,
    pub splits_s: Vec<Vec<u32>>,
    pub set_plan: Vec<SetPlanAnswer>,
}

/// A member's weights for a lift.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct BlockLoads {
    pub block: usize,
    pub lift: String,
    pub base: String,
    pub base_kg: f64,
    pub provenance: Provenance,
    pub sets: Vec<AnswerSet>,
}

/// One set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct AnswerSet {
    pub reps: u32,
    pub percent: Option<f64>,
    pub load_kg: f64,
    pub per_side_kg: Vec<f64>,
    pub warm_up: bool,
}

/// A member's range.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct PredictionAnswer {
    pub block: usize,
    pub tier: Tier,
    pub unit: PredictionUnit,
    pub p10: f64,
    pub p50: f64,
    pub p90: f64,
    pub deciles: [f64; 9],
    pub on_stimulus: f64,
    pub capped: f64,
    /// Where the clock stops, s: a capped result stands here.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub cap_s: Option<f64>,
    pub provenance: Provenance,
    /// What is known least of all that the result hangs on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub weakest: Option<String>,
    /// On an open clock: share of the runs that go on as they began.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub steady: Option<f64>,
    pub scale_this: Option<String>,
    /// What was foretold before results moved it; a result is learnt from by this.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub foretold: Option<Foretold>,
    /// Results of the member's own that moved it.
    #[serde(default, skip_serializing_if = "no_results")]
    pub results: u32,
    /// The window that the chance is of, either end open; none where the chance is not of a score alone.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub window: Option<[Option<f64>; 2]>,
}

#[expect(clippy::trivially_copy_pass_by_ref, reason = "the serializer asks so")]
fn no_results(n: &u32) -> bool {
    *n == 0
}

/// How a member breaks a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct SetPlanAnswer {
    pub block: usize,
    pub movement: String,
    pub round: u32,
    pub sets: Vec<f64>,
    pub rest_s: u32,
}

/// A safety note.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub struct CautionAnswer {
    pub tag: String,
    #[serde(rename = "where")]
    pub place: String,
    pub says: String,
}

impl PlanAnswer {
    /// The same with what was on a screen before: whoever does the same lines of the same version keeps the prediction that was shown
    /// for them, whatever was typed, tested or learnt since.
    #[must_use]
    pub fn as_shown(mut self, shown: &PlanAnswer) -> PlanAnswer {
        for m in &mut self.members {
            let Some(then) = shown.members.iter().find(|x| x.id == m.id) else { continue };
            let of = |a: &MemberAnswer, block: usize| {
                a.lines.iter().filter(|l| l.block == block).map(|l| l.text.clone()).collect::<Vec<_>>()
            };
            let lines: Vec<bool> =
                m.predictions.iter().map(|p| of(m, p.block) == of(then, p.block)).collect();
            for (p, same) in m.predictions.iter_mut().zip(lines) {
                let before = then.predictions.iter().find(|x| x.block == p.block && x.tier == p.tier);
                if let Some(before) = before.filter(|_| same) {
                    *p = before.clone();
                }
            }
        }
        self
    }

    /// The same with blocks of other numbers; what belongs to a block that has none is left out.
    #[must_use]
    pub fn at_blocks(mut self, to: impl Fn(usize) -> Option<usize>) -> PlanAnswer {
        fn moved<T>(
            list: &mut Vec<T>,
            to: impl Fn(usize) -> Option<usize>,
            of: impl Fn(&mut T) -> &mut usize,
        ) {
            list.retain_mut(|x| {
                let block = of(x);
                to(*block).map(|b| *block = b).is_some()
            });
        }
        moved(&mut self.strength, &to, |x| &mut x.block);
        moved(&mut self.versions, &to, |x| &mut x.block);
        for m in &mut self.members {
            moved(&mut m.lines, &to, |x| &mut x.block);
            moved(&mut m.loads, &to, |x| &mut x.block);
            moved(&mut m.predictions, &to, |x| &mut x.block);
            moved(&mut m.set_plan, &to, |x| &mut x.block);
        }
        self
    }
}

impl PlanAnswer {
    /// This plan with what a later one says of every block but those that are kept: what was foretold of them stays.
    #[must_use]
    pub fn with_others(self, later: PlanAnswer, kept: &[usize]) -> PlanAnswer {
        let mut out = self.at_blocks(|b| kept.contains(&b).then_some(b));
        let later = later.at_blocks(|b| (!kept.contains(&b)).then_some(b));
        out.strength.extend(later.strength);
        out.versions.extend(later.versions);
        for m in later.members {
            match out.members.iter_mut().find(|x| x.id == m.id) {
                Some(x) => {
                    x.lines.extend(m.lines);
                    x.loads.extend(m.loads);
                    x.predictions.extend(m.predictions);
                    x.set_plan.extend(m.set_plan);
                }
                None => out.members.push(m),
            }
        }
        out
    }
}

/// The plan in the open format.
pub fn answer(plan: &ClassPlan) -> PlanAnswer {
    let h = &plan.hour;
    let name = |i: &usize| plan.members.get(*i).map(|m| m.name.clone()).unwrap_or_default();
    PlanAnswer {
        schema: SCHEMA.to_owned(),
        title: plan.title.clone(),
        hour: HourAnswer {
            length_s: h.length_s,
            overrun_s: h.overrun_s,
            blocks: h
                .slots
                .iter()
                .map(|s| HourBlock { kind: s.part.id().to_owned(), start_s: s.start_s, length_s: s.length_s })
                .collect(),
        },
        warm_up: plan
            .warm_up
            .steps
            .iter()
            .map(|s| DrillAnswer {
                name: s.said(),
                kind: s.part.id().to_owned(),
                seconds: s.seconds,
                regions: s.regions.clone(),
                drill: s.drill.clone(),
            })
            .collect(),
        strength: plan
            .strength
            .iter()
            .flat_map(|s| s.lifts.iter().map(move |l| (s.block, l)))
            .map(|(block, l)| StrengthAnswer {
                block,
                lift: l.sets.movement.id().unwrap_or("").to_owned(),
                racks: l
                    .racks
                    .racks
                    .iter()
                    .map(|r| RackAnswer { members: r.members.iter().map(&name).collect(), moves: r.moves })
                    .collect(),
            })
            .collect(),
        versions: plan
            .workouts
            .iter()
            .flat_map(|w| w.versions.iter().map(move |v| version(w.block, v)))
            .collect(),
        members: (0..plan.members.len()).map(|i| member(plan, i)).collect(),
        cautions: of_the_day(&plan.cautions)
            .into_iter()
            .chain(plan.cautions.iter().filter(|c| c.block.is_none()))
            .map(|c| CautionAnswer { tag: c.tag.clone(), place: c.at.clone(), says: c.says.clone() })
            .collect(),
        problems: plan.problems.clone(),
        notes: plan.workouts.iter().flat_map(WorkoutPlan::says).collect(),
    }
}

fn version(block: usize, v: &Version) -> VersionAnswer {
    let (tier, work) = (v.tier, &v.work);
    let lines = work
        .lines
        .iter()
        .map(|l| LineAnswer {
            movement: l.movement.clone(),
            count: match l.counts.as_slice() {
                [] => None,
                [[a, b]] if (a - b).abs() < 1e-9 => Some(CountAnswer::Each(*a)),
                [pair] => Some(CountAnswer::ByStandard(*pair)),
                many => Some(CountAnswer::Rounds(many.iter().map(|c| c[0]).collect())),
            },
            part: l.part,
            around: l.around,
            unit: l.unit,
            load_kg: l.kg(),
            text: l.text(),
        })
        .collect();
    let seconds = work.clock_s().map(|s| s as u32);
    VersionAnswer {
        block,
        tier,
        lines,
        rounds: seconds.is_none().then_some(work.rounds() as u32),
        seconds,
        board_reps: crate::units::Standard::BOTH.map(|s| crate::versions::board_reps(work, s)),
        says: v.says(),
        spoken: v.instructions.len(),
        instructions: v.instructions.iter().map(crate::versions::Instruction::says).collect(),
        guide: work.lines.iter().filter_map(Line::kg).collect(),
        made_for: v.made_for.clone(),
    }
}

fn member(plan: &ClassPlan, i: usize) -> MemberAnswer {
    let m = plan.members.get(i);
    let placed: Vec<_> =
        plan.workouts.iter().filter_map(|w| Some((w, w.placed.get(i)?, w.splits.get(i)?))).collect();
    let loads: Vec<BlockLoads> = plan
        .strength
        .iter()
        .flat_map(|s| s.lifts.iter().filter_map(move |l| Some(block_loads(s.block, l.of(i)?))))
        .collect();
    let of_lifts =
        plan.strength.iter().flat_map(|s| &s.lifts).filter_map(|l| l.of(i)).flat_map(|l| l.reasons.clone());
    let of_lifts: Vec<Reason> = of_lifts.collect();
    let said = |r: &Reason| crate::say::reason(r, plan.unit);
    let of_work = placed.iter().flat_map(|(_, p, _)| p.why());
    let said_of_work = placed.iter().flat_map(|(_, p, _)| p.says(plan.unit));
    MemberAnswer {
        name: m.map(|m| m.name.clone()).unwrap_or_default(),
        id: m.map(|m| m.id.clone()).unwrap_or_default(),
        standard: m.map(|m| m.standard),
        tier: placed.first().map(|(_, p, _)| p.tier),
        personal: own_lines(&placed, |x| !x.private() && !x.weight),
        weights: own_lines(&placed, |x| !x.private() && x.weight),
        private: own_lines(&placed, |x| x.private()),
        lines: placed.iter().flat_map(|(w, p, _)| member_lines(w.block, p, m)).collect(),
        reason_kinds: placed.first().map_or_else(Vec::new, |(_, p, _)| p.hinders.clone()),
        offers: placed.iter().flat_map(|(_, p, _)| p.offers.iter().cloned()).collect(),
        reasons: said_of_work.chain(of_lifts.iter().map(said)).collect(),
        why: of_work.chain(of_lifts.iter().cloned()).map(|r| Told::of(r, plan.unit)).collect(),
        loads,
        predictions: placed
            .iter()
            .filter_map(|(w, p, _)| Some(prediction(w.block, p, w.stimulus.as_ref()?)))
            .collect(),
        splits_s: placed
            .iter()
            .map(|(_, _, s)| s.round_ends.iter().map(|t| t.round().max(0.0) as u32).collect())
            .collect(),
        set_plan: placed.iter().flat_map(|(w, p, s)| set_plan(w.block, &p.work, s)).collect(),
    }
}

/// What a member does of a block.
fn member_lines(block: usize, p: &Placed, m: Option<&crate::roster::Member>) -> Vec<OwnLine> {
    let Some(m) = m else { return Vec::new() };
    let of = |(line, l): (usize, &Line)| OwnLine {
        block,
        line,
        movement: l.movement.clone(),
        variant: l.variant.clone(),
        counts: l.counts.iter().map(|c| m.standard.of(*c)).collect(),
        unit: l.unit,
        load_kg: l.kg().map(|kg| m.standard.of(kg)),
        text: l.text_for(m.standard),
    };
    p.work.lines.iter().enumerate().map(of).collect()
}

fn prediction(block: usize, p: &crate::versions::Placed, s: &Stimulus) -> PredictionAnswer {
    let r = &p.predicted.prediction;
    let tidy = |v: f64| match s.unit {
        TargetUnit::Seconds | TargetUnit::Rest => v.round(),
        TargetUnit::Rounds => (v * 100.0).round() / 100.0,
        TargetUnit::Reps => v.round(),
    };
    let hundredth = |v: f64| (v * 100.0).round() / 100.0;
    PredictionAnswer {
        block,
        tier: p.tier,
        unit: r.unit,
        p10: tidy(r.p10()),
        p50: tidy(r.p50()),
        p90: tidy(r.p90()),
        deciles: r.deciles.map(tidy),
        on_stimulus: hundredth(r.on_stimulus),
        capped: hundredth(r.capped),
        cap_s: s.cap_s.filter(|_| s.is_time()),
        provenance: r.provenance,
        weakest: r.weakest.clone(),
        steady: r.steady.map(hundredth),
        scale_this: r.scale_this.as_ref().map(crate::say::beyond),
        foretold: r.foretold,
        results: r.results,
        window: window(p, r.steady, s),
    }
}

/// The window of a member's version, where the chance is of nothing else.
fn window(p: &crate::versions::Placed, steady: Option<f64>, s: &Stimulus) -> Option<[Option<f64>; 2]> {
    let window = p.work.keeps(s);
    (steady.is_none() && !window.no_window()).then(|| [window.low, window.top()])
}

/// Lines of a member's own that pass a test, in the order of the workouts.
fn own_lines(placed: &[(&WorkoutPlan, &Placed, &Splits)], fits: impl Fn(&Personal) -> bool) -> Vec<String> {
    placed.iter().flat_map(|(_, p, _)| &p.personal).filter(|x| fits(x)).map(|x| x.text.clone()).collect()
}

fn block_loads(block: usize, l: &MemberLift) -> BlockLoads {
    let tenth = |v: f64| (v * 10.0).round() / 10.0;
    BlockLoads {
        block,
        lift: l.lift.clone(),
        base: l.base.words.clone(),
        base_kg: tenth(l.base.kg),
        provenance: l.base.provenance,
        sets: l
            .sets
            .iter()
            .map(|s| AnswerSet {
                reps: s.reps,
                percent: s.percent.map(tenth),
                load_kg: s.load_kg,
                per_side_kg: s.per_side_kg.clone(),
                warm_up: s.warm_up,
            })
            .collect(),
    }
}

/// Names of the positions of a round: every line and what goes along with it.
pub(super) fn positions(work: &Work) -> Vec<&str> {
    work.lines
        .iter()
        .flat_map(|l| std::iter::once(l.movement.as_str()).chain(l.along.iter().map(|a| a.movement.as_str())))
        .collect()
}

fn set_plan(block: usize, work: &Work, s: &Splits) -> Vec<SetPlanAnswer> {
    let names = positions(work);
    s.lines
        .iter()
        .map(|l| SetPlanAnswer {
            block,
            movement: names.get(l.position).copied().unwrap_or("").to_owned(),
            round: l.round as u32 + 1,
            sets: l.sets.iter().map(|n| n.round()).collect(),
            rest_s: l.rest_s.round() as u32,
        })
        .collect()
}
