//! Why somebody stands in a version.

use super::{score, window};
use crate::movement::say::{spoken, spoken_for};
use crate::reason::{Beyond, OfDay, OfPlace};
use crate::units::{clock, in_ten, plain};

pub(super) fn of_place(r: &OfPlace) -> String {
    match r {
        OfPlace::WouldGive { tier, unit, middle, on_stimulus } => {
            format!(
                "{} would give {}, {} in the window.",
                tier.word(),
                score(*unit, *middle),
                in_ten(*on_stimulus)
            )
        }
        OfPlace::Far { tier, here, of } => {
            format!("{}{}: {}", tier.word(), if *here { " here" } else { "" }, beyond(of))
        }
        OfPlace::Gives { tier, unit, low, middle, high, on_stimulus, window: w, steady } => format!(
            "{} gives {} ({} to {}), {} inside {}.",
            tier.word(),
            score(*unit, *middle),
            score(*unit, *low),
            score(*unit, *high),
            in_ten(*on_stimulus),
            window(*unit, w.unwrap_or_default(), *steady)
        ),
        OfPlace::Results { unit, before, now, own } => {
            let whose = match own {
                0 => "the hall's results".to_owned(),
                1 => "1 result of theirs and the hall's".to_owned(),
                n => format!("{n} results of theirs and the hall's"),
            };
            format!("{} became {} because of {whose}.", score(*unit, *before), score(*unit, *now))
        }
        OfPlace::LeastKnown { ability } => format!("Least is known of their {ability}, on which this hangs."),
        OfPlace::Chosen { tier, proposed } => {
            format!("You chose {}; I would choose {}.", tier.word(), proposed.word())
        }
    }
}

/// What is said of the day.
pub fn of_day(d: &OfDay) -> String {
    match d {
        OfDay::NobodyYet { movement, wants, best, starts_at } => {
            let have = if *best < 1.0 { "none".to_owned() } else { plain(*best) };
            let best = format!("the best set in the room is {have}");
            format!(
                "Nobody here has {} {} at once yet: {best}. The room starts at {}; Full is what it leads to.",
                plain(wants.ceil()),
                spoken_for(movement, wants.ceil()),
                starts_at.word()
            )
        }
        OfDay::SecondChoice { movement, lacking, members, instead } => format!(
            "{lacking} of {members} do not have the {} of Full yet. Its second choice: {instead}.",
            spoken_for(movement, 2.0)
        ),
    }
}

/// What is said in place of a figure.
pub fn beyond(b: &Beyond) -> String {
    match b {
        Beyond::NotYet { movement } => {
            format!("{} cannot be done yet at this load or skill: scale this.", spoken(movement))
        }
        Beyond::TooMuch { movement, units, in_a_round, largest } => format!(
            "{} {} {} with a largest set of {}: scale this.",
            plain(units.round()),
            spoken(movement),
            if *in_a_round { "a round" } else { "in all" },
            plain(largest.round())
        ),
        Beyond::TooLong { seconds } => format!("This would take about {}: scale this.", clock(*seconds)),
        Beyond::NeverEnds => "Most runs take more than three caps or never end: scale this.".to_owned(),
    }
}
