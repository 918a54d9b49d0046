//! What a member's limits rule out, and what is done instead.

use super::levers::kit_has;
use super::personal::Personal;
use super::replace::{For, replaced};
use super::weight::Hands;
use crate::movement::{catalogue, say::spoken_for};
use crate::pacing::Athlete;
use crate::reason::{Agreed, Doing, OfLine};
use crate::roster::Member;
use crate::units::Unit;
use crate::versions::work::{Line, Work};

/// Replaces every line that a member's limits rule out; what has no replacement is left out and said.
pub fn spare_limits(work: &mut Work, member: &Member, athlete: &Athlete, hands: Hands) -> Vec<Personal> {
    let mut out = Vec::new();
    let mut gone = Vec::new();
    let who = For { standard: member.standard, athlete, hands, held_kg: None };
    for (i, line) in work.lines.iter_mut().enumerate() {
        let Some(m) = catalogue().movement(&line.movement) else { continue };
        let causes = member.causes_against(m);
        if causes.is_empty() {
            continue;
        }
        let agreed = Agreed::about(&causes);
        let before = spoken_for(&line.movement, 2.0);
        let allowed = |id: &str| {
            kit_has(hands.kit, id)
                && catalogue().movement(id).is_some_and(|m| member.limit_against(&m.avoid_with).is_none())
        };
        let found = catalogue().instead(&line.movement, &causes, |t| allowed(&t.to));
        let new = found.and_then(Result::ok).and_then(|t| Some((replaced(line, &t, who)?, t.why)));
        match new {
            Some((new, why)) => {
                let reason = OfLine::Limit { to: doing(&new), from: doing(line), agreed, why };
                out.push(Personal::own(i, new.text_for(member.standard), reason));
                *line = new;
            }
            None => {
                let reason = OfLine::NothingSuits { movement: line.movement.clone(), agreed };
                out.push(Personal::own(i, format!("no {before}"), reason));
                gone.push(i);
            }
        }
    }
    for i in gone.into_iter().rev() {
        if work.lines.len() > 1 {
            work.remove(i);
        }
    }
    out
}

fn doing(line: &Line) -> Doing {
    let counted = line.unit == Unit::Reps;
    Doing { movement: line.movement.clone(), variant: line.variant.clone(), counted }
}
