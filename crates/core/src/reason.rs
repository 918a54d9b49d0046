//! Why somebody stands where they stand, and why a line or a weight of theirs is not the sheet's: values with their figures.
//! The words are in [`crate::say`]; nothing reads them back.

use crate::movement::Cause;
use crate::sheet::{TargetUnit, Tempo};
use crate::units::Tier;
use serde::{Deserialize, Serialize};

/// One reason.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Reason {
    /// Of a member's place in a workout.
    Place(OfPlace),
    /// Of a line that is their own.
    Line(OfLine),
    /// Of the weights or the way of a lift.
    Lift(OfLift),
}

impl Reason {
    /// It follows from a limit or a pregnancy: shown to the coach and to the member alone.
    pub fn private(&self) -> bool {
        match self {
            Reason::Place(_) => false,
            Reason::Line(l) => l.private(),
            Reason::Lift(l) => l.private(),
        }
    }
}

impl From<OfPlace> for Reason {
    fn from(of: OfPlace) -> Reason {
        Reason::Place(of)
    }
}

impl From<OfLine> for Reason {
    fn from(of: OfLine) -> Reason {
        Reason::Line(of)
    }
}

impl From<OfLift> for Reason {
    fn from(of: OfLift) -> Reason {
        Reason::Lift(of)
    }
}

/// How a limit came to be known, which decides the words.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Agreed {
    /// The member told it.
    Told,
    /// What is done in a pregnancy is agreed with the member.
    Together,
}

impl Agreed {
    /// By what stands against a movement.
    pub fn about(causes: &[Cause]) -> Agreed {
        if causes.contains(&Cause::Pregnancy) { Agreed::Together } else { Agreed::Told }
    }
}

/// A movement as it stands on a line.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Doing {
    /// Catalogue id.
    pub movement: String,
    /// How it is done, where the line says so.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub variant: Option<String>,
    /// It is counted in reps: several of them are named.
    pub counted: bool,
}

/// Work that is far beyond a member: no figure is given for it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "beyond", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Beyond {
    /// A load or a skill that they do not have yet.
    NotYet { movement: String },
    /// Many times the largest set, in all or in a round of a list without an end.
    TooMuch { movement: String, units: f64, in_a_round: bool, largest: f64 },
    /// The middle of the runs is some caps away, s.
    TooLong { seconds: f64 },
    /// Most runs never end.
    NeverEnds,
}

/// What is said of a day's workout as a whole.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "code", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum OfDay {
    /// Nobody in the room has a movement of Full yet: reps wanted at once, the best there is, the hardest version that is done.
    NobodyYet { movement: String, wants: f64, best: f64, starts_at: Tier },
    /// Most lack one line of Full; what else it can be.
    SecondChoice { movement: String, lacking: usize, members: usize, instead: String },
}

/// Why a member stands in a version.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "code", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum OfPlace {
    /// What a version that was not taken would give: middle in the unit of the score, share on stimulus.
    WouldGive { tier: Tier, unit: TargetUnit, middle: f64, on_stimulus: f64 },
    /// A version is far beyond them; `here`: it is the one where they stand.
    Far { tier: Tier, here: bool, of: Beyond },
    /// What the version gives: one in ten, middle, nine in ten, share inside the window; `steady`: it is judged by an even pace alone.
    Gives {
        tier: Tier,
        unit: TargetUnit,
        low: f64,
        middle: f64,
        high: f64,
        on_stimulus: f64,
        #[serde(default, skip_serializing_if = "Option::is_none")]
        window: Option<[Option<f64>; 2]>,
        steady: bool,
    },
    /// Results moved the middle: from, to, and how many of them are the member's own.
    Results { unit: TargetUnit, before: f64, now: f64, own: u32 },
    /// Of all that the range hangs on, this is known least.
    LeastKnown { ability: String },
    /// The coach chose another version than would have been proposed.
    Chosen { tier: Tier, proposed: Tier },
}

/// What is asked of a line that a member lacks.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "asked", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Asked {
    /// Whole sets of so many.
    Sets { reps: f64 },
    /// So much of it, in all or in a round.
    Amount { units: f64, in_a_round: bool },
}

/// Where the most of a pattern comes from that a member may meet in a day.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "from", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum BoundFrom {
    /// Nobody logs them yet: their first day.
    FirstDay,
    /// Twice the largest day of four weeks.
    TwiceLargest { largest: f64, whole: f64 },
    /// The largest day is so small that a stranger's bound is more.
    Largest { largest: f64, whole: f64 },
    /// None in four weeks.
    NoneLately { whole: f64 },
    /// No log says anything of them.
    Unknown { new: bool },
}

