//! The wall: what the class does now, part by part of its hour: before it the versions with names, the warm-up's drills, the lifters of
//! each rack, a workout without names, time left, results. Walls of one class are told of its clock and part, and go in step.

mod parts;
mod versions;

use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::clocks::shown;
use crate::error::{Page, WebError};
use crate::frame::{go, html};
use crate::pages::id;
use crate::session::{Change, Who, apart, blocking};
use actix_web::HttpResponse;
use actix_web::http::header::ContentEncoding;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::{DateTime, Utc};
use lantern_core::hour::{Press, Stage, stages};
use lantern_core::plan::WorkoutPlan;
use lantern_core::units::clock as write_clock;
use lantern_store::ClassId;
use lantern_store::clock::{find, press, start, turn};
use lantern_store::logbook::Logged;
use lantern_store::shown::Why;
use parts::{BriefPanel, CoolDown, Results, Steps, Strength};
use versions::VersionsPanel;

#[derive(Template)]
#[template(path = "floor/wall.html")]
struct WallPage {
    name: String,
    what: String,
    base: String,
    csrf: String,
    /// ms since 1970, or empty while the clock stands.
    started: String,
    /// ms since 1970, or empty while it is not stopped.
    paused: String,
    now: i64,
    end: f64,
    scale: f64,
    clock: String,
    running: bool,
    /// Key of the part that is shown; empty before the class.
    stage: String,
    /// Names of the parts before and after it; empty where there is none.
    turns: (&'static str, &'static str),
    panel: Panel,
}

/// What stands below the clock.
enum Panel {
    Versions(VersionsPanel),
    WarmUp(Steps),
    Strength(Strength),
    Brief(BriefPanel),
    CoolDown(CoolDown),
    Results(Results),
}

impl WallPage {
    fn versions(&self) -> Option<&VersionsPanel> {
        if let Panel::Versions(v) = &self.panel { Some(v) } else { None }
    }

    /// What came out, where it is shown.
    fn results(&self) -> Option<&Results> {
        match &self.panel {
            Panel::Results(r) => Some(r),
            Panel::CoolDown(c) => Some(&c.results),
            _ => None,
        }
    }

    /// Class of the size of the versions' lines.
    fn size(&self) -> &'static str {
        self.versions().map_or("", |v| v.size)
    }
}

/// The part that the walls of a class show, by where blocks stand; one whose block is gone is before the class.
fn stage_of(page: &ClassPage, key: Option<&str>) -> Stage {
    let kept = Stage::read(key);
    let here = kept.at_block(|id| page.blocks.position(u32::try_from(id).ok()?));
    here.filter(|s| stages(&page.plan.hour.slots).contains(s)).unwrap_or(Stage::Before)
}

/// The word by which a part is kept: with the id of its block.
pub(super) fn key_of(page: &ClassPage, stage: Stage) -> Option<String> {
    stage.at_block(|at| page.blocks.id(at).map(|id| id as usize)).and_then(Stage::key)
}

/// The parts before and after one.
fn around(page: &ClassPage, stage: Stage) -> (Option<Stage>, Option<Stage>) {
    let all = stages(&page.plan.hour.slots);
    let at = all.iter().position(|s| *s == stage).unwrap_or(0);
    (at.checked_sub(1).and_then(|i| all.get(i).copied()), all.get(at + 1).copied())
}

/// What the walls show by its name, and the names of the parts before and after; empty where there is none.
pub(super) fn turns(page: &ClassPage) -> (&'static str, (&'static str, &'static str)) {
    let stage = stage_of(page, page.class.wall.stage.as_deref());
    let (before, after) = around(page, stage);
    (stage.word(), (before.map_or("", Stage::word), after.map_or("", Stage::word)))
}

fn workout_of(page: &ClassPage, stage: Stage) -> Option<&WorkoutPlan> {
    let mut planned = page.plan.workouts.iter().filter(|w| w.waits.is_none());
    match stage {
        Stage::Workout(b) | Stage::Brief(b) => planned.find(|w| w.block == b),
        _ => planned.next(),
    }
}

fn panel(page: &ClassPage, stage: Stage, logged: &[Logged]) -> Panel {
    match stage {
        Stage::Before => {
            // names stand while nothing runs
            let stands = page.class.wall.clock.started.is_none();
            Panel::Versions(versions::panel(page, workout_of(page, stage), stands))
        }
        Stage::Workout(_) => Panel::Versions(versions::panel(page, workout_of(page, stage), false)),
        Stage::WarmUp => Panel::WarmUp(parts::warm_up(page)),
        Stage::Strength(b) => Panel::Strength(parts::strength(page, b)),
        Stage::Brief(b) => Panel::Brief(parts::brief_of(page, b)),
        Stage::CoolDown => Panel::CoolDown(parts::cool_down(page, logged)),
        Stage::Results => Panel::Results(parts::results(page, logged)),
    }
}

