//! Results, and the plan that a class was held by.

use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId, MemberId};
use crate::schema::{bookings, classes, cuts, frozen_plans, result_changes, results, shown_plans};
use crate::shown;
use chrono::{DateTime, NaiveDate, NaiveDateTime, NaiveTime, Utc};
use diesel::prelude::*;
use lantern_core::held::Inputs;
use lantern_core::logbook::Outcome;
use lantern_core::plan::{DrillAnswer, PlanAnswer};
use lantern_core::roster::Volume;
use lantern_core::versions::Tier;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;

/// A result of one member in one block.
#[derive(Debug, Clone, PartialEq)]
pub struct Logged {
    /// Who.
    pub member: MemberId,
    /// Id of the block.
    pub block: u32,
    /// What they did.
    pub outcome: Outcome,
    /// The version that was really done.
    pub tier: Tier,
    /// The load that was really lifted, kg.
    pub load_kg: Option<f64>,
    /// The coach's words.
    pub note: String,
    /// Reps of each guarded pattern that were done.
    pub volume: Volume,
}

type Columns = (Uuid, i32, Value, String, Option<f64>, String, Value);

macro_rules! columns {
    () => {
        (
            results::member_id,
            results::block,
            results::outcome,
            results::tier,
            results::load_kg,
            results::note,
            results::volume,
        )
    };
}

fn of((member, block, outcome, tier, load_kg, note, volume): Columns) -> Result<Logged> {
    Ok(Logged {
        member: MemberId(member),
        block: u32::try_from(block).unwrap_or(0),
        outcome: serde_json::from_value(outcome)?,
        tier: Tier::read(&tier).unwrap_or(Tier::Full),
        load_kg,
        note,
        volume: serde_json::from_value(volume)?,
    })
}

/// Results of a class that can be read.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<Logged>> {
    Ok(read(conn, gym, class)?.0)
}

/// Results of a class, and how many of an older kind cannot be read any more: those are left out and stay as they are.
///
/// # Errors
/// When the database is away.
pub fn read(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<(Vec<Logged>, usize)> {
    let rows = results::table
        .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
        .order((results::logged_at, results::member_id))
        .select(columns!())
        .load::<Columns>(conn)?;
    let all = rows.len();
    let logged: Vec<Logged> = rows.into_iter().filter_map(|r| of(r).ok()).collect();
    let lost = all - logged.len();
    Ok((logged, lost))
}

/// What a class is held by.
#[derive(Debug, Clone, Copy)]
pub struct Holds<'a> {
    /// The plan with its ranges, by ids of blocks.
    pub plan: &'a PlanAnswer,
    /// What it was made from.
    pub inputs: &'a Inputs,
}

/// Logs a result, or corrects the one that is there, and freezes what the class is held by: all of it with the first result, the
/// ranges of a block with the first result of that block. A prediction must be older than the result that judges it. What it was
/// before comes back.
///
/// # Errors
/// `NotFound` when class or member is not this gym's or not booked.
pub fn log(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    logged: &Logged,
    (holds, by): (Holds, &str),
) -> Result<Option<Logged>> {
    conn.transaction(|conn| {
        // only who is booked has a result: another gym's member fails here too
        bookings::table
            .find((gym.0, class.0, logged.member.0))
            .select(bookings::position)
            .first::<i32>(conn)?;
        let block = number(logged.block)?;
        let starts_at =
            classes::table.find((gym.0, class.0)).select(classes::starts_at).first::<NaiveDateTime>(conn)?;
        let was = one(conn, gym, class, (logged.member, logged.block))?;
        let logged_for = blocks_logged(conn, gym, class)?;
        let values = (
            results::outcome.eq(serde_json::to_value(logged.outcome)?),
            results::tier.eq(logged.tier.word().to_lowercase()),
            results::load_kg.eq(logged.load_kg),
            results::note.eq(&logged.note),
            results::volume.eq(serde_json::to_value(&logged.volume)?),
            results::logged_at.eq(Utc::now()),
            results::on_date.eq(starts_at.date()),
            // it is judged again
            results::judged.eq(false),
            results::slot.eq(None::<i16>),
        );
        diesel::insert_into(results::table)
            .values((
                results::gym_id.eq(gym.0),
                results::class_id.eq(class.0),
                results::member_id.eq(logged.member.0),
                results::block.eq(block),
                values.clone(),
            ))
            .on_conflict((results::gym_id, results::class_id, results::member_id, results::block))
            .do_update()
            .set(values)
            .execute(conn)?;
        freeze(conn, gym, class, holds, (logged.block as usize, &logged_for))?;
        note(conn, (gym, class), (logged.member, block), (was.as_ref(), Some(logged)), by)?;
        Ok(was)
    })
}

