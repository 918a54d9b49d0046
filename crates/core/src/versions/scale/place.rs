//! Every member's version: the hardest that holds the stimulus at their own weights, limits first, and what each other version
//! would have given.

use super::guard::guard_volume;
use super::height::fit_height;
use super::levers::{Levers, Setting};
use super::limits::spare_limits;
use super::look::{Look, suggest};
use super::offers::offers;
use super::personal::Personal;
use super::reason::{Hinder, begins_at, hindered};
use super::skill::{Doer, missing_lines, own_rungs};
use super::strict::strict_first;
use super::weight::{Hands, lightest_share, own_weight_lines, under_ceilings};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::pacing::{Level, Style};
use crate::reason::{Beyond, OfLine, OfPlace, Reason};
use crate::roster::{Ability, Member};
use crate::schools::WhatToScale;
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::{Standard, WeightUnit};
use crate::versions::predict::{Effort, Predicted, Prediction, PredictionUnit, predict};
use crate::versions::work::{Tier, Work, board_reps};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// Runs of a look at a version that may not be chosen.
const LOOK_RUNS: u32 = 40;
/// Seed of all looks.
const LOOK_SEED: u64 = 1;
/// Lines of one's own must bring somebody so much nearer, in windows (own).
const NEARER: f64 = 0.05;

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
    pub scale_this: Option<Beyond>,
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
    /// Why, with the figures.
    pub reasons: Vec<OfPlace>,
    /// What kept them from Full, or changed a line of theirs.
    pub hinders: Vec<Hinder>,
    /// More, for who will be clearly early at Full: offered, never assigned.
    pub offers: Vec<String>,
    /// All versions that were looked at.
    pub tried: Vec<Tried>,
    /// The range.
    pub predicted: Predicted,
}

impl Placed {
    /// Takes the range of a work that the kit has changed, and says of it what is said of any.
    pub fn ranged(&mut self, day: &PlaceDay, member: &Member, ability: &Ability, predicted: Predicted) {
        self.predicted = predicted;
        self.say(day, member, ability, false);
    }

    /// Reasons and offers by the range that is shown.
    fn say(&mut self, day: &PlaceDay, member: &Member, ability: &Ability, as_written: bool) {
        let range = &self.predicted.prediction;
        self.reasons = reasons(&self.work.keeps(day.stimulus), self, range);
        self.offers = if self.tier == Tier::Full && !as_written {
            offers(&self.work, member, &ability.athlete, day.hands(), range)
        } else {
            Vec::new()
        };
    }

    /// Why they stand here and why lines are their own, one by one.
    pub fn why(&self) -> impl Iterator<Item = Reason> + '_ {
        let lines = self.personal.iter().flat_map(|x| &x.reasons).cloned().map(Reason::from);
        self.reasons.iter().cloned().map(Reason::from).chain(lines)
    }

    /// Why they stand here, in words.
    pub fn says_place(&self, unit: WeightUnit) -> Vec<String> {
        self.reasons.iter().map(|r| crate::say::reason(&r.clone().into(), unit)).collect()
    }

    /// The same, and why lines are their own: a sentence a line.
    pub fn says(&self, unit: WeightUnit) -> Vec<String> {
        let lines = self.personal.iter().map(|x| x.says(unit));
        self.says_place(unit).into_iter().chain(lines).collect()
    }
}

/// What placing needs to know of the day.
#[derive(Debug)]
pub struct PlaceDay<'a> {
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
    /// Schools.
    pub schools: &'a Settings,
    /// The day.
    pub today: NaiveDate,
    /// The versions are the coach's own: no personal lines are looked for beside the hard limits.
    pub own: bool,
}

