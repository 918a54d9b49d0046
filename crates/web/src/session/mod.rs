//! Who asks: the signed-in account behind the cookie, and changes that carry its token.

pub mod deeds;
pub mod doors;
pub mod limiter;

use crate::app::App;
use crate::day::on_clock;
use crate::error::WebError;
use crate::plan_cache::{Asker, Waiting};
use actix_session::{Session, SessionExt};
use actix_web::dev::Payload;
use actix_web::http::Method;
use actix_web::{FromRequest, HttpRequest, web};
use chrono::{DateTime, NaiveDateTime, Utc};
use chrono_tz::Tz;
use lantern_core::people::Act;
use lantern_store::account::{Asks, SignIn, signed_in, token};
use lantern_store::{AccountId, ClassId, Connection, GymId, Once, SignInId};
use std::future::Future;
use std::pin::Pin;
use uuid::Uuid;

/// Largest form that is read: a pasted document, not a film.
pub const MOST_BODY: usize = 2 * 1024 * 1024;

/// Largest form of a door: sign-in, set-up, joining.
pub const MOST_DOOR: usize = 16 * 1024;

/// Where the code of a second factor is given, and where one is set up.
pub const CODE: &str = "/sign-in/code";
/// See [`CODE`].
pub const SECOND: &str = "/own/second";

/// The token of a form that nobody is signed in for.
pub fn door(session: &Session) -> Result<String, WebError> {
    if let Ok(Some(t)) = session.get::<String>("form") {
        return Ok(t);
    }
    let t = token();
    session.insert("form", &t).map_err(|e| WebError::Failed(e.to_string()))?;
    Ok(t)
}

/// A form that nobody is signed in for, with the token that it should carry.
pub fn door_form(session: &Session, body: &[u8]) -> Result<(Fields, String), WebError> {
    if body.len() > MOST_DOOR {
        return Err(WebError::Unreadable("the form is too long".to_owned()));
    }
    Ok((Fields::read(body)?, door(session)?))
}

/// Works with a password away from the threads that answer. That takes long on purpose: it holds no connection, and only two are at
/// it at a time, so a flood of strangers stops nobody who is in.
pub async fn hashing<T, F>(app: &App, work: F) -> Result<T, WebError>
where
    T: Send + 'static,
    F: FnOnce() -> Result<T, WebError> + Send + 'static,
{
    let turn = app.hashing.acquire().await.map_err(|e| WebError::Failed(e.to_string()))?;
    let done = apart(move |_| work()).await;
    drop(turn);
    done
}

/// Puts a sign-in into the cookie.
pub fn begin(session: &Session, sign_in: &SignIn) -> Result<(), WebError> {
    session.renew();
    let ids = (sign_in.account.gym, sign_in.id);
    session.insert("in", ids).map_err(|e| WebError::Failed(e.to_string()))
}

/// Somebody signed in, checked against the database for this request.
#[derive(Debug, Clone)]
pub struct Who {
    /// The sign-in.
    pub sign_in: SignIn,
    /// Dark floor or light paper.
    pub theme: Theme,
    /// Where their hall is in time.
    pub zone: Tz,
}

impl Who {
    /// Their gym: every call of the store begins with it.
    pub fn gym(&self) -> GymId {
        self.sign_in.account.gym
    }

    /// Whose account it is.
    pub fn account(&self) -> AccountId {
        self.sign_in.account.id
    }

    /// Whether something is theirs to do.
    pub fn may(&self, act: Act) -> bool {
        self.sign_in.account.role.may(act)
    }

    /// Where somebody goes on with a class: at a step, or with who is booked where the steps are not theirs.
    pub fn at(&self, class: ClassId, step: &str) -> String {
        let step = if self.may(Act::Coach) { step } else { "bookings" };
        format!("/classes/{class}/{step}")
    }

    /// What the clock of their hall shows.
    pub fn now(&self, app: &App) -> NaiveDateTime {
        self.shown(&(app.now)())
    }

    /// A moment on the clock of their hall.
    pub fn shown(&self, at: &DateTime<Utc>) -> NaiveDateTime {
        on_clock(at, self.zone)
    }

    /// Their gym and their account.
    pub fn here(&self) -> (GymId, AccountId) {
        (self.gym(), self.account())
    }
}

/// How pages look.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Theme {
    /// Paper.
    Light,
    /// The floor in the evening.
    Dark,
    /// What the machine asks for: nobody has chosen.
    System,
}

impl Theme {
    /// From the cookie.
    pub fn of(request: &HttpRequest) -> Theme {
        match request.cookie("theme") {
            Some(c) if c.value() == "dark" => Theme::Dark,
            Some(c) if c.value() == "light" => Theme::Light,
            _ => Theme::System,
        }
    }

    /// Value of `data-theme`.
    pub fn word(self) -> &'static str {
        match self {
            Theme::Light => "light",
            Theme::Dark => "dark",
            Theme::System => "system",
        }
    }

    /// The other one.
    pub fn other(self) -> Theme {
        match self {
            Theme::Light | Theme::System => Theme::Dark,
            Theme::Dark => Theme::Light,
        }
    }
}