/// Blocks of a class for which results are logged, by id.
pub(crate) fn blocks_logged(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<usize>> {
    let blocks = results::table
        .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
        .select(results::block)
        .distinct()
        .load::<i32>(conn)?;
    Ok(blocks.into_iter().filter_map(|b| usize::try_from(b).ok()).collect())
}

/// Keeps what a class is held by where nothing is kept yet; with the first result of a block also what is foretold of all that have
/// none yet. What was foretold of the blocks `before` stays: a prediction is older than the result that judges it.
fn freeze(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    holds: Holds,
    (block, before): (usize, &[usize]),
) -> Result<()> {
    let here = frozen_plans::table.find((gym.0, class.0));
    let kept = here.select(frozen_plans::body).first::<Value>(conn).optional()?;
    let inputs = Some(serde_json::to_value(holds.inputs)?);
    let plan = match shown::last(conn, gym, class)? {
        Some(shown) => holds.plan.clone().as_shown(&shown),
        None => holds.plan.clone(),
    };
    let Some(kept) = kept else {
        diesel::insert_into(frozen_plans::table)
            .values((
                frozen_plans::gym_id.eq(gym.0),
                frozen_plans::class_id.eq(class.0),
                frozen_plans::body.eq(serde_json::to_value(&plan)?),
                frozen_plans::inputs.eq(inputs),
            ))
            .execute(conn)?;
        return Ok(());
    };
    diesel::update(here.filter(frozen_plans::inputs.is_null()))
        .set(frozen_plans::inputs.eq(inputs))
        .execute(conn)?;
    // one that cannot be read any more is left as it is: somebody may read it yet
    let kept: Option<PlanAnswer> = serde_json::from_value(kept).ok();
    if let Some(kept) = kept.filter(|_| !before.contains(&block)) {
        let plan = kept.with_others(plan, before);
        diesel::update(here).set(frozen_plans::body.eq(serde_json::to_value(&plan)?)).execute(conn)?;
    }
    Ok(())
}

/// Who changed a result, and from what to what.
fn note(
    conn: &mut PgConnection,
    (gym, class): (GymId, ClassId),
    (member, block): (MemberId, i32),
    (was, became): (Option<&Logged>, Option<&Logged>),
    by: &str,
) -> Result<()> {
    let words = |l: Option<&Logged>| l.map(Kept::of).map(serde_json::to_value).transpose();
    diesel::insert_into(result_changes::table)
        .values((
            result_changes::gym_id.eq(gym.0),
            result_changes::id.eq(Uuid::now_v7()),
            result_changes::class_id.eq(class.0),
            result_changes::member_id.eq(member.0),
            result_changes::block.eq(block),
            result_changes::was.eq(words(was)?),
            result_changes::became.eq(words(became)?),
            result_changes::by_name.eq(by),
        ))
        .execute(conn)?;
    Ok(())
}

/// A result as it stands in the trail of changes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Kept {
    /// What was done.
    pub outcome: Outcome,
    /// In which version.
    pub tier: Tier,
    /// kg.
    pub load_kg: Option<f64>,
    /// The coach's words.
    pub note: String,
    /// Reps of each guarded pattern.
    pub volume: Volume,
}

