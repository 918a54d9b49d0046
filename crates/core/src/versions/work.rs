//! The work of a version: lists of lines on clocks, read from a block of the sheet (`from_sheet.rs`) and changed by levers.
//! Counts are totals of both sides, loads kg of one implement, both [heavier, lighter].

use crate::movement::{LoadKind, catalogue, say::Held, say::line_text};
use crate::sheet::{PercentBase, Team, TeamMode, When};
use crate::stimulus::Stimulus;
use crate::units::{Standard, Unit, WeightUnit};
use serde::{Deserialize, Serialize};

/// The clock that a part of the work runs on. Times in seconds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Clock {
    /// The list so many times.
    Rounds(u32),
    /// The list once for each number of a scheme.
    Scheme(u32),
    /// The list once.
    Once,
    /// The list over and over for so many seconds.
    Amrap(u32),
    /// The list at the start of every so many seconds.
    Every {
        /// Interval.
        every_s: u32,
        /// Cycles.
        n: u32,
    },
    /// One line at the start of every so many seconds, in turn.
    Alternating {
        /// Interval.
        every_s: u32,
        /// Cycles in all.
        n: u32,
    },
    /// The list every so many seconds until a cycle is not finished.
    UntilFailure {
        /// Interval.
        every_s: u32,
    },
    /// Windows with rest between; a last line with as much as possible takes what is left of each.
    Windows {
        /// Work.
        on_s: u32,
        /// Rest.
        off_s: u32,
        /// Windows.
        n: u32,
    },
    /// A window for each line in turn.
    Stations {
        /// Work.
        on_s: u32,
        /// Rest.
        off_s: u32,
        /// Times through.
        rounds: u32,
    },
    /// Short windows: in turn over the lines, or all of them on each line.
    OnOff {
        /// Work.
        on_s: u32,
        /// Rest.
        off_s: u32,
        /// Windows, of each line unless they alternate.
        n: u32,
        /// In turn.
        alternating: bool,
    },
}

impl Clock {
    /// Done as fast as possible.
    pub fn for_time(self) -> bool {
        matches!(self, Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once)
    }

    /// Cycles whose measure is the rest that is left.
    pub fn cycles(self) -> Option<u32> {
        match self {
            Clock::Every { every_s, .. } | Clock::Alternating { every_s, .. } => Some(every_s),
            _ => None,
        }
    }

    /// Interval of a clock that runs until a cycle fails, s.
    pub fn interval_s(self) -> Option<u32> {
        match self {
            Clock::UntilFailure { every_s } => Some(every_s),
            _ => None,
        }
    }

    /// In words: `3 rounds`, `every 2:00, 8 times`.
    pub fn text(self) -> String {
        let t = |s: u32| crate::units::clock(f64::from(s));
        match self {
            Clock::Rounds(1) => "1 round".to_owned(),
            Clock::Rounds(n) | Clock::Scheme(n) => format!("{n} rounds"),
            Clock::Once => "once through".to_owned(),
            Clock::Amrap(s) => format!("as many rounds as possible in {}", t(s)),
            Clock::Every { every_s, n } => format!("every {}, {n} times", t(every_s)),
            Clock::Alternating { every_s, n } => format!("every {} a line in turn, {n} times", t(every_s)),
            Clock::UntilFailure { every_s } => format!("every {} until failure", t(every_s)),
            Clock::Windows { on_s, off_s, n } => format!("{n} windows of {}, {} rest", t(on_s), t(off_s)),
            Clock::Stations { on_s, off_s, rounds } => {
                format!("stations of {}, {} rest, {rounds} rounds", t(on_s), t(off_s))
            }
            Clock::OnOff { on_s, off_s, n, alternating } => {
                let how = if alternating { "in turn" } else { "on each line" };
                format!("{} on, {} off, {n} times {how}", t(on_s), t(off_s))
            }
        }
    }
}

/// Weight of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Weight {
    /// kg of one implement, [heavier, lighter].
    Kg([f64; 2]),
    /// Per cent of a maximum: every member's own weight.
    Percent {
        /// Per cent.
        percent: f64,
        /// Of what.
        of: PercentBase,
    },
}

/// A weight as the sheet has it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct OnSheet {
    /// kg of one implement, [heavier, lighter].
    pub kg: [f64; 2],
    /// The unit in which it was typed.
    pub typed: WeightUnit,
}

/// A further movement done with each pass of a line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Along {
    /// Catalogue id.
    pub movement: String,
    /// As the counts of its line.
    pub counts: Vec<[f64; 2]>,
}

