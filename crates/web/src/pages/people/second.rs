//! A second factor: set up and taken off by each for themselves, and asked for after the password.

use crate::app::App;
use crate::draw::squares::squares;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Theme, Who, blocking, limiter, local_path};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Query};
use askama::Template;
use chrono::Utc;
use lantern_core::people::{address, spelt};
use lantern_store::account::Asks;
use lantern_store::{Connection, StoreError, account, door, gym, second};
use serde::Deserialize;

/// Said where a code is not taken.
const WRONG: &str =
    "This code does not count. Take the one that the app shows now; each counts once, and for half a minute.";

#[derive(Template)]
#[template(path = "people/second.html")]
struct SecondPage {
    frame: Frame,
    /// The hall wants one, and there is none: nothing else opens before.
    wanted: bool,
    /// Begun: the picture of the address and the secret in fours.
    begun: Option<(String, String)>,
    /// Proven since.
    since: Option<String>,
    left: i64,
    /// Recovery codes that were just made; shown once.
    codes: Vec<String>,
    problem: String,
}

fn page(conn: &mut Connection, who: &Who, codes: Vec<String>, problem: &str) -> Result<SecondPage, WebError> {
    let hall = gym::find(conn, who.gym())?;
    let email = account::email(conn, who.gym(), who.account())?;
    let now = second::find(conn, who.here())?;
    let begun = now.as_ref().filter(|s| s.proven_at.is_none());
    let drawn = begun.and_then(|s| {
        let drawn = squares(&address(&s.secret, &hall.name, &email)?, "the secret for your app");
        Some((drawn, spelt(&s.secret)))
    });
    let since = now.as_ref().and_then(|s| s.proven_at);
    Ok(SecondPage {
        frame: Frame::new(who, &hall, Area::Settings, "Second factor"),
        wanted: since.is_none() && second::demanded(conn, who.gym())?,
        begun: drawn,
        since: since.map(|at| at.format("%-d %B %Y").to_string()),
        left: now.map_or(0, |s| s.codes),
        codes,
        problem: problem.to_owned(),
    })
}

/// `GET /own/second`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    html(&blocking(&app, move |conn, _| page(conn, &who, Vec::new(), "")).await?)
}

/// `POST /own/second`: a new secret, which counts from its first code on.
pub async fn begin(app: Data<App>, change: Change) -> Page {
    let who = change.who;
    match blocking(&app, move |conn, _| Ok(second::begin(conn, who.here())?)).await {
        // it is asked for already, which the page says
        Ok(()) | Err(WebError::Store(StoreError::Refused)) => go("/own/second"),
        Err(e) => Err(e),
    }
}

/// Something that only a code of the app, or one for when it is lost, lets somebody do.
async fn with_code(
    app: &App,
    change: Change,
    recovery: bool,
    work: impl FnOnce(&mut Connection, &Who) -> Result<Vec<String>, WebError> + Send + 'static,
) -> Page {
    let who = change.who;
    let code = change.fields.get("code").to_owned();
    let limit = format!("code {}", who.account());
    let wait = limiter::take(app, &limit).await?.err();
    let waits = wait.is_some();
    let shown = blocking(app, move |conn, _| {
        let here = who.here();
        if let Some(words) = wait {
            return page(conn, &who, Vec::new(), &words);
        }
        let taken = second::take(conn, here, &code, Utc::now())?
            || (recovery && second::take_recovery(conn, here, &code)?);
        if !taken {
            return page(conn, &who, Vec::new(), WRONG);
        }
        door::clear(conn, &limit)?;
        let codes = work(conn, &who)?;
        page(conn, &who, codes, "")
    })
    .await?;
    let status = match (shown.problem.is_empty(), waits) {
        (true, _) => StatusCode::OK,
        (false, true) => StatusCode::TOO_MANY_REQUESTS,
        (false, false) => StatusCode::UNPROCESSABLE_ENTITY,
    };
    html_as(status, &shown)
}

/// `POST /own/second/prove`: the first code; from now on one is asked for.
pub async fn prove(app: Data<App>, change: Change) -> Page {
    let stays = change.who.sign_in.id;
    with_code(&app, change, false, move |conn, who| Ok(second::prove(conn, who.here(), stays, Utc::now())?))
        .await
}

/// `POST /own/second/codes`: new codes for when the app is lost.
pub async fn codes(app: Data<App>, change: Change) -> Page {
    with_code(&app, change, true, |conn, who| Ok(second::renew(conn, who.here())?)).await
}

/// `POST /own/second/off`: takes it off.
pub async fn off(app: Data<App>, change: Change) -> Page {
    with_code(&app, change, true, |conn, who| {
        second::drop(conn, who.here())?;
        Ok(Vec::new())
    })
    .await
}

#[derive(Template)]
#[template(path = "people/code.html")]
struct CodePage {
    theme: Theme,
    csrf: String,
    next: String,
    problem: String,
}

/// Where somebody was going.
#[derive(Deserialize)]
pub struct From {
    next: Option<String>,
}

fn asked(who: &Who, next: &str, problem: &str) -> CodePage {
    CodePage {
        theme: who.theme,
        csrf: who.sign_in.csrf.clone(),
        next: next.to_owned(),
        problem: problem.to_owned(),
    }
}

/// `GET /sign-in/code`.
pub async fn ask(who: Who, from: Query<From>) -> Page {
    let next = from.into_inner().next.unwrap_or_default();
    if who.sign_in.asks != Asks::Code {
        return go(local_path(&next).unwrap_or("/classes"));
    }
    html(&asked(&who, &next, ""))
}

/// `POST /sign-in/code`: a code of the app, or one for when it is lost.
pub async fn answer(app: Data<App>, change: Change) -> Page {
    let (who, f) = (change.who, change.fields);
    let (next, code) = (f.get("next").to_owned(), f.get("code").to_owned());
    let limit = format!("code {}", who.account());
    if let Err(words) = limiter::take(&app, &limit).await? {
        return html_as(StatusCode::TOO_MANY_REQUESTS, &asked(&who, &next, &words));
    }
    let of = who.clone();
    let taken = blocking(&app, move |conn, _| {
        let here = of.here();
        let taken = second::take(conn, here, &code, Utc::now())? || second::take_recovery(conn, here, &code)?;
        if taken {
            second::make_whole(conn, of.gym(), of.sign_in.id)?;
            door::clear(conn, &limit)?;
        }
        Ok(taken)
    })
    .await?;
    if taken {
        return go(local_path(&next).unwrap_or("/classes"));
    }
    html_as(StatusCode::UNPROCESSABLE_ENTITY, &asked(&who, &next, WRONG))
}
