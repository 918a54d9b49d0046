//! Partners and teams: each member has a state of their own, one works, the others rest. No pacing is searched: a turn
//! is short and the others' turns are its rest.

use super::athlete::Athlete;
use super::params::{ETA, GUARD, TAG};
use super::policy::{Policy, Swayed};
use super::run::{Run, tasks_for};
use super::state::{Horizon, Sim};
use super::task::Task;
use super::trace::{Did, Span, Steadiness};
use super::workout::{Shared, Workout};

/// Share of the engine that a member in a pair can spend while working (own).
const TURN: f64 = 1.1;

/// What a team's run gave.
#[derive(Debug, Clone)]
pub struct TeamRun {
    /// s on the clock at the end.
    pub time: f64,
    /// Everything was done.
    pub done: bool,
    /// Counted units of each.
    pub each: Vec<f64>,
    /// Turns in all.
    pub turns: u32,
    /// Heaviest load of each on a ladder, kg; 0 without.
    pub best: Vec<f64>,
    /// Whole passes of the list.
    pub rounds: u32,
    /// Everything that the members did, in turn, when logged: (member, span).
    pub trace: Vec<(usize, Span)>,
    /// s at the end of each pass.
    pub round_ends: Vec<f64>,
    stuck: bool,
    set_count: u32,
    steps: u64,
    engine_left: f64,
}

/// A team at work.
struct Together<'a> {
    sims: Vec<Sim<'a>>,
    clock: f64,
    out: TeamRun,
}

impl<'a> Together<'a> {
    /// A turn of one member, who rested until now; false at the deadline or when stuck.
    fn turn(&mut self, who: usize, work: impl FnOnce(&mut Sim<'a>) -> bool) -> bool {
        let Some(sim) = self.sims.get_mut(who) else { return false };
        let (from, seen) = (sim.t, sim.trace.len());
        sim.rest((self.clock - from).max(0.0));
        sim.note(Did::Rest, from, 0, 0, 0.0);
        let ok = work(sim);
        self.clock = sim.t;
        self.out
            .trace
            .extend(sim.trace.iter().skip(seen).map(|s| (who, Span { round: self.out.rounds, ..*s })));
        ok
    }

    fn round_done(&mut self) {
        self.out.rounds += 1;
        self.out.round_ends.push(self.clock);
    }

    fn alternate(&mut self, n: Option<u32>, body: &'a [super::workout::Node]) -> bool {
        let k = self.sims.len();
        for i in 0..n.unwrap_or(u32::MAX) {
            if i > 0 {
                self.clock += TAG;
            }
            let begin = self.clock;
            // whoever waits stands ready for the first movement
            let ready = match body.first() {
                Some(super::workout::Node::Task(a)) if i > 0 => Some(a.slot),
                _ => None,
            };
            let pass = |s: &mut Sim<'a>| {
                s.in_hand = ready.or(s.in_hand);
                s.pass = i;
                s.run_all(body, None)
            };
            if !self.turn(i as usize % k, pass) {
                return false;
            }
            self.out.turns += 1;
            self.round_done();
            if self.clock <= begin {
                return true; // a body without work would never end
            }
        }
        true
    }

    fn switch(&mut self, t: Option<f64>, tasks: &[(super::workout::Amount, f64)]) -> bool {
        let k = self.sims.len();
        let (mut who, first) = (0, self.out.rounds);
        loop {
            let begin = self.clock;
            for (a, turn) in tasks {
                let mut left = a.units(None, self.out.rounds - first);
                let mut new = true;
                while left > 1e-9 {
                    let n = turn.max(1.0).min(left);
                    if new {
                        self.sims.iter_mut().for_each(|s| s.in_hand = None);
                    } else {
                        self.clock += TAG;
                        if let Some(s) = self.sims.get_mut(who) {
                            s.in_hand = Some(a.slot);
                        }
                    }
                    if !self.turn(who, |s| s.work(a.slot, n, a.line)) {
                        return false;
                    }
                    self.out.turns += 1;
                    left -= n;
                    new = false;
                    who = (who + 1) % k;
                }
            }
            self.round_done();
            if t.is_none() || self.clock <= begin {
                return true;
            }
        }
    }

