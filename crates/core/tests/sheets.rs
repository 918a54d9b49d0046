//! Whole sheets as hurried coaches type them: those in `accepted` are read as their snapshots say (each checked by
//! hand), those in `refused` say what is wrong at its place.

#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used)] // a test may fail loudly

use lantern_core::sheet::{BlockAnswer, Problem, Severity, Sheet, Total, TotalCount, answer, print, read};
use proptest::prelude::*;
use std::fmt::Write as _;
use std::fs;
use std::path::PathBuf;

fn sheets(folder: &str) -> Vec<(String, String)> {
    let dir = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/sheets").join(folder);
    let mut all: Vec<(String, String)> = fs::read_dir(dir)
        .unwrap()
        .map(|e| e.unwrap().path())
        .map(|p| {
            let name = p.file_name().unwrap().to_string_lossy().replace(".sheet.txt", "");
            (name, String::from_utf8_lossy(&fs::read(&p).unwrap()).into_owned())
        })
        .collect();
    all.sort();
    assert!(!all.is_empty(), "no sheets in {folder}");
    all
}

/// The sheet without line numbers, and without notes, which may stand elsewhere after printing.
fn bare(sheet: &Sheet) -> serde_json::Value {
    fn strip(v: &mut serde_json::Value) {
        match v {
            serde_json::Value::Object(map) => {
                map.remove("line");
                map.values_mut().for_each(strip);
            }
            serde_json::Value::Array(list) => list.iter_mut().for_each(strip),
            _ => {}
        }
    }
    let mut v = serde_json::to_value(sheet).unwrap();
    strip(&mut v);
    v
}

fn amount(t: &Total) -> String {
    let count = match t.count {
        Some(TotalCount::Each(n)) => n.to_string(),
        Some(TotalCount::ByStandard([a, b])) => format!("{a}/{b}"),
        None => "?".to_owned(),
    };
    let load = t.load_kg.map_or_else(String::new, |[a, b]| format!(" @ {a}/{b} kg"));
    format!("{count} {} {}{load}", t.unit.word(), t.movement)
}

/// A block's answer in a few lines, so that a person can check it against the sheet.
fn block_text(b: &BlockAnswer) -> String {
    let mut out = format!("{} {}", b.kind, b.format.unwrap_or("-"));
    let mut say = |what: &str, value: Option<String>| {
        if let Some(v) = value {
            let _ = write!(out, " | {what} {v}");
        }
    };
    say("name", b.name.clone());
    say("rounds", b.rounds.map(|v| v.to_string()));
    say("clock", b.duration_s.map(|v| format!("{v} s")));
    say("rest", Some(b.fixed_rest_s).filter(|v| *v > 0).map(|v| format!("{v} s")));
    say("cap", b.cap_s.map(|v| format!("{v} s")));
    say("target", b.target.as_ref().map(|t| format!("{:?} {:?} {}", t.low, t.high, t.unit)));
    say("score", b.score.map(str::to_owned));
    say("team", b.team.as_ref().map(|t| format!("{} {}", t.size, t.mode)));
    say(
        "parts",
        Some(b.parts.iter().filter_map(|p| p.format).collect::<Vec<_>>().join(", "))
            .filter(|p| !p.is_empty()),
    );
    for t in &b.totals {
        let _ = write!(out, "\n  {}", amount(t));
    }
    for t in &b.per_round {
        let _ = write!(out, "\n  a round: {}", amount(t));
    }
    out
}

fn problem_text(p: &Problem) -> String {
    let mut out = format!("{}:{} {:?}: {}", p.line, p.column, p.severity, p.message);
    if !p.suggestions.is_empty() {
        let _ = write!(out, " -> {}", p.suggestions.join(" / "));
    }
    out
}

fn in_short(text: &str) -> String {
    let a = answer(&read(text));
    let mut lines: Vec<String> = Vec::new();
    lines.extend(a.title.map(|t| format!("title {t}")));
    lines.extend(a.date.map(|d| format!("date {d}")));
    lines.extend(a.blocks.iter().map(block_text));
    lines.extend(a.problems.iter().map(problem_text));
    lines.join("\n")
}

