//! Every set's weight for one member: percentage and base into a weight that the gym's plates can build.

use super::base::{Base, base_for};
use super::ceiling::{Ceiling, ceiling};
use super::form::form_of;
use super::implement;
use super::instead::lift_for;
use super::one_rep_max::percent_for_reps;
use super::ramp::ramp;
use super::wanted::{FEEL_RESERVE, tempo_share, wanted};
use crate::kit::{Kit, Loadable, Loaded};
use crate::movement::{LoadKind, catalogue};
use crate::ratios::ballistic;
use crate::reason::{OfLift, Reason};
use crate::roster::Member;
use crate::settings::Settings;
use crate::sheet::{LiftSets, PercentBase, Tempo};
use crate::units::{Standard, WeightUnit};
use chrono::NaiveDate;

/// Of the best set, in each of several sets to the most (own).
const MAX_SET_SHARE: f64 = 0.7;

/// A weight this far from a wish by feel is said not to be buildable (own).
const FAR_OFF: f64 = 0.2;

/// All weights of all bars of a kit, worked out once for a class.
#[derive(Debug, Clone)]
pub struct Bars(Vec<Loadable>);

impl Bars {
    /// Works out every bar.
    pub fn of(kit: &Kit) -> Bars {
        let mut sizes: Vec<f64> = kit.bars.iter().filter(|b| b.count > 0).map(|b| b.size).collect();
        sizes.sort_by(f64::total_cmp);
        sizes.dedup();
        Bars(sizes.into_iter().map(|kg| Loadable::of(kit, kg)).collect())
    }

    /// The bar for a member and a load: the standard's own, a lighter one when the load is under 1.35 of it. A bar of 45 lb
    /// stands for one of 20 kg, 35 lb for 15 kg, 15 lb for 10 kg.
    pub fn choose(&self, standard: Standard, kg: f64) -> Option<&Loadable> {
        let usual: f64 = match standard {
            Standard::Heavier => 20.0,
            Standard::Lighter => 15.0,
        };
        let wish = [20.0, 15.0, 10.0].into_iter().find(|b| *b <= usual && kg >= 1.35 * b).unwrap_or(10.0);
        self.0.iter().min_by(|a, b| (a.bar_kg - wish).abs().total_cmp(&(b.bar_kg - wish).abs()))
    }

    /// One bar for all sets of a lift, so that nobody changes it between them: the one for the heaviest, where its empty weight is
    /// no more than the lightest.
    pub fn for_sets(&self, standard: Standard, lightest_kg: f64, heaviest_kg: f64) -> Option<&Loadable> {
        let fits = |b: &&Loadable| b.bar_kg <= lightest_kg + 1e-6;
        self.choose(standard, heaviest_kg).filter(fits).or_else(|| self.choose(standard, lightest_kg))
    }

    /// The weights of one bar.
    pub fn of_bar(&self, bar_kg: f64) -> Option<&Loadable> {
        self.0.iter().find(|b| (b.bar_kg - bar_kg).abs() < 0.01)
    }
}

/// One set of a member.
#[derive(Debug, Clone, PartialEq)]
pub struct SetLoad {
    /// Reps.
    pub reps: u32,
    /// Per cent of the base after rounding to what can be loaded; `None` without a base.
    pub percent: Option<f64>,
    /// kg: the bar with plates, or one implement.
    pub load_kg: f64,
    /// Bar, kg; 0 without one.
    pub bar_kg: f64,
    /// Plates on one side, heaviest first.
    pub per_side_kg: Vec<f64>,
    /// Leads up to the work.
    pub warm_up: bool,
}

