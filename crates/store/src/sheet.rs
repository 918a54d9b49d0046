//! The text of a day's session: what is saved, and what was typed and not saved yet.

use crate::error::{Result, StoreError};
use crate::ids::{AccountId, GymId, SessionId};
use crate::schema::{classes, drafts, sessions};
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
    /// Typed and not saved yet, by whom.
    pub drafts: Vec<(AccountId, String)>,
    /// Last change.
    pub changed_at: DateTime<Utc>,
    /// What the coach chose for lines whose place was in doubt, by the text of the line.
    pub choices: Vec<(String, Chosen)>,
    /// Blocks of the saved sheet with their ids.
    pub blocks: Blocks,
    /// Counts saves.
    pub version: i32,
}

impl Session {
    /// What somebody typed and has not saved.
    pub fn draft_of(&self, account: AccountId) -> Option<&str> {
        self.drafts.iter().find(|(a, _)| *a == account).map(|(_, text)| text.as_str())
    }
}

type Columns = (uuid::Uuid, NaiveDate, String, DateTime<Utc>, Value, Value, i32);

/// Choices of an older kind that cannot be read any more are left: the line is read as if nothing was chosen.
fn of((id, on_date, sheet, changed_at, choices, blocks, version): Columns) -> Session {
    let all: Vec<Value> = serde_json::from_value(choices).unwrap_or_default();
    let choices = all.into_iter().filter_map(|c| serde_json::from_value(c).ok()).collect();
    let blocks = serde_json::from_value(blocks).unwrap_or_default();
    Session { id: SessionId(id), on_date, sheet, drafts: Vec::new(), changed_at, choices, blocks, version }
}

/// What a session is read from.
macro_rules! columns {
    () => {
        (
            sessions::id,
            sessions::on_date,
            sessions::sheet,
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
    let typed = drafts::table
        .filter(drafts::gym_id.eq(gym.0).and(drafts::session_id.eq(id.0)))
        .select((drafts::account_id, drafts::body))
        .load::<(uuid::Uuid, String)>(conn)?;
    let drafts = typed.into_iter().map(|(a, text)| (AccountId(a), text)).collect();
    Ok(Session { drafts, ..of(row) })
}

/// Sessions of some days, without what is typed and not saved.
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

/// Saves the sheet with its blocks; the draft of whoever saves is done with, those of others stay. `seen`: the version that was
/// edited.
///
/// # Errors
/// `NotFound` for a session of another gym; `Raced` when it was saved since it was seen.
pub fn save(
    conn: &mut PgConnection,
    (gym, by): (GymId, AccountId),
    id: SessionId,
    (sheet, blocks): (&str, &Blocks),
    seen: i32,
) -> Result<()> {
    let same = sessions::gym_id.eq(gym.0).and(sessions::id.eq(id.0)).and(sessions::version.eq(seen));
    conn.transaction(|conn| {
        let n = diesel::update(sessions::table.filter(same))
            .set((
                sessions::sheet.eq(kept(sheet)),
                sessions::blocks.eq(serde_json::to_value(blocks)?),
                sessions::version.eq(sessions::version + 1),
                sessions::changed_at.eq(Utc::now()),
            ))
            .execute(conn)?;
        if n > 0 {
            return drop_draft(conn, (gym, by), id);
        }
        find(conn, gym, id)?;
        Err(StoreError::Raced)
    })
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

/// Drops what somebody typed and did not save.
///
/// # Errors
/// `NotFound` for a session of another gym.
pub fn drop_draft(conn: &mut PgConnection, (gym, by): (GymId, AccountId), id: SessionId) -> Result<()> {
    find(conn, gym, id)?;
    diesel::delete(drafts::table.find((gym.0, id.0, by.0))).execute(conn)?;
    Ok(())
}

/// Keeps what somebody types until they save it.
///
/// # Errors
/// `NotFound` for a session of another gym.
pub fn keep_draft(
    conn: &mut PgConnection,
    (gym, by): (GymId, AccountId),
    id: SessionId,
    draft: &str,
) -> Result<()> {
    find(conn, gym, id)?;
    let values = (drafts::body.eq(kept(draft)), drafts::made_at.eq(Utc::now()));
    diesel::insert_into(drafts::table)
        .values((
            drafts::gym_id.eq(gym.0),
            drafts::session_id.eq(id.0),
            drafts::account_id.eq(by.0),
            values.clone(),
        ))
        .on_conflict((drafts::gym_id, drafts::session_id, drafts::account_id))
        .do_update()
        .set(values)
        .execute(conn)?;
    Ok(())
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
