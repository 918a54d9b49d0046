//! Clocks with cycles and windows: every so often, intervals, stations, on and off.

use super::model::Format;
use super::quantity::{Pattern, TIME, catch, group, has_any, pattern, read_clock, read_number};
use regex::Captures;

/// Cycles that can be written; a clock of more than four hours is read, and refused where it is planned.
const MOST_CYCLES: u32 = 9_999;
/// Windows up to this long without a word are on/off work, longer ones intervals, s.
const SHORT_WINDOW: u32 = 89;
/// A bare number in a window is seconds from here on, minutes below.
const BARE_SECONDS: f64 = 10.0;

pattern!(ALTERNATE, r"\(?\balternat(?:ing|e)\b(?:\s+(?:minutes?|lines?|movements?|stations?))?\)?");
pattern!(FAILURE, r"[,(]?\s*\b(?:until|till?|to|'til)\s+(?:you\s+)?(?:fail(?:ure)?|can(?:no|')t)\b\)?");
pattern!(SETS_EACH, r"\b(?:rounds?|rds?|sets?|cycles?|times|windows?|minutes?|mins?)\b");

// how often: `emom`, `e2mom`, `every 2:00`, `every minute on the minute`, `on the 2:00`, `each minute`
pattern!(
    OFTEN,
    r"^(?:(?:e(?P<k>\d{1,2})?m(?:om)?)|(?:every|each|on\s+the|on\s+every)\s+(?:(?P<t>",
    TIME,
    r")|(?P<other>other|2nd|second|3rd|third)\s+min(?:ute)?|(?P<min>min(?:ute)?))(?:\s*,?\s*on\s+the\s+(?:minute|min|\d:\d\d))?)(?:\b|\s|$)"
);
pattern!(
    TIMES,
    r"^\s*[,:]?\s*(?:(?:x|for)\s*(?P<n>\d{1,3})\s*(?:rounds?|rds?|sets?|cycles?|times|windows?)?|for\s+(?P<t>",
    TIME,
    r")|(?P<m>",
    TIME,
    r")|(?P<r>\d{1,3})\s*(?:rounds?|rds?|sets?|cycles?|times))\s*[:,.]?\s*$"
);
pattern!(
    LEAD_TIMES,
    r"^(?P<n>\d{1,3})\s*(?:x|rounds?\s+of|rounds?\s*[,:]|rds?\s*[,:]|sets?\s*[,:]|sets?\s+of)\s+"
);
pattern!(LEAD_TIME, r"^(?P<t>", TIME, r")\s*(?:of\s+)?(?:an?\s+)?");
pattern!(
    WINDOW,
    r"^(?P<what>intervals?|stations?)?\s*(?:of\b)?\s*[:,]?\s*(?:work\s*)?(?P<on>",
    TIME,
    r")\s*(?P<w>on|work(?:ing)?)?\s*[/,;|-]?\s*(?:rest\s*)?(?P<off>",
    TIME,
    r")\s*(?P<o>off|rest(?:ing)?)?\s*(?P<tail>.*)$"
);
pattern!(
    ROUNDS_AFTER,
    r"^[,:]?\s*(?:x|for)?\s*(?P<n>\d{1,3})\s*(?:rounds?|rds?|sets?|times|windows?|intervals?)?\s*[:,.]?\s*$"
);
pattern!(
    MANY_AMRAPS,
    r"^(?:(?P<n>\d{1,2})\s*(?:x|rounds?\s+of|sets?\s+of)\s*\(?\s*(?:amrap\s*(?:in|of)?\s*(?P<t>",
    TIME,
    r")|(?P<u>",
    TIME,
    r")\s*amraps?)|amrap\s*(?P<v>",
    TIME,
    r")\s*x\s*(?P<m>\d{1,2}))\s*[,;/]?\s*(?:(?:with\s+)?(?:rest\s*(?P<off>",
    TIME,
    r")|(?P<off2>",
    TIME,
    r")\s*(?:of\s+)?(?:rest|off))(?:\s+between.*)?)?\s*\)?\s*[:,.]?$"
);

fn number(c: &Captures<'_>, names: &[&str]) -> Option<u32> {
    names.iter().find_map(|n| group(c, n)).and_then(|n| n.parse().ok())
}

fn time(c: &Captures<'_>, names: &[&str], bare: f64) -> Option<u32> {
    names.iter().find_map(|n| group(c, n)).and_then(|t| read_clock(t, bare)).filter(|s| *s > 0)
}

/// A window's time; a bare number is seconds when it is large.
fn window_time(c: &Captures<'_>, name: &str) -> Option<u32> {
    let text = group(c, name)?;
    let bare = if read_number(text).is_some_and(|n| n >= BARE_SECONDS) { 1.0 } else { 60.0 };
    read_clock(text, bare)
}

fn without(pattern: &Pattern, text: &str) -> Option<String> {
    let m = pattern.as_ref()?.find(text)?;
    let left = format!("{} {}", text.get(..m.start())?, text.get(m.end()..)?);
    Some(left.trim().trim_matches([',', ':', ';', ' ']).to_owned())
}

/// A clock with cycles or windows; `low` is the whole line in lower case.
pub(super) fn read_windows(low: &str) -> Option<Format> {
    let low = low.trim().trim_end_matches([':', ',', '.', ' ']);
    if let Some(format) = many_amraps(low) {
        return Some(format);
    }
    let cycle_words = has_any(low, &["mom", "every", "each", "on the", "em "]);
    let window_words = has_any(low, &[" x", "x ", "round", "rds", "set", "station", "interval", " for "])
        && has_any(low, &["/", "on", "off", "rest", "work"]);
    if !cycle_words && !window_words {
        return None;
    }
    let (text, alternating) = match without(&ALTERNATE, low) {
        Some(rest) => (rest, true),
        None => (low.to_owned(), false),
    };
    cycles(&text, alternating).or_else(|| windows(&text, alternating))
}

