//! What may be changed in a workout, line by line: rungs, loads and reps in falling order, and the rounds. A version is
//! a position on every lever, so a lower version can only stand lower on each.

use super::built::nearest;
use super::friendly::friendly_counts;
use super::work::{Along, Clock, Line, Weight, Work};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{LoadKind, Rung, catalogue};
use crate::settings::Settings;
use crate::units::{Standard, Unit};
use serde::Serialize;

/// Shares of the written reps that are tried.
const REP_SHARES: [f64; 5] = [1.0, 0.8, 0.66, 0.5, 0.4];
/// Shares of the written load that are tried.
const LOAD_SHARES: [f64; 8] = [1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3];
/// Fewest rounds that a version keeps, as a share of those written.
const LEAST_ROUNDS: f64 = 0.6;

/// Shares of an open clock that are tried: 20 minutes, 15, 12.
const CLOCK_SHARES: [f64; 2] = [0.75, 0.6];
/// Shortest open clock, s.
pub(super) const LEAST_CLOCK_S: u32 = 240;

/// One way of doing a line: the movement and its loads in falling order.
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
    /// kg of one implement, heaviest first; `None`: no load, or each member's own percentage.
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
    /// Lines that share their reps: the group of each line.
    pub group: Vec<usize>,
    /// Numbers of rounds, most first; seconds of an open clock.
    pub rounds: Vec<u32>,
}

/// A position on every lever; 0 is as written.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct Setting {
    /// Way of each line.
    pub way: Vec<usize>,
    /// Load of each line.
    pub load: Vec<usize>,
    /// Reps of each group.
    pub reps: Vec<usize>,
    /// Rounds.
    pub rounds: usize,
    /// Lines left out.
    pub dropped: Vec<bool>,
}

impl Levers {
    /// Finds what may be changed with a gym's kit and schools.
    pub fn of(work: &Work, kit: &Kit, bars: &Bars, settings: &Settings) -> Levers {
        let ways = work.lines.iter().map(|l| ways(l, kit, bars, settings)).collect();
        let mut kinds: Vec<(Vec<[f64; 2]>, Unit, usize)> = Vec::new();
        let group = work
            .lines
            .iter()
            .map(|l| {
                let key = (l.counts.clone(), l.unit, l.part);
                match kinds.iter().position(|k| *k == key) {
                    Some(i) => i,
                    None => {
                        kinds.push(key);
                        kinds.len() - 1
                    }
                }
            })
            .collect();
        let rounds = match work.clock() {
            Clock::Rounds(n) => {
                let least = (f64::from(n) * LEAST_ROUNDS).ceil().max(2.0) as u32;
                (least.min(n)..=n).rev().collect()
            }
            // less of an open clock, in whole minutes, where the hall wants that: else the minutes are the same for all
            Clock::Amrap(t) if settings.school("what-to-scale") != "cut-time" => vec![t],
            Clock::Amrap(t) => {
                let minutes = |share: f64| (f64::from(t) * share / 60.0).round() as u32 * 60;
                let mut all: Vec<u32> = CLOCK_SHARES.map(minutes).to_vec();
                all.retain(|s| *s < t && *s >= LEAST_CLOCK_S);
                all.insert(0, t);
                all.dedup();
                all
            }
            _ => vec![work.rounds() as u32],
        };
        Levers { written: work.clone(), ways, group, rounds }
    }

    /// Everything as written.
    pub fn start(&self) -> Setting {
        let groups = self.group.iter().max().map_or(0, |g| g + 1);
        Setting {
            way: vec![0; self.ways.len()],
            load: vec![0; self.ways.len()],
            reps: vec![0; groups],
            rounds: 0,
            dropped: vec![false; self.ways.len()],
        }
    }

    /// How many positions the reps have.
    pub fn rep_steps(&self) -> usize {
        REP_SHARES.len()
    }

    /// The work at a setting.
    pub fn apply(&self, s: &Setting) -> Work {
        let mut work = self.written.clone();
        if let Some(Clock::Rounds(n)) = work.sections.first_mut().map(|s| &mut s.clock) {
            *n = self.rounds.get(s.rounds).copied().unwrap_or(*n);
        }
        if let Some(to) = self.rounds.get(s.rounds) {
            work.shorten(*to);
        }
        let lines = self.written.lines.iter().enumerate().map(|(i, l)| self.line(i, l, s));
        work.lines = lines.collect();
        let dropped: Vec<usize> =
            (0..work.lines.len()).filter(|i| s.dropped.get(*i) == Some(&true)).collect();
        for i in dropped.into_iter().rev() {
            if work.lines.len() > 1 {
                work.remove(i);
            }
        }
        work
    }

