//! The pace of a version in one sentence: where the clock should stand, and how the work is broken.

use crate::movement::say::spoken_for;
use crate::plan::{Mark, VersionPace};
use crate::stimulus::Stimulus;
use crate::units::{Unit, clock, plain};
use crate::versions::{Clock, LineSets, Version, most_of};

/// Sets that a voice carries; a line in more is only "small sets".
const MOST_SETS: usize = 3;
/// A last round within this share of the first is the same to a coach (own).
const ALIKE: f64 = 1.1;

/// How the line that eats the time is broken in the first round.
#[derive(Debug, Clone, PartialEq)]
pub enum Breaks {
    /// No set is broken in any round.
    Whole,
    /// A movement in no more than so many sets, as the sheet asks.
    Most(String, u32),
    /// A movement in so many sets.
    Sets(String, Vec<u32>),
    /// In more sets than can be called.
    Small(String),
}

impl Breaks {
    fn says(&self) -> String {
        match self {
            Breaks::Whole => "no set broken".to_owned(),
            Breaks::Most(id, 1) => format!("{} unbroken", spoken_for(id, 2.0)),
            Breaks::Most(id, n) => format!("{} never in more than {n} sets", spoken_for(id, 2.0)),
            Breaks::Sets(id, sets) => {
                let sets: Vec<String> = sets.iter().map(u32::to_string).collect();
                let (last, first) = sets.split_last().map_or(("", &[][..]), |(l, f)| (l.as_str(), f));
                format!("{} {} and {last}", spoken_for(id, 2.0), first.join(", "))
            }
            Breaks::Small(id) => format!("{} in small sets from the start", spoken_for(id, 2.0)),
        }
    }
}

/// The pace of a version.
#[derive(Debug, Clone, PartialEq)]
pub enum PaceLine {
    /// Work against the clock, s.
    Closed {
        /// Where it is first looked at.
        first: Option<(Mark, f64)>,
        /// How its hardest line is broken.
        breaks: Option<Breaks>,
        /// Where it ends.
        ends: f64,
    },
    /// An open list: the first and the last round, s.
    Rounds {
        /// Shortest round.
        from: f64,
        /// Longest.
        to: f64,
    },
    /// Cycles of an interval, s: done by, and what is left of it.
    Cycle {
        /// The longest round.
        done: f64,
        /// From one start to the next.
        every: f64,
    },
    /// Stations: what is repeated at each, by movement.
    Targets(Vec<(String, f64)>),
}

impl PaceLine {
    /// The same without how sets are broken, where that was said for another version already.
    #[must_use]
    pub fn after(&self, before: &[PaceLine]) -> PaceLine {
        match self {
            PaceLine::Closed { first, breaks: Some(now), ends }
                if before
                    .iter()
                    .any(|b| matches!(b, PaceLine::Closed { breaks: Some(b), .. } if b == now)) =>
            {
                PaceLine::Closed { first: first.clone(), breaks: None, ends: *ends }
            }
            other => other.clone(),
        }
    }

    /// In one sentence.
    pub fn says(&self) -> String {
        match self {
            PaceLine::Closed { first, breaks, ends } => {
                let first = first.as_ref().map(|(at, s)| format!("{} {}", at.by(), clock(*s)));
                let breaks = breaks.as_ref().map(Breaks::says);
                let ends = format!("finish by {}", clock(*ends));
                let all: Vec<String> = first.into_iter().chain(breaks).chain([ends]).collect();
                format!("{}.", crate::movement::say::capital(&all.join("; ")))
            }
            PaceLine::Rounds { from, to } if *to <= from * ALIKE => {
                format!("A round every {}, the last like the first.", clock(*to))
            }
            PaceLine::Rounds { from, to } => {
                format!("First round {}, none over {}.", clock(*from), clock(*to))
            }
            PaceLine::Cycle { done, every } => {
                format!(
                    "Done by {} of each {}: {} to breathe.",
                    clock(*done),
                    clock(*every),
                    clock(every - done)
                )
            }
            PaceLine::Targets(all) => {
                let each: Vec<String> = all.iter().map(|(what, n)| format!("{what} {}", plain(*n))).collect();
                format!("The same every round: {}.", each.join(", "))
            }
        }
    }
}

