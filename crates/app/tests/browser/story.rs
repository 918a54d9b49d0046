//! One evening of a coach, from a pasted sheet to the track record.

use crate::driver::Browser;
use crate::hall::Hall;
use fantoccini::{Client, Locator};
use std::time::Duration;

const SHEET: &str = "Lantern Steps\n\n# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\n\n# workout \"Lantern Steps\" cap 14:00 target 8:00-12:00\n3 rounds for time\n12 toes-to-bar\n12 power claens 50/35 kg\n400 m run\n";

async fn text(c: &Client, css: &str) -> String {
    c.wait().for_element(Locator::Css(css)).await.unwrap_or_else(|_| panic!("no {css}")).text().await.unwrap()
}

async fn click(c: &Client, css: &str) {
    c.wait()
        .for_element(Locator::Css(css))
        .await
        .unwrap_or_else(|_| panic!("no {css}"))
        .click()
        .await
        .unwrap();
}

/// Waits until a text appears somewhere in an element.
async fn until(c: &Client, css: &str, wanted: &str) {
    for _ in 0..100 {
        if let Ok(e) = c.find(Locator::Css(css)).await
            && e.text().await.is_ok_and(|t| t.contains(wanted))
        {
            return;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    panic!("“{wanted}” never stood in {css}: {}", text(c, css).await);
}

#[tokio::test]
async fn a_coach_plans_runs_and_logs_a_class() {
    let hall = Hall::open().await;
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    hall.sign_in(c).await;

    // a class without a sheet: paste one with a mistake, and mend it by its suggestion
    c.goto(&hall.url(&format!("/classes/{}/sheet", hall.class))).await.unwrap();
    c.find(Locator::Id("sheet")).await.unwrap().send_keys(SHEET).await.unwrap();
    until(c, "#problems", "I do not know “power claens”").await;
    assert_eq!(text(c, "#problems .hl-note b").await, "Line 9, column 4:");
    until(c, "#saved", "Kept as a draft").await;
    c.refresh().await.unwrap();
    until(c, "#problems", "power claens").await; // the draft survived the reload
    c.find(Locator::Id("sheet")).await.unwrap().send_keys("\u{e00a}\u{e007}").await.unwrap(); // Alt Enter
    until(c, "#sums", "8 of 8 written lines read").await;
    let typed = c.find(Locator::Id("sheet")).await.unwrap().prop("value").await.unwrap().unwrap();
    assert!(typed.contains("12 power clean 50/35 kg"), "{typed}");

    // the plan: an hour with every block
    click(c, "#save").await;
    until(c, "h1", "The hour").await;
    until(c, ".hl-hourtable", "2:30").await;
    assert!(text(c, "#rail").await.contains("Workout"));

    // move a member, see the plan made again, take it back
    click(c, "#steps a[href$='/versions']").await;
    until(c, "h1", "Versions").await;
    let row = format!("#row-1-{}", hall.members[0]);
    let before = text(c, &row).await;
    click(c, &format!("#B-1-{}", hall.members[0])).await;
    until(c, &row, "your choice").await;
    let pressed = c.find(Locator::Css(&format!("#B-1-{}", hall.members[0]))).await.unwrap();
    assert_eq!(pressed.attr("aria-pressed").await.unwrap().as_deref(), Some("true"));
    c.find(Locator::Css("body")).await.unwrap().send_keys("u").await.unwrap();
    for _ in 0..50 {
        if text(c, &row).await == before {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    assert_eq!(text(c, &row).await, before);

    wall_runs(c, &hall).await;
    results_reach_the_record(c, &hall).await;
}

async fn wall_runs(c: &Client, hall: &Hall) {
    c.goto(&hall.url(&format!("/classes/{}/wall", hall.class))).await.unwrap();
    assert_eq!(text(c, "#clock").await, "0:00");
    let names = text(c, "#wall").await;
    assert!(!names.contains("Alva") && !names.contains("Bruno"), "no names on the wall");
    let cut = "return [...document.querySelectorAll('.hl-wall li')].filter(l => l.scrollWidth > l.clientWidth + 1).map(l => l.textContent)";
    assert_eq!(c.execute(cut, Vec::new()).await.unwrap(), serde_json::json!([]), "no weight is cut off");
    click(c, "#start").await;
    until(c, "#clock", "0:01").await;
    until(c, "#clock", "0:02").await;
    assert!(c.find(Locator::Css("li.is-now")).await.is_ok(), "the row on pace is lit");
}

async fn results_reach_the_record(c: &Client, hall: &Hall) {
    c.goto(&hall.url(&format!("/classes/{}/log", hall.class))).await.unwrap();
    let field = format!("#result-1-{}", hall.members[0]);
    c.find(Locator::Css(&field)).await.unwrap().send_keys("soon").await.unwrap();
    click(c, &format!("button[form='f-1-{}']", hall.members[0])).await;
    until(c, "#main", "Write the time as 10:42").await;
    let kept = c.find(Locator::Css(&field)).await.unwrap();
    assert_eq!(kept.prop("value").await.unwrap().as_deref(), Some("soon"), "nothing typed is lost");
    kept.clear().await.unwrap();
    c.find(Locator::Css(&field)).await.unwrap().send_keys("9:30").await.unwrap();
    click(c, &format!("button[form='f-1-{}']", hall.members[0])).await;
    until(c, "#main", "1 of 2 logged").await;
    c.find(Locator::Id("line")).await.unwrap().send_keys("bru 1042\n").await.unwrap();
    until(c, "#main", "2 of 2 logged").await;
    click(c, "a[href='/record']").await;
    until(c, "h1", "Track record").await;
    until(c, "#main", "of 2.").await;
    until(c, "#main", "Under 30 I make no claim").await;
    until(c, ".hl-classes", "Lantern Steps").await;
}
