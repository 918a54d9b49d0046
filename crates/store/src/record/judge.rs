//! Each result is judged once against what was foretold.

use crate::error::Result;
use crate::ids::GymId;
use crate::schema::{frozen_plans, results};
use diesel::prelude::*;
use diesel::sql_types::{Array, Bool, Double, Integer, Nullable, SmallInt, Text, Uuid as SqlUuid};
use lantern_core::held::{landed, seen};
use lantern_core::learning::Seen;
use lantern_core::logbook::Outcome;
use lantern_core::plan::PlanAnswer;
use lantern_core::record::{Landed, Unjudged};
use lantern_core::versions::Tier;
use serde_json::Value;
use std::collections::HashMap;
use uuid::Uuid;

/// Classes that are judged in one go: a hall that has never been counted is counted in steps.
const MOST_AT_ONCE: usize = 300;

/// A result that is not judged yet.
type Open = (Uuid, Uuid, i32, Value, String);

/// Judges what is new, some classes at a time; how many classes wait still.
pub(crate) fn judge(conn: &mut PgConnection, gym: GymId) -> Result<usize> {
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
    let cut = crate::cut::of_classes(conn, gym, &now)?;
    let mut done = Done::default();
    for (class, member, block, outcome, tier) in rows {
        let id = member.to_string();
        let outcome: Option<Outcome> = serde_json::from_value(outcome).ok();
        let plan = plans.get(&class).and_then(Option::as_ref);
        let (Some(outcome), Some(plan)) = (outcome, plan) else {
            done.push((class, member, block), Err(Unjudged::Unread), None);
            continue;
        };
        // it is of other work than was foretold: it is not judged, and teaches nothing
        if cut.contains(&(class, member, block)) {
            done.push((class, member, block), Err(Unjudged::Cut), None);
            continue;
        }
        let tier = Tier::read(&tier).unwrap_or(Tier::Full);
        let at = usize::try_from(block).unwrap_or(usize::MAX);
        let landed = landed(plan, (&id, at), (outcome, tier), standards.get(&id).copied());
        let seen = seen(plan, (&id, at), (outcome, tier));
        done.push((class, member, block), landed, seen);
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
    off: Vec<Option<f64>>,
    half: Vec<Option<f64>>,
    window_said: Vec<Option<f64>>,
    window_came: Vec<Option<bool>>,
    cap_said: Vec<Option<f64>>,
    cap_came: Vec<Option<bool>>,
    own: Vec<Option<i32>>,
    unjudged: Vec<Option<&'static str>>,
    late: Vec<Option<f64>>,
    better: Vec<Option<f64>>,
    worse: Vec<Option<f64>>,
    format: Vec<Option<&'static str>>,
    limited: Vec<Option<&'static str>>,
}

impl Done {
    fn push(
        &mut self,
        (class, member, block): (Uuid, Uuid, i32),
        landed: std::result::Result<Landed, Unjudged>,
        seen: Option<Seen>,
    ) {
        self.class.push(class);
        self.member.push(member);
        self.block.push(block);
        let j = landed.as_ref().ok();
        let place = j.and_then(|j| j.place);
        self.slot.push(place.map(|p| i16::from(p.slot)));
        self.inside.push(place.map(|p| p.inside));
        self.off.push(place.and_then(|p| p.off));
        self.half.push(place.and_then(|p| p.half));
        self.by.push(j.map(|j| j.promise.provenance.word()));
        self.window_said.push(j.and_then(|j| Some(j.promise.window?.chance)));
        self.window_came.push(j.and_then(|j| Some(j.promise.window?.came)));
        self.cap_said.push(j.and_then(|j| Some(j.promise.cap?.chance)));
        self.cap_came.push(j.and_then(|j| Some(j.promise.cap?.came)));
        self.own.push(j.map(|j| i32::try_from(j.promise.results).unwrap_or(i32::MAX)));
        self.unjudged.push(landed.as_ref().err().map(|u| u.word()));
        self.late.push(seen.as_ref().map(|s| s.late));
        self.better.push(seen.as_ref().map(|s| s.foretold.better));
        self.worse.push(seen.as_ref().map(|s| s.foretold.worse));
        self.format.push(seen.as_ref().map(|s| s.foretold.format.word()));
        self.limited.push(seen.as_ref().map(|s| s.foretold.group.word()));
    }

    fn keep(self, conn: &mut PgConnection, gym: GymId) -> Result<()> {
        diesel::sql_query(
            "UPDATE results r SET judged = true, slot = v.slot, inside = v.inside, foretold_by = v.by, \
             off_middle = v.off, half = v.half, window_said = v.ws, window_came = v.wc, cap_said = v.cs, \
             cap_came = v.cc, own_results = v.own, unjudged = v.unjudged, late = v.late, better_sd = v.better, \
             worse_sd = v.worse, format = v.format, limited_by = v.limited \
             FROM unnest($2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19, $20) \
             AS v(class, member, block, slot, inside, by, off, half, ws, wc, cs, cc, own, unjudged, late, better, \
             worse, format, limited) \
             WHERE r.gym_id = $1 AND r.class_id = v.class AND r.member_id = v.member AND r.block = v.block",
        )
        .bind::<SqlUuid, _>(gym.0)
        .bind::<Array<SqlUuid>, _>(self.class)
        .bind::<Array<SqlUuid>, _>(self.member)
        .bind::<Array<Integer>, _>(self.block)
        .bind::<Array<Nullable<SmallInt>>, _>(self.slot)
        .bind::<Array<Nullable<Bool>>, _>(self.inside)
        .bind::<Array<Nullable<Text>>, _>(self.by)
        .bind::<Array<Nullable<Double>>, _>(self.off)
        .bind::<Array<Nullable<Double>>, _>(self.half)
        .bind::<Array<Nullable<Double>>, _>(self.window_said)
        .bind::<Array<Nullable<Bool>>, _>(self.window_came)
        .bind::<Array<Nullable<Double>>, _>(self.cap_said)
        .bind::<Array<Nullable<Bool>>, _>(self.cap_came)
        .bind::<Array<Nullable<Integer>>, _>(self.own)
        .bind::<Array<Nullable<Text>>, _>(self.unjudged)
        .bind::<Array<Nullable<Double>>, _>(self.late)
        .bind::<Array<Nullable<Double>>, _>(self.better)
        .bind::<Array<Nullable<Double>>, _>(self.worse)
        .bind::<Array<Nullable<Text>>, _>(self.format)
        .bind::<Array<Nullable<Text>>, _>(self.limited)
        .execute(conn)?;
        Ok(())
    }
}

/// Lets what could not be read be tried again: another version of the program may read it.
///
/// # Errors
/// When the database is away.
pub fn try_again(conn: &mut PgConnection) -> Result<()> {
    let unread = results::table.filter(results::unjudged.eq(Unjudged::Unread.word()));
    diesel::update(unread)
        .set((results::judged.eq(false), results::unjudged.eq(None::<String>)))
        .execute(conn)?;
    Ok(())
}
