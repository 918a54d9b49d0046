//! Reads a whole sheet: one pass over the lines, each tried as heading, day, clock, wish, rest and work in turn.

use super::clean::{Line, clean};
use super::format::{Clock, read_format};
use super::heading::{read_heading, read_meta};
use super::model::{Block, BlockKind, Format, Item, LiftSets, Named, Sheet};
use super::movement_line::{Around, Outcome, not_yet, problem, read_move};
use super::problem::{Problem, Severity};
use super::quantity::{TIME, catch, group, pattern, read_clock, read_number};
use super::strength_line::{add_to, read_sets, week};
use super::wish_line::{read_wish, take_cap_and_target};
use crate::movement::{Found, LoadKind, catalogue};
use serde::Serialize;

/// Lines that are read; what stands below is reported and left.
pub const MOST_LINES: usize = 10_000;
/// Characters of a line that are read.
const MOST_CHARS: usize = 2_000;
/// Problems that are reported one by one.
const MOST_PROBLEMS: usize = 300;
/// Unknown movements for which near names are looked up: the search is costly.
const MOST_SUGGESTED: u32 = 50;

pattern!(
    REST,
    r"^(?:rest\b\s*:?\s*(?P<t>",
    TIME,
    r")?(?P<more>.*)|(?P<u>",
    TIME,
    r")\s+rest\b(?P<after>.*))$"
);
pattern!(
    VARIANT,
    r"^(?P<what>no\s+(?:barbell|rig|kit|machine|rower|rope)|(?:at\s+)?home)\s*:\s*(?P<line>.+)$"
);
pattern!(WEEK_ONLY, r"^week\s+\d{1,2}\s*(?:of|/)\s*\d{1,2}$");

/// What came of a sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Reading {
    /// All that could be read.
    pub sheet: Sheet,
    /// What could not, or should be looked at; by line and column.
    pub problems: Vec<Problem>,
}

impl Reading {
    /// Whether part of the sheet waits for the coach.
    pub fn has_errors(&self) -> bool {
        self.problems.iter().any(|p| p.severity == Severity::Error)
    }
}

/// Reads a sheet. Never fails: what cannot be read becomes a problem, the rest a session.
///
/// ```
/// let r = lantern_core::sheet::read("# workout cap 12:00\n3 rounds for time\n15 wall balls 9/6 kg");
/// assert!(r.problems.is_empty());
/// assert_eq!(r.sheet.blocks[0].cap_s, Some(720));
/// ```
pub fn read(text: &str) -> Reading {
    let mut reader = Reader::default();
    for (i, raw) in text.split('\n').enumerate() {
        let number = i as u32 + 1;
        if i >= MOST_LINES {
            let message = format!("The sheet has more than {MOST_LINES} lines. I read those above this one.");
            reader.problems.push(Problem {
                line: number,
                column: 1,
                length: 1,
                severity: Severity::Error,
                message,
                suggestions: Vec::new(),
            });
            break;
        }
        reader.raw_line(number, raw);
    }
    reader.close_block();
    reader.finish()
}

#[derive(Default)]
struct Reader {
    sheet: Sheet,
    problems: Vec<Problem>,
    block: Option<Block>,
    /// A lift named alone on a line, waiting for its sets.
    lift: Option<(Named, Line)>,
    /// The block was opened by work, not by a heading.
    implicit: bool,
    unknown: u32,
    content: bool,
}

impl Reader {
    fn raw_line(&mut self, number: u32, raw: &str) {
        let cut = raw.char_indices().nth(MOST_CHARS).map(|(i, _)| i);
        let Some(line) = clean(number, cut.and_then(|i| raw.get(..i)).unwrap_or(raw)) else { return };
        if cut.is_some() {
            let message =
                format!("This line has more than {MOST_CHARS} characters. I read the first {MOST_CHARS}.");
            self.problems.push(problem(&line, 0, 20, Severity::Warning, message));
        }
        self.line(&line);
        self.content = true;
    }

