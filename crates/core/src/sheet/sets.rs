//! Sets of a lift, and rep maxima of the day.
//!
//! Accepted, each with the sets read:
//!
//! | line | sets |
//! | --- | --- |
//! | `Front squat 5x3 @ 80%` | 3 3 3 3 3 |
//! | `5 sets of 3` | 3 3 3 3 3 |
//! | `Bench: 4 sets of 6` | 6 6 6 6 |
//! | `STRICT PRESS 5-4-3-2-1` | 5 4 3 2 1 |
//! | `pull-ups 4 x max` | 0 0 0 0 |
//! | `10 singles` | 1 1 1 1 1 1 1 1 1 1 |
//! | `3 @ 60%` | 3 |
//! | `deadlift 5 5 5` | 5 5 5 |
//! | `strict pull-ups 3x8` | 8 8 8 |
//! | `front squat 5-5-3 @ 60-65, 70-75, 80-85%` | 5 5 3 |
//! | `back squat 3 x 5 light, no belt` | 5 5 5 |

use super::atom::{Atom, BuildSaid, SetsSaid};
use super::glossary::Role;
use super::problem::{Problem, Severity};
use super::scan::{Bare, Scan, problem};
use super::text::Line;
use crate::units::Unit;

/// Most sets that are read.
pub(super) const MOST_SETS: u32 = 40;

/// Sets and reps at a place, and the place after them.
pub(super) fn sets(s: &Scan<'_>, i: usize) -> Option<(SetsSaid, usize)> {
    times(s, i).or_else(|| singles(s, i)).or_else(|| one_set(s, i)).or_else(|| even_run(s, i))
}

/// More sets than are planned are said at their place (bytes of the line).
pub(super) fn too_many(n: u32, line: &Line, from: usize, to: usize) -> Vec<Problem> {
    let message = || format!("I plan at most {MOST_SETS} sets of a lift. Check the number.");
    let say = || problem(line, from, to, Severity::Error, message());
    (n > MOST_SETS).then(say).into_iter().collect()
}

fn said(n: u32, reps: u32, unit: Unit, empty: bool) -> SetsSaid {
    SetsSaid { reps: vec![reps; n.min(MOST_SETS) as usize], unit, more: Vec::new(), empty, open: false }
}

/// `5 x 3`, `5 sets of 3`, `4 x max`, `3 x 45 s`.
fn times(s: &Scan<'_>, i: usize) -> Option<(SetsSaid, usize)> {
    let (n, next) = s.whole(i)?;
    // `5 x 65%`, `5+ x 85%`: so many reps at so much
    let plus = next + usize::from(s.sign(next, '+') && s.glued(next));
    if s.sign(plus, 'x')
        && let Some((_, share)) = s.number(plus + 1)
        && (s.sign(share, '%') || s.role(share, Role::Percent).is_some())
        && (1..=30).contains(&n)
    {
        return Some((SetsSaid { open: plus > next, ..said(1, n, Unit::Reps, false) }, plus + 1));
    }
    let (mut k, by_x) = if s.sign(next, 'x') {
        (next + 1, true)
    } else {
        let after = s.role(next, Role::Sets)?;
        (if matches!(s.canon(after), "of" | "x") || s.sign(after, 'x') { after + 1 } else { after }, false)
    };
    if s.canon(k) == "of" {
        k += 1;
    }
    if let Some(after) = s
        .role(k, Role::Max)
        .or_else(|| s.role(k, Role::Amrap).filter(|n| s.time(*n, Bare::Minutes).is_none()))
    {
        return Some((said(n, 0, Unit::Reps, false), s.role(after, Role::Reps).unwrap_or(after)));
    }
    if let Some((seconds, after)) = s.time(k, Bare::No) {
        let clock = s.any(after, &[Role::On, Role::Off]).is_some();
        return (by_x && !clock).then(|| (said(n, seconds, Unit::Seconds, seconds == 0), after));
    }
    let (mut reps, mut after) = s.whole(k)?;
    // `3 x 8-12`: the smaller number can be done by all; sets of 1-2 digits only
    if s.sign(after, '-')
        && let Some((more, beyond)) = s.whole(after + 1)
        && more > reps
    {
        after = beyond;
    }
    reps = reps.min(999);
    // two dumbbells of 22.5/15, a distance, calories: no sets
    let load = s.sign(after, '/') && s.number(after + 1).is_some();
    let other = s.any(
        after,
        &[Role::Kilograms, Role::Pounds, Role::Metres, Role::Kilometres, Role::Calories, Role::Miles],
    );
    if by_x
        && (load
            || other.is_some_and(|(_, n)| s.name(after).is_none_or(|(_, m)| m <= n))
            || s.sign(after, '#'))
    {
        return None;
    }
    let after = s.role(after, Role::Reps).unwrap_or(after);
    let mut sets = said(n, reps, Unit::Reps, reps == 0 || n == 0);
    // `5 x 2 + 1`: reps of the further parts of a chain
    let mut at = after;
    while s.sign(at, '+')
        && let Some(more) = s.figure(at + 1)
        && (s.name(at + 2).is_none() || s.glued(at) && s.glued(at + 1))
    {
        sets.more.push(more);
        at += 2;
    }
    Some((sets, at))
}

/// `10 singles`, `3 doubles`.
fn singles(s: &Scan<'_>, i: usize) -> Option<(SetsSaid, usize)> {
    let (n, next) = s.whole(i)?;
    let at = s.role(next, Role::HeavyWord).unwrap_or(next);
    let (role, after) = s.any(at, &[Role::Single, Role::Double, Role::Triple])?;
    // a lone `single` is part of a name: `single-arm row`
    let goes_on = s.word(after)
        && s.name(after).is_none()
        && s.role(after, Role::Every).is_none()
        && !matches!(s.canon(after), "of" | "on" | "at" | "in" | "from" | "build" | "with" | "and");
    if s.name(at).is_some_and(|(_, m)| m > after) || !(2..=MOST_SETS).contains(&n) || goes_on {
        return None;
    }
    let reps = match role {
        Role::Single => 1,
        Role::Double => 2,
        _ => 3,
    };
    Some((said(n, reps, Unit::Reps, false), after))
}

