//! Strict work before a swing, where the hall's school wants it.

use super::guide::Falls;
use super::levers::{in_school, kit_has, way_of_rung};
use super::personal::Personal;
use super::place::PlaceDay;
use super::table::table;
use crate::kinds::Branch;
use crate::movement::catalogue;
use crate::pacing::{Athlete, most_reps, table as pacing};
use crate::reason::OfLine;
use crate::roster::Member;
use crate::schools::Kipping;
use crate::settings::Settings;
use crate::versions::work::Work;

/// Strict reps of an athlete where a movement may not be swung yet, by the school; `None` where it may.
pub fn too_early_to_swing(athlete: &Athlete, movement: &str, settings: &Settings) -> Option<f64> {
    if settings.answer::<Kipping>() != Kipping::StrictFirst {
        return None;
    }
    let swing = &table().swing;
    let strict = swing.before.get(movement)?;
    let most = |id: &str| pacing::row(id).map_or(0.0, |row| most_reps(athlete, row, 0.0, 1.0).0);
    let reps = most(strict).max(swing.strict_of_swung * most(movement));
    (reps.floor() < swing.strict_first).then_some(reps.max(0.0).floor())
}

/// Strict work before a swing, where the hall's school wants it: the next rung that is not swung.
pub fn strict_first(work: &mut Work, member: &Member, athlete: &Athlete, day: &PlaceDay) -> Vec<Personal> {
    let mut out = Vec::new();
    for (i, line) in work.lines.iter_mut().enumerate() {
        let Some(reps) = too_early_to_swing(athlete, &line.movement, day.schools) else { continue };
        let Some(ladder) = catalogue().ladder_for(&line.movement) else { continue };
        let Some(at) = ladder.rungs.iter().position(|r| r.movement == line.movement) else { continue };
        let own = ladder.rungs.get(at).map_or(1.0, |r| r.ratio);
        let rung = ladder.rungs.iter().skip(at + 1).find(|r| {
            r.branch == Branch::Main
                && r.with.is_empty()
                && kit_has(day.kit, &r.movement)
                && in_school(r, day.schools)
                && !table().swing.before.contains_key(&r.movement)
        });
        let Some(rung) = rung else { continue };
        let way = way_of_rung(rung, own, ladder.unit, line, Falls::of(&rung.movement), day.kit, day.bars);
        let before = line.movement.clone();
        *line = way.on(line, 0);
        let reason = OfLine::StrictFirst {
            to: line.movement.clone(),
            from: before,
            strict: reps,
            swings_from: table().swing.strict_first,
        };
        out.push(Personal::own(i, line.text_for(member.standard), reason));
    }
    out
}
