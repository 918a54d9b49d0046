//! What stands around the work: rests, parts, buy-in and cash-out, minutes, interruptions, teams, levels, options and
//! what replaces a line without some kit.
//!
//! Accepted, each with what is read:
//!
//! | line | reading |
//! | --- | --- |
//! | `rest 2:00` | rest 120 |
//! | `rest a minute thirty` | rest 90 |
//! | `rest 90s b/w supersets` | rest 90 |
//! | `Rest five minutes` | rest 300 |
//! | `buy-in: 800 m run` | buy-in |
//! | `after round 2: 400 m run` | after round 2 |
//! | `min 1: 12 cal row` | minute 1 |
//! | `odd 10 wb 9/6` | minute 1 |
//! | `Teams of 2, split as you like` | team 2 share |
//! | `Partner 15 min AMRAP, YGIG full rounds` | team 2 alternate |
//! | `L2: 12 C2B` | level 2 |
//! | `no rower: 300 m run` | without no rower |

use super::atom::{Atom, LadderSaid, RestSaid};
use super::glossary::Role;
use super::model::{TeamMode, WeightUnit, When};
use super::scan::{Bare, Scan};
use super::token::Kind;

/// A bare number after rest is seconds from here on: nobody rests for 90 minutes.
const REST_SECONDS: u32 = 15;

/// Something around the work at a place, and the place after it.
pub(super) fn around(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    ladder(s, i)
        .or_else(|| parts(s, i))
        .or_else(|| minutes(s, i))
        .or_else(|| person(s, i))
        .or_else(|| kit(s, i))
        .or_else(|| level(s, i))
        .or_else(|| rest(s, i))
        .or_else(|| team(s, i))
}

fn parts(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let colon = |k: usize| s.past(k, &[':', '-', ',']);
    if let Some(n) =
        s.role(i, Role::BuyIn).filter(|n| s.canon(i) != "start" || s.sign(*n, ':') || s.number(*n).is_some())
    {
        return Some((Atom::Around(When::BuyIn), colon(n)));
    }
    if let Some(n) = s.role(i, Role::CashOut) {
        return Some((Atom::Around(When::CashOut), colon(n)));
    }
    if let Some(n) = s
        .role(i, Role::EndOfRound)
        .filter(|n| s.role(i, Role::Between).is_none() || !s.end(*n) || s.sign(*n, ':'))
    {
        return Some((Atom::EndOfRound, colon(n)));
    }
    if let Some(n) = s.role(i, Role::LastRound) {
        return Some((Atom::Around(When::CashOut), colon(n)));
    }
    if let Some(n) = s.role(i, Role::AfterRound)
        && let Some((k, next)) = s.whole(n)
    {
        let only = if s.canon(next) == "only" { next + 1 } else { next };
        return Some((Atom::Around(When::AfterRound(k.max(1))), colon(only)));
    }
    if let Some(n) = s.role(i, Role::OnBreak) {
        let end = if s.canon(n) == "do" { n + 1 } else { n };
        let work = colon(end);
        return (work > n || s.number(work).is_some()).then_some((Atom::Around(When::OnBreak), work));
    }
    if let Some(found) = on_the_clock(s, i) {
        return Some(found);
    }
    // `each round add 1 burpee`: more of one line each round
    if i == 0
        && let Some(n) = s.role(i, Role::EachRound).filter(|_| s.canon(i) != "a")
        && let Some(k) = s.role(colon(n), Role::Add).or_else(|| s.sign(colon(n), '+').then(|| colon(n) + 1))
    {
        // `each round add 2 reps`: of every line
        if let (Some(n), true) = (s.figure(k), s.role(k + 1, Role::Reps) == Some(s.len())) {
            return Some((Atom::Rise(f64::from(n)), s.len()));
        }
        return Some((Atom::Around(When::EachRoundMore), k));
    }
    let n = s
        .role(i, Role::Then)
        .filter(|_| i == 0 || s.end(i - 1) || s.canon(i - 1) == "and" || s.canon(i) == "then")?;
    Some((Atom::Then, colon(n)))
}

