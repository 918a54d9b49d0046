//! Styles, scripts and fonts, embedded in the program. Addresses carry a hash of the file, so that browsers keep them for a year
//! and take a new one when it changes.

use actix_web::http::header::{CacheControl, CacheDirective};
use actix_web::{HttpResponse, web};
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::LazyLock;

struct Asset {
    name: &'static str,
    kind: &'static str,
    body: &'static [u8],
}

macro_rules! assets {
    ($($name:literal => $kind:literal),* $(,)?) => {
        &[
            // what pages use of the vendored sheet, then our own two, as they are built into one
            Asset {
                name: "styles.css",
                kind: "text/css; charset=utf-8",
                body: include_bytes!(concat!(env!("OUT_DIR"), "/styles.css")),
            },
            Asset {
                name: "screens.css",
                kind: "text/css; charset=utf-8",
                body: include_bytes!(concat!(env!("OUT_DIR"), "/screens.css")),
            },
            $(Asset { name: $name, kind: $kind, body: include_bytes!(concat!("../static/", $name)) }),*
        ]
    };
}

const ASSETS: &[Asset] = assets![
    "vendor/htmx.min.js" => "text/javascript; charset=utf-8",
    "js/theme.js" => "text/javascript; charset=utf-8",
    "js/keys.js" => "text/javascript; charset=utf-8",
    "js/steps.js" => "text/javascript; charset=utf-8",
    "js/tables.js" => "text/javascript; charset=utf-8",
    "js/sheet.js" => "text/javascript; charset=utf-8",
    "js/clock.js" => "text/javascript; charset=utf-8",
    "js/finish.js" => "text/javascript; charset=utf-8",
    "js/rest.js" => "text/javascript; charset=utf-8",
    "js/signals.js" => "text/javascript; charset=utf-8",
    "js/wall.js" => "text/javascript; charset=utf-8",
    "js/racks.js" => "text/javascript; charset=utf-8",
    "js/drag.js" => "text/javascript; charset=utf-8",
    "js/busy.js" => "text/javascript; charset=utf-8",
    "js/pick.js" => "text/javascript; charset=utf-8",
    "js/order.js" => "text/javascript; charset=utf-8",
    "js/signin.js" => "text/javascript; charset=utf-8",
    "js/card.js" => "text/javascript; charset=utf-8",
    "js/card_worker.js" => "text/javascript; charset=utf-8",
    "js/copy.js" => "text/javascript; charset=utf-8",
    "js/outbox.js" => "text/javascript; charset=utf-8",
    "mark.svg" => "image/svg+xml",
    "vendor/fonts/atkinson-hyperlegible-next-latin-ext-wght-normal.woff2" => "font/woff2",
    "vendor/fonts/atkinson-hyperlegible-next-latin-wght-normal.woff2" => "font/woff2",
    "vendor/fonts/encode-sans-latin-ext-wdth-normal.woff2" => "font/woff2",
    "vendor/fonts/encode-sans-latin-wdth-normal.woff2" => "font/woff2",
    "vendor/NOTICES.txt" => "text/plain; charset=utf-8",
    "vendor/bulma-LICENSE" => "text/plain; charset=utf-8",
    "vendor/htmx-LICENSE" => "text/plain; charset=utf-8",
    "vendor/fonts/atkinson-hyperlegible-next-LICENSE" => "text/plain; charset=utf-8",
    "vendor/fonts/encode-sans-LICENSE" => "text/plain; charset=utf-8",
];

/// Hashes of the files, worked out once.
static HASHES: LazyLock<Vec<u64>> = LazyLock::new(|| {
    let hash = |a: &Asset| {
        let mut h = DefaultHasher::new();
        a.body.hash(&mut h);
        h.finish()
    };
    ASSETS.iter().map(hash).collect()
});

/// Address of an asset for a page.
pub fn url(name: &str) -> String {
    let at = ASSETS.iter().position(|a| a.name == name);
    let hash = at.and_then(|i| HASHES.get(i)).copied().unwrap_or_default();
    format!("/static/{name}?v={hash:016x}")
}

/// The text of an asset that is served at an address of its own.
pub fn text(name: &str) -> Option<&'static [u8]> {
    ASSETS.iter().find(|a| a.name == name).map(|a| a.body)
}

/// `GET /static/{name}`.
pub async fn get(name: web::Path<String>) -> HttpResponse {
    match ASSETS.iter().find(|a| a.name == name.as_str()) {
        Some(a) => HttpResponse::Ok()
            .content_type(a.kind)
            .insert_header(CacheControl(vec![
                CacheDirective::Public,
                CacheDirective::MaxAge(31_536_000),
                CacheDirective::Extension("immutable".to_owned(), None),
            ]))
            .body(a.body),
        None => HttpResponse::NotFound().content_type("text/plain; charset=utf-8").body("No such file."),
    }
}
