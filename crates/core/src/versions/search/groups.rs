//! Makes the three versions for a class: Trim for the middle of those whom one thing keeps from Full, Base for the middle of those
//! who are new, were away, or lack more.

use super::changes::changes;
use super::{Bounds, Counting, Found, Group, WantedVersion, find};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::pacing::{Athlete, Level};
use crate::roster::{Ability, Member, Volume};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::predict::{format_of, paced_score};
use crate::versions::scale::{
    GUARDS, Hands, Hinder, Instruction, Levers, Setting, hindered, instructions_capped, own_weights, sentence,
};
use crate::versions::work::{Tier, Work};
use rayon::prelude::*;
use std::collections::BTreeMap;

/// One of the three.
#[derive(Debug, Clone)]
pub struct Version {
    /// Rank.
    pub tier: Tier,
    /// What is done.
    pub work: Work,
    /// In one sentence: `the middle bar 45/32.5 kg, 15-12-9.`
    pub sentence: String,
    /// What is said of it, one by one.
    pub instructions: Vec<Instruction>,
    /// Changes from Full in words, one for each line that differs, with why.
    pub changes: Vec<String>,
    /// Candidates that were run to find it.
    pub tried: u32,
    /// From the version above to this one, an instruction at a time, both ends with it.
    pub path: Vec<Setting>,
    /// How far it was let go when it was found.
    pub bounds: Bounds,
    /// The athletes for whom it was made.
    pub group: Group,
    /// For whom it was made.
    pub made_for: String,
}

/// As far as a version is let go at first, and one step of weight.
const FAR: Bounds = Bounds { lightest: 3, counting: Counting::AsGiven };
const ONE_STEP: usize = 1;

impl Version {
    /// With its name: `Trim: the middle bar 45/32.5 kg, 15-12-9.`
    pub fn says(&self) -> String {
        format!("{}: {}", self.tier.word(), self.sentence)
    }
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

/// What the hall has and how it teaches, for whom versions are made.
#[derive(Clone, Copy)]
pub struct Room<'a> {
    /// Kit.
    pub kit: &'a Kit,
    /// Its loadable bars.
    pub bars: &'a Bars,
    /// Schools.
    pub settings: &'a Settings,
    /// The day.
    pub today: chrono::NaiveDate,
}

impl Versions {
    /// The works, hardest first.
    pub fn works(&self) -> Vec<Work> {
        self.list.iter().map(|v| v.work.clone()).collect()
    }

    /// The same with the coach's own Trim and Base in place of those that were found.
    pub fn with_own(mut self, own: [Option<Work>; 2], stimulus: &Stimulus) -> Versions {
        let Some(full) = self.list.first().map(|v| v.work.clone()) else { return self };
        for (v, work) in self.list.iter_mut().skip(1).zip(own) {
            let Some(work) = work else { continue };
            v.changes = changes(&full, &work, &v.group, stimulus);
            v.sentence = "as you wrote it.".to_owned();
            v.instructions.clear();
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
        hands: Hands<'a>,
        settings: &'a Settings,
    ) -> Option<WantedVersion<'a>> {
        let at = Tier::ALL.iter().position(|t| *t == tier).filter(|_| !self.own)?;
        let floor = self.settings.get(at.checked_sub(1)?)?;
        let (group, above) = (&self.list.get(at)?.group, &self.list.get(at.checked_sub(1)?)?.work);
        Some(WantedVersion { tier, floor, bounds: self.list.get(at)?.bounds, above, group, settings, hands })
    }
}

/// Makes Full, Trim and Base. `kept`: versions that the coach chose for members (by position in the class) and round which
/// the versions are made.
pub fn make(
    written: &Work,
    stimulus: &Stimulus,
    class: &[(&Member, &Ability)],
    kept: &[(usize, Tier)],
    room: Room,
) -> Versions {
    let levers = Levers::of(written, room.kit, room.bars, room.settings);
    let start = levers.start();
    let full = levers.apply(&start);
    let hands = Hands { kit: room.kit, bars: room.bars, stimulus };
    let [trim_for, base_for] = groups(&full, class, kept, hands, room);
    let search = |(floor, above): (&Setting, &Work), made_for: &MadeFor, tier, bounds| {
        let (group, settings) = (&made_for.group, room.settings);
        find(&levers, &WantedVersion { tier, floor, bounds, above, group, settings, hands })
    };
    let below = |trim: &Found| search((&trim.setting, &trim.work), &base_for, Tier::Base, FAR);
    let mut trim = search((&start, &full), &trim_for, Tier::Trim, FAR);
    let mut base = below(&trim);
    if base.work == trim.work && trim.setting.weight > ONE_STEP {
        // all that can be taken away was taken for Trim
        trim = search((&start, &full), &trim_for, Tier::Trim, Bounds { lightest: ONE_STEP, ..FAR });
        base = below(&trim);
    }
    let as_written = Found {
        setting: start.clone(),
        work: full.clone(),
        capped: Vec::new(),
        tried: 1,
        path: vec![start],
        bounds: FAR,
    };
    let version = |tier, found: Found, group: &Group, made_for: String| {
        let told = instructions_capped(&levers, &found.setting, tier, &found.work, &found.capped);
        Version {
            tier,
            changes: changes(&full, &found.work, group, stimulus),
            sentence: sentence(&told),
            instructions: told,
            work: found.work,
            tried: found.tried,
            path: found.path,
            bounds: found.bounds,
            group: group.clone(),
            made_for,
        }
    };
    let settings = [&as_written, &trim, &base].map(|f| f.setting.clone()).to_vec();
    let everybody = "everybody who holds the stimulus as written".to_owned();
    let list = vec![
        version(Tier::Full, as_written, &trim_for.group, everybody),
        version(Tier::Trim, trim, &trim_for.group, trim_for.words),
        version(Tier::Base, base, &base_for.group, base_for.words),
    ];
    Versions { list, levers, settings, own: false }
}

