//! Lines around the work: parts, buy-in and cash-out, what is done after a round, minutes of an alternating clock,
//! interruptions, the price of a break, pairs and teams, ladders of load.

use super::clean::Line;
use super::model::{Team, TeamMode, WeightUnit, When};
use super::quantity::{Pattern, TIME, catch, group, has_any, pattern, place, read_clock, read_number};
use super::windows::read_windows;
use crate::units::KG_PER_LB;
use regex::Captures;

pattern!(
    THEN,
    r"^(?:and\s+then|then|straight\s+into|into|part\s+(?:[2-9]|[b-h]))\b\s*(?:straight\s+into|directly)?\s*[:,)-]?\s*(?P<line>.*)$"
);
pattern!(FIRST_PART, r"^part\s+(?:1|a|one)\b\s*[:,)-]?\s*(?P<line>.*)$");
pattern!(BUY_IN, r"^buy\s*-?\s*in\b\s*(?:with\b)?\s*[:,-]?\s*(?P<line>.+)$");
pattern!(
    CASH_OUT,
    r"^(?:cash\s*-?\s*out\b|to\s+finish\b|finish\s+with\b)\s*(?:with\b)?\s*[:,-]?\s*(?P<line>.+)$"
);
pattern!(
    AROUND_AFTER,
    r"^(?P<line>.+?)\s*(?:[,(]|\bas\s+an?\b)?\s*(?P<what>buy\s*-?\s*in|cash\s*-?\s*out)\)?$"
);
pattern!(
    AFTER_ROUND,
    r"^after\s+(?:the\s+)?(?:rounds?\s+(?P<n>\d{1,3}|one|two|three|four|five)|(?P<ord>1st|first|2nd|second|3rd|third|4th|fourth|last|final|each|every)\s+round)\s*(?:only)?\s*[:,-]?\s*(?P<line>.+)$"
);
pattern!(
    EACH_MORE,
    r"^(?:(?:each|every|per)\s+round\s*[:,]?\s*(?:you\s+)?(?:add\b|\+)|add\b|\+)\s*(?P<line>.+?)\s*(?P<each>,?\s*\(?(?:each|every|per|a)\s+round\)?)?$"
);
pattern!(
    MINUTE,
    r"^(?:(?:min(?:ute)?s?|m)\s*\.?\s*(?P<k>\d{1,2}(?:\s*(?:,|and|&|\+|/)\s*\d{1,2})*)|(?P<odd>odd|even)(?:\s+min(?:ute)?s?)?)\s*[:.)=-]\s*(?P<line>.+)$"
);
pattern!(
    ON_MINUTE,
    r"^(?:(?:on|at)\s+(?:the\s+(?:top|start)\s+of\s+)?(?:every|each|the)|every|each)\s+(?:(?P<t>",
    TIME,
    r")|min(?:ute)?)(?:\s*,?\s*on\s+the\s+min(?:ute)?)?\s*(?P<from>,?\s*\(?(?:from|starting\s+(?:at|from)|start(?:ing)?\s+with)\s+(?:0:00|:00|zero|0|the\s+start)\)?)?(?:,?\s*\(?(?:from|starting\s+(?:at|from))\s+1:00\)?)?\s*(?P<colon>[:,-])?\s*(?P<line>(?:\d|max\b|[a-z]).*)$"
);
pattern!(
    ON_BREAK,
    r"^(?:(?:on|for|at|after|with)?\s*(?:a\s+)?(?:every|each|any)\s+(?:set\s+)?breaks?(?:\s+of\s+a\s+set)?|penalty(?:\s+(?:on|for|per)\s+(?:every|each|a)\s+break)?|(?:every|each|any)\s*time\s+(?:you|the\s+(?:bar|ball))\s+(?:break|stop|drops?|puts?|comes?|rest)[a-z ]*?)\s*(?:[:,-]|do\b)\s*(?P<line>.+)$"
);
pattern!(
    TEAM,
    r"(?:\b(?:in|as|with)\s+(?:an?\s+)?)?\b(?:pairs\b|partners\b|(?:with\s+a|as\s+a)\s+(?:partner|pair)\b|pair\s+up\b|teams?\s+of\s+(?P<n>\d|two|three|four|five|six)\b|(?P<m>\d|two|three|four)\s*-?\s*(?:person|people)\s+teams?\b|trios?\b|threes\b)"
);
pattern!(
    ALTERNATE,
    r"\b(?:alternat(?:e|ing)|switch(?:ing)?|swap(?:ping)?|trad(?:e|ing))\s*(?:full\s+|whole\s+|every\s+|each\s+|after\s+(?:each|every)\s+)?(?:rounds?|movements?|lines?)\b|\b(?:i|you)\s+go\s*,?\s*(?:then\s+)?(?:i|you)\s+go\b"
);
pattern!(
    ONE_WORKS,
    r"\bone\s+(?:person\s+|partner\s+|athlete\s+|member\s+)?(?:works?|working|at\s+a\s+time|on)\b(?:\s+at\s+a\s+time)?(?:\s*,?\s*(?:the\s+|while\s+)?(?:others?|one|two|rest)?\s*rests?)?|\bonly\s+one\s+works\b"
);
pattern!(
    SHARE,
    r"\b(?:shar(?:e|ing)|split(?:ting)?|partition)\s*(?:all\s+)?(?:of\s+)?(?:the\s+)?(?:reps|work|load|rounds|total)?(?:\s+(?:as\s+(?:needed|you\s+like|desired)|how\s+you\s+like|any\s+way|between\s+you|evenly|anyhow))?|\bshared\s+reps\b"
);
pattern!(
    LADDER,
    r"^(?P<name>[a-z][a-z &'-]*?)??\s*(?P<word>\bladder\b)?\s*(?:of\b)?\s*[:,]?\s*(?P<n>\d{1,3})\s*(?:x\s*)?(?P<reps>reps?)?\s*(?P<each>each|(?:at|with)\s+each)?\s*(?:of\s+(?P<of>[a-z][a-z -]*?))?\s*(?P<at>at\b|@|with\b|:)\s*(?P<loads>",
    r"(?:\d{1,4}(?:\.\d{1,2})?(?:\s*/\s*\d{1,4}(?:\.\d{1,2})?)?\s*(?:kgs?|lbs?|#)?(?:\s*(?:,|;|-|then|and|&)+\s*)?){2,})\s*(?P<unit>kgs?|lbs?|pounds?|#)?\s*[:,]?\s*(?P<after>[a-z].*)?$"
);
pattern!(
    RUNGS,
    r"(?P<a>\d{1,4}(?:\.\d{1,2})?)(?:\s*/\s*(?P<b>\d{1,4}(?:\.\d{1,2})?))?\s*(?P<u>kgs?|lbs?|#)?"
);

