//! The brief: the coach's page for the minute before the work, to read aloud and to print.

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, load};
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::cautions::Note;
use lantern_core::plan::{Brief, BriefVersion, BriefWorkout, Taught, brief};
use lantern_core::units::clock;
use lantern_core::versions::Tier;
use lantern_store::ClassId;

#[derive(Template)]
#[template(path = "plan/brief.html")]
struct BriefPage {
    frame: Frame,
    base: String,
    when: String,
    intent: Option<String>,
    messages: Vec<String>,
    lifts: Vec<Taught>,
    workouts: Vec<WorkoutView>,
    cautions: Vec<Note>,
    defers: &'static str,
}

struct WorkoutView {
    name: String,
    shape: String,
    versions: Vec<VersionView>,
    movements: Vec<Taught>,
}

struct VersionView {
    tier: Tier,
    says: String,
    lines: Vec<String>,
    pace: String,
}

fn version(v: BriefVersion) -> VersionView {
    let first = v.first.map(|(what, at)| format!("{} by {}", what, clock(at)));
    let ends = v.ends.map(|at| format!("finish by {}", clock(at)));
    let pace = [first, ends].into_iter().flatten().collect::<Vec<_>>().join(", ");
    VersionView { tier: v.tier, says: v.says, lines: v.lines, pace }
}

fn workout(w: BriefWorkout) -> WorkoutView {
    let cap = w.cap_s.map(|c| format!("cap {}", clock(f64::from(c))));
    let window = w.window.map(|t| format!("target {t}"));
    let shape = std::iter::once(w.clock).chain(cap).chain(window).collect::<Vec<_>>().join(" · ");
    WorkoutView {
        name: w.name.unwrap_or_else(|| "Workout".to_owned()),
        shape,
        versions: w.versions.into_iter().map(version).collect(),
        movements: w.movements,
    }
}

fn view(page: &ClassPage, frame: Frame) -> BriefPage {
    let Brief { intent, messages, lifts, workouts, cautions } = brief(&page.plan);
    BriefPage {
        frame,
        base: page.base(),
        when: page.class.starts_at.format("%A %-d %B, %H:%M").to_string(),
        intent,
        messages,
        lifts,
        workouts: workouts.into_iter().map(workout).collect(),
        cautions,
        defers: lantern_core::cautions::DEFERS,
    }
}

/// `GET /classes/{id}/brief`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = blocking(&app, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        let frame = page.frame(&who, "floor");
        Ok(view(&page, frame))
    })
    .await?;
    html(&page)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_pace_of_a_version_is_one_line() {
        let of = |first, ends| {
            version(BriefVersion { tier: Tier::Full, says: String::new(), lines: Vec::new(), first, ends })
                .pace
        };
        let first = Some(("Round 1 done".to_owned(), 220.0));
        assert_eq!(of(first.clone(), Some(650.0)), "Round 1 done by 3:40, finish by 10:50");
        assert_eq!(of(first, None), "Round 1 done by 3:40");
        assert_eq!(of(None, None), "");
    }
}
