//! What the coach overrode: small values in order. The plan is made again with them; undo drops the last.

use crate::hour::Running;
use crate::loads::Fit;
use crate::mend::By;
use crate::schools::Question;
use crate::settings::Settings;
use crate::stimulus::Chosen;
use crate::versions::Tier;
use serde::{Deserialize, Serialize};

/// Most heats that a workout goes in.
pub const MOST_HEATS: u32 = 4;

/// One decision.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Decision {
    /// A member does another version.
    Version {
        /// Block of the sheet, from 0.
        block: usize,
        /// Member id.
        member: String,
        /// Which.
        tier: Tier,
    },
    /// A part of the hour has another length.
    Length {
        /// Key of the slot.
        key: String,
        /// s.
        seconds: u32,
    },
    /// A warm-up drill is swapped out.
    SwapDrill {
        /// Drill id.
        drill: String,
    },
    /// A member's working sets weigh more or less.
    Load {
        /// Block of the sheet, from 0.
        block: usize,
        /// Member id.
        member: String,
        /// kg on every working set.
        by_kg: f64,
    },
    /// A member lifts at another rack.
    Rack {
        /// Block of the sheet, from 0.
        block: usize,
        /// Lift of the block, from 0.
        lift: usize,
        /// Member id.
        member: String,
        /// Rack, from 0.
        rack: usize,
    },
    /// A question of the schools is settled otherwise for this class; `None` goes back to the hall's answer.
    School {
        /// School id.
        school: String,
        /// Option id.
        option: Option<String>,
    },
    /// How the turns at the racks are made to fit.
    Fit {
        /// Block of the sheet, from 0.
        block: usize,
        /// The way; `as-written` takes it back.
        fit: Fit,
    },
    /// The coach's own stimulus; `None` goes back to the sheet's or the inferred one.
    Stimulus {
        /// Block of the sheet, from 0.
        block: usize,
        /// What it should be like.
        chosen: Option<Chosen>,
    },
    /// The coach's own window of one part, where parts differ; `None` goes back to the inferred one.
    PartStimulus {
        /// Block of the sheet, from 0.
        block: usize,
        /// Part of it, from 0.
        part: usize,
        /// What it should be like.
        chosen: Option<Chosen>,
    },
    /// Suggest again: the versions are made anew round those that were chosen by hand, or these are dropped.
    SuggestAgain {
        /// Block of the sheet, from 0.
        block: usize,
        /// What was chosen by hand is dropped.
        #[serde(default)]
        drop: bool,
    },
    /// The workout ends for everybody at another time; `None` goes back to the sheet's.
    Cap {
        /// Block of the sheet, from 0.
        block: usize,
        /// s.
        seconds: Option<u32>,
    },
    /// Less of a workout, with its cap and target.
    Less {
        /// Block of the sheet, from 0.
        block: usize,
        /// Of what.
        by: By,
        /// Per cent that are left; 100 is the sheet.
        percent: u32,
    },
    /// Half of the class lifts while the other half does the workout that follows, then they change.
    Halves {
        /// Block of the lifts, from 0.
        block: usize,
        /// No: everybody lifts, then everybody works.
        on: bool,
    },
    /// The workout goes in heats, one after the other.
    Heats {
        /// Block of the sheet, from 0.
        block: usize,
        /// How many; 1: all at once.
        heats: u32,
    },
    /// Members begin at different lines of the list.
    Starts {
        /// Block of the sheet, from 0.
        block: usize,
        /// Lines at which somebody begins; 1: all at the first.
        starts: u32,
    },
    /// Pairs share the work, one works at a time.
    Pairs {
        /// Block of the sheet, from 0.
        block: usize,
        /// No: everybody for themselves.
        on: bool,
    },
    /// A block is left for another day.
    Leave {
        /// Block of the sheet, from 0.
        block: usize,
        /// No: it is done.
        left: bool,
    },
    /// What runs at a moment, so that the rest is put behind it; `None` goes back to the plan.
    Running {
        /// What and when.
        at: Option<Running>,
    },
}

impl Decision {
    fn place(&mut self) -> Option<&mut usize> {
        match self {
            Decision::Version { block, .. }
            | Decision::Load { block, .. }
            | Decision::Rack { block, .. }
            | Decision::Fit { block, .. }
            | Decision::Stimulus { block, .. }
            | Decision::PartStimulus { block, .. }
            | Decision::SuggestAgain { block, .. }
            | Decision::Cap { block, .. }
            | Decision::Less { block, .. }
            | Decision::Halves { block, .. }
            | Decision::Heats { block, .. }
            | Decision::Starts { block, .. }
            | Decision::Pairs { block, .. }
            | Decision::Leave { block, .. } => Some(block),
            Decision::Length { .. }
            | Decision::SwapDrill { .. }
            | Decision::School { .. }
            | Decision::Running { .. } => None,
        }
    }

