//! The store against a real PostgreSQL: what goes in comes out, and one gym never sees another's rows.
#![allow(clippy::unwrap_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

use chrono::{NaiveDate, Utc};
use diesel::PgConnection;
use lantern_core::held::{Blocks, Inputs};
use lantern_core::kinds::Limit;
use lantern_core::kit::Kit;
use lantern_core::logbook::Outcome;
use lantern_core::pacing::Level;
use lantern_core::plan::{Class as PlanClass, Decision, Options, PlanAnswer, answer, plan};
use lantern_core::roster::{Best, Max, Member, Trial};
use lantern_core::settings::Settings;
use lantern_core::sheet::{WeightUnit, read};
use lantern_core::units::Standard;
use lantern_core::versions::Tier;
use lantern_store::class::NewClass;
use lantern_store::logbook::{Frozen, Holds, Logged};
use lantern_store::testing::{TestDatabase, set_sheet};
use lantern_store::{
    AccountId, ClassId, GymId, MemberId, StoreError, account, booking, class, clock, decision, gym, kit,
    logbook, roster, sheet,
};

const SHEET: &str = "# workout \"Quay\" cap 12:00\n3 rounds for time\n10 burpees\n200 m run";

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

fn ada() -> Member {
    let mut m = Member::unknown("Ada Vell", Standard::Lighter, Level::Seasoned);
    m.body_mass_kg = Some(61.5);
    m.stature_cm = Some(168.0);
    m.limits = vec![Limit::Knee, Limit::Shoulder];
    m.maxes = vec![Max { lift: "back-squat".into(), kg: 92.5, reps: 3, reserve: 1, date: Some(day()) }];
    m.unbroken = vec![Best { movement: "pull-up".into(), reps: 9.0, date: None }];
    m.trials = vec![Trial { test: "row-2000".into(), seconds: 478.0, date: Some(day()) }];
    m
}

struct Hall {
    gym: GymId,
    member: MemberId,
    class: ClassId,
}

fn hall(conn: &mut PgConnection, name: &str) -> Hall {
    let gym = gym::add(conn, name, "Port Ellery", false).unwrap();
    let member = roster::add(conn, gym, &ada(), 12).unwrap();
    let session = sheet::add(conn, gym, day(), SHEET).unwrap();
    let new = NewClass {
        session,
        starts_at: day().and_hms_opt(18, 0, 0).unwrap(),
        length_s: Some(3600),
        places: None,
        coach: None,
        booked: vec![member],
    };
    let class = class::add(conn, gym, &new).unwrap();
    Hall { gym, member, class }
}

fn the_class(member: MemberId) -> PlanClass {
    PlanClass {
        members: vec![Member { id: member.to_string(), ..ada() }],
        kit: Kit::usual(),
        date: day(),
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    }
}

fn inputs(member: MemberId) -> Inputs {
    let blocks = Blocks::default().align(&read(SHEET).sheet.blocks);
    let (class, settings) = (the_class(member), Settings::default());
    Inputs { sheet: SHEET.into(), choices: Vec::new(), blocks, class, settings, runs: 96, seed: 1 }
}

fn holds<'a>(plan: &'a PlanAnswer, inputs: &'a Inputs) -> Holds<'a> {
    Holds { plan, inputs }
}

fn a_plan(member: MemberId) -> PlanAnswer {
    let options = Options { runs: 10, ..Options::default() };
    answer(&plan(&read(SHEET).sheet, &the_class(member), &Settings::default(), &[], options))
}

fn finished(member: MemberId) -> Logged {
    let outcome = Outcome::Time { seconds: 500.0 };
    Logged {
        member,
        block: 0,
        outcome,
        tier: Tier::Trim,
        load_kg: Some(40.0),
        note: "strong".into(),
        volume: [("squat".to_owned(), 36.0)].into(),
    }
}

