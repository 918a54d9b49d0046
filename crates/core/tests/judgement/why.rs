//! Every reason's figures follow from the change that it explains: worked out again from the member, the line and the run.

use super::rules::Ruled;
use lantern_core::pacing::{most_reps, table};
use lantern_core::plan::WorkoutPlan;
use lantern_core::reason::{OfLift, OfLine, OfPlace, Reason, Rule};
use lantern_core::roster::Member;
use lantern_core::versions::{GUARDS, Line, Personal, Placed, bound, guard_of};

fn near(a: f64, b: f64) -> bool {
    (a - b).abs() < 1e-6 || a == b
}

impl Ruled {
    /// Reasons that say what is not so.
    pub fn unfounded(&self) -> Vec<String> {
        let mut out = Vec::new();
        for w in self.plan.workouts.iter().filter(|w| w.waits.is_none()) {
            for (i, p) in w.placed.iter().enumerate() {
                let name = &self.plan.members[i].name;
                let mut bad = |what: &str, why: String| out.push(format!("H33 {what}: {name}: {why}"));
                for r in &p.reasons {
                    if !of_place(w, p, r) {
                        bad("a place", format!("{r:?}"));
                    }
                }
                // a line that is left out moves those behind it
                let whole =
                    |x: &Personal| !x.reasons.iter().any(|r| matches!(r, OfLine::NothingSuits { .. }));
                for x in p.personal.iter().filter(|_| p.personal.iter().all(whole)) {
                    if let Some(r) = self.of_line(w, i, p, x) {
                        bad("a line", format!("{} - {r}", x.text));
                    }
                }
            }
        }
        self.of_lifts(&mut out);
        out
    }

    /// What of a personal line's reasons is not so.
    fn of_line(&self, w: &WorkoutPlan, i: usize, p: &Placed, x: &Personal) -> Option<String> {
        let m = &self.plan.members[i];
        let line = p.work.lines.get(x.line)?;
        let written = &w.versions.iter().find(|v| v.tier == p.tier)?.work.lines[x.line];
        let mut kg = written.kg().map(|kg| m.standard.of(kg));
        let mut movement = written.movement.clone();
        for r in &x.reasons {
            let (to, from) = match r {
                OfLine::FirstSet { to_kg, from_kg, .. }
                | OfLine::InAll { to_kg, from_kg, .. }
                | OfLine::LaterSets { to_kg, from_kg, .. }
                | OfLine::Stock { to_kg, from_kg, .. } => {
                    // a movement that was replaced came with a weight of its own
                    if movement == written.movement && !kg.is_none_or(|kg| near(kg, *from_kg)) {
                        return Some(format!("{r:?} comes from {kg:?}"));
                    }
                    if to_kg >= from_kg {
                        return Some(format!("{r:?} is no lighter"));
                    }
                    kg = Some(*to_kg);
                    continue;
                }
                OfLine::Ceiling { kg: to } => {
                    kg = Some(*to);
                    continue;
                }
                OfLine::Limit { to, from, .. } => (&to.movement, &from.movement),
                OfLine::StrictFirst { to, from, .. } | OfLine::Rung { to, from, .. } => (to, from),
                _ => continue,
            };
            if *from != movement || to == from && line.variant == written.variant {
                return Some(format!("{r:?} comes from {movement}"));
            }
            movement.clone_from(to);
            kg = None;
        }
        let now = line.kg().map(|kg| m.standard.of(kg));
        if movement != line.movement {
            return Some(format!("{:?} end at {movement}, the line at {}", x.reasons, line.movement));
        }
        if kg.is_some() && !now.zip(kg).is_some_and(|(a, b)| near(a, b)) {
            return Some(format!("{:?} end at {kg:?} kg, the line at {now:?}", x.reasons));
        }
        x.reasons.iter().find(|r| !self.figures(i, m, line, r)).map(|r| format!("{r:?}"))
    }

