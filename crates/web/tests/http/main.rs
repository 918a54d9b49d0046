//! The server over HTTP: sign-in, tokens, one hall against another, bad input.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, clippy::indexing_slicing)] // a test may fail loudly

mod doors;
mod feed;
mod finish;
mod harness;
mod health;
mod held;
mod hour;
mod learnt;
mod mine;
mod people;
mod post;
mod reading;
mod roles;
mod second;
mod settings;
mod strength;
mod versions;
mod walls;
mod weeks;

use harness::{Browse, PASSWORD, STEPS, Server, encode, now, token};
use lantern_core::kinds::Limit;
use lantern_core::kit::Kit;
use lantern_store::testing::set_sheet;
use lantern_store::{booking, class, kit, roster};

fn decoded(address: &str) -> String {
    address.replace("%2F", "/").replace("%2D", "-").replace("%2d", "-")
}

#[test]
fn every_page_opens_for_the_signed_in_and_for_nobody_else() {
    let s = Server::start();
    let h = s.hall("Alder", 3);
    let (mut b, mut stranger) = (s.signed_in(&h), s.browse());
    let mut paths: Vec<String> = STEPS.iter().map(|p| format!("/classes/{}/{p}", h.class)).collect();
    paths.extend(
        ["/classes", "/classes/new", "/record", "/members", "/members/new", "/kit"].map(str::to_owned),
    );
    paths.extend([format!("/members/{}", h.member), format!("/classes/{}/bookings", h.class)]);
    for p in paths {
        let a = b.get(&p);
        assert_eq!(a.status, 200, "{p}: {}", a.body);
        assert!(a.head.contains("script-src 'self'") && !a.body.contains("<script>"), "{p}");
        let closed = stranger.get(&p);
        let back = format!("/sign-in?next={}", encode(&p));
        assert_eq!((closed.status, decoded(&closed.location)), (303, decoded(&back)), "{p}");
    }
    assert_eq!(b.get("/nowhere").status, 404);
    assert_eq!(b.get("/classes/not-a-key/hour").status, 404);
}

#[test]
fn a_wrong_password_is_said_and_the_sixth_try_waits() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.browse();
    b.csrf = token(&b.get("/sign-in").body);
    for _ in 0..5 {
        let a = b.post("/sign-in", &[("email", &h.email), ("password", "wrong")]);
        assert_eq!(a.status, 422);
        assert!(
            a.body.contains("do not belong together") && a.body.contains(&h.email),
            "the address is kept"
        );
    }
    let a = b.post("/sign-in", &[("email", &h.email), ("password", PASSWORD)]);
    assert_eq!(a.status, 429);
    assert!(a.body.contains("Too many tries. Wait 10 min"));
}

#[test]
fn a_change_without_its_token_changes_nothing() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let path = format!("/classes/{}/sheet", h.class);
    assert_eq!(b.post_raw(&path, &[("sheet", "gone")]).status, 403);
    assert_eq!(b.post_raw(&path, &[("csrf", "guess"), ("sheet", "gone")]).status, 403);
    assert!(b.get(&path).body.contains("10 burpees"));
    assert_eq!(b.post(&path, &[("sheet", "# workout\nfor time\n20 burpees")]).status, 303);
    assert!(b.get(&path).body.contains("20 burpees"));
}

#[test]
fn signing_out_ends_the_sign_in_for_good() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let old = b.cookie.clone();
    assert_eq!(b.post("/sign-out", &[]).status, 303);
    b.cookie = old; // a stolen cookie is worth nothing: the row is gone
    assert_eq!(b.get("/classes").location, "/sign-in?next=%2Fclasses");
}

