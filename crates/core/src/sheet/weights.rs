//! The weights of the reader, embedded as data; `data/reading.toml` says what each is for.

use serde::Deserialize;
use std::sync::LazyLock;

#[derive(Debug, Clone, Copy, Default, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Weights {
    pub work_counted: f64,
    pub work_named: f64,
    pub clock: f64,
    pub aim: f64,
    pub sets: f64,
    pub build: f64,
    pub head_sure: f64,
    pub head: f64,
    pub rest: f64,
    pub around: f64,
    pub talk: f64,
    pub number: f64,
    pub unknown: f64,
    pub message_talk: f64,
    pub plain_work_as_talk: f64,
    pub open: f64,
    pub open_first: f64,
    pub leave_empty: f64,
    pub level_opens: f64,
    pub team_opens: f64,
    pub team_in_warm_up: f64,
    pub led: f64,
    pub named_in_clocked: f64,
    pub open_exact: f64,
    pub head_opens: f64,
    pub head_opens_weak: f64,
    pub head_other: f64,
    pub head_passed: f64,
    pub head_passed_weak: f64,
    pub letter: f64,
    pub letter_passed: f64,
    pub gap: f64,
    pub bold: f64,
    pub lift_opens: f64,
    pub lift_named_opens: f64,
    pub sets_open: f64,
    pub clock_opens: f64,
    pub rounds_open: f64,
    pub cap_opens: f64,
    pub work_opens: f64,
    pub warm_up_unsaid: f64,
    pub skill_unsaid: f64,
    pub accessory_unsaid: f64,
    pub cool_down_unsaid: f64,
    pub accessory_sets: f64,
    pub in_order: f64,
    pub after_workout: f64,
    pub backwards: f64,
    pub lift_in_warm_up: f64,
    pub lift_in_workout: f64,
    pub lift_in_strength: f64,
    pub lift_in_skill: f64,
    pub second_lift: f64,
    pub named_in_warm_up: f64,
    pub named_in_strength: f64,
    pub named_in_workout: f64,
    pub sets_in_warm_up: f64,
    pub sets_in_workout: f64,
    pub sets_in_strength: f64,
    pub sets_in_accessory: f64,
    pub clock_in_warm_up: f64,
    pub windows_in_warm_up: f64,
    pub clock_in_strength: f64,
    pub clock_in_skill: f64,
    pub clock_in_accessory: f64,
    pub clock_in_workout: f64,
    pub clock_after_work: f64,
    pub second_clock: f64,
    pub second_clock_rested: f64,
    pub second_cap: f64,
    pub cap_in_warm_up: f64,
    pub cap_in_strength: f64,
    pub cap_in_workout: f64,
    pub work_in_strength: f64,
}

static EMBEDDED: LazyLock<Result<Weights, String>> = LazyLock::new(parse);

fn parse() -> Result<Weights, String> {
    toml::from_str(include_str!("../../data/reading.toml")).map_err(|e| format!("reading.toml: {e}"))
}

/// The embedded weights; a test parses them.
pub(super) fn weights() -> Weights {
    EMBEDDED.as_ref().copied().unwrap_or_default()
}

#[cfg(test)]
mod tests {
    #[test]
    fn the_embedded_weights_parse() {
        let w = super::parse().unwrap();
        assert!(w.talk < 0.0 && w.clock > 0.0 && w.head_opens > w.lift_opens);
    }
}
