//! Everybody's own weights: the heaviest under the guide with which the sets hold, and what a newcomer never passes.

use super::guide::{at_hand, bar_groups};
use super::personal::Personal;
use super::table::table;
use crate::kit::Kit;
use crate::loads::{Bars, by_mass};
use crate::pacing::{Athlete, Level, most_reps, table as pacing};
use crate::ratios::newcomer_ceiling;
use crate::reason::OfLine;
use crate::roster::Member;
use crate::stimulus::Stimulus;
use crate::units::Standard;
use crate::versions::predict::{first_set, most_of, quick_score, too_much_in_all};
use crate::versions::work::{Line, Weight, Work};

/// Rounding may pass a newcomer's ceiling by this.
const CEILING_ROUNDS: f64 = 1.04;
/// Reps that are left after the first whole set when fresh, and from ten on this share of it (own).
const SPARE_REPS: f64 = 2.0;
const SPARE_SHARE: f64 = 1.2;
const SPARE_FROM: f64 = 10.0;
/// A weight gives way to the amount no further than to this share of itself; beyond it is another version (own).
const LEAST_FOR_AMOUNT: f64 = 0.7;
/// Shares of the guide weight that are tried.
const SHARES: [f64; 14] = [0.95, 0.9, 0.85, 0.8, 0.75, 0.7, 0.65, 0.6, 0.55, 0.5, 0.45, 0.4, 0.35, 0.3];
/// Times that a weight is lowered for what the run does with the sets.
const RUN_STEPS: usize = 8;

/// What the hands have: stock, loadable bars, and what the sheet asks.
#[derive(Clone, Copy)]
pub struct Hands<'a> {
    /// The hall's kit.
    pub kit: &'a Kit,
    /// Its loadable bars.
    pub bars: &'a Bars,
    /// What the sheet asks of the sets.
    pub stimulus: &'a Stimulus,
}

/// Why a weight was lowered.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Why {
    /// The first whole set: reps wanted, largest set at the weight before, at the new one.
    FirstSet { need: f64, before: f64, after: f64 },
    /// All reps together: how many, largest set at the weight before, at the new one.
    InAll { total: f64, before: f64, after: f64 },
    /// Sets in every round of the run: at most so many.
    Run { sets: u32 },
}

/// One weight of one bar group or line.
#[derive(Debug, Clone, PartialEq)]
pub struct Lowered {
    /// Lines that have it.
    lines: Vec<usize>,
    /// The line that it was lowered for.
    hardest: usize,
    from: f64,
    to: f64,
    why: Why,
}

/// Lines that are lifted with one weight: a bar group, or a line of its own.
fn groups(work: &Work) -> Vec<Vec<usize>> {
    let bars = bar_groups(work);
    let mut out: Vec<Vec<usize>> = Vec::new();
    for (i, line) in work.lines.iter().enumerate().filter(|(_, l)| l.kg().is_some()) {
        let mate = |g: &&mut Vec<usize>| {
            let of = |j: &usize| bars.get(*j).copied().flatten();
            line.kg().is_some()
                && bars.get(i).copied().flatten().is_some_and(|b| g.iter().any(|j| of(j) == Some(b)))
        };
        match out.iter_mut().find(mate) {
            Some(g) => g.push(i),
            None => out.push(vec![i]),
        }
    }
    out
}

fn with_spare(need: f64) -> f64 {
    if need > SPARE_FROM { need * SPARE_SHARE } else { need + SPARE_REPS }
}

fn most_at(line: &Line, athlete: &Athlete, kg: f64) -> f64 {
    most_and_share(line, athlete, kg).0
}

/// Largest fresh set at a weight, and the weight over the maximum.
fn most_and_share(line: &Line, athlete: &Athlete, kg: f64) -> (f64, f64) {
    let of = |r| most_reps(athlete, r, kg * line.held(), 1.0);
    pacing::row(&line.movement).map_or((f64::INFINITY, 0.0), of)
}

/// Whether an athlete can do a line's first whole set at a weight, fresh and with some to spare.
pub(super) fn holds_fresh(work: &Work, line: usize, athlete: &Athlete, kg: f64, stimulus: &Stimulus) -> bool {
    let need = with_spare(first_set(work, line, stimulus));
    work.lines.get(line).is_some_and(|l| most_at(l, athlete, kg) >= need)
}

/// Lighter weights that the hall has, heaviest first, none under the least that is sensible.
fn lighter(line: &Line, standard: Standard, from: f64, hands: Hands) -> Vec<f64> {
    let least = table().least(&line.movement).map_or(0.0, |kg| standard.of(kg)).min(from);
    let mut out: Vec<f64> = SHARES
        .into_iter()
        .filter_map(|f| at_hand(&line.movement, standard, from * f, hands.kit, hands.bars))
        .filter(|v| *v < from - 0.01 && *v >= least - 0.01)
        .collect();
    out.dedup();
    out
}

