//! Chooses drills: greedy by demand covered per second, with penalties for what was done lately and for changing
//! position or kit; then the lift's build-up and a taste of the workout.

use super::demand::{Demand, demand, patterns};
use super::lately::Lately;
use super::rehearse::{least_s, least_with_taste_s, rehearsal};
use super::taste::Done;
use super::{Covered, Step, WarmUp, WarmUpPart};
use crate::kit::Kit;
use crate::movement::{Drill, catalogue};
use crate::sheet::{Block, BlockKind, Item, Sheet};
use crate::units::apportion;

/// Shares of the time for raising, opening and switching on; the rest rehearses.
const SHARES: [(WarmUpPart, f64); 3] =
    [(WarmUpPart::Raise, 0.20), (WarmUpPart::Mobilise, 0.25), (WarmUpPart::Activate, 0.20)];
/// They together, and the most that rehearsal may take of the time (own).
const GENERAL: f64 = 0.65;
const MOST_REHEARSED: f64 = 0.7;
/// What a drill leaves of the demand of a region or pattern that it touches (own).
const LEFT: f64 = 0.35;
/// Factors on the gain of a drill in another position, with other kit (own).
const OTHER_POSITION: f64 = 0.85;
const OTHER_KIT: f64 = 0.9;
/// Shortest time worth a drill.
const LEAST_STEP_S: u32 = 20;
/// A region with this share of the demand must be touched.
const MATTERS: f64 = 0.10;

/// What a warm-up is made from.
#[derive(Debug, Clone, Copy)]
pub struct For<'a> {
    /// The session.
    pub sheet: &'a Sheet,
    /// What there is.
    pub kit: &'a Kit,
    /// Drills of the days before, the newest first.
    pub recent: &'a [Vec<String>],
    /// Drills that the coach swapped out.
    pub avoid: &'a [String],
    /// The versions that somebody does, hardest first; none before they are known.
    pub done: &'a [Done],
}

/// A warm-up of `seconds` for a session.
pub fn warm_up(of: For, seconds: u32) -> WarmUp {
    let For { sheet, done, .. } = of;
    let need = demand(&sheet.blocks).as_done(done);
    let written = [Done::as_written(&need.asked)];
    let of = if done.is_empty() { For { done: &written, ..of } } else { of };
    let on_sheet =
        sheet.blocks.iter().find(|b| b.kind == BlockKind::WarmUp).map(written_steps).unwrap_or_default();
    let mut steps =
        if on_sheet.is_empty() { chosen(&need, seconds, of) } else { with_added(on_sheet, &need) };
    let shares: Vec<f64> = steps.iter().map(|s| f64::from(s.seconds)).collect();
    for (s, t) in steps.iter_mut().zip(fives(seconds, &shares)) {
        s.seconds = t;
    }
    for s in &mut steps {
        s.prepares =
            need.asked.iter().filter(|a| touches(s, &a.movement)).map(|a| a.movement.clone()).collect();
    }
    let mut coverage: Vec<Covered> = need
        .regions
        .iter()
        .map(|(region, d)| Covered {
            region: region.clone(),
            demand: *d,
            seconds: steps.iter().filter(|s| s.regions.contains(region)).map(|s| s.seconds).sum(),
        })
        .collect();
    coverage.sort_by(|a, b| b.demand.total_cmp(&a.demand).then(a.region.cmp(&b.region)));
    let missing =
        coverage.iter().filter(|c| c.demand >= MATTERS && c.seconds == 0).map(|c| c.region.clone()).collect();
    WarmUp {
        how: String::new(),
        steps,
        movements: need.asked.into_iter().map(|a| a.movement).collect(),
        coverage,
        missing,
    }
}

/// Times in fives that still sum to the whole.
fn fives(total: u32, shares: &[f64]) -> Vec<u32> {
    let mut out: Vec<u32> = apportion(total / 5, shares).into_iter().map(|n| n * 5).collect();
    if let Some(last) = out.last_mut() {
        *last += total % 5;
    }
    out
}

fn touches(step: &Step, movement: &str) -> bool {
    let Some(m) = catalogue().movement(movement) else { return false };
    if let Some(d) = step.drill.as_ref().and_then(|id| catalogue().drills.iter().find(|d| d.id == *id)) {
        let pattern = patterns(m).iter().any(|(p, w)| *w >= 1.0 && d.prepares.contains(p));
        return pattern && d.regions.iter().any(|r| m.regions.contains(r));
    }
    step.prepares.iter().any(|p| p == movement)
}

