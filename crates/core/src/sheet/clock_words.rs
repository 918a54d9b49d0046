//! The pieces of a clock as they are typed: what stands at a place of a line, and the place after it. Times in seconds.

use super::clock::Bits;
use super::glossary::Role;
use super::scan::{Bare, Scan};
use super::token::Kind;

/// A bare number in a window is seconds from here on, minutes below.
const BARE_SECONDS: u32 = 10;

/// One piece of a clock at a place, and the place after it.
pub(super) fn piece(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    repeated(s, i)
        .or_else(|| timed_words(s, i))
        .or_else(|| window(s, i))
        .or_else(|| cycle(s, i))
        .or_else(|| counted(s, i))
        .or_else(|| numbers(s, i))
        .or_else(|| words(s, i))
}

/// `x5` or `5x` with nothing else on the line: all of it so many times.
fn repeated(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    let (at, end) = if s.sign(0, 'x') { (1, 2) } else { (0, 2) };
    let (n, next) = s.whole(at).filter(|_| i == 0)?;
    let whole = next == at + 1 && s.len() == end && (at == 1 || s.sign(1, 'x'));
    (whole && n > 0).then(|| (Bits { times: Some(n), ..Bits::default() }, end))
}

fn skip(s: &Scan<'_>, i: usize, words: &[&str]) -> usize {
    let at = s.past(i, &[',', ':']);
    if words.contains(&s.canon(at)) { at + 1 } else { at }
}

/// `amrap 12`, `12 min amrap`, `amrap in 8:00`, `3 AMRAPs of 5 min`, `5 x amrap 3:00`.
fn timed_words(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    if let Some((n, next)) = s.whole(i) {
        let at = skip(s, next, &["of"]);
        let at = s.past(at, &['x', '(']);
        if let Some(after) = s.role(at, Role::Amrap).filter(|_| n > 1) {
            let plural = s.sign(next, 'x') || at > next || s.text(at, after).ends_with(['s', 'S']);
            if plural {
                let (bits, end) = amrap_behind(s, after);
                return Some((Bits { amraps: Some(n), ..bits }, end));
            }
        }
        // `3x3 min AMRAP`
        if s.sign(next, 'x')
            && let Some((t, after)) = s.time(next + 1, Bare::No)
            && let Some(end) = s.role(after, Role::Amrap)
        {
            return Some((Bits { amraps: Some(n), amrap: true, length: Some(t), ..Bits::default() }, end));
        }
    }
    if let Some((t, next)) = s.time(i, Bare::Minutes) {
        let of = skip(s, next, &["of"]);
        let of = if s.canon(of) == "an" || s.canon(of) == "a" { of + 1 } else { of };
        if let Some(after) = s.role(of, Role::Amrap) {
            return Some((Bits { amrap: true, length: Some(t), ..Bits::default() }, after));
        }
        if let Some((bits, after)) = every(s, of).filter(|_| s.canon(of) != "on" && s.canon(of) != "each") {
            let bits = Bits { length: Some(t), minutely: false, ..bits };
            return Some((bits, after));
        }
    }
    // `max reps in 2 min: burpees`
    if let Some(after) = s.role(i, Role::Max)
        && matches!(s.canon(after), "in" | "for")
        && let Some((t, next)) = s.time(after + 1, Bare::No)
    {
        return Some((Bits { amrap: true, length: Some(t), ..Bits::default() }, next));
    }
    let after = s.role(i, Role::Amrap)?;
    Some(amrap_behind(s, after))
}

