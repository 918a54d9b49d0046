//! The hall's weeks: the classes that are held every week, who has a place in one and who waits, and how full its hours are.

mod feed;
mod names;

pub use feed::{Event, Happened, Outcome};
pub use names::{MOST_NAMES, Unclear, read_names};

use crate::kinds::words;
use chrono::{Datelike, Days, NaiveDate, NaiveDateTime, NaiveTime, Weekday};
use serde::{Deserialize, Serialize};

/// Places that a class may have.
pub const PLACES: std::ops::RangeInclusive<u32> = 1..=200;

/// A class that is held every week.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Regular {
    /// Its day.
    pub weekday: Weekday,
    /// Its hour, on the hall's clock.
    pub at: NaiveTime,
    /// s; as on the sheet or as is usual in the hall without.
    pub length_s: Option<u32>,
    /// Members who can be booked; as many as like without.
    pub places: Option<u32>,
    /// Its first day.
    pub from: NaiveDate,
    /// Its last day; `None`: it goes on.
    pub until: Option<NaiveDate>,
}

impl Regular {
    /// When it starts in the seven days from one on; `None` where it is not held in them.
    ///
    /// ```
    /// use chrono::{NaiveDate, NaiveTime, Weekday};
    /// use lantern_core::timetable::Regular;
    /// let day = |d| NaiveDate::from_ymd_opt(2026, 11, d).unwrap();
    /// let six = NaiveTime::from_hms_opt(18, 0, 0).unwrap();
    /// let class = Regular { weekday: Weekday::Wed, at: six, length_s: None, places: Some(16), from: day(9), until: Some(day(25)) };
    /// assert_eq!(class.in_week(day(23)), Some(day(25).and_time(six)));
    /// assert_eq!(class.in_week(day(26)), None);
    /// ```
    pub fn in_week(&self, first: NaiveDate) -> Option<NaiveDateTime> {
        let ahead = (7 + self.weekday.num_days_from_monday() - first.weekday().num_days_from_monday()) % 7;
        let day = first.checked_add_days(Days::new(u64::from(ahead)))?;
        let held = day >= self.from && self.until.is_none_or(|last| day <= last);
        held.then(|| day.and_time(self.at))
    }
}

words! {
    /// How somebody who was booked came, where it was not as booked.
    Came {
        Late = "late",
        NotAtAll = "no-show",
    }
}

impl Came {
    /// As people read it.
    pub fn says(self) -> &'static str {
        match self {
            Came::Late => "came late",
            Came::NotAtAll => "did not come",
        }
    }
}

/// Where somebody stands who signed up for a class.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Standing {
    /// They have a place.
    Booked,
    /// They wait: how many are before them.
    Waits(u32),
}

impl Standing {
    /// Of the one who signed up as number `order`, from 0. Whoever goes makes a place for the first who waits.
    ///
    /// ```
    /// use lantern_core::timetable::Standing;
    /// assert_eq!(Standing::of(15, Some(16)), Standing::Booked);
    /// assert_eq!(Standing::of(17, Some(16)), Standing::Waits(1));
    /// assert_eq!(Standing::of(500, None), Standing::Booked);
    /// ```
    pub fn of(order: usize, places: Option<u32>) -> Standing {
        let order = u32::try_from(order).unwrap_or(u32::MAX);
        match places {
            Some(n) if order >= n => Standing::Waits(order - n),
            _ => Standing::Booked,
        }
    }
}

/// An hour that is emptier or fuller than it should be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fullness {
    /// Less than half of the places are taken: room for those who wait elsewhere.
    Room,
    /// Hardly a place is free: whoever wants one waits.
    Full,
}

/// Shares of the places below which an hour has room and from which it is full (own).
const ROOM_FULL: [f64; 2] = [0.5, 0.95];

/// How full an hour of the week was.
#[derive(Debug, Clone, PartialEq)]
pub struct Fill {
    /// Day and hour.
    pub at: (Weekday, NaiveTime),
    /// Classes counted.
    pub classes: u32,
    /// Members booked on average, those who wait among them.
    pub booked: f64,
    /// Places of the latest that has any.
    pub places: Option<u32>,
}

