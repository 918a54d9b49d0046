//! Cost of whole demo plans: this evening's class of 14, a class of 20, and the same 20 after one decision with everything that it does
//! not touch remembered.
#![allow(missing_docs, clippy::unwrap_used, clippy::indexing_slicing)]

use criterion::{BatchSize, Criterion, criterion_group, criterion_main};
use honest_lantern::demo;
use lantern_core::plan::{Class, Decision, Kept, Memo, Options, plan, plan_with};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::versions::Tier;
use std::collections::HashMap;
use std::hint::black_box;
use std::sync::Mutex;
use std::sync::atomic::{AtomicBool, Ordering};

/// Keeps everything until it is closed; then it only gives.
#[derive(Default)]
struct Closing(Mutex<HashMap<String, Kept>>, AtomicBool);

impl Memo for Closing {
    fn find(&self, key: &str) -> Option<Kept> {
        self.0.lock().unwrap().get(key).cloned()
    }

    fn keep(&self, key: String, value: Kept) {
        if !self.1.load(Ordering::Relaxed) {
            self.0.lock().unwrap().insert(key, value);
        }
    }
}

fn whole(c: &mut Criterion) {
    let day = "2026-11-24".parse().unwrap();
    let sheet = read(demo::todays_sheet()).sheet;
    let class = demo::todays_class(day);
    let all = demo::everybody(day);
    let twenty = Class { members: all.members.iter().take(20).cloned().collect(), ..all };
    let settings = Settings::default();
    let mut group = c.benchmark_group("demo");
    group.sample_size(20);
    group.bench_function("the whole demo plan", |b| {
        b.iter(|| black_box(plan(&sheet, &class, &settings, &[], Options::default())));
    });
    group.bench_function("a plan of 20 members", |b| {
        b.iter(|| black_box(plan(&sheet, &twenty, &settings, &[], Options::default())));
    });
    let memo = Closing::default();
    plan_with(&sheet, &twenty, &settings, &[], Options::default(), &memo);
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
            |d| black_box(plan_with(&sheet, &twenty, &settings, &d, Options::default(), &memo)),
            BatchSize::SmallInput,
        );
    });
    let member = twenty.members[3].id.clone();
    let load = [Decision::Load { block: 0, member, by_kg: -2.5 }];
    group.bench_function("20 members after a weight is changed", |b| {
        b.iter(|| black_box(plan_with(&sheet, &twenty, &settings, &load, Options::default(), &memo)));
    });
    group.finish();
}

criterion_group!(benches, whole);
criterion_main!(benches);
