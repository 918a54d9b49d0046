//! Every member's version: the hardest that holds the stimulus at their own weights, limits first, and what each other version
//! would have given.

use super::guard::guard_volume;
use super::height::fit_height;
use super::levers::{Levers, Setting};
use super::limits::spare_limits;
use super::offers::offers;
use super::personal::Personal;
use super::reason::{FULL_WEIGHT, Hinder, begins_at, hindered};
use super::skill::{Doer, missing_lines, own_rungs};
use super::strict::strict_first;
use super::weight::{Hands, lightest_share, own_weight_lines, under_ceilings};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::pacing::{Level, Style};
use crate::roster::{Ability, Member};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::predict::{Effort, Predicted, Prediction, PredictionUnit, predict};
use crate::versions::work::{Tier, Work, board_reps};
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// Runs of a look at a version that may not be chosen.
const LOOK_RUNS: u32 = 40;
/// Seed of all looks.
const LOOK_SEED: u64 = 1;
/// With more of the runs ended by the cap a version is too slow.
const MOST_CAPPED: f64 = 0.2;
/// Share of the rest that is asked for which is left in nine runs of ten.
const REST_LEFT: f64 = 0.67;
/// A weight under this share of a version's is the one of the version below; down to the second it is only a light one, where the
/// version gives so much better a chance (own).
const NEARLY_WEIGHT: f64 = 0.75;
const WORTH_A_LIGHT_WEIGHT: f64 = 0.1;
/// Somebody with more changed lines than this is not at Full.
const MOST_CHANGED: usize = 2;
/// Lines of one's own that are said, above Base: with more the version is another.
const MOST_OWN: usize = 1;

/// How a version would have gone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Tried {
    /// Which.
    pub tier: Tier,
    /// Middle.
    pub p50: f64,
    /// Share inside the window.
    pub on_stimulus: f64,
    /// Set where it is far beyond the member.
    pub scale_this: Option<String>,
}

/// A member's place in one workout.
#[derive(Debug, Clone)]
pub struct Placed {
    /// Version.
    pub tier: Tier,
    /// The coach chose it.
    pub moved: bool,
    /// What the model would choose, when the coach chose.
    pub suggested: Tier,
    /// Lines that differ from the version.
    pub personal: Vec<Personal>,
    /// What the member does.
    pub work: Work,
    /// Why, with numbers.
    pub reasons: Vec<String>,
    /// What kept them from Full, or changed a line of theirs.
    pub hinders: Vec<Hinder>,
    /// More, for who will be clearly early at Full: offered, never assigned.
    pub offers: Vec<String>,
    /// All versions that were looked at.
    pub tried: Vec<Tried>,
    /// The range.
    pub predicted: Predicted,
}

/// What placing needs to know of the day.
pub struct Day<'a> {
    /// Full, Trim, Base.
    pub works: &'a [Work],
    /// Levers and their settings for the same three.
    pub levers: &'a Levers,
    /// Settings of the three.
    pub settings: &'a [Setting],
    /// Stimulus.
    pub stimulus: &'a Stimulus,
    /// Kit.
    pub kit: &'a Kit,
    /// Loadable weights.
    pub bars: &'a Bars,
    /// Runs of the range that is shown.
    pub runs: u32,
    /// Seed.
    pub seed: u64,
    /// Schools.
    pub schools: &'a Settings,
    /// The day.
    pub today: NaiveDate,
    /// The versions are the coach's own: no personal lines are looked for beside the hard limits.
    pub own: bool,
}

impl Day<'_> {
    /// A range of so many runs, as it is shown.
    pub fn range(&self, work: &Work, member: &Member, ability: &Ability, runs: u32) -> Predicted {
        let style = Style::of_school(self.schools.school("set-breaking"));
        let effort = Effort { runs: runs.min(self.runs), seed: self.seed, style };
        predict(work, member.standard, ability, self.stimulus, effort)
    }

    /// A quick range to decide by. Its draws are always the same: no version and no line hangs on a seed.
    fn look(&self, work: &Work, member: &Member, ability: &Ability) -> Predicted {
        let effort = Effort { runs: LOOK_RUNS.min(self.runs), seed: LOOK_SEED, style: Style::Free };
        predict(work, member.standard, ability, self.stimulus, effort)
    }

    /// A member as somebody whose sets are looked at.
    fn doer<'a>(&'a self, member: &Member, ability: &'a Ability) -> Doer<'a> {
        Doer {
            standard: member.standard,
            athlete: &ability.athlete,
            new: member.is_newcomer() && member.level == Level::New,
            stimulus: self.stimulus,
            settings: self.schools,
        }
    }

    /// What the hands have.
    pub(super) fn hands(&self) -> Hands<'_> {
        Hands { kit: self.kit, bars: self.bars, stimulus: self.stimulus }
    }
}

