//! A line of work: `COUNT MOVEMENT [LOAD] [MODIFIER...]`, in the orders in which people type it.

use super::clean::Line;
use super::model::{Count, Load, MoveLine, Named, WeightUnit, WordLoad};
use super::modifiers::{modifiers, word_load, words_end};
use super::problem::{Problem, Severity};
use super::quantity::{NUM, catch, group, has_any, pattern, place, read_clock, read_number};
use crate::movement::{Found, Movement, canonical_words, catalogue};
use crate::units::Unit;
use regex::Captures;

pattern!(
    COUNT,
    r"^(?:(?P<max>max(?:imum)?)\s+(?:reps?\s+)?(?:of\s+)?|(?P<scheme>\d{1,4}(?:\s*-\s*\d{1,4})+)(?:\s+|$)|(?P<clock>\d{0,3}:\d{2})\s+(?:of\s+)?|(?P<a>",
    NUM,
    r")(?:\s*/\s*(?P<b>",
    NUM,
    r"))?\s*(?:(?P<side>/\s*(?:side|arm|leg)|(?:per|each|e/?)\s*(?:side|arm|leg))|(?P<unit>km|kilometers?|kilometres?|metres?|meters?|m|feet|foot|ft|miles?|mi|calories|calorie|cals?|kcal|reps?|seconds?|secs?|s|minutes?|mins?|x))?(?:\s+(?:of\s+)?|$))"
);
pattern!(
    TAIL_COUNT,
    r"^\s*(?:(?:\d{1,2}\s*x\s*)?(?P<max>max)\b|x\s*(?P<x>\d{1,4})\s*(?:$|[,(])|(?:x\s*)?(?P<a>",
    NUM,
    r")\s*(?P<unit>km|metres?|meters?|m|feet|ft|miles?|mi|calories|cals?|kcal|reps?|seconds?|secs?|s)\b)"
);
pattern!(
    STOP,
    r"\s*(?:@|\bat\s+\d|\(|\)|\[|\sx\s*\d|\s-?\d|\s:\d|,|;|\b(?:tempo|unbroken|alternating|from|with|light|moderate|heavy|each\s+side|per\s+side)\b)"
);
pattern!(
    RISING,
    r"\s*,?\s*(?:\(\s*(?P<a>[+-]\s*\d{1,3})\s*(?:reps?|m|cals?|s)?\s*(?:(?:each|per|every|a|/)\s*(?:round|cycle))?\s*\)|(?:add(?:ing)?\s+|increas(?:e|ing)\s+by\s+)?(?P<b>[+-]\s*\d{1,3})\s*(?:reps?|m|cals?|s)?\s*(?:each|per|every|a|/)\s*(?:round|cycle|rd)s?\b|\b(?:add(?:ing)?|increas(?:e|ing)\s+by)\s+(?P<c>\d{1,3})\s*(?:reps?|m|cals?|s)?\s*(?:each|per|every|a|/)\s*(?:round|cycle|rd)s?\b)"
);
pattern!(
    TRAILING_UNIT,
    r"^(?P<u>cals?|calories|calorie|kcal|m|metres?|meters?|reps?|s|secs?|seconds?)\b\s*(?P<more>.*)$"
);
pattern!(SETS_OF, r"^(?P<n>\d{1,2})\s*(?:x|sets?\s+of)\s*(?:of\s+)?");
pattern!(NEXT_WORK, r"(?:\s*[,;]\s+|\s+\+\s+)(?:\d|:\d|max\b)");

/// What a line of work is read in.
pub(super) struct Around {
    /// Unit of loads without one.
    pub units: WeightUnit,
    /// The format gives the reps.
    pub scheme: bool,
    /// Drills and prose are welcome: warm-ups, cool-downs, skill, accessory.
    pub relaxed: bool,
    /// Still look up near names: costly, so only for the first unknown ones.
    pub suggest: bool,
}

