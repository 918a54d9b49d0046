//! Every member's version: the hardest that holds the stimulus, limits first, the fewest personal lines, and what
//! each other version would have given.

use super::board::board_reps;
use super::ease::{nearer, off_by};
use super::guard::guard_volume;
use super::height::fit_height;
use super::levers::{Levers, Setting};
use super::personal::{Personal, first_sets, spare_limits, strict_first, under_ceilings};
use super::predict::{Effort, Predicted, Prediction, PredictionUnit, predict};
use super::search::Tier;
use super::work::Work;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::pacing::Style;
use crate::roster::{Ability, Member};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use chrono::NaiveDate;
use serde::{Deserialize, Serialize};

/// Runs of a look at a version that may not be chosen.
const LOOK_RUNS: u32 = 40;
/// Seed of all looks.
const LOOK_SEED: u64 = 1;

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
    pub(super) fn look(&self, work: &Work, member: &Member, ability: &Ability) -> Prediction {
        let effort = Effort { runs: LOOK_RUNS.min(self.runs), seed: LOOK_SEED, style: Style::Free };
        predict(work, member.standard, ability, self.stimulus, effort).prediction
    }
}

/// A version as a member would do it.
pub(super) struct Look {
    pub tier: Tier,
    pub work: Work,
    pub personal: Vec<Personal>,
    pub look: Prediction,
    /// What its clock keeps of the stimulus.
    pub stimulus: Stimulus,
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
    let mut personal = spare_limits(&mut work, member, day.kit, day.bars);
    personal.extend(strict_first(&mut work, member, &ability.athlete, day));
    personal.extend(under_ceilings(&mut work, member, day.kit, day.bars));
    personal.extend(first_sets(&mut work, member, &ability.athlete, day.stimulus, day.kit, day.bars));
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

pub(super) fn option(day: &Day, tier: Tier, work: &Work, member: &Member, ability: &Ability) -> Look {
    let (mut fitted, mut personal) = within_limits(day, work, member, ability, None);
    let mut look = day.look(&fitted, member, ability);
    if let Some(rounds) = rounds_expected(&fitted, &look, member.standard) {
        let (again, more) = within_limits(day, work, member, ability, Some(rounds));
        if again != fitted {
            look = day.look(&again, member, ability);
            (fitted, personal) = (again, more);
        }
    }
    let stimulus = fitted.keeps(day.stimulus);
    Look { tier, work: fitted, personal, look, stimulus }
}

/// The middle lies in the window, or short of it at Full: nobody is made slower than the work as written.
fn holds(o: &Look) -> bool {
    enough(o) && (o.tier == Tier::Full || o.look.likely(&o.stimulus))
}

/// Not too hard: no lower version need be looked at.
pub(super) fn enough(o: &Look) -> bool {
    o.look.scale_this.is_none()
        && !o.stimulus.too_hard(o.look.p50())
        && o.look.capped < 0.5
        && o.look.goes_on()
}

/// Places one member. `chosen`: the coach's own choice; `as_written`: everybody at Full, unscaled.
pub fn place(
    day: &Day,
    member: &Member,
    ability: &Ability,
    chosen: Option<Tier>,
    as_written: bool,
) -> Placed {
    let mut options: Vec<Look> = Vec::new();
    if as_written {
        let work = day.works.first().cloned();
        if let Some(work) = work {
            let look = day.look(&work, member, ability);
            let stimulus = day.stimulus.clone();
            options.push(Look { tier: Tier::Full, work, personal: Vec::new(), look, stimulus });
        }
    } else {
        // somebody of whom nothing is tested does Base, whatever it would give them
        let first = if member.is_newcomer() && chosen.is_none() { Tier::ALL.len() - 1 } else { 0 };
        for (tier, work) in Tier::ALL.into_iter().zip(day.works).skip(first) {
            let o = option(day, tier, work, member, ability);
            let last = enough(&o) && chosen.is_none();
            options.push(o);
            if last {
                break;
            }
        }
    }
    let mut suggested = suggest(&options);
    let tried: Vec<Tried> = options
        .iter()
        .map(|o| Tried {
            tier: o.tier,
            p50: o.look.p50(),
            on_stimulus: o.look.on_stimulus,
            scale_this: o.look.scale_this.clone(),
        })
        .collect();
    let mut eased = None;
    if chosen.is_none() && !as_written && !day.own && !options.iter().any(|o| o.tier == suggested && holds(o))
    {
        eased = nearer(day, member, ability, &options, suggested);
        if let Some(o) = &eased {
            suggested = o.tier;
        }
    }
    let wanted = chosen.unwrap_or(suggested);
    let (work, personal) = match eased.or_else(|| options.into_iter().find(|o| o.tier == wanted)) {
        Some(o) => (o.work, o.personal),
        None => (day.levers.written.clone(), Vec::new()),
    };
    let predicted = day.range(&work, member, ability, day.runs);
    let reasons = reasons(
        &work.keeps(day.stimulus),
        &tried,
        wanted,
        suggested,
        chosen.is_some(),
        &predicted.prediction,
    );
    Placed { tier: wanted, moved: chosen.is_some(), suggested, personal, work, reasons, tried, predicted }
}

/// The hardest version that holds; where none does, the one that comes nearest.
fn suggest(options: &[Look]) -> Tier {
    if let Some(o) = options.iter().find(|o| holds(o)) {
        return o.tier;
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
