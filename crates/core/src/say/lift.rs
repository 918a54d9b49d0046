//! Why a lift of somebody is not the sheet's, and what they must know of it.

use super::{agreed, mark, mass};
use crate::movement::{catalogue, say::capital};
use crate::reason::{OfLift, Rule, TooLight};
use crate::units::{WeightUnit, clock, count_word, plain};

pub(super) fn of_lift(r: &OfLift, unit: WeightUnit) -> String {
    let name = |id: &str| catalogue().name(id).to_lowercase();
    let swap = |to: &str, from: &str| format!("{} instead of {}", capital(&name(to)), name(from));
    match r {
        OfLift::LiftForLimit { to, from, agreed: how } => format!("{}, {}.", swap(to, from), agreed(*how)),
        OfLift::NoLift { lift, agreed: how } => {
            format!("No {}, {}: nothing that is here suits. Settle it together.", name(lift), agreed(*how))
        }
        OfLift::LiftForKit { to, from, no_barbell } => {
            let what = if *no_barbell { "no barbell" } else { "nothing to do it with" };
            format!("{}: the kit has {what}.", swap(to, from))
        }
        OfLift::ToTheMost { best, each } => {
            format!("Best set {}: about {each} a set, so that the last is like the first.", plain(*best))
        }
        OfLift::NoBestSet => "No best set is known: stop with 2 reps left.".to_owned(),
        OfLift::HardestPart { lift } => {
            format!("One weight for the whole chain, by its hardest part: {}.", name(lift))
        }
        OfLift::Rule { of } => rule(of, unit),
        OfLift::TempoStays { tempo } => format!(
            "No part of this lift can be lowered slowly: the tempo {} stays on the sheet, lower it as you like.",
            tempo.words()
        ),
        OfLift::OldLift => "The lift behind this is over 12 weeks old.".to_owned(),
        OfLift::TooLight { of } => too_light(of, unit),
        OfLift::NotBuildable => {
            "No weight inside the band can be built with your plates; the next below is taken.".to_owned()
        }
        OfLift::NoImplement => {
            "The kit has no bar or implement for this lift. Choose another or add it on the kit page."
                .to_owned()
        }
        OfLift::ShortRest { every_s, rest_s, percent } => format!(
            "Every {} leaves {} of rest at {} %: too short above 80 %.",
            clock(f64::from(*every_s)),
            clock(*rest_s),
            plain(percent.round())
        ),
        OfLift::BuildTo { reps, sets } => format!(
            "Build to a heavy {}: {} sets, stop when one more would be a grind.",
            heavy(*reps),
            count_word(*sets)
        ),
        OfLift::BuildTowards { reps, sets } => format!(
            "Build towards a heavy {} from an estimate: {} sets, the last leaves 2.",
            heavy(*reps),
            count_word(*sets)
        ),
        OfLift::EasySets { sets } => {
            format!("{} easy sets, a bit more each time; 3 left in every one.", capital(&count_word(*sets)))
        }
        OfLift::NoMaximum { reps, pregnant } => {
            let how = if *pregnant { ", talk while you lift; 4 left." } else { "; 3 left in every one." };
            format!("No maximum: sets of {}{how}", count_word(*reps as usize))
        }
        OfLift::Moved { by_kg } => {
            let sign = if *by_kg > 0.0 { "+" } else { "\u{2212}" };
            format!("You set {sign}{}.", mass(by_kg.abs(), unit))
        }
    }
}

fn heavy(reps: u32) -> String {
    if reps == 1 { "single".to_owned() } else { count_word(reps as usize) }
}

/// The one sentence of a card.
fn rule(of: &Rule, unit: WeightUnit) -> String {
    match of {
        Rule::Pregnant { first_kg, left } => format!(
            "Start at {}. Talk while you lift; breathe out on the way up; stop with {left} reps left.",
            mass(*first_kg, unit)
        ),
        Rule::New { first_kg, step_kg, left } => format!(
            "By feel: start at {}, up {} if it was easy, stop with {left} reps left.",
            mass(*first_kg, unit),
            mass(*step_kg, unit)
        ),
        Rule::Limit { first_kg, left } => {
            format!("Start at {}, by feel; stop with {left} reps left.", mass(*first_kg, unit))
        }
        Rule::NewButKnown { most_percent: Some(most), left } => {
            format!("At most {} %; stop with {left} reps left.", plain(*most))
        }
        Rule::NewButKnown { most_percent: None, left } => format!("Stop with {left} reps left."),
        Rule::Unknown { first_kg, left } => {
            format!("A ceiling, not a goal: start at {}, stop with {left} reps left.", mass(*first_kg, unit))
        }
        Rule::Back { weeks } => format!("Back after {weeks} weeks: nine tenths of the weights."),
    }
}

fn too_light(l: &TooLight, unit: WeightUnit) -> String {
    let more = if l.not_enough { ", and even that is less than wanted" } else { "" };
    let slower = l.or_tempo.map_or_else(String::new, |tempo| {
        format!("; or {} reps with 2 s more lowering ({})", l.reps, tempo.words())
    });
    format!(
        "The heaviest at hand is {} where {} would be right: {} reps instead of {}{more}{slower}.",
        mass(l.at_hand_kg, unit),
        mark((l.wanted_kg * 2.0).round() / 2.0, unit),
        l.more_reps,
        l.reps,
    )
}
