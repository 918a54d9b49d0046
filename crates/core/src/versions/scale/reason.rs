//! Why a member is not at Full: the first reason that there is, in the order in which a coach would look.

use super::skill::{Doer, missing_lines};
use super::weight::{Hands, lightest_share, own_weights};
use crate::pacing::Level;
use crate::roster::{Ability, Member};
use crate::versions::predict::{format_of, paced_score};
use crate::versions::work::{Tier, Work};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// Away so many days: a step lower for the first session; so many: like somebody new (own).
const AWAY_DAYS: i64 = 14;
const LONG_AWAY_DAYS: i64 = 42;
/// Needs no more than this share of Full's weight: Base; under this: Trim (own).
const BASE_WEIGHT: f64 = 0.65;
pub(super) const FULL_WEIGHT: f64 = 0.85;

/// What stands between a member and Full.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Hinder {
    /// A limit rules a movement out.
    Limit,
    /// New, and nothing is tested.
    New,
    /// Back after weeks away.
    Away,
    /// A movement that they cannot do yet.
    Skill,
    /// A weight that breaks the sets.
    Heavy,
    /// Weights and movements fit, and the clock does not.
    Slow,
    /// More of a pattern than they are used to.
    Volume,
}

impl Hinder {
    /// As it is counted on the versions page: `2 new`, `1 who lacks a movement`.
    pub fn words(self, members: usize) -> &'static str {
        match self {
            Hinder::Skill if members == 1 => "who lacks a movement",
            Hinder::Limit => "with a limit",
            Hinder::New => "new",
            Hinder::Away => "back after weeks away",
            Hinder::Skill => "who lack a movement",
            Hinder::Heavy => "for whom it is too heavy",
            Hinder::Slow => "who would be late as written",
            Hinder::Volume => "for whom it is too much",
        }
    }
}

/// Days since a member was last here, by their log.
fn away(member: &Member, today: NaiveDate) -> Option<i64> {
    member.last_session.map(|d| (today - d).num_days())
}

/// The hardest version in which somebody begins, whatever it would give them, and why.
pub fn begins_at(member: &Member, today: NaiveDate) -> Option<(Tier, Hinder)> {
    match away(member, today) {
        _ if member.is_newcomer() && member.level == Level::New => Some((Tier::Base, Hinder::New)),
        Some(days) if days >= LONG_AWAY_DAYS => Some((Tier::Base, Hinder::Away)),
        Some(days) if days >= AWAY_DAYS => Some((Tier::Trim, Hinder::Away)),
        _ => None,
    }
}

/// What keeps a member from the work as written, and the version that it points to; `None` for whom Full holds.
pub fn hindered(
    full: &Work,
    member: &Member,
    ability: &Ability,
    hands: Hands,
    settings: &crate::settings::Settings,
    today: NaiveDate,
) -> Option<(Tier, Hinder)> {
    if let Some(found) = begins_at(member, today) {
        return Some(found);
    }
    let mut own = full.clone();
    own_weights(&mut own, member.standard, &ability.athlete, hands);
    let limited = |i: &usize| {
        let m = full.lines.get(*i).and_then(|l| crate::movement::catalogue().movement(&l.movement));
        m.is_some_and(|m| member.limit_against(&m.avoid_with).is_some())
    };
    let who = Doer {
        standard: member.standard,
        athlete: &ability.athlete,
        new: false,
        stimulus: hands.stimulus,
        settings,
    };
    let missing = missing_lines(&own, who);
    let missing = missing.iter().filter(|i| !limited(i)).count();
    let share = lightest_share(full, &own, member.standard);
    match (missing, share) {
        (2.., _) => return Some((Tier::Base, Hinder::Skill)),
        (_, s) if s <= BASE_WEIGHT => return Some((Tier::Base, Hinder::Heavy)),
        (1, _) => return Some((Tier::Trim, Hinder::Skill)),
        (_, s) if s < FULL_WEIGHT => return Some((Tier::Trim, Hinder::Heavy)),
        _ => {}
    }
    let quick = paced_score(&own, member.standard, &ability.athlete, hands.stimulus)
        .later(ability.late(format_of(&own)));
    let late = hands.stimulus.too_hard(quick.score)
        || quick.unsteady > 0.0
        || quick.beyond.is_some()
        || quick.run.steadiness.over > 0;
    late.then_some((Tier::Trim, Hinder::Slow))
}
