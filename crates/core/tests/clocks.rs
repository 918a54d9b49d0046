//! Laws of every clock of the sheet language, from the text to the run: more work never scores better with the same
//! strategy, a longer window never less, the clock is kept, nothing is lost on the way, the same seed gives the same bytes.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::kit::Kit;
use lantern_core::pacing::{
    Athlete, Did, Level, Policy, Run, Scored, Workout, best_pacing, simulate, simulate_tasks, tasks_for,
};
use lantern_core::plan::{Class, Options, answer, plan};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::{Severity, read};
use lantern_core::units::Standard;
use lantern_core::versions::{Work, compile};
use proptest::prelude::*;

/// Clocks with room for `{n}` reps of work and `{t}` seconds.
const CLOCKS: [&str; 12] = [
    "3 rounds for time\n{work}",
    "for time\n{work}\nthen\n2 rounds for time\n{work}",
    "for time\n{work}\nrest 1:00\nfor time\n{work}",
    "amrap {t} s\n{work}",
    "amrap {t} s\nbuy-in: 200 m run\n{work}",
    "intervals {t} s on / 40 s off x 3\n{work}\nmax cal row",
    "intervals {t} s on / 40 s off x 3\n{work}",
    "4 rounds for time\nbuy-in: 100 m run\n{work}\nafter round 1: 100 m run\neach round add 2 burpees\ncash-out: 10 sit-ups",
    "for time\n{work}\n{work}\non every minute: 3 burpees",
    "for time\n{work}\n{work}\non every break: 4 air squats",
    "pairs, share the reps\nfor time\n{work}",
    "pairs, alternate rounds\n4 rounds for time\n{work}",
];

fn text(clock: &str, n: u32, load: u32, t: u32) -> String {
    let work = format!("{n} thrusters {load} kg\n{n} kb swings 16 kg\n{n} air squats");
    format!("# workout\n{}\n", clock.replace("{work}", &work).replace("{t}", &t.to_string()))
}

fn compiled(text: &str, a: &Athlete) -> (Work, Workout) {
    let reading = read(text);
    assert!(reading.problems.iter().all(|p| p.severity != Severity::Error), "{text}: {:?}", reading.problems);
    let work = Work::from_block(&reading.sheet.blocks[0]).unwrap();
    let workout = compile(&work, Standard::Heavier, a, None);
    (work, workout)
}

/// The same strategy for all: nothing is planned anew.
fn hot(text: &str, a: &Athlete) -> (Run, Scored) {
    let (_, w) = compiled(text, a);
    (simulate(&w, a, &Policy { hot: true, ..Policy::default() }, false, true), w.scored)
}

fn athlete() -> impl Strategy<Value = Athlete> {
    prop::sample::select(vec![Level::Regular, Level::Seasoned, Level::Competitive])
        .prop_map(|l| Athlete::of_level(Standard::Heavier, l))
}

/// How far a result may be better by the luck of where a break falls.
const LUCK: f64 = 0.03;

