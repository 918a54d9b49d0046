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
