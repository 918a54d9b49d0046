//! What the coach says to the class before the work, as values: purpose, messages, versions, what makes a rep count, what is set out,
//! cautions. All of it is public: no names, no limits, no weight of a person.

mod aloud;
mod lane;
mod pace_line;

pub use aloud::{Aloud, Sentence, Topic};
pub use lane::{Space, spaces};
pub use pace_line::{Breaks, PaceLine};

use super::{ClassPlan, Fetch, WorkoutPlan, even_targets};
use crate::cautions::{Note, of_the_day};
use crate::movement::say::{capital, spoken_for};
use crate::movement::{Movement, catalogue};
use crate::units::WeightUnit;
use crate::versions::{Tier, Version};

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
    /// In what the hall's weights are marked.
    pub unit: WeightUnit,
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
    /// Block of the sheet, from 0.
    pub block: usize,
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
    /// What the room takes out at once.
    pub fetch: Vec<Fetch>,
    /// How lanes are laid out.
    pub spaces: Vec<Space>,
    /// Where the hall has too few of something, in words.
    pub short: Vec<String>,
    /// What is read aloud.
    pub aloud: Aloud,
}

/// What a workout is for.
#[derive(Debug, Clone, PartialEq)]
pub enum Purpose {
    /// In its programmer's words.
    Written(String),
    /// From where the time goes at Full: the movement that takes most of it, if one takes two fifths, and the window.
    Found {
        /// Catalogue id.
        most: Option<String>,
        /// `9:00 to 12:00`; none where any result is one.
        window: Option<String>,
    },
}

/// A movement that takes this share of the time decides a workout (own).
const DECIDES: f64 = 0.4;

impl Purpose {
    /// In a sentence.
    pub fn says(&self) -> String {
        match self {
            Purpose::Written(words) => words.clone(),
            Purpose::Found { most, window } => {
                let most = match most {
                    Some(id) => format!("most of the time goes to the {}", spoken_for(id, 2.0)),
                    None => "no line decides it alone".to_owned(),
                };
                let window = match window {
                    Some(w) => format!("the aim is {w}"),
                    None => "every round like the first".to_owned(),
                };
                format!("{}; {window}.", capital(&most))
            }
        }
    }
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
    /// Its pace; none where there is nothing to hold.
    pub pace: Option<PaceLine>,
    /// Who does it, so many.
    pub members: usize,
}

/// The brief of a plan.
pub fn brief(plan: &ClassPlan) -> Brief {
    let of_sheet = &plan.sheet;
    let lifts = of_sheet.blocks.iter().flat_map(|b| {
        b.lifts.iter().map(|l| &l.movement).chain(b.builds.iter().map(|x| &x.movement)).filter_map(|m| m.id())
    });
    let cautions: Vec<Note> = of_the_day(&plan.cautions).into_iter().cloned().collect();
    let mut workouts: Vec<BriefWorkout> = Vec::new();
    for w in plan.workouts.iter().filter(|w| w.waits.is_none()) {
        // what can hurt is said once, before the first of them
        let said = if workouts.is_empty() { cautions.as_slice() } else { &[] };
        workouts.push(workout(plan, w, said));
    }
    Brief {
        intent: of_sheet.intent.clone(),
        messages: of_sheet.messages.clone(),
        lifts: taught(lifts),
        workouts,
        cautions,
        unit: plan.unit,
    }
}

fn workout(plan: &ClassPlan, w: &WorkoutPlan, cautions: &[Note]) -> BriefWorkout {
    let stimulus = w.stimulus.as_ref();
    let ids: Vec<&str> = w.versions.iter().flat_map(|v| v.work.positions()).collect();
    let clock = w.versions.first().map(|v| v.work.clock_text()).unwrap_or_default();
    let cap_s = stimulus.and_then(|s| s.cap_s).map(|c| c as u32);
    let versions: Vec<BriefVersion> = w.versions.iter().map(|v| version(plan, w, v)).collect();
    let movements = taught(ids.iter().copied());
    let spaces = spaces(&ids);
    let purpose = purpose(plan, w);
    let aloud = aloud::aloud(&aloud::Parts {
        purpose: purpose.as_ref(),
        clock: &clock,
        cap_s,
        versions: &versions,
        movements: &movements,
        lane: spaces.first().map(|s| s.says()),
        cautions,
    });
    BriefWorkout {
        block: w.block,
        name: w.name.clone(),
        clock,
        cap_s,
        window: stimulus.map(crate::stimulus::Stimulus::window_text),
        versions,
        movements,
        fetch: w.fetch.clone(),
        spaces,
        short: w.says(),
        aloud,
    }
}

