//! Every member's version: the hardest that holds the stimulus, limits first, the fewest personal lines, and what
//! each other version would have given.

use super::levers::Levers;
use super::levers::Setting;
use super::personal::{Personal, first_sets, guard_volume, spare_limits};
use super::predict::{Predicted, Prediction, predict, quick_score};
use super::search::Tier;
use super::work::Work;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::roster::{Ability, Member};
use crate::stimulus::Stimulus;
use serde::{Deserialize, Serialize};

/// Runs of a look at a version that may not be chosen.
const LOOK_RUNS: u32 = 40;
/// Personal levers that are tried when no version holds.
const MOST_LEVERS: usize = 3;

/// How a version would have gone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Tried {
    /// Which.
    pub tier: Tier,
    /// Middle.
    pub p50: f64,
    /// Share inside the window.
    pub on_stimulus: f64,
    /// Set where it is far beyond the member.
    pub scale_this: Option<String>,
}

/// A member's place in one workout.
#[derive(Debug, Clone)]
pub struct Placed {
    /// Version.
    pub tier: Tier,
    /// The coach chose it.
    pub moved: bool,
    /// What the model would choose, when the coach chose.
    pub suggested: Tier,
    /// Lines that differ from the version.
    pub personal: Vec<Personal>,
    /// What the member does.
    pub work: Work,
    /// Why, with numbers.
    pub reasons: Vec<String>,
    /// All versions that were looked at.
    pub tried: Vec<Tried>,
    /// The range.
    pub predicted: Predicted,
}

/// What placing needs to know of the day.
pub struct Day<'a> {
    /// Full, Trim, Base.
    pub works: &'a [Work],
    /// Levers and their settings for the same three.
    pub levers: &'a Levers,
    /// Settings of the three.
    pub settings: &'a [Setting],
    /// Stimulus.
    pub stimulus: &'a Stimulus,
    /// Kit.
    pub kit: &'a Kit,
    /// Loadable weights.
    pub bars: &'a Bars,
    /// Runs of the range that is shown.
    pub runs: u32,
    /// Seed.
    pub seed: u64,
}

struct Look {
    tier: Tier,
    work: Work,
    personal: Vec<Personal>,
    look: Prediction,
}

fn option(day: &Day, tier: Tier, work: &Work, member: &Member, ability: &Ability) -> Look {
    let mut work = work.clone();
    let mut personal = spare_limits(&mut work, member, day.kit, day.bars);
    personal.extend(first_sets(&mut work, member, &ability.athlete, day.stimulus, day.kit, day.bars));
    personal.extend(guard_volume(&mut work, member));
    let look =
        predict(&work, member.standard, ability, day.stimulus, LOOK_RUNS.min(day.runs), day.seed).prediction;
    Look { tier, work, personal, look }
}

/// The middle lies in the window, or short of it at Full: nobody is made slower than the work as written.
fn holds(look: &Prediction, tier: Tier, stimulus: &Stimulus) -> bool {
    let too_hard = !enough(look, stimulus);
    !too_hard && (tier == Tier::Full || stimulus.holds(look.p50()))
}

/// Not too hard: no lower version need be looked at.
fn enough(look: &Prediction, stimulus: &Stimulus) -> bool {
    look.scale_this.is_none() && !stimulus.too_hard(look.p50()) && look.capped < 0.5
}

/// Places one member. `chosen`: the coach's own choice; `as_written`: everybody at Full, unscaled.
pub fn place(
    day: &Day,
    member: &Member,
    ability: &Ability,
    chosen: Option<Tier>,
    as_written: bool,
) -> Placed {
    let mut options: Vec<Look> = Vec::new();
    if as_written {
        let work = day.works.first().cloned();
        if let Some(work) = work {
            let look =
                predict(&work, member.standard, ability, day.stimulus, LOOK_RUNS.min(day.runs), day.seed)
                    .prediction;
            options.push(Look { tier: Tier::Full, work, personal: Vec::new(), look });
        }
    } else {
        for (tier, work) in Tier::ALL.into_iter().zip(day.works) {
            let o = option(day, tier, work, member, ability);
            let last = enough(&o.look, day.stimulus) && chosen.is_none();
            options.push(o);
            if last {
                break;
            }
        }
    }
    let mut suggested = suggest(&options, day.stimulus);
    let tried: Vec<Tried> = options
        .iter()
        .map(|o| Tried {
            tier: o.tier,
            p50: o.look.p50(),
            on_stimulus: o.look.on_stimulus,
            scale_this: o.look.scale_this.clone(),
        })
        .collect();
    let holds_at = |tier: Tier| options.iter().any(|o| o.tier == tier && holds(&o.look, tier, day.stimulus));
    let mut eased = None;
    if chosen.is_none() && !as_written && !holds_at(suggested) {
        eased = eased_option(day, member, ability, &options, suggested);
        if let Some((tier, ..)) = &eased {
            suggested = *tier;
        }
    }
    let wanted = chosen.unwrap_or(suggested);
    let (work, personal) = match (eased, options.into_iter().find(|o| o.tier == wanted)) {
        (Some((_, work, personal)), _) => (work, personal),
        (None, Some(o)) => (o.work, o.personal),
        (None, None) => (day.levers.written.clone(), Vec::new()),
    };
    let predicted = predict(&work, member.standard, ability, day.stimulus, day.runs, day.seed);
    let reasons = reasons(day.stimulus, &tried, wanted, suggested, chosen.is_some(), &predicted.prediction);
    Placed { tier: wanted, moved: chosen.is_some(), suggested, personal, work, reasons, tried, predicted }
}