/// What a line says about the structure of the workout.
pub(super) enum Said {
    /// A new part, and what else stood on the line.
    Then(Option<Line>),
    /// Words for the first part; what else stood on the line.
    FirstPart(Option<Line>),
    /// Work around the list.
    Around(When, Line),
    /// Work at the end of every round.
    EndOfRound(Line),
    /// Work of some minutes of an alternating clock, from 1; of two in turn for odd and even.
    Minutes(Vec<u32>, Line),
    /// The same reps at each of several loads.
    Ladder(Ladder),
}

/// The same reps at each of several loads in kg, [heavier, lighter].
pub(super) struct Ladder {
    pub reps: f64,
    pub loads: Vec<[f64; 2]>,
    /// The movement, when it stands on the line.
    pub movement: Option<Line>,
}

/// Reads a line around the work. `clocked`: the part has a clock with no cycles, which a minute can interrupt.
pub(super) fn read_structure(line: &Line, clocked: bool, units: WeightUnit) -> Option<Said> {
    let low = line.low.as_str();
    let rest = |c: &Captures<'_>| line.from(c.name("line").map_or(line.text.len(), |m| m.start()));
    // a line that begins with a number is work, but for what stands behind it
    if low.starts_with(|c: char| c.is_ascii_digit())
        && !has_any(low, &["buy", "cash", "ladder", "rep", "each"])
    {
        return None;
    }
    let filled = |l: Line| (!l.text.is_empty()).then_some(l);
    if let Some(c) = catch(&THEN, low) {
        return Some(Said::Then(filled(rest(&c))));
    }
    if let Some(c) = catch(&FIRST_PART, low) {
        return Some(Said::FirstPart(filled(rest(&c))));
    }
    if let Some(c) = catch(&BUY_IN, low) {
        return Some(Said::Around(When::BuyIn, rest(&c)));
    }
    if let Some(c) = catch(&CASH_OUT, low) {
        return Some(Said::Around(When::CashOut, rest(&c)));
    }
    if has_any(low, &["buy", "cash"])
        && let Some(c) = catch(&AROUND_AFTER, low)
    {
        let when = if group(&c, "what")?.starts_with('b') { When::BuyIn } else { When::CashOut };
        let m = c.name("line")?;
        return Some(Said::Around(when, line.slice(m.start(), m.end())));
    }
    if let Some(c) = catch(&AFTER_ROUND, low) {
        return Some(after_round(&c, rest(&c)));
    }
    if let Some(c) = catch(&EACH_MORE, low)
        && (group(&c, "each").is_some() || !low.starts_with(['a', '+']))
    {
        let m = c.name("line")?;
        return Some(Said::Around(When::EachRoundMore, line.slice(m.start(), m.end())));
    }
    if let Some(c) = catch(&MINUTE, low) {
        let minutes = match group(&c, "odd") {
            Some("odd") => vec![1],
            Some(_) => vec![2],
            None => group(&c, "k")?
                .split(|ch: char| !ch.is_ascii_digit())
                .filter_map(|k| k.parse().ok())
                .filter(|k| *k > 0)
                .collect(),
        };
        return (!minutes.is_empty()).then(|| Said::Minutes(minutes, rest(&c)));
    }
    if let Some(c) = catch(&ON_BREAK, low) {
        return Some(Said::Around(When::OnBreak, rest(&c)));
    }
    if let Some(c) = catch(&ON_MINUTE, low)
        && read_windows(low).is_none()
        && (low.starts_with("on") || low.starts_with("at") || (clocked && group(&c, "colon").is_some()))
    {
        let every_s = group(&c, "t").and_then(|t| read_clock(t, 60.0)).unwrap_or(60).max(1);
        let when = When::OnTheClock { every_s, from_zero: group(&c, "from").is_some() };
        return Some(Said::Around(when, rest(&c)));
    }
    ladder(line, units).map(Said::Ladder)
}

