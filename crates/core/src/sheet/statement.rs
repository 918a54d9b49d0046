//! The pieces of a line put together: work with its loads, sets of a lift, builds, clocks.

use super::atom::{Atom, MoveSaid, RestSaid, Said, SetsSaid};
use super::atom::{LadderSaid, LoadSaid};
use super::clock::Bits;
use super::line::Heard;
use super::model::{BlockKind, Named, Percent, Score, Target, TeamMode, Tempo, When, Wish, WordLoad};
use super::problem::Problem;
use super::sets::{MOST_SETS, too_many};
use super::text::Line;
use crate::units::Unit;

/// What stands behind a movement or a lift.
#[derive(Debug, Clone, Default)]
pub(super) struct Behind {
    pub load: Option<LoadSaid>,
    /// `@ 85` without unit, and a second number.
    pub at: Option<(f64, Option<f64>)>,
    pub percent: Option<Percent>,
    pub height: Option<[f64; 2]>,
    pub tempo: Option<Tempo>,
    pub side: bool,
    pub unbroken: bool,
    pub rise: Option<f64>,
    pub word: Option<WordLoad>,
    pub optional: bool,
    pub same_bar: bool,
    pub add_weight: bool,
    pub climb: bool,
    pub last_at_top: Option<u32>,
    pub every: Option<u32>,
    pub rest: Option<RestSaid>,
    pub by_cycle: bool,
    pub notes: Vec<String>,
    /// Place of the load on the line (bytes), for questions.
    pub at_place: Option<(usize, usize)>,
}

/// One thing that a line says.
#[derive(Debug, Clone)]
pub(super) enum Statement {
    Head(BlockKind, bool),
    Clock(Bits),
    Cap(u32),
    Target(Target),
    Score(Result<Score, String>),
    Wish(Wish),
    Week([u32; 2]),
    Team {
        size: Option<u32>,
        mode: Option<TeamMode>,
    },
    Rest(RestSaid),
    Length(u32, u32),
    Work(Box<MoveSaid>, Box<Behind>),
    /// Lifts of a chain (none: that of the line above), sets, what stands behind. `scheme`: the reps were numbers with
    /// dashes, which can be those of a workout too.
    Sets {
        lifts: Vec<MoveSaid>,
        sets: SetsSaid,
        behind: Box<Behind>,
        scheme: bool,
    },
    Build {
        lift: Option<Named>,
        reps: u32,
        window: Option<u32>,
        no_misses: bool,
    },
    /// Percentages, rests and loads for the lift above, or a weight for several lines.
    More(Box<Behind>),
    Around(When),
    EndOfRound,
    Minutes(Vec<u32>),
    Then,
    Level(u32),
    AllLevels,
    Scale,
    Or,
    Kit(String),
    /// The weight of the bar for several lines.
    Bar(Box<Behind>),
    Ladder(LadderSaid),
    Person(u32),
    /// `note: ...`: words for the block, kept as they are.
    Words(String),
    /// A drill, kept in words.
    Drill(String),
    /// Words with something wrong in them: the statement has its problem.
    Wrong,
}

/// A statement, its place on the line (bytes) and its problems.
#[derive(Debug, Clone)]
pub(super) struct Stated {
    pub what: Statement,
    pub from: usize,
    pub to: usize,
    pub problems: Vec<Problem>,
}

/// Puts the pieces of a line together.
pub(super) fn statements(h: &Heard) -> Vec<Stated> {
    let places = &h.places;
    let mut m = Maker {
        out: Vec::new(),
        lift: Vec::new(),
        bar: false,
        from_percent: false,
        leads: false,
        line: &h.row.line,
    };
    for (i, said) in h.said.iter().enumerate() {
        m.leads = matches!(h.said.get(i + 1), Some(Said { atom: Atom::Move(next), from, .. }) if next.count.is_none() && *from == said.to);
        let from = places.get(said.from).map_or(0, |p| p.0);
        let to = said.to.checked_sub(1).and_then(|k| places.get(k)).map_or(from, |p| p.1);
        let apart = m.out.last().is_some_and(|l| separated(h, l.to, from));
        m.take(said, from, to.max(from), apart);
    }
    m.close();
    m.out
}

