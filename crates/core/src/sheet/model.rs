//! What a sheet says, once read. Lines are numbered from 1; loads in kg of one implement, [heavier, lighter];
//! times in whole seconds.

use crate::units::Unit;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// A day's session.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Sheet {
    /// Name of the session.
    pub title: Option<String>,
    /// Its day.
    pub date: Option<NaiveDate>,
    /// What it should feel like, in the programmer's words.
    pub intent: Option<String>,
    /// Class length.
    pub class_s: Option<u32>,
    /// Unit of loads without one.
    pub units: WeightUnit,
    /// In order.
    pub blocks: Vec<Block>,
}

/// Unit of a load without one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum WeightUnit {
    /// Kilograms.
    #[default]
    Kg,
    /// Pounds.
    Lb,
}

/// What a block is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum BlockKind {
    WarmUp,
    Strength,
    Skill,
    Workout,
    Accessory,
    CoolDown,
}

impl BlockKind {
    /// The word in a heading.
    pub fn word(self) -> &'static str {
        match self {
            BlockKind::WarmUp => "warm-up",
            BlockKind::Strength => "strength",
            BlockKind::Skill => "skill",
            BlockKind::Workout => "workout",
            BlockKind::Accessory => "accessory",
            BlockKind::CoolDown => "cool-down",
        }
    }
}

/// One part of the session.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Block {
    /// What it is for.
    pub kind: BlockKind,
    /// Its own name.
    pub name: Option<String>,
    /// Line of its heading (of its first line without one).
    pub line: u32,
    /// Time set aside for it.
    pub duration_s: Option<u32>,
    /// Time at which the workout ends for everybody.
    pub cap_s: Option<u32>,
    /// Where results should land.
    pub target: Option<Target>,
    /// Its clock; `None` for a block that only has a length or notes.
    pub format: Option<Format>,
    /// Work in order.
    pub items: Vec<Item>,
    /// Lifts of a strength block.
    pub lifts: Vec<LiftSets>,
    /// What every version should keep.
    pub wishes: Vec<Wish>,
    /// How it is scored, when written.
    pub score: Option<Score>,
    /// Week k of n of a cycle.
    pub week: Option<[u32; 2]>,
    /// Lines kept as they are.
    pub notes: Vec<String>,
}

impl Block {
    pub(super) fn new(kind: BlockKind, line: u32) -> Block {
        Block {
            kind,
            name: None,
            line,
            duration_s: None,
            cap_s: None,
            target: None,
            format: None,
            items: Vec::new(),
            lifts: Vec::new(),
            wishes: Vec::new(),
            score: None,
            week: None,
            notes: Vec::new(),
        }
    }

    /// The movement lines.
    pub fn moves(&self) -> impl Iterator<Item = &MoveLine> {
        self.items.iter().filter_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        })
    }

    /// How it is scored: as written, else by its format.
    pub fn scored(&self) -> Score {
        self.score.unwrap_or(match &self.format {
            Some(Format::Rounds { .. } | Format::Scheme { .. } | Format::Chipper) => Score::Time,
            Some(Format::Amrap { .. }) => Score::RoundsAndReps,
            Some(Format::Sets) => Score::Load,
            Some(Format::Quality { .. } | Format::Unread) | None => Score::None,
        })
    }

    /// Times that the list is done: rounds or numbers of a scheme; 1 for a list done once.
    pub fn rounds(&self) -> u32 {
        match &self.format {
            Some(Format::Rounds { n }) => *n,
            Some(Format::Scheme { reps }) => reps.len() as u32,
            Some(Format::Quality { rounds, scheme }) => {
                if scheme.is_empty() {
                    *rounds
                } else {
                    scheme.len() as u32
                }
            }
            _ => 1,
        }
    }
}

/// The clock of a block.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "format", rename_all = "kebab-case")]
pub enum Format {
    /// The list `n` times, as fast as possible.
    Rounds {
        /// How many rounds.
        n: u32,
    },
    /// The list once per number, which is the reps of every line without a count of its own.
    Scheme {
        /// The numbers.
        reps: Vec<u32>,
    },
    /// The list once, as fast as possible.
    Chipper,
    /// As many rounds and reps as possible.
    Amrap {
        /// Seconds.
        seconds: u32,
    },
    /// Sets of one or more lifts; see [`Block::lifts`].
    Sets,
    /// With care, unscored.
    Quality {
        /// Times through.
        rounds: u32,
        /// Reps of lines without a count.
        scheme: Vec<u32>,
    },
    /// A format of the sheet language that this version does not read yet; reported as a problem.
    Unread,
}

/// One entry of a block's list.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(clippy::large_enum_variant)] // almost all entries are movements
pub enum Item {
    /// Work.
    Move(MoveLine),
    /// Fixed rest.
    Rest {
        /// Seconds.
        seconds: u32,
    },
}

/// A movement of the catalogue, or words that name none.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Named {
    /// Catalogue id.
    Known(String),
    /// The words as typed.
    Unknown(String),
}

impl Named {
    /// The catalogue id, when known.
    pub fn id(&self) -> Option<&str> {
        match self {
            Named::Known(id) => Some(id),
            Named::Unknown(_) => None,
        }
    }
}

