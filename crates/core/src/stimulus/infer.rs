//! The window of a workout whose sheet gives none: what the regular model member needs, marked as assumed.

use super::{Length, Said, Stimulus};
use crate::pacing::{Athlete, Level};
use crate::sheet::{Block, TargetUnit};
use crate::units::Standard;
use crate::versions::{Work, quick_score};

/// The window reaches from this share below the regular member's middle ... (own)
const BELOW: f64 = 0.15;
/// ... to this share above it (own).
const ABOVE: f64 = 0.20;
/// Times are rounded to this, s.
const STEP_S: f64 = 30.0;
/// Rounds are rounded to this.
const STEP_ROUNDS: f64 = 0.5;

/// The stimulus of a block: its target, or one inferred from the regular member of both standards at Full.
pub fn infer(block: &Block, work: &Work) -> Stimulus {
    if let Some(target) = block.target {
        return Stimulus::of_sheet(block, target, work.amrap_s());
    }
    let unit = if work.amrap_s().is_some() { TargetUnit::Rounds } else { TargetUnit::Seconds };
    let cap_s = block.cap_s.map(f64::from);
    let mut out = Stimulus {
        unit,
        low: None,
        high: None,
        said: Said::Assumed,
        cap_s,
        wishes: block.wishes.clone(),
        length: Length::Medium,
    };
    let scores = Standard::BOTH
        .map(|s| quick_score(work, s, &Athlete::of_level(s, Level::Regular), &out).score)
        .into_iter()
        .filter(|s| s.is_finite())
        .collect::<Vec<_>>();
    if scores.is_empty() {
        // nothing to go by: the cap alone says how long it may take
        out.high = cap_s.filter(|_| unit == TargetUnit::Seconds);
        out.length = Length::of(cap_s.or(work.amrap_s()).unwrap_or(600.0));
        return out;
    }
    let middle = scores.iter().sum::<f64>() / scores.len() as f64;
    let step = if unit == TargetUnit::Seconds { STEP_S } else { STEP_ROUNDS };
    let to = |v: f64| (v / step).round() * step;
    let (mut low, mut high) = (to(middle * (1.0 - BELOW)).max(step), to(middle * (1.0 + ABOVE)));
    if let Some(cap) = cap_s.filter(|_| unit == TargetUnit::Seconds) {
        high = high.min(cap);
        // the regular member does not make it: the last fifth before the cap is all that is left to aim at
        if low >= high {
            low = to(cap * 0.8).min(cap - step).max(0.0);
        }
    }
    out.low = Some(low);
    out.high = Some(high.max(low + step));
    out.length = Length::of(work.amrap_s().unwrap_or(middle));
    out
}
