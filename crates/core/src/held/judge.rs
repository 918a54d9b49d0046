//! How a result stands against what was foretold of it.

use crate::plan::{PlanAnswer, PredictionAnswer};
use crate::record::outside;
use crate::units::Standard;
use crate::versions::{PredictionUnit, Tier};

/// Which side of its range a result fell on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Side {
    /// A time before it.
    Early,
    /// A time after it.
    Late,
    /// A score below it.
    Under,
    /// A score above it.
    Over,
}

impl Side {
    /// In a word.
    pub fn word(self) -> &'static str {
        match self {
            Side::Early => "early",
            Side::Late => "late",
            Side::Under => "under",
            Side::Over => "over",
        }
    }
}

/// How a result stands.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Judged {
    /// In its range, as printed.
    Inside,
    /// Outside, by so much in the unit of the score.
    Outside(f64, Side),
    /// Another version was done than planned.
    OtherVersion {
        /// What was done.
        did: Tier,
        /// What was foretold.
        planned: Tier,
    },
    /// No range was given.
    NoRange,
}

/// Judges a result in the unit of its prediction.
pub fn judge(p: &PredictionAnswer, result: f64, did: Tier) -> Judged {
    if did != p.tier {
        return Judged::OtherVersion { did, planned: p.tier };
    }
    if p.scale_this.is_some() {
        return Judged::NoRange;
    }
    let is_time = p.unit == PredictionUnit::Seconds;
    let off = outside(p.p10, p.p90, result, is_time);
    if off == 0.0 {
        return Judged::Inside;
    }
    let side = match (off < 0.0, is_time) {
        (true, true) => Side::Early,
        (true, false) => Side::Under,
        (false, true) => Side::Late,
        (false, false) => Side::Over,
    };
    Judged::Outside(off.abs(), side)
}

/// Reps of a round on the board for a member in the version that they did; `None` where the plan has no such version.
pub fn board_reps(plan: &PlanAnswer, block: usize, tier: Tier, standard: Standard) -> Option<f64> {
    let v = plan.versions.iter().find(|v| v.block == block && v.tier == tier)?;
    Some(standard.of(v.board_reps))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Provenance;

    fn foretold(unit: PredictionUnit, low: f64, high: f64) -> PredictionAnswer {
        PredictionAnswer {
            block: 0,
            tier: Tier::Trim,
            unit,
            p10: low,
            p50: (low + high) / 2.0,
            p90: high,
            deciles: [low; 9],
            on_stimulus: 0.8,
            capped: 0.0,
            cap_s: Some(840.0),
            provenance: Provenance::Tested,
            weakest: None,
            steady: None,
            scale_this: None,
        }
    }

    #[test]
    fn a_time_is_early_inside_or_late_by_its_difference() {
        let p = foretold(PredictionUnit::Seconds, 540.0, 660.0);
        assert_eq!(judge(&p, 600.0, Tier::Trim), Judged::Inside);
        assert_eq!(judge(&p, 660.4, Tier::Trim), Judged::Inside, "as printed");
        assert_eq!(judge(&p, 673.0, Tier::Trim), Judged::Outside(13.0, Side::Late));
        assert_eq!(judge(&p, 500.0, Tier::Trim), Judged::Outside(40.0, Side::Early));
        let other = Judged::OtherVersion { did: Tier::Base, planned: Tier::Trim };
        assert_eq!(judge(&p, 600.0, Tier::Base), other);
        let far = PredictionAnswer { scale_this: Some("scale this".into()), ..p };
        assert_eq!(judge(&far, 600.0, Tier::Trim), Judged::NoRange);
    }

    #[test]
    fn rounds_are_over_or_under() {
        let p = foretold(PredictionUnit::Rounds, 4.5, 6.0);
        assert_eq!(judge(&p, 6.5, Tier::Trim), Judged::Outside(0.5, Side::Over));
        assert_eq!(judge(&p, 4.0, Tier::Trim), Judged::Outside(0.5, Side::Under));
    }
}
