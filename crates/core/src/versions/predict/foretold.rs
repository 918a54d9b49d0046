//! What was foretold before results moved it, as a learner compares it with what is done.

use crate::learning::{Foretold, Format, Group};
use crate::pacing::{Forecast, Scored, Z80, ln};
use crate::versions::work::{Clock, Work};

/// No side of a range is narrower than this, in logarithms: a forecast of whole rounds may have no width.
const LEAST_SD: f64 = 0.02;

/// Kind of work.
pub fn format_of(work: &Work) -> Format {
    let single = work.lines.len() == 1;
    match work.clock() {
        _ if work.sections.len() > 1 => Format::List,
        Clock::Amrap(_) => Format::Open,
        _ if !work.for_time() => Format::Windows,
        _ if single => Format::Single,
        Clock::Scheme(_) => Format::Scheme,
        Clock::Rounds(n) if n > 1 => Format::Rounds,
        _ => Format::List,
    }
}

/// The forecast in the unit of its result; `None` where a result is no ratio of it: rest that is left.
pub(super) fn foretold(work: &Work, many: &Forecast, convert: impl Fn(f64) -> f64) -> Option<Foretold> {
    if many.scored == Scored::Margin {
        return None;
    }
    let at = |p: f64| convert(many.quantile(p));
    let (low, middle, high) = (at(0.1), at(0.5), at(0.9));
    let sd = |a: f64, b: f64| Some(ln(b / a) / Z80).filter(|v| v.is_finite()).map(|v| v.max(LEAST_SD));
    let (down, up) = (sd(low, middle), sd(middle, high));
    let (down, up) = (down.or(up)?, up.or(down)?);
    let (better, worse) = if many.scored == Scored::Time { (down, up) } else { (up, down) };
    let sound = middle.is_finite() && middle > 0.0;
    sound.then(|| Foretold {
        middle,
        better,
        worse,
        format: format_of(work),
        group: Group::of(&many.hangs_on),
    })
}
