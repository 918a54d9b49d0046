//! The parts of the hour from the sheet and what was planned for its blocks.

use super::Class;
use super::decision::{Decision, lengths};
use super::strength::{BUILD_S, StrengthPlan};
use super::workout::WorkoutPlan;
use crate::hour::{
    BRIEF, CHANGE_OVER, COOL_DOWN, Hour, HourPart, SKILL, TIDY, WARM_UP, WORKOUT_BRIEF, WantedLength, hour,
};
use crate::pacing::table;
use crate::settings::Settings;
use crate::sheet::{Block, BlockKind, Sheet, TotalCount};
use crate::units::clock;

/// Unscored work takes this much longer than its reps alone (own).
const UNHURRIED: f64 = 1.8;
/// Length of a workout nothing is known about, s.
const UNKNOWN_WORKOUT_S: u32 = 720;

pub(super) fn plan_hour(
    sheet: &Sheet,
    class: &Class,
    settings: &Settings,
    decisions: &[Decision],
    strength: &[StrengthPlan],
    workouts: &[WorkoutPlan],
) -> Hour {
    let mut wanted =
        vec![WantedLength::of(HourPart::Brief, None, BRIEF, "stimulus, versions, who shares a rack")];
    let warm = sheet.blocks.iter().position(|b| b.kind == BlockKind::WarmUp);
    let warm_s = warm.and_then(|i| sheet.blocks.get(i)).and_then(|b| b.duration_s);
    let how = if warm_s.is_some() { "from the sheet" } else { "usual length" };
    let s = warm_s.unwrap_or(WARM_UP[0]);
    wanted.push(WantedLength::of(HourPart::WarmUp, None, [s, WARM_UP[1].min(s)], how));
    for (i, b) in sheet.blocks.iter().enumerate() {
        match b.kind {
            BlockKind::WarmUp | BlockKind::CoolDown => {}
            BlockKind::Workout => workout(&mut wanted, i, b, strength, workouts),
            _ if !b.lifts.is_empty() => wanted.push(lifts(i, b, strength)),
            _ if !b.builds.is_empty() => wanted.push(builds(i, b)),
            BlockKind::Skill => {
                let s = b.duration_s.or(b.clock_s()).unwrap_or(SKILL[0]);
                wanted.push(WantedLength::of(HourPart::Skill, Some(i), [s, SKILL[1].min(s)], said(b)));
            }
            kind => {
                let s = b.duration_s.or(b.clock_s()).unwrap_or_else(|| unhurried(b));
                let least = if kind == BlockKind::Accessory { 0 } else { s };
                wanted.push(WantedLength::of(HourPart::of(kind), Some(i), [s, least], said(b)));
            }
        }
    }
    let cool = sheet.blocks.iter().find(|b| b.kind == BlockKind::CoolDown).and_then(|b| b.duration_s);
    let how = if cool.is_some() { "from the sheet" } else { "usual length" };
    let cool = cool.unwrap_or(COOL_DOWN[0]);
    wanted.push(WantedLength::of(HourPart::CoolDown, None, [cool, COOL_DOWN[1].min(cool)], how));
    wanted.push(WantedLength::of(HourPart::Tidy, None, TIDY, ""));
    let length = class.length_s.or(sheet.class_s).unwrap_or(settings.class_s);
    hour(length, wanted, &lengths(decisions))
}

fn said(b: &Block) -> &'static str {
    if b.duration_s.is_some() {
        "from the sheet"
    } else if b.clock_s().is_some() {
        "its own clock"
    } else {
        "from its reps, unhurried"
    }
}