#[test]
fn one_hall_never_sees_or_changes_anothers() {
    let s = Server::start();
    let (a, b) = (s.hall("Alder", 2), s.hall("Birch", 2));
    let mut coach = s.signed_in(&b);
    for p in STEPS {
        assert_eq!(coach.get(&format!("/classes/{}/{p}", a.class)).status, 404, "{p}");
    }
    assert_eq!(coach.get(&format!("/members/{}", a.member)).status, 404);
    let (class, member) = (a.class.to_string(), a.member.to_string());
    for p in ["schools", "variants?without=home", "versions?tried=0-T"] {
        assert_eq!(coach.get(&format!("/classes/{}/{p}", a.class)).status, 404, "{p}");
    }
    assert_eq!(coach.get(&format!("/classes/{}/ways", a.class)).status, 404);
    let heats = r#"[{"kind":"heats","block":0,"heats":2}]"#;
    let tries: [(&str, Vec<(&str, &str)>); 14] = [
        ("ways", vec![("decisions", heats)]),
        ("running", vec![("key", "brief"), ("at", "12:05"), ("left", "2")]),
        ("variants", vec![("block", "0"), ("without", "home")]),
        ("suggest", vec![("block", "0"), ("drop", "yes")]),
        ("schools", vec![("school", "kipping"), ("option", "allowed")]),
        ("sheet", vec![("sheet", "mine")]),
        ("sheet/read", vec![("sheet", "mine")]),
        ("bookings", vec![]),
        ("version", vec![("block", "0"), ("member", &member), ("tier", "B")]),
        ("length", vec![("key", "brief"), ("seconds", "60")]),
        ("load", vec![("block", "0"), ("member", &member), ("by", "5")]),
        ("clock", vec![("clock", "start")]),
        ("log", vec![("block", "0"), ("member", &member), ("result", "8:00"), ("tier", "F")]),
        ("undo", vec![]),
    ];
    for (p, fields) in tries {
        assert_eq!(coach.post(&format!("/classes/{class}/{p}"), &fields).status, 404, "{p}");
    }
    assert_eq!(coach.post(&format!("/members/{member}/leave"), &[]).status, 404);
    let mut conn = s.database.conn();
    assert_eq!(booking::planned(&mut conn, a.gym, a.class).unwrap().len(), 2);
    assert!(!coach.get("/members").body.contains("Alder Member"));
    // a member of another hall cannot be booked either
    let own = format!("/classes/{}/bookings", b.class);
    assert_eq!(coach.post(&own, &[("member", &member)]).status, 404);
}

#[test]
fn a_card_opens_by_its_link_alone_and_shows_nobody_else() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let cards = booking::planned(&mut s.database.conn(), h.gym, h.class).unwrap();
    let mut member = s.browse();
    let card = member.get(&format!("/card/{}", cards[0].card_token));
    assert_eq!(card.status, 200);
    assert!(card.body.contains("Alder Member 0") && !card.body.contains("Alder Member 1"));
    assert_eq!(member.get("/card/0123").status, 404);
    // what a phone keeps it by, and the wall's clock: by the link alone too
    let base = format!("/card/{}", cards[0].card_token);
    let manifest: serde_json::Value =
        serde_json::from_str(&member.get(&format!("{base}/manifest")).body).unwrap();
    assert_eq!(
        (manifest["start_url"].as_str(), manifest["scope"].as_str()),
        (Some(base.as_str()), Some("/card/"))
    );
    let clock: serde_json::Value = serde_json::from_str(&member.get(&format!("{base}/clock")).body).unwrap();
    assert!(clock["started"].is_null() && clock["stage"] == "");
    for p in ["manifest", "clock"] {
        assert_eq!(member.get(&format!("/card/0123/{p}")).status, 404, "{p}");
    }
    let worker = member.get("/card/worker.js");
    assert!(worker.status == 200 && worker.body.contains("isCard"));
}

#[test]
fn limits_are_on_no_wall_and_no_other_members_card() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut conn = s.database.conn();
    let mut m = roster::find(&mut conn, h.gym, h.member).unwrap();
    m.limits = vec![Limit::NoImpact, Limit::Lumbar];
    roster::change(&mut conn, h.gym, h.member, |_| m.clone()).unwrap();
    let mut b = s.signed_in(&h);
    let versions = b.get(&format!("/classes/{}/versions?why={}", h.class, h.member)).body;
    assert!(versions.contains(", as you told us: "), "the coach sees why");
    let wall = b.get(&format!("/classes/{}/wall", h.class)).body;
    assert!(!wall.contains("as you told us") && !wall.contains("spares") && !wall.contains("impact"));
    b.post(&format!("/classes/{}/clock", h.class), &[("clock", "start")]);
    assert!(
        !b.get(&format!("/classes/{}/wall", h.class)).body.contains("Member 0"),
        "no names in the workout"
    );
    let cards = booking::planned(&mut conn, h.gym, h.class).unwrap();
    let other = b.get(&format!("/card/{}", cards[1].card_token)).body;
    assert!(!other.contains("as you told us") && !other.contains("spares") && !other.contains("no impact"));
}