fn amrap_behind(s: &Scan<'_>, after: usize) -> (Bits, usize) {
    let bits = Bits { amrap: true, ..Bits::default() };
    let at = skip(s, after, &["in", "of", "for"]);
    let at = s.past(at, &['|', ';', '-']);
    match s.time(at, Bare::Minutes).or_else(|| cell_minutes(s, at)) {
        // `amrap: 10 burpees` counts work
        Some((t, next)) if t > 0 && (s.end(next) || next_is_clock(s, next) || !plain_number(s, at, next)) => {
            let cell = s.past(next, &['|', ';']);
            let next = s.role(cell, Role::Minutes).filter(|_| cell > next).unwrap_or(next);
            (Bits { length: Some(t), ..bits }, next)
        }
        Some((t, next)) if t > 0 && at == after && !s.word(next) => (Bits { length: Some(t), ..bits }, next),
        Some((t, next)) if t > 0 && at == after && s.canon(next) == "of" => {
            (Bits { length: Some(t), ..bits }, next)
        }
        Some((t, next))
            if t > 0
                && at == after
                && (s.name(next).is_none() || s.figure(at).is_some_and(|n| n > 2))
                && s.role(next, Role::Calories).is_none() =>
        {
            (Bits { length: Some(t), ..bits }, next)
        }
        _ => (bits, after),
    }
}

/// `14 | min` in the cells of a table.
fn cell_minutes(s: &Scan<'_>, i: usize) -> Option<(u32, usize)> {
    let (n, next) = s.whole(i)?;
    let unit = s.past(next, &['|', ';']);
    s.role(unit, Role::Minutes).map(|after| (n * 60, after))
}

fn plain_number(s: &Scan<'_>, from: usize, to: usize) -> bool {
    to == from + 1 && s.figure(from).is_some()
}

fn next_is_clock(s: &Scan<'_>, i: usize) -> bool {
    s.any(i, &[Role::Rest, Role::Cap, Role::Pairs, Role::InTurn, Role::Share, Role::OneWorks]).is_some()
        || s.sign(i, 'x')
        || s.sign(i, '(')
}

/// `emom`, `e2mom`, `E90`, `every 2:00`, `on the 2:00`, `every other minute`, with its number of cycles.
fn cycle(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    // `10 x every 2:00`, `8 rounds, every 2:00` come as two pieces; `5 sets of 3, every 2:30` belongs to sets
    if let Some((n, next)) = s.whole(i)
        && s.sign(next, 'x')
        && let Some((bits, after)) = every(s, s.past(next + 1, &['(']))
    {
        return Some((Bits { times: Some(n), ..bits }, after));
    }
    let (bits, at) = every(s, i)?;
    Some(times_behind(s, bits, at))
}

fn every(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    let each = |seconds: u32| Bits { every: Some(seconds), ..Bits::default() };
    if let Some(next) = s.role(i, Role::Emom) {
        let minutely = s.canon(i) != "emom";
        return Some((Bits { minutely, ..each(60) }, next));
    }
    if let Some(found) = short_every(s, i) {
        return Some(found);
    }
    let next = s.role(i, Role::Every)?;
    if let Some(after) = s.role(next, Role::OtherMinute) {
        return Some((each(120), after));
    }
    if let Some(after) = s.role(next, Role::ThirdMinute) {
        return Some((each(180), after));
    }
    let after = s.role(next, Role::Minutes).filter(|_| s.canon(next).starts_with("min"));
    if let Some(after) = after {
        return Some((Bits { minutely: true, ..each(60) }, after));
    }
    let (t, after) = s.time(next, Bare::No)?;
    // `each 0:30` behind a movement is a time of work, not a start
    let on = s.canon(i) == "on" && matches!(s.canon(i + 1), "the" | "every");
    let starts = on || matches!(s.canon(i), "every" | "going" | "one" | "start" | "1");
    let on_the_minute = s.role(after, Role::Emom).or_else(|| {
        (s.canon(after) == "on" && s.canon(after + 1) == "the")
            .then(|| s.role(after + 2, Role::Minutes))
            .flatten()
    });
    starts.then(|| (each(t), on_the_minute.unwrap_or(after)))
}

/// `e2mom`, `E3M`, `E90`, `e2:00`: the lexer has them as a word, or as a letter and a time.
fn short_every(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    let word = s.canon(i);
    let body = word.strip_prefix('e')?;
    let token = s.tokens.get(i)?;
    if token.kind != Kind::Word {
        return None;
    }
    if body.is_empty() {
        let (t, next) = s.time(i + 1, Bare::No).filter(|_| s.glued(i + 1))?;
        return Some((Bits { every: Some(t), ..Bits::default() }, next));
    }
    let digits = body.bytes().take_while(u8::is_ascii_digit).count();
    let n: u32 = body.get(..digits)?.parse().ok().filter(|n| (1..1000).contains(n))?;
    let seconds = match body.get(digits..)? {
        "mom" | "m" | "min" | "mo" => n * 60,
        "s" => n,
        "" if n >= BARE_SECONDS => n,
        "" => n * 60,
        _ => return None,
    };
    Some((Bits { every: Some(seconds), ..Bits::default() }, i + 1))
}

