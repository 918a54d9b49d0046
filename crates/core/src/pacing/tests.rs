//! Reference figures of the model, from a second, plain implementation of its laws in another language that shares no line
//! with this one; agreement within 0.01 per cent is held. Laws that must hold for any input are in `tests/laws.rs`.

use super::reserve::{cost_for, deep_reps, recover, reps_between};
use super::*;
use crate::units::Standard::{Heavier, Lighter};

fn close(got: f64, want: f64) {
    assert!((got - want).abs() <= 1e-4 * want.abs().max(1e-3), "got {got}, want {want}");
}

#[test]
fn closed_forms_of_a_reserve() {
    close(recover(0.8, 1.1, 1.5), 0.317_286_664_346);
    close(reps_between(0.1, 0.7, 1.0, 0.05, 0.02), 13.502_489_700_24);
    close(deep_reps(0.2, 0.9, 0.0, 0.05, 0.02), 10.971_207_710_77);
    close(cost_for(2.0, 3.0, 0.0, 1.0), 0.410_206_990_479);
    close(cost_for(15.0, 2.0, 0.4, 1.0), 0.059_665_786_269);
    close(cost_for(100.0, 3.0, 0.0, 1.0), 0.020_834_736_817);
}

#[test]
fn a_rest_solves_its_own_equation_from_short_to_very_long() {
    for (i, d0) in [1e-6, 0.01, 0.1, 0.35, 0.7, 1.0].into_iter().enumerate() {
        for x in [0.02, 0.0999, 0.1, 0.3, 0.9, 2.0, 4.5, 9.0, 30.0] {
            let a = 1.0 + 0.1 * i as f64;
            let d = recover(d0, a, x);
            let short = if x < 0.1 { 2e-3 } else { 1e-7 };
            let left = a * (d0 / d).ln() + super::params::BETA * (d0 - d) - x;
            assert!(left.abs() < short * x.max(1.0), "d0 {d0} a {a} x {x}: off by {left}");
        }
    }
}

#[test]
fn splitting_a_rest_changes_nothing() {
    let whole = recover(0.7, 1.2, 2.0);
    close(recover(recover(0.7, 1.2, 0.9), 1.2, 1.1), whole);
}

fn task(athlete: &Athlete, id: &str, load: f64) -> Task {
    resolve(athlete, table::index(id).expect("row"), load, 1.0, 0).expect("task")
}

#[test]
fn movements_at_a_load() {
    let regular = Athlete::of_level(Heavier, Level::Regular);
    let t = task(&regular, "thruster", 43.0);
    close(t.cycle, 2.523_787_679);
    close(t.energy, 4.726_829_268);
    close(t.uses[0].cost, 0.056_468_215);
    close(t.most, 16.656_627_907);
    close(t.share, 0.649_399_682_85);
    let swing = task(&Athlete::of_level(Heavier, Level::Competitive), "kb-swing", 24.0);
    close(swing.uses[0].cost, 0.014_280_978_798);
    close(swing.most, 119.914_062_5);
    let c2b = task(&Athlete::of_level(Lighter, Level::Seasoned), "chest-to-bar", 0.0);
    close(c2b.uses[0].cost, 0.110_226_734);
    close(c2b.most, 7.75);
    let row = task(&Athlete::of_level(Lighter, Level::Regular), "row", 0.0);
    close(row.cycle, 5.887_681_159_4);
    close(row.display, 689.219_721_218);
}

struct Build(Workout);

impl Build {
    fn new(scored: Scored) -> Build {
        Build(Workout::new(scored))
    }
    fn t(&mut self, id: &str, n: f64, load: f64) -> Node {
        let slot = self.0.slot(table::index(id).expect("row"), load);
        Node::Task(if n > 0.0 { Amount::of(slot, n) } else { Amount::by_scheme(slot) })
    }
    fn slot(&mut self, id: &str, load: f64) -> usize {
        self.0.slot(table::index(id).expect("row"), load)
    }
    fn with(mut self, body: Vec<Node>) -> Workout {
        self.0.body = body;
        self.0
    }
}

fn couplet(first: f64, id: &str, load: f64, other: &str) -> Workout {
    let mut b = Build::new(Scored::Time);
    let body = vec![b.t(id, 0.0, load), b.t(other, 0.0, 0.0)];
    b.with(vec![Node::Scheme { reps: vec![first, 15.0, 9.0], body }])
}

fn settled(w: &Workout, a: &Athlete) -> (Policy, Run) {
    settle(w, a, &tasks_for(w, a, &[]), &Policy::default())
}

