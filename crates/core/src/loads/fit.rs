//! When the turns at a rack do not fit the clock: what can be done about it, and what each way costs.

use super::time::Turns;
use crate::units::clock;
use serde::{Deserialize, Serialize};

/// A way to make the turns fit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(tag = "way", content = "n", rename_all = "kebab-case")]
pub enum Fit {
    /// As on the sheet.
    AsWritten,
    /// So many groups, one after the other.
    Waves(u32),
    /// So many sets in the time of all.
    Sets(u32),
    /// So many sets, as far apart as written: the block is shorter.
    Fewer(u32),
    /// Seconds from one set's start to the next.
    Every(u32),
    /// So many racks.
    Racks(u32),
}

impl Fit {
    /// Word and number in a form: `waves`, 2.
    pub fn word(self) -> (&'static str, u32) {
        match self {
            Fit::AsWritten => ("as-written", 0),
            Fit::Waves(n) => ("waves", n),
            Fit::Sets(n) => ("sets", n),
            Fit::Fewer(n) => ("fewer", n),
            Fit::Every(n) => ("every", n),
            Fit::Racks(n) => ("racks", n),
        }
    }

    /// Of a form's word and number; `None` outside what a class can do.
    pub fn of(word: &str, n: u32) -> Option<Fit> {
        match (word, n) {
            ("as-written", _) => Some(Fit::AsWritten),
            ("waves", 1..=4) => Some(Fit::Waves(n)),
            ("sets", 1..=40) => Some(Fit::Sets(n)),
            ("fewer", 1..=40) => Some(Fit::Fewer(n)),
            ("every", 20..=1800) => Some(Fit::Every(n)),
            ("racks", 1..=40) => Some(Fit::Racks(n)),
            _ => None,
        }
    }

    /// What was chosen, in words.
    pub fn says(self) -> String {
        match self {
            Fit::AsWritten => "as on the sheet".to_owned(),
            Fit::Waves(n) => format!("{n} waves, one after the other"),
            Fit::Sets(n) | Fit::Fewer(n) => format!("{n} sets"),
            Fit::Every(s) => format!("every {}", clock(f64::from(s))),
            Fit::Racks(n) => format!("{n} racks"),
        }
    }
}

/// A way with what it costs.
#[derive(Debug, Clone, PartialEq)]
pub struct Offer {
    /// What is done.
    pub fit: Fit,
    /// In a sentence, with its cost.
    pub says: String,
}

/// The ways to fit `sets` sets every `every_s` for `members` on `racks`, when a round of turns takes longer; none when it
/// does not.
pub fn offers(turns: Turns, every_s: u32, sets: u32, members: u32, racks: u32) -> Vec<Offer> {
    let (round, every) = (turns.round_s(), f64::from(every_s));
    if round <= every + 0.5 || turns.members == 0 {
        return Vec::new();
    }
    let minutes = |s: f64| clock(s.round());
    let mut out = Vec::new();
    let half = Turns {
        members: turns.members.div_ceil(2),
        changes: turns.changes.min(turns.members.div_ceil(2)),
        ..turns
    };
    if turns.members > 1 && half.round_s() <= every + 0.5 {
        out.push(Offer {
            fit: Fit::Waves(2),
            says: format!("Two waves: {} longer.", minutes(f64::from(sets) * every)),
        });
    }
    let fewer = (f64::from(sets) * every / round).floor() as u32;
    if fewer >= 1 {
        out.push(Offer {
            fit: Fit::Sets(fewer),
            says: format!("{fewer} sets instead of {sets}, every {}: no longer.", minutes(round.ceil())),
        });
    }
    let longer = (round / 15.0).ceil() * 15.0;
    out.push(Offer {
        fit: Fit::Every(longer as u32),
        says: format!("Every {}: {} longer.", minutes(longer), minutes(f64::from(sets) * (longer - every))),
    });
    // plates change every turn at worst
    let each = (every / turns.turn_s()).floor().max(1.0) as u32;
    let needed = members.div_ceil(each);
    if needed > racks && each * needed >= members && turns.turn_s() <= every {
        let more = needed - racks;
        out.push(Offer {
            fit: Fit::Racks(needed),
            says: format!(
                "{needed} racks, {more} more than now: at most {each} to a rack; stands count, if they are safe."
            ),
        });
    }
    out
}
