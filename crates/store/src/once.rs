//! A change that is done once, however often it arrives: sent again after a lost answer, pressed twice, kept while offline.

use crate::error::StoreError;
use crate::ids::GymId;
use crate::schema::done_keys;
use chrono::{Duration, Utc};
use diesel::prelude::*;
use uuid::Uuid;

/// Days for which a key is known; nobody is offline for longer (own).
const KEPT_DAYS: i64 = 30;

/// What became of a change.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Once<T> {
    /// It is done now.
    Done(T),
    /// It was done before, with this key.
    Already,
}

enum Failed<E> {
    Work(E),
    Store(StoreError),
}

impl<E> From<diesel::result::Error> for Failed<E> {
    fn from(e: diesel::result::Error) -> Failed<E> {
        Failed::Store(e.into())
    }
}

/// Does a change and keeps its key in one step: both or neither. Without a key it is simply done; what is refused keeps none.
///
/// # Errors
/// Those of the work, and of the store.
pub fn once<C, T, E>(
    conn: &mut C,
    gym: GymId,
    key: Option<Uuid>,
    refused: impl FnOnce(&T) -> bool,
    work: impl FnOnce(&mut C) -> Result<T, E>,
) -> Result<Once<T>, E>
where
    C: diesel::Connection<Backend = diesel::pg::Pg> + diesel::connection::LoadConnection,
    E: From<StoreError>,
{
    let Some(key) = key else { return work(conn).map(Once::Done) };
    let done = conn.transaction(|conn| {
        let new = diesel::insert_into(done_keys::table)
            .values((done_keys::gym_id.eq(gym.0), done_keys::key.eq(key)))
            .on_conflict_do_nothing()
            .execute(conn)?;
        if new == 0 {
            return Ok(Once::Already);
        }
        let done = work(conn).map_err(Failed::Work)?;
        if refused(&done) {
            diesel::delete(done_keys::table.find((gym.0, key))).execute(conn)?;
        }
        Ok(Once::Done(done))
    });
    done.map_err(|e| match e {
        Failed::Work(e) => e,
        Failed::Store(e) => e.into(),
    })
}

/// Forgets the keys of a hall that are too old to come again.
///
/// # Errors
/// When the database is away.
pub fn forget_old(conn: &mut PgConnection, gym: GymId) -> crate::error::Result<usize> {
    let before = Utc::now() - Duration::days(KEPT_DAYS);
    let old = done_keys::table.filter(done_keys::gym_id.eq(gym.0).and(done_keys::made_at.lt(before)));
    Ok(diesel::delete(old).execute(conn)?)
}
