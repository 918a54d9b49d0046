//! The wall: clock, scale bar, three versions with the row the pace is on, next checkpoint. No names. Walls of one class are told of
//! its clock and go in step.

use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::clocks::shown;
use crate::draw::esc;
use crate::error::{Page, WebError};
use crate::frame::{go, html};
use crate::pages::id;
use crate::pages::versions::members;
use crate::session::{Change, Who, apart, blocking};
use actix_web::HttpResponse;
use actix_web::http::header::ContentEncoding;
use actix_web::web::{Data, Path};
use askama::Template;
use chrono::{DateTime, Utc};
use lantern_core::hour::Press;
use lantern_core::plan::WorkoutPlan;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::clock as write_clock;
use lantern_core::versions::{PhaseKind, Tier, Work};
use lantern_store::ClassId;
use lantern_store::clock::{find, press};
use lantern_store::shown::Why;
use std::fmt::Write as _;

/// Width of the scale bar, px.
const BAR: f64 = 1808.0;

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
    bar: String,
    versions: Vec<VersionView>,
    /// Said to the class until the clock starts.
    said: Said,
    size: &'static str,
    waits: String,
}

/// What is said to the class while the clock stands, in its place.
#[derive(Debug, Default, PartialEq)]
struct Said {
    lines: Vec<String>,
    /// Class of the size in which they fit.
    size: &'static str,
    /// How many found no place.
    more: usize,
}

impl Said {
    fn any(&self) -> bool {
        !self.lines.is_empty() || self.more > 0
    }
}

struct VersionView {
    tier: Tier,
    members: String,
    lines: Vec<String>,
    /// `from,to,line,round;…` in seconds: where the pace is.
    moves: String,
    /// `at,name;…`: checkpoints.
    checks: String,
    /// `from,to,kind,number,of,line;…`: what the clock says as it runs.
    phases: String,
    next: (String, String),
}

fn versions(w: &WorkoutPlan) -> Vec<VersionView> {
    w.versions
        .iter()
        .zip(&w.pace)
        .map(|(v, p)| {
            // positions count what goes along with a line; the wall shows lines
            let (mut line_of, mut lines) = (Vec::new(), Vec::new());
            for l in &v.work.lines {
                if !l.lead.is_empty() {
                    lines.push(l.lead.clone());
                }
                line_of.extend(std::iter::repeat_n(lines.len(), 1 + l.along.len()));
                lines.push(l.short_text());
            }
            let moves: Vec<String> = p
                .splits
                .lines
                .iter()
                .map(|l| {
                    let line = line_of.get(l.position).copied().unwrap_or(0);
                    format!("{:.0},{:.0},{line},{}", l.from_s, l.to_s, l.round + 1)
                })
                .collect();
            let checks: Vec<String> =
                p.checkpoints.iter().map(|c| format!("{:.0},{}", c.on_pace, c.at.by())).collect();
            VersionView {
                phases: phases(&v.work, &line_of),
                tier: v.tier,
                members: members(w.members_of(v.tier).len()),
                lines,
                moves: moves.join(";"),
                checks: checks.join(";"),
                next: p.checkpoints.first().map(|c| (c.at.by(), write_clock(c.on_pace))).unwrap_or_default(),
            }
        })
        .collect()
}

/// The phases of a clock for the script; `line_of`: rows of the wall by position.
fn phases(work: &Work, line_of: &[usize]) -> String {
    let row = |line: usize| line_of.get(work.position_of(line)).map_or(String::new(), usize::to_string);
    let one = |p: lantern_core::versions::Phase| {
        let kind = match p.kind {
            PhaseKind::Work => "work",
            PhaseKind::Rest => "rest",
            PhaseKind::Cycle => "cycle",
        };
        let line = p.line.map(row).unwrap_or_default();
        format!("{},{},{kind},{},{},{line}", p.from_s, p.to_s, p.number, p.of)
    };
    work.phases().into_iter().map(one).collect::<Vec<_>>().join(";")
}

/// Sizes of messages: class, characters in a line and lines that fit the clock's place.
const SAID: [(&str, usize, usize); 2] = [("", 44, 5), ("is-more", 66, 8)];

