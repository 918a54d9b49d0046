//! The hour: every block with its start and length, and what runs over. Seconds.

mod wall_clock;

pub use wall_clock::{Press, WallClock};

use crate::sheet::BlockKind;
use crate::units::clock;
use serde::{Deserialize, Serialize};

/// (default, least) lengths of the parts that no sheet times (own; the coach changes them for a day).
pub const BRIEF: [u32; 2] = [180, 120];
/// Warm-up.
pub const WARM_UP: [u32; 2] = [600, 360];
/// Plates off, kit out, lanes set.
pub const CHANGE_OVER: [u32; 2] = [180, 120];
/// Standards, versions, pacing in one line each.
pub const WORKOUT_BRIEF: [u32; 2] = [120, 60];
/// Cool-down.
pub const COOL_DOWN: [u32; 2] = [240, 120];
/// Tidy.
pub const TIDY: [u32; 2] = [60, 60];
/// Skill practice without a length.
pub const SKILL: [u32; 2] = [480, 300];

/// What a part of the hour is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum HourPart {
    Brief,
    WarmUp,
    Strength,
    Skill,
    ChangeOver,
    WorkoutBrief,
    Workout,
    Accessory,
    CoolDown,
    Tidy,
}

impl HourPart {
    /// Its name on the rail.
    pub fn word(self) -> &'static str {
        match self {
            HourPart::Brief => "Brief",
            HourPart::WarmUp => "Warm-up",
            HourPart::Strength => "Strength",
            HourPart::Skill => "Skill",
            HourPart::ChangeOver => "Change-over",
            HourPart::WorkoutBrief => "Workout brief",
            HourPart::Workout => "Workout",
            HourPart::Accessory => "Accessory",
            HourPart::CoolDown => "Cool-down",
            HourPart::Tidy => "Tidy",
        }
    }

    /// The word in files.
    pub fn id(self) -> &'static str {
        match self {
            HourPart::Brief => "brief",
            HourPart::WarmUp => "warm-up",
            HourPart::Strength => "strength",
            HourPart::Skill => "skill",
            HourPart::ChangeOver => "change-over",
            HourPart::WorkoutBrief => "workout-brief",
            HourPart::Workout => "workout",
            HourPart::Accessory => "accessory",
            HourPart::CoolDown => "cool-down",
            HourPart::Tidy => "tidy",
        }
    }

    /// The part for a block of the sheet.
    pub fn of(kind: BlockKind) -> HourPart {
        match kind {
            BlockKind::WarmUp => HourPart::WarmUp,
            BlockKind::Strength => HourPart::Strength,
            BlockKind::Skill => HourPart::Skill,
            BlockKind::Workout => HourPart::Workout,
            BlockKind::Accessory => HourPart::Accessory,
            BlockKind::CoolDown => HourPart::CoolDown,
        }
    }
}

/// A part with its wished and least length.
#[derive(Debug, Clone, PartialEq)]
pub struct WantedLength {
    /// What.
    pub part: HourPart,
    /// Block of the sheet, where it is one.
    pub block: Option<usize>,
    /// s.
    pub length_s: u32,
    /// s, not shorter.
    pub least_s: u32,
    /// Where the length comes from, in words.
    pub how: String,
}

impl WantedLength {
    /// One with a default length.
    pub fn of(
        part: HourPart,
        block: Option<usize>,
        [length_s, least_s]: [u32; 2],
        how: &str,
    ) -> WantedLength {
        WantedLength { part, block, length_s, least_s, how: how.to_owned() }
    }

    /// The key by which a decision names it: `warm-up`, `strength-1`.
    pub fn key(&self) -> String {
        match self.block {
            Some(b) => format!("{}-{b}", self.part.id()),
            None => self.part.id().to_owned(),
        }
    }
}

/// A part in its place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Slot {
    /// What.
    pub part: HourPart,
    /// Block of the sheet, where it is one.
    pub block: Option<usize>,
    /// By which a decision names it.
    pub key: String,
    /// s from the start of the class.
    pub start_s: u32,
    /// s.
    pub length_s: u32,
    /// s, not shorter.
    pub least_s: u32,
    /// Where the length comes from.
    pub how: String,
    /// The coach set it.
    pub set_by_coach: bool,
}

/// The hour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Hour {
    /// s the class has.
    pub length_s: u32,
    /// In order, without gaps.
    pub slots: Vec<Slot>,
    /// s past the end.
    pub overrun_s: u32,
    /// s left.
    pub spare_s: u32,
    /// Ways to fit, each with what it gives back, cheapest first; empty when it fits.
    pub mends: Vec<Mend>,
}

