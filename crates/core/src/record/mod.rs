//! The track record: how often results fell inside the range that was promised for them, how far middles lie off, and whether chances
//! that were said came.

mod landed;
mod share;
mod tally;

pub use landed::{Landed, Pair, Place, Promise, Said, Unjudged, outside};
pub use share::{Cluster, KEPT_WITHIN, LEAST_FOR_A_CLAIM, Share, Verdict};
pub use tally::{Bin, Cell, Middle, Record, Tallied, lean, record};

/// The promise: so many of a hundred results fall inside their range.
pub const PROMISED: f64 = 0.80;
