//! Classes: a session at an hour with a coach and booked members, and the wall's clock.

use crate::booking;
use crate::clock::Wall;
use crate::error::{Result, StoreError};
use crate::ids::{AccountId, ClassId, GymId, MemberId, SessionId};
use crate::schema::{accounts, bookings, classes, frozen_plans, results, sessions};
use chrono::{DateTime, NaiveDateTime, Utc};
use diesel::prelude::*;
use std::collections::HashMap;
use uuid::Uuid;

/// A class.
#[derive(Debug, Clone, PartialEq)]
pub struct Class {
    /// Key.
    pub id: ClassId,
    /// What is done.
    pub session: SessionId,
    /// Local time.
    pub starts_at: NaiveDateTime,
    /// s; the sheet's or the gym's without.
    pub length_s: Option<u32>,
    /// Who coaches.
    pub coach: Option<String>,
    /// Seed of its forecasts.
    pub seed: u64,
    /// What the walls show, with their clocks.
    pub wall: Wall,
    /// Key of its coach's account.
    pub coach_id: Option<AccountId>,
    /// It does not take place.
    pub cancelled: bool,
    /// Members who can be booked; as many as like without.
    pub places: Option<u32>,
}

/// A class in a list.
#[derive(Debug, Clone, PartialEq)]
pub struct Listed {
    /// The class.
    pub class: Class,
    /// Its sheet.
    pub sheet: String,
    /// Members with a place.
    pub booked: u32,
    /// Members who wait for one.
    pub waiting: u32,
    /// Members of whom a result is logged.
    pub logged: u32,
}

/// When a class is, how long, for how many and by whom.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Hour {
    /// Local time.
    pub starts_at: NaiveDateTime,
    /// s.
    pub length_s: Option<u32>,
    /// Members who can be booked; as many as like without.
    pub places: Option<u32>,
    /// Who coaches.
    pub coach: Option<AccountId>,
}

/// When and for whom a class is made.
#[derive(Debug, Clone, PartialEq)]
pub struct NewClass {
    /// What is done.
    pub session: SessionId,
    /// Local time.
    pub starts_at: NaiveDateTime,
    /// s.
    pub length_s: Option<u32>,
    /// Members who can be booked; as many as like without.
    pub places: Option<u32>,
    /// Who coaches.
    pub coach: Option<AccountId>,
    /// In the order of sign-up.
    pub booked: Vec<MemberId>,
}

/// A number as it is kept.
fn number(n: Option<u32>) -> Option<i32> {
    n.and_then(|n| i32::try_from(n).ok())
}

/// The session of a day's classes that were made from the timetable.
///
/// # Errors
/// When the database is away.
pub(crate) fn of_timetable(
    conn: &mut PgConnection,
    gym: GymId,
    day: chrono::NaiveDate,
) -> Result<Option<SessionId>> {
    let found = classes::table
        .filter(classes::gym_id.eq(gym.0).and(classes::regular_on.eq(day)))
        .order((classes::starts_at, classes::id))
        .select(classes::session_id)
        .first::<Uuid>(conn)
        .optional()?;
    Ok(found.map(SessionId))
}

/// Adds a class with its bookings.
///
/// # Errors
/// `NotFound` when session, coach or a member is not this gym's.
pub fn add(conn: &mut PgConnection, gym: GymId, new: &NewClass) -> Result<ClassId> {
    let id = ClassId::fresh();
    conn.transaction(|conn| {
        diesel::insert_into(classes::table)
            .values((
                classes::gym_id.eq(gym.0),
                classes::id.eq(id.0),
                classes::session_id.eq(new.session.0),
                classes::starts_at.eq(new.starts_at),
                classes::length_s.eq(number(new.length_s)),
                classes::coach_id.eq(new.coach.map(|c| c.0)),
                classes::places.eq(number(new.places)),
                classes::seed.eq(1),
            ))
            .execute(conn)?;
        booking::book(conn, gym, id, &new.booked)
    })?;
    Ok(id)
}

/// Changes when a class is, how long and by whom.
///
/// # Errors
/// `NotFound` when class or coach is not this gym's.
pub fn change_hour(conn: &mut PgConnection, gym: GymId, id: ClassId, to: &Hour) -> Result<()> {
    if let Some(coach) = to.coach {
        accounts::table.find((gym.0, coach.0)).select(accounts::id).first::<Uuid>(conn)?;
    }
    conn.transaction(|conn| {
        let n = diesel::update(classes::table.find((gym.0, id.0)))
            .set((
                classes::starts_at.eq(to.starts_at),
                classes::length_s.eq(number(to.length_s)),
                classes::places.eq(number(to.places)),
                classes::coach_id.eq(to.coach.map(|c| c.0)),
            ))
            .execute(conn)?;
        if n == 0 {
            return Err(StoreError::NotFound);
        }
        // the days on which members trained move with it
        let trained = results::table.filter(results::gym_id.eq(gym.0).and(results::class_id.eq(id.0)));
        diesel::update(trained).set(results::on_date.eq(to.starts_at.date())).execute(conn)?;
        Ok(())
    })
}

/// Cancels a class, or lets it take place after all; all that is its own stays.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn cancel(conn: &mut PgConnection, gym: GymId, id: ClassId, cancelled: bool) -> Result<()> {
    let n = diesel::update(classes::table.find((gym.0, id.0)))
        .set(classes::cancelled_at.eq(cancelled.then(Utc::now)))
        .execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Repeats a class in the weeks after it, without a sheet: the same hour, length, coach and members.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn repeat(conn: &mut PgConnection, gym: GymId, id: ClassId, weeks: u8) -> Result<Vec<ClassId>> {
    let day = find(conn, gym, id)?.starts_at.date();
    conn.transaction(|conn| {
        let week = |n: u8| day + chrono::Duration::weeks(i64::from(n));
        (1..=weeks).map(|n| copy(conn, gym, id, week(n), "")).collect()
    })
}