/// The pace of a version as it is said; `targets`: what its middle member repeats at stations. `None` where there is nothing to hold.
pub(super) fn pace_line(
    v: &Version,
    pace: &VersionPace,
    stimulus: &Stimulus,
    targets: Vec<(String, f64)>,
) -> Option<PaceLine> {
    if !targets.is_empty() {
        return Some(PaceLine::Targets(targets));
    }
    match v.work.clock() {
        _ if v.work.sections.len() > 1 => None,
        Clock::Amrap(_) => pace.round_s.map(|[from, to]| PaceLine::Rounds { from, to }),
        Clock::Every { every_s, .. } => {
            let every = f64::from(every_s);
            // a round that fills its interval leaves nothing to hold
            pace.round_s.filter(|[_, to]| *to < every).map(|[_, done]| PaceLine::Cycle { done, every })
        }
        _ if v.work.clock_s().is_some() => None,
        _ => {
            let checks = pace.checkpoints.as_slice();
            let first = checks.first().filter(|_| checks.len() > 1).map(|c| (c.at.clone(), c.on_pace));
            let ends = checks.last()?.on_pace;
            Some(PaceLine::Closed { first, breaks: breaks(v, pace, stimulus), ends })
        }
    }
}

/// How the work is broken by whose pace it is: the sheet's own wish, else the sets of the round in which the line that takes the
/// longest is first broken.
fn breaks(v: &Version, pace: &VersionPace, stimulus: &Stimulus) -> Option<Breaks> {
    let asked = v.work.lines.iter().find_map(|l| Some((l.movement.clone(), most_of(l, stimulus)?)));
    if let Some((id, most)) = asked {
        return Some(Breaks::Most(id, most));
    }
    let ids: Vec<&str> = v.work.positions().collect();
    let reps: Vec<usize> = v
        .work
        .lines
        .iter()
        .enumerate()
        .filter(|(_, l)| l.unit == Unit::Reps)
        .map(|(i, _)| v.work.position_of(i))
        .collect();
    let all = pace.splits.lines.iter().filter(|l| reps.contains(&l.position));
    let share = |p: usize| pace.time_shares.get(p).copied().unwrap_or(0.0);
    let longest = |a: &&LineSets, b: &&LineSets| {
        share(a.position).total_cmp(&share(b.position)).then(b.round.cmp(&a.round))
    };
    match all.clone().filter(|l| l.sets.len() > 1).max_by(longest) {
        None if all.count() > 0 => Some(Breaks::Whole),
        None => None,
        Some(l) => {
            let id = (*ids.get(l.position)?).to_owned();
            let sets: Vec<u32> = l.sets.iter().map(|n| n.round() as u32).collect();
            Some(if sets.len() <= MOST_SETS { Breaks::Sets(id, sets) } else { Breaks::Small(id) })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_kind_of_clock_has_its_sentence() {
        let first = Some((Mark::Round(1), 220.0));
        let sets = Some(Breaks::Sets("power-clean".into(), vec![7, 5]));
        let closed = PaceLine::Closed { first: first.clone(), breaks: sets, ends: 650.0 };
        assert_eq!(closed.says(), "Round 1 by 3:40; power cleans 7 and 5; finish by 10:50.");
        let three = Some(Breaks::Sets("thruster".into(), vec![8, 7, 6]));
        assert_eq!(
            PaceLine::Closed { first: None, breaks: three, ends: 300.0 }.says(),
            "Thrusters 8, 7 and 6; finish by 5:00."
        );
        let again = PaceLine::Closed { first: None, breaks: Some(Breaks::Whole), ends: 700.0 };
        let before = PaceLine::Closed { first: None, breaks: Some(Breaks::Whole), ends: 600.0 };
        assert_eq!(again.after(&[before]).says(), "Finish by 11:40.", "how sets are broken is said once");
        assert_eq!(again.after(&[]).says(), "No set broken; finish by 11:40.");
        let whole = PaceLine::Closed { first, breaks: Some(Breaks::Whole), ends: 650.0 };
        assert_eq!(whole.says(), "Round 1 by 3:40; no set broken; finish by 10:50.");
        let most = |n| Breaks::Most("power-clean".into(), n).says();
        assert_eq!(most(2), "power cleans never in more than 2 sets");
        assert_eq!(most(1), "power cleans unbroken");
        assert_eq!(
            PaceLine::Rounds { from: 70.0, to: 75.0 }.says(),
            "A round every 1:15, the last like the first."
        );
        assert_eq!(PaceLine::Rounds { from: 70.0, to: 90.0 }.says(), "First round 1:10, none over 1:30.");
        assert_eq!(
            PaceLine::Cycle { done: 60.0, every: 90.0 }.says(),
            "Done by 1:00 of each 1:30: 0:30 to breathe."
        );
        let targets = PaceLine::Targets(vec![("wall-ball".into(), 12.0), ("row".into(), 9.0)]);
        assert_eq!(targets.says(), "The same every round: wall-ball 12, row 9.");
    }
}
