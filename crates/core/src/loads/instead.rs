//! What a member lifts when the sheet's lift is not for them: a limit rules it out, or the gym has nothing to do it with.

use crate::kit::Kit;
use crate::movement::say::spares;
use crate::movement::{Catalogue, LoadKind, Rung, catalogue};
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
    /// Why, in a sentence.
    pub reason: Option<String>,
    /// Nothing fits: the coach must settle it.
    pub open: Option<String>,
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

/// Lines of the ladder that could stand in: those of the branches that suit first, then any.
fn rung<'a>(id: &str, branches: &[&str], fits: impl Fn(&str) -> bool) -> Option<(&'a Rung, f64)> {
    let ladder = catalogue().ladder_for(id)?;
    let own = ladder.rungs.iter().find(|r| r.movement == id).map_or(1.0, |r| r.ratio);
    let usable = |r: &&Rung| r.movement != id && r.with.is_empty() && r.unit.is_none() && fits(&r.movement);
    branches
        .iter()
        .find_map(|b| ladder.rungs.iter().filter(|r| r.branch == *b).find(usable))
        .or_else(|| ladder.rungs.iter().find(usable))
        .map(|r| (r, own))
}

fn stand_in(rung: &Rung, own: f64, reason: String) -> Instead {
    Instead {
        lift: rung.movement.clone(),
        reps: rung.ratio / own,
        load: rung.load_factor,
        reason: Some(reason),
        open: None,
        by_limit: false,
    }
}

/// What a member does for a lift of the sheet.
pub(super) fn lift_for(member: &Member, id: &str, kit: &Kit) -> Instead {
    let name = |id: &str| catalogue().name(id).to_lowercase();
    let rules_out = |m: &str| catalogue().movement(m).and_then(|m| member.limit_against(&m.avoid_with));
    let loaded = catalogue().movement(id).is_some_and(|m| m.load != LoadKind::None);
    if let Some(limit) = rules_out(id) {
        let said = limit.replace('-', " ");
        let fits = |m: &str| rules_out(m).is_none() && liftable(m, kit, loaded);
        return match rung(id, Catalogue::branches_for(limit), fits) {
            Some((r, own)) => Instead {
                by_limit: true,
                ..stand_in(
                    r,
                    own,
                    format!("{} instead of {}: {}.", name(&r.movement), name(id), spares(limit)),
                )
            },
            None => Instead {
                open: Some(format!(
                    "The {said} limit speaks against this lift and no replacement is on its ladder: settle it together."
                )),
                ..same(id)
            },
        };
    }
    let missing = catalogue().movement(id).is_some_and(|m| !kit.has(&m.equipment));
    let fits = |m: &str| liftable(m, kit, loaded) && rules_out(m).is_none();
    if missing && let Some((r, own)) = rung(id, &["no-barbell", "no-rig"], fits) {
        let what = if kit.count("barbell") == 0 { "no barbell" } else { "nothing to do it with" };
        let reason = format!("{} instead of {}: the kit has {what}.", name(&r.movement), name(id));
        return stand_in(r, own, reason);
    }
    same(id)
}
