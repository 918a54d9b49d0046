//! The hall's settings, and a class that differs from them.

use super::harness::{Hall, Server};
use lantern_store::testing::set_sheet;
use lantern_store::{account, class, gym};

const PUSH_UPS: &str =
    "# workout \"Quay\" cap 9:00 target 4:00-6:00\n5 rounds for time\n15 push-ups\n15 air squats\n";

fn with_sheet(server: &Server, hall: &Hall) {
    let mut conn = server.database.conn();
    let session = class::find(&mut conn, hall.gym, hall.class).unwrap().session;
    set_sheet(&mut conn, hall.gym, session, PUSH_UPS).unwrap();
}

#[test]
fn a_hall_chooses_its_answers_and_wrong_ones_come_back() {
    let server = Server::start();
    let hall = server.hall("Choice", 1);
    let mut b = server.signed_in(&hall);
    assert!(b.get("/settings").body.contains("What gives way first"));
    let form = |per_rack: &'static str| {
        let [zone, from] = [("zone", "europe/dublin"), ("week_from", "Sunday")];
        [
            ("name", "Choice Hall"),
            ("place", "Port Ellery"),
            zone,
            from,
            ("class", "55:00"),
            ("per_rack", per_rack),
            ("training_max", "85"),
            ("what-to-scale", "cut-time"),
        ]
    };
    let page = b.post("/settings", &form("many"));
    assert_eq!(page.status, 422);
    assert!(page.body.contains("share a rack") && page.body.contains("value=\"many\""));
    let saved = b.post("/settings", &form("2"));
    assert!(saved.status == 200 && saved.body.contains("Choice Hall, Port Ellery"), "{}", saved.body);
    let s = gym::find(&mut server.database.conn(), hall.gym).unwrap().settings;
    assert_eq!((s.class_s, s.per_rack, s.training_max_percent), (3300, 2, 85.0));
    assert_eq!(s.school(lantern_core::schools::Question::WhatToScale), "cut-time");
    let here = gym::find(&mut server.database.conn(), hall.gym).unwrap();
    assert_eq!((here.name.as_str(), here.place.as_str()), ("Choice Hall", "Port Ellery"));
    assert_eq!((here.zone.unwrap().name(), here.week_from), ("Europe/Dublin", chrono::Weekday::Sun));
    let mut wrong = form("2");
    wrong[7].1 = "wings";
    assert!(b.post("/settings", &wrong).body.contains("“wings” is no answer"));
    // a coach plans, an owner settles
    let mut conn = server.database.conn();
    account::add(&mut conn, hall.gym, "c@hall.example", "C", account::Role::Coach, super::PASSWORD).unwrap();
    let coach = Hall { email: "c@hall.example".into(), ..hall };
    let mut c = server.signed_in(&coach);
    assert_eq!(c.post("/settings", &form("3")).status, 403);
}

#[test]
fn a_class_differs_from_the_hall_and_goes_back() {
    let server = Server::start();
    let hall = server.hall("Differ", 4);
    with_sheet(&server, &hall);
    let mut b = server.signed_in(&hall);
    let at = format!("/classes/{}/schools", hall.class);
    let page = b.get(&format!("{at}?school=push-up-scaling")).body;
    assert!(page.contains("Raise the hands") && page.contains("Drop to the knees"), "{page}");
    assert!(page.contains("expected on stimulus; with everybody at Full"), "{page}");
    assert!(page.contains("take-knees") && !page.contains("take-raised-hands"));
    let take = [("school", "push-up-scaling"), ("option", "knees")];
    assert_eq!(b.post(&at, &take).location, format!("{at}?school=push-up-scaling"));
    let page = b.get(&format!("{at}?school=push-up-scaling")).body;
    assert!(page.contains("take-raised-hands") && page.contains("The hall’s again"), "{page}");
    assert_eq!(b.post(&at, &[("school", "push-up-scaling"), ("option", "")]).status, 303);
    assert!(b.get(&format!("{at}?school=push-up-scaling")).body.contains("take-knees"));
    assert_eq!(b.post(&at, &[("school", "push-up-scaling"), ("option", "wings")]).status, 422);
    assert_eq!(b.post(&at, &[("school", "no-such"), ("option", "")]).status, 422);
    assert_eq!(b.get(&format!("{at}?school=no-such")).status, 200);
}
