//! What is called out to everybody of a version who is late: one thing, in at most eight words.

use super::mark::line_names;
use crate::movement::say::{capital, spoken, spoken_for};
use crate::units::{Unit, plain};
use crate::versions::{Clock, Line, Work, even_up, friendly_count};
use serde::{Deserialize, Serialize};

/// Words of a shout, at most.
pub const MOST_WORDS: usize = 8;
/// Shares of a count that may be left, most first (own).
const SHARES: [f64; 3] = [0.8, 0.67, 0.5];

/// Rounds at the end that are left out at once; more is another workout (own).
const MOST_ROUNDS_OUT: usize = 5;

/// One thing that makes what is left shorter.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "kind", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Shout {
    /// Every leg of a movement that is left is so long.
    Leg {
        /// Catalogue id.
        movement: String,
        /// Metres or calories.
        unit: Unit,
        /// In that unit.
        to: f64,
        /// It comes once more only.
        once: bool,
    },
    /// Rounds at the end are left out.
    Rounds {
        /// How many.
        out: usize,
    },
    /// The number that lines share, in every round that is left.
    Each {
        /// As written.
        from: f64,
        /// From here on.
        to: f64,
    },
    /// The same in the last round only.
    LastAt {
        /// As written.
        from: f64,
        /// In the last round.
        to: f64,
    },
    /// Reps of one movement that are left, each round.
    Reps {
        /// Catalogue id.
        movement: String,
        /// Of both sides.
        to: f64,
        /// Half on each side.
        per_side: bool,
        /// It comes once more only.
        once: bool,
    },
    /// Another movement for a line, as the next version has it.
    Instead {
        /// Line of the work.
        line: usize,
        /// Catalogue ids: what is done from here on, and what was.
        to: String,
        /// See `to`.
        from: String,
    },
    /// A line of a list done once is left out.
    Without {
        /// Line of the work.
        line: usize,
        /// As it is called.
        what: String,
    },
    /// The cap ends it.
    AtCap,
}

impl Shout {
    /// As it is called out.
    pub fn says(&self) -> String {
        match self {
            Shout::Leg { movement, unit, to, once } => {
                let to = format!("{} {}", plain(*to), if *unit == Unit::Calories { "calories" } else { "m" });
                if *once {
                    format!("Make the {} {to}.", spoken(movement))
                } else {
                    format!("{} are {to} now.", capital(&spoken_for(movement, 2.0)))
                }
            }
            Shout::Rounds { out: 1 } => "Leave out the last round.".to_owned(),
            Shout::Rounds { out } => format!("Leave out the last {out} rounds."),
            Shout::Each { to, .. } => format!("From now on {} of each.", plain(*to)),
            Shout::LastAt { to, .. } => format!("Last round at {}s.", plain(*to)),
            Shout::Reps { movement, to, per_side, once } => {
                let side = if *per_side { " each side" } else { "" };
                let round = if *once { "" } else { " a round" };
                let to = if *per_side { to / 2.0 } else { *to };
                format!("{}: {}{side}{round}.", capital(&spoken_for(movement, 2.0)), plain(to))
            }
            Shout::Instead { to, from, .. } => {
                format!("{} instead of {}.", capital(&spoken_for(to, 2.0)), spoken_for(from, 2.0))
            }
            Shout::Without { what, .. } => format!("Leave out the {what}."),
            Shout::AtCap => "Stop at the cap, count your reps.".to_owned(),
        }
    }

    /// Whether a voice carries it: few words, one number.
    fn carries(&self) -> bool {
        let says = self.says();
        let numbers = says
            .split(|c: char| !c.is_ascii_digit() && c != '.')
            .filter(|n| n.contains(|c: char| c.is_ascii_digit()));
        says.split_whitespace().count() <= MOST_WORDS && numbers.count() <= 1
    }

