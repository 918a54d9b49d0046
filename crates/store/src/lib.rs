//! PostgreSQL: the only crate that knows SQL. Every function takes the connection and the gym, answers one question or
//! makes one change, and gives core types.

pub mod account;
pub mod audit;
pub mod booking;
pub mod card;
pub mod carry;
pub mod class;
pub mod clock;
mod connect;
pub mod cut;
pub mod cycle;
pub mod decision;
pub mod door;
mod error;
pub mod feed;
pub mod gym;
mod ids;
pub mod kit;
pub mod learning;
pub mod lifting;
pub mod link;
pub mod logbook;
mod once;
pub mod own_page;
pub mod record;
pub mod roster;
mod schema;
pub mod second;
pub mod sheet;
pub mod shown;
#[cfg(feature = "testing")]
pub mod testing;
pub mod timetable;
pub mod whole;

pub use connect::{
    Connection, PlainConnection, Pool, connect, connect_one, in_one_step, migrate, revert_all, unknown_schema,
};
pub use error::{Result, StoreError};
pub use ids::{
    AccountId, ClassId, CycleId, EventId, GymId, LinkId, MemberId, ProposalId, RegularId, SessionId, SignInId,
};
pub use once::{Once, forget_old, once};
