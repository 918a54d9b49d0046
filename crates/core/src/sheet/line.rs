//! One line, every word accounted for: the pieces it holds, in order, and the words that nothing reads.

use super::aim::aim;
use super::around::around;
use super::atom::{Atom, Said};
use super::clock::Bits;
use super::clock_words::piece;
use super::glossary::{Glossary, Role};
use super::heading::head;
use super::load::behind;
use super::problem::{Problem, Severity};
use super::scan::{Bare, Scan, problem};
use super::sets::{build, sets, too_many};
use super::text::{Line, Row};
use super::token::Kind;
use super::work::{Around, work};
use crate::movement::{LoadKind, Typed, catalogue};

/// A line as it is understood by itself, before its place on the sheet is known.
#[derive(Debug, Clone)]
pub(super) struct Heard {
    pub row: Row,
    /// What is said, in order.
    pub said: Vec<Said>,
    /// A name in quotes.
    pub name: Option<String>,
    /// What is wrong with the quotes.
    pub quotes: Option<Problem>,
    /// Words of the line.
    pub words: u32,
    /// Words that are talk: known to be, or known to nobody.
    pub talk: f64,
    /// Those of them before anything was read.
    pub lead: f64,
    /// Numbers that nothing reads: columns and lengths.
    pub numbers: Vec<(usize, usize)>,
    /// Where each token stands (bytes).
    pub places: Vec<(usize, usize)>,
    /// Stretches of words that nothing reads (bytes).
    pub unread: Vec<(usize, usize)>,
}

impl Heard {
    fn of(row: Row) -> Heard {
        Heard {
            row,
            said: Vec::new(),
            name: None,
            quotes: None,
            words: 0,
            talk: 0.0,
            lead: 0.0,
            numbers: Vec::new(),
            places: Vec::new(),
            unread: Vec::new(),
        }
    }
}

/// Reads a line. `suggest`: near names may still be looked up.
pub(super) fn hear(row: &Row, glossary: &Glossary, suggest: bool) -> Heard {
    let (line, name, quotes) = quoted(&row.line, glossary);
    let s = Scan::new(&line, glossary);
    // the row's own line is put back when all is read
    let mut h = Heard { name, quotes, ..Heard::of(Row { line: Line::empty(line.number), ..*row }) };
    let around = Around { lifting: lifting(&s), suggest };
    let dressed = row.hashes > 0 || row.bold || row.label.is_some_and(|l| l.part);
    let mut reader = LineReader { s: &s, h: &mut h, around, dressed };
    reader.range(0, s.len(), false);
    h.places = s.tokens.iter().map(|t| (t.from, t.to)).collect();
    h.row.line = line;
    h
}

/// Whether a line speaks of maxima, percentages or sets of reps.
fn lifting(s: &Scan<'_>) -> bool {
    (0..s.len()).any(|i| {
        s.sign(i, '%')
            || s.any(i, &[Role::Percent, Role::RepMax, Role::Effort, Role::InReserve, Role::TrainingMax])
                .is_some()
            || s.role(i, Role::BuildTo).is_some() && s.canon(i) != "take" && s.canon(i) != "up"
            || s.role(i, Role::HeavyWord).is_some()
            || sets(s, i)
                .is_some_and(|(x, _)| x.unit == crate::units::Unit::Reps && x.reps.len() > 1 && !x.empty)
    })
}

