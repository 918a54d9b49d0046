//! What stands behind a movement: weights, heights, shares of a maximum, tempo, sides, effort.
//!
//! A bare number is a load only with a unit, `@`, or as a pair behind a movement that carries weight: `RPE 8`, `(18 min)` and
//! `3 sets max` never become kilograms.

use super::atom::{Atom, LoadSaid};
use super::glossary::Role;
use super::model::{Percent, PercentBase, Tempo, WeightUnit, WordLoad};
use super::problem::{Problem, Severity};
use super::scan::{Bare, Name, Scan};
use super::token::Kind;
use crate::movement::{Typed, catalogue};

/// A percentage over this is a slip of the pen.
const MOST_PERCENT: f64 = 110.0;
/// A percentage under this is no working weight.
const LEAST_PERCENT: f64 = 10.0;
/// A weight over this is a slip of the pen, lb.
const MOST_WEIGHT: f64 = 900.0;
/// The same in kg.
const MOST_KG: f64 = 400.0;

/// One thing said behind a movement, the place after it, and what is wrong with it.
pub(super) fn behind(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    let plain = |(a, n): (Atom, usize)| (a, n, Vec::new());
    body_weights(s, i)
        .map(plain)
        .or_else(|| percent(s, i))
        .or_else(|| tempo(s, i).map(plain))
        .or_else(|| effort(s, i).map(plain))
        .or_else(|| rise(s, i).map(plain))
        .or_else(|| weight(s, i))
        .or_else(|| words(s, i).map(plain))
}

/// `1.5x bodyweight`, `@ 3/4 bw`: kept in words; who has a bar for it is asked.
fn body_weights(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let (start, at) = past_at(s, i);
    let counted = s.number(start).map(|(_, n)| match s.sign(n, '/').then(|| s.number(n + 1)).flatten() {
        Some((_, end)) => end,
        None => n,
    });
    let word = s.past(counted.unwrap_or(start), &['x']);
    let end = match s.canon(word) {
        "bodyweight" | "bw" => word + 1,
        "body" if s.canon(word + 1) == "weight" => word + 2,
        _ => return None,
    };
    (counted.is_some() || at).then(|| (Atom::Effort(s.text(i, end).to_owned()), end))
}

/// The place behind `@`, `at`, `about`.
fn past_at(s: &Scan<'_>, i: usize) -> (usize, bool) {
    let at = s.sign(i, '@') || matches!(s.canon(i), "at" | "bout");
    let mut k = if at { i + 1 } else { i };
    while let Some(n) = s.role(k, Role::At) {
        k = n;
    }
    (k, at || k > i)
}

/// `78-82% of 1RM`, `75/78/82%`, `@ 75, 78, 82 %`, `75 percent`.
fn percent(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    let (start, _) = past_at(s, i);
    let mut values = Vec::new();
    let mut k = start;
    let mut dashes = Vec::new();
    let mut signed;
    loop {
        let Kind::Number(v) = s.tokens.get(k)?.kind else { return None };
        values.push(v);
        k += 1;
        signed = false;
        if s.sign(k, '%') {
            k += 1;
            signed = true;
        } else if let Some(n) = s.role(k, Role::Percent) {
            k = n;
            signed = true;
        }
        let next = s.past(k, &['-', '/', ',']);
        let to = s.canon(k) == "to";
        let more = |at: usize| matches!(s.tokens.get(at).map(|t| t.kind), Some(Kind::Number(_)));
        if to && more(k + 1) {
            dashes.push(true);
            k += 1;
        } else if next == k + 1 && more(next) && (!signed || percent_follows(s, next)) {
            dashes.push(s.sign(k, '-'));
            k = next;
        } else {
            break;
        }
    }
    if !signed || values.is_empty() {
        return None;
    }
    let (of, next) = base(s, k);
    let mut problems = Vec::new();
    let mut say = |severity, message: String| problems.push(s.problem(start, k, severity, message));
    if let Some(v) = values.iter().find(|v| **v > MOST_PERCENT) {
        say(Severity::Error, format!("{v} % is more than anybody lifts. Write at most 110 %."));
        return Some((Atom::Note(s.text(start, k).to_owned()), next, problems));
    }
    if values.iter().any(|v| *v < LEAST_PERCENT) {
        say(Severity::Error, "Under 10 % is no working weight. Check the percentage.".to_owned());
        return Some((Atom::Note(s.text(start, k).to_owned()), next, problems));
    }
    Some((Atom::Percent(listed(values, &dashes, of)), next, problems))
}

