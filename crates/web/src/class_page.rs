//! What every step of a class needs: the class, its sheet as read, who is booked, the plan, and the frame around it.

use crate::app::App;
use crate::draw::rail::rail;
use crate::error::WebError;
use crate::frame::{Area, Frame, STEPS, Step, Steps};
use crate::learners::ToLearn;
use crate::plan_cache::{Asker, Waiting};
use crate::session::{Who, apart, blocking};
use chrono::NaiveDateTime;
use chrono_tz::Tz;
use lantern_core::held::{Blocks, Inputs};
use lantern_core::kit::Kit;
use lantern_core::plan::{Class as PlanClass, ClassPlan, Decision, Options, PlanAnswer, PlanOf, answer};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::{Chosen, Glossary, ReadWith, Reading, Severity, read_with};
use lantern_store::booking::Booking;
use lantern_store::class::Class;
use lantern_store::cut::Taken;
use lantern_store::decision::Made;
use lantern_store::gym::Gym;
use lantern_store::lifting::LiftedSet;
use lantern_store::logbook::Frozen;
use lantern_store::sheet::Session;
use lantern_store::shown::Why;
use lantern_store::{
    AccountId, ClassId, Connection, GymId, MemberId, StoreError, booking, class, cut, cycle, decision, gym,
    kit, lifting, logbook, roster, sheet, shown,
};
use std::collections::HashMap;
use std::sync::Arc;

/// A class with everything that its pages show.
pub struct ClassPage {
    /// Gym.
    pub gym: Gym,
    /// Where it is in time.
    pub zone: Tz,
    /// Class.
    pub class: Class,
    /// Sheet.
    pub session: Session,
    /// The saved sheet as read.
    pub reading: Reading,
    /// Who is booked.
    pub bookings: Vec<Booking>,
    /// What the coach decided, about blocks by where they stand.
    pub decisions: Vec<Decision>,
    /// The same with who made them and what was taken back, oldest first.
    pub made: Vec<Made>,
    /// What was called out to members who were late.
    pub cuts: Vec<Taken>,
    /// Blocks of the sheet that is planned by, with their ids.
    pub blocks: Blocks,
    /// What the class is held by, once results are logged.
    pub frozen: Frozen,
    /// What could not be read of what is stored, in words.
    pub lost: Vec<String>,
    /// Kit.
    pub kit: Kit,
    /// What the plan is made from, beside the sheet.
    pub inputs: PlanClass,
    /// How it is planned.
    pub options: Options,
    /// The plan.
    pub plan: Arc<ClassPlan>,
}

/// Reads a sheet's text by what the hall has, has answered and has chosen for this sheet.
pub fn read_here(text: &str, session: &Session, settings: &Settings, kit: &Kit) -> Reading {
    read_with_choices(text, &session.choices, settings, kit)
}

fn read_with_choices(text: &str, choices: &[(String, Chosen)], settings: &Settings, kit: &Kit) -> Reading {
    let own = (!settings.phrases.is_empty()).then(|| Glossary::with(&settings.phrases));
    let with =
        ReadWith { units: kit.unit, pound_pairs: settings.pound_pairs, glossary: own.as_ref(), choices };
    read_with(text, &with)
}

/// What a plan is made from, read from the store.
struct Gathered {
    gym: Gym,
    class: Class,
    session: Session,
    bookings: Vec<Booking>,
    frozen: Frozen,
    made: Vec<Made>,
    cuts: Vec<Taken>,
    /// Decisions that cannot be read any more.
    unread: usize,
    inputs: Inputs,
    /// What results have taught until the day, for whom the plan is not frozen.
    to_learn: Option<ToLearn>,
}

fn gather(conn: &mut Connection, app: &App, of: GymId, id: ClassId) -> Result<Gathered, WebError> {
    let frozen = logbook::find_frozen(conn, of, id)?;
    gather_by(conn, app, of, id, frozen)
}

