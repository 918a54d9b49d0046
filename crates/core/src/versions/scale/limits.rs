//! What a member's limits rule out, and what is done instead.

use super::levers::kit_has;
use super::personal::Personal;
use super::replace::{For, replaced};
use super::weight::Hands;
use crate::movement::{Cause, catalogue, say::spoken, say::spoken_for};
use crate::pacing::Athlete;
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
        let agreed = if causes.contains(&Cause::Pregnancy) { "as agreed with you" } else { "as you told us" };
        let before = spoken_for(&line.movement, 2.0);
        let allowed = |id: &str| {
            kit_has(hands.kit, id)
                && catalogue().movement(id).is_some_and(|m| member.limit_against(&m.avoid_with).is_none())
        };
        let found = catalogue().instead(&line.movement, &causes, |t| allowed(&t.to));
        let new = found.and_then(Result::ok).and_then(|t| Some((replaced(line, &t, who)?, t.why)));
        match new {
            Some((new, why)) => {
                let (from, to) = told_apart(line, &new);
                let reason = format!("{to} instead of {from}, {agreed}: {}.", in_a_sentence(&why));
                out.push(Personal::limit(i, new.text_for(member.standard), reason));
                *line = new;
            }
            None => {
                let reason =
                    format!("No {before}, {agreed}: nothing that is here suits. Settle it together.");
                out.push(Personal::limit(i, format!("no {before}"), reason));
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

/// A sentence of the table inside another: small at the beginning, no full stop.
fn in_a_sentence(why: &str) -> String {
    let plain = why.trim_end_matches('.');
    let mut letters = plain.chars();
    letters.next().map_or_else(String::new, |c| c.to_lowercase().chain(letters).collect())
}

/// Two lines' movements as they are said, in words that differ: with the variant, else with all that their names hold.
fn told_apart(a: &Line, b: &Line) -> (String, String) {
    let said = |l: &Line| {
        let name = if l.unit == Unit::Reps { spoken_for(&l.movement, 2.0) } else { spoken(&l.movement) };
        l.variant.as_ref().map_or(name.clone(), |v| format!("{name} ({v})"))
    };
    let (x, y) = (said(a), said(b));
    if x == y {
        (catalogue().name(&a.movement).to_lowercase(), catalogue().name(&b.movement).to_lowercase())
    } else {
        (x, y)
    }
}

/// A limit as it is said: `shoulder`, `no hanging`.
pub fn say_limit(limit: &str) -> String {
    limit.replace('-', " ")
}
