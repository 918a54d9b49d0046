//! Reads a whole sheet: one pass over the lines, each tried as heading, day, wish, lift, structure, rest, clock and work
//! in turn. The kinds of lines inside a block are in `block_lines.rs`, what they make together in `draft.rs`.

use super::block_lines::names_a_lift;
use super::build_line::read_build;
use super::clean::{Line, clean};
use super::draft::Draft;
use super::format::{Clock, read_format};
use super::heading::{read_date, read_heading, read_meta};
use super::model::{Block, BlockKind, LiftSets, Named, Sheet};
use super::movement_line::problem;
use super::problem::{Problem, Severity};
use super::quantity::{TIME, catch, pattern};
use super::strength_line::read_sets;
use super::structure::{Ladder, read_structure, take_team};
use super::wish_line::{read_wish, take_cap_and_target};
use crate::movement::{Found, LoadKind, catalogue};
use serde::Serialize;

/// Lines that are read; what stands below is reported and left.
pub const MOST_LINES: usize = 10_000;
/// Characters of a line that are read.
const MOST_CHARS: usize = 2_000;
/// Problems that are reported one by one.
const MOST_PROBLEMS: usize = 300;
/// Lines for which near names are looked up: the search is costly.
pub(super) const MOST_SUGGESTED: u32 = 20;

pattern!(
    pub(super) REST,
    r"^(?:rest\b\s*:?\s*(?P<t>",
    TIME,
    r")?(?P<more>.*)|(?P<u>",
    TIME,
    r")\s+rest\b(?P<after>.*))$"
);
pattern!(AMOUNT, r"^\d[\d.,]*\s*(?:km|m|miles?|cals?|calories|reps?|min|minutes|s|seconds)\b");

/// What came of a sheet.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Reading {
    /// All that could be read.
    pub sheet: Sheet,
    /// What could not, or should be looked at; by line and column.
    pub problems: Vec<Problem>,
    /// What each written line was read as, in order.
    pub lines: Vec<(u32, LineKind)>,
}

