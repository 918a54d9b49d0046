//! Where blocks begin: kinds of lines and boundaries chosen together over the whole sheet, by dynamic programming over
//! what each block has so far. Linear in the number of lines.

use super::feature::Feature;
use super::model::BlockKind;
use super::weights::{Weights, weights};

/// What becomes of a line.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Act {
    /// Talk, or a title.
    Message,
    /// It goes on with the block above.
    On,
    /// It opens a block.
    Open(BlockKind),
}

/// The choice for a line, the next best one, and by how many points it lost.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Choice {
    pub act: Act,
    pub other: Option<(Act, f64)>,
}

/// What a block has so far. State 0: no block yet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
struct State {
    kind: Option<BlockKind>,
    clock: bool,
    work: bool,
    lift: bool,
    cap: bool,
    rested: bool,
    /// A lift waits for its sets.
    waits: bool,
}

const STATES: usize = 7 * 64;
/// States kept before each line: the best ones. What loses by more never comes back.
const BEAM: usize = 8;
/// Points by which a state may be behind the best: opening a block anew costs less than that.
const BEHIND: f64 = 40.0;

impl State {
    fn index(self) -> usize {
        let kind = self.kind.map_or(0, |k| BlockKind::ALL.iter().position(|x| *x == k).unwrap_or(0) + 1);
        let bits = [self.clock, self.work, self.lift, self.cap, self.rested, self.waits];
        kind * 64 + bits.iter().enumerate().map(|(i, b)| usize::from(*b) << i).sum::<usize>()
    }

    fn of(index: usize) -> State {
        let bit = |i: usize| index >> i & 1 == 1;
        State {
            kind: (index / 64).checked_sub(1).and_then(|k| BlockKind::ALL.get(k)).copied(),
            clock: bit(0),
            work: bit(1),
            lift: bit(2),
            cap: bit(3),
            rested: bit(4),
            waits: bit(5),
        }
    }

    /// Points for ending the sheet here: a workout without work is not left.
    fn left_empty(self) -> f64 {
        let empty = self.kind == Some(BlockKind::Workout) && !self.work && !self.lift;
        if empty { weights().leave_empty } else { 0.0 }
    }

    fn after(self, f: &Feature, act: Act) -> State {
        let from = match act {
            Act::Message => return self,
            Act::On => self,
            Act::Open(k) => State { kind: Some(k), ..State::default() },
        };
        let worked = f.counted + f.unled + f.unknown > 0 && !f.level;
        State {
            kind: from.kind,
            clock: from.clock || f.clock || f.rounds,
            work: from.work || (worked && !f.named),
            lift: from.lift || f.all_sets > 0 || f.builds > 0,
            cap: from.cap || f.cap,
            rested: f.rested || from.rested && !worked && f.clocks == 0,
            waits: f.named || from.waits && f.all_sets + f.builds == 0,
        }
    }
}

/// What may become of a line, with its points.
#[derive(Clone, Copy)]
struct Moves {
    acts: [(Act, f64); 8],
    n: usize,
}

impl Default for Moves {
    fn default() -> Moves {
        Moves { acts: [(Act::Message, 0.0); 8], n: 0 }
    }
}

impl Moves {
    fn of(act: Act) -> Moves {
        let mut out = Moves::default();
        out.push((act, 0.0));
        out
    }

    fn push(&mut self, one: (Act, f64)) {
        if let Some(slot) = self.acts.get_mut(self.n) {
            *slot = one;
            self.n += 1;
        }
    }

    fn all(&self) -> &[(Act, f64)] {
        self.acts.get(..self.n).unwrap_or_default()
    }
}

