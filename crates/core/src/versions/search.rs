//! The three versions: Full as written, Trim and Base found by coordinate descent over the levers so that the two
//! groups who do not hold the stimulus at Full land in its window.

use super::levers::{Levers, Setting};
use super::personal::too_early_to_swing;
use super::predict::{Quick, far_beyond, quick_score, slot_of, wishes_broken};
use super::work::Work;
use crate::pacing::{Athlete, tasks_for};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use rayon::prelude::*;
use serde::{Deserialize, Serialize};

/// A version's rank.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum Tier {
    Full,
    Trim,
    Base,
}

impl Tier {
    /// Hardest first.
    pub const ALL: [Tier; 3] = [Tier::Full, Tier::Trim, Tier::Base];

    /// Its name.
    pub fn word(self) -> &'static str {
        match self {
            Tier::Full => "Full",
            Tier::Trim => "Trim",
            Tier::Base => "Base",
        }
    }

    /// Its letter.
    pub fn letter(self) -> &'static str {
        match self {
            Tier::Full => "F",
            Tier::Trim => "T",
            Tier::Base => "B",
        }
    }

    /// From a letter or name, in any case.
    pub fn read(text: &str) -> Option<Tier> {
        let low = text.trim().to_ascii_lowercase();
        Tier::ALL
            .into_iter()
            .find(|t| low == t.word().to_ascii_lowercase() || low == t.letter().to_ascii_lowercase())
    }
}

/// Penalty of landing one whole window outside the window.
const MISS: f64 = 10.0;
/// Penalty of work that cannot be done.
const CANNOT: f64 = 60.0;
/// Penalty of a line with many times the largest set in all.
const FAR: f64 = 6.0;
/// Penalty of each set over the wish.
const WISH: f64 = 1.2;
/// Penalty of a load or skill below the first whole set.
const FIRST_SET: f64 = 3.0;
/// Sweeps over all levers.
const SWEEPS: u32 = 3;

/// What each lever costs, by the gym's school (own): movement, load, reps, rounds.
fn lever_costs(settings: &Settings) -> [f64; 4] {
    match settings.school("what-to-scale") {
        "change-movement" => [0.7, 0.9, 1.3, 1.3],
        "cut-time" => [1.3, 1.2, 1.0, 0.5],
        _ => [1.3, 1.0, 0.7, 1.0],
    }
}

/// The athletes for whom a version is made, one of each standard that is there.
pub type Group = Vec<(Standard, Athlete)>;

/// A version found, and what was tried on the way.
#[derive(Debug, Clone)]
pub struct Found {
    /// Position on the levers.
    pub setting: Setting,
    /// The work.
    pub work: Work,
    /// How many candidates were run.
    pub tried: u32,
    /// From the version above to this one, a lever at a time.
    pub path: Vec<Setting>,
}

/// Share of a round's count that the first whole set must reach where the sheet says nothing about sets (own).
const LEAST_FIRST_SET: f64 = 1.0 / 3.0;

/// How many of a line's reps a member must be able to do in one set when fresh.
pub fn first_set(work: &Work, line: usize, stimulus: &Stimulus) -> f64 {
    let Some(l) = work.lines.get(line) else { return 1.0 };
    let sets = stimulus.wishes.iter().find_map(|w| match w {
        crate::sheet::Wish::MostSets { movement, sets } if *movement == l.movement => Some(f64::from(*sets)),
        _ => None,
    });
    let share = if l.unbroken { 1.0 } else { sets.map_or(LEAST_FIRST_SET, |s| 1.0 / s.max(1.0)) };
    (l.largest() * share).ceil().max(1.0)
}

/// Misses grow with their logarithm from two windows on, so that every step towards the window still counts.
fn grown(miss: f64) -> f64 {
    if miss < 2.0 { miss } else { 2.0 + 2.0 * (miss / 2.0).ln() }
}

/// How a candidate fares, by what is asked of it: 0 is best for every part.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Fit {
    /// Windows outside the window, in the mean over the group.
    pub miss: f64,
    /// Sets, shares, rounds and rates that break the stimulus.
    pub wishes: f64,
    /// Lines whose first whole set is beyond the group, or that it may not or cannot do.
    pub beyond: f64,
    /// What the changes cost by the hall's school.
    pub levers: f64,
}

impl Fit {
    /// The sum that the search makes as small as it can.
    pub fn sum(&self) -> f64 {
        self.miss + self.wishes + self.beyond + self.levers
    }
}

fn fit(work: &Work, group: &Group, stimulus: &Stimulus, settings: &Settings) -> Fit {
    let n = group.len().max(1) as f64;
    let stimulus = &work.keeps(stimulus);
    let mut out = Fit::default();
    for (standard, athlete) in group {
        let quick = quick_score(work, *standard, athlete, stimulus);
        let tasks = tasks_for(&quick.workout, athlete, &[]);
        let swung = work
            .lines
            .iter()
            .filter(|l| too_early_to_swing(athlete, &l.movement, settings).is_some())
            .count();
        out.beyond += FIRST_SET * (short_of_first_set(work, &quick, stimulus, &tasks) + swung as f64) / n;
        let cannot = tasks.iter().filter(|t| !t.feasible).count();
        if cannot > 0 {
            out.beyond += CANNOT * cannot as f64 / n;
            continue;
        }
        out.miss += MISS * grown(stimulus.miss(quick.score) + quick.unsteady) / n;
        out.wishes += WISH * wishes_broken(work, &quick, stimulus, &tasks) / n;
        out.beyond += FAR * far_beyond(&tasks, &quick.lines).count() as f64 / n;
    }
    out
}