/// Why a line is a member's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "code", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum OfLine {
    /// A limit rules the movement out; `why`: what the replacement keeps, from the table.
    Limit { to: Doing, from: Doing, agreed: Agreed, why: String },
    /// A limit rules it out and nothing here suits.
    NothingSuits { movement: String, agreed: Agreed },
    /// Strict reps they have, and from how many on the hall swings.
    StrictFirst { to: String, from: String, strict: f64, swings_from: f64 },
    /// A rung that they can: what is asked, and their best set of the movement before.
    Rung { to: String, from: String, asked: Asked, best: f64 },
    /// Less of the version, which is far beyond them.
    LessOfIt,
    /// New and nothing tested: a ceiling, kg.
    Ceiling { kg: f64 },
    /// The first whole set does not hold: reps wanted (of a movement where several are lifted with one weight), and the largest
    /// sets at both weights.
    FirstSet {
        to_kg: f64,
        from_kg: f64,
        of: Option<String>,
        wants: f64,
        largest_before: f64,
        largest_now: f64,
    },
    /// All reps together are many times the largest set at the weight before.
    InAll { to_kg: f64, from_kg: f64, of: Option<String>, total: f64, largest_before: f64, largest_now: f64 },
    /// A later round of the run takes more sets than are wished.
    LaterSets { to_kg: f64, from_kg: f64, sets: u32 },
    /// A jump that would be none: the most for the stature, cm.
    JumpBox { to_cm: f64, from_cm: f64, most_cm: f64, stature_cm: f64 },
    /// A step far above the knee, cm.
    StepBox { to_cm: f64, from_cm: f64, knee_cm: f64, stature_cm: f64 },
    /// More of a pattern than they may meet in a day; `away_days`: they come back after so many.
    Volume { total: f64, pattern: String, most: f64, of: BoundFrom, away_days: Option<i64> },
    /// The hall has too few of a size.
    Stock { to_kg: f64, from_kg: f64, implement: String },
}

impl OfLine {
    /// It follows from a limit.
    pub fn private(&self) -> bool {
        matches!(self, OfLine::Limit { .. } | OfLine::NothingSuits { .. })
    }
}

/// The rule that holds for a member's weights, with the reps that are left in every set.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "rule", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Rule {
    Pregnant {
        first_kg: f64,
        left: u32,
    },
    New {
        first_kg: f64,
        step_kg: f64,
        left: u32,
    },
    Limit {
        first_kg: f64,
        left: u32,
    },
    /// `most_percent`: where the sheet says percentages.
    NewButKnown {
        most_percent: Option<f64>,
        left: u32,
    },
    Unknown {
        first_kg: f64,
        left: u32,
    },
    Back {
        weeks: i64,
    },
}

/// The heaviest at hand is too light: more reps, or the same slower.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct TooLight {
    /// What would be right, kg of one implement.
    pub wanted_kg: f64,
    /// What there is, kg of one.
    pub at_hand_kg: f64,
    /// Reps as written.
    pub reps: u32,
    /// Reps that make up for it; at most double.
    pub more_reps: u32,
    /// More would be needed than double.
    pub not_enough: bool,
    /// The other way: the written reps at this tempo; nothing that is thrown is lowered slowly.
    pub or_tempo: Option<Tempo>,
}

/// Why a lift of a member is not the sheet's, or what must be known of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "code", rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum OfLift {
    /// A limit rules the lift out.
    LiftForLimit { to: String, from: String, agreed: Agreed },
    /// A limit rules it out and nothing here suits.
    NoLift { lift: String, agreed: Agreed },
    /// The kit has no barbell, or nothing to do it with.
    LiftForKit { to: String, from: String, no_barbell: bool },
    /// Sets to the most: the best set, and what each set is.
    ToTheMost { best: f64, each: u32 },
    /// Sets to the most of which no best set is known.
    NoBestSet,
    /// One weight for a chain, by the part that is hardest for them.
    HardestPart { lift: String },
    /// The one rule of the card.
    Rule { of: Rule },
    /// Nothing that is thrown is lowered slowly.
    TempoStays { tempo: Tempo },
    /// What the weights come from is over twelve weeks old.
    OldLift,
    /// The heaviest at hand is too light.
    TooLight { of: TooLight },
    /// No weight inside the band can be built.
    NotBuildable,
    /// No bar and no implement for it.
    NoImplement,
    /// Rest that is left of an interval, s, at a per cent that asks for more.
    ShortRest { every_s: u32, rest_s: f64, percent: f64 },
    /// A day's heavy set: reps, and sets on the way.
    BuildTo { reps: u32, sets: usize },
    /// The same from an estimate.
    BuildTowards { reps: u32, sets: usize },
    /// Sets that stay easy instead of a maximum.
    EasySets { sets: usize },
    /// No maximum of a replacement, and none in a pregnancy.
    NoMaximum { reps: u32, pregnant: bool },
    /// The coach moved all weights, kg.
    Moved { by_kg: f64 },
}

impl OfLift {
    /// It follows from a limit or a pregnancy.
    pub fn private(&self) -> bool {
        match self {
            OfLift::LiftForLimit { .. } | OfLift::NoLift { .. } => true,
            OfLift::Rule { of } => matches!(of, Rule::Pregnant { .. } | Rule::Limit { .. }),
            OfLift::NoMaximum { pregnant, .. } => *pregnant,
            _ => false,
        }
    }
}