/// Lowers weights until everybody's first whole set, the amount and the sets of the whole run hold; what was lowered.
pub fn own_weights(work: &mut Work, standard: Standard, athlete: &Athlete, hands: Hands) -> Vec<Lowered> {
    let mut out = for_first_sets(work, standard, athlete, hands);
    for lines in &groups(work) {
        out.extend(for_the_amount(work, lines, standard, athlete, hands));
    }
    out.extend(for_runs(work, standard, athlete, hands));
    out
}

/// The same without a look at the amount: a version is made with a weight that its group can do so often.
pub fn weights_for_sets(
    work: &mut Work,
    standard: Standard,
    athlete: &Athlete,
    hands: Hands,
) -> Vec<Lowered> {
    let mut out = for_first_sets(work, standard, athlete, hands);
    out.extend(for_runs(work, standard, athlete, hands));
    out
}

fn for_first_sets(work: &mut Work, standard: Standard, athlete: &Athlete, hands: Hands) -> Vec<Lowered> {
    let needs: Vec<f64> = (0..work.lines.len()).map(|i| first_set(work, i, hands.stimulus)).collect();
    let groups = groups(work);
    groups.iter().filter_map(|g| for_first_set(work, g, &needs, standard, athlete, hands)).collect()
}

fn for_runs(work: &mut Work, standard: Standard, athlete: &Athlete, hands: Hands) -> Vec<Lowered> {
    let asked = |g: &Vec<usize>| {
        g.iter().any(|i| work.lines.get(*i).is_some_and(|l| most_of(l, hands.stimulus).is_some()))
    };
    let groups: Vec<Vec<usize>> = groups(work).into_iter().filter(asked).collect();
    let mut out = Vec::new();
    if groups.is_empty() {
        return out;
    }
    for _ in 0..RUN_STEPS {
        if quick_score(work, standard, athlete, hands.stimulus).run.steadiness.over == 0 {
            break;
        }
        let lowered: Vec<Lowered> =
            groups.iter().filter_map(|g| for_the_run(work, g, standard, hands)).collect();
        if lowered.is_empty() {
            break;
        }
        out.extend(lowered);
    }
    out
}

fn for_first_set(
    work: &mut Work,
    lines: &[usize],
    needs: &[f64],
    standard: Standard,
    athlete: &Athlete,
    hands: Hands,
) -> Option<Lowered> {
    let of = |i: &usize| Some((*i, work.lines.get(*i)?, needs.get(*i).copied()?));
    let all: Vec<(usize, &Line, f64)> = lines.iter().filter_map(of).collect();
    let from = standard.of(all.first()?.1.kg()?);
    let short = |kg: f64| {
        let missing = |(i, l, need): &(usize, &Line, f64)| (*i, most_at(l, athlete, kg) / with_spare(*need));
        all.iter().map(missing).min_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, s)| *s < 1.0)
    };
    let (hardest, _) = short(from)?;
    let line = work.lines.get(hardest)?;
    let steps = lighter(line, standard, from, hands);
    let to = steps.iter().copied().find(|kg| short(*kg).is_none()).or(steps.last().copied())?;
    let why = Why::FirstSet {
        need: needs.get(hardest).copied()?,
        before: most_at(line, athlete, from),
        after: most_at(line, athlete, to),
    };
    set(work, lines, to);
    Some(Lowered { lines: lines.to_vec(), hardest, from, to, why })
}

/// Lighter for what would be far too much in all at the weight; `None` where no weight near it helps.
fn for_the_amount(
    work: &mut Work,
    lines: &[usize],
    standard: Standard,
    athlete: &Athlete,
    hands: Hands,
) -> Option<Lowered> {
    let each = work.team.map_or(1.0, |t| f64::from(t.size.max(1)));
    let of = |i: &usize| Some((*i, work.lines.get(*i)?, work.total(*i, standard)? / each));
    let all: Vec<(usize, &Line, f64)> = lines.iter().filter_map(of).collect();
    let much = |kg: f64| {
        all.iter().find(|(_, line, total)| {
            let (largest, share) = most_and_share(line, athlete, kg);
            largest.is_finite() && too_much_in_all(*total, largest, share)
        })
    };
    let from = standard.of(all.first()?.1.kg()?);
    let (hardest, line, total) = much(from).map(|(i, l, t)| (*i, *l, *t))?;
    let near = |kg: &f64| *kg >= LEAST_FOR_AMOUNT * from && much(*kg).is_none();
    let to = lighter(line, standard, from, hands).into_iter().find(near)?;
    let why = Why::InAll { total, before: most_at(line, athlete, from), after: most_at(line, athlete, to) };
    set(work, lines, to);
    Some(Lowered { lines: lines.to_vec(), hardest, from, to, why })
}

