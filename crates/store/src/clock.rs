//! The wall's clock of a class as it is kept, and who is told of a change.

use crate::connect::{Connection, Pool};
use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId};
use crate::schema::classes;
use chrono::{DateTime, Utc};
use diesel::Connection as _;
use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use lantern_core::hour::{Press, WallClock};
use uuid::Uuid;

/// The clock of a class.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<WallClock> {
    let row = classes::table.find((gym.0, class.0));
    let (started, paused) = row
        .select((classes::clock_started_at, classes::clock_paused_at))
        .first(conn)
        .optional()?
        .ok_or(StoreError::NotFound)?;
    Ok(WallClock { started, paused })
}

/// Presses at a moment, one after the other however many coaches press; the clock afterwards.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn press(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    press: Press,
    now: DateTime<Utc>,
) -> Result<WallClock> {
    conn.transaction(|conn| {
        let row = classes::table.find((gym.0, class.0));
        let (started, paused) = row
            .select((classes::clock_started_at, classes::clock_paused_at))
            .for_update()
            .first(conn)
            .optional()?
            .ok_or(StoreError::NotFound)?;
        let after = WallClock { started, paused }.after(press, now);
        diesel::update(row)
            .set((classes::clock_started_at.eq(after.started), classes::clock_paused_at.eq(after.paused)))
            .execute(conn)?;
        Ok(after)
    })
}

/// A clock that was changed, by any process.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Told {
    /// Whose.
    pub gym: GymId,
    /// Of which class.
    pub class: ClassId,
    /// How it is now.
    pub clock: WallClock,
}

/// A connection that is told of every change of a clock.
pub struct Listener(Connection);

impl Listener {
    /// Begins to listen.
    ///
    /// # Errors
    /// When the database is away.
    pub fn new(pool: &Pool) -> Result<Listener> {
        let mut conn = pool.get()?;
        conn.batch_execute("LISTEN lantern_clock")?;
        Ok(Listener(conn))
    }

    /// What was told since the last time; does not wait.
    ///
    /// # Errors
    /// When the connection is lost.
    pub fn told(&mut self) -> Result<Vec<Told>> {
        let mut out = Vec::new();
        for note in self.0.notifications_iter() {
            out.extend(read(&note?.payload));
        }
        Ok(out)
    }

    /// Whether the connection still answers.
    ///
    /// # Errors
    /// When it does not.
    pub fn check(&mut self) -> Result<()> {
        Ok(self.0.batch_execute("SELECT 1")?)
    }
}

impl Drop for Listener {
    fn drop(&mut self) {
        // it goes back to the others; one that is lost is thrown away there
        let _ = self.0.batch_execute("UNLISTEN *");
    }
}

fn read(payload: &str) -> Option<Told> {
    let mut words = payload.split(' ');
    let mut id = || words.next().and_then(|w| Uuid::parse_str(w).ok());
    let (gym, class) = (GymId(id()?), ClassId(id()?));
    let mut moment = || words.next().map(|w| w.parse().ok().and_then(DateTime::from_timestamp_millis));
    let clock = WallClock { started: moment()?, paused: moment()? };
    Some(Told { gym, class, clock })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_cannot_be_read_is_told_to_nobody() {
        let (g, c) = (Uuid::now_v7(), Uuid::now_v7());
        let told = read(&format!("{g} {c} 1800000000000 -")).unwrap();
        assert_eq!((told.gym.0, told.class.0), (g, c));
        assert_eq!(
            told.clock,
            WallClock { started: DateTime::from_timestamp(1_800_000_000, 0), paused: None }
        );
        for bad in ["", "x", &format!("{g}"), &format!("{g} {c}"), &format!("{g} {c} 5")] {
            assert!(read(bad).is_none(), "{bad}");
        }
    }
}
