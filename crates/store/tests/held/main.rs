//! What is logged, decided and known stays, whoever changes what meanwhile; what cannot be read any more takes nothing else with it.
#![allow(clippy::unwrap_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

mod hall;
mod learnt;

use chrono::NaiveDateTime;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::{Jsonb, Uuid as SqlUuid};
use hall::*;
use lantern_core::held::Blocks;
use lantern_core::logbook::Outcome;
use lantern_core::pacing::Level;
use lantern_core::plan::Decision;
use lantern_core::roster::{Max, Member};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::Standard;
use lantern_core::versions::Tier;
use lantern_store::logbook::Holds;
use lantern_store::roster::ERASED;
use lantern_store::{AccountId, StoreError, booking, class, decision, gym, logbook, record, roster, sheet};

/// An hour of a class.
fn hour(starts_at: NaiveDateTime, length_s: Option<u32>, coach: Option<AccountId>) -> class::Hour {
    class::Hour { starts_at, length_s, places: None, coach }
}

#[test]
fn sessions_are_days_before_the_class_not_results() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let earlier = class_at(&mut conn, h.gym, h.session, at(20, 18), h.ada);
    let same_day = class_at(&mut conn, h.gym, h.session, at(20, 6), h.ada);
    // two workouts of a class and another class of the day are one day; today's count for tomorrow
    for (class, block) in [(earlier, 0), (earlier, 1), (same_day, 0), (h.class, 0)] {
        h.log(class, block, 500.0, "Ines");
    }
    let before = |n: u32| {
        let all = roster::list_before(&mut h.db.conn(), h.gym, day(n)).unwrap();
        assert_eq!(roster::of(&mut h.db.conn(), h.gym, &[h.ada], day(n)).unwrap(), all);
        (all[0].sessions_logged, all[0].last_session, all[0].sessions.len())
    };
    assert_eq!(before(20), (Some(12), None, 0));
    assert_eq!(before(24), (Some(13), Some(day(20)), 1));
    assert_eq!(before(25), (Some(14), Some(day(24)), 2));
    let all = roster::list_before(&mut conn, h.gym, day(24)).unwrap();
    assert_eq!(all[0].sessions[0].reps["squat"], 90.0, "three results of a day");
    // taken back, a day counts until its last result is gone
    for (class, block, left) in [(earlier, 1, 13), (same_day, 0, 13), (earlier, 0, 12)] {
        logbook::remove(&mut conn, h.gym, class, (h.ada, block), "Ines").unwrap();
        assert_eq!(before(24).0, Some(left));
    }
}

#[test]
fn every_change_of_a_result_is_kept_with_who_made_it() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    assert_eq!(h.log(h.class, 0, 522.0, "Ines"), None);
    let was = h.log(h.class, 0, 555.0, "Bram").unwrap();
    assert_eq!(was.outcome, Outcome::Time { seconds: 522.0 });
    let back = logbook::remove(&mut conn, h.gym, h.class, (h.ada, 0), "Ines").unwrap();
    assert_eq!(back.map(|l| l.outcome), Some(Outcome::Time { seconds: 555.0 }));
    assert_eq!(logbook::remove(&mut conn, h.gym, h.class, (h.ada, 0), "Ines").unwrap(), None, "only once");
    let trail = logbook::changes(&mut conn, h.gym, h.class).unwrap();
    let seconds = |k: &Option<logbook::Kept>| {
        k.as_ref().map(|k| match k.outcome {
            Outcome::Time { seconds } => seconds,
            _ => panic!("a time was logged"),
        })
    };
    let said: Vec<_> = trail.iter().map(|c| (seconds(&c.was), seconds(&c.became), c.by.as_str())).collect();
    assert_eq!(
        said,
        [(None, Some(522.0), "Ines"), (Some(522.0), Some(555.0), "Bram"), (Some(555.0), None, "Ines"),]
    );
    let kept = trail[1].was.clone().unwrap().logged(h.ada, 0);
    assert_eq!(kept, result(h.ada, 0, 522.0), "load, note and version come back too");
}