/// What a line of a sheet was read as.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LineKind {
    Title,
    Day,
    Heading,
    Clock,
    Work,
    /// Buy-in, interruption, ladder and the like.
    Around,
    /// A new part.
    Part,
    Team,
    Rest,
    Sets,
    Build,
    Week,
    /// Cap, target and what every version keeps.
    Keep,
    Score,
    /// A line that stands in for the one above without some kit.
    Variant,
    Note,
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
pub(super) struct Reader {
    pub(super) sheet: Sheet,
    pub(super) problems: Vec<Problem>,
    pub(super) block: Option<Draft>,
    /// A lift named alone on a line, waiting for its sets.
    pub(super) lift: Option<(Named, Line)>,
    /// A ladder of loads that waits for its movement on the next line.
    pub(super) ladder: Option<(Ladder, Line)>,
    /// The block was opened by work, not by a heading.
    pub(super) implicit: bool,
    pub(super) unknown: u32,
    pub(super) content: bool,
    pub(super) lines: Vec<(u32, LineKind)>,
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
            self.block = Some(Draft::new(block));
            self.implicit = false;
            if let Some(more) = more {
                self.in_block(&more);
            }
            self.lines.retain(|(n, _)| *n != line.number);
            self.lines.push((line.number, LineKind::Heading));
            return;
        }
        if read_meta(line, self.block.is_some(), &mut self.sheet, &mut self.problems) {
            self.lines.push((line.number, LineKind::Day));
            return;
        }
        if self.block.is_none()
            && self.sheet.date.is_none()
            && let Some(date) = read_date(&line.low)
        {
            self.sheet.date = Some(date);
            self.lines.push((line.number, LineKind::Day));
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
            self.lines.push((line.number, LineKind::Title));
            return false;
        }
        let lifts =
            self.sets_of_a_lift(line).is_some() || read_build(line, None).is_some() || names_a_lift(line);
        let kind = if lifts { BlockKind::Strength } else { BlockKind::Workout };
        self.block = Some(Draft::new(Block::new(kind, line.number)));
        self.implicit = true;
        true
    }

    pub(super) fn sets_of_a_lift(&self, line: &Line) -> Option<LiftSets> {
        let mut unheard = Vec::new();
        let named = self.lift.as_ref().map(|(n, _)| n);
        let sets = read_sets(line, named, self.sheet.units, &mut unheard)?;
        let id = sets.movement.id()?;
        let barbell = catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell);
        (barbell && (line.low.contains('x') || line.low.contains("set") || sets.percent.is_some()))
            .then_some(sets)
    }

    /// Whether a line is so many sets of so many reps of something known: `dumbbell row 3 x 10`.
    pub(super) fn even_sets(&self, line: &Line) -> bool {
        let mut unheard = Vec::new();
        read_sets(line, None, self.sheet.units, &mut unheard)
            .is_some_and(|s| s.movement.id().is_some() && s.reps.len() > 1 && s.even())
    }

    pub(super) fn in_block(&mut self, line: &Line) {
        let Some(mut draft) = self.block.take() else { return };
        let line = take_cap_and_target(line, &mut draft.block, &mut self.problems);
        let had_team = draft.block.team.is_some();
        let line = self.team(&line, &mut draft);
        let worded = line.text.trim_matches([',', ';', ':', ' ']);
        let kind = if worded.is_empty() {
            if draft.block.team.is_some() && !had_team { LineKind::Team } else { LineKind::Keep }
        } else if self.quoted_name(&line, &mut draft) {
            LineKind::Keep
        } else if self.laddered(&line, &mut draft) {
            LineKind::Work
        } else if read_wish(&line, &mut draft.block, &mut self.problems) {
            if line.low.starts_with("score") { LineKind::Score } else { LineKind::Keep }
        } else if self.week_line(&line, &mut draft.block) {
            LineKind::Week
        } else if self.build(&line, &mut draft.block) {
            LineKind::Build
        } else if self.strength(&line, &mut draft.block) {
            LineKind::Sets
        } else if self.variant(&line, &mut draft) {
            LineKind::Variant
        } else if let Some(kind) = self.structure(&line, &mut draft) {
            kind
        } else if self.rest(&line, &mut draft) {
            LineKind::Rest
        } else {
            let kind;
            (draft, kind) = self.clock_or_work(&line, draft);
            kind
        };
        self.lines.push((line.number, kind));
        self.block = Some(draft);
    }

    pub(super) fn close_block(&mut self) {
        if let Some((_, line)) = self.lift.take() {
            let message = "This lift has no sets. Write, say, 5 x 3 @ 78-82% after it.".to_owned();
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
        if let Some((_, line)) = self.ladder.take() {
            let message =
                "This ladder has no movement. Write it before the ladder or on the next line.".to_owned();
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
        if let Some(draft) = self.block.take() {
            self.sheet.blocks.push(draft.finish(&mut self.problems));
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
        Reading { sheet: self.sheet, problems: self.problems, lines: self.lines }
    }
}

fn is_title(line: &Line) -> bool {
    let words: Vec<&str> = line.text.trim_end_matches(':').split_whitespace().collect();
    let starts_with_number = line.text.starts_with(|c: char| c.is_ascii_digit() || c == ':' || c == '[');
    let movement = match catalogue().find(&words, false) {
        // `run 5 km` is work, not a name
        Found::Movement { words: n, .. } => {
            n == words.len()
                || words.get(n..).is_some_and(|w| catch(&AMOUNT, &w.join(" ").to_ascii_lowercase()).is_some())
        }
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
    let built = read_build(line, None).is_some_and(|b| b.movement.id().is_some());
    let structure = read_structure(line, false, super::model::WeightUnit::Kg).is_some()
        || take_team(line, None).is_some_and(|t| {
            t.rest.text.is_empty() || matches!(read_format(&t.rest, BlockKind::Workout), Clock::Is(..))
        });
    let max = line.low.starts_with("max ");
    !(starts_with_number || movement || clock || wish || sets || built || structure || max)
}
