//! What the gym owns: bars, plates, dumbbells, kettlebells, balls, boxes and everything that is only counted.
//! Masses in kg of one item, heights in cm.

mod loadable;
mod preset;

pub use loadable::{Loadable, Loaded};
pub use preset::Preset;

use crate::kinds::Gear;
use crate::movement::LoadKind;
use crate::units::{KG_PER_LB, WeightUnit, plain};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Things of which a gym only counts how many it has.
pub const COUNTED: [Gear; 10] = [
    Gear::Rack,
    Gear::PullUpBar,
    Gear::Rings,
    Gear::ClimbingRope,
    Gear::JumpRope,
    Gear::RowingErg,
    Gear::AirBike,
    Gear::SkiMachine,
    Gear::Bench,
    Gear::WallTarget,
];

/// Things that are counted by size: bars, implements, boxes.
const SIZED: [Gear; 6] =
    [Gear::Barbell, Gear::Dumbbell, Gear::DumbbellPair, Gear::Kettlebell, Gear::Medball, Gear::Box];

/// Items of one size.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Stock {
    /// kg, or cm for boxes.
    pub size: f64,
    /// How many single items; dumbbells and plates are counted singly too.
    pub count: u32,
}

/// The gym's kit.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(deny_unknown_fields, default)]
pub struct Kit {
    /// The unit in which bars, plates and implements are marked and spoken of; masses here are in kg all the same.
    pub unit: WeightUnit,
    /// Bars, kg.
    pub bars: Vec<Stock>,
    /// Plates, kg.
    pub plates: Vec<Stock>,
    /// One collar, kg (0 to 2.5).
    pub collar_kg: f64,
    /// Dumbbells, kg.
    pub dumbbells: Vec<Stock>,
    /// Kettlebells, kg.
    pub kettlebells: Vec<Stock>,
    /// Balls, kg.
    pub balls: Vec<Stock>,
    /// Boxes, cm.
    pub boxes: Vec<Stock>,
    /// Everything else: racks, pull-up places, rings, ropes, machines.
    pub counts: BTreeMap<Gear, u32>,
    /// Nothing but these: a home or an outing. Empty: a hall, where floor, walls and bands are.
    #[serde(skip)]
    pub only: Vec<Gear>,
}

impl Kit {
    /// A kit from a TOML file.
    ///
    /// # Errors
    /// Says what is wrong and where.
    pub fn from_toml(text: &str) -> Result<Kit, String> {
        let mut kit: Kit = toml::from_str(text).map_err(|e| format!("The kit file cannot be read: {e}"))?;
        let f = kit.unit.kg();
        kit.scale(f);
        kit.check()?;
        Ok(kit)
    }

    /// Multiplies every mass: from marks in pounds to kg and back.
    fn scale(&mut self, f: f64) {
        let lists =
            [&mut self.bars, &mut self.plates, &mut self.dumbbells, &mut self.kettlebells, &mut self.balls];
        for s in lists.into_iter().flatten() {
            s.size *= f;
        }
        self.collar_kg *= f;
    }

    /// Whether its plates are marked in pounds.
    pub fn pounds(&self) -> bool {
        self.unit == WeightUnit::Lb
    }

    /// A mass as it is marked: `47.5` in kilograms, `105` in pounds, without the unit.
    pub fn mark(&self, kg: f64) -> String {
        plain(self.unit.figure(kg))
    }

    /// A mass as it is marked, with the unit.
    pub fn said(&self, kg: f64) -> String {
        format!("{} {}", self.mark(kg), self.unit.word())
    }

    /// kg of a mass as marked in this kit's unit.
    pub fn kg_of(&self, marked: f64) -> f64 {
        marked * self.unit.kg()
    }

