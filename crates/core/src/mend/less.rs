//! A workout with less in it: fewer times through, fewer minutes of an open clock, or a share of every count; cap and target move with
//! it. A block of a sheet into a block of a sheet, so that everything that is planned from one follows.

use crate::sheet::{Block, Count, Format, Item, MoveLine, Part, TargetUnit, TotalCount, When};
use crate::units::Unit;
use crate::versions::{even_up, friendly_count};
use serde::{Deserialize, Serialize};

/// What there is less of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum By {
    /// Times through the list: rounds, cycles, windows; minutes of an open clock.
    Rounds,
    /// Every count and distance.
    Counts,
}

/// Something of a workout that is less than on the sheet.
#[derive(Debug, Clone, PartialEq)]
pub enum Less {
    /// Times through the list.
    Rounds {
        /// On the sheet.
        from: u32,
        /// Now.
        to: u32,
    },
    /// Times that something starts on the clock.
    Cycles {
        /// On the sheet.
        from: u32,
        /// Now.
        to: u32,
    },
    /// An open clock.
    Minutes {
        /// s on the sheet.
        from_s: u32,
        /// s now.
        to_s: u32,
    },
    /// Counts and distances: share that is left, 0 to 1.
    Counts {
        /// Share that is left.
        share: f64,
    },
    /// The cap.
    Cap {
        /// s on the sheet; `None`: there is none.
        from_s: Option<u32>,
        /// s now.
        to_s: u32,
    },
    /// The target.
    Target {
        /// What it is counted in.
        unit: TargetUnit,
        /// From and to, as they are now.
        window: [Option<f64>; 2],
    },
}

impl Less {
    /// The share of the work that is gone, 0 to 1.
    pub fn lost(&self) -> f64 {
        let of = |from: u32, to: u32| 1.0 - f64::from(to) / f64::from(from.max(1));
        match self {
            Less::Rounds { from, to } | Less::Cycles { from, to } => of(*from, *to),
            Less::Minutes { from_s, to_s } => of(*from_s, *to_s),
            Less::Counts { share } => 1.0 - share,
            Less::Cap { .. } | Less::Target { .. } => 0.0,
        }
    }
}

/// Seconds to which caps and open clocks are cut (own).
const CLOCK_STEP_S: f64 = 30.0;
/// Seconds to which a target is cut (own).
const TARGET_STEP_S: f64 = 15.0;
/// So few reps are not cut.
const FEW: f64 = 3.0;

fn to_step(v: f64, step: f64) -> f64 {
    (v / step).round() * step
}

fn times(n: u32, share: f64) -> u32 {
    ((f64::from(n) * share).round() as u32).clamp(1, n.max(1))
}

/// The block with about `percent` of its work (10 to 100); of counts that are few, and of what has no end, nothing is taken.
pub fn less(block: &Block, by: By, percent: u32) -> Block {
    let share = f64::from(percent.clamp(10, 100)) / 100.0;
    let mut out = block.clone();
    let left: Vec<f64> = out
        .parts
        .iter_mut()
        .map(|p| match by {
            By::Rounds => fewer(p, share),
            By::Counts => counted(p, share),
        })
        .collect();
    let left = left.iter().sum::<f64>() / (left.len().max(1) as f64);
    let cut = |s: &mut u32| *s = to_step(f64::from(*s) * left, CLOCK_STEP_S).max(60.0) as u32;
    out.cap_s.iter_mut().for_each(cut);
    out.duration_s.iter_mut().for_each(cut);
    if let Some(t) = &mut out.target {
        let to = |v: &mut f64| {
            *v = match t.unit {
                TargetUnit::Seconds => to_step(*v * left, TARGET_STEP_S),
                TargetUnit::Rounds => to_step(*v * left, 0.5),
                TargetUnit::Reps => to_step(*v * left, 5.0),
                TargetUnit::Rest => *v,
            }
        };
        t.low.iter_mut().for_each(to);
        t.high.iter_mut().for_each(to);
    }
    out
}

