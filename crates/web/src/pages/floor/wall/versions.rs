//! The wall before and in a workout: scale bar, three versions with the row the pace is on, next checkpoint; before the class the
//! names by version and what is said to everybody.

use crate::class_page::ClassPage;
use crate::draw::esc;
use crate::pages::versions::members;
use lantern_core::movement::say::spoken_for;
use lantern_core::plan::WorkoutPlan;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::clock as write_clock;
use lantern_core::versions::{Call, Line, PhaseKind, Tier, Version, Work};
use std::fmt::Write as _;

/// Width of the scale bar, px.
const BAR: f64 = 1808.0;

/// What the columns of versions show.
pub(super) struct VersionsPanel {
    pub(super) what: String,
    pub(super) end: f64,
    pub(super) scale: f64,
    pub(super) bar: String,
    pub(super) versions: Vec<VersionView>,
    /// Said to the class until the clock starts.
    pub(super) said: Said,
    pub(super) size: &'static str,
    pub(super) waits: String,
    /// `at,words;…` in seconds: what everybody is called to.
    pub(super) calls: String,
}

/// What is said to the class while the clock stands, in its place.
#[derive(Debug, Default, PartialEq)]
pub(super) struct Said {
    pub(super) lines: Vec<String>,
    /// Class of the size in which they fit.
    pub(super) size: &'static str,
    /// How many found no place.
    pub(super) more: usize,
}

impl Said {
    pub(super) fn any(&self) -> bool {
        !self.lines.is_empty() || self.more > 0
    }
}

pub(super) struct VersionView {
    pub(super) tier: Tier,
    pub(super) members: String,
    /// Who does it, before the class.
    pub(super) names: String,
    pub(super) lines: Vec<String>,
    /// `from,to,line,round;…` in seconds: where the pace is.
    pub(super) moves: String,
    /// `at,name;…`: checkpoints.
    pub(super) checks: String,
    /// `from,to,kind,number,of,line;…`: what the clock says as it runs.
    pub(super) phases: String,
    pub(super) next: (String, String),
}

fn versions(page: &ClassPage, w: &WorkoutPlan, named: bool) -> Vec<VersionView> {
    let name = |i: &usize| page.plan.members.get(*i).map(|m| m.name.clone());
    let names = |tier: Tier| w.members_of(tier).iter().filter_map(name).collect::<Vec<_>>().join(" · ");
    w.versions
        .iter()
        .zip(&w.pace)
        .map(|(v, p)| {
            // positions count what goes along with a line; the wall shows lines
            let (mut line_of, mut lines) = (Vec::new(), Vec::new());
            for l in &v.work.lines {
                if !l.lead.is_empty() {
                    lines.push(l.lead.clone());
                }
                line_of.extend(std::iter::repeat_n(lines.len(), 1 + l.along.len()));
                lines.push(l.short_text());
            }
            let moves: Vec<String> = p
                .splits
                .lines
                .iter()
                .map(|l| {
                    let line = line_of.get(l.position).copied().unwrap_or(0);
                    format!("{:.0},{:.0},{line},{}", l.from_s, l.to_s, l.round + 1)
                })
                .collect();
            let checks: Vec<String> =
                p.checkpoints.iter().map(|c| format!("{:.0},{}", c.on_pace, c.at.by())).collect();
            VersionView {
                phases: phases(&v.work, &line_of),
                tier: v.tier,
                members: members(w.members_of(v.tier).len()),
                names: if named { names(v.tier) } else { String::new() },
                lines,
                moves: moves.join(";"),
                checks: checks.join(";"),
                next: p.checkpoints.first().map(|c| (c.at.by(), write_clock(c.on_pace))).unwrap_or_default(),
            }
        })
        .collect()
}

/// The phases of a clock for the script; `line_of`: rows of the wall by position.
fn phases(work: &Work, line_of: &[usize]) -> String {
    let row = |line: usize| line_of.get(work.position_of(line)).map_or(String::new(), usize::to_string);
    let one = |p: lantern_core::versions::Phase| {
        let kind = match p.kind {
            PhaseKind::Work => "work",
            PhaseKind::Rest => "rest",
            PhaseKind::Cycle => "cycle",
        };
        let line = p.line.map(row).unwrap_or_default();
        format!("{},{},{kind},{},{},{line}", p.from_s, p.to_s, p.number, p.of)
    };
    work.phases().into_iter().map(one).collect::<Vec<_>>().join(";")
}

