//! Every page can be read: no small type, no weak contrast, nothing cut off, nothing wider than the screen; light and dark,
//! on a desk and on a phone.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::text;
use fantoccini::Locator;

const SHEET: &str = "title: Legible Day\nintent: steady\n# strength\nfront squat 5 x 3 @ 78-82%, every 2:30\n# workout \"Legible\" cap 14:00 target 4:00-5:00\n3 rounds for time\n30 double-unders\n12 power claens 50/35 kg\n400 m run\nstray words of a coach";

#[tokio::test]
async fn every_page_can_be_read() {
    let hall = Hall::open().await;
    hall.save_sheet(SHEET);
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    let class = |step: &str| format!("/classes/{}/{step}", hall.class);
    let mut pages: Vec<String> =
        ["sheet", "stimulus", "hour", "warm-up", "loads", "versions", "pacing", "floor", "log"]
            .map(class)
            .to_vec();
    pages.push(format!("{}?why={}", class("versions"), hall.members[0]));
    pages.extend(
        [
            "/classes",
            "/classes/new",
            "/record",
            "/members",
            "/members/import",
            "/kit",
            "/settings",
            "/cycles",
            "/cycles/new",
        ]
        .map(str::to_owned),
    );
    pages.push(format!("/members/{}", hall.members[0]));
    pages.push(format!("/members/{}/lifts/front-squat", hall.members[0]));
    pages.push(class("bookings"));
    pages.push(class("rack/1"));
    pages.push(class("schools?school=what-to-scale"));
    pages.push(class("finish"));
    pages.extend(["paper/cards", "paper/log", "paper/board"].map(class));
    pages.push(hall.card());
    let mut wrong = Vec::new();
    for (width, height) in [(1280, 800), (390, 844)] {
        browser.view(width, height).await;
        for path in &pages {
            c.goto(&hall.url(path)).await.unwrap();
            for theme in ["light", "dark"] {
                let set = format!(
                    "document.documentElement.dataset.theme = '{theme}'; {}",
                    include_str!("lint.js")
                );
                let found = c.execute(&set, vec![]).await.unwrap();
                for f in found.as_array().into_iter().flatten() {
                    wrong.push(format!("{path} {width} {theme}: {}", f.as_str().unwrap_or("")));
                }
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[tokio::test]
async fn a_class_is_planned_without_script() {
    let hall = Hall::open().await;
    let browser = Browser::without_script().await;
    let c = &browser.client;
    hall.sign_in(c).await;
    c.goto(&hall.url(&format!("/classes/{}/sheet", hall.class))).await.unwrap();
    let area = c.find(Locator::Id("sheet")).await.unwrap();
    area.send_keys("# workout cap 12:00 target 6:00-10:00\n3 rounds for time\n10 burpes\n200 m run")
        .await
        .unwrap();
    c.find(Locator::Css("button[formaction$='/sheet/check']")).await.unwrap().click().await.unwrap();
    let problems = text(c, "#problems .hl-note").await;
    assert!(problems.contains("burpes"), "{problems}");
    c.find(Locator::Css("#problems button")).await.unwrap().click().await.unwrap();
    c.wait().for_element(Locator::Id("save")).await.unwrap();
    assert!(c.find(Locator::Css("#problems .hl-note")).await.is_err(), "mended");
    c.find(Locator::Id("save")).await.unwrap().click().await.unwrap();
    c.wait().for_element(Locator::Css(".hl-hourtable")).await.unwrap();
    c.goto(&hall.url(&format!("/classes/{}/versions", hall.class))).await.unwrap();
    c.find(Locator::Css(&format!("#T-0-{}", hall.members[0]))).await.unwrap().click().await.unwrap();
    let pressed =
        c.wait().for_element(Locator::Css(&format!("#T-0-{}[aria-pressed=true]", hall.members[0]))).await;
    assert!(pressed.is_ok(), "the member moved");
}
