//! Kit at hand: how many of one weight those who work at once need. What is short is said once for the room, with ways to have
//! enough; nobody's weight drops by more than a step that is hardly felt.

use super::fetch::{Thing, grams, of_one};
use crate::kit::{Kit, Stock};
use crate::loads::Bars;
use crate::mend::Short;
use crate::movement::{LoadKind, catalogue};
use crate::reason::OfLine;
use crate::roster::Member;
use crate::versions::{Personal, Placed, Weight};
use std::collections::BTreeMap;

/// Somebody may be given the next size down without being asked where it is at least this share of theirs (own).
const LEAST_SHARE: f64 = 0.85;

/// What is held on a line, of which there are only so many.
struct Held<'a> {
    name: &'static str,
    stock: &'a [Stock],
    /// By one member.
    each: u32,
}

fn held_of<'a>(kit: &'a Kit, movement: &str) -> Option<Held<'a>> {
    let kind = catalogue().movement(movement)?.load;
    let each = if kind == LoadKind::DumbbellPair { 2 } else { 1 };
    let name = match kind {
        LoadKind::Kettlebell => "kettlebells",
        LoadKind::Medball => "balls",
        _ => "dumbbells",
    };
    Some(Held { name, stock: kit.implements(kind)?.0, each })
}

/// One member's wish for a line.
struct Wish {
    who: usize,
    kg: f64,
    /// Likely result: the strongest keep their weight first.
    p50: f64,
}

/// Gives everybody of the groups that work one after the other an implement, as far as the stock goes: members whose line
/// changed, in order, and what is short.
pub(super) fn share_kit(
    placed: &mut [Placed],
    members: &[Member],
    kit: &Kit,
    groups: &[Vec<usize>],
) -> (Vec<usize>, Vec<Short>) {
    let (mut changed, mut short) = (Vec::new(), Vec::new());
    let lines = placed.iter().map(|p| p.work.lines.len()).max().unwrap_or(0);
    for group in groups {
        for line in 0..lines {
            for (movement, wishes) in wishes_of(placed, members, line, group) {
                let Some(held) = held_of(kit, &movement) else { continue };
                let (moved, too_few) = give(&held, wishes, &movement);
                for (who, from, to) in moved {
                    lower(placed, members, (who, line), (from, to), held.name);
                    changed.push(who);
                }
                short.extend(too_few);
            }
        }
        short.extend(bars_and_plates(placed, members, kit, group));
    }
    changed.sort_unstable();
    changed.dedup();
    (changed, worst(short))
}

/// Of each thing the group that is most in need of it.
fn worst(all: Vec<Short>) -> Vec<Short> {
    let mut out: Vec<Short> = Vec::new();
    for s in all {
        match out.iter_mut().find(|o| o.same_thing(&s)) {
            Some(o) if o.heats() < s.heats() => *o = s,
            Some(_) => {}
            None => out.push(s),
        }
    }
    out
}

/// Who holds what on a line, by movement.
fn wishes_of(
    placed: &[Placed],
    members: &[Member],
    line: usize,
    group: &[usize],
) -> BTreeMap<String, Vec<Wish>> {
    let mut out: BTreeMap<String, Vec<Wish>> = BTreeMap::new();
    for who in group.iter().copied() {
        let (Some(p), Some(m)) = (placed.get(who), members.get(who)) else { continue };
        let Some(l) = p.work.lines.get(line) else { continue };
        let Some(kg) = l.kg().map(|kg| m.standard.of(kg)) else { continue };
        let p50 = p.predicted.prediction.p50();
        out.entry(l.movement.clone()).or_default().push(Wish { who, kg, p50 });
    }
    out
}

