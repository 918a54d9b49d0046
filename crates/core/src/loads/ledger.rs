//! What is known about every lift of a member, and what today's numbers would use.

use super::base::{Base, base_for};
use super::estimate::estimate;
use crate::ratios;
use crate::roster::Member;
use crate::settings::Settings;
use crate::sheet::PercentBase;
use crate::units::Provenance;
use chrono::NaiveDate;

/// One lift of a member.
#[derive(Debug, Clone, PartialEq)]
pub struct LedgerRow {
    /// Catalogue id.
    pub lift: String,
    /// The member lifted it: tested, or a rep maximum.
    pub known: bool,
    /// What a percentage would be of today.
    pub base: Base,
    /// 1RM between these, kg; the same for a tested single.
    pub spread: Option<(f64, f64)>,
    /// Day of the lift behind it.
    pub since: Option<NaiveDate>,
}

/// Every lift with a ratio and every lift that the member has done, the known ones first.
pub fn ledger(member: &Member, settings: &Settings, today: NaiveDate) -> Vec<LedgerRow> {
    let mut lifts: Vec<&str> = ratios::lifts().iter().map(|l| l.id.as_str()).collect();
    for m in &member.maxes {
        if !lifts.contains(&m.lift.as_str()) {
            lifts.push(&m.lift);
        }
    }
    let mut out: Vec<LedgerRow> = lifts
        .into_iter()
        .map(|lift| {
            let e = estimate(member, lift, today);
            let known = e.as_ref().is_some_and(|e| !e.related);
            LedgerRow {
                lift: lift.to_owned(),
                known,
                base: base_for(member, lift, &PercentBase::Unsaid, settings, today),
                spread: e.as_ref().map(|e| match e.provenance {
                    Provenance::Tested => (e.kg, e.kg),
                    _ => (e.kg * (1.0 - e.sd), e.kg * (1.0 + e.sd)),
                }),
                since: e.and_then(|e| e.date),
            }
        })
        .collect();
    out.sort_by_key(|r| !r.known);
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::roster::Max;
    use crate::units::Standard;

    #[test]
    fn known_lifts_come_first_and_every_other_says_where_it_comes_from() {
        let day = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
        m.maxes.push(Max { lift: "back-squat".into(), kg: 140.0, reps: 1, reserve: 0, date: Some(day) });
        let all = ledger(&m, &Settings::default(), day);
        assert_eq!(
            (all[0].lift.as_str(), all[0].known, all[0].spread),
            ("back-squat", true, Some((140.0, 140.0)))
        );
        let front = all.iter().find(|r| r.lift == "front-squat").unwrap();
        // 140 x .84 = 117.6 (.06) and the level's 123 x .84 = 103.3 (.20): weights 277.8 and 25, 116.3, sd .0575
        let (low, high) = front.spread.unwrap();
        assert!((low - 109.6).abs() < 0.1 && (high - 123.0).abs() < 0.1 && front.since == Some(day));
        assert!(front.base.words.contains("from back squat"), "{}", front.base.words);
        assert_eq!(all.len(), ratios::lifts().len());
    }
}