impl PlaceDay<'_> {
    /// A range of so many runs, as it is shown.
    pub fn range(&self, work: &Work, member: &Member, ability: &Ability, runs: u32) -> Predicted {
        predict(work, member.standard, ability, self.stimulus, self.shown(runs))
    }

    /// How a range of so many runs is made that is shown.
    fn shown(&self, runs: u32) -> Effort {
        let style = Style::of_school(self.schools.answer());
        Effort { runs: runs.min(self.runs), seed: self.seed, style }
    }

    /// A quick range to decide by. Its draws are always the same: no version and no line hangs on a seed.
    fn look(&self, work: &Work, member: &Member, ability: &Ability) -> Predicted {
        let effort = Effort { runs: LOOK_RUNS.min(self.runs), seed: LOOK_SEED, style: Style::Free };
        predict(work, member.standard, ability, self.stimulus, effort)
    }

    /// A member as somebody whose sets are looked at.
    fn doer<'a>(&'a self, member: &Member, ability: &'a Ability) -> Doer<'a> {
        Doer {
            standard: member.standard,
            athlete: &ability.athlete,
            new: member.is_newcomer() && member.level == Level::New,
            stimulus: self.stimulus,
            settings: self.schools,
        }
    }

    /// Caps what is more of a pattern than a member is used to.
    fn guarded(&self, work: &mut Work, member: &Member, rounds: Option<f64>) -> Vec<Personal> {
        let by_time = self.schools.answer::<WhatToScale>() == WhatToScale::CutTime;
        guard_volume(work, member, self.today, rounds, by_time)
    }

    /// What the hands have.
    pub(super) fn hands(&self) -> Hands<'_> {
        Hands { kit: self.kit, bars: self.bars, stimulus: self.stimulus }
    }
}

/// A work within a member's hard limits, and the lines that differ for them: limits of the body, strict before swung, loads
/// of the first set, boxes, volume. An open list is guarded by the rounds that are expected of it.
pub fn within_limits(
    day: &PlaceDay,
    work: &Work,
    member: &Member,
    ability: &Ability,
    rounds: Option<f64>,
) -> (Work, Vec<Personal>) {
    let mut work = work.clone();
    let mut personal = spare_limits(&mut work, member, &ability.athlete, day.hands());
    personal.extend(strict_first(&mut work, member, &ability.athlete, day));
    personal.extend(under_ceilings(&mut work, member, day.kit, day.bars));
    personal.extend(own_weight_lines(&mut work, member, &ability.athlete, day.hands()));
    personal.extend(fit_height(&mut work, member, day.kit));
    personal.extend(day.guarded(&mut work, member, rounds));
    (work, a_line_each(personal))
}

/// Several changes of one line become one, with all their reasons.
fn a_line_each(all: Vec<Personal>) -> Vec<Personal> {
    let mut out: Vec<Personal> = Vec::new();
    for p in all {
        match out.iter_mut().find(|x| x.line == p.line) {
            Some(x) => x.then(p),
            None => out.push(p),
        }
    }
    out
}

/// Times through an open list at the middle of a range; `None` where the list is closed.
fn rounds_expected(work: &Work, look: &Prediction, standard: Standard) -> Option<f64> {
    let open = work.one_amrap() || work.until_failure();
    // nothing that results taught reaches the guards of volume
    let middle = look.foretold.map_or_else(|| look.p50(), |f| f.middle);
    open.then(|| match look.unit {
        PredictionUnit::Reps => middle / board_reps(work, standard).max(1.0),
        _ => middle,
    })
}

fn option(day: &PlaceDay, tier: Tier, work: &Work, member: &Member, ability: &Ability) -> Look {
    let (mut fitted, mut personal) = within_limits(day, work, member, ability, None);
    let mut seen = day.look(&fitted, member, ability);
    if let Some(rounds) = rounds_expected(&fitted, &seen.prediction, member.standard) {
        let (again, more) = within_limits(day, work, member, ability, Some(rounds));
        if again != fitted {
            seen = day.look(&again, member, ability);
            (fitted, personal) = (again, more);
        }
    }
    looked(day, tier, fitted, personal, seen, (member, ability))
}

fn looked(
    day: &PlaceDay,
    tier: Tier,
    work: Work,
    personal: Vec<Personal>,
    seen: Predicted,
    (member, ability): (&Member, &Ability),
) -> Look {
    let stimulus = work.keeps(day.stimulus);
    let version = Tier::ALL.iter().position(|t| *t == tier).and_then(|i| day.works.get(i));
    let share = version.map_or(1.0, |v| lightest_share(v, &work, member.standard));
    let missing = missing_lines(&work, day.doer(member, ability)).len();
    let over = seen.run.steadiness.over;
    Look { tier, work, personal, over, share, missing, seen, stimulus }
}

