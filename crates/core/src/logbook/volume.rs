//! What a result says about how much was done of each guarded pattern.

use super::Outcome;
use crate::roster::Volume;
use crate::units::Standard;
use crate::versions::{Work, board_reps, volume};

/// Reps of each guarded pattern behind a result: all of a finished work, the rounds that were done of an open or a capped one,
/// none of one that was not finished.
pub fn volume_done(work: &Work, standard: Standard, outcome: &Outcome) -> Volume {
    let board = board_reps(work, standard).max(1.0);
    let decimal = |rounds: u32, reps: u32| f64::from(rounds) + f64::from(reps) / board;
    match outcome {
        Outcome::Time { .. } | Outcome::Load { .. } => volume(work, standard, None),
        Outcome::Rounds { rounds, reps } => volume(work, standard, Some(decimal(*rounds, *reps))),
        Outcome::Reps { reps } => volume(work, standard, Some(reps / board)),
        Outcome::Capped { rounds, reps } => {
            let share = (decimal(*rounds, *reps) / work.rounds().max(1) as f64).clamp(0.0, 1.0);
            let whole = volume(work, standard, None);
            whole.into_iter().map(|(guard, n)| (guard, (n * share).round())).collect()
        }
        Outcome::Out => Volume::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;

    fn pulls(text: &str, outcome: Outcome) -> Option<f64> {
        let work = Work::from_block(&read(text).sheet.blocks[0]).unwrap();
        volume_done(&work, Standard::Heavier, &outcome).get("vertical-pull").copied()
    }

    #[test]
    fn a_result_says_how_many_were_done() {
        let timed = "# workout cap 10:00\n4 rounds for time\n10 pull-ups\n10 air squats";
        assert_eq!(pulls(timed, Outcome::Time { seconds: 400.0 }), Some(40.0));
        assert_eq!(pulls(timed, Outcome::Capped { rounds: 2, reps: 0 }), Some(20.0));
        assert_eq!(pulls(timed, Outcome::Out), None);
        let open = "# workout\namrap 10:00\n10 pull-ups\n10 air squats";
        assert_eq!(pulls(open, Outcome::Rounds { rounds: 6, reps: 0 }), Some(60.0));
    }
}