/// A name in quotes is taken out of a line; an unclosed quote runs to the end of the line.
fn quoted(line: &Line, glossary: &Glossary) -> (Line, Option<String>, Option<Problem>) {
    let starts = |i: usize| {
        let before = line.text.get(..i).and_then(|t| t.chars().next_back());
        let after = line.text.get(i + 1..).and_then(|t| t.chars().next());
        before.is_none_or(char::is_whitespace) && after.is_some_and(|c| !c.is_whitespace())
    };
    if line.text.starts_with(|c: char| c.is_ascii_digit()) {
        return (line.clone(), None, None);
    }
    let Some((open, _)) = line.text.match_indices('"').find(|(i, _)| starts(*i)) else {
        return (line.clone(), None, None);
    };
    let inside = line.text.get(open + 1..).unwrap_or_default();
    let close = inside.find('"');
    let end = close.map_or(line.text.len(), |c| open + 1 + c + 1);
    let name = inside.get(..close.unwrap_or(inside.len())).unwrap_or_default().trim().to_owned();
    let mut out = line.clone();
    if close.is_some_and(|c| spoken(line.from(open + 1), c, glossary)) {
        for at in [open, end - 1] {
            out.low.replace_range(at..=at, " ");
            out.text.replace_range(at..=at, " ");
        }
        return (out, None, None);
    }
    if out.low.is_char_boundary(open) && out.low.is_char_boundary(end) {
        out.low.replace_range(open..end, &" ".repeat(end - open));
    }
    let problem = close.is_none().then(|| {
        let message = "The quotation mark is not closed. I took the rest of the line as the name.";
        let mut p = problem(line, open, line.text.len(), Severity::Error, message);
        p.suggestions = vec![format!("{}\"", line.text.get(open..).unwrap_or_default())];
        p
    });
    (out, Some(name).filter(|n| !n.is_empty()), problem)
}

/// Whether words in quotes are a clock, a minute or a heading rather than a name: `"Min 1": 12 cal ski`, `"For time"`.
fn spoken(mut line: Line, close: usize, glossary: &Glossary) -> bool {
    line.text.truncate(close);
    line.low.truncate(close);
    let s = Scan::new(&line, glossary);
    let clock = piece(&s, 0).map(|(_, n)| n);
    let around = around(&s, 0).map(|(_, n)| n);
    clock.max(around) == Some(s.len()) && !s.end(0)
}

struct LineReader<'a, 'b> {
    s: &'a Scan<'b>,
    h: &'a mut Heard,
    around: Around,
    dressed: bool,
}

impl LineReader<'_, '_> {
    /// Reads the tokens from one place to another; `inside`: they stand in brackets.
    fn range(&mut self, from: usize, to: usize, inside: bool) {
        let mut i = from;
        while i < to {
            if self.s.sign(i, '(') {
                i = self.bracket(i, to);
                continue;
            }
            if let Some(next) = self.phrase(i) {
                (i..next).for_each(|k| self.unread(k));
                i = next;
                continue;
            }
            if let Some((atom, next, problems)) = self.piece(i, inside) {
                let next = next.clamp(i + 1, to.max(i + 1));
                self.covered(i, next);
                if let Atom::Move(m) = &atom
                    && m.movement.id().is_none()
                {
                    self.h.talk += 0.5 * (i..next).filter(|k| self.s.word(*k)).count() as f64;
                }
                // `partner workout` is a heading and a team
                let heads = matches!(atom, Atom::Head(..));
                let two = heads && matches!(self.s.canon(i), "partner" | "buddy");
                // `chipper` is one, and a list done once against the clock
                let chips = heads && self.s.canon(next - 1) == "chipper";
                self.h.said.push(Said { atom, from: i, to: next, problems });
                if chips {
                    let atom = Atom::Clock(Bits { for_time: true, ..Bits::default() });
                    self.h.said.push(Said { atom, from: next - 1, to: next, problems: Vec::new() });
                }
                if two {
                    let atom = Atom::Team { size: Some(2), mode: None };
                    self.h.said.push(Said { atom, from: i, to: i + 1, problems: Vec::new() });
                }
                i = next;
                continue;
            }
            self.unread(i);
            i += 1;
        }
    }

    /// A phrase of everyday in which a movement's name means nothing: `heavy but clean`.
    fn phrase(&self, i: usize) -> Option<usize> {
        let s = self.s;
        let next = s.role(i, Role::Harmless).filter(|n| *n > i + 1 && s.name(i).is_none())?;
        (i + 1..next).any(|k| s.name(k).is_some_and(|(_, n)| n <= next)).then_some(next)
    }

