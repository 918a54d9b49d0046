//! What a hall's own results teach about the forecasts: how much later or sooner than foretold people end, for the hall, a format, a
//! kind of limit, a member, and how far results scatter. Pure: the state is worked out from the log, oldest class first, whenever
//! it is needed.
//!
//! A result is compared with what was foretold *before anything was learnt* ([`Foretold`]), in logarithms, late or few positive:
//! `late = hall + format + group + member + member's own in the group + class + noise`. The sum without the class and the noise moves a
//! forecast; how much of its variance is gone narrows it. Nothing learnt reaches the loads of strength or the guards of volume.

mod effects;
mod foretold;
mod learner;
mod learnt;
mod params;
mod say;

pub use foretold::{Foretold, Format, Group, late};
pub use learner::{Held, Learner, LeftOut, Pull, Retest, Seen, Unlearnt, first_day};
pub use learnt::{Learnt, Shift, Times};
pub use say::{
    MemberFigures, asked, format_words, group_words, hall_words, lean_words, left_out_words, member_figures,
    member_words, of_format, pull_words, surprise_words,
};

#[cfg(test)]
mod tests;
