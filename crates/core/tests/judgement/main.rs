//! Whole plans judged as a coach would judge them: for a sheet and a class, what must be true of every version and member. The
//! cases are data; those that are marked open do not hold yet, and a test says so when one of them does.
#![allow(clippy::unwrap_used, clippy::indexing_slicing, clippy::panic)] // a test may fail loudly

mod checks;
mod members;
mod rules;
mod strength;
mod versions;
mod why;

use checks::{Case, Cases, Planned};

fn cases() -> Cases {
    serde_json::from_str(include_str!("cases.json")).unwrap()
}

/// Checks of a case that fail, each with what it found.
fn failures(cases: &Cases, case: &Case) -> Vec<String> {
    let p = Planned::of(cases, case);
    let one = |c: &checks::Check| {
        let found = p.judge(c);
        (!found.is_empty()).then(|| format!("{c:?}: {:?}", &found[..found.len().min(4)]))
    };
    case.checks.iter().filter_map(one).collect()
}

#[test]
fn every_case_holds_as_a_coach_would_have_it() {
    let all = cases();
    let mut bad = Vec::new();
    for case in all.cases.iter().filter(|c| !c.open) {
        let found = failures(&all, case);
        if !found.is_empty() {
            bad.push(format!("{}:\n  {}", case.title, found.join("\n  ")));
        }
    }
    assert!(bad.is_empty(), "{}", bad.join("\n"));
}

#[test]
fn a_case_that_holds_is_not_marked_open() {
    let all = cases();
    for case in all.cases.iter().filter(|c| c.open) {
        assert!(!failures(&all, case).is_empty(), "{} holds: take the mark away", case.title);
    }
}