/// A lift of one member.
#[derive(Debug, Clone, PartialEq)]
pub struct MemberLift {
    /// Catalogue id of what is done.
    pub lift: String,
    /// What the percentages are of.
    pub base: Base,
    /// In order.
    pub sets: Vec<SetLoad>,
    /// How fast each rep is, where it is said or a rule says so.
    pub tempo: Option<Tempo>,
    /// Reps to leave in reserve, where no percentage decides.
    pub reserve: Option<u32>,
    /// The sheet's sets that are theirs, where it has other ones for lower levels.
    pub form: Option<LiftSets>,
    /// On a day of a maximum none is looked for: the sets stay as they are planned, and none of them is a base.
    pub no_maximum: bool,
    /// Why it differs from the sheet.
    pub reasons: Vec<Reason>,
    /// What the coach must settle.
    pub open: Vec<Reason>,
}

impl MemberLift {
    /// The working sets.
    pub fn working(&self) -> impl Iterator<Item = &SetLoad> {
        self.sets.iter().filter(|s| !s.warm_up)
    }

    /// Why it differs from the sheet and what the coach must settle, in words.
    pub fn says(&self, unit: WeightUnit) -> Vec<String> {
        self.reasons.iter().chain(&self.open).map(|r| crate::say::reason(r, unit)).collect()
    }

    /// First working weight, kg; 0 without one.
    pub fn first_kg(&self) -> f64 {
        self.working().next().map_or(0.0, |s| s.load_kg)
    }

    /// Whether it is done with a weight at all.
    pub fn loadable(&self) -> bool {
        catalogue().movement(&self.lift).is_some_and(|m| m.load != LoadKind::None)
    }

    /// Its bar, kg.
    pub fn bar_kg(&self) -> f64 {
        self.working().next().map_or(0.0, |s| s.bar_kg)
    }
}

/// What the sets of a lift should weigh for a member.
struct Wishes<'a> {
    member: &'a Member,
    lift: &'a LiftSets,
    ceiling: &'a Ceiling,
    /// Of a written load, for a lift that stands in for another.
    load: Option<f64>,
    tempo: Option<Tempo>,
}

/// What one set should weigh, kg: the band and the wish in it. `exact`: the nearest weight, whatever the band.
struct Wish {
    low: f64,
    high: f64,
    wish: f64,
    exact: bool,
}

impl Wishes<'_> {
    fn of_set(&self, i: usize, written: u32, base_kg: f64) -> Wish {
        // the lower of the two counts: what a tempo takes off, or what the rule leaves
        let share = tempo_share(self.tempo) * self.ceiling.share;
        let first = self.lift.reps.first().map_or(1.0, |r| wanted(self.lift, 0, *r).wish * share);
        let lowered = if i == 0 { 1.0 } else { self.ceiling.lowers_all(first) };
        // the same set again is the same weight
        let like_first = (wanted(self.lift, i, written).wish * share - first).abs() < 0.01;
        if lowered < 1.0 && like_first {
            return self.of_set(0, written, base_kg);
        }
        let most = self.ceiling.percent(i);
        let w = wanted(self.lift, i, written).times(share * lowered).under(most, self.ceiling.slack());
        let kg = |p: f64| (base_kg * p / 100.0).min(self.ceiling.most_kg.unwrap_or(f64::INFINITY));
        let fixed = self.lift.kg.map(|pair| self.member.standard.of(pair) * self.load.unwrap_or(1.0));
        let fixed = fixed.map(|f| f.min(most.map_or(f64::INFINITY, kg)));
        Wish {
            low: kg(w.low),
            high: kg(w.high),
            wish: fixed.unwrap_or_else(|| kg(w.wish)),
            exact: fixed.is_some() || w.feel || w.high - w.low < 0.01,
        }
    }
}

