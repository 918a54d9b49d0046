//! Clocks: what a line says piece by piece (`3 rounds`, `for time`, `every 2:00`, `x 8`, `3:00 on`), and the format that the
//! pieces make together. Times in seconds.
//!
//! Accepted, each with its format:
//!
//! | line | format |
//! | --- | --- |
//! | `4 RFT (TC 15)` | rounds-for-time 4 |
//! | `5 rds AFAP` | rounds-for-time 5 |
//! | `21-15-9` | scheme-for-time 3 |
//! | `10 to 1 for time` | scheme-for-time 10 |
//! | `12 min AMRAP` | amrap |
//! | `as many rounds as you can in 15 minutes` | amrap |
//! | `3 AMRAPs of 5 min, rest 2 min in between` | intervals 3 |
//! | `EMOM 16 alternate` | every-alternating 16 |
//! | `E3MOM X 6` | every 6 |
//! | `E90 x 8` | every 8 |
//! | `Every 2:00 for 16:00` | every 8 |
//! | `Every 2 min until you can't` | every-until-failure |
//! | `5 x (3' on / 1' off)` | intervals 5 |
//! | `4 intervals, 4 minutes of work / 2 minutes of rest` | intervals 4 |
//! | `3 rounds each 3 min rest a minute between` | intervals 3 |
//! | `4 stations, :45 work :15 move, 5 times round` | stations 5 |
//! | `:20 on :10 off x 8` | on-off 8 |

use super::glossary::Role;
use super::model::Format;
use super::scan::{Bare, Scan};
use super::token::Kind;

/// Cycles that can be written; a clock of more than four hours is read, and refused where it is planned.
const MOST_CYCLES: u32 = 9_999;
/// Windows up to this long without a word are on/off work, longer ones intervals, s.
const SHORT_WINDOW: u32 = 89;
/// A bare number in a window is seconds from here on, minutes below.
const BARE_SECONDS: u32 = 10;

/// What a line or several say about a clock.
#[derive(Debug, Clone, PartialEq, Default)]
pub(super) struct Bits {
    pub rounds: Option<u32>,
    pub for_time: bool,
    pub quality: bool,
    pub scheme: Option<Vec<u32>>,
    pub amrap: bool,
    /// Several of them.
    pub amraps: Option<u32>,
    /// The time of an amrap, or minutes before or behind a clock word, s.
    pub length: Option<u32>,
    /// From one start to the next, s.
    pub every: Option<u32>,
    /// The clock word was `every minute`, which may also interrupt other work.
    pub minutely: bool,
    pub times: Option<u32>,
    pub alternating: bool,
    pub failure: bool,
    pub on: Option<u32>,
    pub off: Option<u32>,
    /// On and off were only numbers: `20/10`.
    pub bare_pair: bool,
    /// Each round lasts so long, s.
    pub each: Option<u32>,
    pub stations: bool,
    pub intervals: bool,
}

impl Bits {
    /// Joins what stands further on; whether the two can belong to one clock.
    pub fn join(&mut self, o: &Bits) -> bool {
        let both = |a: bool, b: bool| a && b;
        // said twice, in two languages or below each other, it is one
        let differ = |a: Option<u32>, b: Option<u32>| a.is_some() && b.is_some() && a != b;
        if (self.scheme.is_some() && o.scheme.is_some() && self.scheme != o.scheme)
            || both(self.amrap, o.every.is_some())
            || both(self.every.is_some(), o.amrap)
            || differ(self.rounds, o.rounds)
            || (both(self.amrap, o.amrap) && differ(self.length, o.length))
            || differ(self.every, o.every)
        {
            return false;
        }
        let pick = |a: &mut Option<u32>, b: Option<u32>| *a = a.or(b);
        pick(&mut self.rounds, o.rounds);
        pick(&mut self.amraps, o.amraps);
        pick(&mut self.length, o.length);
        pick(&mut self.every, o.every);
        pick(&mut self.times, o.times);
        pick(&mut self.on, o.on);
        pick(&mut self.off, o.off);
        pick(&mut self.each, o.each);
        self.scheme = self.scheme.take().or_else(|| o.scheme.clone());
        for (a, b) in [
            (&mut self.for_time, o.for_time),
            (&mut self.quality, o.quality),
            (&mut self.amrap, o.amrap),
            (&mut self.minutely, o.minutely),
            (&mut self.alternating, o.alternating),
            (&mut self.failure, o.failure),
            (&mut self.bare_pair, o.bare_pair),
            (&mut self.stations, o.stations),
            (&mut self.intervals, o.intervals),
        ] {
            *a |= b;
        }
        true
    }

    /// Whether it has windows, so that a rest lies between them.
    pub fn windowed(&self) -> bool {
        self.amraps.is_some()
            || self.each.is_some()
            || self.on.is_some()
            || (self.amrap && self.rounds.is_some())
    }

