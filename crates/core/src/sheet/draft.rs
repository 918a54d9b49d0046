//! A block while its lines are read: where the next line goes, when a part begins, and what the lines make together.

use super::clean::Line;
use super::model::{Block, BlockKind, Count, Extra, Format, Item, MoveLine, Part, When};
use super::movement_line::problem;
use super::problem::{Problem, Severity};

/// A block that is still being read.
pub(super) struct Draft {
    pub block: Block,
    /// Entries for minutes of an alternating clock: (minute, entry).
    minutes: Vec<(u32, Item)>,
    /// More of every line each round.
    pub rise_all: Option<f64>,
    /// Rest between rounds that the clock line gives, s.
    pub between: Option<u32>,
    /// The clock lines: (part, line).
    clocks: Vec<(usize, Line)>,
}

impl Default for Draft {
    fn default() -> Draft {
        Draft::new(Block::new(BlockKind::Workout, 1))
    }
}

impl Draft {
    pub fn new(block: Block) -> Draft {
        Draft { block, minutes: Vec::new(), rise_all: None, between: None, clocks: Vec::new() }
    }

    /// The part that lines go to now.
    pub fn part(&self) -> &Part {
        self.block.parts.last().unwrap_or(self.block.first())
    }

    fn part_mut(&mut self) -> &mut Part {
        if self.block.parts.is_empty() {
            self.block.parts.push(Part::new(self.block.line));
        }
        let last = self.block.parts.len() - 1;
        // there is one: pushed above when there was none
        #[allow(clippy::indexing_slicing)]
        &mut self.block.parts[last]
    }

    pub fn push(&mut self, item: Item) {
        self.part_mut().items.push(item);
    }

    pub fn items_len(&self) -> usize {
        self.part().items.len()
    }

    pub fn around(&mut self, when: When, work: MoveLine) {
        self.part_mut().extras.push(Extra { when, work });
    }