/// Runs work that waits for the database or computes a plan away from the threads that answer.
pub async fn blocking<T, F>(app: &App, work: F) -> Result<T, WebError>
where
    T: Send + 'static,
    F: FnOnce(&mut Connection, &App) -> Result<T, WebError> + Send + 'static,
{
    let app = app.clone();
    web::block(move || work(&mut app.pool.get()?, &app)).await?
}

/// Runs work that takes long and needs no connection away from the threads that answer. It sees whether whoever asked still waits.
pub async fn apart<T, F>(work: F) -> Result<T, WebError>
where
    T: Send + 'static,
    F: FnOnce(&Waiting) -> Result<T, WebError> + Send + 'static,
{
    // dropped with the request, which is dropped when the line is closed
    let asker = Asker::default();
    let waiting = asker.waiting();
    web::block(move || work(&waiting)).await?
}

impl FromRequest for Who {
    type Error = WebError;
    type Future = Pin<Box<dyn Future<Output = Result<Who, WebError>>>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let request = request.clone();
        Box::pin(async move { who(&request).await })
    }
}

/// The hall of whoever is signed in at this browser, where somebody is. It opens nothing.
pub fn coach_of(request: &HttpRequest) -> Option<GymId> {
    Some(request.get_session().get::<(GymId, SignInId)>("in").ok()??.0)
}

/// Nobody is signed in: a script is told so and keeps what it has, a page leads to the sign-in and back.
fn sign_in_first(request: &HttpRequest) -> WebError {
    if request.headers().contains_key("HX-Request") {
        return WebError::Expired;
    }
    WebError::SignInFirst(came_from(request))
}

/// The password was right and more is asked for, of whoever is not just about to give it.
fn asked_first(request: &HttpRequest, asks: Asks, pattern: &str) -> Result<(), WebError> {
    let (there, at) = match asks {
        Asks::Nothing => return Ok(()),
        Asks::Code => (matches!(pattern, CODE | "/sign-out"), CODE),
        Asks::Second => (pattern == "/sign-out" || pattern.starts_with("/own"), SECOND),
    };
    match () {
        () if there => Ok(()),
        () if request.headers().contains_key("HX-Request") => Err(WebError::Expired),
        () => Err(WebError::MoreFirst(at, came_from(request))),
    }
}

/// Where somebody was, to lead back there.
fn came_from(request: &HttpRequest) -> String {
    let next = if request.method() == Method::GET {
        request.uri().path_and_query().map(ToString::to_string)
    } else {
        let back = request.headers().get("Referer").and_then(|r| r.to_str().ok());
        back.and_then(local_path).map(str::to_owned)
    };
    next.unwrap_or_default()
}

/// The path of an address of this server; a foreign address never becomes a place to go.
pub fn local_path(address: &str) -> Option<&str> {
    let path = match address.split_once("://") {
        Some((_, rest)) => rest.find('/').and_then(|i| rest.get(i..))?,
        None => address,
    };
    let local = path.starts_with('/') && !path.starts_with("//") && !path.contains(['\\', '\r', '\n']);
    local.then_some(path)
}

async fn who(request: &HttpRequest) -> Result<Who, WebError> {
    let session = request.get_session();
    let ids = session.get::<(GymId, SignInId)>("in").ok().flatten().ok_or_else(|| sign_in_first(request))?;
    let app = request.app_data::<web::Data<App>>().ok_or(WebError::NoPage)?;
    let found = blocking(app, move |conn, _| Ok(signed_in(conn, ids.0, ids.1)?)).await?;
    match found {
        Some(sign_in) => {
            let pattern = request.match_pattern().unwrap_or_default();
            asked_first(request, sign_in.asks, &pattern)?;
            doors::opens(sign_in.account.role, request.method(), &pattern)?;
            let zone = sign_in.zone.unwrap_or(app.zone);
            Ok(Who { sign_in, theme: Theme::of(request), zone })
        }
        None => {
            session.purge();
            Err(sign_in_first(request))
        }
    }
}

/// Text as it can be seen and kept: no NUL, which no database keeps, nothing that only steers how other text is shown.
fn seen(text: String) -> String {
    const UNSEEN: [std::ops::RangeInclusive<char>; 4] =
        ['\u{200b}'..='\u{200f}', '\u{202a}'..='\u{202e}', '\u{2060}'..='\u{2064}', '\u{2066}'..='\u{2069}'];
    let unseen = |c: char| {
        c == '\u{feff}' || UNSEEN.iter().any(|r| r.contains(&c)) || c.is_control() && !"\n\r\t".contains(c)
    };
    if text.contains(unseen) { text.replace(unseen, "") } else { text }
}

/// The fields of a form, in the order in which they were sent.
#[derive(Debug, Clone, Default)]
pub struct Fields(Vec<(String, String)>);

impl Fields {
    /// Of a body.
    pub fn read(body: &[u8]) -> Result<Fields, WebError> {
        let all: Vec<(String, String)> =
            serde_urlencoded::from_bytes(body).map_err(|e| WebError::Unreadable(e.to_string()))?;
        Ok(Fields(all.into_iter().map(|(name, v)| (name, seen(v))).collect()))
    }