    /// Whether the clock is one that people are scored on or that runs: not rounds alone, not work with care.
    pub fn strong(&self) -> bool {
        self.for_time
            || self.amrap
            || self.every.is_some()
            || self.on.is_some()
            || self.each.is_some()
            || self.stations
            || self.intervals
            || self.scheme.as_ref().is_some_and(|s| s.len() > 2)
    }

    /// Whether only a number of rounds is said.
    pub fn only_rounds(&self) -> bool {
        self.rounds.is_some() && !self.strong() && !self.quality
    }

    /// Whether nothing is said that could be a clock by itself.
    pub fn hangs(&self) -> bool {
        !self.strong() && !self.quality && self.rounds.is_none() && self.scheme.is_none()
    }

    /// The format that the pieces make. `scored`: rounds and numbers alone run against the clock here. `rest`: rest
    /// between rounds or windows, s.
    ///
    /// # Errors
    /// [`Missing`] where the clock lacks its length.
    pub fn format(&self, scored: bool, rest: Option<u32>) -> Result<Option<Format>, Missing> {
        let n = |v: u32| v.clamp(1, MOST_CYCLES);
        let count = self.times.or(self.rounds).or(self.amraps);
        if let Some(on) = self.on.or(self.each).or(self.length.filter(|_| self.intervals)) {
            let said = self.off.or(rest);
            if self.stations {
                return Ok(Some(Format::Stations {
                    on,
                    off: said.unwrap_or(0),
                    rounds: n(count.unwrap_or(1)),
                }));
            }
            return self.windows(on, said, count.map(n));
        }
        if self.amrap {
            return self.amrap_format(rest, count.map(n));
        }
        if let Some(seconds) = self.every.filter(|s| *s > 0) {
            return self.cycles(seconds);
        }
        if self.stations || self.intervals {
            return Err(Missing);
        }
        Ok(self.by_rounds(scored))
    }

    fn amrap_format(&self, rest: Option<u32>, count: Option<u32>) -> Result<Option<Format>, Missing> {
        let seconds = self.length.filter(|s| *s > 0).ok_or(Missing)?;
        Ok(Some(match count.filter(|c| *c > 1) {
            Some(n) => Format::Intervals { on: seconds, off: rest.or(self.off).unwrap_or(0), n },
            None => Format::Amrap { seconds },
        }))
    }

    fn windows(&self, on: u32, off: Option<u32>, count: Option<u32>) -> Result<Option<Format>, Missing> {
        let lasts = self.length.filter(|_| self.on.is_some());
        let by_length = lasts.and_then(|l| off.map(|o| ((l + o) / (on + o).max(1)).max(1)));
        let Some(n) = count.or(by_length).or((self.intervals || self.off.is_some()).then_some(1)) else {
            return Err(Missing);
        };
        let off = off.unwrap_or(0);
        Ok(Some(if on <= SHORT_WINDOW && !self.intervals && self.each.is_none() {
            Format::OnOff { on, off, n, alternating: self.alternating }
        } else {
            Format::Intervals { on, off, n }
        }))
    }

    fn cycles(&self, seconds: u32) -> Result<Option<Format>, Missing> {
        if self.failure {
            return Ok(Some(Format::EveryUntilFailure { seconds }));
        }
        let n = match (self.times.or(self.rounds), self.length) {
            (Some(n), _) => n,
            (None, Some(all)) => all / seconds,
            (None, None) => return Err(Missing),
        };
        let n = n.clamp(1, MOST_CYCLES);
        Ok(Some(if self.alternating {
            Format::EveryAlternating { seconds, n }
        } else {
            Format::Every { seconds, n }
        }))
    }

    fn by_rounds(&self, scored: bool) -> Option<Format> {
        let scored = (scored || self.for_time) && !self.quality;
        if let Some(reps) = &self.scheme {
            return Some(if scored {
                Format::Scheme { reps: reps.clone() }
            } else {
                Format::Quality { rounds: 1, scheme: reps.clone() }
            });
        }
        if let Some(n) = self.rounds {
            let n = n.clamp(1, 1000);
            return Some(if scored {
                Format::Rounds { n }
            } else {
                Format::Quality { rounds: n, scheme: Vec::new() }
            });
        }
        if self.for_time {
            return Some(Format::Chipper);
        }
        self.quality.then(|| Format::Quality { rounds: 1, scheme: Vec::new() })
    }
}

/// The clock lacks its length.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Missing;

/// One piece of a clock at a place, and the place after it.
pub(super) fn piece(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
    timed_words(s, i)
        .or_else(|| window(s, i))
        .or_else(|| cycle(s, i))
        .or_else(|| counted(s, i))
        .or_else(|| numbers(s, i))
        .or_else(|| words(s, i))
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
            return None;
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

fn words(s: &Scan<'_>, i: usize) -> Option<(Bits, usize)> {
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
