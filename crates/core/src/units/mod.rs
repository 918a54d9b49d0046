//! Quantities and how they are written: clock times, kilograms, counts, standards. The one place where
//! figures are rounded for people.

mod tier;

pub use tier::Tier;

use serde::{Deserialize, Serialize};

/// Kilograms in one pound (exact by definition).
pub const KG_PER_LB: f64 = 0.453_592_37;

/// What a count counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Unit {
    /// Repetitions.
    Reps,
    /// Metres.
    Metres,
    /// Kilocalories as machines display them.
    Calories,
    /// Seconds held.
    Seconds,
}

impl Unit {
    /// The word in files.
    pub fn word(self) -> &'static str {
        match self {
            Unit::Reps => "reps",
            Unit::Metres => "metres",
            Unit::Calories => "calories",
            Unit::Seconds => "seconds",
        }
    }

    /// The word after a number on a board: `m`, `cal`, `s`; reps carry none.
    pub fn suffix(self) -> &'static str {
        match self {
            Unit::Reps => "",
            Unit::Metres => "m",
            Unit::Calories => "cal",
            Unit::Seconds => "s",
        }
    }
}

/// The two load standards of a class board. The first of a pair of loads is the heavier.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Standard {
    /// Uses the first figure of `60/42.5 kg` and the 20 kg bar.
    Heavier,
    /// Uses the second figure and the 15 kg bar.
    Lighter,
}

/// A small number in words: `five`; figures above twelve.
pub fn count_word(n: usize) -> String {
    const WORDS: [&str; 13] = [
        "no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven",
        "twelve",
    ];
    WORDS.get(n).map_or_else(|| n.to_string(), |w| (*w).to_owned())
}

impl Standard {
    /// Both, heavier first.
    pub const BOTH: [Standard; 2] = [Standard::Heavier, Standard::Lighter];

    /// Picks this standard's figure from a pair written heavier first.
    pub fn of<T: Copy>(self, pair: [T; 2]) -> T {
        let [heavier, lighter] = pair;
        match self {
            Standard::Heavier => heavier,
            Standard::Lighter => lighter,
        }
    }

    /// The word in files: `heavier` or `lighter`.
    pub fn word(self) -> &'static str {
        match self {
            Standard::Heavier => "heavier",
            Standard::Lighter => "lighter",
        }
    }
}

/// Unit of weights: of those on a sheet without one, and of what a kit is marked in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum WeightUnit {
    /// Kilograms.
    #[default]
    Kg,
    /// Pounds.
    Lb,
}

impl WeightUnit {
    /// Both.
    pub const ALL: [WeightUnit; 2] = [WeightUnit::Kg, WeightUnit::Lb];

    /// As it is written behind a weight.
    pub fn word(self) -> &'static str {
        match self {
            WeightUnit::Kg => "kg",
            WeightUnit::Lb => "lb",
        }
    }

    /// From its word.
    pub fn from_word(word: &str) -> Option<WeightUnit> {
        WeightUnit::ALL.into_iter().find(|u| u.word() == word)
    }

    /// kg of one of it.
    pub fn kg(self) -> f64 {
        match self {
            WeightUnit::Kg => 1.0,
            WeightUnit::Lb => KG_PER_LB,
        }
    }

    /// A mass in it: the roundest figure that is the same mass to 0.01 kg, since masses are kept so; to two decimals when none is.
    pub fn figure(self, kg: f64) -> f64 {
        let exact = kg / self.kg();
        let round = |step: f64| (exact * step).round() / step;
        let same = |v: &f64| (v * self.kg() - kg).abs() <= 0.005 + 1e-9;
        [1.0, 2.0, 10.0].map(round).into_iter().find(same).unwrap_or_else(|| round(100.0))
    }

    /// `60/42.5 kg`, `95/65 lb`.
    pub fn pair_words(self, kg: [f64; 2]) -> String {
        format!("{} {}", pair(kg.map(|v| self.figure(v))), self.word())
    }
}

/// Where a figure about a member comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Provenance {
    /// Measured on this member.
    Tested,
    /// Worked out from something measured on this member.
    Estimated,
    /// A default for the member's level: nothing measured stands behind it.
    Assumed,
    /// Moved and narrowed by results of this member.
    Results,
}

impl Provenance {
    /// All, best known first.
    pub const ALL: [Provenance; 4] =
        [Provenance::Results, Provenance::Tested, Provenance::Estimated, Provenance::Assumed];

    /// From its word.
    pub fn read(word: &str) -> Option<Provenance> {
        Provenance::ALL.into_iter().find(|p| p.word() == word)
    }

    /// The word that people read.
    pub fn word(self) -> &'static str {
        match self {
            Provenance::Tested => "tested",
            Provenance::Estimated => "estimated",
            Provenance::Assumed => "assumed",
            Provenance::Results => "from results",
        }
    }
}

