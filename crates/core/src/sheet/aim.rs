//! What the work should be: cap, target, score, and what every version keeps (sets, unbroken, rest, pace, round, limit).
//!
//! Accepted, each with what is read:
//!
//! | line | reading |
//! | --- | --- |
//! | `cap 14:00` | cap 840 |
//! | `25 MIN CAP` | cap 1500 |
//! | `TC 18` | cap 1080 |
//! | `target 9:00-12:00` | target 540 720 s |
//! | `Should take most of you 12 to 14 min` | target 720 840 s |
//! | `GOAL SUB 7'` | target - 420 s |
//! | `aim for 6+ rounds` | target 6 - rounds |
//! | `target 120+ reps` | target 120 - reps |
//! | `SCORE: total burpees` | score reps |
//! | `Score is your time without the rest` | score time minus rest |

use super::atom::Atom;
use super::glossary::Role;
use super::model::{Score, Target, TargetUnit, Wish};
use super::problem::{Problem, Severity};
use super::scan::{Bare, Scan};
use crate::movement::catalogue;

/// An aim at a place, the place after it, and what is wrong with it.
pub(super) fn aim(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    if i == 0
        && let Some(found) = wish(s)
    {
        return Some(found);
    }
    cap(s, i).or_else(|| target(s, i)).or_else(|| score(s, i))
}

fn cap(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    let (seconds, end) = match s.role(i, Role::Cap) {
        Some(next) => {
            let mut k = s.past(next, &[':', '|', '=']);
            while matches!(s.canon(k), "of" | "is" | "at") {
                k += 1;
            }
            // `12 min cap` has its time before the word
            s.time(k, Bare::Minutes)?
        }
        None => {
            let (seconds, next) = s.time(i, Bare::Minutes)?;
            let next = s.past(next, &['-']);
            // `cap 12` behind a number of something else goes before
            let word = s.role(next, Role::Cap).filter(|_| s.canon(next) != "limit" || s.end(next + 1))?;
            let own = s.time(s.past(word, &[':']), Bare::Minutes).is_some_and(|(_, n)| s.end(n));
            if own && s.figure(i).is_some() && i + 1 == next {
                return None;
            }
            (seconds, word)
        }
    };
    let mut problems = Vec::new();
    if seconds < 30 {
        let message = "A cap under 0:30 leaves no time to work. Check it; a bare number is minutes.";
        problems.push(s.problem(i, end, Severity::Warning, message));
    }
    Some((Atom::Cap(seconds), end, problems))
}

/// `target 9:00-12:00`, `goal: sub 7 min`, `aim for 6+ rounds`, `I would like to see 6 rounds from most of you`.
fn target(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    let mut k = s.past(s.role(i, Role::Target)?, &[':', '|', '=']);
    let (mut under, mut over) = (false, false);
    for _ in 0..8 {
        if s.sign(k, '<') || s.sign(k, '≤') || s.sign(k, '>') || s.sign(k, '≥') {
            under |= s.sign(k, '<') || s.sign(k, '≤');
            over |= s.sign(k, '>') || s.sign(k, '≥');
            k = s.past(k + 1, &['=']);
        } else if let Some(n) = s.role(k, Role::Under) {
            (under, k) = (true, n);
        } else if let Some(n) = s.role(k, Role::Over) {
            (over, k) = (true, n);
        } else if let Some(n) = s.role(k, Role::At).or_else(|| s.role(k, Role::Target)) {
            k = n;
        } else if matches!(
            s.canon(k),
            "for"
                | "of"
                | "is"
                | "to"
                | "in"
                | "most"
                | "you"
                | "everyone"
                | "everybody"
                | "time"
                | "between"
                | "somewhere"
                | "it"
                | "about"
                | "a"
                | "score"
        ) {
            k += 1;
        } else {
            break;
        }
    }
    let (low, high, unit, end) = range(s, k)?;
    let mut problems = Vec::new();
    let (mut low, mut high) = match high {
        _ if under => (None, high.or(Some(low))),
        Some(h) => (Some(low), Some(h)),
        None if over || plus(s, k, end) => (Some(low), None),
        None => (Some(low), Some(low)),
    };
    if let (Some(l), Some(h)) = (low, high)
        && l > h
    {
        (low, high) = (Some(h), Some(l));
        let message = "The target runs from high to low. I read it the right way round.";
        problems.push(s.problem(i, end, Severity::Warning, message));
    }
    // one figure of rounds or reps is the least that is wished
    if low == high && unit != TargetUnit::Seconds {
        high = None;
    }
    Some((Atom::Target(Target { unit, low, high }), end, problems))
}

