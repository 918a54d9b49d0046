//! A member's own page, opened by a link without a password: their next cards, their results, what is known of them, and what they
//! say of themselves. Nothing about anybody else.

use super::bookings::standing;
use super::id;
use super::members::form::{TRIALS, lift_row};
use super::members::{Use, uses};
use crate::app::App;
use crate::class_page::name_of;
use crate::error::{Page, WebError};
use crate::frame::{go, html, html_as};
use crate::session::{Fields, Theme, blocking, door, door_form, same};
use actix_session::Session;
use actix_web::HttpRequest;
use actix_web::http::StatusCode;
use actix_web::web::{Bytes, Data, Path};
use askama::Template;
use chrono::Duration;
use lantern_core::kinds::Limit;
use lantern_core::movement::{catalogue, say::spoken};
use lantern_core::pacing::table::LIFTS;
use lantern_core::roster::{Member, Proposal};
use lantern_core::sheet::{read, read_number};
use lantern_core::timetable::Standing;
use lantern_core::units::{WeightUnit, clock, plain};
use lantern_store::own_page::{self, open, propose, put_away};
use lantern_store::{Connection, GymId, MemberId, ProposalId, StoreError, gym, kit, learning, roster};

/// Results that are shown.
const MOST_RESULTS: i64 = 20;
/// Classes to come that are shown.
const MOST_COMING: i64 = 5;
/// Hours after its start in which a class still counts as to come: its card is read during it.
const HOURS: i64 = 3;

