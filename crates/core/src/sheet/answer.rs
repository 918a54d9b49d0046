//! What reading answers to other programs: the sheet with its totals, as the object of `read --format json`.

use super::model::{Block, Count, Format, Item, Load, MoveLine, Named, Score, Target, TargetUnit};
use super::problem::Problem;
use super::read::Reading;
use crate::units::Unit;
use serde::Serialize;

/// A session as other programs see it.
#[derive(Debug, Clone, Serialize)]
#[allow(missing_docs)]
pub struct Answer {
    pub schema: &'static str,
    pub title: Option<String>,
    pub date: Option<String>,
    pub intent: Option<String>,
    pub class_s: Option<u32>,
    pub blocks: Vec<BlockAnswer>,
    pub problems: Vec<Problem>,
}

/// One block with its totals for one member doing the work as written.
#[derive(Debug, Clone, Serialize)]
#[allow(missing_docs)]
pub struct BlockAnswer {
    pub kind: &'static str,
    pub name: Option<String>,
    pub format: Option<&'static str>,
    pub line: u32,
    pub cap_s: Option<u32>,
    pub target: Option<TargetAnswer>,
    /// Rounds or sets; none for a list done once and for as many rounds as possible.
    pub rounds: Option<u32>,
    pub fixed_rest_s: u32,
    /// Length of the work where the clock fixes it.
    pub duration_s: Option<u32>,
    pub score: Option<&'static str>,
    pub team: Option<String>,
    pub totals: Vec<Total>,
    /// One round of an open-ended workout.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub per_round: Vec<Total>,
}

/// Where results should land.
#[derive(Debug, Clone, Serialize)]
#[allow(missing_docs)]
pub struct TargetAnswer {
    pub unit: &'static str,
    pub low: Option<f64>,
    pub high: Option<f64>,
}

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

/// The answer to `read --format json`.
pub fn answer(reading: &Reading) -> Answer {
    let s = &reading.sheet;
    Answer {
        schema: "lantern-sheet/1",
        title: s.title.clone(),
        date: s.date.map(|d| d.to_string()),
        intent: s.intent.clone(),
        class_s: s.class_s,
        blocks: s.blocks.iter().map(block_answer).collect(),
        problems: reading.problems.clone(),
    }
}

fn block_answer(b: &Block) -> BlockAnswer {
    let amrap = matches!(b.format, Some(Format::Amrap { .. }));
    let sets = b.lifts.iter().map(|l| l.reps.len() as u32).max();
    BlockAnswer {
        kind: b.kind.word(),
        name: b.name.clone(),
        format: b.format.as_ref().and_then(format_word),
        line: b.line,
        cap_s: b.cap_s,
        target: b.target.as_ref().map(target_answer),
        rounds: match b.format {
            Some(Format::Sets) => sets,
            Some(Format::Rounds { .. } | Format::Scheme { .. }) => Some(b.rounds()),
            Some(Format::Quality { .. }) if b.rounds() > 1 => Some(b.rounds()),
            _ => None,
        },
        fixed_rest_s: b.fixed_rest_s(),
        duration_s: match b.format {
            Some(Format::Amrap { seconds }) => Some(seconds),
            _ => sets_duration(b),
        },
        score: (b.scored() != Score::None).then(|| b.scored().words()),
        team: None,
        totals: if amrap {
            b.per_round().into_iter().map(|t| Total { count: None, ..t }).collect()
        } else {
            b.totals()
        },
        per_round: if amrap { b.per_round() } else { Vec::new() },
    }
}

fn sets_duration(b: &Block) -> Option<u32> {
    let all: Option<Vec<u32>> = b.lifts.iter().map(|l| l.every_s.map(|e| e * l.reps.len() as u32)).collect();
    all.filter(|v| !v.is_empty()).map(|v| v.iter().sum())
}

fn target_answer(t: &Target) -> TargetAnswer {
    let unit = match t.unit {
        TargetUnit::Seconds => "s",
        TargetUnit::Rounds => "rounds",
        TargetUnit::Reps => "reps",
    };
    TargetAnswer { unit, low: t.low, high: t.high }
}

