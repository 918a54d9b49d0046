//! Somebody who coaches in several halls: with one password they sign in to all of them at once, and go from one to the other.

use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::go;
use crate::session::{Change, blocking};
use actix_session::Session;
use actix_web::web::Data;
use lantern_core::people::Deed;
use lantern_store::account::{self, Asks};
use lantern_store::{Connection, GymId, SignInId, audit};

/// Where the cookie keeps the sign-ins of the other halls. Each counts as long as its row does.
const OTHERS: &str = "also";

/// Keeps the sign-ins of the other halls.
pub fn keep(session: &Session, others: Vec<(GymId, SignInId)>) -> Result<(), WebError> {
    if others.is_empty() {
        session.remove(OTHERS);
        return Ok(());
    }
    session.insert(OTHERS, others).map_err(|e| WebError::Failed(e.to_string()))
}

/// The sign-ins of the other halls.
pub fn others(session: &Session) -> Vec<(GymId, SignInId)> {
    session.get(OTHERS).ok().flatten().unwrap_or_default()
}

/// Their halls by name, with the keys by which one goes there.
pub(super) fn named(
    conn: &mut Connection,
    others: &[(GymId, SignInId)],
) -> Result<Vec<(String, String)>, WebError> {
    let all = account::halls_of(conn, others)?;
    Ok(all.into_iter().map(|(id, name)| (id.to_string(), name)).collect())
}

/// `POST /own/hall`: goes on in another hall.
pub async fn switch(app: Data<App>, session: Session, change: Change) -> Page {
    let to: SignInId = change.fields.get("to").parse().map_err(|_| WebError::NoPage)?;
    let mut all = others(&session);
    let at = all.iter().position(|(_, id)| *id == to).ok_or(WebError::NoPage)?;
    let (gym, id) = all.remove(at);
    let found = blocking(&app, move |conn, _| {
        let found = account::signed_in(conn, gym, id)?;
        if let Some(s) = found.as_ref().filter(|s| s.asks != Asks::Code) {
            audit::keep(conn, &s.account, Deed::SignedIn, None, "from another hall")?;
        }
        Ok(found)
    });
    let Some(found) = found.await? else {
        // it ended there meanwhile: it is not offered again
        keep(&session, all)?;
        return go("/own");
    };
    all.push((change.who.gym(), change.who.sign_in.id));
    crate::session::begin(&session, &found)?;
    keep(&session, all)?;
    go("/classes")
}
