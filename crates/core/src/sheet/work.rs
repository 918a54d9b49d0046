//! Work: a count and a movement, in the orders in which people type them.
//!
//! Accepted, each with what is read:
//!
//! | line | reading |
//! | --- | --- |
//! | `12 toes-to-bar` | 12 reps toes-to-bar |
//! | `15/12 cal row` | 15/12 calories row |
//! | `20 calories on the bike` | 20 calories bike |
//! | `1.2 km run` | 1200 metres run |
//! | `row 500m` | 500 metres row |
//! | `0:30 plank` | 30 seconds plank |
//! | `40" plank` | 40 seconds plank |
//! | `max row cal` | max calories row |
//! | `5/side db row` | 5 reps a side db-row |
//! | `12 L/R db row` | 12 reps a side db-row |
//! | `10x burpees` | 10 reps burpee |
//! | `burpees over the bar x 7` | 7 reps burpee-over-bar |
//! | `4 x 400 m run` | 1600 metres run |
//! | `5 pullups strict` | 5 reps strict-pull-up |
//! | `5 power or squat cleans` | 5 reps power-clean |

use super::atom::{Atom, MoveSaid};
use super::glossary::Role;
use super::model::{Count, Named, WordLoad};
use super::problem::{Problem, Severity};
use super::scan::{Bare, Name, Scan};
use super::token::Kind;
use crate::movement::{LoadKind, Typed, catalogue};
use crate::units::Unit;

/// Words of a name that is not known.
const MOST_UNKNOWN: usize = 6;

/// What a line is read in.
#[derive(Debug, Clone, Copy)]
pub(super) struct Around {
    /// The line speaks of percentages, maxima or sets: a squat is one with a bar.
    pub lifting: bool,
    /// Still look up near names: costly, so only for the first unknown ones.
    pub suggest: bool,
}

/// How much, read before a name.
#[derive(Debug, Clone, Default, PartialEq)]
struct Counted {
    count: Option<Count>,
    unit: Option<Unit>,
    side: bool,
    /// `10/10`: a side each, or the same for both standards, by what is counted.
    alike: bool,
    times: u32,
    rise: Option<f64>,
    next: usize,
}

/// From so many metres on an equal pair is one distance for both standards, no length walked with each arm (own).
const ONE_DISTANCE_M: f64 = 100.0;

impl Counted {
    /// Whether it is meant for each side of a movement.
    fn each_side(&self, movement: &Named) -> bool {
        self.side && !(self.alike && movement.id().is_some_and(|id| !two_sided(id)))
    }
}

/// Whether a movement has two sides that may be counted apart.
fn two_sided(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| {
        m.per_side
            || m.load == LoadKind::Dumbbell
            || matches!(m.pattern.as_str(), "lunge" | "carry" | "rotation")
            || ["lunge", "skater", "pistol", "step-up", "step-over", "single-leg", "pigeon"]
                .iter()
                .any(|w| id.contains(w))
    })
}

/// Work at a place, the place after it, and what is doubtful in it.
pub(super) fn work(s: &Scan<'_>, i: usize, around: Around) -> Option<(Atom, usize, Vec<Problem>)> {
    if let Some(c) = counted(s, i)
        && let Some(found) = after_count(s, i, &c, around)
    {
        return Some(found);
    }
    // a name without a count before it
    let (word, k) = load_word(s, i);
    // `cal row` under numbers that count
    let lead = s.role(k, Role::Calories).filter(|n| s.name(k).is_none() && s.name(*n).is_some());
    let k = lead.unwrap_or(k);
    let found = movement(s, k, around)?;
    let (count, unit, side, next) = behind_name(s, &found, around);
    // a word that is asked about is work only where it is counted
    if found.asked && count.is_none() {
        return None;
    }
    let said = MoveSaid {
        movement: found.movement,
        count,
        unit: unit.or(lead.map(|_| Unit::Calories)),
        side,
        times: 1,
        word,
        rise: None,
        led: false,
        plus: i > 0 && s.sign(i - 1, '+'),
    };
    Some((Atom::Move(Box::new(said)), next, found.problems))
}

fn load_word(s: &Scan<'_>, i: usize) -> (Option<WordLoad>, usize) {
    let word = s.any(i, &[Role::Light, Role::Moderate, Role::Heavy]);
    match word.filter(|_| s.name(i).is_none()) {
        Some((Role::Light, n)) if s.name(n).is_some() => (Some(WordLoad::Light), n),
        Some((Role::Moderate, n)) if s.name(n).is_some() => (Some(WordLoad::Moderate), n),
        Some((_, n)) if s.name(n).is_some() => (Some(WordLoad::Heavy), n),
        _ => (None, i),
    }
}

