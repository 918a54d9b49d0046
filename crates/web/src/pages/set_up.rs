//! The first hall of an empty database.

use crate::app::App;
use crate::day::{WEEK_FROM, read_week_from, read_zone, zones};
use crate::error::{Page, WebError};
use crate::frame::{go, html, html_as};
use crate::session::{Fields, Theme, begin, blocking, door, door_form, hashing, limiter, same};
use actix_session::Session;
use actix_web::HttpRequest;
use actix_web::http::StatusCode;
use actix_web::web::{Bytes, Data};
use askama::Template;
use chrono::Weekday;
use chrono_tz::Tz;
use lantern_core::kit::Preset;
use lantern_core::people::{MOST_NAME, check, email, name};
use lantern_core::settings::Settings;
use lantern_core::sheet::WeightUnit;
use lantern_store::account::{Account, Role, Secret, SignIn};
use lantern_store::gym::{New, any, found};
use lantern_store::{StoreError, account};
use std::collections::HashMap;

#[derive(Template)]
#[template(path = "people/set_up.html")]
struct SetUpPage {
    theme: Theme,
    csrf: String,
    typed: Fields,
    presets: [Preset; 3],
    /// Where the server is in time.
    zone: &'static str,
    zones: Vec<&'static str>,
    /// Days on which weeks may begin.
    days: Vec<&'static str>,
    wrong: HashMap<&'static str, String>,
}

impl SetUpPage {
    fn wrong(&self, field: &str) -> &str {
        self.wrong.get(field).map_or("", String::as_str)
    }

    fn chosen(&self, field: &str, value: &str, usual: &str) -> bool {
        let now = self.typed.get(field);
        if now.is_empty() { value == usual } else { now == value }
    }
}

/// `GET /set-up`: while there is no hall yet.
pub async fn show(app: Data<App>, request: HttpRequest, session: Session) -> Page {
    if blocking(&app, |conn, _| Ok(any(conn)?)).await? {
        return go("/sign-in");
    }
    html(&page(&app, &request, door(&session)?, Fields::default(), HashMap::new()))
}

fn page(
    app: &App,
    request: &HttpRequest,
    csrf: String,
    typed: Fields,
    wrong: HashMap<&'static str, String>,
) -> SetUpPage {
    SetUpPage {
        theme: Theme::of(request),
        csrf,
        typed,
        presets: Preset::ALL,
        zone: app.zone.name(),
        zones: zones().collect(),
        days: WEEK_FROM.iter().map(|(word, _)| *word).collect(),
        wrong,
    }
}

/// What was typed, checked.
struct Asked {
    name: String,
    place: String,
    zone: Tz,
    week_from: Weekday,
    settings: Settings,
    kit: lantern_core::kit::Kit,
    email: String,
    owner: String,
    password: String,
}

