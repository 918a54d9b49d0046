//! The text of a day's session: what is saved, and what was typed and not saved yet.

use crate::error::{Result, StoreError};
use crate::ids::{GymId, SessionId};
use crate::schema::{classes, sessions};
use chrono::{DateTime, NaiveDate, Utc};
use diesel::prelude::*;
use lantern_core::held::Blocks;
use lantern_core::sheet::Chosen;
use serde_json::Value;

/// A day's session.
#[derive(Debug, Clone, PartialEq)]
pub struct Session {
    /// Key.
    pub id: SessionId,
    /// Its day.
    pub on_date: NaiveDate,
    /// The sheet.
    pub sheet: String,
    /// Typed and not saved yet.
    pub draft: Option<String>,
    /// Last change.
    pub changed_at: DateTime<Utc>,
    /// What the coach chose for lines whose place was in doubt, by the text of the line.
    pub choices: Vec<(String, Chosen)>,
    /// Blocks of the saved sheet with their ids.
    pub blocks: Blocks,
    /// Counts saves.
    pub version: i32,
}

type Columns = (uuid::Uuid, NaiveDate, String, Option<String>, DateTime<Utc>, Value, Value, i32);

/// Choices of an older kind that cannot be read any more are left: the line is read as if nothing was chosen.
fn of((id, on_date, sheet, draft, changed_at, choices, blocks, version): Columns) -> Session {
    let all: Vec<Value> = serde_json::from_value(choices).unwrap_or_default();
    let choices = all.into_iter().filter_map(|c| serde_json::from_value(c).ok()).collect();
    let blocks = serde_json::from_value(blocks).unwrap_or_default();
    Session { id: SessionId(id), on_date, sheet, draft, changed_at, choices, blocks, version }
}

/// What a session is read from.
macro_rules! columns {
    () => {
        (
            sessions::id,
            sessions::on_date,
            sessions::sheet,
            sessions::draft,
            sessions::changed_at,
            sessions::choices,
            sessions::blocks,
            sessions::version,
        )
    };
}

/// Adds a session.
///
/// # Errors
/// When the gym is gone.
pub fn add(conn: &mut PgConnection, gym: GymId, on_date: NaiveDate, sheet: &str) -> Result<SessionId> {
    let id = SessionId::fresh();
    diesel::insert_into(sessions::table)
        .values((
            sessions::gym_id.eq(gym.0),
            sessions::id.eq(id.0),
            sessions::on_date.eq(on_date),
            sessions::sheet.eq(kept(sheet)),
        ))
        .execute(conn)?;
    Ok(id)
}

/// PostgreSQL keeps no NUL in text; it can only come from a paste that is no text.
fn kept(text: &str) -> String {
    text.replace('\0', "\u{fffd}")
}

/// One session.
///
/// # Errors
/// `NotFound` for a session of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, id: SessionId) -> Result<Session> {
    let row = sessions::table.find((gym.0, id.0)).select(columns!()).first::<Columns>(conn)?;
    Ok(of(row))
}

/// Sessions of some days.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, from: NaiveDate, to: NaiveDate) -> Result<Vec<Session>> {
    let rows = sessions::table
        .filter(sessions::gym_id.eq(gym.0).and(sessions::on_date.between(from, to)))
        .order((sessions::on_date, sessions::id))
        .select(columns!())
        .load::<Columns>(conn)?;
    Ok(rows.into_iter().map(of).collect())
}

/// Saves the sheet with its blocks; the draft is done with. `seen`: the version that was edited.
///
/// # Errors
/// `NotFound` for a session of another gym; `Raced` when it was saved since it was seen.
pub fn save(
    conn: &mut PgConnection,
    gym: GymId,
    id: SessionId,
    (sheet, blocks): (&str, &Blocks),
    seen: i32,
) -> Result<()> {
    let same = sessions::gym_id.eq(gym.0).and(sessions::id.eq(id.0)).and(sessions::version.eq(seen));
    let n = diesel::update(sessions::table.filter(same))
        .set((
            sessions::sheet.eq(kept(sheet)),
            sessions::blocks.eq(serde_json::to_value(blocks)?),
            sessions::draft.eq(None::<String>),
            sessions::version.eq(sessions::version + 1),
            sessions::changed_at.eq(Utc::now()),
        ))
        .execute(conn)?;
    if n > 0 {
        return Ok(());
    }
    find(conn, gym, id)?;
    Err(StoreError::Raced)
}

/// How many classes are planned by a sheet.
///
/// # Errors
/// When the database is away.
pub fn classes_of(conn: &mut PgConnection, gym: GymId, id: SessionId) -> Result<usize> {
    let n: i64 = classes::table
        .filter(classes::gym_id.eq(gym.0).and(classes::session_id.eq(id.0)))
        .count()
        .get_result(conn)?;
    Ok(usize::try_from(n).unwrap_or(0))
}

/// Drops what was typed and not saved.
///
/// # Errors
/// `NotFound` for a session of another gym.
pub fn drop_draft(conn: &mut PgConnection, gym: GymId, id: SessionId) -> Result<()> {
    let n = diesel::update(sessions::table.find((gym.0, id.0)))
        .set(sessions::draft.eq(None::<String>))
        .execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Keeps what is typed until it is saved.
///
/// # Errors
/// `NotFound` for a session of another gym.
pub fn keep_draft(conn: &mut PgConnection, gym: GymId, id: SessionId, draft: &str) -> Result<()> {
    let n = diesel::update(sessions::table.find((gym.0, id.0)))
        .set(sessions::draft.eq(Some(kept(draft))))
        .execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Keeps what the coach chose for a line; an earlier choice for the same text is replaced.
///
/// # Errors
/// `NotFound` for a session of another gym.
pub fn choose(conn: &mut PgConnection, gym: GymId, id: SessionId, line: &str, choice: Chosen) -> Result<()> {
    conn.transaction(|conn| {
        let row =
            sessions::table.find((gym.0, id.0)).select(columns!()).for_update().first::<Columns>(conn)?;
        let mut choices = of(row).choices;
        choices.retain(|(text, _)| text != line);
        choices.push((kept(line), choice));
        diesel::update(sessions::table.find((gym.0, id.0)))
            .set((sessions::choices.eq(serde_json::to_value(&choices)?), sessions::changed_at.eq(Utc::now())))
            .execute(conn)?;
        Ok(())
    })
}
