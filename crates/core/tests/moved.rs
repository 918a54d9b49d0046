//! What another list of members did to a plan.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::kit::Kit;
use lantern_core::moved::Moved;
use lantern_core::plan::{Class, ClassPlan, Decision, Options, moved, plan};
use lantern_core::roster::{Max, Member};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::Tier;

const SHEET: &str = "# strength every 3:00\nback squat 5x5 @ 75 %\n# workout \"Quay\" cap 12:00 target 7:00-10:00\n3 rounds for time\n12 thrusters 40/27.5 kg\n200 m run";

fn of(members: Vec<Member>, decisions: &[Decision]) -> ClassPlan {
    let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
    let class = Class {
        members,
        kit: Kit::usual(),
        date,
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    let options = Options { runs: 20, ..Options::default() };
    plan(&read(SHEET).sheet, &class, &Settings::default(), decisions, options)
}

fn members() -> Vec<Member> {
    let mut all = Member::archetypes();
    for (i, m) in all.iter_mut().enumerate() {
        m.id = format!("m{i}");
        let kg = 60.0 + 10.0 * i as f64;
        m.maxes.push(Max { lift: "back-squat".into(), kg, reps: 1, reserve: 0, date: None });
    }
    all
}

#[test]
fn a_plan_against_itself_has_not_moved() {
    let p = of(members(), &[]);
    assert_eq!(moved(&p, &p), vec![]);
}

#[test]
fn who_joins_and_who_leaves_is_told_first() {
    let all = members();
    let (before, now) = (of(all[1..].to_vec(), &[]), of(all[..all.len() - 1].to_vec(), &[]));
    let told = moved(&before, &now);
    assert_eq!(told[0], Moved::Joined { name: all[0].name.clone() });
    assert_eq!(told[1], Moved::Left { name: all[all.len() - 1].name.clone() });
    // one sign-up fewer: whatever else moved is of members who are in both
    let both = |name: &String| *name != all[0].name && *name != all[all.len() - 1].name;
    for m in &told[2..] {
        match m {
            Moved::Version { name, from, to, .. } => assert!(both(name) && from != to),
            Moved::Weight { name, from_kg, to_kg, .. } => assert!(both(name) && from_kg != to_kg),
            Moved::Racks { members, .. } => assert!(members.iter().all(|(n, rack)| both(n) && *rack > 0)),
            Moved::Lines { .. } | Moved::Ends { .. } => {}
            Moved::Joined { .. } | Moved::Left { .. } => unreachable!("told twice: {m:?}"),
        }
    }
}

#[test]
fn a_version_and_a_weight_that_are_others_are_told_with_both() {
    let all = members();
    let before = of(all.clone(), &[]);
    let other = Tier::ALL.into_iter().find(|t| *t != before.workouts[0].placed[0].tier).unwrap();
    let by_hand = Decision::Version { block: before.workouts[0].block, member: "m0".into(), tier: other };
    let mut stronger = all.clone();
    stronger[1].maxes[0].kg *= 1.4;
    let told = moved(&before, &of(stronger, &[by_hand]));
    let from = before.workouts[0].placed[0].tier;
    let (name, workout) = (all[0].name.clone(), Some("Quay".to_owned()));
    assert!(told.contains(&Moved::Version { name, workout, from, to: other }), "{told:?}");
    let weight = told.iter().find_map(|m| match m {
        Moved::Weight { name, from_kg, to_kg, .. } if *name == all[1].name => Some(to_kg - from_kg),
        _ => None,
    });
    assert!(weight.is_some_and(|more| more > 5.0), "{told:?}");
}
