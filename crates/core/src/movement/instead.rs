//! What stands in for a movement, by family and cause (`data/substitutions.toml`).

use super::{Catalogue, LoadKind, Movement, catalogue};
use crate::kinds::Limit;
use serde::Deserialize;
use std::collections::HashMap;
use std::sync::LazyLock;

/// Why a movement cannot be done as it is written: a limit of a member, or kit that is not there.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Deserialize)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Cause {
    TooHard,
    NoBarbell,
    NoRig,
    OneDumbbell,
    Home,
    Shoulder,
    Elbow,
    Wrist,
    Grip,
    Lumbar,
    Hip,
    Knee,
    Ankle,
    NoImpact,
    NoHanging,
    NoInversion,
    Pregnancy,
}

impl Cause {
    /// Of a member's limit.
    pub fn of_limit(limit: Limit) -> Cause {
        match limit {
            Limit::Shoulder => Cause::Shoulder,
            Limit::Elbow => Cause::Elbow,
            Limit::Wrist => Cause::Wrist,
            Limit::Grip => Cause::Grip,
            Limit::Lumbar => Cause::Lumbar,
            Limit::Hip => Cause::Hip,
            Limit::Knee => Cause::Knee,
            Limit::Ankle => Cause::Ankle,
            Limit::NoImpact => Cause::NoImpact,
            Limit::NoHanging => Cause::NoHanging,
            Limit::NoInversion => Cause::NoInversion,
            Limit::Pregnancy => Cause::Pregnancy,
        }
    }
}

/// How many of the replacement.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum CountRule {
    /// As written.
    Same,
    /// So many times as many.
    Ratio(f64),
    /// As many as last as long.
    BySeconds,
}

/// What is held.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum LoadRule {
    /// Nothing.
    None,
    /// The bar stays as it is.
    SameBar,
    /// A share of all that the line holds.
    Share(f64),
    /// A share of the member's own maximum of the replacement.
    Own(f64),
    /// The usual weight of a light session.
    Light,
    /// The usual weight of a moderate one.
    Moderate,
    /// The next lighter weight.
    Step,
    /// Whatever there is to hold.
    Held,
}

/// One thing that stands in.
#[derive(Debug, Clone, PartialEq)]
pub struct Instead {
    /// Movement id.
    pub to: String,
    /// How it differs from the plain movement.
    pub variant: Option<String>,
    /// How many.
    pub count: CountRule,
    /// What is held.
    pub load: LoadRule,
    /// Public.
    pub why: String,
    /// For the coach and the member's own card.
    pub note: String,
}

