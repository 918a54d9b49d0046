//! Numbers and times as coaches write them, and the patterns of the reader.

use regex::{Captures, Regex};
use std::ops::Range;
use std::sync::LazyLock;

/// A pattern of the reader: a constant, compiled once. A test compiles them all; one that did not compile
/// would match nothing.
pub(super) type Pattern = LazyLock<Option<Regex>>;

/// Makes a pattern of the reader from its pieces.
macro_rules! pattern {
    ($vis:vis $name:ident, $($part:expr),+ $(,)?) => {
        $vis static $name: crate::sheet::quantity::Pattern =
            std::sync::LazyLock::new(|| regex::Regex::new(&[$($part),+].concat()).ok());
    };
}
pub(super) use pattern;

/// Time in a pattern: `12:00`, `:30`, `12 min`, `90 s`, `12'`, `90"`, or a bare number.
pub(super) const TIME: &str = r#"(?:\d{1,3}:\d{2}|:\d{2}|\d{1,4}(?:[.,]\d{1,2})?\s*(?:minutes\b|minute\b|mins\b|min\b|seconds\b|second\b|secs\b|sec\b|s\b|m\b|'|")?)"#;
/// Number in a pattern.
pub(super) const NUM: &str = r"(?:\d{1,3}(?:,\d{3})+\b|\d{1,6}(?:[.,]\d{1,2})?)";

/// What a pattern catches in a text.
pub(super) fn catch<'t>(pattern: &Pattern, text: &'t str) -> Option<Captures<'t>> {
    // most lines match most patterns not, and saying so needs no room for groups
    pattern.as_ref().filter(|r| r.is_match(text)).and_then(|r| r.captures(text))
}

/// Whether a text holds any of some words. Most lines hold none of the words that a costly pattern needs, and looking
/// for them first keeps reading fast.
pub(super) fn has_any(text: &str, words: &[&str]) -> bool {
    words.iter().any(|w| text.contains(w))
}

/// A named group's text, or nothing.
pub(super) fn group<'t>(c: &Captures<'t>, name: &str) -> Option<&'t str> {
    c.name(name).map(|m| m.as_str())
}

/// Where the whole match lies.
pub(super) fn place(c: &Captures<'_>) -> Range<usize> {
    c.get(0).map_or(0..0, |m| m.range())
}

/// A number with a decimal point or comma; a comma before three digits separates thousands.
///
/// ```
/// use lantern_core::sheet::read_number;
/// assert_eq!(read_number("42,5"), Some(42.5));
/// assert_eq!(read_number("1,200"), Some(1200.0));
/// assert_eq!(read_number("many"), None);
/// ```
pub fn read_number(text: &str) -> Option<f64> {
    let text = text.trim();
    let thousands = text.split_once(',').is_some_and(|(_, b)| b.len() == 3 && !text.contains('.'));
    let cleaned = if thousands { text.replace(',', "") } else { text.replace(',', ".") };
    cleaned.parse::<f64>().ok().filter(|v| v.is_finite() && *v >= 0.0)
}

/// Seconds of a time; `bare` is the seconds of one unit when no unit is written (60 for minutes).
///
/// ```
/// use lantern_core::sheet::read_clock;
/// assert_eq!(read_clock("12:30", 60.0), Some(750));
/// assert_eq!(read_clock("11'", 60.0), Some(660));
/// assert_eq!(read_clock("90 s", 60.0), Some(90));
/// assert_eq!(read_clock("14", 60.0), Some(840));
/// ```
pub fn read_clock(text: &str, bare: f64) -> Option<u32> {
    let text = text.trim();
    if let Some((m, s)) = text.split_once(':') {
        let minutes: u32 = if m.is_empty() { 0 } else { m.parse().ok()? };
        let seconds: u32 = s.parse().ok()?;
        return (seconds < 60 && minutes < 6000).then_some(minutes * 60 + seconds);
    }
    let end = text.find(|c: char| !(c.is_ascii_digit() || c == '.' || c == ',')).unwrap_or(text.len());
    let value = read_number(text.get(..end)?)?;
    let factor = match text.get(end..)?.trim().chars().next() {
        None => bare,
        Some('m' | '\'') => 60.0,
        Some('s' | '"') => 1.0,
        Some(_) => return None,
    };
    Some((value * factor).round().min(360_000.0) as u32)
}