/// Messages in the largest size in which all fit; where none does, as many as the smallest holds.
fn said(messages: &[String]) -> Said {
    let lines = |of: &[String], wide: usize| -> usize {
        of.iter().map(|m| m.chars().count().div_ceil(wide).max(1)).sum()
    };
    let [_, (smallest, wide, high)] = SAID;
    if let Some((size, ..)) = SAID.into_iter().find(|(_, w, h)| lines(messages, *w) <= *h) {
        return Said { lines: messages.to_vec(), size, more: 0 };
    }
    // a line is kept for how many more there are
    let fit = (0..messages.len()).rev().find(|n| messages.get(..*n).is_some_and(|m| lines(m, wide) < high));
    let kept = messages.get(..fit.unwrap_or(0)).unwrap_or_default().to_vec();
    Said { more: messages.len() - kept.len(), lines: kept, size: smallest }
}

/// The lines' size: the largest at which all of them fit a third of the wall.
fn size(versions: &[VersionView]) -> &'static str {
    let longest = versions.iter().flat_map(|v| &v.lines).map(|l| l.chars().count()).max().unwrap_or(0);
    let lines = versions.iter().map(|v| v.lines.len()).max().unwrap_or(0);
    match (longest, lines) {
        (0..=20, 0..=4) => "",
        (0..=21, 0..=5) => "is-more",
        (0..=31, 0..=6) => "is-many",
        _ => "is-most",
    }
}

/// The scale bar of the workout: minutes, target and end; the script moves the mark.
fn bar(s: Option<&Stimulus>, scale: f64) -> String {
    let x = |t: f64| t / scale * BAR;
    let mut out = String::from(
        "<svg class=\"wbar\" width=\"1808\" height=\"112\" viewBox=\"0 0 1808 112\" role=\"img\" aria-label=\"time line of the workout\">",
    );
    let window =
        s.filter(|s| s.is_time()).and_then(|s| Some((s.low.unwrap_or(0.0), s.high?, s.window_text())));
    if let Some((a, b, _)) = &window {
        let _ = write!(
            out,
            "<rect x=\"{:.1}\" width=\"{:.1}\" y=\"0\" height=\"76\" fill=\"var(--hl-tint)\"/>",
            x(*a),
            x(*b) - x(*a)
        );
    }
    let minutes = (scale / 60.0).ceil() as usize;
    for m in (0..minutes).step_by(2) {
        let (a, b) = (m as f64 * 60.0, ((m + 1) as f64 * 60.0).min(scale));
        let _ = write!(
            out,
            "<rect x=\"{:.1}\" width=\"{:.1}\" y=\"42\" height=\"26\" fill=\"currentColor\"/>",
            x(a),
            x(b) - x(a)
        );
    }
    out.push_str("<rect x=\"1\" y=\"43\" width=\"1806\" height=\"24\" fill=\"none\" stroke=\"currentColor\" stroke-width=\"2\"/><rect x=\"1800\" width=\"8\" y=\"22\" height=\"66\" fill=\"currentColor\"/>");
    if let Some((a, b, words)) = &window {
        let at = x((a + b) / 2.0).clamp(230.0, BAR - 230.0);
        let _ = write!(
            out,
            "<text class=\"tg\" x=\"{at:.1}\" y=\"33\" text-anchor=\"middle\">target {}</text>",
            esc(words)
        );
    }
    let step = if minutes > 12 { 3 } else { 2 };
    for m in (step..minutes).step_by(step) {
        if minutes - m >= 1 && x(m as f64 * 60.0) < BAR - 160.0 {
            let _ = write!(
                out,
                "<text x=\"{:.1}\" y=\"112\" text-anchor=\"middle\">{m}</text>",
                x(m as f64 * 60.0)
            );
        }
    }
    let _ = write!(out, "<text x=\"1808\" y=\"112\" text-anchor=\"end\">{}</text>", write_clock(scale));
    out.push_str("<rect id=\"mark\" x=\"-8\" y=\"22\" width=\"16\" height=\"66\" fill=\"var(--hl-lamp)\" stroke=\"var(--hl-paper)\" stroke-width=\"4\"/></svg>");
    out
}

