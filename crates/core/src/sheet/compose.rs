//! Work, sets of lifts and maxima of the day put into their block.

use super::assemble::Assembler;
use super::atom::{LadderSaid, LoadSaid, MoveSaid};
use super::draft::Draft;
use super::item::{item, kilograms};
use super::kind::LineKind;
use super::levels::add;
use super::model::{BlockKind, Count, Format, Item, Load, LoadFrom, MoveLine, Named, When, Who};
use super::problem::Severity;
use super::scan::problem;
use super::statement::{Behind, Stated};
use super::text::Line;
use crate::kinds::Gear;
use crate::movement::catalogue;
use crate::units::Unit;

/// A machine's distance under this without its unit is a count of something else, m.
const LEAST_METRES: f64 = 40.0;

impl Assembler {
    pub(super) fn work(&mut self, line: &Line, s: &Stated, m: &MoveSaid, b: &Behind, rest: &[Stated]) {
        if let Some((ladder, _)) = self.ladder.take() {
            self.rungs(&ladder, &m.movement, line);
            self.kind = Some(LineKind::Work);
            return;
        }
        let relaxed = self.relaxed();
        if self.block_kind() == Some(BlockKind::Strength) && self.names_lift(line, m, b, rest) {
            self.problems.extend(s.problems.iter().filter(|_| relaxed).cloned());
            return;
        }
        let mut work = item(m, b, self.units, line.number);
        self.as_before_it(line, &mut work);
        if let Some(reps) = self.own_scheme.take().filter(|_| m.count.is_none()) {
            work.count = Some(Count::Scheme(reps));
        }
        if !self.admit(line, s, &mut work, b) {
            return;
        }
        self.far_enough(line, s, m, &work);
        if self.place.scale {
            self.scaled(work);
            return;
        }
        if m.count.is_none() && self.mentioned(&work) {
            return;
        }
        self.kind = Some(
            self.kind
                .filter(|k| {
                    matches!(k, LineKind::Level | LineKind::Around | LineKind::Clock | LineKind::Heading)
                })
                .unwrap_or(LineKind::Work),
        );
        let shared = work.load.clone().filter(|_| m.plus);
        self.put(line, work);
        if let (Some(load), Some(d)) = (shared, &mut self.block) {
            d.same_bar_on(line.number, &load);
        }
        if let Some(d) = &mut self.block
            && d.part().moves().take(2).count() == 1
        {
            d.repeated = Some((m.times, line.clone(), s.from, s.to)).filter(|r| r.0 > 1);
        }
    }

    /// `2-4-6... swing / burpee`: what has no count on a line whose first line rises rises with it.
    fn as_before_it(&mut self, line: &Line, work: &mut MoveLine) {
        let before = self.block.as_mut().and_then(Draft::last_move);
        if let Some(m) = before.filter(|m| m.line == line.number && m.rise.is_some() && work.count.is_none())
        {
            (work.count, work.rise) = (m.count.clone(), m.rise);
        }
    }

    /// `scale the pull-ups to ring rows`: the second stands beside the first.
    fn scaled(&mut self, work: MoveLine) {
        let Some(target) = self.place.target.take() else {
            self.place.target = work.movement.id().map(str::to_owned);
            return;
        };
        self.place.scale = false;
        self.kind = Some(LineKind::Level);
        let Some(d) = &mut self.block else { return };
        let found = d.part_mut().items.iter_mut().find_map(|i| match i {
            Item::Move(m) if m.movement.id() == Some(&target) => Some(m),
            _ => None,
        });
        if let Some(m) = found {
            add(m, work, Who::Level(2));
        }
    }

    /// A movement without a count that the list has already is spoken of, not done again.
    fn mentioned(&mut self, work: &MoveLine) -> bool {
        let Some(d) = &mut self.block else { return false };
        let counts = matches!(
            d.part().format,
            Some(
                Format::Scheme { .. }
                    | Format::Stations { .. }
                    | Format::OnOff { .. }
                    | Format::Intervals { .. }
            )
        );
        let there = |d: &Draft| d.part().moves().any(|m| m.movement == work.movement && m.count.is_some());
        if counts || self.place.level.is_some() || self.place.other.is_some() || !there(d) {
            return false;
        }
        if let Some(movement) = work.movement.id().filter(|_| work.unbroken) {
            d.block
                .wishes
                .push(super::model::Wish::UnbrokenShare { movement: movement.to_owned(), share: 1.0 });
        }
        self.kind = self.kind.or(Some(LineKind::Keep));
        true
    }

