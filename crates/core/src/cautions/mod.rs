//! Which safety notes belong to a day, and where: from what the session asks for and who is there. Limits and conditions
//! of members are never named here; notes about them are for the coach only.

use crate::kinds::{Gear, Limit, Pattern};
use crate::movement::{Caution, catalogue};
use crate::roster::Member;
use crate::sheet::{Block, BlockKind, TotalCount};
use crate::units::{Unit, plain};
use serde::{Deserialize, Serialize};

/// A note in its place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Note {
    /// Tag in the catalogue.
    pub tag: String,
    /// Heading.
    pub title: String,
    /// Block of the sheet; `None`: the whole class.
    pub block: Option<usize>,
    /// Where, in words: the movements that bring it up.
    pub at: String,
    /// What the coach says.
    pub says: String,
    /// What to do.
    pub action: String,
    /// When to send somebody to a clinician.
    pub refer: Option<String>,
    /// What was crossed, in figures; empty when it always belongs here.
    pub because: String,
    /// For the coach's eyes: it follows from who is in the class.
    pub private: bool,
}

/// Local rules and the gym's own policy come first.
pub const DEFERS: &str =
    "These notes plan training; they diagnose nothing. Local rules and your gym's own policy come first.";

/// Tags that stand at the start of every class, whatever the day.
const ALWAYS: [&str; 2] = ["chest-pain-dizziness", "sudden-pain"];

/// Counts of a block that thresholds speak of.
struct Counts<'a> {
    block: &'a Block,
}

impl Counts<'_> {
    /// Reps of the movements that fit, once through the whole block; an open-ended one counts a single round.
    fn reps(&self, fits: impl Fn(&str) -> bool) -> f64 {
        let amrap = matches!(self.block.format(), Some(crate::sheet::Format::Amrap { .. }));
        let totals = if amrap { self.block.per_round() } else { self.block.totals() };
        // what a team shares is a part of it for each
        let each = self.block.team.map_or(1.0, |t| f64::from(t.size.max(1)));
        totals
            .iter()
            .filter(|t| t.unit == Unit::Reps && fits(&t.movement))
            .map(|t| match t.count {
                Some(TotalCount::Each(n)) => n,
                Some(TotalCount::ByStandard(c)) => c[0],
                None => 0.0,
            })
            .sum::<f64>()
            / each
    }

    fn percent(&self) -> f64 {
        let top = |l: &crate::sheet::LiftSets| l.percent.as_ref().and_then(crate::sheet::Percent::most);
        // a maximum of the day is all there is
        let build = if self.block.builds.is_empty() { 0.0 } else { 100.0 };
        self.block.lifts.iter().filter_map(top).fold(build, f64::max)
    }

    /// The figure of a metric, where the sheet says it.
    fn of(&self, metric: &str) -> Option<f64> {
        let pattern = |p: Pattern| move |id: &str| catalogue().movement(id).is_some_and(|m| m.trains(p));
        let tag = |t: &'static str| {
            move |id: &str| catalogue().movement(id).is_some_and(|m| m.cautions.iter().any(|c| c == t))
        };
        let kit = |k: Gear| move |id: &str| catalogue().movement(id).is_some_and(|m| m.needs(k));
        Some(match metric {
            "percent-of-max" => self.percent(),
            "overhead-reps-total" => self.reps(tag("overhead")),
            "hinge-reps-total" => self.reps(pattern(Pattern::Hinge)),
            "jump-contacts-total" => self.reps(tag("impact")),
            "hanging-reps-total" => self.reps(kit(Gear::PullUpBar)),
            "pull-up-reps-total" => self.reps(pattern(Pattern::PullVertical)),
            "push-up-or-dip-reps-total" => self.reps(pattern(Pattern::PushHorizontal)),
            "squat-or-lunge-reps-total" => {
                self.reps(pattern(Pattern::Squat))
                    + self.reps(|id| catalogue().movement(id).is_some_and(|m| m.pattern == Pattern::Lunge))
            }
            "squat-reps-total" | "deep-knee-bend-reps-total" => self.reps(pattern(Pattern::Squat)),
            "box-jump-reps-total" => self.reps(kit(Gear::Box)),
            _ => return None,
        })
    }
}

