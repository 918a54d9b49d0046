//! Logged sets, cycles and single figures against a real PostgreSQL.
#![allow(clippy::unwrap_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

use chrono::{Duration, NaiveDate};
use diesel::PgConnection;
use lantern_core::cycle::{Cycle, Week, WeekKind};
use lantern_core::kit::Kit;
use lantern_core::loads::Attempt;
use lantern_core::pacing::Level;
use lantern_core::roster::{Max, Member};
use lantern_core::sheet::{PercentBase, WeightUnit};
use lantern_core::units::Standard;
use lantern_store::class::NewClass;
use lantern_store::lifting::{Lifted, LiftedSet, Place};
use lantern_store::testing::TestDatabase;
use lantern_store::{
    ClassId, CycleId, GymId, MemberId, StoreError, class, cycle, gym, kit, lifting, roster, sheet,
};

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

struct Hall {
    gym: GymId,
    member: MemberId,
    /// A week ago, and today.
    classes: [ClassId; 2],
}

fn hall(conn: &mut PgConnection, name: &str) -> Hall {
    let gym = gym::add(conn, name, "Port Ellery", false).unwrap();
    let member =
        roster::add(conn, gym, &Member::unknown("Ada", Standard::Lighter, Level::Seasoned), 12).unwrap();
    let classes = [7, 0].map(|ago| {
        let date = day() - Duration::days(ago);
        let session = sheet::add(conn, gym, date, "").unwrap();
        let new = NewClass {
            session,
            starts_at: date.and_hms_opt(18, 0, 0).unwrap(),
            length_s: None,
            places: None,
            coach: None,
            booked: vec![member],
        };
        class::add(conn, gym, &new).unwrap()
    });
    Hall { gym, member, classes }
}

fn set(h: &Hall, number: u32, kg: f64, missed: bool) -> LiftedSet {
    LiftedSet {
        place: Place { member: h.member, block: 0, lift: 0, number },
        movement: "back-squat".into(),
        went: Attempt { kg, reps: 3, reserve: (!missed).then_some(2), missed },
    }
}

#[test]
fn sets_come_back_in_order_are_corrected_and_taken_back() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let today = h.classes[1];
    for (n, kg) in [(2, 62.5), (1, 60.0), (3, 65.0)] {
        lifting::log(&mut conn, h.gym, today, &set(&h, n, kg, false)).unwrap();
    }
    lifting::log(&mut conn, h.gym, today, &set(&h, 2, 61.0, true)).unwrap();
    let all = lifting::list(&mut conn, h.gym, today).unwrap();
    assert_eq!(all, vec![set(&h, 1, 60.0, false), set(&h, 2, 61.0, true), set(&h, 3, 65.0, false)]);
    // with a set go those after it
    assert!(lifting::take_back(&mut conn, h.gym, today, all[1].place).unwrap());
    assert_eq!(lifting::list(&mut conn, h.gym, today).unwrap().len(), 1);
    assert!(!lifting::take_back(&mut conn, h.gym, today, all[1].place).unwrap());
}

#[test]
fn history_is_the_heaviest_finished_set_of_each_day_before() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    for (n, kg, missed) in [(1, 60.0, false), (2, 70.0, false), (3, 75.0, true), (4, 65.0, false)] {
        lifting::log(&mut conn, h.gym, h.classes[0], &set(&h, n, kg, missed)).unwrap();
    }
    lifting::log(&mut conn, h.gym, h.classes[1], &set(&h, 1, 80.0, false)).unwrap();
    let starts = day().and_hms_opt(18, 0, 0).unwrap();
    let all = lifting::history(&mut conn, h.gym, &[h.member], "back-squat", starts).unwrap();
    let went = Attempt { kg: 70.0, reps: 3, reserve: Some(2), missed: false };
    assert_eq!(all[&h.member], vec![Lifted { date: day() - Duration::days(7), went }]);
    assert!(lifting::history(&mut conn, h.gym, &[h.member], "deadlift", starts).unwrap().is_empty());
    assert_eq!(lifting::movements(&mut conn, h.gym, h.member).unwrap(), vec!["back-squat"]);
    let days = lifting::days_of(&mut conn, h.gym, "back-squat", day() - Duration::days(9), day()).unwrap();
    assert_eq!(days, vec![day() - Duration::days(7), day()]);
}