/// What a family does for a cause.
#[derive(Debug, Clone, PartialEq)]
pub enum Row {
    /// Candidates in order.
    Instead(Vec<Instead>),
    /// The line is left out: why.
    LeaveOut(String),
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct To {
    to: String,
    variant: Option<String>,
    count: String,
    load: String,
    why: String,
    note: String,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct For {
    causes: Vec<Cause>,
    #[serde(default)]
    instead: Vec<To>,
    leave_out: Option<String>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Family {
    #[allow(dead_code, reason = "names the family in the data")]
    id: String,
    #[allow(dead_code, reason = "says in the data what is kept")]
    keeps: String,
    movements: Vec<String>,
    #[serde(default)]
    own_ratio: HashMap<String, f64>,
    #[serde(rename = "for", default)]
    rows: Vec<For>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct LastResort {
    workout: Vec<String>,
    why: String,
    note: String,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct File {
    last_resort: LastResort,
    family: Vec<Family>,
}

struct Table {
    families: Vec<Family>,
    of: HashMap<String, usize>,
    last: Vec<Instead>,
}

// data that ships: a test reads it, so it never fails here
#[allow(clippy::expect_used)]
static TABLE: LazyLock<Table> = LazyLock::new(|| {
    let file: File = toml::from_str(include_str!("../../data/substitutions.toml"))
        .expect("substitutions.toml is read by a test");
    let of =
        file.family.iter().enumerate().flat_map(|(i, f)| f.movements.iter().map(move |m| (m.clone(), i)));
    let last = |to: &String| Instead {
        to: to.clone(),
        variant: None,
        count: CountRule::BySeconds,
        load: LoadRule::None,
        why: file.last_resort.why.clone(),
        note: file.last_resort.note.clone(),
    };
    Table {
        of: of.collect(),
        last: file.last_resort.workout.iter().map(last).collect(),
        families: file.family,
    }
});

/// `same`, `by-seconds`, `ratio 2`; `None` for anything else.
fn count_rule(text: &str) -> Option<CountRule> {
    match text.split_once(' ') {
        Some(("ratio", r)) => r.parse().ok().map(CountRule::Ratio),
        None if text == "same" => Some(CountRule::Same),
        None if text == "by-seconds" => Some(CountRule::BySeconds),
        _ => None,
    }
}

/// `none`, `same-bar`, `share 0.5`, ...; `None` for anything else.
fn load_rule(text: &str) -> Option<LoadRule> {
    match text.split_once(' ') {
        Some(("share", x)) => x.parse().ok().map(LoadRule::Share),
        Some(("own", x)) => x.parse().ok().map(LoadRule::Own),
        Some(("class", "light")) => Some(LoadRule::Light),
        Some(("class", "moderate")) => Some(LoadRule::Moderate),
        None if text == "none" => Some(LoadRule::None),
        None if text == "same-bar" => Some(LoadRule::SameBar),
        None if text == "step" => Some(LoadRule::Step),
        None if text == "held" => Some(LoadRule::Held),
        _ => None,
    }
}

/// What stands in for a movement for a cause; `None` where its family has no row for it.
pub fn row_for(movement: &str, cause: Cause) -> Option<Row> {
    let family = TABLE.families.get(*TABLE.of.get(movement)?)?;
    let row = family.rows.iter().find(|r| r.causes.contains(&cause))?;
    if let Some(why) = &row.leave_out {
        return Some(Row::LeaveOut(why.clone()));
    }
    let own = family.own_ratio.get(movement).copied().unwrap_or(1.0);
    let one = |t: &To| {
        let count = match count_rule(&t.count)? {
            CountRule::Ratio(r) => CountRule::Ratio(r / own),
            other => other,
        };
        let (variant, load) = (t.variant.clone(), load_rule(&t.load)?);
        Some(Instead { to: t.to.clone(), variant, count, load, why: t.why.clone(), note: t.note.clone() })
    };
    Some(Row::Instead(row.instead.iter().filter_map(one).collect()))
}

/// What is done where nothing of the family is left.
pub fn last_resort() -> &'static [Instead] {
    &TABLE.last
}

/// Whether a candidate can stand in for a line at all, whoever does it: another movement or variant or weight, a bar only for a
/// bar, and no more skill than the line asks for.
pub fn stands_in(line: &Movement, t: &Instead) -> bool {
    let Some(m) = catalogue().movement(&t.to) else { return false };
    let differs = t.to != line.id || t.variant.is_some() || t.load == LoadRule::Step;
    let bar = t.load != LoadRule::SameBar || line.load == LoadKind::Barbell;
    differs && bar && m.skill <= line.skill
}

impl Catalogue {
    /// The first candidate for a movement that a test allows: its family's row for the cause, then what is easier, then the last
    /// resort. The row that leaves the line out is given back as its reason.
    pub fn instead(
        &self,
        movement: &str,
        causes: &[Cause],
        allowed: impl Fn(&Instead) -> bool,
    ) -> Option<Result<Instead, String>> {
        let line = self.movement(movement)?;
        let fits = |t: &&Instead| stands_in(line, t) && allowed(t);
        for cause in causes.iter().chain(&[Cause::TooHard]) {
            match row_for(movement, *cause) {
                Some(Row::LeaveOut(why)) => return Some(Err(why)),
                Some(Row::Instead(all)) => {
                    if let Some(t) = all.iter().find(fits) {
                        return Some(Ok(t.clone()));
                    }
                }
                None => {}
            }
        }
        last_resort().iter().find(|t| t.to != movement && allowed(t)).cloned().map(Ok)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kinds::Gear;

    /// What is in the hall for each cause of kit: everything but this.
    fn gone(cause: Cause) -> &'static [Gear] {
        match cause {
            Cause::NoBarbell => &[Gear::Barbell, Gear::Plates],
            Cause::NoRig => &[Gear::PullUpBar, Gear::Rings, Gear::ClimbingRope],
            _ => &[],
        }
    }

    #[test]
    fn every_rule_of_the_table_is_one_that_is_known() {
        for f in &TABLE.families {
            for t in f.rows.iter().flat_map(|r| &r.instead) {
                assert!(count_rule(&t.count).is_some() && load_rule(&t.load).is_some(), "{}: {}", f.id, t.to);
                let m = catalogue().movement(&t.to).unwrap_or_else(|| panic!("{}: {}", f.id, t.to));
                let held = !matches!(m.load, LoadKind::None | LoadKind::Machine);
                assert!(held || t.load == "none", "{}: {} holds nothing", f.id, t.to);
            }
        }
    }

    #[test]
    fn every_movement_is_in_one_family() {
        let all: Vec<&String> = TABLE.families.iter().flat_map(|f| &f.movements).collect();
        for m in &catalogue().movements {
            assert_eq!(all.iter().filter(|x| **x == &m.id).count(), 1, "{}", m.id);
        }
        assert_eq!(all.len(), catalogue().movements.len());
    }

    #[test]
    fn every_movement_that_a_limit_rules_out_has_something_instead() {
        for m in &catalogue().movements {
            for limit in &m.avoid_with {
                let cause = Cause::of_limit(*limit);
                let free =
                    |t: &Instead| catalogue().movement(&t.to).is_some_and(|x| !x.avoid_with.contains(limit));
                let found = catalogue().instead(&m.id, &[cause], free);
                assert!(found.is_some(), "{} for {limit:?}", m.id);
            }
        }
    }

    #[test]
    fn the_first_of_a_limits_own_row_is_not_what_it_avoids() {
        for f in &TABLE.families {
            for row in &f.rows {
                let causes = Limit::ALL.iter().map(|l| (l, Cause::of_limit(*l)));
                for (limit, cause) in causes.filter(|(_, c)| row.causes.contains(c)) {
                    for t in &row.instead {
                        let m = catalogue().movement(&t.to).expect("a movement");
                        assert!(
                            !m.avoid_with.contains(limit),
                            "{} {cause:?}: {} has what it avoids",
                            f.id,
                            t.to
                        );
                    }
                }
            }
        }
    }

    #[test]
    fn without_bars_or_a_rig_nothing_needs_them() {
        for cause in [Cause::NoBarbell, Cause::NoRig] {
            let needs = |m: &Movement| gone(cause).iter().any(|g| m.needs(*g));
            for m in catalogue().movements.iter().filter(|m| needs(m)) {
                let there = |t: &Instead| catalogue().movement(&t.to).is_some_and(|x| !needs(x));
                let found = catalogue().instead(&m.id, &[cause], there);
                assert!(found.is_some(), "{} {cause:?}", m.id);
            }
        }
    }

    #[test]
    fn what_is_public_names_no_part_of_the_body() {
        for f in &TABLE.families {
            for t in f.rows.iter().flat_map(|r| &r.instead) {
                for word in [
                    "shoulder", "elbow", "wrist", "lumbar", "spine", "knee", "ankle", "pregnan", "injur",
                    "pain",
                ] {
                    assert!(!t.why.to_lowercase().contains(word), "{}: {}", t.to, t.why);
                }
            }
        }
    }
}
