//! The work of a version: a list of lines on a clock, read from a block of the sheet and changed by levers.
//! Counts are totals of both sides, loads kg of one implement, both [heavier, lighter].

use crate::movement::{LoadKind, RxLoad, catalogue, say::line_text};
use crate::sheet::{Block, Count, Format, Item, Load, MoveLine, PercentBase, WordLoad};
use crate::units::{Standard, Unit};
use serde::{Deserialize, Serialize};

/// The clock that the work runs on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Clock {
    /// The list so many times.
    Rounds(u32),
    /// The list once for each number of a scheme.
    Scheme(u32),
    /// The list once.
    Once,
    /// The list over and over for so many seconds.
    Amrap(u32),
}

/// Weight of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Weight {
    /// kg of one implement, [heavier, lighter].
    Kg([f64; 2]),
    /// Per cent of a maximum: every member's own weight.
    Percent {
        /// Per cent.
        percent: f64,
        /// Of what.
        of: PercentBase,
    },
}

/// A further movement done with each pass of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Along {
    /// Catalogue id.
    pub movement: String,
    /// As the counts of its line.
    pub counts: Vec<[f64; 2]>,
}

/// One line of work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Line {
    /// Catalogue id.
    pub movement: String,
    /// How it differs from the plain movement.
    pub variant: Option<String>,
    /// One entry for all rounds, or one for each number of a scheme.
    pub counts: Vec<[f64; 2]>,
    /// What they count.
    pub unit: Unit,
    /// Half on each side.
    pub per_side: bool,
    /// Weight, where one is held.
    pub weight: Option<Weight>,
    /// The sheet gave no weight: the movement's usual one is taken.
    pub weight_assumed: bool,
    /// Implements held.
    pub implements: u8,
    /// cm.
    pub height_cm: Option<[f64; 2]>,
    /// Must not be broken.
    pub unbroken: bool,
    /// May be left out.
    pub optional: bool,
    /// Done with it.
    pub along: Vec<Along>,
}

/// A workout of one version.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Work {
    /// Its clock.
    pub clock: Clock,
    /// In order.
    pub lines: Vec<Line>,
    /// Fixed rests: (after how many lines, seconds); a rest after the last line lies between rounds.
    pub rests: Vec<(usize, u32)>,
}

impl Line {
    /// The weight in kg of one implement as written, where it is the same for all of a standard.
    pub fn kg(&self) -> Option<[f64; 2]> {
        match &self.weight {
            Some(Weight::Kg(kg)) => Some(*kg),
            _ => None,
        }
    }

    /// How many implements count together for the load of the whole movement.
    pub fn held(&self) -> f64 {
        let pair = catalogue().movement(&self.movement).is_some_and(|m| m.load == LoadKind::DumbbellPair);
        f64::from(self.implements.max(if pair { 2 } else { 1 }))
    }

    /// The count of a round, for one standard.
    pub fn count(&self, round: usize, standard: Standard) -> f64 {
        self.counts.get(round).or(self.counts.last()).map_or(0.0, |c| standard.of(*c))
    }

    /// The largest count of any round, heavier standard.
    pub fn largest(&self) -> f64 {
        self.counts.iter().map(|c| c[0]).fold(0.0, f64::max)
    }

    /// The line in words for both standards.
    pub fn text(&self) -> String {
        self.text_with(self.counts.clone(), self.kg())
    }

    /// The line in words for one standard, with its own figures only.
    pub fn text_for(&self, standard: Standard) -> String {
        let one = |p: [f64; 2]| [standard.of(p); 2];
        self.text_with(self.counts.iter().map(|c| one(*c)).collect(), self.kg().map(one))
    }

    fn text_with(&self, counts: Vec<[f64; 2]>, kg: Option<[f64; 2]>) -> String {
        let implements = if kg.is_some() && self.held() > 1.0 { 2 } else { 1 };
        let mut out =
            line_text(&self.movement, &counts, self.unit, self.per_side, kg, implements, self.height_cm);
        if let Some(Weight::Percent { percent, .. }) = &self.weight {
            out.push_str(&format!(" at {} %", crate::units::plain(*percent)));
        }
        if let Some(v) = &self.variant {
            out.push_str(&format!(" ({v})"));
        }
        for a in &self.along {
            let more = line_text(&a.movement, &a.counts, Unit::Reps, false, None, 1, None);
            out.push_str(&format!(" and {more}"));
        }
        out
    }
}

