//! How a result stands against what was foretold of it.

use crate::learning::{Seen, late};
use crate::logbook::Outcome;
use crate::plan::{PlanAnswer, PredictionAnswer};
use crate::record::{Landed, Pair, Promise, Said, Unjudged, outside};
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

/// How a result of a member in a block stands to what was foretold. `today`: the standard of plans from before it was kept.
///
/// # Errors
/// Why it is not judged: another version than foretold, no range, no number of the same kind.
pub fn landed(
    plan: &PlanAnswer,
    (member, block): (&str, usize),
    (outcome, tier): (Outcome, Tier),
    today: Option<Standard>,
) -> Result<Landed, Unjudged> {
    let m = plan.members.iter().find(|m| m.id == member).ok_or(Unjudged::NoRange)?;
    let p = m.predictions.iter().find(|p| p.block == block).ok_or(Unjudged::NoRange)?;
    if p.scale_this.is_some() {
        return Err(Unjudged::NoRange);
    }
    if p.tier != tier {
        return Err(Unjudged::OtherVersion);
    }
    let standard = m.standard.or(today);
    let reps = standard.and_then(|s| board_reps(plan, p.block, p.tier, s)).unwrap_or(1.0);
    let result = outcome.compared(p.unit, p.cap_s, reps).ok_or(Unjudged::NoNumber)?;
    let is_time = p.unit == PredictionUnit::Seconds;
    let capped = matches!(outcome, Outcome::Capped { .. });
    let inside = |[low, high]: [Option<f64>; 2]| {
        low.is_none_or(|l| result >= l - 1e-9) && high.is_none_or(|h| result <= h + 1e-9) && !capped
    };
    let cap = p.cap_s.filter(|_| is_time).map(|_| Said { chance: p.capped, came: capped });
    let promise = Promise {
        provenance: p.provenance,
        format: p.foretold.map(|f| f.format),
        results: p.results,
        window: p.window.map(|w| Said { chance: p.on_stimulus, came: inside(w) }),
        cap,
    };
    let pair = Pair { deciles: p.deciles, result, is_time, at_cap: capped, promise };
    Ok(pair.landed())
}

/// A result beside what was foretold of it before anything was learnt; `None` where the two cannot be compared: another version was
/// done, no range was given, or it is no number.
pub fn seen(
    plan: &PlanAnswer,
    (member, block): (&str, usize),
    (outcome, tier): (Outcome, Tier),
) -> Option<Seen> {
    let m = plan.members.iter().find(|m| m.id == member)?;
    let p = m.predictions.iter().find(|p| p.block == block && p.tier == tier && p.scale_this.is_none())?;
    let reps = m.standard.and_then(|s| board_reps(plan, block, tier, s)).unwrap_or(1.0);
    let foretold = p.foretold?;
    let late = late(&foretold, outcome.compared(p.unit, p.cap_s, reps)?, p.unit == PredictionUnit::Seconds)?;
    let capped = matches!(outcome, Outcome::Capped { .. });
    Some(Seen { of: String::new(), member: member.to_owned(), foretold, late, capped, left_out: false })
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
            foretold: None,
            results: 0,
            window: None,
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

    #[test]
    fn only_what_was_foretold_and_done_lands() {
        use crate::plan::{Class, Options, answer, plan};
        let mut m = crate::roster::Member::unknown("Bo", Standard::Heavier, crate::pacing::Level::Seasoned);
        m.id = "bo".into();
        let class = Class {
            members: vec![m],
            kit: crate::kit::Kit::usual(),
            date: chrono::NaiveDate::from_ymd_opt(2026, 11, 24).unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let sheet = crate::sheet::read("# workout cap 9:00\n3 rounds for time\n10 burpees\n200 m run").sheet;
        let options = Options { runs: 40, ..Options::default() };
        let p = answer(&plan(&sheet, &class, &crate::settings::Settings::default(), &[], options));
        let tier = p.members[0].tier.unwrap();
        let of = |outcome, tier| landed(&p, ("bo", 0), (outcome, tier), None);
        let fast = of(Outcome::Time { seconds: 60.0 }, tier).unwrap();
        let (place, said) = (fast.place.unwrap(), fast.promise);
        assert_eq!((place.slot, place.inside, said.provenance), (0, false, Provenance::Assumed));
        assert_eq!(said.cap.map(|c| c.came), Some(false));
        assert_eq!(
            of(Outcome::Out, tier),
            Err(Unjudged::NoNumber),
            "who did not finish says nothing about the range"
        );
        assert_eq!(of(Outcome::Rounds { rounds: 2, reps: 3 }, tier), Err(Unjudged::NoNumber));
        // the range ends before the cap: who is capped is a miss, and the chance of the cap is judged beside
        let capped = of(Outcome::Capped { rounds: 2, reps: 3 }, tier).unwrap();
        let p90 = p.members[0].predictions[0].p90;
        assert_eq!(capped.place.map(|p| p.inside), (p90 < 539.5).then_some(false), "{p90}");
        assert!(capped.promise.cap.is_some_and(|c| c.came));
        assert_eq!(capped.promise.cap.map(|c| c.chance), said.cap.map(|c| c.chance));
        let other = if tier == Tier::Base { Tier::Full } else { Tier::Base };
        assert_eq!(of(Outcome::Time { seconds: 400.0 }, other), Err(Unjudged::OtherVersion));
        let nobody = landed(&p, ("somebody", 0), (Outcome::Time { seconds: 400.0 }, tier), None);
        assert_eq!(nobody, Err(Unjudged::NoRange));
        // the window that is assumed for this is where a chance is said of it
        let window = p.members[0].predictions[0].window.unwrap();
        let [Some(low), Some(high)] = window else { panic!("{window:?}") };
        let came = |s: f64| of(Outcome::Time { seconds: s }, tier).unwrap().promise.window.unwrap().came;
        assert!(came(low) && came(high) && !came(low - 1.0) && !came(high + 1.0));
    }
}
