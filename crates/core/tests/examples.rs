//! The examples in the doc comments of the reader's kinds of lines are read as they say, and stand in docs/sheet.md.
//!
//! `UPDATE_DOCS=1 cargo test -p lantern-core --test examples` writes them into the page.
#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used, clippy::indexing_slicing)] // a test may fail loudly

use lantern_core::sheet::{Count, Item, MoveLine, Score, TargetUnit, TeamMode, When, Who, answer, read};
use lantern_core::units::{Unit, pair, plain};

/// Kinds of lines: the word for the page, and the file whose doc comment holds the examples.
const KINDS: [(&str, &str, &str); 6] = [
    ("headings", "Headings", include_str!("../src/sheet/heading.rs")),
    ("clocks", "Clocks", include_str!("../src/sheet/clock.rs")),
    ("work", "Work", include_str!("../src/sheet/work.rs")),
    ("sets", "Sets of a lift", include_str!("../src/sheet/sets.rs")),
    ("aims", "What the work should be", include_str!("../src/sheet/aim.rs")),
    ("around", "Around the work", include_str!("../src/sheet/around.rs")),
];

/// The rows of a file's table of examples: what is typed, what is read.
fn rows(source: &str) -> Vec<(String, String)> {
    source
        .lines()
        .take_while(|l| l.starts_with("//!"))
        .filter_map(|l| l.strip_prefix("//! | `"))
        .filter_map(|l| {
            let (line, rest) = l.split_once("` | ")?;
            Some((line.to_owned(), rest.trim_end_matches('|').trim().to_owned()))
        })
        .collect()
}

fn block(text: &str) -> lantern_core::sheet::Block {
    let reading = read(text);
    assert!(!reading.has_errors(), "{text}: {:?}", reading.problems);
    reading.sheet.blocks.first().cloned().unwrap_or_else(|| panic!("{text} has no block"))
}

fn heading(line: &str) -> String {
    let text = format!("{line}\n5 minutes easy row");
    read(&text).sheet.blocks.first().map_or("none", |b| b.kind.word()).to_owned()
}

fn clock(line: &str) -> String {
    let a = answer(&read(&format!("# workout\n{line}\n10 burpees\n10 sit-ups")));
    let b = &a.blocks[0];
    let rounds = b.rounds.map_or_else(String::new, |n| format!(" {n}"));
    format!("{}{rounds}", b.format.unwrap_or("none"))
}

fn amount(m: &MoveLine) -> String {
    let unit = match m.unit {
        Unit::Reps => "reps",
        Unit::Metres => "metres",
        Unit::Calories => "calories",
        Unit::Seconds => "seconds",
    };
    let side = if m.per_side { " a side" } else { "" };
    let count = match &m.count {
        Some(Count::Each(n)) => plain(*n),
        Some(Count::ByStandard(c)) => pair(*c),
        Some(Count::Scheme(s)) => format!("{s:?}"),
        Some(Count::Max) => "max".to_owned(),
        None => "?".to_owned(),
    };
    format!("{count} {unit}{side} {}", m.movement.id().unwrap_or("unknown"))
}

fn work(line: &str) -> String {
    let b = block(&format!("# workout\nfor time\n{line}"));
    b.moves().map(amount).collect::<Vec<_>>().join(", ")
}

fn sets(line: &str) -> String {
    let direct = read(&format!("# strength\n{line}"));
    let b = if direct.has_errors() {
        block(&format!("# strength\nback squat\n{line}"))
    } else {
        direct.sheet.blocks[0].clone()
    };
    let reps: Vec<String> = b.lifts.iter().flat_map(|l| &l.reps).map(u32::to_string).collect();
    reps.join(" ")
}

fn aim(line: &str) -> String {
    let b = block(&format!("# workout\nfor time\n50 burpees\n{line}"));
    let open = |v: Option<f64>| v.map_or("-".to_owned(), plain);
    if let Some(t) = b.target {
        let unit = match t.unit {
            TargetUnit::Seconds => "s",
            TargetUnit::Rounds => "rounds",
            TargetUnit::Reps => "reps",
            TargetUnit::Rest => "rest",
        };
        return format!("target {} {} {unit}", open(t.low), open(t.high));
    }
    match (b.cap_s, b.score) {
        (Some(s), _) => format!("cap {s}"),
        (_, Some(s)) => format!("score {}", Score::words(s)),
        _ => "nothing".to_owned(),
    }
}

fn around(line: &str) -> String {
    let clock =
        if line.starts_with("min") || line.starts_with("odd") { "emom 12" } else { "3 rounds for time" };
    let clock = if line.contains("AMRAP") { "" } else { clock };
    let b = block(&format!("# workout\n{clock}\n12 pull-ups\n500 m row\n{line}\n10 sit-ups"));
    if let Some(t) = b.team {
        let how = match t.mode {
            TeamMode::Alternate => "alternate",
            TeamMode::OneWorks => "one-works",
            TeamMode::Share => "share",
        };
        return format!("team {} {how}", t.size);
    }
    if let Some(e) = b.first().extras.first() {
        return match e.when {
            When::BuyIn => "buy-in".to_owned(),
            When::CashOut => "cash-out".to_owned(),
            When::AfterRound(n) => format!("after round {n}"),
            other => format!("{other:?}"),
        };
    }
    if let Some(Who::Level(n)) = b.moves().flat_map(|m| &m.others).map(|o| o.who).next() {
        return format!("level {n}");
    }
    if let Some((kit, _)) = b.moves().flat_map(|m| &m.without_kit).next() {
        return format!("without {kit}");
    }
    if b.format().is_some_and(|f| f.word() == "every-alternating") {
        return "minute 1".to_owned();
    }
    let rest = b.first().items.iter().find_map(|i| match i {
        Item::Rest { seconds } => Some(*seconds),
        Item::Move(_) => None,
    });
    rest.map_or("nothing".to_owned(), |s| format!("rest {s}"))
}

#[test]
fn every_example_is_read_as_its_row_says() {
    let mut wrong = Vec::new();
    for (kind, _, source) in KINDS {
        let all = rows(source);
        assert!(all.len() >= 6, "{kind} has too few examples");
        for (line, want) in all {
            let got = match kind {
                "headings" => heading(&line),
                "clocks" => clock(&line),
                "work" => work(&line),
                "sets" => sets(&line),
                "aims" => aim(&line),
                _ => around(&line),
            };
            if got != want {
                wrong.push(format!("{kind}: {line}: {got}, not {want}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_page_holds_the_examples() {
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/sheet.md");
    let page = std::fs::read_to_string(path).unwrap();
    let (begin, end) = ("<!-- examples, printed from the reader -->\n", "<!-- end of examples -->");
    let from = page.find(begin).expect("the page has its mark") + begin.len();
    let to = page.find(end).expect("the page has its end mark");
    let mut tables = String::new();
    for (_, title, source) in KINDS {
        tables.push_str(&format!("\n### {title}\n\n| typed | read as |\n| --- | --- |\n"));
        for (line, read) in rows(source) {
            tables.push_str(&format!("| `{}` | {read} |\n", line.replace('|', "\\|")));
        }
    }
    tables.push('\n');
    if std::env::var("UPDATE_DOCS").is_ok() {
        std::fs::write(path, format!("{}{tables}{}", &page[..from], &page[to..])).unwrap();
        return;
    }
    assert_eq!(&page[from..to], tables, "run UPDATE_DOCS=1 cargo test -p lantern-core --test examples");
}
