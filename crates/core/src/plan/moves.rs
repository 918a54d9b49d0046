//! What another list of members did to a plan: whose version, weights and rack are others now. Told to a coach minutes before a class.

use super::{ClassPlan, LiftPlan};
use crate::loads::MemberLift;
use crate::moved::Moved;
use std::collections::BTreeSet;

/// What is not as it was, by what a coach needs to hear first. The two plans are of one class and one sheet.
pub fn moved(before: &ClassPlan, now: &ClassPlan) -> Vec<Moved> {
    let mut out = Vec::new();
    let ids = |p: &ClassPlan| p.members.iter().map(|m| m.id.clone()).collect::<BTreeSet<_>>();
    let (was, is) = (ids(before), ids(now));
    let names = |p: &ClassPlan, other: &BTreeSet<String>| {
        let new = p.members.iter().filter(|m| !other.contains(&m.id));
        new.map(|m| m.name.clone()).collect::<Vec<_>>()
    };
    out.extend(names(now, &was).into_iter().map(|name| Moved::Joined { name }));
    out.extend(names(before, &is).into_iter().map(|name| Moved::Left { name }));
    versions(before, now, &mut out);
    strength(before, now, &mut out);
    let ends = |p: &ClassPlan| p.hour.slots.iter().map(|s| s.start_s + s.length_s).max().unwrap_or(0);
    if ends(before) != ends(now) {
        out.push(Moved::Ends { from_s: ends(before), to_s: ends(now) });
    }
    out
}

/// Members of both plans: (where before, where now, name).
fn both<'a>(before: &'a ClassPlan, now: &'a ClassPlan) -> impl Iterator<Item = (usize, usize, &'a str)> {
    now.members.iter().enumerate().filter_map(|(i, m)| {
        let was = before.members.iter().position(|b| b.id == m.id)?;
        Some((was, i, m.name.as_str()))
    })
}

fn versions(before: &ClassPlan, now: &ClassPlan, out: &mut Vec<Moved>) {
    for w in &now.workouts {
        let Some(old) = before.workouts.iter().find(|b| b.block == w.block) else { continue };
        for v in &w.versions {
            let same = old.versions.iter().find(|o| o.tier == v.tier).is_some_and(|o| o.work == v.work);
            if !same {
                out.push(Moved::Lines { workout: w.name.clone(), tier: v.tier });
            }
        }
        for (was, is, name) in both(before, now) {
            let (Some(a), Some(b)) = (old.placed.get(was), w.placed.get(is)) else { continue };
            if a.tier != b.tier {
                let (name, workout) = (name.to_owned(), w.name.clone());
                out.push(Moved::Version { name, workout, from: a.tier, to: b.tier });
            }
        }
    }
}

/// Every lift with the block and the place in it.
fn lifts(p: &ClassPlan) -> impl Iterator<Item = ((usize, usize), &LiftPlan)> {
    p.strength.iter().flat_map(|s| s.lifts.iter().enumerate().map(|(n, l)| ((s.block, n), l)))
}

fn strength(before: &ClassPlan, now: &ClassPlan, out: &mut Vec<Moved>) {
    let old: Vec<_> = lifts(before).collect();
    for (at, lift) in lifts(now) {
        let Some((_, was)) = old.iter().find(|(a, _)| *a == at) else { continue };
        let heaviest = |l: &MemberLift| l.working().map(|s| s.load_kg).fold(0.0, f64::max);
        let rack = |l: &LiftPlan, i: usize| l.racks.racks.iter().position(|r| r.members.contains(&i));
        let mut elsewhere = Vec::new();
        for (a, b, name) in both(before, now) {
            let (Some(x), Some(y)) = (was.of(a), lift.of(b)) else { continue };
            let (from_kg, to_kg) = (heaviest(x), heaviest(y));
            if (from_kg - to_kg).abs() > 0.01 {
                out.push(Moved::Weight { name: name.to_owned(), lift: y.lift.clone(), from_kg, to_kg });
            }
            if let (Some(from), Some(to)) = (rack(was, a), rack(lift, b))
                && from != to
            {
                elsewhere.push((name.to_owned(), to + 1));
            }
        }
        if !elsewhere.is_empty() {
            out.push(Moved::Racks { lift: lift.id().to_owned(), members: elsewhere });
        }
    }
}
