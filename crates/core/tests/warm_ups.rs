//! Warm-ups over many days: nobody hears the same drill again and again.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::kit::Kit;
use lantern_core::sheet::{BlockKind, Sheet, read};
use lantern_core::warmup::{For, WarmUp, WarmUpPart, warm_up};
use std::collections::HashMap;
use std::path::Path;

/// Sheets of many hands that write no warm-up of their own and have work on a clock.
fn sheets() -> Vec<Sheet> {
    let dir = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/sheets/accepted");
    let mut files: Vec<_> = std::fs::read_dir(dir).unwrap().map(|e| e.unwrap().path()).collect();
    files.sort();
    let read = |p: &std::path::PathBuf| read(&std::fs::read_to_string(p).unwrap()).sheet;
    let open = |s: &Sheet| {
        s.blocks.iter().any(lantern_core::sheet::Block::on_the_clock)
            && s.blocks.iter().all(|b| b.kind != BlockKind::WarmUp)
    };
    files.iter().map(read).filter(open).collect()
}

/// So many days, each with what was done on those before.
fn days(n: usize, seconds: u32) -> Vec<WarmUp> {
    let (all, kit) = (sheets(), Kit::usual());
    let mut lately: Vec<Vec<String>> = Vec::new();
    let mut out = Vec::new();
    for day in 0..n {
        // far apart in the list, so that like sheets do not follow each other
        let sheet = &all[day * 7 % all.len()];
        let w = warm_up(For { sheet, kit: &kit, recent: &lately, avoid: &[], done: &[] }, seconds);
        lately.insert(0, w.steps.iter().filter_map(|s| s.drill.clone()).collect());
        lately.truncate(24);
        out.push(w);
    }
    out
}

fn general(w: &WarmUp) -> impl Iterator<Item = (&str, WarmUpPart)> {
    w.steps
        .iter()
        .filter(|s| matches!(s.part, WarmUpPart::Raise | WarmUpPart::Mobilise | WarmUpPart::Activate))
        .filter_map(|s| Some((s.drill.as_deref()?, s.part)))
}

#[test]
fn fifty_days_are_not_one_day_fifty_times() {
    let all = days(50, 600);
    let mut times: HashMap<&str, usize> = HashMap::new();
    for w in &all {
        general(w).for_each(|(d, _)| *times.entry(d).or_default() += 1);
    }
    let mut most: Vec<(usize, &str)> = times.into_iter().map(|(d, n)| (n, d)).collect();
    most.sort_unstable();
    println!("{:?}", most.iter().rev().take(12).collect::<Vec<_>>());
    assert!(most.last().unwrap().0 <= 16, "{:?}", most.last());
    for pair in all.windows(2) {
        let raise = |w| general(w).filter(|(_, p)| *p == WarmUpPart::Raise).map(|(d, _)| d).collect();
        let (a, b): (Vec<&str>, Vec<&str>) = (raise(&pair[0]), raise(&pair[1]));
        assert!(b.iter().all(|d| !a.contains(d)), "{a:?} and {b:?} the next day");
        assert!(!b.is_empty(), "nothing raises");
    }
}

#[test]
fn what_the_day_loads_is_still_touched_after_weeks() {
    let missing: Vec<usize> = days(50, 600).iter().map(|w| w.missing.len()).collect();
    let share = missing.iter().filter(|n| **n > 0).count();
    println!("{share} of 50 days leave a region that matters");
    assert!(share <= 5, "{missing:?}");
}
