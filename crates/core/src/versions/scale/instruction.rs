//! A version as what the coach says aloud: few instructions, one breath.

use super::amount::Amount;
use super::levers::{Levers, Setting};
use super::table::table;
use crate::movement::{LoadKind, catalogue, say::spoken_for};
use crate::units::{Unit, WeightUnit, pair};
use crate::versions::work::{Line, Tier, Work};
use serde::{Deserialize, Serialize};

/// Words of a version's sentence, without its name.
const ONE_BREATH: usize = 19;

/// One thing that differs from Full.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub enum Instruction {
    /// One step of weight for all that is loaded.
    Weight(String),
    /// One change of amount for all of it.
    Amount(String),
    /// Another movement, with a count where the scheme does not give it: (what, instead of what).
    Movement(String, String),
    /// A count that the scheme does not give.
    Count(String),
}

impl Instruction {
    /// As it is said.
    pub fn says(&self) -> String {
        match self {
            Instruction::Weight(w) | Instruction::Amount(w) | Instruction::Count(w) => w.clone(),
            Instruction::Movement(to, from) => format!("{to} for {from}"),
        }
    }
}

/// What differs at a setting from the work as written, in the order in which it is said.
pub fn instructions(levers: &Levers, s: &Setting, tier: Tier) -> Vec<Instruction> {
    let mut out = Vec::new();
    out.extend(weight(levers, s, tier));
    if let Some(a) = levers.amounts.get(s.amount).filter(|a| **a != Amount::Written) {
        out.push(Instruction::Amount(a.says(&levers.written)));
    }
    let work = levers.apply(s);
    let asked = levers.of_amount(s);
    for (i, (from, to)) in levers.written.lines.iter().zip(&work.lines).enumerate() {
        let Some(way) = levers.way(i, s).filter(|_| s.way.get(i).is_some_and(|w| *w > 0)) else { continue };
        let twice = asked.lines.get(i).is_some_and(|l| is_twice(l, to));
        let changed = if twice {
            Instruction::Movement(
                format!("two {}", said(to)),
                format!("each {}", spoken_for(&from.movement, 1.0)),
            )
        } else {
            Instruction::Movement(said(to), spoken_for(&from.movement, 2.0))
        };
        if !out.contains(&changed) {
            out.push(changed);
            if way.own_count(from) && !twice && !to.counts.is_empty() {
                out.push(Instruction::Count(counts(to)));
            }
        }
    }
    out
}

/// The same of a version with lines whose count is its own, because of how much is usual for whom it is made.
pub fn instructions_capped(
    levers: &Levers,
    s: &Setting,
    tier: Tier,
    work: &Work,
    capped: &[usize],
) -> Vec<Instruction> {
    let mut out = instructions(levers, s, tier);
    for (i, line) in capped.iter().filter_map(|i| Some((*i, work.lines.get(*i)?))) {
        let swapped = levers.written.lines.get(i).filter(|w| w.movement != line.movement);
        let changed = swapped.map(|w| Instruction::Movement(said(line), spoken_for(&w.movement, 2.0)));
        let at = changed.and_then(|c| out.iter().position(|o| *o == c));
        let own = Instruction::Count(at.map_or_else(|| line.text(), |_| counts(line)));
        match at {
            // the count of the swap stands before its name
            Some(at) if matches!(out.get(at + 1), Some(Instruction::Count(_))) => {
                if let Some(said) = out.get_mut(at + 1) {
                    *said = own;
                }
            }
            Some(at) => out.insert(at + 1, own),
            None if !out.contains(&own) => out.push(own),
            None => {}
        }
    }
    out
}

