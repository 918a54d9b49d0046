//! Bookings that another program sends.

use super::harness::{Answer, now};
use super::{Browse, Server};
use lantern_store::{booking, feed, roster};
use lantern_web::feed::{PROOF, TIME, proof};

/// Sends one event with a proof made by a secret at a time.
fn send(b: &mut Browse, gym: &str, secret: &str, time: i64, body: &str) -> Answer {
    let proof = proof(secret, time, body.as_bytes());
    b.send(&format!(
        "POST /feed/{gym} HTTP/1.1\r\nHost: h\r\n{TIME}: {time}\r\n{PROOF}: {proof}\r\nContent-Type: application/json\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
        body.len()
    ))
}

fn event(key: &str, what: &str, at: &str, member: &str) -> String {
    format!("{{\"event\":\"{key}\",\"what\":\"{what}\",\"starts_at\":\"{at}\",\"member\":\"{member}\"}}")
}

#[test]
fn events_book_and_take_out_once_and_what_nobody_could_place_waits_for_a_coach() {
    let s = Server::start();
    let h = s.hall("Ferry", 3);
    let mut coach = s.signed_in(&h);
    let mut conn = s.database.conn();
    let made = coach.post("/timetable/feed", &[]).body;
    let secret =
        made.split("id=\"secret\" value=\"").nth(1).and_then(|r| r.split('"').next()).unwrap().to_owned();
    assert!(made.contains(&format!("/feed/{}", h.gym)));
    assert!(!coach.get("/timetable/feed").body.contains(&secret), "it is shown once");
    let (gym, time, at) = (h.gym.to_string(), now().and_utc().timestamp(), "2026-11-24T12:00");
    let mut b = s.browse();
    let booked =
        |conn: &mut lantern_store::PlainConnection| booking::sign_ups(conn, h.gym, h.class).unwrap().len();
    let mut tell = |body: &str| {
        let a = send(&mut b, &gym, &secret, time, body);
        (a.status, a.body)
    };
    let (status, body) = tell(&event("e1", "cancelled", at, "ferry member 1"));
    assert_eq!((status, body.contains("\"done\"")), (200, true), "{body}");
    assert_eq!(booked(&mut conn), 2);
    // sent again it is done once, whatever happened meanwhile
    tell(&event("e2", "booked", at, "Ferry Member 1"));
    tell(&event("e1", "cancelled", at, "Ferry Member 1"));
    assert_eq!(booked(&mut conn), 3);
    assert!(tell(&event("e3", "booked", at, "Ferry Member 1")).1.contains("as-it-was"));
    assert!(tell(&event("e4", "booked", "2026-11-24T13:00", "Ferry Member 1")).1.contains("no-class"));
    assert!(tell(&event("e5", "cancelled", at, "F. Member")).1.contains("no-member"));
    assert_eq!(tell("{\"event\":1}").0, 422);
    let second = s.class_on(&h, 0);
    assert!(tell(&event("e6", "booked", at, "Ferry Member 1")).1.contains("several-classes"));
    // the coach says who it was; settled once
    let page = coach.get("/timetable/feed").body;
    assert!(page.contains("F. Member cancelled Tue 24 Nov, 12:00") && page.contains("It is them"), "{page}");
    let open =
        feed::list(&mut conn, h.gym, 9).unwrap().into_iter().find(|c| c.member == "F. Member").unwrap();
    let later = roster::list(&mut conn, h.gym).unwrap()[2].id.clone();
    let path = format!("/timetable/feed/{}/settle", open.id);
    // two classes start then: it stays open, and is said
    assert_eq!(coach.post(&path, &[("member", &later)]).status, 303);
    assert!(coach.get("/timetable/feed").body.contains("several classes start then"));
    // once one class is left it is done for whom the coach means, and not again for another
    lantern_store::class::cancel(&mut conn, h.gym, second, true).unwrap();
    assert_eq!(coach.post(&path, &[("member", &later)]).status, 303);
    assert_eq!(booked(&mut conn), 2);
    assert_eq!(coach.post(&path, &[("member", &h.member.to_string())]).status, 422);
    assert_eq!(booked(&mut conn), 2);
    // a new secret ends the old one; without any, nothing is taken
    coach.post("/timetable/feed", &[]);
    assert_eq!(tell(&event("e7", "cancelled", at, "Ferry Member 1")).0, 401);
    coach.post("/timetable/feed/end", &[]);
    assert!(coach.get("/timetable/feed").body.contains("No secret yet"));
}

#[test]
fn without_the_halls_own_proof_nothing_is_taken_or_told() {
    let s = Server::start();
    let (h, other) = (s.hall("Alder", 2), s.hall("Birch", 2));
    let mut conn = s.database.conn();
    let (mine, theirs) = (
        feed::renew(&mut conn, h.gym, "Coach").unwrap(),
        feed::renew(&mut conn, other.gym, "Coach").unwrap(),
    );
    let (gym, time) = (h.gym.to_string(), now().and_utc().timestamp());
    let body = event("x", "cancelled", "2026-11-24T12:00", "Alder Member 0");
    let mut b = s.browse();
    for (gym, secret, time) in [
        (gym.as_str(), theirs.as_str(), time),
        (gym.as_str(), "guessed", time),
        (gym.as_str(), mine.as_str(), time - 400),
        (gym.as_str(), mine.as_str(), time + 400),
        ("01900000-0000-7000-8000-000000000000", mine.as_str(), time),
        ("nowhere", mine.as_str(), time),
    ] {
        let a = send(&mut b, gym, secret, time, &body);
        assert!(a.status == 401 && a.body.contains("the proof does not hold"), "{} {}", a.status, a.body);
    }
    let bare = b.post_raw(&format!("/feed/{gym}"), &[("event", "x")]);
    assert_eq!(bare.status, 401);
    assert_eq!(send(&mut b, &gym, &mine, time, &" ".repeat(20_000)).status, 401, "too large");
    assert_eq!(booking::sign_ups(&mut conn, h.gym, h.class).unwrap().len(), 2);
    assert!(feed::list(&mut conn, h.gym, 9).unwrap().is_empty());
    // whose event it is decides whose coach may settle it
    assert_eq!(send(&mut b, &gym, &mine, time, &event("y", "booked", "2026-11-24T12:00", "Zoe")).status, 200);
    let id = feed::list(&mut conn, h.gym, 9).unwrap()[0].id;
    let mut stranger = s.signed_in(&other);
    let path = format!("/timetable/feed/{id}/settle");
    assert_eq!(stranger.post(&path, &[("member", &other.member.to_string())]).status, 404);
    let mut coach = s.signed_in(&h);
    assert_eq!(
        coach.post(&path, &[("member", &other.member.to_string())]).status,
        404,
        "a member of another hall"
    );
}
