//! Accounts and sign-ins. Passwords are kept as argon2 hashes only.

use crate::error::{Result, StoreError};
use crate::ids::{AccountId, GymId, SignInId};
use crate::schema::{accounts, gyms, second_factors, sign_ins};
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString, rand_core::OsRng};
use argon2::{Algorithm, Argon2, Params, Version};
use chrono::{DateTime, Duration, Utc};
use chrono_tz::Tz;
use diesel::prelude::*;
pub use lantern_core::people::Role;
use sha2::{Digest, Sha256};

/// Days after which a sign-in ends.
const DAYS: i64 = 14;

/// A role as it is kept; a word that this version does not know may least.
pub(crate) fn role_of(word: &str) -> Role {
    Role::read(word).unwrap_or(Role::FrontDesk)
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
    /// What is still asked before it counts.
    pub asks: Asks,
    /// Where the hall is in time; the server's zone without.
    pub zone: Option<Tz>,
    /// Single keys act on pages.
    pub single_keys: bool,
}

/// What a sign-in still asks of somebody whose password was right.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Asks {
    /// Nothing.
    Nothing,
    /// A code of their second factor.
    Code,
    /// A second factor at all: the hall wants one of everybody.
    Second,
}

fn hasher() -> Argon2<'static> {
    // 19 MiB, two passes: the least that is advised for argon2id
    Argon2::new(Algorithm::Argon2id, Version::V0x13, Params::new(19 * 1024, 2, 1, None).unwrap_or_default())
}

/// A password as it is kept. Making one takes long on purpose, and needs no connection.
#[derive(Debug, Clone)]
pub struct Secret(String);

impl Secret {
    /// Of a password.
    ///
    /// # Errors
    /// When it cannot be hashed.
    pub fn of(password: &str) -> Result<Secret> {
        hash(password).map(Secret)
    }

    /// As a column.
    pub(crate) fn kept(&self) -> &str {
        &self.0
    }
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
    add_with(conn, gym, (email, name, role), &Secret::of(password)?)
}

pub(crate) fn add_with(
    conn: &mut PgConnection,
    gym: GymId,
    (email, name, role): (&str, &str, Role),
    password: &Secret,
) -> Result<AccountId> {
    let (id, email) = (AccountId::fresh(), email.trim().to_lowercase());
    let done = diesel::insert_into(accounts::table)
        .values((
            accounts::gym_id.eq(gym.0),
            accounts::id.eq(id.0),
            accounts::email.eq(&email),
            accounts::name.eq(name),
            accounts::role.eq(role.word()),
            accounts::password_hash.eq(password.kept()),
        ))
        .execute(conn);
    match done.map_err(StoreError::from) {
        Ok(_) => Ok(id),
        Err(StoreError::Taken(_)) => Err(StoreError::Taken(format!("An account with {email}"))),
        Err(e) => Err(e),
    }
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
        .map(|(id, name, role)| Account { gym, id: AccountId(id), name, role: role_of(&role) })
        .collect())
}

/// Accounts whose password is looked at, of one address.
const MOST_HALLS: i64 = 8;

/// The accounts of an address, one in each of some halls, and the hashes of their passwords; the oldest hall first.
pub struct Known(Vec<(Account, String)>);

impl Known {
    /// Those accounts whose password it is. As much work for an address that has none, and no connection is needed for it.
    pub fn with(self, password: &str) -> Vec<Account> {
        if self.0.is_empty() {
            let _ = hash(password);
        }
        self.0.into_iter().filter(|(_, kept)| matches(password, kept)).map(|(account, _)| account).collect()
    }
}

type KnownRow = (uuid::Uuid, uuid::Uuid, String, String, String);

fn known_as((gym, id, name, role, kept): KnownRow) -> (Account, String) {
    (Account { gym: GymId(gym), id: AccountId(id), name, role: role_of(&role) }, kept)
}

/// What is known of an address.
///
/// # Errors
/// When the database is away.
pub fn known(conn: &mut PgConnection, email: &str) -> Result<Known> {
    let rows = accounts::table
        .filter(accounts::email.eq(email.trim().to_lowercase()))
        .order(accounts::gym_id)
        .limit(MOST_HALLS)
        .select((accounts::gym_id, accounts::id, accounts::name, accounts::role, accounts::password_hash))
        .load::<KnownRow>(conn)?;
    Ok(Known(rows.into_iter().map(known_as).collect()))
}

/// The accounts of an address, in whatever halls.
///
/// # Errors
/// When the database is away.
pub fn of_email(conn: &mut PgConnection, email: &str) -> Result<Vec<Account>> {
    Ok(known(conn, email)?.0.into_iter().map(|(account, _)| account).collect())
}

/// The same of one account.
///
/// # Errors
/// `NotFound` for an account of another gym.
pub fn known_of(conn: &mut PgConnection, gym: GymId, id: AccountId) -> Result<Known> {
    let row = accounts::table
        .find((gym.0, id.0))
        .select((accounts::gym_id, accounts::id, accounts::name, accounts::role, accounts::password_hash))
        .first::<KnownRow>(conn)?;
    Ok(Known(vec![known_as(row)]))
}

