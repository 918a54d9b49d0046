//! The pace of a version: its middle member's way through the work, and the latest times at each checkpoint that still
//! end inside the window or under the cap.

use super::Options;
use super::cut::{Cut, add_cuts};
use super::mark::{Mark, line_names};
use super::memo::{Input, Memo, Stopped, recall};
use super::placing::AbilityOf;
use super::workout::{WorkoutDay, WorkoutPlan};
use crate::pacing::{Athlete, Known, Level, Style};
use crate::roster::{Ability, Member};
use crate::sheet::TargetUnit;
use crate::stimulus::Stimulus;
use crate::units::{Provenance, Standard};
use crate::versions::{Effort, Placed, Predicted, Splits, Tier, Version, Versions, Work, predict, splits};
use chrono::NaiveDate;
use std::sync::Arc;

/// Runs of somebody doing a version as it stands.
const STANDS_RUNS: u32 = 40;

/// A place in the work with its times, s.
#[derive(Debug, Clone, PartialEq)]
pub struct Checkpoint {
    /// Where.
    pub at: Mark,
    /// Share of the work done, 0 to 1.
    pub share: f64,
    /// On pace.
    pub on_pace: f64,
    /// Latest that still ends at the window's end; `None` on an open clock.
    pub latest_window: Option<f64>,
    /// Latest that still beats the cap.
    pub latest_cap: Option<f64>,
    /// What is called out to somebody later than the window's latest.
    pub cut: Option<Cut>,
}

/// The pace of one version.
#[derive(Debug, Clone)]
pub struct VersionPace {
    /// Which.
    pub tier: Tier,
    /// Score aimed at: the middle of its members, in the window's unit.
    pub aim: f64,
    /// Whose pace it is: position in the class; `None`: a model member, nobody does this version.
    pub member: Option<usize>,
    /// In order.
    pub checkpoints: Vec<Checkpoint>,
    /// The way there.
    pub splits: Splits,
    /// Share of the working time of each position, those that go along counted on: where a round's time goes.
    pub time_shares: Vec<f64>,
    /// From the start of a round or cycle to its last rep, s: the shortest and the longest; `None` for a list done once.
    pub round_s: Option<[f64; 2]>,
}

/// Who is run through a version.
#[derive(Debug, Clone, Copy)]
enum Runner<'a> {
    Member(&'a Member, NaiveDate),
    /// Whom a version is meant for.
    Model(Tier),
}

impl Runner<'_> {
    fn ability(self, memo: &dyn Memo) -> Result<(Standard, Arc<Ability>), Stopped> {
        Ok(match self {
            Runner::Member(member, date) => (member.standard, recall(memo, &AbilityOf { member, date })?),
            Runner::Model(tier) => (Standard::Heavier, Arc::new(model_of(tier))),
        })
    }
}

/// Somebody doing a version without lines of their own.
#[derive(Debug)]
struct AsItStands<'a> {
    work: &'a Work,
    who: Runner<'a>,
    stimulus: &'a Stimulus,
    effort: Effort,
}

impl Input for AsItStands<'_> {
    type Made = Predicted;

    fn make(&self, memo: &dyn Memo) -> Result<Predicted, Stopped> {
        let (standard, ability) = self.who.ability(memo)?;
        Ok(predict(self.work, standard, &ability, self.stimulus, self.effort))
    }
}

/// A pace with what is called out to whoever is late.
#[derive(Debug)]
struct WithCuts<'a> {
    paced: &'a VersionPace,
    work: &'a Work,
    next: Option<&'a Work>,
    who: Runner<'a>,
    stimulus: &'a Stimulus,
}

impl Input for WithCuts<'_> {
    type Made = VersionPace;

    fn make(&self, memo: &dyn Memo) -> Result<VersionPace, Stopped> {
        let (standard, ability) = self.who.ability(memo)?;
        let mut paced = self.paced.clone();
        add_cuts(&mut paced, (self.work, self.next), (standard, &ability.athlete), self.stimulus);
        Ok(paced)
    }
}

