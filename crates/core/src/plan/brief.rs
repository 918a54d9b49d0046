//! What the coach says to the class before the work, as values: purpose, messages, versions, what makes a rep count, cautions.
//! All of it is public: no names, no limits, no weight of a person.

use super::{ClassPlan, WorkoutPlan};
use crate::cautions::{Note, of_the_day};
use crate::movement::{Movement, catalogue};
use crate::versions::{Tier, Version};

/// Cues that are said of a movement.
const CUES: usize = 2;

/// The brief of a class.
#[derive(Debug, Clone, PartialEq)]
pub struct Brief {
    /// What the session is for, in its programmer's words.
    pub intent: Option<String>,
    /// What the sheet has to say to the class.
    pub messages: Vec<String>,
    /// Lifts of the day.
    pub lifts: Vec<Taught>,
    /// The workouts, in order.
    pub workouts: Vec<BriefWorkout>,
    /// At most two, for everybody.
    pub cautions: Vec<Note>,
}

/// How a movement is taught in a breath.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Taught {
    /// Catalogue id.
    pub movement: String,
    /// As on a board.
    pub name: String,
    /// What makes a rep count.
    pub standard: String,
    /// At most two.
    pub cues: Vec<String>,
    /// What the coach sees, and says then; empty where the catalogue has none.
    pub fault: Option<(String, String)>,
}

/// A workout of the brief.
#[derive(Debug, Clone, PartialEq)]
pub struct BriefWorkout {
    /// Its own name.
    pub name: Option<String>,
    /// Its clock in words.
    pub clock: String,
    /// When it ends for everybody, s.
    pub cap_s: Option<u32>,
    /// What it asks for: `9:00 to 12:00`.
    pub window: Option<String>,
    /// Full, Trim, Base.
    pub versions: Vec<BriefVersion>,
    /// Every movement of any version.
    pub movements: Vec<Taught>,
}

/// A version of the brief.
#[derive(Debug, Clone, PartialEq)]
pub struct BriefVersion {
    /// Which.
    pub tier: Tier,
    /// In one sentence.
    pub says: String,
    /// Its lines in words.
    pub lines: Vec<String>,
    /// Where its pace is first looked at: what, and when, s.
    pub first: Option<(String, f64)>,
    /// Where its pace ends, s; none on an open clock.
    pub ends: Option<f64>,
}

/// The brief of a plan.
pub fn brief(plan: &ClassPlan) -> Brief {
    let of_sheet = &plan.sheet;
    let lifts = of_sheet.blocks.iter().flat_map(|b| {
        b.lifts.iter().map(|l| &l.movement).chain(b.builds.iter().map(|x| &x.movement)).filter_map(|m| m.id())
    });
    Brief {
        intent: of_sheet.intent.clone(),
        messages: of_sheet.messages.clone(),
        lifts: taught(lifts),
        workouts: plan.workouts.iter().filter(|w| w.waits.is_none()).map(workout).collect(),
        cautions: of_the_day(&plan.cautions).into_iter().cloned().collect(),
    }
}

fn workout(w: &WorkoutPlan) -> BriefWorkout {
    let stimulus = w.stimulus.as_ref();
    let lines = w.versions.iter().flat_map(|v| &v.work.lines);
    let movements = lines.flat_map(|l| {
        std::iter::once(l.movement.as_str()).chain(l.along.iter().map(|a| a.movement.as_str()))
    });
    BriefWorkout {
        name: w.name.clone(),
        clock: w.versions.first().map(|v| v.work.clock_text()).unwrap_or_default(),
        cap_s: stimulus.and_then(|s| s.cap_s).map(|c| c as u32),
        window: stimulus.map(crate::stimulus::Stimulus::window_text),
        versions: w.versions.iter().map(|v| version(w, v)).collect(),
        movements: taught(movements),
    }
}

fn version(w: &WorkoutPlan, v: &Version) -> BriefVersion {
    let pace = w.pace.iter().find(|p| p.tier == v.tier);
    let checks = pace.map(|p| p.checkpoints.as_slice()).unwrap_or_default();
    let timed = v.work.clock_s().is_none();
    let mut lines = Vec::new();
    for l in &v.work.lines {
        lines.extend((!l.lead.is_empty()).then(|| l.lead.clone()));
        lines.push(l.text());
    }
    BriefVersion {
        tier: v.tier,
        says: v.says(),
        lines,
        first: checks.first().filter(|_| checks.len() > 1).map(|c| (c.name.clone(), c.on_pace)),
        ends: checks.last().filter(|_| timed).map(|c| c.on_pace),
    }
}

/// Each movement once, in order.
fn taught<'a>(ids: impl Iterator<Item = &'a str>) -> Vec<Taught> {
    let mut out: Vec<Taught> = Vec::new();
    for m in ids.filter_map(|id| catalogue().movement(id)) {
        if !out.iter().any(|t| t.movement == m.id) {
            out.push(one(m));
        }
    }
    out
}

