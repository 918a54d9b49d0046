//! What somebody who is late at a checkpoint takes off what is left, so that they still end inside the window: found by
//! running what is left, slowed as they are.

use super::pace::VersionPace;
use crate::pacing::{Policy, settle, simulate_tasks, tasks_for};
use crate::roster::Ability;
use crate::stimulus::Stimulus;
use crate::units::{Standard, Unit};
use crate::versions::{Clock, Line, Work, compile_lines};

/// The cut is enough for somebody so much later than the latest time on pace (own): a tenth.
const LATER: f64 = 1.10;
/// Shares of each line's count that are taken off, smallest first (own).
const SHARES: [f64; 5] = [0.15, 0.25, 0.33, 0.5, 0.67];

/// What to take off from a checkpoint on.
#[derive(Debug, Clone, PartialEq)]
pub struct Cut {
    /// In words: `4 toes to bar, 4 power cleans a round`.
    pub says: String,
    /// Share of each line's reps that goes in the rounds left; 1: whole rounds.
    pub share: f64,
    /// Rounds that are left out at the end, instead of reps.
    pub rounds: usize,
    /// Ends here, s, when the checkpoint is passed a tenth later than the latest time.
    pub ends_s: f64,
}

/// What a share takes off a count, in steps that can be called out; at least one step is left.
fn off(count: f64, share: f64, unit: Unit) -> f64 {
    let step = match unit {
        Unit::Metres if count >= 200.0 => 50.0,
        Unit::Metres => 10.0,
        Unit::Seconds => 5.0,
        Unit::Reps | Unit::Calories => 1.0,
    };
    ((count * share / step).round() * step).clamp(0.0, (count - step).max(0.0))
}

/// Whether a work is a list done once: its steps are lines, not rounds.
fn once(work: &Work) -> bool {
    matches!(work.clock(), Clock::Once)
}

/// Steps at which a work has checkpoints: rounds, or the lines of a list done once.
fn steps(work: &Work) -> usize {
    if once(work) { work.lines.len() } else { work.rounds() }
}

/// The work with less in the rounds after `done`: some off each line, or whole rounds off the end. Of a list done once the lines
/// after `done` are meant.
pub fn cut_work(work: &Work, done: usize, share: f64, rounds: usize) -> Work {
    let mut out = work.clone();
    let n = steps(work);
    if once(work) {
        if rounds > 0 {
            out.lines.truncate((n - rounds.min(n - 1)).max(1));
            return out;
        }
        for l in out.lines.iter_mut().skip(done) {
            l.counts = l.counts.iter().map(|c| c.map(|c| c - off(c, share, l.unit))).collect();
        }
        return out;
    }
    if rounds > 0 {
        if let Some(s) = out.sections.first_mut() {
            s.clock = match s.clock {
                Clock::Scheme(_) => Clock::Scheme((n - rounds.min(n - 1)) as u32),
                _ => Clock::Rounds((n - rounds.min(n - 1)) as u32),
            };
        }
        return out;
    }
    for l in out.lines.iter_mut().filter(|l| !l.counts.is_empty() && l.around.is_none()) {
        let full: Vec<[f64; 2]> = (0..n).map(|r| Standard::BOTH.map(|s| l.count(r, s))).collect();
        l.counts = full
            .into_iter()
            .enumerate()
            .map(|(r, c)| if r < done { c } else { c.map(|c| c - off(c, share, l.unit)) })
            .collect();
    }
    out
}

/// Time of a run of a work, s.
fn time(work: &Work, standard: Standard, ability: &Ability) -> f64 {
    let (workout, _) = compile_lines(work, standard, &ability.athlete, None);
    let tasks = tasks_for(&workout, &ability.athlete, &[]);
    let (policy, _) = settle(&workout, &ability.athlete, &tasks, &Policy::default());
    let run = simulate_tasks(&workout, &ability.athlete, &tasks, &policy, false, false);
    if run.done { run.time } else { f64::INFINITY }
}

/// Adds to each checkpoint of rounds for time what somebody late takes off.
pub(super) fn add_cuts(pace: &mut VersionPace, work: &Work, who: (Standard, &Ability), stimulus: &Stimulus) {
    let plain = work.sections.len() == 1
        && matches!(
            work.sections.first().map(|s| s.clock),
            Some(Clock::Rounds(_) | Clock::Scheme(_) | Clock::Once)
        )
        && work.lines.iter().all(|l| l.around.is_none() && l.rise == 0.0 && l.along.is_empty());
    let (n, Some(high)) = (steps(work), stimulus.high.filter(|_| stimulus.is_time() && plain)) else {
        return;
    };
    let low = stimulus.low.unwrap_or(0.0);
    let Some(end) = pace.checkpoints.last().map(|c| c.on_pace).filter(|e| *e > 0.0) else { return };
    let whole = time(work, who.0, who.1);
    if n < 2 || pace.checkpoints.len() != n || !whole.is_finite() {
        return;
    }
    for k in 1..n {
        let Some(c) = pace.checkpoints.get_mut(k - 1) else { continue };
        let Some(latest) = c.latest_window else { continue };
        let at = latest * LATER;
        let slow = at / c.on_pace;
        // what is left of a shorter work takes its share of the time that is left on pace
        let ends = |cut: &Work| at + slow * (end - c.on_pace) * left(cut, work, k, who, whole);
        let reps = SHARES.into_iter().map(|s| (s, 0));
        let rounds = (1..=n - k).map(|r| (1.0, r));
        c.cut = reps.chain(rounds).find_map(|(share, rounds)| {
            let cut = cut_work(work, k, share, rounds);
            let ends_s = ends(&cut);
            // inside the window, at neither end outside it
            (ends_s >= low && ends_s <= high).then(|| Cut {
                says: say(work, k, share, rounds, who.0),
                share,
                rounds,
                ends_s,
            })
        });
    }
}

/// Share of the time after round `done` that a cut work takes.
fn left(cut: &Work, work: &Work, done: usize, who: (Standard, &Ability), whole: f64) -> f64 {
    let n = steps(work);
    let before = if done >= n { whole } else { time(&cut_work(work, done, 1.0, n - done), who.0, who.1) };
    let (all, now) = (whole - before, time(cut, who.0, who.1) - before);
    if all > 0.0 { (now / all).clamp(0.0, 1.0) } else { 0.0 }
}

fn say(work: &Work, done: usize, share: f64, rounds: usize, standard: Standard) -> String {
    let last = || work.lines.last().map(|l| l.text_for(standard)).unwrap_or_default();
    match rounds {
        1 if once(work) => return format!("leave out the {}", last()),
        2.. if once(work) => return format!("leave out the last {rounds} lines"),
        1 => return "leave out the last round".to_owned(),
        2.. => return format!("leave out the last {rounds} rounds"),
        0 => {}
    }
    let lines: Vec<String> = work
        .lines
        .iter()
        .skip(if once(work) { done } else { 0 })
        .filter_map(|l| {
            let n = off(l.count(done, standard), share, l.unit);
            let taken =
                Line { counts: vec![[n; 2]], weight: None, height_cm: None, along: Vec::new(), ..l.clone() };
            (n > 0.0).then(|| taken.text_for(standard))
        })
        .collect();
    if once(work) {
        return format!("{} off what is left", lines.join(", "));
    }
    format!("{} off each round left", lines.join(", "))
}
