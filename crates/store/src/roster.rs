//! Members with everything known about them.

use crate::error::{Result, StoreError};
use crate::ids::{GymId, MemberId};
use crate::schema::{bests, bookings, classes, limits, maxes, members, result_changes, results, trials};
use chrono::{Days, NaiveDate, NaiveDateTime, NaiveTime, Utc};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Date, Nullable, Uuid as SqlUuid};
use lantern_core::kinds::Limit;
use lantern_core::pacing::Level;
use lantern_core::roster::{Best, Max, Member, Session, Trial};
use lantern_core::units::Standard;
use std::collections::HashMap;
use uuid::Uuid;

/// Days of the log that a member comes with; the guards look at fewer.
const SESSIONS_DAYS: u64 = 60;

#[derive(Queryable, Selectable, Insertable, AsChangeset)]
#[diesel(table_name = members)]
#[diesel(treat_none_as_null = true)]
struct Row {
    gym_id: Uuid,
    id: Uuid,
    name: String,
    standard: String,
    level: String,
    body_mass_kg: Option<f64>,
    stature_cm: Option<f64>,
    sessions_before: i32,
    hooks: Option<i32>,
}

/// Members of a gym by name, with lifts, best sets, trials, limits and on how many days they have results; those who left are not
/// among them.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Member>> {
    list_before(conn, gym, NaiveDate::MAX)
}

/// The same as it is known before a day: what is logged on it or later is not counted.
///
/// # Errors
/// When the database is away.
pub fn list_before(conn: &mut PgConnection, gym: GymId, day: NaiveDate) -> Result<Vec<Member>> {
    let rows = members::table
        .filter(members::gym_id.eq(gym.0).and(members::left_on.is_null()))
        .order(members::name)
        .select(Row::as_select())
        .load(conn)?;
    whole(conn, gym, rows, day)
}

/// Some members as they are known before a day, in no order; those who left are not among them.
///
/// # Errors
/// When the database is away.
pub fn of(conn: &mut PgConnection, gym: GymId, ids: &[MemberId], day: NaiveDate) -> Result<Vec<Member>> {
    let ids: Vec<Uuid> = ids.iter().map(|m| m.0).collect();
    let rows = members::table
        .filter(members::gym_id.eq(gym.0).and(members::id.eq_any(ids)).and(members::left_on.is_null()))
        .select(Row::as_select())
        .load(conn)?;
    whole(conn, gym, rows, day)
}

/// Members who left, by name, and when.
///
/// # Errors
/// When the database is away.
pub fn left(conn: &mut PgConnection, gym: GymId) -> Result<Vec<(MemberId, String, NaiveDate)>> {
    let rows = members::table
        .filter(members::gym_id.eq(gym.0))
        .filter(members::left_on.is_not_null())
        .order(members::name)
        .select((members::id, members::name, members::left_on.assume_not_null()))
        .load::<(Uuid, String, NaiveDate)>(conn)?;
    Ok(rows.into_iter().map(|(id, name, on)| (MemberId(id), name, on)).collect())
}

/// The standard of everybody who is or was a member.
///
/// # Errors
/// When the database is away.
pub fn standards(conn: &mut PgConnection, gym: GymId) -> Result<HashMap<String, Standard>> {
    let rows = members::table
        .filter(members::gym_id.eq(gym.0))
        .select((members::id, members::standard))
        .load::<(Uuid, String)>(conn)?;
    Ok(rows.into_iter().map(|(id, s)| (id.to_string(), standard(&s))).collect())
}

/// One member.
///
/// # Errors
/// `NotFound` for a member of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, id: MemberId) -> Result<Member> {
    let row = members::table.find((gym.0, id.0)).select(Row::as_select()).first(conn)?;
    whole(conn, gym, vec![row], NaiveDate::MAX)?.into_iter().next().ok_or(StoreError::NotFound)
}

