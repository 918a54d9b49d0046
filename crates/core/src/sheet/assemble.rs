//! What the lines make together: blocks with their clocks, work, lifts and wishes, from what each line says and what
//! becomes of it.

use super::clock::Bits;
use super::draft::Draft;
use super::item::Units;
use super::kind::LineKind;
use super::levels::{LevelLine, add};
use super::line::Heard;
use super::model::{
    Block, BlockKind, Format, Item, MoveLine, Named, Score, Sheet, Target, TargetUnit, Team, TeamMode, When,
    Who,
};
use super::problem::{Problem, Severity};
use super::scan::problem;
use super::segment::Act;
use super::statement::{Behind, Stated, Statement};
use super::text::Line;

/// Reads the statements of all lines into blocks.
#[derive(Default)]
pub(super) struct Assembler {
    pub sheet: Sheet,
    pub problems: Vec<Problem>,
    /// Lines and characters that are too many.
    pub limits: Vec<Problem>,
    pub block: Option<Draft>,
    /// A lift named alone on a line, waiting for its sets.
    pub lift: Option<(Named, Line)>,
    /// A ladder of loads that waits for its movement on the next line.
    pub ladder: Option<(super::atom::LadderSaid, Line)>,
    pub lines: Vec<(u32, LineKind)>,
    pub units: Units,
    /// What the works of this line are.
    pub place: Place,
    /// What kind of line this one is, as far as is known.
    pub kind: Option<LineKind>,
    /// Numbers with dashes that belong to the next work on the line.
    pub own_scheme: Option<Vec<u32>>,
    /// Where the block's team is said.
    team_place: Option<(Line, usize, usize)>,
    /// Words before sets that name no lift.
    pub strange: Option<String>,
    /// The sheet says its unit.
    pub units_said: bool,
}

/// What the works of a line are.
#[derive(Debug, Clone, Default)]
pub(super) struct Place {
    pub around: Option<When>,
    pub minutes: Vec<u32>,
    /// Another form of the work before it on the line, or of the line above.
    pub other: Option<Who>,
    pub kit: Option<String>,
    /// A level that holds for several lines.
    pub level: Option<LevelLine>,
    pub worked: bool,
    /// `scale X to Y`: the first work on the line is what is replaced.
    pub scale: bool,
    pub target: Option<String>,
}

impl Assembler {
    /// One line.
    pub fn line(&mut self, h: &Heard, all: &[Stated], act: Act) {
        let line = &h.row.line;
        self.place = Place::default();
        self.kind = None;
        self.own_scheme = None;
        if act == Act::Message {
            self.message(h, all);
            return;
        }
        if let Act::Open(k) = act {
            self.open(k, h);
        }
        let numbered = h.row.label.is_some_and(|l| l.letter.is_none() && l.number.is_some());
        let before = self.problems.len();
        for (i, s) in all.iter().enumerate() {
            let rest = all.get(i + 1..).unwrap_or_default();
            self.statement(h, s, rest);
        }
        if let Some(level) = self.place.level.take()
            && let Some(d) = &mut self.block
        {
            d.levels.push(level);
        }
        if numbered
            && self.place.worked
            && let Some(d) = &mut self.block
        {
            d.numbered += 1;
        }
        self.bracketed(h);
        self.leftover(h, all, before);
        let kind = self.kind.unwrap_or(if all.is_empty() { LineKind::Note } else { LineKind::Keep });
        self.lines.push((
            line.number,
            if matches!(act, Act::Open(_)) && all.iter().any(|s| matches!(s.what, Statement::Head(..))) {
                LineKind::Heading
            } else {
                kind
            },
        ));
    }