#[test]
fn what_was_chosen_for_a_line_is_kept_with_the_sheet() {
    use lantern_core::sheet::{BlockKind, Chosen};
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let (one, two) = (hall(&mut conn, "Alder"), hall(&mut conn, "Birch"));
    let session = class::find(&mut conn, one.gym, one.class).unwrap().session;
    assert_eq!(sheet::find(&mut conn, one.gym, session).unwrap().choices, vec![]);
    let line = "3 rounds of easy rowing";
    sheet::choose(&mut conn, one.gym, session, line, Chosen::Opens(BlockKind::WarmUp)).unwrap();
    sheet::choose(&mut conn, one.gym, session, "see you", Chosen::Message).unwrap();
    sheet::choose(&mut conn, one.gym, session, line, Chosen::GoesOn).unwrap();
    let kept = sheet::find(&mut conn, one.gym, session).unwrap().choices;
    let want = [("see you", Chosen::Message), (line, Chosen::GoesOn)].map(|(t, c)| (t.to_owned(), c));
    assert_eq!(kept, want, "a later choice replaces the earlier one");
    assert!(sheet::choose(&mut conn, two.gym, session, line, Chosen::Message).is_err(), "another hall's");
}

#[test]
fn migrations_run_down_and_up_again() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    gym::add(&mut conn, "A", "B", false).unwrap();
    lantern_store::revert_all(&mut conn).unwrap();
    lantern_store::migrate(&mut conn).unwrap();
    assert_eq!(gym::find_demo(&mut conn).unwrap(), None);
}

#[test]
fn a_schema_of_a_newer_version_is_seen() {
    use diesel::RunQueryDsl;
    let db = TestDatabase::new();
    let mut conn = db.conn();
    assert!(!lantern_store::unknown_schema(&mut conn).unwrap());
    let newer = "INSERT INTO __diesel_schema_migrations (version) VALUES ('99999999999999')";
    diesel::sql_query(newer).execute(&mut conn).unwrap();
    assert!(lantern_store::unknown_schema(&mut conn).unwrap());
}

#[test]
fn going_down_takes_no_rights_in_silence() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let gym = gym::add(&mut conn, "A", "B", false).unwrap();
    let desk =
        account::add(&mut conn, gym, "d@hall.example", "D", account::Role::FrontDesk, "a long enough word")
            .unwrap();
    let refused = lantern_store::revert_all(&mut conn).unwrap_err();
    assert!(refused.to_string().contains("make them coaches or remove them first"), "{refused}");
    assert_eq!(
        account::list(&mut conn, gym).unwrap()[0].role,
        account::Role::FrontDesk,
        "nothing was changed"
    );
    account::change_role(&mut conn, gym, desk, account::Role::Coach).unwrap();
    lantern_store::revert_all(&mut conn).unwrap();
}

#[test]
fn going_down_forgets_nothing_in_silence() {
    use diesel::RunQueryDsl;
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let by = account::check(&mut conn, "ines@hall.example", "long enough").unwrap();
    let by = by.unwrap_or_else(|| account::Account {
        gym: h.gym,
        id: AccountId::fresh(),
        name: "Ines".into(),
        role: account::Role::Owner,
    });
    lantern_store::feed::renew(&mut conn, h.gym, "Ines").unwrap();
    lantern_store::audit::keep(&mut conn, &by, lantern_core::people::Deed::ChangedKit, None, "").unwrap();
    booking::keep_came(&mut conn, h.gym, h.class, h.member, Some(lantern_core::timetable::Came::Late))
        .unwrap();
    for (words, mend) in [
        ("bookings from elsewhere", "DELETE FROM feeds"),
        ("who changed what", "DELETE FROM audit"),
        ("how somebody came", "UPDATE bookings SET came = NULL"),
    ] {
        let refused = lantern_store::revert_all(&mut conn).unwrap_err();
        assert!(refused.to_string().contains(words), "{words}: {refused}");
        lantern_store::migrate(&mut conn).unwrap();
        diesel::sql_query(mend).execute(&mut conn).unwrap();
    }
    lantern_store::revert_all(&mut conn).unwrap();
}

#[test]
fn a_member_comes_back_with_everything_known() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let mut m = roster::find(&mut conn, h.gym, h.member).unwrap();
    assert_eq!(m.sessions_logged, Some(12));
    m.sessions_logged = None;
    assert_eq!(m, Member { id: h.member.to_string(), ..ada() });
    m.limits.clear();
    m.maxes[0].kg = 95.0;
    roster::change(&mut conn, h.gym, h.member, |_| m.clone()).unwrap();
    let again = roster::find(&mut conn, h.gym, h.member).unwrap();
    assert_eq!((again.limits.len(), again.maxes[0].kg, again.sessions_logged), (0, 95.0, Some(12)));
}