fn view(page: &ClassPage, csrf: String, now: DateTime<Utc>) -> WallPage {
    let w = page.plan.workouts.iter().find(|w| w.waits.is_none());
    let s = w.and_then(|w| w.stimulus.as_ref());
    let first = w.and_then(|w| w.versions.first());
    let clocked = first.and_then(|v| v.work.clock_s());
    let paced = w.map_or(0.0, |w| {
        w.pace.iter().filter_map(|p| p.checkpoints.last()).map(|c| c.on_pace).fold(0.0, f64::max)
    });
    let cap = s.and_then(|s| s.cap_s);
    let end = clocked.or(cap).unwrap_or(0.0);
    let scale = if end > 0.0 { end } else { paced.max(s.and_then(|s| s.high).unwrap_or(0.0)).max(300.0) };
    let what = first.map(|v| {
        let words = v.work.clock_text();
        match (clocked, cap) {
            (Some(t), _) if v.work.one_amrap() => format!("as many rounds as possible, {}", write_clock(t)),
            (Some(_), _) => words,
            (None, Some(c)) => format!("{words}, cap {}", write_clock(c)),
            (None, None) => words,
        }
    });
    let versions = w.map(versions).unwrap_or_default();
    let (started, paused) = (page.class.clock.started, page.class.clock.paused);
    let gone = page.class.clock.shows(now).unwrap_or(0.0).max(0.0).floor();
    let shown = if end > 0.0 { gone.min(end) } else { gone };
    WallPage {
        name: w.and_then(|w| w.name.clone()).unwrap_or_else(|| page.name()),
        what: what.unwrap_or_default(),
        base: page.base(),
        csrf,
        started: started.map(|t| t.timestamp_millis().to_string()).unwrap_or_default(),
        paused: paused.map(|t| t.timestamp_millis().to_string()).unwrap_or_default(),
        now: now.timestamp_millis(),
        end,
        scale,
        clock: write_clock(shown),
        running: started.is_some(),
        bar: bar(s, scale),
        said: said(&page.plan.sheet.messages),
        size: size(&versions),
        versions,
        waits: page
            .plan
            .workouts
            .iter()
            .find_map(|w| w.waits.clone())
            .unwrap_or_else(|| "No workout on the sheet yet.".to_owned()),
    }
}

/// `GET /classes/{id}/wall`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let page = apart(move |_| Ok(view(&page, who.sign_in.csrf.clone(), Utc::now()))).await?;
    html(&page)
}

/// `POST /classes/{id}/clock`: starts the clock after its lead-in, stops it, lets it go on, or takes it back to 0:00.
pub async fn clock(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let pressed = Press::read(change.fields.get("clock")).ok_or_else(|| {
        WebError::Unreadable("the clock is started, stopped, let go on or taken back to 0:00".to_owned())
    })?;
    let gym = change.who.gym();
    if pressed == Press::Start {
        planned(&app, gym, class).await?.shown(&app, Why::Clock).await?;
    }
    blocking(&app, move |conn, _| Ok(press(conn, gym, class, pressed, Utc::now())?)).await?;
    // a phone presses from the list of cards
    let back = if change.fields.get("back") == "floor" { "floor" } else { "wall" };
    go(&format!("/classes/{class}/{back}"))
}

/// `GET /classes/{id}/clock`: the clock and the server's time, for a screen to know by how much its own is off.
pub async fn now(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let gym = who.gym();
    let clock = blocking(&app, move |conn, _| Ok(find(conn, gym, class)?)).await?;
    Ok(HttpResponse::Ok().json(shown(clock, Utc::now())))
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

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;
    use lantern_core::versions::{Line, Work};

    #[test]
    fn lines_of_the_wall_are_short() {
        let block = read("# workout\nfor time\n12 power clean 60/42.5 kg\n200 m run").sheet.blocks[0].clone();
        let work = Work::from_block(&block).unwrap();
        assert_eq!(
            work.lines.iter().map(Line::short_text).collect::<Vec<_>>(),
            ["12 power cleans 60/42.5", "200 m run"]
        );
    }

    #[test]
    fn messages_stand_in_the_clocks_place_as_large_as_they_fit() {
        let of = |n: usize, long: usize| said(&vec!["x".repeat(long); n]);
        assert_eq!((of(2, 40).size, of(2, 40).lines.len()), ("", 2));
        // 3 x 60 characters are six lines of 44 and three of 66
        assert_eq!((of(3, 60).size, of(3, 60).more), ("is-more", 0));
        // eight lines of 66 hold eight of them; of nine, seven and a word of two more
        assert_eq!((of(9, 60).lines.len(), of(9, 60).more), (7, 2));
        assert_eq!((of(1, 2000).lines.len(), of(1, 2000).more), (0, 1));
        assert_eq!(said(&[]), Said::default());
    }

    #[test]
    fn the_bar_ends_where_the_clock_does() {
        let b = bar(None, 840.0);
        assert!(b.contains(">14:00</text>") && b.contains("id=\"mark\""));
    }
}
