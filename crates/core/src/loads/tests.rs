//! Figures of the strength rules, worked out by hand.

mod ceilings;

use super::*;
use crate::kinds::Limit;
use crate::kit::Kit;
use crate::pacing::Level;
use crate::reason::{OfLift, Reason, TooLight};
use crate::roster::{Max, Member};
use crate::settings::Settings;
use crate::sheet::{LiftSets, PercentBase, read};
use crate::units::{Provenance, Standard, WeightUnit, plain};
use chrono::NaiveDate;

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 11, 24).unwrap()
}

fn member(maxes: &[(&str, f64, u32)]) -> Member {
    let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
    m.sessions_logged = Some(20);
    for (lift, kg, reps) in maxes {
        m.maxes.push(Max { lift: (*lift).into(), kg: *kg, reps: *reps, reserve: 0, date: Some(day()) });
    }
    m
}

fn lift(text: &str) -> LiftSets {
    let r = read(&format!("# strength\n{text}"));
    assert!(!r.has_errors(), "{:?}", r.problems);
    r.sheet.blocks[0].lifts[0].clone()
}

fn plan(m: &Member, text: &str) -> MemberLift {
    let kit = Kit::usual();
    prescribe(m, &lift(text), &kit, &Bars::of(&kit), &Settings::default(), day()).unwrap()
}

fn near(a: f64, b: f64) -> bool {
    (a - b).abs() < 0.05
}

#[test]
fn a_five_at_a_hundred_is_worth_114_6() {
    assert!(near(epley(100.0, 5), 116.7) && near(brzycki(100.0, 5), 112.5) && near(wathan(100.0, 5), 116.6));
    let rm = one_rep_max(100.0, 5, 0).unwrap();
    assert!(near(rm.kg, 114.6) && near(rm.low, 112.5) && near(rm.high, 116.7));
    assert_eq!(one_rep_max(100.0, 1, 0).unwrap().kg, 100.0);
    assert_eq!(one_rep_max(100.0, 3, 2), one_rep_max(100.0, 5, 0));
    assert!(one_rep_max(60.0, 11, 0).unwrap_err().contains("11 reps are too many"));
    assert!(near(percent_for_reps(5), 87.3));
}

#[test]
fn a_band_takes_the_loadable_weight_nearest_its_middle() {
    let l = plan(&member(&[("front-squat", 101.0, 1)]), "front squat 5 x 3 @ 78-82% of 1RM, every 2:30");
    let work: Vec<f64> = l.working().map(|s| s.load_kg).collect();
    // 78.78 to 82.82 kg with the middle at 80.8: 80 is loadable with 20 and 10
    assert_eq!(work, vec![80.0; 5]);
    assert_eq!(l.working().next().unwrap().per_side_kg, vec![20.0, 10.0]);
    assert!(near(l.working().next().unwrap().percent.unwrap(), 79.2));
    assert_eq!((l.base.provenance, l.base.words.as_str()), (Provenance::Tested, "tested 1RM 101 kg"));
}

#[test]
fn the_last_sets_stand_at_the_top_of_the_band() {
    let l = plan(&member(&[("power-clean", 100.0, 1)]), "power clean 6 x 1 @ 70-80%, last 4 at top");
    assert_eq!(l.working().map(|s| s.load_kg).collect::<Vec<_>>(), vec![70.0, 75.0, 80.0, 80.0, 80.0, 80.0]);
}

/// Somebody of the lighter standard, 65 kg.
fn lighter(maxes: &[(&str, f64, u32)]) -> Member {
    Member { standard: Standard::Lighter, body_mass_kg: Some(65.0), ..member(maxes) }
}

