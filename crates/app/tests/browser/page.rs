//! What a test does with a page: read, click, wait.

use fantoccini::{Client, Locator};
use std::time::Duration;

/// Text of the first element that fits, once it stands still.
pub async fn text(c: &Client, css: &str) -> String {
    // a page that is about to change may take the element away again
    for _ in 0..50 {
        let e = c.wait().for_element(Locator::Css(css)).await.unwrap_or_else(|_| panic!("no {css}"));
        if let Ok(text) = e.text().await {
            return text;
        }
        tokio::time::sleep(Duration::from_millis(50)).await;
    }
    panic!("{css} never stood still")
}

/// Clicks the first element that fits, once it is there.
pub async fn click(c: &Client, css: &str) {
    let e = c.wait().for_element(Locator::Css(css)).await.unwrap_or_else(|_| panic!("no {css}"));
    if e.click().await.is_ok() {
        return;
    }
    // scrolled below the steps, which stay in sight: brought out from under them, as a hand would
    let script = "document.querySelector(arguments[0]).scrollIntoView({ block: 'center' })";
    c.execute(script, vec![serde_json::json!(css)]).await.unwrap();
    let e = c.wait().for_element(Locator::Css(css)).await.unwrap_or_else(|_| panic!("no {css}"));
    e.click().await.unwrap();
}

/// Waits until a text appears somewhere in an element.
pub async fn until(c: &Client, css: &str, wanted: &str) {
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
