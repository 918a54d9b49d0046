//! The classes of every week, places and who waits for one, lists of names, and what a change did to the plan.

use super::harness::{Hall, now};
use super::{Browse, Server};
use chrono::{Datelike, Duration};
use lantern_core::timetable::Standing;
use lantern_store::{ClassId, booking, class, roster, timetable};

fn hall(s: &Server, name: &str, members: u32, places: u32) -> Hall {
    let h = s.hall(name, members);
    let hour = class::Hour { starts_at: now(), length_s: None, places: Some(places), coach: None };
    class::change_hour(&mut s.database.conn(), h.gym, h.class, &hour).unwrap();
    h
}

fn add(b: &mut Browse, fields: &[(&str, &str)]) -> super::harness::Answer {
    b.post("/timetable", fields)
}

/// Names of those planned for, and of those who wait.
fn signed(s: &Server, h: &Hall, class: ClassId) -> (Vec<String>, Vec<String>) {
    let all = booking::sign_ups(&mut s.database.conn(), h.gym, class).unwrap();
    let name = |b: &booking::Booking| b.name.rsplit(' ').next().unwrap().to_owned();
    let waits = all.iter().filter(|b| b.standing != Standing::Booked).map(name).collect();
    (all.iter().filter(|b| b.planned()).map(name).collect(), waits)
}

#[test]
fn weeks_are_made_from_the_timetable_once() {
    let s = Server::start();
    let h = s.hall("Tideway", 2);
    let mut b = s.signed_in(&h);
    assert!(b.get("/timetable").body.contains("No regular classes yet"));
    let bad = add(&mut b, &[("day", "Friday"), ("at", "six"), ("places", "16")]);
    assert!(bad.status == 422 && bad.body.contains("The hour is no time"), "{}", bad.body);
    assert!(
        bad.body.contains("value=\"16\"") && bad.body.contains("<option selected>Friday"),
        "{}",
        bad.body
    );
    for (day, at, places) in [
        ("Wednesday", "18:00", "16"),
        ("Wednesday", "06:30", "8"),
        // today is Tuesday the 24th, noon: one is over, one stands there already, made by hand
        ("Tuesday", "06:30", ""),
        ("Tuesday", "12:00", ""),
        ("Monday", "18:00", ""),
    ] {
        assert_eq!(add(&mut b, &[("day", day), ("at", at), ("places", places)]).location, "/timetable");
    }
    let page = b.get("/classes").body;
    assert!(page.contains("Make all 2") && page.contains("Wed 06:30"), "{page}");
    assert!(!page.contains("Tue 06:30") && !page.contains("Tue 12:00") && !page.contains("Mon 18:00"));
    let make = [("week", "2026-11-24")];
    assert_eq!(b.post("/timetable/make", &make).location, "/classes?week=2026-11-24");
    let mut conn = s.database.conn();
    let day = now().date().and_hms_opt(0, 0, 0).unwrap() + Duration::days(1);
    let all = class::list(&mut conn, h.gym, day, day + Duration::days(1)).unwrap();
    let seen: Vec<_> =
        all.iter().map(|l| (l.class.starts_at.format("%H:%M").to_string(), l.class.places)).collect();
    assert_eq!(seen, [("06:30".to_owned(), Some(8)), ("18:00".to_owned(), Some(16))]);
    assert_eq!(all[0].class.session, all[1].class.session, "one day, one sheet");
    // pressed again, also after one was moved and one was cancelled, nothing is made twice
    let moved =
        class::Hour { starts_at: now() + Duration::days(3), length_s: None, places: None, coach: None };
    class::change_hour(&mut conn, h.gym, all[0].class.id, &moved).unwrap();
    class::cancel(&mut conn, h.gym, all[1].class.id, true).unwrap();
    b.post("/timetable/make", &make);
    assert_eq!(class::list(&mut conn, h.gym, day, day + Duration::days(1)).unwrap().len(), 1);
    assert!(!b.get("/classes").body.contains("make-week"));
    // the next week has all five, and an ended one is held no more
    let next = b.get("/classes?week=2026-12-01").body;
    assert!(next.contains("Make all 5"), "{next}");
    let kept = timetable::list(&mut conn, h.gym, now().date()).unwrap();
    let monday = kept.iter().find(|k| k.class.weekday == chrono::Weekday::Mon).unwrap().id;
    assert_eq!(b.post(&format!("/timetable/{monday}/end"), &[]).status, 303);
    assert!(b.get("/classes?week=2026-12-01").body.contains("Make all 4"));
    assert_eq!(timetable::list(&mut conn, h.gym, now().date()).unwrap().len(), 4);
    assert_eq!(now().weekday(), chrono::Weekday::Tue);
}

