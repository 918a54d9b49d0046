//! What a warm-up must keep: its time, its order, the day's demand.

use super::*;
use crate::kit::Kit;
use crate::sheet::read;

const DAY: &str = "# strength\nfront squat 5 x 3 @ 80%\n# workout cap 14:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run";

fn of(text: &str, seconds: u32) -> WarmUp {
    made(text, seconds, &[], &[], &[])
}

fn made(text: &str, seconds: u32, recent: &[Vec<String>], avoid: &[String], done: &[Done]) -> WarmUp {
    let (sheet, kit) = (read(text).sheet, Kit::usual());
    warm_up(For { sheet: &sheet, kit: &kit, recent, avoid, done }, seconds)
}

#[test]
fn doses_sum_to_the_time_and_run_from_raising_to_rehearsing() {
    for seconds in [360, 600, 663, 900] {
        let w = of(DAY, seconds);
        assert_eq!(w.steps.iter().map(|s| s.seconds).sum::<u32>(), seconds);
        assert!(w.steps.windows(2).all(|p| p[0].part <= p[1].part), "{:?}", w.steps);
    }
}

#[test]
fn what_the_day_loads_is_touched() {
    let w = of(DAY, 600);
    assert_eq!(w.missing, Vec::<String>::new());
    for m in ["front-squat", "toes-to-bar", "power-clean", "run"] {
        assert!(
            w.steps.iter().any(|s| s.prepares.iter().any(|p| p == m)),
            "{m} is not prepared: {:#?}",
            w.steps
        );
    }
    assert!((w.coverage.iter().map(|c| c.demand).sum::<f64>() - 1.0).abs() < 1e-6);
}

#[test]
fn a_drill_swapped_out_or_done_lately_gives_way() {
    let first = of(DAY, 600);
    let drill = first.steps[0].drill.clone().unwrap();
    let swapped = made(DAY, 600, &[], std::slice::from_ref(&drill), &[]);
    assert!(swapped.steps.iter().all(|s| s.drill.as_ref() != Some(&drill)));
    let all: Vec<String> = first.steps.iter().filter_map(|s| s.drill.clone()).collect();
    let next = made(DAY, 600, &[all], &[], &[]);
    assert_ne!(first.steps, next.steps);
}

#[test]
fn a_written_warm_up_is_kept_and_what_it_misses_is_said() {
    let w = of(
        "# warm-up 8:00\n400 m run\n(half pigeon each side)\n# workout cap 9:00\n3 rounds for time\n20 sit-ups",
        480,
    );
    let names: Vec<&str> = w.steps.iter().map(|s| s.name.as_str()).collect();
    assert_eq!(names, ["400 m run", "half pigeon each side"], "word for word");
    assert!(w.steps.iter().all(|s| s.part == WarmUpPart::Written));
    assert!(w.missing.contains(&"trunk".to_owned()), "{:?}", w.missing);
}

#[test]
fn what_the_day_lifts_is_added_to_a_written_one_and_marked() {
    let w = of("# warm-up 8:00\n400 m run\n# strength\nbench press 5 x 5 @ 75%", 480);
    assert_eq!((w.steps[0].name.as_str(), w.steps.len()), ("400 m run", 2));
    let added = &w.steps[1].name;
    let end = "3 bench presses at working speed with two thirds of the weight";
    assert!(added.starts_with("Added: ") && added.ends_with(end), "{added}");
    assert_eq!(w.steps.iter().map(|s| s.seconds).sum::<u32>(), 480);
}

#[test]
fn a_build_up_is_cut_from_the_front_and_ends_in_the_lift() {
    let text = "# strength\nfront squat 5 x 3 @ 80%";
    let named = |seconds| {
        let w = of(text, seconds);
        w.steps.into_iter().filter(|s| s.part == WarmUpPart::Rehearse).map(|s| s.name).collect::<Vec<_>>()
    };
    let (short, long) = (named(240), named(900));
    let steps =
        |n: &[String]| n[0].split_once(": ").unwrap().1.split("; ").map(str::to_owned).collect::<Vec<_>>();
    let (short, long) = (steps(&short), steps(&long));
    assert!(short.len() >= 3 && long.len() > short.len(), "{short:?} {long:?}");
    assert_eq!(short.last().unwrap(), "3 front squats at working speed with two thirds of the weight");
    assert!(long.ends_with(&short), "the front is cut: {short:?} of {long:?}");
}

#[test]
fn an_empty_day_has_an_empty_warm_up() {
    assert!(of("", 600).movements.is_empty());
}

