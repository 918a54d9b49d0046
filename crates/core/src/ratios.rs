//! How lifts stand to each other: shares of the back squat by standard, how far people differ from them, what body mass
//! does to a maximum, and what somebody new never lifts more than. The one table for weights and pacing:
//! `data/strength.toml` (own estimates).

use crate::units::Standard;
use serde::Deserialize;
use std::sync::LazyLock;

/// Lifts of one kind of strength; one says more about another of its own limb.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Limb {
    /// Squats.
    Squat,
    /// Pulls from the floor.
    Pull,
    /// Presses and jerks.
    Press,
    /// Cleans and snatches.
    Olympic,
}

/// A lift of the table.
#[derive(Debug, Deserialize)]
pub struct Lift {
    /// Catalogue id.
    pub id: String,
    /// What kind of strength it is.
    pub limb: Limb,
    share: [f64; 2],
    sd: [f64; 2],
}

#[derive(Deserialize)]
struct New {
    press: f64,
    olympic: f64,
}

#[derive(Deserialize)]
struct Pair {
    lifts: [String; 2],
    sd: f64,
}

#[derive(Deserialize)]
struct Across {
    limbs: [Limb; 2],
    sd: f64,
}

#[derive(Deserialize)]
struct Ceiling {
    lifts: Vec<String>,
    kg: [f64; 2],
}

#[derive(Deserialize)]
struct TempoRule {
    ballistic: Vec<String>,
}

#[derive(Deserialize)]
struct Table {
    new: New,
    lift: Vec<Lift>,
    pair: Vec<Pair>,
    across: Vec<Across>,
    ceiling: Vec<Ceiling>,
    tempo: TempoRule,
}

// data that ships: a test reads it, so it never fails here
#[allow(clippy::expect_used)]
static TABLE: LazyLock<Table> = LazyLock::new(|| {
    toml::from_str(include_str!("../data/strength.toml")).expect("strength.toml is read by a test")
});

/// Body masses outside these count as the nearest, kg.
const MASSES: [f64; 2] = [50.0, 120.0];
/// Strength goes with this power of body mass.
const MASS_POWER: f64 = 2.0 / 3.0;
/// A newcomer's ceiling follows body mass within these shares.
const CEILING_SHARES: [f64; 2] = [0.8, 1.15];

/// All lifts of the table, the back squat first.
pub fn lifts() -> &'static [Lift] {
    &TABLE.lift
}

/// Lifts whose relation is known better than through the back squat.
pub fn pairs() -> impl Iterator<Item = (&'static Lift, &'static Lift)> {
    TABLE.pair.iter().filter_map(|p| Some((lift(&p.lifts[0])?, lift(&p.lifts[1])?)))
}

/// A lift of the table.
pub fn lift(id: &str) -> Option<&'static Lift> {
    TABLE.lift.iter().find(|l| l.id == id)
}

impl Lift {
    /// 1RM over that of the back squat. `new`: of somebody in the first months.
    pub fn share(&self, standard: Standard, new: bool) -> f64 {
        let shift = match self.limb {
            Limb::Press if new => TABLE.new.press,
            Limb::Olympic if new => TABLE.new.olympic,
            _ => 1.0,
        };
        standard.of(self.share) * shift
    }

    /// Relative sd between people of this lift estimated from another.
    pub fn spread_from(&self, other: &Lift, standard: Standard) -> f64 {
        if self.id == other.id {
            return 0.0;
        }
        let named = TABLE
            .pair
            .iter()
            .find(|p| p.lifts.contains(&self.id) && p.lifts.contains(&other.id))
            .map(|p| p.sd);
        let across = || {
            TABLE
                .across
                .iter()
                .find(|a| a.limbs == [self.limb, other.limb] || a.limbs == [other.limb, self.limb])
                .map(|a| a.sd)
        };
        let own = standard.of(self.sd).hypot(standard.of(other.sd));
        named.or_else(across).unwrap_or(own)
    }
}

