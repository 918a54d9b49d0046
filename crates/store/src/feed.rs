//! Bookings that another program sends: its secret, what came, and what became of it.

use crate::account::token;
use crate::booking;
use crate::error::{Result, StoreError};
use crate::ids::{ClassId, EventId, GymId, MemberId};
use crate::schema::{classes, feed_events, feeds, members};
use chrono::{DateTime, Duration, NaiveDateTime, Utc};
use diesel::prelude::*;
use lantern_core::timetable::{Event, Happened, Outcome};
use uuid::Uuid;

/// Days for which events are kept.
pub const KEPT_DAYS: i64 = 60;

/// The secret of a hall's feed; `None`: it takes none.
///
/// # Errors
/// When the database is away.
pub fn secret(conn: &mut PgConnection, gym: GymId) -> Result<Option<String>> {
    Ok(feeds::table.find(gym.0).select(feeds::secret).first(conn).optional()?)
}

/// Who made the secret, and when.
///
/// # Errors
/// When the database is away.
pub fn made(conn: &mut PgConnection, gym: GymId) -> Result<Option<(String, DateTime<Utc>)>> {
    Ok(feeds::table.find(gym.0).select((feeds::made_by, feeds::made_at)).first(conn).optional()?)
}

/// A new secret; the one before counts no more. It is shown once.
///
/// # Errors
/// When the database is away.
pub fn renew(conn: &mut PgConnection, gym: GymId, by: &str) -> Result<String> {
    let secret = token();
    let values = (feeds::secret.eq(&secret), feeds::made_by.eq(by), feeds::made_at.eq(Utc::now()));
    diesel::insert_into(feeds::table)
        .values((feeds::gym_id.eq(gym.0), values))
        .on_conflict(feeds::gym_id)
        .do_update()
        .set(values)
        .execute(conn)?;
    Ok(secret)
}

/// Takes no events any more.
///
/// # Errors
/// When the database is away.
pub fn end(conn: &mut PgConnection, gym: GymId) -> Result<()> {
    diesel::delete(feeds::table.find(gym.0)).execute(conn)?;
    Ok(())
}

/// An event that came.
#[derive(Debug, Clone, PartialEq)]
pub struct Came {
    /// Key.
    pub id: EventId,
    /// When it came.
    pub at: DateTime<Utc>,
    /// What happened.
    pub what: Option<Happened>,
    /// Start of the class.
    pub starts_at: NaiveDateTime,
    /// Name of the member as it was sent.
    pub member: String,
    /// What became of it.
    pub outcome: Option<Outcome>,
}

/// Takes an event: books or takes out, and keeps what became of it. Sent again, it gives what became of it the first time.
///
/// # Errors
/// When the database is away.
pub fn take(conn: &mut PgConnection, gym: GymId, e: &Event, starts_at: NaiveDateTime) -> Result<Outcome> {
    conn.transaction(|conn| {
        let before = Utc::now() - Duration::days(KEPT_DAYS);
        let old = feed_events::table.filter(feed_events::gym_id.eq(gym.0).and(feed_events::at.lt(before)));
        diesel::delete(old).execute(conn)?;
        let id = EventId::fresh();
        let new = diesel::insert_into(feed_events::table)
            .values((
                feed_events::gym_id.eq(gym.0),
                feed_events::id.eq(id.0),
                feed_events::event.eq(&e.event),
                feed_events::what.eq(e.what.word()),
                feed_events::starts_at.eq(starts_at),
                feed_events::member.eq(e.member.trim()),
                feed_events::outcome.eq(Outcome::Done.word()),
            ))
            .on_conflict((feed_events::gym_id, feed_events::event))
            .do_nothing()
            .execute(conn)?;
        if new == 0 {
            let was: String = feed_events::table
                .filter(feed_events::gym_id.eq(gym.0).and(feed_events::event.eq(&e.event)))
                .select(feed_events::outcome)
                .first(conn)?;
            return Ok(Outcome::from_word(&was).unwrap_or(Outcome::AsItWas));
        }
        let member = members::table
            .filter(members::gym_id.eq(gym.0).and(members::left_on.is_null()))
            .filter(lower(members::name).eq(e.member.trim().to_lowercase()))
            .select(members::id)
            .first::<Uuid>(conn)
            .optional()?;
        let outcome = match member {
            Some(member) => done(conn, gym, (e.what, starts_at), MemberId(member))?,
            None => Outcome::NoMember,
        };
        keep(conn, gym, id, outcome)?;
        Ok(outcome)
    })
}