fn plus(s: &Scan<'_>, from: usize, to: usize) -> bool {
    (from..to + 2).any(|k| s.sign(k, '+') || s.canon(k) == "plus" || s.canon(k) == "more")
}

/// `9:00-12:00`, `8 to 12 min`, `90-120 s`, `15-19`, `6+ rounds`, `200 reps`.
fn range(s: &Scan<'_>, k: usize) -> Option<(f64, Option<f64>, TargetUnit, usize)> {
    let joint = |at: usize| {
        if s.sign(at, '-') || matches!(s.canon(at), "to" | "and" | "or") { Some(at + 1) } else { None }
    };
    let figure = |at: usize| s.number(at);
    // rounds and reps
    if let Some((a, next)) = figure(k) {
        let second = joint(next).and_then(figure);
        let (b, next) = second.map_or((None, next), |(b, n)| (Some(b), n));
        let next = s.past(next, &['+']);
        let next = if matches!(s.canon(next), "full" | "total" | "or" | "more" | "unbroken" | "good") {
            next + 1
        } else {
            next
        };
        let next = if s.canon(next) == "more" { next + 1 } else { next };
        match s.any(next, &[Role::Rounds, Role::Reps]) {
            Some((Role::Rounds, after)) => return Some((a, b, TargetUnit::Rounds, after)),
            Some((_, after)) => return Some((a, b, TargetUnit::Reps, after)),
            None => {}
        }
    }
    let (first, next) = s.time(k, Bare::Minutes)?;
    let Some((second, end)) = joint(next).and_then(|at| s.time(at, Bare::Minutes)) else {
        let next = s.past(next, &['+']);
        // a bare number is minutes only where nothing else is counted
        let counted = next == k + 1 && s.figure(k).is_some() && s.word(next) && !s.known(next);
        return (!counted).then_some((f64::from(first), None, TargetUnit::Seconds, next));
    };
    // the unit of the second figure stands for both: `90-120 s`, `12 to 14 min`
    let bare = s.figure(k).filter(|_| next == k + 1);
    let seconds_word = end.checked_sub(1).is_some_and(|u| s.role(u, Role::Seconds).is_some());
    let first = match bare {
        Some(n) if seconds_word => f64::from(n),
        _ => f64::from(first),
    };
    Some((first, Some(f64::from(second)), TargetUnit::Seconds, end))
}

/// `score: time minus rest`, `score total rounds`, `Score is your time without the rest`.
fn score(s: &Scan<'_>, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
    let next = s.role(i, Role::Score)?;
    let explicit = s.canon(i) == "score" || s.canon(i) == "scored" || s.canon(i + 1) == "score";
    let start = s.past(next, &[':', '|', '=', '-']);
    let words: Vec<&str> = (start..s.len()).map(|k| s.canon(k)).take(14).collect();
    let end =
        (start..s.len()).find(|k| s.sign(*k, '.') || s.sign(*k, ';') || s.sign(*k, ')')).unwrap_or(s.len());
    let words: Vec<&str> = words.into_iter().take(end - start).filter(|w| !w.is_empty()).collect();
    let colon = s.sign(next, ':');
    if words.is_empty() || !(explicit || colon) {
        return None;
    }
    let has = |w: &str| words.contains(&w);
    let rest = has("rest");
    let score = if has("none") || has("no") {
        Some(Score::None)
    } else if has("lowest") || has("slowest") || has("worst") || has("fewest") {
        Some(Score::LowestRound)
    } else if rest && (has("time") || has("total")) {
        Some(Score::TimeMinusRest)
    } else if has("time") || has("finish") {
        Some(Score::Time)
    } else if has("cal") || has("calorie") {
        Some(Score::Calories)
    } else if has("round") {
        Some(Score::RoundsAndReps)
    } else if has("load") || has("weight") || has("heaviest") || has("kg") {
        Some(Score::Load)
    } else if has("rep")
        || (has("total") && !colon)
        || (start..end).any(|k| s.name(k).is_some())
        || has("total")
    {
        Some(Score::Reps)
    } else {
        None
    };
    if let Some(score) = score {
        return Some((Atom::Score(Ok(score)), end, Vec::new()));
    }
    if !colon || i > 0 {
        return None;
    }
    let what = s.text(start, end).to_owned();
    let mut p =
        s.problem(start, end, Severity::Error, format!("I do not know the score “{}”.", what.to_lowercase()));
    p.suggestions = Score::ALL.iter().map(|s| s.words().to_owned()).collect();
    p.message.push_str(" Write time, rounds and reps, reps, load or none.");
    Some((Atom::Score(Err(what)), end, vec![p]))
}

