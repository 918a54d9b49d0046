//! The floor: the wall for everybody, a card for each member.

pub mod card;
pub mod cards;
pub mod kept;
pub mod papers;
pub mod racks;
pub mod wall;
