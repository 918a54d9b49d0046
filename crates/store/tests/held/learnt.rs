//! Results are judged once by what was shown before them, and teach.

use super::hall::*;
use diesel::prelude::*;
use diesel::sql_query;
use diesel::sql_types::Uuid as SqlUuid;
use lantern_core::record::Unjudged;
use lantern_core::versions::Tier;
use lantern_store::logbook::{Holds, Logged};
use lantern_store::{ClassId, StoreError, gym, logbook, record};

#[test]
fn a_result_is_judged_once_counted_and_judged_again_when_it_is_corrected() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let plan = logbook::find_frozen(&mut conn, h.gym, h.class).unwrap().plan;
    assert!(plan.is_none());
    h.log(h.class, 0, 500.0, "Ines");
    let plan = logbook::find_frozen(&mut conn, h.gym, h.class).unwrap().plan.unwrap();
    let p = plan.members[0].predictions.iter().find(|p| p.block == 0).unwrap().clone();
    let stands = |conn: &mut lantern_store::PlainConnection| {
        let c = record::counted(conn, h.gym, day(25), 14).unwrap();
        assert_eq!((c.classes, c.waiting, c.lost), (1, 0, (0, None)));
        assert_eq!((c.latest[0].class, c.latest[0].of), (h.class, 1));
        assert!(c.cells.iter().all(|c| c.late && !c.learnt && c.of == 1), "{:?}", c.cells);
        assert_eq!(c.slots.iter().sum::<usize>(), 1);
        let members: Vec<_> = c.cells.iter().map(|c| (c.inside, c.of)).collect();
        assert_eq!(c.members, members);
        (c.slots[9], c.cells.iter().map(|c| (c.missed, c.inside)).collect::<Vec<_>>(), c.cap)
    };
    let result = |seconds| result(h.ada, 0, seconds);
    let tier = plan.members[0].predictions[0].tier;
    let inputs = logbook::find_frozen(&mut conn, h.gym, h.class).unwrap().inputs.unwrap();
    let correct = |conn: &mut lantern_store::PlainConnection, seconds: f64| {
        let holds = Holds { plan: &plan, inputs: &inputs };
        logbook::log(conn, h.gym, h.class, &Logged { tier, ..result(seconds) }, (holds, "Ines")).unwrap();
    };
    correct(&mut conn, p.p50);
    let middle = stands(&mut conn);
    assert_eq!((middle.0, middle.1), (0, vec![([0, 0], 1)]), "the middle is inside");
    correct(&mut conn, p.p90 + 60.0);
    let late = stands(&mut conn);
    assert_eq!((late.0, &late.1), (1, &vec![([0, 1], 0)]));
    assert_eq!(stands(&mut conn), late, "counting changes nothing");
    // the chance of the cap that was said, and that it did not come
    let bin = late.2[0];
    assert!((bin.said - p.capped).abs() < 1e-9 && bin.came == 0.0 && bin.of == 1, "{bin:?}");
    // another hall's record has none of it
    let other = gym::add(&mut conn, "Elsewhere", "", false).unwrap();
    assert_eq!(record::counted(&mut conn, other, day(25), 14).unwrap(), record::Counted::default());
}

#[test]
fn a_month_is_added_up_once_until_its_log_changes() {
    let h = Hall::new();
    let mut conn = h.db.conn();
    let before = class_at(&mut conn, h.gym, h.session, at(24, 18) - chrono::Months::new(1), h.ada);
    let (plan, inputs) = h.made();
    let tier = plan.members[0].tier.unwrap();
    let log = |class: ClassId, seconds: f64| {
        let logged = Logged { tier, ..result(h.ada, 0, seconds) };
        let holds = Holds { plan: &plan, inputs: &inputs };
        logbook::log(&mut h.db.conn(), h.gym, class, &logged, (holds, "Ines")).unwrap();
    };
    log(before, 500.0);
    log(h.class, 500.0);
    let mut counted = || record::counted(&mut conn, h.gym, day(25), 14).unwrap();
    let first = counted();
    assert_eq!((first.classes, first.members.clone()), (2, vec![(first.members[0].0, 2)]));
    assert_eq!(
        first.cells.iter().map(|c| c.late).collect::<Vec<_>>(),
        [true, true],
        "both in the last 60 days"
    );
    let [window, cap] = [&first.window, &first.cap].map(|b| b.iter().map(|b| b.of).collect::<Vec<_>>());
    assert_eq!((window, cap), (vec![2], vec![2]), "one chance each was said, to both");
    assert_eq!(counted(), first);
    // what is kept is what is shown
    let spoil = |of: &str| {
        let set = "UPDATE record_months SET body = jsonb_set(body, '{slots,0}', '7') WHERE gym_id = $1";
        let n = sql_query(format!("{set} AND {of}")).bind::<SqlUuid, _>(h.gym.0).execute(&mut h.db.conn());
        assert_eq!(n.unwrap(), 1);
    };
    spoil("month = '2026-10-01'");
    spoil("month = '2026-11-01'");
    assert_eq!(counted().slots[0], 14);
    // a change of one month's log adds that month up again, and no other
    log(h.class, 501.0);
    assert_eq!(counted().slots[0], 7 + first.slots[0].min(1));
    logbook::remove(&mut h.db.conn(), h.gym, before, (h.ada, 0), "Ines").unwrap();
    let last = counted();
    assert_eq!(
        (last.slots.iter().sum::<usize>(), last.classes, last.span),
        (1, 1, Some((at(24, 18), at(24, 18))))
    );
    // what is not judged says no chance
    let other = Tier::ALL.into_iter().find(|t| *t != tier).unwrap();
    let logged = Logged { tier: other, ..result(h.ada, 0, 400.0) };
    logbook::log(&mut h.db.conn(), h.gym, before, &logged, (Holds { plan: &plan, inputs: &inputs }, "Ines"))
        .unwrap();
    let aside = counted();
    assert_eq!((aside.unjudged.clone(), &aside.window), (vec![(Unjudged::OtherVersion, 1)], &last.window));
    let last = aside;
    // what cannot be read any more is worked out again
    let all = sql_query("UPDATE record_months SET body = '{}' WHERE gym_id = $1").bind::<SqlUuid, _>(h.gym.0);
    assert_eq!(all.execute(&mut h.db.conn()).unwrap(), 2);
    assert_eq!(counted(), last);
}

