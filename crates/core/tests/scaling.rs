//! Scaling by limits, kit, schools and levers, on the real ladders.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::kinds::{Branch, Gear, Limit};
use lantern_core::kit::Kit;
use lantern_core::loads::Bars;
use lantern_core::movement::catalogue;
use lantern_core::pacing::Level;
use lantern_core::plan::{Class, ClassPlan, Decision, Options, plan, text};
use lantern_core::reason::OfLine;
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::{Standard, Unit, WeightUnit};
use lantern_core::versions::{Levers, Tier, Work, friendly, friendly_counts};

fn class(members: Vec<Member>, kit: Kit) -> Class {
    let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
    Class { members, kit, date, length_s: None, recent_drills: Vec::new(), cycles: Vec::new() }
}

fn of(sheet: &str, members: Vec<Member>, decisions: &[Decision]) -> ClassPlan {
    let options = Options { runs: 30, ..Options::default() };
    plan(&read(sheet).sheet, &class(members, Kit::usual()), &Settings::default(), decisions, options)
}

fn limited(limit: Limit) -> Member {
    let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    m.sessions_logged = Some(30);
    m.limits.push(limit);
    m
}

const EVERYTHING: [&str; 6] = [
    "10 pull-ups\n12 toes-to-bar\n20 double-unders",
    "8 power clean 60/42.5 kg\n10 box jumps 60/50 cm",
    "10 push-ups\n15 overhead kettlebell swings 24/16 kg\n20 wall-balls 9/6 kg",
    "6 handstand push-ups\n200 m run\n10 burpees",
    "8 front squats 60/40 kg\n5 ring dips",
    "12 deadlifts 100/70 kg\n16 lunges",
];

#[test]
fn no_plan_asks_anybody_for_what_their_limit_rules_out() {
    for limit in Limit::ALL.iter().copied() {
        for lines in EVERYTHING {
            let sheet = format!("# workout cap 14:00\n3 rounds for time\n{lines}");
            let p = of(&sheet, vec![limited(limit)], &[]);
            let placed = &p.workouts[0].placed[0];
            for l in &placed.work.lines {
                let m = catalogue().movement(&l.movement).unwrap();
                let spared = p.members[0].limit_against(&m.avoid_with).is_none();
                // a line may stay only where nothing at all can replace it, and then it is said
                let said = placed
                    .personal
                    .iter()
                    .any(|x| x.reasons.iter().any(|r| matches!(r, OfLine::NothingSuits { .. })));
                assert!(
                    spared || (said && placed.work.lines.len() == 1),
                    "{limit:?}: {} in {lines}",
                    l.movement
                );
            }
            for x in &placed.personal {
                // said decently: never that it spares the no impact, or a pregnancy
                assert!(
                    !x.private()
                        || x.says(WeightUnit::Kg).contains("as you told us")
                        || x.says(WeightUnit::Kg).contains("as agreed"),
                    "{}",
                    x.says(WeightUnit::Kg)
                );
                assert!(
                    !x.says(WeightUnit::Kg).contains("the no ")
                        && !x.says(WeightUnit::Kg).contains("pregnan"),
                    "{}",
                    x.says(WeightUnit::Kg)
                );
            }
        }
    }
}

#[test]
fn private_lines_are_exactly_those_of_limits() {
    let sheet =
        "# workout cap 12:00 target 6:00-9:00\n3 rounds for time\n10 pull-ups\n12 power clean 60/42.5 kg";
    let free = of(sheet, vec![Member::unknown("Bo", Standard::Heavier, Level::New)], &[]);
    assert!(free.workouts[0].placed[0].personal.iter().all(|x| !x.private()));
    let spared = of(sheet, vec![limited(Limit::Shoulder)], &[]);
    assert!(spared.workouts[0].placed[0].personal.iter().any(|x| x.private()));
}

#[test]
fn a_hall_without_a_thing_never_scales_to_it() {
    let sheet =
        read("# workout cap 14:00\n3 rounds for time\n12 toes-to-bar\n15 wall-balls 9/6 kg\n10 box jumps")
            .sheet;
    let work = Work::from_block(&sheet.blocks[0]).unwrap();
    for gone in [Gear::PullUpBar, Gear::Rings, Gear::JumpRope] {
        let mut kit = Kit::usual();
        kit.counts.remove(&gone);
        kit.dumbbells.clear();
        let levers = Levers::of(&work, &kit, &Bars::of(&kit), &Settings::default());
        for ways in &levers.ways {
            for w in ways.iter().skip(1) {
                let m = catalogue().movement(&w.movement).unwrap();
                assert!(
                    ![gone, Gear::Dumbbell, Gear::DumbbellPair].iter().any(|g| m.needs(*g)),
                    "{} without {gone:?}",
                    w.movement
                );
            }
        }
    }
}

