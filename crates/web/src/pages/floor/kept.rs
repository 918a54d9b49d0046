//! What a member's phone keeps of a card: the worker that keeps it, how it is installed, the wall's clock while it runs. The card's link is
//! the key, as of the card itself.

use crate::app::App;
use crate::assets;
use crate::clocks::shown;
use crate::error::{Page, WebError};
use crate::pages::floor::card::cuts_key;
use crate::session::blocking;
use actix_web::HttpResponse;
use actix_web::http::header::{CacheControl, CacheDirective};
use actix_web::web::{Data, Path};
use chrono::Utc;
use lantern_store::{booking, class, cut};

/// `GET /card/worker.js`: at this address, so that it sees cards and nothing else of the hall.
pub async fn worker() -> Page {
    let body = assets::text("js/card_worker.js").ok_or(WebError::NoPage)?;
    Ok(HttpResponse::Ok()
        .content_type("text/javascript; charset=utf-8")
        .insert_header(CacheControl(vec![CacheDirective::NoCache]))
        .body(body))
}

/// `GET /card/{token}/manifest`: how a phone installs the card.
pub async fn manifest(app: Data<App>, token: Path<String>) -> Page {
    let token = token.into_inner();
    let known = token.clone();
    blocking(&app, move |conn, _| Ok(booking::find_card(conn, &known)?)).await?;
    let icon = serde_json::json!({ "src": assets::url("mark.svg"), "sizes": "any", "type": "image/svg+xml" });
    Ok(HttpResponse::Ok().content_type("application/manifest+json").body(
        serde_json::json!({
            "name": "My card",
            "short_name": "My card",
            "start_url": format!("/card/{token}"),
            "scope": "/card/",
            "display": "standalone",
            "icons": [icon],
        })
        .to_string(),
    ))
}

/// `GET /card/{token}/clock`: what the walls of the card's class show, their clock, and what was called out to the member.
pub async fn clock(app: Data<App>, token: Path<String>) -> Page {
    let token = token.into_inner();
    let (wall, cuts) = blocking(&app, move |conn, _| {
        let (gym, class, member) = booking::find_card(conn, &token)?;
        let cuts = cuts_key(&cut::list(conn, gym, class)?, member);
        Ok((class::find(conn, gym, class)?.wall, cuts))
    })
    .await?;
    let mut now = shown(wall.stage.as_deref(), wall.clock, Utc::now());
    if let Some(now) = now.as_object_mut() {
        now.insert("cuts".to_owned(), cuts.into());
    }
    Ok(HttpResponse::Ok().json(now))
}
