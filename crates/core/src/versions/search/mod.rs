//! How Trim and Base are found: the few candidates that a coach would think of, in the order of that thought, and the first that
//! holds for whom the version is made.

mod changes;
mod groups;
mod tried;
mod variants;

pub use groups::{Room, Version, Versions, make};
pub use tried::{Candidate, Search, search_of};
pub use variants::{From as VariantFrom, Variant, Without, without};

use super::predict::{far_beyond, paced_score, wishes_broken};
use super::scale::{
    Amount, Doer, Hands, Levers, Setting, budget, cap_to, instructions, instructions_capped, lightest_share,
    missing_lines, volume, weights_for_sets,
};
use super::work::{Line, Tier, Work, even_up};
use crate::pacing::{Athlete, engine_of_one, tasks_for};
use crate::roster::Volume;
use crate::schools::{LoadChoice, WhatToScale};
use crate::settings::Settings;
use crate::units::Standard;
use rayon::prelude::*;

/// A version is searched for no heavier share of its weights than this.
const LEAST_SHARE_OF_GUIDE: f64 = 0.85;
/// A count is at least this share of the one above.
const LEAST_OF_ABOVE: f64 = 0.5;
/// A version has at least this share of the work of the one above.
const LEAST_STEP: f64 = 0.55;
/// Penalty of a line whose first set is beyond the group.
const FIRST_SET: f64 = 3.0;
/// Penalty of work that cannot be done.
const CANNOT: f64 = 60.0;
/// Penalty of a line with many times the largest set in all.
const FAR: f64 = 6.0;
/// Penalty of each set over the wish.
const WISH: f64 = 1.2;
/// Penalty of landing one whole window outside the window.
const MISS: f64 = 10.0;
/// Penalty of landing before the window: nobody is held back, but another version may fit better.
const EARLY: f64 = 2.0;
/// The penalty of a middle on the window's early edge.
const ONLY_JUST_IN: f64 = 1.5;
/// Candidates that are run before it is looked whether one of them will do.
const AT_A_TIME: usize = 2;
/// Each instruction, where nothing else decides.
const SAID: f64 = 0.1;

/// For whom a version is made: the middle of some members, one athlete for each standard that is there.
#[derive(Debug, Clone, Default)]
pub struct Group {
    /// Their middles.
    pub athletes: Vec<(Standard, Athlete)>,
    /// All of them.
    pub members: Vec<(Standard, Athlete)>,
    /// Most of each guarded pattern that most of them may meet.
    pub most: Volume,
    /// Most of them are new, and nothing is tested of them.
    pub new: bool,
    /// How much later than foretold they are on the whole by what results taught, in logarithms.
    pub late: f64,
}

/// How a candidate fares, by what is asked of it: 0 is best for every part.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct GroupFit {
    /// Windows after the window (or under it), in the mean over the group.
    pub late: f64,
    /// Windows before it.
    pub early: f64,
    /// Sets, shares, rounds and rates that break the stimulus.
    pub wishes: f64,
    /// Lines whose first whole set is beyond the group, that it may not do, or that are too much for it.
    pub beyond: f64,
    /// Instructions.
    pub said: f64,
}

impl GroupFit {
    /// The sum, to choose where nothing holds.
    pub fn sum(&self) -> f64 {
        self.late + EARLY * self.early + self.wishes + self.beyond + SAID * self.said
    }

    /// Whether the group can do it as it is asked.
    fn holds(&self) -> bool {
        self.late + self.wishes + self.beyond < 1e-9
    }
}

/// Whether a line's count may be its own.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Counting {
    /// As the change of amount gives it.
    AsGiven,
    /// No more of any pattern than the group may meet: one thing more to say, tried where nothing else holds.
    ByHabit,
}

/// How far a version may go from what is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Bounds {
    /// The lightest step of weight: what a version takes is not left for the one below.
    pub lightest: usize,
    /// Counts of lines.
    pub counting: Counting,
}

