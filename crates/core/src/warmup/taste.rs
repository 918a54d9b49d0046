//! The taste of a workout: one short round at each version's own movements, for the versions that somebody does.

use super::demand::Asked;
use super::{Step, WarmUpPart};
use crate::kinds::{Gear, Pattern};
use crate::movement::{catalogue, say::line_text};
use crate::units::Unit;

/// A taste, s (own).
pub(super) const TASTE_S: u32 = 60;
/// Share of a round's reps that is tasted, and how many of them (own).
const SHARE: f64 = 0.25;
const REPS: [f64; 2] = [2.0, 5.0];
/// Reps of what is done as much as possible (own).
const OPEN_REPS: f64 = 3.0;
/// Turns of a rope, for they are over at once (own).
const TURNS: f64 = 10.0;
/// Metres of a carry, of a run, of a machine; calories; s of a hold (own).
const CARRIED_M: f64 = 20.0;
const RUN_M: f64 = 50.0;
const ROWED_M: f64 = 100.0;
const CALORIES: f64 = 4.0;
const HELD_S: f64 = 10.0;
/// Nobody new tastes a skill of this rank or more.
const SKILL: u8 = 4;

/// A line of a version, as far as a warm-up must know it.
#[derive(Debug, Clone, PartialEq)]
pub struct DoneLine {
    /// Catalogue id as written.
    pub written: String,
    /// Catalogue id as it is done.
    pub movement: String,
    /// The first round's count, heavier standard; `None` for as much as possible.
    pub count: Option<f64>,
    /// What it counts.
    pub unit: Unit,
}

/// A version that somebody does.
#[derive(Debug, Clone, PartialEq)]
pub struct Done {
    /// Its word.
    pub version: String,
    /// It is the one for who is new.
    pub for_new: bool,
    /// Its lines in order.
    pub lines: Vec<DoneLine>,
}

impl Done {
    /// The workout as written, of which no version is known yet.
    pub(super) fn as_written(asked: &[Asked]) -> Done {
        let line = |a: &Asked| {
            let unit = catalogue().movement(&a.movement)?.count;
            Some(DoneLine { written: a.movement.clone(), movement: a.movement.clone(), count: None, unit })
        };
        let lines = asked.iter().filter(|a| !a.lift).filter_map(line).collect();
        Done { version: String::new(), for_new: false, lines }
    }
}

/// How much of a line is tasted; `None` for what is not done cold: climbs, turnovers, and hard skills of who is new.
fn dose(line: &DoneLine, for_new: bool) -> Option<f64> {
    let m = catalogue().movement(&line.movement)?;
    let cold = line.movement.contains("muscle-up") || line.movement.contains("rope-climb");
    if cold || (for_new && m.skill >= SKILL) {
        return None;
    }
    Some(match line.unit {
        Unit::Reps if m.needs(Gear::JumpRope) => TURNS,
        Unit::Reps => line.count.map_or(OPEN_REPS, |n| (n * SHARE).round().clamp(REPS[0], REPS[1])),
        Unit::Metres if m.pattern == Pattern::Carry => CARRIED_M,
        Unit::Metres if m.needs(Gear::RunRoute) || m.needs(Gear::OpenLane) => RUN_M,
        Unit::Metres => ROWED_M,
        Unit::Calories => CALORIES,
        Unit::Seconds => HELD_S,
    })
}

/// A version's short round in words.
fn round(done: &Done) -> String {
    let said = |l: &DoneLine| {
        let n = dose(l, done.for_new)?;
        Some(line_text(&l.movement, &[[n; 2]], l.unit, false, None, None))
    };
    let mut lines: Vec<String> = done.lines.iter().filter_map(said).collect();
    lines.dedup();
    lines.join(", ")
}

/// The step; `None` where nothing of the workout is tasted.
pub(super) fn taste(versions: &[Done]) -> Option<Step> {
    let mut rounds: Vec<(String, Vec<&str>)> = Vec::new();
    for v in versions {
        let said = round(v);
        match rounds.iter_mut().find(|(r, _)| *r == said) {
            _ if said.is_empty() => {}
            Some((_, who)) => who.push(&v.version),
            None => rounds.push((said, vec![&v.version])),
        }
    }
    let name = match rounds.as_slice() {
        [] => return None,
        [(one, _)] => format!("A taste at your own weight: {one}"),
        many => {
            let each = many.iter().map(|(said, who)| format!("{}: {said}", who.join(" and ")));
            format!("A taste at your own weight. {}", each.collect::<Vec<_>>().join(". "))
        }
    };
    let movements: Vec<&str> = versions.iter().flat_map(|v| &v.lines).map(|l| l.movement.as_str()).collect();
    let mut regions: Vec<String> =
        movements.iter().filter_map(|m| catalogue().movement(m)).flat_map(|m| m.regions.clone()).collect();
    regions.sort();
    regions.dedup();
    Some(Step {
        part: WarmUpPart::Rehearse,
        drill: None,
        name,
        dose: String::new(),
        cue: "Working pace, then stop.".to_owned(),
        easier: "Your own version's movements.".to_owned(),
        seconds: TASTE_S,
        regions,
        prepares: movements.into_iter().map(str::to_owned).collect(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(written: &str, movement: &str, count: f64, unit: Unit) -> DoneLine {
        DoneLine { written: written.to_owned(), movement: movement.to_owned(), count: Some(count), unit }
    }

    fn done(version: &str, lines: Vec<DoneLine>) -> Done {
        Done { version: version.to_owned(), for_new: version == "Base", lines }
    }

    #[test]
    fn each_version_tastes_its_own_movements() {
        let run = || line("run", "run", 400.0, Unit::Metres);
        let full = done("Full", vec![line("pull-up", "pull-up", 12.0, Unit::Reps), run()]);
        let trim = done("Trim", vec![line("pull-up", "pull-up", 10.0, Unit::Reps), run()]);
        let base = done("Base", vec![line("pull-up", "ring-row", 40.0, Unit::Reps), run()]);
        let step = taste(&[full.clone(), trim, base.clone()]).unwrap();
        // a quarter of 12 and of 10 are both 3
        assert_eq!(
            step.name,
            "A taste at your own weight. Full and Trim: 3 pull-ups, 50 m run. Base: 5 ring rows, 50 m run"
        );
        assert_eq!(
            taste(std::slice::from_ref(&full)).unwrap().name,
            "A taste at your own weight: 3 pull-ups, 50 m run"
        );
        assert!(taste(&[full, base]).unwrap().prepares.contains(&"ring-row".to_owned()));
    }

    #[test]
    fn nothing_is_tasted_cold_that_is_not_warm_by_then() {
        let hard =
            vec![line("muscle-up", "muscle-up", 5.0, Unit::Reps), line("row", "row", 20.0, Unit::Calories)];
        assert_eq!(taste(&[done("Full", hard)]).unwrap().name, "A taste at your own weight: 4 cal row");
        let skill = vec![line("handstand-walk", "handstand-walk", 10.0, Unit::Metres)];
        let of = |v: &str| taste(&[done(v, skill.clone())]);
        assert_eq!(of("Base").is_none(), catalogue().movement("handstand-walk").unwrap().skill >= SKILL);
        assert!(of("Full").is_some());
        assert_eq!(taste(&[]), None);
    }
}
