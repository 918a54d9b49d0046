//! Somebody is late in the middle of a workout: which step they have just done, what is called out for it, and what was taken. It changes
//! their card and their range, and their result is judged as of other work.

use super::finish::{Answer, Tile, answered, clock_seconds, page_now};
use super::{Typed, row_of};
use crate::app::App;
use crate::class_page::{ClassPage, load, planned};
use crate::error::{Page, WebError};
use crate::pages::id;
use crate::session::{Change, Who, apart, blocking, once};
use actix_web::HttpRequest;
use actix_web::web::{Data, Path, Query};
use lantern_core::plan::{Behind, Ends, NoCut, Passed, WorkoutPlan};
use lantern_core::units::clock;
use lantern_store::cut::Taken;
use lantern_store::{ClassId, MemberId, cut, logbook};
use serde::Deserialize;

/// Longest that a workout runs, s.
const MOST_S: f64 = 4.0 * 3600.0;

/// What is offered to call out to one member.
#[derive(Clone)]
pub(super) struct LateView {
    pub at: String,
    pub at_s: f64,
    /// Why nothing is offered; empty: something is.
    pub problem: String,
    pub steps: Vec<StepView>,
}

#[derive(Clone)]
pub(super) struct StepView {
    pub steps: usize,
    pub what: String,
    pub planned: String,
    pub stays: String,
    /// What is called out, and where they end then; `None`: nothing brings them inside.
    pub cut: Option<(String, String)>,
}

/// What was called out to one member.
#[derive(Clone)]
pub(super) struct CutView {
    pub at: String,
    pub says: String,
    pub ends: String,
}

fn ends(e: &Ends) -> String {
    format!("{} ({} to {})", clock(e.middle), clock(e.low), clock(e.high))
}

/// The workout of a block by its id, with the member's place and id.
fn of(page: &ClassPage, (member, block): (MemberId, u32)) -> Option<(&WorkoutPlan, usize)> {
    let at = page.blocks.position(block)?;
    let w = page.plan.workouts.iter().find(|w| w.block == at)?;
    Some((w, page.plan.members.iter().position(|m| m.id == member.to_string())?))
}

/// What can be called out to a member at a moment.
fn looks(page: &ClassPage, row: (MemberId, u32), at_s: f64) -> Result<Vec<Behind>, String> {
    let (w, i) = of(page, row).ok_or("This block is not on the sheet any more. Open this page again.")?;
    let standard = page.plan.members.get(i).map(|m| m.standard);
    let standard = standard.ok_or("This member is not booked.")?;
    w.behind(i, standard, at_s).map_err(|why| match why {
        NoCut::Other => {
            "No one thing shortens this workout in the middle: it is no run of rounds or lines by one member."
                .to_owned()
        }
        NoCut::NoWindow => {
            "This workout has no target and no cap to be late for. Give it one under Stimulus.".to_owned()
        }
        NoCut::Beyond => {
            "This work is far beyond them: there is no pace to be late by. Choose another version.".to_owned()
        }
        NoCut::OnPace(step, s) => {
            format!(
                "Not late yet at {}: {} on pace is {}.",
                clock(at_s),
                step.done().to_lowercase(),
                clock(s)
            )
        }
    })
}

fn late(page: &ClassPage, row: (MemberId, u32), at: Result<f64, String>) -> LateView {
    let at_s = at.clone().unwrap_or_default();
    let (steps, problem) = match at.and_then(|s| looks(page, row, s)) {
        Ok(all) => (all.iter().map(step).collect(), String::new()),
        Err(problem) => (Vec::new(), problem),
    };
    LateView { at: clock(at_s), at_s, problem, steps }
}

fn step(b: &Behind) -> StepView {
    StepView {
        steps: b.passed.steps,
        what: b.at.done(),
        planned: clock(b.on_pace_s),
        stays: ends(&b.stays),
        cut: b.cut.as_ref().map(|(shout, e)| (shout.says(), ends(e))),
    }
}

/// What was called out to a member, with where they end by it.
pub(super) fn cut_of(page: &ClassPage, member: &str, block: u32) -> Option<CutView> {
    let t = page.cut_of(member, block)?;
    let after = of(page, (t.member, block)).and_then(|(w, i)| {
        let m = page.plan.members.get(i)?;
        w.after_cut(i, m.standard, (t.passed, &t.shout))
    });
    let ends = after.map(|a| ends(&a.ends)).unwrap_or_default();
    Some(CutView { at: clock(t.passed.at_s), says: t.shout.says(), ends })
}