impl Fill {
    /// Taken share of the places; `None` where there is no number of them.
    pub fn share(&self) -> Option<f64> {
        self.places.map(|n| self.booked / f64::from(n))
    }

    /// Whether it is emptier or fuller than it should be.
    pub fn fullness(&self) -> Option<Fullness> {
        match self.share()? {
            share if share < ROOM_FULL[0] => Some(Fullness::Room),
            share if share >= ROOM_FULL[1] => Some(Fullness::Full),
            _ => None,
        }
    }
}

/// How full each hour of the week was, of classes by their start, those who signed up and the places; by day and hour.
pub fn fills(classes: &[(NaiveDateTime, u32, Option<u32>)]) -> Vec<Fill> {
    let mut out: Vec<Fill> = Vec::new();
    let mut all = classes.to_vec();
    all.sort_by_key(|(at, ..)| (at.weekday().num_days_from_monday(), at.time(), at.date()));
    for (start, booked, places) in all {
        let at = (start.weekday(), start.time());
        match out.last_mut().filter(|f| f.at == at) {
            Some(f) => {
                f.booked = (f.booked * f64::from(f.classes) + f64::from(booked)) / f64::from(f.classes + 1);
                f.classes += 1;
                f.places = places.or(f.places);
            }
            None => out.push(Fill { at, classes: 1, booked: f64::from(booked), places }),
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day(d: u32) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 11, d).unwrap()
    }

    fn at(h: u32) -> NaiveTime {
        NaiveTime::from_hms_opt(h, 0, 0).unwrap()
    }

    #[test]
    fn a_regular_class_is_held_on_its_day_from_its_first_to_its_last() {
        let of = |weekday, from, until: Option<u32>| Regular {
            weekday,
            at: at(6),
            length_s: None,
            places: None,
            from: day(from),
            until: until.map(day),
        };
        // weeks that begin on a Sunday, a Monday, a Wednesday
        for first in [22, 23, 25] {
            let found = of(Weekday::Tue, 1, None).in_week(day(first)).unwrap();
            assert_eq!((found.weekday(), found.time()), (Weekday::Tue, at(6)));
            let ahead = (found.date() - day(first)).num_days();
            assert!((0..7).contains(&ahead), "{first}: {ahead}");
        }
        assert_eq!(of(Weekday::Tue, 25, None).in_week(day(23)), None, "it begins the week after");
        assert!(of(Weekday::Tue, 24, Some(24)).in_week(day(23)).is_some(), "held once");
        assert_eq!(of(Weekday::Tue, 1, Some(23)).in_week(day(23)), None);
    }

    #[test]
    fn whoever_goes_makes_a_place_for_the_first_who_waits() {
        let of = |order: usize| Standing::of(order, Some(2));
        assert_eq!(
            [0, 1, 2, 3].map(of),
            [Standing::Booked, Standing::Booked, Standing::Waits(0), Standing::Waits(1)]
        );
        // the second goes: the third is second now
        assert_eq!(of(2 - 1), Standing::Booked);
    }

    #[test]
    fn hours_are_averaged_by_hand() {
        let all = fills(&[
            (day(16).and_time(at(18)), 14, Some(16)),
            (day(23).and_time(at(18)), 18, Some(20)),
            (day(23).and_time(at(6)), 3, None),
            (day(24).and_time(at(18)), 9, Some(12)),
        ]);
        let seen: Vec<_> = all.iter().map(|f| (f.at.0, f.at.1, f.classes, f.booked, f.places)).collect();
        assert_eq!(
            seen,
            [
                (Weekday::Mon, at(6), 1, 3.0, None),
                (Weekday::Mon, at(18), 2, 16.0, Some(20)),
                (Weekday::Tue, at(18), 1, 9.0, Some(12)),
            ]
        );
        assert_eq!((all[1].share(), all[0].share()), (Some(0.8), None));
        let of = |booked, places| Fill { booked, places, ..all[0].clone() }.fullness();
        assert_eq!((of(7.9, Some(16)), of(8.0, Some(16))), (Some(Fullness::Room), None));
        assert_eq!(
            (of(15.1, Some(16)), of(15.2, Some(16)), of(18.0, Some(16))),
            (None, Some(Fullness::Full), Some(Fullness::Full))
        );
        assert_eq!(of(30.0, None), None);
    }
}
