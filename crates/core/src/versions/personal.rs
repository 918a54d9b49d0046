//! Personal lines: what one member does instead of a version's line, because of a limit, a volume guard or because no
//! version holds the stimulus. Each change keeps the values that it was made from.

use super::levers::{Levers, Setting, Way, at_hand, in_school, kit_has, way_of_rung};
use super::place::Day;
use super::search::first_set;
use super::work::{Line, Weight, Work};
use crate::kit::Kit;
use crate::loads::{Bars, by_mass};
use crate::movement::{
    Catalogue, catalogue,
    say::{spares, spoken},
};
use crate::pacing::{Athlete, Level, most_reps, table};
use crate::ratios::newcomer_ceiling;
use crate::roster::Member;
use crate::settings::Settings;
use crate::stimulus::Stimulus;
use crate::units::{pair, plain};
use serde::{Deserialize, Serialize};

/// Rounding may pass a newcomer's ceiling by this.
const CEILING_ROUNDS: f64 = 1.04;

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
    /// Only a weight or a height is theirs: it stands on their card and is not said aloud.
    #[serde(default)]
    pub weight: bool,
}

impl Personal {
    /// A line of their own that is said: another movement or another count.
    pub(crate) fn own(line: usize, text: String, reason: String) -> Personal {
        Personal { line, text, reason, private: false, weight: false }
    }

    /// Only the weight or the height is theirs.
    pub(crate) fn weight(line: usize, text: String, reason: String) -> Personal {
        Personal { weight: true, ..Personal::own(line, text, reason) }
    }

    /// What a limit asks for: the coach's and their own to see.
    fn limit(line: usize, text: String, reason: String) -> Personal {
        Personal { private: true, ..Personal::own(line, text, reason) }
    }
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
                let (from, to) = told_apart(&line.movement, &new.movement);
                let reason = format!("{to} instead of {from}: {}.", spares(&limit));
                out.push(Personal::limit(i, new.text_for(member.standard), reason));
                *line = new;
            }
            None => {
                let reason = format!(
                    "{before} is left out: nothing on its ladder fits ({}). Settle it together.",
                    spares(&limit)
                );
                out.push(Personal::limit(i, format!("no {before}"), reason));
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

/// Two movements as they are said; with all that their names hold where the short ones are the same.
fn told_apart(a: &str, b: &str) -> (String, String) {
    let (x, y) = (spoken(a), spoken(b));
    if x == y { (catalogue().name(a).to_lowercase(), catalogue().name(b).to_lowercase()) } else { (x, y) }
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
    let new = on_rung(line, way);
    (new.movement != line.movement || new.variant.is_some()).then_some(new)
}

/// A line done another way.
pub fn on_rung(line: &Line, way: Way) -> Line {
    let levers = Levers {
        written: Work::single(super::work::Clock::Once, vec![line.clone()]),
        ways: vec![vec![way]],
        group: vec![0],
        rounds: vec![1],
    };
    let setting = Setting { way: vec![0], load: vec![0], reps: vec![0], rounds: 0, dropped: vec![false] };
    levers.line(0, line, &setting)
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
            "{} instead of {}: the first set wants {} reps, at {} the largest set is {}, at {} {}.",
            kit.said(new),
            kit.mark(written),
            plain(need),
            kit.said(written),
            plain(before.max(0.0).floor()),
            kit.said(new),
            plain(most_at(new).floor())
        );
        out.push(Personal::weight(i, line.text_for(member.standard), reason));
    }
    out
}

