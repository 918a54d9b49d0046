//! A rep maximum of the day: `back squat build to 5rm in 15:00`, `build to a heavy single in 12:00, no misses`.

use super::clean::Line;
use super::model::{Build, Named};
use super::quantity::{TIME, catch, group, has_any, pattern, read_clock};
use crate::movement::{Found, catalogue};

pattern!(
    BUILD,
    r"^(?P<name>.*?)[\s,:-]*\b(?:build(?:ing)?(?:\s+up)?\s+to|build(?:ing)?|find|establish|work(?:ing)?(?:\s+up)?\s+to|climb(?:ing)?\s+to|take)\s+(?:(?:a|an|your|the|today's|one)\s+)?(?:(?:heavy|heaviest|max(?:imum)?|tough|hard|new)\s+)?(?:(?P<n>\d{1,2})\s*-?\s*(?:rm\b|rep(?:s)?\s*(?:max(?:imum)?)?\b)|(?P<word>single|double|triple)\b|set\s+of\s+(?P<set>\d{1,2})\b)\s*(?:for\s+the\s+day|of\s+the\s+day)?(?P<tail>.*)$"
);
pattern!(WINDOW, r"\b(?:in|within|for)\s+(?P<t>", TIME, r")|^\s*[,(]?\s*(?P<u>\d{1,2}:\d{2})");
pattern!(NO_MISSES, r"\b(?:no|without)\s+(?:a\s+)?miss(?:es)?\b");
pattern!(
    OF,
    r"^\s*[,:-]?\s*(?:(?:of|in|on)\s+(?:the\s+)?)?(?P<name>[a-z][a-z '-]*?)\s*(?:$|[,(]|\b(?:in|within|for)\s+\d|\b(?:no|without)\s+miss)"
);

/// Reads a build; `lift`: a lift named on an earlier line. The movement stays unknown, perhaps empty, when the line
/// names none.
pub(super) fn read_build(line: &Line, lift: Option<&Named>) -> Option<Build> {
    if !has_any(&line.low, &["build", "find", "establish", "work", "climb", "take"]) {
        return None;
    }
    let c = catch(&BUILD, &line.low)?;
    let reps = match group(&c, "word") {
        Some("single") => 1,
        Some("double") => 2,
        Some("triple") => 3,
        _ => group(&c, "n").or(group(&c, "set")).and_then(|n| n.parse().ok())?,
    };
    let tail = group(&c, "tail").unwrap_or("");
    let before = c.name("name").and_then(|m| line.text.get(m.range())).unwrap_or("").trim();
    let after =
        catch(&OF, tail).and_then(|o| group(&o, "name").map(|n| n.trim().to_owned())).unwrap_or_default();
    let named = [before, after.as_str()].into_iter().filter(|n| !n.is_empty()).find_map(|name| {
        let words: Vec<&str> = name.trim_end_matches([':', ',']).split_whitespace().collect();
        match catalogue().find(&words, true) {
            Found::Movement { id, .. } => Some(Named::Known(id)),
            _ => None,
        }
    });
    let unknown = || Named::Unknown(if before.is_empty() { String::new() } else { before.to_owned() });
    let movement =
        named.or_else(|| before.is_empty().then(|| lift.cloned()).flatten()).unwrap_or_else(unknown);
    // prose such as "take a single breath" is no build
    if movement.id().is_none() && !line.low.contains("build") && !line.low.contains("rm") {
        return None;
    }
    Some(Build {
        movement,
        reps: reps.clamp(1, 30),
        window_s: catch(&WINDOW, tail)
            .and_then(|w| group(&w, "t").or(group(&w, "u")).and_then(|t| read_clock(t, 60.0)))
            .filter(|s| *s > 0),
        no_misses: catch(&NO_MISSES, tail).is_some(),
        line: line.number,
    })
}
