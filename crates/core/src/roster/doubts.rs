//! What is known of a member and does not fit together: asked, and until it is answered ranges are wider.

use super::Member;
use crate::loads::own_one_rm;
use crate::movement::catalogue;
use crate::pacing::{Athlete, Level, fit_tests};
use crate::ratios;
use crate::units::{WeightUnit, clock, plain};
use chrono::NaiveDate;

/// Two lifts that stand further from their usual relation than so many of its sds (own).
const LIFTS_APART: f64 = 2.5;
/// Engines from a row and a run further apart than this, as a logarithm (own).
const TRIALS_APART: f64 = 0.2;

/// Two things known of a member that do not fit.
#[derive(Debug, Clone, PartialEq)]
pub enum Doubt {
    /// Two lifts: (catalogue id, 1RM in kg), and what the second would be by the first, kg.
    Lifts {
        /// The one that is high for the other.
        high: (String, f64),
        /// The one that is low.
        low: (String, f64),
        /// The low one as the high one says, kg.
        expected: f64,
    },
    /// A row and a run: s each, and the run as the row says.
    Trials {
        /// 2 km row.
        row: f64,
        /// 1 km run.
        run: f64,
        /// The run by the row.
        expected: f64,
    },
}

impl Doubt {
    /// The question, with weights in the hall's unit.
    pub fn says(&self, unit: WeightUnit) -> String {
        match self {
            Doubt::Lifts { high, low, expected } => {
                let name = |id: &str| catalogue().name(id).to_lowercase();
                let said = |kg: f64| format!("{} {}", plain((kg / unit.kg()).round()), unit.word());
                format!(
                    "{} {} and {} {} do not fit: by the first the second would be about {}. Is one of them old or mistyped?",
                    name(&high.0),
                    said(high.1),
                    name(&low.0),
                    said(low.1),
                    said(*expected)
                )
            }
            Doubt::Trials { row, run, expected } => format!(
                "A 2 km row of {} and a 1 km run of {} do not fit: by the row the run would be about {}. Is one of them old or mistyped?",
                clock(*row),
                clock(*run),
                clock(*expected)
            ),
        }
    }

    /// Whether it speaks of a lift.
    pub(super) fn of_lift(&self, lifts: &[&str]) -> bool {
        match self {
            Doubt::Lifts { high, low, .. } => {
                lifts.contains(&high.0.as_str()) || lifts.contains(&low.0.as_str())
            }
            Doubt::Trials { .. } => false,
        }
    }
}

/// All that does not fit together, lifts first.
pub fn doubts(member: &Member, today: NaiveDate) -> Vec<Doubt> {
    let new = member.level == Level::New;
    let mut out: Vec<Doubt> = ratios::pairs()
        .filter_map(|(a, b)| {
            let (x, y) = (own_one_rm(member, &a.id, today)?, own_one_rm(member, &b.id, today)?);
            let usual = b.share(member.standard, new) / a.share(member.standard, new);
            let off = (y / x / usual).ln() / a.spread_from(b, member.standard);
            let ((high, h), (low, l), usual) =
                if off < 0.0 { ((a, x), (b, y), usual) } else { ((b, y), (a, x), 1.0 / usual) };
            (off.abs() > LIFTS_APART).then(|| Doubt::Lifts {
                high: (high.id.clone(), h),
                low: (low.id.clone(), l),
                expected: h * usual,
            })
        })
        .collect();
    if let (Some(row), Some(run)) = (member.best_trial("row-2000"), member.best_trial("run-1000")) {
        let a = Athlete::of_level(member.standard, member.level);
        let by_row = fit_tests(&a, Some(row), None);
        let by_run = fit_tests(&a, None, Some(run));
        if (by_row.engine / by_run.engine).ln().abs() > TRIALS_APART {
            let expected = crate::pacing::all_out(&by_row, "run", 1000.0).unwrap_or_default();
            out.push(Doubt::Trials { row, run, expected });
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::super::{Max, Trial, ability};
    use super::*;
    use crate::units::{Provenance, Standard};

    fn day() -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
    }

    fn with(lifts: &[(&str, f64)], trials: &[(&str, f64)]) -> Member {
        let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
        for (lift, kg) in lifts {
            m.maxes.push(Max { lift: (*lift).into(), kg: *kg, reps: 1, reserve: 0, date: Some(day()) });
        }
        for (test, seconds) in trials {
            m.trials.push(Trial { test: (*test).into(), seconds: *seconds, date: Some(day()) });
        }
        m
    }

    #[test]
    fn a_front_squat_over_the_back_squat_is_asked() {
        // .84 of 140 is 117.6: 150 is 4.1 sds of .06 off; 125 is 1.02
        let m = with(&[("back-squat", 140.0), ("front-squat", 150.0)], &[]);
        let all = doubts(&m, day());
        assert_eq!(all.len(), 1);
        assert!(all[0].says(WeightUnit::Lb).starts_with("front squat 331 lb and back squat 309 lb"));
        assert_eq!(
            all[0].says(WeightUnit::Kg),
            "front squat 150 kg and back squat 140 kg do not fit: by the first the second would be about 179 kg. Is one of them old or \
             mistyped?"
        );
        assert_eq!(doubts(&with(&[("back-squat", 140.0), ("front-squat", 125.0)], &[]), day()), []);
        // until it is answered nothing of it is called tested
        let squat = |m: &Member| ability(m, day()).known.groups[0];
        assert_eq!(squat(&m), Provenance::Estimated);
        assert_eq!(squat(&with(&[("back-squat", 140.0)], &[])), Provenance::Tested);
    }

    #[test]
    fn a_row_and_a_run_that_do_not_fit_are_asked() {
        let m = with(&[], &[("row-2000", 420.0), ("run-1000", 330.0)]);
        let all = doubts(&m, day());
        assert!(
            all.len() == 1
                && all[0].says(WeightUnit::Kg).starts_with("A 2 km row of 7:00 and a 1 km run of 5:30"),
            "{all:?}"
        );
        assert_eq!(ability(&m, day()).known.engine, Provenance::Estimated);
        assert_eq!(doubts(&with(&[], &[("row-2000", 450.0), ("run-1000", 250.0)]), day()), []);
    }
}