/// What a plan is made from, by what the class is held by.
fn gather_by(
    conn: &mut Connection,
    app: &App,
    of: GymId,
    id: ClassId,
    frozen: Frozen,
) -> Result<Gathered, WebError> {
    let gym = gym::find(conn, of)?;
    let class = class::find(conn, of, id)?;
    let session = sheet::find(conn, of, class.session)?;
    let bookings = booking::planned(conn, of, id)?;
    let (made, unread) = decision::made(conn, of, id)?;
    let cuts = cut::list(conn, of, id)?;
    let inputs = match frozen.inputs.clone() {
        Some(held) => with_late(conn, &gym, held, &bookings)?,
        None => todays(conn, &gym, &class, &session, &bookings)?,
    };
    let held = frozen.inputs.as_ref().map(|i| i.class.members.len());
    let to_learn = match held {
        Some(n) if n == inputs.class.members.len() => None,
        _ => Some(app.learners.read(conn, of, inputs.class.date)?),
    };
    Ok(Gathered { gym, class, session, bookings, frozen, made, cuts, unread, inputs, to_learn })
}

impl Gathered {
    /// Reads the sheet and makes the plan, or finds both among those made lately.
    fn planned(self, app: &App, waiting: &Waiting) -> Result<ClassPage, WebError> {
        let Gathered { gym, class, session, bookings, frozen, made, cuts, unread, mut inputs, to_learn } =
            self;
        if let Some(to_learn) = to_learn {
            let learner = app.learners.learn(to_learn);
            // who was there when the class was frozen keeps what was known then
            let held = frozen.inputs.as_ref().map_or(0, |i| i.class.members.len());
            let day = inputs.class.date;
            let new = inputs.class.members.iter_mut().skip(held);
            new.for_each(|m| m.learnt = learner.of(&m.id, day));
        }
        let reading = read_with_choices(&inputs.sheet, &inputs.choices, &inputs.settings, &inputs.class.kit);
        let blocks = inputs.blocks.align(&reading.sheet.blocks);
        let place = |id: usize| u32::try_from(id).ok().and_then(|id| blocks.position(id));
        let standing = made.iter().filter(|m| m.undone.is_none()).map(|m| m.decision.clone());
        let decisions: Vec<Decision> = standing.filter_map(|d| d.at_block(place)).collect();
        let of = PlanOf {
            sheet: &reading.sheet,
            class: &inputs.class,
            settings: &inputs.settings,
            decisions: &decisions,
            options: inputs.options(),
        };
        let plan = app.plans.plan(of, waiting)?;
        let mut lost = Vec::new();
        if unread > 0 {
            lost.push(format!("{unread} of the decisions kept for this class cannot be read any more. Look at versions and loads, and decide again what is missing."));
        }
        if frozen.lost {
            lost.push("The plan that this class was held by cannot be read any more; today's stands in for it. Results are all there.".to_owned());
        }
        let zone = gym.zone.unwrap_or(app.zone);
        let options = inputs.options();
        let gym = Gym { settings: inputs.settings, ..gym };
        let kit = inputs.class.kit.clone();
        let inputs = inputs.class;
        Ok(ClassPage {
            gym,
            zone,
            class,
            session,
            reading,
            bookings,
            decisions,
            made,
            cuts,
            blocks,
            frozen,
            lost,
            kit,
            inputs,
            options,
            plan,
        })
    }
}

/// Loads a class with its plan inside a change. The plan is made before, by [`planned`], so that none is worked out while the change
/// holds the connection.
pub fn load(conn: &mut Connection, app: &App, of: GymId, id: ClassId) -> Result<ClassPage, WebError> {
    // a change that has begun is brought to its end, whoever has left
    let asker = Asker::default();
    gather(conn, app, of, id)?.planned(app, &asker.waiting_in_change())
}

/// A class with its plan: what it is made from is read, the connection goes back, then it is worked out.
pub async fn planned(app: &App, of: GymId, id: ClassId) -> Result<ClassPage, WebError> {
    let gathered = blocking(app, move |conn, app| gather(conn, app, of, id)).await?;
    let app = app.clone();
    apart(move |waiting| gathered.planned(&app, waiting)).await
}

/// The same before a result is taken back: with its last one a class is held no more, so today's plan is worked out too, and not while
/// the change holds the connection.
pub async fn planned_with_todays(app: &App, of: GymId, id: ClassId) -> Result<(), WebError> {
    planned(app, of, id).await?;
    let last = move |conn: &mut Connection, app: &App| match logbook::list(conn, of, id)?.len() {
        1 => gather_by(conn, app, of, id, Frozen::default()).map(Some),
        _ => Ok(None),
    };
    if let Some(gathered) = blocking(app, last).await? {
        let app = app.clone();
        apart(move |waiting| gathered.planned(&app, waiting)).await?;
    }
    Ok(())
}