/// Checks address and password; `None` when they do not belong together. Takes as long for an unknown address.
///
/// # Errors
/// When the database is away.
pub fn check(conn: &mut PgConnection, email: &str, password: &str) -> Result<Option<Account>> {
    Ok(known(conn, email)?.with(password).into_iter().next())
}

/// Another e-mail by which an account signs in.
///
/// # Errors
/// `Taken` when somebody of the gym has it; `NotFound` for an account of another gym.
pub fn change_email(conn: &mut PgConnection, gym: GymId, id: AccountId, email: &str) -> Result<()> {
    let done = diesel::update(accounts::table.find((gym.0, id.0)))
        .set(accounts::email.eq(email.trim().to_lowercase()))
        .execute(conn);
    match done.map_err(StoreError::from) {
        Ok(0) => Err(StoreError::NotFound),
        Ok(_) => Ok(()),
        Err(StoreError::Taken(_)) => Err(StoreError::Taken(format!("An account with {email}"))),
        Err(e) => Err(e),
    }
}

/// Names of the halls of some sign-ins that count, with their keys.
///
/// # Errors
/// When the database is away.
pub fn halls_of(conn: &mut PgConnection, ins: &[(GymId, SignInId)]) -> Result<Vec<(SignInId, String)>> {
    let ids: Vec<uuid::Uuid> = ins.iter().map(|(_, id)| id.0).collect();
    let gyms_of: Vec<uuid::Uuid> = ins.iter().map(|(gym, _)| gym.0).collect();
    let rows = sign_ins::table
        .inner_join(gyms::table.on(gyms::id.eq(sign_ins::gym_id)))
        .filter(sign_ins::gym_id.eq_any(gyms_of).and(sign_ins::id.eq_any(ids)))
        .filter(sign_ins::created_at.gt(Utc::now() - Duration::days(DAYS)))
        .order((gyms::name, sign_ins::id))
        .select((sign_ins::id, gyms::name))
        .load::<(uuid::Uuid, String)>(conn)?;
    Ok(rows.into_iter().map(|(id, name)| (SignInId(id), name)).collect())
}

/// Drops sign-ins of a hall that have ended.
///
/// # Errors
/// When the database is away.
pub fn forget_ended(conn: &mut PgConnection, gym: GymId) -> Result<usize> {
    let before = Utc::now() - Duration::days(DAYS);
    let old = sign_ins::table.filter(sign_ins::gym_id.eq(gym.0).and(sign_ins::created_at.le(before)));
    Ok(diesel::delete(old).execute(conn)?)
}

/// E-mail by which somebody signs in.
///
/// # Errors
/// `NotFound` for an account of another gym.
pub fn email(conn: &mut PgConnection, gym: GymId, id: AccountId) -> Result<String> {
    Ok(accounts::table.find((gym.0, id.0)).select(accounts::email).first(conn)?)
}

/// Sets a new password; all sign-ins of the account but one end.
///
/// # Errors
/// `NotFound` for an account of another gym.
pub fn set_password(
    conn: &mut PgConnection,
    (gym, id): (GymId, AccountId),
    stays: SignInId,
    new: &Secret,
) -> Result<()> {
    conn.transaction(|conn| {
        let n = diesel::update(accounts::table.find((gym.0, id.0)))
            .set(accounts::password_hash.eq(new.kept()))
            .execute(conn)?;
        if n == 0 {
            return Err(StoreError::NotFound);
        }
        sign_out_others(conn, (gym, id), stays).map(drop)
    })
}

/// When somebody's sign-ins began, latest first, with whether it is this one.
///
/// # Errors
/// When the database is away.
pub fn sign_ins_of(
    conn: &mut PgConnection,
    (gym, id): (GymId, AccountId),
    here: SignInId,
) -> Result<Vec<(DateTime<Utc>, bool)>> {
    let rows = sign_ins::table
        .filter(sign_ins::gym_id.eq(gym.0).and(sign_ins::account_id.eq(id.0)))
        .filter(sign_ins::created_at.gt(Utc::now() - Duration::days(DAYS)))
        .order(sign_ins::created_at.desc())
        .select((sign_ins::created_at, sign_ins::id))
        .load::<(DateTime<Utc>, uuid::Uuid)>(conn)?;
    Ok(rows.into_iter().map(|(at, id)| (at, id == here.0)).collect())
}

/// Keeps whether single keys act on somebody's pages.
///
/// # Errors
/// When the database is away.
pub fn keep_single_keys(conn: &mut PgConnection, (gym, id): (GymId, AccountId), act: bool) -> Result<()> {
    let mine = accounts::table.find((gym.0, id.0));
    diesel::update(mine).set(accounts::single_keys.eq(act)).execute(conn)?;
    Ok(())
}

/// Ends all sign-ins of somebody but one; how many.
///
/// # Errors
/// When the database is away.
pub fn sign_out_others(
    conn: &mut PgConnection,
    (gym, id): (GymId, AccountId),
    stays: SignInId,
) -> Result<usize> {
    let others = sign_ins::table.filter(sign_ins::gym_id.eq(gym.0).and(sign_ins::account_id.eq(id.0)));
    Ok(diesel::delete(others.filter(sign_ins::id.ne(stays.0))).execute(conn)?)
}

