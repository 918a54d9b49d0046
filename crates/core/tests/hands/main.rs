//! Sheets in hands that the reader was not built on, each with what is read: printed back, and how many errors. Looked at by
//! hand; a change here is a change of what coaches get.

mod days;
mod habits;

use days::SHEETS;
use habits::HABITS;
use lantern_core::sheet::{print, read};

#[test]
fn what_other_hands_type_is_read_as_they_mean_it() {
    for (typed, want, errors) in SHEETS.into_iter().chain(HABITS) {
        let r = read(typed);
        let got = print(&r.sheet);
        assert_eq!(got.trim_end(), want, "{typed}");
        let found = r.problems.iter().filter(|p| p.severity == lantern_core::sheet::Severity::Error).count();
        assert_eq!(found, errors, "{typed}: {:?}", r.problems);
    }
}

#[test]
fn what_is_printed_reads_the_same() {
    for (typed, want, errors) in SHEETS.into_iter().chain(HABITS) {
        if errors == 0 {
            let again = print(&read(want).sheet);
            assert_eq!(again.trim_end(), want, "{typed}");
        }
    }
}

#[test]
fn nothing_that_holds_work_is_lost_without_a_word() {
    let said = |text: &str, words: &str| {
        let r = read(text);
        assert!(r.problems.iter().any(|p| p.message.contains(words)), "{text}: {:?}", r.problems);
    };
    said("10 x 100m plod, walk back\n3 rounds for time\n10 burpees", "session's name");
    said(
        "3 rounds for time\n10 burpees\nand if there is any time left over at the end you could do 20 sit-ups on the mat please",
        "names “20 sit-ups",
    );
    said("5 rounds for time\n10 deadlifts 1.5x bodyweight\n10 burpees", "shares of body mass");
    said("3 rounds for time\n10 rows\n10 burpees", "10 of what?");
    said(
        "3 rounds for time\n10 lunges with a sandbag 20/10\n10 burpees",
        "kept the weight on this line in words",
    );
    said("In pairs: P1 200m run while P2 AMRAP 5 pullups, 10 pushups. 24 min.", "did not use the length");
    said("4x 400m run\n", "in one go");
    said("6 rounds for time, rest 1:1\n250 m row\n10 burpees", "keep this rest in words");
    said("AMRAP 12\n10 burpees\n12 min", "did not use this length");
    said("AMRAP 9: 9 front squats 60/40, 18 sit-ups -- rest 3 -- repeat", "did not use “repeat");
    said("8 min EMOM: 5 box jumps odd / 10 burpees even", "did not use “odd");
    said("20 min: build to a heavy complex of 1 power clean + 1 jerk", "no maximum of a chain");
    said("5 rounds, 0 min each station\nburpees\nrow (cals)", "needs its length");
    said("for time\n9999999 m row", "over 50000 metres");
    said("for time\n1001 burpees", "over 1000 reps");
    said("0:30 on 0:30 off\nwall balls\nsit-ups", "needs its length");
}
