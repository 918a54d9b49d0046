//! A hall from nothing, and the people who sign in to it.

use super::{Browse, PASSWORD, Server, token};
use lantern_store::{account, gym, link};

const CODE: &str = "LAMP-2468";
const OWN: &str = "four oars and a kettle";

fn form<'a>(code: &'a str, password: &'a str) -> Vec<(&'a str, &'a str)> {
    vec![
        ("code", code),
        ("hall", "Slipway"),
        ("place", "Port Ellery"),
        ("zone", "Europe/Dublin"),
        ("week_from", "Saturday"),
        ("length", "50"),
        ("unit", "lb"),
        ("kit", "small"),
        ("name", "Ines V."),
        ("email", "Ines@Slipway.example"),
        ("password", password),
    ]
}

fn at_set_up(s: &Server) -> Browse {
    let mut b = s.browse();
    b.csrf = token(&b.get("/set-up").body);
    b
}

/// The link that a page shows once.
fn made(page: &str) -> String {
    let path = page.split("/join/").nth(1).and_then(|r| r.split('"').next()).expect("no link on the page");
    format!("/join/{path}")
}

#[test]
fn an_empty_database_leads_to_its_first_hall_and_that_to_its_steps() {
    let s = Server::start();
    let mut b = s.browse();
    assert_eq!(b.get("/sign-in").location, "/set-up");
    let mut b = at_set_up(&s);
    // somebody without the code, and mistakes at their fields: what was typed stays, but for the password
    let stranger = b.post("/set-up", &form("GUES-9999", OWN));
    assert!(stranger.status == 422 && stranger.body.contains("This is not the code"), "{}", stranger.body);
    let mut bad = form(CODE, "Slipway 2026!!");
    bad[5].1 = "five";
    bad[9].1 = "ines";
    let again = b.post("/set-up", &bad);
    assert_eq!(again.status, 422);
    for words in ["from 5 to 240 minutes", "no e-mail address", "made of your name, e-mail or hall"] {
        assert!(again.body.contains(words), "{words}: {}", again.body);
    }
    assert!(again.body.contains("value=\"Slipway\"") && !again.body.contains("Slipway 2026!!"));
    let mut conn = s.database.conn();
    assert!(!gym::any(&mut conn).unwrap(), "nothing is half done");
    // typed as people copy it
    let done = b.post("/set-up", &form("lamp 2468", OWN));
    assert_eq!((done.status, done.location.as_str()), (303, "/start"));
    let page = b.get("/start").body;
    for words in ["8 bars, 2 racks", "no members yet", "1 account, no open invitations yet", "no classes yet"]
    {
        assert!(page.contains(words), "{words}: {page}");
    }
    let halls = gym::list(&mut conn).unwrap();
    assert_eq!((halls.len(), halls[0].name.as_str(), halls[0].place.as_str()), (1, "Slipway", "Port Ellery"));
    let hall = gym::find(&mut conn, halls[0].id).unwrap();
    assert_eq!((hall.settings.class_s, hall.week_from), (3000, chrono::Weekday::Sat));
    assert!(lantern_store::kit::find(&mut conn, hall.id).unwrap().pounds());
    assert!(b.get("/classes").body.contains("what it needs to begin"));
    // it is set up once
    let mut late = at_set_up(&s);
    late.csrf = "x".to_owned();
    assert_eq!(s.browse().get("/set-up").location, "/sign-in");
    assert_eq!(late.post("/set-up", &form(CODE, OWN)).status, 403);
}

#[test]
fn guesses_of_the_code_are_few() {
    let s = Server::start();
    let mut b = at_set_up(&s);
    for _ in 0..5 {
        assert_eq!(b.post("/set-up", &form("AAAA-AAAA", OWN)).status, 422);
    }
    assert_eq!(b.post("/set-up", &form(CODE, OWN)).status, 429);
}

