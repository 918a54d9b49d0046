//! Volume guards: how much of a pattern a member may meet in one session, whatever they could do today. All figures are
//! our own; they are cautions, not physiology.

use super::amount::{LEAST_CLOCK_S, scheme_within};
use super::personal::Personal;
use crate::kinds::{Gear, Pattern};
use crate::movement::catalogue;
use crate::pacing::Level;
use crate::reason::{BoundFrom, OfLine};
use crate::roster::{Member, Volume};
use crate::units::{Standard, Unit};
use crate::versions::work::{Clock, Line, Work, friendly_at_most};
use chrono::NaiveDate;

/// A pattern that is guarded.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Guard {
    /// Key in the log.
    pub id: &'static str,
    /// As it is said.
    pub name: &'static str,
    /// Most reps in a session for somebody with none of it logged (own).
    pub most: f64,
}

/// All of them.
pub const GUARDS: [Guard; 8] = [
    Guard { id: "body-row", name: "body rows", most: 80.0 },
    Guard { id: "vertical-pull", name: "vertical pulls", most: 60.0 },
    Guard { id: "push", name: "push-ups and dips", most: 100.0 },
    Guard { id: "handstand", name: "handstand push-ups", most: 40.0 },
    Guard { id: "squat", name: "squats and lunges", most: 150.0 },
    Guard { id: "box-jump", name: "box jumps", most: 60.0 },
    Guard { id: "hinge", name: "hinges", most: 100.0 },
    Guard { id: "rope", name: "rope turns", most: 400.0 },
];
/// Days of the log that count.
const LATELY_DAYS: i64 = 28;
/// At most so many times the largest of those days (own).
const TIMES_LARGEST: f64 = 2.0;
/// A gap of so many days or more ...
const GAP_DAYS: i64 = 14;
/// Of what a stranger may meet, for somebody new of whom no log says anything (own).
const NEW_SHARE: f64 = 0.5;
/// ... and for a regular, who trains somewhere even where no log says so: only what is extreme (own).
const REGULAR_SHARE: f64 = 2.5;
/// ... halves what is allowed (own).
const AFTER_GAP: f64 = 0.5;

/// The guard that a movement falls under.
pub fn guard_of(id: &str) -> Option<&'static Guard> {
    let m = catalogue().movement(id)?;
    let guard = match m.pattern {
        _ if m.needs(Gear::JumpRope) => "rope",
        Pattern::Jump if m.needs(Gear::Box) => "box-jump",
        _ if id.contains("handstand-push-up") => "handstand",
        Pattern::PullVertical => "vertical-pull",
        Pattern::PullHorizontal if id == "ring-row" => "body-row",
        Pattern::PushHorizontal => "push",
        Pattern::PushVertical if id.contains("dip") => "push",
        Pattern::Squat | Pattern::Lunge => "squat",
        Pattern::Hinge => "hinge",
        Pattern::PullHorizontal
        | Pattern::PushVertical
        | Pattern::Olympic
        | Pattern::Core
        | Pattern::Jump
        | Pattern::Carry
        | Pattern::Locomotion
        | Pattern::Mono => return None,
    };
    GUARDS.iter().find(|g| g.id == guard)
}

/// Reps of each guarded pattern in a work; `rounds`: times through an open list, `None` counts open lists as nothing.
pub fn volume(work: &Work, standard: Standard, rounds: Option<f64>) -> Volume {
    let mut out = Volume::new();
    for i in 0..work.lines.len() {
        let Some((guard, reps)) = reps_of(work, i, standard, rounds) else { continue };
        *out.entry(guard.id.to_owned()).or_insert(0.0) += reps;
    }
    out
}

fn reps_of(work: &Work, i: usize, standard: Standard, rounds: Option<f64>) -> Option<(&'static Guard, f64)> {
    let line = work.lines.get(i).filter(|l| l.unit == Unit::Reps)?;
    let guard = guard_of(&line.movement)?;
    let open =
        || Some(line.count(0, standard) * rounds? + line.rise * (rounds? * (rounds? - 1.0)).max(0.0) / 2.0);
    // what a team shares is a part of it for each
    let each = work.team.map_or(1.0, |t| f64::from(t.size.max(1)));
    Some((guard, work.total(i, standard).or_else(open)? / each))
}

/// What a member may do of a pattern in one session, and why.
#[derive(Debug, Clone, PartialEq)]
pub struct Bound {
    /// Most reps.
    pub most: f64,
    /// Where it comes from.
    pub from: BoundFrom,
    /// They come back after so many days: half.
    pub away_days: Option<i64>,
}

impl Bound {
    /// Why so much of a pattern is cut.
    fn reason(&self, total: f64, guard: &Guard) -> OfLine {
        let Bound { most, from, away_days } = *self;
        OfLine::Volume { total, pattern: guard.name.to_owned(), most, of: from, away_days }
    }
}