/// Whether every count is twice what is asked of the written movement: `two single-unders for each double-under`.
fn is_twice(asked: &Line, to: &Line) -> bool {
    let two = |(a, b): (&[f64; 2], &[f64; 2])| {
        (0..2).all(|s| a.get(s).zip(b.get(s)).is_some_and(|(a, b)| *b == 2.0 * a))
    };
    let reps = asked.unit == Unit::Reps && to.unit == Unit::Reps && to.along.is_empty();
    reps && !to.counts.is_empty()
        && asked.counts.len() == to.counts.len()
        && asked.counts.iter().zip(&to.counts).all(two)
}

/// How many instructions a version may have.
pub fn budget(levers: &Levers, tier: Tier) -> usize {
    let b = &table().budget;
    let more = usize::from(levers.written.lines.len() >= b.more_from_lines);
    match tier {
        Tier::Full => 0,
        Tier::Trim => b.trim + more,
        Tier::Base => b.base + more,
    }
}

/// A version in one sentence: `the middle bar 45/32.5 kg, 15-12-9, ring rows for pull-ups.` What would take more than a breath
/// leaves out what is replaced, from the end.
pub fn sentence(all: &[Instruction]) -> String {
    if all.is_empty() {
        return "as it stands.".to_owned();
    }
    let swaps = all.iter().filter(|i| matches!(i, Instruction::Movement(..))).count();
    let of = |named: usize| {
        let (mut parts, mut swap): (Vec<String>, usize) = (Vec::new(), 0);
        for i in all {
            match (i, parts.last_mut()) {
                (Instruction::Count(n), Some(last)) if n.chars().all(|c| !c.is_alphabetic()) => {
                    *last = format!("{n} {last}")
                }
                (Instruction::Movement(to, _), _) => {
                    swap += 1;
                    parts.push(if swap <= named { i.says() } else { to.clone() });
                }
                _ => parts.push(i.says()),
            }
        }
        format!("{}.", parts.join(", "))
    };
    let fits = |s: &String| s.split_whitespace().count() <= ONE_BREATH;
    (0..=swaps).rev().map(of).find(fits).unwrap_or_else(|| of(0))
}

fn said(line: &Line) -> String {
    let name = spoken_for(&line.movement, 2.0);
    let with: Vec<String> = line.along.iter().map(|a| spoken_for(&a.movement, 2.0)).collect();
    let with = if with.is_empty() { String::new() } else { format!(" and {}", with.join(" and ")) };
    format!("{name}{with}")
}

fn counts(line: &Line) -> String {
    line.counts.iter().map(|c| crate::units::pair(*c)).collect::<Vec<_>>().join("-")
}

/// The step of weight in words, once for all that gets lighter.
fn weight(levers: &Levers, s: &Setting, tier: Tier) -> Option<Instruction> {
    if s.weight == 0 {
        return None;
    }
    let lighter = |i: usize| {
        let l = levers.written.lines.get(i)?;
        let way = levers.way(i, s)?;
        let kg = way.loads.get(s.weight).copied().flatten()?;
        let kind = catalogue().movement(&l.movement)?.load;
        // another implement is said with its movement
        if catalogue().movement(&way.movement)?.load != kind {
            return None;
        }
        (way.loads.first() != Some(&Some(kg))).then_some((kind, kg, l))
    };
    let all: Vec<(LoadKind, [f64; 2], &Line)> = (0..levers.written.lines.len()).filter_map(lighter).collect();
    let mut words: Vec<Lighter> = Vec::new();
    for kind in [
        LoadKind::Barbell,
        LoadKind::DumbbellPair,
        LoadKind::Dumbbell,
        LoadKind::Kettlebell,
        LoadKind::Medball,
        LoadKind::Sandbag,
        LoadKind::Plate,
    ] {
        let mut of: Vec<([f64; 2], &Line)> =
            all.iter().filter(|(k, ..)| *k == kind).map(|(_, kg, l)| (*kg, *l)).collect();
        of.dedup_by(|a, b| a.0 == b.0);
        let said = match of.as_slice() {
            [] => continue,
            [(kg, l)] => (noun(kind, tier), Some((l.speaks, *kg))),
            _ => (noun(kind, tier), None),
        };
        if !words.contains(&said) {
            words.push(said);
        }
    }
    (!words.is_empty()).then(|| Instruction::Weight(in_one_breath(&words)))
}

