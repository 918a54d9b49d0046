//! How much of the work is done: another scheme, fewer rounds, or one share of everything. Each is one thing to say.

use super::table::table;
use crate::units::{Unit, plain};
use crate::versions::work::{Clock, Line, Work, even_up, friendly_count};
use serde::Serialize;

/// Shortest open clock, s.
pub(super) const LEAST_CLOCK_S: u32 = 240;
/// Numbers of a ladder that is begun later instead of written anew.
const LADDER: usize = 6;
/// A scheme ends with this at least, unless a lower number is written.
const LEAST_LAST: u32 = 3;
/// Nothing falls below this share of what is written.
const LEAST_SHARE: f64 = 0.5;

/// Numbers of a scheme are found in steps of their own divisor, else of one of these, s.t. the first has at most so many of them: the
/// work stays bounded, and large numbers are round ones (own).
const STEPS: [u32; 9] = [1, 2, 5, 10, 25, 50, 100, 250, 500];
const MOST_STEPS: u32 = 24;

/// So few reps are not cut.
const FEW_REPS: f64 = 3.0;

/// One way of doing less, or the work as written.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub enum Amount {
    /// As it stands.
    Written,
    /// Other numbers for every scheme: (written, new).
    Schemes(Vec<(Vec<u32>, Vec<u32>)>),
    /// A ladder begun so many numbers later.
    Later(usize),
    /// Fewer rounds.
    Rounds(u32),
    /// A share of every count and distance.
    Share(f64),
    /// An open clock of so many seconds.
    Seconds(u32),
}

/// What may be done of a work, most first; `by_time`: an open clock is cut before its counts.
pub fn amounts(work: &Work, by_time: bool) -> Vec<Amount> {
    let mut out = vec![Amount::Written];
    let shares = table().amount.shares;
    if work.sections.len() > 1 {
        out.extend(shares.map(Amount::Share));
        return out;
    }
    let written = schemes(work);
    match work.clock() {
        _ if !written.is_empty() => {
            let other = of_schemes(&written);
            out.extend(if other.is_empty() { shares.map(Amount::Share).to_vec() } else { other });
        }
        Clock::Rounds(n) if n >= 4 => {
            let least = (f64::from(n) * table().amount.least_rounds).ceil() as u32;
            let wanted = shares.map(|s| ((f64::from(n) * s).round() as u32).clamp(least, n - 1));
            let mut rounds: Vec<u32> = wanted.to_vec();
            rounds.dedup();
            out.extend(rounds.into_iter().map(Amount::Rounds));
            out.extend(shares.into_iter().skip(1).map(Amount::Share));
        }
        Clock::Amrap(_) if by_time => out.extend(shorter(work)),
        _ => out.extend(shares.map(Amount::Share)),
    }
    out.retain(|a| *a == Amount::Written || a.changes(work));
    // nothing but the most of one thing: only the minutes are left
    if out.len() == 1 && matches!(work.clock(), Clock::Amrap(_)) {
        out.extend(shorter(work));
    }
    out.dedup();
    out
}

/// Less of an open clock, in whole minutes.
fn shorter(work: &Work) -> Vec<Amount> {
    let Clock::Amrap(t) = work.clock() else { return Vec::new() };
    let minutes = |share: f64| (f64::from(t) * share / 60.0).round() as u32 * 60;
    let mut all = table().amount.minutes.map(minutes).to_vec();
    all.retain(|s| *s < t && *s >= LEAST_CLOCK_S);
    all.dedup();
    all.into_iter().map(Amount::Seconds).collect()
}

/// The different schemes of a work that fall from number to number.
fn schemes(work: &Work) -> Vec<Vec<u32>> {
    let mut out: Vec<Vec<u32>> = Vec::new();
    for l in work.lines.iter().filter(|l| l.counts.len() > 1) {
        let numbers = numbers(l);
        if !out.contains(&numbers) {
            out.push(numbers);
        }
    }
    if out.iter().all(|n| falls(n)) { out } else { Vec::new() }
}

