//! Sets of lifts and maxima of the day put into their block.

use super::assemble::Assembler;
use super::atom::{LoadSaid, MoveSaid, SetsSaid};
use super::clock::Bits;
use super::draft::Draft;
use super::item::{item, kilograms};
use super::kind::LineKind;
use super::model::{
    Block, BlockKind, Build, Count, Format, Item, LevelForm, LiftSets, MoveLine, Named, Percent, PercentBase,
    TOP_LEVEL, WordLoad,
};
use super::problem::Severity;
use super::scan::problem;
use super::sets::{MOST_SETS, too_many};
use super::statement::{Behind, Stated, Statement};
use super::text::Line;
use super::work::barbell;
use crate::movement::catalogue;
use crate::units::Unit;

/// `@ 85` behind sets of a bar is a percentage in this range, with a question.
const PERCENT_LIKE: std::ops::RangeInclusive<f64> = 40.0..=100.0;

impl Assembler {
    /// A lift named alone, whose sets follow.
    pub(super) fn names_lift(&mut self, line: &Line, m: &MoveSaid, b: &Behind, rest: &[Stated]) -> bool {
        let Some(id) = m.movement.id().filter(|_| m.count.is_none()) else { return false };
        let alone = !rest.iter().any(|s| matches!(s.what, Statement::Clock(_)));
        if b.by_cycle {
            let sets =
                LiftSets { by_cycle: true, ..LiftSets::of(m.movement.clone(), Vec::new(), line.number) };
            self.push_sets(sets);
            return true;
        }
        let carries = catalogue()
            .movement(id)
            .is_some_and(|m| m.load != crate::movement::LoadKind::None || m.pattern.of_the_arms());
        let open = self.block.as_ref().is_some_and(|d| {
            d.part().format.is_none() || !d.block.lifts.is_empty() || !d.block.builds.is_empty()
        });
        let weighed = b.load.is_some() && self.block_kind() != Some(BlockKind::Strength);
        if !(alone && carries && open && !weighed) {
            return false;
        }
        if m.plus && self.lift.as_ref().is_some_and(|(_, l)| l.number == line.number) {
            self.chain.push(id.to_owned());
            return true;
        }
        self.waiting_lift_is_lost();
        self.kind = Some(LineKind::Sets);
        self.lift = Some((m.movement.clone(), line.clone()));
        self.lift_says = Some(b.clone());
        true
    }

    /// `Clean + front squat + jerk` above `every 2:00 x 7`: one of each, so often.
    pub(super) fn lift_on_clock(&mut self, bits: &Bits, line: &Line, rest: &[Stated]) -> bool {
        // with work of its own on the line the lift above was its heading
        let counted = |s: &Stated| matches!(&s.what, Statement::Work(m, _) if m.count.is_some());
        if rest.iter().any(counted) {
            self.lift = None;
            return false;
        }
        let (Some(every), Some(n), Some((lift, _))) = (bits.every, bits.times, &self.lift) else {
            return false;
        };
        if self.block_kind() != Some(BlockKind::Strength) {
            return false;
        }
        let reps = vec![1; n.clamp(1, MOST_SETS) as usize];
        let mut sets = LiftSets { every_s: Some(every), ..LiftSets::of(lift.clone(), reps, line.number) };
        self.problems.extend(too_many(n, line, 0, line.text.len()));
        sets.chain = std::mem::take(&mut self.chain).into_iter().map(|id| (id, 1)).collect();
        if let Some(above) = self.lift_says.clone() {
            self.fill(&mut sets, &above, line);
            sets.every_s = Some(every);
        }
        self.push_sets(sets);
        true
    }

    pub(super) fn waiting_lift_is_lost(&mut self) {
        self.chain.clear();
        if let Some((_, line)) = self.lift.take() {
            let message = "This lift has no sets. Write, say, 5 x 3 @ 78-82% after it.";
            self.problems.push(problem(&line, 0, line.text.len(), Severity::Error, message));
        }
    }