impl Work {
    /// The work of a block as written.
    ///
    /// # Errors
    /// Says why the block cannot be planned: nothing to time, an unknown movement, a count that is missing.
    pub fn from_block(block: &Block) -> Result<Work, String> {
        let clock = match &block.format {
            Some(Format::Rounds { n }) => Clock::Rounds(*n),
            Some(Format::Scheme { reps }) => Clock::Scheme(reps.len() as u32),
            Some(Format::Chipper) => Clock::Once,
            Some(Format::Amrap { seconds }) => Clock::Amrap(*seconds),
            Some(Format::Unread) => {
                return Err("This format is not understood yet, so nothing is timed.".to_owned());
            }
            _ => return Err("This block is not scored, so nothing is timed.".to_owned()),
        };
        let scheme: &[u32] = match &block.format {
            Some(Format::Scheme { reps }) => reps,
            _ => &[],
        };
        let mut work = Work { clock, lines: Vec::new(), rests: Vec::new() };
        for item in &block.items {
            match item {
                Item::Rest { seconds } => work.rests.push((work.lines.len(), *seconds)),
                Item::Move(m) => work.lines.push(line(m, scheme)?),
            }
        }
        if work.lines.is_empty() {
            return Err("There is no work in this block yet.".to_owned());
        }
        Ok(work)
    }

    /// Times through the list; 1 for an open-ended clock.
    pub fn rounds(&self) -> usize {
        match self.clock {
            Clock::Rounds(n) | Clock::Scheme(n) => n as usize,
            Clock::Once | Clock::Amrap(_) => 1,
        }
    }

    /// Seconds of an open-ended clock.
    pub fn amrap_s(&self) -> Option<f64> {
        match self.clock {
            Clock::Amrap(s) => Some(f64::from(s)),
            _ => None,
        }
    }

    /// The clock in words: `3 rounds`, `21-15-9`, `12:00 as many rounds as possible`.
    pub fn clock_text(&self) -> String {
        match self.clock {
            Clock::Rounds(1) => "1 round".to_owned(),
            Clock::Rounds(n) => format!("{n} rounds"),
            Clock::Scheme(n) => format!("{n} rounds"),
            Clock::Once => "once through".to_owned(),
            Clock::Amrap(s) => format!("as many rounds as possible in {}", crate::units::clock(f64::from(s))),
        }
    }
}

fn line(m: &MoveLine, scheme: &[u32]) -> Result<Line, String> {
    let words = || match &m.movement {
        crate::sheet::Named::Known(id) => catalogue().name(id),
        crate::sheet::Named::Unknown(w) => w.clone(),
    };
    let id = m.movement.id().ok_or_else(|| format!("Line {} waits: I do not know “{}”.", m.line, words()))?;
    let side = if m.per_side { 2.0 } else { 1.0 };
    let each = |n: f64| [n * side; 2];
    let counts = match &m.count {
        Some(Count::Each(n)) => vec![each(*n)],
        Some(Count::ByStandard(c)) => vec![c.map(|v| v * side)],
        Some(Count::Scheme(reps)) => reps.iter().map(|r| each(f64::from(*r))).collect(),
        Some(Count::Max) => {
            return Err(format!(
                "Line {} waits: “max” needs a window of time, which is not understood yet.",
                m.line
            ));
        }
        None if scheme.is_empty() => return Err(format!("Line {} waits: it has no count.", m.line)),
        None => scheme.iter().map(|r| each(f64::from(*r))).collect(),
    };
    let (weight, implements, weight_assumed) = weight(m, id);
    Ok(Line {
        movement: id.to_owned(),
        variant: None,
        counts,
        unit: m.unit,
        per_side: m.per_side,
        weight,
        weight_assumed,
        implements,
        height_cm: m.height_cm,
        unbroken: m.unbroken,
        optional: m.optional,
        along: Vec::new(),
    })
}

fn weight(m: &MoveLine, id: &str) -> (Option<Weight>, u8, bool) {
    let movement = catalogue().movement(id);
    let kind = movement.map_or(LoadKind::None, |m| m.load);
    let pair = if kind == LoadKind::DumbbellPair { 2 } else { 1 };
    let usual = movement.and_then(|m| m.rx_load);
    let worded = |pick: fn(RxLoad) -> [f64; 2]| usual.map(|u| Weight::Kg(pick(u)));
    match &m.load {
        Some(Load::Kg { kg, implements }) => (Some(Weight::Kg(*kg)), (*implements).max(pair), false),
        Some(Load::Percent { percent, of }) => {
            (Some(Weight::Percent { percent: *percent, of: of.clone() }), pair, false)
        }
        Some(Load::Word(WordLoad::Light)) => (worded(|u| u.light), pair, true),
        Some(Load::Word(WordLoad::Heavy)) => (worded(|u| u.heavy), pair, true),
        Some(Load::Word(WordLoad::Moderate)) => (worded(|u| u.moderate), pair, true),
        None if kind == LoadKind::None || kind == LoadKind::Machine => (None, 1, false),
        None => {
            let w = worded(|u| u.moderate);
            let assumed = w.is_some();
            (w, pair, assumed)
        }
    }
}