fn asked(f: &Fields) -> Result<Asked, HashMap<&'static str, String>> {
    let mut wrong = HashMap::new();
    let mut say = |field: &'static str, words: &str| {
        wrong.entry(field).or_insert_with(|| words.to_owned());
    };
    let hall = name(f.get("hall"));
    if hall.is_none() {
        say("hall", "Write the hall's name, at most 80 characters.");
    }
    let place = f.get("place").trim();
    if place.chars().count() > MOST_NAME {
        say("place", "A place has at most 80 characters.");
    }
    let zone = read_zone(f.get("zone"));
    if let Err(words) = &zone {
        say("zone", words);
    }
    let week_from = read_week_from(f.get("week_from"));
    if let Err(words) = &week_from {
        say("week_from", words);
    }
    let owner = name(f.get("name"));
    if owner.is_none() {
        say("name", "Write your name as coaches call you, at most 80 characters.");
    }
    let mail = email(f.get("email"));
    if mail.is_none() {
        say("email", "This is no e-mail address. Write, say, ines@hall.example.");
    }
    let minutes = f.get("length").trim().parse::<u32>().ok().filter(|m| (5..=240).contains(m));
    if minutes.is_none() {
        say("length", "A class lasts from 5 to 240 minutes. Write, say, 60.");
    }
    let unit = if f.get("unit") == "lb" { WeightUnit::Lb } else { WeightUnit::Kg };
    let preset = Preset::read(f.get("kit"));
    if preset.is_none() {
        say("kit", "Choose where to begin counting; every number can be changed later.");
    }
    let known = [f.get("hall"), f.get("name"), f.get("email"), place];
    if let Err(weak) = check(f.get("password"), &known) {
        say("password", &weak.to_string());
    }
    match (hall, owner, mail, minutes, preset, zone.and_then(|z| Ok((z, week_from?)))) {
        (Some(name), Some(owner), Some(email), Some(minutes), Some(preset), Ok((zone, week_from)))
            if wrong.is_empty() =>
        {
            Ok(Asked {
                name,
                place: place.to_owned(),
                zone,
                week_from,
                settings: Settings { class_s: minutes * 60, ..Settings::default() },
                kit: preset.kit(unit),
                email,
                owner,
                password: f.get("password").to_owned(),
            })
        }
        _ => Err(wrong),
    }
}

/// `POST /set-up`: founds the hall and signs its owner in. The code stands in the terminal of whoever runs the server, so that a
/// stranger who finds the page first cannot take it.
pub async fn set_up(app: Data<App>, request: HttpRequest, session: Session, body: Bytes) -> Page {
    let (f, csrf) = door_form(&session, &body)?;
    let again = |status, wrong: HashMap<&'static str, String>| {
        html_as(status, &page(&app, &request, csrf.clone(), f.clone(), wrong))
    };
    let refuse =
        |status, field: &'static str, words: &str| again(status, HashMap::from([(field, words.to_owned())]));
    if !same(f.get("csrf"), &csrf) {
        return refuse(StatusCode::FORBIDDEN, "form", "The form was out of date. Send it once more.");
    }
    let who = format!("set-up {}", limiter::address(&app, &request));
    if let Err(words) = limiter::take(&app, &who).await? {
        return refuse(StatusCode::TOO_MANY_REQUESTS, "code", &words);
    }
    let code = |text: &str| text.chars().filter(|c| c.is_alphanumeric()).collect::<String>().to_uppercase();
    if !app.set_up_code.as_ref().is_some_and(|c| same(&code(f.get("code")), &code(c))) {
        let words = "This is not the code. It stands in the terminal where the server was started; a new start prints a new one.";
        return refuse(StatusCode::UNPROCESSABLE_ENTITY, "code", words);
    }
    // who has the code may mistype the rest as often as they like
    limiter::clear(&app, &who).await?;
    let a = match asked(&f) {
        Ok(a) => a,
        Err(wrong) => return again(StatusCode::UNPROCESSABLE_ENTITY, wrong),
    };
    match founded(&app, a).await? {
        Some(sign_in) => {
            begin(&session, &sign_in)?;
            go("/start")
        }
        None => go("/sign-in"),
    }
}

/// Founds the hall and signs its owner in; `None` where somebody else was faster.
async fn founded(app: &App, a: Asked) -> Result<Option<SignIn>, WebError> {
    let password = a.password.clone();
    let secret = hashing(app, move || Ok(Secret::of(&password)?)).await?;
    blocking(app, move |conn, _| {
        let new = New {
            name: &a.name,
            place: &a.place,
            zone: Some(a.zone),
            week_from: a.week_from,
            settings: &a.settings,
            kit: &a.kit,
            owner: (&a.email, &a.owner),
            password: &secret,
        };
        match found(conn, &new, true) {
            Ok((gym, id)) => {
                let owner = Account { gym, id, name: a.owner.clone(), role: Role::Owner };
                Ok(Some(account::sign_in(conn, &owner)?))
            }
            Err(StoreError::Raced) => Ok(None),
            Err(e) => Err(e.into()),
        }
    })
    .await
}
