//! Finding a sheet again: by a movement, a format or words of its name, the latest first.

use crate::app::App;
use crate::class_page::name_of;
use crate::error::Page;
use crate::frame::{Area, Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::{Data, Query as Asked};
use askama::Template;
use chrono::{Duration, NaiveTime};
use lantern_core::sheet::{Query, read};
use lantern_store::{class, gym};
use serde::Deserialize;
use std::collections::HashSet;

/// Days back and ahead that are searched.
const DAYS: [i64; 2] = [400, 90];
/// Sheets that are listed.
const MOST: usize = 60;

/// What is looked for.
#[derive(Deserialize)]
pub struct Looked {
    q: Option<String>,
}

#[derive(Template)]
#[template(path = "sheet/find.html")]
struct FindPage {
    frame: Frame,
    q: String,
    found: Vec<Found>,
    of: usize,
}

struct Found {
    day: String,
    href: String,
    name: String,
    what: String,
}

/// `GET /sheets?q=…`.
pub async fn show(app: Data<App>, who: Who, looked: Asked<Looked>) -> Page {
    let q = looked.into_inner().q.unwrap_or_default().chars().take(80).collect::<String>();
    let now = who.now(&app);
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let midnight = now.date().and_time(NaiveTime::MIN);
        let (from, to) = (midnight - Duration::days(DAYS[0]), midnight + Duration::days(DAYS[1]));
        let mut listed = class::list(conn, who.gym(), from, to)?;
        listed.reverse();
        let mut seen = HashSet::new();
        listed.retain(|l| !l.sheet.trim().is_empty() && seen.insert(l.class.session.0));
        let query = Query::read(&q);
        let of = listed.len();
        let found = listed
            .iter()
            .filter_map(|l| {
                let reading = read(&l.sheet);
                query.fits(&reading.sheet).then(|| Found {
                    day: l.class.starts_at.format("%a %-d %B %Y").to_string(),
                    href: format!("/classes/{}/sheet", l.class.id),
                    name: name_of(&reading),
                    what: super::classes::what(&reading),
                })
            })
            .take(MOST)
            .collect();
        Ok(FindPage { frame: Frame::new(&who, &gym, Area::Classes, "Find a sheet"), q, found, of })
    })
    .await?;
    html(&page)
}
