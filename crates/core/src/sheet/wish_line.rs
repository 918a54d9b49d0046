//! Lines that say what the workout should be like: target, cap, sets, unbroken, pace, round, limit, score.

use super::clean::Line;
use super::model::{Block, Score, Target, TargetUnit, Wish};
use super::movement_line::problem;
use super::problem::{Problem, Severity};
use super::quantity::{NUM, TIME, catch, group, has_any, pattern, place, read_clock, read_number};
use crate::movement::{Found, catalogue};
use regex::Captures;

pattern!(CAP, r"(?:(?:\btime\s*)?\bcap|\btime\s+limit|\bt\.?c\.?)\s*:?\s*(?:of\s+)?(?P<t>", TIME, r")");
pattern!(TIME_CAP, r"(?P<t>", TIME, r")\s*(?:time\s*)?cap\b");
pattern!(
    TARGET,
    r"\btarget\s*:?\s*(?P<under>under|below|<=?|≤)?\s*(?P<a>",
    TIME,
    r")(?:\s*(?:-|to)\s*(?P<b>",
    TIME,
    r"))?(?P<plus>\s*\+)?\s*(?P<unit>rounds?|rds?|reps?)?"
);
pattern!(SETS, r"^sets\s*:?\s*(?P<m>.+?)\s*(?:<=?|≤|max|at most)\s*(?P<n>\d{1,2})(?:\s*sets?)?$");
pattern!(
    UNBROKEN,
    r"^unbroken\s*:\s*(?P<m>[a-z][a-z0-9 -]*?)\s*(?:(?:>=?|≥|at least)\s*(?P<share>half|all|\d{1,3}\s*%|",
    NUM,
    r"))?$"
);
pattern!(LEAST_REST, r"^rest\s*:?\s*(?:>=?|≥|at least)\s*(?P<t>", TIME, r")");
pattern!(PACE, r"^pace\s*:?\s*(?:>=?|≥|at least)?\s*(?P<n>", NUM, r")\s*reps?\s*(?:/|per|a)\s*min");
pattern!(ROUND, r"^rounds?\s*:?\s*(?:<=?|≤|at most|under)\s*(?P<t>", TIME, r")");
pattern!(LIMIT, r"^limit(?:ed by)?\s*:\s*(?P<what>.+)$");
pattern!(SCORE, r"^score\s*:?\s*(?P<what>.+)$");

/// Takes `cap` and `target` out of a line into the block; what stays keeps its columns.
pub(super) fn take_cap_and_target(line: &Line, block: &mut Block, problems: &mut Vec<Problem>) -> Line {
    let mut rest = line.clone();
    if rest.low.contains("target")
        && let Some(c) = catch(&TARGET, &rest.low)
    {
        let at = place(&c);
        read_target(line, &c, block, problems);
        rest.blank(at);
    }
    if let Some(c) = catch_cap(&rest.low) {
        let at = place(&c);
        let seconds = group(&c, "t").and_then(|t| read_clock(t, 60.0));
        if seconds.is_some_and(|s| s < 30) {
            let message =
                "A cap under 0:30 leaves no time to work. Check it; a bare number is minutes.".to_owned();
            problems.push(problem(line, at.start, at.end, Severity::Warning, message));
        }
        block.cap_s = seconds.filter(|s| *s > 0).or(block.cap_s);
        rest.blank(at);
    }
    rest.from(0)
}

fn read_target(line: &Line, c: &Captures<'_>, block: &mut Block, problems: &mut Vec<Problem>) {
    let at = place(c);
    let (a, b) = (group(c, "a").unwrap_or(""), group(c, "b"));
    let unit = match group(c, "unit").map(|u| u.as_bytes().first().copied()) {
        Some(Some(b'r')) if group(c, "unit").is_some_and(|u| u.starts_with("rep")) => TargetUnit::Reps,
        Some(_) => TargetUnit::Rounds,
        None => TargetUnit::Seconds,
    };
    // "90-120 s": a unit on the second figure stands for both
    let tail = b.map_or("", |t| t.trim_start_matches(|ch: char| ch.is_ascii_digit() || ch == ':').trim());
    let read = |t: &str| match unit {
        TargetUnit::Seconds if t.trim().bytes().all(|x| x.is_ascii_digit()) && !tail.is_empty() => {
            read_clock(&format!("{t}{tail}"), 60.0).map(f64::from)
        }
        TargetUnit::Seconds => read_clock(t, 60.0).map(f64::from),
        _ => read_number(t),
    };
    let (mut low, mut high) = (read(a), b.and_then(read));
    if group(c, "under").is_some() {
        (low, high) = (None, low);
    }
    if let (Some(l), Some(h)) = (low, high)
        && l > h
    {
        (low, high) = (Some(h), Some(l));
        let message = "The target runs from high to low. I read it the right way round.".to_owned();
        problems.push(problem(line, at.start, at.end, Severity::Warning, message));
    }
    block.target = Some(Target { unit, low, high });
    if let (Some(cap), TargetUnit::Seconds) = (block.cap_s.or_else(|| cap_in(line)), unit)
        && high.is_some_and(|h| h > f64::from(cap))
    {
        let message = format!(
            "The target ends after the cap of {}. Raise the cap or lower the target.",
            crate::units::clock(f64::from(cap))
        );
        problems.push(problem(line, at.start, at.end, Severity::Error, message));
    }
}

