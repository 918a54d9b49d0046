//! Maxes and body masses as CSV: out, and in with every bad cell shown before anything is kept.

use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, html, html_as};
use crate::session::{Change, Who, blocking};
use actix_web::HttpResponse;
use actix_web::http::StatusCode;
use actix_web::web::Data;
use askama::Template;
use lantern_core::roster::{Figure, HEADINGS, Known, read_known, write_known};
use lantern_store::{MemberId, gym, in_one_step, roster};

/// Longest text that is read, bytes.
const MOST_BYTES: usize = 200_000;

#[derive(Template)]
#[template(path = "members/import.html")]
struct ImportPage {
    frame: Frame,
    headings: [&'static str; 6],
    text: String,
    problem: String,
    read: Known,
    good: usize,
    bad: usize,
    done: String,
}

fn page(frame: Frame, text: String, read: Known, done: String) -> ImportPage {
    let good = read.rows.iter().filter(|r| r.read.is_some()).count();
    ImportPage {
        frame,
        headings: HEADINGS,
        problem: read.problem.clone().unwrap_or_default(),
        bad: read.rows.len() - good,
        good,
        text,
        read,
        done,
    }
}

/// `GET /members/known.csv`.
pub async fn export(app: Data<App>, who: Who) -> Page {
    let text = blocking(&app, move |conn, _| Ok(write_known(&roster::list(conn, who.gym())?))).await?;
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header(("Content-Disposition", "attachment; filename=\"members-known.csv\""))
        .body(text))
}

/// `GET /members/import`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Area::Members, "Read a CSV");
        Ok(page(frame, String::new(), Known::default(), String::new()))
    })
    .await?;
    html(&page)
}

/// `POST /members/import`: the preview; with `keep` what is right in it is kept.
pub async fn read(app: Data<App>, change: Change) -> Page {
    let text = change.fields.get("text").to_owned();
    if text.len() > MOST_BYTES {
        return Err(WebError::Unreadable(
            "the table is longer than 200,000 characters; cut it in two".to_owned(),
        ));
    }
    let keep = change.fields.get("do") == "keep";
    let today = change.who.now(&app).date();
    let who = change.who;
    let shown = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Area::Members, "Read a CSV");
        let members = roster::list(conn, who.gym())?;
        let known = read_known(&text, &members, today);
        if !keep || known.problem.is_some() {
            return Ok(page(frame, text, known, String::new()));
        }
        let of = who.gym();
        let kept = in_one_step(conn, |conn| {
            let mut kept = 0;
            for (member, figure) in known.rows.iter().filter_map(|r| r.read.as_ref()) {
                let Ok(id) = member.parse::<MemberId>() else { continue };
                match figure {
                    Figure::Lift(max) => roster::add_maxes(conn, of, id, std::slice::from_ref(max))?,
                    Figure::BodyMass(kg) => roster::weigh(conn, of, id, *kg)?,
                }
                kept += 1;
            }
            Ok(kept)
        })?;
        let left: Vec<String> =
            known.rows.iter().filter(|r| r.read.is_none()).map(|r| r.line.to_string()).collect();
        let out =
            if left.is_empty() { String::new() } else { format!(" Left out: line {}.", left.join(", ")) };
        Ok(page(frame, String::new(), Known::default(), format!("{kept} figures kept.{out}")))
    })
    .await?;
    let status = if shown.problem.is_empty() { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY };
    html_as(status, &shown)
}
