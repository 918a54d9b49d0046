//! How lanes are laid out for what is done in them.

use crate::kinds::Gear;
use crate::movement::catalogue;

/// Room that some work needs, most needed first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Space {
    /// A bar on the floor.
    Bars,
    /// Something over the head.
    Overhead,
    /// Boxes, or hanging.
    Falls,
    /// Things that lie about.
    Loose,
}

impl Space {
    /// As it is said.
    pub fn says(self) -> &'static str {
        match self {
            Space::Bars => "Bars across the lane; nobody walks through them.",
            Space::Overhead => "One metre clear round everybody who goes overhead.",
            Space::Falls => "A metre and a half clear round boxes and under the rig.",
            Space::Loose => "What you are not using lies behind you.",
        }
    }
}

/// Kit that means a space.
const UP_HIGH: [Gear; 4] = [Gear::PullUpBar, Gear::Rings, Gear::ClimbingRope, Gear::Box];
const LIES_ABOUT: [Gear; 5] =
    [Gear::Dumbbell, Gear::DumbbellPair, Gear::Kettlebell, Gear::Medball, Gear::JumpRope];

/// The spaces that movements need.
pub fn spaces(ids: &[&str]) -> Vec<Space> {
    let all: Vec<_> = ids.iter().filter_map(|id| catalogue().movement(id)).collect();
    let needs = |of: &[Gear]| all.iter().any(|m| of.iter().any(|g| m.needs(*g)));
    let overhead = all.iter().any(|m| m.cautions.iter().any(|c| c == "overhead"));
    [
        (Space::Bars, needs(&[Gear::Barbell])),
        (Space::Overhead, overhead),
        (Space::Falls, needs(&UP_HIGH)),
        (Space::Loose, needs(&LIES_ABOUT)),
    ]
    .into_iter()
    .filter_map(|(space, is)| is.then_some(space))
    .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn room_is_asked_for_what_is_done() {
        assert_eq!(spaces(&["deadlift", "run"]), [Space::Bars]);
        assert_eq!(
            spaces(&["push-press", "box-jump", "double-under"]),
            [Space::Bars, Space::Overhead, Space::Falls, Space::Loose]
        );
        assert_eq!(spaces(&["pull-up"]), [Space::Falls]);
        assert!(spaces(&["burpee", "run"]).is_empty());
    }
}