#[test]
fn what_results_are_logged_for_is_not_decided_again() {
    let (h, ines) = (Hall::new(), AccountId::fresh());
    let mut conn = h.db.conn();
    let version = |block| Decision::Version { block, member: h.ada.to_string(), tier: Tier::Base };
    decision::add(&mut conn, h.gym, h.class, &version(0), ines).unwrap();
    h.log(h.class, 0, 500.0, "Ines");
    let held = |r: lantern_store::Result<()>| matches!(r, Err(StoreError::Held));
    assert!(held(decision::add(&mut conn, h.gym, h.class, &version(0), ines)));
    let school = Decision::School { school: "what-to-scale".into(), option: None };
    assert!(held(decision::add(&mut conn, h.gym, h.class, &school, ines)), "it would change every version");
    assert!(held(decision::undo(&mut conn, h.gym, h.class, ines).map(drop)), "nor is it taken back");
    // the workout that is still to come is the coach's
    decision::add(&mut conn, h.gym, h.class, &version(1), ines).unwrap();
    decision::add(
        &mut conn,
        h.gym,
        h.class,
        &Decision::Length { key: "cool-down".into(), seconds: 120 },
        ines,
    )
    .unwrap();
    assert!(decision::undo(&mut conn, h.gym, h.class, ines).unwrap().is_some());
    assert_eq!(decision::list(&mut conn, h.gym, h.class).unwrap(), (vec![version(0), version(1)], 0));
}

#[test]
fn a_class_is_held_by_what_was_there_at_its_first_result() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let (_, first) = h.made();
    h.log(h.class, 0, 500.0, "Ines");
    // heavier, another level, and a result more: the class has its roster as it was
    roster::change(&mut conn, h.gym, h.ada, |m| Member { body_mass_kg: Some(90.0), ..m.clone() }).unwrap();
    h.log(h.class, 1, 400.0, "Ines");
    let frozen = logbook::find_frozen(&mut conn, h.gym, h.class).unwrap();
    assert_eq!(frozen.inputs.as_ref().map(|i| &i.class.members), Some(&first.class.members));
    // planned anew, the next result holds it by what is there then
    logbook::plan_anew(&mut conn, h.gym, h.class).unwrap();
    assert_eq!(logbook::find_frozen(&mut conn, h.gym, h.class).unwrap().inputs, None);
    h.log(h.class, 0, 501.0, "Ines");
    let again = logbook::find_frozen(&mut conn, h.gym, h.class).unwrap().inputs.unwrap();
    assert_eq!(again.class.members[0].body_mass_kg, Some(90.0));
}

#[test]
fn what_results_are_judged_by_is_older_than_they_are() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    h.log(h.class, 0, 500.0, "Ines");
    let ranges = || {
        let plan = logbook::find_frozen(&mut h.db.conn(), h.gym, h.class).unwrap().plan.unwrap();
        let of = |block| plan.members[0].predictions.iter().find(|p| p.block == block).map(|p| p.p50);
        (of(0).unwrap(), of(1).unwrap())
    };
    let before = ranges();
    // planned anew by what is known then, the other workout's first result brings its own ranges and leaves those of the first
    logbook::plan_anew(&mut conn, h.gym, h.class).unwrap();
    roster::change(&mut conn, h.gym, h.ada, |m| Member { level: Level::New, ..m.clone() }).unwrap();
    h.log(h.class, 1, 400.0, "Ines");
    let after = ranges();
    assert_eq!(after.0, before.0);
    assert_ne!(after.1, before.1);
    // a correction brings none
    roster::change(&mut conn, h.gym, h.ada, |m| Member { level: Level::Competitive, ..m.clone() }).unwrap();
    h.log(h.class, 1, 410.0, "Ines");
    assert_eq!(ranges(), after);
}