/// `Warm-up | 10' | bike`: a time in the cell behind the heading is that of the block, not of its first movement.
fn behind_heading(s: &Scan<'_>, i: usize) -> bool {
    let cells = ['|', ';', '"'];
    super::heading::head(s, 0, true).is_some_and(|(_, _, next)| s.past(next, &cells) == i && i > next)
}

fn after_count(s: &Scan<'_>, i: usize, c: &Counted, around: Around) -> Option<(Atom, usize, Vec<Problem>)> {
    let cell = s.past(c.next, &['|', ';', '"']);
    if cell > c.next && c.unit == Some(Unit::Seconds) && behind_heading(s, i) {
        return None;
    }
    let mut k = if s.name(cell).is_some() { cell } else { c.next };
    let mut side = false;
    for _ in 0..5 {
        if s.name(k).is_some() {
            break;
        }
        if matches!(s.canon(k), "the" | "a" | "an") {
            k += 1;
        } else if let Some(n) = s.role(k, Role::EachSide).filter(|n| s.canon(k) != "each" || *n > k + 1) {
            side = true;
            k = n;
        } else if let Some(n) = s.role(k, Role::Filler) {
            k = n;
        } else if let (Some(Unit::Seconds), Some(n)) = (c.unit, s.role(k, Role::Max)) {
            // `1 min max cal row`: the time is the window of a station
            k = s.role(n, Role::Calories).filter(|n| s.name(*n).is_some()).unwrap_or(n);
        } else {
            break;
        }
    }
    let (word, k) = load_word(s, k);
    let said = |movement: Named, unit: Option<Unit>| MoveSaid {
        side: side || c.each_side(&movement),
        movement,
        count: c.count.clone(),
        unit: c.unit.or(unit),
        times: c.times,
        word,
        rise: c.rise,
        led: true,
        plus: i > 0 && s.sign(i - 1, '+'),
    };
    if let Some(found) = movement(s, k, around) {
        let (unit, next) = unit_behind(s, found.next);
        let atom = Atom::Move(Box::new(said(found.movement, unit)));
        return Some((atom, next, found.problems));
    }
    unknown(s, i, k, around).map(|(words, from, next, problem)| {
        (Atom::Move(Box::new(said(Named::Unknown(words), None))), next.max(from + 1), vec![problem])
    })
}

/// Words with which no unknown movement begins.
const STRUCTURE: [Role; 25] = [
    Role::WarmUp,
    Role::CoolDown,
    Role::Workout,
    Role::Skill,
    Role::Accessory,
    Role::BuildTo,
    Role::Build,
    Role::Sets,
    Role::Rounds,
    Role::Rest,
    Role::Cap,
    Role::Target,
    Role::ForTime,
    Role::Minutes,
    Role::On,
    Role::Off,
    Role::Between,
    Role::EachSide,
    Role::Pairs,
    Role::Stations,
    Role::Intervals,
    Role::Cycles,
    Role::Level,
    Role::RepMax,
    Role::Or,
];

/// A count that names nothing known: its words up to the next sign or number.
fn unknown(s: &Scan<'_>, i: usize, k: usize, around: Around) -> Option<(String, usize, usize, Problem)> {
    let mut end = k;
    while s.word(end) && end < k + MOST_UNKNOWN && s.number(end).is_none() {
        let stop = s
            .any(
                end,
                &[Role::Tempo, Role::Unbroken, Role::At, Role::Or, Role::ForTime, Role::EachSide, Role::Then],
            )
            .is_some();
        if stop && end > k {
            break;
        }
        end += 1;
        while s.sign(end, '-') && s.word(end + 1) {
            end += 1;
        }
    }
    let name = s.text(k, end).to_owned();
    // words that open something else are no name of a movement; a number in words counts what is known
    if name.is_empty()
        || s.any(k, &STRUCTURE).is_some()
        || !matches!(s.tokens.get(i)?.kind, Kind::Number(_) | Kind::Time(_) | Kind::Ticks(_))
    {
        return None;
    }
    // the head of the words may be known, and only what stands before it not
    let head = (k + 1..end).find_map(|h| {
        let (n, next) = s.name(h)?;
        (next >= end).then(|| id_of(n)).flatten()
    });
    let mut near: Vec<String> = head.iter().map(|id| catalogue().written(id)).collect();
    if around.suggest {
        let found = catalogue().nearest(&name, 3);
        near.extend(
            found
                .iter()
                .map(|m| catalogue().written(&m.id))
                .filter(|n| head.as_deref().map(|h| catalogue().written(h)).as_ref() != Some(n)),
        );
        near.truncate(3);
    }
    let short: String = name.chars().take(40).collect();
    let mut message = format!("I do not know “{short}”.");
    match near.as_slice() {
        [] => message.push_str(
            " Write a movement of the catalogue, or put the words in parentheses to keep them as a note.",
        ),
        [one] => message.push_str(&format!(" Did you mean {one}?")),
        [first, second] => message.push_str(&format!(" Did you mean {first} or {second}?")),
        [first, rest @ ..] => message.push_str(&format!(" Did you mean {first}, {}?", rest.join(" or "))),
    }
    let mut p = s.problem(k, end, Severity::Error, message);
    p.suggestions = near;
    Some((name, i, end, p))
}

