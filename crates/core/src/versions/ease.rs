//! Personal lines for a member whom no version fits: one lever at a time, as few as bring them to the window.

use super::levers::Setting;
use super::personal::Personal;
use super::place::{Day, Look, enough, option, within_limits};
use super::predict::{Prediction, Quick, quick_score};
use super::search::Tier;
use super::work::Work;
use crate::roster::{Ability, Member};
use crate::stimulus::Stimulus;

/// Personal levers that are tried when no version holds.
const MOST_LEVERS: usize = 3;
/// Settings whose range is looked at, of all that lie one lever away.
const LOOKED_AT: usize = 8;
/// A further personal line must be worth this much of the chance.
const WORTH: f64 = 0.08;

/// How far a range is from what is wanted: windows outside, with the share that the cap ends.
pub(super) fn off_by(o: &Look) -> f64 {
    if o.look.scale_this.is_some() {
        40.0
    } else {
        o.stimulus.miss(o.look.p50()) + o.look.capped + 2.0 * (1.0 - o.look.steady.unwrap_or(1.0))
    }
}

/// Something nearer to the stimulus than the suggested version: the lowest version that is still too hard with personal
/// lines, and if its middle still lies outside the window, whatever else lies one or two levers away. `None` when nothing is.
pub(super) fn nearer(
    day: &Day,
    member: &Member,
    ability: &Ability,
    options: &[Look],
    suggested: Tier,
) -> Option<Look> {
    let now = options.iter().find(|o| o.tier == suggested)?;
    let mut best: Option<(Setting, Look)> = None;
    if let Some(from) = options.iter().rev().find(|o| !enough(o)) {
        let setting = ease(day, member, ability, day.settings.get(at(from.tier))?);
        let look = option(day, from.tier, &day.levers.apply(&setting), member, ability);
        let gain = off_by(now) - off_by(&look);
        best = (gain > 0.05).then_some((setting, look));
    }
    for _ in 0..2 {
        let at_best = best.as_ref().map_or(now, |(_, l)| l);
        let (tier, look) = (at_best.tier, &at_best.look);
        if look.likely(&at_best.stimulus) {
            break;
        }
        let so_far = chance(look);
        let start = match &best {
            Some((s, _)) => s.clone(),
            None => day.settings.get(at(tier))?.clone(),
        };
        let found = one_lever(day, member, ability, &[(tier, start)], options);
        match found.filter(|(_, l)| chance(&l.look) >= so_far + WORTH) {
            Some(f) => best = Some(f),
            None => break,
        }
    }
    let (setting, mut look) = best?;
    let more = eased_lines(day, member, ability, look.tier, &day.levers.apply(&setting), &look.personal);
    look.personal.extend(more);
    look.personal.sort_by_key(|p| p.line);
    Some(look)
}

/// Place of a tier in the lists of the day.
fn at(tier: Tier) -> usize {
    Tier::ALL.iter().position(|t| *t == tier).unwrap_or(0)
}

fn chance(p: &Prediction) -> f64 {
    if p.scale_this.is_some() { 0.0 } else { p.on_stimulus }
}

/// The best chance among the settings one lever from a start, or from any version that was looked at: those that come
/// nearest to the window's middle by one settled run are looked at.
fn one_lever(
    day: &Day,
    member: &Member,
    ability: &Ability,
    starts: &[(Tier, Setting)],
    options: &[Look],
) -> Option<(Setting, Look)> {
    let above = options.iter().filter_map(|o| Some((o.tier, day.settings.get(at(o.tier))?.clone())));
    let starts: Vec<(Tier, Setting)> = starts.iter().cloned().chain(above).collect();
    let mut all: Vec<(f64, Tier, Setting)> = starts
        .iter()
        .flat_map(|(tier, s)| {
            let lines = 0..day.levers.ways.len();
            lines.flat_map(|i| lower(day, s, i)).map(|s| (*tier, s)).collect::<Vec<_>>()
        })
        .map(|(tier, s)| {
            let (window, q) = quick(day, member, ability, &s);
            (window.from_middle(q.score) + q.unsteady, tier, s)
        })
        .collect();
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    all.into_iter()
        .take(LOOKED_AT)
        .map(|(_, tier, s)| {
            let look = option(day, tier, &day.levers.apply(&s), member, ability);
            (s, look)
        })
        .max_by(|a, b| chance(&a.1.look).total_cmp(&chance(&b.1.look)))
}

