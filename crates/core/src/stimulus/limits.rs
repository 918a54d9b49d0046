//! What limits a workout: for each model level, how much a tenth more of one ability would gain. The ability that gains
//! most is the limit.

use super::Stimulus;
use crate::pacing::{Athlete, Level, Policy, Scored, settle, tasks_for};
use crate::units::Standard;
use crate::versions::{Work, compile};
use rayon::prelude::*;

/// Abilities, and the groups of the pacing model that they stand for; lungs are the engine.
const ABILITIES: [(&str, &[usize]); 6] =
    [("legs", &[0, 1, 6]), ("push", &[2]), ("pull", &[3]), ("grip", &[4]), ("core", &[5]), ("lungs", &[])];
/// How much more of an ability is tried, as a logarithm: a tenth.
const MORE: f64 = 0.095_310_18;
/// A gain under this share of the whole is the coarseness of whole sets, not a limit.
const COARSE: f64 = 0.002;

/// Groups of the pacing model that a limit on a sheet speaks of, none for the lungs; `None` for a word that is none of ours
/// (skill, say), which constrains nothing.
pub fn groups_of(what: &str) -> Option<&'static [usize]> {
    let low = what.trim().to_lowercase();
    let word = if low == "engine" || low == "breath" { "lungs" } else { low.as_str() };
    ABILITIES.iter().find(|(name, _)| *name == word).map(|(_, groups)| *groups)
}

/// What limits one level.
#[derive(Debug, Clone, PartialEq)]
pub struct Limits {
    /// Who.
    pub level: Level,
    /// (ability, share of all that a tenth more would gain, 0 to 1), the same order for every level; all 0 where nothing
    /// but the speed of hand decides.
    pub shares: [(&'static str, f64); 6],
    /// The work cannot be done at this level as written.
    pub cannot: bool,
}

impl Limits {
    /// The ability that gains most.
    pub fn first(&self) -> Option<&'static str> {
        self.shares.iter().filter(|s| s.1 > 0.0).max_by(|a, b| a.1.total_cmp(&b.1)).map(|s| s.0)
    }
}

/// What limits each level at a work, both standards together.
pub fn limits(work: &Work, stimulus: &Stimulus) -> Vec<Limits> {
    Level::ALL
        .into_par_iter()
        .map(|level| {
            let both = Standard::BOTH.map(|s| gains(work, stimulus, s, level));
            let mut sums = [0.0; 6];
            for gains in both.iter().flatten() {
                for (sum, g) in sums.iter_mut().zip(gains) {
                    *sum += g;
                }
            }
            let all: f64 = sums.iter().sum();
            let mut shares = ABILITIES.map(|(name, _)| (name, 0.0));
            for (slot, sum) in shares.iter_mut().zip(sums) {
                slot.1 = if all > 0.0 { sum / all } else { 0.0 };
            }
            Limits { level, shares, cannot: both.iter().all(Option::is_none) }
        })
        .collect()
}

/// Relative gain by a tenth more of each ability; `None` where the work cannot be done.
fn gains(work: &Work, stimulus: &Stimulus, standard: Standard, level: Level) -> Option<[f64; 6]> {
    let athlete = Athlete::of_level(standard, level);
    let score = |a: &Athlete| {
        let workout = compile(work, standard, a, stimulus.cap_s);
        let tasks = tasks_for(&workout, a, &[]);
        if tasks.iter().any(|t| !t.feasible) {
            return None;
        }
        let run = settle(&workout, a, &tasks, &Policy::default()).1;
        let score = run.score(workout.scored);
        // larger is better for all but a time
        score.is_finite().then_some(if workout.scored == Scored::Time { -score } else { score })
    };
    let base = score(&athlete)?;
    let scale = match work.cycle_s() {
        Some(t) => t,
        None => base.abs().max(1.0),
    };
    Some(ABILITIES.map(|(name, groups)| {
        let mut factors = [0.0; 7];
        for g in groups {
            if let Some(f) = factors.get_mut(*g) {
                *f = MORE;
            }
        }
        let engine = if name == "lungs" { MORE } else { 0.0 };
        let more = athlete.with_factors(engine, 0.0, &factors, engine);
        let gain = score(&more).map_or(0.0, |s| (s - base) / scale);
        if gain > COARSE { gain } else { 0.0 }
    }))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;
    use crate::stimulus::infer;

    fn of(text: &str) -> Vec<Limits> {
        let block = read(text).sheet.blocks[0].clone();
        let work = Work::from_block(&block).expect("work");
        limits(&work, &infer(&block, &work))
    }

    #[test]
    fn what_a_workout_asks_for_is_what_limits_it() {
        let row = of("# workout\nfor time\n2000 m row");
        assert!(row.iter().all(|l| l.first() == Some("lungs")), "{row:?}");
        let press = of("# workout\nfor time\n60 push-ups");
        assert!(press.iter().all(|l| l.first() == Some("push")), "{press:?}");
        let pull = of("# workout\nfor time\n60 pull-ups");
        assert!(pull.iter().skip(1).all(|l| matches!(l.first(), Some("pull" | "grip"))), "{pull:?}");
    }

    #[test]
    fn shares_are_of_the_whole_and_what_cannot_be_done_says_so() {
        let all = of("# workout\n3 rounds for time\n12 power clean 60/42.5 kg\n200 m run");
        for l in all.iter().filter(|l| !l.cannot) {
            let sum: f64 = l.shares.iter().map(|s| s.1).sum();
            assert!((sum - 1.0).abs() < 1e-9 || sum == 0.0, "{l:?}");
        }
        let heavy = of("# workout\nfor time\n10 deadlifts 400/300 kg");
        assert!(heavy.iter().all(|l| l.cannot && l.first().is_none()));
    }
}
