//! A line done by something else: how much of it and with what weight, by the table's rules.

use super::guide::at_hand;
use super::levers::kit_has;
use super::table::table;
use super::weight::Hands;
use crate::kinds::Gear;
use crate::movement::{Cause, CountRule, Instead, LoadKind, LoadRule, catalogue};
use crate::pacing::{Athlete, Level, Policy, engine_of_one, settle, table as pacing, tasks_for};
use crate::units::{Standard, Unit};
use crate::versions::work::{
    Clock, Line, Weight, Work, compile_lines, even_up, friendly_count, friendly_counts,
};

/// Within these of the written count it is the written count, so that equal reps stay equal.
const SAME_COUNT: std::ops::RangeInclusive<f64> = 0.8..=1.25;
/// Never more than this of the written count.
const MOST_OF_COUNT: f64 = 1.5;
/// Under so much of a machine its time is said instead.
const LEAST_CALORIES: f64 = 5.0;
const LEAST_METRES: f64 = 100.0;
const LEAST_SECONDS: f64 = 15.0;
/// Rounding to a size may pass what the rule asks by this.
const ROUNDS_UP: f64 = 1.08;

/// For whom a line is replaced.
#[derive(Clone, Copy)]
pub struct For<'a> {
    /// Whose weights and counts.
    pub standard: Standard,
    /// Whose pace and maxima.
    pub athlete: &'a Athlete,
    /// What the hands have.
    pub hands: Hands<'a>,
    /// What one held thing weighs, where there is nothing else, kg.
    pub held_kg: Option<f64>,
}

/// Seconds that a line lasts once through, fresh; by the table's pace where it cannot be done.
fn seconds(line: &Line, who: For) -> f64 {
    let one = Line { around: None, part: 0, rise: 0.0, ..line.clone() };
    let n = one.count(0, who.standard);
    let work = Work::single(Clock::Once, vec![one]);
    let (workout, _) = compile_lines(&work, who.standard, who.athlete, None);
    let tasks = tasks_for(&workout, who.athlete, &[]);
    if tasks.iter().all(|t| t.feasible) && !tasks.is_empty() {
        return settle(&workout, who.athlete, &tasks, &Policy::default()).1.time;
    }
    pacing::row(&line.movement).map_or(n, |r| r.c0 * n)
}

/// An amount of a unit by which its pace is measured.
fn measure(unit: Unit) -> f64 {
    match unit {
        Unit::Reps | Unit::Calories => 10.0,
        Unit::Metres => 200.0,
        Unit::Seconds => 30.0,
    }
}

/// The line done as a row of the table says; `None` where the movement is unknown.
pub fn replaced(line: &Line, t: &Instead, who: For) -> Option<Line> {
    let m = catalogue().movement(&t.to)?;
    // a machine that shows calories has no pace for metres
    let metres = m.load == LoadKind::Machine && line.unit == Unit::Metres;
    let counts_it = m.count == line.unit || (m.count_also.contains(&line.unit) && !metres);
    let unit = if counts_it { line.unit } else { m.count };
    let mut out = Line {
        movement: t.to.clone(),
        variant: t.variant.clone(),
        unit,
        height_cm: None,
        weight: None,
        weight_assumed: false,
        on_sheet: None,
        implements: if m.load == LoadKind::DumbbellPair { 2 } else { 1 },
        along: Vec::new(),
        per_side: false,
        stands_for: line.stands_for.clone().or_else(|| Some(line.movement.clone())),
        ..line.clone()
    };
    out.weight = weight(line, t, &out, who).map(|kg| Weight::Kg([kg; 2]));
    let rule = if counts_it { t.count } else { CountRule::BySeconds };
    count(line, &mut out, rule, who);
    if m.per_side && out.unit == Unit::Reps {
        out.counts = out.counts.iter().map(|c| c.map(even_up)).collect();
    }
    Some(out)
}