#[test]
fn a_coach_joins_by_a_link_that_works_once() {
    let s = Server::start();
    let h = s.hall("Joining", 1);
    let mut owner = s.signed_in(&h);
    let tam = [("name", "Tam O."), ("email", "tam@hall.example"), ("role", "coach")];
    let shown = owner.post("/people/invite", &tam);
    assert_eq!(shown.status, 200);
    let path = made(&shown.body);
    // it is shown once, and can be withdrawn
    assert!(!owner.get("/people").body.contains("/join/"));
    assert!(owner.get("/people").body.contains("Tam O. (tam@hall.example) may join, invited by Coach"));
    let mut b = s.browse();
    let page = b.get(&path);
    assert!(page.body.contains("Join Joining") && page.body.contains("value=\"Tam O.\""), "{}", page.body);
    b.csrf = token(&page.body);
    for (fields, words) in [
        ([("name", "Tam O."), ("password", "short"), ("again", "short")], "at least 12 characters"),
        ([("name", "Tam O."), ("password", OWN), ("again", "four oars and a kettl")], "two passwords differ"),
        ([("name", ""), ("password", OWN), ("again", OWN)], "Write your name"),
    ] {
        let bad = b.post(&path, &fields);
        assert!(bad.status == 422 && bad.body.contains(words), "{words}: {}", bad.body);
    }
    let good = [("name", "Tam Orr"), ("password", OWN), ("again", OWN)];
    assert_eq!(b.post(&path, &good).location, "/classes");
    assert_eq!(b.get("/classes").status, 200);
    let used = s.browse().get(&path);
    assert!(used.status == 404 && used.body.contains("does not count any more"), "{}", used.body);
    // a coach neither invites nor removes
    b.csrf = token(&b.get("/people").body);
    assert_eq!(b.post("/people/invite", &tam).status, 403);
    let mut conn = s.database.conn();
    let all = account::list(&mut conn, h.gym).unwrap();
    let (ines, tam_id) = (
        all.iter().find(|a| a.name == "Coach").unwrap().id,
        all.iter().find(|a| a.name == "Tam Orr").unwrap().id,
    );
    assert_eq!(b.post(&format!("/people/{ines}/remove"), &[]).status, 403);
    // an address that has an account is not invited again
    let taken = owner.post("/people/invite", &tam);
    assert!(
        taken.status == 422 && taken.body.contains("tam@hall.example is there already"),
        "{}",
        taken.body
    );
    // the last owner stays, a coach goes and is out at once
    let last = owner.post(&format!("/people/{ines}/remove"), &[]);
    assert!(last.status == 422 && last.body.contains("The last owner stays"));
    assert_eq!(owner.post(&format!("/people/{tam_id}/remove"), &[]).status, 200);
    assert_eq!(b.get("/classes").status, 303);
}

#[test]
fn a_new_password_ends_the_sign_ins_of_before() {
    let s = Server::start();
    let h = s.hall("Keys", 1);
    let (mut here, mut there) = (s.signed_in(&h), s.signed_in(&h));
    let change = |b: &mut Browse, before: &str, new: &str| {
        b.post("/own/password", &[("before", before), ("password", new), ("again", new)])
    };
    assert!(here.get("/own").body.contains("End all but this one"));
    assert!(change(&mut here, "not it at all", OWN).body.contains("The password of now is not right"));
    assert!(change(&mut here, PASSWORD, "password1234").body.contains("every list of common passwords"));
    let done = change(&mut here, PASSWORD, OWN);
    assert!(done.status == 200 && done.body.contains("counts from now on"), "{}", done.body);
    assert_eq!((here.get("/classes").status, there.get("/classes").status), (200, 303));
    let mut conn = s.database.conn();
    assert!(account::check(&mut conn, &h.email, PASSWORD).unwrap().is_none());
    assert!(account::check(&mut conn, &h.email, OWN).unwrap().is_some());
    // by a link of an owner: another password, and everything of before ends
    let id = account::list(&mut conn, h.gym).unwrap()[0].id;
    let first = link::reset(&mut conn, h.gym, "Coach", id).unwrap();
    let token_of_now = link::reset(&mut conn, h.gym, "Coach", id).unwrap();
    assert_eq!(s.browse().get(&format!("/join/{first}")).status, 404, "the later one counts");
    let mut b = s.browse();
    let path = format!("/join/{token_of_now}");
    b.csrf = token(&b.get(&path).body);
    let new = "a lamp above the quay";
    assert_eq!(b.post(&path, &[("password", new), ("again", new)]).status, 303);
    assert_eq!((b.get("/classes").status, here.get("/classes").status), (200, 303));
}