    /// The key of a part of the hour that it names.
    fn key(&mut self) -> Option<&mut String> {
        match self {
            Decision::Length { key, .. } => Some(key),
            Decision::Running { at } => at.as_mut().map(|r| &mut r.key),
            _ => None,
        }
    }

    /// The block that it is about; `None`: the whole class.
    pub fn block(&self) -> Option<usize> {
        self.clone().place().copied()
    }

    /// The same about a block of another number; `None` where that has none.
    pub fn at_block(mut self, to: impl Fn(usize) -> Option<usize>) -> Option<Decision> {
        if let Some(block) = self.place() {
            *block = to(*block)?;
        }
        // a part of the hour is named with its block: `strength-0`
        if let Some(key) = self.key()
            && let Some((part, block)) = key.rsplit_once('-')
            && let Ok(block) = block.parse::<usize>()
        {
            *key = format!("{part}-{}", to(block)?);
        }
        Some(self)
    }

    /// What takes back something of the day as a whole: it is as on the sheet. `None` for what concerns members or has no such word.
    fn back(&self) -> Option<Decision> {
        Some(match *self {
            Decision::Cap { block, .. } => Decision::Cap { block, seconds: None },
            Decision::Less { block, by, .. } => Decision::Less { block, by, percent: 100 },
            Decision::Halves { block, .. } => Decision::Halves { block, on: false },
            Decision::Heats { block, .. } => Decision::Heats { block, heats: 1 },
            Decision::Starts { block, .. } => Decision::Starts { block, starts: 1 },
            Decision::Pairs { block, .. } => Decision::Pairs { block, on: false },
            Decision::Leave { block, .. } => Decision::Leave { block, left: false },
            Decision::Fit { block, .. } => Decision::Fit { block, fit: Fit::AsWritten },
            _ => return None,
        })
    }

    /// In words, as it is taken back or done again. `name`: of a member by id.
    pub fn says(&self, name: impl Fn(&str) -> String) -> String {
        match self {
            Decision::Version { member, tier, .. } => format!("{} does {}", name(member), tier.word()),
            Decision::Length { key, seconds } => {
                format!("{} of {}", key.replace('-', " "), crate::units::clock(f64::from(*seconds)))
            }
            Decision::SwapDrill { drill } => format!("another drill for {}", drill.replace('-', " ")),
            Decision::Load { member, by_kg, .. } => {
                let sign = if *by_kg < 0.0 { "less" } else { "more" };
                format!("{} {} kg {sign}", name(member), crate::units::plain(by_kg.abs()))
            }
            Decision::Rack { member, rack, .. } => format!("{} at rack {}", name(member), rack + 1),
            Decision::School { school, option } => {
                let answer = option.as_deref().unwrap_or("as the hall has it");
                format!("{}: {}", school.replace('-', " "), answer.replace('-', " "))
            }
            Decision::Fit { fit, .. } => fit.says(),
            Decision::Stimulus { chosen: Some(_), .. } => "a stimulus of your own".to_owned(),
            Decision::Stimulus { chosen: None, .. } => "the stimulus from the sheet".to_owned(),
            Decision::PartStimulus { part, chosen: Some(_), .. } => {
                format!("a window of your own for part {}", part + 1)
            }
            Decision::PartStimulus { part, chosen: None, .. } => {
                format!("the inferred window for part {}", part + 1)
            }
            Decision::SuggestAgain { drop: true, .. } => "all versions suggested anew".to_owned(),
            Decision::SuggestAgain { .. } => "versions suggested round your own".to_owned(),
            other => other.says_of_the_day(),
        }
    }

