//! What was on a screen before results came: a prediction is older than the result that judges it.

use crate::error::Result;
use crate::ids::{ClassId, GymId};
use crate::schema::shown_plans;
use diesel::prelude::*;
use lantern_core::plan::PlanAnswer;
use serde_json::Value;
use uuid::Uuid;

/// Kept for a class; the oldest go first.
const MOST: i64 = 20;

/// Where it was shown.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Why {
    /// The clock was started.
    Clock,
    /// A card was opened.
    Card,
    /// The class was held by it, and its results were all taken back.
    TakenBack,
}

impl Why {
    fn word(self) -> &'static str {
        match self {
            Why::Clock => "clock",
            Why::Card => "card",
            Why::TakenBack => "taken-back",
        }
    }
}

/// Keeps a plan that is shown, where it is not the one that was shown last.
///
/// # Errors
/// When the database is away.
pub fn keep(conn: &mut PgConnection, gym: GymId, class: ClassId, plan: &PlanAnswer, why: Why) -> Result<()> {
    let body = serde_json::to_value(plan)?;
    conn.transaction(|conn| {
        let of =
            shown_plans::table.filter(shown_plans::gym_id.eq(gym.0).and(shown_plans::class_id.eq(class.0)));
        // compared where it is kept: the database's numbers are exact
        let same = of
            .order(shown_plans::id.desc())
            .select(shown_plans::body.eq(&body))
            .first::<bool>(conn)
            .optional()?;
        if same == Some(true) {
            return Ok(());
        }
        diesel::insert_into(shown_plans::table)
            .values((
                shown_plans::gym_id.eq(gym.0),
                shown_plans::id.eq(Uuid::now_v7()),
                shown_plans::class_id.eq(class.0),
                shown_plans::body.eq(&body),
                shown_plans::why.eq(why.word()),
            ))
            .execute(conn)?;
        let old: Vec<Uuid> =
            of.order(shown_plans::id.desc()).offset(MOST).select(shown_plans::id).load(conn)?;
        diesel::delete(
            shown_plans::table.filter(shown_plans::gym_id.eq(gym.0).and(shown_plans::id.eq_any(old))),
        )
        .execute(conn)?;
        Ok(())
    })
}

/// The plan that was shown last, by ids of blocks; `None` where none was, or it cannot be read any more.
///
/// # Errors
/// When the database is away.
pub fn last(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<Option<PlanAnswer>> {
    let body = shown_plans::table
        .filter(shown_plans::gym_id.eq(gym.0).and(shown_plans::class_id.eq(class.0)))
        .order(shown_plans::id.desc())
        .select(shown_plans::body)
        .first::<Value>(conn)
        .optional()?;
    Ok(body.and_then(|b| serde_json::from_value(b).ok()))
}