/// Chooses for every line. `exact`: the sheet has headings with a hash. `fixed`: lines for which the coach has chosen.
pub(super) fn segment(lines: &[Feature], fixed: &[Option<Act>]) -> Vec<Choice> {
    let w = weights();
    let exact = lines.iter().any(|f| f.hashes && f.head.is_some());
    let ctx = Context { w, exact };
    let before: Vec<Option<char>> = letters(lines);
    let values: Vec<f64> = lines.iter().map(|f| ctx.value(f)).collect();
    let moves = |i: usize, s: State| -> Moves {
        let (Some(f), Some(last)) = (lines.get(i), before.get(i)) else { return Moves::default() };
        match fixed.get(i).copied().flatten() {
            Some(act) if act != Act::On || s.kind.is_some() => Moves::of(act),
            _ => ctx.acts(f, values.get(i).copied().unwrap_or(0.0), *last, s),
        }
    };
    // forward: best points to reach each state before each line, and what may become of the line there
    let mut reach: Vec<Vec<Reached>> = Vec::with_capacity(lines.len());
    let mut here = vec![(State::default().index(), 0.0)];
    let mut best = vec![f64::NEG_INFINITY; STATES];
    for (i, f) in lines.iter().enumerate() {
        let mut seen: Vec<usize> = Vec::with_capacity(BEAM * 2);
        let mut now: Vec<Reached> = Vec::with_capacity(here.len());
        for (at, points) in here.drain(..) {
            let reached = Reached { at, points, moves: moves(i, State::of(at)) };
            for (act, p) in reached.moves.all() {
                let to = State::of(at).after(f, *act).index();
                if let Some(b) = best.get_mut(to) {
                    if *b == f64::NEG_INFINITY {
                        seen.push(to);
                    }
                    *b = b.max(points + p);
                }
            }
            now.push(reached);
        }
        for s in seen {
            if let Some(b) = best.get_mut(s) {
                here.push((s, std::mem::replace(b, f64::NEG_INFINITY)));
            }
        }
        here.sort_unstable_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        here.truncate(BEAM);
        let top = here.first().map_or(0.0, |h| h.1);
        here.retain(|(_, p)| *p > top - BEHIND);
        reach.push(now);
    }
    backward(lines, &reach)
}

/// A state before a line: the best points to reach it, and what may become of the line.
struct Reached {
    at: usize,
    points: f64,
    moves: Moves,
}

/// From the end: the best act of every line on the best path, and the best other one.
fn backward(lines: &[Feature], reach: &[Vec<Reached>]) -> Vec<Choice> {
    // what a line's states still get: the lines below
    let mut rest: Vec<(usize, f64)> = Vec::new();
    let mut all: Vec<Vec<(Act, f64)>> = Vec::with_capacity(lines.len());
    for (i, (f, states)) in lines.iter().zip(reach).enumerate().rev() {
        let mut now: Vec<(usize, f64)> = Vec::with_capacity(states.len());
        let mut here: Vec<(Act, f64)> = Vec::with_capacity(8);
        for r in states {
            let mut most = f64::NEG_INFINITY;
            for (act, p) in r.moves.all() {
                let to = State::of(r.at).after(f, *act).index();
                let below = rest.iter().find(|(s, _)| *s == to).map(|(_, v)| *v);
                let last = i + 1 == lines.len();
                let end = if last { State::of(to).left_empty() } else { f64::NEG_INFINITY };
                let on = p + below.unwrap_or(end);
                most = most.max(on);
                match here.iter_mut().find(|(a, _)| a == act) {
                    Some(known) => known.1 = known.1.max(r.points + on),
                    None => here.push((*act, r.points + on)),
                }
            }
            now.push((r.at, most));
        }
        here.sort_by(|a, b| b.1.total_cmp(&a.1));
        all.push(here);
        rest = now;
    }
    all.reverse();
    follow(lines, &all, reach)
}

/// The best path itself, forward, with each line's runner-up.
fn follow(lines: &[Feature], all: &[Vec<(Act, f64)>], reach: &[Vec<Reached>]) -> Vec<Choice> {
    let mut out = Vec::with_capacity(lines.len());
    let mut state = State::default();
    for ((f, here), states) in lines.iter().zip(all).zip(reach) {
        let possible = states.iter().find(|r| r.at == state.index()).map(|r| r.moves).unwrap_or_default();
        let fits = |a: &Act| possible.all().iter().any(|(p, _)| p == a);
        let Some((act, best)) = here.iter().find(|(a, _)| fits(a)).copied() else {
            out.push(Choice { act: Act::Message, other: None });
            continue;
        };
        let other = here.iter().find(|(a, _)| *a != act).map(|(a, p)| (*a, best - p));
        out.push(Choice { act, other });
        state = state.after(f, act);
    }
    out
}

/// The letter of the last label above each line.
fn letters(lines: &[Feature]) -> Vec<Option<char>> {
    let mut last = None;
    lines
        .iter()
        .map(|f| {
            let before = last;
            last = f.label.and_then(|l| l.letter).or(last);
            before
        })
        .collect()
}

struct Context {
    w: Weights,
    exact: bool,
}

impl Context {
    /// What may become of a line; `value`: how much it is work.
    fn acts(&self, f: &Feature, value: f64, last: Option<char>, s: State) -> Moves {
        let mut out = Moves::default();
        // a line that speaks plainly of work is not talk, wherever it stands
        let plain = f.clocks + f.counted + f.all_sets + f.builds > 0 && f.chatter < 3.0 && f.begun_plainly();
        let loss = if plain { self.w.plain_work_as_talk } else { 0.0 };
        out.push((Act::Message, self.w.message_talk * f.chatter + loss));
        if f.empty {
            return out;
        }
        if s.kind.is_some() {
            out.push((Act::On, value + self.on(f, last, s)));
        }
        // nothing on it begins anything: the work goes on
        if s.kind.is_some() && f.inside() {
            return out;
        }
        for k in BlockKind::ALL {
            out.push((Act::Open(k), value + self.open(f, last, s, k)));
        }
        out
    }

