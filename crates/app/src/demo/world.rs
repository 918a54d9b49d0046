//! A world of its own for the demo's results: other laws than the model that foretells them, none of its constants, and nothing
//! that the app is told. People have talents that their tests show only in part, waits, misses, bad days and starts that are too fast.
//! It describes nobody.

use super::results::seed_of;
use lantern_core::movement::{LoadKind, catalogue};
use lantern_core::pacing::Level;
use lantern_core::roster::Member;
use lantern_core::sheet::When;
use lantern_core::units::{Standard, Unit};
use lantern_core::versions::{Clock, Line, Work};
use rand::{Rng, SeedableRng};
use rand_distr::{Distribution, StandardNormal};
use rand_pcg::Pcg64Mcg;

/// What came of a workout.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Came {
    /// s from the start to the last rep, or to the cap.
    pub seconds: f64,
    /// Whole times through the list.
    pub rounds: u32,
    /// Reps of the next one on the board.
    pub reps: u32,
    /// Everything was done.
    pub done: bool,
}

/// Somebody as they are, not as they are known.
struct Person {
    /// 1: a regular member's speed.
    speed: f64,
    /// 1: a regular member's strength.
    strength: f64,
    standard: Standard,
    name: u64,
}

fn normal(rng: &mut Pcg64Mcg) -> f64 {
    StandardNormal.sample(rng)
}

impl Person {
    fn of(m: &Member) -> Person {
        let name = seed_of(&m.name);
        let mut rng = Pcg64Mcg::seed_from_u64(name ^ 0x51);
        let (speed, strength): (f64, f64) = match m.level {
            Level::New => (0.80, 0.70),
            Level::Regular => (1.0, 1.0),
            Level::Seasoned => (1.17, 1.3),
            Level::Competitive => (1.36, 1.6),
        };
        // a weight of one's own, where one was ever told, is worth more than a level
        let told = m.maxes.iter().map(|x| x.kg).fold(0.0, f64::max);
        let usual = if m.standard == Standard::Heavier { 105.0 } else { 70.0 };
        let strength = if told > 0.0 { 0.5 * (strength + told / usual) } else { strength };
        let own = |rng: &mut Pcg64Mcg, sd: f64| (sd * normal(rng)).exp();
        Person {
            speed: speed * own(&mut rng, 0.09),
            strength: strength * own(&mut rng, 0.10),
            standard: m.standard,
            name,
        }
    }

    /// A factor of their own for a movement.
    fn at(&self, movement: &str, sd: f64) -> f64 {
        let mut rng = Pcg64Mcg::seed_from_u64(self.name ^ seed_of(movement));
        (sd * normal(&mut rng)).exp()
    }

    /// Share of their most that a line's weight is; 0 where nothing is held.
    fn share(&self, line: &Line) -> f64 {
        let Some(kg) = line.kg().map(|kg| self.standard.of(kg) * line.held()) else { return 0.0 };
        let most = match catalogue().movement(&line.movement).map(|m| m.load) {
            Some(LoadKind::Barbell) => 95.0,
            Some(LoadKind::Medball) => 30.0,
            _ => 60.0,
        };
        let standard = if self.standard == Standard::Heavier { 1.0 } else { 0.66 };
        kg / (most * standard * self.strength)
    }

    /// s of one unit of a line, fresh.
    fn unit_s(&self, line: &Line) -> f64 {
        let plain = match line.unit {
            Unit::Reps if line.movement.ends_with("-under") => 0.6,
            Unit::Reps => {
                2.3 + 0.5 * f64::from(catalogue().movement(&line.movement).map_or(1, |m| m.skill.min(3)))
            }
            Unit::Calories => {
                if self.standard == Standard::Heavier {
                    3.3
                } else {
                    4.2
                }
            }
            Unit::Metres => {
                if line.movement == "run" {
                    0.30
                } else {
                    0.26
                }
            }
            Unit::Seconds => return 1.0,
        };
        plain * self.at(&line.movement, 0.07) * (1.0 + 0.8 * self.share(line).powi(2)) / self.speed.powf(0.8)
    }

    /// Units that they do without a break, fresh.
    fn set(&self, line: &Line) -> f64 {
        if matches!(line.unit, Unit::Metres | Unit::Calories | Unit::Seconds) {
            return f64::INFINITY;
        }
        let skill = catalogue().movement(&line.movement).map_or(1, |m| m.skill);
        let plain = match skill {
            _ if line.movement.ends_with("-under") => 36.0,
            0 | 1 => 34.0,
            2 => 24.0,
            3 => 14.0,
            _ => 8.0,
        };
        let share = self.share(line).min(0.95);
        (plain * self.speed.powf(1.6) * (1.0 - share) * self.at(&line.movement, 0.18)).max(1.0)
    }
}

