//! Strength, warm-up, hour and cautions.

use super::checks::{Check, Planned, Who, within};
use lantern_core::movement::catalogue;
use lantern_core::plan::{AnswerSet, BlockLoads};
use lantern_core::roster::Member;

/// A last step before the work may be this share of it, or 10 kg under 70.
fn jump_allowed(work: f64) -> f64 {
    (0.15 * work).max(if work < 70.0 { 10.0 } else { 0.0 })
}

fn work(l: &BlockLoads) -> Vec<&AnswerSet> {
    l.sets.iter().filter(|s| !s.warm_up).collect()
}

impl Planned {
    fn lifts(&self, who: &Who, find: impl Fn(&Member, &BlockLoads) -> bool) -> Vec<String> {
        let mut out = Vec::new();
        for (m, a) in self.who(who) {
            for l in a.loads.iter().filter(|l| !work(l).is_empty() && find(m, l)) {
                let kg: Vec<f64> = l.sets.iter().map(|s| s.load_kg).collect();
                out.push(format!("{}: {} {kg:?}", m.name, l.lift));
            }
        }
        out
    }

    pub fn of_strength(&self, check: &Check) -> Option<Vec<String>> {
        Some(match check {
            Check::BaseKg { who, lift, min, max } => {
                self.lifts(who, |_, l| lift.contains(&l.lift) && !within(l.base_kg, *min, *max))
            }
            Check::Lift { who, not } => self.lifts(who, |_, l| not.contains(&l.lift)),
            Check::LimitsHoldStrength => self.lifts(&None, |m, l| {
                catalogue().movement(&l.lift).is_some_and(|x| m.limit_against(&x.avoid_with).is_some())
            }),
            Check::Top { who, percent } => {
                self.lifts(who, |_, l| work(l).iter().any(|s| s.percent.is_some_and(|p| p > *percent)))
            }
            Check::Rising => {
                self.lifts(&None, |_, l| work(l).windows(2).any(|w| w[1].load_kg < w[0].load_kg - 0.01))
            }
            Check::LastJump => self.lifts(&None, |_, l| {
                let first = work(l)[0].load_kg;
                let last = l.sets.iter().rfind(|s| s.warm_up).map(|s| s.load_kg);
                last.is_some_and(|kg| first - kg > jump_allowed(first) + 0.01)
            }),
            Check::WarmHas { words } => {
                let names: Vec<String> = self.plan.warm_up.iter().map(|w| w.name.to_lowercase()).collect();
                let there = names.iter().any(|n| words.iter().any(|w| n.contains(w.as_str())));
                if there { Vec::new() } else { names }
            }
            Check::Hour { max } => {
                let over = self.plan.hour.overrun_s;
                if over <= *max { Vec::new() } else { vec![format!("{over} s over")] }
            }
            Check::CautionHas { tag } => {
                let tags: Vec<String> = self.plan.cautions.iter().map(|c| c.tag.clone()).collect();
                if tags.contains(tag) { Vec::new() } else { tags }
            }
            Check::CautionNot { tag, r#where } => {
                let wrong =
                    self.plan.cautions.iter().filter(|c| c.tag == *tag && c.place.contains(r#where.as_str()));
                wrong.map(|c| c.place.clone()).collect()
            }
            Check::CautionOnce => {
                let mut all: Vec<&String> = self.plan.cautions.iter().map(|c| &c.says).collect();
                let n = all.len();
                all.sort();
                all.dedup();
                if all.len() == n { Vec::new() } else { vec!["a sentence stands twice".to_owned()] }
            }
            Check::CautionCount { max } => {
                let tags: Vec<String> = self.plan.cautions.iter().map(|c| c.tag.clone()).collect();
                if tags.len() <= *max { Vec::new() } else { tags }
            }
            _ => return None,
        })
    }
}
