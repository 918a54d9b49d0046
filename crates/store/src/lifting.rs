//! Sets as they were lifted, and what a member lifted before.

use crate::error::Result;
use crate::ids::{ClassId, GymId, MemberId};
use crate::schema::{bookings, classes, lifted_sets as sets};
use chrono::{DateTime, NaiveDate, NaiveDateTime, Utc};
use diesel::dsl::max;
use diesel::prelude::*;
use lantern_core::loads::Attempt;
use std::collections::HashMap;
use uuid::Uuid;

/// Where a set belongs: the lift of a class and its number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Place {
    /// Who.
    pub member: MemberId,
    /// Block of the sheet, from 0.
    pub block: u32,
    /// Lift of the block, from 0.
    pub lift: u32,
    /// Set, from 1.
    pub number: u32,
}

/// A set as it went.
#[derive(Debug, Clone, PartialEq)]
pub struct LiftedSet {
    /// Where it belongs.
    pub place: Place,
    /// Catalogue id of what was lifted.
    pub movement: String,
    /// How it went.
    pub went: Attempt,
}

type Columns = (Uuid, i32, i32, i32, String, f64, i32, Option<i32>, bool);

fn whole(n: i32) -> u32 {
    u32::try_from(n).unwrap_or(0)
}

fn db(n: u32) -> i32 {
    i32::try_from(n).unwrap_or(-1)
}

fn attempt(kg: f64, reps: i32, reserve: Option<i32>, missed: bool) -> Attempt {
    Attempt { kg, reps: whole(reps), reserve: reserve.map(whole), missed }
}

/// Sets logged in a class, in the order of their numbers.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<LiftedSet>> {
    let rows = sets::table
        .filter(sets::gym_id.eq(gym.0).and(sets::class_id.eq(class.0)))
        .order((sets::block, sets::lift, sets::member_id, sets::number))
        .select((
            sets::member_id,
            sets::block,
            sets::lift,
            sets::number,
            sets::movement,
            sets::kg,
            sets::reps,
            sets::reserve,
            sets::missed,
        ))
        .load::<Columns>(conn)?;
    Ok(rows
        .into_iter()
        .map(|(member, block, lift, number, movement, kg, reps, reserve, missed)| LiftedSet {
            place: Place {
                member: MemberId(member),
                block: whole(block),
                lift: whole(lift),
                number: whole(number),
            },
            movement,
            went: attempt(kg, reps, reserve, missed),
        })
        .collect())
}

/// When each member's last set of each lift was logged: (member, block, lift).
///
/// # Errors
/// When the database is away.
pub fn last_at(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
) -> Result<HashMap<(MemberId, u32, u32), DateTime<Utc>>> {
    let rows = sets::table
        .filter(sets::gym_id.eq(gym.0).and(sets::class_id.eq(class.0)))
        .group_by((sets::member_id, sets::block, sets::lift))
        .select((sets::member_id, sets::block, sets::lift, max(sets::logged_at)))
        .load::<(Uuid, i32, i32, Option<DateTime<Utc>>)>(conn)?;
    let of = |(member, block, lift, at)| Some(((MemberId(member), whole(block), whole(lift)), at?));
    Ok(rows.into_iter().filter_map(of).collect())
}

/// Logs a set, or corrects the one that is there.
///
/// # Errors
/// `NotFound` when class or member is not this gym's or not booked; `Refused` for figures outside their range.
pub fn log(conn: &mut PgConnection, gym: GymId, class: ClassId, set: &LiftedSet) -> Result<()> {
    let p = set.place;
    conn.transaction(|conn| {
        // only who is booked lifts: another gym's member fails here too
        bookings::table.find((gym.0, class.0, p.member.0)).select(bookings::position).first::<i32>(conn)?;
        let values = (
            sets::movement.eq(&set.movement),
            sets::kg.eq(set.went.kg),
            sets::reps.eq(db(set.went.reps)),
            sets::reserve.eq(set.went.reserve.map(db)),
            sets::missed.eq(set.went.missed),
            sets::logged_at.eq(Utc::now()),
        );
        diesel::insert_into(sets::table)
            .values((
                sets::gym_id.eq(gym.0),
                sets::class_id.eq(class.0),
                sets::member_id.eq(p.member.0),
                sets::block.eq(db(p.block)),
                sets::lift.eq(db(p.lift)),
                sets::number.eq(db(p.number)),
                values,
            ))
            .on_conflict((
                sets::gym_id,
                sets::class_id,
                sets::member_id,
                sets::block,
                sets::lift,
                sets::number,
            ))
            .do_update()
            .set(values)
            .execute(conn)?;
        Ok(())
    })
}

