//! Gyms: name, place and settings.

use crate::account::{Role, Secret, add_with};
use crate::error::{Result, StoreError};
use crate::ids::{AccountId, GymId};
use crate::schema::{accounts, classes, gyms, links, members, sessions};
use chrono::Weekday;
use chrono_tz::Tz;
use diesel::prelude::*;
use lantern_core::kit::Kit;
use lantern_core::settings::Settings;
use lantern_core::sheet::WeightUnit;

/// A gym.
#[derive(Debug, Clone, PartialEq)]
pub struct Gym {
    /// Key.
    pub id: GymId,
    /// Name on pages.
    pub name: String,
    /// Town.
    pub place: String,
    /// Schools and lengths.
    pub settings: Settings,
    /// Where it is in time; the server's zone without.
    pub zone: Option<Tz>,
    /// The day on which its weeks begin.
    pub week_from: Weekday,
    /// Its stored settings cannot be read: the usual ones stand in for them.
    pub settings_lost: bool,
    /// Filled by the demo: all people and results are invented.
    pub demo: bool,
}

/// Adds a gym.
///
/// # Errors
/// When the database refuses.
pub fn add(conn: &mut PgConnection, name: &str, place: &str, demo: bool) -> Result<GymId> {
    let id = GymId::fresh();
    diesel::insert_into(gyms::table)
        .values((gyms::id.eq(id.0), gyms::name.eq(name), gyms::place.eq(place), gyms::demo.eq(demo)))
        .execute(conn)?;
    Ok(id)
}

/// A hall with its owner, as somebody sets it up.
pub struct New<'a> {
    /// Name on pages.
    pub name: &'a str,
    /// Town.
    pub place: &'a str,
    /// Where it is in time.
    pub zone: Option<Tz>,
    /// The day on which its weeks begin.
    pub week_from: Weekday,
    /// Lengths and answers.
    pub settings: &'a Settings,
    /// Bars, plates, implements.
    pub kit: &'a Kit,
    /// E-mail and name of the owner.
    pub owner: (&'a str, &'a str),
    /// Password of the owner.
    pub password: &'a Secret,
}

/// Founds a hall: gym, kit and owner in one step. `first`: only where there is none yet, whoever is faster.
///
/// # Errors
/// `Raced` when there is a hall already and this should be the first; `Taken` when the address has an account.
pub fn found(conn: &mut PgConnection, new: &New, first: bool) -> Result<(GymId, AccountId)> {
    conn.transaction(|conn| {
        if first {
            diesel::sql_query("LOCK TABLE gyms IN EXCLUSIVE MODE").execute(conn)?;
            if any(conn)? {
                return Err(StoreError::Raced);
            }
        }
        let id = add(conn, new.name, new.place, false)?;
        change_settings(conn, id, new.settings)?;
        change_calendar(conn, id, new.zone, new.week_from)?;
        crate::kit::change(conn, id, new.kit)?;
        let owner = (new.owner.0, new.owner.1, Role::Owner);
        Ok((id, add_with(conn, id, owner, new.password)?))
    })
}

/// Whether there is any hall.
///
/// # Errors
/// When the database is away.
pub fn any(conn: &mut PgConnection) -> Result<bool> {
    Ok(gyms::table.count().get_result::<i64>(conn)? > 0)
}

/// A hall in a list: key, name, place, members, classes, whether it is the demo.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Row {
    /// Key.
    pub id: GymId,
    /// Name.
    pub name: String,
    /// Town.
    pub place: String,
    /// Members, those who left too.
    pub members: i64,
    /// Classes.
    pub classes: i64,
    /// All in it is invented.
    pub demo: bool,
}

/// Every hall, by name.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection) -> Result<Vec<Row>> {
    let rows = gyms::table
        .order((gyms::name, gyms::id))
        .select((gyms::id, gyms::name, gyms::place, gyms::demo))
        .load::<(uuid::Uuid, String, String, bool)>(conn)?;
    rows.into_iter()
        .map(|(id, name, place, demo)| {
            let members = members::table.filter(members::gym_id.eq(id)).count().get_result(conn)?;
            let classes = classes::table.filter(classes::gym_id.eq(id)).count().get_result(conn)?;
            Ok(Row { id: GymId(id), name, place, members, classes, demo })
        })
        .collect()
}

