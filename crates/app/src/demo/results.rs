//! Results of a past class: what its members do in a world of other laws (`world.rs`), at the plan that was made from what was known
//! and learnt before.

use super::world::{Came, perform};
use chrono::{NaiveDate, NaiveDateTime};
use lantern_core::held::{Blocks, Inputs};
use lantern_core::learning::{Learner, first_day};
use lantern_core::logbook::{Outcome, volume_done};
use lantern_core::plan::{Class, ClassPlan, Options, WorkoutPlan, answer, plan};
use lantern_core::roster::Member;
use lantern_core::settings::Settings;
use lantern_core::sheet::Sheet;
use lantern_core::versions::Placed;
use lantern_store::logbook::{Holds, Logged, log, recent_drills};
use lantern_store::{
    ClassId, GymId, MemberId, PlainConnection as Conn, booking, cycle, kit, learning, roster,
};

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
    let booked = booking::planned(conn, gym, id)?;
    let known = roster::list_before(conn, gym, date)?;
    let mut members: Vec<Member> =
        booked.iter().filter_map(|b| known.iter().find(|m| m.id == b.member.to_string())).cloned().collect();
    learning::days(conn, gym, date)?;
    let first = first_day(date);
    let log_so_far = learning::log(conn, gym, first, date)?;
    let learner = Learner::of_log(&log_so_far, learning::retests(conn, gym, first)?, date);
    members.iter_mut().for_each(|m| m.learnt = learner.of(&m.id, date));
    let recent = recent_drills(conn, gym, date)?;
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
            if let Some(logged) = one(&made, w, p, i, starts_at) {
                log(conn, gym, id, &logged, (Holds { plan: &frozen, inputs: &inputs }, super::COACH))?;
            }
        }
    }
    super::lifting::log_lifts(conn, gym, id, &made, date)
}

fn one(made: &ClassPlan, w: &WorkoutPlan, p: &Placed, i: usize, at: NaiveDateTime) -> Option<Logged> {
    let (m, s) = (made.members.get(i)?, w.stimulus.as_ref()?);
    let came = perform(m, &p.work, s.cap_s, &format!("{at} {}", w.block))?;
    let Came { rounds, reps, .. } = came;
    let outcome = match (p.work.for_time(), came.done) {
        (false, _) if p.work.one_amrap() => Outcome::Rounds { rounds, reps },
        (false, _) => Outcome::Reps { reps: f64::from(reps) },
        (true, true) => Outcome::Time { seconds: came.seconds.round().max(1.0) },
        (true, false) => Outcome::Capped { rounds, reps },
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