/// Hands out a movement's implements, the heaviest first: who moved to another size, and of what there is too little.
fn give(held: &Held, mut wishes: Vec<Wish>, movement: &str) -> (Vec<(usize, f64, f64)>, Vec<Short>) {
    let (mut moved, mut short) = (Vec::new(), Vec::new());
    let mut sizes: Vec<&Stock> = held.stock.iter().filter(|s| s.count > 0).collect();
    sizes.sort_by(|a, b| b.size.total_cmp(&a.size));
    // the quickest first: the strongest never take a lighter one than somebody weaker
    wishes.sort_by(|a, b| a.p50.total_cmp(&b.p50));
    for (i, stock) in sizes.iter().enumerate() {
        let here: Vec<usize> = (0..wishes.len())
            .filter(|w| wishes.get(*w).is_some_and(|w| (w.kg - stock.size).abs() < 1e-9))
            .collect();
        let enough = (stock.count / held.each) as usize;
        if here.len() <= enough {
            continue;
        }
        let next = sizes.get(i + 1).filter(|n| n.size >= LEAST_SHARE * stock.size);
        let wanted = |kg: f64| wishes.iter().filter(|w| (w.kg - kg).abs() < 1e-9).count();
        let spare = next.map_or(0, |n| ((n.count / held.each) as usize).saturating_sub(wanted(n.size)));
        let over = here.len() - enough;
        let down = over.min(spare);
        let mut want = here.len();
        if let Some(n) = next {
            for w in here.iter().rev().take(down) {
                if let Some(w) = wishes.get_mut(*w) {
                    moved.push((w.who, w.kg, n.size));
                    w.kg = n.size;
                    want -= 1;
                }
            }
        }
        if want > enough {
            let of_size = wishes.iter().filter(|w| (w.kg - stock.size).abs() < 1e-9);
            short.push(Short::Implements {
                name: held.name.to_owned(),
                movement: movement.to_owned(),
                kg: stock.size,
                want: want as u32,
                have: stock.count,
                each: held.each,
                who: of_size.map(|w| w.who).collect(),
            });
        }
    }
    (moved, short)
}

/// Gives a member another size, and says why on their card.
fn lower(
    placed: &mut [Placed],
    members: &[Member],
    (who, line): (usize, usize),
    (from, to): (f64, f64),
    what: &str,
) {
    let (Some(p), Some(m)) = (placed.get_mut(who), members.get(who)) else { return };
    let Some(l) = p.work.lines.get_mut(line) else { return };
    l.weight = Some(Weight::Kg([to; 2]));
    let text = l.text_for(m.standard);
    let reason = OfLine::Stock { to_kg: to, from_kg: from, implement: what.to_owned() };
    let own = Personal::weight(line, text, reason);
    // a line that spares a limit stays private and keeps its reason
    match p.personal.iter_mut().find(|x| x.line == line) {
        Some(x) => x.then(own),
        None => p.personal.push(own),
    }
}

/// Bars and plates that are on the floor at once, where there are too few.
fn bars_and_plates(placed: &[Placed], members: &[Member], kit: &Kit, group: &[usize]) -> Vec<Short> {
    let bars = Bars::of(kit);
    let (mut of_bar, mut of_plate) = (BTreeMap::<u64, Vec<usize>>::new(), BTreeMap::<u64, u32>::new());
    for i in group {
        let (Some(p), Some(m)) = (placed.get(*i), members.get(*i)) else { continue };
        for ((thing, g), n) in of_one(p, m, &bars) {
            match thing {
                Thing::Bar => of_bar.entry(g).or_default().push(*i),
                Thing::Plate => *of_plate.entry(g).or_default() += n,
                _ => {}
            }
        }
    }
    let have =
        |list: &[Stock], g: u64| -> u32 { list.iter().filter(|s| grams(s.size) == g).map(|s| s.count).sum() };
    let mut out: Vec<Short> = of_bar
        .into_iter()
        .rev()
        .map(|(g, who)| Short::Bars { kg: g as f64 / 1000.0, have: have(&kit.bars, g), who })
        .filter(|s| s.heats() > 1)
        .collect();
    let list: Vec<(f64, u32, u32)> = of_plate
        .into_iter()
        .rev()
        .map(|(g, want)| (g as f64 / 1000.0, want, have(&kit.plates, g)))
        .filter(|(_, want, have)| want > have)
        .collect();
    if !list.is_empty() {
        out.push(Short::Plates { sizes: list });
    }
    out
}
