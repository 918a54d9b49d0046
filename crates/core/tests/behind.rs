//! Somebody late in the middle of the work: where they end, what is called out to them alone, what is left of their work.
#![allow(clippy::unwrap_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::kit::Kit;
use lantern_core::plan::{
    Behind, Class, ClassPlan, Ends, Mark, NoCut, Options, Passed, Shout, WorkoutPlan, plan,
};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::read;

const ROUNDS: &str = "# workout cap 16:00 target 9:00-13:00\n4 rounds for time\n15 burpees\n200 m run";
const LIST: &str = "# workout cap 25:00 target 14:00-19:00\nfor time\n800 m run\n40 wall-balls 9/6 kg\n30 toes-to-bar\n400 m run";

fn planned(text: &str) -> ClassPlan {
    let class = Class {
        members: Member::archetypes(),
        kit: Kit::usual(),
        date: NaiveDate::from_ymd_opt(2026, 11, 24).unwrap(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    let options = Options { runs: 16, ..Options::default() };
    plan(&read(text).sheet, &class, &Settings::default(), &[], options)
}

fn looks(p: &ClassPlan, i: usize, at_s: f64) -> Result<Vec<Behind>, NoCut> {
    p.workouts[0].behind(i, p.members[i].standard, at_s)
}

/// When a member is on pace at each step, s.
fn ends_of(w: &WorkoutPlan, i: usize) -> Vec<f64> {
    w.splits[i].round_ends.clone()
}

/// The members of whom a pace is known.
fn paced(p: &ClassPlan) -> Vec<usize> {
    let able = |i: &usize| p.workouts[0].placed[*i].predicted.prediction.scale_this.is_none();
    (0..p.members.len()).filter(able).collect()
}

#[test]
fn who_is_late_ends_as_late_in_proportion_and_the_range_is_of_the_rest() {
    let p = planned(ROUNDS);
    let w = &p.workouts[0];
    assert!(paced(&p).len() >= 5);
    for i in paced(&p) {
        let steps = ends_of(w, i);
        let r = &w.placed[i].predicted.prediction;
        let at = steps[0] * 1.2;
        let first = looks(&p, i, at).unwrap().into_iter().find(|b| b.passed.steps == 1).unwrap();
        assert_eq!((first.at.clone(), first.passed), (Mark::Round(1), Passed { steps: 1, at_s: at }));
        assert!((first.on_pace_s - steps[0]).abs() < 1e-9);
        // a fifth late at round 1 is a fifth late at the end: by hand
        let Ends { low, middle, high } = first.stays;
        let end = steps.last().unwrap();
        assert!((middle - 1.2 * end).abs() < 1e-6, "{middle} {end}");
        let rest = middle - at;
        assert!((low - (at + rest * r.p10() / r.p50())).abs() < 1e-6 && low < middle);
        assert!((high - (at + rest * r.p90() / r.p50())).abs() < 1e-6 && high > middle);
    }
}

#[test]
fn what_is_called_out_brings_them_inside_and_takes_that_share_of_the_rest() {
    let p = planned(ROUNDS);
    let (w, mut called) = (&p.workouts[0], 0);
    for i in paced(&p) {
        let steps = ends_of(w, i);
        // two rounds done so late that all of it ends past the window
        let (n, end) = (steps.len(), *steps.last().unwrap());
        let at = steps[1] * 1.12 * 780.0 / end;
        let b = looks(&p, i, at).unwrap().into_iter().find(|b| b.passed.steps == 2).unwrap();
        assert!(b.stays.middle > 780.0);
        let Some((shout, ends)) = b.cut else { continue };
        called += 1;
        assert!((540.0..=780.0).contains(&ends.middle), "{shout:?} {}", ends.middle);
        let after = w.after_cut(i, p.members[i].standard, (b.passed, &shout)).unwrap();
        assert_eq!(after.ends, ends, "what is offered is what is taken");
        let times: Vec<f64> = after.steps.iter().map(|s| s.1).collect();
        assert!(times.windows(2).all(|t| t[0] < t[1]) && times[0] > at, "{times:?}");
        assert!((times.last().unwrap() - ends.middle).abs() < 1e-6);
        match shout {
            Shout::Rounds { out } => {
                assert_eq!(after.work.rounds(), n - out);
                assert_eq!(after.steps.len(), n - 2 - out);
            }
            // what is done stays done, what is left is shorter
            Shout::Leg { to, .. } | Shout::Reps { to, .. } => {
                let line = after.work.lines.iter().find(|l| l.counts.len() == n).unwrap();
                assert!(line.counts[1][0] > to && line.counts[2][0] <= to);
            }
            other => panic!("{other:?} is no cut of two lines"),
        }
    }
    assert!(called >= 4, "{called} of {} were called out to", paced(&p).len());
}

#[test]
fn the_last_two_steps_are_offered_and_nobody_is_hurried_before_their_time() {
    let p = planned(ROUNDS);
    let i = paced(&p)[0];
    let steps = ends_of(&p.workouts[0], i);
    let n = steps.len();
    assert_eq!(looks(&p, i, steps[0] - 1.0), Err(NoCut::OnPace(Mark::Round(1), steps[0])));
    let offered = |at: f64| looks(&p, i, at).unwrap().iter().map(|b| b.passed.steps).collect::<Vec<_>>();
    assert_eq!(offered(steps[0] + 1.0), [1]);
    assert_eq!(offered(steps[1] + 1.0), [2, 1]);
    assert_eq!(offered(steps[n - 1] + 60.0), [n - 1, n - 2], "the finish is no step to be late at");
    assert!(p.workouts[0].behind(99, p.members[i].standard, 60.0).is_err());
}

#[test]
fn lines_of_a_list_are_steps_and_what_has_none_says_why() {
    let p = planned(LIST);
    let i = paced(&p)[0];
    let all = looks(&p, i, 15.0 * 60.0).unwrap();
    assert!(all.iter().all(|b| matches!(b.at, Mark::Line(..))), "{all:?}");
    let open = planned("# workout\namrap 12:00\n10 burpees\n200 m run");
    assert_eq!(looks(&open, 0, 300.0), Err(NoCut::Other));
    let team = planned(
        "# workout cap 20:00 target 12:00-17:00\nteams of 2, one works\n5 rounds for time\n20 burpees\n400 m run",
    );
    assert_eq!(looks(&team, 0, 300.0), Err(NoCut::Other));
}

#[test]
fn what_was_called_out_survives_being_kept() {
    let all = [
        Shout::Rounds { out: 1 },
        Shout::Each { from: 12.0, to: 9.0 },
        Shout::Instead { line: 1, to: "ring-row".into(), from: "pull-up".into() },
        Shout::AtCap,
    ];
    for s in all {
        let text = serde_json::to_string(&s).unwrap();
        assert_eq!(serde_json::from_str::<Shout>(&text).unwrap(), s, "{text}");
    }
}