fn movements(block: &Block) -> Vec<&str> {
    block
        .lifts
        .iter()
        .filter_map(|l| l.movement.id())
        .chain(block.lifts.iter().flat_map(|l| &l.chain).map(|(id, _)| id.as_str()))
        .chain(block.builds.iter().filter_map(|b| b.movement.id()))
        .chain(block.moves().filter_map(|m| m.movement.id()))
        .collect()
}

/// Tags whose notes belong wherever their movements are, without a figure to cross.
const WITH_MOVEMENT: [&str; 4] = ["fall", "inversion", "overhead", "shin-strike"];

/// The notes of a session for a class, in the order of the session.
pub fn notes(blocks: &[Block], class: &[&Member]) -> Vec<Note> {
    let mut out: Vec<Note> = Vec::new();
    for (i, block) in blocks.iter().enumerate() {
        if block.kind == BlockKind::CoolDown {
            continue;
        }
        let counts = Counts { block };
        for c in &catalogue().cautions {
            let at: Vec<String> = movements(block)
                .into_iter()
                .filter(|id| catalogue().movement(id).is_some_and(|m| m.cautions.contains(&c.tag)))
                .map(crate::movement::say::spoken)
                .collect();
            let because = crossed(c, &counts);
            let lifted = !block.lifts.is_empty() || !block.builds.is_empty();
            let spotting = c.tag == "spotting" && !because.is_empty() && lifted && spotted(block);
            let belongs = !at.is_empty() && (!because.is_empty() || WITH_MOVEMENT.contains(&c.tag.as_str()))
                || spotting;
            if belongs {
                let lifts =
                    block.lifts.iter().map(|l| &l.movement).chain(block.builds.iter().map(|b| &b.movement));
                let lifts = lifts.filter_map(crate::sheet::Named::id).map(crate::movement::say::spoken);
                let mut at: Vec<String> = if at.is_empty() { lifts.collect() } else { at };
                at.dedup();
                out.push(note(c, Some(i), &at.join(", "), because, false));
            }
        }
    }
    out.extend(
        ALWAYS
            .iter()
            .filter_map(|t| catalogue().caution(t))
            .map(|c| note(c, None, "every class", String::new(), false)),
    );
    out.extend(of_class(class));
    out
}

/// What is said to the room first, by harm and chance (own): under the bar, the way down, upside down, too much of it.
const RANK: [&str; 10] = [
    "failed-lift",
    "spotting",
    "fall",
    "inversion",
    "overhead",
    "severe-muscle-breakdown",
    "eccentric-volume",
    "impact",
    "shin-strike",
    "grip-fatigue",
];
/// A day has no more of them than this; the rest stands behind one line.
pub const MOST_OF_DAY: usize = 2;

/// The notes that are said to the room on a day: at most two of those that its work brings up, no sentence twice.
pub fn of_the_day(notes: &[Note]) -> Vec<&Note> {
    let rank = |n: &Note| RANK.iter().position(|t| *t == n.tag).unwrap_or(RANK.len());
    let mut out: Vec<&Note> =
        notes.iter().filter(|n| n.block.is_some() && !n.private && rank(n) < RANK.len()).collect();
    out.sort_by_key(|n| rank(n));
    let mut seen: Vec<&str> = Vec::new();
    out.retain(|n| {
        let new = !seen.contains(&n.says.as_str());
        seen.push(&n.says);
        new
    });
    out.truncate(MOST_OF_DAY);
    out
}

/// Whether a lift of the block is one that somebody can be caught under: out of a rack or on a bench.
fn spotted(block: &Block) -> bool {
    let under =
        |id: &str| catalogue().movement(id).is_some_and(|m| m.needs(Gear::Rack) || m.needs(Gear::Bench));
    movements(block).into_iter().any(under)
}

/// The first threshold that the block crosses, in words.
fn crossed(c: &Caution, counts: &Counts) -> String {
    for t in &c.threshold {
        let (Some(value), Some(limit)) = (counts.of(&t.metric), number(&t.value)) else { continue };
        let over = match t.op.as_str() {
            ">" => value > limit,
            ">=" => value >= limit,
            _ => false,
        };
        if over {
            let what = t.metric.trim_end_matches("-total").replace('-', " ");
            let unit = if t.metric == "percent-of-max" { " %" } else { "" };
            return format!("{what}: {}{unit}, noted from {}{unit}", plain(value), plain(limit));
        }
    }
    String::new()
}

fn number(v: &toml::Value) -> Option<f64> {
    v.as_float().or_else(|| v.as_integer().map(|i| i as f64))
}

