//! How much: a number or a pair with its unit, before a name and behind it.

use super::atom::Atom;
use super::glossary::Role;
use super::model::{Count, Named};
use super::scan::{Bare, Scan};
use super::token::Kind;
use crate::kinds::Pattern;
use crate::movement::{LoadKind, catalogue};
use crate::units::Unit;

/// How much, read before a name.
#[derive(Debug, Clone, Default, PartialEq)]
pub(super) struct Counted {
    pub count: Option<Count>,
    pub unit: Option<Unit>,
    pub side: bool,
    /// `10/10`: a side each, or the same for both standards, by what is counted.
    pub alike: bool,
    pub times: u32,
    pub rise: Option<f64>,
    pub next: usize,
}

/// From so many metres on an equal pair is one distance for both standards, no length walked with each arm (own).
const ONE_DISTANCE_M: f64 = 100.0;

impl Counted {
    /// Whether it is meant for each side of a movement.
    pub fn each_side(&self, movement: &Named) -> bool {
        self.side && !(self.alike && movement.id().is_some_and(|id| !two_sided(id)))
    }
}

/// Whether a movement has two sides that may be counted apart.
fn two_sided(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| {
        m.per_side
            || m.load == LoadKind::Dumbbell
            || matches!(m.pattern, Pattern::Lunge | Pattern::Carry)
            || ["lunge", "skater", "pistol", "step-up", "step-over", "single-leg", "pigeon"]
                .iter()
                .any(|w| id.contains(w))
    })
}

/// A count before a name.
pub(super) fn counted(s: &Scan<'_>, i: usize) -> Option<Counted> {
    if let Some(next) = s.role(i, Role::Max).or_else(|| s.role(i, Role::Amrap)) {
        let (unit, next) = unit_at(s, next).map_or((None, next), |(u, _, n)| (Some(u), n));
        let of = if s.canon(next) == "of" { next + 1 } else { next };
        return Some(Counted { count: Some(Count::Max), unit, times: 1, next: of, ..Counted::default() });
    }
    // `4 x 400 m`, `3x45s`: so many times the count that follows
    if let Some((n @ 1..=99, next)) = s.whole(i)
        && s.sign(next, 'x')
        && let Some(c) = one_count(s, next + 1)
        && c.unit.is_some()
    {
        return Some(Counted { times: n, ..c });
    }
    one_count(s, i)
}

/// One number or a pair.
struct Numbers {
    count: Count,
    side: bool,
    /// See [`Counted`].
    alike: bool,
    next: usize,
}

/// `12`, `3-5`, `15/12`, `10/10`, `10+10`.
fn numbers(s: &Scan<'_>, i: usize) -> Option<Numbers> {
    let (mut a, mut next) = s.number(i)?;
    // `3-5 handstand push-ups`: as many as can be done well, the larger counts
    if s.sign(next, '-')
        && let Some((b, after)) = s.number(next + 1)
        && b > a
        && s.figure(i).is_some()
    {
        (a, next) = (b, after);
    }
    let both = s.sign(next, '/') || (s.sign(next, '+') && s.glued(next) && s.glued(next + 1));
    let Some((b, after)) = s.number(next + 1).filter(|_| both) else {
        return Some(Numbers { count: Count::Each(a), side: false, alike: false, next });
    };
    let side = a == b;
    if !side && s.sign(next, '+') {
        return None;
    }
    let count = if side { Count::Each(a) } else { Count::ByStandard([a, b]) };
    Some(Numbers { count, side, alike: side && s.sign(next, '/'), next: after })
}

fn one_count(s: &Scan<'_>, i: usize) -> Option<Counted> {
    match s.tokens.get(i)?.kind {
        Kind::Time(_) | Kind::Ticks(_) => return held(s, i),
        _ => {}
    }
    if s.time(i, Bare::No).is_some() {
        return held(s, i);
    }
    if let Some(c) = endless(s, i) {
        return Some(c);
    }
    if s.dashed(i).is_some_and(|(all, _)| all.len() > 2) {
        return None;
    }
    let Numbers { count, side, alike, mut next } = numbers(s, i)?;
    // `10x burpees`
    if s.sign(next, 'x') && s.word(next + 1) {
        next += 1;
    }
    let (rise, next) = risen(s, next);
    let slash = s.past(next, &['/']);
    if slash > next
        && let Some(n) = s
            .role(slash, Role::EachSide)
            .or_else(|| matches!(s.canon(slash), "arm" | "leg" | "side").then_some(slash + 1))
    {
        return Some(Counted {
            count: Some(count),
            side: true,
            alike: false,
            times: 1,
            rise,
            next: n,
            unit: None,
        });
    }
    let (unit, factor, next) = match unit_at(s, next) {
        Some((u, f, n)) => (Some(u), f, n),
        None => (None, 1.0, next),
    };
    let scale = |v: f64| (v * factor * 100.0).round() / 100.0;
    let count = match count {
        Count::Each(v) => Count::Each(scale(v)),
        Count::ByStandard(v) => Count::ByStandard(v.map(scale)),
        other => other,
    };
    let unit = unit.filter(|u| *u != Unit::Reps);
    let far = matches!(count, Count::Each(v) if unit == Some(Unit::Metres) && v >= ONE_DISTANCE_M);
    let side = side && !(alike && (unit == Some(Unit::Calories) || far));
    Some(Counted { count: Some(count), unit, side, alike, times: 1, rise, next })
}