    /// A field, or nothing typed.
    pub fn get(&self, name: &str) -> &str {
        self.0.iter().find(|(n, _)| n == name).map_or("", |(_, v)| v.as_str())
    }

    /// Every value of a field.
    pub fn all(&self, name: &str) -> Vec<&str> {
        self.0.iter().filter(|(n, _)| n == name).map(|(_, v)| v.as_str()).collect()
    }
}

/// A change: somebody signed in, and a form that carries their token.
#[derive(Debug, Clone)]
pub struct Change {
    /// Who.
    pub who: Who,
    /// What they sent.
    pub fields: Fields,
    /// A script of the page sent it: it takes parts of a page as the answer.
    pub hx: bool,
    /// Its own key, where it has one: it is done once.
    once: Option<Uuid>,
}

/// Whose change it is and its key.
#[derive(Debug, Clone, Copy)]
pub struct Key {
    gym: GymId,
    once: Option<Uuid>,
    hx: bool,
}

impl Change {
    /// The save of the sheet that its page was made from, where that is told.
    pub fn seen(&self) -> Option<i32> {
        self.fields.get("seen").parse().ok()
    }

    /// The key by which it is done once.
    pub fn key(&self) -> Key {
        Key { gym: self.who.gym(), once: self.once, hx: self.hx }
    }
}

/// As [`blocking`], for a change: with its key it is done once, however often it is sent.
pub async fn once<T, F>(app: &App, key: Key, work: F) -> Result<T, WebError>
where
    T: Send + 'static,
    F: FnOnce(&mut Connection, &App) -> Result<T, WebError> + Send + 'static,
{
    once_unless(app, key, |_| false, work).await
}

/// The same for a form that can come back with what is wrong: what is refused is not done, and may be sent again with its key.
pub async fn once_unless<T, F>(
    app: &App,
    key: Key,
    refused: impl FnOnce(&T) -> bool + Send + 'static,
    work: F,
) -> Result<T, WebError>
where
    T: Send + 'static,
    F: FnOnce(&mut Connection, &App) -> Result<T, WebError> + Send + 'static,
{
    blocking(app, move |conn, app| {
        match lantern_store::once(conn, key.gym, key.once, refused, |conn| work(conn, app))? {
            Once::Done(done) => Ok(done),
            Once::Already => Err(WebError::Already { script: key.hx }),
        }
    })
    .await
}

impl FromRequest for Change {
    type Error = WebError;
    type Future = Pin<Box<dyn Future<Output = Result<Change, WebError>>>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let request = request.clone();
        let body = web::Bytes::from_request(&request, payload);
        Box::pin(async move {
            let who = who(&request).await?;
            let body = body.await.map_err(|e| WebError::Unreadable(e.to_string()))?;
            let fields = Fields::read(&body)?;
            if !same(fields.get("csrf"), &who.sign_in.csrf) {
                return Err(WebError::Stale);
            }
            deeds::begins(&request, &who, &fields);
            let hx = request.headers().contains_key("HX-Request");
            let sent = request.headers().get("X-Key").and_then(|k| k.to_str().ok());
            let once = Uuid::parse_str(sent.unwrap_or_else(|| fields.get("once"))).ok();
            Ok(Change { who, fields, hx, once })
        })
    }
}

/// Compares tokens in a time that does not depend on where they differ.
pub fn same(a: &str, b: &str) -> bool {
    a.len() == b.len() && a.bytes().zip(b.bytes()).fold(0, |d, (x, y)| d | (x ^ y)) == 0
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn fields_keep_their_order_and_repeat() {
        let f = Fields::read(b"a=1&b=x+y&a=2&c=%F0%9F%8F%8B").unwrap();
        assert_eq!((f.get("a"), f.get("b"), f.get("z")), ("1", "x y", ""));
        assert_eq!(f.all("a"), vec!["1", "2"]);
    }

    #[test]
    fn only_paths_of_this_server_are_gone_to() {
        assert_eq!(local_path("/classes?week=2026-11-23"), Some("/classes?week=2026-11-23"));
        assert_eq!(local_path("http://hall.example/kit"), Some("/kit"));
        for foreign in
            ["//evil.example", "http://evil.example//x", "https://evil.example", "/\\evil", "evil", ""]
        {
            assert_eq!(local_path(foreign), None, "{foreign}");
        }
    }

    #[test]
    fn what_cannot_be_seen_is_left_out() {
        let f = Fields::read("a=Ad%00a%E2%80%8B&b=%E2%80%AEeve&c=1%0A2%093".as_bytes()).unwrap();
        assert_eq!((f.get("a"), f.get("b"), f.get("c")), ("Ada", "eve", "1\n2\t3"));
    }

    #[test]
    fn tokens_are_compared_whole() {
        assert!(same("abc", "abc"));
        assert!(!same("abc", "abd") && !same("abc", "ab") && !same("", "a"));
    }
}
