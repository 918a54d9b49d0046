//! Kit at hand: how many of one weight the class needs at the same time, and who takes another where there are too few.

use crate::kit::{Kit, Stock};
use crate::movement::{LoadKind, catalogue, say::spoken};
use crate::roster::Member;
use crate::versions::{Personal, Placed, Weight};

/// The list of the kit and how many of one weight a member holds of a movement.
fn stock_of<'a>(kit: &'a Kit, movement: &str, held: f64) -> Option<(&'static str, &'a [Stock], u32)> {
    let n = held.max(1.0) as u32;
    let kind = catalogue().movement(movement)?.load;
    let name = match kind {
        LoadKind::Kettlebell => "kettlebells",
        LoadKind::Medball => "balls",
        _ => "dumbbells",
    };
    Some((name, kit.implements(kind)?.0, n))
}

/// Somebody for whom there is no implement of the weight of a line.
struct Short {
    who: usize,
    line: usize,
    to_kg: f64,
    reason: String,
}

/// Gives everybody an implement: the slowest keep theirs, and where a weight runs out the fastest take the next lighter one that
/// is there. Members whose line changed, in order; what cannot be solved is said in words.
#[expect(clippy::too_many_lines, reason = "stood before the rule; split it when this room is put in order")]
pub(super) fn share_kit(placed: &mut [Placed], members: &[Member], kit: &Kit) -> (Vec<usize>, Vec<String>) {
    let (mut changed, mut notes) = (Vec::new(), Vec::new());
    let lines = placed.iter().map(|p| p.work.lines.len()).max().unwrap_or(0);
    for line in 0..lines {
        let mut order: Vec<usize> = (0..placed.len()).collect();
        let slow = |i: &usize| placed.get(*i).map_or(0.0, |p| p.predicted.prediction.p50());
        order.sort_by(|a, b| slow(b).total_cmp(&slow(a)));
        let mut taken: Vec<(&str, f64, u32)> = Vec::new();
        let (mut short, mut none): (Vec<Short>, usize) = (Vec::new(), 0);
        for who in order {
            let (Some(p), Some(m)) = (placed.get(who), members.get(who)) else { continue };
            let Some(l) = p.work.lines.get(line) else { continue };
            let Some(kg) = l.kg().map(|kg| m.standard.of(kg)) else { continue };
            let Some((kind, list, n)) = stock_of(kit, &l.movement, l.held()) else { continue };
            let left = |size: f64, taken: &[(&str, f64, u32)]| {
                let all = list.iter().find(|s| (s.size - size).abs() < 1e-9).map_or(0, |s| s.count);
                let used: u32 =
                    taken.iter().filter(|t| t.0 == kind && (t.1 - size).abs() < 1e-9).map(|t| t.2).sum();
                all.saturating_sub(used)
            };
            let pick = if left(kg, &taken) >= n {
                Some(kg)
            } else {
                let mut lower: Vec<f64> = list.iter().map(|s| s.size).filter(|s| *s < kg).collect();
                lower.sort_by(|a, b| b.total_cmp(a));
                lower.into_iter().find(|s| left(*s, &taken) >= n)
            };
            match pick {
                Some(got) => {
                    taken.push((kind, got, n));
                    if got < kg {
                        let all = list.iter().find(|s| (s.size - kg).abs() < 1e-9).map_or(0, |s| s.count);
                        let reason = format!(
                            "{} instead of {}: the hall has {all} {kind} of {}, and they are with members who need them more.",
                            kit.said(got),
                            kit.mark(kg),
                            kit.said(kg)
                        );
                        short.push(Short { who, line, to_kg: got, reason });
                    }
                }
                None => none += 1,
            }
        }
        if none > 0 {
            let name = placed.iter().find_map(|p| p.work.lines.get(line)).map(|l| spoken(&l.movement));
            notes.push(format!(
                "{none} {} no weight of their own for the {}: share, start at another line, or go in two heats.",
                if none == 1 { "member has" } else { "members have" },
                name.unwrap_or_default()
            ));
        }
        for s in short {
            let (Some(p), Some(m)) = (placed.get_mut(s.who), members.get(s.who)) else { continue };
            if let Some(l) = p.work.lines.get_mut(s.line) {
                l.weight = Some(Weight::Kg([s.to_kg; 2]));
                let text = l.text_for(m.standard);
                // a line that spares a limit stays private and keeps its reason
                match p.personal.iter_mut().find(|x| x.line == s.line) {
                    Some(x) => {
                        x.text = text;
                        x.reason = format!("{} Then {}", x.reason, s.reason);
                    }
                    None => p.personal.push(Personal::weight(s.line, text, s.reason)),
                }
                changed.push(s.who);
            }
        }
    }
    notes.extend(machines(placed, kit));
    changed.sort_unstable();
    changed.dedup();
    (changed, notes)
}

/// Things that are only counted and of which there are fewer than members who need one at the same time.
fn machines(placed: &[Placed], kit: &Kit) -> Vec<String> {
    let mut needs: Vec<(String, String, usize)> = Vec::new();
    for p in placed {
        let mut mine: Vec<(&str, &str)> = Vec::new();
        for l in &p.work.lines {
            let Some(m) = catalogue().movement(&l.movement) else { continue };
            for e in m.equipment.iter().filter(|e| kit.counts.contains_key(*e) && *e != "rack") {
                if !mine.iter().any(|(x, _)| x == e) {
                    mine.push((e, &l.movement));
                }
            }
        }
        for (e, id) in mine {
            match needs.iter_mut().find(|(x, ..)| x == e) {
                Some(n) => n.2 += 1,
                None => needs.push((e.to_owned(), id.to_owned(), 1)),
            }
        }
    }
    needs
        .into_iter()
        .filter(|(e, _, n)| kit.count(e) > 0 && *n > kit.count(e) as usize)
        .map(|(e, id, n)| {
            let have = kit.count(&e);
            let name = catalogue().equipment.iter().find(|x| x.id == e).map_or_else(|| e.replace('-', " "), |x| x.name.clone());
            let heats = n.div_ceil(have as usize);
            format!(
                "{n} members need the {} for the {} and there are {have}: start at {heats} different lines, or go in {heats} heats.",
                name.to_lowercase(),
                spoken(&id)
            )
        })
        .collect()
}
