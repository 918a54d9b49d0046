//! What holds for more than its line: units of weights, the weight of the bar. Each value remembers where it comes from.

use super::assemble::Assembler;
use super::atom::Atom;
use super::item::Units;
use super::line::carries;
use super::model::{Block, Item, Load, LoadFrom, MoveLine, Named, Sheet, WeightUnit};
use super::problem::Severity;
use super::reading::{ReadWith, Spoken};
use super::scan::problem;
use crate::movement::{LoadKind, catalogue};

/// Pairs that are usual in pounds and in no hall's kilograms: what carries them, heavier and lighter.
const POUND_PAIRS: [(LoadKind, [f64; 2]); 34] = [
    (LoadKind::Barbell, [45.0, 35.0]),
    (LoadKind::Barbell, [65.0, 45.0]),
    (LoadKind::Barbell, [75.0, 55.0]),
    (LoadKind::Barbell, [95.0, 65.0]),
    (LoadKind::Barbell, [115.0, 75.0]),
    (LoadKind::Barbell, [115.0, 80.0]),
    (LoadKind::Barbell, [115.0, 85.0]),
    (LoadKind::Barbell, [135.0, 95.0]),
    (LoadKind::Barbell, [155.0, 105.0]),
    (LoadKind::Barbell, [155.0, 115.0]),
    (LoadKind::Barbell, [165.0, 115.0]),
    (LoadKind::Barbell, [185.0, 125.0]),
    (LoadKind::Barbell, [185.0, 135.0]),
    (LoadKind::Barbell, [205.0, 145.0]),
    (LoadKind::Barbell, [225.0, 155.0]),
    (LoadKind::Barbell, [245.0, 165.0]),
    (LoadKind::Barbell, [275.0, 185.0]),
    (LoadKind::Barbell, [275.0, 195.0]),
    (LoadKind::Barbell, [315.0, 205.0]),
    (LoadKind::Barbell, [315.0, 225.0]),
    (LoadKind::Kettlebell, [35.0, 26.0]),
    (LoadKind::Kettlebell, [44.0, 26.0]),
    (LoadKind::Kettlebell, [44.0, 35.0]),
    (LoadKind::Kettlebell, [53.0, 35.0]),
    (LoadKind::Kettlebell, [62.0, 44.0]),
    (LoadKind::Kettlebell, [70.0, 53.0]),
    (LoadKind::Medball, [20.0, 14.0]),
    (LoadKind::Medball, [14.0, 10.0]),
    (LoadKind::Medball, [20.0, 10.0]),
    (LoadKind::Medball, [30.0, 20.0]),
    (LoadKind::Dumbbell, [50.0, 35.0]),
    (LoadKind::Dumbbell, [70.0, 50.0]),
    (LoadKind::Dumbbell, [35.0, 20.0]),
    (LoadKind::Dumbbell, [45.0, 30.0]),
];

/// Decides the unit of weights without one, for the whole sheet.
pub(super) fn units(all: &[Spoken], a: &mut Assembler, with: &ReadWith<'_>) {
    let default = a.sheet.units;
    let mut written = [false; 2];
    for said in all.iter().flat_map(|l| &l.heard.said) {
        let unit = match &said.atom {
            Atom::Load(l) => l.unit,
            Atom::Ladder(l) => l.unit,
            _ => None,
        };
        match unit {
            Some(WeightUnit::Kg) => written = [true, written[1]],
            Some(WeightUnit::Lb) => written = [written[0], true],
            None => {}
        }
    }
    a.units = Units { default };
    if a.units_said {
        return;
    }
    match written {
        // a sheet that writes pounds, and nowhere kilograms, is in pounds
        [false, true] => a.units.default = WeightUnit::Lb,
        [true, false] => a.units.default = WeightUnit::Kg,
        _ if default == WeightUnit::Kg => ask(all, a, with),
        _ => {}
    }
}

/// A usual pound pair on a sheet in kilograms is asked about once.
fn ask(all: &[Spoken], a: &mut Assembler, with: &ReadWith<'_>) {
    let found = all.iter().find_map(|l| {
        l.stated.iter().find_map(|s| {
            let super::statement::Statement::Work(m, b) = &s.what else { return None };
            let load = b.load.filter(|l| l.pair && l.unit.is_none())?;
            let kind = catalogue().movement(m.movement.id()?)?.load;
            let kind = if kind == LoadKind::DumbbellPair { LoadKind::Dumbbell } else { kind };
            POUND_PAIRS.contains(&(kind, load.value)).then_some((l, b.at_place, load))
        })
    });
    let Some((l, place, load)) = found else { return };
    if let Some(answer) = with.pound_pairs {
        a.units.default = answer;
        return;
    }
    a.units.default = WeightUnit::Lb;
    let line = &l.heard.row.line;
    let (from, to) = place.unwrap_or((0, line.text.len()));
    let pair = crate::units::pair(load.value);
    let message = format!(
        "{pair} is a usual pair in pounds, and this sheet names no unit. I read pounds for all of it."
    );
    let mut p = problem(line, from, to, Severity::Warning, message);
    p.suggestions = super::problem::Asks::POUND_PAIRS.map(|u| format!("{pair} {}", u.word())).to_vec();
    p.asks = Some(super::problem::Asks::PoundPairs);
    a.problems.push(p);
}

/// Carries weights to lines that have none: the same movement above, `same bar`, the one bar of a workout.
pub(super) fn carry(sheet: &mut Sheet) {
    for block in &mut sheet.blocks {
        if block.on_the_clock() {
            carry_in(block);
        }
    }
}

fn carry_in(block: &mut Block) {
    let written: Vec<(Named, Load, u32)> = block
        .moves()
        .filter_map(|m| Some((m.movement.clone(), m.load.clone()?, m.line)))
        .filter(|(_, l, _)| matches!(l, Load::Kg { .. }))
        .collect();
    let bars: Vec<&(Named, Load, u32)> = written.iter().filter(|(m, ..)| barbell(m)).collect();
    let one_bar =
        bars.first().filter(|(_, first, _)| bars.iter().all(|(_, l, _)| l == first)).map(|b| (*b).clone());
    let mut above: Option<(Load, u32)> = None;
    for part in &mut block.parts {
        let lines = part.items.iter_mut().filter_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        });
        for m in lines.chain(part.extras.iter_mut().map(|e| &mut e.work)) {
            if let (Some(l), true) = (&m.load, barbell(&m.movement)) {
                above = Some((l.clone(), m.line));
            }
            if m.load.is_some() || !m.movement.id().is_some_and(carries) {
                continue;
            }
            let same = written
                .iter()
                .rev()
                .find(|(n, _, at)| *n == m.movement && *at < m.line)
                .or(written.iter().find(|(n, ..)| *n == m.movement));
            let from = same.map(|(_, l, n)| (l.clone(), *n)).or_else(|| {
                let bar = barbell(&m.movement);
                let asked = m.load_from == LoadFrom::Carried(0);
                if asked && bar {
                    above.clone()
                } else if bar {
                    one_bar.clone().map(|(_, l, n)| (l, n))
                } else {
                    None
                }
            });
            give(m, from);
        }
    }
}

fn give(m: &mut MoveLine, from: Option<(Load, u32)>) {
    match from {
        Some((l, n)) => {
            m.load = Some(l);
            m.load_from = LoadFrom::Carried(n);
        }
        None => m.load_from = LoadFrom::Assumed,
    }
}

fn barbell(n: &Named) -> bool {
    n.id().is_some_and(super::work::barbell)
}
