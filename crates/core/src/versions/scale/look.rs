//! A version as one member would do it, whether that is good enough, and which of several is suggested.

use super::personal::Personal;
use super::place::Tried;
use super::reason::FULL_WEIGHT;
use crate::stimulus::Stimulus;
use crate::versions::predict::{Predicted, Prediction, PredictionUnit};
use crate::versions::work::{Tier, Work};

/// With so many of the runs ended by the cap a version is too slow.
const HALF_CAPPED: f64 = 0.5;
/// With more than this it is not suggested in place of one that holds (own).
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
/// Windows by which work that is far beyond somebody counts as missed, and what a weight that is too light adds (own).
const FAR_BEYOND: f64 = 40.0;
const LIGHT_WEIGHT: f64 = 0.5;

/// A version as a member would do it.
pub(super) struct Look {
    pub tier: Tier,
    pub work: Work,
    pub personal: Vec<Personal>,
    /// The range of a look, with the run behind it.
    pub seen: Predicted,
    /// Sets beyond what the sheet asks.
    pub over: u32,
    /// Their lightest weight as a share of the version's.
    pub share: f64,
    /// Lines that they cannot do, may not do yet, or would mostly stand in.
    pub missing: usize,
    /// What its clock keeps of the stimulus.
    pub stimulus: Stimulus,
}

impl Look {
    /// The range.
    pub fn look(&self) -> &Prediction {
        &self.seen.prediction
    }

    /// Whether nothing but the end of the clock can speak against it; `least`: of the version's weight.
    fn keeps(&self, least: f64) -> bool {
        let own = self.personal.iter().filter(|p| !p.weight && !p.private()).count();
        self.look().scale_this.is_none()
            && self.look().goes_on()
            && self.over == 0
            && self.weighs(least)
            && self.missing == 0
            && self.rests()
            && (self.tier == Tier::Base || own <= MOST_OWN)
    }

    /// Not too hard: no lower version need be looked at.
    pub fn enough(&self) -> bool {
        let changed = self.personal.iter().filter(|p| !p.weight).count();
        self.keeps(FULL_WEIGHT)
            && !self.stimulus.too_hard(self.look().p50())
            && self.look().capped < HALF_CAPPED
            && (self.tier != Tier::Full || changed <= MOST_CHANGED)
    }

    /// Whether nothing speaks against it but that its middle ends after the window, or that a weight is a little light.
    pub fn only_late(&self) -> bool {
        self.keeps(NEARLY_WEIGHT) && self.look().capped <= MOST_CAPPED
    }

    /// Whether somebody's own weights are near enough to a version's; in the lowest whatever they are.
    fn weighs(&self, least: f64) -> bool {
        self.tier == Tier::Base || self.share >= least - 1e-9
    }

    /// Where rest is asked for in every cycle, most of it is left in nine runs of ten (own: two thirds).
    fn rests(&self) -> bool {
        let asked = self.stimulus.low.filter(|_| self.look().unit == PredictionUnit::Rest);
        asked.is_none_or(|low| self.look().p10() >= low * REST_LEFT)
    }

    /// How far a range is from what is wanted: windows outside, with the share that the cap ends.
    pub fn off_by(&self) -> f64 {
        if self.look().scale_this.is_some() {
            return FAR_BEYOND;
        }
        let light = if self.weighs(FULL_WEIGHT) { 0.0 } else { LIGHT_WEIGHT };
        let sets = f64::from(self.over) + self.missing as f64 + light;
        let stimulus = &self.stimulus;
        // who is early is not held back: only what is too hard counts
        let late =
            if stimulus.on_easy_side(self.look().p50()) { 0.0 } else { stimulus.miss(self.look().p50()) };
        late + self.look().capped + 2.0 * (1.0 - self.look().steady.unwrap_or(1.0)) + sets
    }

    /// As it is kept with a member's place.
    pub fn tried(&self) -> Tried {
        Tried {
            tier: self.tier,
            p50: self.look().p50(),
            on_stimulus: self.look().on_stimulus,
            scale_this: self.look().scale_this.clone(),
        }
    }
}

/// The hardest version that holds; the one above it where that is no further from the window and nothing else speaks against it;
/// where none holds, the one that breaks least.
pub(super) fn suggest(options: &[Look]) -> Tier {
    if let Some(at) = options.iter().position(Look::enough) {
        let above = at.checked_sub(1).and_then(|i| options.get(i)).filter(|o| o.only_late());
        let here = options.get(at);
        let better = |a: &&Look| {
            let more = if a.weighs(FULL_WEIGHT) { 0.0 } else { WORTH_A_LIGHT_WEIGHT };
            here.is_some_and(|h| a.look().on_stimulus >= h.look().on_stimulus + more)
        };
        return above.filter(better).or(here).map_or(Tier::Full, |o| o.tier);
    }
    options
        .iter()
        .min_by(|a, b| a.off_by().total_cmp(&b.off_by()).then(b.tier.cmp(&a.tier)))
        .map_or(Tier::Full, |o| o.tier)
}
