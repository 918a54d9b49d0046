//! What every step of a class needs: the class, its sheet as read, who is booked, the plan, and the frame around it.

use crate::app::App;
use crate::draw::rail::rail;
use crate::error::WebError;
use crate::frame::{Frame, Part, STEPS, Step, Steps};
use crate::session::Who;
use lantern_core::kit::Kit;
use lantern_core::plan::{Class as PlanClass, ClassPlan, Decision, Options};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::{Glossary, ReadWith, Reading, Severity, read_with};
use lantern_store::class::{Booking, Class};
use lantern_store::gym::Gym;
use lantern_store::sheet::Session;
use lantern_store::{ClassId, Connection, GymId, class, cycle, decision, gym, kit, logbook, roster, sheet};
use std::collections::HashMap;
use std::sync::Arc;

/// A class with everything that its pages show.
pub struct ClassPage {
    /// Gym.
    pub gym: Gym,
    /// Class.
    pub class: Class,
    /// Sheet.
    pub session: Session,
    /// The saved sheet as read.
    pub reading: Reading,
    /// Who is booked.
    pub bookings: Vec<Booking>,
    /// What the coach decided.
    pub decisions: Vec<Decision>,
    /// Kit.
    pub kit: Kit,
    /// What the plan is made from, beside the sheet.
    pub inputs: PlanClass,
    /// The plan.
    pub plan: Arc<ClassPlan>,
}

/// Reads a sheet's text by what the hall has, has answered and has chosen for this sheet.
pub fn read_here(text: &str, session: &Session, settings: &Settings, kit: &Kit) -> Reading {
    let own = (!settings.phrases.is_empty()).then(|| Glossary::with(&settings.phrases));
    let with = ReadWith {
        units: kit.unit,
        pound_pairs: settings.pound_pairs,
        glossary: own.as_ref(),
        choices: &session.choices,
    };
    read_with(text, &with)
}

/// Loads a class and makes its plan.
pub fn load(conn: &mut Connection, app: &App, of: GymId, id: ClassId) -> Result<ClassPage, WebError> {
    let gym = gym::find(conn, of)?;
    let class = class::find(conn, of, id)?;
    let session = sheet::find(conn, of, class.session)?;
    let bookings = class::bookings(conn, of, id)?;
    let decisions = decision::list(conn, of, id)?;
    let kit = kit::find(conn, of)?;
    let mut known: HashMap<String, Member> =
        roster::list(conn, of)?.into_iter().map(|m| (m.id.clone(), m)).collect();
    let members = bookings.iter().filter_map(|b| known.remove(&b.member.to_string())).collect();
    let recent_drills = logbook::recent_drills(conn, of, class.starts_at)?;
    let reading = read_here(&session.sheet, &session, &gym.settings, &kit);
    let plan_class = PlanClass {
        members,
        kit: kit.clone(),
        date: class.starts_at.date(),
        length_s: class.length_s,
        recent_drills,
        cycles: cycle::list(conn, of)?.into_iter().map(|(_, c)| c).collect(),
    };
    let options = Options { as_written: false, runs: gym.settings.runs, seed: class.seed };
    let text = format!("{}\0{:?}", session.sheet, session.choices);
    let plan = app.plans.plan(&text, &reading.sheet, &plan_class, &gym.settings, &decisions, options);
    Ok(ClassPage { gym, class, session, reading, bookings, decisions, kit, inputs: plan_class, plan })
}

impl ClassPage {
    /// Base of the class's addresses.
    pub fn base(&self) -> String {
        format!("/classes/{}", self.class.id)
    }

    /// Name of the session.
    pub fn name(&self) -> String {
        name_of(&self.reading)
    }

    /// Errors in the sheet.
    pub fn errors(&self) -> usize {
        self.reading.problems.iter().filter(|p| p.severity == Severity::Error).count()
    }

    /// The frame of a step.
    pub fn frame(&self, who: &Who, here: &str) -> Frame {
        let (word, _) = STEPS.iter().find(|(_, p)| *p == here).copied().unwrap_or(("Class", ""));
        let mut frame = Frame::new(who, &self.gym, Part::Classes, &format!("{word} · {}", self.name()));
        let racks = self.kit.count("rack");
        let when = format!(
            "{} · {} {} · {racks} racks",
            self.class.starts_at.format("%a %-d %B, %H:%M"),
            self.bookings.len(),
            if self.bookings.len() == 1 { "member" } else { "members" }
        );
        let list = STEPS
            .iter()
            .zip(1..)
            .map(|((word, path), number)| Step {
                number,
                word,
                path,
                look: self.look(path),
                here: *path == here,
                waits: self.waits(path),
            })
            .collect();
        let members = self.bookings.len();
        frame.steps = Some(Steps { base: self.base(), name: self.name(), when, members, list });
        frame.rail = Some(rail(
            &self.plan,
            self.class.starts_at,
            here,
            matches!(here, "stimulus" | "hour" | "warm-up"),
        ));
        frame
    }

    fn look(&self, path: &str) -> usize {
        let plan = &self.plan;
        match path {
            "sheet" => self.errors() + usize::from(self.session.draft.is_some()),
            "stimulus" => plan
                .workouts
                .iter()
                .filter(|w| {
                    w.stimulus.as_ref().is_some_and(|s| s.said == lantern_core::stimulus::Said::Assumed)
                })
                .count(),
            "hour" => usize::from(plan.hour.overrun_s > 0),
            "warm-up" => plan.warm_up.missing.len(),
            "loads" => {
                let open = |s: &lantern_core::plan::StrengthPlan| {
                    s.open.len()
                        + s.lifts.iter().flat_map(|l| &l.members).filter(|(_, l)| !l.open.is_empty()).count()
                };
                plan.strength.iter().map(open).sum()
            }
            "versions" => {
                plan.workouts.iter().map(|w| w.placed.iter().filter(|p| w.off(p).is_some()).count()).sum()
            }
            _ => 0,
        }
    }

    fn waits(&self, path: &str) -> Option<String> {
        let plan = &self.plan;
        match path {
            "stimulus" | "versions" | "pacing" if plan.workouts.is_empty() => {
                Some("waits for a workout on the sheet".to_owned())
            }
            "versions" | "pacing" => plan.workouts.iter().find_map(|w| w.waits.clone()),
            "loads" if plan.strength.is_empty() => Some("waits for a lift on the sheet".to_owned()),
            _ => None,
        }
    }
}

/// Name of a session: its title, else its first named workout, else a plain word.
pub fn name_of(reading: &Reading) -> String {
    reading
        .sheet
        .title
        .clone()
        .or_else(|| reading.sheet.blocks.iter().find_map(|b| b.name.clone()))
        .unwrap_or_else(|| "Session without a name".to_owned())
}
