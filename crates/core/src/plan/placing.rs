//! What the versions of a block and everybody's place are made of: each by all that it hangs on.

use super::memo::{Input, Memo, Sealed, Stopped, recall};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::roster::{Ability, Member, ability};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::versions::{PlaceDay, Placed, Predicted, Room, Tier, Versions, Work, make, place};
use chrono::NaiveDate;
use std::sync::Arc;

/// What a member is able to do on a day.
#[derive(Debug)]
pub(super) struct AbilityOf<'a> {
    pub member: &'a Member,
    pub date: NaiveDate,
}

impl Input for AbilityOf<'_> {
    type Made = Ability;

    fn make(&self, _: &dyn Memo) -> Result<Ability, Stopped> {
        Ok(ability(self.member, self.date))
    }
}

/// The three versions of a written work for a class.
#[derive(Debug)]
pub(super) struct VersionsOf<'a> {
    pub written: &'a Work,
    pub stimulus: &'a Stimulus,
    pub members: &'a [Member],
    pub date: NaiveDate,
    /// Versions that the coach chose, by position in the class.
    pub kept: &'a [(usize, Tier)],
    pub kit: &'a Kit,
    /// The schools of versions alone.
    pub schools: &'a Settings,
}

impl Input for VersionsOf<'_> {
    type Made = Versions;

    fn make(&self, memo: &dyn Memo) -> Result<Versions, Stopped> {
        let known = |member: &Member| recall(memo, &AbilityOf { member, date: self.date });
        let abilities: Vec<Arc<Ability>> = self.members.iter().map(known).collect::<Result<_, _>>()?;
        let class: Vec<(&Member, &Ability)> =
            self.members.iter().zip(abilities.iter().map(Arc::as_ref)).collect();
        let bars = &Bars::of(self.kit);
        let room = Room { kit: self.kit, bars, settings: self.schools, today: self.date };
        Ok(make(self.written, self.stimulus, &class, self.kept, room))
    }
}

/// One member's place.
#[derive(Debug)]
pub(super) struct PlaceOf<'a> {
    pub day: &'a Sealed<PlaceDay<'a>>,
    pub member: &'a Member,
    pub chosen: Option<Tier>,
    pub as_written: bool,
}

impl Input for PlaceOf<'_> {
    type Made = Placed;

    fn make(&self, memo: &dyn Memo) -> Result<Placed, Stopped> {
        let ability = recall(memo, &AbilityOf { member: self.member, date: self.day.today })?;
        Ok(place(self.day, self.member, &ability, self.chosen, self.as_written))
    }
}

/// One member's range in work that the kit has changed.
#[derive(Debug)]
pub(super) struct RangeOf<'a> {
    pub day: &'a Sealed<PlaceDay<'a>>,
    pub work: &'a Work,
    pub member: &'a Member,
}

impl Input for RangeOf<'_> {
    type Made = Predicted;

    fn make(&self, memo: &dyn Memo) -> Result<Predicted, Stopped> {
        let ability = recall(memo, &AbilityOf { member: self.member, date: self.day.today })?;
        Ok(self.day.range(self.work, self.member, &ability, self.day.runs))
    }
}
