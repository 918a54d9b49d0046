//! What a group at a rack costs: plates that go on or off from lifter to lifter and from set to set; what it needs.

use super::{Floor, HOOKS_APART, Lifter};
use crate::kit::Kit;
use crate::loads::change::plate_moves;
use crate::loads::time::Turns;
use crate::units::{KG_PER_LB, plain};

/// Half-seconds that hands take between two turns (own): nothing changes; a bar whose plates change; another bar; each plate that
/// comes off or goes on.
const SAME: u32 = 16;
const PLATES: u32 = 10;
const OTHER_BAR: u32 = 60;
const PLATE: u32 = 5;
/// ... for each tenth by which heaviest over lightest passes [`SPREAD_FREE`].
const SPREAD: u32 = 120;
const SPREAD_FREE: f64 = 1.5;
/// Beyond this the loads of a rack are too far apart: avoided wherever members can be cut so.
const SPREAD_MOST: f64 = 1.6;
const TOO_SPREAD: u32 = 20_000;
/// ... for each further bar size at a rack, and for somebody new without an experienced lifter beside them.
const BAR_SIZE: u32 = 400;
const ALONE: u32 = 40;
/// A want that the gym cannot meet outweighs anything.
const UNMET: u32 = 1_000_000;
/// A member over what a rack should have, and a second over what the clock gives, outweigh hands too, but not a want.
const OVER_MEMBER: u32 = 50_000;
const OVER_SECOND: u32 = 2_000;
/// Groups up to this size are put in order by trying all orders.
const ALL_ORDERS: usize = 5;

/// Bar and plates on one side of a turn.
type Turn<'a> = (f64, &'a [f64]);

/// Plates moved between two turns, and what that takes.
fn change(a: Turn, b: Turn) -> (u32, u32) {
    if (a.0 - b.0).abs() < 0.01 {
        let moves = plate_moves(a.1, b.1);
        return (moves, if moves == 0 { SAME } else { PLATES + PLATE * moves });
    }
    let on = 2 * b.1.len() as u32;
    (on + 2 * a.1.len() as u32, OTHER_BAR + PLATE * on)
}

/// The turns of a lifter: build-up and sets, put so that all of a class reach the first working set together.
fn turns<'a>(lifters: &[Lifter<'a>]) -> Vec<Vec<Option<Turn<'a>>>> {
    let all =
        |l: &Lifter<'a>| l.lift.sets.iter().map(|s| (s.bar_kg, s.per_side_kg.as_slice())).collect::<Vec<_>>();
    let ramps = |l: &Lifter<'a>| l.lift.sets.iter().take_while(|s| s.warm_up).count();
    let most = lifters.iter().map(ramps).max().unwrap_or(0);
    lifters
        .iter()
        .map(|l| std::iter::repeat_n(None, most - ramps(l)).chain(all(l).into_iter().map(Some)).collect())
        .collect()
}

/// Everything about a class of lifters that groups are judged by, worked out once.
pub(super) struct Costs {
    n: usize,
    /// (plates moved, half-seconds) over all turns when j lifts right after i in the same one: `[i * n + j]`.
    beside: Vec<(u32, u32)>,
    /// The same when j begins the next turn after i ended this one.
    next_set: Vec<(u32, u32)>,
    /// In how many sets plates change from i to j, at most: any set with a change.
    changed: Vec<bool>,
    changed_next: Vec<bool>,
    /// Most of each plate that a lifter has on one side in any set.
    plates: Vec<Vec<u32>>,
    /// Bar of each lifter, position in `bar_stock`.
    bar: Vec<usize>,
    bar_stock: Vec<(f64, u32)>,
    plate_stock: Vec<(f64, u32)>,
    first_kg: Vec<f64>,
    hooks: Vec<Option<u32>>,
    newer: Vec<bool>,
    experienced: Vec<bool>,
    pounds: bool,
    per_rack: usize,
    clock: Option<(f64, f64)>,
}

