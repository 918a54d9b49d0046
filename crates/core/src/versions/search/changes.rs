//! What a version changes, line by line, with the figures of the group that it is made for.

use super::Group;
use crate::pacing::{Athlete, most_reps, table};
use crate::stimulus::Stimulus;
use crate::units::{Standard, plain};
use crate::versions::predict::quick_score;
use crate::versions::scale::change_text;
use crate::versions::work::{Line, Work};

pub(super) fn changes(full: &Work, work: &Work, group: &Group, stimulus: &Stimulus) -> Vec<String> {
    // what the version would give with one change taken back
    let with = |back: &dyn Fn(&mut Work)| {
        let mut other = work.clone();
        back(&mut other);
        format!(
            "without this change {}, with it {}",
            results(&other, group, stimulus),
            results(work, group, stimulus)
        )
    };
    let mut out: Vec<String> = full
        .lines
        .iter()
        .zip(&work.lines)
        .enumerate()
        .filter_map(|(i, (a, b))| {
            let change = change_text(a, b)?;
            let back = |w: &mut Work| {
                if let Some(l) = w.lines.get_mut(i) {
                    l.clone_from(a);
                }
            };
            Some(format!("{change}: {}.", why(a, b, group).unwrap_or_else(|| with(&back))))
        })
        .collect();
    if full.clock() != work.clock() {
        let back = |w: &mut Work| w.sections.clone_from(&full.sections);
        out.push(format!("{} instead of {}: {}.", work.clock_text(), full.clock_text(), with(&back)));
    }
    out
}

/// Likely results of a group's middle, one for each standard that is there: `13:40 and 14:10`.
fn results(work: &Work, group: &Group, stimulus: &Stimulus) -> String {
    let one = |(s, a): &(Standard, Athlete)| {
        let score = quick_score(work, *s, a, stimulus).score;
        if score.is_finite() { stimulus.write(score) } else { "no finish".to_owned() }
    };
    group.athletes.iter().map(one).collect::<Vec<_>>().join(" and ")
}

/// What the group can do of a line before and after, one figure for each standard that is there; `None` where nothing that it can
/// do in a set is behind the change.
fn why(from: &Line, to: &Line, group: &Group) -> Option<String> {
    let most = |l: &Line| {
        let one = |(s, a): &(Standard, Athlete)| {
            let load = l.kg().map_or(0.0, |kg| s.of(kg)) * l.held();
            let row = table::row(&l.movement)?;
            Some(most_reps(a, row, load, 1.0))
        };
        group.athletes.iter().filter_map(one).collect::<Vec<_>>()
    };
    let list = |v: Vec<String>| v.join(" and ");
    let sets = |l: &Line| list(most(l).iter().map(|(m, _)| plain(m.max(0.0).floor())).collect());
    let shares = |l: &Line| list(most(l).iter().map(|(_, s)| format!("{} %", (s * 100.0).round())).collect());
    if from.movement == to.movement && from.kg() != to.kg() {
        return Some(format!(
            "this group lifts it at {} of one maximum, as written at {}",
            shares(to),
            shares(from)
        ));
    }
    let limited = !most(from).is_empty() && most(from).iter().all(|(m, _)| m.is_finite());
    limited.then(|| format!("this group's largest set as written is {}", sets(from)))
}