fn after_round(c: &Captures<'_>, work: Line) -> Said {
    let word = group(c, "n").or(group(c, "ord")).unwrap_or("1");
    match word {
        "each" | "every" => Said::EndOfRound(work),
        "last" | "final" => Said::Around(When::CashOut, work),
        _ => Said::Around(When::AfterRound(small_number(word).unwrap_or(1).max(1)), work),
    }
}

fn small_number(word: &str) -> Option<u32> {
    const WORDS: [(&str, u32); 12] = [
        ("one", 1),
        ("first", 1),
        ("1st", 1),
        ("two", 2),
        ("second", 2),
        ("2nd", 2),
        ("three", 3),
        ("third", 3),
        ("3rd", 3),
        ("four", 4),
        ("fourth", 4),
        ("4th", 4),
    ];
    WORDS.iter().find(|(w, _)| *w == word).map(|(_, n)| *n).or_else(|| match word {
        "five" => Some(5),
        "six" => Some(6),
        _ => word.parse().ok(),
    })
}

fn ladder(line: &Line, units: WeightUnit) -> Option<Ladder> {
    if !has_any(&line.low, &["ladder", "rep", "each"]) {
        return None;
    }
    let c = catch(&LADDER, &line.low)?;
    // without the word, reps at several loads must be said outright; a single load or a band is none
    let said = group(&c, "word").is_some()
        || (group(&c, "each").is_some() || group(&c, "reps").is_some()) && group(&c, "at").is_some();
    let list = c.name("loads")?;
    let text = line.low.get(list.range())?;
    if !said || !text.contains([',', ';', '-', '&']) && !text.contains("then") && !text.contains("and") {
        return None;
    }
    let reps = group(&c, "n").and_then(read_number)?;
    let last_unit = group(&c, "unit").map(str::to_owned).or_else(|| {
        RUNGS.as_ref()?.captures_iter(text).filter_map(|r| group(&r, "u").map(str::to_owned)).last()
    });
    let pounds = match last_unit.as_deref() {
        Some(u) => u.starts_with(['l', 'p', '#']),
        None => units == WeightUnit::Lb,
    };
    let f = if pounds { KG_PER_LB } else { 1.0 };
    let loads: Vec<[f64; 2]> = RUNGS
        .as_ref()?
        .captures_iter(text)
        .filter_map(|r| {
            let a = group(&r, "a").and_then(read_number)?;
            let b = group(&r, "b").and_then(read_number).unwrap_or(a);
            Some([a * f, b * f].map(|v| (v * 100.0).round() / 100.0))
        })
        .collect();
    if loads.len() < 2 || loads.iter().flatten().any(|v| *v <= 0.0) {
        return None;
    }
    let movement = ["name", "of", "after"].iter().find_map(|g| {
        let m = c.name(g)?;
        let part = line.slice(m.start(), m.end());
        (!part.text.is_empty() && part.low != "ladder").then_some(part)
    });
    Some(Ladder { reps, loads, movement })
}