#[test]
fn loads_fall_and_never_below_the_lightest_bar() {
    let sheet =
        read("# workout\n3 rounds for time\n12 power clean 60/42.5 kg\n12 dumbbell thrusters 2 x 22.5/15 kg")
            .sheet;
    let work = Work::from_block(&sheet.blocks[0]).unwrap();
    let kit = Kit::usual();
    let levers = Levers::of(&work, &kit, &Bars::of(&kit), &Settings::default());
    for ways in &levers.ways {
        let loads: Vec<[f64; 2]> = ways[0].loads.iter().flatten().copied().collect();
        assert!(
            loads.len() > 2 && loads.windows(2).all(|p| p[1][0] <= p[0][0] && p[1][1] <= p[0][1]),
            "{loads:?}"
        );
        assert!(loads.iter().all(|l| l[0] >= l[1] && l[1] >= 5.0), "{loads:?}");
    }
}

#[test]
fn ladders_hold_their_reference_first_and_every_ratio_is_usable() {
    for l in &catalogue().ladders {
        let first = l.rungs.iter().find(|r| r.branch == Branch::Main).unwrap();
        assert_eq!(first.ratio, 1.0, "{}", l.id);
        for r in &l.rungs {
            let n = friendly(20.0 * r.ratio, r.unit.unwrap_or(Unit::Reps));
            assert!(n >= 1.0 && n <= 20.0 * r.ratio * 1.5 + 5.0, "{} {}: {n}", l.id, r.movement);
        }
    }
}

#[test]
fn friendly_numbers_stay_near_and_keep_their_order() {
    for unit in [Unit::Reps, Unit::Calories, Unit::Metres, Unit::Seconds] {
        let mut last = 0.0;
        for i in 1..400 {
            let v = f64::from(i);
            let n = friendly(v, unit);
            assert!(n >= last, "{unit:?} {v}: {n} after {last}");
            assert!((n - v).abs() <= (0.25 * v).max(25.0), "{unit:?} {v}: {n}");
            last = n;
        }
    }
    assert_eq!(
        friendly_counts("row", &[[15.0, 12.0]], 1.0, Unit::Calories),
        vec![[15.0, 12.0]],
        "as written stays"
    );
}

#[test]
fn equal_reps_of_a_couplet_stay_equal() {
    let sheet = "# workout cap 12:00 target 6:00-9:00\n15-12-9 for time\nthruster 50/35 kg\nburpees";
    let p = of(sheet, Member::archetypes(), &[]);
    for v in &p.workouts[0].versions {
        let [a, b] = v.work.lines.as_slice() else { panic!("two lines") };
        assert!(a.movement != "thruster" || b.movement != "burpee" || a.counts == b.counts, "{:?}", v.work);
        assert!(
            a.counts.windows(2).all(|w| w[0][0] >= w[1][0]),
            "a falling scheme stays one: {:?}",
            a.counts
        );
    }
}

#[test]
fn everybody_is_placed_with_a_reason_and_a_range() {
    let p = of(
        "# workout cap 14:00 target 8:00-12:00\n3 rounds for time\n10 pull-ups\n400 m run",
        Member::archetypes(),
        &[],
    );
    let w = &p.workouts[0];
    assert_eq!(w.placed.len(), 8);
    for x in &w.placed {
        let r = &x.predicted.prediction;
        assert!(!x.reasons.is_empty() && r.p10() <= r.p50() && r.p50() <= r.p90());
        assert!((0.0..=1.0).contains(&r.on_stimulus) && (0.0..=1.0).contains(&r.capped));
    }
    let counted: usize = Tier::ALL.iter().map(|t| w.members_of(*t).len()).sum();
    assert_eq!(counted, 8);
}

#[test]
fn most_of_a_mixed_class_ends_in_the_window() {
    let mut out = Vec::new();
    for lines in EVERYTHING {
        let sheet = format!("# workout cap 15:00 target 8:00-12:00\n4 rounds for time\n{lines}\n200 m run");
        let p = of(&sheet, Member::archetypes(), &[]);
        let w = &p.workouts[0];
        // who is early at Full does the work as written: nobody is held back for the clock
        let early = |x: &&lantern_core::versions::Placed| {
            x.tier == Tier::Full && x.predicted.prediction.p50() < w.stimulus.as_ref().unwrap().low.unwrap()
        };
        let fine = w.placed.iter().filter(|x| early(x) || x.predicted.prediction.on_stimulus >= 0.4).count();
        out.push((lines, fine));
    }
    assert!(out.iter().all(|(_, n)| *n >= 6), "{out:?}");
}

