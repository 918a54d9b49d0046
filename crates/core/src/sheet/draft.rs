//! A block while its lines are read: where the next line goes, when a part begins, and what the lines make together.

use super::clock::{Bits, Missing};
use super::fill::{
    all_in_each_cycle, open_counts, own_schemes, rise_from, stations_counted, timed_stations, uncounted,
};
use super::levels::LevelLine;
use super::model::{
    Block, BlockKind, Count, Extra, Format, Item, Load, LoadFrom, MoveLine, Part, Percent, When,
};
use super::problem::{Problem, Severity};
use super::scan::problem;
use super::text::Line;
use crate::units::Unit;

/// A block that is still being read.
pub(super) struct Draft {
    pub block: Block,
    /// Entries for minutes of an alternating clock: (minute, entry).
    minutes: Vec<(u32, Item)>,
    /// More of every line each round.
    pub rise_all: Option<f64>,
    /// Rest between rounds, sets or windows, s.
    pub between: Option<u32>,
    /// What is said of the clock of the part.
    pub bits: Option<Bits>,
    /// The line of the clock, and the piece of it.
    pub clock: Option<(Line, usize, usize)>,
    /// A lighter or other form of several lines.
    pub levels: Vec<LevelLine>,
    /// Lines of the part that were numbered from 1.
    pub numbered: u32,
    /// How many people of the team have work of their own.
    pub persons: u32,
    /// It is said how the team divides the work.
    pub divided: bool,
    /// A rest without a time is said.
    pub rests_freely: bool,
    /// `4 x 500 m row`: how often, and where it stands.
    pub repeated: Option<(u32, Line, usize, usize)>,
    /// The same list again: rest before it, s, and how long.
    pub again: Vec<[u32; 2]>,
    /// A length that the clock's line gives beside its windows: s, and where.
    pub said_length: Option<(u32, Line, usize, usize)>,
}

impl Draft {
    pub fn new(block: Block) -> Draft {
        Draft {
            block,
            minutes: Vec::new(),
            rise_all: None,
            between: None,
            bits: None,
            clock: None,
            levels: Vec::new(),
            numbered: 0,
            persons: 0,
            divided: false,
            rests_freely: false,
            repeated: None,
            again: Vec::new(),
            said_length: None,
        }
    }

    /// The part that lines go to now.
    pub fn part(&self) -> &Part {
        self.block.parts.last().unwrap_or(self.block.first())
    }