/// Whether a full stop or semicolon stands between two places of the line.
fn separated(h: &Heard, a: usize, b: usize) -> bool {
    h.row.line.low.get(a..b).is_some_and(|t| t.contains(['.', ';', '!', '?']))
}

struct Maker<'a> {
    out: Vec<Stated>,
    /// Movements without a count that may be lifts of sets further on.
    lift: Vec<Stated>,
    bar: bool,
    /// `from` stands before a percentage: the load climbs.
    from_percent: bool,
    /// A movement without a count stands right behind the piece.
    leads: bool,
    line: &'a Line,
}

impl Maker<'_> {
    fn push(&mut self, what: Statement, from: usize, to: usize, problems: Vec<Problem>) {
        self.out.push(Stated { what, from, to, problems });
    }

    /// Movements that no sets took are work without a count.
    fn close(&mut self) {
        self.out.append(&mut self.lift);
        self.out.sort_by_key(|s| s.from);
    }

    fn lifts(&mut self) -> (Vec<MoveSaid>, Vec<Problem>, Option<usize>) {
        let mut all = (Vec::new(), Vec::new(), None);
        for s in std::mem::take(&mut self.lift) {
            all.2 = all.2.or(Some(s.from));
            all.1.extend(s.problems);
            if let Statement::Work(m, _) = s.what {
                all.0.push(*m);
            }
        }
        all
    }

    fn behind(&mut self) -> Option<&mut Behind> {
        // a lift that waits for its sets takes what stands behind it
        if let Some(Stated { what: Statement::Work(_, b), .. }) = self.lift.last_mut() {
            return Some(b);
        }
        match &mut self.out.last_mut()?.what {
            Statement::Work(_, b) | Statement::More(b) | Statement::Bar(b) => Some(b),
            Statement::Sets { behind, .. } => Some(behind),
            _ => None,
        }
    }

    fn after_comma(&self, from: usize) -> bool {
        self.line.low.get(..from).is_some_and(|t| t.trim_end().ends_with([',', ';']))
    }

    fn last_is_sets(&self) -> bool {
        self.lift.is_empty()
            && self
                .out
                .iter()
                .rev()
                .find(|s| {
                    !matches!(
                        s.what,
                        Statement::Rest(_) | Statement::Length(..) | Statement::Wrong | Statement::Week(_)
                    )
                })
                .is_some_and(|s| matches!(s.what, Statement::Sets { .. } | Statement::More(_)))
    }

    fn take(&mut self, said: &Said, from: usize, to: usize, apart: bool) {
        let problems = said.problems.clone();
        match &said.atom {
            Atom::Move(m) => self.movement(m, from, to, problems, apart),
            Atom::Sets(x) => self.sets(x.clone(), false, from, to, problems),
            Atom::Build(b) => self.build(b.reps, from, to, problems),
            Atom::Clock(bits) => self.clock(bits, from, to),
            Atom::Head(k, sure) => {
                self.close();
                self.push(Statement::Head(*k, *sure), from, to, problems);
            }
            Atom::Cap(s) => self.push(Statement::Cap(*s), from, to, problems),
            Atom::Target(t) => self.push(Statement::Target(*t), from, to, problems),
            Atom::Score(s) => self.push(Statement::Score(s.clone()), from, to, problems),
            Atom::Wish(w) => self.push(Statement::Wish(w.clone()), from, to, problems),
            Atom::Week(w) => self.push(Statement::Week(*w), from, to, problems),
            Atom::Team { size, mode } => {
                self.push(Statement::Team { size: *size, mode: *mode }, from, to, problems)
            }
            Atom::Rest(r) => self.rest(*r, from, to),
            Atom::Length(a, b) => self.length(*a, *b, from, to),
            Atom::Around(w) => self.apart(Statement::Around(*w), from, to),
            Atom::EndOfRound => self.apart(Statement::EndOfRound, from, to),
            Atom::Minutes(k) => self.apart(Statement::Minutes(k.clone()), from, to),
            Atom::Then => self.apart(Statement::Then, from, to),
            Atom::Level(n) => self.apart(Statement::Level(*n), from, to),
            Atom::Scale => self.apart(Statement::Scale, from, to),
            Atom::AllLevels => self.apart(Statement::AllLevels, from, to),
            Atom::Or => self.apart(Statement::Or, from, to),
            Atom::Kit(k) => self.apart(Statement::Kit(k.clone()), from, to),
            Atom::Person(n) => self.apart(Statement::Person(*n), from, to),
            Atom::Ladder(l) => self.push(Statement::Ladder(l.clone()), from, to, problems),
            Atom::Bar => self.bar = true,
            Atom::SameBar => self.same_bar(from, to),
            Atom::NoMisses => self.no_misses(),
            Atom::Superset => {}
            Atom::Instead => {
                self.close();
                if matches!(self.out.last(), Some(Stated { what: Statement::Work(..), .. })) {
                    self.out.pop();
                }
            }
            Atom::Drill(t) => self.drill(t, from, to),
            Atom::Note(t) if problems.is_empty() => self.note(t),
            Atom::Note(_) => self.push(Statement::Wrong, from, to, problems),
            other => {
                self.from_percent = self
                    .line
                    .low
                    .get(..from)
                    .is_some_and(|t| t.trim_end().trim_end_matches(['@', ' ']).ends_with("from"));
                self.modifier(other, from, to, problems);
            }
        }
    }

    fn no_misses(&mut self) {
        match self.out.iter_mut().rev().find(|s| matches!(s.what, Statement::Build { .. })) {
            Some(Stated { what: Statement::Build { no_misses, .. }, .. }) => *no_misses = true,
            _ => self.note("no misses"),
        }
    }

    fn same_bar(&mut self, from: usize, to: usize) {
        match self.behind() {
            Some(b) => b.same_bar = true,
            None => {
                let bar = Behind { same_bar: true, ..Behind::default() };
                self.push(Statement::Bar(Box::new(bar)), from, to, Vec::new());
            }
        }
    }

    fn apart(&mut self, what: Statement, from: usize, to: usize) {
        self.close();
        self.push(what, from, to, Vec::new());
    }

    fn note(&mut self, text: &str) {
        if let Some(b) = self.behind().filter(|_| !text.is_empty()) {
            b.notes.push(text.to_owned());
        }
    }

    /// A drill is kept in its place; behind work it is a word about it.
    fn drill(&mut self, text: &str, from: usize, to: usize) {
        let counted = text.starts_with(|c: char| c.is_ascii_digit());
        if self.behind().is_some() && !counted {
            self.note(text);
        } else {
            self.push(Statement::Drill(text.to_owned()), from, to, Vec::new());
        }
    }

    fn movement(&mut self, m: &MoveSaid, from: usize, to: usize, problems: Vec<Problem>, apart: bool) {
        // `3RM front squat`
        if m.count.is_none()
            && !apart
            && self.lift.is_empty()
            && let Some(Stated { what: Statement::Build { lift: lift @ None, .. }, to: end, .. }) =
                self.out.last_mut()
        {
            *lift = Some(m.movement.clone());
            *end = to;
            return;
        }
        // sets that stood before their lift: `5x5 back squat`, `3x12 RDL`
        if m.count.is_none()
            && !apart
            && self.lift.is_empty()
            && let Some(Stated { what: Statement::Sets { lifts, .. }, problems: own, to: end, .. }) =
                self.out.last_mut()
            && lifts.is_empty()
        {
            lifts.push(m.clone());
            own.extend(problems);
            *end = to;
            return;
        }
        // `+ front squat` goes on a chain
        if m.count.is_none()
            && let Some(Stated { what: Statement::Sets { lifts, .. }, .. }) = self.out.last_mut()
            && self.lift.is_empty()
            && !lifts.is_empty()
            && m.plus
        {
            lifts.push(m.clone());
            return;
        }
        // `we squat: five sets of five back squats`: named twice
        if m.count.is_none()
            && let Some(Stated { what: Statement::Sets { lifts, .. }, .. }) = self.out.last()
            && self.lift.is_empty()
            && lifts.iter().any(|l| l.movement == m.movement)
        {
            return;
        }
        let stated =
            Stated { what: Statement::Work(Box::new(m.clone()), Box::default()), from, to, problems };
        if m.count.is_none() {
            if !m.plus {
                self.close();
            }
            self.lift.push(stated);
        } else {
            self.close();
            self.out.push(stated);
        }
    }

    fn sets(&mut self, sets: SetsSaid, scheme: bool, from: usize, to: usize, mut problems: Vec<Problem>) {
        // `leg swings, 2x8 goblet squats`: the sets lead what follows them
        if self.leads && !self.lift.is_empty() && self.after_comma(from) {
            self.close();
        }
        let waiting = self.lift.last().and_then(|l| match &l.what {
            Statement::Work(_, b) => Some((**b).clone()),
            _ => None,
        });
        let (lifts, own, begin) = self.lifts();
        problems.extend(own);
        let behind = Box::new(waiting.unwrap_or_default());
        self.push(Statement::Sets { lifts, sets, behind, scheme }, begin.unwrap_or(from), to, problems);
    }

    fn build(&mut self, reps: u32, from: usize, to: usize, problems: Vec<Problem>) {
        // `5 x 3, build to a tough triple`: the sets climb
        if let Some(Stated { what: Statement::Sets { behind, .. }, .. }) = self.out.last_mut()
            && self.lift.is_empty()
        {
            behind.add_weight = true;
            return;
        }
        let (lifts, own, begin) = self.lifts();
        let lift = lifts.first().map(|m| m.movement.clone());
        // a window that stood before it
        let window = match self.out.last() {
            Some(Stated { what: Statement::Length(_, b), .. }) => Some(*b),
            _ => None,
        };
        if window.is_some() {
            self.out.pop();
        }
        self.push(
            Statement::Build { lift, reps, window, no_misses: false },
            begin.unwrap_or(from),
            to,
            [problems, own].concat(),
        );
    }

    fn clock(&mut self, bits: &Bits, from: usize, to: usize) {
        // a lift and numbers with dashes: sets, or the numbers of a workout
        let apart = self.leads && self.after_comma(from);
        if let (Some(scheme), false, false) = (&bits.scheme, self.lift.is_empty(), apart) {
            let reps = SetsSaid {
                reps: scheme.clone(),
                unit: Unit::Reps,
                more: Vec::new(),
                empty: scheme.contains(&0),
                open: false,
            };
            self.sets(reps, true, from, to, Vec::new());
            return;
        }
        // `..., every 2:30` behind sets is their rhythm
        let rhythm = bits.length.is_none() && self.last_is_sets();
        if let Some(every) =
            bits.every.filter(|_| rhythm || self.lifts_with_times(bits) || self.lift_in_rhythm(bits))
        {
            if let (Some(n), false) = (bits.times, self.lift.is_empty()) {
                let reps = SetsSaid {
                    reps: vec![1; n.min(MOST_SETS) as usize],
                    unit: Unit::Reps,
                    more: Vec::new(),
                    empty: false,
                    open: false,
                };
                self.sets(reps, false, from, to, too_many(n, self.line, from, to));
            }
            if let Some(b) = self.behind() {
                b.every = Some(every);
                return;
            }
        }
        self.close();
        if let Some(Stated { what: Statement::Clock(own), to: end, .. }) = self.out.last_mut()
            && own.join(bits)
        {
            *end = to;
            return;
        }
        self.push(Statement::Clock(bits.clone()), from, to, Vec::new());
    }

    /// `Power snatch + overhead squat: every 90 s for 8 sets`.
    fn lifts_with_times(&self, bits: &Bits) -> bool {
        !self.lift.is_empty() && bits.times.is_some() && !bits.minutely
    }

    /// `Deadlift, every 2:30` above its sets.
    fn lift_in_rhythm(&self, bits: &Bits) -> bool {
        let alone = Bits { every: bits.every, minutely: bits.minutely, ..Bits::default() };
        *bits == alone && self.lift_alone()
    }

    /// A lift stands alone on the line so far: its sets come below.
    fn lift_alone(&self) -> bool {
        let main = |s: &Stated| matches!(&s.what, Statement::Work(m, _) if m.movement.id().is_some_and(super::work::barbell));
        let head = |s: &Stated| matches!(s.what, Statement::Head(..) | Statement::Week(_));
        self.out.iter().all(head) && self.lift.len() == 1 && self.lift.iter().all(main)
    }

    fn rest(&mut self, r: RestSaid, from: usize, to: usize) {
        if (self.last_is_sets() || self.lift_alone())
            && let Some(b) = self.behind()
        {
            b.rest = Some(r);
            return;
        }
        self.close();
        self.push(Statement::Rest(r), from, to, Vec::new());
    }

    fn length(&mut self, a: u32, b: u32, from: usize, to: usize) {
        if let Some(Stated { what: Statement::Build { window, .. }, .. }) =
            self.out.iter_mut().rev().find(|s| matches!(s.what, Statement::Build { .. }))
            && window.is_none()
            && b > 0
        {
            *window = Some(b);
            return;
        }
        self.push(Statement::Length(a, b), from, to, Vec::new());
    }

    fn modifier(&mut self, atom: &Atom, from: usize, to: usize, problems: Vec<Problem>) {
        let bar = std::mem::take(&mut self.bar);
        if bar && matches!(atom, Atom::Load(_) | Atom::At(..) | Atom::Percent(_)) {
            self.close();
            self.push(Statement::Bar(Box::default()), from, to, Vec::new());
        }
        if self.behind().is_none() || self.blocked(atom) {
            self.close();
            self.push(Statement::More(Box::default()), from, to, Vec::new());
        }
        if let Some(last) = self.lift.last_mut().or(self.out.last_mut()) {
            last.problems.extend(problems);
            last.to = last.to.max(to);
        }
        let climbs = self.from_percent;
        if let Some(b) = self.behind() {
            set(b, atom, (from, to), climbs);
        }
    }

    /// A second weight behind something that has one stands for something else.
    fn blocked(&self, atom: &Atom) -> bool {
        let last = self.lift.last().or(self.out.last());
        match last.map(|s| &s.what) {
            Some(Statement::More(b)) => matches!(atom, Atom::Load(_)) && b.load.is_some(),
            _ => false,
        }
    }
}

fn set(b: &mut Behind, atom: &Atom, place: (usize, usize), climbs: bool) {
    match atom {
        Atom::Percent(p) => {
            b.percent.get_or_insert_with(|| p.clone());
            b.climb |= climbs;
        }
        Atom::At(v, two) => {
            b.at = b.at.or(Some((*v, *two)));
            b.at_place = Some(place);
        }
        Atom::Load(l) => {
            b.load = b.load.or(Some(*l));
            b.at_place = b.at_place.or(Some(place));
        }
        Atom::Height(h) => b.height = b.height.or(Some(*h)),
        Atom::Tempo(t) => b.tempo = Some(*t),
        Atom::Side => b.side = true,
        Atom::Unbroken => b.unbroken = true,
        Atom::Rise(r) => b.rise = Some(*r),
        Atom::WordLoad(w) => b.word = b.word.or(Some(*w)),
        Atom::AddWeight => b.add_weight = true,
        Atom::Climb => b.climb = true,
        Atom::LastAtTop(n) => b.last_at_top = Some(*n),
        Atom::Optional => b.optional = true,
        Atom::FromCycle => b.by_cycle = true,
        Atom::Effort(t) => b.notes.push(t.clone()),
        _ => {}
    }
}
