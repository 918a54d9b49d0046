//! One member's run: drawn on the clock, with all that a coach tells them about it.
#![allow(missing_docs)] // fields of views are named by what the template prints

use super::shown_rounds;
use crate::class_page::ClassPage;
use crate::draw::strip::strip;
use crate::pages::Mark;
use lantern_core::loads::Bars;
use lantern_core::movement::say::spoken;
use lantern_core::pacing::Style;
use lantern_core::plan::{
    Memo, OtherLoad, WorkoutPlan, even_targets, first_bite, interruption, machine_paces, other_loads, recall,
    rows, seconds_by_kind, shared_bars, traced_at_middle,
};
use lantern_core::roster::Ability;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{Standard, clock, in_ten, plain};
use lantern_core::versions::{Breaking, Effort, Placed, Splits, Tier, Work, breakings, breakings_by_line};
use std::sync::Arc;

/// Sets of a line beyond which their clock times are no help.
const MOST_SETS: usize = 6;

/// One member's run on the clock.
pub struct RunView {
    pub member: String,
    pub tier: Tier,
    pub strip: String,
    /// Work, breaks, rests, changes.
    pub sums: [String; 4],
    pub compared: Arc<Compared>,
    /// Where it first bites.
    pub bite: String,
    /// Lines broken into sets, with the clock at which each set is picked up: (line, round, sets).
    pub picked_up: Vec<(String, String, String)>,
    /// Sentences: interruptions, shared bars, even targets.
    pub advice: Vec<String>,
    pub machines: Vec<MachineView>,
}

/// What is run again for one member beside the plan.
pub struct Compared {
    /// Ways to break all sets.
    pub ways: Vec<Way>,
    /// The same for each movement alone.
    pub each: Vec<(String, Vec<EachView>)>,
    /// What another weight would give, by movement.
    pub loads: Vec<(String, Vec<LoadView>)>,
}

pub struct MachineView {
    pub text: String,
    pub pace: String,
    pub against: String,
    pub mark: Mark,
    pub equal: String,
}

/// One way for one movement.
pub struct EachView {
    pub name: String,
    pub middle: String,
    pub broken: String,
}

pub struct LoadView {
    pub text: String,
    pub middle: String,
    pub range: String,
    pub chance: String,
    pub now: bool,
}

/// A way to break the sets, with what it would give.
pub struct Way {
    pub name: String,
    pub middle: String,
    pub range: String,
    pub chance: String,
    pub sets: u32,
    pub broken: String,
    pub own: bool,
}

/// The run of a member, drawn on the clock at the middle of their range.
pub fn run_of(page: &ClassPage, memo: &dyn Memo, w: &WorkoutPlan, member: usize) -> Option<RunView> {
    let (p, m) = (w.placed.get(member)?, page.plan.members.get(member)?);
    let run = traced_at_middle(p, w.stimulus.as_ref()?)?;
    let drawn = rows(&p.work, &run);
    let sums = seconds_by_kind(&run).map(clock);
    let aloud = format!(
        "{}: {} of work, {} of breaks, {} of rest, {} of changes",
        m.name, sums[0], sums[1], sums[2], sums[3]
    );
    let (stimulus, ability) = (w.stimulus.as_ref()?, page.plan.abilities.get(member)?);
    let splits = w.splits.get(member)?;
    let bite = first_bite(&p.work, &run).map(|b| format!("{}: {}.", clock(b.at_s), b.says));
    let inputs = (
        &p.work,
        m,
        stimulus,
        page.class.seed,
        page.gym.settings.runs,
        page.class.starts_at.date(),
        &page.kit,
    );
    let school = w.schools.school("set-breaking");
    let compared = recall(memo, "compared", (inputs, school), || Compared {
        ways: ways(page, w, member),
        each: each_movement(page, w, member),
        loads: loads(page, w, member),
    });
    Some(RunView {
        bite: bite.unwrap_or_else(|| "No break and no slowing down in the whole of it.".to_owned()),
        picked_up: picked_up(&p.work, splits),
        advice: advice(p, splits, m.standard, ability, stimulus),
        machines: machine_paces(p, splits, m, ability)
            .into_iter()
            .map(|x| MachineView {
                text: x.text,
                pace: x.pace,
                against: x.against,
                mark: Mark::of(x.provenance),
                equal: x.equal.join(", "),
            })
            .collect(),
        member: m.name.clone(),
        tier: p.tier,
        strip: strip(&drawn, &run.round_ends, &aloud),
        sums,
        compared,
    })
}

