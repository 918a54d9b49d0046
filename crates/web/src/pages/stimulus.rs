//! What every version keeps, and where the time of a round goes.

use super::{block_of, decide, id};
use crate::app::App;
use crate::class_page::{ClassPage, planned};
use crate::draw::bars::shares;
use crate::error::Page;
use crate::frame::{Frame, html, html_as};
use crate::session::{Change, Who, apart};
use actix_web::http::StatusCode;
use actix_web::web::{Data, Path};
use askama::Template;
use lantern_core::movement::say::spoken;
use lantern_core::plan::{Decision, WorkoutPlan};
use lantern_core::sheet::TargetUnit;
use lantern_core::stimulus::{Limits, Said, Stimulus, Typed, Wrong, read_typed};
use lantern_core::units::clock;
use lantern_store::ClassId;

#[derive(Template)]
#[template(path = "plan/stimulus.html")]
struct StimulusPage {
    frame: Frame,
    base: String,
    intent: String,
    works: Vec<Work>,
}

/// The fields of a workout's own form.
struct Edit {
    typed: Typed,
    wrong: Wrong,
    /// What the window's figures are.
    unit: &'static str,
    /// The coach has said something already.
    own: bool,
}

/// What limits one level: its name, the first limit in words, a bar.
struct LimitRow {
    level: &'static str,
    words: String,
    bar: String,
}

/// One part's clock and window, with a form of its own.
struct PartRow {
    clock: String,
    edit: Edit,
    said: &'static str,
}

struct Work {
    block: usize,
    edit: Edit,
    parts: Vec<PartRow>,
    each: String,
    limits: Vec<LimitRow>,
    name: String,
    clock: String,
    waits: Option<String>,
    said: &'static str,
    assumed: bool,
    length: &'static str,
    totals: Vec<(String, String)>,
    rest: String,
    shares: String,
    share_words: Vec<(String, String, u32)>,
    whose: String,
    /// Judged by whether it goes on as it began.
    steady: bool,
    /// (level, version, what is expected of it), on an open clock.
    expected: Vec<(&'static str, &'static str, String)>,
    /// A cap where none is written.
    cap_proposed: String,
    likely: String,
    look: usize,
}

/// A share in whole per cent, with all shares adding up to 100.
fn percents(values: &[f64]) -> Vec<u32> {
    lantern_core::units::apportion(100, values)
}

fn limit_row(l: &Limits) -> LimitRow {
    let parts: Vec<(String, f64)> =
        l.shares.iter().filter(|s| s.1 >= 0.005).map(|(n, s)| ((*n).to_owned(), *s)).collect();
    let whole = percents(&parts.iter().map(|p| p.1).collect::<Vec<_>>());
    let mut said: Vec<(String, u32)> = parts.iter().map(|p| p.0.clone()).zip(whole).collect();
    said.sort_by_key(|s| std::cmp::Reverse(s.1));
    let words = if l.cannot {
        "cannot do it as written".to_owned()
    } else if said.is_empty() {
        "speed of hand alone".to_owned()
    } else {
        said.iter().map(|(n, p)| format!("{n} {p} %")).collect::<Vec<_>>().join(", ")
    };
    LimitRow {
        level: l.level.word(),
        words,
        bar: if parts.is_empty() { String::new() } else { shares(&parts) },
    }
}

/// Time from the first to the last rep of a round or cycle.
fn each_round(w: &WorkoutPlan) -> String {
    let Some([least, most]) = w.pace.first().and_then(|p| p.round_s) else { return String::new() };
    // rounds of parts on different clocks say nothing together
    let Some(work) = w.versions.first().map(|v| &v.work).filter(|w| w.sections.len() == 1) else {
        return String::new();
    };
    let cycle = work.cycle_s();
    let span = if most - least < 1.0 { clock(most) } else { format!("{} to {}", clock(least), clock(most)) };
    match cycle {
        Some(t) => format!("{span} of each {}", clock(t)),
        None => span,
    }
}

fn edit(s: Option<&Stimulus>, typed: Option<(Typed, Wrong)>) -> Edit {
    let (typed, wrong) =
        typed.unwrap_or_else(|| (s.map(Stimulus::typed).unwrap_or_default(), Wrong::default()));
    let unit = match s.map(|s| s.unit) {
        Some(TargetUnit::Rounds) => "rounds",
        Some(TargetUnit::Reps) => "reps",
        Some(TargetUnit::Rest) => "rest left in a cycle",
        _ => "time",
    };
    Edit { typed, wrong, unit, own: s.is_some_and(|s| s.said == Said::Coach) }
}

fn said(s: Option<&Stimulus>) -> &'static str {
    match s.map(|s| s.said) {
        Some(Said::Assumed) => "worked out from a regular member",
        Some(Said::Coach) => "your own",
        _ => "from the sheet",
    }
}