/// `on every minute: 5 burpees`, `on the minute from 0:00: ...`.
fn on_the_clock(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    if !matches!(s.canon(i), "on" | "at") {
        return None;
    }
    let mut k = i + 1;
    if matches!(s.canon(k), "the" | "every" | "each") {
        k += 1;
    }
    if matches!(s.canon(k), "top" | "start") && s.canon(k + 1) == "of" {
        k += 2;
        if matches!(s.canon(k), "the" | "every" | "each") {
            k += 1;
        }
    }
    let (every_s, next) = match s.role(k, Role::Minutes).filter(|_| s.canon(k).starts_with("min")) {
        Some(n) => (60, n),
        None if s.canon(i + 1) == "every" || s.canon(i + 1) == "each" => s.time(k, Bare::No)?,
        None => return None,
    };
    let next = s.past(next, &[',']);
    let (from_zero, next) = from_zero(s, next);
    let work = s.past(next, &[':', ',', '-']);
    let counts = s.number(work).is_some()
        || s.role(work, Role::Max).is_some()
        || s.sign(next, ':') && s.name(work).is_some();
    (counts && (work > next || from_zero || s.canon(i + 1) != "every" || i == 0))
        .then_some((Atom::Around(When::OnTheClock { every_s: every_s.max(1), from_zero }), work))
}

/// `from 0:00` and the like, and the place after it.
fn from_zero(s: &Scan<'_>, i: usize) -> (bool, usize) {
    if matches!(s.canon(i), "from" | "starting") {
        let k = if matches!(s.canon(i + 1), "at" | "from") { i + 2 } else { i + 1 };
        match s.tokens.get(k).map(|t| t.kind) {
            Some(Kind::Time(t)) => return (t == 0, k + 1),
            Some(Kind::Number(n)) => return (n == 0.0, k + 1),
            _ if s.canon(k) == "zero" => return (true, k + 1),
            _ => {}
        }
    }
    (false, i)
}

/// `min 1:`, `minute 1 and 3:`, `m2:`, `odd:`, `min 1-2:`.
fn minutes(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let colon = |k: usize| s.past(k, &[':', '.', ')', '-', '=', ',', '|']);
    if i == 0
        && let Some((role, next)) = s.any(i, &[Role::Odd, Role::Even])
    {
        let first = u32::from(role == Role::Even) + 1;
        return Some((Atom::Minutes(vec![first]), colon(next)));
    }
    let start = s.end_before(i);
    let word = s.canon(i);
    // `m4:` is one word
    if let Some(k) =
        word.strip_prefix('m').and_then(|d| d.parse::<u32>().ok()).filter(|k| (1..=60).contains(k))
        && start
    {
        return Some((Atom::Minutes(vec![k]), colon(i + 1)));
    }
    if !(start && matches!(word, "minute" | "min" | "m")) {
        return None;
    }
    let mut all = vec![s.figure(i + 1).filter(|k| (1..=60).contains(k))?];
    let mut k = i + 2;
    loop {
        let joint =
            s.sign(k, ',') || s.sign(k, '&') || s.sign(k, '+') || s.sign(k, '/') || s.canon(k) == "and";
        let range = s.sign(k, '-') && s.glued(k) && s.glued(k + 1);
        match s.figure(k + 1) {
            Some(n)
                if joint
                    && n <= 60
                    && s.glued(k + 1) | (s.canon(k) == "and") | s.sign(k, '&') | s.sign(k, ',')
                    && !s.word(k + 2) =>
            {
                all.push(n)
            }
            Some(n) if range && n <= 60 => all.extend((all.last().copied().unwrap_or(0) + 1)..=n),
            _ => break,
        }
        k += 2;
    }
    Some((Atom::Minutes(all), colon(k)))
}

/// `P1:`, `Partner 2:`, `the other does`: people of a team with their own work.
fn person(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let word = s.canon(i);
    let short = word.strip_prefix('p').and_then(|d| d.parse::<u32>().ok());
    let (n, next) = match short {
        Some(n) => (n, i + 1),
        None if matches!(word, "partner" | "person" | "athlete") => (s.figure(i + 1)?, i + 2),
        None => return None,
    };
    ((1..=6).contains(&n)).then(|| (Atom::Person(n), s.past(next, &[':', '-'])))
}

