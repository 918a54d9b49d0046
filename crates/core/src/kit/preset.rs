//! Kits to begin with: the usual one of a class hall, a third of it, and nearly twice of it (own). Each is only where counting
//! starts.

use super::{Kit, Stock};
use crate::units::WeightUnit;

/// A kit to begin with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Preset {
    /// For about six people.
    Small,
    /// For about sixteen.
    Usual,
    /// For about twenty-eight.
    Large,
}

impl Preset {
    /// All, smallest first.
    pub const ALL: [Preset; 3] = [Preset::Small, Preset::Usual, Preset::Large];

    /// Its word in a form.
    pub fn word(self) -> &'static str {
        match self {
            Preset::Small => "small",
            Preset::Usual => "usual",
            Preset::Large => "large",
        }
    }

    /// From a form.
    pub fn read(word: &str) -> Option<Preset> {
        Preset::ALL.into_iter().find(|p| p.word() == word)
    }

    /// The preset that a kit still is, item by item.
    pub fn of(kit: &Kit) -> Option<Preset> {
        let lists = |k: &Kit| {
            [&k.bars, &k.plates, &k.dumbbells, &k.kettlebells, &k.balls, &k.boxes].map(|list| {
                // grams and millimetres: sizes come back from the store as they went in, in another order
                let mut all: Vec<(i64, u32)> =
                    list.iter().map(|s| ((s.size * 1000.0).round() as i64, s.count)).collect();
                all.sort_unstable();
                all
            })
        };
        Preset::ALL.into_iter().find(|p| {
            let own = p.kit(kit.unit);
            lists(&own) == lists(kit) && own.counts == kit.counts
        })
    }

    /// For whom it is.
    pub fn says(self) -> &'static str {
        match self {
            Preset::Small => "a small room, about 6 people at once",
            Preset::Usual => "a class hall, about 16 people at once",
            Preset::Large => "a large hall, about 28 people at once",
        }
    }

    /// The kit itself, marked in a unit.
    pub fn kit(self, unit: WeightUnit) -> Kit {
        let usual = if unit == WeightUnit::Lb { Kit::usual_pounds() } else { Kit::usual() };
        let share = match self {
            Preset::Small => 1.0 / 3.0,
            Preset::Usual => return usual,
            Preset::Large => 1.75,
        };
        let some = |n: u32| (f64::from(n) * share).ceil() as u32;
        let pairs = |n: u32| some(n).next_multiple_of(2);
        let of = |list: &[Stock], count: &dyn Fn(u32) -> u32| {
            list.iter().map(|s| Stock { size: s.size, count: count(s.count) }).collect()
        };
        Kit {
            bars: of(&usual.bars, &some),
            plates: of(&usual.plates, &pairs),
            dumbbells: of(&usual.dumbbells, &pairs),
            kettlebells: of(&usual.kettlebells, &some),
            balls: of(&usual.balls, &some),
            boxes: of(&usual.boxes, &some),
            counts: usual.counts.iter().map(|(k, n)| (*k, some(*n))).collect(),
            ..usual
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_preset_is_a_kit_that_can_be_kept_and_lifted_with() {
        for unit in [WeightUnit::Kg, WeightUnit::Lb] {
            for p in Preset::ALL {
                let kit = p.kit(unit);
                kit.check().unwrap();
                assert_eq!(kit.unit, unit);
                // plates go on in pairs
                assert!(kit.plates.iter().all(|s| s.count % 2 == 0 && s.count >= 2), "{p:?}");
                assert_eq!((Preset::read(p.word()), Preset::of(&kit)), (Some(p), Some(p)));
                let mut counted = kit.clone();
                counted.bars.reverse();
                assert_eq!(Preset::of(&counted), Some(p), "the order is nothing");
                counted.bars[0].count += 1;
                assert_eq!(Preset::of(&counted), None);
            }
            let racks = Preset::ALL.map(|p| p.kit(unit).count(crate::kinds::Gear::Rack));
            assert_eq!(racks, [2, 6, 11]);
        }
        assert_eq!(Preset::read("huge"), None);
    }
}