/// A held class with those who were booked after its first result: they do it too, and have results.
fn with_late(
    conn: &mut Connection,
    gym: &Gym,
    mut held: Inputs,
    bookings: &[Booking],
) -> Result<Inputs, WebError> {
    let there = |b: &&Booking| held.class.members.iter().any(|m| m.id == b.member.to_string());
    let late: Vec<MemberId> = bookings.iter().filter(|b| !there(b)).map(|b| b.member).collect();
    if !late.is_empty() {
        held.class.members.extend(roster::of(conn, gym.id, &late, held.class.date)?);
    }
    Ok(held)
}

/// The blocks that a class is planned by now: what a form says of a block by where it stands belongs to one of them.
/// `seen`: the save of the sheet that the form was made from.
///
/// # Errors
/// `Raced` where the sheet was saved since: what stands at a place now may be another block.
pub fn blocks_of(
    conn: &mut Connection,
    of: GymId,
    id: ClassId,
    seen: Option<i32>,
) -> Result<Blocks, WebError> {
    let frozen = logbook::find_frozen(conn, of, id)?;
    let (sheet, choices, blocks, settings, kit) = match frozen.inputs {
        Some(i) => (i.sheet, i.choices, i.blocks, i.settings, i.class.kit),
        None => {
            let session = class::find(conn, of, id)?.session;
            let s = sheet::find(conn, of, session)?;
            if seen.is_some_and(|seen| seen != s.version) {
                return Err(WebError::Store(StoreError::Raced));
            }
            (s.sheet, s.choices, s.blocks, gym::find(conn, of)?.settings, kit::find(conn, of)?)
        }
    };
    let reading = read_with_choices(&sheet, &choices, &settings, &kit);
    Ok(blocks.align(&reading.sheet.blocks))
}

/// What a class is planned from today.
fn todays(
    conn: &mut Connection,
    gym: &Gym,
    class: &Class,
    session: &Session,
    bookings: &[Booking],
) -> Result<Inputs, WebError> {
    let kit = kit::find(conn, gym.id)?;
    let day = class.starts_at.date();
    let booked: Vec<MemberId> = bookings.iter().map(|b| b.member).collect();
    let mut known: HashMap<String, Member> =
        roster::of(conn, gym.id, &booked, day)?.into_iter().map(|m| (m.id.clone(), m)).collect();
    let members = bookings.iter().filter_map(|b| known.remove(&b.member.to_string())).collect();
    Ok(Inputs {
        sheet: session.sheet.clone(),
        choices: session.choices.clone(),
        blocks: session.blocks.clone(),
        class: PlanClass {
            members,
            kit,
            date: day,
            length_s: class.length_s,
            recent_drills: logbook::recent_drills(conn, gym.id, class.starts_at.date())?,
            cycles: cycle::list(conn, gym.id)?.into_iter().map(|(_, c)| c).collect(),
        },
        settings: gym.settings.clone(),
        runs: gym.settings.runs,
        seed: class.seed,
    })
}

impl ClassPage {
    /// Base of the class's addresses.
    pub fn base(&self) -> String {
        format!("/classes/{}", self.class.id)
    }

