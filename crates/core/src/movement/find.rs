//! From what a coach types to a movement: case, hyphens, spaces, plurals and small words do not matter, the
//! longest name at the start of the words wins, and near misses are ranked for suggestions.

use super::data::{Ambiguous, Movement};
use std::collections::{HashMap, HashSet};

/// What the words at the start of a line name.
#[derive(Debug, Clone, PartialEq)]
pub enum Found {
    /// One movement, read from the first `words` words.
    Movement {
        /// Its id.
        id: String,
        /// How many words were its name.
        words: usize,
        /// Set when the word could mean several: what to ask and the ids it could be.
        doubt: Option<(String, Vec<String>)>,
    },
    /// A word that names several and must not be guessed.
    Ask {
        /// What to ask.
        ask: String,
        /// The ids it could be.
        candidates: Vec<String>,
        /// How many words were read.
        words: usize,
    },
    /// Nothing fits.
    Unknown,
}

/// Longest name in words that is tried.
const LONGEST: usize = 7;

/// Words of a name in matching form: lower case, singular, without articles and hyphens.
///
/// ```
/// use lantern_core::movement::canonical_words;
/// assert_eq!(canonical_words("Burpees over the Bar"), canonical_words("burpee-over-bar"));
/// ```
pub fn canonical_words(text: &str) -> Vec<String> {
    text.to_lowercase()
        .split(|c: char| !(c.is_alphanumeric()))
        .filter(|w| !w.is_empty() && !matches!(*w, "the" | "a" | "an"))
        .map(singular)
        .collect()
}

fn singular(word: &str) -> String {
    for end in ["ches", "shes", "sses", "xes"] {
        if word.ends_with(end) && word.len() > end.len() {
            return word.strip_suffix("es").unwrap_or(word).to_owned();
        }
    }
    match word.strip_suffix('s') {
        Some(stem) if word.len() > 2 && !word.ends_with("ss") => stem.to_owned(),
        _ => word.to_owned(),
    }
}

fn key(text: &str) -> String {
    canonical_words(text).concat()
}

#[derive(Debug, Default)]
pub(super) struct Names {
    movements: HashMap<String, usize>,
    ids: Vec<String>,
    ambiguous: HashMap<String, Ambiguous>,
    /// Ids and full names: not doubtful, whatever else they may be short for.
    own: HashSet<String>,
    /// (matching form, movement) for near misses.
    all: Vec<(String, usize)>,
}

impl Names {
    pub(super) fn new(movements: &[Movement], ambiguous: &[Ambiguous]) -> Names {
        let mut names = Names { ids: movements.iter().map(|m| m.id.clone()).collect(), ..Names::default() };
        for (i, m) in movements.iter().enumerate() {
            for text in [&m.id, &m.name].into_iter().chain(&m.aliases) {
                let k = key(text);
                names.movements.entry(k.clone()).or_insert(i);
                names.all.push((k, i));
            }
        }
        names.own = movements.iter().flat_map(|m| [key(&m.id), key(&m.name)]).collect();
        names.ambiguous = ambiguous.iter().map(|a| (key(&a.word), a.clone())).collect();
        names
    }

    pub(super) fn find(&self, words: &[&str], with_percent: bool) -> Found {
        for n in (1..=words.len().min(LONGEST)).rev() {
            let Some(span) = words.get(..n) else { continue };
            let k = key(&span.join(" "));
            if k.is_empty() {
                continue;
            }
            if let Some(a) = self.ambiguous.get(&k) {
                return match (with_percent, &a.with_percent) {
                    (true, Some(id)) => Found::Movement { id: id.clone(), words: n, doubt: None },
                    _ if a.default.is_empty() => {
                        Found::Ask { ask: a.ask.clone(), candidates: a.candidates.clone(), words: n }
                    }
                    _ => Found::Movement {
                        id: a.default.clone(),
                        words: n,
                        doubt: (a.candidates.len() > 1 && !self.own.contains(&k))
                            .then(|| (a.ask.clone(), a.candidates.clone())),
                    },
                };
            }
            if let Some(id) = self.movements.get(&k).and_then(|i| self.ids.get(*i)) {
                return Found::Movement { id: id.clone(), words: n, doubt: None };
            }
        }
        Found::Unknown
    }

    pub(super) fn nearest(&self, text: &str, how_many: usize) -> Vec<usize> {
        let k: String = key(text).chars().take(60).collect();
        let mut scored: Vec<(f64, usize)> =
            self.all.iter().map(|(name, i)| (strsim::normalized_damerau_levenshtein(&k, name), *i)).collect();
        scored.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
        let mut out = Vec::new();
        for (score, i) in scored {
            if out.len() == how_many || score < 0.45 {
                break;
            }
            if !out.contains(&i) {
                out.push(i);
            }
        }
        out
    }
}
