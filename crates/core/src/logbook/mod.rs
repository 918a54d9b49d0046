//! Results as they are shouted and typed: `10:42`, `5+12`, `cap 2+24`, `87.5`, `out`; and the number by which a result is
//! compared with its prediction.

mod read_csv;
mod volume;

pub use read_csv::{ResultRow, ResultsFile, read_results};
pub use volume::volume_done;

use crate::sheet::{Score, read_clock, read_number};
use crate::units::{clock, plain};
use crate::versions::PredictionUnit;
use serde::{Deserialize, Serialize};
use std::cmp::Ordering;

/// What a member did.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Outcome {
    /// Finished, s.
    Time {
        /// s.
        seconds: f64,
    },
    /// Stopped by the cap.
    Capped {
        /// Whole rounds.
        rounds: u32,
        /// Reps of the next one.
        reps: u32,
    },
    /// Rounds and reps.
    Rounds {
        /// Whole rounds.
        rounds: u32,
        /// Reps of the next one.
        reps: u32,
    },
    /// Reps in all.
    Reps {
        /// Reps.
        reps: f64,
    },
    /// Load, kg.
    Load {
        /// kg.
        kg: f64,
    },
    /// Did not start or stop counting.
    Out,
}

impl Outcome {
    /// Whether it comes before another on the board: finished before capped, shorter and more first; who did not finish last.
    pub fn before(&self, other: &Outcome) -> Ordering {
        // (which kind, smaller first)
        let rank = |o: &Outcome| match o {
            Outcome::Time { seconds } => (0, *seconds, 0.0),
            Outcome::Rounds { rounds, reps } => (1, -f64::from(*rounds), -f64::from(*reps)),
            Outcome::Reps { reps } => (1, -reps, 0.0),
            Outcome::Load { kg } => (1, -kg, 0.0),
            Outcome::Capped { rounds, reps } => (2, -f64::from(*rounds), -f64::from(*reps)),
            Outcome::Out => (3, 0.0, 0.0),
        };
        let (a, b) = (rank(self), rank(other));
        a.0.cmp(&b.0).then(a.1.total_cmp(&b.1)).then(a.2.total_cmp(&b.2))
    }

    /// As it is written in a log.
    pub fn text(&self) -> String {
        match self {
            Outcome::Time { seconds } => clock(*seconds),
            Outcome::Capped { rounds, reps } => format!("cap {rounds}+{reps}"),
            Outcome::Rounds { rounds, reps } => format!("{rounds}+{reps}"),
            Outcome::Reps { reps } => plain(*reps),
            Outcome::Load { kg } => format!("{} kg", plain(*kg)),
            Outcome::Out => "out".to_owned(),
        }
    }

    /// The number that stands beside a prediction, in its unit: s (the cap when capped), rounds as a decimal, reps; reps and rounds
    /// are turned into each other by the reps of a round on the board. `None` for what is of another kind.
    pub fn compared(&self, unit: PredictionUnit, cap_s: Option<f64>, board_reps: f64) -> Option<f64> {
        let board = board_reps.max(1.0);
        match (self, unit) {
            (Outcome::Time { seconds }, PredictionUnit::Seconds) => {
                Some(cap_s.map_or(*seconds, |c| seconds.min(c)))
            }
            (Outcome::Capped { .. }, PredictionUnit::Seconds) => cap_s,
            (Outcome::Rounds { rounds, reps }, PredictionUnit::Rounds | PredictionUnit::Cycles) => {
                Some(f64::from(*rounds) + f64::from(*reps) / board)
            }
            (Outcome::Rounds { rounds, reps }, PredictionUnit::Reps) => {
                Some(f64::from(*rounds) * board + f64::from(*reps))
            }
            (Outcome::Reps { reps }, PredictionUnit::Rounds) => Some(reps / board),
            (Outcome::Reps { reps }, PredictionUnit::Reps | PredictionUnit::Cycles) => Some(*reps),
            _ => None,
        }
    }
}

/// Longest time that can be logged, s.
const MOST_S: f64 = 4.0 * 3600.0;