/// The catalogue id of a name, where nothing must be asked.
pub(super) fn id_of(name: &Name) -> Option<String> {
    match name {
        Name::Own(id) => Some(id.clone()),
        Name::Typed(Typed::Movement(m)) => catalogue().movements.get(*m).map(|m| m.id.clone()),
        Name::Typed(Typed::Doubt(d)) => {
            catalogue().ambiguous.get(*d).map(|a| a.default.clone()).filter(|d| !d.is_empty())
        }
        Name::Typed(Typed::Drill(_)) => None,
    }
}

/// A movement found at a place.
struct Found {
    movement: Named,
    next: usize,
    problems: Vec<Problem>,
    /// The catalogue does not guess here.
    asked: bool,
}

fn movement(s: &Scan<'_>, k: usize, around: Around) -> Option<Found> {
    if let Some((id, next)) = either(s, k) {
        return Some(Found { movement: Named::Known(id), next, problems: Vec::new(), asked: false });
    }
    let (name, next) = s.name(k)?;
    let one_word = next == k + 1;
    match name {
        Name::Own(id) => {
            Some(Found { movement: Named::Known(id.clone()), next, problems: Vec::new(), asked: false })
        }
        Name::Typed(Typed::Drill(_)) => None,
        Name::Typed(Typed::Movement(m)) => {
            let id = catalogue().movements.get(*m)?.id.clone();
            if one_word && head_unknown(s, k, next) {
                return None;
            }
            let (id, next) = strict(s, id, next);
            Some(Found { movement: Named::Known(id), next, problems: Vec::new(), asked: false })
        }
        Name::Typed(Typed::Doubt(d)) => {
            if one_word && head_unknown(s, k, next) {
                return None;
            }
            doubtful(s, k, next, *d, around)
        }
    }
}

/// A first word never decides when the word behind it is not known: a handstand walk is no hold.
/// A plural is whole.
fn head_unknown(s: &Scan<'_>, k: usize, next: usize) -> bool {
    let plural = s.text(k, next).ends_with(['s', 'S']) && !s.canon(k).ends_with('s');
    !plural
        && s.word(next)
        && !s.known(next)
        && s.number(next).is_none()
        && !s.canon(next).is_empty()
        && s.canon(next).len() > 1
}

fn doubtful(s: &Scan<'_>, k: usize, next: usize, d: usize, around: Around) -> Option<Found> {
    let a = catalogue().ambiguous.get(d)?;
    let typed = s.text(k, next);
    if let (true, Some(id)) = (around.lifting, &a.with_percent) {
        return Some(Found { movement: Named::Known(id.clone()), next, problems: Vec::new(), asked: false });
    }
    let written = |ids: &[String]| ids.iter().map(|i| catalogue().written(i)).collect::<Vec<_>>();
    if a.default.is_empty() {
        let mut p = s.problem(k, next, Severity::Error, format!("“{typed}” names several. {}", a.ask));
        p.suggestions = written(&a.candidates);
        return Some(Found {
            movement: Named::Unknown(typed.to_owned()),
            next,
            problems: vec![p],
            asked: true,
        });
    }
    let key: String = (k..next).map(|i| s.canon(i)).collect();
    let mut problems = Vec::new();
    let (id, after) = strict(s, a.default.clone(), next);
    if a.candidates.len() > 1 && !around.lifting && !catalogue().is_own_name(&key) && id == a.default {
        let message = format!("“{typed}” could mean several. I read {}. {}", catalogue().written(&id), a.ask);
        let mut p = s.problem(k, next, Severity::Warning, message);
        p.suggestions = written(&a.candidates.iter().filter(|c| **c != id).cloned().collect::<Vec<_>>());
        problems.push(p);
    }
    Some(Found { movement: Named::Known(id), next: after, problems, asked: false })
}

