//! The words of the pages, explained in one place.

use crate::app::App;
use crate::error::Page;
use crate::frame::{Area, Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::Data;
use askama::Template;
use lantern_store::gym;

/// Words by where they stand first: (anchor, word, what it means).
type Group = (&'static str, &'static [(&'static str, &'static str, &'static str)]);

const WORDS: [Group; 5] = [
    (
        "The day",
        &[
            (
                "stimulus",
                "Stimulus",
                "What the workout should do to everybody: how long it takes, how its sets are broken, and what limits it. Every version keeps it.",
            ),
            (
                "target",
                "Target, window",
                "The times or scores between which somebody had the stimulus. It is the sheet’s, the coach’s own, or inferred and said to be so.",
            ),
            ("cap", "Cap", "The time at which the clock stops for whoever is not done."),
            (
                "on-stimulus",
                "On stimulus",
                "Ending inside the target. A share such as 3.2 of 6 adds up the members’ chances: that many can be expected.",
            ),
            ("in-ten", "5 in 10", "Out of ten days like this one, on so many it comes true."),
            (
                "inferred",
                "Inferred",
                "The sheet does not say it; it was worked out from the kind of clock, the amount of work and the loads. Change it where it is wrong.",
            ),
            (
                "change-over",
                "Change-over",
                "Plates off, kit out, lanes set: the minutes between lifting and the workout.",
            ),
            (
                "heat",
                "Heat",
                "A part of the class that does the workout while the others wait or help; the next one follows.",
            ),
            (
                "spare",
                "Spare, over",
                "Minutes that the parts leave of the hour, or that they need beyond it.",
            ),
        ],
    ),
    (
        "Versions",
        &[
            (
                "full",
                "Full, Trim, Base",
                "Three versions of one workout: as it is written, with some of it less, and one that anybody here can begin with. All three keep the stimulus.",
            ),
            (
                "own-line",
                "Line of their own",
                "Something that one member does otherwise than their version: a limit, a weight that is too much, a movement they do not have yet.",
            ),
            (
                "scale-this",
                "Scale this",
                "The work is so far beyond somebody that no time is foretold. Choose another version or another line.",
            ),
            (
                "lever",
                "Lever",
                "What may be changed: weight, movement, height, counts, rounds, time. Which goes first is a judgement call of the hall.",
            ),
            (
                "judgement-call",
                "Judgement call",
                "A question on which good coaches differ. The hall answers it once under Settings; a class may differ for a day.",
            ),
        ],
    ),
    (
        "Strength",
        &[
            (
                "base",
                "Base of a lift, 100 %",
                "The weight of which percentages are taken: a tested maximum, a maximum worked out from a best set or from another lift, or a default of the level.",
            ),
            ("1rm", "1RM", "The weight that somebody can lift once."),
            ("build-up", "Build-up", "Lighter sets before the working sets, from the empty bar."),
            (
                "reserve",
                "Reps in reserve",
                "How many more reps somebody could have done when they put the weight down.",
            ),
            (
                "each-side",
                "Each side",
                "Plates for one sleeve of the bar, in the order in which hands put them on.",
            ),
        ],
    ),
    (
        "Pace and range",
        &[
            (
                "range",
                "80 % range",
                "Eight results of ten should fall between its ends. One in ten is quicker, one in ten slower. It is wide while little is known.",
            ),
            ("likely", "Likely", "The middle of the range: as many results fall before it as after it."),
            (
                "checkpoint",
                "Checkpoint",
                "A place in the work at which the clock is looked at: a round, or a line of a list.",
            ),
            (
                "cut",
                "Cut",
                "One short thing that is called out to somebody late, after which they still end inside the target. Their result is not judged by the range then.",
            ),
            ("from-results", "From results", "Narrowed or moved by what members really did here."),
            ("tested", "Tested", "Known from a test of this member: a maximum, a best set, a timed run."),
            ("estimated", "Estimated", "Worked out from something else that was tested on this member."),
            ("assumed", "Assumed", "A default of the level: nothing of this member is known of it."),
        ],
    ),
    (
        "The record",
        &[
            ("inside", "Inside", "A result that fell into the range shown before it."),
            (
                "verdict",
                "Kept, not shown to be broken, broken",
                "Whether the promise of 8 in 10 holds: results prove it, results do not disprove it, or they do.",
            ),
            (
                "left-out",
                "Left out",
                "A result from which nothing is learnt: other work than planned, or not a normal day.",
            ),
            (
                "said-came",
                "Said, came",
                "The chance that was shown, and in how many of 100 such cases it came true.",
            ),
        ],
    ),
];

#[derive(Template)]
#[template(path = "words.html")]
struct WordsPage {
    frame: Frame,
    groups: &'static [Group],
}

/// `GET /words`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let hall = gym::find(conn, who.gym())?;
        Ok(WordsPage { frame: Frame::new(&who, &hall, Area::Settings, "Words"), groups: &WORDS })
    })
    .await?;
    html(&page)
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::BTreeSet;

    #[test]
    fn every_word_that_a_page_points_to_is_explained() {
        let known: BTreeSet<&str> = WORDS.iter().flat_map(|g| g.1).map(|w| w.0).collect();
        assert_eq!(
            known.len(),
            WORDS.iter().map(|g| g.1.len()).sum::<usize>(),
            "each has a place of its own"
        );
        let mut pointed = BTreeSet::new();
        let mut folders = vec![std::path::PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/templates"))];
        while let Some(folder) = folders.pop() {
            for path in std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().path()) {
                if path.is_dir() {
                    folders.push(path);
                    continue;
                }
                let text = std::fs::read_to_string(&path).unwrap();
                let anchors = text.split("/words#").skip(1).filter_map(|rest| rest.split('"').next());
                pointed.extend(anchors.map(str::to_owned));
            }
        }
        assert!(pointed.len() >= 12, "{pointed:?}");
        let lost: Vec<_> = pointed.iter().filter(|p| !known.contains(p.as_str())).collect();
        assert!(lost.is_empty(), "{lost:?}");
    }
}
