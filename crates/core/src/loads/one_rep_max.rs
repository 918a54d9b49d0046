//! From a rep maximum to a 1RM.

/// Most reps (with those in reserve) from which a 1RM is estimated; above, the formulas part too far.
pub const MOST_REPS: u32 = 10;

/// An estimated 1RM, kg.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OneRepMax {
    /// Mean of Epley and Brzycki.
    pub kg: f64,
    /// The lower of the two.
    pub low: f64,
    /// The higher of the two.
    pub high: f64,
}

/// Epley 1985: w (1 + r/30); r = 1 is the load itself.
pub fn epley(kg: f64, reps: u32) -> f64 {
    if reps <= 1 { kg } else { kg * (1.0 + f64::from(reps) / 30.0) }
}

/// Brzycki 1993: 36 w / (37 - r).
pub fn brzycki(kg: f64, reps: u32) -> f64 {
    36.0 * kg / (37.0 - f64::from(reps.clamp(1, 36)))
}

/// Wathan 1994: 100 w / (48.8 + 53.8 e^(-0.075 r)).
pub fn wathan(kg: f64, reps: u32) -> f64 {
    if reps <= 1 { kg } else { 100.0 * kg / (48.8 + 53.8 * (-0.075 * f64::from(reps)).exp()) }
}

/// 1RM from a set of `reps` with `reserve` left: the mean of Epley and Brzycki, their difference the spread.
///
/// # Errors
/// Over 10 reps, with the reason.
///
/// ```
/// use lantern_core::loads::one_rep_max;
/// assert_eq!((one_rep_max(100.0, 5, 0).unwrap().kg * 10.0).round() / 10.0, 114.6);
/// assert!(one_rep_max(60.0, 15, 0).is_err());
/// ```
pub fn one_rep_max(kg: f64, reps: u32, reserve: u32) -> Result<OneRepMax, String> {
    let r = reps.saturating_add(reserve);
    if r > MOST_REPS {
        return Err(format!(
            "{r} reps are too many to say what one would weigh: above 10 the formulas part by more than a tenth."
        ));
    }
    let (a, b) = (epley(kg, r), brzycki(kg, r));
    Ok(OneRepMax { kg: (a + b) / 2.0, low: a.min(b), high: a.max(b) })
}

/// Per cent of the 1RM that allows so many reps: the inverse of the mean of Epley and Brzycki. Reps 1 to 20.
pub fn percent_for_reps(reps: u32) -> f64 {
    let r = reps.clamp(1, 20);
    100.0 / ((epley(1.0, r) + brzycki(1.0, r)) / 2.0)
}
