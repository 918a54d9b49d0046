//! What reading answers to other programs: the sheet with its totals, as the object of `read --format json`.

use super::model::{Block, Format, Part, Score, Target, TargetUnit};
use super::problem::Problem;
use super::reading::Reading;
use super::totals::Total;
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
    /// Rounds, cycles, windows or sets; none for a list done once, as many rounds as possible, and several parts.
    pub rounds: Option<u32>,
    pub fixed_rest_s: u32,
    /// Length of the work where the clock fixes it.
    pub duration_s: Option<u32>,
    pub score: Option<&'static str>,
    pub team: Option<TeamAnswer>,
    pub totals: Vec<Total>,
    /// One round of an open-ended workout.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub per_round: Vec<Total>,
    /// The parts, where their clocks differ.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub parts: Vec<PartAnswer>,
}

/// Where results should land.
#[derive(Debug, Clone, Serialize)]
#[allow(missing_docs)]
pub struct TargetAnswer {
    pub unit: &'static str,
    pub low: Option<f64>,
    pub high: Option<f64>,
}

/// People who do it together.
#[derive(Debug, Clone, Serialize)]
#[allow(missing_docs)]
pub struct TeamAnswer {
    pub size: u32,
    pub mode: &'static str,
}

/// One part of a block whose parts run on different clocks.
#[derive(Debug, Clone, Serialize)]
#[allow(missing_docs)]
pub struct PartAnswer {
    pub format: Option<&'static str>,
    pub line: u32,
    /// Fixed rest before it.
    pub rest_before_s: u32,
    pub rounds: Option<u32>,
    pub fixed_rest_s: u32,
    pub duration_s: Option<u32>,
    pub totals: Vec<Total>,
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub per_round: Vec<Total>,
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
    let sets = b.lifts.iter().map(|l| l.reps.len() as u32).max();
    BlockAnswer {
        kind: b.kind.word(),
        name: b.name.clone(),
        format: if b.mixed() { Some("parts") } else { b.format().map(Format::word) },
        line: b.line,
        cap_s: b.cap_s,
        target: b.target.as_ref().map(target_answer),
        rounds: match b.parts.as_slice() {
            [one] => sets.or_else(|| rounds(one)),
            _ => None,
        },
        fixed_rest_s: b.fixed_rest_s(),
        duration_s: b.clock_s(),
        score: (b.scored() != Score::None).then(|| b.scored().words()),
        team: b.team.map(|t| TeamAnswer { size: t.size, mode: t.mode.word() }),
        totals: b.totals(),
        per_round: b.per_round(),
        parts: if b.mixed() { b.parts.iter().map(part_answer).collect() } else { Vec::new() },
    }
}

fn part_answer(p: &Part) -> PartAnswer {
    PartAnswer {
        format: p.format.as_ref().map(Format::word),
        line: p.line,
        rest_before_s: p.rest_s,
        rounds: rounds(p),
        fixed_rest_s: p.fixed_rest_s(),
        duration_s: p.clock_s(),
        totals: p.totals(),
        per_round: if p.open_ended() { p.per_round() } else { Vec::new() },
    }
}

fn rounds(p: &Part) -> Option<u32> {
    match &p.format {
        None | Some(Format::Chipper | Format::Amrap { .. } | Format::EveryUntilFailure { .. }) => None,
        Some(Format::Sets | Format::BuildToMax | Format::ClimbingSingles) => None,
        Some(Format::Quality { .. }) => Some(p.rounds()).filter(|n| *n > 1),
        Some(_) => Some(p.rounds()),
    }
}

fn target_answer(t: &Target) -> TargetAnswer {
    let unit = match t.unit {
        TargetUnit::Seconds => "s",
        TargetUnit::Rounds => "rounds",
        TargetUnit::Reps => "reps",
        TargetUnit::Rest => "rest",
    };
    TargetAnswer { unit, low: t.low, high: t.high }
}