/// `5 pullups strict`: the strict form, where there is one.
fn strict(s: &Scan<'_>, id: String, next: usize) -> (String, usize) {
    if s.canon(next) == "strict" {
        let strict = format!("strict-{id}");
        if catalogue().movement(&strict).is_some() {
            return (strict, next + 1);
        }
    }
    (id, next)
}

/// `power or squat clean`, `clean & any jerk`: the first named.
fn either(s: &Scan<'_>, k: usize) -> Option<(String, usize)> {
    let joint = |i: usize| matches!(s.canon(i), "or" | "and") || s.sign(i, '&') || s.sign(i, '/');
    let id = |t: Typed| id_of(&Name::Typed(t));
    if joint(k + 1) && s.canon(k + 2) == "any" && s.word(k + 3) {
        let words = [s.canon(k), s.canon(k + 3)];
        let (t, 2) = catalogue().walk(words.into_iter())? else { return None };
        return Some((id(t)?, k + 4));
    }
    if !(joint(k + 1) && s.word(k) && s.word(k + 2) && s.name(k).is_none()) {
        return None;
    }
    let tail: Vec<&str> = (k + 3..s.len().min(k + 7)).map_while(|i| s.word(i).then(|| s.canon(i))).collect();
    let words = std::iter::once(s.canon(k)).chain(tail.iter().copied());
    let (t, n) = catalogue().walk(words)?;
    (n > 1).then(|| id(t).map(|id| (id, k + 2 + n))).flatten()
}

/// A count before a name.
fn counted(s: &Scan<'_>, i: usize) -> Option<Counted> {
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
pub(super) fn unit_at(s: &Scan<'_>, i: usize) -> Option<(Unit, f64, usize)> {
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
fn unit_behind(s: &Scan<'_>, i: usize) -> (Option<Unit>, usize) {
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

/// A count behind a name: `row 500m`, `run 5 km`, `burpees x 7`, `hold 30 s`, `split squat 8 e/s`.
fn behind_name(s: &Scan<'_>, found: &Found, around: Around) -> (Option<Count>, Option<Unit>, bool, usize) {
    let (unit, next) = unit_behind(s, found.next);
    if let Some(after) = s.role(next, Role::Max).filter(|n| s.end(*n) && s.canon(next) != "me") {
        return (Some(Count::Max), unit, false, after);
    }
    let at = s.past(next, &[':', '|', '-']);
    let by_x = s.sign(at, 'x');
    if by_x && let Some((n, after)) = s.whole(at + 1) {
        return (Some(Count::Each(f64::from(n))), unit, false, after);
    }
    // `swings 15 @ 24/16`, `burpees 10`
    if let Some((n, after)) = s.whole(next)
        && s.number(next).is_some_and(|(_, end)| end == after)
        && (s.end(after) || s.sign(after, '@'))
        && n > 0
        && !around.lifting
    {
        return (Some(Count::Each(f64::from(n))), unit, false, after);
    }
    // so many times so much is a matter of sets
    if let Some(c) = counted(s, at)
        && c.times == 1
        && !s.sign(c.next, 'x')
    {
        // `box step-overs 50/50 cm`: a height or a weight, the same for both standards
        let with_unit = |end: usize| c.unit.is_none() && end > c.next;
        if matches!(super::load::behind(s, at), Some((Atom::Height(_) | Atom::Load(_), end, _)) if with_unit(end))
        {
            return (None, unit, false, next);
        }
        // `hold :20 on :10 off` is a clock
        if s.any(c.next, &[Role::On, Role::Off]).is_some() && c.unit == Some(Unit::Seconds) {
            return (None, unit, false, next);
        }
        let side = s.role(c.next, Role::EachSide).filter(|n| s.canon(c.next) != "each" || *n > c.next + 1);
        let next = side.unwrap_or(c.next);
        if c.unit.is_some() || (side.is_some() && c.count.is_some()) || c.side {
            let each = side.is_some() || c.each_side(&found.movement);
            return (c.count, c.unit.or(unit), each, next);
        }
    }
    (None, unit, false, next)
}

/// The unit in which a movement is counted when none is written.
pub(super) fn usual_unit(id: &str) -> Unit {
    catalogue()
        .movement(id)
        .map_or(Unit::Reps, |m| if m.count_also.contains(&Unit::Reps) { Unit::Reps } else { m.count })
}

/// Whether a movement is one of the bar.
pub(super) fn barbell(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell)
}