    /// The work with it, done from a step on: the steps before stay as they are, but where a movement changes.
    pub fn apply(&self, work: &Work, done: usize, next: Option<&Work>) -> Work {
        let mut out = work.clone();
        match self {
            Shout::Leg { movement, unit, to, .. } => {
                less_of(&mut out, done, |l| l.movement == *movement && l.unit == *unit, *to);
            }
            Shout::Reps { movement, to, .. } => {
                less_of(&mut out, done, |l| l.movement == *movement && l.unit == Unit::Reps, *to);
            }
            Shout::Rounds { out: n } => out = first_rounds(work, steps(work).saturating_sub(*n).max(1)),
            Shout::Each { from, to } => {
                less_of(&mut out, done, |l| l.unit == Unit::Reps && last_of(l) == Some(*from), *to);
            }
            Shout::LastAt { from, to } => {
                let last = steps(work).saturating_sub(1);
                less_of(&mut out, last.max(done), |l| l.unit == Unit::Reps && last_of(l) == Some(*from), *to);
            }
            Shout::Instead { line, .. } => {
                if let (Some(l), Some(n)) = (out.lines.get_mut(*line), next.and_then(|n| n.lines.get(*line)))
                {
                    *l = Line { counts: l.counts.clone(), unit: l.unit, ..n.clone() };
                }
            }
            Shout::Without { line, .. } => out.remove(*line),
            Shout::AtCap => {}
        }
        out
    }
}

/// Whether a work is a list done once: its steps are lines, not rounds.
pub(super) fn once(work: &Work) -> bool {
    matches!(work.clock(), Clock::Once)
}

/// Steps at which a work can be looked at: rounds, or the lines of a list done once.
pub(super) fn steps(work: &Work) -> usize {
    if once(work) { work.lines.len() } else { work.rounds() }
}

/// The first steps of a work only.
pub fn first_rounds(work: &Work, n: usize) -> Work {
    let mut out = work.clone();
    if once(work) {
        out.lines.truncate(n.max(1));
        return out;
    }
    if let Some(s) = out.sections.first_mut() {
        s.clock = match s.clock {
            Clock::Scheme(_) => Clock::Scheme(n as u32),
            _ => Clock::Rounds(n as u32),
        };
    }
    out
}

/// Lines that fit have no more than so much in every step from `done` on.
fn less_of(work: &mut Work, done: usize, fits: impl Fn(&Line) -> bool, to: f64) {
    let (list, n) = (once(work), steps(work));
    for (i, l) in work.lines.iter_mut().enumerate().filter(|(_, l)| fits(l) && !l.counts.is_empty()) {
        if list {
            if i >= done {
                l.counts.iter_mut().for_each(|c| *c = c.map(|v| v.min(to)));
            }
        } else if l.around.is_none() {
            let all = if l.counts.len() > 1 { l.counts.clone() } else { l.counts.repeat(n) };
            l.counts = all
                .into_iter()
                .enumerate()
                .map(|(r, c)| if r < done { c } else { c.map(|v| v.min(to)) })
                .collect();
        }
    }
}

/// What could be called out after a step, in the order in which a coach would: legs, rounds, the last numbers, the movement that
/// eats the time, its easier form, a line. `shares`: each position's share of the time.
pub(super) fn candidates(work: &Work, done: usize, shares: &[f64], next: Option<&Work>) -> Vec<Shout> {
    let left = eaters(work, done, shares);
    let mut out = Vec::new();
    for l in &left {
        out.extend(legs(work, l.0, done));
    }
    out.extend(rounds(work));
    out.extend(numbers(work, done));
    if let Some(l) = left.iter().find(|(i, _)| work.lines.get(*i).is_some_and(|l| l.unit == Unit::Reps)) {
        out.extend(fewer(work, l.0, done));
    }
    for (i, l) in &left {
        let other = next.filter(|n| n.lines.len() == work.lines.len()).and_then(|n| n.lines.get(*i));
        out.extend(other.filter(|o| o.movement != l.movement && o.unit == l.unit).map(|o| Shout::Instead {
            line: *i,
            to: o.movement.clone(),
            from: l.movement.clone(),
        }));
    }
    if once(work) && left.len() > 1 {
        let names = line_names(work);
        let what = |i: usize| names.get(work.position_of(i)).map(|n| n.to_lowercase());
        out.extend(left.iter().rev().filter_map(|(i, _)| Some(Shout::Without { line: *i, what: what(*i)? })));
    }
    out.retain(Shout::carries);
    out
}