/// How often a cycle comes: `x 8`, `for 5 rounds`, `for 16:00`, `16`, `6 times`.
fn times_behind(s: &Scan<'_>, mut bits: Bits, at: usize) -> (Bits, usize) {
    let from = s.past(at, &[',', '(']);
    if s.sign(from, 'x')
        && let Some((n, next)) = s.whole(from + 1)
    {
        bits.times = Some(n);
        let next =
            s.any(next, &[Role::Rounds, Role::Sets, Role::Cycles, Role::Through]).map_or(next, |(_, n)| n);
        return (bits, next);
    }
    let said_for = s.canon(from) == "for";
    let from = if said_for { from + 1 } else { from };
    if let Some((n, next)) = s.whole(from)
        && let Some((_, after)) = s.any(next, &[Role::Rounds, Role::Sets, Role::Cycles, Role::Through])
    {
        bits.times = Some(n);
        return (bits, after);
    }
    let colon = s.sign(at, ':') || s.sign(at, '-');
    let from = if colon && bits.minutely { at } else { s.past(from, &['-']) };
    if let Some((t, next)) = s.time(from, Bare::No) {
        if !bits.minutely || said_for || s.end(next) {
            bits.length = Some(t);
            return (bits, next);
        }
        return (bits, at);
    }
    // a bare number behind emom is minutes in all, when no work is counted by it
    if let Some((n, next)) = s.whole(from) {
        let clock_next = s
            .any(
                next,
                &[Role::AlternatingClock, Role::UntilFailure, Role::Pairs, Role::InTurn, Role::OneWorks],
            )
            .is_some();
        if s.end(next) || clock_next || s.sign(next, '(') || s.sign(next, '-') {
            bits.length = Some(n * 60);
            return (bits, next);
        }
    }
    (bits, at)
}

/// `3:00 on / 1:00 off`, `:45 work :15 move`, `4 minutes of work / 2 minutes of rest`, `20/10 x 8`, `each 3 min`.
fn window(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    // `5 x (3' on / 1' off)`, `8 x :20 on / :10 off`
    if let Some((n, next)) = s.whole(i)
        && s.sign(next, 'x')
        && let Some((bits, after)) = on_off(s, s.past(next + 1, &['(']))
        // two dumbbells of 22.5/15 are a load
        && !(bits.bare_pair && (n < 3 || s.figure(next + 1).is_none() || s.figure(next + 3).is_none()))
    {
        return Some((Bits { times: Some(n), ..bits }, s.past(after, &[')'])));
    }
    if let Some((bits, after)) = on_off(s, i) {
        return Some((bits, after));
    }
    // `30:20 x 10`
    if matches!(s.tokens.get(i)?.kind, Kind::Time(t) if (600..3600).contains(&t) && t % 60 > 4)
        && s.sign(i + 1, 'x')
        && s.whole(i + 2).is_some()
        && let Some(Kind::Time(t)) = s.tokens.get(i).map(|t| t.kind)
    {
        return Some((Bits { on: Some(t / 60), off: Some(t % 60), ..Bits::default() }, i + 1));
    }
    // `work/rest 40/20`
    if s.role(i, Role::On).is_some()
        && s.sign(i + 1, '/')
        && s.role(i + 2, Role::Rest).is_some()
        && let Some((on, off, next)) = bare_pair(s, s.past(i + 3, &[':', '=']))
    {
        return Some((Bits { on: Some(on), off: Some(off), ..Bits::default() }, next));
    }
    each(s, i)
}