/// What interrupts everybody, as it is called: with its number where all versions have the same.
fn calls(w: &WorkoutPlan, until_s: f64) -> String {
    let Some(first) = w.versions.first() else { return String::new() };
    let words = |line: usize| {
        let text = |v: &Version| v.work.lines.get(line).map(Line::short_text).unwrap_or_default();
        let same = w.versions.iter().all(|v| text(v) == text(first));
        let bare = || first.work.lines.get(line).map(|l| spoken_for(&l.movement, 2.0)).unwrap_or_default();
        let said = if same { text(first) } else { bare() };
        said.replace([',', ';'], " ")
    };
    let one = |c: Call| format!("{},{}", c.at_s, words(c.line));
    first.work.calls(until_s as u32).into_iter().map(one).collect::<Vec<_>>().join(";")
}

/// Sizes of messages: class, characters in a line and lines that fit the clock's place.
const SAID: [(&str, usize, usize); 2] = [("", 44, 5), ("is-more", 66, 8)];

/// Messages in the largest size in which all fit; where none does, as many as the smallest holds.
fn said(messages: &[String]) -> Said {
    let lines = |of: &[String], wide: usize| -> usize {
        of.iter().map(|m| m.chars().count().div_ceil(wide).max(1)).sum()
    };
    let [_, (smallest, wide, high)] = SAID;
    if let Some((size, ..)) = SAID.into_iter().find(|(_, w, h)| lines(messages, *w) <= *h) {
        return Said { lines: messages.to_vec(), size, more: 0 };
    }
    // a line is kept for how many more there are
    let fit = (0..messages.len()).rev().find(|n| messages.get(..*n).is_some_and(|m| lines(m, wide) < high));
    let kept = messages.get(..fit.unwrap_or(0)).unwrap_or_default().to_vec();
    Said { more: messages.len() - kept.len(), lines: kept, size: smallest }
}

/// The lines' size: the largest at which all of them fit a third of the wall.
fn size(versions: &[VersionView]) -> &'static str {
    let longest = versions.iter().flat_map(|v| &v.lines).map(|l| l.chars().count()).max().unwrap_or(0);
    let lines = versions.iter().map(|v| v.lines.len()).max().unwrap_or(0);
    match (longest, lines) {
        (0..=20, 0..=4) => "",
        (0..=21, 0..=5) => "is-more",
        (0..=31, 0..=6) => "is-many",
        _ => "is-most",
    }
}

/// The scale bar of the workout: minutes, target and end; the script moves the mark.
fn bar(s: Option<&Stimulus>, scale: f64) -> String {
    let x = |t: f64| t / scale * BAR;
    let mut out = String::from(
        "<svg class=\"wbar\" width=\"1808\" height=\"112\" viewBox=\"0 0 1808 112\" role=\"img\" aria-label=\"time line of the workout\">",
    );
    let window =
        s.filter(|s| s.is_time()).and_then(|s| Some((s.low.unwrap_or(0.0), s.high?, s.window_text())));
    if let Some((a, b, _)) = &window {
        let _ = write!(
            out,
            "<rect x=\"{:.1}\" width=\"{:.1}\" y=\"0\" height=\"76\" fill=\"var(--hl-tint)\"/>",
            x(*a),
            x(*b) - x(*a)
        );
    }
    let minutes = (scale / 60.0).ceil() as usize;
    for m in (0..minutes).step_by(2) {
        let (a, b) = (m as f64 * 60.0, ((m + 1) as f64 * 60.0).min(scale));
        let _ = write!(
            out,
            "<rect x=\"{:.1}\" width=\"{:.1}\" y=\"42\" height=\"26\" fill=\"currentColor\"/>",
            x(a),
            x(b) - x(a)
        );
    }
    out.push_str("<rect x=\"1\" y=\"43\" width=\"1806\" height=\"24\" fill=\"none\" stroke=\"currentColor\" stroke-width=\"2\"/><rect x=\"1800\" width=\"8\" y=\"22\" height=\"66\" fill=\"currentColor\"/>");
    if let Some((a, b, words)) = &window {
        let at = x((a + b) / 2.0).clamp(230.0, BAR - 230.0);
        let _ = write!(
            out,
            "<text class=\"tg\" x=\"{at:.1}\" y=\"33\" text-anchor=\"middle\">target {}</text>",
            esc(words)
        );
    }
    let step = if minutes > 12 { 3 } else { 2 };
    for m in (step..minutes).step_by(step) {
        if minutes - m >= 1 && x(m as f64 * 60.0) < BAR - 160.0 {
            let _ = write!(
                out,
                "<text x=\"{:.1}\" y=\"112\" text-anchor=\"middle\">{m}</text>",
                x(m as f64 * 60.0)
            );
        }
    }
    let _ = write!(out, "<text x=\"1808\" y=\"112\" text-anchor=\"end\">{}</text>", write_clock(scale));
    out.push_str("<rect id=\"mark\" x=\"-8\" y=\"22\" width=\"16\" height=\"66\" fill=\"var(--hl-lamp)\" stroke=\"var(--hl-paper)\" stroke-width=\"4\"/></svg>");
    out
}

