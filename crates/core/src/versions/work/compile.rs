//! A version's work as the simulator runs it for one member, and the simulator's units as a score on a board.

use super::from_sheet::JUMP_DOWN;
use super::{Clock, Line, Section, Weight, Work};
use crate::movement::{LoadKind, catalogue};
use crate::pacing::{Amount, Athlete, Node, Scored, Station, Workout, resolve, table};
use crate::sheet::{PercentBase, When};
use crate::units::{Standard, Unit};

/// Length of one lunge or crawl step, m (own).
const STEP_M: f64 = 0.8;
/// Share of a bar's percentage that is rounded to, kg: what two plates of 1.25 make.
const ROUND_KG: f64 = 2.5;

/// kg of one implement that a member lifts on a line.
pub fn line_kg(line: &Line, standard: Standard, athlete: &Athlete) -> Option<f64> {
    match line.weight.as_ref()? {
        Weight::Kg(kg) => Some(standard.of(*kg)),
        Weight::Percent { percent, of } => {
            let lift = match of {
                PercentBase::Lift(lift) => lift.as_str(),
                _ => line.movement.as_str(),
            };
            let one = athlete.one_rm_for(lift)?;
            Some(((one * percent / 100.0) / ROUND_KG).round() * ROUND_KG)
        }
    }
}

/// Native units of the pacing row for an amount of a line.
fn units(line_unit: Unit, n: f64, row: usize, athlete: &Athlete, load: f64) -> f64 {
    let Some(r) = table::at(row) else { return n };
    match (line_unit, r.unit) {
        (Unit::Seconds, "s") => n,
        (Unit::Seconds, _) => {
            let per_unit = resolve(athlete, row, load, 1.0, 0).map_or(2.0, |t| t.cycle / t.chunk);
            (n / per_unit.max(0.05)).max(1.0)
        }
        (Unit::Metres, "rep") => (n / STEP_M).round().max(1.0),
        _ => n,
    }
}

/// What a member's compiled work is, beside the tree: which task stands for which line.
#[derive(Debug, Clone, Default)]
pub struct Compiled {
    /// (place of the line in the round with its along movements counted on, slot), in the order of the lines.
    pub slots: Vec<(usize, usize)>,
    /// Units of each slot in the whole work; 0 where that is open.
    pub amounts: Vec<f64>,
    /// Units of each slot in one round where the whole is open.
    pub in_a_round: Vec<f64>,
}

pub(super) struct Compiler<'a> {
    work: &'a Work,
    standard: Standard,
    pub(super) athlete: &'a Athlete,
    pub(super) out: Workout,
    lines: Compiled,
}

/// The tree that the simulator walks for one member.
pub fn compile(work: &Work, standard: Standard, athlete: &Athlete, cap: Option<f64>) -> Workout {
    compile_lines(work, standard, athlete, cap).0
}

/// The tree, and which task stands for which line.
pub fn compile_lines(
    work: &Work,
    standard: Standard,
    athlete: &Athlete,
    cap: Option<f64>,
) -> (Workout, Compiled) {
    let scored = if work.for_time() {
        Scored::Time
    } else if work.cycle_s().is_some() {
        Scored::Margin
    } else if work.lowest && !work.one_amrap() && !work.until_failure() {
        Scored::Lowest
    } else {
        Scored::Reps
    };
    let mut c = Compiler {
        work,
        standard,
        athlete,
        out: Workout { cap, ..Workout::new(scored) },
        lines: Compiled::default(),
    };
    c.index();
    for part in 0..work.sections.len() {
        let body = c.section(part);
        c.out.body.extend(body);
    }
    if let Some(team) = work.team {
        match super::together::shared(work, team, &mut c) {
            Some(s) => c.out.team = Some((team.size, s)),
            None => return compile_lines(&work.of_one(team), standard, athlete, cap),
        }
    }
    (c.out, c.lines)
}

