//! The demo's regular classes, and what two of its members say of themselves.

use super::Hall;
use chrono::{NaiveDate, NaiveTime, Weekday};
use lantern_core::kinds::Limit;
use lantern_core::roster::{Max, Proposal};
use lantern_core::timetable::Regular;
use lantern_store::{PlainConnection as Conn, Result, own_page, timetable};

/// Places of every class of the demo.
pub(super) const PLACES: u32 = 16;

/// Days on which there are classes.
const DAYS: [Weekday; 6] =
    [Weekday::Mon, Weekday::Tue, Weekday::Wed, Weekday::Thu, Weekday::Fri, Weekday::Sat];

/// Noon and evening from Monday to Saturday, early on three days.
pub(super) fn timetable(conn: &mut Conn, hall: &Hall, from: NaiveDate) -> Result<()> {
    for (i, weekday) in DAYS.into_iter().enumerate() {
        let hours: &[(u32, u32)] = if i < 3 { &[(7, 0), (12, 15), (18, 0)] } else { &[(12, 15), (18, 0)] };
        for (n, (hour, minute)) in hours.iter().enumerate() {
            let at = NaiveTime::from_hms_opt(*hour, *minute, 0).unwrap_or_default();
            let class = Regular { weekday, at, length_s: None, places: Some(PLACES), from, until: None };
            timetable::add(conn, hall.gym, &class, hall.coaches.get((i + n) % 2).copied())?;
        }
    }
    Ok(())
}

/// A lift and a limit that wait for a coach.
pub(super) fn says(conn: &mut Conn, hall: &Hall, today: NaiveDate) -> Result<()> {
    let lifted = Max { lift: "back-squat".to_owned(), kg: 82.5, reps: 3, reserve: 1, date: today.pred_opt() };
    let all = [(4, Proposal::Lifted(lifted)), (9, Proposal::Spare(Limit::Wrist))];
    for (i, proposal) in all {
        if let Some(member) = hall.members.get(i) {
            own_page::propose(conn, hall.gym, *member, &proposal)?;
        }
    }
    Ok(())
}
