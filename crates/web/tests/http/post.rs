//! Letters with links: to join, for a new password, and for whoever forgot theirs.

use super::{Browse, PASSWORD, Server, token};
use lantern_web::post::{Letter, Office, Post};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

/// A post that keeps what is sent; it fails while it is shut.
#[derive(Default)]
struct Box_ {
    letters: Mutex<Vec<Letter>>,
    shut: Mutex<bool>,
}

impl Post for Box_ {
    fn send(&self, letter: &Letter) -> Result<(), String> {
        if *self.shut.lock().unwrap() {
            return Err("the mail server is away".to_owned());
        }
        self.letters.lock().unwrap().push(letter.clone());
        Ok(())
    }
}

fn with_post() -> (Server, Arc<Box_>) {
    let post = Arc::new(Box_::default());
    let office =
        Office { post: Arc::clone(&post) as Arc<dyn Post>, address: "https://hall.example".to_owned() };
    (Server::with_office(Some(office)), post)
}

/// The letters once so many are there; sending is not waited for.
fn letters(post: &Box_, n: usize) -> Vec<Letter> {
    let until = Instant::now() + Duration::from_secs(10);
    while post.letters.lock().unwrap().len() < n && Instant::now() < until {
        std::thread::sleep(Duration::from_millis(20));
    }
    post.letters.lock().unwrap().clone()
}

fn link(l: &Letter) -> String {
    let at = l.text.find("https://hall.example/join/").expect("no link in the letter");
    l.text[at + "https://hall.example".len()..].split_whitespace().next().unwrap().to_owned()
}

fn forgotten(s: &Server, email: &str) -> super::harness::Answer {
    let mut b = s.browse();
    b.csrf = token(&b.get("/sign-in/forgotten").body);
    b.post("/sign-in/forgotten", &[("email", email)])
}

#[test]
fn an_invitation_is_sent_and_shown_and_a_letter_that_fails_is_said() {
    let (s, post) = with_post();
    let h = s.hall("Mailed", 1);
    let mut owner = s.signed_in(&h);
    let tam = [("name", "Tam O."), ("email", "tam@hall.example"), ("role", "coach")];
    let page = owner.post("/people/invite", &tam).body;
    assert!(page.contains("It is sent to tam@hall.example as well."), "{page}");
    let l = letters(&post, 1).remove(0);
    assert_eq!((l.to.as_str(), l.subject.as_str()), ("tam@hall.example", "Join Mailed"));
    assert!(page.contains(&format!("https://hall.example{}", link(&l))), "the same link is shown");
    assert_eq!(s.browse().get(&link(&l)).status, 200);
    *post.shut.lock().unwrap() = true;
    let page =
        owner.post("/people/invite", &[("name", "Bo"), ("email", "bo@hall.example"), ("role", "coach")]).body;
    assert!(page.contains("could not be sent") && page.contains("https://hall.example/join/"), "{page}");
    assert!(!page.contains("mail server is away"), "why is for the log");
}

#[test]
fn whoever_forgot_their_password_gets_a_letter_and_nobody_learns_who_has_an_account() {
    let (s, post) = with_post();
    let h = s.hall("Lost", 1);
    let (known, stranger) = (forgotten(&s, &h.email), forgotten(&s, "nobody@hall.example"));
    let plain =
        |a: &super::harness::Answer, email: &str| a.body.replace(email, "X").replace(&token(&a.body), "");
    assert_eq!((known.status, stranger.status), (200, 200));
    assert_eq!(plain(&known, &h.email), plain(&stranger, "nobody@hall.example"));
    let all = letters(&post, 1);
    assert_eq!((all.len(), all[0].to.as_str()), (1, h.email.as_str()));
    // until it is used the old password counts; then the new one does
    assert_eq!(s.signed_in(&h).get("/classes").status, 200);
    let mut b: Browse = s.browse();
    let path = link(&all[0]);
    b.csrf = token(&b.get(&path).body);
    let new = "a lamp above the quay";
    assert_eq!(b.post(&path, &[("password", new), ("again", new)]).status, 303);
    let mut conn = s.database.conn();
    assert!(lantern_store::account::check(&mut conn, &h.email, PASSWORD).unwrap().is_none());
    // nobody is flooded with letters
    let statuses: Vec<u16> = (0..7).map(|_| forgotten(&s, &h.email).status).collect();
    // two were asked for before from here, one of them for this address
    assert_eq!(statuses, [200, 200, 200, 429, 429, 429, 429]);
    assert_eq!(forgotten(&s, "not an address").status, 422);
    assert_eq!(letters(&post, 4).len(), 4);
}

#[test]
fn without_a_way_for_letters_it_is_said_whom_to_ask() {
    let s = Server::start();
    s.hall("Silent", 1);
    assert!(s.browse().get("/sign-in").body.contains("/sign-in/forgotten"));
    let page = s.browse().get("/sign-in/forgotten").body;
    assert!(page.contains("This server sends no letters") && !page.contains("name=\"email\""), "{page}");
    assert_eq!(forgotten(&s, "x@hall.example").status, 200);
}