#[test]
fn a_missing_lift_is_weighed_from_relatives_and_the_level() {
    // a bench from a strict press of 36 and a back squat of 90: 36 x .54 / .385 = 50.49 (.10), 90 x .54 = 48.6 (.14), the level's
    // 1.2 x 65 x .54 = 42.12 (.20): weights 100, 51.02, 25; 48.67, sd 1 / sqrt(176.02) = .0754
    let m = lighter(&[("strict-press", 36.0, 1), ("back-squat", 90.0, 1)]);
    let e = estimate(&m, "bench-press", day()).unwrap();
    assert!((e.kg - 48.67).abs() < 0.05 && (e.sd - 0.0754).abs() < 0.0005, "{e:?}");
    assert!(e.limb_known && e.words == "from strict press 36 kg and back squat 90 kg", "{e:?}");
    // the low side: 48.67 x (1 - .8416 x .0754) = 45.58
    let b = base_for(&m, "bench-press", &PercentBase::OneRm, &Settings::default(), day());
    assert!((b.kg - 45.58).abs() < 0.05, "{b:?}");
    assert!(b.words.starts_with("1RM 45.6 kg, the low side of 45.6 to 51.8 kg from"), "{}", b.words);
    // a strict press from the squat alone: 34.65 (.14), the level's 30.03 (.20): 33.06, .1147
    let m = lighter(&[("back-squat", 90.0, 1)]);
    let e = estimate(&m, "strict-press", day()).unwrap();
    assert!((e.kg - 33.06).abs() < 0.05 && (e.sd - 0.1147).abs() < 0.0005, "{e:?}");
    assert!(!e.limb_known, "a squat is no press");
    // a power clean from deadlift 160 and front squat 110: 89.33 (.12), 87.74 (.1253), the level's 82.41 (.20): 87.5
    let mut m = member(&[("deadlift", 160.0, 1), ("front-squat", 110.0, 1)]);
    m.body_mass_kg = Some(82.0);
    let e = estimate(&m, "power-clean", day()).unwrap();
    assert!((e.kg - 87.5).abs() < 0.15 && (e.sd - 0.0795).abs() < 0.001, "{e:?}");
}

#[test]
fn relatives_of_the_limb_move_an_estimate_most_and_more_knowledge_never_widens_it() {
    let of = |maxes: &[(&str, f64, u32)]| estimate(&lighter(maxes), "bench-press", day()).unwrap();
    let both = of(&[("strict-press", 36.0, 1), ("back-squat", 90.0, 1)]);
    let press = of(&[("strict-press", 39.6, 1), ("back-squat", 90.0, 1)]);
    let squat = of(&[("strict-press", 36.0, 1), ("back-squat", 99.0, 1)]);
    assert!(press.kg > squat.kg && squat.kg > both.kg);
    let all = [
        "back-squat",
        "front-squat",
        "deadlift",
        "strict-press",
        "push-press",
        "power-clean",
        "power-snatch",
    ];
    let kg = [90.0, 75.0, 110.0, 36.0, 50.0, 60.0, 44.0];
    for lift in ["bench-press", "squat-clean", "overhead-squat", "push-jerk"] {
        let mut known: Vec<(&str, f64, u32)> = Vec::new();
        let mut sd = f64::INFINITY;
        for one in all.iter().zip(kg).filter(|(l, _)| **l != lift) {
            known.push((one.0, one.1, 1));
            let e = estimate(&lighter(&known), lift, day()).unwrap();
            assert!(e.sd <= sd + 1e-12, "{lift}: {} widens it to {} from {sd}", one.0, e.sd);
            sd = e.sd;
            // a heavier lift never lowers what is thought of another
            for i in 0..known.len() {
                let mut more = known.clone();
                more[i].1 *= 1.1;
                assert!(
                    estimate(&lighter(&more), lift, day()).unwrap().kg >= e.kg - 1e-9,
                    "{lift} by {}",
                    more[i].0
                );
            }
        }
    }
}

#[test]
fn many_reps_are_a_lower_bound_and_reps_widen() {
    let sd = |reps| estimate(&member(&[("deadlift", 100.0, reps)]), "deadlift", day()).unwrap().sd;
    assert!(near(sd(1), 0.0) && (sd(2) - 0.024).abs() < 1e-9 && (sd(10) - 0.056).abs() < 1e-9);
    // 100 x 12 is at least what 100 x 10 is: 133.3
    let e = estimate(&member(&[("deadlift", 100.0, 12)]), "deadlift", day()).unwrap();
    assert!(e.kg >= 133.3 && e.related && e.words.contains("its own 100 kg x 12"), "{e:?}");
    // nobody knows how old it is: never called tested
    let mut m = member(&[("deadlift", 100.0, 1)]);
    m.maxes[0].date = None;
    let e = estimate(&m, "deadlift", day()).unwrap();
    assert_eq!((e.kg, e.provenance), (100.0, Provenance::Estimated));
    assert!((e.sd - 0.05).abs() < 1e-9 && e.single && e.words == "100 kg, undated", "{e:?}");
}

