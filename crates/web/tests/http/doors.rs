//! Doors under many tries, and a hall's own time.

use super::harness::Hall;
use super::{PASSWORD, Server, token};
use chrono_tz::Tz;
use lantern_store::door::{Gate, take};
use lantern_store::{account, gym};

/// One try at somebody's password: its status.
fn try_at(s: &Server, email: &str, password: &str) -> u16 {
    let mut b = s.browse();
    b.csrf = token(&b.get("/sign-in").body);
    b.post("/sign-in", &[("email", email), ("password", password)]).status
}

#[test]
fn of_many_tries_at_once_few_are_let_through_whoever_counts() {
    let s = Server::start();
    let h = s.hall("Weir", 1);
    let gate = |most| vec![Gate { key: "one".into(), most }];
    let through = std::thread::scope(|all| {
        let each: Vec<_> = (0..12)
            .map(|_| {
                let mut conn = s.database.conn();
                all.spawn(move || take(&mut conn, &gate(5)).unwrap().is_none())
            })
            .collect();
        each.into_iter().map(|t| t.join().unwrap()).filter(|through| *through).count()
    });
    assert_eq!(through, 5);
    let mut conn = s.database.conn();
    assert_eq!(take(&mut conn, &gate(5)).unwrap(), Some(10), "minutes");
    assert_eq!(take(&mut conn, &[Gate { key: "another".into(), most: 5 }]).unwrap(), None);
    // a try at two gates counts at both
    let both = [Gate { key: "a".into(), most: 9 }, Gate { key: "b".into(), most: 1 }];
    assert_eq!((take(&mut conn, &both).unwrap(), take(&mut conn, &both).unwrap()), (None, Some(10)));
    // guesses at the owner: they are told to wait, and stay in where they are in
    let mut owner = s.signed_in(&h);
    let guesses: Vec<u16> = (0..7).map(|i| try_at(&s, &h.email, &format!("a guess, number {i}"))).collect();
    assert_eq!(guesses, [422, 422, 422, 422, 422, 429, 429]);
    assert_eq!((try_at(&s, &h.email, PASSWORD), owner.get("/classes").status), (429, 200));
}

#[test]
fn a_flood_from_one_address_is_shut_out_and_stops_nobody_who_got_in_there() {
    let s = Server::start();
    let (h, other) = (s.hall("Sluice", 1), s.hall("Lock", 1));
    assert_eq!(try_at(&s, &h.email, PASSWORD), 303);
    let statuses: Vec<u16> =
        (0..45).map(|i| try_at(&s, &format!("nobody{i}@hall.example"), "not it at all")).collect();
    assert_eq!((statuses[0], statuses[44]), (422, 429));
    assert!(statuses.iter().filter(|s| **s == 422).count() < 41);
    // somebody who was never here waits; who got in here before does not
    assert_eq!((try_at(&s, &other.email, PASSWORD), try_at(&s, &h.email, PASSWORD)), (429, 303));
}

/// Where a hall is in time.
fn place(s: &Server, h: &Hall, zone: Tz, week_from: chrono::Weekday) {
    gym::change_calendar(&mut s.database.conn(), h.gym, Some(zone), week_from).unwrap();
}

#[test]
fn today_is_the_halls_own_wherever_the_server_stands() {
    let s = Server::start();
    // the server's noon of Tuesday the 24th
    for (name, zone, today, not) in [
        ("East", Tz::Pacific__Auckland, "Wednesday 25", "Tuesday 24"),
        ("West", Tz::Pacific__Pago_Pago, "Tuesday 24", "Wednesday 25"),
    ] {
        let h = s.hall(name, 1);
        place(&s, &h, zone, chrono::Weekday::Sun);
        let mut b = s.signed_in(&h);
        let page = b.get("/classes").body;
        let says = |day: &str| page.contains(&format!("{day} <span class=\"q\">today"));
        assert!(says(today) && !says(not), "{name}: {page}");
        assert!(page.contains("22 November to 28 November 2026"), "weeks from Sunday: {page}");
        assert!(b.get("/settings").body.contains(&format!("value=\"{}\"", zone.name())));
    }
}

#[test]
fn a_zone_that_nobody_knows_is_said_and_the_servers_stands_in() {
    let s = Server::start();
    let h = s.hall("Nowhere", 1);
    let mut b = s.signed_in(&h);
    let form = [
        ("name", "Nowhere"),
        ("zone", "Port Ellery"),
        ("week_from", "Monday"),
        ("class", "60:00"),
        ("per_rack", "3"),
    ];
    let again = b.post("/settings", &form);
    assert!(again.status == 422 && again.body.contains("I do not know this time zone"), "{}", again.body);
    assert!(again.body.contains("value=\"Port Ellery\"") && again.body.contains("value=\"60:00\""));
    let kept = gym::find(&mut s.database.conn(), h.gym).unwrap();
    assert_eq!((kept.zone, account::list(&mut s.database.conn(), h.gym).unwrap().len()), (None, 1));
}