fn falls(numbers: &[u32]) -> bool {
    numbers.iter().zip(numbers.iter().skip(1)).all(|(a, b)| b < a)
}

fn numbers(line: &Line) -> Vec<u32> {
    line.counts.iter().map(|c| c[0].round() as u32).collect()
}

/// Other numbers for all schemes together, or the ladder begun later.
fn of_schemes(written: &[Vec<u32>]) -> Vec<Amount> {
    let shares = table().amount.shares;
    let Some(first) = written.first() else { return Vec::new() };
    if first.len() >= LADDER {
        let whole: u32 = first.iter().sum();
        let left = |skip: usize| f64::from(first.iter().skip(skip).sum::<u32>()) / f64::from(whole.max(1));
        let nearest = |share: f64| {
            (1..first.len() - 1)
                .filter(|k| left(*k) >= LEAST_SHARE)
                .min_by(|a, b| (left(*a) - share).abs().total_cmp(&(left(*b) - share).abs()))
        };
        let mut skips: Vec<usize> = shares.into_iter().filter_map(nearest).collect();
        skips.dedup();
        return skips.into_iter().map(Amount::Later).collect();
    }
    let each: Vec<Vec<Vec<u32>>> = written.iter().map(|w| less_of(w)).collect();
    (0..shares.len())
        .filter_map(|i| {
            let pair = |(w, less): (&Vec<u32>, &Vec<Vec<u32>>)| Some((w.clone(), less.get(i)?.clone()));
            written.iter().zip(&each).map(pair).collect::<Option<Vec<_>>>()
        })
        .map(Amount::Schemes)
        .collect()
}

/// Less of a falling scheme at each share: of the same length, one rule, steps that never grow.
fn less_of(written: &[u32]) -> Vec<Vec<u32>> {
    if let Some(known) = table().scheme.iter().find(|s| s.written == written) {
        return known.instead.clone();
    }
    let Some(unit) = step_of(written) else { return Vec::new() };
    let mut all = Vec::new();
    grow(written, unit, &mut Vec::new(), &mut all);
    let whole = f64::from(written.iter().sum::<u32>());
    let cost = |s: &Vec<u32>, share: f64| {
        let sum = f64::from(s.iter().sum::<u32>());
        let shape: f64 =
            s.iter().zip(written).map(|(a, b)| (f64::from(*a) / f64::from(*b) - share).abs()).sum();
        let steps: Vec<f64> =
            s.iter().zip(s.iter().skip(1)).map(|(a, b)| f64::from(*a) - f64::from(*b)).collect();
        let uneven: f64 = steps.iter().zip(steps.iter().skip(1)).map(|(a, b)| (a - b).abs()).sum();
        let top = f64::from(written.first().copied().unwrap_or(1));
        (sum / whole - share).abs() + 0.5 * shape / written.len() as f64 + 0.3 * uneven / top
    };
    let mut out: Vec<Vec<u32>> = Vec::new();
    for share in table().amount.shares {
        let below = |s: &&Vec<u32>| out.last().is_none_or(|l| s.iter().sum::<u32>() < l.iter().sum());
        let best = all.iter().filter(below).min_by(|a, b| cost(a, share).total_cmp(&cost(b, share)));
        match best.cloned() {
            Some(best) => out.push(best),
            None => break,
        }
    }
    out
}

/// The step in which a scheme's numbers are found; `None` where even the largest leaves too many.
fn step_of(written: &[u32]) -> Option<u32> {
    let top = written.first().copied().unwrap_or(1);
    let few = |u: &u32| top / u <= MOST_STEPS;
    let own = [5, 3, 2].into_iter().find(|u| written.iter().all(|n| n % u == 0));
    own.filter(few).or_else(|| STEPS.into_iter().find(few))
}

