//! What a new hall needs until its first class, with what it has.

use crate::app::App;
use crate::error::{Page, WebError};
use crate::frame::{Area, Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::Data;
use askama::Template;
use lantern_core::kit::Preset;
use lantern_store::{Connection, GymId, gym, kit};

#[derive(Template)]
#[template(path = "people/start.html")]
struct StartPage {
    frame: Frame,
    steps: Vec<Step>,
    open: usize,
}

impl StartPage {
    /// The first step that is not done.
    fn first(&self) -> &'static str {
        self.steps.iter().find(|s| !s.done).map_or("", |s| s.title)
    }
}

struct Step {
    title: &'static str,
    done: bool,
    /// What there is now.
    now: String,
    what: &'static str,
    links: &'static [(&'static str, &'static str)],
}

/// `GET /start`: what a new hall needs, with what it has; each step can be left for later.
pub async fn show(app: Data<App>, who: Who) -> Page {
    let page = blocking(&app, move |conn, _| {
        let hall = gym::find(conn, who.gym())?;
        let steps = steps(conn, who.gym())?;
        let open = steps.iter().filter(|s| !s.done).count();
        Ok(StartPage { frame: Frame::new(&who, &hall, Area::Settings, "Begin"), steps, open })
    })
    .await?;
    html(&page)
}

/// So many of something in words.
fn some(n: usize, one: &str, many: &str) -> String {
    match n {
        0 => format!("no {many} yet"),
        1 => format!("1 {one}"),
        n => format!("{n} {many}"),
    }
}

/// The steps of a hall with what it has.
fn steps(conn: &mut Connection, of: GymId) -> Result<Vec<Step>, WebError> {
    let kit = kit::find(conn, of)?;
    let [members, classes, sheets, coaches, asked] = gym::begun(conn, of)?;
    let racks = kit.count(lantern_core::kinds::Gear::Rack);
    let bars: u32 = kit.bars.iter().map(|b| b.count).sum();
    Ok(vec![
        Step {
            title: "Count the kit",
            done: Preset::of(&kit).is_none(),
            now: format!("{bars} bars, {racks} racks; weights are built from what stands there"),
            what: "It began with one of three usual kits. Go through it once: every weight on the floor is built from it.",
            links: &[("/kit", "Go through the kit")],
        },
        Step {
            title: "Bring the members in",
            done: members > 0,
            now: some(members, "member", "members"),
            what: "From a table or by hand. Name, standard and level are enough to begin; each lift that is known makes the ranges narrower.",
            links: &[("/members/roster", "From a table"), ("/members/new", "Add one")],
        },
        Step {
            title: "Invite the coaches",
            done: coaches > 1 || asked > 0,
            now: format!(
                "{}, {}",
                some(coaches, "account", "accounts"),
                some(asked, "open invitation", "open invitations")
            ),
            what: "Each has an account of their own: what they type, decide and take back is theirs.",
            links: &[("/people", "People")],
        },
        Step {
            title: "Make the week",
            done: classes > 0,
            now: some(classes, "class", "classes"),
            what: "Write down the classes of every week once and make weeks from them, or make a single class.",
            links: &[("/timetable", "Timetable"), ("/classes/new", "New class")],
        },
        Step {
            title: "Paste its sheet",
            done: sheets > 0,
            now: some(sheets, "sheet", "sheets"),
            what: "As it stands on the whiteboard. What was understood stands beside each line; then the plan is there.",
            links: &[("/classes", "To the classes")],
        },
    ])
}
