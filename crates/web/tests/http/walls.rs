//! The wall's clock over HTTP: pressed, told to every wall as it happens, and to no other hall.

use super::harness::{Browse, Hall, Server};
use lantern_core::kinds::Limit;
use lantern_core::roster::Member;
use lantern_store::roster;
use std::io::{BufRead, BufReader, Write};
use std::net::TcpStream;
use std::time::Duration;

/// A wall that is told of a class's clock.
struct Wall(BufReader<TcpStream>);

impl Wall {
    fn open(b: &Browse, h: &Hall) -> Wall {
        let mut s = TcpStream::connect(("127.0.0.1", b.port)).unwrap();
        s.set_read_timeout(Some(Duration::from_secs(30))).unwrap();
        let path = format!("/classes/{}/clock/events", h.class);
        write!(s, "GET {path} HTTP/1.1\r\nHost: h\r\nAccept-Encoding: gzip\r\nCookie: {}\r\n\r\n", b.cookie)
            .unwrap();
        Wall(BufReader::new(s))
    }

    /// The next clock that it is told.
    fn told(&mut self) -> serde_json::Value {
        loop {
            let mut line = String::new();
            assert!(self.0.read_line(&mut line).unwrap() > 0, "the wall was left");
            if let Some(data) = line.strip_prefix("data: {") {
                return serde_json::from_str(&format!("{{{data}")).unwrap();
            }
        }
    }
}

#[test]
fn every_wall_is_told_of_a_press_as_it_happens() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let clock = format!("/classes/{}/clock", h.class);
    let (mut one, mut other) = (Wall::open(&b, &h), Wall::open(&b, &h));
    for wall in [&mut one, &mut other] {
        assert!(wall.told()["started"].is_null(), "first it is told how the clock stands");
    }
    assert_eq!(b.post(&clock, &[("clock", "start")]).status, 303);
    let started = one.told();
    assert_eq!(started["started"], other.told()["started"]);
    let lead_in = started["started"].as_i64().unwrap() - started["now"].as_i64().unwrap();
    assert!((5_000..=10_000).contains(&lead_in), "{lead_in} ms until 0:00");
    // a second start is nothing to tell; a stop is
    b.post(&clock, &[("clock", "start")]);
    b.post(&clock, &[("clock", "pause")]);
    let stopped = one.told();
    assert_eq!(stopped["started"], started["started"]);
    assert!(stopped["paused"].is_i64());
    let page = b.get(&format!("/classes/{}/wall", h.class)).body;
    assert!(page.contains("id=\"go-on\">") && page.contains("id=\"start\" hidden>"), "{page}");
    b.post(&clock, &[("clock", "go-on")]);
    let on = one.told();
    assert!(on["paused"].is_null() && on["started"].as_i64() >= stopped["started"].as_i64());
    b.post(&clock, &[("clock", "reset")]);
    assert!(one.told()["started"].is_null());
    let now: serde_json::Value = serde_json::from_str(&b.get(&clock).body).unwrap();
    assert!(now["now"].is_i64() && now["started"].is_null());
    assert_eq!(b.post(&clock, &[("clock", "faster")]).status, 422);
    // from a phone: what can be pressed is what makes sense, and one stays where one was
    let floor = format!("/classes/{}/floor", h.class);
    let can = |page: &str| {
        ["start", "pause", "go-on", "reset"].map(|v| page.contains(&format!("name=\"clock\" value=\"{v}\"")))
    };
    assert_eq!(can(&b.get(&floor).body), [true, false, false, false]);
    assert_eq!(b.post(&clock, &[("clock", "start"), ("back", "floor")]).location, floor);
    assert_eq!(can(&b.get(&floor).body), [false, true, false, true]);
    b.post(&clock, &[("clock", "pause"), ("back", "floor")]);
    assert_eq!(can(&b.get(&floor).body), [false, false, true, true]);
    assert_eq!(
        b.post(&clock, &[("clock", "reset"), ("back", "https://elsewhere.example")]).location,
        format!("/classes/{}/wall", h.class)
    );
}

