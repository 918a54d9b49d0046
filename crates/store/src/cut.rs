//! What was called out to single members who were late in the middle of a workout.

use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId, MemberId};
use crate::schema::{bookings, cuts, results};
use chrono::Utc;
use diesel::prelude::*;
use lantern_core::plan::{Passed, Shout};
use serde_json::Value;
use std::collections::HashSet;
use uuid::Uuid;

/// Most that a class keeps; a coach calls out a few.
const MOST: i64 = 1000;

/// What one member was told.
#[derive(Debug, Clone, PartialEq)]
pub struct Taken {
    /// Who.
    pub member: MemberId,
    /// Id of the block.
    pub block: u32,
    /// Where they were.
    pub passed: Passed,
    /// What was called out.
    pub shout: Shout,
}

/// What stands in a class, the latest of each member in each block. What was written by a program that knew other words is left out.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<Taken>> {
    let rows = cuts::table
        .filter(cuts::gym_id.eq(gym.0).and(cuts::class_id.eq(class.0)).and(cuts::back_at.is_null()))
        .order(cuts::id)
        .select((cuts::member_id, cuts::block, cuts::passed, cuts::shout))
        .load::<(Uuid, i32, Value, Value)>(conn)?;
    let mut out: Vec<Taken> = Vec::new();
    for (member, block, passed, shout) in rows {
        let read = (serde_json::from_value(passed), serde_json::from_value(shout), u32::try_from(block));
        let (Ok(passed), Ok(shout), Ok(block)) = read else { continue };
        let member = MemberId(member);
        out.retain(|t| (t.member, t.block) != (member, block));
        out.push(Taken { member, block, passed, shout });
    }
    Ok(out)
}

/// Keeps what was called out; what was called out before to the same member is kept beside it.
///
/// # Errors
/// `NotFound` when class or member is not this gym's or not booked; `Refused` when a class has more than anybody can call out.
pub fn take(conn: &mut PgConnection, gym: GymId, class: ClassId, taken: &Taken, by: &str) -> Result<()> {
    conn.transaction(|conn| {
        bookings::table
            .find((gym.0, class.0, taken.member.0))
            .select(bookings::position)
            .first::<i32>(conn)?;
        let here = cuts::table.filter(cuts::gym_id.eq(gym.0).and(cuts::class_id.eq(class.0)));
        if here.count().get_result::<i64>(conn)? >= MOST {
            return Err(StoreError::Refused);
        }
        diesel::insert_into(cuts::table)
            .values((
                cuts::gym_id.eq(gym.0),
                cuts::id.eq(Uuid::now_v7()),
                cuts::class_id.eq(class.0),
                cuts::member_id.eq(taken.member.0),
                cuts::block.eq(i32::try_from(taken.block).map_err(|_| StoreError::Refused)?),
                cuts::passed.eq(serde_json::to_value(taken.passed)?),
                cuts::shout.eq(serde_json::to_value(&taken.shout)?),
                cuts::made_by.eq(by),
            ))
            .execute(conn)?;
        judge_again(conn, gym, class, (taken.member, taken.block))
    })
}

/// A result of other work than was foretold is judged by that.
fn judge_again(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    (member, block): (MemberId, u32),
) -> Result<()> {
    let block = i32::try_from(block).map_err(|_| StoreError::Refused)?;
    diesel::update(results::table.find((gym.0, class.0, member.0, block)))
        .set((results::judged.eq(false), results::slot.eq(None::<i16>)))
        .execute(conn)?;
    Ok(())
}

/// Whose results of some classes are of less than was foretold: class, member, block.
pub(crate) fn of_classes(
    conn: &mut PgConnection,
    gym: GymId,
    classes: &[Uuid],
) -> Result<HashSet<(Uuid, Uuid, i32)>> {
    let rows = cuts::table
        .filter(cuts::gym_id.eq(gym.0).and(cuts::class_id.eq_any(classes)).and(cuts::back_at.is_null()))
        .select((cuts::class_id, cuts::member_id, cuts::block))
        .load(conn)?;
    Ok(rows.into_iter().collect())
}

/// Takes back all that was called out to a member in a block; whether there was something.
///
/// # Errors
/// When the database is away.
pub fn take_back(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    (member, block): (MemberId, u32),
) -> Result<bool> {
    conn.transaction(|conn| {
        let at = i32::try_from(block).map_err(|_| StoreError::Refused)?;
        let of = cuts::table
            .filter(cuts::gym_id.eq(gym.0).and(cuts::class_id.eq(class.0)).and(cuts::member_id.eq(member.0)))
            .filter(cuts::block.eq(at).and(cuts::back_at.is_null()));
        let some = diesel::update(of).set(cuts::back_at.eq(Some(Utc::now()))).execute(conn)? > 0;
        judge_again(conn, gym, class, (member, block))?;
        Ok(some)
    })
}
