//! The open plan format: what other programs may rely on.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::kit::Kit;
use lantern_core::pacing::Level;
use lantern_core::plan::{Class, Decision, Mark, Options, PlanAnswer, answer, plan};
use lantern_core::roster::{Best, Max, Member};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::{Provenance, Standard};
use lantern_core::versions::{PredictionUnit, Tier};

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

fn of(text: &str, members: Vec<Member>, decisions: &[Decision]) -> PlanAnswer {
    let class = Class {
        members,
        kit: Kit::usual(),
        date: day(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    let reading = read(text);
    assert!(!reading.has_errors(), "{:?}", reading.problems);
    answer(&plan(
        &reading.sheet,
        &class,
        &Settings::default(),
        decisions,
        Options { runs: 60, ..Options::default() },
    ))
}

fn ada() -> Member {
    let mut m = Member::unknown("Ada", Standard::Lighter, Level::Seasoned);
    m.sessions_logged = Some(40);
    m.maxes = vec![Max { lift: "front-squat".into(), kg: 80.0, reps: 1, reserve: 0, date: Some(day()) }];
    m.unbroken = vec![Best { movement: "pull-up".into(), reps: 14.0, date: None }];
    m
}

#[test]
fn an_amrap_is_predicted_in_decimal_rounds() {
    let p = of("# workout target 5-7 rounds\namrap 12:00\n10 burpees\n200 m run", vec![ada()], &[]);
    let r = &p.members[0].predictions[0];
    assert_eq!(r.unit, PredictionUnit::Rounds);
    assert!(r.p10 <= r.p50 && r.p50 <= r.p90 && r.p50 > 2.0 && r.p50 < 12.0, "{r:?}");
    assert_eq!((p.versions[0].seconds, p.versions[0].rounds), (Some(720), None));
    assert_eq!(p.versions[0].board_reps, [11.0, 11.0], "a distance counts one");
    assert!(p.members[0].splits_s[0].len() as f64 >= r.p10.floor() - 1.0);
}

#[test]
fn a_target_in_reps_is_predicted_in_reps() {
    let p = of("# workout target 100+ reps\namrap 7:00\n10 burpees\n5 pull-ups", vec![ada()], &[]);
    let r = &p.members[0].predictions[0];
    assert_eq!(r.unit, PredictionUnit::Reps);
    assert!(r.p50 > 40.0 && (r.p50 - r.p50.round()).abs() < 1e-9);
}

#[test]
fn a_time_is_whole_seconds_and_stops_at_the_cap() {
    let p = of("# workout cap 5:00\n8 rounds for time\n20 burpees", vec![ada()], &[]);
    let r = &p.members[0].predictions[0];
    assert!(r.deciles.iter().all(|d| *d <= 300.0 && d.fract() == 0.0), "{r:?}");
    let early = of("# workout cap 30:00\n3 rounds for time\n5 burpees", vec![ada()], &[]);
    assert_eq!(early.members[0].predictions[0].capped, 0.0);
}

#[test]
fn loads_name_their_base_and_add_up_on_the_bar() {
    let p = of("# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30", vec![ada()], &[]);
    let l = &p.members[0].loads[0];
    assert_eq!((l.base.as_str(), l.base_kg, l.provenance), ("tested 1RM 80 kg", 80.0, Provenance::Tested));
    for s in &l.sets {
        let plates: f64 = s.per_side_kg.iter().sum();
        assert!((s.load_kg - 15.0 - 2.0 * plates).abs() < 1e-9, "{s:?}");
    }
    let work: Vec<f64> = l.sets.iter().filter(|s| !s.warm_up).map(|s| s.load_kg).collect();
    // 62.4 to 65.6 kg, the middle 64: 65 is nearest among 2.5 kg steps
    assert_eq!(work, vec![65.0; 5]);
    assert!(p.strength[0].racks[0].members.contains(&"Ada".to_owned()));
}

#[test]
fn set_plans_hold_every_rep_of_every_round() {
    let p = of("# workout cap 15:00\n3 rounds for time\n12 pull-ups\n15 air squats", vec![ada()], &[]);
    let plan = &p.members[0].set_plan;
    assert_eq!(plan.len(), 6);
    for s in plan {
        let wanted = if s.movement == "air-squat" { 15.0 } else { 12.0 };
        assert_eq!(s.sets.iter().sum::<f64>(), wanted, "{s:?}");
        assert!(s.sets.len() == 1 || s.rest_s > 0, "{s:?}");
    }
}

#[test]
fn a_superset_plans_both_lifts() {
    let p =
        of("# strength\nbench press 4 x 5 @ 75%\nbarbell row 4 x 8 @ 60% of bench press", vec![ada()], &[]);
    assert!(p.strength.len() >= 2 || p.members[0].loads.len() >= 2, "{:?}", p.members[0].loads);
}

#[test]
fn two_workouts_are_both_planned() {
    let text = "# workout \"One\" cap 8:00\nfor time\n30 burpees\n# workout \"Two\"\namrap 6:00\n10 sit-ups\n10 push-ups";
    let p = of(text, vec![ada()], &[]);
    assert_eq!(p.members[0].predictions.iter().map(|x| x.block).collect::<Vec<_>>(), vec![0, 1]);
    assert_eq!(p.versions.len(), 6);
    let blocks: Vec<&str> = p.hour.blocks.iter().map(|b| b.kind.as_str()).collect();
    assert_eq!(blocks.iter().filter(|b| **b == "workout").count(), 2);
    assert!(blocks.contains(&"change-over"), "between two workouts kit is changed");
}

#[test]
fn rests_between_rounds_are_in_the_time() {
    let time = |text: &str| of(text, vec![ada()], &[]).members[0].predictions[0].p50;
    let plain = time("# workout\n4 rounds for time\n10 burpees");
    let rested = time("# workout\n4 rounds for time\n10 burpees\nrest 1:00");
    // three rests of a minute, less what fresher rounds win
    assert!(rested - plain > 120.0 && rested - plain < 190.0, "{plain} {rested}");
}

#[test]
fn percentages_in_a_workout_are_each_members_own() {
    let mut strong = ada();
    strong.name = "Bea".into();
    strong.id = "Bea".into();
    strong.maxes.push(Max { lift: "power-clean".into(), kg: 90.0, reps: 1, reserve: 0, date: Some(day()) });
    let p = of(
        "# workout cap 12:00\n3 rounds for time\n8 power clean @ 60%\n10 burpees",
        vec![ada(), strong],
        &[],
    );
    assert_eq!(p.members.len(), 2);
    assert!(p.versions[0].lines[0].load_kg.is_none(), "the board shows a share, not a weight");
    assert!(p.versions[0].lines[0].text.contains("60 %"));
}

#[test]
fn a_frozen_plan_reads_back_as_it_was() {
    let d = Decision::Version { block: 0, member: "Ada".into(), tier: Tier::Trim };
    let p = of(
        "# workout cap 12:00 target 6:00-9:00\n3 rounds for time\n12 pull-ups\n200 m run",
        vec![ada()],
        &[d],
    );
    let text = serde_json::to_string(&p).unwrap();
    assert_eq!(serde_json::from_str::<PlanAnswer>(&text).unwrap(), p);
    assert_eq!((p.schema.as_str(), p.members[0].tier), ("lantern-plan/1", Some(Tier::Trim)));
}

#[test]
fn dumbbells_count_both_hands_and_height_is_kept() {
    let text =
        "# workout cap 12:00\n3 rounds for time\n10 dumbbell thrusters 2 x 22.5/15 kg\n12 box jumps 60/50 cm";
    let p = of(text, vec![ada()], &[]);
    let lines: Vec<&str> = p.versions[0].lines.iter().map(|l| l.text.as_str()).collect();
    assert_eq!(lines, ["10 dumbbell thrusters 2 x 22.5/15 kg", "12 box jumps 60/50 cm"]);
}

#[test]
fn a_cash_out_is_part_of_the_finish() {
    let text = "# workout cap 20:00\n3 rounds for time\n10 burpees\ncash-out: 40 air squats";
    let class = Class {
        members: Member::archetypes(),
        kit: Kit::usual(),
        date: "2026-11-24".parse().unwrap(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    let options = Options { runs: 20, ..Options::default() };
    let made = plan(&read(text).sheet, &class, &Settings::default(), &[], options);
    for pace in &made.workouts[0].pace {
        let [first, .., round, finish] = pace.checkpoints.as_slice() else {
            panic!("{:?}", pace.checkpoints)
        };
        assert_eq!((&first.at, &round.at), (&Mark::Round(1), &Mark::Round(3)));
        assert_eq!((&finish.at, finish.share), (&Mark::Finish, 1.0));
        assert!((finish.on_pace - pace.aim).abs() < 1.0, "{} for an aim of {}", finish.on_pace, pace.aim);
    }
}

#[test]
fn a_clock_of_days_is_refused_in_a_sentence() {
    let block = read("# workout\nevery 10:00 x 999\n10 burpees").sheet.blocks[0].clone();
    assert_eq!(block.clock_s(), Some(599_400), "it is read as written");
    let why = lantern_core::versions::Work::from_block(&block).unwrap_err();
    assert!(why.contains("more than four hours"), "{why}");
}
