//! The rehearsal: the lift's build-up and the workout's bars and hardest skill, each to the day's own movement under a part of
//! the day's weight, and a taste of the workout. Time is given from the end: what is cut is cut from the front.

use super::demand::{Asked, Demand};
use super::taste::{Done, TASTE_S, taste};
use super::{Step, WarmUpPart};
use crate::movement::{
    LoadKind, Progression, ProgressionStep, catalogue, say::capital, say::spoken, say::spoken_for,
};

/// The day's movement under a part of the day's weight, with the change of plates, s (own).
const LOADED_S: u32 = 45;
/// Reps of it.
const LOADED_REPS: u32 = 3;
/// What is held, a lighter one first, s and reps (own).
const HELD_S: u32 = 40;
const HELD_REPS: [u32; 2] = [5, 3];
/// Steps of a build-up that are never cut.
const KEPT: usize = 2;

/// One build-up: which steps of it there is time for.
struct BuildUp<'a> {
    asked: &'a Asked,
    /// Movements of the day to which it leads, the one asked first.
    leads_to: Vec<&'a str>,
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
    /// Its steps that lead to what the day asks.
    fn fitting(&self) -> Vec<&ProgressionStep> {
        self.progression.steps.iter().filter(|s| s.leads_to(&self.leads_to)).collect()
    }

    fn kept(&self) -> Vec<&ProgressionStep> {
        let all = self.fitting();
        all.get(all.len() - self.steps.min(all.len())..).unwrap_or_default().to_vec()
    }

    fn loaded_s(&self) -> u32 {
        match () {
            () if is_bar(&self.asked.movement) => LOADED_S,
            () if is_heavy_in_hand(self.asked) => HELD_S / 2,
            () => 0,
        }
    }

    fn seconds(&self) -> u32 {
        self.kept().iter().map(|s| s.seconds).sum::<u32>() + self.loaded_s()
    }

    /// Seconds that one step more from the front would take; `None` where it has all.
    fn next_s(&self) -> Option<u32> {
        if self.covered {
            return None;
        }
        let all = self.fitting();
        all.get(all.len().checked_sub(self.steps + 1)?).map(|s| s.seconds)
    }

    /// `Pull-up and toes to bar build-up`: by the day's own movements, the first two of them.
    fn heading(&self) -> String {
        let names: Vec<String> = self.leads_to.iter().take(2).map(|m| spoken(m)).collect();
        format!("{} build-up", capital(&names.join(" and ")))
    }

    fn step(&self) -> Step {
        let kept = self.kept();
        let said = |s: &&ProgressionStep| {
            let times = s.reps.filter(|r| *r > 1).map(|r| format!(" × {r}")).unwrap_or_default();
            format!("{}{times}", s.name.to_lowercase())
        };
        let mut names: Vec<String> = kept.iter().map(said).collect();
        let m = catalogue().movement(&self.asked.movement);
        if self.loaded_s() > 0 {
            let day = spoken_for(&self.asked.movement, f64::from(LOADED_REPS));
            let how = if self.covered {
                "at the workout's weight"
            } else if is_bar(&self.asked.movement) {
                "at working speed with two thirds of the weight"
            } else {
                "with the weight of your version"
            };
            names.push(format!("{LOADED_REPS} {day} {how}"));
        }
        let head = match kept.first() {
            Some(first) => format!("{}, {}: ", self.heading(), first.load.replace('-', " ")),
            None => String::new(),
        };
        Step {
            part: WarmUpPart::Rehearse,
            drill: Some(self.progression.id.clone()),
            name: format!("{head}{}", names.join("; ")),
            dose: String::new(),
            cue: kept.last().map(|s| s.cue.clone()).unwrap_or_default(),
            easier: "Lighter, and your own version's form.".to_owned(),
            seconds: self.seconds(),
            regions: m.map(|m| m.regions.clone()).unwrap_or_default(),
            prepares: self.leads_to.iter().map(|m| (*m).to_owned()).collect(),
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
        let steps = if covered { 0 } else { KEPT };
        out.push(BuildUp {
            asked,
            leads_to: leads_to(asked, progression, need),
            progression,
            covered,
            steps,
        });
    }
    out
}

/// Movements of the day that a build-up leads to, the one asked first: of bars that one alone.
fn leads_to<'a>(asked: &'a Asked, progression: &Progression, need: &'a Demand) -> Vec<&'a str> {
    let mut out = vec![asked.movement.as_str()];
    let others = need.asked.iter().filter(|a| !is_bar(&asked.movement) && a.lift == asked.lift);
    let others = others.map(|a| a.movement.as_str());
    out.extend(others.filter(|m| *m != asked.movement && progression.movements.iter().any(|p| p == m)));
    out
}

/// A dumbbell, bell or ball of a workout that weighs at least what a moderate session has.
fn is_heavy_in_hand(a: &Asked) -> bool {
    let Some(m) = catalogue().movement(&a.movement) else { return false };
    let held = match m.load {
        LoadKind::Dumbbell | LoadKind::DumbbellPair | LoadKind::Kettlebell | LoadKind::Medball => true,
        LoadKind::None
        | LoadKind::Barbell
        | LoadKind::Plate
        | LoadKind::Machine
        | LoadKind::Vest
        | LoadKind::Sandbag => false,
    };
    let moderate = m.rx_load.map(|l| l.moderate[0]);
    held && !a.lift && a.load_kg.zip(moderate).is_some_and(|([kg, _], usual)| kg >= usual - 1e-6)
}

/// One lighter set, then the day's weight.
fn in_hand(a: &Asked) -> Step {
    let m = catalogue().movement(&a.movement);
    let [light, own] = HELD_REPS;
    let name = capital(&spoken_for(&a.movement, f64::from(light)));
    Step {
        part: WarmUpPart::Rehearse,
        drill: None,
        name: format!("{name}: {light} with a lighter one, {own} with the weight of your version"),
        dose: String::new(),
        cue: m.and_then(|m| m.cues.first().cloned()).unwrap_or_default(),
        easier: "Both sets with the lighter one.".to_owned(),
        seconds: HELD_S,
        regions: m.map(|m| m.regions.clone()).unwrap_or_default(),
        prepares: vec![a.movement.clone()],
    }
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
pub(super) fn rehearsal(need: &Demand, seconds: u32, done: &[Done]) -> Vec<Step> {
    let mut left = seconds;
    let mut ups: Vec<BuildUp> = Vec::new();
    for b in build_ups(need) {
        // the lift's own is never left out
        if b.seconds() <= left || ups.is_empty() {
            left = left.saturating_sub(b.seconds());
            ups.push(b);
        }
    }
    let tasted = taste(done).filter(|t| left >= t.seconds);
    left -= tasted.as_ref().map_or(0, |t| t.seconds);
    let mut held = Vec::new();
    for a in need.asked.iter().filter(|a| is_heavy_in_hand(a)) {
        if left >= HELD_S && !ups.iter().any(|u| u.asked.movement == a.movement) {
            left -= HELD_S;
            held.push(in_hand(a));
        }
    }
    for b in &mut ups {
        while let Some(s) = b.next_s().filter(|s| *s <= left) {
            left -= s;
            b.steps += 1;
        }
    }
    ups.iter().map(BuildUp::step).chain(held).chain(tasted).collect()
}
