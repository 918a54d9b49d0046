//! Racks: hand-checked moves, the search against brute force, and what must hold for any class.

use super::*;
use crate::kit::Stock;
use crate::loads::base::Base;
use crate::loads::{Bars, SetLoad, plate_moves};
use crate::units::Provenance;
use proptest::prelude::*;

fn lift(kit: &Kit, bar_kg: f64, kg: &[f64]) -> MemberLift {
    let bars = Bars::of(kit);
    let bar = bars.of_bar(bar_kg).unwrap();
    let sets = kg
        .iter()
        .map(|kg| {
            let w = bar.nearest(*kg).unwrap();
            SetLoad {
                reps: 3,
                percent: None,
                load_kg: w.kg,
                bar_kg: w.bar_kg,
                per_side_kg: w.per_side.clone(),
                warm_up: false,
            }
        })
        .collect();
    MemberLift {
        lift: "back-squat".into(),
        base: Base {
            kg: 100.0,
            provenance: Provenance::Tested,
            words: String::new(),
            old: false,
            by_feel: false,
            limb_known: true,
        },
        sets,
        tempo: None,
        reserve: None,
        too_light: None,
        reasons: Vec::new(),
        open: Vec::new(),
    }
}

fn lifters(lifts: &[MemberLift]) -> Vec<Lifter<'_>> {
    lifts
        .iter()
        .enumerate()
        .map(|(member, lift)| Lifter { member, lift, newer: false, experienced: true, hooks: None })
        .collect()
}

fn floor(kit: &Kit, racks: u32, per_rack: u32) -> Floor<'_> {
    Floor { racks, per_rack, kit, clock: None }
}

/// All ways to part `n` lifters over racks, each group in all its orders: slow and plain.
fn brute(lifts: &[MemberLift], racks: usize, most: usize) -> u32 {
    fn moves(order: &[usize], lifts: &[MemberLift]) -> u32 {
        let sets = lifts[0].sets.len();
        let turns: Vec<&Vec<f64>> =
            (0..sets).flat_map(|s| order.iter().map(move |i| &lifts[*i].sets[s].per_side_kg)).collect();
        turns.windows(2).map(|w| plate_moves(w[0], w[1])).sum()
    }
    fn best_order(group: &mut Vec<usize>, at: usize, lifts: &[MemberLift]) -> u32 {
        if at + 1 >= group.len() {
            return moves(group, lifts);
        }
        let mut best = u32::MAX;
        for i in at..group.len() {
            group.swap(at, i);
            best = best.min(best_order(group, at + 1, lifts));
            group.swap(at, i);
        }
        best
    }
    let n = lifts.len();
    let mut best = u32::MAX;
    for mut code in 0..racks.pow(n as u32) {
        let mut groups = vec![Vec::new(); racks];
        for i in 0..n {
            groups[code % racks].push(i);
            code /= racks;
        }
        if groups.iter().all(|g| g.len() <= most) {
            best =
                best.min(groups.iter_mut().filter(|g| !g.is_empty()).map(|g| best_order(g, 0, lifts)).sum());
        }
    }
    best
}

fn plenty() -> Kit {
    let list = |v: &[f64]| v.iter().map(|size| Stock { size: *size, count: 400 }).collect();
    Kit { bars: list(&[20.0, 15.0]), plates: list(&[20.0, 15.0, 10.0, 5.0, 2.5, 1.25]), ..Kit::usual() }
}

#[test]
fn plates_that_change_are_counted_on_both_sides() {
    assert_eq!(plate_moves(&[20.0, 10.0], &[20.0, 15.0]), 4);
    assert_eq!(plate_moves(&[20.0, 5.0], &[20.0, 5.0, 2.5]), 2);
    assert_eq!(plate_moves(&[], &[]), 0);
}

#[test]
fn a_rack_of_two_is_counted_turn_by_turn() {
    let kit = plenty();
    // 60 (20), 65 (20 2.5): 2 on, 2 off, 2 on over two sets each
    let lifts = [lift(&kit, 20.0, &[60.0, 60.0]), lift(&kit, 20.0, &[65.0, 65.0])];
    let plan = racks(&lifters(&lifts), floor(&kit, 1, 2), &[]);
    assert_eq!((plan.moves, plan.racks[0].changes), (6, 2));
    // the same weight needs nothing
    let same = [lift(&kit, 20.0, &[60.0; 3]), lift(&kit, 20.0, &[60.0; 3])];
    let plan = racks(&lifters(&same), floor(&kit, 1, 2), &[]);
    assert_eq!((plan.moves, plan.racks[0].changes), (0, 0));
}

