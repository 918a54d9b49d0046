//! The rooms of the versions stand one above the other: nothing is used from a room above.
#![allow(clippy::unwrap_used, clippy::indexing_slicing)] // a test may fail loudly

use std::path::Path;

/// From the ground up.
const ROOMS: [&str; 4] = ["work", "predict", "scale", "search"];

/// `(file, what it uses from above)` of every file of a room.
fn upward(versions: &Path) -> Vec<(String, String)> {
    let mut out = Vec::new();
    for (i, room) in ROOMS.iter().enumerate() {
        for entry in std::fs::read_dir(versions.join(room)).unwrap() {
            let path = entry.unwrap().path();
            let text = std::fs::read_to_string(&path).unwrap();
            for above in &ROOMS[i + 1..] {
                for way in ["crate::versions::", "super::super::", "super::"] {
                    let used = format!("{way}{above}");
                    let whole = |at: usize| {
                        let next = text[at + used.len()..].chars().next();
                        next.is_none_or(|c| !c.is_alphanumeric() && c != '_')
                    };
                    if text.match_indices(&used).any(|(at, _)| whole(at)) {
                        out.push((path.display().to_string(), used));
                    }
                }
            }
            // what stands at the top of the house is of all rooms
            if text.contains("use crate::versions::{") {
                out.push((path.display().to_string(), "crate::versions::{".to_owned()));
            }
        }
    }
    out
}

#[test]
fn nothing_is_used_from_a_room_above() {
    let versions = Path::new(env!("CARGO_MANIFEST_DIR")).join("src/versions");
    assert_eq!(upward(&versions), Vec::<(String, String)>::new());
}

#[test]
fn reasons_and_their_words_know_nothing_of_how_they_were_found() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut all = vec![src.join("reason.rs")];
    files(&src.join("say"), &mut all);
    assert!(all.len() > 3, "{all:?}");
    for path in all {
        let text = std::fs::read_to_string(&path).unwrap();
        for above in ["versions", "loads", "plan", "warmup", "stimulus", "roster", "kit"] {
            assert!(!text.contains(&format!("crate::{above}")), "{} uses {above}", path.display());
        }
    }
}

/// Every file of core.
fn files(dir: &Path, out: &mut Vec<std::path::PathBuf>) {
    for entry in std::fs::read_dir(dir).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            files(&path, out);
        } else {
            out.push(path);
        }
    }
}

#[test]
fn what_is_remembered_is_keyed_by_text_that_leaves_nothing_out() {
    let mut all = Vec::new();
    files(&Path::new(env!("CARGO_MANIFEST_DIR")).join("src"), &mut all);
    let own = |p: &&std::path::PathBuf| std::fs::read_to_string(p).unwrap().contains("Debug for ");
    let by_hand: Vec<_> = all.iter().filter(own).map(|p| p.file_name().unwrap().to_str().unwrap()).collect();
    assert_eq!(
        by_hand,
        ["memo.rs"],
        "a Debug written by hand may hide a field from the memo's key: derive it"
    );
}
