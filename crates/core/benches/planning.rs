//! Cost of the core: one simulation, one range, one search of versions, reading a sheet. Figures in docs/performance.md.
#![allow(missing_docs, clippy::unwrap_used, clippy::indexing_slicing)]

use criterion::{Criterion, criterion_group, criterion_main};
use lantern_core::kit::Kit;
use lantern_core::learning::{Foretold, Format, Group, Held, Learner, Seen};
use lantern_core::loads::{Bars, Floor, Lifter, MemberLift, prescribe, racks};
use lantern_core::pacing::{
    Amount, Athlete, Known, Level, Node, Policy, Scored, Workout, forecast, settle, simulate_tasks, table,
    tasks_for,
};
use lantern_core::roster::{Ability, Max, Member, ability};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::stimulus::infer;
use lantern_core::units::{Provenance, Standard};
use lantern_core::versions::{Room, Work, make};
use rayon::prelude::*;
use std::hint::black_box;

/// The allocator of the program.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

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
        let today = "2026-11-24".parse().unwrap();
        let room = Room { kit: &kit, bars: &bars, settings: &settings, today };
        b.iter(|| black_box(make(&work, &stimulus, &class, &[], room)));
    });
    let many = "12 power clean 60/42.5 kg\n".repeat(5000);
    c.bench_function("a sheet of 5,000 lines", |b| b.iter(|| black_box(read(&many))));
}

/// 24 members of a back squat at 8 racks with 6 climbing sets, by what is known of them.
fn racking(c: &mut Criterion) {
    let kit = Kit::usual();
    let bars = Bars::of(&kit);
    let day = "2026-11-24".parse().unwrap();
    let sets =
        read("# strength\nback squat 6 x 2 @ 70-85%, every 2:30, build").sheet.blocks[0].lifts[0].clone();
    let members: Vec<Member> = (0..24u32)
        .map(|i| {
            let standard = if i % 3 == 0 { Standard::Lighter } else { Standard::Heavier };
            let mut m = Member::unknown(&format!("m{i}"), standard, Level::Regular);
            m.sessions_logged = Some(if i % 7 == 0 { 3 } else { 50 });
            let kg = 60.0 + f64::from((i * 37) % 97);
            m.maxes.push(Max { lift: "back-squat".into(), kg, reps: 1, reserve: 0, date: Some(day) });
            m
        })
        .collect();
    let lifts: Vec<MemberLift> = members
        .iter()
        .map(|m| prescribe(m, &sets, &kit, &bars, &Settings::default(), day).unwrap())
        .collect();
    let lifters: Vec<Lifter> =
        members.iter().zip(&lifts).enumerate().map(|(i, (m, l))| Lifter::of(i, m, l, true)).collect();
    let floor = Floor { racks: 8, per_rack: 3, kit: &kit, clock: Some((150.0, 14.0)) };
    c.bench_function("24 members at 8 racks, 6 sets", |b| b.iter(|| black_box(racks(&lifters, floor, &[]))));
    c.bench_function("weights of 24 members", |b| {
        b.iter(|| {
            let all: Vec<MemberLift> = members
                .iter()
                .filter_map(|m| prescribe(m, &sets, &kit, &bars, &Settings::default(), day))
                .collect();
            black_box(all)
        });
    });
    c.bench_function("every weight of three bars", |b| b.iter(|| black_box(Bars::of(&kit))));
}

/// A class of 24 in a hall of 72 members who trained on 60 days, every third of them each time.
fn learning(c: &mut Criterion) {
    let day = |n: u64| chrono::NaiveDate::from_ymd_opt(2026, 1, 5).unwrap() + chrono::Days::new(n);
    let held = |n: u64| {
        let seen = |i: u64| Seen {
            of: String::new(),
            member: format!("member {i}"),
            foretold: Foretold {
                middle: 600.0,
                better: 0.2,
                worse: 0.25,
                format: Format::ALL[(n % 6) as usize],
                group: Group::ALL[((n + i) % 7) as usize],
            },
            late: 0.1 * ((n * 7 + i * 13) % 11) as f64 / 5.0 - 0.1,
            capped: false,
            left_out: false,
        };
        Held { date: day(n), results: (0..72).filter(|i| (i + n).is_multiple_of(3)).map(seen).collect() }
    };
    let log: Vec<Held> = (0..60).map(held).collect();
    let learner = Learner::of_log(&log, Vec::new(), day(60));
    c.bench_function("a class of 24 learnt, 72 members known", |b| {
        b.iter(|| black_box(learner.clone().learn(&held(61))));
    });
    c.bench_function("what was learnt of a member, ready for forecasts", |b| {
        b.iter(|| black_box(learner.of("member 5", day(61))));
    });
}

criterion_group!(benches, bare_loop, learning, simulation, class_of_twenty, search, racking);
criterion_main!(benches);
