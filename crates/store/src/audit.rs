//! Who changed what, when.

use crate::account::Account;
use crate::error::Result;
use crate::ids::{AccountId, GymId};
use crate::schema::{accounts, audit, classes, members};
use chrono::{DateTime, Duration, NaiveDateTime, Utc};
use diesel::prelude::*;
use lantern_core::people::Deed;
use std::collections::HashMap;
use uuid::Uuid;

/// Days for which it is kept (own): a season and the one before it.
pub const KEPT_DAYS: i64 = 400;
/// Longest detail, characters.
const MOST_DETAIL: usize = 120;

/// Keeps what somebody did.
///
/// # Errors
/// When the database is away.
pub fn keep(
    conn: &mut PgConnection,
    by: &Account,
    deed: Deed,
    subject: Option<Uuid>,
    detail: &str,
) -> Result<()> {
    let detail: String = detail.chars().take(MOST_DETAIL).collect();
    diesel::insert_into(audit::table)
        .values((
            audit::gym_id.eq(by.gym.0),
            audit::id.eq(Uuid::now_v7()),
            audit::account_id.eq(by.id.0),
            audit::by_name.eq(&by.name),
            audit::deed.eq(deed.word()),
            audit::subject.eq(subject),
            audit::detail.eq(detail),
        ))
        .execute(conn)?;
    Ok(())
}

/// Drops what is too old to be asked about.
///
/// # Errors
/// When the database is away.
pub fn forget_old(conn: &mut PgConnection, gym: GymId) -> Result<usize> {
    let before = Utc::now() - Duration::days(KEPT_DAYS);
    let old = audit::table.filter(audit::gym_id.eq(gym.0).and(audit::at.lt(before)));
    Ok(diesel::delete(old).execute(conn)?)
}

/// What a deed was about.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Subject {
    /// A class by its hour.
    Class(Uuid, NaiveDateTime),
    /// A member by name.
    Member(Uuid, String),
    /// Somebody who signs in, by name.
    Person(String),
}

/// A deed that was kept.
#[derive(Debug, Clone, PartialEq)]
pub struct Kept {
    /// Key: the next page begins before the last.
    pub id: Uuid,
    /// When.
    pub at: DateTime<Utc>,
    /// Who.
    pub by: String,
    /// What; none where this version has no word for it any more.
    pub deed: Option<Deed>,
    /// Of what, where it is still there.
    pub subject: Option<Subject>,
    /// More of it.
    pub detail: String,
}

/// Deeds of a hall, latest first: before one, of one account or of all; at most so many.
///
/// # Errors
/// When the database is away.
pub fn list(
    conn: &mut PgConnection,
    gym: GymId,
    before: Option<Uuid>,
    of: Option<AccountId>,
    most: i64,
) -> Result<Vec<Kept>> {
    let mut all = audit::table
        .filter(audit::gym_id.eq(gym.0))
        .order(audit::id.desc())
        .limit(most)
        .select((audit::id, audit::at, audit::by_name, audit::deed, audit::subject, audit::detail))
        .into_boxed();
    if let Some(before) = before {
        all = all.filter(audit::id.lt(before));
    }
    if let Some(of) = of {
        all = all.filter(audit::account_id.eq(of.0));
    }
    let rows = all.load::<(Uuid, DateTime<Utc>, String, String, Option<Uuid>, String)>(conn)?;
    let ids: Vec<Uuid> = rows.iter().filter_map(|r| r.4).collect();
    let named = subjects(conn, gym, &ids)?;
    Ok(rows
        .into_iter()
        .map(|(id, at, by, deed, subject, detail)| Kept {
            id,
            at,
            by,
            deed: Deed::from_word(&deed),
            subject: subject.and_then(|s| named.get(&s).cloned()),
            detail,
        })
        .collect())
}

/// What keys stand for now: a member who was erased has no name any more.
fn subjects(conn: &mut PgConnection, gym: GymId, ids: &[Uuid]) -> Result<HashMap<Uuid, Subject>> {
    let of_class = classes::table
        .filter(classes::gym_id.eq(gym.0).and(classes::id.eq_any(ids)))
        .select((classes::id, classes::starts_at))
        .load::<(Uuid, NaiveDateTime)>(conn)?;
    let of_member = members::table
        .filter(members::gym_id.eq(gym.0).and(members::id.eq_any(ids)))
        .select((members::id, members::name))
        .load::<(Uuid, String)>(conn)?;
    let of_person = accounts::table
        .filter(accounts::gym_id.eq(gym.0).and(accounts::id.eq_any(ids)))
        .select((accounts::id, accounts::name))
        .load::<(Uuid, String)>(conn)?;
    let classes = of_class.into_iter().map(|(id, at)| (id, Subject::Class(id, at)));
    let members = of_member.into_iter().map(|(id, name)| (id, Subject::Member(id, name)));
    let people = of_person.into_iter().map(|(id, name)| (id, Subject::Person(name)));
    Ok(classes.chain(members).chain(people).collect())
}
