//! Links that are used once: to join a hall, or to set a new password. Whoever has the link may use it, so only a hash of it is kept.

use crate::account::{Account, Role, Secret, add_with, hashed, role_of, token};
use crate::error::{Result, StoreError};
use crate::ids::{AccountId, GymId, LinkId};
use crate::schema::{accounts, links, sign_ins};
use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use uuid::Uuid;

/// Days until an invitation ends.
pub const JOIN_DAYS: i64 = 7;
/// Hours until a link for a new password ends.
pub const RESET_HOURS: i64 = 24;

/// A link that waits to be used.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Link {
    /// Gym.
    pub gym: GymId,
    /// Key.
    pub id: LinkId,
    /// Whose new password; none: somebody new joins.
    pub account: Option<AccountId>,
    /// E-mail that signs in.
    pub email: String,
    /// Name on pages.
    pub name: String,
    /// What they may do.
    pub role: Role,
    /// Who made it.
    pub made_by: String,
    /// When it ends.
    pub ends_at: DateTime<Utc>,
}

type Columns = (Uuid, Uuid, Option<Uuid>, String, String, String, String, DateTime<Utc>);

macro_rules! columns {
    () => {
        (
            links::gym_id,
            links::id,
            links::account_id,
            links::email,
            links::name,
            links::role,
            links::made_by,
            links::ends_at,
        )
    };
}

fn of((gym, id, account, email, name, role, made_by, ends_at): Columns) -> Link {
    let role = role_of(&role);
    Link {
        gym: GymId(gym),
        id: LinkId(id),
        account: account.map(AccountId),
        email,
        name,
        role,
        made_by,
        ends_at,
    }
}

/// A link by which somebody new joins; one for the same address before ends with it. Gives the token: it is shown once.
///
/// # Errors
/// `Taken` when the address has an account.
pub fn invite(
    conn: &mut PgConnection,
    gym: GymId,
    by: &str,
    (email, name, role): (&str, &str, Role),
) -> Result<String> {
    let email = email.trim().to_lowercase();
    let used = accounts::table
        .filter(accounts::gym_id.eq(gym.0).and(accounts::email.eq(&email)))
        .count()
        .get_result::<i64>(conn)?
        > 0;
    if used {
        return Err(StoreError::Taken(format!("An account with {email}")));
    }
    conn.transaction(|conn| {
        let before = links::table.filter(links::gym_id.eq(gym.0).and(links::email.eq(&email)));
        diesel::delete(before.filter(links::account_id.is_null())).execute(conn)?;
        make(conn, gym, by, None, (&email, name, role), Duration::days(JOIN_DAYS))
    })
}

/// A link by which somebody of the gym sets a new password; one before ends with it.
///
/// # Errors
/// `NotFound` for an account of another gym.
pub fn reset(conn: &mut PgConnection, gym: GymId, by: &str, account: AccountId) -> Result<String> {
    conn.transaction(|conn| {
        let (email, name, role) = accounts::table
            .find((gym.0, account.0))
            .select((accounts::email, accounts::name, accounts::role))
            .first::<(String, String, String)>(conn)?;
        let before = links::table.filter(links::gym_id.eq(gym.0).and(links::account_id.eq(account.0)));
        diesel::delete(before).execute(conn)?;
        make(conn, gym, by, Some(account), (&email, &name, role_of(&role)), Duration::hours(RESET_HOURS))
    })
}

fn make(
    conn: &mut PgConnection,
    gym: GymId,
    by: &str,
    account: Option<AccountId>,
    (email, name, role): (&str, &str, Role),
    lasts: Duration,
) -> Result<String> {
    let secret = token();
    diesel::insert_into(links::table)
        .values((
            links::gym_id.eq(gym.0),
            links::id.eq(LinkId::fresh().0),
            links::account_id.eq(account.map(|a| a.0)),
            links::email.eq(email),
            links::name.eq(name),
            links::role.eq(role.word()),
            links::token_hash.eq(hashed(&secret)),
            links::made_by.eq(by),
            links::ends_at.eq(Utc::now() + lasts),
        ))
        .execute(conn)?;
    Ok(secret)
}

/// The link behind a token, as long as it counts. The token is the only key, so this is not asked of one gym.
///
/// # Errors
/// `NotFound` for one that is used, withdrawn, over or was never made.
pub fn find(conn: &mut PgConnection, token: &str) -> Result<Link> {
    let row = links::table
        .filter(links::token_hash.eq(hashed(token)).and(links::ends_at.gt(Utc::now())))
        .select(columns!())
        .first::<Columns>(conn)?;
    Ok(of(row))
}

/// Links of a gym that wait, latest first.
///
/// # Errors
/// When the database is away.
pub fn list(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Link>> {
    let rows = links::table
        .filter(links::gym_id.eq(gym.0).and(links::ends_at.gt(Utc::now())))
        .order(links::id.desc())
        .select(columns!())
        .load::<Columns>(conn)?;
    Ok(rows.into_iter().map(of).collect())
}

/// Ends a link unused.
///
/// # Errors
/// `NotFound` for a link of another gym.
pub fn withdraw(conn: &mut PgConnection, gym: GymId, id: LinkId) -> Result<()> {
    match diesel::delete(links::table.find((gym.0, id.0))).execute(conn)? {
        0 => Err(StoreError::NotFound),
        _ => Ok(()),
    }
}

/// Uses a link: an account with this name and password, or a new password for the one it is for, whose sign-ins end. It can be used
/// once, whoever is faster.
///
/// # Errors
/// `NotFound` when it does not count any more; `Taken` when the address has an account by now.
pub fn redeem(conn: &mut PgConnection, token: &str, name: &str, password: &Secret) -> Result<Account> {
    conn.transaction(|conn| {
        let link = find(conn, token)?;
        if diesel::delete(links::table.find((link.gym.0, link.id.0))).execute(conn)? == 0 {
            return Err(StoreError::NotFound);
        }
        let gym = link.gym;
        let Some(id) = link.account else {
            let id = add_with(conn, gym, (&link.email, name, link.role), password)?;
            return Ok(Account { gym, id, name: name.to_owned(), role: link.role });
        };
        let of = accounts::table.find((gym.0, id.0));
        diesel::update(of).set(accounts::password_hash.eq(password.kept())).execute(conn)?;
        let ins = sign_ins::table.filter(sign_ins::gym_id.eq(gym.0).and(sign_ins::account_id.eq(id.0)));
        diesel::delete(ins).execute(conn)?;
        Ok(Account { gym, id, name: link.name, role: link.role })
    })
}
