//! The hour rail: blocks to scale, start times, what runs over.

use chrono::{Duration, NaiveDateTime};
use lantern_core::hour::{Hour, HourPart, Slot};
use lantern_core::plan::ClassPlan;
use lantern_core::sheet::TargetUnit;
use lantern_core::units::clock;
use std::fmt::Write as _;

/// Height that the rail fills at 800 px, px.
const HEIGHT_PX: f64 = 624.0;
/// Parts shorter than this have no room for their name and stand with the part before, s.
const LEAST_S: u32 = 90;

/// The rail beside a step.
pub struct Rail {
    /// Class length, min.
    pub len: f64,
    /// Length with what runs over, min.
    pub sum: f64,
    /// px a minute.
    pub px: f64,
    /// The wide one, with clock times.
    pub wide: bool,
    /// `60:00`.
    pub total: String,
    /// `2:50 spare` or nothing.
    pub spare: String,
    /// Over: (min, `2:30 over`).
    pub over: Option<(f64, String)>,
    /// Start times: (min, `13:00`, `18:13`).
    pub times: Vec<(f64, String, String)>,
    /// Parts.
    pub blocks: Vec<RailBlock>,
    /// The staff: alternating segments of five minutes.
    pub staff: String,
}

/// One part on the rail.
pub struct RailBlock {
    /// min.
    pub at: f64,
    /// min.
    pub span: f64,
    /// Name.
    pub name: &'static str,
    /// `14:00`.
    pub length: String,
    /// Second line.
    pub small: String,
    /// Step that it opens.
    pub path: &'static str,
    /// Open now.
    pub open: bool,
    /// Target window: (min from its start, min, words).
    pub window: Option<(f64, f64, String)>,
    /// Column from the left and how many stand side by side; one for what everybody does.
    pub column: (u32, u32),
}

fn step_of(part: HourPart) -> &'static str {
    match part {
        HourPart::WarmUp => "warm-up",
        HourPart::Strength => "loads",
        HourPart::Workout | HourPart::WorkoutBrief => "versions",
        _ => "hour",
    }
}

fn minutes(s: u32) -> f64 {
    (f64::from(s) / 60.0 * 1000.0).round() / 1000.0
}

fn small(plan: &ClassPlan, slot: &Slot) -> String {
    let lifts = || {
        plan.strength.iter().filter(|s| Some(s.block) == slot.block).flat_map(|s| &s.lifts).map(|l| {
            let id = l.sets.movement.id().unwrap_or("");
            let name = lantern_core::movement::catalogue().name(id);
            let (n, reps) = (l.sets.reps.len(), l.sets.most_reps());
            match (&l.heavy, reps) {
                (Some(h), _) => format!("{name}, to a {}RM", h.build.reps),
                (None, 0) => format!("{name}, {n} × max"),
                (None, _) if l.sets.even() => format!("{name}, {n} × {reps}"),
                (None, _) => name,
            }
        })
    };
    match slot.part {
        HourPart::Strength => lifts().collect::<Vec<_>>().join("; "),
        HourPart::Workout => {
            let work = plan.workouts.iter().find(|w| Some(w.block) == slot.block);
            let clock_text = work.and_then(|w| w.versions.first()).map(|v| v.work.clock_text());
            let cap = work
                .and_then(|w| w.stimulus.as_ref())
                .and_then(|s| s.cap_s)
                .map(|c| format!("cap {}", clock(c)));
            [clock_text, cap].into_iter().flatten().collect::<Vec<_>>().join(", ")
        }
        _ => String::new(),
    }
}

fn window(plan: &ClassPlan, slot: &Slot) -> Option<(f64, f64, String)> {
    let s = plan.workouts.iter().find(|w| Some(w.block) == slot.block)?.stimulus.as_ref()?;
    let (low, high) = (s.low.unwrap_or(0.0), s.high?);
    let high = high.min(f64::from(slot.length_s));
    (slot.part == HourPart::Workout && s.unit == TargetUnit::Seconds && high - low >= 60.0)
        .then(|| (low / 60.0, (high - low) / 60.0, format!("target {}", s.window_text())))
}

