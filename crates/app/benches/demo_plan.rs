//! Cost of whole demo plans: this evening's class of 14, a class of 20, and the same 20 after one decision with everything that it does
//! not touch remembered.
#![allow(missing_docs, clippy::unwrap_used, clippy::indexing_slicing)]

use criterion::{BatchSize, Criterion, criterion_group, criterion_main};
use honest_lantern::demo;
use lantern_core::plan::{Class, ClassPlan, Decision, Input, Kept, Key, Memo, Options, PlanOf, plan};
use lantern_core::settings::Settings;
use lantern_core::sheet::{Sheet, read};
use lantern_core::versions::Tier;
use std::collections::{BTreeMap, HashMap};
use std::hint::black_box;
use std::sync::Mutex;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// The allocator of the program.
#[global_allocator]
static ALLOCATOR: mimalloc::MiMalloc = mimalloc::MiMalloc;

/// Keeps everything until it is closed; then it only gives.
#[derive(Default)]
struct Closing(Mutex<HashMap<Key, Kept>>, AtomicBool);

impl Memo for Closing {
    fn find(&self, key: Key) -> Option<Kept> {
        self.0.lock().unwrap().get(&key).cloned()
    }

    fn keep(&self, key: Key, value: Kept) {
        if !self.1.load(Ordering::Relaxed) {
            self.0.lock().unwrap().insert(key, value);
        }
    }
}

/// Times what is made, by kind: a memo that remembers nothing.
#[derive(Default)]
struct Watch(Mutex<(Vec<Instant>, BTreeMap<&'static str, Duration>)>);

impl Memo for Watch {
    fn find(&self, _: Key) -> Option<Kept> {
        self.0.lock().unwrap().0.push(Instant::now());
        None
    }

    fn keep(&self, key: Key, _: Kept) {
        let mut watch = self.0.lock().unwrap();
        if let Some(from) = watch.0.pop() {
            *watch.1.entry(key.kind).or_default() += from.elapsed();
        }
    }
}

fn plan_with(
    sheet: &Sheet,
    class: &Class,
    settings: &Settings,
    decisions: &[Decision],
    memo: &dyn Memo,
) -> ClassPlan {
    PlanOf { sheet, class, settings, decisions, options: Options::default() }.make(memo).unwrap()
}

/// Prints where the time of a plan of 20 goes, on one core so that nothing is counted twice.
fn profile(sheet: &Sheet, class: &Class, settings: &Settings) {
    let pool = rayon::ThreadPoolBuilder::new().num_threads(1).build().unwrap();
    let watch = Watch::default();
    let from = Instant::now();
    pool.install(|| black_box(plan_with(sheet, class, settings, &[], &watch)));
    let whole = from.elapsed();
    println!("profile of a plan of {} members on one core, {whole:.0?} in all", class.members.len());
    let kinds = watch.0.into_inner().unwrap().1;
    let known: Duration = kinds.values().sum();
    for (kind, t) in kinds.iter().map(|(k, t)| (*k, *t)).chain([("the rest", whole.saturating_sub(known))]) {
        println!("  {kind}: {t:.1?}, {:.0} %", 100.0 * t.as_secs_f64() / whole.as_secs_f64());
    }
}

fn whole(c: &mut Criterion) {
    let day = "2026-11-24".parse().unwrap();
    let sheet = read(demo::todays_sheet()).sheet;
    let class = demo::todays_class(day);
    let all = demo::everybody(day);
    let twenty = Class { members: all.members.iter().take(20).cloned().collect(), ..all };
    let settings = Settings::default();
    profile(&sheet, &twenty, &settings);
    let mut group = c.benchmark_group("demo");
    group.sample_size(20);
    group.bench_function("the whole demo plan", |b| {
        b.iter(|| black_box(plan(&sheet, &class, &settings, &[], Options::default())));
    });
    group.bench_function("a plan of 20 members", |b| {
        b.iter(|| black_box(plan(&sheet, &twenty, &settings, &[], Options::default())));
    });
    let memo = Closing::default();
    plan_with(&sheet, &twenty, &settings, &[], &memo);
    memo.1.store(true, Ordering::Relaxed);
    let block = sheet.blocks.iter().position(|b| b.on_the_clock()).unwrap();
    let mut turn = 0;
    group.bench_function("20 members after one is moved", |b| {
        b.iter_batched(
            || {
                turn += 1;
                let member = twenty.members[turn % 20].id.clone();
                vec![Decision::Version { block, member, tier: Tier::ALL[turn % 3] }]
            },
            |d| black_box(plan_with(&sheet, &twenty, &settings, &d, &memo)),
            BatchSize::SmallInput,
        );
    });
    let member = twenty.members[3].id.clone();
    let load = [Decision::Load { block: 0, member, by_kg: -2.5 }];
    group.bench_function("20 members after a weight is changed", |b| {
        b.iter(|| black_box(plan_with(&sheet, &twenty, &settings, &load, &memo)));
    });
    group.finish();
}

criterion_group!(benches, whole);
criterion_main!(benches);
