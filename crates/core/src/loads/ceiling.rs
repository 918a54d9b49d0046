//! How heavy a lift may be for whom: newer members, lifts of which nothing is known, limits, pregnancy, coming back
//! (own). One rule and one sentence for a card.

use super::base::Base;
use super::estimate::by_mass;
use crate::kinds::Limit;
use crate::movement::{LoadKind, catalogue};
use crate::pacing::Level;
use crate::ratios::{ballistic, newcomer_ceiling};
use crate::reason::Rule;
use crate::roster::Member;
use crate::units::Provenance;
use chrono::NaiveDate;

/// Days away after which weights are lower, and after which the rules of newer members hold.
const AWAY_DAYS: [i64; 2] = [14, 42];
/// What is left of a weight after some weeks away.
const BACK_SHARE: f64 = 0.9;

/// Why a member lifts less than the sheet says, the strictest first.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Care {
    /// Pregnant, and the lift is still right.
    Pregnant,
    /// New and nothing tested.
    New,
    /// A replacement that a limit asks for.
    Limit,
    /// New to lifting, though this lift is known.
    NewButKnown,
    /// Nothing is known of this lift or its limb.
    Unknown,
    /// Back after two weeks and more.
    Back(i64),
}

/// What a rule leaves of the sheet's weights.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Ceiling {
    pub care: Option<Care>,
    /// Per cent of the base: of the first working set, and of any.
    pub first: Option<f64>,
    pub most: Option<f64>,
    /// kg, whatever the base.
    pub most_kg: Option<f64>,
    /// Of every weight.
    pub share: f64,
    /// Reps to leave.
    pub reserve: Option<u32>,
}

const NONE: Ceiling =
    Ceiling { care: None, first: None, most: None, most_kg: None, share: 1.0, reserve: None };

/// The rule for a member, the lift that is done and its base. `by_limit`: it stands in for one that a limit rules out.
pub(super) fn ceiling(member: &Member, lift: &str, base: &Base, by_limit: bool, today: NaiveDate) -> Ceiling {
    let away = member.last_session.map_or(0, |d| (today - d).num_days());
    let known = base.provenance == Provenance::Tested || base.limb_known;
    let newer = member.is_newer() || member.level == Level::New || away >= AWAY_DAYS[1];
    let of = |care, first, most, reserve| Ceiling {
        care: Some(care),
        first: Some(first),
        most: Some(most),
        reserve: Some(reserve),
        ..NONE
    };
    if member.limits.contains(&Limit::Pregnancy) {
        // a bell that is swung or thrown stays as light as for somebody new
        let thrown =
            ballistic(lift) && catalogue().movement(lift).is_none_or(|m| m.load != LoadKind::Barbell);
        let most_kg = newcomer_ceiling(lift, member.standard, by_mass(member)).filter(|_| thrown);
        Ceiling { most_kg, ..of(Care::Pregnant, 60.0, 70.0, 4) }
    } else if newer && !known {
        Ceiling {
            most_kg: newcomer_ceiling(lift, member.standard, by_mass(member))
                .filter(|_| member.level == Level::New),
            ..of(Care::New, 60.0, 70.0, 3)
        }
    } else if by_limit && !known {
        // neither the lift nor its limb is known, and something hurts
        of(Care::Limit, 50.0, 65.0, 3)
    } else if by_limit {
        of(Care::Limit, 65.0, 75.0, 3)
    } else if newer {
        of(Care::NewButKnown, 80.0, 85.0, 2)
    } else if !known {
        of(Care::Unknown, 60.0, 80.0, 3)
    } else if away >= AWAY_DAYS[0] {
        Ceiling { care: Some(Care::Back(away)), share: BACK_SHARE, ..NONE }
    } else {
        NONE
    }
}

/// What rounding may pass the ceiling of a known lift by, per cent of the base (own).
const SLACK: f64 = 1.0;

impl Ceiling {
    /// What rounding may pass it by: where nothing is known, nothing.
    pub fn slack(&self) -> f64 {
        if self.care == Some(Care::NewButKnown) { SLACK } else { 0.0 }
    }

    /// Per cent of the base that set `i` may have.
    pub fn percent(&self, i: usize) -> Option<f64> {
        if i == 0 { self.first } else { self.most }
    }

    /// What a first set that is lowered leaves of the others too: nobody who starts by feel jumps in the second set. `wish`: per
    /// cent that the sheet wants of the first.
    pub fn lowers_all(&self, wish: f64) -> f64 {
        match (self.care, self.first) {
            (None | Some(Care::NewButKnown), _) | (_, None) => 1.0,
            (_, Some(first)) => (first / wish.max(1.0)).min(1.0),
        }
    }

    /// The one rule for the card. `first_kg`: weight of the first set; `step_kg`: what is put on if it was easy; `percents`: the
    /// sheet says percentages.
    pub fn rule(&self, first_kg: f64, step_kg: f64, percents: bool) -> Option<Rule> {
        let left = self.reserve.unwrap_or(2);
        Some(match self.care? {
            Care::Pregnant => Rule::Pregnant { first_kg, left },
            Care::New => Rule::New { first_kg, step_kg, left },
            Care::Limit => Rule::Limit { first_kg, left },
            Care::NewButKnown => Rule::NewButKnown { most_percent: self.most.filter(|_| percents), left },
            Care::Unknown => Rule::Unknown { first_kg, left },
            Care::Back(days) => Rule::Back { weeks: days / 7 },
        })
    }
}