/// Results of some members in classes that start before a moment.
macro_rules! held {
    ($gym:expr, $ids:expr, $until:expr) => {
        results::table
            .inner_join(
                classes::table.on(classes::gym_id.eq(results::gym_id).and(classes::id.eq(results::class_id))),
            )
            .filter(results::gym_id.eq($gym.0).and(results::member_id.eq_any($ids)))
            .filter(classes::starts_at.lt($until))
    };
}

/// Rows with all that hangs on them.
fn whole(conn: &mut PgConnection, gym: GymId, rows: Vec<Row>, day: NaiveDate) -> Result<Vec<Member>> {
    let ids: Vec<Uuid> = rows.iter().map(|r| r.id).collect();
    let until = day.and_time(NaiveTime::MIN);
    let days = days(conn, gym, &ids, day)?;
    let before: HashMap<Uuid, i32> = rows.iter().map(|r| (r.id, r.sessions_before)).collect();
    let mut out: Vec<Member> = rows.into_iter().map(of_row).collect();
    let position: HashMap<Uuid, usize> = ids.iter().enumerate().map(|(i, id)| (*id, i)).collect();
    let mut with = |id: Uuid, f: &mut dyn FnMut(&mut Member)| {
        if let Some(m) = position.get(&id).and_then(|i| out.get_mut(*i)) {
            f(m);
        }
    };
    let all = maxes::table
        .filter(maxes::gym_id.eq(gym.0).and(maxes::member_id.eq_any(&ids)))
        .order((maxes::lift, maxes::on_date.desc(), maxes::id))
        .select((maxes::member_id, maxes::lift, maxes::kg, maxes::reps, maxes::reserve, maxes::on_date))
        .load::<(Uuid, String, f64, i32, i32, Option<NaiveDate>)>(conn)?;
    for (id, lift, kg, reps, reserve, date) in all {
        let (reps, reserve) = (u32::try_from(reps).unwrap_or(1), u32::try_from(reserve).unwrap_or(0));
        with(id, &mut |m| m.maxes.push(Max { lift: lift.clone(), kg, reps, reserve, date }));
    }
    let all = bests::table
        .filter(bests::gym_id.eq(gym.0).and(bests::member_id.eq_any(&ids)))
        .order((bests::movement, bests::id))
        .select((bests::member_id, bests::movement, bests::reps, bests::on_date))
        .load::<(Uuid, String, f64, Option<NaiveDate>)>(conn)?;
    for (id, movement, reps, date) in all {
        with(id, &mut |m| m.unbroken.push(Best { movement: movement.clone(), reps, date }));
    }
    let all = trials::table
        .filter(trials::gym_id.eq(gym.0).and(trials::member_id.eq_any(&ids)))
        .order((trials::test, trials::id))
        .select((trials::member_id, trials::test, trials::seconds, trials::on_date))
        .load::<(Uuid, String, f64, Option<NaiveDate>)>(conn)?;
    for (id, test, seconds, date) in all {
        with(id, &mut |m| m.trials.push(Trial { test: test.clone(), seconds, date }));
    }
    let all = limits::table
        .filter(limits::gym_id.eq(gym.0).and(limits::member_id.eq_any(&ids)))
        .order(limits::spares)
        .select((limits::member_id, limits::spares))
        .load::<(Uuid, String)>(conn)?;
    for (id, spares) in all {
        // a limit that nobody knows any more must not be passed over in silence
        let limit = Limit::from_word(&spares).ok_or_else(|| {
            StoreError::Failed(format!("a member spares “{spares}”, which this version does not know"))
        })?;
        with(id, &mut |m| m.limits.push(limit));
    }
    sessions(conn, (gym, until), &ids, &mut with)?;
    for (id, i) in &position {
        let (logged, last) = days.get(id).copied().unwrap_or_default();
        let n = logged + i64::from(before.get(id).copied().unwrap_or(0));
        if let Some(m) = out.get_mut(*i) {
            m.sessions_logged = Some(u32::try_from(n).unwrap_or(0));
            m.last_session = last;
        }
    }
    Ok(out)
}