#[test]
fn two_who_make_a_week_at_once_make_it_once() {
    let s = Server::start();
    let h = s.hall("Race", 1);
    let mut b = s.signed_in(&h);
    for at in ["06:00", "09:00", "18:00"] {
        add(&mut b, &[("day", "Thursday"), ("at", at)]);
    }
    let first = now().date() - Duration::days(1);
    let made: usize = std::thread::scope(|all| {
        let each: Vec<_> = (0..4)
            .map(|_| {
                let mut conn = s.database.conn();
                all.spawn(move || timetable::make_week(&mut conn, h.gym, first, now()).unwrap().len())
            })
            .collect();
        each.into_iter().map(|t| t.join().unwrap()).sum()
    });
    assert_eq!(made, 3);
}

#[test]
fn who_goes_makes_a_place_and_who_stays_away_is_not_planned_for() {
    let s = Server::start();
    let h = hall(&s, "Berth", 4, 2);
    let mut b = s.signed_in(&h);
    let at = format!("/classes/{}/bookings", h.class);
    let page = b.get(&at).body;
    for words in ["2 of 2 places, 2 wait", "waits, first in line", "waits, 1 before them"] {
        assert!(page.contains(words), "{words}: {page}");
    }
    assert_eq!(signed(&s, &h, h.class), (vec!["0".into(), "1".into()], vec!["2".into(), "3".into()]));
    let plan = b.get(&format!("/classes/{}/versions", h.class)).body;
    assert!(
        plan.contains("Berth Member 1") && !plan.contains("Berth Member 2"),
        "who waits is not planned for"
    );
    assert!(b.get("/classes").body.contains("2 wait<"), "{}", b.get("/classes").body);
    // the card of who waits says so
    let cards = booking::sign_ups(&mut s.database.conn(), h.gym, h.class).unwrap();
    let card = |i: usize| s.browse().get(&format!("/card/{}", cards[i].card_token));
    assert!(
        card(0).status == 200 && card(2).status == 404 && card(2).body.contains("no place in this class")
    );
    // the first goes: the third has a place, and the page says what it did
    let ids: Vec<String> =
        roster::list(&mut s.database.conn(), h.gym).unwrap().into_iter().map(|m| m.id).collect();
    let was = ids.join(",");
    let mut fields = vec![("was", was.as_str())];
    fields.extend(ids[1..].iter().map(|m| ("member", m.as_str())));
    let saved = b.post(&at, &fields).body;
    assert!(
        saved.contains("Berth Member 2 is planned for now.")
            && saved.contains("Berth Member 0 is not planned for any more."),
        "{saved}"
    );
    assert_eq!(signed(&s, &h, h.class), (vec!["1".into(), "2".into()], vec!["3".into()]));
    // somebody does not come: their place stays theirs, nobody is planned in who is not there
    let came = format!("/classes/{}/came", h.class);
    let gone = b.post(&came, &[("member", &ids[1]), ("came", "no-show")]).body;
    assert!(
        gone.contains("did not come") && gone.contains("Berth Member 1 is not planned for any more."),
        "{gone}"
    );
    assert_eq!(signed(&s, &h, h.class), (vec!["2".into()], vec!["3".into()]));
    // who comes back stands behind everybody who signed up before, whatever their name
    let was = ids[1..].join(",");
    let mut fields = vec![("was", was.as_str())];
    fields.extend(ids.iter().map(|m| ("member", m.as_str())));
    b.post(&at, &fields);
    assert_eq!(signed(&s, &h, h.class).1, ["3", "0"]);
    b.post(&at, &[("was", &ids[0])]);
    let late = b.post(&came, &[("member", &ids[2]), ("came", "late")]).body;
    assert!(late.contains("came late") && late.contains("Nothing of the plan moved"), "{late}");
    b.post(&came, &[("member", &ids[1]), ("came", "")]);
    assert_eq!(signed(&s, &h, h.class).0, ["1", "2"]);
    let kept = booking::kept(
        &mut s.database.conn(),
        h.gym,
        lantern_store::MemberId(ids[2].parse().unwrap()),
        now().date(),
        now().date(),
    );
    assert_eq!(kept.unwrap(), [1, 1, 0]);
    assert_eq!(b.post(&came, &[("member", &ids[0]), ("came", "late")]).status, 404, "not booked");
    assert_eq!(b.post(&came, &[("member", &ids[1]), ("came", "flew in")]).status, 404);
}

#[test]
fn two_coaches_who_book_at_once_both_count() {
    let s = Server::start();
    let h = hall(&s, "Both", 3, 10);
    let ids: Vec<String> =
        roster::list(&mut s.database.conn(), h.gym).unwrap().into_iter().map(|m| m.id).collect();
    let (mut one, mut two) = (s.signed_in(&h), s.signed_in(&h));
    let at = format!("/classes/{}/bookings", h.class);
    let was = ids.join(",");
    // both opened the page with all three; one takes the first out, the other the last
    one.post(&at, &[("was", &was), ("member", &ids[1]), ("member", &ids[2])]);
    two.post(&at, &[("was", &was), ("member", &ids[0]), ("member", &ids[1])]);
    assert_eq!(signed(&s, &h, h.class).0, ["1"]);
}