pub(super) fn pace(
    out: &WorkoutPlan,
    versions: &Versions,
    day: &WorkoutDay,
    stimulus: &Stimulus,
    memo: &dyn Memo,
) -> Result<Vec<VersionPace>, Stopped> {
    let of = |(tier, version): (Tier, &Version)| {
        let paced = &of_version(out, (tier, version), day, stimulus, memo)?;
        let next = versions.list.get(tier as usize + 1).map(|v| &v.work);
        let member = paced.member.and_then(|i| day.members.get(i));
        let who = member.map_or(Runner::Model(tier), |m| Runner::Member(m, day.date));
        let with_cuts = WithCuts { paced, work: &version.work, next, who, stimulus };
        Ok(VersionPace::clone(&*recall(memo, &with_cuts)?))
    };
    Tier::ALL.into_iter().zip(&versions.list).map(of).collect()
}

fn of_version(
    out: &WorkoutPlan,
    (tier, version): (Tier, &Version),
    day: &WorkoutDay,
    stimulus: &Stimulus,
    memo: &dyn Memo,
) -> Result<VersionPace, Stopped> {
    let all: Vec<(usize, &Placed)> = out
        .placed
        .iter()
        .enumerate()
        .filter(|(_, p)| p.tier == tier && p.predicted.prediction.scale_this.is_none())
        .collect();
    let fewest = all.iter().map(|(_, p)| p.personal.len()).min().unwrap_or(0);
    let nearest: Vec<_> = all.iter().filter(|(_, p)| p.personal.len() == fewest).copied().collect();
    let work = &version.work;
    // the middle member without lines of their own speaks for the version
    if let Some((i, p)) = middle(nearest.clone()).filter(|_| fewest == 0) {
        let splits = out.splits.get(i).cloned().unwrap_or_default();
        return Ok(of_splits(tier, p.predicted.prediction.p50(), Some(i), splits, work, stimulus));
    }
    let style = Style::of_school(day.settings.answer());
    let Options { runs, seed, .. } = day.options;
    let effort = Effort { runs: runs.min(STANDS_RUNS), seed, style };
    let paced = |who: Runner, member: Option<usize>| {
        let predicted = recall(memo, &AsItStands { work, who, stimulus, effort })?;
        let aim = predicted.prediction.p50();
        let to = (stimulus.unit == TargetUnit::Seconds).then_some(aim);
        let paced = of_splits(tier, aim, member, splits(&predicted, to), work, stimulus);
        Ok((paced, predicted.prediction.scale_this.is_none()))
    };
    // everybody here has some: the middle one of those with the fewest is paced at the version as it stands
    if let Some((i, member)) = middle(nearest).and_then(|(i, _)| Some((i, day.members.get(i)?)))
        && let (paced, true) = paced(Runner::Member(member, day.date), Some(i))?
    {
        return Ok(paced);
    }
    // nobody does it: the model member for whom it is meant
    paced(Runner::Model(tier), None).map(|(paced, _)| paced)
}

/// The model member for whom a version is meant.
fn model_of(tier: Tier) -> Ability {
    let level = match tier {
        Tier::Full => Level::Seasoned,
        Tier::Trim => Level::Regular,
        Tier::Base => Level::New,
    };
    Ability {
        athlete: Athlete::of_level(Standard::Heavier, level),
        known: Known::all(Provenance::Assumed),
        learnt: None,
    }
}

/// The member in the middle by likely result.
fn middle(mut of: Vec<(usize, &Placed)>) -> Option<(usize, &Placed)> {
    of.sort_by(|a, b| a.1.predicted.prediction.p50().total_cmp(&b.1.predicted.prediction.p50()));
    of.get(of.len() / 2).copied()
}

