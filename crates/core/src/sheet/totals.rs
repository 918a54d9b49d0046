//! The sums of a block: how much of each movement one member does as written, fixed rest, and the length that a clock
//! fixes. Counts are of both sides; loads in kg of one implement, [heavier, lighter]; times in seconds.

use super::model::{Block, Count, Format, Item, Load, LoadFrom, MoveLine, Named, Part, When};
use crate::units::{Unit, WeightUnit};
use serde::Serialize;

/// How much of one movement at one load.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[allow(missing_docs)]
pub struct Total {
    pub movement: String,
    /// None where it depends on the member.
    pub count: Option<TotalCount>,
    pub unit: Unit,
    #[serde(skip_serializing_if = "Option::is_none")]
    pub load_kg: Option<[f64; 2]>,
    /// The unit in which the weight was typed.
    #[serde(skip)]
    pub typed: WeightUnit,
    /// Where a weight comes from, for movements that carry one: written, carried, assumed.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub load_from: Option<&'static str>,
}

/// One count for all or one for each standard.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[serde(untagged)]
pub enum TotalCount {
    /// The same for all.
    Each(f64),
    /// [heavier, lighter].
    ByStandard([f64; 2]),
}

impl Part {
    /// Whether how often the list is done depends on the member.
    pub fn open_ended(&self) -> bool {
        match &self.format {
            Some(Format::Amrap { .. } | Format::EveryUntilFailure { .. }) => true,
            Some(Format::Intervals { .. }) => !self.ends_with_max(),
            _ => false,
        }
    }

    /// Windows of work of a clock with windows.
    fn windows(&self) -> Option<(u32, u32, u32)> {
        let lines = (self.items.len() as u32).max(1);
        match &self.format {
            Some(Format::Intervals { on, off, n }) => Some((*on, *off, *n)),
            Some(Format::Stations { on, off, rounds }) => Some((*on, *off, lines.saturating_mul(*rounds))),
            Some(Format::OnOff { on, off, n, alternating: true }) => Some((*on, *off, *n)),
            Some(Format::OnOff { on, off, n, .. }) => Some((*on, *off, lines.saturating_mul(*n))),
            _ => None,
        }
    }

    /// Times that the entry at a place of the list is done. The first entries of an alternating clock whose cycles do
    /// not come out even have one turn more.
    pub fn turns(&self, place: usize) -> u32 {
        let in_turn = |n: u32| {
            let k = (self.items.len() as u32).max(1);
            n / k + u32::from((place as u32) < n % k)
        };
        match &self.format {
            Some(Format::EveryAlternating { n, .. } | Format::OnOff { n, alternating: true, .. }) => {
                in_turn(*n)
            }
            _ => self.rounds(),
        }
    }

    /// Length of the part where its clock fixes it, with the rests between windows and none after the last.
    pub fn clock_s(&self) -> Option<u32> {
        match &self.format {
            Some(Format::Amrap { seconds }) => Some(*seconds),
            Some(Format::Every { seconds, n } | Format::EveryAlternating { seconds, n }) => {
                Some(seconds.saturating_mul(*n))
            }
            _ => self.windows().map(|(on, off, n)| {
                on.saturating_mul(n).saturating_add(off.saturating_mul(n.saturating_sub(1)))
            }),
        }
    }

    /// Fixed rest: off windows, a rest between lines each round, a rest after the last line each round but the last.
    pub fn fixed_rest_s(&self) -> u32 {
        let off = self.windows().map_or(0, |(_, off, n)| off.saturating_mul(n.saturating_sub(1)));
        let last = self.items.len().saturating_sub(1);
        let cycles = matches!(&self.format, Some(Format::Every { .. } | Format::EveryAlternating { .. }));
        let in_list = self.items.iter().enumerate().map(|(i, item)| {
            let Item::Rest { seconds } = item else { return 0 };
            let n = if matches!(self.format, Some(Format::Amrap { .. })) { 1 } else { self.turns(i) };
            if i < last || cycles || self.windows().is_some() {
                seconds.saturating_mul(n)
            } else if n > 1 {
                seconds.saturating_mul(n - 1)
            } else if self.format.is_some() {
                0
            } else {
                *seconds
            }
        });
        in_list.fold(off, u32::saturating_add)
    }

    /// The work of one round, without what stands around the list.
    pub fn per_round(&self) -> Vec<Total> {
        let mut out = Vec::new();
        for m in self.moves() {
            add(&mut out, m, self.times(m, 1));
        }
        out
    }

    /// All work of the part.
    pub fn totals(&self) -> Vec<Total> {
        let mut out = Vec::new();
        let open = self.open_ended();
        let extras = |out: &mut Vec<Total>, early: bool| {
            for e in &self.extras {
                if (e.when == When::BuyIn) == early {
                    add(out, &e.work, self.times_around(e.when, &e.work));
                }
            }
        };
        extras(&mut out, true);
        for (i, item) in self.items.iter().enumerate() {
            if let Item::Move(m) = item {
                add(&mut out, m, if open { None } else { self.times(m, self.turns(i)) });
            }
        }
        extras(&mut out, false);
        out
    }

    fn times_around(&self, when: When, work: &MoveLine) -> Option<TotalCount> {
        let n = match when {
            When::BuyIn => self.windows().filter(|_| !self.open_counts()).map_or(1, |(_, _, n)| n),
            When::CashOut | When::AfterRound(_) => 1,
            When::EachRoundMore if !self.open_ended() => {
                let n = self.rounds();
                n * n.saturating_sub(1) / 2
            }
            When::EachRoundMore | When::OnTheClock { .. } | When::OnBreak => return None,
        };
        self.times(work, n)
    }