    /// Whether a reason's own figures are so.
    fn figures(&self, i: usize, m: &Member, line: &Line, r: &OfLine) -> bool {
        match r {
            OfLine::FirstSet { to_kg, from_kg, wants, largest_before, largest_now, of } => {
                let of = of.as_ref().unwrap_or(&line.movement);
                let row = table::row(of).unwrap();
                let athlete = &self.plan.abilities[i].athlete;
                let most = |kg: f64| most_reps(athlete, row, kg * line.held(), 1.0).0;
                *wants >= 1.0 && near(most(*from_kg), *largest_before) && near(most(*to_kg), *largest_now)
            }
            OfLine::InAll { total, largest_before, largest_now, .. } => {
                largest_before < largest_now && *total > 4.0 * largest_before
            }
            OfLine::JumpBox { to_cm, from_cm, most_cm, stature_cm } => {
                to_cm <= most_cm && most_cm < from_cm && m.stature_cm == Some(*stature_cm)
            }
            OfLine::StepBox { to_cm, from_cm, knee_cm, stature_cm } => {
                to_cm < from_cm && knee_cm < from_cm && m.stature_cm == Some(*stature_cm)
            }
            OfLine::Volume { total, pattern, most, of, away_days } => {
                let guard = GUARDS.iter().find(|g| g.name == pattern).unwrap();
                let again = bound(m, guard, self.today()).unwrap();
                let same = (again.most, again.from, again.away_days) == (*most, *of, *away_days);
                let mine = guard_of(&line.movement).is_some_and(|g| g.id == guard.id);
                same && mine && total > most
            }
            OfLine::StrictFirst { strict, swings_from, .. } => strict < swings_from,
            OfLine::Limit { to, from, .. } => {
                let hit = |id: &str| {
                    let avoid = &lantern_core::movement::catalogue().movement(id).unwrap().avoid_with;
                    m.limit_against(avoid).is_some()
                };
                hit(&from.movement) && !hit(&to.movement)
            }
            _ => true,
        }
    }

    fn of_lifts(&self, out: &mut Vec<String>) {
        for lift in self.plan.strength.iter().flat_map(|s| &s.lifts) {
            for (i, l) in &lift.members {
                let m = &self.plan.members[*i];
                let working: Vec<_> = l.working().collect();
                if l.sets.windows(2).any(|s| !near(s[0].bar_kg, s[1].bar_kg)) {
                    out.push(format!("L9 one bar for a lift: {}: {:?}", m.name, l.sets));
                }
                for r in l.reasons.iter().chain(&l.open) {
                    let Reason::Lift(r) = r else {
                        out.push(format!("H33 a lift: {}: {r:?}", m.name));
                        continue;
                    };
                    let so = match r {
                        OfLift::LiftForLimit { to, .. } => *to == l.lift && !m.limits.is_empty(),
                        OfLift::LiftForKit { to, from, .. } => *to == l.lift && to != from,
                        OfLift::Rule { of } => match of {
                            Rule::Pregnant { first_kg, left }
                            | Rule::New { first_kg, left, .. }
                            | Rule::Limit { first_kg, left }
                            | Rule::Unknown { first_kg, left } => {
                                near(*first_kg, l.first_kg()) && l.reserve == Some(*left)
                            }
                            Rule::NewButKnown { left, .. } => l.reserve == Some(*left),
                            Rule::Back { weeks } => *weeks >= 2,
                        },
                        OfLift::ToTheMost { best, each } => {
                            f64::from(*each) < *best && working.iter().any(|s| s.reps == *each)
                        }
                        OfLift::TooLight { of } => {
                            of.at_hand_kg < of.wanted_kg && working.iter().all(|s| s.load_kg <= of.at_hand_kg)
                        }
                        OfLift::BuildTo { reps, sets } | OfLift::BuildTowards { reps, sets } => {
                            working.len() == *sets && working.iter().all(|s| s.reps == *reps)
                        }
                        OfLift::EasySets { sets } => working.len() == *sets,
                        OfLift::ShortRest { percent, .. } => {
                            working.first().unwrap().percent == Some(*percent)
                        }
                        _ => true,
                    };
                    if !so {
                        out.push(format!("H33 a lift: {}: {r:?} of {l:?}", m.name));
                    }
                }
            }
        }
    }
}

/// Whether a reason of a place is so.
fn of_place(w: &WorkoutPlan, p: &Placed, r: &OfPlace) -> bool {
    let range = &p.predicted.prediction;
    let keeps = p.work.keeps(w.stimulus.as_ref().unwrap());
    match r {
        OfPlace::WouldGive { tier, middle, on_stimulus, unit } => p.tried.iter().any(|t| {
            t.tier == *tier
                && near(t.p50, *middle)
                && near(t.on_stimulus, *on_stimulus)
                && *unit == keeps.unit
        }),
        OfPlace::Far { tier, here: true, of } => *tier == p.tier && range.scale_this.as_ref() == Some(of),
        OfPlace::Far { tier, of, .. } => {
            p.tried.iter().any(|t| t.tier == *tier && t.scale_this.as_ref() == Some(of))
        }
        OfPlace::Gives { tier, low, middle, high, on_stimulus, window, .. } => {
            *tier == p.tier
                && [(low, range.p10()), (middle, range.p50()), (high, range.p90())]
                    .iter()
                    .all(|(a, b)| near(**a, *b))
                && near(*on_stimulus, range.on_stimulus)
                && window.unwrap_or_default() == [keeps.low, keeps.high]
        }
        OfPlace::Results { before, now, .. } => before != now,
        OfPlace::LeastKnown { ability } => range.weakest.as_ref() == Some(ability),
        OfPlace::Chosen { tier, proposed } => p.moved && *tier == p.tier && tier != proposed,
    }
}