/// Whether a set of a task ends by fatigue or by a miss, not only by the clock.
pub fn limited(task: &crate::pacing::Task) -> bool {
    !task.flow || task.skill_set.is_finite()
}

/// Lines whose first whole set is beyond an athlete, each by how much (0 to 1).
fn short_of_first_set(work: &Work, quick: &Quick, stimulus: &Stimulus, tasks: &[crate::pacing::Task]) -> f64 {
    (0..work.lines.len())
        .filter_map(|i| {
            let task = tasks.get(slot_of(work, quick, i)?)?;
            let need = first_set(work, i, stimulus);
            (limited(task) && task.most < need).then(|| (need - task.most) / need + 0.2)
        })
        .sum()
}

fn cost(levers: &Levers, s: &Setting, costs: [f64; 4]) -> f64 {
    let [movement, load, reps, rounds] = costs;
    let mut out = 0.0;
    for i in 0..levers.ways.len() {
        let way = s.way.get(i).copied().unwrap_or(0);
        if way > 0 {
            out += movement * (0.25 + 0.2 * way as f64);
        }
        let at = s.load.get(i).copied().unwrap_or(0);
        if at > 0 {
            out += load * (0.1 + 0.12 * at as f64);
        }
    }
    for (g, step) in s.reps.iter().enumerate() {
        if *step > 0 {
            let lines = levers.group.iter().filter(|x| **x == g).count() as f64;
            out += reps * (0.15 + 0.2 * *step as f64) * (0.6 + 0.4 * lines);
        }
    }
    if s.rounds > 0 {
        out += rounds * (0.3 + 0.3 * s.rounds as f64);
    }
    out
}

/// Every setting that differs from `s` on one lever and stands nowhere above `floor`.
fn neighbours(levers: &Levers, s: &Setting, floor: &Setting, loads: Loads) -> Vec<Setting> {
    let mut out = Vec::new();
    let at = |v: &[usize], i: usize| v.get(i).copied().unwrap_or(0);
    for (i, ways) in levers.ways.iter().enumerate() {
        for w in at(&floor.way, i)..ways.len() {
            // a new way begins at its own first load; the same way keeps to the loads below the tier above
            let from = if w == at(&floor.way, i) { at(&floor.load, i) } else { 0 };
            let count = ways.get(w).map_or(0, |w| w.loads.len());
            let same = w == at(&s.way, i);
            let choices: Vec<usize> = if same { (from..count).collect() } else { vec![from] };
            for l in choices.into_iter().filter(|l| !same || loads == Loads::Chosen || *l == from) {
                if w == at(&s.way, i) && l == at(&s.load, i) {
                    continue;
                }
                let mut t = s.clone();
                if let (Some(x), Some(y)) = (t.way.get_mut(i), t.load.get_mut(i)) {
                    (*x, *y) = (w, l);
                }
                out.push(t);
            }
        }
    }
    for g in 0..s.reps.len() {
        for r in at(&floor.reps, g)..levers.rep_steps() {
            if r != at(&s.reps, g) {
                let mut t = s.clone();
                if let Some(x) = t.reps.get_mut(g) {
                    *x = r;
                }
                out.push(t);
            }
        }
    }
    for r in floor.rounds..levers.rounds.len() {
        if r != s.rounds {
            out.push(Setting { rounds: r, ..s.clone() });
        }
    }
    out
}

/// Whether a version may have loads of its own, by the hall's school.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Loads {
    /// Those that fit the target.
    Chosen,
    /// Those of the version above.
    Kept,
}

/// What a version is found for.
pub struct Wanted<'a> {
    /// It stands nowhere above this.
    pub floor: &'a Setting,
    /// For whom.
    pub group: &'a Group,
    /// What it keeps.
    pub stimulus: &'a Stimulus,
    /// Schools.
    pub settings: &'a Settings,
    /// Whether loads may change.
    pub loads: Loads,
}

/// How a setting fares for whom it is wanted.
pub fn fit_of(levers: &Levers, s: &Setting, wanted: &Wanted) -> Fit {
    let mut out = fit(&levers.apply(s), wanted.group, wanted.stimulus, wanted.settings);
    out.levers = cost(levers, s, lever_costs(wanted.settings));
    out
}

/// Every setting one lever away that is allowed.
pub fn next_to(levers: &Levers, s: &Setting, wanted: &Wanted) -> Vec<Setting> {
    neighbours(levers, s, wanted.floor, wanted.loads)
}

/// The version for a group that stands nowhere above the one before: coordinate descent over the levers.
pub fn find(levers: &Levers, wanted: &Wanted) -> Found {
    let value = |s: &Setting| fit_of(levers, s, wanted).sum();
    let mut path = vec![wanted.floor.clone()];
    let mut best = wanted.floor.clone();
    let mut lowest = value(&best);
    let mut tried = 1;
    for _ in 0..SWEEPS * 4 {
        let candidates = next_to(levers, &best, wanted);
        tried += candidates.len() as u32;
        let values: Vec<f64> = candidates.par_iter().map(value).collect();
        let better = values.iter().enumerate().min_by(|a, b| a.1.total_cmp(b.1));
        match better {
            Some((i, v)) if *v < lowest - 1e-9 => {
                lowest = *v;
                if let Some(c) = candidates.into_iter().nth(i) {
                    best = c;
                    path.push(best.clone());
                }
            }
            _ => break,
        }
    }
    Found { work: levers.apply(&best), setting: best, tried, path }
}
