//! What a line of a sheet says, once read: work with its count and load, sets of a lift, targets, wishes, scores. Loads in
//! kg of one implement, [heavier, lighter]; times in whole seconds.

use super::percent::PercentBase;
use crate::units::{Unit, WeightUnit};
use serde::{Deserialize, Serialize};

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

/// Where a value of a line comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum LoadFrom {
    /// It stands on the line, or the movement carries no weight.
    #[default]
    Written,
    /// It stands on another line: that line's number.
    Carried(u32),
    /// Nobody wrote it: a usual one is assumed where the work is planned.
    Assumed,
}

impl LoadFrom {
    /// The word in answers.
    pub fn word(self) -> &'static str {
        match self {
            LoadFrom::Written => "written",
            LoadFrom::Carried(_) => "carried",
            LoadFrom::Assumed => "assumed",
        }
    }
}

/// For whom another form of a line is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Who {
    /// The coach's own level: 2 below the one as written, 1 below that.
    Level(u8),
    /// Whoever likes.
    Choice,
}

/// Another form of a line that the coach wrote.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Other {
    /// For whom.
    pub who: Who,
    /// What is done instead.
    pub line: MoveLine,
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
    /// More from round to round; less when negative.
    pub rise: Option<f64>,
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
    /// The coach's own lighter versions and options.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub others: Vec<Other>,
    /// Where the weight comes from.
    #[serde(skip)]
    pub load_from: LoadFrom,
    /// Line on the sheet.
    pub line: u32,
}

impl MoveLine {
    /// A movement with nothing else said.
    pub fn of(movement: Named, unit: Unit, line: u32) -> MoveLine {
        MoveLine {
            movement,
            count: None,
            unit,
            rise: None,
            per_side: false,
            load: None,
            height_cm: None,
            tempo: None,
            unbroken: false,
            optional: false,
            note: None,
            without_kit: Vec::new(),
            others: Vec::new(),
            load_from: LoadFrom::Written,
            line,
        }
    }
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
        /// The unit in which it was typed, and in which it is printed back.
        #[serde(skip)]
        typed: WeightUnit,
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

impl WordLoad {
    /// As it is typed.
    pub fn word(self) -> &'static str {
        match self {
            WordLoad::Light => "light",
            WordLoad::Moderate => "moderate",
            WordLoad::Heavy => "heavy",
        }
    }
}

/// Seconds of each phase of a rep: lowering, bottom, lifting (0 = as fast as possible, X), top.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Tempo(pub [u8; 4]);

impl Tempo {
    /// `3-1-X-0`.
    pub fn words(self) -> String {
        let [lowering, bottom, lifting, top] = self.0;
        let lifting = if lifting == 0 { "X".to_owned() } else { lifting.to_string() };
        format!("{lowering}-{bottom}-{lifting}-{top}")
    }
}

#[allow(clippy::trivially_copy_pass_by_ref)] // serde hands a reference
pub(super) fn is_false(b: &bool) -> bool {
    !*b
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
    /// Seconds of rest left in the tightest cycle; never typed as a target, but what cycles on a clock are judged by.
    Rest,
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
