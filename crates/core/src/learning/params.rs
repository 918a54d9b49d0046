//! Every constant of learning, in one place. Log sds unless said; all own, tried in simulated halls that share no law with the pacing
//! model.

/// How far a hall as a whole lies from the forecasts.
pub const HALL: f64 = 0.12;
/// How far a format of work does, in one hall.
pub const FORMAT: f64 = 0.10;
/// How far work that one ability limits does, in one hall.
pub const GROUP: f64 = 0.06;
/// How far a member does.
pub const MEMBER: f64 = 0.15;
/// How far a member does in what one ability limits.
pub const OWN: f64 = 0.12;
/// What a class shares beside: the day, the room, and what the forecast of its sheet has wrong for everybody.
pub const CLASS: f64 = 0.16;

/// Noise of one result whose forecast has this sd itself.
pub const NOISE: f64 = 0.13;
/// ... and its variance grows with that sd to this power.
pub const NOISE_POWER: f64 = 0.8;

/// After each class a hall may have changed by this,
pub const DRIFT_HALL: f64 = 0.015;
/// a member by this,
pub const DRIFT_MEMBER: f64 = 0.015;
/// and a member in one ability by this.
pub const DRIFT_OWN: f64 = 0.007;
/// Who was away for so many days
pub const AWAY_DAYS: i64 = 14;
/// may have changed by this.
pub const AWAY: f64 = 0.05;

/// From so many sds among the others of its class on a result counts as much less.
pub const ROBUST_FROM: f64 = 2.0;
/// From so many sds from its forecast on a result is asked about and, without an answer, teaches nothing.
pub const ASKED_FROM: f64 = 3.0;
/// No class moves an effect by more than so many of its first sds.
pub const MOST_STEP: f64 = 1.5;
/// A share of what a result slower than expected would move its member by: who holds back once is not slow.
pub const SLOW_COUNTS: f64 = 0.5;
/// No result counts as further from its middle than this, in logarithms.
pub const MOST_LATE: f64 = 1.2;
/// Results of a member that the hall's usual scatter is worth.
pub const SPREAD_OF: f64 = 6.0;
/// Nobody's scatter is taken for less than this of the usual.
pub const LEAST_SPREAD: f64 = 0.75;
/// A result at the cap says only that it is as late: so much of its variance more.
pub const CENSORED: f64 = 2.0;

/// Results teach for so many whole months.
pub const MONTHS: u32 = 12;
/// A new test leaves this share of what was learnt of its ability.
pub const TEST_KEEPS: f64 = 0.5;
/// So many results of a member's own make a forecast one from results,
pub const FROM_RESULTS: u32 = 3;
/// where it is so much narrower than before any.
pub const NARROWED: f64 = 0.92;
/// A member who leans one way for so many days should be tested again.
pub const LEANS_DAYS: i64 = 56;
/// ... where they lean by so many sds of what is left unknown.
pub const LEANS: f64 = 1.5;
