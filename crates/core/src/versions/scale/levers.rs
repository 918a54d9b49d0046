//! What may be changed in a workout: the rung of each line, one step of weight for all, one change of amount. A version is a
//! position on them, so a lower version can only stand lower on each.

use super::amount::{Amount, amounts};
use super::guide::{Falls, at_hand, falls, guide};
use crate::kinds::Branch;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{LoadKind, Rung, catalogue};
use crate::schools::WhatToScale;
use crate::settings::Settings;
use crate::units::{Standard, Unit};
use crate::versions::work::{Along, Line, Weight, Work, friendly_counts};
use serde::Serialize;

/// A replacement keeps the written count where its set lasts this much of the written one's time (own).
const SAME_COUNT: std::ops::RangeInclusive<f64> = 0.8..=1.26;

/// One way of doing a line: the movement and its weights.
#[derive(Debug, Clone)]
pub struct Way {
    /// Catalogue id.
    pub movement: String,
    /// How it differs.
    pub variant: Option<String>,
    /// Units for one unit of the written movement.
    pub ratio: f64,
    /// What is counted.
    pub unit: Unit,
    /// (movement, units for one unit of the written movement).
    pub along: Vec<(String, f64)>,
    /// kg of one implement at each step of weight; `None`: no load, or each member's own percentage.
    pub loads: Vec<Option<[f64; 2]>>,
    /// Why the ladder has it.
    pub why: String,
}

/// The levers of a workout.
#[derive(Debug, Clone)]
pub struct Levers {
    /// As written.
    pub written: Work,
    /// Ways of every line, hardest first; the first is as written.
    pub ways: Vec<Vec<Way>>,
    /// How much of it, most first; the first is as written.
    pub amounts: Vec<Amount>,
}

/// A position on every lever; 0 is as written.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Setting {
    /// Way of each line.
    pub way: Vec<usize>,
    /// Step of all weights.
    pub weight: usize,
    /// How much of it.
    pub amount: usize,
}

impl Levers {
    /// Finds what may be changed with a gym's kit and schools.
    pub fn of(work: &Work, kit: &Kit, bars: &Bars, settings: &Settings) -> Levers {
        let all = falls(work);
        let with = |(l, f): (&Line, &Falls)| ways(l, *f, kit, bars, settings);
        let ways = work.lines.iter().zip(&all).map(with).collect();
        let amounts = amounts(work, settings.answer::<WhatToScale>() == WhatToScale::CutTime);
        Levers { written: work.clone(), ways, amounts }
    }

    /// Everything as written.
    pub fn start(&self) -> Setting {
        Setting { way: vec![0; self.ways.len()], weight: 0, amount: 0 }
    }

    /// Whether any line is lighter at a step of weight.
    pub fn lighter_at(&self, step: usize) -> bool {
        let differs = |w: &Way| w.loads.get(step).is_some_and(|kg| Some(kg) != w.loads.first());
        self.ways.iter().filter_map(|w| w.first()).any(differs)
    }

    /// The written movements, as much of them as a setting has.
    pub fn of_amount(&self, s: &Setting) -> Work {
        let mut work = self.written.clone();
        if let Some(amount) = self.amounts.get(s.amount) {
            amount.apply(&mut work);
        }
        work
    }

    /// The work at a setting.
    pub fn apply(&self, s: &Setting) -> Work {
        let mut work = self.of_amount(s);
        let lines = std::mem::take(&mut work.lines);
        work.lines = lines.into_iter().enumerate().map(|(i, l)| self.line(i, l, s)).collect();
        work
    }

    /// The way of a line at a setting.
    pub fn way(&self, i: usize, s: &Setting) -> Option<&Way> {
        self.ways.get(i)?.get(s.way.get(i).copied().unwrap_or(0))
    }

    /// A line on another of its ways, and with it every line of the same movement: what is said for one is said for all.
    pub fn with_way(&self, s: &Setting, line: usize, way: usize) -> Setting {
        let mut out = s.clone();
        if let Some(w) = out.way.get_mut(line) {
            *w = way;
        }
        let written = |i: usize| self.written.lines.get(i).map(|l| (&l.movement, l.unit));
        let Some(to) = self.ways.get(line).and_then(|w| w.get(way)) else { return out };
        for (i, w) in
            out.way.iter_mut().enumerate().filter(|(i, _)| *i != line && written(*i) == written(line))
        {
            let alike = |o: &Way| o.movement == to.movement && o.variant == to.variant;
            *w = self.ways.get(i).and_then(|ways| ways.iter().position(alike)).unwrap_or(*w);
        }
        out
    }

    /// A line of the wanted amount on its way and at its weight.
    fn line(&self, i: usize, line: Line, s: &Setting) -> Line {
        match self.way(i, s) {
            Some(way) => way.on(&line, s.weight),
            None => line,
        }
    }
}

