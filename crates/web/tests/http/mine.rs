//! A member's own page: the link that opens it, what it shows, what they say of themselves.

use super::harness::{Answer, Hall};
use super::{Browse, Server, token};
use lantern_core::kinds::Limit;
use lantern_store::{account, booking, own_page, roster};

/// The link that a coach makes for a member.
fn link(b: &mut Browse, h: &Hall) -> String {
    let made = b.post(&format!("/members/{}/link", h.member), &[]);
    assert_eq!(made.status, 200, "{}", made.body);
    assert!(made.body.contains("<svg class=\"hl-code\""), "{}", made.body);
    let path = made.body.split("/mine/").nth(1).and_then(|r| r.split('"').next()).unwrap();
    format!("/mine/{path}")
}

/// A member with their page open.
fn at(s: &Server, path: &str) -> (Browse, Answer) {
    let mut b = s.browse();
    let page = b.get(path);
    b.csrf = token(&page.body);
    (b, page)
}

#[test]
fn a_member_sees_their_own_and_nothing_of_anybody_else() {
    let s = Server::start();
    let h = s.hall("Jetty", 3);
    let mut coach = s.signed_in(&h);
    assert!(coach.get(&format!("/members/{}", h.member)).body.contains("No link yet"));
    let path = link(&mut coach, &h);
    let (mut b, page) = at(&s, &path);
    assert_eq!(page.status, 200, "{}", page.body);
    let card = booking::planned(&mut s.database.conn(), h.gym, h.class).unwrap()[0].card_token.clone();
    for words in ["Jetty Member 0", "Tuesday 24 November, 12:00", "Quay", &format!("/card/{card}"), "noindex"]
    {
        assert!(page.body.contains(words), "{words}: {}", page.body);
    }
    assert!(!page.body.contains("Member 1") && !page.body.contains("Sign out"), "{}", page.body);
    assert!(page.head.contains("noindex") && page.head.to_lowercase().contains("no-store"), "{}", page.head);
    let told = coach.get(&format!("/members/{}", h.member)).body;
    assert!(told.contains("by Coach, opened last"), "{told}");
    assert!(!told.contains(&path), "it is shown once");
    // the link opens nothing of the hall
    assert_eq!((b.get("/classes").status, b.get("/members").status), (303, 303));
    // a result of theirs stands there
    let typed = [("block", "0"), ("member", &h.member.to_string()), ("tier", "full"), ("result", "8:41")];
    assert!(coach.post(&format!("/classes/{}/log", h.class), &typed).status < 400);
    assert!(b.get(&path).body.contains("8:41"));
}

#[test]
fn a_link_is_renewed_withdrawn_and_ends_with_membership() {
    let s = Server::start();
    let h = s.hall("Links", 1);
    let mut coach = s.signed_in(&h);
    let first = link(&mut coach, &h);
    let second = link(&mut coach, &h);
    let gone = s.browse().get(&first);
    assert!(gone.status == 404 && gone.body.contains("opens nothing any more"), "{}", gone.body);
    assert_eq!(s.browse().get(&second).status, 200);
    coach.post(&format!("/members/{}/link/withdraw", h.member), &[]);
    assert_eq!(s.browse().get(&second).status, 404);
    let third = link(&mut coach, &h);
    coach.post(&format!("/members/{}/leave", h.member), &[]);
    assert_eq!(s.browse().get(&third).status, 404);
    assert_eq!(coach.post(&format!("/members/{}/link", h.member), &[]).status, 404, "who left gets none");
    for bad in ["/mine/x", "/mine/", &format!("/mine/{}", "a".repeat(2000)), "/mine/%00"] {
        assert_eq!(s.browse().get(bad).status, 404, "{bad}");
    }
}