/// A version as a member would do it.
struct Look {
    tier: Tier,
    work: Work,
    personal: Vec<Personal>,
    look: Prediction,
    /// Sets beyond what the sheet asks.
    over: u32,
    /// Their lightest weight as a share of the version's.
    share: f64,
    /// Lines that they cannot do, may not do yet, or would mostly stand in.
    missing: usize,
    /// What its clock keeps of the stimulus.
    stimulus: Stimulus,
}

/// A work within a member's hard limits, and the lines that differ for them: limits of the body, strict before swung, loads
/// of the first set, boxes, volume. An open list is guarded by the rounds that are expected of it.
pub fn within_limits(
    day: &Day,
    work: &Work,
    member: &Member,
    ability: &Ability,
    rounds: Option<f64>,
) -> (Work, Vec<Personal>) {
    let by_time = day.schools.school("what-to-scale") == "cut-time";
    let mut work = work.clone();
    let mut personal = spare_limits(&mut work, member, &ability.athlete, day.hands());
    personal.extend(strict_first(&mut work, member, &ability.athlete, day));
    personal.extend(under_ceilings(&mut work, member, day.kit, day.bars));
    personal.extend(own_weight_lines(&mut work, member, &ability.athlete, day.hands()));
    personal.extend(fit_height(&mut work, member, day.kit));
    personal.extend(guard_volume(&mut work, member, day.today, rounds, by_time));
    (work, a_line_each(personal))
}

/// Several changes of one line become one, with all their reasons.
fn a_line_each(all: Vec<Personal>) -> Vec<Personal> {
    let mut out: Vec<Personal> = Vec::new();
    for p in all {
        match out.iter_mut().find(|x| x.line == p.line) {
            Some(x) => {
                x.text = p.text;
                x.reason = format!("{} Then {}", x.reason, p.reason);
                x.private |= p.private;
                x.weight &= p.weight;
            }
            None => out.push(p),
        }
    }
    out
}

/// Times through an open list at the middle of a range; `None` where the list is closed.
fn rounds_expected(work: &Work, look: &Prediction, standard: Standard) -> Option<f64> {
    let open = work.one_amrap() || work.until_failure();
    open.then(|| match look.unit {
        PredictionUnit::Reps => look.p50() / board_reps(work, standard).max(1.0),
        _ => look.p50(),
    })
}

fn option(day: &Day, tier: Tier, work: &Work, member: &Member, ability: &Ability) -> Look {
    let (mut fitted, mut personal) = within_limits(day, work, member, ability, None);
    let mut seen = day.look(&fitted, member, ability);
    if let Some(rounds) = rounds_expected(&fitted, &seen.prediction, member.standard) {
        let (again, more) = within_limits(day, work, member, ability, Some(rounds));
        if again != fitted {
            seen = day.look(&again, member, ability);
            (fitted, personal) = (again, more);
        }
    }
    looked(day, tier, fitted, personal, seen, (member, ability))
}

fn looked(
    day: &Day,
    tier: Tier,
    work: Work,
    personal: Vec<Personal>,
    seen: Predicted,
    (member, ability): (&Member, &Ability),
) -> Look {
    let stimulus = work.keeps(day.stimulus);
    let version = Tier::ALL.iter().position(|t| *t == tier).and_then(|i| day.works.get(i));
    let share = version.map_or(1.0, |v| lightest_share(v, &work, member.standard));
    let missing = missing_lines(&work, day.doer(member, ability)).len();
    let over = seen.run.steadiness.over;
    Look { tier, work, personal, over, share, missing, look: seen.prediction, stimulus }
}

/// Not too hard: no lower version need be looked at.
fn enough(o: &Look) -> bool {
    let changed = o.personal.iter().filter(|p| !p.weight).count();
    let own = o.personal.iter().filter(|p| !p.weight && !p.private).count();
    o.look.scale_this.is_none()
        && !o.stimulus.too_hard(o.look.p50())
        && o.look.capped < 0.5
        && o.look.goes_on()
        && o.over == 0
        && weighs(o, FULL_WEIGHT)
        && o.missing == 0
        && rests(o)
        && (o.tier != Tier::Full || changed <= MOST_CHANGED)
        && (o.tier == Tier::Base || own <= MOST_OWN)
}