/// `no rower:`, `at home:`, `(no bike: ...)`.
fn kit(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    if let Some(n) = s.role(i, Role::Home).filter(|n| s.sign(*n, ':')) {
        return Some((Atom::Kit("home".to_owned()), n + 1));
    }
    let n = s.role(i, Role::Without)?;
    // `no GHDs, do 25 V-ups`: what follows replaces what was said before it
    if i > 0
        && let Some(comma) = (n..n + 3).find(|k| s.sign(*k, ',')).filter(|k| *k > n)
        && s.canon(comma + 1) == "do"
    {
        return Some((Atom::Instead, comma + 2));
    }
    let colon = |k: usize| s.sign(k, ':') || s.sign(k, '?');
    // a name of several words may be longer than a word of the kit
    let named = s.name(n).map(|(_, after)| after).filter(|k| colon(*k));
    let end = (n..n + 3).find(|k| colon(*k)).filter(|k| *k > n).or(named)?;
    let what = (n..end).map(|k| s.canon(k)).filter(|w| !w.is_empty()).collect::<Vec<_>>().join(" ");
    let kit = [
        "barbell",
        "bar",
        "rig",
        "kit",
        "machine",
        "rower",
        "row",
        "erg",
        "rope",
        "bike",
        "ski",
        "box",
        "dumbbell",
        "db",
        "kettlebell",
        "kb",
        "ball",
        "wall ball",
        "ring",
        "ghd",
        "bench",
        "rack",
        "run",
        "outdoor",
        "sled",
        "pull up bar",
        "double under",
        "skill",
        "weight",
        "equipment",
    ];
    if !kit.contains(&what.as_str()) {
        // `no muscle-ups: 20 ring dips`: for those who have none
        return (named == Some(end)).then_some((Atom::Scale, n));
    }
    let what = match what.as_str() {
        "bar" => "barbell",
        "row" | "erg" => "rower",
        "pull up bar" => "rig",
        "weight" | "equipment" => "kit",
        "db" => "dumbbell",
        "kb" => "kettlebell",
        w => w,
    };
    Some((Atom::Kit(format!("no {what}")), end + 1))
}

/// `L3:`, `Rx`, `scaled:`, `beginners:`, `or`.
fn level(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    // `scale the pull-ups to ring rows`
    if matches!(s.canon(i), "scale" | "swap" | "replace" | "change")
        && let at = if s.canon(i + 1) == "the" { i + 2 } else { i + 1 }
        && let Some((_, n)) = s.name(at)
        && matches!(s.canon(n), "to" | "for" | "with" | "by")
    {
        return Some((Atom::Scale, at));
    }
    if let Some((rank, next)) = s.valued(i, Role::Level)
        && s.end_before(i)
    {
        let plus = s.sign(next, '+') && s.glued(next);
        let next = next + usize::from(plus);
        let colon = s.past(next, &[':', '-', '=', '|', ')']);
        let word = s.canon(i);
        let short =
            word.len() <= 2 || word.starts_with("rx") || word.starts_with("lvl") || word.starts_with("level");
        // `full rounds`, `base 5`: words of everyday need their colon
        let bar = short && (s.number(colon).is_some() || s.sign(next, ':'));
        let kind = matches!(word, "int" | "beg" | "scaled" | "scale" | "beginner" | "intermediate")
            && (s.number(colon).is_some() || s.sign(next, ':'));
        if colon > next || bar || kind {
            return Some((Atom::Level(if plus { 4 } else { rank }), colon));
        }
    }
    if let Some(n) = s.role(i, Role::AllLevels).filter(|n| s.sign(*n, ':') && i == 0) {
        return Some((Atom::AllLevels, n + 1));
    }
    let n = s.role(i, Role::Or).filter(|_| i > 0 && s.canon(i) != "sub" || s.canon(i) == "or")?;
    Some((Atom::Or, s.past(n, &[':'])))
}

fn rest_said(seconds: Option<u32>, between: bool, free: bool) -> Atom {
    Atom::Rest(RestSaid { seconds, between, free })
}

/// `rest 2:00`, `2 min rest between rounds`, `rest as needed`, `rest 1:1`.
fn rest(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let verb = matches!(s.canon(i), "rest" | "recover" | "resting");
    match s.role(i, Role::Rest).filter(|_| verb) {
        Some(next) => rest_behind(s, i, next),
        None => time_before_rest(s, i),
    }
}

