//! A rep maximum of the day: the sets that fit the window, their weights, and after each logged set what comes next.

use super::base::{Base, base_for};
use super::by_mass;
use super::instead::lift_for;
use super::one_rep_max::percent_for_reps;
use super::prescribe::{Bars, MemberLift, of_loaded, prescribe};
use super::time::{Turns, rest_after, set_time};
use crate::kinds::Limit;
use crate::kit::{Kit, Loadable, Loaded};
use crate::pacing::Level;
use crate::ratios::newcomer_ceiling;
use crate::reason::OfLift;
use crate::roster::{Max, Member};
use crate::settings::Settings;
use crate::sheet::{Build, LiftSets, PercentBase};
use crate::units::Provenance;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// Shares of the expected maximum, set after set.
const SHARES: [f64; 7] = [0.50, 0.60, 0.70, 0.80, 0.88, 0.94, 1.00];
/// What each further set adds once the expected maximum is reached.
const BEYOND: f64 = 1.025;
/// Fewest sets of a build; a shorter window is said not to fit.
const FEWEST: usize = 3;
/// Most sets of a build.
const MOST: usize = 12;
/// Fewest reps of a replacement's sets (own): it is not there to be heavy.
const LEAST_INSTEAD: u32 = 5;
/// Misses that end the lift.
const MOST_MISSES: usize = 2;
/// Rep maxima above this are kept as results and are no base of percentages.
const MOST_BASE_REPS: u32 = 10;

/// What the day's heavy set is for somebody: one instruction a card, limits and newness before the sheet's words.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum HeavyDay {
    /// Seasoned, the lift is known: to the expected maximum, then by the reps that are left.
    Whole,
    /// The lift is known: nearly as far.
    Nearly,
    /// The lift is estimated only.
    Estimated,
    /// New, nothing known, or under eight sessions with an estimate only: sets that stay easy, no maximum.
    Easy,
}

/// Shares of an easy day's sets.
const EASY: [f64; 5] = [0.45, 0.55, 0.60, 0.65, EASY_TOP];
const EASY_TOP: f64 = 0.70;
/// Fewest reps of an easy set.
const LEAST_EASY: u32 = 3;
/// The last planned share where the lift is known, and where it is estimated only (own).
const NEARLY: f64 = 0.97;
const ESTIMATED: f64 = 0.90;
/// Reps of a replacement's sets in pregnancy (own).
const PREGNANT_REPS: u32 = 8;

impl HeavyDay {
    fn of(member: &Member, lift: &str, base: &Base) -> HeavyDay {
        // a single of the lift itself says what its five will be
        let known = member.maxes.iter().any(|m| m.lift == lift);
        match base.provenance {
            _ if member.level == Level::New => HeavyDay::Easy,
            Provenance::Assumed | Provenance::Results => HeavyDay::Easy,
            Provenance::Estimated if !known && member.is_newer() => HeavyDay::Easy,
            Provenance::Estimated if !known => HeavyDay::Estimated,
            _ if matches!(member.level, Level::Seasoned | Level::Competitive) => HeavyDay::Whole,
            _ => HeavyDay::Nearly,
        }
    }

    /// Shares of the expected maximum, set after set.
    fn shares(self, sets: usize) -> Vec<f64> {
        let most = |top: f64| {
            let n = sets.min(SHARES.len());
            shares(n)
                .into_iter()
                .map(|s| s.min(1.0) * if top < NEARLY { top } else { 1.0 })
                .map(|s| s.min(top))
                .collect()
        };
        match self {
            HeavyDay::Whole => shares(sets),
            HeavyDay::Nearly => most(NEARLY),
            HeavyDay::Estimated => most(ESTIMATED),
            HeavyDay::Easy => EASY.to_vec(),
        }
    }

    /// What the card says of it.
    fn reason(self, reps: u32, sets: usize) -> OfLift {
        match self {
            HeavyDay::Whole | HeavyDay::Nearly => OfLift::BuildTo { reps, sets },
            HeavyDay::Estimated => OfLift::BuildTowards { reps, sets },
            HeavyDay::Easy => OfLift::EasySets { sets },
        }
    }
}

/// Jump after a set, by the reps that were left: 3 or more, 2, 1.
fn jump(reserve: u32) -> Option<f64> {
    match reserve {
        0 => None,
        1 => Some(1.025),
        2 => Some(1.05),
        _ => Some(1.075),
    }
}

/// One set of a build as it went.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Attempt {
    /// What was on the bar, kg.
    pub kg: f64,
    /// Reps done.
    pub reps: u32,
    /// Reps that were left, as the member says; `None`: not said.
    pub reserve: Option<u32>,
    /// The set was not finished.
    pub missed: bool,
}