/// The bound of a guard on a day; `None` where no log says anything about the member.
pub fn bound(member: &Member, guard: &Guard, today: NaiveDate) -> Option<Bound> {
    let since = |d: NaiveDate| (today - d).num_days();
    // what is logged of the day itself does not change what was asked of it
    let of_today = member.sessions.iter().filter(|s| since(s.date) <= 0).count();
    let Some(logged) = member.sessions_logged else { return of_level(member, guard) };
    let logged = logged.saturating_sub(of_today as u32);
    if logged == 0 {
        return Some(Bound { most: guard.most, from: BoundFrom::FirstDay, away_days: None });
    }
    // sessions held before this log began say nothing about how much was done in them
    let before = member.sessions.iter().map(|s| s.date).chain(member.last_session).filter(|d| since(*d) > 0);
    let last = before.max()?;
    let largest = member
        .sessions
        .iter()
        .filter(|s| (1..=LATELY_DAYS).contains(&since(s.date)))
        .filter_map(|s| s.reps.get(guard.id))
        .fold(0.0, |a: f64, b| a.max(*b));
    // nobody is held under what a stranger would be allowed
    let (whole, from) = if TIMES_LARGEST * largest > guard.most {
        let whole = TIMES_LARGEST * largest;
        (whole, BoundFrom::TwiceLargest { largest, whole })
    } else if largest > 0.0 {
        (guard.most, BoundFrom::Largest { largest, whole: guard.most })
    } else {
        (guard.most, BoundFrom::NoneLately { whole: guard.most })
    };
    let away_days = Some(since(last)).filter(|days| *days >= GAP_DAYS);
    let most = if away_days.is_some() { (whole * AFTER_GAP).floor() } else { whole };
    Some(Bound { most, from, away_days })
}

/// The bound of somebody of whom no log says anything: half of a stranger's for who is new, two and a half of it for a regular, none
/// for who has trained for years.
fn of_level(member: &Member, guard: &Guard) -> Option<Bound> {
    let share = match member.level {
        Level::New => NEW_SHARE,
        Level::Regular => REGULAR_SHARE,
        Level::Seasoned | Level::Competitive => return None,
    };
    let most = (guard.most * share).floor();
    Some(Bound { most, from: BoundFrom::Unknown { new: share < 1.0 }, away_days: None })
}

/// Cuts the lines of every pattern of which a version asks more than the middle of those for whom it is made may meet; the lines.
pub fn cap_to(work: &mut Work, most: &Volume, standard: Standard) -> Vec<usize> {
    let mut out = Vec::new();
    for (id, most) in most {
        let of = |l: &Line| l.unit == Unit::Reps && guard_of(&l.movement).is_some_and(|g| g.id == id);
        let mine: Vec<usize> = (0..work.lines.len()).filter(|i| work.lines.get(*i).is_some_and(of)).collect();
        let total: f64 = mine.iter().filter_map(|i| reps_of(work, *i, standard, None)).map(|(_, n)| n).sum();
        if total <= most + 0.5 {
            continue;
        }
        for i in mine {
            let Some(line) = work.lines.get_mut(i) else { continue };
            cut(line, (most / total).max(LEAST_CUT));
            out.push(i);
        }
    }
    out
}

/// A version has no less of a line than this share of the one above.
const LEAST_CUT: f64 = 0.55;

/// A share of a line's reps in friendly numbers, never more than the share.
fn cut(line: &mut Line, share: f64) {
    if line.counts.len() > 1
        && let Some(scheme) = scheme_within(&line.counts, share)
    {
        line.counts = scheme;
        return;
    }
    let less = |v: f64| friendly_at_most(&line.movement, v * share);
    let even = |v: f64| if line.per_side { ((v / 2.0).floor() * 2.0).max(2.0) } else { v };
    line.counts = line.counts.iter().map(|c| c.map(|v| even(less(v)))).collect();
    line.rise = if line.rise > 0.0 { (line.rise * share).floor() } else { line.rise };
}