/// How many days each member trained before a day, and the last of them: two workouts of a day are one session.
fn days(
    conn: &mut PgConnection,
    gym: GymId,
    ids: &[Uuid],
    before: NaiveDate,
) -> Result<HashMap<Uuid, (i64, Option<NaiveDate>)>> {
    // the days since are few, however many there were before: the index is read from its end
    let rows = diesel::sql_query(
        "SELECT id, days - (SELECT count(*) FROM member_days d WHERE d.gym_id = $1 AND d.member_id = m.id \
         AND d.on_date >= $3) AS n, (SELECT max(on_date) FROM member_days d WHERE d.gym_id = $1 \
         AND d.member_id = m.id AND d.on_date < $3) AS last FROM members m WHERE gym_id = $1 AND id = ANY($2)",
    )
    .bind::<SqlUuid, _>(gym.0)
    .bind::<Array<SqlUuid>, _>(ids)
    .bind::<Date, _>(before)
    .load::<DaysRow>(conn)?;
    Ok(rows.into_iter().map(|r| (r.id, (r.n, r.last))).collect())
}

/// A row of [`days`].
#[derive(QueryableByName)]
struct DaysRow {
    #[diesel(sql_type = SqlUuid)]
    id: Uuid,
    #[diesel(sql_type = BigInt)]
    n: i64,
    #[diesel(sql_type = Nullable<Date>)]
    last: Option<NaiveDate>,
}

/// Sessions of the weeks before a moment with what they held, one for each day.
fn sessions(
    conn: &mut PgConnection,
    (gym, until): (GymId, NaiveDateTime),
    ids: &[Uuid],
    with: &mut impl FnMut(Uuid, &mut dyn FnMut(&mut Member)),
) -> Result<()> {
    let newest = until.min(Utc::now().naive_utc());
    let from = newest.checked_sub_days(Days::new(SESSIONS_DAYS)).unwrap_or_default();
    let lately = held!(gym, ids, until)
        .filter(results::on_date.ge(from.date()))
        .order((classes::starts_at, classes::id, results::block))
        .select((results::member_id, classes::starts_at, results::volume))
        .load::<(Uuid, NaiveDateTime, serde_json::Value)>(conn)?;
    for (id, at, volume) in lately {
        // volume that cannot be read any more is not known, the day is
        let reps: lantern_core::roster::Volume = serde_json::from_value(volume).unwrap_or_default();
        with(id, &mut |m| match m.sessions.last_mut().filter(|s| s.date == at.date()) {
            // two blocks of a day are one session
            Some(s) => {
                for (guard, n) in &reps {
                    *s.reps.entry(guard.clone()).or_insert(0.0) += n;
                }
            }
            None => m.sessions.push(Session { date: at.date(), reps: reps.clone() }),
        });
    }
    Ok(())
}

fn standard(word: &str) -> Standard {
    if word == Standard::Lighter.word() { Standard::Lighter } else { Standard::Heavier }
}

fn of_row(r: Row) -> Member {
    let standard = standard(&r.standard);
    let level = Level::ALL.into_iter().find(|l| l.word() == r.level).unwrap_or(Level::Regular);
    let mut m = Member::unknown(&r.name, standard, level);
    m.id = r.id.to_string();
    m.body_mass_kg = r.body_mass_kg;
    m.stature_cm = r.stature_cm;
    m.hooks = r.hooks.and_then(|h| u32::try_from(h).ok());
    m
}

/// Adds a member with everything known about them. `sessions_before`: sessions held before this log began.
///
/// # Errors
/// `Taken` when the name is there already; `Refused` for figures outside their range.
pub fn add(conn: &mut PgConnection, gym: GymId, m: &Member, sessions_before: u32) -> Result<MemberId> {
    let id = MemberId::fresh();
    conn.transaction(|conn| {
        let row = to_row(gym, id, m, i32::try_from(sessions_before).unwrap_or(0));
        diesel::insert_into(members::table).values(row).execute(conn)?;
        known(conn, gym, id, m)
    })?;
    Ok(id)
}

