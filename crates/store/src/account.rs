//! Accounts and sign-ins. Passwords are kept as argon2 hashes only.

use crate::error::{Result, StoreError};
use crate::ids::{AccountId, GymId, SignInId};
use crate::schema::{accounts, sign_ins};
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString, rand_core::OsRng};
use argon2::{Algorithm, Argon2, Params, Version};
use chrono::{Duration, Utc};
use diesel::prelude::*;

/// Days after which a sign-in ends.
const DAYS: i64 = 14;

/// What an account may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    /// Everything, the gym's settings too.
    Owner,
    /// Classes, members and results.
    Coach,
}

impl Role {
    fn word(self) -> &'static str {
        match self {
            Role::Owner => "owner",
            Role::Coach => "coach",
        }
    }

    fn read(word: &str) -> Role {
        if word == "owner" { Role::Owner } else { Role::Coach }
    }
}

/// Somebody who signs in.
#[derive(Debug, Clone, PartialEq)]
pub struct Account {
    /// Gym.
    pub gym: GymId,
    /// Key.
    pub id: AccountId,
    /// Name on pages.
    pub name: String,
    /// What they may do.
    pub role: Role,
}

/// A sign-in that counts.
#[derive(Debug, Clone, PartialEq)]
pub struct SignIn {
    /// Key, held by the cookie.
    pub id: SignInId,
    /// Who.
    pub account: Account,
    /// Token that every change must carry.
    pub csrf: String,
}

fn hasher() -> Argon2<'static> {
    // 19 MiB, two passes: the least that is advised for argon2id
    Argon2::new(Algorithm::Argon2id, Version::V0x13, Params::new(19 * 1024, 2, 1, None).unwrap_or_default())
}

fn hash(password: &str) -> Result<String> {
    let salt = SaltString::generate(&mut OsRng);
    let hash = hasher().hash_password(password.as_bytes(), &salt);
    hash.map(|h| h.to_string()).map_err(|e| StoreError::Failed(format!("the password cannot be kept: {e}")))
}

fn matches(password: &str, kept: &str) -> bool {
    PasswordHash::new(kept).is_ok_and(|h| hasher().verify_password(password.as_bytes(), &h).is_ok())
}

/// Adds an account.
///
/// # Errors
/// `Taken` when the address has one.
pub fn add(
    conn: &mut PgConnection,
    gym: GymId,
    email: &str,
    name: &str,
    role: Role,
    password: &str,
) -> Result<AccountId> {
    let id = AccountId::fresh();
    diesel::insert_into(accounts::table)
        .values((
            accounts::gym_id.eq(gym.0),
            accounts::id.eq(id.0),
            accounts::email.eq(email.trim().to_lowercase()),
            accounts::name.eq(name),
            accounts::role.eq(role.word()),
            accounts::password_hash.eq(hash(password)?),
        ))
        .execute(conn)?;
    Ok(id)
}

/// Coaches and owners of a gym, by name.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Account>> {
    let rows = accounts::table
        .filter(accounts::gym_id.eq(gym.0))
        .order(accounts::name)
        .select((accounts::id, accounts::name, accounts::role))
        .load::<(uuid::Uuid, String, String)>(conn)?;
    Ok(rows
        .into_iter()
        .map(|(id, name, role)| Account { gym, id: AccountId(id), name, role: Role::read(&role) })
        .collect())
}

/// Checks address and password; `None` when they do not belong together. Takes as long for an unknown address.
///
/// # Errors
/// When the database is away.
pub fn check(conn: &mut PgConnection, email: &str, password: &str) -> Result<Option<Account>> {
    let row = accounts::table
        .filter(accounts::email.eq(email.trim().to_lowercase()))
        .select((accounts::gym_id, accounts::id, accounts::name, accounts::role, accounts::password_hash))
        .first::<(uuid::Uuid, uuid::Uuid, String, String, String)>(conn)
        .optional()?;
    let Some((gym, id, name, role, kept)) = row else {
        let _ = hash(password);
        return Ok(None);
    };
    let account = Account { gym: GymId(gym), id: AccountId(id), name, role: Role::read(&role) };
    Ok(matches(password, &kept).then_some(account))
}

/// Begins a sign-in.
///
/// # Errors
/// When the account is gone.
pub fn sign_in(conn: &mut PgConnection, account: &Account) -> Result<SignIn> {
    let (id, csrf) = (SignInId::fresh(), token());
    diesel::insert_into(sign_ins::table)
        .values((
            sign_ins::gym_id.eq(account.gym.0),
            sign_ins::id.eq(id.0),
            sign_ins::account_id.eq(account.id.0),
            sign_ins::csrf.eq(&csrf),
        ))
        .execute(conn)?;
    Ok(SignIn { id, account: account.clone(), csrf })
}

/// The sign-in behind a cookie, when it still counts.
///
/// # Errors
/// When the database is away.
pub fn signed_in(conn: &mut PgConnection, gym: GymId, id: SignInId) -> Result<Option<SignIn>> {
    let row = sign_ins::table
        .inner_join(
            accounts::table
                .on(accounts::gym_id.eq(sign_ins::gym_id).and(accounts::id.eq(sign_ins::account_id))),
        )
        .filter(sign_ins::gym_id.eq(gym.0).and(sign_ins::id.eq(id.0)))
        .filter(sign_ins::created_at.gt(Utc::now() - Duration::days(DAYS)))
        .select((accounts::id, accounts::name, accounts::role, sign_ins::csrf))
        .first::<(uuid::Uuid, String, String, String)>(conn)
        .optional()?;
    Ok(row.map(|(account, name, role, csrf)| SignIn {
        id,
        account: Account { gym, id: AccountId(account), name, role: Role::read(&role) },
        csrf,
    }))
}

/// Ends a sign-in.
///
/// # Errors
/// When the database is away.
pub fn sign_out(conn: &mut PgConnection, gym: GymId, id: SignInId) -> Result<()> {
    diesel::delete(sign_ins::table.find((gym.0, id.0))).execute(conn)?;
    Ok(())
}

/// 244 random bits in hexadecimal, for links and tokens that nobody can guess.
pub fn token() -> String {
    format!("{}{}", uuid::Uuid::new_v4().simple(), uuid::Uuid::new_v4().simple())
}
