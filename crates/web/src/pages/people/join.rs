//! A link that is used once: somebody joins with a password of their own, or sets a new one.

use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{go, html, html_as};
use crate::session::{Theme, begin, blocking, door, door_form, hashing, same};
use actix_session::Session;
use actix_web::HttpRequest;
use actix_web::http::StatusCode;
use actix_web::web::{Bytes, Data, Path};
use askama::Template;
use lantern_core::people::{self, Deed, check};
use lantern_store::account::Secret;
use lantern_store::audit;
use lantern_store::link::{Link, find, redeem};
use lantern_store::{StoreError, account, gym};

#[derive(Template)]
#[template(path = "people/join.html")]
struct JoinPage {
    theme: Theme,
    csrf: String,
    hall: String,
    email: String,
    name: String,
    /// Somebody who has an account sets a new password.
    reset: bool,
    problem: String,
}

/// A link that does not count any more is a page that says what to do.
fn over(e: WebError) -> WebError {
    match e {
        WebError::Store(StoreError::NotFound) => WebError::LinkOver,
        e => e,
    }
}

async fn link_of(app: &App, token: String) -> Result<(Link, String), WebError> {
    let found = blocking(app, move |conn, _| {
        let link = find(conn, &token)?;
        let hall = gym::find(conn, link.gym)?.name;
        Ok((link, hall))
    });
    found.await.map_err(over)
}

fn page(request: &HttpRequest, csrf: String, (link, hall): (Link, String), problem: String) -> JoinPage {
    JoinPage {
        theme: Theme::of(request),
        csrf,
        hall,
        reset: link.account.is_some(),
        email: link.email,
        name: link.name,
        problem,
    }
}

/// `GET /join/{token}`.
pub async fn show(app: Data<App>, request: HttpRequest, session: Session, token: Path<String>) -> Page {
    let found = link_of(&app, token.into_inner()).await?;
    html(&page(&request, door(&session)?, found, String::new()))
}

/// `POST /join/{token}`: the link is used, and who used it is signed in.
pub async fn join(
    app: Data<App>,
    request: HttpRequest,
    session: Session,
    token: Path<String>,
    body: Bytes,
) -> Page {
    let (f, csrf) = door_form(&session, &body)?;
    let (link, hall) = link_of(&app, token.clone()).await?;
    let name = if link.account.is_some() { link.name.clone() } else { f.get("name").trim().to_owned() };
    let known = [name.as_str(), &link.email, &hall];
    let problem = match check(f.get("password"), &known) {
        _ if !same(f.get("csrf"), &csrf) => "The form was out of date. Send it once more.".to_owned(),
        _ if people::name(&name).is_none() => "Write your name, at most 80 characters.".to_owned(),
        Err(weak) => weak.to_string(),
        Ok(()) if f.get("password") != f.get("again") => {
            "The two passwords differ. Write the same one twice.".to_owned()
        }
        Ok(()) => String::new(),
    };
    if !problem.is_empty() {
        let shown = Link { name, ..link };
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &page(&request, csrf, (shown, hall), problem));
    }
    let password = f.get("password").to_owned();
    let secret = hashing(&app, move || Ok(Secret::of(&password)?)).await?;
    let done = blocking(&app, move |conn, _| {
        let account = redeem(conn, &token, &name, &secret)?;
        audit::keep(conn, &account, Deed::Joined, None, "")?;
        Ok(account::sign_in(conn, &account)?)
    });
    let sign_in = done.await.map_err(over)?;
    begin(&session, &sign_in)?;
    go("/classes")
}
