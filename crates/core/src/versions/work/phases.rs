//! What a clock that fixes its own length says as it runs: windows of work and rest one after the other, each with its line where
//! one has its turn.

use super::{Clock, Work};

/// More are shown of no clock: an hour of ten seconds.
const MOST: usize = 400;
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

/// Phases one after the other.
struct Row {
    out: Vec<Phase>,
    at: u32,
}

impl Row {
    fn add(&mut self, length_s: u32, kind: PhaseKind, (number, of): (u32, u32), line: Option<usize>) {
        let to_s = self.at.saturating_add(length_s);
        if length_s > 0 && self.out.len() < MOST {
            self.out.push(Phase { from_s: self.at, to_s, kind, number, of, line });
        }
        self.at = to_s;
    }

    /// Windows of work with rest between them; the entry of each is a line, a rest, or all of the list.
    fn windows(&mut self, on_s: u32, off_s: u32, entries: &[Option<Option<usize>>]) {
        let of = entries.len() as u32;
        for (i, entry) in entries.iter().enumerate() {
            let (kind, line) = match entry {
                Some(None) => (PhaseKind::Rest, None),
                Some(line) => (PhaseKind::Work, *line),
                None => (PhaseKind::Work, None),
            };
            self.add(on_s, kind, (i as u32 + 1, of), line);
            if i + 1 < entries.len() {
                self.add(off_s, PhaseKind::Rest, (i as u32 + 1, of), None);
            }
        }
    }
}

impl Work {
    /// The phases of its clock, part after part, up to the first part that everybody ends in their own time; empty where the
    /// first is such a one.
    pub fn phases(&self) -> Vec<Phase> {
        let mut row = Row { out: Vec::new(), at: 0 };
        for (part, section) in self.sections.iter().enumerate() {
            let entries = self.entries(part);
            let k = entries.len().max(1);
            let turn = |i: usize| entries.get(i % k).copied();
            if section.clock.for_time() {
                break;
            }
            row.add(section.rest_before_s, PhaseKind::Rest, (0, 0), None);
            match section.clock {
                Clock::Amrap(s) => row.add(s, PhaseKind::Work, (1, 1), None),
                Clock::Every { every_s, n } => {
                    (1..=n).take(MOST).for_each(|i| row.add(every_s, PhaseKind::Cycle, (i, n), None));
                }
                Clock::Alternating { every_s, n } => {
                    for i in (0..n).take(MOST) {
                        let line = turn(i as usize);
                        let kind = if line == Some(None) { PhaseKind::Rest } else { PhaseKind::Cycle };
                        row.add(every_s, kind, (i + 1, n), line.flatten());
                    }
                }
                Clock::UntilFailure { every_s } => {
                    (1..=MOST_UNTIL_FAILURE).for_each(|i| row.add(every_s, PhaseKind::Cycle, (i, 0), None));
                }
                Clock::Windows { on_s, off_s, n } => {
                    row.windows(on_s, off_s, &vec![None; MOST.min(n as usize)]);
                }
                Clock::Stations { on_s, off_s, rounds } => {
                    let all: Vec<_> = (0..rounds as usize * k).take(MOST).map(turn).collect();
                    row.windows(on_s, off_s, &all);
                }
                Clock::OnOff { on_s, off_s, n, alternating: true } => {
                    let all: Vec<_> = (0..n as usize).take(MOST).map(turn).collect();
                    row.windows(on_s, off_s, &all);
                }
                Clock::OnOff { on_s, off_s, n, alternating: false } => {
                    let n = n.max(1) as usize;
                    let all: Vec<_> = (0..n * k).take(MOST).map(|i| turn(i / n)).collect();
                    row.windows(on_s, off_s, &all);
                }
                Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once => {}
            }
        }
        row.out
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
    fn work_that_everybody_ends_in_their_own_time_has_none() {
        assert!(phases("# workout cap 12:00\n3 rounds for time\n10 burpees\n200 m run").is_empty());
        assert_eq!(
            phases("# workout\namrap 12\n10 burpees\n200 m run"),
            [(0, 720, PhaseKind::Work, 1, None)]
        );
    }
}
