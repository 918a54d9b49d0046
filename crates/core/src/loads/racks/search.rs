//! The search for groups: all of them for a handful of members, else consecutive cuts of the sorted list made better by
//! moving and swapping members until nothing helps. Groups are sets of bits, one for each lifter; a class has at most 64.

use super::cost::Costs;
use rand::{Rng, SeedableRng};
use rand_pcg::Pcg64Mcg;
use rustc_hash::FxHashMap;

/// Up to so many members every grouping is tried (21,147 of them at 9).
const ALL_GROUPINGS: usize = 9;
/// Rounds of improvement; in practice a handful suffices.
const MOST_ROUNDS: u32 = 60;
/// Kicks of the best groups found so far, each made better again.
const KICKS: u64 = 40;
/// Swaps of a kick.
const KICK_SWAPS: usize = 3;

/// The slowest rack sets the clock: it counts so many times beside the sum of all.
const SLOWEST: u32 = 3;

/// Lifters of one rack.
type Group = u64;

/// What all racks cost together.
fn together(own: &[u32]) -> u32 {
    let slowest = own.iter().max().copied().unwrap_or(0);
    own.iter().sum::<u32>().saturating_add(SLOWEST.saturating_mul(slowest))
}

/// The three that cost most, with where they stand: one of them is none of the two that change.
fn slowest_three(own: &[u32]) -> Vec<(usize, u32)> {
    let mut all: Vec<(usize, u32)> = own.iter().copied().enumerate().collect();
    all.sort_by_key(|(_, c)| std::cmp::Reverse(*c));
    all.truncate(3);
    all
}

fn bit(i: usize) -> Group {
    1 << (i & 63)
}

/// Positions in a group, ascending.
fn members(group: Group) -> impl Iterator<Item = usize> {
    (0..64).filter(move |i| group & bit(*i) != 0)
}

/// Cuts an order into so many groups of like size.
pub(super) fn cut(order: &[usize], racks: usize) -> Vec<Vec<usize>> {
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

/// What a group costs, worked out once.
struct Known {
    order: Vec<usize>,
    cost: u32,
    /// Hooks, members and seconds over, as a cost.
    own_unmet: u32,
    /// Plates and bars.
    wants: Vec<u32>,
}

/// The search with everything that it has learned about groups.
pub(super) struct Search<'a> {
    costs: &'a Costs,
    known: FxHashMap<Group, Known>,
    racks: usize,
    most: usize,
}

