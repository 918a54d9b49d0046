//! Words that the data names, as types: a new one has to be given its place everywhere before anything is built.

use serde::{Deserialize, Serialize};

/// An enum of words: each as it stands in the data, in rows and in files.
macro_rules! words {
    ($(#[$doc:meta])* $name:ident { $($variant:ident = $word:literal),+ $(,)? }) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[allow(missing_docs)]
        pub enum $name {
            $(#[serde(rename = $word)] $variant),+
        }

        impl $name {
            /// All, in their order.
            pub const ALL: &'static [$name] = &[$($name::$variant),+];

            /// As it stands in data, rows and files.
            pub const fn word(self) -> &'static str {
                match self {
                    $($name::$variant => $word),+
                }
            }

            /// From its word.
            pub fn from_word(word: &str) -> Option<$name> {
                $name::ALL.iter().copied().find(|x| x.word() == word)
            }
        }
    };
}
pub(crate) use words;

words! {
    /// What a movement trains.
    Pattern {
        Squat = "squat",
        Hinge = "hinge",
        Lunge = "lunge",
        PushVertical = "push-vertical",
        PushHorizontal = "push-horizontal",
        PullVertical = "pull-vertical",
        PullHorizontal = "pull-horizontal",
        Olympic = "olympic",
        Core = "core",
        Jump = "jump",
        Carry = "carry",
        Locomotion = "locomotion",
        Mono = "mono",
    }
}

impl Pattern {
    /// A pull or a push of the arms.
    pub fn of_the_arms(self) -> bool {
        use Pattern::{PullHorizontal, PullVertical, PushHorizontal, PushVertical};
        matches!(self, PullHorizontal | PullVertical | PushHorizontal | PushVertical)
    }
}

words! {
    /// Main line of a ladder, or the reason for a branch of it.
    Branch {
        Main = "main",
        BackFriendly = "back-friendly",
        GripFriendly = "grip-friendly",
        KneeFriendly = "knee-friendly",
        LowImpact = "low-impact",
        NoBarbell = "no-barbell",
        NoRig = "no-rig",
        NoRope = "no-rope",
        ShoulderFriendly = "shoulder-friendly",
        WristFriendly = "wrist-friendly",
    }
}

words! {
    /// A kind of kit.
    Gear {
        Barbell = "barbell",
        Plates = "plates",
        Rack = "rack",
        Bench = "bench",
        InclineBench = "incline-bench",
        PvcPipe = "pvc-pipe",
        Dumbbell = "dumbbell",
        DumbbellPair = "dumbbell-pair",
        Kettlebell = "kettlebell",
        Medball = "medball",
        WallTarget = "wall-target",
        Wall = "wall",
        PullUpBar = "pull-up-bar",
        Rings = "rings",
        DipBars = "dip-bars",
        ClimbingRope = "climbing-rope",
        Box = "box",
        LowStep = "low-step",
        JumpRope = "jump-rope",
        AbdominalMat = "abdominal-mat",
        FloorMat = "floor-mat",
        RowingErg = "rowing-erg",
        AirBike = "air-bike",
        SkiMachine = "ski-machine",
        Sled = "sled",
        Sandbag = "sandbag",
        Band = "band",
        MiniBand = "mini-band",
        FoamRoller = "foam-roller",
        OpenLane = "open-lane",
        RunRoute = "run-route",
    }
}

words! {
    /// A part of the body or a kind of work that a member spares.
    Limit {
        Shoulder = "shoulder",
        Elbow = "elbow",
        Wrist = "wrist",
        Grip = "grip",
        Lumbar = "lumbar",
        Hip = "hip",
        Knee = "knee",
        Ankle = "ankle",
        NoImpact = "no-impact",
        NoHanging = "no-hanging",
        NoInversion = "no-inversion",
        Pregnancy = "pregnancy",
    }
}

impl Limit {
    /// As it is said: `no hanging`.
    pub fn says(self) -> String {
        self.word().replace('-', " ")
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::catalogue;

    #[test]
    fn every_kind_of_kit_is_a_row_and_every_row_a_kind() {
        let rows: Vec<Gear> = catalogue().equipment.iter().map(|e| e.id).collect();
        assert_eq!(rows, Gear::ALL);
        assert_eq!(Gear::from_word("jump-rope"), Some(Gear::JumpRope));
        assert_eq!(Gear::from_word("skipping rope"), None);
    }

    #[test]
    fn words_are_kept_as_they_are_said() {
        for l in Limit::ALL {
            assert_eq!(serde_json::to_string(l).unwrap(), format!("\"{}\"", l.word()));
            assert_eq!(Limit::from_word(l.word()), Some(*l));
        }
        assert_eq!(Limit::NoHanging.says(), "no hanging");
    }
}
