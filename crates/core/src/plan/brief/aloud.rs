//! The minute before a workout, sentence by sentence as the coach reads it aloud, inside what a room listens to.

use super::{BriefVersion, Purpose, Taught};
use crate::cautions::Note;
use crate::movement::{catalogue, say::capital};
use crate::units::clock;
use crate::versions::Tier;

/// Most words of the minute.
pub const MOST_WORDS: usize = 170;
/// Seconds that so many words take.
pub const MOST_S: f64 = 75.0;
/// Movements whose cues are said; those of the others stand on the page.
const CUED: usize = 2;

/// What a sentence is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Topic {
    /// What it trains.
    Purpose,
    /// Its clock and cap.
    Shape,
    /// A movement: what makes a rep count, how to do it, what goes wrong.
    Movement,
    /// One of the three.
    Version(Tier),
    /// Its pace.
    Pace(Tier),
    /// Where things stand.
    Lane,
    /// What can hurt.
    Caution,
}

impl Topic {
    /// Whether something new begins with it: a pace follows its version.
    pub fn begins(self) -> bool {
        !matches!(self, Topic::Pace(_))
    }
}

/// A sentence.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Sentence {
    /// About what.
    pub topic: Topic,
    /// As it is read.
    pub says: String,
}

/// What is read aloud.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Aloud {
    /// In order.
    pub sentences: Vec<Sentence>,
}

impl Aloud {
    /// Words in all.
    pub fn words(&self) -> usize {
        self.sentences.iter().map(|s| s.says.split_whitespace().count()).sum()
    }

    /// How long it takes to read, s.
    pub fn seconds(&self) -> f64 {
        self.words() as f64 * MOST_S / MOST_WORDS as f64
    }

    fn add(&mut self, topic: Topic, says: impl Into<String>) {
        let says: String = says.into();
        if !says.trim().is_empty() {
            self.sentences.push(Sentence { topic, says });
        }
    }
}

/// What the minute is made of.
pub(super) struct Parts<'b> {
    pub purpose: Option<&'b Purpose>,
    pub clock: &'b str,
    pub cap_s: Option<u32>,
    pub versions: &'b [BriefVersion],
    pub movements: &'b [Taught],
    pub lane: Option<&'b str>,
    pub cautions: &'b [Note],
}

/// The hardest to do first: by skill, then what carries weight, then the list's order.
fn cued(movements: &[Taught]) -> Vec<&Taught> {
    let hard =
        |t: &Taught| catalogue().movement(&t.movement).map_or((0, false), |m| (m.skill, m.rx_load.is_some()));
    let mut out: Vec<&Taught> = movements.iter().collect();
    out.sort_by_key(|t| std::cmp::Reverse(hard(t)));
    out.truncate(CUED);
    out
}

/// How much of it is said.
#[derive(Clone)]
struct Measure {
    /// Of each cued movement: whether its standard is, and how many cues.
    standards: [bool; CUED],
    cues: [usize; CUED],
    faults: bool,
    /// Versions whose pace is left to the page.
    silent: Vec<Tier>,
    cautions: usize,
    lane: bool,
}

impl Measure {
    /// From everything to the least, one thing less each time: second cues, standards, the pace of the version with fewest people
    /// and so on, a second caution; then what the page holds anyway.
    fn all(versions: &[BriefVersion]) -> Vec<Measure> {
        let whole = Measure {
            standards: [true; CUED],
            cues: [2; CUED],
            faults: true,
            silent: Vec::new(),
            cautions: usize::MAX,
            lane: true,
        };
        let mut fewest: Vec<&BriefVersion> = versions.iter().collect();
        fewest.sort_by_key(|v| v.members);
        let mut out = vec![whole];
        let mut less = |change: &dyn Fn(&mut Measure)| {
            if let Some(mut m) = out.last().cloned() {
                change(&mut m);
                out.push(m);
            }
        };
        less(&|m| m.cues = [2, 1]);
        less(&|m| m.cues = [1, 1]);
        less(&|m| m.standards = [true, false]);
        less(&|m| m.standards = [false, false]);
        for v in fewest {
            less(&|m| m.silent.push(v.tier));
        }
        less(&|m| m.cautions = 1);
        less(&|m| m.lane = false);
        less(&|m| m.faults = false);
        less(&|m| m.cues = [0, 0]);
        out
    }
}

/// Reads a workout aloud; what does not fit the minute is left to the page. Versions and the first caution never are.
pub(super) fn aloud(p: &Parts) -> Aloud {
    let all = Measure::all(p.versions);
    let fits = all.iter().map(|m| said(p, m)).find(|a| a.words() <= MOST_WORDS);
    fits.or_else(|| all.last().map(|m| said(p, m))).unwrap_or_default()
}

