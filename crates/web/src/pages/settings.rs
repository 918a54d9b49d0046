//! What a hall has settled once: its answers where good coaches differ, lengths and shares; and for one class, how today's
//! versions would differ under each answer.

use super::{decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::error::{Page, WebError};
use crate::frame::{Frame, Part, html, html_as};
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path, Query};
use askama::Template;
use lantern_core::movement::catalogue;
use lantern_core::plan::{ClassPlan, Decision, Options, WorkoutPlan, school_of};
use lantern_core::settings::{SCHOOLS, Settings};
use lantern_core::sheet::{OwnPhrase, Role as WordRole, WeightUnit, read_clock, read_number};
use lantern_core::units::{clock, plain};
use lantern_core::versions::{Tier, Variant};
use lantern_store::account::Role;
use lantern_store::{ClassId, gym};
use serde::Deserialize;
use std::collections::HashMap;

#[derive(Template)]
#[template(path = "settings/page.html")]
struct SettingsPage {
    frame: Frame,
    /// Only an owner saves.
    owner: bool,
    problem: String,
    saved: bool,
    schools: Vec<SchoolView>,
    training_max: String,
    class: String,
    per_rack: String,
    phrases: String,
    pounds: &'static str,
    meanings: Vec<&'static str>,
}

struct SchoolView {
    id: &'static str,
    question: String,
    reason: String,
    options: Vec<OptionView>,
}

struct OptionView {
    id: String,
    name: String,
    says: String,
    suits: String,
    chosen: bool,
    default: bool,
}

fn schools(chosen: impl Fn(&str) -> String) -> Vec<SchoolView> {
    SCHOOLS
        .iter()
        .filter_map(|id| {
            let s = catalogue().schools.iter().find(|s| s.id == *id)?;
            let now = chosen(id);
            Some(SchoolView {
                id,
                question: s.question.clone(),
                reason: s.reason.clone(),
                options: s
                    .options
                    .iter()
                    .map(|o| OptionView {
                        id: o.id.clone(),
                        name: o.name.clone(),
                        says: o.says.clone(),
                        suits: o.when_it_suits.clone(),
                        chosen: o.id == now,
                        default: o.id == s.default,
                    })
                    .collect(),
            })
        })
        .collect()
}

/// The form's texts.
struct Form {
    schools: HashMap<String, String>,
    training_max: String,
    class: String,
    per_rack: String,
    phrases: String,
    pounds: String,
}

impl Form {
    fn of(s: &Settings) -> Form {
        Form {
            schools: SCHOOLS.iter().map(|id| ((*id).to_owned(), s.school(id).to_owned())).collect(),
            training_max: plain(s.training_max_percent),
            class: clock(f64::from(s.class_s)),
            per_rack: s.per_rack.to_string(),
            phrases: s.phrases.iter().map(OwnPhrase::line).collect::<Vec<_>>().join("\n"),
            pounds: s.pound_pairs.map_or("", WeightUnit::word).to_owned(),
        }
    }

    /// The settings, on those that are there.
    fn settings(&self, before: &Settings) -> Result<Settings, String> {
        let mut s = before.clone();
        s.schools.extend(self.schools.clone());
        s.training_max_percent = read_number(self.training_max.trim_end_matches('%').trim()).unwrap_or(0.0);
        s.class_s = read_clock(&self.class, 60.0).unwrap_or(0);
        s.per_rack = self.per_rack.trim().parse().unwrap_or(0);
        s.phrases = OwnPhrase::read_all(&self.phrases)?;
        s.pound_pairs = WeightUnit::from_word(&self.pounds);
        s.check().map(|()| s)
    }

    fn page(&self, frame: Frame, owner: bool, problem: String, saved: bool) -> SettingsPage {
        SettingsPage {
            frame,
            owner,
            problem,
            saved,
            schools: schools(|id| self.schools.get(id).cloned().unwrap_or_default()),
            training_max: self.training_max.clone(),
            class: self.class.clone(),
            per_rack: self.per_rack.clone(),
            phrases: self.phrases.clone(),
            pounds: WeightUnit::from_word(&self.pounds).map_or("", WeightUnit::word),
            meanings: WordRole::OPEN.iter().map(|(_, words)| *words).collect(),
        }
    }
}

/// `GET /settings`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Part::Settings, "Settings");
        let owner = who.sign_in.account.role == Role::Owner;
        Ok(Form::of(&gym.settings).page(frame, owner, String::new(), false))
    })
    .await?;
    html(&page)
}