/// Where rest is asked for in every cycle, most of it is left in nine runs of ten (own: two thirds).
fn rests(o: &Look) -> bool {
    let asked = o.stimulus.low.filter(|_| o.look.unit == PredictionUnit::Rest);
    asked.is_none_or(|low| o.look.p10() >= low * REST_LEFT)
}

/// How far a range is from what is wanted: windows outside, with the share that the cap ends.
fn off_by(o: &Look) -> f64 {
    if o.look.scale_this.is_some() {
        return 40.0;
    }
    let sets = f64::from(o.over) + o.missing as f64 + if weighs(o, FULL_WEIGHT) { 0.0 } else { 0.5 };
    let stimulus = &o.stimulus;
    // who is early is not held back: only what is too hard counts
    let late = if stimulus.on_easy_side(o.look.p50()) { 0.0 } else { stimulus.miss(o.look.p50()) };
    late + o.look.capped + 2.0 * (1.0 - o.look.steady.unwrap_or(1.0)) + sets
}

/// Places one member. `chosen`: the coach's own choice; `as_written`: everybody at Full, unscaled.
pub fn place(
    day: &Day,
    member: &Member,
    ability: &Ability,
    chosen: Option<Tier>,
    as_written: bool,
) -> Placed {
    let options =
        if as_written { unscaled(day, member, ability) } else { scaled(day, member, ability, chosen) };
    let suggested = suggest(&options);
    let tried: Vec<Tried> = options.iter().map(Look::tried).collect();
    let wanted = chosen.unwrap_or(suggested);
    let eased = (chosen.is_none() && !as_written && !day.own)
        .then(|| options.iter().find(|o| o.tier == wanted && !enough(o) && !only_late(o)))
        .flatten()
        .and_then(|o| eased(day, o, member, ability));
    let (work, personal) = match eased.or_else(|| options.into_iter().find(|o| o.tier == wanted)) {
        Some(o) => (o.work, o.personal),
        None => (day.levers.written.clone(), Vec::new()),
    };
    let predicted = day.range(&work, member, ability, day.runs);
    let moved = chosen.is_some();
    let keeps = work.keeps(day.stimulus);
    let reasons = reasons(&keeps, &tried, wanted, suggested, moved, &predicted.prediction);
    let hinders = hinders(day, member, ability, wanted, &personal);
    let offers = if wanted == Tier::Full && !as_written {
        offers(&work, member, &ability.athlete, day.hands(), &predicted.prediction)
    } else {
        Vec::new()
    };
    Placed { tier: wanted, moved, suggested, personal, work, reasons, hinders, offers, tried, predicted }
}

/// What keeps a member from Full where they are not there, and what changed a line of theirs.
fn hinders(day: &Day, member: &Member, ability: &Ability, tier: Tier, personal: &[Personal]) -> Vec<Hinder> {
    let mut out = Vec::new();
    if personal.iter().any(|p| p.private) {
        out.push(Hinder::Limit);
    }
    if tier != Tier::Full
        && let Some(full) = day.works.first()
    {
        out.extend(hindered(full, member, ability, day.hands(), day.schools, day.today).map(|(_, h)| h));
    }
    out
}

/// Full as written, nothing changed.
fn unscaled(day: &Day, member: &Member, ability: &Ability) -> Vec<Look> {
    let work = day.works.first().cloned();
    let one = |work: Work| {
        let seen = day.look(&work, member, ability);
        looked(day, Tier::Full, work, Vec::new(), seen, (member, ability))
    };
    work.into_iter().map(one).collect()
}

/// The versions that are looked at, hardest first, down to the first that holds.
fn scaled(day: &Day, member: &Member, ability: &Ability, chosen: Option<Tier>) -> Vec<Look> {
    let first = begins_at(member, day.today).filter(|_| chosen.is_none()).map_or(Tier::Full, |(t, _)| t);
    let mut out: Vec<Look> = Vec::new();
    for (tier, work) in Tier::ALL.into_iter().zip(day.works).filter(|(t, _)| *t >= first) {
        let o = option(day, tier, work, member, ability);
        let last = enough(&o) && chosen.is_none();
        out.push(o);
        if last {
            break;
        }
    }
    out
}

