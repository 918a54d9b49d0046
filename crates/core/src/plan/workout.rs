//! A scored block: its stimulus, three versions, every member's place, splits and sets.

use super::Options;
use super::decision::{
    Decision, cut_since, heats_of, part_stimulus_of, starts_of, stimulus_of, suggested_round, version_of,
};
use super::fetch::{Fetch, fetches};
use super::groups::{by_start, heats, starts};
use super::memo::{Memo, Sealed, Stopped, recall};
use super::pace::{VersionPace, pace};
use super::places::places_short;
use super::placing::{AbilityOf, PlaceOf, RangeOf, VersionsOf};
use super::share::share_kit;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::mend::Short;
use crate::pacing::{Athlete, Level};
use crate::reason::{Beyond, OfDay};
use crate::roster::{Ability, Member};
use crate::settings::Settings;
use crate::sheet::{Block, TargetUnit, Team, TeamMode};
use crate::stimulus::{Limits, Said, Stimulus, infer, limits};
use crate::units::{Standard, in_ten};
use crate::versions::{
    Clock, Hands, OpenClock, PlaceDay, Placed, Predicted, Prediction, Search, Section, Splits, Tier, Version,
    Versions, Work, out_of_reach, own_levels, quick_score, search_of, splits, with_this_kit,
};
use chrono::NaiveDate;
use rayon::prelude::*;
use std::sync::{Arc, OnceLock};

/// Under this chance of ending in the window a member is to be looked at (own): ranges are wide before results, so that even
/// a middle in the midst of a usual window has no more than six in ten.
const LOOK_UNDER: f64 = 0.35;

/// Most lines at which somebody begins.
const MOST_STARTS: u32 = 12;

/// What one part of a workout asks for on its own.
#[derive(Debug, Clone, PartialEq)]
pub struct PartStimulus {
    /// Its clock in words.
    pub clock: String,
    /// Inferred from a regular member who begins it fresh, or the coach's own.
    pub stimulus: Stimulus,
}

/// What a level is expected to do.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Expected {
    /// Who.
    pub level: Level,
    /// At which version.
    pub tier: Tier,
    /// In the window's unit.
    pub score: f64,
}

/// A planned workout.
#[derive(Debug, Clone)]
pub struct WorkoutPlan {
    /// Block of the sheet, from 0.
    pub block: usize,
    /// Its own name.
    pub name: Option<String>,
    /// What to keep; `None` while it waits.
    pub stimulus: Option<Stimulus>,
    /// One for each part, where the parts run on different clocks.
    pub parts: Vec<PartStimulus>,
    /// Full, Trim, Base.
    pub versions: Vec<Version>,
    /// What the room takes out at once.
    pub fetch: Vec<Fetch>,
    /// What the hall cannot build or lacks, in words.
    pub kit_notes: Vec<String>,
    /// What those who work at once need more of than there is.
    pub short: Vec<Short>,
    /// Heats, one after the other; 1 where all work at once, or while others lift.
    pub heats: u32,
    /// Who works at the same time, one group after the other; one group where all do. By place in the class.
    pub groups: Vec<Vec<usize>>,
    /// Who holds kit at the same time: of a team of which one works, one at a time.
    pub at_once: Vec<Vec<usize>>,
    /// At which of the lines to begin at each member begins, from 0; in the order of the class.
    pub starts: Vec<u32>,
    /// What is said of the whole day.
    pub notes: Vec<OfDay>,
    /// What the versions were found on.
    pub made: Option<Arc<Versions>>,
    /// Schools by which they were made.
    pub schools: Settings,
    /// In the order of the class.
    pub placed: Vec<Placed>,
    /// In the order of the class.
    pub splits: Vec<Splits>,
    /// Pace of each version.
    pub pace: Vec<VersionPace>,
    /// Why it is not planned.
    pub waits: Option<String>,
    /// s; a cap for work against the clock that has none: for the coach to take.
    pub cap_proposed_s: Option<u32>,
    /// On an open clock: what each level is expected to do, weakest first; empty elsewhere.
    pub expected: Vec<Expected>,
    /// What limits each level at Full: worked out when a page first asks for it.
    limits: OnceLock<Vec<Limits>>,
}