#[test]
fn nonsense_on_the_sheet_is_answered_and_kept() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut b = s.signed_in(&h);
    let binary: String = (0..3000u32).map(|i| char::from((i * 37 % 256) as u8)).collect();
    let many = "10 burpees\n".repeat(5000);
    let long = format!("# workout\nfor time\n{}", "10 burpees, ".repeat(1700));
    for text in [
        "",
        binary.as_str(),
        &many,
        &long,
        "# workout cap 0:01\nfor time\n10000 burpees\n-5 thrusters -40 kg",
        "# strength\nback squat 5 x 3 @ 900%",
    ] {
        let part = b.post(&format!("/classes/{}/sheet/read", h.class), &[("sheet", text)]);
        assert_eq!(part.status, 200);
        assert!(part.body.contains("id=\"problems\""));
        assert_eq!(b.post(&format!("/classes/{}/sheet", h.class), &[("sheet", text)]).status, 303);
        for p in STEPS {
            assert_eq!(
                b.get(&format!("/classes/{}/{p}", h.class)).status,
                200,
                "{p} after {:?}",
                &text.chars().take(20).collect::<String>()
            );
        }
    }
    assert!(b.get(&format!("/classes/{}/sheet", h.class)).body.contains("900%"), "what was typed is there");
}

#[test]
fn classes_of_nobody_and_of_sixty_open_on_every_step() {
    let s = Server::start();
    for (name, n) in [("Empty", 0), ("Crowd", 60)] {
        let h = s.hall(name, n);
        let mut b = s.signed_in(&h);
        for p in STEPS {
            assert_eq!(b.get(&format!("/classes/{}/{p}", h.class)).status, 200, "{name} {p}");
        }
    }
    let h = s.hall("Bare", 2);
    kit::change(&mut s.database.conn(), h.gym, &Kit::default()).unwrap();
    let mut b = s.signed_in(&h);
    let lifts = "# strength\nback squat 5 x 3 @ 80%";
    b.post(&format!("/classes/{}/sheet", h.class), &[("sheet", lifts)]);
    let loads = b.get(&format!("/classes/{}/loads", h.class));
    assert_eq!(loads.status, 200);
    assert!(loads.body.contains("The kit has no bar"), "{}", loads.body);
}

#[test]
fn bad_values_come_back_at_their_field() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let log = format!("/classes/{}/log", h.class);
    let a = b.post(
        &log,
        &[("block", "0"), ("member", &member), ("tier", "T"), ("result", "14:00"), ("note", "left early")],
    );
    assert_eq!(a.status, 422);
    assert!(
        a.body.contains("past the cap of 12:00")
            && a.body.contains("value=\"14:00\"")
            && a.body.contains("left early")
    );
    let a = b.post(&format!("{log}/line"), &[("line", "zz 900")]);
    assert!(
        a.status == 422
            && a.body.contains("Nobody booked starts with zz")
            && a.body.contains("value=\"zz 900\"")
    );
    let a = b
        .post("/members/new", &[("name", "Cy"), ("mass", "heavy"), ("lift", "back squat"), ("kg", "ninety")]);
    assert!(
        a.status == 422 && a.body.contains("Body mass is a number") && a.body.contains("value=\"ninety\"")
    );
    let a = b.post("/kit", &[("bar_size", "20"), ("bar_count", "many")]);
    assert!(
        a.status == 422 && a.body.contains("Bars: a row needs a size") && a.body.contains("value=\"many\"")
    );
    let a = b.post("/classes/new", &[("date", "soon"), ("time", "18:00"), ("member", &member)]);
    assert!(a.status == 422 && a.body.contains("The day is no date") && a.body.contains("checked"));
    assert_eq!(
        b.post(
            &format!("/classes/{}/version", h.class),
            &[("block", "0"), ("member", &member), ("tier", "Z")]
        )
        .status,
        422
    );
    assert_eq!(
        b.post(&format!("/classes/{}/length", h.class), &[("key", "brief"), ("seconds", "-1")]).status,
        422
    );
}

