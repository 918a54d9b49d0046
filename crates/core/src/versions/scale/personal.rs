//! Personal lines: what one member does instead of a version's line, because of a limit, a volume guard or because no
//! version holds the stimulus. Each change keeps the values that it was made from.

use crate::movement::say::{spoken, spoken_for};
use crate::reason::{OfLine, Reason};
use crate::units::{WeightUnit, pair};
use crate::versions::work::Line;

/// One personal line.
#[derive(Debug, Clone, PartialEq)]
pub struct Personal {
    /// Line of the version, from 0.
    pub line: usize,
    /// What is done instead.
    pub text: String,
    /// Why, with the figures: one, or several where it was changed again.
    pub reasons: Vec<OfLine>,
    /// Only a weight or a height is theirs: it stands on their card and is not said aloud.
    pub weight: bool,
}

impl Personal {
    /// A line of their own that is said: another movement or another count.
    pub(crate) fn own(line: usize, text: String, reason: OfLine) -> Personal {
        Personal { line, text, reasons: vec![reason], weight: false }
    }

    /// Only the weight or the height is theirs.
    pub(crate) fn weight(line: usize, text: String, reason: OfLine) -> Personal {
        Personal { weight: true, ..Personal::own(line, text, reason) }
    }

    /// It follows from a limit: shown to the coach and on the member's own card only.
    pub fn private(&self) -> bool {
        self.reasons.iter().any(OfLine::private)
    }

    /// Why, in words.
    pub fn says(&self, unit: WeightUnit) -> String {
        let all: Vec<Reason> = self.reasons.iter().cloned().map(Reason::from).collect();
        crate::say::reasons(&all, unit)
    }

    /// The same line, changed again.
    pub(crate) fn then(&mut self, next: Personal) {
        self.text = next.text;
        self.reasons.extend(next.reasons);
        self.weight &= next.weight;
    }
}

/// The change from one line to another in words: `12 -> 8 toes-to-bar`, written `12 to 8 toes-to-bar`.
pub fn change_text(from: &Line, to: &Line) -> Option<String> {
    if from == to {
        return None;
    }
    let counts = |l: &Line| l.counts.iter().map(|c| pair(*c)).collect::<Vec<_>>().join("-");
    if from.movement != to.movement || from.variant != to.variant {
        return Some(format!("{} instead of {}", to.text(), from.text()));
    }
    let name = spoken(&to.movement);
    let mut parts = Vec::new();
    if from.counts != to.counts {
        parts.push(format!("{} to {} {}", counts(from), counts(to), spoken_for(&to.movement, 2.0)));
    }
    if let (Some(a), Some(b)) = (from.kg(), to.kg())
        && a != b
    {
        let what = if parts.is_empty() { format!("{name} ") } else { String::new() };
        let from = pair(a.map(|v| to.speaks.figure(v)));
        parts.push(format!("{what}{from} to {}", to.speaks.pair_words(b)));
    }
    (!parts.is_empty()).then(|| parts.join(", "))
}