/// How much of a class ends on stimulus: expected members, by the share of each one's simulated runs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shares {
    /// Members.
    pub members: usize,
    /// As placed.
    pub placed: f64,
    /// With everybody at Full, where only what a limit, a first set or a volume guard forbids is changed.
    pub at_full: f64,
}

impl WorkoutPlan {
    /// How much of the class ends on stimulus; `None` with nobody there.
    pub fn shares(&self) -> Option<Shares> {
        if self.placed.is_empty() {
            return None;
        }
        // work far beyond somebody is not on stimulus, whatever its runs say
        let of = |far: &Option<Beyond>, share: f64| if far.is_some() { 0.0 } else { share };
        let placed = self.placed.iter().map(|p| {
            let r = &p.predicted.prediction;
            of(&r.scale_this, r.on_stimulus)
        });
        let at_full = self.placed.iter().map(|p| {
            p.tried.iter().find(|t| t.tier == Tier::Full).map_or(0.0, |t| of(&t.scale_this, t.on_stimulus))
        });
        Some(Shares { members: self.placed.len(), placed: placed.sum(), at_full: at_full.sum() })
    }

    /// What is said of the whole day, and of kit that is short.
    pub fn says(&self) -> Vec<String> {
        self.notes.iter().map(crate::say::of_day).chain(self.kit_notes.iter().cloned()).collect()
    }

    /// What to look at in a member's row, in words; `None` when the window is likely.
    pub fn off(&self, p: &Placed) -> Option<String> {
        let s = &p.work.keeps(self.stimulus.as_ref()?);
        let r = &p.predicted.prediction;
        if let Some(far) = &r.scale_this {
            return Some(crate::say::beyond(far));
        }
        if s.no_window() && r.steady.is_none() {
            return Some("no target to be judged by".to_owned());
        }
        if r.on_stimulus >= LOOK_UNDER {
            return None;
        }
        let missed = in_ten(1.0 - r.on_stimulus);
        let late = s.too_hard(r.p50()) || r.deciles.iter().filter(|d| s.too_hard(**d)).count() > 4;
        let early = !s.holds(r.p50()) && !late;
        Some(match (s.is_time(), late, early) {
            (true, true, _) => format!("likely late, {missed}"),
            (true, _, true) => format!("likely early, {missed}"),
            (false, true, _) => format!("likely under, {missed}"),
            _ if !r.goes_on() => format!("likely to fall off, {missed}"),
            _ => format!("may miss it, {missed}"),
        })
    }

    /// What limits each model level at Full as written.
    pub fn limits(&self) -> &[Limits] {
        self.limits.get_or_init(|| match (self.versions.first(), &self.stimulus) {
            (Some(full), Some(s)) => limits(&full.work, s),
            _ => Vec::new(),
        })
    }

    /// The group of a member, from 0.
    pub fn group_of(&self, member: usize) -> Option<u32> {
        self.groups.iter().position(|g| g.contains(&member)).map(|g| g as u32)
    }

    /// The line of a work at which those of a start begin, as it is spoken of.
    pub fn begins_at(&self, start: u32, work: &Work) -> String {
        let of = self.starts.iter().max().map_or(1, |s| s + 1) as usize;
        let at = start as usize * work.lines.len() / of.max(1);
        work.lines.get(at).map(|l| crate::movement::say::spoken(&l.movement)).unwrap_or_default()
    }

    /// Members of a version, by position in the class.
    pub fn members_of(&self, tier: Tier) -> Vec<usize> {
        (0..self.placed.len()).filter(|i| self.placed.get(*i).is_some_and(|p| p.tier == tier)).collect()
    }