/// What comes after a logged set.
#[derive(Debug, Clone, PartialEq)]
pub enum NextSet {
    /// Lift this.
    Lift {
        /// The weight with its plates.
        load: Loaded,
        /// Why this one.
        why: String,
    },
    /// The lift is over for today.
    Stop {
        /// Why.
        why: String,
    },
}

/// Sets of a build that fit a window when a rack is shared: how many of the shares are used.
///
/// The window is the sum over the sets of one step each: the set and its rest by the weight, or the turns of all at the
/// rack where they take longer.
pub fn sets_that_fit(lift: &str, build: &Build, window_s: f64, per_rack: u32) -> usize {
    let one = percent_for_reps(build.reps);
    let set_s = set_time(lift, build.reps, None);
    let round = Turns { members: per_rack.max(1), set_s, changes: per_rack.max(1) }.round_s();
    let length = |n: usize| shares(n).iter().map(|s| (set_s + rest_after(s * one)).max(round)).sum::<f64>();
    (1..=MOST).rev().find(|n| length(*n) <= window_s + 0.5).unwrap_or(0)
}

/// Shares of the expected maximum for so many sets: spread over the list when fewer, going beyond when more.
fn shares(n: usize) -> Vec<f64> {
    let all = SHARES.len();
    if n >= all {
        let beyond = (1..=n - all).map(|i| BEYOND.powi(i as i32));
        return SHARES.into_iter().chain(beyond).collect();
    }
    let last = (all - 1) as f64;
    (0..n)
        .map(|i| {
            // the last set is always the expected maximum
            let at = if n == 1 { last } else { i as f64 * last / (n - 1) as f64 };
            SHARES.get(at.round() as usize).copied().unwrap_or(1.0)
        })
        .collect()
}

/// A member's sets on the way to the day's maximum.
pub fn plan_heavy(
    member: &Member,
    build: &Build,
    sets: usize,
    kit: &Kit,
    bars: &Bars,
    settings: &Settings,
    today: NaiveDate,
) -> Option<MemberLift> {
    let lift = build.movement.id()?;
    let pregnant = member.limits.contains(&Limit::Pregnancy);
    if pregnant || lift_for(member, lift, kit).lift != lift {
        return instead_of_a_maximum(member, build, pregnant, kit, bars, settings, today);
    }
    let base = base_for(member, lift, &PercentBase::RepMax(build.reps), settings, today);
    let day = HeavyDay::of(member, lift, &base);
    let reps = if day == HeavyDay::Easy { build.reps.max(LEAST_EASY) } else { build.reps };
    let mut out = MemberLift {
        lift: lift.to_owned(),
        sets: Vec::new(),
        tempo: None,
        reserve: None,
        form: None,
        no_maximum: day == HeavyDay::Easy,
        reasons: Vec::new(),
        open: Vec::new(),
        base,
    };
    let top = match ceiling_of(member, lift) {
        Some(kg) if day == HeavyDay::Easy => out.base.kg.min(kg / EASY_TOP),
        _ => out.base.kg,
    };
    let shares = day.shares(sets.max(FEWEST));
    let (first, last) = (shares.first().copied()?, shares.last().copied()?);
    let usual = bars.for_sets(member.standard, top * first, top * last)?;
    for share in shares {
        // an easy day never rounds up
        let found = if matches!(day, HeavyDay::Whole | HeavyDay::Nearly) {
            usual.nearest(top * share)
        } else {
            usual.below(top * share).or_else(|| usual.nearest(top * share))
        };
        let Some(w) = found else { continue };
        let w = match out.sets.last() {
            Some(before) if w.kg <= before.load_kg && day != HeavyDay::Easy => {
                usual.over(before.load_kg).unwrap_or(w)
            }
            _ => w,
        };
        out.sets.push(of_loaded(w, reps, &out.base));
    }
    out.reasons.push(day.reason(reps, out.sets.len()).into());
    if out.base.old {
        out.reasons.push(OfLift::OldLift.into());
    }
    Some(out)
}

/// A newcomer's ceiling of a lift, kg; `None` for anybody else.
fn ceiling_of(member: &Member, lift: &str) -> Option<f64> {
    let new = member.is_newcomer() && member.level == Level::New;
    new.then(|| newcomer_ceiling(lift, member.standard, by_mass(member))).flatten()
}