/// Reads a result in the form that the score needs.
///
/// # Errors
/// Says what form is needed, in plain words.
///
/// ```
/// use lantern_core::logbook::{Outcome, read_result};
/// use lantern_core::sheet::Score;
/// assert_eq!(read_result("1042", Score::Time, Some(840.0)), Ok(Outcome::Time { seconds: 642.0 }));
/// assert!(read_result("soon", Score::Time, None).is_err());
/// ```
pub fn read_result(text: &str, score: Score, cap_s: Option<f64>) -> Result<Outcome, String> {
    let low = text.trim().to_lowercase();
    if low.is_empty() {
        return Err("Type a result, or out for somebody who did not finish.".to_owned());
    }
    if matches!(low.as_str(), "out" | "dns" | "dnf" | "-") {
        return Ok(Outcome::Out);
    }
    match score {
        Score::Time | Score::TimeMinusRest => read_time(&low, cap_s),
        Score::RoundsAndReps => {
            let (rounds, reps) = plus(&low).ok_or("Write rounds and reps as 5+12, or 5 for whole rounds.")?;
            Ok(Outcome::Rounds { rounds, reps })
        }
        Score::Reps | Score::LowestRound | Score::Calories => read_number(&low)
            .filter(|n| (0.0..=20_000.0).contains(n))
            .map(|reps| Outcome::Reps { reps })
            .ok_or_else(|| "Write the number of reps, say 142.".to_owned()),
        Score::Load => read_number(low.trim_end_matches("kg").trim())
            .filter(|n| (0.5..=600.0).contains(n))
            .map(|kg| Outcome::Load { kg })
            .ok_or_else(|| "Write the load in kilograms, say 87.5.".to_owned()),
        Score::None => Err("This block is not scored.".to_owned()),
    }
}

fn read_time(low: &str, cap_s: Option<f64>) -> Result<Outcome, String> {
    let cap_text = cap_s.map(clock);
    if let Some(rest) = low.strip_prefix("cap") {
        if cap_s.is_none() {
            return Err("This workout has no cap. Write the time, say 10:42.".to_owned());
        }
        let rest = rest.trim_start_matches([':', ' ']);
        if rest.is_empty() {
            return Ok(Outcome::Capped { rounds: 0, reps: 0 });
        }
        let (rounds, reps) = plus(rest).ok_or("Write how far they came as cap 2+24: rounds and reps.")?;
        return Ok(Outcome::Capped { rounds, reps });
    }
    let digits = low.chars().all(|c| c.is_ascii_digit());
    let seconds = if digits && (3..=4).contains(&low.len()) {
        // 1042 is 10:42, as it is shouted
        let (m, s) = low.split_at(low.len() - 2);
        let (m, s) = (m.parse::<f64>().unwrap_or(0.0), s.parse::<f64>().unwrap_or(99.0));
        if s < 60.0 { Some(m * 60.0 + s) } else { None }
    } else if digits {
        None
    } else {
        read_clock(low, 60.0).map(f64::from)
    };
    let seconds = seconds
        .filter(|s| *s > 0.0 && *s <= MOST_S)
        .ok_or("Write the time as 10:42 or 1042, or cap 2+24 for rounds and reps at the cap.")?;
    if let (Some(cap), Some(cap_text)) = (cap_s, cap_text)
        && seconds > cap
    {
        return Err(format!(
            "{} is past the cap of {cap_text}. Write cap 2+24: rounds and reps at the cap.",
            clock(seconds)
        ));
    }
    Ok(Outcome::Time { seconds })
}

fn plus(text: &str) -> Option<(u32, u32)> {
    let (a, b) = match text.split_once('+') {
        Some((a, b)) => (a.trim(), b.trim()),
        None => (text.trim(), "0"),
    };
    let (a, b) = (a.parse::<u32>().ok()?, b.parse::<u32>().ok()?);
    (a <= 500 && b <= 5000).then_some((a, b))
}

/// The member whom a few typed letters mean.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Whom {
    /// Exactly one: position in the list.
    One(usize),
    /// Several: their positions.
    Several(Vec<usize>),
    /// Nobody.
    Nobody,
}

/// Finds a member by the first letters of first or last name.
pub fn whom(letters: &str, names: &[String]) -> Whom {
    let low = letters.trim().to_lowercase();
    if low.is_empty() {
        return Whom::Nobody;
    }
    let exact: Vec<usize> =
        (0..names.len()).filter(|i| names.get(*i).is_some_and(|n| n.to_lowercase() == low)).collect();
    if let [one] = exact.as_slice() {
        return Whom::One(*one);
    }
    let begins = |n: &String| {
        let n = n.to_lowercase();
        n.starts_with(&low) || n.split_whitespace().any(|w| w.starts_with(&low))
    };
    let found: Vec<usize> = (0..names.len()).filter(|i| names.get(*i).is_some_and(begins)).collect();
    match found.as_slice() {
        [] => Whom::Nobody,
        [one] => Whom::One(*one),
        _ => Whom::Several(found),
    }
}

