//! How much of a plan is chance: the same class and sheet under ten seeds. Printed, and held to a bound: what is shown to a coach
//! must not hang on the draw.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use honest_lantern::demo;
use lantern_core::plan::{ClassPlan, Options, plan};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::versions::Line;

/// Below this chance of the window a member is marked on the page.
const AMBER: f64 = 0.35;
const SEEDS: u64 = 10;

fn lines(p: &ClassPlan, i: usize) -> Vec<String> {
    p.workouts[0].placed[i].work.lines.iter().map(Line::text).collect()
}

#[test]
fn a_plan_hardly_hangs_on_its_seed() {
    let class = demo::everybody(NaiveDate::from_ymd_opt(2026, 11, 24).unwrap());
    let (mut versions, mut changed, mut amber, mut spread, mut n) = (0.0, 0.0, 0.0, Vec::new(), 0);
    for text in demo::weeks_sheets().into_iter().take(6) {
        let sheet = read(text).sheet;
        let plans: Vec<ClassPlan> = (1..=SEEDS)
            .map(|seed| {
                plan(&sheet, &class, &Settings::default(), &[], Options { seed, ..Options::default() })
            })
            .collect();
        if plans[0].workouts.is_empty() {
            continue;
        }
        let members = plans[0].workouts[0].placed.len();
        n += members;
        for i in 0..members {
            let of = |p: &ClassPlan| p.workouts[0].placed[i].predicted.prediction.on_stimulus;
            let chances: Vec<f64> = plans.iter().map(of).collect();
            let mean = chances.iter().sum::<f64>() / SEEDS as f64;
            let var = chances.iter().map(|c| (c - mean).powi(2)).sum::<f64>() / SEEDS as f64;
            spread.push(100.0 * var.sqrt());
            for p in &plans[1..] {
                let share = 1.0 / (SEEDS - 1) as f64;
                let tier = |p: &ClassPlan| p.workouts[0].placed[i].tier;
                versions += share * f64::from(u8::from(tier(p) != tier(&plans[0])));
                changed += share * f64::from(u8::from(lines(p, i) != lines(&plans[0], i)));
                amber += share * f64::from(u8::from((of(p) < AMBER) != (of(&plans[0]) < AMBER)));
            }
        }
    }
    let sd = spread.iter().sum::<f64>() / spread.len() as f64;
    println!(
        "of {n} places, on average from one seed to another: version changes {versions:.1}, lines change {changed:.1}, amber {amber:.1}; sd of the \
         chance {sd:.2} points"
    );
    assert_eq!(n, 144);
    assert!(versions <= 1.0 && changed <= 3.0 && amber <= 6.0 && sd <= 2.0);
}
