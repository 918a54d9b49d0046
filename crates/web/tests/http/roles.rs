//! Every address, opened by every role, and by the owner of another hall.

use super::harness::{Browse, Hall, PASSWORD, Server};
use lantern_store::account::{self, Role};

/// Every address with its ways, read off the list of addresses itself, so that a new one is walked too.
fn addresses() -> Vec<(&'static str, &'static str)> {
    let text = include_str!("../../src/routes.rs");
    let mut out = Vec::new();
    let mut rest = text;
    while let Some(at) = rest.find("\"/") {
        let after = &rest[at + 1..];
        let pattern = &after[..after.find('"').unwrap()];
        rest = &after[pattern.len()..];
        let own = &rest[..rest.find("\"/").unwrap_or(rest.len())];
        for (way, word) in [("GET", "get()"), ("POST", "post()")] {
            if own.contains(word) {
                out.push((way, pattern));
            }
        }
    }
    out
}

/// Addresses for everybody, and one that does not end.
fn apart(pattern: &str) -> bool {
    [
        "/static", "/healthz", "/readyz", "/metrics", "/sign-", "/theme", "/set-up", "/join", "/card",
        "/mine", "/feed",
    ]
    .iter()
    .any(|p| pattern.starts_with(p))
        || pattern == "/classes/{id}/clock/events"
}

const NOBODY: &str = "01900000-0000-7000-8000-000000000000";

/// An address of a hall: its class and its member; nobody where an account, a link or a cycle is meant.
fn address(pattern: &str, h: &Hall) -> String {
    let id = match pattern {
        p if p.starts_with("/classes/") => h.class.to_string(),
        p if p.starts_with("/members/") => h.member.to_string(),
        _ => NOBODY.to_owned(),
    };
    let filled = pattern.replace("{id}", &id).replace("{n}", "1").replace("{lift}", "back-squat");
    filled.replace("{what}", "brief")
}

fn ask(b: &mut Browse, way: &str, path: &str) -> u16 {
    if way == "GET" { b.get(path).status } else { b.post(path, &[]).status }
}

fn of_role(s: &Server, h: &Hall, role: Role) -> Browse {
    let email = format!("{}@{}.example", role.word(), h.gym);
    account::add(&mut s.database.conn(), h.gym, &email, role.name(), role, PASSWORD).unwrap();
    s.signed_in(&Hall { email, ..*h })
}

/// What is for the front desk too.
const DESK: [&str; 25] = [
    "/words",
    "/own/keys",
    "/timetable/feed",
    "/own/email",
    "/own/hall",
    "/timetable/feed/{id}/settle",
    "/",
    "/sign-in/code",
    "/own",
    "/own/second",
    "/own/second/prove",
    "/own/second/codes",
    "/own/second/off",
    "/own/password",
    "/own/others",
    "/classes",
    "/classes/new",
    "/classes/{id}",
    "/classes/{id}/bookings",
    "/classes/{id}/came",
    "/timetable",
    "/timetable/make",
    "/classes/{id}/when",
    "/classes/{id}/cancel",
    "/classes/{id}/repeat",
];
/// What is only an owner's.
const OWNERS: [(&str, &str); 8] = [
    ("POST", "/people/second"),
    ("POST", "/people/{id}/second"),
    ("POST", "/people/invite"),
    ("POST", "/people/{id}/reset"),
    ("POST", "/people/{id}/remove"),
    ("POST", "/people/{id}/role"),
    ("POST", "/people/links/{id}/withdraw"),
    ("POST", "/members/{id}/erase"),
];

/// What a hall settles once.
const SETTLED: [(&str, &str); 6] = [
    ("POST", "/timetable/feed"),
    ("POST", "/timetable/feed/end"),
    ("GET", "/changes"),
    ("POST", "/settings"),
    ("POST", "/timetable"),
    ("POST", "/timetable/{id}/end"),
];

