//! Results teach, are asked about where they lie far off, and are left out and taken in again.

use super::harness::{Browse, Server};
use super::held::{at, log, scripted};

#[test]
fn a_far_result_is_asked_about_and_can_be_left_out_of_learning() {
    let s = Server::start();
    let h = s.hall("Learns", 2);
    let mut b = s.signed_in(&h);
    let member = h.member.to_string();
    let far = log(&mut b, &h, &[("result", "1:05")]);
    assert_eq!(far.status, 303);
    let page = b.get(&at(&h, "log")).body;
    assert!(page.contains("Far faster than any run I made") && page.contains("Not a normal day"), "{page}");
    let of = format!("/members/{member}/results");
    let theirs = b.get(&of).body;
    assert!(theirs.contains("1:05") && theirs.contains("too far from any run I made"), "{theirs}");
    // one that is believable teaches, and says what it did
    assert_eq!(log(&mut b, &h, &[("result", "6:10")]).status, 303);
    assert!(!b.get(&at(&h, "log")).body.contains("Far faster"));
    let theirs = b.get(&of).body;
    assert!(theirs.contains("made such work") && theirs.contains("1 result: "), "{theirs}");
    let hall = b.get("/learnt").body;
    assert!(hall.contains("One result so far") && hall.contains("rounds against the clock"), "{hall}");
    // left out by a script of the log, and taken in again on the member's page
    let fields = [("block", "0"), ("member", member.as_str()), ("why", "odd-day")];
    let answer = scripted(&mut b, &at(&h, "log/teach"), &fields);
    assert!(
        answer.status == 200
            && answer.body.matches("Left out of what I learn: not a normal day").count() == 2,
        "{}",
        answer.body
    );
    assert!(b.get("/learnt").body.contains("No result has taught me anything yet"));
    let class = h.class.to_string();
    let back = [("class", class.as_str()), ("block", "0"), ("why", "")];
    assert_eq!(b.post(&of, &back).status, 303);
    assert!(b.get("/learnt").body.contains("One result so far"));
    assert_eq!(b.post(&format!("{of}/forget"), &[]).status, 303);
    assert!(b.get("/learnt").body.contains("No result has taught me anything yet"));
    assert!(b.get(&of).body.contains("left out: forgotten"));
    // a word that is none, a result that is none, another hall's
    assert_eq!(b.post(&of, &[("class", &class), ("block", "0"), ("why", "lazy")]).status, 404);
    assert_eq!(b.post(&of, &[("class", &class), ("block", "7"), ("why", "")]).status, 404);
    let other = s.hall("Other", 1);
    let mut stranger = s.signed_in(&other);
    assert_eq!(stranger.get(&of).status, 404);
    assert_eq!(stranger.post(&of, &back).status, 404);
    assert_eq!(stranger.post(&format!("{of}/forget"), &[]).status, 404);
}

#[test]
fn the_next_class_is_planned_with_what_the_last_one_taught() {
    let s = Server::start();
    let h = s.hall("Next", 2);
    let mut b = s.signed_in(&h);
    let next = s.class_on(&h, 7);
    let reasons =
        |b: &mut Browse, class: &str| b.get(&format!("/classes/{class}/versions?why={}", h.member)).body;
    let next = next.to_string();
    assert!(reasons(&mut b, &next).contains("stands here") && !reasons(&mut b, &next).contains("because of"));
    assert_eq!(log(&mut b, &h, &[("result", "6:10")]).status, 303);
    let page = reasons(&mut b, &next);
    assert!(page.contains("because of 1 result of theirs and the hall"), "{page}");
    // the class that was held is foretold as it was
    assert!(!reasons(&mut b, &h.class.to_string()).contains("because of"));
}