    /// How a version was found, run again; at most `most` others are given.
    pub fn searched(&self, tier: Tier, kit: &Kit, most: usize) -> Option<Search> {
        let (made, stimulus) = (self.made.as_ref()?, self.stimulus.as_ref()?);
        let bars = Bars::of(kit);
        search_of(made, tier, Hands { kit, bars: &bars, stimulus }, &self.schools, most)
    }

    /// Members whose middle lies in the window.
    pub fn likely_inside(&self) -> usize {
        let Some(s) = &self.stimulus else { return 0 };
        let inside = |p: &&Placed| {
            let r = &p.predicted.prediction;
            r.likely(&p.work.keeps(s))
        };
        self.placed.iter().filter(inside).count()
    }
}

fn parts(decisions: &[Decision], index: usize, block: &Block, written: &Work) -> Vec<PartStimulus> {
    if !block.mixed() {
        return Vec::new();
    }
    let bare = Block { target: None, cap_s: None, ..block.clone() };
    (0..written.sections.len())
        .filter_map(|i| {
            let work = written.part(i)?;
            let inferred = infer(&bare, &work);
            let stimulus = match part_stimulus_of(decisions, index, i) {
                Some(chosen) => inferred.chosen(chosen),
                None => inferred,
            };
            Some(PartStimulus { clock: work.clock_text(), stimulus })
        })
        .collect()
}

/// What planning a block of work needs to know.
pub(super) struct WorkoutDay<'a> {
    pub members: &'a [Member],
    pub kit: &'a Kit,
    pub bars: &'a Bars,
    pub settings: &'a Settings,
    pub date: NaiveDate,
    pub decisions: &'a [Decision],
    pub options: Options,
}

impl WorkoutPlan {
    /// Nothing but its name.
    fn waiting(index: usize, block: &Block, settings: &Settings) -> WorkoutPlan {
        WorkoutPlan {
            block: index,
            name: block.name.clone(),
            stimulus: None,
            parts: Vec::new(),
            versions: Vec::new(),
            fetch: Vec::new(),
            kit_notes: Vec::new(),
            short: Vec::new(),
            heats: 1,
            groups: Vec::new(),
            at_once: Vec::new(),
            starts: Vec::new(),
            notes: Vec::new(),
            made: None,
            schools: settings.clone(),
            placed: Vec::new(),
            splits: Vec::new(),
            pace: Vec::new(),
            waits: None,
            cap_proposed_s: None,
            expected: Vec::new(),
            limits: OnceLock::new(),
        }
    }
}

pub(super) fn plan_block(
    day: &WorkoutDay,
    index: usize,
    block: &Block,
    halves: Option<Vec<Vec<usize>>>,
    memo: &dyn Memo,
) -> Result<WorkoutPlan, Stopped> {
    let mut out = WorkoutPlan::waiting(index, block, day.settings);
    out.groups = halves.unwrap_or_default();
    let mut written = match Work::from_block(block) {
        Ok(w) => w.by_school(day.settings).built_with(day.kit, day.bars),
        Err(why) => {
            out.waits = Some(why);
            return Ok(out);
        }
    };
    out.kit_notes = written.not_built();
    let inferred = infer(block, &written);
    let hands = Hands { kit: day.kit, bars: day.bars, stimulus: &inferred };
    out.kit_notes.extend(with_this_kit(&mut written, hands));
    let stimulus = match stimulus_of(day.decisions, index) {
        // a window of the coach's own is of the work that it was made for
        Some(chosen) if cut_since(day.decisions, index) => {
            Stimulus { wishes: chosen.wishes.clone(), ..inferred }
        }
        Some(chosen) => inferred.chosen(chosen),
        None => inferred,
    };
    out.parts = parts(day.decisions, index, block, &written);
    let schools = day.settings.of_versions();
    let versions = versions_of(day, index, block, (&written, &stimulus, &schools), memo)?;
    let works = versions.works();
    let room = Sealed::new(PlaceDay {
        works: &works,
        levers: &versions.levers,
        settings: &versions.settings,
        stimulus: &stimulus,
        kit: day.kit,
        bars: day.bars,
        runs: day.options.runs,
        seed: day.options.seed,
        schools: &schools,
        today: day.date,
        own: versions.own,
    });
    place_all(day, &room, &mut out, memo)?;
    out.splits = out.placed.par_iter().map(|p| splits_of(p, &stimulus)).collect();
    out.short.extend(places_short(&out, day.kit));
    out.fetch = fetches(&out.placed, day.members, day.kit);
    out.pace = pace(&out, &versions, day, &stimulus, memo)?;
    out.notes = notes(&out, &works, day, &stimulus, &schools, memo)?;
    out.cap_proposed_s = cap_proposed(&stimulus, &out.placed);
    out.expected = expected(&works, &stimulus);
    out.versions = versions.list.clone();
    out.made = Some(versions);
    out.stimulus = Some(stimulus);
    Ok(out)
}

