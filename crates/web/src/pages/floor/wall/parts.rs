//! The wall around the workout: the warm-up's drills, the lifters of each rack, what is done to cool down, what was logged.

use crate::class_page::ClassPage;
use lantern_core::hour::{HourPart, Slot};
use lantern_core::movement::catalogue;
use lantern_core::plan::{BriefVersion, PaceLine, brief};
use lantern_core::plan::{LiftPlan, SetPhase, SetPhaseKind, StrengthPlan, WorkoutPlan};
use lantern_core::sheet::BlockKind;
use lantern_core::units::clock;
use lantern_core::versions::Tier;
use lantern_store::logbook::Logged;

/// Drills one after the other.
pub(super) struct Steps {
    /// (name, how much).
    pub(super) rows: Vec<(String, String)>,
    /// `from,to,step,n,of,row;…` in seconds.
    pub(super) phases: String,
    pub(super) end: f64,
    pub(super) size: &'static str,
}

/// Lifts of a block.
pub(super) struct Strength {
    pub(super) name: String,
    pub(super) what: String,
    /// `from,to,kind,n,of,lift;…` in seconds.
    pub(super) phases: String,
    pub(super) end: f64,
    pub(super) lifts: Vec<LiftView>,
    pub(super) unit: &'static str,
}

pub(super) struct LiftView {
    pub(super) racks: Vec<RackView>,
    /// s of one member's turn.
    pub(super) turn_s: f64,
    pub(super) size: &'static str,
}

pub(super) struct RackView {
    pub(super) number: usize,
    pub(super) rows: Vec<RowView>,
}

/// A lifter at a rack.
pub(super) struct RowView {
    pub(super) name: String,
    /// Weights set by set: `60|62.5|65`.
    pub(super) weights: String,
    pub(super) first: String,
}

/// A workout before it begins: what each version is, its pace, and a cue for each movement.
pub(super) struct BriefPanel {
    pub(super) name: String,
    pub(super) what: String,
    pub(super) end: f64,
    pub(super) versions: Vec<(Tier, Vec<String>, String)>,
    /// Class of the size of the versions' lines.
    pub(super) size: &'static str,
    /// (movement, its first cue).
    pub(super) points: Vec<(String, String)>,
}

/// What is done at the end, and what came out.
pub(super) struct CoolDown {
    pub(super) rows: Vec<String>,
    pub(super) end: f64,
    pub(super) results: Results,
}

/// What was logged, by version.
pub(super) struct Results {
    pub(super) columns: Vec<(Tier, Vec<(String, String)>)>,
    pub(super) size: &'static str,
    pub(super) none: bool,
}

fn length(page: &ClassPage, fits: impl Fn(&&Slot) -> bool) -> f64 {
    page.plan.hour.slots.iter().find(fits).map_or(0.0, |s| f64::from(s.length_s))
}

/// Phases in the words of the script.
fn phase(from: f64, to: f64, kind: &str, (n, of): (usize, usize), row: usize) -> String {
    format!("{from:.0},{to:.0},{kind},{n},{of},{row}")
}

/// The warm-up, drill by drill.
pub(super) fn warm_up(page: &ClassPage) -> Steps {
    let steps = &page.plan.warm_up.steps;
    let mut at = 0.0;
    let mut phases = Vec::with_capacity(steps.len());
    for (i, s) in steps.iter().enumerate() {
        let to = at + f64::from(s.seconds);
        phases.push(phase(at, to, "step", (i + 1, steps.len()), i));
        at = to;
    }
    let rows: Vec<(String, String)> = steps.iter().map(|s| (s.name.clone(), s.dose.clone())).collect();
    let size = match rows.len() {
        0..=6 => "",
        7..=10 => "is-many",
        _ => "is-most",
    };
    Steps { rows, phases: phases.join(";"), end: at, size }
}

/// The lifts of a block: build-up, then set after set.
pub(super) fn strength(page: &ClassPage, block: usize) -> Strength {
    let found = page.plan.strength.iter().find(|s| s.block == block);
    let lifts: Vec<&LiftPlan> = found.map(|s| s.lifts.iter().collect()).unwrap_or_default();
    let names: Vec<String> = lifts.iter().map(|l| catalogue().name(l.id())).collect();
    let (phases, end) = found.map(sets).unwrap_or_default();
    Strength {
        name: names.join(", "),
        what: lifts.first().map(|l| sets_of(l)).unwrap_or_default(),
        phases: phases.join(";"),
        end,
        lifts: lifts.iter().map(|l| lift(page, l)).collect(),
        unit: page.kit.unit_word(),
    }
}

fn sets_of(l: &LiftPlan) -> String {
    match &l.heavy {
        Some(h) => format!("to a {}RM in {}", h.build.reps, clock(f64::from(h.window_s))),
        None if l.sets.even() => format!("{} × {}", l.sets.reps.len(), l.sets.most_reps()),
        None => l.sets.reps.iter().map(u32::to_string).collect::<Vec<_>>().join("-"),
    }
}

