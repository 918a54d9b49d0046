//! What a member lifts when the sheet's lift is not for them: a limit rules it out, or the gym has nothing to do it with.

use crate::kinds::Gear;
use crate::kit::Kit;
use crate::movement::{Cause, LoadKind, LoadRule, catalogue};
use crate::reason::{Agreed, OfLift};
use crate::roster::Member;

/// The lift that is done, and why it is not the sheet's.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Instead {
    /// Catalogue id.
    pub lift: String,
    /// Reps for one rep of the sheet's lift.
    pub reps: f64,
    /// Of the load, for one of the sheet's lift; where nothing better is known.
    pub load: Option<f64>,
    /// Why.
    pub reason: Option<OfLift>,
    /// Nothing fits: the coach must settle it.
    pub open: Option<OfLift>,
    /// A limit asks for it.
    pub by_limit: bool,
}

fn same(id: &str) -> Instead {
    Instead { lift: id.to_owned(), reps: 1.0, load: None, reason: None, open: None, by_limit: false }
}

/// Whether the kit has what something needs, and it can be loaded where the sheet's lift is.
fn liftable(id: &str, kit: &Kit, loaded: bool) -> bool {
    catalogue().movement(id).is_some_and(|m| (m.load != LoadKind::None || !loaded) && kit.has(&m.equipment))
}

/// What stands in for a lift for some causes: the first candidate that can be lifted here.
fn stand_in(id: &str, causes: &[Cause], fits: impl Fn(&str) -> bool) -> Option<Instead> {
    let found = catalogue().instead(id, causes, |t| fits(&t.to))?.ok()?;
    let load = match found.load {
        LoadRule::Share(x) => Some(x),
        LoadRule::SameBar => Some(1.0),
        _ => None,
    };
    Some(Instead { load, ..same(&found.to) })
}

/// What a member does for a lift of the sheet.
pub(super) fn lift_for(member: &Member, id: &str, kit: &Kit) -> Instead {
    let Some(m) = catalogue().movement(id) else { return same(id) };
    let rules_out = |m: &str| catalogue().movement(m).and_then(|m| member.limit_against(&m.avoid_with));
    let loaded = m.load != LoadKind::None;
    let fits = |x: &str| rules_out(x).is_none() && liftable(x, kit, loaded);
    if rules_out(id).is_some() {
        let causes = member.causes_against(m);
        let agreed = Agreed::about(&causes);
        return match stand_in(id, &causes, fits) {
            Some(found) => {
                let reason = OfLift::LiftForLimit { to: found.lift.clone(), from: id.to_owned(), agreed };
                Instead { by_limit: true, reason: Some(reason), ..found }
            }
            None => Instead { open: Some(OfLift::NoLift { lift: id.to_owned(), agreed }), ..same(id) },
        };
    }
    if !kit.has(&m.equipment)
        && let Some(found) = stand_in(id, &[Cause::NoBarbell, Cause::NoRig], fits)
    {
        let no_barbell = kit.count(Gear::Barbell) == 0;
        let reason = OfLift::LiftForKit { to: found.lift.clone(), from: id.to_owned(), no_barbell };
        return Instead { reason: Some(reason), ..found };
    }
    same(id)
}
