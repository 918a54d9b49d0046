//! Cost of the whole demo plan: a class of 14, one strength block, one workout in three searched versions, 200 runs each.
#![allow(missing_docs, clippy::unwrap_used)]

use criterion::{Criterion, criterion_group, criterion_main};
use honest_lantern::demo;
use lantern_core::plan::{Options, plan};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use std::hint::black_box;

fn whole(c: &mut Criterion) {
    let day = "2026-11-24".parse().unwrap();
    let sheet = read(demo::todays_sheet()).sheet;
    let class = demo::todays_class(day);
    let mut group = c.benchmark_group("demo");
    group.sample_size(20);
    group.bench_function("the whole demo plan", |b| {
        b.iter(|| black_box(plan(&sheet, &class, &Settings::default(), &[], Options::default())));
    });
    group.finish();
}

criterion_group!(benches, whole);
criterion_main!(benches);
