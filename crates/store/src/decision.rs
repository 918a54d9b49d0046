//! What the coach decided for a class, in order.

use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId};
use crate::schema::{decisions, results};
use diesel::prelude::*;
use lantern_core::plan::Decision;
use uuid::Uuid;

/// Decisions of a class, oldest first, about blocks by their ids, and how many cannot be read any more: those are left out.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<(Vec<Decision>, usize)> {
    let rows = decisions::table
        .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
        .order(decisions::id)
        .select(decisions::body)
        .load::<serde_json::Value>(conn)?;
    let all = rows.len();
    let read: Vec<Decision> = rows.into_iter().filter_map(|v| serde_json::from_value(v).ok()).collect();
    let lost = all - read.len();
    Ok((read, lost))
}

/// Blocks of a class for which results are logged, by id.
fn logged(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<usize>> {
    let blocks = results::table
        .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
        .select(results::block)
        .distinct()
        .load::<i32>(conn)?;
    Ok(blocks.into_iter().filter_map(|b| usize::try_from(b).ok()).collect())
}

/// Adds a decision.
///
/// # Errors
/// `NotFound` when the class is not this gym's; `Held` when it would change what results are logged for.
pub fn add(conn: &mut PgConnection, gym: GymId, class: ClassId, decision: &Decision) -> Result<()> {
    if decision.touches(&logged(conn, gym, class)?) {
        return Err(StoreError::Held);
    }
    diesel::insert_into(decisions::table)
        .values((
            decisions::gym_id.eq(gym.0),
            decisions::id.eq(Uuid::now_v7()),
            decisions::class_id.eq(class.0),
            decisions::body.eq(serde_json::to_value(decision)?),
        ))
        .execute(conn)?;
    Ok(())
}

/// Drops the last decision; whether there was one.
///
/// # Errors
/// `Held` when results are logged for what it is about.
pub fn undo(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<bool> {
    conn.transaction(|conn| {
        let last = decisions::table
            .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
            .order(decisions::id.desc())
            .select((decisions::id, decisions::body))
            .first::<(Uuid, serde_json::Value)>(conn)
            .optional()?;
        let Some((id, body)) = last else { return Ok(false) };
        let made: Option<Decision> = serde_json::from_value(body).ok();
        if made.is_some_and(|d| logged(conn, gym, class).is_ok_and(|l| d.touches(&l))) {
            return Err(StoreError::Held);
        }
        diesel::delete(decisions::table.find((gym.0, id))).execute(conn)?;
        Ok(true)
    })
}
