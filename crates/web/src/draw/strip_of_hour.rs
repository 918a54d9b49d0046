//! An hour as a strip: its parts to scale, the line at which the class ends, what another hour changes.

use lantern_core::hour::{Hour, Slot};
use lantern_core::units::clock;
use std::fmt::Write as _;

/// Width of the strip in its own units; past the end of the class there is room for a quarter of it.
const WIDE: f64 = 240.0;
const ROOM: f64 = 1.25;

/// The strip of an hour. `was`: the hour that it is compared with; parts that differ in length are marked.
pub fn strip(hour: &Hour, was: Option<&Hour>) -> String {
    let longest = f64::from(hour.length_s.max(1)) * ROOM;
    let x = |s: f64| s.min(longest) / longest * WIDE;
    let same = |s: &Slot| {
        was.is_none_or(|w| {
            w.slots.iter().any(|o| o.key == s.key && o.length_s == s.length_s && o.column == s.column)
        })
    };
    let mut out = format!(
        "<svg class=\"hl-strip\" viewBox=\"0 0 {WIDE} 26\" preserveAspectRatio=\"none\" role=\"img\" aria-label=\"{} of {}\">",
        clock(f64::from(hour.end_s())),
        clock(f64::from(hour.length_s))
    );
    for s in &hour.slots {
        let (from, to) = (x(f64::from(s.start_s)), x(f64::from(s.end_s())));
        let (y, h) = s.column.map_or((5.0, 16.0), |c| {
            let each = 16.0 / f64::from(c.of.max(1));
            (5.0 + each * f64::from(c.at), each)
        });
        let class = if same(s) { "" } else { " class=\"chg\"" };
        let _ = write!(
            out,
            "<rect{class} x=\"{from:.1}\" y=\"{y:.1}\" width=\"{:.1}\" height=\"{h:.1}\"/>",
            (to - from).max(0.0)
        );
    }
    let end = x(f64::from(hour.length_s));
    if hour.overrun_s > 0 {
        let to = x(f64::from(hour.end_s()));
        let _ = write!(
            out,
            "<rect class=\"ovr\" x=\"{end:.1}\" y=\"5\" width=\"{:.1}\" height=\"16\"/>",
            to - end
        );
    }
    let _ = write!(out, "<line x1=\"{end:.1}\" x2=\"{end:.1}\" y1=\"0\" y2=\"26\"/></svg>");
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::hour::{BRIEF, HourPart, WARM_UP, WantedLength, hour};

    fn of(class_s: u32, warm_s: u32) -> Hour {
        let parts = vec![
            WantedLength::of(HourPart::Brief, None, BRIEF, ""),
            WantedLength::of(HourPart::WarmUp, None, [warm_s, WARM_UP[1]], ""),
        ];
        hour(class_s, parts, &[], None)
    }

    #[test]
    fn parts_are_to_scale_and_what_changed_or_runs_over_is_marked() {
        let (long, short) = (of(600, 600), of(600, 420));
        let drawn = strip(&long, None);
        // 180 of 750 s are 57.6 of 240
        assert!(drawn.contains("x=\"0.0\" y=\"5.0\" width=\"57.6\""), "{drawn}");
        assert!(
            drawn.contains("class=\"ovr\" x=\"192.0\"") && drawn.contains("aria-label=\"13:00 of 10:00\"")
        );
        assert!(!drawn.contains("chg"));
        let mended = strip(&short, Some(&long));
        assert_eq!((mended.matches("chg").count(), mended.matches("ovr").count()), (1, 0));
    }
}
