//! The sheet as it is done today: what the coach took from it, capped or gave to pairs. The programme itself stays as it is.

use super::decision::{Decision, cap_of, in_pairs, is_left, percent_of};
use crate::mend::{By, less};
use crate::sheet::{Block, Sheet, TargetUnit, Team, TeamMode};
use std::borrow::Cow;

/// The sheet with what was decided of its blocks.
pub(super) fn todays<'a>(sheet: &'a Sheet, decisions: &[Decision]) -> Cow<'a, Sheet> {
    let changes = |d: &Decision| {
        matches!(
            d,
            Decision::Leave { .. } | Decision::Less { .. } | Decision::Cap { .. } | Decision::Pairs { .. }
        )
    };
    if !decisions.iter().any(changes) {
        return Cow::Borrowed(sheet);
    }
    let mut out = sheet.clone();
    for (i, block) in out.blocks.iter_mut().enumerate() {
        *block = if is_left(decisions, i) { block.left_out() } else { todays_block(block, i, decisions) };
    }
    Cow::Owned(out)
}

/// A block as it is done today, where it is done.
pub(super) fn todays_block(block: &Block, at: usize, decisions: &[Decision]) -> Block {
    let mut out = block.clone();
    for by in [By::Rounds, By::Counts] {
        let percent = percent_of(decisions, at, by);
        if percent < 100 {
            out = less(&out, by, percent);
        }
    }
    if let Some(seconds) = cap_of(decisions, at) {
        out.cap_s = Some(seconds);
        // a target that the cap cuts off ends with it
        if let Some(t) = out.target.as_mut().filter(|t| t.unit == TargetUnit::Seconds) {
            t.high = t.high.map(|h| h.min(f64::from(seconds)));
            t.low = t.low.filter(|l| *l < f64::from(seconds));
        }
    }
    if out.team.is_none() && in_pairs(decisions, at) {
        out.team = Some(Team { size: 2, mode: TeamMode::OneWorks });
    }
    out
}
