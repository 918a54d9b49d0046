//! Kit of which those who work at the same time need more than there is.

use crate::kinds::Gear;

/// One thing that is short. Members by their place in the class.
#[derive(Debug, Clone, PartialEq)]
pub enum Short {
    /// Dumbbells, kettlebells or balls of one size.
    Implements {
        /// What they are: `balls`.
        name: String,
        /// Catalogue id of what is done with them.
        movement: String,
        /// kg of one.
        kg: f64,
        /// Members who want it at once.
        want: u32,
        /// Pieces there are.
        have: u32,
        /// Pieces that one member holds.
        each: u32,
        /// Who.
        who: Vec<usize>,
    },
    /// Bars of one size.
    Bars {
        /// kg of one.
        kg: f64,
        /// There are.
        have: u32,
        /// Who wants one at once.
        who: Vec<usize>,
    },
    /// Plates on all bars at once.
    Plates {
        /// (kg of one, wanted, there are), the heaviest first.
        sizes: Vec<(f64, u32, u32)>,
    },
    /// Machines, and places at a rig, a wall or on a rope.
    Places {
        /// What.
        gear: Gear,
        /// Catalogue id of what is done there.
        movement: String,
        /// There are.
        have: u32,
        /// s on the workout's clock at which most are there.
        at_s: f64,
        /// Who is there then.
        who: Vec<usize>,
        /// s that a member waits on average, at least, if everybody keeps their pace.
        waits_s: f64,
    },
}

impl Short {
    /// Groups one after the other in which the class would have enough of it; 1 where there is enough.
    pub fn heats(&self) -> u32 {
        let of = |want: u32, have: u32| want.max(1).div_ceil(have.max(1));
        match self {
            Short::Implements { want, have, each, .. } => of(*want, have / (*each).max(1)),
            Short::Bars { have, who, .. } | Short::Places { have, who, .. } => of(who.len() as u32, *have),
            Short::Plates { sizes } => {
                sizes.iter().map(|(_, want, have)| of(*want, *have)).max().unwrap_or(1)
            }
        }
    }

    /// Whether two groups are short of the same.
    pub(crate) fn same_thing(&self, other: &Short) -> bool {
        match (self, other) {
            (Short::Implements { movement: a, kg: x, .. }, Short::Implements { movement: b, kg: y, .. }) => {
                a == b && (x - y).abs() < 1e-9
            }
            (Short::Bars { kg: x, .. }, Short::Bars { kg: y, .. }) => (x - y).abs() < 1e-9,
            (Short::Places { gear: a, .. }, Short::Places { gear: b, .. }) => a == b,
            (Short::Plates { .. }, Short::Plates { .. }) => true,
            _ => false,
        }
    }

    /// Whether something must be done about it: where plates are a few short the weight is made from others (own: up to half as
    /// many again).
    pub fn asks(&self) -> bool {
        match self {
            Short::Plates { sizes } => sizes.iter().any(|(_, want, have)| want * 2 > have * 3),
            _ => true,
        }
    }

    /// Whether members are at it for a part of the work alone, so that who begins elsewhere needs it at another time.
    pub fn in_turn(&self) -> bool {
        matches!(self, Short::Places { .. })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_few_plates_are_made_from_others_and_the_rest_asks_for_groups() {
        let plates = |want, have| Short::Plates { sizes: vec![(2.5, want, have)] };
        assert!(!plates(22, 20).asks() && !plates(30, 20).asks() && plates(31, 20).asks());
        assert_eq!((plates(22, 20).heats(), plates(41, 20).heats(), plates(41, 0).heats()), (2, 3, 41));
        let pair = Short::Implements {
            name: "dumbbells".to_owned(),
            movement: "dumbbell-thruster".to_owned(),
            kg: 20.0,
            want: 5,
            have: 6,
            each: 2,
            who: Vec::new(),
        };
        assert_eq!((pair.heats(), pair.in_turn(), pair.asks()), (2, false, true), "six are three pairs");
    }
}