fn work(page: &ClassPage, w: &WorkoutPlan, typed: Option<Again>) -> Work {
    let block = page.plan.sheet.blocks.get(w.block);
    let full = w.versions.first();
    let pace = w.pace.first();
    let stimulus = w.stimulus.as_ref();
    let names: Vec<String> = full.map(|v| v.work.positions().map(spoken).collect()).unwrap_or_default();
    let parts: Vec<(String, f64)> =
        pace.map(|p| names.iter().cloned().zip(p.time_shares.iter().copied()).collect()).unwrap_or_default();
    let whole = percents(&parts.iter().map(|p| p.1).collect::<Vec<_>>());
    let mut whole_typed = None;
    let mut part_typed = None;
    match typed {
        Some(Again { part: None, typed, wrong, .. }) => whole_typed = Some((typed, wrong)),
        Some(Again { part: Some(p), typed, wrong, .. }) => part_typed = Some((p, typed, wrong)),
        None => {}
    }
    let part_rows = (0..)
        .zip(&w.parts)
        .map(|(i, p)| {
            let typed = part_typed.take_if(|t| t.0 == i).map(|(_, typed, wrong)| (typed, wrong));
            let stimulus = Some(&p.stimulus);
            PartRow { clock: p.clock.clone(), edit: edit(stimulus, typed), said: said(stimulus) }
        })
        .collect();
    let totals = block.map(|b| super::sheet::sums::of(b).totals);
    let rest = block.map_or(0, lantern_core::sheet::Block::fixed_rest_s);
    Work {
        block: w.block,
        edit: edit(stimulus, whole_typed),
        parts: part_rows,
        each: each_round(w),
        limits: w.limits().iter().map(limit_row).collect(),
        name: w.name.clone().unwrap_or_else(|| "Workout".to_owned()),
        clock: full.map(|v| v.work.clock_text()).unwrap_or_default(),
        waits: w.waits.clone(),
        said: said(stimulus),
        assumed: stimulus.is_some_and(|s| s.said == Said::Assumed),
        length: stimulus.map_or("", |s| s.length.word()),
        totals: totals.unwrap_or_default(),
        rest: if rest > 0 { clock(f64::from(rest)) } else { String::new() },
        shares: if parts.len() > 1 && parts.iter().any(|p| p.1 > 0.0) {
            shares(&parts)
        } else {
            String::new()
        },
        share_words: parts
            .iter()
            .zip(&whole)
            .map(|((n, _), p)| (n.clone(), format!("{p} %"), (*p).max(1)))
            .collect(),
        whose: match pace.and_then(|p| p.member).and_then(|m| page.plan.members.get(m)) {
            Some(m) => format!("for {}, the middle member at Full", m.name),
            None => "for a seasoned model member".to_owned(),
        },
        steady: stimulus.is_some_and(Stimulus::only_steady),
        expected: expected(w, stimulus),
        cap_proposed: w.cap_proposed_s.map(|s| clock(f64::from(s))).unwrap_or_default(),
        likely: format!("{} of {}", w.likely_inside(), w.placed.len()),
        look: w.placed.iter().filter(|p| w.off(p).is_some()).count(),
    }
}

/// What each level is expected to do on an open clock: (level, version, score).
fn expected(w: &WorkoutPlan, stimulus: Option<&Stimulus>) -> Vec<(&'static str, &'static str, String)> {
    let Some(s) = stimulus else { return Vec::new() };
    w.expected.iter().map(|e| (e.level.word(), e.tier.word(), s.write(e.score))).collect()
}

/// Fields that come back as they were typed.
struct Again {
    block: usize,
    part: Option<usize>,
    typed: Typed,
    wrong: Wrong,
}

fn page(who: &Who, page: &ClassPage, mut typed: Option<Again>) -> StimulusPage {
    StimulusPage {
        frame: page.frame(who, "stimulus"),
        base: page.base(),
        intent: page.plan.sheet.intent.clone().unwrap_or_default(),
        works: page
            .plan
            .workouts
            .iter()
            .map(|w| {
                let again = typed.take_if(|t| t.block == w.block);
                work(page, w, again)
            })
            .collect(),
    }
}

/// `GET /classes/{id}/stimulus`.
pub async fn show(app: Data<App>, who: Who, path: Path<String>) -> Page {
    let class = ClassId(id(&path)?);
    let class = planned(&app, who.gym(), class).await?;
    html(&page(&who, &class, None))
}

/// `POST /classes/{id}/stimulus`: the coach's own window, cap and wishes; a field that is wrong comes back as typed.
pub async fn change(app: Data<App>, change: Change, path: Path<String>) -> Page {
    let block = block_of(&change)?;
    let part = change.fields.get("part").parse::<usize>().ok();
    let decision = |chosen| match part {
        Some(part) => Decision::PartStimulus { block, part, chosen },
        None => Decision::Stimulus { block, chosen },
    };
    if change.fields.get("as") == "sheet" {
        return decide(app, change, &path, decision(None), "stimulus").await;
    }
    let class = ClassId(id(&path)?);
    let field = |name: &str| change.fields.get(name).to_owned();
    let typed = Typed { low: field("low"), high: field("high"), cap: field("cap"), keep: field("keep") };
    let who = change.who.clone();
    let loaded = planned(&app, who.gym(), class).await?;
    let (read, shown) = apart(move |_| {
        let work = loaded.plan.workouts.iter().find(|w| w.block == block);
        let stimulus = work.and_then(|w| match part {
            Some(p) => w.parts.get(p).map(|p| &p.stimulus),
            None => w.stimulus.as_ref(),
        });
        let unit = stimulus.map(|s| s.unit).ok_or(crate::error::WebError::NoPage)?;
        Ok(match read_typed(&typed, unit) {
            Ok(chosen) => (Some(chosen), None),
            Err(wrong) => (None, Some(page(&who, &loaded, Some(Again { block, part, typed, wrong })))),
        })
    })
    .await?;
    match (read, shown) {
        (_, Some(shown)) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &shown),
        (chosen, None) => decide(app, change, &path, decision(chosen), "stimulus").await,
    }
}