impl Kept {
    fn of(l: &Logged) -> Kept {
        Kept {
            outcome: l.outcome,
            tier: l.tier,
            load_kg: l.load_kg,
            note: l.note.clone(),
            volume: l.volume.clone(),
        }
    }

    /// The result that it was.
    pub fn logged(self, member: MemberId, block: u32) -> Logged {
        let Kept { outcome, tier, load_kg, note, volume } = self;
        Logged { member, block, outcome, tier, load_kg, note, volume }
    }
}

/// A change of a result.
#[derive(Debug, Clone, PartialEq)]
pub struct Changed {
    /// Key: later ones are larger.
    pub id: Uuid,
    /// Whose.
    pub member: MemberId,
    /// Id of the block.
    pub block: u32,
    /// Before; `None`: there was none.
    pub was: Option<Kept>,
    /// After; `None`: taken back.
    pub became: Option<Kept>,
    /// Who did it.
    pub by: String,
    /// When.
    pub at: DateTime<Utc>,
}

/// Every change of a class's results, oldest first.
///
/// # Errors
/// When the database is away.
pub fn changes(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Vec<Changed>> {
    type Row = (Uuid, Uuid, i32, Option<Value>, Option<Value>, String, DateTime<Utc>);
    let rows = result_changes::table
        .filter(result_changes::gym_id.eq(gym.0).and(result_changes::class_id.eq(class.0)))
        .order(result_changes::id)
        .select((
            result_changes::id,
            result_changes::member_id,
            result_changes::block,
            result_changes::was,
            result_changes::became,
            result_changes::by_name,
            result_changes::made_at,
        ))
        .load::<Row>(conn)?;
    let read = |v: Option<Value>| v.and_then(|v| serde_json::from_value(v).ok());
    Ok(rows
        .into_iter()
        .map(|(id, member, block, was, became, by, at)| Changed {
            id,
            member: MemberId(member),
            block: u32::try_from(block).unwrap_or(0),
            was: read(was),
            became: read(became),
            by,
            at,
        })
        .collect())
}

/// The result of one member in a block.
///
/// # Errors
/// When the database is away.
pub fn one(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    (member, block): (MemberId, u32),
) -> Result<Option<Logged>> {
    let row = results::table
        .find((gym.0, class.0, member.0, number(block)?))
        .select(columns!())
        .first::<Columns>(conn)
        .optional()?;
    row.map(of).transpose()
}

/// Takes a result back; what it was. With the last one goes what the class was held by: it is planned again.
///
/// # Errors
/// When the database is away.
pub fn remove(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    (member, block): (MemberId, u32),
    by: &str,
) -> Result<Option<Logged>> {
    conn.transaction(|conn| {
        let Some(was) = one(conn, gym, class, (member, block))? else { return Ok(None) };
        let block = number(block)?;
        diesel::delete(results::table.find((gym.0, class.0, member.0, block))).execute(conn)?;
        note(conn, (gym, class), (member, block), (Some(&was), None), by)?;
        let left: i64 = results::table
            .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
            .count()
            .get_result(conn)?;
        if left == 0 {
            // what was foretold is not forgotten with its results
            if let Some(plan) = find_frozen(conn, gym, class)?.plan {
                shown::keep(conn, gym, class, &plan, shown::Why::TakenBack)?;
            }
            diesel::delete(frozen_plans::table.find((gym.0, class.0))).execute(conn)?;
        }
        Ok(Some(was))
    })
}

/// Gives the results of a block that left the sheet, and their trail, to another block; how many moved. Who has a result there already
/// keeps both: theirs stays where it was.
///
/// # Errors
/// When the database is away.
pub fn belong(conn: &mut PgConnection, gym: GymId, class: ClassId, from: u32, to: u32) -> Result<usize> {
    let (from, to) = (number(from)?, number(to)?);
    conn.transaction(|conn| {
        let there = results::table
            .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)).and(results::block.eq(to)))
            .select(results::member_id)
            .load::<Uuid>(conn)?;
        let trail = result_changes::table
            .filter(result_changes::gym_id.eq(gym.0).and(result_changes::class_id.eq(class.0)))
            .filter(result_changes::block.eq(from).and(result_changes::member_id.ne_all(&there)));
        diesel::update(trail).set(result_changes::block.eq(to)).execute(conn)?;
        let told = cuts::table
            .filter(cuts::gym_id.eq(gym.0).and(cuts::class_id.eq(class.0)))
            .filter(cuts::block.eq(from).and(cuts::member_id.ne_all(&there)));
        diesel::update(told).set(cuts::block.eq(to)).execute(conn)?;
        let here = results::table
            .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
            .filter(results::block.eq(from).and(results::member_id.ne_all(&there)));
        let again = (results::block.eq(to), results::judged.eq(false), results::slot.eq(None::<i16>));
        Ok(diesel::update(here).set(again).execute(conn)?)
    })
}