/// Somebody of whom nothing is tested lifts under a newcomer's ceiling, whatever the version says.
pub fn under_ceilings(work: &mut Work, member: &Member, kit: &Kit, bars: &Bars) -> Vec<Personal> {
    if !(member.is_newcomer() && member.level == Level::New) {
        return Vec::new();
    }
    let factor = by_mass(member);
    let mut out = Vec::new();
    for (i, line) in work.lines.iter_mut().enumerate() {
        let Some(kg) = line.kg() else { continue };
        let written = member.standard.of(kg);
        let Some(most) = newcomer_ceiling(&line.movement, member.standard, factor).filter(|m| *m < written)
        else {
            continue;
        };
        // the nearest that the hall has, or the next under it
        let found = [1.0, 0.9, 0.8, 0.7, 0.6]
            .into_iter()
            .filter_map(|f| at_hand(&line.movement, member.standard, most * f, kit, bars))
            .find(|v| *v <= most * CEILING_ROUNDS);
        let Some(new) = found.filter(|v| *v < written) else { continue };
        line.weight = Some(Weight::Kg([new; 2]));
        let reason = format!("Start at {}, lighter if it is not easy: nothing is tested yet.", kit.said(new));
        out.push(Personal::weight(i, line.text_for(member.standard), reason));
    }
    out
}

/// Movements done with a swing, and the strict one that should come first: (with a swing, strict).
const SWUNG: [(&str, &str); 4] = [
    ("pull-up", "strict-pull-up"),
    ("chest-to-bar", "strict-pull-up"),
    ("bar-muscle-up", "strict-pull-up"),
    ("handstand-push-up", "strict-handstand-push-up"),
];
/// Strict reps that come before a swing (the school's own figure).
const STRICT_FIRST: f64 = 3.0;
/// Strict reps of somebody whose swung set alone is known, as a share of it (own).
const STRICT_OF_SWUNG: f64 = 0.4;

/// Strict reps of an athlete where a movement may not be swung yet, by the school; `None` where it may.
pub fn too_early_to_swing(athlete: &Athlete, movement: &str, settings: &Settings) -> Option<f64> {
    if settings.school("kipping") != "strict-first" {
        return None;
    }
    let (_, strict) = SWUNG.iter().find(|(m, _)| *m == movement)?;
    let most = |id: &str| table::row(id).map_or(0.0, |row| most_reps(athlete, row, 0.0, 1.0).0);
    let reps = most(strict).max(STRICT_OF_SWUNG * most(movement));
    (reps.floor() < STRICT_FIRST).then_some(reps.max(0.0).floor())
}

/// Strict work before a swing, where the hall's school wants it: the next rung that is not swung.
pub fn strict_first(work: &mut Work, member: &Member, athlete: &Athlete, day: &Day) -> Vec<Personal> {
    let mut out = Vec::new();
    for (i, line) in work.lines.iter_mut().enumerate() {
        let Some(reps) = too_early_to_swing(athlete, &line.movement, day.schools) else { continue };
        let Some(ladder) = catalogue().ladder_for(&line.movement) else { continue };
        let Some(at) = ladder.rungs.iter().position(|r| r.movement == line.movement) else { continue };
        let own = ladder.rungs.get(at).map_or(1.0, |r| r.ratio);
        let rung = ladder.rungs.iter().skip(at + 1).find(|r| {
            r.branch == "main"
                && r.with.is_empty()
                && kit_has(day.kit, &r.movement)
                && in_school(r, day.schools)
                && !SWUNG.iter().any(|(m, _)| *m == r.movement)
        });
        let Some(rung) = rung else { continue };
        let way = way_of_rung(rung, own, ladder.unit, line, day.kit, day.bars);
        let before = spoken(&line.movement);
        *line = on_rung(line, way);
        let reason = format!(
            "{} instead of {before}: {} strict reps, and this hall swings from {} on.",
            spoken(&line.movement),
            plain(reps),
            plain(STRICT_FIRST)
        );
        out.push(Personal::own(i, line.text_for(member.standard), reason));
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
        let from = pair(a.map(|v| to.speaks.figure(v)));
        parts.push(format!("{what}{from} to {}", to.speaks.pair_words(b)));
    }
    (!parts.is_empty()).then(|| parts.join(", "))
}
