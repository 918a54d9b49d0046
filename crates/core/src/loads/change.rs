//! What changes on one side of a bar from one weight to the next.

/// Plates that come off and go on each side, heaviest first, kg: from the outside in and from the inside out, as hands do it.
///
/// ```
/// use lantern_core::loads::plate_change;
/// assert_eq!(plate_change(&[20.0, 10.0], &[20.0, 15.0]), (vec![10.0], vec![15.0]));
/// assert_eq!(plate_change(&[20.0], &[20.0, 5.0]), (vec![], vec![5.0]));
/// // 2.5 kg less, and the 1.25s must come off to reach the 5s
/// assert_eq!(plate_change(&[25.0, 5.0, 1.25], &[25.0, 2.5, 1.25]), (vec![5.0, 1.25], vec![2.5, 1.25]));
/// ```
pub fn plate_change(from: &[f64], to: &[f64]) -> (Vec<f64>, Vec<f64>) {
    let same = from.iter().zip(to).take_while(|(a, b)| (**a - **b).abs() < 1e-9).count();
    (from.iter().skip(same).copied().collect(), to.iter().skip(same).copied().collect())
}

/// Plates that go on or off a bar (both sides) from one weight to another.
pub fn plate_moves(from: &[f64], to: &[f64]) -> u32 {
    let (off, on) = plate_change(from, to);
    2 * (off.len() + on.len()) as u32
}