    /// One line at a setting.
    pub fn line(&self, i: usize, written: &Line, s: &Setting) -> Line {
        let step = self.group.get(i).and_then(|g| s.reps.get(*g)).copied().unwrap_or(0);
        let share = REP_SHARES.get(step).copied().unwrap_or(1.0);
        let Some(way) = s.way.get(i).and_then(|w| self.ways.get(i)?.get(*w)) else { return written.clone() };
        let mut line = written.clone();
        let factor = share * way.ratio;
        line.counts = friendly_counts(&written.counts, factor, way.unit);
        if written.rise != 0.0 && factor < 1.0 {
            line.rise = (written.rise * factor).round().max(1.0_f64.min(written.rise));
        }
        if way.movement != written.movement || way.variant.is_some() {
            line.movement.clone_from(&way.movement);
            line.variant.clone_from(&way.variant);
            line.unit = way.unit;
            line.height_cm = None;
            line.weight = None;
            line.implements = if pair(&way.movement) { 2 } else { 1 };
            line.along = way
                .along
                .iter()
                .map(|(m, r)| Along {
                    movement: m.clone(),
                    counts: friendly_counts(&written.counts, share * r, Unit::Reps),
                })
                .collect();
        } else {
            for a in &mut line.along {
                a.counts = friendly_counts(&a.counts, share, Unit::Reps);
            }
        }
        let at = s.load.get(i).copied().unwrap_or(0).min(way.loads.len().saturating_sub(1));
        if let Some(Some(kg)) = way.loads.get(at) {
            line.weight = Some(Weight::Kg(*kg));
        }
        line
    }
}

fn pair(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| m.load == LoadKind::DumbbellPair)
}

/// Whether a gym can do a movement at all.
pub fn kit_has(kit: &Kit, id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| kit.has(&m.equipment))
}

/// Whether a rung is used under the gym's schools.
pub fn in_school(r: &Rung, settings: &Settings) -> bool {
    match (&r.school, &r.option) {
        (Some(school), Some(option)) => settings.school(school) == option,
        _ => true,
    }
}

fn ways(line: &Line, kit: &Kit, bars: &Bars, settings: &Settings) -> Vec<Way> {
    let written = Way {
        movement: line.movement.clone(),
        variant: None,
        ratio: 1.0,
        unit: line.unit,
        along: Vec::new(),
        loads: loads(line, kit, bars),
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
        let usable = r.branch == "main" && in_school(r, settings) && kit_has(kit, &r.movement);
        if usable && r.movement != line.movement {
            out.push(way_of_rung(r, own, ladder.unit, line, kit, bars));
        }
    }
    out
}

/// A rung as a way of doing a line; `own`: the written movement's own ratio on the ladder.
pub fn way_of_rung(r: &Rung, own: f64, unit: Unit, line: &Line, kit: &Kit, bars: &Bars) -> Way {
    let mut shadow = line.clone();
    shadow.movement.clone_from(&r.movement);
    shadow.implements = if pair(&r.movement) { 2 } else { 1 };
    let written_kg = line.kg().map(|kg| kg.map(|v| v * line.held()));
    let held = if pair(&r.movement) { 2.0 } else { 1.0 };
    let usual = catalogue().movement(&r.movement).and_then(|m| m.rx_load).map(|u| u.moderate);
    shadow.weight = match (r.load_factor, written_kg) {
        (Some(f), Some(kg)) => Some(Weight::Kg(kg.map(|v| v * f / held))),
        _ => usual.map(Weight::Kg),
    };
    if let Some(Weight::Kg(kg)) = &mut shadow.weight {
        *kg = [(Standard::Heavier, kg[0]), (Standard::Lighter, kg[1])]
            .map(|(s, v)| at_hand(&r.movement, s, v, kit, bars).unwrap_or(v));
    }
    Way {
        movement: r.movement.clone(),
        variant: r.variant.clone(),
        ratio: r.ratio / own,
        unit: r.unit.unwrap_or(unit),
        along: r.with.iter().map(|w| (w.movement.clone(), w.ratio / own)).collect(),
        loads: loads(&shadow, kit, bars),
        why: r.why.clone(),
    }
}

/// The nearest weight of one implement that the hall has, a bar's in the steps that coaches write.
pub fn at_hand(movement: &str, standard: Standard, kg: f64, kit: &Kit, bars: &Bars) -> Option<f64> {
    let bar = catalogue().movement(movement)?.load == LoadKind::Barbell;
    let step = kit.unit.bar_step_kg(standard);
    let wish = if bar { (kg / step).round() * step } else { kg };
    nearest(movement, standard, wish, kit, bars)
}

fn loads(line: &Line, kit: &Kit, bars: &Bars) -> Vec<Option<[f64; 2]>> {
    let Some(written) = line.kg() else { return vec![None] };
    let mut out: Vec<[f64; 2]> = vec![written];
    for share in LOAD_SHARES.into_iter().skip(1) {
        let pick = |s: Standard| at_hand(&line.movement, s, s.of(written) * share, kit, bars);
        let (Some(a), Some(b)) = (pick(Standard::Heavier), pick(Standard::Lighter)) else { continue };
        let Some(last) = out.last().copied() else { continue };
        // never above the step before: a heavy empty bar can be more than the share asks for
        let next = [a.min(last[0]), b.min(last[1])];
        if next != last {
            out.push(next);
        }
    }
    out.into_iter().map(Some).collect()
}