    /// How much a line is work.
    fn value(&self, f: &Feature) -> f64 {
        let w = &self.w;
        let n = |v: u32| f64::from(v.min(6));
        let head = match f.head {
            Some((_, true)) => w.head_sure,
            Some(_) => w.head,
            None => 0.0,
        };
        head + w.work_counted * n(f.counted)
            + w.work_named * n(f.unled)
            + w.clock * n(f.clocks)
            + w.aim * n(f.aims)
            + w.sets * n(f.all_sets)
            + w.build * n(f.builds)
            + w.rest * n(f.rests)
            + w.around * n(f.arounds)
            + w.talk * f.chatter
            + w.number * n(f.numbers)
            + w.unknown * n(f.unknown)
            + if f.begun { w.work_counted } else { 0.0 }
            + if f.led { w.led } else { 0.0 }
            + if f.then { 0.5 } else { 0.0 }
    }

    fn new_letter(f: &Feature, last: Option<char>) -> bool {
        f.label.is_some_and(|l| l.part && l.number.is_none() || l.letter.is_some_and(|c| last != Some(c)))
    }

    fn open(&self, f: &Feature, last: Option<char>, s: State, k: BlockKind) -> f64 {
        let w = &self.w;
        let mut p = if s.kind.is_none() { w.open_first } else { w.open };
        let bare = f.head.is_none()
            && match s.kind {
                Some(BlockKind::Workout | BlockKind::Accessory) => !s.work && !s.lift,
                Some(BlockKind::Strength) => s.waits || f.lift && !s.lift && !s.work,
                _ => false,
            };
        p += if bare { w.leave_empty } else { 0.0 } + if f.level { w.level_opens } else { 0.0 };
        match f.head {
            Some((h, sure)) if h == k => p += if sure { w.head_opens } else { w.head_opens_weak },
            Some(_) => return w.head_other,
            None if self.exact && s.kind.is_some() => p += w.open_exact,
            None => {}
        }
        if Context::new_letter(f, last) {
            p += w.letter;
        }
        p += w.talk * if f.head.is_none() { f.talk } else { 0.0 };
        p += if f.gap { w.gap } else { 0.0 } + if f.bold { w.bold } else { 0.0 };
        if f.head.is_none() {
            let nothing = f.counted + f.unled + f.unknown + f.clocks + f.all_sets + f.builds == 0
                && !f.cap
                && f.arounds == 0;
            p += if nothing { self.w.leave_empty } else { 0.0 };
            p += self.unsaid(f, s, k);
        }
        p + self.order(s.kind, k)
    }

    /// What speaks for a kind without its heading.
    fn unsaid(&self, f: &Feature, s: State, k: BlockKind) -> f64 {
        let w = &self.w;
        let yes = |b: bool, v: f64| if b { v } else { 0.0 };
        let assistance = f.sets && !f.lift;
        match k {
            BlockKind::Strength => {
                yes(f.lift && !(f.scheme && f.scored), w.lift_opens)
                    + yes(f.named, w.lift_named_opens)
                    + yes(assistance, w.sets_open)
                    + yes(f.clock && !f.lift, w.clock_in_strength)
                    + yes(f.cap, w.cap_in_strength)
                    + yes(!f.lift && !f.named && !assistance && !f.clock, -2.0)
            }
            BlockKind::Workout => {
                let work = f.counted + f.unled > 0 && s.kind.is_none();
                yes(f.clock, w.clock_opens)
                    + yes(f.rounds && !f.clock, w.rounds_open)
                    + yes(f.cap, w.cap_opens)
                    + yes(work, w.work_opens)
                    + yes(f.lift && !f.scheme && !f.clock, w.lift_in_workout)
                    + yes(f.named, w.named_in_workout)
                    + yes(assistance && !f.clock, w.sets_in_workout)
                    + yes(f.arounds > 0 && s.kind.is_none(), 1.0)
                    + yes(f.team && !(f.cap && s.kind == Some(k) && s.work && !s.cap), w.team_opens)
            }
            BlockKind::WarmUp => {
                w.warm_up_unsaid + yes(f.scored || f.cap, w.clock_in_warm_up) + yes(f.lift, w.lift_in_warm_up)
            }
            BlockKind::Skill => w.skill_unsaid + yes(f.lift, w.lift_in_skill),
            BlockKind::Accessory => {
                w.accessory_unsaid
                    + yes(assistance, w.accessory_sets)
                    + yes(f.rounds && f.counted > 1 && (s.lift || s.kind == Some(BlockKind::Workout)), 1.5)
                    + yes(
                        matches!(s.kind, Some(BlockKind::Workout)) && (assistance || f.rounds || f.clock),
                        w.after_workout,
                    )
                    + yes(f.lift, -2.0)
                    + yes(f.scored, w.clock_in_accessory - 1.0)
                    + yes(s.kind.is_none(), -1.5)
            }
            BlockKind::CoolDown => w.cool_down_unsaid,
        }
    }