fn format_word(f: &Format) -> Option<&'static str> {
    Some(match f {
        Format::Rounds { .. } => "rounds-for-time",
        Format::Scheme { .. } => "scheme-for-time",
        Format::Chipper => "chipper",
        Format::Amrap { .. } => "amrap",
        Format::Sets => "sets",
        Format::Quality { .. } => "quality",
        Format::Unread => return None,
    })
}

impl Block {
    /// Fixed rest of the whole block in seconds: a rest between lines each round, a rest after the last line
    /// each round but the last.
    pub fn fixed_rest_s(&self) -> u32 {
        let n = if matches!(self.format, Some(Format::Amrap { .. })) { 1 } else { self.rounds() };
        let last = self.items.len().saturating_sub(1);
        self.items
            .iter()
            .enumerate()
            .map(|(i, item)| match item {
                Item::Rest { seconds } if i == last && n > 1 => seconds.saturating_mul(n - 1),
                Item::Rest { seconds } if i == last => {
                    if self.format.is_some() && n == 1 {
                        0
                    } else {
                        *seconds
                    }
                }
                Item::Rest { seconds } => seconds.saturating_mul(n),
                Item::Move(_) => 0,
            })
            .fold(0, u32::saturating_add)
    }

    /// All work of the block for one member.
    pub fn totals(&self) -> Vec<Total> {
        let mut out = Vec::new();
        for l in &self.lifts {
            let reps = f64::from(l.reps.iter().fold(0, |a: u32, r| a.saturating_add(*r)));
            add(&mut out, &l.movement, Some(TotalCount::Each(reps)), Unit::Reps, l.kg);
        }
        for m in self.moves() {
            add(&mut out, &m.movement, self.total_of(m), m.unit, load_of(m));
        }
        out
    }

    /// The work of one round.
    pub fn per_round(&self) -> Vec<Total> {
        let mut out = Vec::new();
        for m in self.moves() {
            add(&mut out, &m.movement, times(m, 1.0), m.unit, load_of(m));
        }
        out
    }

    fn total_of(&self, m: &MoveLine) -> Option<TotalCount> {
        let side = if m.per_side { 2.0 } else { 1.0 };
        let all =
            |reps: &[u32]| Some(TotalCount::Each(reps.iter().map(|r| f64::from(*r)).sum::<f64>() * side));
        match (&m.count, &self.format) {
            (None, Some(Format::Scheme { reps } | Format::Quality { scheme: reps, .. }))
                if !reps.is_empty() =>
            {
                all(reps)
            }
            (Some(Count::Scheme(reps)), _) => all(reps),
            _ => times(m, f64::from(self.rounds())),
        }
    }
}

fn times(m: &MoveLine, n: f64) -> Option<TotalCount> {
    let f = n * if m.per_side { 2.0 } else { 1.0 };
    match &m.count {
        Some(Count::Each(c)) => Some(TotalCount::Each(c * f)),
        Some(Count::ByStandard(c)) => Some(TotalCount::ByStandard(c.map(|v| v * f))),
        Some(Count::Scheme(reps)) => Some(TotalCount::Each(
            reps.iter().map(|r| f64::from(*r)).sum::<f64>() * if m.per_side { 2.0 } else { 1.0 },
        )),
        Some(Count::Max) | None => None,
    }
}

fn load_of(m: &MoveLine) -> Option<[f64; 2]> {
    match &m.load {
        Some(Load::Kg { kg, .. }) => Some(*kg),
        _ => None,
    }
}

fn add(
    out: &mut Vec<Total>,
    movement: &Named,
    count: Option<TotalCount>,
    unit: Unit,
    load_kg: Option<[f64; 2]>,
) {
    let movement = match movement {
        Named::Known(id) => id.clone(),
        Named::Unknown(words) => words.clone(),
    };
    let same = out.iter_mut().find(|t| t.movement == movement && t.unit == unit && t.load_kg == load_kg);
    match same {
        Some(t) => t.count = sum(t.count, count),
        None => out.push(Total { movement, count, unit, load_kg }),
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