/// Fewer times through; the share that is left. Work whose numbers belong to its rounds keeps them.
fn fewer(part: &mut Part, share: f64) -> f64 {
    let numbered = part.moves().any(|m| matches!(m.count, Some(Count::Scheme(_))))
        || part.extras.iter().any(|e| matches!(e.when, When::AfterRound(_)));
    if numbered {
        return 1.0;
    }
    let lines = (part.items.len() as u32).max(1);
    let of = |now: u32, was: u32| f64::from(now) / f64::from(was.max(1));
    match &mut part.format {
        Some(
            Format::Rounds { n }
            | Format::Every { n, .. }
            | Format::Intervals { n, .. }
            | Format::OnOff { n, .. },
        ) => {
            let was = *n;
            *n = times(was, share);
            of(*n, was)
        }
        Some(Format::Stations { rounds, .. }) => {
            let was = *rounds;
            *rounds = times(was, share);
            of(*rounds, was)
        }
        // every line keeps its turns
        Some(Format::EveryAlternating { n, .. }) => {
            let was = *n;
            *n = times(was / lines, share).max(1) * lines;
            *n = (*n).min(was);
            of(*n, was)
        }
        Some(Format::Amrap { seconds }) => {
            let was = *seconds;
            *seconds = (to_step(f64::from(was) * share, CLOCK_STEP_S).max(60.0) as u32).min(was);
            of(*seconds, was)
        }
        _ => 1.0,
    }
}

/// A share of every count; the share that is left.
fn counted(part: &mut Part, share: f64) -> f64 {
    let for_time = part.format.as_ref().is_some_and(Format::for_time);
    if !for_time {
        return 1.0;
    }
    let mut sums = [0.0, 0.0];
    if let Some(Format::Scheme { reps }) = &mut part.format {
        for n in reps {
            let was = f64::from(*n);
            *n = if was <= FEW { *n } else { friendly_count("", was * share, Unit::Reps) as u32 };
            sums = [sums[0] + was, sums[1] + f64::from(*n)];
        }
    }
    let moves = part.items.iter_mut().filter_map(|i| match i {
        Item::Move(m) => Some(m),
        Item::Rest { .. } => None,
    });
    for m in moves.chain(part.extras.iter_mut().map(|e| &mut e.work)) {
        let [was, now] = count_of(m, share);
        sums = [sums[0] + was, sums[1] + now];
    }
    if sums[0] > 0.0 { sums[1] / sums[0] } else { 1.0 }
}

/// Cuts the count of a line: (before, after), each line weighing the same; nothing where it has none.
fn count_of(m: &mut MoveLine, share: f64) -> [f64; 2] {
    for other in m.others.iter_mut().map(|o| &mut o.line).chain(m.without_kit.iter_mut().map(|(_, l)| l)) {
        count_of(other, share);
    }
    let (id, unit, sides) = (m.movement.id().unwrap_or("").to_owned(), m.unit, m.per_side);
    let cut = |v: f64| {
        if unit == Unit::Reps && v <= FEW {
            return v;
        }
        let to = friendly_count(&id, v * share, unit);
        (if sides { even_up(to) } else { to }).min(v)
    };
    let (was, now) = match &mut m.count {
        Some(Count::Each(v)) => {
            let was = *v;
            *v = cut(was);
            (was, *v)
        }
        Some(Count::ByStandard(pair)) => {
            let was = pair[0];
            *pair = pair.map(cut);
            (was, pair[0])
        }
        Some(Count::Scheme(all)) => {
            let was: u32 = all.iter().sum();
            all.iter_mut().for_each(|n| *n = cut(f64::from(*n)) as u32);
            (f64::from(was), f64::from(all.iter().sum::<u32>()))
        }
        Some(Count::Max) | None => return [0.0, 0.0],
    };
    if was > 0.0 { [1.0, now / was] } else { [0.0, 0.0] }
}

/// What of a block is less than it was: its parts one after the other, its counts together, then its cap and target.
pub fn changes(was: &Block, now: &Block) -> Vec<Less> {
    let parts = || was.parts.iter().zip(&now.parts);
    let mut out: Vec<Less> = parts().filter_map(|(a, b)| times_of(a, b)).collect();
    let counts =
        |p: &Part| -> Vec<f64> { p.per_round().iter().map(|t| t.count.map_or(0.0, first)).collect() };
    let left: Vec<f64> = parts()
        .flat_map(|(a, b)| counts(a).into_iter().zip(counts(b)))
        .filter(|(was, _)| *was > 0.0)
        .map(|(was, now)| now / was)
        .collect();
    let share = left.iter().sum::<f64>() / (left.len().max(1) as f64);
    if !left.is_empty() && share < 1.0 - 1e-9 {
        out.push(Less::Counts { share });
    }
    if let Some(to_s) = now.cap_s.filter(|_| now.cap_s != was.cap_s) {
        out.push(Less::Cap { from_s: was.cap_s, to_s });
    }
    if let Some(t) = now.target.filter(|_| now.target != was.target) {
        out.push(Less::Target { unit: t.unit, window: [t.low, t.high] });
    }
    out
}

