//! One file a task: its handlers and what its templates show.

pub mod audit;
pub mod bookings;
pub mod brief;
pub mod changes;
pub mod classes;
pub mod cycles;
pub mod feed;
pub mod floor;
pub mod health;
pub mod hour;
pub mod hours;
pub mod import;
pub mod kit;
pub mod learnt;
pub mod loads;
pub mod log;
pub mod members;
pub mod mine;
pub mod pacing;
pub mod people;
pub mod progress;
pub mod record;
pub mod schools;
pub mod set_up;
pub mod settings;
pub mod sheet;
pub mod sheets;
pub mod signin;
pub mod start;
pub mod stimulus;
pub mod timetable;
pub mod variants;
pub mod versions;
pub mod warm_up;
pub mod ways;
pub mod words;

use crate::class_page::ClassPage;
use crate::class_page::blocks_of;
use crate::error::WebError;
use crate::session::{Change, once};
use actix_web::web::Data;
use lantern_core::plan::Decision;
use lantern_core::units::Provenance;
use lantern_store::{ClassId, StoreError, decision};
use uuid::Uuid;

/// The mark after a number that says how it is known.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Mark {
    /// Its look.
    pub class: &'static str,
    /// Its word.
    pub word: &'static str,
}

impl Mark {
    /// Of a provenance.
    pub fn of(p: Provenance) -> Mark {
        let class = match p {
            Provenance::Tested => "is-t",
            Provenance::Estimated => "is-e",
            Provenance::Assumed => "is-a",
            Provenance::Results => "is-r",
        };
        Mark { class, word: p.word() }
    }
}

/// A safety note as a page shows it.
pub struct CautionView {
    /// Heading.
    pub title: String,
    /// Where it belongs.
    pub place: String,
    /// What the coach says.
    pub says: String,
    /// What to do.
    pub action: String,
    /// When to send somebody to a clinician.
    pub refer: String,
}

/// Notes of some blocks, or all of them.
pub fn cautions(page: &ClassPage, fits: impl Fn(Option<usize>) -> bool) -> Vec<CautionView> {
    page.plan
        .cautions
        .iter()
        .filter(|c| fits(c.block))
        .map(|c| CautionView {
            title: c.title.clone(),
            place: if c.because.is_empty() { c.at.clone() } else { format!("{}; {}", c.at, c.because) },
            says: c.says.clone(),
            action: c.action.clone(),
            refer: c.refer.clone().unwrap_or_default(),
        })
        .collect()
}

/// An id in an address; a wrong one is a page that does not exist.
pub fn id(text: &str) -> Result<Uuid, WebError> {
    Uuid::parse_str(text).map_err(|_| WebError::NoPage)
}

/// The block that a change is about.
pub fn block_of(change: &Change) -> Result<usize, WebError> {
    let block = change.fields.get("block").parse::<usize>().ok().filter(|b| *b < 10_000);
    block.ok_or_else(|| WebError::Unreadable("the block is no number".to_owned()))
}

/// Adds a decision of the coach to a class and goes back to a step.
pub async fn decide(
    app: Data<crate::app::App>,
    change: Change,
    class: &str,
    made: Decision,
    back: &str,
) -> crate::error::Page {
    let key = change.key();
    let class = ClassId(id(class)?);
    let (gym, by, seen) = (change.who.gym(), change.who.sign_in.account.id, change.seen());
    once(&app, key, move |conn, _| {
        let blocks = blocks_of(conn, gym, class, seen)?;
        let made = made.at_block(|at| blocks.id(at).map(|id| id as usize));
        // the sheet changed since the page was shown: nothing is decided for a block that is not there
        let made = made.ok_or(WebError::Store(StoreError::Raced))?;
        Ok(decision::add(conn, gym, class, &made, by)?)
    })
    .await?;
    crate::frame::go(&format!("/classes/{class}/{back}"))
}
