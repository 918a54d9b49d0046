//! The maximum of the day, hand-checked.

use super::heavy::{Attempt, NextSet, best_of_day, next_set, plan_heavy, sets_that_fit};
use super::{Bars, MemberLift};
use crate::kinds::Limit;
use crate::kit::Kit;
use crate::pacing::Level;
use crate::roster::{Max, Member};
use crate::settings::Settings;
use crate::sheet::{Build, Named};
use crate::units::{Standard, WeightUnit};
use chrono::NaiveDate;

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

fn build(reps: u32) -> Build {
    Build {
        movement: Named::Known("back-squat".into()),
        reps,
        window_s: Some(900),
        no_misses: false,
        line: 2,
    }
}

fn lifted(kg: f64, reserve: Option<u32>) -> Attempt {
    Attempt { kg, reps: 5, reserve, missed: false }
}

fn missed(kg: f64) -> Attempt {
    Attempt { kg, reps: 3, reserve: None, missed: true }
}

fn next(planned: &[f64], done: &[Attempt]) -> Result<f64, String> {
    let bars = Bars::of(&Kit::usual());
    let bar = bars.choose(Standard::Heavier, 100.0).unwrap();
    match next_set(planned, done, bar, false, false) {
        NextSet::Lift { load, .. } => Ok(load.kg),
        NextSet::Stop { why } => Err(why),
    }
}

const PLAN: [f64; 6] = [60.0, 72.5, 85.0, 105.0, 112.5, 120.0];

#[test]
fn six_sets_of_five_fit_into_fifteen_minutes_alone_and_four_for_three_at_a_rack() {
    // a set is 5 x 3 + 8 = 23 s. 5RM is 87.3 % of one. Seven sets: 161 + rests 4 x 90 + 120 + 2 x 165 = 971 s.
    // Six (50 60 70 88 94 100 %): 138 + 3 x 90 + 120 + 2 x 165 = 858 s
    assert_eq!(sets_that_fit("back-squat", &build(5), 900.0, 1), 6);
    assert_eq!(sets_that_fit("back-squat", &build(5), 971.0, 1), 7);
    // three at a rack take turns of 48 s: at least 144 s a set. Five sets (50 60 80 94 100 %): 3 x 144 + 2 x 188 = 808
    assert_eq!(sets_that_fit("back-squat", &build(5), 900.0, 3), 5);
    assert_eq!(sets_that_fit("back-squat", &build(5), 60.0, 3), 0);
}

fn planned(m: &Member, reps: u32, sets: usize) -> MemberLift {
    let kit = Kit::usual();
    plan_heavy(m, &build(reps), sets, &kit, &Bars::of(&kit), &Settings::default(), day()).unwrap()
}

fn with_five(kg: f64) -> Member {
    let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    m.sessions_logged = Some(40);
    m.maxes.push(Max { lift: "back-squat".into(), kg, reps: 5, reserve: 0, date: Some(day()) });
    m
}

#[test]
fn the_weights_climb_to_the_expected_maximum() {
    let l = planned(&with_five(120.0), 5, 6);
    // 50 60 70 88 94 97 % of 120: 60, 72, 84, 105.6, 112.8, 116.4
    let kg = |l: &MemberLift| l.sets.iter().map(|s| s.load_kg).collect::<Vec<_>>();
    assert_eq!(kg(&l), [60.0, 72.5, 85.0, 105.0, 112.5, 117.5]);
    assert_eq!(l.base.words, "tested 5RM 120 kg");
    assert_eq!(
        l.says(WeightUnit::Kg),
        ["Build to a heavy five: six sets, stop when one more would be a grind."]
    );
    let seasoned = Member { level: Level::Seasoned, ..with_five(120.0) };
    assert_eq!(kg(&planned(&seasoned, 5, 6)), PLAN, "the whole of it for who is seasoned");
    let nine = planned(&seasoned, 5, 9);
    // beyond it 2.5 % each: 123, 126.1
    assert_eq!(nine.sets.iter().skip(6).map(|s| s.load_kg).collect::<Vec<_>>(), vec![120.0, 122.5, 125.0]);
}

#[test]
fn a_limit_has_no_maximum_of_its_replacement() {
    let mut m = with_five(120.0);
    m.limits = vec![Limit::Knee];
    let l = planned(&m, 3, 6);
    assert_ne!(l.lift, "back-squat");
    assert_eq!(l.working().map(|s| s.reps).collect::<Vec<_>>(), vec![5; 3]);
    assert!(l.says(WeightUnit::Kg).iter().any(|r| r.contains("No maximum")), "{:?}", l.says(WeightUnit::Kg));
}