/// A scheme of no more than a share of a written one in all: the hardest that stands on boards; `None` where there is none.
pub(super) fn scheme_within(written: &[[f64; 2]], share: f64) -> Option<Vec<[f64; 2]>> {
    let numbers: Vec<u32> = written.iter().map(|c| c[0].round() as u32).collect();
    let most = share * f64::from(numbers.iter().sum::<u32>());
    let found = less_of(&numbers).into_iter().find(|s| f64::from(s.iter().sum::<u32>()) <= most + 0.5);
    found.filter(|_| falls(&numbers)).map(|s| s.into_iter().map(|n| [f64::from(n); 2]).collect())
}

/// Every falling scheme in steps of a unit, at or under a written one, whose steps never grow.
fn grow(written: &[u32], unit: u32, so_far: &mut Vec<u32>, all: &mut Vec<Vec<u32>>) {
    let i = so_far.len();
    let Some(top) = written.get(i) else {
        if so_far != written {
            all.push(so_far.clone());
        }
        return;
    };
    let last = written.len() == i + 1;
    let least = if last { LEAST_LAST.min(*top) } else { 1 };
    let from = (f64::from(*top) * LEAST_SHARE).ceil() as u32;
    let mut n = top - top % unit;
    while n >= from.max(least) && n > 0 {
        let falls = so_far.last().is_none_or(|p| *p > n);
        let steps = match so_far.as_slice() {
            [.., a, b] => b.saturating_sub(n) <= a - b,
            _ => true,
        };
        if falls && steps {
            so_far.push(n);
            grow(written, unit, so_far, all);
            so_far.pop();
        }
        if n < unit {
            break;
        }
        n -= unit;
    }
}

impl Amount {
    /// Whether anything of a work is different with it.
    fn changes(&self, work: &Work) -> bool {
        let mut less = work.clone();
        self.apply(&mut less);
        less != *work && keeps_order(work, &less)
    }

    /// Does so much of a work.
    pub fn apply(&self, work: &mut Work) {
        match self {
            Amount::Written => {}
            Amount::Schemes(pairs) => {
                for l in work.lines.iter_mut().filter(|l| l.counts.len() > 1) {
                    let now = numbers(l);
                    if let Some((_, new)) = pairs.iter().find(|(w, _)| *w == now) {
                        l.counts = new.iter().map(|n| [f64::from(*n); 2]).collect();
                    }
                }
            }
            Amount::Later(skip) => {
                for l in work.lines.iter_mut().filter(|l| l.counts.len() > *skip) {
                    if l.counts.len() > 1 {
                        l.counts.drain(..*skip);
                    }
                }
                if let Some(Clock::Scheme(n) | Clock::Rounds(n)) =
                    work.sections.first_mut().map(|s| &mut s.clock)
                {
                    *n = n.saturating_sub(*skip as u32).max(1);
                }
            }
            Amount::Rounds(to) => {
                if let Some(Clock::Rounds(n)) = work.sections.first_mut().map(|s| &mut s.clock) {
                    *n = (*to).min(*n);
                }
            }
            Amount::Share(share) => work.lines.iter_mut().for_each(|l| share_of(l, *share)),
            Amount::Seconds(to) => work.shorten(*to),
        }
    }

    /// The share of a work that is left with it: by its counts, its rounds, or its clock.
    pub fn left(&self, written: &Work) -> f64 {
        let mut less = written.clone();
        self.apply(&mut less);
        let rounds = less.rounds() as f64 / written.rounds().max(1) as f64;
        let clock = match (less.clock_s(), written.clock_s()) {
            (Some(a), Some(b)) if b > 0.0 => a / b,
            _ => 1.0,
        };
        let counts: Vec<f64> = written
            .lines
            .iter()
            .zip(&less.lines)
            .filter(|(a, _)| a.largest() > 0.0)
            .map(|(a, b)| {
                let sum = |l: &Line| l.counts.iter().map(|c| c[0]).sum::<f64>();
                // a list of one number a round has its rounds counted above
                if a.counts.len() == b.counts.len() { sum(b) / sum(a) } else { sum(b) / sum(a) / rounds }
            })
            .collect();
        let mean = if counts.is_empty() { 1.0 } else { counts.iter().sum::<f64>() / counts.len() as f64 };
        match self {
            Amount::Rounds(_) => rounds,
            Amount::Seconds(_) => clock,
            Amount::Later(_) => mean * rounds,
            _ => mean,
        }
    }