    fn ladder(&mut self, workout: &Workout, slots: &[usize], reps: f64, change: f64, end: f64) -> bool {
        let mut alive = vec![true; self.sims.len()];
        for (j, slot) in slots.iter().enumerate() {
            if j > 0 {
                self.clock += change;
            }
            for (who, alive) in alive.iter_mut().enumerate() {
                if !*alive || self.clock >= end {
                    continue;
                }
                let able = self.sims.get(who).and_then(|s| s.tasks.get(*slot)).is_some_and(|t| t.feasible);
                if !able {
                    *alive = false;
                    continue;
                }
                if let Some(s) = self.sims.get_mut(who) {
                    s.in_hand = Some(*slot);
                }
                self.clock += TAG;
                if self.turn(who, |s| s.work(*slot, reps, 0)) {
                    self.out.turns += 1;
                    if let (Some(best), Some((_, load))) =
                        (self.out.best.get_mut(who), workout.tasks.get(*slot))
                    {
                        *best = *load;
                    }
                } else {
                    *alive = false;
                }
            }
            if !alive.contains(&true) || self.clock >= end {
                break;
            }
        }
        // who cannot go on is out, not stuck
        self.sims.iter_mut().for_each(|s| s.stuck = false);
        self.clock < end
    }
}

/// One run of a team: its members with their tasks and pacing, in the order of their turns.
pub fn simulate_team(
    workout: &Workout,
    members: &[(&Athlete, &[Task])],
    policy: &Policy,
    capped: bool,
    log: bool,
) -> TeamRun {
    let k = members.len().max(1);
    let shared = workout.team.as_ref().map_or(&[][..], |(_, s)| s.as_slice());
    let end = workout.cap.filter(|_| capped).unwrap_or(GUARD);
    let sims = members
        .iter()
        .map(|(a, tasks)| {
            let mut sim = Sim::new(a, tasks, policy, end, log);
            sim.horizon = Horizon::Turns(TURN * (1.0 + ETA * (k as f64 - 1.0)));
            sim
        })
        .collect();
    let out = TeamRun {
        time: 0.0,
        done: false,
        each: Vec::new(),
        turns: 0,
        best: vec![0.0; k],
        rounds: 0,
        trace: Vec::new(),
        round_ends: Vec::new(),
        stuck: false,
        set_count: 0,
        steps: 0,
        engine_left: 0.0,
    };
    let mut team = Together { sims, clock: 0.0, out };
    let mut done = true;
    for part in shared {
        let limit = match part {
            Shared::Alternate { t: Some(t), .. } | Shared::Switch { t: Some(t), .. } => {
                end.min(team.clock + t)
            }
            _ => end,
        };
        team.sims.iter_mut().for_each(|s| s.deadline = limit);
        done = match part {
            Shared::Alternate { n, body, .. } => team.alternate(*n, body),
            Shared::Switch { t, tasks } => team.switch(*t, tasks),
            Shared::Rest(t) => {
                team.clock += t;
                team.clock < end
            }
            Shared::Ladder { slots, reps, change } => team.ladder(workout, slots, *reps, *change, end),
        };
        if !done && limit < end && !team.sims.iter().any(|s| s.stuck) {
            // the time of an open list is up: what follows begins then
            (team.clock, done) = (limit, true);
        }
        if !done {
            break;
        }
    }
    let (sims, mut out) = (team.sims, team.out);
    out.stuck = sims.iter().any(|s| s.stuck);
    out.done = done && !out.stuck;
    out.time = team.clock;
    out.each = sims.iter().map(|s| s.reps + s.part).collect();
    out.set_count = sims.iter().map(|s| s.set_count).sum();
    out.steps = sims.iter().map(|s| s.steps).sum();
    out.engine_left = sims.first().map_or(0.0, |s| s.w);
    out
}

/// One run of a member with partners as strong as they are: the range of a member whose partners are not known.
pub(super) fn with_equals(
    workout: &Workout,
    athlete: &Athlete,
    tasks: &[Task],
    policy: &Policy,
    capped: bool,
    log: bool,
) -> Run {
    let size = workout.team.as_ref().map_or(1, |(n, _)| *n as usize);
    let members = vec![(athlete, tasks); size];
    let run = simulate_team(workout, &members, policy, capped, log);
    Run {
        time: run.time,
        done: run.done,
        reps: run.each.iter().sum(),
        part: 0.0,
        rounds: run.rounds,
        margin: f64::INFINITY,
        lowest: f64::INFINITY,
        stuck: run.stuck,
        engine_left: run.engine_left,
        set_count: run.set_count,
        // partners take over when a set breaks
        broken: 0,
        segments: Vec::new(),
        steadiness: Steadiness::default(),
        // the member is the first of the team
        trace: run.trace.into_iter().filter(|(who, _)| *who == 0).map(|(_, s)| s).collect(),
        round_ends: run.round_ends,
        steps: run.steps,
        swayed: Swayed::default(),
    }
}

/// Two and more members with their own abilities.
pub fn simulate_partners(workout: &Workout, members: &[&Athlete]) -> TeamRun {
    let tasks: Vec<Vec<Task>> = members.iter().map(|a| tasks_for(workout, a, &[])).collect();
    let pairs: Vec<(&Athlete, &[Task])> =
        members.iter().zip(&tasks).map(|(a, t)| (*a, t.as_slice())).collect();
    simulate_team(workout, &pairs, &Policy::default(), true, false)
}
