//! What coaches decided for a class, in order; each takes back their own.

use crate::error::{Result, StoreError};
use crate::ids::{AccountId, ClassId, GymId};
use crate::logbook::blocks_logged;
use crate::schema::decisions;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use lantern_core::plan::Decision;
use uuid::Uuid;

/// A decision as it was made, about a block by its id.
#[derive(Debug, Clone, PartialEq)]
pub struct Made {
    /// What.
    pub decision: Decision,
    /// By whom; none in rows from before it was kept: anybody's to take back.
    pub by: Option<AccountId>,
    /// When it was made.
    pub at: Option<DateTime<Utc>>,
    /// When it was taken back.
    pub undone: Option<DateTime<Utc>>,
}

impl Made {
    /// Whether it is somebody's to take back or to do again.
    pub fn is_of(&self, account: AccountId) -> bool {
        self.by.is_none_or(|by| by == account)
    }
}

/// Every decision of a class, oldest first, those that were taken back too, and how many cannot be read any more: those are left out.
///
/// # Errors
/// When the database is away.
pub fn made(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<(Vec<Made>, usize)> {
    type Row = (Uuid, serde_json::Value, Option<Uuid>, Option<DateTime<Utc>>);
    let rows = decisions::table
        .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
        .order(decisions::id)
        .select((decisions::id, decisions::body, decisions::by_account, decisions::undone_at))
        .load::<Row>(conn)?;
    let all = rows.len();
    let read: Vec<Made> = rows
        .into_iter()
        .filter_map(|(id, body, by, undone)| {
            let decision = serde_json::from_value(body).ok()?;
            Some(Made { decision, by: by.map(AccountId), at: made_at(id), undone })
        })
        .collect();
    let lost = all - read.len();
    Ok((read, lost))
}

/// When a row was made: its key says it.
fn made_at(id: Uuid) -> Option<DateTime<Utc>> {
    let (seconds, nanos) = id.get_timestamp()?.to_unix();
    DateTime::from_timestamp(i64::try_from(seconds).ok()?, nanos)
}

/// The decisions that stand, oldest first, and how many cannot be read any more.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<(Vec<Decision>, usize)> {
    let (all, lost) = made(conn, gym, class)?;
    Ok((all.into_iter().filter(|m| m.undone.is_none()).map(|m| m.decision).collect(), lost))
}

/// Adds a decision; what its maker took back before is done with.
///
/// # Errors
/// `NotFound` when the class is not this gym's; `Held` when it would change what results are logged for.
pub fn add(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    decision: &Decision,
    by: AccountId,
) -> Result<()> {
    add_all(conn, gym, class, std::slice::from_ref(decision), by)
}

/// Adds several decisions at once, all or none.
///
/// # Errors
/// As for one.
pub fn add_all(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    all: &[Decision],
    by: AccountId,
) -> Result<()> {
    let logged = blocks_logged(conn, gym, class)?;
    if all.iter().any(|d| d.touches(&logged)) {
        return Err(StoreError::Held);
    }
    conn.transaction(|conn| {
        diesel::delete(
            decisions::table
                .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
                .filter(decisions::by_account.eq(by.0).and(decisions::undone_at.is_not_null())),
        )
        .execute(conn)?;
        for decision in all {
            diesel::insert_into(decisions::table)
                .values((
                    decisions::gym_id.eq(gym.0),
                    decisions::id.eq(Uuid::now_v7()),
                    decisions::class_id.eq(class.0),
                    decisions::body.eq(serde_json::to_value(decision)?),
                    decisions::by_account.eq(Some(by.0)),
                ))
                .execute(conn)?;
        }
        Ok(())
    })
}

/// Takes back the last decision of somebody that stands; what it was.
///
/// # Errors
/// `Held` when results are logged for what it is about.
pub fn undo(conn: &mut PgConnection, gym: GymId, class: ClassId, by: AccountId) -> Result<Option<Decision>> {
    conn.transaction(|conn| {
        let last = decisions::table
            .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
            .filter(decisions::by_account.eq(by.0).or(decisions::by_account.is_null()))
            .filter(decisions::undone_at.is_null())
            .order(decisions::id.desc())
            .select((decisions::id, decisions::body))
            .first::<(Uuid, serde_json::Value)>(conn)
            .optional()?;
        turn(conn, (gym, class), last, Some(Utc::now()))
    })
}

/// Does again what somebody took back last; what it is.
///
/// # Errors
/// `Held` when results are logged for what it is about.
pub fn redo(conn: &mut PgConnection, gym: GymId, class: ClassId, by: AccountId) -> Result<Option<Decision>> {
    conn.transaction(|conn| {
        let last = decisions::table
            .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
            .filter(decisions::by_account.eq(by.0).or(decisions::by_account.is_null()))
            .filter(decisions::undone_at.is_not_null())
            .order(decisions::undone_at.desc())
            .select((decisions::id, decisions::body))
            .first::<(Uuid, serde_json::Value)>(conn)
            .optional()?;
        turn(conn, (gym, class), last, None)
    })
}

/// Takes a decision back at a moment, or lets it stand again.
fn turn(
    conn: &mut PgConnection,
    (gym, class): (GymId, ClassId),
    which: Option<(Uuid, serde_json::Value)>,
    undone: Option<DateTime<Utc>>,
) -> Result<Option<Decision>> {
    let Some((id, body)) = which else { return Ok(None) };
    let decision: Option<Decision> = serde_json::from_value(body).ok();
    if let Some(d) = &decision
        && d.touches(&blocks_logged(conn, gym, class)?)
    {
        return Err(StoreError::Held);
    }
    diesel::update(decisions::table.find((gym.0, id))).set(decisions::undone_at.eq(undone)).execute(conn)?;
    Ok(decision)
}