/// The same version with the member's own rungs where it asks for what they cannot do; less of it where it would still be far
/// beyond them. `None` where that brings them no nearer.
fn eased(day: &Day, from: &Look, member: &Member, ability: &Ability) -> Option<Look> {
    let at = Tier::ALL.iter().position(|t| *t == from.tier)?;
    let setting = day.settings.get(at)?;
    let own = |setting: &Setting, less: Option<String>| {
        let (mut work, mut personal) = within_limits(day, &day.levers.apply(setting), member, ability, None);
        personal.extend(own_rungs(&mut work, setting, day.levers, day.doer(member, ability)));
        personal.extend(
            less.map(|text| {
                Personal::own(0, text, "As it stands the version is far beyond them.".to_owned())
            }),
        );
        let personal = a_line_each(personal);
        let seen = day.look(&work, member, ability);
        looked(day, from.tier, work, personal, seen, (member, ability))
    };
    let mut best = own(setting, None);
    for amount in setting.amount + 1..day.levers.amounts.len() {
        if best.look.scale_this.is_none() {
            break;
        }
        let less = day.levers.amounts.get(amount)?.says(&day.levers.written);
        best = own(&Setting { amount, ..setting.clone() }, Some(less));
    }
    (off_by(&best) < off_by(from) - 0.05).then_some(best)
}

impl Look {
    fn tried(&self) -> Tried {
        Tried {
            tier: self.tier,
            p50: self.look.p50(),
            on_stimulus: self.look.on_stimulus,
            scale_this: self.look.scale_this.clone(),
        }
    }
}

/// Whether somebody's own weights are near enough to a version's; in the lowest whatever they are.
fn weighs(o: &Look, least: f64) -> bool {
    o.tier == Tier::Base || o.share >= least - 1e-9
}

/// Whether nothing speaks against a version but that its middle ends after the window, or that a weight is a little light.
fn only_late(o: &Look) -> bool {
    let own = o.personal.iter().filter(|p| !p.weight && !p.private).count();
    o.look.scale_this.is_none()
        && o.look.capped <= MOST_CAPPED
        && o.look.goes_on()
        && o.over == 0
        && weighs(o, NEARLY_WEIGHT)
        && o.missing == 0
        && rests(o)
        && own <= MOST_OWN
}

/// The hardest version that holds; the one above it where that is no further from the window and nothing else speaks against it;
/// where none holds, the one that breaks least.
fn suggest(options: &[Look]) -> Tier {
    if let Some(at) = options.iter().position(enough) {
        let above = at.checked_sub(1).and_then(|i| options.get(i)).filter(|o| only_late(o));
        let here = options.get(at);
        let better = |a: &&Look| {
            let more = if weighs(a, FULL_WEIGHT) { 0.0 } else { WORTH_A_LIGHT_WEIGHT };
            here.is_some_and(|h| a.look.on_stimulus >= h.look.on_stimulus + more)
        };
        let nearer = above.filter(better);
        return nearer.or(here).map_or(Tier::Full, |o| o.tier);
    }
    options
        .iter()
        .min_by(|a, b| off_by(a).total_cmp(&off_by(b)).then(b.tier.cmp(&a.tier)))
        .map_or(Tier::Full, |o| o.tier)
}

fn reasons(
    stimulus: &Stimulus,
    tried: &[Tried],
    tier: Tier,
    suggested: Tier,
    moved: bool,
    prediction: &Prediction,
) -> Vec<String> {
    let say = |t: &Tried| match &t.scale_this {
        Some(s) => format!("{}: {s}", t.tier.word()),
        None => format!(
            "{} would give {}, {} in the window.",
            t.tier.word(),
            stimulus.write(t.p50),
            crate::units::in_ten(t.on_stimulus)
        ),
    };
    let mut out: Vec<String> =
        tried.iter().filter(|t| t.tier < tier || (moved && t.tier != tier)).map(say).collect();
    let here = match &prediction.scale_this {
        Some(s) => format!("{} here: {s}", tier.word()),
        None => format!(
            "{} gives {} ({} to {}), {} inside {}.",
            tier.word(),
            stimulus.write(prediction.p50()),
            stimulus.write(prediction.p10()),
            stimulus.write(prediction.p90()),
            crate::units::in_ten(prediction.on_stimulus),
            stimulus.window_text()
        ),
    };
    out.push(here);
    if let Some(ability) = prediction.weakest.as_ref().filter(|_| prediction.scale_this.is_none()) {
        out.push(format!("Least is known of their {ability}, on which this hangs."));
    }
    if moved && suggested != tier {
        out.push(format!("You chose {}; I would choose {}.", tier.word(), suggested.word()));
    }
    out
}