/// What stands behind `rest`.
fn rest_behind(s: &Scan<'_>, i: usize, next: usize) -> Option<(Atom, usize)> {
    let mut k = s.past(next, &[':', '|', '=', '(', '-']);
    while matches!(s.canon(k), "for" | "of" | "about" | "exactly")
        || s.role(k, Role::At).is_some_and(|n| n == k + 1)
    {
        k += 1;
    }
    if let Some(after) = s.role(k, Role::AsNeeded) {
        return Some((rest_said(None, false, true), between(s, after).1));
    }
    // `rest 1:1`: as long as the work took
    if let (Some(a), Some(b)) = (s.figure(k), s.figure(k + 2))
        && (s.sign(k + 1, ':') || s.sign(k + 1, '/'))
        && a.max(b) <= 4
    {
        return Some((rest_said(None, false, true), between(s, k + 3).1));
    }
    if s.number(k).is_some()
        || matches!(s.canon(k), "a" | "an" | "half")
        || matches!(s.tokens.get(k).map(|t| t.kind), Some(Kind::Time(_) | Kind::Ticks(_)))
    {
        return timed_rest(s, k);
    }
    // `rest of the 3 min double-unders`: as many as there is time for
    if s.canon(next) == "of"
        && let Some((_, after)) =
            s.time(if s.canon(next + 1) == "the" { next + 2 } else { next + 1 }, Bare::No)
    {
        return Some((Atom::Effort(s.text(i, after).to_owned()), after));
    }
    // `rest what is left` has no time of its own; `rest of the day` is another thing
    if matches!(s.canon(next), "until" | "what" | "whatever" | "if" | "when") {
        return Some((rest_said(None, false, true), s.clause(next)));
    }
    if matches!(s.canon(next), "of" | "on" | "the" | "is" | "day" | "then" | "in" | "during") {
        return None;
    }
    let (between, end) = between(s, next);
    (s.end(end) || i == 0 && between).then(|| (rest_said(None, between, false), end))
}

fn timed_rest(s: &Scan<'_>, k: usize) -> Option<(Atom, usize)> {
    let (mut t, mut after) = s.time(k, Bare::SecondsFrom(REST_SECONDS))?;
    // `2-3 min`: the longer
    if s.sign(after, '-')
        && let Some((u, n)) = s.time(after + 1, Bare::SecondsFrom(REST_SECONDS))
    {
        (t, after) = (u.max(t), n);
    }
    // `rest for 4 rounds` is no length
    if s.any(after, &[Role::Rounds, Role::Reps, Role::Calories]).is_some()
        || s.name(after).is_some() && s.figure(k).is_some() && after == k + 1
    {
        return None;
    }
    let (between, end) = between(s, after);
    Some((rest_said(Some(t).filter(|t| *t > 0), between, false), end))
}

/// `2 min rest`, `2:00 between rounds`.
fn time_before_rest(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    // `2-3 min between sets`: the longer
    let i = match s.number(i) {
        Some((_, n)) if s.sign(n, '-') && s.time(n + 1, Bare::No).is_some() => n + 1,
        Some((v, _)) if v.fract() > 0.0 => return None,
        _ => i,
    };
    let (t, next) = s
        .time(i, Bare::SecondsFrom(REST_SECONDS))
        .filter(|(_, n)| s.figure(i).is_none() || *n > i + 1 || s.canon(i + 1) == "rest")?;
    let of = if s.canon(next) == "of" { next + 1 } else { next };
    if let Some(after) = s.role(of, Role::Rest).filter(|_| s.canon(of) == "rest") {
        let (between, end) = between(s, after);
        return Some((rest_said(Some(t), between, false), end));
    }
    // `2:00 between rounds`, `1 min off between`
    let off = if s.canon(of) == "off" { of + 1 } else { of };
    let after = s
        .role(off, Role::Between)
        .filter(|_| s.canon(off) != "each" && s.canon(off) != "after" || off > of)?;
    Some((rest_said(Some(t), true, false), after))
}

/// `between rounds`, `in between`, `each round` behind a rest, and the place after it.
fn between(s: &Scan<'_>, i: usize) -> (bool, usize) {
    let bracket = s.past(i, &[')', ',']);
    let at = if s.role(bracket, Role::Between).is_some() { bracket } else { i };
    match s.role(at, Role::Between) {
        Some(n) => (true, s.any(n, &[Role::Sets, Role::Rounds, Role::Intervals]).map_or(n, |(_, e)| e)),
        None => (false, i),
    }
}