#[test]
fn a_result_after_a_cut_is_of_other_work_until_the_cut_is_taken_back() {
    use lantern_core::plan::{Passed, Shout};
    use lantern_store::cut::{self, Taken};
    let h = Hall::new();
    let mut conn = h.db.conn();
    let tier = h.made().0.members[0].tier.unwrap();
    let (plan, inputs) = h.made();
    let logged = Logged { tier, ..result(h.ada, 0, 500.0) };
    let holds = Holds { plan: &plan, inputs: &inputs };
    let of = |at_s: f64, out: usize| Taken {
        member: h.ada,
        block: 0,
        passed: Passed { steps: 1, at_s },
        shout: Shout::Rounds { out },
    };
    cut::take(&mut conn, h.gym, h.class, &of(200.0, 1), "Ines").unwrap();
    cut::take(&mut conn, h.gym, h.class, &of(210.0, 2), "Bram").unwrap();
    let stands = |conn: &mut diesel::PgConnection| cut::list(conn, h.gym, h.class).unwrap();
    assert_eq!(stands(&mut conn), [of(210.0, 2)], "the last word counts");
    logbook::log(&mut conn, h.gym, h.class, &logged, (holds, "Ines")).unwrap();
    let counted = || {
        let c = record::counted(&mut h.db.conn(), h.gym, day(25), 14).unwrap();
        (c.slots.iter().sum::<usize>(), c.unjudged)
    };
    assert_eq!(counted(), (0, vec![(Unjudged::Cut, 1)]));
    let taught = |conn: &mut diesel::PgConnection| {
        let from = lantern_core::learning::first_day(day(25));
        lantern_store::learning::log(conn, h.gym, from, day(25)).unwrap().len()
    };
    assert_eq!(taught(&mut conn), 0, "nor does it teach");
    // taken back, also after the result, it is judged like any
    assert!(cut::take_back(&mut conn, h.gym, h.class, (h.ada, 0)).unwrap());
    assert!(!cut::take_back(&mut conn, h.gym, h.class, (h.ada, 0)).unwrap(), "only once");
    assert_eq!((stands(&mut conn), counted()), (vec![], (1, vec![])));
    assert_eq!(taught(&mut conn), 1);
    cut::take(&mut conn, h.gym, h.class, &of(200.0, 1), "Ines").unwrap();
    assert_eq!(counted(), (0, vec![(Unjudged::Cut, 1)]));
    // who is not booked is told nothing, nor does another hall reach anybody
    let nobody = Taken { member: lantern_store::MemberId(uuid::Uuid::now_v7()), ..of(200.0, 1) };
    assert!(matches!(cut::take(&mut conn, h.gym, h.class, &nobody, "Ines"), Err(StoreError::NotFound)));
    let other = lantern_store::GymId(uuid::Uuid::now_v7());
    assert!(cut::take(&mut conn, other, h.class, &of(200.0, 1), "Ines").is_err());
    assert!(!cut::take_back(&mut conn, other, h.class, (h.ada, 0)).unwrap());
    assert_eq!(cut::list(&mut conn, other, h.class).unwrap(), []);
}

