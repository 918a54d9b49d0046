//! Why a line is somebody's own.

use super::{agreed, mark, mass, whole};
use crate::movement::{catalogue, say::spoken, say::spoken_for};
use crate::reason::{Asked, BoundFrom, Doing, OfLine};
use crate::units::{WeightUnit, plain};

pub(super) fn of_line(r: &OfLine, unit: WeightUnit) -> String {
    match r {
        OfLine::Limit { to, from, agreed: how, why } => {
            let (to, from) = told_apart(to, from);
            format!("{to} instead of {from}, {}: {}.", agreed(*how), in_a_sentence(why))
        }
        OfLine::NothingSuits { movement, agreed: how } => {
            let no = spoken_for(movement, 2.0);
            format!("No {no}, {}: nothing that is here suits. Settle it together.", agreed(*how))
        }
        OfLine::StrictFirst { to, from, strict, swings_from } => format!(
            "{} instead of {}: {} strict reps, and this hall swings from {} on.",
            spoken(to),
            spoken(from),
            plain(*strict),
            plain(*swings_from)
        ),
        OfLine::Rung { to, from, asked: what, best } => format!(
            "{} instead of {}: {} and the best set is {}.",
            spoken_for(to, 2.0),
            spoken_for(from, 2.0),
            asked(what),
            whole(*best)
        ),
        OfLine::LessOfIt => "As it stands the version is far beyond them.".to_owned(),
        OfLine::Ceiling { kg } => {
            format!("Start at {}, lighter if it is not easy: nothing is tested yet.", mass(*kg, unit))
        }
        OfLine::FirstSet { to_kg, from_kg, of, wants, largest_before, largest_now } => {
            let reps = (*wants, *largest_before, *largest_now);
            first_set(*to_kg, *from_kg, of.as_deref(), reps, unit)
        }
        OfLine::InAll { to_kg, from_kg, of, total, largest_before, largest_now } => {
            let reps = (*total, *largest_before, *largest_now);
            in_all(*to_kg, *from_kg, of.as_deref(), reps, unit)
        }
        OfLine::LaterSets { to_kg, from_kg, sets } => {
            let sets = if *sets == 1 { "1 set".to_owned() } else { format!("{sets} sets") };
            format!("{}: with more it takes over {sets} in a later round.", weights(*to_kg, *from_kg, unit))
        }
        OfLine::JumpBox { to_cm, from_cm, most_cm, stature_cm } => {
            let most = plain(most_cm.floor());
            let why =
                format!("{most} cm is the most that keeps the jump a jump at {} cm", plain(*stature_cm));
            format!("{}: {why}.", boxes(*to_cm, *from_cm))
        }
        OfLine::StepBox { to_cm, from_cm, knee_cm, stature_cm } => {
            let knee =
                format!("the knee is about {} cm high at {} cm", plain(knee_cm.round()), plain(*stature_cm));
            format!(
                "{}: {knee}; from a box far above it the step is another exercise.",
                boxes(*to_cm, *from_cm)
            )
        }
        OfLine::Volume { total, pattern, most, of, away_days } => {
            format!("{} {pattern} in all, {}.", plain(total.round()), bound(*most, of, *away_days))
        }
        OfLine::Stock { to_kg, from_kg, implement } => {
            format!("{}: the hall has too few {implement} of it.", weights(*to_kg, *from_kg, unit))
        }
    }
}

fn first_set(
    to_kg: f64,
    from_kg: f64,
    of: Option<&str>,
    (wants, before, now): (f64, f64, f64),
    unit: WeightUnit,
) -> String {
    let name = of.map_or_else(String::new, |m| format!(" of the {}", spoken_for(m, 2.0)));
    let (to, from) = (mass(to_kg, unit), mass(from_kg, unit));
    let at_from = format!("at {from} the largest set is {}", whole(before));
    let wants = format!("the first set{name} wants {} reps", plain(wants));
    format!("{}: {wants}, {at_from}, at {to} {}.", weights(to_kg, from_kg, unit), whole(now))
}

fn in_all(
    to_kg: f64,
    from_kg: f64,
    of: Option<&str>,
    (total, before, now): (f64, f64, f64),
    unit: WeightUnit,
) -> String {
    let name = of.map_or_else(String::new, |m| format!(" {}", spoken_for(m, 2.0)));
    let much = format!("{}{name} in all with a largest set of {}", plain(total.round()), whole(before));
    format!("{}: {much}, at {} {}.", weights(to_kg, from_kg, unit), mass(to_kg, unit), whole(now))
}

fn weights(to_kg: f64, from_kg: f64, unit: WeightUnit) -> String {
    format!("{} instead of {}", mass(to_kg, unit), mark(from_kg, unit))
}

fn boxes(to_cm: f64, from_cm: f64) -> String {
    format!("a box of {} cm instead of {}", plain(to_cm), plain(from_cm))
}

/// What is asked of a line that a member lacks.
fn asked(what: &Asked) -> String {
    match what {
        Asked::Sets { reps } => format!("sets of {} are wanted", plain(*reps)),
        Asked::Amount { units, in_a_round } => {
            format!("{} {} are asked", plain(units.round()), if *in_a_round { "a round" } else { "in all" })
        }
    }
}

/// Where the most of a pattern comes from.
fn bound(most: f64, from: &BoundFrom, away_days: Option<i64>) -> String {
    let why = match from {
        BoundFrom::FirstDay => {
            format!("with nothing logged yet: at most {} on a first day, or tomorrow hurts", plain(most))
        }
        BoundFrom::TwiceLargest { largest, whole } => format!(
            "twice the {} of the largest day in the last 4 weeks is {}",
            plain(*largest),
            plain(*whole)
        ),
        BoundFrom::Largest { largest, whole } => format!(
            "the largest day of the last 4 weeks had {}, so at most {}",
            plain(*largest),
            plain(*whole)
        ),
        BoundFrom::NoneLately { whole } => {
            format!("none are logged in the last 4 weeks, so at most {}", plain(*whole))
        }
        BoundFrom::Unknown { new } => {
            let who = if *new { " for somebody new" } else { "" };
            format!("and nothing is known of their days: at most {}{who}", plain(most))
        }
    };
    match away_days {
        Some(days) => format!("{why}, and half of that, {}, after {days} days away", plain(most)),
        None => why,
    }
}

/// A sentence of the table inside another: small at the beginning, no full stop.
fn in_a_sentence(why: &str) -> String {
    let plain = why.trim_end_matches('.');
    let mut letters = plain.chars();
    letters.next().map_or_else(String::new, |c| c.to_lowercase().chain(letters).collect())
}

/// Two lines' movements as they are said, in words that differ: with the variant, else with all that their names hold.
fn told_apart(a: &Doing, b: &Doing) -> (String, String) {
    let said = |d: &Doing| {
        let name = if d.counted { spoken_for(&d.movement, 2.0) } else { spoken(&d.movement) };
        d.variant.as_ref().map_or(name.clone(), |v| format!("{name} ({v})"))
    };
    let (x, y) = (said(a), said(b));
    if x == y {
        (catalogue().name(&a.movement).to_lowercase(), catalogue().name(&b.movement).to_lowercase())
    } else {
        (x, y)
    }
}
