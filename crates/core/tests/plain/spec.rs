//! A movement at a load for a member.

use super::reserve::cost_for;
use lantern_core::pacing::Athlete;
use lantern_core::pacing::params::*;
use lantern_core::pacing::table::{self, Kind, Row};

/// A movement at a load for a member.
#[derive(Clone)]
pub struct Spec {
    pub row: &'static Row,
    pub cycle: f64,
    pub energy: f64,
    /// 0: reps, 1: run, 2: machine by metres, 3: by calories.
    pub kind: u8,
    pub display: f64,
    /// (reserve, cost of a step, weight), the primary first.
    pub used: Vec<(usize, f64, f64)>,
    pub shortest_break: f64,
    pub flow: bool,
    pub skill_set: f64,
    pub quick: f64,
    pub feasible: bool,
}

fn most_reps(a: &Athlete, row: &Row, load: f64) -> (f64, f64) {
    let factor = a.factor[row.primary];
    match &row.kind {
        Kind::Load(anchors) => {
            let one = anchors.iter().map(|(i, q)| a.one_rm[*i] * q).fold(f64::INFINITY, f64::min)
                * factor.powf(LAM);
            if load <= 0.0 {
                return (M_CAP, 0.0);
            }
            let share = load / one;
            let mut most = 1.0 + (row.a - 1.0) * (1.0 / share - 1.0);
            if most > M_END {
                most = M_END + (most - M_END) * a.engine;
            }
            (most.min(if row.unit == "rep" { M_CAP } else { 2000.0 }), share)
        }
        Kind::Reps(i, q) => {
            let most = q * a.unbroken[*i] + row.offset;
            (if most >= 1.0 { (most * factor).max(1.0) } else { most }, 0.0)
        }
        _ => (f64::INFINITY, 0.0),
    }
}

pub fn resolve(a: &Athlete, row: usize, load: f64) -> Spec {
    let row = table::at(row).unwrap();
    let (raw, share) = most_reps(a, row, load);
    let most = raw.max(1.0);
    let heavy = 1.0 + HEAVY * (share - 0.4).max(0.0).powi(2);
    let mut cycle = row.c0 * row.chunk * if row.unit == "s" { 1.0 } else { a.cycle * heavy };
    if row.unit != "s" && row.stretch >= 1.45 && !row.skill {
        cycle *= FLOWING;
    }
    let mut energy = (row.e_body + row.e_load * load / a.mass) * row.chunk;
    let (mut kind, mut display) = (0, 0.0);
    match row.kind {
        Kind::Run => {
            kind = 1;
            let metre = a.run_cost * row.e_body;
            energy = metre * row.chunk;
            cycle = RUN_FLOOR * (metre * 1000.0 - U_RUN * a.reserve) / a.engine / 1000.0 * row.chunk;
        }
        Kind::ErgMetres(economy) | Kind::ErgCalories(economy) => {
            kind = if matches!(row.kind, Kind::ErgMetres(_)) { 2 } else { 3 };
            display = K * economy * (a.mass / 82.0).powf(K_EXP) * a.erg;
            energy = if kind == 2 { 0.26 * row.chunk } else { 3600.0 / display * row.chunk };
            cycle = energy / (1.15 * a.engine);
        }
        _ => {}
    }
    let mut quick = 1.0;
    if matches!(row.kind, Kind::Reps(..)) && !row.skill && row.unit == "rep" {
        let lasts = most / row.chunk * cycle;
        quick = if lasts >= T_QUICK { 1.0 } else { (T_QUICK / lasts).powf(P_QUICK) };
    }
    if matches!(row.kind, Kind::Load(_)) && row.a < 28.0 && share > DROP_FROM {
        cycle += DROP * (share - DROP_FROM).powi(2) * row.single * a.cycle;
    }
    let (mut of, mut skill_set) = (most, f64::INFINITY);
    if row.skill {
        skill_set = (most + 0.5).floor().max(1.0);
        of *= 4.0;
    }
    let cost = if kind == 0 {
        cost_for((of / row.chunk).max(1.0), cycle, row.start, quick)
    } else {
        A_CYC * RHO * energy / a.engine / TAU
    };
    let mut used = vec![(row.primary, cost, 1.0)];
    used.extend(row.secondary.iter().map(|(g, w)| (*g, w * cost, *w)));
    Spec {
        row,
        cycle,
        energy,
        kind,
        display,
        used,
        shortest_break: if row.unit == "rep" { (row.single - row.c0).max(1.0) } else { row.single },
        flow: row.stretch >= 1.45,
        skill_set,
        quick,
        feasible: raw >= 0.999,
    }
}