fn on_off(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    if let Some((t, next)) = s.time(i, Bare::SecondsFrom(BARE_SECONDS)) {
        let of = if s.canon(next) == "of" { next + 1 } else { next };
        if let Some(after) = s.role(of, Role::On).filter(|_| s.name(of).is_none()) {
            let at = s.past(after, &['/', ',', ';', '|', '-', '+']);
            let at = if matches!(s.canon(at), "and" | "with" | "then") { at + 1 } else { at };
            let (off, next) = off(s, at)?;
            return Some((Bits { on: Some(t), off: Some(off), ..Bits::default() }, next));
        }
    }
    let (on, off, next) = bare_pair(s, i)?;
    // `20/10 x 8`: two numbers alone are a load or calories, so the windows must be counted
    let counted = s.sign(next, 'x') && s.whole(next + 1).is_some();
    let timed = matches!(s.tokens.get(i)?.kind, Kind::Time(_));
    let before = i >= 2 && s.sign(i - 1, 'x');
    (counted || timed || before)
        .then(|| (Bits { on: Some(on), off: Some(off), bare_pair: true, ..Bits::default() }, next))
}

fn off(s: &Scan<'_>, i: usize) -> Option<(u32, usize)> {
    if let Some(word) = s.role(i, Role::Rest)
        && let Some((t, next)) = s.time(word, Bare::SecondsFrom(BARE_SECONDS))
    {
        return Some((t, next));
    }
    let (t, next) = s.time(i, Bare::SecondsFrom(BARE_SECONDS))?;
    let of = if s.canon(next) == "of" { next + 1 } else { next };
    let word = s.any(of, &[Role::Off, Role::Rest]).map(|(_, n)| n)?;
    Some((t, word))
}

/// `20/10`, `1:00/0:30`.
fn bare_pair(s: &Scan<'_>, i: usize) -> Option<(u32, u32, usize)> {
    let (on, next) = s.time(i, Bare::SecondsFrom(BARE_SECONDS))?;
    let slash = s.sign(next, '/').then_some(next + 1)?;
    let (off, after) = s.time(slash, Bare::SecondsFrom(BARE_SECONDS))?;
    Some((on, off, after))
}

/// `each 3 min`, `3 min each`: how long every round lasts.
fn each(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    let of = |t: u32| Bits { each: Some(t), ..Bits::default() };
    // `1 min each station`, `45 s per movement`: stations of that length
    if let Some((t, next)) = s.time(i, Bare::No)
        && matches!(s.canon(next), "each" | "per" | "at" | "a")
    {
        let place = if matches!(s.canon(next + 1), "each" | "every") { next + 2 } else { next + 1 };
        if matches!(s.canon(place), "station" | "movement" | "exercise") {
            return Some((Bits { stations: true, on: Some(t), off: Some(0), ..Bits::default() }, place + 1));
        }
    }
    if matches!(s.canon(i), "each" | "lasting")
        && let Some((t, next)) = s.time(i + 1, Bare::No)
    {
        return (t >= 45).then(|| (of(t), next));
    }
    let (t, next) = s.time(i, Bare::No)?;
    (s.canon(next) == "each" && s.end(next + 1) && t >= 45).then(|| (of(t), next + 1))
}

/// `3 rounds`, `4 RFT`, `4 stations`, `4 intervals`, `5 times through`, `x 8`.
fn counted(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    if s.sign(i, 'x')
        && let Some((n, next)) = s.whole(i + 1)
        && i > 0
    {
        let next =
            s.any(next, &[Role::Rounds, Role::Sets, Role::Cycles, Role::Through]).map_or(next, |(_, n)| n);
        return Some((Bits { times: Some(n), ..Bits::default() }, next));
    }
    let before = i.checked_sub(1).map_or("", |b| s.canon(b));
    if matches!(before, "every" | "first" | "last" | "next" | "least" | "after" | "per" | "most" | "than") {
        return None;
    }
    let for_rounds = s.canon(i) == "for";
    let (n, next) = s.whole(if for_rounds { i + 1 } else { i })?;
    let bits = Bits::default();
    if let Some(after) = s.role(next, Role::RoundsForTime) {
        return Some((Bits { rounds: Some(n), for_time: true, ..bits }, after));
    }
    if let Some(after) = s.role(next, Role::Stations) {
        return Some((Bits { stations: true, ..bits }, after));
    }
    if let Some(after) = s.role(next, Role::Intervals) {
        return Some((Bits { intervals: true, times: Some(n), ..bits }, after));
    }
    let through = s.role(next, Role::Through).filter(|a| a - next > 1 || for_rounds || s.end(*a));
    if let Some(after) = through {
        return Some((Bits { times: Some(n), ..bits }, after));
    }
    // `3 sets` of all that follows
    if let Some(after) = s.role(next, Role::Sets).filter(|a| s.end(*a) || s.role(*a, Role::Quality).is_some())
    {
        return Some((Bits { rounds: Some(n), ..bits }, after));
    }
    let after = s.role(next, Role::Rounds)?;
    let after = if s.canon(after) == "of" { after + 1 } else { after };
    Some((Bits { rounds: Some(n), ..bits }, after))
}

