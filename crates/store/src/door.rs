//! Tries at passwords and codes, counted for all processes of a server together. Of many at once each is counted.

use crate::account::{Account, hashed};
use crate::error::Result;
use crate::schema::{known_doors, tries};
use chrono::{DateTime, Duration, Utc};
use diesel::dsl::case_when;
use diesel::prelude::*;
use diesel::sql_types::{Integer, Timestamptz};

/// Minutes after the first try within which the others count.
const WITHIN_MIN: i64 = 10;
/// Days for which an address is known from which somebody got in.
const KNOWN_DAYS: i64 = 90;

/// What tries are counted by, and how many are let through within ten minutes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Gate {
    /// Whose tries: an address, an account, both.
    pub key: String,
    /// Tries let through.
    pub most: i32,
}

/// Takes one try at all of some gates: minutes to wait where any of them is shut. It counts at each, also where another is shut.
///
/// # Errors
/// When the database is away.
pub fn take(conn: &mut PgConnection, gates: &[Gate]) -> Result<Option<u32>> {
    let now = Utc::now();
    let over = now - Duration::minutes(WITHIN_MIN);
    forget_old(conn, over)?;
    let mut rows: Vec<_> = gates.iter().map(|g| (hashed(&g.key), g.most)).collect();
    // always in one order: two at once wait for each other, never both
    rows.sort();
    let new: Vec<_> =
        rows.iter().map(|(k, _)| (tries::key_hash.eq(k), tries::taken.eq(1), tries::since.eq(now))).collect();
    let counted: Vec<(String, i32, DateTime<Utc>)> = diesel::insert_into(tries::table)
        .values(new)
        .on_conflict(tries::key_hash)
        .do_update()
        .set((
            // a row whose ten minutes are over begins anew
            tries::taken
                .eq(case_when(tries::since.lt(over), 1.into_sql::<Integer>()).otherwise(tries::taken + 1)),
            tries::since
                .eq(case_when(tries::since.lt(over), now.into_sql::<Timestamptz>()).otherwise(tries::since)),
        ))
        .returning((tries::key_hash, tries::taken, tries::since))
        .get_results(conn)?;
    let shut = counted.iter().filter(|(key, n, _)| rows.iter().any(|(k, most)| k == key && n > most));
    let until = shut.map(|(_, _, since)| *since + Duration::minutes(WITHIN_MIN)).max();
    Ok(until.map(|t| u32::try_from((t - now).num_minutes().max(0)).unwrap_or(0) + 1))
}

/// Drops rows whose time is over, but for those that somebody is counting at.
fn forget_old(conn: &mut PgConnection, over: DateTime<Utc>) -> Result<()> {
    diesel::sql_query(
        "DELETE FROM tries WHERE key_hash IN (SELECT key_hash FROM tries WHERE since < $1 LIMIT 1000 FOR UPDATE SKIP LOCKED)",
    )
    .bind::<Timestamptz, _>(over)
    .execute(conn)?;
    Ok(())
}

/// Forgets the tries at a gate.
///
/// # Errors
/// When the database is away.
pub fn clear(conn: &mut PgConnection, key: &str) -> Result<()> {
    diesel::delete(tries::table.find(hashed(key))).execute(conn)?;
    Ok(())
}

/// Somebody got in at a gate: their tries there are forgotten, and the gate is theirs for a while.
///
/// # Errors
/// When the account is gone.
pub fn got_in(conn: &mut PgConnection, account: &Account, key: &str) -> Result<()> {
    clear(conn, key)?;
    let (gym, id) = (account.gym.0, account.id.0);
    let old = known_doors::table.filter(known_doors::gym_id.eq(gym).and(known_doors::account_id.eq(id)));
    let before = Utc::now() - Duration::days(KNOWN_DAYS);
    diesel::delete(old.filter(known_doors::at.lt(before))).execute(conn)?;
    diesel::insert_into(known_doors::table)
        .values((
            known_doors::gym_id.eq(gym),
            known_doors::account_id.eq(id),
            known_doors::key_hash.eq(hashed(key)),
        ))
        .on_conflict((known_doors::gym_id, known_doors::account_id, known_doors::key_hash))
        .do_update()
        .set(known_doors::at.eq(Utc::now()))
        .execute(conn)?;
    Ok(())
}

/// Whether somebody got in at a gate lately.
///
/// # Errors
/// When the database is away.
pub fn known(conn: &mut PgConnection, key: &str) -> Result<bool> {
    let since = Utc::now() - Duration::days(KNOWN_DAYS);
    let found =
        known_doors::table.filter(known_doors::key_hash.eq(hashed(key)).and(known_doors::at.gt(since)));
    Ok(found.count().get_result::<i64>(conn)? > 0)
}