/// One line of work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Line {
    /// Catalogue id.
    pub movement: String,
    /// How it differs from the plain movement.
    pub variant: Option<String>,
    /// Part of the work that it belongs to.
    pub part: usize,
    /// Around the list of its part, and when; `None`: in the list.
    pub around: Option<When>,
    /// What stands above it where a later part begins: `rest 2:00, then once through`; else empty.
    pub lead: String,
    /// One entry for all rounds, or one for each number of a scheme; none where it is done as much as possible.
    pub counts: Vec<[f64; 2]>,
    /// More each round, in the line's unit.
    pub rise: f64,
    /// What they count.
    pub unit: Unit,
    /// Half on each side.
    pub per_side: bool,
    /// Weight, where one is held.
    pub weight: Option<Weight>,
    /// The sheet gave no weight: the movement's usual one is taken.
    pub weight_assumed: bool,
    /// The unit in which its weights are spoken of: the sheet's, the hall's once they are of the hall's stock.
    pub speaks: WeightUnit,
    /// What the sheet says, where the hall cannot build it.
    pub on_sheet: Option<OnSheet>,
    /// Implements held.
    pub implements: u8,
    /// cm.
    pub height_cm: Option<[f64; 2]>,
    /// Must not be broken.
    pub unbroken: bool,
    /// May be left out.
    pub optional: bool,
    /// Done with it.
    pub along: Vec<Along>,
}

/// When work around a list is done, as it stands before the line.
fn around_words(when: When) -> String {
    match when {
        When::BuyIn => "buy-in:".to_owned(),
        When::CashOut => "cash-out:".to_owned(),
        When::AfterRound(n) => format!("after round {n}:"),
        When::EachRoundMore => "each round add".to_owned(),
        When::OnTheClock { every_s: 60, .. } => "every minute:".to_owned(),
        When::OnTheClock { every_s, .. } => format!("every {}:", crate::units::clock(f64::from(every_s))),
        When::OnBreak => "every break:".to_owned(),
    }
}

/// A part of the work on one clock.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Section {
    /// Fixed rest before it, s.
    pub rest_before_s: u32,
    /// Its clock.
    pub clock: Clock,
    /// Fixed rests: (before which line of the work, s); one after the part's last line lies between rounds.
    pub rests: Vec<(usize, u32)>,
}

/// A workout of one version.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Work {
    /// Its parts in order, at least one.
    pub sections: Vec<Section>,
    /// Lines of all parts in order, with those around the lists.
    pub lines: Vec<Line>,
    /// Who does it together.
    pub team: Option<Team>,
    /// The worst round or window is the score.
    pub lowest: bool,
    /// s of its open clock as written, where a version has less of it.
    pub shortened_from: Option<u32>,
}

impl Line {
    /// The weight in kg of one implement as written, where it is the same for all of a standard.
    pub fn kg(&self) -> Option<[f64; 2]> {
        match &self.weight {
            Some(Weight::Kg(kg)) => Some(*kg),
            _ => None,
        }
    }

    /// How many implements count together for the load of the whole movement.
    pub fn held(&self) -> f64 {
        let one = self.variant.as_deref() == Some(super::variants::WITH_ONE);
        let pair =
            !one && catalogue().movement(&self.movement).is_some_and(|m| m.load == LoadKind::DumbbellPair);
        f64::from(self.implements.max(if pair { 2 } else { 1 }))
    }

    /// The count of a round, for one standard.
    pub fn count(&self, round: usize, standard: Standard) -> f64 {
        self.counts.get(round).or(self.counts.last()).map_or(0.0, |c| standard.of(*c))
    }

    /// The largest count of any round, heavier standard.
    pub fn largest(&self) -> f64 {
        self.counts.iter().map(|c| c[0]).fold(0.0, f64::max)
    }

    /// The line in words for both standards.
    pub fn text(&self) -> String {
        self.text_with(self.counts.clone(), self.kg())
    }

    /// The line in words for one standard, with its own figures only.
    pub fn text_for(&self, standard: Standard) -> String {
        let one = |p: [f64; 2]| [standard.of(p); 2];
        self.text_with(self.counts.iter().map(|c| one(*c)).collect(), self.kg().map(one))
    }

