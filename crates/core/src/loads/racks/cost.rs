//! What a group at a rack costs: plates that go on or off from lifter to lifter and from set to set; what it needs.

use super::{Floor, HOOKS_APART, Lifter};
use crate::kit::Kit;
use crate::loads::change::plate_moves;
use crate::loads::time::Turns;
use crate::units::{KG_PER_LB, plain};

/// Changing the bar itself counts as so many moves, beside all its plates.
const BAR_MOVES: u32 = 2;
/// A want that the gym cannot meet outweighs any number of moves.
const UNMET: u32 = 100_000;
/// A member over what a rack should have, and a second over what the clock gives, outweigh moves too, but not a want.
const OVER_MEMBER: u32 = 5_000;
const OVER_SECOND: u32 = 200;
/// Groups up to this size are put in order by trying all orders.
const ALL_ORDERS: usize = 5;

/// Two loaded bars apart, with the bar itself when it changes.
fn moves_between(a: (f64, &[f64]), b: (f64, &[f64])) -> u32 {
    if (a.0 - b.0).abs() < 0.01 {
        plate_moves(a.1, b.1)
    } else {
        2 * (a.1.len() + b.1.len()) as u32 + BAR_MOVES
    }
}

/// Everything about a class of lifters that groups are judged by, worked out once.
pub(super) struct Costs {
    n: usize,
    /// Moves over all sets when j lifts right after i in the same set: `[i * n + j]`.
    beside: Vec<u32>,
    /// Moves when j begins the next set after i ended this one.
    next_set: Vec<u32>,
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
        for i in 0..n {
            for j in 0..n {
                let beside: Vec<u32> = of(i).iter().zip(of(j)).map(|(a, b)| moves_between(*a, *b)).collect();
                let next: Vec<u32> =
                    of(i).iter().zip(of(j).iter().skip(1)).map(|(a, b)| moves_between(*a, *b)).collect();
                costs.beside.push(beside.iter().sum());
                costs.next_set.push(next.iter().sum());
                costs.changed.push(beside.iter().any(|m| *m > 0));
                costs.changed_next.push(next.iter().any(|m| *m > 0));
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

    /// Plate moves of a group in its order, over all sets.
    pub(super) fn moves(&self, group: &[usize]) -> u32 {
        let (Some(first), Some(last)) = (group.first(), group.last()) else { return 0 };
        let beside: u32 = neighbours(group).map(|(a, b)| self.at(&self.beside, a, b)).sum();
        beside + self.at(&self.next_set, *last, *first)
    }

    /// Turns of a round in which plates change, at most.
    pub(super) fn changes(&self, group: &[usize]) -> u32 {
        let (Some(first), Some(last)) = (group.first(), group.last()) else { return 0 };
        let beside = neighbours(group).filter(|(a, b)| self.at(&self.changed, *a, *b)).count() as u32;
        beside + u32::from(self.at(&self.changed_next, *last, *first))
    }

    /// A group in the order with the fewest moves.
    pub(super) fn order(&self, group: &[usize]) -> Vec<usize> {
        let mut sorted = group.to_vec();
        sorted.sort_by(|a, b| self.kg(*a).total_cmp(&self.kg(*b)).then(a.cmp(b)));
        if sorted.len() <= ALL_ORDERS {
            let mut best = (self.moves(&sorted), sorted.clone());
            each_order(&mut sorted, 0, &mut |order| {
                let m = self.moves(order);
                if m < best.0 {
                    best = (m, order.to_vec());
                }
            });
            return best.1;
        }
        // larger groups: turn stretches around while that helps
        let mut now = self.moves(&sorted);
        loop {
            let mut better = false;
            for i in 0..sorted.len() {
                for j in i + 1..sorted.len() {
                    let Some(stretch) = sorted.get_mut(i..=j) else { continue };
                    stretch.reverse();
                    let with = self.moves(&sorted);
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