/// The pieces of a line with several movements: `10 burpees, 15 sit-ups`. A piece begins with a count and names a
/// movement of the catalogue; all else stays with the piece before it.
/// Where the format gives the reps (`scheme`), `row and thrusters` are two as well.
pub(super) fn split_work(line: &Line, scheme: bool) -> Vec<Line> {
    if scheme && let Some(two) = two_named(line) {
        return two.to_vec();
    }
    let Some(pattern) = NEXT_WORK.as_ref().filter(|_| has_any(&line.low, &[",", ";", "+"])) else {
        return vec![line.clone()];
    };
    let mut cuts: Vec<(usize, usize)> = Vec::new();
    for m in pattern.find_iter(&line.low) {
        let begin = m.start() + m.as_str().len() - m.as_str().trim_start_matches([',', ';', '+', ' ']).len();
        let piece = line.from(begin);
        let Some(c) = catch(&COUNT, &piece.low) else { continue };
        let head: Vec<&str> = line.low.get(..m.start()).unwrap_or_default().split_whitespace().collect();
        let words: Vec<&str> =
            piece.text.get(place(&c).end..).unwrap_or_default().split_whitespace().collect();
        let inside =
            line.low.get(..m.start()).is_some_and(|t| t.matches('(').count() > t.matches(')').count());
        if !inside && head.len() > 1 && !matches!(catalogue().find(&words, false), Found::Unknown) {
            cuts.push((m.start(), begin));
        }
    }
    let mut pieces = Vec::new();
    let mut from = 0;
    for (end, next) in cuts {
        pieces.push(line.slice(from, end));
        from = next;
    }
    pieces.push(line.from(from));
    pieces
}

/// Two movements joined by `and`, the first without a count.
fn two_named(line: &Line) -> Option<[Line; 2]> {
    let (at, joint) = [" and ", " & ", " + "].iter().find_map(|j| Some((line.low.find(j)?, j)))?;
    let (first, second) = (line.slice(0, at), line.from(at + joint.len()));
    let whole = |l: &Line| -> Vec<String> { l.low.split_whitespace().map(str::to_owned).collect() };
    let names = |l: &Line, all: bool| {
        let words = whole(l);
        let refs: Vec<&str> = words.iter().map(String::as_str).filter(|w| *w != "cal").collect();
        match catalogue().find(&refs, false) {
            Found::Movement { words: n, .. } => !all || n == refs.len(),
            _ => false,
        }
    };
    let joined = whole(line);
    let refs: Vec<&str> = joined.iter().map(String::as_str).collect();
    // clean and jerk is one
    let one =
        matches!(catalogue().find(&refs, false), Found::Movement { words: n, .. } if n > whole(&first).len());
    (!one && catch(&COUNT, &line.low).is_none() && names(&first, true) && names(&second, false))
        .then_some([first, second])
}

/// One line for each load of a ladder.
pub(super) fn ladder_lines(movement: &MoveLine, ladder: &super::structure::Ladder) -> Vec<MoveLine> {
    ladder
        .loads
        .iter()
        .map(|kg| MoveLine {
            count: Some(Count::Each(ladder.reps)),
            load: Some(Load::Kg { kg: *kg, implements: 1 }),
            ..movement.clone()
        })
        .collect()
}

/// What came of a line.
pub(super) enum Outcome {
    /// Work.
    Work(MoveLine),
    /// Words to keep.
    Prose,
}

/// An error at a stretch of a line.
pub(super) fn problem(line: &Line, from: usize, to: usize, severity: Severity, message: String) -> Problem {
    let length = line.text.get(from..to).map_or(1, |s| s.chars().count().max(1)) as u32;
    Problem {
        line: line.number,
        column: line.column(from),
        length,
        severity,
        message,
        suggestions: Vec::new(),
    }
}

fn unit_of(word: &str) -> Option<(Unit, f64)> {
    Some(match word {
        "km" | "kilometer" | "kilometers" | "kilometre" | "kilometres" => (Unit::Metres, 1000.0),
        "m" | "metre" | "metres" | "meter" | "meters" => (Unit::Metres, 1.0),
        "ft" | "feet" | "foot" => (Unit::Metres, 0.3048),
        "mi" | "mile" | "miles" => (Unit::Metres, 1609.0),
        "cal" | "cals" | "calorie" | "calories" | "kcal" => (Unit::Calories, 1.0),
        "s" | "sec" | "secs" | "second" | "seconds" => (Unit::Seconds, 1.0),
        "min" | "mins" | "minute" | "minutes" => (Unit::Seconds, 60.0),
        "rep" | "reps" | "x" => (Unit::Reps, 1.0),
        _ => return None,
    })
}

