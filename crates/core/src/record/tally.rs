//! Judged results added up: all, the latest, and by what they rest on.

use super::share::{Cluster, Share};
use crate::learning::Format;
use crate::units::Provenance;
use std::collections::BTreeMap;

/// Results of one class that rest on the same and are of one kind.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cell {
    /// Which class, any number of its own.
    pub class: usize,
    /// In the last days.
    pub late: bool,
    /// What the predictions rested on.
    pub provenance: Provenance,
    /// Kind of work.
    pub format: Option<Format>,
    /// Whether the members' own results were behind them.
    pub learnt: bool,
    /// Results.
    pub of: usize,
    /// Inside.
    pub inside: usize,
    /// Better, and worse, than their range.
    pub missed: [usize; 2],
    /// Sum of how far they lie off the middle, in logarithms, late positive, and of how many it is.
    pub off: (f64, usize),
    /// Sum of half widths, in logarithms.
    pub half: f64,
}

/// Where their middles lie and how wide its ranges are.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Middle {
    /// Results are later (or fewer) than their middle by so much in the mean, per cent.
    pub late_percent: f64,
    /// Half of a range, per cent of its middle.
    pub half_percent: f64,
}

/// Results that are looked at together.
#[derive(Debug, Clone, PartialEq)]
pub struct Tallied {
    /// How many were inside.
    pub share: Share,
    /// `None` without results.
    pub middle: Option<Middle>,
}

/// Chances that were said alike, and how often they came.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bin {
    /// Their mean, 0 to 1.
    pub said: f64,
    /// Share that came.
    pub came: f64,
    /// How many.
    pub of: usize,
}

/// The record of many results.
#[derive(Debug, Clone, PartialEq)]
pub struct Record {
    /// All.
    pub all: Tallied,
    /// Of the last days.
    pub late: Tallied,
    /// By what the prediction rested on.
    pub by_provenance: Vec<(Provenance, Tallied)>,
    /// By kind of work; those that have results.
    pub by_format: Vec<(Format, Tallied)>,
    /// With results of the member's own behind the prediction, and without.
    pub by_learning: [Tallied; 2],
}

/// Adds up. `members`: inside and in all for each member.
pub fn record(cells: &[Cell], members: &[Cluster]) -> Record {
    let of = |fits: &dyn Fn(&Cell) -> bool, members: &[Cluster]| {
        tallied(cells.iter().filter(|c| fits(c)), members)
    };
    Record {
        all: of(&|_| true, members),
        late: of(&|c| c.late, &[]),
        by_provenance: Provenance::ALL.map(|p| (p, of(&|c| c.provenance == p, &[]))).to_vec(),
        by_format: Format::ALL
            .into_iter()
            .map(|f| (f, of(&|c| c.format == Some(f), &[])))
            .filter(|(_, g)| g.share.of > 0)
            .collect(),
        by_learning: [true, false].map(|l| of(&|c| c.learnt == l, &[])),
    }
}

fn tallied<'a>(cells: impl Iterator<Item = &'a Cell>, members: &[Cluster]) -> Tallied {
    let mut classes: BTreeMap<usize, Cluster> = BTreeMap::new();
    let (mut off, mut n, mut half, mut of) = (0.0, 0, 0.0, 0);
    for c in cells {
        let class = classes.entry(c.class).or_default();
        *class = (class.0 + c.inside, class.1 + c.of);
        off += c.off.0;
        n += c.off.1;
        half += c.half;
        of += c.of;
    }
    let clusters: Vec<Cluster> = classes.into_values().collect();
    let percent = |log: f64| (log.exp() - 1.0) * 100.0;
    let middle = (n > 0 && of > 0)
        .then(|| Middle { late_percent: percent(off / n as f64), half_percent: percent(half / n as f64) });
    Tallied { share: Share::of(&clusters, members), middle }
}

/// Whether misses lean to one side by more than chance, class by class: -1 better, 1 worse, 0 neither.
pub fn lean(cells: &[Cell]) -> i8 {
    let mut classes: BTreeMap<usize, f64> = BTreeMap::new();
    for c in cells {
        let [better, worse] = c.missed.map(|n| n as f64);
        *classes.entry(c.class).or_default() += worse - better;
    }
    let sum: f64 = classes.values().sum();
    let spread = classes.values().map(|d| d * d).sum::<f64>().sqrt();
    // two standard errors of a sum over classes
    match sum {
        s if s.abs() <= 2.0 * spread || spread == 0.0 => 0,
        s if s > 0.0 => 1,
        _ => -1,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn cell(class: usize, of: usize, inside: usize) -> Cell {
        Cell {
            class,
            late: class.is_multiple_of(2),
            provenance: Provenance::Tested,
            format: Some(Format::Rounds),
            learnt: class > 2,
            of,
            inside,
            missed: [0, of - inside],
            off: (0.1 * of as f64, of),
            half: 0.2 * of as f64,
        }
    }

    #[test]
    fn counts_add_up_in_every_way_they_are_cut() {
        let cells: Vec<Cell> =
            (0..6).map(|i| Cell { provenance: Provenance::ALL[i % 4], ..cell(i, 10 + i, 8) }).collect();
        let r = record(&cells, &[]);
        assert_eq!((r.all.share.inside, r.all.share.of), (48, 75));
        let sum = |of: &mut dyn Iterator<Item = usize>| of.sum::<usize>();
        assert_eq!(sum(&mut r.by_provenance.iter().map(|(_, g)| g.share.of)), 75);
        assert_eq!(sum(&mut r.by_format.iter().map(|(_, g)| g.share.of)), 75);
        assert_eq!(sum(&mut r.by_learning.iter().map(|g| g.share.of)), 75);
        assert_eq!(r.by_learning[0].share.of, 13 + 14 + 15);
        assert_eq!(r.late.share.of, 10 + 12 + 14);
        let m = r.all.middle.unwrap();
        // e^.1 and e^.2
        assert!((m.late_percent - 10.517).abs() < 0.001 && (m.half_percent - 22.14).abs() < 0.001, "{m:?}");
        assert!(record(&[], &[]).all.middle.is_none());
    }

    #[test]
    fn misses_lean_only_where_more_than_chance_says_so() {
        let cells = |missed: &[[usize; 2]]| -> Vec<Cell> {
            missed.iter().enumerate().map(|(i, m)| Cell { missed: *m, ..cell(i, 20, 10) }).collect()
        };
        assert_eq!(lean(&cells(&[[3, 1], [1, 2], [2, 2], [1, 3]])), 0);
        assert_eq!(lean(&cells(&[[0, 4]; 9])), 1);
        assert_eq!(lean(&cells(&[[4, 0]; 9])), -1);
        assert_eq!(lean(&cells(&[[0, 9]])), 0, "one class says nothing");
        assert_eq!(lean(&[]), 0);
    }
}