#[test]
fn every_role_opens_what_is_theirs_and_nothing_else() {
    let s = Server::start();
    let all: Vec<_> = addresses().into_iter().filter(|(_, p)| !apart(p)).collect();
    assert!(
        all.len() > 90 && all.contains(&("POST", "/kit")) && all.contains(&("GET", "/kit")),
        "{}",
        all.len()
    );
    for role in Role::ALL {
        let h = s.hall(&format!("Hall {}", role.word()), 2);
        let mut b = of_role(&s, &h, role);
        for (way, pattern) in &all {
            let mine = match role {
                Role::Owner => true,
                Role::HeadCoach => !OWNERS.contains(&(*way, *pattern)),
                Role::Coach => !OWNERS.contains(&(*way, *pattern)) && !SETTLED.contains(&(*way, *pattern)),
                Role::FrontDesk => DESK.contains(pattern) && !SETTLED.contains(&(*way, *pattern)),
            };
            let status = ask(&mut b, way, &address(pattern, &h));
            assert_eq!(status != 403, mine, "{}: {way} {pattern} is {status}", role.word());
            assert!(status < 500 && status != 401, "{}: {way} {pattern} is {status}", role.word());
        }
    }
}

#[test]
fn no_address_gives_anything_of_another_hall() {
    let s = Server::start();
    let (theirs, mine) = (s.hall("Alder", 2), s.hall("Birch", 2));
    let mut b = s.signed_in(&mine);
    for (way, pattern) in addresses().into_iter().filter(|(_, p)| !apart(p) && p.contains("{id}")) {
        let path = address(pattern, &theirs);
        // it leads on without looking; the page behind it looks
        if pattern == "/classes/{id}" {
            continue;
        }
        let status = ask(&mut b, way, &path);
        assert!(matches!(status, 404 | 422), "{way} {pattern} is {status}");
    }
    let events = b.get(&format!("/classes/{}/clock/events", theirs.class));
    assert_eq!(events.status, 404);
}

#[test]
fn the_front_desk_books_and_sees_nothing_of_anybody() {
    let s = Server::start();
    let h = s.hall("Quay", 3);
    let mut b = of_role(&s, &h, Role::FrontDesk);
    let week = b.get("/classes");
    assert!(week.body.contains(&format!("/classes/{}/bookings", h.class)), "{}", week.body);
    assert!(!week.body.contains("href=\"/members\"") && week.body.contains("Your account"));
    let open = b.get(&format!("/classes/{}", h.class));
    assert_eq!(open.location, format!("/classes/{}/bookings", h.class));
    let page = b.get(&open.location);
    assert!(page.body.contains("Quay, Tuesday 24 November, 12:00 · 3 booked"), "{}", page.body);
    let member = h.member.to_string();
    let saved = b.post(&format!("/classes/{}/bookings", h.class), &[("member", &member)]);
    assert!(
        saved.status == 200 && saved.body.contains("Saved.") && !saved.body.contains("of the plan"),
        "{}",
        saved.body
    );
    let refused = b.get(&format!("/classes/{}/loads", h.class));
    assert_eq!(refused.status, 403);
    let who = "Only an owner, a head coach or a coach of this hall may do this";
    assert!(refused.body.contains(who), "{}", refused.body);
}

#[test]
fn an_owner_gives_roles_and_one_owner_stays() {
    let s = Server::start();
    let h = s.hall("Roles", 1);
    let mut owner = s.signed_in(&h);
    let mut coach = of_role(&s, &h, Role::Coach);
    let mut conn = s.database.conn();
    let all = account::list(&mut conn, h.gym).unwrap();
    let id = |role: Role| all.iter().find(|a| a.role == role).unwrap().id;
    let (me, them) = (id(Role::Owner), id(Role::Coach));
    assert!(owner.get("/people").body.contains("the week and who is booked; no plans"));
    let path = format!("/people/{them}/role");
    assert_eq!(coach.get("/record").status, 200);
    assert_eq!(owner.post(&path, &[("role", "front-desk")]).status, 200);
    assert_eq!(coach.get("/record").status, 403, "it counts at once");
    assert_eq!(owner.post(&path, &[("role", "janitor")]).status, 422);
    assert_eq!(owner.post(&path, &[]).status, 422);
    let last = owner.post(&format!("/people/{me}/role"), &[("role", "coach")]);
    assert!(last.status == 422 && last.body.contains("The last owner stays"), "{}", last.body);
    assert_eq!(owner.post(&path, &[("role", "owner")]).status, 200);
    assert_eq!(owner.post(&format!("/people/{me}/role"), &[("role", "coach")]).status, 200);
    assert_eq!(owner.post(&path, &[("role", "coach")]).status, 403, "no owner any more");
    assert_eq!(owner.post(&format!("/people/{NOBODY}/role"), &[("role", "coach")]).status, 403);
}
