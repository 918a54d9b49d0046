//! What a percentage is of: the member's own lifts first, then related lifts, then the level's default.

use super::one_rep_max::{one_rep_max, percent_for_reps};
use crate::movement::catalogue;
use crate::pacing::Athlete;
use crate::pacing::table::{Kind, LIFTS, row};
use crate::roster::{Max, Member};
use crate::settings::Settings;
use crate::sheet::PercentBase;
use crate::units::{Provenance, plain};
use chrono::NaiveDate;

/// Lift, share of the back squat, relative sd of that share (own estimates).
pub const RATIOS: [(&str, f64, f64); 14] = [
    ("back-squat", 1.00, 0.00),
    ("front-squat", 0.85, 0.06),
    ("overhead-squat", 0.65, 0.12),
    ("deadlift", 1.20, 0.10),
    ("bench-press", 0.75, 0.12),
    ("strict-press", 0.48, 0.10),
    ("push-press", 0.64, 0.10),
    ("push-jerk", 0.74, 0.10),
    ("squat-clean", 0.76, 0.10),
    ("power-clean", 0.68, 0.10),
    ("clean-and-jerk", 0.72, 0.10),
    ("squat-snatch", 0.60, 0.12),
    ("power-snatch", 0.53, 0.12),
    ("thruster", 0.58, 0.10),
];

/// A base older than this is marked old.
const OLD_DAYS: i64 = 12 * 7;
/// A base older than this counts [`VERY_OLD_FACTOR`] (own).
const VERY_OLD_DAYS: i64 = 26 * 7;
const VERY_OLD_FACTOR: f64 = 0.95;
/// Standard normal 20th percentile: loads from a related lift use the low side.
const LOW_SIDE: f64 = 0.8416;

/// What a member's 1RM of a lift is thought to be.
#[derive(Debug, Clone, PartialEq)]
pub struct Estimate {
    /// Best guess of the 1RM, kg.
    pub kg: f64,
    /// Relative sd.
    pub sd: f64,
    /// Tested single, or estimated.
    pub provenance: Provenance,
    /// In words: `tested 1RM 120 kg`, `from 100 x 5`, `from back squat 140`.
    pub words: String,
    /// Day of the lift behind it.
    pub date: Option<NaiveDate>,
    /// Comes from another lift.
    pub related: bool,
}

/// What a percentage is of, kg.
#[derive(Debug, Clone, PartialEq)]
pub struct Base {
    /// kg that 100 % stands for.
    pub kg: f64,
    /// tested, estimated or assumed.
    pub provenance: Provenance,
    /// In words, with the sum.
    pub words: String,
    /// Older than 12 weeks.
    pub old: bool,
    /// Nothing is known: the load is a ceiling to start under.
    pub by_feel: bool,
}

fn age(date: Option<NaiveDate>, today: NaiveDate) -> i64 {
    date.map_or(0, |d| (today - d).num_days())
}

fn of_record(m: &Max, today: NaiveDate) -> Option<Estimate> {
    let rm = one_rep_max(m.kg, m.reps, m.reserve).ok()?;
    let single = m.reps == 1 && m.reserve == 0;
    let very_old = age(m.date, today) > VERY_OLD_DAYS;
    let words = match (single, m.reserve) {
        (true, _) => format!("tested 1RM {} kg", plain(m.kg)),
        (false, 0) => format!("{} kg x {}", plain(m.kg), m.reps),
        (false, q) => format!("{} kg x {} with {q} left", plain(m.kg), m.reps),
    };
    let words = if very_old { format!("{words}, over 26 weeks old, used at 95 %") } else { words };
    Some(Estimate {
        kg: rm.kg * if very_old { VERY_OLD_FACTOR } else { 1.0 },
        sd: if single { 0.0 } else { 0.02 + (rm.high - rm.low) / rm.kg / 2.0 },
        provenance: if single { Provenance::Tested } else { Provenance::Estimated },
        words,
        date: m.date,
        related: false,
    })
}

/// The member's own records of a lift, the one to use first: recent before very old, then singles or rep
/// maxima as the gym's school prefers, then the heaviest.
fn own(member: &Member, lift: &str, today: NaiveDate, singles_first: bool) -> Option<Estimate> {
    member.maxes.iter().filter(|m| m.lift == lift).filter_map(|m| of_record(m, today)).max_by(|a, b| {
        let key = |e: &Estimate| {
            let recent = age(e.date, today) <= OLD_DAYS;
            let single = e.provenance == Provenance::Tested;
            (age(e.date, today) <= VERY_OLD_DAYS, recent, single == singles_first)
        };
        key(a).cmp(&key(b)).then(a.kg.total_cmp(&b.kg))
    })
}

fn ratio(lift: &str) -> Option<(f64, f64)> {
    RATIOS.iter().find(|(l, ..)| *l == lift).map(|(_, r, sd)| (*r, *sd))
}

fn related(member: &Member, lift: &str, today: NaiveDate) -> Option<Estimate> {
    let (share, sd) = ratio(lift)?;
    RATIOS
        .iter()
        .filter(|(l, ..)| *l != lift)
        .filter_map(|(l, r, s)| own(member, l, today, true).map(|e| (*l, *r, *s, e)))
        .map(|(l, r, s, e)| Estimate {
            kg: e.kg * share / r,
            sd: (sd * sd + s * s + e.sd * e.sd).sqrt(),
            provenance: Provenance::Estimated,
            words: format!("from {}, {}", catalogue().name(l).to_lowercase(), e.words),
            date: e.date,
            related: true,
        })
        .min_by(|a, b| a.sd.total_cmp(&b.sd))
}