    fn text_with(&self, counts: Vec<[f64; 2]>, kg: Option<[f64; 2]>) -> String {
        let implements = if self.held() > 1.0 { 2 } else { 1 };
        let held = kg.map(|kg| Held { kg, implements, unit: self.speaks });
        let mut out = line_text(&self.movement, &counts, self.unit, self.per_side, held, self.height_cm);
        if self.rise != 0.0 {
            let sign = if self.rise < 0.0 { "-" } else { "+" };
            let rise = format!(" ({sign}{})", crate::units::plain(self.rise.abs()));
            out.insert_str(out.find(' ').unwrap_or(out.len()), &rise);
        }
        if let Some(Weight::Percent { percent, .. }) = &self.weight {
            out.push_str(&format!(" at {} %", crate::units::plain(*percent)));
        }
        if let Some(v) = &self.variant {
            out.push_str(&format!(" ({v})"));
        }
        for a in &self.along {
            let more = line_text(&a.movement, &a.counts, Unit::Reps, false, None, None);
            out.push_str(&format!(" and {more}"));
        }
        match self.around {
            None => out,
            Some(when) => format!("{} {out}", around_words(when)),
        }
    }
}

impl Work {
    /// Work of one part.
    pub fn single(clock: Clock, lines: Vec<Line>) -> Work {
        let section = Section { rest_before_s: 0, clock, rests: Vec::new() };
        Work { sections: vec![section], lines, team: None, lowest: false, shortened_from: None }
    }

    /// The clock of the first part.
    pub fn clock(&self) -> Clock {
        self.sections.first().map_or(Clock::Once, |s| s.clock)
    }

    /// Lines of a part's list, with their places in the work.
    pub fn list(&self, part: usize) -> impl Iterator<Item = (usize, &Line)> {
        self.lines.iter().enumerate().filter(move |(_, l)| l.part == part && l.around.is_none())
    }

    /// Lines around a part's list, with their places in the work.
    pub fn around(&self, part: usize) -> impl Iterator<Item = (usize, &Line)> {
        self.lines.iter().enumerate().filter(move |(_, l)| l.part == part && l.around.is_some())
    }

    /// One part on its own; `None` for a part without lines.
    pub fn part(&self, part: usize) -> Option<Work> {
        let section = self.sections.get(part)?;
        let first = self.lines.iter().position(|l| l.part == part)?;
        let lines: Vec<Line> = self
            .lines
            .iter()
            .filter(|l| l.part == part)
            .map(|l| Line { part: 0, lead: String::new(), ..l.clone() })
            .collect();
        let shortened_from = self.shortened_from;
        let rests = section.rests.iter().map(|(at, s)| (at.saturating_sub(first), *s)).collect();
        let alone = Section { rest_before_s: 0, clock: section.clock, rests };
        Some(Work { sections: vec![alone], lines, team: self.team, lowest: self.lowest, shortened_from })
    }

    /// The stimulus that a shorter open clock keeps: the same rounds or reps a minute.
    pub fn keeps(&self, stimulus: &Stimulus) -> Stimulus {
        match (self.shortened_from, self.clock()) {
            (Some(written), Clock::Amrap(now)) => stimulus.times(f64::from(now) / f64::from(written.max(1))),
            _ => stimulus.clone(),
        }
    }

    /// Gives an open clock less time.
    pub fn shorten(&mut self, to: u32) {
        if let Some(Clock::Amrap(t)) = self.sections.first_mut().map(|s| &mut s.clock)
            && to < *t
        {
            self.shortened_from = self.shortened_from.or(Some(*t));
            *t = to;
        }
    }

    /// Takes a line out.
    pub fn remove(&mut self, line: usize) {
        self.lines.remove(line);
        for section in &mut self.sections {
            for (at, _) in &mut section.rests {
                *at -= usize::from(*at > line);
            }
        }
    }

    /// What one of a team does where everybody has windows of their own: an equal share of every count.
    pub fn of_one(&self, team: Team) -> Work {
        let mut work = Work { team: None, ..self.clone() };
        for line in &mut work.lines {
            let share = |v: f64| (v / f64::from(team.size.max(1))).ceil();
            line.counts = line.counts.iter().map(|c| c.map(share)).collect();
        }
        work
    }

    /// Times through the list of the first part; 1 where that is open.
    pub fn rounds(&self) -> usize {
        self.section_rounds(0)
    }

    fn section_rounds(&self, part: usize) -> usize {
        match self.sections.get(part).map(|s| s.clock) {
            Some(Clock::Rounds(n) | Clock::Scheme(n) | Clock::Every { n, .. } | Clock::Windows { n, .. }) => {
                n as usize
            }
            Some(Clock::Stations { rounds, .. }) => rounds as usize,
            _ => 1,
        }
    }

