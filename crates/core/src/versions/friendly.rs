//! Numbers as a coach writes them: 15 and 20, not 16.8; distances in fifties; schemes in threes where they were.

use crate::units::Unit;

/// Counts between 13 and 30 that stand on boards.
const BOARD: [f64; 9] = [14.0, 15.0, 16.0, 18.0, 20.0, 21.0, 24.0, 25.0, 30.0];

fn to(v: f64, step: f64) -> f64 {
    ((v / step).round() * step).max(step)
}

/// The nearest friendly amount, at least 1.
pub fn friendly(v: f64, unit: Unit) -> f64 {
    match unit {
        Unit::Metres if v < 100.0 => to(v, 5.0),
        Unit::Metres if v < 1000.0 => to(v, 50.0),
        Unit::Metres => to(v, 100.0),
        Unit::Seconds => to(v, 5.0),
        Unit::Reps | Unit::Calories => match v {
            v if v < 13.0 => v.round().max(1.0),
            v if v <= 30.0 => {
                BOARD.into_iter().min_by(|a, b| (a - v).abs().total_cmp(&(b - v).abs())).unwrap_or(v.round())
            }
            v if v <= 100.0 => to(v, 5.0),
            v => to(v, 10.0),
        },
    }
}

/// All counts of a line times a factor. A scheme of multiples of three stays one.
pub fn friendly_counts(counts: &[[f64; 2]], factor: f64, unit: Unit) -> Vec<[f64; 2]> {
    let threes = counts.len() > 1 && counts.iter().flatten().all(|c| (c % 3.0).abs() < 1e-9);
    let even =
        counts.len() == 1 && unit == Unit::Reps && counts.iter().flatten().all(|c| (c % 2.0).abs() < 1e-9);
    let one = |c: f64| {
        if (factor - 1.0).abs() < 1e-9 {
            c
        } else if threes {
            to(c * factor, 3.0)
        } else {
            let v = friendly(c * factor, unit);
            // even counts stay even where they may be shared between two sides or sets
            if even && v < 13.0 && v % 2.0 != 0.0 && v > 5.0 { v - 1.0 } else { v }
        }
    };
    counts.iter().map(|c| c.map(one)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn counts_read_like_a_coachs_hand() {
        assert_eq!(friendly(16.8, Unit::Reps), 16.0);
        assert_eq!(friendly(7.2, Unit::Reps), 7.0);
        assert_eq!(friendly(0.2, Unit::Reps), 1.0);
        assert_eq!(friendly(268.0, Unit::Metres), 250.0);
        assert_eq!(friendly(66.0, Unit::Reps), 65.0);
        assert_eq!(friendly(133.0, Unit::Reps), 130.0);
        let scheme = friendly_counts(&[[21.0; 2], [15.0; 2], [9.0; 2]], 0.66, Unit::Reps);
        assert_eq!(scheme, vec![[15.0; 2], [9.0; 2], [6.0; 2]]);
        assert_eq!(friendly_counts(&[[12.0; 2]], 0.8, Unit::Reps), vec![[10.0; 2]]);
        assert_eq!(friendly_counts(&[[12.0; 2]], 0.55, Unit::Reps), vec![[6.0; 2]]);
    }
}