impl Way {
    /// A line done this way at a step of weight.
    pub fn on(&self, line: &Line, step: usize) -> Line {
        let mut out = line.clone();
        if self.movement != line.movement || self.variant.is_some() {
            let same = SAME_COUNT.contains(&self.ratio) && self.unit == line.unit;
            let factor = if same { 1.0 } else { self.ratio };
            out.counts = friendly_counts(&self.movement, &line.counts, factor, self.unit);
            out.rise = (line.rise * factor).round();
            out.stands_for = line.stands_for.clone().or_else(|| Some(line.movement.clone()));
            out.movement.clone_from(&self.movement);
            out.variant.clone_from(&self.variant);
            out.unit = self.unit;
            out.height_cm = None;
            out.weight = None;
            out.implements = if is_pair(&self.movement) { 2 } else { 1 };
            let along = |(m, r): &(String, f64)| Along {
                movement: m.clone(),
                counts: friendly_counts(m, &line.counts, *r, Unit::Reps),
            };
            out.along = self.along.iter().map(along).collect();
        }
        let at = step.min(self.loads.len().saturating_sub(1));
        if let Some(Some(kg)) = self.loads.get(at) {
            out.weight = Some(Weight::Kg(*kg));
        }
        out
    }

    /// Whether the count is not the one that the change of amount gives.
    pub fn own_count(&self, line: &Line) -> bool {
        self.movement != line.movement && !(SAME_COUNT.contains(&self.ratio) && self.unit == line.unit)
    }
}

fn is_pair(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| m.load == LoadKind::DumbbellPair)
}

fn is_bar(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell)
}

/// Whether a gym can do a movement at all.
pub fn kit_has(kit: &Kit, id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| kit.has(&m.equipment))
}

/// Whether a rung is used under the gym's schools.
pub fn in_school(r: &Rung, settings: &Settings) -> bool {
    match (&r.school, &r.option) {
        (Some(school), Some(option)) => settings.school(*school) == option,
        _ => true,
    }
}

fn ways(line: &Line, falls: Falls, kit: &Kit, bars: &Bars, settings: &Settings) -> Vec<Way> {
    let written = Way {
        movement: line.movement.clone(),
        variant: None,
        ratio: 1.0,
        unit: line.unit,
        along: Vec::new(),
        loads: guide(line, falls, kit, bars),
        why: String::new(),
    };
    let mut out = vec![written];
    let Some(ladder) = catalogue().ladder_for(&line.movement) else { return out };
    let Some(at) = ladder.rungs.iter().position(|r| r.movement == line.movement) else { return out };
    let own = ladder.rungs.get(at).map_or(1.0, |r| r.ratio);
    let same_unit = ladder.rungs.get(at).map_or(ladder.unit, |r| r.unit.unwrap_or(ladder.unit)) == line.unit;
    if !same_unit {
        return out;
    }
    for r in ladder.rungs.iter().skip(at + 1) {
        let usable = r.branch == Branch::Main && in_school(r, settings) && kit_has(kit, &r.movement);
        if usable && r.movement != line.movement {
            out.push(way_of_rung(r, own, ladder.unit, line, falls, kit, bars));
        }
    }
    out
}

/// A rung as a way of doing a line; `own`: the written movement's own ratio on the ladder. A bar stays the same bar.
pub fn way_of_rung(r: &Rung, own: f64, unit: Unit, line: &Line, falls: Falls, kit: &Kit, bars: &Bars) -> Way {
    let mut shadow = line.clone();
    shadow.movement.clone_from(&r.movement);
    shadow.implements = if is_pair(&r.movement) { 2 } else { 1 };
    let written_kg = line.kg().map(|kg| kg.map(|v| v * line.held()));
    let held = if is_pair(&r.movement) { 2.0 } else { 1.0 };
    let usual = catalogue().movement(&r.movement).and_then(|m| m.rx_load).map(|u| u.moderate);
    let same_bar = is_bar(&line.movement) && is_bar(&r.movement);
    shadow.weight = match (r.load_factor, written_kg) {
        (_, Some(kg)) if same_bar => Some(Weight::Kg(kg)),
        (Some(f), Some(kg)) => Some(Weight::Kg(kg.map(|v| v * f / held))),
        _ => usual.map(Weight::Kg),
    };
    if let Some(Weight::Kg(kg)) = shadow.weight.as_mut().filter(|_| !same_bar) {
        *kg = [(Standard::Heavier, kg[0]), (Standard::Lighter, kg[1])]
            .map(|(s, v)| at_hand(&r.movement, s, v, kit, bars).unwrap_or(v));
    }
    Way {
        movement: r.movement.clone(),
        variant: r.variant.clone(),
        ratio: r.ratio / own,
        unit: r.unit.unwrap_or(unit),
        along: r.with.iter().map(|w| (w.movement.clone(), w.ratio / own)).collect(),
        loads: guide(&shadow, if same_bar { falls } else { Falls::of(&r.movement) }, kit, bars),
        why: r.why.clone(),
    }
}