    /// Units of a line in the whole work, for one standard; `None` where it depends on the member.
    pub fn total(&self, place: usize, standard: Standard) -> Option<f64> {
        let line = self.lines.get(place).filter(|l| !l.counts.is_empty())?;
        let clock = self.sections.get(line.part)?.clock;
        let rounds = self.section_rounds(line.part);
        let turns = match (line.around, clock) {
            (Some(When::OnTheClock { .. } | When::OnBreak), _) => return None,
            (Some(When::BuyIn), Clock::Windows { n, .. }) => n as usize,
            (Some(When::BuyIn | When::CashOut | When::AfterRound(_)), _) => 1,
            (_, Clock::Amrap(_) | Clock::UntilFailure { .. }) => return None,
            (_, Clock::Windows { .. }) if !self.ends_with_max(line.part) => return None,
            (Some(When::EachRoundMore), _) => rounds * rounds.saturating_sub(1) / 2,
            (None, Clock::Alternating { n, .. } | Clock::OnOff { n, alternating: true, .. }) => {
                let entries = self.entries(line.part);
                let at = entries.iter().position(|e| *e == Some(place)).unwrap_or(0);
                let (n, k) = (n as usize, entries.len().max(1));
                n / k + usize::from(at < n % k)
            }
            (None, Clock::OnOff { n, .. }) => n as usize,
            (None, _) => rounds,
        };
        if line.counts.len() > 1 {
            return Some(line.counts.iter().map(|c| standard.of(*c)).sum());
        }
        let c = line.count(0, standard);
        Some((0..turns).map(|j| (c + line.rise * j as f64).max(0.0)).sum())
    }

    /// Whether the last line of a part's list is done as much as possible.
    pub fn ends_with_max(&self, part: usize) -> bool {
        self.list(part).last().is_some_and(|(_, l)| l.counts.is_empty())
    }

    /// Entries of a part that take turns: lines by place, `None` for a rest.
    pub fn entries(&self, part: usize) -> Vec<Option<usize>> {
        let rests = self.sections.get(part).map_or(&[][..], |s| s.rests.as_slice());
        let mut out = Vec::new();
        for (i, _) in self.list(part) {
            out.extend(rests.iter().filter(|(at, _)| *at == i).map(|_| None));
            out.push(Some(i));
        }
        let last = self.list(part).last().map_or(0, |(i, _)| i + 1);
        out.extend(rests.iter().filter(|(at, _)| *at == last).map(|_| None));
        out
    }

    /// Whether the whole of it is done as fast as possible: the score is a time.
    pub fn for_time(&self) -> bool {
        self.sections.iter().any(|s| s.clock.for_time())
    }

    /// Interval of cycles whose measure is the rest that is left, s.
    pub fn cycle_s(&self) -> Option<f64> {
        let all: Option<Vec<u32>> = self.sections.iter().map(|s| s.clock.cycles()).collect();
        all?.into_iter().min().map(f64::from)
    }

    /// Cycles until one fails are the score.
    pub fn until_failure(&self) -> bool {
        matches!(self.sections.as_slice(), [Section { clock: Clock::UntilFailure { .. }, .. }])
    }

    /// One open list: rounds of it are the score.
    pub fn one_amrap(&self) -> bool {
        matches!(self.sections.as_slice(), [Section { clock: Clock::Amrap(_), .. }])
    }

    /// Length in seconds where the clock fixes it.
    pub fn clock_s(&self) -> Option<f64> {
        let mut sum = 0u32;
        for (part, s) in self.sections.iter().enumerate() {
            let windows = |on: u32, off: u32, n: u32| {
                on.saturating_mul(n).saturating_add(off.saturating_mul(n.saturating_sub(1)))
            };
            let entries = self.entries(part).len().max(1) as u32;
            let length = match s.clock {
                Clock::Amrap(t) => t,
                Clock::Every { every_s, n } | Clock::Alternating { every_s, n } => every_s.saturating_mul(n),
                Clock::Windows { on_s, off_s, n } | Clock::OnOff { on_s, off_s, n, alternating: true } => {
                    windows(on_s, off_s, n)
                }
                Clock::Stations { on_s, off_s, rounds: n } | Clock::OnOff { on_s, off_s, n, .. } => {
                    windows(on_s, off_s, n.saturating_mul(entries))
                }
                _ => return None,
            };
            sum = sum.saturating_add(length).saturating_add(s.rest_before_s);
        }
        Some(f64::from(sum))
    }

    /// The clock in words, part after part.
    pub fn clock_text(&self) -> String {
        let parts: Vec<String> = self.sections.iter().map(|s| s.clock.text()).collect();
        let together = self.team.map(|t| {
            let who = if t.size == 2 { "pairs".to_owned() } else { format!("teams of {}", t.size) };
            match t.mode {
                TeamMode::Alternate => format!(", {who} alternate rounds"),
                TeamMode::OneWorks => format!(", {who}, one works"),
                TeamMode::Share => format!(", {who} share the reps"),
            }
        });
        format!("{}{}", parts.join(", then "), together.unwrap_or_default())
    }
}