fn build_ups(text: &str, done: &[Done]) -> String {
    let w = made(text, 900, &[], &[], done);
    let names: Vec<String> =
        w.steps.into_iter().filter(|s| s.part == WarmUpPart::Rehearse).map(|s| s.name).collect();
    names.join("; ").to_lowercase()
}

#[test]
fn a_build_up_holds_only_what_leads_to_the_days_own_movement() {
    let burpees = build_ups("# workout\n5 rounds for time\n10 burpees\n200 m run", &[]);
    assert!(burpees.starts_with("burpee build-up") && !burpees.contains("box"), "{burpees}");
    let pulls = build_ups("# workout\n5 rounds for time\n10 pull-ups\n200 m run", &[]);
    assert!(pulls.contains("swing and pull") && !pulls.contains("flick"), "{pulls}");
    let both = build_ups("# workout\n5 rounds for time\n10 pull-ups\n10 toes-to-bar", &[]);
    assert!(both.contains("swing and pull") && both.contains("flick"), "{both}");
    let power = build_ups("# strength\npower clean 5 x 3 @ 70%", &[]);
    assert!(!power.contains("front squat") && !power.contains("hang squat"), "{power}");
    let press = build_ups("# strength\nstrict press 5 x 5 @ 70%", &[]);
    assert!(press.contains("strict press") && !press.contains("push"), "{press}");
    let goblet = build_ups("# workout\n5 rounds for time\n10 goblet squats 24/16 kg\n200 m run", &[]);
    assert!(!goblet.contains("back squat") && !goblet.contains("safety pins"), "{goblet}");
}

#[test]
fn nobody_prepares_for_what_nobody_does() {
    let text = "# workout\n5 rounds for time\n10 toes-to-bar\n10 burpees";
    let line = |written: &str, movement: &str| DoneLine {
        written: written.to_owned(),
        movement: movement.to_owned(),
        count: Some(10.0),
        unit: crate::units::Unit::Reps,
    };
    let lines = vec![line("toes-to-bar", "tuck-up"), line("burpee", "burpee")];
    let base = Done { version: "Base".to_owned(), for_new: true, lines };
    let said = build_ups(text, &[base]);
    assert!(!said.contains("toes") && !said.contains("swing"), "{said}");
    assert!(said.contains("a taste at your own weight: 3 tuck-ups, 3 burpees"), "{said}");
}

#[test]
fn every_movement_of_a_build_up_has_steps_that_lead_to_it() {
    for p in &crate::movement::catalogue().progressions {
        for m in &p.movements {
            let n = p.steps.iter().filter(|s| s.leads_to(&[m.as_str()])).count();
            assert!(n >= 2, "{}: {m} has {n}", p.id);
        }
        for m in p.steps.iter().flat_map(|s| &s.only) {
            assert!(p.movements.contains(m), "{}: {m} is none of its movements", p.id);
        }
    }
}

#[test]
fn what_is_held_and_heavy_has_a_lighter_set_first() {
    let held = |w: &WarmUp| -> Vec<String> {
        let own = |s: &&Step| s.name.contains("with the weight of your version");
        w.steps.iter().filter(own).map(|s| s.name.clone()).collect()
    };
    let day = |lines: &str| of(&format!("# workout cap 12:00\n3 rounds for time\n{lines}\n200 m run"), 720);
    let w = day("12 goblet squats 24/16 kg\n10 toes-to-bar");
    assert_eq!(held(&w), ["Goblet squats: 5 with a lighter one, 3 with the weight of your version"]);
    let step = w.steps.iter().find(|s| s.name == held(&w)[0]).unwrap();
    assert!(step.prepares == ["goblet-squat"] && (35..=50).contains(&step.seconds), "{step:?}");
    // what has a build-up of its own ends in the day's weight
    let w = day("12 dumbbell snatches 22.5/15 kg");
    assert!(held(&w).len() == 1 && held(&w)[0].contains("build-up"), "{:?}", held(&w));
    // what is light needs none
    assert!(held(&day("12 goblet squats 8/6 kg\n10 toes-to-bar")).is_empty());
    assert!(held(&day("12 air squats\n10 toes-to-bar")).is_empty());
}

#[test]
fn nothing_that_raised_yesterday_raises_today() {
    let raises: Vec<String> = crate::movement::catalogue()
        .drills
        .iter()
        .filter(|d| d.kind == "raise")
        .map(|d| d.id.clone())
        .collect();
    let (new, old) = raises.split_first().unwrap();
    let w = made(DAY, 600, &[old.to_vec()], &[], &[]);
    let raise: Vec<&str> =
        w.steps.iter().filter(|s| s.part == WarmUpPart::Raise).filter_map(|s| s.drill.as_deref()).collect();
    assert_eq!(raise, [new.as_str()]);
}
