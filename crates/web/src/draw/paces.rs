//! One chart for all versions of a workout: clock across, share of the work upwards, a line for each version, and the band in
//! which a chosen member is 8 times in 10.

use super::esc;
use lantern_core::plan::VersionPace;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::clock;
use lantern_core::versions::{Placed, Splits, Tier};
use std::fmt::Write as _;

const W: f64 = 900.0;
const H: f64 = 260.0;
const TOP: f64 = 26.0;
const BASE: f64 = 222.0;
const LEFT: f64 = 4.0;
const RIGHT: f64 = 850.0;

/// The member whose band is drawn.
pub struct Chosen<'a> {
    /// Name.
    pub name: &'a str,
    /// Place and range.
    pub placed: &'a Placed,
    /// Splits at the middle of the range.
    pub splits: &'a Splits,
}

/// Points of a way through the work: (s, share), the start with it.
fn points(splits: &Splits, of: f64) -> Vec<(f64, f64)> {
    let mut out = vec![(0.0, 0.0)];
    if splits.round_ends.len() > 1 {
        out.extend(splits.round_ends.iter().enumerate().map(|(i, t)| (*t, (i + 1) as f64 / of)));
    } else {
        let n = splits.lines.len().max(1) as f64;
        out.extend(splits.lines.iter().enumerate().map(|(i, l)| (l.to_s, (i + 1) as f64 / n)));
    }
    out
}

/// s at which a share of the work is done on a way through it.
fn time_at(pts: &[(f64, f64)], share: f64) -> Option<f64> {
    pts.windows(2).find_map(|w| {
        let [(t0, s0), (t1, s1)] = w else { return None };
        (*s0 <= share && share <= *s1 && s1 > s0).then(|| t0 + (t1 - t0) * (share - s0) / (s1 - s0))
    })
}

