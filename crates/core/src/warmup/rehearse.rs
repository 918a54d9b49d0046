//! The rehearsal: the lift's build-up and the workout's bars and hardest skill, each to the day's own movement under a part of
//! the day's weight, and a taste of the workout. Time is given from the end: what is cut is cut from the front.

use super::demand::{Asked, Demand};
use super::{Part, Step};
use crate::movement::{LoadKind, Progression, ProgressionStep, catalogue, say::spoken, say::spoken_for};

/// A taste of the workout: one short round, s (own).
const TASTE_S: u32 = 60;
/// The day's movement under a part of the day's weight, with the change of plates, s (own).
const LOADED_S: u32 = 45;
/// Reps of it.
const LOADED_REPS: u32 = 3;
/// Steps of a build-up that are never cut.
const KEPT: usize = 2;

/// One build-up: which steps of it there is time for.
struct BuildUp<'a> {
    asked: &'a Asked,
    progression: &'a Progression,
    /// The day's lift covers it: only the loaded step is left.
    covered: bool,
    /// Steps from the end.
    steps: usize,
}

fn is_bar(id: &str) -> bool {
    catalogue().movement(id).is_some_and(|m| m.load == LoadKind::Barbell)
}

impl BuildUp<'_> {
    fn kept(&self) -> &[ProgressionStep] {
        let all = self.progression.steps.as_slice();
        all.get(all.len() - self.steps.min(all.len())..).unwrap_or_default()
    }

    fn loaded_s(&self) -> u32 {
        if is_bar(&self.asked.movement) { LOADED_S } else { 0 }
    }

    fn seconds(&self) -> u32 {
        self.kept().iter().map(|s| s.seconds).sum::<u32>() + self.loaded_s()
    }

    /// Seconds that one step more from the front would take; `None` where it has all.
    fn next_s(&self) -> Option<u32> {
        if self.covered {
            return None;
        }
        let at = self.progression.steps.len().checked_sub(self.steps + 1)?;
        self.progression.steps.get(at).map(|s| s.seconds)
    }

    fn step(&self) -> Step {
        let kept = self.kept();
        let said = |s: &ProgressionStep| {
            format!("{}{}", s.reps.map(|r| format!("{r} ")).unwrap_or_default(), s.name.to_lowercase())
        };
        let mut names: Vec<String> = kept.iter().map(said).collect();
        let m = catalogue().movement(&self.asked.movement);
        if self.loaded_s() > 0 {
            let day = spoken_for(&self.asked.movement, f64::from(LOADED_REPS));
            let how = if self.covered {
                "at the workout's weight"
            } else {
                "at working speed with two thirds of the weight"
            };
            names.push(format!("{LOADED_REPS} {day} {how}"));
        }
        let head = match kept.first() {
            Some(first) => format!("{} build-up, {}: ", self.progression.name, first.load.replace('-', " ")),
            None => String::new(),
        };
        Step {
            part: Part::Rehearse,
            drill: Some(self.progression.id.clone()),
            name: format!("{head}{}", names.join(", ")),
            cue: kept.last().map(|s| s.cue.clone()).unwrap_or_default(),
            easier: "Lighter, and your own version's form.".to_owned(),
            seconds: self.seconds(),
            regions: m.map(|m| m.regions.clone()).unwrap_or_default(),
            prepares: self.progression.movements.clone(),
        }
    }
}

/// Build-ups in the order in which they are given time: the lifts, the workout's bars, its hardest skill; each progression once.
fn build_ups(need: &Demand) -> Vec<BuildUp<'_>> {
    fn of(a: &Asked) -> Option<(&Asked, &'static Progression)> {
        Some((a, catalogue().progression_for(&a.movement)?))
    }
    let lifts = need.asked.iter().filter(|a| a.lift).filter_map(of);
    let bars = need.asked.iter().filter(|a| !a.lift && is_bar(&a.movement)).filter_map(of);
    let skill = |a: &Asked| catalogue().movement(&a.movement).map_or(0, |m| m.skill);
    let hardest = need.asked.iter().filter(|a| !a.lift && !is_bar(&a.movement)).filter_map(of);
    let hardest = hardest.max_by_key(|(a, _)| skill(a)).filter(|(a, _)| skill(a) > 1);
    let mut out: Vec<BuildUp> = Vec::new();
    for (asked, progression) in lifts.chain(bars).chain(hardest) {
        let same = out.iter().find(|b| b.progression.id == progression.id);
        let covered = same.is_some();
        if same.is_some_and(|b| b.asked.movement == asked.movement || !is_bar(&asked.movement)) {
            continue;
        }
        out.push(BuildUp { asked, progression, covered, steps: if covered { 0 } else { KEPT } });
    }
    out
}

/// The least that the build-ups of a day take, s: the last steps of each.
pub(super) fn least_s(need: &Demand) -> u32 {
    build_ups(need).iter().map(BuildUp::seconds).sum()
}

/// The same with the taste of a workout.
pub(super) fn least_with_taste_s(need: &Demand) -> u32 {
    least_s(need) + if need.asked.iter().any(|a| !a.lift) { TASTE_S } else { 0 }
}

/// The last steps of every build-up as far as there is time, then the taste, then earlier steps.
pub(super) fn rehearsal(need: &Demand, seconds: u32, taste: bool) -> Vec<Step> {
    let workout: Vec<&str> = need.asked.iter().filter(|a| !a.lift).map(|a| a.movement.as_str()).collect();
    let mut left = seconds;
    let mut ups: Vec<BuildUp> = Vec::new();
    for b in build_ups(need) {
        // the lift's own is never left out
        if b.seconds() <= left || ups.is_empty() {
            left = left.saturating_sub(b.seconds());
            ups.push(b);
        }
    }
    let tasted = taste && !workout.is_empty() && left >= TASTE_S;
    left -= if tasted { TASTE_S } else { 0 };
    for b in &mut ups {
        while let Some(s) = b.next_s().filter(|s| *s <= left) {
            left -= s;
            b.steps += 1;
        }
    }
    let mut out: Vec<Step> = ups.iter().map(BuildUp::step).collect();
    if tasted {
        out.push(a_taste(&workout, TASTE_S));
    }
    if let Some(last) = out.last_mut() {
        last.seconds += left;
    }
    out
}

fn a_taste(workout: &[&str], seconds: u32) -> Step {
    let counted = |m: &&str| catalogue().movement(m).is_some_and(|m| m.count == crate::units::Unit::Reps);
    let (reps, other): (Vec<&str>, Vec<&str>) = workout.iter().partition(|m| counted(m));
    let mut names: Vec<String> = reps.iter().map(|m| format!("3 {}", spoken_for(m, 3.0))).collect();
    names.extend(other.iter().map(|m| format!("a short {}", spoken(m))));
    let mut regions: Vec<String> =
        workout.iter().filter_map(|m| catalogue().movement(m)).flat_map(|m| m.regions.clone()).collect();
    regions.sort();
    regions.dedup();
    Step {
        part: Part::Rehearse,
        drill: None,
        name: format!("A taste at the working weight: {}", names.join(", ")),
        cue: "Working weight, working pace, then stop.".to_owned(),
        easier: "Your own version's movements.".to_owned(),
        seconds,
        regions,
        prepares: workout.iter().map(|m| (*m).to_owned()).collect(),
    }
}
