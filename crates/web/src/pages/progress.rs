//! A lift of a member over time.

use super::{Mark, id};
use crate::app::App;
use crate::draw::progress::chart;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::Duration;
use lantern_core::loads::{base_for, progress};
use lantern_core::movement::catalogue;
use lantern_core::sheet::PercentBase;
use lantern_store::{MemberId, gym, kit, lifting, roster};

#[derive(Template)]
#[template(path = "members/progress.html")]
struct ProgressPage {
    frame: Frame,
    member: String,
    back: String,
    lift: String,
    chart: String,
    base: String,
    base_words: String,
    mark: Mark,
    unit: &'static str,
    rows: Vec<Row>,
}

struct Row {
    date: String,
    words: String,
    kg: String,
    spread: String,
    mark: Mark,
    base: bool,
}

/// `GET /members/{id}/lifts/{lift}`.
pub async fn show(app: Data<App>, who: Who, path: Path<(String, String)>) -> Page {
    let (member, lift) = path.into_inner();
    let member = MemberId(id(&member)?);
    if catalogue().movement(&lift).is_none() {
        return Err(WebError::NoPage);
    }
    let now = who.now(&app);
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let m = roster::find(conn, who.gym(), member)?;
        let kit = kit::find(conn, who.gym())?;
        let mut all = lifting::history(conn, who.gym(), &[member], &lift, now + Duration::days(1))?;
        let days: Vec<_> =
            all.remove(&member).unwrap_or_default().into_iter().map(|l| (l.date, l.went)).collect();
        let points = progress(&m, &lift, &days);
        let base = base_for(&m, &lift, &PercentBase::Unsaid, &gym.settings, now.date());
        let mark = |kg: f64| kit.mark((kg * 10.0).round() / 10.0);
        Ok(ProgressPage {
            frame: Frame::new(&who, &gym, Area::Members, &m.name),
            member: m.name.clone(),
            back: format!("/members/{member}"),
            lift: catalogue().name(&lift),
            chart: chart(&points, now.date(), base.kg, &kit),
            base: mark(base.kg),
            base_words: base.words,
            mark: Mark::of(base.provenance),
            unit: kit.unit_word(),
            rows: points
                .iter()
                .rev()
                .map(|p| Row {
                    date: p.date.format("%-d %b %Y").to_string(),
                    words: p.words.clone(),
                    kg: mark(p.kg),
                    spread: if p.high - p.low > 0.05 {
                        format!("{} to {}", mark(p.low), mark(p.high))
                    } else {
                        String::new()
                    },
                    mark: Mark::of(p.provenance),
                    base: p.base,
                })
                .collect(),
        })
    })
    .await?;
    html(&page)
}
