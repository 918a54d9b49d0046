//! Personal lines: what one member does instead of a version's line, because of a limit, a volume guard or because no
//! version holds the stimulus. Each change keeps the values that it was made from.

use super::friendly::friendly;
use super::levers::{Levers, Setting, at_hand, kit_has, way_of_rung};
use super::search::first_set;
use super::work::{Line, Weight, Work};
use crate::kit::Kit;
use crate::loads::Bars;
use crate::movement::{Catalogue, catalogue, say::spoken};
use crate::pacing::{Athlete, most_reps, table};
use crate::roster::Member;
use crate::stimulus::Stimulus;
use crate::units::{Unit, pair, plain};
use serde::{Deserialize, Serialize};

/// One personal line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Personal {
    /// Line of the version, from 0.
    pub line: usize,
    /// What is done instead.
    pub text: String,
    /// Why, with its numbers.
    pub reason: String,
    /// It follows from a limit: shown to the coach and on the member's own card only.
    pub private: bool,
}

/// Replaces every line that a member's limits rule out; what has no replacement is left out and said.
pub fn spare_limits(work: &mut Work, member: &Member, kit: &Kit, bars: &Bars) -> Vec<Personal> {
    let mut out = Vec::new();
    let mut gone = Vec::new();
    for (i, line) in work.lines.iter_mut().enumerate() {
        let Some(limit) =
            catalogue().movement(&line.movement).and_then(|m| member.limit_against(&m.avoid_with))
        else {
            continue;
        };
        let limit = limit.to_owned();
        let before = spoken(&line.movement);
        match instead(line, &limit, member, kit, bars) {
            Some(new) => {
                let reason = format!(
                    "{} instead of {before}: it spares the {}.",
                    spoken(&new.movement),
                    say_limit(&limit)
                );
                out.push(Personal { line: i, text: new.text_for(member.standard), reason, private: true });
                *line = new;
            }
            None => {
                let reason = format!(
                    "{before} is left out: no movement on its ladder spares the {}. Settle it together.",
                    say_limit(&limit)
                );
                out.push(Personal { line: i, text: format!("no {before}"), reason, private: true });
                gone.push(i);
            }
        }
    }
    for i in gone.into_iter().rev() {
        if work.lines.len() > 1 {
            work.remove(i);
        }
    }
    out
}

/// A limit as it is said: `shoulder`, `no hanging`.
pub fn say_limit(limit: &str) -> String {
    limit.replace('-', " ")
}

fn instead(line: &Line, limit: &str, member: &Member, kit: &Kit, bars: &Bars) -> Option<Line> {
    let ladder = catalogue().ladder_for(&line.movement)?;
    let own = ladder.rungs.iter().find(|r| r.movement == line.movement).map_or(1.0, |r| r.ratio);
    let branches = Catalogue::branches_for(limit);
    let allowed = |id: &str| {
        kit_has(kit, id)
            && catalogue().movement(id).is_some_and(|m| member.limit_against(&m.avoid_with).is_none())
    };
    let fits = |branch: &str| {
        ladder.rungs.iter().find(|r| {
            r.branch == branch && allowed(&r.movement) && r.with.iter().all(|w| allowed(&w.movement))
        })
    };
    let rung = branches.iter().find_map(|b| fits(b)).or_else(|| {
        ladder.rungs.iter().find(|r| r.movement != line.movement && allowed(&r.movement) && r.with.is_empty())
    })?;
    let way = way_of_rung(rung, own, ladder.unit, line, kit, bars);
    let levers = Levers {
        written: Work::single(super::work::Clock::Once, vec![line.clone()]),
        ways: vec![vec![way]],
        group: vec![0],
        rounds: vec![1],
    };
    let setting = Setting { way: vec![0], load: vec![0], reps: vec![0], rounds: 0, dropped: vec![false] };
    let mut new = levers.line(0, line, &setting);
    if new.movement == line.movement && new.variant.is_none() {
        return None;
    }
    new.optional = line.optional;
    Some(new)
}

