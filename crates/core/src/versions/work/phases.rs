//! What a clock that fixes its own length says as it runs: windows of work and rest one after the other, each with its line where
//! one has its turn.

use super::{Clock, Work};
use crate::sheet::When;

/// More are shown of no clock: an hour of ten seconds.
const MOST: usize = 400;
/// Calls of one line that are given.
const MOST_CALLS: usize = 120;
/// Cycles of a clock that runs until one fails.
const MOST_UNTIL_FAILURE: u32 = 60;

/// What is done in a phase.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PhaseKind {
    /// A window of work.
    Work,
    /// A window in which nobody works.
    Rest,
    /// A stretch of which what is left after the work is rest.
    Cycle,
}

/// A stretch of the clock.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Phase {
    /// s on the clock.
    pub from_s: u32,
    /// s on the clock.
    pub to_s: u32,
    /// What is done.
    pub kind: PhaseKind,
    /// Which window or cycle of its part, from 1; a rest has that of the window before it, 0 before the first.
    pub number: u32,
    /// Windows or cycles of its part; 0 where nobody knows how many there will be.
    pub of: u32,
    /// The line whose turn it is, by its place in the work.
    pub line: Option<usize>,
}

/// What is done in a window, and the line whose turn it is.
type Turn = (PhaseKind, Option<usize>);

/// Phases one after the other.
struct Row {
    out: Vec<Phase>,
    at: u32,
}

impl Row {
    /// What comes after the most that are shown is not shown.
    fn full(&self) -> bool {
        self.out.len() >= MOST
    }

    fn add(&mut self, length_s: u32, (number, of): (u32, u32), (kind, line): Turn) {
        let to_s = self.at.saturating_add(length_s);
        if length_s > 0 && !self.full() {
            self.out.push(Phase { from_s: self.at, to_s, kind, number, of, line });
        }
        self.at = to_s;
    }

    /// Windows with rest between them; `turn`: what is done in each, from 0.
    fn windows(&mut self, [on_s, off_s]: [u32; 2], of: u32, turn: impl Fn(u32) -> Turn) {
        for i in 0..of {
            if self.full() {
                return;
            }
            self.add(on_s, (i + 1, of), turn(i));
            if i + 1 < of {
                self.add(off_s, (i + 1, of), (PhaseKind::Rest, None));
            }
        }
    }
}

/// Something that interrupts everybody as the clock says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Call {
    /// s on the workout's clock.
    pub at_s: u32,
    /// Line of the work that is done then.
    pub line: usize,
}

impl Work {
    /// The interruptions that the clock calls for, before a moment in s.
    pub fn calls(&self, until_s: u32) -> Vec<Call> {
        let mut out: Vec<Call> = Vec::new();
        for (line, l) in self.lines.iter().enumerate() {
            if let Some(When::OnTheClock { every_s, from_zero }) = l.around {
                let first = if from_zero { 0 } else { every_s };
                let all = (first..until_s).step_by(every_s.max(1) as usize).take(MOST_CALLS);
                out.extend(all.map(|at_s| Call { at_s, line }));
            }
        }
        out.sort_by_key(|c| (c.at_s, c.line));
        out
    }

    /// The phases of its clock, part after part, up to the first part that everybody ends in their own time; empty where the
    /// first is such a one.
    pub fn phases(&self) -> Vec<Phase> {
        let mut row = Row { out: Vec::new(), at: 0 };
        for (part, section) in self.sections.iter().enumerate() {
            if section.clock.for_time() || row.full() {
                break;
            }
            row.add(section.rest_before_s, (0, 0), (PhaseKind::Rest, None));
            self.phases_of(part, section.clock, &mut row);
        }
        row.out
    }

