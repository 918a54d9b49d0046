//! What goes to the floor on paper: everybody's card, eight to a sheet where they fit; a log to write on; the versions for a board.

use super::card::{LiftView, WorkView, lift_views, work_views};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::draw::squares::squares;
use crate::error::{Page, WebError};
use crate::frame::{Frame, html};
use crate::pages::brief::{WorkoutView, workout_view};
use crate::pages::id;
use crate::session::{Who, apart, blocking};
use actix_web::HttpRequest;
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::movement::catalogue;
use lantern_core::plan::{LiftPlan, brief};
use lantern_core::roster::Member;
use lantern_core::versions::Tier;
use lantern_store::ClassId;
use lantern_store::card::{self, Way};
use lantern_store::shown::Why;

/// A paper.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Paper {
    Cards,
    Log,
    Board,
}

impl Paper {
    fn read(word: &str) -> Option<Paper> {
        match word {
            "cards" => Some(Paper::Cards),
            "log" => Some(Paper::Log),
            "board" => Some(Paper::Board),
            _ => None,
        }
    }

    fn title(self) -> &'static str {
        match self {
            Paper::Cards => "Cards on paper",
            Paper::Log => "Log to write on",
            Paper::Board => "Whiteboard",
        }
    }
}

#[derive(Template)]
#[template(path = "floor/papers.html")]
struct PapersPage {
    frame: Frame,
    base: String,
    paper: Paper,
    hall: String,
    when: String,
    cards: Vec<CardView>,
    rows: Vec<RowView>,
    lifts: Vec<String>,
    works: Vec<String>,
    /// Workouts for the whiteboard: no names.
    boards: Vec<WorkoutView>,
    messages: Vec<String>,
}

struct CardView {
    name: String,
    tier: Option<Tier>,
    lifts: Vec<LiftView>,
    works: Vec<WorkView>,
    /// Squares that lead to the member's own page; empty for who is booked no more.
    code: String,
}

/// A member's row of the log.
struct RowView {
    name: String,
    /// The heaviest weight of each lift of the day, empty where they do not lift it.
    tops: Vec<String>,
    /// Their version of each workout.
    tiers: Vec<&'static str>,
}

fn card(page: &ClassPage, i: usize, member: &Member, host: &str) -> CardView {
    let booking = page.bookings.iter().find(|b| b.member.to_string() == member.id);
    CardView {
        name: member.name.clone(),
        tier: page.plan.workouts.first().and_then(|w| w.placed.get(i)).map(|p| p.tier),
        lifts: lift_views(page, i),
        works: work_views(page, i),
        code: booking
            .map(|b| squares(&format!("{host}/card/{}", b.card_token), "code that opens this card"))
            .unwrap_or_default(),
    }
}

fn row(page: &ClassPage, i: usize, member: &Member) -> RowView {
    let top = |l: &LiftPlan| {
        let heaviest = l.of(i).map(|m| m.working().map(|s| s.load_kg).fold(0.0, f64::max));
        heaviest.filter(|kg| *kg > 0.0).map(|kg| page.kit.said(kg)).unwrap_or_default()
    };
    RowView {
        name: member.name.clone(),
        tops: page.plan.strength.iter().flat_map(|s| &s.lifts).map(top).collect(),
        tiers: page.plan.workouts.iter().map(|w| w.placed.get(i).map_or("", |p| p.tier.letter())).collect(),
    }
}

fn board(page: &ClassPage) -> Vec<WorkoutView> {
    let brief = brief(&page.plan);
    brief.workouts.into_iter().map(|w| workout_view(w, brief.unit)).collect()
}

/// `GET /classes/{id}/paper/{what}`.
pub async fn show(app: Data<App>, who: Who, request: HttpRequest, path: Path<(String, String)>) -> Page {
    let (class, what) = path.into_inner();
    let class = ClassId(id(&class)?);
    let paper = Paper::read(&what).ok_or(WebError::NoPage)?;
    let page = planned(&app, who.gym(), class).await?;
    if paper == Paper::Cards {
        // a printed range is a shown one
        page.shown(&app, Why::Card).await?;
        let of = (who.gym(), class);
        blocking(&app, move |conn, _| Ok(card::went(conn, of, None, Way::OnPaper)?)).await?;
    }
    let host = {
        let here = request.connection_info();
        format!("{}://{}", here.scheme(), here.host())
    };
    let page = apart(move |_| {
        let members = || page.plan.members.iter().enumerate();
        let name = |l: &LiftPlan| l.sets.movement.id().map_or_else(String::new, |m| catalogue().name(m));
        let mut out = PapersPage {
            base: page.base(),
            paper,
            hall: page.gym.name.clone(),
            when: format!("{}, {}", page.name(), page.class.starts_at.format("%a %-d %B, %H:%M")),
            lifts: page.plan.strength.iter().flat_map(|s| &s.lifts).map(name).collect(),
            works: page
                .plan
                .workouts
                .iter()
                .map(|w| w.name.clone().unwrap_or_else(|| "Workout".to_owned()))
                .collect(),
            messages: page.plan.sheet.messages.clone(),
            frame: page.frame(&who, "floor"),
            cards: Vec::new(),
            rows: Vec::new(),
            boards: Vec::new(),
        };
        out.frame.title = format!("{} · {}", paper.title(), page.name());
        match paper {
            Paper::Cards => out.cards = members().map(|(i, m)| card(&page, i, m, &host)).collect(),
            Paper::Log => out.rows = members().map(|(i, m)| row(&page, i, m)).collect(),
            Paper::Board => out.boards = board(&page),
        }
        Ok(out)
    })
    .await?;
    html(&page)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn papers_are_known_by_their_word() {
        assert_eq!(
            ["cards", "log", "board", "wall"].map(Paper::read),
            [Some(Paper::Cards), Some(Paper::Log), Some(Paper::Board), None]
        );
    }
}
