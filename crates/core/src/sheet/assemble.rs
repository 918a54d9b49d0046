//! What the lines make together: blocks with their clocks, work, lifts and wishes, from what each line says and what
//! becomes of it.

use super::draft::Draft;
use super::item::Units;
use super::kind::LineKind;
use super::levels::{LevelLine, add};
use super::line::Heard;
use super::model::{Block, BlockKind, Load, MoveLine, Named, Sheet, When, Who};
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
    /// What stands behind a lift named alone.
    pub lift_says: Option<Behind>,
    /// The lift above sets of several levels: theirs, where they name no other.
    pub headed: Option<Named>,
    /// Lifts of a chain behind it.
    pub chain: Vec<String>,
    /// What is missing, said above a list of its own: each line stands in for the next of the list above.
    pub kit_list: Option<(String, usize)>,
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
    pub team_place: Option<(Line, usize, usize)>,
    /// Words before sets that name no lift.
    pub strange: Option<String>,
    /// The line has a letter or a number before it.
    pub labelled: bool,
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
        self.labelled = h.row.label.is_some();
        if act == Act::Message {
            self.message(h, all);
            return;
        }
        if let Act::Open(k) = act {
            self.open(k, h);
        }
        if matches!(act, Act::Open(_))
            || all.iter().any(|s| matches!(s.what, Statement::Clock(_) | Statement::Then))
        {
            self.kit_list = None;
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
        // what stands in brackets among drills is a drill in the programmer's own words
        let aside = line.text.trim().starts_with('(') && line.text.trim().ends_with(')');
        if aside && let Some(d) = self.block.as_mut().filter(|d| d.block.kind == BlockKind::WarmUp) {
            d.block.notes.push(line.text.trim().trim_matches(['(', ')']).to_owned());
            self.lines.push((line.number, LineKind::Note));
            return;
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
        } else if let Some(s) = all.iter().find(|s| !kept && is_work(&s.what)) {
            let text = line.text.get(s.from..s.to).unwrap_or_default();
            let message = format!(
                "I took this as said to the class, though it names “{text}”. If it is work, write it on a line of its own."
            );
            self.problems.push(problem(line, s.from, s.to, Severity::Warning, message));
        } else if among
            && !kept
            && (h.words < 9 && h.talk < 6.0 && !line.text.ends_with(['!', '?']) || clocked(h, all))
        {
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
            Statement::Around(w) => self.around(*w, rest),
            Statement::EndOfRound => self.kind = self.kind.or(Some(LineKind::Around)),
            Statement::Minutes(k) => self.place.minutes.clone_from(k),
            Statement::Person(n) => self.person(*n),
            Statement::Or => self.place.other = Some(Who::Choice),
            Statement::AllLevels => {}
            Statement::Kit(k) => self.kit(k, rest),
            Statement::Level(n) => self.level(*n, line, rest),
            Statement::Scale => self.place.scale = true,
            Statement::Bar(b) => self.bar(b, line),
            Statement::More(b) => self.more(b, line),
            Statement::Ladder(l) => self.take_ladder(l, line),
            Statement::Wrong => {}
            Statement::Words(t) | Statement::Drill(t) => {
                self.with(LineKind::Note, |d| d.block.notes.push(t.clone()))
            }
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

    /// When the work of the line is done: what follows, else what stands before.
    fn around(&mut self, when: When, rest: &[Stated]) {
        if self.place.worked && !rest.iter().any(|s| matches!(s.what, Statement::Work(..))) {
            self.behind_work(when);
        } else {
            self.place.around = Some(when);
        }
    }

    /// What is missing: for the work behind it on the line, else for the list below.
    fn kit(&mut self, what: &str, rest: &[Stated]) {
        if self.place.worked || rest.iter().any(|s| matches!(s.what, Statement::Work(..))) {
            self.place.kit = Some(what.to_owned());
        } else {
            self.kind = Some(LineKind::Variant);
            self.kit_list = Some((what.to_owned(), 0));
        }
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
        if let (Some(p), Some(d)) = (&b.percent, &mut self.block) {
            d.at_percent(p, line.number);
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
    fn more(&mut self, b: &Behind, line: &Line) {
        if self.place.other.is_some() {
            let units = self.units;
            let who = self.place.other.unwrap_or(Who::Choice);
            if let Some(m) = self.block.as_mut().and_then(Draft::last_move)
                && let Some(l) = b.load
            {
                let load = super::item::load(&l, m.movement.id(), units);
                if heavier(&load, m.load.as_ref()) {
                    // `Rx+ 32/24`: nobody is given more than is written unasked
                    let words = format!("heavier: {} {}", crate::units::pair(l.value), units.of(&l).word());
                    m.note = Some(m.note.take().map_or(words.clone(), |n| format!("{n}, {words}")));
                } else {
                    let lighter = MoveLine { load: Some(load), others: Vec::new(), ..m.clone() };
                    add(m, lighter, who);
                }
            }
            return;
        }
        if self.place.level.is_some() {
            if let Some(l) = b.load {
                self.scoped(l, line.number);
            }
            return;
        }
        if let (Some(_), Some(above)) = (&self.lift, &mut self.lift_says) {
            // a weight or a share of it between a lift and its sets
            above.load = b.load.or(above.load);
            above.percent = b.percent.clone().or(above.percent.take());
            above.at = b.at.or(above.at);
            above.tempo = b.tempo.or(above.tempo);
            above.every = b.every.or(above.every);
            above.notes.extend(b.notes.iter().cloned());
            self.kind = Some(LineKind::Sets);
            return;
        }
        let lifts = self.block.as_ref().is_some_and(|d| !d.block.lifts.is_empty());
        if lifts && self.block_kind() != Some(BlockKind::Workout) {
            self.more_of_sets(b, line);
            return;
        }
        if let Some(l) = b.load.filter(|_| self.block_kind() == Some(BlockKind::Workout)) {
            self.kind = self.kind.or(Some(LineKind::Bar));
            self.scoped(l, line.number);
        } else if let Some(r) = b.rise {
            self.with(LineKind::Around, |d| d.rise_all = Some(r));
        }
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
        let words: Vec<&str> = h.unread.iter().filter_map(|(a, b)| negated(&line.text, *a, *b)).collect();
        let drill =
            h.said.iter().any(|s| matches!(s.atom, super::atom::Atom::Note(_) | super::atom::Atom::Drill(_)));
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
        if self.kind == Some(LineKind::Sets)
            && let Some(sets) = all.iter().find(|s| matches!(s.what, Statement::Sets { .. }))
        {
            let behind = h.unread.iter().filter(|(a, _)| *a >= sets.from);
            let words: Vec<&str> = behind.filter_map(|(a, b)| negated(&line.text, *a, *b)).collect();
            self.words_of_sets(line.number, &words);
        }
        let said = self.problems.len() > before;
        let again = |w: &&&str| {
            w.split(|c: char| !c.is_alphabetic())
                .any(|w| matches!(w.to_lowercase().as_str(), "repeat" | "twice" | "again" | "odd" | "even"))
        };
        if let (Some(text), false, false) = (words.iter().find(again), said, quiet) {
            let message =
                format!("I did not use “{text}” on this line. Say it in numbers: x 2, minute 1:, rest 2:00.");
            let at = line.text.find(*text).unwrap_or(0);
            self.problems.push(problem(line, at, at + text.len(), Severity::Warning, message));
            return;
        }
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
        self.waiting_lift_is_lost();
        (self.headed, self.lift_says) = (None, None);
        if let Some(d) = self.block.take() {
            self.undivided(&d);
            self.sheet.blocks.push(d.finish(&mut self.problems));
        }
    }

    fn lost_ladder(&mut self) {
        if let Some((_, line)) = self.ladder.take() {
            let message = "This ladder has no movement. Write it before the ladder or on the next line.";
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
    }
}

/// Whether a weight is more than that of the line.
fn heavier(load: &Load, line: Option<&Load>) -> bool {
    match (load, line) {
        (Load::Kg { kg: [a, b], .. }, Some(Load::Kg { kg: [x, y], .. })) => a > x || b > y,
        _ => false,
    }
}

/// Whether talk holds numbers of a clock: `every round must be under 3 minutes`.
fn clocked(h: &Heard, all: &[Stated]) -> bool {
    let timed =
        |s: &Stated| matches!(s.what, Statement::Clock(_) | Statement::Length(..) | Statement::Rest(_));
    let digits = h.row.line.low.contains(|c: char| c.is_ascii_digit());
    digits && all.iter().any(timed)
}

/// Whether a statement is work that is counted.
pub(super) fn is_work(what: &Statement) -> bool {
    match what {
        Statement::Work(m, _) => m.count.is_some() && (m.movement.id().is_some() || m.unit.is_some()),
        Statement::Sets { lifts, .. } => lifts.iter().any(|l| l.movement.id().is_some()),
        Statement::Build { lift, .. } => lift.is_some(),
        Statement::Drill(t) => t.contains(|c: char| c.is_ascii_digit()),
        _ => false,
    }
}

/// Words before a statement that nothing has read.
fn words_before(h: &Heard, s: &Stated) -> Option<String> {
    h.unread.iter().find(|(_, b)| *b <= s.from && s.from > 0)?;
    let before = h.row.line.text.get(..s.from)?.rsplit('|').next().unwrap_or_default();
    Some(before.trim_matches([' ', ':', ',', '-']).to_owned())
}

/// Words at a place of a line with the "no" before them: without it they would say the opposite.
fn negated(text: &str, from: usize, to: usize) -> Option<&str> {
    let before = text.get(..from)?.trim_end();
    let last = before.rsplit(|c: char| !c.is_alphabetic()).next().unwrap_or_default();
    let no = matches!(last.to_lowercase().as_str(), "no" | "not" | "without" | "never");
    text.get(if no { before.len() - last.len() } else { from }..to)
}