fn not_better(more: &Run, less: &Run, scored: Scored) -> bool {
    let (m, l) = (more.score(scored), less.score(scored));
    match scored {
        Scored::Time => !l.is_finite() || m >= l * (1.0 - LUCK),
        _ => m <= l * (1.0 + LUCK) + 1.0,
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn heavier_is_never_better_on_any_clock(
        c in prop::sample::select(CLOCKS.to_vec()), n in 4u32..12, a in athlete(), t in 90u32..240,
    ) {
        let ((less, s), (more, _)) = (hot(&text(c, n, 25, t), &a), hot(&text(c, n, 40, t), &a));
        prop_assert!(not_better(&more, &less, s), "{c}: {} then {}", less.score(s), more.score(s));
    }

    #[test]
    fn more_reps_are_never_faster_where_time_counts(
        c in prop::sample::select(CLOCKS.to_vec()), n in 4u32..12, a in athlete(),
    ) {
        let ((less, s), (more, _)) = (hot(&text(c, n, 25, 120), &a), hot(&text(c, n + 3, 25, 120), &a));
        prop_assume!(s == Scored::Time);
        prop_assert!(more.time >= less.time * (1.0 - LUCK), "{c}: {} then {}", less.time, more.time);
    }

    #[test]
    fn a_longer_window_never_scores_less_on_any_open_clock(
        c in prop::sample::select(CLOCKS.to_vec()), n in 4u32..12, a in athlete(), t in 90u32..240,
    ) {
        let ((short, s), (long, _)) = (hot(&text(c, n, 25, t), &a), hot(&text(c, n, 25, t + 40), &a));
        prop_assume!(s != Scored::Time);
        prop_assert!(long.score(s) >= short.score(s) * (1.0 - LUCK) - 1.0, "{c}: {} then {}", short.score(s), long.score(s));
    }

    #[test]
    fn a_fitter_member_is_never_worse_on_any_clock(
        c in prop::sample::select(CLOCKS.to_vec()), n in 4u32..12, a in athlete(),
    ) {
        let fitter = Athlete {
            engine: a.engine * 1.1,
            one_rm: a.one_rm.map(|k| k * 1.1),
            unbroken: a.unbroken.map(|r| r * 1.1),
            ..a.clone()
        };
        let (_, w) = compiled(&text(c, n, 30, 150), &a);
        let (slow, fast) = (best_pacing(&w, &a, 2).1, best_pacing(&w, &fitter, 2).1);
        prop_assert!(not_better(&slow, &fast, w.scored), "{c}: {} then {}", slow.score(w.scored), fast.score(w.scored));
    }

    #[test]
    fn a_trace_fills_the_clock_without_gaps(
        c in prop::sample::select(CLOCKS.to_vec()), n in 4u32..12, a in athlete(), t in 90u32..240,
    ) {
        let (_, w) = compiled(&text(c, n, 30, t), &a);
        prop_assume!(w.team.is_none()); // of a team one member's part is traced
        let tasks = tasks_for(&w, &a, &[]);
        let run = simulate_tasks(&w, &a, &tasks, &Policy::default(), false, true);
        let mut clock = 0.0;
        for s in &run.trace {
            prop_assert!((s.from - clock).abs() < 1e-3, "{c}: a gap at {clock}: {s:?}");
            clock = s.to;
        }
        prop_assert!((clock - run.time).abs() < 1e-3, "{c}: ends at {clock} of {}", run.time);
        let worked: f64 = run.trace.iter().filter(|s| s.did == Did::Work).map(|s| s.units).sum();
        prop_assert!(worked >= run.reps - 1e-6, "{c}: counted work is work");
    }

    #[test]
    fn the_same_seed_gives_the_same_bytes_on_any_clock(c in prop::sample::select(CLOCKS.to_vec()), seed in 1u64..99) {
        let sheet = read(&text(c, 8, 30, 150)).sheet;
        let class = Class {
            members: Member::archetypes().into_iter().take(3).collect(),
            kit: Kit::usual(),
            date: "2026-11-24".parse().unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let options = Options { runs: 12, seed, ..Options::default() };
        let once = || serde_json::to_string(&answer(&plan(&sheet, &class, &Settings::default(), &[], options))).unwrap();
        let one_core = rayon::ThreadPoolBuilder::new().num_threads(1).build().unwrap();
        let all = once();
        prop_assert_eq!(&all, &once());
        prop_assert_eq!(&all, &one_core.install(once));
    }
}

#[test]
fn every_structure_does_what_its_line_says() {
    let a = Athlete::of_level(Standard::Heavier, Level::Seasoned);
    let reps = |text: &str| {
        let (_, w) = compiled(&format!("# workout\n{text}"), &a);
        let run = simulate(&w, &a, &Policy::default(), false, true);
        assert!(run.done, "{text}");
        let of = |id: &str| -> f64 {
            let row = lantern_core::pacing::table::index(id).unwrap();
            let slot = w.tasks.iter().position(|(r, _)| *r == row);
            run.trace.iter().filter(|s| s.did == Did::Work && Some(s.slot) == slot).map(|s| s.units).sum()
        };
        (of("burpee"), of("air-squat"), run)
    };
    // 5, 7, 9 and 5 each; two rounds bring 1 + 2 times 3 more
    let (burpees, squats, run) =
        reps("3 rounds for time\n5 burpees, +2 each round\n5 air squats\neach round add 3 air squats");
    assert_eq!((burpees, squats, run.rounds), (21.0, 15.0 + 9.0, 3));
    let (burpees, squats, _) = reps("9-6-3 for time\nburpees\nafter round 2: 20 air squats");
    assert_eq!((burpees, squats), (18.0, 20.0));
    let (burpees, squats, run) =
        reps("buy-in: 10 air squats\n2 rounds for time\n5 burpees\nrest 1:00\ncash-out: 7 air squats");
    assert_eq!((burpees, squats), (10.0, 17.0));
    let rest: f64 = run.trace.iter().filter(|s| s.did == Did::Rest).map(|s| s.to - s.from).sum();
    assert!((rest - 60.0).abs() < 1e-6, "one rest between two rounds, none after the last: {rest}");
    let (burpees, squats, run) =
        reps("emom 6 alternating\nminute 1: 6 burpees\nminute 2: 12 air squats\nminute 3: rest");
    assert_eq!((burpees, squats, run.rounds), (12.0, 24.0, 6));
    let (burpees, squats, run) = reps("every 1:30 x 4\n6 burpees\n8 air squats");
    assert_eq!((burpees, squats, run.rounds), (24.0, 32.0, 4));
    let (burpees, squats, run) = reps("for time\n40 burpees\non every minute: 5 air squats");
    assert_eq!(burpees, 40.0);
    let minutes = squats / 5.0;
    // the rep in hand as the minute turns is finished first, and may be the last
    assert!(
        minutes * 60.0 <= run.time && run.time < (minutes + 1.0) * 60.0 + 4.0,
        "{minutes} in {}",
        run.time
    );
    let (burpees, squats, _) = reps("stations 0:40 on / 0:20 off, 2 rounds\nburpees\nair squats");
    assert!(burpees > 10.0 && squats > 30.0, "{burpees} {squats}");
    let (burpees, _, run) = reps("0:20 on / 0:10 off x 3\nburpees");
    assert!(burpees > 9.0 && (run.time - 80.0).abs() < 1e-6 && run.rounds == 3);
}
