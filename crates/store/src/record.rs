//! The track record: each result is judged once against what was foretold, and counted in the database.

use crate::error::Result;
use crate::ids::{ClassId, GymId};
use crate::schema::{classes, frozen_plans, results};
use chrono::NaiveDateTime;
use diesel::dsl::{count_star, max, min, sql};
use diesel::prelude::*;
use diesel::sql_types::{Array, BigInt, Bool, Integer, Nullable, SmallInt, Text, Uuid as SqlUuid};
use lantern_core::held::landed;
use lantern_core::logbook::Outcome;
use lantern_core::plan::PlanAnswer;
use lantern_core::record::Landed;
use lantern_core::units::Provenance;
use lantern_core::versions::Tier;
use serde_json::Value;
use std::collections::HashMap;
use uuid::Uuid;

/// Classes that are judged in one go: a hall that has never been counted is counted in steps.
const MOST_AT_ONCE: usize = 300;
/// What stands where a plan or a result cannot be read.
const UNREAD: &str = "unread";

/// A class of the record.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct ClassRow {
    /// Key.
    pub class: ClassId,
    /// When it was.
    pub starts_at: NaiveDateTime,
    /// Name of its session.
    pub title: Option<String>,
    /// Results inside their range.
    pub inside: usize,
    /// Results that were foretold.
    pub of: usize,
}

/// The record of a hall, counted.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Counted {
    /// Results by how they stand to what was foretold.
    pub results: Vec<(Landed, usize)>,
    /// Classes with results that were foretold.
    pub classes: usize,
    /// The first and the last of them.
    pub span: Option<(NaiveDateTime, NaiveDateTime)>,
    /// The latest of them, latest first.
    pub latest: Vec<ClassRow>,
    /// Classes whose plan or result cannot be read any more, and the first of them.
    pub lost: (usize, Option<NaiveDateTime>),
    /// Classes that are not judged yet.
    pub waiting: usize,
}

/// A result that is not judged yet.
type Open = (Uuid, Uuid, i32, Value, String);

/// Judges what is new, some classes at a time; how many classes wait still.
fn judge(conn: &mut PgConnection, gym: GymId) -> Result<usize> {
    let open = results::table.filter(results::gym_id.eq(gym.0).and(results::judged.eq(false)));
    let all: Vec<Uuid> = open.select(results::class_id).distinct().load(conn)?;
    let now: Vec<Uuid> = all.iter().take(MOST_AT_ONCE).copied().collect();
    if now.is_empty() {
        return Ok(0);
    }
    let plans: HashMap<Uuid, Option<PlanAnswer>> = frozen_plans::table
        .filter(frozen_plans::gym_id.eq(gym.0).and(frozen_plans::class_id.eq_any(&now)))
        .select((frozen_plans::class_id, frozen_plans::body))
        .load::<(Uuid, Value)>(conn)?
        .into_iter()
        .map(|(id, body)| (id, serde_json::from_value(body).ok()))
        .collect();
    let standards = crate::roster::standards(conn, gym)?;
    // held until it is kept: a result that is corrected meanwhile waits, and is judged again
    let rows = open
        .filter(results::class_id.eq_any(&now))
        .select((results::class_id, results::member_id, results::block, results::outcome, results::tier))
        .for_update()
        .load::<Open>(conn)?;
    let mut done = Done::default();
    for (class, member, block, outcome, tier) in rows {
        let id = member.to_string();
        let outcome: Option<Outcome> = serde_json::from_value(outcome).ok();
        let plan = plans.get(&class).and_then(Option::as_ref);
        let (Some(outcome), Some(plan)) = (outcome, plan) else {
            done.push((class, member, block), None, Some(UNREAD));
            continue;
        };
        let tier = Tier::read(&tier).unwrap_or(Tier::Full);
        let at = usize::try_from(block).unwrap_or(usize::MAX);
        let landed = landed(plan, (&id, at), (outcome, tier), standards.get(&id).copied());
        done.push((class, member, block), landed, landed.map(|j| j.provenance.word()));
    }
    done.keep(conn, gym)?;
    Ok(all.len() - now.len())
}

/// Judged results, column by column.
#[derive(Default)]
struct Done {
    class: Vec<Uuid>,
    member: Vec<Uuid>,
    block: Vec<i32>,
    slot: Vec<Option<i16>>,
    inside: Vec<Option<bool>>,
    by: Vec<Option<&'static str>>,
}

impl Done {
    fn push(
        &mut self,
        (class, member, block): (Uuid, Uuid, i32),
        j: Option<Landed>,
        by: Option<&'static str>,
    ) {
        self.class.push(class);
        self.member.push(member);
        self.block.push(block);
        self.slot.push(j.map(|j| i16::from(j.slot)));
        self.inside.push(j.map(|j| j.inside));
        self.by.push(by);
    }