/// The same for both standards, at the pace of a regular member of each.
pub fn replaced_for_both(line: &Line, t: &Instead, hands: Hands, held_kg: Option<[f64; 2]>) -> Option<Line> {
    let of = |standard: Standard| {
        let athlete = Athlete::of_level(standard, Level::Regular);
        let held_kg = held_kg.map(|kg| standard.of(kg));
        replaced(line, t, For { standard, athlete: &athlete, hands, held_kg })
    };
    let (a, b) = (of(Standard::Heavier)?, of(Standard::Lighter)?);
    let weight = a.kg().zip(b.kg()).map(|(x, y)| Weight::Kg([x[0], y[1]]));
    let same_unit = a.unit == b.unit;
    let both = |(x, y): (&[f64; 2], &[f64; 2])| if same_unit { [x[0], y[1]] } else { [x[0]; 2] };
    let counts = a.counts.iter().zip(&b.counts).map(both).collect();
    // written once for both, it stays one number for both
    let one = line.counts.iter().all(|c| (c[0] - c[1]).abs() < 1e-9) && a.unit == Unit::Reps;
    Some(Line { counts: if one { a.counts.clone() } else { counts }, weight, ..a })
}

/// Replaces what the hall has nothing to do with; what was changed, in words for the coach.
pub fn with_this_kit(work: &mut Work, hands: Hands) -> Vec<String> {
    let mut out = Vec::new();
    for line in &mut work.lines {
        let Some(m) = catalogue().movement(&line.movement).filter(|m| !hands.kit.has(&m.equipment)) else {
            continue;
        };
        let needs = |all: &[Gear]| all.iter().any(|g| m.needs(*g) && !hands.kit.has(&[*g]));
        let cause = if needs(&[Gear::Barbell, Gear::Plates]) {
            Cause::NoBarbell
        } else if needs(&[Gear::PullUpBar, Gear::Rings, Gear::ClimbingRope]) {
            Cause::NoRig
        } else {
            Cause::Home
        };
        let there = |t: &Instead| kit_has(hands.kit, &t.to);
        let found = catalogue().instead(&line.movement, &[cause], there).and_then(Result::ok);
        let Some(new) = found.and_then(|t| replaced_for_both(line, &t, hands, None)) else { continue };
        let note = format!("{} instead of {}: the hall has nothing to do it with.", new.text(), line.text());
        if !out.contains(&note) {
            out.push(note);
        }
        *line = new;
    }
    out
}

/// What one unit of a machine or of running asks of the engine: from one to the other that is the fair exchange.
fn engine(line: &Line, who: For) -> Option<f64> {
    engine_of_one(who.athlete, &line.movement, line.unit)
}

/// How much of a line lasts so long: looked for from a usual amount, because a longer piece is slower.
fn as_long(line: &Line, wanted_s: f64, who: For) -> f64 {
    let mut n = measure(line.unit);
    for _ in 0..3 {
        let probe = Line { counts: vec![[n; 2]], ..line.clone() };
        n *= (wanted_s / seconds(&probe, who).max(0.1)).clamp(0.2, 5.0);
    }
    n
}

fn count(line: &Line, out: &mut Line, rule: CountRule, who: For) {
    if line.counts.is_empty() {
        return;
    }
    let same_unit = out.unit == line.unit;
    let factor = match rule {
        CountRule::Same => 1.0,
        CountRule::Ratio(r) => r,
        CountRule::BySeconds => {
            let by_engine = engine(line, who).zip(engine(out, who)).map(|(a, b)| a / b.max(1e-6));
            let by_time = || as_long(out, seconds(line, who), who) / line.count(0, who.standard).max(0.1);
            by_engine.unwrap_or_else(by_time)
        }
    };
    let factor = if same_unit { factor.min(MOST_OF_COUNT) } else { factor };
    if same_unit && SAME_COUNT.contains(&factor) {
        return;
    }
    let small = match out.unit {
        Unit::Calories => LEAST_CALORIES,
        Unit::Metres => LEAST_METRES,
        _ => 0.0,
    };
    let first = line.count(0, who.standard) * factor;
    let machine = catalogue().movement(&out.movement).is_some_and(|m| m.load == LoadKind::Machine);
    if machine && first < small {
        out.unit = Unit::Seconds;
        let time = |c: [f64; 2]| {
            let share = who.standard.of(c) / line.count(0, who.standard).max(0.1);
            [friendly_count(&out.movement, seconds(line, who) * share, Unit::Seconds).max(LEAST_SECONDS); 2]
        };
        out.counts = line.counts.iter().map(|c| time(*c)).collect();
    } else {
        out.counts = friendly_counts(&out.movement, &line.counts, factor, out.unit);
    }
    out.rise = if same_unit { (line.rise * factor).round() } else { 0.0 };
}

