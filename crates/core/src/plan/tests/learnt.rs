//! What results have taught moves forecasts and versions, and nothing else.

use super::of;
use crate::plan::ClassPlan;
use crate::reason::OfPlace;
use crate::roster::Member;
use crate::units::{Standard, WeightUnit};
use crate::versions::Tier;
use chrono::NaiveDate;

/// Members of whom eight classes of results taught that they are a fifth slower than foretold.
fn taught(mut members: Vec<Member>) -> Vec<Member> {
    use crate::learning::{Foretold, Format, Group, Held, Learner, Seen};
    let mut learner = Learner::new(Vec::new());
    for n in 0..8 {
        let seen = |m: &Member, group: Group| Seen {
            of: String::new(),
            member: m.id.clone(),
            foretold: Foretold { middle: 1.0, better: 0.2, worse: 0.25, format: Format::Rounds, group },
            late: 0.2,
            capped: false,
            left_out: false,
        };
        let results = members.iter().flat_map(|m| Group::ALL.map(|g| seen(m, g))).collect();
        let date = NaiveDate::from_ymd_opt(2026, 10, 1 + n).unwrap();
        learner.learn(&Held { date, results });
    }
    members
        .iter_mut()
        .for_each(|m| m.learnt = learner.of(&m.id, NaiveDate::from_ymd_opt(2026, 10, 9).unwrap()));
    members
}

const TAUGHT: &str = "# strength\nback squat 5 x 5 @ 75%\n# workout cap 20:00 target 9:00-13:00\n4 rounds for time\n12 thrusters 40/27.5 kg\n9 pull-ups\n200 m run";

#[test]
fn results_move_and_narrow_forecasts_and_say_so() {
    let (plain, moved) =
        (of(TAUGHT, Member::archetypes(), &[]), of(TAUGHT, taught(Member::archetypes()), &[]));
    let mut checked = 0;
    for (a, b) in plain.workouts[0].placed.iter().zip(&moved.workouts[0].placed) {
        let (before, after) = (&a.predicted.prediction, &b.predicted.prediction);
        if a.work != b.work || before.scale_this.is_some() || after.scale_this.is_some() {
            continue;
        }
        let base = after.foretold.unwrap();
        assert_eq!(base.middle, before.foretold.unwrap().middle, "what it is moved from stays");
        assert!(
            after.p50() > 1.08 * before.p50() || after.p50() >= 1199.0,
            "{} {}",
            before.p50(),
            after.p50()
        );
        assert_eq!(
            (after.provenance, before.results, after.results),
            (crate::units::Provenance::Results, 0, 56)
        );
        let said = b
            .says(WeightUnit::Kg)
            .iter()
            .any(|r| r.contains("because of 56 results of theirs and the hall's"));
        assert!(said, "{:?}", b.reasons);
        assert!(a.reasons.iter().all(|r| !matches!(r, OfPlace::Results { .. })), "{:?}", a.reasons);
        checked += 1;
    }
    assert!(checked >= 3, "{checked}");
}

#[test]
fn a_slow_hall_is_given_no_harder_versions() {
    let tiers = |p: &ClassPlan| p.workouts[0].placed.iter().map(|x| x.tier).collect::<Vec<_>>();
    let (plain, moved) =
        (of(TAUGHT, Member::archetypes(), &[]), of(TAUGHT, taught(Member::archetypes()), &[]));
    assert!(
        tiers(&plain).iter().zip(tiers(&moved)).all(|(a, b)| *a <= b),
        "{:?} {:?}",
        tiers(&plain),
        tiers(&moved)
    );
}

#[test]
fn a_slow_halls_versions_hold_less() {
    let sheets = [
        TAUGHT,
        "# workout cap 16:00 target 8:00-10:00\n5 rounds for time\n15 air squats\n12 burpees\n200 m run",
        "# workout cap 15:00 target 6:00-8:00\n6 rounds for time\n12 air squats\n9 push-ups\n9 sit-ups",
        "# workout cap 20:00 target 10:00-12:00\n6 rounds for time\n10 burpees\n15 wall balls 9/6 kg\n10 sit-ups",
    ];
    let mut less = 0;
    for sheet in sheets {
        let made = [Member::archetypes(), taught(Member::archetypes())].map(|m| of(sheet, m, &[]));
        let reps = |p: &ClassPlan, tier: Tier| {
            let v = p.workouts[0].versions.iter().find(|v| v.tier == tier).unwrap();
            (0..v.work.lines.len()).filter_map(|i| v.work.total(i, Standard::Heavier)).sum::<f64>()
        };
        let [plain, moved] = &made;
        assert_eq!(reps(plain, Tier::Full), reps(moved, Tier::Full), "what is written stays");
        less += [Tier::Trim, Tier::Base].iter().filter(|t| reps(moved, **t) < reps(plain, **t)).count();
    }
    assert!(less > 0, "no version of any sheet holds less");
}

#[test]
fn nothing_that_is_learnt_reaches_the_loads_of_strength() {
    let (plain, moved) =
        (of(TAUGHT, Member::archetypes(), &[]), of(TAUGHT, taught(Member::archetypes()), &[]));
    let loads = |p: &ClassPlan| {
        let lifts = p.strength.iter().flat_map(|s| &s.lifts).flat_map(|l| &l.members);
        lifts.flat_map(|(_, l)| l.sets.iter().map(|s| (s.reps, s.load_kg))).collect::<Vec<_>>()
    };
    assert!(!loads(&plain).is_empty());
    assert_eq!(loads(&plain), loads(&moved));
}