    fn keep(self, conn: &mut PgConnection, gym: GymId) -> Result<()> {
        diesel::sql_query(
            "UPDATE results r SET judged = true, slot = v.slot, inside = v.inside, foretold_by = v.by \
             FROM unnest($2, $3, $4, $5, $6, $7) AS v(class, member, block, slot, inside, by) \
             WHERE r.gym_id = $1 AND r.class_id = v.class AND r.member_id = v.member AND r.block = v.block",
        )
        .bind::<SqlUuid, _>(gym.0)
        .bind::<Array<SqlUuid>, _>(self.class)
        .bind::<Array<SqlUuid>, _>(self.member)
        .bind::<Array<Integer>, _>(self.block)
        .bind::<Array<Nullable<SmallInt>>, _>(self.slot)
        .bind::<Array<Nullable<Bool>>, _>(self.inside)
        .bind::<Array<Nullable<Text>>, _>(self.by)
        .execute(conn)?;
        Ok(())
    }
}

/// Lets what could not be read be tried again: another version of the program may read it.
///
/// # Errors
/// When the database is away.
pub fn try_again(conn: &mut PgConnection) -> Result<()> {
    let unread = results::table.filter(results::foretold_by.eq(UNREAD));
    diesel::update(unread)
        .set((results::judged.eq(false), results::foretold_by.eq(None::<String>)))
        .execute(conn)?;
    Ok(())
}

/// The record of a hall: what is new is judged first. `latest`: so many classes are named.
///
/// # Errors
/// When the database is away.
pub fn counted(conn: &mut PgConnection, gym: GymId, latest: i64) -> Result<Counted> {
    let waiting = conn.transaction(|conn| judge(conn, gym))?;
    let here = results::table.inner_join(
        classes::table.on(classes::gym_id.eq(results::gym_id).and(classes::id.eq(results::class_id))),
    );
    let foretold = results::gym_id.eq(gym.0).and(results::slot.is_not_null());
    let counts = results::table
        .filter(foretold)
        .group_by((results::slot, results::inside, results::foretold_by))
        .select((results::slot, results::inside, results::foretold_by, count_star()))
        .load::<(Option<i16>, Option<bool>, Option<String>, i64)>(conn)?;
    let judged = |(slot, inside, by, n): (Option<i16>, Option<bool>, Option<String>, i64)| {
        let slot = u8::try_from(slot?).ok()?;
        let provenance = by.as_deref().and_then(Provenance::read)?;
        Some((Landed { slot, inside: inside?, provenance }, usize::try_from(n).ok()?))
    };
    let inside = sql::<BigInt>("count(*) FILTER (WHERE inside)");
    let rows = here
        .filter(foretold)
        .group_by((classes::id, classes::starts_at))
        .order((classes::starts_at.desc(), classes::id))
        .limit(latest)
        .select((classes::id, classes::starts_at, inside, count_star()))
        .load::<(Uuid, NaiveDateTime, i64, i64)>(conn)?;
    let ids: Vec<Uuid> = rows.iter().map(|r| r.0).collect();
    let titles: HashMap<Uuid, Option<String>> = frozen_plans::table
        .filter(frozen_plans::gym_id.eq(gym.0).and(frozen_plans::class_id.eq_any(&ids)))
        .select((frozen_plans::class_id, sql::<Nullable<Text>>("frozen_plans.body->>'title'")))
        .load(conn)?
        .into_iter()
        .collect();
    let count = |n: i64| usize::try_from(n).unwrap_or(0);
    let distinct = || sql::<BigInt>("count(DISTINCT results.class_id)");
    let (n, first, last) = here
        .filter(foretold)
        .select((distinct(), min(classes::starts_at), max(classes::starts_at)))
        .first::<(i64, Option<NaiveDateTime>, Option<NaiveDateTime>)>(conn)?;
    let (lost, at) = here
        .filter(results::gym_id.eq(gym.0).and(results::foretold_by.eq(UNREAD)))
        .select((distinct(), min(classes::starts_at)))
        .first::<(i64, Option<NaiveDateTime>)>(conn)?;
    Ok(Counted {
        results: counts.into_iter().filter_map(judged).collect(),
        classes: count(n),
        span: first.zip(last),
        latest: rows
            .into_iter()
            .map(|(id, starts_at, inside, of)| ClassRow {
                class: ClassId(id),
                starts_at,
                title: titles.get(&id).cloned().flatten(),
                inside: count(inside),
                of: count(of),
            })
            .collect(),
        lost: (count(lost), at),
        waiting,
    })
}