fn note(c: &Caution, block: Option<usize>, at: &str, because: String, private: bool) -> Note {
    Note {
        tag: c.tag.clone(),
        title: c.title.clone(),
        block,
        at: at.to_owned(),
        says: c.coach_says.clone(),
        action: c.action.clone(),
        refer: c.refer.clone(),
        because,
        private,
    }
}

/// Notes about who is there, for the coach, without names.
fn of_class(class: &[&Member]) -> Vec<Note> {
    let count = |f: &dyn Fn(&Member) -> bool| class.iter().filter(|m| f(m)).count();
    let newer = count(&|m| m.sessions_logged.is_some_and(|n| n < 12) || m.is_newer());
    let pregnant = count(&|m| m.limits.contains(&Limit::Pregnancy));
    [("new-member", newer), ("pregnancy", pregnant)]
        .into_iter()
        .filter(|(_, n)| *n > 0)
        .filter_map(|(tag, n)| Some((catalogue().caution(tag)?, n)))
        .map(|(c, n)| note(c, None, &format!("{n} in this class"), String::new(), true))
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::sheet::read;
    use crate::units::Standard;

    fn tags(text: &str) -> Vec<(String, Option<usize>)> {
        notes(&read(text).sheet.blocks, &[]).into_iter().map(|n| (n.tag, n.block)).collect()
    }

    #[test]
    fn heavy_squats_bring_spotting_and_failed_lifts() {
        let heavy = tags("# strength\nback squat 3 x 2 @ 90% of 1rm");
        for t in ["failed-lift", "spotting", "breath-hold"] {
            assert!(heavy.contains(&(t.to_owned(), Some(0))), "{t}: {heavy:?}");
        }
        let build = tags("# strength\nback squat build to 3rm in 15:00");
        for t in ["failed-lift", "spotting", "breath-hold"] {
            assert!(build.contains(&(t.to_owned(), Some(0))), "{t}: {build:?}");
        }
        let pull = tags("# strength\ndeadlift 3 x 2 @ 90% of 1rm");
        assert!(pull.iter().all(|(t, _)| t != "spotting"), "nobody spots a deadlift: {pull:?}");
        let light = tags("# strength\nback squat 3 x 5 @ 60% of 1rm");
        assert!(light.iter().all(|(t, _)| t != "spotting" && t != "failed-lift"), "{light:?}");
    }

    #[test]
    fn much_jumping_is_noted_with_its_figure() {
        let text = "# workout cap 20:00\n5 rounds for time\n50 double-unders\n5 wall walks";
        let all = notes(&read(text).sheet.blocks, &[]);
        let impact = all.iter().find(|n| n.tag == "impact").unwrap();
        assert_eq!(
            (impact.because.as_str(), impact.at.as_str()),
            ("jump contacts: 250, noted from 200", "double-under")
        );
        assert!(all.iter().any(|n| n.tag == "inversion"));
    }

    #[test]
    fn a_day_has_two_notes_the_gravest_first() {
        let text = "# strength\nback squat 3 x 2 @ 90% of 1rm\n# workout cap 20:00\n5 rounds for time\n50 double-unders\n5 wall walks";
        let all = notes(&read(text).sheet.blocks, &[]);
        assert!(all.iter().filter(|n| n.block.is_some()).count() > MOST_OF_DAY);
        let tags: Vec<&str> = of_the_day(&all).iter().map(|n| n.tag.as_str()).collect();
        assert_eq!(tags, ["failed-lift", "spotting"]);
        let twice = "# a\n3 rounds for time\n5 wall walks\n# b\n3 rounds for time\n5 wall walks";
        let all = notes(&read(twice).sheet.blocks, &[]);
        assert_eq!(of_the_day(&all).iter().filter(|n| n.tag == "inversion").count(), 1, "once a day");
    }

    #[test]
    fn notes_about_members_are_private_and_nameless() {
        let mut m = Member::unknown("Ada", Standard::Lighter, Level::New);
        m.limits.push(Limit::Pregnancy);
        let all = notes(&[], &[&m]);
        let private: Vec<&Note> = all.iter().filter(|n| n.private).collect();
        assert_eq!(private.len(), 2);
        assert!(private.iter().all(|n| !n.at.contains("Ada") && !n.says.contains("Ada")));
        assert!(all.iter().any(|n| n.tag == "chest-pain-dizziness" && !n.private));
    }
}
