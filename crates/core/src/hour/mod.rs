//! The hour: every block with its start and length, and what runs over. Seconds.

mod stage;
mod wall_clock;

pub use stage::{Stage, stages};
pub use wall_clock::{Press, WallClock};

use crate::sheet::BlockKind;
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
/// From one heat to the next: score, wipe down, step in.
pub const HEAT_CHANGE: [u32; 2] = [120, 60];
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
    HeatChange,
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
            HourPart::HeatChange => "Change of heats",
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
            HourPart::HeatChange => "heat-change",
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

/// Where a part stands beside others: a group has a column of its own for as long as groups do different things.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Column {
    /// From 0, from the left.
    pub at: u32,
    /// Columns side by side.
    pub of: u32,
    /// Which group of the class, from 0; a heat is one.
    pub group: u32,
    /// It starts with the part before it, not after it.
    pub with_before: bool,
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
    /// Of a group alone; `None`: everybody.
    pub column: Option<Column>,
}

impl WantedLength {
    /// One with a default length, for everybody.
    pub fn of(
        part: HourPart,
        block: Option<usize>,
        [length_s, least_s]: [u32; 2],
        how: &str,
    ) -> WantedLength {
        WantedLength { part, block, length_s, least_s, how: how.to_owned(), column: None }
    }

    /// The key by which a decision names it: `warm-up`, `strength-1`.
    pub fn key(&self) -> String {
        match self.block {
            Some(b) => format!("{}-{b}", self.part.id()),
            None => self.part.id().to_owned(),
        }
    }
}

/// Where the hour is with a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Standing {
    /// It is over.
    Done,
    /// It runs.
    Runs,
    /// It is still to come.
    ToCome,
}

/// What runs at a moment of the class, as the coach says it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Running {
    /// Key of the part.
    pub key: String,
    /// s from the start of the class.
    pub at_s: u32,
    /// s that it still needs.
    pub left_s: u32,
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
    /// Of a group alone; `None`: everybody.
    pub column: Option<Column>,
    /// Whether it is over, runs or is to come.
    pub standing: Standing,
}

impl Slot {
    /// s from the start of the class to its end.
    pub fn end_s(&self) -> u32 {
        self.start_s.saturating_add(self.length_s)
    }
}

/// The hour.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Hour {
    /// s the class has.
    pub length_s: u32,
    /// In order; without gaps, but beside a group that takes longer.
    pub slots: Vec<Slot>,
    /// s past the end.
    pub overrun_s: u32,
    /// s left.
    pub spare_s: u32,
    /// What runs, where the coach has said it.
    pub running: Option<Running>,
}

impl Hour {
    /// s from the start to the end of the last part.
    pub fn end_s(&self) -> u32 {
        self.slots.iter().map(Slot::end_s).max().unwrap_or(0)
    }

    /// The part of a block that a group does; everybody's where groups do it together.
    pub fn slot_of(&self, part: HourPart, block: usize, group: Option<u32>) -> Option<&Slot> {
        let here = |s: &&Slot| s.part == part && s.block == Some(block);
        let own =
            |s: &&Slot| s.column.is_none() || group.is_none_or(|g| s.column.is_some_and(|c| c.group == g));
        self.slots.iter().filter(here).find(own)
    }
}

/// Puts parts in a row. `set`: lengths that the coach chose, by key; `running`: what runs at a moment, from which on the rest is put.
pub fn hour(
    length_s: u32,
    wanted: Vec<WantedLength>,
    set: &[(String, u32)],
    running: Option<&Running>,
) -> Hour {
    let (mut from, mut at) = (0u32, 0u32);
    let mut slots: Vec<Slot> = Vec::with_capacity(wanted.len());
    for w in wanted {
        let key = w.key();
        let chosen = set.iter().rev().find(|(k, _)| *k == key).map(|(_, s)| *s);
        if !w.column.is_some_and(|c| c.with_before) {
            from = at;
        }
        let slot = Slot {
            part: w.part,
            block: w.block,
            start_s: from,
            length_s: chosen.unwrap_or(w.length_s),
            least_s: w.least_s,
            how: w.how,
            set_by_coach: chosen.is_some(),
            column: w.column,
            standing: Standing::ToCome,
            key,
        };
        at = at.max(slot.end_s());
        slots.push(slot);
    }
    if let Some(r) = running {
        from_now(&mut slots, r);
    }
    let end = slots.iter().map(Slot::end_s).max().unwrap_or(0);
    let known = |r: &&Running| slots.iter().any(|s| s.key == r.key);
    Hour {
        length_s,
        spare_s: length_s.saturating_sub(end),
        overrun_s: end.saturating_sub(length_s),
        running: running.filter(known).cloned(),
        slots,
    }
}

