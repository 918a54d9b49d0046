//! A coach's choices on the versions by keyboard alone: a member moved, a school changed, how a version was found, a variant put
//! under the sheet's draft; and everything taken back.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};
use std::time::Duration;

const SHEET: &str = "# workout \"Gull Steps\" cap 14:00 target 9:00-12:00\n3 rounds for time\n30 double-unders\n12 toes-to-bar\n12 power clean 60/42.5 kg\n400 m run\n";

async fn press(c: &Client, keys: &str) {
    c.find(Locator::Css("body")).await.unwrap().send_keys(keys).await.unwrap();
}

/// Names and versions of all rows, in order; `None` while they are being swapped.
async fn rows(c: &Client) -> Option<Vec<String>> {
    let mut out = Vec::new();
    for row in c.find_all(Locator::Css(".hl-dots tr[data-row]")).await.ok()? {
        let name = row.find(Locator::Css("th")).await.ok()?.text().await.ok()?;
        let on = row.find(Locator::Css("button.is-on")).await.ok()?.text().await.ok()?;
        out.push(format!("{name} {on}"));
    }
    out.sort();
    (!out.is_empty()).then_some(out)
}

async fn places(c: &Client) -> Vec<String> {
    for _ in 0..50 {
        if let Some(rows) = rows(c).await {
            return rows;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("the rows never stood still")
}

/// Waits until versions and places are as they were.
async fn back_to(c: &Client, versions: &str, wanted: &[String]) {
    for _ in 0..100 {
        if lines(c).await == versions && places(c).await == wanted {
            return;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    assert_eq!((lines(c).await.as_str(), places(c).await.as_slice()), (versions, wanted));
}

async fn lines(c: &Client) -> String {
    text(c, ".hl-vers tbody").await
}

#[tokio::test]
async fn a_member_is_moved_and_a_school_changed_by_keyboard_and_both_taken_back() {
    let hall = Hall::open().await;
    hall.save_sheet(SHEET);
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    c.goto(&hall.url(&format!("/classes/{}/versions", hall.class))).await.unwrap();
    until(c, "h1", "Versions").await;
    let (before, versions) = (places(c).await, lines(c).await);

    // J to the first member, then the letter of a version that is not theirs
    press(c, "j").await;
    let here = text(c, ".hl-dots tr.is-sel th").await;
    let other = if before.iter().any(|p| p.starts_with(&here) && p.ends_with('B')) { "t" } else { "b" };
    press(c, other).await;
    until(c, ".hl-dots", "you").await;
    let moved = places(c).await;
    assert_ne!(moved, before, "{here} was moved");
    assert_eq!(lines(c).await, versions, "a move alone leaves the versions as they are");
    until(c, ".hl-subline", "keeping your 1").await;

    // C to the judgement calls, Enter on another answer
    press(c, "c").await;
    until(c, "h1", "Judgement calls").await;
    c.wait()
        .for_element(Locator::Id("take-change-movement"))
        .await
        .unwrap()
        .send_keys("\u{e007}")
        .await
        .unwrap();
    c.wait().for_element(Locator::Id("hall")).await.unwrap();
    c.goto(&hall.url(&format!("/classes/{}/versions", hall.class))).await.unwrap();
    until(c, "h1", "Versions").await;
    assert_ne!(lines(c).await, versions, "the school changes what gives way");
    assert!(
        places(c).await.iter().any(|p| p.starts_with(&here) && p.ends_with(&other.to_uppercase())),
        "the move is kept"
    );

    // U twice: the school first, then the move
    press(c, "u").await;
    back_to(c, &versions, &moved).await;
    press(c, "u").await;
    back_to(c, &versions, &before).await;
    search_and_variant(c, &hall).await;
}

/// The search behind a version is open to the coach, and a workout without a rig goes under the sheet's draft.
async fn search_and_variant(c: &Client, hall: &Hall) {
    click(c, ".hl-made a[href*='tried=']").await;
    until(c, "#tried", "as the version above").await;
    until(c, "#tried", "Not taken").await;
    c.goto(&hall.url(&format!("/classes/{}/variants?without=no-rig", hall.class))).await.unwrap();
    until(c, "h1", "Without a rig").await;
    assert!(!text(c, ".hl-options").await.to_lowercase().contains("toes to bar"));
    click(c, "#add-0").await;
    until(c, "#sums", "lines read").await;
    let sheet = c.find(Locator::Id("sheet")).await.unwrap().prop("value").await.unwrap().unwrap();
    assert!(sheet.contains("Gull Steps, no rig") && sheet.contains("12 toes-to-bar"), "{sheet}");
}
