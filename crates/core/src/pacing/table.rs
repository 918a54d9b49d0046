//! What one unit of each movement costs: the rows of `data/pacing.csv`, read once. Rows marked
//! `own-estimate-after-X` were set by analogy with movement X and never tuned.

use std::collections::HashMap;
use std::sync::LazyLock;

/// Muscle groups with a reserve of their own, in the order of all arrays here.
pub const GROUPS: [&str; 7] = ["squat", "hinge", "push", "pull", "grip", "core", "calf"];

/// Lifts whose 1RM anchors loaded movements, in the order of [`super::Athlete::one_rm`].
pub const LIFTS: [&str; 12] = [
    "back-squat",
    "front-squat",
    "overhead-squat",
    "deadlift",
    "power-clean",
    "squat-clean",
    "push-jerk",
    "push-press",
    "strict-press",
    "bench-press",
    "power-snatch",
    "squat-snatch",
];

/// Movements whose best unbroken set anchors unloaded ones, in the order of [`super::Athlete::unbroken`].
pub const REP_ANCHORS: [&str; 16] = [
    "pull-up",
    "strict-pull-up",
    "push-up",
    "ring-dip",
    "handstand-push-up",
    "muscle-up",
    "toes-to-bar",
    "sit-up",
    "air-squat",
    "pistol",
    "burpee",
    "box-jump",
    "double-under",
    "rope-climb",
    "wall-walk",
    "plank",
];

/// How the size of a set is known.
#[derive(Debug, Clone, PartialEq)]
pub enum Kind {
    /// From 1RMs: the least of (lift, ratio).
    Load(Vec<(usize, f64)>),
    /// From a best unbroken set: (anchor, ratio).
    Reps(usize, f64),
    /// Paced by the engine over ground.
    Run,
    /// A machine counted in metres, with its economy factor.
    ErgMetres(f64),
    /// A machine counted in calories, with its economy factor.
    ErgCalories(f64),
}

/// One movement's row.
#[derive(Debug, Clone)]
#[allow(missing_docs)]
pub struct Row {
    pub id: String,
    /// rep, s, m or cal.
    pub unit: &'static str,
    /// Units per simulated step.
    pub chunk: f64,
    /// s per unit when fresh.
    pub c0: f64,
    /// s per rep when each is reset.
    pub single: f64,
    /// How far the cycle may be slowed; from 1.45 the movement is paced by cadence.
    pub stretch: f64,
    /// s to get ready.
    pub setup: f64,
    /// es per unit for moving the body.
    pub e_body: f64,
    /// es per unit per (load / body mass).
    pub e_load: f64,
    /// Group that limits it.
    pub primary: usize,
    /// (group, weight).
    pub secondary: Vec<(usize, f64)>,
    pub kind: Kind,
    /// Reps at half the 1RM, less one, in the rep formula.
    pub a: f64,
    pub offset: f64,
    /// Sets end by misses, not by fatigue.
    pub skill: bool,
    /// Extra reps that a set's first rep costs.
    pub start: f64,
    /// False for a row set by analogy.
    pub tuned: bool,
}

impl Row {
    /// Whether it is thrown from the floor or the hang: the rep formula of these lifts is the steeper one.
    pub fn thrown(&self) -> bool {
        matches!(self.kind, Kind::Load(_)) && self.a < THROWN_BELOW
    }
}

/// Movements with a smaller `a` than this in the table are thrown (the others have 30).
const THROWN_BELOW: f64 = 28.0;

static ROWS: LazyLock<(Vec<Row>, HashMap<String, usize>)> = LazyLock::new(|| {
    let rows = parse().unwrap_or_default();
    let index = rows.iter().enumerate().map(|(i, r)| (r.id.clone(), i)).collect();
    (rows, index)
});

/// The row of a movement (or of `row-cal`, `ski-cal`: a machine counted in calories).
pub fn row(id: &str) -> Option<&'static Row> {
    index(id).and_then(at)
}

/// Position of a movement's row.
pub fn index(id: &str) -> Option<usize> {
    ROWS.1.get(id).copied()
}

/// The row at a position.
pub fn at(index: usize) -> Option<&'static Row> {
    ROWS.0.get(index)
}

/// The row for a movement counted in a unit: machines have one for metres and one for calories.
pub fn index_for(id: &str, unit: crate::units::Unit) -> Option<usize> {
    use crate::units::Unit;
    match (id, unit) {
        ("row", Unit::Calories) => index("row-cal"),
        ("ski", Unit::Calories) => index("ski-cal"),
        _ => index(id),
    }
}

fn weights(text: &str) -> Option<Vec<(usize, f64)>> {
    text.split(';')
        .filter(|p| !p.is_empty())
        .map(|p| {
            let (g, w) = p.split_once(':')?;
            Some((GROUPS.iter().position(|x| *x == g)?, w.parse().ok()?))
        })
        .collect()
}

fn kind(kind: &str, anchor: &str) -> Option<Kind> {
    let anchors = |names: &[&str]| -> Option<Vec<(usize, f64)>> {
        anchor
            .split('|')
            .map(|p| {
                let (name, ratio) = p.split_once(':')?;
                Some((names.iter().position(|x| *x == name)?, ratio.parse().ok()?))
            })
            .collect()
    };
    Some(match kind {
        "load" => Kind::Load(anchors(&LIFTS)?),
        "reps" => anchors(&REP_ANCHORS)?.first().map(|(i, r)| Kind::Reps(*i, *r))?,
        "run" => Kind::Run,
        "erg-m" => Kind::ErgMetres(anchor.parse().ok()?),
        "erg-cal" => Kind::ErgCalories(anchor.parse().ok()?),
        _ => return None,
    })
}

fn parse() -> Option<Vec<Row>> {
    let mut reader = csv::Reader::from_reader(include_str!("../../data/pacing.csv").as_bytes());
    let mut rows = Vec::new();
    for record in reader.records() {
        let r = record.ok()?;
        let cell = |i: usize| r.get(i).unwrap_or_default();
        let number = |i: usize| if cell(i).is_empty() { Some(0.0) } else { cell(i).parse::<f64>().ok() };
        rows.push(Row {
            id: cell(0).to_owned(),
            unit: ["rep", "s", "m", "cal"].into_iter().find(|u| *u == cell(1))?,
            chunk: number(2)?,
            c0: number(3)?,
            single: number(4)?,
            stretch: number(5)?,
            setup: number(6)?,
            e_body: number(7)?,
            e_load: number(8)?,
            primary: GROUPS.iter().position(|g| *g == cell(9))?,
            secondary: weights(cell(10))?,
            kind: kind(cell(11), cell(12))?,
            a: number(13)?,
            offset: number(14)?,
            skill: cell(15) == "1",
            start: number(16)?,
            tuned: cell(17) == "tuned",
        });
    }
    Some(rows)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn all_rows_parse_and_uncertain_ones_are_marked() {
        let rows = parse().expect("pacing.csv parses");
        assert_eq!(rows.len(), 232);
        assert_eq!(rows.iter().filter(|r| !r.tuned).count(), 147);
        assert!(rows.iter().all(|r| r.chunk > 0.0 && r.stretch >= 1.0 && r.secondary.len() <= 4));
    }
}
