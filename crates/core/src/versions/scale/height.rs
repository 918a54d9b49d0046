//! Boxes that suit the member's legs: a step with the hip crease below the knee is a different exercise, and a jump keeps
//! what is explosive about it on a box that can be reached.

use super::personal::Personal;
use crate::kinds::{Gear, Pattern};
use crate::kit::Kit;
use crate::movement::catalogue;
use crate::reason::OfLine;
use crate::roster::Member;
use crate::versions::work::Work;

/// Knee height as a share of stature (usual body proportions, about 28 %).
const KNEE: f64 = 0.28;
/// A step may be so much above the knee, cm (own).
const ABOVE_KNEE_CM: f64 = 4.0;
/// Highest box for jumps as a share of stature (own).
const JUMP: f64 = 0.36;

/// Lowers boxes that are too high for a member whose stature is known, to the highest one that the hall has and that suits.
pub fn fit_height(work: &mut Work, member: &Member, kit: &Kit) -> Vec<Personal> {
    let Some(stature) = member.stature_cm else { return Vec::new() };
    let mut out = Vec::new();
    for (i, line) in work.lines.iter_mut().enumerate() {
        let Some(m) = catalogue().movement(&line.movement) else { continue };
        let jump = m.pattern == Pattern::Jump;
        let stepped = line.movement.contains("step-up") || line.movement.contains("step-over");
        if !m.needs(Gear::Box) || !(jump || stepped) {
            continue;
        }
        let Some(written) = line.height_cm.or(m.rx_height_cm).map(|h| member.standard.of(h)) else {
            continue;
        };
        let most = if jump { JUMP * stature } else { KNEE * stature + ABOVE_KNEE_CM };
        if written <= most {
            continue;
        }
        let lower = kit
            .boxes
            .iter()
            .filter(|b| b.count > 0 && b.size <= most && b.size < written)
            .map(|b| b.size)
            .max_by(f64::total_cmp);
        let Some(new) = lower else { continue };
        line.height_cm = Some([new; 2]);
        let (to_cm, from_cm, stature_cm) = (new, written, stature);
        let reason = if jump {
            OfLine::JumpBox { to_cm, from_cm, most_cm: most, stature_cm }
        } else {
            OfLine::StepBox { to_cm, from_cm, knee_cm: KNEE * stature, stature_cm }
        };
        out.push(Personal::weight(i, line.text_for(member.standard), reason));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::Level;
    use crate::sheet::read;
    use crate::units::{Standard, WeightUnit};

    fn fitted(text: &str, stature: Option<f64>) -> (Option<[f64; 2]>, Vec<Personal>) {
        let mut w = Work::from_block(&read(text).sheet.blocks[0]).unwrap();
        let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
        m.stature_cm = stature;
        let personal = fit_height(&mut w, &m, &Kit::usual());
        (w.lines[0].height_cm, personal)
    }

    #[test]
    fn a_step_is_not_far_above_the_knee() {
        let step = "# workout\n3 rounds for time\n12 box step-ups 50/50 cm";
        let (height, personal) = fitted(step, Some(160.0));
        assert_eq!(height, Some([30.0; 2]), "45 + 4 cm is under 50");
        assert!(
            personal[0]
                .says(WeightUnit::Kg)
                .starts_with("a box of 30 cm instead of 50: the knee is about 45 cm high at 160 cm")
        );
        assert!(fitted(step, Some(180.0)).1.is_empty());
        assert!(fitted(step, None).1.is_empty(), "nothing is assumed of a stature");
    }

    #[test]
    fn a_jump_is_lowered_less() {
        let jump = "# workout\n3 rounds for time\n12 box jumps 60/50 cm";
        assert_eq!(fitted(jump, Some(160.0)).0, Some([50.0; 2]));
        assert!(fitted(jump, Some(170.0)).1.is_empty());
    }
}