#[test]
fn people_of_another_hall_are_out_of_reach() {
    let s = Server::start();
    let (a, b) = (s.hall("Alder", 1), s.hall("Birch", 1));
    let mut conn = s.database.conn();
    let theirs = account::list(&mut conn, b.gym).unwrap()[0].id;
    link::invite(&mut conn, b.gym, "Coach", ("x@hall.example", "X", account::Role::Coach)).unwrap();
    let waiting = link::list(&mut conn, b.gym).unwrap()[0].id;
    let mut owner = s.signed_in(&a);
    for path in [
        format!("/people/{theirs}/reset"),
        format!("/people/{theirs}/remove"),
        format!("/people/links/{waiting}/withdraw"),
    ] {
        assert_eq!(owner.post(&path, &[]).status, 404, "{path}");
    }
    assert!(link::list(&mut conn, a.gym).unwrap().is_empty());
    assert_eq!(link::list(&mut conn, b.gym).unwrap().len(), 1);
    assert!(!owner.get("/people").body.contains("x@hall.example"));
}

#[test]
fn a_door_takes_small_forms_only() {
    let s = Server::start();
    s.hall("Door", 1);
    let mut b = s.browse();
    b.csrf = token(&b.get("/sign-in").body);
    let long = format!("{}@hall.example", "a".repeat(300));
    let refused = b.post("/sign-in", &[("email", &long), ("password", "x")]);
    assert!(refused.status == 422 && refused.body.contains("do not belong together"));
    let flood = b.post("/sign-in", &[("email", &"a".repeat(1_900_000)), ("password", "x")]);
    assert!(flood.status == 422 && flood.body.contains("too long"), "{}", flood.status);
}

#[test]
fn members_come_in_from_a_table_after_they_were_seen() {
    let s = Server::start();
    let h = s.hall("Table", 1);
    let mut b = s.signed_in(&h);
    let text = "name;standard;level;body_mass_kg;limits;max:back squat\nAda V.;lighter;seasoned;61,5;knee;92.5x3\nBruno D.;heavier;;fat;kneee;140\nTable Member 0;heavier;regular;;;\n;heavier;new;;;";
    let seen = b.post("/members/roster", &[("text", text)]);
    assert_eq!(seen.status, 200);
    for words in [
        "2 new, 1 there already",
        "line 3, body_mass_kg",
        "line 3, limits",
        "Bruno D. has none: I read regular",
        "line 5, name",
        "This row has no name",
    ] {
        assert!(seen.body.contains(words), "{words}: {}", seen.body);
    }
    let mut conn = s.database.conn();
    assert_eq!(lantern_store::roster::list(&mut conn, h.gym).unwrap().len(), 1, "nobody is added yet");
    let key = "01939e2c-0000-7000-8000-0000000000aa";
    let add = [("text", text), ("do", "add"), ("once", key)];
    let done = b.post("/members/roster", &add);
    assert!(done.body.contains("2 members added. 1 were there already"), "{}", done.body);
    // sent twice it is done once
    b.post("/members/roster", &add);
    let all = lantern_store::roster::list(&mut conn, h.gym).unwrap();
    assert_eq!(all.len(), 3);
    let ada = all.iter().find(|m| m.name == "Ada V.").unwrap();
    assert_eq!(
        (ada.body_mass_kg, ada.limits.as_slice(), ada.maxes[0].reps),
        (Some(61.5), &[lantern_core::kinds::Limit::Knee][..], 3)
    );
    let none = b.post("/members/roster", &[("text", "who,what\na,b")]);
    assert!(none.status == 422 && none.body.contains("No member could be read"), "{}", none.body);
    assert_eq!(b.post("/members/roster", &[("text", &"a\n".repeat(2000))]).status, 422);
}

#[test]
fn pages_with_people_are_kept_nowhere_and_assets_are() {
    let s = Server::start();
    let h = s.hall("Cache", 1);
    let mut b = s.signed_in(&h);
    for path in ["/classes", "/members", "/people", "/own", "/sign-in", "/record"] {
        let head = b.get(path).head.to_lowercase();
        assert!(head.contains("cache-control: no-store"), "{path}: {head}");
        assert!(!head.contains("strict-transport-security"), "without TLS nothing is promised");
    }
    let page = b.get("/classes").body;
    let script = page.split("src=\"").nth(1).and_then(|r| r.split('"').next()).unwrap().to_owned();
    let head = b.get(&script).head.to_lowercase();
    assert!(head.contains("immutable") && !head.contains("no-store"), "{script}: {head}");
}