/// The brief runs down by itself, and names nobody.
fn briefed(told: &serde_json::Value, page: &str) {
    assert!(told["stage"] == "brief-1" && told["started"].is_i64(), "{told}");
    assert!(
        page.contains("wbrief") && page.contains("data-end=\"120\"") && page.contains("<b>Burpee</b>"),
        "{page}"
    );
    assert!(!page.contains("Alder Member"), "no names");
}

#[test]
fn walls_turn_to_the_next_part_together_and_each_part_keeps_its_clock() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut conn = s.database.conn();
    let session = lantern_store::class::find(&mut conn, h.gym, h.class).unwrap().session;
    let sheet = "# strength\nback squat 3 x 5 @ 70%, every 2:00\n# workout cap 12:00\n3 rounds for time\n10 burpees\n# cool-down 4:00\n200 m walk";
    lantern_store::testing::set_sheet(&mut conn, h.gym, session, sheet).unwrap();
    let mut b = s.signed_in(&h);
    let (clock, wall) = (format!("/classes/{}/clock", h.class), format!("/classes/{}/wall", h.class));
    let page = b.get(&wall).body;
    assert!(page.contains("data-names>Alder Member"), "before the class the names: {page}");
    let mut told = Wall::open(&b, &h);
    assert_eq!(told.told()["stage"], "");
    let turn = |b: &mut Browse, way: &str, from: &str| {
        assert_eq!(b.post(&clock, &[("clock", way), ("stage", from)]).status, 303);
    };
    turn(&mut b, "next", "");
    let warm = told.told();
    assert!(warm["stage"] == "warm-up" && warm["started"].is_i64(), "{warm}");
    let shown = b.get(&wall);
    assert_eq!(shown.status, 200, "{}", shown.body);
    let page = shown.body;
    assert!(page.contains("class=\"wsteps") && page.contains(",step,1,"), "{page}");
    // a second coach's press on what is not shown any more turns nothing
    turn(&mut b, "next", "");
    turn(&mut b, "next", "warm-up");
    assert_eq!(told.told()["stage"], "strength-0");
    let page = b.get(&wall).body;
    assert!(
        page.contains("Rack 1") && page.contains(",set,3,3,0") && page.contains("Alder Member 1"),
        "{page}"
    );
    turn(&mut b, "next", "strength-0");
    briefed(&told.told(), &b.get(&wall).body);
    turn(&mut b, "next", "brief-1");
    let work = told.told();
    assert!(
        work["stage"] == "workout-1" && work["started"].is_null(),
        "a workout is started by hand: {work}"
    );
    assert!(!b.get(&wall).body.contains("Alder Member"), "no names in a workout");
    b.post(&clock, &[("clock", "start")]);
    let started = told.told()["started"].as_i64().unwrap();
    turn(&mut b, "next", "workout-1");
    assert_eq!(told.told()["stage"], "cool-down");
    assert!(b.get(&wall).body.contains("200 m walk"));
    // names at the finish are timed by the workout's clock, whatever the walls show
    let finish = b.get(&format!("/classes/{}/finish", h.class)).body;
    assert!(finish.contains(&started.to_string()) && finish.contains("data-part=\"workout-1\""), "{finish}");
    turn(&mut b, "last", "cool-down");
    assert_eq!(told.told()["started"].as_i64(), Some(started), "its clock went on");
    turn(&mut b, "next", "workout-1");
    turn(&mut b, "next", "cool-down");
    let member = h.member.to_string();
    let typed = [("block", "1"), ("member", member.as_str()), ("result", "7:41"), ("tier", "F")];
    assert_eq!(b.post(&format!("/classes/{}/log", h.class), &typed).status, 303);
    let page = b.get(&wall).body;
    assert!(page.contains("Alder Member 0") && page.contains("7:41"), "{page}");
    assert!(b.get(&format!("/classes/{}/floor", h.class)).body.contains("The walls show: <b>Results</b>"));
    turn(&mut b, "next", "results");
    turn(&mut b, "next", "siesta");
}