#[test]
fn what_a_member_says_counts_once_a_coach_takes_it() {
    let s = Server::start();
    let h = s.hall("Says", 1);
    let mut coach = s.signed_in(&h);
    let path = link(&mut coach, &h);
    let (mut b, _) = at(&s, &path);
    let bad = b.post(&path, &[("what", "lifted"), ("lift", "bck sqat"), ("load", "92,5")]);
    assert!(bad.status == 422 && bad.body.contains("Did you mean back squat"), "{}", bad.body);
    assert!(bad.body.contains("value=\"bck sqat\"") && bad.body.contains("value=\"92,5\""), "{}", bad.body);
    let lifted =
        [("what", "lifted"), ("lift", "back squat"), ("load", "92,5"), ("reps", "3"), ("on", "2026-11-20")];
    for _ in 0..2 {
        // pressed twice it waits once
        assert_eq!(b.post(&path, &lifted).status, 303);
    }
    assert_eq!(b.post(&path, &[("what", "spare"), ("limit", "knee")]).status, 303);
    let page = b.get(&path).body;
    assert_eq!(page.matches("waits for a coach").count(), 2, "{page}");
    let mut conn = s.database.conn();
    let known = |conn: &mut lantern_store::PlainConnection| roster::find(conn, h.gym, h.member).unwrap();
    assert!(known(&mut conn).maxes.is_empty() && known(&mut conn).limits.is_empty(), "nothing counts yet");
    assert!(coach.get("/members").body.contains("2 proposals wait"));
    let list = coach.get("/members/proposals").body;
    assert!(
        list.contains("92.5 kg × 3, 20 November 2026") && list.contains("nothing known of this lift yet"),
        "{list}"
    );
    let all = own_page::proposals(&mut conn, h.gym).unwrap();
    let answer = |b: &mut Browse, i: usize, how: &str| {
        b.post(&format!("/members/proposals/{}", all[i].id), &[("do", how)]).status
    };
    assert_eq!((answer(&mut coach, 0, "take"), answer(&mut coach, 0, "take")), (303, 404), "taken once");
    assert_eq!(answer(&mut coach, 1, "keep"), 404);
    assert_eq!(answer(&mut coach, 1, "take"), 303);
    let m = known(&mut conn);
    assert_eq!((m.maxes[0].kg, m.maxes[0].reps, m.limits.as_slice()), (92.5, 3, &[Limit::Knee][..]));
    let page = b.get(&path).body;
    assert!(
        page.contains("Your coaches spare: knee") && page.contains("Back squat")
            || page.contains("back squat"),
        "{page}"
    );
    // taken back by the member; put away by the coach
    b.post(&path, &[("what", "healed"), ("limit", "knee")]);
    let waits = own_page::proposals(&mut conn, h.gym).unwrap()[0].id;
    assert_eq!(b.post(&format!("{path}/back/{waits}"), &[]).status, 303);
    assert!(own_page::proposals(&mut conn, h.gym).unwrap().is_empty());
    assert_eq!(known(&mut conn).limits, [Limit::Knee]);
}

#[test]
fn many_proposals_are_refused_and_strangers_reach_none() {
    let s = Server::start();
    let (h, other) = (s.hall("Many", 1), s.hall("Other", 1));
    let (mut coach, mut theirs) = (s.signed_in(&h), s.signed_in(&other));
    let (path, foreign) = (link(&mut coach, &h), link(&mut theirs, &other));
    let (mut b, _) = at(&s, &path);
    let statuses: Vec<u16> = (0..12)
        .map(|i| {
            let load = (60 + i).to_string();
            b.post(&path, &[("what", "lifted"), ("lift", "deadlift"), ("load", &load), ("reps", "1")]).status
        })
        .collect();
    assert_eq!((statuses[9], statuses[10], statuses[11]), (303, 422, 422));
    let waits = own_page::proposals(&mut s.database.conn(), h.gym).unwrap()[0].id;
    // another member, another hall, no token of the form
    let (mut stranger, _) = at(&s, &foreign);
    assert_eq!(stranger.post(&format!("{foreign}/back/{waits}"), &[]).status, 404);
    assert_eq!(theirs.post(&format!("/members/proposals/{waits}"), &[("do", "take")]).status, 404);
    stranger.csrf = "x".repeat(64);
    let stale = stranger.post(&foreign, &[("what", "spare"), ("limit", "knee")]);
    assert!(stale.status == 422 && stale.body.contains("out of date"), "{}", stale.body);
    assert_eq!(b.post(&path, &[("what", &"a".repeat(20_000))]).status, 422);
    assert_eq!(own_page::proposals(&mut s.database.conn(), h.gym).unwrap().len(), 10);
    assert!(own_page::proposals(&mut s.database.conn(), other.gym).unwrap().is_empty());
    // the front desk neither makes links nor answers
    account::add(
        &mut s.database.conn(),
        h.gym,
        "desk@hall.example",
        "D",
        account::Role::FrontDesk,
        super::PASSWORD,
    )
    .unwrap();
    let mut desk = s.signed_in(&Hall { email: "desk@hall.example".into(), ..h });
    assert_eq!(desk.post(&format!("/members/{}/link", h.member), &[]).status, 403);
    assert_eq!(desk.get("/members/proposals").status, 403);
}
