//! Who shares a rack: few plates moved, within the bars and plates of the gym, turns that fit the clock, hooks at
//! one height, newer members beside experienced ones.

mod cost;
mod search;

use self::cost::Costs;
use super::prescribe::MemberLift;
use crate::kit::Kit;
use crate::roster::Member;

/// Hook heights that differ by more holes than this do not share a rack (own).
const HOOKS_APART: u32 = 2;

/// Somebody who lifts a bar.
#[derive(Debug, Clone, Copy)]
pub struct Lifter<'a> {
    /// Position in the list of members.
    pub member: usize,
    /// Their weights.
    pub lift: &'a MemberLift,
    /// New to lifting: better beside somebody who is not.
    pub newer: bool,
    /// Can stand beside somebody new.
    pub experienced: bool,
    /// Hole of the rack's hooks that the member always uses, where it matters for the lift.
    pub hooks: Option<u32>,
}

impl<'a> Lifter<'a> {
    /// A member with their weights.
    pub fn of(member: usize, m: &Member, lift: &'a MemberLift, from_rack: bool) -> Lifter<'a> {
        Lifter {
            member,
            lift,
            newer: m.is_newer(),
            experienced: m.is_experienced(),
            hooks: m.hooks.filter(|_| from_rack),
        }
    }
}

/// What the racks are shared out under.
#[derive(Debug, Clone, Copy)]
pub struct Floor<'a> {
    /// Racks at hand.
    pub racks: u32,
    /// Most members at one, where the racks allow it.
    pub per_rack: u32,
    /// Bars and plates.
    pub kit: &'a Kit,
    /// Seconds from one set's start to the next on a clock, and of one set.
    pub clock: Option<(f64, f64)>,
}

/// One rack's group, in lifting order.
#[derive(Debug, Clone, PartialEq)]
pub struct Rack {
    /// Positions in the list of members.
    pub members: Vec<usize>,
    /// Plates put on or taken off over all sets.
    pub moves: u32,
    /// Turns of a round in which plates change, at most.
    pub changes: u32,
}

/// The racks of a lift.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RackPlan {
    /// Lightest first.
    pub racks: Vec<Rack>,
    /// Plate moves of all racks.
    pub moves: u32,
    /// Plate moves when racks fill in the order of sign-up.
    pub moves_in_list_order: u32,
    /// More members at a rack than the gym wants.
    pub crowded: bool,
    /// Bars and plates that are wanted at the same time and not there, in words.
    pub short: Vec<String>,
    /// Newer members without an experienced one at their rack.
    pub alone: u32,
}

impl RackPlan {
    /// Rack of a member, from 0.
    pub fn rack_of(&self, member: usize) -> Option<usize> {
        self.racks.iter().position(|r| r.members.contains(&member))
    }

    /// Most members at one rack.
    pub fn fullest(&self) -> u32 {
        self.racks.iter().map(|r| r.members.len() as u32).max().unwrap_or(0)
    }
}

/// Shares lifters out over racks. `moved`: (member, rack from 0) in the coach's order, done last.
pub fn racks(lifters: &[Lifter], floor: Floor, moved: &[(usize, usize)]) -> RackPlan {
    let n = lifters.len();
    if n == 0 {
        return RackPlan::default();
    }
    let at_hand = floor.racks.max(1) as usize;
    let most = (floor.per_rack.max(1) as usize).max(n.div_ceil(at_hand));
    let costs = Costs::of(lifters, floor);
    let mut groups = search::Search::new(&costs, at_hand.min(n), most).best();
    // lightest first: the order in which a coach walks past
    groups.sort_by(|a, b| costs.lightest(a).total_cmp(&costs.lightest(b)).then(a.cmp(b)));
    for (member, rack) in moved {
        let Some(i) = lifters.iter().position(|l| l.member == *member) else { continue };
        if *rack >= at_hand {
            continue;
        }
        while groups.len() <= *rack {
            groups.push(Vec::new());
        }
        for g in &mut groups {
            g.retain(|x| *x != i);
        }
        if let Some(g) = groups.get_mut(*rack) {
            g.push(i);
            *g = costs.order(g);
        }
    }
    summed(&costs, &groups, lifters, floor)
}

/// The same groups in the same order with other weights: who lifts where does not change because a weight was changed by hand.
pub fn with_weights(lifters: &[Lifter], floor: Floor, before: &RackPlan) -> RackPlan {
    let costs = Costs::of(lifters, floor);
    let at = |member: &usize| lifters.iter().position(|l| l.member == *member);
    let groups: Vec<Vec<usize>> =
        before.racks.iter().map(|r| r.members.iter().filter_map(at).collect()).collect();
    summed(&costs, &groups, lifters, floor)
}

fn summed(costs: &Costs, groups: &[Vec<usize>], lifters: &[Lifter], floor: Floor) -> RackPlan {
    let listed: Vec<usize> = (0..lifters.len()).collect();
    let used = groups.iter().filter(|g| !g.is_empty()).count().max(1);
    let in_list_order = search::cut(&listed, used);
    let (alone, short) = (costs.alone(groups), costs.short(groups));
    let racks: Vec<Rack> = groups
        .iter()
        .map(|g| Rack {
            moves: costs.moves(g),
            changes: costs.changes(g),
            members: g.iter().filter_map(|i| lifters.get(*i)).map(|l| l.member).collect(),
        })
        .collect();
    RackPlan {
        moves: racks.iter().map(|r| r.moves).sum(),
        moves_in_list_order: in_list_order.iter().map(|g| costs.moves(g)).sum(),
        crowded: racks.iter().any(|r| r.members.len() > floor.per_rack.max(1) as usize),
        racks,
        short,
        alone,
    }
}

#[cfg(test)]
mod tests;
