//! One's own account: another password or e-mail, one's sign-ins and halls.

use super::halls;
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html, html_as};
use crate::session::{Change, Who, blocking, hashing, limiter};
use actix_session::Session;
use actix_web::HttpResponse;
use actix_web::http::StatusCode;
use actix_web::web::Data;
use askama::Template;
use lantern_core::people::{self, check};
use lantern_store::account::Secret;
use lantern_store::{Connection, GymId, SignInId, account, gym, second};

/// Said where the password of now is another.
const WRONG: &str = "The password of now is not right. Nothing was changed.";

#[derive(Template)]
#[template(path = "people/own.html")]
struct OwnPage {
    frame: Frame,
    email: String,
    sign_ins: Vec<(String, bool)>,
    /// What is said of the second factor, and of the way to it.
    second: String,
    second_link: &'static str,
    /// Other halls that the same password lets in: key and name.
    halls: Vec<(String, String)>,
    /// Another e-mail as typed.
    typed: String,
    problem: String,
    done: &'static str,
}

type Others = [(GymId, SignInId)];

fn page(
    conn: &mut Connection,
    who: &Who,
    others: &Others,
    problem: &str,
    done: &'static str,
) -> Result<OwnPage, WebError> {
    let hall = gym::find(conn, who.gym())?;
    let ins = account::sign_ins_of(conn, who.here(), who.sign_in.id)?;
    let since = second::find(conn, who.here())?.and_then(|s| s.proven_at);
    let second = since.map_or_else(
        || "None: your password alone lets you in.".to_owned(),
        |at| format!("Asked for since {}.", who.shown(&at).format("%-d %B %Y")),
    );
    Ok(OwnPage {
        second,
        halls: halls::named(conn, others)?,
        typed: String::new(),
        second_link: if since.is_some() { "New codes, or take it off" } else { "Set one up" },
        frame: Frame::new(who, &hall, Area::Settings, "Your account"),
        email: account::email(conn, who.gym(), who.account())?,
        sign_ins: ins
            .into_iter()
            .map(|(at, here)| (who.shown(&at).format("%-d %B %Y, %H:%M").to_string(), here))
            .collect(),
        problem: problem.to_owned(),
        done,
    })
}

/// `GET /own`.
pub async fn show(app: Data<App>, session: Session, who: Who) -> Page {
    let also = halls::others(&session);
    html(&blocking(&app, move |conn, _| page(conn, &who, &also, "", "")).await?)
}

/// `POST /own/email`: another e-mail to sign in by, for somebody who knows the password.
pub async fn email(app: Data<App>, session: Session, change: Change) -> Page {
    let also = halls::others(&session);
    let (who, f) = (change.who, change.fields);
    let limit = format!("password {}", who.account());
    let typed = f.get("email").to_owned();
    let (mail, before) = (people::email(&typed), f.get("before").to_owned());
    let here = who.here();
    let known = blocking(&app, move |conn, _| Ok(account::known_of(conn, here.0, here.1)?)).await?;
    let tried = match &mail {
        None => Err("This is no e-mail address. Write, say, ines@hall.example.".to_owned()),
        Some(_) => limiter::take(&app, &limit).await?,
    };
    let right = match tried {
        Err(wrong) => Err(wrong),
        Ok(()) => match hashing(&app, move || Ok(!known.with(&before).is_empty())).await? {
            true => limiter::clear(&app, &limit).await.map(Ok)?,
            false => Err(WRONG.to_owned()),
        },
    };
    let shown = blocking(&app, move |conn, _| {
        let done = right.and_then(|()| {
            let mail = mail.unwrap_or_default();
            account::change_email(conn, here.0, here.1, &mail).map_err(|e| e.to_string())
        });
        match done {
            Ok(()) => {
                page(conn, &who, &also, "", "You sign in to this hall with the new e-mail from now on.")
            }
            Err(problem) => Ok(OwnPage { typed, ..page(conn, &who, &also, &problem, "")? }),
        }
    })
    .await?;
    let status = if shown.problem.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    html_as(status, &shown)
}

/// `POST /own/password`: a new one for somebody who knows the one before. Other sign-ins end.
pub async fn password(app: Data<App>, session: Session, change: Change) -> Page {
    let also = halls::others(&session);
    let who = change.who;
    let limit = format!("password {}", who.account());
    let f = change.fields;
    let (before, new) = (f.get("before").to_owned(), f.get("password").to_owned());
    let of = who.clone();
    let (email, hall, known) = blocking(&app, move |conn, _| {
        let email = account::email(conn, of.gym(), of.account())?;
        let hall = gym::find(conn, of.gym())?.name;
        let known = account::known_of(conn, of.gym(), of.account())?;
        Ok((email, hall, known))
    })
    .await?;
    let weak = check(&new, &[&who.sign_in.account.name, &email, &hall]).err();
    let wrong = match weak {
        Some(weak) => Some(weak.to_string()),
        None if new != f.get("again") => {
            Some("The two new passwords differ. Write the same one twice.".to_owned())
        }
        None => None,
    };
    // the one of now is right, and the new one as it is kept; only guesses at the one of now are counted
    let tried = match wrong {
        Some(wrong) => Err(wrong),
        None => limiter::take(&app, &limit).await?,
    };
    let secret = match tried {
        Err(wrong) => Err(wrong),
        Ok(()) => {
            let made = hashing(&app, move || {
                Ok(known.with(&before).first().map(|_| Secret::of(&new)).transpose()?)
            })
            .await?;
            if made.is_some() {
                limiter::clear(&app, &limit).await?;
            }
            made.ok_or_else(|| WRONG.to_owned())
        }
    };
    let shown = blocking(&app, move |conn, _| match secret {
        Err(problem) => page(conn, &who, &also, &problem, ""),
        Ok(secret) => {
            account::set_password(conn, who.here(), who.sign_in.id, &secret)?;
            page(conn, &who, &also, "", "The new password counts from now on; all your other sign-ins ended.")
        }
    })
    .await?;
    let status = if shown.problem.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    html_as(status, &shown)
}

/// `POST /own/others`: ends one's other sign-ins.
pub async fn others(app: Data<App>, session: Session, change: Change) -> Page {
    let also = halls::others(&session);
    let who = change.who;
    let shown = blocking(&app, move |conn, _| {
        account::sign_out_others(conn, who.here(), who.sign_in.id)?;
        page(conn, &who, &also, "", "All your other sign-ins ended.")
    })
    .await?;
    html(&shown)
}

/// `POST /own/keys`: whether single keys act on one's own pages.
pub async fn keys(app: Data<App>, change: Change) -> Page {
    let (here, act, hx) = (change.who.here(), change.fields.get("single") == "on", change.hx);
    blocking(&app, move |conn, _| Ok(account::keep_single_keys(conn, here, act)?)).await?;
    if hx { Ok(HttpResponse::NoContent().finish()) } else { go("/own") }
}
