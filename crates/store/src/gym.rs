//! Gyms: name, place and settings.

use crate::error::Result;
use crate::ids::GymId;
use crate::schema::gyms;
use diesel::prelude::*;
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

/// The gym with this key.
///
/// # Errors
/// `NotFound` when there is none.
pub fn find(conn: &mut PgConnection, id: GymId) -> Result<Gym> {
    let (name, place, settings, demo) = gyms::table
        .find(id.0)
        .select((gyms::name, gyms::place, gyms::settings, gyms::demo))
        .first::<(String, String, serde_json::Value, bool)>(conn)?;
    let read: Option<Settings> = serde_json::from_value(settings).ok();
    let settings_lost = read.is_none();
    Ok(Gym { id, name, place, settings: read.unwrap_or_default(), settings_lost, demo })
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

/// Removes a gym with everything that is its own.
///
/// # Errors
/// When the database refuses.
pub fn remove(conn: &mut PgConnection, id: GymId) -> Result<()> {
    diesel::delete(gyms::table.find(id.0)).execute(conn)?;
    Ok(())
}
