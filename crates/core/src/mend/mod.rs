//! Ways to make a day fit its hour and its kit: less of the work, less around it, groups that take turns. Values alone: what each
//! gives and costs is found by planning the day with it (`plan/mends.rs`), its words are in [`crate::say`].

mod less;
mod short;

pub use less::{By, Less, changes, less};
pub use short::Short;

use crate::hour::HourPart;

/// One way, with what it changes.
#[derive(Debug, Clone, PartialEq)]
pub enum Way {
    /// A part of the hour is shorter.
    Shorter {
        /// Which.
        part: HourPart,
        /// s now.
        from_s: u32,
        /// s then; 0: it is left out.
        to_s: u32,
    },
    /// The workout ends for everybody.
    Cap {
        /// Of which workout, where there are several.
        workout: Option<String>,
        /// s now; `None`: there is none.
        from_s: Option<u32>,
        /// s then.
        to_s: u32,
    },
    /// Less of a workout.
    Less {
        /// Of which, where there are several.
        workout: Option<String>,
        /// What changes in it.
        changes: Vec<Less>,
    },
    /// Fewer sets of a lift.
    Sets {
        /// Sets now.
        from: u32,
        /// Sets then.
        to: u32,
    },
    /// Less time from set to set.
    Every {
        /// s now.
        from_s: u32,
        /// s then.
        to_s: u32,
    },
    /// More racks, so that nobody waits for a turn.
    Racks {
        /// Racks now.
        from: u32,
        /// Racks then.
        to: u32,
        /// Of them beyond what the hall has: stands that are lent.
        lent: u32,
    },
    /// Half of the class lifts while the other half works, then they change.
    Halves,
    /// The workout in heats, one after the other.
    Heats {
        /// Of which workout, where there are several.
        workout: Option<String>,
        /// How many.
        heats: u32,
    },
    /// Members begin at different lines of the list.
    Starts {
        /// Of which workout, where there are several.
        workout: Option<String>,
        /// Lines at which somebody begins.
        starts: u32,
    },
    /// Two share the work and the kit: one works at a time.
    Pairs {
        /// Of which workout, where there are several.
        workout: Option<String>,
    },
    /// A block is left for another day.
    Leave {
        /// Its name.
        what: String,
    },
}

impl Way {
    /// Whether the work that members do stays as it is.
    pub fn spares_the_work(&self) -> bool {
        matches!(self, Way::Shorter { .. } | Way::Racks { .. } | Way::Starts { .. } | Way::Heats { .. })
    }

    /// What it costs beside minutes and members, on a scale of members who miss their stimulus (own): what is lost for everybody
    /// that no forecast sees.
    pub fn price(&self) -> f64 {
        let minutes = |from: u32, to: u32| f64::from(from.saturating_sub(to)) / 60.0;
        match self {
            Way::Shorter { part, from_s, to_s } => minutes(*from_s, *to_s) * price_of(*part),
            Way::Cap { .. } => 0.3,
            // half of the work gone is more than twice a quarter
            Way::Less { changes, .. } => {
                let lost = changes.iter().map(Less::lost).fold(0.0, f64::max);
                0.5 + 6.0 * lost + 8.0 * lost * lost
            }
            Way::Sets { from, to } => {
                0.5 + 4.0 * f64::from(from.saturating_sub(*to)) / f64::from((*from).max(1))
            }
            Way::Every { from_s, to_s } => {
                5.0 * f64::from(from_s.saturating_sub(*to_s)) / f64::from((*from_s).max(1))
            }
            Way::Racks { lent, .. } => 0.4 + 1.5 * f64::from(*lent),
            Way::Halves => 2.0,
            Way::Heats { heats, .. } => f64::from(*heats) * 0.5,
            Way::Starts { .. } => 0.5,
            Way::Pairs { .. } => 2.0,
            Way::Leave { .. } => 8.0,
        }
    }
}

/// What a minute less of a part costs (own).
fn price_of(part: HourPart) -> f64 {
    match part {
        HourPart::Accessory => 0.1,
        HourPart::CoolDown => 0.25,
        HourPart::Brief => 0.3,
        HourPart::ChangeOver | HourPart::HeatChange => 0.4,
        HourPart::WorkoutBrief | HourPart::Skill => 0.5,
        _ => 0.9,
    }
}
