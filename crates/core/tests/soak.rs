//! The reader under a flood of text: no panic, problems inside the text, bounded time. A short one always; a million
//! inputs on request:
//!
//! `cargo test --release -p lantern-core --test soak -- --ignored --nocapture` (`SOAK=100000` for fewer)
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::sheet::{print, read};
use rand::{Rng, RngCore, SeedableRng};
use rand_pcg::Pcg64Mcg;
use rayon::prelude::*;
use std::time::{Duration, Instant};

/// Scraps of the language and of what is pasted around it.
const SCRAPS: [&str; 64] = [
    "# workout",
    "# strength 18:00",
    "metcon",
    "warm-up:",
    "\"",
    "cap 12",
    "target 9-12",
    "3 rounds",
    "for time",
    "21-15-9",
    "amrap",
    "12:00",
    "emom 12",
    "every 2:00 x 8",
    "until failure",
    "alternating",
    "intervals 3:00 on / 1:00 off x 5",
    "stations",
    ":20/:10 x 8",
    "20/10",
    "on",
    "off",
    "x",
    "then",
    "rest",
    "rest 1:00",
    "buy-in:",
    "cash-out:",
    "after round 2:",
    "each round add",
    "minute 1:",
    "on every minute:",
    "on every break:",
    "pairs",
    "share the reps",
    "teams of 3",
    "one works",
    "ladder",
    "20 reps each at 60, 70, 80 kg",
    "build to 5rm in 15:00",
    "5 x 3",
    "@ 78-82% of 1rm",
    "+2 each round",
    "(+1)",
    "12",
    "15/12 cal",
    "400 m",
    "0:30",
    "max",
    "power clean",
    "toes-to-bar",
    "wall balls",
    "row",
    "60/42.5 kg",
    "95#",
    "24/20 in",
    "tempo 3-1-X-0",
    "each side",
    "[",
    "]",
    "(",
    ")",
    ",",
    "🔥",
];

fn input(rng: &mut Pcg64Mcg) -> String {
    let kind: u32 = rng.random_range(0..10);
    if kind == 0 {
        // no text at all
        let mut bytes = vec![0u8; rng.random_range(0..400)];
        rng.fill_bytes(&mut bytes);
        return String::from_utf8_lossy(&bytes).into_owned();
    }
    let mut out = String::new();
    for _ in 0..rng.random_range(1..40) {
        out.push_str(SCRAPS[rng.random_range(0..SCRAPS.len())]);
        out.push(match rng.random_range(0..5) {
            0 | 1 => '\n',
            2 if kind == 1 => char::from_u32(rng.random_range(0..0x3000)).unwrap_or(' '),
            _ => ' ',
        });
    }
    out
}

/// Reads one input; how long it took.
fn soak(seed: u64) -> Duration {
    let text = input(&mut Pcg64Mcg::seed_from_u64(seed));
    let begin = Instant::now();
    let reading = read(&text);
    let took = begin.elapsed();
    let lines: Vec<&str> = text.split('\n').collect();
    for p in &reading.problems {
        let line =
            lines.get(p.line as usize - 1).unwrap_or_else(|| panic!("seed {seed}: {p:?} is on no line"));
        assert!(
            p.column >= 1 && p.column as usize <= line.chars().count() + 1,
            "seed {seed}: {p:?} in {line:?}"
        );
        for i in 0..p.suggestions.len() {
            let _ = p.apply(&text, i);
        }
    }
    let _ = read(&print(&reading.sheet));
    took
}

#[test]
fn two_thousand_inputs_are_read() {
    for seed in 0..2_000 {
        soak(seed);
    }
}

#[test]
#[ignore = "a million inputs take minutes; see the head of this file"]
fn a_million_inputs_are_read_in_bounded_time() {
    let inputs: u64 = std::env::var("SOAK").ok().and_then(|n| n.parse().ok()).unwrap_or(1_000_000);
    // the catalogue and the patterns are made by the first reads: that is no input's own time
    for seed in 0..300 {
        soak(seed);
    }
    let begin = Instant::now();
    let slowest = (0..inputs).into_par_iter().map(|seed| (soak(seed), seed)).max().unwrap();
    println!(
        "{inputs} inputs in {:.0} s; the slowest, seed {}, in {:?}",
        begin.elapsed().as_secs_f64(),
        slowest.1,
        slowest.0
    );
    assert!(slowest.0 < Duration::from_millis(250), "seed {} took {:?}", slowest.1, slowest.0);
}