/// One way of making the hour fit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Mend {
    /// Slot's key.
    pub key: String,
    /// New length, s.
    pub length_s: u32,
    /// s won.
    pub wins_s: u32,
    /// In words, with its cost.
    pub text: String,
}

/// Puts parts in a row. `set`: lengths that the coach chose, by key.
pub fn hour(length_s: u32, wanted: Vec<WantedLength>, set: &[(String, u32)]) -> Hour {
    let mut at = 0u32;
    let slots: Vec<Slot> = wanted
        .into_iter()
        .map(|w| {
            let key = w.key();
            let chosen = set.iter().rev().find(|(k, _)| *k == key).map(|(_, s)| *s);
            let slot = Slot {
                part: w.part,
                block: w.block,
                start_s: at,
                length_s: chosen.unwrap_or(w.length_s),
                least_s: w.least_s,
                how: w.how,
                set_by_coach: chosen.is_some(),
                key,
            };
            at = at.saturating_add(slot.length_s);
            slot
        })
        .collect();
    let overrun_s = at.saturating_sub(length_s);
    let mends = if overrun_s > 0 { mends(&slots, overrun_s) } else { Vec::new() };
    Hour { length_s, spare_s: length_s.saturating_sub(at), overrun_s, slots, mends }
}

/// What can be shortened without touching the work: each part down to its least, in the order of what it costs.
fn mends(slots: &[Slot], overrun_s: u32) -> Vec<Mend> {
    const ORDER: [(HourPart, &str); 7] = [
        (HourPart::Accessory, "the accessory is left for another day"),
        (HourPart::CoolDown, "members stretch on their own"),
        (HourPart::Brief, "say less, show more"),
        (HourPart::ChangeOver, "needs every hand on the plates"),
        (HourPart::WorkoutBrief, "standards only"),
        (HourPart::Skill, "less practice"),
        (HourPart::WarmUp, "fewer drills; not under 6:00"),
    ];
    let mut out = Vec::new();
    for (part, cost) in ORDER {
        for s in slots.iter().filter(|s| s.part == part && s.length_s > s.least_s) {
            let wins_s = (s.length_s - s.least_s).min(overrun_s);
            let length_s = s.length_s - wins_s;
            let to = if length_s == 0 {
                "drop it".to_owned()
            } else {
                format!("to {}", clock(f64::from(length_s)))
            };
            let text = format!("{} {to}: {cost}.", part.word());
            out.push(Mend { key: s.key.clone(), length_s, wins_s, text });
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn day() -> Vec<WantedLength> {
        vec![
            WantedLength::of(HourPart::Brief, None, BRIEF, ""),
            WantedLength::of(HourPart::WarmUp, None, WARM_UP, ""),
            WantedLength::of(HourPart::Strength, Some(0), [1500, 1200], ""),
            WantedLength::of(HourPart::Workout, Some(1), [840, 840], ""),
            WantedLength::of(HourPart::CoolDown, None, COOL_DOWN, ""),
        ]
    }

    #[test]
    fn parts_stand_in_a_row_and_sum_to_the_hour() {
        let h = hour(3600, day(), &[]);
        assert_eq!(h.slots.iter().map(|s| s.start_s).collect::<Vec<_>>(), vec![0, 180, 780, 2280, 3120]);
        assert_eq!((h.overrun_s, h.spare_s), (0, 240));
    }

    #[test]
    fn an_overrun_is_shown_with_ways_to_mend_it() {
        let h = hour(3000, day(), &[]);
        assert_eq!(h.overrun_s, 360);
        let cool = h.mends.iter().find(|m| m.key == "cool-down").unwrap();
        assert_eq!((cool.length_s, cool.wins_s), (120, 120));
        let warm = h.mends.iter().find(|m| m.key == "warm-up").unwrap();
        assert_eq!((warm.length_s, warm.wins_s), (360, 240));
        let set: Vec<(String, u32)> = h.mends.iter().map(|m| (m.key.clone(), m.length_s)).collect();
        assert_eq!(hour(3000, day(), &set).overrun_s, 0);
    }

    #[test]
    fn the_coachs_length_wins_and_is_marked() {
        let h = hour(3600, day(), &[("brief".to_owned(), 300), ("brief".to_owned(), 240)]);
        assert_eq!((h.slots[0].length_s, h.slots[0].set_by_coach), (240, true));
        assert!(!h.slots[1].set_by_coach);
        assert_eq!(h.slots[2].key, "strength-0");
    }
}
