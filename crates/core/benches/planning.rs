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

criterion_group!(benches, simulation, search);
criterion_main!(benches);