    fn line(&mut self, line: &Line) {
        if let Some((block, more)) = read_heading(line, &mut self.problems) {
            self.close_block();
            self.block = Some(block);
            self.implicit = false;
            if let Some(more) = more {
                self.in_block(&more);
            }
            return;
        }
        if read_meta(line, self.block.is_some(), &mut self.sheet, &mut self.problems) {
            return;
        }
        if self.block.is_none() && !self.opens_block(line) {
            return;
        }
        self.in_block(line);
    }

    /// Without a heading, the first line that is work opens a block; the first line of all may be the title.
    fn opens_block(&mut self, line: &Line) -> bool {
        if !self.content && self.sheet.title.is_none() && is_title(line) {
            self.sheet.title = Some(line.text.trim_matches('"').trim().to_owned());
            return false;
        }
        let kind = if self.sets_of_a_lift(line).is_some() { BlockKind::Strength } else { BlockKind::Workout };
        self.block = Some(Block::new(kind, line.number));
        self.implicit = true;
        true
    }

    fn sets_of_a_lift(&self, line: &Line) -> Option<LiftSets> {
        let mut unheard = Vec::new();
        let named = self.lift.as_ref().map(|(n, _)| n);
        let sets = read_sets(line, named, self.sheet.units, &mut unheard)?;
        let id = sets.movement.id()?;
        let barbell = catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell);
        (barbell && (line.low.contains('x') || line.low.contains("set") || sets.percent.is_some()))
            .then_some(sets)
    }

    fn in_block(&mut self, line: &Line) {
        let Some(mut block) = self.block.take() else { return };
        let line = take_cap_and_target(line, &mut block, &mut self.problems);
        let worded = line.text.trim_matches([',', ';', ':', ' ']);
        let done = worded.is_empty()
            || read_wish(&line, &mut block, &mut self.problems)
            || self.week_line(&line, &mut block)
            || self.strength(&line, &mut block)
            || self.variant(&line, &mut block)
            || self.rest(&line, &mut block);
        if done {
            self.block = Some(block);
            return;
        }
        if let Some(block) = self.clock_or_work(&line, block) {
            self.block = Some(block);
        }
    }

    fn week_line(&mut self, line: &Line, block: &mut Block) -> bool {
        if let Some(w) = week(&line.low) {
            block.week = Some(w);
        }
        catch(&WEEK_ONLY, &line.low).is_some()
    }

    /// Sets of a lift, a line that adds to them, or a lift whose sets follow.
    fn strength(&mut self, line: &Line, block: &mut Block) -> bool {
        let strength = block.kind == BlockKind::Strength;
        let lifts_fit = block.items.is_empty() && block.format.as_ref().is_none_or(|f| *f == Format::Sets);
        let percent_sets = || self.sets_of_a_lift(line).is_some_and(|s| s.percent.is_some());
        if !lifts_fit || !(strength || percent_sets()) {
            return false;
        }
        if let Clock::NotYet(_) = read_format(line, block.kind)
            && (!line.low.starts_with("every") || block.lifts.is_empty())
        {
            return false;
        }
        let named = self.lift.take();
        let before = self.problems.len();
        if let Some(sets) =
            read_sets(line, named.as_ref().map(|(n, _)| n), self.sheet.units, &mut self.problems)
        {
            block.format = Some(Format::Sets);
            block.lifts.push(sets);
            return true;
        }
        self.problems.truncate(before);
        let words: Vec<&str> =
            line.text.trim_end_matches(':').split([' ', ',']).filter(|w| !w.is_empty()).collect();
        if let Found::Movement { id, words: n, .. } = catalogue().find(&words, true)
            && (n == words.len() || week(&line.low).is_some())
            && catalogue().movement(&id).is_some_and(|m| m.load != LoadKind::None)
        {
            self.lift = Some((Named::Known(id), line.clone()));
            return true;
        }
        match block.lifts.last_mut() {
            Some(last) => add_to(line, last, self.sheet.units, &mut self.problems),
            None => false,
        }
    }

    fn variant(&mut self, line: &Line, block: &mut Block) -> bool {
        let Some(c) = catch(&VARIANT, &line.low) else { return false };
        let what = group(&c, "what").unwrap_or("").split_whitespace().collect::<Vec<_>>().join(" ");
        let what = if what.ends_with("home") { "home".to_owned() } else { what };
        let around = self.around(block);
        let body = line.from(c.name("line").map_or(0, |m| m.start()));
        let Outcome::Work(instead) = read_move(&body, &around, &mut self.problems) else { return false };
        let last = block.items.iter_mut().rev().find_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        });
        match last {
            Some(m) => m.without_kit.push((what, instead)),
            None => {
                let message = "This stands in for a line above it, and there is none. Move it below the line that it replaces.";
                self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message.to_owned()));
            }
        }
        true
    }

    fn rest(&mut self, line: &Line, block: &mut Block) -> bool {
        let Some(c) = catch(&REST, &line.low) else { return false };
        let text = group(&c, "t").or(group(&c, "u")).unwrap_or("");
        // a bare number after rest is seconds from 15 on: nobody rests for 90 minutes
        let bare = if read_number(text).is_some_and(|n| n >= 15.0) { 1.0 } else { 60.0 };
        let seconds = read_clock(text, bare).filter(|s| *s > 0);
        let more = group(&c, "more").or(group(&c, "after")).unwrap_or("").trim();
        match seconds {
            Some(s) if block.kind == BlockKind::Strength && !block.lifts.is_empty() => {
                if let Some(last) = block.lifts.last_mut() {
                    last.rest_s = Some(s);
                }
            }
            Some(seconds) => block.items.push(Item::Rest { seconds }),
            None if more.contains("needed") || more.contains("able") || more.contains("until") => {
                block.notes.push(line.text.clone());
            }
            None => {
                let message = "A rest needs a time. Write, say, rest 1:00.".to_owned();
                let mut p = problem(line, 0, line.text.len(), Severity::Error, message);
                p.suggestions = vec!["rest 1:00".to_owned(), "rest as needed".to_owned()];
                self.problems.push(p);
            }
        }
        true
    }

    fn around(&self, block: &Block) -> Around {
        let scheme = match &block.format {
            Some(Format::Scheme { .. } | Format::Unread) => true,
            Some(Format::Quality { scheme, .. }) => !scheme.is_empty(),
            _ => false,
        };
        Around {
            units: self.sheet.units,
            scheme,
            relaxed: matches!(block.kind, BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Skill),
            suggest: self.unknown < MOST_SUGGESTED,
        }
    }

    /// The clock of the block, or one line of its work. `None`: the line opened another block.
    fn clock_or_work(&mut self, line: &Line, mut block: Block) -> Option<Block> {
        match read_format(line, block.kind) {
            Clock::NotYet(what) => {
                // one message says it; what follows inside the same structure would only repeat it
                if block.format != Some(Format::Unread) {
                    self.problems.push(not_yet(line, 0, line.text.len(), what));
                    block.format = Some(Format::Unread);
                }
            }
            Clock::Is(format, more) if takes_format(&block, &format, more.is_some()) => {
                if self.implicit && !block.lifts.is_empty() {
                    self.block = Some(block);
                    self.close_block();
                    block = Block::new(BlockKind::Workout, line.number);
                }
                self.set_format(line, &mut block, format);
                if let Some(more) = more {
                    self.work(&more, &mut block);
                }
            }
            _ => self.work(line, &mut block),
        }
        Some(block)
    }

    fn set_format(&mut self, line: &Line, block: &mut Block, format: Format) {
        let merged = match (block.format.take(), format) {
            (None, f) => f,
            (Some(Format::Unread), _) => Format::Unread,
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
                let message =
                    "This block has a clock already. Begin a new block with a # heading above this line.";
                self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message.to_owned()));
                first
            }
        };
        block.format = Some(merged);
    }

    fn work(&mut self, line: &Line, block: &mut Block) {
        let around = self.around(block);
        let before = self.problems.len();
        match read_move(line, &around, &mut self.problems) {
            Outcome::Work(m) => {
                if m.movement.id().is_none() {
                    self.unknown += 1;
                }
                if around.relaxed && m.movement.id().is_none() {
                    self.problems.truncate(before);
                    self.note(line, block);
                } else {
                    block.items.push(Item::Move(m));
                }
            }
            Outcome::Prose => {
                self.problems.truncate(before);
                self.note(line, block);
            }
        }
    }

    fn note(&mut self, line: &Line, block: &mut Block) {
        block.notes.push(line.text.clone());
        let name = super::movement_line::without_count(&line.low);
        let drill = catalogue().drills.iter().any(|d| crate::movement::canonical_words(&d.name) == name);
        if !drill {
            let message = "I kept this line as a note: it names no work that I know.".to_owned();
            self.problems.push(problem(line, 0, line.text.len(), Severity::Warning, message));
        }
    }

    fn close_block(&mut self) {
        if let Some((_, line)) = self.lift.take() {
            let message = "This lift has no sets. Write, say, 5 x 3 @ 78-82% after it.".to_owned();
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
        let Some(mut block) = self.block.take() else { return };
        if block.format.is_none() && block.moves().next().is_some() {
            let scored = block.cap_s.is_some() || block.target.is_some();
            block.format = Some(if scored {
                Format::Chipper
            } else {
                Format::Quality { rounds: 1, scheme: Vec::new() }
            });
        }
        self.own_schemes(&block);
        self.sheet.blocks.push(block);
    }

    /// A line's own scheme must give a number for every round.
    fn own_schemes(&mut self, block: &Block) {
        for m in block.moves() {
            if let Some(super::model::Count::Scheme(reps)) = &m.count
                && block.rounds() > 1
                && reps.len() != block.rounds() as usize
            {
                self.problems.push(Problem {
                    line: m.line,
                    column: 1,
                    length: 1,
                    severity: Severity::Error,
                    message: format!(
                        "This line has {} numbers and the workout {} rounds. Write one number for each round.",
                        reps.len(),
                        block.rounds()
                    ),
                    suggestions: Vec::new(),
                });
            }
        }
    }

    fn finish(mut self) -> Reading {
        if self.sheet.blocks.is_empty() {
            self.problems.push(Problem {
                line: 1,
                column: 1,
                length: 1,
                severity: Severity::Warning,
                message: "There is no session on this sheet yet. Write, say, 3 rounds for time and a line for each movement.".to_owned(),
                suggestions: Vec::new(),
            });
        }
        self.problems.sort_by_key(|p| (p.line, p.column));
        let more = self.problems.len().saturating_sub(MOST_PROBLEMS);
        if more > 0 {
            // errors must not hide behind warnings
            self.problems.sort_by_key(|p| (p.severity, p.line, p.column));
            self.problems.truncate(MOST_PROBLEMS);
            self.problems.sort_by_key(|p| (p.line, p.column));
            if let Some(last) = self.problems.last().cloned() {
                let message = format!("{more} more problems are not listed. Is this a session sheet?");
                self.problems.push(Problem { message, suggestions: Vec::new(), ..last });
            }
        }
        Reading { sheet: self.sheet, problems: self.problems }
    }
}