    fn open_counts(&self) -> bool {
        self.format.as_ref().is_some_and(Format::open_counts)
    }

    /// A line done `n` times; `None` where nobody can say.
    fn times(&self, m: &MoveLine, n: u32) -> Option<TotalCount> {
        let side = if m.per_side { 2.0 } else { 1.0 };
        let sum = |reps: &[u32]| TotalCount::Each(reps.iter().map(|r| f64::from(*r)).sum::<f64>() * side);
        let risen = |c: f64| {
            let rise = m.rise.unwrap_or(0.0);
            if rise == 0.0 {
                return c * f64::from(n) * side;
            }
            (0..n).map(|j| (c + rise * f64::from(j)).max(0.0)).sum::<f64>() * side
        };
        match (&m.count, &self.format) {
            (None, Some(Format::Scheme { reps } | Format::Quality { scheme: reps, .. }))
                if !reps.is_empty() =>
            {
                Some(sum(reps))
            }
            (Some(Count::Scheme(reps)), _) => Some(sum(reps)),
            (Some(Count::Each(c)), _) => Some(TotalCount::Each(risen(*c))),
            (Some(Count::ByStandard(c)), _) => Some(TotalCount::ByStandard(c.map(risen))),
            (Some(Count::Max) | None, _) => None,
        }
    }
}

impl Block {
    /// Fixed rest of the whole block, with the rests between its parts.
    pub fn fixed_rest_s(&self) -> u32 {
        self.parts.iter().map(|p| p.fixed_rest_s().saturating_add(p.rest_s)).fold(0, u32::saturating_add)
    }

    /// Length of the block where its clocks fix it.
    pub fn clock_s(&self) -> Option<u32> {
        if !self.lifts.is_empty() {
            let all: Option<Vec<u32>> =
                self.lifts.iter().map(|l| l.every_s.map(|e| e.saturating_mul(l.reps.len() as u32))).collect();
            return all.map(|v| v.iter().fold(0, |a: u32, s| a.saturating_add(*s)));
        }
        self.parts
            .iter()
            .map(|p| p.clock_s().map(|s| s.saturating_add(p.rest_s)))
            .try_fold(0u32, |sum, s| Some(sum.saturating_add(s?)))
            .filter(|s| *s > 0)
    }

    /// All work of the block for one member; the whole team's where the reps are shared.
    pub fn totals(&self) -> Vec<Total> {
        let mut out: Vec<Total> = Vec::new();
        for l in &self.lifts {
            let side = if l.per_side { 2.0 } else { 1.0 };
            let reps = f64::from(l.reps.iter().fold(0, |a: u32, r| a.saturating_add(*r))) * side;
            let n = l.reps.len() as f64 * side;
            let known = !l.by_cycle && !l.reps.contains(&0);
            let all = std::iter::once((words(&l.movement), reps))
                .chain(l.chain.iter().map(|(id, r)| (id.clone(), f64::from(*r) * n)));
            for (movement, reps) in all {
                let count = known.then_some(TotalCount::Each(reps));
                let (load_kg, typed) = (l.kg, l.typed);
                let unit = Unit::Reps;
                merge(&mut out, Total { movement, count, unit, load_kg, typed, load_from: None });
            }
        }
        for b in &self.builds {
            let movement = words(&b.movement);
            merge(
                &mut out,
                Total {
                    movement,
                    count: None,
                    unit: Unit::Reps,
                    load_kg: None,
                    typed: WeightUnit::Kg,
                    load_from: None,
                },
            );
        }
        for t in self.parts.iter().flat_map(Part::totals) {
            merge(&mut out, t);
        }
        out
    }

    /// The work of one round of the parts that are open-ended.
    pub fn per_round(&self) -> Vec<Total> {
        let mut out = Vec::new();
        for t in self.parts.iter().filter(|p| p.open_ended()).flat_map(Part::per_round) {
            merge(&mut out, t);
        }
        out
    }
}

fn words(movement: &Named) -> String {
    match movement {
        Named::Known(id) => id.clone(),
        Named::Unknown(words) => words.clone(),
    }
}

fn add(out: &mut Vec<Total>, m: &MoveLine, count: Option<TotalCount>) {
    let (load_kg, typed) = match &m.load {
        Some(Load::Kg { kg, typed, .. }) => (Some(*kg), *typed),
        _ => (None, WeightUnit::Kg),
    };
    let carries = load_kg.is_some() || m.load_from == LoadFrom::Assumed;
    let load_from = carries.then(|| m.load_from.word());
    merge(out, Total { movement: words(&m.movement), count, unit: m.unit, load_kg, typed, load_from });
}

fn merge(out: &mut Vec<Total>, t: Total) {
    let same =
        out.iter_mut().find(|o| o.movement == t.movement && o.unit == t.unit && o.load_kg == t.load_kg);
    match same {
        Some(o) => o.count = sum(o.count, t.count),
        None => out.push(t),
    }
}

fn sum(a: Option<TotalCount>, b: Option<TotalCount>) -> Option<TotalCount> {
    let both = |c: TotalCount| match c {
        TotalCount::Each(v) => [v, v],
        TotalCount::ByStandard(v) => v,
    };
    match (a?, b?) {
        (TotalCount::Each(a), TotalCount::Each(b)) => Some(TotalCount::Each(a + b)),
        (a, b) => {
            let ([a0, a1], [b0, b1]) = (both(a), both(b));
            Some(TotalCount::ByStandard([a0 + b0, a1 + b1]))
        }
    }
}
