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
use std::collections::BTreeMap;
use uuid::Uuid;

/// What the walls of a class show, with the clocks of all its parts.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Wall {
    /// Key of the part; `None`: before the class.
    pub stage: Option<String>,
    /// Its clock.
    pub clock: WallClock,
    /// Clocks of the others, by key.
    others: BTreeMap<String, WallClock>,
}

/// Key under which the clock is kept that ran before the class had parts.
const BEFORE: &str = "-";

type Row = (Option<DateTime<Utc>>, Option<DateTime<Utc>>, Option<String>, serde_json::Value);

impl Wall {
    pub(crate) fn of((started, paused, stage, others): Row) -> Wall {
        // clocks that cannot be read stand
        let others = serde_json::from_value(others).unwrap_or_default();
        Wall { stage, clock: WallClock { started, paused }, others }
    }

    /// The clock of a part, by its key; the one that ran before the class had parts for one that has none of its own.
    pub fn clock_of(&self, key: &str) -> WallClock {
        match &self.stage {
            None => self.clock,
            Some(now) if now == key => self.clock,
            Some(_) => self.others.get(key).or_else(|| self.others.get(BEFORE)).copied().unwrap_or_default(),
        }
    }

    /// Another part is shown: each keeps its clock.
    fn turned(mut self, to: Option<&str>) -> Wall {
        let key = |stage: Option<&str>| stage.unwrap_or(BEFORE).to_owned();
        self.others.insert(key(self.stage.as_deref()), self.clock);
        self.clock = self.others.remove(&key(to)).unwrap_or_default();
        self.stage = to.map(str::to_owned);
        self
    }
}

macro_rules! columns {
    () => {
        (classes::clock_started_at, classes::clock_paused_at, classes::wall_stage, classes::stage_clocks)
    };
}

/// What the walls of a class show.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn find(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Wall> {
    let row = classes::table.find((gym.0, class.0)).select(columns!());
    Ok(Wall::of(row.first::<Row>(conn).optional()?.ok_or(StoreError::NotFound)?))
}

/// Changes the walls of a class, one change after the other however many coaches press; what they show afterwards.
fn change(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    to: impl FnOnce(Wall) -> Wall,
) -> Result<Wall> {
    conn.transaction(|conn| {
        let row = classes::table.find((gym.0, class.0));
        let now = row.select(columns!()).for_update().first::<Row>(conn).optional()?;
        let after = to(Wall::of(now.ok_or(StoreError::NotFound)?));
        diesel::update(row)
            .set((
                classes::clock_started_at.eq(after.clock.started),
                classes::clock_paused_at.eq(after.clock.paused),
                classes::wall_stage.eq(&after.stage),
                classes::stage_clocks.eq(serde_json::to_value(&after.others)?),
            ))
            .execute(conn)?;
        Ok(after)
    })
}

/// Starts at a moment; before any part is shown it is the clock of `first` that starts. The walls afterwards.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn start(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    first: Option<&str>,
    now: DateTime<Utc>,
) -> Result<Wall> {
    change(conn, gym, class, |wall| {
        let stands = wall.stage.is_none() && wall.clock == WallClock::default() && first.is_some();
        let wall = if stands { wall.turned(first) } else { wall };
        Wall { clock: wall.clock.after(Press::Start, now), ..wall }
    })
}

/// Presses at a moment; the walls afterwards.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn press(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    press: Press,
    now: DateTime<Utc>,
) -> Result<Wall> {
    change(conn, gym, class, |wall| Wall { clock: wall.clock.after(press, now), ..wall })
}

/// Shows another part, if the walls still show the one it was pressed on. `starts`: the moment of 0:00 of a part whose clock has not
/// run yet and runs at once.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn turn(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    (from, to): (Option<&str>, Option<&str>),
    starts: Option<DateTime<Utc>>,
) -> Result<Wall> {
    change(conn, gym, class, |wall| {
        if wall.stage.as_deref() != from || from == to {
            return wall;
        }
        let mut wall = wall.turned(to);
        if wall.clock == WallClock::default() {
            wall.clock.started = starts;
        }
        wall
    })
}

/// A clock that was changed, by any process.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Told {
    /// Whose.
    pub gym: GymId,
    /// Of which class.
    pub class: ClassId,
    /// Key of the part that is shown.
    pub stage: Option<String>,
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
    let stage = words.next().filter(|w| *w != "-").map(str::to_owned);
    Some(Told { gym, class, stage, clock })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_part_keeps_its_clock_while_another_is_shown() {
        let at = |s: i64| DateTime::from_timestamp(1_800_000_000 + s, 0).unwrap();
        let runs = |s: i64| WallClock { started: Some(at(s)), paused: None };
        let old = Wall { stage: None, clock: runs(0), ..Wall::default() };
        // a clock that ran before there were parts is the workout's, wherever the walls have gone
        assert_eq!(old.clock_of("workout-1"), runs(0));
        let warm = old.turned(Some("warm-up"));
        assert_eq!((warm.clock, warm.clock_of("workout-1")), (WallClock::default(), runs(0)));
        let work = Wall { clock: runs(5), ..warm }.turned(Some("workout-1"));
        let work = Wall { clock: runs(9), ..work }.turned(Some("cool-down"));
        assert_eq!((work.clock_of("workout-1"), work.clock_of("warm-up")), (runs(9), runs(5)));
        assert_eq!(work.turned(Some("workout-1")).clock, runs(9));
    }

    #[test]
    fn what_cannot_be_read_is_told_to_nobody() {
        let (g, c) = (Uuid::now_v7(), Uuid::now_v7());
        let told = read(&format!("{g} {c} 1800000000000 - warm-up")).unwrap();
        assert_eq!(told.stage.as_deref(), Some("warm-up"));
        assert_eq!(read(&format!("{g} {c} - - -")).unwrap().stage, None);
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