#[test]
fn every_listener_is_told_of_a_clock_and_no_other_hall_moves_it() {
    use lantern_core::hour::{Press, WallClock};
    use lantern_store::clock::{Listener, Told, find, press};
    let h = Hall::new();
    let pool = lantern_store::connect(h.db.url(), 3).unwrap();
    let mut listener = Listener::new(&pool).unwrap();
    let at = |s: i64| chrono::DateTime::from_timestamp(1_800_000_000 + s, 0).unwrap();
    let mut conn = h.db.conn();
    let mut go = |p, s| press(&mut conn, h.gym, h.class, p, at(s)).unwrap();
    let started = go(Press::Start, 0);
    assert_eq!(started.clock, WallClock { started: Some(at(10)), paused: None });
    assert_eq!(go(Press::Start, 5), started, "it is not started again");
    let paused = go(Press::Pause, 70);
    let on = go(Press::GoOn, 90);
    assert_eq!(find(&mut h.db.conn(), h.gym, h.class).unwrap(), on);
    let mut told = Vec::new();
    for _ in 0..100 {
        told.extend(listener.told().unwrap());
        if told.len() >= 3 {
            break;
        }
        std::thread::sleep(std::time::Duration::from_millis(20));
    }
    // the press that changed nothing was not told
    let all = [started, paused, on.clone()].map(|w| Told {
        gym: h.gym,
        class: h.class,
        stage: w.stage,
        clock: w.clock,
    });
    assert_eq!(told, all);
    listener.check().unwrap();
    let other = lantern_store::GymId(uuid::Uuid::now_v7());
    assert!(press(&mut h.db.conn(), other, h.class, Press::Back, at(99)).is_err());
    assert_eq!(find(&mut h.db.conn(), h.gym, h.class).unwrap(), on);
}

#[test]
fn a_member_who_leaves_is_in_no_roster_and_keeps_what_they_did() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    h.log(h.class, 0, 500.0, "Ines");
    let to_come = class_at(&mut conn, h.gym, h.session, at(28, 18), h.ada);
    roster::leave(&mut conn, h.gym, h.ada, at(25, 12)).unwrap();
    assert!(roster::list(&mut conn, h.gym).unwrap().is_empty());
    assert_eq!(roster::left(&mut conn, h.gym).unwrap(), [(h.ada, "Ada Vell".to_owned(), day(25))]);
    assert!(booking::planned(&mut conn, h.gym, to_come).unwrap().is_empty());
    assert_eq!(booking::planned(&mut conn, h.gym, h.class).unwrap().len(), 1, "the held class has them");
    assert_eq!(logbook::list(&mut conn, h.gym, h.class).unwrap().len(), 1);
    assert_eq!(roster::standards(&mut conn, h.gym).unwrap()[&h.ada.to_string()], Standard::Lighter);
    // the name is free, until they are back
    let other = Member::unknown("Ada Vell", Standard::Heavier, Level::New);
    let other = roster::add(&mut conn, h.gym, &other, 0).unwrap();
    assert!(matches!(roster::come_back(&mut conn, h.gym, h.ada), Err(StoreError::Taken(_))));
    roster::leave(&mut conn, h.gym, other, at(26, 12)).unwrap();
    roster::come_back(&mut conn, h.gym, h.ada).unwrap();
    assert_eq!(roster::find(&mut conn, h.gym, h.ada).unwrap().limits, [lantern_core::kinds::Limit::Knee]);
}

#[test]
fn erasing_leaves_results_without_a_name() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let max = Max { lift: "back-squat".into(), kg: 90.0, reps: 1, reserve: 0, date: Some(day(20)) };
    roster::add_maxes(&mut conn, h.gym, h.ada, &[max]).unwrap();
    roster::weigh(&mut conn, h.gym, h.ada, 61.5).unwrap();
    let (mut plan, inputs) = h.made();
    assert!(!plan.members[0].why.is_empty(), "there is something to forget");
    // racks are kept by name
    let rack = lantern_core::plan::RackAnswer { members: vec!["Ada Vell".into(), "Bo".into()], moves: 0 };
    plan.strength.push(lantern_core::plan::StrengthAnswer {
        block: 0,
        lift: "back-squat".into(),
        racks: vec![rack],
    });
    let holds = Holds { plan: &plan, inputs: &inputs };
    logbook::log(&mut conn, h.gym, h.class, &result(h.ada, 0, 500.0), (holds, "Ines")).unwrap();
    roster::erase(&mut conn, h.gym, h.ada, day(25)).unwrap();
    assert_eq!(roster::left(&mut conn, h.gym).unwrap()[0].1, ERASED);
    let m = roster::find(&mut conn, h.gym, h.ada).unwrap();
    assert!(m.limits.is_empty() && m.maxes.is_empty() && m.body_mass_kg.is_none());
    let results = logbook::list(&mut conn, h.gym, h.class).unwrap();
    assert_eq!((results.len(), results[0].note.as_str()), (1, ""));
    let frozen = logbook::find_frozen(&mut conn, h.gym, h.class).unwrap();
    let plan = frozen.plan.unwrap();
    let kept = &plan.members[0];
    assert_eq!((kept.name.as_str(), kept.private.len(), kept.reasons.len()), (ERASED, 0, 0));
    assert!(kept.why.is_empty(), "{:?}", kept.why);
    assert!(!kept.predictions.is_empty(), "the record keeps its ranges");
    assert!(kept.loads.is_empty());
    assert_eq!(plan.strength[0].racks[0].members, [ERASED, "Bo"]);
    let held = &frozen.inputs.unwrap().class.members[0];
    assert_eq!((held.name.as_str(), held.limits.len(), held.maxes.len()), (ERASED, 0, 0));
    assert_eq!(held.body_mass_kg, None);
}

