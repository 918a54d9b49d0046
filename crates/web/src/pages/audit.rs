//! Who changed what, when.

use crate::app::App;
use crate::error::Page;
use crate::frame::{Area, Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::{Data, Query};
use askama::Template;
use lantern_store::audit::{KEPT_DAYS, Kept, Subject, list};
use lantern_store::{AccountId, account, gym};
use serde::Deserialize;
use uuid::Uuid;

/// Deeds of a page.
const MOST: i64 = 100;

#[derive(Template)]
#[template(path = "people/audit.html")]
struct AuditPage {
    frame: Frame,
    rows: Vec<Row>,
    /// Key, name, chosen.
    people: Vec<(String, String, bool)>,
    /// Address of what was before; empty: nothing.
    older: String,
    narrowed: bool,
    /// Days for which deeds are kept.
    days: i64,
}

struct Row {
    at: String,
    by: String,
    says: &'static str,
    /// Words, and the address where there is one.
    of: (String, String),
    detail: String,
}

/// Which deeds are asked for.
#[derive(Deserialize)]
pub struct Asked {
    before: Option<Uuid>,
    of: Option<String>,
}

fn row(who: &Who, k: Kept) -> Row {
    let of = match k.subject {
        Some(Subject::Class(id, at)) => {
            (at.format("%a %-d %b %Y, %H:%M").to_string(), format!("/classes/{id}/bookings"))
        }
        Some(Subject::Member(id, name)) => (name, format!("/members/{id}")),
        Some(Subject::Person(name)) => (name, String::new()),
        None => (String::new(), String::new()),
    };
    Row {
        at: who.shown(&k.at).format("%-d %b %Y, %H:%M").to_string(),
        by: k.by,
        says: k.deed.map_or("did something that has no word any more", |d| d.says()),
        of,
        detail: k.detail,
    }
}

/// `GET /changes?of=…&before=…`.
pub async fn show(app: Data<App>, who: Who, asked: Query<Asked>) -> Page {
    let before = asked.before;
    let of = asked.of.as_deref().and_then(|a| a.parse::<AccountId>().ok());
    let page = blocking(&app, move |conn, _| {
        let hall = gym::find(conn, who.gym())?;
        let all = list(conn, who.gym(), before, of, MOST)?;
        let full = i64::try_from(all.len()).is_ok_and(|n| n == MOST);
        let older = all.last().filter(|_| full).map_or_else(String::new, |k| {
            let of = of.map(|o| format!("&of={o}")).unwrap_or_default();
            format!("/changes?before={}{of}", k.id)
        });
        let people = account::list(conn, who.gym())?;
        Ok(AuditPage {
            frame: Frame::new(&who, &hall, Area::Settings, "Who changed what"),
            rows: all.into_iter().map(|k| row(&who, k)).collect(),
            people: people.into_iter().map(|a| (a.id.to_string(), a.name, Some(a.id) == of)).collect(),
            older,
            narrowed: of.is_some() || before.is_some(),
            days: KEPT_DAYS,
        })
    })
    .await?;
    html(&page)
}