#[test]
fn names_are_escaped_everywhere() {
    let s = Server::start();
    let h = s.hall("Alder", 1);
    let mut b = s.signed_in(&h);
    let name = "<i>Zed</i> \"O'";
    assert_eq!(
        b.post("/members/new", &[("name", name), ("standard", "heavier"), ("level", "new")]).status,
        303
    );
    assert!(!b.get("/members").body.contains("<i>Zed"));
    let text = format!(
        "title: <b>x</b>\n# workout \"<script>alert(1)</script>\" cap 9:00\nfor time\n10 <img>\n{name}"
    );
    b.post(&format!("/classes/{}/sheet", h.class), &[("sheet", &text)]);
    for p in STEPS {
        let page = b.get(&format!("/classes/{}/{p}", h.class)).body;
        assert!(
            !page.contains("<script>alert") && !page.contains("<img>") && !page.contains("<b>x</b>"),
            "{p}"
        );
    }
}

#[test]
fn a_sheet_is_copied_to_another_day_and_found_again() {
    let server = Server::start();
    let (one, two) = (server.hall("Copy", 3), server.hall("Other", 1));
    let mut b = server.signed_in(&one);
    let done = b.post(&format!("/classes/{}/sheet/copy", one.class), &[("day", "2026-12-01")]);
    assert_eq!(done.status, 303);
    let page = b.get(&done.location);
    assert!(
        page.body.contains("Quay") && page.body.contains("Tue 1 December") && page.body.contains("3 members")
    );
    assert_eq!(b.post(&format!("/classes/{}/sheet/copy", one.class), &[("day", "soon")]).status, 422);
    let theirs = format!("/classes/{}/sheet/copy", two.class);
    assert_eq!(b.post(&theirs, &[("day", "2026-12-01")]).status, 404, "one hall never copies another's");
    let found = |b: &mut Browse, q: &str| b.get(&format!("/sheets?q={q}")).body;
    assert_eq!(found(&mut b, "burpees").matches("data-row").count(), 2);
    assert_eq!(found(&mut b, "rounds").matches("data-row").count(), 2);
    assert!(found(&mut b, "amrap").contains("None of 2 sheets has it"));
    let words = b.get("/sheet-words").body;
    assert!(words.contains("\"toes to bar\"") && words.contains("until failure"));
}

#[test]
fn a_stimulus_is_changed_and_given_back() {
    let server = Server::start();
    let hall = server.hall("Stim", 2);
    let mut b = server.signed_in(&hall);
    let at = format!("/classes/{}/stimulus", hall.class);
    let fields =
        [("block", "0"), ("low", "6:00"), ("high", "9:00"), ("cap", "11:00"), ("keep", "limit: lungs")];
    assert_eq!(b.post(&at, &fields).status, 303);
    let page = b.get(&at).body;
    assert!(page.contains("your own") && page.contains("value=\"6:00\"") && page.contains("limit: lungs"));
    assert!(b.get(&format!("/classes/{}/versions", hall.class)).body.contains("6:00 to 9:00"));
    let wrong = [("block", "0"), ("low", "9:00"), ("high", "6:00"), ("cap", "x"), ("keep", "be quick")];
    let page = b.post(&at, &wrong);
    assert_eq!(page.status, 422);
    assert!(
        page.body.contains("high to low")
            && page.body.contains("A cap is a time")
            && page.body.contains(">be quick<")
    );
    assert_eq!(b.post(&at, &[("block", "0"), ("as", "sheet")]).status, 303);
    assert!(b.get(&at).body.contains("from the sheet"));
}

#[test]
fn each_part_has_a_window_of_its_own_where_parts_differ() {
    let server = Server::start();
    let hall = server.hall("Parts", 2);
    let mut conn = server.database.conn();
    let session = class::find(&mut conn, hall.gym, hall.class).unwrap().session;
    let text = "# workout\namrap 5:00\n10 burpees\nrest 1:00\nthen\nfor time\n20 air squats\n";
    set_sheet(&mut conn, hall.gym, session, text).unwrap();
    let mut b = server.signed_in(&hall);
    let at = format!("/classes/{}/stimulus", hall.class);
    let page = b.get(&at).body;
    assert!(page.contains("Part 1") && page.contains("Part 2") && !page.contains("Part 3"));
    let wrong = [("block", "0"), ("part", "1"), ("low", "0:45"), ("high", "soon")];
    let page = b.post(&at, &wrong);
    assert_eq!(page.status, 422);
    assert!(page.body.contains("value=\"soon\"") && page.body.contains("id=\"win0p2\""));
    let kept = [("block", "0"), ("part", "1"), ("low", "0:45"), ("high", "1:15")];
    assert_eq!(b.post(&at, &kept).status, 303);
    let page = b.get(&at).body;
    assert!(page.contains("value=\"0:45\"") && page.contains("value=\"1:15\""));
    assert!(page.contains("Back to the inferred"));
    assert_eq!(b.post(&at, &[("block", "0"), ("part", "1"), ("as", "sheet")]).status, 303);
    assert!(!b.get(&at).body.contains("value=\"1:15\""));
}

