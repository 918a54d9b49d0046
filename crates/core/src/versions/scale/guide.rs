//! Guide weights: what stands on the board for each version, in the steps of hands and of the hall's stock. One bar for all
//! lines that are written with one.

use super::table::table;
use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{LoadKind, catalogue};
use crate::units::Standard;
use crate::versions::work::{Line, Work, nearest};

/// Guide weights of a line: as written, Trim's, Base's, and one step lower.
pub const STEPS: usize = 4;
/// One step lower than Base's weight.
const LOWER: f64 = 0.85;
/// Two weights closer than this are one, kg.
const SAME_KG: f64 = 0.01;

/// The bar group of each line: lines with a bar that are written with one weight.
pub fn bar_groups(work: &Work) -> Vec<Option<usize>> {
    let mut weights: Vec<[f64; 2]> = Vec::new();
    let group = |l: &Line, weights: &mut Vec<[f64; 2]>| {
        let bar = catalogue().movement(&l.movement).is_some_and(|m| m.load == LoadKind::Barbell);
        let kg = l.kg().filter(|_| bar)?;
        let same = |w: &[f64; 2]| w.iter().zip(kg).all(|(a, b)| (a - b).abs() < SAME_KG);
        Some(weights.iter().position(same).unwrap_or_else(|| {
            weights.push(kg);
            weights.len() - 1
        }))
    };
    work.lines.iter().map(|l| group(l, &mut weights)).collect()
}

/// How a line's weight gives way.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Falls {
    /// Shares of the written weight for Trim and Base; `None` where sizes of the stock go down.
    pub shares: Option<[f64; 2]>,
    /// Never less than this, kg of one implement.
    pub least: [f64; 2],
}

impl Falls {
    /// Of one movement alone.
    pub fn of(movement: &str) -> Falls {
        let shares = catalogue().movement(movement).and_then(|m| table().shares(m));
        Falls { shares, least: table().least(movement).unwrap_or([0.0; 2]) }
    }

    /// Of two lines with one bar: what gives way most, and the most that either needs.
    fn together(self, other: Falls) -> Falls {
        let shares = match (self.shares, other.shares) {
            (Some(a), Some(b)) => Some([a[0].min(b[0]), a[1].min(b[1])]),
            (a, b) => a.or(b),
        };
        Falls { shares, least: [self.least[0].max(other.least[0]), self.least[1].max(other.least[1])] }
    }
}

/// How the weight of every line gives way; all lines of a bar group alike.
pub fn falls(work: &Work) -> Vec<Falls> {
    let groups = bar_groups(work);
    let own: Vec<Falls> = work.lines.iter().map(|l| Falls::of(&l.movement)).collect();
    let of_group = |g: usize| {
        let all = groups.iter().zip(&own).filter(|(x, _)| **x == Some(g)).map(|(_, f)| *f);
        all.reduce(Falls::together)
    };
    groups.iter().zip(&own).map(|(g, f)| g.and_then(of_group).unwrap_or(*f)).collect()
}

/// The weights of a line at each step, kg of one implement, falling; `None` each where nothing is held.
pub fn guide(line: &Line, falls: Falls, kit: &Kit, bars: &Bars) -> Vec<Option<[f64; 2]>> {
    let Some(written) = line.kg() else { return vec![None; STEPS] };
    let Falls { shares, least } = falls;
    let mut out = vec![written];
    for step in 1..STEPS {
        let before = out.last().copied().unwrap_or(written);
        let of = |s: Standard| {
            let at = s.of(before);
            let kg = match shares {
                Some([trim, base]) => {
                    let share = [1.0, trim, base, base * LOWER].get(step).copied().unwrap_or(base);
                    at_hand(&line.movement, s, s.of(written) * share, kit, bars)
                }
                None => sizes_down(&line.movement, s.of(written), step, kit),
            };
            kg.unwrap_or(at).max(s.of(least).min(at)).min(at)
        };
        out.push([of(Standard::Heavier), of(Standard::Lighter)]);
    }
    out.into_iter().map(Some).collect()
}