/// Percentages with what stands between them: a band, a band for each set (`60-65, 70-75`), else a list.
fn listed(values: Vec<f64>, dashes: &[bool], of: PercentBase) -> Percent {
    let bands = dashes.len() >= 3 && dashes.iter().enumerate().all(|(i, dash)| *dash == (i % 2 == 0));
    if bands && values.len().is_multiple_of(2) {
        let pairs = values.chunks_exact(2);
        let (low, high) =
            pairs.filter_map(|p| Some((*p.first()?, *p.last()?))).map(|(a, b)| (a.min(b), a.max(b))).unzip();
        return Percent { tops: high, ..Percent::list(low, of) };
    }
    let band = values.len() == 2 && dashes == [true];
    Percent { band, ..Percent::list(values, of) }
}

/// Whether the number at a place belongs to a list of percentages.
fn percent_follows(s: &Scan<'_>, i: usize) -> bool {
    let signed = |k: usize| s.sign(k, '%') || s.role(k, Role::Percent).is_some();
    signed(i + 1) || s.sign(i + 1, '-') && s.number(i + 2).is_some() && signed(i + 3)
}

/// What a percentage is of: `of 1RM`, `(of tested 1RM)`, `of 5RM`, `of back squat`, `of your opener`.
fn base(s: &Scan<'_>, i: usize) -> (PercentBase, usize) {
    let bracket = usize::from(s.sign(i, '('));
    if s.canon(i + bracket) != "of" {
        return (PercentBase::Unsaid, i);
    }
    let mut k = i + bracket + 1;
    while matches!(
        s.canon(k),
        "the" | "your" | "my" | "a" | "tested" | "today" | "current" | "new" | "their" | "last"
    ) || s.sign(k, '\'')
    {
        k += 1;
    }
    let close = |k: usize| if bracket == 1 && s.sign(k, ')') { k + 1 } else { k };
    if let Some((n, next)) = s.whole(k)
        && let Some(after) = s.role(next, Role::RepMax)
    {
        return (if n == 1 { PercentBase::OneRm } else { PercentBase::RepMax(n) }, close(after));
    }
    if let Some(after) = s.role(k, Role::TrainingMax) {
        return (PercentBase::TrainingMax, close(after));
    }
    if let Some(after) = s.role(k, Role::OwnMax) {
        return (PercentBase::OneRm, close(after));
    }
    if let Some((Name::Typed(t), after)) = s.name(k)
        && bracket == 0
    {
        let id = match t {
            Typed::Movement(m) => catalogue().movements.get(*m).map(|m| m.id.clone()),
            Typed::Doubt(d) => catalogue()
                .ambiguous
                .get(*d)
                .and_then(|a| a.with_percent.clone().or(Some(a.default.clone()).filter(|d| !d.is_empty()))),
            Typed::Drill(_) => None,
        };
        if let Some(id) = id {
            return (PercentBase::Lift(id), after);
        }
    }
    // `of it`, `of A`, `of your opener`: the weight found just before; said, not computed
    if bracket == 0 && (s.word(k)) && s.end(k + 1) {
        (PercentBase::Unsaid, k + 1)
    } else {
        (PercentBase::Unsaid, i)
    }
}