/// Removes somebody's account; what they decided and logged stays. The last owner stays too.
///
/// # Errors
/// `NotFound` for an account of another gym; `Refused` for the last owner.
pub fn remove(conn: &mut PgConnection, gym: GymId, id: AccountId) -> Result<()> {
    conn.transaction(|conn| {
        an_owner_stays(conn, gym, id)?;
        diesel::delete(accounts::table.find((gym.0, id.0))).execute(conn)?;
        Ok(())
    })
}

/// Gives an account another role. The last owner stays one.
///
/// # Errors
/// `NotFound` for an account of another gym; `Refused` for the last owner.
pub fn change_role(conn: &mut PgConnection, gym: GymId, id: AccountId, role: Role) -> Result<()> {
    conn.transaction(|conn| {
        if role != Role::Owner {
            an_owner_stays(conn, gym, id)?;
        }
        let done = diesel::update(accounts::table.find((gym.0, id.0)))
            .set(accounts::role.eq(role.word()))
            .execute(conn)?;
        if done == 0 { Err(StoreError::NotFound) } else { Ok(()) }
    })
}

/// Refuses where nobody but this account is an owner.
fn an_owner_stays(conn: &mut PgConnection, gym: GymId, id: AccountId) -> Result<()> {
    let all = accounts::table
        .filter(accounts::gym_id.eq(gym.0))
        .select((accounts::id, accounts::role))
        .for_update()
        .load::<(uuid::Uuid, String)>(conn)?;
    let Some((_, role)) = all.iter().find(|(a, _)| *a == id.0) else { return Err(StoreError::NotFound) };
    let owners = all.iter().filter(|(_, r)| r == Role::Owner.word()).count();
    if role == Role::Owner.word() && owners < 2 { Err(StoreError::Refused) } else { Ok(()) }
}

/// Begins a sign-in.
///
/// # Errors
/// When the account is gone.
pub fn sign_in(conn: &mut PgConnection, account: &Account) -> Result<SignIn> {
    let (id, csrf) = (SignInId::fresh(), token());
    let second = crate::second::find(conn, (account.gym, account.id))?;
    let code = second.is_some_and(|s| s.proven_at.is_some());
    diesel::insert_into(sign_ins::table)
        .values((
            sign_ins::gym_id.eq(account.gym.0),
            sign_ins::id.eq(id.0),
            sign_ins::account_id.eq(account.id.0),
            sign_ins::csrf.eq(&csrf),
            sign_ins::whole.eq(!code),
        ))
        .execute(conn)?;
    let asks = if code { Asks::Code } else { Asks::Nothing };
    let zone = gyms::table.find(account.gym.0).select(gyms::zone).first::<Option<String>>(conn)?;
    let zone = crate::gym::read_zone(zone.as_deref());
    let mine = accounts::table.find((account.gym.0, account.id.0));
    let single_keys = mine.select(accounts::single_keys).first(conn)?;
    Ok(SignIn { id, account: account.clone(), csrf, asks, zone, single_keys })
}

/// Who it is, what is asked of them, and the zone of their hall.
type SignedIn =
    ((uuid::Uuid, String, String, String), (bool, bool, Option<DateTime<Utc>>), (Option<String>, bool));

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
        .inner_join(gyms::table.on(gyms::id.eq(sign_ins::gym_id)))
        .left_join(
            second_factors::table.on(second_factors::gym_id
                .eq(sign_ins::gym_id)
                .and(second_factors::account_id.eq(sign_ins::account_id))),
        )
        .filter(sign_ins::gym_id.eq(gym.0).and(sign_ins::id.eq(id.0)))
        .filter(sign_ins::created_at.gt(Utc::now() - Duration::days(DAYS)))
        .select((
            (accounts::id, accounts::name, accounts::role, sign_ins::csrf),
            (sign_ins::whole, gyms::second_factor, second_factors::proven_at.nullable()),
            (gyms::zone, accounts::single_keys),
        ))
        .first::<SignedIn>(conn)
        .optional()?;
    Ok(row.map(|((account, name, role, csrf), (whole, wanted, proven), (zone, single_keys))| SignIn {
        id,
        account: Account { gym, id: AccountId(account), name, role: role_of(&role) },
        csrf,
        asks: match (whole, wanted && proven.is_none()) {
            (false, _) => Asks::Code,
            (true, true) => Asks::Second,
            (true, false) => Asks::Nothing,
        },
        zone: crate::gym::read_zone(zone.as_deref()),
        single_keys,
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

/// A token or key as it is kept: whoever reads the table can use none.
pub(crate) fn hashed(token: &str) -> String {
    format!("{:x}", Sha256::digest(token.as_bytes()))
}

/// 244 random bits in hexadecimal, for links and tokens that nobody can guess.
pub fn token() -> String {
    format!("{}{}", uuid::Uuid::new_v4().simple(), uuid::Uuid::new_v4().simple())
}
