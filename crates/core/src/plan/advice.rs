//! What a coach tells one member about their workout: where it bites, what an interruption costs, what another weight gives,
//! a bar that need not be put down, even targets for stations, the pace on a machine. All from the member's own runs.

use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{LoadKind, catalogue, say::spoken};
use crate::pacing::params::TRANS;
use crate::pacing::{Did, Pace, Run, all_out, equal, resolve, settle, simulate_tasks, table, tasks_for};
use crate::roster::{Ability, Member};
use crate::sheet::When;
use crate::stimulus::Stimulus;
use crate::units::{Provenance, Standard, Unit, clock, plain};
use crate::versions::{
    Clock, Effort, Placed, Prediction, Splits, Weight, Work, at_hand, compile_lines, line_kg, predict,
    quick_score,
};

/// A piece of work is slower than fresh from this on, where nothing is broken (own).
const SLOWED: f64 = 1.12;
/// Runs of a weight that is only looked at.
const LOOK_RUNS: u32 = 40;
/// Shares of the weight that are looked at.
const OTHER_LOADS: [f64; 5] = [1.1, 0.9, 0.8, 0.7, 0.6];

/// The first moment at which the work bites.
#[derive(Debug, Clone, PartialEq)]
pub struct Bite {
    /// s on the clock.
    pub at_s: f64,
    /// In words: `first break in toes to bar, after 8 in round 1`.
    pub says: String,
}

/// Where a run first needs a break, or first slows down; `None` where it never does.
pub fn first_bite(work: &Work, run: &Run) -> Option<Bite> {
    let names: Vec<String> = work
        .lines
        .iter()
        .flat_map(|l| std::iter::once(spoken(&l.movement)).chain(l.along.iter().map(|a| spoken(&a.movement))))
        .collect();
    let name = |line: usize| names.get(line).cloned().unwrap_or_default();
    let round =
        |r: u32| if run.round_ends.len() > 1 { format!(" in round {}", r + 1) } else { String::new() };
    let mut fresh: Vec<(usize, f64)> = Vec::new();
    let mut last = 0.0;
    for s in &run.trace {
        match s.did {
            Did::Break if s.to - s.from > 0.5 => {
                let after = plain(f64::round(last));
                let says = format!("first break, in {} after {after}{}", name(s.line), round(s.round));
                return Some(Bite { at_s: s.from, says });
            }
            Did::Work if s.units > 0.0 => {
                last = s.units;
                let pace = (s.to - s.from) / s.units;
                match fresh.iter().find(|(slot, _)| *slot == s.slot) {
                    Some((_, first)) if pace > SLOWED * first => {
                        let says = format!("{} first slows down{}", name(s.line), round(s.round));
                        return Some(Bite { at_s: s.from, says });
                    }
                    Some(_) => {}
                    None => fresh.push((s.slot, pace)),
                }
            }
            _ => {}
        }
    }
    None
}

/// What the interruptions or the price of breaks cost: the middle with and without them, in words.
pub fn interruption(
    p: &Placed,
    standard: Standard,
    ability: &Ability,
    stimulus: &Stimulus,
) -> Option<String> {
    let interrupts = |w: Option<When>| matches!(w, Some(When::OnTheClock { .. } | When::OnBreak));
    let line = p.work.lines.iter().find(|l| interrupts(l.around))?;
    let mut without = p.work.clone();
    let places: Vec<usize> = (0..without.lines.len())
        .filter(|i| without.lines.get(*i).is_some_and(|l| interrupts(l.around)))
        .collect();
    for i in places.into_iter().rev() {
        without.remove(i);
    }
    let score = |w: &Work| quick_score(w, standard, &ability.athlete, stimulus).score;
    let (with, bare) = (score(&p.work), score(&without));
    if !with.is_finite() || !bare.is_finite() {
        return None;
    }
    let what = line.text_for(standard);
    Some(if stimulus.is_time() {
        format!(
            "“{what}” costs about {} in all: without it about {}.",
            clock((with - bare).max(0.0)),
            clock(bare)
        )
    } else {
        format!("“{what}” takes it from {} to {}.", stimulus.write(bare), stimulus.write(with))
    })
}

/// Another weight on a line, with what it would give.
#[derive(Debug, Clone, PartialEq)]
pub struct OtherLoad {
    /// The line as it would stand.
    pub text: String,
    /// It is the weight of the plan.
    pub now: bool,
    /// The range.
    pub prediction: Prediction,
}

