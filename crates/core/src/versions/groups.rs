//! Makes the three versions for a class: who does not hold the stimulus at Full is split in two by predicted result,
//! and each half's middle is what Trim and Base are made for.

use super::levers::{Levers, Setting};
use super::personal::change_text;
use super::predict::quick_score;
use super::search::{Group, Tier, find};
use super::work::{Line, Work};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::pacing::{Athlete, Level, most_reps, table};
use crate::roster::{Ability, Member};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::{Standard, plain};
use rayon::prelude::*;

/// One of the three.
#[derive(Debug, Clone)]
pub struct Version {
    /// Rank.
    pub tier: Tier,
    /// What is done.
    pub work: Work,
    /// Changes from Full in words, one for each line that differs, with why.
    pub changes: Vec<String>,
    /// Candidates that were run to find it.
    pub tried: u32,
    /// For whom it was made.
    pub made_for: String,
}

/// The three versions and what they were found on.
#[derive(Debug, Clone)]
pub struct Versions {
    /// Full, Trim, Base.
    pub list: Vec<Version>,
    /// Levers.
    pub levers: Levers,
    /// Positions of the three.
    pub settings: Vec<Setting>,
}

impl Versions {
    /// The works, hardest first.
    pub fn works(&self) -> Vec<Work> {
        self.list.iter().map(|v| v.work.clone()).collect()
    }
}

/// Makes Full, Trim and Base.
pub fn make(
    written: &Work,
    stimulus: &Stimulus,
    class: &[(&Member, &Ability)],
    kit: &Kit,
    bars: &Bars,
    settings: &Settings,
) -> Versions {
    let levers = Levers::of(written, kit, bars, settings);
    let start = levers.start();
    let full = levers.apply(&start);
    let (trim_for, base_for, who) = groups(&full, stimulus, class);
    let trim = find(&levers, &start, &trim_for, stimulus, settings);
    let base = find(&levers, &trim.setting, &base_for, stimulus, settings);
    let version = |tier, work: &Work, tried, made_for: &str, group: &Group| Version {
        tier,
        changes: changes(&full, work, group),
        work: work.clone(),
        tried,
        made_for: made_for.to_owned(),
    };
    let list = vec![
        version(Tier::Full, &full, 1, "everybody who holds the stimulus as written", &trim_for),
        version(Tier::Trim, &trim.work, trim.tried, &who[0], &trim_for),
        version(Tier::Base, &base.work, base.tried, &who[1], &base_for),
    ];
    let settings = vec![start, trim.setting, base.setting];
    Versions { list, levers, settings }
}

fn changes(full: &Work, work: &Work, group: &Group) -> Vec<String> {
    let mut out: Vec<String> = full
        .lines
        .iter()
        .zip(&work.lines)
        .filter_map(|(a, b)| Some(format!("{}: {}.", change_text(a, b)?, why(a, b, group))))
        .collect();
    if full.clock() != work.clock() {
        out.push(format!("{} instead of {}.", work.clock_text(), full.clock_text()));
    }
    out
}

/// What the group can do of a line before and after, one figure for each standard that is there.
fn why(from: &Line, to: &Line, group: &Group) -> String {
    let most = |l: &Line| {
        let one = |(s, a): &(Standard, Athlete)| {
            let load = l.kg().map_or(0.0, |kg| s.of(kg)) * l.held();
            let row = table::row(&l.movement)?;
            Some(most_reps(a, row, load, 1.0))
        };
        group.iter().filter_map(one).collect::<Vec<_>>()
    };
    let list = |v: Vec<String>| v.join(" and ");
    let sets = |l: &Line| list(most(l).iter().map(|(m, _)| plain(m.max(0.0).floor())).collect());
    let shares = |l: &Line| list(most(l).iter().map(|(_, s)| format!("{} %", (s * 100.0).round())).collect());
    if from.movement == to.movement && from.kg() != to.kg() {
        return format!(
            "this group lifts it at {} of one maximum, as written at {}",
            shares(to),
            shares(from)
        );
    }
    if most(from).iter().all(|(m, _)| m.is_finite()) && !most(from).is_empty() {
        return format!("this group's largest set as written is {}", sets(from));
    }
    "less of it brings this group into the window".to_owned()
}

fn of_level(level: Level) -> Group {
    Standard::BOTH.map(|s| (s, Athlete::of_level(s, level))).to_vec()
}

/// The middle of some members, one athlete for each standard that is there.
fn middle(members: &[(Standard, &Athlete)]) -> Group {
    Standard::BOTH
        .into_iter()
        .filter_map(|s| {
            let of: Vec<&Athlete> = members.iter().filter(|(x, _)| *x == s).map(|(_, a)| *a).collect();
            Athlete::middle_of(&of).map(|a| (s, a))
        })
        .collect()
}

fn groups(full: &Work, stimulus: &Stimulus, class: &[(&Member, &Ability)]) -> (Group, Group, [String; 2]) {
    let mut late: Vec<(f64, Standard, &Athlete)> = class
        .par_iter()
        .filter_map(|(m, a)| {
            let score = quick_score(full, m.standard, &a.athlete, stimulus).score;
            stimulus.too_hard(score).then_some((score, m.standard, &a.athlete))
        })
        .collect();
    // strongest first
    late.sort_by(|a, b| if stimulus.is_time() { a.0.total_cmp(&b.0) } else { b.0.total_cmp(&a.0) });
    let n = late.len();
    if n == 0 {
        let words = |l: Level| format!("the {} level: nobody here needs it", l.word());
        return (of_level(Level::Regular), of_level(Level::New), [words(Level::Regular), words(Level::New)]);
    }
    let pairs: Vec<(Standard, &Athlete)> = late.iter().map(|(_, s, a)| (*s, *a)).collect();
    let cut = n.div_ceil(2);
    let (first, second) = pairs.split_at(cut);
    let say = |k: usize, what: &str| {
        let members = if k == 1 { "member who is" } else { "members who are" };
        format!("the {what} {k} {members} late at Full")
    };
    let trim = middle(first);
    let (base, base_say) = if second.is_empty() {
        (of_level(Level::New), format!("the {} level: one member is late at Full", Level::New.word()))
    } else {
        (middle(second), say(second.len(), "slower"))
    };
    (trim, base, [say(first.len(), "faster"), base_say])
}