#[test]
fn every_clock_has_all_its_pages() {
    let server = Server::start();
    let clocks = [
        "every 2:00 x 5\n6 burpees",
        "emom 6 alternating\nminute 1: 8 burpees\nminute 2: rest\nminute 3: 10 air squats",
        "every 1:00 until failure\n3 burpees, +2 each round",
        "intervals 2:00 on / 1:00 off x 3\nbuy-in: 100 m run\nmax burpees",
        "stations 0:40 on / 0:20 off, 2 rounds\nburpees\nair squats",
        ":20 on :10 off x 8\nburpees",
        "amrap 5:00\n10 burpees\nrest 1:00\nthen\nfor time\n20 air squats",
        "pairs, share the reps\nfor time\n60 burpees",
        "for time\n50 air squats\non every minute: 3 burpees",
    ];
    for (i, clock) in clocks.into_iter().enumerate() {
        let hall = server.hall(&format!("Hall{i}"), 2);
        let mut conn = server.database.conn();
        let session = class::find(&mut conn, hall.gym, hall.class).unwrap().session;
        set_sheet(&mut conn, hall.gym, session, &format!("# workout \"Quay\"\n{clock}\n")).unwrap();
        let mut b = server.signed_in(&hall);
        for step in
            ["sheet", "stimulus", "hour", "warm-up", "loads", "versions", "pacing", "floor", "wall", "log"]
        {
            let page = b.get(&format!("/classes/{}/{step}", hall.class));
            assert_eq!(page.status, 200, "{step} of {clock}");
            for bad in ["NaN", "inf:", "not understood"] {
                assert!(!page.body.contains(bad), "{bad} on {step} of {clock}");
            }
        }
    }
}

#[test]
fn it_is_kept_which_way_a_card_went_and_a_coach_opens_none() {
    let s = Server::start();
    let h = s.hall("Alder", 2);
    let mut b = s.signed_in(&h);
    let card = booking::planned(&mut s.database.conn(), h.gym, h.class).unwrap()[0].card_token.clone();
    let went = |s: &Server| {
        let all = lantern_store::card::of_class(&mut s.database.conn(), h.gym, h.class).unwrap();
        let w = all[&h.member];
        (w.sent.is_some(), w.opened.is_some(), w.on_paper.is_some())
    };
    assert_eq!(b.get(&format!("/card/{card}")).status, 200);
    assert_eq!(went(&s), (false, false, false), "the coach looked at it");
    let floor = format!("/classes/{}/floor", h.class);
    assert!(!b.get(&floor).body.contains("opened "));
    assert_eq!(s.browse().get(&format!("/card/{card}")).status, 200);
    assert_eq!(went(&s), (false, true, false));
    let sent = format!("/classes/{}/sent", h.class);
    assert_eq!(b.post(&sent, &[("member", &h.member.to_string())]).status, 303);
    assert_eq!(b.get(&format!("/classes/{}/paper/log", h.class)).status, 200);
    assert_eq!(went(&s), (true, true, false));
    assert_eq!(b.get(&format!("/classes/{}/paper/cards", h.class)).status, 200);
    assert_eq!(went(&s), (true, true, true));
    let page = b.get(&floor).body;
    assert!(page.contains("sent ") && page.contains(" · opened ") && page.contains(" · on paper "), "{page}");
    // nobody else's
    assert_eq!(b.post(&sent, &[("member", "01900000-0000-7000-8000-000000000000")]).status, 404);
    let mut stranger = s.signed_in(&s.hall("Birch", 1));
    assert_eq!(stranger.post(&sent, &[("member", &h.member.to_string())]).status, 404);
}
