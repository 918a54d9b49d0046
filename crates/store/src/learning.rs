//! What a hall's log teaches: results with what was foretold of them before anything was learnt, day by day.

use crate::error::Result;
use crate::ids::{ClassId, GymId, MemberId};
use crate::record;
use crate::schema::{bests, classes, frozen_plans, log_days, maxes, results, trials};
use chrono::{NaiveDate, NaiveDateTime};
use diesel::dsl::sql;
use diesel::prelude::*;
use diesel::sql_types::{Nullable, Text};
use lantern_core::learning::{Foretold, Format, Group, Held, LeftOut, Retest, Seen, first_day};
use lantern_core::logbook::Outcome;
use lantern_core::roster::{Best, Max, Member, Trial, retests as retests_of};
use serde_json::Value;
use uuid::Uuid;

/// Days before `until` that teach, with how often their log was changed: the same list, the same log. What was logged lately is judged
/// first.
///
/// # Errors
/// When the database is away.
pub fn days(conn: &mut PgConnection, gym: GymId, until: NaiveDate) -> Result<Vec<(NaiveDate, i64)>> {
    conn.transaction(|conn| record::judge(conn, gym))?;
    Ok(log_days::table
        .filter(log_days::gym_id.eq(gym.0).and(log_days::on_date.ge(first_day(until))))
        .filter(log_days::on_date.lt(until))
        .order(log_days::on_date)
        .select((log_days::on_date, log_days::changes))
        .load(conn)?)
}

macro_rules! columns {
    () => {
        (
            results::class_id,
            results::member_id,
            results::block,
            results::outcome,
            results::late.assume_not_null(),
            results::better_sd,
            results::worse_sd,
            results::format,
            results::limited_by,
            results::left_out,
        )
    };
}

type Columns =
    (Uuid, Uuid, i32, Value, f64, Option<f64>, Option<f64>, Option<String>, Option<String>, Option<String>);

/// The key of a result among a member's.
fn key(class: ClassId, block: i32) -> String {
    format!("{class}/{block}")
}

/// A row as a learner sees it; `None` for what was written by a program that knew other kinds.
fn seen(
    (class, member, block, outcome, late, better, worse, format, group, left_out): Columns,
) -> Option<Seen> {
    let outcome: Option<Outcome> = serde_json::from_value(outcome).ok();
    let foretold = Foretold {
        // the middle itself is in the lateness already
        middle: 1.0,
        better: better?,
        worse: worse?,
        format: Format::read(&format?)?,
        group: Group::read(&group?)?,
    };
    let capped = matches!(outcome?, Outcome::Capped { .. });
    let of = key(ClassId(class), block);
    Some(Seen { of, member: member.to_string(), foretold, late, capped, left_out: left_out.is_some() })
}

/// Results of the classes from a day on and before another, oldest class first.
///
/// # Errors
/// When the database is away.
pub fn log(conn: &mut PgConnection, gym: GymId, from: NaiveDate, until: NaiveDate) -> Result<Vec<Held>> {
    let rows = results::table
        .inner_join(
            classes::table.on(classes::gym_id.eq(results::gym_id).and(classes::id.eq(results::class_id))),
        )
        .filter(results::gym_id.eq(gym.0).and(results::late.is_not_null()))
        .filter(results::on_date.ge(from).and(results::on_date.lt(until)))
        .order((classes::starts_at, results::class_id, results::member_id, results::block))
        .select((results::on_date, columns!()))
        .load::<(NaiveDate, Columns)>(conn)?;
    let mut out: Vec<Held> = Vec::new();
    let mut last = None;
    for (date, row) in rows {
        let class = row.0;
        if last.replace(class) != Some(class) {
            out.push(Held { date, results: Vec::new() });
        }
        if let (Some(held), Some(seen)) = (out.last_mut(), seen(row)) {
            held.results.push(seen);
        }
    }
    Ok(out)
}

/// Dated tests of everybody since a day.
///
/// # Errors
/// When the database is away.
pub fn retests(conn: &mut PgConnection, gym: GymId, since: NaiveDate) -> Result<Vec<Retest>> {
    let lifts = maxes::table
        .filter(maxes::gym_id.eq(gym.0).and(maxes::on_date.ge(since)))
        .order((maxes::member_id, maxes::id))
        .select((maxes::member_id, maxes::lift, maxes::on_date))
        .load::<(Uuid, String, Option<NaiveDate>)>(conn)?;
    let sets = bests::table
        .filter(bests::gym_id.eq(gym.0).and(bests::on_date.ge(since)))
        .order((bests::member_id, bests::id))
        .select((bests::member_id, bests::movement, bests::on_date))
        .load::<(Uuid, String, Option<NaiveDate>)>(conn)?;
    let timed = trials::table
        .filter(trials::gym_id.eq(gym.0).and(trials::on_date.ge(since)))
        .order((trials::member_id, trials::id))
        .select((trials::member_id, trials::test, trials::on_date))
        .load::<(Uuid, String, Option<NaiveDate>)>(conn)?;
    let mut all: std::collections::BTreeMap<Uuid, Member> = std::collections::BTreeMap::new();
    let mut of = |id: Uuid, add: &mut dyn FnMut(&mut Member)| {
        let level = lantern_core::pacing::Level::Regular;
        let nobody = || Member {
            id: id.to_string(),
            ..Member::unknown("", lantern_core::units::Standard::Heavier, level)
        };
        add(all.entry(id).or_insert_with(nobody));
    };
    for (id, lift, date) in lifts {
        of(id, &mut |m| m.maxes.push(Max { lift: lift.clone(), kg: 0.0, reps: 1, reserve: 0, date }));
    }
    for (id, movement, date) in sets {
        of(id, &mut |m| m.unbroken.push(Best { movement: movement.clone(), reps: 0.0, date }));
    }
    for (id, test, date) in timed {
        of(id, &mut |m| m.trials.push(Trial { test: test.clone(), seconds: 0.0, date }));
    }
    Ok(all.values().flat_map(retests_of).collect())
}

