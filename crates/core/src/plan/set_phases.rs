//! What the clock of a block of lifts says as it runs: build-up, then set after set, lift after lift.

use super::strength::StrengthPlan;

/// What is done in a stretch.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SetPhaseKind {
    /// Warm-up sets to the working weight.
    BuildUp,
    /// A working set with its rest.
    Set,
    /// The window of a maximum of the day.
    Maximum,
}

/// A stretch of the clock.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SetPhase {
    /// s on the clock.
    pub from_s: f64,
    /// s on the clock.
    pub to_s: f64,
    /// What is done.
    pub kind: SetPhaseKind,
    /// Which set, from 1; 0 outside one.
    pub number: usize,
    /// Sets of the lift; 0 outside one.
    pub of: usize,
    /// Lift of the block, from 0.
    pub lift: usize,
}

impl StrengthPlan {
    /// Stretch after stretch; each wave builds up and does its sets. What a superset does in turn runs on its first lift's clock.
    pub fn phases(&self) -> Vec<SetPhase> {
        let mut out: Vec<SetPhase> = Vec::new();
        let mut add = |lift: usize, length_s: f64, kind: SetPhaseKind, number: usize, of: usize| {
            let from_s = out.last().map_or(0.0, |p| p.to_s);
            if length_s > 0.0 {
                out.push(SetPhase { from_s, to_s: from_s + length_s, kind, number, of, lift });
            }
        };
        for (lift, l) in self.lifts.iter().enumerate() {
            if l.heavy.is_some() {
                add(lift, l.time.total(), SetPhaseKind::Maximum, 0, 0);
                continue;
            }
            let waves = l.time.waves.max(1);
            let (ramp_s, work_s) = (l.time.ramp_s / f64::from(waves), l.time.work_s / f64::from(waves));
            let sets = l.sets.reps.len().max(1);
            for _ in 0..waves {
                add(lift, ramp_s, SetPhaseKind::BuildUp, 0, 0);
                let mut left_s = work_s;
                for number in 1..=sets {
                    // the last one takes what is left: nobody waits after it
                    let length_s = if number == sets { left_s } else { l.time.interval_s.min(left_s) };
                    add(lift, length_s, SetPhaseKind::Set, number, sets);
                    left_s -= length_s;
                }
            }
        }
        out
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Decision;
    use crate::plan::tests::of;
    use crate::roster::Member;

    fn phases(sheet: &str, decisions: &[Decision]) -> Vec<SetPhase> {
        of(sheet, Member::archetypes(), decisions).strength[0].phases()
    }

    #[test]
    fn a_lift_builds_up_and_does_its_sets_without_gaps_to_its_end() {
        let sheet = "# strength\nback squat 4 x 5 @ 75%, every 2:30";
        let all = phases(sheet, &[]);
        use SetPhaseKind::{BuildUp, Set};
        assert_eq!(all.iter().map(|p| p.kind).collect::<Vec<_>>(), [BuildUp, Set, Set, Set, Set]);
        assert!(all[1..].iter().all(|p| (p.to_s - p.from_s - 150.0).abs() < 1e-9), "{all:?}");
        assert_eq!((all[4].number, all[4].of), (4, 4));
        assert!(all[0].from_s == 0.0 && all.windows(2).all(|w| (w[0].to_s - w[1].from_s).abs() < 1e-9));
        // two waves do all of it twice, and the sum stays the block's
        let halved = Decision::Halves { block: 0, on: true };
        let p = of(
            &format!("{sheet}\n# workout cap 9:00\nfor time\n50 burpees"),
            Member::archetypes(),
            &[halved],
        );
        let two = p.strength[0].phases();
        assert_eq!(two.iter().filter(|p| p.kind == BuildUp).count(), 2);
        assert!((two.last().unwrap().to_s - p.strength[0].lifts[0].time.total()).abs() < 1e-6);
    }

    #[test]
    fn a_maximum_has_its_window_and_a_superset_one_clock() {
        let max = phases("# strength\nbuild to a 1rm deadlift in 15:00", &[]);
        assert_eq!((max.len(), max[0].kind, max[0].to_s), (1, SetPhaseKind::Maximum, 900.0));
        let both = phases("# strength\nbench press 3 x 5 @ 70%\nstrict pull-ups 3 x 5, rest 2:00", &[]);
        assert!(both.iter().all(|p| p.lift == 0), "{both:?}");
    }
}
