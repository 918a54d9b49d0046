//! The shapes of the embedded data files; unknown keys are refused, so that a typing slip in the data fails
//! the tests instead of being ignored.

use crate::kinds::{Branch, Gear, Limit, Pattern};
use crate::schools::Question;
use serde::{Deserialize, de::DeserializeOwned};

/// What carries the load of a movement.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LoadKind {
    None,
    Barbell,
    DumbbellPair,
    Dumbbell,
    Kettlebell,
    Medball,
    Plate,
    Machine,
    Vest,
    Sandbag,
}

/// A common fault and what the coach says about it.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Fault {
    /// What the coach sees.
    pub see: String,
    /// What the coach says.
    pub say: String,
}

/// One movement of the catalogue.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Movement {
    /// Kebab-case id, the name in files.
    pub id: String,
    /// Name as on a board.
    pub name: String,
    /// Other shorthand; plurals and hyphens are handled by code.
    #[serde(default)]
    pub aliases: Vec<String>,
    /// Main pattern (squat, hinge, lunge, push-vertical, ...).
    pub pattern: Pattern,
    /// Further patterns.
    #[serde(default)]
    pub pattern_also: Vec<Pattern>,
    /// Body regions that it asks for.
    pub regions: Vec<String>,
    /// What carries the load.
    pub load: LoadKind,
    /// Unit normally written.
    pub count: crate::units::Unit,
    /// Other units a coach may write.
    #[serde(default)]
    pub count_also: Vec<crate::units::Unit>,
    /// One side works at a time.
    pub per_side: bool,
    /// Kit needed; empty means floor space only.
    pub equipment: Vec<Gear>,
    /// What makes a rep count.
    pub standard: String,
    /// Two or three cues.
    pub cues: Vec<String>,
    /// Common faults.
    pub faults: Vec<Fault>,
    /// Tags of safety notes.
    pub cautions: Vec<String>,
    /// Limits for which another rung is chosen.
    pub avoid_with: Vec<Limit>,
    /// 1 anyone on day one .. 5 months of practice.
    pub skill: u8,
    /// Usual loads in kg, [heavier, lighter], for a light, moderate or heavy session.
    #[serde(default)]
    pub rx_load: Option<RxLoad>,
    /// Usual heights in cm, [heavier, lighter].
    #[serde(default)]
    pub rx_height_cm: Option<[f64; 2]>,
}

/// Cues of a movement that are said to somebody; more are not heard.
const SAID_CUES: usize = 2;

impl Movement {
    /// Whether a kind of kit is needed for it.
    pub fn needs(&self, gear: Gear) -> bool {
        self.equipment.contains(&gear)
    }

    /// Whether it trains a pattern, first or beside another.
    pub fn trains(&self, pattern: Pattern) -> bool {
        self.pattern == pattern || self.pattern_also.contains(&pattern)
    }

    /// The cues that are said, at most two.
    pub fn said_cues(&self) -> &[String] {
        self.cues.get(..SAID_CUES).unwrap_or(&self.cues)
    }
}

/// Usual loads of a movement in kg, [heavier, lighter].
#[derive(Debug, Clone, Copy, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct RxLoad {
    pub light: [f64; 2],
    pub moderate: [f64; 2],
    pub heavy: [f64; 2],
}

/// A further movement done for each rep of a rung.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct With {
    /// Movement id.
    pub movement: String,
    /// Units of it per reference rep.
    pub ratio: f64,
    /// Rough seconds per unit.
    pub unit_s: f64,
}

/// One rung of a ladder.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Rung {
    /// Movement id.
    pub movement: String,
    /// How it differs from the plain movement.
    #[serde(default)]
    pub variant: Option<String>,
    /// Units of this rung for one unit of the ladder's reference.
    pub ratio: f64,
    /// Count unit, when it differs from the ladder's.
    #[serde(default)]
    pub unit: Option<crate::units::Unit>,
    /// Rough seconds per unit at class pace.
    pub unit_s: f64,
    /// Further movements done with each reference rep.
    #[serde(default)]
    pub with: Vec<With>,
    /// Total load of this rung over total load of the reference.
    #[serde(default)]
    pub load_factor: Option<f64>,
    /// False when the rung keeps volume and knowingly not the time.
    #[serde(default = "yes")]
    pub holds_clock: bool,
    /// The rung is used only when this school ...
    #[serde(default)]
    pub school: Option<Question>,
    /// ... has this option.
    #[serde(default)]
    pub option: Option<String>,
    /// main, or the reason for a side branch (shoulder-friendly, no-rig, ...).
    pub branch: Branch,
    /// Pace in words.
    pub cycle_note: String,
    /// Why it stands here.
    pub why: String,
}

fn yes() -> bool {
    true
}

/// Easier movements in order, which keep what the reference is for.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Ladder {
    /// Id, usually the reference movement's.
    pub id: String,
    /// The stimulus that it protects.
    pub keeps: String,
    /// Count unit of the reference rung.
    pub unit: crate::units::Unit,
    /// Movements that are scaled on this ladder.
    pub covers: Vec<String>,
    /// Hardest to easiest inside each branch.
    pub rungs: Vec<Rung>,
}

