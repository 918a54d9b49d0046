//! One end of a bar with its plates: height falls with mass, ten and up filled.

use lantern_core::units::plain;
use std::fmt::Write as _;

/// The plates on one side, heaviest first; always shown beside the numerals.
pub fn stack(per_side: &[f64]) -> String {
    let words = words(per_side);
    let mut out = format!(
        "<svg class=\"hl-stack\" viewBox=\"0 0 44 30\" width=\"44\" role=\"img\" aria-label=\"each side {words}\">"
    );
    out.push_str("<rect class=\"bar\" x=\"0\" y=\"13.5\" width=\"44\" height=\"3\"/><rect class=\"bar\" x=\"3\" y=\"9\" width=\"2\" height=\"12\"/>");
    let mut x = 6.0;
    for kg in per_side.iter().take(6) {
        let h = 8.0 + 20.0 * (kg.min(25.0) / 25.0).sqrt();
        let w = if *kg >= 10.0 { 6.0 } else { 4.0 };
        let class = if *kg >= 10.0 { "big" } else { "small" };
        let _ = write!(
            out,
            "<rect class=\"{class}\" x=\"{x:.1}\" y=\"{:.1}\" width=\"{w}\" height=\"{h:.1}\"/>",
            15.0 - h / 2.0
        );
        x += w + 1.0;
    }
    out.push_str("</svg>");
    out
}

/// `20 · 10`, or that the bar is empty.
pub fn words(per_side: &[f64]) -> String {
    if per_side.is_empty() {
        return "empty bar".to_owned();
    }
    per_side.iter().map(|p| plain(*p)).collect::<Vec<_>>().join(" · ")
}
