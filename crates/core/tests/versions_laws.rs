//! Laws of versions and places that hold for any workout, class and hall.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::kinds::Limit;
use lantern_core::kit::Kit;
use lantern_core::movement::catalogue;
use lantern_core::pacing::Level;
use lantern_core::plan::{Class, ClassPlan, Decision, Options, plan};
use lantern_core::reason::OfLine;
use lantern_core::roster::{Member, Session};
use lantern_core::schools::Question;
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::{Standard, WeightUnit};
use lantern_core::versions::{GUARDS, Line, Tier, Versions, bound, kit_has, too_early_to_swing, volume};
use proptest::prelude::*;

/// What the workouts are made of; `{}` stands for the reps.
const LINES: [&str; 14] = [
    "{} pull-ups",
    "{} toes-to-bar",
    "{} push-ups",
    "{} air squats",
    "{} power clean 60/42.5 kg",
    "{} thrusters 40/27.5 kg",
    "{} overhead kettlebell swings 24/16 kg",
    "{} wall-balls 9/6 kg",
    "{} box jumps 60/50 cm",
    "{} burpees",
    "{} handstand push-ups",
    "{} dumbbell push press 2 x 20/12.5 kg",
    "{} box step-ups 50/50 cm",
    "{} double-unders",
];

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

fn sheet() -> impl Strategy<Value = String> {
    let lines = prop::collection::vec((0usize..LINES.len(), 4u32..26), 2..4);
    let clock = prop_oneof![
        (2u32..6).prop_map(|n| format!("cap 14:00 target 6:00-10:00\n{n} rounds for time")),
        Just("target 4-6 rounds\namrap 12:00".to_owned()),
        Just("cap 20:00\nfor time".to_owned()),
        Just("\nevery 2:00 x 6".to_owned()),
    ];
    (clock, lines).prop_map(|(clock, lines)| {
        let lines: Vec<String> =
            lines.into_iter().map(|(i, n)| LINES[i].replace("{}", &n.to_string())).collect();
        format!("# workout {clock}\n{}", lines.join("\n"))
    })
}

fn member() -> impl Strategy<Value = Member> {
    let level = prop::sample::select(Level::ALL.to_vec());
    let limits = prop::collection::vec(prop::sample::select(Limit::ALL.to_vec()), 0..2);
    let log = prop::option::of((1i64..27, 5f64..120.0));
    (level, any::<bool>(), limits, 150u32..196, log, 0u32..1000).prop_map(
        |(level, heavier, limits, cm, log, n)| {
            let standard = if heavier { Standard::Heavier } else { Standard::Lighter };
            let mut m = Member::unknown(&format!("m{n}"), standard, level);
            m.stature_cm = Some(f64::from(cm));
            m.limits = limits;
            m.sessions_logged = Some(u32::from(log.is_some()));
            if let Some((ago, reps)) = log {
                let date = day() - chrono::Duration::days(ago);
                m.last_session = Some(date);
                m.sessions =
                    vec![Session { date, reps: GUARDS.iter().map(|g| (g.id.to_owned(), reps)).collect() }];
            }
            m
        },
    )
}

/// The hall's answers, each question at random.
fn settings() -> impl Strategy<Value = Settings> {
    prop::collection::vec(0usize..4, Question::ALL.len()).prop_map(|picks| {
        let mut s = Settings::default();
        for (id, pick) in Question::ALL.iter().zip(picks) {
            let school = catalogue().schools.iter().find(|s| s.id == *id).unwrap();
            s.schools.insert(id.word().to_owned(), school.options[pick % school.options.len()].id.clone());
        }
        s
    })
}