/// `POST /settings`: an owner's.
pub async fn change(app: Data<App>, change: Change) -> Page {
    let key = change.key();
    if change.who.sign_in.account.role != Role::Owner {
        return Err(WebError::NotAllowed);
    }
    let f = &change.fields;
    let get = |name: &str| f.get(name).trim().to_owned();
    let form = Form {
        schools: SCHOOLS
            .iter()
            .map(|id| ((*id).to_owned(), get(id)))
            .filter(|(_, option)| !option.is_empty())
            .collect(),
        training_max: get("training_max"),
        class: get("class"),
        per_rack: get("per_rack"),
        phrases: get("phrases"),
        pounds: get("pounds"),
    };
    let who = change.who;
    let (page, fine) = once(&app, key, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Part::Settings, "Settings");
        Ok(match form.settings(&gym.settings) {
            Ok(s) => {
                gym::change_settings(conn, who.gym(), &s)?;
                (Form::of(&s).page(frame, true, String::new(), true), true)
            }
            Err(problem) => (form.page(frame, true, problem, false), false),
        })
    })
    .await?;
    html_as(if fine { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY }, &page)
}

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
fn more(page: &ClassPage, plan: &ClassPlan, school: &str) -> Vec<String> {
    match school {
        "general-warm-up" => {
            let steps = plan.warm_up.steps.iter().take(3).map(|s| s.name.clone());
            std::iter::once(plan.warm_up.how.clone()).chain(steps).filter(|s| !s.is_empty()).collect()
        }
        "single-dumbbell-rule" => plan
            .workouts
            .iter()
            .filter_map(|w| super::variants::made(page, plan, w, Variant::OneDumbbell))
            .flat_map(|w| w.changes)
            .collect(),
        "set-breaking" => plan
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

/// `GET /classes/{id}/schools?school=…`.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub async fn class(app: Data<App>, who: Who, path: Path<String>, open: Query<Open>) -> Page {
    let class = ClassId(id(&path)?);
    let open = open.into_inner().school.unwrap_or_default();
    let page = planned(&app, who.gym(), class).await?;
    let page = blocking(&app, move |_, app| {
        let known = SCHOOLS.iter().find(|s| **s == open).copied();
        let chosen = known.or(SCHOOLS.first().copied()).unwrap_or_default();
        let school = catalogue().schools.iter().find(|s| s.id == chosen).ok_or(WebError::NoPage)?;
        let hall = page.gym.settings.school(chosen).to_owned();
        let own = school_of(&page.decisions, chosen).map(str::to_owned);
        let now = own.clone().unwrap_or_else(|| hall.clone());
        let before: Vec<Vec<Vec<String>>> = page.plan.workouts.iter().map(lines).collect();
        let options: Vec<Compared> = school
            .options
            .iter()
            .map(|o| {
                let mut decisions = page.decisions.clone();
                decisions.push(Decision::School { school: chosen.to_owned(), option: Some(o.id.clone()) });
                let how = Options { as_written: false, runs: page.gym.settings.runs, seed: page.class.seed };
                let plan = app.plans.plan(
                    &page.session.sheet,
                    &page.reading.sheet,
                    &page.inputs,
                    &page.gym.settings,
                    &decisions,
                    how,
                );
                let works = plan.workouts.iter().zip(&before).map(|(w, now)| compared(w, now)).collect();
                Compared {
                    id: o.id.clone(),
                    name: o.name.clone(),
                    says: o.says.clone(),
                    now: o.id == now,
                    hall: o.id == hall,
                    works,
                    loads: loads(&page, &plan),
                    more: more(&page, &plan, chosen),
                }
            })
            .collect();
        Ok(SchoolsPage {
            frame: page.frame(&who, "versions"),
            base: page.base(),
            list: SCHOOLS
                .iter()
                .filter_map(|id| {
                    let s = catalogue().schools.iter().find(|s| s.id == *id)?;
                    Some((*id, s.question.clone(), *id == chosen))
                })
                .collect(),
            id: chosen.to_owned(),
            question: school.question.clone(),
            reason: school.reason.clone(),
            own: own.is_some(),
            same: options.windows(2).all(|w| matches!(w, [a, b] if a.gives() == b.gives())),
            options,
        })
    })
    .await?;
    html(&page)
}

/// `POST /classes/{id}/schools`: this class's own answer, or the hall's again.
pub async fn answer(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let school = change.fields.get("school").to_owned();
    let option = Some(change.fields.get("option").to_owned()).filter(|o| !o.is_empty());
    let known = catalogue().schools.iter().find(|s| s.id == school && SCHOOLS.contains(&s.id.as_str()));
    let fits = known.is_some_and(|s| option.as_ref().is_none_or(|o| s.options.iter().any(|x| x.id == *o)));
    if !fits {
        return Err(WebError::Unreadable("this is no answer to that question".to_owned()));
    }
    let back = format!("schools?school={school}");
    decide(app, change, &path, Decision::School { school, option }, &back).await
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn settings_survive_their_form_and_wrong_ones_are_named() {
        let mut s = Settings { training_max_percent: 87.5, ..Settings::default() };
        s.schools.insert("what-to-scale".into(), "cut-time".into());
        let form = Form::of(&s);
        assert_eq!(form.settings(&Settings::default()).unwrap().school("what-to-scale"), "cut-time");
        assert_eq!(form.settings(&s).unwrap().training_max_percent, 87.5);
        let wrong = Form { per_rack: "many".into(), ..Form::of(&s) };
        assert!(wrong.settings(&s).unwrap_err().contains("rack"));
    }
}
