//! Pace of each version: aim, chart, checkpoints, sets; who goes together.

mod run;

use super::id;
use super::versions::members;
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::draw::pace::chart;
use crate::draw::paces::{self, Chosen};
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::session::{Who, apart};
use actix_web::web::{Data, Path, Query};
use askama::Template;
use lantern_core::plan::{Shout, VersionPace, WorkoutPlan, pairings};
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{Unit, clock, plain};
use lantern_core::versions::{Splits, Tier, Version, Work};
use lantern_store::ClassId;
use run::{RunView, run_of};
use serde::Deserialize;

/// Rounds that fit side by side in a version's column.
const MOST_ROUNDS: usize = 4;

#[derive(Template)]
#[template(path = "plan/pacing.html")]
struct PacingPage {
    frame: Frame,
    base: String,
    works: Vec<WorkView>,
    /// (id, name, chosen).
    members: Vec<(String, String, bool)>,
}

/// Whose run is shown.
#[derive(Deserialize)]
pub struct Whose {
    member: Option<String>,
}

struct WorkView {
    name: String,
    target: String,
    waits: Option<String>,
    window_end: String,
    versions: Vec<VersionView>,
    run: Option<RunView>,
    /// All versions and the chosen member's band.
    chart: String,
    /// Where the line of each version ends.
    ends: [String; 3],
    teams: Vec<TeamView>,
}

/// A suggested pair or team.
struct TeamView {
    names: String,
    apart: String,
    shares: String,
    loads: String,
    turns: String,
    likely: String,
}

struct VersionView {
    tier: Tier,
    members: String,
    aim: String,
    chart: String,
    /// Checkpoint, its latest time, what is called out to somebody later, where that ends; empty where the cap does.
    cuts: Vec<(String, String, String, String)>,
    checks: Vec<(String, String, String, String)>,
    latest: bool,
    capped: bool,
    rounds: Vec<String>,
    lines: Vec<(String, Vec<(String, String)>)>,
    whose: String,
}

/// Rounds shown side by side: all, or the first two, the middle and the last.
pub fn shown_rounds(n: usize) -> Vec<usize> {
    if n <= MOST_ROUNDS { (0..n).collect() } else { vec![0, 1, n / 2, n - 1] }
}

/// Names and cells of every position of a round in the rounds that are shown: (sets, time).
pub fn set_lines(work: &Work, splits: &Splits, rounds: &[usize]) -> Vec<(String, Vec<(String, String)>)> {
    let names = work.lines.iter().flat_map(|l| {
        let along = l.along.iter().map(|a| (lantern_core::movement::say::spoken(&a.movement), false));
        // a way that is gone in one go has no sets
        std::iter::once((l.text(), l.unit == Unit::Metres)).chain(along).collect::<Vec<_>>()
    });
    names
        .enumerate()
        .map(|(position, (name, way))| {
            let cells = rounds
                .iter()
                .map(|r| match splits.lines.iter().find(|l| l.position == position && l.round == *r) {
                    Some(l) => {
                        let whole = l.sets.len() == 1 && way;
                        (if whole { String::new() } else { l.text() }, clock(l.to_s - l.from_s))
                    }
                    None => (String::new(), String::new()),
                })
                .collect();
            (name, cells)
        })
        .collect()
}

fn version(page: &ClassPage, w: &WorkoutPlan, s: &Stimulus, v: &Version, p: &VersionPace) -> VersionView {
    let n = w.members_of(v.tier).len();
    let done = p.splits.lines.iter().map(|l| l.round + 1).max().unwrap_or(0);
    let whole = p.splits.round_ends.len().min(done).max(1);
    let mut rounds = shown_rounds(whole);
    // what is done after the last round
    rounds.extend((done > whole && s.is_time()).then_some(whole));
    let time = |t: Option<f64>| t.map(clock).unwrap_or_default();
    let empty = p.checkpoints.is_empty();
    VersionView {
        tier: v.tier,
        members: members(n),
        aim: if empty { String::new() } else { s.write(p.aim) },
        chart: chart(p, s, v.work.clock_s().unwrap_or(0.0)),
        latest: s.is_time() && s.high.is_some(),
        capped: s.is_time() && s.cap_s.is_some(),
        cuts: p
            .checkpoints
            .iter()
            .filter_map(|c| {
                let cut = c.cut.as_ref()?;
                let ends = if cut.shout == Shout::AtCap { String::new() } else { clock(cut.ends_s) };
                Some((c.at.done(), time(c.latest_window), cut.shout.says(), ends))
            })
            .collect(),
        checks: p
            .checkpoints
            .iter()
            .map(|c| (c.at.done(), clock(c.on_pace), time(c.latest_window), time(c.latest_cap)))
            .collect(),
        rounds: if done == 1 {
            vec!["Sets".to_owned()]
        } else {
            let name = |r: &usize| if *r == whole { "After".to_owned() } else { format!("Round {}", r + 1) };
            rounds.iter().map(name).collect()
        },
        lines: set_lines(&v.work, &p.splits, &rounds),
        whose: match p.member.and_then(|m| page.plan.members.get(m)) {
            Some(m) => format!("Paced by {}, in the middle of this version.", m.name),
            None => "Nobody does this version today: paced by a model member.".to_owned(),
        },
    }
}