#[test]
fn suggest_again_drops_what_was_chosen_by_hand() {
    let sheet = "# workout cap 14:00 target 8:00-12:00\n3 rounds for time\n10 pull-ups\n400 m run";
    let before = of(sheet, Member::archetypes(), &[]);
    let id = before.members[7].id.clone();
    let moved = Decision::Version { block: 0, member: id, tier: Tier::Base };
    let again = of(sheet, Member::archetypes(), &[moved, Decision::SuggestAgain { block: 0, drop: true }]);
    let tiers = |p: &ClassPlan| p.workouts[0].placed.iter().map(|x| (x.tier, x.moved)).collect::<Vec<_>>();
    assert_eq!(tiers(&before), tiers(&again));
}

#[test]
fn the_plan_as_text_says_every_part() {
    let p = of(
        "title: Quay\n# strength\nback squat 3 x 5 @ 70%\n# workout cap 9:00\nfor time\n30 burpees",
        Member::archetypes(),
        &[],
    );
    let t = text(&p);
    for part in [
        "Quay",
        "The hour (60:00)",
        "Warm-up",
        "Back squat",
        "Rack 1",
        "Full (",
        "Trim (",
        "Base (",
        "Cautions",
        "diagnose nothing",
    ] {
        assert!(t.contains(part), "{part} is missing:\n{t}");
    }
}

#[test]
fn who_does_the_version_below_line_by_line_is_called_by_its_name() {
    let sheet =
        "# workout cap 13:00 target 6:00-10:00\n21-15-9 for time\ndeadlift 100/70 kg\nhandstand push-ups";
    let members: Vec<Member> =
        (0..6).map(|i| Member::unknown(&format!("P{i}"), Standard::BOTH[i % 2], Level::Regular)).collect();
    let p = of(sheet, members, &[]);
    for placed in &p.workouts[0].placed {
        // one or two strict reps: the hall takes no swing before three, and Trim has the pike for everybody
        let own: Vec<_> = placed.personal.iter().filter(|x| !x.weight).collect();
        assert!(own.is_empty() && placed.tier == Tier::Trim, "{:?} {own:?}", placed.tier);
        assert!(placed.work.lines.iter().any(|l| l.movement == "box-pike-push-up"));
    }
}

#[test]
fn what_a_team_shares_counts_for_each_by_their_part() {
    let lines = "for time\n80 overhead kettlebell swings 24/16 kg\n60 pull-ups";
    let swings = |head: &str| {
        let read = read(&format!("# workout cap 20:00\n{head}{lines}"));
        let work = Work::from_block(&read.sheet.blocks[0]).unwrap();
        lantern_core::versions::volume(&work, Standard::Heavier, None)
    };
    let (alone, pairs) = (swings(""), swings("pairs, share the reps\n"));
    assert_eq!((alone["hinge"], alone["vertical-pull"]), (80.0, 60.0));
    assert_eq!((pairs["hinge"], pairs["vertical-pull"]), (40.0, 30.0));
}

#[test]
fn a_first_set_of_what_is_shared_is_a_third_of_ones_own_part() {
    // 17 of 50 alone, 9 of the 25 that fall to one of two
    let heaviest = |head: &str| {
        let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
        m.sessions_logged = Some(30);
        let sheet = format!("# workout cap 30:00\n{head}for time\n50 hang power cleans 60/42.5 kg");
        let p = of(&sheet, vec![m], &[]);
        p.workouts[0].placed[0].work.lines[0].kg().unwrap()[0]
    };
    assert!(heaviest("pairs, share the reps\n") > heaviest(""), "{}", heaviest(""));
}

#[test]
fn both_workouts_of_a_day_are_tasted_as_they_are_done() {
    let sheet = "# workout \"One\" cap 8:00\n3 rounds for time\n8 toes-to-bar\n10 burpees\n# workout \"Two\" cap 8:00\n3 rounds for time\n12 push-ups\n200 m run";
    let p = of(sheet, vec![Member::unknown("Bo", Standard::Heavier, Level::New)], &[]);
    let base: Vec<&str> = p
        .workouts
        .iter()
        .flat_map(|w| w.versions.iter().filter(|v| v.tier == Tier::Base))
        .flat_map(|v| v.work.lines.iter().map(|l| l.movement.as_str()))
        .collect();
    let last = p.warm_up.steps.last().unwrap();
    for movement in base {
        let hard = lantern_core::movement::catalogue().movement(movement).unwrap().skill >= 4;
        assert!(hard || last.prepares.iter().any(|m| m == movement), "{movement}: {}", last.name);
    }
    assert!(last.name.contains("50 m run") && !last.name.contains("toes to bar"), "{}", last.name);
}