#[test]
fn accepted_sheets_answer_as_their_snapshots_say() {
    for (name, text) in sheets("accepted") {
        assert!(!read(&text).has_errors(), "{name}: {}", in_short(&text));
        insta::assert_snapshot!(name, in_short(&text));
    }
}

#[test]
fn refused_sheets_say_what_is_wrong_at_its_place() {
    for (name, text) in sheets("refused") {
        let reading = read(&text);
        let errors: Vec<_> = reading.problems.iter().filter(|p| p.severity == Severity::Error).collect();
        assert!(!errors.is_empty(), "{name} is read without a problem");
        for e in errors {
            let line = text.lines().nth(e.line as usize - 1).unwrap_or("");
            assert!(
                e.column as usize + e.length as usize <= line.chars().count() + 2,
                "{name}: {e:?} lies outside its line"
            );
        }
        insta::assert_snapshot!(name, in_short(&text));
    }
}

#[test]
fn every_accepted_sheet_survives_printing() {
    for (name, text) in sheets("accepted") {
        let first = read(&text);
        if first.has_errors() {
            continue;
        }
        let printed = print(&first.sheet);
        let again = read(&printed);
        assert_eq!(bare(&first.sheet), bare(&again.sheet), "{name} printed as\n{printed}");
        assert_eq!(printed, print(&again.sheet), "{name}");
    }
}

fn movement() -> impl Strategy<Value = String> {
    let names: Vec<String> = lantern_core::movement::catalogue()
        .movements
        .iter()
        .map(|m| lantern_core::movement::catalogue().written(&m.id))
        .collect();
    prop::sample::select(names)
}

fn line() -> impl Strategy<Value = String> {
    let load = prop_oneof![
        Just(String::new()),
        (10u32..120, 5u32..80).prop_map(|(a, b)| format!(" {a}/{b} kg")),
        (5u32..40).prop_map(|a| format!(" 2 x {a} kg")),
        (30u32..200).prop_map(|a| format!(" {a} lb")),
        (40u32..95).prop_map(|p| format!(" @ {p}% of 1rm")),
        Just(" light".to_owned()),
    ];
    let more = prop_oneof![
        Just(""),
        Just(", unbroken"),
        Just(", tempo 3-1-X-0"),
        Just(", each side"),
        Just(" (stay tall)")
    ];
    let count = prop_oneof![
        (1u32..200).prop_map(|n| n.to_string()),
        (1u32..50).prop_map(|n| format!("{n} cal")),
        (50u32..2000).prop_map(|n| format!("{n} m")),
        (10u32..90).prop_map(|n| format!("{n} s")),
        (1u32..40, 1u32..30).prop_map(|(a, b)| format!("{a}/{b} cal")),
        Just("max".to_owned()),
    ];
    (count, movement(), load, more).prop_map(|(c, m, l, t)| format!("{c} {m}{l}{t}"))
}

fn at(s: u32) -> String {
    format!("{}:{:02}", s / 60, s % 60)
}

fn clock() -> impl Strategy<Value = String> {
    prop_oneof![
        (1u32..12).prop_map(|n| format!("{n} rounds for time")),
        Just("for time".to_owned()),
        prop::collection::vec(1u32..40, 2..6)
            .prop_map(|v| format!("{} for time", v.iter().map(u32::to_string).collect::<Vec<_>>().join("-"))),
        (60u32..1800).prop_map(|s| format!("amrap {}", at(s))),
        (1u32..6).prop_map(|n| format!("{n} rounds for quality")),
        (20u32..400, 1u32..20).prop_map(|(s, n)| format!("every {} x {n}", at(s))),
        (20u32..400, 1u32..20).prop_map(|(s, n)| format!("every {} x {n}, alternating", at(s))),
        (20u32..400).prop_map(|s| format!("every {} until failure", at(s))),
        (60u32..400, 5u32..200, 1u32..9).prop_map(|(a, b, n)| format!(
            "intervals {} on / {} off x {n}",
            at(a),
            at(b)
        )),
        (20u32..200, 0u32..90, 1u32..6).prop_map(|(a, b, n)| format!(
            "stations {} on / {} off, {n} rounds",
            at(a),
            at(b)
        )),
        (10u32..89, 5u32..60, 1u32..12).prop_map(|(a, b, n)| format!("{a}/{b} x {n}, alternating")),
        (10u32..89, 5u32..60, 1u32..12).prop_map(|(a, b, n)| format!(":{a:02} on :{b:02} off x {n}")),
    ]
}