/// Who is late, and when.
#[derive(Deserialize)]
pub struct Whom {
    #[serde(default)]
    block: u32,
    #[serde(default)]
    member: String,
    /// s on the clock of the screen.
    at: Option<f64>,
    /// Nothing is asked any more.
    #[serde(default)]
    shut: bool,
}

/// `GET /classes/{id}/finish/behind`: the tile of a member with what can be called out; the whole page without a script.
pub async fn show(
    app: Data<App>,
    request: HttpRequest,
    who: Who,
    path: Path<String>,
    whom: Query<Whom>,
) -> Page {
    let class = ClassId(id(&path)?);
    let row = (MemberId(id(&whom.member)?), whom.block);
    let at = whom.at.filter(|s| (1.0..MOST_S).contains(s));
    let shut = whom.shut;
    let page = planned(&app, who.gym(), class).await?;
    let typed = Typed { block: row.1, member: row.0.to_string(), ..Typed::default() };
    // runs are made before a connection is taken
    let (page, view) = apart(move |_| {
        let at = at.map_or_else(|| clock_seconds(&page, row.1), Ok);
        let view = (!shut).then(|| late(&page, row, at));
        Ok((page, view))
    })
    .await?;
    let answer = blocking(&app, move |conn, _| {
        let shown = page_now(conn, &page, &who, &typed, None)?;
        Ok(answered(class, &typed, shown).with(|t: &mut Tile| t.late = view))
    })
    .await?;
    answer.send(request.headers().contains_key("HX-Request"))
}

/// `POST /classes/{id}/finish/cut`: what the plan offers at that step is taken.
pub async fn take(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let row = row_of(&change)?;
    let steps = change.fields.get("steps").parse::<usize>().ok();
    let at_s = change.fields.get("at").parse::<f64>().ok().filter(|s| (1.0..MOST_S).contains(s));
    let passed = steps.zip(at_s).map(|(steps, at_s)| Passed { steps, at_s });
    let passed =
        passed.ok_or_else(|| WebError::Unreadable("the step or its time is no number".to_owned()))?;
    let (who, hx) = (change.who, change.hx);
    let page = planned(&app, who.gym(), class).await?;
    let (offered, name) = apart(move |_| {
        let offered = looks(&page, row, passed.at_s).and_then(|all| {
            let here = all.into_iter().find(|b| b.passed == passed).and_then(|b| b.cut);
            here.ok_or_else(|| "The plan has changed since: look at what is offered now.".to_owned())
        });
        Ok((offered, page.member_name(&row.0.to_string())))
    })
    .await?;
    once(&app, key, move |conn, app| {
        let gym = who.gym();
        let logged = logbook::one(conn, gym, class, row)?;
        let words = match (offered, logged) {
            // another coach was quicker: what is done is not cut
            (_, Some(there)) => format!("{name} is logged already: {}.", there.outcome.text()),
            (Ok((shout, ends_)), None) => {
                let words = format!("{} {name} ends about {}.", shout.says(), ends(&ends_));
                let taken = Taken { member: row.0, block: row.1, passed, shout };
                cut::take(conn, gym, class, &taken, &who.sign_in.account.name)?;
                words
            }
            (Err(problem), None) => problem,
        };
        let typed = Typed { block: row.1, member: row.0.to_string(), ..Typed::default() };
        told(conn, app, &who, class, &typed, words)
    })
    .await?
    .send(hx)
}

/// `POST /classes/{id}/finish/cut/back`: it is as planned again.
pub async fn back(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let key = change.key();
    let class = ClassId(id(&path)?);
    let row = row_of(&change)?;
    let (who, hx) = (change.who, change.hx);
    planned(&app, who.gym(), class).await?;
    once(&app, key, move |conn, app| {
        cut::take_back(conn, who.gym(), class, row)?;
        let typed = Typed { block: row.1, member: row.0.to_string(), ..Typed::default() };
        told(conn, app, &who, class, &typed, "As planned again.".to_owned())
    })
    .await?
    .send(hx)
}

fn told(
    conn: &mut lantern_store::Connection,
    app: &App,
    who: &Who,
    class: ClassId,
    typed: &Typed,
    words: String,
) -> Result<Answer, WebError> {
    let page = load(conn, app, who.gym(), class)?;
    let shown = page_now(conn, &page, who, typed, Some(words))?;
    Ok(answered(class, typed, shown))
}
