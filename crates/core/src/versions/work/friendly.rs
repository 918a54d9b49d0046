//! Numbers as a coach writes them: 15 and 20, not 16.8; runs in hundreds, rope turns in tens.

use crate::kinds::{Gear, Pattern};
use crate::movement::catalogue;
use crate::units::Unit;

/// Reps that stand on boards.
const REPS: [f64; 31] = [
    1.0, 2.0, 3.0, 4.0, 5.0, 6.0, 8.0, 9.0, 10.0, 12.0, 15.0, 16.0, 18.0, 20.0, 21.0, 24.0, 25.0, 27.0, 30.0,
    35.0, 40.0, 45.0, 50.0, 60.0, 70.0, 75.0, 80.0, 90.0, 100.0, 120.0, 150.0,
];
/// Calories that stand on boards.
const CALORIES: [f64; 15] =
    [5.0, 6.0, 8.0, 9.0, 10.0, 12.0, 15.0, 18.0, 20.0, 24.0, 25.0, 30.0, 35.0, 40.0, 50.0];

fn to(v: f64, step: f64) -> f64 {
    ((v / step).round() * step).max(step)
}

fn near(v: f64, of: &[f64]) -> f64 {
    of.iter().copied().min_by(|a, b| (a - v).abs().total_cmp(&(b - v).abs())).unwrap_or(v)
}

/// The nearest friendly amount of anything, at least 1.
pub fn friendly(v: f64, unit: Unit) -> f64 {
    match unit {
        Unit::Metres if v < 200.0 => to(v, 25.0),
        Unit::Metres if v < 400.0 => to(v, 50.0),
        Unit::Metres => to(v, 100.0),
        Unit::Seconds if v < 60.0 => to(v, 5.0),
        Unit::Seconds => to(v, 15.0),
        Unit::Calories if v <= 50.0 => near(v, &CALORIES),
        Unit::Calories => to(v, 10.0),
        Unit::Reps if v <= 150.0 => near(v, &REPS),
        Unit::Reps => to(v, 50.0),
    }
}

/// The nearest friendly amount of a movement: runs from 100 m in hundreds, carries and rope turns in tens.
pub fn friendly_count(movement: &str, v: f64, unit: Unit) -> f64 {
    let m = catalogue().movement(movement);
    let is = |pattern: Pattern| m.is_some_and(|m| m.pattern == pattern);
    let rope = m.is_some_and(|m| m.needs(Gear::JumpRope));
    match unit {
        Unit::Metres if is(Pattern::Carry) && v < 200.0 => to(v, 10.0),
        Unit::Metres if movement == "run" && v >= 75.0 => to(v, 100.0),
        Unit::Reps if rope && v >= 10.0 => to(v, 10.0),
        _ => friendly(v, unit),
    }
}

/// The most reps of a movement that are friendly and no more than `v`; at least 1.
pub fn friendly_at_most(movement: &str, v: f64) -> f64 {
    let nearest = friendly_count(movement, v, Unit::Reps);
    if nearest <= v + 1e-9 {
        return nearest;
    }
    let below = REPS.iter().rev().copied().filter(|n| *n <= v);
    let mut below = below.map(|n| friendly_count(movement, n, Unit::Reps)).filter(|n| *n <= v + 1e-9);
    below.next().unwrap_or(1.0)
}

/// Reps that two sides share: the next even number.
pub fn even_up(reps: f64) -> f64 {
    (reps / 2.0).ceil() * 2.0
}

/// All counts of a line of a movement times a factor.
pub fn friendly_counts(movement: &str, counts: &[[f64; 2]], factor: f64, unit: Unit) -> Vec<[f64; 2]> {
    let threes = counts.len() > 1 && counts.iter().flatten().all(|c| (c % 3.0).abs() < 1e-9);
    let one = |c: f64| {
        if (factor - 1.0).abs() < 1e-9 {
            c
        } else if threes {
            to(c * factor, 3.0)
        } else {
            friendly_count(movement, c * factor, unit)
        }
    };
    counts.iter().map(|c| c.map(one)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_cut_count_is_friendly_and_no_more_than_is_allowed() {
        for (v, said) in [(7.5, 6.0), (8.0, 8.0), (13.9, 12.0), (0.4, 1.0), (149.0, 120.0), (180.0, 150.0)] {
            assert_eq!(friendly_at_most("pull-up", v), said, "{v}");
        }
        assert_eq!(friendly_at_most("single-under", 47.0), 40.0);
        assert_eq!(friendly_at_most("single-under", 7.0), 6.0);
    }

    #[test]
    fn counts_read_like_a_coachs_hand() {
        assert_eq!(friendly(16.8, Unit::Reps), 16.0);
        assert_eq!(friendly(6.9, Unit::Reps), 6.0);
        assert_eq!(friendly(0.2, Unit::Reps), 1.0);
        assert_eq!(friendly(268.0, Unit::Metres), 250.0);
        assert_eq!(friendly(66.0, Unit::Reps), 70.0);
        assert_eq!(friendly(268.0, Unit::Reps), 250.0);
        assert_eq!(friendly(13.2, Unit::Calories), 12.0);
        assert_eq!((even_up(9.0), even_up(10.0), even_up(0.4)), (10.0, 10.0, 2.0));
        assert_eq!((friendly(52.0, Unit::Seconds), friendly(80.0, Unit::Seconds)), (50.0, 75.0));
        let scheme = friendly_counts("thruster", &[[21.0; 2], [15.0; 2], [9.0; 2]], 0.66, Unit::Reps);
        assert_eq!(scheme, vec![[15.0; 2], [9.0; 2], [6.0; 2]]);
    }

    #[test]
    fn runs_ropes_and_carries_have_steps_of_their_own() {
        assert_eq!(friendly_count("run", 268.0, Unit::Metres), 300.0);
        assert_eq!(friendly_count("row", 268.0, Unit::Metres), 250.0);
        assert_eq!(friendly_count("double-under", 33.0, Unit::Reps), 30.0);
        assert_eq!(friendly_count("farmers-carry", 33.0, Unit::Metres), 30.0);
    }
}
