//! What a sheet says, once read. Lines are numbered from 1; loads in kg of one implement, [heavier, lighter];
//! times in whole seconds.

pub use super::lift::*;
pub use super::lines::*;
pub use super::percent::*;
pub use crate::units::WeightUnit;
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
    /// What is said to the class, line by line.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub messages: Vec<String>,
    /// In order.
    pub blocks: Vec<Block>,
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
    /// All, in the usual order of an hour.
    pub const ALL: [BlockKind; 6] = [
        BlockKind::WarmUp,
        BlockKind::Strength,
        BlockKind::Skill,
        BlockKind::Workout,
        BlockKind::Accessory,
        BlockKind::CoolDown,
    ];

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

    /// The block with nothing to do in it: it is left for another day.
    pub fn left_out(&self) -> Block {
        Block { name: self.name.clone(), ..Block::new(self.kind, self.line) }
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
            // as much as possible of something has no rounds
            Some(Format::Amrap { .. }) if self.first().moves().any(|m| m.count == Some(Count::Max)) => {
                Score::Reps
            }
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
    pub(crate) fn with_minutes(&self) -> bool {
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