fn one(m: &Movement) -> Taught {
    Taught {
        movement: m.id.clone(),
        name: m.name.clone(),
        standard: m.standard.clone(),
        cues: m.cues.iter().take(CUES).cloned().collect(),
        fault: m.faults.first().map(|f| (f.see.clone(), f.say.clone())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kit::Kit;
    use crate::plan::{Class, Options, plan};
    use crate::roster::Member;
    use crate::settings::Settings;
    use crate::sheet::read;
    use chrono::NaiveDate;

    const DAY: &str = "Doors open at 17:45 today, bring a towel.\n# strength\nfront squat 5 x 3 @ 88%\n# workout cap 14:00\n3 rounds for time\n12 toes-to-bar\n12 power clean 60/42.5 kg\n10 box jumps";

    /// Model members with a limit each.
    fn limited() -> Vec<Member> {
        let mut all = Member::archetypes();
        for (m, limit) in all.iter_mut().zip(["knee", "shoulder", "pregnancy", "no-impact", "lumbar"]) {
            m.limits.push(limit.to_owned());
        }
        all
    }

    fn of(text: &str) -> Brief {
        brief(&planned(text, Member::archetypes()))
    }

    fn planned(text: &str, members: Vec<Member>) -> ClassPlan {
        let class = Class {
            members,
            kit: Kit::usual(),
            date: NaiveDate::from_ymd_opt(2026, 11, 23).unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let options = Options { runs: 40, ..Options::default() };
        plan(&read(text).sheet, &class, &Settings::default(), &[], options)
    }

    #[test]
    fn a_brief_has_what_is_said_and_what_is_taught() {
        let b = of(DAY);
        assert_eq!(b.messages, ["Doors open at 17:45 today, bring a towel."]);
        assert_eq!(b.lifts.iter().map(|t| t.name.as_str()).collect::<Vec<_>>(), ["Front squat"]);
        let w = &b.workouts[0];
        assert_eq!((w.clock.as_str(), w.cap_s, w.versions.len()), ("3 rounds", Some(840), 3));
        assert_eq!(w.versions[0].lines, ["12 toes to bar", "12 power cleans 60/42.5 kg", "10 box jumps"]);
        // every movement of every version is taught: two cues and a fault
        for v in &w.versions {
            assert!(v.ends.is_some() && v.first.is_some(), "{v:?}");
        }
        assert!(w.movements.iter().all(|t| t.cues.len() == 2 && t.fault.is_some() && !t.standard.is_empty()));
        assert!(w.movements.len() >= 3 && b.lifts[0].cues.len() == 2);
    }

    #[test]
    fn two_cautions_at_most_and_none_about_people() {
        let b = of(DAY);
        assert!(b.cautions.len() <= 2 && b.cautions.iter().all(|c| !c.private));
        // the bar over the body comes before the way down from the rig
        assert_eq!(b.cautions.first().map(|c| c.tag.as_str()), Some("failed-lift"));
    }

    #[test]
    fn every_movement_of_every_version_is_taught_once_and_nobody_is_named() {
        let days = [
            "# workout cap 16:00 target 9:00-13:00\n4 rounds for time\n5 muscle-ups\n15 push-ups\n40 double-unders",
            "# workout\namrap 16:00\n6 strict handstand push-ups\n9 deadlifts 100/70 kg\n12 cal row",
            "# workout\nevery 2:00 x 6\n200 m run\n10 wall-balls 9/6 kg",
        ];
        for text in days {
            let p = planned(text, limited());
            let b = brief(&p);
            for (w, made) in b.workouts.iter().zip(&p.workouts) {
                let lines = made.versions.iter().flat_map(|v| &v.work.lines);
                for l in lines {
                    let taught = w.movements.iter().filter(|t| t.movement == l.movement).count();
                    assert_eq!(taught, 1, "{text}: {}", l.movement);
                }
            }
            let all = format!("{b:?}").to_lowercase();
            for word in ["spares", "pregnan", "as you told", "new heavier", "regular lighter"] {
                assert!(!all.contains(word), "{text}: {word}");
            }
            assert!(b.cautions.len() <= crate::cautions::MOST_OF_DAY);
        }
    }

    #[test]
    fn an_open_clock_has_no_time_to_finish_by() {
        let b = of("# workout\namrap 12:00\n10 burpees\n10 sit-ups");
        assert!(b.workouts[0].versions.iter().all(|v| v.ends.is_none()), "{b:?}");
    }

    #[test]
    fn a_day_without_work_says_only_its_messages() {
        let b = of("Closed on Monday for the holiday.");
        assert_eq!(b.messages, ["Closed on Monday for the holiday."]);
        assert!(b.workouts.is_empty() && b.lifts.is_empty() && b.cautions.is_empty());
    }
}
