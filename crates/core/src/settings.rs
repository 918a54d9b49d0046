//! What a gym has settled once for all classes: its schools, lengths and shares. Every value has a default of ours.

use crate::movement::catalogue;
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
}

impl Default for Settings {
    fn default() -> Settings {
        Settings {
            schools: BTreeMap::new(),
            training_max_percent: 90.0,
            class_s: 3600,
            per_rack: 3,
            runs: 200,
        }
    }
}

impl Settings {
    /// The option in force of a school; empty for one that does not exist.
    pub fn school(&self, id: &str) -> &str {
        match self.schools.get(id) {
            Some(option) => option,
            None => catalogue().schools.iter().find(|s| s.id == id).map_or("", |s| s.default.as_str()),
        }
    }
}