/// Result of one settled run within the member's limits.
fn quick(day: &Day, member: &Member, ability: &Ability, s: &Setting) -> (Stimulus, Quick) {
    let w = within_limits(day, &day.levers.apply(s), member, ability, None).0;
    (w.keeps(day.stimulus), quick_score(&w, member.standard, &ability.athlete, day.stimulus))
}

/// Windows outside the window by one settled run.
fn missed_by(day: &Day, member: &Member, ability: &Ability, s: &Setting) -> f64 {
    let (window, q) = quick(day, member, ability, s);
    window.miss(q.score) + q.unsteady
}

/// Lines that a lever changed and no hard limit speaks of, each with the result without it and with all of them.
fn eased_lines(
    day: &Day,
    member: &Member,
    ability: &Ability,
    tier: Tier,
    after: &Work,
    said: &[Personal],
) -> Vec<Personal> {
    let score = |w: &Work| {
        let fitted = within_limits(day, w, member, ability, None).0;
        quick_score(&fitted, member.standard, &ability.athlete, day.stimulus).score
    };
    let time = |v: f64| {
        if v.is_finite() { format!("about {}", day.stimulus.write(v)) } else { "no finish".to_owned() }
    };
    let Some(before) = day.works.get(at(tier)) else { return Vec::new() };
    let now = score(after);
    let changed = before
        .lines
        .iter()
        .zip(&after.lines)
        .enumerate()
        .filter(|(n, (a, b))| a != b && !said.iter().any(|p| p.line == *n));
    changed
        .map(|(n, (a, b))| {
            let mut without = after.clone();
            if let Some(l) = without.lines.get_mut(n) {
                l.clone_from(a);
            }
            Personal::own(
                n,
                b.text_for(member.standard),
                format!(
                    "with {} it would be {}, with this {}.",
                    a.text_for(member.standard),
                    time(score(&without)),
                    time(now)
                ),
            )
        })
        .collect()
}

/// One personal lever at a time, the one that helps most, until the middle is in the window; optional lines go first.
fn ease(day: &Day, member: &Member, ability: &Ability, from: &Setting) -> Setting {
    let score = |s: &Setting| missed_by(day, member, ability, s);
    let mut setting = from.clone();
    let mut miss = score(&setting);
    for i in 0..day.levers.ways.len() {
        let optional = day.levers.written.lines.get(i).is_some_and(|l| l.optional);
        if miss > 0.01 && optional {
            let mut t = setting.clone();
            if let Some(d) = t.dropped.get_mut(i) {
                *d = true;
            }
            let m = score(&t);
            if m < miss - 0.05 {
                (setting, miss) = (t, m);
            }
        }
    }
    for _ in 0..MOST_LEVERS {
        if miss < 0.01 {
            break;
        }
        let mut best: Option<(f64, Setting)> = None;
        for s in (0..day.levers.ways.len()).flat_map(|i| lower(day, &setting, i)) {
            let m = score(&s);
            if m < miss - 0.05 && best.as_ref().is_none_or(|(b, _)| m < *b) {
                best = Some((m, s));
            }
        }
        let Some((m, s)) = best else { break };
        (setting, miss) = (s, m);
    }
    setting
}

/// One step down on each lever of a line: its way, its load, its reps.
fn lower(day: &Day, s: &Setting, i: usize) -> Vec<Setting> {
    let levers = day.levers;
    let mut out = Vec::new();
    // where the hall lifts fixed loads nobody has one of their own, but for a first set
    let fixed = day.schools.school("load-choice") == "fixed";
    let ways = levers.ways.get(i);
    let way = s.way.get(i).copied().unwrap_or(0);
    let loads = ways.and_then(|w| w.get(way)).map_or(0, |w| w.loads.len());
    let load = s.load.get(i).copied().unwrap_or(0);
    for l in (load + 1..loads).filter(|_| !fixed) {
        let mut t = s.clone();
        if let Some(x) = t.load.get_mut(i) {
            *x = l;
        }
        out.push(t);
    }
    for w in way + 1..ways.map_or(0, Vec::len) {
        let mut t = s.clone();
        if let (Some(x), Some(y)) = (t.way.get_mut(i), t.load.get_mut(i)) {
            (*x, *y) = (w, 0);
        }
        out.push(t);
    }
    if let Some(g) = levers.group.get(i).copied() {
        for r in s.reps.get(g).copied().unwrap_or(0) + 1..levers.rep_steps() {
            let mut t = s.clone();
            if let Some(x) = t.reps.get_mut(g) {
                *x = r;
            }
            out.push(t);
        }
    }
    out
}