/// What a version is found for.
#[derive(Clone, Copy)]
pub struct WantedVersion<'a> {
    /// Which.
    pub tier: Tier,
    /// It stands nowhere above this.
    pub floor: &'a Setting,
    /// How far it may go.
    pub bounds: Bounds,
    /// The version above as it is done.
    pub above: &'a Work,
    /// For whom.
    pub group: &'a Group,
    /// Schools.
    pub settings: &'a Settings,
    /// The hall's hands and what it keeps.
    pub hands: Hands<'a>,
}

/// A version found, and what was tried on the way.
#[derive(Debug, Clone)]
pub struct Found {
    /// Position on the levers.
    pub setting: Setting,
    /// The work.
    pub work: Work,
    /// Lines with a count of their own, because of how much is usual for the group.
    pub capped: Vec<usize>,
    /// How many candidates were run.
    pub tried: u32,
    /// How far it was let go.
    pub bounds: Bounds,
    /// From the version above to this one, an instruction at a time.
    pub path: Vec<Setting>,
}

/// Misses grow with their logarithm from two windows on, so that every step towards the window still counts.
fn grown(miss: f64) -> f64 {
    if miss < 2.0 { miss } else { 2.0 + 2.0 * (miss / 2.0).ln() }
}

/// How a setting fares for whom it is wanted.
pub fn fit_of(levers: &Levers, s: &Setting, wanted: &WantedVersion) -> GroupFit {
    run_of(levers, s, missed(levers, &whole_of(s, wanted), wanted), wanted)
}

/// The work of a setting, and the lines whose count is its own.
fn work_of(levers: &Levers, s: &Setting, wanted: &WantedVersion) -> (Work, Vec<usize>) {
    match wanted.bounds.counting {
        Counting::AsGiven => (levers.apply(s), Vec::new()),
        Counting::ByHabit => within_habit(levers.apply(s), wanted),
    }
}

/// A setting with as much of everything as the version above: what somebody cannot do is not made possible by less of it.
fn whole_of(s: &Setting, wanted: &WantedVersion) -> Setting {
    Setting { amount: wanted.floor.amount, ..s.clone() }
}

/// What a setting's lines that the group cannot do count for, in the mean.
fn missed(levers: &Levers, whole: &Setting, wanted: &WantedVersion) -> f64 {
    let work = levers.apply(whole);
    let n = wanted.group.athletes.len().max(1) as f64;
    let lines = |(s, a): &(Standard, Athlete)| missing(&work, *s, a, wanted).len() as f64;
    FIRST_SET * wanted.group.athletes.iter().map(lines).sum::<f64>() / n
}

/// Four days in five end within so many times the middle (own).
const MOST_DAYS: f64 = 1.1;

/// How a setting fares of whose lines so much is `missed`, by runs.
fn run_of(levers: &Levers, s: &Setting, missed: f64, wanted: &WantedVersion) -> GroupFit {
    let (work, capped) = work_of(levers, s, wanted);
    let n = wanted.group.athletes.len().max(1) as f64;
    let said = instructions_capped(levers, s, wanted.tier, &work, &capped).len() as f64;
    let mut out = GroupFit { said, beyond: missed, ..GroupFit::default() };
    for (standard, athlete) in &wanted.group.athletes {
        let one = fit_for(&work, *standard, athlete, wanted);
        out.late += one.late / n;
        out.early += one.early / n;
        out.wishes += one.wishes / n;
        out.beyond += one.beyond / n;
    }
    out
}

/// By how much a work crosses what its group may meet of a pattern.
fn crossed(work: &Work, standard: Standard, most: &Volume) -> f64 {
    let guarded = volume(work, standard, None);
    let over =
        |(id, most): (&String, &f64)| guarded.get(id).map_or(0.0, |v| (v / most.max(1.0) - 1.0).max(0.0));
    most.iter().map(over).sum()
}