#[test]
fn body_mass_counts_alike_for_weights_and_for_pacing() {
    for lift in crate::pacing::table::LIFTS {
        for (standard, level, mass) in [
            (Standard::Heavier, Level::New, Some(60.0)),
            (Standard::Heavier, Level::Regular, Some(120.0)),
            (Standard::Lighter, Level::Seasoned, Some(58.0)),
            (Standard::Lighter, Level::Competitive, None),
        ] {
            let mut m = Member::unknown("Bo", standard, level);
            m.body_mass_kg = mass;
            let paced = crate::roster::ability(&m, day()).athlete.one_rm_of(lift).unwrap();
            let base = base_for(&m, lift, &PercentBase::OneRm, &Settings::default(), day());
            assert!(near(paced, base.kg), "{lift}, {mass:?}: {paced} and {}", base.kg);
            // and with something known: the middle of what the base is the low side of
            m.maxes.push(Max {
                lift: "front-squat".into(),
                kg: 80.0,
                reps: 1,
                reserve: 0,
                date: Some(day()),
            });
            let paced = crate::roster::ability(&m, day()).athlete.one_rm_of(lift).unwrap();
            assert!(near(paced, estimate(&m, lift, day()).unwrap().kg), "{lift}");
        }
    }
}

#[test]
fn training_max_rep_max_and_old_bases_follow_their_rules() {
    let s = Settings::default();
    let m = member(&[("back-squat", 150.0, 1), ("bench-press", 80.0, 5)]);
    assert_eq!(base_for(&m, "back-squat", &PercentBase::TrainingMax, &s, day()).kg, 135.0);
    assert_eq!(base_for(&m, "bench-press", &PercentBase::RepMax(5), &s, day()).kg, 80.0);
    let mut old = member(&[("back-squat", 150.0, 1)]);
    old.maxes[0].date = NaiveDate::from_ymd_opt(2026, 8, 20);
    assert!(base_for(&old, "back-squat", &PercentBase::OneRm, &s, day()).old);
    old.maxes[0].date = NaiveDate::from_ymd_opt(2026, 3, 1);
    // 150 (.08) and the level's 123 (.20): weights 156.25 and 25, 146 kg, sd .0743: the low side 136.8
    let b = base_for(&old, "back-squat", &PercentBase::OneRm, &s, day());
    assert!((b.kg - 136.8).abs() < 0.1 && b.words.contains("over 26 weeks old"), "{b:?}");
}

#[test]
fn a_tempo_is_not_put_on_what_is_thrown() {
    let m = member(&[("power-clean", 100.0, 1), ("push-press", 80.0, 1)]);
    let l = plan(&m, "push press 3 x 5 @ 70%, tempo 3-1-X-0");
    assert_eq!((l.first_kg(), l.tempo), (55.0, None));
    assert!(
        l.says(WeightUnit::Kg).iter().any(|r| r.contains("stays on the sheet")),
        "{:?}",
        l.says(WeightUnit::Kg)
    );
}

#[test]
fn rounding_never_makes_a_climbing_set_lighter() {
    for kg in (60..140).step_by(3) {
        let m = member(&[("back-squat", f64::from(kg), 1)]);
        let l = plan(&m, "back squat 6 x 3 @ 70-80%, build");
        let work: Vec<f64> = l.working().map(|s| s.load_kg).collect();
        assert!(work.windows(2).all(|w| w[0] <= w[1]), "{kg}: {work:?}");
    }
}

#[test]
fn slow_lowering_takes_load_off() {
    let m = member(&[("back-squat", 100.0, 1)]);
    // 3 s lowering: 1 - 0.04 x 2 = 0.92; 70 % -> 64.4 kg -> 65
    assert_eq!(plan(&m, "back squat 3 x 5 @ 70%, tempo 3-1-X-0").first_kg(), 65.0);
}

