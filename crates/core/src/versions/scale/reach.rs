//! Lines of Full that are out of reach of the whole room, or of most of it.

use super::skill::{Doer, best_set, missing_lines};
use crate::reason::OfDay;
use crate::roster::{Ability, Member};
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::versions::predict::first_set;
use crate::versions::work::{Tier, Work};

/// Of the class, so many who cannot do one line are most (own).
const MOST: f64 = 2.0 / 3.0;

/// What is said of the day: a line that nobody has yet, else the one line that most lack. `full`, `trim`: the versions;
/// `hardest`: the hardest version in which anybody stands.
pub fn out_of_reach(
    (full, trim): (&Work, &Work),
    class: &[(&Member, &Ability)],
    hardest: Tier,
    stimulus: &Stimulus,
    settings: &Settings,
) -> Option<OfDay> {
    if class.is_empty() {
        return None;
    }
    let missing: Vec<Vec<usize>> = class
        .iter()
        .map(|(m, a)| {
            let who = Doer { standard: m.standard, athlete: &a.athlete, new: false, stimulus, settings };
            missing_lines(full, who)
        })
        .collect();
    let lacking = |line: usize| missing.iter().filter(|m| m.contains(&line)).count();
    let best = |line: usize| {
        let of = |(m, a): &(&Member, &Ability)| best_set(full, line, m.standard, &a.athlete, stimulus);
        class.iter().map(of).fold(0.0, f64::max).floor()
    };
    let lines = 0..full.lines.len();
    if hardest != Tier::Full
        && let Some(line) = lines.clone().find(|i| lacking(*i) == class.len())
    {
        let movement = full.lines.get(line)?.movement.clone();
        let (wants, best) = (first_set(full, line, stimulus), best(line));
        return Some(OfDay::NobodyYet { movement, wants, best, starts_at: hardest });
    }
    let most: Vec<usize> = lines.filter(|i| lacking(*i) as f64 > MOST * class.len() as f64).collect();
    let [line] = most.as_slice() else { return None };
    let (written, instead) = (full.lines.get(*line)?, trim.lines.get(*line)?);
    (written.movement != instead.movement).then(|| OfDay::SecondChoice {
        movement: written.movement.clone(),
        lacking: lacking(*line),
        members: class.len(),
        instead: instead.text(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::roster::{Best, ability};
    use crate::sheet::read;
    use crate::stimulus::infer;
    use crate::units::Standard;
    use chrono::NaiveDate;

    fn said(pull_ups: &[f64], hardest: Tier) -> Option<OfDay> {
        let work = |text: &str| {
            let block =
                read(&format!("# workout cap 12:00\n4 rounds for time\n{text}\n15 sit-ups")).sheet.blocks[0]
                    .clone();
            let w = Work::from_block(&block).unwrap();
            (infer(&block, &w), w)
        };
        let ((stimulus, full), (_, trim)) = (work("8 pull-ups"), work("8 ring rows"));
        let day = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let members: Vec<Member> = pull_ups
            .iter()
            .map(|n| {
                let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
                m.unbroken = vec![Best { movement: "pull-up".into(), reps: *n, date: Some(day) }];
                m
            })
            .collect();
        let able: Vec<Ability> = members.iter().map(|m| ability(m, day)).collect();
        let class: Vec<(&Member, &Ability)> = members.iter().zip(&able).collect();
        out_of_reach((&full, &trim), &class, hardest, &stimulus, &Settings::default())
    }

    #[test]
    fn what_nobody_has_is_said_with_the_best_that_there_is() {
        let note = said(&[0.0, 1.0, 0.0], Tier::Trim);
        let Some(OfDay::NobodyYet { movement, best, starts_at, wants }) = note else { panic!("{note:?}") };
        assert_eq!((movement.as_str(), best, starts_at), ("pull-up", 1.0, Tier::Trim));
        assert!(wants >= 1.0);
        assert_eq!(said(&[0.0, 20.0, 20.0], Tier::Full), None, "one of three is not most");
        assert_eq!(said(&[], Tier::Trim), None);
    }

    #[test]
    fn what_most_lack_has_a_second_choice() {
        let note = said(&[0.0, 0.0, 0.0, 20.0], Tier::Full);
        assert_eq!(
            note,
            Some(OfDay::SecondChoice {
                movement: "pull-up".into(),
                lacking: 3,
                members: 4,
                instead: "8 ring rows".into()
            })
        );
        assert_eq!(said(&[0.0, 0.0, 20.0, 20.0], Tier::Full), None, "half is not most");
    }
}