/// Lines that are left, those that take most of the time first.
fn eaters<'w>(work: &'w Work, done: usize, shares: &[f64]) -> Vec<(usize, &'w Line)> {
    let list = once(work);
    let share = |i: usize| shares.get(work.position_of(i)).copied().unwrap_or(0.0);
    let mut out: Vec<(usize, &Line)> = work
        .lines
        .iter()
        .enumerate()
        .filter(|(i, l)| if list { *i >= done } else { l.around.is_none() })
        .collect();
    out.sort_by(|a, b| share(b.0).total_cmp(&share(a.0)));
    out
}

/// Smaller friendly numbers for the one number that a line has left for both standards.
fn smaller(work: &Work, line: usize, done: usize) -> Vec<f64> {
    let Some(l) = work.lines.get(line).filter(|l| l.rise == 0.0 && l.counts.len() < 2) else {
        return Vec::new();
    };
    let Some([a, b]) = l.counts.first().copied().filter(|c| c[0] == c[1]) else { return Vec::new() };
    // all that is left of the movement is the same amount
    let alike = work
        .lines
        .iter()
        .enumerate()
        .filter(|(i, x)| x.movement == l.movement && (!once(work) || *i >= done));
    if alike.into_iter().any(|(_, x)| x.counts != l.counts) {
        return Vec::new();
    }
    let mut out: Vec<f64> = SHARES
        .into_iter()
        .map(|s| friendly_count(&l.movement, a * s, l.unit))
        .map(|n| if l.per_side { even_up(n) } else { n })
        .filter(|n| *n < b && *n >= 0.5 * a)
        .collect();
    out.dedup();
    out
}

fn comes_once(work: &Work, line: usize, done: usize) -> bool {
    let Some(l) = work.lines.get(line) else { return true };
    let lines = work.lines.iter().enumerate();
    let of = lines.filter(|(i, x)| x.movement == l.movement && (!once(work) || *i >= done)).count();
    of * (if once(work) { 1 } else { steps(work).saturating_sub(done) }) <= 1
}

fn legs(work: &Work, line: usize, done: usize) -> Vec<Shout> {
    let Some(l) = work.lines.get(line).filter(|l| matches!(l.unit, Unit::Metres | Unit::Calories)) else {
        return Vec::new();
    };
    let once = comes_once(work, line, done);
    let leg = |to| Shout::Leg { movement: l.movement.clone(), unit: l.unit, to, once };
    smaller(work, line, done).into_iter().map(leg).collect()
}

fn fewer(work: &Work, line: usize, done: usize) -> Vec<Shout> {
    let Some(l) = work.lines.get(line) else { return Vec::new() };
    let once = comes_once(work, line, done);
    let reps = |to| Shout::Reps { movement: l.movement.clone(), to, per_side: l.per_side, once };
    smaller(work, line, done).into_iter().map(reps).collect()
}

/// Rounds that may go: at least three of four and more stay, two of three.
fn rounds(work: &Work) -> Vec<Shout> {
    let n = match work.clock() {
        Clock::Rounds(n) => n as usize,
        _ => return Vec::new(),
    };
    // a scheme's numbers are the work: none of them is left out
    if work.lines.iter().any(|l| l.counts.len() > 1) {
        return Vec::new();
    }
    let most = match n {
        0..=2 => 0,
        3 => 1,
        _ => (n - 3).min(MOST_ROUNDS_OUT),
    };
    (1..=most).map(|out| Shout::Rounds { out }).collect()
}

/// The one number of a line's last round, for both standards.
fn last_of(l: &Line) -> Option<f64> {
    l.counts.last().filter(|c| c[0] == c[1] && l.rise == 0.0).map(|c| c[0])
}