/// Lowers a load that the member could not move for the first whole set when fresh, or a count far beyond their
/// largest set: hard limits, whatever the clock says.
pub fn first_sets(
    work: &mut Work,
    member: &Member,
    athlete: &Athlete,
    stimulus: &Stimulus,
    kit: &Kit,
    bars: &Bars,
) -> Vec<Personal> {
    let mut out = Vec::new();
    let needs: Vec<f64> = (0..work.lines.len()).map(|i| first_set(work, i, stimulus)).collect();
    for (i, (line, need)) in work.lines.iter_mut().zip(needs).enumerate() {
        let Some(kg) = line.kg() else { continue };
        let written = member.standard.of(kg);
        let (row, held) = (table::row(&line.movement), line.held());
        let most_at = |v: f64| row.map_or(f64::INFINITY, |r| most_reps(athlete, r, v * held, 1.0).0);
        let before = most_at(written);
        if before >= need {
            continue;
        }
        let lower = [0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3]
            .into_iter()
            .filter_map(|f| at_hand(&line.movement, member.standard, written * f, kit, bars))
            .find(|v| *v < written && most_at(*v) >= need);
        let Some(new) = lower else { continue };
        line.weight = Some(Weight::Kg([new; 2]));
        let reason = format!(
            "{} kg instead of {}: the first set wants {} reps, at {} kg the largest set is {}, at {} kg {}.",
            plain(new),
            plain(written),
            plain(need),
            plain(written),
            plain(before.max(0.0).floor()),
            plain(new),
            plain(most_at(new).floor())
        );
        out.push(Personal { line: i, text: line.text_for(member.standard), reason, private: false });
    }
    out
}

/// Most reps of a pattern for somebody with nothing logged (own figures): (name, movements, reps).
const GUARDS: [(&str, &[&str], f64); 6] = [
    ("vertical pulls", &["pull-vertical"], 60.0),
    ("push-ups and dips", &["push-horizontal"], 100.0),
    ("squats and lunges", &["squat", "lunge"], 150.0),
    ("box jumps", &["jump"], 60.0),
    ("hinges", &["hinge"], 100.0),
    ("rope turns", &["rope"], 400.0),
];

fn guard_of(id: &str) -> Option<(usize, f64)> {
    let m = catalogue().movement(id)?;
    let rope = m.equipment.iter().any(|e| e == "jump-rope");
    GUARDS
        .iter()
        .position(|(name, patterns, _)| match *name {
            "rope turns" => rope,
            "box jumps" => m.equipment.iter().any(|e| e == "box") && m.pattern == "jump",
            _ => !rope && patterns.contains(&m.pattern.as_str()),
        })
        .and_then(|i| GUARDS.get(i).map(|g| (i, g.2)))
}

/// Caps the reps of a member with nothing logged: they could do them today and would be very sore tomorrow.
pub fn guard_volume(work: &mut Work, member: &Member) -> Vec<Personal> {
    if member.sessions_logged != Some(0) {
        return Vec::new();
    }
    let mut out = Vec::new();
    for (g, (name, _, most)) in GUARDS.iter().enumerate() {
        let of = |l: &Line| l.unit == Unit::Reps && guard_of(&l.movement).is_some_and(|(i, _)| i == g);
        let total: f64 = (0..work.lines.len())
            .filter(|i| work.lines.get(*i).is_some_and(of))
            .filter_map(|i| work.total(i, member.standard))
            .sum();
        if total <= *most {
            continue;
        }
        let f = most / total;
        for (i, line) in work.lines.iter_mut().enumerate().filter(|(_, l)| of(l)) {
            let cut = |v: f64| {
                let n = friendly(v * f, Unit::Reps);
                if n > v * f + 0.5 { (v * f).floor().max(1.0) } else { n }
            };
            line.counts = line.counts.iter().map(|c| c.map(cut)).collect();
            let reason = format!(
                "{} {name} in all with nothing logged yet: at most {} on a first day, or tomorrow hurts.",
                plain(total),
                plain(*most)
            );
            out.push(Personal { line: i, text: line.text_for(member.standard), reason, private: false });
        }
    }
    out
}

/// The change from one line to another in words: `12 -> 8 toes-to-bar`, written `12 to 8 toes-to-bar`.
pub fn change_text(from: &Line, to: &Line) -> Option<String> {
    if from == to {
        return None;
    }
    let counts = |l: &Line| l.counts.iter().map(|c| pair(*c)).collect::<Vec<_>>().join("-");
    if from.movement != to.movement || from.variant != to.variant {
        return Some(format!("{} instead of {}", to.text(), from.text()));
    }
    let name = spoken(&to.movement);
    let mut parts = Vec::new();
    if from.counts != to.counts {
        parts.push(format!(
            "{} to {} {}",
            counts(from),
            counts(to),
            crate::movement::say::spoken_for(&to.movement, 2.0)
        ));
    }
    if let (Some(a), Some(b)) = (from.kg(), to.kg())
        && a != b
    {
        let what = if parts.is_empty() { format!("{name} ") } else { String::new() };
        parts.push(format!("{what}{} to {} kg", pair(a), pair(b)));
    }
    (!parts.is_empty()).then(|| parts.join(", "))
}