fn fit_for(version: &Work, standard: Standard, athlete: &Athlete, wanted: &WantedVersion) -> GroupFit {
    let mut out = GroupFit::default();
    let mut work = version.clone();
    weights_for_sets(&mut work, standard, athlete, wanted.hands);
    let share = lightest_share(version, &work, standard);
    out.beyond += (LEAST_SHARE_OF_GUIDE - share).max(0.0);
    let stimulus = &work.keeps(wanted.hands.stimulus);
    let quick = paced_score(&work, standard, athlete, stimulus).later(wanted.group.late);
    let tasks = tasks_for(&quick.workout, athlete, &[]);
    out.beyond += crossed(&work, standard, &wanted.group.most);
    let cannot = tasks.iter().filter(|t| !t.feasible).count();
    if cannot > 0 {
        out.beyond += CANNOT * cannot as f64;
        return out;
    }
    let miss = MISS * grown(stimulus.miss(quick.score));
    if stimulus.on_easy_side(quick.score) {
        out.early = miss;
    } else {
        out.late = miss;
    }
    out.late += MISS * grown(quick.unsteady);
    // below Base there is nothing: whoever it is made for ends before the cap on most days, not on every other
    let often = stimulus.cap_s.filter(|_| wanted.tier == Tier::Base && stimulus.is_time());
    out.late += often.map_or(0.0, |cap| MISS * grown((quick.score * MOST_DAYS / cap - 1.0).max(0.0)));
    out.wishes += WISH * wishes_broken(&work, &quick, stimulus, &tasks);
    out.beyond += FAR * far_beyond(&tasks, &quick.lines).count() as f64;
    out
}

/// Lines that an athlete of the group cannot do for the first whole set at their own weights, or may not do yet.
fn missing(work: &Work, standard: Standard, athlete: &Athlete, wanted: &WantedVersion) -> Vec<usize> {
    let mut own = work.clone();
    weights_for_sets(&mut own, standard, athlete, wanted.hands);
    let (stimulus, settings) = (wanted.hands.stimulus, wanted.settings);
    missing_lines(&own, Doer { standard, athlete, new: wanted.group.new, stimulus, settings })
}

/// The first way of a line from a rung on that the group can do for the first whole set; the last where none is.
fn needed_way(levers: &Levers, s: &Setting, line: usize, wanted: &WantedVersion) -> usize {
    let ways = levers.ways.get(line).map_or(1, Vec::len);
    let from = s.way.get(line).copied().unwrap_or(0);
    let fits = |w: &usize| {
        let work = levers.apply(&levers.with_way(s, line, *w));
        wanted.group.athletes.iter().all(|(s, a)| !missing(&work, *s, a, wanted).contains(&line))
    };
    (from..ways).find(fits).unwrap_or(ways.saturating_sub(1).max(from))
}

/// Whether a line is run, rowed or ridden: who can do it keeps it, and does less of it.
fn paced_by_engine(levers: &Levers, line: usize, wanted: &WantedVersion) -> bool {
    let by_engine =
        |l: &Line| wanted.group.athletes.iter().any(|(_, a)| engine_of_one(a, &l.movement, l.unit).is_some());
    levers.written.lines.get(line).is_some_and(by_engine)
}

/// Sets of movements, fewest changes first: as above, then what the group cannot do a rung (or as many as it takes) lower, then
/// one line more.
fn movement_sets(levers: &Levers, wanted: &WantedVersion) -> Vec<Setting> {
    let start = wanted.floor;
    let mut out = vec![start.clone()];
    let mut needed = start.clone();
    let work = levers.apply(start);
    let mut short: Vec<(usize, usize)> = (0..levers.ways.len())
        .map(|i| {
            (
                i,
                wanted
                    .group
                    .athletes
                    .iter()
                    .filter(|(s, a)| missing(&work, *s, a, wanted).contains(&i))
                    .count(),
            )
        })
        .filter(|(_, n)| *n > 0)
        .collect();
    short.sort_by_key(|(i, n)| (std::cmp::Reverse(*n), *i));
    for (i, _) in short {
        needed = levers.with_way(&needed, i, needed_way(levers, start, i, wanted));
        out.push(needed.clone());
    }
    let below = |i: usize| needed.way.get(i).copied().unwrap_or(0) + 1;
    let more = (0..levers.ways.len())
        .filter(|i| {
            below(*i) < levers.ways.get(*i).map_or(0, Vec::len) && !paced_by_engine(levers, *i, wanted)
        })
        .map(|i| levers.with_way(&needed, i, below(i)));
    for s in more {
        if !out.contains(&s) {
            out.push(s);
        }
    }
    out
}