/// `sets: MOVEMENT <= 2`, `unbroken: MOVEMENT >= half`, `rest: >= 0:30`, `pace: >= 6 reps/min`, `round: <= 5:00`, `limit: grip`.
fn wish(s: &Scan<'_>) -> Option<(Atom, usize, Vec<Problem>)> {
    let key = s.canon(0);
    let k = s.past(1, &[':']);
    let at_least = |k: usize| {
        let words = s.canon(k) == "at" && s.canon(k + 1) == "least";
        let sign = s.sign(k, '>') || s.sign(k, '≥');
        if words { Some(k + 2) } else { sign.then(|| s.past(k + 1, &['='])) }
    };
    let at_most = |k: usize| {
        let words = s.canon(k) == "at" && s.canon(k + 1) == "most";
        let sign = s.sign(k, '<') || s.sign(k, '≤');
        if words {
            Some(k + 2)
        } else if sign {
            Some(s.past(k + 1, &['=']))
        } else {
            s.role(k, Role::Under)
        }
    };
    let said = |w: Wish| Some((Atom::Wish(w), s.len(), Vec::new()));
    match key {
        "set" => {
            let sign = (k..s.len()).find(|j| at_most(*j).is_some() || s.canon(*j) == "max")?;
            let (n, _) = s.whole(at_most(sign).unwrap_or(sign + 1))?;
            named_wish(s, k, sign, |movement| Wish::MostSets { movement, sets: n })
        }
        "unbroken" if k > 1 => {
            let sign = (k..s.len()).find(|j| at_least(*j).is_some());
            let share = match sign.and_then(at_least) {
                None => 1.0,
                Some(j) if s.canon(j) == "half" => 0.5,
                Some(j) if s.canon(j) == "all" => 1.0,
                Some(j) => {
                    let (n, next) = s.number(j)?;
                    if s.sign(next, '%') || n > 1.0 { n / 100.0 } else { n }
                }
            };
            let end = sign.unwrap_or(s.len());
            named_wish(s, k, end, |movement| Wish::UnbrokenShare { movement, share: share.clamp(0.0, 1.0) })
        }
        "rest" => said(Wish::LeastRest { seconds: s.time(at_least(k)?, Bare::Minutes)?.0 }),
        "pace" => {
            let (n, next) = s.number(at_least(k).unwrap_or(k))?;
            s.role(next, Role::Reps)?;
            said(Wish::LeastPace { reps_per_min: n })
        }
        "round" => said(Wish::LongestRound { seconds: s.time(at_most(k)?, Bare::Minutes)?.0 }),
        "limit" => {
            let by = if s.canon(k) == "by" { s.past(k + 1, &[':']) } else { k };
            let what = s.text(by, s.len()).trim().to_lowercase();
            (s.sign(1, ':') || by > k).then(|| said(Wish::Limit { what })).flatten()
        }
        _ => None,
    }
}

fn named_wish(
    s: &Scan<'_>,
    from: usize,
    to: usize,
    wish: impl Fn(String) -> Wish,
) -> Option<(Atom, usize, Vec<Problem>)> {
    let id = s.name(from).and_then(|(n, _)| super::work::id_of(n));
    if let Some(id) = id {
        return Some((Atom::Wish(wish(id)), s.len(), Vec::new()));
    }
    let name = s.text(from, to);
    if name.is_empty() {
        return None;
    }
    let mut p = s.problem(from, to, Severity::Error, format!("I do not know “{}”.", name.to_lowercase()));
    p.suggestions = catalogue().nearest(name, 3).iter().map(|m| catalogue().written(&m.id)).collect();
    Some((Atom::Note(name.to_owned()), s.len(), vec![p]))
}
