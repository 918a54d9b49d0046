//! The sums of every block beside the text: how much of each movement, fixed rest, the length that a clock fixes.

use lantern_core::movement::say::spoken_for;
use lantern_core::sheet::{Block, Sheet, Total, TotalCount};
use lantern_core::units::{clock, pair, plain};

/// One block.
pub struct BlockSums {
    /// Its kind and name.
    pub name: String,
    /// Clock and fixed rest in words; empty without.
    pub clock: String,
    /// (amount, movement).
    pub totals: Vec<(String, String)>,
}

/// All blocks that hold work.
pub fn sums(sheet: &Sheet) -> Vec<BlockSums> {
    sheet.blocks.iter().map(of).filter(|b| !b.totals.is_empty()).collect()
}

/// One block.
pub fn of(b: &Block) -> BlockSums {
    let open = b.per_round();
    let each: Vec<(String, String)> = open.iter().map(|t| one(t, " a round")).collect();
    let whole = b.totals();
    let counted =
        whole.iter().filter(|t| t.count.is_some() || !open.iter().any(|o| o.movement == t.movement));
    let mut totals: Vec<(String, String)> = counted.map(|t| one(t, "")).collect();
    totals.extend(each);
    let mut words = Vec::new();
    if let Some(s) = b.clock_s() {
        words.push(format!("{} on the clock", clock(f64::from(s))));
    }
    if b.fixed_rest_s() > 0 {
        words.push(format!("{} of fixed rest", clock(f64::from(b.fixed_rest_s()))));
    }
    let name = match &b.name {
        Some(n) => format!("{} “{n}”", b.kind.word()),
        None => b.kind.word().to_owned(),
    };
    BlockSums { name, clock: words.join(", "), totals }
}

fn one(t: &Total, each: &str) -> (String, String) {
    let (n, of) = match t.count {
        Some(TotalCount::Each(n)) => (plain(n), n),
        Some(TotalCount::ByStandard(c)) => (pair(c), 2.0),
        None => ("open".to_owned(), 2.0),
    };
    let suffix = t.unit.suffix();
    let load = t.load_kg.map_or_else(String::new, |kg| format!(" at {}", t.typed.pair_words(kg)));
    let name = if suffix.is_empty() { spoken_for(&t.movement, of) } else { spoken_for(&t.movement, 1.0) };
    (format!("{n} {suffix}").trim().to_owned(), format!("{name}{load}{each}"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;

    #[test]
    fn sums_are_of_the_whole_block_and_of_a_round_where_it_is_open() {
        let all = sums(
            &read("# workout \"Quay\"\n3 rounds for time\n12 power clean 60/42.5 kg\n200 m run\nrest 1:00")
                .sheet,
        );
        assert_eq!(all[0].name, "workout “Quay”");
        assert_eq!(all[0].clock, "2:00 of fixed rest");
        assert_eq!(all[0].totals[0], ("36".to_owned(), "power cleans at 60/42.5 kg".to_owned()));
        assert_eq!(all[0].totals[1], ("600 m".to_owned(), "run".to_owned()));
        let open = sums(&read("amrap 12\nbuy-in: 500 m row\n10 burpees").sheet);
        assert_eq!(open[0].clock, "12:00 on the clock");
        assert_eq!(
            open[0].totals,
            vec![("500 m".into(), "row".into()), ("10".into(), "burpees a round".into())]
        );
    }
}
