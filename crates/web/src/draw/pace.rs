//! The pace chart of a version: clock across, work upwards; the fan of paces that end inside the window.

use lantern_core::plan::{Mark, VersionPace};
use lantern_core::stimulus::Stimulus;
use lantern_core::units::clock;
use std::fmt::Write as _;

const W: f64 = 324.0;
const H: f64 = 226.0;
const TOP: f64 = 24.0;
const BASE: f64 = 196.0;
/// Room on the right for the names of the rounds.
const RIGHT: f64 = 284.0;

/// The chart; empty where nothing is paced.
pub fn chart(pace: &VersionPace, stimulus: &Stimulus, length_s: f64) -> String {
    let end = pace.checkpoints.last().map_or(0.0, |c| c.on_pace);
    if end <= 0.0 {
        return String::new();
    }
    let last = stimulus
        .cap_s
        .unwrap_or(0.0)
        .max(end)
        .max(stimulus.high.filter(|_| stimulus.is_time()).unwrap_or(0.0));
    let span = last.max(if stimulus.is_time() { 0.0 } else { length_s });
    let x = |t: f64| t / span * RIGHT;
    let y = |share: f64| BASE - share * (BASE - TOP);
    let mut out = format!(
        "<svg class=\"hl-chart\" viewBox=\"0 0 {W} {H}\" role=\"img\" aria-label=\"Pace of {}: {}\">",
        pace.tier.word(),
        pace.checkpoints
            .iter()
            .map(|c| format!("{} at {}", c.at.done(), clock(c.on_pace)))
            .collect::<Vec<_>>()
            .join(", ")
    );
    let path = |stretch: f64| {
        let mut d = format!("M{:.1} {:.1}", x(0.0), y(0.0));
        for c in &pace.checkpoints {
            let _ = write!(d, "L{:.1} {:.1}", x(c.on_pace * stretch), y(c.share));
        }
        d
    };
    if let (true, Some(high)) = (stimulus.is_time(), stimulus.high) {
        let low = stimulus.low.unwrap_or(end).min(end);
        let back: Vec<String> = pace
            .checkpoints
            .iter()
            .rev()
            .map(|c| format!("L{:.1} {:.1}", x(c.on_pace * high.max(end) / end), y(c.share)))
            .collect();
        let _ = write!(out, "<path class=\"fan\" d=\"{}{}Z\"/>", path(low / end), back.join(""));
        let _ = write!(
            out,
            "<path class=\"fanedge\" d=\"{}\"/><path class=\"fanedge\" d=\"{}\"/>",
            path(low / end),
            path(high.max(end) / end)
        );
    }
    grid(pace, &mut out, &y);
    if let Some(cap) = stimulus.cap_s.filter(|_| stimulus.is_time()) {
        let _ = write!(out, "<path class=\"last\" d=\"{}\"/>", path((cap / end).max(1.0)));
        let _ = write!(
            out,
            "<line class=\"cap\" x1=\"{0:.1}\" x2=\"{0:.1}\" y1=\"{1}\" y2=\"{BASE}\"/>",
            x(cap),
            TOP - 8.0
        );
    }
    let _ = write!(out, "<path class=\"pace\" d=\"{}\"/>", path(1.0));
    rings(pace, &mut out, &x, &y);
    scale(span, &mut out, &x);
    out.push_str("</svg>");
    out
}

fn grid(pace: &VersionPace, out: &mut String, y: &impl Fn(f64) -> f64) {
    let n = pace.checkpoints.len();
    let mut before = 0.0;
    let lines = pace.checkpoints.iter().any(|c| matches!(c.at, Mark::Line(..)));
    for (i, c) in pace.checkpoints.iter().enumerate() {
        let _ =
            write!(out, "<line class=\"grid\" x1=\"0\" x2=\"{W}\" y1=\"{0:.1}\" y2=\"{0:.1}\"/>", y(c.share));
        if n <= 6 {
            let name = c.at.stretch(i + 1, lines);
            let _ = write!(
                out,
                "<text x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"end\">{name}</text>",
                W,
                y((before + c.share) / 2.0) + 4.0
            );
        }
        before = c.share;
    }
}