#[test]
fn one_value_that_cannot_be_read_takes_nothing_else_with_it() {
    let (h, ines) = (Hall::new(), AccountId::fresh());
    let mut conn = h.db.conn();
    h.log(h.class, 0, 500.0, "Ines");
    let broken = class_at(&mut conn, h.gym, h.session, at(23, 18), h.ada);
    h.log(broken, 0, 500.0, "Ines");
    let spoil = |what: &str| {
        sql_query(format!("UPDATE {what}"))
            .bind::<Jsonb, _>(serde_json::json!({"schema": "of another age"}))
            .bind::<SqlUuid, _>(h.gym.0)
            .bind::<SqlUuid, _>(broken.0)
            .execute(&mut h.db.conn())
            .unwrap()
    };
    assert_eq!(spoil("frozen_plans SET body = $1 WHERE gym_id = $2 AND class_id = $3"), 1);
    let counted = record::counted(&mut conn, h.gym, day(25), 14).unwrap();
    assert_eq!(counted.lost, (1, Some(at(23, 18))));
    let frozen = logbook::find_frozen(&mut conn, h.gym, broken).unwrap();
    assert!(frozen.lost && frozen.plan.is_none() && frozen.inputs.is_some());
    assert!(logbook::recent_drills(&mut conn, h.gym, day(24)).unwrap().concat().is_empty());
    let length = Decision::Length { key: "warm-up".into(), seconds: 480 };
    decision::add(&mut conn, h.gym, broken, &length, ines).unwrap();
    decision::add(&mut conn, h.gym, broken, &length, ines).unwrap();
    spoil(
        "decisions SET body = $1 WHERE gym_id = $2 AND class_id = $3 AND id = (SELECT min(id::text)::uuid FROM decisions)",
    );
    assert_eq!(decision::list(&mut conn, h.gym, broken).unwrap(), (vec![length], 1));
    assert_eq!(
        sql_query(
            "UPDATE results SET outcome = $1, judged = false, slot = NULL WHERE gym_id = $2 AND class_id = $3"
        )
        .bind::<Jsonb, _>(serde_json::json!({"kind": "of another age"}))
        .bind::<SqlUuid, _>(h.gym.0)
        .bind::<SqlUuid, _>(h.class.0)
        .execute(&mut conn)
        .unwrap(),
        1
    );
    let counted = record::counted(&mut conn, h.gym, day(25), 14).unwrap();
    assert_eq!(counted.lost.0, 2, "a class with a result that cannot be read is said, not counted");
    assert_eq!((counted.classes, counted.waiting), (0, 0));
    // a program that can read it counts it: after its start it is tried again
    sql_query("UPDATE results SET outcome = $1 WHERE gym_id = $2 AND class_id = $3")
        .bind::<Jsonb, _>(serde_json::json!({"kind": "time", "seconds": 500.0}))
        .bind::<SqlUuid, _>(h.gym.0)
        .bind::<SqlUuid, _>(h.class.0)
        .execute(&mut conn)
        .unwrap();
    assert_eq!(
        record::counted(&mut conn, h.gym, day(25), 14).unwrap().lost.0,
        2,
        "it is not looked at each time"
    );
    record::try_again(&mut conn).unwrap();
    assert_eq!(record::counted(&mut conn, h.gym, day(25), 14).unwrap().lost.0, 1);
    sql_query("UPDATE gyms SET settings = $1 WHERE id = $2")
        .bind::<Jsonb, _>(serde_json::json!({"per_rack": "many"}))
        .bind::<SqlUuid, _>(h.gym.0)
        .execute(&mut conn)
        .unwrap();
    let hall = gym::find(&mut conn, h.gym).unwrap();
    assert!(hall.settings_lost && hall.settings == Settings::default());
}

