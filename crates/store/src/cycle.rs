//! Cycles of lifts.

use crate::error::Result;
use crate::ids::{CycleId, GymId};
use crate::schema::cycles;
use diesel::prelude::*;
use lantern_core::cycle::Cycle;
use uuid::Uuid;

/// Cycles of a gym, the latest start first.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId) -> Result<Vec<(CycleId, Cycle)>> {
    cycles::table
        .filter(cycles::gym_id.eq(gym.0))
        .order((cycles::starts_on.desc(), cycles::id.desc()))
        .select((cycles::id, cycles::body))
        .load::<(Uuid, serde_json::Value)>(conn)?
        .into_iter()
        .map(|(id, body)| Ok((CycleId(id), serde_json::from_value(body)?)))
        .collect()
}

/// One cycle.
///
/// # Errors
/// `NotFound` for a cycle of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, id: CycleId) -> Result<Cycle> {
    let body = cycles::table.find((gym.0, id.0)).select(cycles::body).first::<serde_json::Value>(conn)?;
    Ok(serde_json::from_value(body)?)
}

/// Adds a cycle.
///
/// # Errors
/// When the database is away.
pub fn add(conn: &mut PgConnection, gym: GymId, cycle: &Cycle) -> Result<CycleId> {
    let id = CycleId::fresh();
    diesel::insert_into(cycles::table)
        .values((
            cycles::gym_id.eq(gym.0),
            cycles::id.eq(id.0),
            cycles::starts_on.eq(cycle.start),
            cycles::body.eq(serde_json::to_value(cycle)?),
        ))
        .execute(conn)?;
    Ok(id)
}

/// Replaces a cycle.
///
/// # Errors
/// `NotFound` for a cycle of another gym.
pub fn change(conn: &mut PgConnection, gym: GymId, id: CycleId, cycle: &Cycle) -> Result<()> {
    let values = (cycles::starts_on.eq(cycle.start), cycles::body.eq(serde_json::to_value(cycle)?));
    let n = diesel::update(cycles::table.find((gym.0, id.0))).set(values).execute(conn)?;
    if n == 0 { Err(crate::StoreError::NotFound) } else { Ok(()) }
}

/// Removes a cycle; what was lifted in it stays.
///
/// # Errors
/// `NotFound` for a cycle of another gym.
pub fn remove(conn: &mut PgConnection, gym: GymId, id: CycleId) -> Result<()> {
    let n = diesel::delete(cycles::table.find((gym.0, id.0))).execute(conn)?;
    if n == 0 { Err(crate::StoreError::NotFound) } else { Ok(()) }
}