/// The phases of a block's lifts for the script, and where they end.
fn sets(s: &StrengthPlan) -> (Vec<String>, f64) {
    let all = s.phases();
    let one = |p: &SetPhase| {
        let kind = match p.kind {
            SetPhaseKind::BuildUp => "build",
            SetPhaseKind::Set => "set",
            SetPhaseKind::Maximum => "heavy",
        };
        phase(p.from_s, p.to_s, kind, (p.number, p.of), p.lift)
    };
    (all.iter().map(one).collect(), all.last().map_or(0.0, |p| p.to_s))
}

fn lift(page: &ClassPage, l: &LiftPlan) -> LiftView {
    let row = |i: &usize| {
        // who does another lift has it on their card: why is nobody's business here
        let own = l.of(*i).filter(|own| own.lift == l.id())?;
        let kg: Vec<String> = own
            .working()
            .map(|s| if s.load_kg > 0.0 { page.kit.mark(s.load_kg) } else { String::new() })
            .collect();
        let name = page.plan.members.get(*i)?.name.clone();
        Some(RowView { name, first: kg.first().cloned().unwrap_or_default(), weights: kg.join("|") })
    };
    let racks: Vec<RackView> = l
        .racks
        .racks
        .iter()
        .enumerate()
        .map(|(n, r)| RackView { number: n + 1, rows: r.members.iter().filter_map(row).collect() })
        .filter(|r| !r.rows.is_empty())
        .collect();
    let most = racks.iter().map(|r| r.rows.len()).max().unwrap_or(0);
    let size = match (most, racks.len()) {
        (0..=3, 0..=4) => "",
        (0..=5, 0..=6) => "is-many",
        _ => "is-most",
    };
    LiftView { turn_s: l.time.turn_s, racks, size }
}

/// Rows of the wall below versions of four lines for what is said of movements, in two columns; each line more takes one.
const POINT_ROWS: usize = 2;
/// Letters of a row that fit half of the wall.
const POINT: usize = 50;

/// The brief of a workout.
pub(super) fn brief_of(page: &ClassPage, block: usize) -> BriefPanel {
    let all = brief(&page.plan);
    let found = all.workouts.into_iter().find(|w| w.block == block);
    let (mut name, mut what, mut versions, mut points) = <(String, String, Vec<_>, Vec<_>)>::default();
    if let Some(w) = found {
        name = w.name.unwrap_or_else(|| page.name());
        let cap = w.cap_s.map(|c| format!(", cap {}", clock(f64::from(c)))).unwrap_or_default();
        what = format!("{}{cap}", w.clock);
        let pace = |v: &BriefVersion| v.pace.as_ref().map(PaceLine::says).unwrap_or_default();
        versions = w.versions.into_iter().map(|v| (v.tier, v.lines.clone(), pace(&v))).collect();
        let fits = |(name, cue): &(String, String)| name.chars().count() + cue.chars().count() < POINT;
        let cued = w.movements.into_iter().filter_map(|m| Some((m.name, m.cues.into_iter().next()?)));
        points = cued.filter(fits).collect();
    }
    let lines = versions.iter().map(|v: &(Tier, Vec<String>, String)| v.1.len()).max().unwrap_or(0);
    points.truncate(2 * POINT_ROWS.saturating_sub(lines.saturating_sub(4)));
    BriefPanel {
        name,
        what,
        end: length(page, |s| s.part == HourPart::WorkoutBrief && s.block == Some(block)),
        versions,
        size: if lines > 6 { "is-most" } else { "is-many" },
        points,
    }
}

/// What the sheet says of the cool-down, its time, and results as they stand.
pub(super) fn cool_down(page: &ClassPage, logged: &[Logged]) -> CoolDown {
    let block = page.plan.sheet.blocks.iter().find(|b| b.kind == BlockKind::CoolDown);
    let lines = block.map(|b| {
        let moves = b.moves().map(lantern_core::sheet::move_line);
        moves.chain(b.notes.iter().cloned()).collect::<Vec<_>>()
    });
    CoolDown {
        rows: lines.unwrap_or_default(),
        end: length(page, |s| s.part == HourPart::CoolDown),
        results: results(page, logged),
    }
}

/// What was logged of the first workout that has results, by the version that was done.
pub(super) fn results(page: &ClassPage, logged: &[Logged]) -> Results {
    let of = |w: &&WorkoutPlan| -> Vec<&Logged> {
        logged.iter().filter(|l| page.blocks.position(l.block) == Some(w.block)).collect()
    };
    let found = page.plan.workouts.iter().map(|w| of(&w)).find(|all| !all.is_empty()).unwrap_or_default();
    let mut columns: Vec<(Tier, Vec<(String, String)>)> = Vec::new();
    for tier in Tier::ALL {
        let mut here: Vec<&&Logged> = found.iter().filter(|l| l.tier == tier).collect();
        here.sort_by(|a, b| a.outcome.before(&b.outcome));
        let named = |l: &&&Logged| (page.member_name(&l.member.to_string()), l.outcome.text());
        columns.push((tier, here.iter().map(named).collect()));
    }
    let most = columns.iter().map(|c| c.1.len()).max().unwrap_or(0);
    let size = match most {
        0..=7 => "",
        8..=10 => "is-many",
        _ => "is-most",
    };
    Results { none: found.is_empty(), columns, size }
}