/// Places one member. `chosen`: the coach's own choice; `as_written`: everybody at Full, unscaled.
pub fn place(
    day: &PlaceDay,
    member: &Member,
    ability: &Ability,
    chosen: Option<Tier>,
    as_written: bool,
) -> Placed {
    let mut options =
        if as_written { unscaled(day, member, ability) } else { scaled(day, member, ability, chosen) };
    let mut suggested = suggest(&options);
    if chosen.is_none() && !as_written && !day.own {
        let lower = options.iter().find(|o| o.tier == suggested).and_then(|o| called(day, o));
        if let Some((tier, work)) = lower.filter(|(t, _)| options.iter().all(|o| o.tier != *t)) {
            options.push(option(day, tier, work, member, ability));
        }
        suggested = lower.map_or(suggested, |(t, _)| t);
    }
    let tried: Vec<Tried> = options.iter().map(Look::tried).collect();
    let wanted = chosen.unwrap_or(suggested);
    let eased = (chosen.is_none() && !as_written && !day.own)
        .then(|| options.iter().find(|o| o.tier == wanted && !o.enough() && !o.only_late()))
        .flatten()
        .and_then(|o| eased(day, o, member, ability));
    let (work, personal, predicted) = match eased.or_else(|| options.into_iter().find(|o| o.tier == wanted)) {
        Some(o) => {
            let effort = day.shown(day.runs);
            let predicted = o.seen.again(&o.work, member.standard, ability, day.stimulus, effort);
            (o.work, o.personal, predicted)
        }
        None => {
            let work = day.levers.written.clone();
            let predicted = day.range(&work, member, ability, day.runs);
            (work, Vec::new(), predicted)
        }
    };
    let moved = chosen.is_some();
    let rounds = rounds_expected(&work, &predicted.prediction, member.standard);
    let hinders = hinders(day, member, ability, wanted, &personal, rounds);
    let mut placed = Placed {
        tier: wanted,
        moved,
        suggested,
        personal,
        work,
        reasons: Vec::new(),
        hinders,
        offers: Vec::new(),
        tried,
        predicted,
    };
    placed.say(day, member, ability, as_written);
    placed
}

/// The lower version that somebody does line by line, whatever their weights: they are called by its name, and have no line of
/// their own to be told.
fn called<'a>(day: &'a PlaceDay, look: &Look) -> Option<(Tier, &'a Work)> {
    let told = look.personal.iter().any(|p| !p.weight && !p.private());
    let lines = |w: &Work| -> Vec<(String, Option<String>, Vec<[f64; 2]>)> {
        w.lines.iter().map(|l| (l.movement.clone(), l.variant.clone(), l.counts.clone())).collect()
    };
    let same = |w: &Work| w.sections == look.work.sections && lines(w) == lines(&look.work);
    let below = Tier::ALL.into_iter().zip(day.works).filter(|(t, _)| *t > look.tier);
    below.filter(|_| told).find(|(_, w)| same(w))
}

/// What keeps a member from Full where they are not there, and what changed a line of theirs.
fn hinders(
    day: &PlaceDay,
    member: &Member,
    ability: &Ability,
    tier: Tier,
    personal: &[Personal],
    rounds: Option<f64>,
) -> Vec<Hinder> {
    let mut out = Vec::new();
    if personal.iter().any(|p| p.private()) {
        out.push(Hinder::Limit);
    }
    let too_much = |work: &Work| !day.guarded(&mut work.clone(), member, rounds).is_empty();
    if tier != Tier::Full
        && let Some(full) = day.works.first()
    {
        let by_ability = hindered(full, member, ability, day.hands(), day.schools, day.today);
        out.push(match by_ability {
            Some((_, h)) => h,
            None if too_much(full) => Hinder::Volume,
            // it fits their hands, and their range ends too late in it
            None => Hinder::Slow,
        });
    }
    let version = Tier::ALL.iter().position(|t| *t == tier).and_then(|i| day.works.get(i));
    let own = personal.iter().any(|p| !p.private() && !p.weight);
    if own && version.is_some_and(too_much) && !out.contains(&Hinder::Volume) {
        out.push(Hinder::Volume);
    }
    out
}

