//! The search for groups: all of them for a handful of members, else consecutive cuts of the sorted list made better by
//! moving and swapping members until nothing helps.

use super::cost::Costs;

use rand::{Rng, SeedableRng};
use rand_pcg::Pcg64Mcg;
use std::collections::HashMap;

/// Up to so many members every grouping is tried (21,147 of them at 9).
const ALL_GROUPINGS: usize = 9;
/// Rounds of improvement; in practice a handful suffices.
const MOST_ROUNDS: u32 = 60;

type Groups = Vec<Vec<usize>>;

/// Cuts an order into so many groups of like size.
pub(super) fn cut(order: &[usize], racks: usize) -> Groups {
    let n = order.len();
    let mut out = Vec::new();
    let mut at = 0;
    for r in 0..racks.max(1) {
        let size = n / racks.max(1) + usize::from(r < n % racks.max(1));
        out.push(order.iter().skip(at).take(size).copied().collect());
        at += size;
    }
    out.retain(|g: &Vec<usize>| !g.is_empty());
    out
}

/// The groups with the fewest moves: at most `racks` of at most `most` members, wants first.
pub(super) fn best(costs: &Costs, racks: usize, most: usize) -> Groups {
    if costs.len() <= ALL_GROUPINGS {
        return every_grouping(costs, racks, most);
    }
    improved(costs, racks, most)
}

/// Every way to part the members: exact.
fn every_grouping(costs: &Costs, racks: usize, most: usize) -> Groups {
    struct Search<'a> {
        costs: &'a Costs,
        racks: usize,
        most: usize,
        best: Option<(u32, usize, Groups)>,
        known: HashMap<Vec<usize>, Vec<usize>>,
    }
    impl Search<'_> {
        fn ordered(&mut self, g: &[usize]) -> Vec<usize> {
            let costs = self.costs;
            self.known.entry(g.to_vec()).or_insert_with(|| costs.order(g)).clone()
        }
        fn put(&mut self, member: usize, groups: &mut Groups) {
            if member == self.costs.len() {
                let ordered: Groups = groups.iter().map(|g| self.ordered(g)).collect();
                // equal moves: fewer members at the fullest rack, they wait less
                let fullest = ordered.iter().map(Vec::len).max().unwrap_or(0);
                let total = self.costs.total(&ordered);
                if self.best.as_ref().is_none_or(|b| (total, fullest) < (b.0, b.1)) {
                    self.best = Some((total, fullest, ordered));
                }
                return;
            }
            for i in 0..groups.len() {
                if groups.get(i).is_some_and(|g| g.len() < self.most) {
                    if let Some(g) = groups.get_mut(i) {
                        g.push(member);
                    }
                    self.put(member + 1, groups);
                    if let Some(g) = groups.get_mut(i) {
                        g.pop();
                    }
                }
            }
            if groups.len() < self.racks {
                groups.push(vec![member]);
                self.put(member + 1, groups);
                groups.pop();
            }
        }
    }
    let mut s = Search { costs, racks, most, best: None, known: HashMap::new() };
    s.put(0, &mut Vec::new());
    s.best.map(|b| b.2).unwrap_or_default()
}

/// Kicks of the best groups found so far, each made better again (a few milliseconds for 24 members).
const KICKS: u64 = 40;
/// Swaps of a kick.
const KICK_SWAPS: usize = 3;

/// What groups cost and their best order, remembered by who is in them.
struct Known<'a> {
    costs: &'a Costs,
    groups: HashMap<u64, (u32, Vec<usize>)>,
}

impl Known<'_> {
    fn look(&mut self, group: &[usize]) -> &(u32, Vec<usize>) {
        let key = group.iter().fold(0u64, |k, i| k | 1 << (i & 63));
        let costs = self.costs;
        self.groups.entry(key).or_insert_with(|| {
            let order = costs.order(group);
            (costs.moves(&order), order)
        })
    }

    fn moves(&mut self, group: &[usize]) -> u32 {
        if group.is_empty() { 0 } else { self.look(group).0 }
    }

    fn order(&mut self, group: &[usize]) -> Vec<usize> {
        if group.is_empty() { Vec::new() } else { self.look(group).1.clone() }
    }

    fn total(&mut self, groups: &Groups) -> u32 {
        groups.iter().map(|g| self.moves(g)).sum::<u32>().saturating_add(self.costs.unmet(groups))
    }
}