struct Counted {
    count: Option<Count>,
    unit: Option<Unit>,
    per_side: bool,
    end: usize,
}

fn counted(c: &Captures<'_>) -> Counted {
    let (mut unit, mut count) = (None, None);
    if group(c, "max").is_some() {
        count = Some(Count::Max);
    } else if let Some(scheme) = group(c, "scheme") {
        count = Some(Count::Scheme(scheme.split('-').filter_map(|n| n.trim().parse().ok()).collect()));
    } else if let Some(seconds) = group(c, "clock").and_then(|t| read_clock(t, 1.0)) {
        (count, unit) = (Some(Count::Each(f64::from(seconds))), Some(Unit::Seconds));
    } else if let Some(a) = group(c, "a").and_then(read_number) {
        let read = group(c, "unit").and_then(unit_of);
        let factor = read.map_or(1.0, |(_, f)| f);
        unit = read.map(|(u, _)| u).filter(|u| *u != Unit::Reps);
        count = Some(match group(c, "b").and_then(read_number) {
            Some(b) if b != a => Count::ByStandard([a * factor, b * factor]),
            _ => Count::Each((a * factor * 100.0).round() / 100.0),
        });
    }
    Counted { count, unit, per_side: group(c, "side").is_some(), end: place(c).end }
}

/// The words of a line after its count, in canonical form.
pub(super) fn without_count(low: &str) -> Vec<String> {
    let end = catch(&COUNT, low).map_or(0, |c| place(&c).end);
    let body = low.get(end..).unwrap_or_default();
    canonical_words(body.split('(').next().unwrap_or(body))
}

/// Reads one line of work.
pub(super) fn read_move(line: &Line, around: &Around, problems: &mut Vec<Problem>) -> Outcome {
    let (line, optional) = unwrap_optional(line);
    let line = &line;
    let mut line = line.clone();
    let mut rise = None;
    if has_any(&line.low, &["+", "add", "increas", "round", "cycle", "(-"])
        && let Some(c) = catch(&RISING, &line.low)
    {
        let said = ["a", "b", "c"].iter().find_map(|g| group(&c, g)).unwrap_or("");
        rise = said.replace(['+', ' '], "").parse::<f64>().ok().filter(|r| *r != 0.0);
        let at = place(&c);
        line.blank(at);
    }
    // `5 x 20 s hold`, `4 x 400 m run`: so many times the count that follows
    let mut sets = 1.0;
    if let Some(c) = catch(&SETS_OF, &line.low)
        && let Some(counted) = catch(&COUNT, line.low.get(place(&c).end..).unwrap_or_default())
        && (group(&counted, "a").is_some() || group(&counted, "clock").is_some())
    {
        sets = group(&c, "n").and_then(|n| n.parse::<f64>().ok()).filter(|n| *n >= 1.0).unwrap_or(1.0);
        line = line.from(place(&c).end);
    }
    let line = &line;
    let head = catch(&COUNT, &line.low).map(|c| counted(&c));
    let (mut count, mut unit, mut per_side, start) =
        head.map_or((None, None, false, 0), |h| (h.count, h.unit, h.per_side, h.end));
    if sets > 1.0 {
        count = count.map(|c| match c {
            Count::Each(n) => Count::Each(n * sets),
            Count::ByStandard(n) => Count::ByStandard(n.map(|v| v * sets)),
            other => other,
        });
    }
    let body = line.from(start);
    if unit.is_none()
        && let Some(rest) =
            ["cal ", "cals ", "calorie ", "calories "].iter().find_map(|w| body.low.strip_prefix(w))
    {
        unit = Some(Unit::Calories);
        let at = body.text.len() - rest.len();
        return finish(
            line,
            &body.from(at),
            around,
            problems,
            Partial { count, unit, per_side, optional, rise, word: None },
        );
    }
    if body.low.starts_with("each side ") || body.low.starts_with("per side ") {
        per_side = true;
        let at = body.low.find("side ").map_or(0, |i| i + 5);
        return finish(
            line,
            &body.from(at),
            around,
            problems,
            Partial { count, unit, per_side, optional, rise, word: None },
        );
    }
    let word = word_load(&body.low);
    if let Some((w, len)) = word
        && matches!(named(&body.text), Found::Unknown)
    {
        let part = Partial { count, unit, per_side, optional, rise, word: Some(w) };
        return finish(line, &body.from(len), around, problems, part);
    }
    finish(line, &body, around, problems, Partial { count, unit, per_side, optional, rise, word: None })
}