/// The clock of one who works.
struct Walk<'a> {
    person: &'a Person,
    rng: Pcg64Mcg,
    /// Everything slower than usual today.
    day: f64,
    hot: bool,
    at: f64,
    end: f64,
    /// What interrupts the work as the clock turns: every so many seconds, the next time, and what.
    turns: Vec<(f64, f64, &'a Line)>,
    /// The price of a break.
    price: Option<&'a Line>,
}

impl Walk<'_> {
    /// Does some of a line; how many units were done before the time was over.
    fn line(&mut self, line: &Line, count: f64) -> f64 {
        self.at += 4.4 / self.person.speed;
        if self.rng.random::<f64>() < 0.08 {
            self.at += 3.0 + 9.0 * self.rng.random::<f64>();
        }
        let (unit, set) = (self.person.unit_s(line), self.person.set(line));
        let mut done = 0.0;
        let mut in_set = 0.0;
        while done < count && self.at < self.end {
            let tired = 1.0 - (-self.at / (420.0 * self.person.speed)).exp();
            let pace = if self.hot && self.at < 150.0 {
                0.93
            } else if self.hot {
                1.06
            } else {
                1.0
            };
            self.at += unit * (1.0 + 0.22 * tired) * pace * self.day;
            // a rep that does not count
            if line.unit == Unit::Reps && self.rng.random::<f64>() < 0.015 {
                continue;
            }
            done += 1.0;
            in_set += 1.0;
            if in_set >= set * (1.0 - 0.45 * tired) && done < count {
                self.at += match self.price {
                    Some(l) => l.count(0, self.person.standard) * self.person.unit_s(l) * self.day + 3.0,
                    None => (3.5 + 7.0 * tired) * self.day,
                };
                in_set = 0.0;
            }
            self.interrupted();
        }
        if self.at > self.end { (done - 1.0).max(0.0) } else { done }
    }
}

impl Walk<'_> {
    /// Does what the clock asks for in between.
    fn interrupted(&mut self) {
        for i in 0..self.turns.len() {
            let Some((every, next, line)) = self.turns.get(i).copied() else { continue };
            if self.at < next {
                continue;
            }
            self.at += 3.0 + line.count(0, self.person.standard) * self.person.unit_s(line) * self.day;
            if let Some(turn) = self.turns.get_mut(i) {
                turn.1 = next + every * ((self.at - next) / every).ceil().max(1.0);
            }
        }
    }
}

/// Reps on a board of so many units of a line.
fn board(line: &Line, done: f64, count: f64) -> f64 {
    match line.unit {
        Unit::Reps | Unit::Calories => done.floor(),
        Unit::Metres | Unit::Seconds => f64::from(u8::from(done >= count)),
    }
}

/// Reps in windows of work: the list in each of them, or a window for each of its lines. Rests give back what they give back: the clock
/// of the tired stands still in them.
fn windows(walk: &mut Walk, work: &Work, on_s: f64, times: u32, stations: bool) -> Came {
    let standard = walk.person.standard;
    let mut reps = 0.0;
    for _ in 0..times {
        walk.end = walk.at + on_s;
        for (_, l) in work.around(0).filter(|(_, l)| l.around == Some(When::BuyIn)) {
            walk.line(l, l.count(0, standard));
        }
        for (_, l) in work.list(0) {
            let most = l.counts.is_empty() || stations;
            let count = if most { f64::INFINITY } else { l.count(0, standard) };
            let done = walk.line(l, count);
            // where a window ends with as much as possible, that is what is counted
            if most || !work.ends_with_max(0) {
                reps += board(l, done, count);
            }
            if stations {
                walk.at = walk.end;
                walk.end += on_s;
            }
        }
        walk.at = walk.at.max(walk.end - if stations { on_s } else { 0.0 });
    }
    Came { seconds: walk.at, rounds: 0, reps: reps as u32, done: false }
}