/// Changes what is known about a member, from what is known at this moment.
///
/// # Errors
/// `NotFound` for a member of another gym; as [`add`] otherwise.
pub fn change(
    conn: &mut PgConnection,
    gym: GymId,
    id: MemberId,
    to: impl FnOnce(&Member) -> Member,
) -> Result<()> {
    conn.transaction(|conn| {
        let here = members::table.find((gym.0, id.0));
        let before: i32 = here.select(members::sessions_before).for_update().first(conn)?;
        let m = to(&find(conn, gym, id)?);
        diesel::update(here).set(to_row(gym, id, &m, before)).execute(conn)?;
        forget(conn, gym, id)?;
        known(conn, gym, id, &m)
    })
}

fn to_row(gym: GymId, id: MemberId, m: &Member, sessions_before: i32) -> Row {
    Row {
        gym_id: gym.0,
        id: id.0,
        name: m.name.clone(),
        standard: m.standard.word().to_owned(),
        level: m.level.word().to_owned(),
        body_mass_kg: m.body_mass_kg,
        stature_cm: m.stature_cm,
        sessions_before,
        hooks: m.hooks.and_then(|h| i32::try_from(h).ok()),
    }
}

fn known(conn: &mut PgConnection, gym: GymId, id: MemberId, m: &Member) -> Result<()> {
    add_maxes(conn, gym, id, &m.maxes)?;
    let sets: Vec<_> = m
        .unbroken
        .iter()
        .map(|x| {
            (
                bests::gym_id.eq(gym.0),
                bests::id.eq(Uuid::now_v7()),
                bests::member_id.eq(id.0),
                bests::movement.eq(&x.movement),
                bests::reps.eq(x.reps),
                bests::on_date.eq(x.date),
            )
        })
        .collect();
    diesel::insert_into(bests::table).values(sets).execute(conn)?;
    let times: Vec<_> = m
        .trials
        .iter()
        .map(|x| {
            (
                trials::gym_id.eq(gym.0),
                trials::id.eq(Uuid::now_v7()),
                trials::member_id.eq(id.0),
                trials::test.eq(&x.test),
                trials::seconds.eq(x.seconds),
                trials::on_date.eq(x.date),
            )
        })
        .collect();
    diesel::insert_into(trials::table).values(times).execute(conn)?;
    let spares: Vec<_> = m
        .limits
        .iter()
        .map(|x| (limits::gym_id.eq(gym.0), limits::member_id.eq(id.0), limits::spares.eq(x.word())))
        .collect();
    diesel::insert_into(limits::table).values(spares).on_conflict_do_nothing().execute(conn)?;
    Ok(())
}

/// Adds lifts to what is known about a member; one of the same lift, reps and day takes the place of the old.
///
/// # Errors
/// `Refused` for figures outside their range or a member of another gym.
pub fn add_maxes(conn: &mut PgConnection, gym: GymId, id: MemberId, lifts: &[Max]) -> Result<()> {
    conn.transaction(|conn| {
        for x in lifts {
            let reps = i32::try_from(x.reps).unwrap_or(0);
            diesel::delete(
                maxes::table
                    .filter(maxes::gym_id.eq(gym.0).and(maxes::member_id.eq(id.0)))
                    .filter(maxes::lift.eq(&x.lift).and(maxes::reps.eq(reps)))
                    .filter(maxes::on_date.is_not_distinct_from(x.date)),
            )
            .execute(conn)?;
            diesel::insert_into(maxes::table)
                .values((
                    maxes::gym_id.eq(gym.0),
                    maxes::id.eq(Uuid::now_v7()),
                    maxes::member_id.eq(id.0),
                    maxes::lift.eq(&x.lift),
                    maxes::kg.eq(x.kg),
                    maxes::reps.eq(reps),
                    maxes::reserve.eq(i32::try_from(x.reserve).unwrap_or(0)),
                    maxes::on_date.eq(x.date),
                ))
                .execute(conn)?;
        }
        Ok(())
    })
}

