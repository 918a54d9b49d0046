//! So many of so many, with the range in which the true share likely lies when results of one class, and of one member, hang together.

use super::PROMISED;
use rand::{Rng, SeedableRng};
use rand_pcg::Pcg64Mcg;

/// Under so many results no claim is made.
pub const LEAST_FOR_A_CLAIM: usize = 30;
/// Under so many classes (or members) they cannot be drawn again, and only what would be true of results that do not hang together
/// is said.
const LEAST_CLUSTERS: usize = 5;
/// How far from the promise a hall may truly be and still have it kept.
pub const KEPT_WITHIN: f64 = 0.075;
/// Standard normal quantile of a 95 % interval.
const Z95: f64 = 1.959_964;
/// Times that classes are drawn again.
const DRAWS: usize = 400;
/// From so many on their drawing again is worked out by its formula: the two agree, and years of classes cost nothing.
const MANY_CLUSTERS: usize = 80;

/// Results of a class, or of a member: inside, and in all.
pub type Cluster = (usize, usize);

/// A share with its 95 % interval.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Share {
    /// Inside.
    pub inside: usize,
    /// Of.
    pub of: usize,
    /// Low end of the 95 % interval, 0 to 1.
    pub low: f64,
    /// High end.
    pub high: f64,
}

impl Share {
    /// Wilson's interval (Wilson 1927), which takes every result for itself.
    pub fn alone(inside: usize, of: usize) -> Share {
        if of == 0 {
            return Share { inside, of, low: 0.0, high: 1.0 };
        }
        let (n, p) = (of as f64, inside as f64 / of as f64);
        let z2 = Z95 * Z95;
        let centre = (p + z2 / (2.0 * n)) / (1.0 + z2 / n);
        let half = Z95 / (1.0 + z2 / n) * (p * (1.0 - p) / n + z2 / (4.0 * n * n)).sqrt();
        Share { inside, of, low: (centre - half).max(0.0), high: (centre + half).min(1.0) }
    }

    /// The same with whole classes, and whole members, drawn again (cluster bootstrap; Field and Welsh 2007): the widest of the three
    /// intervals.
    pub fn of(classes: &[Cluster], members: &[Cluster]) -> Share {
        let sum = |c: &[Cluster]| c.iter().fold((0, 0), |s, c| (s.0 + c.0, s.1 + c.1));
        let (inside, of) = sum(classes);
        let alone = Share::alone(inside, of);
        [classes, members].into_iter().filter_map(drawn_again).fold(alone, |s, (low, high)| Share {
            low: s.low.min(low),
            high: s.high.max(high),
            ..s
        })
    }

    /// The share itself; 0 of nothing.
    pub fn value(&self) -> f64 {
        if self.of == 0 { 0.0 } else { self.inside as f64 / self.of as f64 }
    }

    /// What may be said of the promise.
    pub fn verdict(&self) -> Verdict {
        if self.of < LEAST_FOR_A_CLAIM {
            Verdict::TooFew
        } else if self.high < PROMISED {
            Verdict::TooNarrow
        } else if self.low > PROMISED {
            Verdict::TooWide
        } else if self.low >= PROMISED - KEPT_WITHIN && self.high <= PROMISED + KEPT_WITHIN {
            Verdict::Kept
        } else {
            Verdict::NotBroken
        }
    }
}

/// Ends of 95 in 100 shares when clusters are drawn again.
fn drawn_again(clusters: &[Cluster]) -> Option<(f64, f64)> {
    if clusters.len() < LEAST_CLUSTERS {
        return None;
    }
    if clusters.len() >= MANY_CLUSTERS {
        return by_formula(clusters);
    }
    let mut rng = Pcg64Mcg::seed_from_u64(1);
    let mut shares: Vec<f64> = (0..DRAWS)
        .filter_map(|_| {
            let (mut inside, mut of) = (0, 0);
            for _ in 0..clusters.len() {
                let (i, n) = clusters.get(rng.random_range(0..clusters.len()))?;
                inside += i;
                of += n;
            }
            (of > 0).then(|| inside as f64 / of as f64)
        })
        .collect();
    shares.sort_by(f64::total_cmp);
    let at = |p: f64| shares.get((p * shares.len().saturating_sub(1) as f64).round() as usize).copied();
    Some((at(0.025)?, at(0.975)?))
}