/// The weights of one member for the sets of a lift: those of their level, where the sheet has several.
pub fn prescribe(
    member: &Member,
    lift: &LiftSets,
    kit: &Kit,
    bars: &Bars,
    settings: &Settings,
    today: NaiveDate,
) -> Option<MemberLift> {
    let written = lift;
    let lift = form_of(member, written);
    let done = lift_for(member, lift.movement.id()?, kit);
    let base = hardest(member, lift, &done.lift, settings, today);
    let ceiling = ceiling(member, &done.lift, &base.0, done.by_limit, today);
    let tempo = lift.tempo.filter(|_| !ballistic(&done.lift));
    let mut out = MemberLift {
        tempo,
        reserve: ceiling.reserve.or((lift.percent.is_none() && lift.kg.is_none()).then_some(FEEL_RESERVE)),
        lift: done.lift,
        base: base.0,
        sets: Vec::new(),
        form: (!std::ptr::eq(lift, written)).then(|| lift.clone()),
        no_maximum: false,
        reasons: done.reason.into_iter().chain(base.1).map(Reason::from).collect(),
        open: done.open.into_iter().map(Reason::from).collect(),
    };
    if !out.loadable() {
        own_weight(&mut out, member, lift);
        return Some(out);
    }
    let barbell = catalogue().movement(&out.lift).is_some_and(|m| m.load == LoadKind::Barbell);
    let (mut missed, mut too_light) = (false, None);
    let mut last_wish = None;
    let wishes = Wishes { member, lift, ceiling: &ceiling, load: done.load, tempo };
    let all: Vec<Wish> =
        lift.reps.iter().enumerate().map(|(i, reps)| wishes.of_set(i, *reps, out.base.kg)).collect();
    let (least, most) = all.iter().fold((f64::INFINITY, 0.0_f64), |(a, b), w| (a.min(w.wish), b.max(w.wish)));
    let bar = bars.for_sets(member.standard, least, most);
    for (written, w) in lift.reps.iter().zip(&all) {
        let reps = (f64::from(*written) * done.reps).round() as u32;
        let set = if barbell {
            let found = bar.and_then(|b| pick(b, w.exact, w.low, w.high, w.wish));
            missed |= found.is_some_and(|(l, inside)| {
                // by feel a weight near the wish is as good
                !inside && (ceiling.care.is_none() || (l.kg - w.wish).abs() > FAR_OFF * w.wish)
            });
            let set = found.map(|(l, _)| of_loaded(l, reps, &out.base));
            // rounding never makes a set that should be heavier a lighter one
            let risen = last_wish.is_some_and(|last| w.wish >= last);
            match out.sets.last().filter(|b| risen && set.as_ref().is_some_and(|s| s.load_kg < b.load_kg)) {
                Some(before) => Some(SetLoad { reps, ..before.clone() }),
                None => set,
            }
        } else {
            implement::nearest(kit, &out.lift, w.wish, reps, out.tempo).map(|(load_kg, light)| {
                let reps = light.as_ref().map_or(reps, |l| l.more_reps);
                too_light = too_light.or(light);
                SetLoad { reps, percent: None, load_kg, bar_kg: 0.0, per_side_kg: Vec::new(), warm_up: false }
            })
        };
        last_wish = Some(w.wish);
        out.sets.extend(set);
    }
    rule(&mut out, lift, kit, &ceiling);
    out.reasons.extend(out.base.old.then_some(OfLift::OldLift.into()));
    out.reasons.extend(too_light.map(|of| OfLift::TooLight { of }.into()));
    settle(&mut out, lift, missed);
    if barbell {
        add_ramp(&mut out, bars);
    }
    Some(out)
}

/// Sets of a lift that nothing is put on: reps as written; to the most, a share of the best set, so that the last set is
/// like the first.
fn own_weight(out: &mut MemberLift, member: &Member, lift: &LiftSets) {
    let best = member.best_of(&out.lift).map(|b| b.reps);
    let to_max = best.map_or(0, |b| (b * MAX_SET_SHARE).floor().max(1.0) as u32);
    out.reserve = None;
    if lift.reps.contains(&0) {
        let of = |best| OfLift::ToTheMost { best, each: to_max };
        out.reasons.push(best.map_or(OfLift::NoBestSet, of).into());
    }
    out.sets.extend(lift.reps.iter().map(|r| SetLoad {
        reps: if *r == 0 { to_max } else { *r },
        percent: None,
        load_kg: 0.0,
        bar_kg: 0.0,
        per_side_kg: Vec::new(),
        warm_up: false,
    }));
}

