//! Every reference in the data resolves, and names are found as coaches write them.

use super::*;
use crate::pacing::table;

fn found(text: &str) -> String {
    let words: Vec<&str> = text.split_whitespace().collect();
    match catalogue().find(&words, false) {
        Found::Movement { id, .. } => id,
        other => format!("{other:?}"),
    }
}

#[test]
fn the_embedded_data_parses() {
    let c = Catalogue::parse().expect("data parses");
    assert_eq!(c.movements.len(), 228);
    assert_eq!(c.schools.len(), 12);
}

#[test]
fn every_reference_resolves() {
    let c = catalogue();
    for m in &c.movements {
        for tag in &m.cautions {
            assert!(c.caution(tag).is_some(), "{}: unknown caution {tag}", m.id);
        }
        assert!(table::row(&m.id).is_some(), "{} has no pacing row", m.id);
        assert!((1..=5).contains(&m.skill), "{}", m.id);
    }
    for l in &c.ladders {
        for id in l.covers.iter().chain(l.rungs.iter().map(|r| &r.movement)) {
            assert!(c.movement(id).is_some(), "ladder {}: unknown movement {id}", l.id);
        }
        for w in l.rungs.iter().flat_map(|r| &r.with) {
            assert!(c.movement(&w.movement).is_some(), "ladder {}: unknown movement {}", l.id, w.movement);
        }
        for r in &l.rungs {
            assert!(r.ratio > 0.0 && r.unit_s > 0.0, "ladder {} {}", l.id, r.movement);
            if let (Some(school), Some(option)) = (&r.school, &r.option) {
                let s = c.schools.iter().find(|s| s.id == *school).expect("school exists");
                assert!(s.options.iter().any(|o| &o.id == option), "{school:?} has no option {option}");
            }
        }
    }
    for p in &c.progressions {
        assert!(p.movements.iter().all(|m| c.movement(m).is_some()), "progression {}", p.id);
    }
    for d in &c.drills {
        assert!(d.seconds() >= 10, "drill {}", d.id);
    }
    for a in &c.ambiguous {
        assert!(a.candidates.iter().chain(&a.with_percent).all(|m| c.movement(m).is_some()), "{}", a.word);
        assert!(a.default.is_empty() || c.movement(&a.default).is_some(), "{}", a.word);
    }
    for s in &c.schools {
        assert!(s.options.iter().any(|o| o.id == s.default), "school {:?}", s.id);
    }
}

#[test]
fn every_movement_is_found_by_its_id_name_and_plural() {
    for m in &catalogue().movements {
        assert_eq!(found(&m.id), m.id);
        assert_eq!(found(&m.name), m.id, "{}", m.name);
    }
    assert_eq!(found("Double Unders"), "double-under");
    assert_eq!(found("burpees over the bar"), "burpee-over-bar");
    assert_eq!(found("pullups"), "pull-up");
    assert_eq!(found("t2b"), "toes-to-bar");
    assert_eq!(found("power snatches"), "power-snatch");
    assert_eq!(found("DL"), "deadlift");
}

#[test]
fn a_doubtful_word_says_what_it_could_mean() {
    match catalogue().find(&["clean"], false) {
        Found::Movement { id, doubt: Some((ask, ids)), .. } => {
            assert_eq!(id, "squat-clean");
            assert!(ask.contains("power"));
            assert_eq!(ids, ["squat-clean", "power-clean"]);
        }
        other => panic!("{other:?}"),
    }
    assert!(matches!(catalogue().find(&["pu"], false), Found::Ask { .. }));
    assert!(matches!(catalogue().find(&["squat"], true), Found::Movement { id, .. } if id == "back-squat"));
    assert_eq!(catalogue().find(&["xyzzy"], false), Found::Unknown);
}

#[test]
fn a_typing_slip_finds_its_movement() {
    let near = |t: &str| catalogue().nearest(t, 3).first().map(|m| m.id.clone());
    assert_eq!(near("power claens").as_deref(), Some("power-clean"));
    assert_eq!(near("burpes").as_deref(), Some("burpee"));
    assert_eq!(near("wall bals").as_deref(), Some("wall-ball"));
    assert_eq!(near("qqqqqqqqqqqqqqqqqqqqqq"), None);
}

#[test]
fn every_movement_as_written_on_a_sheet_is_found_again() {
    for m in &catalogue().movements {
        let text = catalogue().written(&m.id);
        let words: Vec<&str> = text.split_whitespace().collect();
        match catalogue().find(&words, false) {
            Found::Movement { id, words: n, .. } => {
                assert_eq!((id, n), (m.id.clone(), words.len()), "{text}")
            }
            other => panic!("{text}: {other:?}"),
        }
    }
}