#[test]
fn two_members_cannot_share_a_name_and_wild_figures_are_refused() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    assert!(matches!(roster::add(&mut conn, h.gym, &ada(), 0), Err(StoreError::Taken(_))));
    let heavy = Member { name: "Bo".into(), body_mass_kg: Some(900.0), ..ada() };
    assert!(matches!(roster::add(&mut conn, h.gym, &heavy, 0), Err(StoreError::Refused)));
    assert_eq!(roster::list(&mut conn, h.gym).unwrap().len(), 1, "nothing of a refused member stays");
}

#[test]
fn kit_and_settings_come_back_as_they_were() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    assert_eq!(kit::find(&mut conn, h.gym).unwrap(), Kit::default());
    let mut k = Kit::usual();
    k.collar_kg = 2.5;
    for list in [&mut k.bars, &mut k.plates, &mut k.dumbbells, &mut k.kettlebells, &mut k.balls, &mut k.boxes]
    {
        list.sort_by(|a, b| b.size.total_cmp(&a.size));
    }
    kit::change(&mut conn, h.gym, &k).unwrap();
    assert_eq!(kit::find(&mut conn, h.gym).unwrap(), k);
    let mut s = Settings { per_rack: 4, ..Settings::default() };
    s.schools.insert("what-to-scale".into(), "cut-time".into());
    gym::change_settings(&mut conn, h.gym, &s).unwrap();
    assert_eq!(gym::find(&mut conn, h.gym).unwrap().settings, s);
    // an answer about pounds leaves the rest as another coach has it
    gym::answer_pound_pairs(&mut conn, h.gym, WeightUnit::Lb).unwrap();
    s.pound_pairs = Some(WeightUnit::Lb);
    assert_eq!(gym::find(&mut conn, h.gym).unwrap().settings, s);
    let other = hall(&mut conn, "B");
    assert_eq!(gym::find(&mut conn, other.gym).unwrap().settings.pound_pairs, None);
}

#[test]
fn a_draft_is_its_writers_until_they_save() {
    use account::Role::{Coach, Owner};
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let mut add = |email, role| account::add(&mut conn, h.gym, email, "Ines", role, "long enough").unwrap();
    let (ines, tam) = (add("ines@hall.example", Owner), add("tam@hall.example", Coach));
    let id = class::find(&mut conn, h.gym, h.class).unwrap().session;
    sheet::keep_draft(&mut conn, (h.gym, ines), id, "half").unwrap();
    sheet::keep_draft(&mut conn, (h.gym, ines), id, "half a line\0").unwrap();
    sheet::keep_draft(&mut conn, (h.gym, tam), id, "of Tam's").unwrap();
    let s = sheet::find(&mut conn, h.gym, id).unwrap();
    assert_eq!(
        (s.sheet.as_str(), s.draft_of(ines), s.draft_of(tam)),
        (SHEET, Some("half a line\u{fffd}"), Some("of Tam's"))
    );
    // saving ends one's own draft and leaves the other's
    sheet::save(&mut conn, (h.gym, ines), id, ("new", &s.blocks), s.version).unwrap();
    let s = sheet::find(&mut conn, h.gym, id).unwrap();
    assert_eq!((s.sheet.as_str(), s.draft_of(ines), s.draft_of(tam)), ("new", None, Some("of Tam's")));
    sheet::drop_draft(&mut conn, (h.gym, tam), id).unwrap();
    assert!(sheet::find(&mut conn, h.gym, id).unwrap().drafts.is_empty());
}

#[test]
fn decisions_stay_in_order_and_the_last_is_taken_back() {
    let (db, ines) = (TestDatabase::new(), AccountId::fresh());
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let length = |seconds| Decision::Length { key: "warm-up".into(), seconds };
    for s in [480, 540, 600] {
        decision::add(&mut conn, h.gym, h.class, &length(s), ines).unwrap();
    }
    assert!(decision::undo(&mut conn, h.gym, h.class, ines).unwrap().is_some());
    assert_eq!(decision::list(&mut conn, h.gym, h.class).unwrap(), (vec![length(480), length(540)], 0));
    assert!(
        decision::undo(&mut conn, h.gym, h.class, ines).unwrap().is_some()
            && decision::undo(&mut conn, h.gym, h.class, ines).unwrap().is_some()
    );
    assert!(decision::undo(&mut conn, h.gym, h.class, ines).unwrap().is_none());
}

