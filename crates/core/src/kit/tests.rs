//! Plates, exactly; against brute force on small stocks.

use super::*;
use proptest::prelude::*;

fn kit(plates: &[(f64, u32)]) -> Kit {
    Kit {
        plates: plates.iter().map(|(size, count)| Stock { size: *size, count: *count }).collect(),
        ..Kit::default()
    }
}

#[test]
fn eighty_kilos_is_a_twenty_and_a_ten_on_each_side() {
    let bar = Loadable::of(&Kit::usual(), 20.0);
    let w = bar.nearest(80.0).unwrap();
    assert_eq!((w.kg, w.per_side.clone()), (80.0, vec![20.0, 10.0]));
    assert_eq!(bar.nearest(48.6).unwrap().kg, 47.5);
    assert_eq!(bar.nearest(3.0).unwrap().per_side, Vec::<f64>::new());
}

#[test]
fn finite_stock_is_respected_where_taking_the_largest_first_fails() {
    // 15 a side from one pair of tens and three pairs of fives and one of 7.5s
    let bar = Loadable::of(&kit(&[(10.0, 2), (7.5, 4)]), 20.0);
    assert_eq!(bar.nearest(50.0).unwrap().per_side, vec![7.5, 7.5]);
    // a single plate cannot load two sides
    assert_eq!(Loadable::of(&kit(&[(10.0, 1)]), 20.0).all().len(), 1);
}

#[test]
fn a_band_without_a_loadable_weight_takes_the_highest_below_and_says_so() {
    let bar = Loadable::of(&kit(&[(10.0, 4)]), 20.0);
    let (w, inside) = bar.inside(45.0, 55.0, 50.0).unwrap();
    assert_eq!((w.kg, inside), (40.0, false));
    assert!(bar.inside(55.0, 65.0, 60.0).unwrap().1);
}

#[test]
fn collars_are_part_of_the_weight() {
    let mut k = kit(&[(10.0, 4)]);
    k.collar_kg = 2.5;
    assert_eq!(Loadable::of(&k, 20.0).all().iter().map(|w| w.kg).collect::<Vec<_>>(), vec![25.0, 45.0, 65.0]);
}

#[test]
fn a_kit_without_plates_leaves_the_empty_bar() {
    let bar = Loadable::of(&Kit::default(), 20.0);
    assert_eq!(bar.nearest(100.0).unwrap().kg, 20.0);
}

#[test]
fn a_kit_file_says_what_is_wrong_in_it() {
    assert!(Kit::from_toml("bars = [{size = 20, count = 3}]").is_ok());
    assert!(Kit::from_toml("bars = [{size = -20, count = 3}]").unwrap_err().contains("bars: a size of -20"));
    assert!(Kit::from_toml("collar_kg = 9").unwrap_err().contains("collar"));
    assert!(Kit::from_toml("wings = 2").unwrap_err().contains("wings"));
}

proptest! {
    #[test]
    fn every_weight_within_stock_is_found_with_its_fewest_plates(
        tens in 0u32..6, fives in 0u32..6, twos in 0u32..6, wish in 20.0f64..120.0,
    ) {
        let bar = Loadable::of(&kit(&[(10.0, tens), (5.0, fives), (2.5, twos)]), 20.0);
        let mut best: Option<(f64, f64, u32)> = None;
        for a in 0..=tens / 2 {
            for b in 0..=fives / 2 {
                for c in 0..=twos / 2 {
                    let kg = 20.0 + 2.0 * (f64::from(a) * 10.0 + f64::from(b) * 5.0 + f64::from(c) * 2.5);
                    let this = ((kg - wish).abs(), kg, a + b + c);
                    if best.is_none_or(|x| this < x) {
                        best = Some(this);
                    }
                }
            }
        }
        let (_, kg, plates) = best.unwrap();
        let found = bar.nearest(wish).unwrap();
        prop_assert_eq!(found.kg, kg);
        prop_assert_eq!(found.per_side.len() as u32, plates);
    }
}

#[test]
fn implements_come_from_their_own_stock_and_so_many_at_once() {
    let kit = Kit::usual();
    let first = |k| kit.implements(k).map(|(stock, n)| (stock[0].size, n));
    assert_eq!(first(LoadKind::DumbbellPair), Some((5.0, 2)));
    assert_eq!(first(LoadKind::Dumbbell), Some((5.0, 1)));
    assert_eq!(first(LoadKind::Kettlebell), Some((8.0, 1)));
    assert_eq!(first(LoadKind::Medball), Some((4.0, 1)));
    for other in [LoadKind::Barbell, LoadKind::Machine, LoadKind::None, LoadKind::Plate, LoadKind::Sandbag] {
        assert_eq!(kit.implements(other), None);
    }
}

#[test]
fn a_mass_is_said_in_the_halls_unit() {
    let (kg, lb) = (Kit::usual(), Kit::usual_pounds());
    assert_eq!(
        (kg.said(42.5), lb.said(43.09), lb.said(lb.kg_of(52.5))),
        ("42.5 kg".into(), "95 lb".into(), "52.5 lb".into())
    );
}
