//! The shape of the general warm-up, by the hall's school: timed stations, rounds of reps, on and off, or a list for everybody
//! to do in their own order. The drills and their time stay the same; what is called out differs.

use super::{Step, WarmUp, WarmUpPart};
use crate::schools::GeneralWarmUp;
use crate::units::clock;

/// Rounds of the list when it is done in reps (own).
const ROUNDS: u32 = 2;
/// Seconds of one rep of a drill (own).
const REP_S: f64 = 2.5;
/// On and off, s (own).
const ON_OFF: [u32; 2] = [30, 15];

/// Writes a warm-up of our own in a shape; one that stands on the sheet is left as it is.
pub fn in_shape(mut warm: WarmUp, school: GeneralWarmUp) -> WarmUp {
    let general =
        |s: &Step| matches!(s.part, WarmUpPart::Raise | WarmUpPart::Mobilise | WarmUpPart::Activate);
    let seconds: u32 = warm.steps.iter().filter(|s| general(s)).map(|s| s.seconds).sum();
    if seconds == 0 {
        return warm;
    }
    warm.how = match school {
        GeneralWarmUp::RepRounds => {
            format!("{ROUNDS} rounds of the list up to the rehearsal, {} in all.", clock(f64::from(seconds)))
        }
        GeneralWarmUp::OnOff => format!(
            "Up to the rehearsal {} on, {} off on the call.",
            clock(f64::from(ON_OFF[0])),
            clock(f64::from(ON_OFF[1]))
        ),
        GeneralWarmUp::SelfDirected => {
            format!(
                "Up to the rehearsal in any order and at one's own pace, done after {}.",
                clock(f64::from(seconds))
            )
        }
        GeneralWarmUp::TimedStations => "Every drill for its time, changing on the call.".to_owned(),
    };
    for s in warm.steps.iter_mut().filter(|s| general(s)) {
        // the drill's own dose gives way to the shape's
        s.dose = match school {
            GeneralWarmUp::RepRounds => {
                let reps = (f64::from(s.seconds) / f64::from(ROUNDS) / REP_S).round().max(2.0);
                format!("{ROUNDS} × {reps} reps")
            }
            GeneralWarmUp::OnOff => {
                let n = ((f64::from(s.seconds) + f64::from(ON_OFF[1])) / f64::from(ON_OFF[0] + ON_OFF[1]))
                    .round()
                    .max(1.0);
                format!("{n} × {}", clock(f64::from(ON_OFF[0])))
            }
            _ => continue,
        };
    }
    warm
}
