//! Ways to make a day fit: each gives what it says, those that are taken together fit, and groups have enough kit.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::hour::{HourPart, Running, Standing};
use lantern_core::kinds::Gear;
use lantern_core::kit::Kit;
use lantern_core::loads::Fit;
use lantern_core::mend::{By, Short, Way};
use lantern_core::plan::{
    Class, ClassPlan, Decision, Forgetful, Gives, Options, PlanOf, Weighed, fitting, plan, ways, weigh,
};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::{Sheet, read};

const LONG: &str = "# strength\nback squat 5 x 5 @ 75%, every 3:00\n# accessory 8:00\n20 lunges\n# workout cap 20:00 target 12:00-17:00\n5 rounds for time\n20 burpees\n15 box jumps 60/50 cm";

struct Day {
    sheet: Sheet,
    class: Class,
    settings: Settings,
}

fn day(text: &str, times: usize) -> Day {
    let twice = |n: usize| {
        Member::archetypes().into_iter().map(move |mut m| {
            (m.id, m.name) = (format!("{}-{n}", m.id), format!("{} {n}", m.name));
            m
        })
    };
    let class = Class {
        members: (0..times).flat_map(twice).collect(),
        kit: Kit::usual(),
        date: NaiveDate::from_ymd_opt(2026, 11, 24).unwrap(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    Day { sheet: read(text).sheet, class, settings: Settings::default() }
}

impl Day {
    fn of<'a>(&'a self, decisions: &'a [Decision]) -> PlanOf<'a> {
        let options = Options { runs: 16, ..Options::default() };
        PlanOf { sheet: &self.sheet, class: &self.class, settings: &self.settings, decisions, options }
    }

    fn plan(&self, decisions: &[Decision]) -> ClassPlan {
        let of = self.of(decisions);
        plan(of.sheet, of.class, of.settings, decisions, of.options)
    }

    fn weighed(&self) -> (ClassPlan, Vec<Weighed>) {
        let plan = self.plan(&[]);
        let all = weigh(&self.of(&[]), &plan, &Forgetful).unwrap();
        (plan, all)
    }
}

fn start(p: &ClassPlan, part: HourPart, group: u32) -> u32 {
    p.hour.slot_of(part, if part == HourPart::Strength { 0 } else { 1 }, Some(group)).unwrap().start_s
}

#[test]
fn each_way_gives_what_it_says_and_what_spares_the_work_comes_first() {
    let d = day(LONG, 1);
    let (before, all) = d.weighed();
    assert!(before.hour.overrun_s > 600, "{}", before.hour.overrun_s);
    for w in &all {
        let then = d.plan(std::slice::from_ref(&w.mend.decision));
        assert_eq!(i64::from(before.hour.end_s()) - i64::from(then.hour.end_s()), w.wins_s, "{:?}", w.mend);
        assert_eq!((Gives::of(&then), then.hour.overrun_s), (w.then, w.then.over_s));
        assert!(w.wins_s > 0, "no kit is short: {:?}", w.mend);
    }
    let spares: Vec<bool> = all.iter().map(|w| w.mend.way.spares_the_work()).collect();
    assert!(spares.iter().any(|s| *s) && spares.windows(2).all(|w| w[0] >= w[1]), "{spares:?}");
    let has = |kind: fn(&Way) -> bool| all.iter().any(|w| kind(&w.mend.way));
    assert!(has(|w| matches!(w, Way::Shorter { part: HourPart::Accessory, to_s: 0, .. })));
    assert!(has(|w| matches!(w, Way::Sets { from: 5, to: 4 })));
    assert!(has(|w| matches!(w, Way::Less { .. })) && has(|w| matches!(w, Way::Cap { .. })));
    assert!(has(|w| matches!(w, Way::Leave { what } if what == "Strength (back squat)")));
    assert!(!has(|w| matches!(w, Way::Halves)), "the accessory stands between the lifts and the workout");
    let beside = day(&LONG.replace("# accessory 8:00\n20 lunges\n", ""), 2).weighed().1;
    assert!(beside.iter().any(|w| matches!(w.mend.way, Way::Halves) && w.wins_s > 0));
    // fewer sets at the same distance: 3:00 less
    let sets = all.iter().find(|w| matches!(w.mend.way, Way::Sets { to: 4, .. })).unwrap();
    assert_eq!(sets.wins_s, 180);
}

#[test]
fn the_cheapest_ways_together_make_the_day_fit() {
    let d = day(LONG, 1);
    let (before, all) = d.weighed();
    let together = fitting(&d.of(&[]), &Gives::of(&before), &all, &Forgetful).unwrap().unwrap();
    let decisions: Vec<Decision> = together.mends.iter().map(|m| m.decision.clone()).collect();
    let then = d.plan(&decisions);
    assert_eq!((then.hour.overrun_s, together.then.over_s), (0, 0), "{:?}", together.mends);
    // nothing is cut that is not needed: what is left over is less than a minute
    assert!(then.hour.spare_s < 60, "{} spare after {:?}", then.hour.spare_s, together.mends);
    // the accessory goes before the warm-up is cut to its least
    assert!(together.mends.iter().any(|m| matches!(m.way, Way::Shorter { part: HourPart::Accessory, .. })));
    assert!(ways(&d.of(&decisions), &then).is_empty(), "a day that fits asks for nothing");
}

#[test]
fn a_day_beyond_every_mend_says_what_is_left() {
    let d = day(
        "class: 20:00\n# strength\nback squat 5 x 5 @ 75%, every 3:00\n# workout\namrap 20:00\n10 burpees",
        1,
    );
    let (before, all) = d.weighed();
    let together = fitting(&d.of(&[]), &Gives::of(&before), &all, &Forgetful).unwrap().unwrap();
    assert!(together.then.over_s > 0 && together.then.over_s < before.hour.overrun_s);
}

#[test]
fn every_day_of_the_demo_that_runs_over_can_be_made_to_fit() {
    let demo = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo");
    let kit = Kit::from_toml(&std::fs::read_to_string(format!("{demo}/kit.toml")).unwrap()).unwrap();
    let folder = format!("{demo}/sheets");
    let mut over = 0;
    for file in std::fs::read_dir(folder).unwrap() {
        let path = file.unwrap().path();
        let mut d = day(&std::fs::read_to_string(&path).unwrap(), 3);
        d.class.kit = kit.clone();
        let before = d.plan(&[]);
        if before.hour.overrun_s == 0 {
            continue;
        }
        over += 1;
        let all = weigh(&d.of(&[]), &before, &Forgetful).unwrap();
        let together = fitting(&d.of(&[]), &Gives::of(&before), &all, &Forgetful).unwrap();
        assert!(together.is_some_and(|t| t.then.over_s == 0), "{}", path.display());
    }
    assert!(over >= 8, "{over} days run over");
}

#[test]
fn heats_hold_everybody_once_and_have_kit_enough() {
    let text = "# workout cap 12:00\n3 rounds for time\n500 m row\n15 burpees";
    let d = day(text, 2);
    let short = d.plan(&[]);
    let rows = d.class.kit.count(Gear::RowingErg);
    let Some(Short::Places { gear: Gear::RowingErg, have, at_s, who, waits_s, .. }) =
        short.workouts[0].short.first()
    else {
        panic!("{:?}", short.workouts[0].short)
    };
    assert_eq!((*have, *at_s, who.len()), (rows, 0.0, 16), "all sixteen row at the start");
    // ten of sixteen wait while the first six row, at least once a round
    assert!(*waits_s > 60.0, "{waits_s}");
    let heats = 16u32.div_ceil(rows);
    let p = d.plan(&[Decision::Heats { block: 0, heats }]);
    let w = &p.workouts[0];
    assert!(w.short.is_empty(), "{:?}", w.short);
    let mut all: Vec<usize> = w.groups.iter().flatten().copied().collect();
    all.sort_unstable();
    assert_eq!((w.groups.len() as u32, all), (heats, (0..16).collect()));
    // heats follow each other with two minutes between
    let starts: Vec<u32> =
        (0..heats).map(|h| p.hour.slot_of(HourPart::Workout, 0, Some(h)).unwrap().start_s).collect();
    assert!(starts.windows(2).all(|s| s[1] - s[0] == 720 + 120), "{starts:?}");
    assert_eq!(p.hour.end_s(), short.hour.end_s() + (heats - 1) * 840);
}

#[test]
fn a_thing_is_short_once_however_many_groups_want_it_and_heats_follow_who_is_there() {
    let text = "# workout cap 12:00\n3 rounds for time\n15 wall balls 9/6 kg\n500 m row";
    let d = day(text, 3);
    let heats = Decision::Heats { block: 0, heats: 2 };
    let p = d.plan(std::slice::from_ref(&heats));
    for (i, a) in p.workouts[0].short.iter().enumerate() {
        let again = p.workouts[0].short.iter().skip(i + 1).filter(|b| match (a, b) {
            (Short::Implements { kg: x, .. }, Short::Implements { kg: y, .. }) => x == y,
            (Short::Places { gear: x, .. }, Short::Places { gear: y, .. }) => x == y,
            _ => false,
        });
        assert_eq!(again.count(), 0, "{:?}", p.workouts[0].short);
    }
    // all but one leave: no heat is without anybody
    let mut few = day(text, 1);
    few.class.members.truncate(1);
    let p = few.plan(&[heats]);
    let slots = p.hour.slots.iter().filter(|s| s.part == HourPart::Workout).count();
    assert_eq!((p.workouts[0].groups.len(), p.workouts[0].heats, slots), (1, 1, 1));
}

#[test]
fn a_cap_of_the_coachs_own_is_the_hours_and_one_taken_away_is_none() {
    use lantern_core::stimulus::Chosen;
    let d = day("# workout cap 20:00\n3 rounds for time\n20 burpees", 1);
    let of = |cap_s| {
        let chosen = Chosen { low: Some(240.0), high: Some(480.0), cap_s, wishes: Vec::new() };
        let p = d.plan(&[Decision::Stimulus { block: 0, chosen: Some(chosen) }]);
        let slot = p.hour.slot_of(HourPart::Workout, 0, None).unwrap().clone();
        (slot.length_s, slot.how)
    };
    assert_eq!(of(Some(900.0)), (900, "to the cap".to_owned()));
    assert!(of(None).1.starts_with("no cap"), "{:?}", of(None));
}

#[test]
fn who_begins_elsewhere_rows_at_another_time() {
    let d =
        day("# workout cap 20:00\n4 rounds for time\n250 m row\n15 burpees\n20 air squats\n15 sit-ups", 2);
    let (all, some) = (d.plan(&[]), d.plan(&[Decision::Starts { block: 0, starts: 4 }]));
    let (before, after) = (Gives::of(&all).waits_s, Gives::of(&some).waits_s);
    assert!(before > 20.0 && after < before * 0.75, "{before} s of waiting, then {after}");
    let w = &some.workouts[0];
    assert_eq!(w.starts.iter().filter(|s| **s == 3).count(), 4);
    assert_eq!(w.begins_at(0, &w.versions[0].work), "row");
    assert_eq!(w.begins_at(3, &w.versions[0].work), "sit-up");
}

#[test]
fn at_stations_a_quarter_is_at_each() {
    let d = day(
        "# workout\nstations 1:00 on / 0:30 off, 3 rounds\nwall balls 9/6 kg\nrow cal\nburpees\nsit-ups",
        2,
    );
    let w = &d.plan(&[]).workouts[0];
    assert_eq!(w.starts.iter().filter(|s| **s == 0).count(), 4);
    assert!(w.short.is_empty(), "four at the rower, four balls: {:?}", w.short);
}

#[test]
fn half_of_the_class_lifts_while_the_other_half_works() {
    let d = day(
        "# strength\nback squat 5 x 5 @ 75%, every 3:00\n# workout cap 10:00\n3 rounds for time\n12 burpees",
        2,
    );
    let p = d.plan(&[Decision::Halves { block: 0, on: true }]);
    let groups = &p.workouts[0].groups;
    assert_eq!(groups.iter().map(Vec::len).collect::<Vec<_>>(), [8, 8]);
    assert_eq!(start(&p, HourPart::Strength, 0), start(&p, HourPart::Workout, 1));
    assert_eq!(start(&p, HourPart::Strength, 1), start(&p, HourPart::Workout, 0));
    assert!(start(&p, HourPart::Strength, 0) < start(&p, HourPart::Strength, 1));
    // two to a rack lift in turn: half as many at each
    let all = d.plan(&[]);
    let half = p.hour.slot_of(HourPart::Strength, 0, Some(0)).unwrap().length_s;
    assert!(half < all.strength[0].length_s && half * 2 >= all.strength[0].length_s - 20);
    assert_eq!(
        d.plan(&[Decision::Halves { block: 0, on: true }, Decision::Halves { block: 0, on: false }]).hour,
        all.hour
    );
}

#[test]
fn a_pair_needs_the_kit_of_one() {
    let text = "# workout cap 20:00\n5 rounds for time\n15 wall balls 9/6 kg\n500 m row";
    let d = day(text, 2);
    let (alone, paired) = (d.plan(&[]), d.plan(&[Decision::Pairs { block: 0, on: true }]));
    let rows = |p: &ClassPlan| {
        let at = |s: &Short| match s {
            Short::Places { gear: Gear::RowingErg, who, .. } => Some(who.len()),
            _ => None,
        };
        p.workouts[0].short.iter().find_map(at)
    };
    assert_eq!(paired.workouts[0].at_once.iter().map(Vec::len).collect::<Vec<_>>(), [8, 8]);
    assert!(rows(&paired).unwrap_or(0) <= 8 && rows(&alone) > Some(8), "{:?}", rows(&alone));
    assert!(paired.workouts[0].versions[0].work.team.is_some());
}

#[test]
fn a_block_left_for_another_day_leaves_no_trace_in_the_hour() {
    let d = day(LONG, 1);
    let p = d.plan(&[Decision::Leave { block: 2, left: true }]);
    assert!(p.workouts.is_empty() && p.hour.slots.iter().all(|s| s.block != Some(2)));
    assert_eq!(p.sheet.blocks.len(), 3, "the others keep their places");
    let back = d.plan(&[Decision::Leave { block: 2, left: true }, Decision::Leave { block: 2, left: false }]);
    assert_eq!(back.hour, d.plan(&[]).hour);
}

#[test]
fn a_window_of_the_coachs_own_gives_way_to_a_later_cut() {
    use lantern_core::stimulus::Chosen;
    let d = day("# workout cap 20:00 target 12:00-17:00\n5 rounds for time\n20 burpees", 1);
    let own = Chosen { low: Some(600.0), high: Some(1000.0), cap_s: Some(1100.0), wishes: Vec::new() };
    let own = Decision::Stimulus { block: 0, chosen: Some(own) };
    let less = Decision::Less { block: 0, by: By::Rounds, percent: 60 };
    let of = |d: &ClassPlan| {
        let s = d.workouts[0].stimulus.as_ref().unwrap();
        (s.low, s.high, s.cap_s)
    };
    let window = (Some(435.0), Some(615.0), Some(720.0));
    assert_eq!(of(&d.plan(&[own.clone(), less.clone()])), window);
    assert_eq!(of(&d.plan(&[less, own])), (Some(600.0), Some(1000.0), Some(1100.0)));
}

#[test]
fn a_late_class_is_mended_from_what_runs_on() {
    let d = day(LONG, 1);
    let at = Running { key: "strength-0".to_owned(), at_s: 2400, left_s: 300 };
    let now = [Decision::Running { at: Some(at) }];
    let p = d.plan(&now);
    assert_eq!(p.hour.slots.iter().find(|s| s.standing == Standing::Runs).unwrap().end_s(), 2700);
    for m in ways(&d.of(&now), &p) {
        let gone = matches!(
            m.way,
            Way::Sets { .. } | Way::Halves | Way::Shorter { part: HourPart::Brief | HourPart::WarmUp, .. }
        );
        assert!(!gone, "over or running: {m:?}");
    }
    assert!(ways(&d.of(&now), &p).iter().any(|m| matches!(m.way, Way::Less { .. })));
}

#[test]
fn fewer_sets_keep_the_heaviest() {
    let d = day(
        "# strength\nbench press 5-5-3-3 @ 75, 78, 82, 85% of 1RM\n# workout cap 8:00\nfor time\n30 burpees",
        1,
    );
    let p = d.plan(&[Decision::Fit { block: 0, fit: Fit::Fewer(3) }]);
    let sets = &p.strength[0].lifts[0].sets;
    assert_eq!(sets.reps, [5, 3, 3]);
    assert_eq!(sets.percent.as_ref().unwrap().values, [78.0, 82.0, 85.0]);
}
