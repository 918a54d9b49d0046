//! Results: typed per member or in one line, answered beside the prediction.

use super::id;
use crate::app::App;
use crate::class_page::{ClassPage, load};
use crate::draw::lane::{Axis, Range};
use crate::error::{Page, WebError};
use crate::frame::{Frame, go, html, html_as};
use crate::session::{Change, Who, blocking};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::logbook::{Outcome, Whom, read_result, split_entry, whom};
use lantern_core::plan::{PlanAnswer, PredictionAnswer, answer};
use lantern_core::record::outside;
use lantern_core::sheet::{Block, Score, read_number};
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{clock, plain};
use lantern_core::versions::Tier;
use lantern_store::logbook::Logged;
use lantern_store::{ClassId, Connection, MemberId, logbook};

const LANE: f64 = 35.0;

#[derive(Template)]
#[template(path = "log/page.html")]
struct LogPage {
    frame: Frame,
    base: String,
    csrf: String,
    lead: String,
    nobody: bool,
    line: String,
    line_problem: String,
    line_done: String,
    tally: String,
    blocks: Vec<BlockView>,
}

struct BlockView {
    block: usize,
    name: String,
    what: String,
    tiers: bool,
    placeholder: &'static str,
    axis: String,
    rows: Vec<RowView>,
}

struct RowView {
    id: String,
    name: String,
    tiers: Vec<(Tier, bool)>,
    planned: String,
    result: String,
    problem: String,
    load: String,
    load_hint: String,
    note: String,
    logged: bool,
    just: bool,
    lane: String,
    against: String,
    off: bool,
}

/// What was typed into one row and could not be logged, or a line that could not.
#[derive(Default, Clone)]
struct Typed {
    block: usize,
    member: String,
    tier: String,
    result: String,
    load: String,
    note: String,
    problem: String,
    line: String,
    line_problem: String,
}

/// The plan that results are judged by: the frozen one, else today's.
fn judged_by(conn: &mut Connection, page: &ClassPage) -> Result<PlanAnswer, WebError> {
    Ok(logbook::find_frozen(conn, page.gym.id, page.class.id)?.unwrap_or_else(|| answer(&page.plan)))
}

fn form_of(score: Score) -> &'static str {
    match score {
        Score::Time | Score::TimeMinusRest => "10:42",
        Score::RoundsAndReps => "5+12",
        Score::Load => "87.5",
        _ => "142",
    }
}

/// A block that is scored: a workout with a clock, or a lift by its load.
fn scored(b: &Block) -> bool {
    b.scored() != Score::None
}

fn range_of(p: &PredictionAnswer) -> Range {
    Range { low: p.p10, middle: p.p50, high: p.p90, provenance: p.provenance }
}

/// Reps of a round on the board for a member's standard and version.
fn board_reps(plan: &PlanAnswer, page: &ClassPage, block: usize, tier: Tier, member: &str) -> f64 {
    let standard = page.plan.members.iter().find(|m| m.id == member).map(|m| m.standard);
    let v = plan.versions.iter().find(|v| v.block == block && v.tier == tier);
    match (standard, v) {
        (Some(s), Some(v)) => s.of(v.board_reps),
        _ => 1.0,
    }
}

/// How a result stands against its range, and whether it is outside.
fn against(s: &Stimulus, p: &PredictionAnswer, result: f64, done: Tier) -> (String, bool) {
    if done != p.tier {
        return (format!("did {}, planned {}", done.word(), p.tier.word()), false);
    }
    if p.scale_this.is_some() {
        return ("no range was given".to_owned(), false);
    }
    let off = outside(p.p10, p.p90, result, s.is_time());
    if off == 0.0 {
        return ("inside".to_owned(), false);
    }
    let word = match (off < 0.0, s.is_time()) {
        (true, true) => "early",
        (true, false) => "under",
        (false, true) => "late",
        (false, false) => "over",
    };
    (format!("{} {word}", s.write(off.abs())), true)
}

