//! What changes on one side of a bar from one weight to the next.

/// Plates that come off and go on each side, heaviest first, kg.
///
/// ```
/// use lantern_core::loads::plate_change;
/// assert_eq!(plate_change(&[20.0, 10.0], &[20.0, 15.0]), (vec![10.0], vec![15.0]));
/// assert_eq!(plate_change(&[20.0], &[20.0, 5.0]), (vec![], vec![5.0]));
/// ```
pub fn plate_change(from: &[f64], to: &[f64]) -> (Vec<f64>, Vec<f64>) {
    let mut off: Vec<f64> = from.to_vec();
    let mut on = Vec::new();
    for plate in to {
        match off.iter().position(|p| (p - plate).abs() < 1e-9) {
            Some(i) => {
                off.remove(i);
            }
            None => on.push(*plate),
        }
    }
    (off, on)
}

/// Plates that go on or off a bar (both sides) from one weight to another.
pub fn plate_moves(from: &[f64], to: &[f64]) -> u32 {
    let (off, on) = plate_change(from, to);
    2 * (off.len() + on.len()) as u32
}
