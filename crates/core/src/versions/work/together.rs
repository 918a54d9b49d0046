//! Work of pairs and teams as the simulator runs it: whole rounds in turn, or one works and hands over.

use super::compile::Compiler;
use super::{Clock, Work};
use crate::pacing::{Amount, Node, Shared, resolve};
use crate::sheet::{Team, TeamMode, When};

/// Nobody works longer than this share of a full set before handing over (own).
const SHARE_OF_SET: f64 = 0.4;
/// ... where the rule is only that one works (own).
const ONE_WORKS_OF_SET: f64 = 0.67;
/// Everybody has at least so many turns on a line whose reps are shared (own).
const TURNS_EACH: f64 = 2.0;

/// The work of a team; `None` where its clock gives everybody their own windows: then each does a share of the reps.
pub(super) fn shared(work: &Work, team: Team, c: &mut Compiler) -> Option<Vec<Shared>> {
    let mut out = Vec::new();
    for (part, section) in work.sections.iter().enumerate() {
        let (n, t) = match section.clock {
            Clock::Rounds(n) | Clock::Scheme(n) => (Some(n), None),
            Clock::Once => (Some(1), None),
            Clock::Amrap(t) => (None, Some(f64::from(t))),
            _ => return None,
        };
        if section.rest_before_s > 0 {
            out.push(Shared::Rest(f64::from(section.rest_before_s)));
        }
        let pass = |c: &mut Compiler, r: usize, rising: bool| amounts(c.pass(part, r, rising));
        let before = amounts(c.extras(part, |w| w == When::BuyIn));
        let after = amounts(c.extras(part, |w| w == When::CashOut));
        let turn = |c: &Compiler, a: Amount| (a, turn_size(c, &a, team));
        out.extend(
            (!before.is_empty())
                .then(|| Shared::Switch { t: None, tasks: before.iter().map(|a| turn(c, *a)).collect() }),
        );
        if team.mode == TeamMode::Alternate && n.is_none_or(|n| n > 1) {
            let body = pass(c, 0, true).into_iter().map(Node::Task).collect();
            out.push(Shared::Alternate { n, t, body });
        } else {
            let mut tasks = Vec::new();
            for r in 0..n.unwrap_or(1) as usize {
                tasks.extend(pass(c, r, n.is_none()));
            }
            let tasks = tasks.into_iter().map(|a| turn(c, a)).collect();
            out.push(Shared::Switch { t, tasks });
        }
        out.extend(
            (!after.is_empty())
                .then(|| Shared::Switch { t: None, tasks: after.iter().map(|a| turn(c, *a)).collect() }),
        );
    }
    Some(out)
}

fn amounts(nodes: Vec<Node>) -> Vec<Amount> {
    nodes.into_iter().filter_map(|n| if let Node::Task(a) = n { Some(a) } else { None }).collect()
}

fn turn_size(c: &Compiler, a: &Amount, team: Team) -> f64 {
    let n = a.n.unwrap_or(1.0);
    let most = c
        .out
        .tasks
        .get(a.slot)
        .and_then(|(row, load)| resolve(c.athlete, *row, *load, 1.0, 0))
        .filter(|t| t.most.is_finite())
        .map_or(f64::INFINITY, |t| t.most);
    let turn = match team.mode {
        TeamMode::OneWorks => (ONE_WORKS_OF_SET * most).min(n),
        _ => (SHARE_OF_SET * most).min(n / (TURNS_EACH * f64::from(team.size))),
    };
    turn.ceil().max(1.0)
}
