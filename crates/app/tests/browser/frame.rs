//! What stands around every page: the head on a phone, keys that choose a row, long tables, the look that the machine asks for.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};
use serde_json::{Value, json};

const SHEET: &str =
    "# workout \"Gull Steps\" cap 14:00 target 8:00-11:00\n3 rounds for time\n12 burpees\n200 m run";

async fn js(c: &Client, script: &str) -> Value {
    c.execute(script, Vec::new()).await.unwrap()
}

/// Types a key where the focus is.
async fn key(c: &Client, key: &str) {
    c.active_element().await.unwrap().send_keys(key).await.unwrap();
}

#[tokio::test]
async fn on_a_phone_the_head_is_one_line_and_the_open_step_is_in_view() {
    let hall = Hall::of(10).await;
    hall.save_sheet(SHEET);
    let browser = Browser::start(360, 740).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    c.goto(&hall.url(&format!("/classes/{}/log", hall.class))).await.unwrap();
    let head = js(c, "return document.querySelector('.hl-top').offsetHeight").await;
    assert!(head.as_f64().unwrap() <= 48.0, "{head}");
    let step = "const r = document.querySelector('#steps .is-here').getBoundingClientRect(); return r.left >= 0 && r.right <= innerWidth";
    assert_eq!(js(c, step).await, json!(true), "the step is in view");
    // scrolled, the steps stay and the class leaves
    js(c, "window.scrollTo(0, 500)").await;
    let stays = "const top = (s) => document.querySelector(s).getBoundingClientRect().top; return [top('#steps ol') === 0, top('#steps .hl-class') < 0]";
    assert_eq!(js(c, stays).await, json!([true, true]));
    js(c, "window.scrollTo(0, 0)").await;
    let menu = c.find(Locator::Css("#menu a[href='/members']")).await.unwrap();
    assert!(!menu.is_displayed().await.unwrap());
    click(c, "#menu-button").await;
    assert!(menu.is_displayed().await.unwrap());
    menu.click().await.unwrap();
    until(c, "h1", "Members").await;
    assert_eq!(js(c, "return document.documentElement.scrollWidth <= innerWidth").await, json!(true));
}

#[tokio::test]
async fn a_key_gives_a_row_the_focus_and_the_switch_goes_with_the_account() {
    let hall = Hall::open().await;
    hall.save_sheet(SHEET);
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    let versions = hall.url(&format!("/classes/{}/versions", hall.class));
    c.goto(&versions).await.unwrap();
    key(c, "j").await;
    let focused = "return document.activeElement.id";
    let row = js(c, focused).await;
    assert!(row.as_str().unwrap().starts_with("row-0-"), "{row}");
    let version =
        format!("return document.querySelector('#{} .is-on').textContent.trim()", row.as_str().unwrap());
    let (before, to) = (js(c, &version).await, "b");
    key(c, to).await;
    for _ in 0..100 {
        if js(c, &version).await == json!("B") {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(50)).await;
    }
    assert_eq!((js(c, &version).await, before == json!("B")), (json!("B"), false));
    assert_eq!(js(c, focused).await, row, "the row in its new form has the focus");

    // switched off it is off on every machine
    key(c, "?").await;
    click(c, "#single-keys").await;
    tokio::time::sleep(std::time::Duration::from_millis(400)).await;
    let other = Browser::start(1280, 800).await;
    let o = &other.client;
    hall.sign_in(o).await;
    o.goto(&versions).await.unwrap();
    key(o, "j").await;
    assert_eq!(js(o, "return document.activeElement === document.body").await, json!(true));
    assert_eq!(js(o, "return document.getElementById('single-keys').checked").await, json!(false));
}

#[tokio::test]
async fn a_long_table_is_searched_and_sorted() {
    let hall = Hall::of(20).await;
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    c.goto(&hall.url("/members")).await.unwrap();
    let names =
        "return [...document.querySelectorAll('tr[data-row]:not([hidden]) th')].map((t) => t.textContent)";
    let all = js(c, names).await;
    assert_eq!(
        (all.as_array().unwrap().len(), &all[0], &all[19]),
        (20, &json!("Alva K."), &json!("Tova E."))
    );
    let press = "[...document.querySelectorAll('.hl-sort')].find((b) => b.textContent === 'Name').click()";
    js(c, press).await;
    js(c, press).await;
    assert_eq!(js(c, names).await[0], json!("Tova E."));
    assert_eq!(
        js(c, "return document.querySelector('[aria-sort]').getAttribute('aria-sort')").await,
        json!("descending")
    );
    let find = c.find(Locator::Css(".hl-find input")).await.unwrap();
    find.send_keys("jor").await.unwrap();
    assert_eq!(js(c, names).await, json!(["Jorun T."]));
    assert_eq!(text(c, ".hl-find [role=status]").await, "1 of 20 shown");
    // few rows need neither
    c.goto(&hall.url("/people")).await.unwrap();
    assert!(c.find(Locator::Css(".hl-sort")).await.is_err());
}