fn check(w: &Workout, a: &Athlete, time: f64, score: f64, sets: u32, engine_left: f64) {
    let (_, run) = settled(w, a);
    close(run.time, time);
    close(run.reps + run.part, score);
    assert_eq!(run.set_count, sets);
    close(run.engine_left, engine_left);
}

#[test]
fn a_couplet_for_time_paced_hot_capped_and_with_forced_sets() {
    let a = Athlete::of_level(Heavier, Level::Regular);
    let mut w = couplet(21.0, "thruster", 43.0, "pull-up");
    check(&w, &a, 454.891_385_107, 90.0, 23, 36.508_966_833);
    let hot = Policy { hot: true, ..Policy::default() };
    let run = simulate(&w, &a, &hot, false, false);
    close(run.time, 487.829_347_107);
    assert_eq!(run.set_count, 13);
    w.cap = Some(360.0);
    let capped = simulate(&w, &a, &hot, true, false);
    assert!(!capped.done);
    close(capped.reps, 68.0);
    close(capped.engine_left, 53.569_560_608);
    let forced = |plan| Policy { force: Some(Force { slot: Some(0), plan }), ..Policy::default() };
    let sizes = SetPlan::Sizes { sizes: vec![8.0, 7.0, 6.0], theta: 0.05 };
    close(simulate(&w, &a, &forced(sizes), false, false).time, 492.995_519_409);
    let clock = SetPlan::Clock { size: 7.0, every: 45.0 };
    close(simulate(&w, &a, &forced(clock), false, false).time, 465.982_477_518);
}

#[test]
fn as_many_rounds_as_possible() {
    let mut b = Build::new(Scored::Reps);
    let body = vec![b.t("pull-up", 6.0, 0.0), b.t("push-up", 9.0, 0.0), b.t("air-squat", 12.0, 0.0)];
    let w = b.with(vec![Node::Amrap { t: 1080.0, buy_in: Vec::new(), body }]);
    let a = Athlete::of_level(Heavier, Level::Regular);
    check(&w, &a, 1080.0, 444.186_499_592, 64, 36.452_182_137);
    assert_eq!(settled(&w, &a).1.rounds, 16);
    let (_, best) = best_pacing(&w, &a, 2);
    close(best.reps + best.part, 466.468_062_433);
}