    fn push_sets(&mut self, sets: LiftSets) {
        self.lift = None;
        self.kind = Some(LineKind::Sets);
        // what the lift's own line says is said of its first sets, and of those of each level
        self.lift_says = self.lift_says.take().filter(|_| self.headed.is_some());
        let Some(mut d) = self.block.take() else { return };
        if !d.block.builds.is_empty() {
            // a maximum of the day and sets of it are two blocks
            self.problems_of(d);
            d = Draft::new(Block::new(BlockKind::Strength, sets.line));
        }
        if d.part().format.is_none() || d.part().format == Some(Format::ClimbingSingles) {
            let climbs = sets.climb && d.block.lifts.is_empty();
            d.part_mut().format = Some(if climbs { Format::ClimbingSingles } else { Format::Sets });
        }
        d.block.lifts.push(sets);
        self.block = Some(d);
    }

    fn problems_of(&mut self, d: Draft) {
        let block = d.finish(&mut self.problems);
        self.sheet.blocks.push(block);
    }

    pub(super) fn sets(
        &mut self,
        line: &Line,
        s: &Stated,
        lifts: &[MoveSaid],
        sets: &SetsSaid,
        b: &Behind,
        scheme: bool,
    ) {
        let as_lifts = self.sets_are_lifts(sets);
        let whose = lifts.first().map(|m| m.movement.clone()).or(self.lift.as_ref().map(|(n, _)| n.clone()));
        let whose = whose.or(self.headed.clone().filter(|_| self.place.level.is_some()));
        if self.place.other.is_some() || self.place.level.is_some() && self.no_form(as_lifts, whose.is_none())
        {
            self.other_sets(line, s);
            return;
        }
        if !as_lifts {
            if let Some(first) = lifts.first() {
                self.sets_as_work(line, s, first, sets, b, scheme);
            } else if scheme || sets.reps.len() > 1 {
                self.reps_alone(sets, b);
            }
            return;
        }
        self.kind = Some(LineKind::Sets);
        let strange = self.strange_lift(line, s, whose.is_none());
        let whose = whose.or_else(|| strange.clone().map(Named::Unknown));
        let wave = lifts.is_empty() && self.lift.is_none() && strange.is_none();
        let Some(named) = whose.or_else(|| self.last_lift()) else {
            let message = "These sets have no lift. Write it before them: back squat 5 x 3.";
            self.problems.push(problem(line, s.from, s.to, Severity::Error, message));
            return;
        };
        let mut out = LiftSets::of(named, sets.reps.clone(), line.number);
        out.chain = lifts
            .iter()
            .skip(1)
            .enumerate()
            .filter_map(|(i, m)| Some((m.movement.id()?.to_owned(), sets.more.get(i).copied().unwrap_or(1))))
            .collect();
        if sets.empty || sets.reps.is_empty() {
            let message = "Sets need at least 1 rep. Write, say, 5 x 3.";
            self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message));
            out.reps.retain(|r| *r > 0);
        }
        if let Some(above) = self.lift_says.clone().filter(|_| lifts.is_empty()) {
            self.fill(&mut out, &above, line);
        }
        self.fill(&mut out, b, line);
        // sets of several reps that build up, off the clock, are heavier from set to set
        if out.climb && out.every_s.is_none() && out.reps.iter().any(|r| *r > 1) {
            (out.climb, out.add_weight) = (false, true);
        }
        out.per_side |= lifts.first().is_some_and(|m| m.side);
        if sets.open {
            let least = out.reps.last().copied().unwrap_or(0);
            let words = format!("{least}+: as many as are good");
            out.note = Some(out.note.map_or(words.clone(), |n| format!("{n}, {words}")));
        }
        if let Some(rank) = self.place.level.as_ref().map(|l| l.rank) {
            self.level_sets(rank.min(u32::from(TOP_LEVEL)) as u8, out);
        } else if wave && self.goes_on(&out) {
            self.more_sets(out);
        } else {
            self.push_sets(out);
        }
    }

    /// Whether sets of a level are no form of a lift's sets: they are work, have no lift, or stand as `Rx: 5 x 5` below sets that
    /// everybody was given, which makes two highest levels.
    fn no_form(&self, as_lifts: bool, nameless: bool) -> bool {
        if !as_lifts || nameless && self.last_lift().is_none() {
            return true;
        }
        let top = self.place.level.as_ref().is_some_and(|l| l.rank >= u32::from(TOP_LEVEL));
        let last = self.block.as_ref().and_then(|d| d.block.lifts.last());
        top && self.lift.is_none() && last.is_some_and(|l| l.level.is_none())
    }

    /// `L2: 5 x 5 @ 70%`: the highest level of the block's last lift is the sets as written, the others stand beside it.
    fn level_sets(&mut self, level: u8, sets: LiftSets) {
        let waits = self.lift.is_some();
        if let Some((headed, _)) = &self.lift {
            self.headed = Some(headed.clone());
        }
        self.kind = Some(LineKind::Sets);
        let Some(last) = self.block.as_mut().and_then(|d| d.block.lifts.last_mut()).filter(|_| !waits) else {
            self.push_sets(LiftSets { level: Some(level), ..sets });
            return;
        };
        let (was, mut lower) = (last.level, LevelForm { level, sets });
        if was.is_some_and(|w| level > w) {
            let forms = std::mem::take(&mut last.forms);
            let before = std::mem::replace(last, LiftSets { forms, level: Some(level), ..lower.sets });
            lower = LevelForm {
                level: was.unwrap_or(level),
                sets: LiftSets { level: None, forms: Vec::new(), ..before },
            };
        }
        last.forms.retain(|f| f.level != lower.level);
        last.forms.push(lower);
        last.forms.sort_by_key(|f| std::cmp::Reverse(f.level));
    }

    /// `(beginners: goblet squat 3x8)`: no place of the sheet holds another form of sets, so it is kept in words.
    fn other_sets(&mut self, line: &Line, s: &Stated) {
        let text = line.text.get(s.from..s.to).unwrap_or_default().to_owned();
        self.kind = Some(LineKind::Note);
        self.with(LineKind::Note, |d| d.block.notes.push(text));
        let message =
            "I kept this other form of the sets as a note: weights are worked out for the sets above only.";
        self.problems.push(problem(line, s.from, s.to, Severity::Warning, message));
    }

    /// Words of a line of sets that nothing has read stay with its sets.
    pub(super) fn words_of_sets(&mut self, line: u32, words: &[&str]) {
        let Some(last) = self.block.as_mut().and_then(|d| d.block.lifts.last_mut()) else { return };
        let sets = if last.line == line {
            Some(last)
        } else {
            last.forms.iter_mut().map(|f| &mut f.sets).find(|s| s.line == line)
        };
        let Some(sets) = sets else { return };
        let words = words.join(" ").replace(['(', ')'], "");
        let words = words.trim_matches([' ', ',', ';', '.', ':', '-']);
        if !words.is_empty() {
            sets.note = Some(sets.note.take().map_or(words.to_owned(), |n| format!("{n}, {words}")));
        }
    }

    /// Whether sets here are those of a lift, not so much work of a list.
    fn sets_are_lifts(&self, sets: &SetsSaid) -> bool {
        let Some(d) = self.block.as_ref().filter(|_| sets.unit != Unit::Seconds) else { return false };
        let clock = |f: &Format| !matches!(f, Format::Sets | Format::ClimbingSingles);
        match d.block.kind {
            BlockKind::Strength => true,
            BlockKind::Accessory => !d.worked() && !d.part().format.as_ref().is_some_and(clock),
            _ => false,
        }
    }

    /// Words before sets that name no lift are said at their place.
    fn strange_lift(&mut self, line: &Line, s: &Stated, nameless: bool) -> Option<String> {
        let few = |t: &String| !t.is_empty() && nameless && t.split_whitespace().count() <= 4;
        let words = self.strange.take().filter(few)?;
        let end = line.text.find(words.as_str()).map_or(s.from, |a| a + words.len());
        let message = format!("I do not know the lift “{words}”.");
        let mut p = problem(line, end - words.len().min(end), end, Severity::Error, message);
        p.suggestions = catalogue().nearest(&words, 3).iter().map(|m| catalogue().written(&m.id)).collect();
        self.problems.push(p);
        Some(words)
    }

    fn last_lift(&self) -> Option<Named> {
        let d = self.block.as_ref()?;
        let own = d.block.lifts.last().map(|l| l.movement.clone());
        own.or_else(|| d.block.builds.last().map(|b| b.movement.clone()))
    }

    /// Whether sets without a lift go on with those of the line above, as a wave.
    fn goes_on(&self, out: &LiftSets) -> bool {
        let last = self.block.as_ref().and_then(|d| d.block.lifts.last());
        last.is_some_and(|l| {
            l.movement == out.movement && l.percent.is_some() == out.percent.is_some() && l.chain.is_empty()
        })
    }

    fn more_sets(&mut self, out: LiftSets) {
        let Some(l) = self.block.as_mut().and_then(|d| d.block.lifts.last_mut()) else { return };
        if let (Some(a), Some(b)) = (&mut l.percent, &out.percent) {
            let ends = [a.ends(l.reps.len()), b.ends(out.reps.len())].concat();
            let bands = ends.iter().any(|[low, high]| low < high);
            let (low, high): (Vec<f64>, Vec<f64>) = ends.into_iter().map(|[low, high]| (low, high)).unzip();
            *a = Percent { tops: if bands { high } else { Vec::new() }, ..Percent::list(low, a.of.clone()) };
        }
        l.reps.extend(out.reps);
        l.note = l.note.take().or(out.note);
        l.rest_s = out.rest_s.or(l.rest_s);
        l.every_s = out.every_s.or(l.every_s);
    }

    /// What stands behind sets.
    fn fill(&mut self, out: &mut LiftSets, b: &Behind, line: &Line) {
        out.by_cycle = b.by_cycle;
        out.per_side = b.side || out.per_side;
        if let Some(p) = &b.percent {
            let mut p = p.clone();
            if p.band && out.reps.len() == 2 {
                p.band = false;
            }
            if p.band && p.values.first() > p.values.last() {
                p.values.reverse();
                let (a, z) = b.at_place.unwrap_or((0, line.text.len()));
                let message = "The band runs from high to low. I read it the right way round.";
                self.problems.push(problem(line, a, z, Severity::Warning, message));
            }
            out.percent = Some(p);
        }
        if let Some(l) = &b.load {
            out.kg = Some(kilograms(l, self.units));
            out.typed = self.units.of(l);
        } else if let Some((v, two)) = b.at.filter(|_| out.percent.is_none()) {
            self.bare_at(out, v, two, b, line);
        }
        out.add_weight |= b.add_weight;
        out.climb |= b.climb;
        out.every_s = b.every.or(out.every_s);
        out.rest_s = b.rest.and_then(|r| r.seconds).or(out.rest_s);
        out.last_at_top = b.last_at_top.or(out.last_at_top);
        out.tempo = b.tempo.or(out.tempo);
        let word = b.word.map(WordLoad::word).filter(|_| out.percent.is_none() && out.kg.is_none());
        let notes: Vec<&str> =
            word.into_iter().chain(b.notes.iter().map(|n| n.trim())).filter(|n| !n.is_empty()).collect();
        if !notes.is_empty() {
            out.note = Some(notes.join(", ").replace(['(', ')'], ""));
        }
    }

    /// `@ 85`: a percentage or a weight, asked.
    fn bare_at(&mut self, out: &mut LiftSets, v: f64, two: Option<f64>, b: &Behind, line: &Line) {
        let bar = out.movement.id().is_some_and(barbell);
        if bar && two.is_none() && PERCENT_LIKE.contains(&v) {
            out.percent = Some(Percent::list(vec![v], PercentBase::Unsaid));
            if let Some((a, z)) = b.at_place {
                let message = format!(
                    "“{}” could be per cent or a weight. I read {v} %.",
                    line.text.get(a..z).unwrap_or_default().trim()
                );
                let mut p = problem(line, a, z, Severity::Warning, message);
                let text = crate::units::plain(v);
                p.suggestions = vec![format!("@ {text}%"), format!("@ {text} kg")];
                self.problems.push(p);
            }
            return;
        }
        let said = LoadSaid {
            value: [v, two.unwrap_or(v)],
            unit: None,
            implements: None,
            pair: two.is_some(),
            at: true,
        };
        out.kg = Some(kilograms(&said, self.units));
        out.typed = self.units.of(&said);
    }

    /// Sets in a block that is done on a clock or with care are so much work.
    fn sets_as_work(
        &mut self,
        line: &Line,
        s: &Stated,
        m: &MoveSaid,
        sets: &SetsSaid,
        b: &Behind,
        scheme: bool,
    ) {
        let mut said = m.clone();
        if !scheme {
            let sum: u32 = sets.reps.iter().fold(0, |a, r| a.saturating_add(*r));
            said.count =
                if sets.reps.contains(&0) { Some(Count::Max) } else { Some(Count::Each(f64::from(sum))) };
            if sets.unit == Unit::Seconds {
                said.unit = Some(Unit::Seconds);
            }
        }
        let mut work = item(&said, b, self.units, line.number);
        if scheme {
            self.scheme_of(sets, &mut work);
        }
        if !self.admit(line, s, &mut work, b) {
            return;
        }
        self.kind = Some(LineKind::Work);
        self.put(line, work);
        if let Some(seconds) = b.rest.and_then(|r| r.seconds)
            && let Some(d) = &mut self.block
            && d.block.kind == BlockKind::Workout
        {
            d.push(Item::Rest { seconds });
        }
    }

    /// `deadlifts 21-15-9`: the numbers of the workout where it has none, else of the line.
    fn scheme_of(&mut self, sets: &SetsSaid, work: &mut MoveLine) {
        let Some(d) = &mut self.block else { return };
        let same = matches!(&d.part().format, Some(Format::Scheme { reps }) if *reps == sets.reps);
        if same {
            return;
        }
        let open = d
            .bits
            .as_ref()
            .is_none_or(|b| b.rounds.is_none() && b.scheme.is_none() && !b.amrap && b.every.is_none());
        if open && !d.worked() && d.block.kind == BlockKind::Workout {
            let mut bits = d.bits.clone().unwrap_or_default();
            bits.scheme = Some(sets.reps.clone());
            d.bits = Some(bits);
            let _ = d.set_clock();
        } else {
            work.count = Some(Count::Scheme(sets.reps.clone()));
        }
    }

    /// Numbers with dashes, or sets, alone on a line of a workout.
    fn reps_alone(&mut self, sets: &SetsSaid, b: &Behind) {
        let Some(d) = &mut self.block else { return };
        let Some(m) = d.last_move().filter(|m| m.count.is_none()) else { return };
        let sum: u32 = sets.reps.iter().fold(0, |a, r| a.saturating_add(*r));
        m.count = Some(if sets.reps.contains(&0) { Count::Max } else { Count::Each(f64::from(sum)) });
        if sets.unit == Unit::Seconds {
            m.unit = Unit::Seconds;
        }
        m.per_side |= b.side;
        self.kind = Some(LineKind::Work);
    }

    /// A line that adds to the sets above it.
    pub(super) fn more_of_sets(&mut self, b: &Behind, line: &Line) {
        let Some(mut l) = self.block.as_mut().and_then(|d| d.block.lifts.pop()) else { return };
        let note = l.note.clone();
        self.fill(&mut l, b, line);
        if l.note != note {
            l.note = [note, l.note.take()]
                .into_iter()
                .flatten()
                .reduce(|a, n| if a == n { a } else { format!("{a}, {n}") });
        }
        self.kind = Some(LineKind::Sets);
        if let Some(d) = &mut self.block {
            if l.climb && d.block.lifts.is_empty() {
                d.part_mut().format = Some(Format::ClimbingSingles);
            }
            d.block.lifts.push(l);
        }
    }

    pub(super) fn build(
        &mut self,
        line: &Line,
        lift: Option<&Named>,
        reps: u32,
        window: Option<u32>,
        no_misses: bool,
    ) {
        self.kind = Some(LineKind::Build);
        let waiting = self.lift.take().map(|(n, _)| n);
        let last = self.last_lift();
        let movement = lift.cloned().or(waiting).or(last).unwrap_or(Named::Unknown(String::new()));
        if let Named::Unknown(words) = &movement {
            let message = if words.is_empty() {
                "The lift is missing. Write it before the build: back squat build to 5rm in 15:00.".to_owned()
            } else {
                format!("I do not know the lift “{words}”.")
            };
            self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message));
        }
        let Some(mut d) = self.block.take() else { return };
        if !d.block.lifts.is_empty() {
            self.problems_of(d);
            d = Draft::new(Block::new(BlockKind::Strength, line.number));
        }
        if d.part().items.is_empty() && d.part().format.is_none() {
            d.part_mut().format = Some(Format::BuildToMax);
        }
        d.block.builds.push(Build {
            movement,
            reps: reps.clamp(1, 30),
            window_s: window.filter(|s| *s > 0),
            no_misses,
            line: line.number,
        });
        self.block = Some(d);
    }
}