#[test]
fn members_of_like_loads_share_and_the_saving_is_said() {
    let kit = plenty();
    let lifts: Vec<MemberLift> =
        [60.0, 120.0, 60.0, 120.0, 60.0, 120.0].iter().map(|kg| lift(&kit, 20.0, &[*kg; 5])).collect();
    let plan = racks(&lifters(&lifts), floor(&kit, 2, 3), &[]);
    let groups: Vec<Vec<usize>> = plan.racks.iter().map(|r| r.members.clone()).collect();
    assert_eq!(groups, vec![vec![0, 2, 4], vec![1, 3, 5]]);
    // in the order of the list each rack takes 60 120 60 or 120 60 120: of 14 changes of turn the 4 from set to set change
    // nothing, 10 move 20 20 10 against 20, 4 moves each
    assert_eq!((plan.moves, plan.moves_in_list_order), (0, 80));
    assert!(racks(&lifters(&lifts), floor(&kit, 1, 3), &[]).crowded);
}

#[test]
fn stock_is_a_limit_for_all_racks_at_once() {
    // one pair of 20s and plenty of 10s: the two who need a 20 share, though the list and the loads part them
    let list =
        |v: &[(f64, u32)]| v.iter().map(|(size, count)| Stock { size: *size, count: *count }).collect();
    let kit = Kit { bars: list(&[(20.0, 2)]), plates: list(&[(20.0, 2), (5.0, 20)]), ..Kit::usual() };
    let loads = [60.0, 40.0, 70.0, 30.0];
    let lifts: Vec<MemberLift> = loads.iter().map(|kg| lift(&kit, 20.0, &[*kg; 2])).collect();
    let plan = racks(&lifters(&lifts), floor(&kit, 2, 2), &[]);
    assert!(plan.short.is_empty(), "{:?}", plan.short);
    assert_eq!(plan.rack_of(0), plan.rack_of(2));
    // moved by hand against the stock: done, and said
    let other = 1 - plan.rack_of(0).unwrap();
    let plan = racks(&lifters(&lifts), floor(&kit, 2, 2), &[(0, other)]);
    assert_eq!(plan.short, vec!["1 pair of 20 kg too few for these racks at once."]);
}

#[test]
fn bars_are_a_limit_too() {
    let list =
        |v: &[(f64, u32)]| v.iter().map(|(size, count)| Stock { size: *size, count: *count }).collect();
    let kit = Kit { bars: list(&[(20.0, 1), (15.0, 4)]), plates: plenty().plates, ..Kit::usual() };
    let lifts = [
        lift(&kit, 20.0, &[60.0]),
        lift(&kit, 15.0, &[55.0]),
        lift(&kit, 20.0, &[100.0]),
        lift(&kit, 15.0, &[35.0]),
    ];
    let plan = racks(&lifters(&lifts), floor(&kit, 4, 2), &[]);
    assert_eq!(plan.rack_of(0), plan.rack_of(2), "one 20 kg bar: its two lifters share");
}

#[test]
fn hooks_far_apart_do_not_share() {
    let kit = plenty();
    let lifts: Vec<MemberLift> =
        [60.0, 60.0, 100.0, 100.0].iter().map(|kg| lift(&kit, 20.0, &[*kg; 3])).collect();
    let mut who = lifters(&lifts);
    who[0].hooks = Some(4);
    who[1].hooks = Some(9);
    let plan = racks(&who, floor(&kit, 2, 2), &[]);
    assert_ne!(plan.rack_of(0), plan.rack_of(1));
}

#[test]
fn a_newer_member_stands_beside_an_experienced_one_where_it_is_cheap() {
    let kit = plenty();
    let lifts: Vec<MemberLift> =
        [40.0, 40.0, 42.5, 42.5].iter().map(|kg| lift(&kit, 20.0, &[*kg; 1])).collect();
    let mut who = lifters(&lifts);
    for w in &mut who {
        w.experienced = false;
    }
    (who[0].newer, who[1].newer) = (true, true);
    (who[2].experienced, who[3].experienced) = (true, true);
    // by plates alone 0 1 and 2 3: no moves; mixed costs one pair of 1.25 at each rack, which is 2 moves each: too dear
    let plan = racks(&who, floor(&kit, 2, 2), &[]);
    assert_eq!((plan.moves, plan.alone), (0, 2));
    // with one newer member one swap costs 4 as well, but a third place beside them costs 2
    let plan = racks(&who[1..], floor(&kit, 2, 3), &[]);
    assert_eq!(plan.alone, 0, "{plan:?}");
    assert!(plan.moves <= 2);
}

