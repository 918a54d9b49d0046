//! Ways to make a day fit, and kit that is short.

use super::{mass, window};
use crate::hour::HourPart;
use crate::kinds::Gear;
use crate::mend::{Less, Short, Way};
use crate::movement::catalogue;
use crate::movement::say::{capital, spoken};
use crate::units::{WeightUnit, clock};

/// Members who are named one by one; of more the first, and how many others.
const MOST_NAMED: usize = 8;

fn at(s: u32) -> String {
    clock(f64::from(s))
}

fn of(workout: &Option<String>) -> String {
    workout.as_ref().map(|w| format!("{w}: ")).unwrap_or_default()
}

/// A way as a sentence, with what it asks of coach and class.
pub fn way(w: &Way) -> String {
    capital(&plainly(w))
}

fn plainly(w: &Way) -> String {
    match w {
        Way::Shorter { part, from_s, to_s } => shorter(*part, *from_s, *to_s),
        Way::Cap { workout, from_s: Some(was), to_s } => {
            format!("{}cap {} instead of {}; versions are made for it.", of(workout), at(*to_s), at(*was))
        }
        Way::Cap { workout, from_s: None, to_s } => {
            format!("{}a cap of {}; versions are made for it.", of(workout), at(*to_s))
        }
        Way::Less { workout, changes } => {
            let said: Vec<String> = changes.iter().map(less).collect();
            format!("{}{}.", of(workout), said.join(", "))
        }
        Way::Sets { from, to } => format!("{to} sets instead of {from}; where they climb, the first is left out."),
        Way::Every { from_s, to_s } => {
            format!("A set every {} instead of {}: less rest.", at(*to_s), at(*from_s))
        }
        Way::Racks { from, to, lent: 0 } => format!("{to} racks instead of {from}: fewer share one."),
        Way::Racks { from, to, lent } => format!(
            "{to} racks instead of {from}, {lent} more than the hall has: stands, if they are safe for this lift."
        ),
        Way::Halves => {
            "Half of the class lifts while the other half does the workout, then they change: half works before it lifts."
                .to_owned()
        }
        Way::Heats { workout, heats } => {
            format!("{}{heats} heats, one after the other; who waits counts and cheers.", of(workout))
        }
        Way::Starts { workout, starts } => {
            format!("{}begin at {starts} different lines, go round from there.", of(workout))
        }
        Way::Pairs { workout } => {
            format!("{}in pairs, one works at a time: half of the kit, half of the work each.", of(workout))
        }
        Way::Leave { what } => format!("{what} is left for another day."),
    }
}

fn shorter(part: HourPart, from_s: u32, to_s: u32) -> String {
    let cost = match part {
        HourPart::Accessory if to_s == 0 => "it is left for another day",
        HourPart::Accessory => "less of it",
        HourPart::CoolDown => "members stretch on their own",
        HourPart::Brief => "say less, show more",
        HourPart::ChangeOver | HourPart::HeatChange => "needs every hand on the plates",
        HourPart::WorkoutBrief => "standards only",
        HourPart::Skill => "less practice",
        _ => "fewer drills",
    };
    match to_s {
        0 => format!("No {}: {cost}.", part.word().to_lowercase()),
        _ => format!("{} {} instead of {}: {cost}.", part.word(), at(to_s), at(from_s)),
    }
}

fn less(l: &Less) -> String {
    match l {
        Less::Rounds { from, to } => {
            format!("{to} {} instead of {from}", if *to == 1 { "round" } else { "rounds" })
        }
        Less::Cycles { from, to } => format!("{to} times instead of {from}"),
        Less::Minutes { from_s, to_s } => format!("{} on the clock instead of {}", at(*to_s), at(*from_s)),
        Less::Counts { share } => format!("about {} % of every count", (share * 100.0).round()),
        Less::Cap { from_s: Some(was), to_s } => format!("cap {} instead of {}", at(*to_s), at(*was)),
        Less::Cap { from_s: None, to_s } => format!("cap {}", at(*to_s)),
        Less::Target { unit, window: w } => format!("target {}", window(*unit, *w, false)),
    }
}

/// What is short, with item, numbers and the moment. `name`: of a member by place; empty where nobody is named.
pub fn short(s: &Short, unit: WeightUnit, name: impl Fn(usize) -> String) -> String {
    let who = |who: &[usize]| {
        let names: Vec<String> = who.iter().map(|i| name(*i)).filter(|n| !n.is_empty()).collect();
        match names.get(..MOST_NAMED).filter(|_| names.len() > MOST_NAMED + 1) {
            Some(first) => format!(" ({} and {} others)", first.join(", "), names.len() - MOST_NAMED),
            None if names.is_empty() => String::new(),
            None => format!(" ({})", names.join(", ")),
        }
    };
    match s {
        Short::Implements { name: things, movement, kg, want, have, who: all, .. } => format!(
            "{want} want {things} of {} for the {} at once{} and the hall has {have}.",
            mass(*kg, unit),
            spoken(movement),
            who(all)
        ),
        Short::Bars { kg, have, who: all } => format!(
            "{} want a bar of {} at once{} and the hall has {have}.",
            all.len(),
            mass(*kg, unit),
            who(all)
        ),
        Short::Plates { sizes } => {
            let all: Vec<String> = sizes
                .iter()
                .map(|(kg, want, have)| format!("{want} of {} and there are {have}", mass(*kg, unit)))
                .collect();
            format!("Plates for all bars at once: {}. Make the weight from others.", all.join(", "))
        }
        Short::Places { gear, movement, have, at_s, who: all, waits_s } => format!(
            "{} are at the {} for the {} at {}{} and there are {have}: about {} of waiting for each.",
            all.len(),
            thing(*gear),
            spoken(movement),
            clock(*at_s),
            who(all),
            clock((waits_s / 5.0).round() * 5.0)
        ),
    }
}

fn thing(gear: Gear) -> String {
    let known = catalogue().equipment.iter().find(|x| x.id == gear);
    known.map_or_else(|| gear.word().to_owned(), |x| x.name.to_lowercase())
}
