//! Looks at every page of a running demo with a checker of accessibility, in both themes, at two widths. `bin/accessibility` fetches the
//! checker, which is no part of the program, and starts the demo. `accessibility ADDRESS CHECKER.js`: one line a finding, then how many.
#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, clippy::indexing_slicing, missing_docs)] // a tool that may fail loudly

#[path = "../tests/browser/driver.rs"]
mod driver;

use driver::Browser;
use fantoccini::{Client, Locator};

const HALL: [&str; 13] = [
    "/classes",
    "/classes/new",
    "/sheets",
    "/members",
    "/members/new",
    "/record",
    "/kit",
    "/words",
    "/settings",
    "/cycles",
    "/people",
    "/timetable",
    "/timetable/feed",
];
const CLASS: [&str; 22] = [
    "sheet",
    "stimulus",
    "hour",
    "ways",
    "warm-up",
    "loads",
    "versions",
    "pacing",
    "floor",
    "log",
    "finish",
    "brief",
    "bookings",
    "when",
    "wall",
    "wall/racks",
    "schools",
    "variants",
    "changes",
    "paper/cards",
    "paper/log",
    "paper/board",
];
/// What the checker finds: rule, how bad, how often, and the first place.
const FIND: &str = "const done = arguments[0]; axe.run(document, { resultTypes: ['violations'] }).then((r) => done(r.violations.map((v) => `${v.id} (${v.impact}) ${v.nodes.length} times, first at ${v.nodes[0].html.slice(0, 140)}`)))";

async fn hrefs(c: &Client, css: &str) -> Vec<String> {
    let mut out = Vec::new();
    for a in c.find_all(Locator::Css(css)).await.unwrap() {
        out.extend(a.attr("href").await.unwrap());
    }
    out
}

/// Addresses of all pages: the hall's, a class's of today and one that runs over, a member's, a card.
async fn pages(c: &Client, base: &str) -> Vec<String> {
    c.goto(&format!("{base}/sign-in")).await.unwrap();
    c.find(Locator::Id("email")).await.unwrap().send_keys("ines@ropewalk.example").await.unwrap();
    c.find(Locator::Id("password")).await.unwrap().send_keys("lantern-demo").await.unwrap();
    c.find(Locator::Css("form button")).await.unwrap().click().await.unwrap();
    c.wait().for_element(Locator::Css(".hl-week")).await.unwrap();
    let class = hrefs(c, "tr.is-today a[data-key-row]").await.last().expect("today has a class").clone();
    let class = class.rsplit_once('/').unwrap().0.to_owned();
    let mut out: Vec<String> = HALL.iter().map(|p| (*p).to_owned()).collect();
    out.extend(CLASS.iter().map(|p| format!("{class}/{p}")));
    c.goto(&format!("{base}{class}/floor")).await.unwrap();
    out.extend(hrefs(c, "a[href^='/card/']").await.into_iter().take(1));
    c.goto(&format!("{base}/members")).await.unwrap();
    out.extend(hrefs(c, "tbody a").await.into_iter().take(1));
    out
}

#[tokio::main]
async fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let [base, checker] = args.as_slice() else { panic!("accessibility ADDRESS CHECKER.js") };
    let source = std::fs::read_to_string(checker).unwrap();
    let browser = Browser::start(1280, 800).await;
    let c = &browser.client;
    let (mut looked, mut found) = (0, 0);
    let all = pages(c, base).await;
    for (wide, high) in [(1280, 800), (390, 844)] {
        c.set_window_size(wide, high).await.unwrap();
        for theme in ["light", "dark"] {
            for page in &all {
                c.goto(&format!("{base}{page}")).await.unwrap();
                let dress = format!("document.documentElement.dataset.theme = '{theme}'");
                c.execute(&dress, Vec::new()).await.unwrap();
                c.execute(&format!("{source};0"), Vec::new()).await.unwrap();
                let says = c.execute_async(FIND, Vec::new()).await.unwrap();
                looked += 1;
                for s in says.as_array().unwrap() {
                    found += 1;
                    println!("{page} {theme} {wide}: {}", s.as_str().unwrap());
                }
            }
        }
    }
    println!("{} pages in both themes at 1280 and 390 px: {looked} looks, {found} findings", all.len());
    browser.client.clone().close().await.unwrap();
    std::process::exit(i32::from(found > 0));
}
