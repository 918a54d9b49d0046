//! What was decided for a class: by whom, when, and what was taken back.

use crate::app::App;
use crate::class_page::planned;
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::pages::id;
use crate::session::{Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_store::{ClassId, account};

#[derive(Template)]
#[template(path = "plan/changes.html")]
struct ChangesPage {
    frame: Frame,
    rows: Vec<Row>,
}

struct Row {
    at: String,
    says: String,
    by: String,
    undone: bool,
}

/// `GET /classes/{id}/changes`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = blocking(&app, move |conn, _| {
        let accounts = account::list(conn, who.gym())?;
        let by = |m: &lantern_store::decision::Made| {
            let name = accounts.iter().find(|a| Some(a.id) == m.by).map(|a| a.name.clone());
            name.unwrap_or_else(|| "not kept".to_owned())
        };
        let rows = page
            .made
            .iter()
            .rev()
            .map(|m| Row {
                at: m.at.map(|t| who.shown(&t).format("%-d %b, %H:%M").to_string()).unwrap_or_default(),
                says: lantern_core::movement::say::capital(&m.decision.says(|id| page.member_name(id))),
                by: by(m),
                undone: m.undone.is_some(),
            })
            .collect();
        Ok(ChangesPage { frame: page.frame(&who, "changes"), rows })
    })
    .await?;
    html(&page)
}
