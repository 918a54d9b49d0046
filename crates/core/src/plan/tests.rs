//! What must hold for the joined plan of any class.

mod learnt;

use super::*;
use crate::kinds::Limit;
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

pub(super) fn of(text: &str, members: Vec<Member>, decisions: &[Decision]) -> ClassPlan {
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
        let back: PlanAnswer = serde_json::from_str(&json).expect("every figure is one");
        let said = |a: &PlanAnswer| -> Vec<String> {
            a.members.iter().flat_map(|m| &m.why).map(|t| t.text.clone()).collect()
        };
        assert_eq!(said(&back), said(&answer(&p)), "{sheet}");
        for row in p.workouts.iter().flat_map(|w| &w.placed) {
            assert!(row.predicted.prediction.deciles.iter().all(|d| d.is_finite()), "{sheet}");
        }
    }
}

#[test]
fn a_versions_pace_is_of_its_own_lines() {
    let mut members = Member::archetypes();
    members.iter_mut().for_each(|m| m.limits.push(Limit::NoImpact));
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

fn lifters(n: u32) -> Vec<Member> {
    let date = NaiveDate::from_ymd_opt(2026, 11, 24);
    (0..n)
        .map(|i| {
            let mut m = Member::unknown(&format!("m{i:02}"), Standard::Heavier, Level::Regular);
            m.sessions_logged = Some(40);
            let max =
                |lift: &str, kg: f64| crate::roster::Max { lift: lift.into(), kg, reps: 1, reserve: 0, date };
            let i = f64::from(i);
            m.maxes = vec![max("front-squat", 100.0 + 2.0 * i), max("bench-press", 80.0 + 2.0 * i)];
            m
        })
        .collect()
}

#[test]
fn a_superset_carries_the_time_of_both_and_rests_after_the_pair() {
    let p =
        of("# strength\nA) bench press 4 x 6 @ 72%\nB) strict pull-ups 4 x max\nrest 2:00", lifters(1), &[]);
    let s = &p.strength[0];
    assert!(s.superset && s.lifts.len() == 2);
    // bench: 6 x 2.5 + 8 = 23 s; pull-ups to the most: 10 x 3 + 8 = 38 s; rest 120: a round is 181 s. Alone at the rack the
    // last round ends with the sets: 3 x 181 + 23 + 8 + 38
    assert_eq!(s.lifts[0].time.interval_s, 181.0);
    assert_eq!((s.lifts[0].time.work_s, s.lifts[1].time.work_s), (3.0 * 181.0 + 69.0, 0.0));
    let tight =
        of("# strength\nbench press 4 x 6 @ 72%, every 0:50\nstrict pull-ups 4 x max", lifters(1), &[]);
    let open = tight.strength[0].open.join(" ");
    assert!(open.contains("One round of the superset takes 1:01 and the sheet gives 0:50"), "{open}");
}

#[test]
fn turns_that_do_not_fit_are_offered_and_the_choice_changes_the_plan() {
    let sheet = "# strength\nfront squat 5 x 3 @ 80%, every 2:00";
    // 20 on 6 racks: four at some racks, 4 x (17 + 25) = 168 s at most, over 120
    let p = of(sheet, lifters(20), &[]);
    let l = &p.strength[0].lifts[0];
    assert!(l.time.does_not_fit.is_some() && l.offers.len() >= 3, "{:?}", l.offers);
    let go = |fit| of(sheet, lifters(20), &[Decision::Fit { block: 0, fit }]);
    let racks = go(crate::loads::Fit::Racks(10));
    assert!(racks.strength[0].lifts[0].time.does_not_fit.is_none());
    assert_eq!(racks.strength[0].lifts[0].racks.racks.len(), 10);
    let waves = go(crate::loads::Fit::Waves(2));
    assert!(waves.strength[0].lifts[0].time.does_not_fit.is_none());
    assert!(waves.strength[0].length_s > p.strength[0].length_s, "two waves take longer");
    let sets = go(crate::loads::Fit::Sets(3));
    assert_eq!(sets.strength[0].lifts[0].sets.reps.len(), 3);
}

#[test]
fn a_member_moved_by_hand_is_at_that_rack_in_the_plan() {
    let sheet = "# strength\nfront squat 5 x 3 @ 80%, every 3:00";
    let p = of(sheet, lifters(12), &[]);
    let racks = &p.strength[0].lifts[0].racks;
    let to = (racks.rack_of(0).unwrap() + 1) % racks.racks.len();
    let moved = Decision::Rack { block: 0, lift: 0, member: "m00".into(), rack: to };
    let q = of(sheet, lifters(12), &[moved]);
    assert_eq!(q.strength[0].lifts[0].racks.rack_of(0), Some(to));
    let sum: u32 = q.strength[0].lifts[0].racks.racks.iter().map(|r| r.moves).sum();
    assert_eq!(q.strength[0].lifts[0].racks.moves, sum, "the sums follow");
}

#[test]
fn a_weight_changed_by_hand_moves_nobody_to_another_rack() {
    let sheet = "# strength\nfront squat 5 x 3 @ 80%, every 3:00";
    let p = of(sheet, lifters(12), &[]);
    let groups = |p: &ClassPlan| -> Vec<Vec<usize>> {
        p.strength[0].lifts[0].racks.racks.iter().map(|r| r.members.clone()).collect()
    };
    let more = |by_kg| Decision::Load { block: 0, member: "m00".into(), by_kg };
    let q = of(sheet, lifters(12), &[more(20.0), more(20.0)]);
    assert_eq!(groups(&p), groups(&q));
    let kg = |p: &ClassPlan| p.strength[0].lifts[0].of(0).unwrap().first_kg();
    assert_eq!(kg(&q) - kg(&p), 40.0);
    // the plates that are moved for it are counted
    let moves = |p: &ClassPlan| p.strength[0].lifts[0].racks.moves;
    assert!(moves(&q) > moves(&p), "{} {}", moves(&p), moves(&q));
}

#[test]
fn the_cycles_week_gives_sets_a_base_week_gives_a_test_and_no_cycle_is_said() {
    use crate::cycle::{Cycle, Week, WeekKind};
    let monday = NaiveDate::from_ymd_opt(2026, 11, 23).unwrap();
    let week = |kind, sets, reps, low, high| Week { kind, sets, reps, low, high };
    let cycle = |start| Cycle {
        name: "Autumn".into(),
        lift: "front-squat".into(),
        start,
        of: crate::sheet::PercentBase::OneRm,
        every_s: Some(150),
        window_s: 900,
        weeks: vec![week(WeekKind::Base, 1, 3, 0.0, 0.0), week(WeekKind::Work, 4, 4, 75.0, 79.0)],
        held: Vec::new(),
    };
    let sheet = read("# strength\nfront squat from the cycle").sheet;
    let go = |cycles| {
        let class = Class { cycles, ..class(lifters(3)) };
        plan(&sheet, &class, &Settings::default(), &[], options())
    };
    let second = go(vec![cycle(monday - chrono::Duration::days(7))]);
    let l = &second.strength[0].lifts[0];
    assert_eq!((l.sets.reps.clone(), l.sets.every_s), (vec![4; 4], Some(150)));
    assert_eq!(l.cycle.as_deref(), Some("Autumn, week 2 of 2: 4 x 4 at 75 to 79 %"));
    // 75 to 79 % of 100: 77 lies nearest 77.5
    assert_eq!(l.of(0).unwrap().first_kg(), 77.5);
    assert!(second.hour.slots.iter().any(|s| s.part == HourPart::Strength && s.length_s >= 600));
    let first = go(vec![cycle(monday)]);
    let h = first.strength[0].lifts[0].heavy.as_ref().unwrap();
    assert_eq!((h.build.reps, h.window_s), (3, 900));
    let none = go(Vec::new());
    assert!(
        none.strength[0].lifts.is_empty()
            && none.strength[0].open[0].contains("No cycle of front squat runs")
    );
}

#[test]
fn the_sheets_own_sets_win_and_the_cycles_are_said() {
    let sheet = read("# strength\nfront squat 5 x 5 @ 70%").sheet;
    let cycle = crate::cycle::Cycle {
        name: "Autumn".into(),
        lift: "front-squat".into(),
        start: NaiveDate::from_ymd_opt(2026, 11, 23).unwrap(),
        of: crate::sheet::PercentBase::OneRm,
        every_s: None,
        window_s: 900,
        weeks: vec![crate::cycle::Week {
            kind: crate::cycle::WeekKind::Work,
            sets: 4,
            reps: 4,
            low: 75.0,
            high: 79.0,
        }],
        held: Vec::new(),
    };
    let class = Class { cycles: vec![cycle], ..class(lifters(2)) };
    let p = plan(&sheet, &class, &Settings::default(), &[], options());
    assert_eq!(p.strength[0].lifts[0].sets.reps, vec![5; 5]);
    assert!(
        p.strength[0].open[0].contains("Autumn has in week 1: 4 x 4 at 75 to 79 %"),
        "{:?}",
        p.strength[0].open
    );
}

#[test]
fn a_hall_that_wants_no_failed_lift_wants_none_on_the_days_maximum() {
    let sheet = read("# strength\nfront squat build to 3rm in 15:00").sheet;
    let wants_none = |decisions: &[Decision]| {
        let p = plan(&sheet, &class(lifters(2)), &Settings::default(), decisions, options());
        p.strength[0].lifts[0].heavy.as_ref().unwrap().build.no_misses
    };
    assert!(wants_none(&[]));
    let max = Decision::School { school: "daily-heavy".into(), option: Some("true-max".into()) };
    assert!(!wants_none(&[max]));
}

#[test]
fn more_of_a_class_is_on_stimulus_than_at_full() {
    let p = of(DAY, Member::archetypes(), &[]);
    let s = p.workouts[0].shares().unwrap();
    assert_eq!(s.members, 8);
    assert!(s.placed > s.at_full && s.placed <= 8.0 && s.at_full >= 0.0, "{s:?}");
    assert_eq!(of(DAY, Vec::new(), &[]).workouts[0].shares(), None);
}

#[test]
fn following_a_checkpoints_cut_ends_inside_the_window() {
    let chipper = "# workout cap 20:00 target 12:00-16:00\nfor time\n800 m run\n40 wall-balls 9/6 kg\n30 push-ups\n40 air squats\n400 m run";
    assert!(cuts_that_hold(DAY) >= 3);
    assert!(cuts_that_hold(chipper) >= 2, "a list done once is cut by its lines");
    let cash_out = "# workout cap 20:00 target 9:00-12:00\n4 rounds for time\n12 burpees\n200 m run\ncash-out: 40 air squats";
    assert!(cuts_that_hold(cash_out) >= 2, "what comes after the rounds stays");
}

/// Follows every cut of a sheet in the simulator, as somebody who is a tenth later than the latest time; how many end in the window.
fn cuts_that_hold(text: &str) -> usize {
    let p = of(text, Member::archetypes(), &[]);
    let w = &p.workouts[0];
    let stimulus = w.stimulus.as_ref().unwrap();
    let (low, high) = (stimulus.low.unwrap_or(0.0), stimulus.high.unwrap());
    let mut seen = 0;
    for (n, (v, pace)) in w.versions.iter().zip(&w.pace).enumerate() {
        let next = w.versions.get(n + 1).map(|v| &v.work);
        let Some(i) = pace.member else { continue };
        let (m, a) = (&p.members[i], &p.abilities[i]);
        let clock = |work: &crate::versions::Work| {
            let t = traced_run(work, m.standard, a, None, &Strategy::Even);
            assert!(t.done);
            t.rows.last().unwrap().to_s
        };
        let end = pace.checkpoints.last().unwrap().on_pace;
        let looks = pace.checkpoints.iter().filter(|c| c.cut.is_some()).count();
        assert!(looks <= 2, "a workout is looked at twice at most");
        for (k, c) in pace.checkpoints.iter().enumerate() {
            let Some(cut) = &c.cut else { continue };
            let says = cut.shout.says();
            assert!(says.split_whitespace().count() <= MOST_WORDS, "{says}");
            if cut.shout == Shout::AtCap {
                assert_eq!(Some(cut.ends_s), stimulus.cap_s);
                continue;
            }
            seen += 1;
            let list = |work: &crate::versions::Work| {
                let mut of = first_rounds(work, k + 1);
                of.lines.retain(|l| l.around.is_none());
                of
            };
            let rest = |work: &crate::versions::Work| clock(work) - clock(&list(work));
            let left = rest(&cut.shout.apply(&v.work, k + 1, next)) / rest(&v.work);
            // as slow as that for what is left
            let at = 1.1 * c.latest_window.unwrap();
            let ends = at + at / c.on_pace * (end - c.on_pace) * left;
            // two ways of adding up the same runs may differ by a twentieth
            assert!((ends - cut.ends_s).abs() <= 0.05 * ends, "{:?}: {ends} for {}", v.tier, cut.ends_s);
            assert!(cut.ends_s <= high && cut.ends_s >= low, "{says} ends at {}", cut.ends_s);
        }
        // nothing is cut where everything is done
        assert!(pace.checkpoints.last().unwrap().cut.is_none());
    }
    seen
}

#[test]
fn a_school_changes_the_versions_of_a_class() {
    let lines = |sheet: &str, school: &str, option: &str| {
        let made = Decision::School { school: school.into(), option: Some(option.into()) };
        let p = of(sheet, Member::archetypes(), &[made]);
        let w = &p.workouts[0];
        w.versions
            .iter()
            .map(|v| {
                format!(
                    "{:?} {:?}",
                    v.work.lines.iter().map(crate::versions::Line::text).collect::<Vec<_>>(),
                    v.work.clock_text()
                )
            })
            .collect::<Vec<_>>()
    };
    let push = "# workout cap 12:00 target 5:00-7:00\n4 rounds for time\n30 push-ups\n15 air squats";
    for (sheet, school, options) in [
        (push, "push-up-scaling", ["raised-hands", "knees"]),
        (
            "# workout cap 12:00 target 5:00-7:00\n3 rounds for time\n50 double-unders\n15 push-ups",
            "double-under-substitution",
            ["same-time", "two-for-one"],
        ),
    ] {
        let [a, b] = options.map(|o| lines(sheet, school, o));
        assert_eq!(a[0], b[0], "Full is the sheet");
        assert_ne!(a, b, "{school}");
    }
}

#[test]
fn somebody_of_whom_nothing_is_tested_does_base_under_a_ceiling() {
    let text =
        "# workout cap 13:00 target 6:00-10:00\n21-15-9 for time\ndeadlift 90/62.5 kg\nburpees over the bar";
    let newcomers: Vec<Member> =
        (0..6).map(|i| Member::unknown(&format!("N{i}"), Standard::BOTH[i % 2], Level::New)).collect();
    let p = of(text, newcomers, &[]);
    for placed in &p.workouts[0].placed {
        assert_eq!(placed.tier, Tier::Base);
        let kg = placed.work.lines[0].kg().unwrap();
        assert!(kg[0] <= 60.0 * 1.04, "{kg:?}");
        // their weight stands on the card; nothing of it is said aloud
        assert!(placed.personal.iter().filter(|x| x.line == 0).all(|x| x.weight), "{:?}", placed.personal);
    }
    let json = serde_json::to_value(answer(&p)).unwrap();
    let first = &json["members"][0];
    assert_eq!(first["personal"].as_array().unwrap().len(), 0, "{first}");
    assert!(
        first["weights"].as_array().unwrap().iter().all(|w| w.as_str().unwrap().contains("deadlift")),
        "{first}"
    );
    // the coach's own placing stays
    let id = p.members[0].id.clone();
    let d = Decision::Version { block: 0, member: id, tier: Tier::Full };
    let moved = of(text, p.members.clone(), &[d]);
    assert_eq!(moved.workouts[0].placed[0].tier, Tier::Full);
}

#[test]
fn an_open_clock_is_judged_by_whether_it_goes_on() {
    let text = "# workout\namrap 16:00\n6 pull-ups\n9 push-ups\n12 air squats";
    let p = of(text, Member::archetypes(), &[]);
    let w = &p.workouts[0];
    assert!(w.stimulus.as_ref().unwrap().only_steady());
    let does: Vec<f64> = w.expected.iter().map(|e| e.score).collect();
    assert!(does[0] > 1.0 && does[1] < does[2] && does[2] < does[3], "{does:?}");
    let tiers: Vec<Tier> = w.expected.iter().map(|e| e.tier).collect();
    assert_eq!(tiers, [Tier::Base, Tier::Full, Tier::Full, Tier::Full]);
    for placed in &w.placed {
        let r = &placed.predicted.prediction;
        let steady = r.steady.unwrap();
        assert!((r.on_stimulus - steady).abs() < 1e-9, "nothing else is asked");
        assert!(placed.tier != Tier::Full || r.goes_on() || r.scale_this.is_some(), "{placed:?}");
    }
    // the strongest are told nothing for doing much
    assert_eq!(w.off(w.placed.last().unwrap()), None);
    assert_eq!(w.cap_proposed_s, None);
    // reps where they are what is scored
    let reps = of("# workout\namrap 8:00\nmax burpees", Member::archetypes(), &[]);
    assert_eq!(reps.workouts[0].stimulus.as_ref().unwrap().unit, crate::sheet::TargetUnit::Reps);
    assert!(reps.workouts[0].placed[3].predicted.prediction.p50() > 40.0);
}

#[test]
fn a_cap_is_proposed_where_none_is_written() {
    let with = of("# workout target 6:00-9:30\nfor time\n60 burpees", Member::archetypes(), &[]);
    // 9:30 and two minutes, to the minute above
    assert_eq!(with.workouts[0].cap_proposed_s, Some(720));
    let without = of("# workout\nfor time\n60 burpees", Member::archetypes(), &[]);
    let cap = f64::from(without.workouts[0].cap_proposed_s.unwrap());
    let done = without.workouts[0].placed.iter().filter(|p| p.predicted.prediction.p50() <= cap).count();
    assert!((7..=8).contains(&done) && cap % 60.0 == 0.0, "{done} of 8 by {cap}");
    assert_eq!(of(DAY, Member::archetypes(), &[]).workouts[0].cap_proposed_s, None, "one is written");
}

#[test]
fn where_nothing_is_asked_nobody_is_on_stimulus() {
    // no regular member can move it, and no cap or target is written
    let p = of(
        "# workout\n3 rounds for time\n10 snatch balances 160/110 kg\n10 burpees",
        Member::archetypes(),
        &[],
    );
    let Some(w) = p.workouts.first().filter(|w| w.stimulus.as_ref().is_some_and(|s| s.no_window())) else {
        panic!("{:?}", p.workouts.first().map(|w| &w.stimulus))
    };
    assert_eq!(w.stimulus.as_ref().unwrap().window_text(), "no target yet");
    assert_eq!(w.likely_inside(), 0);
    for placed in &w.placed {
        assert_eq!(placed.predicted.prediction.on_stimulus, 0.0);
        assert!(w.off(placed).is_some());
    }
}

#[test]
fn what_was_foretold_of_a_block_stays_beside_a_later_plan_of_another() {
    let two = "# workout \"Quay\" cap 12:00\n3 rounds for time\n10 burpees\n200 m run\n# workout \"Mole\"\namrap 8:00\n10 air squats\n10 sit-ups";
    let first = answer(&of(two, Member::archetypes(), &[]));
    let mut heavier = Member::archetypes();
    heavier.iter_mut().for_each(|m| m.body_mass_kg = Some(130.0));
    heavier.push(Member::unknown("Late", Standard::Lighter, Level::Regular));
    heavier.last_mut().unwrap().id = "late".into();
    let later = answer(&of(two, heavier, &[]));
    let both = first.clone().with_others(later.clone(), &[0]);
    let of_block = |a: &PlanAnswer, i: usize, block: usize| -> Vec<PredictionAnswer> {
        a.members[i].predictions.iter().filter(|p| p.block == block).cloned().collect()
    };
    assert_ne!(of_block(&first, 0, 0), of_block(&later, 0, 0), "else nothing is shown");
    assert_eq!(of_block(&both, 0, 0), of_block(&first, 0, 0));
    assert_eq!(of_block(&both, 0, 1), of_block(&later, 0, 1));
    let late = both.members.iter().position(|m| m.id == "late").unwrap();
    assert_eq!(
        (of_block(&both, late, 0).len(), of_block(&both, late, 1).len()),
        (0, 1),
        "they came for the second"
    );
    assert_eq!(both.versions.len(), 6);
    assert_eq!(
        first.clone().with_others(later, &[0, 1]),
        PlanAnswer { members: both_members(&first, &both), ..first }
    );
}

/// Everybody of a later plan, with what the first one says of them.
fn both_members(first: &PlanAnswer, both: &PlanAnswer) -> Vec<MemberAnswer> {
    let mut out = first.members.clone();
    let late = both.members.iter().filter(|m| first.members.iter().all(|x| x.id != m.id)).cloned();
    out.extend(late.map(|m| MemberAnswer {
        lines: Vec::new(),
        loads: Vec::new(),
        predictions: Vec::new(),
        set_plan: Vec::new(),
        ..m
    }));
    out
}
