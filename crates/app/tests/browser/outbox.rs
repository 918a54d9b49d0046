//! What a coach does reaches the server once and in order: pressed fast, offline, through a reload and an expired sign-in.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};
use std::time::Duration;

const SHEET: &str = "# strength\nfront squat 3 x 3 @ 70%\n# workout \"Gull Steps\" cap 14:00 target 9:00-12:00\n3 rounds for time\n12 toes-to-bar\n12 power clean 60/42.5 kg\n200 m run\n# workout \"Mole\"\namrap 8:00\n10 air squats\n10 sit-ups\n";
/// The connection is gone, as far as the page can see.
const OFFLINE: &str = "window.fetch = () => Promise.reject(new TypeError('gone'));";

async fn run(c: &Client, script: &str) {
    c.execute(script, Vec::new()).await.unwrap();
}

/// Waits until something of the server is as it should be.
async fn holds(what: impl Fn() -> bool, words: &str) {
    for _ in 0..150 {
        if what() {
            return;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    panic!("{words}");
}

async fn say_line(c: &Client, line: &str) {
    c.find(Locator::Id("line")).await.unwrap().send_keys(line).await.unwrap();
    run(c, "document.getElementById('line-form').requestSubmit()").await;
    // the field is the coach's again while the change waits
    run(c, "document.getElementById('line').value = ''").await;
}

async fn open(hall: &Hall, c: &Client, step: &str) {
    c.goto(&hall.url(&format!("/classes/{}/{step}", hall.class))).await.unwrap();
}

/// A hall with the sheet and its owner at a step of the class.
async fn at(step: &str) -> (Hall, Browser) {
    let (hall, browser) = (Hall::open().await, Browser::start(1280, 800).await);
    hall.save_sheet(SHEET);
    hall.sign_in(&browser.client).await;
    open(&hall, &browser.client, step).await;
    // what is done next may sign everybody out: the page is there before it is
    let there = browser.client.wait().for_element(Locator::Css("#steps .is-here")).await;
    assert!(there.is_ok(), "no step but: {}", text(&browser.client, "body").await);
    (hall, browser)
}

#[tokio::test]
async fn six_presses_are_six_changes_and_rows_stay() {
    let (hall, browser) = at("loads").await;
    let c = &browser.client;
    until(c, "#main", "Front squat").await;
    run(c, "const b = document.querySelector('.hl-moves button[data-key-row=\"+\"]'); for (let i = 0; i < 6; i++) b.click();").await;
    holds(|| hall.decided() == 6, "six presses are six decisions").await;
    until(c, "#waits", "").await;
    open(&hall, c, "versions").await;
    until(c, "#main", "Alva K.").await;
    let again = c.find(Locator::Id("sort-again")).await.unwrap();
    assert!(!again.is_displayed().await.unwrap(), "there is nothing to sort yet");
    let order =
        "return [...document.querySelectorAll('[data-keeps-order] [data-row]')].map((r) => r.id).join()";
    let before = c.execute(order, Vec::new()).await.unwrap();
    // the first row goes to another version, and stays under the pointer
    run(c, "document.querySelector('[data-keeps-order] [data-row] .hl-pick button:not(.is-on)').click()")
        .await;
    holds(|| hall.decided() == 7, "the version is chosen").await;
    c.wait().for_element(Locator::Css("#sort-again:not([hidden])")).await.unwrap();
    assert_eq!(c.execute(order, Vec::new()).await.unwrap(), before, "rows do not move under the pointer");
    click(c, "#sort-again").await;
    c.wait().for_element(Locator::Css("#sort-again[hidden]")).await.unwrap();
}

#[tokio::test]
async fn what_is_logged_offline_arrives_in_order_after_a_reload() {
    let (hall, browser) = at("log").await;
    let c = &browser.client;
    run(c, OFFLINE).await;
    for line in ["alv 930", "bru 1042", "bru 1050"] {
        say_line(c, line).await;
    }
    until(c, "#waits", "3 to send").await;
    until(c, "#lost", "Nothing is lost").await;
    assert!(hall.results().is_empty());
    c.refresh().await.unwrap();
    holds(|| hall.results() == ["1 10:50", "1 9:30"], "three changes in order, each once").await;
    until(c, "#main", "2 of 2 logged").await;
    let hidden = "return document.getElementById('waits').hidden";
    assert_eq!(c.execute(hidden, Vec::new()).await.unwrap(), serde_json::json!(true));
}

#[tokio::test]
async fn an_expired_sign_in_loses_neither_a_result_nor_the_sheet() {
    let (hall, browser) = at("log").await;
    let c = &browser.client;
    hall.expire();
    say_line(c, "alv 930").await;
    until(c, "#again", "You were signed out").await;
    again(c, "not the password").await;
    until(c, "#again [role=alert]", "do not belong together").await;
    c.find(Locator::Id("again-password")).await.unwrap().clear().await.unwrap();
    again(c, Hall::PASSWORD).await;
    holds(|| hall.results() == ["1 9:30"], "it went on after the sign-in").await;
    until(c, "#tally", "Gull Steps: 1 of 2 logged").await;
    // the text of the sheet, typed while nobody was signed in
    open(&hall, c, "sheet").await;
    hall.expire();
    c.find(Locator::Id("sheet")).await.unwrap().send_keys("\n# notes\nbring a towel").await.unwrap();
    until(c, "#lost", "it stands in the sheet again").await;
    click(c, "#lost a").await;
    again(c, Hall::PASSWORD).await;
    holds(|| hall.draft().is_some_and(|d| d.ends_with("bring a towel")), "the draft is kept").await;
    let typed = c.find(Locator::Id("sheet")).await.unwrap().prop("value").await.unwrap().unwrap_or_default();
    assert!(typed.ends_with("bring a towel"), "{typed}");
}

/// Signs in over the page.
async fn again(c: &Client, password: &str) {
    let mail = c.wait().for_element(Locator::Id("again-email")).await.unwrap();
    mail.clear().await.unwrap();
    mail.send_keys(Hall::EMAIL).await.unwrap();
    c.find(Locator::Id("again-password")).await.unwrap().send_keys(password).await.unwrap();
    c.find(Locator::Css("#again .is-link")).await.unwrap().click().await.unwrap();
}

#[tokio::test]
async fn one_row_is_logged_while_another_is_typed_and_is_undone() {
    let (hall, browser) = at("log").await;
    let c = &browser.client;
    let field = |i: usize| format!("#result-1-{}", hall.members[i]);
    c.find(Locator::Css(&field(1))).await.unwrap().send_keys("10:4").await.unwrap();
    c.find(Locator::Css(&field(0))).await.unwrap().send_keys("9:30\n").await.unwrap();
    until(c, "#said", "Alva K. 9:30").await;
    let dirty = c.find(Locator::Css(&field(1))).await.unwrap().prop("value").await.unwrap();
    assert_eq!(dirty.as_deref(), Some("10:4"), "another row's field is left alone");
    assert!(text(c, "#tally").await.contains("Gull Steps: 1 of 2 logged"));
    assert!(text(c, "#notes").await.contains("Held"));
    click(c, "#undo-log").await;
    holds(|| hall.results().is_empty(), "it is undone").await;
    until(c, "#said", "9:30 is taken back").await;
    assert!(text(c, "#notes").await.is_empty());
}

/// The field keeps the focus: a line is letters, figures and Enter.
#[tokio::test]
async fn a_line_is_logged_with_its_letters_and_one_enter() {
    let (_hall, browser) = at("log").await;
    let c = &browser.client;
    c.find(Locator::Css("body")).await.unwrap().send_keys("l").await.unwrap();
    for (line, said) in [("alv 930", "Alva K. 9:30"), ("bru 1042", "Bruno D. 10:42")] {
        let field = c.active_element().await.unwrap();
        assert_eq!(field.attr("id").await.unwrap().as_deref(), Some("line"), "the field keeps the focus");
        field.send_keys(&format!("{line}\n")).await.unwrap();
        until(c, "#said", said).await;
        let empty = c.find(Locator::Id("line")).await.unwrap().prop("value").await.unwrap();
        assert_eq!(empty.as_deref(), Some(""));
    }
}

#[tokio::test]
async fn the_sheet_is_sent_again_by_itself_and_an_old_text_never_takes_its_place() {
    let (hall, browser) = at("sheet").await;
    let c = &browser.client;
    let lost = "const send = XMLHttpRequest.prototype.send; XMLHttpRequest.prototype.send = function () { setTimeout(() => this.dispatchEvent(new ProgressEvent('error'))); }; window.back = () => { XMLHttpRequest.prototype.send = send; };";
    run(c, lost).await;
    c.find(Locator::Id("sheet")).await.unwrap().send_keys("\n# notes\nbring a towel").await.unwrap();
    until(c, "#lost", "I try again every 5 s").await;
    run(c, "window.back()").await;
    until(c, "#saved", "Kept as a draft").await;
    holds(|| hall.draft().is_some_and(|d| d.ends_with("bring a towel")), "the draft is kept").await;
    let kept = "return Object.keys(localStorage).filter((k) => k.startsWith('sheet ')).length";
    for _ in 0..50 {
        if c.execute(kept, Vec::new()).await.unwrap() == serde_json::json!(0) {
            break;
        }
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    assert_eq!(c.execute(kept, Vec::new()).await.unwrap(), serde_json::json!(0), "the server has it");
    // a text typed on an older save is offered, not put over the newer sheet
    let older = "localStorage.setItem(`sheet ${document.body.dataset.account} ${location.pathname}`, JSON.stringify({ text: 'mine', version: '0' }))";
    run(c, older).await;
    c.refresh().await.unwrap();
    until(c, "#lost", "the sheet was saved since").await;
    let text = c.find(Locator::Id("sheet")).await.unwrap().prop("value").await.unwrap().unwrap_or_default();
    assert!(text.ends_with("bring a towel"), "{text}");
}

#[tokio::test]
async fn a_sign_in_elsewhere_and_a_server_that_fails_lose_nothing() {
    let (hall, browser) = at("log").await;
    let c = &browser.client;
    // the forms of this page have a token of before
    run(c, "document.querySelectorAll('input[name=csrf]').forEach((t) => { t.value = 'old'; })").await;
    say_line(c, "alv 930").await;
    holds(|| hall.results() == ["1 9:30"], "sent again with the token of now").await;
    // the server fails once
    run(c, "const real = window.fetch; let n = 0; window.fetch = (...a) => (n++ ? real(...a) : Promise.resolve(new Response('', { status: 500 })));").await;
    say_line(c, "bru 1042").await;
    until(c, "#waits", "1 to send").await;
    holds(|| hall.results() == ["1 10:42", "1 9:30"], "tried again").await;
}

/// Twenty results of a class, each three letters, a time and Enter: a coach who presses two keys a second has 90 s for 180.
#[tokio::test]
async fn twenty_results_are_logged_by_keyboard_in_presses_for_ninety_seconds() {
    let (hall, browser) = (Hall::of(20).await, Browser::start(1280, 800).await);
    let c = &browser.client;
    hall.save_sheet(SHEET);
    hall.sign_in(c).await;
    open(&hall, c, "log").await;
    until(c, "#main", "Gull Steps").await;
    let count = "window.presses = 0; addEventListener('keydown', () => { window.presses += 1; }, true);";
    run(c, count).await;
    c.find(Locator::Css("body")).await.unwrap().send_keys("l").await.unwrap();
    for (i, name) in hall.names().iter().enumerate() {
        let letters: String = name.chars().take(3).collect();
        let line = format!("{} 9{:02}\n", letters.to_lowercase(), 2 * i);
        c.active_element().await.unwrap().send_keys(&line).await.unwrap();
        // the field is empty for the next one at once, whatever the network does
        until_empty(c).await;
    }
    until(c, "#tally", "Gull Steps: 20 of 20 logged").await;
    assert_eq!(hall.results().len(), 20);
    let presses = c.execute("return window.presses", Vec::new()).await.unwrap().as_f64().unwrap();
    assert!((160.0..=180.0).contains(&presses), "{presses} presses");
}

async fn until_empty(c: &Client) {
    let empty =
        "const f = document.getElementById('line'); return f.value === '' && document.activeElement === f";
    for _ in 0..100 {
        if c.execute(empty, Vec::new()).await.unwrap() == serde_json::json!(true) {
            return;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("the field does not empty");
}
