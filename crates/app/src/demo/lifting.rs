//! What the demo's members lifted: their hidden true abilities decide how many reps were left, and where the day's maximum
//! ended. Two cycles run: one is in its third week, one was tested last week.

use super::results::seed_of;
use chrono::{Duration, NaiveDate};
use lantern_core::cycle::{Cycle, Given, Week, WeekKind, fill};
use lantern_core::loads::{Attempt, Bars, percent_for_reps};
use lantern_core::pacing::{Athlete, hidden_truth};
use lantern_core::plan::{ClassPlan, LiftPlan, lifter_state, new_base};
use lantern_core::sheet::PercentBase;
use lantern_store::lifting::{LiftedSet, Place, log};
use lantern_store::{ClassId, GymId, MemberId, PlainConnection as Conn, cycle, kit, roster};

/// Reps beyond which nobody says how many were left.
const MOST_LEFT: u32 = 5;
/// Members whose maximum of the day is still to be kept as a base.
const NOT_KEPT: usize = 3;

fn work(sets: u32, reps: u32, low: f64, high: f64) -> Week {
    Week { kind: WeekKind::Work, sets, reps, low, high }
}

/// The demo's cycles, relative to this week's Monday.
pub(super) fn cycles(monday: NaiveDate) -> Vec<Cycle> {
    let squat = [
        Given::Week(work(5, 3, 74.0, 78.0)),
        Given::Open,
        Given::Open,
        Given::Open,
        Given::Week(work(5, 3, 82.0, 86.0)),
        Given::Week(Week { kind: WeekKind::Deload, ..work(3, 3, 60.0, 65.0) }),
    ];
    let pull = [
        Given::Week(Week { kind: WeekKind::Base, ..work(1, 3, 0.0, 0.0) }),
        Given::Week(work(4, 4, 75.0, 80.0)),
        Given::Open,
        Given::Week(work(4, 2, 87.0, 92.0)),
        Given::Week(Week { kind: WeekKind::Deload, ..work(3, 4, 60.0, 65.0) }),
    ];
    let of = |name: &str, lift: &str, start, of, weeks: &[Given]| Cycle {
        name: name.to_owned(),
        lift: lift.to_owned(),
        start,
        of,
        every_s: Some(150),
        window_s: 900,
        weeks: fill(weeks).unwrap_or_default(),
        held: Vec::new(),
    };
    vec![
        of("Front squat to the turn", "front-squat", monday - Duration::days(14), PercentBase::OneRm, &squat),
        of("Pull before the frost", "deadlift", monday - Duration::days(7), PercentBase::RepMax(3), &pull),
    ]
}

/// Adds the cycles.
pub(super) fn add_cycles(conn: &mut Conn, gym: GymId, monday: NaiveDate) -> lantern_store::Result<()> {
    for c in cycles(monday) {
        cycle::add(conn, gym, &c)?;
    }
    Ok(())
}

/// Reps that somebody with this 1RM has at a load.
fn reps_at(one_rm: f64, kg: f64) -> u32 {
    (1..=20).rev().find(|r| kg <= one_rm * percent_for_reps(*r) / 100.0).unwrap_or(0)
}

fn went(truth: &Athlete, lift: &str, kg: f64, reps: u32) -> Attempt {
    let able = truth.one_rm_of(lift).map_or(reps + 2, |one| reps_at(one, kg));
    if able < reps {
        return Attempt { kg, reps: able, reserve: None, missed: true };
    }
    Attempt { kg, reps, reserve: Some((able - reps).min(MOST_LEFT)), missed: false }
}

/// Logs the lifts of a class that was held.
pub(super) fn log_lifts(
    conn: &mut Conn,
    gym: GymId,
    class: ClassId,
    made: &ClassPlan,
    date: NaiveDate,
) -> lantern_store::Result<()> {
    let bars = Bars::of(&kit::find(conn, gym)?);
    for s in &made.strength {
        for (position, l) in s.lifts.iter().enumerate() {
            for (n, (i, _)) in l.members.iter().enumerate() {
                let Some(sets) = sets_of(made, l, *i, &bars) else { continue };
                let Some(m) = made.members.get(*i) else { continue };
                let Ok(member) = m.id.parse::<MemberId>() else { continue };
                for (number, went) in (1..).zip(&sets) {
                    let place = Place {
                        member,
                        block: u32::try_from(s.block).unwrap_or(0),
                        lift: u32::try_from(position).unwrap_or(0),
                        number,
                    };
                    let movement = l.of(*i).map(|x| x.lift.clone()).unwrap_or_default();
                    log(conn, gym, class, &LiftedSet { place, movement, went: *went })?;
                }
                let kept = n + NOT_KEPT < l.members.len();
                if let (true, Some((best, false))) = (kept, new_base(l, *i, m, &sets, date)) {
                    roster::add_maxes(conn, gym, member, &[best])?;
                }
            }
        }
    }
    Ok(())
}

fn sets_of(made: &ClassPlan, l: &LiftPlan, i: usize, bars: &Bars) -> Option<Vec<Attempt>> {
    let (m, ability, own) = (made.members.get(i)?, made.abilities.get(i)?, l.of(i)?);
    let truth = hidden_truth(&ability.athlete, &ability.known, seed_of(&m.name));
    let mut done = Vec::new();
    // a build goes on until it stops by its own rule, or its sets are used up
    let most = l.heavy.as_ref().map_or(own.working().count(), |h| h.fit.max(1));
    while done.len() < most {
        let Some(next) = lifter_state(l, i, m, bars, &done)?.next else { break };
        if next.load_kg <= 0.0 {
            return None;
        }
        done.push(went(&truth, &own.lift, next.load_kg, next.reps));
    }
    Some(done)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_left_follows_from_the_true_ability() {
        // 5 reps are 87.3 % of one, 8 are 79.7 %
        assert_eq!((reps_at(100.0, 87.0), reps_at(100.0, 79.0), reps_at(100.0, 101.0)), (5, 8, 0));
    }

    #[test]
    fn the_squat_cycle_is_in_the_week_that_todays_sheet_says() {
        let monday = NaiveDate::from_ymd_opt(2026, 11, 23).unwrap();
        let all = cycles(monday);
        assert!(all.iter().all(|c| c.check().is_empty()));
        let week = all[0].week_at(monday + Duration::days(1)).unwrap();
        assert_eq!((week, all[0].says(week).as_str()), (2, "5 x 3 at 78 to 82 %"));
        assert_eq!(all[1].week_at(monday), Some(1));
    }
}