fn teams(page: &ClassPage, w: &WorkoutPlan) -> Vec<TeamView> {
    pairings(w, &page.plan.members, &page.plan.abilities)
        .into_iter()
        .map(|t| TeamView {
            names: t
                .members
                .iter()
                .filter_map(|i| page.plan.members.get(*i))
                .map(|m| m.name.clone())
                .collect::<Vec<_>>()
                .join(", "),
            shares: t.shares.iter().map(u32::to_string).collect::<Vec<_>>().join(" : "),
            apart: format!("{} %", plain((t.spread * 100.0).round())),
            loads: match t.other_loads {
                0 => "the same".to_owned(),
                n => format!("{n} to change"),
            },
            turns: t.turns,
            likely: t.likely,
        })
        .collect()
}

fn all_paces(page: &ClassPage, w: &WorkoutPlan, member: Option<usize>) -> String {
    let Some(s) = &w.stimulus else { return String::new() };
    let chosen = member.and_then(|i| {
        Some(Chosen {
            name: &page.plan.members.get(i)?.name,
            placed: w.placed.get(i)?,
            splits: w.splits.get(i)?,
        })
    });
    let length = w.versions.first().and_then(|v| v.work.clock_s()).unwrap_or(0.0);
    paces::chart(&w.pace, s, length, chosen.as_ref())
}

/// `GET /classes/{id}/pacing?member=…`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>, whose: Query<Whose>) -> Page {
    let class = ClassId(id(&path)?);
    let page = planned(&app, who.gym(), class).await?;
    let app = App::clone(&app);
    let page = apart(move |_| {
        let asked = whose.member.as_deref().and_then(|m| page.plan.members.iter().position(|x| x.id == m));
        // without a choice the middle member of the first version that somebody does
        let member = asked.or_else(|| page.plan.workouts.iter().flat_map(|w| &w.pace).find_map(|p| p.member));
        let works = page
            .plan
            .workouts
            .iter()
            .map(|w| WorkView {
                name: w.name.clone().unwrap_or_else(|| "Workout".to_owned()),
                target: w
                    .stimulus
                    .as_ref()
                    .map(|s| format!("target {}", s.window_text()))
                    .unwrap_or_default(),
                waits: w.waits.clone(),
                window_end: w.stimulus.as_ref().and_then(|s| s.high).map(clock).unwrap_or_default(),
                versions: w
                    .stimulus
                    .as_ref()
                    .map(|s| {
                        w.versions.iter().zip(&w.pace).map(|(v, p)| version(&page, w, s, v, p)).collect()
                    })
                    .unwrap_or_default(),
                run: member.and_then(|m| run_of(&page, app.plans.parts(), w, m)),
                chart: all_paces(&page, w, member),
                ends: Tier::ALL.map(|t| {
                    let of = w.pace.iter().find(|p| p.tier == t);
                    of.and_then(|p| p.checkpoints.last()).map(|c| clock(c.on_pace)).unwrap_or_default()
                }),
                teams: teams(&page, w),
            })
            .collect();
        let members = page
            .plan
            .members
            .iter()
            .enumerate()
            .map(|(i, m)| (m.id.clone(), m.name.clone(), Some(i) == member));
        Ok(PacingPage {
            frame: page.frame(&who, "pacing"),
            base: page.base(),
            works,
            members: members.collect(),
        })
    })
    .await?;
    html(&page)
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;
    use lantern_core::versions::LineSets;

    #[test]
    fn few_rounds_are_all_shown_and_many_by_their_ends() {
        assert_eq!(shown_rounds(3), vec![0, 1, 2]);
        assert_eq!(shown_rounds(10), vec![0, 1, 5, 9]);
        assert_eq!(shown_rounds(0), Vec::<usize>::new());
    }

    #[test]
    fn sets_are_written_as_a_coach_says_them() {
        let block = read("# workout\n2 rounds for time\n15 pull-ups\n200 m run").sheet.blocks[0].clone();
        let work = Work::from_block(&block).unwrap();
        let line = |position, sets: Vec<f64>, to_s| LineSets {
            position,
            round: 0,
            starts: vec![10.0; sets.len()],
            sets,
            from_s: 10.0,
            to_s,
            rest_s: 0.0,
        };
        let splits = Splits {
            round_ends: vec![100.0],
            lines: vec![line(0, vec![8.0, 7.0], 50.0), line(1, vec![200.0], 70.0)],
        };
        let rows = set_lines(&work, &splits, &[0, 1]);
        assert_eq!(
            rows[0],
            ("15 pull-ups".to_owned(), vec![("8 + 7".to_owned(), "0:40".to_owned()), Default::default()])
        );
        assert_eq!(
            rows[1].1[0],
            (String::new(), "1:00".to_owned()),
            "a run is one piece: its time is enough"
        );
    }
}