/// For whom a version is made, and who they are in words.
struct MadeFor {
    group: Group,
    words: String,
}

/// Members of one version with what hinders each of them.
type Hindered<'a> = Vec<(&'a Member, &'a Ability, Option<Hinder>)>;

fn groups(
    full: &Work,
    class: &[(&Member, &Ability)],
    kept: &[(usize, Tier)],
    hands: Hands,
    room: Room,
) -> [MadeFor; 2] {
    let of_class: Vec<Option<(Tier, Option<Hinder>)>> = class
        .par_iter()
        .enumerate()
        .map(|(i, (m, a))| match kept.iter().find(|(k, _)| *k == i) {
            Some((_, tier)) => Some((*tier, None)),
            None => hindered(full, m, a, hands, room.settings, room.today).map(|(t, h)| (t, Some(h))),
        })
        .collect();
    [(Tier::Trim, Level::Regular), (Tier::Base, Level::New)].map(|(tier, level)| {
        let of: Hindered = class
            .iter()
            .zip(&of_class)
            .filter_map(|((m, a), f)| f.filter(|(t, _)| *t == tier).map(|(_, h)| (*m, *a, h)))
            .collect();
        if of.is_empty() {
            let athletes = Standard::BOTH.map(|s| (s, Athlete::of_level(s, level))).to_vec();
            let words = format!("the {} level: nobody here needs it", level.word());
            return MadeFor {
                group: Group {
                    members: athletes.clone(),
                    athletes,
                    most: Volume::new(),
                    new: tier == Tier::Base,
                    late: 0.0,
                },
                words,
            };
        }
        let new = 2 * of.iter().filter(|(.., h)| *h == Some(Hinder::New)).count() >= of.len();
        let members = of.iter().map(|(m, a, _)| (m.standard, a.athlete.clone())).collect();
        let format = format_of(full);
        let late = of.iter().map(|(_, a, _)| a.late(format)).sum::<f64>() / of.len() as f64;
        let group = Group { athletes: middle(full, &of, hands), members, most: most(&of, room), new, late };
        MadeFor { words: words(&of), group }
    })
}

/// `5 members: 2 new, 3 for whom it is too heavy`.
fn words(of: &Hindered) -> String {
    let mut counts: BTreeMap<Option<Hinder>, usize> = BTreeMap::new();
    of.iter().for_each(|(.., h)| *counts.entry(*h).or_default() += 1);
    let say =
        |(h, n): (&Option<Hinder>, &usize)| format!("{n} {}", h.map_or("whom you put here", |h| h.words(*n)));
    let all: Vec<String> = counts.iter().map(say).collect();
    let members = if of.len() == 1 { "member" } else { "members" };
    format!("{} {members}: {}", of.len(), all.join(", "))
}

/// Who stands in the middle of some members by how the work as written would end for them, one for each standard that is there.
fn middle(full: &Work, of: &Hindered, hands: Hands) -> Vec<(Standard, Athlete)> {
    let mut ends: Vec<(f64, &Member, &Ability)> = of
        .par_iter()
        .map(|(m, a, _)| {
            let mut own = full.clone();
            own_weights(&mut own, m.standard, &a.athlete, hands);
            let quick =
                paced_score(&own, m.standard, &a.athlete, hands.stimulus).later(a.late(format_of(full)));
            let end = if hands.stimulus.is_time() { quick.score } else { -quick.score };
            (if quick.beyond.is_some() { f64::INFINITY } else { end + quick.unsteady }, *m, *a)
        })
        .collect();
    ends.sort_by(|a, b| a.0.total_cmp(&b.0));
    Standard::BOTH
        .into_iter()
        .filter_map(|s| {
            let of: Vec<&Ability> =
                ends.iter().filter(|(_, m, _)| m.standard == s).map(|(.., a)| *a).collect();
            of.get(of.len() / 2).map(|a| (s, a.athlete.clone()))
        })
        .collect()
}

/// What the middle of some members may meet of each guarded pattern.
fn most(of: &Hindered, room: Room) -> Volume {
    GUARDS
        .iter()
        .filter_map(|g| {
            let bound = |(m, ..): &(&Member, &Ability, Option<Hinder>)| {
                crate::versions::scale::bound(m, g, room.today).map_or(f64::INFINITY, |b| b.most)
            };
            let mut all: Vec<f64> = of.iter().map(bound).collect();
            all.sort_by(f64::total_cmp);
            let middle = *all.get((all.len() - 1) / 2)?;
            middle.is_finite().then(|| (g.id.to_owned(), middle))
        })
        .collect()
}
