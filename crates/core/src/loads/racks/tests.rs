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
        form: None,
        no_maximum: false,
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

/// What a group costs in an order, worked out plainly: half-seconds of hands, and loads far apart.
fn plain_cost(order: &[usize], lifts: &[MemberLift]) -> u32 {
    let sets = lifts[0].sets.len();
    let turns: Vec<&Vec<f64>> =
        (0..sets).flat_map(|s| order.iter().map(move |i| &lifts[*i].sets[s].per_side_kg)).collect();
    let one = |w: &[&Vec<f64>]| match plate_moves(w[0], w[1]) {
        0 => 16,
        n => 10 + 5 * n,
    };
    let hands: u32 = turns.windows(2).map(one).sum();
    let kg: Vec<f64> = order.iter().map(|i| lifts[*i].sets[0].load_kg).collect();
    let ratio = kg.iter().fold(0.0, |a: f64, b| a.max(*b)) / kg.iter().fold(f64::INFINITY, |a, b| a.min(*b));
    let tenths = ((ratio - 1.5) * 10.0 - 1e-6).ceil().max(0.0) as u32;
    hands + 120 * tenths + if ratio > 1.6 + 1e-6 { 20_000 } else { 0 }
}

/// The slowest rack counts three times beside the sum.
fn plain_total(groups: &[Vec<usize>], lifts: &[MemberLift]) -> u32 {
    let all: Vec<u32> = groups.iter().filter(|g| !g.is_empty()).map(|g| plain_cost(g, lifts)).collect();
    all.iter().sum::<u32>() + 3 * all.iter().max().copied().unwrap_or(0)
}

/// All ways to part `n` lifters over racks, each group in its best order: slow and plain.
fn brute(lifts: &[MemberLift], racks: usize, most: usize) -> u32 {
    fn best_order(group: &mut Vec<usize>, at: usize, lifts: &[MemberLift]) -> Vec<usize> {
        if at + 1 >= group.len() {
            return group.clone();
        }
        let mut best = group.clone();
        for i in at..group.len() {
            group.swap(at, i);
            let order = best_order(group, at + 1, lifts);
            if plain_cost(&order, lifts) < plain_cost(&best, lifts) {
                best = order;
            }
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
            let ordered: Vec<Vec<usize>> = groups.iter_mut().map(|g| best_order(g, 0, lifts)).collect();
            best = best.min(plain_total(&ordered, lifts));
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
    // by plates alone 0 1 and 2 3: no moves; mixed costs one pair of 1.25 at each rack, 2 moves each: less than 20 s for each of
    // the two who would stand alone
    let plan = racks(&who, floor(&kit, 2, 2), &[]);
    assert_eq!((plan.moves, plan.alone), (4, 0));
    // with one newer member a third place beside them costs 2
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
    let heavy = before.rack_of(2).unwrap();
    let plan = racks(&lifters(&lifts), floor(&kit, 3, 2), &[(0, heavy)]);
    assert_eq!(plan.rack_of(0), Some(heavy));
    assert!(plan.moves > 0);
    let back = before.rack_of(0).unwrap();
    let free = racks(&lifters(&lifts), floor(&kit, 3, 2), &[(0, heavy), (0, back)]);
    assert_eq!((free.rack_of(0), free.moves), (Some(back), 0));
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
        let groups: Vec<Vec<usize>> = plan.racks.iter().map(|r| r.members.clone()).collect();
        prop_assert_eq!(plain_total(&groups, &lifts), brute(&lifts, racks_at_hand as usize, 3));
    }

    #[test]
    fn the_search_for_larger_classes_comes_within_a_tenth_of_the_best(
        loads in prop::collection::vec(20u32..60, 6),
    ) {
        let kit = plenty();
        let lifts: Vec<MemberLift> = loads.iter().map(|l| lift(&kit, 20.0, &[f64::from(2 * l) + 20.0; 4])).collect();
        let who = lifters(&lifts);
        let costs = cost::Costs::of(&who, floor(&kit, 3, 3));
        let groups = search::Search::new(&costs, 3, 3).improved();
        let ordered: Vec<Vec<usize>> = groups
            .iter()
            .map(|g| costs.order(&(0..6).filter(|i| g >> i & 1 == 1).collect::<Vec<usize>>()))
            .collect();
        let found = plain_total(&ordered, &lifts);
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

fn with_build_up(kit: &Kit, bar_kg: f64, ramp: &[f64], work: f64, sets: usize) -> MemberLift {
    let all: Vec<f64> = ramp.iter().copied().chain(std::iter::repeat_n(work, sets)).collect();
    let mut out = lift(kit, bar_kg, &all);
    out.sets.iter_mut().take(ramp.len()).for_each(|s| s.warm_up = true);
    out
}

/// Six lifters at a front squat and two racks, with their build-ups.
fn six(kit: &Kit) -> [MemberLift; 6] {
    [
        with_build_up(kit, 15.0, &[15.0, 25.0, 35.0], 40.0, 3),
        with_build_up(kit, 15.0, &[15.0, 25.0, 35.0], 42.5, 3),
        with_build_up(kit, 15.0, &[15.0, 27.5, 35.0, 45.0], 50.0, 3),
        with_build_up(kit, 20.0, &[20.0, 40.0, 55.0, 67.5], 77.5, 3),
        with_build_up(kit, 20.0, &[20.0, 40.0, 60.0, 72.5], 82.5, 3),
        with_build_up(kit, 20.0, &[20.0, 40.0, 52.5, 65.0], 75.0, 3),
    ]
}

#[test]
fn like_loads_share_a_rack_whatever_the_bar_and_the_build_up() {
    let list = |v: &[f64]| v.iter().map(|size| Stock { size: *size, count: 400 }).collect();
    let kit = Kit { plates: list(&[25.0, 20.0, 15.0, 10.0, 5.0, 2.5, 1.25]), ..plenty() };
    let lifts = six(&kit);
    let who = lifters(&lifts);
    let plan = racks(&who, floor(&kit, 2, 3), &[]);
    let mut groups: Vec<Vec<usize>> = plan.racks.iter().map(|r| r.members.clone()).collect();
    groups.iter_mut().for_each(|g| g.sort_unstable());
    assert_eq!(groups, [[0, 1, 2], [3, 4, 5]]);
    // mixed, each change of bar takes 30 s, and the loads are twice as far apart as a rack should have
    let costs = cost::Costs::of(&who, floor(&kit, 2, 3));
    let of = |g: &[usize]| costs.cost(&costs.order(g));
    assert!(of(&[0, 3, 1]) + of(&[2, 4, 5]) > 2 * (of(&[0, 1, 2]) + of(&[3, 4, 5])));
}

#[test]
fn plates_come_off_from_the_outside_and_go_on_from_the_inside() {
    // both sides: 60 to 62.5, 60 to 57.5, 97.5 to 100, 82.5 to 77.5
    assert_eq!(plate_moves(&[20.0], &[20.0, 1.25]), 2);
    assert_eq!(plate_moves(&[20.0], &[15.0, 2.5, 1.25]), 8);
    assert_eq!(plate_moves(&[25.0, 10.0, 2.5, 1.25], &[25.0, 15.0]), 8);
    assert_eq!(plate_moves(&[25.0, 5.0, 1.25], &[25.0, 2.5, 1.25]), 8);
}