/// The parts as they stand on the rail; one too low for its name stands with the part before.
fn blocks(plan: &ClassPlan, here: &str) -> Vec<RailBlock> {
    let mut blocks: Vec<RailBlock> = Vec::new();
    for slot in &plan.hour.slots {
        let joins = slot.length_s < LEAST_S && slot.column.is_none();
        if let (true, Some(last)) = (joins, blocks.last_mut().filter(|b| b.column.1 == 1)) {
            last.span += minutes(slot.length_s);
            last.length = clock(last.span * 60.0);
            last.small =
                format!("with {} {}", slot.part.word().to_lowercase(), clock(f64::from(slot.length_s)));
            continue;
        }
        blocks.push(RailBlock {
            at: minutes(slot.start_s),
            span: minutes(slot.length_s),
            name: slot.part.word(),
            length: clock(f64::from(slot.length_s)),
            small: small(plan, slot),
            path: step_of(slot.part),
            open: step_of(slot.part) == here && here != "hour"
                || (matches!(here, "pacing" | "floor" | "log") && slot.part == HourPart::Workout),
            window: window(plan, slot),
            column: slot.column.map_or((0, 1), |c| (c.at, c.of)),
        });
    }
    // a workout's brief shares its step; only the work itself is shown open
    if blocks.iter().any(|b| b.open && b.name == HourPart::Workout.word()) {
        blocks.iter_mut().filter(|b| b.name == HourPart::WorkoutBrief.word()).for_each(|b| b.open = false);
    }
    blocks
}

/// Start times: (min, `13:00`, `18:13`); one that would print on another gives way, but the end of the hour stands.
fn times(blocks: &[RailBlock], starts_at: NaiveDateTime, end: f64, px: f64) -> Vec<(f64, String, String)> {
    let time = |m: f64| {
        let s = (m * 60.0).round();
        let at = starts_at + Duration::seconds(s as i64);
        (m, clock(s), at.format("%H:%M").to_string())
    };
    let mut kept: Vec<(f64, String, String)> = Vec::with_capacity(blocks.len() + 1);
    for b in blocks {
        let twice = kept.last().is_some_and(|t| (t.0 - b.at).abs() < 1e-9);
        if !twice && (b.at - end).abs() * px > 11.0 {
            kept.push(time(b.at));
        }
    }
    kept.push(time(end));
    kept
}

/// The rail of a plan with the part of a step open.
pub fn rail(plan: &ClassPlan, starts_at: NaiveDateTime, here: &str, wide: bool) -> Rail {
    let hour: &Hour = &plan.hour;
    let sum_s = hour.length_s + hour.overrun_s;
    let px = HEIGHT_PX / minutes(sum_s.max(600));
    let end = minutes(hour.length_s);
    let blocks = blocks(plan, here);
    Rail {
        len: end,
        sum: minutes(sum_s),
        px,
        wide,
        total: clock(f64::from(hour.length_s)),
        spare: match hour.overrun_s {
            0 if hour.spare_s == 0 => "adds up".to_owned(),
            0 => format!("{} spare", clock(f64::from(hour.spare_s))),
            _ => String::new(),
        },
        over: (hour.overrun_s > 0)
            .then(|| (minutes(hour.overrun_s), format!("{} over", clock(f64::from(hour.overrun_s))))),
        times: times(&blocks, starts_at, end, px),
        blocks,
        staff: staff(end, px, if wide { 11.0 } else { 9.0 }),
    }
}