    /// All that the plan is a function of.
    pub fn plan_of(&self) -> PlanOf<'_> {
        PlanOf {
            sheet: &self.reading.sheet,
            class: &self.inputs,
            settings: &self.gym.settings,
            decisions: &self.decisions,
            options: self.options,
        }
    }

    /// Whether results are logged, so that it stays as it was planned.
    pub fn held(&self) -> bool {
        self.frozen.inputs.is_some()
    }

    /// What the class would be held by from now on.
    pub fn inputs_now(&self) -> Inputs {
        self.frozen.inputs.clone().unwrap_or_else(|| Inputs {
            sheet: self.session.sheet.clone(),
            choices: self.session.choices.clone(),
            blocks: self.blocks.clone(),
            class: self.inputs.clone(),
            settings: self.gym.settings.clone(),
            runs: self.gym.settings.runs,
            seed: self.class.seed,
        })
    }

    /// What was called out to a member in a block, by their ids.
    pub fn cut_of(&self, member: &str, block: u32) -> Option<&Taken> {
        self.cuts.iter().find(|t| t.block == block && t.member.to_string() == member)
    }

    /// The name of a member of the class by their id.
    pub fn member_name(&self, id: &str) -> String {
        let m = self.plan.members.iter().find(|m| m.id == id);
        m.map_or_else(|| "somebody".to_owned(), |m| m.name.clone())
    }

    /// What undo takes back for somebody, and what redo does again, in words; empty where there is nothing.
    fn undo_of(&self, account: AccountId) -> (String, String) {
        let name = |id: &str| self.member_name(id);
        let mine = || self.made.iter().filter(|m| m.is_of(account));
        let undo = mine().rfind(|m| m.undone.is_none());
        let redo = mine().filter(|m| m.undone.is_some()).max_by_key(|m| m.undone);
        let words = |m: Option<&Made>| m.map(|m| m.decision.says(name)).unwrap_or_default();
        (words(undo), words(redo))
    }

    /// The plan by ids of blocks, as it is kept.
    pub fn answer_by_ids(&self) -> PlanAnswer {
        answer(&self.plan).at_blocks(|at| self.blocks.id(at).map(|id| id as usize))
    }

    /// Keeps the plan as it is on a screen now, so that results are judged by what was shown before them; a class with results keeps its
    /// own already.
    ///
    /// # Errors
    /// When the database is away.
    pub async fn shown(&self, app: &App, why: Why) -> Result<(), WebError> {
        if self.held() || self.plan.workouts.is_empty() {
            return Ok(());
        }
        let (gym, class, plan) = (self.gym.id, self.class.id, self.answer_by_ids());
        blocking(app, move |conn, _| Ok(shown::keep(conn, gym, class, &plan, why)?)).await
    }

    /// The plan that results are judged by, by where blocks stand: the frozen one, else today's.
    pub fn judged_by(&self) -> PlanAnswer {
        match &self.frozen.plan {
            Some(plan) => {
                plan.clone().at_blocks(|id| u32::try_from(id).ok().and_then(|id| self.blocks.position(id)))
            }
            None => answer(&self.plan),
        }
    }

    /// Sets that were lifted, by where their blocks stand; those of a block that left the sheet wait for it.
    pub fn lifted(&self, conn: &mut Connection) -> Result<Vec<LiftedSet>, WebError> {
        let all = lifting::list(conn, self.gym.id, self.class.id)?;
        let here = |mut set: LiftedSet| {
            set.place.block = u32::try_from(self.blocks.position(set.place.block)?).ok()?;
            Some(set)
        };
        Ok(all.into_iter().filter_map(here).collect())
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
        let mut frame = Frame::new(who, &self.gym, Area::Classes, &format!("{word} · {}", self.name()));
        let racks = self.kit.count(lantern_core::kinds::Gear::Rack);
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
                look: self.look(path, who),
                here: *path == here,
                waits: self.waits(path),
            })
            .collect();
        let members = self.bookings.len();
        let held = self.held().then(|| held_words(self.class.starts_at));
        let cancelled = self.class.cancelled.then(|| CANCELLED.to_owned());
        let notes = cancelled.into_iter().chain(held).chain(self.lost.iter().cloned()).collect();
        let (undo, redo) = self.undo_of(who.sign_in.account.id);
        let (base, name, version) = (self.base(), self.name(), self.session.version);
        frame.steps = Some(Steps { base, name, when, members, list, notes, undo, redo, version });
        frame.rail = Some(rail(
            &self.plan,
            self.class.starts_at,
            here,
            matches!(here, "stimulus" | "hour" | "warm-up"),
        ));
        frame
    }

    fn look(&self, path: &str, who: &Who) -> usize {
        let plan = &self.plan;
        match path {
            "sheet" => self.errors() + usize::from(self.session.draft_of(who.account()).is_some()),
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

/// Said on every page of a cancelled class.
const CANCELLED: &str =
    "This class is cancelled. It takes place after all with a press under “Hour and coach”.";

/// What is said on every page of a held class.
fn held_words(at: NaiveDateTime) -> String {
    format!(
        "Held: results are logged, so this class stays as it was planned on {}, whatever changes in sheet, roster, kit or settings. Correct results, or plan it anew, in the Log.",
        at.format("%A %-d %B")
    )
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