/// No maximum of a replacement, and none in pregnancy: sets of several reps with plenty left.
fn instead_of_a_maximum(
    member: &Member,
    build: &Build,
    pregnant: bool,
    kit: &Kit,
    bars: &Bars,
    settings: &Settings,
    today: NaiveDate,
) -> Option<MemberLift> {
    let reps = if pregnant { PREGNANT_REPS } else { build.reps.max(LEAST_INSTEAD) };
    let by_feel = LiftSets {
        add_weight: !pregnant,
        ..LiftSets::of(build.movement.clone(), vec![reps; FEWEST], build.line)
    };
    let mut out = prescribe(member, &by_feel, kit, bars, settings, today)?;
    out.no_maximum = true;
    out.reasons.push(OfLift::NoMaximum { reps, pregnant }.into());
    Some(out)
}

/// What comes after the attempts so far. `planned`: the planned weights, kg; `no_misses`: the sheet wants none.
pub fn next_set(
    planned: &[f64],
    attempts: &[Attempt],
    bar: &Loadable,
    no_misses: bool,
    newer: bool,
) -> NextSet {
    let Some(last) = attempts.last() else {
        let first = planned.first().copied().unwrap_or(bar.bar_kg);
        return match bar.nearest(first) {
            Some(w) => NextSet::Lift { load: w.clone(), why: "the first set of the plan".to_owned() },
            None => NextSet::Stop { why: "No weight can be built.".to_owned() },
        };
    };
    let misses = attempts.iter().filter(|a| a.missed).count();
    let stop = |why: &str| NextSet::Stop { why: why.to_owned() };
    let best = attempts.iter().filter(|a| !a.missed).map(|a| a.kg).fold(0.0, f64::max);
    if last.missed {
        if no_misses {
            return stop("A miss, and none is wanted: the best set before it counts.");
        }
        if misses >= MOST_MISSES {
            return stop("Two misses end the lift.");
        }
        // between the best and the miss, if there is such a weight: one more try is the coach's call
        let between = bar.over(best).filter(|w| w.kg < last.kg - 1e-6);
        let nearest = between.and_then(|_| bar.below((best + last.kg) / 2.0)).filter(|w| w.kg > best + 1e-6);
        return match nearest.or(between) {
            Some(w) if best > 0.0 => NextSet::Lift {
                load: w.clone(),
                why: "A miss: stop here, or one last try between the two. A second miss ends it.".to_owned(),
            },
            _ => stop("A miss: no weight lies between, so the best set before it counts."),
        };
    }
    let least_left = if newer { 2 } else { 0 };
    let step = match last.reserve {
        Some(r) if r <= least_left => {
            return stop(if newer {
                "Two left or fewer: that is enough while you are new to it."
            } else {
                "Nothing left: this is the day's best."
            });
        }
        Some(r) => jump(r).unwrap_or(1.0),
        None => BEYOND,
    };
    if attempts.len() >= MOST {
        return stop("That is more sets than a build has.");
    }
    let by_feel = last.kg * step;
    let on_plan = planned.iter().copied().find(|kg| *kg > last.kg + 1e-6);
    let left = |r: u32| if r == 1 { "1 rep left".to_owned() } else { format!("{r} reps left") };
    // plenty left: at least as far as the plan; less left: no further than the jump
    let (wish, why) = match (last.reserve, on_plan) {
        (Some(r), Some(kg)) if r >= 3 && kg >= by_feel => (kg, format!("{}: on as planned", left(r))),
        (Some(r), _) => (
            by_feel,
            format!("{}: {} % more", left(r), crate::units::plain((step * 1000.0).round() / 10.0 - 100.0)),
        ),
        (None, Some(kg)) => (kg, "on as planned".to_owned()),
        (None, None) => (by_feel, "2.5 % more".to_owned()),
    };
    let load = bar.nearest(wish).filter(|w| w.kg > last.kg + 1e-6).or_else(|| bar.over(last.kg));
    match load {
        Some(w) => NextSet::Lift { load: w.clone(), why },
        None => stop("No heavier weight can be built with your plates."),
    }
}

/// What the attempts are worth: the heaviest finished set; `None` without one. Above 10 reps a result, no base.
pub fn best_of_day(lift: &str, attempts: &[Attempt], date: NaiveDate) -> Option<Max> {
    let best = attempts
        .iter()
        .filter(|a| !a.missed && a.reps > 0 && a.reps <= MOST_BASE_REPS)
        .max_by(|a, b| a.kg.total_cmp(&b.kg).then(a.reps.cmp(&b.reps)))?;
    let reserve = best.reserve.unwrap_or(0).min(MOST_BASE_REPS - best.reps);
    Some(Max { lift: lift.to_owned(), kg: best.kg, reps: best.reps, reserve, date: Some(date) })
}
