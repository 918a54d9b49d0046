//! What must hold for the joined plan of any class.

use super::*;
use crate::pacing::Level;
use crate::sheet::read;
use crate::units::Standard;
use crate::versions::Tier;

const DAY: &str = "title: Breakwater\n# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\n# workout \"Breakwater\" cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run";

fn class(members: Vec<Member>) -> Class {
    let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
    Class { members, kit: Kit::usual(), date, length_s: None, recent_drills: Vec::new(), cycles: Vec::new() }
}

fn options() -> Options {
    Options { runs: 40, ..Options::default() }
}

fn of(text: &str, members: Vec<Member>, decisions: &[Decision]) -> ClassPlan {
    plan(&read(text).sheet, &class(members), &Settings::default(), decisions, options())
}

#[test]
fn the_same_inputs_give_the_same_bytes() {
    let json = |_: u8| serde_json::to_string(&answer(&of(DAY, Member::archetypes(), &[]))).unwrap();
    assert_eq!(json(0), json(1));
    let one = rayon::ThreadPoolBuilder::new().num_threads(1).build().unwrap().install(|| json(2));
    assert_eq!(json(0), one, "one core or two, the same plan");
}

#[test]
fn the_hour_has_every_block_and_no_gap() {
    let p = of(DAY, Member::archetypes(), &[]);
    let kinds: Vec<&str> = p.hour.slots.iter().map(|s| s.part.id()).collect();
    assert_eq!(
        kinds,
        ["brief", "warm-up", "strength", "change-over", "workout-brief", "workout", "cool-down", "tidy"]
    );
    assert!(p.hour.slots.windows(2).all(|w| w[0].start_s + w[0].length_s == w[1].start_s));
    let warm: u32 = p.warm_up.steps.iter().map(|s| s.seconds).sum();
    assert_eq!(warm, p.hour.slots[1].length_s);
}

#[test]
fn a_member_moved_by_hand_stays_and_the_rest_is_the_same() {
    let before = of(DAY, Member::archetypes(), &[]);
    let id = before.members[5].id.clone();
    let d = Decision::Version { block: 1, member: id, tier: Tier::Base };
    let after = of(DAY, Member::archetypes(), &[d]);
    assert_eq!(after.workouts[0].placed[5].tier, Tier::Base);
    assert!(after.workouts[0].placed[5].moved);
    assert_eq!(after.workouts[0].placed[5].suggested, before.workouts[0].placed[5].tier);
    for i in (0..8).filter(|i| *i != 5) {
        assert_eq!(
            after.workouts[0].placed[i].predicted.prediction,
            before.workouts[0].placed[i].predicted.prediction
        );
    }
}

#[test]
fn decisions_on_length_drill_and_load_are_kept() {
    let before = of(DAY, Member::archetypes(), &[]);
    let drill = before.warm_up.steps[0].drill.clone().unwrap();
    let id = before.members[3].id.clone();
    let all = [
        Decision::Length { key: "warm-up".into(), seconds: 480 },
        Decision::SwapDrill { drill: drill.clone() },
        Decision::Load { block: 0, member: id, by_kg: 5.0 },
    ];
    let after = of(DAY, Member::archetypes(), &all);
    assert_eq!(after.hour.slots[1].length_s, 480);
    assert_eq!(after.warm_up.steps.iter().map(|s| s.seconds).sum::<u32>(), 480);
    assert!(after.warm_up.steps.iter().all(|s| s.drill.as_ref() != Some(&drill)));
    let kg = |p: &ClassPlan| p.strength[0].lifts[0].of(3).unwrap().first_kg();
    assert_eq!(kg(&after), kg(&before) + 5.0);
}

#[test]
fn a_class_of_nobody_and_of_sixty_one_are_planned() {
    let nobody = of(DAY, Vec::new(), &[]);
    assert!(nobody.problems[0].starts_with("Nobody is booked yet"));
    assert_eq!(nobody.workouts[0].versions.len(), 3);
    let many: Vec<Member> =
        (0..61).map(|i| Member::unknown(&format!("M{i}"), Standard::Lighter, Level::Regular)).collect();
    let full = of(DAY, many, &[]);
    assert_eq!(full.members.len(), 60);
    assert!(full.problems[0].contains("first 60 of 61"));
}

#[test]
fn a_kit_without_plates_says_what_it_could_not_do() {
    let mut c = class(Member::archetypes());
    c.kit.plates.clear();
    let p = plan(&read(DAY).sheet, &c, &Settings::default(), &[], options());
    let lifts = &p.strength[0].lifts[0];
    assert!(lifts.members.iter().all(|(_, l)| l.working().all(|s| s.per_side_kg.is_empty())));
    assert!(text(&p).contains("No weight inside the band can be built with your plates"));
}

#[test]
fn absurd_sheets_end_in_a_plan_that_says_so() {
    for sheet in [
        "",
        "# workout\n10000 rounds for time\n10000 muscle-ups",
        "# workout cap 0:01\nfor time\n100 burpees",
        "# workout\nfor time\n10 thrusters 9000 kg",
        "# workout\nemom 12\n10 burpees",
        "# workout\nfor time\n10 flurbles",
        "# strength\nback squat 5 x 3 @ 900%",
    ] {
        let p = of(sheet, Member::archetypes(), &[]);
        let _ = text(&p);
        let json = serde_json::to_string(&answer(&p)).unwrap();
        assert!(!json.contains("null,null"), "{sheet}");
        for row in p.workouts.iter().flat_map(|w| &w.placed) {
            assert!(row.predicted.prediction.deciles.iter().all(|d| d.is_finite()), "{sheet}");
        }
    }
}

#[test]
fn a_versions_pace_is_of_its_own_lines() {
    let mut members = Member::archetypes();
    members.iter_mut().for_each(|m| m.limits.push("no-impact".into()));
    for class in [Member::archetypes(), members, Vec::new()] {
        let p = of(DAY, class, &[]);
        for (v, pace) in p.workouts[0].versions.iter().zip(&p.workouts[0].pace) {
            for l in &pace.splits.lines {
                let counts: Vec<f64> =
                    Standard::BOTH.iter().map(|s| v.work.lines[l.position].count(l.round, *s)).collect();
                let done: f64 = l.sets.iter().sum();
                assert!(counts.iter().any(|c| (c - done).abs() < 1e-6), "{:?}: {done} of {counts:?}", v.tier);
            }
        }
    }
}

#[test]
fn everybody_at_full_when_asked() {
    let o = Options { as_written: true, ..options() };
    let p = plan(&read(DAY).sheet, &class(Member::archetypes()), &Settings::default(), &[], o);
    assert!(p.workouts[0].placed.iter().all(|x| x.tier == Tier::Full && x.personal.is_empty()));
}
