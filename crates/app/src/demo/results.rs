//! Results of a past class: every member's hidden true ability runs the workout once; the plan is the one that was known
//! before.

use chrono::{NaiveDate, NaiveDateTime};
use lantern_core::held::{Blocks, Inputs};
use lantern_core::logbook::{Outcome, volume_done};
use lantern_core::pacing::{best_pacing, hidden_truth, one_result, simulate};
use lantern_core::plan::{Class, ClassPlan, Options, WorkoutPlan, answer, plan};
use lantern_core::settings::Settings;
use lantern_core::sheet::Sheet;
use lantern_core::stimulus::Stimulus;
use lantern_core::versions::{Placed, board_of_units, board_reps, compile, rounds_of_units};
use lantern_store::logbook::{Holds, Logged, log, recent_drills};
use lantern_store::{ClassId, GymId, MemberId, PlainConnection as Conn, class, cycle, kit, roster};

/// A number from a name: the same member has the same truth in every class.
pub(super) fn seed_of(name: &str) -> u64 {
    name.bytes().fold(0xcbf2_9ce4_8422_2325, |h, b| (h ^ u64::from(b)).wrapping_mul(0x0100_0000_01b3))
}

/// Plans a class by what is known and logs what its members' true abilities make of it.
pub fn log_all(
    conn: &mut Conn,
    gym: GymId,
    id: ClassId,
    date: NaiveDate,
    (sheet, text): (&Sheet, &str),
    starts_at: NaiveDateTime,
) -> lantern_store::Result<()> {
    let booked = class::bookings(conn, gym, id)?;
    let known = roster::list_before(conn, gym, date)?;
    let members =
        booked.iter().filter_map(|b| known.iter().find(|m| m.id == b.member.to_string())).cloned().collect();
    let recent = recent_drills(conn, gym, starts_at)?;
    let of = Class {
        members,
        kit: kit::find(conn, gym)?,
        date,
        length_s: None,
        recent_drills: recent,
        cycles: cycle::list(conn, gym)?.into_iter().map(|(_, c)| c).collect(),
    };
    let (settings, options) = (Settings::default(), Options::default());
    let made = plan(sheet, &of, &settings, &[], options);
    let frozen = answer(&made);
    let blocks = Blocks::default().align(&sheet.blocks);
    let (runs, seed) = (options.runs, options.seed);
    let text = text.to_owned();
    let inputs = Inputs { sheet: text, choices: Vec::new(), blocks, class: of, settings, runs, seed };
    for w in &made.workouts {
        for (i, p) in w.placed.iter().enumerate() {
            if let Some(logged) = one(&made, w, p, i) {
                log(conn, gym, id, &logged, (Holds { plan: &frozen, inputs: &inputs }, super::COACH))?;
            }
        }
    }
    super::lifting::log_lifts(conn, gym, id, &made, date)
}

fn one(made: &ClassPlan, w: &WorkoutPlan, p: &Placed, i: usize) -> Option<Logged> {
    let (m, ability, s) = (made.members.get(i)?, made.abilities.get(i)?, w.stimulus.as_ref()?);
    let truth = hidden_truth(&ability.athlete, &ability.known, seed_of(&m.name));
    let workout = compile(&p.work, m.standard, &truth, s.cap_s);
    let (policy, _) = best_pacing(&workout, &truth, 1);
    let day = seed_of(&format!("{} {}", m.name, w.name.as_deref().unwrap_or("")));
    let score = one_result(&workout, &truth, &policy, day);
    let board = board_reps(&p.work, m.standard);
    let outcome = if p.work.cycle_s().is_some() {
        return None; // cycles on a clock are not scored
    } else if p.work.until_failure() {
        rounds(score, board)
    } else if p.work.one_amrap() {
        rounds(rounds_of_units(&p.work, m.standard, &workout, score), board)
    } else if !p.work.for_time() {
        Outcome::Reps { reps: board_of_units(&p.work, m.standard, &workout, score).round() }
    } else {
        timed(p, s, score, || {
            let capped = simulate(&workout, &truth, &policy, true, false);
            let at = rounds_of_units(&p.work, m.standard, &workout, capped.reps + capped.part);
            (at, board_reps(&p.work, m.standard))
        })
    };
    let volume = volume_done(&p.work, m.standard, &outcome);
    Some(Logged {
        volume,
        member: m.id.parse::<MemberId>().ok()?,
        block: u32::try_from(w.block).ok()?,
        outcome,
        tier: p.tier,
        load_kg: None,
        note: String::new(),
    })
}

fn rounds(decimal: f64, reps: f64) -> Outcome {
    let whole = decimal.floor().max(0.0);
    let more = ((decimal - whole) * reps).floor().max(0.0);
    Outcome::Rounds { rounds: whole as u32, reps: more as u32 }
}

fn timed(p: &Placed, s: &Stimulus, score: f64, at_cap: impl Fn() -> (f64, f64)) -> Outcome {
    match s.cap_s {
        Some(cap) if score > cap => {
            let (decimal, reps) = at_cap();
            let most = p.work.rounds() as f64 - 1e-6;
            match rounds(decimal.min(most), reps) {
                Outcome::Rounds { rounds, reps } => Outcome::Capped { rounds, reps },
                other => other,
            }
        }
        _ if !score.is_finite() => Outcome::Out,
        _ => Outcome::Time { seconds: score.round() },
    }
}