/// The programmer's own warm-up, line by line; drills of the catalogue bring their regions with them.
fn written_steps(block: &Block) -> Vec<Step> {
    let of_move = block.parts.iter().flat_map(|p| &p.items).filter_map(|i| match i {
        Item::Move(m) => {
            let id = m.movement.id()?;
            let movement = catalogue().movement(id)?;
            let count = match &m.count {
                Some(crate::sheet::Count::Each(n)) => [*n; 2],
                Some(crate::sheet::Count::ByStandard(c)) => *c,
                _ => [1.0; 2],
            };
            Some(Step {
                part: WarmUpPart::Written,
                drill: None,
                name: crate::movement::say::line_text(id, &[count], m.unit, false, None, None),
                dose: String::new(),
                cue: movement.cues.first().cloned().unwrap_or_default(),
                easier: String::new(),
                seconds: 60,
                regions: movement.regions.clone(),
                prepares: vec![id.to_owned()],
            })
        }
        Item::Rest { .. } => None,
    });
    let of_note = block.notes.iter().map(|n| {
        let words = crate::movement::canonical_words(n);
        let drill = catalogue().drills.iter().find(|d| {
            let name = crate::movement::canonical_words(&d.name);
            words.windows(name.len().max(1)).any(|w| w == name.as_slice())
        });
        Step {
            part: WarmUpPart::Written,
            drill: drill.map(|d| d.id.clone()),
            name: n.clone(),
            dose: String::new(),
            cue: drill.map(|d| d.cue.clone()).unwrap_or_default(),
            easier: drill.map(|d| d.easier.clone()).unwrap_or_default(),
            seconds: drill.map_or(60, Drill::seconds),
            regions: drill.map(|d| d.regions.clone()).unwrap_or_default(),
            prepares: Vec::new(),
        }
    });
    of_move.chain(of_note).collect()
}

/// A written warm-up as it stands, with the last steps of what the day lifts behind it, marked.
fn with_added(mut written: Vec<Step>, need: &Demand) -> Vec<Step> {
    let added = rehearsal(need, least_s(need), &[]);
    written.extend(added.into_iter().map(|s| Step { name: format!("Added: {}", s.name), ..s }));
    written
}

fn chosen(need: &Demand, seconds: u32, of: For) -> Vec<Step> {
    let For { kit, avoid, done, .. } = of;
    let lately = Lately(of.recent);
    let mut regions = need.regions.clone();
    let mut wanted = need.patterns.clone();
    let mut out: Vec<Step> = Vec::new();
    let mut used: Vec<String> = avoid.to_vec();
    let mut last: Option<&Drill> = None;
    // what the rehearsal cannot do without is kept from the general part
    let general = f64::from(seconds) * GENERAL;
    let kept = f64::from(least_with_taste_s(need)).min(f64::from(seconds) * MOST_REHEARSED);
    let general = general.min(f64::from(seconds) - kept);
    // and what the rehearsal has no use for is given back to it
    let rehearsed = rehearsal(need, seconds - general.round() as u32, done);
    let general = f64::from(seconds.saturating_sub(rehearsed.iter().map(|s| s.seconds).sum())) / GENERAL;
    for (part, share) in SHARES {
        let mut left = (general * share) as u32;
        while left >= LEAST_STEP_S {
            let gain = |d: &Drill| {
                let r: f64 = d.regions.iter().filter_map(|r| regions.get(r)).sum();
                let p: f64 = d.prepares.iter().filter_map(|p| wanted.get(p)).sum();
                let mut g = (r + p) / f64::from(d.seconds().clamp(LEAST_STEP_S, left.max(LEAST_STEP_S)));
                g *= lately.share(&d.id);
                if let Some(l) = last {
                    g *= if l.position == d.position { 1.0 } else { OTHER_POSITION };
                    g *= if l.equipment == d.equipment || d.equipment.is_empty() { 1.0 } else { OTHER_KIT };
                }
                g
            };
            let best = catalogue()
                .drills
                .iter()
                .filter(|d| d.kind == part.id() && !used.contains(&d.id) && kit.has(&d.equipment))
                .filter(|d| d.seconds() <= left + 30)
                // nobody starts two days in the same way
                .filter(|d| part != WarmUpPart::Raise || !lately.yesterday(&d.id))
                .max_by(|a, b| gain(a).total_cmp(&gain(b)).then(b.id.cmp(&a.id)));
            let Some(d) = best else { break };
            for r in &d.regions {
                regions.entry(r.clone()).and_modify(|v| *v *= LEFT);
            }
            for p in &d.prepares {
                wanted.entry(*p).and_modify(|v| *v *= LEFT);
            }
            left = left.saturating_sub(d.seconds());
            used.push(d.id.clone());
            last = Some(d);
            out.push(of_drill(d, part));
        }
    }
    out.extend(rehearsed);
    out
}

fn of_drill(d: &Drill, part: WarmUpPart) -> Step {
    let dose = match d.dose.reps {
        Some(r) => format!("{r}{}", if d.per_side { " each side" } else { "" }),
        None if d.per_side => format!("{} each side", crate::units::clock(f64::from(d.dose.seconds))),
        None => String::new(),
    };
    Step {
        part,
        drill: Some(d.id.clone()),
        name: d.name.clone(),
        dose,
        cue: d.cue.clone(),
        easier: d.easier.clone(),
        seconds: d.seconds(),
        regions: d.regions.clone(),
        prepares: Vec::new(),
    }
}
