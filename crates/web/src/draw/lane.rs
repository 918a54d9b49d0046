//! Dot and whisker on a common axis: one drawing a table row, positions in per cent.

use super::esc;
use lantern_core::sheet::TargetUnit;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::Provenance;
use std::fmt::Write as _;

/// The axis of a table of lanes, in the unit of the window.
#[derive(Debug, Clone, PartialEq)]
pub struct Axis {
    low: f64,
    high: f64,
    step: f64,
    /// Ticks say value / this: 60 for minutes.
    per: f64,
    window: Option<(f64, f64)>,
    cap: Option<f64>,
    words: (String, String),
}

/// Segments that fit beside a table's text.
const WIDE: f64 = 12.0;
/// Segments that fit across a phone.
pub const NARROW: f64 = 8.0;

/// One range on an axis.
#[derive(Debug, Clone, PartialEq)]
pub struct Range {
    /// Low end.
    pub low: f64,
    /// Middle.
    pub middle: f64,
    /// High end.
    pub high: f64,
    /// How it is known.
    pub provenance: Provenance,
}

impl Axis {
    /// The axis that shows a window, a cap and all ranges, for a table beside text.
    pub fn of(stimulus: &Stimulus, ranges: &[Range]) -> Axis {
        Axis::with(stimulus, ranges, WIDE)
    }

    /// The same with other words over the window.
    pub fn saying(self, words: &str) -> Axis {
        Axis { words: (words.to_owned(), self.words.1), ..self }
    }

    /// The same with at most so many segments: a phone has room for few.
    pub fn with(stimulus: &Stimulus, ranges: &[Range], most: f64) -> Axis {
        let time = stimulus.unit == TargetUnit::Seconds;
        let cap = stimulus.cap_s.filter(|_| time);
        let ends =
            ranges.iter().flat_map(|r| [r.low, r.high]).chain(stimulus.low).chain(stimulus.high).chain(cap);
        let (mut low, mut high) = ends.fold((f64::INFINITY, 0.0f64), |(a, b), v| (a.min(v), b.max(v)));
        if !low.is_finite() || high <= low {
            (low, high) = (0.0, if time { 600.0 } else { 10.0 });
        }
        let per = if time { 60.0 } else { 1.0 };
        let span = (high - low) / per;
        let step = [0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0]
            .into_iter()
            .find(|s| span / s + 1.4 <= most)
            .unwrap_or(1000.0)
            * per;
        let low = ((low - 0.2 * step) / step).floor().max(0.0) * step;
        let high = ((high + 0.2 * step) / step).ceil() * step;
        let window = match (stimulus.low, stimulus.high) {
            (None, None) => None,
            (a, b) => Some((a.unwrap_or(low).max(low), b.unwrap_or(high).min(high))),
        };
        let words = (
            format!("target {}", stimulus.window_text()),
            cap.map_or_else(String::new, |c| format!("cap {}", lantern_core::units::clock(c))),
        );
        Axis { low, high, step, per, window, cap, words }
    }

    fn at(&self, v: f64) -> f64 {
        ((v - self.low) / (self.high - self.low) * 100.0).clamp(0.0, 100.0)
    }

    /// The head of the chart's column: words, ticks and scale bar, 42 px high.
    pub fn head(&self) -> String {
        let mut out = String::from("<svg class=\"hl-lane hl-axis\" aria-hidden=\"true\">");
        if let Some((a, b)) = self.window {
            let x = self.at((a + b) / 2.0).clamp(14.0, 86.0);
            let _ = write!(
                out,
                "<text class=\"tg\" x=\"{x:.2}%\" y=\"12\" text-anchor=\"middle\">{}</text>",
                esc(&self.words.0)
            );
        }
        if let Some(cap) = self.cap {
            let far = self.window.is_none_or(|(_, b)| self.at(cap) - self.at(b) > 16.0);
            if far {
                let _ = write!(
                    out,
                    "<text class=\"cp\" x=\"{:.2}%\" y=\"12\" text-anchor=\"middle\">{}</text>",
                    self.at(cap).min(93.0),
                    esc(&self.words.1)
                );
            }
        }
        let n = ((self.high - self.low) / self.step).round() as usize;
        for i in 0..=n {
            let v = self.low + self.step * i as f64;
            let anchor = if i == 0 {
                "start"
            } else if i == n {
                "end"
            } else {
                "middle"
            };
            let x = self.at(v);
            let tick = lantern_core::units::plain(v / self.per);
            let _ = write!(out, "<text x=\"{x:.2}%\" y=\"29\" text-anchor=\"{anchor}\">{tick}</text>");
            if i < n && i % 2 == 0 {
                let w = self.at(v + self.step) - x;
                let _ = write!(
                    out,
                    "<rect class=\"seg\" x=\"{x:.2}%\" y=\"34\" width=\"{w:.2}%\" height=\"7\"/>"
                );
            }
        }
        out.push_str("<rect class=\"segline\" x=\"0\" y=\"34.5\" width=\"100%\" height=\"6\"/></svg>");
        out
    }