#[test]
fn names_from_a_table_are_ticked_and_what_stays_unclear_is_said_at_its_line() {
    let s = Server::start();
    let h = hall(&s, "Quill", 3, 2);
    let next = s.class_on(&h, 7);
    let mut b = s.signed_in(&h);
    let at = format!("/classes/{next}/bookings");
    let read = b.post(&at, &[("do", "read"), ("names", "name\nQuill Member 2\nquill\nZoe")]);
    assert_eq!(read.status, 422);
    for words in [
        "Line 3: “quill” may be Quill Member 0 or",
        "Line 4: nobody here is called “Zoe”",
        "quill\nZoe</textarea>",
    ] {
        assert!(read.body.contains(words), "{words}: {}", read.body);
    }
    assert_eq!(signed(&s, &h, next).0, ["0"], "nothing is booked by reading");
    let ticked = |page: &str| page.matches("\" checked>").count();
    assert_eq!(ticked(&read.body), 1, "the list alone was sent: whom it names");
    // saved before it was read: it is read, and nobody is booked who was not seen ticked
    let ids: Vec<String> =
        roster::list(&mut s.database.conn(), h.gym).unwrap().into_iter().map(|m| m.id).collect();
    let list = "Quill Member 2\nZoe";
    let early = b.post(&at, &[("was", &ids[0]), ("member", &ids[0]), ("names", list)]);
    assert!(early.status == 422 && early.body.contains("Nothing is saved yet"), "{}", early.body);
    assert_eq!(signed(&s, &h, next).0, ["0"]);
    // what stays unclear keeps nobody from saving, and is kept
    let ticked_now = [("was", ids[0].as_str()), ("member", &ids[0]), ("member", &ids[2])];
    let mut fields = ticked_now.to_vec();
    fields.extend([("names", "Zoe"), ("read", "Zoe")]);
    let saved = b.post(&at, &fields);
    assert!(saved.status == 200 && saved.body.contains("\nZoe</textarea>"), "{}", saved.body);
    assert_eq!(signed(&s, &h, next).0, ["0", "2"]);
    let long = b.post(&at, &[("do", "read"), ("names", &"Zoe\n".repeat(501))]);
    assert!(long.status == 422 && long.body.contains("more than 500 lines"), "{}", long.status);
    b.post(&at, &[("was", &ids[2])]);
    // as a week before: those who are booked and those who were
    let page = b.get(&at).body;
    assert!(page.contains("Tick as a week before"), "{page}");
    assert_eq!((ticked(&page), ticked(&b.get(&format!("{at}?as=week-before")).body)), (1, 3));
    // a full class says where there is more room on its day
    let full = b.get(&format!("/classes/{}/bookings", h.class)).body;
    assert!(full.contains("2 of 2 places, 1 wait") && !full.contains("More room on the same day"), "{full}");
    // one that has begun is none; one in the evening is
    let other = s.class_on(&h, 0);
    let hour = |h| class::Hour {
        starts_at: now().date().and_hms_opt(h, 0, 0).unwrap(),
        length_s: None,
        places: None,
        coach: None,
    };
    class::change_hour(&mut s.database.conn(), h.gym, other, &hour(6)).unwrap();
    assert!(!b.get(&format!("/classes/{}/bookings", h.class)).body.contains("More room"));
    class::change_hour(&mut s.database.conn(), h.gym, other, &hour(19)).unwrap();
    let page = b.get(&format!("/classes/{}/bookings", h.class)).body;
    assert!(page.contains("19:00 with 1") && page.contains("no place yet"), "{page}");
}

#[test]
fn the_timetable_of_another_hall_is_out_of_reach() {
    let s = Server::start();
    let (a, other) = (s.hall("Alder", 1), s.hall("Birch", 1));
    let (mut mine, mut theirs) = (s.signed_in(&a), s.signed_in(&other));
    add(&mut theirs, &[("day", "Friday"), ("at", "18:00")]);
    let id = timetable::list(&mut s.database.conn(), other.gym, now().date()).unwrap()[0].id;
    assert_eq!(mine.post(&format!("/timetable/{id}/end"), &[]).status, 404);
    assert!(mine.get("/timetable").body.contains("No regular classes yet"));
    assert_eq!(
        mine.post(&format!("/classes/{}/came", other.class), &[("member", &other.member.to_string())]).status,
        404
    );
    assert_eq!(timetable::list(&mut s.database.conn(), other.gym, now().date()).unwrap().len(), 1);
}
