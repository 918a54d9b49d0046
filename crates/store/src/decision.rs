//! What the coach decided for a class, in order.

use crate::error::Result;
use crate::ids::{ClassId, GymId};
use crate::schema::decisions;
use diesel::prelude::*;
use lantern_core::plan::Decision;
use uuid::Uuid;

/// Decisions of a class, oldest first.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<Decision>> {
    let rows = decisions::table
        .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
        .order(decisions::id)
        .select(decisions::body)
        .load::<serde_json::Value>(conn)?;
    rows.into_iter().map(|v| Ok(serde_json::from_value(v)?)).collect()
}

/// Adds a decision.
///
/// # Errors
/// `NotFound` when the class is not this gym's.
pub fn add(conn: &mut PgConnection, gym: GymId, class: ClassId, decision: &Decision) -> Result<()> {
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
/// When the database is away.
pub fn undo(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<bool> {
    conn.transaction(|conn| {
        let last = decisions::table
            .filter(decisions::gym_id.eq(gym.0).and(decisions::class_id.eq(class.0)))
            .order(decisions::id.desc())
            .select(decisions::id)
            .first::<Uuid>(conn)
            .optional()?;
        let Some(id) = last else { return Ok(false) };
        diesel::delete(decisions::table.find((gym.0, id))).execute(conn)?;
        Ok(true)
    })
}
