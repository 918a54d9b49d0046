//! The catalogue: movements, ladders, drills, build-ups, cautions, equipment, schools. Embedded data, typed
//! when first used; every reference is checked by a test.

mod data;
mod find;
mod instead;
pub mod say;

pub use data::{
    Ambiguous, Caution, Drill, Equipment, Fault, Ladder, LoadKind, Movement, Progression, ProgressionStep,
    Rung, RxLoad, School, SchoolOption, With,
};
pub use find::{Found, canonical_words};
pub(crate) use find::{Typed, canonical};
pub use instead::{Cause, CountRule, Instead, LoadRule, Row, last_resort, row_for};

use std::collections::HashMap;
use std::sync::LazyLock;

/// Everything the product knows about training that is not about one gym.
#[derive(Debug)]
pub struct Catalogue {
    /// In the file's order.
    pub movements: Vec<Movement>,
    /// Substitution ladders, hardest rung first inside a branch.
    pub ladders: Vec<Ladder>,
    /// Warm-up and cool-down drills.
    pub drills: Vec<Drill>,
    /// Build-ups of a lift or skill.
    pub progressions: Vec<Progression>,
    /// Safety notes by tag.
    pub cautions: Vec<Caution>,
    /// Kinds of kit.
    pub equipment: Vec<Equipment>,
    /// Judgements on which good coaches differ.
    pub schools: Vec<School>,
    /// Words that fit several movements.
    pub ambiguous: Vec<Ambiguous>,
    by_id: HashMap<String, usize>,
    names: find::Names,
}

static EMBEDDED: LazyLock<Result<Catalogue, String>> = LazyLock::new(Catalogue::parse);

static EMPTY: LazyLock<Catalogue> = LazyLock::new(|| Catalogue {
    movements: Vec::new(),
    ladders: Vec::new(),
    drills: Vec::new(),
    progressions: Vec::new(),
    cautions: Vec::new(),
    equipment: Vec::new(),
    schools: Vec::new(),
    ambiguous: Vec::new(),
    by_id: HashMap::new(),
    names: find::Names::default(),
});

/// The embedded catalogue: a constant, parsed once.
///
/// The files are part of the program and a test parses them, so failure cannot reach a user; should it
/// happen all the same, the catalogue is empty and every movement unknown, which reading reports.
pub fn catalogue() -> &'static Catalogue {
    EMBEDDED.as_ref().unwrap_or(&EMPTY)
}

impl Catalogue {
    /// Cues of a movement that are said, at most two; none of a movement that is not in it.
    pub fn cues(&self, id: &str) -> Vec<String> {
        self.movement(id).map_or_else(Vec::new, |m| m.said_cues().to_vec())
    }

    /// Parses the embedded files.
    ///
    /// # Errors
    /// Names the file and what is wrong in it.
    pub fn parse() -> Result<Catalogue, String> {
        let movements: data::MovementFile =
            data::parse("movements", include_str!("../../data/movements.toml"))?;
        let ladders: data::LadderFile = data::parse("ladders", include_str!("../../data/ladders.toml"))?;
        let drills: data::DrillFile = data::parse("drills", include_str!("../../data/drills.toml"))?;
        let progressions: data::ProgressionFile =
            data::parse("progressions", include_str!("../../data/progressions.toml"))?;
        let cautions: data::CautionFile = data::parse("cautions", include_str!("../../data/cautions.toml"))?;
        let equipment: data::EquipmentFile =
            data::parse("equipment", include_str!("../../data/equipment.toml"))?;
        let schools: data::SchoolFile = data::parse("schools", include_str!("../../data/schools.toml"))?;
        let ambiguous: data::AmbiguousFile =
            data::parse("ambiguous", include_str!("../../data/ambiguous.toml"))?;
        let by_id = movements.movement.iter().enumerate().map(|(i, m)| (m.id.clone(), i)).collect();
        let names = find::Names::new(&movements.movement, &ambiguous.ambiguous, &drills.drill);
        Ok(Catalogue {
            movements: movements.movement,
            ladders: ladders.ladder,
            drills: drills.drill,
            progressions: progressions.progression,
            cautions: cautions.caution,
            equipment: equipment.equipment,
            schools: schools.school,
            ambiguous: ambiguous.ambiguous,
            by_id,
            names,
        })
    }

    /// The movement with this id.
    pub fn movement(&self, id: &str) -> Option<&Movement> {
        self.by_id.get(id).and_then(|i| self.movements.get(*i))
    }

    /// The plain name of a movement, or the id's words when it is unknown.
    pub fn name(&self, id: &str) -> String {
        self.movement(id).map_or_else(|| id.replace('-', " "), |m| m.name.clone())
    }

    /// How a movement is written on a sheet, so that reading it finds the same movement: its plain name, or
    /// where that says something else (brackets, several meanings) its id in words.
    pub fn written(&self, id: &str) -> String {
        let name = self.name(id).to_lowercase();
        let short = name.split('(').next().unwrap_or(&name).trim().to_owned();
        let means = |text: &str| {
            let words: Vec<&str> = text.split_whitespace().collect();
            matches!(self.find(&words, false), Found::Movement { id: found, words: n, doubt: None } if found == id && n == words.len())
        };
        if !short.contains(|c: char| c.is_ascii_digit()) && means(&short) {
            return short;
        }
        // an id may hold what nobody writes (kb, db): the first full name that means the same is better
        let words = id.replace('-', " ");
        let spelt = |a: &&String| (a.contains("kettlebell") || a.contains("dumbbell")) && means(a);
        self.movement(id).and_then(|m| m.aliases.iter().find(spelt)).cloned().unwrap_or(words)
    }

    /// The ladder on which a movement is scaled, if it has one.
    pub fn ladder_for(&self, movement: &str) -> Option<&Ladder> {
        self.ladders.iter().find(|l| l.covers.iter().any(|c| c == movement))
    }

    /// The build-up of a lift or skill.
    pub fn progression_for(&self, movement: &str) -> Option<&Progression> {
        self.progressions.iter().find(|p| p.movements.iter().any(|m| m == movement))
    }

    /// The safety note with this tag.
    pub fn caution(&self, tag: &str) -> Option<&Caution> {
        self.cautions.iter().find(|c| c.tag == tag)
    }

    /// Finds the movement at the start of `words`; see [`Found`].
    pub fn find(&self, words: &[&str], with_percent: bool) -> Found {
        self.names.find(words, with_percent)
    }

    /// What the longest name at the start of words in matching form stands for, and how many words it takes.
    pub(crate) fn walk<'w>(&self, words: impl Iterator<Item = &'w str>) -> Option<(Typed, usize)> {
        self.names.walk(words)
    }

    /// Whether words in matching form, written together, are an id or a full name.
    pub(crate) fn is_own_name(&self, key: &str) -> bool {
        self.names.is_own(key)
    }

    /// The ids whose names come nearest to `text`, nearest first.
    pub fn nearest(&self, text: &str, how_many: usize) -> Vec<&Movement> {
        self.names.nearest(text, how_many).into_iter().filter_map(|i| self.movements.get(i)).collect()
    }
}

#[cfg(test)]
mod tests;