/// Consecutive cuts of the sorted list, made better by moving and swapping; then kicked and made better again, always the
/// same way for the same lifters.
pub(super) fn improved(costs: &Costs, racks: usize, most: usize) -> Groups {
    let mut known = Known { costs, groups: HashMap::new() };
    let sorted = costs.sorted();
    let starts = [consecutive(&mut known, &sorted, racks, most), cut(&sorted, racks.min(costs.len()).max(1))];
    let mut best: Option<(u32, Groups)> = None;
    for start in starts {
        let g = swaps(&mut known, start, racks, most);
        let total = known.total(&g);
        if best.as_ref().is_none_or(|b| total < b.0) {
            best = Some((total, g));
        }
    }
    let Some(mut best) = best else { return Vec::new() };
    let mut rng = Pcg64Mcg::seed_from_u64(1);
    for _ in 0..KICKS {
        if best.0 == 0 {
            break;
        }
        let mut g = best.1.clone();
        for _ in 0..KICK_SWAPS {
            let (a, b) = (rng.random_range(0..g.len()), rng.random_range(0..g.len()));
            let (na, nb) = (g.get(a).map_or(0, Vec::len), g.get(b).map_or(0, Vec::len));
            if a == b || na == 0 || nb == 0 {
                continue;
            }
            let (i, j) = (rng.random_range(0..na), rng.random_range(0..nb));
            if let Some([ga, gb]) = exchanged(&g, a, b, Some(i), Some(j)) {
                let step = Step { total: 0, a, b, groups: [ga, gb] };
                g = with(&g, &step);
            }
        }
        let g = swaps(&mut known, g, racks, most);
        let total = known.total(&g);
        if total < best.0 {
            best = (total, g);
        }
    }
    best.1.iter().map(|g| known.order(g)).collect()
}

fn consecutive(known: &mut Known, sorted: &[usize], racks: usize, most: usize) -> Groups {
    let n = sorted.len();
    // cheapest[i][r]: the first i members in r groups, and where the last group begins
    let mut cheapest = vec![vec![(u32::MAX, 0usize); racks + 1]; n + 1];
    if let Some(c) = cheapest.first_mut().and_then(|row| row.first_mut()) {
        *c = (0, 0);
    }
    let group = |from: usize, to: usize| sorted.get(from..to).unwrap_or_default();
    for i in 1..=n {
        for from in i.saturating_sub(most)..i {
            let g = group(from, i);
            let cost = known.moves(g).saturating_add(known.costs.alone_unmet(g));
            for r in 1..=racks {
                let before = cheapest.get(from).and_then(|row| row.get(r - 1)).map_or(u32::MAX, |c| c.0);
                let with = before.saturating_add(cost);
                if let Some(c) = cheapest.get_mut(i).and_then(|row| row.get_mut(r))
                    && with < c.0
                {
                    *c = (with, from);
                }
            }
        }
    }
    let last = cheapest.last().map(Vec::as_slice).unwrap_or_default();
    let Some(mut r) = (1..=racks).min_by_key(|r| last.get(*r).map_or(u32::MAX, |c| c.0)) else {
        return Vec::new();
    };
    let mut out = Vec::new();
    let mut to = n;
    while to > 0 && r > 0 {
        let from = cheapest.get(to).and_then(|row| row.get(r)).map_or(0, |c| c.1);
        out.push(group(from, to).to_vec());
        (to, r) = (from, r - 1);
    }
    out.reverse();
    out
}

/// A change of two groups, with what all groups then cost.
struct Step {
    total: u32,
    a: usize,
    b: usize,
    groups: [Vec<usize>; 2],
}

