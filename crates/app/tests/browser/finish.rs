//! Names tapped at the finish: the clock of the wall gives the time, also of a tap that is sent late.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::Locator;
use std::time::Duration;

const SHEET: &str =
    "# workout \"Gull Steps\" cap 14:00 target 8:00-11:00\n3 rounds for time\n12 burpees\n200 m run";

/// `m:ss` in seconds.
fn seconds(text: &str) -> i64 {
    let (minutes, rest) = text.split_once(':').unwrap_or_else(|| panic!("no time: {text}"));
    60 * minutes.parse::<i64>().unwrap() + rest.parse::<i64>().unwrap()
}

#[tokio::test]
async fn names_are_tapped_as_they_come_in_and_a_late_tap_keeps_its_time() {
    let hall = Hall::open().await;
    hall.save_sheet(SHEET);
    let browser = Browser::start(390, 844).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    c.goto(&hall.url(&format!("/classes/{}/finish", hall.class))).await.unwrap();
    let [first, second] = [0, 1].map(|i| hall.members[i].to_string());
    let tap = |m: &str| format!("#tap-0-{m}");
    let tile = |m: &str| format!("#tile-0-{m}");
    until(c, "#clock", "The clock stands").await;
    click(c, &tap(&first)).await;
    until(c, &tile(&first), "The wall’s clock stands").await;

    // started elsewhere, it runs here
    hall.start_clock(522);
    until(c, "#clock", "8:4").await;
    let at = seconds(&text(c, "#clock").await);
    click(c, &tap(&first)).await;
    until(c, &tile(&first), "Undo").await;
    let time = |of: String| seconds(of.split(' ').next_back().unwrap());
    let logged = hall.results();
    assert!(logged.len() == 1 && (0..=3).contains(&(time(logged[0].clone()) - at)), "{at}: {logged:?}");
    until(c, "#said", "8:").await;
    let focused = c.execute("return document.activeElement.id", Vec::new()).await.unwrap();
    assert_eq!(focused, serde_json::json!(tile(&first)[1..]), "the tile is where the hand is");

    // tapped without a connection, and sent four seconds later
    browser.offline(true).await;
    let at = seconds(&text(c, "#clock").await);
    click(c, &tap(&second)).await;
    until(c, "#lost", "Nothing is lost: 1 to send").await;
    tokio::time::sleep(Duration::from_secs(4)).await;
    browser.offline(false).await;
    until(c, &tile(&second), "Undo").await;
    let late: Vec<i64> = hall.results().into_iter().map(time).collect();
    assert!(late.iter().any(|t| (0..=2).contains(&(t - at))), "{at}: {late:?}");

    // taken back, the name stands in its place again
    click(c, &format!("#back-0-{first}")).await;
    c.wait().for_element(Locator::Css(&tap(&first))).await.unwrap();
    assert_eq!(hall.results().len(), 1);
}

#[tokio::test]
async fn who_is_behind_is_cut_by_two_presses_and_their_phone_says_so() {
    let hall = Hall::open().await;
    hall.save_sheet(SHEET);
    let (coach, phone) = (Browser::start(390, 844).await, Browser::start(390, 844).await);
    let (c, p) = (&coach.client, &phone.client);
    p.goto(&hall.url(&hall.card())).await.unwrap();
    hall.sign_in(c).await;
    hall.start_clock(330);
    c.goto(&hall.url(&format!("/classes/{}/finish", hall.class))).await.unwrap();
    until(c, "#clock", "5:").await;
    let first = hall.members[0].to_string();
    let tile = format!("#tile-0-{first}");
    let pressed = seconds(&text(c, "#clock").await);
    click(c, &format!("#late-0-{first}")).await;
    until(c, &tile, "Round 1 done").await;
    let said = text(c, &tile).await;
    let behind = seconds(said.split("Behind at ").nth(1).unwrap().split('.').next().unwrap());
    assert!((0..=2).contains(&(behind - pressed)), "the time of the press: {pressed} {said}");
    click(c, &format!("{tile} .hl-late button")).await;
    until(c, &tile, "Cut at").await;
    let focused = c.execute("return document.activeElement.id", Vec::new()).await.unwrap();
    assert_eq!(focused, serde_json::json!(tile[1..]), "the tile is where the hand is");
    // the member's phone asks every ten seconds
    for _ in 0..2 {
        if p.find(Locator::Css(".hl-cut-said")).await.is_err() {
            tokio::time::sleep(Duration::from_secs(6)).await;
        }
    }
    until(p, ".hl-cut-said", " on: ").await;
    click(c, &format!("#cut-back-0-{first}")).await;
    until(c, "#said", "As planned again").await;
    assert!(!text(c, &tile).await.contains("Cut at"));
}