#[test]
fn a_body_that_never_ends_is_ended() {
    use std::io::{Read, Write};
    let s = Server::start();
    let mut line = std::net::TcpStream::connect(("127.0.0.1", s.port)).unwrap();
    line.set_read_timeout(Some(std::time::Duration::from_secs(25))).unwrap();
    let head = "POST /sign-in HTTP/1.1\r\nHost: x\r\nContent-Length: 1000\r\n\r\ncsrf=";
    line.write_all(head.as_bytes()).unwrap();
    let mut answer = [0; 4096];
    let n = line.read(&mut answer).unwrap();
    let answer = String::from_utf8_lossy(&answer[..n]);
    assert!(answer.starts_with("HTTP/1.1 408") && answer.contains("did not arrive whole"), "{answer}");
}

#[test]
fn it_is_kept_who_changed_what_and_shown_to_whoever_settles() {
    let s = Server::start();
    let (h, other) = (s.hall("Ledger", 1), s.hall("Else", 1));
    let mut owner = s.signed_in(&h);
    let mut conn = s.database.conn();
    let kept = |conn: &mut lantern_store::PlainConnection, gym| {
        let all = lantern_store::audit::list(conn, gym, None, None, 50).unwrap();
        all.into_iter().rev().map(|k| k.deed.unwrap().word()).collect::<Vec<_>>()
    };
    let member = format!("/members/{}", h.member);
    // refused, sent twice, and only read: none of it is a change
    assert_eq!(owner.post(&member, &[("name", "")]).status, 422);
    owner.post("/members/roster", &[("text", "name;level\nZoe;new")]);
    let key = "01939e2c-0000-7000-8000-0000000000ab";
    let repeat = [("weeks", "1"), ("once", key)];
    for _ in 0..2 {
        owner.post(&format!("/classes/{}/repeat", h.class), &repeat);
    }
    owner.post("/people/invite", &[("email", "t@hall.example"), ("name", "Tam O."), ("role", "coach")]);
    let limits =
        [("name", "Ledger Member 0"), ("standard", "heavier"), ("level", "regular"), ("limit", "knee")];
    assert_eq!(owner.post(&member, &limits).status, 303);
    assert_eq!(kept(&mut conn, h.gym), ["signed-in", "repeated-class", "invited", "changed-member"]);
    assert_eq!(kept(&mut conn, other.gym), Vec::<&str>::new());
    let page = owner.get("/changes").body;
    for words in ["invited somebody", "Tam O.", "changed what is known of a member", "Ledger Member 0"] {
        assert!(page.contains(words), "{words}: {page}");
    }
    assert!(!page.contains("knee"), "nothing private: {page}");
    assert!(!s.signed_in(&other).get("/changes").body.contains("Tam O."));
    // of one who signs in, and of nobody that this hall has
    let id = account::list(&mut conn, h.gym).unwrap()[0].id;
    assert!(owner.get(&format!("/changes?of={id}")).body.contains("repeated a class"));
    for odd in ["/changes?before=soon", "/changes?of=a&of=b", "/sheets?q=a&q=b", "/classes?week=x&week=y"] {
        let page = owner.get(odd);
        assert!(page.status == 404 && page.body.contains("There is no such page"), "{odd}: {}", page.body);
    }
    let theirs = account::list(&mut conn, other.gym).unwrap()[0].id;
    assert!(owner.get(&format!("/changes?of={theirs}")).body.contains("Nothing is kept here"));
    // an erased member has no name here either
    owner.post(&format!("{member}/leave"), &[]);
    owner.post(&format!("{member}/erase"), &[("name", "Ledger Member 0")]);
    assert!(!owner.get("/changes").body.contains("Ledger Member 0"));
}

