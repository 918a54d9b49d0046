//! Pace of each version: aim, chart, checkpoints, sets.

use super::versions::members;
use super::{Mark, id};
use crate::app::App;
use crate::class_page::{ClassPage, load};
use crate::draw::pace::chart;
use crate::draw::paces::{self, Chosen};
use crate::draw::strip::strip;
use crate::error::Page;
use crate::frame::{Frame, html};
use crate::session::{Who, blocking};
use actix_web::web::{Data, Path, Query};
use askama::Template;
use lantern_core::loads::Bars;
use lantern_core::movement::say::spoken;
use lantern_core::pacing::Style;
use lantern_core::plan::{
    OtherLoad, VersionPace, WorkoutPlan, even_targets, first_bite, interruption, machine_paces, other_loads,
    pairings, rows, seconds_by_kind, shared_bars, traced_at_middle,
};
use lantern_core::roster::Ability;
use lantern_core::stimulus::Stimulus;
use lantern_core::units::{Standard, clock, in_ten, plain};
use lantern_core::versions::{Effort, Placed, Splits, Tier, Version, Work, breakings};
use lantern_store::ClassId;
use serde::Deserialize;

/// Sets of a line beyond which their clock times are no help.
const MOST_SETS: usize = 6;
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
    teams: Vec<TeamView>,
}

/// A suggested pair or team.
struct TeamView {
    names: String,
    apart: String,
    loads: String,
    turns: String,
    likely: String,
}

/// One member's run on the clock.
struct RunView {
    member: String,
    tier: Tier,
    strip: String,
    /// Work, breaks, rests, changes.
    sums: [String; 4],
    ways: Vec<Way>,
    /// Where it first bites.
    bite: String,
    /// Lines broken into sets, with the clock at which each set is picked up: (line, round, sets).
    picked_up: Vec<(String, String, String)>,
    /// Sentences: interruptions, shared bars, even targets.
    advice: Vec<String>,
    machines: Vec<MachineView>,
    /// What another weight would give: (movement, (line, middle, range, chance, it is the plan's)).
    loads: Vec<(String, Vec<LoadView>)>,
}

struct MachineView {
    text: String,
    pace: String,
    against: String,
    mark: Mark,
    equal: String,
}

struct LoadView {
    text: String,
    middle: String,
    range: String,
    chance: String,
    now: bool,
}

/// A way to break the sets, with what it would give.
struct Way {
    name: String,
    middle: String,
    range: String,
    chance: String,
    sets: u32,
    broken: String,
    own: bool,
}