    /// `# nap 10:00`: a heading of a kind that nobody knows.
    pub fn strange_kind(&mut self, h: &Heard) {
        self.close_block();
        let line = &h.row.line;
        let message = "I do not know this kind of block. Write # warm-up, # strength, # skill, # workout, # accessory or # cool-down; I read it as a workout.";
        let hashes = usize::from(h.row.hashes);
        let mut p = problem(line, 0, line.text.len(), Severity::Error, message);
        p.column = p.column.saturating_sub(hashes as u32 + 1).max(1);
        p.length += hashes as u32 + 1;
        p.suggestions = ["# workout", "# strength", "# accessory"].map(str::to_owned).to_vec();
        self.problems.push(p);
        let mut block = Block::new(BlockKind::Workout, line.number);
        block.name = Some(line.text.trim_matches(['"', ' ']).chars().take(60).collect::<String>())
            .filter(|n| !n.is_empty());
        self.block = Some(Draft::new(block));
        self.lines.push((line.number, LineKind::Heading));
    }

    fn open(&mut self, k: BlockKind, h: &Heard) {
        self.close_block();
        let mut block = Block::new(k, h.row.line.number);
        block.name = h.name.clone();
        self.block = Some(Draft::new(block));
        self.problems.extend(h.quotes.clone());
    }

