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
    /// The work, part after part; at least one, empty for a block that only has lifts, a length or notes.
    pub parts: Vec<Part>,
    /// Who does it together.
    pub team: Option<Team>,
    /// Lifts of a strength block.
    pub lifts: Vec<LiftSets>,
    /// Rep maxima of the day.
    pub builds: Vec<Build>,
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
            parts: vec![Part::new(line)],
            team: None,
            lifts: Vec::new(),
            builds: Vec::new(),
            wishes: Vec::new(),
            score: None,
            week: None,
            notes: Vec::new(),
        }
    }

    /// The first part.
    pub fn first(&self) -> &Part {
        static NONE: Part = Part::empty();
        self.parts.first().unwrap_or(&NONE)
    }

    /// The clock of the first part.
    pub fn format(&self) -> Option<&Format> {
        self.first().format.as_ref()
    }

    /// The movement lines of all parts, with those around the work (buy-in, interruption ...).
    pub fn moves(&self) -> impl Iterator<Item = &MoveLine> {
        self.parts.iter().flat_map(|p| p.moves().chain(p.extras.iter().map(|e| &e.work)))
    }

    /// How it is scored: as written, else by the clock of its first part. Warm-ups and cool-downs are not scored.
    pub fn scored(&self) -> Score {
        let unscored = matches!(self.kind, BlockKind::WarmUp | BlockKind::CoolDown);
        self.score.unwrap_or(match self.format() {
            _ if unscored => Score::None,
            Some(Format::Rounds { .. } | Format::Scheme { .. } | Format::Chipper) => Score::Time,
            Some(Format::Amrap { .. } | Format::EveryUntilFailure { .. }) => Score::RoundsAndReps,
            Some(Format::Intervals { .. } | Format::Stations { .. } | Format::OnOff { .. }) => Score::Reps,
            Some(Format::Sets | Format::BuildToMax | Format::ClimbingSingles) => Score::Load,
            Some(Format::Every { .. } | Format::EveryAlternating { .. } | Format::Quality { .. }) | None => {
                Score::None
            }
        })
    }

    /// Whether its work is run against a clock, and so can be paced: not sets of lifts, not work with care.
    pub fn on_the_clock(&self) -> bool {
        let paced = |f: &Format| {
            !matches!(f, Format::Quality { .. } | Format::Sets | Format::BuildToMax | Format::ClimbingSingles)
        };
        !matches!(self.kind, BlockKind::WarmUp | BlockKind::CoolDown)
            && self.lifts.is_empty()
            && self.builds.is_empty()
            && self.parts.iter().any(|p| p.format.as_ref().is_some_and(paced))
    }

    /// Whether the parts run on different clocks.
    pub fn mixed(&self) -> bool {
        let word = |p: &Part| p.format.as_ref().map(Format::word);
        self.parts.iter().any(|p| word(p) != word(self.first()))
    }
}

/// Work on one clock; a block has one part, or several one after another.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// Fixed rest before it, s.
    pub rest_s: u32,
    /// Its clock; `None` where nothing is done.
    pub format: Option<Format>,
    /// Work in order.
    pub items: Vec<Item>,
    /// Work around the list.
    pub extras: Vec<Extra>,
    /// Its first line.
    pub line: u32,
}

impl Part {
    const fn empty() -> Part {
        Part { rest_s: 0, format: None, items: Vec::new(), extras: Vec::new(), line: 1 }
    }

    pub(super) fn new(line: u32) -> Part {
        Part { line, ..Part::empty() }
    }

    /// The movement lines of its list.
    pub fn moves(&self) -> impl Iterator<Item = &MoveLine> {
        self.items.iter().filter_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        })
    }

    /// Times that the list is done: rounds, numbers of a scheme, cycles, windows; 1 for a list done once and for as
    /// many times as possible.
    pub fn rounds(&self) -> u32 {
        match &self.format {
            Some(Format::Rounds { n } | Format::Every { n, .. } | Format::EveryAlternating { n, .. }) => *n,
            Some(Format::Intervals { n, .. } | Format::OnOff { n, .. }) => *n,
            Some(Format::Stations { rounds, .. }) => *rounds,
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

    /// Whether its lines are numbered by minutes: an alternating clock with rest in its list.
    pub(super) fn with_minutes(&self) -> bool {
        matches!(self.format, Some(Format::EveryAlternating { .. }))
            && self.items.iter().any(|i| matches!(i, Item::Rest { .. }))
    }

    /// Whether the last line takes what is left of each window.
    pub fn ends_with_max(&self) -> bool {
        self.moves().last().is_some_and(|m| m.count == Some(Count::Max))
    }
}

/// Work around the list of a part.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Extra {
    /// When it is done.
    pub when: When,
    /// What is done.
    pub work: MoveLine,
}

