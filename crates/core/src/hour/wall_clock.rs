//! The clock of a wall: when it was started and when it was stopped for a while. Pure: the moment is given.

use chrono::{DateTime, TimeDelta, Utc};
use serde::{Deserialize, Serialize};

/// From the press to 0:00, s: time to put the phone away (own).
const LEAD_IN_S: i64 = 10;

/// A wall's clock.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct WallClock {
    /// The moment of 0:00, which may be still to come; `None`: it stands.
    pub started: Option<DateTime<Utc>>,
    /// Since when it is stopped.
    pub paused: Option<DateTime<Utc>>,
}

/// What is pressed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Press {
    /// It runs from 0:00 after the lead-in. One that was started is not started again.
    Start,
    /// It stops where it is.
    Pause,
    /// It goes on from there.
    GoOn,
    /// It stands at 0:00.
    Back,
}

impl Press {
    /// All.
    pub const ALL: [Press; 4] = [Press::Start, Press::Pause, Press::GoOn, Press::Back];

    /// Its word in a form.
    pub fn word(self) -> &'static str {
        match self {
            Press::Start => "start",
            Press::Pause => "pause",
            Press::GoOn => "go-on",
            Press::Back => "reset",
        }
    }

    /// From its word.
    pub fn read(word: &str) -> Option<Press> {
        Press::ALL.into_iter().find(|p| p.word() == word)
    }
}

impl WallClock {
    /// The clock after a press at a moment. A second press, or another coach's, of the same changes nothing.
    #[must_use]
    pub fn after(self, press: Press, now: DateTime<Utc>) -> WallClock {
        match (press, self.started, self.paused) {
            (Press::Start, None, _) => {
                WallClock { started: Some(now + TimeDelta::seconds(LEAD_IN_S)), paused: None }
            }
            (Press::Pause, Some(_), None) => WallClock { paused: Some(now), ..self },
            (Press::GoOn, Some(started), Some(paused)) => {
                WallClock { started: Some(started + (now - paused).max(TimeDelta::zero())), paused: None }
            }
            (Press::Back, ..) => WallClock::default(),
            _ => self,
        }
    }

    /// s on the clock at a moment, below 0 in the lead-in; `None` while it stands.
    pub fn shows(self, now: DateTime<Utc>) -> Option<f64> {
        let at = self.paused.unwrap_or(now);
        self.started.map(|started| (at - started).num_milliseconds() as f64 / 1000.0)
    }

    /// What makes sense to press.
    pub fn presses(self) -> &'static [Press] {
        match (self.started, self.paused) {
            (None, _) => &[Press::Start],
            (Some(_), None) => &[Press::Pause, Press::Back],
            (Some(_), Some(_)) => &[Press::GoOn, Press::Back],
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(s: i64) -> DateTime<Utc> {
        DateTime::from_timestamp(1_800_000_000 + s, 0).unwrap()
    }

    #[test]
    fn presses_move_a_clock_and_a_second_press_moves_nothing() {
        let c = WallClock::default().after(Press::Pause, at(0)).after(Press::GoOn, at(0));
        assert_eq!(c, WallClock::default(), "what stands is neither stopped nor gone on with");
        let c = c.after(Press::Start, at(0)).after(Press::Start, at(4));
        assert_eq!(c, WallClock { started: Some(at(10)), paused: None });
        let c = c.after(Press::Pause, at(70)).after(Press::Pause, at(80));
        assert_eq!(c, WallClock { started: Some(at(10)), paused: Some(at(70)) });
        assert_eq!(c.after(Press::Start, at(90)), c, "a stopped clock goes on, it does not start");
        // 20 s stopped: what read 1:00 at 70 s reads 1:00 at 90 s
        let c = c.after(Press::GoOn, at(90)).after(Press::GoOn, at(95));
        assert_eq!(c, WallClock { started: Some(at(30)), paused: None });
        assert_eq!(c.after(Press::Back, at(100)), WallClock::default());
    }

    #[test]
    fn it_shows_the_lead_in_below_zero_and_stands_still_while_it_is_stopped() {
        let c = WallClock::default().after(Press::Start, at(0));
        assert_eq!((c.shows(at(4)), c.shows(at(72))), (Some(-6.0), Some(62.0)));
        assert_eq!(c.after(Press::Pause, at(72)).shows(at(500)), Some(62.0));
        assert_eq!(WallClock::default().shows(at(0)), None);
    }

    #[test]
    fn what_can_be_pressed_changes_the_clock_and_nothing_else_does() {
        let running = WallClock::default().after(Press::Start, at(0));
        for c in [WallClock::default(), running, running.after(Press::Pause, at(30))] {
            let changes = |p: &Press| c.after(*p, at(60)) != c;
            assert!(c.presses().iter().all(changes), "{c:?}");
            let all = Press::ALL.iter().filter(|p| changes(p)).count();
            assert_eq!(all, c.presses().len(), "{c:?}");
        }
        assert!(Press::ALL.iter().all(|p| Press::read(p.word()) == Some(*p)));
    }

    #[test]
    fn a_stop_in_the_lead_in_keeps_what_is_left_of_it() {
        let c = WallClock::default().after(Press::Start, at(0)).after(Press::Pause, at(4));
        assert_eq!(c.after(Press::GoOn, at(60)).started, Some(at(66)));
    }
}