fn tempo(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    // `tempo back squat 32X1`: its figures stand further on
    let spoken = || (0..i).any(|k| s.role(k, Role::Tempo).is_some());
    if let (Some(pair @ 10..=99), true, Some(top @ 0..=9)) =
        (s.figure(i), s.sign(i + 1, 'x'), s.figure(i + 2))
        && s.glued(i + 1)
        && s.glued(i + 2)
        && spoken()
    {
        return Some((Atom::Tempo(Tempo([(pair / 10) as u8, (pair % 10) as u8, 0, top as u8])), i + 3));
    }
    let k = s.past(s.role(i, Role::Tempo)?, &[':']);
    let from = s.tokens.get(k)?.from;
    let (mut digits, mut end) = (Vec::new(), from);
    for c in s.line.low.get(from..)?.chars() {
        match c {
            '0'..='9' if digits.len() < 4 => digits.push(c as u8 - b'0'),
            'x' if digits.len() < 4 => digits.push(0),
            '-' | '.' | '/' if digits.len() < 4 => {}
            ' ' if digits.len() < 4 && !digits.is_empty() => {}
            _ => break,
        }
        end += c.len_utf8();
    }
    let digits: [u8; 4] = digits.try_into().ok()?;
    let next = s.tokens.iter().position(|t| t.from >= end).unwrap_or(s.len());
    Some((Atom::Tempo(Tempo(digits)), next.max(k + 1)))
}

/// `RPE 8`, `@ rpe 7-8`, `2 RIR`, `2 reps left in the tank`, `leave 2 in the tank`.
fn effort(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let (k, _) = past_at(s, i);
    // `3 seconds down` is a tempo; `2 s pause` is kept in words
    if let Some((t, next)) = s.time(k, Bare::No).filter(|(t, _)| (1..=15).contains(t)) {
        if matches!(s.canon(next), "down" | "lower" | "lowering" | "eccentric" | "negative" | "descent") {
            return Some((Atom::Tempo(Tempo([t as u8, 0, 0, 0])), next + 1));
        }
        if matches!(s.canon(next), "pause" | "up" | "at") {
            return Some((Atom::Effort(s.text(i, next + 1).to_owned()), next + 1));
        }
    }
    let amount = |k: usize| {
        let (_, mut next) = s.number(k)?;
        if (s.sign(next, '-') || s.canon(next) == "to")
            && let Some((_, n)) = s.number(next + 1)
        {
            next = n;
        }
        Some(next)
    };
    if let Some(after) = s.role(k, Role::Effort)
        && let Some(next) = amount(s.past(after, &[':']))
    {
        return Some((Atom::Effort(s.text(k, next).to_owned()), next));
    }
    let start = if matches!(s.canon(k), "leave" | "leaving" | "keep" | "with") { k + 1 } else { k };
    let next = amount(start)?;
    let after = s.role(next, Role::InReserve)?;
    Some((Atom::Effort(s.text(i, after).to_owned()), after))
}

/// `+2 each round`, `(+1)`, `, -4 each round`, `add 1 each round`.
fn rise(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let bracket = usize::from(s.sign(i, '('));
    let k = i + bracket;
    let (sign, k) = match s.tokens.get(k)?.kind {
        Kind::Sign('+') => (1.0, k + 1),
        Kind::Sign('-') if bracket == 1 || i > 0 && !s.glued(k) => (-1.0, k + 1),
        Kind::Word => (1.0, s.role(k, Role::Add)?),
        _ => return None,
    };
    let n = f64::from(s.figure(k)?);
    let mut unit =
        s.any(k + 1, &[Role::Reps, Role::Metres, Role::Calories, Role::Seconds]).map_or(k + 1, |(_, n)| n);
    while matches!(
        s.canon(unit),
        "to" | "both" | "all" | "of" | "movement" | "everything" | "line" | "the" | "each"
    ) && s.role(unit, Role::EachRound).is_none()
    {
        unit += 1;
    }
    let round = s.role(unit, Role::EachRound).or_else(|| {
        (s.sign(unit, '/')).then(|| s.any(unit + 1, &[Role::Rounds, Role::Cycles]).map(|(_, n)| n)).flatten()
    });
    let next = round.unwrap_or(unit);
    if bracket == 1 {
        return s.sign(next, ')').then_some((Atom::Rise(sign * n), next + 1));
    }
    round.filter(|_| n > 0.0).map(|r| (Atom::Rise(sign * n), r))
}

