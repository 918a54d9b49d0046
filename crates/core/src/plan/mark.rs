//! Places in a work at which a clock is looked at.

use crate::movement::say::{capital, spoken, spoken_for};
use crate::units::Unit;
use crate::versions::Work;

/// A place in the work.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub enum Mark {
    /// So many rounds are done.
    Round(usize),
    /// A line of a list done once: which, from 1, and what it is called.
    Line(usize, String),
    /// All of it.
    Finish,
}

impl Mark {
    /// `Round 1 done`, `Wall-balls done`, `Finish`.
    pub fn done(&self) -> String {
        match self {
            Mark::Round(n) => format!("Round {n} done"),
            Mark::Line(_, what) => format!("{what} done"),
            Mark::Finish => "Finish".to_owned(),
        }
    }

    /// Before a time: `Round 1 by`, `Finish by`.
    pub fn by(&self) -> String {
        match self {
            Mark::Round(n) => format!("Round {n} by"),
            Mark::Line(_, what) => format!("{what} by"),
            Mark::Finish => "Finish by".to_owned(),
        }
    }

    /// The stretch that ends here, as beside a drawing; the last of it is given: `round 3`, `line 2`.
    pub fn stretch(&self, nth: usize, lines: bool) -> String {
        match self {
            Mark::Line(..) => format!("line {nth}"),
            Mark::Finish if lines => format!("line {nth}"),
            Mark::Round(_) | Mark::Finish => format!("round {nth}"),
        }
    }
}

/// What the lines of a list are called as it is passed, positions counted on: `Wall-balls`; the second of two runs is `Run 2`.
pub(super) fn line_names(work: &Work) -> Vec<String> {
    let each = work.lines.iter().flat_map(|l| {
        let counted = matches!(l.unit, Unit::Reps);
        let own = if counted { spoken_for(&l.movement, 2.0) } else { spoken(&l.movement) };
        std::iter::once(own).chain(l.along.iter().map(|a| spoken_for(&a.movement, 2.0)))
    });
    let each: Vec<String> = each.collect();
    each.iter()
        .enumerate()
        .map(|(i, name)| {
            let alike = |to: usize| each.iter().take(to).filter(|n| *n == name).count();
            let nth = alike(i) + 1;
            let named = capital(name);
            if alike(each.len()) > 1 { format!("{named} {nth}") } else { named }
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    #[test]
    fn a_list_is_passed_by_the_names_of_its_lines() {
        let text =
            "# workout cap 20:00\nfor time\n800 m run\n40 wall-balls 9/6 kg\n30 toes-to-bar\n400 m run";
        let work = Work::from_block(&read(text).sheet.blocks[0]).unwrap();
        assert_eq!(line_names(&work), ["Run 1", "Wall balls", "Toes to bar", "Run 2"]);
        assert_eq!(Mark::Line(2, "Wall-balls".into()).done(), "Wall-balls done");
        assert_eq!(Mark::Line(2, "Wall-balls".into()).by(), "Wall-balls by");
    }

    #[test]
    fn a_stretch_is_a_line_only_in_a_list() {
        assert_eq!(Mark::Finish.stretch(4, true), "line 4");
        assert_eq!(Mark::Finish.stretch(3, false), "round 3");
        assert_eq!(Mark::Round(1).stretch(1, false), "round 1");
        assert_eq!((Mark::Round(2).by(), Mark::Finish.by()), ("Round 2 by".into(), "Finish by".into()));
    }
}