/// Pairs, teams and how they divide the work.
fn team(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let mode = |k: usize| {
        s.any(k, &[Role::InTurn, Role::OneWorks, Role::Share]).map(|(role, n)| {
            let mode = match role {
                Role::InTurn => TeamMode::Alternate,
                Role::OneWorks => TeamMode::OneWorks,
                _ => TeamMode::Share,
            };
            (mode, n)
        })
    };
    if let Some((m, n)) = mode(i) {
        // `split squat`, `split jerk`: a movement goes before
        return s
            .name(i)
            .is_none_or(|(_, m)| m <= i + 1 && n > i + 1)
            .then_some((Atom::Team { size: None, mode: Some(m) }, n));
    }
    let (size, next) = s.valued(i, Role::Pairs)?;
    // `three` is a number, `threes` a team
    if s.number(next - 1).is_some()
        && !s.text(next - 1, next).ends_with(['s', 'S'])
        && s.word(next - 1)
        && next - i == 1
    {
        return None;
    }
    // a pair of dumbbells, your partner's plank
    if matches!(s.canon(next), "of" | "stopped" | "rest" | "rests" | "is" | "does" | "hold" | "holds")
        || i > 0
            && matches!(s.canon(i - 1), "your" | "the" | "a" | "light" | "heavy")
            && s.canon(i - 1) != "with"
    {
        return None;
    }
    Some((Atom::Team { size: Some(size), mode: None }, next))
}

/// `ladder 20 reps each at 60, 70, 80 kg`, `10 reps each of power clean at 50, 60, 70 kg`, `: 10 reps each at 60/40, 80/55`.
fn ladder(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let word = s.role(i, Role::Ladder);
    let k = s.past(word.unwrap_or(i), &[':', ',']);
    let (reps, next) = s.number(k)?;
    let next = if s.sign(next, 'x') { next + 1 } else { next };
    let after = s.role(next, Role::Reps).unwrap_or(next);
    let each = matches!(s.canon(after), "each");
    if !(each || word.is_some() && after > next) {
        return None;
    }
    let at =
        (after..s.len().min(after + 8)).find(|j| s.sign(*j, '@') || matches!(s.canon(*j), "at" | "with"))?;
    let (mut loads, mut unit, mut j) = (Vec::new(), None, at + 1);
    while let Some((a, n)) = s.number(j) {
        let mut value = [a, a];
        j = n;
        if s.sign(j, '/')
            && let Some((b, n)) = s.number(j + 1)
        {
            value = [a, b];
            j = n;
        }
        if let Some((role, n)) = s.any(j, &[Role::Kilograms, Role::Pounds]) {
            unit = Some(if role == Role::Pounds { WeightUnit::Lb } else { WeightUnit::Kg });
            j = n;
        } else if s.sign(j, '#') {
            unit = Some(WeightUnit::Lb);
            j += 1;
        }
        loads.push(value);
        let joint = s.past(j, &[',', ';', '-', '&']);
        let joint = if matches!(s.canon(joint), "then" | "and") { joint + 1 } else { joint };
        if joint == j {
            break;
        }
        j = joint;
    }
    let usable = loads.len() > 1 && loads.iter().flatten().all(|v| *v > 0.0);
    let of = (after..at).find_map(|k| s.name(k).and_then(|(n, _)| super::work::id_of(n)));
    usable.then_some((Atom::Ladder(LadderSaid { reps, loads, unit, of }), j))
}

impl Scan<'_> {
    /// Whether a clause begins at a place: the line's start, or a sign before it.
    pub fn end_before(&self, i: usize) -> bool {
        i.checked_sub(1)
            .and_then(|b| self.tokens.get(b))
            .is_none_or(|t| matches!(t.kind, Kind::Sign(',' | ';' | '.' | ':' | '(' | '|' | '/' | '-')))
    }

    /// The end of the clause at a place.
    pub fn clause(&self, i: usize) -> usize {
        (i..self.len())
            .find(|k| {
                self.tokens.get(*k).is_some_and(|t| matches!(t.kind, Kind::Sign('.' | ';' | ',' | ')')))
            })
            .unwrap_or(self.len())
    }
}
