//! What a member can do in one set at all, and what they go down to where they cannot.

use super::levers::{Levers, Setting};
use super::personal::Personal;
use super::strict::too_early_to_swing;
use super::table::table;
use crate::movement::catalogue;
use crate::pacing::{Athlete, Did, Policy, settle, simulate_tasks, tasks_for};
use crate::reason::{Asked, OfLine};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::{Standard, Unit};
use crate::versions::predict::{compile_for, far_beyond, first_set, slot_of};
use crate::versions::work::{Clock, Work};

/// From so many reps in one set on a skill is thin, not missing, whatever the sheet asks of the first set (own).
const THIN: f64 = 3.0;

/// Whose sets are looked at, and by what rules.
#[derive(Clone, Copy)]
pub struct Doer<'a> {
    /// Counts and bars.
    pub standard: Standard,
    /// What they can do.
    pub athlete: &'a Athlete,
    /// New, and nothing is tested.
    pub new: bool,
    /// What the sheet asks of the sets.
    pub stimulus: &'a Stimulus,
    /// Schools.
    pub settings: &'a Settings,
}

/// Rounds of an open list that are reckoned with where nothing says how many (own).
const SOME_ROUNDS: f64 = 5.0;

fn skill_of(movement: &str) -> u8 {
    catalogue().movement(movement).map_or(1, |m| m.skill)
}

/// What somebody new is not given, whatever they could do of it.
fn not_for_the_new(work: &Work, i: usize, standard: Standard) -> bool {
    let Some(line) = work.lines.get(i) else { return false };
    let hard = skill_of(&line.movement) > table().skill.new;
    let total = work.total(i, standard).unwrap_or(line.count(0, standard) * SOME_ROUNDS);
    hard || (table().skill.lowered.contains(&line.movement) && total > table().skill.most_lowered)
}

/// Lines of stations and windows in which somebody would stand more than work: too few reps in a round.
fn idle_lines(work: &Work, who: Doer) -> Vec<usize> {
    let timed = matches!(work.clock(), Clock::Stations { .. } | Clock::OnOff { .. } | Clock::Windows { .. });
    if !timed || work.sections.len() > 1 || work.team.is_some() {
        return Vec::new();
    }
    let (workout, lines) = compile_for(work, who.standard, who.athlete, who.stimulus);
    let tasks = tasks_for(&workout, who.athlete, &[]);
    let (policy, _) = settle(&workout, who.athlete, &tasks, &Policy::default());
    let run = simulate_tasks(&workout, who.athlete, &tasks, &policy, true, true);
    let rounds = run.trace.iter().map(|s| s.round + 1).max().unwrap_or(1);
    let idle = |i: &usize| {
        let Some(line) = work.lines.get(*i).filter(|l| l.counts.is_empty()) else { return false };
        let Some(slot) = slot_of(work, &lines, *i) else { return false };
        let rule = &table().skill;
        let least = match line.unit {
            Unit::Reps if skill_of(&line.movement) >= rule.takes_months => 1.0,
            Unit::Reps if rule.slow.contains(&line.movement) => 1.0,
            Unit::Reps => rule.least_reps,
            Unit::Calories => rule.least_calories,
            Unit::Metres | Unit::Seconds => return false,
        };
        let of = |r: u32| {
            let mine = run.trace.iter().filter(|s| s.did == Did::Work && s.slot == slot && s.round == r);
            mine.map(|s| s.units).sum::<f64>()
        };
        let done: Vec<f64> = (0..rounds).map(of).filter(|n| *n > 0.0).collect();
        done.is_empty() || done.iter().any(|n| *n < least)
    };
    (0..work.lines.len()).filter(idle).collect()
}

