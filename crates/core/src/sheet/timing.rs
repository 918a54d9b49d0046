//! Times put into their block: its clock, cap, target and length, rests, and where the next part begins.

use super::assemble::Assembler;
use super::clock::Bits;
use super::draft::Draft;
use super::kind::LineKind;
use super::line::Heard;
use super::model::{BlockKind, Format, Item, Score, Target, TargetUnit, When};
use super::problem::Severity;
use super::scan::problem;
use super::statement::{Stated, Statement};
use super::text::Line;

impl Assembler {
    /// `400 m run (buy-in)`: the work before it on the line.
    pub(super) fn behind_work(&mut self, when: When) {
        self.kind = Some(LineKind::Around);
        let Some(d) = &mut self.block else { return };
        if matches!(d.part().items.last(), Some(Item::Move(_)))
            && let Some(Item::Move(work)) = d.part_mut().items.pop()
        {
            d.around(when, work);
        }
    }

    /// Whether the clock of the part stands on this line.
    pub(super) fn clocked_here(&self, line: &Line) -> bool {
        self.block.as_ref().and_then(|d| d.clock.as_ref()).is_some_and(|(l, ..)| l.number == line.number)
    }

    pub(super) fn cap(&mut self, line: &Line, s: &Stated, seconds: u32) {
        let late = self.block.as_ref().and_then(|d| d.block.target).filter(|t| past(t, seconds));
        self.with(LineKind::Keep, |d| d.block.cap_s = Some(seconds).filter(|s| *s > 0).or(d.block.cap_s));
        if late.is_some() {
            self.late(line, s, seconds);
        }
    }

    pub(super) fn target(&mut self, line: &Line, s: &Stated, t: Target) {
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

    pub(super) fn score(&mut self, v: &Result<Score, String>) {
        if let Ok(score) = v {
            self.with(LineKind::Score, |d| d.block.score = Some(*score));
        } else {
            self.kind = Some(LineKind::Score);
        }
    }

    pub(super) fn then(&mut self, line: &Line) {
        let Some(mut d) = self.block.take() else { return };
        if d.block.kind == BlockKind::Workout && (d.worked() || d.items_len() > 0) {
            d.next_part(line.number, &mut self.problems);
            self.kind = Some(LineKind::Part);
        } else {
            self.kind = self.kind.or(Some(LineKind::Part));
        }
        self.block = Some(d);
    }

    pub(super) fn length(&mut self, a: u32, b: u32, h: &Heard, s: &Stated) {
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
        } else if d.capped_by_length(&h.said) {
            d.block.cap_s = Some(long).filter(|s| *s > 0);
        } else if d.block.kind == BlockKind::Workout && h.said.len() == 1 && self.kind.is_none() {
            let message = "I did not use this length of time: nothing here is without one. Write cap or rest before it, or put it in parentheses.";
            self.problems.push(problem(&h.row.line, s.from, s.to, Severity::Warning, message));
        }
        self.kind = self.kind.or(Some(LineKind::Keep));
    }

    pub(super) fn rest(&mut self, line: &Line, s: &Stated, r: super::atom::RestSaid) {
        self.kind = self.kind.or(Some(LineKind::Rest));
        let minutes = std::mem::take(&mut self.place.minutes);
        let Some(d) = &mut self.block else { return };
        let seconds = r.seconds.filter(|s| *s > 0);
        if !d.block.lifts.is_empty() && d.block.kind != BlockKind::Workout {
            if let Some(last) = d.block.lifts.last_mut() {
                last.rest_s = seconds.or(last.rest_s);
            }
            return;
        }
        if r.free {
            d.rests_freely = true;
            d.block.notes.push(line.text.get(s.from..s.to).unwrap_or_default().to_owned());
            self.ratio_of_rest(line, s);
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
            // `min 3: rest`: the minute
            None => match d.window_s().or((!minutes.is_empty()).then_some(60)) {
                Some(seconds) => d.push(Item::Rest { seconds }),
                None if self.place.worked || d.persons > 0 => {}
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

    /// `rest 1:1` has no time that could be planned.
    fn ratio_of_rest(&mut self, line: &Line, s: &Stated) {
        let text = line.text.get(s.from..s.to).unwrap_or_default();
        if self.block_kind() == Some(BlockKind::Workout) && text.contains(|c: char| c.is_ascii_digit()) {
            let message =
                "I keep this rest in words: I cannot plan it without a time. Write, say, rest 2:00.";
            let mut p = problem(line, s.from, s.to, Severity::Warning, message);
            p.suggestions = vec!["rest 2:00".to_owned()];
            self.problems.push(p);
        }
    }

    pub(super) fn clock(&mut self, line: &Line, s: &Stated, bits: &Bits, rest: &[Stated]) {
        if self.lift_on_clock(bits, line, rest) {
            return;
        }
        let counted = matches!(rest.first().map(|r| &r.what), Some(Statement::Work(m, _)) if m.count.is_none() || m.led);
        let Some(mut d) = self.block.take() else { return };
        self.kind = self.kind.or(Some(LineKind::Clock));
        let leads = matches!(rest.first().map(|r| &r.what), Some(Statement::Work(m, _)) if m.count.is_none());
        let begun = self.place.level.as_ref().is_some_and(|l| !l.works.is_empty());
        if let (true, Some(scheme), true) = (begun, &bits.scheme, leads) {
            self.own_scheme = Some(scheme.clone());
            self.block = Some(d);
            return;
        }
        if let Some(level) = &mut self.place.level {
            level.bits.get_or_insert_with(|| bits.clone());
            self.block = Some(d);
            return;
        }
        let alone = *bits == Bits { intervals: true, ..Bits::default() }
            && matches!(rest.first().map(|r| &r.what), Some(Statement::Work(..)));
        if d.persons > 0 || alone {
            self.length_of_waiting(line, s, bits);
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

    /// `P2 AMRAP 5 pull-ups`: who waits for a partner has no length of time.
    fn length_of_waiting(&mut self, line: &Line, s: &Stated, bits: &Bits) {
        if bits.length.is_some() && bits.amrap {
            let text = line.text.get(s.from..s.to).unwrap_or_default();
            let message = format!(
                "I did not use the length of “{text}” here: whoever waits does as much as there is time for. A number that counts work needs a comma or a line of its own."
            );
            self.problems.push(problem(line, s.from, s.to, Severity::Error, message));
        }
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
        // the minutes above `x 5 rounds` come round so often
        let again = d.by_minutes() && bits.only_rounds();
        let before = workout && !again && d.worked() && counts(bits) && !d.bits.as_ref().is_some_and(runs);
        let own = counts(bits) || bits.times.is_some();
        let labelled = self.labelled && workout && d.worked() && own && d.bits.as_ref().is_some_and(runs);
        let apart = before || late || labelled || d.rested() && bits.strong();
        let fits = !apart && joined.join(&more);
        if !fits && d.once_more(bits) {
            return;
        }
        if !fits {
            let easy = matches!(d.block.kind, BlockKind::WarmUp | BlockKind::CoolDown | BlockKind::Accessory);
            let open = d.worked() && (easy || d.bits.is_none());
            if before || labelled || d.rested() || open {
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
}

fn past(t: &Target, cap: u32) -> bool {
    t.unit == TargetUnit::Seconds && t.high.or(t.low).is_some_and(|h| h > f64::from(cap))
}
