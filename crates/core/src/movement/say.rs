//! How an amount of a movement is said on a board: `12 power cleans 60/42.5 kg`, `200 m run`.

use super::catalogue;
use crate::units::{Unit, WeightUnit, pair};

/// The movement's plain name in small letters, without what stands in brackets, as coaches say it.
pub fn spoken(id: &str) -> String {
    let name = catalogue().name(id).to_lowercase();
    name.split('(').next().unwrap_or(&name).trim().to_owned()
}

/// The name for a count: `double-unders` for 30, `double-under` for 1.
pub fn spoken_for(id: &str, count: f64) -> String {
    let name = spoken(id);
    if (count - 1.0).abs() < 1e-9 { name } else { plural(&name) }
}

/// English plural of a movement's name; names of where a thing goes, and those that are one already, have none.
fn plural(name: &str) -> String {
    if name.ends_with("to overhead") {
        return name.to_owned();
    }
    // what is done comes first where something is passed over: burpees over bar
    for joint in [" over ", " to ", " with ", " from ", " on ", " without "] {
        if let Some((head, tail)) = name.split_once(joint) {
            return format!("{}{joint}{tail}", plural(head));
        }
    }
    // toes, knees, hands
    if name.ends_with('s') && !name.ends_with("ss") {
        return name.to_owned();
    }
    if ["ss", "ch", "sh", "x"].iter().any(|e| name.ends_with(e)) {
        format!("{name}es")
    } else {
        format!("{name}s")
    }
}

/// The first letter large, as where a sentence begins.
pub fn capital(words: &str) -> String {
    let mut letters = words.chars();
    letters.next().map_or_else(String::new, |c| c.to_uppercase().chain(letters).collect())
}

/// What is held on a line.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Held {
    /// kg of one implement, [heavier, lighter].
    pub kg: [f64; 2],
    /// How many are held.
    pub implements: u8,
    /// The unit that the hall speaks.
    pub unit: WeightUnit,
    /// The unit goes without saying.
    pub bare: bool,
}

/// One line of work in words. `counts`: one for all rounds or one a round, [heavier, lighter].
pub fn line_text(
    id: &str,
    counts: &[[f64; 2]],
    unit: Unit,
    per_side: bool,
    held: Option<Held>,
    height_cm: Option<[f64; 2]>,
) -> String {
    let side = if per_side { 2.0 } else { 1.0 };
    let count: Vec<String> = counts.iter().map(|c| pair(c.map(|v| v / side))).collect();
    let first = counts.first().map_or(0.0, |c| c[0] / side);
    let mut out = count.join("-");
    out = match unit {
        Unit::Reps if counts.is_empty() => format!("max {}", spoken_for(id, 2.0)),
        Unit::Seconds if counts.is_empty() => format!("max {}", spoken(id)),
        _ if counts.is_empty() => format!("max {} {}", unit.suffix(), spoken(id)),
        Unit::Reps => format!("{out} {}", spoken_for(id, if counts.len() > 1 { 2.0 } else { first })),
        Unit::Seconds => format!("{} {}", crate::units::clock(first), spoken(id)),
        Unit::Metres | Unit::Calories => format!("{out} {} {}", unit.suffix(), spoken(id)),
    };
    if per_side {
        out.push_str(" each side");
    }
    if let Some(h) = held {
        let many = if h.implements > 1 { format!("{} x ", h.implements) } else { String::new() };
        let kg = if h.bare { pair(h.kg.map(|v| h.unit.figure(v))) } else { h.unit.pair_words(h.kg) };
        out.push_str(&format!(" {many}{kg}"));
    }
    if let Some(cm) = height_cm {
        out.push_str(&format!(" {} cm", pair(cm)));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lines_are_said_as_on_a_board() {
        let held = |kg, implements, unit| Some(Held { kg, implements, unit, bare: false });
        let kg = WeightUnit::Kg;
        let say = |id, n: f64, unit| line_text(id, &[[n, n]], unit, false, None, None);
        assert_eq!(say("double-under", 30.0, Unit::Reps), "30 double-unders");
        assert_eq!(say("toes-to-bar", 12.0, Unit::Reps), "12 toes to bar");
        assert_eq!(say("kb-swing-eye-level", 8.0, Unit::Reps), "8 kettlebell swings to eye level");
        assert_eq!(say("knees-to-elbow", 8.0, Unit::Reps), "8 knees to elbow");
        assert_eq!(say("push-press", 5.0, Unit::Reps), "5 push presses");
        assert_eq!(say("run", 200.0, Unit::Metres), "200 m run");
        assert_eq!(say("power-snatch", 1.0, Unit::Reps), "1 power snatch");
        assert_eq!(say("plank", 45.0, Unit::Seconds), "0:45 plank");
        let cleans =
            line_text("power-clean", &[[12.0, 12.0]], Unit::Reps, false, held([60.0, 42.5], 1, kg), None);
        assert_eq!(cleans, "12 power cleans 60/42.5 kg");
        let scheme = line_text(
            "thruster",
            &[[21.0, 21.0], [15.0, 15.0]],
            Unit::Reps,
            false,
            held([40.0, 30.0], 1, kg),
            None,
        );
        assert_eq!(scheme, "21-15 thrusters 40/30 kg");
        let lunges =
            line_text("db-lunge", &[[20.0, 20.0]], Unit::Reps, true, held([22.5, 15.0], 2, kg), None);
        assert_eq!(lunges, "10 dumbbell lunges each side 2 x 22.5/15 kg");
        let cal = line_text("row", &[[15.0, 12.0]], Unit::Calories, false, None, None);
        assert_eq!(cal, "15/12 cal row");
        let pounds = held([43.09, 29.48], 1, WeightUnit::Lb);
        let said = line_text("thruster", &[[10.0, 10.0]], Unit::Reps, false, pounds, None);
        assert_eq!(said, "10 thrusters 95/65 lb");
    }
}
