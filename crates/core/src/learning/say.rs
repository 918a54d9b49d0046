//! What was learnt, in plain words.

use super::foretold::{Foretold, Format, Group};
use super::learner::{LeftOut, Pull, Unlearnt};
use super::learnt::Learnt;
use super::params::ASKED_FROM;
use crate::pacing::Z80;
use chrono::NaiveDate;

/// No end of a range counts as nearer to its middle than this, in logarithms: printed figures are coarse.
const LEAST_END: f64 = 0.05;
/// Under this a difference is none to speak of, in per cent.
const SAME: f64 = 1.5;

/// A kind of work, in a few words.
pub fn format_words(format: Format) -> &'static str {
    match format {
        Format::Rounds => "rounds against the clock",
        Format::Scheme => "falling and rising schemes",
        Format::List => "long lists",
        Format::Single => "single movements",
        Format::Open => "open lists",
        Format::Windows => "windows and stations",
    }
}

/// What limits, in a few words.
pub fn group_words(group: Group) -> &'static str {
    match group {
        Group::Engine => "engine",
        Group::Speed => "quick hands",
        Group::Legs => "legs",
        Group::Push => "pressing",
        Group::Pull => "pulling",
        Group::Core => "core",
        Group::Calf => "jumping and rope",
    }
}

/// `about 6 % slower`, `no faster and no slower`; from a lateness in logarithms.
fn than(late: f64) -> String {
    let percent = (late.exp() - 1.0) * 100.0;
    match percent {
        p if p.abs() < SAME => "no faster and no slower".to_owned(),
        p if p > 0.0 => format!("about {p:.0} % slower"),
        p => format!("about {:.0} % faster", -p),
    }
}

/// What the hall's results say of all its forecasts.
pub fn hall_words(results: u32, late: f64) -> String {
    let so_far = match results {
        0 => return "No result has taught me anything yet: every range is as wide as it starts.".to_owned(),
        1 => "One result".to_owned(),
        n => format!("{n} results"),
    };
    format!("{so_far} so far: this hall is {} than I first think.", than(late))
}

/// The same for one kind of work, and how sure it is, per cent either way.
pub fn of_format(late: f64, sd: f64) -> (String, f64) {
    (than(late), ((Z80 * sd).exp() - 1.0) * 100.0)
}

/// What was learnt of a member in what they did most often.
#[derive(Debug, Clone, PartialEq)]
pub struct MemberFigures {
    /// Results of their own.
    pub results: u32,
    /// The first of them.
    pub since: Option<NaiveDate>,
    /// Slower or faster than first thought, in words.
    pub than: String,
    /// Kind of work and what limits it, in words.
    pub work: String,
    /// Half of an 80 % range before any result and now, per cent.
    pub half_percent: [f64; 2],
}

/// Figures of a member; `None` before a result of their own.
pub fn member_figures(learnt: &Learnt) -> Option<MemberFigures> {
    let most = learnt.done.iter().max_by_key(|d| d.times)?;
    let (sd, format, group) = (learnt.usual_sd, most.format, most.group);
    let shift = learnt.shift(&Foretold { middle: 1.0, better: sd, worse: sd, format, group })?;
    let half = |sd: f64| ((Z80 * sd).exp() - 1.0) * 100.0;
    Some(MemberFigures {
        results: learnt.results,
        since: learnt.since,
        than: than(shift.late),
        work: format!("{} where {} limits", format_words(format), group_words(group)),
        half_percent: [half(sd), half(sd * shift.width)],
    })
}

/// The same in a sentence.
pub fn member_words(learnt: &Learnt) -> Option<String> {
    let f = member_figures(learnt)?;
    let results = if f.results == 1 { "1 result".to_owned() } else { format!("{} results", f.results) };
    let since = f.since.map_or_else(|| "the first class".to_owned(), day);
    let [before, now] = f.half_percent;
    let MemberFigures { than, work, .. } = f;
    Some(format!(
        "Since {since}, {results}: {than} than I first think in {work}. Ranges were ± {before:.0} %, now ± {now:.0} %."
    ))
}

fn day(date: NaiveDate) -> String {
    date.format("%-d %B").to_string()
}

/// Whether a result is so far from its range that it is asked about, in words: `range` its low end, middle and high end.
pub fn asked(range: [f64; 3], result: f64, time: bool) -> Option<String> {
    let [low, middle, high] = range;
    let sure = low > 0.0 && middle > 0.0 && result > 0.0;
    let off = sure.then(|| (result / middle).ln())?;
    let end = if off > 0.0 { (high / middle).ln() } else { (middle / low).ln() };
    let sds = off * Z80 / end.max(LEAST_END);
    if sds.abs() <= ASKED_FROM {
        return None;
    }
    let by = match (time, off > 0.0) {
        (true, true) => "slower",
        (true, false) => "faster",
        (false, true) => "more",
        (false, false) => "less",
    };
    Some(format!(
        "Far {by} than any run I made. Is it typed right, and was it this version? As it stands it counts in the record and teaches me nothing."
    ))
}

/// What a result did to its member's forecasts.
pub fn pull_words(pull: &Pull) -> String {
    match pull.unlearnt {
        Some(Unlearnt::LeftOut) => "left out".to_owned(),
        Some(Unlearnt::TooFar) => "too far from any run I made: teaches nothing".to_owned(),
        Some(Unlearnt::AtCap) => "at the cap, as expected: teaches nothing".to_owned(),
        Some(Unlearnt::NoForecast) => "nothing to compare it with".to_owned(),
        None => {
            let by = (pull.moved.exp() - 1.0) * 100.0;
            match by {
                b if b.abs() < 0.05 => "moved nothing".to_owned(),
                b if b > 0.0 => format!("made such work {b:.1} % slower"),
                b => format!("made such work {:.1} % faster", -b),
            }
        }
    }
}

/// Why a result is left out, in words.
pub fn left_out_words(why: LeftOut) -> &'static str {
    match why {
        LeftOut::OddDay => "not a normal day",
        LeftOut::OtherWork => "other work than planned",
        LeftOut::Forgotten => "forgotten",
    }
}

/// How a result lay to what was expected of it then, `8 % later than expected`; for counts late is few.
pub fn surprise_words(pull: &Pull) -> String {
    let by = (pull.surprise.exp() - 1.0) * 100.0;
    match by {
        b if b.abs() < 0.5 => "as expected".to_owned(),
        b if b > 0.0 => format!("{b:.0} % slower than expected"),
        b => format!("{:.0} % faster than expected", -b),
    }
}

/// A member who leans one way for long, in words.
pub fn lean_words(late: f64) -> String {
    format!(
        "Eight weeks and more of results lie {}: a new test would tell whether they have changed.",
        than(late)
    )
}