/// Steps of weight that are tried for a version.
fn weight_steps(levers: &Levers, wanted: &WantedVersion) -> Vec<usize> {
    let fixed = wanted.settings.answer::<LoadChoice>() == LoadChoice::Fixed;
    let steps: &[usize] = match wanted.tier {
        Tier::Full => &[0],
        // two standard loads and one lighter tier
        Tier::Trim if fixed => &[0],
        // with two movements to say, the weight may stay
        Tier::Trim => &[1, 2, 0],
        Tier::Base if wanted.floor.weight >= 2 => &[3, 2],
        Tier::Base => &[2, 3],
    };
    let any = steps.iter().any(|s| levers.lighter_at(*s));
    let all = steps.iter().copied().filter(|s| (wanted.floor.weight..=wanted.bounds.lightest).contains(s));
    if any { all.collect() } else { vec![wanted.floor.weight] }
}

/// Whether two ways of doing less are of one kind: a version does not mix them with those of the one above.
fn same_kind(above: &Amount, below: &Amount) -> bool {
    *above == Amount::Written || std::mem::discriminant(above) == std::mem::discriminant(below)
}

/// The candidates of a version in the order in which a coach would try them.
pub fn candidates(levers: &Levers, wanted: &WantedVersion) -> Vec<Setting> {
    that_differ(levers, in_order(levers, wanted), wanted)
}

/// All settings that a version may have, in the order in which a coach would try them.
fn in_order(levers: &Levers, wanted: &WantedVersion) -> Vec<Setting> {
    let sets = movement_sets(levers, wanted);
    let weights = weight_steps(levers, wanted);
    let above = levers.amounts.get(wanted.floor.amount).cloned().unwrap_or(Amount::Written);
    let left = |a: &Amount| a.left(&levers.written);
    let near = |a: &Amount| left(a) >= LEAST_STEP * left(&above) - 1e-9;
    let amounts: Vec<usize> = (wanted.floor.amount..levers.amounts.len())
        .filter(|a| levers.amounts.get(*a).is_some_and(|b| same_kind(&above, b) && near(b)))
        .collect();
    let mut out: Vec<Setting> = Vec::new();
    let movement_first = wanted.settings.answer::<WhatToScale>() == WhatToScale::ChangeMovement;
    let one = |way: &Setting, weight: usize, amount: usize| Setting { weight, amount, ..way.clone() };
    if movement_first {
        for (amount, weight) in amounts.iter().flat_map(|a| weights.iter().map(|w| (*a, *w))) {
            out.extend(sets.iter().map(|s| one(s, weight, amount)));
        }
    } else {
        for (set, weight) in sets.iter().flat_map(|s| weights.iter().map(move |w| (s, *w))) {
            out.extend(amounts.iter().map(|a| one(set, weight, *a)));
        }
    }
    out
}

/// Those that are not the version above, within the budget of what is said.
fn that_differ(levers: &Levers, all: Vec<Setting>, wanted: &WantedVersion) -> Vec<Setting> {
    let said = instructions(levers, wanted.floor, wanted.tier);
    let most = budget(levers, wanted.tier);
    let told = |s: &Setting| instructions(levers, s, wanted.tier);
    let lines = |w: &Work| w.lines.iter().map(Line::text).collect::<Vec<_>>();
    let above_lines = (lines(wanted.above), wanted.above.clock());
    let differs = |s: &Setting| {
        let (work, capped) = work_of(levers, s, wanted);
        (told(s) != said || !capped.is_empty()) && (lines(&work), work.clock()) != above_lines
    };
    let (mut within, over): (Vec<Setting>, Vec<Setting>) =
        all.into_iter().filter(differs).partition(|s| told(s).len() <= most);
    // one more than can be held in mind: tried where nothing within it holds
    let none = within.is_empty();
    within.extend(over.into_iter().filter(|s| none || told(s).len() == most + 1));
    within
}

