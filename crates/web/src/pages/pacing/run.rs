//! One member's run: drawn on the clock, with all that a coach tells them about it.
#![allow(missing_docs)] // fields of views are named by what the template prints

use super::shown_rounds;
use crate::class_page::ClassPage;
use crate::draw::strip::strip;
use crate::pages::Mark;
use lantern_core::movement::say::spoken;
use lantern_core::pacing::Style;
use lantern_core::plan::{
    ComparedOf, Memo, OtherLoad, WorkoutPlan, even_targets, first_bite, interruption, machine_paces, recall,
    rows, seconds_by_kind, shared_bars, traced_at_middle,
};
use lantern_core::roster::Ability;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{Standard, clock, in_ten, plain};
use lantern_core::versions::{Breaking, Effort, Placed, Splits, Tier, Work};

/// Sets of a line beyond which their clock times are no help.
const MOST_SETS: usize = 6;

/// One member's run on the clock.
pub struct RunView {
    pub member: String,
    pub tier: Tier,
    pub strip: String,
    /// Work, breaks, rests, changes.
    pub sums: [String; 4],
    /// Ways to break all sets.
    pub ways: Vec<Way>,
    /// The same for each movement alone.
    pub each: Vec<(String, Vec<EachView>)>,
    /// What another weight would give, by movement.
    pub loads: Vec<(String, Vec<LoadView>)>,
    /// Where it first bites.
    pub bite: String,
    /// Lines broken into sets, with the clock at which each set is picked up: (line, round, sets).
    pub picked_up: Vec<(String, String, String)>,
    /// Sentences: interruptions, shared bars, even targets.
    pub advice: Vec<String>,
    pub machines: Vec<MachineView>,
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
    let style = Style::of_school(w.schools.answer());
    let effort = Effort { runs: page.gym.settings.runs, seed: page.class.seed, style };
    let date = page.class.starts_at.date();
    let of = ComparedOf { placed: p, member: m, date, stimulus, kit: &page.kit, effort };
    let compared = recall(memo, &of).ok()?;
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
        ways: compared.ways.iter().map(|b| way_view(b, stimulus)).collect(),
        each: by_name(&compared.each, |b| each_view(b, stimulus)),
        loads: by_name(&compared.loads, |o| load_view(o, stimulus)),
    })
}

/// What is shown of each, under the same names.
fn by_name<T, V>(all: &[(String, Vec<T>)], view: impl Fn(&T) -> V) -> Vec<(String, Vec<V>)> {
    all.iter().map(|(name, of)| (name.clone(), of.iter().map(&view).collect())).collect()
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

fn load_view(o: &OtherLoad, s: &Stimulus) -> LoadView {
    let r = &o.prediction;
    let beyond = r.scale_this.is_some();
    LoadView {
        text: o.text.clone(),
        middle: if beyond { "beyond them".to_owned() } else { s.write(r.p50()) },
        range: if beyond { String::new() } else { format!("{}–{}", s.write(r.p10()), s.write(r.p90())) },
        chance: if beyond { String::new() } else { in_ten(r.on_stimulus) },
        now: o.now,
    }
}

fn each_view(b: &Breaking, s: &Stimulus) -> EachView {
    EachView { name: b.name.clone(), middle: s.write(b.prediction.p50()), broken: breaks(b.broken) }
}

fn way_view(b: &Breaking, s: &Stimulus) -> Way {
    let r = &b.prediction;
    Way {
        name: b.name.clone(),
        middle: s.write(r.p50()),
        range: format!("{}–{}", s.write(r.p10()), s.write(r.p90())),
        chance: in_ten(r.on_stimulus),
        sets: b.sets,
        broken: breaks(b.broken),
        own: b.own,
    }
}

/// How often a set ends before it was meant to.
fn breaks(share: f64) -> String {
    if share > 0.0 { in_ten(share) } else { "in none".to_owned() }
}
