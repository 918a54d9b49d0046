//! What a coach changed in a form, put on what is known now: a lift that was added elsewhere while the form was open stays.

use super::{Best, Max, Member, Trial};

/// Figures nearer than this are one figure: forms print them to the hundredth.
const SAME: f64 = 0.011;

fn near(a: f64, b: f64) -> bool {
    (a - b).abs() < SAME
}

fn same_max(a: &Max, b: &Max) -> bool {
    a.lift == b.lift && near(a.kg, b.kg) && (a.reps, a.reserve, a.date) == (b.reps, b.reserve, b.date)
}

fn same_best(a: &Best, b: &Best) -> bool {
    a.movement == b.movement && near(a.reps, b.reps) && a.date == b.date
}

fn same_trial(a: &Trial, b: &Trial) -> bool {
    a.test == b.test && (a.seconds - b.seconds).abs() < 1.0 && a.date == b.date
}

/// Takes out of a list what fits, once; whether there was one.
fn take<T>(list: &mut Vec<T>, fits: impl Fn(&T) -> bool) -> bool {
    let at = list.iter().position(fits);
    at.map(|i| list.remove(i)).is_some()
}

/// The rows of a list after the change from what was shown to what was typed.
fn rows<T: Clone>(now: &[T], shown: &[T], typed: &[T], same: fn(&T, &T) -> bool) -> Vec<T> {
    let mut out = now.to_vec();
    let mut added = typed.to_vec();
    for s in shown {
        // still there as it was: nothing to do, and what is known keeps its own exact figure
        if !take(&mut added, |t| same(t, s)) {
            take(&mut out, |o| same(o, s));
        }
    }
    // somebody else may have added the very same meanwhile
    added.retain(|a| !out.iter().any(|o| same(o, a)));
    out.extend(added);
    out
}

/// What is known of a member after an edit: `shown` is what the form held when it was opened, `typed` what came back, `now` what is
/// known meanwhile. Only what the coach changed is changed.
pub fn edited(now: &Member, shown: &Member, typed: &Member) -> Member {
    let figure = |now: Option<f64>, shown: Option<f64>, typed: Option<f64>| match (shown, typed) {
        (Some(a), Some(b)) if near(a, b) => now,
        (None, None) => now,
        _ => typed,
    };
    Member {
        name: if typed.name == shown.name { now.name.clone() } else { typed.name.clone() },
        standard: if typed.standard == shown.standard { now.standard } else { typed.standard },
        level: if typed.level == shown.level { now.level } else { typed.level },
        body_mass_kg: figure(now.body_mass_kg, shown.body_mass_kg, typed.body_mass_kg),
        stature_cm: figure(now.stature_cm, shown.stature_cm, typed.stature_cm),
        hooks: if typed.hooks == shown.hooks { now.hooks } else { typed.hooks },
        maxes: rows(&now.maxes, &shown.maxes, &typed.maxes, same_max),
        unbroken: rows(&now.unbroken, &shown.unbroken, &typed.unbroken, same_best),
        trials: rows(&now.trials, &shown.trials, &typed.trials, same_trial),
        limits: rows(&now.limits, &shown.limits, &typed.limits, |a, b| a == b),
        ..now.clone()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kinds::Limit;
    use crate::pacing::Level;
    use crate::units::Standard;

    fn max(lift: &str, kg: f64) -> Max {
        Max { lift: lift.into(), kg, reps: 1, reserve: 0, date: "2026-09-01".parse().ok() }
    }

    fn ada() -> Member {
        let mut m = Member::unknown("Ada", Standard::Lighter, Level::Seasoned);
        m.maxes = vec![max("front-squat", 82.5), max("deadlift", 120.004)];
        m.trials = vec![Trial { test: "row-2000".into(), seconds: 478.4, date: "2026-03-01".parse().ok() }];
        m.limits = vec![Limit::Knee];
        m.body_mass_kg = Some(64.0);
        m
    }

    #[test]
    fn nothing_typed_changes_nothing() {
        let (now, shown) = (ada(), ada());
        assert_eq!(edited(&now, &shown, &shown), now);
        // as printed: 120 for 120.004, 7:58 for 478.4 s
        let mut printed = ada();
        printed.maxes[1].kg = 120.0;
        printed.trials[0].seconds = 478.0;
        assert_eq!(edited(&now, &shown, &printed), now, "exact figures stay");
    }

    #[test]
    fn what_was_added_meanwhile_stays_and_what_was_changed_changes() {
        let shown = ada();
        let mut now = ada();
        now.maxes.push(max("back-squat", 100.0));
        now.level = Level::Competitive;
        let mut typed = ada();
        typed.maxes[0].kg = 85.0;
        typed.limits.clear();
        typed.body_mass_kg = None;
        let after = edited(&now, &shown, &typed);
        let kg = |lift: &str| after.maxes.iter().filter(|m| m.lift == lift).map(|m| m.kg).collect::<Vec<_>>();
        assert_eq!(
            (kg("back-squat"), kg("front-squat"), kg("deadlift")),
            (vec![100.0], vec![85.0], vec![120.004])
        );
        assert_eq!((after.level, after.body_mass_kg, after.limits.len()), (Level::Competitive, None, 0));
    }

    #[test]
    fn a_row_taken_out_goes_and_the_same_added_twice_is_one() {
        let shown = ada();
        let mut typed = ada();
        typed.maxes.remove(0);
        assert_eq!(edited(&ada(), &shown, &typed).maxes, [max("deadlift", 120.004)]);
        let mut now = ada();
        now.maxes.push(max("bench-press", 60.0));
        let mut typed = ada();
        typed.maxes.push(max("bench-press", 60.0));
        assert_eq!(edited(&now, &shown, &typed).maxes.len(), 3);
    }
}
