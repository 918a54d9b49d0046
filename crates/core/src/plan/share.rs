//! Kit at hand: how many of one weight the class needs at the same time. What is short is shared, staggered or put in heats, and
//! said once for the room; nobody's weight drops by more than a step that is hardly felt.

use super::fetch::{Thing, fetches};
use crate::kinds::Gear;
use crate::kit::{Kit, Stock};
use crate::movement::{LoadKind, catalogue, say::spoken};
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

/// Gives everybody an implement as far as the stock goes; members whose line changed, in order, and what is said to the room.
pub(super) fn share_kit(placed: &mut [Placed], members: &[Member], kit: &Kit) -> (Vec<usize>, Vec<String>) {
    let (mut changed, mut notes) = (Vec::new(), Vec::new());
    let lines = placed.iter().map(|p| p.work.lines.len()).max().unwrap_or(0);
    for line in 0..lines {
        for (movement, wishes) in wishes_of(placed, members, line) {
            let Some(held) = held_of(kit, &movement) else { continue };
            let (moved, short) = give(&held, wishes);
            for (who, from, to) in moved {
                lower(placed, members, (who, line), (from, to), held.name);
                changed.push(who);
            }
            notes.extend(short.into_iter().map(|s| s.says(&held, &movement, kit)));
        }
    }
    notes.extend(bars_and_plates(placed, members, kit));
    notes.extend(machines(placed, kit));
    changed.sort_unstable();
    changed.dedup();
    (changed, notes)
}

/// Who holds what on a line, by movement.
fn wishes_of(placed: &[Placed], members: &[Member], line: usize) -> BTreeMap<String, Vec<Wish>> {
    let mut out: BTreeMap<String, Vec<Wish>> = BTreeMap::new();
    for (who, (p, m)) in placed.iter().zip(members).enumerate() {
        let Some(l) = p.work.lines.get(line) else { continue };
        let Some(kg) = l.kg().map(|kg| m.standard.of(kg)) else { continue };
        let p50 = p.predicted.prediction.p50();
        out.entry(l.movement.clone()).or_default().push(Wish { who, kg, p50 });
    }
    out
}

/// A size of which there are too few.
struct Short {
    kg: f64,
    want: usize,
    have: u32,
}

impl Short {
    fn says(&self, held: &Held, movement: &str, kit: &Kit) -> String {
        let (name, what) = (spoken(movement), held.name);
        let turns = (self.want as u32).div_ceil((self.have / held.each).max(1));
        let way = if self.have < held.each {
            "share another weight, or change the movement".to_owned()
        } else if turns == 2 {
            "share in pairs, start at different lines, or go in 2 heats".to_owned()
        } else {
            format!("start at different lines, or go in {turns} heats")
        };
        format!(
            "{} want {what} of {} for the {name} and the hall has {}: {way}.",
            self.want,
            kit.said(self.kg),
            self.have
        )
    }
}

/// Hands out a movement's implements, the heaviest first: who moved to another size, and of what there is too little.
fn give(held: &Held, mut wishes: Vec<Wish>) -> (Vec<(usize, f64, f64)>, Vec<Short>) {
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
            short.push(Short { kg: stock.size, want, have: stock.count });
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

/// Bars and plates that are on the floor at once.
fn bars_and_plates(placed: &[Placed], members: &[Member], kit: &Kit) -> Vec<String> {
    let fetched = fetches(placed, members, kit);
    let of = |thing: Thing| fetched.iter().filter(move |f| f.thing == thing);
    let have = |list: &[Stock], kg: f64| -> u32 {
        list.iter().filter(|s| (s.size - kg).abs() < 1e-6).map(|s| s.count).sum()
    };
    let mut out = Vec::new();
    for bar in of(Thing::Bar) {
        let have = have(&kit.bars, bar.kg);
        if bar.count > have {
            let heats = bar.count.div_ceil(have.max(1));
            out.push(format!(
                "{} members want a bar of {} and the hall has {have}: share in pairs and clean up after you share, or go in {heats} heats.",
                bar.count,
                kit.said(bar.kg)
            ));
        }
    }
    let short: Vec<String> = of(Thing::Plate)
        .filter_map(|p| {
            let have = have(&kit.plates, p.kg);
            (p.count > have).then(|| format!("{} of {} and there are {have}", p.count, kit.said(p.kg)))
        })
        .collect();
    if !short.is_empty() {
        out.push(format!(
            "Plates for all bars at once: {}. Make the weight from others, or go in heats.",
            short.join(", ")
        ));
    }
    out
}

/// Things that are only counted and of which there are fewer than members who need one at the same time.
fn machines(placed: &[Placed], kit: &Kit) -> Vec<String> {
    let mut needs: Vec<(Gear, String, usize)> = Vec::new();
    for p in placed {
        let mut mine: Vec<(Gear, &str)> = Vec::new();
        for l in &p.work.lines {
            let Some(m) = catalogue().movement(&l.movement) else { continue };
            for e in m.equipment.iter().filter(|e| kit.counts.contains_key(*e) && **e != Gear::Rack) {
                if !mine.iter().any(|(x, _)| x == e) {
                    mine.push((*e, &l.movement));
                }
            }
        }
        for (e, id) in mine {
            match needs.iter_mut().find(|(x, ..)| *x == e) {
                Some(n) => n.2 += 1,
                None => needs.push((e, id.to_owned(), 1)),
            }
        }
    }
    needs
        .into_iter()
        .filter(|(e, _, n)| kit.count(*e) > 0 && *n > kit.count(*e) as usize)
        .map(|(e, id, n)| {
            let have = kit.count(e);
            let name = catalogue().equipment.iter().find(|x| x.id == e).map_or(e.word(), |x| x.name.as_str());
            let heats = n.div_ceil(have as usize);
            format!(
                "{n} members need the {} for the {} and there are {have}: start at {heats} different lines, or go in {heats} heats.",
                name.to_lowercase(),
                spoken(&id)
            )
        })
        .collect()
}