#[test]
fn who_is_new_or_unknown_has_an_easy_day_and_an_estimate_stops_short() {
    let mut m = Member::unknown("Bo", Standard::Lighter, Level::New);
    m.sessions_logged = Some(2);
    let l = planned(&m, 1, 6);
    assert_eq!(l.sets.len(), 5);
    assert!(l.sets.iter().all(|s| s.reps == 3), "triples, no single");
    assert!(l.sets.windows(2).all(|w| w[1].load_kg >= w[0].load_kg), "{:?}", l.sets);
    // a newcomer's back squat stays under 30 kg, and nothing passes 70 % of what is assumed
    assert!(l.sets.iter().all(|s| s.load_kg <= 30.0 && s.percent.unwrap() <= 70.5), "{:?}", l.sets);
    assert_eq!(l.says(WeightUnit::Kg), ["Five easy sets, a bit more each time; 3 left in every one."]);
    let unknown = planned(&Member::unknown("Bo", Standard::Heavier, Level::Regular), 5, 6);
    assert!(unknown.sets.iter().all(|s| s.percent.unwrap() <= 70.5), "{:?}", unknown.sets);
    let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    m.maxes.push(Max { lift: "front-squat".into(), kg: 100.0, reps: 1, reserve: 0, date: Some(day()) });
    let estimated = planned(&m, 5, 6);
    let top = estimated.sets.last().unwrap().percent.unwrap();
    assert!((80.0..=90.5).contains(&top), "{top}");
    assert!(
        estimated.says(WeightUnit::Kg)[0].ends_with("the last leaves 2."),
        "{:?}",
        estimated.says(WeightUnit::Kg)
    );
}

#[test]
fn nobody_pregnant_is_asked_for_a_maximum() {
    let mut m = with_five(120.0);
    m.limits = vec![Limit::Pregnancy];
    let l = planned(&m, 1, 6);
    assert!(l.working().all(|s| s.reps == 8 && s.percent.is_none_or(|p| p <= 70.5)), "{:?}", l.sets);
    assert!(
        l.says(WeightUnit::Kg).iter().any(|r| r.ends_with("talk while you lift; 4 left.")),
        "{:?}",
        l.says(WeightUnit::Kg)
    );
}

#[test]
fn the_next_weight_follows_the_reps_that_are_left() {
    // plenty left early: the plan's next
    assert_eq!(next(&PLAN, &[lifted(60.0, Some(5))]), Ok(72.5));
    // at the plan's end: 3 left is 7.5 % (129 to 130), 2 is 5 % (126 to 125), 1 is 2.5 % (123 to 122.5)
    assert_eq!(next(&PLAN, &[lifted(120.0, Some(3))]), Ok(130.0));
    assert_eq!(next(&PLAN, &[lifted(120.0, Some(2))]), Ok(125.0));
    assert_eq!(next(&PLAN, &[lifted(120.0, Some(1))]), Ok(122.5));
    // two left early on a bad day: 5 % and not the plan
    assert_eq!(next(&PLAN, &[lifted(85.0, Some(2))]), Ok(90.0));
    // not said: the plan, then 2.5 %
    assert_eq!(
        (next(&PLAN, &[lifted(85.0, None)]), next(&PLAN, &[lifted(120.0, None)])),
        (Ok(105.0), Ok(122.5))
    );
    // too small a jump for the plates is one step up
    assert_eq!(next(&PLAN, &[lifted(30.0, Some(1))]), Ok(32.5));
    assert_eq!(next(&PLAN, &[]), Ok(60.0));
}

#[test]
fn nothing_left_stops_and_so_do_two_misses() {
    assert!(next(&PLAN, &[lifted(120.0, Some(0))]).unwrap_err().contains("day's best"));
    // a miss at 130 after 120: one last try between them, and a second miss ends it
    assert_eq!(next(&PLAN, &[lifted(120.0, Some(3)), missed(130.0)]), Ok(125.0));
    let twice = [lifted(120.0, Some(3)), missed(130.0), missed(125.0)];
    assert!(next(&PLAN, &twice).unwrap_err().contains("Two misses"));
    // no weight lies between 120 and 122.5
    assert!(
        next(&PLAN, &[lifted(120.0, Some(1)), missed(122.5)]).unwrap_err().contains("no weight lies between")
    );
    let bars = Bars::of(&Kit::usual());
    let bar = bars.choose(Standard::Heavier, 100.0).unwrap();
    let done = [lifted(120.0, Some(3)), missed(130.0)];
    assert!(
        matches!(next_set(&PLAN, &done, bar, true, false), NextSet::Stop { why } if why.contains("none is wanted"))
    );
    let two_left = [lifted(60.0, Some(2))];
    assert!(
        matches!(next_set(&PLAN, &two_left, bar, false, true), NextSet::Stop { why } if why.contains("new to it"))
    );
}

#[test]
fn the_day_is_worth_its_heaviest_finished_set() {
    let done = [lifted(105.0, Some(3)), lifted(120.0, Some(1)), missed(125.0)];
    let best = best_of_day("back-squat", &done, day()).unwrap();
    assert_eq!((best.kg, best.reps, best.reserve, best.date), (120.0, 5, 1, Some(day())));
    assert_eq!(best_of_day("back-squat", &[missed(100.0)], day()), None);
}
