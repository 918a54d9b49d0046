//! What whoever runs the server asks it, and what it does for nobody.

use crate::harness::{Hall, Server};
use lantern_core::roster::Member;
use lantern_store::testing::set_sheet;
use lantern_store::{class, roster};
use std::io::Write;
use std::net::TcpStream;
use std::time::Duration;

/// The value of a figure in the text of `/metrics`.
fn figure(text: &str, name: &str) -> f64 {
    let line = text.lines().find(|l| l.starts_with(name) && l[name.len()..].starts_with(' '));
    line.unwrap_or_else(|| panic!("no {name} in {text}")).split(' ').next_back().unwrap().parse().unwrap()
}

fn sheet(s: &Server, h: &Hall, text: &str) {
    let mut conn = s.database.conn();
    let session = class::find(&mut conn, h.gym, h.class).unwrap().session;
    set_sheet(&mut conn, h.gym, session, text).unwrap();
}

#[test]
fn whoever_runs_it_sees_that_it_lives_is_ready_and_what_it_did() {
    let s = Server::start();
    let h = s.hall("Alder", 3);
    let mut b = s.signed_in(&h);
    assert_eq!((b.get("/healthz").body.as_str(), b.get("/readyz").body.as_str()), ("well\n", "ready\n"));
    for _ in 0..2 {
        assert_eq!(b.get(&format!("/classes/{}/hour", h.class)).status, 200);
    }
    let text = s.browse().get("/metrics").body;
    assert_eq!(
        (figure(&text, "lantern_plans_made_total"), figure(&text, "lantern_plans_found_total")),
        (1.0, 1.0)
    );
    assert!(figure(&text, "lantern_answers_total{status=\"2xx\"}") >= 4.0);
    assert!(figure(&text, "lantern_connections{state=\"idle\"}") >= 1.0);
    assert!(!text.contains("Alder") && !text.contains(&h.class.to_string()), "nobody is named");
    let through = s.browse().send(
        "GET /metrics HTTP/1.1\r\nHost: h\r\nX-Forwarded-For: 203.0.113.9\r\nConnection: close\r\n\r\n",
    );
    assert_eq!(through.status, 404, "a proxy passes it to nobody");
}

#[test]
fn no_plan_is_made_while_a_change_holds_its_connection() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let log = format!("/classes/{}/log", h.class);
    let typed = [("member", member.as_str()), ("block", "0"), ("result", "8:42"), ("tier", "Full")];
    let figures = || {
        let text = s.browse().get("/metrics").body;
        ["lantern_plans_in_changes_total", "lantern_plans_made_total"].map(|name| figure(&text, name))
    };
    assert_eq!(b.post(&log, &typed).status, 303);
    assert_eq!(figures(), [0.0, 1.0]);
    // held by what was known then, and planned anew from what is known now when its last result is taken back
    let mut conn = s.database.conn();
    let heavier = |m: &Member| Member { body_mass_kg: Some(101.0), ..m.clone() };
    roster::change(&mut conn, h.gym, h.member, heavier).unwrap();
    assert_eq!(b.post(&format!("{log}/back"), &typed[..2]).status, 303);
    assert_eq!(figures(), [0.0, 2.0]);
}

#[test]
fn a_plan_that_nobody_waits_for_any_more_is_given_up() {
    let s = Server::start();
    let h = s.hall("Alder", 20);
    let mut b = s.signed_in(&h);
    let given_up = || figure(&s.browse().get("/metrics").body, "lantern_plans_given_up_total");
    // how soon a request is being planned is not known: it is left a little later each time, of another sheet
    let left = (1..20).any(|k: u32| {
        sheet(
            &s,
            &h,
            &format!(
                "# workout cap 20:00\n{} rounds for time\n10 thruster 40/30 kg\n10 pull-up\n{k}0 m run",
                k + 2
            ),
        );
        let mut line = TcpStream::connect(("127.0.0.1", s.port)).unwrap();
        write!(
            line,
            "GET /classes/{}/hour HTTP/1.1\r\nHost: localhost\r\nCookie: {}\r\n\r\n",
            h.class, b.cookie
        )
        .unwrap();
        std::thread::sleep(Duration::from_millis(60 * u64::from(k)));
        drop(line);
        (0..40).any(|_| {
            std::thread::sleep(Duration::from_millis(50));
            given_up() > 0.0
        })
    });
    assert!(left, "it was planned to its end for nobody");
    assert_eq!(b.get(&format!("/classes/{}/hour", h.class)).status, 200, "whoever stays gets it");
}

#[test]
fn an_address_says_which_requests_it_takes_and_head_is_get_without_a_body() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let mut ask = |method: &str, path: &str| {
        b.send(&format!(
            "{method} {path} HTTP/1.1\r\nHost: h\r\nCookie: {}\r\nConnection: close\r\n\r\n",
            b.cookie.clone()
        ))
    };
    let hour = format!("/classes/{}/hour", h.class);
    for path in ["/healthz", "/classes", &hour, "/sign-in", "/nowhere"] {
        let (head, get) = (ask("HEAD", path), ask("GET", path));
        assert_eq!((head.status, head.body.as_str()), (get.status, ""), "{path}: {}", head.head);
        assert!(!get.body.is_empty() || get.status == 303, "{path}");
    }
    let allow = |a: &crate::harness::Answer| {
        a.head.to_lowercase().lines().find(|l| l.starts_with("allow:")).map(str::to_owned)
    };
    let posted = ask("POST", &hour);
    assert_eq!(
        (posted.status, allow(&posted).as_deref()),
        (405, Some("allow: get, head")),
        "{}",
        posted.head
    );
    assert!(
        posted.body.contains("not opened that way") && posted.head.contains("script-src 'self'"),
        "{}",
        posted.head
    );
    let got = ask("GET", &format!("/classes/{}/version", h.class));
    assert_eq!((got.status, allow(&got).as_deref()), (405, Some("allow: post")));
    let put = ask("PUT", &hour);
    assert_eq!((put.status, allow(&put).as_deref()), (405, Some("allow: get, head, post")));
}
