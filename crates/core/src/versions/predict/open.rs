//! What work on an open clock is judged by: not by how much is done, but by whether it goes on as it began. Few sets, little
//! standing still, a last round like the first, enough rounds (own figures).

use crate::pacing::{Run, Steadiness};
use crate::versions::work::{Clock, Section, Work};

/// Most of the working time that is spent standing between sets.
const MOST_STOOD: f64 = 0.35;
/// The last round of an open list over the first, in time.
const MOST_FADE: f64 = 1.4;
/// The last window or station round over the first, in reps.
const LEAST_KEPT: f64 = 0.8;
/// Most sets of a line of up to [`Steadiness::FEW_REPS`] reps.
const MOST_SETS: u32 = 3;
/// Fewest rounds of an open list from this length on, s, and the longest round, s.
const LONG_LIST_S: f64 = 600.0;
const FEWEST_ROUNDS: f64 = 3.0;
const LONGEST_ROUND_S: f64 = 300.0;

/// How a work on an open clock is judged: `None` for every other clock.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct OpenClock {
    /// s of work, rests that are given left out.
    work_s: f64,
    /// One list over and over, not windows.
    list: bool,
}

/// What holds a run back on an open clock; 0 each where it keeps the rules, about 1 for each rule that is broken by half.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Fault {
    /// Too much standing still: share of the working time.
    Stands(f64),
    /// The last round against the first.
    Fades(f64),
    /// Sets of a short line.
    Breaks(u32),
    /// Rounds in all.
    FewRounds(f64),
}

impl Fault {
    /// In words, with its figure.
    pub fn says(self) -> String {
        match self {
            Fault::Stands(share) => format!("{} % of it stands still", (share * 100.0).round()),
            Fault::Fades(by) => format!("the last round takes {} as long as the first", times(by)),
            Fault::Breaks(n) => format!("a short line takes {n} sets"),
            Fault::FewRounds(n) => format!("only {} rounds", crate::units::plain((n * 10.0).round() / 10.0)),
        }
    }
}

fn times(by: f64) -> String {
    format!("{} times", crate::units::plain((by * 10.0).round() / 10.0))
}

impl OpenClock {
    /// The open clock of a work.
    pub fn of(work: &Work) -> Option<OpenClock> {
        let [Section { clock, .. }] = work.sections.as_slice() else { return None };
        if work.team.is_some() || work.lowest {
            return None;
        }
        let entries = work.entries(0).len().max(1) as f64;
        let (work_s, list) = match *clock {
            Clock::Amrap(t) => (f64::from(t), true),
            Clock::Windows { on_s, n, .. } | Clock::OnOff { on_s, n, alternating: true, .. } => {
                (f64::from(on_s) * f64::from(n), false)
            }
            Clock::Stations { on_s, rounds: n, .. } | Clock::OnOff { on_s, n, .. } => {
                (f64::from(on_s) * f64::from(n) * entries, false)
            }
            _ => return None,
        };
        Some(OpenClock { work_s, list })
    }

    /// All that a run breaks.
    pub fn faults(self, run: &Run, rounds: f64) -> Vec<Fault> {
        let s: &Steadiness = &run.steadiness;
        let mut out = Vec::new();
        let few = self.work_s >= LONG_LIST_S && rounds < FEWEST_ROUNDS;
        let long = s.first.is_some_and(|(t, _)| t > LONGEST_ROUND_S);
        if self.list && (few || long) {
            out.push(Fault::FewRounds(rounds));
        }
        if s.sets > MOST_SETS {
            out.push(Fault::Breaks(s.sets));
        }
        let stood = s.stood / self.work_s.max(1.0);
        if stood > MOST_STOOD {
            out.push(Fault::Stands(stood));
        }
        if let (Some(first), Some(last)) = (s.first, s.last) {
            let fade = if self.list { last.0 / first.0.max(1.0) } else { first.1 / last.1.max(1.0) };
            if fade > if self.list { MOST_FADE } else { 1.0 / LEAST_KEPT } {
                out.push(Fault::Fades(fade));
            }
        }
        out
    }

    /// Whether a run goes on as it began.
    pub fn holds(self, run: &Run, rounds: f64) -> bool {
        !run.stuck && self.faults(run, rounds).is_empty()
    }