/// Share of a maximum at the reference mass that somebody of this mass has: (mass / reference)^(2/3), kg.
///
/// ```
/// assert!((lantern_core::ratios::mass_factor(60.0, 82.0) - 0.81).abs() < 0.005);
/// assert!((lantern_core::ratios::mass_factor(120.0, 82.0) - 1.29).abs() < 0.005);
/// ```
pub fn mass_factor(mass_kg: f64, reference_kg: f64) -> f64 {
    let [low, high] = MASSES;
    (mass_kg.clamp(low, high) / reference_kg).powf(MASS_POWER)
}

/// What somebody new of whom nothing is tested never lifts more than, kg; `None`: no ceiling of its own. `mass_factor`: see
/// [`mass_factor`].
pub fn newcomer_ceiling(lift: &str, standard: Standard, mass_factor: f64) -> Option<f64> {
    let [low, high] = CEILING_SHARES;
    let row = TABLE.ceiling.iter().find(|c| c.lifts.iter().any(|l| l == lift))?;
    Some(standard.of(row.kg) * mass_factor.clamp(low, high))
}

/// Whether a lift is thrown, jumped or dropped under, so that nothing of it is lowered slowly.
pub fn ballistic(lift: &str) -> bool {
    TABLE.tempo.ballistic.iter().any(|l| l == lift)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::catalogue;

    #[test]
    fn every_lift_named_is_in_the_catalogue_and_every_pair_in_the_table() {
        let known = |id: &String| catalogue().movement(id).is_some();
        assert!(TABLE.lift.iter().all(|l| known(&l.id)));
        assert!(TABLE.pair.iter().flat_map(|p| &p.lifts).all(|l| lift(l).is_some()));
        for id in TABLE.ceiling.iter().flat_map(|c| &c.lifts).chain(&TABLE.tempo.ballistic) {
            assert!(known(id), "{id}");
        }
        // pacing takes its maxima from here
        assert!(crate::pacing::table::LIFTS.iter().all(|l| lift(l).is_some()));
        assert!(TABLE.ceiling.iter().all(|c| c.kg[0] >= c.kg[1] && c.kg[1] > 0.0));
    }

    #[test]
    fn a_relative_of_the_same_limb_says_more_than_the_squat() {
        let of = |a: &str, b: &str| lift(a).unwrap().spread_from(lift(b).unwrap(), Standard::Heavier);
        // named, across limbs, and sqrt(.15^2 + .10^2) where neither is
        assert_eq!((of("bench-press", "strict-press"), of("bench-press", "back-squat")), (0.10, 0.14));
        assert!((of("overhead-squat", "deadlift") - 0.1803).abs() < 1e-4);
        assert_eq!(of("deadlift", "deadlift"), 0.0);
        for a in lifts() {
            for b in lifts() {
                assert_eq!(of(&a.id, &b.id), of(&b.id, &a.id));
            }
        }
    }

    #[test]
    fn newer_lifters_press_more_and_clean_less_for_their_squat() {
        let of = |id: &str, new| lift(id).unwrap().share(Standard::Lighter, new);
        assert!((of("strict-press", true) - 0.385 * 1.05).abs() < 1e-9);
        assert!((of("power-clean", true) - 0.68 * 0.92).abs() < 1e-9);
        assert_eq!(of("deadlift", true), of("deadlift", false));
    }

    #[test]
    fn a_newcomers_ceiling_follows_body_mass_within_bounds() {
        let of = |factor| newcomer_ceiling("deadlift", Standard::Heavier, factor).unwrap();
        assert_eq!((of(1.0), of(0.5), of(2.0)), (60.0, 48.0, 69.0));
        assert_eq!(newcomer_ceiling("pull-up", Standard::Heavier, 1.0), None);
        assert!(ballistic("push-press") && !ballistic("strict-press"));
    }
}
