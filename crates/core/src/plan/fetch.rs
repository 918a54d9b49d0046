//! What is carried out for a workout: every bar, plate and implement that is in somebody's hands, counted for the room.

use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{LoadKind, catalogue};
use crate::roster::Member;
use crate::versions::Placed;
use std::collections::BTreeMap;

/// A kind of thing that lies in a store by its weight.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
#[allow(missing_docs)]
pub enum Thing {
    Bar,
    Plate,
    Dumbbell,
    Kettlebell,
    Ball,
    Bag,
}

impl Thing {
    /// What is held by a movement of a load; `None` for what is not counted by weight.
    fn of(kind: LoadKind) -> Option<Thing> {
        Some(match kind {
            LoadKind::Barbell => Thing::Bar,
            LoadKind::Dumbbell | LoadKind::DumbbellPair => Thing::Dumbbell,
            LoadKind::Kettlebell => Thing::Kettlebell,
            LoadKind::Medball => Thing::Ball,
            LoadKind::Sandbag => Thing::Bag,
            LoadKind::Plate => Thing::Plate,
            _ => return None,
        })
    }

    /// One, or several.
    pub fn word(self, count: u32) -> &'static str {
        match (self, count) {
            (Thing::Bar, 1) => "bar",
            (Thing::Bar, _) => "bars",
            (Thing::Plate, 1) => "plate",
            (Thing::Plate, _) => "plates",
            (Thing::Dumbbell, 1) => "dumbbell",
            (Thing::Dumbbell, _) => "dumbbells",
            (Thing::Kettlebell, 1) => "kettlebell",
            (Thing::Kettlebell, _) => "kettlebells",
            (Thing::Ball, 1) => "ball",
            (Thing::Ball, _) => "balls",
            (Thing::Bag, 1) => "bag",
            (Thing::Bag, _) => "bags",
        }
    }
}

/// So many of one size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Fetch {
    /// What.
    pub thing: Thing,
    /// kg of one.
    pub kg: f64,
    /// Pieces.
    pub count: u32,
}

/// Grams: sizes are told apart as whole numbers.
pub(super) fn grams(kg: f64) -> u64 {
    (kg * 1000.0).round() as u64
}

/// What one member takes to the lane: (thing, grams) and pieces; of one thing and size no more than the line that needs most.
pub(super) fn of_one(p: &Placed, m: &Member, bars: &Bars) -> BTreeMap<(Thing, u64), u32> {
    let mut out: BTreeMap<(Thing, u64), u32> = BTreeMap::new();
    let mut heaviest: Option<f64> = None;
    for l in &p.work.lines {
        let Some(kg) = l.kg().map(|kg| m.standard.of(kg)).filter(|kg| *kg > 0.0) else { continue };
        match catalogue().movement(&l.movement).and_then(|x| Thing::of(x.load)) {
            Some(Thing::Bar) => heaviest = Some(heaviest.map_or(kg, |h| h.max(kg))),
            Some(thing) => {
                let n = out.entry((thing, grams(kg))).or_default();
                *n = (*n).max(l.held().round() as u32);
            }
            None => {}
        }
    }
    let Some((bar, kg)) = heaviest.and_then(|kg| Some((bars.choose(m.standard, kg)?, kg))) else {
        return out;
    };
    out.insert((Thing::Bar, grams(bar.bar_kg)), 1);
    for plate in bar.nearest(kg).map_or(&[][..], |l| l.per_side.as_slice()) {
        *out.entry((Thing::Plate, grams(*plate))).or_default() += 2;
    }
    out
}

/// What the whole room takes at once, the heaviest of each thing first.
pub(super) fn fetches(placed: &[Placed], members: &[Member], kit: &Kit) -> Vec<Fetch> {
    let bars = Bars::of(kit);
    let mut sum: BTreeMap<(Thing, u64), u32> = BTreeMap::new();
    for (p, m) in placed.iter().zip(members) {
        for (key, n) in of_one(p, m, &bars) {
            *sum.entry(key).or_default() += n;
        }
    }
    let mut out: Vec<Fetch> =
        sum.into_iter().map(|((thing, g), count)| Fetch { thing, kg: g as f64 / 1000.0, count }).collect();
    out.sort_by(|a, b| a.thing.cmp(&b.thing).then(b.kg.total_cmp(&a.kg)));
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::tests::of;

    fn fetched(text: &str, members: usize) -> Vec<(Thing, f64, u32)> {
        let p = of(text, Member::archetypes().into_iter().take(members).collect(), &[]);
        let w = &p.workouts[0];
        fetches(&w.placed, &p.members, &Kit::usual()).into_iter().map(|f| (f.thing, f.kg, f.count)).collect()
    }

    #[test]
    fn the_room_fetches_what_its_members_hold() {
        let text = "# workout cap 15:00\n3 rounds for time\n10 thrusters 43/30 kg\n10 dumbbell snatches 22.5/15 kg\n10 burpees";
        let p = of(text, Member::archetypes(), &[]);
        let w = &p.workouts[0];
        let all = fetches(&w.placed, &p.members, &Kit::usual());
        let of_thing = |t: Thing| all.iter().filter(|f| f.thing == t).map(|f| f.count).sum::<u32>();
        // one bar and one dumbbell each, a bell where a version says so
        let one_hand = of_thing(Thing::Dumbbell) + of_thing(Thing::Kettlebell);
        assert_eq!((of_thing(Thing::Bar), one_hand), (8, 8), "{all:?}");
        assert_eq!(of_thing(Thing::Plate) % 2, 0, "plates go on in pairs");
        assert!(all.windows(2).all(|w| w[0].thing < w[1].thing || w[0].kg > w[1].kg), "{all:?}");
    }

    #[test]
    fn a_bar_is_loaded_for_its_heaviest_line_and_a_pair_is_two() {
        let pair = fetched("# workout cap 15:00\n3 rounds for time\n10 dumbbell thrusters 2 x 15/10 kg", 1);
        assert!(matches!(pair.as_slice(), [(Thing::Dumbbell, _, 2)]), "{pair:?}");
        assert!(fetched("# workout\n3 rounds for time\n10 burpees", 8).is_empty());
    }
}