/// The hardest version that holds; where none does, the one that comes nearest.
fn suggest(options: &[Look], stimulus: &Stimulus) -> Tier {
    if let Some(o) = options.iter().find(|o| holds(&o.look, o.tier, stimulus)) {
        return o.tier;
    }
    let miss = |o: &Look| {
        if o.look.scale_this.is_some() { 40.0 } else { stimulus.miss(o.look.p50()) + o.look.capped }
    };
    options
        .iter()
        .min_by(|a, b| miss(a).total_cmp(&miss(b)).then(b.tier.cmp(&a.tier)))
        .map_or(Tier::Full, |o| o.tier)
}

/// No version holds: the lowest that is still too hard is eased by personal lines, one lever at a time; when that does not
/// come nearer than the suggested one, nothing is changed.
fn eased_option(
    day: &Day,
    member: &Member,
    ability: &Ability,
    options: &[Look],
    suggested: Tier,
) -> Option<(Tier, Work, Vec<Personal>)> {
    let from = options.iter().rev().find(|o| !enough(&o.look, day.stimulus))?;
    // lines that spare a limit are not eased again: the levers know the version's lines only
    if from.personal.iter().any(|p| p.private) {
        return None;
    }
    let (mut work, mut personal) = (from.work.clone(), from.personal.clone());
    ease(day, member, ability, from.tier, &mut work, &mut personal);
    let look = |w: &Work| {
        predict(w, member.standard, ability, day.stimulus, LOOK_RUNS.min(day.runs), day.seed).prediction
    };
    let miss =
        |p: &Prediction| if p.scale_this.is_some() { 40.0 } else { day.stimulus.miss(p.p50()) + p.capped };
    let before = options.iter().find(|o| o.tier == suggested).map_or(f64::INFINITY, |o| miss(&o.look));
    (miss(&look(&work)) < before - 0.05).then_some((from.tier, work, personal))
}

/// One personal lever at a time, the one that helps most, until the middle is in the window.
fn ease(
    day: &Day,
    member: &Member,
    ability: &Ability,
    tier: Tier,
    work: &mut Work,
    personal: &mut Vec<Personal>,
) {
    let index = Tier::ALL.iter().position(|t| *t == tier).unwrap_or(0);
    let Some(base) = day.settings.get(index) else { return };
    let score = |w: &Work| quick_score(w, member.standard, &ability.athlete, day.stimulus).score;
    let mut setting = base.clone();
    let mut miss = day.stimulus.miss(score(work));
    for _ in 0..MOST_LEVERS {
        let mut best: Option<(f64, Setting, usize)> = None;
        for i in 0..day.levers.ways.len() {
            for s in lower(day.levers, &setting, i) {
                let w = day.levers.apply(&s);
                let m = day.stimulus.miss(score(&w));
                if m < miss - 0.05 && best.as_ref().is_none_or(|(b, ..)| m < *b) {
                    best = Some((m, s, i));
                }
            }
        }
        let Some((m, s, i)) = best else { break };
        let (before, after) = (day.levers.apply(&setting), day.levers.apply(&s));
        let (was, now) = (score(&before), score(&after));
        setting = s;
        miss = m;
        for (n, (a, b)) in
            before.lines.iter().zip(&after.lines).enumerate().filter(|(n, (a, b))| *n == i || a != b)
        {
            // a personal lever replaces the hard-limit change of the same line: it stands lower
            personal.retain(|p| p.line != n);
            let time = |v: f64| {
                if v.is_finite() {
                    format!("about {}", day.stimulus.write(v))
                } else {
                    "no finish".to_owned()
                }
            };
            personal.push(Personal {
                line: n,
                text: b.text_for(member.standard),
                reason: format!(
                    "with {} it would be {}, with this {}.",
                    a.text_for(member.standard),
                    time(was),
                    time(now)
                ),
                private: false,
            });
        }
        *work = after;
        if miss < 0.01 {
            break;
        }
    }
}

/// One step down on each lever of a line: its way, its load, its reps.
fn lower(levers: &Levers, s: &Setting, i: usize) -> Vec<Setting> {
    let mut out = Vec::new();
    let ways = levers.ways.get(i);
    let way = s.way.get(i).copied().unwrap_or(0);
    let loads = ways.and_then(|w| w.get(way)).map_or(0, |w| w.loads.len());
    let load = s.load.get(i).copied().unwrap_or(0);
    for l in load + 1..loads {
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

fn reasons(
    stimulus: &Stimulus,
    tried: &[Tried],
    tier: Tier,
    suggested: Tier,
    moved: bool,
    prediction: &Prediction,
) -> Vec<String> {
    let say = |t: &Tried| match &t.scale_this {
        Some(s) => format!("{}: {s}", t.tier.word()),
        None => format!(
            "{} would give {}, {} in the window.",
            t.tier.word(),
            stimulus.write(t.p50),
            crate::units::in_ten(t.on_stimulus)
        ),
    };
    let mut out: Vec<String> =
        tried.iter().filter(|t| t.tier < tier || (moved && t.tier != tier)).map(say).collect();
    let here = match &prediction.scale_this {
        Some(s) => format!("{} here: {s}", tier.word()),
        None => format!(
            "{} gives {} ({} to {}), {} inside {}.",
            tier.word(),
            stimulus.write(prediction.p50()),
            stimulus.write(prediction.p10()),
            stimulus.write(prediction.p90()),
            crate::units::in_ten(prediction.on_stimulus),
            stimulus.window_text()
        ),
    };
    out.push(here);
    if moved && suggested != tier {
        out.push(format!("You chose {}; I would choose {}.", tier.word(), suggested.word()));
    }
    out
}
