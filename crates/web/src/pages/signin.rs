//! Sign-in, sign-out, the look of pages.

use super::people::halls;
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{go, html, html_as};
use crate::session::limiter::Knock;
use crate::session::{CODE, Change, Theme, Who, begin, blocking, door, door_form, hashing, local_path, same};
use actix_session::Session;
use actix_web::cookie::{Cookie, SameSite, time::Duration};
use actix_web::http::StatusCode;
use actix_web::web::{Bytes, Data, Path, Query};
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use lantern_core::people::{Deed, MOST, MOST_EMAIL};
use lantern_store::account::{self, Asks, SignIn};
use lantern_store::audit;
use serde::Deserialize;

#[derive(Template)]
#[template(path = "signin.html")]
struct SignInPage {
    theme: Theme,
    csrf: String,
    email: String,
    /// Where to go then.
    next: String,
    problem: String,
}

/// Where somebody was before they had to sign in.
#[derive(Deserialize)]
pub struct From {
    next: Option<String>,
}

/// `GET /`.
pub async fn home() -> Page {
    go("/classes")
}

/// `GET /sign-in`; while there is no hall, the way to its set-up.
pub async fn show(app: Data<App>, request: HttpRequest, session: Session, from: Query<From>) -> Page {
    if app.set_up_code.is_some() && !blocking(&app, |conn, _| Ok(lantern_store::gym::any(conn)?)).await? {
        return go("/set-up");
    }
    let page = SignInPage {
        theme: Theme::of(&request),
        csrf: door(&session)?,
        email: String::new(),
        next: from.into_inner().next.unwrap_or_default(),
        problem: String::new(),
    };
    html(&page)
}

/// `POST /sign-in`.
pub async fn sign_in(app: Data<App>, request: HttpRequest, session: Session, body: Bytes) -> Page {
    let (fields, expected) = door_form(&session, &body)?;
    let again = |status, problem: &str| {
        let page = SignInPage {
            theme: Theme::of(&request),
            csrf: expected.clone(),
            email: fields.get("email").to_owned(),
            next: fields.get("next").to_owned(),
            problem: problem.to_owned(),
        };
        html_as(status, &page)
    };
    if !same(fields.get("csrf"), &expected) {
        return again(StatusCode::FORBIDDEN, "The form was out of date. Try once more.");
    }
    // no more of it than an address has: what strangers send is kept for a while
    let email: String = fields.get("email").trim().chars().take(MOST_EMAIL).collect();
    let knock = Knock::of(&app, &request, &email);
    if let Err(words) = knock.take(&app).await? {
        return again(StatusCode::TOO_MANY_REQUESTS, &words);
    }
    let mut found = matching(&app, fields.get("email"), fields.get("password")).await?.into_iter();
    let Some(sign_in) = found.next() else {
        return again(
            StatusCode::UNPROCESSABLE_ENTITY,
            "E-mail and password do not belong together. Check both and try again.",
        );
    };
    knock.got_in(&app, &sign_in.account).await?;
    begin(&session, &sign_in)?;
    halls::keep(&session, found.map(|s| (s.account.gym, s.id)).collect())?;
    let next = local_path(fields.get("next")).unwrap_or("/classes");
    match sign_in.asks {
        Asks::Code => Err(WebError::MoreFirst(CODE, next.to_owned())),
        Asks::Nothing | Asks::Second => go(next),
    }
}

/// Sign-ins where address and password belong together, one in each hall, the oldest first.
async fn matching(app: &App, email: &str, password: &str) -> Result<Vec<SignIn>, WebError> {
    if email.len() > MOST_EMAIL || password.chars().count() > MOST {
        return Ok(Vec::new());
    }
    let (email, password) = (email.to_owned(), password.to_owned());
    let known = blocking(app, move |conn, _| Ok(account::known(conn, &email)?)).await?;
    let accounts = hashing(app, move || Ok(known.with(&password))).await?;
    blocking(app, move |conn, _| {
        let mut out = Vec::new();
        for account in &accounts {
            lantern_store::forget_old(conn, account.gym)?;
            audit::forget_old(conn, account.gym)?;
            account::forget_ended(conn, account.gym)?;
            out.push(account::sign_in(conn, account)?);
        }
        if let Some(first) = out.first().filter(|s| s.asks != Asks::Code) {
            audit::keep(conn, &first.account, Deed::SignedIn, None, "")?;
        }
        Ok(out)
    })
    .await
}

/// `POST /sign-out`.
pub async fn sign_out(app: Data<App>, session: Session, change: Change) -> Page {
    let mut all = halls::others(&session);
    all.push((change.who.gym(), change.who.sign_in.id));
    blocking(&app, move |conn, _| {
        Ok(all.into_iter().try_for_each(|(gym, id)| account::sign_out(conn, gym, id))?)
    })
    .await?;
    session.purge();
    go("/sign-in")
}

/// `GET /theme/{word}`: keeps the look in a cookie and goes back to the page that asked.
pub async fn theme(request: HttpRequest, _who: Who, word: Path<String>) -> Page {
    let word = if word.as_str() == "dark" { "dark" } else { "light" };
    let cookie =
        Cookie::build("theme", word).path("/").max_age(Duration::days(400)).same_site(SameSite::Lax).finish();
    let back = request
        .headers()
        .get("Referer")
        .and_then(|r| r.to_str().ok())
        .and_then(local_path)
        .unwrap_or("/classes")
        .to_owned();
    Ok(HttpResponse::SeeOther().cookie(cookie).insert_header(("Location", back)).finish())
}