impl Costs {
    #[expect(
        clippy::too_many_lines,
        reason = "stood before the rule; split it when this room is put in order"
    )]
    pub(super) fn of(lifters: &[Lifter], floor: Floor) -> Costs {
        let kit: &Kit = floor.kit;
        let n = lifters.len();
        let sets: Vec<Vec<(f64, &[f64])>> = lifters
            .iter()
            .map(|l| l.lift.working().map(|s| (s.bar_kg, s.per_side_kg.as_slice())).collect())
            .collect();
        let mut plate_stock: Vec<(f64, u32)> = kit.plates.iter().map(|p| (p.size, p.count / 2)).collect();
        let mut bar_stock: Vec<(f64, u32)> = Vec::new();
        for b in &kit.bars {
            add(&mut bar_stock, b.size, b.count);
        }
        let mut plates = Vec::with_capacity(n);
        let mut bar = Vec::with_capacity(n);
        for (l, mine) in lifters.iter().zip(&sets) {
            let kg = l.lift.bar_kg();
            add(&mut bar_stock, kg, 0);
            bar.push(bar_stock.iter().position(|b| (b.0 - kg).abs() < 0.01).unwrap_or(0));
            for p in mine.iter().flat_map(|s| s.1) {
                add(&mut plate_stock, *p, 0);
            }
            plates.push(mine.clone());
        }
        let plates = plates
            .iter()
            .map(|mine: &Vec<(f64, &[f64])>| {
                let most = |kg: f64| {
                    let on =
                        |s: &(f64, &[f64])| s.1.iter().filter(|p| (**p - kg).abs() < 1e-9).count() as u32;
                    mine.iter().map(on).max().unwrap_or(0)
                };
                plate_stock.iter().map(|(kg, _)| most(*kg)).collect()
            })
            .collect();
        let none: Vec<(f64, &[f64])> = Vec::new();
        let of = |i: usize| sets.get(i).unwrap_or(&none);
        let mut costs = Costs {
            n,
            beside: Vec::with_capacity(n * n),
            next_set: Vec::with_capacity(n * n),
            changed: Vec::with_capacity(n * n),
            changed_next: Vec::with_capacity(n * n),
            plates,
            bar,
            bar_stock,
            plate_stock,
            first_kg: lifters.iter().map(|l| l.lift.first_kg()).collect(),
            hooks: lifters.iter().map(|l| l.hooks).collect(),
            newer: lifters.iter().map(|l| l.newer).collect(),
            experienced: lifters.iter().map(|l| l.experienced).collect(),
            pounds: kit.pounds(),
            per_rack: floor.per_rack.max(1) as usize,
            clock: floor.clock,
        };
        let turns = turns(lifters);
        let sum = |pairs: &mut dyn Iterator<Item = (Option<Turn>, Option<Turn>)>| {
            let one = |(a, b): (Option<Turn>, Option<Turn>)| Some(change(a?, b?));
            pairs.filter_map(one).fold((0, 0), |s, c| (s.0 + c.0, s.1 + c.1))
        };
        let of_turn = |i: usize| turns.get(i).map_or(&[][..], Vec::as_slice).iter().copied();
        for i in 0..n {
            for j in 0..n {
                let changed = |a: &Turn, b: &Turn| change(*a, *b).0 > 0;
                costs.beside.push(sum(&mut of_turn(i).zip(of_turn(j))));
                costs.next_set.push(sum(&mut of_turn(i).zip(of_turn(j).skip(1))));
                costs.changed.push(of(i).iter().zip(of(j)).any(|(a, b)| changed(a, b)));
                costs.changed_next.push(of(i).iter().zip(of(j).iter().skip(1)).any(|(a, b)| changed(a, b)));
            }
        }
        costs
    }

    pub(super) fn len(&self) -> usize {
        self.n
    }

    fn at<T: Copy + Default>(&self, table: &[T], i: usize, j: usize) -> T {
        table.get(i * self.n + j).copied().unwrap_or_default()
    }

    /// (plates moved, half-seconds of hands) of a group in its order, over all turns.
    fn hands(&self, group: &[usize]) -> (u32, u32) {
        let (Some(first), Some(last)) = (group.first(), group.last()) else { return (0, 0) };
        let add = |s: (u32, u32), c: (u32, u32)| (s.0 + c.0, s.1 + c.1);
        let beside = neighbours(group).map(|(a, b)| self.at(&self.beside, a, b)).fold((0, 0), add);
        add(beside, self.at(&self.next_set, *last, *first))
    }

    /// Plates moved by a group in its order, over all turns.
    pub(super) fn moves(&self, group: &[usize]) -> u32 {
        self.hands(group).0
    }

    /// What a group costs in half-seconds: hands, loads far apart, bars of several sizes.
    pub(super) fn cost(&self, group: &[usize]) -> u32 {
        let kg = |i: &usize| self.kg(*i);
        let (low, high) = (self.lightest(group), group.iter().map(kg).fold(0.0, f64::max));
        let ratio = if low > 0.0 && low.is_finite() { high / low } else { 1.0 };
        let tenths = ((ratio - SPREAD_FREE) * 10.0 - 1e-6).ceil().max(0.0) as u32;
        let too = if ratio > SPREAD_MOST + 1e-6 { TOO_SPREAD } else { 0 };
        let mut sizes: Vec<usize> = group.iter().filter_map(|i| self.bar.get(*i)).copied().collect();
        sizes.sort_unstable();
        sizes.dedup();
        let bars = sizes.len().saturating_sub(1) as u32;
        self.hands(group).1 + SPREAD * tenths + too + BAR_SIZE * bars + ALONE * self.unattended(group)
    }

    /// Turns of a round in which plates change, at most.
    pub(super) fn changes(&self, group: &[usize]) -> u32 {
        let (Some(first), Some(last)) = (group.first(), group.last()) else { return 0 };
        let beside = neighbours(group).filter(|(a, b)| self.at(&self.changed, *a, *b)).count() as u32;
        beside + u32::from(self.at(&self.changed_next, *last, *first))
    }

    /// A group in the order that takes hands the least.
    pub(super) fn order(&self, group: &[usize]) -> Vec<usize> {
        let mut sorted = group.to_vec();
        sorted.sort_by(|a, b| self.kg(*a).total_cmp(&self.kg(*b)).then(a.cmp(b)));
        if sorted.len() <= ALL_ORDERS {
            let mut best = (self.hands(&sorted).1, sorted.clone());
            each_order(&mut sorted, 0, &mut |order| {
                let m = self.hands(order).1;
                if m < best.0 {
                    best = (m, order.to_vec());
                }
            });
            return best.1;
        }
        // larger groups: turn stretches around while that helps
        let mut now = self.hands(&sorted).1;
        loop {
            let mut better = false;
            for i in 0..sorted.len() {
                for j in i + 1..sorted.len() {
                    let Some(stretch) = sorted.get_mut(i..=j) else { continue };
                    stretch.reverse();
                    let with = self.hands(&sorted).1;
                    if with < now {
                        (now, better) = (with, true);
                    } else if let Some(stretch) = sorted.get_mut(i..=j) {
                        stretch.reverse();
                    }
                }
            }
            if !better {
                return sorted;
            }
        }
    }

    fn kg(&self, i: usize) -> f64 {
        self.first_kg.get(i).copied().unwrap_or(0.0)
    }

    /// First working weight of the lightest, with the bar before it: groups of one bar stay together.
    pub(super) fn lightest(&self, group: &[usize]) -> f64 {
        group.iter().map(|i| self.kg(*i)).fold(f64::INFINITY, f64::min)
    }

    /// Members by bar, then by weight.
    pub(super) fn sorted(&self) -> Vec<usize> {
        let mut all: Vec<usize> = (0..self.n).collect();
        let bar = |i: usize| self.bar.get(i).and_then(|b| self.bar_stock.get(*b)).map_or(0.0, |b| b.0);
        all.sort_by(|a, b| {
            bar(*a).total_cmp(&bar(*b)).then(self.kg(*a).total_cmp(&self.kg(*b))).then(a.cmp(b))
        });
        all
    }

    /// Hooks that are too far apart in a group, as a cost.
    fn hooks_apart(&self, group: &[usize]) -> u32 {
        let set: Vec<u32> = group.iter().filter_map(|i| *self.hooks.get(*i)?).collect();
        match (set.iter().min(), set.iter().max()) {
            (Some(low), Some(high)) if high - low > HOOKS_APART => UNMET,
            _ => 0,
        }
    }

    /// What a group is over: members at the rack, seconds of a round on the clock.
    fn over(&self, group: &[usize]) -> u32 {
        let members = group.len().saturating_sub(self.per_rack) as u32;
        let seconds = self.clock.map_or(0.0, |(every, set_s)| {
            let changes = self.changes(group);
            let round = Turns { members: group.len() as u32, set_s, changes }.round_s();
            (round - every - 0.5).max(0.0)
        });
        members * OVER_MEMBER + seconds.ceil() as u32 * OVER_SECOND
    }

    /// What a group alone is judged by beside its moves.
    pub(super) fn own_unmet(&self, group: &[usize]) -> u32 {
        self.hooks_apart(group) + self.over(group)
    }

    /// What a group wants at any time: of each plate the most on one side, then 1 for each bar.
    pub(super) fn wants(&self, group: &[usize]) -> Vec<u32> {
        let most =
            |p: usize| group.iter().filter_map(|i| self.plates.get(*i)?.get(p)).copied().max().unwrap_or(0);
        let bar = |b: usize| u32::from(group.iter().any(|i| self.bar.get(*i) == Some(&b)));
        (0..self.plate_stock.len()).map(most).chain((0..self.bar_stock.len()).map(bar)).collect()
    }

    /// What there is, in the order of [`Costs::wants`].
    pub(super) fn stock(&self) -> impl Iterator<Item = (bool, f64, u32)> + '_ {
        let plates = self.plate_stock.iter().map(|(kg, n)| (false, *kg, *n));
        plates.chain(self.bar_stock.iter().map(|(kg, n)| (true, *kg, *n)))
    }

    /// Cost of wants beyond what there is. `wanted`: of all groups together.
    pub(super) fn cost_of_missing(&self, wanted: impl Iterator<Item = u32>) -> u32 {
        self.stock().zip(wanted).map(|((.., n), w)| w.saturating_sub(n)).sum::<u32>().saturating_mul(UNMET)
    }

    /// Bars and plates wanted at once beyond what is there: (bar or plate, kg, missing).
    fn missing(&self, groups: &[Vec<usize>]) -> Vec<(bool, f64, u32)> {
        let wants: Vec<Vec<u32>> = groups.iter().map(|g| self.wants(g)).collect();
        let wanted = |k: usize| wants.iter().filter_map(|w| w.get(k)).sum::<u32>();
        let all = self.stock().enumerate().map(|(k, (bar, kg, n))| (bar, kg, wanted(k).saturating_sub(n)));
        all.filter(|m| m.2 > 0).collect()
    }

    /// What is missing, in words.
    pub(super) fn short(&self, groups: &[Vec<usize>]) -> Vec<String> {
        let (unit, f) = if self.pounds { ("lb", KG_PER_LB) } else { ("kg", 1.0) };
        let size = |kg: f64| plain((kg / f * 100.0).round() / 100.0);
        let mut out: Vec<String> = self
            .missing(groups)
            .into_iter()
            .map(|(bar, kg, n)| match (bar, n) {
                (true, n) => {
                    format!("{n} {} {unit} {} too few for these racks at once.", size(kg), plural(n, "bar"))
                }
                (false, n) => {
                    format!(
                        "{n} {} of {} {unit} too few for these racks at once.",
                        plural(n, "pair"),
                        size(kg)
                    )
                }
            })
            .collect();
        if groups.iter().any(|g| self.hooks_apart(g) > 0) {
            out.push("Members with hooks far apart share a rack: move one of them.".to_owned());
        }
        out
    }

    /// Whether a newer member has nobody experienced in their group.
    pub(super) fn unattended(&self, group: &[usize]) -> u32 {
        let has =
            |list: &[bool]| group.iter().filter(|i| list.get(**i).copied().unwrap_or(false)).count() as u32;
        if has(&self.experienced) > 0 { 0 } else { has(&self.newer) }
    }

    /// Newer members without an experienced one beside them.
    pub(super) fn alone(&self, groups: &[Vec<usize>]) -> u32 {
        groups.iter().map(|g| self.unattended(g)).sum()
    }
}

fn neighbours(group: &[usize]) -> impl Iterator<Item = (usize, usize)> + '_ {
    group.iter().copied().zip(group.iter().copied().skip(1))
}

fn plural(n: u32, word: &str) -> String {
    if n == 1 { word.to_owned() } else { format!("{word}s") }
}

fn add(stock: &mut Vec<(f64, u32)>, kg: f64, count: u32) {
    match stock.iter_mut().find(|s| (s.0 - kg).abs() < 0.01) {
        Some(s) => s.1 += count,
        None => stock.push((kg, count)),
    }
}

/// Calls `f` with every order of the list from `from` on.
fn each_order(list: &mut Vec<usize>, from: usize, f: &mut impl FnMut(&[usize])) {
    if from + 1 >= list.len() {
        f(list);
        return;
    }
    for i in from..list.len() {
        list.swap(from, i);
        each_order(list, from + 1, f);
        list.swap(from, i);
    }
}
