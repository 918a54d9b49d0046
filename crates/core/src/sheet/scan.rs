//! A line as tokens with all that the glossary and the catalogue know about each place; numbers, times and names read at
//! a place. What every kind of line is read with.

use super::glossary::{Glossary, Meaning, Role};
use super::problem::{Problem, Severity};
use super::text::Line;
use super::token::{Kind, Token, tokens};
use crate::movement::{Typed, catalogue};

/// A line with its tokens and what is known of them.
pub(super) struct Scan<'a> {
    pub line: &'a Line,
    pub tokens: Vec<Token>,
    /// What the words mean, token after token, and where each token's meanings stand.
    roles: Vec<(Meaning, usize)>,
    spans: Vec<(usize, usize)>,
    names: Vec<Option<(Name, usize)>>,
}

/// What a name at a place stands for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Name {
    /// The catalogue's movement, doubt or drill.
    Typed(Typed),
    /// A hall's own word for a movement.
    Own(String),
}

/// What a bare number is where a time is wanted.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Bare {
    /// No time.
    No,
    /// Minutes.
    Minutes,
    /// Seconds from this many on, minutes below.
    SecondsFrom(u32),
}

/// Words that carry a sheet, in which one slip of the fingers is mended: letters twisted, missing or doubled.
const CARRYING: [(&str, Role); 13] = [
    ("strength", Role::Strength),
    ("warmup", Role::WarmUp),
    ("workout", Role::Workout),
    ("conditioning", Role::Workout),
    ("metcon", Role::Workout),
    ("accessory", Role::Accessory),
    ("finisher", Role::Accessory),
    ("cooldown", Role::CoolDown),
    ("round", Role::Rounds),
    ("amrap", Role::Amrap),
    ("minute", Role::Minutes),
    ("second", Role::Seconds),
    ("calorie", Role::Calories),
];

/// The role of a carrying word with one slip in it. Short words are too near each other to be mended.
fn mistyped(word: &str) -> Option<Role> {
    let long = |w: &str| w.len() >= 6 || w.len() >= 5 && word.len() == w.len();
    CARRYING
        .iter()
        .find(|(w, _)| long(w) && word.len().abs_diff(w.len()) <= 1 && strsim::osa_distance(w, word) == 1)
        .map(|(_, role)| *role)
}

