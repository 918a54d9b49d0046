//! A line of work of the model, from what was heard of it.

use super::atom::{LoadSaid, MoveSaid};
use super::line::carries;
use super::model::{Count, Load, LoadFrom, MoveLine, WeightUnit};
use super::statement::Behind;
use super::work::usual_unit;
use crate::movement::{LoadKind, catalogue};
use crate::units::Unit;

/// What the sheet says about weights without a unit.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Units {
    pub default: WeightUnit,
}

impl Units {
    /// The unit of a weight.
    pub fn of(self, l: &LoadSaid) -> WeightUnit {
        l.unit.unwrap_or(self.default)
    }
}

/// kg of one implement.
pub(super) fn kilograms(l: &LoadSaid, units: Units) -> [f64; 2] {
    let f = units.of(l).kg();
    l.value.map(|v| (v * f * 100.0).round() / 100.0)
}

/// The load of a movement as the model has it.
pub(super) fn load(l: &LoadSaid, id: Option<&str>, units: Units) -> Load {
    let row = id.and_then(|id| catalogue().movement(id));
    let pair = row.is_some_and(|m| m.load == LoadKind::DumbbellPair);
    let implements = l.implements.unwrap_or(if pair { 2 } else { 1 });
    Load::Kg { kg: kilograms(l, units), implements, typed: units.of(l) }
}

/// A line of work; what could not be used of what stands behind it goes to its note.
pub(super) fn item(m: &MoveSaid, b: &Behind, units: Units, line: u32) -> MoveLine {
    let id = m.movement.id();
    let row = id.and_then(|id| catalogue().movement(id));
    let mut out =
        MoveLine::of(m.movement.clone(), m.unit.unwrap_or_else(|| id.map_or(Unit::Reps, usual_unit)), line);
    out.count = m.count.clone().map(|c| times(c, m.times));
    out.rise = m.rise.or(b.rise);
    out.per_side = m.side || b.side;
    out.height_cm = b.height;
    out.tempo = b.tempo;
    out.unbroken = b.unbroken;
    out.optional = b.optional;
    let mut notes = b.notes.clone();
    if let Some(l) = &b.load {
        let tall = row.is_some_and(|m| m.rx_height_cm.is_some() && m.load == LoadKind::None);
        if tall && l.unit.is_none() {
            // a box of 60/50 or 24/20
            let f = if l.value.iter().all(|v| *v < 40.0) { 2.54 } else { 1.0 };
            out.height_cm = Some(l.value.map(|v| (v * f).round()));
        } else if id.is_none_or(carries) || l.unit.is_some() || l.implements.is_some() {
            out.load = Some(load(l, id, units));
        } else {
            notes.push(crate::units::pair(l.value));
        }
    } else if let Some(p) = &b.percent {
        let percent = p.values.last().copied().unwrap_or(0.0);
        out.load = Some(Load::Percent { percent, of: p.of.clone() });
    } else if let Some((v, two)) = b.at.filter(|_| id.is_none_or(carries)) {
        let said =
            LoadSaid { value: [v, two.unwrap_or(v)], unit: None, implements: None, pair: false, at: true };
        out.load = Some(load(&said, id, units));
    } else if let Some(w) = m.word.or(b.word) {
        out.load = Some(Load::Word(w));
    }
    notes.retain(|n| !n.trim().is_empty());
    out.note = (!notes.is_empty()).then(|| notes.join(" ").replace(['(', ')'], ""));
    out.load_from =
        if out.load.is_none() && id.is_some_and(carries) { LoadFrom::Assumed } else { LoadFrom::Written };
    out
}

fn times(c: Count, n: u32) -> Count {
    let n = f64::from(n.max(1));
    match c {
        Count::Each(v) => Count::Each(v * n),
        Count::ByStandard(v) => Count::ByStandard(v.map(|x| x * n)),
        other => other,
    }
}