/// One step lighter for a group whose sets break in the run.
fn for_the_run(work: &mut Work, lines: &[usize], standard: Standard, hands: Hands) -> Option<Lowered> {
    let asked = |i: &&usize| work.lines.get(**i).is_some_and(|l| most_of(l, hands.stimulus).is_some());
    let hardest = *lines.iter().find(asked)?;
    let line = work.lines.get(hardest)?;
    let from = standard.of(line.kg()?);
    let sets = most_of(line, hands.stimulus)?;
    let to = lighter(line, standard, from, hands).first().copied()?;
    set(work, lines, to);
    Some(Lowered { lines: lines.to_vec(), hardest, from, to, why: Why::Run { sets } })
}

fn set(work: &mut Work, lines: &[usize], kg: f64) {
    for i in lines {
        if let Some(l) = work.lines.get_mut(*i) {
            l.weight = Some(Weight::Kg([kg; 2]));
        }
    }
}

/// The same as lines of a member's card.
pub fn own_weight_lines(work: &mut Work, member: &Member, athlete: &Athlete, hands: Hands) -> Vec<Personal> {
    let lowered = own_weights(work, member.standard, athlete, hands);
    let mut out: Vec<Personal> = Vec::new();
    for l in &lowered {
        let reason = reason(l, work);
        for i in &l.lines {
            let Some(line) = work.lines.get(*i) else { continue };
            out.push(Personal::weight(*i, line.text_for(member.standard), reason.clone()));
        }
    }
    out
}

fn reason(l: &Lowered, work: &Work) -> OfLine {
    let (to_kg, from_kg) = (l.to, l.from);
    match l.why {
        Why::FirstSet { need: wants, before: largest_before, after: largest_now } => {
            let line = work.lines.get(l.hardest).filter(|_| l.lines.len() > 1);
            let of = line.map(|line| line.movement.clone());
            OfLine::FirstSet { to_kg, from_kg, of, wants, largest_before, largest_now }
        }
        Why::InAll { total, before: largest_before, after: largest_now } => {
            let line = work.lines.get(l.hardest).filter(|_| l.lines.len() > 1);
            let of = line.map(|line| line.movement.clone());
            OfLine::InAll { to_kg, from_kg, of, total, largest_before, largest_now }
        }
        Why::Run { sets } => OfLine::LaterSets { to_kg, from_kg, sets },
    }
}

/// The lightest of a member's weights as a share of the version's.
pub fn lightest_share(version: &Work, own: &Work, standard: Standard) -> f64 {
    let share = |(a, b): (&Line, &Line)| {
        let (a, b) = (standard.of(a.kg()?), standard.of(b.kg()?));
        (a > 0.0).then_some(b / a)
    };
    let same = |(a, b): &(&Line, &Line)| a.movement == b.movement;
    version.lines.iter().zip(&own.lines).filter(same).filter_map(share).fold(1.0, f64::min)
}

/// Somebody of whom nothing is tested lifts under a newcomer's ceiling, whatever the version says.
pub fn under_ceilings(work: &mut Work, member: &Member, kit: &Kit, bars: &Bars) -> Vec<Personal> {
    if !(member.is_newcomer() && member.level == Level::New) {
        return Vec::new();
    }
    let factor = by_mass(member);
    let mut out = Vec::new();
    for lines in groups(work) {
        let of = |i: &usize| {
            let line = work.lines.get(*i)?;
            let written = member.standard.of(line.kg()?);
            let most = newcomer_ceiling(&line.movement, member.standard, factor).filter(|m| *m < written)?;
            Some((*i, most))
        };
        let Some((at, most)) = lines.iter().filter_map(of).min_by(|a, b| a.1.total_cmp(&b.1)) else {
            continue;
        };
        let Some(line) = work.lines.get(at) else { continue };
        // an empty bar is the least: under it the movement is another
        let most = most.max(table().least(&line.movement).map_or(0.0, |kg| member.standard.of(kg)));
        let written = line.kg().map_or(0.0, |kg| member.standard.of(kg));
        // the nearest that the hall has, or the next under it
        let found = [1.0, 0.9, 0.8, 0.7, 0.6]
            .into_iter()
            .filter_map(|f| at_hand(&line.movement, member.standard, most * f, kit, bars))
            .find(|v| *v <= most * CEILING_ROUNDS);
        let Some(new) = found.filter(|v| *v < written) else { continue };
        set(work, &lines, new);
        let reason = OfLine::Ceiling { kg: new };
        for i in &lines {
            let text = work.lines.get(*i).map_or_else(String::new, |l| l.text_for(member.standard));
            out.push(Personal::weight(*i, text, reason.clone()));
        }
    }
    out
}