fn lifts(i: usize, b: &Block, strength: &[StrengthPlan]) -> WantedLength {
    let plan = strength.iter().find(|s| s.block == i);
    let computed = plan.map_or(0, |s| s.length_s);
    let part = HourPart::of(b.kind);
    // an accessory may be left out when the hour is short
    let least = if b.kind == BlockKind::Accessory { 0 } else { computed };
    let sum = plan.map_or_else(String::new, |s: &StrengthPlan| {
        let part = |l: &super::LiftPlan| {
            let ramp = if l.time.ramp_s > 0.0 {
                format!("build-up {}, ", clock(l.time.ramp_s))
            } else {
                String::new()
            };
            let waves = if l.time.waves > 1 { format!("{} waves, ", l.time.waves) } else { String::new() };
            match &l.heavy {
                Some(h) => format!("{} sets in {}", h.fit, clock(f64::from(h.window_s))),
                None => {
                    format!("{ramp}{waves}{} sets every {}", l.sets.reps.len(), clock(l.time.interval_s))
                }
            }
        };
        if s.superset {
            let names: Vec<String> = s.lifts.iter().map(|l| crate::movement::say::spoken(l.id())).collect();
            let first = s.lifts.first().map(part).unwrap_or_default();
            return format!("{} in turn, {first}", names.join(" and "));
        }
        s.lifts.iter().map(part).collect::<Vec<_>>().join("; ")
    });
    match b.duration_s {
        // a block that needs more than the sheet gives is shown with what it needs
        Some(given) if given < computed => {
            let how = format!("{sum}: the sheet gives {}", clock(f64::from(given)));
            WantedLength::of(part, Some(i), [computed, given], &how)
        }
        Some(given) => WantedLength::of(part, Some(i), [given, computed.min(given)], &sum),
        None => WantedLength::of(part, Some(i), [computed, least], &sum),
    }
}

/// A maximum of the day lasts its window; without one a usual one.
fn builds(i: usize, b: &Block) -> WantedLength {
    let windows = b.builds.iter().map(|x| x.window_s.unwrap_or(BUILD_S)).fold(0, u32::saturating_add);
    let how = if b.builds.iter().all(|x| x.window_s.is_some()) { "its window" } else { "a usual window" };
    let s = b.duration_s.unwrap_or(windows);
    WantedLength::of(HourPart::Strength, Some(i), [s, windows.min(s)], how)
}

fn workout(
    wanted: &mut Vec<WantedLength>,
    i: usize,
    b: &Block,
    strength: &[StrengthPlan],
    workouts: &[WorkoutPlan],
) {
    if !strength.is_empty() || wanted.iter().any(|w| w.part == HourPart::Workout) {
        wanted.push(WantedLength::of(
            HourPart::ChangeOver,
            Some(i),
            CHANGE_OVER,
            "plates off, kit out, lanes set",
        ));
    }
    wanted.push(WantedLength::of(
        HourPart::WorkoutBrief,
        Some(i),
        WORKOUT_BRIEF,
        "standards, cues, pace in one line each",
    ));
    let plan = workouts.iter().find(|w| w.block == i);
    let clocked = match b.clock_s() {
        Some(seconds) => Some((seconds, "its own clock")),
        None => b.cap_s.map(|c| (c, "to the cap")).or(b.duration_s.map(|d| (d, "from the sheet"))),
    };
    let until_failure = plan.and_then(|w| {
        let every = w.versions.first()?.work.clock().interval_s()?;
        let most = w.placed.iter().map(|p| p.predicted.prediction.p90()).fold(0.0, f64::max);
        Some((every.saturating_mul(most.ceil() as u32 + 1), "until the last one fails"))
    });
    let (s, how) = clocked.or(until_failure).unwrap_or_else(|| {
        let slowest = plan
            .into_iter()
            .flat_map(|w| &w.placed)
            .filter(|p| p.predicted.prediction.scale_this.is_none())
            .map(|p| p.predicted.prediction.p90())
            .fold(0.0, f64::max);
        if slowest > 0.0 {
            ((slowest / 30.0).ceil() as u32 * 30, "no cap: the slow end of the last finisher")
        } else {
            (UNKNOWN_WORKOUT_S, "no cap and nothing timed: a guess")
        }
    });
    wanted.push(WantedLength::of(HourPart::Workout, Some(i), [s, s], how));
}

/// Seconds of a block that nobody times.
fn unhurried(b: &Block) -> u32 {
    let work: f64 = b
        .totals()
        .iter()
        .map(|t| {
            let n = match t.count {
                Some(TotalCount::Each(n)) => n,
                Some(TotalCount::ByStandard(c)) => c[0],
                None => 10.0,
            };
            n * table::row(&t.movement).map_or(2.0, |r| r.c0)
        })
        .sum();
    let s = work * UNHURRIED + f64::from(b.fixed_rest_s());
    ((s / 30.0).ceil() as u32 * 30).clamp(120, 1200)
}
