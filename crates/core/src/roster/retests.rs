//! Which abilities a member was tested in, and when: what results had taught of these begins anew.

use super::Member;
use super::ability::SPEAKS_OF;
use crate::learning::{Group, Retest};
use chrono::NaiveDate;

/// The group of learning for one of the pacing table.
fn group(name: &str) -> Group {
    match name {
        "squat" | "hinge" => Group::Legs,
        "push" => Group::Push,
        "pull" | "grip" => Group::Pull,
        "core" => Group::Core,
        _ => Group::Calf,
    }
}

/// Every dated test of a member with the abilities that it speaks of.
pub fn retests(member: &Member) -> Vec<Retest> {
    let of = |id: &str, date: Option<NaiveDate>| {
        let spoken = SPEAKS_OF.iter().filter(|(_, l, s)| l.contains(&id) || s.contains(&id));
        spoken.map(|(g, ..)| (group(g), date)).collect::<Vec<_>>()
    };
    let lifts = member.maxes.iter().flat_map(|m| of(&m.lift, m.date));
    let sets = member.unbroken.iter().flat_map(|b| of(&b.movement, b.date));
    let trials = member.trials.iter().map(|t| (Group::Engine, t.date));
    let mut all: Vec<(NaiveDate, Group)> =
        lifts.chain(sets).chain(trials).filter_map(|(g, d)| Some((d?, g))).collect();
    all.sort_unstable();
    all.dedup();
    all.into_iter().map(|(date, group)| Retest { member: member.id.clone(), date, group }).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::roster::{Best, Max, Trial};
    use crate::units::Standard;

    #[test]
    fn a_test_speaks_of_its_abilities_on_its_day() {
        let day = NaiveDate::from_ymd_opt(2026, 10, 5);
        let mut m = Member::unknown("Bo", Standard::Lighter, Level::Regular);
        m.maxes.push(Max { lift: "deadlift".into(), kg: 100.0, reps: 1, reserve: 0, date: day });
        m.unbroken.push(Best { movement: "push-up".into(), reps: 20.0, date: None });
        m.trials.push(Trial { test: "row-2000".into(), seconds: 480.0, date: day });
        let all: Vec<Group> = retests(&m).into_iter().map(|t| t.group).collect();
        assert_eq!(all, [Group::Engine, Group::Legs, Group::Pull], "an undated best says nothing of when");
    }
}