/// `21-15-9`, `10 to 1`, `10 9 8 7 6 5 4 3 2 1`.
fn numbers(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    let scheme = |reps: Vec<u32>| Bits { scheme: Some(reps), ..Bits::default() };
    if let Some((reps, next)) = s.dashed(i) {
        // `3-6-9...` goes on without end
        if s.sign(next, '.') && s.sign(next + 1, '.') {
            return rising(s, &reps, s.past(next, &['.', '-']));
        }
        let falling = reps.windows(2).all(|w| matches!(w, [a, b] if a > b));
        let said = s.any(next, &[Role::ForTime, Role::Quality]).is_some();
        let fits = reps.iter().all(|n| (1..=500).contains(n)) && (reps.len() > 2 || falling || said);
        return (fits && s.any(next, &[Role::Minutes, Role::Seconds, Role::Rounds]).is_none())
            .then(|| (scheme(reps), next));
    }
    let a = s.figure(i)?;
    let down = if s.canon(i + 1) == "down" { i + 2 } else { i + 1 };
    if s.canon(down) == "to"
        && let Some(b) = s.figure(down + 1)
        && (1..=200).contains(&a)
        && (1..=200).contains(&b)
        && (a == 1 || b == 1)
    {
        let reps = if a >= b { (b..=a).rev().collect() } else { (a..=b).collect() };
        return Some((scheme(reps), down + 2));
    }
    let run: Vec<u32> = (i..s.len()).map_while(|k| s.figure(k)).collect();
    let even = run.windows(2).all(|w| matches!(w, [x, y] if x > y))
        || run.windows(2).all(|w| matches!(w, [x, y] if x < y));
    (run.len() > 3 && even && s.end(i + run.len())).then(|| (scheme(run.clone()), i + run.len()))
}

/// `3-6-9...` above the lines that rise so: the first number, and by how much.
fn rising(s: &Scan<'_>, reps: &[u32], next: usize) -> Option<(Bits, usize)> {
    let (first, second) = (*reps.first()?, *reps.get(1)?);
    let even = reps.windows(2).all(|w| matches!(w, [a, b] if a < b && b - a == second - first));
    // with its movement on the line it is that line's own
    let own = s.name(next).is_some();
    (even && !own && second > first)
        .then(|| (Bits { rising: Some((first, second - first)), ..Bits::default() }, next))
}

fn words(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    // `in the time left` is no `in time`
    if s.role(i, Role::InTheRest).is_some() {
        return None;
    }
    let bits = Bits::default();
    let (role, next) = s.any(
        i,
        &[
            Role::ForTime,
            Role::RoundsForTime,
            Role::Quality,
            Role::UntilFailure,
            Role::AlternatingClock,
            Role::Stations,
            Role::Intervals,
        ],
    )?;
    Some((
        match role {
            Role::ForTime | Role::RoundsForTime => Bits { for_time: true, ..bits },
            Role::Quality => Bits { quality: true, ..bits },
            Role::UntilFailure => Bits { failure: true, ..bits },
            // `alternating dumbbell snatch` says how the work is done
            Role::AlternatingClock if s.name(next).is_some() || s.word(next) => return None,
            Role::AlternatingClock => Bits { alternating: true, ..bits },
            Role::Stations => Bits { stations: true, ..bits },
            _ => Bits { intervals: true, ..bits },
        },
        next,
    ))
}