impl Compiler<'_> {
    /// Gives every line its slot and its units in the whole work.
    fn index(&mut self) {
        let mut place = 0;
        for i in 0..self.work.lines.len() {
            let Some(line) = self.work.lines.get(i) else { continue };
            if let Some((slot, row, load)) = self.task(line) {
                let total = self.work.total(i, self.standard).unwrap_or(0.0);
                let n = units(line.unit, total, row, self.athlete, load);
                self.add(place, slot, if total > 0.0 { n } else { 0.0 });
                if total <= 0.0 && !line.counts.is_empty() {
                    let one = line.count(0, self.standard);
                    self.in_a_round(slot, units(line.unit, one, row, self.athlete, load));
                }
            }
            place += 1;
            for a in &line.along {
                if let Some(row) = table::index(&a.movement) {
                    let slot = self.out.slot(row, 0.0);
                    self.add(place, slot, 0.0);
                }
                place += 1;
            }
        }
    }

    fn add(&mut self, place: usize, slot: usize, n: f64) {
        self.lines.slots.push((place, slot));
        if self.lines.amounts.len() <= slot {
            self.lines.amounts.resize(slot + 1, 0.0);
        }
        if let Some(a) = self.lines.amounts.get_mut(slot) {
            *a += n;
        }
    }

    fn in_a_round(&mut self, slot: usize, n: f64) {
        if self.lines.in_a_round.len() <= slot {
            self.lines.in_a_round.resize(slot + 1, 0.0);
        }
        if let Some(a) = self.lines.in_a_round.get_mut(slot) {
            *a = a.max(n);
        }
    }

    /// (slot, row, load) of a line.
    fn task(&mut self, line: &Line) -> Option<(usize, usize, f64)> {
        let load = line_kg(line, self.standard, self.athlete).unwrap_or(0.0) * line.held();
        let load = if loaded(&line.movement) { load } else { 0.0 };
        let row = match &line.variant {
            Some(v) if v == JUMP_DOWN => table::index(&format!("{}-jumped-down", line.movement)),
            _ => None,
        }
        .or_else(|| table::index_for(&line.movement, line.unit))?;
        Some((self.out.slot(row, load), row, load))
    }

    /// A line as a task, done on pass `round`; the rise is left to the pass when `rising`.
    fn tasks(&mut self, i: usize, round: usize, rising: bool) -> Vec<Node> {
        let mut out = Vec::new();
        let Some(line) = self.work.lines.get(i) else { return out };
        let place = self.work.position_of(i);
        if let Some((slot, row, load)) = self.task(line) {
            let one = |n: f64| units(line.unit, n, row, self.athlete, load);
            // as much as possible outside a window: one full set, fresh
            let n = if line.counts.is_empty() {
                resolve(self.athlete, row, load, 1.0, 0).map_or(1.0, |t| t.most.floor().clamp(1.0, 100.0))
            } else {
                one(line.count(round, self.standard))
            };
            let per = if n > 0.0 && line.unit == Unit::Reps { 1.0 } else { one(1.0) };
            let rise = line.rise * per;
            let (n, rise) = if rising { (n, rise) } else { ((n + rise * round as f64).max(0.0), 0.0) };
            out.push(Node::Task(Amount { slot, n: Some(n), times: 1.0, rise, line: place }));
        }
        for (k, a) in line.along.iter().enumerate() {
            if let Some(row) = table::index(&a.movement) {
                let n = a.counts.get(round).or(a.counts.last()).map_or(0.0, |c| self.standard.of(*c));
                let slot = self.out.slot(row, 0.0);
                out.push(Node::Task(Amount { line: place + 1 + k, ..Amount::of(slot, n) }));
            }
        }
        out
    }

    /// Work around the list of a kind.
    pub(super) fn extras(&mut self, part: usize, of: impl Fn(When) -> bool) -> Vec<Node> {
        let places: Vec<usize> =
            self.work.around(part).filter(|(_, l)| l.around.is_some_and(&of)).map(|(i, _)| i).collect();
        places.into_iter().flat_map(|i| self.tasks(i, 0, false)).collect()
    }

    /// Work that comes back in later rounds: after one, or more with each.
    fn in_rounds(&mut self, part: usize) -> Vec<Node> {
        let around: Vec<(usize, When)> =
            self.work.around(part).filter_map(|(i, l)| Some((i, l.around?))).collect();
        let mut out = Vec::new();
        for (i, when) in around {
            match when {
                When::AfterRound(n) => {
                    let body = self.tasks(i, 0, false);
                    out.push(Node::OnPass { pass: n.saturating_sub(1), body });
                }
                When::EachRoundMore => {
                    out.extend(self.tasks(i, 0, false).into_iter().map(|node| match node {
                        Node::Task(a) => Node::Task(Amount { n: Some(0.0), rise: a.n.unwrap_or(0.0), ..a }),
                        other => other,
                    }))
                }
                _ => {}
            }
        }
        out
    }

    /// One pass of the list. `rising`: the pass counts the rise; else `round` does.
    pub(super) fn pass(&mut self, part: usize, round: usize, rising: bool) -> Vec<Node> {
        let rests = self.work.sections.get(part).map_or(Vec::new(), |s| s.rests.clone());
        let places: Vec<usize> = self.work.list(part).map(|(i, _)| i).collect();
        let mut body = Vec::new();
        for i in places {
            let rest: u32 = rests.iter().filter(|(at, _)| *at == i).map(|(_, s)| s).sum();
            if rest > 0 {
                body.push(Node::Rest(f64::from(rest)));
            }
            body.extend(self.tasks(i, round, rising));
        }
        body
    }

    fn section(&mut self, part: usize) -> Vec<Node> {
        let Some(section) = self.work.sections.get(part).cloned() else { return Vec::new() };
        let buy_in = self.extras(part, |w| w == When::BuyIn);
        let mut body = Vec::new();
        if section.clock.for_time() {
            body.extend(buy_in.clone());
        }
        body.extend(self.clocked(part, &section, buy_in));
        body = self.interrupted(part, body);
        let cash_out = self.extras(part, |w| w == When::CashOut);
        body.extend(cash_out);
        if section.rest_before_s > 0 {
            body.insert(0, Node::Rest(f64::from(section.rest_before_s)));
        }
        body
    }

    fn clocked(&mut self, part: usize, section: &Section, buy_in: Vec<Node>) -> Vec<Node> {
        let s = f64::from;
        let last = self.work.list(part).last().map_or(0, |(i, _)| i + 1);
        let between: f64 = section.rests.iter().filter(|(at, _)| *at == last).map(|(_, t)| s(*t)).sum();
        match section.clock {
            Clock::Rounds(n) if !self.schemes(part) => {
                let mut body = self.pass(part, 0, true);
                body.extend(self.in_rounds(part));
                vec![Node::Rounds { n, rest: between, body }]
            }
            Clock::Rounds(n) | Clock::Scheme(n) => self.by_number(part, n, between),
            Clock::Once => vec![Node::Rounds { n: 1, rest: 0.0, body: self.pass(part, 0, true) }],
            Clock::Amrap(t) => {
                let mut body = self.pass(part, 0, true);
                body.extend(self.in_rounds(part));
                if between > 0.0 {
                    body.push(Node::Rest(between));
                }
                vec![Node::Amrap { t: s(t), buy_in, body }]
            }
            Clock::Every { every_s, n } => {
                let mut body = self.pass(part, 0, true);
                body.extend(self.in_rounds(part));
                let mut out = buy_in;
                out.push(Node::Every { t: s(every_s), n, body });
                out
            }
            Clock::Alternating { every_s, n } => {
                let entries = self.work.entries(part);
                let items = entries
                    .into_iter()
                    .map(|e| e.map_or_else(Vec::new, |i| self.tasks(i, 0, false)))
                    .collect();
                vec![Node::Alternating { t: s(every_s), n, items }]
            }
            Clock::UntilFailure { every_s } => {
                let mut body = self.pass(part, 0, true);
                body.extend(self.in_rounds(part));
                vec![Node::UntilFailure { t: s(every_s), start: 0.0, step: 0.0, body }]
            }
            Clock::Windows { on_s, off_s, n } => vec![self.windows(part, [s(on_s), s(off_s)], n, buy_in)],
            Clock::Stations { on_s, off_s, rounds } => {
                let items = self.stations(part);
                vec![Node::Stations { on: s(on_s), off: s(off_s), rounds, items, each: false }]
            }
            Clock::OnOff { on_s, off_s, n, alternating } => {
                let items = self.stations(part);
                let k = items.len().max(1);
                let all = n as usize * if alternating { 1 } else { k };
                let of = |i: usize| if alternating { i % k } else { i / n.max(1) as usize };
                let items = (0..all).filter_map(|i| items.get(of(i)).copied()).collect();
                vec![Node::Stations { on: s(on_s), off: s(off_s), rounds: 1, items, each: true }]
            }
        }
    }

    /// Whether a line of a part has a number of its own for each round.
    fn schemes(&self, part: usize) -> bool {
        self.work.list(part).any(|(_, l)| l.counts.len() > 1)
    }

    /// A list whose numbers change from round to round.
    fn by_number(&mut self, part: usize, n: u32, between: f64) -> Vec<Node> {
        let around: Vec<(usize, When)> =
            self.work.around(part).filter_map(|(i, l)| Some((i, l.around?))).collect();
        let mut out = Vec::new();
        for r in 0..n as usize {
            let mut body = self.pass(part, r, false);
            for (i, when) in &around {
                let times = match when {
                    When::AfterRound(k) if *k as usize == r + 1 => 1.0,
                    When::EachRoundMore => r as f64,
                    _ => 0.0,
                };
                body.extend(self.tasks(*i, 0, false).into_iter().map(|node| match node {
                    Node::Task(a) => Node::Task(Amount { n: a.n.map(|n| n * times), ..a }),
                    other => other,
                }));
            }
            out.push(Node::Rounds { n: 1, rest: 0.0, body });
            if between > 0.0 && r + 1 < n as usize {
                out.push(Node::Rest(between));
            }
        }
        out
    }

    /// Windows: the last line takes what is left, or the list is done over and over.
    fn windows(&mut self, part: usize, on_off: [f64; 2], n: u32, mut buy_in: Vec<Node>) -> Node {
        let [on, off] = on_off;
        let mut body = self.pass(part, 0, true);
        let mut max = None;
        if self.work.ends_with_max(part)
            && let Some(Node::Task(a)) = body.pop()
        {
            max = Some(a);
            buy_in.append(&mut body);
        }
        Node::Windows { n, on, off, buy_in, body, max }
    }

    fn stations(&mut self, part: usize) -> Vec<Station> {
        let entries = self.work.entries(part);
        entries
            .into_iter()
            .map(|e| {
                let Some(i) = e else { return Station { work: None } };
                let open = self.work.lines.get(i).is_some_and(|l| l.counts.is_empty());
                let first = self.tasks(i, 0, false).into_iter().next();
                let work = first.and_then(|node| match node {
                    Node::Task(a) => Some(Amount { n: a.n.filter(|_| !open), ..a }),
                    _ => None,
                });
                Station { work }
            })
            .collect()
    }

    /// Interruptions and the price of breaks around the work of a part.
    fn interrupted(&mut self, part: usize, mut body: Vec<Node>) -> Vec<Node> {
        let task = self.extras(part, |w| w == When::OnBreak);
        if !task.is_empty() {
            body = vec![Node::Penalty { on: Vec::new(), task, body }];
        }
        let clocks: Vec<(usize, u32, bool)> = self
            .work
            .around(part)
            .filter_map(|(i, l)| match l.around {
                Some(When::OnTheClock { every_s, from_zero }) => Some((i, every_s, from_zero)),
                _ => None,
            })
            .collect();
        if let Some((_, every_s, at_zero)) = clocks.first().copied() {
            let task: Vec<Node> = clocks.iter().flat_map(|(i, ..)| self.tasks(*i, 0, false)).collect();
            body = vec![Node::Interrupt { every: f64::from(every_s), at_zero, task, body }];
        }
        body
    }
}

fn loaded(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| !matches!(m.load, LoadKind::None | LoadKind::Machine))
}