/// Leaves a result out of learning, or takes it in again.
///
/// # Errors
/// `NotFound` when there is no such result in this gym.
pub fn leave_out(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
    (member, block): (MemberId, u32),
    why: Option<LeftOut>,
) -> Result<()> {
    let block = i32::try_from(block).map_err(|_| crate::StoreError::Refused)?;
    let changed = diesel::update(results::table.find((gym.0, class.0, member.0, block)))
        .set(results::left_out.eq(why.map(LeftOut::word)))
        .execute(conn)?;
    if changed == 0 { Err(crate::StoreError::NotFound) } else { Ok(()) }
}

/// Results of a class that are left out.
///
/// # Errors
/// When the database is away.
pub fn left_out(
    conn: &mut PgConnection,
    gym: GymId,
    class: ClassId,
) -> Result<Vec<(MemberId, u32, LeftOut)>> {
    let rows = results::table
        .filter(results::gym_id.eq(gym.0).and(results::class_id.eq(class.0)))
        .filter(results::left_out.is_not_null())
        .select((results::member_id, results::block, results::left_out.assume_not_null()))
        .load::<(Uuid, i32, String)>(conn)?;
    let of =
        |(m, b, why): (Uuid, i32, String)| Some((MemberId(m), u32::try_from(b).ok()?, LeftOut::read(&why)?));
    Ok(rows.into_iter().filter_map(of).collect())
}

/// Forgets what a member's results until now have taught: all are left out, none is lost.
///
/// # Errors
/// When the database is away.
pub fn forget(conn: &mut PgConnection, gym: GymId, member: MemberId) -> Result<usize> {
    let of = results::table.filter(results::gym_id.eq(gym.0).and(results::member_id.eq(member.0)));
    Ok(diesel::update(of.filter(results::left_out.is_null()))
        .set(results::left_out.eq(Some(LeftOut::Forgotten.word())))
        .execute(conn)?)
}

/// A result of a member as their page shows it.
#[derive(Debug, Clone, PartialEq)]
pub struct Taught {
    /// Its key where it was learnt.
    pub of: String,
    /// Class.
    pub class: ClassId,
    /// Id of the block.
    pub block: u32,
    /// When.
    pub starts_at: NaiveDateTime,
    /// Name of the session.
    pub title: Option<String>,
    /// What they did.
    pub outcome: Outcome,
    /// Later than first foretold by so much, in logarithms; `None` where the two cannot be compared.
    pub late: Option<f64>,
    /// Left out by the coach.
    pub left_out: Option<LeftOut>,
}

/// Results of one member since a day, latest first; at most so many.
///
/// # Errors
/// When the database is away.
pub fn of_member(conn: &mut PgConnection, gym: GymId, member: MemberId, most: i64) -> Result<Vec<Taught>> {
    type Row = (Uuid, i32, NaiveDateTime, Option<String>, Value, Option<f64>, Option<String>);
    let rows =
        results::table
            .inner_join(
                classes::table.on(classes::gym_id.eq(results::gym_id).and(classes::id.eq(results::class_id))),
            )
            .left_join(frozen_plans::table.on(
                frozen_plans::gym_id.eq(results::gym_id).and(frozen_plans::class_id.eq(results::class_id)),
            ))
            .filter(results::gym_id.eq(gym.0).and(results::member_id.eq(member.0)))
            .order((classes::starts_at.desc(), results::block))
            .limit(most)
            .select((
                results::class_id,
                results::block,
                classes::starts_at,
                sql::<Nullable<Text>>("frozen_plans.body->>'title'"),
                results::outcome,
                results::late,
                results::left_out,
            ))
            .load::<Row>(conn)?;
    let of = |(class, block, starts_at, title, outcome, late, left_out): Row| {
        Some(Taught {
            of: key(ClassId(class), block),
            class: ClassId(class),
            block: u32::try_from(block).ok()?,
            starts_at,
            title,
            outcome: serde_json::from_value(outcome).ok()?,
            late,
            left_out: left_out.as_deref().and_then(LeftOut::read),
        })
    };
    Ok(rows.into_iter().filter_map(of).collect())
}
