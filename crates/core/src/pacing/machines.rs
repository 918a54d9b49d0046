//! Machines and ground: the time of a 2 km row, the pace of a piece against it, and amounts of other machines that ask the
//! same of the engine. Formulas: the machine's display (kcal/h = 3.4416 W + 300, W = 2.8 / (s/m)^3) as fitted in
//! [`super::params`], running by the member's own cost of a metre; equal engine seconds are equal time at equal effort.

use super::athlete::Athlete;
use super::policy::Policy;
use super::run::{settle, tasks_for};
use super::table;
use super::task::resolve;
use super::workout::{Amount, Node, Scored, Workout};
use crate::units::Unit;

/// What can stand in for each other: (row of the table, what it counts, a friendly step of it).
pub const MACHINES: [(&str, &str, f64); 6] = [
    ("row", "m row", 25.0),
    ("row-cal", "cal row", 1.0),
    ("ski", "m ski", 25.0),
    ("ski-cal", "cal ski", 1.0),
    ("bike", "cal bike", 1.0),
    ("run", "m run", 25.0),
];

/// s for a distance or count of one machine, all out and alone, by the member's own engine.
pub fn all_out(athlete: &Athlete, id: &str, amount: f64) -> Option<f64> {
    let mut workout = Workout::new(Scored::Time);
    workout.tasks = vec![(table::index(id)?, 0.0)];
    workout.body = vec![Node::Task(Amount::of(0, amount))];
    Some(settle(&workout, athlete, &tasks_for(&workout, athlete, &[]), &Policy::default()).1.time)
}

/// Engine seconds of one unit of a movement that the engine alone paces (run, rowed, ridden); `None` for every other.
pub(crate) fn engine_of_one(athlete: &Athlete, movement: &str, unit: Unit) -> Option<f64> {
    let task = resolve(athlete, table::index_for(movement, unit)?, 0.0, 1.0, 0)?;
    (task.pace != super::task::Pace::Cycle).then_some(task.energy / task.chunk)
}

/// Engine seconds of one unit.
fn engine_seconds(athlete: &Athlete, id: &str) -> Option<f64> {
    let task = resolve(athlete, table::index(id)?, 0.0, 1.0, 0)?;
    Some(task.energy / task.chunk)
}

/// Amounts of the other machines that ask as much of this member's engine as an amount of one: (row of the table, words).
pub fn equal(athlete: &Athlete, id: &str, amount: f64) -> Vec<(&'static str, String)> {
    let Some(whole) = engine_seconds(athlete, id).map(|e| e * amount) else { return Vec::new() };
    MACHINES
        .iter()
        .filter(|(other, ..)| *other != id)
        .filter_map(|(other, words, step)| {
            let n = whole / engine_seconds(athlete, other)?;
            let friendly = ((n / step).round() * step).max(*step);
            Some((*other, format!("{} {words}", crate::units::plain(friendly))))
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::{Level, fit_tests};
    use crate::units::Standard;

    #[test]
    fn a_test_of_two_kilometres_is_given_back() {
        let a = fit_tests(&Athlete::of_level(Standard::Heavier, Level::Regular), Some(440.0), None);
        assert!((all_out(&a, "row", 2000.0).unwrap() - 440.0).abs() < 1.0);
        assert!(all_out(&a, "flying", 1.0).is_none());
    }

    #[test]
    fn equal_amounts_cost_the_engine_the_same() {
        let a = Athlete::of_level(Standard::Heavier, Level::Regular);
        let of = |id: &str| equal(&a, "row", 500.0).into_iter().find(|(o, _)| *o == id).unwrap().1;
        // 500 m of 0.26 es are 130 es; a metre of running costs a regular member 0.335
        assert_eq!(of("run"), "400 m run");
        // the display shows 830 kcal/h at a demand of 1 and 82 kg: 4.3 es a calorie
        assert_eq!(of("row-cal"), "30 cal row");
        assert!(equal(&a, "row", 500.0).iter().all(|(o, _)| *o != "row"));
    }
}
