//! What halls have stored is read for ever: decisions, settings, results, the inputs and the answer of a held class, as each was
//! written on the day in its name. A file here is never written anew; a new form gets a new file
//! (`WRITE_STORED=2027-01 cargo test -p lantern-core --test stored` writes those that a plan gives).

#![allow(clippy::unwrap_used, clippy::panic, clippy::expect_used)] // a test may fail loudly

use chrono::NaiveDate;
use lantern_core::held::{Blocks, Inputs};
use lantern_core::kinds::Limit;
use lantern_core::kit::Kit;
use lantern_core::logbook::Outcome;
use lantern_core::pacing::Level;
use lantern_core::plan::{Class, Decision, PlanAnswer, answer, plan};
use lantern_core::roster::{Best, Max, Member};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::units::Standard;
use serde::de::DeserializeOwned;
use std::fs;
use std::path::PathBuf;

fn folder() -> PathBuf {
    PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("tests/stored")
}

/// Every stored form of a kind, oldest first.
fn all<T: DeserializeOwned>(kind: &str) -> Vec<(String, T)> {
    let mut out: Vec<(String, T)> = fs::read_dir(folder())
        .unwrap()
        .map(|e| e.unwrap().file_name().into_string().unwrap())
        .filter(|n| n.starts_with(kind))
        .map(|n| {
            let text = fs::read_to_string(folder().join(&n)).unwrap();
            let read =
                serde_json::from_str(&text).unwrap_or_else(|e| panic!("{n} is not read any more: {e}"));
            (n, read)
        })
        .collect();
    out.sort_by(|a, b| a.0.cmp(&b.0));
    assert!(!out.is_empty(), "nothing is stored of {kind}");
    out
}

const SHEET: &str = "# strength\nfront squat 5 x 3 @ 78-82% of 1RM, every 2:30\n\n# workout \"Quay\" cap 12:00\n3 rounds for time\n10 burpees\n12 power clean 60/42.5 kg";

fn inputs() -> Inputs {
    let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
    let mut m = Member::unknown("Ada Vell", Standard::Lighter, Level::Seasoned);
    m.id = "01939e2c-0000-7000-8000-000000000001".into();
    m.limits = vec![Limit::Knee];
    m.maxes = vec![Max { lift: "front-squat".into(), kg: 80.0, reps: 1, reserve: 0, date: Some(date) }];
    m.unbroken = vec![Best { movement: "pull-up".into(), reps: 9.0, date: None }];
    let class = Class {
        members: vec![m],
        kit: Kit::usual(),
        date,
        length_s: Some(3600),
        recent_drills: vec![vec!["inchworm".into()]],
        cycles: Vec::new(),
    };
    let blocks = Blocks::default().align(&read(SHEET).sheet.blocks);
    Inputs {
        sheet: SHEET.into(),
        choices: Vec::new(),
        blocks,
        class,
        settings: Settings::default(),
        runs: 24,
        seed: 7,
    }
}

#[test]
fn new_forms_are_written_when_asked() {
    let Ok(day) = std::env::var("WRITE_STORED") else { return };
    let i = inputs();
    let planned = answer(&plan(&read(&i.sheet).sheet, &i.class, &i.settings, &[], i.options()));
    for (kind, text) in [
        ("inputs", serde_json::to_string_pretty(&i).unwrap()),
        ("plan", serde_json::to_string_pretty(&planned).unwrap()),
    ] {
        let to = folder().join(format!("{kind}-{day}.json"));
        assert!(!to.exists(), "{} is stored already", to.display());
        fs::write(to, text + "\n").unwrap();
    }
}

#[test]
fn every_decision_ever_stored_is_read_and_said() {
    for (file, list) in all::<Vec<Decision>>("decisions") {
        for d in list {
            assert!(!d.says(|_| "Ada".to_owned()).is_empty(), "{file}");
            let again: Decision = serde_json::from_value(serde_json::to_value(&d).unwrap()).unwrap();
            assert_eq!(again, d, "{file}");
        }
    }
    // each kind of today stands in some file
    let text: String = fs::read_dir(folder())
        .unwrap()
        .map(|e| e.unwrap().path())
        .filter(|p| p.file_name().unwrap().to_string_lossy().starts_with("decisions"))
        .map(|p| fs::read_to_string(p).unwrap())
        .collect();
    for kind in [
        "version",
        "length",
        "swap-drill",
        "load",
        "rack",
        "school",
        "fit",
        "stimulus",
        "part-stimulus",
        "suggest-again",
        "cap",
        "less",
        "halves",
        "heats",
        "starts",
        "pairs",
        "leave",
        "running",
    ] {
        assert!(text.contains(&format!("\"kind\": \"{kind}\"")), "{kind}");
    }
}

#[test]
fn settings_and_results_ever_stored_are_read() {
    let settings = all::<Settings>("settings");
    // what an early hall did not have is as usual
    assert_eq!(settings[0].1.class_s, 3000);
    assert_eq!(settings[0].1.runs, Settings::default().runs);
    let texts: Vec<String> =
        all::<Vec<Outcome>>("outcomes").iter().flat_map(|(_, o)| o).map(Outcome::text).collect();
    assert_eq!(texts, ["8:42", "cap 4+12", "7+3", "143", "82.5 kg", "out"]);
}

#[test]
fn a_class_held_long_ago_is_planned_and_shown_as_it_was() {
    for (file, i) in all::<Inputs>("inputs") {
        let sheet = read(&i.sheet).sheet;
        let p = plan(&sheet, &i.class, &i.settings, &[], i.options());
        assert_eq!(p.members.len(), i.class.members.len(), "{file}");
        assert_eq!(p.workouts.len(), 1, "{file}");
        assert!(i.blocks.id(0).is_some() && i.blocks.id(1).is_some(), "{file}");
    }
    for (file, p) in all::<PlanAnswer>("plan") {
        // what is judged by it is still there: who, and the range that was promised
        let ada = p.members.iter().find(|m| m.name == "Ada Vell").unwrap_or_else(|| panic!("{file}: nobody"));
        let [foretold] = ada.predictions.as_slice() else { panic!("{file}: {:?}", ada.predictions) };
        assert!(foretold.deciles.is_sorted() && foretold.deciles[0] > 0.0, "{file}: {foretold:?}");
        assert_eq!((foretold.block, Some(foretold.tier)), (1, ada.tier), "{file}");
        assert_eq!((p.strength.len(), p.versions.len()), (1, 3), "{file}");
    }
}
