//! The coach's side of members' own pages: the link that opens one, and what members say of themselves.

use super::super::id;
use crate::app::App;
use crate::draw::squares::squares;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, go, html};
use crate::pages::people::address;
use crate::session::{Change, Who, blocking, once};
use actix_web::HttpRequest;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::Duration;
use lantern_core::roster::Member;
use lantern_store::own_page::{self, Waiting};
use lantern_store::{Connection, MemberId, ProposalId, booking, gym, kit, roster};

/// Days over which it is told how somebody kept to their bookings.
const KEPT_DAYS: i64 = 60;

/// What stands on a member's page of their own one.
pub struct Part {
    /// Link, and when it ends and was opened, in words.
    pub link: String,
    /// There is one.
    pub there: bool,
    pub proposals: Vec<Row>,
    /// How they kept to their bookings, in words; empty where there were none.
    pub kept: String,
}

/// Something a member says of themselves.
pub struct Row {
    pub id: String,
    pub member: String,
    pub name: String,
    pub says: String,
    pub beside: String,
    pub made: String,
}

fn row(w: &Waiting, who: &Who, m: &Member, unit: lantern_core::units::WeightUnit) -> Row {
    Row {
        id: w.id.to_string(),
        member: w.member.to_string(),
        name: m.name.clone(),
        says: w.proposal.says(unit),
        beside: w.proposal.beside(m, unit).unwrap_or_default(),
        made: who.shown(&w.made_at).format("%-d %B, %H:%M").to_string(),
    }
}

fn link_words(who: &Who, link: Option<&own_page::PageLink>) -> String {
    let Some(l) = link else {
        return "No link yet: with one they see their card, their results and what is known of them, and may propose a lift or a limit. They need no password.".to_owned();
    };
    let day = |at| who.shown(at).format("%-d %B %Y").to_string();
    let opened = l.opened_at.as_ref().map_or_else(
        || "not opened yet".to_owned(),
        |at| format!("opened last {}", who.shown(at).format("%-d %B, %H:%M")),
    );
    format!("Made {} by {}, {opened}; it ends {}.", day(&l.made_at), l.made_by, day(&l.ends_at))
}

/// The part of a member's page.
pub(super) fn part(
    conn: &mut Connection,
    who: &Who,
    (at, m): (MemberId, &Member),
    today: chrono::NaiveDate,
) -> Result<Part, WebError> {
    let unit = kit::find(conn, who.gym())?.unit;
    let link = own_page::link(conn, who.gym(), at)?;
    let [booked, late, not] = booking::kept(conn, who.gym(), at, today - Duration::days(KEPT_DAYS), today)?;
    let kept = match booked {
        0 => String::new(),
        n => format!("Last {KEPT_DAYS} days: booked {n} times, late {late}, did not come {not}."),
    };
    Ok(Part {
        link: link_words(who, link.as_ref()),
        there: link.is_some(),
        proposals: own_page::proposals_of(conn, who.gym(), at)?
            .iter()
            .map(|w| row(w, who, m, unit))
            .collect(),
        kept,
    })
}

#[derive(Template)]
#[template(path = "members/link.html")]
struct LinkPage {
    frame: Frame,
    name: String,
    base: String,
    link: String,
    picture: String,
    /// Days for which it counts.
    days: i64,
}

/// `POST /members/{id}/link`: a new link to a member's own page, shown once; the one before ends.
pub async fn renew(app: Data<App>, request: HttpRequest, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = MemberId(id(&path)?);
    let here = address(&app, &request, "/mine/");
    let who = change.who;
    let page = once(&app, key, move |conn, _| {
        let hall = gym::find(conn, who.gym())?;
        let name = roster::find(conn, who.gym(), at)?.name;
        let link = here + &own_page::renew(conn, who.gym(), at, &who.sign_in.account.name)?;
        let picture = squares(&link, &format!("Link to the page of {name}"));
        let frame = Frame::new(&who, &hall, Area::Members, &name);
        Ok(LinkPage { frame, name, base: format!("/members/{at}"), link, picture, days: own_page::DAYS })
    })
    .await?;
    html(&page)
}

/// `POST /members/{id}/link/withdraw`: the link opens nothing any more.
pub async fn withdraw(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let at = MemberId(id(&path)?);
    let gym = change.who.gym();
    blocking(&app, move |conn, _| {
        roster::find(conn, gym, at)?;
        Ok(own_page::withdraw(conn, gym, at)?)
    })
    .await?;
    go(&format!("/members/{at}#own-page"))
}

#[derive(Template)]
#[template(path = "members/proposals.html")]
struct ProposalsPage {
    frame: Frame,
    rows: Vec<Row>,
}

/// `GET /members/proposals`: what members say of themselves and nobody has answered.
pub async fn proposals(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let hall = gym::find(conn, who.gym())?;
        let unit = kit::find(conn, who.gym())?.unit;
        let mut rows = Vec::new();
        for w in own_page::proposals(conn, who.gym())? {
            let m = roster::find(conn, who.gym(), w.member)?;
            rows.push(row(&w, &who, &m, unit));
        }
        Ok(ProposalsPage { frame: Frame::new(&who, &hall, Area::Members, "What members say"), rows })
    })
    .await?;
    html(&page)
}

/// `POST /members/proposals/{id}`: it is taken, or put away.
pub async fn answer(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let at = ProposalId(id(&path)?);
    let take = match change.fields.get("do") {
        "take" => true,
        "put-away" => false,
        _ => return Err(WebError::NoPage),
    };
    let back = match change.fields.get("member") {
        "" => "/members/proposals".to_owned(),
        m => format!("/members/{}#own-page", MemberId(id(m)?)),
    };
    let gym = change.who.gym();
    once(&app, key, move |conn, _| match take {
        true => Ok(own_page::take(conn, gym, at)?),
        false => Ok(own_page::put_away(conn, gym, at, None)?),
    })
    .await?;
    go(&back)
}
