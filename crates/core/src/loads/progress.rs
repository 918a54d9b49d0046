//! What a member's lift came to over time: each known lift and each day's heaviest set as a 1RM, with where it comes from.

use super::heavy::Attempt;
use super::one_rep_max::one_rep_max;
use crate::roster::Member;
use crate::units::{Provenance, plain};
use chrono::NaiveDate;

/// One day of a lift.
#[derive(Debug, Clone, PartialEq)]
pub struct Point {
    /// When.
    pub date: NaiveDate,
    /// 1RM, kg; its spread by the two formulas.
    pub kg: f64,
    /// Low end, kg.
    pub low: f64,
    /// High end, kg.
    pub high: f64,
    /// A tested single, or estimated.
    pub provenance: Provenance,
    /// It is a base; else a day's set.
    pub base: bool,
    /// In words: `100 kg x 5 with 2 left`.
    pub words: String,
}

fn point(date: NaiveDate, kg: f64, reps: u32, reserve: u32, base: bool) -> Option<Point> {
    let rm = one_rep_max(kg, reps, reserve).ok()?;
    let tested = reps == 1 && reserve == 0 && base;
    let left = if reserve > 0 { format!(" with {reserve} left") } else { String::new() };
    Some(Point {
        date,
        kg: rm.kg,
        low: rm.low,
        high: rm.high,
        provenance: if tested { Provenance::Tested } else { Provenance::Estimated },
        base,
        words: format!("{} kg x {reps}{left}", plain((kg * 100.0).round() / 100.0)),
    })
}

/// Days of a lift in order: the member's known lifts and the heaviest set of each logged day. A set of which nobody said
/// how many reps were left says only that the 1RM is at least this much.
pub fn progress(member: &Member, lift: &str, days: &[(NaiveDate, Attempt)]) -> Vec<Point> {
    let known = member
        .maxes
        .iter()
        .filter(|m| m.lift == lift)
        .filter_map(|m| point(m.date?, m.kg, m.reps, m.reserve, true));
    let sets = days
        .iter()
        .filter(|(_, a)| !a.missed && a.reps > 0)
        .filter_map(|(date, a)| point(*date, a.kg, a.reps, a.reserve.unwrap_or(0), false));
    let mut out: Vec<Point> = known.chain(sets).collect();
    // a base and the set that it came from are one point
    out.sort_by(|a, b| a.date.cmp(&b.date).then(b.base.cmp(&a.base)).then(a.kg.total_cmp(&b.kg)));
    out.dedup_by(|b, a| a.date == b.date && a.base && !b.base && (a.kg - b.kg).abs() < 0.5);
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::roster::Max;
    use crate::units::Standard;

    #[test]
    fn days_come_in_order_and_a_base_is_not_drawn_twice() {
        let day = |d: u32| NaiveDate::from_ymd_opt(2026, 11, d).unwrap();
        let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
        let max = |kg, reps, d| Max { lift: "back-squat".into(), kg, reps, reserve: 0, date: Some(day(d)) };
        m.maxes = vec![max(100.0, 5, 12), max(110.0, 1, 2)];
        let went = |kg, reserve| Attempt { kg, reps: 5, reserve, missed: false };
        let days = [
            (day(12), went(100.0, Some(0))),
            (day(19), went(85.0, Some(3))),
            (day(21), Attempt { missed: true, ..went(200.0, None) }),
        ];
        let p = progress(&m, "back-squat", &days);
        let seen: Vec<(u32, bool, Provenance)> =
            p.iter().map(|p| (chrono::Datelike::day(&p.date), p.base, p.provenance)).collect();
        use Provenance::{Estimated, Tested};
        assert_eq!(seen, vec![(2, true, Tested), (12, true, Estimated), (19, false, Estimated)]);
        // 85 x 8: Epley 107.7, Brzycki 105.5
        assert!((p[2].kg - 106.6).abs() < 0.1 && p[2].words == "85 kg x 5 with 3 left");
    }
}
