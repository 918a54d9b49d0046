//! Values in the words of the hall: the one place where a reason becomes a sentence. Masses are said in the hall's unit.

mod lift;
mod line;
mod mend;
mod moved;
mod place;

use crate::reason::{Agreed, Reason};
use crate::sheet::TargetUnit;
use crate::units::{WeightUnit, clock, plain};

/// A reason as a sentence.
pub fn reason(r: &Reason, unit: WeightUnit) -> String {
    match r {
        Reason::Place(p) => place::of_place(p),
        Reason::Line(l) => line::of_line(l, unit),
        Reason::Lift(l) => lift::of_lift(l, unit),
    }
}

/// Several reasons of one change, in the order in which they came.
pub fn reasons(all: &[Reason], unit: WeightUnit) -> String {
    let said: Vec<String> = all.iter().map(|r| reason(r, unit)).collect();
    said.join(" Then ")
}

pub use mend::{short, way};
pub use moved::moved;
pub use place::{beyond, of_day};

/// A score in its unit as people read it.
pub fn score(unit: TargetUnit, score: f64) -> String {
    match unit {
        TargetUnit::Seconds | TargetUnit::Rest => clock(score),
        TargetUnit::Rounds => plain((score * 10.0).round() / 10.0),
        TargetUnit::Reps => plain(score.round()),
    }
}

/// A window in words: `9:00 to 12:00`, `5 to 6 rounds`, `under 10:00`. `steady`: an open one is judged by an even pace.
pub fn window(unit: TargetUnit, window: [Option<f64>; 2], steady: bool) -> String {
    let word = match unit {
        TargetUnit::Seconds => "",
        TargetUnit::Rounds => " rounds",
        TargetUnit::Reps => " reps",
        TargetUnit::Rest => " of rest in every cycle",
    };
    let write = |v: f64| score(unit, v);
    match window {
        [Some(a), Some(b)] => format!("{} to {}{word}", write(a), write(b)),
        [Some(a), None] => format!("{} or more{word}", write(a)),
        [None, Some(b)] => format!("under {}{word}", write(b)),
        [None, None] if steady => "an even pace to the end".to_owned(),
        [None, None] => "no target yet".to_owned(),
    }
}

/// kg as it is marked in the hall, without the unit.
fn mark(kg: f64, unit: WeightUnit) -> String {
    plain(unit.figure(kg))
}

/// The same with the unit.
fn mass(kg: f64, unit: WeightUnit) -> String {
    format!("{} {}", mark(kg, unit), unit.word())
}

fn agreed(how: Agreed) -> &'static str {
    match how {
        Agreed::Told => "as you told us",
        Agreed::Together => "as agreed with you",
    }
}

/// Whole reps of a largest set, none under nothing.
fn whole(reps: f64) -> String {
    plain(reps.max(0.0).floor())
}
