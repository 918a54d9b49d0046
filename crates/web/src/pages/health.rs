//! What whoever runs the server asks it: whether it lives, whether it can serve, what it has counted.

use crate::app::App;
use crate::error::{Page, WebError};
use crate::session::blocking;
use actix_web::web::Data;
use actix_web::{HttpRequest, HttpResponse};

fn text(words: impl Into<String>) -> HttpResponse {
    HttpResponse::Ok().content_type("text/plain; charset=utf-8").body(words.into())
}

/// `GET /healthz`: it lives.
pub async fn live() -> Page {
    Ok(text("well\n"))
}

/// `GET /readyz`: the database answers too.
pub async fn ready(app: Data<App>) -> Page {
    blocking(&app, |_, _| Ok(())).await?;
    Ok(text("ready\n"))
}

/// `GET /metrics`, for whoever sits at the machine itself: not through a proxy.
pub async fn metrics(app: Data<App>, request: HttpRequest) -> Page {
    let here = request.peer_addr().is_some_and(|a| a.ip().to_canonical().is_loopback());
    let through = ["Forwarded", "X-Forwarded-For", "X-Real-Ip"];
    if !here || through.iter().any(|h| request.headers().contains_key(*h)) {
        return Err(WebError::NoPage);
    }
    let all = app.metrics.text(&app.pool, app.clocks.open()).map_err(|e| WebError::Failed(e.to_string()))?;
    Ok(text(all))
}
