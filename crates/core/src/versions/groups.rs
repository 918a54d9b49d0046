//! Makes the three versions for a class: who does not hold the stimulus at Full is split in two by predicted result,
//! and each half's middle is what Trim and Base are made for.

use super::levers::{Levers, Setting};
use super::personal::change_text;
use super::predict::quick_score;
use super::search::{Found, Group, Loads, Tier, Wanted, find};
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
    /// From the version above to this one, a lever at a time, both ends with it.
    pub path: Vec<Setting>,
    /// The athletes for whom it was made.
    pub group: Group,
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
    /// The coach wrote versions of their own: they are kept, and nothing further is searched.
    pub own: bool,
}

impl Versions {
    /// The works, hardest first.
    pub fn works(&self) -> Vec<Work> {
        self.list.iter().map(|v| v.work.clone()).collect()
    }
}

/// The hall's rules for what a version above leaves to the one below.
fn loads_of(tier: Tier, settings: &Settings) -> Loads {
    match (settings.school("load-choice"), tier) {
        // two standard loads and one lighter tier
        ("fixed", Tier::Full | Tier::Trim) => Loads::Kept,
        _ => Loads::Chosen,
    }
}

/// Makes Full, Trim and Base. `kept`: versions that the coach chose for members (by position in the class) and round which
/// the versions are made.
pub fn make(
    written: &Work,
    stimulus: &Stimulus,
    class: &[(&Member, &Ability)],
    kept: &[(usize, Tier)],
    kit: &Kit,
    bars: &Bars,
    settings: &Settings,
) -> Versions {
    let levers = Levers::of(written, kit, bars, settings);
    let start = levers.start();
    let full = levers.apply(&start);
    let (trim_for, base_for, who) = groups(&full, stimulus, class, kept);
    let search = |floor: &Setting, group: &Group, tier| {
        let loads = loads_of(tier, settings);
        find(&levers, &Wanted { floor, group, stimulus, settings, loads })
    };
    let trim = search(&start, &trim_for, Tier::Trim);
    let base = search(&trim.setting, &base_for, Tier::Base);
    let as_written = Found { setting: start.clone(), work: full.clone(), tried: 1, path: vec![start] };
    let version = |tier, found: Found, made_for: &str, group: &Group| Version {
        tier,
        changes: changes(&full, &found.work, group, stimulus),
        work: found.work,
        tried: found.tried,
        path: found.path,
        group: group.clone(),
        made_for: made_for.to_owned(),
    };
    let settings = [&as_written, &trim, &base].map(|f| f.setting.clone()).to_vec();
    let list = vec![
        version(Tier::Full, as_written, "everybody who holds the stimulus as written", &trim_for),
        version(Tier::Trim, trim, &who[0], &trim_for),
        version(Tier::Base, base, &who[1], &base_for),
    ];
    Versions { list, levers, settings, own: false }
}

impl Versions {
    /// The same with the coach's own Trim and Base in place of those that were found.
    pub fn with_own(mut self, own: [Option<Work>; 2], stimulus: &Stimulus) -> Versions {
        let Some(full) = self.list.first().map(|v| v.work.clone()) else { return self };
        for (v, work) in self.list.iter_mut().skip(1).zip(own) {
            let Some(work) = work else { continue };
            v.changes = changes(&full, &work, &v.group, stimulus);
            v.work = work;
            v.tried = 0;
            v.path.clear();
            v.made_for = "whoever the coach wrote this level for".to_owned();
            self.own = true;
        }
        self
    }

    /// What a version was wanted for, to run candidates of it again; `None` for the one as written.
    pub fn wanted<'a>(
        &'a self,
        tier: Tier,
        stimulus: &'a Stimulus,
        settings: &'a Settings,
    ) -> Option<Wanted<'a>> {
        let at = Tier::ALL.iter().position(|t| *t == tier).filter(|_| !self.own)?;
        let floor = self.settings.get(at.checked_sub(1)?)?;
        let group = &self.list.get(at)?.group;
        Some(Wanted { floor, group, stimulus, settings, loads: loads_of(tier, settings) })
    }
}

