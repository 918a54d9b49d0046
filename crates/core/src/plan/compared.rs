//! What is run again for one member beside the plan: other ways to break the sets, other weights.

use super::advice::{OtherLoad, other_loads};
use super::memo::{Input, Memo, Stopped, recall};
use super::placing::AbilityOf;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::roster::Member;
use crate::stimulus::Stimulus;
use crate::versions::{Breaking, Effort, Placed, breakings, breakings_by_line};
use chrono::NaiveDate;

/// What other ways and weights would give.
#[derive(Debug, Clone, PartialEq)]
pub struct Compared {
    /// Ways to break all sets, the plan's own first.
    pub ways: Vec<Breaking>,
    /// The same for each line alone: (line in words, ways).
    pub each: Vec<(String, Vec<Breaking>)>,
    /// Other weights: (movement, weights).
    pub loads: Vec<(String, Vec<OtherLoad>)>,
}

/// All that it hangs on.
#[derive(Debug)]
pub struct ComparedOf<'a> {
    /// What the member does.
    pub placed: &'a Placed,
    /// Who.
    pub member: &'a Member,
    /// The day.
    pub date: NaiveDate,
    /// What to keep.
    pub stimulus: &'a Stimulus,
    /// What the hall has.
    pub kit: &'a Kit,
    /// How ranges are made.
    pub effort: Effort,
}

impl Input for ComparedOf<'_> {
    type Made = Compared;

    fn make(&self, memo: &dyn Memo) -> Result<Compared, Stopped> {
        let ComparedOf { placed, member, date, stimulus, kit, effort } = *self;
        let ability = &recall(memo, &AbilityOf { member, date })?;
        Ok(Compared {
            ways: breakings(placed, member.standard, ability, stimulus, effort.seed),
            each: breakings_by_line(placed, member.standard, ability, stimulus, effort.seed),
            loads: other_loads(placed, member, ability, stimulus, (kit, &Bars::of(kit)), effort),
        })
    }
}
