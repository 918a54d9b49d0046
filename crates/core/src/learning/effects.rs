//! Named effects with their means and covariances: a normal state that is updated by linear observations (Kalman 1960). An effect that
//! was never seen has its first variance and hangs together with nothing.

use super::foretold::{Format, Group};
use super::params::{CLASS, FORMAT, GROUP, HALL, MEMBER, OWN};
use std::collections::BTreeMap;

/// What a result is a sum of.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Effect {
    Hall,
    Class,
    Format(Format),
    Group(Group),
    Member(String),
    Own(String, Group),
}

impl Effect {
    /// Its first log sd.
    pub fn first_sd(&self) -> f64 {
        match self {
            Effect::Hall => HALL,
            Effect::Class => CLASS,
            Effect::Format(_) => FORMAT,
            Effect::Group(_) => GROUP,
            Effect::Member(_) => MEMBER,
            Effect::Own(..) => OWN,
        }
    }
}

/// The effects that were seen.
#[derive(Debug, Clone, Default)]
pub(super) struct Effects {
    at: BTreeMap<Effect, usize>,
    mean: Vec<f64>,
    cov: Vec<Vec<f64>>,
}

impl Effects {
    /// Place of an effect; made where it is new.
    fn place(&mut self, effect: &Effect) -> usize {
        if let Some(i) = self.at.get(effect) {
            return *i;
        }
        let n = self.mean.len();
        self.at.insert(effect.clone(), n);
        self.mean.push(0.0);
        self.cov.iter_mut().for_each(|row| row.push(0.0));
        let mut row = vec![0.0; n + 1];
        if let Some(own) = row.last_mut() {
            *own = effect.first_sd().powi(2);
        }
        self.cov.push(row);
        n
    }

    fn covariance(&self, a: usize, b: usize) -> f64 {
        self.cov.get(a).and_then(|row| row.get(b)).copied().unwrap_or(0.0)
    }

    /// Its mean; 0 for what was never seen.
    pub fn mean(&self, effect: &Effect) -> f64 {
        self.at.get(effect).and_then(|i| self.mean.get(*i)).copied().unwrap_or(0.0)
    }

    /// Moves its mean.
    pub fn set_mean(&mut self, effect: &Effect, to: f64) {
        if let Some(slot) = self.at.get(effect).and_then(|i| self.mean.get_mut(*i)) {
            *slot = to;
        }
    }

    /// Makes an effect less sure.
    pub fn widen(&mut self, effect: &Effect, sd: f64) {
        if let Some(i) = self.at.get(effect).copied()
            && let Some(own) = self.cov.get_mut(i).and_then(|row| row.get_mut(i))
        {
            *own += sd * sd;
        }
    }

    /// Forgets all but a share of an effect's mean, and how sure it was.
    pub fn restart(&mut self, effect: &Effect, share: f64) {
        let Some(i) = self.at.get(effect).copied() else { return };
        if let Some(mean) = self.mean.get_mut(i) {
            *mean *= share;
        }
        for (j, row) in self.cov.iter_mut().enumerate() {
            if j == i {
                row.iter_mut().for_each(|v| *v = 0.0);
            }
            if let Some(v) = row.get_mut(i) {
                *v = if j == i { effect.first_sd().powi(2) } else { 0.0 };
            }
        }
    }

    /// Every effect that was seen.
    pub fn seen(&self) -> impl Iterator<Item = &Effect> {
        self.at.keys()
    }

    /// Mean and variance of a sum.
    pub fn sum(&self, of: &[Effect]) -> (f64, f64) {
        let places: Vec<Option<usize>> = of.iter().map(|e| self.at.get(e).copied()).collect();
        let mean = of.iter().map(|e| self.mean(e)).sum();
        let mut variance = 0.0;
        for (e, a) in of.iter().zip(&places) {
            match a {
                None => variance += e.first_sd().powi(2),
                Some(a) => variance += places.iter().flatten().map(|b| self.covariance(*a, *b)).sum::<f64>(),
            }
        }
        (mean, variance)
    }

    /// Learns that a sum was seen as `value`, with the variance of its noise.
    pub fn observe(&mut self, of: &[Effect], value: f64, noise: f64) {
        let places: Vec<usize> = of.iter().map(|e| self.place(e)).collect();
        let n = self.mean.len();
        let gain: Vec<f64> =
            (0..n).map(|i| places.iter().map(|p| self.covariance(i, *p)).sum::<f64>()).collect();
        let expected: f64 = places.iter().filter_map(|p| self.mean.get(*p)).sum();
        let total = places.iter().filter_map(|p| gain.get(*p)).sum::<f64>() + noise;
        if total <= 0.0 || !total.is_finite() {
            return;
        }
        let surprise = value - expected;
        for ((mean, row), g) in self.mean.iter_mut().zip(&mut self.cov).zip(&gain) {
            *mean += g / total * surprise;
            // most effects hang together with few others
            if *g != 0.0 {
                row.iter_mut().zip(&gain).for_each(|(c, other)| *c -= g * other / total);
            }
        }
    }
}
