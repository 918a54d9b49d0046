//! One end of a bar with its plates: height falls with mass, ten and up filled.

use lantern_core::kit::Kit;
use lantern_core::loads::plate_change;
use std::fmt::Write as _;

/// The plates on one side, heaviest first; always shown beside the numerals.
pub fn stack(per_side: &[f64], kit: &Kit) -> String {
    let words = words(per_side, kit);
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
pub fn words(per_side: &[f64], kit: &Kit) -> String {
    if per_side.is_empty() {
        return "empty bar".to_owned();
    }
    marks(per_side, kit).join(" · ")
}

fn marks(plates: &[f64], kit: &Kit) -> Vec<String> {
    plates.iter().map(|p| kit.mark(*p)).collect()
}

/// What changes on each side from one weight to the next: `10 off, 15 on`, `+5`; empty when nothing does.
pub fn change(from: &[f64], to: &[f64], kit: &Kit) -> String {
    let (off, on) = plate_change(from, to);
    let list = |plates: &[f64]| marks(plates, kit).join(" ");
    match (off.is_empty(), on.is_empty()) {
        (true, true) => String::new(),
        (true, false) => format!("+{} each side", list(&on)),
        (false, true) => format!("\u{2212}{} each side", list(&off)),
        (false, false) => format!("{} off, {} on", list(&off), list(&on)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn plates_are_drawn_from_the_heaviest_and_said_in_words() {
        let s = stack(&[20.0, 10.0, 2.5], &Kit::usual());
        assert!(s.contains("aria-label=\"each side 20 · 10 · 2.5\""));
        assert_eq!((s.matches("class=\"big\"").count(), s.matches("class=\"small\"").count()), (2, 1));
        let heights: Vec<f64> = s
            .split("class=\"big\"")
            .skip(1)
            .map(|p| {
                p.split("height=\"")
                    .nth(1)
                    .and_then(|h| h.split('"').next())
                    .and_then(|h| h.parse().ok())
                    .unwrap()
            })
            .collect();
        assert!(heights[0] > heights[1], "height falls with mass: {heights:?}");
    }

    #[test]
    fn an_empty_bar_says_so() {
        assert_eq!(words(&[], &Kit::usual()), "empty bar");
        assert!(stack(&[], &Kit::usual()).contains("each side empty bar"));
    }

    #[test]
    fn what_changes_is_said_for_one_side() {
        let say = |a: &[f64], b: &[f64]| change(a, b, &Kit::usual());
        assert_eq!(say(&[20.0], &[20.0, 5.0]), "+5 each side");
        assert_eq!(say(&[20.0, 10.0], &[20.0, 15.0]), "10 off, 15 on");
        assert_eq!(say(&[20.0, 2.5], &[20.0]), "\u{2212}2.5 each side");
        assert_eq!(say(&[20.0], &[20.0]), "");
        let lb = Kit::usual_pounds();
        assert_eq!(words(&[lb.kg_of(45.0), lb.kg_of(2.5)], &lb), "45 · 2.5");
    }
}
