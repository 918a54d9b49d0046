//! From what is known about a member to what the pacing model needs: maxes, best sets, engine, and how well
//! each of them is known.

use super::Member;
use crate::loads::{Estimate, estimate};
use crate::pacing::table::{GROUPS, LIFTS, REP_ANCHORS};
use crate::pacing::{Athlete, Known, fit_tests};
use crate::units::Provenance;
use chrono::NaiveDate;

/// A member as the simulator sees them.
#[derive(Debug, Clone)]
pub struct Ability {
    /// Numbers.
    pub athlete: Athlete,
    /// How well they are known.
    pub known: Known,
}

/// Which lifts and best sets say something about a group (own estimate, after the pacing table's weights).
const SPEAKS_OF: [(&str, &[&str], &[&str]); 7] = [
    ("squat", &["back-squat", "front-squat", "overhead-squat"], &["air-squat", "pistol"]),
    ("hinge", &["deadlift", "power-clean", "squat-clean", "power-snatch"], &[]),
    (
        "push",
        &["strict-press", "push-press", "push-jerk", "bench-press"],
        &["push-up", "ring-dip", "handstand-push-up"],
    ),
    ("pull", &[], &["pull-up", "strict-pull-up", "muscle-up", "rope-climb"]),
    ("grip", &["deadlift"], &["pull-up", "toes-to-bar"]),
    ("core", &[], &["toes-to-bar", "sit-up", "plank"]),
    ("calf", &[], &["double-under", "box-jump"]),
];

/// Reads a member's abilities; what is not known comes from level, standard and body mass.
pub fn ability(member: &Member, today: NaiveDate) -> Ability {
    let mut a = Athlete::of_level(member.standard, member.level);
    if let Some(mass) = member.body_mass_kg {
        let f = mass / a.mass;
        a.mass = mass;
        // heavier people lift more, though less than in proportion
        a.one_rm = a.one_rm.map(|kg| kg * f.powf(2.0 / 3.0));
    }
    for (slot, lift) in a.one_rm.iter_mut().zip(LIFTS) {
        if let Some(Estimate { kg, .. }) = estimate(member, lift, today) {
            *slot = kg;
        }
    }
    for (slot, anchor) in a.unbroken.iter_mut().zip(REP_ANCHORS) {
        if let Some(best) = member.best_of(anchor) {
            *slot = best.reps;
        }
    }
    let trial =
        |name: &str| member.trials.iter().filter(|t| t.test == name).map(|t| t.seconds).reduce(f64::min);
    let (row, run) = (trial("row-2000"), trial("run-1000"));
    if row.is_some() || run.is_some() {
        a = fit_tests(&a, row, run);
    }
    Ability { athlete: a, known: known(member, row.is_some() || run.is_some()) }
}

fn known(member: &Member, trial: bool) -> Known {
    let logged = member.sessions_logged.unwrap_or(0);
    let default = if logged >= 10 { Provenance::Estimated } else { Provenance::Assumed };
    let group = |name: &str| {
        let Some((_, lifts, sets)) = SPEAKS_OF.iter().find(|(g, ..)| *g == name) else { return default };
        let tested =
            member.maxes.iter().any(|m| m.reps == 1 && m.reserve == 0 && lifts.contains(&m.lift.as_str()))
                || member.unbroken.iter().any(|b| sets.contains(&b.movement.as_str()));
        let related = !member.maxes.is_empty() && !lifts.is_empty();
        match (tested, related) {
            (true, _) => Provenance::Tested,
            (false, true) => Provenance::Estimated,
            (false, false) => default,
        }
    };
    Known {
        engine: if trial { Provenance::Tested } else { default },
        cycle: default,
        groups: GROUPS.map(group),
    }
}