/// Dose of a drill; for each side when the drill is per side.
#[derive(Debug, Clone, Copy, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Dose {
    /// Seconds for the whole drill.
    pub seconds: u32,
    /// Reps, when it is counted.
    #[serde(default)]
    pub reps: Option<u32>,
}

/// A warm-up or cool-down drill.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Drill {
    /// Id.
    pub id: String,
    /// Name as read aloud.
    pub name: String,
    /// Other words that coaches type for it.
    #[serde(default)]
    pub aliases: Vec<String>,
    /// raise, mobilise, activate, rehearse or cool-down.
    pub kind: String,
    /// Regions that it prepares.
    pub regions: Vec<String>,
    /// Patterns that it prepares.
    pub prepares: Vec<Pattern>,
    /// How much of it.
    pub dose: Dose,
    /// The dose is for each side.
    pub per_side: bool,
    /// Kit needed.
    pub equipment: Vec<Gear>,
    /// standing, floor, hanging, wall or moving.
    pub position: String,
    /// 1 easy .. 3 working.
    pub intensity: u8,
    /// What the coach says.
    pub cue: String,
    /// The easier form.
    pub easier: String,
    /// The harder form.
    #[serde(default)]
    pub harder: Option<String>,
}

impl Drill {
    /// Seconds for both sides together.
    pub fn seconds(&self) -> u32 {
        self.dose.seconds * if self.per_side { 2 } else { 1 }
    }
}

/// One step of a build-up.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ProgressionStep {
    /// What is done.
    pub name: String,
    /// Reps of it.
    #[serde(default)]
    pub reps: Option<u32>,
    /// empty-bar, pvc, light or bodyweight.
    pub load: String,
    /// Seconds to allow with a group.
    pub seconds: u32,
    /// What the coach says.
    pub cue: String,
    /// Movements of the build-up to which it leads; none: all of them.
    #[serde(default)]
    pub only: Vec<String>,
}

impl ProgressionStep {
    /// Whether it leads to one of some movements.
    pub fn leads_to(&self, movements: &[&str]) -> bool {
        self.only.is_empty() || self.only.iter().any(|m| movements.contains(&m.as_str()))
    }
}

/// A build-up from first touch to working weight.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Progression {
    /// Id.
    pub id: String,
    /// Name.
    pub name: String,
    /// Movements that it prepares.
    #[serde(rename = "for")]
    pub movements: Vec<String>,
    /// In order.
    pub steps: Vec<ProgressionStep>,
}

/// One condition that brings up a safety note.
#[derive(Debug, Clone, Deserialize)]
#[allow(missing_docs)]
pub struct Threshold {
    pub metric: String,
    pub op: String,
    pub value: toml::Value,
    #[serde(default)]
    pub unit: Option<String>,
    #[serde(default)]
    pub window: Option<String>,
    #[serde(default)]
    pub who: Option<String>,
}

/// A safety note.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Caution {
    /// Tag that movements carry.
    pub tag: String,
    /// Heading.
    pub title: String,
    /// In the coach's voice.
    pub coach_says: String,
    /// Any of these brings it up; empty means that the coach's eye decides.
    pub threshold: Vec<Threshold>,
    /// When it matters.
    pub when: String,
    /// What to do.
    pub action: String,
    /// When to send the member to a clinician.
    #[serde(default)]
    pub refer: Option<String>,
}

/// A kind of kit.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Equipment {
    /// Id.
    pub id: Gear,
    /// Name.
    pub name: String,
    /// People who can work on one item at the same moment.
    pub shareable: u32,
    /// People who can take turns on one item.
    pub rotate: u32,
    /// Floor area in use, square metres.
    pub footprint_m2: f64,
}

/// One answer to a question on which good coaches differ.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct SchoolOption {
    pub id: String,
    pub name: String,
    pub says: String,
    pub when_it_suits: String,
}

/// A question on which good coaches differ.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
#[allow(missing_docs)]
pub struct School {
    pub id: Question,
    pub question: String,
    pub options: Vec<SchoolOption>,
    pub default: String,
    pub reason: String,
}

/// A word that fits several movements.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Ambiguous {
    /// The word as coaches write it.
    pub word: String,
    /// Movement id to take; empty: do not guess.
    pub default: String,
    /// Movement to take when a percentage of a maximum is written.
    #[serde(default)]
    pub with_percent: Option<String>,
    /// What it may mean.
    pub candidates: Vec<String>,
    /// What to ask.
    pub ask: String,
}

macro_rules! file {
    ($name:ident, $field:ident, $row:ty) => {
        #[derive(Deserialize)]
        #[serde(deny_unknown_fields)]
        pub(super) struct $name {
            pub $field: Vec<$row>,
        }
    };
}
file!(MovementFile, movement, Movement);
file!(LadderFile, ladder, Ladder);
file!(DrillFile, drill, Drill);
file!(ProgressionFile, progression, Progression);
file!(CautionFile, caution, Caution);
file!(EquipmentFile, equipment, Equipment);
file!(SchoolFile, school, School);
file!(AmbiguousFile, ambiguous, Ambiguous);

pub(super) fn parse<T: DeserializeOwned>(name: &str, text: &str) -> Result<T, String> {
    toml::from_str(text).map_err(|e| format!("data/{name}.toml: {e}"))
}
