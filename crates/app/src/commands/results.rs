//! Results from a file, compared with what would have been foretold of each: what a hall's log teaches, without a database.

use super::text_of;
use chrono::NaiveDate;
use lantern_core::held::seen;
use lantern_core::kit::Kit;
use lantern_core::learning::{Held, Learner, Seen};
use lantern_core::logbook::{Outcome, ResultRow, read_result, read_results};
use lantern_core::plan::{Class, Decision, Options, PlanAnswer, answer, plan};
use lantern_core::roster::{Member, retests};
use lantern_core::settings::Settings;
use lantern_core::sheet::{Score, Sheet, read};
use lantern_core::versions::PredictionUnit;
use std::path::Path;

/// What a file of results teaches about the members until a day.
pub fn learnt(
    path: &Path,
    members: &[Member],
    kit: &Kit,
    options: Options,
    today: NaiveDate,
) -> Result<Learner, String> {
    let file = read_results(&text_of(path)?)?;
    let name = path.display().to_string();
    let say = |line: u64, words: &str| eprintln!("{name}:{line}: warning: {words}");
    file.problems.iter().for_each(|(line, words)| say(*line, words));
    let (before, later): (Vec<ResultRow>, Vec<ResultRow>) =
        file.rows.into_iter().partition(|r| r.date < today);
    later.iter().for_each(|r| say(r.line, "This is not before the class: it is left out."));
    let classes = before.chunk_by(|a, b| a.date == b.date && a.sheet == b.sheet);
    let held: Vec<(Held, Vec<(u64, String)>)> =
        classes.map(|rows| held_of(rows, members, kit, options)).collect::<Result<_, String>>()?;
    for (_, problems) in &held {
        problems.iter().for_each(|(line, words)| say(*line, words));
    }
    let log: Vec<Held> = held.into_iter().map(|(h, _)| h).collect();
    Ok(Learner::of_log(&log, members.iter().flat_map(retests).collect(), today))
}

/// One class of the file beside what was foretold of it.
fn held_of(
    rows: &[ResultRow],
    members: &[Member],
    kit: &Kit,
    options: Options,
) -> Result<(Held, Vec<(u64, String)>), String> {
    let Some(first) = rows.first() else { return Err("A class without results.".to_owned()) };
    let sheet = read(&text_of(Path::new(&first.sheet))?).sheet;
    let class = Class {
        members: members.to_vec(),
        kit: kit.clone(),
        date: first.date,
        length_s: None,
        recent_drills: Vec::new(),
        cycles: Vec::new(),
    };
    let (plan, block) = foretold(&sheet, &class, rows, options);
    let mut problems = Vec::new();
    let mut results = Vec::new();
    for row in rows {
        match block
            .ok_or_else(|| "Its sheet has no scored workout.".to_owned())
            .and_then(|b| one(&plan, b, row))
        {
            Ok(found) => results.extend(found),
            Err(words) => problems.push((row.line, words)),
        }
    }
    Ok((Held { date: first.date, results }, problems))
}

/// The plan with everybody in the version that they did, and the workout that is scored.
fn foretold(
    sheet: &Sheet,
    class: &Class,
    rows: &[ResultRow],
    options: Options,
) -> (PlanAnswer, Option<usize>) {
    let settings = Settings::default();
    let made = plan(sheet, class, &settings, &[], options);
    let block = made.workouts.iter().find(|w| w.waits.is_none()).map(|w| w.block);
    let as_planned = answer(&made);
    let moved = rows.iter().filter_map(|r| {
        let m = as_planned.members.iter().find(|m| m.name == r.member)?;
        let moved = m.tier != Some(r.tier);
        moved.then_some(Decision::Version { block: block?, member: m.id.clone(), tier: r.tier })
    });
    let moved: Vec<Decision> = moved.collect();
    if moved.is_empty() {
        (as_planned, block)
    } else {
        (answer(&plan(sheet, class, &settings, &moved, options)), block)
    }
}

/// A row beside its forecast; `None` where there is none to compare it with.
fn one(plan: &PlanAnswer, block: usize, row: &ResultRow) -> Result<Option<Seen>, String> {
    let m = plan
        .members
        .iter()
        .find(|m| m.name == row.member)
        .ok_or_else(|| format!("{} is not on the roster.", row.member))?;
    let Some(p) = m.predictions.iter().find(|p| p.block == block) else { return Ok(None) };
    let score = match p.unit {
        PredictionUnit::Seconds => Score::Time,
        PredictionUnit::Rounds => Score::RoundsAndReps,
        _ => Score::Reps,
    };
    let outcome = if row.capped {
        Outcome::Capped { rounds: 0, reps: 0 }
    } else {
        read_result(&row.result, score, p.cap_s)?
    };
    Ok(seen(plan, (&m.id, block), (outcome, row.tier)))
}