/// Sets a member's body mass, kg.
///
/// # Errors
/// `NotFound` for a member of another gym; `Refused` outside 25 to 250 kg.
pub fn weigh(conn: &mut PgConnection, gym: GymId, id: MemberId, kg: f64) -> Result<()> {
    let n =
        diesel::update(members::table.find((gym.0, id.0))).set(members::body_mass_kg.eq(kg)).execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// A member leaves: in no roster and in no class to come; what they did stays.
///
/// # Errors
/// `NotFound` for a member of another gym.
pub fn leave(conn: &mut PgConnection, gym: GymId, id: MemberId, now: NaiveDateTime) -> Result<()> {
    conn.transaction(|conn| {
        let n = diesel::update(members::table.find((gym.0, id.0)))
            .set(members::left_on.eq(Some(now.date())))
            .execute(conn)?;
        if n == 0 {
            return Err(StoreError::NotFound);
        }
        let to_come = classes::table
            .filter(classes::gym_id.eq(gym.0).and(classes::starts_at.gt(now)))
            .select(classes::id);
        let booked = bookings::table
            .filter(bookings::gym_id.eq(gym.0).and(bookings::member_id.eq(id.0)))
            .filter(bookings::class_id.eq_any(to_come));
        diesel::delete(booked).execute(conn)?;
        // what they said of themselves stays for when they come back
        crate::own_page::withdraw(conn, gym, id).map(drop)
    })
}

/// A member who left is back.
///
/// # Errors
/// `NotFound` for a member of another gym; `Taken` when somebody has their name now.
pub fn come_back(conn: &mut PgConnection, gym: GymId, id: MemberId) -> Result<()> {
    let n = diesel::update(members::table.find((gym.0, id.0)))
        .set(members::left_on.eq(None::<NaiveDate>))
        .execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// What stands for the name of an erased member.
pub const ERASED: &str = "Erased member";

/// Erases a member for good: name, body, lifts, limits, links and what plans say of them. Their results stay without a name.
///
/// # Errors
/// `NotFound` for a member of another gym.
pub fn erase(conn: &mut PgConnection, gym: GymId, id: MemberId, today: NaiveDate) -> Result<()> {
    conn.transaction(|conn| {
        let row: Row = members::table.find((gym.0, id.0)).select(Row::as_select()).first(conn)?;
        let nobody =
            Row { name: ERASED.to_owned(), body_mass_kg: None, stature_cm: None, hooks: None, ..row };
        let here = members::table.find((gym.0, id.0));
        diesel::update(here).set((&nobody, members::left_on.eq(Some(today)))).execute(conn)?;
        forget(conn, gym, id)?;
        crate::own_page::forget(conn, gym, id)?;
        diesel::delete(bookings::table.filter(bookings::gym_id.eq(gym.0).and(bookings::member_id.eq(id.0))))
            .execute(conn)?;
        let notes = results::table.filter(results::gym_id.eq(gym.0).and(results::member_id.eq(id.0)));
        diesel::update(notes).set(results::note.eq("")).execute(conn)?;
        let trail = result_changes::table
            .filter(result_changes::gym_id.eq(gym.0).and(result_changes::member_id.eq(id.0)));
        diesel::delete(trail).execute(conn)?;
        crate::logbook::forget_member(conn, gym, id, ERASED)
    })
}

/// Drops what is known about a member: lifts, best sets, trials, limits.
fn forget(conn: &mut PgConnection, gym: GymId, id: MemberId) -> Result<()> {
    diesel::delete(maxes::table.filter(maxes::gym_id.eq(gym.0).and(maxes::member_id.eq(id.0))))
        .execute(conn)?;
    diesel::delete(bests::table.filter(bests::gym_id.eq(gym.0).and(bests::member_id.eq(id.0))))
        .execute(conn)?;
    diesel::delete(trials::table.filter(trials::gym_id.eq(gym.0).and(trials::member_id.eq(id.0))))
        .execute(conn)?;
    diesel::delete(limits::table.filter(limits::gym_id.eq(gym.0).and(limits::member_id.eq(id.0))))
        .execute(conn)?;
    Ok(())
}