#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
fn block_view(
    page: &ClassPage,
    plan: &PlanAnswer,
    logged: &[Logged],
    typed: &Typed,
    i: usize,
    b: &Block,
) -> BlockView {
    let stimulus = page.plan.workouts.iter().find(|w| w.block == i).and_then(|w| w.stimulus.clone());
    let predictions: Vec<Option<&PredictionAnswer>> = page
        .plan
        .members
        .iter()
        .map(|m| plan.members.iter().find(|x| x.id == m.id)?.predictions.iter().find(|p| p.block == i))
        .collect();
    let ranges: Vec<Range> =
        predictions.iter().flatten().filter(|p| p.scale_this.is_none()).map(|p| range_of(p)).collect();
    let axis = stimulus.as_ref().map(|s| Axis::of(s, &ranges));
    let tiers = b.lifts.is_empty();
    let rows = page
        .plan
        .members
        .iter()
        .zip(&predictions)
        .map(|(m, p)| {
            let l = logged.iter().find(|l| l.block as usize == i && l.member.to_string() == m.id);
            let back = typed.block == i && typed.member == m.id;
            let tier = l.map(|l| l.tier).or(p.map(|p| p.tier)).unwrap_or(Tier::Full);
            let tier = if back { Tier::read(&typed.tier).unwrap_or(tier) } else { tier };
            let result = l.and_then(|l| {
                l.outcome.compared(p.as_ref()?.cap_s, board_reps(plan, page, i, l.tier, &m.id))
            });
            let (words, off) = match (l, &stimulus, p, result) {
                (Some(_), Some(s), Some(p), Some(r)) => against(s, p, r, l.map_or(p.tier, |l| l.tier)),
                (Some(l), ..) => (l.outcome.text(), false),
                _ => (String::new(), false),
            };
            let planned = page
                .plan
                .strength
                .iter()
                .filter(|s| s.block == i)
                .flat_map(|s| &s.lifts)
                .filter_map(|lift| lift.of(page.plan.members.iter().position(|x| x.id == m.id)?))
                .filter_map(|l| l.working().last().map(|s| plain(s.load_kg)))
                .collect::<Vec<_>>();
            let lane = match (&axis, p) {
                (Some(a), Some(p)) if p.scale_this.is_none() => a.lane(
                    &range_of(p),
                    None,
                    result,
                    LANE,
                    &format!(
                        "{}: 80 per cent range, {}",
                        m.name,
                        if result.is_some() { "with the result" } else { "no result yet" }
                    ),
                ),
                (Some(a), _) => a.empty(LANE),
                _ => String::new(),
            };
            RowView {
                id: m.id.clone(),
                name: m.name.clone(),
                tiers: Tier::ALL.map(|t| (t, t == tier)).to_vec(),
                planned: if planned.is_empty() {
                    String::new()
                } else {
                    format!("{} kg", planned.join(", "))
                },
                result: if back {
                    typed.result.clone()
                } else {
                    l.map(|l| l.outcome.text()).unwrap_or_default()
                },
                problem: if back { typed.problem.clone() } else { String::new() },
                load: if back {
                    typed.load.clone()
                } else {
                    l.and_then(|l| l.load_kg).map(plain).unwrap_or_default()
                },
                load_hint: String::new(),
                note: if back { typed.note.clone() } else { l.map(|l| l.note.clone()).unwrap_or_default() },
                logged: l.is_some(),
                just: false,
                lane,
                against: words,
                off,
            }
        })
        .collect();
    let name = b.name.clone().unwrap_or_else(|| {
        let lifts: Vec<String> = b
            .lifts
            .iter()
            .filter_map(|l| l.movement.id())
            .map(|id| lantern_core::movement::catalogue().name(id))
            .collect();
        if lifts.is_empty() { "Workout".to_owned() } else { lifts.join(", ") }
    });
    BlockView {
        block: i,
        name,
        what: match &stimulus {
            Some(s) => format!(
                "scored by {}{}",
                b.scored().words(),
                s.cap_s.map(|c| format!(", cap {}", clock(c))).unwrap_or_default()
            ),
            None => "top load, when it differs from the plan".to_owned(),
        },
        tiers,
        placeholder: form_of(b.scored()),
        axis: axis.map(|a| a.head()).unwrap_or_default(),
        rows,
    }
}

