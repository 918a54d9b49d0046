//! How a version was found: the path from the version above, a lever at a time, and what else lies one lever away, each with
//! how it would have gone for the group that the version is made for.

use super::groups::Versions;
use super::{GroupFit, WantedVersion, candidates, fit_of, work_of};
use crate::settings::Settings;
use crate::units::Standard;
use crate::versions::predict::{Quick, quick_score};
use crate::versions::scale::{Hands, Setting, change_text};
use crate::versions::work::{Tier, Work};
use rayon::prelude::*;

/// One candidate that was run.
#[derive(Debug, Clone, PartialEq)]
pub struct Candidate {
    /// What differs, in words; from the step before on the path, from the version found among the others.
    pub changes: String,
    /// Likely result of the group's middle, one for each standard that is there, in the window's unit.
    pub results: Vec<(Standard, f64)>,
    /// All of them lie in the window.
    pub inside: bool,
    /// How it fares.
    pub fit: GroupFit,
}

impl Candidate {
    /// Why the one that was found is better, by the part of the sum in which this one is worst against it.
    pub fn why_not(&self, found: &GroupFit) -> &'static str {
        let parts = [
            (self.fit.beyond - found.beyond, "more than this group can do in a first set"),
            (self.fit.late - found.late, "ends after the window"),
            (self.fit.early - found.early, "ends before the window"),
            (self.fit.wishes - found.wishes, "breaks what is asked of the sets"),
            (0.01 + self.fit.said - found.said, "comes later in the order of what gives way"),
        ];
        parts.into_iter().max_by(|a, b| a.0.total_cmp(&b.0)).map_or("", |(_, words)| words)
    }
}

/// How a version was found.
#[derive(Debug, Clone, PartialEq)]
pub struct Search {
    /// From the version above to this one, both with it.
    pub path: Vec<Candidate>,
    /// What else was run, best first.
    pub others: Vec<Candidate>,
}

/// The search for a version, run again; `None` for the version as written. At most `most` others are given.
pub fn search_of(
    made: &Versions,
    tier: Tier,
    hands: Hands,
    settings: &Settings,
    most: usize,
) -> Option<Search> {
    let wanted = made.wanted(tier, hands, settings)?;
    let version = made.list.iter().find(|v| v.tier == tier)?;
    let found = version.path.last()?;
    let run = |s: &Setting, from: &Work| candidate(made, s, from, &wanted);
    let mut before = made.levers.apply(wanted.floor);
    let path = version
        .path
        .iter()
        .map(|s| {
            let c = run(s, &before);
            (before, _) = work_of(&made.levers, s, &wanted);
            c
        })
        .collect();
    let mut others: Vec<Candidate> = candidates(&made.levers, &wanted)
        .par_iter()
        .filter(|s| *s != found)
        .map(|s| run(s, &version.work))
        .filter(|c| !c.changes.is_empty())
        .collect();
    others.sort_by(|a, b| a.fit.sum().total_cmp(&b.fit.sum()));
    others.dedup_by(|a, b| a.changes == b.changes);
    others.truncate(most);
    Some(Search { path, others })
}

fn candidate(made: &Versions, s: &Setting, from: &Work, wanted: &WantedVersion) -> Candidate {
    let (work, _) = work_of(&made.levers, s, wanted);
    let quick: Vec<(Standard, Quick)> = wanted
        .group
        .athletes
        .iter()
        .map(|(standard, athlete)| (*standard, quick_score(&work, *standard, athlete, wanted.hands.stimulus)))
        .collect();
    let steady = quick.iter().all(|(_, q)| q.unsteady == 0.0);
    let results: Vec<(Standard, f64)> = quick.iter().map(|(s, q)| (*s, q.score)).collect();
    Candidate {
        changes: differences(from, &work),
        inside: steady && results.iter().all(|(_, v)| work.keeps(wanted.hands.stimulus).holds(*v)),
        fit: fit_of(&made.levers, s, wanted),
        results,
    }
}

fn differences(from: &Work, to: &Work) -> String {
    let mut out: Vec<String> =
        from.lines.iter().zip(&to.lines).filter_map(|(a, b)| change_text(a, b)).collect();
    if from.clock() != to.clock() {
        out.push(format!("{} instead of {}", to.clock_text(), from.clock_text()));
    }
    out.join("; ")
}
