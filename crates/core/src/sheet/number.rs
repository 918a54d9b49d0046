//! Numbers and times as people type them into single fields.

/// A number with a decimal point or comma; a comma before three digits separates thousands.
///
/// ```
/// use lantern_core::sheet::read_number;
/// assert_eq!(read_number("42,5"), Some(42.5));
/// assert_eq!(read_number("1,200"), Some(1200.0));
/// assert_eq!(read_number("many"), None);
/// ```
pub fn read_number(text: &str) -> Option<f64> {
    let text = text.trim();
    let thousands = text.split_once(',').is_some_and(|(_, b)| b.len() == 3 && !text.contains('.'));
    let cleaned = if thousands { text.replace(',', "") } else { text.replace(',', ".") };
    cleaned.parse::<f64>().ok().filter(|v| v.is_finite() && *v >= 0.0)
}

/// Seconds of a time; `bare` is the seconds of one unit when no unit is written (60 for minutes).
///
/// ```
/// use lantern_core::sheet::read_clock;
/// assert_eq!(read_clock("12:30", 60.0), Some(750));
/// assert_eq!(read_clock("11'", 60.0), Some(660));
/// assert_eq!(read_clock("90 s", 60.0), Some(90));
/// assert_eq!(read_clock("14", 60.0), Some(840));
/// ```
pub fn read_clock(text: &str, bare: f64) -> Option<u32> {
    let text = text.trim();
    if let Some((m, s)) = text.split_once(':') {
        let minutes: u32 = if m.is_empty() { 0 } else { m.parse().ok()? };
        let seconds: u32 = s.parse().ok()?;
        return (seconds < 60 && minutes < 6000).then_some(minutes * 60 + seconds);
    }
    let end = text.find(|c: char| !(c.is_ascii_digit() || c == '.' || c == ',')).unwrap_or(text.len());
    let value = read_number(text.get(..end)?)?;
    let factor = match text.get(end..)?.trim().chars().next() {
        None => bare,
        Some('m' | '\'') => 60.0,
        Some('s' | '"') => 1.0,
        Some(_) => return None,
    };
    Some((value * factor).round().min(360_000.0) as u32)
}
