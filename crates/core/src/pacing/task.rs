//! A movement at a load for one member, ready for the rep loop: set size, cycle time, costs.

use super::athlete::Athlete;
use super::math::pow;
use super::params::*;
use super::reserve::cost_for;
use super::table::{self, Kind, Row};
use super::workout::Asked;

/// One use of a reserve by a movement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Use {
    /// Which group.
    pub group: usize,
    /// Cost of one step.
    pub cost: f64,
    /// Weight against the primary group.
    pub weight: f64,
}

/// What sets the pace of a step.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Pace {
    /// Hands and legs.
    Cycle,
    /// Ground covered.
    Run,
    /// A machine in metres.
    ErgMetres,
    /// A machine in calories.
    ErgCalories,
}

/// A movement at a load for one member.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Task {
    /// Slot in the workout's task list: the identity of "the same thing in hand".
    pub slot: usize,
    /// s per step.
    pub cycle: f64,
    /// es per step.
    pub energy: f64,
    pub pace: Pace,
    /// kcal/h at demand 1, machines only.
    pub display: f64,
    /// Reserves used, primary first.
    pub uses: [Use; 5],
    pub used: usize,
    /// s, shortest break.
    pub shortest_break: f64,
    pub setup: f64,
    pub stretch: f64,
    pub chunk: f64,
    /// Largest fresh set, native units.
    pub most: f64,
    /// Longest set before a miss, steps.
    pub skill_set: f64,
    /// Paced by cadence, not by breaks.
    pub flow: bool,
    /// Load over 1RM, 0 when unloaded.
    pub share: f64,
    pub feasible: bool,
    pub start: f64,
    /// How much sooner it is recovered from than from a long set, at least 1.
    pub quick: f64,
    /// What the sheet asks of its sets.
    pub asked: Asked,
}

impl Task {
    /// Whether a set ends by fatigue or by a miss, not only by the clock.
    pub fn limited(&self) -> bool {
        !self.flow || self.skill_set.is_finite()
    }

    /// The reserves in use.
    pub fn reserves(&self) -> &[Use] {
        self.uses.get(..self.used).unwrap_or(&[])
    }
}

/// Largest fresh set in native units, and load over 1RM. `residual` is this movement's own factor.
///
/// Loads: M = 1 + (A - 1)(1RM/load - 1), Epley 1985 shifted so that M = 1 at the 1RM.
pub fn most_reps(a: &Athlete, row: &Row, load: f64, residual: f64) -> (f64, f64) {
    let f = a.factor.get(row.primary).copied().unwrap_or(1.0);
    match &row.kind {
        Kind::Load(anchors) => {
            let rm =
                anchors.iter().map(|(l, q)| a.strength(*l, *q, row.primary)).fold(f64::INFINITY, f64::min);
            if load <= 0.0 {
                return (M_CAP, 0.0);
            }
            let share = load / rm;
            let mut most = 1.0 + (row.a - 1.0) * (1.0 / share - 1.0);
            if most > M_END {
                most = M_END + (most - M_END) * a.engine;
            }
            if most >= 1.0 {
                most = (most * residual).max(1.0);
            }
            (most.min(if row.unit == "rep" { M_CAP } else { 2000.0 }), share)
        }
        Kind::Reps(anchor, ratio) => {
            let most = ratio * a.unbroken.get(*anchor).copied().unwrap_or(0.0) + row.offset;
            (if most >= 1.0 { (most * f * residual).max(1.0) } else { most }, 0.0)
        }
        _ => (f64::INFINITY, 0.0),
    }
}

/// How much sooner a movement of body weight is recovered from, by how long its largest fresh set lasts, s.
fn quickness(row: &Row, lasts_s: f64) -> f64 {
    match row.kind {
        Kind::Reps(..) if !row.skill && row.unit == "rep" => pow((lasts_s / T_QUICK).min(1.0), -P_QUICK),
        _ => 1.0,
    }
}

/// The reserves that a row uses, primary first; `k`: what a step costs the primary one.
fn uses_of(row: &Row, k: f64) -> [Use; 5] {
    let mut uses = [Use { group: row.primary, cost: k, weight: 1.0 }; 5];
    for (slot, (g, w)) in uses.iter_mut().skip(1).zip(&row.secondary) {
        *slot = Use { group: *g, cost: w * k, weight: *w };
    }
    uses
}

/// Makes a movement (row) at a load in kg ready for one member.
pub fn resolve(a: &Athlete, row_index: usize, load: f64, residual: f64, slot: usize) -> Option<Task> {
    let row = table::at(row_index)?;
    let (most, share) = most_reps(a, row, load, residual);
    let feasible = most >= 0.999;
    let most = most.max(1.0);
    let heavy = 1.0 + HEAVY * (share - 0.4).max(0.0).powi(2);
    let chunk = row.chunk;
    let flow = row.stretch >= 1.45;
    let flowing = if flow && !row.skill { FLOWING } else { 1.0 };
    let mut cycle = row.c0 * chunk * if row.unit == "s" { 1.0 } else { a.cycle * heavy * flowing };
    let mut energy = (row.e_body + row.e_load * load / a.mass) * chunk;
    let mut display = 0.0;
    let pace = match row.kind {
        Kind::Run => {
            let per_m = a.run_cost * row.e_body;
            energy = per_m * chunk;
            cycle = RUN_FLOOR * (per_m * 1000.0 - U_RUN * a.reserve) / a.engine / 1000.0 * chunk;
            Pace::Run
        }
        Kind::ErgMetres(economy) | Kind::ErgCalories(economy) => {
            let metres = matches!(row.kind, Kind::ErgMetres(_));
            display = K * economy * pow(a.mass / 82.0, K_EXP) * a.erg;
            energy = if metres { 0.26 * chunk } else { 3600.0 / display * chunk };
            cycle = energy / (1.15 * a.engine);
            if metres { Pace::ErgMetres } else { Pace::ErgCalories }
        }
        _ => Pace::Cycle,
    };
    // misses, not fatigue, end the sets of a rope: its reserve is that of four such sets
    let skill_set = if row.skill { (most + 0.5).floor().max(1.0) } else { f64::INFINITY };
    let local = if row.skill { 4.0 * most } else { most };
    let quick = quickness(row, most / chunk * cycle);
    if row.thrown() {
        cycle += DROP * (share - DROP_FROM).max(0.0).powi(2) * row.single * a.cycle;
    }
    let k = if pace == Pace::Cycle {
        cost_for((local / chunk).max(1.0), cycle, row.start, quick)
    } else {
        A_CYC * RHO * energy / a.engine / TAU
    };
    Some(Task {
        slot,
        cycle,
        energy,
        pace,
        display,
        uses: uses_of(row, k),
        used: 1 + row.secondary.len().min(4),
        shortest_break: if row.unit == "rep" { (row.single - row.c0).max(1.0) } else { row.single },
        setup: row.setup,
        stretch: row.stretch,
        chunk,
        most,
        skill_set,
        flow,
        share,
        feasible,
        start: row.start,
        quick,
        asked: Asked::default(),
    })
}
