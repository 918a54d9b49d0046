//! Reads a block of the sheet as the work that is planned.

use super::{Clock, Line, Section, Weight, Work};
use crate::movement::{LoadKind, RxLoad, catalogue};
use crate::schools::BoxDescent;
use crate::settings::Settings;
use crate::sheet::{Block, Count, Format, Item, Load, MoveLine, Part, Score, When, Who, WordLoad};
use crate::units::WeightUnit;

/// Work without a clock is not timed.
const UNTIMED: &str = "This block is not scored, so nothing is timed.";

impl Work {
    /// The work of a block as written.
    ///
    /// # Errors
    /// Says why the block cannot be planned: nothing to time, an unknown movement, a count that is missing.
    pub fn from_block(block: &Block) -> Result<Work, String> {
        let mut work = Work {
            sections: Vec::new(),
            lines: Vec::new(),
            team: block.team,
            lowest: block.score == Some(Score::LowestRound),
            shortened_from: None,
        };
        for (i, part) in block.parts.iter().enumerate() {
            let mut rests = Vec::new();
            let scheme: &[u32] = match &part.format {
                Some(Format::Scheme { reps } | Format::Quality { scheme: reps, .. }) => reps,
                _ => &[],
            };
            let first = work.lines.len();
            let around = |early: bool| part.extras.iter().filter(move |e| (e.when == When::BuyIn) == early);
            for e in around(true) {
                work.lines.push(line(&e.work, &[], i, Some(e.when))?);
            }
            for item in &part.items {
                match item {
                    Item::Rest { seconds } => rests.push((work.lines.len(), *seconds)),
                    Item::Move(m) => work.lines.push(line(m, scheme, i, None)?),
                }
            }
            for e in around(false) {
                work.lines.push(line(&e.work, &[], i, Some(e.when))?);
            }
            let clock = clock(part)?;
            if let Some(l) = work.lines.get_mut(first).filter(|_| i > 0) {
                l.lead = lead(part.rest_s, clock);
            }
            work.sections.push(Section { rest_before_s: part.rest_s, clock, rests });
        }
        if work.clock_s().is_some_and(|s| s > crate::pacing::params::GUARD) {
            return Err("This clock runs for more than four hours. Check its length and how often it comes."
                .to_owned());
        }
        if work.lines.is_empty() {
            return Err("There is no work in this block yet.".to_owned());
        }
        Ok(work)
    }

    /// The same where the hall jumps down from boxes: its own time and strain.
    pub fn by_school(mut self, settings: &Settings) -> Work {
        if settings.answer::<BoxDescent>() == BoxDescent::Jump {
            for l in self.lines.iter_mut().filter(|l| JUMPED_DOWN.contains(&l.movement.as_str())) {
                l.variant = Some(JUMP_DOWN.to_owned());
            }
        }
        self
    }
}

/// The coach's own Trim and Base, where the sheet has levels: what stands beside the lines, in the place of the line. A
/// level that says nothing of a line leaves it as the level above has it.
pub fn own_levels(block: &Block) -> [Option<Block>; 2] {
    [2, 1].map(|level| {
        let said = |m: &MoveLine| m.others.iter().any(|o| o.who == Who::Level(level));
        if !block.moves().any(said) {
            return None;
        }
        let mut own = block.clone();
        for part in &mut own.parts {
            for item in &mut part.items {
                if let Item::Move(m) = item {
                    let of = |n| m.others.iter().find(|o| o.who == Who::Level(n)).map(|o| o.line.clone());
                    let line = of(level).or_else(|| if level == 1 { of(2) } else { None });
                    if let Some(line) = line {
                        *m = MoveLine { line: m.line, ..line };
                    }
                }
            }
        }
        Some(own)
    })
}

/// How a box jump differs where the hall jumps down.
pub const JUMP_DOWN: &str = "jump down";
/// Movements that a jump down makes another exercise of.
const JUMPED_DOWN: [&str; 2] = ["box-jump", "box-jump-over"];

/// What stands above the first line of a later part.
fn lead(rest_s: u32, clock: Clock) -> String {
    let rest =
        if rest_s > 0 { format!("rest {}, ", crate::units::clock(f64::from(rest_s))) } else { String::new() };
    format!("{rest}then {}", clock.text())
}

fn clock(part: &Part) -> Result<Clock, String> {
    Ok(match &part.format {
        Some(Format::Rounds { n }) => Clock::Rounds(*n),
        Some(Format::Scheme { reps }) => Clock::Scheme(reps.len() as u32),
        Some(Format::Chipper) => Clock::Once,
        Some(Format::Amrap { seconds }) => Clock::Amrap(*seconds),
        // a cycle whose last line takes what is left of it is a window without rest after it
        Some(Format::Every { seconds, n }) if part.ends_with_max() => {
            Clock::Windows { on_s: *seconds, off_s: 0, n: *n }
        }
        Some(Format::Every { seconds, n }) => Clock::Every { every_s: *seconds, n: *n },
        Some(Format::EveryAlternating { seconds, n }) => Clock::Alternating { every_s: *seconds, n: *n },
        Some(Format::EveryUntilFailure { seconds }) => Clock::UntilFailure { every_s: *seconds },
        Some(Format::Intervals { on, off, n }) => Clock::Windows { on_s: *on, off_s: *off, n: *n },
        Some(Format::Stations { on, off, rounds }) => {
            Clock::Stations { on_s: *on, off_s: *off, rounds: *rounds }
        }
        Some(Format::OnOff { on, off, n, alternating }) => {
            Clock::OnOff { on_s: *on, off_s: *off, n: *n, alternating: *alternating }
        }
        Some(Format::Quality { .. } | Format::Sets | Format::BuildToMax | Format::ClimbingSingles) | None => {
            return Err(UNTIMED.to_owned());
        }
    })
}

fn line(m: &MoveLine, scheme: &[u32], part: usize, around: Option<When>) -> Result<Line, String> {
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
        Some(Count::Max) => Vec::new(),
        None if scheme.is_empty() => return Err(format!("Line {} waits: it has no count.", m.line)),
        None => scheme.iter().map(|r| each(f64::from(*r))).collect(),
    };
    let (weight, implements, weight_assumed) = weight(m, id);
    let speaks = match &m.load {
        Some(Load::Kg { typed, .. }) => *typed,
        _ => WeightUnit::Kg,
    };
    Ok(Line {
        movement: id.to_owned(),
        variant: None,
        part,
        around,
        lead: String::new(),
        counts,
        rise: m.rise.unwrap_or(0.0) * side,
        unit: m.unit,
        per_side: m.per_side,
        weight,
        weight_assumed,
        speaks,
        on_sheet: None,
        implements,
        height_cm: m.height_cm,
        unbroken: m.unbroken,
        optional: m.optional,
        along: Vec::new(),
        stands_for: None,
    })
}

fn weight(m: &MoveLine, id: &str) -> (Option<Weight>, u8, bool) {
    let movement = catalogue().movement(id);
    let kind = movement.map_or(LoadKind::None, |m| m.load);
    let pair = if kind == LoadKind::DumbbellPair { 2 } else { 1 };
    let usual = movement.and_then(|m| m.rx_load);
    let worded = |pick: fn(RxLoad) -> [f64; 2]| usual.map(|u| Weight::Kg(pick(u)));
    match &m.load {
        Some(Load::Kg { kg, implements, .. }) => (Some(Weight::Kg(*kg)), (*implements).max(pair), false),
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
