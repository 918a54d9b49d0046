//! The simulator against the same laws written down plainly: named workouts and random ones, all model members, within a
//! hundredth of a per cent.
#![allow(clippy::unwrap_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly
#![allow(clippy::too_many_lines)] // the laws stand in one piece, as they are told

mod plain;

use lantern_core::pacing::{
    Amount, Athlete, Level, Node, Policy, Scored, Shared, Station, Workout, settle, simulate_partners, table,
    tasks_for,
};
use lantern_core::units::Standard;
use rand::{Rng, SeedableRng};
use rand_pcg::Pcg64Mcg;

fn members() -> Vec<Athlete> {
    Level::ALL.into_iter().flat_map(|l| Standard::BOTH.map(|s| Athlete::of_level(s, l))).collect()
}

fn task(w: &mut Workout, id: &str, n: f64, load: f64) -> Node {
    let slot = w.slot(table::index(id).unwrap(), load);
    Node::Task(Amount::of(slot, n))
}

fn agree(what: &str, got: f64, want: f64) {
    assert!((got - want).abs() <= 1e-4 * want.abs().max(1.0), "{what}: {got}, plainly {want}");
}

/// The settled run of both, and how many members could do it at all.
fn compare(what: &str, w: &Workout) -> usize {
    let mut able = 0;
    for (i, a) in members().iter().enumerate() {
        let plain = plain::settle(w, a);
        let (_, run) = settle(w, a, &tasks_for(w, a, &[]), &Policy::default());
        let what = format!("{what}, member {i}");
        assert_eq!(run.stuck, plain.stuck, "{what}");
        if plain.stuck {
            continue;
        }
        able += 1;
        agree(&what, run.time, plain.t);
        if plain::score(w, &plain).is_finite() {
            agree(&what, run.score(w.scored), plain::score(w, &plain));
        }
        assert_eq!(run.set_count, plain.sets, "{what}");
        assert!((run.engine_left - plain.w).abs() < 0.01, "{what}: {} {}", run.engine_left, plain.w);
    }
    able
}

#[test]
fn what_is_done_once_and_in_rounds() {
    let mut w = Workout::new(Scored::Time);
    let body = vec![
        task(&mut w, "run", 400.0, 0.0),
        task(&mut w, "kb-swing", 21.0, 24.0),
        task(&mut w, "pull-up", 12.0, 0.0),
    ];
    w.body = vec![Node::Rounds { n: 3, rest: 0.0, body }];
    // nobody new and of the lighter standard has a pull-up
    assert_eq!(compare("three rounds", &w), 7);
    let mut w = Workout::new(Scored::Time);
    let body = vec![task(&mut w, "row", 500.0, 0.0), task(&mut w, "thruster", 15.0, 30.0)];
    w.body = vec![Node::Rounds { n: 3, rest: 120.0, body }];
    compare("rounds with a rest", &w);
    let mut w = Workout::new(Scored::Time);
    w.body = vec![
        task(&mut w, "row-cal", 50.0, 0.0),
        task(&mut w, "kb-swing", 50.0, 24.0),
        task(&mut w, "double-under", 50.0, 0.0),
        task(&mut w, "deadlift", 30.0, 70.0),
        task(&mut w, "wall-walk", 5.0, 0.0),
        task(&mut w, "farmers-carry", 100.0, 32.0),
        task(&mut w, "plank", 60.0, 0.0),
        task(&mut w, "bike", 20.0, 0.0),
    ];
    compare("a long list", &w);
}

#[test]
fn open_clocks_stations_and_cycles() {
    let mut w = Workout::new(Scored::Reps);
    let body = vec![
        task(&mut w, "pull-up", 6.0, 0.0),
        task(&mut w, "push-up", 9.0, 0.0),
        task(&mut w, "air-squat", 12.0, 0.0),
    ];
    w.body = vec![Node::Amrap { t: 1080.0, buy_in: Vec::new(), body }];
    compare("an open list", &w);
    let mut w = Workout::new(Scored::Reps);
    let items = [("wall-ball", 6.0), ("kb-swing", 24.0), ("row-cal", 0.0), ("box-jump", 0.0)]
        .into_iter()
        .map(|(id, load)| Station {
            work: Some(Amount { n: None, ..Amount::of(w.slot(table::index(id).unwrap(), load), 1.0) }),
        })
        .collect();
    w.body = vec![Node::Stations { on: 60.0, off: 30.0, rounds: 3, items, each: false }];
    compare("stations", &w);
    let mut w = Workout::new(Scored::Margin);
    let body = vec![task(&mut w, "power-clean", 5.0, 35.0), task(&mut w, "burpee", 6.0, 0.0)];
    w.body = vec![Node::Every { t: 120.0, n: 8, body }];
    compare("cycles", &w);
}

