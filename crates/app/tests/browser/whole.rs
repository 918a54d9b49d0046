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

/// The hall and its screens.
struct Screens {
    hall: Hall,
    walls: [Browser; 2],
    tablet: Browser,
    phone: Browser,
    desk: Browser,
}

impl Screens {
    async fn open() -> Screens {
        let hall = Hall::of(MEMBERS).await;
        hall.save_sheet(SHEET);
        let walls = [wall(&hall).await, wall(&hall).await];
        let [tablet, phone, desk] =
            [Browser::start(1024, 768).await, Browser::start(390, 844).await, Browser::start(390, 844).await];
        hall.sign_in(&tablet.client).await;
        tablet.client.goto(&hall.url(&format!("/classes/{}/rack/1", hall.class))).await.unwrap();
        phone.client.goto(&hall.url(&hall.card())).await.unwrap();
        hall.sign_in(&desk.client).await;
        Screens { hall, walls, tablet, phone, desk }
    }

    fn both(&self) -> [&Client; 2] {
        [&self.walls[0].client, &self.walls[1].client]
    }

    /// The coach's phone turns to the next part, which both walls show.
    async fn turn(&self, part: &str, css: &str, shows: &str) {
        next_part(&self.hall, &self.desk.client, part).await;
        for c in self.both() {
            until(c, css, shows).await;
        }
    }

    async fn minutes(&self, n: usize) {
        for _ in 0..n {
            self.hall.minute().await;
        }
    }

    /// A wall and the coach's phone have a line, or none.
    async fn offline(&self, off: bool) {
        self.walls[1].offline(off).await;
        self.desk.offline(off).await;
    }

    /// Names are tapped as they come in, two of them without a line; what the phone showed at each tap.
    async fn tap(&self) -> Vec<i64> {
        let (coach, mut shown) = (&self.desk.client, Vec::new());
        for (i, member) in self.hall.members.iter().enumerate() {
            self.minutes(1).await;
            if i == 2 {
                self.offline(true).await;
                until(self.both()[1], "#net", "No connection").await;
            }
            if !(2..=3).contains(&i) {
                in_step((coach, "#clock"), (self.both()[0], "#clock")).await;
            }
            shown.push(seconds(&text(coach, "#clock").await).unwrap());
            click(coach, &format!("#tap-1-{member}")).await;
            if i == 3 {
                until(coach, "#lost", "Nothing is lost: 2 to send").await;
                self.offline(false).await;
                in_step((coach, "#clock"), (self.both()[0], "#clock")).await;
            }
            if !(2..=3).contains(&i) {
                until(coach, &format!("#tile-1-{member}"), "Undo").await;
            }
        }
        shown
    }

    /// Times of all results, once all are logged.
    async fn logged(&self) -> Vec<i64> {
        for _ in 0..100 {
            if self.hall.results().len() == MEMBERS {
                break;
            }
            tokio::time::sleep(Duration::from_millis(100)).await;
        }
        let results = self.hall.results();
        let mut out: Vec<i64> = results.iter().filter_map(|r| seconds(r.split(' ').next_back()?)).collect();
        out.sort_unstable();
        out
    }
}

#[tokio::test]
async fn a_whole_hour_runs_on_every_screen_and_a_cut_line_loses_nothing() {
    let s = Screens::open().await;
    let ([a, b], rack) = (s.both(), &s.tablet.client);
    s.turn("Warm-up", "#what", "1 of ").await;
    let first = text(a, "#what").await;
    s.minutes(8).await;
    let (now, there) = (text(a, "#what").await, text(b, "#what").await);
    assert!(now != first && now == there, "{first}, then {now} and {there}");
    assert!(apart(a, b).await < 100.0);

    // sets are logged at the rack while the clock runs
    s.turn("Strength", "#part", "Rack 1").await;
    for _ in 0..12 {
        s.minutes(1).await;
        lift(rack).await;
    }
    until(rack, ".hl-turn", "Everybody at this rack is done").await;
    assert!(s.hall.sets() >= 3, "{}", s.hall.sets());

    s.turn("Brief", "#part", "Burpee").await;
    s.minutes(1).await;
    s.turn("Workout", "#part", "Full").await;
    s.desk.client.goto(&s.hall.url(&format!("/classes/{}/finish", s.hall.class))).await.unwrap();
    s.minutes(9).await;
    let (shown, logged) = (s.tap().await, s.logged().await);
    assert_eq!(logged.len(), MEMBERS, "every result is logged: {:?}", s.hall.results());
    for (l, at) in logged.iter().zip(&shown) {
        assert!((0..=2).contains(&(l - at)), "each with the time of its tap: {logged:?} {shown:?}");
    }

    // every screen is in step: the walls, and the member's phone, which asks every ten seconds
    assert!(apart(a, b).await < 100.0);
    in_step((&s.phone.client, ".hl-runs b"), (a, "#clock")).await;
    s.turn("Cool-down", "#part", "Alva").await;
    s.minutes(1).await;
    s.turn("Results", "#part", "Alva").await;
}