/// The base of a lift; of a chain, that of the part which is hardest for this member at its reps: one weight is held for
/// all of them. With the reason that names it.
fn hardest(
    member: &Member,
    lift: &LiftSets,
    done: &str,
    settings: &Settings,
    today: NaiveDate,
) -> (Base, Option<OfLift>) {
    let of = lift.percent.as_ref().map_or(&PercentBase::Unsaid, |p| &p.of);
    let first = base_for(member, done, of, settings, today);
    if lift.chain.is_empty() {
        return (first, None);
    }
    let able = |b: &Base, reps: u32| b.kg * percent_for_reps(reps.max(1));
    let reps = lift.most_reps();
    let links = lift.chain.iter().map(|(id, reps)| {
        let b = base_for(member, id, of, settings, today);
        (able(&b, *reps), id.as_str(), b)
    });
    let all = std::iter::once((able(&first, reps), done, first.clone())).chain(links);
    let Some((_, id, base)) = all.min_by(|a, b| a.0.total_cmp(&b.0)) else { return (first, None) };
    let name = catalogue().name(id).to_lowercase();
    let words = format!("hardest part {name}: {}", base.words);
    let reason = (id != done).then(|| OfLift::HardestPart { lift: id.to_owned() });
    (Base { words, ..base }, reason)
}

fn pick(bar: &Loadable, exact: bool, low: f64, high: f64, wish: f64) -> Option<(&Loaded, bool)> {
    if exact { bar.nearest(wish).map(|w| (w, true)) } else { bar.inside(low, high, wish) }
}

pub(super) fn of_loaded(l: &Loaded, reps: u32, base: &Base) -> SetLoad {
    let percent = (base.kg > 0.0).then(|| l.kg / base.kg * 100.0);
    SetLoad {
        reps,
        percent,
        load_kg: l.kg,
        bar_kg: l.bar_kg,
        per_side_kg: l.per_side.clone(),
        warm_up: false,
    }
}

/// The one rule for the card, and what is done with a tempo that the lift has no place for.
fn rule(out: &mut MemberLift, lift: &LiftSets, kit: &Kit, ceiling: &Ceiling) {
    let first = out.first_kg();
    if first > 0.0 {
        let step = kit.kg_of(if kit.pounds() { 10.0 } else { 5.0 });
        let rule = ceiling.rule(first, step, lift.percent.is_some());
        out.reasons.extend(rule.map(|of| OfLift::Rule { of }.into()));
    }
    if let Some(t) = lift.tempo.filter(|_| ballistic(&out.lift)) {
        out.reasons.push(OfLift::TempoStays { tempo: t }.into());
    }
}

/// What the coach must settle.
fn settle(out: &mut MemberLift, lift: &LiftSets, missed: bool) {
    if missed {
        out.open.push(OfLift::NotBuildable.into());
    }
    if out.sets.is_empty() && !lift.reps.is_empty() && out.loadable() {
        out.open.push(OfLift::NoImplement.into());
    }
    let first = out.working().next();
    if let (Some(every_s), Some((reps, percent))) = (lift.every_s, first.map(|s| (s.reps, s.percent))) {
        let rest_s = f64::from(every_s) - super::time::set_time(&out.lift, reps, out.tempo);
        if let Some(percent) = percent.filter(|p| rest_s < 60.0 && *p > 80.0) {
            out.open.push(OfLift::ShortRest { every_s, rest_s, percent }.into());
        }
    }
}

/// The build-up to the first set.
pub(super) fn add_ramp(out: &mut MemberLift, bars: &Bars) {
    let Some(first) = out.sets.first().cloned() else { return };
    let Some(bar) = bars.of_bar(first.bar_kg) else { return };
    let heavy = first.reps == 1 && first.percent.is_some_and(|p| p > 90.0);
    let base = out.base.clone();
    let steps = ramp(bar, first.load_kg, first.reps, heavy)
        .into_iter()
        .map(|(reps, w)| SetLoad { warm_up: true, ..of_loaded(&w, reps, &base) });
    out.sets.splice(0..0, steps);
}