/// Runs candidates, a few at a time, up to the first that is all that is wanted. One with a line that the group cannot do holds
/// for nobody: it is run only where none of the others holds either.
fn run_in_turn(
    levers: &Levers,
    all: &[Setting],
    best: impl Fn(&GroupFit) -> bool + Sync,
    wanted: &WantedVersion,
) -> Vec<Option<GroupFit>> {
    let mut wholes: Vec<Setting> = Vec::new();
    for s in all {
        let whole = whole_of(s, wanted);
        if !wholes.contains(&whole) {
            wholes.push(whole);
        }
    }
    let missed: Vec<f64> = wholes.par_iter().map(|w| missed(levers, w, wanted)).collect();
    let missed_of = |s: &Setting| {
        let at = wholes.iter().position(|w| *w == whole_of(s, wanted));
        at.and_then(|i| missed.get(i)).copied().unwrap_or(0.0)
    };
    let mut fits: Vec<Option<GroupFit>> = vec![None; all.len()];
    let (can, cannot): (Vec<usize>, Vec<usize>) =
        (0..all.len()).partition(|i| all.get(*i).is_some_and(|s| missed_of(s) == 0.0));
    let mut run = |some: &[usize]| {
        let of = |i: &usize| all.get(*i).map(|s| (*i, run_of(levers, s, missed_of(s), wanted)));
        let had: Vec<(usize, GroupFit)> = some.par_iter().filter_map(of).collect();
        let enough = (had.iter().any(|(_, f)| best(f)), had.iter().any(|(_, f)| f.holds()));
        for (i, fit) in had {
            if let Some(slot) = fits.get_mut(i) {
                *slot = Some(fit);
            }
        }
        enough
    };
    let mut some_holds = false;
    for some in can.chunks(AT_A_TIME) {
        let (best, holds) = run(some);
        some_holds |= holds;
        if best {
            break;
        }
    }
    if !some_holds {
        run(&cannot);
    }
    fits
}

/// The version for a group that stands nowhere above the one before: the first candidate that holds and ends in the window, else
/// the first that holds, else the one that breaks least.
pub fn find(levers: &Levers, wanted: &WantedVersion) -> Found {
    let as_given = tried(levers, wanted);
    let over = |s: &Setting| !within_habit(levers.apply(s), wanted).1.is_empty();
    // with counts of their own only where no amount holds and it is the habit that forbids it
    if as_given.fits.iter().flatten().any(GroupFit::holds) || !as_given.all.iter().any(over) {
        return best_of(levers, &as_given, wanted);
    }
    let by_habit =
        &WantedVersion { bounds: Bounds { counting: Counting::ByHabit, ..wanted.bounds }, ..*wanted };
    let mut found = best_of(levers, &tried(levers, by_habit), by_habit);
    found.tried += as_given.count();
    found
}

/// Candidates and, of those that were run, how they fare.
struct Tried {
    all: Vec<Setting>,
    fits: Vec<Option<GroupFit>>,
}

impl Tried {
    fn count(&self) -> u32 {
        self.fits.iter().flatten().count() as u32
    }
}

/// Whether a fit is all that is wanted.
fn is_best(levers: &Levers, wanted: &WantedVersion, f: &GroupFit) -> bool {
    is_within(levers, wanted, f) && f.early <= ONLY_JUST_IN
}

fn is_within(levers: &Levers, wanted: &WantedVersion, f: &GroupFit) -> bool {
    f.said <= budget(levers, wanted.tier) as f64 && f.holds()
}

/// The candidates, run up to the first that is all that is wanted.
fn tried(levers: &Levers, wanted: &WantedVersion) -> Tried {
    let all = candidates(levers, wanted);
    let fits = run_in_turn(levers, &all, |f| is_best(levers, wanted, f), wanted);
    Tried { all, fits }
}

