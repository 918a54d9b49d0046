//! Which part of the hour the walls of a class show, each with a clock of its own.

use super::{HourPart, Slot};

/// What a wall shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stage {
    /// The versions, with what is said to the class: before it begins.
    Before,
    /// The drill that runs, and the next.
    WarmUp,
    /// Lifts of a block: the set, who lifts at each rack.
    Strength(usize),
    /// What a workout is and its pace, before it.
    Brief(usize),
    /// A workout.
    Workout(usize),
    /// Time that is left.
    CoolDown,
    /// What was logged.
    Results,
}

impl Stage {
    /// The word by which it is kept; none before the class. Blocks by number.
    pub fn key(self) -> Option<String> {
        match self {
            Stage::Before => None,
            Stage::WarmUp => Some("warm-up".to_owned()),
            Stage::Strength(b) => Some(format!("strength-{b}")),
            Stage::Brief(b) => Some(format!("brief-{b}")),
            Stage::Workout(b) => Some(format!("workout-{b}")),
            Stage::CoolDown => Some("cool-down".to_owned()),
            Stage::Results => Some("results".to_owned()),
        }
    }

    /// From its word; what cannot be read is before the class.
    pub fn read(key: Option<&str>) -> Stage {
        let block = |prefix: &str| key?.strip_prefix(prefix)?.parse::<usize>().ok();
        match key {
            Some("warm-up") => Stage::WarmUp,
            Some("cool-down") => Stage::CoolDown,
            Some("results") => Stage::Results,
            _ => block("strength-")
                .map(Stage::Strength)
                .or_else(|| block("brief-").map(Stage::Brief))
                .or_else(|| block("workout-").map(Stage::Workout))
                .unwrap_or(Stage::Before),
        }
    }

    /// The same about a block of another number; `None` where that has none.
    pub fn at_block(self, to: impl Fn(usize) -> Option<usize>) -> Option<Stage> {
        Some(match self {
            Stage::Strength(b) => Stage::Strength(to(b)?),
            Stage::Brief(b) => Stage::Brief(to(b)?),
            Stage::Workout(b) => Stage::Workout(to(b)?),
            other => other,
        })
    }

    /// Its name on a button.
    pub fn word(self) -> &'static str {
        match self {
            Stage::Before => "Before",
            Stage::WarmUp => "Warm-up",
            Stage::Strength(_) => "Strength",
            Stage::Brief(_) => "Brief",
            Stage::Workout(_) => "Workout",
            Stage::CoolDown => "Cool-down",
            Stage::Results => "Results",
        }
    }

    /// Whether its clock runs as soon as it is shown; a workout is started with a lead-in, results have none.
    pub fn starts_itself(self) -> bool {
        matches!(self, Stage::WarmUp | Stage::Strength(_) | Stage::Brief(_) | Stage::CoolDown)
    }
}

/// What the walls of an hour show, in order.
pub fn stages(slots: &[Slot]) -> Vec<Stage> {
    let of = |s: &Slot| {
        Some(match (s.part, s.block) {
            (HourPart::WarmUp, _) => Stage::WarmUp,
            (HourPart::Strength, Some(b)) => Stage::Strength(b),
            (HourPart::WorkoutBrief, Some(b)) => Stage::Brief(b),
            (HourPart::Workout, Some(b)) => Stage::Workout(b),
            (HourPart::CoolDown, _) => Stage::CoolDown,
            _ => return None,
        })
    };
    let mut out = vec![Stage::Before];
    for stage in slots.iter().filter_map(of).chain([Stage::Results]) {
        if !out.contains(&stage) {
            out.push(stage);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::hour::{BRIEF, COOL_DOWN, WARM_UP, WantedLength, hour};

    #[test]
    fn an_hour_is_shown_part_by_part_and_each_is_kept_by_its_word() {
        let parts = vec![
            WantedLength::of(HourPart::Brief, None, BRIEF, ""),
            WantedLength::of(HourPart::WarmUp, None, WARM_UP, ""),
            WantedLength::of(HourPart::Strength, Some(1), [900, 900], ""),
            WantedLength::of(HourPart::WorkoutBrief, Some(2), [120, 120], ""),
            WantedLength::of(HourPart::Workout, Some(2), [600, 600], ""),
            WantedLength::of(HourPart::Workout, Some(2), [600, 600], ""),
            WantedLength::of(HourPart::CoolDown, None, COOL_DOWN, ""),
        ];
        let all = stages(&hour(3600, parts, &[], None).slots);
        let (strength, brief, workout) = (Stage::Strength(1), Stage::Brief(2), Stage::Workout(2));
        assert_eq!(
            all,
            [Stage::Before, Stage::WarmUp, strength, brief, workout, Stage::CoolDown, Stage::Results],
            "heats are one part"
        );
        assert!(all.iter().all(|s| Stage::read(s.key().as_deref()) == *s));
        for bad in ["", "-", "strength-", "strength-x", "nap"] {
            assert_eq!(Stage::read(Some(bad)), Stage::Before, "{bad}");
        }
        assert_eq!(strength.at_block(|b| Some(b + 3)), Some(Stage::Strength(4)));
        assert_eq!((workout.at_block(|_| None), brief.at_block(|_| None)), (None, None));
        assert!(brief.starts_itself() && !workout.starts_itself());
        assert_eq!(Stage::Results.at_block(|_| None), Some(Stage::Results));
    }
}
