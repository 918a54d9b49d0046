//! An address as squares that a phone reads.

use super::esc;
use qrcode::{Color, QrCode};
use std::fmt::Write as _;

/// Squares that a phone reads as an address; empty where it is too long for any.
pub fn squares(address: &str, label: &str) -> String {
    let Ok(code) = QrCode::new(address) else { return String::new() };
    let width = code.width();
    let mut path = String::new();
    for (i, c) in code.to_colors().into_iter().enumerate() {
        if c == Color::Dark {
            let _ = write!(path, "M{} {}h1v1h-1z", i % width, i / width);
        }
    }
    // four squares of paper around it, or no phone finds it
    let (all, label) = (width + 8, esc(label));
    format!(
        "<svg class=\"hl-code\" viewBox=\"-4 -4 {all} {all}\" role=\"img\" aria-label=\"{label}\" shape-rendering=\"crispEdges\"><path fill=\"#fff\" d=\"M-4-4h{all}v{all}h-{all}z\"/><path fill=\"#000\" d=\"{path}\"/></svg>"
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn squares_have_paper_around_them_and_three_corners() {
        let svg = squares("http://127.0.0.1:8080/card/abc", "a \"card\"");
        // version 3 (29 squares a side) holds 30 letters with the usual repair
        assert!(svg.contains("viewBox=\"-4 -4 37 37\""), "{}", &svg[..120]);
        // the first corner is seven dark squares in a row
        assert!((0..7).all(|x| svg.contains(&format!("M{x} 0h1v1h-1z"))) && !svg.contains("M7 0h1"));
        assert!(svg.contains("aria-label=\"a &quot;card&quot;\""));
        assert_eq!(squares(&"x".repeat(8000), ""), "");
    }
}
