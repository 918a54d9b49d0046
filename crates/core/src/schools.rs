//! Questions on which good coaches differ, and their answers, as types; what they say is in `data/schools.toml`.

use crate::kinds::words;
use serde::{Deserialize, Serialize};

words! {
    /// A question, in the order in which they are asked.
    Question {
        WhatToScale = "what-to-scale",
        LoadChoice = "load-choice",
        SetBreaking = "set-breaking",
        Kipping = "kipping",
        MuscleUp = "muscle-up-substitution",
        PushUp = "push-up-scaling",
        DoubleUnder = "double-under-substitution",
        BoxDescent = "box-descent",
        SingleDumbbell = "single-dumbbell-rule",
        GeneralWarmUp = "general-warm-up",
        PercentageBase = "percentage-base",
        DailyHeavy = "daily-heavy",
    }
}

impl Question {
    /// It changes versions and who stands in them.
    pub fn of_versions(self) -> bool {
        use Question::{DailyHeavy, GeneralWarmUp, PercentageBase, SingleDumbbell};
        !matches!(self, DailyHeavy | GeneralWarmUp | PercentageBase | SingleDumbbell)
    }
}

/// An answer to one question.
pub trait Answer: Copy {
    /// Which.
    const QUESTION: Question;
    /// What holds until a hall answers.
    const USUAL: Self;

    /// From its word.
    fn read(word: &str) -> Option<Self>;
}

macro_rules! answers {
    ($(#[$doc:meta])* $name:ident to $question:ident, usually $usual:ident { $($variant:ident = $word:literal),+ $(,)? }) => {
        words! {
            $(#[$doc])*
            $name { $($variant = $word),+ }
        }

        impl Answer for $name {
            const QUESTION: Question = Question::$question;
            const USUAL: $name = $name::$usual;

            fn read(word: &str) -> Option<$name> {
                $name::from_word(word)
            }
        }
    };
}

answers! {
    /// What gives way where a version does not fit.
    WhatToScale to WhatToScale, usually CutReps {
        CutReps = "cut-reps",
        ChangeMovement = "change-movement",
        CutTime = "cut-time",
    }
}

answers! {
    /// Who chooses the weights.
    LoadChoice to LoadChoice, usually Choose { Fixed = "fixed", Choose = "choose" }
}

answers! {
    /// How sets are broken.
    SetBreaking to SetBreaking, usually EvenOnClock {
        UnbrokenThenSingles = "unbroken-then-singles",
        EvenOnClock = "even-on-clock",
        Descending = "descending",
        Singles = "singles",
    }
}

answers! {
    /// When a member swings.
    Kipping to Kipping, usually StrictFirst { StrictFirst = "strict-first", Allowed = "allowed" }
}

answers! {
    /// What stands in for muscle-ups.
    MuscleUp to MuscleUp, usually HardestSingleRung {
        ThreeAndThree = "three-and-three",
        HardestSingleRung = "hardest-single-rung",
    }
}

answers! {
    /// How push-ups are made easier.
    PushUp to PushUp, usually RaisedHands { RaisedHands = "raised-hands", Knees = "knees" }
}

answers! {
    /// What stands in for double-unders.
    DoubleUnder to DoubleUnder, usually SameTime {
        Attempts = "attempts",
        SameTime = "same-time",
        TwoForOne = "two-for-one",
    }
}

answers! {
    /// How one comes down from a box.
    BoxDescent to BoxDescent, usually Step { Step = "step", Jump = "jump" }
}

answers! {
    /// How many reps one dumbbell has for two.
    SingleDumbbell to SingleDumbbell, usually AlternatingTotal {
        DoublePerSide = "double-per-side",
        AlternatingTotal = "alternating-total",
    }
}

answers! {
    /// How the general warm-up runs.
    GeneralWarmUp to GeneralWarmUp, usually TimedStations {
        TimedStations = "timed-stations",
        RepRounds = "rep-rounds",
        OnOff = "on-off",
        SelfDirected = "self-directed",
    }
}

answers! {
    /// What percentages are of where the sheet does not say.
    PercentageBase to PercentageBase, usually RecentRepMax {
        TestedOneRm = "tested-1rm",
        RecentRepMax = "recent-rep-max",
        TrainingMax = "training-max",
        ByFeel = "by-feel",
    }
}

answers! {
    /// How far a day's heavy set goes.
    DailyHeavy to DailyHeavy, usually HeavyNoFail { HeavyNoFail = "heavy-no-fail", TrueMax = "true-max" }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::catalogue;
    use crate::settings::Settings;

    fn same<A: Answer + Into<&'static str>>(all: &[A]) {
        let school = catalogue().schools.iter().find(|s| s.id == A::QUESTION).unwrap();
        let options: Vec<&str> = school.options.iter().map(|o| o.id.as_str()).collect();
        assert_eq!(options, all.iter().map(|a| (*a).into()).collect::<Vec<&str>>(), "{:?}", A::QUESTION);
        assert_eq!(school.default, A::USUAL.into(), "{:?}", A::QUESTION);
    }

    macro_rules! as_words {
        ($($name:ident),+) => {
            $(impl From<$name> for &'static str {
                fn from(a: $name) -> &'static str {
                    a.word()
                }
            })+

            #[test]
            fn every_answer_of_the_data_is_a_word_here_and_the_usual_is_the_same() {
                $(same($name::ALL);)+
                // every question is in the list above
                assert_eq!([$($name::QUESTION),+].len(), Question::ALL.len());
            }
        };
    }
    as_words!(
        WhatToScale,
        LoadChoice,
        SetBreaking,
        Kipping,
        MuscleUp,
        PushUp,
        DoubleUnder,
        BoxDescent,
        SingleDumbbell,
        GeneralWarmUp,
        PercentageBase,
        DailyHeavy
    );

    #[test]
    fn a_hall_answers_and_the_rest_stays_usual() {
        let mut s = Settings::default();
        assert_eq!(s.answer::<Kipping>(), Kipping::StrictFirst);
        s.schools.insert("kipping".into(), "allowed".into());
        assert_eq!(s.answer::<Kipping>(), Kipping::Allowed);
        // nothing that was kept is ever in the way
        s.schools.insert("kipping".into(), "on mondays".into());
        assert_eq!(s.answer::<Kipping>(), Kipping::StrictFirst);
    }
}