    fn piece(&self, i: usize, inside: bool) -> Option<(Atom, usize, Vec<Problem>)> {
        let s = self.s;
        let plain = |(a, n): (Atom, usize)| (a, n, Vec::new());
        if matches!(s.tokens.get(i)?.kind, Kind::Sign(c) if !matches!(c, '@' | '+' | '-' | ':' | '/' | 'x' | '<' | '≥' | '≤' | '>'))
        {
            return None;
        }
        if !inside
            && self.opens(i)
            && let Some((kind, sure, next)) = head(s, i, self.dressed)
        {
            return Some((Atom::Head(kind, sure), next, Vec::new()));
        }
        // figures of a tempo before they can be sets
        if let Some((atom @ Atom::Tempo(_), next, problems)) = behind(s, i).filter(|_| s.figure(i).is_some())
        {
            return Some((atom, next, problems));
        }
        if let Some(found) = self.behind_heading(i).or_else(|| self.minutes_of_class(i)) {
            return Some(found);
        }
        // `Snatch technique, 12 min`
        if i == 0
            && let Some((_, n)) = s.name(0)
            && matches!(s.canon(n), "technique" | "practice" | "skill" | "drill")
            && (n + 1..s.len()).any(|k| length(s, k).is_some())
        {
            return Some((Atom::Head(super::model::BlockKind::Skill, false), n + 1, Vec::new()));
        }
        if let Some(found) = self.heavy_chain(i) {
            return Some(found);
        }
        if let Some(found) = self.amrap_of_the_rest(i) {
            return Some(found);
        }
        aim(s, i)
            .or_else(|| week(s, i).map(plain))
            .or_else(|| build(s, i).map(plain))
            .or_else(|| around(s, i).map(plain))
            .or_else(|| self.drill(i).map(plain))
            .or_else(|| self.prefer_sets(i).map(|(a, n)| (a, n, self.too_many(i, n))))
            .or_else(|| piece(s, i).map(|(b, n)| (Atom::Clock(b), n, Vec::new())))
            .or_else(|| sets(s, i).map(|(x, n)| (Atom::Sets(x), n, self.too_many(i, n))))
            .or_else(|| behind(s, i).filter(|(a, ..)| !matches!(a, Atom::WordLoad(_))))
            .or_else(|| work(s, i, self.around))
            .or_else(|| behind(s, i))
            .or_else(|| length(s, i).map(plain))
            .or_else(|| {
                s.role(i, Role::Bar)
                    .filter(|n| s.end(*n) || s.number(s.past(*n, &[':', '|'])).is_some() || s.sign(*n, '@'))
                    .map(|n| (Atom::Bar, n, Vec::new()))
            })
            .or_else(|| {
                s.role(i, Role::InTheRest).map(|n| (Atom::Effort(s.text(i, n).to_owned()), n, Vec::new()))
            })
            .or_else(|| {
                s.role(i, Role::Throughout).map(|n| (Atom::Effort(s.text(i, n).to_owned()), n, Vec::new()))
            })
    }

    /// `AMRAP in the remaining time`, `AMRAP thrusters in the time left`: what the window has left.
    fn amrap_of_the_rest(&self, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
        let s = self.s;
        let n = s.role(i, Role::Amrap)?;
        if let Some(end) = s.role(n, Role::InTheRest) {
            return Some((Atom::Effort(s.text(i, end).to_owned()), end, Vec::new()));
        }
        let later = s.name(n).is_some() && (n..s.len()).any(|k| s.role(k, Role::InTheRest).is_some());
        if later { work(s, i, self.around) } else { None }
    }

    /// `build to a heavy complex of ...`: said to be more than is planned.
    fn heavy_chain(&self, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
        let s = self.s;
        let next = s.role(i, Role::BuildTo)?;
        let at = (next..next + 4).find(|k| matches!(s.canon(*k), "complex" | "chain"))?;
        let message = "I plan no maximum of a chain. Write sets of it, say: every 2:30 x 6: 1 power clean + 1 hang clean + 1 jerk.";
        let p = s.problem(i, at + 1, Severity::Error, message);
        Some((Atom::Note(s.text(i, at + 1).to_owned()), at + 1, vec![p]))
    }

    /// A bare number behind a heading is its length in minutes; `workout 2` is the second one.
    fn behind_heading(&self, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
        let Some(Said { atom: Atom::Head(kind, _), .. }) = self.h.said.last() else { return None };
        let (s, n) = (self.s, self.s.figure(i)?);
        let second = *kind == super::model::BlockKind::Workout && n <= 4;
        let closed = s.end(i + 1) || s.sign(i + 1, '-') && s.figure(i + 2).is_none();
        if !(closed || second && s.role(i + 1, Role::Cap).is_some()) {
            return None;
        }
        let atom = if second { Atom::Note(String::new()) } else { Atom::Length(n * 60, n * 60) };
        (n > 0).then_some((atom, i + 1, Vec::new()))
    }