/// `cap 12:00` goes before `12:00 cap`: a number before the word may be that of the workout.
fn catch_cap(low: &str) -> Option<Captures<'_>> {
    if !has_any(low, &["cap", "limit", "tc", "t.c"]) {
        return None;
    }
    catch(&CAP, low).or_else(|| catch(&TIME_CAP, low))
}

fn cap_in(line: &Line) -> Option<u32> {
    catch_cap(&line.low).and_then(|c| group(&c, "t").and_then(|t| read_clock(t, 60.0)))
}

/// A stimulus or score line; whether it was one.
pub(super) fn read_wish(line: &Line, block: &mut Block, problems: &mut Vec<Problem>) -> bool {
    let low = line.low.as_str();
    if low.starts_with(|c: char| c.is_ascii_digit()) {
        return false;
    }
    let mut known = |c: &Captures<'_>| -> Option<String> {
        let m = c.name("m")?;
        let words: Vec<&str> = m.as_str().split_whitespace().collect();
        if let Found::Movement { id, .. } = catalogue().find(&words, false) {
            return Some(id);
        }
        let message = format!("I do not know “{}”.", m.as_str());
        let mut p = problem(line, m.start(), m.end(), Severity::Error, message);
        p.suggestions =
            catalogue().nearest(m.as_str(), 3).iter().map(|m| catalogue().written(&m.id)).collect();
        problems.push(p);
        None
    };
    if let Some(c) = catch(&SETS, low) {
        if let (Some(movement), Some(sets)) = (known(&c), group(&c, "n").and_then(|n| n.parse().ok())) {
            block.wishes.push(Wish::MostSets { movement, sets });
        }
    } else if let Some(c) = catch(&UNBROKEN, low) {
        let share = match group(&c, "share") {
            Some("half") => 0.5,
            None | Some("all") => 1.0,
            Some(v) if v.ends_with('%') => {
                read_number(v.trim_end_matches('%').trim()).unwrap_or(100.0) / 100.0
            }
            Some(v) => read_number(v).unwrap_or(1.0),
        };
        if let Some(movement) = known(&c) {
            block.wishes.push(Wish::UnbrokenShare { movement, share: share.clamp(0.0, 1.0) });
        }
    } else if let Some(seconds) = time(&LEAST_REST, low) {
        block.wishes.push(Wish::LeastRest { seconds });
    } else if let Some(n) = catch(&PACE, low).and_then(|c| group(&c, "n").and_then(read_number)) {
        block.wishes.push(Wish::LeastPace { reps_per_min: n });
    } else if let Some(seconds) = time(&ROUND, low) {
        block.wishes.push(Wish::LongestRound { seconds });
    } else if let Some(c) = catch(&LIMIT, low) {
        block.wishes.push(Wish::Limit { what: group(&c, "what").unwrap_or("").trim().to_owned() });
    } else if let Some(c) = catch(&SCORE, low) {
        read_score(line, &c, block, problems);
    } else {
        return false;
    }
    true
}

fn time(pattern: &super::quantity::Pattern, low: &str) -> Option<u32> {
    catch(pattern, low).and_then(|c| group(&c, "t").and_then(|t| read_clock(t, 60.0)))
}

fn read_score(line: &Line, c: &Captures<'_>, block: &mut Block, problems: &mut Vec<Problem>) {
    let what = group(c, "what").unwrap_or("").trim().trim_end_matches('.');
    let what = what.replace('+', " and ").split_whitespace().collect::<Vec<_>>().join(" ");
    let same = |s: &Score| {
        s.words() == what
            || (what == "rounds" && *s == Score::RoundsAndReps)
            || (what == "cals" && *s == Score::Calories)
    };
    match Score::ALL.into_iter().find(same) {
        Some(score) => block.score = Some(score),
        None => {
            let m = c.name("what").map_or(0..1, |m| m.range());
            let mut p =
                problem(line, m.start, m.end, Severity::Error, format!("I do not know the score “{what}”."));
            p.suggestions = Score::ALL.iter().map(|s| s.words().to_owned()).collect();
            p.message.push_str(" Write time, rounds and reps, reps, load or none.");
            problems.push(p);
        }
    }
}
