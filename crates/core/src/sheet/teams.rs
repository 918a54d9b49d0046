//! Teams put into their block: how many, how they divide the work, and the work of each person.

use super::assemble::Assembler;
use super::draft::Draft;
use super::kind::LineKind;
use super::model::{Team, TeamMode};
use super::problem::Severity;
use super::scan::problem;

impl Assembler {
    pub(super) fn team(&mut self, size: Option<u32>, mode: Option<TeamMode>) {
        let fits = self.block.as_ref().is_some_and(|d| d.block.team.is_some()) || size.is_some();
        if !fits {
            return;
        }
        self.with(LineKind::Team, |d| {
            let known = d.block.team;
            let size = size.or(known.map(|t| t.size)).unwrap_or(2).clamp(2, 6);
            let mode = mode.or(known.map(|t| t.mode)).unwrap_or(TeamMode::Share);
            d.block.team = Some(Team { size, mode });
        });
        if mode.is_some() {
            self.divided();
        }
    }

    fn divided(&mut self) {
        if let Some(d) = &mut self.block {
            d.divided = true;
        }
    }

    pub(super) fn person(&mut self, n: u32) {
        if let Some(d) = &mut self.block {
            let size = n.max(2);
            let team = d.block.team.get_or_insert(Team { size, mode: TeamMode::Alternate });
            team.size = team.size.max(size);
            d.persons += 1;
            d.divided = true;
        }
        self.kind = self.kind.or(Some(LineKind::Work));
    }

    pub(super) fn undivided(&mut self, d: &Draft) {
        let Some(team) = d.block.team.filter(|_| !d.divided) else { return };
        let Some((line, from, to)) = self.team_place.take() else { return };
        let message =
            "It is not said how they divide the work. I read that they share the reps of every line.";
        let mut p = problem(&line, from, to, Severity::Warning, message);
        let who = if team.size == 2 { "pairs".to_owned() } else { format!("teams of {}", team.size) };
        p.suggestions =
            ["share the reps", "alternate rounds", "one works"].map(|how| format!("{who}, {how}")).to_vec();
        self.problems.push(p);
    }
}