/// The same by the standard error of a ratio of cluster sums (Cochran 1977).
fn by_formula(clusters: &[Cluster]) -> Option<(f64, f64)> {
    let (inside, of) = clusters.iter().fold((0, 0), |s, c| (s.0 + c.0, s.1 + c.1));
    let p = (of > 0).then(|| inside as f64 / of as f64)?;
    let squares: f64 = clusters.iter().map(|(i, n)| (*i as f64 - p * *n as f64).powi(2)).sum();
    let half = Z95 * squares.sqrt() / of as f64;
    Some(((p - half).max(0.0), (p + half).min(1.0)))
}

/// What the counts say about the ranges.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Verdict {
    /// Under [`LEAST_FOR_A_CLAIM`] results.
    TooFew,
    /// The whole interval lies near the promise.
    Kept,
    /// The promise lies in the interval, and so do others.
    NotBroken,
    /// The whole interval lies under the promise.
    TooNarrow,
    /// The whole interval lies over the promise.
    TooWide,
}

impl Verdict {
    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Verdict::TooFew => "too few to say",
            Verdict::Kept => "kept",
            Verdict::NotBroken => "not shown to be broken",
            Verdict::TooNarrow => "broken: ranges too narrow",
            Verdict::TooWide => "broken: ranges too wide",
        }
    }

    /// Whether the promise is broken.
    pub fn broken(self) -> bool {
        matches!(self, Verdict::TooNarrow | Verdict::TooWide)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn wilsons_interval_by_hand() {
        // 166 of 214: p = .7757, z = 1.96: .7151 to .8264
        let s = Share::alone(166, 214);
        assert!((s.low - 0.7153).abs() < 0.001 && (s.high - 0.8264).abs() < 0.001, "{s:?}");
        assert_eq!(Share::alone(0, 0).value(), 0.0);
    }

    #[test]
    fn results_that_hang_together_say_less() {
        // 40 classes of 10: alone .75 to .83; in 8 classes of 50 where half go all wrong far wider
        let even = Share::of(&[(8, 10); 40], &[]);
        let apart: Vec<Cluster> = (0..8).map(|i| if i % 2 == 0 { (50, 50) } else { (30, 50) }).collect();
        let apart = Share::of(&apart, &[]);
        assert_eq!((even.value(), apart.value()), (0.8, 0.8));
        assert!(even.high - even.low < 0.09 && apart.high - apart.low > 0.2, "{even:?} {apart:?}");
        // members that hang together count as well
        let members: Vec<Cluster> = (0..8).map(|i| if i % 2 == 0 { (50, 50) } else { (30, 50) }).collect();
        let by_members = Share::of(&[(8, 10); 40], &members);
        assert!((by_members.high - by_members.low - (apart.high - apart.low)).abs() < 1e-9);
    }

    #[test]
    fn many_classes_drawn_again_and_their_formula_agree() {
        // shares from .5 to 1 in classes of 12
        let some: Vec<Cluster> = (0..79).map(|i| (6 + (i * 5) % 7, 12)).collect();
        let (low, high) = drawn_again(&some).unwrap();
        let (a, b) = by_formula(&some).unwrap();
        assert!((low - a).abs() < 0.01 && (high - b).abs() < 0.01, "{low} {a} {high} {b}");
        assert!(by_formula(&[(0, 0); 90]).is_none());
    }

    #[test]
    fn verdicts_follow_the_interval() {
        let of = |inside: usize, n: usize| Share::of(&vec![(inside, 100); n], &[]).verdict();
        assert_eq!(Share::alone(10, 29).verdict(), Verdict::TooFew);
        assert_eq!(
            (of(80, 40), of(60, 40), of(97, 40)),
            (Verdict::Kept, Verdict::TooNarrow, Verdict::TooWide)
        );
        assert_eq!(
            Share::alone(24, 30).verdict(),
            Verdict::NotBroken,
            "the promise fits, and so would seven in ten"
        );
        assert!(Verdict::TooWide.broken() && !Verdict::NotBroken.broken());
    }
}
