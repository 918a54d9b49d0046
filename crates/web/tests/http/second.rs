//! A second factor beside the password: set up, asked for, lost, demanded.

use super::harness::Hall;
use super::{Browse, PASSWORD, Server, token};
use lantern_store::{AccountId, account, second};
use totp_rs::{Algorithm, TOTP};

/// What the app of an account shows some half minutes from now.
fn code(s: &Server, h: &Hall, id: AccountId, later: u64) -> String {
    let secret = second::find(&mut s.database.conn(), (h.gym, id)).unwrap().unwrap().secret;
    let app = TOTP::new(Algorithm::SHA1, 6, 1, 30, secret, None, "x".into()).unwrap();
    let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH).unwrap().as_secs();
    app.generate(now + 30 * later)
}

fn owner_of(s: &Server, h: &Hall) -> AccountId {
    account::list(&mut s.database.conn(), h.gym).unwrap()[0].id
}

/// Somebody whose password was right.
fn password_alone(s: &Server, h: &Hall, next: &str) -> Browse {
    let mut b = s.browse();
    b.csrf = token(&b.get("/sign-in").body);
    let to = b.post("/sign-in", &[("email", &h.email), ("password", PASSWORD), ("next", next)]);
    assert_eq!(to.status, 303);
    if to.location.starts_with("/sign-in/code") {
        b.csrf = token(&b.get(&to.location).body);
    }
    b
}

/// Sets one up; the codes for when the app is lost.
fn set_up(s: &Server, h: &Hall, b: &mut Browse) -> Vec<String> {
    assert_eq!(b.post("/own/second", &[]).location, "/own/second");
    let page = b.get("/own/second").body;
    assert!(page.contains("the secret for your app") && page.contains("<svg class=\"hl-code\""), "{page}");
    let id = owner_of(s, h);
    let wrong = b.post("/own/second/prove", &[("code", "000000")]);
    assert!(wrong.status == 422 && wrong.body.contains("This code does not count"), "{}", wrong.body);
    let done = b.post("/own/second/prove", &[("code", &code(s, h, id, 0))]);
    assert_eq!(done.status, 200, "{}", done.body);
    let list = done.body.split("hl-codes").nth(1).unwrap().split("</ul>").next().unwrap();
    let codes: Vec<String> =
        list.split("<li>").skip(1).map(|r| r.split('<').next().unwrap().to_owned()).collect();
    assert_eq!(codes.len(), 10);
    codes
}

#[test]
fn a_password_alone_opens_nothing_once_a_code_is_asked_for() {
    let s = Server::start();
    let h = s.hall("Bollard", 1);
    let (mut b, mut other) = (s.signed_in(&h), s.signed_in(&h));
    let codes = set_up(&s, &h, &mut b);
    assert_eq!((b.get("/classes").status, other.get("/classes").status), (200, 303), "others ended");
    let id = owner_of(&s, &h);
    let mut half = password_alone(&s, &h, "/members");
    for path in ["/classes", "/own", "/own/second", "/people", "/settings"] {
        let to = half.get(path);
        assert!(to.status == 303 && to.location.starts_with("/sign-in/code"), "{path}: {}", to.status);
    }
    assert_eq!(half.post("/people/second", &[("wanted", "yes")]).status, 303);
    assert!(half.post("/own/second/off", &[("code", &codes[9])]).location.starts_with("/sign-in/code"));
    let wrong = half.post("/sign-in/code", &[("code", "123 45"), ("next", "/members")]);
    assert!(wrong.status == 422 && wrong.body.contains("does not count"), "{}", wrong.body);
    // the code that set it up is used
    let fresh = code(&s, &h, id, 1);
    let done = half.post("/sign-in/code", &[("code", &fresh), ("next", "/members")]);
    assert_eq!((done.status, done.location.as_str()), (303, "/members"));
    assert_eq!(half.get("/members").status, 200);
    let mut again = password_alone(&s, &h, "");
    assert_eq!(again.post("/sign-in/code", &[("code", &fresh)]).status, 422, "no code counts twice");
    // the app is lost: each of the written codes counts once, however it is typed
    let typed = codes[0].replace('-', " ").to_uppercase();
    assert_eq!(
        again.post("/sign-in/code", &[("code", &typed), ("next", "//evil.example")]).location,
        "/classes"
    );
    let mut third = password_alone(&s, &h, "");
    assert_eq!(third.post("/sign-in/code", &[("code", &codes[0])]).status, 422);
    for _ in 0..4 {
        third.post("/sign-in/code", &[("code", "999999")]);
    }
    assert_eq!(third.post("/sign-in/code", &[("code", &codes[1])]).status, 429, "no guessing");
    assert_eq!(again.get("/classes").status, 200, "who is in stays in");
}

#[test]
fn it_is_taken_off_with_a_code_or_by_an_owner() {
    let s = Server::start();
    let (h, other) = (s.hall("Buoy", 1), s.hall("Cleat", 1));
    let mut b = s.signed_in(&h);
    let codes = set_up(&s, &h, &mut b);
    let id = owner_of(&s, &h);
    let renewed = b.post("/own/second/codes", &[("code", &codes[0])]);
    assert!(renewed.status == 200 && !renewed.body.contains(&codes[1]), "the ones before are gone");
    assert_eq!(b.post("/own/second/off", &[("code", &codes[1])]).status, 422);
    // an owner of another hall takes nothing off
    let mut stranger = s.signed_in(&other);
    assert_eq!(stranger.post(&format!("/people/{id}/second"), &[]).status, 404);
    assert!(second::find(&mut s.database.conn(), (h.gym, id)).unwrap().is_some());
    assert_eq!(b.post(&format!("/people/{id}/second"), &[]).status, 200);
    assert!(b.get("/own/second").body.contains("None is asked for"));
    assert_eq!(s.signed_in(&h).get("/classes").status, 200);
}

#[test]
fn an_owner_may_ask_one_of_everybody() {
    let s = Server::start();
    let h = s.hall("Dory", 1);
    let mut conn = s.database.conn();
    account::add(&mut conn, h.gym, "tam@dory.example", "Tam", account::Role::Coach, PASSWORD).unwrap();
    let mut owner = s.signed_in(&h);
    let early = owner.post("/people/second", &[("wanted", "yes")]);
    assert!(early.status == 422 && early.body.contains("Set up your own"), "{}", early.body);
    set_up(&s, &h, &mut owner);
    assert_eq!(owner.post("/people/second", &[("wanted", "yes")]).status, 200);
    // a coach without one is led to it, and nothing else opens
    let mut tam = s.browse();
    tam.csrf = token(&tam.get("/sign-in").body);
    tam.post("/sign-in", &[("email", "tam@dory.example"), ("password", PASSWORD)]);
    let to = tam.get("/classes");
    assert!(to.status == 303 && to.location.starts_with("/own/second"), "{}", to.location);
    let page = tam.get("/own/second").body;
    assert!(page.contains("asks one of everybody"), "{page}");
    tam.csrf = token(&page);
    tam.post("/own/second", &[]);
    let id = account::list(&mut conn, h.gym).unwrap().into_iter().find(|a| a.name == "Tam").unwrap().id;
    assert_eq!(tam.post("/own/second/prove", &[("code", &code(&s, &h, id, 0))]).status, 200);
    assert_eq!(tam.get("/classes").status, 200);
    // left to each again: nobody is held up
    assert_eq!(owner.post("/people/second", &[("wanted", "no")]).status, 200);
    assert!(!second::demanded(&mut conn, h.gym).unwrap());
}
