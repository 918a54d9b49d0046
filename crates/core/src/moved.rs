//! What of a plan is not as it was, after others are booked: values with their figures. The words are in [`crate::say`].

use crate::units::Tier;

/// Something of a plan that is not as it was.
#[derive(Debug, Clone, PartialEq)]
pub enum Moved {
    /// Somebody is planned for who was not.
    Joined {
        /// Who.
        name: String,
    },
    /// Somebody is not planned for any more.
    Left {
        /// Who.
        name: String,
    },
    /// A version has other lines.
    Lines {
        /// The workout's own name.
        workout: Option<String>,
        /// Which.
        tier: Tier,
    },
    /// Somebody stands in another version.
    Version {
        /// Who.
        name: String,
        /// The workout's own name.
        workout: Option<String>,
        /// Before.
        from: Tier,
        /// Now.
        to: Tier,
    },
    /// Somebody lifts another weight.
    Weight {
        /// Who.
        name: String,
        /// Catalogue id of the lift.
        lift: String,
        /// Heaviest set before, kg.
        from_kg: f64,
        /// Heaviest set now, kg.
        to_kg: f64,
    },
    /// Members stand at other racks.
    Racks {
        /// Catalogue id of the lift.
        lift: String,
        /// Who, and the number of their rack now, from 1.
        members: Vec<(String, usize)>,
    },
    /// The hour ends at another minute.
    Ends {
        /// s from the start before.
        from_s: u32,
        /// s from the start now.
        to_s: u32,
    },
}
