//! The coach's own levels and options: which line of the work another form stands for, and what a weight for several
//! lines belongs to.

use super::atom::LoadSaid;
use super::clock::Bits;
use super::item::{Units, load};
use super::model::{Count, Format, Item, LoadFrom, MoveLine, Named, Other, Part, Who};
use crate::movement::{LoadKind, catalogue};

/// What one level says, on a line of its own.
#[derive(Debug, Clone, Default)]
pub(super) struct LevelLine {
    /// 3 as written, 2 and 1 below it.
    pub rank: u32,
    pub works: Vec<MoveLine>,
    pub loads: Vec<LoadSaid>,
    pub bits: Option<Bits>,
    pub line: u32,
    pub units: Units,
}

/// Gives a part what its levels say: the highest is the work as written, the others stand beside its lines.
pub(super) fn apply(mut levels: Vec<LevelLine>, part: &mut Part) {
    if levels.is_empty() {
        return;
    }
    levels.sort_by_key(|l| std::cmp::Reverse(l.rank));
    let top = levels.first().map_or(3, |l| l.rank);
    let empty = part.moves().next().is_none();
    for level in &levels {
        if level.rank == top && (top >= 3 || empty) {
            if empty {
                part.items.extend(level.works.iter().cloned().map(Item::Move));
            } else {
                for w in &level.works {
                    if !as_written(part, w) && w.count.is_some() {
                        let at = part
                            .items
                            .iter()
                            .position(|i| matches!(i, Item::Move(m) if m.line > w.line))
                            .unwrap_or(part.items.len());
                        part.items.insert(at, Item::Move(w.clone()));
                    }
                }
            }
            level.loads.iter().for_each(|l| give(part, l, level, None));
        } else {
            let who = Who::Level(level.rank.min(2) as u8);
            for (i, w) in level.works.iter().enumerate() {
                beside(part, w, who, level.works.len() > 1, i);
            }
            level.loads.iter().for_each(|l| give(part, l, level, Some(who)));
        }
    }
}

fn moves(part: &mut Part) -> impl Iterator<Item = &mut MoveLine> {
    part.items.iter_mut().filter_map(|i| match i {
        Item::Move(m) => Some(m),
        Item::Rest { .. } => None,
    })
}

/// The highest level names the movement itself, perhaps more exactly; whether a line was found for it.
fn as_written(part: &mut Part, w: &MoveLine) -> bool {
    let Some(id) = w.movement.id() else { return true };
    if moves(part).any(|m| {
        m.movement.id() == Some(id) || m.movement.id().is_some_and(|o| o.ends_with(id) || id.ends_with(o))
    }) {
        return true;
    }
    if let Some(m) = partner(part, w, false, 0).filter(|m| w.count.is_none() || m.count == w.count) {
        m.movement = w.movement.clone();
        m.load = w.load.clone().or(m.load.take());
        return true;
    }
    false
}

/// The line that another form stands for: the same movement, one of the same ladder, else by its place.
fn partner<'p>(part: &'p mut Part, w: &MoveLine, listed: bool, place: usize) -> Option<&'p mut MoveLine> {
    let id = w.movement.id();
    let ladder = |m: &MoveLine| {
        m.movement.id().and_then(|m| catalogue().ladder_for(m)).is_some_and(|l| {
            id.is_some_and(|id| l.covers.iter().any(|c| c == id) || l.rungs.iter().any(|r| r.movement == id))
        })
    };
    let all: Vec<&mut MoveLine> = moves(part).collect();
    let n = all.len();
    let same = all.iter().position(|m| id.is_some() && m.movement.id() == id);
    let rung = all.iter().position(|m| ladder(m));
    let at = match (same, rung) {
        (Some(s), _) => s,
        (None, Some(r)) => r,
        (None, None) if listed && place < n => place,
        (None, None) => n.checked_sub(1)?,
    };
    all.into_iter().nth(at)
}

fn beside(part: &mut Part, w: &MoveLine, who: Who, listed: bool, place: usize) {
    let scheme = match &part.format {
        Some(Format::Scheme { reps }) => reps.clone(),
        _ => Vec::new(),
    };
    let Some(m) = partner(part, w, listed, place) else { return };
    let mut line = w.clone();
    // `single unders x2` under a scheme: twice each of its numbers
    if let (Some(Count::Each(n)), None, false) = (&w.count, &m.count, scheme.is_empty())
        && [2.0, 3.0].contains(n)
    {
        line.count = Some(Count::Scheme(scheme.iter().map(|r| r.saturating_mul(*n as u32)).collect()));
    }
    add(m, line, who);
}

/// Puts another form beside a line; what it does not say is as the line has it.
pub(super) fn add(m: &mut MoveLine, mut line: MoveLine, who: Who) {
    if line.count.is_none() {
        line.count = m.count.clone().filter(|c| !matches!(c, Count::Max) || line.unit == m.unit);
        if line.movement == m.movement {
            line.unit = m.unit;
        }
    }
    if line.movement == m.movement && line.load.is_none() && line.count == m.count && line.height_cm.is_none()
    {
        return;
    }
    m.others.push(Other { who, line });
}

/// A weight of a level goes to the lines whose usual weights are nearest.
fn give(part: &mut Part, l: &LoadSaid, level: &LevelLine, who: Option<Who>) {
    let Some(kind) = kind_of(part, l, level.units) else { return };
    for m in moves(part).filter(|m| kind_of_line(m) == Some(kind)) {
        let new = load(l, m.movement.id(), level.units);
        match who {
            None if m.load.is_none() => {
                m.load = Some(new);
                m.load_from = LoadFrom::Carried(level.line);
            }
            None => {}
            Some(who) => {
                let same = m.others.iter_mut().find(|o| o.who == who);
                match same {
                    Some(o) if o.line.load.is_none() => o.line.load = Some(new),
                    Some(_) => {}
                    None => {
                        let line = MoveLine { load: Some(new), others: Vec::new(), ..m.clone() };
                        m.others.push(Other { who, line });
                    }
                }
            }
        }
    }
}

/// What carries the weight of a line.
pub(super) fn kind_of_line(m: &MoveLine) -> Option<LoadKind> {
    let Named::Known(id) = &m.movement else { return None };
    catalogue()
        .movement(id)
        .map(|m| m.load)
        .filter(|k| !matches!(k, LoadKind::None | LoadKind::Machine | LoadKind::Vest))
}

/// The kind of implement among a part's lines that a weight suits best.
pub(super) fn kind_of(part: &mut Part, l: &LoadSaid, units: Units) -> Option<LoadKind> {
    let [kg, _] = super::item::kilograms(l, units);
    let mut best: Option<(f64, LoadKind)> = None;
    for m in moves(part) {
        let Some(kind) = kind_of_line(m) else { continue };
        let usual = m.movement.id().and_then(|id| catalogue().movement(id)).and_then(|m| m.rx_load);
        let apart = usual.map_or(2.0, |u| {
            let [near, far] = [u.light[0], u.heavy[0]];
            if kg < near {
                (near / kg.max(0.1)).ln()
            } else if kg > far {
                (kg / far).ln()
            } else {
                0.0
            }
        });
        if best.is_none_or(|(b, _)| apart < b) {
            best = Some((apart, kind));
        }
    }
    best.map(|(_, k)| k)
}
