//! What each line of a sheet was read as, in words, and its text with the characters of problems marked.

use crate::draw::esc;
use lantern_core::movement::catalogue;
use lantern_core::sheet::{
    Block, Format, LiftSets, LineKind, MoveLine, Part, Problem, Reading, TeamMode, TotalCount,
};
use lantern_core::units::{clock, pair, plain};
use std::collections::BTreeMap;

/// What each line was read as: (kind, words).
pub(super) fn said(reading: &Reading, text: &str) -> BTreeMap<u32, (&'static str, String)> {
    let mut out = BTreeMap::new();
    for (line, number) in text.lines().zip(1u32..) {
        if line.trim().starts_with("//") {
            out.insert(number, ("", "<span class=\"u\">a comment</span>".to_owned()));
        }
    }
    let lines: Vec<&str> = text.lines().collect();
    for (number, kind) in &reading.lines {
        let low = lines
            .get((*number as usize).saturating_sub(1))
            .map_or_else(String::new, |l| l.trim().to_lowercase());
        if let Some(entry) = line_words(reading, *number, *kind, &low) {
            out.insert(*number, entry);
        }
    }
    out
}

fn line_words(reading: &Reading, number: u32, kind: LineKind, low: &str) -> Option<(&'static str, String)> {
    let s = &reading.sheet;
    let block = s.blocks.iter().rev().find(|b| b.line <= number);
    let part = block.and_then(|b| b.parts.iter().rev().find(|p| p.line <= number).or(b.parts.first()));
    let read_only = || ("", "<span class=\"u\">read</span>".to_owned());
    Some(match kind {
        LineKind::Title => ("Name", format!("<b>{}</b>", esc(s.title.as_deref().unwrap_or_default()))),
        LineKind::Day => day_words(reading, low).unwrap_or_else(read_only),
        LineKind::Heading => block_words(block?),
        LineKind::Note => ("Note", "kept word for word".to_owned()),
        LineKind::Unread => ("Unread", "holds numbers: look at it".to_owned()),
        LineKind::Message => ("To the class", "<span class=\"u\">no work</span>".to_owned()),
        LineKind::Level => ("Level", "beside the work as written".to_owned()),
        LineKind::Bar => ("Weight", "for the lines without one".to_owned()),
        LineKind::Week => {
            let [k, n] = block?.week?;
            ("Cycle", format!("<b>week {k}</b> of {n}"))
        }
        LineKind::Score => ("Score", format!("<b>{}</b>", block?.scored().words())),
        LineKind::Keep => ("Keep", "in every version".to_owned()),
        LineKind::Variant => ("Instead", "where that kit is missing".to_owned()),
        LineKind::Team => {
            let t = block?.team?;
            let how = match t.mode {
                TeamMode::Alternate => "whole rounds in turn",
                TeamMode::OneWorks => "one works, the others rest",
                TeamMode::Share => "the reps of every line shared",
            };
            ("Together", format!("<b>{} people</b>, {how}", t.size))
        }
        LineKind::Part => ("Part", rest_before(part?)),
        LineKind::Rest => {
            let lifts = block.is_some_and(|b| !b.lifts.is_empty());
            ("Rest", if lifts { "between sets".to_owned() } else { "fixed, on the clock".to_owned() })
        }
        LineKind::Build => {
            let b = block?.builds.iter().find(|b| b.line == number)?;
            let name = b.movement.id().map_or_else(String::new, |id| catalogue().name(id));
            let window = b.window_s.map_or_else(String::new, |s| format!(" in {}", clock(f64::from(s))));
            ("Build", format!("<b>{}</b> to the day's heaviest {}{window}", esc(&name), b.reps))
        }
        LineKind::Sets => match block?.lifts.iter().find(|l| l.line == number) {
            Some(l) => ("Sets", lift_words(l)),
            None => read_only(),
        },
        LineKind::Clock => ("Clock", part.and_then(part_words).unwrap_or_default()),
        LineKind::Work | LineKind::Around => match block?.moves().find(|m| m.line == number) {
            Some(m) => (if kind == LineKind::Work { "Work" } else { "Around" }, move_words(block?, part?, m)),
            None => read_only(),
        },
    })
}

fn rest_before(p: &Part) -> String {
    if p.rest_s > 0 {
        format!("next, after <b>{}</b> of rest", clock(f64::from(p.rest_s)))
    } else {
        "next, straight on".to_owned()
    }
}