/// Units that say that a number in front of them counts, and weighs nothing.
const COUNTING: [Role; 10] = [
    Role::Minutes,
    Role::Seconds,
    Role::Metres,
    Role::Kilometres,
    Role::Miles,
    Role::Calories,
    Role::Reps,
    Role::Rounds,
    Role::Sets,
    Role::RepMax,
];

/// One or two numbers with their unit, as they stand.
struct Figures {
    start: usize,
    end: usize,
    value: [f64; 2],
    unit: Option<Of>,
    pair: bool,
    implements: Option<u8>,
    at: bool,
    minus: bool,
}

fn figures(s: &Scan<'_>, i: usize) -> Option<Figures> {
    let (mut k, at) = past_at(s, i);
    let start = k;
    let minus = s.sign(k, '-') && !s.glued(k);
    k += usize::from(minus);
    let mut implements = None;
    if let Some(n @ (1 | 2)) = s.figure(k)
        && s.sign(k + 1, 'x')
        && matches!(s.tokens.get(k + 2).map(|t| t.kind), Some(Kind::Number(_)))
    {
        implements = Some(n as u8);
        k += 2;
    }
    let (a, unit, next) = figure(s, k)?;
    let one = Figures { start, end: next, value: [a, a], unit, pair: false, implements, at, minus };
    let slash = s.past(next, &['/']);
    if slash == next + 1
        && let Some((b, second, after)) = figure(s, slash)
    {
        return Some(Figures { end: after, value: [a, b], unit: second.or(unit), pair: true, ..one });
    }
    // `40" plank` is a time
    let ticks = matches!(s.tokens.get(k).map(|t| t.kind), Some(Kind::Ticks(_)));
    (!ticks || s.name(next).is_none()).then_some(one)
}

/// `60/42.5 kg`, `60kg / 42.5kg`, `2x22.5/15`, `95#`, `@ 60`, `24/20 in`, `24"/20"`.
fn weight(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    let f = figures(s, i)?;
    let said = |atom: Atom, problems| Some((atom, f.end, problems));
    if matches!(f.unit, Some(Of::Centimetres | Of::Inches)) {
        let factor = if f.unit == Some(Of::Inches) { 2.54 } else { 1.0 };
        return said(Atom::Height(f.value.map(|v| (v * factor).round())), Vec::new());
    }
    // a bare number alone is no load; two numbers are one where the movement carries weight
    let counted = s.any(f.end, &COUNTING).is_some();
    if f.unit.is_none() && !f.at && f.pair && s.name(f.end).is_some() {
        return None;
    }
    if f.unit.is_none() && (counted || s.sign(f.end, 'x') || !(f.pair || f.at || f.implements.is_some())) {
        return None;
    }
    if f.minus || f.value.iter().any(|v| *v <= 0.0) {
        let message = "A load must be more than 0. Write the weight, or leave it out.";
        return said(Atom::Note(String::new()), vec![s.problem(f.start, f.end, Severity::Error, message)]);
    }
    if f.unit.is_none() && !f.pair && f.implements.is_none() {
        let two = s.figure(f.end).filter(|_| s.end(f.end + 1)).map(f64::from);
        return Some((Atom::At(f.value[0], two), f.end + usize::from(two.is_some()), Vec::new()));
    }
    let most = if f.unit == Some(Of::Kilograms) { MOST_KG } else { MOST_WEIGHT };
    let mut problems = Vec::new();
    if f.value.iter().any(|v| *v > most) {
        let message = "That is over 400 kg. Check the number and its unit.";
        problems.push(s.problem(f.start, f.end, Severity::Warning, message));
    }
    let unit = match f.unit {
        Some(Of::Kilograms) => Some(WeightUnit::Kg),
        Some(Of::Pounds) => Some(WeightUnit::Lb),
        _ => None,
    };
    let load = LoadSaid { value: f.value, unit, implements: f.implements, pair: f.pair, at: f.at };
    said(Atom::Load(load), problems)
}

