//! A lift over time: days across, 1RM upwards; tested filled, estimated a ring, with the spread of the formulas.

use chrono::NaiveDate;
use lantern_core::kit::Kit;
use lantern_core::loads::Point;
use lantern_core::units::Provenance;
use std::fmt::Write as _;

const W: f64 = 860.0;
const H: f64 = 260.0;
const LEFT: f64 = 46.0;
const RIGHT: f64 = 836.0;
const TOP: f64 = 16.0;
const BASE: f64 = 222.0;

/// Steps of the scale, in the kit's unit.
const STEPS: [f64; 6] = [2.0, 5.0, 10.0, 20.0, 50.0, 100.0];

/// The chart; `base_kg`: what 100 % is today. Empty without a point.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub fn chart(points: &[Point], today: NaiveDate, base_kg: f64, kit: &Kit) -> String {
    let Some(first) = points.first() else { return String::new() };
    let low = points.iter().map(|p| p.low).fold(base_kg, f64::min);
    let high = points.iter().map(|p| p.high).fold(base_kg, f64::max);
    let one = kit.kg_of(1.0);
    let step = one * STEPS.into_iter().find(|s| (high - low) / (s * one) <= 5.0).unwrap_or(200.0);
    let (floor, ceiling) = ((low / step).floor() * step, ((high / step).ceil() * step).max(low + step));
    let days = (today - first.date).num_days().max(14) as f64;
    let x = |d: NaiveDate| LEFT + 14.0 + (RIGHT - LEFT - 28.0) * (d - first.date).num_days() as f64 / days;
    let y = |kg: f64| BASE - (BASE - TOP) * (kg - floor) / (ceiling - floor).max(0.1);
    let last = points.last().map_or(0.0, |p| p.kg);
    let mut out = format!(
        "<svg class=\"hl-progress\" viewBox=\"0 0 {W} {H}\" role=\"img\" aria-label=\"{} days, the last {} {}\">",
        points.len(),
        kit.mark((last * 10.0).round() / 10.0),
        kit.unit_word()
    );
    let mut at = floor;
    while at <= ceiling + 0.01 {
        let _ = write!(
            out,
            "<path class=\"grid\" d=\"M{LEFT} {0:.1}H{RIGHT}\"/><text x=\"{1}\" y=\"{2:.1}\" text-anchor=\"end\">{3}</text>",
            y(at),
            LEFT - 8.0,
            y(at) + 4.5,
            kit.mark((at / one).round() * one)
        );
        at += step;
    }
    let _ = write!(out, "<path class=\"now\" d=\"M{LEFT} {0:.1}H{RIGHT}\"/>", y(base_kg));
    let mut shown = f64::NEG_INFINITY;
    for d in points.iter().map(|p| p.date).chain([today]) {
        if x(d) - shown > 64.0 {
            let _ = write!(
                out,
                "<text x=\"{:.1}\" y=\"{}\" text-anchor=\"middle\">{}</text>",
                x(d),
                BASE + 22.0,
                d.format("%-d %b")
            );
            shown = x(d);
        }
    }
    for p in points {
        let (cx, cy, r) = (x(p.date), y(p.kg), if p.base { 5.5 } else { 3.5 });
        if p.high - p.low > 0.05 {
            let _ = write!(out, "<path class=\"spread\" d=\"M{cx:.1} {:.1}V{:.1}\"/>", y(p.low), y(p.high));
        }
        let class = match (p.provenance, p.base) {
            (Provenance::Tested, _) => "tested",
            (_, true) => "estimated",
            (_, false) => "estimated set",
        };
        let _ = write!(
            out,
            "<circle class=\"{class}\" cx=\"{cx:.1}\" cy=\"{cy:.1}\" r=\"{r}\"><title>{}: {}</title></circle>",
            p.date.format("%-d %b %Y"),
            super::esc(&p.words)
        );
    }
    out.push_str("</svg>");
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn point(day: u32, kg: f64, tested: bool) -> Point {
        Point {
            date: NaiveDate::from_ymd_opt(2026, 11, day).unwrap(),
            kg,
            low: if tested { kg } else { kg - 2.0 },
            high: if tested { kg } else { kg + 2.0 },
            provenance: if tested { Provenance::Tested } else { Provenance::Estimated },
            base: tested,
            words: format!("{kg} x 1"),
        }
    }

    #[test]
    fn marks_say_where_a_point_comes_from_and_heights_follow_the_load() {
        let today = NaiveDate::from_ymd_opt(2026, 11, 30).unwrap();
        let svg = chart(&[point(2, 100.0, true), point(12, 110.0, false)], today, 104.0, &Kit::usual());
        assert_eq!(
            (svg.matches("class=\"tested\"").count(), svg.matches("class=\"estimated set\"").count()),
            (1, 1)
        );
        assert_eq!(svg.matches("class=\"spread\"").count(), 1);
        let cy: Vec<f64> =
            svg.split("cy=\"").skip(1).map(|p| p.split('"').next().unwrap().parse().unwrap()).collect();
        assert!(cy[1] < cy[0], "heavier stands higher: {cy:?}");
        assert_eq!(chart(&[], today, 100.0, &Kit::usual()), "");
    }
}
