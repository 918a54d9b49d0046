//! What a member says of themselves, until a coach takes it.

use super::{Max, Member};
use crate::kinds::Limit;
use crate::movement::{LoadKind, catalogue};
use crate::units::{WeightUnit, plain};
use serde::{Deserialize, Serialize};

/// Proposals of a member that may wait at a time.
pub const MOST_WAITING: usize = 10;

/// Something a member says of themselves.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Proposal {
    /// They lifted this.
    Lifted(Max),
    /// Spare this.
    Spare(Limit),
    /// This needs no sparing any more.
    Healed(Limit),
}

impl Proposal {
    /// Of a lift; `None` where nothing of a known weight is lifted.
    pub fn lifted(max: Max) -> Option<Proposal> {
        let loaded = catalogue().movement(&max.lift).is_some_and(|m| m.load != LoadKind::None);
        loaded.then_some(Proposal::Lifted(max))
    }

    /// Whether it belongs to what a coach alone may see.
    pub fn private(&self) -> bool {
        !matches!(self, Proposal::Lifted(_))
    }

    /// The member as known once it is taken. A lift takes the place of one of the same reps and day.
    pub fn taken(&self, by: &Member) -> Member {
        let mut m = by.clone();
        match self {
            Proposal::Lifted(max) => {
                m.maxes.retain(|x| !(x.lift == max.lift && x.reps == max.reps && x.date == max.date));
                m.maxes.push(max.clone());
            }
            Proposal::Spare(limit) if !m.limits.contains(limit) => m.limits.push(*limit),
            Proposal::Spare(_) => {}
            Proposal::Healed(limit) => m.limits.retain(|l| l != limit),
        }
        m
    }

    /// Whether taking it would change nothing.
    pub fn known(&self, of: &Member) -> bool {
        match self {
            Proposal::Lifted(max) => of.maxes.contains(max),
            Proposal::Spare(limit) => of.limits.contains(limit),
            Proposal::Healed(limit) => !of.limits.contains(limit),
        }
    }

    /// In words, masses in the hall's unit.
    pub fn says(&self, unit: WeightUnit) -> String {
        match self {
            Proposal::Lifted(max) => lifted(max, unit),
            Proposal::Spare(limit) => format!("Spare: {}", limit.says()),
            Proposal::Healed(limit) => format!("No sparing needed any more: {}", limit.says()),
        }
    }

    /// What is known that it has to be looked at beside, in words: the heaviest of the same lift.
    pub fn beside(&self, of: &Member, unit: WeightUnit) -> Option<String> {
        let Proposal::Lifted(max) = self else { return None };
        let same = of.maxes.iter().filter(|m| m.lift == max.lift);
        let best = same.max_by(|a, b| a.kg.total_cmp(&b.kg));
        Some(best.map_or_else(
            || "nothing known of this lift yet".to_owned(),
            |m| format!("known: {}", lifted(m, unit)),
        ))
    }
}

fn lifted(m: &Max, unit: WeightUnit) -> String {
    let reserve = if m.reserve > 0 { format!(" with {} left", m.reserve) } else { String::new() };
    let day = m.date.map(|d| format!(", {}", d.format("%-d %B %Y"))).unwrap_or_default();
    let mass = format!("{} {}", plain(unit.figure(m.kg)), unit.word());
    format!("{} {mass} × {}{reserve}{day}", catalogue().name(&m.lift), m.reps)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::units::Standard;
    use chrono::NaiveDate;

    fn lift(kg: f64, reps: u32) -> Max {
        let date = NaiveDate::from_ymd_opt(2026, 11, 24);
        Max { lift: "back-squat".into(), kg, reps, reserve: 0, date }
    }

    #[test]
    fn only_what_is_loaded_is_lifted() {
        let of = |id: &str| Proposal::lifted(Max { lift: id.into(), ..lift(80.0, 1) }).is_some();
        assert_eq!((of("back-squat"), of("burpee"), of("no-such")), (true, false, false));
    }

    #[test]
    fn a_lift_takes_the_place_of_the_same_and_stands_beside_others() {
        let mut m = Member::unknown("Ada", Standard::Lighter, Level::Regular);
        m.maxes = vec![lift(90.0, 1), lift(80.0, 3)];
        let proposal = Proposal::Lifted(lift(95.0, 1));
        let after = proposal.taken(&m);
        assert_eq!(after.maxes, vec![lift(80.0, 3), lift(95.0, 1)]);
        assert!(!proposal.known(&m) && proposal.known(&after) && !proposal.private());
        assert_eq!(proposal.says(WeightUnit::Kg), "Back squat 95 kg × 1, 24 November 2026");
        assert!(proposal.beside(&m, WeightUnit::Kg).unwrap().contains("90 kg × 1"));
        let bare = Member::unknown("Bea", Standard::Lighter, Level::Regular);
        assert_eq!(proposal.beside(&bare, WeightUnit::Kg).unwrap(), "nothing known of this lift yet");
    }

    #[test]
    fn a_limit_is_taken_once_and_given_back() {
        let m = Member::unknown("Ada", Standard::Lighter, Level::Regular);
        let (spare, healed) = (Proposal::Spare(Limit::Knee), Proposal::Healed(Limit::Knee));
        let with = spare.taken(&spare.taken(&m));
        assert_eq!(with.limits, [Limit::Knee]);
        assert!(spare.private() && healed.private() && spare.known(&with) && !healed.known(&with));
        assert_eq!((healed.taken(&with).limits, spare.beside(&m, WeightUnit::Kg)), (vec![], None));
        assert!(healed.says(WeightUnit::Kg).ends_with("knee"));
    }
}