    /// Talk keeps what it says of caps and targets.
    fn message(&mut self, h: &Heard, all: &[Stated]) {
        let line = &h.row.line;
        let mut kept = false;
        if let (Some(name), Some(d), 0) = (&h.name, &mut self.block, h.words)
            && d.block.name.is_none()
            && !d.worked()
        {
            d.block.name = Some(name.clone());
            self.lines.push((line.number, LineKind::Keep));
            return;
        }
        if let Some(d) = &mut self.block
            && d.block.kind == BlockKind::Workout
        {
            for s in all {
                match &s.what {
                    Statement::Target(t) if h.talk < 30.0 => {
                        d.block.target = d.block.target.or(Some(*t));
                        kept = true;
                    }
                    Statement::Cap(v) if h.talk < 12.0 && d.block.cap_s.is_none() => {
                        d.block.cap_s = Some(*v).filter(|s| *s > 0);
                        kept = true;
                    }
                    Statement::Score(Ok(score)) => {
                        d.block.score = d.block.score.or(Some(*score));
                        kept = true;
                    }
                    _ => {}
                }
            }
        }
        // a few words among the work may be work that is not known
        let among = self
            .block
            .as_ref()
            .is_some_and(|d| d.block.kind == BlockKind::Workout && d.part().format.is_some());
        let named = all.iter().any(|s| matches!(&s.what, Statement::Work(m, _) if m.movement.id().is_some()));
        if among && named && !h.numbers.is_empty() && h.talk < 4.0 {
            let message = "I could not read this line of work. Write the count before the movement, or put // before the line.";
            self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message));
        } else if among && !kept && h.words < 9 && h.talk < 6.0 && !line.text.ends_with(['!', '?']) {
            let message = "I took this as said to the class: it names no work that I know.";
            self.problems.push(problem(line, 0, line.text.len(), Severity::Warning, message));
        }
        self.lines.push((line.number, if kept { LineKind::Keep } else { LineKind::Message }));
        self.sheet.messages.push(line.text.clone());
    }

    fn statement(&mut self, h: &Heard, s: &Stated, rest: &[Stated]) {
        let line = &h.row.line;
        if self.ladder.is_some() && !matches!(s.what, Statement::Work(..)) {
            self.lost_ladder();
        }
        let relaxed = self.relaxed();
        if !(relaxed && matches!(s.what, Statement::Work(..))) {
            self.problems.extend(s.problems.iter().cloned());
        }
        match &s.what {
            Statement::Head(..) => self.kind = Some(LineKind::Heading),
            Statement::Cap(v) => self.cap(line, s, *v),
            Statement::Target(t) => self.target(line, s, *t),
            Statement::Score(v) => self.score(v),
            Statement::Wish(w) => self.with(LineKind::Keep, |d| d.block.wishes.push(w.clone())),
            Statement::Week(w) => self.with(LineKind::Week, |d| d.block.week = Some(*w)),
            Statement::Team { size, mode } => {
                self.team_place =
                    Some((line.clone(), s.from, s.to)).filter(|_| size.is_some()).or(self.team_place.take());
                self.team(*size, *mode);
            }
            Statement::Clock(bits) => self.clock(line, s, bits, rest),
            Statement::Length(a, b) => self.length(*a, *b, h, s),
            Statement::Rest(r) => self.rest(line, s, *r),
            Statement::Then
                if self.place.worked
                    && !self.clocked_here(line)
                    && !matches!(rest.first().map(|r| &r.what), Some(Statement::Clock(_))) => {}
            Statement::Then => self.then(line),
            Statement::Around(w)
                if self.place.worked && !rest.iter().any(|s| matches!(s.what, Statement::Work(..))) =>
            {
                self.behind_work(*w);
            }
            Statement::Around(w) => self.place.around = Some(*w),
            Statement::EndOfRound => self.kind = self.kind.or(Some(LineKind::Around)),
            Statement::Minutes(k) => self.place.minutes.clone_from(k),
            Statement::Person(n) => self.person(*n),
            Statement::Or => self.place.other = Some(Who::Choice),
            Statement::AllLevels => {}
            Statement::Kit(k) => self.place.kit = Some(k.clone()),
            Statement::Level(n) => self.level(*n, line, rest),
            Statement::Scale => self.place.scale = true,
            Statement::Bar(b) => self.bar(b, line),
            Statement::More(b) => self.more(b, line, s),
            Statement::Ladder(l) => self.take_ladder(l, line, rest),
            Statement::Wrong => {}
            Statement::Words(t) => self.with(LineKind::Note, |d| d.block.notes.push(t.clone())),
            Statement::Build { lift, reps, window, no_misses } => {
                self.build(line, lift.as_ref(), *reps, *window, *no_misses)
            }
            Statement::Sets { lifts, sets, behind, scheme } => {
                self.strange = words_before(h, s).filter(|_| lifts.is_empty());
                self.sets(line, s, lifts, sets, behind, *scheme);
            }
            Statement::Work(m, b) => self.work(line, s, m, b, rest),
        }
    }

    /// `400 m run (buy-in)`: the work before it on the line.
    fn behind_work(&mut self, when: When) {
        self.kind = Some(LineKind::Around);
        let Some(d) = &mut self.block else { return };
        if matches!(d.part().items.last(), Some(Item::Move(_)))
            && let Some(Item::Move(work)) = d.part_mut().items.pop()
        {
            d.around(when, work);
        }
    }

    /// Whether the clock of the part stands on this line.
    fn clocked_here(&self, line: &Line) -> bool {
        self.block.as_ref().and_then(|d| d.clock.as_ref()).is_some_and(|(l, ..)| l.number == line.number)
    }

    pub fn with(&mut self, kind: LineKind, f: impl FnOnce(&mut Draft)) {
        self.kind = self.kind.or(Some(kind));
        if let Some(d) = &mut self.block {
            f(d);
        }
    }

    pub fn block_kind(&self) -> Option<BlockKind> {
        self.block.as_ref().map(|d| d.block.kind)
    }

    /// Drills and prose are welcome here.
    pub fn relaxed(&self) -> bool {
        matches!(self.block_kind(), Some(BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Skill))
    }

    fn cap(&mut self, line: &Line, s: &Stated, seconds: u32) {
        let late = self.block.as_ref().and_then(|d| d.block.target).filter(|t| past(t, seconds));
        self.with(LineKind::Keep, |d| d.block.cap_s = Some(seconds).filter(|s| *s > 0).or(d.block.cap_s));
        if late.is_some() {
            self.late(line, s, seconds);
        }
    }

    fn target(&mut self, line: &Line, s: &Stated, t: Target) {
        let cap = self.block.as_ref().and_then(|d| d.block.cap_s);
        self.with(LineKind::Keep, |d| d.block.target = Some(t));
        if let Some(cap) = cap.filter(|c| past(&t, *c)) {
            self.late(line, s, cap);
        }
    }

    fn late(&mut self, line: &Line, s: &Stated, cap: u32) {
        let message = format!(
            "The target ends after the cap of {}. Raise the cap or lower the target.",
            crate::units::clock(f64::from(cap))
        );
        self.problems.push(problem(line, s.from, s.to, Severity::Error, message));
    }

    fn score(&mut self, v: &Result<Score, String>) {
        if let Ok(score) = v {
            self.with(LineKind::Score, |d| d.block.score = Some(*score));
        } else {
            self.kind = Some(LineKind::Score);
        }
    }

    fn team(&mut self, size: Option<u32>, mode: Option<TeamMode>) {
        let fits = self.block.as_ref().is_some_and(|d| d.block.team.is_some()) || size.is_some();
        if !fits {
            return;
        }
        self.with(LineKind::Team, |d| {
            let known = d.block.team;
            let size = size.or(known.map(|t| t.size)).unwrap_or(2).clamp(2, 6);
            let mode = mode.or(known.map(|t| t.mode)).unwrap_or(TeamMode::Share);
            d.block.team = Some(Team { size, mode });
        });
        if mode.is_some() {
            self.divided();
        }
    }

    fn divided(&mut self) {
        if let Some(d) = &mut self.block {
            d.persons |= 0x100;
        }
    }

    fn person(&mut self, n: u32) {
        if let Some(d) = &mut self.block {
            let size = n.max(2);
            let team = d.block.team.get_or_insert(Team { size, mode: TeamMode::Alternate });
            team.size = team.size.max(size);
            d.persons = (d.persons | 0x100) + 1;
        }
        self.kind = self.kind.or(Some(LineKind::Work));
    }

    fn then(&mut self, line: &Line) {
        let Some(mut d) = self.block.take() else { return };
        if d.block.kind == BlockKind::Workout && (d.worked() || d.items_len() > 0) {
            d.next_part(line.number, &mut self.problems);
            self.kind = Some(LineKind::Part);
        } else {
            self.kind = self.kind.or(Some(LineKind::Part));
        }
        self.block = Some(d);
    }

    fn level(&mut self, n: u32, line: &Line, rest: &[Stated]) {
        let several = rest.iter().any(|s| matches!(s.what, Statement::Level(_)));
        if self.place.worked {
            self.place.other = Some(Who::Level(n.min(2) as u8));
            return;
        }
        if several {
            // `L3: ... / L2: ...`: the first on the line is the line
            return;
        }
        self.kind = Some(LineKind::Level);
        self.place.level =
            Some(LevelLine { rank: n, line: line.number, units: self.units, ..LevelLine::default() });
    }

    /// A weight for several lines: of the block, kept until its lines are known.
    fn bar(&mut self, b: &Behind, line: &Line) {
        self.kind = self.kind.or(Some(LineKind::Bar));
        if let Some(l) = b.load {
            self.scoped(l, line.number);
        }
    }

    fn scoped(&mut self, l: super::atom::LoadSaid, line: u32) {
        let units = self.units;
        if let Some(level) = &mut self.place.level {
            level.loads.push(l);
        } else if let Some(d) = &mut self.block {
            d.levels.push(LevelLine { rank: 3, loads: vec![l], line, units, ..LevelLine::default() });
        }
    }

    /// Loads, percentages and rests without a movement on the line.
    fn more(&mut self, b: &Behind, line: &Line, s: &Stated) {
        if self.place.other.is_some() {
            let units = self.units;
            let who = self.place.other.unwrap_or(Who::Choice);
            if let Some(m) = self.block.as_mut().and_then(Draft::last_move)
                && let Some(l) = b.load
            {
                let lighter = MoveLine {
                    load: Some(super::item::load(&l, m.movement.id(), units)),
                    others: Vec::new(),
                    ..m.clone()
                };
                add(m, lighter, who);
            }
            return;
        }
        if self.place.level.is_some() {
            if let Some(l) = b.load {
                self.scoped(l, line.number);
            }
            return;
        }
        let lifts = self.block.as_ref().is_some_and(|d| !d.block.lifts.is_empty());
        if lifts && self.block_kind() != Some(BlockKind::Workout) {
            self.more_of_sets(b, line, s);
            return;
        }
        if let Some(l) = b.load.filter(|_| self.block_kind() == Some(BlockKind::Workout)) {
            self.kind = self.kind.or(Some(LineKind::Bar));
            self.scoped(l, line.number);
        } else if let Some(r) = b.rise {
            self.with(LineKind::Around, |d| d.rise_all = Some(r));
        }
    }

    fn length(&mut self, a: u32, b: u32, h: &Heard, s: &Stated) {
        let line = h.row.line.number;
        let Some(d) = &mut self.block else { return };
        let lacks =
            d.bits.as_ref().is_some_and(|x| x.amrap || x.every.is_some()) && d.part().format.is_none();
        if lacks {
            if let Some(bits) = &mut d.bits {
                bits.length = Some(b);
            }
            let _ = d.set_clock();
            self.kind = self.kind.or(Some(LineKind::Clock));
            return;
        }
        if d.clock.as_ref().is_some_and(|(l, ..)| l.number == line) && d.part().clock_s().is_some() {
            d.said_length = Some((b, h.row.line.clone(), s.from, s.to));
            return;
        }
        if let Some(build) = d.block.builds.last_mut()
            && build.window_s.is_none()
        {
            build.window_s = Some(b).filter(|s| *s > 0);
            self.kind = self.kind.or(Some(LineKind::Build));
            return;
        }
        // `0-10 Warm-up`: from minute to minute of the class
        let from_minute =
            a != b && h.said.first().is_some_and(|s| matches!(s.atom, super::atom::Atom::Length(..)));
        let long = if from_minute && a < b { b - a } else { b };
        if d.block.line == line && d.block.duration_s.is_none()
            || !d.worked() && d.block.lifts.is_empty() && d.block.duration_s.is_none()
        {
            d.block.duration_s = Some(long).filter(|s| *s > 0);
        }
        self.kind = self.kind.or(Some(LineKind::Keep));
    }

    fn rest(&mut self, line: &Line, s: &Stated, r: super::atom::RestSaid) {
        self.kind = self.kind.or(Some(LineKind::Rest));
        let minutes = std::mem::take(&mut self.place.minutes);
        let Some(d) = &mut self.block else { return };
        let seconds = r
            .seconds
            .filter(|s| *s > 0)
            .or(Some(60).filter(|_| !minutes.is_empty() && d.window_s().is_none()));
        if !d.block.lifts.is_empty() && d.block.kind != BlockKind::Workout {
            if let Some(last) = d.block.lifts.last_mut() {
                last.rest_s = seconds.or(last.rest_s);
            }
            return;
        }
        if r.free {
            d.block.notes.push(line.text.get(s.from..s.to).unwrap_or_default().to_owned());
            return;
        }
        let before = d.items_len();
        match seconds {
            // a rest on the clock's own line, or between rounds
            Some(t)
                if r.between
                    || (!d.worked()
                        && d.bits.is_some()
                        && d.clock.as_ref().is_some_and(|(l, ..)| l.number == line.number)) =>
            {
                let listed = d.worked() && d.clock.as_ref().is_none_or(|(l, ..)| l.number != line.number);
                let windows = d.bits.as_ref().is_some_and(Bits::windowed);
                if windows {
                    if let Some(bits) = &mut d.bits {
                        bits.off = bits.off.or(Some(t));
                    }
                    let _ = d.set_clock();
                } else if listed {
                    d.push(Item::Rest { seconds: t });
                } else {
                    d.between = Some(t);
                    let _ = d.set_clock();
                }
            }
            Some(seconds) => d.push(Item::Rest { seconds }),
            None => match d.window_s() {
                Some(seconds) => d.push(Item::Rest { seconds }),
                None if self.place.worked || d.persons & 0xff > 0 => {}
                None => {
                    let message = "A rest needs a time. Write, say, rest 1:00.";
                    let mut p = problem(line, s.from, s.to, Severity::Error, message);
                    p.suggestions = vec!["rest 1:00".to_owned(), "rest as needed".to_owned()];
                    self.problems.push(p);
                }
            },
        }
        self.place.worked = true;
        if !minutes.is_empty()
            && let Some(d) = &mut self.block
        {
            d.move_to_minutes(before, &minutes);
        }
    }

    fn clock(&mut self, line: &Line, s: &Stated, bits: &Bits, rest: &[Stated]) {
        let counted = matches!(rest.first().map(|r| &r.what), Some(Statement::Work(m, _)) if m.count.is_none() || m.led);
        let Some(mut d) = self.block.take() else { return };
        self.kind = self.kind.or(Some(LineKind::Clock));
        if let Some(level) = &mut self.place.level {
            level.bits.get_or_insert_with(|| bits.clone());
            self.block = Some(d);
            return;
        }
        let alone = *bits == Bits { intervals: true, ..Bits::default() }
            && matches!(rest.first().map(|r| &r.what), Some(Statement::Work(..)));
        if d.persons & 0xff > 0 || alone {
            self.block = Some(d);
            return;
        }
        // `every minute: 5 burpees` inside work on a clock interrupts it
        let goes = bits.every.is_some() && bits.times.is_none() && !bits.failure;
        if goes && bits.length.is_none() && d.interruptible() && counted {
            self.place.around =
                Some(When::OnTheClock { every_s: bits.every.unwrap_or(60), from_zero: false });
            self.kind = Some(LineKind::Around);
            self.block = Some(d);
            return;
        }
        // `20-18-16 wall balls` inside a list is a line with numbers of its own
        let own = bits.scheme.is_some()
            && !bits.for_time
            && bits.rounds.is_none()
            && (d.worked()
                || d.part().format.is_some()
                    && !matches!(d.part().format, Some(Format::Chipper | Format::Quality { rounds: 1, .. })));
        if own
            && matches!(rest.first().map(|r| &r.what), Some(Statement::Work(m, _)) if m.count.is_none())
            && !d.rested()
        {
            self.place.minutes.clear();
            self.own_scheme = bits.scheme.clone();
            self.block = Some(d);
            return;
        }
        if d.block.kind == BlockKind::Strength && !d.block.lifts.is_empty() {
            if let (Some(e), Some(last)) = (bits.every, d.block.lifts.last_mut()) {
                last.every_s = Some(e);
            }
            self.block = Some(d);
            return;
        }
        self.join(line, s, bits, &mut d);
        self.block = Some(d);
    }

    fn join(&mut self, line: &Line, s: &Stated, bits: &Bits, d: &mut Draft) {
        let says_how = bits.for_time || bits.quality || bits.alternating || bits.failure;
        let relaxed = matches!(d.block.kind, BlockKind::WarmUp | BlockKind::CoolDown);
        let starts = bits.rounds.is_some() || bits.scheme.is_some() || bits.every.is_some() || bits.amrap;
        let adds = says_how && !starts;
        let late = d.worked() && !adds && !bits.hangs() && (d.bits.is_some() || relaxed);
        let (words, more) = (d.bits.clone(), bits.clone());
        let mut joined = words.unwrap_or_default();
        // work above `3 rounds` is done once, before them
        let counts = |b: &Bits| b.rounds.is_some() || b.scheme.is_some();
        let runs = |b: &Bits| counts(b) || b.amrap || b.every.is_some() || b.on.is_some();
        let workout = d.block.kind == BlockKind::Workout;
        let before = workout && d.worked() && counts(bits) && !d.bits.as_ref().is_some_and(runs);
        let apart = before || late || d.rested() && bits.strong();
        let fits = !apart && joined.join(&more);
        if !fits {
            let easy = matches!(d.block.kind, BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Accessory);
            let open = d.worked() && (easy || d.bits.is_none());
            if before || d.rested() || open {
                d.next_part(line.number, &mut self.problems);
            } else {
                let message = "This block has a clock already. Write then above this line for a new part, or begin a new block with a # heading.";
                self.problems.push(problem(line, s.from, s.to, Severity::Error, message));
                return;
            }
            joined = more;
        }
        d.bits = Some(joined);
        d.clock = Some((line.clone(), s.from, s.to)).filter(|_| bits.strong()).or(d.clock.take());
        if d.clock.is_none() {
            d.clock = Some((line.clone(), s.from, s.to));
        }
        let _ = d.set_clock();
    }

    /// What stands in square brackets may be left out.
    fn bracketed(&mut self, h: &Heard) {
        if h.row.bracketed
            && let Some(m) = self.block.as_mut().and_then(Draft::last_move)
            && m.line == h.row.line.number
        {
            m.optional = true;
        }
    }

    /// Words and numbers that nothing has read.
    fn leftover(&mut self, h: &Heard, all: &[Stated], before: usize) {
        let line = &h.row.line;
        let words: Vec<&str> = h.unread.iter().filter_map(|(a, b)| line.text.get(*a..*b)).collect();
        let drill = h.said.iter().any(|s| matches!(s.atom, super::atom::Atom::Note(_)));
        let only_note = all.is_empty();
        let quiet = self.relaxed();
        if only_note || (quiet && !self.place.worked && self.kind.is_none()) {
            let Some(d) = &mut self.block else { return };
            d.block.notes.push(line.text.clone());
            if !drill {
                let numbers = !h.numbers.is_empty();
                self.kind = Some(if numbers { LineKind::Unread } else { LineKind::Note });
                let message = "I kept this line as a note: it names no work that I know.";
                self.problems.push(problem(line, 0, line.text.len(), Severity::Warning, message));
            }
            return;
        }
        if self.place.worked
            && !words.is_empty()
            && !quiet
            && let Some(m) = self.block.as_mut().and_then(Draft::last_move)
            && m.line == line.number
        {
            let all = [m.note.as_deref().unwrap_or_default(), &words.join(" ")].join(" ").trim().to_owned();
            m.note = Some(all).filter(|n| !n.is_empty());
        }
        let said = self.problems.len() > before;
        if let (Some((a, b)), false, false) = (h.numbers.first(), said, quiet) {
            let last = h.numbers.last().map_or(*b, |l| l.1);
            let text = line.text.get(*a..last).unwrap_or_default();
            let message = format!(
                "I did not use “{text}” on this line. If it matters, write what it counts, or put it in parentheses."
            );
            self.problems.push(problem(line, *a, last, Severity::Warning, message));
        }
    }

    pub fn close_block(&mut self) {
        self.lost_ladder();
        if let Some((_, line)) = self.lift.take() {
            let message = "This lift has no sets. Write, say, 5 x 3 @ 78-82% after it.";
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
        if let Some(d) = self.block.take() {
            self.undivided(&d);
            self.sheet.blocks.push(d.finish(&mut self.problems));
        }
    }

    fn undivided(&mut self, d: &Draft) {
        let Some(team) = d.block.team.filter(|_| d.persons == 0) else { return };
        let Some((line, from, to)) = self.team_place.take() else { return };
        let message =
            "It is not said how they divide the work. I read that they share the reps of every line.";
        let mut p = problem(&line, from, to, Severity::Warning, message);
        let who = if team.size == 2 { "pairs".to_owned() } else { format!("teams of {}", team.size) };
        p.suggestions =
            ["share the reps", "alternate rounds", "one works"].map(|how| format!("{who}, {how}")).to_vec();
        self.problems.push(p);
    }

    fn lost_ladder(&mut self) {
        if let Some((_, line)) = self.ladder.take() {
            let message = "This ladder has no movement. Write it before the ladder or on the next line.";
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
    }
}

/// Words before a statement that nothing has read.
fn words_before(h: &Heard, s: &Stated) -> Option<String> {
    h.unread.iter().find(|(_, b)| *b <= s.from && s.from > 0)?;
    Some(h.row.line.text.get(..s.from)?.trim_matches([' ', ':', ',', '-']).to_owned())
}

fn past(t: &Target, cap: u32) -> bool {
    t.unit == TargetUnit::Seconds && t.high.or(t.low).is_some_and(|h| h > f64::from(cap))
}