#[test]
fn interruptions_penalties_and_partners() {
    let mut w = Workout::new(Scored::Time);
    let (it, body) =
        (vec![task(&mut w, "burpee", 3.0, 0.0)], vec![task(&mut w, "clean-and-jerk", 30.0, 30.0)]);
    w.body = vec![Node::Interrupt { every: 60.0, at_zero: false, task: it, body }];
    compare("interrupted", &w);
    let mut w = Workout::new(Scored::Time);
    let (it, body) = (vec![task(&mut w, "air-squat", 10.0, 0.0)], vec![task(&mut w, "push-up", 60.0, 0.0)]);
    w.body = vec![Node::Penalty { on: Vec::new(), task: it, body }];
    compare("penalties", &w);
    let all = members();
    let mut w = Workout::new(Scored::Time);
    let body = vec![
        task(&mut w, "row", 250.0, 0.0),
        task(&mut w, "burpee", 10.0, 0.0),
        task(&mut w, "kb-swing", 15.0, 16.0),
    ];
    w.team = Some((2, vec![Shared::Alternate { n: Some(8), t: None, body }]));
    let mut s = Workout::new(Scored::Time);
    let tasks = [("wall-ball", 100.0, 6.0), ("sit-up", 100.0, 0.0), ("burpee", 50.0, 0.0)]
        .map(|(id, n, load)| (Amount::of(s.slot(table::index(id).unwrap(), load), n), 10.0))
        .to_vec();
    s.team = Some((2, vec![Shared::Switch { t: None, tasks }]));
    for pair in all.windows(2) {
        let pair = [&pair[0], &pair[1]];
        agree("rounds in turn", simulate_partners(&w, &pair).time, plain::together(&w, &pair));
        agree("reps in turn", simulate_partners(&s, &pair).time, plain::together(&s, &pair));
    }
}

/// Movements with a usual count and load.
const WORK: [(&str, f64, f64); 16] = [
    ("thruster", 12.0, 30.0),
    ("power-clean", 9.0, 40.0),
    ("deadlift", 12.0, 70.0),
    ("back-squat", 8.0, 60.0),
    ("push-press", 10.0, 30.0),
    ("wall-ball", 20.0, 6.0),
    ("kb-swing", 18.0, 20.0),
    ("db-snatch", 12.0, 15.0),
    ("pull-up", 8.0, 0.0),
    ("push-up", 10.0, 0.0),
    ("sit-up", 20.0, 0.0),
    ("air-squat", 25.0, 0.0),
    ("burpee", 10.0, 0.0),
    ("double-under", 30.0, 0.0),
    ("row", 300.0, 0.0),
    ("run", 200.0, 0.0),
];

#[test]
fn random_workouts() {
    let mut able = 0;
    for seed in 0..60u64 {
        let mut rng = Pcg64Mcg::seed_from_u64(seed);
        let open = rng.random_bool(0.4);
        let mut w = Workout::new(if open { Scored::Reps } else { Scored::Time });
        let body: Vec<Node> = (0..rng.random_range(1..5))
            .map(|_| {
                let (id, n, load) = WORK[rng.random_range(0..WORK.len())];
                let n = (n * rng.random_range(0.5..1.5)).round().max(1.0);
                task(&mut w, id, n, (load * rng.random_range(0.7..1.2)).round())
            })
            .collect();
        let n = rng.random_range(1..6);
        let rest = if rng.random_bool(0.3) { 60.0 } else { 0.0 };
        w.body = vec![if open {
            Node::Amrap { t: f64::from(rng.random_range(4..16)) * 60.0, buy_in: Vec::new(), body }
        } else {
            Node::Rounds { n, rest, body }
        }];
        able += compare(&format!("seed {seed}"), &w);
    }
    assert!(able > 350, "only {able} of 480 runs could be compared");
}
