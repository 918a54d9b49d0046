//! The warm-up: drills that cover what the day loads within the time, from raising the heart rate to rehearsing the
//! lift and tasting the workout. A warm-up written on the sheet is kept and checked against the same demand.

mod cover;
mod demand;
mod lately;
mod rehearse;
mod shape;
mod taste;

pub use cover::{For, warm_up};
pub use demand::{Asked, Demand, demand};
pub use lately::days_of_drills;
pub use shape::in_shape;
pub use taste::{Done, DoneLine};

use serde::{Deserialize, Serialize};

/// WarmUpPart of a warm-up, in order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum WarmUpPart {
    Written,
    Raise,
    Mobilise,
    Activate,
    Rehearse,
}

impl WarmUpPart {
    /// The word that people read.
    pub fn word(self) -> &'static str {
        match self {
            WarmUpPart::Written => "As written",
            WarmUpPart::Raise => "Raise",
            WarmUpPart::Mobilise => "Open",
            WarmUpPart::Activate => "Switch on",
            WarmUpPart::Rehearse => "Rehearse",
        }
    }

    /// The word in files and in the drills' data.
    pub fn id(self) -> &'static str {
        match self {
            WarmUpPart::Written => "written",
            WarmUpPart::Raise => "raise",
            WarmUpPart::Mobilise => "mobilise",
            WarmUpPart::Activate => "activate",
            WarmUpPart::Rehearse => "rehearse",
        }
    }
}

/// One line of the warm-up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Step {
    /// WarmUpPart.
    pub part: WarmUpPart,
    /// Drill id, where it is one.
    pub drill: Option<String>,
    /// What is done.
    pub name: String,
    /// How much of it, where its time does not say it: `8 each side`; else empty.
    #[serde(default)]
    pub dose: String,
    /// What the coach says.
    pub cue: String,
    /// The easier form.
    pub easier: String,
    /// s.
    pub seconds: u32,
    /// Regions that it prepares.
    pub regions: Vec<String>,
    /// Movements of the day that it prepares.
    pub prepares: Vec<String>,
}

impl Step {
    /// What is done, with its dose: `Wrist rock, 10`.
    pub fn said(&self) -> String {
        if self.dose.is_empty() { self.name.clone() } else { format!("{}, {}", self.name, self.dose) }
    }
}

/// How much of a region's demand is covered.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Covered {
    /// Region.
    pub region: String,
    /// Share of the day's demand.
    pub demand: f64,
    /// Seconds of warm-up that touch it.
    pub seconds: u32,
}

/// A warm-up.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct WarmUp {
    /// How the general part is called out; empty for one that stands on the sheet.
    pub how: String,
    /// In order; their seconds sum to the block's.
    pub steps: Vec<Step>,
    /// Movements of the day, in order.
    pub movements: Vec<String>,
    /// Regions by demand, the largest first.
    pub coverage: Vec<Covered>,
    /// Regions with a tenth of the demand or more that nothing touches.
    pub missing: Vec<String>,
}

#[cfg(test)]
mod tests;
