//! A rack while it is lifted at: whose turn it is, what they lift next, what changes on the bar.

use super::strength::LiftPlan;
use crate::loads::{Attempt, Bars, NextSet, SetLoad, best_of_day, next_set, plate_change};
use crate::roster::{Max, Member};
use chrono::NaiveDate;

/// A member at a rack.
#[derive(Debug, Clone, PartialEq)]
pub struct LifterState {
    /// Position in the class.
    pub member: usize,
    /// Sets as they went.
    pub done: Vec<Attempt>,
    /// The set that comes next, from 1.
    pub number: u32,
    /// What it is; `None`: no more today.
    pub next: Option<SetLoad>,
    /// Why this weight, or why no more.
    pub why: String,
}

/// A rack as it stands.
#[derive(Debug, Clone, PartialEq)]
pub struct RackState {
    /// In lifting order.
    pub lifters: Vec<LifterState>,
    /// Position in `lifters` of whose turn it is.
    pub turn: Option<usize>,
    /// What goes off and on each side for that turn, after the one before, in kg; empty where nothing changes or nothing is
    /// on the bar yet.
    pub change: (Vec<f64>, Vec<f64>),
}

/// A member's next set of a lift after what was logged.
pub fn lifter_state(
    plan: &LiftPlan,
    member: usize,
    m: &Member,
    bars: &Bars,
    done: &[Attempt],
) -> Option<LifterState> {
    let lift = plan.of(member)?;
    let number = done.len() as u32 + 1;
    let state = |next, why: String| LifterState { member, done: done.to_vec(), number, next, why };
    let Some(heavy) = plan.heavy.as_ref().filter(|_| !lift.no_maximum) else {
        return Some(match lift.working().nth(done.len()) {
            Some(s) => state(Some(s.clone()), String::new()),
            None => state(None, "All sets are done.".to_owned()),
        });
    };
    let planned: Vec<f64> = lift.working().map(|s| s.load_kg).collect();
    let bar = bars.of_bar(lift.bar_kg())?;
    Some(match next_set(&planned, done, bar, heavy.build.no_misses, m.is_newer()) {
        NextSet::Lift { load, why } => {
            let set = SetLoad {
                reps: heavy.build.reps,
                percent: (lift.base.kg > 0.0).then(|| load.kg / lift.base.kg * 100.0),
                load_kg: load.kg,
                bar_kg: load.bar_kg,
                per_side_kg: load.per_side,
                warm_up: false,
            };
            state(Some(set), why)
        }
        NextSet::Stop { why } => state(None, why),
    })
}

/// A rack as it stands. `done`: sets of a member of the class, in order; `last`: the plates on each side now, when known.
pub fn rack_state(
    plan: &LiftPlan,
    rack: usize,
    members: &[Member],
    bars: &Bars,
    done: impl Fn(usize) -> Vec<Attempt>,
) -> Option<RackState> {
    let lifters: Vec<LifterState> = plan
        .racks
        .racks
        .get(rack)?
        .members
        .iter()
        .filter_map(|i| lifter_state(plan, *i, members.get(*i)?, bars, &done(*i)))
        .collect();
    // the first with the fewest sets of those who have one left
    let turn = (0..lifters.len())
        .filter(|i| lifters.get(*i).is_some_and(|l| l.next.is_some()))
        .min_by_key(|i| lifters.get(*i).map_or(0, |l| l.done.len()));
    let on_bar = turn.and_then(|t| before(&lifters, t)).and_then(|(l, n)| plates_of(plan, l, n, bars));
    let next = turn.and_then(|t| lifters.get(t)).and_then(|l| l.next.as_ref());
    let change = match (on_bar, next) {
        (Some(now), Some(next)) => plate_change(&now, &next.per_side_kg),
        _ => (Vec::new(), Vec::new()),
    };
    Some(RackState { lifters, turn, change })
}

/// Who lifted last before a turn, and which of their sets.
fn before(lifters: &[LifterState], turn: usize) -> Option<(&LifterState, usize)> {
    let round = lifters.get(turn)?.done.len();
    let same = lifters.iter().take(turn).rev().find(|l| l.done.len() > round);
    let earlier = || lifters.iter().rev().find(|l| l.done.len() >= round).filter(|_| round > 0);
    let l = same.or_else(earlier)?;
    Some((l, if same.is_some() { round } else { round - 1 }))
}

fn plates_of(plan: &LiftPlan, l: &LifterState, n: usize, bars: &Bars) -> Option<Vec<f64>> {
    let kg = l.done.get(n)?.kg;
    let bar = bars.of_bar(plan.of(l.member)?.bar_kg())?;
    bar.nearest(kg).map(|w| w.per_side.clone())
}