    /// Unknown work in a warm-up is kept in words; elsewhere its problem is said. Whether the work goes on.
    pub(super) fn admit(&mut self, line: &Line, s: &Stated, work: &mut MoveLine, b: &Behind) -> bool {
        let relaxed = self.relaxed();
        if relaxed && work.movement.id().is_none() {
            let text = line.text.get(s.from..s.to).unwrap_or_default().to_owned();
            if let Some(d) = &mut self.block {
                d.block.notes.push(text);
            }
            self.place.worked = true;
            self.kind = self.kind.or(Some(LineKind::Note));
            return false;
        }
        if relaxed {
            self.problems.extend(s.problems.iter().filter(|p| p.severity == Severity::Error).cloned());
        }
        if b.same_bar {
            work.load_from = LoadFrom::Carried(0);
        }
        if work.movement.id().is_some() {
            self.check(line, s, work, b.load.is_some());
        }
        true
    }

    /// `10 rows`: nobody rows ten metres.
    fn far_enough(&mut self, line: &Line, s: &Stated, m: &MoveSaid, work: &MoveLine) {
        let Some(id) = work.movement.id().filter(|_| m.unit.is_none() && work.unit == Unit::Metres) else {
            return;
        };
        let machine = catalogue().movement(id).is_some_and(|row| row.count_also.contains(&Unit::Calories));
        if let Some(Count::Each(n)) = work.count
            && n < LEAST_METRES
            && machine
        {
            let (n, name) = (crate::units::plain(n), catalogue().written(id));
            let message = format!("{n} of what? Write {n} cal {name}, or how many metres.");
            let mut p = problem(line, s.from, s.to, Severity::Error, message);
            p.suggestions = vec![format!("{n} cal {name}"), format!("{n} ring rows")];
            p.suggestions.truncate(if id == "row" { 2 } else { 1 });
            self.problems.push(p);
        }
    }

    fn check(&mut self, line: &Line, s: &Stated, work: &MoveLine, said: bool) {
        let zero = match &work.count {
            Some(Count::Each(n)) => *n <= 0.0,
            Some(Count::ByStandard(n)) => n.iter().any(|v| *v <= 0.0),
            Some(Count::Scheme(n)) => n.contains(&0),
            _ => false,
        };
        let whole = line.text.len();
        if said && work.load.is_none() && work.height_cm.is_none() {
            let message = "I kept the weight on this line in words: this movement is done without one here. Name the one that carries it.";
            self.problems.push(problem(line, s.from, s.to, Severity::Warning, message));
        }
        let own_mass = |n: &String| {
            let low = n.to_lowercase().replace(' ', "");
            low.contains("bodyweight") || low.split(|c: char| !c.is_alphabetic()).any(|w| w == "bw")
        };
        if work.load.is_none()
            && work.movement.id().is_some_and(super::work::barbell)
            && work.note.as_ref().is_some_and(own_mass)
        {
            let message = "I do not work out shares of body mass. Write kg, as 60/42.5 kg, or a percentage of a maximum.";
            self.problems.push(problem(line, s.from, s.to, Severity::Error, message));
        }
        if zero {
            let message = "A count of 0 is no work. Write at least 1.";
            self.problems.push(problem(line, 0, whole, Severity::Error, message));
        } else if let Some(Count::Each(n)) = work.count
            && n > most_of(work.unit)
        {
            let message = format!(
                "That is over {} {} in one line. Check the number.",
                crate::units::plain(most_of(work.unit)),
                work.unit.word()
            );
            self.problems.push(problem(line, s.from, s.to, Severity::Warning, message));
        }
    }

    /// Puts a line of work where the words before it on its line say.
    pub(super) fn put(&mut self, line: &Line, mut work: MoveLine) {
        let place = &mut self.place;
        if let Some(level) = &mut place.level {
            level.works.push(work);
            return;
        }
        let around = place.around;
        let minutes = place.minutes.clone();
        let other = place.other;
        let kit = place.kit.clone();
        place.worked = true;
        let place_is_list = kit.is_none() && other.is_none() && around.is_none();
        if let Some((kit, at)) = &mut self.kit_list
            && place_is_list
        {
            let (kit, n) = (kit.clone(), std::mem::replace(at, *at + 1));
            self.in_place_of(line, kit, n, work);
            return;
        }
        if let Some(kit) = kit {
            self.stands_in(line, kit, work);
            return;
        }
        let Some(d) = &mut self.block else { return };
        if let Some(who) = other {
            let first_on_line = d.part().moves().last().is_none_or(|m| m.line != line.number);
            self.kind = if first_on_line { Some(LineKind::Level) } else { self.kind };
            if let Some(m) = d.last_move() {
                add(m, work, who);
                return;
            }
        }
        match around {
            Some(When::EachRoundMore) if work.movement.id().is_none() => {}
            Some(when) => {
                self.kind = Some(LineKind::Around);
                if work.count.is_none() {
                    work.count = Some(Count::Each(1.0)).filter(|_| matches!(work.unit, Unit::Reps));
                }
                d.around(when, work);
            }
            None => {
                let before = d.items_len();
                d.push(Item::Move(work));
                if !minutes.is_empty() {
                    d.move_to_minutes(before, &minutes);
                }
            }
        }
    }

