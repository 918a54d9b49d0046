//! What a line shows about its place on the sheet: the evidence from which blocks are cut.

use super::atom::MoveSaid;
use super::clock::Bits;
use super::line::Heard;
use super::model::BlockKind;
use super::statement::{Behind, Stated, Statement};
use super::text::Label;
use super::work::barbell;
use crate::units::Unit;

/// The evidence of one line.
#[derive(Debug, Clone, Default)]
pub(super) struct Feature {
    pub head: Option<(BlockKind, bool)>,
    pub hashes: bool,
    pub label: Option<Label>,
    pub gap: bool,
    pub bold: bool,
    /// A clock that is scored, or windows.
    pub clock: bool,
    pub scored: bool,
    /// Rounds and nothing else of a clock.
    pub rounds: bool,
    pub cap: bool,
    pub aim: bool,
    /// Sets or a maximum of a main lift.
    pub lift: bool,
    /// Sets without a lift on the line.
    pub bare_sets: bool,
    /// Sets of anything else.
    pub sets: bool,
    /// The sets were numbers with dashes, which a workout has too.
    pub scheme: bool,
    /// A lift of the bar alone on its line.
    pub named: bool,
    /// A lift of the bar without a number of its own, with a weight or minutes: its sets may stand below.
    pub heads_sets: bool,
    pub counted: u32,
    pub unled: u32,
    pub unknown: u32,
    /// The line begins with a count of something that is not known.
    pub begun: bool,
    pub builds: u32,
    pub all_sets: u32,
    pub clocks: u32,
    pub rests: u32,
    pub arounds: u32,
    pub aims: u32,
    pub numbers: u32,
    pub talk: f64,
    /// Talk, that before anything read in full.
    pub chatter: f64,
    pub words: u32,
    /// The line is a rest with its time, or `then`.
    pub rested: bool,
    /// It begins with `then`.
    pub then: bool,
    /// The line begins with counted work.
    pub led: bool,
    pub level: bool,
    /// Every so often without a length: an interruption where work is counted, else a clock without its length.
    pub paced: bool,
    /// So often, at so many starts.
    pub cycles: bool,
    /// Only how the work above is done: for time, for quality.
    pub how: bool,
    pub team: bool,
    pub person: bool,
    /// Nothing on it is read.
    pub empty: bool,
}

impl Feature {
    /// Whether the line is counted work with nothing about it that could begin a block: no gap above, no dress, no clock.
    pub fn inside(&self) -> bool {
        let begins = self.head.is_some()
            || self.hashes
            || self.label.is_some()
            || self.gap
            || self.bold
            || self.clock
            || self.rounds
            || self.cap
            || self.team
            || self.level
            || self.then
            || self.rested;
        let other =
            self.all_sets + self.builds + self.clocks + self.rests + self.unled + self.arounds + self.aims;
        !begins && other == 0 && self.counted > 0
    }

    /// Whether next to nothing but work stands on the line.
    pub fn begun_plainly(&self) -> bool {
        self.chatter * 3.0 <= f64::from(self.words.max(1))
    }
}

/// Lifts that make a strength block of their own; others are assistance.
fn main_lift(id: &str) -> bool {
    const ASSISTANCE: [&str; 9] = [
        "romanian-deadlift",
        "good-morning",
        "hip-thrust",
        "bent-over-row",
        "front-rack-lunge",
        "back-rack-lunge",
        "overhead-lunge",
        "sumo-deadlift-high-pull",
        "pullover",
    ];
    barbell(id) && !ASSISTANCE.contains(&id)
}

/// The evidence of a line.
pub(super) fn feature(h: &Heard, all: &[Stated]) -> Feature {
    let mut f = Feature {
        hashes: h.row.hashes > 0,
        label: h.row.label,
        gap: h.row.gap,
        bold: h.row.bold,
        numbers: h.numbers.len() as u32,
        talk: h.talk,
        chatter: h.lead + 0.4 * (h.talk - h.lead),
        words: h.words,
        empty: all.is_empty(),
        ..Feature::default()
    };
    let mut reps_named = 0;
    for s in all {
        one(&mut f, &s.what, &mut reps_named);
    }
    f.led = matches!(all.first(), Some(Stated { what: Statement::Work(m, _), from: 0, .. }) if m.count.is_some() && m.led && m.movement.id().is_some());
    let begun = matches!(all.first(), Some(Stated { what: Statement::Work(m, _), from: 0, .. }) if m.led && m.movement.id().is_none());
    f.begun = begun && f.words <= 6 && f.talk < 4.0;
    if f.paced && f.counted == 0 {
        f.clock = true;
        f.scored = true;
    }
    f.how = all.len() == 1
        && matches!(all.first().map(|s| &s.what), Some(Statement::Clock(b)) if *b == Bits { for_time: b.for_time, quality: b.quality, alternating: b.alternating, ..Bits::default() });
    if f.person || f.level {
        f.clock = false;
        f.scored = false;
        f.rounds = false;
    }
    if all.len() == 1 && matches!(all.first().map(|s| &s.what), Some(Statement::Length(..))) {
        f.aims += 1;
    }
    f.cycles = all.iter().any(|s| matches!(&s.what, Statement::Clock(b) if b.every.is_some() && b.times.is_some() && !b.for_time && !b.amrap));
    let alone = all
        .iter()
        .filter(|s| !matches!(s.what, Statement::Week(_) | Statement::More(_) | Statement::Head(..)))
        .count()
        == reps_named as usize;
    // a lift, or a chain of them
    f.named = reps_named > 0 && alone && f.counted == 0 && f.talk < 2.0 && f.head.is_none();
    f.heads_sets = heads_sets(all) && !f.named && f.talk < 2.0;
    f.rested = f.rests > 0 && f.counted == 0 && f.clocks == 0 && f.all_sets == 0 || f.then;
    f
}