/// Makes a class on another day from one: the same hour, length, coach and bookings, with a sheet of its own.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn copy(
    conn: &mut PgConnection,
    gym: GymId,
    id: ClassId,
    day: chrono::NaiveDate,
    sheet: &str,
) -> Result<ClassId> {
    let from = find(conn, gym, id)?;
    let booked = booking::sign_ups(conn, gym, id)?.into_iter().map(|b| b.member).collect();
    conn.transaction(|conn| {
        let session = crate::sheet::add(conn, gym, day, sheet)?;
        let new = NewClass {
            session,
            starts_at: day.and_time(from.starts_at.time()),
            length_s: from.length_s,
            places: from.places,
            coach: from.coach_id,
            booked,
        };
        add(conn, gym, &new)
    })
}

/// What a class is read from: its row and its coach's name.
macro_rules! columns {
    () => {
        (
            classes::id,
            classes::session_id,
            classes::starts_at,
            classes::length_s,
            accounts::name.nullable(),
            classes::seed,
            (classes::clock_started_at, classes::clock_paused_at, classes::wall_stage, classes::stage_clocks),
            classes::coach_id,
            classes::cancelled_at,
            classes::places,
        )
    };
}

type Moment = Option<DateTime<Utc>>;
type Columns = (
    Uuid,
    Uuid,
    NaiveDateTime,
    Option<i32>,
    Option<String>,
    i64,
    (Moment, Moment, Option<String>, serde_json::Value),
    Option<Uuid>,
    Moment,
    Option<i32>,
);

fn of((id, session, starts_at, length, coach, seed, clock, coach_id, cancelled, places): Columns) -> Class {
    Class {
        id: ClassId(id),
        session: SessionId(session),
        starts_at,
        length_s: length.and_then(|s| u32::try_from(s).ok()),
        coach,
        seed: seed.unsigned_abs(),
        wall: Wall::of(clock),
        coach_id: coach_id.map(AccountId),
        cancelled: cancelled.is_some(),
        places: places.and_then(|n| u32::try_from(n).ok()),
    }
}

/// One class.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, id: ClassId) -> Result<Class> {
    let row = classes::table
        .left_join(
            accounts::table
                .on(accounts::gym_id.eq(classes::gym_id).and(accounts::id.nullable().eq(classes::coach_id))),
        )
        .filter(classes::gym_id.eq(gym.0).and(classes::id.eq(id.0)))
        .select(columns!())
        .first::<Columns>(conn)?;
    Ok(of(row))
}

/// Classes that start in a span of time, in its order.
///
/// # Errors
/// When the database is away.
pub fn list(
    conn: &mut PgConnection,
    gym: GymId,
    from: NaiveDateTime,
    to: NaiveDateTime,
) -> Result<Vec<Listed>> {
    let rows = classes::table
        .inner_join(
            sessions::table
                .on(sessions::gym_id.eq(classes::gym_id).and(sessions::id.eq(classes::session_id))),
        )
        .left_join(
            accounts::table
                .on(accounts::gym_id.eq(classes::gym_id).and(accounts::id.nullable().eq(classes::coach_id))),
        )
        .filter(classes::gym_id.eq(gym.0).and(classes::starts_at.ge(from)).and(classes::starts_at.lt(to)))
        .order((classes::starts_at, classes::id))
        .select((columns!(), sessions::sheet))
        .load::<(Columns, String)>(conn)?;
    let ids: Vec<Uuid> = rows.iter().map(|(c, _)| c.0).collect();
    let booked: HashMap<Uuid, i64> = bookings::table
        .filter(bookings::gym_id.eq(gym.0).and(bookings::class_id.eq_any(&ids)))
        .group_by(bookings::class_id)
        .select((bookings::class_id, diesel::dsl::count_star()))
        .load(conn)?
        .into_iter()
        .collect();
    let logged: HashMap<Uuid, i64> = results::table
        .filter(results::gym_id.eq(gym.0).and(results::class_id.eq_any(&ids)))
        .group_by(results::class_id)
        .select((results::class_id, diesel::dsl::count(results::member_id).aggregate_distinct()))
        .load(conn)?
        .into_iter()
        .collect();
    // a class that was held is called what it was held by
    let held: HashMap<Uuid, Option<String>> = frozen_plans::table
        .filter(frozen_plans::gym_id.eq(gym.0).and(frozen_plans::class_id.eq_any(&ids)))
        .select((frozen_plans::class_id, frozen_plans::inputs.retrieve_as_text("sheet")))
        .load(conn)?
        .into_iter()
        .collect();
    let count =
        |m: &HashMap<Uuid, i64>, id: &Uuid| m.get(id).and_then(|n| u32::try_from(*n).ok()).unwrap_or(0);
    Ok(rows
        .into_iter()
        .map(|(c, sheet)| {
            let (all, logged) = (count(&booked, &c.0), count(&logged, &c.0));
            let sheet = held.get(&c.0).cloned().flatten().unwrap_or(sheet);
            let class = of(c);
            let booked = class.places.map_or(all, |n| n.min(all));
            Listed { booked, waiting: all - booked, logged, sheet, class }
        })
        .collect())
}

/// Removes a class with its bookings, decisions and results.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn remove(conn: &mut PgConnection, gym: GymId, id: ClassId) -> Result<()> {
    let n = diesel::delete(classes::table.find((gym.0, id.0))).execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}
