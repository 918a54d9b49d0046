//! Second factors: the secret of an account's app, and codes for when it is lost. Of those only hashes are kept.

use crate::account::hashed;
use crate::error::{Result, StoreError};
use crate::ids::{AccountId, GymId, SignInId};
use crate::schema::{gyms, recovery_codes, second_factors, sign_ins};
use argon2::password_hash::rand_core::{OsRng, RngCore};
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use lantern_core::people::{RECOVERY_CODES, SECRET_BYTES, recovery_form, step_of_code};

/// The second factor of an account.
#[derive(Debug, Clone, PartialEq)]
pub struct Second {
    /// What the app knows.
    pub secret: Vec<u8>,
    /// Since when it is asked for; none: begun, and no code has been shown yet.
    pub proven_at: Option<DateTime<Utc>>,
    /// Recovery codes that are left.
    pub codes: i64,
}

fn hash(code: &str) -> String {
    hashed(&recovery_form(code))
}

/// Random bytes, as a secret or a code.
fn random(bytes: usize) -> Vec<u8> {
    let mut out = vec![0; bytes];
    OsRng.fill_bytes(&mut out);
    out
}

/// The second factor of an account, begun or proven.
///
/// # Errors
/// When the database is away.
pub fn find(conn: &mut PgConnection, (gym, id): (GymId, AccountId)) -> Result<Option<Second>> {
    let row = second_factors::table
        .find((gym.0, id.0))
        .select((second_factors::secret, second_factors::proven_at))
        .first::<(Vec<u8>, Option<DateTime<Utc>>)>(conn)
        .optional()?;
    let Some((secret, proven_at)) = row else { return Ok(None) };
    let codes = recovery_codes::table
        .filter(recovery_codes::gym_id.eq(gym.0).and(recovery_codes::account_id.eq(id.0)))
        .count()
        .get_result(conn)?;
    Ok(Some(Second { secret, proven_at, codes }))
}

/// Begins one with a new secret; what was begun before is forgotten.
///
/// # Errors
/// `Refused` where one is asked for already.
pub fn begin(conn: &mut PgConnection, (gym, id): (GymId, AccountId)) -> Result<()> {
    conn.transaction(|conn| {
        if find(conn, (gym, id))?.is_some_and(|s| s.proven_at.is_some()) {
            return Err(StoreError::Refused);
        }
        diesel::delete(second_factors::table.find((gym.0, id.0))).execute(conn)?;
        diesel::insert_into(second_factors::table)
            .values((
                second_factors::gym_id.eq(gym.0),
                second_factors::account_id.eq(id.0),
                second_factors::secret.eq(random(SECRET_BYTES)),
            ))
            .execute(conn)?;
        Ok(())
    })
}

/// Takes a code of the app at a moment; whether it is right. No code is taken twice.
///
/// # Errors
/// When the database is away.
pub fn take(conn: &mut PgConnection, of: (GymId, AccountId), code: &str, now: DateTime<Utc>) -> Result<bool> {
    let Some(second) = find(conn, of)? else { return Ok(false) };
    let now = u64::try_from(now.timestamp()).unwrap_or(0);
    let Some(step) = step_of_code(&second.secret, code, now) else { return Ok(false) };
    let step = i64::try_from(step).unwrap_or(i64::MAX);
    let newer = second_factors::table.find((of.0.0, of.1.0)).filter(second_factors::last_step.lt(step));
    Ok(diesel::update(newer).set(second_factors::last_step.eq(step)).execute(conn)? == 1)
}

/// Takes a recovery code, which then counts no more; whether it was one.
///
/// # Errors
/// When the database is away.
pub fn take_recovery(conn: &mut PgConnection, (gym, id): (GymId, AccountId), code: &str) -> Result<bool> {
    Ok(diesel::delete(recovery_codes::table.find((gym.0, id.0, hash(code)))).execute(conn)? == 1)
}

/// From now on it is asked for. Other sign-ins end; the codes for when the app is lost, which are kept nowhere else.
///
/// # Errors
/// `NotFound` where none was begun.
pub fn prove(
    conn: &mut PgConnection,
    (gym, id): (GymId, AccountId),
    stays: SignInId,
    now: DateTime<Utc>,
) -> Result<Vec<String>> {
    conn.transaction(|conn| {
        let done = diesel::update(second_factors::table.find((gym.0, id.0)))
            .set(second_factors::proven_at.eq(now))
            .execute(conn)?;
        if done == 0 {
            return Err(StoreError::NotFound);
        }
        crate::account::sign_out_others(conn, (gym, id), stays)?;
        renew(conn, (gym, id))
    })
}

/// New recovery codes in place of those before.
///
/// # Errors
/// When the database is away.
pub fn renew(conn: &mut PgConnection, (gym, id): (GymId, AccountId)) -> Result<Vec<String>> {
    let code = |_| {
        let hex: String = random(6).iter().map(|b| format!("{b:02x}")).collect();
        hex.as_bytes().chunks(4).map(String::from_utf8_lossy).collect::<Vec<_>>().join("-")
    };
    let codes: Vec<String> = (0..RECOVERY_CODES).map(code).collect();
    let rows: Vec<_> = codes
        .iter()
        .map(|c| {
            (
                recovery_codes::gym_id.eq(gym.0),
                recovery_codes::account_id.eq(id.0),
                recovery_codes::code_hash.eq(hash(c)),
            )
        })
        .collect();
    conn.transaction(|conn| {
        let before = recovery_codes::table
            .filter(recovery_codes::gym_id.eq(gym.0).and(recovery_codes::account_id.eq(id.0)));
        diesel::delete(before).execute(conn)?;
        diesel::insert_into(recovery_codes::table).values(rows).execute(conn)?;
        Ok(codes)
    })
}

/// Takes it off; whether there was one.
///
/// # Errors
/// When the database is away.
pub fn drop(conn: &mut PgConnection, (gym, id): (GymId, AccountId)) -> Result<bool> {
    Ok(diesel::delete(second_factors::table.find((gym.0, id.0))).execute(conn)? == 1)
}

/// The sign-in counts from now on: its code was right.
///
/// # Errors
/// `NotFound` for a sign-in of another hall, or one that ended.
pub fn make_whole(conn: &mut PgConnection, gym: GymId, id: SignInId) -> Result<()> {
    let done =
        diesel::update(sign_ins::table.find((gym.0, id.0))).set(sign_ins::whole.eq(true)).execute(conn)?;
    if done == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Whether a hall wants one of everybody.
///
/// # Errors
/// When the database is away.
pub fn demanded(conn: &mut PgConnection, gym: GymId) -> Result<bool> {
    Ok(gyms::table.find(gym.0).select(gyms::second_factor).first(conn)?)
}

/// A hall wants one of everybody, or leaves it to each.
///
/// # Errors
/// When the database is away.
pub fn demand(conn: &mut PgConnection, gym: GymId, wanted: bool) -> Result<()> {
    diesel::update(gyms::table.find(gym.0)).set(gyms::second_factor.eq(wanted)).execute(conn)?;
    Ok(())
}