/// What a member does of a work on a day, in a class of its own lateness; `None` for clocks that this world does not know.
pub fn perform(m: &Member, work: &Work, cap_s: Option<f64>, class: &str) -> Option<Came> {
    let person = Person::of(m);
    let mut rng = Pcg64Mcg::seed_from_u64(seed_of(&format!("{} {class}", m.name)));
    let mut room = Pcg64Mcg::seed_from_u64(seed_of(class));
    let bad = if rng.random::<f64>() < 0.08 { 0.1 * normal(&mut rng).abs() } else { 0.0 };
    let day = (0.035 * normal(&mut rng) + 0.03 * normal(&mut room) + bad).exp();
    let hot = rng.random::<f64>() < 0.2;
    let end = match work.clock() {
        Clock::Amrap(s) => f64::from(s),
        _ => cap_s.unwrap_or(f64::INFINITY),
    };
    if work.sections.len() != 1 || work.team.is_some() {
        return None;
    }
    let turn = |(_, l): (usize, &'_ Line)| match l.around {
        Some(When::OnTheClock { every_s, from_zero }) => {
            Some((f64::from(every_s), if from_zero { 0.0 } else { f64::from(every_s) }))
        }
        _ => None,
    };
    let turns = work.around(0).filter_map(|x| turn(x).map(|(every, first)| (every, first, x.1))).collect();
    let price = work.around(0).map(|(_, l)| l).find(|l| l.around == Some(When::OnBreak));
    let mut walk = Walk { person: &person, rng, day, hot, at: 0.0, end, turns, price };
    let passes = match work.clock() {
        Clock::Amrap(_) => usize::MAX,
        Clock::Windows { on_s, n, .. } => return Some(windows(&mut walk, work, f64::from(on_s), n, false)),
        Clock::Stations { on_s, rounds, .. } => {
            return Some(windows(&mut walk, work, f64::from(on_s), rounds, true));
        }
        c if c.for_time() => work.rounds(),
        _ => return None,
    };
    Some(list(&mut walk, work, passes))
}

/// The list so many times, with what stands around it, until the time is over.
fn list(walk: &mut Walk, work: &Work, passes: usize) -> Came {
    let standard = walk.person.standard;
    let around = |walk: &mut Walk, times: &dyn Fn(When) -> usize| {
        for (_, l) in work.around(0) {
            (0..l.around.map_or(0, times)).for_each(|_| {
                walk.line(l, l.count(0, standard));
            });
        }
    };
    around(walk, &|w| usize::from(w == When::BuyIn));
    let rest: f64 = work.sections.first().map_or(0.0, |s| s.rests.iter().map(|(_, s)| f64::from(*s)).sum());
    let mut rounds = 0;
    for round in 0..passes {
        let mut reps = 0.0;
        for (_, l) in work.list(0) {
            let count = l.count(round, standard) + l.rise * round as f64;
            reps += board(l, walk.line(l, count), count);
            if walk.at >= walk.end {
                return Came { seconds: walk.end, rounds, reps: reps as u32, done: false };
            }
        }
        rounds += 1;
        around(walk, &|w| match w {
            When::AfterRound(n) if n as usize == round + 1 => 1,
            When::EachRoundMore => round,
            _ => 0,
        });
        walk.at += if round + 1 < passes { rest } else { 0.0 };
    }
    around(walk, &|w| usize::from(w == When::CashOut));
    Came { seconds: walk.at.min(walk.end), rounds, reps: 0, done: walk.at < walk.end }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::sheet::read;

    fn work(text: &str) -> Work {
        Work::from_block(&read(text).sheet.blocks[0]).unwrap()
    }

    fn regular() -> Member {
        Member::unknown("Bo Quay", Standard::Heavier, Level::Regular)
    }

    #[test]
    fn the_same_day_comes_the_same_and_another_differs() {
        let w = work("# workout\n3 rounds for time\n10 burpees\n200 m run");
        let on = |day: &str| perform(&regular(), &w, None, day).unwrap().seconds;
        assert_eq!(on("a"), on("a"));
        assert_ne!(on("a"), on("b"));
        assert!((200.0..700.0).contains(&on("a")), "{}", on("a"));
    }

    #[test]
    fn more_takes_longer_and_a_cap_ends_it() {
        let three = work("# workout\n3 rounds for time\n10 burpees\n200 m run");
        let five = work("# workout\n5 rounds for time\n10 burpees\n200 m run");
        let of = |w: &Work| perform(&regular(), w, None, "a").unwrap().seconds;
        assert!(of(&five) > of(&three) + 60.0);
        let capped = perform(&regular(), &five, Some(240.0), "a").unwrap();
        assert!(!capped.done && capped.seconds == 240.0 && capped.rounds < 5, "{capped:?}");
    }

    #[test]
    fn an_open_list_counts_rounds_and_the_strong_do_more() {
        let w = work("# workout\namrap 12:00\n10 air squats\n10 sit-ups\n100 m run");
        let of = |level| {
            let m = Member::unknown("Bo Quay", Standard::Heavier, level);
            let c = perform(&m, &w, None, "a").unwrap();
            f64::from(c.rounds) + f64::from(c.reps) / 21.0
        };
        assert!(of(Level::Competitive) > of(Level::New) + 1.0 && of(Level::New) > 2.0);
        let stations = work("# workout\nstations 1:00 on / 0:30 off, 3 rounds\nair squats\nrow cal\nsit-ups");
        let reps = perform(&regular(), &stations, None, "a").unwrap().reps;
        assert!((90..300).contains(&reps), "{reps}");
        assert!(perform(&regular(), &work("# workout\nevery 2:00 x 5\n10 burpees"), None, "a").is_none());
    }
}
