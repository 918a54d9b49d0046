//! Somebody forgot their password: a letter with a link, where the server sends letters. The answer never tells who has an account.

use super::super::people::address;
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{html, html_as};
use crate::post::{About, letter, sent};
use crate::session::{Theme, blocking, door, door_form, limiter, same};
use actix_session::Session;
use actix_web::HttpRequest;
use actix_web::http::StatusCode;
use actix_web::web::{Bytes, Data};
use askama::Template;
use lantern_core::people;
use lantern_store::{account, gym, link};

/// Who made a link that somebody asked for themselves.
const THEMSELVES: &str = "themselves, from the sign-in";

#[derive(Template)]
#[template(path = "people/forgotten.html")]
struct ForgottenPage {
    theme: Theme,
    csrf: String,
    email: String,
    /// Letters are sent.
    sends: bool,
    /// Hours for which a link counts.
    hours: i64,
    problem: String,
    done: bool,
}

/// `GET /sign-in/forgotten`.
pub async fn show(app: Data<App>, request: HttpRequest, session: Session) -> Page {
    html(&page(&app, &request, door(&session)?, String::new(), String::new()))
}

fn page(app: &App, request: &HttpRequest, csrf: String, email: String, problem: String) -> ForgottenPage {
    ForgottenPage {
        theme: Theme::of(request),
        csrf,
        email,
        sends: app.office.is_some(),
        hours: link::RESET_HOURS,
        problem,
        done: false,
    }
}

/// `POST /sign-in/forgotten`.
pub async fn ask(app: Data<App>, request: HttpRequest, session: Session, body: Bytes) -> Page {
    let (f, csrf) = door_form(&session, &body)?;
    if app.office.is_none() {
        return html(&page(&app, &request, csrf, String::new(), String::new()));
    }
    let typed = f.get("email").to_owned();
    let again = |status, problem: String| {
        html_as(status, &page(&app, &request, csrf.clone(), typed.clone(), problem))
    };
    if !same(f.get("csrf"), &csrf) {
        return again(StatusCode::FORBIDDEN, "The form was out of date. Send it once more.".to_owned());
    }
    let Some(mail) = people::email(&typed) else {
        let words = "This is no e-mail address. Write, say, ines@hall.example.";
        return again(StatusCode::UNPROCESSABLE_ENTITY, words.to_owned());
    };
    // few from one place, and few to one: nobody is flooded with letters
    for key in [format!("forgotten {}", limiter::address(&app, &request)), format!("forgotten {mail}")] {
        if let Err(words) = limiter::take(&app, &key).await? {
            return again(StatusCode::TOO_MANY_REQUESTS, words);
        }
    }
    let here = address(&app, &request, "/join/");
    let office = app.clone();
    // the answer is there before the letter is: how long it takes tells nothing
    actix_web::rt::spawn(async move {
        if let Err(e) = letters(&office, mail, here).await {
            tracing::error!("a link for a new password was not made: {e}");
        }
    });
    html(&ForgottenPage { done: true, ..page(&app, &request, csrf, typed, String::new()) })
}

/// A letter for each account of an address.
async fn letters(app: &App, mail: String, here: String) -> Result<(), WebError> {
    let all = blocking(app, move |conn, _| {
        let mut all = Vec::new();
        for of in account::of_email(conn, &mail)? {
            let token = link::reset(conn, of.gym, THEMSELVES, of.id)?;
            let hall = gym::find(conn, of.gym)?.name;
            all.push(letter(About::Password, &hall, (&of.name, &mail), &format!("{here}{token}")));
        }
        Ok(all)
    });
    for letter in all.await? {
        sent(app, letter).await;
    }
    Ok(())
}