    /// The line of work that a variant stands in for.
    pub fn last_move(&mut self) -> Option<&mut MoveLine> {
        self.part_mut().items.iter_mut().rev().find_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        })
    }

    /// Moves what was read since `from` to minutes of an alternating clock.
    pub fn move_to_minutes(&mut self, from: usize, minutes: &[u32]) {
        let part = self.part_mut();
        let read: Vec<Item> = part.items.drain(from.min(part.items.len())..).collect();
        for k in minutes {
            self.minutes.extend(read.iter().map(|i| (*k, i.clone())));
        }
    }

    /// Length of the window that a line of this clock fills, s.
    pub fn window_s(&self) -> Option<u32> {
        match self.part().format {
            Some(Format::Stations { on, .. } | Format::OnOff { on, .. }) => Some(on),
            Some(Format::Every { seconds, .. } | Format::EveryAlternating { seconds, .. }) => Some(seconds),
            _ => None,
        }
    }

    /// Whether `every minute: ...` interrupts the work here: the clock has no cycles of its own.
    pub fn interruptible(&self) -> bool {
        self.part().format.as_ref().is_some_and(|f| f.for_time() || matches!(f, Format::Amrap { .. }))
    }

    /// Begins the next part; the rest that stands last lies before it.
    pub fn next_part(&mut self, line: u32) {
        // a rest for a minute is a cycle of its own, so minutes come in after the rest that stands last is taken
        let part = self.part_mut();
        let mut rest = 0u32;
        while let Some(Item::Rest { seconds }) = part.items.last() {
            rest = rest.saturating_add(*seconds);
            part.items.pop();
        }
        self.sort_minutes();
        let part = self.part_mut();
        if part.items.is_empty() && part.extras.is_empty() && part.format.is_none() {
            // only a rest stood here: it lies before what follows
            part.rest_s = part.rest_s.saturating_add(rest);
            part.line = line;
            return;
        }
        self.close_part(true);
        self.block.parts.push(Part { rest_s: rest, ..Part::new(line) });
    }

    /// Whether a clock at this place opens a new part: it follows a rest after work on another clock.
    pub fn opens_part(&self, format: &Format) -> bool {
        let part = self.part();
        let rested = matches!(part.items.last(), Some(Item::Rest { .. })) && part.moves().next().is_some();
        let same = matches!(
            (&part.format, format),
            (None, _)
                | (_, Format::Quality { .. })
                | (Some(Format::Rounds { .. } | Format::Scheme { .. }), Format::Chipper)
        );
        rested && !same
    }

    /// Gives the part its clock; a second one that says no more than the first is merged.
    pub fn set_format(&mut self, line: &Line, format: Format, problems: &mut Vec<Problem>) {
        let merged = match (self.part_mut().format.take(), format) {
            (None, f) => f,
            (Some(Format::Quality { rounds: 1, scheme }), f @ Format::Quality { .. })
                if scheme.is_empty() =>
            {
                f
            }
            (Some(f @ Format::Quality { .. }), Format::Quality { rounds: 1, scheme })
                if scheme.is_empty() =>
            {
                f
            }
            (Some(Format::Quality { scheme, .. }), Format::Rounds { n }) if scheme.is_empty() => {
                Format::Quality { rounds: n, scheme }
            }
            (Some(Format::Quality { rounds: 1, .. }), Format::Scheme { reps }) => {
                Format::Quality { rounds: 1, scheme: reps }
            }
            (Some(Format::Rounds { n }), Format::Quality { rounds: 1, scheme }) if scheme.is_empty() => {
                Format::Quality { rounds: n, scheme }
            }
            (Some(Format::Scheme { reps }), Format::Quality { rounds: 1, scheme }) if scheme.is_empty() => {
                Format::Quality { rounds: 1, scheme: reps }
            }
            (Some(f @ (Format::Rounds { .. } | Format::Scheme { .. })), Format::Chipper) => f,
            (Some(Format::Chipper), f @ (Format::Rounds { .. } | Format::Scheme { .. })) => f,
            (Some(first), _) => {
                let message = "This block has a clock already. Write then above this line for a new part, or begin a new block with a # heading.";
                problems.push(problem(line, 0, line.text.len(), Severity::Error, message.to_owned()));
                first
            }
        };
        self.part_mut().format = Some(merged);
        self.clocks.push((self.block.parts.len() - 1, line.clone()));
    }

    /// Entries for minutes in their order; they make the clock an alternating one.
    fn sort_minutes(&mut self) {
        if self.minutes.is_empty() {
            return;
        }
        let mut minutes = std::mem::take(&mut self.minutes);
        minutes.sort_by_key(|(k, _)| *k);
        let part = self.part_mut();
        part.items.extend(minutes.into_iter().map(|(_, i)| i));
        if let Some(Format::Every { seconds, n }) = part.format {
            part.format = Some(Format::EveryAlternating { seconds, n });
        }
    }

    /// Fills in what a part leaves open: its clock, counts of windows, reps that rise.
    fn close_part(&mut self, several: bool) {
        self.sort_minutes();
        let scored = self.block.cap_s.is_some() || self.block.target.is_some();
        let workout = self.block.kind == BlockKind::Workout;
        let quality = matches!(self.block.format(), Some(Format::Quality { .. }));
        let rise = self.rise_all.take();
        let between = self.between.take();
        let part = self.part_mut();
        part.items.extend(between.map(|seconds| Item::Rest { seconds }));
        if part.format.is_none() && part.moves().next().is_some() {
            part.format = Some(if scored && !quality || several && workout && !quality {
                Format::Chipper
            } else {
                Format::Quality { rounds: 1, scheme: Vec::new() }
            });
        }
        let open = part.format.as_ref().is_some_and(Format::open_counts);
        for item in &mut part.items {
            if let Item::Move(m) = item {
                if open && m.count.is_none() {
                    m.count = Some(Count::Max);
                }
                if m.rise.is_none() && m.unit == crate::units::Unit::Reps {
                    m.rise = rise;
                }
            }
        }
    }

    /// The block as read.
    pub fn finish(mut self, problems: &mut Vec<Problem>) -> Block {
        self.close_part(self.block.parts.len() > 1);
        let parts = &mut self.block.parts;
        if parts.len() > 1 && parts.last().is_some_and(|p| p.format.is_none() && p.extras.is_empty()) {
            parts.pop();
        }
        for (i, part) in self.block.parts.iter().enumerate() {
            own_schemes(part, problems);
            if let Some((_, clock)) = self.clocks.iter().find(|(at, _)| *at == i) {
                all_in_each_cycle(part, clock, problems);
            }
        }
        self.block
    }
}

/// A line's own scheme must give a number for every round.
fn own_schemes(part: &Part, problems: &mut Vec<Problem>) {
    for m in part.moves() {
        if let Some(Count::Scheme(reps)) = &m.count
            && part.rounds() > 1
            && reps.len() != part.rounds() as usize
        {
            let message = format!(
                "This line has {} numbers and the workout {} rounds. Write one number for each round.",
                reps.len(),
                part.rounds()
            );
            problems.push(Problem {
                line: m.line,
                column: 1,
                length: 1,
                severity: Severity::Error,
                message,
                suggestions: Vec::new(),
            });
        }
    }
}

/// Three lines and more in every minute are more often meant in turn: said, with the other reading.
fn all_in_each_cycle(part: &Part, clock: &Line, problems: &mut Vec<Problem>) {
    let lines = part.moves().count() as u32;
    if let Some(Format::Every { seconds: 60, n }) = part.format
        && lines >= 3
        && n % lines == 0
    {
        let message =
            format!("I read all {lines} lines in every minute. Did you mean one line a minute, in turn?");
        let mut p = problem(clock, 0, clock.text.len(), Severity::Warning, message);
        p.suggestions = vec![format!("{}, alternating", clock.text.trim_end_matches([':', ' ']))];
        problems.push(p);
    }
}

/// Whether a clock may still be given at this place: a scheme inside a list belongs to its line.
pub(super) fn takes_format(draft: &Draft, format: &Format, more: bool) -> bool {
    let numbers = matches!(format, Format::Scheme { .. } | Format::Quality { .. });
    let part = draft.part();
    !(more && numbers && (part.format.is_some() || !part.items.is_empty()))
}
