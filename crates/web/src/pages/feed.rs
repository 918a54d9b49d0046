//! Bookings that another program sends: the door it comes in by, and the page that shows what came.

use super::id;
use super::people::address;
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html};
use crate::session::{Change, MOST_DOOR, Who, blocking, once};
use actix_web::web::{Bytes, Data, Path};
use actix_web::{HttpRequest, HttpResponse};
use askama::Template;
use chrono::{DateTime, Utc};
use hmac::{Hmac, Mac};
use lantern_core::people::Act;
use lantern_core::timetable::{Event, Happened, Outcome};
use lantern_store::{Connection, EventId, GymId, MemberId, feed, gym, roster};
use sha2::Sha256;

/// Header with the seconds since 1970 at which an event was sent.
pub const TIME: &str = "Lantern-Time";
/// Header with the proof that whoever sent it has the hall's secret.
pub const PROOF: &str = "Lantern-Proof";
/// Seconds by which the two clocks may differ; later an event is not taken, so none can be sent again by a listener.
const APART_S: i64 = 300;
/// Events that are shown.
const MOST: i64 = 60;

fn of_secret(secret: &str, time: i64, body: &[u8]) -> Option<Hmac<Sha256>> {
    let mut mac = Hmac::<Sha256>::new_from_slice(secret.as_bytes()).ok()?;
    mac.update(format!("{time}\n").as_bytes());
    mac.update(body);
    Some(mac)
}

/// The proof of an event: HMAC-SHA-256 of its time, a line's end and its body, in hexadecimal.
pub fn proof(secret: &str, time: i64, body: &[u8]) -> String {
    let made = of_secret(secret, time, body).map(|m| m.finalize().into_bytes());
    made.map(|b| b.iter().map(|x| format!("{x:02x}")).collect()).unwrap_or_default()
}

/// Whether a proof holds; compared in a time that does not depend on where it differs.
fn holds(secret: &str, time: i64, body: &[u8], proof: &str) -> bool {
    let byte = |i: usize| proof.get(i..i + 2).and_then(|h| u8::from_str_radix(h, 16).ok());
    let bytes: Option<Vec<u8>> = (0..proof.len()).step_by(2).map(byte).collect();
    bytes.zip(of_secret(secret, time, body)).is_some_and(|(b, mac)| mac.verify_slice(&b).is_ok())
}

fn said(status: u16, outcome: &str, says: &str) -> HttpResponse {
    let status = actix_web::http::StatusCode::from_u16(status).unwrap_or_default();
    HttpResponse::build(status).json(serde_json::json!({ "outcome": outcome, "says": says }))
}

/// The time and the proof that came with a request.
fn proven(request: &HttpRequest) -> Option<(i64, String)> {
    let header = |name: &str| request.headers().get(name)?.to_str().ok();
    Some((header(TIME)?.parse().ok()?, header(PROOF)?.to_owned()))
}

/// `POST /feed/{hall}`: one event, proven by the hall's secret. Whoever has no secret is told nothing of the hall.
pub async fn take(app: Data<App>, request: HttpRequest, path: Path<String>, body: Bytes) -> Page {
    const WRONG: &str = "the proof does not hold: check the secret, the clock and the hall's key";
    let refused = Ok(said(401, "refused", WRONG));
    let (Ok(gym), Some((time, proof))) = (path.parse::<GymId>(), proven(&request)) else { return refused };
    if body.len() > MOST_DOOR || ((app.now)().timestamp() - time).abs() > APART_S {
        return refused;
    }
    let secret = blocking(&app, move |conn, _| Ok(feed::secret(conn, gym)?)).await?;
    if !secret.is_some_and(|s| holds(&s, time, &body, &proof)) {
        return refused;
    }
    let text = String::from_utf8_lossy(&body);
    let (event, at) = match Event::read(&text) {
        Ok(e) => e,
        Err(words) => return Ok(said(422, "unreadable", &words)),
    };
    let outcome = blocking(&app, move |conn, _| Ok(feed::take(conn, gym, &event, at)?)).await?;
    Ok(said(200, outcome.word(), outcome.says()))
}

#[derive(Template)]
#[template(path = "classes/feed.html")]
struct FeedPage {
    frame: Frame,
    /// The secret is theirs to make.
    settles: bool,
    /// Days for which events are kept.
    days: i64,
    address: String,
    /// Who made the secret and when, in words; empty: there is none.
    made: String,
    /// A secret that was just made; shown once.
    secret: String,
    rows: Vec<Row>,
    members: Vec<(String, String)>,
}