#[test]
fn the_ramp_starts_at_the_empty_bar_and_ends_close_to_the_work() {
    let m = member(&[("front-squat", 125.0, 1)]);
    let l = plan(&m, "front squat 5 x 3 @ 80%");
    let steps: Vec<(u32, f64)> = l.sets.iter().filter(|s| s.warm_up).map(|s| (s.reps, s.load_kg)).collect();
    assert_eq!(steps, vec![(8, 20.0), (5, 45.0), (3, 65.0), (2, 77.5), (1, 87.5)]);
    let kit = Kit::usual();
    let bars = Bars::of(&kit);
    let of = |bar: f64, kg: f64| -> Vec<f64> {
        ramp(bars.of_bar(bar).unwrap(), kg, 5, false).into_iter().map(|(_, w)| w.kg).collect()
    };
    assert_eq!(of(15.0, 40.0), [15.0, 25.0, 30.0, 35.0]);
    assert_eq!(of(20.0, 77.5), [20.0, 35.0, 50.0, 60.0, 67.5]);
    assert_eq!(of(20.0, 140.0), [20.0, 62.5, 90.0, 110.0, 122.5]);
    // light work: one step
    assert_eq!(of(20.0, 27.5), [20.0]);
    assert_eq!(of(15.0, 22.5), [15.0]);
    // whatever the weight, the last jump is at most 15 % of it, or 10 kg when it is light
    for i in 0..70 {
        let kg = 25.0 + 2.5 * f64::from(i);
        let all = of(20.0, kg);
        let last = all.last().copied().unwrap_or(kg);
        assert!(kg - last <= (0.15 * kg).max(10.0) + 1e-6, "{kg}: {all:?}");
        assert!(all.windows(2).all(|w| w[1] - w[0] >= 5.0 - 1e-6), "{kg}: {all:?}");
    }
}

#[test]
fn a_limit_changes_the_lift_and_says_which() {
    let mut m = member(&[("back-squat", 120.0, 1)]);
    m.limits = vec![Limit::Wrist];
    let l = plan(&m, "front squat 5 x 3 @ 80%");
    assert_ne!(l.lift, "front-squat");
    assert!(
        l.says(WeightUnit::Kg)[0].contains("instead of front squat, as you told us"),
        "{:?}",
        l.says(WeightUnit::Kg)
    );
}

#[test]
fn sets_and_rests_take_the_time_that_the_rules_give() {
    assert_eq!(set_time("front-squat", 3, None), 17.0);
    assert_eq!(set_time("power-clean", 1, None), 13.0);
    assert_eq!(
        (rest_after(65.0), rest_after(80.0), rest_after(85.0), rest_after(95.0)),
        (90.0, 120.0, 165.0, 210.0)
    );
    let at_rack = |members: u32| Turns { members, set_s: 17.0, changes: members };
    let every = lift("front squat 5 x 3 @ 80%, every 2:30");
    let t = strength_time(&every, 80.0, at_rack(3), 0, 0.0, 1);
    // 3 x (17 + 25) = 126 s fit in 150; four members need 168
    assert_eq!((t.total(), t.round_s, t.does_not_fit.clone()), (750.0, 126.0, None));
    let four = strength_time(&every, 80.0, at_rack(4), 0, 0.0, 1);
    assert_eq!(
        four.does_not_fit.as_deref(),
        Some("4 members at a rack need 2:48 for a turn each and the sheet gives 2:30.")
    );
    // in two waves of two it fits, in twice the time
    let waves = strength_time(&every, 80.0, at_rack(4), 0, 0.0, 2);
    assert_eq!((waves.work_s, waves.does_not_fit), (1500.0, None));
    // plates that stay cost 8 s a turn
    assert_eq!(Turns { members: 3, set_s: 17.0, changes: 1 }.round_s(), 3.0 * 17.0 + 25.0 + 2.0 * 8.0);
}

