//! The classes of every week, and the weeks that are made from them.

use crate::class::{self, NewClass};
use crate::error::{Result, StoreError};
use crate::ids::{AccountId, ClassId, GymId, RegularId};
use crate::schema::{accounts, bookings, classes, regular_classes};
use chrono::{Duration, NaiveDate, NaiveDateTime, NaiveTime, Weekday};
use diesel::prelude::*;
use lantern_core::timetable::Regular;
use uuid::Uuid;

/// A class of every week as it is kept.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Kept {
    /// Key.
    pub id: RegularId,
    /// When it is held.
    pub class: Regular,
    /// Who coaches.
    pub coach: Option<AccountId>,
    /// Their name.
    pub coach_name: Option<String>,
}

type Columns = (
    Uuid,
    i16,
    NaiveTime,
    Option<i32>,
    Option<i32>,
    NaiveDate,
    Option<NaiveDate>,
    Option<Uuid>,
    Option<String>,
);

fn of((id, weekday, at, length, places, from, until, coach, coach_name): Columns) -> Result<Kept> {
    let weekday = u8::try_from(weekday).ok().and_then(|d| Weekday::try_from(d).ok());
    let weekday =
        weekday.ok_or_else(|| StoreError::Failed("a regular class has no day of the week".to_owned()))?;
    let number = |n: Option<i32>| n.and_then(|n| u32::try_from(n).ok());
    let class = Regular { weekday, at, length_s: number(length), places: number(places), from, until };
    Ok(Kept { id: RegularId(id), class, coach: coach.map(AccountId), coach_name })
}

/// Regular classes that are held after a day, by day of the week and hour.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, after: NaiveDate) -> Result<Vec<Kept>> {
    let rows = regular_classes::table
        .left_join(
            accounts::table.on(accounts::gym_id
                .eq(regular_classes::gym_id)
                .and(accounts::id.nullable().eq(regular_classes::coach_id))),
        )
        .filter(regular_classes::gym_id.eq(gym.0))
        .filter(regular_classes::until_day.is_null().or(regular_classes::until_day.ge(after)))
        .order((regular_classes::weekday, regular_classes::at, regular_classes::id))
        .select((
            regular_classes::id,
            regular_classes::weekday,
            regular_classes::at,
            regular_classes::length_s,
            regular_classes::places,
            regular_classes::from_day,
            regular_classes::until_day,
            regular_classes::coach_id,
            accounts::name.nullable(),
        ))
        .load::<Columns>(conn)?;
    rows.into_iter().map(of).collect()
}

/// Adds a regular class.
///
/// # Errors
/// `NotFound` for a coach of another gym; `Refused` for figures outside their range.
pub fn add(
    conn: &mut PgConnection,
    gym: GymId,
    new: &Regular,
    coach: Option<AccountId>,
) -> Result<RegularId> {
    if let Some(coach) = coach {
        crate::account::email(conn, gym, coach)?;
    }
    let (id, number) = (RegularId::fresh(), |n: Option<u32>| n.and_then(|n| i32::try_from(n).ok()));
    diesel::insert_into(regular_classes::table)
        .values((
            regular_classes::gym_id.eq(gym.0),
            regular_classes::id.eq(id.0),
            regular_classes::weekday.eq(i16::try_from(new.weekday.num_days_from_monday()).unwrap_or(0)),
            regular_classes::at.eq(new.at),
            regular_classes::length_s.eq(number(new.length_s)),
            regular_classes::places.eq(number(new.places)),
            regular_classes::coach_id.eq(coach.map(|c| c.0)),
            regular_classes::from_day.eq(new.from),
            regular_classes::until_day.eq(new.until),
        ))
        .execute(conn)?;
    Ok(id)
}

