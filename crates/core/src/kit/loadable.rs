//! Every weight that a bar can be loaded to with the plates in stock, exactly: bar + 2 x plates + collars.

use super::Kit;
use std::collections::BTreeMap;

/// Heaviest load of plates on one side that is worked out, kg.
const MOST_PER_SIDE_KG: f64 = 150.0;

/// One weight and how it is built.
#[derive(Debug, Clone, PartialEq)]
pub struct Loaded {
    /// Total, kg.
    pub kg: f64,
    /// Bar, kg.
    pub bar_kg: f64,
    /// Plates on one side, heaviest first, kg.
    pub per_side: Vec<f64>,
}

/// All loadable weights of one bar, lightest first.
#[derive(Debug, Clone, PartialEq)]
pub struct Loadable {
    /// Bar, kg.
    pub bar_kg: f64,
    weights: Vec<Loaded>,
}

/// Plates on one side so far: how many in all, and how many of each denomination, heaviest first.
#[derive(Clone, PartialEq, Eq)]
struct Side {
    plates: u32,
    of_each: Vec<u32>,
}

impl Side {
    /// Fewer plates first, then the larger ones.
    fn better(&self, other: &Side) -> bool {
        (self.plates, std::cmp::Reverse(&self.of_each)) < (other.plates, std::cmp::Reverse(&other.of_each))
    }
}

impl Loadable {
    /// Works out what one bar can carry. Stock is finite, so taking the largest plate each time can fail where
    /// another choice succeeds; all sums are built instead, each by its fewest plates. Masses are added in hundredths of the
    /// kit's own unit, so that pounds are exact too.
    pub fn of(kit: &Kit, bar_kg: f64) -> Loadable {
        let f = kit.unit.kg();
        let marks = |kg: f64| (kg / f * 100.0).round() as i64;
        let mut stock: Vec<(i64, f64, u32)> = kit
            .plates
            .iter()
            .filter(|p| p.count >= 2)
            .map(|p| (marks(p.size), p.size, p.count / 2))
            .collect();
        stock.sort_by_key(|p| std::cmp::Reverse(p.0));
        let most = marks(MOST_PER_SIDE_KG);
        let mut sums: BTreeMap<i64, Side> =
            BTreeMap::from([(0, Side { plates: 0, of_each: vec![0; stock.len()] })]);
        for (i, (mass, _, pairs)) in stock.iter().enumerate() {
            let before: Vec<(i64, Side)> = sums.iter().map(|(k, v)| (*k, v.clone())).collect();
            for (sum, side) in before {
                for n in 1..=*pairs {
                    let total = sum + mass * i64::from(n);
                    if total > most {
                        break;
                    }
                    let mut with = side.clone();
                    with.plates += n;
                    if let Some(slot) = with.of_each.get_mut(i) {
                        *slot = n;
                    }
                    let keep = sums.get(&total).is_none_or(|old| with.better(old));
                    if keep {
                        sums.insert(total, with);
                    }
                }
            }
        }
        let empty = marks(bar_kg) + 2 * marks(kit.collar_kg);
        let weights = sums
            .into_iter()
            .map(|(sum, side)| {
                let per_side: Vec<f64> = stock
                    .iter()
                    .zip(&side.of_each)
                    .flat_map(|((_, size, _), n)| std::iter::repeat_n(*size, *n as usize))
                    .collect();
                let kg = (empty + 2 * sum) as f64 / 100.0 * f;
                Loaded { kg, bar_kg, per_side }
            })
            .collect();
        Loadable { bar_kg, weights }
    }

    /// The nearest loadable weight, ties downwards.
    pub fn nearest(&self, wish: f64) -> Option<&Loaded> {
        self.weights
            .iter()
            .min_by(|a, b| (a.kg - wish).abs().total_cmp(&(b.kg - wish).abs()).then(a.kg.total_cmp(&b.kg)))
    }

    /// The loadable weight inside a band nearest to a wish; none inside: the highest below it.
    pub fn inside(&self, low: f64, high: f64, wish: f64) -> Option<(&Loaded, bool)> {
        let inside =
            self.weights.iter().filter(|w| w.kg >= low - 1e-6 && w.kg <= high + 1e-6).min_by(|a, b| {
                (a.kg - wish).abs().total_cmp(&(b.kg - wish).abs()).then(a.kg.total_cmp(&b.kg))
            });
        if let Some(w) = inside {
            return Some((w, true));
        }
        self.below(low).map(|w| (w, false))
    }

    /// The heaviest weight not over a limit; the empty bar when even that is over.
    pub fn below(&self, limit: f64) -> Option<&Loaded> {
        self.weights.iter().rev().find(|w| w.kg <= limit + 1e-6).or_else(|| self.weights.first())
    }

    /// The lightest weight over another one.
    pub fn over(&self, kg: f64) -> Option<&Loaded> {
        self.weights.iter().find(|w| w.kg > kg + 1e-6)
    }

    /// All weights, lightest first.
    pub fn all(&self) -> &[Loaded] {
        &self.weights
    }
}