#[test]
fn turns_that_do_not_fit_come_with_ways_out_and_their_cost() {
    let turns = Turns { members: 4, set_s: 17.0, changes: 4 };
    let says: Vec<(Fit, String)> =
        offers(turns, 150, 5, 20, 5).into_iter().map(|o| (o.fit, o.says)).collect();
    assert_eq!(
        says,
        vec![
            (Fit::Waves(2), "Two waves: 12:30 longer.".to_owned()),
            // 5 x 150 / 168 = 4.46
            (Fit::Sets(4), "4 sets instead of 5, every 2:48: no longer.".to_owned()),
            // 168 s up to the next quarter of a minute: 180; 5 x 30 s
            (Fit::Every(180), "Every 3:00: 2:30 longer.".to_owned()),
            // 150 / 42 = 3 to a rack, 20 / 3 = 7 racks
            (
                Fit::Racks(7),
                "7 racks, 2 more than now: at most 3 to a rack; stands count, if they are safe.".to_owned()
            ),
        ]
    );
    assert!(offers(Turns { members: 3, changes: 3, ..turns }, 150, 5, 15, 5).is_empty());
    for f in [Fit::AsWritten, Fit::Waves(2), Fit::Sets(4), Fit::Every(180), Fit::Racks(7)] {
        assert_eq!(Fit::of(f.word().0, f.word().1), Some(f));
    }
    assert_eq!(Fit::of("racks", 4000), None);
}

#[test]
fn no_plates_and_no_bars_are_said_and_do_not_fail() {
    let m = member(&[("front-squat", 100.0, 1)]);
    let mut kit = Kit { plates: Vec::new(), ..Kit::usual() };
    let l = prescribe(
        &m,
        &lift("front squat 5 x 3 @ 78-82%"),
        &kit,
        &Bars::of(&kit),
        &Settings::default(),
        day(),
    )
    .unwrap();
    assert_eq!(l.first_kg(), 20.0);
    assert_eq!(l.open, [OfLift::NotBuildable.into()]);
    kit.bars.clear();
    let l =
        prescribe(&m, &lift("front squat 5 x 3 @ 80%"), &kit, &Bars::of(&kit), &Settings::default(), day())
            .unwrap();
    // without a bar the ladder's dumbbells stand in
    assert_eq!(l.lift, "db-front-squat");
    assert!(l.says(WeightUnit::Kg)[0].contains("the kit has no barbell"), "{:?}", l.says(WeightUnit::Kg));
    kit.dumbbells.clear();
    kit.kettlebells.clear();
    let l =
        prescribe(&m, &lift("front squat 5 x 3 @ 80%"), &kit, &Bars::of(&kit), &Settings::default(), day())
            .unwrap();
    assert!(l.sets.is_empty() && l.open == [OfLift::NoImplement.into()], "{l:?}");
}

#[test]
fn climbing_singles_climb_evenly_over_the_band() {
    let l = plan(&member(&[("squat-clean", 100.0, 1)]), "squat clean 5 x 1 every 1:30 from 60-80%, build");
    assert_eq!(l.working().map(|s| s.load_kg).collect::<Vec<_>>(), vec![60.0, 65.0, 70.0, 75.0, 80.0]);
}

#[test]
fn a_mixed_scheme_takes_its_percentages_in_order() {
    let l = plan(&member(&[("bench-press", 100.0, 1)]), "bench press 5-5-3-3-1 @ 75-75-80-85-90%");
    let sets: Vec<(u32, f64)> = l.working().map(|s| (s.reps, s.load_kg)).collect();
    assert_eq!(sets, vec![(5, 75.0), (5, 75.0), (3, 80.0), (3, 85.0), (1, 90.0)]);
}

#[test]
fn a_single_percentage_goes_to_the_nearest_weight_ties_downwards() {
    // 98 x 0.75 = 73.5: 72.5 and 75 stand 1 and 1.5 away; 95 x 0.75 = 71.25 lies between 70 and 72.5
    assert_eq!(plan(&member(&[("back-squat", 98.0, 1)]), "back squat 3 x 5 @ 75%").first_kg(), 72.5);
    assert_eq!(plan(&member(&[("back-squat", 95.0, 1)]), "back squat 3 x 5 @ 75%").first_kg(), 70.0);
}

#[test]
fn adding_weight_by_feel_goes_from_three_in_reserve_to_one() {
    let l = plan(&member(&[("back-squat", 150.0, 1)]), "back squat 3 x 5, add weight");
    // 8 reps are 79.7 %, 7 are 82.2 %, 6 are 84.7 % of 150: 119.6, 123.3, 127.1
    assert_eq!(l.working().map(|s| s.load_kg).collect::<Vec<_>>(), vec![120.0, 122.5, 127.5]);
    assert_eq!(l.reserve, Some(3));
}

