//! A rep-maximum day from the first set to the new base and the percentages of the week after; a member moved by keyboard.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};

/// Address of a member's rack on the loads page.
async fn rack_of(c: &Client, member: &str) -> String {
    let css = format!("tbody:has(tr[data-member='{member}']) .hl-atrack");
    c.wait().for_element(Locator::Css(&css)).await.unwrap().attr("href").await.unwrap().unwrap()
}

/// The weight that the rack's tablet asks for.
/// Plates that are moved at all racks, as the page says it.
async fn moves(c: &Client) -> u32 {
    let page = text(c, "main").await;
    let (before, _) = page.split_once(" plate moves in all").expect("the sum of all racks");
    before.rsplit(|ch: char| !ch.is_ascii_digit()).next().unwrap().parse().unwrap()
}

async fn asked(c: &Client) -> f64 {
    text(c, ".hl-bigload b").await.parse().unwrap()
}

/// Taps how a set went and waits for the next one.
async fn tap(c: &Client, went: &str, then: &str) {
    click(c, &format!(".hl-taps button[value='{went}']")).await;
    until(c, ".hl-turn", then).await;
}

#[tokio::test]
async fn a_rep_maximum_day_goes_from_the_first_set_to_the_new_base() {
    let hall = Hall::open().await;
    hall.save_sheet("# strength\nfront squat build to 3rm in 15:00\n");
    let browser = Browser::start(1024, 768).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    let loads = hall.url(&format!("/classes/{}/loads", hall.class));
    c.goto(&loads).await.unwrap();
    until(c, "main", "sets fit into 15:00").await;
    let bruno = hall.members[1].to_string();
    c.goto(&hall.url(&rack_of(c, &bruno).await)).await.unwrap();
    until(c, ".hl-turn h2", "Bruno D.").await;

    // half of what three reps of 130 kg are expected to be: 130 x 92.1 % = 119.7; 59.9 is 60
    assert_eq!(asked(c).await, 60.0);
    let mut set = 1;
    while asked(c).await < 115.0 {
        set += 1;
        tap(c, "3", &format!("set {set}")).await;
    }
    // the expected maximum went with two left: 5 % more, then one left: 2.5 % more
    let top = asked(c).await;
    assert_eq!(top, 120.0);
    tap(c, "2", &format!("set {}", set + 1)).await;
    assert_eq!(asked(c).await, 125.0);
    tap(c, "1", &format!("set {}", set + 2)).await;
    assert_eq!(asked(c).await, 127.5);
    // a slip is taken back, then the true end
    tap(c, "missed", "").await;
    until(c, ".hl-lifters", "127.5 missed").await;
    click(c, ".hl-lifters .hl-plain").await;
    until(c, ".hl-turn", &format!("set {}", set + 2)).await;
    tap(c, "0", "Everybody at this rack is done").await;

    // nothing is a base before the coach says so
    c.goto(&loads).await.unwrap();
    until(c, "#bases", "tested 3RM").await;
    until(c, "#bases", "the day's best").await;
    click(c, "#keep").await;
    until(c, "#bases", "kept").await;

    // next week: a percentage of that maximum
    hall.save_sheet("# strength\nfront squat 4 x 3 @ 80% of 3rm\n");
    c.goto(&loads).await.unwrap();
    let row = format!("tr[data-member='{bruno}']");
    // 80 % of 127.5 is 102
    until(c, &row, "127.5").await;
    until(c, &row, "102.5").await;
}

#[tokio::test]
async fn a_member_is_moved_to_another_rack_by_keyboard_and_back() {
    let hall = Hall::open().await;
    hall.save_sheet("# strength\nfront squat 4 x 3 @ 80%, every 3:00\n");
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    hall.sign_in(c).await;
    c.goto(&hall.url(&format!("/classes/{}/loads", hall.class))).await.unwrap();
    let alva = hall.members[0].to_string();
    let bruno = hall.members[1].to_string();
    let together = format!("tbody:has(tr[data-member='{alva}']):has(tr[data-member='{bruno}'])");
    c.wait().for_element(Locator::Css("[data-racks]")).await.unwrap();
    assert!(c.find(Locator::Css(&together)).await.is_err(), "each has a rack");
    let alone = moves(c).await;
    let body = c.find(Locator::Css("body")).await.unwrap();
    body.send_keys("j]").await.unwrap();
    c.wait().for_element(Locator::Css(&together)).await.unwrap();
    let shared = moves(c).await;
    assert_ne!(shared, alone, "the sum follows");
    c.find(Locator::Css("body")).await.unwrap().send_keys("u").await.unwrap();
    until(c, "main", &format!("{alone} plate moves in all")).await;
    assert!(c.find(Locator::Css(&together)).await.is_err(), "back");

    // the same by dragging the row onto the other rack
    let drag = format!(
        "const row = document.querySelector(\"tr[data-member='{alva}']\");
         const to = document.querySelector(\"tr[data-member='{bruno}']\").closest('tbody');
         const data = new DataTransfer();
         const send = (el, kind) => el.dispatchEvent(new DragEvent(kind, {{bubbles: true, cancelable: true, dataTransfer: data}}));
         send(row, 'dragstart'); send(to.rows[0], 'dragover'); send(to.rows[0], 'drop'); send(row, 'dragend');
         return row.draggable;"
    );
    assert_eq!(c.execute(&drag, vec![]).await.unwrap(), true);
    c.wait().for_element(Locator::Css(&together)).await.unwrap();
}
