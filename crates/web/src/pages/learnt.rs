//! What results have taught: of the hall, and of one member, each result with what it did. A result can be left out and taken in again;
//! none is lost.

use super::id;
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html};
use crate::session::{Change, Who, apart, blocking, once};
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::NaiveDate;
use lantern_core::learning::{
    Learner, LeftOut, MemberFigures, format_words, hall_words, lean_words, left_out_words, member_figures,
    member_words, of_format, pull_words, surprise_words,
};
use lantern_store::learning::{Taught, forget as forget_all, leave_out, of_member};
use lantern_store::{ClassId, MemberId, gym, roster};
use std::sync::Arc;

/// Results of a member that are shown.
const MOST: i64 = 40;

#[derive(Template)]
#[template(path = "learnt/hall.html")]
struct HallPage {
    frame: Frame,
    lead: String,
    /// Kind of work, how late it is, give or take per cent.
    formats: Vec<(&'static str, String, String)>,
    members: Vec<MemberRow>,
    waiting: usize,
}

#[derive(Template)]
#[template(path = "learnt/member.html")]
struct MemberPage {
    frame: Frame,
    base: String,
    name: String,
    lead: String,
    lean: String,
    rows: Vec<Row>,
}

/// What was learnt of a member.
struct MemberRow {
    link: String,
    name: String,
    results: u32,
    than: String,
    work: String,
    before: String,
    now: String,
}

/// A result and what it did.
struct Row {
    day: String,
    title: String,
    log: String,
    result: String,
    surprise: String,
    pull: String,
    class: String,
    block: u32,
    teaches: bool,
    left_out: bool,
    why: &'static str,
}

/// What a form says about a result: why it is left out; nothing where it teaches again.
///
/// # Errors
/// For a word that is none of the reasons.
pub(super) fn read_why(word: &str) -> Result<Option<LeftOut>, WebError> {
    match word {
        "" => Ok(None),
        word => LeftOut::read(word).map(Some).ok_or(WebError::NoPage),
    }
}

/// What the hall has learnt until now: results of today teach too.
async fn learner(app: &App, who: &Who) -> Result<(Arc<Learner>, NaiveDate), WebError> {
    let (of, until) = (who.gym(), who.now(app).date().succ_opt().unwrap_or(NaiveDate::MAX));
    let to_learn = blocking(app, move |conn, app| app.learners.read(conn, of, until)).await?;
    let app = app.clone();
    apart(move |_| Ok((app.learners.learn(to_learn), until))).await
}

/// `GET /learnt`.
pub async fn hall(app: Data<App>, who: Who) -> Page {
    let (learner, until) = learner(&app, &who).await?;
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let all = roster::list(conn, who.gym())?;
        let (late, formats) = learner.of_hall();
        let of = |m: &lantern_core::roster::Member| {
            let f = member_figures(&learner.of(&m.id, until)?)?;
            let [before, now] = f.half_percent.map(|p| format!("± {p:.0} %"));
            let MemberFigures { results, than, work, .. } = f;
            let link = format!("/members/{}/results", m.id);
            Some(MemberRow { link, name: m.name.clone(), results, than, work, before, now })
        };
        let members: Vec<_> = all.iter().filter_map(of).collect();
        Ok(HallPage {
            frame: Frame::new(&who, &gym, Area::Record, "What results taught"),
            lead: hall_words(learner.results(), late),
            formats: match learner.results() {
                0 => Vec::new(),
                _ => formats
                    .into_iter()
                    .map(|(f, late, sd)| {
                        let (than, half) = of_format(late, sd);
                        (format_words(f), than, format!("± {half:.0} %"))
                    })
                    .collect(),
            },
            waiting: all.len() - members.len(),
            members,
        })
    })
    .await?;
    html(&page)
}

fn row(t: &Taught, learner: &Learner, member: &str) -> Row {
    let pull = learner.pulls_of(member).find(|p| p.of == t.of);
    Row {
        day: t.starts_at.format("%-d %b %Y").to_string(),
        title: t.title.clone().unwrap_or_else(|| "Session".to_owned()),
        log: format!("/classes/{}/log", t.class),
        result: t.outcome.text(),
        surprise: pull.map(surprise_words).unwrap_or_default(),
        pull: pull.map_or_else(|| "nothing to compare it with".to_owned(), pull_words),
        class: t.class.to_string(),
        block: t.block,
        teaches: t.late.is_some(),
        left_out: t.left_out.is_some(),
        why: t.left_out.map(left_out_words).unwrap_or_default(),
    }
}

/// `GET /members/{id}/results`.
pub async fn member(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let member = MemberId(id(&path)?);
    let (learner, until) = learner(&app, &who).await?;
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let m = roster::find(conn, who.gym(), member)?;
        let results = of_member(conn, who.gym(), member, MOST)?;
        let learnt = learner.of(&m.id, until).and_then(|l| member_words(&l));
        Ok(MemberPage {
            frame: Frame::new(&who, &gym, Area::Members, &m.name),
            base: format!("/members/{member}"),
            lead: learnt.unwrap_or_else(|| "No result of theirs has taught me anything yet.".to_owned()),
            lean: learner.leans(&m.id).map(lean_words).unwrap_or_default(),
            rows: results.iter().map(|t| row(t, &learner, &m.id)).collect(),
            name: m.name,
        })
    })
    .await?;
    html(&page)
}

/// `POST /members/{id}/results`: leaves one out, or takes it in again.
pub async fn teach(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let member = MemberId(id(&path)?);
    let class = ClassId(id(change.fields.get("class"))?);
    let block: u32 = change.fields.get("block").parse().map_err(|_| WebError::NoPage)?;
    let why = read_why(change.fields.get("why"))?;
    let gym = change.who.gym();
    once(&app, key, move |conn, _| Ok(leave_out(conn, gym, class, (member, block), why)?)).await?;
    go(&format!("/members/{member}/results"))
}

/// `POST /members/{id}/results/forget`: what their results taught is forgotten; the results stay.
pub async fn forget(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let member = MemberId(id(&path)?);
    let gym = change.who.gym();
    once(&app, key, move |conn, _| {
        roster::find(conn, gym, member)?;
        Ok(forget_all(conn, gym, member)?)
    })
    .await?;
    go(&format!("/members/{member}/results"))
}