    /// `0-10 Warm-up`, `10-25 Back squat 5x5`: from minute to minute of the class.
    fn minutes_of_class(&self, i: usize) -> Option<(Atom, usize, Vec<Problem>)> {
        let s = self.s;
        if i > 0 {
            return None;
        }
        let (reps, next) = s.dashed(i)?;
        let [a, b] = reps.as_slice() else { return None };
        let block = head(s, s.past(next, &[':', '|']), true).is_some()
            || (next..s.len()).any(|k| sets(s, k).is_some_and(|(x, _)| x.reps.len() > 1));
        (a < b && *b <= 240 && block && s.role(next, Role::Reps).is_none())
            .then(|| (Atom::Length(a * 60, b * 60), next, Vec::new()))
    }

    /// Whether a heading may stand at a place: nothing but signs, times and small words before it.
    fn opens(&self, i: usize) -> bool {
        let s = self.s;
        (0..i).all(|k| {
            !s.word(k)
                || self.h.said.iter().any(|x| (x.from..x.to).contains(&k))
                || matches!(s.canon(k), "the" | "our" | "today" | "then" | "and" | "your" | "now")
                || s.sign(k + 1, '/') && k + 2 == i
        }) && self.h.said.iter().all(|x| matches!(x.atom, Atom::Then | Atom::Length(..)))
    }

    /// `3x10` of something with weight or of a hold is sets, not a clock; `12 singles` too.
    fn prefer_sets(&self, i: usize) -> Option<(Atom, usize)> {
        let (x, n) = sets(self.s, i)?;
        (self.s.sign(i + 1, 'x') || self.s.role(i + 1, Role::Sets).is_some()).then_some((Atom::Sets(x), n))
    }

    fn too_many(&self, i: usize, next: usize) -> Vec<Problem> {
        let of = |k: usize| self.s.tokens.get(k);
        let (Some((n, _)), Some(from), Some(to)) = (self.s.whole(i), of(i), next.checked_sub(1).and_then(of))
        else {
            return Vec::new();
        };
        too_many(n, self.s.line, from.from, to.to)
    }

    fn drill(&self, i: usize) -> Option<(Atom, usize)> {
        let s = self.s;
        let at = s
            .number(i)
            .map_or(i, |(_, n)| s.role(n, Role::Seconds).or_else(|| s.role(n, Role::Reps)).unwrap_or(n));
        let (name, n) = s.name(at)?;
        // `easy row 3 min` is so long a row, whatever drill has that name
        let row = s.any(at, &[Role::Light, Role::Filler]).and_then(|(_, k)| Some((k, s.name(k)?.1)));
        if row.is_some_and(|(k, end)| end == n && k < n && s.time(n, Bare::No).is_some()) {
            return None;
        }
        let next = s.time(n, Bare::No).filter(|_| at == i).map_or(n, |(_, next)| next);
        matches!(name, super::scan::Name::Typed(Typed::Drill(_)))
            .then(|| (Atom::Drill(s.text(i, next).to_owned()), next))
    }

    /// What stands in brackets is read when all of it can be; else it is a note, but for what is said by a word of its own.
    fn bracket(&mut self, open: usize, to: usize) -> usize {
        let close = (open + 1..to).find(|k| self.s.sign(*k, ')')).unwrap_or(to);
        let mut inner = Heard::of(self.h.row.clone());
        let mut reader = LineReader { s: self.s, h: &mut inner, around: self.around, dressed: false };
        if let Some((atom, next)) = reader.whole_bracket(open, close) {
            self.h.said.push(Said { atom, from: open, to: next, problems: Vec::new() });
            return next;
        }
        let head = (open + 1 < close && self.opens(open)).then(|| head(self.s, open + 1, true)).flatten();
        let start = head.map_or(open + 1, |(.., n)| n);
        if let Some((kind, sure, n)) = head {
            self.h.said.push(Said {
                atom: Atom::Head(kind, sure),
                from: open + 1,
                to: n,
                problems: Vec::new(),
            });
        }
        reader.range(start, close, head.is_none());
        self.take_bracket(inner, head.is_some(), open, close);
        close + 1
    }