    /// As it is said: `15-12-9`, `four rounds`, `two thirds of everything`.
    pub fn says(&self, written: &Work) -> String {
        match self {
            Amount::Written => "as written".to_owned(),
            Amount::Schemes(pairs) => pairs.iter().map(|(_, n)| dashed(n)).collect::<Vec<_>>().join(" and "),
            Amount::Later(skip) => {
                let at = written.lines.iter().find(|l| l.counts.len() > *skip);
                format!(
                    "start at {}",
                    plain(at.map_or(1.0, |l| l.count(*skip, crate::units::Standard::Heavier)))
                )
            }
            Amount::Rounds(n) => format!("{n} rounds"),
            Amount::Seconds(s) => format!("{} minutes", plain(f64::from(*s) / 60.0)),
            Amount::Share(share) => {
                let words = match share {
                    s if *s > 0.75 => "four fifths",
                    s if *s > 0.6 => "two thirds",
                    _ => "half",
                };
                format!("{words} of everything")
            }
        }
    }
}

fn dashed(numbers: &[u32]) -> String {
    numbers.iter().map(u32::to_string).collect::<Vec<_>>().join("-")
}

/// A share of a line's counts, as friendly numbers, never under half of what is written.
fn share_of(line: &mut Line, share: f64) {
    // the next friendly number where the nearest would be under half of what is written
    let less = |id: &str, unit: Unit, v: f64| {
        if unit == Unit::Reps && v <= FEW_REPS {
            return v;
        }
        (0..26)
            .map(|i| friendly_count(id, v * (share + 0.02 * f64::from(i)), unit))
            .find(|n| *n >= LEAST_SHARE * v - 1e-9)
            .map_or(v, |n| n.min(v))
    };
    let (id, unit) = (line.movement.clone(), line.unit);
    line.counts = line.counts.iter().map(|c| c.map(|v| less(&id, unit, v))).collect();
    if line.per_side {
        line.counts = line.counts.iter().map(|c| c.map(even_up)).collect();
    }
    for a in &mut line.along {
        let id = a.movement.clone();
        a.counts = a.counts.iter().map(|c| c.map(|v| less(&id, Unit::Reps, v))).collect();
    }
    if line.rise > 0.0 {
        line.rise = (line.rise * share).round().max(line.rise.min(1.0));
    }
}