fn day_words(reading: &Reading, low: &str) -> Option<(&'static str, String)> {
    let key = low.split(':').next().unwrap_or_default().trim();
    let s = &reading.sheet;
    Some(match key {
        "title" | "name" => ("Name", format!("<b>{}</b>", esc(s.title.as_deref().unwrap_or_default()))),
        "date" | "day" => ("When", format!("<b>{}</b>", s.date?.format("%A %-d %B %Y"))),
        "class" | "class length" => ("Class", format!("<b>{}</b>", clock(f64::from(s.class_s?)))),
        "intent" | "feel" | "stimulus" | "goal" | "intention" => {
            ("Stimulus", "<b>Your note</b>, kept word for word".to_owned())
        }
        "units" | "unit" => ("Units", "loads without a unit".to_owned()),
        _ => return None,
    })
}

/// The clock of a part in words.
pub(super) fn part_words(p: &Part) -> Option<String> {
    let t = |s: &u32| clock(f64::from(*s));
    Some(match p.format.as_ref()? {
        Format::Rounds { n } => format!("<b>{n} rounds</b>, clock counts up"),
        Format::Scheme { reps } => {
            let reps: Vec<String> = reps.iter().map(u32::to_string).collect();
            format!("<b>{}</b> for time", reps.join("-"))
        }
        Format::Chipper => "<b>once through</b>, clock counts up".to_owned(),
        Format::Amrap { seconds } => format!("<b>{}</b>, as many rounds as possible", t(seconds)),
        Format::Quality { rounds, .. } if *rounds > 1 => format!("{rounds} rounds with care, unscored"),
        Format::Quality { .. } => "with care, unscored".to_owned(),
        Format::Every { seconds, n } => format!("<b>every {}</b>, {n} times{}", t(seconds), in_all(p)),
        Format::EveryAlternating { seconds, n } => {
            format!("<b>every {}</b>, a line in turn, {n} times{}", t(seconds), in_all(p))
        }
        Format::EveryUntilFailure { seconds } => {
            format!("<b>every {}</b> until a cycle is not finished", t(seconds))
        }
        Format::Intervals { on, off, n } => {
            format!("<b>{n} windows</b> of {}, {} rest{}", t(on), t(off), in_all(p))
        }
        Format::Stations { on, off, rounds } => {
            format!("<b>{rounds} rounds</b> of stations, {} on, {} off{}", t(on), t(off), in_all(p))
        }
        Format::OnOff { on, off, n, alternating } => {
            let how = if *alternating { "in turn" } else { "on each line" };
            format!("<b>{n} times</b> {} on, {} off, {how}{}", t(on), t(off), in_all(p))
        }
        Format::Sets | Format::BuildToMax | Format::ClimbingSingles => return None,
    })
}

fn in_all(p: &Part) -> String {
    p.clock_s().map_or_else(String::new, |s| format!(" · {} in all", clock(f64::from(s))))
}

fn block_words(b: &Block) -> (&'static str, String) {
    let kind = match b.kind.word() {
        "warm-up" => "Warm-up",
        "strength" => "Strength",
        "skill" => "Skill",
        "workout" => "Workout",
        "accessory" => "Accessory",
        _ => "Cool-down",
    };
    let mut parts = Vec::new();
    if let Some(n) = &b.name {
        parts.push(format!("<b>{}</b>", esc(n)));
    }
    if let Some(d) = b.duration_s {
        parts.push(format!("<b>{}</b> set aside", clock(f64::from(d))));
    }
    if let Some(c) = b.cap_s {
        parts.push(format!("<b>cap {}</b>", clock(f64::from(c))));
    }
    if let Some(t) = b.target {
        let s = lantern_core::stimulus::Stimulus::of_sheet(b, t, None);
        parts.push(format!("target {}", s.window_text()));
    }
    if parts.is_empty() {
        parts.extend(part_words(b.first()));
    }
    if parts.is_empty() && !b.lifts.is_empty() {
        let sets: usize = b.lifts.iter().map(|l| l.reps.len()).sum();
        let lifts = if b.lifts.len() == 1 { "1 lift".to_owned() } else { format!("{} lifts", b.lifts.len()) };
        parts.push(format!("<b>{lifts}</b>, {sets} sets"));
    }
    (kind, parts.join(" · "))
}

fn lift_words(l: &LiftSets) -> String {
    let name = l.movement.id().map_or_else(String::new, |id| catalogue().name(id));
    let name =
        l.chain.iter().fold(name, |all, (id, _)| format!("{all} + {}", catalogue().name(id).to_lowercase()));
    let sets = match l.most_reps() {
        _ if l.by_cycle => "sets and percentages from its cycle".to_owned(),
        0 => format!("{} sets of as many as possible", l.reps.len()),
        n if l.even() => format!("{} sets of {n}", l.reps.len()),
        _ => l.reps.iter().map(u32::to_string).collect::<Vec<_>>().join("-"),
    };
    let percent = l.percent.as_ref().map(|p| format!(" at {} %", p.words()));
    let every = l.every_s.map(|s| {
        let n = l.reps.len() as u32;
        format!(" · {n} × {} = {}", clock(f64::from(s)), clock(f64::from(s * n)))
    });
    let forms = l.forms.iter().map(|f| format!("; level {}: {}", f.level, lift_words(&f.sets)));
    let forms: String = forms.collect();
    format!(
        "<b>{}</b>, {sets}{}{}{forms}",
        esc(&name),
        percent.unwrap_or_default(),
        every.unwrap_or_default()
    )
}

