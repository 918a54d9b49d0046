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
    let w = of("# warm-up 8:00\n400 m run\n# strength\nbench press 5 x 5 @ 75%", 480);
    assert_eq!(w.steps.len(), 1);
    assert_eq!(
        (w.steps[0].part, w.steps[0].name.as_str(), w.steps[0].seconds),
        (Part::Written, "400 m run", 480)
    );
    assert!(w.missing.contains(&"shoulder".to_owned()), "{:?}", w.missing);
}

#[test]
fn an_empty_day_has_an_empty_warm_up() {
    assert!(of("", 600).movements.is_empty());
}
