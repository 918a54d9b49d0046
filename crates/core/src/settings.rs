//! What a gym has settled once for all classes: its schools, lengths and shares. Every value has a default of ours.

use crate::movement::catalogue;
use crate::schools::{Answer, Question};
use crate::sheet::{OwnPhrase, WeightUnit};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// The gym's settings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Settings {
    /// Chosen option of each school; the catalogue's default where none is chosen.
    pub schools: BTreeMap<String, String>,
    /// Training maximum, per cent of the 1RM.
    pub training_max_percent: f64,
    /// Class length when the sheet has none, s.
    pub class_s: u32,
    /// Most members at a rack.
    pub per_rack: u32,
    /// Runs of a forecast.
    pub runs: u32,
    /// What the hall answered about usual pound pairs on a sheet that names no unit.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pound_pairs: Option<WeightUnit>,
    /// Words of sheets that are the hall's own.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub phrases: Vec<OwnPhrase>,
}

impl Default for Settings {
    fn default() -> Settings {
        Settings {
            schools: BTreeMap::new(),
            training_max_percent: 90.0,
            class_s: 3600,
            per_rack: 3,
            runs: 96,
            pound_pairs: None,
            phrases: Vec::new(),
        }
    }
}

impl Settings {
    /// Lengths and shares in their ranges, and only options that exist.
    ///
    /// # Errors
    /// Names the first that is not.
    pub fn check(&self) -> Result<(), String> {
        if !(60.0..=100.0).contains(&self.training_max_percent) {
            return Err("The training maximum is from 60 to 100 % of the 1RM.".to_owned());
        }
        if !(900..=7200).contains(&self.class_s) {
            return Err("A class lasts from 15 minutes to 2 hours.".to_owned());
        }
        if !(1..=8).contains(&self.per_rack) {
            return Err("From 1 to 8 members share a rack.".to_owned());
        }
        for (id, option) in &self.schools {
            let school = catalogue().schools.iter().find(|s| s.id.word() == *id);
            if !school.is_some_and(|s| s.options.iter().any(|o| o.id == *option)) {
                return Err(format!("“{option}” is no answer to “{id}”."));
            }
        }
        Ok(())
    }

    /// The answers that change versions and places, as they stand, and nothing else of what is settled.
    #[must_use]
    pub fn of_versions(&self) -> Settings {
        let here = Question::ALL.iter().filter(|q| q.of_versions());
        let schools = here.map(|q| (q.word().to_owned(), self.school(*q).to_owned())).collect();
        Settings { schools, ..Settings::default() }
    }

    /// The answer in force.
    pub fn answer<A: Answer>(&self) -> A {
        A::read(self.school(A::QUESTION)).unwrap_or(A::USUAL)
    }

    /// The same as a word.
    pub fn school(&self, question: Question) -> &str {
        match self.schools.get(question.word()) {
            Some(option) => option,
            None => catalogue().schools.iter().find(|s| s.id == question).map_or("", |s| s.default.as_str()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn settings_outside_their_range_are_named() {
        assert_eq!(Settings::default().check(), Ok(()));
        let wrong = |f: &dyn Fn(&mut Settings)| {
            let mut s = Settings::default();
            f(&mut s);
            s.check().unwrap_err()
        };
        assert!(wrong(&|s| s.training_max_percent = 20.0).contains("training maximum"));
        assert!(wrong(&|s| s.class_s = 10).contains("class"));
        assert!(wrong(&|s| s.per_rack = 0).contains("rack"));
        assert!(wrong(&|s| drop(s.schools.insert("what-to-scale".into(), "wings".into()))).contains("wings"));
    }
}