#[test]
fn a_result_freezes_the_plan_and_the_last_one_taken_back_thaws_it() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let (first, inputs) = (a_plan(h.member), inputs(h.member));
    logbook::log(&mut conn, h.gym, h.class, &finished(h.member), (holds(&first, &inputs), "Ines")).unwrap();
    let mut later = first.clone();
    later.title = Some("changed afterwards".into());
    let corrected = Logged { outcome: Outcome::Time { seconds: 510.0 }, ..finished(h.member) };
    logbook::log(&mut conn, h.gym, h.class, &corrected, (holds(&later, &inputs), "Bram")).unwrap();
    assert_eq!(logbook::list(&mut conn, h.gym, h.class).unwrap(), vec![corrected]);
    assert_eq!(
        logbook::find_frozen(&mut conn, h.gym, h.class).unwrap(),
        Frozen { plan: Some(first), inputs: Some(inputs), lost: false },
        "history is not rewritten"
    );
    assert_eq!(roster::find(&mut conn, h.gym, h.member).unwrap().sessions_logged, Some(13));
    let back = logbook::remove(&mut conn, h.gym, h.class, (h.member, 0), "Ines").unwrap();
    assert_eq!(back.map(|l| l.outcome), Some(Outcome::Time { seconds: 510.0 }));
    assert_eq!(logbook::find_frozen(&mut conn, h.gym, h.class).unwrap(), Frozen::default());
}

#[test]
fn recent_drills_come_from_held_classes_only() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let (p, inputs) = (a_plan(h.member), inputs(h.member));
    logbook::log(&mut conn, h.gym, h.class, &finished(h.member), (holds(&p, &inputs), "Ines")).unwrap();
    // of its own day a class knows nothing: the morning's and the evening's warm-up are one
    assert!(logbook::recent_drills(&mut conn, h.gym, day()).unwrap().is_empty());
    let next = day() + chrono::Duration::days(1);
    let days = logbook::recent_drills(&mut conn, h.gym, next).unwrap();
    assert!(days.len() == 1 && !days[0].is_empty(), "{days:?}");
    assert!(logbook::recent_drills(&mut conn, GymId::fresh(), next).unwrap().is_empty());
    assert!(logbook::recent_drills(&mut conn, h.gym, day() + chrono::Duration::days(60)).unwrap().is_empty());
}

#[test]
fn one_gym_never_sees_anothers_rows() {
    let (db, ines) = (TestDatabase::new(), AccountId::fresh());
    let mut conn = db.conn();
    let (a, b) = (hall(&mut conn, "A"), hall(&mut conn, "B"));
    let gone = |r: lantern_store::Result<()>| matches!(r, Err(StoreError::NotFound));
    assert!(gone(roster::find(&mut conn, b.gym, a.member).map(drop)));
    assert!(gone(roster::change(&mut conn, b.gym, a.member, |_| ada())));
    assert!(gone(roster::erase(&mut conn, b.gym, a.member, "2026-11-24".parse().unwrap())));
    assert!(gone(class::find(&mut conn, b.gym, a.class).map(drop)));
    let back = lantern_core::hour::Press::Back;
    assert!(gone(clock::press(&mut conn, b.gym, a.class, back, Utc::now()).map(drop)));
    assert!(gone(clock::find(&mut conn, b.gym, a.class).map(drop)));
    assert!(gone(booking::change(&mut conn, b.gym, a.class, &[], &[])));
    assert!(gone(booking::change(&mut conn, a.gym, a.class, &[b.member], &[])));
    assert!(gone(class::remove(&mut conn, b.gym, a.class)));
    let session = class::find(&mut conn, a.gym, a.class).unwrap().session;
    assert!(gone(sheet::find(&mut conn, b.gym, session).map(drop)));
    assert!(gone(set_sheet(&mut conn, b.gym, session, "mine")));
    assert!(gone(sheet::keep_draft(&mut conn, (b.gym, ines), session, "mine")));
    let d = Decision::SuggestAgain { block: 0, drop: true };
    assert!(gone(decision::add(&mut conn, b.gym, a.class, &d, ines)));
    let (p, i) = (a_plan(a.member), inputs(a.member));
    let mut log = |gym, member| {
        logbook::log(&mut conn, gym, a.class, &finished(member), (holds(&p, &i), "Ines")).map(drop)
    };
    assert!(gone(log(b.gym, a.member)));
    assert!(gone(log(a.gym, b.member)));
    log(a.gym, a.member).unwrap();
    assert_eq!(logbook::remove(&mut conn, b.gym, a.class, (a.member, 0), "Ines").unwrap(), None);
    assert!(logbook::changes(&mut conn, b.gym, a.class).unwrap().is_empty());
    assert_eq!(logbook::belong(&mut conn, b.gym, a.class, 0, 1).unwrap(), 0);
    logbook::plan_anew(&mut conn, b.gym, a.class).unwrap();
    assert!(logbook::find_frozen(&mut conn, a.gym, a.class).unwrap().inputs.is_some());
    assert!(gone(roster::leave(&mut conn, b.gym, a.member, day().and_hms_opt(1, 0, 0).unwrap())));
    assert!(gone(roster::come_back(&mut conn, b.gym, a.member)));
    assert!(gone(sheet::drop_draft(&mut conn, (b.gym, ines), session)));
    assert_eq!(sheet::classes_of(&mut conn, b.gym, session).unwrap(), 0);
    assert!(booking::planned(&mut conn, b.gym, a.class).unwrap().is_empty());
    let new = NewClass {
        session,
        starts_at: day().and_hms_opt(6, 0, 0).unwrap(),
        length_s: None,
        places: None,
        coach: None,
        booked: Vec::new(),
    };
    assert!(gone(class::add(&mut conn, b.gym, &new).map(drop)));
    assert_eq!(roster::list(&mut conn, b.gym).unwrap().len(), 1);
    gym::remove(&mut conn, a.gym).unwrap();
    assert_eq!(roster::list(&mut conn, b.gym).unwrap().len(), 1, "the other gym stays whole");
}

