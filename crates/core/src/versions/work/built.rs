//! What is loaded is a weight that the hall can build, in every version, the written one too: 35 lb beside a bell of 16 kg
//! is that bell.

use super::{Line, OnSheet, Weight, Work};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{LoadKind, catalogue, say::spoken};
use crate::units::{Standard, WeightUnit};

/// Under this the weight is the one on the sheet for all that anybody notices, kg (own).
const SAME_KG: f64 = 0.26;

/// The nearest weight of one implement that the hall has; `None` where it has none of the kind, or nothing is held.
pub fn nearest(movement: &str, standard: Standard, kg: f64, kit: &Kit, bars: &Bars) -> Option<f64> {
    let kind = catalogue().movement(movement)?.load;
    if kind == LoadKind::Barbell {
        return bars.choose(standard, kg).and_then(|b| b.nearest(kg)).map(|w| w.kg);
    }
    let (stock, held) = kit.implements(kind)?;
    Kit::nearest(stock, kg, held)
}

impl Work {
    /// The same with weights that the hall can build, in the hall's unit. What the hall has none of is left as it is.
    pub fn built_with(mut self, kit: &Kit, bars: &Bars) -> Work {
        for line in &mut self.lines {
            let Some(written) = line.kg() else { continue };
            let of = |s: Standard| nearest(&line.movement, s, s.of(written), kit, bars);
            let (Some(a), Some(b)) = (of(Standard::Heavier), of(Standard::Lighter)) else { continue };
            let typed = std::mem::replace(&mut line.speaks, kit.unit);
            let told =
                typed != kit.unit || [a - written[0], b - written[1]].iter().any(|d| d.abs() > SAME_KG);
            if told && !line.weight_assumed {
                line.on_sheet = Some(OnSheet { kg: written, typed });
            }
            line.weight = Some(Weight::Kg([a, b]));
        }
        self
    }

    /// What the sheet says and the hall cannot build, in words, once for each movement and weight.
    pub fn not_built(&self) -> Vec<String> {
        let mut out: Vec<String> = Vec::new();
        for words in self.lines.iter().filter_map(words) {
            if !out.contains(&words) {
                out.push(words);
            }
        }
        out
    }
}

fn words(line: &Line) -> Option<String> {
    let (sheet, kg) = (line.on_sheet?, line.kg()?);
    let (name, said) = (spoken(&line.movement), sheet.typed.pair_words(sheet.kg));
    Some(format!("{name}: the sheet says {said}, the hall's nearest is {}.", line.speaks.pair_words(kg)))
}

impl WeightUnit {
    /// Steps in which coaches write a bar for a standard, kg (own): fives and two and a halves, tens and fives in pounds.
    pub(crate) fn bar_step_kg(self, standard: Standard) -> f64 {
        let fine = match self {
            WeightUnit::Kg => 2.5,
            WeightUnit::Lb => 5.0,
        };
        let steps = if standard == Standard::Heavier { 2.0 } else { 1.0 };
        fine * steps * self.kg()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;
    use proptest::prelude::*;

    fn full(sheet: &str, kit: &Kit) -> Work {
        let block = read(sheet).sheet.blocks[0].clone();
        Work::from_block(&block).unwrap().built_with(kit, &Bars::of(kit))
    }

    fn lines(w: &Work) -> Vec<String> {
        w.lines.iter().map(Line::text).collect()
    }

    #[test]
    fn pounds_in_a_hall_of_kilograms_are_the_weights_that_are_there() {
        let sheet = "# workout cap 12:00\n21-15-9 for time\nthruster 95/65 lb\nkettlebell swing 35/26 lb\nwall-ball 20/14 lb";
        let w = full(sheet, &Kit::usual());
        // 95 lb are 43.09 kg: 42.5 is nearer than 45; 65 lb are 29.48: 30; bells of 16 and 12, balls of 9 and 6
        let want = [
            "21-15-9 thrusters 42.5/30 kg",
            "21-15-9 overhead kettlebell swings 16/12 kg",
            "21-15-9 wall balls 9/6 kg",
        ];
        assert_eq!(lines(&w), want);
        assert_eq!(
            w.not_built()[1],
            "overhead kettlebell swing: the sheet says 35/26 lb, the hall's nearest is 16/12 kg."
        );
    }

    #[test]
    fn a_hall_of_pounds_speaks_pounds() {
        let sheet = "# workout cap 12:00\n21-15-9 for time\nthruster 95/65 lb\nkettlebell swing 53/35 lb";
        let w = full(sheet, &Kit::usual_pounds());
        assert_eq!(lines(&w), ["21-15-9 thrusters 95/65 lb", "21-15-9 overhead kettlebell swings 53/35 lb"]);
        assert_eq!(w.not_built(), Vec::<String>::new());
    }

    #[test]
    fn what_can_be_built_stays_and_what_is_not_there_is_left() {
        let kit = Kit { kettlebells: Vec::new(), ..Kit::usual() };
        let w = full(
            "# workout cap 12:00\n21-15-9 for time\nthruster 42.5/30 kg\nkettlebell swing 23/15 kg",
            &kit,
        );
        assert_eq!(
            lines(&w),
            ["21-15-9 thrusters 42.5/30 kg", "21-15-9 overhead kettlebell swings 23/15 kg"]
        );
        assert_eq!(w.not_built(), Vec::<String>::new());
    }

    proptest! {
        #[test]
        fn whatever_is_written_a_hall_can_build_it(
            bar in 20.0f64..140.0, bell in 4.0f64..40.0, ball in 2.0f64..14.0, pounds in any::<bool>(),
        ) {
            let kit = if pounds { Kit::usual_pounds() } else { Kit::usual() };
            let bars = Bars::of(&kit);
            let sheet = format!(
                "# workout cap 12:00\n3 rounds for time\n9 power clean {bar:.2}/{:.2} kg\n9 kettlebell swing {bell:.2}/{:.2} kg\n9 wall-ball {ball:.2}/{:.2} kg",
                bar * 0.7, bell * 0.7, ball * 0.7
            );
            let w = full(&sheet, &kit);
            let loads: Vec<[f64; 2]> = w.lines.iter().filter_map(Line::kg).collect();
            for kg in loads[0] {
                let there = kit.bars.iter().filter_map(|b| bars.of_bar(b.size)).flat_map(|b| b.all());
                prop_assert!(there.into_iter().any(|l| (l.kg - kg).abs() < 1e-6), "bar {kg}");
            }
            for (stock, pair) in [(&kit.kettlebells, loads[1]), (&kit.balls, loads[2])] {
                prop_assert!(pair.iter().all(|kg| stock.iter().any(|s| (s.size - kg).abs() < 1e-9)), "{pair:?}");
            }
            // the heavier standard is not under the lighter one, and what is built stays as it is
            prop_assert!(loads.iter().all(|[a, b]| a >= b), "{loads:?}");
            prop_assert!(w.lines.iter().all(|l| l.speaks == kit.unit));
            let again = w.clone().built_with(&kit, &bars);
            prop_assert_eq!(lines(&again), lines(&w));
            prop_assert_eq!(again.not_built(), w.not_built());
        }
    }

    #[test]
    fn bars_step_as_coaches_write_them() {
        assert_eq!([Standard::Heavier, Standard::Lighter].map(|s| WeightUnit::Kg.bar_step_kg(s)), [5.0, 2.5]);
        let lb = WeightUnit::Lb.bar_step_kg(Standard::Heavier) / crate::units::KG_PER_LB;
        assert!((lb - 10.0).abs() < 1e-9);
    }
}