/// The versions of a workout, or why there are none; `named`: with who does which, until it starts.
pub(super) fn panel(page: &ClassPage, w: Option<&WorkoutPlan>, named: bool) -> VersionsPanel {
    let s = w.and_then(|w| w.stimulus.as_ref());
    let first = w.and_then(|w| w.versions.first());
    let clocked = first.and_then(|v| v.work.clock_s());
    let paced = w.map_or(0.0, |w| {
        w.pace.iter().filter_map(|p| p.checkpoints.last()).map(|c| c.on_pace).fold(0.0, f64::max)
    });
    let cap = s.and_then(|s| s.cap_s);
    let end = clocked.or(cap).unwrap_or(0.0);
    let scale = if end > 0.0 { end } else { paced.max(s.and_then(|s| s.high).unwrap_or(0.0)).max(300.0) };
    let what = first.map(|v| {
        let words = v.work.clock_text();
        match (clocked, cap) {
            (Some(t), _) if v.work.one_amrap() => format!("as many rounds as possible, {}", write_clock(t)),
            (Some(_), _) => words,
            (None, Some(c)) => format!("{words}, cap {}", write_clock(c)),
            (None, None) => words,
        }
    });
    let versions = w.map(|w| versions(page, w, named)).unwrap_or_default();
    let waits = page.plan.workouts.iter().find_map(|w| w.waits.clone());
    VersionsPanel {
        what: what.unwrap_or_default(),
        end,
        scale,
        bar: bar(s, scale),
        said: said(&page.plan.sheet.messages),
        size: size(&versions),
        calls: w.map(|w| calls(w, scale)).unwrap_or_default(),
        versions,
        waits: waits.unwrap_or_else(|| "No workout on the sheet yet.".to_owned()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;

    #[test]
    fn lines_of_the_wall_are_short() {
        let block = read("# workout\nfor time\n12 power clean 60/42.5 kg\n200 m run").sheet.blocks[0].clone();
        let work = Work::from_block(&block).unwrap();
        assert_eq!(
            work.lines.iter().map(Line::short_text).collect::<Vec<_>>(),
            ["12 power cleans 60/42.5", "200 m run"]
        );
    }

    #[test]
    fn messages_stand_in_the_clocks_place_as_large_as_they_fit() {
        let of = |n: usize, long: usize| said(&vec!["x".repeat(long); n]);
        assert_eq!((of(2, 40).size, of(2, 40).lines.len()), ("", 2));
        // 3 x 60 characters are six lines of 44 and three of 66
        assert_eq!((of(3, 60).size, of(3, 60).more), ("is-more", 0));
        // eight lines of 66 hold eight of them; of nine, seven and a word of two more
        assert_eq!((of(9, 60).lines.len(), of(9, 60).more), (7, 2));
        assert_eq!((of(1, 2000).lines.len(), of(1, 2000).more), (0, 1));
        assert_eq!(said(&[]), Said::default());
    }

    #[test]
    fn the_bar_ends_where_the_clock_does() {
        let b = bar(None, 840.0);
        assert!(b.contains(">14:00</text>") && b.contains("id=\"mark\""));
    }
}
