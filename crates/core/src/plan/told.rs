//! Why a member's plan is as it is: code and figures, and the sentence that a coach reads.

use crate::reason::Reason;
use crate::units::WeightUnit;
use serde::{Deserialize, Serialize};

/// One reason as it is handed out and kept.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Told {
    /// Code and figures.
    #[serde(flatten)]
    pub reason: Reason,
    /// In words.
    pub text: String,
    /// It follows from a limit or a pregnancy: the coach's and the member's own to see.
    pub private: bool,
}

impl Told {
    /// A reason with its words.
    pub fn of(reason: Reason, unit: WeightUnit) -> Told {
        Told { text: crate::say::reason(&reason, unit), private: reason.private(), reason }
    }
}