    /// How much a run breaks in all: for searching.
    pub fn miss(self, run: &Run, rounds: f64) -> f64 {
        self.faults(run, rounds)
            .into_iter()
            .map(|f| match f {
                Fault::Stands(share) => (share / MOST_STOOD - 1.0) * 2.0,
                Fault::Fades(by) => by / MOST_FADE - 0.8,
                Fault::Breaks(n) => f64::from(n - MOST_SETS) / 2.0,
                Fault::FewRounds(n) => (FEWEST_ROUNDS - n).max(0.5),
            })
            .map(|m| m.clamp(0.2, 4.0))
            .sum()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn clock(text: &str) -> Option<OpenClock> {
        OpenClock::of(&Work::from_block(&read(text).sheet.blocks[0]).unwrap())
    }

    fn run(stood: f64, first: (f64, f64), last: (f64, f64), sets: u32) -> Run {
        let steadiness = Steadiness { stood, first: Some(first), last: Some(last), sets, over: 0 };
        let work = Work::from_block(&read("amrap 12:00\n10 burpees").sheet.blocks[0]).unwrap();
        let athlete =
            crate::pacing::Athlete::of_level(crate::units::Standard::Heavier, crate::pacing::Level::Regular);
        let (workout, _) =
            crate::versions::compile_lines(&work, crate::units::Standard::Heavier, &athlete, None);
        Run { steadiness, ..crate::pacing::simulate(&workout, &athlete, &Default::default(), false, false) }
    }

    #[test]
    fn only_open_clocks_are_judged_so() {
        assert_eq!(clock("amrap 12:00\n10 burpees"), Some(OpenClock { work_s: 720.0, list: true }));
        let stations = "stations 1:00 on / 0:30 off, 3 rounds\nmax wall balls 9/6 kg\nmax burpees";
        assert_eq!(clock(stations), Some(OpenClock { work_s: 360.0, list: false }));
        let windows = "intervals 3:00 on / 1:00 off x 4\n15 wall balls\nmax burpees";
        assert_eq!(clock(windows), Some(OpenClock { work_s: 720.0, list: false }));
        assert_eq!(clock("3 rounds for time\n10 burpees"), None);
        assert_eq!(clock("every 1:00 x 10\n10 burpees"), None);
    }

    #[test]
    fn each_rule_has_its_edge() {
        let list = OpenClock { work_s: 720.0, list: true };
        let says = |c: OpenClock, r: &Run, rounds| {
            c.faults(r, rounds).into_iter().map(Fault::says).collect::<Vec<_>>()
        };
        let none: Vec<String> = Vec::new();
        // 252 s of 720 are 35 %; a last round of 140 s after one of 100; three sets; three rounds
        assert_eq!(says(list, &run(252.0, (100.0, 27.0), (140.0, 27.0), 3), 3.0), none);
        assert_eq!(
            says(list, &run(253.0, (100.0, 27.0), (140.0, 27.0), 3), 3.0),
            ["35 % of it stands still"]
        );
        assert_eq!(
            says(list, &run(0.0, (100.0, 27.0), (141.0, 27.0), 3), 3.0),
            ["the last round takes 1.4 times as long as the first"]
        );
        assert_eq!(
            says(list, &run(0.0, (100.0, 27.0), (100.0, 27.0), 4), 3.0),
            ["a short line takes 4 sets"]
        );
        assert_eq!(says(list, &run(0.0, (100.0, 27.0), (100.0, 27.0), 1), 2.9), ["only 2.9 rounds"]);
        assert_eq!(says(list, &run(0.0, (301.0, 27.0), (301.0, 27.0), 1), 3.1), ["only 3.1 rounds"]);
        // windows: four fifths of the first one's reps
        let windows = OpenClock { work_s: 720.0, list: false };
        assert_eq!(says(windows, &run(0.0, (180.0, 50.0), (180.0, 40.0), 1), 1.0), none);
        assert_eq!(says(windows, &run(0.0, (180.0, 50.0), (180.0, 39.0), 1), 1.0).len(), 1);
        assert!(windows.miss(&run(0.0, (180.0, 50.0), (180.0, 20.0), 6), 1.0) > 1.0);
        assert_eq!(list.miss(&run(0.0, (100.0, 27.0), (100.0, 27.0), 1), 5.0), 0.0);
    }
}
