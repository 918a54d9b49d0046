//! What stands around every page: head, names, keys, the steps of a class and the hour rail.

use crate::draw::rail::Rail;
use crate::session::{Theme, Who};
use actix_web::HttpResponse;
use actix_web::http::StatusCode;
use askama::Template;
use lantern_core::people::Act;

/// Area of the program in the main menu.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[allow(missing_docs)]
pub enum Area {
    Classes,
    Cycles,
    Members,
    Record,
    Kit,
    Settings,
}

/// The frame of a page for somebody signed in.
pub struct Frame {
    /// Title of the browser's window.
    pub title: String,
    /// Gym and place.
    pub gym: String,
    /// The demo gym: everything in it is invented.
    pub demo: bool,
    /// Who is signed in.
    pub name: String,
    /// Whose page it is.
    pub account: String,
    /// Token of every form.
    pub csrf: String,
    /// Menu entry.
    pub part: Area,
    /// Plans, members and results are theirs to see.
    pub coach: bool,
    /// Look.
    pub theme: Theme,
    /// Single keys act.
    pub single_keys: bool,
    /// Steps of a class.
    pub steps: Option<Steps>,
    /// The hour beside a step.
    pub rail: Option<Rail>,
    /// What is said above every page of the hall.
    pub lost: &'static str,
}

/// Said while a hall's settings cannot be read.
const SETTINGS_LOST: &str = "The hall’s settings cannot be read any more; the usual ones stand in for them. Look through Settings and save them.";

impl Frame {
    /// A frame without a class.
    pub fn new(who: &Who, gym: &lantern_store::gym::Gym, part: Area, title: &str) -> Frame {
        let place = if gym.place.is_empty() { String::new() } else { format!(", {}", gym.place) };
        Frame {
            title: title.to_owned(),
            gym: format!("{}{place}", gym.name),
            demo: gym.demo,
            name: who.sign_in.account.name.clone(),
            account: who.sign_in.account.id.to_string(),
            csrf: who.sign_in.csrf.clone(),
            part,
            coach: who.may(Act::Coach),
            theme: who.theme,
            single_keys: who.sign_in.single_keys,
            steps: None,
            rail: None,
            lost: if gym.settings_lost { SETTINGS_LOST } else { "" },
        }
    }

    /// A key for a form that adds something: sent twice, it is added once.
    pub fn once(&self) -> String {
        uuid::Uuid::now_v7().to_string()
    }

    /// Whether a menu entry is the open one.
    pub fn is(&self, part: &str) -> bool {
        let open = match self.part {
            Area::Classes => "classes",
            Area::Cycles => "cycles",
            Area::Members => "members",
            Area::Record => "record",
            Area::Kit => "kit",
            Area::Settings => "settings",
        };
        open == part
    }
}

/// One step of a class.
pub struct Step {
    /// Its number.
    pub number: u8,
    /// Its word.
    pub word: &'static str,
    /// Last part of its address.
    pub path: &'static str,
    /// Things to look at.
    pub look: usize,
    /// The open one.
    pub here: bool,
    /// What it waits for.
    pub waits: Option<String>,
}

/// The steps of a class.
pub struct Steps {
    /// Base of their addresses.
    pub base: String,
    /// Session's name.
    pub name: String,
    /// Day, hour, members, racks.
    pub when: String,
    /// Members who are planned for.
    pub members: usize,
    /// In order.
    pub list: Vec<Step>,
    /// What is said above every step.
    pub notes: Vec<String>,
    /// What undo would take back of one's own decisions; empty: nothing.
    pub undo: String,
    /// What redo would do again.
    pub redo: String,
    /// The save of the sheet that the page was made from.
    pub version: i32,
}

/// Steps in their order: (word, path).
pub const STEPS: [(&str, &str); 9] = [
    ("Sheet", "sheet"),
    ("Stimulus", "stimulus"),
    ("Hour", "hour"),
    ("Warm-up", "warm-up"),
    ("Loads", "loads"),
    ("Versions", "versions"),
    ("Pacing", "pacing"),
    ("Wall & cards", "floor"),
    ("Log", "log"),
];

/// A page without a frame: sign-in and messages.
#[derive(Template)]
#[template(path = "bare.html")]
pub struct Bare {
    title: String,
    message: String,
}

impl Bare {
    /// A message with a way back.
    pub fn message(title: &str, message: &str) -> Bare {
        Bare { title: title.to_owned(), message: message.to_owned() }
    }

    /// As a response.
    pub fn page(&self, status: StatusCode) -> HttpResponse {
        let body = self.render().unwrap_or_else(|_| self.message.clone());
        HttpResponse::build(status).content_type("text/html; charset=utf-8").body(body)
    }
}

/// A rendered template as a page.
pub fn html(template: &impl Template) -> crate::error::Page {
    html_as(StatusCode::OK, template)
}

/// A rendered template with a status.
pub fn html_as(status: StatusCode, template: &impl Template) -> crate::error::Page {
    Ok(HttpResponse::build(status).content_type("text/html; charset=utf-8").body(template.render()?))
}

/// To another page after a change.
pub fn go(to: &str) -> crate::error::Page {
    Ok(HttpResponse::SeeOther().insert_header(("Location", to)).finish())
}
