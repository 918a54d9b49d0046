//! The clock of a block: the line that says for time, rounds, reps, as much as possible, or with care.

use super::clean::Line;
use super::model::{BlockKind, Format};
use super::quantity::{TIME, catch, group, pattern, place, read_clock};

pattern!(
    ROUNDS,
    r"^(?P<n>\d{1,4})\s*(?:(?P<rft>rft)|(?:rounds?|rds?)\b)\s*(?:of\b)?\s*(?P<how>for\s+time|for\s+quality|not\s+for\s+time)?\s*(?:of\b)?\s*[:,.]?\s*$"
);
pattern!(
    SCHEME,
    r"^(?P<list>\d{1,4}(?:\s*-\s*\d{1,4})+)\s*(?:reps?\b)?\s*(?P<how>for\s+time|for\s+quality|not\s+for\s+time)?\s*(?:of\b)?\s*(?P<end>[:,.]?)\s*(?P<rest>.*)$"
);
pattern!(
    COUNTDOWN,
    r"^(?P<a>\d{1,3})\s+(?:down\s+)?to\s+(?P<b>\d{1,3})\s*(?:reps?\s*)?(?P<how>for\s+time)?\s*(?:of\b)?\s*[:,.]?\s*$"
);
pattern!(FOR_TIME, r"^for\s+time\s*(?:of\b)?\s*[:,.]?\s*$");
pattern!(QUALITY, r"^(?:for\s+quality|not\s+for\s+time)\s*[:,.]?\s*$");
pattern!(
    AMRAP,
    r"^(?:(?:amrap|as\s+many\s+(?:rounds|reps)(?:\s+and\s+reps)?\s+as\s+possible)\s*(?:in|of|for)?\s*:?\s*(?P<t>",
    TIME,
    r")|(?P<u>",
    TIME,
    r")\s*(?:of\s+)?amrap)\s*(?:of\b)?\s*[:,.]?\s*$"
);
// the formats and structures of the sheet language that are not read yet, each with what to call it
pattern!(EVERY, r"^(?:emom|e\d?mom|e\d+m?om|every\b|alternating\b)");
pattern!(
    WINDOWS,
    r"^(?:intervals?\b|stations?\b)|\bon\b.*\boff\b|^:?\d{1,3}(?::\d{2})?\s*/\s*:?\d{1,3}(?::\d{2})?\s*x\s*\d+"
);
pattern!(MANY_AMRAPS, r"^\d{1,2}\s*x\s*(?:\d+\S*\s*)?amrap");
pattern!(PARTS, r"^then\b");
pattern!(
    STRUCTURE,
    r"^(?:buy\s*-?\s*in|cash\s*-?\s*out|after\s+round|each\s+round|minutes?\s+\d+|on\s+every|on\s+the\s+minute)\b"
);
pattern!(TEAMS, r"^(?:in\s+)?(?:pairs?|teams?|partners?|with\s+a\s+partner)\b");
pattern!(LADDER, r"\bladder\b.*\bat\b");
pattern!(BUILD, r"\bbuild(?:ing)?\s+(?:up\s+)?to\b|\bfind\s+(?:a|your)\s+\d+\s?rm\b");

/// What a line says about the clock.
pub(super) enum Clock {
    /// A format, and what else stood on the line.
    Is(Format, Option<Line>),
    /// One that is not read yet.
    NotYet(&'static str),
    /// Nothing.
    No,
}

fn is_scored(how: Option<&str>, kind: BlockKind) -> bool {
    match how {
        Some(h) => h.starts_with("for") && h.ends_with("time"),
        None => matches!(kind, BlockKind::Workout | BlockKind::Skill | BlockKind::Strength),
    }
}

/// Reads the clock line of a block (cap and target already taken out of it).
pub(super) fn read_format(line: &Line, kind: BlockKind) -> Clock {
    let low = line.low.trim();
    let what = not_yet(low);
    if let Some(what) = what {
        return Clock::NotYet(what);
    }
    if catch(&FOR_TIME, low).is_some() {
        return Clock::Is(Format::Chipper, None);
    }
    if catch(&QUALITY, low).is_some() {
        return Clock::Is(Format::Quality { rounds: 1, scheme: Vec::new() }, None);
    }
    if let Some(c) = catch(&ROUNDS, low) {
        let n = group(&c, "n").and_then(|n| n.parse().ok()).unwrap_or(1).clamp(1, 1000);
        let scored = group(&c, "rft").is_some() || is_scored(group(&c, "how"), kind);
        let format =
            if scored { Format::Rounds { n } } else { Format::Quality { rounds: n, scheme: Vec::new() } };
        return Clock::Is(format, None);
    }
    if let Some(c) = catch(&AMRAP, low) {
        let t = group(&c, "t").or(group(&c, "u")).and_then(|t| read_clock(t, 60.0)).unwrap_or(0);
        return if t > 0 { Clock::Is(Format::Amrap { seconds: t }, None) } else { Clock::No };
    }
    if let Some(c) = catch(&COUNTDOWN, low) {
        let n = |g| group(&c, g).and_then(|n| n.parse::<u32>().ok()).unwrap_or(1).clamp(1, 200);
        let (a, b) = (n("a"), n("b"));
        let reps = if a >= b { (b..=a).rev().collect() } else { (a..=b).collect() };
        return Clock::Is(Format::Scheme { reps }, None);
    }
    scheme(line, low, kind)
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

fn not_yet(low: &str) -> Option<&'static str> {
    let list: [(&super::quantity::Pattern, &str); 8] = [
        (&EVERY, "Work that starts on the clock is"),
        (&WINDOWS, "Work and rest windows are"),
        (&MANY_AMRAPS, "Repeated windows are"),
        (&PARTS, "Workouts in several parts are"),
        (&STRUCTURE, "This structure of a workout is"),
        (&TEAMS, "Work in pairs and teams is"),
        (&LADDER, "A ladder of loads is"),
        (&BUILD, "A build to a maximum of the day is"),
    ];
    list.into_iter().find(|(p, _)| catch(p, low).is_some()).map(|(_, what)| what)
}