/// Full as written, nothing changed.
fn unscaled(day: &PlaceDay, member: &Member, ability: &Ability) -> Vec<Look> {
    let work = day.works.first().cloned();
    let one = |work: Work| {
        let seen = day.look(&work, member, ability);
        looked(day, Tier::Full, work, Vec::new(), seen, (member, ability))
    };
    work.into_iter().map(one).collect()
}

/// The versions that are looked at, hardest first, down to the first that holds.
fn scaled(day: &PlaceDay, member: &Member, ability: &Ability, chosen: Option<Tier>) -> Vec<Look> {
    let first = begins_at(member, day.today).filter(|_| chosen.is_none()).map_or(Tier::Full, |(t, _)| t);
    let mut out: Vec<Look> = Vec::new();
    for (tier, work) in Tier::ALL.into_iter().zip(day.works).filter(|(t, _)| *t >= first) {
        let o = option(day, tier, work, member, ability);
        let last = o.enough() && chosen.is_none();
        out.push(o);
        if last {
            break;
        }
    }
    out
}

/// The same version with the member's own rungs where it asks for what they cannot do; less of it where it would still be far
/// beyond them. `None` where that brings them no nearer.
fn eased(day: &PlaceDay, from: &Look, member: &Member, ability: &Ability) -> Option<Look> {
    let at = Tier::ALL.iter().position(|t| *t == from.tier)?;
    let setting = day.settings.get(at)?;
    let version = day.works.get(at)?;
    let own = |setting: &Setting, less: Option<String>| {
        let asked = if less.is_none() { version.clone() } else { day.levers.apply(setting) };
        let (mut work, mut personal) = within_limits(day, &asked, member, ability, None);
        personal.extend(own_rungs(&mut work, setting, day.levers, day.doer(member, ability)));
        personal.extend(less.map(|text| Personal::own(0, text, OfLine::LessOfIt)));
        let personal = a_line_each(personal);
        let seen = day.look(&work, member, ability);
        looked(day, from.tier, work, personal, seen, (member, ability))
    };
    let mut best = own(setting, None);
    for amount in setting.amount + 1..day.levers.amounts.len() {
        if best.look().scale_this.is_none() {
            break;
        }
        let less = day.levers.amounts.get(amount)?.says(&day.levers.written);
        best = own(&Setting { amount, ..setting.clone() }, Some(less));
    }
    (best.off_by() < from.off_by() - NEARER).then_some(best)
}

/// What a middle was before results moved it; `None` where none moved it so far that it can be seen.
pub fn before_results(stimulus: &Stimulus, p: &Prediction) -> Option<f64> {
    let before = p.foretold?.middle;
    let seen = stimulus.write(before) != stimulus.write(p.p50());
    (p.moved && seen && p.scale_this.is_none()).then_some(before)
}

fn reasons(stimulus: &Stimulus, p: &Placed, prediction: &Prediction) -> Vec<OfPlace> {
    let Placed { tier, moved, suggested, ref tried, .. } = *p;
    let unit = stimulus.unit;
    let would = |t: &Tried| match &t.scale_this {
        Some(of) => OfPlace::Far { tier: t.tier, here: false, of: of.clone() },
        None => OfPlace::WouldGive { tier: t.tier, unit, middle: t.p50, on_stimulus: t.on_stimulus },
    };
    let mut out: Vec<OfPlace> =
        tried.iter().filter(|t| t.tier < tier || (moved && t.tier != tier)).map(would).collect();
    out.push(match &prediction.scale_this {
        Some(of) => OfPlace::Far { tier, here: true, of: of.clone() },
        None => OfPlace::Gives {
            tier,
            unit,
            low: prediction.p10(),
            middle: prediction.p50(),
            high: prediction.p90(),
            on_stimulus: prediction.on_stimulus,
            window: (!stimulus.no_window()).then_some([stimulus.low, stimulus.high]),
            steady: stimulus.only_steady(),
        },
    });
    if let Some(before) = before_results(stimulus, prediction) {
        out.push(OfPlace::Results { unit, before, now: prediction.p50(), own: prediction.results });
    }
    if let Some(ability) = prediction.weakest.clone().filter(|_| prediction.scale_this.is_none()) {
        out.push(OfPlace::LeastKnown { ability });
    }
    if moved && suggested != tier {
        out.push(OfPlace::Chosen { tier, proposed: suggested });
    }
    out
}