/// Puts the rest of the hour behind what runs: what is before it is over, by the moment at the latest; what comes after it follows.
fn from_now(slots: &mut [Slot], running: &Running) {
    // groups do the same part one after the other: the one that has begun
    let named = || slots.iter().enumerate().filter(|(_, s)| s.key == running.key);
    let begun = named().rfind(|(_, s)| s.start_s <= running.at_s).or_else(|| named().next());
    let Some((now, _)) = begun else { return };
    let was_end = slots.get(now).map_or(0, Slot::end_s);
    let end = running.at_s.saturating_add(running.left_s);
    for (i, s) in slots.iter_mut().enumerate() {
        if i > now {
            // parts of groups that began with what runs go on beside it
            let beside = s.start_s < was_end;
            let by = if beside { s.start_s } else { s.start_s.saturating_sub(was_end).saturating_add(end) };
            s.start_s = by;
            s.standing = if beside { Standing::Runs } else { Standing::ToCome };
            continue;
        }
        s.start_s = s.start_s.min(running.at_s);
        if i == now {
            s.length_s = end - s.start_s;
            s.standing = Standing::Runs;
        } else {
            s.length_s = s.length_s.min(running.at_s - s.start_s);
            s.standing = Standing::Done;
        }
    }
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
        let h = hour(3600, day(), &[], None);
        assert_eq!(h.slots.iter().map(|s| s.start_s).collect::<Vec<_>>(), vec![0, 180, 780, 2280, 3120]);
        assert_eq!((h.overrun_s, h.spare_s), (0, 240));
    }

    #[test]
    fn what_runs_is_not_planned_again_and_the_rest_follows_it() {
        let at = |key: &str, at_s, left_s| {
            let r = Running { key: key.to_owned(), at_s, left_s };
            hour(3600, day(), &[], Some(&r))
        };
        // strength, planned from 13:00 to 38:00, still runs at 44:00 and needs 3:00: everything else is 9:00 later
        let h = at("strength-0", 2640, 180);
        let places: Vec<(u32, u32)> = h.slots.iter().map(|s| (s.start_s, s.end_s())).collect();
        assert_eq!(places, [(0, 180), (180, 780), (780, 2820), (2820, 3660), (3660, 3900)]);
        use Standing::{Done, Runs, ToCome};
        assert_eq!(
            h.slots.iter().map(|s| s.standing).collect::<Vec<_>>(),
            [Done, Done, Runs, ToCome, ToCome]
        );
        assert_eq!((h.overrun_s, h.running.map(|r| r.at_s)), (300, Some(2640)));
        // a part that was begun early takes its time from those before it
        let early = at("strength-0", 600, 1500);
        assert_eq!(early.slots.iter().map(Slot::end_s).collect::<Vec<_>>(), [180, 600, 2100, 2940, 3180]);
        // a late start: the brief runs at 5:00
        assert_eq!(at("brief", 300, 60).end_s(), 360 + 600 + 1500 + 840 + 240);
        assert_eq!(at("no-such-part", 300, 60), hour(3600, day(), &[], None));
    }

    #[test]
    fn groups_side_by_side_take_as_long_as_the_longer() {
        let mut parts = day();
        let beside = |group, with_before| Some(Column { at: group, of: 2, group, with_before });
        parts[2].column = beside(0, false);
        parts[3].column = beside(1, true);
        let h = hour(3600, parts, &[], None);
        assert_eq!(h.slots.iter().map(|s| s.start_s).collect::<Vec<_>>(), [0, 180, 780, 780, 2280]);
        assert_eq!((h.end_s(), h.spare_s), (2520, 1080));
        assert!(
            h.slot_of(HourPart::Workout, 1, Some(1)).is_some()
                && h.slot_of(HourPart::Workout, 1, Some(0)).is_none()
        );
    }

    #[test]
    fn the_coachs_length_wins_and_is_marked() {
        let h = hour(3600, day(), &[("brief".to_owned(), 300), ("brief".to_owned(), 240)], None);
        assert_eq!((h.slots[0].length_s, h.slots[0].set_by_coach), (240, true));
        assert!(!h.slots[1].set_by_coach);
        assert_eq!(h.slots[2].key, "strength-0");
    }
}