    /// `kg` or `lb`.
    pub fn unit_word(&self) -> &'static str {
        self.unit.word()
    }

    /// Sizes above 0 and a collar of 0 to 2.5 kg.
    ///
    /// # Errors
    /// Names the first wrong entry.
    pub fn check(&self) -> Result<(), String> {
        let lists = [
            ("bars", &self.bars),
            ("plates", &self.plates),
            ("dumbbells", &self.dumbbells),
            ("kettlebells", &self.kettlebells),
            ("balls", &self.balls),
            ("boxes", &self.boxes),
        ];
        for (name, list) in lists {
            for s in list {
                if !(s.size > 0.0 && s.size <= 200.0) {
                    return Err(format!("{name}: a size of {} is not between 0 and 200.", s.size));
                }
                if s.count > 500 {
                    return Err(format!(
                        "{name}: {} of one size is more than a gym has. Check the number.",
                        s.count
                    ));
                }
            }
        }
        if !(0.0..=2.5).contains(&self.collar_kg) {
            return Err("One collar weighs from 0 to 2.5 kg.".to_owned());
        }
        Ok(())
    }

    /// What a class hall usually has; used when no kit is given, and said to be assumed.
    pub fn usual() -> Kit {
        let list = |items: &[(f64, u32)]| {
            items.iter().map(|(size, count)| Stock { size: *size, count: *count }).collect()
        };
        let counts = [
            (Gear::Rack, 6),
            (Gear::PullUpBar, 12),
            (Gear::Rings, 6),
            (Gear::ClimbingRope, 2),
            (Gear::JumpRope, 20),
            (Gear::RowingErg, 6),
            (Gear::AirBike, 4),
            (Gear::SkiMachine, 2),
            (Gear::Bench, 6),
            (Gear::WallTarget, 10),
        ];
        Kit {
            unit: WeightUnit::Kg,
            bars: list(&[(20.0, 10), (15.0, 8), (10.0, 2)]),
            plates: list(&[(20.0, 20), (15.0, 20), (10.0, 30), (5.0, 24), (2.5, 20), (1.25, 16)]),
            collar_kg: 0.0,
            dumbbells: list(&[
                (5.0, 8),
                (7.5, 8),
                (10.0, 8),
                (12.5, 8),
                (15.0, 8),
                (17.5, 6),
                (20.0, 6),
                (22.5, 8),
                (25.0, 4),
                (30.0, 4),
            ]),
            kettlebells: list(&[(8.0, 4), (12.0, 6), (16.0, 8), (20.0, 4), (24.0, 8), (32.0, 3)]),
            balls: list(&[(4.0, 4), (6.0, 8), (9.0, 8)]),
            boxes: list(&[(30.0, 4), (50.0, 8), (60.0, 8)]),
            counts: counts.into_iter().collect(),
            only: Vec::new(),
        }
    }

    /// What a class hall with pounds usually has: bars of 45, 35 and 15 lb.
    pub fn usual_pounds() -> Kit {
        let list = |items: &[(f64, u32)]| {
            items.iter().map(|(lb, count)| Stock { size: lb * KG_PER_LB, count: *count }).collect()
        };
        Kit {
            unit: WeightUnit::Lb,
            bars: list(&[(45.0, 10), (35.0, 8), (15.0, 2)]),
            plates: list(&[(45.0, 20), (35.0, 16), (25.0, 20), (10.0, 30), (5.0, 24), (2.5, 20)]),
            dumbbells: list(&[(10.0, 8), (15.0, 8), (20.0, 8), (25.0, 8), (35.0, 8), (50.0, 8), (70.0, 4)]),
            kettlebells: list(&[(18.0, 4), (26.0, 6), (35.0, 8), (44.0, 4), (53.0, 8), (70.0, 3)]),
            balls: list(&[(10.0, 4), (14.0, 8), (20.0, 8)]),
            ..Kit::usual()
        }
    }

    /// How many of a counted thing; boxes, bars and the like are counted from their lists.
    pub fn count(&self, gear: Gear) -> u32 {
        let all = |list: &[Stock]| list.iter().map(|s| s.count).sum();
        match gear {
            Gear::Barbell => all(&self.bars),
            Gear::Plates => all(&self.plates) / 2,
            Gear::Dumbbell => all(&self.dumbbells),
            // two of the same mass
            Gear::DumbbellPair => self.dumbbells.iter().map(|s| s.count / 2).sum(),
            Gear::Kettlebell => all(&self.kettlebells),
            Gear::Medball => all(&self.balls),
            Gear::Box => all(&self.boxes),
            _ => self.counts.get(&gear).copied().unwrap_or(0),
        }
    }

    /// The stock of single implements of a kind, and how many are held at once; `None` for bars, machines and nothing.
    pub fn implements(&self, kind: LoadKind) -> Option<(&[Stock], u32)> {
        Some(match kind {
            LoadKind::DumbbellPair => (&self.dumbbells, 2),
            LoadKind::Dumbbell => (&self.dumbbells, 1),
            LoadKind::Kettlebell => (&self.kettlebells, 1),
            LoadKind::Medball => (&self.balls, 1),
            _ => return None,
        })
    }

    /// Whether everything that a movement needs and that gyms count is there; floor, walls and bands are.
    pub fn has(&self, equipment: &[Gear]) -> bool {
        if !self.only.is_empty() && !equipment.iter().all(|e| self.only.contains(e)) {
            return false;
        }
        let counted = |e: &Gear| SIZED.contains(e) || (COUNTED.contains(e) && *e != Gear::WallTarget);
        equipment.iter().all(|e| !counted(e) || self.count(*e) > 0)
    }

    /// The size of a fixed implement nearest to a wish, the lighter of two equally near; `None` without any.
    pub fn nearest(list: &[Stock], wish: f64, least: u32) -> Option<f64> {
        list.iter()
            .filter(|s| s.count >= least.max(1))
            .map(|s| s.size)
            .min_by(|a, b| (a - wish).abs().total_cmp(&(b - wish).abs()).then(a.total_cmp(b)))
    }
}

#[cfg(test)]
mod tests;