/// Whole seconds as `m:ss`; minutes run past 60 (a class is `60:00`). Negative or unbounded times have no
/// clock face and give `–`.
pub fn clock(seconds: f64) -> String {
    if !seconds.is_finite() || seconds < -0.5 {
        return "–".to_owned();
    }
    let s = seconds.round() as u64;
    format!("{}:{:02}", s / 60, s % 60)
}

/// A number without trailing zeros, at most two decimals: `60`, `42.5`, `1.25`.
pub fn plain(value: f64) -> String {
    let text = format!("{value:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// A pair of loads as on a board: `60/42.5`, or one figure when both are equal.
pub fn pair(values: [f64; 2]) -> String {
    let [a, b] = values;
    if (a - b).abs() < 1e-9 { plain(a) } else { format!("{}/{}", plain(a), plain(b)) }
}

/// A chance in words: `7 in 10`. Never 0 or 10: a forecast is never certain.
pub fn in_ten(chance: f64) -> String {
    format!("{} in 10", (chance * 10.0).round().clamp(1.0, 9.0) as u32)
}

/// Splits `total` whole seconds into parts in proportion to `shares` so that the parts add up exactly
/// (largest remainder). All-zero shares split evenly.
pub fn apportion(total: u32, shares: &[f64]) -> Vec<u32> {
    if shares.is_empty() {
        return Vec::new();
    }
    let sum: f64 = shares.iter().sum();
    let exact: Vec<f64> = shares
        .iter()
        .map(|s| if sum > 0.0 { f64::from(total) * s / sum } else { f64::from(total) / shares.len() as f64 })
        .collect();
    let mut out: Vec<u32> = exact.iter().map(|v| v.floor() as u32).collect();
    let mut order: Vec<usize> = (0..exact.len()).collect();
    order.sort_by(|a, b| {
        let (ra, rb) = (exact.get(*a).map_or(0.0, |v| v.fract()), exact.get(*b).map_or(0.0, |v| v.fract()));
        rb.total_cmp(&ra)
    });
    let mut left = total.saturating_sub(out.iter().sum());
    for i in order.into_iter().cycle() {
        if left == 0 {
            break;
        }
        if let Some(v) = out.get_mut(i) {
            *v += 1;
        }
        left -= 1;
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn clocks_and_loads_are_written_as_on_a_board() {
        assert_eq!(clock(754.4), "12:34");
        assert_eq!(clock(3600.0), "60:00");
        assert_eq!(clock(f64::INFINITY), "–");
        assert_eq!(plain(42.50), "42.5");
        assert_eq!(plain(60.0), "60");
        assert_eq!(plain(1.25), "1.25");
        assert_eq!(pair([60.0, 42.5]), "60/42.5");
        assert_eq!(pair([20.0, 20.0]), "20");
        assert_eq!(in_ten(1.0), "9 in 10");
        assert_eq!(in_ten(0.0), "1 in 10");
    }

    #[test]
    fn a_mass_is_said_by_the_roundest_figure_that_is_the_same_mass() {
        let lb = WeightUnit::Lb;
        // 95 lb are 43.0913 kg; to hundredths 43.09 is 94.997 lb
        assert_eq!((lb.figure(43.09), lb.figure(95.0 * KG_PER_LB)), (95.0, 95.0));
        assert_eq!([2.5, 1.25, 52.5].map(|v| lb.figure(v * KG_PER_LB)), [2.5, 1.25, 52.5]);
        assert_eq!([42.5, 1.25, 20.41].map(|v| WeightUnit::Kg.figure(v)), [42.5, 1.25, 20.41]);
        assert_eq!(
            (lb.pair_words([43.09, 29.48]), lb.pair_words([9.07; 2])),
            ("95/65 lb".into(), "20 lb".into())
        );
        for quarter in 1..2000 {
            let marked = f64::from(quarter) / 4.0;
            let kg = (marked * KG_PER_LB * 100.0).round() / 100.0;
            let again = (lb.figure(kg) * KG_PER_LB * 100.0).round() / 100.0;
            assert!((again - kg).abs() < 1e-9, "{marked} lb: {kg} kg became {again}");
        }
        assert_eq!(WeightUnit::ALL.map(|u| WeightUnit::from_word(u.word())), WeightUnit::ALL.map(Some));
        assert_eq!(WeightUnit::from_word("stone"), None);
    }

    #[test]
    fn printed_parts_add_up_to_the_printed_whole() {
        assert_eq!(apportion(600, &[1.0, 1.0, 1.0]), vec![200, 200, 200]);
        assert_eq!(apportion(100, &[1.0, 1.0, 1.0]), vec![34, 33, 33]);
        assert_eq!(apportion(7, &[0.0, 0.0]), vec![4, 3]);
    }
}
