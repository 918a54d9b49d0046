//! Members' own pages: the link that opens one, and what members say of themselves until a coach answers.

use crate::account::{hashed, token};
use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId, MemberId, ProposalId};
use crate::schema::{bookings, classes, member_links, members, proposals, sessions};
use chrono::{DateTime, Duration, NaiveDateTime, Utc};
use diesel::prelude::*;
use lantern_core::roster::{MOST_WAITING, Proposal};
use lantern_core::timetable::Standing;
use uuid::Uuid;

/// Days after which a link ends.
pub const DAYS: i64 = 180;

/// A member's link as the coach sees it; the link itself is shown once.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PageLink {
    /// Who made it.
    pub made_by: String,
    /// When.
    pub made_at: DateTime<Utc>,
    /// When it ends.
    pub ends_at: DateTime<Utc>,
    /// When it was opened last.
    pub opened_at: Option<DateTime<Utc>>,
}

/// A new link to a member's own page; the one before ends with it. Gives the token: it is shown once.
///
/// # Errors
/// `NotFound` for a member of another gym, or who left.
pub fn renew(conn: &mut PgConnection, gym: GymId, member: MemberId, by: &str) -> Result<String> {
    conn.transaction(|conn| {
        let here = members::table.find((gym.0, member.0)).filter(members::left_on.is_null());
        here.select(members::id).first::<Uuid>(conn)?;
        diesel::delete(member_links::table.find((gym.0, member.0))).execute(conn)?;
        let secret = token();
        diesel::insert_into(member_links::table)
            .values((
                member_links::gym_id.eq(gym.0),
                member_links::member_id.eq(member.0),
                member_links::token_hash.eq(hashed(&secret)),
                member_links::made_by.eq(by),
                member_links::ends_at.eq(Utc::now() + Duration::days(DAYS)),
            ))
            .execute(conn)?;
        Ok(secret)
    })
}

/// Ends a member's link; whether there was one.
///
/// # Errors
/// When the database is away.
pub fn withdraw(conn: &mut PgConnection, gym: GymId, member: MemberId) -> Result<bool> {
    Ok(diesel::delete(member_links::table.find((gym.0, member.0))).execute(conn)? > 0)
}

/// A member's link, as long as it counts.
///
/// # Errors
/// When the database is away.
pub fn link(conn: &mut PgConnection, gym: GymId, member: MemberId) -> Result<Option<PageLink>> {
    let row = member_links::table
        .find((gym.0, member.0))
        .filter(member_links::ends_at.gt(Utc::now()))
        .select((
            member_links::made_by,
            member_links::made_at,
            member_links::ends_at,
            member_links::opened_at,
        ))
        .first(conn)
        .optional()?;
    Ok(row.map(|(made_by, made_at, ends_at, opened_at)| PageLink { made_by, made_at, ends_at, opened_at }))
}

/// Whose page a token opens, which is kept as opened now. The token is the only key, so this is not asked of one gym.
///
/// # Errors
/// `NotFound` for one that is withdrawn, over or was never made; it is withdrawn when a member leaves.
pub fn open(conn: &mut PgConnection, token: &str) -> Result<(GymId, MemberId)> {
    let found = member_links::table
        .filter(member_links::token_hash.eq(hashed(token)).and(member_links::ends_at.gt(Utc::now())))
        .select((member_links::gym_id, member_links::member_id))
        .first::<(Uuid, Uuid)>(conn)?;
    diesel::update(member_links::table.find(found))
        .set(member_links::opened_at.eq(Some(Utc::now())))
        .execute(conn)?;
    Ok((GymId(found.0), MemberId(found.1)))
}

/// A class that a member is booked for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Coming {
    /// Class.
    pub class: ClassId,
    /// Local time.
    pub starts_at: NaiveDateTime,
    /// Its sheet.
    pub sheet: String,
    /// Unguessable part of their card's link.
    pub card_token: String,
    /// A place, or waiting.
    pub standing: Standing,
}

/// Classes from a moment on that a member is booked for, the next first; at most so many.
///
/// # Errors
/// When the database is away.
pub fn coming(
    conn: &mut PgConnection,
    gym: GymId,
    member: MemberId,
    from: NaiveDateTime,
    most: i64,
) -> Result<Vec<Coming>> {
    let rows = bookings::table
        .inner_join(
            classes::table.on(classes::gym_id.eq(bookings::gym_id).and(classes::id.eq(bookings::class_id))),
        )
        .inner_join(
            sessions::table
                .on(sessions::gym_id.eq(classes::gym_id).and(sessions::id.eq(classes::session_id))),
        )
        .filter(bookings::gym_id.eq(gym.0).and(bookings::member_id.eq(member.0)))
        .filter(classes::starts_at.ge(from).and(classes::cancelled_at.is_null()))
        .order((classes::starts_at, classes::id))
        .limit(most)
        .select((classes::id, classes::starts_at, sessions::sheet, bookings::card_token))
        .load::<(Uuid, NaiveDateTime, String, String)>(conn)?;
    rows.into_iter()
        .map(|(class, starts_at, sheet, card_token)| {
            let class = ClassId(class);
            let all = crate::booking::sign_ups(conn, gym, class)?;
            let standing = all.iter().find(|b| b.member == member).map_or(Standing::Booked, |b| b.standing);
            Ok(Coming { class, starts_at, sheet, card_token, standing })
        })
        .collect()
}