impl<'a> Search<'a> {
    pub(super) fn new(costs: &'a Costs, racks: usize, most: usize) -> Search<'a> {
        Search { costs, known: FxHashMap::default(), racks, most }
    }

    fn look(&mut self, group: Group) -> &Known {
        let costs = self.costs;
        self.known.entry(group).or_insert_with(|| {
            let list: Vec<usize> = members(group).collect();
            let order = costs.order(&list);
            Known {
                cost: costs.cost(&order),
                own_unmet: costs.own_unmet(&order),
                wants: costs.wants(&order),
                order,
            }
        })
    }

    fn cost(&mut self, group: Group) -> u32 {
        if group == 0 { 0 } else { self.look(group).cost }
    }

    /// What all groups together want of each plate and bar, and what they are over on their own.
    fn wanted(&mut self, groups: &[Group]) -> (Vec<u32>, u32) {
        let (mut all, mut own): (Vec<u32>, u32) = (Vec::new(), 0);
        for g in groups {
            let k = self.look(*g);
            own += k.own_unmet;
            all.resize(k.wants.len(), 0);
            for (sum, w) in all.iter_mut().zip(&k.wants) {
                *sum += w;
            }
        }
        (all, own)
    }

    /// Wants of all groups together that the gym cannot meet, and what each group is over.
    fn unmet(&mut self, groups: &[Group]) -> u32 {
        let (all, own) = self.wanted(groups);
        own.saturating_add(self.costs.cost_of_missing(all.into_iter()))
    }

    /// The same after a step from groups of which it is known.
    fn unmet_after(&mut self, (all, own): &(Vec<u32>, u32), groups: &[Group], step: Step) -> u32 {
        let [to_a, to_b] = step.to;
        self.look(to_a);
        self.look(to_b);
        let of = |g: Group| self.known.get(&g);
        let before = |at: usize| groups.get(at).and_then(|g| of(*g));
        let (Some(a), Some(b), Some(x), Some(y)) = (before(step.a), before(step.b), of(to_a), of(to_b))
        else {
            return u32::MAX;
        };
        let gone = a.wants.iter().zip(&b.wants).map(|(a, b)| a + b);
        let come = x.wants.iter().zip(&y.wants).map(|(x, y)| x + y);
        let wanted = all.iter().zip(gone.zip(come)).map(|(all, (gone, come))| all + come - gone);
        let own = own + x.own_unmet + y.own_unmet - a.own_unmet - b.own_unmet;
        own.saturating_add(self.costs.cost_of_missing(wanted))
    }

    fn total(&mut self, groups: &[Group]) -> u32 {
        let own: Vec<u32> = groups.iter().map(|g| self.cost(*g)).collect();
        together(&own).saturating_add(self.unmet(groups))
    }

    /// The groups that take hands the least, wants first, the slowest rack before the sum; in lifting order.
    pub(super) fn best(&mut self) -> Vec<Vec<usize>> {
        let mut groups =
            if self.costs.len() <= ALL_GROUPINGS { self.every_grouping() } else { self.improved() };
        groups.retain(|g| *g != 0);
        groups.iter().map(|g| self.look(*g).order.clone()).collect()
    }

    /// Every way to part the members: exact.
    fn every_grouping(&mut self) -> Vec<Group> {
        let mut best = None;
        self.put(0, &mut Vec::new(), &mut best);
        best.map(|(_, _, g)| g).unwrap_or_default()
    }

    fn put(&mut self, member: usize, groups: &mut Vec<Group>, best: &mut Option<(u32, u32, Vec<Group>)>) {
        if member == self.costs.len() {
            // equal cost: fewer members at the fullest rack, they wait less
            let fullest = groups.iter().map(|g| g.count_ones()).max().unwrap_or(0);
            let total = self.total(groups);
            if best.as_ref().is_none_or(|b| (total, fullest) < (b.0, b.1)) {
                *best = Some((total, fullest, groups.clone()));
            }
            return;
        }
        for i in 0..groups.len() {
            let Some(g) = groups.get_mut(i).filter(|g| (g.count_ones() as usize) < self.most) else {
                continue;
            };
            *g |= bit(member);
            self.put(member + 1, groups, best);
            if let Some(g) = groups.get_mut(i) {
                *g &= !bit(member);
            }
        }
        if groups.len() < self.racks {
            groups.push(bit(member));
            self.put(member + 1, groups, best);
            groups.pop();
        }
    }

    /// Consecutive cuts of the sorted list, made better by moving and swapping; then kicked and made better again, always
    /// the same way for the same lifters.
    pub(super) fn improved(&mut self) -> Vec<Group> {
        let sorted = self.costs.sorted();
        let mask = |g: &Vec<usize>| g.iter().fold(0, |m, i| m | bit(*i));
        let even: Vec<Group> =
            cut(&sorted, self.racks.min(self.costs.len()).max(1)).iter().map(mask).collect();
        let consecutive = self.consecutive(&sorted);
        let mut best = (u32::MAX, Vec::new());
        for start in [consecutive, even] {
            let g = self.swaps(start);
            let total = self.total(&g);
            if total < best.0 {
                best = (total, g);
            }
        }
        let mut rng = Pcg64Mcg::seed_from_u64(1);
        for _ in 0..KICKS {
            if best.0 == 0 || best.1.len() < 2 {
                break;
            }
            let kicked = kick(&best.1, &mut rng);
            let g = self.swaps(kicked);
            let total = self.total(&g);
            if total < best.0 {
                best = (total, g);
            }
        }
        best.1
    }

    fn consecutive(&mut self, sorted: &[usize]) -> Vec<Group> {
        let n = sorted.len();
        // cheapest[i][r]: the first i members in r groups, and where the last group begins
        let mut cheapest = vec![vec![(u32::MAX, 0usize); self.racks + 1]; n + 1];
        if let Some(c) = cheapest.first_mut().and_then(|row| row.first_mut()) {
            *c = (0, 0);
        }
        let group = |from: usize, to: usize| {
            sorted.get(from..to).unwrap_or_default().iter().fold(0, |m, i| m | bit(*i))
        };
        for i in 1..=n {
            for from in i.saturating_sub(self.most)..i {
                let k = self.look(group(from, i));
                let cost = k.cost.saturating_add(k.own_unmet);
                for r in 1..=self.racks {
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
        let mut r = (1..=self.racks).min_by_key(|r| last.get(*r).map_or(u32::MAX, |c| c.0)).unwrap_or(0);
        let (mut out, mut to) = (Vec::new(), n);
        while to > 0 && r > 0 {
            let from = cheapest.get(to).and_then(|row| row.get(r)).map_or(0, |c| c.1);
            out.push(group(from, to));
            (to, r) = (from, r - 1);
        }
        out.reverse();
        out
    }

    /// The best exchange again and again until none helps.
    fn swaps(&mut self, mut groups: Vec<Group>) -> Vec<Group> {
        while groups.len() < self.racks {
            groups.push(0);
        }
        for _ in 0..MOST_ROUNDS {
            let own: Vec<u32> = groups.iter().map(|g| self.cost(*g)).collect();
            let wanted = self.wanted(&groups);
            let now = self.costs.cost_of_missing(wanted.0.iter().copied()).saturating_add(wanted.1);
            let mut least = together(&own).saturating_add(now);
            let mut best = None;
            let (sum, slowest) = (own.iter().sum::<u32>(), slowest_three(&own));
            each_exchange(&groups, self.most, |step| {
                let before = [step.a, step.b].map(|at| own.get(at).copied().unwrap_or(0));
                let after = step.to.map(|g| self.cost(g));
                let others = slowest.iter().find(|(at, _)| *at != step.a && *at != step.b);
                let clock = others.map_or(0, |(_, c)| *c).max(after[0]).max(after[1]);
                let sum = sum - before[0] - before[1] + after[0] + after[1];
                let cost = sum.saturating_add(SLOWEST.saturating_mul(clock));
                // adding up the wants takes time: only where the hands alone take less
                if cost < least {
                    let total = cost.saturating_add(self.unmet_after(&wanted, &groups, step));
                    if total < least {
                        (least, best) = (total, Some(step));
                    }
                }
            });
            let Some(step) = best else { break };
            groups = with(&groups, step);
        }
        groups.retain(|g| *g != 0);
        groups
    }
}

/// Two groups and what they become.
#[derive(Clone, Copy)]
struct Step {
    a: usize,
    b: usize,
    to: [Group; 2],
}

/// Every change of two groups that keeps to the size: one member over, or two swapped.
fn each_exchange(groups: &[Group], most: usize, mut f: impl FnMut(Step)) {
    for (a, ga) in groups.iter().enumerate() {
        for (b, gb) in groups.iter().enumerate().filter(|(b, _)| *b != a) {
            for i in members(*ga) {
                if (gb.count_ones() as usize) < most {
                    f(Step { a, b, to: [ga & !bit(i), gb | bit(i)] });
                }
                for j in members(*gb).filter(|_| a < b) {
                    f(Step { a, b, to: [ga & !bit(i) | bit(j), gb & !bit(j) | bit(i)] });
                }
            }
        }
    }
}

fn with(groups: &[Group], step: Step) -> Vec<Group> {
    let mut out = groups.to_vec();
    for (at, g) in [step.a, step.b].into_iter().zip(step.to) {
        if let Some(slot) = out.get_mut(at) {
            *slot = g;
        }
    }
    out
}

/// A few swaps by chance.
fn kick(groups: &[Group], rng: &mut Pcg64Mcg) -> Vec<Group> {
    let mut out = groups.to_vec();
    for _ in 0..KICK_SWAPS {
        let (a, b) = (rng.random_range(0..out.len()), rng.random_range(0..out.len()));
        let of = |at: usize, rng: &mut Pcg64Mcg| {
            let g = out.get(at).copied().unwrap_or(0);
            members(g).nth(rng.random_range(0..g.count_ones().max(1)) as usize)
        };
        if let (true, Some(i), Some(j)) = (a != b, of(a, rng), of(b, rng)) {
            let (ga, gb) = (out.get(a).copied().unwrap_or(0), out.get(b).copied().unwrap_or(0));
            out = with(&out, Step { a, b, to: [ga & !bit(i) | bit(j), gb & !bit(j) | bit(i)] });
        }
    }
    out
}