fn first(count: TotalCount) -> f64 {
    match count {
        TotalCount::Each(v) => v,
        TotalCount::ByStandard(pair) => pair[0],
    }
}

fn times_of(was: &Part, now: &Part) -> Option<Less> {
    if was.format == now.format {
        return None;
    }
    Some(match (&was.format, &now.format) {
        (Some(Format::Amrap { seconds: from_s }), Some(Format::Amrap { seconds: to_s })) => {
            Less::Minutes { from_s: *from_s, to_s: *to_s }
        }
        (Some(Format::Scheme { .. }), _) => return None,
        (Some(Format::Rounds { .. } | Format::Stations { .. }), _) => {
            Less::Rounds { from: was.rounds(), to: now.rounds() }
        }
        _ => Less::Cycles { from: was.rounds(), to: now.rounds() },
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::mend::Way;
    use crate::say::way;
    use crate::sheet::read;

    fn cut(text: &str, by: By, percent: u32) -> (Block, String) {
        let was = read(text).sheet.blocks.remove(0);
        let now = less(&was, by, percent);
        let said = way(&Way::Less { workout: None, changes: changes(&was, &now) });
        (now, said)
    }

    #[test]
    fn fewer_rounds_bring_cap_and_target_with_them() {
        let sheet = "# workout cap 15:00 target 9:00-12:00\n5 rounds for time\n12 burpees\n200 m run";
        // 5 x 0.8 = 4; 15:00 x 0.8 = 12:00; 7:12 and 9:36 to a quarter of a minute
        let (now, said) = cut(sheet, By::Rounds, 80);
        assert_eq!((now.cap_s, now.parts[0].rounds()), (Some(720), 4));
        assert_eq!(said, "4 rounds instead of 5, cap 12:00 instead of 15:00, target 7:15 to 9:30.");
        // 12 x 0.8 = 9.6 to 10, 200 m x 0.8 to 200 m (a run goes in hundreds): nine tenths of it
        let (now, said) = cut(sheet, By::Counts, 80);
        assert_eq!((now.cap_s, now.parts[0].rounds()), (Some(840), 5), "{said}");
        assert!(said.starts_with("About 92 % of every count, cap 14:00"), "{said}");
        assert_eq!(cut(sheet, By::Rounds, 100).0, read(sheet).sheet.blocks.remove(0));
    }

    #[test]
    fn every_clock_has_its_own_way_of_being_less() {
        let said = |text: &str, percent: u32| cut(text, By::Rounds, percent).1;
        assert_eq!(said("# workout\namrap 16:00\n10 burpees", 75), "12:00 on the clock instead of 16:00.");
        assert_eq!(said("# workout\nevery 2:00 x 8\n10 burpees", 75), "6 times instead of 8.");
        assert_eq!(
            said(
                "# workout\nemom 12 alternating\nminute 1: 10 burpees\nminute 2: 12 sit-ups\nminute 3: rest",
                67
            ),
            "9 times instead of 12.",
            "whole turns of three"
        );
        assert_eq!(
            said(
                "# workout target 300-400 reps\nstations 1:00 on / 0:30 off, 4 rounds\nburpees\nrow cal",
                75
            ),
            "3 rounds instead of 4, target 225 to 300 reps."
        );
        let scheme = "# workout cap 12:00\n21-15-9 for time\nthrusters 43/30 kg\npull-ups";
        assert_eq!(cut(scheme, By::Rounds, 60).0.cap_s, Some(720), "its numbers belong to its rounds");
        let (now, _) = cut(scheme, By::Counts, 67);
        assert_eq!(now.parts[0].format, Some(Format::Scheme { reps: vec![15, 10, 6] }));
        assert!(now.cap_s < Some(540) && now.cap_s > Some(420));
    }

    #[test]
    fn what_is_few_or_has_no_end_stays() {
        let (now, said) = cut("# workout\nfor time\n3 rope climbs\n50 burpees", By::Counts, 50);
        let counts: Vec<_> = now.moves().map(|m| m.count.clone()).collect();
        assert_eq!(counts, [Some(Count::Each(3.0)), Some(Count::Each(25.0))], "{said}");
        let open = "# workout\namrap 3:00\nmax burpees";
        assert_eq!(cut(open, By::Counts, 50).0, read(open).sheet.blocks.remove(0));
    }
}
