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
use crate::movement::catalogue;
use crate::units::Unit;

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
        if let Some(reps) = self.own_scheme.take().filter(|_| m.count.is_none()) {
            work.count = Some(Count::Scheme(reps));
        }
        if !self.admit(line, s, &mut work, b) {
            return;
        }
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
        self.put(line, work);
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
        let there = d.part().moves().any(|m| m.movement == work.movement && m.count.is_some());
        if counts || !there || self.place.level.is_some() || self.place.other.is_some() {
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
            self.check(line, s, work);
        }
        true
    }

    fn check(&mut self, line: &Line, s: &Stated, work: &MoveLine) {
        let zero = match &work.count {
            Some(Count::Each(n)) => *n <= 0.0,
            Some(Count::ByStandard(n)) => n.iter().any(|v| *v <= 0.0),
            Some(Count::Scheme(n)) => n.contains(&0),
            _ => false,
        };
        let whole = line.text.len();
        if zero {
            let message = "A count of 0 is no work. Write at least 1.";
            self.problems.push(problem(line, 0, whole, Severity::Error, message));
        } else if matches!(&work.count, Some(Count::Each(n)) if work.unit == Unit::Reps && *n > 1000.0) {
            let message = "That is over 1,000 reps in one line. Check the number.";
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
        let Some(d) = &mut self.block else { return };
        if let Some(kit) = kit {
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
            return;
        }
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
            m.load = Some(Load::Kg { kg: kilograms(&said, units), implements: 1 });
            d.push(Item::Move(m));
        }
        self.place.worked = true;
    }
}

/// The line that some kit's stand-in replaces: the nearest above that needs the kit, else the last. Whether it is known to
/// need it; where the kit's name says nothing of what is missing (`home`), that is not asked.
fn line_for<'d>(d: &'d mut Draft, kit: &str) -> Option<(&'d mut MoveLine, bool)> {
    let needs: &[&str] = match kit {
        "no rower" => &["rowing-erg"],
        "no bike" => &["air-bike"],
        "no ski" => &["ski-machine"],
        "no machine" => &["rowing-erg", "air-bike", "ski-machine"],
        "no barbell" | "no rack" => &["barbell"],
        "no rig" => &["pull-up-bar", "rings"],
        "no ring" => &["rings"],
        "no rope" => &["climbing-rope", "jump-rope"],
        "no box" => &["box"],
        "no dumbbell" => &["dumbbell", "dumbbell-pair"],
        "no kettlebell" => &["kettlebell"],
        "no ball" | "no wall ball" => &["medball"],
        "no run" | "no outdoor" => &["run-route"],
        _ => &[],
    };
    let uses = |m: &MoveLine| {
        m.movement
            .id()
            .and_then(|id| catalogue().movement(id))
            .is_some_and(|row| row.equipment.iter().any(|e| needs.contains(&e.as_str())))
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