/// Every line that is broken, in the rounds that are shown: (line, round, sets with their clock).
fn picked_up(work: &Work, splits: &Splits) -> Vec<(String, String, String)> {
    let names: Vec<String> = work.positions().map(spoken).collect();
    let rounds = shown_rounds(splits.lines.iter().map(|l| l.round + 1).max().unwrap_or(0));
    splits
        .lines
        .iter()
        .filter(|l| (2..=MOST_SETS).contains(&l.sets.len()) && rounds.contains(&l.round))
        .map(|l| {
            let name = names.get(l.position).cloned().unwrap_or_default();
            (name, format!("round {}", l.round + 1), l.on_the_clock())
        })
        .collect()
}

/// What else to tell a member, in sentences.
fn advice(p: &Placed, splits: &Splits, standard: Standard, a: &Ability, s: &Stimulus) -> Vec<String> {
    let targets = even_targets(p, standard, a);
    let even = (!targets.is_empty()).then(|| {
        let all: Vec<String> = targets.iter().map(|(name, n)| format!("{} {name}", plain(*n))).collect();
        format!("So that the last round equals the first: {} each round.", all.join(", "))
    });
    interruption(p, standard, a, s)
        .into_iter()
        .chain(shared_bars(p, splits, standard, a))
        .chain(even)
        .collect()
}

fn loads(page: &ClassPage, w: &WorkoutPlan, member: usize) -> Vec<(String, Vec<LoadView>)> {
    let (Some(p), Some(s)) = (w.placed.get(member), w.stimulus.as_ref()) else { return Vec::new() };
    let (Some(m), Some(a)) = (page.plan.members.get(member), page.plan.abilities.get(member)) else {
        return Vec::new();
    };
    let bars = Bars::of(&page.kit);
    let style = Style::of_school(w.schools.school("set-breaking"));
    let effort = Effort { runs: page.gym.settings.runs, seed: page.class.seed, style };
    let view = |o: &OtherLoad| {
        let r = &o.prediction;
        let beyond = r.scale_this.is_some();
        LoadView {
            text: o.text.clone(),
            middle: if beyond { "beyond them".to_owned() } else { s.write(r.p50()) },
            range: if beyond {
                String::new()
            } else {
                format!("{}–{}", s.write(r.p10()), s.write(r.p90()))
            },
            chance: if beyond { String::new() } else { in_ten(r.on_stimulus) },
            now: o.now,
        }
    };
    other_loads(p, m, a, s, (&page.kit, &bars), effort)
        .into_iter()
        .map(|(name, all)| (name, all.iter().map(view).collect()))
        .collect()
}

fn each_movement(page: &ClassPage, w: &WorkoutPlan, member: usize) -> Vec<(String, Vec<EachView>)> {
    let (Some(p), Some(s)) = (w.placed.get(member), w.stimulus.as_ref()) else { return Vec::new() };
    let (Some(m), Some(a)) = (page.plan.members.get(member), page.plan.abilities.get(member)) else {
        return Vec::new();
    };
    let cell = |b: &Breaking| EachView {
        name: b.name.clone(),
        middle: s.write(b.prediction.p50()),
        broken: breaks(b.broken),
    };
    breakings_by_line(p, m.standard, a, s, page.class.seed)
        .into_iter()
        .map(|(line, ways)| (line, ways.iter().map(cell).collect()))
        .collect()
}

/// How often a set ends before it was meant to.
fn breaks(share: f64) -> String {
    if share > 0.0 { in_ten(share) } else { "in none".to_owned() }
}

fn ways(page: &ClassPage, w: &WorkoutPlan, member: usize) -> Vec<Way> {
    let (Some(p), Some(s)) = (w.placed.get(member), w.stimulus.as_ref()) else { return Vec::new() };
    let (Some(m), Some(a)) = (page.plan.members.get(member), page.plan.abilities.get(member)) else {
        return Vec::new();
    };
    breakings(p, m.standard, a, s, page.class.seed)
        .into_iter()
        .map(|b| {
            let r = &b.prediction;
            Way {
                name: b.name,
                middle: s.write(r.p50()),
                range: format!("{}–{}", s.write(r.p10()), s.write(r.p90())),
                chance: in_ten(r.on_stimulus),
                sets: b.sets,
                broken: breaks(b.broken),
                own: b.own,
            }
        })
        .collect()
}