#[test]
fn a_sheet_is_saved_over_only_by_who_saw_it() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let seen = sheet::find(&mut conn, h.gym, h.session).unwrap();
    let blocks = Blocks::default().align(&read("# workout\namrap 5:00\n5 burpees").sheet.blocks);
    let by = (h.gym, AccountId::fresh());
    sheet::save(&mut conn, by, h.session, ("theirs", &blocks), seen.version).unwrap();
    let late = sheet::save(&mut conn, by, h.session, ("mine", &Blocks::default()), seen.version);
    assert!(matches!(late, Err(StoreError::Raced)));
    let now = sheet::find(&mut conn, h.gym, h.session).unwrap();
    assert_eq!((now.sheet.as_str(), now.version, now.blocks), ("theirs", seen.version + 1, blocks));
    assert_eq!(sheet::classes_of(&mut conn, h.gym, h.session).unwrap(), 1);
}

#[test]
fn results_of_a_block_that_is_gone_are_given_to_another_but_never_over_one() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let bo = roster::add(&mut conn, h.gym, &Member::unknown("Bo", Standard::Heavier, Level::New), 0).unwrap();
    booking::change(&mut conn, h.gym, h.class, &[bo], &[]).unwrap();
    h.log(h.class, 7, 500.0, "Ines");
    let (plan, inputs) = h.made();
    let holds = Holds { plan: &plan, inputs: &inputs };
    for block in [7, 1] {
        let r = result(bo, block, 300.0 + f64::from(block));
        logbook::log(&mut conn, h.gym, h.class, &r, (holds, "Ines")).unwrap();
    }
    assert_eq!(logbook::belong(&mut conn, h.gym, h.class, 7, 1).unwrap(), 1);
    let mut all: Vec<(bool, u32)> =
        logbook::list(&mut conn, h.gym, h.class).unwrap().iter().map(|l| (l.member == bo, l.block)).collect();
    all.sort_unstable();
    assert_eq!(all, [(false, 1), (true, 1), (true, 7)], "Bo's two results both stay");
    let trail = logbook::changes(&mut conn, h.gym, h.class).unwrap();
    let ada: Vec<u32> = trail.iter().filter(|c| c.member == h.ada).map(|c| c.block).collect();
    assert_eq!(ada, [1], "the trail goes with its result");
}

#[test]
fn a_lift_added_while_a_form_was_open_stays() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let shown = roster::find(&mut conn, h.gym, h.ada).unwrap();
    let max = Max { lift: "back-squat".into(), kg: 90.0, reps: 1, reserve: 0, date: Some(day(20)) };
    roster::add_maxes(&mut conn, h.gym, h.ada, std::slice::from_ref(&max)).unwrap();
    let typed = Member { stature_cm: Some(170.0), ..shown.clone() };
    roster::change(&mut conn, h.gym, h.ada, |now| lantern_core::roster::edited(now, &shown, &typed)).unwrap();
    let now = roster::find(&mut conn, h.gym, h.ada).unwrap();
    assert_eq!((now.maxes, now.stature_cm), (vec![max], Some(170.0)));
}

