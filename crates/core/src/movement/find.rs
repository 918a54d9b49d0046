//! From what a coach types to a movement: case, hyphens, spaces, plurals and small words do not matter, the
//! longest name at the start of the words wins, and near misses are ranked for suggestions.

use super::data::{Ambiguous, Drill, Movement};
use crate::words::Phrases;
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

/// Letters of a typed name that are compared with the catalogue's.
const MOST_COMPARED: usize = 60;
/// Names less alike than this (1: the same) are no suggestion.
const LEAST_LIKE: f64 = 0.55;
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

/// One word in matching form: lower case, singular, letters and digits only.
pub(crate) fn canonical(word: &str) -> String {
    let plain: String = word.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect();
    singular(&plain)
}

fn singular(word: &str) -> String {
    for end in ["ches", "shes", "sses", "xes"] {
        if word.ends_with(end) && word.len() > end.len() {
            return word.strip_suffix("es").unwrap_or(word).to_owned();
        }
    }
    let kept = ["calories", "series"].iter().any(|w| word.ends_with(w));
    if let Some(stem) = word.strip_suffix("ies").filter(|w| w.len() > 3 && !kept) {
        return format!("{stem}y");
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
    /// Letters of the same, in the same order.
    letters: Vec<Letters>,
    /// Everything that can be typed, for walking along a line.
    typed: Phrases<Typed>,
}

/// What a name in a row of words stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Typed {
    /// A movement, by its place in the catalogue.
    Movement(usize),
    /// Words that name several, by their place in the list of doubts.
    Doubt(usize),
    /// A drill of warm-ups and cool-downs.
    Drill(usize),
}

impl Names {
    pub(super) fn new(movements: &[Movement], ambiguous: &[Ambiguous], drills: &[Drill]) -> Names {
        let mut names = Names { ids: movements.iter().map(|m| m.id.clone()).collect(), ..Names::default() };
        for (i, m) in movements.iter().enumerate() {
            for text in [&m.id, &m.name].into_iter().chain(&m.aliases) {
                let k = key(text);
                names.movements.entry(k.clone()).or_insert(i);
                names.all.push((k, i));
            }
        }
        names.letters = names.all.iter().map(|(k, _)| Letters::of(k)).collect();
        names.own = movements.iter().flat_map(|m| [key(&m.id), key(&m.name)]).collect();
        names.ambiguous = ambiguous.iter().map(|a| (key(&a.word), a.clone())).collect();
        for (i, a) in ambiguous.iter().enumerate() {
            names.typed.add(&key(&a.word), Typed::Doubt(i));
        }
        for (k, i) in &names.all {
            names.typed.add(k, Typed::Movement(*i));
        }
        for (i, d) in drills.iter().enumerate() {
            names.typed.add(&key(&d.name), Typed::Drill(i));
            names.typed.add(&key(&d.id), Typed::Drill(i));
            d.aliases.iter().for_each(|a| names.typed.add(&key(a), Typed::Drill(i)));
        }
        names
    }

    /// The longest name that a row of words in matching form begins with, and how many words it takes.
    pub(super) fn walk<'w>(&self, words: impl Iterator<Item = &'w str>) -> Option<(Typed, usize)> {
        self.typed.longest(words).map(|(t, n)| (*t, n))
    }

    /// Whether a matching form is an id or a full name, which no doubt touches.
    pub(super) fn is_own(&self, key: &str) -> bool {
        self.own.contains(key)
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
        let k: String = key(text).chars().take(MOST_COMPARED).collect();
        let typed = Letters::of(&k);
        // the best few so far; what cannot beat the last of them is not compared letter by letter
        let mut best: Vec<(f64, usize)> = Vec::new();
        for ((name, i), letters) in self.all.iter().zip(&self.letters) {
            let floor = match best.get(how_many.saturating_sub(1)) {
                Some((score, _)) => *score,
                None => LEAST_LIKE,
            };
            if typed.most_like(letters) < floor {
                continue;
            }
            let score = strsim::normalized_damerau_levenshtein(&k, name);
            if score < LEAST_LIKE {
                continue;
            }
            match best.iter_mut().find(|(_, j)| j == i) {
                Some(known) => known.0 = known.0.max(score),
                None => best.push((score, *i)),
            }
            best.sort_by(|a, b| b.0.total_cmp(&a.0).then(a.1.cmp(&b.1)));
            best.truncate(how_many);
        }
        best.into_iter().map(|(_, i)| i).collect()
    }
}

/// How often each letter stands in a name: two names are at least so many changes apart as their letters differ.
#[derive(Debug, Clone)]
struct Letters {
    counts: [u8; 28],
    length: usize,
}

impl Letters {
    fn of(name: &str) -> Letters {
        let mut counts = [0u8; 28];
        for c in name.chars() {
            let at = match c {
                'a'..='z' => c as usize - 'a' as usize,
                '0'..='9' => 26,
                _ => 27,
            };
            if let Some(n) = counts.get_mut(at) {
                *n = n.saturating_add(1);
            }
        }
        Letters { counts, length: name.chars().count() }
    }

    /// The highest likeness that two names with these letters can have.
    fn most_like(&self, other: &Letters) -> f64 {
        let (mut more, mut less) = (0usize, 0usize);
        for (a, b) in self.counts.iter().zip(&other.counts) {
            more += usize::from(a.saturating_sub(*b));
            less += usize::from(b.saturating_sub(*a));
        }
        1.0 - more.max(less) as f64 / self.length.max(other.length).max(1) as f64
    }
}
