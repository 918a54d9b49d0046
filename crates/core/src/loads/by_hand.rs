//! Weights that the coach moved by hand.

use super::prescribe::{Bars, MemberLift, add_ramp};
use crate::reason::{OfLift, Reason};
use crate::units::Standard;

impl MemberLift {
    /// Its sets themselves climb to a heavy one.
    fn climbs(&self) -> bool {
        let builds = |r: &Reason| {
            matches!(
                r,
                Reason::Lift(OfLift::BuildTo { .. } | OfLift::BuildTowards { .. } | OfLift::EasySets { .. })
            )
        };
        self.reasons.iter().any(builds)
    }
}

/// Puts kg on every working set, to what one bar can be loaded with, and builds up to the first of them.
pub fn put_on(lift: &mut MemberLift, standard: Standard, by_kg: f64, bars: &Bars) {
    let wish = |kg: f64| (kg + by_kg).max(0.0);
    let lightest = lift.working().map(|s| wish(s.load_kg)).fold(f64::INFINITY, f64::min);
    let heaviest = lift.working().map(|s| wish(s.load_kg)).fold(0.0, f64::max);
    let same = bars.of_bar(lift.bar_kg()).filter(|b| b.bar_kg <= lightest);
    let bar = same.or_else(|| bars.for_sets(standard, lightest, heaviest));
    if let Some(bar) = bar.filter(|_| lift.bar_kg() > 0.0) {
        let base = lift.base.kg;
        lift.sets.retain(|s| !s.warm_up);
        for set in &mut lift.sets {
            let Some(w) = bar.nearest(wish(set.load_kg)) else { continue };
            set.load_kg = w.kg;
            set.bar_kg = w.bar_kg;
            set.per_side_kg.clone_from(&w.per_side);
            set.percent = (base > 0.0).then(|| w.kg / base * 100.0);
        }
        if !lift.climbs() {
            add_ramp(lift, bars);
        }
    }
    lift.reasons.push(OfLift::Moved { by_kg }.into());
}

#[cfg(test)]
mod tests {
    use super::super::{plan_heavy, prescribe};
    use super::*;
    use crate::kit::Kit;
    use crate::roster::{Max, Member};
    use crate::settings::Settings;
    use crate::sheet::{Build, LiftSets, read};
    use chrono::NaiveDate;

    fn day() -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
    }

    fn lifter(kg: f64) -> Member {
        let mut m = Member::unknown("Bo", Standard::Lighter, crate::pacing::Level::Seasoned);
        m.maxes = vec![Max { lift: "back-squat".into(), kg, reps: 1, reserve: 0, date: Some(day()) }];
        m
    }

    fn sets(text: &str) -> LiftSets {
        read(&format!("# strength\n{text}")).sheet.blocks[0].lifts[0].clone()
    }

    fn lifted(kg: f64, by_kg: f64) -> MemberLift {
        let kit = Kit::usual();
        let bars = Bars::of(&kit);
        let lift = sets("back squat 3 x 5 @ 60-80%, build");
        let mut l = prescribe(&lifter(kg), &lift, &kit, &bars, &Settings::default(), day()).unwrap();
        put_on(&mut l, Standard::Lighter, by_kg, &bars);
        l
    }

    #[test]
    fn one_bar_and_a_build_up_to_the_new_first_set() {
        let loads = |l: &MemberLift, warm: bool| -> Vec<f64> {
            l.sets.iter().filter(|s| s.warm_up == warm).map(|s| s.load_kg).collect()
        };
        let l = lifted(100.0, 20.0);
        assert_eq!(loads(&l, false), [80.0, 90.0, 100.0]);
        let up = loads(&l, true);
        assert!(80.0 - up.last().unwrap() <= 0.2 * 80.0, "{up:?}");
        // under the empty bar the whole lift goes to a lighter one
        let l = lifted(30.0, -7.5);
        assert!(l.sets.iter().all(|s| s.bar_kg == 10.0 && s.load_kg >= 10.0), "{:?}", l.sets);
    }

    #[test]
    fn sets_that_climb_by_themselves_get_no_build_up() {
        let (kit, m) = (Kit::usual(), lifter(100.0));
        let bars = Bars::of(&kit);
        let movement = sets("back squat 3 x 5").movement;
        let build = Build { movement, reps: 1, window_s: Some(900), no_misses: false, line: 2 };
        let mut l = plan_heavy(&m, &build, 6, &kit, &bars, &Settings::default(), day()).unwrap();
        let before = l.sets.len();
        put_on(&mut l, Standard::Lighter, 5.0, &bars);
        assert_eq!(l.sets.len(), before);
    }
}