/// When work around the list is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// Once before the list; once in each window.
    BuyIn,
    /// Once after it.
    CashOut,
    /// Once after a round.
    AfterRound(u32),
    /// From the second round on, once more each round: 1, 2, 3 ... times.
    EachRoundMore,
    /// Interrupts the work on the clock.
    OnTheClock {
        /// Seconds from one to the next.
        every_s: u32,
        /// The first one at the start, not after `every_s`.
        from_zero: bool,
    },
    /// The price of every break of a set.
    OnBreak,
}

/// People who do a workout together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Team {
    /// How many.
    pub size: u32,
    /// How they divide it.
    pub mode: TeamMode,
}

/// How a team divides the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum TeamMode {
    /// Whole rounds in turn.
    Alternate,
    /// One at a time, in turn, every line by everybody in shares as they like.
    OneWorks,
    /// The reps of every line divided between them.
    Share,
}

impl TeamMode {
    /// The word in answers.
    pub fn word(self) -> &'static str {
        match self {
            TeamMode::Alternate => "alternate",
            TeamMode::OneWorks => "one-works",
            TeamMode::Share => "share",
        }
    }
}

/// A rep maximum of the day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Build {
    /// The lift.
    pub movement: Named,
    /// Reps of the maximum.
    pub reps: u32,
    /// Time for all of it, s.
    pub window_s: Option<u32>,
    /// The build ends before the first miss.
    pub no_misses: bool,
    /// Line on the sheet.
    pub line: u32,
}

/// The clock of a part. Times in seconds.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "format", rename_all = "kebab-case")]
#[allow(missing_docs)] // the names of the fields are the sheet's words
pub enum Format {
    /// The list `n` times, as fast as possible.
    Rounds { n: u32 },
    /// The list once per number, which is the reps of every line without a count of its own.
    Scheme { reps: Vec<u32> },
    /// The list once, as fast as possible.
    Chipper,
    /// As many rounds and reps as possible.
    Amrap { seconds: u32 },
    /// The whole list starts on the clock, `n` times.
    Every { seconds: u32, n: u32 },
    /// One line starts on the clock, in turn, `n` cycles in all.
    EveryAlternating { seconds: u32, n: u32 },
    /// The whole list on the clock until a cycle is not finished in time.
    EveryUntilFailure { seconds: u32 },
    /// `n` windows of work with fixed rest between.
    Intervals { on: u32, off: u32, n: u32 },
    /// One window for each line in turn, `rounds` times through.
    Stations { on: u32, off: u32, rounds: u32 },
    /// `n` short windows: in turn over the lines, or all of them on each line.
    OnOff { on: u32, off: u32, n: u32, alternating: bool },
    /// Sets of one or more lifts; see [`Block::lifts`].
    Sets,
    /// A rep maximum of the day; see [`Block::builds`].
    BuildToMax,
    /// Clocked sets that climb; see [`Block::lifts`].
    ClimbingSingles,
    /// With care, unscored: so many times through, or the reps of lines without a count.
    Quality { rounds: u32, scheme: Vec<u32> },
}

impl Format {
    /// The word in answers.
    pub fn word(&self) -> &'static str {
        match self {
            Format::Rounds { .. } => "rounds-for-time",
            Format::Scheme { .. } => "scheme-for-time",
            Format::Chipper => "chipper",
            Format::Amrap { .. } => "amrap",
            Format::Every { .. } => "every",
            Format::EveryAlternating { .. } => "every-alternating",
            Format::EveryUntilFailure { .. } => "every-until-failure",
            Format::Intervals { .. } => "intervals",
            Format::Stations { .. } => "stations",
            Format::OnOff { .. } => "on-off",
            Format::Sets => "sets",
            Format::BuildToMax => "build-to-max",
            Format::ClimbingSingles => "climbing-singles",
            Format::Quality { .. } => "quality",
        }
    }

    /// Whether each line is done for the length of its window, so that it needs no count.
    pub fn open_counts(&self) -> bool {
        matches!(self, Format::Stations { .. } | Format::OnOff { .. })
    }

    /// Whether it is done once through against the clock: the clock that a part without one has.
    pub fn for_time(&self) -> bool {
        matches!(self, Format::Rounds { .. } | Format::Scheme { .. } | Format::Chipper)
    }
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
    /// The load climbs from set to set on a clock.
    pub climb: bool,
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
