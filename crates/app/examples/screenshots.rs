//! Takes the pictures of docs/screenshots from a running demo. `bin/screenshots` starts it.
//! `screenshots ADDRESS FOLDER [NAME…]`: only the named pictures, all without names. `NAME=PATH` takes one of any page,
//! `NAME=Session/step` of a step of the class with that session.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, clippy::indexing_slicing, missing_docs)] // a tool that may fail loudly

#[path = "../tests/browser/driver.rs"]
mod driver;

use driver::Browser;
use fantoccini::Locator;
use std::path::Path;

/// (name, path below the class or from the root, width, height, dark)
const PICTURES: [(&str, &str, u32, u32, bool); 19] = [
    ("01-classes", "/classes", 1280, 800, false),
    ("02-sheet", "./sheet", 1280, 800, false),
    ("03-stimulus", "./stimulus", 1280, 800, false),
    ("04-hour", "./hour", 1280, 800, false),
    ("05-warm-up", "./warm-up", 1280, 800, false),
    ("06-loads", "./loads", 1280, 800, false),
    ("07-maximum", "Grey Mole|Gangway/loads#bases", 1280, 800, false),
    ("08-rack", "Grey Mole|Gangway/rack/5", 1024, 768, false),
    ("09-racks-wall", "./wall/racks", 1920, 1080, true),
    ("10-cycle", "/cycles", 1280, 800, false),
    ("11-versions", "./versions", 1280, 800, false),
    ("12-without-kit", "./variants?without=one-dumbbell", 1280, 800, false),
    ("13-pacing", "./pacing", 1280, 800, false),
    ("14-wall", "./wall", 1920, 1080, true),
    ("15-card", "card", 390, 844, false),
    ("16-log", "held", 1280, 800, false),
    ("17-record", "/record", 1280, 800, false),
    ("18-judgement", "./schools?school=load-choice", 1280, 800, false),
    ("19-progress", "member/lifts/deadlift", 1280, 800, false),
];

#[tokio::main]
async fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let [base, folder, only @ ..] = args.as_slice() else { panic!("screenshots ADDRESS FOLDER [NAME…]") };
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    c.goto(&format!("{base}/sign-in")).await.unwrap();
    c.find(Locator::Id("email")).await.unwrap().send_keys("ines@ropewalk.example").await.unwrap();
    c.find(Locator::Id("password")).await.unwrap().send_keys("lantern-demo").await.unwrap();
    c.find(Locator::Css("form button")).await.unwrap().click().await.unwrap();
    c.wait().for_element(Locator::Css(".hl-week")).await.unwrap();
    let href = |sel: &'static str| async move {
        c.find(Locator::Css(sel))
            .await
            .unwrap_or_else(|_| panic!("no {sel}"))
            .attr("href")
            .await
            .unwrap()
            .unwrap()
    };
    let today = c.find_all(Locator::Css("tr.is-today a[data-key-row]")).await.unwrap();
    let class = today.last().expect("today has a class").attr("href").await.unwrap().unwrap();
    let class = class.rsplit_once('/').unwrap().0.to_owned();
    c.goto(&format!("{base}{class}/floor")).await.unwrap();
    let cards = c.find_all(Locator::Css("a[href^='/card/']")).await.unwrap();
    let card = cards[cards.len() / 2].attr("href").await.unwrap().unwrap();
    c.goto(&format!("{base}/members")).await.unwrap();
    let member = href("tbody a").await;
    c.goto(&format!("{base}/record")).await.unwrap();
    let held = href(".hl-classes a").await;
    let cycle = {
        c.goto(&format!("{base}/cycles")).await.unwrap();
        href("tbody a").await
    };
    for (name, path) in only.iter().filter_map(|o| o.split_once('=')) {
        let path = of_session(c, base, path).await;
        shot(&browser, &format!("{base}{path}"), folder, &(name, "", 1280, 1400, false), &[]).await;
    }
    for p in &PICTURES {
        if !only.is_empty() && !only.iter().any(|o| p.0.contains(o.as_str())) {
            continue;
        }
        let path = match p.1 {
            "card" => card.clone(),
            "held" => held.clone(),
            "/cycles" => cycle.clone(),
            own if own.starts_with("member") => own.replacen("member", &member, 1),
            own if own.starts_with("./") => format!("{class}{}", &own[1..]),
            other => of_session(c, base, other).await,
        };
        shot(&browser, &format!("{base}{path}"), folder, p, only).await;
    }
    browser.client.clone().close().await.unwrap();
}

/// `Session/step` as an address: the class with that session this week, or among those held. `A|B`: the first that is there;
/// the record lists the last classes only, so it depends on the day of the week.
async fn of_session(c: &fantoccini::Client, base: &str, path: &str) -> String {
    let Some((session, step)) = path.split_once('/').filter(|(s, _)| !s.is_empty()) else {
        return path.to_owned();
    };
    for session in session.split('|') {
        for list in ["/classes", "/record"] {
            c.goto(&format!("{base}{list}")).await.unwrap();
            if let Ok(link) = c.find(Locator::LinkText(session)).await {
                let href = link.attr("href").await.unwrap().unwrap();
                return format!("{}/{step}", href.rsplit_once('/').unwrap().0);
            }
        }
    }
    panic!("no {session}")
}

async fn shot(browser: &Browser, url: &str, folder: &str, p: &(&str, &str, u32, u32, bool), only: &[String]) {
    let (name, _, width, height, dark) = *p;
    if !only.is_empty() && !only.iter().any(|o| name.contains(o.as_str())) {
        return;
    }
    let c = &browser.client;
    browser.view(width, height).await;
    c.goto(url).await.unwrap();
    if name != "14-wall" {
        let theme = if dark { "dark" } else { "light" };
        c.execute(&format!("document.documentElement.dataset.theme = '{theme}'"), vec![]).await.unwrap();
    } else {
        // some way into the workout, without touching the class's own clock: the script runs anew and is told of none
        tokio::time::sleep(std::time::Duration::from_millis(600)).await;
        c.execute(
            "const w = document.getElementById('wall'); for (let i = 0; i < 10000; i += 1) clearInterval(i); \
             window.EventSource = function () { this.close = () => {}; this.addEventListener = () => {}; }; \
             if (!w.dataset.started) { w.dataset.started = String(Number(w.dataset.now) - 312000); \
             const s = document.createElement('script'); s.src = document.querySelector('script[src*=wall]').src; document.body.append(s); }",
            vec![],
        )
        .await
        .unwrap();
    }
    c.execute("return document.fonts.ready.then(() => 1)", vec![]).await.ok();
    tokio::time::sleep(std::time::Duration::from_millis(350)).await;
    let png = c.screenshot().await.unwrap();
    std::fs::create_dir_all(folder).unwrap();
    std::fs::write(Path::new(folder).join(format!("{name}.png")), png).unwrap();
    println!("{name}");
}
