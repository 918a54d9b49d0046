//! The brief: the coach's page for the minute before the work, to read aloud and to print.

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::session::{Who, apart};
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::cautions::Note;
use lantern_core::plan::{Aloud, Brief, BriefVersion, BriefWorkout, Fetch, PaceLine, Taught, brief};
use lantern_core::units::{WeightUnit, clock, plain};
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

pub(crate) struct WorkoutView {
    pub(crate) name: String,
    pub(crate) shape: String,
    /// What is read aloud, and how long that takes.
    aloud: Vec<String>,
    takes: String,
    pub(crate) versions: Vec<VersionView>,
    movements: Vec<Taught>,
    /// What the room takes out: thing, sizes with their numbers.
    fetch: Vec<(String, String)>,
    lane: Vec<String>,
}

pub(crate) struct VersionView {
    pub(crate) tier: Tier,
    pub(crate) lines: Vec<String>,
    pub(crate) pace: String,
}

fn version(v: BriefVersion) -> VersionView {
    let pace = v.pace.as_ref().map(PaceLine::says).unwrap_or_default();
    VersionView { tier: v.tier, lines: v.lines, pace }
}

/// Sentences about one thing stand in one line of the page.
fn read_aloud(aloud: &Aloud) -> Vec<String> {
    let mut out: Vec<String> = Vec::new();
    for s in &aloud.sentences {
        match out.last_mut() {
            Some(last) if !s.topic.begins() => *last = format!("{last} {}", s.says),
            _ => out.push(s.says.clone()),
        }
    }
    out
}

/// `8 bars` and `20 kg 5, 15 kg 3`.
fn fetched(all: &[Fetch], unit: WeightUnit) -> Vec<(String, String)> {
    let mut out: Vec<(String, String)> = Vec::new();
    for of in all.chunk_by(|a, b| a.thing == b.thing) {
        let Some(first) = of.first() else { continue };
        let sum: u32 = of.iter().map(|f| f.count).sum();
        let sizes = of.iter().map(|f| format!("{} × {} {}", f.count, plain(unit.figure(f.kg)), unit.word()));
        out.push((format!("{sum} {}", first.thing.word(sum)), sizes.collect::<Vec<_>>().join(", ")));
    }
    out
}

/// A workout as it is briefed.
pub(crate) fn workout_view(w: BriefWorkout, unit: WeightUnit) -> WorkoutView {
    let cap = w.cap_s.map(|c| format!("cap {}", clock(f64::from(c))));
    let window = w.window.map(|t| format!("target {t}"));
    let shape = std::iter::once(w.clock).chain(cap).chain(window).collect::<Vec<_>>().join(" · ");
    WorkoutView {
        name: w.name.unwrap_or_else(|| "Workout".to_owned()),
        shape,
        aloud: read_aloud(&w.aloud),
        takes: format!("{} words, about {} s", w.aloud.words(), w.aloud.seconds().round()),
        versions: w.versions.into_iter().map(version).collect(),
        movements: w.movements,
        fetch: fetched(&w.fetch, unit),
        lane: w.spaces.iter().map(|s| s.says().to_owned()).chain(w.short).collect(),
    }
}

fn view(page: &ClassPage, frame: Frame) -> BriefPage {
    let Brief { intent, messages, lifts, workouts, cautions, unit } = brief(&page.plan);
    BriefPage {
        frame,
        base: page.base(),
        when: page.class.starts_at.format("%A %-d %B, %H:%M").to_string(),
        intent,
        messages,
        lifts,
        workouts: workouts.into_iter().map(|w| workout_view(w, unit)).collect(),
        cautions,
        defers: lantern_core::cautions::DEFERS,
    }
}

/// `GET /classes/{id}/brief`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = apart(move |_| {
        let frame = page.frame(&who, "floor");
        Ok(view(&page, frame))
    })
    .await?;
    html(&page)
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::plan::{Sentence, Thing, Topic};

    #[test]
    fn what_is_fetched_is_counted_by_thing() {
        let of = |thing, kg, count| Fetch { thing, kg, count };
        let all = [of(Thing::Bar, 20.0, 5), of(Thing::Bar, 15.0, 1), of(Thing::Ball, 9.0, 1)];
        assert_eq!(
            fetched(&all, WeightUnit::Kg),
            [
                ("6 bars".to_owned(), "5 × 20 kg, 1 × 15 kg".to_owned()),
                ("1 ball".to_owned(), "1 × 9 kg".to_owned())
            ]
        );
    }

    #[test]
    fn a_pace_follows_its_version() {
        let say = |topic, says: &str| Sentence { topic, says: says.to_owned() };
        let aloud = Aloud {
            sentences: vec![
                say(Topic::Movement, "Power clean: hips open. “Wait.”"),
                say(Topic::Version(Tier::Full), "Full: as it stands."),
                say(Topic::Pace(Tier::Full), "Finish by 10:50."),
            ],
        };
        assert_eq!(
            read_aloud(&aloud),
            ["Power clean: hips open. “Wait.”", "Full: as it stands. Finish by 10:50."]
        );
    }
}
