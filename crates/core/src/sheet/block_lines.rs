//! The lines inside a block, each kind tried in turn by the reader: names, teams, lifts and their sets, maxima of the day,
//! stand-ins without kit, rests, structure, clocks and work.

use super::build_line::read_build;
use super::clean::Line;
use super::draft::{Draft, takes_format};
use super::format::{Clock, read_format};
use super::model::{Block, BlockKind, Format, Item, Named, Team, When};
use super::movement_line::{Around, Outcome, ladder_lines, problem, read_move, split_work};
use super::problem::Severity;
use super::quantity::{TIME, catch, group, pattern, read_clock, read_number};
use super::read::{LineKind, MOST_SUGGESTED, REST, Reader};
use super::strength_line::{add_to, read_by_cycle, read_sets, week};
use super::structure::{Ladder, Said, read_structure, take_team};
use crate::movement::{Found, LoadKind, catalogue};

pattern!(
    VARIANT,
    r"^(?P<what>no\s+(?:barbell|rig|kit|machine|rower|rope)|(?:at\s+)?home)\s*:\s*(?P<line>.+)$"
);
pattern!(
    NO_LENGTH,
    r"^(?:(?:alternating\s+)?(?:emom|amrap|e\d{1,2}mom)|intervals?|stations?)(?:\s+alternating)?$"
);
pattern!(
    CLOCK_REST,
    r"^(?P<head>.+?)\s*[,;:]?\s*(?:\(|with\s+)?(?:rest\s*:?\s*(?P<t>",
    TIME,
    r")|(?P<u>",
    TIME,
    r")\s*(?:of\s+)?rest)\s*(?:(?:between|after|each|every)\b.*)?\)?$"
);
pattern!(ONLY_TIME, r"^(?:in\s+)?", TIME, r"$");
pattern!(WEEK_ONLY, r"^week\s+\d{1,2}\s*(?:of|/)\s*\d{1,2}$");

impl Reader {
    /// A name in quotes on a line of its own, below the heading.
    pub(super) fn quoted_name(&self, line: &Line, draft: &mut Draft) -> bool {
        let name = line.text.strip_prefix('"').and_then(|t| t.strip_suffix('"')).map(str::trim);
        let Some(name) = name.filter(|n| !n.is_empty() && !n.contains('"')) else { return false };
        let free = draft.block.name.is_none() && draft.block.moves().next().is_none();
        if free {
            draft.block.name = Some(name.to_owned());
        }
        free
    }

    /// Pairs and teams, when the rest of the line is a clock or nothing.
    pub(super) fn team(&mut self, line: &Line, draft: &mut Draft) -> Line {
        let Some(said) = take_team(line, draft.block.team) else { return line.clone() };
        let left = &said.rest;
        let clock = !left.text.is_empty() && matches!(read_format(left, draft.block.kind), Clock::Is(..));
        if !left.text.is_empty() && !clock {
            return line.clone();
        }
        let known = draft.block.team.filter(|_| said.unsaid);
        draft.block.team = Some(known.map_or(said.team, |t| Team { size: said.team.size, ..t }));
        if said.unsaid && known.is_none() {
            let message =
                "It is not said how they divide the work. I read that they share the reps of every line.";
            let mut p = problem(line, 0, line.text.len(), Severity::Warning, message.to_owned());
            let who =
                if said.team.size == 2 { "pairs".to_owned() } else { format!("teams of {}", said.team.size) };
            let tail = if left.text.is_empty() { String::new() } else { format!(", {}", left.text) };
            p.suggestions = ["share the reps", "alternate rounds", "one works"]
                .map(|how| format!("{who}, {how}{tail}"))
                .to_vec();
            self.problems.push(p);
        }
        left.clone()
    }

    pub(super) fn week_line(&mut self, line: &Line, block: &mut Block) -> bool {
        if let Some(w) = week(&line.low) {
            block.week = Some(w);
        }
        catch(&WEEK_ONLY, &line.low).is_some()
    }

