//! What a warm-up must keep: its time, its order, the day's demand.

use super::*;
use crate::kit::Kit;
use crate::sheet::read;

const DAY: &str = "# strength\nfront squat 5 x 3 @ 80%\n# workout cap 14:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run";

fn of(text: &str, seconds: u32) -> WarmUp {
    warm_up(&read(text).sheet, seconds, &Kit::usual(), &[], &[])
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
    let sheet = read(DAY).sheet;
    let swapped = warm_up(&sheet, 600, &Kit::usual(), &[], std::slice::from_ref(&drill));
    assert!(swapped.steps.iter().all(|s| s.drill.as_ref() != Some(&drill)));
    let all: Vec<String> = first.steps.iter().filter_map(|s| s.drill.clone()).collect();
    let next = warm_up(&sheet, 600, &Kit::usual(), &all, &[]);
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
    assert!(w.steps.iter().all(|s| s.part == Part::Written));
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
        w.steps.into_iter().filter(|s| s.part == Part::Rehearse).map(|s| s.name).collect::<Vec<_>>()
    };
    let (short, long) = (named(240), named(900));
    let steps =
        |n: &[String]| n[0].split_once(": ").unwrap().1.split(", ").map(str::to_owned).collect::<Vec<_>>();
    let (short, long) = (steps(&short), steps(&long));
    assert!(short.len() >= 3 && long.len() > short.len(), "{short:?} {long:?}");
    assert_eq!(short.last().unwrap(), "3 front squats at working speed with two thirds of the weight");
    assert!(long.ends_with(&short), "the front is cut: {short:?} of {long:?}");
}

#[test]
fn an_empty_day_has_an_empty_warm_up() {
    assert!(of("", 600).movements.is_empty());
}