fn block() -> impl Strategy<Value = String> {
    let rest = (5u32..200).prop_map(|s| format!("rest {}:{:02}", s / 60, s % 60));
    let around = (
        prop::sample::select(vec![
            "buy-in",
            "cash-out",
            "after round 2",
            "on every minute",
            "on every break",
        ]),
        line(),
    )
        .prop_map(|(w, l)| format!("{w}: {l}"));
    let part = (10u32..200, clock(), line()).prop_map(|(s, c, l)| format!("rest {}\nthen\n{c}\n{l}", at(s)));
    let team = prop::sample::select(vec![
        "pairs, alternate rounds",
        "teams of 3, one works",
        "pairs, share the reps",
    ])
    .prop_map(str::to_owned);
    let rising = (1u32..30, 1u32..9, movement()).prop_map(|(n, r, m)| format!("{n}, +{r} each round {m}"));
    let item = prop_oneof![
        8 => line(),
        2 => rest,
        2 => Just("score: reps".to_owned()),
        2 => movement().prop_map(|m| format!("sets: {m} <= 2")),
        2 => around,
        1 => part,
        1 => team,
        2 => rising,
    ];
    (clock(), prop::collection::vec(item, 1..7), 300u32..1500, any::<bool>()).prop_map(
        |(c, items, cap, quoted)| {
            let name = if quoted { " \"Grey Water\"" } else { "" };
            format!("# workout{name} cap {}:{:02}\n{c}\n{}\n", cap / 60, cap % 60, items.join("\n"))
        },
    )
}

fn strength() -> impl Strategy<Value = String> {
    let lifts =
        prop::sample::select(vec!["front squat", "back squat", "deadlift", "strict press", "power clean"]);
    (lifts, 1u32..9, 1u32..9, 40u32..90, 1u32..10, 60u32..240).prop_map(|(l, s, r, p, w, e)| {
        format!(
            "# strength 18:00\n{l} {s} x {r} @ {p}-{}% of 1rm, every {}:{:02}\nweek 2 of 6\n",
            p + w,
            e / 60,
            e % 60
        )
    })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn what_is_printed_reads_as_the_same_session(lift in strength(), work in prop::collection::vec(block(), 1..3)) {
        let text = format!("title: Long Quay\ndate: 2026-03-04\nclass: 60:00\n\n{lift}\n{}", work.join("\n"));
        let first = read(&text).sheet;
        let printed = print(&first);
        prop_assert_eq!(bare(&first), bare(&read(&printed).sheet), "printed as\n{}", printed);
    }

    #[test]
    fn reading_anything_ends_with_problems_inside_the_text(text in ".{0,400}") {
        let lines = text.split('\n').count() as u32;
        for p in read(&text).problems {
            prop_assert!(p.line >= 1 && p.line <= lines.max(1) && p.column >= 1 && p.length >= 1);
            let _ = p.apply(&text, 0);
        }
    }

    #[test]
    fn reading_scraps_of_the_language_never_fails(words in prop::collection::vec(prop::sample::select(vec![
        "3 rounds", "for time", "\n", "# ", "strength", "workout", ":", "cap", "12:00", "0", "-", "@", "%", "78-82%",
        "of 5rm", "front squat", "5 x 3", "5-5-3", "every", "2:30", "rest", "sets:", "<=", "(", ")", "\"", "/", "60",
        "kg", "lb", "2 x", "thrusters", "t2b", "max", "amrap", "tempo 3-1-X-0", "each side", "[", "]", "no barbell:",
        "// why", "target", "under", "999999", "é", "🏋", "\t", "cal", "m", "'", ", ", "emom 12", "then", "week 3 of 6",
    ]), 0..40)) {
        let text = words.join(" ");
        let first = read(&text);
        let _ = answer(&first);
        let _ = read(&print(&first.sheet));
    }
}
