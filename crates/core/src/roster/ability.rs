//! From what is known about a member to what the pacing model needs: maxes, best sets, engine, and how well
//! each of them is known.

use super::Member;
use super::doubts::{Doubt, doubts};
use crate::learning::{Format, Learnt};
use crate::loads::{estimate, of_level};
use crate::pacing::table::{GROUPS, LIFTS, REP_ANCHORS};
use crate::pacing::{Athlete, Known, fit_tests};
use crate::ratios::mass_factor;
use crate::units::Provenance;
use chrono::NaiveDate;

/// A member as the simulator sees them.
#[derive(Debug, Clone)]
pub struct Ability {
    /// Numbers.
    pub athlete: Athlete,
    /// How well they are known.
    pub known: Known,
    /// How results have moved their forecasts.
    pub learnt: Option<Learnt>,
}

impl Ability {
    /// How much later than foretold such work is for them by what results taught, in logarithms.
    pub fn late(&self, format: Format) -> f64 {
        self.learnt.as_ref().map_or(0.0, |l| l.late(format))
    }
}

/// Which lifts and best sets say something about a group (own estimate, after the pacing table's weights).
pub(super) const SPEAKS_OF: [(&str, &[&str], &[&str]); 7] = [
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

/// What was tested within so many days is known.
const FRESH_DAYS: i64 = 26 * 7;
/// Running gets slower with this power of body mass above the reference.
const RUN_MASS_POWER: f64 = 0.25;

/// Reads a member's abilities; what is not known comes from level, standard and body mass.
pub fn ability(member: &Member, today: NaiveDate) -> Ability {
    let mut a = Athlete::of_level(member.standard, member.level);
    if let Some(mass) = member.body_mass_kg {
        let factor = mass_factor(mass, a.mass);
        a.unbroken_by_mass(1.0 / factor);
        a.run_cost *= (mass / a.mass).powf(RUN_MASS_POWER).max(1.0);
        a.mass = mass;
    }
    for (slot, lift) in a.one_rm.iter_mut().zip(LIFTS) {
        *slot = estimate(member, lift, today).map_or_else(|| of_level(member, lift), |e| e.kg);
    }
    for (slot, anchor) in a.unbroken.iter_mut().zip(REP_ANCHORS) {
        if let Some(best) = member.best_of(anchor) {
            *slot = best.reps;
        }
    }
    let (row, run) = (member.best_trial("row-2000"), member.best_trial("run-1000"));
    if row.is_some() || run.is_some() {
        a = fit_tests(&a, row, run);
    }
    Ability { athlete: a, known: known(member, today), learnt: member.learnt.clone() }
}

/// Whether something tested still says how it is today: dated, and not older than half a year.
fn fresh(date: Option<NaiveDate>, today: NaiveDate) -> bool {
    date.is_some_and(|d| (today - d).num_days() <= FRESH_DAYS)
}

/// Tested where something fresh says it, estimated where only something old, undated or related does. What does not fit together is
/// one step less until it is answered. How often somebody was there says nothing.
fn known(member: &Member, today: NaiveDate) -> Known {
    let doubts = doubts(member, today);
    let group = |name: &str| {
        let Some((_, lifts, sets)) = SPEAKS_OF.iter().find(|(g, ..)| *g == name) else {
            return Provenance::Assumed;
        };
        let singles = member.maxes.iter().filter(|m| lifts.contains(&m.lift.as_str()));
        let bests = member.unbroken.iter().filter(|b| sets.contains(&b.movement.as_str()));
        let tested = singles.clone().any(|m| m.reps == 1 && m.reserve == 0 && fresh(m.date, today))
            || bests.clone().any(|b| fresh(b.date, today));
        let related = (!member.maxes.is_empty() && !lifts.is_empty()) || bests.count() > 0;
        let doubted = doubts.iter().any(|d| d.of_lift(lifts));
        said_by(tested, related, doubted)
    };
    let trials = &member.trials;
    let doubted = doubts.iter().any(|d| matches!(d, Doubt::Trials { .. }));
    Known {
        engine: said_by(trials.iter().any(|t| fresh(t.date, today)), !trials.is_empty(), doubted),
        cycle: Provenance::Assumed,
        groups: GROUPS.map(group),
    }
}

fn said_by(tested: bool, related: bool, doubted: bool) -> Provenance {
    match (tested, related, doubted) {
        (true, _, false) => Provenance::Tested,
        (true, _, true) | (false, true, false) => Provenance::Estimated,
        (false, ..) => Provenance::Assumed,
    }
}
