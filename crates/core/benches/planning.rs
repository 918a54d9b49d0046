//! Cost of the core: one simulation, one range, one search of versions, reading a sheet. Figures in docs/performance.md.
#![allow(missing_docs, clippy::unwrap_used, clippy::indexing_slicing)]

use criterion::{Criterion, criterion_group, criterion_main};
use lantern_core::kit::Kit;
use lantern_core::loads::Bars;
use lantern_core::pacing::{
    Amount, Athlete, Known, Level, Node, Policy, Scored, Workout, forecast, settle, simulate_tasks, table,
    tasks_for,
};
use lantern_core::roster::{Ability, Member, ability};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::stimulus::infer;
use lantern_core::units::{Provenance, Standard};
use lantern_core::versions::{Work, make};
use rayon::prelude::*;
use std::hint::black_box;

/// 300 reps: 10 rounds of 10 thrusters, 10 pull-ups and 10 air squats.
fn three_hundred() -> Workout {
    let mut w = Workout::new(Scored::Time);
    let body = [("thruster", 30.0), ("pull-up", 0.0), ("air-squat", 0.0)]
        .map(|(id, load)| {
            let slot = w.slot(table::index(id).unwrap(), load);
            Node::Task(Amount::of(slot, 10.0))
        })
        .to_vec();
    w.body = vec![Node::Rounds { n: 10, rest: 0.0, body }];
    w
}

fn simulation(c: &mut Criterion) {
    let (w, a) = (three_hundred(), Athlete::of_level(Standard::Heavier, Level::Seasoned));
    let tasks = tasks_for(&w, &a, &[]);
    let (policy, _) = settle(&w, &a, &tasks, &Policy::default());
    c.bench_function("one run of 300 reps", |b| {
        b.iter(|| black_box(simulate_tasks(&w, &a, &tasks, &policy, false, false)));
    });
    let known = Known::all(Provenance::Estimated);
    c.bench_function("a range of 200 runs of 300 reps", |b| {
        b.iter(|| black_box(forecast(&w, &a, &known, &policy, 200, 1)));
    });
}

/// A bare loop with the arithmetic that a rep cannot do without, for a machine-free ratio: one exponential, one
/// division, a few products, for each of 300 reps and three reserves.
fn bare_loop(c: &mut Criterion) {
    c.bench_function("a bare loop of 300 x 3 events", |b| {
        b.iter(|| {
            let mut r = [1.0f64; 3];
            for i in 0..300 {
                let x = 0.04 + f64::from(i) * 1e-6;
                for v in &mut r {
                    *v = (1.0 - (1.0 - *v) * (-x / (2.0 - *v)).exp() - 0.02 * *v).max(0.0);
                }
            }
            black_box(r)
        });
    });
}

/// A class of 20 over 200 runs each, on all cores.
fn class_of_twenty(c: &mut Criterion) {
    let w = three_hundred();
    let members: Vec<(Athlete, Policy)> = (0..20)
        .map(|i| {
            let level = Level::ALL[i % 3 + 1];
            let a = Athlete::of_level(if i % 2 == 0 { Standard::Heavier } else { Standard::Lighter }, level);
            let policy = settle(&w, &a, &tasks_for(&w, &a, &[]), &Policy::default()).0;
            (a, policy)
        })
        .collect();
    let known = Known::all(Provenance::Estimated);
    c.bench_function("ranges of 20 members, 200 runs of 300 reps each", |b| {
        b.iter(|| {
            let all: Vec<f64> = members
                .par_iter()
                .map(|(a, policy)| forecast(&w, a, &known, policy, 200, 1).quantile(0.5))
                .collect();
            black_box(all)
        });
    });
}

fn search(c: &mut Criterion) {
    let text = "# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run\nsets: power clean <= 2";
    let block = read(text).sheet.blocks[0].clone();
    let work = Work::from_block(&block).unwrap();
    let stimulus = infer(&block, &work);
    let members = Member::archetypes();
    let day = "2026-11-24".parse().unwrap();
    let abilities: Vec<Ability> = members.iter().map(|m| ability(m, day)).collect();
    let class: Vec<(&Member, &Ability)> = members.iter().zip(&abilities).collect();
    let kit = Kit::usual();
    let (bars, settings) = (Bars::of(&kit), Settings::default());
    c.bench_function("three versions of a workout", |b| {
        b.iter(|| black_box(make(&work, &stimulus, &class, &kit, &bars, &settings)));
    });
    let many = "12 power clean 60/42.5 kg\n".repeat(5000);
    c.bench_function("a sheet of 5,000 lines", |b| b.iter(|| black_box(read(&many))));
}

criterion_group!(benches, bare_loop, simulation, class_of_twenty, search);
criterion_main!(benches);
