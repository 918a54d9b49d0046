//! One member's run as a strip on the clock: work filled, breaks open, rests tinted, changes a hairline.

use lantern_core::plan::TraceRow;
use lantern_core::units::clock;
use std::fmt::Write as _;

const H: f64 = 58.0;
const TOP: f64 = 16.0;
const BAR: f64 = 22.0;

/// The strip; `ends`: (name, s) of the rounds. Empty for a run in which nothing happens.
pub fn strip(rows: &[TraceRow], ends: &[f64], label: &str) -> String {
    let Some(span) = rows.last().map(|r| r.to_s).filter(|s| *s > 0.0) else { return String::new() };
    let x = |t: f64| t / span * 100.0;
    let mut out = format!(
        "<svg class=\"hl-chart hl-strip\" height=\"{H}\" role=\"img\" aria-label=\"{}\">",
        super::esc(label)
    );
    for r in rows {
        let (class, y, h) = match r.what {
            "work" => (if r.line.is_some_and(|l| l % 2 == 1) { "work odd" } else { "work" }, TOP, BAR),
            "rest" => ("rest", TOP, BAR),
            "break" => ("break", TOP, BAR),
            _ => ("change", TOP + BAR / 2.0 - 1.0, 2.0),
        };
        let _ = write!(
            out,
            "<rect class=\"{class}\" x=\"{:.3}%\" y=\"{y}\" width=\"{:.3}%\" height=\"{h}\"><title>{}</title></rect>",
            x(r.from_s),
            x(r.to_s) - x(r.from_s),
            super::esc(&title(r))
        );
    }
    let every = ends.len().div_ceil(12).max(1);
    for (i, t) in ends.iter().enumerate() {
        let _ = write!(
            out,
            "<line class=\"end\" x1=\"{0:.3}%\" x2=\"{0:.3}%\" y1=\"{1}\" y2=\"{2}\"/>",
            x(*t),
            TOP - 4.0,
            TOP + BAR + 4.0
        );
        let last = i + 1 == ends.len();
        if (i + 1) % every == 0 || last {
            let anchor = if last { "end" } else { "middle" };
            let _ =
                write!(out, "<text x=\"{:.3}%\" y=\"11\" text-anchor=\"{anchor}\">{}</text>", x(*t), i + 1);
        }
    }
    scale(span, &mut out, &x);
    out.push_str("</svg>");
    out
}

fn title(r: &TraceRow) -> String {
    let span = format!("{} to {}", clock(r.from_s), clock(r.to_s));
    let name = || lantern_core::movement::say::spoken(&r.movement);
    match r.what {
        "work" => format!("{span}: {} {}", lantern_core::units::plain(r.units.round()), name()),
        "change" => format!("{span}: to {}", name()),
        what => format!("{span}: {what}"),
    }
}

fn scale(span: f64, out: &mut String, x: &impl Fn(f64) -> f64) {
    let step = [30.0, 60.0, 120.0, 300.0].into_iter().find(|s| span / s <= 10.0).unwrap_or(600.0);
    let n = (span / step).floor() as usize;
    for i in 0..=n {
        let t = step * i as f64;
        let anchor = if i == 0 {
            "start"
        } else if x(t) > 96.0 {
            "end"
        } else {
            "middle"
        };
        let _ = write!(
            out,
            "<text x=\"{:.3}%\" y=\"{H}\" dy=\"-3\" text-anchor=\"{anchor}\">{}</text>",
            x(t),
            clock(t)
        );
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn row(what: &'static str, from_s: f64, to_s: f64) -> TraceRow {
        TraceRow {
            from_s,
            to_s,
            what,
            round: 0,
            line: Some(0),
            movement: "burpee".into(),
            units: 9.0,
            unit: "reps",
        }
    }

    #[test]
    fn every_stretch_is_drawn_and_said() {
        let rows = [
            row("work", 0.0, 40.0),
            row("break", 40.0, 50.0),
            row("change", 50.0, 55.0),
            row("rest", 55.0, 100.0),
        ];
        let s = strip(&rows, &[55.0, 100.0], "Ann & Bo");
        for class in ["work", "break", "change", "rest"] {
            assert_eq!(s.matches(&format!("class=\"{class}\"")).count(), 1, "{class}: {s}");
        }
        assert!(s.contains("0:00 to 0:40: 9 burpee") && s.contains("aria-label=\"Ann &amp; Bo\""));
        assert_eq!(s.matches("class=\"end\"").count(), 2);
        assert!(
            s.contains("x=\"55.000%\" y=\"16\" width=\"45.000%\""),
            "a rest takes its share of the clock"
        );
        assert_eq!(strip(&[], &[], ""), "");
    }
}
