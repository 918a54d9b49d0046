//! The racks on the wall: who lifts where, what is on the bar next, whose turn it is. Who does another lift has
//! it on their card: why is nobody's business here.

use crate::app::App;
use crate::class_page::planned;
use crate::draw::stack::{stack, words};
use crate::error::{Page, WebError};
use crate::frame::html;
use crate::pages::id;
use crate::pages::loads::attempts;
use crate::session::{Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::loads::Bars;
use lantern_core::movement::catalogue;
use lantern_core::plan::rack_state;
use lantern_core::units::clock;
use lantern_store::ClassId;

#[derive(Template)]
#[template(path = "floor/racks.html")]
struct RacksPage {
    base: String,
    session: String,
    lifts: Vec<Lift>,
    unit: &'static str,
}

struct Lift {
    name: String,
    what: String,
    racks: Vec<Rack>,
    size: &'static str,
}

struct Rack {
    number: usize,
    rows: Vec<Row>,
}

struct Row {
    name: String,
    kg: String,
    stack: String,
    plates: String,
    sets: String,
    turn: bool,
}

/// `GET /classes/{id}/wall/racks`.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = blocking(&app, move |conn, _| {
        let lifted = page.lifted(conn)?;
        let bars = Bars::of(&page.kit);
        let mut lifts = Vec::new();
        for s in &page.plan.strength {
            for (position, l) in s.lifts.iter().enumerate().filter(|(_, l)| !l.racks.racks.is_empty()) {
                let of = |m: usize| {
                    let m = page.plan.members.get(m);
                    m.map(|m| attempts(&lifted, s.block, position, &m.id)).unwrap_or_default()
                };
                let racks: Vec<Rack> = (0..l.racks.racks.len())
                    .filter_map(|r| {
                        let state = rack_state(l, r, &page.plan.members, &bars, of)?;
                        let rows = state
                            .lifters
                            .iter()
                            .enumerate()
                            .filter_map(|(n, x)| {
                                let own = l.of(x.member).filter(|own| own.lift == l.id())?;
                                let all = own.working().count();
                                Some(Row {
                                    name: page.plan.members.get(x.member)?.name.clone(),
                                    kg: x
                                        .next
                                        .as_ref()
                                        .map_or_else(|| "done".to_owned(), |s| page.kit.mark(s.load_kg)),
                                    stack: x
                                        .next
                                        .as_ref()
                                        .map(|s| stack(&s.per_side_kg, &page.kit))
                                        .unwrap_or_default(),
                                    plates: x
                                        .next
                                        .as_ref()
                                        .map(|s| words(&s.per_side_kg, &page.kit))
                                        .unwrap_or_default(),
                                    sets: format!("{} of {}", x.done.len(), all.max(x.done.len())),
                                    turn: state.turn == Some(n) && !lifted.is_empty(),
                                })
                            })
                            .collect();
                        Some(Rack { number: r + 1, rows })
                    })
                    .filter(|r: &Rack| !r.rows.is_empty())
                    .collect();
                let most = racks.iter().map(|r| r.rows.len()).max().unwrap_or(0);
                let every =
                    l.sets.every_s.map(|e| format!(" every {}", clock(f64::from(e)))).unwrap_or_default();
                lifts.push(Lift {
                    name: catalogue().name(l.id()),
                    what: match &l.heavy {
                        Some(h) => format!("to a {}RM in {}", h.build.reps, clock(f64::from(h.window_s))),
                        None => format!("{} sets{every}", l.sets.reps.len()),
                    },
                    size: if most > 3 || racks.len() > 5 { "is-tight" } else { "" },
                    racks,
                });
            }
        }
        if lifts.is_empty() {
            return Err(WebError::NoPage);
        }
        Ok(RacksPage { base: page.base(), session: page.name(), lifts, unit: page.kit.unit_word() })
    })
    .await?;
    html(&page)
}