fn view(conn: &mut Connection, page: &ClassPage, who: &Who, typed: &Typed) -> Result<LogPage, WebError> {
    let plan = judged_by(conn, page)?;
    let logged = logbook::list(conn, page.gym.id, page.class.id)?;
    let mut blocks: Vec<BlockView> = page
        .plan
        .sheet
        .blocks
        .iter()
        .enumerate()
        .filter(|(_, b)| scored(b))
        .map(|(i, b)| block_view(page, &plan, &logged, typed, i, b))
        .collect();
    // workouts first: they are shouted first
    blocks.sort_by_key(|b| !b.tiers);
    let rows: Vec<&RowView> = blocks.iter().filter(|b| b.tiers).flat_map(|b| &b.rows).collect();
    let done = rows.iter().filter(|r| r.logged).count();
    let judged = rows.iter().filter(|r| r.logged && (r.off || r.against == "inside")).count();
    let inside = rows.iter().filter(|r| r.against == "inside").count();
    let capped = logged.iter().filter(|l| matches!(l.outcome, Outcome::Capped { .. })).count();
    Ok(LogPage {
        frame: page.frame(who, "log"),
        base: page.base(),
        csrf: who.sign_in.csrf.clone(),
        lead: "A few letters of the name and the result, or the row's own fields.".to_owned(),
        nobody: page.plan.members.is_empty(),
        line: typed.line.clone(),
        line_problem: typed.line_problem.clone(),
        line_done: if done == rows.len() && done > 0 {
            "Everybody is logged.".to_owned()
        } else {
            String::new()
        },
        tally: format!(
            "{done} of {} logged. Inside their range {inside} of {judged}. Capped {capped}.",
            rows.len()
        ),
        blocks,
    })
}

/// `GET /classes/{id}/log`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let page = blocking(&app, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
        view(conn, &page, &who, &Typed::default())
    })
    .await?;
    html(&page)
}

/// Reads a row's fields into a result; the problem in words.
fn read_row(page: &ClassPage, typed: &Typed) -> Result<Logged, String> {
    let block = page
        .plan
        .sheet
        .blocks
        .get(typed.block)
        .filter(|b| scored(b))
        .ok_or("This block is not scored any more.")?;
    let cap = block.cap_s.map(f64::from);
    let outcome = read_result(&typed.result, block.scored(), cap)?;
    let tier = Tier::read(&typed.tier).ok_or("Choose the version that was done.")?;
    let load_kg = match typed.load.trim() {
        "" => None,
        t => Some(
            read_number(t)
                .filter(|v| (0.5..=600.0).contains(v))
                .ok_or("Write the load in kilograms, say 42.5, or leave it empty.")?,
        ),
    };
    if typed.note.chars().count() > 500 {
        return Err("The note is longer than 500 characters. Shorten it.".to_owned());
    }
    let member = typed.member.parse::<MemberId>().map_err(|_| "This member is not booked.".to_owned())?;
    let block = u32::try_from(typed.block).unwrap_or(0);
    let volume = page.plan.volume_done(typed.block, &typed.member, tier, &outcome);
    Ok(Logged { member, block, outcome, tier, load_kg, note: typed.note.trim().to_owned(), volume })
}

async fn write(app: Data<App>, change: Change, class: ClassId, typed: Typed) -> Page {
    let who = change.who;
    let problem = blocking(&app, {
        let who = who.clone();
        move |conn, app| {
            let page = load(conn, app, who.gym(), class)?;
            let mut typed = typed;
            let from_line = typed.line_problem.is_empty() && !typed.line.is_empty();
            if typed.line_problem.is_empty() {
                match read_row(&page, &typed) {
                    Ok(logged) => {
                        let plan = judged_by(conn, &page)?;
                        logbook::log(conn, who.gym(), class, &logged, &plan)?;
                        return Ok(None);
                    }
                    Err(words) if from_line => typed.line_problem = words,
                    Err(words) => typed.problem = words,
                }
            }
            if from_line {
                typed.member.clear();
            }
            Ok(Some(view(conn, &page, &who, &typed)?))
        }
    })
    .await?;
    match problem {
        None => go(&format!("/classes/{class}/log")),
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
    }
}

