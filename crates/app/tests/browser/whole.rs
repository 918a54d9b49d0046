//! A whole hour, a minute a second: two walls, a rack's tablet, a member's phone and the coach's; the network is cut in the middle. At the
//! end every screen is in step and every result is logged.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use crate::walls::{wall, zero};
use fantoccini::{Client, Locator};
use std::time::Duration;

const SHEET: &str = "# strength\nback squat 3 x 5 @ 70%, every 2:00\n# workout \"Gull Steps\" cap 16:00 target 9:00-13:00\n3 rounds for time\n15 burpees\n20 air squats\n200 m run";
const MEMBERS: usize = 6;

/// How far two walls are apart, ms.
async fn apart(a: &Client, b: &Client) -> f64 {
    (zero(a).await - zero(b).await).abs()
}

/// `m:ss` in seconds.
fn seconds(clock: &str) -> Option<i64> {
    let (minutes, rest) = clock.split_once(':')?;
    Some(60 * minutes.parse::<i64>().ok()? + rest.parse::<i64>().ok()?)
}

/// Waits until two screens show the same second.
async fn in_step((a, at): (&Client, &str), (b, bt): (&Client, &str)) {
    let mut off = i64::MAX;
    for _ in 0..30 {
        let (x, y) = (text(a, at).await, text(b, bt).await);
        off = seconds(&x).zip(seconds(&y)).map_or(i64::MAX, |(x, y)| (x - y).abs());
        if off <= 1 {
            return;
        }
        tokio::time::sleep(Duration::from_millis(500)).await;
    }
    panic!("{off} s apart");
}

/// The coach turns all walls to the next part, whose clock runs then: that of the workout with a press of its own.
async fn next_part(hall: &Hall, coach: &Client, part: &str) {
    coach.goto(&hall.url(&format!("/classes/{}/floor", hall.class))).await.unwrap();
    click(coach, ".hl-clockform button[value='next']").await;
    until(coach, ".hl-clockform b", part).await;
    if let Ok(start) = coach.find(Locator::Css(".hl-clockform button[value='start']")).await {
        start.click().await.unwrap();
        until(coach, ".hl-clockform", "clock runs").await;
    }
}

/// Logs a set at the rack where one is left.
async fn lift(rack: &Client) {
    if let Ok(done) = rack.find(Locator::Css(".hl-taps button[value='done']")).await {
        done.click().await.unwrap();
        tokio::time::sleep(Duration::from_millis(300)).await;
    }
}

#[tokio::test]
async fn a_whole_hour_runs_on_every_screen_and_a_cut_line_loses_nothing() {
    let hall = Hall::of(MEMBERS).await;
    hall.save_sheet(SHEET);
    let (one, other) = (wall(&hall).await, wall(&hall).await);
    let (a, b) = (&one.client, &other.client);
    let [tablet, phone, desk] =
        [Browser::start(1024, 768).await, Browser::start(390, 844).await, Browser::start(390, 844).await];
    let (rack, card, coach) = (&tablet.client, &phone.client, &desk.client);
    hall.sign_in(rack).await;
    rack.goto(&hall.url(&format!("/classes/{}/rack/1", hall.class))).await.unwrap();
    card.goto(&hall.url(&hall.card())).await.unwrap();
    hall.sign_in(coach).await;

    // warm-up, drill by drill
    next_part(&hall, coach, "Warm-up").await;
    for c in [a, b] {
        until(c, "#what", "1 of ").await;
    }
    let first = text(a, "#what").await;
    for _ in 0..8 {
        hall.minute().await;
    }
    let (now, there) = (text(a, "#what").await, text(b, "#what").await);
    assert!(now != first && now == there, "{first}, then {now} and {there}");
    assert!(apart(a, b).await < 100.0);

    // strength: sets are logged at the rack while the clock runs
    next_part(&hall, coach, "Strength").await;
    for c in [a, b] {
        until(c, "#part", "Rack 1").await;
    }
    for _ in 0..12 {
        hall.minute().await;
        lift(rack).await;
    }
    until(rack, ".hl-turn", "Everybody at this rack is done").await;
    assert!(hall.sets() >= 3, "{}", hall.sets());

    // the workout: names are tapped as they come in; in the middle a wall and the coach's phone have no line
    // the brief counts down on both walls
    next_part(&hall, coach, "Brief").await;
    for c in [a, b] {
        until(c, "#part", "Burpee").await;
    }
    hall.minute().await;
    next_part(&hall, coach, "Workout").await;
    for c in [a, b] {
        until(c, "#part", "Full").await;
    }
    coach.goto(&hall.url(&format!("/classes/{}/finish", hall.class))).await.unwrap();
    for _ in 0..9 {
        hall.minute().await;
    }
    let mut shown = Vec::new();
    for (i, member) in hall.members.iter().enumerate() {
        hall.minute().await;
        if i == 2 {
            other.offline(true).await;
            desk.offline(true).await;
            until(b, "#net", "No connection").await;
        }
        until(coach, "#clock", ":").await;
        shown.push(seconds(&text(coach, "#clock").await).unwrap());
        click(coach, &format!("#tap-1-{member}")).await;
        if i == 3 {
            until(coach, "#lost", "Nothing is lost: 2 to send").await;
            other.offline(false).await;
            desk.offline(false).await;
            in_step((coach, "#clock"), (a, "#clock")).await;
        }
        if !(2..=3).contains(&i) {
            until(coach, &format!("#tile-1-{member}"), "Undo").await;
        }
    }
    for _ in 0..100 {
        if hall.results().len() == MEMBERS {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    let mut logged: Vec<i64> =
        hall.results().iter().filter_map(|r| seconds(r.split(' ').next_back()?)).collect();
    logged.sort_unstable();
    assert_eq!(logged.len(), MEMBERS, "every result is logged: {:?}", hall.results());
    for (l, s) in logged.iter().zip(&shown) {
        assert!((0..=2).contains(&(l - s)), "each with the time of its tap: {logged:?} {shown:?}");
    }

    // every screen is in step: the walls, and the member's phone, which asks every ten seconds
    assert!(apart(a, b).await < 100.0);
    in_step((card, ".hl-runs b"), (a, "#clock")).await;

    // time to cool down, then the results, on both walls
    next_part(&hall, coach, "Cool-down").await;
    hall.minute().await;
    next_part(&hall, coach, "Results").await;
    for c in [a, b] {
        until(c, "#part", "Alva").await;
    }
}
