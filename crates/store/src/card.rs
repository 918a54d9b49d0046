//! What became of members' cards: sent, opened, put on paper.

use crate::error::{Result, StoreError};
use crate::ids::{ClassId, GymId, MemberId};
use crate::schema::bookings;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use std::collections::HashMap;
use uuid::Uuid;

/// How a card went to its member.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    /// The coach copied its link.
    Sent,
    /// The member opened it.
    Opened,
    /// It stood on a page to be printed.
    OnPaper,
}

/// When a card went each way last.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Went {
    /// Its link was copied.
    pub sent: Option<DateTime<Utc>>,
    /// It was opened.
    pub opened: Option<DateTime<Utc>>,
    /// It was put on paper.
    pub on_paper: Option<DateTime<Utc>>,
}

type Times = (Option<DateTime<Utc>>, Option<DateTime<Utc>>, Option<DateTime<Utc>>);

/// What became of the cards of a class.
///
/// # Errors
/// When the database is away.
pub fn of_class(conn: &mut PgConnection, gym: GymId, class: ClassId) -> Result<HashMap<MemberId, Went>> {
    let rows = bookings::table
        .filter(bookings::gym_id.eq(gym.0).and(bookings::class_id.eq(class.0)))
        .select((
            bookings::member_id,
            (bookings::card_sent_at, bookings::card_opened_at, bookings::card_paper_at),
        ))
        .load::<(Uuid, Times)>(conn)?;
    let of = |(m, (sent, opened, on_paper))| (MemberId(m), Went { sent, opened, on_paper });
    Ok(rows.into_iter().map(of).collect())
}

/// Keeps that cards went a way now: one member's, or everybody's.
///
/// # Errors
/// `NotFound` where nobody of this gym is booked so.
pub fn went(
    conn: &mut PgConnection,
    (gym, class): (GymId, ClassId),
    member: Option<MemberId>,
    way: Way,
) -> Result<()> {
    let mut of = diesel::update(bookings::table)
        .filter(bookings::gym_id.eq(gym.0).and(bookings::class_id.eq(class.0)))
        .into_boxed();
    if let Some(m) = member {
        of = of.filter(bookings::member_id.eq(m.0));
    }
    let now = Some(Utc::now());
    let changed = match way {
        Way::Sent => of.set(bookings::card_sent_at.eq(now)).execute(conn)?,
        Way::Opened => of.set(bookings::card_opened_at.eq(now)).execute(conn)?,
        Way::OnPaper => of.set(bookings::card_paper_at.eq(now)).execute(conn)?,
    };
    if changed == 0 && member.is_some() { Err(StoreError::NotFound) } else { Ok(()) }
}
