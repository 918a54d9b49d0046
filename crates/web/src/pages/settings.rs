//! What a hall has settled once: its answers where good coaches differ, lengths and shares.

use crate::app::App;
use crate::day::{WEEK_FROM, read_week_from, read_zone, zones};
use crate::error::Page;
use crate::frame::{Area, Frame, html, html_as};
use crate::session::{Change, Who, blocking, once};
use actix_web::http::StatusCode;
use actix_web::web::Data;
use askama::Template;
use chrono::Weekday;
use chrono_tz::Tz;
use lantern_core::movement::catalogue;
use lantern_core::people::{Act, MOST_NAME, name};
use lantern_core::schools::Question;
use lantern_core::settings::Settings;
use lantern_core::sheet::{OwnPhrase, Role as WordRole, WeightUnit, read_clock, read_number};
use lantern_core::units::{clock, plain};
use lantern_store::gym;
use std::collections::HashMap;

#[derive(Template)]
#[template(path = "settings/page.html")]
struct SettingsPage {
    frame: Frame,
    /// It is theirs to save.
    owner: bool,
    problem: String,
    saved: bool,
    schools: Vec<SchoolView>,
    training_max: String,
    class: String,
    per_rack: String,
    phrases: String,
    pounds: &'static str,
    name: String,
    place: String,
    zone: String,
    /// Days on which weeks may begin, and whether it is this one.
    week_from: Vec<(&'static str, bool)>,
    zones: Vec<&'static str>,
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
    Question::ALL
        .iter()
        .filter_map(|id| {
            let s = catalogue().schools.iter().find(|s| s.id == *id)?;
            let now = chosen(id.word());
            Some(SchoolView {
                id: id.word(),
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
    zone: String,
    week_from: String,
    name: String,
    place: String,
}

/// What a form settles.
struct Settled {
    name: String,
    place: String,
    settings: Settings,
    zone: Tz,
    week_from: Weekday,
}

impl Form {
    fn of(settled: &Settled) -> Form {
        let Settled { name, place, settings: s, zone, week_from } = settled;
        let day = WEEK_FROM.iter().find(|(_, d)| d == week_from).map_or("Monday", |(word, _)| word);
        Form {
            name: name.clone(),
            place: place.clone(),
            zone: zone.name().to_owned(),
            week_from: day.to_owned(),
            schools: Question::ALL.iter().map(|q| (q.word().to_owned(), s.school(*q).to_owned())).collect(),
            training_max: plain(s.training_max_percent),
            class: clock(f64::from(s.class_s)),
            per_rack: s.per_rack.to_string(),
            phrases: s.phrases.iter().map(OwnPhrase::line).collect::<Vec<_>>().join("\n"),
            pounds: s.pound_pairs.map_or("", WeightUnit::word).to_owned(),
        }
    }

    /// The settings, on those that are there.
    fn settings(&self, before: &Settings) -> Result<Settled, String> {
        let zone = read_zone(&self.zone)?;
        let week_from = read_week_from(&self.week_from)?;
        let name = name(&self.name).ok_or("Write the hall's name, at most 80 characters.")?;
        if self.place.chars().count() > MOST_NAME {
            return Err("A place has at most 80 characters.".to_owned());
        }
        let place = self.place.clone();
        let mut s = before.clone();
        s.schools.extend(self.schools.clone());
        s.training_max_percent = read_number(self.training_max.trim_end_matches('%').trim()).unwrap_or(0.0);
        s.class_s = read_clock(&self.class, 60.0).unwrap_or(0);
        s.per_rack = self.per_rack.trim().parse().unwrap_or(0);
        s.phrases = OwnPhrase::read_all(&self.phrases)?;
        s.pound_pairs = WeightUnit::from_word(&self.pounds);
        s.check().map(|()| Settled { name, place, settings: s, zone, week_from })
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
            name: self.name.clone(),
            place: self.place.clone(),
            zone: self.zone.clone(),
            week_from: WEEK_FROM.iter().map(|(word, _)| (*word, *word == self.week_from)).collect(),
            zones: zones().collect(),
            meanings: WordRole::OPEN.iter().map(|(_, words)| *words).collect(),
        }
    }
}

/// `GET /settings`.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        let frame = Frame::new(&who, &gym, Area::Settings, "Settings");
        let owner = who.may(Act::Settle);
        let settled = Settled {
            name: gym.name.clone(),
            place: gym.place.clone(),
            settings: gym.settings.clone(),
            zone: who.zone,
            week_from: gym.week_from,
        };
        Ok(Form::of(&settled).page(frame, owner, String::new(), false))
    })
    .await?;
    html(&page)
}

/// `POST /settings`.
pub async fn change(app: Data<App>, change: Change) -> Page {
    let key = change.key();
    let f = &change.fields;
    let get = |name: &str| f.get(name).trim().to_owned();
    let form = Form {
        schools: Question::ALL
            .iter()
            .map(|q| (q.word().to_owned(), get(q.word())))
            .filter(|(_, option)| !option.is_empty())
            .collect(),
        training_max: get("training_max"),
        class: get("class"),
        per_rack: get("per_rack"),
        phrases: get("phrases"),
        pounds: get("pounds"),
        zone: get("zone"),
        week_from: get("week_from"),
        name: get("name"),
        place: get("place"),
    };
    let who = change.who;
    let (page, fine) = once(&app, key, move |conn, _| {
        let gym = gym::find(conn, who.gym())?;
        Ok(match form.settings(&gym.settings) {
            Ok(s) => {
                gym::change_settings(conn, who.gym(), &s.settings)?;
                gym::change_calendar(conn, who.gym(), Some(s.zone), s.week_from)?;
                gym::rename(conn, who.gym(), &s.name, &s.place)?;
                // its name stands above the page that says so
                let frame = Frame::new(&who, &gym::find(conn, who.gym())?, Area::Settings, "Settings");
                (Form::of(&s).page(frame, true, String::new(), true), true)
            }
            Err(problem) => {
                (form.page(Frame::new(&who, &gym, Area::Settings, "Settings"), true, problem, false), false)
            }
        })
    })
    .await?;
    html_as(if fine { StatusCode::OK } else { StatusCode::UNPROCESSABLE_ENTITY }, &page)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn settings_survive_their_form_and_wrong_ones_are_named() {
        let mut s = Settings { training_max_percent: 87.5, ..Settings::default() };
        s.schools.insert("what-to-scale".into(), "cut-time".into());
        let of = |s: &Settings| {
            Form::of(&Settled {
                name: "Quay".into(),
                place: "Port Ellery".into(),
                settings: s.clone(),
                zone: Tz::Europe__Dublin,
                week_from: Weekday::Sun,
            })
        };
        let form = of(&s);
        let again = form.settings(&Settings::default()).unwrap();
        assert_eq!((again.zone, again.week_from), (Tz::Europe__Dublin, Weekday::Sun));
        assert_eq!(again.settings.school(Question::WhatToScale), "cut-time");
        assert_eq!(form.settings(&s).unwrap().settings.training_max_percent, 87.5);
        let wrong = Form { per_rack: "many".into(), ..of(&s) };
        assert!(wrong.settings(&s).err().unwrap().contains("rack"));
        let nameless = Form { name: " ".into(), ..of(&s) };
        assert!(nameless.settings(&s).err().unwrap().contains("name"));
        let nowhere = Form { zone: "Port Ellery".into(), ..of(&s) };
        assert!(nowhere.settings(&s).err().unwrap().contains("time zone"));
    }
}
