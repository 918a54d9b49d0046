//! The laws of pacing once more, written down plainly: bisections, Newton steps and exponentials where the program has series,
//! tables and secants; one reserve after the other; no thought of speed. What the program gives must agree with it.

mod reserve;
mod sim;
mod spec;
mod walk;

use lantern_core::pacing::params::*;
use lantern_core::pacing::{Athlete, Node, Policy, Scored, Shared, Workout};
use sim::{Horizon, Sim};

/// One run under a pacing.
pub fn run<'a>(w: &Workout, a: &'a Athlete, pol: &Policy) -> Sim<'a> {
    let mut sim = Sim::new(w, a, pol.clone());
    sim.deadline = GUARD;
    sim.all(&w.body, None);
    let spent = sim.spent;
    sim.segments.push(spent);
    sim
}

/// The fixed point of the segments' engine costs.
pub fn settle<'a>(w: &Workout, a: &'a Athlete) -> Sim<'a> {
    let mut out = run(w, a, &Policy::default());
    for _ in 0..3 {
        if out.stuck {
            break;
        }
        out = run(w, a, &Policy { segments: out.segments.clone(), ..Policy::default() });
    }
    out
}

/// What is compared.
pub fn score(w: &Workout, sim: &Sim<'_>) -> f64 {
    match w.scored {
        Scored::Time => sim.t,
        Scored::Margin => sim.margins.iter().copied().fold(f64::INFINITY, f64::min),
        _ => sim.reps + sim.part,
    }
}

/// s on the clock when partners have done all rounds in turn, or all reps one after another.
pub fn together(w: &Workout, members: &[&Athlete]) -> f64 {
    let (_, shared) = w.team.as_ref().unwrap();
    let k = members.len();
    let mut sims: Vec<Sim<'_>> = members.iter().map(|a| Sim::new(w, a, Policy::default())).collect();
    for s in &mut sims {
        s.deadline = GUARD;
        s.horizon = Horizon::Turns(1.1 * (1.0 + ETA * (k as f64 - 1.0)));
    }
    let mut clock: f64 = 0.0;
    let turn = |s: &mut Sim<'_>, clock: &mut f64, f: &mut dyn FnMut(&mut Sim<'_>)| {
        s.rest((*clock - s.t).max(0.0));
        f(s);
        *clock = s.t;
    };
    match shared.first().unwrap() {
        Shared::Alternate { n, body, .. } => {
            for i in 0..n.unwrap() {
                let s = &mut sims[i as usize % k];
                if i > 0 {
                    clock += TAG;
                    if let Some(Node::Task(a)) = body.first() {
                        s.cur = Some(a.slot);
                    }
                }
                s.pass = i;
                turn(s, &mut clock, &mut |s| {
                    s.all(body, None);
                });
            }
        }
        Shared::Switch { tasks, .. } => {
            let mut who = 0;
            for (a, size) in tasks {
                let (mut left, mut new) = (a.units(None, 0), true);
                while left > 0.0 {
                    let n = size.min(left);
                    if new {
                        sims.iter_mut().for_each(|s| s.cur = None);
                    } else {
                        clock += TAG;
                        sims[who].cur = Some(a.slot);
                    }
                    turn(&mut sims[who], &mut clock, &mut |s| {
                        s.work(a.slot, n);
                    });
                    left -= n;
                    new = false;
                    who = (who + 1) % k;
                }
            }
        }
        other => panic!("not written down plainly: {other:?}"),
    }
    clock
}
