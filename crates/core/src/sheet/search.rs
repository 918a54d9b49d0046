//! Finding a sheet again by what is on it, and giving a copy another day.

use super::model::{Format, Named, Sheet};
use crate::movement::{Found, canonical_words, catalogue};
use chrono::NaiveDate;

/// Words for a format, beside its own.
const FORMATS: [(&str, &[&str]); 12] = [
    ("rounds-for-time", &["rounds", "rft", "rounds for time"]),
    ("scheme-for-time", &["scheme", "falling reps", "21-15-9"]),
    ("chipper", &["for time", "once through"]),
    ("amrap", &["as many rounds as possible"]),
    ("every", &["emom", "every minute", "on the clock"]),
    ("every-alternating", &["emom", "alternating", "alternating emom"]),
    ("every-until-failure", &["until failure", "rising"]),
    ("intervals", &["windows", "interval"]),
    ("stations", &["station"]),
    ("on-off", &["on off", "on/off"]),
    ("build-to-max", &["build", "rep max", "max of the day"]),
    ("climbing-singles", &["singles", "climbing"]),
];

/// What is looked for.
#[derive(Debug, Clone, PartialEq)]
pub struct Query {
    words: Vec<String>,
    movement: Option<String>,
    formats: Vec<&'static str>,
}

impl Query {
    /// Reads what was typed: a movement, a format, `pairs` or `teams`, or words of a name.
    pub fn read(text: &str) -> Query {
        let words = canonical_words(text);
        let typed: Vec<&str> = text.split_whitespace().collect();
        let movement = match catalogue().find(&typed, false) {
            Found::Movement { id, words: n, .. } if n == typed.len() => Some(id),
            _ => None,
        };
        let formats = FORMATS
            .iter()
            .filter(|(word, others)| {
                canonical_words(word) == words || others.iter().any(|o| canonical_words(o) == words)
            })
            .map(|(word, _)| *word)
            .collect();
        Query { words, movement, formats }
    }

    /// Nothing is looked for.
    pub fn is_empty(&self) -> bool {
        self.words.is_empty()
    }

    /// Whether a sheet has it: its movements (scaled lines and lifts too), a clock, a team, or its names.
    pub fn fits(&self, sheet: &Sheet) -> bool {
        if self.is_empty() {
            return true;
        }
        let named = |m: &Named| m.id().is_some() && m.id() == self.movement.as_deref();
        let formats = |f: &Option<Format>| f.as_ref().is_some_and(|f| self.formats.contains(&f.word()));
        let has_words = |text: &str| {
            let own = canonical_words(text);
            self.words.iter().all(|w| own.contains(w))
        };
        let team = self.words.len() == 1
            && self.words.iter().all(|w| matches!(w.as_str(), "pair" | "team" | "partner" | "trio"));
        sheet.blocks.iter().any(|b| {
            b.moves().any(|m| named(&m.movement))
                || b.lifts.iter().any(|l| named(&l.movement))
                || b.builds.iter().any(|l| named(&l.movement))
                || b.parts.iter().any(|p| formats(&p.format))
                || team && b.team.is_some()
                || b.name.as_deref().is_some_and(has_words)
        }) || sheet.title.as_deref().is_some_and(has_words)
    }
}

/// A sheet's text for another day: its date line, where it has one, says that day.
///
/// ```
/// use lantern_core::sheet::dated;
/// let day = "2026-12-01".parse().unwrap();
/// assert_eq!(dated("title: Quay\ndate: 2026-11-23\namrap 9", day), "title: Quay\ndate: 2026-12-01\namrap 9");
/// ```
pub fn dated(text: &str, day: NaiveDate) -> String {
    let mut done = false;
    let lines: Vec<String> = text
        .split('\n')
        .map(|line| {
            let low = line.trim_start().to_ascii_lowercase();
            if !done && (low.starts_with("date:") || low.starts_with("day:")) {
                done = true;
                return format!("date: {day}");
            }
            line.to_owned()
        })
        .collect();
    lines.join("\n")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn fits(query: &str, text: &str) -> bool {
        Query::read(query).fits(&read(text).sheet)
    }

    #[test]
    fn a_sheet_is_found_by_movement_format_team_and_name() {
        let text = "title: Grey Harbour\n# strength\nfront squat 5x3 @ 80%\n# workout\npairs, share the reps\namrap 12\n10 pullups\nbuy-in: 500 m row";
        for q in
            ["pull-ups", "pull up", "row", "front squats", "amrap", "pairs", "harbour", "grey harbour", ""]
        {
            assert!(fits(q, text), "{q}");
        }
        for q in ["push-ups", "emom", "harbour lane", "chipper"] {
            assert!(!fits(q, text), "{q}");
        }
        assert!(
            fits("emom", "every 2:00 x 8\n10 burpees")
                && fits("emom", "emom 12 alternating\n10 burpees\n5 pull-ups")
        );
    }
}
