//! The same plan whatever is remembered and however many cores work on it.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::kit::Kit;
use lantern_core::pacing::Level;
use lantern_core::plan::{
    Class, ClassPlan, Decision, Input, Kept, Key, Memo, Options, PlanOf, Stopped, answer, plan,
};
use lantern_core::roster::{Best, Member, Trial};
use lantern_core::settings::Settings;
use lantern_core::sheet::{Sheet, read};
use lantern_core::stimulus::Chosen;
use lantern_core::versions::Tier;
use proptest::prelude::*;
use std::collections::HashMap;
use std::sync::Mutex;

const SHEET: &str = "# strength\nfront squat 5 x 3 @ 78-82%, every 2:30\n# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run";

/// Remembers all but every few of what it is given.
struct Patchy {
    every: usize,
    seen: Mutex<(usize, HashMap<Key, Kept>)>,
}

impl Memo for Patchy {
    fn find(&self, key: Key) -> Option<Kept> {
        self.seen.lock().unwrap().1.get(&key).cloned()
    }

    fn keep(&self, key: Key, value: Kept) {
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
        p.workouts.iter().map(|w| format!("{:?}{:?}{:?}", w.pace, w.splits, w.short)).collect();
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

fn with(
    memo: &dyn Memo,
    sheet: &Sheet,
    class: &Class,
    settings: &Settings,
    decisions: &[Decision],
) -> String {
    let of = PlanOf { sheet, class, settings, decisions, options: options() };
    shown(&of.make(memo).unwrap())
}

/// What a coach or an owner may do between two looks at one class.
#[derive(Debug, Clone)]
enum Turn {
    Decide(Decision),
    Date(u64),
    Leave(usize),
    Mass(usize, u8),
    Test(usize, u8),
    Level(usize),
    NoBars,
    FewBalls(u32),
    School(&'static str, &'static str),
    Cap(u32),
}

fn turn() -> impl Strategy<Value = Turn> {
    let window =
        |low: f64| Chosen { low: Some(low), high: Some(low + 180.0), cap_s: None, wishes: Vec::new() };
    let stimulus = move |low: f64| Turn::Decide(Decision::Stimulus { block: 1, chosen: Some(window(low)) });
    prop_oneof![
        3 => decision().prop_map(Turn::Decide),
        1 => (300.0..900.0f64).prop_map(stimulus),
        1 => (1u64..400).prop_map(Turn::Date),
        1 => (0usize..8).prop_map(Turn::Leave),
        1 => (0usize..8, 50u8..120).prop_map(|(i, kg)| Turn::Mass(i, kg)),
        1 => (0usize..8, 1u8..40).prop_map(|(i, reps)| Turn::Test(i, reps)),
        1 => (0usize..8).prop_map(Turn::Level),
        1 => Just(Turn::NoBars),
        1 => (0u32..4).prop_map(Turn::FewBalls),
        1 => prop::sample::select(vec![("what-to-scale", "cut-time"), ("kipping", "strict-first"), ("set-breaking", "singles"), ("percentage-base", "training-max")])
            .prop_map(|(s, o)| Turn::School(s, o)),
        1 => (6u32..20).prop_map(Turn::Cap),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 8, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn a_memo_never_changes_a_plan(turns in prop::collection::vec(turn(), 1..6), every in 2usize..6) {
        let (mut class, mut settings, mut text) = (class(), Settings::default(), SHEET.to_owned());
        let mut decisions: Vec<Decision> = Vec::new();
        let memo = Patchy { every, seen: Mutex::default() };
        for t in turns {
            let at = |i: usize| i % class.members.len();
            match t {
                Turn::Decide(d) => decisions.push(d),
                Turn::Date(days) => class.date = class.date + chrono::Days::new(days),
                Turn::Leave(i) if class.members.len() > 3 => drop(class.members.remove(at(i))),
                Turn::Leave(_) => {}
                Turn::Mass(i, kg) => { let i = at(i); class.members[i].body_mass_kg = Some(f64::from(kg)); }
                Turn::Test(i, reps) => {
                    let date = "2026-11-01".parse().ok();
                    let i = at(i);
                    class.members[i].unbroken = vec![Best { movement: "toes-to-bar".into(), reps: reps.into(), date }];
                }
                Turn::Level(i) => { let i = at(i); class.members[i].level = Level::New; }
                Turn::NoBars => class.kit.bars.clear(),
                Turn::FewBalls(n) => class.kit.balls.iter_mut().for_each(|b| b.count = n),
                Turn::School(s, o) => drop(settings.schools.insert(s.into(), o.into())),
                Turn::Cap(minutes) => text = SHEET.replace("14:00", &format!("{minutes}:00")),
            }
            let sheet = read(&text).sheet;
            let remembered = with(&memo, &sheet, &class, &settings, &decisions);
            let anew = shown(&plan(&sheet, &class, &settings, &decisions, options()));
            prop_assert!(remembered == anew, "{:?}", decisions);
        }
    }
}

/// Somebody who leaves after so many looks of the maker at whether they wait.
struct Leaves {
    after: usize,
    asked: Mutex<usize>,
    of: Patchy,
}

impl Memo for Leaves {
    fn find(&self, key: Key) -> Option<Kept> {
        self.of.find(key)
    }

    fn keep(&self, key: Key, value: Kept) {
        self.of.keep(key, value);
    }

    fn wanted(&self) -> bool {
        let mut asked = self.asked.lock().unwrap();
        *asked += 1;
        *asked <= self.after
    }
}

#[test]
fn a_plan_that_was_given_up_anywhere_is_gone_on_with_and_the_same() {
    let (sheet, class, settings) = (read(SHEET).sheet, class(), Settings::default());
    let of = PlanOf { sheet: &sheet, class: &class, settings: &settings, decisions: &[], options: options() };
    let whole = shown(&of.make(&Patchy { every: usize::MAX, seen: Mutex::default() }).unwrap());
    let (mut memo, mut stopped) = (Patchy { every: usize::MAX, seen: Mutex::default() }, 0);
    loop {
        let leaves = Leaves { after: 5, asked: Mutex::default(), of: memo };
        let made = of.make(&leaves);
        memo = leaves.of;
        match made {
            Ok(plan) => break assert_eq!(shown(&plan), whole),
            Err(Stopped) => stopped += 1,
        }
        assert!(stopped < 50, "each time some of it is kept");
    }
    assert!(stopped >= 3, "it was given up {stopped} times");
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
    let before = with(&memo, &sheet, &first, &Settings::default(), &[]);
    for (i, change) in changes.iter().enumerate() {
        let (mut class, mut settings) = (first.clone(), Settings::default());
        change(&mut class, &mut settings);
        let remembered = with(&memo, &sheet, &class, &settings, &[]);
        assert!(
            remembered == shown(&plan(&sheet, &class, &settings, &[], options())),
            "change {i} was forgotten"
        );
        assert!(i == 4 || remembered != before, "change {i} changes nothing: the test shows nothing");
    }
}