/// One line of work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct MoveLine {
    /// What is done.
    pub movement: Named,
    /// How much; `None`: the format's scheme says.
    pub count: Option<Count>,
    /// What the count counts.
    pub unit: Unit,
    /// The count is for each side.
    pub per_side: bool,
    /// Weight or share of a maximum.
    pub load: Option<Load>,
    /// cm, [heavier, lighter].
    pub height_cm: Option<[f64; 2]>,
    /// Lowering-bottom-lifting-top.
    pub tempo: Option<Tempo>,
    /// Must not be broken.
    pub unbroken: bool,
    /// A version may leave it out.
    pub optional: bool,
    /// Words kept for the coach.
    pub note: Option<String>,
    /// Replacements without some kit: (`no barbell`, `no rig`, `home`; what is done instead).
    pub without_kit: Vec<(String, MoveLine)>,
    /// Line on the sheet.
    pub line: u32,
}

/// How much of a movement.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Count {
    /// The same for all.
    Each(f64),
    /// By standard, [heavier, lighter].
    ByStandard([f64; 2]),
    /// Its own number for each round.
    Scheme(Vec<u32>),
    /// As much as possible.
    Max,
}

/// Weight of a movement.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Load {
    /// kg of one implement, [heavier, lighter], and how many implements.
    Kg {
        /// kg of one.
        kg: [f64; 2],
        /// How many are held.
        implements: u8,
    },
    /// Share of a maximum.
    Percent {
        /// Per cent.
        percent: f64,
        /// Of what.
        of: PercentBase,
    },
    /// In words.
    Word(WordLoad),
}

/// A load in words.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum WordLoad {
    Light,
    Moderate,
    Heavy,
}

/// Seconds of each phase of a rep: lowering, bottom, lifting (0 = as fast as possible, X), top.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Tempo(pub [u8; 4]);

/// Sets of one lift.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct LiftSets {
    /// The lift.
    pub movement: Named,
    /// Reps of each set.
    pub reps: Vec<u32>,
    /// Percentages of a base.
    pub percent: Option<Percent>,
    /// Loads in kg, [heavier, lighter], when written.
    pub kg: Option<[f64; 2]>,
    /// Add weight from set to set, by feel.
    pub add_weight: bool,
    /// Seconds from one set's start to the next.
    pub every_s: Option<u32>,
    /// Seconds between sets.
    pub rest_s: Option<u32>,
    /// The last so many sets at the band's top.
    pub last_at_top: Option<u32>,
    /// Tempo.
    pub tempo: Option<Tempo>,
    /// Words kept for the coach.
    pub note: Option<String>,
    /// Line on the sheet.
    pub line: u32,
}

/// Percentages of a lift's sets.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Percent {
    /// One, a band's low and high end, or one for each set.
    pub values: Vec<f64>,
    /// A band (`78-82`), not a list.
    pub band: bool,
    /// Of what.
    pub of: PercentBase,
}

/// What a percentage is of.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PercentBase {
    /// Not said: the gym's school decides.
    Unsaid,
    /// The one-rep maximum.
    OneRm,
    /// The training maximum.
    TrainingMax,
    /// A recent n-rep maximum: percent of that load itself.
    RepMax(u32),
    /// Another lift's one-rep maximum.
    Lift(String),
}

/// Where results should land.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct Target {
    /// What is counted.
    pub unit: TargetUnit,
    /// From.
    pub low: Option<f64>,
    /// To.
    pub high: Option<f64>,
}

/// Unit of a target.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
#[allow(missing_docs)]
pub enum TargetUnit {
    #[serde(rename = "s")]
    Seconds,
    Rounds,
    Reps,
}

/// What every version of the workout should keep.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Wish {
    /// No more than so many sets of a movement in each round.
    MostSets {
        /// Catalogue id.
        movement: String,
        /// Sets.
        sets: u32,
    },
    /// At least this share of each round's reps of a movement unbroken.
    UnbrokenShare {
        /// Catalogue id.
        movement: String,
        /// 0 to 1.
        share: f64,
    },
    /// Rest left in each cycle.
    LeastRest {
        /// Seconds.
        seconds: u32,
    },
    /// Slowest rate.
    LeastPace {
        /// Reps a minute.
        reps_per_min: f64,
    },
    /// No round longer.
    LongestRound {
        /// Seconds.
        seconds: u32,
    },
    /// What should be the limit.
    Limit {
        /// legs, lungs, grip, skill ...
        what: String,
    },
}

/// How a block is scored.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[allow(missing_docs)]
pub enum Score {
    #[serde(rename = "time")]
    Time,
    #[serde(rename = "time minus rest")]
    TimeMinusRest,
    #[serde(rename = "rounds and reps")]
    RoundsAndReps,
    #[serde(rename = "reps")]
    Reps,
    #[serde(rename = "lowest round")]
    LowestRound,
    #[serde(rename = "load")]
    Load,
    #[serde(rename = "calories")]
    Calories,
    #[serde(rename = "none")]
    None,
}

impl Score {
    /// All, in the order of the format page.
    pub const ALL: [Score; 8] = [
        Score::Time,
        Score::TimeMinusRest,
        Score::RoundsAndReps,
        Score::Reps,
        Score::LowestRound,
        Score::Load,
        Score::Calories,
        Score::None,
    ];

    /// The words on a sheet.
    pub fn words(self) -> &'static str {
        match self {
            Score::Time => "time",
            Score::TimeMinusRest => "time minus rest",
            Score::RoundsAndReps => "rounds and reps",
            Score::Reps => "reps",
            Score::LowestRound => "lowest round",
            Score::Load => "load",
            Score::Calories => "calories",
            Score::None => "none",
        }
    }
}
