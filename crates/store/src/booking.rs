//! Who signed up for a class: in which order, who has a place, who waits, how they came.

use crate::account::token;
use crate::class;
use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId, MemberId};
use crate::schema::{bookings, classes, members};
use chrono::NaiveDate;
use diesel::prelude::*;
use lantern_core::timetable::{Came, Standing};
use uuid::Uuid;

/// Somebody who signed up.
#[derive(Debug, Clone, PartialEq)]
pub struct Booking {
    /// Who.
    pub member: MemberId,
    /// Name.
    pub name: String,
    /// A place, or waiting.
    pub standing: Standing,
    /// How they came, where it was not as booked.
    pub came: Option<Came>,
    /// Unguessable part of the card's link.
    pub card_token: String,
}

impl Booking {
    /// Whether the class is planned for them.
    pub fn planned(&self) -> bool {
        self.standing == Standing::Booked && self.came != Some(Came::NotAtAll)
    }
}

/// Everybody who signed up, in that order.
///
/// # Errors
/// When the database is away.
pub fn sign_ups(conn: &mut PgConnection, gym: GymId, id: ClassId) -> Result<Vec<Booking>> {
    let rows = bookings::table
        .inner_join(
            members::table.on(members::gym_id.eq(bookings::gym_id).and(members::id.eq(bookings::member_id))),
        )
        .inner_join(
            classes::table.on(classes::gym_id.eq(bookings::gym_id).and(classes::id.eq(bookings::class_id))),
        )
        .filter(bookings::gym_id.eq(gym.0).and(bookings::class_id.eq(id.0)))
        .order((bookings::position, members::name))
        .select((bookings::member_id, members::name, bookings::card_token, bookings::came, classes::places))
        .load::<(Uuid, String, String, Option<String>, Option<i32>)>(conn)?;
    let of = |(order, (member, name, card_token, came, places)): (
        usize,
        (_, _, _, Option<String>, Option<i32>),
    )| {
        let standing = Standing::of(order, places.and_then(|n| u32::try_from(n).ok()));
        let came = came.as_deref().and_then(Came::from_word);
        Booking { member: MemberId(member), name, standing, came, card_token }
    };
    Ok(rows.into_iter().enumerate().map(of).collect())
}

/// Who a class is planned for, in the order of sign-up: who has a place and did not stay away.
///
/// # Errors
/// When the database is away.
pub fn planned(conn: &mut PgConnection, gym: GymId, id: ClassId) -> Result<Vec<Booking>> {
    Ok(sign_ups(conn, gym, id)?.into_iter().filter(Booking::planned).collect())
}

/// Books members behind those who signed up before; who is booked already stays where they stand.
pub(crate) fn book(conn: &mut PgConnection, gym: GymId, id: ClassId, booked: &[MemberId]) -> Result<()> {
    let here = bookings::table.filter(bookings::gym_id.eq(gym.0).and(bookings::class_id.eq(id.0)));
    let last: Option<i32> = here.select(diesel::dsl::max(bookings::position)).first(conn)?;
    let next = last.map_or(0, |p| p.saturating_add(1));
    let rows: Vec<_> = booked
        .iter()
        .zip(next..)
        .map(|(m, position)| {
            (
                bookings::gym_id.eq(gym.0),
                bookings::class_id.eq(id.0),
                bookings::member_id.eq(m.0),
                bookings::position.eq(position),
                bookings::card_token.eq(token()),
            )
        })
        .collect();
    diesel::insert_into(bookings::table).values(rows).on_conflict_do_nothing().execute(conn)?;
    Ok(())
}

/// Holds a class until the change ends: of two who book at once the second stands behind the first.
fn hold(conn: &mut PgConnection, gym: GymId, id: ClassId) -> Result<()> {
    classes::table.find((gym.0, id.0)).select(classes::id).for_update().first::<Uuid>(conn)?;
    Ok(())
}