fn number(block: u32) -> Result<i32> {
    i32::try_from(block).map_err(|_| StoreError::Refused)
}

/// What a class was held by, as far as it can be read.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Frozen {
    /// The plan with its ranges, by ids of blocks.
    pub plan: Option<PlanAnswer>,
    /// What it was made from; none for a class held before this was kept, or planned anew since.
    pub inputs: Option<Inputs>,
    /// Something is kept that cannot be read any more.
    pub lost: bool,
}

/// What a class was held by, once a result is logged.
///
/// # Errors
/// When the database is away.
pub fn find_frozen(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Frozen> {
    let row = frozen_plans::table
        .find((gym.0, class.0))
        .select((frozen_plans::body, frozen_plans::inputs))
        .first::<(Value, Option<Value>)>(conn)
        .optional()?;
    let Some((body, inputs)) = row else { return Ok(Frozen::default()) };
    let plan: Option<PlanAnswer> = serde_json::from_value(body).ok();
    let kept = inputs.is_some();
    let inputs: Option<Inputs> = inputs.and_then(|v| serde_json::from_value(v).ok());
    let lost = plan.is_none() || kept != inputs.is_some();
    Ok(Frozen { plan, inputs, lost })
}

/// Plans a held class anew from what is known today: results stay, and what they are judged by stays until the next first one.
///
/// # Errors
/// When the database is away.
pub fn plan_anew(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<()> {
    diesel::update(frozen_plans::table.find((gym.0, class.0)))
        .set(frozen_plans::inputs.eq(None::<Value>))
        .execute(conn)?;
    Ok(())
}

/// Days on which drills are looked back at.
const DRILL_DAYS: i64 = 24;

/// The drills of the days before one on which a class was held, the newest first: of the last class of each day.
///
/// # Errors
/// When the database is away.
pub fn recent_drills(conn: &mut PgConnection, gym: GymId, day: NaiveDate) -> Result<Vec<Vec<String>>> {
    #[derive(QueryableByName)]
    struct Row {
        #[diesel(sql_type = diesel::sql_types::Nullable<diesel::sql_types::Jsonb>)]
        warm_up: Option<Value>,
    }
    let rows = diesel::sql_query(
        // the days first, so that no more plans are unpacked than there are days
        "WITH last AS (SELECT DISTINCT ON (c.starts_at::date) c.id, c.starts_at \
         FROM frozen_plans f JOIN classes c ON c.gym_id = f.gym_id AND c.id = f.class_id \
         WHERE f.gym_id = $1 AND c.starts_at < $2 AND c.starts_at >= $3 \
         ORDER BY c.starts_at::date DESC, c.starts_at DESC) \
         SELECT f.body -> 'warm_up' AS warm_up \
         FROM last JOIN frozen_plans f ON f.gym_id = $1 AND f.class_id = last.id ORDER BY last.starts_at DESC",
    )
    .bind::<diesel::sql_types::Uuid, _>(gym.0)
    .bind::<diesel::sql_types::Timestamp, _>(day.and_time(NaiveTime::MIN))
    .bind::<diesel::sql_types::Timestamp, _>(
        (day - chrono::Duration::days(DRILL_DAYS)).and_time(NaiveTime::MIN),
    )
    .load::<Row>(conn)?;
    // a plan that cannot be read any more tells no drills
    let drills = |v: Value| serde_json::from_value::<Vec<DrillAnswer>>(v).ok();
    let of =
        |r: Row| r.warm_up.and_then(drills).unwrap_or_default().into_iter().filter_map(|d| d.drill).collect();
    Ok(rows.into_iter().map(of).collect())
}

/// Takes a member's name, body, lifts, limits and everything private out of every plan that is kept; what was foretold stays.
pub(crate) fn forget_member(conn: &mut PgConnection, gym: GymId, id: MemberId, name: &str) -> Result<()> {
    let shown = shown_plans::table
        .filter(shown_plans::gym_id.eq(gym.0))
        .select((shown_plans::id, shown_plans::body))
        .load::<(Uuid, Value)>(conn)?;
    for (key, mut body) in shown {
        if forget_in_plan(&mut body, &id.to_string(), name) {
            diesel::update(shown_plans::table.find((gym.0, key)))
                .set(shown_plans::body.eq(body))
                .execute(conn)?;
        }
    }
    let rows = frozen_plans::table
        .filter(frozen_plans::gym_id.eq(gym.0))
        .select((frozen_plans::class_id, frozen_plans::body, frozen_plans::inputs))
        .load::<(Uuid, Value, Option<Value>)>(conn)?;
    let id = id.to_string();
    for (class, mut body, mut inputs) in rows {
        let known = forget_in_plan(&mut body, &id, name);
        let held = inputs.as_mut().and_then(|i| i.get_mut("class")).and_then(|c| c.get_mut("members"));
        let held = nameless(held, &id, name);
        if known || held.is_some() {
            diesel::update(frozen_plans::table.find((gym.0, class)))
                .set((frozen_plans::body.eq(body), frozen_plans::inputs.eq(inputs)))
                .execute(conn)?;
        }
    }
    Ok(())
}

/// Takes a member out of a kept plan; whether they were in it.
fn forget_in_plan(body: &mut Value, id: &str, name: &str) -> bool {
    let known = nameless(body.get_mut("members"), id, name);
    // racks are kept by name
    for rack in each(body.get_mut("strength")).flat_map(|s| each(s.get_mut("racks"))) {
        for who in each(rack.get_mut("members")).filter(|w| known.is_some() && w.as_str() == known.as_deref())
        {
            *who = name.into();
        }
    }
    known.is_some()
}

fn each(list: Option<&mut Value>) -> impl Iterator<Item = &mut Value> {
    list.and_then(Value::as_array_mut).into_iter().flatten()
}

/// Takes out what of a member in a kept plan tells who they are or what they keep to themselves; the name that stood there.
fn nameless(members: Option<&mut Value>, id: &str, name: &str) -> Option<String> {
    const LISTS: [&str; 12] = [
        "private", "reasons", "why", "limits", "personal", "weights", "offers", "loads", "maxes", "unbroken",
        "trials", "sessions",
    ];
    const FIGURES: [&str; 3] = ["body_mass_kg", "stature_cm", "hooks"];
    let mut was = None;
    for m in each(members).filter_map(Value::as_object_mut) {
        if m.get("id").and_then(Value::as_str) != Some(id) {
            continue;
        }
        was = m.insert("name".to_owned(), name.into()).and_then(|v| v.as_str().map(str::to_owned));
        for (key, v) in m.iter_mut() {
            if LISTS.contains(&key.as_str()) {
                *v = Value::Array(Vec::new());
            } else if FIGURES.contains(&key.as_str()) {
                *v = Value::Null;
            }
        }
    }
    was
}