#[test]
fn the_hardest_part_of_a_chain_sets_its_one_weight() {
    let m = member(&[("power-clean", 90.0, 1), ("front-squat", 120.0, 1), ("push-jerk", 80.0, 1)]);
    let l = plan(&m, "power clean + front squat + push jerk 5 x 1 @ 75%");
    // 75 % of the push jerk's 80 kg
    assert_eq!(l.working().map(|s| s.load_kg).collect::<Vec<_>>(), vec![60.0; 5]);
    assert!(l.base.words.contains("hardest part push jerk"), "{}", l.base.words);
    // three front squats at 87 make the front squat the hardest: 87 x 93.0 % = 80.9 for a jerk of 85
    let m = member(&[("front-squat", 87.0, 1), ("push-jerk", 85.0, 1)]);
    let l = plan(&m, "5 x 3+1 front squat + push jerk @ 80%");
    assert!(l.base.words.contains("hardest part front squat"), "{}", l.base.words);
    assert_eq!(l.first_kg(), 70.0);
}

fn too_light(l: &MemberLift) -> Option<TooLight> {
    l.reasons.iter().find_map(|r| match r {
        Reason::Lift(OfLift::TooLight { of }) => Some(*of),
        _ => None,
    })
}

#[test]
fn an_implement_that_is_too_light_offers_more_reps_or_slower_ones() {
    let m = member(&[("front-squat", 140.0, 1)]);
    let mut kit = Kit { bars: Vec::new(), ..Kit::usual() };
    let go = |kit: &Kit| {
        prescribe(&m, &lift("front squat 3 x 6 @ 80%"), kit, &Bars::of(kit), &Settings::default(), day())
            .unwrap()
    };
    let l = go(&kit);
    let light = too_light(&l).expect("two dumbbells of 30 kg are too light for a front squat of 112 kg");
    assert_eq!((light.at_hand_kg, light.reps), (30.0, 6));
    assert_eq!(light.more_reps, ((6.0 * light.wanted_kg / 30.0).ceil() as u32).min(12));
    assert_eq!(light.or_tempo.unwrap().words(), "3-0-1-0");
    assert!(l.sets.iter().all(|s| s.reps == light.more_reps && s.load_kg == 30.0));
    assert!(
        l.says(WeightUnit::Kg)
            .iter()
            .any(|r| r.contains("reps instead of 6") && r.contains("2 s more lowering"))
    );
    // never more than double
    kit.dumbbells.retain(|s| s.size < 11.0);
    let l = go(&kit);
    assert!(l.sets.iter().all(|s| s.reps <= 12), "{:?}", l.sets);
    assert!(too_light(&l).unwrap().not_enough);
}

#[test]
fn one_bar_serves_the_lightest_and_the_heaviest_set() {
    let bars = Bars::of(&Kit::usual());
    let bar = |low, high| bars.for_sets(Standard::Lighter, low, high).unwrap().bar_kg;
    // 19 kg alone would be lifted on the light bar; on the way to 40 it is the usual one, where it is no lighter than that
    assert_eq!((bar(19.0, 40.0), bar(19.0, 19.0), bar(12.0, 40.0)), (15.0, 10.0, 10.0));
}

#[test]
fn a_set_to_the_most_is_a_share_of_the_best_set() {
    let mut m = member(&[]);
    m.unbroken.push(crate::roster::Best { movement: "strict-pull-up".into(), reps: 11.0, date: None });
    let l = plan(&m, "strict pull-ups 4 x max");
    // 0.7 x 11 = 7.7
    assert_eq!(l.sets.iter().map(|s| s.reps).collect::<Vec<_>>(), vec![7; 4]);
    assert!(l.says(WeightUnit::Kg).iter().any(|r| r.contains("Best set 11")), "{:?}", l.says(WeightUnit::Kg));
}

