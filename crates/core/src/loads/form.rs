//! Which of the sheet's levels a member lifts.

use crate::pacing::Level;
use crate::roster::Member;
use crate::sheet::LiftSets;

/// The sets of a member, where the sheet has forms for several levels. Of two, the lower is for new members; of three, the
/// lowest is theirs and the middle one is for those who train two or three times a week (own).
pub(super) fn form_of<'a>(member: &Member, lift: &'a LiftSets) -> &'a LiftSets {
    let (Some(second), Some(lowest)) = (lift.forms.first(), lift.forms.last()) else { return lift };
    match member.level {
        Level::New => &lowest.sets,
        Level::Regular if lift.forms.len() > 1 => &second.sets,
        Level::Regular | Level::Seasoned | Level::Competitive => lift,
    }
}
