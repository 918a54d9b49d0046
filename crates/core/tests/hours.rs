//! Hours of whole sessions: every block in its place, every length with its source.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::hour::HourPart;
use lantern_core::kit::Kit;
use lantern_core::plan::{Class, ClassPlan, Decision, Options, plan};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::read;

fn of(sheet: &str, length_s: Option<u32>, decisions: &[Decision]) -> ClassPlan {
    let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
    let class = Class {
        members: Member::archetypes(),
        kit: Kit::usual(),
        date,
        length_s,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    let options = Options { runs: 20, ..Options::default() };
    plan(&read(sheet).sheet, &class, &Settings::default(), decisions, options)
}

fn length(p: &ClassPlan, part: HourPart) -> u32 {
    p.hour.slots.iter().find(|s| s.part == part).map_or(0, |s| s.length_s)
}

#[test]
fn the_class_length_comes_from_the_class_then_the_sheet_then_the_gym() {
    let sheet = "class: 75:00\n# workout cap 10:00\nfor time\n30 burpees";
    assert_eq!(of(sheet, Some(2700), &[]).hour.length_s, 2700);
    assert_eq!(of(sheet, None, &[]).hour.length_s, 4500);
    assert_eq!(of("# workout cap 10:00\nfor time\n30 burpees", None, &[]).hour.length_s, 3600);
}

#[test]
fn lengths_on_the_sheet_are_kept() {
    let p = of(
        "# warm-up 8:00\n# skill 12:00\nhandstand practice\n# workout cap 11:00\nfor time\n30 burpees\n# cool-down 6:00",
        None,
        &[],
    );
    let parts =
        [HourPart::WarmUp, HourPart::Skill, HourPart::Workout, HourPart::CoolDown].map(|x| length(&p, x));
    assert_eq!(parts, [480, 720, 660, 360]);
}

#[test]
fn a_workout_lasts_to_its_clock_its_cap_or_its_last_finisher() {
    assert_eq!(length(&of("# workout\namrap 17:00\n10 burpees", None, &[]), HourPart::Workout), 1020);
    assert_eq!(length(&of("# workout cap 13:00\nfor time\n100 burpees", None, &[]), HourPart::Workout), 780);
    let open = of("# workout\nfor time\n50 burpees", None, &[]);
    let slowest = open.workouts[0].placed.iter().map(|p| p.predicted.prediction.p90()).fold(0.0, f64::max);
    let s = f64::from(length(&open, HourPart::Workout));
    assert!(s >= slowest && s - slowest < 30.0, "{s} for {slowest}");
}

#[test]
fn strength_that_needs_more_than_the_sheet_gives_is_shown_with_what_it_needs() {
    let p = of("# strength 10:00\nback squat 5 x 5 @ 75%, every 3:00", None, &[]);
    let slot = p.hour.slots.iter().find(|s| s.part == HourPart::Strength).unwrap();
    assert!(slot.length_s > 900, "five sets every 3:00 and their build-up");
    assert!(slot.how.contains("the sheet gives 10:00"), "{}", slot.how);
}

#[test]
fn a_sheet_of_one_line_still_has_an_hour() {
    for sheet in
        ["", "30 burpees", "# warm-up", "# cool-down 5:00", "only words of a coach who was in a hurry"]
    {
        let p = of(sheet, None, &[]);
        let kinds: Vec<HourPart> = p.hour.slots.iter().map(|s| s.part).collect();
        assert_eq!(kinds.first(), Some(&HourPart::Brief), "{sheet}");
        assert_eq!(kinds.last(), Some(&HourPart::Tidy), "{sheet}");
        let sum: u32 = p.hour.slots.iter().map(|s| s.length_s).sum();
        assert_eq!(sum + p.hour.spare_s, 3600 + p.hour.overrun_s, "{sheet}");
    }
}

#[test]
fn a_warm_up_cut_by_the_coach_still_sums() {
    for seconds in [360, 395, 450, 611] {
        let d = Decision::Length { key: "warm-up".into(), seconds };
        let p = of(
            "# strength\nfront squat 5 x 3 @ 80%\n# workout cap 9:00\nfor time\n30 toes-to-bar",
            None,
            &[d],
        );
        assert_eq!(p.warm_up.steps.iter().map(|s| s.seconds).sum::<u32>(), seconds);
    }
}