/// The sheet's own words for the only workout of a day, else where Full's time goes.
fn purpose(plan: &ClassPlan, w: &WorkoutPlan) -> Option<Purpose> {
    let only = plan.workouts.iter().filter(|w| w.waits.is_none()).count() == 1;
    if let Some(words) = plan.sheet.intent.clone().filter(|_| only) {
        return Some(Purpose::Written(words));
    }
    let (full, pace) = (w.versions.first()?, w.pace.first()?);
    let mut of: Vec<(&str, f64)> = Vec::new();
    for (id, share) in full.work.positions().zip(&pace.time_shares) {
        match of.iter_mut().find(|(x, _)| *x == id) {
            Some((_, sum)) => *sum += share,
            None => of.push((id, *share)),
        }
    }
    let most = of.into_iter().max_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, share)| *share >= DECIDES);
    let window = w.stimulus.as_ref().filter(|s| !s.no_window() && !s.only_steady()).map(|s| s.window_text());
    Some(Purpose::Found { most: most.map(|(id, _)| id.to_owned()), window })
}

fn version(plan: &ClassPlan, w: &WorkoutPlan, v: &Version) -> BriefVersion {
    let mut lines = Vec::new();
    for l in &v.work.lines {
        lines.extend((!l.lead.is_empty()).then(|| l.lead.clone()));
        lines.push(l.text());
    }
    let pace = w.pace.iter().find(|p| p.tier == v.tier).and_then(|pace| {
        let targets = pace.member.and_then(|i| {
            let (p, m, a) = (w.placed.get(i)?, plan.members.get(i)?, plan.abilities.get(i)?);
            Some(even_targets(p, m.standard, a))
        });
        pace_line::pace_line(v, pace, w.stimulus.as_ref()?, targets.unwrap_or_default())
    });
    BriefVersion { tier: v.tier, says: v.says(), lines, pace, members: w.members_of(v.tier).len() }
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
        cues: m.said_cues().to_vec(),
        fault: m.faults.first().map(|f| (f.see.clone(), f.say.clone())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kinds::Limit;
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
        for (m, limit) in all.iter_mut().zip([
            Limit::Knee,
            Limit::Shoulder,
            Limit::Pregnancy,
            Limit::NoImpact,
            Limit::Lumbar,
        ]) {
            m.limits.push(limit);
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
            assert!(matches!(v.pace, Some(PaceLine::Closed { first: Some(_), .. })), "{v:?}");
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
        let rounds = |v: &BriefVersion| matches!(v.pace, Some(PaceLine::Rounds { .. }));
        assert!(b.workouts[0].versions.iter().all(rounds), "{b:?}");
        let b = of("# workout\nevery 2:00 x 6\n200 m run\n10 air squats");
        let cycle =
            |v: &BriefVersion| matches!(v.pace, Some(PaceLine::Cycle { every: 120.0, done }) if done < 120.0);
        assert!(b.workouts[0].versions.iter().all(cycle), "{b:?}");
    }

    #[test]
    fn the_minute_is_short_and_every_version_is_in_it() {
        let days = [
            DAY,
            "# workout\namrap 12:00\n10 burpees\n10 sit-ups",
            "# workout cap 20:00\n5 rounds for time\n3 rope climbs\n6 wall walks\n400 m run\n12 power snatches 43/30 kg\n12 box jumps",
        ];
        for text in days {
            let b = of(text);
            let a = &b.workouts[0].aloud;
            assert!(a.words() <= aloud::MOST_WORDS && a.seconds() <= aloud::MOST_S, "{} {text}", a.words());
            let said = |t: Topic| a.sentences.iter().filter(|s| s.topic == t).count();
            assert!(Tier::ALL.into_iter().all(|t| said(Topic::Version(t)) == 1), "{a:?}");
            assert!(said(Topic::Caution) == 1 || b.cautions.is_empty() || said(Topic::Caution) == 2, "{a:?}");
            assert_eq!(said(Topic::Purpose), 1);
        }
    }

    #[test]
    fn a_purpose_is_the_sheets_or_where_the_time_goes() {
        let b = of(
            "intent: fast legs under a steady bar\n# workout cap 14:00\n3 rounds for time\n12 power cleans 60/42.5 kg",
        );
        assert_eq!(b.workouts[0].aloud.sentences[0].says, "fast legs under a steady bar");
        // nearly all of the time of one line
        let b = of("# workout cap 20:00 target 9:00-13:00\nfor time\n100 burpees\n10 air squats");
        assert_eq!(
            b.workouts[0].aloud.sentences[0].says,
            "Most of the time goes to the burpees; the aim is 9:00 to 13:00."
        );
        let nobody = Purpose::Found { most: None, window: None };
        assert_eq!(nobody.says(), "No line decides it alone; every round like the first.");
    }

    #[test]
    fn a_day_without_work_says_only_its_messages() {
        let b = of("Closed on Monday for the holiday.");
        assert_eq!(b.messages, ["Closed on Monday for the holiday."]);
        assert!(b.workouts.is_empty() && b.lifts.is_empty() && b.cautions.is_empty());
    }
}