#[test]
fn everybody_takes_back_their_own_and_does_it_again() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let (ines, bram) = (AccountId::fresh(), AccountId::fresh());
    let length = |seconds| Decision::Length { key: "warm-up".into(), seconds };
    for (s, by) in [(480, ines), (540, bram), (600, ines)] {
        decision::add(&mut conn, h.gym, h.class, &length(s), by).unwrap();
    }
    let stand = || decision::list(&mut h.db.conn(), h.gym, h.class).unwrap().0;
    // Bram's is not Ines's to take back, though it is the later one
    let undo = |by| decision::undo(&mut h.db.conn(), h.gym, h.class, by).unwrap();
    assert_eq!(undo(ines), Some(length(600)));
    assert_eq!(undo(ines), Some(length(480)));
    assert_eq!((undo(ines), stand()), (None, vec![length(540)]));
    let redo = |by| decision::redo(&mut h.db.conn(), h.gym, h.class, by).unwrap();
    assert_eq!((redo(bram), redo(ines)), (None, Some(length(480))), "what was taken back last comes first");
    assert_eq!(stand(), [length(480), length(540)]);
    // a new decision ends what could be done again
    decision::add(&mut conn, h.gym, h.class, &length(660), ines).unwrap();
    assert_eq!((redo(ines), stand()), (None, vec![length(480), length(540), length(660)]));
    let (made, lost) = decision::made(&mut conn, h.gym, h.class).unwrap();
    assert!(lost == 0 && made.iter().all(|m| m.undone.is_none()));
    assert!(made[0].is_of(ines) && !made[0].is_of(bram));
}

#[test]
fn a_class_is_moved_cancelled_and_repeated() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let to = at(25, 7);
    class::change_hour(&mut conn, h.gym, h.class, &hour(to, Some(4500), None)).unwrap();
    let c = class::find(&mut conn, h.gym, h.class).unwrap();
    assert_eq!((c.starts_at, c.length_s, c.coach_id, c.cancelled), (to, Some(4500), None, false));
    let stranger = class::change_hour(&mut conn, h.gym, h.class, &hour(to, None, Some(AccountId::fresh())));
    assert!(matches!(stranger, Err(StoreError::NotFound)), "a coach of this hall");
    class::cancel(&mut conn, h.gym, h.class, true).unwrap();
    assert!(class::find(&mut conn, h.gym, h.class).unwrap().cancelled);
    class::cancel(&mut conn, h.gym, h.class, false).unwrap();
    assert!(!class::find(&mut conn, h.gym, h.class).unwrap().cancelled);
    let made = class::repeat(&mut conn, h.gym, h.class, 2).unwrap();
    let days: Vec<NaiveDateTime> =
        made.iter().map(|c| class::find(&mut h.db.conn(), h.gym, *c).unwrap().starts_at).collect();
    assert_eq!(days, [to + chrono::Duration::weeks(1), to + chrono::Duration::weeks(2)]);
    let next = class::find(&mut conn, h.gym, made[0]).unwrap();
    assert_eq!((next.length_s, booking::planned(&mut conn, h.gym, made[0]).unwrap().len()), (Some(4500), 1));
    assert_eq!(sheet::find(&mut conn, h.gym, next.session).unwrap().sheet, "", "each has a sheet of its own");
    let other = gym::add(&mut conn, "B", "", false).unwrap();
    let gone = |r: lantern_store::Result<()>| matches!(r, Err(StoreError::NotFound));
    assert!(gone(class::cancel(&mut conn, other, h.class, true)));
    assert!(gone(class::change_hour(&mut conn, other, h.class, &hour(to, None, None))));
    assert!(gone(class::repeat(&mut conn, other, h.class, 1).map(drop)));
}

#[test]
fn a_key_is_done_once_and_what_failed_or_was_refused_keeps_none() {
    use lantern_store::{Once, once};
    let h = Hall::new();
    let mut conn = h.db.conn();
    let key = Some(uuid::Uuid::now_v7());
    let length = Decision::Length { key: "warm-up".into(), seconds: 480 };
    let add =
        |conn: &mut diesel::PgConnection| decision::add(conn, h.gym, h.class, &length, AccountId::fresh());
    let count = || decision::list(&mut h.db.conn(), h.gym, h.class).unwrap().0.len();
    // it fails after it was done: nothing of it stays, not even the key
    let failed: Result<Once<()>, StoreError> = once(
        &mut conn,
        h.gym,
        key,
        |_| false,
        |conn| {
            add(conn)?;
            Err(StoreError::Refused)
        },
    );
    assert!(failed.is_err() && count() == 0);
    assert_eq!(once(&mut conn, h.gym, key, |_| true, |_| Ok::<_, StoreError>(())).unwrap(), Once::Done(()));
    assert_eq!(once(&mut conn, h.gym, key, |_| false, add).unwrap(), Once::Done(()));
    assert_eq!(once(&mut conn, h.gym, key, |_| false, add).unwrap(), Once::Already);
    assert_eq!(count(), 1);
    let other = gym::add(&mut conn, "B", "", false).unwrap();
    let there = once(&mut conn, other, key, |_| false, |_| Ok::<_, StoreError>(()));
    assert_eq!(there.unwrap(), Once::Done(()), "another hall's keys are its own");
    assert_eq!(lantern_store::forget_old(&mut conn, h.gym).unwrap(), 0, "it is not old");
}

