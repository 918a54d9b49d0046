//! One pass over a line: numbers, times, words, signs, each with its place.

use super::text::Line;
use crate::movement::canonical;

/// What a token is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Kind {
    /// A number, decimal point or comma.
    Number(f64),
    /// `12:00`, `:40`, `12'`, `2'30"`: seconds.
    Time(u32),
    /// `90"`: seconds or inches.
    Ticks(f64),
    /// Letters, perhaps with digits behind the first.
    Word,
    /// Anything else that is no space.
    Sign(char),
}

/// A token and its place (bytes of the line's text).
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Token {
    pub kind: Kind,
    pub from: usize,
    pub to: usize,
    /// The word in matching form; the digits of a whole number; else empty.
    pub canon: String,
}

impl Token {
    pub fn is(&self, sign: char) -> bool {
        self.kind == Kind::Sign(sign)
    }
}

/// The tokens of a line.
pub(super) fn tokens(line: &Line) -> Vec<Token> {
    let low = line.low.as_str();
    let mut out: Vec<Token> = Vec::new();
    let mut at = 0;
    while let Some(c) = low.get(at..).and_then(|r| r.chars().next()) {
        if c.is_whitespace() {
            at += c.len_utf8();
            continue;
        }
        let (kind, end) = if c.is_ascii_digit() || (c == ':' && two_digits(low, at + 1)) {
            number(low, at)
        } else if c.is_alphabetic() {
            word(low, at, &out)
        } else {
            (Kind::Sign(c), at + c.len_utf8())
        };
        let text = low.get(at..end).unwrap_or_default();
        let canon = match kind {
            Kind::Word => canonical(text),
            Kind::Number(_) if text.bytes().all(|b| b.is_ascii_digit()) => text.to_owned(),
            _ => String::new(),
        };
        let end = end.max(at + c.len_utf8());
        out.push(Token { kind, from: at, to: end, canon });
        at = end;
    }
    out
}

fn two_digits(low: &str, at: usize) -> bool {
    let digits = low.get(at..).unwrap_or_default().bytes().take_while(u8::is_ascii_digit).count();
    digits == 2
}

fn digits(low: &str, at: usize) -> usize {
    low.get(at..).unwrap_or_default().bytes().take_while(u8::is_ascii_digit).count()
}

fn number(low: &str, at: usize) -> (Kind, usize) {
    let whole = digits(low, at);
    let byte = |i: usize| low.as_bytes().get(i).copied().unwrap_or(0);
    let mut end = at + whole;
    // 12:00 and :40; a third pair of digits makes it a time of day, which is no length
    if byte(end) == b':' && two_digits(low, end + 1) && whole <= 3 {
        let minutes: u32 = low.get(at..end).and_then(|t| t.parse().ok()).unwrap_or(0);
        let seconds: u32 = low.get(end + 1..end + 3).and_then(|t| t.parse().ok()).unwrap_or(0);
        if seconds < 60 || whole == 0 {
            return (Kind::Time(minutes * 60 + seconds), end + 3);
        }
    }
    let (mut value, mut decimal) =
        (low.get(at..end).and_then(|t| t.parse::<f64>().ok()).unwrap_or(0.0), false);
    if matches!(byte(end), b',' | b'.') {
        let more = digits(low, end + 1);
        let next = byte(end + 1 + more);
        if byte(end) == b',' && more == 3 && whole <= 3 && next != b',' {
            value =
                value * 1000.0 + low.get(end + 1..end + 4).and_then(|t| t.parse::<f64>().ok()).unwrap_or(0.0);
            end += 4;
        } else if (1..=2).contains(&more) && next != b'.' && next != b':' {
            value = low
                .get(at..end + 1 + more)
                .and_then(|t| t.replace(',', ".").parse::<f64>().ok())
                .unwrap_or(value);
            end += 1 + more;
            decimal = true;
        }
    }
    let ticks = low.get(end..).unwrap_or_default();
    if ticks.starts_with("''") {
        return (Kind::Ticks(value), end + 2);
    }
    if ticks.starts_with('\'') && value < 600.0 {
        let seconds = digits(low, end + 1);
        let after = byte(end + 1 + seconds);
        if !decimal && seconds == 2 && !(after == b'/' || after == b'x') {
            let s: u32 = low.get(end + 1..end + 3).and_then(|t| t.parse().ok()).unwrap_or(0);
            let close = usize::from(after == b'"');
            return (Kind::Time((value * 60.0) as u32 + s), end + 3 + close);
        }
        return (Kind::Time((value * 60.0).round() as u32), end + 1);
    }
    if ticks.starts_with('"') {
        return (Kind::Ticks(value), end + 1);
    }
    (Kind::Number(value.min(9_999_999.0)), end)
}

/// A word; `x8` and the `x` of `5x5` are a sign for times.
fn word(low: &str, at: usize, before: &[Token]) -> (Kind, usize) {
    let rest = low.get(at..).unwrap_or_default();
    let after_number = before.last().is_some_and(|t| matches!(t.kind, Kind::Number(_)) && t.to == at);
    if rest.starts_with('x') {
        let next = rest.chars().nth(1);
        if next.is_none_or(|c| c.is_ascii_digit() || !c.is_alphanumeric())
            || (after_number && next == Some(':'))
        {
            return (Kind::Sign('x'), at + 1);
        }
    }
    let mut end = at;
    for c in rest.chars() {
        if !(c.is_alphanumeric() || (c == '\'' && end > at)) {
            break;
        }
        // letters glued to a number end where digits begin again (3x45s), so do clock words (EMOM15)
        let clock_word =
            || ["emom", "amrap", "cap", "tc", "wod"].contains(&low.get(at..end).unwrap_or_default());
        if c.is_ascii_digit() && (after_number || clock_word()) {
            break;
        }
        end += c.len_utf8();
    }
    let text = low.get(at..end).unwrap_or_default();
    (Kind::Word, at + text.trim_end_matches('\'').len().max(1))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn kinds(text: &str) -> Vec<Kind> {
        let line = Line { number: 1, indent: 0, text: text.to_owned(), low: text.to_ascii_lowercase() };
        tokens(&line).into_iter().map(|t| t.kind).collect()
    }

    #[test]
    fn numbers_and_times_are_told_apart() {
        use Kind::{Number, Sign, Ticks, Time, Word};
        assert_eq!(
            kinds("12:00 :40 12' 90\" 2'30\""),
            [Time(720), Time(40), Time(720), Ticks(90.0), Time(150)]
        );
        assert_eq!(
            kinds("5x5 3x45s"),
            [Number(5.0), Sign('x'), Number(5.0), Number(3.0), Sign('x'), Number(45.0), Word]
        );
        assert_eq!(kinds("22,5/15kg"), [Number(22.5), Sign('/'), Number(15.0), Word]);
        assert_eq!(kinds("1,200 m"), [Number(1200.0), Word]);
        assert_eq!(kinds("T2B x8"), [Word, Sign('x'), Number(8.0)]);
        assert_eq!(kinds("2.5 12.10."), [Number(2.5), Number(12.0), Sign('.'), Number(10.0), Sign('.')]);
        assert_eq!(kinds(":60 couch"), [Time(60), Word]);
    }
}