/// What a weight or height is of.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Of {
    Kilograms,
    Pounds,
    Centimetres,
    Inches,
}

fn figure(s: &Scan<'_>, i: usize) -> Option<(f64, Option<Of>, usize)> {
    match s.tokens.get(i)?.kind {
        Kind::Ticks(n) => Some((n, Some(Of::Inches), i + 1)),
        Kind::Number(n) => {
            if s.sign(i + 1, '#') {
                return Some((n, Some(Of::Pounds), i + 2));
            }
            let unit = s.any(i + 1, &[Role::Kilograms, Role::Pounds, Role::Centimetres, Role::Inches]);
            let of = |role| match role {
                Role::Kilograms => Of::Kilograms,
                Role::Pounds => Of::Pounds,
                Role::Centimetres => Of::Centimetres,
                _ => Of::Inches,
            };
            Some(match unit {
                // `10 in 2 minutes` is no height
                Some((Role::Inches, next))
                    if s.number(next).is_some() || s.word(next) && s.canon(i + 1) == "in" =>
                {
                    (n, None, i + 1)
                }
                Some((role, next)) => (n, Some(of(role)), next),
                None => (n, None, i + 1),
            })
        }
        _ => None,
    }
}

fn words(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let last = (s.canon(i) == "last").then(|| s.whole(i + 1)).flatten().and_then(|(n, next)| {
        let next = s.role(next, Role::Sets).unwrap_or(next);
        let top = (s.canon(next) == "at").then(|| s.past(next + 1, &[]))?;
        let top = if s.canon(top) == "the" { top + 1 } else { top };
        (s.canon(top) == "top").then_some((Atom::LastAtTop(n), top + 1))
    });
    if last.is_some() {
        return last;
    }
    let slash = s.past(i, &['/']);
    if slash > i
        && let Some(n) = s
            .role(slash, Role::EachSide)
            .or_else(|| matches!(s.canon(slash), "arm" | "leg" | "side").then_some(slash + 1))
    {
        return Some((Atom::Side, n));
    }
    let (role, next) = s.any(
        i,
        &[
            Role::EachSide,
            Role::Unbroken,
            Role::AddWeight,
            Role::SameWeight,
            Role::Build,
            Role::NoMisses,
            Role::FromCycle,
            Role::Optional,
            Role::SameBar,
            Role::Light,
            Role::Moderate,
            Role::Heavy,
            Role::Superset,
        ],
    )?;
    Some((
        match role {
            // `each` alone says little: each of several movements, each round
            Role::EachSide if s.canon(i) == "each" && next == i + 1 && !(s.end(next)) => return None,
            Role::EachSide if s.canon(i) == "side" && next == i + 1 => return None,
            Role::EachSide => Atom::Side,
            Role::Unbroken => Atom::Unbroken,
            Role::AddWeight => Atom::AddWeight,
            Role::SameWeight => Atom::Effort(s.text(i, next).to_owned()),
            Role::Build => Atom::Climb,
            Role::NoMisses => Atom::NoMisses,
            Role::FromCycle => Atom::FromCycle,
            Role::Optional => Atom::Optional,
            Role::SameBar => Atom::SameBar,
            Role::Light => Atom::WordLoad(WordLoad::Light),
            Role::Moderate => Atom::WordLoad(WordLoad::Moderate),
            Role::Superset => Atom::Superset,
            _ => Atom::WordLoad(WordLoad::Heavy),
        },
        next,
    ))
}