    /// Sets of a lift, a line that adds to them, or a lift whose sets follow.
    pub(super) fn strength(&mut self, line: &Line, block: &mut Block) -> bool {
        let accessory = block.kind == BlockKind::Accessory && self.even_sets(line);
        let strength = block.kind == BlockKind::Strength || accessory;
        let first = block.first();
        let of_lifts =
            first.format.as_ref().is_none_or(|f| matches!(f, Format::Sets | Format::ClimbingSingles));
        let lifts_fit = first.items.is_empty() && of_lifts && block.parts.len() == 1;
        let percent_sets = || self.sets_of_a_lift(line).is_some_and(|s| s.percent.is_some());
        if !lifts_fit || !(strength || percent_sets()) {
            return false;
        }
        let paced = super::windows::read_windows(&line.low).is_some();
        if paced && (!line.low.starts_with("every") || block.lifts.is_empty()) {
            return false;
        }
        let named = self.lift.take();
        let before = self.problems.len();
        if let Some(sets) =
            read_sets(line, named.as_ref().map(|(n, _)| n), self.sheet.units, &mut self.problems)
        {
            if let Some(first) = block.parts.first_mut() {
                let climbs = sets.climb && block.lifts.is_empty();
                first.format = Some(if climbs { Format::ClimbingSingles } else { Format::Sets });
            }
            block.lifts.push(sets);
            return true;
        }
        self.problems.truncate(before);
        let cycle = strength.then(|| read_by_cycle(line, named.as_ref().map(|(n, _)| n), &mut self.problems));
        if let Some(sets) = cycle.flatten() {
            if let Some(first) = block.parts.first_mut() {
                first.format = Some(Format::Sets);
            }
            block.lifts.push(sets);
            return true;
        }
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
            Some(last) => {
                let said = add_to(line, last, self.sheet.units, &mut self.problems);
                if let (true, [one], Some(first)) = (said, block.lifts.as_slice(), block.parts.first_mut())
                    && one.climb
                {
                    first.format = Some(Format::ClimbingSingles);
                }
                said
            }
            None => false,
        }
    }

    /// A rep maximum of the day.
    pub(super) fn build(&mut self, line: &Line, block: &mut Block) -> bool {
        let empty = block.first().format.as_ref().is_none_or(|f| *f == Format::BuildToMax)
            && block.moves().next().is_none()
            && block.lifts.is_empty();
        if let (Some(last), true) = (block.builds.last_mut(), is_time(&line.low)) {
            last.window_s = read_clock(line.low.trim_start_matches("in "), 60.0).filter(|s| *s > 0);
            return true;
        }
        let Some(build) = empty.then(|| read_build(line, self.lift.as_ref().map(|(n, _)| n))).flatten()
        else {
            return false;
        };
        self.lift = None;
        if let Named::Unknown(words) = &build.movement {
            let mut p = problem(
                line,
                0,
                line.text.len(),
                Severity::Error,
                format!("I do not know the lift “{words}”."),
            );
            if words.is_empty() {
                p.message =
                    "The lift is missing. Write it before the build: back squat build to 5rm in 15:00."
                        .to_owned();
            } else {
                p.length = words.chars().count() as u32;
                p.suggestions =
                    catalogue().nearest(words, 3).iter().map(|m| catalogue().written(&m.id)).collect();
            }
            self.problems.push(p);
        }
        if let Some(first) = block.parts.first_mut() {
            first.format = Some(Format::BuildToMax);
        }
        block.builds.push(build);
        true
    }

    pub(super) fn variant(&mut self, line: &Line, draft: &mut Draft) -> bool {
        if !line.low.contains(':') {
            return false;
        }
        let Some(c) = catch(&VARIANT, &line.low) else { return false };
        let what = group(&c, "what").unwrap_or("").split_whitespace().collect::<Vec<_>>().join(" ");
        let what = if what.ends_with("home") { "home".to_owned() } else { what };
        let around = self.around(draft);
        let body = line.from(c.name("line").map_or(0, |m| m.start()));
        let Outcome::Work(instead) = read_move(&body, &around, &mut self.problems) else { return false };
        let last = draft.last_move();
        match last {
            Some(m) => m.without_kit.push((what, instead)),
            None => {
                let message = "This stands in for a line above it, and there is none. Move it below the line that it replaces.";
                self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message.to_owned()));
            }
        }
        true
    }

    pub(super) fn rest(&mut self, line: &Line, draft: &mut Draft) -> bool {
        if !line.low.contains("rest") {
            return false;
        }
        let Some(c) = catch(&REST, &line.low) else { return false };
        let text = group(&c, "t").or(group(&c, "u")).unwrap_or("");
        // a bare number after rest is seconds from 15 on: nobody rests for 90 minutes
        let bare = if read_number(text).is_some_and(|n| n >= 15.0) { 1.0 } else { 60.0 };
        let seconds = read_clock(text, bare).filter(|s| *s > 0);
        let more = group(&c, "more").or(group(&c, "after")).unwrap_or("").trim();
        let block = &mut draft.block;
        match seconds {
            Some(s) if block.kind == BlockKind::Strength && !block.lifts.is_empty() => {
                if let Some(last) = block.lifts.last_mut() {
                    last.rest_s = Some(s);
                }
            }
            Some(seconds) => draft.push(Item::Rest { seconds }),
            None if more.contains("needed") || more.contains("able") || more.contains("until") => {
                block.notes.push(line.text.clone());
            }
            None if more.is_empty() && draft.window_s().is_some() => {
                let seconds = draft.window_s().unwrap_or(0);
                draft.push(Item::Rest { seconds });
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

    /// Parts, work around the list, minutes, ladders.
    pub(super) fn structure(&mut self, line: &Line, draft: &mut Draft) -> Option<LineKind> {
        if draft.block.kind == BlockKind::Strength && !draft.block.lifts.is_empty() {
            return None;
        }
        let said = read_structure(line, draft.interruptible(), self.sheet.units)?;
        let kind = match &said {
            Said::Then(_) | Said::FirstPart(_) => LineKind::Part,
            Said::Around(..) => LineKind::Around,
            Said::EndOfRound(_) | Said::Minutes(..) => LineKind::Work,
            Said::Ladder(_) => LineKind::Around,
        };
        match said {
            Said::Then(more) => {
                draft.next_part(line.number);
                if let Some(more) = more {
                    self.again(&more, draft);
                }
            }
            Said::FirstPart(more) => {
                if let Some(more) = more {
                    self.again(&more, draft);
                }
            }
            Said::Around(when, body) => self.around_the_list(&body, when, draft),
            Said::EndOfRound(body) => self.work(&body, draft),
            Said::Minutes(minutes, body) => self.minutes(&minutes, &body, draft),
            Said::Ladder(ladder) => {
                if let Some(movement) = ladder.movement.clone() {
                    self.rungs(&ladder, &movement, draft);
                } else {
                    self.ladder = Some((ladder, line.clone()));
                }
            }
        }
        Some(kind)
    }

    /// A line behind `then` is read as a line of its own.
    fn again(&mut self, line: &Line, draft: &mut Draft) {
        let outer = self.block.replace(std::mem::take(draft));
        self.in_block(line);
        if let Some(inner) = std::mem::replace(&mut self.block, outer) {
            *draft = inner;
        }
    }

    fn around_the_list(&mut self, body: &Line, when: When, draft: &mut Draft) {
        // `each round add 2 reps` is more of every line
        let words = super::movement_line::without_count(&body.low);
        if when == When::EachRoundMore && (words.is_empty() || words == ["rep"]) {
            draft.rise_all = read_number(body.low.split_whitespace().next().unwrap_or(""));
            return;
        }
        let around = Around { scheme: false, ..self.around(draft) };
        let before = self.problems.len();
        match read_move(body, &around, &mut self.problems) {
            Outcome::Work(work) => draft.around(when, work),
            Outcome::Prose => {
                self.problems.truncate(before);
                self.note(body, &mut draft.block);
            }
        }
    }

    fn minutes(&mut self, minutes: &[u32], body: &Line, draft: &mut Draft) {
        let before = draft.items_len();
        if !self.rest(body, draft) {
            self.work(body, draft);
        }
        draft.move_to_minutes(before, minutes);
    }

    /// The line that a ladder waits for: its movement.
    pub(super) fn laddered(&mut self, line: &Line, draft: &mut Draft) -> bool {
        let Some((ladder, _)) = self.ladder.take() else { return false };
        self.rungs(&ladder, line, draft);
        true
    }

    fn rungs(&mut self, ladder: &Ladder, movement: &Line, draft: &mut Draft) {
        let around = Around { scheme: true, ..self.around(draft) };
        match read_move(movement, &around, &mut self.problems) {
            Outcome::Work(m) => {
                for rung in ladder_lines(&m, ladder) {
                    draft.push(Item::Move(rung));
                }
            }
            Outcome::Prose => self.note(movement, &mut draft.block),
        }
    }

    fn around(&self, draft: &Draft) -> Around {
        let scheme = match &draft.part().format {
            Some(Format::Scheme { .. }) => true,
            Some(Format::Quality { scheme, .. }) => !scheme.is_empty(),
            Some(f) => f.open_counts(),
            None => false,
        };
        Around {
            units: self.sheet.units,
            scheme,
            relaxed: matches!(draft.block.kind, BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Skill),
            suggest: self.unknown < MOST_SUGGESTED,
        }
    }

    /// The clock of a part, or one line of its work. The draft that comes back may be a new block's.
    pub(super) fn clock_or_work(&mut self, line: &Line, mut draft: Draft) -> (Draft, LineKind) {
        if catch(&NO_LENGTH, line.low.trim_end_matches([':', ' '])).is_some() {
            let message = "This clock needs its length. Write, say, emom 12, amrap 12:00 or intervals 3:00 on / 1:00 off x 5.";
            self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message.to_owned()));
            return (draft, LineKind::Clock);
        }
        let whole = line;
        let (line, between) = rest_after_clock(line, draft.block.kind);
        let line = &line;
        if between.is_some() {
            draft.between = between;
        }
        match read_format(line, draft.block.kind) {
            Clock::Is(format, more) if takes_format(&draft, &format, more.is_some()) => {
                if self.implicit && !draft.block.lifts.is_empty() {
                    self.block = Some(draft);
                    self.close_block();
                    draft = Draft::new(Block::new(BlockKind::Workout, line.number));
                }
                if draft.opens_part(&format) {
                    draft.next_part(line.number);
                }
                draft.set_format(line, format, &mut self.problems);
                if let Some(more) = more {
                    self.work(&more, &mut draft);
                }
                (draft, LineKind::Clock)
            }
            _ => {
                let before = draft.block.notes.len();
                self.work(whole, &mut draft);
                let noted = draft.block.notes.len() > before;
                (draft, if noted { LineKind::Note } else { LineKind::Work })
            }
        }
    }

    /// One line of work, or several with commas between.
    fn work(&mut self, line: &Line, draft: &mut Draft) {
        for piece in split_work(line, self.around(draft).scheme) {
            self.one_work(&piece, draft);
        }
    }

    fn one_work(&mut self, line: &Line, draft: &mut Draft) {
        let around = self.around(draft);
        let before = self.problems.len();
        match read_move(line, &around, &mut self.problems) {
            Outcome::Work(m) => {
                if m.movement.id().is_none() {
                    self.unknown += 1;
                }
                if around.relaxed && m.movement.id().is_none() {
                    self.problems.truncate(before);
                    self.note(line, &mut draft.block);
                } else {
                    draft.push(Item::Move(m));
                }
            }
            Outcome::Prose => {
                // that no movement is near was looked up too
                self.unknown += 1;
                self.problems.truncate(before);
                self.note(line, &mut draft.block);
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
}

/// `3 rounds for time, rest 2:00 between rounds`: the clock, and the rest that lies between its rounds, s.
fn rest_after_clock(line: &Line, kind: BlockKind) -> (Line, Option<u32>) {
    if !line.low.contains("rest") {
        return (line.clone(), None);
    }
    let Some(c) = catch(&CLOCK_REST, &line.low) else { return (line.clone(), None) };
    let head = c.name("head").map_or(0..0, |m| m.range());
    let head = line.slice(head.start, head.end);
    let rest = group(&c, "t").or(group(&c, "u")).and_then(|t| {
        let bare = if read_number(t).is_some_and(|n| n >= 15.0) { 1.0 } else { 60.0 };
        read_clock(t, bare)
    });
    match read_format(&head, kind) {
        Clock::Is(Format::Rounds { .. } | Format::Scheme { .. } | Format::Quality { .. }, None)
            if rest.is_some() =>
        {
            (head, rest)
        }
        _ => (line.clone(), None),
    }
}

/// A barbell lift alone on a line, whose sets follow.
pub(super) fn names_a_lift(line: &Line) -> bool {
    let words: Vec<&str> = line.text.trim_end_matches(':').split_whitespace().collect();
    match catalogue().find(&words, true) {
        Found::Movement { id, words: n, .. } => {
            n == words.len() && catalogue().movement(&id).is_some_and(|m| m.load == LoadKind::Barbell)
        }
        _ => false,
    }
}

/// A line that is a time and nothing else.
fn is_time(low: &str) -> bool {
    catch(&ONLY_TIME, low).is_some()
}