fn said(p: &Parts, m: &Measure) -> Aloud {
    let mut out = Aloud::default();
    out.add(Topic::Purpose, p.purpose.map(Purpose::says).unwrap_or_default());
    let cap = p.cap_s.map(|c| format!(", cap {}", clock(f64::from(c)))).unwrap_or_default();
    out.add(Topic::Shape, format!("{}{cap}.", capital(p.clock)));
    for ((t, standard), cues) in cued(p.movements).into_iter().zip(m.standards).zip(m.cues) {
        let mut parts: Vec<String> = standard.then(|| t.standard.clone()).into_iter().collect();
        parts.extend(t.cues.iter().take(cues).map(|c| format!("“{c}”")));
        let fault = t.fault.as_ref().filter(|_| m.faults);
        parts.extend(fault.map(|(see, say)| format!("{see}: “{say}”")));
        if !parts.is_empty() {
            out.add(Topic::Movement, format!("{}: {}", t.name, parts.join(" ")));
        }
    }
    let mut paces: Vec<super::PaceLine> = Vec::new();
    for v in p.versions {
        out.add(Topic::Version(v.tier), v.says.clone());
        let pace = v.pace.as_ref().filter(|_| !m.silent.contains(&v.tier)).map(|p| p.after(&paces));
        out.add(Topic::Pace(v.tier), pace.as_ref().map(super::PaceLine::says).unwrap_or_default());
        paces.extend(pace);
    }
    out.add(Topic::Lane, p.lane.filter(|_| m.lane).unwrap_or_default());
    for c in p.cautions.iter().take(m.cautions) {
        out.add(Topic::Caution, c.says.clone());
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    fn taught(id: &str, words: usize) -> Taught {
        Taught {
            movement: id.to_owned(),
            name: id.to_owned(),
            standard: vec!["word"; words].join(" "),
            cues: vec!["one two".to_owned(), "three four".to_owned()],
            fault: Some(("See".to_owned(), "say".to_owned())),
        }
    }

    fn version(tier: Tier, members: usize) -> BriefVersion {
        let pace = Some(super::super::PaceLine::Rounds { from: 60.0, to: 60.0 });
        BriefVersion {
            tier,
            says: format!("{}: as it stands.", tier.word()),
            lines: Vec::new(),
            pace,
            members,
        }
    }

    fn read(movements: &[Taught], versions: &[BriefVersion]) -> Aloud {
        let parts = Parts {
            purpose: None,
            clock: "3 rounds",
            cap_s: Some(840),
            versions,
            movements,
            lane: None,
            cautions: &[],
        };
        aloud(&parts)
    }

    #[test]
    fn the_minute_has_its_order() {
        let of = [taught("run", 3), taught("muscle-up", 3), taught("power-clean", 3)];
        let a = read(&of, &[version(Tier::Full, 3)]);
        let says: Vec<&str> = a.sentences.iter().map(|s| s.says.as_str()).collect();
        assert_eq!(
            says,
            [
                "3 rounds, cap 14:00.",
                "muscle-up: word word word “one two” “three four” See: “say”",
                "power-clean: word word word “one two” “three four” See: “say”",
                "Full: as it stands.",
                "A round every 1:00, the last like the first.",
            ]
        );
        // 4, twice 10, 4 and 9 words
        assert_eq!(a.words(), 37);
        assert!((a.seconds() - 37.0 * 75.0 / 170.0).abs() < 1e-9);
    }

    #[test]
    fn what_is_too_much_is_left_to_the_page_in_order() {
        let versions = [version(Tier::Full, 5), version(Tier::Trim, 1), version(Tier::Base, 3)];
        let has = |a: &Aloud, words: &str| a.sentences.iter().any(|s| s.says.contains(words));
        let pace = |a: &Aloud, t: Tier| a.sentences.iter().any(|s| s.topic == Topic::Pace(t));
        // 43 of the shape and the versions and 65 of each movement: 173, and a cue has two
        let a = read(&[taught("row", 58), taught("run", 58)], &versions);
        let second = |a: &Aloud| a.sentences.iter().filter(|s| s.says.contains("three four")).count();
        assert_eq!((a.words(), second(&a)), (169, 0));
        // 252 with one standard, 51 with none of the two long ones
        let a = read(&[taught("row", 80), taught("run", 200)], &versions);
        assert!(has(&a, "run: “one two”") && has(&a, "row: word") && pace(&a, Tier::Trim), "{a:?}");
        let a = read(&[taught("row", 200), taught("run", 200)], &versions);
        assert!(has(&a, "row: “one two” See") && pace(&a, Tier::Trim), "{a:?}");
    }

    #[test]
    fn the_smallest_version_loses_its_pace_first() {
        let mut all = [version(Tier::Full, 5), version(Tier::Trim, 1), version(Tier::Base, 3)];
        // 3 x 46 words and the shape's 4 leave 28: two paces of 9, and the movement's 5 with nothing but a cue and the fault
        all.iter_mut().for_each(|v| v.says = vec!["word"; 46].join(" "));
        let a = read(&[taught("run", 3)], &all);
        let has = |t: Tier| a.sentences.iter().any(|s| s.topic == Topic::Pace(t));
        assert_eq!([has(Tier::Full), has(Tier::Trim), has(Tier::Base)], [true, false, true], "{a:?}");
        assert_eq!(a.words(), 4 + 138 + 18 + 5);
    }
}