    fn ground(&self, h: f64, out: &mut String) {
        if let Some((a, b)) = self.window {
            let (x, w) = (self.at(a), self.at(b) - self.at(a));
            let _ =
                write!(out, "<rect class=\"win\" x=\"{x:.2}%\" width=\"{w:.2}%\" y=\"0\" height=\"{h}\"/>");
            for e in [x, x + w] {
                let _ = write!(
                    out,
                    "<line class=\"winedge\" x1=\"{e:.2}%\" x2=\"{e:.2}%\" y1=\"0\" y2=\"{h}\"/>"
                );
            }
        }
        if let Some(c) = self.cap {
            let x = self.at(c);
            let _ = write!(out, "<line class=\"cap\" x1=\"{x:.2}%\" x2=\"{x:.2}%\" y1=\"0\" y2=\"{h}\"/>");
        }
    }

    /// A lane without a range: window and cap only.
    pub fn empty(&self, h: f64) -> String {
        let mut out = String::from("<svg class=\"hl-lane\" aria-hidden=\"true\">");
        self.ground(h, &mut out);
        out.push_str("</svg>");
        out
    }

    /// A lane with a range; `ghost`: where it was before a move; `result`: what happened. `label` says it in words.
    pub fn lane(
        &self,
        range: &Range,
        ghost: Option<f64>,
        result: Option<f64>,
        h: f64,
        label: &str,
    ) -> String {
        let mut out = format!("<svg class=\"hl-lane\" role=\"img\" aria-label=\"{}\">", esc(label));
        let _ = write!(out, "<rect class=\"lanebg\" x=\"0\" y=\"0\" width=\"100%\" height=\"{h}\"/>");
        self.ground(h, &mut out);
        let y = h / 2.0;
        let (a, m, b) = (self.at(range.low), self.at(range.middle), self.at(range.high));
        if let Some(g) = ghost {
            let x = self.at(g);
            let _ = write!(
                out,
                "<line class=\"ghostline\" x1=\"{m:.2}%\" x2=\"{x:.2}%\" y1=\"{y}\" y2=\"{y}\"/><circle class=\"ghost\" cx=\"{x:.2}%\" cy=\"{y}\" r=\"4.5\"/>"
            );
        }
        let assumed = if range.provenance == Provenance::Assumed { " is-a" } else { "" };
        let _ =
            write!(out, "<line class=\"wh{assumed}\" x1=\"{a:.2}%\" x2=\"{b:.2}%\" y1=\"{y}\" y2=\"{y}\"/>");
        for x in [a, b] {
            let (t, u) = (y - 5.0, y + 5.0);
            let _ = write!(out, "<line class=\"wh\" x1=\"{x:.2}%\" x2=\"{x:.2}%\" y1=\"{t}\" y2=\"{u}\"/>");
        }
        let ring = if range.provenance == Provenance::Tested { "" } else { " is-ring" };
        let _ = write!(out, "<circle class=\"dot{ring}\" cx=\"{m:.2}%\" cy=\"{y}\" r=\"4.5\"/>");
        if let Some(r) = result {
            let x = self.at(r);
            let (t, u) = (y - 9.0, y + 9.0);
            let _ = write!(out, "<line class=\"res\" x1=\"{x:.2}%\" x2=\"{x:.2}%\" y1=\"{t}\" y2=\"{u}\"/>");
        }
        out.push_str("</svg>");
        out
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;

    fn axis(text: &str, ranges: &[Range]) -> Axis {
        let block = read(text).sheet.blocks[0].clone();
        Axis::of(&Stimulus::of_sheet(&block, block.target.unwrap(), None), ranges)
    }

    fn range(low: f64, middle: f64, high: f64) -> Range {
        Range { low, middle, high, provenance: Provenance::Assumed }
    }

    #[test]
    fn the_axis_holds_window_cap_and_every_range() {
        let a =
            axis("# workout cap 14:00 target 9:00-12:00\nfor time\n9 burpees", &[range(437.0, 500.0, 640.0)]);
        assert_eq!((a.low, a.high, a.step), (420.0, 900.0, 60.0));
        assert_eq!(a.at(660.0), 50.0);
        assert!(a.head().contains("target 9:00 to 12:00") && a.head().contains(">14</text>"));
    }

    #[test]
    fn a_lane_says_in_words_what_it_draws() {
        let r = range(437.0, 500.0, 640.0);
        let a = axis("# workout target 5-6 rounds\namrap 12:00\n9 burpees", &[range(4.1, 5.0, 6.2)]);
        let lane = a.lane(&r, None, Some(5.0), 25.0, "<Ada> likely 5");
        assert!(
            lane.contains("aria-label=\"&lt;Ada&gt; likely 5\"")
                && lane.contains("is-ring")
                && lane.contains("is-a")
        );
        assert!(lane.contains("class=\"res\""));
    }
}