/// Whether what was longer is still longer, line against line of one movement.
fn keeps_order(written: &Work, less: &Work) -> bool {
    let pairs: Vec<(&Line, &Line)> = written.lines.iter().zip(&less.lines).collect();
    pairs.iter().enumerate().all(|(i, (a, x))| {
        pairs.iter().skip(i + 1).all(|(b, y)| {
            let alike = a.movement == b.movement && a.unit == b.unit;
            !alike || a.largest().total_cmp(&b.largest()) == x.largest().total_cmp(&y.largest())
        })
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn work(text: &str) -> Work {
        Work::from_block(&read(text).sheet.blocks[0]).unwrap()
    }

    fn said(text: &str) -> Vec<String> {
        let w = work(text);
        amounts(&w, false).iter().map(|a| a.says(&w)).collect()
    }

    #[test]
    fn each_format_gives_way_as_a_coach_would_say_it() {
        assert_eq!(
            said("21-15-9 for time\nthruster 43/30 kg\npull-ups"),
            ["as written", "15-12-9", "15-9-6", "12-9-6"]
        );
        assert_eq!(
            said("10-9-8-7-6-5-4-3-2-1 for time\nburpees\nsit-ups"),
            // 55 in all: 45 from nine on, 36 from eight, 28 from seven
            ["as written", "start at 9", "start at 8", "start at 7"]
        );
        assert_eq!(
            said("5 rounds for time\n10 burpees\n400 m run"),
            ["as written", "4 rounds", "3 rounds", "two thirds of everything", "half of everything"]
        );
        assert_eq!(
            said("3 rounds for time\n12 burpees\n400 m run"),
            ["as written", "four fifths of everything", "two thirds of everything", "half of everything"]
        );
        assert_eq!(said("amrap 12:00\nmax burpees"), ["as written", "9 minutes", "7 minutes", "6 minutes"]);
    }

    #[test]
    fn a_share_keeps_equal_counts_equal_and_what_is_longer_longer() {
        let w = work("3 rounds for time\n400 m run\n21 air squats\n21 push-ups\n200 m run\n40 double-unders");
        for a in amounts(&w, false) {
            let mut less = w.clone();
            a.apply(&mut less);
            let n = |i: usize| less.lines[i].largest();
            assert_eq!(n(1), n(2), "{a:?}");
            assert!(n(0) > n(3) && n(0) % 100.0 == 0.0, "{a:?}: {} and {}", n(0), n(3));
            assert!(n(4) % 10.0 == 0.0);
            for (x, y) in less.lines.iter().zip(&w.lines) {
                assert!(x.largest() >= 0.5 * y.largest() && x.largest() <= y.largest());
            }
        }
        let mut half = w.clone();
        Amount::Share(0.5).apply(&mut half);
        assert_eq!(half.lines[0].largest(), 200.0, "half of 400 m is 200 m");
    }

    #[test]
    fn schemes_of_one_rule_fall_and_their_steps_never_grow() {
        for written in [vec![18, 14, 10], vec![15, 12, 9], vec![30, 20, 10], vec![50, 40, 30, 20, 10]] {
            let less = less_of(&written);
            assert!(!less.is_empty(), "{written:?}");
            for s in &less {
                assert_eq!(s.len(), written.len());
                assert!(s.windows(2).all(|w| w[1] < w[0]), "{s:?}");
                assert!(s.windows(3).all(|w| w[1] - w[2] <= w[0] - w[1]), "{s:?} of {written:?}");
                assert!(s.iter().zip(&written).all(|(a, b)| *a <= *b && 2 * a >= *b), "{s:?} of {written:?}");
            }
        }
        assert_eq!(less_of(&[27, 21, 15, 9])[0], [21, 15, 12, 9]);
    }

    #[test]
    fn large_numbers_are_cut_in_round_ones_and_never_tried_one_by_one() {
        // 109 in steps of 5
        let less = less_of(&[109, 97, 83, 71, 59]);
        assert!(less.len() == 3 && less.iter().flatten().all(|n| n % 5 == 0), "{less:?}");
        assert_eq!(step_of(&[21, 18, 15, 12, 9]), Some(3), "their own divisor");
        assert_eq!(step_of(&[1009, 907]), Some(50));
        assert_eq!(step_of(&[u32::MAX, 9]), None);
        assert!(less_of(&[u32::MAX, 9]).is_empty());
    }

    #[test]
    fn minutes_fall_only_where_the_hall_cuts_time() {
        let w = work("amrap 20:00\n10 burpees\n12 sit-ups");
        assert!(amounts(&w, false).iter().all(|a| !matches!(a, Amount::Seconds(_))));
        let by_time: Vec<String> = amounts(&w, true).iter().map(|a| a.says(&w)).collect();
        assert_eq!(by_time, ["as written", "15 minutes", "12 minutes", "10 minutes"]);
    }
}