/// Smaller numbers for lines that share one: in all rounds left where every line of reps does, else in the last.
fn numbers(work: &Work, done: usize) -> Vec<Shout> {
    let n = steps(work);
    if once(work) || done >= n {
        return Vec::new();
    }
    let reps: Vec<&Line> = work.lines.iter().filter(|l| l.unit == Unit::Reps && l.around.is_none()).collect();
    let shared = |v: f64| reps.iter().filter(|l| last_of(l) == Some(v)).count();
    let scheme = matches!(work.clock(), Clock::Scheme(_));
    // one line alone is called by its name
    let of = reps
        .iter()
        .filter_map(|l| last_of(l))
        .max_by_key(|v| shared(*v))
        .filter(|v| shared(*v) > 1 || scheme);
    let Some(from) = of else { return Vec::new() };
    let mut less: Vec<f64> = SHARES.into_iter().map(|s| friendly_count("", from * s, Unit::Reps)).collect();
    less.retain(|n| *n < from && *n >= 0.5 * from);
    less.dedup();
    let all = shared(from) == reps.len();
    let mut out: Vec<Shout> = Vec::new();
    if !scheme || all {
        out.extend(less.iter().map(|to| Shout::LastAt { from, to: *to }));
    }
    if all && !scheme && done + 1 < n {
        out.extend(less.iter().map(|to| Shout::Each { from, to: *to }));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sheet::read;
    use crate::units::Standard;

    fn work(text: &str) -> Work {
        Work::from_block(&read(text).sheet.blocks[0]).unwrap()
    }

    fn said(text: &str, done: usize, shares: &[f64]) -> Vec<String> {
        candidates(&work(text), done, shares, None).iter().map(Shout::says).collect()
    }

    #[test]
    fn legs_come_first_then_rounds_then_the_movement_that_eats_the_time() {
        let text = "# workout\n5 rounds for time\n400 m run\n15 pull-ups\n20 air squats";
        assert_eq!(
            said(text, 2, &[0.3, 0.5, 0.2]),
            [
                "Runs are 300 m now.",
                "Runs are 200 m now.",
                "Leave out the last round.",
                "Leave out the last 2 rounds.",
                "Pull-ups: 12 a round.",
                "Pull-ups: 10 a round.",
                "Pull-ups: 8 a round.",
            ]
        );
    }

    #[test]
    fn a_scheme_keeps_its_rounds_and_ends_lower() {
        let text = "# workout\n21-15-9 for time\nthruster 43/30 kg\npull-ups";
        // 9 x .8 = 7.2, .67 = 6.03, .5 = 4.5: 8 is as near as 6, and 5 is more than half
        let all = said(text, 1, &[0.5, 0.5]);
        assert!(
            all.contains(&"Last round at 6s.".to_owned())
                && all.iter().all(|s| s.starts_with("Last round at")),
            "{all:?}"
        );
        assert!(said(text, 3, &[0.5, 0.5]).is_empty(), "nothing is left");
    }

    #[test]
    fn lines_of_one_number_are_cut_together() {
        let text = "# workout\n4 rounds for time\n12 pull-ups\n12 air squats\n200 m run";
        // a run first: 200 m has only its half; one round may go
        assert_eq!(
            said(text, 1, &[0.4, 0.4, 0.2])[..8],
            [
                "Runs are 100 m now.",
                "Leave out the last round.",
                "Last round at 10s.",
                "Last round at 8s.",
                "Last round at 6s.",
                "From now on 10 of each.",
                "From now on 8 of each.",
                "From now on 6 of each.",
            ]
        );
        let w = work(text);
        let cut = Shout::Each { from: 12.0, to: 8.0 }.apply(&w, 1, None);
        let counts = |l: usize| [0, 1, 3].map(|r| cut.lines[l].count(r, Standard::Heavier));
        assert_eq!((counts(0), counts(1), counts(2)), ([12.0, 8.0, 8.0], [12.0, 8.0, 8.0], [200.0; 3]));
        // with a number of its own beside them only the last round is told by theirs
        let odd = "# workout\n3 rounds for time\n30 double-unders\n12 pull-ups\n12 air squats";
        let all = said(odd, 1, &[0.2, 0.4, 0.4]);
        assert!(
            all.contains(&"Last round at 8s.".to_owned()) && all.iter().all(|s| !s.contains("of each")),
            "{all:?}"
        );
    }

    #[test]
    fn a_list_loses_what_is_left_of_it_only() {
        let text = "# workout cap 20:00\nfor time\n800 m run\n40 wall-balls 9/6 kg\n30 push-ups\n400 m run";
        let all = said(text, 2, &[0.4, 0.3, 0.2, 0.1]);
        assert_eq!(
            all,
            [
                "Make the run 300 m.",
                "Make the run 200 m.",
                "Push-ups: 24.",
                "Push-ups: 20.",
                "Push-ups: 15.",
                "Leave out the run 2.",
                "Leave out the push-ups.",
            ]
        );
        // two runs of different length have no one number, before the first is done
        assert!(said(text, 0, &[0.4, 0.3, 0.2, 0.1]).iter().all(|s| !s.contains("run 300")));
    }

    #[test]
    fn two_numbers_are_never_called_out() {
        let text = "# workout\n4 rounds for time\n15/12 cal row\n10 burpees";
        assert!(said(text, 1, &[0.6, 0.4]).iter().all(|s| !s.contains("calories")));
        let text = "# workout\n4 rounds for time\n15 cal row\n10 burpees";
        assert!(said(text, 1, &[0.6, 0.4]).contains(&"Rows are 12 calories now.".to_owned()));
        let sided = "# workout\n3 rounds for time\n10 dumbbell snatches each side 15/10 kg";
        assert!(
            said(sided, 1, &[1.0]).contains(&"Dumbbell snatches: 8 each side a round.".to_owned()),
            "{:?}",
            said(sided, 1, &[1.0])
        );
    }

    #[test]
    fn the_next_version_lends_its_movement() {
        let w = work("# workout\n3 rounds for time\n12 toes-to-bar\n200 m run");
        let n = work("# workout\n3 rounds for time\n12 knees-to-elbows\n200 m run");
        let all = candidates(&w, 1, &[0.8, 0.2], Some(&n));
        let instead = all.iter().find(|s| matches!(s, Shout::Instead { .. })).unwrap();
        assert_eq!(instead.says(), "Knees to elbow instead of toes to bar.");
        let now = instead.apply(&w, 1, Some(&n));
        assert_eq!(
            (now.lines[0].movement.as_str(), now.lines[0].count(0, Standard::Lighter)),
            ("knees-to-elbow", 12.0)
        );
    }

    #[test]
    fn what_was_done_stays() {
        let w = work("# workout\n3 rounds for time\n12 pull-ups\n200 m run");
        let cut = Shout::Reps { movement: "pull-up".into(), to: 9.0, per_side: false, once: false }
            .apply(&w, 1, None);
        let counts = |r: usize| cut.lines[0].count(r, Standard::Heavier);
        assert_eq!([0, 1, 2].map(counts), [12.0, 9.0, 9.0]);
        assert_eq!(Shout::Rounds { out: 1 }.apply(&w, 1, None).rounds(), 2);
        let scheme = work("# workout\n21-15-9 for time\nthruster 43/30 kg\npull-ups");
        let last = Shout::LastAt { from: 9.0, to: 6.0 }.apply(&scheme, 1, None);
        assert!(
            last.lines.iter().all(|l| [0, 1, 2].map(|r| l.count(r, Standard::Heavier)) == [21.0, 15.0, 6.0])
        );
        let list = work("# workout\nfor time\n800 m run\n40 air squats\n30 push-ups");
        let out = Shout::Without { line: 1, what: "air squats".into() }.apply(&list, 1, None);
        assert_eq!(out.lines.iter().map(|l| l.movement.as_str()).collect::<Vec<_>>(), ["run", "push-up"]);
        assert_eq!(Shout::AtCap.apply(&w, 1, None), w);
    }
}