#[test]
fn results_teach_from_the_next_day_on_until_they_are_left_out() {
    use lantern_core::learning::{LeftOut, first_day};
    use lantern_store::learning;
    let h = Hall::new();
    let mut conn = h.db.conn();
    let tier = h.made().0.members[0].tier.unwrap();
    let log = |class: ClassId, seconds: f64| {
        let (plan, inputs) = h.made();
        let logged = Logged { tier, ..result(h.ada, 0, seconds) };
        logbook::log(
            &mut h.db.conn(),
            h.gym,
            class,
            &logged,
            (Holds { plan: &plan, inputs: &inputs }, "Ines"),
        )
        .unwrap();
    };
    let middle = h.made().0.members[0].predictions[0].foretold.unwrap().middle;
    log(h.class, middle * 1.1);
    assert_eq!(learning::days(&mut conn, h.gym, day(24)).unwrap(), [], "the day itself teaches nothing");
    let days = learning::days(&mut conn, h.gym, day(25)).unwrap();
    let held = learning::log(&mut conn, h.gym, first_day(day(25)), day(25)).unwrap();
    assert_eq!((held.len(), held[0].date, held[0].results.len()), (1, day(24), 1));
    let seen = &held[0].results[0];
    assert!((seen.late - 1.1f64.ln()).abs() < 1e-9 && !seen.left_out, "{seen:?}");
    let base = h.made().0.members[0].predictions[0].foretold.unwrap();
    assert_eq!(
        (seen.foretold.better, seen.foretold.format, seen.foretold.group),
        (base.better, base.format, base.group)
    );
    // every change of the day's log is told from the one before
    learning::leave_out(&mut conn, h.gym, h.class, (h.ada, 0), Some(LeftOut::OddDay)).unwrap();
    assert_ne!(learning::days(&mut conn, h.gym, day(25)).unwrap(), days);
    let held = learning::log(&mut conn, h.gym, day(1), day(25)).unwrap();
    assert!(held[0].results[0].left_out);
    assert_eq!(learning::left_out(&mut conn, h.gym, h.class).unwrap(), [(h.ada, 0, LeftOut::OddDay)]);
    let shown = learning::of_member(&mut conn, h.gym, h.ada, 10).unwrap();
    assert_eq!((shown.len(), shown[0].left_out), (1, Some(LeftOut::OddDay)));
    assert_eq!(shown[0].of, held[0].results[0].of);
    // another hall sees and changes none of it
    let other = gym::add(&mut conn, "B", "Elsewhere", false).unwrap();
    assert!(learning::log(&mut conn, other, day(1), day(25)).unwrap().is_empty());
    let theirs = learning::leave_out(&mut conn, other, h.class, (h.ada, 0), None);
    assert!(matches!(theirs, Err(StoreError::NotFound)), "{theirs:?}");
    learning::leave_out(&mut conn, h.gym, h.class, (h.ada, 0), None).unwrap();
    assert_eq!(learning::forget(&mut conn, h.gym, h.ada).unwrap(), 1);
    // a correction is judged and learnt again
    let before = learning::days(&mut conn, h.gym, day(25)).unwrap();
    log(h.class, middle * 0.9);
    assert_ne!(learning::days(&mut conn, h.gym, day(25)).unwrap(), before);
    let held = learning::log(&mut conn, h.gym, day(1), day(25)).unwrap();
    assert!(held[0].results[0].late < 0.0);
    // and a hall that goes takes its days with it
    sql_query("DELETE FROM gyms WHERE id = $1").bind::<SqlUuid, _>(h.gym.0).execute(&mut conn).unwrap();
}

#[test]
fn a_prediction_is_older_than_its_result() {
    use lantern_store::shown::{self, Why};
    let h = Hall::new();
    let mut conn = h.db.conn();
    let (mut before, inputs) = h.made();
    let tier = before.members[0].tier.unwrap();
    // on the card stood another range than the one that is planned when the result comes
    before.members[0].predictions[0].p50 += 7.0;
    shown::keep(&mut conn, h.gym, h.class, &before, Why::Card).unwrap();
    shown::keep(&mut conn, h.gym, h.class, &before, Why::Clock).unwrap();
    let kept: i64 = {
        #[derive(QueryableByName)]
        struct N {
            #[diesel(sql_type = diesel::sql_types::BigInt)]
            n: i64,
        }
        sql_query("SELECT count(*) AS n FROM shown_plans").get_result::<N>(&mut conn).unwrap().n
    };
    assert_eq!(kept, 1, "the same plan is kept once");
    let log = || {
        let (plan, _) = h.made();
        let holds = Holds { plan: &plan, inputs: &inputs };
        let logged = Logged { tier, ..result(h.ada, 0, 500.0) };
        logbook::log(&mut h.db.conn(), h.gym, h.class, &logged, (holds, "Ines")).unwrap();
    };
    log();
    let judged_by = |conn: &mut lantern_store::PlainConnection| {
        logbook::find_frozen(conn, h.gym, h.class).unwrap().plan.unwrap().members[0].predictions[0].p50
    };
    let shown_then = before.members[0].predictions[0].p50;
    assert_eq!(judged_by(&mut conn), shown_then);
    // taken back and logged again, it is still judged by what was shown
    logbook::remove(&mut conn, h.gym, h.class, (h.ada, 0), "Ines").unwrap();
    assert!(logbook::find_frozen(&mut conn, h.gym, h.class).unwrap().plan.is_none());
    log();
    assert_eq!(judged_by(&mut conn), shown_then);
    // whoever does other lines than were shown is judged by what is planned for these
    let mut other = before.clone();
    other.members[0].lines[0].text.push('!');
    assert_eq!(h.made().0.as_shown(&other).members[0].predictions[0].p50, shown_then - 7.0);
}
