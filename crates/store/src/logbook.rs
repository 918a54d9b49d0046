//! Results, and the plan that a class was held by.

use crate::error::Result;
use crate::ids::{ClassId, GymId, MemberId};
use crate::schema::{bookings, classes, frozen_plans, results};
use chrono::{NaiveDateTime, Utc};
use diesel::prelude::*;
use lantern_core::logbook::Outcome;
use lantern_core::plan::PlanAnswer;
use lantern_core::roster::Volume;
use lantern_core::versions::Tier;
use uuid::Uuid;

/// A result of one member in one block.
#[derive(Debug, Clone, PartialEq)]
pub struct Logged {
    /// Who.
    pub member: MemberId,
    /// Block of the sheet, from 0.
    pub block: u32,
    /// What they did.
    pub outcome: Outcome,
    /// The version that was really done.
    pub tier: Tier,
    /// The load that was really lifted, kg.
    pub load_kg: Option<f64>,
    /// The coach's words.
    pub note: String,
    /// Reps of each guarded pattern that were done.
    pub volume: Volume,
}

type Columns = (Uuid, i32, serde_json::Value, String, Option<f64>, String, serde_json::Value);

fn of((member, block, outcome, tier, load_kg, note, volume): Columns) -> Result<Logged> {
    Ok(Logged {
        member: MemberId(member),
        block: u32::try_from(block).unwrap_or(0),
        outcome: serde_json::from_value(outcome)?,
        tier: Tier::read(&tier).unwrap_or(Tier::Full),
        load_kg,
        note,
        volume: serde_json::from_value(volume)?,
    })
}

/// Results of a class.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<Logged>> {
    results::table
        .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
        .order((results::logged_at, results::member_id))
        .select((
            results::member_id,
            results::block,
            results::outcome,
            results::tier,
            results::load_kg,
            results::note,
            results::volume,
        ))
        .load::<Columns>(conn)?
        .into_iter()
        .map(of)
        .collect()
}

/// Logs a result, or corrects the one that is there, and freezes the plan that the class was held by if none is yet: a
/// prediction must be older than the result that judges it.
///
/// # Errors
/// `NotFound` when class or member is not this gym's or not booked.
pub fn log(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    logged: &Logged,
    plan: &PlanAnswer,
) -> Result<()> {
    conn.transaction(|conn| {
        // only who is booked has a result: another gym's member fails here too
        bookings::table
            .find((gym.0, class.0, logged.member.0))
            .select(bookings::position)
            .first::<i32>(conn)?;
        let values = (
            results::outcome.eq(serde_json::to_value(logged.outcome)?),
            results::tier.eq(logged.tier.word().to_lowercase()),
            results::load_kg.eq(logged.load_kg),
            results::note.eq(&logged.note),
            results::volume.eq(serde_json::to_value(&logged.volume)?),
            results::logged_at.eq(Utc::now()),
        );
        diesel::insert_into(results::table)
            .values((
                results::gym_id.eq(gym.0),
                results::class_id.eq(class.0),
                results::member_id.eq(logged.member.0),
                results::block.eq(i32::try_from(logged.block).unwrap_or(0)),
                values.clone(),
            ))
            .on_conflict((results::gym_id, results::class_id, results::member_id, results::block))
            .do_update()
            .set(values)
            .execute(conn)?;
        diesel::insert_into(frozen_plans::table)
            .values((
                frozen_plans::gym_id.eq(gym.0),
                frozen_plans::class_id.eq(class.0),
                frozen_plans::body.eq(serde_json::to_value(plan)?),
            ))
            .on_conflict_do_nothing()
            .execute(conn)?;
        Ok(())
    })
}

/// Takes a result back; whether there was one. With the last result goes the frozen plan.
///
/// # Errors
/// When the database is away.
pub fn remove(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    member: MemberId,
    block: u32,
) -> Result<bool> {
    conn.transaction(|conn| {
        let block = i32::try_from(block).unwrap_or(-1);
        let n = diesel::delete(results::table.find((gym.0, class.0, member.0, block))).execute(conn)?;
        let left: i64 = results::table
            .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
            .count()
            .get_result(conn)?;
        if left == 0 {
            diesel::delete(frozen_plans::table.find((gym.0, class.0))).execute(conn)?;
        }
        Ok(n > 0)
    })
}

/// The plan that a class was held by, once a result is logged.
///
/// # Errors
/// When the database is away.
pub fn find_frozen(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Option<PlanAnswer>> {
    let body = frozen_plans::table
        .find((gym.0, class.0))
        .select(frozen_plans::body)
        .first::<serde_json::Value>(conn)
        .optional()?;
    body.map(|v| Ok(serde_json::from_value(v)?)).transpose()
}

/// A held class with its plan and results.
#[derive(Debug, Clone, PartialEq)]
pub struct Held {
    /// Which.
    pub class: ClassId,
    /// When.
    pub starts_at: NaiveDateTime,
    /// The frozen plan.
    pub plan: PlanAnswer,
    /// Its results.
    pub results: Vec<Logged>,
}

/// Every class of a gym that has results, oldest first.
///
/// # Errors
/// When the database is away.
pub fn held(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Held>> {
    let frozen = frozen_plans::table
        .inner_join(
            classes::table
                .on(classes::gym_id.eq(frozen_plans::gym_id).and(classes::id.eq(frozen_plans::class_id))),
        )
        .filter(frozen_plans::gym_id.eq(gym.0))
        .order((classes::starts_at, classes::id))
        .select((classes::id, classes::starts_at, frozen_plans::body))
        .load::<(Uuid, NaiveDateTime, serde_json::Value)>(conn)?;
    let mut out = Vec::with_capacity(frozen.len());
    for (id, starts_at, body) in frozen {
        let class = ClassId(id);
        out.push(Held {
            class,
            starts_at,
            plan: serde_json::from_value(body)?,
            results: list(conn, gym, class)?,
        });
    }
    Ok(out)
}

/// Drills of the gym's last three held classes, so that the next warm-up differs.
///
/// # Errors
/// When the database is away.
pub fn recent_drills(conn: &mut PgConnection, gym: GymId, before: NaiveDateTime) -> Result<Vec<String>> {
    let plans = frozen_plans::table
        .inner_join(
            classes::table
                .on(classes::gym_id.eq(frozen_plans::gym_id).and(classes::id.eq(frozen_plans::class_id))),
        )
        .filter(frozen_plans::gym_id.eq(gym.0).and(classes::starts_at.lt(before)))
        .order(classes::starts_at.desc())
        .limit(3)
        .select(frozen_plans::body)
        .load::<serde_json::Value>(conn)?;
    let mut out = Vec::new();
    for body in plans {
        let plan: PlanAnswer = serde_json::from_value(body)?;
        out.extend(plan.warm_up.into_iter().filter_map(|d| d.drill));
    }
    Ok(out)
}