struct VersionView {
    tier: Tier,
    members: String,
    aim: String,
    chart: String,
    /// Checkpoint, its latest time, what somebody later takes off, where that ends.
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

/// Sets as they are broken: `7 + 5`; nothing for a single set that is counted in metres.
pub fn sets_text(sets: &[f64]) -> String {
    sets.iter().map(|n| plain(n.round())).collect::<Vec<_>>().join(" + ")
}

/// Names and cells of every position of a round in the rounds that are shown: (sets, time).
pub fn set_lines(work: &Work, splits: &Splits, rounds: &[usize]) -> Vec<(String, Vec<(String, String)>)> {
    let names: Vec<String> = work
        .lines
        .iter()
        .flat_map(|l| {
            let along = l.along.iter().map(|a| lantern_core::movement::say::spoken(&a.movement));
            std::iter::once(l.text()).chain(along).collect::<Vec<_>>()
        })
        .collect();
    names
        .into_iter()
        .enumerate()
        .map(|(position, name)| {
            let cells = rounds
                .iter()
                .map(|r| match splits.lines.iter().find(|l| l.position == position && l.round == *r) {
                    Some(l) => {
                        let whole = l.sets.len() == 1 && name.contains(" m ");
                        (if whole { String::new() } else { sets_text(&l.sets) }, clock(l.to_s - l.from_s))
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
                Some((c.name.clone(), time(c.latest_window), cut.says.clone(), clock(cut.ends_s)))
            })
            .collect(),
        checks: p
            .checkpoints
            .iter()
            .map(|c| (c.name.clone(), clock(c.on_pace), time(c.latest_window), time(c.latest_cap)))
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

/// The run of a member, drawn on the clock at the middle of their range.
fn run_of(page: &ClassPage, w: &WorkoutPlan, member: usize) -> Option<RunView> {
    let (p, m) = (w.placed.get(member)?, page.plan.members.get(member)?);
    let run = traced_at_middle(p, w.stimulus.as_ref()?)?;
    let drawn = rows(&p.work, &run);
    let sums = seconds_by_kind(&run).map(clock);
    let aloud = format!(
        "{}: {} of work, {} of breaks, {} of rest, {} of changes",
        m.name, sums[0], sums[1], sums[2], sums[3]
    );
    let (stimulus, ability) = (w.stimulus.as_ref()?, page.plan.abilities.get(member)?);
    let splits = w.splits.get(member)?;
    let bite = first_bite(&p.work, &run).map(|b| format!("{}: {}.", clock(b.at_s), b.says));
    Some(RunView {
        bite: bite.unwrap_or_else(|| "No break and no slowing down in the whole of it.".to_owned()),
        picked_up: picked_up(&p.work, splits),
        advice: advice(p, splits, m.standard, ability, stimulus),
        machines: machine_paces(p, splits, m, ability)
            .into_iter()
            .map(|x| MachineView {
                text: x.text,
                pace: x.pace,
                against: x.against,
                mark: Mark::of(x.provenance),
                equal: x.equal.join(", "),
            })
            .collect(),
        loads: loads(page, w, member),
        member: m.name.clone(),
        tier: p.tier,
        strip: strip(&drawn, &run.round_ends, &aloud),
        sums,
        ways: ways(page, w, member),
    })
}

/// Every line that is broken, in the rounds that are shown: (line, round, sets with their clock).
fn picked_up(work: &Work, splits: &Splits) -> Vec<(String, String, String)> {
    let names: Vec<String> = work
        .lines
        .iter()
        .flat_map(|l| {
            let along = l.along.iter().map(|a| spoken(&a.movement));
            std::iter::once(spoken(&l.movement)).chain(along).collect::<Vec<_>>()
        })
        .collect();
    let rounds = shown_rounds(splits.lines.iter().map(|l| l.round + 1).max().unwrap_or(0));
    splits
        .lines
        .iter()
        .filter(|l| (2..=MOST_SETS).contains(&l.sets.len()) && rounds.contains(&l.round))
        .map(|l| {
            let name = names.get(l.position).cloned().unwrap_or_default();
            (name, format!("round {}", l.round + 1), l.on_the_clock())
        })
        .collect()
}

/// What else to tell a member, in sentences.
fn advice(p: &Placed, splits: &Splits, standard: Standard, a: &Ability, s: &Stimulus) -> Vec<String> {
    let targets = even_targets(p, standard, a);
    let even = (!targets.is_empty()).then(|| {
        let all: Vec<String> = targets.iter().map(|(name, n)| format!("{} {name}", plain(*n))).collect();
        format!("So that the last round equals the first: {} each round.", all.join(", "))
    });
    interruption(p, standard, a, s)
        .into_iter()
        .chain(shared_bars(p, splits, standard, a))
        .chain(even)
        .collect()
}

fn loads(page: &ClassPage, w: &WorkoutPlan, member: usize) -> Vec<(String, Vec<LoadView>)> {
    let (Some(p), Some(s)) = (w.placed.get(member), w.stimulus.as_ref()) else { return Vec::new() };
    let (Some(m), Some(a)) = (page.plan.members.get(member), page.plan.abilities.get(member)) else {
        return Vec::new();
    };
    let bars = Bars::of(&page.kit);
    let style = Style::of_school(w.schools.school("set-breaking"));
    let effort = Effort { runs: page.gym.settings.runs, seed: page.class.seed, style };
    let view = |o: &OtherLoad| {
        let r = &o.prediction;
        let beyond = r.scale_this.is_some();
        LoadView {
            text: o.text.clone(),
            middle: if beyond { "beyond them".to_owned() } else { s.write(r.p50()) },
            range: if beyond {
                String::new()
            } else {
                format!("{}–{}", s.write(r.p10()), s.write(r.p90()))
            },
            chance: if beyond { String::new() } else { in_ten(r.on_stimulus) },
            now: o.now,
        }
    };
    other_loads(p, m, a, s, (&page.kit, &bars), effort)
        .into_iter()
        .map(|(name, all)| (name, all.iter().map(view).collect()))
        .collect()
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

fn ways(page: &ClassPage, w: &WorkoutPlan, member: usize) -> Vec<Way> {
    let (Some(p), Some(s)) = (w.placed.get(member), w.stimulus.as_ref()) else { return Vec::new() };
    let (Some(m), Some(a)) = (page.plan.members.get(member), page.plan.abilities.get(member)) else {
        return Vec::new();
    };
    breakings(p, m.standard, a, s, page.class.seed)
        .into_iter()
        .map(|b| {
            let r = &b.prediction;
            Way {
                name: b.name,
                middle: s.write(r.p50()),
                range: format!("{}–{}", s.write(r.p10()), s.write(r.p90())),
                chance: in_ten(r.on_stimulus),
                sets: b.sets,
                broken: if b.broken > 0.0 { in_ten(b.broken) } else { "in none".to_owned() },
                own: b.own,
            }
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
    let page = blocking(&app, move |conn, app| {
        let page = load(conn, app, who.gym(), class)?;
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
                run: member.and_then(|m| run_of(&page, w, m)),
                chart: all_paces(&page, w, member),
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
        assert_eq!(sets_text(&[8.0, 7.0]), "8 + 7");
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
