//! Too easy is seen too: who will be clearly early at Full is offered more. Nobody is slowed, nothing is assigned.

use super::guide::at_hand;
use super::weight::{Hands, holds_fresh};
use crate::pacing::Athlete;
use crate::roster::Member;
use crate::versions::predict::Prediction;
use crate::versions::work::Work;

/// A weight that is offered is at most so much over the written one.
const MORE_WEIGHT: f64 = 1.1;

/// One to three offers in words; empty where the middle is not before the window.
pub fn offers(
    work: &Work,
    member: &Member,
    athlete: &Athlete,
    hands: Hands,
    range: &Prediction,
) -> Vec<String> {
    let s = hands.stimulus;
    let early = s.is_time() && range.scale_this.is_none() && s.low.is_some_and(|l| range.p50() < l);
    if !early {
        return Vec::new();
    }
    let mut out = Vec::new();
    for (i, line) in work.lines.iter().enumerate() {
        let Some(kg) = line.kg().map(|kg| member.standard.of(kg)) else { continue };
        let more = at_hand(&line.movement, member.standard, kg * MORE_WEIGHT, hands.kit, hands.bars);
        let fits = |v: &f64| *v > kg + 0.01 && *v <= kg * MORE_WEIGHT + 0.01;
        if let Some(more) = more.filter(fits).filter(|v| holds_fresh(work, i, athlete, *v, s)) {
            let name = crate::movement::say::spoken_for(&line.movement, 2.0);
            out.push(format!("{} for the {name}", hands.kit.said(more)));
            break;
        }
    }
    out.push(format!("the same list, quicker: {}", s.write(range.p50())));
    out
}