/// What is known about a member's 1RM of a lift, from their own lifts or a related one; `None`: nothing.
pub fn estimate(member: &Member, lift: &str, today: NaiveDate) -> Option<Estimate> {
    estimate_with(member, lift, today, true)
}

fn estimate_with(member: &Member, lift: &str, today: NaiveDate, singles_first: bool) -> Option<Estimate> {
    own(member, lift, today, singles_first)
        .or_else(|| related(member, lift, today))
        .or_else(|| through_anchor(member, lift, today))
}

/// Lifts outside the ratio table (hang power clean, dumbbell work) through the lifts that bound them.
fn through_anchor(member: &Member, lift: &str, today: NaiveDate) -> Option<Estimate> {
    let Kind::Load(anchors) = &row(lift)?.kind else { return None };
    let bounds: Option<Vec<Estimate>> = anchors
        .iter()
        .map(|(i, q)| {
            let anchor = LIFTS.get(*i)?;
            if *anchor == lift {
                return None;
            }
            let e = own(member, anchor, today, true).or_else(|| related(member, anchor, today))?;
            Some(Estimate {
                kg: e.kg * q,
                sd: e.sd.hypot(0.08),
                provenance: Provenance::Estimated,
                words: format!("from {}, {}", catalogue().name(anchor).to_lowercase(), e.words),
                related: true,
                ..e
            })
        })
        .collect();
    bounds?.into_iter().min_by(|a, b| a.kg.total_cmp(&b.kg))
}

/// The base of a percentage for a member: what the sheet names, else the gym's school.
pub fn base_for(
    member: &Member,
    lift: &str,
    of: &PercentBase,
    settings: &Settings,
    today: NaiveDate,
) -> Base {
    let school = settings.school("percentage-base");
    match of {
        PercentBase::Lift(other) => base_for(member, other, &PercentBase::OneRm, settings, today),
        PercentBase::RepMax(n) => rep_max(member, lift, *n, today),
        PercentBase::TrainingMax => training(one_rm(member, lift, true, today), settings),
        PercentBase::OneRm => one_rm(member, lift, true, today),
        PercentBase::Unsaid => match school {
            "training-max" => training(one_rm(member, lift, true, today), settings),
            "tested-1rm" => one_rm(member, lift, true, today),
            "by-feel" => Base { by_feel: true, ..one_rm(member, lift, true, today) },
            _ => one_rm(member, lift, false, today),
        },
    }
}

fn one_rm(member: &Member, lift: &str, singles_first: bool, today: NaiveDate) -> Base {
    let Some(e) = estimate_with(member, lift, today, singles_first) else { return by_level(member, lift) };
    let kg = if e.related { e.kg * (1.0 - LOW_SIDE * e.sd) } else { e.kg };
    let words = match (e.provenance, e.related) {
        (Provenance::Tested, _) => e.words,
        (_, false) => format!("1RM {} kg from {}", plain((kg * 10.0).round() / 10.0), e.words),
        (_, true) => format!("1RM {} kg, the low side, {}", plain((kg * 10.0).round() / 10.0), e.words),
    };
    Base { kg, provenance: e.provenance, words, old: age(e.date, today) > OLD_DAYS, by_feel: false }
}

fn by_level(member: &Member, lift: &str) -> Base {
    let athlete = Athlete::of_level(member.standard, member.level);
    let through = |lift: &str| match row(lift).map(|r| &r.kind) {
        Some(Kind::Load(anchors)) => anchors
            .iter()
            .filter_map(|(i, q)| Some(athlete.one_rm_of(LIFTS.get(*i)?)? * q))
            .min_by(f64::total_cmp),
        _ => None,
    };
    let squat = athlete.one_rm_of("back-squat").unwrap_or(60.0);
    let kg = through(lift).or_else(|| ratio(lift).map(|(r, _)| squat * r)).unwrap_or(squat * 0.4);
    let words = format!("by feel, never over the {} level's default", member.level.word());
    Base { kg, provenance: Provenance::Assumed, words, old: false, by_feel: true }
}

fn training(base: Base, settings: &Settings) -> Base {
    let share = settings.training_max_percent;
    Base { kg: base.kg * share / 100.0, words: format!("{} % of {}", plain(share), base.words), ..base }
}

fn rep_max(member: &Member, lift: &str, n: u32, today: NaiveDate) -> Base {
    let own = member
        .maxes
        .iter()
        .filter(|m| m.lift == lift && m.reps == n && m.reserve == 0)
        .max_by_key(|m| (m.date, (m.kg * 100.0) as i64));
    if let Some(m) = own {
        let a = age(m.date, today);
        let f = if a > VERY_OLD_DAYS { VERY_OLD_FACTOR } else { 1.0 };
        let words = format!("tested {n}RM {} kg{}", plain(m.kg), if f < 1.0 { ", used at 95 %" } else { "" });
        return Base {
            kg: m.kg * f,
            provenance: Provenance::Tested,
            words,
            old: a > OLD_DAYS,
            by_feel: false,
        };
    }
    let one = one_rm(member, lift, true, today);
    let kg = one.kg * percent_for_reps(n) / 100.0;
    let provenance =
        if one.provenance == Provenance::Tested { Provenance::Estimated } else { one.provenance };
    Base {
        kg,
        provenance,
        words: format!("{n}RM {} kg from {}", plain((kg * 10.0).round() / 10.0), one.words),
        ..one
    }
}