/// Groups `a` and `b` after a member of each changed places, or one went over (`None`).
fn exchanged(
    groups: &Groups,
    a: usize,
    b: usize,
    i: Option<usize>,
    j: Option<usize>,
) -> Option<[Vec<usize>; 2]> {
    let (mut ga, mut gb) = (groups.get(a)?.clone(), groups.get(b)?.clone());
    let from_a = i.map(|i| ga.swap_remove(i));
    let from_b = j.map(|j| gb.swap_remove(j));
    ga.extend(from_b);
    gb.extend(from_a);
    Some([ga, gb])
}

/// Every change of two groups that keeps to the size: one over, or two swapped.
fn each_exchange(groups: &Groups, most: usize, mut f: impl FnMut(usize, usize, [Vec<usize>; 2])) {
    for a in 0..groups.len() {
        for b in 0..groups.len() {
            let (na, nb) = (groups.get(a).map_or(0, Vec::len), groups.get(b).map_or(0, Vec::len));
            if a == b {
                continue;
            }
            for i in 0..na {
                if nb < most
                    && let Some(two) = exchanged(groups, a, b, Some(i), None)
                {
                    f(a, b, two);
                }
                for j in (0..nb).filter(|_| a < b) {
                    if let Some(two) = exchanged(groups, a, b, Some(i), Some(j)) {
                        f(a, b, two);
                    }
                }
            }
        }
    }
}

fn with(groups: &Groups, step: &Step) -> Groups {
    let mut out = groups.clone();
    for (at, g) in [step.a, step.b].into_iter().zip(&step.groups) {
        if let Some(slot) = out.get_mut(at) {
            slot.clone_from(g);
        }
    }
    out
}

/// The best exchange again and again until none helps.
fn swaps(known: &mut Known, mut groups: Groups, racks: usize, most: usize) -> Groups {
    while groups.len() < racks {
        groups.push(Vec::new());
    }
    for _ in 0..MOST_ROUNDS {
        let own: Vec<u32> = groups.iter().map(|g| known.moves(g)).collect();
        let all: u32 = own.iter().sum();
        let now = all.saturating_add(known.costs.unmet(&groups));
        let mut best: Option<Step> = None;
        each_exchange(&groups, most, |a, b, two| {
            let before = own.get(a).unwrap_or(&0) + own.get(b).unwrap_or(&0);
            let moves = all - before + two.iter().map(|g| known.moves(g)).sum::<u32>();
            let least = best.as_ref().map_or(now, |s| s.total);
            // adding up the wants takes time: only where the moves alone are fewer
            if moves >= least {
                return;
            }
            let mut step = Step { total: moves, a, b, groups: two };
            step.total = moves.saturating_add(known.costs.unmet(&with(&groups, &step)));
            if step.total < least {
                best = Some(step);
            }
        });
        let Some(step) = best else { break };
        groups = with(&groups, &step);
    }
    groups.retain(|g| !g.is_empty());
    groups
}

/// Swaps newer members to where somebody experienced lifts, where it costs at most `moves` more each time.
pub(super) fn beside_experienced(costs: &Costs, groups: &mut Groups, moves: u32) {
    let most = groups.iter().map(Vec::len).max().unwrap_or(0);
    while costs.alone(groups) > 0 {
        let (alone, now) = (costs.alone(groups), costs.total(groups));
        let mut best: Option<Step> = None;
        each_exchange(groups, most, |a, b, two| {
            let mut step = Step { total: 0, a, b, groups: two.map(|g| costs.order(&g)) };
            let changed = with(groups, &step);
            step.total = costs.total(&changed);
            let helps = costs.alone(&changed) < alone && step.total <= now + moves;
            if helps && best.as_ref().is_none_or(|s| step.total < s.total) {
                best = Some(step);
            }
        });
        let Some(step) = best else { break };
        *groups = with(groups, &step);
        groups.retain(|g| !g.is_empty());
    }
}
