//! The coach's list of cards and the way to the wall.

use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::day::on_clock;
use crate::error::Page;
use crate::frame::{Frame, go, html};
use crate::pages::floor::wall;
use crate::pages::id;
use crate::session::{Change, Who, apart, blocking};
use actix_web::HttpResponse;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::{DateTime, Utc};
use lantern_core::hour::{Press, WallClock};
use lantern_core::versions::Tier;
use lantern_store::card::{Way, Went};
use lantern_store::{ClassId, MemberId, card};

#[derive(Template)]
#[template(path = "floor/page.html")]
struct FloorPage {
    frame: Frame,
    base: String,
    racks: bool,
    /// What the wall's clock does, and what can be pressed.
    clock: &'static str,
    presses: &'static [Press],
    /// What the walls show: its word as kept, its name, and the names of the parts before and after.
    stage: String,
    shows: &'static str,
    turns: (&'static str, &'static str),
    cards: Vec<Card>,
}

/// What the wall's clock does.
fn says(clock: WallClock) -> &'static str {
    match (clock.started, clock.paused) {
        (None, _) => "The wall’s clock stands.",
        (Some(_), None) => "The wall’s clock runs.",
        (Some(_), Some(_)) => "The wall’s clock is stopped.",
    }
}

/// What a button that presses it says.
fn button(press: &Press) -> &'static str {
    match press {
        Press::Start => "Start the clock",
        Press::Pause => "Stop",
        Press::GoOn => "Go on",
        Press::Back => "Back to 0:00",
    }
}

struct Card {
    name: String,
    tier: Option<Tier>,
    loads: String,
    token: String,
    /// Key of the member.
    id: String,
    /// What became of it, in words; empty: nothing yet.
    went: String,
}

/// `sent 16:02 · opened 16:10`, with the day where it is not the class's.
fn went(page: &ClassPage, went: Option<&Went>) -> String {
    let Some(w) = went else { return String::new() };
    let at = |t: &DateTime<Utc>| {
        let t = on_clock(t, page.zone);
        let same = t.date() == page.class.starts_at.date();
        t.format(if same { "%H:%M" } else { "%-d %b %H:%M" }).to_string()
    };
    let ways = [("sent", w.sent), ("opened", w.opened), ("on paper", w.on_paper)];
    let said = ways.iter().filter_map(|(word, t)| Some(format!("{word} {}", at(&(*t)?))));
    said.collect::<Vec<_>>().join(" · ")
}

/// `GET /classes/{id}/floor`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let gym = who.gym();
    let ways = blocking(&app, move |conn, _| Ok(card::of_class(conn, gym, class)?)).await?;
    let page = apart(move |_| {
        let cards = page
            .bookings
            .iter()
            .map(|b| {
                let i = page.plan.members.iter().position(|m| m.id == b.member.to_string());
                let loads =
                    page.plan.strength.iter().flat_map(|s| &s.lifts).filter_map(|l| l.of(i?)).map(|l| {
                        let unit = page.kit.unit_word();
                        let kg: Vec<String> = l
                            .working()
                            .filter(|s| s.load_kg > 0.0)
                            .map(|s| page.kit.mark(s.load_kg))
                            .collect();
                        match (kg.first(), kg.last()) {
                            (Some(a), Some(b)) if a != b => format!("{a} to {b} {unit}"),
                            (Some(a), _) => format!("{a} {unit}"),
                            _ => String::new(),
                        }
                    });
                Card {
                    name: b.name.clone(),
                    tier: page.plan.workouts.first().and_then(|w| w.placed.get(i?)).map(|p| p.tier),
                    loads: loads.collect::<Vec<_>>().join(", "),
                    token: b.card_token.clone(),
                    id: b.member.to_string(),
                    went: went(&page, ways.get(&b.member)),
                }
            })
            .collect();
        let racks = page.plan.strength.iter().flat_map(|s| &s.lifts).any(|l| !l.racks.racks.is_empty());
        let (shows, turns) = wall::turns(&page);
        Ok(FloorPage {
            frame: page.frame(&who, "floor"),
            base: page.base(),
            racks,
            clock: says(page.class.wall.clock),
            // results have no clock
            presses: if turns.1.is_empty() { &[] } else { page.class.wall.clock.presses() },
            stage: page.class.wall.stage.clone().unwrap_or_default(),
            shows,
            turns,
            cards,
        })
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/sent`: the link of a member's card was copied.
pub async fn sent(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let (class, member) = (ClassId(id(&path)?), MemberId(id(change.fields.get("member"))?));
    let of = (change.who.gym(), class);
    blocking(&app, move |conn, _| Ok(card::went(conn, of, Some(member), Way::Sent)?)).await?;
    if change.hx { Ok(HttpResponse::NoContent().finish()) } else { go(&format!("/classes/{class}/floor")) }
}