fn best_of(levers: &Levers, tried: &Tried, wanted: &WantedVersion) -> Found {
    let Tried { all, fits } = tried;
    let first = |test: &dyn Fn(&GroupFit) -> bool| fits.iter().position(|f| f.as_ref().is_some_and(test));
    let least = || {
        let sums = fits.iter().enumerate().filter_map(|(i, f)| Some((i, f.as_ref()?.sum())));
        sums.min_by(|a, b| a.1.total_cmp(&b.1)).map(|(i, _)| i)
    };
    let at = first(&|f| is_best(levers, wanted, f))
        .or_else(|| first(&|f| is_within(levers, wanted, f)))
        .or_else(|| first(&GroupFit::holds))
        .or_else(least);
    let found = at.and_then(|i| all.get(i)).unwrap_or(wanted.floor);
    let setting = less_cut(levers, found, all, wanted).unwrap_or(found).clone();
    let path = path(levers, wanted.floor, &setting);
    let (work, capped) = within_habit(levers.apply(&setting), wanted);
    Found { work, capped, setting, tried: tried.count(), path, bounds: wanted.bounds }
}

/// The same with one step more of the amount, where as many of the group end in the window with it: its middle alone would cut
/// for those who are only just late.
fn less_cut<'a>(
    levers: &Levers,
    found: &Setting,
    all: &'a [Setting],
    wanted: &WantedVersion,
) -> Option<&'a Setting> {
    let before = Setting { amount: found.amount.checked_sub(1)?, ..found.clone() };
    let before = all.iter().find(|s| **s == before)?;
    let fit = fit_of(levers, before, wanted);
    let inside = |s: &Setting| {
        let (work, _) = work_of(levers, s, wanted);
        let stimulus = work.keeps(wanted.hands.stimulus);
        let ends = |(standard, athlete): &(Standard, Athlete)| {
            let mut own = work.clone();
            weights_for_sets(&mut own, *standard, athlete, wanted.hands);
            stimulus.holds(paced_score(&own, *standard, athlete, &stimulus).later(wanted.group.late).score)
        };
        wanted.group.members.par_iter().filter(|m| ends(m)).count()
    };
    (fit.wishes + fit.beyond < 1e-9 && inside(before) >= inside(found)).then_some(before)
}

/// A version with no more of any pattern than its group may meet.
fn within_habit(mut work: Work, wanted: &WantedVersion) -> (Work, Vec<usize>) {
    let Some((standard, _)) = wanted.group.athletes.first() else { return (work, Vec::new()) };
    let before = work.clone();
    let capped = cap_to(&mut work, &wanted.group.most, *standard);
    for i in &capped {
        let above = wanted.above.lines.get(*i);
        let (Some(line), Some(full)) = (work.lines.get_mut(*i), before.lines.get(*i)) else { continue };
        // no less than half of the version above: what is still too much for somebody is theirs alone
        let even = |n: f64| if full.per_side { even_up(n) } else { n.ceil() };
        let half = |n: f64, was: f64, of: f64| n.max(even(LEAST_OF_ABOVE * of)).min(was);
        let above = above.filter(|a| a.movement == line.movement && a.counts.len() == line.counts.len());
        for (k, c) in line.counts.iter_mut().enumerate() {
            let (was, of) = (full.counts.get(k), above.and_then(|a| a.counts.get(k)));
            if let (Some(was), Some(of)) = (was, of) {
                *c = [half(c[0], was[0], of[0]), half(c[1], was[1], of[1])];
            }
        }
    }
    (work, capped)
}

/// From one setting to another, an instruction at a time: weight, movements, amount.
fn path(levers: &Levers, from: &Setting, to: &Setting) -> Vec<Setting> {
    let mut out = vec![from.clone()];
    let mut at = from.clone();
    let step = |at: Setting, out: &mut Vec<Setting>| {
        if out.last() != Some(&at) && out.last().is_none_or(|l| levers.apply(l) != levers.apply(&at)) {
            out.push(at);
        }
    };
    at.weight = to.weight;
    step(at.clone(), &mut out);
    for (i, way) in to.way.iter().enumerate() {
        at = levers.with_way(&at, i, *way);
        step(at.clone(), &mut out);
    }
    at.amount = to.amount;
    step(at, &mut out);
    out
}