/// `Front squat 80 kg`, `Push press in 12 min`.
fn heads_sets(all: &[Stated]) -> bool {
    let lift = |s: &Stated| match &s.what {
        Statement::Work(m, _) => m.count.is_none() && m.movement.id().is_some_and(main_lift),
        Statement::Week(_) | Statement::Length(..) | Statement::Rest(_) => true,
        _ => false,
    };
    matches!(all.first().map(|s| &s.what), Some(Statement::Work(..))) && all.iter().all(lift)
}

/// A lift whose sets stand on the line below it is the heading of them, whatever else its line says.
pub(super) fn sets_below(features: &mut [Feature]) {
    for i in 1..features.len() {
        let Some([lift, sets]) = features.get_mut(i - 1..=i) else { continue };
        if lift.heads_sets && sets.bare_sets && sets.counted == 0 && !sets.clock {
            lift.named = true;
        }
    }
}

fn clock(f: &mut Feature, bits: &Bits) {
    f.clocks += 1;
    let open = bits.times.is_none() && bits.length.is_none() && !bits.failure && !bits.alternating;
    if bits.every.is_some() && open {
        f.paced = true;
        return;
    }
    let scheme = bits.scheme.as_ref().is_some_and(|s| s.len() > 2);
    f.clock |= bits.strong();
    f.scored |= bits.for_time || bits.amrap || bits.every.is_some() || scheme;
    f.rounds |= bits.only_rounds();
}

/// Counts a piece of work; 1 where it is a main lift with nothing said of it.
fn work(f: &mut Feature, m: &MoveSaid, b: &Behind) -> u32 {
    match (m.movement.id(), &m.count) {
        (Some(_), Some(_)) => f.counted += 1,
        (Some(id), None) => {
            f.unled += 1;
            return u32::from(main_lift(id) && b.load.is_none() && m.unit.is_none());
        }
        (None, _) => f.unknown += 1,
    }
    0
}

fn sets_of(f: &mut Feature, lift: Option<&str>, unit: Unit, percent: bool, scheme: bool) {
    f.all_sets += 1;
    f.scheme |= scheme;
    let main = lift.is_some_and(main_lift);
    f.lift |= (main && unit == Unit::Reps) || (lift.is_none() && percent);
    f.bare_sets |= lift.is_none();
    f.sets |= lift.is_some() && !main;
}

/// Whether what stands behind a lift says anything of its loads.
fn says_more(b: &Behind) -> bool {
    b.percent.is_some() || b.load.is_some() || b.tempo.is_some() || b.by_cycle || b.rise.is_some()
}

fn one(f: &mut Feature, what: &Statement, named: &mut u32) {
    match what {
        Statement::Head(k, sure) => f.head = f.head.or(Some((*k, *sure))),
        Statement::Clock(bits) => clock(f, bits),
        Statement::Cap(_) => {
            f.cap = true;
            f.aims += 1;
        }
        Statement::Target(_) | Statement::Score(_) | Statement::Wish(_) | Statement::Week(_) => {
            f.aim = true;
            f.aims += 1;
        }
        Statement::Work(m, b) => *named += work(f, m, b),
        Statement::Sets { lifts, sets, behind, scheme } => {
            sets_of(
                f,
                lifts.first().and_then(|m| m.movement.id()),
                sets.unit,
                behind.percent.is_some(),
                *scheme,
            );
        }
        Statement::Build { .. } => {
            f.builds += 1;
            f.lift = true;
        }
        Statement::Rest(_) => f.rests += 1,
        Statement::Then => f.then = true,
        Statement::Level(_) => {
            f.level = true;
            f.arounds += 1;
        }
        Statement::Team { size, .. } => {
            f.team |= size.is_some();
            f.arounds += 1;
        }
        Statement::Person(_) => {
            f.person = true;
            f.arounds += 1;
        }
        Statement::Minutes(_)
        | Statement::Around(_)
        | Statement::EndOfRound
        | Statement::Kit(_)
        | Statement::Ladder(_) => f.arounds += 1,
        Statement::Bar(_) => {
            f.arounds += 1;
            f.aims += 1;
        }
        Statement::More(b) => f.aims += u32::from(says_more(b)),
        Statement::Scale => f.arounds += 1,
        Statement::Words(_) => f.arounds += 1,
        Statement::Drill(t) if t.starts_with(|c: char| c.is_ascii_digit()) => f.unled += 1,
        Statement::Drill(_) => {}
        Statement::Length(..) | Statement::AllLevels | Statement::Or => {}
        Statement::Wrong => f.aims += 1,
    }
}