/// What a line says about the people who do the workout together.
pub(super) struct Together {
    pub team: Team,
    /// The line does not say how they divide the work.
    pub unsaid: bool,
    /// The line without it.
    pub rest: Line,
}

/// Takes pairs and teams out of a line. `before`: the block has a team already, so its mode may stand alone.
pub(super) fn take_team(line: &Line, before: Option<Team>) -> Option<Together> {
    const WORDS: [&str; 13] = [
        "pair", "team", "partner", "trio", "threes", "altern", "switch", "swap", "trad", " go", "one ",
        "shar", "split",
    ];
    if !has_any(&line.low, &WORDS) && !line.low.contains("partition") {
        return None;
    }
    let mut rest = line.clone();
    // words in brackets belong to a movement
    let bracket = line.low.find('(').unwrap_or(line.low.len());
    let size = match catch(&TEAM, line.low.get(..bracket).unwrap_or_default()) {
        Some(c) => {
            let size = group(&c, "n").or(group(&c, "m")).and_then(small_number);
            let word = c.get(0).map_or("", |m| m.as_str());
            let three = word.contains("trio") || word.contains("threes");
            rest.blank(place(&c));
            size.unwrap_or(if three { 3 } else { 2 })
        }
        None => before?.size,
    };
    let modes: [(&Pattern, TeamMode); 3] =
        [(&ALTERNATE, TeamMode::Alternate), (&ONE_WORKS, TeamMode::OneWorks), (&SHARE, TeamMode::Share)];
    let mut mode = None;
    for (pattern, m) in modes {
        if let Some(at) = pattern.as_ref().and_then(|r| r.find(&rest.low)).map(|m| m.range()) {
            rest.blank(at);
            mode = mode.or(Some(m));
        }
    }
    if mode.is_none() && catch(&TEAM, &line.low).is_none() {
        return None;
    }
    let left = rest.low.trim_matches([',', ';', ':', '.', ' ', '-']).len();
    let cut = rest.low.len() - rest.low.trim_start_matches([',', ';', ':', '.', ' ', '-']).len();
    rest = rest.slice(cut, cut + left);
    let unsaid = mode.is_none();
    let team = Team { size: size.clamp(2, 6), mode: mode.unwrap_or(TeamMode::Share) };
    Some(Together { team, unsaid, rest })
}
