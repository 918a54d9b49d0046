//! What the day asks for: weight of every body region and movement pattern, from volume x intensity of each block.

use super::taste::Done;
use crate::kinds::Pattern;
use crate::movement::{Movement, catalogue};
use crate::pacing::table;
use crate::sheet::{Block, BlockKind, Format, Part, Total, TotalCount};
use std::collections::BTreeMap;

/// The first loaded block counts this much more: it comes first and is heaviest (own).
const FIRST_LOADED: f64 = 1.3;
/// Intensity of unloaded work, of a loaded line in a workout and of a lift (own).
const INTENSITY: [f64; 3] = [0.6, 0.9, 1.6];
/// A pattern that a movement has besides its main one (own).
const ALSO: f64 = 0.5;

/// One movement of the day.
#[derive(Debug, Clone, PartialEq)]
pub struct Asked {
    /// Catalogue id.
    pub movement: String,
    /// Share of the day's demand.
    pub weight: f64,
    /// It is a lift of a strength block.
    pub lift: bool,
    /// kg of one implement, [heavier, lighter], where a workout's line writes it and it is done as written.
    pub load_kg: Option<[f64; 2]>,
}

/// The day's demand; every map sums to 1.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Demand {
    /// By region.
    pub regions: BTreeMap<String, f64>,
    /// By pattern.
    pub patterns: BTreeMap<Pattern, f64>,
    /// Movements, in the order of the session.
    pub asked: Vec<Asked>,
}

impl Demand {
    /// With the movements of the hardest version that somebody does, hardest first: nobody prepares for what nobody will do.
    #[must_use]
    pub fn as_done(mut self, done: &[Done]) -> Demand {
        for a in self.asked.iter_mut().filter(|a| !a.lift) {
            if let Some(l) = done.iter().flat_map(|d| &d.lines).find(|l| l.written == a.movement) {
                if a.movement != l.movement {
                    a.load_kg = None;
                }
                a.movement.clone_from(&l.movement);
            }
        }
        let mut asked: Vec<Asked> = Vec::new();
        for a in std::mem::take(&mut self.asked) {
            match asked.iter_mut().find(|o| o.movement == a.movement) {
                Some(same) => same.weight += a.weight,
                None => asked.push(a),
            }
        }
        self.asked = asked;
        self
    }
}

/// Seconds of work of a count, fresh.
fn seconds(id: &str, n: f64) -> f64 {
    table::row(id).map_or(2.0, |r| r.c0) * n
}

/// The demand of a session's blocks.
pub fn demand(blocks: &[Block]) -> Demand {
    let mut out = Demand::default();
    let first = blocks.iter().position(|b| !b.lifts.is_empty() || !b.builds.is_empty());
    for (i, b) in blocks.iter().enumerate() {
        if matches!(b.kind, BlockKind::WarmUp | BlockKind::CoolDown) {
            continue;
        }
        let factor = if Some(i) == first { FIRST_LOADED } else { 1.0 };
        for l in &b.lifts {
            let reps: u32 = l.reps.iter().fold(0, |a, r| a.saturating_add(*r));
            let percent = l.percent.as_ref().and_then(|p| p.values.last()).copied().unwrap_or(70.0);
            if let Some(id) = l.movement.id() {
                // a lift's few reps ask for more than their seconds: each is near a maximum
                let weight = 4.0 * seconds(id, f64::from(reps)) * INTENSITY[2] * percent / 75.0;
                add(&mut out, id, weight * factor, true);
            }
        }
        for l in &b.builds {
            if let Some(id) = l.movement.id() {
                // the sets up to a maximum: about five, each nearer to it
                let weight = 4.0 * seconds(id, 5.0 * f64::from(l.reps)) * INTENSITY[2] * 90.0 / 75.0;
                add(&mut out, id, weight * factor, true);
            }
        }
        for part in &b.parts {
            of_part(&mut out, b, part, factor);
        }
    }
    fn to_one<K>(map: &mut BTreeMap<K, f64>) {
        let sum: f64 = map.values().sum();
        map.values_mut().for_each(|v| *v /= sum.max(1e-9));
    }
    to_one(&mut out.regions);
    to_one(&mut out.patterns);
    let sum: f64 = out.asked.iter().map(|a| a.weight).sum();
    out.asked.iter_mut().for_each(|a| a.weight /= sum.max(1e-9));
    out
}

/// Seconds that a line takes whose count depends on the member: what its windows give it, else a minute.
fn open_seconds(part: &Part) -> f64 {
    let lines = part.moves().count().max(1) as f64;
    match part.format {
        Some(Format::Stations { on, rounds, .. }) => f64::from(on * rounds),
        Some(Format::OnOff { on, n, alternating: true, .. }) => f64::from(on * n) / lines,
        Some(Format::OnOff { on, n, .. }) => f64::from(on * n),
        Some(Format::Intervals { on, n, .. }) => f64::from(on * n) / 2.0,
        _ => 60.0,
    }
}

fn of_part(out: &mut Demand, b: &Block, part: &Part, factor: f64) {
    let open = part.open_ended();
    let all = if open { part.per_round() } else { part.totals() };
    let own = |t: &Total| {
        let n = match t.count {
            Some(TotalCount::Each(n)) => n,
            Some(TotalCount::ByStandard(c)) => c[0],
            None => return open_seconds(part),
        };
        seconds(&t.movement, n)
    };
    // an open list comes back as often as its clock allows
    let round: f64 = all.iter().map(own).sum();
    let times = if open { (f64::from(part.clock_s().unwrap_or(600)) / round.max(1.0)).max(1.0) } else { 1.0 };
    for t in &all {
        let lifted = b.lifts.iter().any(|l| l.movement.id() == Some(&t.movement));
        if catalogue().movement(&t.movement).is_none() || lifted {
            continue;
        }
        let i = if t.load_kg.is_some() { INTENSITY[1] } else { INTENSITY[0] };
        add(out, &t.movement, own(t) * times * i * factor, false);
        if let Some(a) = out.asked.iter_mut().find(|a| a.movement == t.movement) {
            a.load_kg = a.load_kg.or(t.load_kg);
        }
    }
}

fn add(out: &mut Demand, id: &str, weight: f64, lift: bool) {
    let Some(m) = catalogue().movement(id) else { return };
    let regions = m.regions.len().max(1) as f64;
    for r in &m.regions {
        *out.regions.entry(r.clone()).or_default() += weight / regions;
    }
    for (p, share) in patterns(m) {
        *out.patterns.entry(p).or_default() += weight * share;
    }
    match out.asked.iter_mut().find(|a| a.movement == id) {
        Some(a) => a.weight += weight,
        None => out.asked.push(Asked { movement: id.to_owned(), weight, lift, load_kg: None }),
    }
}

/// A movement's patterns with their weights.
pub fn patterns(m: &Movement) -> Vec<(Pattern, f64)> {
    std::iter::once((m.pattern, 1.0)).chain(m.pattern_also.iter().map(|p| (*p, ALSO))).collect()
}
