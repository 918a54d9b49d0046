//! The parts of the hour from the sheet and what was planned for its blocks.

use super::Class;
use super::decision::{Decision, is_left, lengths, running_of};
use super::strength::{BUILD_S, StrengthPlan};
use super::workout::WorkoutPlan;
use crate::hour::{
    BRIEF, CHANGE_OVER, COOL_DOWN, Column, HEAT_CHANGE, Hour, HourPart, SKILL, TIDY, WARM_UP, WORKOUT_BRIEF,
    WantedLength, hour,
};
use crate::pacing::table;
use crate::settings::Settings;
use crate::sheet::{Block, BlockKind, Sheet, TotalCount};
use crate::units::clock;

/// Unscored work takes this much longer than its reps alone (own).
const UNHURRIED: f64 = 1.8;
/// Length of a workout nothing is known about, s.
const UNKNOWN_WORKOUT_S: u32 = 720;

/// What the hour is put together from.
pub(super) struct HourOf<'a> {
    /// As it is done today.
    pub sheet: &'a Sheet,
    pub class: &'a Class,
    pub settings: &'a Settings,
    pub decisions: &'a [Decision],
    pub strength: &'a [StrengthPlan],
    pub workouts: &'a [WorkoutPlan],
}

pub(super) fn plan_hour(of: &HourOf) -> Hour {
    let sheet = of.sheet;
    let mut wanted =
        vec![WantedLength::of(HourPart::Brief, None, BRIEF, "stimulus, versions, who shares a rack")];
    let warm = sheet.blocks.iter().find(|b| b.kind == BlockKind::WarmUp).and_then(|b| b.duration_s);
    wanted.push(around(HourPart::WarmUp, warm, WARM_UP));
    for (i, b) in sheet.blocks.iter().enumerate().filter(|(i, _)| !is_left(of.decisions, *i)) {
        match b.kind {
            BlockKind::WarmUp | BlockKind::CoolDown => {}
            BlockKind::Workout => workout(&mut wanted, i, b, of),
            _ if !b.lifts.is_empty() => wanted.push(lifts(i, b, of.strength)),
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
    wanted.push(around(HourPart::CoolDown, cool, COOL_DOWN));
    wanted.push(WantedLength::of(HourPart::Tidy, None, TIDY, ""));
    for s in of.strength.iter().filter(|s| s.halves) {
        side_by_side(&mut wanted, s);
    }
    let length = of.class.length_s.or(sheet.class_s).unwrap_or(of.settings.class_s);
    hour(length, wanted, &lengths(of.decisions), running_of(of.decisions).as_ref())
}

/// Warm-up or cool-down: as the sheet says, else its usual length.
fn around(part: HourPart, written_s: Option<u32>, [usual_s, least_s]: [u32; 2]) -> WantedLength {
    let how = if written_s.is_some() { "from the sheet" } else { "usual length" };
    let s = written_s.unwrap_or(usual_s);
    WantedLength::of(part, None, [s, least_s.min(s)], how)
}

/// Half of the class lifts while the other half does the workout that comes next, then they change: the workout is explained
/// before.
fn side_by_side(wanted: &mut Vec<WantedLength>, strength: &StrengthPlan) {
    let lift = wanted.iter().position(|w| w.part == HourPart::Strength && w.block == Some(strength.block));
    let Some(lift) = lift else { return };
    // nothing but the change-over and the brief of the workout may stand between
    let after = wanted
        .iter()
        .skip(lift + 1)
        .take_while(|w| matches!(w.part, HourPart::ChangeOver | HourPart::WorkoutBrief | HourPart::Workout));
    let parts: Vec<WantedLength> = after.cloned().collect();
    let of = |part: HourPart| parts.iter().find(|w| w.part == part).cloned();
    let (Some(work), Some(sets)) = (of(HourPart::Workout), wanted.get(lift).cloned()) else { return };
    let half = |w: &WantedLength, group: u32, with_before: bool| {
        let at = u32::from(w.part == HourPart::Workout);
        WantedLength { column: Some(Column { at, of: 2, group, with_before }), ..w.clone() }
    };
    let halved = WantedLength {
        length_s: sets.length_s.div_ceil(2),
        least_s: sets.least_s.div_ceil(2),
        how: format!("half of the class: {}", sets.how),
        ..sets
    };
    let mut now: Vec<WantedLength> = of(HourPart::WorkoutBrief).into_iter().collect();
    now.extend([half(&halved, 0, false), half(&work, 1, true)]);
    now.extend(of(HourPart::ChangeOver));
    now.extend([half(&halved, 1, false), half(&work, 0, true)]);
    let first_workout = parts.iter().position(|w| w.part == HourPart::Workout).unwrap_or(0);
    wanted.splice(lift..=lift + first_workout + 1, now);
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

fn workout(wanted: &mut Vec<WantedLength>, i: usize, b: &Block, of: &HourOf) {
    if !of.strength.is_empty() || wanted.iter().any(|w| w.part == HourPart::Workout) {
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
    let plan = of.workouts.iter().find(|w| w.block == i);
    let (s, how) = workout_s(b, plan);
    let heats = plan.map_or(1, |w| w.heats);
    for heat in 0..heats {
        let mut w = WantedLength::of(HourPart::Workout, Some(i), [s, s], how);
        if heats > 1 {
            w.column = Some(Column { at: heat, of: heats, group: heat, with_before: false });
            w.how = format!("heat {} of {heats}, {how}", heat + 1);
        }
        if heat > 0 {
            wanted.push(WantedLength::of(HourPart::HeatChange, Some(i), HEAT_CHANGE, "scores, lanes wiped"));
        }
        wanted.push(w);
    }
}

/// Seconds of a workout, and where they come from.
fn workout_s(b: &Block, plan: Option<&WorkoutPlan>) -> (u32, &'static str) {
    if let Some(s) = b.clock_s() {
        return (s, "its own clock");
    }
    // a cap that the coach set, or took away, counts before the sheet's
    let cap = match plan.and_then(|w| w.stimulus.as_ref()) {
        Some(s) => s.cap_s.map(|c| c as u32),
        None => b.cap_s,
    };
    if let Some(c) = cap {
        return (c, "to the cap");
    }
    if let Some(d) = b.duration_s {
        return (d, "from the sheet");
    }
    let placed = || plan.into_iter().flat_map(|w| &w.placed);
    let interval = plan.and_then(|w| w.versions.first()?.work.clock().interval_s());
    if let Some(every) = interval {
        let most = placed().map(|p| p.predicted.prediction.p90()).fold(0.0, f64::max);
        return (every.saturating_mul(most.ceil() as u32 + 1), "until the last one fails");
    }
    let slowest = placed()
        .filter(|p| p.predicted.prediction.scale_this.is_none())
        .map(|p| p.predicted.prediction.p90())
        .fold(0.0, f64::max);
    if slowest > 0.0 {
        ((slowest / 30.0).ceil() as u32 * 30, "no cap: the slow end of the last finisher")
    } else {
        (UNKNOWN_WORKOUT_S, "no cap and nothing timed: a guess")
    }
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