fn changes(full: &Work, work: &Work, group: &Group, stimulus: &Stimulus) -> Vec<String> {
    // what the version would give with one change taken back
    let with = |back: &dyn Fn(&mut Work)| {
        let mut other = work.clone();
        back(&mut other);
        format!(
            "without this change {}, with it {}",
            results(&other, group, stimulus),
            results(work, group, stimulus)
        )
    };
    let mut out: Vec<String> = full
        .lines
        .iter()
        .zip(&work.lines)
        .enumerate()
        .filter_map(|(i, (a, b))| {
            let change = change_text(a, b)?;
            let back = |w: &mut Work| {
                if let Some(l) = w.lines.get_mut(i) {
                    l.clone_from(a);
                }
            };
            Some(format!("{change}: {}.", why(a, b, group).unwrap_or_else(|| with(&back))))
        })
        .collect();
    if full.clock() != work.clock() {
        let back = |w: &mut Work| w.sections.clone_from(&full.sections);
        out.push(format!("{} instead of {}: {}.", work.clock_text(), full.clock_text(), with(&back)));
    }
    out
}

/// Likely results of a group's middle, one for each standard that is there: `13:40 and 14:10`.
fn results(work: &Work, group: &Group, stimulus: &Stimulus) -> String {
    let one = |(s, a): &(Standard, Athlete)| {
        let score = quick_score(work, *s, a, stimulus).score;
        if score.is_finite() { stimulus.write(score) } else { "no finish".to_owned() }
    };
    group.iter().map(one).collect::<Vec<_>>().join(" and ")
}

/// What the group can do of a line before and after, one figure for each standard that is there; `None` where nothing that it can
/// do in a set is behind the change.
fn why(from: &Line, to: &Line, group: &Group) -> Option<String> {
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
        return Some(format!(
            "this group lifts it at {} of one maximum, as written at {}",
            shares(to),
            shares(from)
        ));
    }
    let limited = !most(from).is_empty() && most(from).iter().all(|(m, _)| m.is_finite());
    limited.then(|| format!("this group's largest set as written is {}", sets(from)))
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

fn groups(
    full: &Work,
    stimulus: &Stimulus,
    class: &[(&Member, &Ability)],
    kept: &[(usize, Tier)],
) -> (Group, Group, [String; 2]) {
    let chosen = |tier: Tier| -> Vec<(Standard, &Athlete)> {
        let of = kept.iter().filter(|(_, t)| *t == tier).filter_map(|(i, _)| class.get(*i));
        of.map(|(m, a)| (m.standard, &a.athlete)).collect()
    };
    let mut late: Vec<(f64, Standard, &Athlete)> = class
        .par_iter()
        .enumerate()
        .filter(|(i, _)| !kept.iter().any(|(k, _)| k == i))
        .filter_map(|(_, (m, a))| {
            let quick = quick_score(full, m.standard, &a.athlete, stimulus);
            let late = stimulus.too_hard(quick.score) || quick.unsteady > 0.0 || quick.beyond.is_some();
            late.then_some((quick.score, m.standard, &a.athlete))
        })
        .collect();
    // strongest first
    late.sort_by(|a, b| if stimulus.is_time() { a.0.total_cmp(&b.0) } else { b.0.total_cmp(&a.0) });
    let n = late.len();
    let by_hand = [Tier::Trim, Tier::Base].map(chosen);
    if by_hand.iter().any(|c| !c.is_empty()) {
        return with_chosen(&late, by_hand);
    }
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

/// Who is late at Full split in two as far as the coach left it open, with those who were put into a version.
fn with_chosen(
    late: &[(f64, Standard, &Athlete)],
    chosen: [Vec<(Standard, &Athlete)>; 2],
) -> (Group, Group, [String; 2]) {
    let pairs: Vec<(Standard, &Athlete)> = late.iter().map(|(_, s, a)| (*s, *a)).collect();
    let (first, second) = pairs.split_at(pairs.len().div_ceil(2));
    let [trim, base] = [(first, &chosen[0], Level::Regular), (second, &chosen[1], Level::New)].map(
        |(late, chosen, level)| {
            let all: Vec<(Standard, &Athlete)> = late.iter().chain(chosen).copied().collect();
            if all.is_empty() {
                return (of_level(level), format!("the {} level: nobody here needs it", level.word()));
            }
            let words = match (late.len(), chosen.len()) {
                (n, 0) => format!("{n} who are late at Full"),
                (0, k) => format!("{k} whom you put here"),
                (n, k) => format!("{n} who are late at Full and {k} whom you put here"),
            };
            (middle(&all), words)
        },
    );
    (trim.0, base.0, [trim.1, base.1])
}