/// So many sizes of the hall's stock under a weight.
fn sizes_down(movement: &str, kg: f64, step: usize, kit: &Kit) -> Option<f64> {
    let kind = catalogue().movement(movement)?.load;
    let down = table().sizes.iter().find(|s| s.load == kind)?.down.get(step.checked_sub(1)?)?;
    let (stock, held) = kit.implements(kind)?;
    let mut sizes: Vec<f64> =
        stock.iter().filter(|s| s.count >= held && s.size < kg - SAME_KG).map(|s| s.size).collect();
    sizes.sort_by(|a, b| b.total_cmp(a));
    if *down == 0 {
        return Some(kg);
    }
    sizes.get(down - 1).or(sizes.last()).copied()
}

/// The nearest weight of one implement that the hall has, a bar's in the steps that coaches write.
pub fn at_hand(movement: &str, standard: Standard, kg: f64, kit: &Kit, bars: &Bars) -> Option<f64> {
    let bar = catalogue().movement(movement)?.load == LoadKind::Barbell;
    let step = kit.unit.bar_step_kg(standard);
    let wish = if bar { (kg / step).round() * step } else { kg };
    nearest(movement, standard, wish, kit, bars)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn steps(text: &str) -> Vec<Vec<[f64; 2]>> {
        let w = Work::from_block(&read(text).sheet.blocks[0]).unwrap();
        let (kit, falls) = (Kit::usual(), falls(&w));
        let bars = Bars::of(&kit);
        let of = |(l, f): (&Line, &Falls)| guide(l, *f, &kit, &bars).into_iter().flatten().collect();
        w.lines.iter().zip(&falls).map(of).collect()
    }

    #[test]
    fn weights_fall_in_steps_of_hands() {
        // 60 x 0.75 = 45, x 0.55 = 33; 42.5 x 0.75 = 31.9, x 0.55 = 23.4
        let clean = &steps("3 rounds for time\n10 power cleans 60/42.5 kg")[0];
        assert_eq!(clean[..3], [[60.0, 42.5], [45.0, 32.5], [35.0, 22.5]]);
        // 100 x 0.8, 0.6; 70 x 0.8 = 56, x 0.6 = 42
        let pull = &steps("3 rounds for time\n10 deadlifts 100/70 kg")[0];
        assert_eq!(pull[..3], [[100.0, 70.0], [80.0, 55.0], [60.0, 42.5]]);
        let bell = &steps("3 rounds for time\n10 goblet squats 24/16 kg")[0];
        assert_eq!(bell[..3], [[24.0, 16.0], [20.0, 12.0], [16.0, 8.0]]);
        let ball = &steps("3 rounds for time\n10 wall balls 9/6 kg")[0];
        assert_eq!(ball[..2], [[9.0, 6.0], [9.0, 6.0]], "the same ball for Trim");
        assert!(ball[2][0] < 9.0 && ball[2][1] < 6.0);
    }

    #[test]
    fn one_bar_for_all_that_is_written_with_one() {
        let all = steps(
            "4 rounds for time\n8 power cleans 60/42.5 kg\n8 front squats 60/42.5 kg\n8 deadlifts 60/42.5 kg",
        );
        assert!(all.iter().all(|s| *s == all[0]), "{all:?}");
        let apart = steps("4 rounds for time\n8 power cleans 60/42.5 kg\n8 deadlifts 100/70 kg");
        assert_eq!(apart[1][1], [80.0, 55.0]);
    }

    #[test]
    fn nothing_falls_under_the_least_that_is_sensible() {
        let light = &steps("3 rounds for time\n10 power cleans 35/25 kg")[0];
        assert_eq!(light[2], [30.0, 20.0], "0.55 of it would be a bar nobody cleans with");
    }
}
