//! What the pieces of a line say, before they are put together: each with its place and the problems it brings.

use super::clock::Bits;
use super::model::{
    BlockKind, Count, Named, Percent, Score, Target, TeamMode, Tempo, WeightUnit, When, Wish, WordLoad,
};
use super::problem::Problem;
use crate::units::Unit;

/// A piece of a line: what it says and where it stands (tokens).
#[derive(Debug, Clone)]
pub(super) struct Said {
    pub atom: Atom,
    pub from: usize,
    pub to: usize,
    pub problems: Vec<Problem>,
}

/// What a piece says.
#[derive(Debug, Clone)]
pub(super) enum Atom {
    /// A heading word; `true`: nothing else can be meant.
    Head(BlockKind, bool),
    Clock(Bits),
    Cap(u32),
    Target(Target),
    /// A score, or words that are none.
    Score(Result<Score, String>),
    Wish(Wish),
    /// Week k of n.
    Week([u32; 2]),
    Team {
        size: Option<u32>,
        mode: Option<TeamMode>,
    },
    Rest(RestSaid),
    /// A length: from, to; s.
    Length(u32, u32),
    Move(Box<MoveSaid>),
    Sets(SetsSaid),
    Build(BuildSaid),
    Percent(Percent),
    /// `@ 85` without unit.
    At(f64, Option<f64>),
    Load(LoadSaid),
    /// cm, [heavier, lighter].
    Height([f64; 2]),
    Tempo(Tempo),
    Side,
    Unbroken,
    /// More each round.
    Rise(f64),
    WordLoad(WordLoad),
    AddWeight,
    Climb,
    /// The last so many sets at the band's top.
    LastAtTop(u32),
    Optional,
    NoMisses,
    FromCycle,
    Around(When),
    EndOfRound,
    /// Minutes of an alternating clock.
    Minutes(Vec<u32>),
    Then,
    /// Rank of a level: 3 as written, 4 above it.
    Level(u32),
    AllLevels,
    /// `scale the pull-ups to ring rows`.
    Scale,
    Or,
    /// What is missing: `no rower`, `home`.
    Kit(String),
    /// What follows replaces the work before it on the line.
    Instead,
    /// A weight for several lines follows or stands before.
    Bar,
    SameBar,
    Superset,
    /// The same reps at each of several loads.
    Ladder(LadderSaid),
    /// Words of a bracket: kept as they are.
    Note(String),
    /// A drill of the catalogue, with how much of it.
    Drill(String),
    /// Talk, or effort in words: reps in reserve, RPE.
    Effort(String),
    /// A person of a team: `P1`.
    Person(u32),
}

/// A rest: how long, and where.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct RestSaid {
    /// s; `None`: not said.
    pub seconds: Option<u32>,
    /// Between rounds, sets or windows.
    pub between: bool,
    /// As needed.
    pub free: bool,
}

/// A movement with its count.
#[derive(Debug, Clone)]
pub(super) struct MoveSaid {
    pub movement: Named,
    pub count: Option<Count>,
    pub unit: Option<Unit>,
    pub side: bool,
    /// So many times the count.
    pub times: u32,
    pub word: Option<WordLoad>,
    pub rise: Option<f64>,
    /// The count stands before the name.
    pub led: bool,
    /// It stands behind a plus.
    pub plus: bool,
}

/// Sets and reps; 0 reps: as many as possible.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct SetsSaid {
    pub reps: Vec<u32>,
    /// Reps, or seconds held.
    pub unit: Unit,
    /// Reps of further parts of a chain.
    pub more: Vec<u32>,
    /// A written 0.
    pub empty: bool,
    /// `5+`: as many as are good, at least so many.
    pub open: bool,
}

/// A rep maximum of the day.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct BuildSaid {
    pub reps: u32,
}

/// A weight: as typed, of one implement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct LoadSaid {
    /// [heavier, lighter].
    pub value: [f64; 2],
    /// The written unit.
    pub unit: Option<WeightUnit>,
    /// How many are held, when written.
    pub implements: Option<u8>,
    /// Two numbers were written.
    pub pair: bool,
    /// `@` stood before it.
    pub at: bool,
}

/// The same reps at each of several loads.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct LadderSaid {
    pub reps: f64,
    pub loads: Vec<[f64; 2]>,
    pub unit: Option<WeightUnit>,
    /// Catalogue id, where the movement stands inside.
    pub of: Option<String>,
}
