//! The window of a workout whose sheet gives none: what the regular model member needs, marked as assumed.

use super::{Length, Said, Stimulus};
use crate::pacing::{Athlete, Level};
use crate::sheet::{Block, Score, Target, TargetUnit, Wish};
use crate::units::Standard;
use crate::versions::{OpenClock, Work, quick_score};

/// The window reaches from this share below the regular member's middle ... (own)
const BELOW: f64 = 0.20;
/// ... to this share above it (own).
const ABOVE: f64 = 0.30;
/// Times are rounded to this, s.
const STEP_S: f64 = 30.0;
/// A window of time is at least so wide, s, and a short one's, under so many s (own).
const LEAST_WIDE_S: f64 = 120.0;
const LEAST_WIDE_SHORT_S: f64 = 30.0;
const SHORT_S: f64 = 240.0;
/// Rounds are rounded to this.
const STEP_ROUNDS: f64 = 0.5;

/// Rest that is left in a cycle where the sheet asks for none, as a share of the cycle (own) ...
const REST_SHARE: f64 = 0.15;
/// ... rounded to this, s.
const STEP_REST: f64 = 5.0;
/// Reps are rounded to this.
const STEP_REPS: f64 = 5.0;

/// The unit in which results of a work are judged.
pub fn unit_of(work: &Work) -> TargetUnit {
    if work.for_time() {
        TargetUnit::Seconds
    } else if work.cycle_s().is_some() {
        TargetUnit::Rest
    } else if work.one_amrap() || work.until_failure() {
        TargetUnit::Rounds
    } else {
        TargetUnit::Reps
    }
}

/// The unit for a block: reps where it is scored in them.
fn unit_for(block: &Block, work: &Work) -> TargetUnit {
    let unit = unit_of(work);
    if unit == TargetUnit::Rounds && block.scored() == Score::Reps { TargetUnit::Reps } else { unit }
}

/// The stimulus of a block: its target, or one inferred from the regular member of both standards at Full.
pub fn infer(block: &Block, work: &Work) -> Stimulus {
    let unit = unit_for(block, work);
    let fits = |t: &Target| match unit {
        TargetUnit::Seconds => t.unit == unit,
        TargetUnit::Rest => false,
        _ => t.unit != TargetUnit::Seconds,
    };
    if let Some(target) = block.target.filter(fits) {
        return Stimulus::of_sheet(block, target, work.clock_s());
    }
    let cap_s = block.cap_s.map(f64::from);
    let mut out = Stimulus {
        unit,
        low: None,
        high: None,
        said: Said::Assumed,
        cap_s,
        wishes: block.wishes.clone(),
        length: Length::of(work.clock_s().or(cap_s).unwrap_or(600.0)),
    };
    if let Some(cycle) = work.cycle_s() {
        return cycles(out, cycle);
    }
    // how much is done on an open clock says nothing by itself
    if OpenClock::of(work).is_some() {
        return out;
    }
    let scores = Standard::BOTH
        .map(|s| quick_score(work, s, &Athlete::of_level(s, Level::Regular), &out).score)
        .into_iter()
        .filter(|s| s.is_finite())
        .collect::<Vec<_>>();
    if scores.is_empty() {
        // nothing to go by: the cap alone says how long it may take
        out.high = cap_s.filter(|_| unit == TargetUnit::Seconds);
        return out;
    }
    let middle = scores.iter().sum::<f64>() / scores.len() as f64;
    let step = match unit {
        TargetUnit::Seconds | TargetUnit::Rest => STEP_S,
        TargetUnit::Rounds => STEP_ROUNDS,
        TargetUnit::Reps => STEP_REPS,
    };
    let to = |v: f64| (v / step).round() * step;
    let (mut low, mut high) = (to(middle * (1.0 - BELOW)).max(step), to(middle * (1.0 + ABOVE)));
    if let Some(cap) = cap_s.filter(|_| unit == TargetUnit::Seconds) {
        high = high.min(cap);
        // the regular member does not make it: the last fifth before the cap is all that is left to aim at
        if low >= high {
            low = to(cap * 0.8).min(cap - step).max(0.0);
        }
    }
    if unit == TargetUnit::Seconds {
        // a window that the cap cuts short begins sooner
        let least = if middle < SHORT_S { LEAST_WIDE_SHORT_S } else { LEAST_WIDE_S };
        low = low.min(high - least).max(0.0);
    }
    out.low = Some(low);
    out.high = Some(high.max(low + step));
    out.length = Length::of(work.clock_s().unwrap_or(middle));
    out
}

/// Cycles on a clock are judged by the rest that is left in the tightest one.
fn cycles(mut out: Stimulus, cycle: f64) -> Stimulus {
    let said = out.wishes.iter().find_map(|w| match w {
        Wish::LeastRest { seconds } => Some(f64::from(*seconds)),
        _ => None,
    });
    out.low = Some(said.unwrap_or(((cycle * REST_SHARE) / STEP_REST).round().max(1.0) * STEP_REST));
    if said.is_some() {
        out.said = Said::Sheet;
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn window(text: &str) -> Stimulus {
        let block = read(text).sheet.blocks[0].clone();
        infer(&block, &Work::from_block(&block).unwrap())
    }

    #[test]
    fn a_window_is_never_a_sliver_before_the_cap() {
        for rounds in 1..9 {
            for cap in [4, 6, 8, 10, 12, 15, 20, 30] {
                let s = window(&format!(
                    "# workout cap {cap}:00\n{rounds} rounds for time\n12 thrusters 40/27.5 kg\n12 burpees\n200 m run"
                ));
                let (low, high) = (s.low.unwrap(), s.high.unwrap());
                let all = format!("{rounds} rounds, cap {cap}: {low} to {high}");
                assert!(low >= 0.0 && high <= f64::from(cap) * 60.0, "{all}");
                assert!(high - low >= if high < 300.0 { LEAST_WIDE_SHORT_S } else { LEAST_WIDE_S }, "{all}");
                assert!(low % STEP_S == 0.0 && s.said == Said::Assumed, "{all}");
            }
        }
    }

    #[test]
    fn without_a_cap_it_lies_round_the_regular_member() {
        let block = read("# workout\nfor time\n50 burpees\n40 wall-balls 9/6 kg").sheet.blocks[0].clone();
        let work = Work::from_block(&block).unwrap();
        let s = infer(&block, &work);
        let of = |st| quick_score(&work, st, &Athlete::of_level(st, Level::Regular), &s).score;
        let middle = Standard::BOTH.map(of).iter().sum::<f64>() / 2.0;
        assert!((s.low.unwrap() - 0.8 * middle).abs() <= STEP_S / 2.0 + 1e-9);
        assert!((s.high.unwrap() - 1.3 * middle).abs() <= STEP_S / 2.0 + 1e-9);
        assert!(s.holds(middle));
    }
}