/// What a member's attempts at the day's maximum are worth as a base, and whether it is kept already.
///
/// `position`: the member's in the class; the sets of who looks for no maximum are no base.
pub fn new_base(
    plan: &LiftPlan,
    position: usize,
    member: &Member,
    done: &[Attempt],
    date: NaiveDate,
) -> Option<(Max, bool)> {
    plan.heavy.as_ref()?;
    plan.of(position).filter(|l| !l.no_maximum)?;
    let best = best_of_day(plan.id(), done, date)?;
    let kept = member.maxes.iter().any(|m| {
        m.lift == best.lift && m.date == best.date && m.reps == best.reps && (m.kg - best.kg).abs() < 0.01
    });
    Some((best, kept))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kinds::{Gear, Limit};
    use crate::kit::Kit;
    use crate::plan::{Class, Options, plan};
    use crate::units::Standard;

    fn class() -> Class {
        let date = NaiveDate::from_ymd_opt(2026, 11, 24).unwrap();
        let lifter = |name: &str, kg: f64| {
            let mut m = Member::unknown(name, Standard::Heavier, crate::pacing::Level::Regular);
            m.sessions_logged = Some(40);
            m.maxes.push(Max { lift: "back-squat".into(), kg, reps: 5, reserve: 0, date: Some(date) });
            m
        };
        let mut kit = Kit::usual();
        kit.counts.insert(Gear::Rack, 1);
        Class {
            members: vec![lifter("Bo", 120.0), lifter("Cy", 100.0)],
            kit,
            date,
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        }
    }

    #[test]
    fn turns_go_around_and_say_what_changes_on_the_bar() {
        let c = class();
        let sheet = crate::sheet::read("# strength\nback squat 2 x 3 @ 80% of 5rm").sheet;
        let p = plan(&sheet, &c, &Default::default(), &[], Options::default());
        let lift = &p.strength[0].lifts[0];
        let bars = Bars::of(&c.kit);
        let went = |kg| Attempt { kg, reps: 3, reserve: None, missed: false };
        let order = lift.racks.racks[0].members.clone();
        let kg = |i: usize| lift.of(i).unwrap().first_kg();
        let state = |sets: [usize; 2]| {
            rack_state(lift, 0, &p.members, &bars, |i| vec![went(kg(i)); sets[i]]).unwrap()
        };
        let s = state([0, 0]);
        assert_eq!((s.turn, s.change.clone()), (Some(0), (vec![], vec![])));
        let mut one = [0, 0];
        one[order[0]] = 1;
        let s = state(one);
        assert_eq!(s.turn, Some(1));
        // 96 to 95 against 80: 20 15 2.5 a side against 20 10
        let (off, on) = s.change;
        let plates: f64 = on.iter().sum::<f64>() - off.iter().sum::<f64>();
        assert_eq!(2.0 * plates, kg(order[1]) - kg(order[0]));
        assert_eq!(state([1, 1]).turn, Some(0));
        let s = state([2, 2]);
        assert_eq!((s.turn, s.lifters[0].why.as_str()), (None, "All sets are done."));
    }

    #[test]
    fn a_build_goes_from_the_first_set_to_the_new_base() {
        let c = class();
        let sheet = crate::sheet::read("# strength\nback squat build to 5rm in 15:00").sheet;
        let p = plan(&sheet, &c, &Default::default(), &[], Options::default());
        let lift = &p.strength[0].lifts[0];
        let (m, bars) = (&p.members[0], Bars::of(&c.kit));
        let mut done: Vec<Attempt> = Vec::new();
        // 3 left until 120, then one: the next 2.5 %, then nothing left
        for reserve in [4, 4, 4, 4, 3, 2, 1, 0, 0] {
            let Some(next) = lifter_state(lift, 0, m, &bars, &done).unwrap().next else { break };
            done.push(Attempt { kg: next.load_kg, reps: 5, reserve: Some(reserve), missed: false });
        }
        let s = lifter_state(lift, 0, m, &bars, &done).unwrap();
        assert!(s.next.is_none() && s.why.contains("day's best"), "{s:?}");
        let (best, kept) = new_base(lift, 0, m, &done, c.date).unwrap();
        assert_eq!((best.kg, best.reps, best.reserve, kept), (done.last().unwrap().kg, 5, 0, false));
        let mut known = m.clone();
        known.maxes.push(best.clone());
        assert!(new_base(lift, 0, &known, &done, c.date).unwrap().1);
    }

    #[test]
    fn who_looks_for_no_maximum_stays_with_the_planned_sets_and_has_no_base() {
        let mut c = class();
        c.members[0] = Member::unknown("Bo", Standard::Heavier, crate::pacing::Level::New);
        c.members[1].limits = vec![Limit::Pregnancy];
        let sheet = crate::sheet::read("# strength\nback squat build to 1rm in 15:00").sheet;
        let p = plan(&sheet, &c, &Default::default(), &[], Options::default());
        let lift = &p.strength[0].lifts[0];
        for (i, m) in p.members.iter().enumerate() {
            let planned: Vec<(u32, f64)> =
                lift.of(i).unwrap().working().map(|s| (s.reps, s.load_kg)).collect();
            assert!(planned.iter().all(|(reps, _)| *reps >= 3), "{planned:?}");
            let (mut done, bars) = (Vec::new(), Bars::of(&c.kit));
            while let Some(next) = lifter_state(lift, i, m, &bars, &done).unwrap().next {
                // as easy as can be: nobody is sent on for that
                done.push(Attempt { kg: next.load_kg, reps: next.reps, reserve: Some(9), missed: false });
                assert!(done.len() <= planned.len(), "{done:?}");
            }
            assert_eq!(done.iter().map(|a| (a.reps, a.kg)).collect::<Vec<_>>(), planned);
            assert_eq!(lifter_state(lift, i, m, &bars, &done).unwrap().why, "All sets are done.");
            assert_eq!(new_base(lift, i, m, &done, c.date), None);
        }
    }
}