    /// Takes what was read in brackets, or their words.
    fn take_bracket(&mut self, mut inner: Heard, headed: bool, open: usize, close: usize) {
        let option = inner.said.iter().any(|x| matches!(x.atom, Atom::Or | Atom::Kit(_) | Atom::Level(_)));
        let all = inner.unread.is_empty() && inner.numbers.is_empty();
        let work = |x: &Said| matches!(x.atom, Atom::Move(_) | Atom::Sets(_) | Atom::Build(_));
        let plain = !inner.said.iter().any(work);
        self.h.words += inner.words;
        let keep = |x: &Said| {
            matches!(
                x.atom,
                Atom::Cap(_)
                    | Atom::Target(_)
                    | Atom::Team { .. }
                    | Atom::Optional
                    | Atom::Week(_)
                    | Atom::Score(_)
                    | Atom::NoMisses
            )
        };
        if option {
            self.h.said.append(&mut inner.said);
        } else if (all && plain && !inner.said.is_empty()) || headed {
            self.h.said.append(&mut inner.said);
            self.h.talk += inner.talk;
        } else {
            self.h.said.extend(inner.said.into_iter().filter(keep));
            let text = self.s.text(open + 1, close).to_owned();
            if !text.is_empty() {
                self.h.said.push(Said {
                    atom: Atom::Note(text),
                    from: open,
                    to: close,
                    problems: Vec::new(),
                });
            }
        }
    }

    /// `(+2)` and `(of tested 1RM)` belong to what stands before them.
    fn whole_bracket(&self, open: usize, close: usize) -> Option<(Atom, usize)> {
        let (atom, next, problems) = behind(self.s, open)?;
        (next == close + 1 && problems.is_empty() && matches!(atom, Atom::Rise(_))).then_some((atom, next))
    }

    fn covered(&mut self, from: usize, to: usize) {
        self.h.words += (from..to).filter(|k| self.s.word(*k)).count() as u32;
    }

    fn unread(&mut self, i: usize) {
        let Some(t) = self.s.tokens.get(i) else { return };
        match t.kind {
            Kind::Word => {
                self.h.words += 1;
                let talk = self.s.role(i, Role::Talk).is_some();
                let harmless = self.s.any(i, &[Role::Harmless, Role::Filler]).is_some();
                let weight = if talk {
                    1.0
                } else if harmless {
                    0.25
                } else {
                    0.9
                };
                self.h.talk += weight;
                let said = |x: &Said| !matches!(&x.atom, Atom::Move(m) if m.movement.id().is_none());
                self.h.lead += if self.h.said.iter().any(said) { 0.0 } else { weight };
                if !harmless {
                    self.h.unread.push((t.from, t.to));
                }
            }
            Kind::Number(_) | Kind::Time(_) | Kind::Ticks(_) => self.h.numbers.push((t.from, t.to)),
            Kind::Sign(_) => {}
        }
    }
}

/// `week 3 of 6`, `wk 3/6`.
fn week(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    let k = s.past(s.role(i, Role::Week)?, &['|', ':']);
    let n = s.figure(k)?;
    let of = if s.sign(k + 1, '/') || s.canon(k + 1) == "of" { k + 2 } else { return None };
    let all = s.figure(of)?;
    (n > 0 && n <= all && all <= 52).then_some((Atom::Week([n, all]), of + 1))
}

/// A time with nothing else: `15 min`, `12-15 min`, `(8 min)`; a bare number only where a heading stands before it.
fn length(s: &Scan<'_>, i: usize) -> Option<(Atom, usize)> {
    if let Some((a, next)) = s.number(i)
        && (s.sign(next, '-') || s.canon(next) == "to")
        && let Some((b, end)) = s.time(next + 1, Bare::No)
    {
        return Some((Atom::Length((a * 60.0) as u32, b), end));
    }
    let (t, next) = s.time(i, Bare::No)?;
    // `10:00-25:00 power clean`: from minute to minute
    if i == 0
        && s.sign(next, '-')
        && let Some((u, end)) = s.time(next + 1, Bare::No).filter(|(u, _)| *u > t)
        && !s.end(end)
    {
        return Some((Atom::Length(u - t, u - t), end));
    }
    Some((Atom::Length(t, t), next))
}

/// Whether a movement carries a weight that is written.
pub(super) fn carries(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| !matches!(m.load, LoadKind::None | LoadKind::Machine))
}
