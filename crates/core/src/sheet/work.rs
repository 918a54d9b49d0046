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
use super::count::{Counted, counted, unit_behind};
use super::glossary::Role;
use super::model::{Count, Named, WordLoad};
use super::problem::{Problem, Severity};
use super::scan::{Name, Scan};
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
