//! Who works at the same time: heats of a workout, halves of a class, and lines of a list at which members begin.

use super::strength::StrengthPlan;
use crate::roster::Member;
use crate::versions::Placed;

/// Heats of a workout, each with members of every version in it: those who are alike follow each other, so that a lane and its
/// bar serve one of each heat (own).
pub(super) fn heats(of: &[usize], placed: &[Placed], members: &[Member], heats: u32) -> Vec<Vec<usize>> {
    let heats = (heats.max(1) as usize).min(of.len().max(1));
    let heaviest = |i: usize| {
        let (p, m) = (placed.get(i)?, members.get(i)?);
        p.work.lines.iter().filter_map(|l| l.kg()).map(|kg| m.standard.of(kg)).max_by(f64::total_cmp)
    };
    let mut order: Vec<(usize, f64, f64)> = of
        .iter()
        .filter_map(|i| Some((*i, heaviest(*i).unwrap_or(0.0), placed.get(*i)?.predicted.prediction.p50())))
        .collect();
    order.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.2.total_cmp(&b.2)).then(a.0.cmp(&b.0)));
    let mut out = vec![Vec::new(); heats];
    for (lane, (i, ..)) in order.into_iter().enumerate() {
        if let Some(heat) = out.get_mut(lane % heats) {
            heat.push(i);
        }
    }
    out.iter_mut().for_each(|h| h.sort_unstable());
    out
}

/// The class in two: at each rack every second one lifts first; who does not lift goes where fewer are.
pub(super) fn halves(strength: &StrengthPlan, members: usize) -> Vec<Vec<usize>> {
    let mut out = vec![Vec::new(), Vec::new()];
    let mut known = vec![false; members];
    for rack in strength.lifts.iter().take(1).flat_map(|l| &l.racks.racks) {
        // of an odd number one more goes where fewer are
        let first = usize::from(out.first().map(Vec::len) > out.get(1).map(Vec::len));
        for (turn, i) in rack.members.iter().enumerate().map(|(turn, i)| (turn + first, i)) {
            if let (Some(half), Some(seen)) = (out.get_mut(turn % 2), known.get_mut(*i)) {
                half.push(*i);
                *seen = true;
            }
        }
    }
    for (i, _) in known.iter().enumerate().filter(|(_, seen)| !**seen) {
        if let Some(half) = out.iter_mut().min_by_key(|h| h.len()) {
            half.push(i);
        }
    }
    out.iter_mut().for_each(|h| h.sort_unstable());
    out
}

/// The groups divided by the line at which their members begin: those who are at one station at once.
pub(super) fn by_start(groups: &[Vec<usize>], starts: &[u32], of: u32) -> Vec<Vec<usize>> {
    let at = |g: &[usize], s: u32| -> Vec<usize> {
        g.iter().copied().filter(|i| starts.get(*i) == Some(&s)).collect()
    };
    groups.iter().flat_map(|g| (0..of.max(1)).map(move |s| at(g, s))).filter(|g| !g.is_empty()).collect()
}

/// Who begins at which of `starts` lines, by the order of a group: neighbours begin at different ones.
pub(super) fn starts(groups: &[Vec<usize>], starts: u32, members: usize) -> Vec<u32> {
    let mut out = vec![0; members];
    for (turn, i) in groups.iter().flat_map(|g| g.iter().enumerate()) {
        if let Some(start) = out.get_mut(*i) {
            *start = turn as u32 % starts.max(1);
        }
    }
    out
}
