//! The cheapest ways that together make a day fit its hour.

use super::{Gives, Mend, Weighed, with};
use crate::hour::HourPart;
use crate::mend::Way;
use crate::plan::PlanOf;
use crate::plan::decision::Decision;
use crate::plan::memo::{Memo, Stopped};

/// What one thing more to say costs (own).
const EACH: f64 = 0.15;
/// Most ways that are tried in all their sets.
const MOST: usize = 14;

/// Ways that together make the day fit, or come nearest.
#[derive(Debug, Clone, PartialEq)]
pub struct Fitting {
    /// In the order in which they were weighed.
    pub mends: Vec<Mend>,
    /// The day with all of them.
    pub then: Gives,
}

/// The cheapest ways that make a day fit which runs over; `None` where none helps.
///
/// # Errors
/// `Stopped` where nobody waits for it any more.
pub fn fitting(
    of: &PlanOf,
    now: &Gives,
    weighed: &[Weighed],
    memo: &dyn Memo,
) -> Result<Option<Fitting>, Stopped> {
    if now.over_s == 0 {
        return Ok(None);
    }
    let mut useful: Vec<&Weighed> = weighed.iter().filter(|w| w.wins_s > 0).collect();
    useful.sort_by(|a, b| (a.cost / a.wins_s as f64).total_cmp(&(b.cost / b.wins_s as f64)));
    useful.truncate(MOST);
    let mut best: Option<Fitting> = None;
    // what is won together may be less than the sum: more is asked then
    let mut asked = i64::from(now.over_s);
    for _ in 0..3 {
        let Some(mends) = cheapest(&useful, asked) else { break };
        let decisions: Vec<Decision> = mends.iter().map(|m| m.decision.clone()).collect();
        let then = Gives::of(&with(of, &decisions, memo)?);
        let missing = i64::from(then.over_s);
        if best.as_ref().is_none_or(|b| then.over_s < b.then.over_s) {
            best = Some(Fitting { mends, then });
        }
        if missing == 0 {
            break;
        }
        asked += missing;
    }
    Ok(best.filter(|b| b.then.over_s < now.over_s))
}

/// The cheapest set of ways that win so much; the set that wins most where none does.
fn cheapest(useful: &[&Weighed], asked_s: i64) -> Option<Vec<Mend>> {
    // which ways each one cannot be taken with, as bits
    let clashes: Vec<u32> = useful
        .iter()
        .enumerate()
        .map(|(i, a)| {
            let others = useful.iter().enumerate().filter(|(j, b)| i != *j && exclude(&a.mend, &b.mend));
            others.fold(0, |all, (j, _)| all | 1 << j)
        })
        .collect();
    let within = |set: u32| useful.iter().zip(&clashes).enumerate().filter(move |(i, _)| set & (1 << i) != 0);
    let mut best: Option<(bool, f64, i64, u32)> = None;
    for set in 1u32..1 << useful.len() {
        if within(set).any(|(_, (_, clash))| clash & set != 0) {
            continue;
        }
        let wins: i64 = within(set).map(|(_, (w, _))| w.wins_s).sum();
        let cost: f64 = within(set).map(|(_, (w, _))| w.cost + EACH).sum();
        let enough = wins >= asked_s;
        let better = best.is_none_or(|(was, least, most, _)| match (was, enough) {
            (true, true) => cost < least,
            (false, false) => wins > most,
            (was, now) => now && !was,
        });
        if better {
            best = Some((enough, cost, wins, set));
        }
    }
    let (_, _, wins, set) = best?;
    Some(give_back(within(set).map(|(_, (w, _))| w.mend.clone()).collect(), wins - asked_s))
}

/// What is won too much goes back to the parts that were cut, the dearest first.
fn give_back(mut mends: Vec<Mend>, mut too_much_s: i64) -> Vec<Mend> {
    let minute = |part: HourPart| Way::Shorter { part, from_s: 60, to_s: 0 }.price();
    let mut order: Vec<usize> = (0..mends.len()).collect();
    order.sort_by(|a, b| {
        let of = |i: &usize| match mends.get(*i).map(|m| &m.way) {
            Some(Way::Shorter { part, .. }) => minute(*part),
            _ => 0.0,
        };
        of(b).total_cmp(&of(a))
    });
    for i in order {
        let Some(Mend { way: Way::Shorter { from_s, to_s, .. }, decision: Decision::Length { seconds, .. } }) =
            mends.get_mut(i)
        else {
            continue;
        };
        let back = i64::from(*from_s - *to_s).min(too_much_s / 10 * 10).max(0);
        too_much_s -= back;
        *to_s += back as u32;
        *seconds = *to_s;
    }
    mends.retain(|m| !matches!(m.way, Way::Shorter { from_s, to_s, .. } if from_s == to_s));
    mends
}

/// Whether two ways cannot be taken together: both settle the same thing.
fn exclude(a: &Mend, b: &Mend) -> bool {
    let block = |m: &Mend| m.decision.block();
    let same = block(a).is_some() && block(a) == block(b);
    let either = |of: fn(&Mend) -> bool| of(a) || of(b);
    let both = |of: fn(&Mend) -> bool| of(a) && of(b);
    let alike = touches_groups(a) == touches_groups(b);
    (same && (alike || either(leaves)))
        || both(divides)
        || both(leaves)
        || (either(leaves) && either(divides))
}

fn leaves(m: &Mend) -> bool {
    matches!(m.way, Way::Leave { .. })
}

/// Whether a way divides the class.
fn divides(m: &Mend) -> bool {
    matches!(m.way, Way::Halves | Way::Heats { .. })
}

/// Whether a way says who works when, not how much is done.
fn touches_groups(m: &Mend) -> bool {
    matches!(m.way, Way::Halves | Way::Heats { .. } | Way::Starts { .. } | Way::Pairs { .. })
}
