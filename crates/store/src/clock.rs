//! The wall's clock of a class: when it was started, when it was stopped for a while, and who is told of a change.

use crate::connect::{Connection, Pool};
use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId};
use crate::schema::classes;
use chrono::{DateTime, TimeDelta, Utc};
use diesel::Connection as _;
use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use uuid::Uuid;

/// A clock.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Clock {
    /// The moment of 0:00, which may be still to come; `None`: it stands.
    pub started: Option<DateTime<Utc>>,
    /// Since when it is stopped.
    pub paused: Option<DateTime<Utc>>,
}

/// What is pressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Press {
    /// It runs from 0:00 after a lead-in of so many seconds. One that was started is not started again.
    Start {
        /// s.
        lead_in_s: u32,
    },
    /// It stops where it is.
    Pause,
    /// It goes on from there.
    GoOn,
    /// It stands at 0:00.
    Back,
}

impl Clock {
    /// The clock after a press at a moment. A second press, or another coach's, of the same changes nothing.
    #[must_use]
    pub fn after(self, press: Press, now: DateTime<Utc>) -> Clock {
        match (press, self.started, self.paused) {
            (Press::Start { lead_in_s }, None, _) => {
                Clock { started: Some(now + TimeDelta::seconds(i64::from(lead_in_s))), paused: None }
            }
            (Press::Pause, Some(_), None) => Clock { paused: Some(now), ..self },
            (Press::GoOn, Some(started), Some(paused)) => {
                Clock { started: Some(started + (now - paused).max(TimeDelta::zero())), paused: None }
            }
            (Press::Back, ..) => Clock::default(),
            _ => self,
        }
    }
}

/// The clock of a class.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Clock> {
    let row = classes::table.find((gym.0, class.0));
    let (started, paused) = row
        .select((classes::clock_started_at, classes::clock_paused_at))
        .first(conn)
        .optional()?
        .ok_or(StoreError::NotFound)?;
    Ok(Clock { started, paused })
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
) -> Result<Clock> {
    conn.transaction(|conn| {
        let row = classes::table.find((gym.0, class.0));
        let (started, paused) = row
            .select((classes::clock_started_at, classes::clock_paused_at))
            .for_update()
            .first(conn)
            .optional()?
            .ok_or(StoreError::NotFound)?;
        let after = Clock { started, paused }.after(press, now);
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
    pub clock: Clock,
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
    let clock = Clock { started: moment()?, paused: moment()? };
    Some(Told { gym, class, clock })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(s: i64) -> DateTime<Utc> {
        DateTime::from_timestamp(1_800_000_000 + s, 0).unwrap()
    }

    #[test]
    fn presses_move_a_clock_and_a_second_press_moves_nothing() {
        let start = Press::Start { lead_in_s: 10 };
        let c = Clock::default().after(Press::Pause, at(0)).after(Press::GoOn, at(0));
        assert_eq!(c, Clock::default(), "what stands is neither stopped nor gone on with");
        let c = c.after(start, at(0)).after(start, at(4));
        assert_eq!(c, Clock { started: Some(at(10)), paused: None });
        let c = c.after(Press::Pause, at(70)).after(Press::Pause, at(80));
        assert_eq!(c, Clock { started: Some(at(10)), paused: Some(at(70)) });
        assert_eq!(c.after(start, at(90)), c, "a stopped clock goes on, it does not start");
        // 20 s stopped: what read 1:00 at 70 s reads 1:00 at 90 s
        let c = c.after(Press::GoOn, at(90)).after(Press::GoOn, at(95));
        assert_eq!(c, Clock { started: Some(at(30)), paused: None });
        assert_eq!(c.after(Press::Back, at(100)), Clock::default());
    }

    #[test]
    fn a_stop_in_the_lead_in_keeps_what_is_left_of_it() {
        let c = Clock::default().after(Press::Start { lead_in_s: 10 }, at(0)).after(Press::Pause, at(4));
        assert_eq!(c.after(Press::GoOn, at(60)).started, Some(at(66)));
    }

    #[test]
    fn what_cannot_be_read_is_told_to_nobody() {
        let (g, c) = (Uuid::now_v7(), Uuid::now_v7());
        let told = read(&format!("{g} {c} 1800000000000 -")).unwrap();
        assert_eq!((told.gym.0, told.class.0), (g, c));
        assert_eq!(told.clock, Clock { started: Some(at(0)), paused: None });
        for bad in ["", "x", &format!("{g}"), &format!("{g} {c}"), &format!("{g} {c} 5")] {
            assert!(read(bad).is_none(), "{bad}");
        }
    }
}