    /// What changes the day as a whole, in words.
    fn says_of_the_day(&self) -> String {
        let at = |s: u32| crate::units::clock(f64::from(s));
        match self {
            Decision::Cap { seconds: Some(s), .. } => format!("a cap of {}", at(*s)),
            Decision::Cap { seconds: None, .. } => "the cap of the sheet".to_owned(),
            Decision::Less { percent: 100, .. } => "all of the workout".to_owned(),
            Decision::Less { by: By::Rounds, .. } => "a shorter workout".to_owned(),
            Decision::Less { by: By::Counts, .. } => "less of every line".to_owned(),
            Decision::Halves { on: true, .. } => "half lift while half work".to_owned(),
            Decision::Halves { on: false, .. } => "everybody lifts, then works".to_owned(),
            Decision::Heats { heats: 0 | 1, .. } => "all at once".to_owned(),
            Decision::Heats { heats, .. } => format!("{heats} heats"),
            Decision::Starts { starts: 0 | 1, .. } => "all begin at the first line".to_owned(),
            Decision::Starts { starts, .. } => format!("{starts} lines to begin at"),
            Decision::Pairs { on: true, .. } => "pairs, one works".to_owned(),
            Decision::Pairs { on: false, .. } => "everybody for themselves".to_owned(),
            Decision::Leave { left: true, .. } => "a block left for another day".to_owned(),
            Decision::Leave { left: false, .. } => "the block that was left out".to_owned(),
            Decision::Running { at: Some(r) } => {
                format!("{} still runs at {}", r.key.replace('-', " "), at(r.at_s))
            }
            Decision::Running { at: None } => "the hour as planned".to_owned(),
            // said by whoever asks
            _ => String::new(),
        }
    }

    /// What of a class with results it would change that is held already: a logged block, or the versions of all of them.
    pub fn touches(&self, logged: &[usize]) -> bool {
        match self {
            // who works at the same time decides who shares the kit of a workout
            Decision::School { .. } | Decision::Halves { .. } => !logged.is_empty(),
            other => other.block().is_some_and(|b| logged.contains(&b)),
        }
    }
}

/// The last word on a member's version, if the coach has one.
pub fn version_of(decisions: &[Decision], block: usize, member: &str) -> Option<Tier> {
    decisions.iter().fold(None, |now, d| match d {
        Decision::Version { block: b, member: m, tier } if *b == block && m == member => Some(*tier),
        Decision::SuggestAgain { block: b, drop: true } if *b == block => None,
        _ => now,
    })
}

/// What was decided up to the last time that versions were suggested again round what the coach had chosen; nothing where
/// they never were, so that a move alone changes nobody else's version.
pub fn suggested_round(decisions: &[Decision], block: usize) -> &[Decision] {
    let again = |d: &Decision| matches!(d, Decision::SuggestAgain { block: b, .. } if *b == block);
    let last = decisions.iter().rposition(again).unwrap_or(0);
    decisions.get(..last).unwrap_or_default()
}

/// The coach's own stimulus of a workout, if there is one.
pub fn stimulus_of(decisions: &[Decision], block: usize) -> Option<&Chosen> {
    decisions.iter().rev().find_map(|d| match d {
        Decision::Stimulus { block: b, chosen } if *b == block => Some(chosen.as_ref()),
        _ => None,
    })?
}

/// The coach's own stimulus of one part of a workout, if there is one.
pub fn part_stimulus_of(decisions: &[Decision], block: usize, part: usize) -> Option<&Chosen> {
    decisions.iter().rev().find_map(|d| match d {
        Decision::PartStimulus { block: b, part: p, chosen } if (*b, *p) == (block, part) => {
            Some(chosen.as_ref())
        }
        _ => None,
    })?
}

/// The coach's own answer to a question of the schools for this class, if there is one.
pub fn school_of(decisions: &[Decision], question: Question) -> Option<&str> {
    decisions.iter().rev().find_map(|d| match d {
        Decision::School { school, option } if school == question.word() => Some(option.as_deref()),
        _ => None,
    })?
}

/// The hall's settings with this class's own answers.
pub fn settings_with(settings: &Settings, decisions: &[Decision]) -> Settings {
    let mut out = settings.clone();
    for question in Question::ALL {
        if let Some(option) = school_of(decisions, *question) {
            out.schools.insert(question.word().to_owned(), option.to_owned());
        }
    }
    out
}

/// Decisions that change a block of lifts.
pub(super) fn of_strength(decisions: &[Decision], block: usize) -> Vec<Decision> {
    let about = |d: &&Decision| match d {
        Decision::Load { block: b, .. }
        | Decision::Rack { block: b, .. }
        | Decision::Halves { block: b, .. }
        | Decision::Fit { block: b, .. } => *b == block,
        _ => false,
    };
    decisions.iter().filter(about).cloned().collect()
}

/// Moves to other racks for a lift, in the coach's order: (member id, rack).
pub fn racked(decisions: &[Decision], block: usize, lift: usize) -> Vec<(&str, usize)> {
    decisions
        .iter()
        .filter_map(|d| match d {
            Decision::Rack { block: b, lift: l, member, rack } if (*b, *l) == (block, lift) => {
                Some((member.as_str(), *rack))
            }
            _ => None,
        })
        .collect()
}