    pub fn part_mut(&mut self) -> &mut Part {
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

    /// The line of work read last.
    pub fn last_move(&mut self) -> Option<&mut MoveLine> {
        let in_list = self.part().items.iter().rev().find_map(moved).map(|m| m.line);
        let of_minute = self.minutes.iter().rev().find_map(|(_, i)| moved(i)).map(|m| m.line);
        if of_minute > in_list {
            return self.minutes.iter_mut().rev().find_map(|(_, i)| match i {
                Item::Move(m) => Some(m),
                Item::Rest { .. } => None,
            });
        }
        self.part_mut().items.iter_mut().rev().find_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        })
    }

    /// A share of a maximum for the bar: of the lifts on its line, else of all that have no weight.
    pub fn at_percent(&mut self, p: &Percent, line: u32) {
        let percent = p.values.last().copied().unwrap_or(0.0);
        let here = self.part().moves().any(|m| m.line == line);
        for item in &mut self.part_mut().items {
            if let Item::Move(m) = item
                && (m.line == line || !here)
                && m.load.is_none()
                && m.movement.id().is_some_and(super::work::barbell)
            {
                m.load = Some(Load::Percent { percent, of: p.of.clone() });
                m.load_from = if here { LoadFrom::Written } else { LoadFrom::Carried(line) };
            }
        }
    }

    /// `1 clean + 1 jerk @ 70%`: one bar for all that stands on the line.
    pub fn same_bar_on(&mut self, line: u32, load: &Load) {
        for item in &mut self.part_mut().items {
            if let Item::Move(m) = item
                && m.line == line
                && m.load.is_none()
                && m.movement.id().is_some_and(super::work::barbell)
            {
                m.load = Some(load.clone());
                m.load_from = LoadFrom::Written;
            }
        }
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

    /// Whether a length of time alone on its line, below work against the clock, is how long that may last at most.
    pub fn capped_by_length(&self, said: &[super::atom::Said]) -> bool {
        let closed = self.part().format.as_ref().is_none_or(Format::for_time);
        said.len() == 1
            && self.block.kind == BlockKind::Workout
            && self.block.cap_s.is_none()
            && self.block.duration_s.is_none()
            && self.worked()
            && self.minutes.is_empty()
            && closed
    }

    /// Whether lines of the part were given to minutes.
    pub fn by_minutes(&self) -> bool {
        !self.minutes.is_empty()
    }

    /// Whether the part has any work yet.
    pub fn worked(&self) -> bool {
        self.part().moves().next().is_some() || !self.minutes.is_empty()
    }

    /// Whether a rest stands last, behind work.
    pub fn rested(&self) -> bool {
        matches!(self.part().items.last(), Some(Item::Rest { .. })) && self.worked()
    }

    /// `AMRAP 3 / rest 1 / AMRAP 5` above its list: the list again for so long, after the rest that was said.
    pub fn once_more(&mut self, bits: &Bits) -> bool {
        let first = self.bits.as_ref().is_some_and(|b| b.amrap && b.length.is_some());
        let only_rest = self.part().items.iter().all(|i| matches!(i, Item::Rest { .. }));
        let Some(length) = bits.length.filter(|_| bits.amrap && bits.rounds.is_none() && first && only_rest)
        else {
            return false;
        };
        let rests = self.part_mut().items.drain(..).map(|i| match i {
            Item::Rest { seconds } => seconds,
            Item::Move(_) => 0,
        });
        let rest = rests.fold(0u32, u32::saturating_add);
        // on the clock's own line it was heard as the rest between
        let rest = if rest > 0 { rest } else { self.between.take().unwrap_or(0) };
        self.again.push([rest, length]);
        true
    }

    /// Begins the next part; the rest that stands last lies before it.
    pub fn next_part(&mut self, line: u32, problems: &mut Vec<Problem>) {
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
        self.close_part(true, problems);
        self.block.parts.push(Part { rest_s: rest, ..Part::new(line) });
        self.bits = None;
        self.clock = None;
    }

    /// Works out the clock of the part from all that is said of it so far.
    pub fn set_clock(&mut self) -> Result<(), Missing> {
        let scored = matches!(self.block.kind, BlockKind::Workout | BlockKind::Skill | BlockKind::Strength);
        let between = self.between;
        let Some(bits) = &self.bits else { return Ok(()) };
        let windows = bits.windowed();
        let mut bits = bits.clone();
        if (bits.amrap || bits.every.is_some()) && bits.length.is_none() && bits.times.is_none() {
            bits.length = self.block.duration_s.filter(|_| bits.rounds.is_none());
        }
        let format = bits.format(scored, between.filter(|_| windows))?;
        if format.is_some() {
            self.part_mut().format = format;
        }
        Ok(())
    }

    /// Entries for minutes in their order; they make the clock an alternating one.
    fn sort_minutes(&mut self) {
        if self.minutes.is_empty() {
            return;
        }
        let mut minutes = std::mem::take(&mut self.minutes);
        minutes.sort_by_key(|(k, _)| *k);
        let last = minutes.last().map_or(1, |(k, _)| *k).max(1);
        let times = self.bits.as_ref().and_then(|b| b.times.or(b.rounds));
        let long = self.block.duration_s;
        let part = self.part_mut();
        part.items.extend(minutes.into_iter().map(|(_, i)| i));
        if part.format.is_none() || matches!(part.format, Some(Format::Rounds { .. })) {
            // minutes are named, so every minute is a cycle
            let n = times.map(|t| t.saturating_mul(last)).or(long.map(|s| s / 60)).unwrap_or(last);
            part.format = Some(Format::EveryAlternating { seconds: 60, n: n.clamp(1, 600) });
        }
        if let Some(Format::Every { seconds, n }) = part.format {
            part.format = Some(Format::EveryAlternating { seconds, n });
        }
    }

    /// Fills in what a part leaves open: its clock, counts of windows, reps that rise.
    pub fn close_part(&mut self, several: bool, problems: &mut Vec<Problem>) {
        self.late_length(problems);
        self.sort_minutes();
        self.numbered_lines();
        self.take_levels(problems);
        let workout = self.block.kind == BlockKind::Workout;
        let relaxed = matches!(self.block.kind, BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Skill);
        let persons = self.persons;
        let rise = self.rise_all.take();
        let rising = self.bits.as_ref().and_then(|b| b.rising);
        self.rounds_of_one(problems);
        self.usual_clock(several);
        let part = self.part_mut();
        if let Some((first, step)) = rising {
            rise_from(part, first, step);
        }
        let open = part.format.as_ref().is_some_and(Format::open_counts);
        let last = part.items.len();
        let filled = matches!(part.format, Some(Format::Intervals { .. })) && last > 1;
        if workout {
            timed_stations(part);
        }
        let alone = matches!(part.format, Some(Format::Amrap { .. })) && last == 1;
        if persons > 0 || alone || matches!(part.format, Some(Format::EveryAlternating { .. })) {
            open_counts(part);
        }
        let counted = stations_counted(part);
        let schemed = matches!(&part.format, Some(Format::Scheme { .. }))
            || matches!(&part.format, Some(Format::Quality { scheme, .. }) if !scheme.is_empty());
        if !relaxed && !schemed && !open {
            uncounted(part, filled, problems);
        }
        for (at, item) in part.items.iter_mut().enumerate() {
            if let Item::Move(m) = item {
                if filled && at + 1 == last && m.count.is_none() {
                    m.count = Some(Count::Max);
                }
                if open && (m.count.is_none() || counted) {
                    m.count = Some(Count::Max);
                }
                if m.rise.is_none() && m.unit == Unit::Reps {
                    m.rise = rise;
                }
            }
        }
        let list = part.clone();
        self.block.parts.extend(std::mem::take(&mut self.again).into_iter().map(|[rest_s, seconds]| Part {
            rest_s,
            format: Some(Format::Amrap { seconds }),
            ..list.clone()
        }));
    }

    /// What the levels of the part say; the highest may bring its clock.
    fn take_levels(&mut self, problems: &mut Vec<Problem>) {
        let levels = std::mem::take(&mut self.levels);
        let clocked = levels.iter().filter(|l| l.bits.is_some()).max_by_key(|l| l.rank);
        if let (None, Some(bits)) = (&self.bits, clocked.and_then(|l| l.bits.clone())) {
            self.bits = Some(bits);
            self.late_length(problems);
        }
        super::levels::apply(levels, self.part_mut());
    }

    /// `4 x 500 m row, rest 1:00` and nothing else: rounds of it. Without a rest it is asked.
    fn rounds_of_one(&mut self, problems: &mut Vec<Problem>) {
        let Some((n, line, from, to)) = self.repeated.take() else { return };
        let workout = self.block.kind == BlockKind::Workout;
        let rests = self.between.is_some() || self.rests_freely;
        let part = self.part_mut();
        let rests = rests || matches!(part.items.as_slice(), [_, Item::Rest { .. }]);
        let open = matches!(part.format, None | Some(Format::Chipper));
        let [Item::Move(m), ..] = part.items.as_mut_slice() else { return };
        if !workout || !open || !part.extras.is_empty() {
            return;
        }
        let times = f64::from(n);
        let each = match &m.count {
            Some(Count::Each(v)) => Count::Each(v / times),
            Some(Count::ByStandard(v)) => Count::ByStandard(v.map(|x| x / times)),
            _ => return,
        };
        let alone = part.items.len() == 1;
        if rests && part.moves().take(2).count() == 1 {
            if let Some(Item::Move(m)) = part.items.first_mut() {
                m.count = Some(each);
            }
            part.format = Some(Format::Rounds { n });
        } else if alone {
            let text = line.text.get(from..to).unwrap_or_default();
            let message = format!("I read “{text}” in one go. Is there rest between?");
            let mut p = problem(&line, from, to, Severity::Warning, message);
            p.suggestions = vec![format!("{text}, rest 2:00")];
            problems.push(p);
        }
    }

    /// The rest between rounds, and the clock of a part that says none.
    fn usual_clock(&mut self, several: bool) {
        let scored = self.block.cap_s.is_some() || self.block.target.is_some();
        let workout = self.block.kind == BlockKind::Workout;
        let quality = matches!(self.block.format(), Some(Format::Quality { .. }));
        let windows = self.bits.as_ref().is_some_and(Bits::windowed);
        let sets = !self.block.lifts.is_empty();
        let between = self.between.take().filter(|_| !windows && !sets);
        let part = self.part_mut();
        part.items.extend(between.map(|seconds| Item::Rest { seconds }));
        if part.format.is_some() || part.moves().next().is_none() {
            return;
        }
        let schemed = part.moves().any(|m| matches!(m.count, Some(Count::Scheme(_))));
        part.format = Some(if (scored && !quality) || (workout && (several && !quality || schemed)) {
            Format::Chipper
        } else {
            Format::Quality { rounds: 1, scheme: Vec::new() }
        });
    }

    /// A clock that still lacks its length is said at its place.
    fn late_length(&mut self, problems: &mut Vec<Problem>) {
        if self.set_clock().is_ok() {
            return;
        }
        let Some((line, from, to)) = &self.clock else { return };
        let message = "This clock needs its length. Write, say, emom 12, amrap 12:00 or intervals 3:00 on / 1:00 off x 5.";
        let mut p = problem(line, *from, *to, Severity::Error, message);
        let word = line.text.get(*from..*to).unwrap_or_default().trim_end_matches([':', ' ']);
        if self.bits.as_ref().is_some_and(|b| b.amrap || b.every.is_some()) {
            p.suggestions = [8, 12, 16].iter().map(|n| format!("{word} {n} min")).collect();
        }
        problems.push(p);
    }

    /// Lines numbered from 1 below `EMOM 12` are one a minute.
    fn numbered_lines(&mut self) {
        let (numbered, part) = (self.numbered, self.part_mut());
        let lines = part.items.len() as u32;
        if let Some(Format::Every { seconds, n }) = part.format
            && numbered == lines
            && lines > 1
        {
            part.format = Some(Format::EveryAlternating { seconds, n });
        }
        self.numbered = 0;
    }

    /// Minutes in all that a clock's line gives must be those of its windows.
    fn adds_up(&self, problems: &mut Vec<Problem>) {
        let Some((said, line, from, to)) = &self.said_length else { return };
        let Some(sum) = self.block.clock_s() else { return };
        let off = match self.block.parts.last().and_then(|p| p.format.as_ref()) {
            Some(
                Format::Intervals { off, .. } | Format::Stations { off, .. } | Format::OnOff { off, .. },
            ) => *off,
            _ => 0,
        };
        if *said == sum || *said == sum + off {
            return;
        }
        let clock = |s: u32| crate::units::clock(f64::from(s));
        let with = if off > 0 { format!(", {} with the last rest", clock(sum + off)) } else { String::new() };
        let message = format!(
            "The minutes do not add up: the clock on this line comes to {}{with}, not {}.",
            clock(sum),
            clock(*said)
        );
        problems.push(problem(line, *from, *to, Severity::Warning, message));
    }

    /// The block as read.
    pub fn finish(mut self, problems: &mut Vec<Problem>) -> Block {
        self.close_part(self.block.parts.len() > 1, problems);
        self.adds_up(problems);
        let parts = &mut self.block.parts;
        if parts.len() > 1 && parts.last().is_some_and(|p| p.format.is_none() && p.extras.is_empty()) {
            parts.pop();
        }
        for part in &self.block.parts {
            own_schemes(part, problems);
        }
        if let (Some(clock), Some(part)) = (&self.clock, self.block.parts.last()) {
            all_in_each_cycle(part, clock, problems);
        }
        for part in &mut self.block.parts {
            for item in &mut part.items {
                if let Item::Move(m) = item {
                    m.load_from = if m.load.is_some() && m.load_from == LoadFrom::Assumed {
                        LoadFrom::Written
                    } else {
                        m.load_from
                    };
                }
            }
        }
        self.block
    }
}

fn moved(i: &Item) -> Option<&MoveLine> {
    match i {
        Item::Move(m) => Some(m),
        Item::Rest { .. } => None,
    }
}