struct Row {
    id: EventId,
    at: String,
    says: String,
    outcome: &'static str,
    /// A coach has to say whom it means.
    nobody: bool,
    open: bool,
}

fn row(who: &Who, c: &feed::Came) -> Row {
    let did = match c.what {
        Some(Happened::Booked) => "booked for",
        Some(Happened::Cancelled) => "cancelled",
        None => "did something at",
    };
    Row {
        id: c.id,
        at: who.shown(&c.at).format("%-d %b, %H:%M").to_string(),
        says: format!("{} {did} {}", c.member, c.starts_at.format("%a %-d %b, %H:%M")),
        outcome: c.outcome.map_or("", Outcome::says),
        nobody: c.outcome == Some(Outcome::NoMember),
        open: c.outcome.is_none_or(Outcome::open),
    }
}

fn page(conn: &mut Connection, who: &Who, address: String, secret: String) -> Result<FeedPage, WebError> {
    let hall = gym::find(conn, who.gym())?;
    let made = feed::made(conn, who.gym())?;
    Ok(FeedPage {
        frame: Frame::new(who, &hall, Area::Classes, "Bookings from elsewhere"),
        settles: who.may(Act::Settle),
        days: feed::KEPT_DAYS,
        address,
        made: made
            .map(|(by, at): (String, DateTime<Utc>)| {
                format!("{by} made the secret on {}.", who.shown(&at).format("%-d %B %Y"))
            })
            .unwrap_or_default(),
        secret,
        rows: feed::list(conn, who.gym(), MOST)?.iter().map(|c| row(who, c)).collect(),
        members: roster::list(conn, who.gym())?.into_iter().map(|m| (m.id, m.name)).collect(),
    })
}

/// Where a hall's events are sent.
fn door(app: &App, request: &HttpRequest, who: &Who) -> String {
    address(app, request, &format!("/feed/{}", who.gym()))
}

/// `GET /timetable/feed`.
pub async fn show(app: Data<App>, request: HttpRequest, who: Who) -> Page {
    let at = door(&app, &request, &who);
    html(&blocking(&app, move |conn, _| page(conn, &who, at, String::new())).await?)
}

/// `POST /timetable/feed`: a new secret, shown once.
pub async fn renew(app: Data<App>, request: HttpRequest, change: Change) -> Page {
    let (key, who) = (change.key(), change.who);
    let at = door(&app, &request, &who);
    let shown = once(&app, key, move |conn, _| {
        let secret = feed::renew(conn, who.gym(), &who.sign_in.account.name)?;
        page(conn, &who, at, secret)
    });
    html(&shown.await?)
}

/// `POST /timetable/feed/end`: nothing is taken any more.
pub async fn end(app: Data<App>, change: Change) -> Page {
    let gym = change.who.gym();
    blocking(&app, move |conn, _| Ok(feed::end(conn, gym)?)).await?;
    go("/timetable/feed")
}

/// `POST /timetable/feed/{id}/settle`: a coach says whom an event means.
pub async fn settle(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let (key, at) = (change.key(), EventId(id(&path)?));
    let member = MemberId(id(change.fields.get("member"))?);
    let gym = change.who.gym();
    once(&app, key, move |conn, _| Ok(feed::settle(conn, gym, at, member)?)).await?;
    go("/timetable/feed")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_proof_is_the_standard_one_and_holds_for_its_own_body_only() {
        // RFC 4231, case 2, over "what do ya want for nothing?": the key is Jefe; ours has the time before the body
        let mut mac = Hmac::<Sha256>::new_from_slice(b"Jefe").unwrap();
        mac.update(b"what do ya want for nothing?");
        let plain: String = mac.finalize().into_bytes().iter().map(|x| format!("{x:02x}")).collect();
        assert_eq!(plain, "5bdcc146bf60754e6a042426089575c75a003f089d2739839dec58b964ec3843");
        let p = proof("secret", 1_700_000_000, b"{}");
        assert_eq!(p.len(), 64);
        assert!(holds("secret", 1_700_000_000, b"{}", &p));
        assert!(holds("secret", 1_700_000_000, b"{}", &p.to_uppercase()));
        for (secret, time, body) in [
            ("secreT", 1_700_000_000, "{}"),
            ("secret", 1_700_000_001, "{}"),
            ("secret", 1_700_000_000, "{} "),
        ] {
            assert!(!holds(secret, time, body.as_bytes(), &p), "{secret} {time} {body}");
        }
        for bad in ["", "zz", "5", "ü", &p[..62]] {
            assert!(!holds("secret", 1_700_000_000, b"{}", bad), "{bad}");
        }
    }
}