    fn order(&self, before: Option<BlockKind>, k: BlockKind) -> f64 {
        let rank = |k: BlockKind| match k {
            BlockKind::WarmUp => 0,
            BlockKind::Skill | BlockKind::Strength => 1,
            BlockKind::Workout => 2,
            BlockKind::Accessory => 3,
            BlockKind::CoolDown => 4,
        };
        match before {
            Some(b) if rank(k) > rank(b) => self.w.in_order,
            Some(_) if k == BlockKind::WarmUp => self.w.backwards,
            Some(b) if rank(k) + 1 < rank(b) => self.w.backwards / 2.0,
            _ => 0.0,
        }
    }

    fn on(&self, f: &Feature, last: Option<char>, s: State) -> f64 {
        let w = &self.w;
        let Some(kind) = s.kind else { return f64::NEG_INFINITY };
        let yes = |b: bool, v: f64| if b { v } else { 0.0 };
        let content = s.work || s.lift || s.clock;
        let mut p = match f.head {
            Some((_, true)) => w.head_passed,
            Some(_) => w.head_passed_weak,
            None => 0.0,
        };
        p += yes(content && Context::new_letter(f, last) && !f.named, w.letter_passed);
        let assistance = f.sets && !f.lift;
        p += match kind {
            BlockKind::WarmUp | BlockKind::CoolDown => {
                yes(f.lift || f.bare_sets, w.lift_in_warm_up)
                    + yes(f.named, w.named_in_warm_up)
                    + yes(assistance, w.sets_in_warm_up)
                    + yes(f.scored, w.clock_in_warm_up)
                    + yes(f.clock && !f.scored, w.windows_in_warm_up)
                    + yes(f.cap, w.cap_in_warm_up)
                    + yes(f.team, w.team_in_warm_up)
            }
            BlockKind::Strength => {
                yes(f.lift && !(f.scheme && f.scored && s.lift), w.lift_in_strength)
                    + yes(f.lift && s.lift && !s.waits && f.gap, w.second_lift)
                    + yes(f.named, w.named_in_strength)
                    + yes(assistance, w.sets_in_strength)
                    + yes(f.bare_sets, w.lift_in_strength)
                    + yes(s.waits && f.cycles && f.counted == 0, w.lift_in_strength)
                    + yes(
                        f.clock && !f.lift && (s.lift || f.scored) && !(s.waits && f.cycles),
                        w.clock_in_strength,
                    )
                    + yes(f.cap, w.cap_in_strength)
                    + yes(f.counted > 0 && s.lift, w.work_in_strength)
            }
            BlockKind::Skill => {
                yes(f.lift, w.lift_in_skill) + yes(f.scored, w.clock_in_skill) + yes(f.cap, w.cap_in_strength)
            }
            BlockKind::Accessory => {
                yes(assistance || f.bare_sets, w.sets_in_accessory)
                    + yes(f.scored && content, w.clock_in_accessory * 2.0)
                    + yes(f.cap, w.cap_in_strength)
            }
            BlockKind::Workout => self.on_in_workout(f, s),
        };
        p
    }

    fn on_in_workout(&self, f: &Feature, s: State) -> f64 {
        let w = &self.w;
        let yes = |b: bool, v: f64| if b { v } else { 0.0 };
        let assistance = f.sets && !f.lift;
        let clock = if !(f.clock || f.rounds) {
            0.0
        } else if !s.clock {
            if s.work { w.clock_after_work } else { w.clock_in_workout }
        } else if !s.work {
            0.5
        } else if f.how || s.rested {
            w.second_clock_rested
        } else if f.clock {
            w.second_clock
        } else {
            0.0
        };
        let scheme = f.scheme && (s.clock || !s.work);
        clock
            + yes(f.lift && !scheme, w.lift_in_workout)
            + yes(f.named, if s.clock { w.named_in_clocked } else { w.named_in_workout })
            + yes(f.bare_sets && !s.waits, w.sets_in_workout)
            + yes(assistance && !scheme, w.sets_in_workout)
            + yes(f.cap && !s.cap, w.cap_in_workout)
            + yes(f.cap && s.cap, w.second_cap)
    }
}