/// The chart; empty where nothing is paced.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub fn chart(paces: &[VersionPace], stimulus: &Stimulus, length_s: f64, chosen: Option<&Chosen>) -> String {
    let paced: Vec<&VersionPace> = paces.iter().filter(|p| !p.checkpoints.is_empty()).collect();
    if paced.is_empty() {
        return String::new();
    }
    let time = stimulus.is_time();
    // on an open clock the share is of the most rounds that any version has
    let most = paced.iter().map(|p| p.splits.round_ends.len()).max().unwrap_or(1).max(1) as f64;
    let of = |p: &Splits| if time { p.round_ends.len().max(1) as f64 } else { most };
    let ends = paced.iter().filter_map(|p| p.checkpoints.last()).map(|c| c.on_pace);
    let band = chosen.filter(|c| !c.splits.lines.is_empty());
    let high = band.map_or(0.0, |c| if time { c.placed.predicted.prediction.p90() } else { 0.0 });
    let span = ends
        .fold(0.0, f64::max)
        .max(high)
        .max(stimulus.cap_s.unwrap_or(0.0))
        .max(if time { stimulus.high.unwrap_or(0.0) } else { length_s })
        .max(1.0);
    let x = |t: f64| LEFT + t / span * (RIGHT - LEFT);
    let y = |share: f64| BASE - share.min(1.06) * (BASE - TOP);
    let path = |pts: &[(f64, f64)]| {
        pts.iter().enumerate().fold(String::new(), |mut d, (i, (t, s))| {
            let _ = write!(d, "{}{:.1} {:.1}", if i == 0 { "M" } else { "L" }, x(*t), y(*s));
            d
        })
    };
    let says: Vec<String> = paced
        .iter()
        .map(|p| {
            format!(
                "{} ends at {}",
                p.tier.word(),
                p.checkpoints.last().map_or_else(String::new, |c| clock(c.on_pace))
            )
        })
        .collect();
    let mut out = format!(
        "<svg class=\"hl-chart hl-paces\" viewBox=\"0 0 {W} {H}\" role=\"img\" aria-label=\"Clock against share of the work: {}\">",
        esc(&says.join(", "))
    );
    for quarter in [0.25, 0.5, 0.75, 1.0] {
        let _ = write!(
            out,
            "<line class=\"grid\" x1=\"{LEFT}\" x2=\"{RIGHT}\" y1=\"{0:.1}\" y2=\"{0:.1}\"/>",
            y(quarter)
        );
        let _ = write!(
            out,
            "<text x=\"{W}\" y=\"{:.1}\" text-anchor=\"end\">{}</text>",
            y(quarter) + 4.0,
            share_word(quarter)
        );
    }
    if let (true, Some(a), Some(b)) = (time, stimulus.low, stimulus.high) {
        let _ = write!(
            out,
            "<rect class=\"fan\" x=\"{:.1}\" width=\"{:.1}\" y=\"{TOP}\" height=\"{}\"/><text class=\"k\" x=\"{:.1}\" y=\"{}\" text-anchor=\"middle\">target</text>",
            x(a),
            x(b) - x(a),
            BASE - TOP,
            x((a + b) / 2.0),
            BASE - 8.0
        );
    }
    if let Some(cap) = stimulus.cap_s.filter(|_| time) {
        let _ = write!(
            out,
            "<line class=\"cap\" x1=\"{0:.1}\" x2=\"{0:.1}\" y1=\"{TOP}\" y2=\"{BASE}\"/>",
            x(cap)
        );
    }
    if let Some(c) = band {
        let r = &c.placed.predicted.prediction;
        let pts = points(c.splits, of(c.splits));
        let stretched = |f: f64| -> Vec<(f64, f64)> {
            pts.iter().map(|(t, s)| if time { (t * f, *s) } else { (*t, s * f) }).collect()
        };
        let middle = r.p50().max(1e-6);
        let (early, late) = (stretched(r.p10() / middle), stretched(r.p90() / middle));
        let back = path(&late.into_iter().rev().collect::<Vec<_>>()).replacen('M', "L", 1);
        let _ = write!(
            out,
            "<path class=\"band\" d=\"{}{back}Z\"><title>{}: 8 times in 10 in here</title></path>",
            path(&early),
            esc(c.name)
        );
    }
    for p in &paced {
        let pts = points(&p.splits, of(&p.splits));
        let _ =
            write!(out, "<path class=\"pace is-{}\" d=\"{}\"/>", p.tier.letter().to_lowercase(), path(&pts));
        // the letter stands on the line, each version's at another height
        let at = match p.tier {
            Tier::Full => 0.62,
            Tier::Trim => 0.42,
            Tier::Base => 0.82,
        };
        if let Some(t) = time_at(&pts, at) {
            let _ = write!(
                out,
                "<text class=\"k halo\" x=\"{:.1}\" y=\"{:.1}\" text-anchor=\"middle\">{}</text>",
                x(t),
                y(at) + 4.0,
                p.tier.letter(),
            );
        }
    }
    let minutes = span / 60.0;
    let step = [1.0, 2.0, 5.0, 10.0].into_iter().find(|s| minutes / s <= 16.0).unwrap_or(20.0);
    let mut m = 0.0;
    while m <= minutes + 1e-6 {
        let _ = write!(
            out,
            "<line class=\"grid\" x1=\"{0:.1}\" x2=\"{0:.1}\" y1=\"{BASE}\" y2=\"{1}\"/><text x=\"{0:.1}\" y=\"{2}\" text-anchor=\"{3}\">{m}</text>",
            x(m * 60.0),
            BASE + 6.0,
            BASE + 22.0,
            if m == 0.0 { "start" } else { "middle" }
        );
        m += step;
    }
    out.push_str("</svg>");
    out
}

fn share_word(share: f64) -> &'static str {
    match share {
        s if s < 0.3 => "a quarter",
        s if s < 0.6 => "half",
        s if s < 0.8 => "¾",
        _ => "all",
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::NaiveDate;
    use lantern_core::kit::Kit;
    use lantern_core::plan::{Class, Options, plan};
    use lantern_core::roster::Member;
    use lantern_core::settings::Settings;
    use lantern_core::sheet::read;

    #[test]
    fn every_version_has_a_line_and_the_member_a_band() {
        let class = Class {
            members: Member::archetypes(),
            kit: Kit::usual(),
            date: NaiveDate::from_ymd_opt(2026, 11, 24).unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let sheet =
            read("# workout cap 14:00 target 8:00-12:00\n4 rounds for time\n12 burpees\n200 m run").sheet;
        let made =
            plan(&sheet, &class, &Settings::default(), &[], Options { runs: 40, ..Options::default() });
        let w = &made.workouts[0];
        let chosen = Chosen { name: "Bo & Co", placed: &w.placed[2], splits: &w.splits[2] };
        let s = w.stimulus.as_ref().unwrap();
        let c = chart(&w.pace, s, 0.0, Some(&chosen));
        assert_eq!(c.matches("class=\"pace is-").count(), 3);
        assert!(c.contains("class=\"band\"") && c.contains("Bo &amp; Co") && c.contains("class=\"cap\""));
        assert!(!chart(&w.pace, s, 0.0, None).contains("class=\"band\""));
        assert_eq!(chart(&[], s, 0.0, None), "");
    }
}