/// The versions that are found, or the coach's own in their place.
fn versions_of(
    day: &WorkoutDay,
    index: usize,
    block: &Block,
    (written, stimulus, schools): (&Work, &Stimulus, &Settings),
    memo: &dyn Memo,
) -> Result<Arc<Versions>, Stopped> {
    let round = suggested_round(day.decisions, index);
    let chosen = |(i, m): (usize, &Member)| Some((i, version_of(round, index, &m.id)?));
    let kept: Vec<(usize, Tier)> = day.members.iter().enumerate().filter_map(chosen).collect();
    let of = VersionsOf {
        written,
        stimulus,
        members: day.members,
        date: day.date,
        kept: &kept,
        kit: day.kit,
        schools,
    };
    let found = recall(memo, &of)?;
    let own = own_levels(block).map(|b| {
        let work = b.and_then(|b| Work::from_block(&b).ok());
        work.map(|w| w.by_school(day.settings).built_with(day.kit, day.bars))
    });
    Ok(match own.iter().any(Option::is_some) {
        true => Arc::new(Versions::clone(&found).with_own(own, stimulus)),
        false => found,
    })
}

/// Everybody's place, with what the hall has shared out.
fn place_all(
    day: &WorkoutDay,
    room: &Sealed<PlaceDay>,
    out: &mut WorkoutPlan,
    memo: &dyn Memo,
) -> Result<(), Stopped> {
    let as_written = day.options.as_written;
    let place = |member: &Member| {
        let chosen = version_of(day.decisions, out.block, &member.id);
        Ok(Placed::clone(&*recall(memo, &PlaceOf { day: room, member, chosen, as_written })?))
    };
    let mut placed: Vec<Placed> = day.members.par_iter().map(place).collect::<Result<_, _>>()?;
    if out.groups.is_empty() {
        let all: Vec<usize> = (0..placed.len()).collect();
        out.groups = heats(&all, &placed, day.members, heats_of(day.decisions, out.block));
        out.heats = out.groups.len() as u32;
    }
    let at = starts_at(day, out.block, room.works);
    out.starts = starts(&out.groups, at, placed.len());
    if !as_written {
        out.at_once = at_once(&out.groups, &placed, day.members, room.works);
        // what lies at a station is there for whoever comes next
        let stations = stations(room.works) > 1;
        let stay = if stations { by_start(&out.at_once, &out.starts, at) } else { out.at_once.clone() };
        let (changed, short) = share_kit(&mut placed, day.members, day.kit, &stay);
        for i in changed {
            if let (Some(p), Some(member)) = (placed.get_mut(i), day.members.get(i)) {
                let again = recall(memo, &RangeOf { day: room, work: &p.work, member })?;
                let ability = recall(memo, &AbilityOf { member, date: day.date })?;
                p.ranged(room, member, &ability, Predicted::clone(&again));
            }
        }
        out.short = short;
    }
    out.placed = placed;
    Ok(())
}