/// Ends a regular class with a day, which is its last; classes that were made from it stay.
///
/// # Errors
/// `NotFound` for a regular class of another gym.
pub fn end(conn: &mut PgConnection, gym: GymId, id: RegularId, last: NaiveDate) -> Result<()> {
    let n = diesel::update(regular_classes::table.find((gym.0, id.0)))
        .set(regular_classes::until_day.eq(Some(last)))
        .execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Classes of the seven days from one on that are not made yet, later than a moment, in the order in which they start.
///
/// # Errors
/// When the database is away.
pub fn due(
    conn: &mut PgConnection,
    gym: GymId,
    first: NaiveDate,
    now: NaiveDateTime,
) -> Result<Vec<(Kept, NaiveDateTime)>> {
    let from = first.and_time(NaiveTime::MIN);
    let made = classes::table
        .filter(classes::gym_id.eq(gym.0))
        .filter(classes::starts_at.ge(from).and(classes::starts_at.lt(from + Duration::days(7))).or(
            // one that was moved out of its week is made too
            classes::regular_on.ge(first).and(classes::regular_on.lt(first + Duration::days(7))),
        ))
        .select((
            classes::starts_at,
            classes::regular_id,
            classes::regular_on,
            classes::cancelled_at.is_null(),
        ))
        .load::<(NaiveDateTime, Option<Uuid>, Option<NaiveDate>, bool)>(conn)?;
    let there = |k: &Kept, at: NaiveDateTime| {
        made.iter().any(|(starts, regular, on, stands)| match regular {
            Some(r) => *r == k.id.0 && *on == Some(at.date()),
            // one made by hand at this hour stands for it
            None => *stands && *starts == at,
        })
    };
    let all = list(conn, gym, first)?.into_iter().filter_map(|k| Some((k.class.in_week(first)?, k)));
    let mut due: Vec<_> = all.filter(|(at, k)| *at > now && !there(k, *at)).map(|(at, k)| (k, at)).collect();
    due.sort_by_key(|(k, at)| (*at, k.id));
    Ok(due)
}

/// Makes the classes that are due in the seven days from one on. Those of one day do one session: its sheet is written once.
///
/// # Errors
/// When the database is away.
pub fn make_week(
    conn: &mut PgConnection,
    gym: GymId,
    first: NaiveDate,
    now: NaiveDateTime,
) -> Result<Vec<ClassId>> {
    conn.transaction(|conn| {
        // two who press at once: the second finds what the first made
        crate::gym::hold(conn, gym)?;
        let mut out = Vec::new();
        for (k, at) in due(conn, gym, first, now)? {
            let session = match class::of_timetable(conn, gym, at.date())? {
                Some(session) => session,
                None => crate::sheet::add(conn, gym, at.date(), "")?,
            };
            let new = NewClass {
                session,
                starts_at: at,
                length_s: k.class.length_s,
                places: k.class.places,
                coach: k.coach,
                booked: Vec::new(),
            };
            let id = class::add(conn, gym, &new)?;
            diesel::update(classes::table.find((gym.0, id.0)))
                .set((classes::regular_id.eq(Some(k.id.0)), classes::regular_on.eq(Some(at.date()))))
                .execute(conn)?;
            out.push(id);
        }
        Ok(out)
    })
}

/// Classes that took place in a span of time, with how many signed up and the places, by their start.
///
/// # Errors
/// When the database is away.
pub fn filled(
    conn: &mut PgConnection,
    gym: GymId,
    from: NaiveDateTime,
    to: NaiveDateTime,
) -> Result<Vec<(NaiveDateTime, u32, Option<u32>)>> {
    let rows = classes::table
        .left_join(
            bookings::table.on(bookings::gym_id.eq(classes::gym_id).and(bookings::class_id.eq(classes::id))),
        )
        .filter(classes::gym_id.eq(gym.0).and(classes::starts_at.ge(from)).and(classes::starts_at.lt(to)))
        .filter(classes::cancelled_at.is_null())
        .group_by((classes::id, classes::starts_at, classes::places))
        .order((classes::starts_at, classes::id))
        .select((classes::starts_at, diesel::dsl::count(bookings::member_id.nullable()), classes::places))
        .load::<(NaiveDateTime, i64, Option<i32>)>(conn)?;
    let number = |n: i32| u32::try_from(n).ok();
    Ok(rows
        .into_iter()
        .map(|(at, n, places)| (at, u32::try_from(n).unwrap_or(0), places.and_then(number)))
        .collect())
}