/// How far a hall has come: members, classes, classes with a sheet, accounts, links that wait.
///
/// # Errors
/// When the database is away.
pub fn begun(conn: &mut PgConnection, id: GymId) -> Result<[usize; 5]> {
    let written = sessions::table
        .inner_join(
            classes::table.on(classes::gym_id.eq(sessions::gym_id).and(classes::session_id.eq(sessions::id))),
        )
        .filter(sessions::gym_id.eq(id.0).and(sessions::sheet.ne("")));
    let all = [
        members::table
            .filter(members::gym_id.eq(id.0).and(members::left_on.is_null()))
            .count()
            .get_result(conn)?,
        classes::table.filter(classes::gym_id.eq(id.0)).count().get_result(conn)?,
        written.count().get_result::<i64>(conn)?,
        accounts::table.filter(accounts::gym_id.eq(id.0)).count().get_result(conn)?,
        links::table
            .filter(links::gym_id.eq(id.0).and(links::ends_at.gt(chrono::Utc::now())))
            .count()
            .get_result(conn)?,
    ];
    Ok(all.map(|n| usize::try_from(n).unwrap_or(0)))
}

/// The gym with this key.
///
/// # Errors
/// `NotFound` when there is none.
pub fn find(conn: &mut PgConnection, id: GymId) -> Result<Gym> {
    let (name, place, settings, demo, (zone, week_from)) = gyms::table
        .find(id.0)
        .select((gyms::name, gyms::place, gyms::settings, gyms::demo, (gyms::zone, gyms::week_from)))
        .first::<(String, String, serde_json::Value, bool, (Option<String>, i16))>(conn)?;
    let read: Option<Settings> = serde_json::from_value(settings).ok();
    let settings_lost = read.is_none() || zone.is_some() && read_zone(zone.as_deref()).is_none();
    Ok(Gym {
        id,
        name,
        place,
        settings: read.unwrap_or_default(),
        zone: read_zone(zone.as_deref()),
        week_from: u8::try_from(week_from)
            .ok()
            .and_then(|d| Weekday::try_from(d).ok())
            .unwrap_or(Weekday::Mon),
        settings_lost,
        demo,
    })
}

/// A zone as it is kept.
pub(crate) fn read_zone(word: Option<&str>) -> Option<Tz> {
    word.and_then(|z| z.parse().ok())
}

/// Changes what a hall is called and where it is.
///
/// # Errors
/// When the gym is gone; `Refused` for a name that is too long or none.
pub fn rename(conn: &mut PgConnection, id: GymId, name: &str, place: &str) -> Result<()> {
    let to = (gyms::name.eq(name), gyms::place.eq(place));
    let n = diesel::update(gyms::table.find(id.0)).set(to).execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Changes where a hall is in time, and the day on which its weeks begin.
///
/// # Errors
/// When the gym is gone.
pub fn change_calendar(
    conn: &mut PgConnection,
    id: GymId,
    zone: Option<Tz>,
    week_from: Weekday,
) -> Result<()> {
    let from = i16::try_from(week_from.num_days_from_monday()).unwrap_or(0);
    diesel::update(gyms::table.find(id.0))
        .set((gyms::zone.eq(zone.map(Tz::name)), gyms::week_from.eq(from)))
        .execute(conn)?;
    Ok(())
}

/// The demo gym, when it was loaded.
///
/// # Errors
/// When the database is away.
pub fn find_demo(conn: &mut PgConnection) -> Result<Option<GymId>> {
    Ok(gyms::table.filter(gyms::demo.eq(true)).select(gyms::id).first(conn).optional()?.map(GymId))
}

/// Changes the settings.
///
/// # Errors
/// When the gym is gone.
pub fn change_settings(conn: &mut PgConnection, id: GymId, settings: &Settings) -> Result<()> {
    diesel::update(gyms::table.find(id.0))
        .set(gyms::settings.eq(serde_json::to_value(settings)?))
        .execute(conn)?;
    Ok(())
}

/// Keeps whether usual pound pairs are pounds here; what another coach changes meanwhile stays.
///
/// # Errors
/// When the gym is gone.
pub fn answer_pound_pairs(conn: &mut PgConnection, id: GymId, unit: WeightUnit) -> Result<()> {
    conn.transaction(|conn| {
        let kept = gyms::table.find(id.0).select(gyms::settings).for_update().first(conn)?;
        let settings = Settings { pound_pairs: Some(unit), ..serde_json::from_value(kept)? };
        change_settings(conn, id, &settings)
    })
}

/// Holds a gym until the change ends: changes of its weeks come one after the other.
///
/// # Errors
/// When the gym is gone.
pub(crate) fn hold(conn: &mut PgConnection, id: GymId) -> Result<()> {
    gyms::table.find(id.0).select(gyms::id).for_no_key_update().first::<uuid::Uuid>(conn)?;
    Ok(())
}

/// Removes a gym with everything that is its own.
///
/// # Errors
/// When the database refuses.
pub fn remove(conn: &mut PgConnection, id: GymId) -> Result<()> {
    diesel::delete(gyms::table.find(id.0)).execute(conn)?;
    Ok(())
}