#[test]
fn another_hall_neither_hears_a_clock_nor_moves_it() {
    let s = Server::start();
    let (h, theirs) = (s.hall("Alder", 1), s.hall("Birch", 1));
    let mut b = s.signed_in(&theirs);
    let at = |what: &str| format!("/classes/{}/clock{what}", h.class);
    assert_eq!(b.get(&at("")).status, 404);
    assert_eq!(b.get(&at("/events")).status, 404);
    assert_eq!(b.post(&at(""), &[("clock", "start")]).status, 404);
    let mut stranger = s.browse();
    assert_eq!(stranger.get(&at("/events")).status, 303);
    // a wall of theirs is told of their own clock only
    let mut wall = Wall::open(&b, &theirs);
    wall.told();
    s.signed_in(&h).post(&at(""), &[("clock", "start")]);
    b.post(&format!("/classes/{}/clock", theirs.class), &[("clock", "start")]);
    b.post(&format!("/classes/{}/clock", theirs.class), &[("clock", "reset")]);
    assert!(wall.told()["started"].is_i64());
    assert!(wall.told()["started"].is_null());
}

#[test]
fn papers_have_everybody_on_them_and_no_reason_of_a_limit() {
    let s = Server::start();
    let (h, theirs) = (s.hall("Alder", 3), s.hall("Birch", 1));
    let mut b = s.signed_in(&h);
    let mut conn = s.database.conn();
    let limits = vec![Limit::NoImpact, Limit::Lumbar];
    roster::change(&mut conn, h.gym, h.member, |m| Member { limits: limits.clone(), ..m.clone() }).unwrap();
    let at = |what: &str| format!("/classes/{}/paper/{what}", h.class);
    let cards = b.get(&at("cards")).body;
    for i in 0..3 {
        assert_eq!(cards.matches(&format!("<span>Alder Member {i}</span>")).count(), 1);
    }
    assert_eq!(cards.matches("class=\"hl-code\"").count(), 3, "each leads to its own page");
    assert!(cards.contains("hl-printhead") && cards.contains("Likely"), "a paper says what it is");
    let log = b.get(&at("log")).body;
    assert_eq!(log.matches("<th scope=\"row\">Alder Member").count(), 3);
    let board = b.get(&at("board")).body;
    assert!(board.contains("hl-boards") && !board.contains("Alder Member"), "no names on a board");
    assert!(!log.contains("hl-code") && !board.contains("hl-code"));
    for page in [&cards, &log, &board] {
        assert!(!page.contains("as you told us") && !page.contains("spares") && !page.contains("impact"));
    }
    assert_eq!(b.get(&at("poster")).status, 404);
    assert_eq!(s.signed_in(&theirs).get(&at("cards")).status, 404);
}

#[test]
fn what_interrupts_everybody_is_called_with_its_number_where_all_have_the_same() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut conn = s.database.conn();
    let session = lantern_store::class::find(&mut conn, h.gym, h.class).unwrap().session;
    let sheet = "# workout cap 12:00\nfor time\n100 air squats\non every minute: 5 burpees";
    lantern_store::testing::set_sheet(&mut conn, h.gym, session, sheet).unwrap();
    let page = s.signed_in(&h).get(&format!("/classes/{}/wall", h.class)).body;
    let calls = page.split("data-calls=\"").nth(1).unwrap().split('"').next().unwrap();
    let all: Vec<(&str, &str)> = calls.split(';').map(|c| c.split_once(',').unwrap()).collect();
    assert_eq!(all.iter().map(|c| c.0).take(3).collect::<Vec<_>>(), ["60", "120", "180"], "{calls}");
    assert_eq!(all.len(), 11, "none at the cap: {calls}");
    assert!(all.iter().all(|c| c.1 == all[0].1 && c.1.ends_with("burpees")), "{calls}");
}