fn planned(text: &str, members: Vec<Member>, settings: &Settings, decisions: &[Decision]) -> ClassPlan {
    let class = Class {
        members,
        kit: Kit::usual(),
        date: day(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    plan(&read(text).sheet, &class, settings, decisions, Options { runs: 20, ..Options::default() })
}

/// A line below another: the same movement with no more of it and no more weight, or a lower rung.
fn not_harder(made: &Versions, i: usize, above: &Line, below: &Line) -> bool {
    if above.movement == below.movement && above.variant == below.variant {
        let counts = above.counts.iter().zip(&below.counts).all(|(a, b)| b[0] <= a[0] && b[1] <= a[1]);
        let loads = above.kg().zip(below.kg()).is_none_or(|(a, b)| b[0] <= a[0] && b[1] <= a[1]);
        return counts && loads;
    }
    let rung = |l: &Line| {
        made.levers.ways[i].iter().position(|w| {
            w.movement == l.movement
                && (w.variant == l.variant || (w.variant.is_none() && l.variant.is_none()))
        })
    };
    match (rung(above), rung(below)) {
        (Some(a), Some(b)) => b > a,
        // a line written with a variant of its own is the first
        (None, Some(b)) => b > 0,
        _ => false,
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn no_version_is_harder_in_any_line_than_the_one_above(text in sheet(), s in settings()) {
        let p = planned(&text, Member::archetypes(), &s, &[]);
        let made = p.workouts[0].made.as_ref().unwrap();
        for pair in made.list.windows(2) {
            for (i, (a, b)) in pair[0].work.lines.iter().zip(&pair[1].work.lines).enumerate() {
                prop_assert!(not_harder(made, i, a, b), "{} then {} in\n{text}", a.text(), b.text());
            }
            prop_assert!(pair[1].work.rounds() <= pair[0].work.rounds());
        }
    }

    #[test]
    fn hard_limits_are_never_traded(text in sheet(), m in member(), s in settings(), pick in 0usize..4) {
        let id = m.id.clone();
        let moved = Tier::ALL.get(pick).map(|tier| Decision::Version { block: 0, member: id, tier: *tier });
        let p = planned(&text, vec![m.clone()], &s, &moved.into_iter().collect::<Vec<_>>());
        let placed = &p.workouts[0].placed[0];
        let athlete = &p.abilities[0].athlete;
        for l in &placed.work.lines {
            let movement = catalogue().movement(&l.movement).unwrap();
            let settle = placed.personal.iter().any(|x| x.reasons.iter().any(|r| matches!(r, OfLine::NothingSuits { .. })));
            prop_assert!(m.limit_against(&movement.avoid_with).is_none() || settle, "{} for {:?}\n{text}", l.text(), m.limits);
            prop_assert!(kit_has(&Kit::usual(), &l.movement));
            // strict before swung, unless nothing strict of the ladder is in the hall
            let early = too_early_to_swing(athlete, &l.movement, &s).is_some();
            prop_assert!(!early || l.movement == "handstand-push-up" || l.movement == "bar-muscle-up", "{}", l.text());
        }
        let done = volume(&placed.work, m.standard, None);
        for g in &GUARDS {
            let (Some(n), Some(most)) = (done.get(g.id), bound(&m, g, day())) else { continue };
            // one rep of each line in each round is the least there is
            let least = (placed.work.rounds() * placed.work.lines.len()) as f64;
            prop_assert!(*n <= most.most.max(least) + 0.5, "{} {n} of {}\n{text}", g.id, most.most);
        }
        for x in &placed.personal {
            prop_assert!(!x.says(WeightUnit::Kg).is_empty() && !x.text.is_empty());
        }
    }

    #[test]
    fn what_the_coach_chose_is_kept_until_it_is_dropped(text in sheet(), who in 0usize..8, pick in 0usize..3) {
        let (members, tier) = (Member::archetypes(), Tier::ALL[pick]);
        let moved = Decision::Version { block: 0, member: members[who].id.clone(), tier };
        let of = |more: &[Decision]| {
            let all: Vec<Decision> = std::iter::once(moved.clone()).chain(more.iter().cloned()).collect();
            planned(&text, members.clone(), &Settings::default(), &all)
        };
        let again = |drop| Decision::SuggestAgain { block: 0, drop };
        let kept = of(&[again(false)]);
        prop_assert_eq!((kept.workouts[0].placed[who].tier, kept.workouts[0].placed[who].moved), (tier, true));
        let dropped = of(&[again(true)]);
        prop_assert!(dropped.workouts[0].placed.iter().all(|p| !p.moved));
    }
}

#[test]
fn versions_are_made_round_those_whom_the_coach_put_there() {
    let text = "# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n400 m run";
    let members = Member::archetypes();
    let moved: Vec<Decision> = members
        .iter()
        .filter(|m| m.level == Level::New)
        .map(|m| Decision::Version { block: 0, member: m.id.clone(), tier: Tier::Trim })
        .collect();
    let plain = planned(text, members.clone(), &Settings::default(), &moved);
    let mut again = moved.clone();
    again.push(Decision::SuggestAgain { block: 0, drop: false });
    let round = planned(text, members, &Settings::default(), &again);
    let trim = |p: &ClassPlan| p.workouts[0].versions[1].clone();
    assert!(trim(&round).made_for.contains("whom you put here"), "{}", trim(&round).made_for);
    assert_ne!(trim(&plain).work, trim(&round).work, "a move alone leaves the versions as they are");
}

#[test]
fn a_hall_that_lifts_fixed_loads_keeps_them_in_trim() {
    let text = "# workout cap 12:00 target 6:00-9:00\n4 rounds for time\n12 deadlift 110/75 kg\n10 burpees";
    let mut fixed = Settings::default();
    fixed.schools.insert("load-choice".into(), "fixed".into());
    let p = planned(text, Member::archetypes(), &fixed, &[]);
    let v = &p.workouts[0].versions;
    assert_eq!(v[0].work.lines[0].kg(), v[1].work.lines[0].kg());
    let chosen = planned(text, Member::archetypes(), &Settings::default(), &[]);
    assert_ne!(
        chosen.workouts[0].versions[2].work.lines[0].kg(),
        Some([110.0, 75.0]),
        "the lighter tier is lighter"
    );
}

#[test]
fn the_halls_way_of_breaking_sets_changes_what_is_advised_and_not_how_fast_anybody_is() {
    let text = "# workout cap 16:00 target 6:00-12:00\n3 rounds for time\n15 thrusters 40/30 kg\n15 pull-ups";
    let of = |option: &str| {
        let mut s = Settings::default();
        s.schools.insert("set-breaking".into(), option.into());
        let p = planned(text, Member::archetypes(), &s, &[]);
        let w = &p.workouts[0];
        let fast: Vec<[f64; 9]> = w.placed.iter().map(|p| p.predicted.prediction.deciles).collect();
        (fast, w.splits.clone())
    };
    let (singles, even) = (of("singles"), of("even-on-clock"));
    assert_eq!(singles.0, even.0);
    assert_ne!(singles.1, even.1);
    let first = |s: &[lantern_core::versions::Splits]| s[2].lines[0].sets.clone();
    assert!(first(&singles.1).iter().all(|n| *n == 1.0), "{:?}", first(&singles.1));
    assert!(first(&even.1).iter().all(|n| *n > 1.0), "{:?}", first(&even.1));
}

#[test]
fn every_school_changes_something_for_somebody() {
    let texts = [
        "# workout cap 16:00 target 9:00-13:00\n4 rounds for time\n5 muscle-ups\n15 push-ups\n40 double-unders\n12 box jumps 60/50 cm",
        "# workout cap 14:00 target 3:00-10:00\n3 rounds for time\n4 pull-ups\n10 air squats",
        "# workout cap 14:00 target 7:00-10:00\n4 rounds for time\n12 pull-ups\n12 deadlift 110/75 kg\n10 burpees",
        "# workout cap 12:00 target 5:00-7:00\n5 rounds for time\n9 thrusters 60/42.5 kg\n9 burpees",
        "# workout cap 14:00 target 2:00-8:00\n3 rounds for time\n2 muscle-ups\n10 air squats",
        "# workout cap 12:00 target 5:00-7:00\n4 rounds for time\n30 push-ups\n15 air squats",
    ];
    let members = || {
        let mut all = Member::archetypes();
        all.iter_mut().for_each(|m| m.sessions_logged = Some(40));
        // strong enough to pull without a muscle-up yet
        for m in all.iter_mut().filter(|m| m.level == Level::Regular) {
            // and one who swings without a strict one
            let pulls = if m.standard == Standard::Heavier { 15.0 } else { 5.0 };
            for (movement, reps) in [("pull-up", pulls), ("chest-to-bar", 0.6 * pulls), ("muscle-up", 0.0)] {
                m.unbroken.push(lantern_core::roster::Best { movement: movement.into(), reps, date: None });
            }
        }
        all
    };
    let shown = |s: &Settings| {
        let of = |t: &&str| {
            let p = planned(t, members(), s, &[]);
            let w = &p.workouts[0];
            let lines: Vec<Vec<String>> =
                w.placed.iter().map(|p| p.work.lines.iter().map(Line::text).collect()).collect();
            let p50: Vec<f64> = w.placed.iter().map(|p| p.predicted.prediction.p50()).collect();
            format!("{lines:?}{p50:?}{:?}{}{:?}", w.splits, p.warm_up.how, p.warm_up.steps)
        };
        texts.iter().map(of).collect::<String>()
    };
    let usual = shown(&Settings::default());
    // answers that need a lift or a variant are tried where those are
    for id in Question::ALL
        .iter()
        .filter(|id| ![Question::PercentageBase, Question::DailyHeavy, Question::SingleDumbbell].contains(id))
    {
        let school = catalogue().schools.iter().find(|s| s.id == *id).unwrap();
        let changes = school.options.iter().filter(|o| o.id != school.default).any(|o| {
            let mut s = Settings::default();
            s.schools.insert(id.word().to_owned(), o.id.clone());
            shown(&s) != usual
        });
        assert!(changes, "{id:?} changes nothing");
    }
}
