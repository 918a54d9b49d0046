//! The work of a version: lists of lines on clocks, read from a block of the sheet (`from_sheet.rs`) and changed by levers.
//! Counts are totals of both sides, loads kg of one implement, both [heavier, lighter].

mod board;
mod built;
mod clock;
mod compile;
mod friendly;
mod from_sheet;
mod line;
mod phases;
mod together;

pub use crate::units::Tier;
pub use board::{board_of_units, board_reps, rounds_of_units};
pub use built::nearest;
pub use clock::Clock;
pub use compile::{Compiled, compile, compile_lines, line_kg};
pub use friendly::{even_up, friendly, friendly_at_most, friendly_count, friendly_counts};
pub use from_sheet::own_levels;
pub use line::{Along, Line, OnSheet, Weight};
pub use phases::{Call, Phase, PhaseKind};

use crate::sheet::{Team, TeamMode, When};
use crate::stimulus::Stimulus;
use crate::units::Standard;
use serde::{Deserialize, Serialize};

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

    /// Movements of all lines in order, each with those that go along with it: a round's positions.
    pub fn positions(&self) -> impl Iterator<Item = &str> {
        self.lines.iter().flat_map(|l| {
            std::iter::once(l.movement.as_str()).chain(l.along.iter().map(|a| a.movement.as_str()))
        })
    }

    /// The first position of a line.
    pub fn position_of(&self, line: usize) -> usize {
        self.lines.iter().take(line).map(|l| 1 + l.along.len()).sum()
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
