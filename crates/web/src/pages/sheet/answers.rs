//! What a coach answers the reader: a suggestion taken, a line whose place was in doubt.

use super::{hear, typed};
use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::go;
use crate::pages::id;
use crate::session::{Change, once};
use actix_web::web::{Data, Path};
use lantern_core::sheet::{BlockKind, Chosen, PlaceOf, Reading};
use lantern_store::{ClassId, gym, sheet};

/// A line whose place was close, with the other place.
pub(super) struct CloseView {
    pub line: u32,
    pub text: String,
    pub now: String,
    pub other: String,
    pub value: String,
}

/// Lines whose place was close, at most a few; a choice is one click.
pub(super) fn close_calls(reading: &Reading, all: &[&str]) -> Vec<CloseView> {
    const MOST: usize = 4;
    let words = |c: Chosen| match c {
        Chosen::Message => "said to the class".to_owned(),
        Chosen::GoesOn => "part of the block above".to_owned(),
        Chosen::Opens(k) => format!("the beginning of the {}", k.word()),
    };
    let view = |p: &PlaceOf| {
        let other = p.other?;
        let text: String = all.get(p.line as usize - 1)?.trim().chars().take(60).collect();
        Some(CloseView {
            line: p.line,
            text,
            now: words(p.now),
            other: words(other),
            value: value_of(p.line, other),
        })
    };
    reading.places.iter().filter_map(view).take(MOST).collect()
}

/// A choice as a form sends it: the line and what it becomes.
fn value_of(line: u32, c: Chosen) -> String {
    let what = match c {
        Chosen::Message => "message",
        Chosen::GoesOn => "goes-on",
        Chosen::Opens(k) => k.word(),
    };
    format!("{line}.{what}")
}

fn choice_of(value: &str) -> Option<(u32, Chosen)> {
    let (line, what) = value.split_once('.')?;
    let chosen = match what {
        "message" => Chosen::Message,
        "goes-on" => Chosen::GoesOn,
        _ => Chosen::Opens(BlockKind::ALL.into_iter().find(|k| k.word() == what)?),
    };
    Some((line.parse().ok()?, chosen))
}

/// `POST /classes/{id}/sheet/take`: puts a suggestion in its place; the result is a draft. An answer that holds for more
/// than this sheet is the hall's from now on.
pub async fn take(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (text, by) = (typed(&change), change.who.here());
    let (session, reading) = hear(&app, by.0, class, &text).await?;
    let taken = change.fields.get("take").split_once('.').and_then(|(p, s)| {
        let (p, s) = (p.parse::<usize>().ok()?, s.parse::<usize>().ok()?);
        Some((reading.problems.get(p)?, s))
    });
    let answer = taken.and_then(|(p, s)| p.asks?.unit(s));
    let kept = taken.map(|(p, s)| p.apply(&text, s)).unwrap_or(text);
    once(&app, key, move |conn, _| {
        if let Some(unit) = answer {
            gym::answer_pound_pairs(conn, by.0, unit)?;
        }
        Ok(sheet::keep_draft(conn, by, session.id, &kept)?)
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}

/// `POST /classes/{id}/sheet/choose`: what a line in doubt is; kept with the sheet, by the line's text.
pub async fn choose(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let (text, by) = (typed(&change), change.who.here());
    let Some((line, chosen)) = choice_of(change.fields.get("choose")) else {
        return Err(WebError::Unreadable("this choice names no line".to_owned()));
    };
    let (session, reading) = hear(&app, by.0, class, &text).await?;
    let place = reading.places.into_iter().find(|p| p.line == line);
    once(&app, key, move |conn, _| {
        if let Some(p) = place {
            sheet::choose(conn, by.0, session.id, &p.text, chosen)?;
        }
        if session.sheet == text { Ok(()) } else { Ok(sheet::keep_draft(conn, by, session.id, &text)?) }
    })
    .await?;
    go(&format!("/classes/{class}/sheet"))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_choice_is_sent_as_it_is_offered() {
        for c in [Chosen::Message, Chosen::GoesOn, Chosen::Opens(BlockKind::CoolDown)] {
            assert_eq!(choice_of(&value_of(7, c)), Some((7, c)));
        }
        assert_eq!((choice_of("7"), choice_of("x.message"), choice_of("7.nap")), (None, None, None));
    }
}
