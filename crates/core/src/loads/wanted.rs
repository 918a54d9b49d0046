//! What a set should weigh, per cent of the base: single percentages, bands, bands that climb, waves, feel.

use super::one_rep_max::percent_for_reps;
use crate::sheet::{LiftSets, Tempo};

/// Reps that everybody lifting by feel leaves.
pub(super) const FEEL_RESERVE: u32 = 3;
/// Reps for which the weight of a set to the most reps is chosen by feel (own).
const MAX_SET_REPS: u32 = 10;
/// Load that each further second of lowering takes off, and the least that is left (own).
const SLOWER: f64 = 0.04;
const SLOWEST: f64 = 0.85;

/// What a set should weigh: low and high end and the wish between them, per cent of the base.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct WantedLoad {
    pub low: f64,
    pub high: f64,
    pub wish: f64,
    /// No percentage is said: the nearest weight, whatever the band.
    pub feel: bool,
}

impl WantedLoad {
    fn exact(p: f64) -> WantedLoad {
        WantedLoad { low: p, high: p, wish: p, feel: false }
    }

    /// So much of it.
    pub fn times(self, share: f64) -> WantedLoad {
        WantedLoad { low: self.low * share, high: self.high * share, wish: self.wish * share, ..self }
    }

    /// Never over a limit: a wish over it slides down with its band, a band is cut there. `slack`: what rounding may pass it by.
    pub fn under(self, most: Option<f64>, slack: f64) -> WantedLoad {
        match most {
            Some(most) if self.wish > most + 1e-6 => {
                WantedLoad { low: most - 10.0, high: most + slack, wish: most, ..self }
            }
            // a wish at the limit may be rounded down under its band, where nothing may pass the limit
            Some(most) if slack <= 0.0 && self.wish > most - 1e-6 => {
                WantedLoad { low: most - 10.0, high: most, ..self }
            }
            Some(most) => WantedLoad { high: self.high.min(most + slack), ..self },
            _ => self,
        }
    }
}

/// What set `i` of a lift should weigh.
pub(super) fn wanted(lift: &LiftSets, i: usize, reps: u32) -> WantedLoad {
    let n = lift.reps.len();
    let Some(p) = &lift.percent else {
        // by feel: what leaves 3 in reserve; with "add weight" down to 1 on the last set
        let climbs = (lift.add_weight || lift.climb) && n > 1;
        let climb = if climbs { 2.0 * i as f64 / (n - 1) as f64 } else { 0.0 };
        let reserve = FEEL_RESERVE - climb.round() as u32;
        let reps = if reps == 0 { MAX_SET_REPS } else { reps };
        return WantedLoad { feel: true, ..WantedLoad::exact(percent_for_reps(reps + reserve)) };
    };
    match (p.band, p.values.as_slice()) {
        (true, [low, high]) => {
            let at_top = lift.last_at_top.map(|k| k as usize);
            let climbing = match at_top {
                // the first sets climb evenly to the band's top, which the last ones hold
                Some(k) => Some(n.saturating_sub(k)).filter(|c| *c > 0),
                None if lift.climb || lift.add_weight => Some(n.saturating_sub(1)).filter(|c| *c > 0),
                None => None,
            };
            let wish = match (climbing, at_top) {
                (Some(c), _) => low + (high - low) * (i as f64 / c as f64).min(1.0),
                (None, Some(_)) => *high,
                (None, None) => (low + high) / 2.0,
            };
            WantedLoad { low: *low, high: *high, wish, feel: false }
        }
        _ => match p.of_set(i) {
            Some([low, high]) => WantedLoad { low, high, wish: (low + high) / 2.0, feel: false },
            None => WantedLoad::exact(70.0),
        },
    }
}

/// Share of the load that a tempo leaves: 4 % less for each second of lowering after the first, never under 85 %.
///
/// ```
/// use lantern_core::{loads::tempo_share, sheet::Tempo};
/// assert!((tempo_share(Some(Tempo([3, 1, 0, 0]))) - 0.92).abs() < 1e-9);
/// assert!((tempo_share(Some(Tempo([9, 0, 0, 0]))) - 0.85).abs() < 1e-9);
/// assert_eq!(tempo_share(None), 1.0);
/// ```
pub fn tempo_share(tempo: Option<Tempo>) -> f64 {
    tempo.map_or(1.0, |Tempo([lowering, ..])| {
        (1.0 - SLOWER * (f64::from(lowering) - 1.0).max(0.0)).max(SLOWEST)
    })
}
