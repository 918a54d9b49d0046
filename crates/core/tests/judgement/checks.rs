//! The shape of a case, and the plan that it is judged by.

use lantern_core::kit::Kit;
use lantern_core::plan::{
    Class, CountAnswer, MemberAnswer, Options, OwnLine, PlanAnswer, VersionAnswer, answer, plan,
};
use lantern_core::roster::{Member, read_csv};
use lantern_core::settings::Settings;
use lantern_core::sheet::read;
use lantern_core::versions::Tier;
use serde::Deserialize;
use std::collections::BTreeMap;

#[derive(Deserialize)]
pub struct Cases {
    pub rosters: BTreeMap<String, String>,
    pub kits: BTreeMap<String, String>,
    pub cases: Vec<Case>,
}

#[derive(Deserialize)]
pub struct Case {
    pub title: String,
    pub sheet: String,
    pub roster: String,
    pub kit: Option<String>,
    #[serde(default)]
    pub open: bool,
    pub checks: Vec<Check>,
}

/// Names, or `limit:knee` for everybody with a limit.
pub type Who = Option<Vec<String>>;

#[derive(Debug, Deserialize)]
#[serde(tag = "check", rename_all = "snake_case", deny_unknown_fields)]
pub enum Check {
    // members
    Tier { who: Who, r#in: Vec<Tier> },
    Load { who: Who, r#move: Vec<String>, min: Option<f64>, max: Option<f64> },
    DoesNot { who: Who, r#move: Vec<String> },
    DoesOneOf { who: Who, r#move: Vec<String> },
    Count { who: Who, r#move: Vec<String>, min: Option<f64>, max: Option<f64> },
    Total { who: Who, r#move: Vec<String>, min: Option<f64>, max: Option<f64> },
    Sets { who: Who, r#move: Vec<String>, max: usize },
    Half { who: Who, r#move: Vec<String> },
    NoStrings,
    OneBar { who: Who },
    LimitsHold { who: Who },
    Least,
    Kit { gone: Vec<String> },
    PersonalLines { who: Who, max: usize },
    PersonalEach { who: Who, max: usize },
    NoLoadOnly,
    TextNot { who: Who, r#where: String, words: Vec<String> },
    ToldApart,
    Better { better: String, worse: String },
    Prediction { who: Who, field: String, min: Option<f64>, max: Option<f64> },
    // versions
    Scheme { allow: Vec<String> },
    Falling,
    EqualCounts { lines: Vec<usize> },
    VersionOneBar,
    BaseLighter,
    NotHarder,
    VersionsDiffer,
    Friendly,
    Units,
    VersionCountMin { share: f64 },
    Distances,
    VersionMove { tier: Tier, has: Option<Vec<String>>, not: Option<Vec<String>> },
    SameMinutes,
    SameRounds,
    // strength, warm-up, hour, cautions
    BaseKg { who: Who, lift: Vec<String>, min: Option<f64>, max: Option<f64> },
    Lift { who: Who, not: Vec<String> },
    LimitsHoldStrength,
    Top { who: Who, percent: f64 },
    Rising,
    LastJump,
    WarmHas { words: Vec<String> },
    Hour { max: u32 },
    CautionHas { tag: String },
    CautionNot { tag: String, r#where: String },
    CautionOnce,
    CautionCount { max: usize },
}

/// A plan with the members it was made for.
pub struct Planned {
    pub plan: PlanAnswer,
    pub members: Vec<Member>,
    /// The workout that is judged.
    pub block: usize,
}

impl Planned {
    pub fn of(cases: &Cases, case: &Case) -> Planned {
        let members = read_csv(&cases.rosters[&case.roster]).members;
        let kit = match &case.kit {
            Some(k) => Kit::from_toml(&cases.kits[k]).unwrap(),
            None => Kit::usual(),
        };
        let class = Class {
            members: members.clone(),
            kit,
            date: "2026-11-23".parse().unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let options = Options { runs: 60, seed: 1, ..Options::default() };
        let plan = answer(&plan(&read(&case.sheet).sheet, &class, &Settings::default(), &[], options));
        let block = plan.versions.iter().map(|v| v.block).min().unwrap_or(0);
        Planned { plan, members, block }
    }

    pub fn version(&self, tier: Tier) -> &VersionAnswer {
        self.plan.versions.iter().find(|v| v.block == self.block && v.tier == tier).unwrap()
    }

    pub fn versions(&self) -> Vec<&VersionAnswer> {
        self.plan.versions.iter().filter(|v| v.block == self.block).collect()
    }

    /// Those whom a check speaks of, with what is planned for them.
    pub fn who(&self, who: &Who) -> Vec<(&Member, &MemberAnswer)> {
        let all = self.members.iter().zip(&self.plan.members);
        let fits = |m: &Member| {
            let named = |w: &String| match w.strip_prefix("limit:") {
                Some(limit) => m.limits.iter().any(|l| l.word() == limit),
                None => *w == m.name,
            };
            who.as_ref().is_none_or(|w| w.iter().any(named))
        };
        let out: Vec<_> = all.filter(|(m, _)| fits(m)).collect();
        assert!(!out.is_empty(), "nobody: {who:?}");
        out
    }

    pub fn lines<'a>(&self, m: &'a MemberAnswer) -> Vec<&'a OwnLine> {
        m.lines.iter().filter(|l| l.block == self.block).collect()
    }

    /// What a check finds against the plan; empty where it holds.
    pub fn judge(&self, check: &Check) -> Vec<String> {
        self.of_strength(check)
            .or_else(|| self.of_members(check))
            .or_else(|| self.of_versions(check))
            .unwrap_or_else(|| panic!("{check:?} is judged nowhere"))
    }
}

pub fn within(v: f64, min: Option<f64>, max: Option<f64>) -> bool {
    v >= min.unwrap_or(f64::NEG_INFINITY) - 0.01 && v <= max.unwrap_or(f64::INFINITY) + 0.01
}

/// The one count of a line, where it has one.
pub fn each(count: &Option<CountAnswer>) -> Option<f64> {
    match count {
        Some(CountAnswer::Each(n)) => Some(*n),
        _ => None,
    }
}

/// Counts at the beginning of a line in words: `15-12-9`, `12`.
pub fn counts_in(text: &str) -> Vec<u32> {
    let first = text.split(' ').next().unwrap_or("");
    let first = first.split('/').next().unwrap_or(first);
    first.split('-').map(str::parse).collect::<Result<_, _>>().unwrap_or_default()
}