    fn phases_of(&self, part: usize, clock: Clock, row: &mut Row) {
        let entries = self.entries(part);
        let k = entries.len().max(1) as u32;
        // an entry that is no line is a rest
        let turn = |i: u32, kind: PhaseKind| match entries.get((i % k) as usize) {
            Some(None) => (PhaseKind::Rest, None),
            Some(line) => (kind, *line),
            None => (kind, None),
        };
        let all = |kind: PhaseKind| move |_: u32| (kind, None);
        match clock {
            Clock::Amrap(s) => row.add(s, (1, 1), (PhaseKind::Work, None)),
            Clock::Every { every_s, n } => row.windows([every_s, 0], n, all(PhaseKind::Cycle)),
            Clock::Alternating { every_s, n } => {
                row.windows([every_s, 0], n, |i| turn(i, PhaseKind::Cycle));
            }
            Clock::UntilFailure { every_s } => {
                for i in 1..=MOST_UNTIL_FAILURE {
                    row.add(every_s, (i, 0), (PhaseKind::Cycle, None));
                }
            }
            Clock::Windows { on_s, off_s, n } => row.windows([on_s, off_s], n, all(PhaseKind::Work)),
            Clock::Stations { on_s, off_s, rounds: n }
            | Clock::OnOff { on_s, off_s, n, alternating: true } => {
                let stations = matches!(clock, Clock::Stations { .. });
                let of = if stations { n.saturating_mul(k) } else { n };
                row.windows([on_s, off_s], of, |i| turn(i, PhaseKind::Work));
            }
            Clock::OnOff { on_s, off_s, n, alternating: false } => {
                row.windows([on_s, off_s], n.saturating_mul(k), |i| turn(i / n.max(1), PhaseKind::Work));
            }
            Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once => {}
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn phases(text: &str) -> Vec<(u32, u32, PhaseKind, u32, Option<usize>)> {
        let work = Work::from_block(&read(text).sheet.blocks[0]).unwrap();
        let all = work.phases();
        let end = work.clock_s();
        assert!(all.windows(2).all(|p| p[0].to_s == p[1].from_s), "no gap and no overlap");
        assert!(
            end.is_none() || all.last().map(|p| f64::from(p.to_s)) == end,
            "they end where the clock does"
        );
        all.iter().map(|p| (p.from_s, p.to_s, p.kind, p.number, p.line)).collect()
    }

    #[test]
    fn what_interrupts_is_called_as_the_clock_says() {
        let of = |text: &str, until| Work::from_block(&read(text).sheet.blocks[0]).unwrap().calls(until);
        let sheet =
            "# workout cap 12:00\nfor time\n100 wall balls 9/6 kg\non every minute from 0:00: 5 burpees";
        let all = of(sheet, 180);
        assert_eq!(all.iter().map(|c| c.at_s).collect::<Vec<_>>(), [0, 60, 120], "{all:?}");
        let line = all[0].line;
        assert!(all.iter().all(|c| c.line == line));
        assert_eq!(of("# workout cap 12:00\nfor time\n100 wall balls 9/6 kg", 600), []);
    }

    #[test]
    fn windows_and_rests_follow_each_other_and_the_last_has_none() {
        use PhaseKind::{Rest, Work};
        let of = phases("# workout\n3 x 2:00 on 1:00 off\n200 m run\nmax burpees");
        assert_eq!(
            of,
            [
                (0, 120, Work, 1, None),
                (120, 180, Rest, 1, None),
                (180, 300, Work, 2, None),
                (300, 360, Rest, 2, None),
                (360, 480, Work, 3, None)
            ]
        );
    }

    #[test]
    fn lines_in_turn_are_named_and_a_list_is_not() {
        let of = phases("# workout\nemom 4 alternating\n10 burpees\n12 kb swings 24/16 kg");
        assert_eq!(of.iter().map(|p| p.4).collect::<Vec<_>>(), [Some(0), Some(1), Some(0), Some(1)]);
        assert_eq!((of[3].0, of[3].1, of[3].2), (180, 240, PhaseKind::Cycle));
        let of = phases("# workout\nevery 2:30 x 3\n200 m run\n12 wall balls 9/6 kg");
        assert_eq!(
            of.iter().map(|p| (p.0, p.1, p.4)).collect::<Vec<_>>(),
            [(0, 150, None), (150, 300, None), (300, 450, None)]
        );
    }

    #[test]
    fn stations_go_round_and_each_line_of_a_fixed_clock_has_its_windows() {
        let of = phases("# workout\nstations 1:00 on 0:30 off 2 rounds\nburpees\nkb swings 24/16 kg");
        let lines: Vec<_> = of.iter().filter(|p| p.2 == PhaseKind::Work).map(|p| p.4).collect();
        assert_eq!(lines, [Some(0), Some(1), Some(0), Some(1)]);
        let mut work =
            Work::from_block(&read("# workout\n6 x 0:20 on 0:10 off\nburpees\nair squats").sheet.blocks[0])
                .unwrap();
        let lines = |work: &Work| {
            let all = work.phases();
            all.iter().filter(|p| p.kind == PhaseKind::Work).map(|p| p.line).collect::<Vec<_>>()
        };
        work.sections[0].clock = Clock::OnOff { on_s: 20, off_s: 10, n: 2, alternating: false };
        assert_eq!(lines(&work), [Some(0), Some(0), Some(1), Some(1)]);
        work.sections[0].clock = Clock::OnOff { on_s: 20, off_s: 10, n: 3, alternating: true };
        assert_eq!(lines(&work), [Some(0), Some(1), Some(0)]);
        // a clock of a million windows says so, and shows as many as anybody could look at
        work.sections[0].clock = Clock::Windows { on_s: 20, off_s: 10, n: 1_000_000 };
        let all = work.phases();
        assert_eq!((all.len(), all[0].of), (MOST, 1_000_000));
    }

    #[test]
    fn work_that_everybody_ends_in_their_own_time_has_none() {
        assert!(phases("# workout cap 12:00\n3 rounds for time\n10 burpees\n200 m run").is_empty());
        assert_eq!(
            phases("# workout\namrap 12\n10 burpees\n200 m run"),
            [(0, 720, PhaseKind::Work, 1, None)]
        );
    }
}