/// The groups, each divided among the members of a team where one of it works at a time.
fn at_once(groups: &[Vec<usize>], placed: &[Placed], members: &[Member], works: &[Work]) -> Vec<Vec<usize>> {
    let in_turn = |t: &Team| matches!(t.mode, TeamMode::OneWorks | TeamMode::Alternate);
    let team = works.first().and_then(|w| w.team).filter(in_turn);
    match team {
        Some(t) => groups.iter().flat_map(|g| heats(g, placed, members, t.size)).collect(),
        None => groups.to_vec(),
    }
}

/// Stations of a workout of which each has its place; 1 where all do the same line.
fn stations(works: &[Work]) -> u32 {
    match works.first().map(|w| (w, w.sections.as_slice())) {
        Some((w, [Section { clock: Clock::Stations { .. }, .. }])) => w.entries(0).len() as u32,
        _ => 1,
    }
}

/// At how many lines somebody begins: as the coach has it; at stations everybody at another one.
fn starts_at(day: &WorkoutDay, block: usize, works: &[Work]) -> u32 {
    starts_of(day.decisions, block).unwrap_or_else(|| stations(works)).clamp(1, MOST_STARTS)
}

/// What is said of the day as a whole.
fn notes(
    out: &WorkoutPlan,
    works: &[Work],
    day: &WorkoutDay,
    stimulus: &Stimulus,
    schools: &Settings,
    memo: &dyn Memo,
) -> Result<Vec<OfDay>, Stopped> {
    let [full, trim, ..] = works else { return Ok(Vec::new()) };
    let Some(hardest) = out.placed.iter().map(|p| p.tier).min() else { return Ok(Vec::new()) };
    let known = |member: &Member| recall(memo, &AbilityOf { member, date: day.date });
    let able: Vec<Arc<Ability>> = day.members.iter().map(known).collect::<Result<_, _>>()?;
    let class: Vec<(&Member, &Ability)> = day.members.iter().zip(able.iter().map(Arc::as_ref)).collect();
    Ok(out_of_reach((full, trim), &class, hardest, stimulus, schools).into_iter().collect())
}

/// A cap where none is written: two minutes after a window that is, else so late that four in five of the class are done by their
/// middles, to the minute above (own).
fn cap_proposed(stimulus: &Stimulus, placed: &[Placed]) -> Option<u32> {
    if !stimulus.is_time() || stimulus.cap_s.is_some() {
        return None;
    }
    let to_minute = |s: f64| (s / 60.0).ceil() as u32 * 60;
    if let Some(top) = stimulus.high.filter(|_| stimulus.said != Said::Assumed) {
        return Some(to_minute(top + 120.0));
    }
    let mut middles: Vec<f64> = placed
        .iter()
        .map(|p| &p.predicted.prediction)
        .filter(|r| r.scale_this.is_none())
        .map(Prediction::p50)
        .collect();
    middles.sort_by(f64::total_cmp);
    let last = middles.len().checked_sub(1)?;
    middles.get((0.8 * last as f64).ceil() as usize).map(|s| to_minute(*s))
}

/// What the levels are expected to do on an open clock, both standards together: who is new at Base, the others at Full.
fn expected(works: &[Work], stimulus: &Stimulus) -> Vec<Expected> {
    let (Some(full), Some(base)) = (works.first(), works.last()) else { return Vec::new() };
    if OpenClock::of(full).is_none() {
        return Vec::new();
    }
    let of_level = |level: Level| {
        let (tier, work) = if level == Level::New { (Tier::Base, base) } else { (Tier::Full, full) };
        let of = |s| quick_score(work, s, &Athlete::of_level(s, level), stimulus).score;
        Expected { level, tier, score: Standard::BOTH.map(of).iter().sum::<f64>() / 2.0 }
    };
    Level::ALL.map(of_level).to_vec()
}

/// Splits stretched to the middle of the range for a time; on a clock of its own the run's.
pub(super) fn splits_of(p: &Placed, stimulus: &Stimulus) -> Splits {
    let to = (stimulus.unit == TargetUnit::Seconds).then(|| p.predicted.prediction.p50());
    splits(&p.predicted, to)
}
