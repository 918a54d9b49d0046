//! What is not as it was, after others are booked.

use super::mass;
use crate::moved::Moved;
use crate::movement::say::{capital, spoken};
use crate::units::{WeightUnit, clock};

/// Racks that are told one by one; more are told as a number.
const RACKS_TOLD: usize = 4;

/// Something that moved as a sentence.
pub fn moved(m: &Moved, unit: WeightUnit) -> String {
    let of = |workout: &Option<String>| workout.as_ref().map(|w| format!(" in {w}")).unwrap_or_default();
    let lift = |id: &str| if id.is_empty() { "the lift".to_owned() } else { spoken(id) };
    match m {
        Moved::Joined { name } => format!("{name} is planned for now."),
        Moved::Left { name } => format!("{name} is not planned for any more."),
        Moved::Lines { workout, tier } => {
            format!("{}{} has other lines.", capital(tier.word()), of(workout))
        }
        Moved::Version { name, workout, from, to } => {
            format!("{name}{}: {} now, {} before.", of(workout), to.word(), from.word())
        }
        Moved::Weight { name, lift: id, from_kg, to_kg } => {
            let (from, to) = (mass(*from_kg, unit), mass(*to_kg, unit));
            format!("{name}, {}: up to {to} now, {from} before.", lift(id))
        }
        Moved::Racks { lift: id, members } => match members.get(RACKS_TOLD..) {
            None | Some([]) => {
                let told: Vec<String> =
                    members.iter().map(|(n, rack)| format!("{n} at rack {rack}")).collect();
                format!("{}: {} now.", capital(&lift(id)), told.join(", "))
            }
            Some(_) => format!("{}: {} members stand at other racks now.", capital(&lift(id)), members.len()),
        },
        Moved::Ends { from_s, to_s } => format!(
            "The hour ends after {} now, {} before.",
            clock(f64::from(*to_s)),
            clock(f64::from(*from_s))
        ),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Tier;

    #[test]
    fn each_move_is_a_sentence_with_both_ends() {
        let said = |m: Moved| moved(&m, WeightUnit::Kg);
        let name = || "Ada V.".to_owned();
        let (from, to) = (Tier::Full, Tier::Trim);
        assert_eq!(
            said(Moved::Version { name: name(), workout: None, from, to }),
            "Ada V.: Trim now, Full before."
        );
        let weight = Moved::Weight { name: name(), lift: "back-squat".into(), from_kg: 60.0, to_kg: 57.5 };
        assert_eq!(said(weight.clone()), "Ada V., back squat: up to 57.5 kg now, 60 kg before.");
        assert_eq!(moved(&weight, WeightUnit::Lb).matches(" lb").count(), 2);
        let racks = |n: usize| Moved::Racks { lift: "back-squat".into(), members: vec![(name(), 3); n] };
        assert_eq!(said(racks(1)), "Back squat: Ada V. at rack 3 now.");
        assert_eq!(said(racks(9)), "Back squat: 9 members stand at other racks now.");
        assert!(said(Moved::Ends { from_s: 3600, to_s: 3660 }).contains("after 61:00 now, 60:00 before"));
    }
}
