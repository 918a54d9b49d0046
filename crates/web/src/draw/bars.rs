//! Where results fell in their range: ten bars, each of which should hold a tenth; and where a round's time goes.

use std::fmt::Write as _;

/// Ten bars, better first; the outer two are outside the 80 % range.
pub fn slots(slots: &[usize; 10]) -> String {
    let (w, h, base) = (592.0, 236.0, 198.0);
    let most = slots.iter().copied().max().unwrap_or(1).max(1) as f64;
    let mean = slots.iter().sum::<usize>() as f64 / 10.0;
    let top = most.max(mean) * 1.08;
    let height = |n: f64| n / top * (base - 8.0);
    let step = w / 10.0;
    let said: Vec<String> = slots.iter().map(usize::to_string).collect();
    let mut out = format!(
        "<svg class=\"hl-chart hl-bars\" viewBox=\"0 0 {w} {h}\" role=\"img\" aria-label=\"Results in each tenth of the range, better first: {}\">",
        said.join(", ")
    );
    let _ =
        write!(out, "<rect class=\"fan\" x=\"{step}\" y=\"0\" width=\"{}\" height=\"{base}\"/>", step * 8.0);
    for (i, n) in slots.iter().enumerate() {
        let x = step * i as f64 + 5.0;
        let bar = height(*n as f64);
        let outside = i == 0 || i == 9;
        let class = if outside { "out" } else { "in" };
        let _ = write!(
            out,
            "<rect class=\"{class}\" x=\"{x:.1}\" y=\"{:.1}\" width=\"{:.1}\" height=\"{bar:.1}\"/>",
            base - bar,
            step - 10.0
        );
        let tall = bar > 24.0;
        let (text, y) =
            if tall { (if outside { "off" } else { "on" }, base - 8.0) } else { ("off", base - bar - 5.0) };
        let _ = write!(
            out,
            "<text class=\"{text}\" x=\"{:.1}\" y=\"{y:.1}\" text-anchor=\"middle\">{n}</text>",
            x + step / 2.0 - 5.0
        );
    }
    let y = base - height(mean);
    let _ = write!(
        out,
        "<line class=\"last\" x1=\"0\" x2=\"{w}\" y1=\"{y:.1}\" y2=\"{y:.1}\"/><line class=\"axis\" x1=\"0\" x2=\"{w}\" y1=\"{base}\" y2=\"{base}\"/>"
    );
    for (x, words) in [(step / 2.0, "better"), (w / 2.0, "inside the 80 % range"), (w - step / 2.0, "worse")]
    {
        let _ = write!(out, "<text x=\"{x:.1}\" y=\"{}\" text-anchor=\"middle\">{words}</text>", base + 18.0);
    }
    out.push_str("</svg>");
    out
}

/// A lying bar of alternating segments with a name and a share under each.
pub fn shares(parts: &[(String, f64)]) -> String {
    let said: Vec<String> = parts.iter().map(|(n, s)| format!("{n} {:.0} per cent", s * 100.0)).collect();
    let mut out = format!(
        "<svg class=\"hl-chart\" height=\"10\" role=\"img\" aria-label=\"Where a round's time goes: {}\">",
        super::esc(&said.join(", "))
    );
    let mut x = 0.0;
    for (i, (_, s)) in parts.iter().enumerate() {
        if i % 2 == 0 {
            let _ = write!(
                out,
                "<rect class=\"seg\" x=\"{x:.2}%\" y=\"0\" width=\"{:.2}%\" height=\"9\"/>",
                s * 100.0
            );
        }
        x += s * 100.0;
    }
    out.push_str("<rect class=\"segline\" x=\"0\" y=\".5\" width=\"100%\" height=\"8\"/></svg>");
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ten_bars_say_their_counts_and_the_outer_two_are_open() {
        let s = slots(&[1, 2, 0, 0, 0, 1, 0, 0, 0, 1]);
        assert!(s.contains("better first: 1, 2, 0, 0, 0, 1, 0, 0, 0, 1"), "{s}");
        assert_eq!((s.matches("class=\"out\"").count(), s.matches("class=\"in\"").count()), (2, 8));
    }

    #[test]
    fn nothing_to_draw_is_drawn_without_a_division_by_zero() {
        let s = slots(&[0; 10]);
        assert!(!s.contains("NaN") && !s.contains("inf"), "{s}");
    }

    #[test]
    fn shares_alternate_and_are_said() {
        let s = shares(&[("row".into(), 0.25), ("burpee & co".into(), 0.75)]);
        assert!(s.contains("row 25 per cent, burpee &amp; co 75 per cent"));
        assert_eq!(s.matches("class=\"seg\"").count(), 1);
    }
}