/// The way in which a block's turns are made to fit.
pub fn fit_of(decisions: &[Decision], block: usize) -> Fit {
    let last = decisions.iter().rev().find_map(|d| match d {
        Decision::Fit { block: b, fit } if *b == block => Some(*fit),
        _ => None,
    });
    last.unwrap_or(Fit::AsWritten)
}

/// Whether the work of a block was cut after the coach gave it a window of their own.
pub(super) fn cut_since(decisions: &[Decision], block: usize) -> bool {
    let about = |d: &&Decision| match d {
        Decision::Stimulus { block: b, .. } => *b == block,
        Decision::Less { block: b, .. } | Decision::Cap { block: b, .. } => *b == block,
        _ => false,
    };
    decisions.iter().rfind(about).is_some_and(|d| !matches!(d, Decision::Stimulus { .. }))
}

/// The last word on something.
fn last<T>(decisions: &[Decision], of: impl Fn(&Decision) -> Option<T>) -> Option<T> {
    decisions.iter().rev().find_map(of)
}

/// Whether half of the class lifts a block while the other half works.
pub(super) fn in_halves(decisions: &[Decision], block: usize) -> bool {
    let said = last(decisions, |d| match d {
        Decision::Halves { block: b, on } if *b == block => Some(*on),
        _ => None,
    });
    said.unwrap_or(false)
}

/// Heats of a workout; 1: all at once.
pub(super) fn heats_of(decisions: &[Decision], block: usize) -> u32 {
    let said = last(decisions, |d| match d {
        Decision::Heats { block: b, heats } if *b == block => Some(*heats),
        _ => None,
    });
    said.unwrap_or(1).clamp(1, MOST_HEATS)
}

/// Lines of a workout at which somebody begins, where the coach has said it.
pub(super) fn starts_of(decisions: &[Decision], block: usize) -> Option<u32> {
    last(decisions, |d| match d {
        Decision::Starts { block: b, starts } if *b == block => Some(*starts),
        _ => None,
    })
}

/// Whether a block is left for another day.
pub(super) fn is_left(decisions: &[Decision], block: usize) -> bool {
    let said = last(decisions, |d| match d {
        Decision::Leave { block: b, left } if *b == block => Some(*left),
        _ => None,
    });
    said.unwrap_or(false)
}

/// Whether pairs share a workout.
pub(super) fn in_pairs(decisions: &[Decision], block: usize) -> bool {
    let said = last(decisions, |d| match d {
        Decision::Pairs { block: b, on } if *b == block => Some(*on),
        _ => None,
    });
    said.unwrap_or(false)
}

/// Per cent of a workout's work that are left; 100: all.
pub(super) fn percent_of(decisions: &[Decision], block: usize, by: By) -> u32 {
    let said = last(decisions, |d| match d {
        Decision::Less { block: b, by: of, percent } if (*b, *of) == (block, by) => Some(*percent),
        _ => None,
    });
    said.unwrap_or(100)
}

/// s of the coach's own cap of a workout.
pub(super) fn cap_of(decisions: &[Decision], block: usize) -> Option<u32> {
    let said = last(decisions, |d| match d {
        Decision::Cap { block: b, seconds } if *b == block => Some(*seconds),
        _ => None,
    });
    said.flatten()
}

/// What runs, where the coach has said it.
pub(super) fn running_of(decisions: &[Decision]) -> Option<Running> {
    let said = last(decisions, |d| match d {
        Decision::Running { at } => Some(at.clone()),
        _ => None,
    });
    said.flatten()
}

/// What was decided of a day as a whole and is in force, each with what takes it back.
pub fn of_the_day(decisions: &[Decision]) -> Vec<(Decision, Decision)> {
    let mut seen: Vec<Decision> = Vec::new();
    let mut out = Vec::new();
    for d in decisions.iter().rev() {
        let Some(back) = d.back() else { continue };
        if !seen.contains(&back) {
            if *d != back {
                out.push((d.clone(), back.clone()));
            }
            seen.push(back);
        }
    }
    out.reverse();
    out
}

/// All kilograms that the coach put on or took off a member's sets.
pub fn load_by(decisions: &[Decision], block: usize, member: &str) -> f64 {
    decisions
        .iter()
        .filter_map(|d| match d {
            Decision::Load { block: b, member: m, by_kg } if *b == block && m == member => Some(*by_kg),
            _ => None,
        })
        .sum()
}

