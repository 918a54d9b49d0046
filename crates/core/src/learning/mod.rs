//! What a hall's own results teach about the forecasts: how much later or sooner than foretold people end, for the hall, a format, a
//! kind of limit, a member, and how far results scatter. Pure: the state is worked out from the log, oldest class first, whenever
//! it is needed.
//!
//! A result is compared with what was foretold *before anything was learnt* ([`Base`]), in logarithms, late or few positive:
//! `late = hall + format + group + member + member's own in the group + class + noise`. The sum without the class and the noise moves a
//! forecast; how much of its variance is gone narrows it. Nothing learnt reaches the loads of strength or the guards of volume.

mod base;
mod effects;
mod learner;
mod learnt;
mod params;
mod say;

pub use base::{Base, Done, Format, Group, late};
pub use learner::{Held, Learner, Pull, Retest, Seen, Unlearnt};
pub use learnt::{Learnt, Shift, Times};
pub use params::{ASKED_FROM, OLDEST_DAYS};
pub use say::{
    MemberFigures, asked, format_words, group_words, hall_words, lean_words, member_figures, member_words,
    of_format, pull_words, surprise_words,
};

#[cfg(test)]
mod tests;