#[test]
fn runs_rows_and_rounds_with_rests() {
    let mut b = Build::new(Scored::Time);
    let body = vec![b.t("run", 400.0, 0.0), b.t("kb-swing", 21.0, 24.0), b.t("pull-up", 12.0, 0.0)];
    let w = b.with(vec![Node::Rounds { n: 3, rest: 0.0, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Seasoned), 596.858_535_892, 1299.0, 12, 4.761_915_946);
    let mut b = Build::new(Scored::Time);
    let body = vec![b.t("row", 2000.0, 0.0)];
    let w = b.with(body);
    check(&w, &Athlete::of_level(Heavier, Level::Competitive), 413.156_105_157, 2000.0, 1, 9.863_463_314);
    check(&w, &Athlete::of_level(Lighter, Level::Regular), 571.650_128_039, 2000.0, 1, 5.136_550_298);
    let mut b = Build::new(Scored::Time);
    let body = vec![b.t("row", 500.0, 0.0), b.t("thruster", 15.0, 40.0)];
    let w = b.with(vec![Node::Rounds { n: 3, rest: 120.0, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Seasoned), 704.078_663_688, 1545.0, 6, 4.849_978_223);
}

#[test]
fn long_single_movements_and_chippers() {
    let mut b = Build::new(Scored::Time);
    let body = vec![b.t("wall-ball", 150.0, 6.0)];
    let w = b.with(body);
    check(&w, &Athlete::of_level(Lighter, Level::Seasoned), 576.365_337_835, 150.0, 9, 75.259_116_818);
    let mut b = Build::new(Scored::Time);
    let body = vec![
        b.t("row-cal", 50.0, 0.0),
        b.t("kb-swing", 50.0, 24.0),
        b.t("double-under", 50.0, 0.0),
        b.t("deadlift", 30.0, 100.0),
        b.t("wall-walk", 5.0, 0.0),
        b.t("farmers-carry", 100.0, 48.0),
        b.t("plank", 60.0, 0.0),
        b.t("bike", 20.0, 0.0),
    ];
    let w = b.with(body);
    check(&w, &Athlete::of_level(Lighter, Level::Competitive), 900.231_579_214, 365.0, 20, 59.274_456_561);
}

#[test]
fn ladders_stations_and_windows() {
    let regular = Athlete::of_level(Heavier, Level::Regular);
    let mut b = Build::new(Scored::Reps);
    let body = vec![b.t("thruster", 0.0, 35.0), b.t("pull-up", 0.0, 0.0)];
    let ladder = Node::Ladder { start: 3.0, step: 3.0, n: 1_000_000, body };
    let w = b.with(vec![Node::Amrap { t: 420.0, buy_in: Vec::new(), body: vec![ladder] }]);
    check(&w, &regular, 420.0, 106.562_956_088, 21, 16.595_322_073);
    // the same, each line rising by itself
    let mut b = Build::new(Scored::Reps);
    let body = ["thruster", "pull-up"]
        .map(|id| {
            let slot = b.slot(id, if id == "thruster" { 35.0 } else { 0.0 });
            Node::Task(Amount { rise: 3.0, ..Amount::of(slot, 3.0) })
        })
        .to_vec();
    let w = b.with(vec![Node::Amrap { t: 420.0, buy_in: Vec::new(), body }]);
    check(&w, &regular, 420.0, 106.562_956_088, 21, 16.595_322_073);
    let mut b = Build::new(Scored::Reps);
    let items = ["wall-ball", "kb-swing", "row-cal", "box-jump"]
        .into_iter()
        .zip([9.0, 24.0, 0.0, 0.0])
        .map(|(id, load)| Station { work: Some(Amount { n: None, ..Amount::of(b.slot(id, load), 1.0) }) })
        .collect();
    let w = b.with(vec![Node::Stations { on: 60.0, off: 30.0, rounds: 3, items, each: false }]);
    check(&w, &regular, 1050.0, 235.702_815_882, 16, 36.699_797_686);
    let run = settled(&w, &regular).1;
    assert!(run.lowest < 235.8 / 3.0 && run.lowest > 60.0, "the lowest of three rounds: {}", run.lowest);
    let mut b = Build::new(Scored::Reps);
    let buy_in = vec![b.t("run", 400.0, 0.0)];
    let max = Some(Amount::of(b.slot("burpee", 0.0), 1.0));
    let w = b.with(vec![Node::Windows { n: 5, on: 180.0, off: 60.0, buy_in, body: Vec::new(), max }]);
    check(&w, &Athlete::of_level(Heavier, Level::Seasoned), 1140.0, 106.805_294_548, 10, 3.190_549_91);
}

#[test]
fn rounds_with_fixed_rests() {
    let mut b = Build::new(Scored::Time);
    let body = vec![
        b.t("pull-up", 15.0, 0.0),
        b.t("push-up", 25.0, 0.0),
        b.t("sit-up", 35.0, 0.0),
        b.t("air-squat", 45.0, 0.0),
    ];
    let w = b.with(vec![Node::Rounds { n: 4, rest: 150.0, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Seasoned), 1_260.100_519_631, 480.0, 18, 67.644_299_909);
}

#[test]
fn cycles_on_the_clock() {
    let mut b = Build::new(Scored::Margin);
    let body = vec![b.t("power-clean", 6.0, 60.0), b.t("burpee", 8.0, 0.0)];
    let w = b.with(vec![Node::Every { t: 120.0, n: 8, body }]);
    let seasoned = Athlete::of_level(Heavier, Level::Seasoned);
    check(&w, &seasoned, 889.641_792_731, 112.0, 16, 60.786_916_97);
    let run = settled(&w, &seasoned).1;
    close(run.margin, 70.358_207_269);
    assert_eq!(run.rounds, 8);
    let mut b = Build::new(Scored::Reps);
    let body = vec![b.t("thruster", 0.0, 40.0)];
    let w = b.with(vec![Node::UntilFailure { t: 60.0, start: 1.0, step: 1.0, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Regular), 600.0, 9.8, 12, 49.474_658_692);
    // the same, the line rising by itself
    let mut b = Build::new(Scored::Reps);
    let body = vec![Node::Task(Amount { rise: 1.0, ..Amount::of(b.slot("thruster", 40.0), 1.0) })];
    let w = b.with(vec![Node::UntilFailure { t: 60.0, start: 0.0, step: 0.0, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Regular), 600.0, 9.8, 12, 49.474_658_692);
}

#[test]
fn lines_in_turn_have_the_rest_of_their_minute() {
    let mut b = Build::new(Scored::Margin);
    let items = vec![vec![b.t("burpee", 8.0, 0.0)], Vec::new(), vec![b.t("kb-swing", 15.0, 24.0)]];
    let w = b.with(vec![Node::Alternating { t: 60.0, n: 6, items }]);
    let run = settled(&w, &Athlete::of_level(Heavier, Level::Regular)).1;
    assert_eq!((run.rounds, run.reps), (6, 46.0));
    assert!(run.margin > 15.0 && run.margin < 45.0, "{}", run.margin);
}

#[test]
fn partners_and_teams() {
    let (first, second) =
        (Athlete::of_level(Heavier, Level::Regular), Athlete::of_level(Lighter, Level::Seasoned));
    let pair = [&first, &second];
    let mut b = Build::new(Scored::Time);
    let body = vec![b.t("row", 250.0, 0.0), b.t("burpee", 10.0, 0.0), b.t("kb-swing", 15.0, 16.0)];
    let mut w = b.with(Vec::new());
    w.team = Some((2, vec![Shared::Alternate { n: Some(8), t: None, body }]));
    let run = simulate_partners(&w, &pair);
    close(run.time, 1_153.553_668_291);
    assert_eq!((run.turns, run.each.iter().sum::<f64>()), (8, 2200.0));
    let mut b = Build::new(Scored::Time);
    let tasks = [("wall-ball", 100.0, 6.0), ("sit-up", 100.0, 0.0), ("pull-up", 50.0, 0.0)]
        .map(|(id, n, load)| (Amount::of(b.slot(id, load), n), 10.0))
        .to_vec();
    let mut w = b.with(Vec::new());
    w.team = Some((2, vec![Shared::Switch { t: None, tasks }]));
    let run = simulate_partners(&w, &pair);
    close(run.time, 572.017_659_947);
    assert_eq!((run.turns, run.each.iter().sum::<f64>()), (25, 250.0));
    let mut b = Build::new(Scored::Time);
    let slots = [40.0, 50.0, 60.0, 70.0, 80.0].map(|kg| b.slot("clean-and-jerk", kg)).to_vec();
    let mut w = b.with(Vec::new());
    w.team = Some((2, vec![Shared::Ladder { slots, reps: 3.0, change: 30.0 }]));
    let run = simulate_partners(&w, &pair);
    close(run.time, 307.603_338_816);
    assert_eq!((run.turns, run.best.as_slice()), (7, [70.0, 60.0].as_slice()));
}

#[test]
fn interruptions_and_penalties() {
    let mut b = Build::new(Scored::Time);
    let (task, body) = (vec![b.t("burpee", 3.0, 0.0)], vec![b.t("clean-and-jerk", 50.0, 50.0)]);
    let w = b.with(vec![Node::Interrupt { every: 60.0, at_zero: false, task, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Regular), 578.348_393_252, 50.0, 21, 52.684_220_973);
    let mut b = Build::new(Scored::Time);
    let (task, body) = (vec![b.t("air-squat", 10.0, 0.0)], vec![b.t("pull-up", 100.0, 0.0)]);
    let w = b.with(vec![Node::Penalty { on: Vec::new(), task, body }]);
    check(&w, &Athlete::of_level(Heavier, Level::Seasoned), 469.278_930_238, 100.0, 29, 40.424_465_105);
}

#[test]
fn the_best_pacing_is_found() {
    let w = couplet(21.0, "thruster", 43.0, "pull-up");
    let (policy, run) = best_pacing(&w, &Athlete::of_level(Heavier, Level::Regular), 2);
    close(run.time, 414.351_141_304);
    assert_eq!((policy.sigma, policy.theta, policy.lead), (1.0, 0.1, 0.0));
}

#[test]
fn time_trials_set_the_engine() {
    let regular = Athlete::of_level(Heavier, Level::Regular);
    let a = fit_tests(&regular, Some(470.0), Some(260.0));
    close(a.engine, 1.138_365_727);
    close(a.run_cost, 0.368_172_537);
    close(fit_tests(&regular, None, Some(260.0)).engine, 1.035_798_383);
}

#[test]
fn a_range_is_as_wide_as_what_is_not_known() {
    let (w, a) = (couplet(21.0, "thruster", 43.0, "pull-up"), Athlete::of_level(Heavier, Level::Regular));
    let (policy, run) = best_pacing(&w, &a, 2);
    let at = |p| forecast(&w, &a, &Known::all(p), &policy, 2000, 1);
    let width = |f: &Forecast| (f.quantile(0.9) / f.quantile(0.1)).ln();
    let (assumed, tested) = (at(crate::units::Provenance::Assumed), at(crate::units::Provenance::Tested));
    // execution .03, the model .17 and the class's day .10 make .1995 in logarithms; nine deciles span 2.563 of them
    let noise: f64 = 2.563 * 0.1995;
    assert!(width(&tested) > 0.97 * noise && width(&tested) < 1.4 * noise, "{}", width(&tested));
    assert!(width(&assumed) > 1.1 * width(&tested) && width(&assumed) < 2.2 * noise, "{}", width(&assumed));
    // a weak pattern slows the whole: the middle of many lies a little later than the settled run
    let late = tested.quantile(0.5) / run.time;
    assert!((1.0..1.12).contains(&late), "{late}");
    assert_eq!(tested, at(crate::units::Provenance::Tested));
}