/// One line of the log, `bea 1042`: the letters of a name and the result, apart.
pub fn split_entry(line: &str) -> Option<(&str, &str)> {
    let at = line.char_indices().find(|(i, c)| {
        *i > 0
            && (c.is_ascii_digit()
                || line.get(*i..).is_some_and(|r| r.starts_with("cap") || r.starts_with("out")))
            && line.get(..*i).is_some_and(|l| l.ends_with(' '))
    })?;
    Some((line.get(..at.0)?.trim(), line.get(at.0..)?.trim()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_board_has_who_finished_first_and_who_did_most() {
        let time = |seconds| Outcome::Time { seconds };
        let cap = |rounds, reps| Outcome::Capped { rounds, reps };
        let rounds = |rounds, reps| Outcome::Rounds { rounds, reps };
        let mut all = [Outcome::Out, cap(2, 3), time(610.0), cap(2, 1500), time(599.0), cap(1, 2000)];
        all.sort_by(Outcome::before);
        let [first, second] = [time(599.0), time(610.0)];
        assert_eq!(all, [first, second, cap(2, 1500), cap(2, 3), cap(1, 2000), Outcome::Out]);
        // a thousand reps more of the same round are no round more
        assert_eq!(rounds(5, 0).before(&rounds(4, 1500)), Ordering::Less);
        assert_eq!(Outcome::Load { kg: 90.0 }.before(&Outcome::Load { kg: 92.5 }), Ordering::Greater);
        assert_eq!(Outcome::Reps { reps: 101.0 }.before(&Outcome::Reps { reps: 100.0 }), Ordering::Less);
    }

    #[test]
    fn times_are_read_as_they_are_shouted() {
        let t = |s: &str| read_result(s, Score::Time, Some(840.0));
        assert_eq!(t("10:42"), Ok(Outcome::Time { seconds: 642.0 }));
        assert_eq!(t("942"), Ok(Outcome::Time { seconds: 582.0 }));
        assert_eq!(t("cap 2+24"), Ok(Outcome::Capped { rounds: 2, reps: 24 }));
        assert_eq!(t("OUT"), Ok(Outcome::Out));
        assert!(t("14:30").unwrap_err().contains("past the cap of 14:00"));
        assert!(t("1075").unwrap_err().contains("10:42 or 1042"));
        assert!(t("").unwrap_err().starts_with("Type a result"));
    }

    #[test]
    fn other_scores_have_their_own_form() {
        assert_eq!(
            read_result("5+12", Score::RoundsAndReps, None),
            Ok(Outcome::Rounds { rounds: 5, reps: 12 })
        );
        assert_eq!(read_result("87,5 kg", Score::Load, None), Ok(Outcome::Load { kg: 87.5 }));
        assert_eq!(read_result("142", Score::Reps, None), Ok(Outcome::Reps { reps: 142.0 }));
        assert!(read_result("-3", Score::Reps, None).is_err());
        assert!(read_result("five", Score::RoundsAndReps, None).unwrap_err().contains("5+12"));
    }

    #[test]
    fn results_compare_in_the_unit_of_the_prediction() {
        use PredictionUnit::{Reps, Rounds, Seconds};
        let four = Outcome::Rounds { rounds: 4, reps: 12 };
        assert_eq!(
            (four.compared(Rounds, None, 30.0), four.compared(Reps, None, 30.0)),
            (Some(4.4), Some(132.0))
        );
        let reps = Outcome::Reps { reps: 132.0 };
        assert_eq!(
            (reps.compared(Rounds, None, 30.0), reps.compared(Reps, None, 30.0)),
            (Some(4.4), Some(132.0))
        );
        let capped = Outcome::Capped { rounds: 2, reps: 3 };
        assert_eq!(capped.compared(Seconds, Some(840.0), 30.0), Some(840.0));
        assert_eq!(capped.compared(Rounds, Some(840.0), 30.0), None, "a time is no number of rounds");
        assert_eq!(four.compared(Seconds, Some(840.0), 30.0), None);
        assert_eq!(Outcome::Load { kg: 80.0 }.compared(Reps, None, 30.0), None);
    }

    #[test]
    fn a_few_letters_find_a_member_or_ask_for_more() {
        let names: Vec<String> = ["Maren T.", "Mateo F.", "Beatriz S."].map(str::to_owned).to_vec();
        assert_eq!(whom("be", &names), Whom::One(2));
        assert_eq!(whom("ma", &names), Whom::Several(vec![0, 1]));
        assert_eq!(whom("zz", &names), Whom::Nobody);
        assert_eq!(split_entry("bea 1042"), Some(("bea", "1042")));
        assert_eq!(split_entry("noo cap 2+24"), Some(("noo", "cap 2+24")));
        assert_eq!(split_entry("1042"), None);
    }

    proptest! {
        #[test]
        fn any_text_is_answered(text in ".{0,40}") {
            for s in Score::ALL {
                let _ = read_result(&text, s, Some(600.0));
            }
            let _ = split_entry(&text);
        }

        #[test]
        fn what_is_written_is_read_again(s in 60u32..840, rounds in 0u32..30, reps in 0u32..90) {
            let t = Outcome::Time { seconds: f64::from(s) };
            prop_assert_eq!(read_result(&t.text(), Score::Time, Some(840.0)), Ok(t));
            let r = Outcome::Rounds { rounds, reps };
            prop_assert_eq!(read_result(&r.text(), Score::RoundsAndReps, None), Ok(r));
        }
    }
}