/// Every heavier and lighter weight of a member's loaded lines that the hall has, with what each gives: (line, weights).
pub fn other_loads(
    p: &Placed,
    member: &Member,
    ability: &Ability,
    stimulus: &Stimulus,
    (kit, bars): (&Kit, &Bars),
    effort: Effort,
) -> Vec<(String, Vec<OtherLoad>)> {
    let effort = Effort { runs: LOOK_RUNS.min(effort.runs), ..effort };
    let look = |work: &Work| predict(work, member.standard, ability, stimulus, effort).prediction;
    let mut out = Vec::new();
    for (i, line) in p.work.lines.iter().enumerate() {
        let Some(kg) = line.kg().map(|kg| member.standard.of(kg)) else { continue };
        let mut loads: Vec<f64> = OTHER_LOADS
            .into_iter()
            .filter_map(|f| at_hand(&line.movement, member.standard, kg * f, kit, bars))
            .chain([kg])
            .collect();
        loads.sort_by(|a, b| b.total_cmp(a));
        loads.dedup();
        if loads.len() < 2 {
            continue;
        }
        let all = loads
            .into_iter()
            .map(|load| {
                let mut work = p.work.clone();
                if let Some(l) = work.lines.get_mut(i) {
                    l.weight = Some(Weight::Kg([load; 2]));
                }
                let text = work.lines.get(i).map(|l| l.text_for(member.standard)).unwrap_or_default();
                OtherLoad { text, now: (load - kg).abs() < 1e-9, prediction: look(&work) }
            })
            .collect();
        out.push((spoken(&line.movement), all));
    }
    out
}

/// A movement done with the same bar right after another: how to break so that it is not put down between them.
pub fn shared_bars(p: &Placed, splits: &Splits, standard: Standard, ability: &Ability) -> Vec<String> {
    let work = &p.work;
    let barbell = |id: &str| catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell);
    let mut out = Vec::new();
    for part in 0..work.sections.len() {
        let list: Vec<usize> = work.list(part).map(|(i, _)| i).collect();
        let rests = work.sections.get(part).map_or(&[][..], |s| s.rests.as_slice());
        for pair in list.windows(2) {
            let [a, b] = pair else { continue };
            let (Some(x), Some(y)) = (work.lines.get(*a), work.lines.get(*b)) else { continue };
            let kg = |l| line_kg(l, standard, &ability.athlete);
            let same = barbell(&x.movement)
                && barbell(&y.movement)
                && x.along.is_empty()
                && !rests.iter().any(|(at, _)| at == b)
                && kg(x).zip(kg(y)).is_some_and(|(p, q)| (p - q).abs() < 1e-9);
            if !same {
                continue;
            }
            let sets = |i: usize| splits.lines.iter().filter(move |l| l.position == work.position_of(i));
            let times = sets(*b).count().max(1);
            let last = sets(*a).next().and_then(|l| l.sets.last().copied()).unwrap_or(0.0);
            let setup = table::row(&y.movement).map_or(0.0, |r| r.setup);
            let saved = (TRANS + setup) * ability.athlete.transition * times as f64;
            if last < 2.0 {
                continue;
            }
            out.push(format!(
                "The bar of the {} is that of the {}: rest before the last rep of a round, then lift it and go straight on. \
                 That is one pick-up less each round, about {} in all.",
                spoken(&x.movement),
                spoken(&y.movement),
                clock(saved)
            ));
        }
    }
    out
}