/// Caps the reps of every pattern that crosses its bound: they could do them today and would be very sore tomorrow.
/// `rounds`: times that an open list is expected to be done; `by_time`: an open clock is cut instead of the reps.
pub fn guard_volume(
    work: &mut Work,
    member: &Member,
    today: NaiveDate,
    rounds: Option<f64>,
    by_time: bool,
) -> Vec<Personal> {
    let mut out = Vec::new();
    // fewer reps of an open list are more rounds of it: without a log nobody's list is cut for that
    if rounds.is_some() && member.sessions_logged.is_none() {
        return out;
    }
    for guard in &GUARDS {
        let Some(bound) = bound(member, guard, today) else { continue };
        let of = |l: &Line| guard_of(&l.movement).is_some_and(|g| g.id == guard.id);
        let total: f64 = (0..work.lines.len())
            .filter(|i| work.lines.get(*i).is_some_and(of))
            .filter_map(|i| reps_of(work, i, member.standard, rounds))
            .map(|(_, n)| n)
            .sum();
        if total <= bound.most + 0.5 {
            continue;
        }
        let f = bound.most / total;
        if let (true, Clock::Amrap(t)) = (by_time && work.one_amrap(), work.clock()) {
            // whole minutes, rounded down: the same work for less time
            let to = ((f64::from(t) * f / 60.0).floor() as u32 * 60).max(LEAST_CLOCK_S);
            let line = (0..work.lines.len()).find(|i| work.lines.get(*i).is_some_and(of)).unwrap_or(0);
            work.shorten(to);
            let reason = bound.reason(total, guard);
            out.push(Personal::own(line, work.clock_text(), reason));
            return out;
        }
        for (i, line) in work.lines.iter_mut().enumerate().filter(|(_, l)| l.unit == Unit::Reps && of(l)) {
            cut(line, f);
            let reason = bound.reason(total, guard);
            out.push(Personal::own(i, line.text_for(member.standard), reason));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::roster::Session;
    use crate::sheet::read;
    use crate::units::WeightUnit;
    use proptest::prelude::*;

    fn day(n: u32) -> NaiveDate {
        NaiveDate::from_ymd_opt(2026, 11, n).unwrap()
    }

    fn work(text: &str) -> Work {
        Work::from_block(&read(text).sheet.blocks[0]).unwrap()
    }

    fn member(pulls: &[(u32, f64)]) -> Member {
        let mut m = Member::unknown("Bo", Standard::Heavier, Level::Regular);
        m.sessions_logged = Some(pulls.len() as u32);
        m.last_session = pulls.iter().map(|(d, _)| day(*d)).max();
        m.sessions = pulls
            .iter()
            .map(|(d, n)| Session { date: day(*d), reps: [("vertical-pull".to_owned(), *n)].into() })
            .collect();
        m
    }

    #[test]
    fn the_log_of_four_weeks_sets_the_bound() {
        let g = guard_of("pull-up").unwrap();
        let most = |m: &Member| bound(m, g, day(25)).map(|b| b.most);
        assert_eq!(most(&member(&[])), Some(60.0), "nothing logged");
        assert_eq!(most(&member(&[(20, 45.0), (23, 30.0)])), Some(90.0), "twice the largest");
        assert_eq!(most(&member(&[(23, 20.0)])), Some(60.0), "never under a stranger's");
        assert_eq!(most(&member(&[(10, 45.0)])), Some(45.0), "half of it after 15 days away");
        let before = Member { sessions_logged: Some(40), last_session: None, ..member(&[]) };
        assert_eq!(most(&before), None, "sessions before the log say nothing");
        assert!(bound(&member(&[(10, 45.0)]), g, day(25)).unwrap().away_days == Some(15));
    }

    #[test]
    fn a_crossed_bound_caps_the_reps_and_says_why() {
        let mut w = work("# workout\n5 rounds for time\n20 pull-ups\n10 push-ups");
        let personal = guard_volume(&mut w, &member(&[(20, 40.0)]), day(25), None, false);
        assert_eq!(w.lines[0].counts, vec![[16.0; 2]]);
        assert_eq!(w.lines[1].counts, vec![[10.0; 2]], "50 push-ups are fine");
        assert_eq!(
            personal[0].says(WeightUnit::Kg),
            "100 vertical pulls in all, twice the 40 of the largest day in the last 4 weeks is 80."
        );
    }

    #[test]
    fn an_open_list_is_guarded_by_the_rounds_that_are_expected() {
        let text = "# workout\namrap 20:00\n10 pull-ups\n10 air squats";
        let mut w = work(text);
        assert!(guard_volume(&mut w, &member(&[]), day(25), Some(5.0), false).is_empty());
        assert!(!guard_volume(&mut w, &member(&[]), day(25), Some(9.0), false).is_empty());
        assert!(w.lines[0].counts[0][0] * 9.0 <= 60.0);
        assert_eq!(volume(&work(text), Standard::Heavier, Some(4.0)).get("squat"), Some(&40.0));
        // where the hall cuts time, 90 pulls in 20 minutes become 60 in 13
        let mut w = work(text);
        let personal = guard_volume(&mut w, &member(&[]), day(25), Some(9.0), true);
        assert_eq!((w.clock(), w.shortened_from), (Clock::Amrap(780), Some(1200)));
        assert_eq!(w.lines[0].counts, vec![[10.0; 2]], "the work stays as it is");
        assert!(personal[0].text.contains("13:00"), "{personal:?}");
    }

    proptest! {
        #[test]
        fn no_total_crosses_its_bound(n in 1u32..60, rounds in 1u32..10, largest in 0f64..120.0, ago in 1u32..20) {
            let mut w = work(&format!("# workout\n{rounds} rounds for time\n{n} pull-ups\n{n} ring rows"));
            let m = member(&[(25 - ago, largest)]);
            guard_volume(&mut w, &m, day(25), None, false);
            let most = bound(&m, guard_of("pull-up").unwrap(), day(25)).unwrap().most;
            let total = volume(&w, Standard::Heavier, None).get("vertical-pull").copied().unwrap_or(0.0);
            // one rep a round is the least there is
            prop_assert!(total <= most.max(f64::from(2 * rounds)) + 0.5, "{total} of {most}");
        }
    }
}