/// Takes some members out and books others behind all who signed up; cards of those who stay keep their links.
///
/// # Errors
/// `NotFound` when the class or a member is not this gym's.
pub fn change(
    conn: &mut PgConnection,
    gym: GymId,
    id: ClassId,
    added: &[MemberId],
    removed: &[MemberId],
) -> Result<()> {
    let removed: Vec<Uuid> = removed.iter().map(|m| m.0).collect();
    conn.transaction(|conn| {
        hold(conn, gym, id)?;
        let here = bookings::table.filter(bookings::gym_id.eq(gym.0).and(bookings::class_id.eq(id.0)));
        diesel::delete(here.filter(bookings::member_id.eq_any(&removed))).execute(conn)?;
        book(conn, gym, id, added)
    })
}

/// Keeps how somebody came; `None`: as booked.
///
/// # Errors
/// `NotFound` where they are not booked.
pub fn keep_came(
    conn: &mut PgConnection,
    gym: GymId,
    id: ClassId,
    member: MemberId,
    came: Option<Came>,
) -> Result<()> {
    let n = diesel::update(bookings::table.find((gym.0, id.0, member.0)))
        .set(bookings::came.eq(came.map(Came::word)))
        .execute(conn)?;
    if n == 0 { Err(StoreError::NotFound) } else { Ok(()) }
}

/// Who was booked at the same hour a week before, in their order; nobody where no class was held then.
///
/// # Errors
/// `NotFound` for a class of another gym.
pub fn week_before(conn: &mut PgConnection, gym: GymId, id: ClassId) -> Result<Vec<MemberId>> {
    let at = class::find(conn, gym, id)?.starts_at - chrono::Duration::weeks(1);
    let before = classes::table
        .filter(classes::gym_id.eq(gym.0).and(classes::starts_at.eq(at)).and(classes::cancelled_at.is_null()))
        .order(classes::id)
        .select(classes::id)
        .first::<Uuid>(conn)
        .optional()?;
    let Some(before) = before else { return Ok(Vec::new()) };
    Ok(sign_ups(conn, gym, ClassId(before))?.into_iter().map(|b| b.member).collect())
}

/// How somebody kept to their bookings from a day up to another, with it: booked, late, not at all.
///
/// # Errors
/// When the database is away.
pub fn kept(
    conn: &mut PgConnection,
    gym: GymId,
    member: MemberId,
    from: NaiveDate,
    to: NaiveDate,
) -> Result<[usize; 3]> {
    let all = bookings::table
        .inner_join(
            classes::table.on(classes::gym_id.eq(bookings::gym_id).and(classes::id.eq(bookings::class_id))),
        )
        .filter(bookings::gym_id.eq(gym.0).and(bookings::member_id.eq(member.0)))
        .filter(classes::starts_at.ge(from.and_time(chrono::NaiveTime::MIN)))
        .filter(classes::starts_at.lt((to + chrono::Duration::days(1)).and_time(chrono::NaiveTime::MIN)))
        .filter(classes::cancelled_at.is_null())
        .select(bookings::came)
        .load::<Option<String>>(conn)?;
    let of = |came: Came| all.iter().filter(|c| c.as_deref() == Some(came.word())).count();
    Ok([all.len(), of(Came::Late), of(Came::NotAtAll)])
}

/// Whose card a link opens: gym, class and member. The link itself is the only key, so this is the one question that is
/// not asked of one gym.
///
/// # Errors
/// `NotFound` for a link that opens nothing.
pub fn find_card(conn: &mut PgConnection, card_token: &str) -> Result<(GymId, ClassId, MemberId)> {
    let (gym, class, member) = bookings::table
        .filter(bookings::card_token.eq(card_token))
        .select((bookings::gym_id, bookings::class_id, bookings::member_id))
        .first::<(Uuid, Uuid, Uuid)>(conn)?;
    Ok((GymId(gym), ClassId(class), MemberId(member)))
}
