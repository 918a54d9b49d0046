//! The clock of a part: the line that says for time, rounds, reps, as much as possible, or with care. Clocks with
//! windows and cycles stand in `windows.rs`.

use super::clean::Line;
use super::model::{BlockKind, Format};
use super::quantity::{TIME, catch, group, has_any, pattern, place, read_clock};
use super::windows::read_windows;

pattern!(
    ROUNDS,
    r"^(?P<n>\d{1,4})\s*(?:(?P<rft>rft)|(?:rounds?|rds?|times\s+through)\b)\s*(?:of\b)?\s*[,:]?\s*(?P<how>for\s+time|for\s+quality|not\s+for\s+time)?\s*(?:of\b)?\s*[:,.]?\s*$"
);
pattern!(
    SCHEME,
    r"^(?P<list>\d{1,4}(?:\s*-\s*\d{1,4})+)\s*(?:reps?\b)?\s*(?P<how>for\s+time|for\s+quality|not\s+for\s+time)?\s*(?:of\b)?\s*(?P<end>[:,.]?)\s*(?P<rest>.*)$"
);
pattern!(
    COUNTDOWN,
    r"^(?P<a>\d{1,3})\s+(?:down\s+)?to\s+(?P<b>\d{1,3})\s*(?:reps?\s*)?(?P<how>for\s+time)?\s*(?:of\b)?\s*[:,.]?\s*$"
);
pattern!(FOR_TIME, r"^(?:once\s+through\s*,?\s*)?for\s+time\s*(?:of\b)?\s*[:,.]?\s*$");
pattern!(QUALITY, r"^(?:for\s+quality|not\s+for\s+time)\s*[:,.]?\s*$");
pattern!(
    AMRAP,
    r"^(?:(?:amrap|as\s+many\s+(?:rounds|reps)(?:\s+and\s+reps)?\s+as\s+possible)\s*(?:in|of|for)?\s*:?\s*(?P<t>",
    TIME,
    r")|(?P<u>",
    TIME,
    r")\s*(?:of\s+)?amrap)\s*(?:of\b)?\s*[:,.]?\s*$"
);

/// What a line says about the clock.
pub(super) enum Clock {
    /// A format, and what else stood on the line.
    Is(Format, Option<Line>),
    /// Nothing.
    No,
}

fn is_scored(how: Option<&str>, kind: BlockKind) -> bool {
    match how {
        Some(h) => h.starts_with("for") && h.ends_with("time"),
        None => matches!(kind, BlockKind::Workout | BlockKind::Skill | BlockKind::Strength),
    }
}

/// Reads the clock line of a part (cap, target and team already taken out of it).
pub(super) fn read_format(line: &Line, kind: BlockKind) -> Clock {
    let low = line.low.trim();
    if let Some(format) = read_windows(low) {
        return Clock::Is(format, None);
    }
    if let Some(format) = simple(low, kind) {
        return Clock::Is(format, None);
    }
    match scheme(line, low, kind) {
        Clock::No => with_work(line, kind),
        read => read,
    }
}

fn simple(low: &str, kind: BlockKind) -> Option<Format> {
    if catch(&FOR_TIME, low).is_some() {
        return Some(Format::Chipper);
    }
    if catch(&QUALITY, low).is_some() {
        return Some(Format::Quality { rounds: 1, scheme: Vec::new() });
    }
    if let Some(c) = catch(&ROUNDS, low) {
        let n = group(&c, "n").and_then(|n| n.parse().ok()).unwrap_or(1).clamp(1, 1000);
        let scored = group(&c, "rft").is_some() || is_scored(group(&c, "how"), kind);
        return Some(if scored {
            Format::Rounds { n }
        } else {
            Format::Quality { rounds: n, scheme: Vec::new() }
        });
    }
    if has_any(low, &["amrap", "possible"])
        && let Some(c) = catch(&AMRAP, low)
    {
        let t = group(&c, "t").or(group(&c, "u")).and_then(|t| read_clock(t, 60.0)).unwrap_or(0);
        return (t > 0).then_some(Format::Amrap { seconds: t });
    }
    if !low.contains(" to ") {
        return None;
    }
    let c = catch(&COUNTDOWN, low)?;
    let n = |g| group(&c, g).and_then(|n| n.parse::<u32>().ok()).unwrap_or(1).clamp(1, 200);
    let (a, b) = (n("a"), n("b"));
    let reps = if a >= b { (b..=a).rev().collect() } else { (a..=b).collect() };
    Some(Format::Scheme { reps })
}

/// A clock with the first line of its work behind a colon: `amrap 12: 10 burpees`.
fn with_work(line: &Line, kind: BlockKind) -> Clock {
    for (at, _) in line.low.match_indices(':').filter(|(at, _)| {
        // not the colon of a time
        line.low.get(at + 1..).is_some_and(|r| r.starts_with(' '))
    }) {
        let head = line.low.get(..at).unwrap_or_default().trim();
        if let Some(format) = read_windows(head).or_else(|| simple(head, kind)) {
            let work = line.from(at + 1);
            return Clock::Is(format, (!work.text.is_empty()).then_some(work));
        }
    }
    Clock::No
}

fn scheme(line: &Line, low: &str, kind: BlockKind) -> Clock {
    let Some(c) = catch(&SCHEME, low) else { return Clock::No };
    let rest = group(&c, "rest").unwrap_or("");
    let said = group(&c, "how").is_some() || group(&c, "end").is_some_and(|e| !e.is_empty());
    // `20-18-16 wall balls` inside a list is a line with its own scheme; the caller asks only for first lines
    if !rest.is_empty() && kind == BlockKind::Strength {
        return Clock::No;
    }
    let reps: Vec<u32> = group(&c, "list")
        .unwrap_or("")
        .split('-')
        .filter_map(|n| n.trim().parse().ok())
        .filter(|n| *n > 0)
        .collect();
    if reps.is_empty() {
        return Clock::No;
    }
    let format = if is_scored(group(&c, "how"), kind) || (said && kind == BlockKind::Workout) {
        Format::Scheme { reps }
    } else {
        Format::Quality { rounds: 1, scheme: reps }
    };
    let at = c.name("rest").map_or(place(&c).end, |m| m.start());
    Clock::Is(format, (!rest.is_empty()).then(|| line.from(at)))
}