#[test]
fn one_password_lets_somebody_in_to_all_their_halls_and_each_ends_by_itself() {
    let s = Server::start();
    let (a, b, other) = (s.hall("Alder", 1), s.hall("Birch", 1), s.hall("Cedar", 1));
    let mut conn = s.database.conn();
    // the owner of the first coaches in the second, with the same password, and is somebody else in the third
    let there = account::add(&mut conn, b.gym, &a.email, "Ines", account::Role::Coach, PASSWORD).unwrap();
    account::add(&mut conn, other.gym, &a.email, "Another", account::Role::Coach, "not the same word")
        .unwrap();
    let mut me = s.signed_in(&a);
    let own = me.get("/own").body;
    assert!(own.contains("Go to Birch") && !own.contains("Cedar"), "{own}");
    let key = own.split("name=\"to\" value=\"").nth(1).and_then(|r| r.split('"').next()).unwrap().to_owned();
    assert_eq!(me.post("/own/hall", &[("to", &key)]).location, "/classes");
    let page = me.get("/classes").body;
    assert!(page.contains("Birch") && !page.contains("Alder"), "{page}");
    me.csrf = token(&page);
    assert_eq!(me.post("/settings", &[]).status, 403, "a coach there, an owner here");
    assert_eq!(me.post("/own/hall", &[("to", &key)]).status, 404, "it is where they are");
    assert_eq!(me.post("/own/hall", &[("to", "01900000-0000-7000-8000-000000000000")]).status, 404);
    // back again; a new password there ends that hall alone
    let back = me.get("/own").body;
    let key = back.split("name=\"to\" value=\"").nth(1).and_then(|r| r.split('"').next()).unwrap().to_owned();
    me.post("/own/hall", &[("to", &key)]);
    me.csrf = token(&me.get("/classes").body);
    assert!(me.get("/own").body.contains("Go to Birch"));
    let reset = link::reset(&mut conn, b.gym, "Coach", there).unwrap();
    let mut by_link = s.browse();
    let path = format!("/join/{reset}");
    by_link.csrf = token(&by_link.get(&path).body);
    assert_eq!(by_link.post(&path, &[("password", OWN), ("again", OWN)]).status, 303);
    assert!(!me.get("/own").body.contains("Go to Birch"), "the sign-in there ended");
    assert_eq!(me.get("/classes").status, 200);
    // signing out ends all of them
    let mut both = s.browse();
    both.csrf = token(&both.get("/sign-in").body);
    assert_eq!(both.post("/sign-in", &[("email", &a.email), ("password", OWN)]).location, "/classes");
    assert!(both.get("/classes").body.contains("Birch"));
    me.post("/sign-out", &[]);
    assert_eq!((me.get("/classes").status, both.get("/classes").status), (303, 200));
}

#[test]
fn another_email_signs_in_once_the_password_was_given() {
    let s = Server::start();
    let h = s.hall("Post", 1);
    let mut conn = s.database.conn();
    account::add(&mut conn, h.gym, "tam@hall.example", "Tam", account::Role::Coach, PASSWORD).unwrap();
    let mut b = s.signed_in(&h);
    for (email, before, words) in [
        ("nowhere", PASSWORD, "no e-mail address"),
        ("new@hall.example", "guessed", "The password of now is not right"),
        ("tam@hall.example", PASSWORD, "tam@hall.example is there already"),
    ] {
        let bad = b.post("/own/email", &[("email", email), ("before", before)]);
        assert!(bad.status == 422 && bad.body.contains(words), "{words}: {}", bad.body);
        assert!(bad.body.contains(&format!("value=\"{email}\"")), "what was typed stays");
    }
    let done = b.post("/own/email", &[("email", " New@Hall.example "), ("before", PASSWORD)]);
    assert!(done.status == 200 && done.body.contains("new e-mail from now on"), "{}", done.body);
    assert!(account::check(&mut conn, &h.email, PASSWORD).unwrap().is_none());
    assert!(account::check(&mut conn, "new@hall.example", PASSWORD).unwrap().is_some());
}

#[test]
fn what_is_kept_with_an_account_and_what_the_machine_asks_for() {
    let s = Server::start();
    let (h, other) = (s.hall("Alder", 1), s.hall("Birch", 1));
    let (mut b, mut stranger) = (s.signed_in(&h), s.signed_in(&other));
    let page = b.get("/words").body;
    assert!(page.contains("id=\"stimulus\"") && page.contains("id=\"cut\""), "every word has its place");
    // nobody chose: the machine does, until somebody does
    assert!(page.contains("data-theme=\"system\""));
    let own = b.cookie.clone();
    for theme in ["dark", "light"] {
        let chosen = b.get(&format!("/theme/{theme}")).head;
        assert!(chosen.contains(&format!("theme={theme};")), "{chosen}");
        b.cookie = format!("{own}; theme={theme}");
        assert!(b.get("/words").body.contains(&format!("data-theme=\"{theme}\"")));
    }
    // single keys, of one account alone
    let off = "data-single-keys=\"off\"";
    assert!(!b.get("/words").body.contains(off));
    assert_eq!(b.post("/own/keys", &[]).status, 303);
    assert!(b.get("/words").body.contains(off) && s.signed_in(&h).get("/words").body.contains(off));
    assert!(!stranger.get("/words").body.contains(off));
    assert_eq!(b.post("/own/keys", &[("single", "on")]).status, 303);
    assert!(!b.get("/words").body.contains(off));
}