    /// Work for those without some kit.
    fn stands_in(&mut self, line: &Line, kit: String, work: MoveLine) {
        let Some(d) = &mut self.block else { return };
        self.kind = Some(LineKind::Variant);
        match line_for(d, &kit) {
            Some((m, needed)) => {
                m.without_kit.push((kit, work));
                if !needed {
                    let message = format!(
                        "No line above needs what is missing here. I put it in place of line {}.",
                        m.line
                    );
                    self.problems.push(problem(line, 0, line.text.len(), Severity::Warning, message));
                }
            }
            None => {
                let message = "This stands in for a line above it, and there is none. Move it below the line that it replaces.";
                self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message));
            }
        }
    }

    /// A line of a list for those without some kit: it stands in for the line of the same place in the list above.
    fn in_place_of(&mut self, line: &Line, kit: String, n: usize, work: MoveLine) {
        self.kind = Some(LineKind::Variant);
        let Some(d) = &mut self.block else { return };
        let mut lines = d.part_mut().items.iter_mut().filter_map(|i| match i {
            Item::Move(m) => Some(m),
            Item::Rest { .. } => None,
        });
        if let Some(m) = lines.nth(n) {
            m.without_kit.push((kit, work));
            return;
        }
        let message = "The list above has no line left for which this could stand in. Write it behind the line that it replaces.";
        self.problems.push(problem(line, 0, line.text.len(), Severity::Error, message));
    }

    pub(super) fn take_ladder(&mut self, l: &LadderSaid, line: &Line) {
        self.kind = Some(LineKind::Around);
        // the movement stood before it on the line
        let before = self
            .block
            .as_mut()
            .and_then(Draft::last_move)
            .filter(|m| m.line == line.number && m.count.is_none())
            .map(|m| m.movement.clone());
        if let Some(movement) = before {
            if let Some(d) = &mut self.block {
                d.part_mut().items.pop();
            }
            self.rungs(l, &movement, line);
        } else if let Some(id) = &l.of {
            self.rungs(l, &Named::Known(id.clone()), line);
        } else {
            self.ladder = Some((l.clone(), line.clone()));
        }
    }

    fn rungs(&mut self, l: &LadderSaid, movement: &Named, line: &Line) {
        let units = self.units;
        let Some(d) = &mut self.block else { return };
        for value in &l.loads {
            let said = LoadSaid { value: *value, unit: l.unit, implements: None, pair: true, at: true };
            let mut m = MoveLine::of(movement.clone(), Unit::Reps, line.number);
            m.count = Some(Count::Each(l.reps));
            m.load = Some(Load::Kg { kg: kilograms(&said, units), implements: 1, typed: units.of(&said) });
            d.push(Item::Move(m));
        }
        self.place.worked = true;
    }
}

/// More than this in one line is hardly meant.
fn most_of(unit: Unit) -> f64 {
    match unit {
        Unit::Reps => 1000.0,
        Unit::Calories => 2000.0,
        Unit::Metres => 50_000.0,
        Unit::Seconds => 7200.0,
    }
}

/// The line that some kit's stand-in replaces: the nearest above that needs the kit, else the last. Whether it is known to
/// need it; where the kit's name says nothing of what is missing (`home`), that is not asked.
fn line_for<'d>(d: &'d mut Draft, kit: &str) -> Option<(&'d mut MoveLine, bool)> {
    let needs: &[Gear] = match kit {
        "no rower" => &[Gear::RowingErg],
        "no bike" => &[Gear::AirBike],
        "no ski" => &[Gear::SkiMachine],
        "no machine" => &[Gear::RowingErg, Gear::AirBike, Gear::SkiMachine],
        "no barbell" | "no rack" => &[Gear::Barbell],
        "no rig" => &[Gear::PullUpBar, Gear::Rings],
        "no ring" => &[Gear::Rings],
        "no rope" => &[Gear::ClimbingRope, Gear::JumpRope],
        "no box" => &[Gear::Box],
        "no dumbbell" => &[Gear::Dumbbell, Gear::DumbbellPair],
        "no kettlebell" => &[Gear::Kettlebell],
        "no ball" | "no wall ball" => &[Gear::Medball],
        "no run" | "no outdoor" => &[Gear::RunRoute],
        _ => &[],
    };
    let uses = |m: &MoveLine| {
        m.movement
            .id()
            .and_then(|id| catalogue().movement(id))
            .is_some_and(|row| needs.iter().any(|g| row.needs(*g)))
    };
    let items = &mut d.part_mut().items;
    let moves = |i: &Item| matches!(i, Item::Move(_));
    let last = items.iter().rposition(moves)?;
    let user = items.iter().rposition(|i| matches!(i, Item::Move(m) if uses(m)));
    match items.get_mut(user.unwrap_or(last))? {
        Item::Move(m) => Some((m, needs.is_empty() || user.is_some())),
        Item::Rest { .. } => None,
    }
}