diesel::define_sql_function! {
    /// Text in small letters, as names are compared.
    fn lower(text: diesel::sql_types::Text) -> diesel::sql_types::Text;
}

fn keep(conn: &mut PgConnection, gym: GymId, id: EventId, outcome: Outcome) -> Result<()> {
    diesel::update(feed_events::table.find((gym.0, id.0)))
        .set(feed_events::outcome.eq(outcome.word()))
        .execute(conn)?;
    Ok(())
}

/// Books somebody or takes them out of the class that starts then.
fn done(
    conn: &mut PgConnection,
    gym: GymId,
    (what, starts_at): (Happened, NaiveDateTime),
    member: MemberId,
) -> Result<Outcome> {
    let found = classes::table
        .filter(classes::gym_id.eq(gym.0).and(classes::starts_at.eq(starts_at)))
        .filter(classes::cancelled_at.is_null())
        .select(classes::id)
        .limit(2)
        .load::<Uuid>(conn)?;
    let class = match found.as_slice() {
        [one] => ClassId(*one),
        [] => return Ok(Outcome::NoClass),
        _ => return Ok(Outcome::SeveralClasses),
    };
    let there = booking::sign_ups(conn, gym, class)?.iter().any(|b| b.member == member);
    let (added, removed) = match (what, there) {
        (Happened::Booked, false) => (vec![member], vec![]),
        (Happened::Cancelled, true) => (vec![], vec![member]),
        _ => return Ok(Outcome::AsItWas),
    };
    booking::change(conn, gym, class, &added, &removed)?;
    Ok(Outcome::Done)
}

type Columns = (Uuid, DateTime<Utc>, String, NaiveDateTime, String, String);

fn of((id, at, what, starts_at, member, outcome): Columns) -> Came {
    let (what, outcome) = (Happened::from_word(&what), Outcome::from_word(&outcome));
    Came { id: EventId(id), at, what, starts_at, member, outcome }
}

/// Events of a hall, latest first; at most so many.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, most: i64) -> Result<Vec<Came>> {
    let rows = feed_events::table
        .filter(feed_events::gym_id.eq(gym.0))
        .order(feed_events::id.desc())
        .limit(most)
        .select((
            feed_events::id,
            feed_events::at,
            feed_events::what,
            feed_events::starts_at,
            feed_events::member,
            feed_events::outcome,
        ))
        .load::<Columns>(conn)?;
    Ok(rows.into_iter().map(of).collect())
}

/// A coach says whom an open event means: it is done for them.
///
/// # Errors
/// `NotFound` for an event or a member of another gym; `Refused` where it is not open.
pub fn settle(conn: &mut PgConnection, gym: GymId, id: EventId, member: MemberId) -> Result<Outcome> {
    conn.transaction(|conn| {
        let (what, starts_at, outcome) = feed_events::table
            .find((gym.0, id.0))
            .select((feed_events::what, feed_events::starts_at, feed_events::outcome))
            .for_update()
            .first::<(String, NaiveDateTime, String)>(conn)?;
        members::table.find((gym.0, member.0)).select(members::id).first::<Uuid>(conn)?;
        let open = Outcome::from_word(&outcome).is_none_or(Outcome::open);
        let what = Happened::from_word(&what).filter(|_| open).ok_or(StoreError::Refused)?;
        let outcome = done(conn, gym, (what, starts_at), member)?;
        keep(conn, gym, id, outcome)?;
        Ok(outcome)
    })
}
