//! Dates and fillings worked out by hand.

use super::*;

fn day(text: &str) -> NaiveDate {
    text.parse().unwrap()
}

fn work(sets: u32, reps: u32, low: f64, high: f64) -> Week {
    Week { kind: WeekKind::Work, sets, reps, low, high }
}

fn six() -> Cycle {
    let base = Week { kind: WeekKind::Base, sets: 1, reps: 5, low: 0.0, high: 0.0 };
    let deload = Week { kind: WeekKind::Deload, ..work(3, 3, 60.0, 65.0) };
    let given = [
        Given::Week(base),
        Given::Week(work(5, 5, 70.0, 75.0)),
        Given::Open,
        Given::Open,
        Given::Week(work(5, 2, 85.0, 90.0)),
        Given::Week(deload),
    ];
    Cycle {
        name: "Autumn squat".into(),
        lift: "front-squat".into(),
        start: day("2026-11-09"),
        of: PercentBase::RepMax(5),
        every_s: Some(150),
        window_s: 900,
        weeks: fill(&given).unwrap(),
        held: Vec::new(),
    }
}

#[test]
fn open_weeks_lie_evenly_between_the_given_ones() {
    let c = six();
    // 70 to 85 over three steps: 75, 80; 75 to 90: 80, 85; reps 5 to 2: 4, 3
    assert_eq!(c.weeks[2], work(5, 4, 75.0, 80.0));
    assert_eq!(c.weeks[3], work(5, 3, 80.0, 85.0));
    assert_eq!(c.weeks[5].kind, WeekKind::Deload);
    assert!(c.check().is_empty(), "{:?}", c.check());
}

#[test]
fn thirds_of_a_per_cent_go_to_the_half() {
    let given =
        [Given::Week(work(5, 3, 70.0, 70.0)), Given::Open, Given::Open, Given::Week(work(5, 3, 75.0, 75.0))];
    let lows: Vec<f64> = fill(&given).unwrap().iter().map(|w| w.low).collect();
    assert_eq!(lows, vec![70.0, 71.5, 73.5, 75.0]);
    assert!(fill(&[Given::Open]).unwrap_err().contains("at least one working week"));
    assert_eq!(fill(&[Given::Open, Given::Week(work(4, 4, 70.0, 72.0))]).unwrap()[0], work(4, 4, 70.0, 72.0));
}

#[test]
fn the_week_follows_from_the_date() {
    let c = six();
    assert_eq!(c.week_at(day("2026-11-08")), None);
    assert_eq!((c.week_at(day("2026-11-09")), c.week_at(day("2026-11-15"))), (Some(0), Some(0)));
    assert_eq!(c.week_at(day("2026-11-25")), Some(2));
    assert_eq!((c.week_at(day("2026-12-20")), c.week_at(day("2026-12-21"))), (Some(5), None));
    assert_eq!(c.end(), day("2026-12-20"));
}

#[test]
fn a_week_held_back_repeats_the_one_before_it_and_moves_the_rest() {
    let mut c = six();
    c.held.push(day("2026-11-23"));
    assert_eq!(c.week_at(day("2026-11-18")), Some(1));
    assert_eq!(c.week_at(day("2026-11-25")), Some(1), "the missed week again");
    assert_eq!(c.week_at(day("2026-12-02")), Some(2));
    assert_eq!(c.end(), day("2026-12-27"));
    assert_eq!(c.calendar().len(), 7);
    assert!(c.holds(day("2026-11-24")) && !c.holds(day("2026-11-16")));
}

#[test]
fn a_week_becomes_sets_or_a_test() {
    let c = six();
    assert_eq!(c.says(0), "build to a 5RM in 15:00");
    assert_eq!(c.test(0, 4).unwrap().reps, 5);
    assert!(c.sets(0, 4).is_none() && c.test(2, 4).is_none());
    let s = c.sets(2, 4).unwrap();
    assert_eq!((s.reps.clone(), s.every_s, s.line), (vec![4; 5], Some(150), 4));
    assert_eq!(s.percent.unwrap(), Percent::between(75.0, 80.0, PercentBase::RepMax(5)));
    assert_eq!(c.says(5), "3 x 3 at 60 to 65 %, deload");
}

#[test]
fn the_cycle_that_began_last_is_the_one_that_runs() {
    let (a, mut b) = (six(), six());
    b.start = day("2026-11-16");
    b.name = "Later".into();
    let all = [a, b];
    let (c, week) = running(&all, "front-squat", day("2026-11-25")).unwrap();
    assert_eq!((c.name.as_str(), week), ("Later", 1));
    assert!(running(&all, "deadlift", day("2026-11-25")).is_none());
}

#[test]
fn what_is_wrong_is_said_by_week() {
    let mut c = six();
    c.start = day("9026-11-10");
    c.name = " ".into();
    c.weeks[1].low = 80.0;
    c.weeks[2].sets = 0;
    let all = c.check().join(" ");
    for part in ["name", "Monday", "2000 and 2100", "Week 2: a band", "Week 3: from 1 to 20 sets"] {
        assert!(all.contains(part), "{part}: {all}");
    }
}