impl<'a> Scan<'a> {
    /// Reads the words of a line.
    pub fn new(line: &'a Line, glossary: &Glossary) -> Scan<'a> {
        let tokens = tokens(line);
        let mut scan = {
            let n = tokens.len();
            let (spans, names) = (Vec::with_capacity(n), Vec::with_capacity(n));
            Scan { line, roles: Vec::with_capacity(2 * n), spans, names, tokens }
        };
        for i in 0..scan.tokens.len() {
            let begins = scan.tokens.get(i).is_some_and(|t| !t.canon.is_empty());
            let from = scan.roles.len();
            if begins {
                let mut roles = std::mem::take(&mut scan.roles);
                glossary.walk(scan.words(i), &mut roles);
                scan.roles = roles;
            }
            let name = if begins { scan.find_name(i, glossary) } else { None };
            if begins && scan.roles.len() == from && name.is_none() {
                let slip = mistyped(scan.canon(i));
                scan.roles.extend(slip.map(|role| (Meaning { role, value: 0 }, 1)));
            }
            scan.spans.push((from, scan.roles.len()));
            scan.names.push(name);
        }
        scan
    }

    fn find_name(&self, i: usize, glossary: &Glossary) -> Option<(Name, usize)> {
        if !self.word(i) {
            return None;
        }
        let own = glossary.own_name(self.words(i));
        let known = catalogue().walk(self.words(i));
        match (own, known) {
            (Some((id, n)), k) if k.is_none_or(|(_, m)| n >= m) => Some((Name::Own(id.to_owned()), n)),
            (_, Some((t, n))) => Some((Name::Typed(t), n)),
            _ => None,
        }
    }

    /// The words from a place on in matching form, as far as one phrase can reach; signs inside are empty.
    fn words(&self, i: usize) -> impl Iterator<Item = &str> {
        let (mut first, mut last) = (true, "");
        let mut before = self.tokens.get(i).map_or(0, |t| t.from);
        self.tokens.iter().skip(i).take(12).map_while(move |t| {
            let glued = t.from == before;
            before = t.to;
            let clean = matches!(last, "c" | "cl" | "clean");
            last = t.canon.as_str();
            let article = matches!(t.canon.as_str(), "the" | "a" | "an");
            let word = match t.kind {
                Kind::Word | Kind::Number(_) if !t.canon.is_empty() => {
                    Some(if article && !first { "" } else { t.canon.as_str() })
                }
                Kind::Sign('-' | '&') => Some(""),
                Kind::Sign('/' | '.' | '+' | '\'') if glued => Some(""),
                Kind::Sign('+') if clean => Some(""),
                Kind::Sign('x') if !glued => Some("x"),
                _ => None,
            };
            first = false;
            word
        })
    }

    /// Whether a word stands at a place.
    pub fn word(&self, i: usize) -> bool {
        self.tokens.get(i).is_some_and(|t| t.kind == Kind::Word)
    }

    /// Whether a sign stands at a place.
    pub fn sign(&self, i: usize, sign: char) -> bool {
        self.tokens.get(i).is_some_and(|t| t.is(sign))
    }

    /// The place after a sign, when it stands there; else the place itself.
    pub fn past(&self, i: usize, signs: &[char]) -> usize {
        let mut at = i;
        while self.tokens.get(at).is_some_and(|t| matches!(t.kind, Kind::Sign(c) if signs.contains(&c))) {
            at += 1;
        }
        at
    }

    /// Whether nothing stands between two neighbours.
    pub fn glued(&self, i: usize) -> bool {
        let before = i.checked_sub(1).and_then(|b| self.tokens.get(b));
        matches!((before, self.tokens.get(i)), (Some(a), Some(b)) if a.to == b.from)
    }

    pub fn len(&self) -> usize {
        self.tokens.len()
    }

    /// The canonical word at a place, or nothing.
    pub fn canon(&self, i: usize) -> &str {
        self.tokens.get(i).map_or("", |t| t.canon.as_str())
    }

    /// The place after the longest phrase with a role.
    pub fn role(&self, i: usize, role: Role) -> Option<usize> {
        self.valued(i, role).map(|(_, next)| next)
    }

    fn meanings(&self, i: usize) -> &[(Meaning, usize)] {
        self.spans.get(i).and_then(|(a, b)| self.roles.get(*a..*b)).unwrap_or_default()
    }

    /// The value of the longest phrase with a role, and the place after it.
    pub fn valued(&self, i: usize, role: Role) -> Option<(u32, usize)> {
        self.meanings(i)
            .iter()
            .filter(|(m, _)| m.role == role)
            .max_by_key(|(_, n)| *n)
            .map(|(m, n)| (m.value, i + n))
    }

    /// The place after a phrase of any of some roles, and which.
    pub fn any(&self, i: usize, roles: &[Role]) -> Option<(Role, usize)> {
        roles.iter().filter_map(|r| self.role(i, *r).map(|n| (*r, n))).max_by_key(|(_, n)| *n)
    }

    /// Whether any phrase is known at a place.
    pub fn known(&self, i: usize) -> bool {
        !self.meanings(i).is_empty() || self.names.get(i).is_some_and(Option::is_some)
    }

    /// What is named at a place, and the place after it.
    pub fn name(&self, i: usize) -> Option<(&Name, usize)> {
        self.names.get(i)?.as_ref().map(|(n, len)| (n, i + len))
    }

    /// A number, in figures or words.
    pub fn number(&self, i: usize) -> Option<(f64, usize)> {
        match self.tokens.get(i)?.kind {
            Kind::Number(n) => Some((n, i + 1)),
            Kind::Word => self.valued(i, Role::Number).map(|(v, n)| (f64::from(v), n)),
            _ => None,
        }
    }

    /// A whole number.
    pub fn whole(&self, i: usize) -> Option<(u32, usize)> {
        self.number(i).filter(|(n, _)| n.fract() == 0.0 && *n < 100_000.0).map(|(n, next)| (n as u32, next))
    }

    /// A time in seconds: `12:00`, `12 min`, `90 s`, `2 min 30 s`, `a minute thirty`, `half a minute`.
    pub fn time(&self, i: usize, bare: Bare) -> Option<(u32, usize)> {
        let token = self.tokens.get(i)?;
        match token.kind {
            Kind::Time(s) => {
                // a unit behind 12:00 says no more
                let next = self.role(i + 1, Role::Minutes).unwrap_or(i + 1);
                return Some((s, next));
            }
            Kind::Ticks(n) => return Some((n.round() as u32, i + 1)),
            _ => {}
        }
        if self.canon(i) == "half" {
            let next = if matches!(self.canon(i + 1), "a" | "an") { i + 2 } else { i + 1 };
            if self.canon(next) == "hour" {
                return Some((1800, next + 1));
            }
            return self.role(next, Role::Minutes).map(|n| (30, n));
        }
        let (n, next) = match self.number(i) {
            Some(found) => found,
            None if matches!(self.canon(i), "a" | "an") => (1.0, i + 1),
            None => return None,
        };
        let hyphen = self.past(next, &['-']);
        if let Some(after) = self.role(hyphen, Role::Minutes) {
            let (more, after) = self.seconds_behind(after);
            return Some(((n * 60.0).round().min(360_000.0) as u32 + more, after));
        }
        if let Some(after) = self.role(hyphen, Role::Seconds) {
            return Some((n.round().min(360_000.0) as u32, after));
        }
        // `3m on`: a metre is no time
        if bare != Bare::No && self.glued(next) && self.canon(next) == "m" {
            return Some(((n * 60.0) as u32, next + 1));
        }
        let seconds = match bare {
            Bare::No => return None,
            Bare::Minutes => n * 60.0,
            Bare::SecondsFrom(from) if n >= f64::from(from) => n,
            Bare::SecondsFrom(_) => n * 60.0,
        };
        Some((seconds.round().min(360_000.0) as u32, next))
    }

    /// `a minute thirty`, `1 min 30 s`, `a minute and a half`.
    fn seconds_behind(&self, i: usize) -> (u32, usize) {
        let and = if self.canon(i) == "and" { i + 1 } else { i };
        if and > i && self.canon(and) == "a" && self.canon(and + 1) == "half" {
            return (30, and + 2);
        }
        match self.whole(and) {
            Some((s, next)) if s < 60 => match self.role(next, Role::Seconds) {
                Some(after) => (s, after),
                None if self.word(and) || (self.end(next) && s >= 10) => (s, next),
                None => (0, i),
            },
            _ => (0, i),
        }
    }

    /// Whether the line or a clause ends at a place.
    pub fn end(&self, i: usize) -> bool {
        self.tokens
            .get(i)
            .is_none_or(|t| matches!(t.kind, Kind::Sign(',' | ';' | '.' | ':' | ')' | '|' | '!')))
    }

    /// Whole numbers with dashes between: `21-15-9`.
    pub fn dashed(&self, i: usize) -> Option<(Vec<u32>, usize)> {
        let mut out = vec![self.figure(i)?];
        let mut at = i + 1;
        while self.sign(at, '-')
            && let Some(n) = self.figure(at + 1)
        {
            out.push(n);
            at += 2;
        }
        (out.len() > 1).then_some((out, at))
    }

    /// A whole number in figures.
    pub fn figure(&self, i: usize) -> Option<u32> {
        match self.tokens.get(i)?.kind {
            Kind::Number(n) if n.fract() == 0.0 && n < 100_000.0 => Some(n as u32),
            _ => None,
        }
    }

    /// The text between two places.
    pub fn text(&self, from: usize, to: usize) -> &str {
        let a = self.tokens.get(from).map_or(self.line.text.len(), |t| t.from);
        let b = to.checked_sub(1).and_then(|l| self.tokens.get(l)).map_or(a, |t| t.to);
        self.line.text.get(a..b.max(a)).unwrap_or_default()
    }

    /// A problem at the tokens between two places.
    pub fn problem(&self, from: usize, to: usize, severity: Severity, message: impl Into<String>) -> Problem {
        let a = self.tokens.get(from).map_or(0, |t| t.from);
        let b = to.checked_sub(1).and_then(|l| self.tokens.get(l)).map_or(self.line.text.len(), |t| t.to);
        problem(self.line, a, b.max(a), severity, message)
    }
}

/// A problem at a stretch of a line.
pub(super) fn problem(
    line: &Line,
    from: usize,
    to: usize,
    severity: Severity,
    message: impl Into<String>,
) -> Problem {
    let length = line.text.get(from..to).map_or(1, |s| s.chars().count().max(1)) as u32;
    Problem {
        line: line.number,
        column: line.column(from),
        length,
        severity,
        message: message.into(),
        suggestions: Vec::new(),
        asks: None,
    }
}
