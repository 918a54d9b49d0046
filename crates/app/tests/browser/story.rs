//! One evening of a coach, from a pasted sheet to the track record.

use crate::driver::Browser;
use crate::hall::Hall;
use crate::page::{click, text, until};
use fantoccini::{Client, Locator};
use std::time::Duration;

const SHEET: &str = "Lantern Steps\n\n# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\n\n# workout \"Lantern Steps\" cap 14:00 target 8:00-12:00\n3 rounds for time\n12 toes-to-bar\n12 power claens 50/35 kg\n400 m run\n";

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
    assert!(sheet_text(c).await.contains("12 power clean 50/35 kg"), "{}", sheet_text(c).await);
    editor_helps(c).await;

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

    stimulus_is_the_coachs(c, &hall).await;
    wall_runs(c, &hall).await;
    results_reach_the_record(c, &hall).await;
}

async fn sheet_text(c: &Client) -> String {
    c.find(Locator::Id("sheet")).await.unwrap().prop("value").await.unwrap().unwrap()
}

/// Undo takes a suggestion back, typing completes, sums follow, the plain form is offered, pasted pages come clean.
async fn editor_helps(c: &Client) {
    const UNDO: &str = "\u{e009}z\u{e009}"; // Ctrl Z
    let sheet = c.find(Locator::Id("sheet")).await.unwrap();
    sheet.send_keys(UNDO).await.unwrap();
    assert!(sheet_text(c).await.contains("power claens"), "undo brings the typed word back");
    until(c, "#problems", "power claens").await;
    sheet.send_keys("\u{e00a}\u{e007}").await.unwrap();
    until(c, "#sums", "8 of 8 written lines read").await;
    until(c, "#totals", "36 power cleans at 50/35 kg").await;

    // Ctrl End, a new line, two letters, Tab
    sheet.send_keys("\u{e009}\u{e010}\u{e009}").await.unwrap();
    sheet.send_keys("10 wall b").await.unwrap();
    until(c, "#complete", "wall ball").await;
    sheet.send_keys("\u{e004}").await.unwrap();
    assert!(sheet_text(c).await.ends_with("10 wall ball"), "{}", sheet_text(c).await);
    until(c, "#totals", "30 wall balls").await;
    until(c, "#canonical", "The same sheet in its plain form").await;
    click(c, "#canonical summary").await;
    click(c, "[data-plainform]").await;
    assert!(sheet_text(c).await.starts_with("title: Lantern Steps\n"), "{}", sheet_text(c).await);
    sheet.send_keys(UNDO).await.unwrap();
    assert!(sheet_text(c).await.starts_with("Lantern Steps\n"), "one undo takes the plain form back");

    let paste = "const t = document.getElementById('sheet'); t.focus(); t.setSelectionRange(t.value.length, t.value.length); \
        const d = new DataTransfer(); d.setData('text/plain', '10 burpees 20 sit-ups'); \
        d.setData('text/html', '<ul><li><b>10</b> burpees</li><li>20&nbsp;sit-ups</li></ul>'); \
        t.dispatchEvent(new ClipboardEvent('paste', { clipboardData: d, bubbles: true, cancelable: true }));";
    sheet.send_keys("\n").await.unwrap();
    c.execute(paste, Vec::new()).await.unwrap();
    assert!(sheet_text(c).await.ends_with("10 burpees\n20 sit-ups"), "{}", sheet_text(c).await);
    sheet.send_keys(UNDO).await.unwrap();
    sheet.send_keys(UNDO).await.unwrap();
    // back to the sheet as it was mended
    let mended = "const t = document.getElementById('sheet'); t.focus(); t.select(); \
        document.execCommand('insertText', false, arguments[0]);";
    let text = SHEET.replace("claens", "clean");
    c.execute(mended, vec![serde_json::json!(text.trim_end())]).await.unwrap();
    until(c, "#sums", "8 of 8 written lines read").await;
}

/// The coach's own window is kept, a wrong one comes back as typed, undo takes it away.
async fn stimulus_is_the_coachs(c: &Client, hall: &Hall) {
    c.goto(&hall.url(&format!("/classes/{}/stimulus", hall.class))).await.unwrap();
    until(c, "#main", "What limits it").await;
    let low = c.find(Locator::Id("low1")).await.unwrap();
    assert_eq!(low.prop("value").await.unwrap().as_deref(), Some("8:00"));
    low.clear().await.unwrap();
    c.find(Locator::Id("low1")).await.unwrap().send_keys("soon").await.unwrap();
    click(c, ".hl-stimulus .is-link").await;
    until(c, "#main", "“soon” is no time").await;
    let low = c.find(Locator::Id("low1")).await.unwrap();
    assert_eq!(low.prop("value").await.unwrap().as_deref(), Some("soon"), "nothing typed is lost");
    low.clear().await.unwrap();
    c.find(Locator::Id("low1")).await.unwrap().send_keys("7:00").await.unwrap();
    click(c, ".hl-stimulus .is-link").await;
    until(c, ".hl-stimulus legend", "your own").await;
    c.goto(&hall.url(&format!("/classes/{}/versions", hall.class))).await.unwrap();
    until(c, "#main", "7:00 to 12:00").await;
    c.goto(&hall.url(&format!("/classes/{}/pacing?member={}", hall.class, hall.members[1]))).await.unwrap();
    assert!(c.find(Locator::Css(".hl-strip .work")).await.is_ok(), "a run is drawn on the clock");
    let chosen = "return document.querySelector('select[name=member]').selectedOptions[0].value";
    assert_eq!(c.execute(chosen, Vec::new()).await.unwrap(), serde_json::json!(hall.members[1].to_string()));
    c.goto(&hall.url(&format!("/classes/{}/stimulus", hall.class))).await.unwrap();
    c.find(Locator::Css("body")).await.unwrap().send_keys("u").await.unwrap();
    until(c, ".hl-stimulus legend", "from the sheet").await;
}

async fn wall_runs(c: &Client, hall: &Hall) {
    c.goto(&hall.url(&format!("/classes/{}/wall", hall.class))).await.unwrap();
    assert_eq!(text(c, "#clock").await, "0:00");
    let names = text(c, "#wall").await;
    assert!(names.contains("Alva") && names.contains("Bruno"), "before the class who does which version");
    let cut = "return [...document.querySelectorAll('.hl-wall li')].filter(l => l.scrollWidth > l.clientWidth + 1).map(l => l.textContent)";
    assert_eq!(c.execute(cut, Vec::new()).await.unwrap(), serde_json::json!([]), "no weight is cut off");
    click(c, "#start").await;
    until(c, "#what", "starts in").await;
    until(c, "#clock", "0:").await; // the lead-in has no minutes
    let names = text(c, "#wall").await;
    assert!(!names.contains("Alva") && !names.contains("Bruno"), "no names in the workout");
    // that it runs is meant, not that a busy machine is looked at in time for one figure
    let first = clock_after(c, 0).await;
    clock_after(c, first).await;
    assert!(c.find(Locator::Css("li.is-now")).await.is_ok(), "the row on pace is lit");
}

/// Waits until the wall's clock shows more than so many seconds; what it shows then.
async fn clock_after(c: &Client, before: u32) -> u32 {
    for _ in 0..200 {
        let shown = text(c, "#clock").await;
        let seconds = lantern_core::sheet::read_clock(&shown, 1.0).unwrap_or(0);
        if seconds > before {
            return seconds;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    panic!("the clock does not run past {before} s");
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