/// Keeps what a member says of themselves.
///
/// # Errors
/// `Refused` where too many wait already; `NotFound` for a member of another gym.
pub fn propose(
    conn: &mut PgConnection,
    gym: GymId,
    member: MemberId,
    proposal: &Proposal,
) -> Result<ProposalId> {
    conn.transaction(|conn| {
        members::table.find((gym.0, member.0)).select(members::id).for_update().first::<Uuid>(conn)?;
        let waiting = proposals_of(conn, gym, member)?;
        if let Some(w) = waiting.iter().find(|w| w.proposal == *proposal) {
            return Ok(w.id);
        }
        if waiting.len() >= MOST_WAITING {
            return Err(StoreError::Refused);
        }
        let id = ProposalId::fresh();
        diesel::insert_into(proposals::table)
            .values((
                proposals::gym_id.eq(gym.0),
                proposals::id.eq(id.0),
                proposals::member_id.eq(member.0),
                proposals::body.eq(serde_json::to_value(proposal)?),
            ))
            .execute(conn)?;
        Ok(id)
    })
}

/// A proposal that waits.
#[derive(Debug, Clone, PartialEq)]
pub struct Waiting {
    /// Key.
    pub id: ProposalId,
    /// Whose.
    pub member: MemberId,
    /// What.
    pub proposal: Proposal,
    /// When it was made.
    pub made_at: DateTime<Utc>,
}

/// Proposals of members that wait, oldest first; of one member, or all.
fn waiting(conn: &mut PgConnection, gym: GymId, of: Option<MemberId>) -> Result<Vec<Waiting>> {
    let mut all = proposals::table
        .inner_join(
            members::table
                .on(members::gym_id.eq(proposals::gym_id).and(members::id.eq(proposals::member_id))),
        )
        .filter(proposals::gym_id.eq(gym.0).and(members::left_on.is_null()))
        .order(proposals::id)
        .select((proposals::id, proposals::member_id, proposals::body, proposals::made_at))
        .into_boxed();
    if let Some(member) = of {
        all = all.filter(proposals::member_id.eq(member.0));
    }
    let rows = all.load::<(Uuid, Uuid, serde_json::Value, DateTime<Utc>)>(conn)?;
    rows.into_iter()
        .map(|(id, member, body, made_at)| {
            let proposal = serde_json::from_value(body)?;
            Ok(Waiting { id: ProposalId(id), member: MemberId(member), proposal, made_at })
        })
        .collect()
}

/// Proposals of a hall's members that wait, oldest first.
///
/// # Errors
/// When the database is away.
pub fn proposals(conn: &mut PgConnection, gym: GymId) -> Result<Vec<Waiting>> {
    waiting(conn, gym, None)
}

/// Those of one member.
///
/// # Errors
/// When the database is away.
pub fn proposals_of(conn: &mut PgConnection, gym: GymId, member: MemberId) -> Result<Vec<Waiting>> {
    waiting(conn, gym, Some(member))
}

/// Takes a proposal: it is known of the member from now on. Two who press at once take it once.
///
/// # Errors
/// `NotFound` for one of another gym, or that was answered.
pub fn take(conn: &mut PgConnection, gym: GymId, id: ProposalId) -> Result<()> {
    conn.transaction(|conn| {
        let (member, body) = diesel::delete(proposals::table.find((gym.0, id.0)))
            .returning((proposals::member_id, proposals::body))
            .get_result::<(Uuid, serde_json::Value)>(conn)?;
        let proposal: Proposal = serde_json::from_value(body)?;
        crate::roster::change(conn, gym, MemberId(member), |m| proposal.taken(m))
    })
}

/// Puts a proposal away: of any member, or only where it is this member's.
///
/// # Errors
/// `NotFound` for one of another gym or member, or that was answered.
pub fn put_away(conn: &mut PgConnection, gym: GymId, id: ProposalId, of: Option<MemberId>) -> Result<()> {
    let found = proposals::table.filter(proposals::gym_id.eq(gym.0).and(proposals::id.eq(id.0)));
    let n = match of {
        Some(member) => diesel::delete(found.filter(proposals::member_id.eq(member.0))).execute(conn)?,
        None => diesel::delete(found).execute(conn)?,
    };
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Drops all of a member who is erased.
pub(crate) fn forget(conn: &mut PgConnection, gym: GymId, member: MemberId) -> Result<()> {
    withdraw(conn, gym, member)?;
    let of = proposals::table.filter(proposals::gym_id.eq(gym.0).and(proposals::member_id.eq(member.0)));
    diesel::delete(of).execute(conn)?;
    Ok(())
}