/// The pace of a work done in given sets.
pub(super) fn of_splits(
    tier: Tier,
    aim: f64,
    member: Option<usize>,
    splits: Splits,
    work: &Work,
    stimulus: &Stimulus,
) -> VersionPace {
    let rounds = splits.round_ends.len();
    let last_round = splits.round_ends.last().copied().unwrap_or(0.0);
    // work after the last round: a cash-out
    let end = splits.lines.iter().map(|l| l.to_s).fold(last_round, f64::max);
    let timed = stimulus.is_time();
    let after = timed && end > last_round + 0.5;
    let steps = (rounds + usize::from(after)).max(1) as f64;
    let latest =
        |limit: Option<f64>, t: f64| limit.filter(|_| timed && end > 0.0).map(|l| t * (l / end).max(1.0));
    let checkpoints = splits
        .round_ends
        .iter()
        .enumerate()
        .map(|(i, t)| Checkpoint {
            at: if timed && !after && i + 1 == rounds { Mark::Finish } else { Mark::Round(i + 1) },
            share: (i + 1) as f64 / steps,
            on_pace: *t,
            latest_window: latest(stimulus.high, *t),
            latest_cap: latest(stimulus.cap_s, *t),
            cut: None,
        })
        .chain(after.then(|| Checkpoint {
            at: Mark::Finish,
            share: 1.0,
            on_pace: end,
            latest_window: latest(stimulus.high, end),
            latest_cap: latest(stimulus.cap_s, end),
            cut: None,
        }))
        .collect();
    let checkpoints = if rounds == 1 { line_checkpoints(&splits, work, stimulus, end) } else { checkpoints };
    let mut time_shares = vec![0.0; work.positions().count()];
    for l in &splits.lines {
        if let Some(slot) = time_shares.get_mut(l.position) {
            *slot += l.to_s - l.from_s;
        }
    }
    let sum: f64 = time_shares.iter().sum();
    time_shares.iter_mut().for_each(|s| *s /= sum.max(1e-9));
    let round_s = round_lengths(&splits);
    VersionPace { tier, aim, member, checkpoints, splits, time_shares, round_s }
}

/// The shortest and the longest time from the first to the last rep of a round.
fn round_lengths(splits: &Splits) -> Option<[f64; 2]> {
    let rounds = splits.lines.iter().map(|l| l.round).max()? + 1;
    let whole = splits.round_ends.len().min(rounds);
    let length = |r: usize| {
        let of: Vec<_> = splits.lines.iter().filter(|l| l.round == r).collect();
        let from = of.iter().map(|l| l.from_s).fold(f64::INFINITY, f64::min);
        let to = of.iter().map(|l| l.to_s).fold(0.0, f64::max);
        (to > from).then_some(to - from)
    };
    let all: Vec<f64> = (0..whole).filter_map(length).collect();
    let least = all.iter().copied().min_by(f64::total_cmp)?;
    let most = all.iter().copied().max_by(f64::total_cmp)?;
    (all.len() > 1).then_some([least, most])
}

/// A list done once has no rounds: its lines are the checkpoints.
fn line_checkpoints(splits: &Splits, work: &Work, stimulus: &Stimulus, end: f64) -> Vec<Checkpoint> {
    let n = splits.lines.len();
    let names = line_names(work);
    splits
        .lines
        .iter()
        .enumerate()
        .map(|(i, l)| {
            let t = if i + 1 == n { end } else { l.to_s };
            let latest = |limit: Option<f64>| limit.filter(|_| end > 0.0).map(|x| t * (x / end).max(1.0));
            Checkpoint {
                at: match names.get(l.position) {
                    Some(name) if i + 1 < n => Mark::Line(i + 1, name.clone()),
                    _ => Mark::Finish,
                },
                share: (i + 1) as f64 / n.max(1) as f64,
                on_pace: t,
                latest_window: latest(stimulus.high.filter(|_| stimulus.is_time())),
                latest_cap: latest(stimulus.cap_s),
                cut: None,
            }
        })
        .collect()
}