#[test]
fn the_bar_is_the_members_usual_or_a_lighter_one_for_a_light_load() {
    let bars = Bars::of(&Kit::usual());
    let bar = |standard, kg| bars.choose(standard, kg).unwrap().bar_kg;
    // under 1.35 x 20 = 27 kg a bar of 15, under 1.35 x 15 = 20.25 kg one of 10
    assert_eq!([27.5, 26.5, 20.5, 20.0].map(|kg| bar(Standard::Heavier, kg)), [20.0, 15.0, 15.0, 10.0]);
    assert_eq!([80.0, 20.5, 20.0].map(|kg| bar(Standard::Lighter, kg)), [15.0, 15.0, 10.0]);
}

#[test]
fn pounds_are_exact_and_said_in_pounds() {
    let kit = Kit::usual_pounds();
    let bars = Bars::of(&kit);
    let lb = |kg: f64| kit.mark(kg);
    // 225 lb are a bar of 45 with two 45s a side
    let bar = bars.choose(Standard::Heavier, kit.kg_of(225.0)).unwrap();
    let w = bar.nearest(kit.kg_of(225.0)).unwrap();
    assert_eq!(
        (lb(w.kg), w.per_side.iter().map(|p| lb(*p)).collect::<Vec<_>>()),
        ("225".into(), vec!["45".to_owned(); 2])
    );
    // 80 % of 185 lb = 148: 150 is nearer than 145
    let m = member(&[("front-squat", kit.kg_of(185.0), 1)]);
    let l =
        prescribe(&m, &lift("front squat 3 x 3 @ 80%"), &kit, &bars, &Settings::default(), day()).unwrap();
    assert_eq!(lb(l.first_kg()), "150");
    // two plates of 2.5 are one of 5: no weight twice
    let all: Vec<String> = bar.all().iter().map(|w| lb(w.kg)).collect();
    let mut once = all.clone();
    once.dedup();
    assert_eq!(all, once);
}

#[test]
fn a_superset_of_a_lift_and_pull_ups_is_two_lifts() {
    let r = read("# strength\nA) bench press 4 x 6 @ 72%\nB) strict pull-ups 4 x max\nrest 2:00");
    assert!(!r.has_errors(), "{:?}", r.problems);
    let b = &r.sheet.blocks[0];
    assert_eq!(b.lifts.len(), 2, "{b:?}");
    assert_eq!((b.lifts[1].reps.clone(), b.lifts[1].rest_s), (vec![0; 4], Some(120)));
}

#[test]
fn each_member_lifts_the_sets_of_their_level() {
    let three = "front squat 5 x 3 @ 80%\nL2: 5 x 5 @ 70%\nL1: goblet squat 3 x 8";
    let two = "front squat 5 x 3 @ 80%\nscaled: 5 x 5 @ 70%";
    let sets = |level: Level, text: &str| {
        let m = Member { level, ..member(&[("front-squat", 100.0, 1)]) };
        let l = plan(&m, text);
        (l.lift.clone(), l.working().map(|s| (s.reps, s.load_kg)).collect::<Vec<_>>(), l.form.is_some())
    };
    let front = |reps, kg, own| ("front-squat".to_owned(), vec![(reps, kg); 5], own);
    assert_eq!(sets(Level::Seasoned, three), front(3, 80.0, false));
    assert_eq!(sets(Level::Regular, three), front(5, 70.0, true));
    let (lift, new, own) = sets(Level::New, three);
    // the heaviest bell at hand is light for her, so it is lifted more often
    assert_eq!((lift.as_str(), new.len(), own), ("goblet-squat", 3, true));
    assert!(new[0].0 >= 8 && new[0].1 < 40.0, "{new:?}");
    // of two levels the lower is for new members alone
    assert_eq!(sets(Level::Regular, two), front(3, 80.0, false));
    assert_eq!(sets(Level::New, two).1[0].0, 5);
}

#[test]
fn a_set_lies_in_its_own_band() {
    let l = plan(&member(&[("front-squat", 100.0, 1)]), "front squat 5-5-3 @ 60-65, 70-75, 81-86%");
    let work: Vec<(u32, f64)> = l.working().map(|s| (s.reps, s.load_kg)).collect();
    // the loadable weight nearest each middle: 62.5, 72.5, 83.5
    assert_eq!(work, [(5, 62.5), (5, 72.5), (3, 82.5)]);
}