#[test]
fn the_day_on_which_somebody_trained_moves_with_the_class() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    h.log(h.class, 0, 500.0, "Ines");
    let sessions = |conn: &mut lantern_store::PlainConnection, day| {
        roster::of(conn, h.gym, &[h.ada], day).unwrap()[0].sessions_logged.unwrap()
    };
    let before = sessions(&mut conn, day(24));
    assert_eq!(sessions(&mut conn, day(26)), before + 1);
    class::change_hour(&mut conn, h.gym, h.class, &hour(at(27, 18), None, None)).unwrap();
    assert_eq!(sessions(&mut conn, day(26)), before, "it is held later now");
    assert_eq!(sessions(&mut conn, day(28)), before + 1);
}

#[test]
fn parts_of_the_hour_keep_their_clocks_and_the_way_down_keeps_the_workouts() {
    use diesel::connection::SimpleConnection;
    use lantern_core::hour::Press;
    use lantern_store::clock::{find, press, start, turn};
    let h = Hall::new();
    let mut conn = h.db.conn();
    let at = |s: i64| chrono::DateTime::from_timestamp(1_800_000_000 + s, 0).unwrap();
    // started before any part is shown, it is the workout's
    let wall = start(&mut conn, h.gym, h.class, Some("workout-1"), at(0)).unwrap();
    assert_eq!((wall.stage.as_deref(), wall.clock.started), (Some("workout-1"), Some(at(10))));
    let turned =
        |conn: &mut PgConnection, from, to, starts| turn(conn, h.gym, h.class, (from, to), starts).unwrap();
    let cool = turned(&mut conn, Some("workout-1"), Some("cool-down"), Some(at(800)));
    assert_eq!((cool.clock.started, cool.clock_of("workout-1")), (Some(at(800)), wall.clock));
    // pressed on what is not shown any more
    assert_eq!(turned(&mut conn, Some("workout-1"), Some("results"), None), cool);
    press(&mut conn, h.gym, h.class, Press::Pause, at(820)).unwrap();
    // a second look at a part does not start its clock again
    turned(&mut conn, Some("cool-down"), Some("workout-1"), None);
    let again = turned(&mut conn, Some("workout-1"), Some("cool-down"), Some(at(990)));
    assert_eq!((again.clock.started, again.clock.paused), (Some(at(800)), Some(at(820))));
    let other = lantern_store::GymId(uuid::Uuid::now_v7());
    assert!(turn(&mut conn, other, h.class, (Some("cool-down"), None), None).is_err());
    assert_eq!(find(&mut conn, h.gym, h.class).unwrap(), again);
    // an older version has one clock: the workout's
    conn.batch_execute(include_str!("../../migrations/00000000000021_wall_stage/down.sql")).unwrap();
    #[derive(QueryableByName)]
    struct Row {
        #[diesel(sql_type = diesel::sql_types::Nullable<diesel::sql_types::Timestamptz>)]
        clock_started_at: Option<chrono::DateTime<chrono::Utc>>,
    }
    let row: Row = sql_query("SELECT clock_started_at FROM classes WHERE gym_id = $1 AND id = $2")
        .bind::<SqlUuid, _>(h.gym.0)
        .bind::<SqlUuid, _>(h.class.0)
        .get_result(&mut conn)
        .unwrap();
    assert_eq!(row.clock_started_at, Some(at(10)));
}