/// Lines that somebody cannot do for the first whole set at the weights that stand there, may not do yet, or would mostly stand in.
pub fn missing_lines(work: &Work, who: Doer) -> Vec<usize> {
    let Doer { standard, athlete, stimulus, settings, .. } = who;
    let idle = idle_lines(work, who);
    let (workout, lines) = compile_for(work, standard, athlete, stimulus);
    let tasks = tasks_for(&workout, athlete, &[]);
    let short = |i: &usize| {
        let Some(line) = work.lines.get(*i) else { return false };
        let not_yet = too_early_to_swing(athlete, &line.movement, settings).is_some()
            || (who.new && not_for_the_new(work, *i, standard));
        if not_yet || idle.contains(i) {
            return true;
        }
        let Some(t) = slot_of(work, &lines, *i).and_then(|s| tasks.get(s)) else { return false };
        let need = first_set(work, *i, stimulus);
        // a skill that is thin is practised in less of it; one that is missing is replaced
        let least = if line.kg().is_some() { need } else { need.min(THIN.max(need / 2.0)) };
        !t.feasible || (t.limited() && t.most.is_finite() && t.most + 0.5 < least)
    };
    (0..work.lines.len()).filter(short).collect()
}

/// Lines that somebody cannot do, or of which there is many times their largest set, each with what is asked of it.
fn lacking(work: &Work, who: Doer) -> Vec<(usize, Asked)> {
    let (workout, lines) = compile_for(work, who.standard, who.athlete, who.stimulus);
    let tasks = tasks_for(&workout, who.athlete, &[]);
    let much: Vec<(usize, Asked)> = far_beyond(&tasks, &lines).map(|t| (t.slot(), t.asked())).collect();
    let missing = missing_lines(work, who);
    let asked = |i: usize| {
        if missing.contains(&i) {
            return Some(Asked::Sets { reps: first_set(work, i, who.stimulus) });
        }
        let slot = slot_of(work, &lines, i)?;
        much.iter().find(|(s, _)| *s == slot).map(|(_, asked)| *asked)
    };
    (0..work.lines.len()).filter_map(|i| Some((i, asked(i)?))).collect()
}

/// A member's own rungs where a version asks for what they cannot do: the next way of each such line that they can.
pub fn own_rungs(work: &mut Work, setting: &Setting, levers: &Levers, who: Doer) -> Vec<Personal> {
    let Doer { standard, athlete, stimulus, .. } = who;
    let mut out = Vec::new();
    for (i, asked) in lacking(work, who) {
        let (Some(line), Some(written)) = (work.lines.get(i).cloned(), levers.written.lines.get(i)) else {
            continue;
        };
        // what a limit has put there is not on the ladder of the line
        if line.movement != written.movement && line.stands_for.as_deref() != Some(&written.movement) {
            continue;
        }
        let best = best_set(work, i, standard, athlete, stimulus);
        let from = setting.way.get(i).copied().unwrap_or(0) + 1;
        let ways = levers.ways.get(i).map_or(&[][..], Vec::as_slice);
        for way in ways.iter().skip(from) {
            let mut tried = work.clone();
            let step = setting.weight;
            let Some(slot) = tried.lines.get_mut(i) else { break };
            let mut before = written.clone();
            before.counts.clone_from(&line.counts);
            *slot = way.on(&before, step);
            if lacking(&tried, who).iter().all(|(l, _)| *l != i) {
                let (to, from) = (way.movement.clone(), line.movement.clone());
                let reason = OfLine::Rung { to, from, asked, best };
                *work = tried;
                let text = work.lines.get(i).map_or_else(String::new, |l| l.text_for(standard));
                out.push(Personal::own(i, text, reason));
                break;
            }
        }
    }
    out
}

/// The largest fresh set of a line.
pub(super) fn best_set(
    work: &Work,
    line: usize,
    standard: Standard,
    athlete: &Athlete,
    stimulus: &Stimulus,
) -> f64 {
    let (workout, lines) = compile_for(work, standard, athlete, stimulus);
    let task = slot_of(work, &lines, line).and_then(|s| tasks_for(&workout, athlete, &[]).into_iter().nth(s));
    task.map_or(0.0, |t| if t.feasible { t.most } else { 0.0 })
}