struct Partial {
    count: Option<Count>,
    unit: Option<Unit>,
    per_side: bool,
    optional: bool,
    rise: Option<f64>,
    word: Option<WordLoad>,
}

fn unwrap_optional(line: &Line) -> (Line, bool) {
    if line.text.starts_with('[') && line.text.ends_with(']') {
        return (line.slice(1, line.text.len() - 1), true);
    }
    match line.low.strip_suffix("(optional)") {
        Some(rest) => (line.slice(0, rest.len()), true),
        None => (line.clone(), false),
    }
}

/// The movement named at the start of `text`, also for `power or squat clean` (the first named).
fn named(text: &str) -> Found {
    let words: Vec<&str> = text.split_whitespace().collect();
    let percent = text.contains('%');
    // `clean & any jerk`: the style is the member's choice
    if let Some(at) = words.iter().position(|w| w.eq_ignore_ascii_case("any")) {
        let mut plain = words.clone();
        plain.remove(at);
        if let Found::Movement { id, words: n, doubt: None } = catalogue().find(&plain, percent)
            && n >= at
        {
            return Found::Movement { id, words: n + 1, doubt: None };
        }
    }
    let found = catalogue().find(&words, percent);
    if found != Found::Unknown {
        return found;
    }
    let Some(at) = words.iter().position(|w| matches!(w.to_ascii_lowercase().as_str(), "or" | "&" | "and"))
    else {
        return found;
    };
    let first = words.get(..at).unwrap_or(&[]);
    for n in 1..=2 {
        let Some(tail) = words.len().checked_sub(n).and_then(|i| words.get(i.max(at + 1)..)) else {
            continue;
        };
        let joined: Vec<&str> = first.iter().chain(tail).copied().collect();
        if let Found::Movement { id, doubt, .. } = catalogue().find(&joined, percent) {
            return Found::Movement { id, words: words.len(), doubt };
        }
    }
    found
}

fn finish(whole: &Line, body: &Line, around: &Around, problems: &mut Vec<Problem>, part: Partial) -> Outcome {
    let stop = STOP.as_ref().and_then(|r| r.find(&body.low)).map_or(body.text.len(), |m| m.start());
    let name = body.text.get(..stop).unwrap_or_default().trim().trim_end_matches(':').trim();
    let end_of = |words: usize| words_end(&body.text, words);
    let mut after = stop;
    let mut extra = None;
    let movement = match named(name) {
        Found::Movement { id, words, doubt } => {
            if let Some((ask, ids)) = doubt {
                let mut p = problem(body, 0, end_of(words), Severity::Warning, String::new());
                p.message =
                    format!("“{name}” could mean several. I read {}. {ask}", catalogue().written(&id));
                p.suggestions = ids.iter().filter(|i| **i != id).map(|i| catalogue().written(i)).collect();
                problems.push(p);
            }
            let end = end_of(words).min(stop);
            let rest = body.text.get(end..stop).unwrap_or_default().trim();
            extra = (!rest.is_empty()).then(|| rest.to_owned());
            Named::Known(id)
        }
        Found::Ask { ask, candidates, words } => {
            let mut p =
                problem(body, 0, end_of(words), Severity::Error, format!("“{name}” names several. {ask}"));
            p.suggestions = candidates.iter().map(|i| catalogue().written(i)).collect();
            problems.push(p);
            Named::Unknown(name.to_owned())
        }
        Found::Unknown => {
            if is_prose(name, &part, around) {
                return Outcome::Prose;
            }
            problems.push(unknown(whole, body, name, around));
            Named::Unknown(if name.is_empty() { body.text.clone() } else { name.to_owned() })
        }
    };
    let row = movement.id().and_then(|id| catalogue().movement(id));
    let mut out = MoveLine {
        unit: part.unit.unwrap_or_else(|| row.map_or(Unit::Reps, default_unit)),
        movement,
        count: part.count,
        rise: part.rise,
        per_side: part.per_side,
        load: part.word.map(Load::Word),
        height_cm: None,
        tempo: None,
        unbroken: false,
        optional: part.optional,
        note: None,
        without_kit: Vec::new(),
        line: whole.number,
    };
    if out.count.is_none()
        && let Some(c) = catch(&TAIL_COUNT, body.low.get(after..).unwrap_or_default())
    {
        let read = counted_tail(&c);
        (out.count, out.unit) = (read.0, read.1.unwrap_or(out.unit));
        after += place(&c).end;
    }
    if out.count.is_none()
        && let Some(words) = &extra
        && let Some(c) = catch(&TRAILING_UNIT, &words.to_ascii_lowercase())
        && let Some((unit, _)) = group(&c, "u").and_then(unit_of)
    {
        // `row cal`, `sandbag carry m`: what is counted
        out.unit = unit;
        extra =
            c.name("more").and_then(|m| words.get(m.range())).map(str::to_owned).filter(|w| !w.is_empty());
    }
    let mut notes: Vec<String> = extra.into_iter().collect();
    modifiers(&body.from(after), around, row, &mut out, &mut notes, problems);
    out.note = (!notes.is_empty()).then(|| notes.join(" "));
    check_count(whole, around, &out, problems);
    Outcome::Work(out)
}