fn move_words(b: &Block, p: &Part, m: &MoveLine) -> String {
    let Some(id) = m.movement.id() else { return "of something".to_owned() };
    let total = b.totals().into_iter().find(|t| t.movement == id).and_then(|t| t.count);
    let suffix = match m.unit.suffix() {
        "" => String::new(),
        s => format!(" {s}"),
    };
    let all = match total {
        Some(TotalCount::Each(n)) => format!(" · {}{suffix} in all", plain(n)),
        Some(TotalCount::ByStandard(c)) => format!(" · {}{suffix} in all", pair(c)),
        None => String::new(),
    };
    let load = match &m.load {
        Some(lantern_core::sheet::Load::Kg { kg, typed, .. }) => format!(" at {}", typed.pair_words(*kg)),
        Some(lantern_core::sheet::Load::Percent { percent, .. }) => format!(" at {} %", plain(*percent)),
        _ => String::new(),
    };
    format!(
        "<b>{}</b>{load}{}",
        esc(&catalogue().name(id)),
        if p.rounds() > 1 || m.count.is_none() { all } else { String::new() }
    )
}

/// A line with the meant characters of its problems marked.
pub(super) fn marked(line: &str, problems: &[&Problem]) -> String {
    let chars: Vec<char> = line.chars().collect();
    let mut bad = vec![false; chars.len()];
    for p in problems {
        let from = (p.column as usize).saturating_sub(1);
        for slot in bad.iter_mut().skip(from).take(p.length as usize) {
            *slot = true;
        }
    }
    let mut out = String::new();
    let mut open = false;
    for (c, b) in chars.iter().zip(&bad) {
        if *b != open {
            out.push_str(if *b { "<span class=\"hl-bad\">" } else { "</span>" });
            open = *b;
        }
        out.push_str(&esc(&c.to_string()));
    }
    if open {
        out.push_str("</span>");
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;

    const TEXT: &str = "title: Quay\nintent: steady\n\n# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\nweek 3 of 6\n\n# workout \"Quay\" cap 14:00 target 9:00-12:00\n3 rounds for time\n12 power clean 60/42.5 kg\n12 power claens\nsets: power clean <= 2\nscore: time\n// why";

    fn says(line: u32) -> (&'static str, String) {
        said(&read(TEXT), TEXT).get(&line).cloned().unwrap_or_default()
    }

    #[test]
    fn each_line_says_what_it_was_read_as() {
        assert_eq!(says(1), ("Name", "<b>Quay</b>".to_owned()));
        assert_eq!(says(2).0, "Stimulus");
        assert_eq!(says(3), ("", String::new()));
        assert_eq!(says(4), ("Strength", "<b>1 lift</b>, 5 sets".to_owned()));
        assert_eq!(
            says(5),
            ("Sets", "<b>Front squat</b>, 5 sets of 3 at 78 to 82 % · 5 × 2:30 = 12:30".to_owned())
        );
        assert_eq!(says(6), ("Cycle", "<b>week 3</b> of 6".to_owned()));
        assert_eq!(says(8), ("Workout", "<b>Quay</b> · <b>cap 14:00</b> · target 9:00 to 12:00".to_owned()));
        assert_eq!(says(9), ("Clock", "<b>3 rounds</b>, clock counts up".to_owned()));
        assert_eq!(says(10), ("Work", "<b>Power clean</b> at 60/42.5 kg · 36 in all".to_owned()));
        assert_eq!((says(12).0, says(13).0), ("Keep", "Score"));
        assert!(says(14).1.contains("a comment"));
    }

    #[test]
    fn the_meant_characters_are_marked_and_all_are_escaped() {
        let r = read("# workout\nfor time\n10 <b> & co");
        let p: Vec<&Problem> = r.problems.iter().filter(|p| p.line == 3).collect();
        let m = marked("10 <b> & co", &p);
        assert!(
            m.contains("<span class=\"hl-bad\">") && m.contains("&lt;b&gt;") && !m.contains("<b>"),
            "{m}"
        );
        assert_eq!(marked("plain", &[]), "plain");
    }

    #[test]
    fn a_sheet_without_headings_says_its_clock_where_the_work_begins() {
        let text = "21-15-9 for time\nthrusters 40/30\npull-ups";
        let all = said(&read(text), text);
        assert!(all[&1].1.contains("21-15-9"), "{all:?}");
        assert_eq!(all[&2].0, "Work");
    }
}