#[test]
fn a_member_moved_by_hand_stays_there_and_the_sums_follow() {
    let kit = plenty();
    let lifts: Vec<MemberLift> =
        [60.0, 60.0, 100.0, 100.0].iter().map(|kg| lift(&kit, 20.0, &[*kg; 3])).collect();
    let before = racks(&lifters(&lifts), floor(&kit, 3, 2), &[]);
    assert_eq!(before.moves, 0);
    let plan = racks(&lifters(&lifts), floor(&kit, 3, 2), &[(0, 1)]);
    assert_eq!(plan.rack_of(0), Some(1));
    assert!(plan.moves > 0 && plan.crowded);
    let free = racks(&lifters(&lifts), floor(&kit, 3, 2), &[(0, 1), (0, 2)]);
    assert_eq!((free.rack_of(0), free.moves), (Some(2), 0));
    assert_eq!(racks(&lifters(&lifts), floor(&kit, 3, 2), &[(0, 7)]), before, "there is no eighth rack");
}

#[test]
fn as_few_racks_as_can_be_go_over_the_clock() {
    let kit = plenty();
    // 16 on 5 racks: one of four and four of three, not four of four
    let loads: Vec<f64> = (0..16).map(|i| 60.0 + 2.5 * f64::from(i)).collect();
    let lifts: Vec<MemberLift> = loads.iter().map(|kg| lift(&kit, 20.0, &[*kg; 4])).collect();
    let on_clock = Floor { clock: Some((150.0, 20.0)), ..floor(&kit, 5, 3) };
    let mut sizes: Vec<usize> =
        racks(&lifters(&lifts), on_clock, &[]).racks.iter().map(|r| r.members.len()).collect();
    sizes.sort_unstable();
    assert_eq!(sizes, vec![3, 3, 3, 3, 4]);
    let mut sizes: Vec<usize> =
        racks(&lifters(&lifts), floor(&kit, 5, 3), &[]).racks.iter().map(|r| r.members.len()).collect();
    sizes.sort_unstable();
    assert_eq!(sizes, vec![3, 3, 3, 3, 4], "without a clock too: nobody waits longer than needed");
}

#[test]
fn nobody_needs_no_rack() {
    assert_eq!(racks(&[], floor(&plenty(), 4, 3), &[]), RackPlan::default());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn six_members_are_racked_as_well_as_brute_force_can(
        loads in prop::collection::vec((20u32..60, 0u32..3), 6), racks_at_hand in 2u32..4,
    ) {
        let kit = plenty();
        let lifts: Vec<MemberLift> = loads
            .iter()
            .map(|(first, rise)| {
                let kg = |s: u32| f64::from(2 * first + 5 * rise * s) + 20.0;
                lift(&kit, 20.0, &[kg(0), kg(1), kg(2)])
            })
            .collect();
        let plan = racks(&lifters(&lifts), floor(&kit, racks_at_hand, 3), &[]);
        prop_assert_eq!(plan.moves, brute(&lifts, racks_at_hand as usize, 3));
    }

    #[test]
    fn the_search_for_larger_classes_comes_within_a_tenth_of_the_best(
        loads in prop::collection::vec(20u32..60, 7),
    ) {
        let kit = plenty();
        let lifts: Vec<MemberLift> = loads.iter().map(|l| lift(&kit, 20.0, &[f64::from(2 * l) + 20.0; 4])).collect();
        let who = lifters(&lifts);
        let costs = cost::Costs::of(&who, floor(&kit, 3, 3));
        let groups = search::Search::new(&costs, 3, 3).improved();
        let found: u32 = groups
            .iter()
            .map(|g| costs.moves(&costs.order(&(0..7).filter(|i| g >> i & 1 == 1).collect::<Vec<usize>>())))
            .sum();
        let best = brute(&lifts, 3, 3);
        prop_assert!(f64::from(found) <= 1.1 * f64::from(best) + 2.0, "{found} against {best}");
    }

    #[test]
    fn everybody_has_one_place_and_no_rack_is_over_full(
        loads in prop::collection::vec(20u32..80, 1..24), racks_at_hand in 1u32..9, per_rack in 1u32..5,
    ) {
        let kit = Kit::usual();
        let lifts: Vec<MemberLift> = loads.iter().map(|l| lift(&kit, 20.0, &[f64::from(2 * l); 3])).collect();
        let plan = racks(&lifters(&lifts), floor(&kit, racks_at_hand, per_rack), &[]);
        let mut all: Vec<usize> = plan.racks.iter().flat_map(|r| r.members.clone()).collect();
        all.sort_unstable();
        prop_assert_eq!(all, (0..lifts.len()).collect::<Vec<_>>());
        prop_assert!(plan.racks.len() <= racks_at_hand as usize);
        let most = (per_rack as usize).max(lifts.len().div_ceil(racks_at_hand as usize));
        prop_assert!(plan.racks.iter().all(|r| r.members.len() <= most));
        prop_assert_eq!(plan.moves, plan.racks.iter().map(|r| r.moves).sum::<u32>());
    }
}