/// `5 x amrap 3:00, rest 1:00`: windows, each an open list of its own.
fn many_amraps(low: &str) -> Option<Format> {
    if !low.contains("amrap") {
        return None;
    }
    let c = catch(&MANY_AMRAPS, low)?;
    let n = number(&c, &["n", "m"]).filter(|n| *n > 0)?;
    let on = time(&c, &["t", "u", "v"], 60.0)?;
    let off = ["off", "off2"].iter().find_map(|g| window_time(&c, g)).unwrap_or(0);
    Some(Format::Intervals { on, off, n })
}

fn cycles(low: &str, alternating: bool) -> Option<Format> {
    let (text, until_failure) = match without(&FAILURE, low) {
        Some(rest) => (rest, true),
        None => (low.to_owned(), false),
    };
    // the number may stand before: `12 min emom`, `10 x every 2:00`, `8 rounds, every 2:00`
    let (lead, text) = lead(&text);
    let c = catch(&OFTEN, &text)?;
    let seconds = match group(&c, "other") {
        Some("other" | "2nd" | "second") => 120,
        Some(_) => 180,
        None => number(&c, &["k"]).map(|k| k * 60).or_else(|| time(&c, &["t"], 60.0)).unwrap_or(60),
    };
    let seconds = Some(seconds).filter(|s| *s > 0)?;
    let word = c.get(0)?;
    let tail = text.get(word.end()..).unwrap_or_default().trim();
    if until_failure {
        return tail.is_empty().then_some(Format::EveryUntilFailure { seconds });
    }
    let n = match lead {
        Some(Lead::Times(n)) if tail.is_empty() => n,
        Some(Lead::Time(t)) if tail.is_empty() => t / seconds,
        Some(_) => return None,
        None => {
            let c = catch(&TIMES, tail)?;
            // a bare number after emom is minutes in all, after x it is cycles
            match number(&c, &["n", "r"]) {
                Some(n) if tail.starts_with("for") && number(&c, &["r"]).is_none() && !counted(tail) => {
                    n * 60 / seconds
                }
                Some(n) => n,
                None => time(&c, &["t", "m"], 60.0)? / seconds,
            }
        }
    };
    let n = n.clamp(1, MOST_CYCLES);
    Some(if alternating { Format::EveryAlternating { seconds, n } } else { Format::Every { seconds, n } })
}

/// Whether a number of cycles is named, not of minutes.
fn counted(tail: &str) -> bool {
    catch(&SETS_EACH, tail).is_some_and(|c| c.get(0).is_some_and(|m| !m.as_str().starts_with("min")))
}

enum Lead {
    Times(u32),
    Time(u32),
}

fn lead(text: &str) -> (Option<Lead>, String) {
    if let Some(c) = catch(&LEAD_TIMES, text) {
        let rest = c.get(0).and_then(|m| text.get(m.end()..)).unwrap_or_default().trim().to_owned();
        if let Some(n) = number(&c, &["n"]) {
            return (Some(Lead::Times(n)), rest);
        }
    }
    if let Some(c) = catch(&LEAD_TIME, text)
        && let Some(rest) = c.get(0).and_then(|m| text.get(m.end()..))
        && (rest.starts_with("em")
            || rest.starts_with("every")
            || (rest.starts_with('e') && rest.contains("mom")))
        && let Some(t) = time(&c, &["t"], 60.0)
    {
        return (Some(Lead::Time(t)), rest.to_owned());
    }
    (None, text.to_owned())
}

fn windows(low: &str, alternating: bool) -> Option<Format> {
    let (mut lead_n, mut text) = (None, low.to_owned());
    let word = ["intervals", "interval", "stations", "station"]
        .iter()
        .find_map(|w| text.strip_prefix(w).map(|r| (*w, r.trim_start_matches([':', ',', ' ']).to_owned())));
    let mut what = word.as_ref().map(|(w, _)| w.trim_end_matches('s'));
    if let Some((_, rest)) = &word {
        text.clone_from(rest);
    }
    if let Some(c) = catch(&LEAD_TIMES, &text) {
        lead_n = number(&c, &["n"]);
        text = c.get(0).and_then(|m| text.get(m.end()..)).unwrap_or_default().trim().to_owned();
    }
    let c = catch(&WINDOW, &text)?;
    let (on, off) = (window_time(&c, "on").filter(|s| *s > 0)?, window_time(&c, "off")?);
    what = what.or(group(&c, "what").map(|w| w.trim_end_matches('s')));
    let said = group(&c, "w").is_some() || group(&c, "o").is_some();
    let tail = group(&c, "tail").unwrap_or("").trim();
    // the clock must be said: two numbers alone are a load or calories by standard
    let n = match (lead_n, tail.is_empty()) {
        (Some(n), true) => n,
        (None, false) => number(&catch(&ROUNDS_AFTER, tail)?, &["n"])?,
        (None, true) if said && what.is_some() => 1,
        _ => return None,
    };
    if !said && what.is_none() && !text.contains('/') {
        return None;
    }
    let n = n.clamp(1, MOST_CYCLES);
    Some(match what {
        Some("station") => Format::Stations { on, off, rounds: n },
        Some(_) => Format::Intervals { on, off, n },
        None if on <= SHORT_WINDOW => Format::OnOff { on, off, n, alternating },
        None => Format::Intervals { on, off, n },
    })
}
