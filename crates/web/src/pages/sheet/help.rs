//! The compact help of the editor: examples that are read as they are shown, and the words that typing completes.

use super::words::said;
use lantern_core::movement::catalogue;
use lantern_core::sheet::read;
use serde::Serialize;

/// What may be written, a line each; an example of two lines needs both.
const EXAMPLES: [(&str, &str); 22] = [
    ("A block", "# workout \"Quay\" cap 14:00 target 9:00-12:00"),
    ("Rounds", "3 rounds for time"),
    ("Falling reps", "21-15-9 for time"),
    ("As many rounds as possible", "amrap 12:00"),
    ("On a clock", "every 1:30 x 10"),
    ("A line a minute", "emom 12 alternating"),
    ("Until a cycle fails", "every 2:30 until failure"),
    ("Windows", "intervals 3:00 on / 1:00 off x 5"),
    ("Stations", "stations 1:00 on / 0:30 off, 4 rounds"),
    ("Short windows", "20/10 x 8, alternating"),
    ("With care", "3 rounds for quality"),
    ("Sets", "front squat 5 x 3 @ 78-82% of 1rm, every 2:30"),
    ("A maximum of the day", "back squat build to 3rm in 15:00"),
    ("Work", "12 power clean 60/42.5 kg"),
    ("Two standards", "15/12 cal row"),
    ("Rising", "10 wall ball 9/6 kg, +2 each round"),
    ("Before and after", "buy-in: 800 m run"),
    ("Every minute", "on every minute: 5 burpees"),
    ("Every break", "on every break: 10 air squats"),
    ("Together", "pairs, share the reps"),
    ("Rest", "rest 1:00"),
    ("What to keep", "sets: power clean <= 2"),
];

/// Words that begin or end a line of the format.
const WORDS: [&str; 34] = [
    "rounds for time",
    "for time",
    "for quality",
    "amrap",
    "every",
    "emom",
    "alternating",
    "until failure",
    "intervals",
    "stations",
    "rest",
    "then",
    "buy-in:",
    "cash-out:",
    "after round",
    "each round add",
    "on every minute:",
    "on every break:",
    "pairs, share the reps",
    "pairs, alternate rounds",
    "teams of 3, one works",
    "build to",
    "target",
    "cap",
    "sets:",
    "unbroken:",
    "score: time",
    "score: rounds and reps",
    "score: reps",
    "# warm-up",
    "# strength",
    "# workout",
    "# accessory",
    "# cool-down",
];

/// One row of the help.
pub struct Example {
    /// What it is for.
    pub what: &'static str,
    /// What is written.
    pub text: &'static str,
    /// What it is read as.
    pub read: String,
}

/// The rows, each read now.
pub fn examples() -> Vec<Example> {
    EXAMPLES
        .iter()
        .map(|(what, text)| {
            // a line of work or structure is read inside a workout, a clock at its head
            let lift = text.contains("front squat") || text.contains("build to");
            let head = if text.starts_with('#') {
                ""
            } else if lift {
                "# strength\n"
            } else {
                "# workout\n"
            };
            let clocked = text.starts_with("on every")
                || text.starts_with(|c: char| c.is_ascii_digit()) && text.contains(" kg");
            let head = if clocked { "# workout\n3 rounds for time\n" } else { head };
            let sheet = format!("{head}{text}\n");
            let line = sheet.lines().count() as u32;
            let reading = read(&format!("{sheet}10 burpees"));
            let (kind, words) = said(&reading, &sheet).get(&line).cloned().unwrap_or_default();
            Example { what, text, read: format!("<i>{kind}</i> {words}") }
        })
        .collect()
}

/// What typing completes.
#[derive(Debug, Clone, Serialize)]
pub struct Completions {
    /// Movements as they are written on a sheet.
    movements: Vec<String>,
    /// Words of the format.
    words: Vec<&'static str>,
}

/// All of them.
pub fn completions() -> Completions {
    let movements = catalogue().movements.iter().map(|m| catalogue().written(&m.id)).collect();
    Completions { movements, words: WORDS.to_vec() }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::Severity;

    #[test]
    fn every_example_is_read_as_something() {
        let all = examples();
        for e in &all {
            assert!(
                e.read.len() > "<i></i> read".len() && !e.read.contains("<i></i>"),
                "{}: {}",
                e.text,
                e.read
            );
        }
        let of = |what: &str| all.iter().find(|e| e.what == what).map(|e| e.read.clone()).unwrap_or_default();
        assert!(of("Windows").contains("19:00 in all"), "{}", of("Windows"));
        assert!(of("Together").contains("2 people"));
    }

    #[test]
    fn every_completed_movement_is_read() {
        for name in completions().movements {
            let reading = read(&format!("for time\n50 {name}"));
            assert!(
                reading.problems.iter().all(|p| p.severity != Severity::Error),
                "{name}: {:?}",
                reading.problems
            );
        }
    }
}
