//! Two walls of one class: what is pressed at one is seen at both, in step, and one that loses the network comes back by itself.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};
use std::time::Duration;

const SHEET: &str = "# workout\n6 x 0:12 on 0:08 off\n10 burpees\n";

/// A wall of the hall's class.
pub async fn wall(hall: &Hall) -> Browser {
    let browser = Browser::start(1280, 720).await;
    hall.sign_in(&browser.client).await;
    browser.client.goto(&hall.url(&format!("/classes/{}/wall", hall.class))).await.unwrap();
    browser
}

/// The moment of 0:00 by the screen's own clock, ms since 1970, once it is known.
pub async fn zero(c: &Client) -> f64 {
    // several measures of the server's time are taken after the wall is told
    tokio::time::sleep(Duration::from_millis(800)).await;
    let zero =
        c.execute("return Number(document.getElementById('wall').dataset.zero)", Vec::new()).await.unwrap();
    zero.as_f64().unwrap()
}

async fn press(c: &Client, key: &str) {
    c.find(Locator::Css("body")).await.unwrap().send_keys(key).await.unwrap();
}

#[tokio::test]
async fn two_walls_show_the_same_second_and_the_same_press() {
    let hall = Hall::open().await;
    hall.save_sheet(SHEET);
    let (one, other) = (wall(&hall).await, wall(&hall).await);
    let (a, b) = (&one.client, &other.client);
    assert_eq!((text(a, "#clock").await.as_str(), text(b, "#clock").await.as_str()), ("0:00", "0:00"));

    // nobody has pressed anything here: it does not say that it can be heard
    assert_eq!(text(b, "#mute").await, "Sound waits: press here");
    for said in ["Sound is on", "Sound is off"] {
        click(b, "#mute").await;
        until(b, "#mute", said).await;
    }

    // started by a key at one, it runs at the other: a lead-in, then the window counts down
    press(a, " ").await;
    until(b, "#what", "starts in").await;
    let apart = (zero(a).await - zero(b).await).abs();
    assert!(apart < 100.0, "{apart} ms apart");
    for c in [a, b] {
        until(c, "#what", "work 1 of 6").await;
        until(c, "#clock", "0:0").await;
    }
    until(a, "#what", "rest").await;

    // stopped at the other, gone on with at the first
    click(b, "#pause").await;
    until(a, "#what", "stopped").await;
    until(a, "#mute", "Sound is on").await;
    let stands = text(a, "#clock").await;
    assert_eq!(text(b, "#clock").await, stands);
    press(a, " ").await;
    until(b, "#what", "work 2 of 6").await;
    let apart = (zero(a).await - zero(b).await).abs();
    assert!(apart < 100.0, "{apart} ms apart after a stop");

    // taken back at one while the other has no network: that one goes on, and comes back by itself
    other.offline(true).await;
    until(b, "#net", "No connection").await;
    a.execute("window.confirm = () => true", Vec::new()).await.unwrap();
    press(a, "b").await;
    until(a, "#clock", "0:00").await;
    until(a, "[data-round]", "member").await; // it shows again how many do each version
    assert_ne!(text(b, "#what").await, "", "it still says what it knows");
    assert!(zero(b).await > 0.0);
    other.offline(false).await;
    until(b, "#clock", "0:00").await;
    assert!(b.find(Locator::Css("#start:not([hidden])")).await.is_ok());
    assert_eq!(text(b, "#net").await, "");
}

#[tokio::test]
async fn walls_turn_together_and_one_without_a_line_follows_when_it_is_back() {
    let hall = Hall::open().await;
    hall.save_sheet("# strength\nback squat 3 x 5 @ 70%, every 2:00\n# workout cap 10:00\n3 rounds for time\n10 burpees\n");
    let (one, other) = (wall(&hall).await, wall(&hall).await);
    let (a, b) = (&one.client, &other.client);
    a.execute("window.confirm = () => true", Vec::new()).await.unwrap();
    press(a, "n").await;
    for c in [a, b] {
        until(c, "#what", "1 of ").await;
        assert!(c.find(Locator::Css(".wsteps li.is-now")).await.is_ok(), "the drill that runs is lit");
    }
    press(b, "n").await;
    for c in [a, b] {
        until(c, "#what", "build up").await;
        until(c, "#part", "Rack 1").await;
    }
    // the wall of the racks alone has whole names and weights too
    let cut = "return [...document.querySelectorAll('.wracks .n, .wracks .kg, .wracks .pl, .wlifts span, .wlifts b')].filter(e => e.scrollWidth > e.clientWidth + 1).map(e => e.textContent)";
    assert_eq!(a.execute(cut, Vec::new()).await.unwrap(), serde_json::json!([]));
    let racks = hall.url(&format!("/classes/{}/wall/racks", hall.class));
    a.goto(&racks).await.unwrap();
    assert!(text(a, "#main").await.contains("Alva"));
    assert_eq!(a.execute(cut, Vec::new()).await.unwrap(), serde_json::json!([]));
    a.goto(&hall.url(&format!("/classes/{}/wall", hall.class))).await.unwrap();
    a.execute("window.confirm = () => true", Vec::new()).await.unwrap();
    // while one has no line the other goes on to the workout and starts it
    other.offline(true).await;
    until(b, "#net", "No connection").await;
    press(a, "n").await;
    until(a, "#part", "Burpee").await;
    press(a, "n").await;
    until(a, "#start", "Start the clock").await;
    press(a, " ").await;
    until(a, "#what", "starts in").await;
    until(b, "#part", "Rack 1").await;
    other.offline(false).await;
    until(b, "#part", "Full").await;
    let apart = (zero(a).await - zero(b).await).abs();
    assert!(apart < 100.0, "{apart} ms apart");
}
