//! The pace of a version: its middle member's way through the work, and the latest times at each checkpoint that still
//! end inside the window or under the cap.

use super::cut::{Cut, add_cuts};
use super::mark::{Mark, line_names};
use super::memo::{Memo, recall};
use super::workout::{WorkoutPlan, splits_of};
use crate::pacing::{Athlete, Known, Level};
use crate::roster::{Ability, Member};
use crate::stimulus::Stimulus;
use crate::units::{Provenance, Standard};
use crate::versions::{Effort, Placed, Splits, Tier, Version, Versions, Work, predict};
use chrono::NaiveDate;

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

pub(super) fn pace(
    out: &WorkoutPlan,
    versions: &Versions,
    (members, class, day): (&[Member], &[(Standard, &Ability)], NaiveDate),
    stimulus: &Stimulus,
    effort: Effort,
    memo: &dyn Memo,
) -> Vec<VersionPace> {
    Tier::ALL
        .into_iter()
        .zip(&versions.list)
        .map(|(tier, version)| {
            // who does the version and what each of them really does decide its pace
            let of: Vec<_> = out
                .placed
                .iter()
                .zip(members)
                .enumerate()
                .filter(|(_, (p, _))| p.tier == tier)
                .map(|(i, (p, m))| (i, &p.work, p.personal.is_empty(), m))
                .collect();
            let next = versions.list.get(tier as usize + 1).map(|v| &v.work);
            // what somebody is able to do follows from what is known of them and the day
            let key = (tier, (&version.work, next), stimulus, effort, of, day);
            VersionPace::clone(&recall(memo, "pace", key, || {
                let mut paced = of_version(out, (tier, version), class, stimulus, effort);
                let model = model_of(tier);
                let who =
                    paced.member.and_then(|i| class.get(i).copied()).unwrap_or((Standard::Heavier, &model));
                add_cuts(&mut paced, (&version.work, next), who, stimulus);
                paced
            }))
        })
        .collect()
}

fn of_version(
    out: &WorkoutPlan,
    (tier, version): (Tier, &Version),
    class: &[(Standard, &Ability)],
    stimulus: &Stimulus,
    effort: Effort,
) -> VersionPace {
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
        return of_splits(tier, p.predicted.prediction.p50(), Some(i), splits, work, stimulus);
    }
    // everybody here has some: the middle one of those with the fewest is paced at the version as it stands
    let whole = middle(nearest).and_then(|(i, _)| {
        let (standard, ability) = class.get(i).copied()?;
        let placed = as_it_stands(tier, version, standard, ability, stimulus, effort);
        placed.predicted.prediction.scale_this.is_none().then_some((i, placed))
    });
    match whole {
        Some((i, placed)) => {
            let aim = placed.predicted.prediction.p50();
            of_splits(tier, aim, Some(i), splits_of(&placed, stimulus), work, stimulus)
        }
        None => model(tier, version, stimulus, effort),
    }
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

/// Nobody does this version: the model member for whom it is meant.
fn model(tier: Tier, version: &Version, stimulus: &Stimulus, effort: Effort) -> VersionPace {
    let ability = model_of(tier);
    let placed = as_it_stands(tier, version, Standard::Heavier, &ability, stimulus, effort);
    let splits = splits_of(&placed, stimulus);
    of_splits(tier, placed.predicted.prediction.p50(), None, splits, &version.work, stimulus)
}

/// The member in the middle by likely result.
fn middle(mut of: Vec<(usize, &Placed)>) -> Option<(usize, &Placed)> {
    of.sort_by(|a, b| a.1.predicted.prediction.p50().total_cmp(&b.1.predicted.prediction.p50()));
    of.get(of.len() / 2).copied()
}

/// Somebody doing a version without lines of their own.
fn as_it_stands(
    tier: Tier,
    version: &Version,
    standard: Standard,
    ability: &Ability,
    stimulus: &Stimulus,
    effort: Effort,
) -> Placed {
    let effort = Effort { runs: effort.runs.min(40), ..effort };
    let predicted = predict(&version.work, standard, ability, stimulus, effort);
    Placed {
        tier,
        moved: false,
        suggested: tier,
        personal: Vec::new(),
        work: version.work.clone(),
        reasons: Vec::new(),
        hinders: Vec::new(),
        offers: Vec::new(),
        tried: Vec::new(),
        predicted,
    }
}

fn of_splits(
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
