//! A member's card on a phone: the wall's clock with their own checkpoints, and the card itself where there is no line.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{text, until};
use fantoccini::Locator;

/// What the browser keeps of the hall, once it keeps something.
const KEPT: &str = "const done = arguments[0]; caches.open('card-1').then((c) => c.keys()).then((all) => done(all.map((r) => new URL(r.url).pathname)))";

#[tokio::test]
async fn a_card_runs_with_the_wall_and_opens_without_a_line() {
    let mut hall = Hall::open().await;
    hall.save_sheet("# workout cap 14:00\n3 rounds for time\n12 burpees\n200 m run\n");
    let browser = Browser::start(390, 844).await;
    let c = &browser.client;
    let card = hall.url(&hall.card());
    c.goto(&card).await.unwrap();
    assert!(!c.find(Locator::Css(".hl-runs")).await.unwrap().is_displayed().await.unwrap());
    hall.start_clock(60);
    until(c, ".hl-runs b", "1:").await;
    until(c, ".hl-runs", "round 1 done by").await;

    // kept are cards and their files alone
    let mut kept = serde_json::Value::Null;
    for _ in 0..100 {
        kept = c.execute_async(KEPT, Vec::new()).await.unwrap();
        let all = kept.as_array().unwrap();
        if all.iter().any(|p| *p == hall.card().as_str()) && all.len() > 4 {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    let paths: Vec<&str> = kept.as_array().unwrap().iter().filter_map(|p| p.as_str()).collect();
    assert!(paths.contains(&hall.card().as_str()), "{paths:?}");
    assert!(paths.iter().all(|p| p.starts_with("/card/") || p.starts_with("/static/")), "{paths:?}");
    assert!(!paths.iter().any(|p| p.ends_with("/clock")), "{paths:?}");

    hall.end_server();
    c.goto(&card).await.unwrap();
    let page = text(c, "#main").await;
    assert!(page.contains("No connection: this is how it was planned at") && page.contains("Alva"), "{page}");
    let size =
        c.execute("return getComputedStyle(document.querySelector('h1')).fontFamily", Vec::new()).await;
    assert!(size.unwrap().as_str().unwrap().contains("Atkinson"), "its styles are kept too");
}
