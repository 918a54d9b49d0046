//! A problem in a sheet: where it stands, what is wrong in plain words, and what to write instead.

use super::model::WeightUnit;
use serde::{Deserialize, Serialize};

/// How bad it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Severity {
    /// Part of the sheet waits for it.
    Error,
    /// Read, but look at it.
    Warning,
}

/// A problem in a sheet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Problem {
    /// Line, from 1.
    pub line: u32,
    /// Character in the line, from 1.
    pub column: u32,
    /// Characters that are meant, at least 1.
    pub length: u32,
    /// How bad it is.
    pub severity: Severity,
    /// What is wrong and what to do.
    pub message: String,
    /// Texts to put in place of the characters that are meant.
    pub suggestions: Vec<String>,
    /// A question whose answer the hall can remember.
    #[serde(skip)]
    pub asks: Option<Asks>,
}

/// A question whose answer holds for more than one sheet.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Asks {
    /// Whether usual pound pairs are pounds (the first suggestion) or kilograms (the second).
    PoundPairs,
}

impl Asks {
    /// The unit that a suggestion of this question stands for.
    pub fn unit(self, suggestion: usize) -> Option<WeightUnit> {
        let Asks::PoundPairs = self;
        Asks::POUND_PAIRS.get(suggestion).copied()
    }

    /// Answers about pound pairs, in the order of their suggestions.
    pub(super) const POUND_PAIRS: [WeightUnit; 2] = [WeightUnit::Lb, WeightUnit::Kg];
}

impl Problem {
    /// A problem of a whole line.
    pub(super) fn at(line: u32, severity: Severity, message: impl Into<String>) -> Problem {
        let message = message.into();
        Problem { line, column: 1, length: 1, severity, message, suggestions: Vec::new(), asks: None }
    }

    /// The sheet with one suggestion applied; the sheet unchanged when the place does not exist any more.
    ///
    /// ```
    /// use lantern_core::sheet::read;
    /// let text = "3 rounds for time\n12 power claens 60 kg";
    /// let problem = read(text).problems.remove(0);
    /// assert_eq!(problem.apply(text, 0), "3 rounds for time\n12 power clean 60 kg");
    /// ```
    pub fn apply(&self, sheet: &str, suggestion: usize) -> String {
        let Some(with) = self.suggestions.get(suggestion) else { return sheet.to_owned() };
        let mut lines: Vec<String> = sheet.split('\n').map(str::to_owned).collect();
        if let Some(line) = lines.get_mut((self.line as usize).saturating_sub(1)) {
            let chars: Vec<char> = line.chars().collect();
            let from = (self.column as usize).saturating_sub(1).min(chars.len());
            let to = (from + self.length as usize).min(chars.len());
            let keep = |part: &[char]| part.iter().collect::<String>();
            *line = format!(
                "{}{}{}",
                keep(chars.get(..from).unwrap_or(&[])),
                with,
                keep(chars.get(to..).unwrap_or(&[]))
            );
        }
        lines.join("\n")
    }
}
