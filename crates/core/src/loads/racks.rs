//! Who shares a rack: members of like loads side by side, so that few plates move.

use super::prescribe::MemberLift;

/// One rack's group, in lifting order.
#[derive(Debug, Clone, PartialEq)]
pub struct Rack {
    /// Positions in the list of members.
    pub members: Vec<usize>,
    /// Plates put on or taken off over all sets.
    pub moves: u32,
}

/// The racks of a lift.
#[derive(Debug, Clone, PartialEq)]
pub struct RackPlan {
    /// Heaviest last.
    pub racks: Vec<Rack>,
    /// Plate moves of all racks.
    pub moves: u32,
    /// Plate moves when racks fill in the order of the list.
    pub moves_in_list_order: u32,
    /// More members at a rack than the gym wants.
    pub crowded: bool,
}

/// Plates that go on or off a bar (both sides) from one weight to another.
pub fn plate_moves(from: &[f64], to: &[f64]) -> u32 {
    let mut left: Vec<f64> = from.to_vec();
    let mut added = 0;
    for plate in to {
        match left.iter().position(|p| (p - plate).abs() < 1e-9) {
            Some(i) => {
                left.swap_remove(i);
            }
            None => added += 1,
        }
    }
    2 * (added + left.len() as u32)
}

/// Moves of one rack: lifter after lifter, set after set.
fn moves(members: &[usize], lifts: &[(usize, &MemberLift)]) -> u32 {
    let of = |m: usize| lifts.iter().find(|(i, _)| *i == m).map(|(_, l)| *l);
    let sets = members.iter().filter_map(|m| of(*m)).map(|l| l.working().count()).max().unwrap_or(0);
    let mut on_bar: Option<Vec<f64>> = None;
    let mut total = 0;
    for s in 0..sets {
        for m in members {
            let Some(set) = of(*m).and_then(|l| l.working().nth(s)) else { continue };
            if let Some(before) = &on_bar {
                total += plate_moves(before, &set.per_side_kg);
            }
            on_bar = Some(set.per_side_kg.clone());
        }
    }
    total
}

fn cut(order: &[usize], racks: usize) -> Vec<Vec<usize>> {
    let n = order.len();
    let mut out = Vec::new();
    let mut at = 0;
    for r in 0..racks {
        let size = n / racks + usize::from(r < n % racks);
        out.push(order.iter().skip(at).take(size).copied().collect());
        at += size;
    }
    out.retain(|g: &Vec<usize>| !g.is_empty());
    out
}

/// Members who lift the same bar share racks, where there are racks enough for that.
fn by_bar(sorted: &[(usize, &MemberLift)], racks_at_hand: usize, per_rack: usize) -> Option<Vec<Vec<usize>>> {
    let mut bars: Vec<(f64, Vec<usize>)> = Vec::new();
    for (i, l) in sorted {
        match bars.iter_mut().find(|(kg, _)| (kg - l.bar_kg()).abs() < 0.01) {
            Some((_, members)) => members.push(*i),
            None => bars.push((l.bar_kg(), vec![*i])),
        }
    }
    let needed: usize = bars.iter().map(|(_, m)| m.len().div_ceil(per_rack)).sum();
    (needed <= racks_at_hand)
        .then(|| bars.iter().flat_map(|(_, m)| cut(m, m.len().div_ceil(per_rack))).collect())
}

/// Groups members for a lift on so many racks, at most `per_rack` to a rack where the racks allow it.
/// `lifts`: position in the list of members and their loads.
pub fn racks(lifts: &[(usize, &MemberLift)], racks_at_hand: u32, per_rack: u32) -> RackPlan {
    let n = lifts.len();
    let least = n.div_ceil(per_rack.max(1) as usize);
    let count = least.min(racks_at_hand.max(1) as usize).max(1);
    let listed: Vec<usize> = lifts.iter().map(|(i, _)| *i).collect();
    let mut sorted = lifts.to_vec();
    sorted.sort_by(|(_, a), (_, b)| {
        a.bar_kg().total_cmp(&b.bar_kg()).then(a.first_kg().total_cmp(&b.first_kg()))
    });
    let groups = by_bar(&sorted, count.max(racks_at_hand.max(1) as usize), per_rack.max(1) as usize)
        .unwrap_or_else(|| cut(&sorted.iter().map(|(i, _)| *i).collect::<Vec<_>>(), count));
    let racks: Vec<Rack> =
        groups.into_iter().map(|members| Rack { moves: moves(&members, lifts), members }).collect();
    let count = racks.len().max(1);
    RackPlan {
        moves: racks.iter().map(|r| r.moves).sum(),
        moves_in_list_order: cut(&listed, count).iter().map(|g| moves(g, lifts)).sum(),
        crowded: racks.iter().any(|r| r.members.len() > per_rack as usize),
        racks,
    }
}