/// What gets lighter, as it is called, and to what where it is one weight.
type Lighter = (&'static str, Option<(WeightUnit, [f64; 2])>);

/// `the light bar 35/22.5 and the lighter ball 6/4 kg`: the unit once, where it is one.
fn in_one_breath(words: &[Lighter]) -> String {
    let said = |(i, (noun, kg)): (usize, &Lighter)| {
        let Some((unit, kg)) = kg else { return (*noun).to_owned() };
        let again = words.get(i + 1).and_then(|w| w.1).is_some_and(|(next, _)| next == *unit);
        if again {
            format!("{noun} {}", pair(kg.map(|v| unit.figure(v))))
        } else {
            format!("{noun} {}", unit.pair_words(*kg))
        }
    };
    // one breath for two of them
    let short = |w: String| if words.len() > 1 { w.trim_start_matches("the ").to_owned() } else { w };
    words.iter().enumerate().map(said).map(short).collect::<Vec<_>>().join(" and ")
}

fn noun(kind: LoadKind, tier: Tier) -> &'static str {
    match (kind, tier) {
        (LoadKind::Barbell, Tier::Base) => "the light bar",
        (LoadKind::Barbell, _) => "the middle bar",
        (LoadKind::DumbbellPair | LoadKind::Dumbbell, Tier::Base) => "light dumbbells",
        (LoadKind::DumbbellPair | LoadKind::Dumbbell, _) => "lighter dumbbells",
        (LoadKind::Kettlebell, Tier::Trim) => "a lighter bell",
        (LoadKind::Kettlebell, _) => "a light bell",
        (LoadKind::Medball, _) => "the lighter ball",
        (LoadKind::Sandbag, _) => "a lighter bag",
        _ => "lighter",
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn swap(to: &str, from: &str) -> Instruction {
        Instruction::Movement(to.to_owned(), from.to_owned())
    }

    #[test]
    fn a_version_is_said_in_one_breath() {
        let light = Instruction::Weight("light dumbbells 10/7.5 kg".to_owned());
        let knees = swap("hanging knee raises", "toes to bar");
        let hang = swap("dumbbell hang clean and jerks", "clean and jerks");
        let short = sentence(&[light.clone(), knees.clone()]);
        assert_eq!(short, "light dumbbells 10/7.5 kg, hanging knee raises for toes to bar.");
        // 20 words with both: the last no longer names what it stands for
        assert_eq!(
            sentence(&[light, knees, hang]),
            "light dumbbells 10/7.5 kg, hanging knee raises for toes to bar, dumbbell hang clean and jerks."
        );
        assert_eq!(sentence(&[]), "as it stands.");
    }

    #[test]
    fn a_count_of_its_own_stands_before_the_swap_that_it_belongs_to() {
        let said = sentence(&[swap("ring rows", "pull-ups"), Instruction::Count("6".to_owned())]);
        assert_eq!(said, "6 ring rows for pull-ups.");
        let two = swap("two single-unders", "each double-under");
        assert_eq!(sentence(&[two]), "two single-unders for each double-under.");
    }

    #[test]
    fn two_weights_are_said_with_their_unit_once() {
        let kg = Some((WeightUnit::Kg, [35.0, 22.5]));
        let ball = Some((WeightUnit::Kg, [6.0, 4.0]));
        assert_eq!(
            in_one_breath(&[("the light bar", kg), ("the lighter ball", ball)]),
            "light bar 35/22.5 and lighter ball 6/4 kg"
        );
        assert_eq!(in_one_breath(&[("the light bar", kg)]), "the light bar 35/22.5 kg");
        assert_eq!(
            in_one_breath(&[("the light bar", None), ("a light bell", ball)]),
            "light bar and a light bell 6/4 kg"
        );
    }
}
