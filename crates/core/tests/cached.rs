//! The same plan whatever is remembered and however many cores work on it.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::kit::Kit;
use lantern_core::plan::{Class, ClassPlan, Decision, Kept, Memo, Options, answer, plan, plan_with};
use lantern_core::roster::{Best, Member, Trial};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::versions::Tier;
use proptest::prelude::*;
use std::collections::HashMap;
use std::sync::Mutex;

const SHEET: &str = "# strength\nfront squat 5 x 3 @ 78-82%, every 2:30\n# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run";

/// Remembers all but every few of what it is given.
struct Patchy {
    every: usize,
    seen: Mutex<(usize, HashMap<String, Kept>)>,
}

impl Memo for Patchy {
    fn find(&self, key: &str) -> Option<Kept> {
        self.seen.lock().unwrap().1.get(key).cloned()
    }

    fn keep(&self, key: String, value: Kept) {
        let mut seen = self.seen.lock().unwrap();
        seen.0 += 1;
        if !seen.0.is_multiple_of(self.every) {
            seen.1.insert(key, value);
        }
    }
}

fn class() -> Class {
    Class {
        members: Member::archetypes(),
        kit: Kit::usual(),
        date: "2026-11-24".parse().unwrap(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    }
}

fn options() -> Options {
    Options { runs: 30, ..Options::default() }
}

/// Everything that a page or a file shows of a plan.
fn shown(p: &ClassPlan) -> String {
    let pace: Vec<_> =
        p.workouts.iter().map(|w| format!("{:?}{:?}{:?}", w.pace, w.splits, w.kit_notes)).collect();
    format!("{}{pace:?}", serde_json::to_string(&answer(p)).unwrap())
}

fn decision() -> impl Strategy<Value = Decision> {
    let ids: Vec<String> = Member::archetypes().into_iter().map(|m| m.id).collect();
    let member = prop::sample::select(ids);
    let tier = prop::sample::select(Tier::ALL.to_vec());
    prop_oneof![
        3 => (member.clone(), tier).prop_map(|(member, tier)| Decision::Version { block: 1, member, tier }),
        1 => any::<bool>().prop_map(|drop| Decision::SuggestAgain { block: 1, drop }),
        1 => member.prop_map(|member| Decision::Load { block: 0, member, by_kg: -2.5 }),
        1 => prop::sample::select(vec!["cut-reps", "change-movement", "cut-time"])
            .prop_map(|o| Decision::School { school: "what-to-scale".into(), option: Some(o.into()) }),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 6, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_memo_never_changes_a_plan(decisions in prop::collection::vec(decision(), 1..5), every in 2usize..6) {
        let (sheet, class, settings) = (read(SHEET).sheet, class(), Settings::default());
        let memo = Patchy { every, seen: Mutex::default() };
        for n in 0..=decisions.len() {
            let so_far = &decisions[..n];
            let with = plan_with(&sheet, &class, &settings, so_far, options(), &memo);
            let without = plan(&sheet, &class, &settings, so_far, options());
            prop_assert_eq!(shown(&with), shown(&without));
        }
    }
}

#[test]
fn one_core_or_two_give_the_same_plan() {
    let (sheet, class, settings) = (read(SHEET).sheet, class(), Settings::default());
    let on = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new().num_threads(threads).build().unwrap();
        pool.install(|| shown(&plan(&sheet, &class, &settings, &[], options())))
    };
    assert_eq!(on(1), on(2));
    let other = Options { seed: 2, ..options() };
    assert_ne!(on(1), shown(&plan(&sheet, &class, &settings, &[], other)), "another seed is another plan");
}

#[test]
fn what_is_remembered_of_one_class_is_not_taken_for_another() {
    let mut first = class();
    for (i, m) in first.members.iter_mut().enumerate() {
        let date = "2026-11-01".parse().ok();
        m.trials = vec![Trial { test: "row-2000".into(), seconds: 420.0 + 20.0 * i as f64, date }];
        m.unbroken = vec![Best { movement: "toes-to-bar".into(), reps: 6.0 + i as f64, date }];
    }
    let changes: [fn(&mut Class, &mut Settings); 6] = [
        |c, _| c.date = "2028-11-24".parse().unwrap(),
        |c, _| c.members.reverse(),
        |c, _| c.members[3].body_mass_kg = Some(101.0),
        |c, _| c.kit.bars.clear(),
        |_, s| s.schools.insert("what-to-scale".into(), "change-movement".into()).map_or((), drop),
        |_, s| s.schools.insert("set-breaking".into(), "singles".into()).map_or((), drop),
    ];
    let sheet = read(SHEET).sheet;
    let memo = Patchy { every: usize::MAX, seen: Mutex::default() };
    let before = shown(&plan_with(&sheet, &first, &Settings::default(), &[], options(), &memo));
    for (i, change) in changes.iter().enumerate() {
        let (mut class, mut settings) = (first.clone(), Settings::default());
        change(&mut class, &mut settings);
        let with = shown(&plan_with(&sheet, &class, &settings, &[], options(), &memo));
        assert!(with == shown(&plan(&sheet, &class, &settings, &[], options())), "change {i} was forgotten");
        assert!(i == 4 || with != before, "change {i} changes nothing: the test shows nothing");
    }
}