fn rings(pace: &VersionPace, out: &mut String, x: &impl Fn(f64) -> f64, y: &impl Fn(f64) -> f64) {
    let every = pace.checkpoints.len().div_ceil(5).max(1);
    let n = pace.checkpoints.len();
    for (i, c) in pace.checkpoints.iter().enumerate() {
        if (i + 1) % every != 0 && i + 1 != n {
            continue;
        }
        let (cx, cy) = (x(c.on_pace), y(c.share));
        let _ = write!(out, "<circle class=\"cp\" cx=\"{cx:.1}\" cy=\"{cy:.1}\" r=\"4.5\"/>");
        let (tx, anchor) = if cx < 60.0 { (cx + 9.0, "start") } else { (cx - 9.0, "end") };
        let _ = write!(
            out,
            "<text class=\"k halo\" x=\"{tx:.1}\" y=\"{:.1}\" text-anchor=\"{anchor}\">{}</text>",
            cy - 3.0,
            clock(c.on_pace)
        );
    }
}

/// The lying scale bar, a minute a segment.
fn scale(span: f64, out: &mut String, x: &impl Fn(f64) -> f64) {
    let minutes = span / 60.0;
    let step = [1.0, 2.0, 5.0, 10.0].into_iter().find(|s| minutes / s <= 16.0).unwrap_or(20.0) * 60.0;
    let label = if minutes / (step / 60.0) > 6.0 { 3 } else { 1 };
    let n = (span / step).ceil() as usize;
    for i in 0..n {
        let (a, b) = (step * i as f64, (step * (i + 1) as f64).min(span));
        if i % 2 == 0 {
            let _ = write!(
                out,
                "<rect class=\"seg\" x=\"{:.1}\" y=\"{BASE}\" width=\"{:.1}\" height=\"7\"/>",
                x(a),
                x(b) - x(a)
            );
        }
        if i % label == 0 {
            let anchor = if i == 0 { "start" } else { "middle" };
            let _ = write!(
                out,
                "<text x=\"{:.1}\" y=\"{}\" text-anchor=\"{anchor}\">{}</text>",
                x(a),
                BASE + 22.0,
                a / 60.0
            );
        }
    }
    let _ = write!(
        out,
        "<rect class=\"segline\" x=\".5\" y=\"{}\" width=\"{:.1}\" height=\"6\"/>",
        BASE + 0.5,
        RIGHT - 1.0
    );
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::plan::Checkpoint;
    use lantern_core::sheet::read;
    use lantern_core::versions::{Splits, Tier};

    fn pace(times: &[f64]) -> VersionPace {
        let n = times.len() as f64;
        let checkpoints = times
            .iter()
            .enumerate()
            .map(|(i, t)| Checkpoint {
                at: Mark::Round(i + 1),
                share: (i + 1) as f64 / n,
                on_pace: *t,
                latest_window: None,
                latest_cap: None,
                cut: None,
            })
            .collect();
        VersionPace {
            tier: Tier::Trim,
            aim: 0.0,
            member: None,
            checkpoints,
            splits: Splits::default(),
            time_shares: Vec::new(),
            round_s: None,
        }
    }

    fn stimulus(text: &str) -> Stimulus {
        let b = read(text).sheet.blocks[0].clone();
        Stimulus::of_sheet(&b, b.target.unwrap(), None)
    }

    #[test]
    fn a_chart_has_the_fan_the_cap_and_a_ring_for_each_round() {
        let s = stimulus("# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n9 burpees");
        let c = chart(&pace(&[200.0, 410.0, 630.0]), &s, 0.0);
        assert_eq!(c.matches("class=\"cp\"").count(), 3);
        assert!(c.contains("class=\"fan\"") && c.contains("class=\"cap\"") && c.contains(">10:30</text>"));
        assert!(c.contains("aria-label=\"Pace of Trim: Round 1 done at 3:20"));
    }

    #[test]
    fn an_open_clock_has_no_fan() {
        let s = stimulus("# workout target 5-6 rounds\namrap 12:00\n9 burpees");
        let c = chart(&pace(&[130.0, 270.0]), &s, 720.0);
        assert!(!c.contains("class=\"fan\"") && !c.contains("class=\"cap\""));
    }

    #[test]
    fn many_rounds_get_a_few_labels_and_nothing_is_nothing() {
        let s = stimulus("# workout target 9:00-12:00\n20 rounds for time\n9 burpees");
        let many: Vec<f64> = (1..=20).map(|i| f64::from(i) * 33.0).collect();
        assert!(chart(&pace(&many), &s, 0.0).matches("class=\"cp\"").count() <= 6);
        assert_eq!(chart(&pace(&[]), &s, 0.0), "");
    }
}