#[test]
fn a_card_link_opens_one_card_and_no_other() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let b = booking::planned(&mut conn, h.gym, h.class).unwrap();
    assert_eq!(b[0].card_token.len(), 64);
    assert_eq!(booking::find_card(&mut conn, &b[0].card_token).unwrap(), (h.gym, h.class, h.member));
    assert!(matches!(booking::find_card(&mut conn, "guess"), Err(StoreError::NotFound)));
    booking::change(&mut conn, h.gym, h.class, &[h.member], &[]).unwrap();
    assert_eq!(
        booking::planned(&mut conn, h.gym, h.class).unwrap(),
        b,
        "the link stays when bookings change"
    );
}

#[test]
fn passwords_are_hashed_and_sign_ins_end() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let g = gym::add(&mut conn, "A", "", false).unwrap();
    account::add(&mut conn, g, " Ines@Hall.Example ", "Ines", account::Role::Owner, "long enough").unwrap();
    assert!(account::check(&mut conn, "ines@hall.example", "wrong").unwrap().is_none());
    assert!(account::check(&mut conn, "nobody@hall.example", "long enough").unwrap().is_none());
    let a = account::check(&mut conn, "INES@hall.example", "long enough").unwrap().unwrap();
    assert_eq!((a.name.as_str(), a.role), ("Ines", account::Role::Owner));
    let s = account::sign_in(&mut conn, &a).unwrap();
    assert_eq!(account::signed_in(&mut conn, g, s.id).unwrap(), Some(s.clone()));
    let other = gym::add(&mut conn, "B", "", false).unwrap();
    assert_eq!(account::signed_in(&mut conn, other, s.id).unwrap(), None);
    account::sign_out(&mut conn, g, s.id).unwrap();
    assert_eq!(account::signed_in(&mut conn, g, s.id).unwrap(), None);
    let again = account::add(&mut conn, g, "ines@hall.example", "Ines", account::Role::Coach, "x");
    assert!(matches!(again, Err(StoreError::Taken(_))));
}

#[test]
fn classes_of_a_week_are_listed_with_their_counts() {
    let db = TestDatabase::new();
    let mut conn = db.conn();
    let h = hall(&mut conn, "A");
    let at = |h| day().and_hms_opt(h, 0, 0).unwrap();
    let (p, i) = (a_plan(h.member), inputs(h.member));
    logbook::log(&mut conn, h.gym, h.class, &finished(h.member), (holds(&p, &i), "Ines")).unwrap();
    let second = Logged { block: 1, ..finished(h.member) };
    logbook::log(&mut conn, h.gym, h.class, &second, (holds(&p, &i), "Ines")).unwrap();
    let week = class::list(&mut conn, h.gym, at(0), at(23)).unwrap();
    // two workouts of one member are one member
    assert_eq!((week.len(), week[0].booked, week[0].logged, week[0].sheet.as_str()), (1, 1, 1, SHEET));
    assert!(class::list(&mut conn, h.gym, at(19), at(23)).unwrap().is_empty());
}
