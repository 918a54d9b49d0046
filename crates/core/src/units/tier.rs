//! The three versions by rank.

use serde::{Deserialize, Serialize};

/// A version's rank.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum Tier {
    Full,
    Trim,
    Base,
}

impl Tier {
    /// Hardest first.
    pub const ALL: [Tier; 3] = [Tier::Full, Tier::Trim, Tier::Base];

    /// Its name.
    pub fn word(self) -> &'static str {
        match self {
            Tier::Full => "Full",
            Tier::Trim => "Trim",
            Tier::Base => "Base",
        }
    }

    /// Its letter.
    pub fn letter(self) -> &'static str {
        match self {
            Tier::Full => "F",
            Tier::Trim => "T",
            Tier::Base => "B",
        }
    }

    /// From a letter or name, in any case.
    pub fn read(text: &str) -> Option<Tier> {
        let low = text.trim().to_ascii_lowercase();
        Tier::ALL
            .into_iter()
            .find(|t| low == t.word().to_ascii_lowercase() || low == t.letter().to_ascii_lowercase())
    }
}
