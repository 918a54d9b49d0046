//! Where good coaches differ, for one class: how today's versions would differ under each answer.

use super::{decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::error::{Page, WebError};
use crate::frame::{Frame, html};
use crate::plan_cache::Waiting;
use crate::session::{Change, Who, apart};
use actix_web::web::{Data, Path, Query};
use askama::Template;
use lantern_core::movement::{SchoolOption, catalogue};
use lantern_core::plan::{ClassPlan, Decision, PlanOf, Stopped, WorkoutPlan, school_of};
use lantern_core::schools::Question;
use lantern_core::versions::{Tier, Variant};
use lantern_store::ClassId;
use serde::Deserialize;
use std::sync::Arc;

#[derive(Template)]
#[template(path = "plan/schools.html")]
struct SchoolsPage {
    frame: Frame,
    base: String,
    list: Vec<(&'static str, String, bool)>,
    id: String,
    question: String,
    reason: String,
    /// The class has an answer of its own.
    own: bool,
    /// Every answer gives the same today.
    same: bool,
    options: Vec<Compared>,
}

struct Compared {
    id: String,
    name: String,
    says: String,
    now: bool,
    hall: bool,
    works: Vec<ComparedWork>,
    loads: String,
    /// What only this question changes: the warm-up's call, the work with one dumbbell, the sets.
    more: Vec<String>,
}

impl Compared {
    /// What the answer comes to, for a comparison.
    fn gives(&self) -> (Vec<&ComparedWork>, &str, &[String]) {
        (self.works.iter().collect(), &self.loads, &self.more)
    }
}

#[derive(PartialEq)]
struct ComparedWork {
    name: String,
    share: String,
    versions: Vec<ComparedVersion>,
}

#[derive(PartialEq)]
struct ComparedVersion {
    tier: Tier,
    members: String,
    /// Lines, and whether each differs from the plan as it is.
    lines: Vec<(String, bool)>,
}

/// Which question is open.
#[derive(Deserialize)]
pub struct Open {
    school: Option<String>,
}

fn compared(w: &WorkoutPlan, now: &[Vec<String>]) -> ComparedWork {
    ComparedWork {
        name: w.name.clone().unwrap_or_else(|| "Workout".to_owned()),
        share: super::versions::share_words(w).map(|s| s.0).unwrap_or_default(),
        versions: w
            .versions
            .iter()
            .enumerate()
            .map(|(v, version)| {
                let lines = version.work.lines.iter().enumerate().map(|(i, l)| {
                    let text = l.text();
                    let differs = now.get(v).and_then(|lines| lines.get(i)).is_some_and(|n| *n != text);
                    (text, differs)
                });
                ComparedVersion {
                    tier: version.tier,
                    members: super::versions::members(w.members_of(version.tier).len()),
                    lines: lines.collect(),
                }
            })
            .collect(),
    }
}

fn lines(w: &WorkoutPlan) -> Vec<Vec<String>> {
    w.versions.iter().map(|v| v.work.lines.iter().map(lantern_core::versions::Line::text).collect()).collect()
}

/// Working weights of the day in a line, where lifts are on the sheet.
fn loads(page: &ClassPage, plan: &ClassPlan) -> String {
    let first = |l: &lantern_core::plan::LiftPlan| {
        let kg: Vec<f64> = l.members.iter().map(|(_, m)| m.first_kg()).filter(|kg| *kg > 0.0).collect();
        let sum: f64 = kg.iter().sum();
        let misses = l
            .heavy
            .as_ref()
            .map(|h| if h.build.no_misses { ", a miss ends it" } else { ", two misses end it" });
        (!kg.is_empty()).then(|| {
            format!(
                "{}: {} {} on the first working sets of all together{}",
                catalogue().name(l.id()),
                page.kit.mark(sum),
                page.kit.unit_word(),
                misses.unwrap_or("")
            )
        })
    };
    plan.strength.iter().flat_map(|s| &s.lifts).filter_map(first).collect::<Vec<_>>().join("; ")
}

/// What only one question changes, for an answer's plan.
fn more(page: &ClassPage, plan: &ClassPlan, asked: Question) -> Vec<String> {
    match asked {
        Question::GeneralWarmUp => {
            let steps = plan.warm_up.steps.iter().take(3).map(lantern_core::warmup::Step::said);
            std::iter::once(plan.warm_up.how.clone()).chain(steps).filter(|s| !s.is_empty()).collect()
        }
        Question::SingleDumbbell => plan
            .workouts
            .iter()
            .filter_map(|w| super::variants::made(page, plan, w, Variant::OneDumbbell))
            .flat_map(|w| w.changes)
            .collect(),
        Question::SetBreaking => plan
            .workouts
            .iter()
            .flat_map(|w| w.versions.iter().zip(&w.pace))
            .filter_map(|(v, p)| {
                let broken = p.splits.lines.iter().filter(|l| l.sets.len() > 1).take(2);
                let sets: Vec<String> = broken.map(lantern_core::versions::LineSets::text).collect();
                (!sets.is_empty())
                    .then(|| format!("{}, its first broken sets: {}", v.tier.word(), sets.join("; ")))
            })
            .collect(),
        _ => plan
            .workouts
            .iter()
            .map(|w| w.placed.iter().map(|p| p.personal.len()).sum::<usize>())
            .filter(|n| *n > 0)
            .map(|n| format!("{n} personal {}", if n == 1 { "line" } else { "lines" }))
            .collect(),
    }
}

/// The plan with one answer in place of the one in force.
fn under(
    page: &ClassPage,
    app: &App,
    asked: Question,
    option: &str,
    waiting: &Waiting,
) -> Result<Arc<ClassPlan>, Stopped> {
    let mut decisions = page.decisions.clone();
    decisions.push(Decision::School { school: asked.word().to_owned(), option: Some(option.to_owned()) });
    let of = PlanOf { decisions: &decisions, ..page.plan_of() };
    app.plans.plan(of, waiting)
}

/// A question with what each answer to it would give today.
fn question(
    page: &ClassPage,
    who: &Who,
    app: &App,
    asked: &str,
    waiting: &Waiting,
) -> Result<SchoolsPage, WebError> {
    let chosen = Question::from_word(asked).unwrap_or(Question::WhatToScale);
    let school = catalogue().schools.iter().find(|s| s.id == chosen).ok_or(WebError::NoPage)?;
    let hall = page.gym.settings.school(chosen);
    let own = school_of(&page.decisions, chosen);
    let now = own.unwrap_or(hall);
    let before: Vec<Vec<Vec<String>>> = page.plan.workouts.iter().map(lines).collect();
    let answer = |o: &SchoolOption| {
        let plan = under(page, app, chosen, &o.id, waiting)?;
        Ok(Compared {
            id: o.id.clone(),
            name: o.name.clone(),
            says: o.says.clone(),
            now: o.id == now,
            hall: o.id == hall,
            works: plan.workouts.iter().zip(&before).map(|(w, now)| compared(w, now)).collect(),
            loads: loads(page, &plan),
            more: more(page, &plan, chosen),
        })
    };
    let options: Vec<Compared> = school.options.iter().map(answer).collect::<Result<_, Stopped>>()?;
    let listed = |id: &Question| {
        let s = catalogue().schools.iter().find(|s| s.id == *id)?;
        Some((id.word(), s.question.clone(), *id == chosen))
    };
    Ok(SchoolsPage {
        frame: page.frame(who, "versions"),
        base: page.base(),
        list: Question::ALL.iter().filter_map(listed).collect(),
        id: chosen.word().to_owned(),
        question: school.question.clone(),
        reason: school.reason.clone(),
        own: own.is_some(),
        same: options.windows(2).all(|w| matches!(w, [a, b] if a.gives() == b.gives())),
        options,
    })
}

/// `GET /classes/{id}/schools?school=…`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, open: Query<Open>) -> Page {
    let class = ClassId(id(&path)?);
    let asked = open.into_inner().school.unwrap_or_default();
    let page = planned(&app, who.gym(), class).await?;
    let app = App::clone(&app);
    html(&apart(move |waiting| question(&page, &who, &app, &asked, waiting)).await?)
}

/// `POST /classes/{id}/schools`: this class's own answer, or the hall's again.
pub async fn answer(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let school = change.fields.get("school").to_owned();
    let option = Some(change.fields.get("option").to_owned()).filter(|o| !o.is_empty());
    let known = catalogue().schools.iter().find(|s| s.id.word() == school);
    let fits = known.is_some_and(|s| option.as_ref().is_none_or(|o| s.options.iter().any(|x| x.id == *o)));
    if !fits {
        return Err(WebError::Unreadable("this is no answer to that question".to_owned()));
    }
    let back = format!("schools?school={school}");
    decide(app, change, &path, Decision::School { school, option }, &back).await
}