/// Takes a set back with those after it; whether there was one.
///
/// # Errors
/// When the database is away.
pub fn take_back(conn: &mut PgConnection, gym: GymId, class: ClassId, p: Place) -> Result<bool> {
    let n = diesel::delete(
        sets::table
            .filter(sets::gym_id.eq(gym.0).and(sets::class_id.eq(class.0)))
            .filter(sets::member_id.eq(p.member.0).and(sets::block.eq(db(p.block))))
            .filter(sets::lift.eq(db(p.lift)).and(sets::number.ge(db(p.number)))),
    )
    .execute(conn)?;
    Ok(n > 0)
}

/// The day of a lift and how its heaviest set went.
#[derive(Debug, Clone, PartialEq)]
pub struct Lifted {
    /// When.
    pub date: NaiveDate,
    /// Its heaviest finished set; the heaviest missed one when none was finished.
    pub went: Attempt,
}

/// What each member lifted of a movement, day after day, the newest last. `before`: only classes that start before.
///
/// # Errors
/// When the database is away.
pub fn history(
    conn: &mut PgConnection,
    gym: GymId,
    members: &[MemberId],
    movement: &str,
    before: NaiveDateTime,
) -> Result<HashMap<MemberId, Vec<Lifted>>> {
    let ids: Vec<Uuid> = members.iter().map(|m| m.0).collect();
    let rows = sets::table
        .inner_join(classes::table.on(classes::gym_id.eq(sets::gym_id).and(classes::id.eq(sets::class_id))))
        .filter(sets::gym_id.eq(gym.0).and(sets::movement.eq(movement)))
        .filter(sets::member_id.eq_any(ids).and(classes::starts_at.lt(before)))
        .order((classes::starts_at, sets::missed.desc(), sets::kg, sets::number))
        .select((sets::member_id, classes::starts_at, sets::kg, sets::reps, sets::reserve, sets::missed))
        .load::<(Uuid, NaiveDateTime, f64, i32, Option<i32>, bool)>(conn)?;
    let mut out: HashMap<MemberId, Vec<Lifted>> = HashMap::new();
    for (member, at, kg, reps, reserve, missed) in rows {
        let days = out.entry(MemberId(member)).or_default();
        let lifted = Lifted { date: at.date(), went: attempt(kg, reps, reserve, missed) };
        // ordered so that the heaviest finished set of a day comes last
        match days.last_mut() {
            Some(last) if last.date == lifted.date => *last = lifted,
            _ => days.push(lifted),
        }
    }
    Ok(out)
}

/// Movements of which a member has logged sets.
///
/// # Errors
/// When the database is away.
pub fn movements(conn: &mut PgConnection, gym: GymId, member: MemberId) -> Result<Vec<String>> {
    Ok(sets::table
        .filter(sets::gym_id.eq(gym.0).and(sets::member_id.eq(member.0)))
        .select(sets::movement)
        .distinct()
        .order(sets::movement)
        .load(conn)?)
}

/// Days between two dates on which a movement was lifted by anybody.
///
/// # Errors
/// When the database is away.
pub fn days_of(
    conn: &mut PgConnection,
    gym: GymId,
    movement: &str,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<Vec<NaiveDate>> {
    let (from, to) =
        (from.and_hms_opt(0, 0, 0).unwrap_or_default(), to.and_hms_opt(23, 59, 59).unwrap_or_default());
    let rows = sets::table
        .inner_join(classes::table.on(classes::gym_id.eq(sets::gym_id).and(classes::id.eq(sets::class_id))))
        .filter(sets::gym_id.eq(gym.0).and(sets::movement.eq(movement)))
        .filter(classes::starts_at.between(from, to))
        .select(classes::starts_at)
        .distinct()
        .order(classes::starts_at)
        .load::<NaiveDateTime>(conn)?;
    let mut days: Vec<NaiveDate> = rows.into_iter().map(|t| t.date()).collect();
    days.dedup();
    Ok(days)
}