/// Even targets for stations: (line, reps each round), so that the last round equals the first.
pub fn even_targets(p: &Placed, standard: Standard, ability: &Ability) -> Vec<(String, f64)> {
    let work = &p.work;
    let each_open = work.lines.iter().all(|l| l.counts.is_empty());
    let [section] = work.sections.as_slice() else { return Vec::new() };
    if !matches!(section.clock, Clock::Stations { .. } | Clock::OnOff { .. }) || !each_open {
        return Vec::new();
    }
    let a = &ability.athlete;
    let reps = |work: &Work| -> Vec<Vec<f64>> {
        let (workout, _) = compile_lines(work, standard, a, None);
        let tasks = tasks_for(&workout, a, &[]);
        let (policy, _) = settle(&workout, a, &tasks, &p.predicted.policy);
        let run = simulate_tasks(&workout, a, &tasks, &policy, false, true);
        let mut out: Vec<Vec<f64>> = vec![Vec::new(); work.lines.len()];
        let mut window = None;
        for s in run.trace.iter().filter(|s| s.did == Did::Work) {
            let Some(line) = out.get_mut(s.line) else { continue };
            // a new station begins where the line changes or time passed for a rest between
            if window != Some((s.line, s.round)) {
                line.push(0.0);
                window = Some((s.line, s.round));
            }
            if let Some(last) = line.last_mut() {
                *last += s.units;
            }
        }
        out
    };
    let free = reps(work);
    let mean = |v: &[f64]| v.iter().sum::<f64>() / v.len().max(1) as f64;
    for share in (0..=40).map(|i| 1.0 - f64::from(i) * 0.02) {
        let goals: Vec<f64> = free.iter().map(|v| (mean(v) * share).floor().max(1.0)).collect();
        let mut paced = work.clone();
        for (l, g) in paced.lines.iter_mut().zip(&goals) {
            l.counts = vec![[*g; 2]];
        }
        let held = reps(&paced);
        let all = held
            .iter()
            .zip(&goals)
            .zip(&free)
            .all(|((got, goal), free)| got.len() >= free.len() && got.iter().all(|n| n + 1e-6 >= *goal));
        if all {
            return work.lines.iter().zip(goals).map(|(l, g)| (spoken(&l.movement), g)).collect();
        }
    }
    Vec::new()
}

/// The pace of one machine or run in a member's workout.
#[derive(Debug, Clone, PartialEq)]
pub struct MachinePace {
    /// The line: `500 m row`.
    pub text: String,
    /// The pace to hold: `2:05 per 500 m`.
    pub pace: String,
    /// Against the member's own 2 km, or kilometre.
    pub against: String,
    /// How the test is known.
    pub provenance: Provenance,
    /// Amounts of other machines that ask the same: `450 m ski`.
    pub equal: Vec<String>,
}

/// Paces of the machines and runs of a member's workout, by their splits.
pub fn machine_paces(p: &Placed, splits: &Splits, member: &Member, ability: &Ability) -> Vec<MachinePace> {
    let a = &ability.athlete;
    let tested = |test: &str| member.trials.iter().any(|t| t.test == test);
    let mut out = Vec::new();
    for (i, line) in p.work.lines.iter().enumerate() {
        let Some(row) = table::index_for(&line.movement, line.unit).and_then(table::at) else { continue };
        let Some(task) = resolve(a, table::index(&row.id).unwrap_or_default(), 0.0, 1.0, 0) else { continue };
        if task.pace == Pace::Cycle {
            continue;
        }
        let place = p.work.position_of(i);
        let done: Vec<_> = splits.lines.iter().filter(|l| l.position == place).collect();
        let units: f64 = done.iter().flat_map(|l| &l.sets).sum();
        let seconds: f64 = done.iter().map(|l| l.to_s - l.from_s).sum();
        if units <= 0.0 || seconds <= 0.0 {
            continue;
        }
        let per = seconds / units;
        let (pace, against, test) = match (row.id.as_str(), line.unit) {
            ("run", _) => {
                let own = all_out(a, "run", 1000.0).unwrap_or(0.0);
                let says = offset(per * 1000.0 - own, "their kilometre", own);
                (format!("{} per km", clock(per * 1000.0)), says, "run-1000")
            }
            (_, Unit::Calories) => {
                let own = all_out(a, "row", 2000.0).unwrap_or(0.0);
                let rate = format!("{} calories a minute", plain((600.0 / per).round() / 10.0));
                (rate, format!("2 km row {}", clock(own)), "row-2000")
            }
            _ => {
                let own = all_out(a, "row", 2000.0).unwrap_or(0.0) / 4.0;
                (
                    format!("{} per 500 m", clock(per * 500.0)),
                    offset(per * 500.0 - own, "their 2 km", own),
                    "row-2000",
                )
            }
        };
        let amount = if line.counts.is_empty() {
            units / done.len().max(1) as f64
        } else {
            line.count(0, member.standard)
        };
        let same: Vec<String> = equal(a, &row.id, amount).into_iter().map(|(_, words)| words).collect();
        out.push(MachinePace {
            text: line.text_for(member.standard),
            pace,
            against,
            provenance: if tested(test) { Provenance::Tested } else { ability.known.engine },
            equal: same,
        });
    }
    out
}

fn offset(by: f64, what: &str, own: f64) -> String {
    let s = by.round();
    match s {
        s if s > 0.0 => format!("{what} pace of {} and {} s", clock(own), plain(s)),
        s if s < 0.0 => format!("{} s faster than {what} pace of {}", plain(-s), clock(own)),
        _ => format!("{what} pace of {}", clock(own)),
    }
}
