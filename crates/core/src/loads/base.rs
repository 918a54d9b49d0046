//! What a percentage is of: what is known of the lift, a rep maximum, a training maximum, or the level's default by feel.

use super::estimate::{OLD_DAYS, VERY_OLD_DAYS, estimate_with, of_level};
use super::one_rep_max::percent_for_reps;
use crate::roster::Member;
use crate::schools::PercentageBase;
use crate::settings::Settings;
use crate::sheet::PercentBase;
use crate::units::{Provenance, plain};
use chrono::NaiveDate;

/// A rep maximum that nobody has repeated for longer than that counts so much (own).
const VERY_OLD_FACTOR: f64 = 0.95;
/// Standard normal 20th percentile: loads from a related lift use the low side.
const LOW_SIDE: f64 = 0.8416;

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
    /// Something is known of the lift itself or of its limb.
    pub limb_known: bool,
}

fn age(date: Option<NaiveDate>, today: NaiveDate) -> i64 {
    date.map_or(0, |d| (today - d).num_days())
}

/// The base of a percentage for a member: what the sheet names, else the gym's school.
pub fn base_for(
    member: &Member,
    lift: &str,
    of: &PercentBase,
    settings: &Settings,
    today: NaiveDate,
) -> Base {
    match of {
        PercentBase::Lift(other) => base_for(member, other, &PercentBase::OneRm, settings, today),
        PercentBase::RepMax(n) => rep_max(member, lift, *n, today),
        PercentBase::TrainingMax => training(one_rm(member, lift, true, today), settings),
        PercentBase::OneRm => one_rm(member, lift, true, today),
        PercentBase::Unsaid => match settings.answer() {
            PercentageBase::TrainingMax => training(one_rm(member, lift, true, today), settings),
            PercentageBase::TestedOneRm => one_rm(member, lift, true, today),
            PercentageBase::ByFeel => Base { by_feel: true, ..one_rm(member, lift, true, today) },
            PercentageBase::RecentRepMax => one_rm(member, lift, false, today),
        },
    }
}

fn one_rm(member: &Member, lift: &str, singles_first: bool, today: NaiveDate) -> Base {
    let Some(e) = estimate_with(member, lift, today, singles_first) else { return by_level(member, lift) };
    let side = |sign: f64| (e.kg * (1.0 + sign * LOW_SIDE * e.sd) * 10.0).round() / 10.0;
    let kg = if e.related { e.kg * (1.0 - LOW_SIDE * e.sd) } else { e.kg };
    let said = plain((kg * 10.0).round() / 10.0);
    let words = match (e.provenance, e.related) {
        (_, true) => format!(
            "1RM {said} kg, the low side of {} to {} kg {}",
            plain(side(-1.0)),
            plain(side(1.0)),
            e.words
        ),
        (_, false) if e.single => format!("tested 1RM {}", e.words),
        (_, false) => format!("1RM {said} kg from {}", e.words),
    };
    Base {
        kg,
        provenance: e.provenance,
        words,
        old: age(e.date, today) > OLD_DAYS,
        by_feel: false,
        limb_known: e.limb_known,
    }
}

fn by_level(member: &Member, lift: &str) -> Base {
    let kg = of_level(member, lift);
    let words = format!("by feel, never over the {} level's default", member.level.word());
    Base { kg, provenance: Provenance::Assumed, words, old: false, by_feel: true, limb_known: false }
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
            limb_known: true,
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