#[test]
fn another_hall_reads_and_writes_no_set() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let (a, b) = (hall(&mut conn, "A"), hall(&mut conn, "B"));
    lifting::log(&mut conn, a.gym, a.classes[1], &set(&a, 1, 60.0, false)).unwrap();
    assert!(lifting::list(&mut conn, b.gym, a.classes[1]).unwrap().is_empty());
    let refused = lifting::log(&mut conn, b.gym, a.classes[1], &set(&a, 2, 60.0, false));
    assert!(matches!(refused, Err(StoreError::NotFound)), "{refused:?}");
    // a member of the other hall is not booked here
    assert!(lifting::log(&mut conn, a.gym, a.classes[1], &set(&b, 1, 60.0, false)).is_err());
    assert!(!lifting::take_back(&mut conn, b.gym, a.classes[1], set(&a, 1, 0.0, false).place).unwrap());
    assert!(
        lifting::history(&mut conn, b.gym, &[a.member], "back-squat", day().and_hms_opt(23, 0, 0).unwrap())
            .unwrap()
            .is_empty()
    );
    assert!(lifting::movements(&mut conn, b.gym, a.member).unwrap().is_empty());
    assert!(matches!(roster::weigh(&mut conn, b.gym, a.member, 70.0), Err(StoreError::NotFound)));
}

#[test]
fn wild_figures_of_a_set_are_refused() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    for s in [set(&h, 0, 60.0, false), set(&h, 1, 6000.0, false)] {
        let refused = lifting::log(&mut conn, h.gym, h.classes[1], &s);
        assert!(matches!(refused, Err(StoreError::Refused)), "{refused:?}");
    }
}

fn a_cycle() -> Cycle {
    Cycle {
        name: "Autumn".into(),
        lift: "back-squat".into(),
        start: NaiveDate::from_ymd_opt(2026, 11, 9).unwrap(),
        of: PercentBase::RepMax(5),
        every_s: Some(150),
        window_s: 900,
        weeks: vec![Week { kind: WeekKind::Work, sets: 5, reps: 3, low: 75.0, high: 80.0 }],
        held: vec![day() - Duration::days(8)],
    }
}

#[test]
fn cycles_come_back_whole_and_stay_in_their_hall() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let (a, b) = (hall(&mut conn, "A"), hall(&mut conn, "B"));
    let id = cycle::add(&mut conn, a.gym, &a_cycle()).unwrap();
    assert_eq!(cycle::find(&mut conn, a.gym, id).unwrap(), a_cycle());
    let mut changed = a_cycle();
    changed.held.clear();
    cycle::change(&mut conn, a.gym, id, &changed).unwrap();
    assert_eq!(cycle::list(&mut conn, a.gym).unwrap(), vec![(id, changed.clone())]);
    assert!(cycle::list(&mut conn, b.gym).unwrap().is_empty());
    assert!(matches!(cycle::find(&mut conn, b.gym, id), Err(StoreError::NotFound)));
    assert!(matches!(cycle::change(&mut conn, b.gym, id, &changed), Err(StoreError::NotFound)));
    assert!(matches!(cycle::remove(&mut conn, b.gym, id), Err(StoreError::NotFound)));
    assert!(matches!(cycle::remove(&mut conn, a.gym, CycleId::fresh()), Err(StoreError::NotFound)));
    cycle::remove(&mut conn, a.gym, id).unwrap();
    assert!(cycle::list(&mut conn, a.gym).unwrap().is_empty());
}

#[test]
fn a_lift_of_the_same_day_and_reps_takes_the_place_of_the_old() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let max = |kg, reps, date| Max { lift: "back-squat".into(), kg, reps, reserve: 0, date };
    for m in [
        max(100.0, 5, Some(day())),
        max(102.5, 5, Some(day())),
        max(110.0, 3, Some(day())),
        max(90.0, 5, None),
    ] {
        roster::add_maxes(&mut conn, h.gym, h.member, &[m]).unwrap();
    }
    let known = roster::find(&mut conn, h.gym, h.member).unwrap().maxes;
    let mut kg: Vec<f64> = known.iter().map(|m| m.kg).collect();
    kg.sort_by(f64::total_cmp);
    assert_eq!(kg, vec![90.0, 102.5, 110.0]);
    roster::weigh(&mut conn, h.gym, h.member, 63.5).unwrap();
    assert!(roster::weigh(&mut conn, h.gym, h.member, 9000.0).is_err());
    let mut m = roster::find(&mut conn, h.gym, h.member).unwrap();
    assert_eq!(m.body_mass_kg, Some(63.5));
    m.hooks = Some(11);
    roster::change(&mut conn, h.gym, h.member, |_| m.clone()).unwrap();
    assert_eq!(roster::find(&mut conn, h.gym, h.member).unwrap().hooks, Some(11));
}

#[test]
fn a_kit_in_pounds_comes_back_in_pounds() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    kit::change(&mut conn, h.gym, &Kit::usual_pounds()).unwrap();
    let back = kit::find(&mut conn, h.gym).unwrap();
    assert_eq!(
        (back.unit, back.mark(back.plates[0].size), back.mark(back.bars[0].size)),
        (WeightUnit::Lb, "45".into(), "45".into())
    );
    kit::change(&mut conn, h.gym, &Kit::usual()).unwrap();
    assert_eq!(kit::find(&mut conn, h.gym).unwrap().unit, WeightUnit::Kg);
}