/// `10, +4 each round`, `4 (+2)` between the count and the name.
fn risen(s: &Scan<'_>, i: usize) -> (Option<f64>, usize) {
    let at = s.past(i, &[',']);
    match super::load::behind(s, at) {
        Some((Atom::Rise(r), next, _)) => (Some(r), next),
        _ => (None, i),
    }
}

fn held(s: &Scan<'_>, i: usize) -> Option<Counted> {
    let (seconds, next) = s.time(i, Bare::No)?;
    let slash = s.past(next, &['/']);
    let side = s
        .role(slash, Role::EachSide)
        .or_else(|| matches!(s.canon(slash), "arm" | "leg" | "side").then_some(slash + 1))
        .filter(|_| slash > next);
    Some(Counted {
        count: Some(Count::Each(f64::from(seconds))),
        unit: Some(Unit::Seconds),
        side: side.is_some(),
        times: 1,
        next: side.unwrap_or(next),
        ..Counted::default()
    })
}

/// `3-6-9-12...`: from 3, 3 more each round.
fn endless(s: &Scan<'_>, i: usize) -> Option<Counted> {
    let (reps, next) = s.dashed(i)?;
    let dots = (s.sign(next, '.') && s.sign(next + 1, '.')) || s.canon(next) == "etc";
    let (first, second) = (*reps.first()?, *reps.get(1)?);
    let step =
        reps.windows(2).all(|w| matches!(w, [a, b] if b.wrapping_sub(*a) == second.wrapping_sub(first)));
    (dots && step && second > first).then(|| Counted {
        count: Some(Count::Each(f64::from(first))),
        rise: Some(f64::from(second - first)),
        times: 1,
        next: s.past(next, &['.', '-']) + usize::from(s.canon(next) == "etc"),
        ..Counted::default()
    })
}

/// The unit at a place, its factor, and the place after it.
fn unit_at(s: &Scan<'_>, i: usize) -> Option<(Unit, f64, usize)> {
    if s.canon(i) == "ft" || s.role(i, Role::Feet).is_some() {
        return Some((Unit::Metres, 0.3048, i + 1));
    }
    let (role, next) = s.any(
        i,
        &[
            Role::Calories,
            Role::Metres,
            Role::Kilometres,
            Role::Miles,
            Role::Reps,
            Role::Seconds,
            Role::Minutes,
        ],
    )?;
    // a movement may begin with the letter of a unit
    if s.name(i).is_some_and(|(_, n)| n > next) {
        return None;
    }
    Some(match role {
        Role::Calories => (Unit::Calories, 1.0, next),
        Role::Metres => (Unit::Metres, 1.0, next),
        Role::Kilometres => (Unit::Metres, 1000.0, next),
        Role::Miles => (Unit::Metres, 1609.0, next),
        Role::Seconds => (Unit::Seconds, 1.0, next),
        Role::Minutes => (Unit::Seconds, 60.0, next),
        _ => (Unit::Reps, 1.0, next),
    })
}

/// `row cal`, `sandbag carry metres`, `bike for cals`: what is counted.
pub(super) fn unit_behind(s: &Scan<'_>, i: usize) -> (Option<Unit>, usize) {
    let at = if s.canon(i) == "for" || s.canon(i) == "in" { i + 1 } else { i };
    let bracket = usize::from(at == i && s.sign(i, '('));
    if let Some((unit, _, next)) = unit_at(s, at + bracket)
        && !matches!(unit, Unit::Seconds)
    {
        if bracket == 1 {
            return if s.sign(next, ')') { (Some(unit), next + 1) } else { (None, i) };
        }
        return (Some(unit), next);
    }
    (None, i)
}