fn counted_tail(c: &Captures<'_>) -> (Option<Count>, Option<Unit>) {
    if group(c, "max").is_some() {
        return (Some(Count::Max), None);
    }
    let (unit, factor) = group(c, "unit").and_then(unit_of).unwrap_or((Unit::Reps, 1.0));
    (group(c, "a").or(group(c, "x")).and_then(read_number).map(|v| Count::Each(v * factor)), Some(unit))
}

/// Machines and holds are counted in their own unit when none is written.
fn default_unit(m: &Movement) -> Unit {
    if m.count_also.contains(&Unit::Reps) { Unit::Reps } else { m.count }
}

/// Lines without a count and without a movement are prose when they read like it.
fn is_prose(name: &str, part: &Partial, around: &Around) -> bool {
    if part.count.is_some() {
        return around.relaxed && matches!(part.count, Some(Count::Each(_)));
    }
    let words = canonical_words(name).len();
    around.relaxed || words > 3 || words == 0 || !around.suggest || catalogue().nearest(name, 1).is_empty()
}

fn unknown(whole: &Line, body: &Line, name: &str, around: &Around) -> Problem {
    if name.is_empty() {
        let message = "A movement is missing. Write what is done after the number.".to_owned();
        return problem(whole, 0, whole.text.len(), Severity::Error, message);
    }
    let near: Vec<String> = if around.suggest {
        catalogue().nearest(name, 3).iter().map(|m| catalogue().written(&m.id)).collect()
    } else {
        Vec::new()
    };
    let short: String = name.chars().take(40).collect();
    let mut message = format!("I do not know “{short}”.");
    match near.as_slice() {
        [] => message.push_str(
            " Write a movement of the catalogue, or put the words in parentheses to keep them as a note.",
        ),
        [one] => message.push_str(&format!(" Did you mean {one}?")),
        [first, rest @ ..] => message.push_str(&format!(" Did you mean {first}, {}?", rest.join(" or "))),
    }
    let mut p = problem(body, 0, name.len().min(body.text.len()), Severity::Error, message);
    p.suggestions = near;
    p
}

fn check_count(line: &Line, around: &Around, out: &MoveLine, problems: &mut Vec<Problem>) {
    let whole = line.text.len();
    let mut say =
        |severity, message: &str| problems.push(problem(line, 0, whole, severity, message.to_owned()));
    match &out.count {
        None if !around.scheme && !around.relaxed => {
            say(
                Severity::Error,
                "A count is missing. Write how many, how far or how long before the movement.",
            );
        }
        Some(Count::Each(n)) if *n <= 0.0 => {
            say(Severity::Error, "A count of 0 is no work. Write at least 1.")
        }
        Some(Count::ByStandard(n)) if n.iter().any(|v| *v <= 0.0) => {
            say(Severity::Error, "A count of 0 is no work. Write at least 1.");
        }
        Some(Count::Scheme(n)) if n.contains(&0) => {
            say(Severity::Error, "A count of 0 is no work. Write at least 1.")
        }
        Some(Count::Each(n)) if out.unit == Unit::Reps && *n > 1000.0 => {
            say(Severity::Warning, "That is over 1,000 reps in one line. Check the number.");
        }
        _ => {}
    }
}