#[derive(Template)]
#[template(path = "members/mine.html")]
struct MinePage {
    theme: Theme,
    csrf: String,
    base: String,
    name: String,
    hall: String,
    /// Day and hour, session, address of the card, or how they wait.
    coming: Vec<(String, String, String, String)>,
    /// Day, session, result.
    results: Vec<(String, String, String)>,
    lifts: Vec<Use>,
    /// Best sets and trials: what, figure, day.
    sets: Vec<(String, String, String)>,
    limits: String,
    /// What waits for a coach: key, words.
    waiting: Vec<(String, String)>,
    unit: &'static str,
    lift_names: Vec<String>,
    all_limits: Vec<(&'static str, String, bool)>,
    typed: Fields,
    problem: String,
    defers: &'static str,
}

impl MinePage {
    /// Whether a limit was chosen in the form that comes back.
    fn chose(&self, limit: &str) -> bool {
        self.typed.get("limit") == limit
    }
}

/// Whose page it is, and what was typed on it.
struct Of {
    token: String,
    theme: Theme,
    csrf: String,
    typed: Fields,
    problem: String,
}

/// A link that opens nothing any more is a page that says what to do.
fn over(e: WebError) -> WebError {
    match e {
        WebError::Store(StoreError::NotFound) => WebError::PageOver,
        e => e,
    }
}

/// Best sets and trials: what, figure, day.
fn sets(m: &Member) -> Vec<(String, String, String)> {
    let day = |d: Option<chrono::NaiveDate>| d.map(|d| d.format("%-d %b %Y").to_string()).unwrap_or_default();
    let best = m.unbroken.iter().map(|b| (catalogue().name(&b.movement), plain(b.reps), day(b.date)));
    let name = |test: &str| TRIALS.iter().find(|(t, _)| *t == test).map_or(test, |(_, name)| name).to_owned();
    let trials = m.trials.iter().map(|t| (name(&t.test), clock(t.seconds), day(t.date)));
    best.chain(trials).collect()
}

fn page(
    conn: &mut Connection,
    app: &App,
    (at, member): (GymId, MemberId),
    of: Of,
) -> Result<MinePage, WebError> {
    let hall = gym::find(conn, at)?;
    let now = app.local(hall.zone);
    let m = roster::find(conn, at, member)?;
    let unit = kit::find(conn, at)?.unit;
    let coming = own_page::coming(conn, at, member, now - Duration::hours(HOURS), MOST_COMING)?;
    let results = learning::of_member(conn, at, member, MOST_RESULTS)?;
    let lifts = uses(conn, &hall, member, &m, now.date())?;
    Ok(MinePage {
        theme: of.theme,
        csrf: of.csrf,
        base: format!("/mine/{}", of.token),
        hall: hall.name,
        coming: coming
            .into_iter()
            .map(|c| {
                let when = c.starts_at.format("%A %-d %B, %H:%M").to_string();
                // who waits has no card yet
                let (card, waits) = match c.standing {
                    Standing::Booked => (format!("/card/{}", c.card_token), String::new()),
                    waits => (String::new(), standing(waits)),
                };
                (when, name_of(&read(&c.sheet)), card, waits)
            })
            .collect(),
        results: results
            .into_iter()
            .map(|r| {
                let title = r.title.unwrap_or_else(|| "Session".to_owned());
                (r.starts_at.format("%-d %b %Y").to_string(), title, r.outcome.text())
            })
            .collect(),
        lifts: lifts.into_iter().filter(|u| u.known).collect(),
        sets: sets(&m),
        limits: m.limits.iter().map(|l| l.says()).collect::<Vec<_>>().join(", "),
        waiting: own_page::proposals_of(conn, at, member)?
            .iter()
            .map(|w| (w.id.to_string(), w.proposal.says(unit)))
            .collect(),
        unit: unit.word(),
        lift_names: LIFTS.iter().map(|l| spoken(l)).collect(),
        all_limits: Limit::ALL.iter().map(|l| (l.word(), l.says(), m.limits.contains(l))).collect(),
        name: m.name,
        typed: of.typed,
        problem: of.problem,
        defers: lantern_core::cautions::DEFERS,
    })
}

/// `GET /mine/{token}`.
pub async fn show(app: Data<App>, request: HttpRequest, session: Session, token: Path<String>) -> Page {
    let token = token.into_inner();
    let (theme, csrf) = (Theme::of(&request), door(&session)?);
    let shown = blocking(&app, move |conn, app| {
        let whose = open(conn, &token)?;
        page(conn, app, whose, Of { token, theme, csrf, typed: Fields::default(), problem: String::new() })
    });
    html(&shown.await.map_err(over)?)
}

/// What a member says of themselves, as typed; what is wrong in words.
fn proposal(f: &Fields, unit: WeightUnit) -> Result<Proposal, String> {
    let limit = || Limit::from_word(f.get("limit")).ok_or_else(|| "Choose what it is about.".to_owned());
    match f.get("what") {
        "lifted" => {
            let field = |name: &str| f.get(name).trim().to_owned();
            // typed in the hall's unit, kept in kg
            let kg = read_number(&field("load")).map(|v| plain(v * unit.kg())).unwrap_or_default();
            if field("lift").is_empty() || kg.is_empty() {
                return Err(format!(
                    "Write the lift and the weight, say front squat and 80 ({}).",
                    unit.word()
                ));
            }
            let max = lift_row(&[field("lift"), kg, field("reps"), String::new(), field("on")])?;
            let of_own_weight =
                || format!("“{}” is nothing that is lifted with a known weight.", field("lift"));
            Proposal::lifted(max).ok_or_else(of_own_weight)
        }
        "spare" => limit().map(Proposal::Spare),
        "healed" => limit().map(Proposal::Healed),
        _ => Err("Choose what you want to say.".to_owned()),
    }
}

/// What a change of a member's own page does.
enum Said {
    Propose,
    TakeBack(ProposalId),
}

async fn changed(
    app: &App,
    request: &HttpRequest,
    session: &Session,
    token: String,
    body: &[u8],
    said: Said,
) -> Page {
    let ((f, csrf), theme) = (door_form(session, body)?, Theme::of(request));
    let stale = !same(f.get("csrf"), &csrf);
    let here = format!("/mine/{token}");
    let problem = blocking(app, move |conn, app| {
        let whose = open(conn, &token)?;
        let refused = match (stale, said) {
            (true, _) => Some("The form was out of date. Send it once more.".to_owned()),
            (false, Said::TakeBack(id)) => {
                put_away(conn, whose.0, id, Some(whose.1))?;
                None
            }
            (false, Said::Propose) => {
                let unit = kit::find(conn, whose.0)?.unit;
                match proposal(&f, unit) {
                    Err(words) => Some(words),
                    Ok(p) => match propose(conn, whose.0, whose.1, &p) {
                        Ok(_) => None,
                        Err(StoreError::Refused) => Some(
                            "Your coach has much of yours to answer already. Take something back, or wait."
                                .to_owned(),
                        ),
                        Err(e) => return Err(e.into()),
                    },
                }
            }
        };
        let Some(problem) = refused else { return Ok(None) };
        page(conn, app, whose, Of { token, theme, csrf, typed: f, problem }).map(Some)
    });
    match problem.await.map_err(over)? {
        None => go(&format!("{here}#say")),
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
    }
}

/// `POST /mine/{token}`: a member says something of themselves.
pub async fn say(
    app: Data<App>,
    request: HttpRequest,
    session: Session,
    token: Path<String>,
    body: Bytes,
) -> Page {
    changed(&app, &request, &session, token.into_inner(), &body, Said::Propose).await
}

/// `POST /mine/{token}/back/{id}`: they take it back.
pub async fn back(
    app: Data<App>,
    request: HttpRequest,
    session: Session,
    path: Path<(String, String)>,
    body: Bytes,
) -> Page {
    let (token, at) = path.into_inner();
    let at = ProposalId(id(&at)?);
    changed(&app, &request, &session, token, &body, Said::TakeBack(at)).await
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_a_member_says_is_read_in_the_halls_unit_or_refused_in_words() {
        let read = |text: &str, unit| proposal(&Fields::read(text.as_bytes()).unwrap(), unit);
        let said = "what=lifted&lift=back+squat&load=225&reps=3&on=2026-11-24";
        match read(said, WeightUnit::Lb).unwrap() {
            Proposal::Lifted(m) => {
                assert_eq!((m.lift.as_str(), m.kg.round(), m.reps), ("back-squat", 102.0, 3))
            }
            other => unreachable!("{other:?}"),
        }
        assert_eq!(read("what=spare&limit=knee", WeightUnit::Kg), Ok(Proposal::Spare(Limit::Knee)));
        assert_eq!(read("what=healed&limit=knee", WeightUnit::Kg), Ok(Proposal::Healed(Limit::Knee)));
        for (text, words) in [
            ("what=lifted&lift=back+squat&load=", "Write the lift and the weight"),
            ("what=lifted&lift=bck+sqat&load=80", "Did you mean back squat"),
            ("what=lifted&lift=back+squat&load=4000", "from 1 to 500"),
            ("what=lifted&lift=back+squat&load=80&on=soon", "no date"),
            ("what=lifted&lift=burpee&load=80", "nothing that is lifted"),
            ("what=spare&limit=tail", "Choose what it is about"),
            ("what=", "Choose what you want to say"),
        ] {
            let wrong = read(text, WeightUnit::Kg).unwrap_err();
            assert!(wrong.contains(words), "{text}: {wrong}");
        }
    }
}