/// `POST /classes/{id}/log`: one row.
pub async fn log(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let f = &change.fields;
    let typed = Typed {
        block: f.get("block").parse().unwrap_or(usize::MAX),
        member: f.get("member").to_owned(),
        tier: f.get("tier").to_owned(),
        result: f.get("result").to_owned(),
        load: f.get("load").to_owned(),
        note: f.get("note").to_owned(),
        ..Typed::default()
    };
    write(app, change, class, typed).await
}

/// `POST /classes/{id}/log/line`: one line, `bea 1042`, for the first workout.
pub async fn line(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let line: String = change.fields.get("line").trim().to_owned();
    let gym = change.who.gym();
    let typed = blocking(&app, move |conn, app| {
        let page = load(conn, app, gym, class)?;
        let names: Vec<String> = page.plan.members.iter().map(|m| m.name.clone()).collect();
        let mut typed = Typed { line: line.clone(), block: usize::MAX, ..Typed::default() };
        let Some((letters, result)) = split_entry(&line) else {
            typed.line_problem = "Write a few letters of the name, then the result: bea 1042.".to_owned();
            return Ok(typed);
        };
        match whom(letters, &names) {
            Whom::Nobody => typed.line_problem = format!("Nobody booked starts with {letters}."),
            Whom::Several(all) => {
                let list: Vec<&str> = all.iter().filter_map(|i| names.get(*i)).map(String::as_str).collect();
                typed.line_problem = format!(
                    "{} members start with {letters}: {}. Type one letter more.",
                    list.len(),
                    list.join(", ")
                );
            }
            Whom::One(i) => {
                let w = page.plan.workouts.iter().find(|w| w.waits.is_none());
                typed.block = w.map_or(usize::MAX, |w| w.block);
                typed.member = page.plan.members.get(i).map(|m| m.id.clone()).unwrap_or_default();
                let tier = w.and_then(|w| w.placed.get(i)).map_or(Tier::Full, |p| p.tier);
                typed.tier = tier.letter().to_owned();
                result.clone_into(&mut typed.result);
            }
        }
        Ok(typed)
    })
    .await?;
    write(app, change, class, typed).await
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::units::Provenance;
    use lantern_core::versions::PredictionUnit;

    fn stimulus(text: &str) -> Stimulus {
        let b = lantern_core::sheet::read(text).sheet.blocks[0].clone();
        Stimulus::of_sheet(&b, b.target.unwrap(), None)
    }

    fn prediction(unit: PredictionUnit, low: f64, high: f64) -> PredictionAnswer {
        PredictionAnswer {
            block: 0,
            tier: Tier::Trim,
            unit,
            p10: low,
            p50: (low + high) / 2.0,
            p90: high,
            deciles: [low; 9],
            on_stimulus: 0.8,
            capped: 0.0,
            cap_s: Some(840.0),
            provenance: Provenance::Tested,
            weakest: None,
            steady: None,
            scale_this: None,
        }
    }

    #[test]
    fn a_time_is_early_inside_or_late_by_its_difference() {
        let s = stimulus("# workout cap 14:00 target 9:00-12:00\nfor time\n9 burpees");
        let p = prediction(PredictionUnit::Seconds, 540.0, 660.0);
        let say = |t: f64| against(&s, &p, t, Tier::Trim);
        assert_eq!(say(600.0), ("inside".to_owned(), false));
        assert_eq!(say(660.4), ("inside".to_owned(), false), "as printed");
        assert_eq!(say(673.0), ("0:13 late".to_owned(), true));
        assert_eq!(say(500.0), ("0:40 early".to_owned(), true));
        assert_eq!(against(&s, &p, 600.0, Tier::Base), ("did Base, planned Trim".to_owned(), false));
    }

    #[test]
    fn rounds_are_over_or_under() {
        let s = stimulus("# workout target 5-6 rounds\namrap 12:00\n9 burpees");
        let p = prediction(PredictionUnit::Rounds, 4.5, 6.0);
        assert_eq!(against(&s, &p, 6.5, Tier::Trim), ("0.5 over".to_owned(), true));
        assert_eq!(against(&s, &p, 4.0, Tier::Trim), ("0.5 under".to_owned(), true));
    }

    #[test]
    fn every_score_has_its_example() {
        for s in Score::ALL {
            if s != Score::None {
                assert!(read_result(form_of(s), s, None).is_ok(), "{s:?}: {}", form_of(s));
            }
        }
    }
}