/// Lengths that the coach set, in order.
pub fn lengths(decisions: &[Decision]) -> Vec<(String, u32)> {
    decisions
        .iter()
        .filter_map(|d| match d {
            Decision::Length { key, seconds } => Some((key.clone(), *seconds)),
            _ => None,
        })
        .collect()
}

/// Drills that the coach swapped out.
pub fn swapped(decisions: &[Decision]) -> Vec<String> {
    decisions
        .iter()
        .filter_map(|d| match d {
            Decision::SwapDrill { drill } => Some(drill.clone()),
            _ => None,
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn decisions_are_said_and_moved_to_their_block() {
        let d = Decision::Version { block: 1, member: "m".into(), tier: Tier::Trim };
        assert_eq!(d.says(|_| "Alva K.".to_owned()), "Alva K. does Trim");
        let load = Decision::Load { block: 0, member: "m".into(), by_kg: -2.5 };
        assert_eq!(load.says(|_| "Alva K.".to_owned()), "Alva K. 2.5 kg less");
        let length = Decision::Length { key: "warm-up".into(), seconds: 480 };
        assert_eq!(length.says(|_| String::new()), "warm up of 8:00");
        assert_eq!(d.clone().at_block(|b| (b == 1).then_some(4)).and_then(|d| d.block()), Some(4));
        assert_eq!(d.clone().at_block(|_| None), None, "its block is gone");
        assert_eq!(length.clone().at_block(|_| None), Some(length.clone()), "the class is still there");
        assert!(d.touches(&[1]) && !d.touches(&[0]) && !length.touches(&[0, 1]));
        let school = Decision::School { school: "load-choice".into(), option: None };
        assert!(school.touches(&[0]) && !school.touches(&[]));
    }

    #[test]
    fn the_last_word_counts_until_it_is_suggested_again() {
        let v = |tier| Decision::Version { block: 1, member: "a".into(), tier };
        let mut all = vec![v(Tier::Trim), v(Tier::Base)];
        assert_eq!(version_of(&all, 1, "a"), Some(Tier::Base));
        assert_eq!(version_of(&all, 0, "a"), None);
        all.push(Decision::SuggestAgain { block: 1, drop: false });
        assert_eq!(version_of(&all, 1, "a"), Some(Tier::Base), "what was chosen is kept");
        assert_eq!(suggested_round(&all, 1).len(), 2);
        assert!(suggested_round(&all, 0).is_empty());
        all.push(Decision::SuggestAgain { block: 1, drop: true });
        assert_eq!(version_of(&all, 1, "a"), None);
    }

    #[test]
    fn a_class_has_its_own_answers_until_they_are_taken_back() {
        let school = |option: Option<&str>| Decision::School {
            school: "what-to-scale".into(),
            option: option.map(str::to_owned),
        };
        let hall = Settings::default();
        let of = |d: &[Decision]| settings_with(&hall, d).school(Question::WhatToScale).to_owned();
        assert_eq!(of(&[school(Some("cut-time"))]), "cut-time");
        assert_eq!(of(&[school(Some("cut-time")), school(None)]), hall.school(Question::WhatToScale));
    }

    #[test]
    fn what_is_decided_of_a_day_is_taken_back_one_by_one() {
        let heats = |heats| Decision::Heats { block: 1, heats };
        let less = |percent| Decision::Less { block: 1, by: By::Rounds, percent };
        let counts = Decision::Less { block: 1, by: By::Counts, percent: 80 };
        let all = [less(80), heats(2), counts.clone(), less(60)];
        let back_of = |by| Decision::Less { block: 1, by, percent: 100 };
        assert_eq!(
            of_the_day(&all),
            [(heats(2), heats(1)), (counts, back_of(By::Counts)), (less(60), back_of(By::Rounds))]
        );
        assert_eq!(of_the_day(&[heats(2), heats(1)]), [], "it is taken back already");
        let length = Decision::Length { key: "brief".into(), seconds: 60 };
        assert_eq!(of_the_day(&[length]), [], "a length has buttons of its own");
        // halves change who shares kit in a workout: not beside results
        assert!(Decision::Halves { block: 0, on: true }.touches(&[1]));
    }

    #[test]
    fn decisions_survive_json() {
        let d = Decision::Load { block: 0, member: "m".into(), by_kg: -2.5 };
        let text = serde_json::to_string(&d).unwrap();
        assert_eq!(serde_json::from_str::<Decision>(&text).unwrap(), d);
        assert!(serde_json::from_str::<Decision>("{\"kind\":\"fly\"}").is_err());
    }
}
