//! Dumbbells, kettlebells, balls: what is nearest at hand, and what makes up for one that is too light.

use crate::kit::Kit;
use crate::movement::catalogue;
use crate::ratios::ballistic;
use crate::reason::TooLight;
use crate::sheet::Tempo;

/// Further seconds of lowering that make up for an implement that is too light.
const SLOWER_S: u8 = 2;
/// An implement is too light under this share of what is wanted (own): nearer, rounding explains it.
const TOO_LIGHT: f64 = 0.95;
/// Lowering of a lift of which no tempo is said, s (own).
const UNSAID_LOWERING_S: u8 = 1;

/// The implement nearest to a wish for all that is held, kg of one, with what to do when it is too light for `reps`.
pub(super) fn nearest(
    kit: &Kit,
    id: &str,
    wish_kg: f64,
    reps: u32,
    tempo: Option<Tempo>,
) -> Option<(f64, Option<TooLight>)> {
    let (stock, n) = kit.implements(catalogue().movement(id)?.load)?;
    let wanted = wish_kg / f64::from(n);
    let at_hand = Kit::nearest(stock, wanted, n)?;
    let heavier = stock.iter().any(|s| s.count >= n && s.size > at_hand);
    let light = (reps > 0 && at_hand < TOO_LIGHT * wanted && !heavier).then(|| {
        let needed = (f64::from(reps) * wanted / at_hand - 1e-9).ceil() as u32;
        let Tempo([lowering, bottom, lifting, top]) = tempo.unwrap_or(Tempo([UNSAID_LOWERING_S, 0, 1, 0]));
        TooLight {
            wanted_kg: wanted,
            at_hand_kg: at_hand,
            reps,
            more_reps: needed.min(2 * reps),
            not_enough: needed > 2 * reps,
            or_tempo: (!ballistic(id)).then_some(Tempo([
                lowering.saturating_add(SLOWER_S),
                bottom,
                lifting,
                top,
            ])),
        }
    });
    Some((at_hand, light))
}