/// `3 @ 60%`, `1 set of 5`: one set, at the start of a line.
fn one_set(s: &Scan<'_>, i: usize) -> Option<(SetsSaid, usize)> {
    if i > 0 {
        return None;
    }
    let (reps, next) = s.whole(i)?;
    let open = s.sign(next, '+') && s.glued(next);
    let next = next + usize::from(open);
    let next = s.role(next, Role::Reps).unwrap_or(next);
    let signed = |k: usize| s.sign(k, '%') || s.role(k, Role::Percent).is_some();
    let band = s.sign(next + 2, '-') && s.number(next + 3).is_some() && signed(next + 4);
    let percent = s.sign(next, '@') && (signed(next + 2) || band);
    (percent && reps > 0 && reps <= 30).then(|| (SetsSaid { open, ..said(1, reps, Unit::Reps, false) }, next))
}

/// `5 5 5`: the same number three times and more.
fn even_run(s: &Scan<'_>, i: usize) -> Option<(SetsSaid, usize)> {
    let first = s.figure(i).filter(|n| (1..=30).contains(n))?;
    let n = (i..s.len()).take_while(|k| s.figure(*k) == Some(first)).count();
    (n >= 3).then(|| (said(n as u32, first, Unit::Reps, false), i + n))
}

/// `build to a heavy triple`, `find your 3RM`, `work up to a 5RM`, `heavy single`, `1RM`.
pub(super) fn build(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let Some(mut k) = s.role(i, Role::BuildTo) else { return bare_maximum(s, i) };
    let explicit =
        matches!(s.canon(i), "build" | "building" | "work" | "working" | "climb" | "find" | "establish");
    let mut heavy = false;
    for _ in 0..8 {
        if matches!(
            s.canon(k),
            "a" | "an"
                | "the"
                | "your"
                | "today"
                | "one"
                | "for"
                | "of"
                | "to"
                | "something"
                | "but"
                | "technically"
                | "good"
                | "clean"
                | "very"
                | "day"
        ) && s.number(k).is_none_or(|_| s.canon(k) == "one" && !s.word(k + 1))
            || s.sign(k, '\'')
        {
            k += 1;
        } else if let Some(n) = s
            .role(k, Role::HeavyWord)
            .or_else(|| s.role(k, Role::OwnMax).filter(|n| s.canon(k) == "max" && s.whole(*n).is_some()))
        {
            heavy = true;
            k = n;
        } else if let Some(n) =
            s.role(k, Role::Sets).filter(|n| s.canon(*n) == "of" || s.canon(n - 1) == "of")
        {
            heavy = true;
            k = if s.canon(n - 1) == "of" { n } else { n + 1 };
        } else {
            break;
        }
    }
    let (reps, next) = maximum(s, k, heavy || explicit)?;
    Some((Atom::Build(BuildSaid { reps }), day(s, next)))
}

fn maximum(s: &Scan<'_>, k: usize, heavy: bool) -> Option<(u32, usize)> {
    if let Some((role, next)) = s.any(k, &[Role::Single, Role::Double, Role::Triple])
        && s.name(k).is_none_or(|(_, n)| n <= next)
    {
        let reps = match role {
            Role::Single => 1,
            Role::Double => 2,
            _ => 3,
        };
        return Some((reps, next));
    }
    let (n, next) = s.whole(k).filter(|(n, _)| (1..=30).contains(n))?;
    let hyphen = s.past(next, &['-']);
    if let Some(after) = s.role(hyphen, Role::RepMax) {
        return Some((n, after));
    }
    let after = s.role(hyphen, Role::Reps);
    let closed = after.is_some()
        || s.end(next)
        || matches!(s.canon(next), "in" | "for" | "within" | "on")
        || s.sign(next, '(');
    (heavy && closed && s.any(next, &[Role::Minutes, Role::Percent]).is_none())
        .then(|| (n, after.unwrap_or(next)))
}

/// `for today`, `of the day` behind a maximum.
fn day(s: &Scan<'_>, i: usize) -> usize {
    let words = |k: usize| matches!(s.canon(k), "for" | "of" | "on");
    if words(i) {
        let k = if s.canon(i + 1) == "the" { i + 2 } else { i + 1 };
        if matches!(s.canon(k), "day" | "today") {
            return k + 1;
        }
    }
    i
}

/// `3RM, 15 min`, `heavy single` without a verb.
fn bare_maximum(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let before = i.checked_sub(1).map_or("", |b| s.canon(b));
    if matches!(before, "of" | "your" | "tested" | "the" | "today")
        || (i > 0 && (s.sign(i - 1, '%') || s.sign(i - 1, '\'')))
    {
        return None;
    }
    if let Some((n, next)) = s.whole(i)
        && let Some(after) = s.role(s.past(next, &['-']), Role::RepMax)
    {
        return Some((Atom::Build(BuildSaid { reps: n.clamp(1, 30) }), after));
    }
    let heavy = s.role(i, Role::HeavyWord)?;
    let (role, after) = s.any(heavy, &[Role::Single, Role::Double, Role::Triple])?;
    let reps = match role {
        Role::Single => 1,
        Role::Double => 2,
        _ => 3,
    };
    s.name(heavy).is_none_or(|(_, n)| n <= after).then_some((Atom::Build(BuildSaid { reps }), day(s, after)))
}