/// The weight of one implement; `None` where nothing is held.
fn weight(line: &Line, t: &Instead, out: &Line, who: For) -> Option<f64> {
    let m = catalogue().movement(&t.to)?;
    if matches!(m.load, LoadKind::None | LoadKind::Machine) {
        return None;
    }
    let whole = line.kg().map(|kg| who.standard.of(kg) * line.held());
    let usual = |pick: fn(crate::movement::RxLoad) -> [f64; 2]| m.rx_load.map(|u| who.standard.of(pick(u)));
    let wish = match t.load {
        LoadRule::SameBar => return line.kg().map(|kg| who.standard.of(kg)),
        LoadRule::Held => who.held_kg.or_else(|| usual(|u| u.light)),
        LoadRule::Share(x) => whole.map(|w| w * x / out.held()).or_else(|| usual(|u| u.light)),
        LoadRule::Own(x) => who.athlete.one_rm_for(&t.to).map(|kg| kg * x),
        LoadRule::Moderate => usual(|u| u.moderate),
        LoadRule::Step => whole.map(|w| w * 0.8 / out.held()),
        LoadRule::Light | LoadRule::None => usual(|u| u.light),
    }?;
    let least = table().least(&t.to).map_or(0.0, |kg| who.standard.of(kg));
    let near = |kg: f64| at_hand(&t.to, who.standard, kg, who.hands.kit, who.hands.bars);
    let wish = wish.max(least);
    [1.0, 0.9, 0.8, 0.7]
        .into_iter()
        .filter_map(|f| near(wish * f))
        .find(|kg| *kg <= wish * ROUNDS_UP)
        .or(near(wish))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kit::Kit;
    use crate::loads::Bars;
    use crate::sheet::read;
    use crate::stimulus::infer;

    fn done(text: &str, to: Instead) -> Line {
        let block = read(text).sheet.blocks[0].clone();
        let work = Work::from_block(&block).unwrap();
        let stimulus = infer(&block, &work);
        let kit = Kit::usual();
        let bars = Bars::of(&kit);
        let athlete = Athlete::of_level(Standard::Heavier, Level::Regular);
        let hands = Hands { kit: &kit, bars: &bars, stimulus: &stimulus };
        let who = For { standard: Standard::Heavier, athlete: &athlete, hands, held_kg: None };
        replaced(&work.lines[0], &to, who).unwrap()
    }

    fn to(id: &str, count: CountRule, load: LoadRule) -> Instead {
        Instead { to: id.into(), variant: None, count, load, why: String::new(), note: String::new() }
    }

    #[test]
    fn counts_and_weights_follow_the_rule() {
        let l = done("3 rounds for time\n12 pull-ups", to("ring-row", CountRule::Same, LoadRule::None));
        assert_eq!(l.text_for(Standard::Heavier), "12 ring rows");
        assert_eq!(l.stands_for.as_deref(), Some("pull-up"));
        // 60 x 0.5 in two hands
        let l = done(
            "3 rounds for time\n10 power cleans 60/42.5 kg",
            to("db-power-clean", CountRule::Same, LoadRule::Share(0.6)),
        );
        assert_eq!(l.text_for(Standard::Heavier), "10 dumbbell power cleans 2 x 17.5 kg");
        // half the sides each, an even total
        let l =
            done("3 rounds for time\n9 deadlifts 60/40 kg", to("db-row", CountRule::Same, LoadRule::Light));
        assert_eq!(l.count(0, Standard::Heavier) % 2.0, 0.0);
        let l = done("for time\n400 m run", to("row", CountRule::Same, LoadRule::None));
        assert_eq!((l.unit, l.count(0, Standard::Heavier)), (Unit::Metres, 400.0));
    }

    #[test]
    fn a_short_stretch_of_a_machine_is_said_in_seconds() {
        let l = done("3 rounds for time\n3 burpees", to("bike", CountRule::BySeconds, LoadRule::None));
        assert_eq!(l.unit, Unit::Seconds, "{}", l.text());
        assert!((10.0..=30.0).contains(&l.count(0, Standard::Heavier)), "{}", l.text());
        // 400 m of running last about two minutes
        let l = done("for time\n400 m run", to("bike", CountRule::BySeconds, LoadRule::None));
        assert!(
            l.unit == Unit::Calories && (15.0..=40.0).contains(&l.count(0, Standard::Heavier)),
            "{}",
            l.text()
        );
    }

    #[test]
    fn no_count_is_over_half_as_much_again() {
        let l =
            done("3 rounds for time\n10 muscle-ups", to("ring-row", CountRule::Ratio(4.0), LoadRule::None));
        assert_eq!(l.count(0, Standard::Heavier), 15.0);
    }
}