fn view(page: &ClassPage, csrf: String, now: DateTime<Utc>, logged: &[Logged]) -> WallPage {
    let wall = &page.class.wall;
    let stage = stage_of(page, wall.stage.as_deref());
    let panel = panel(page, stage, logged);
    let (name, what, end, scale) = match &panel {
        Panel::Versions(v) => {
            let name = workout_of(page, stage).and_then(|w| w.name.clone()).unwrap_or_else(|| page.name());
            (name, v.what.clone(), v.end, v.scale)
        }
        Panel::WarmUp(s) => ("Warm-up".to_owned(), String::new(), s.end, s.end.max(60.0)),
        Panel::Strength(s) => (s.name.clone(), s.what.clone(), s.end, s.end.max(60.0)),
        Panel::Brief(b) => (b.name.clone(), b.what.clone(), b.end, b.end.max(60.0)),
        Panel::CoolDown(c) => ("Cool-down".to_owned(), String::new(), c.end, c.end.max(60.0)),
        Panel::Results(_) => (page.name(), "results".to_owned(), 0.0, 60.0),
    };
    let clock = wall.clock;
    let gone = clock.shows(now).unwrap_or(0.0).max(0.0).floor();
    let shown = if end > 0.0 { gone.min(end) } else { gone };
    WallPage {
        name,
        what,
        base: page.base(),
        csrf,
        started: clock.started.map(|t| t.timestamp_millis().to_string()).unwrap_or_default(),
        paused: clock.paused.map(|t| t.timestamp_millis().to_string()).unwrap_or_default(),
        now: now.timestamp_millis(),
        end,
        scale,
        clock: write_clock(shown),
        running: clock.started.is_some(),
        stage: wall.stage.clone().unwrap_or_default(),
        turns: turns(page).1,
        panel,
    }
}

/// `GET /classes/{id}/wall`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let gym = who.gym();
    let page = planned(&app, gym, class).await?;
    let logged = blocking(&app, move |conn, _| Ok(lantern_store::logbook::list(conn, gym, class)?)).await?;
    let page = apart(move |_| Ok(view(&page, who.sign_in.csrf.clone(), Utc::now(), &logged))).await?;
    html(&page)
}

/// `POST /classes/{id}/clock`: starts the clock after its lead-in, stops it, lets it go on, takes it back to 0:00, or shows the next or
/// the last part.
pub async fn clock(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let (gym, word) = (change.who.gym(), change.fields.get("clock"));
    // a phone presses from the list of cards
    let back = if change.fields.get("back") == "floor" { "floor" } else { "wall" };
    let to = format!("/classes/{class}/{back}");
    if matches!(word, "next" | "last") {
        let from = change.fields.get("stage").to_owned();
        turn_over(&app, gym, class, &from, word == "next").await?;
        return go(&to);
    }
    let pressed = Press::read(word).ok_or_else(|| {
        WebError::Unreadable("the clock is started, stopped, let go on or taken back to 0:00".to_owned())
    })?;
    if pressed == Press::Start {
        let page = planned(&app, gym, class).await?;
        page.shown(&app, Why::Clock).await?;
        // started before any part was shown, it is the workout's
        let first = workout_of(&page, Stage::Before).and_then(|w| key_of(&page, Stage::Workout(w.block)));
        blocking(&app, move |conn, _| Ok(start(conn, gym, class, first.as_deref(), Utc::now())?)).await?;
        return go(&to);
    }
    blocking(&app, move |conn, _| Ok(press(conn, gym, class, pressed, Utc::now())?)).await?;
    go(&to)
}

/// Shows the part after, or before, the one it was pressed on.
async fn turn_over(
    app: &Data<App>,
    gym: lantern_store::GymId,
    class: ClassId,
    from: &str,
    on: bool,
) -> Result<(), WebError> {
    let page = planned(app, gym, class).await?;
    let from = Some(from.to_owned()).filter(|f| !f.is_empty());
    let (before, after) = around(&page, stage_of(&page, from.as_deref()));
    let Some(to) = (if on { after } else { before }) else { return Ok(()) };
    let (key, starts) = (key_of(&page, to), to.starts_itself().then(Utc::now));
    let pair = move |conn: &mut lantern_store::Connection, _: &App| {
        Ok(turn(conn, gym, class, (from.as_deref(), key.as_deref()), starts)?)
    };
    blocking(app, pair).await?;
    Ok(())
}

/// `GET /classes/{id}/clock`: the clock and the server's time, for a screen to know by how much its own is off.
pub async fn now(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let gym = who.gym();
    let clock = blocking(&app, move |conn, _| Ok(find(conn, gym, class)?)).await?;
    Ok(HttpResponse::Ok().json(shown(clock.stage.as_deref(), clock.clock, Utc::now())))
}

/// `GET /classes/{id}/clock/events`: the clock and every change of it, as it comes.
pub async fn events(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let gym = who.gym();
    // what changes while it is looked up is told too
    let following = app.clocks.follow(gym, class)?;
    let clock = blocking(&app, move |conn, _| Ok(find(conn, gym, class)?)).await?;
    // packed it would wait for more
    let mut answer = HttpResponse::Ok();
    answer.content_type("text/event-stream").insert_header(ContentEncoding::Identity);
    Ok(answer.streaming(following.events(clock)))
}