/// Whether a clock may still be given at this place of the block: a scheme inside a list belongs to its line.
fn takes_format(block: &Block, format: &Format, more: bool) -> bool {
    let numbers = matches!(format, Format::Scheme { .. } | Format::Quality { .. });
    !(more && numbers && (block.format.is_some() || !block.items.is_empty()))
}

fn is_title(line: &Line) -> bool {
    let words: Vec<&str> = line.text.trim_end_matches(':').split_whitespace().collect();
    let starts_with_number = line.text.starts_with(|c: char| c.is_ascii_digit() || c == ':' || c == '[');
    let movement = match catalogue().find(&words, false) {
        Found::Movement { words: n, .. } => n == words.len(),
        Found::Ask { words: n, .. } => n == words.len(),
        Found::Unknown => false,
    };
    let clock = !matches!(read_format(line, BlockKind::Workout), Clock::No);
    let mut block = Block::new(BlockKind::Workout, 0);
    let mut unheard = Vec::new();
    let rest = take_cap_and_target(line, &mut block, &mut unheard);
    let wish = rest.text != line.text
        || read_wish(line, &mut block, &mut unheard)
        || catch(&REST, &line.low).is_some();
    let sets = read_sets(line, None, super::model::WeightUnit::Kg, &mut unheard)
        .is_some_and(|s| s.movement.id().is_some());
    let max = line.low.starts_with("max ");
    !(starts_with_number || movement || clock || wish || sets || max)
}