/// Filled and open segments of five minutes with a tick a minute.
fn staff(len: f64, px: f64, w: f64) -> String {
    let mut out = String::new();
    let mut at = 0.0;
    let mut filled = true;
    while at < len - 1e-9 {
        let h = (len - at).min(5.0) * px;
        let fill = if filled { "currentColor" } else { "none" };
        let _ = write!(
            out,
            "<rect x=\"0\" y=\"{:.1}\" width=\"{w}\" height=\"{h:.1}\" fill=\"{fill}\"/>",
            at * px
        );
        if !filled {
            for m in 1..5 {
                let y = (at + f64::from(m)) * px;
                if at + f64::from(m) < len {
                    let _ = write!(
                        out,
                        "<path d=\"M{:.1} {y:.1}H{w}\" stroke=\"currentColor\" stroke-width=\".8\"/>",
                        w / 2.0
                    );
                }
            }
        }
        at += 5.0;
        filled = !filled;
    }
    let _ = write!(
        out,
        "<rect x=\".5\" y=\".5\" width=\"{}\" height=\"{:.1}\" fill=\"none\" stroke=\"currentColor\"/>",
        w - 1.0,
        len * px - 1.0
    );
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::NaiveDate;
    use lantern_core::kit::Kit;
    use lantern_core::plan::{Class, Decision, Options, plan};
    use lantern_core::roster::Member;
    use lantern_core::settings::Settings;
    use lantern_core::sheet::read;

    const DAY: &str = "# strength\nfront squat 5 x 3 @ 80%, every 2:30\n# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n10 burpees\n400 m run";

    fn of(sheet: &str, here: &str, decisions: &[Decision]) -> Rail {
        let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let class = Class {
            members: Member::archetypes(),
            kit: Kit::usual(),
            date,
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let p = plan(
            &read(sheet).sheet,
            &class,
            &Settings::default(),
            decisions,
            Options { runs: 10, ..Options::default() },
        );
        rail(&p, date.and_hms_opt(18, 0, 0).unwrap(), here, false)
    }

    #[test]
    fn blocks_stand_to_scale_without_gaps() {
        let r = of(DAY, "hour", &[]);
        for pair in r.blocks.windows(2) {
            assert!(
                (pair[0].at + pair[0].span - pair[1].at).abs() < 0.002,
                "{} then {}",
                pair[0].name,
                pair[1].name
            );
        }
        assert_eq!((r.len, r.total.as_str()), (60.0, "60:00"));
        assert!((r.px * r.sum - HEIGHT_PX).abs() < 1e-6);
        assert_eq!(r.times.first().map(|t| (t.1.as_str(), t.2.as_str())), Some(("0:00", "18:00")));
        assert_eq!(r.times.last().map(|t| (t.1.as_str(), t.2.as_str())), Some(("60:00", "19:00")));
    }

    #[test]
    fn a_part_too_low_for_its_name_stands_with_the_one_before() {
        let r = of(DAY, "hour", &[]);
        let last = r.blocks.last().unwrap();
        assert_eq!(
            (last.name, last.length.as_str(), last.small.as_str()),
            ("Cool-down", "5:00", "with tidy 1:00")
        );
    }

    #[test]
    fn the_open_step_lights_its_own_part_only() {
        for (here, name) in
            [("warm-up", "Warm-up"), ("loads", "Strength"), ("versions", "Workout"), ("log", "Workout")]
        {
            let open: Vec<&str> =
                of(DAY, here, &[]).blocks.iter().filter(|b| b.open).map(|b| b.name).collect();
            assert_eq!(open, [name], "{here}");
        }
        assert!(of(DAY, "hour", &[]).blocks.iter().all(|b| !b.open));
    }

    #[test]
    fn the_target_lies_inside_the_workout() {
        let r = of(DAY, "versions", &[]);
        let w = r.blocks.iter().find_map(|b| b.window.clone()).unwrap();
        assert_eq!((w.0, w.1, w.2.as_str()), (9.0, 3.0, "target 9:00 to 12:00"));
    }

    #[test]
    fn groups_stand_side_by_side() {
        let halves = of(DAY, "hour", &[Decision::Halves { block: 0, on: true }]);
        let beside: Vec<(&str, f64, (u32, u32))> =
            halves.blocks.iter().filter(|b| b.column.1 > 1).map(|b| (b.name, b.at, b.column)).collect();
        assert_eq!(beside.len(), 4, "{beside:?}");
        assert_eq!((beside[0].1, beside[0].2), (beside[1].1, (0, 2)));
        assert!(beside[2].1 > beside[0].1 && beside[3].2 == (1, 2));
        let heats = of(DAY, "hour", &[Decision::Heats { block: 1, heats: 2 }]);
        let two: Vec<(u32, u32)> =
            heats.blocks.iter().filter(|b| b.name == "Workout").map(|b| b.column).collect();
        assert_eq!(two, [(0, 2), (1, 2)]);
        assert_eq!(
            heats.times.windows(2).filter(|w| w[0].1 == w[1].1).count(),
            0,
            "no time is printed twice"
        );
    }

    #[test]
    fn what_runs_over_is_drawn_below_the_hour() {
        let long = Decision::Length { key: "warm-up".into(), seconds: 1200 };
        let r = of(DAY, "hour", &[long]);
        let (minutes, words) = r.over.unwrap();
        assert!(minutes > 0.0 && words.ends_with(" over"), "{words}");
        assert!((r.sum - r.len - minutes).abs() < 1e-9 && r.spare.is_empty());
    }
}
