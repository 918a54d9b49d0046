//! Plans made lately, by everything that they were made from. Derived: losing one costs a moment and changes nothing.

use crate::metrics::PlanCounts;
use lantern_core::plan::{
    ClassPlan, Fitting, Gives, Input, Kept, Key, Memo, PlanOf, Stopped, Weighed, fitting, weigh,
};
use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError, Weak};
use std::time::Instant;

/// Plans that are kept: the classes of a few busy halls.
const KEPT: usize = 24;

/// Parts of plans that are kept: a class of 20 with two workouts has about 60.
const PARTS_KEPT: usize = 1500;

/// Ways to make a day fit, as they are shown.
pub struct Ways {
    /// The day as it stands.
    pub now: Gives,
    /// Every way that helps.
    pub all: Vec<Weighed>,
    /// The cheapest that together make it fit.
    pub together: Option<Fitting>,
}

/// What is known beside what is tried once: a way that nobody takes pushes no part of a plan out.
struct Trying<'a> {
    below: &'a Parts,
    own: Mutex<HashMap<Key, Kept>>,
    waiting: &'a Waiting,
}

impl Memo for Trying<'_> {
    fn find(&self, key: Key) -> Option<Kept> {
        let own = self.own.lock().unwrap_or_else(PoisonError::into_inner).get(&key).cloned();
        own.or_else(|| self.below.find(key))
    }

    fn keep(&self, key: Key, value: Kept) {
        self.own.lock().unwrap_or_else(PoisonError::into_inner).insert(key, value);
    }

    fn wanted(&self) -> bool {
        self.waiting.still()
    }
}

/// The cache.
pub struct PlanCache {
    counts: PlanCounts,
    whole: Mutex<VecDeque<(Key, Arc<ClassPlan>)>>,
    /// Plans that are being made: who asks for the same waits for the one that is made.
    making: Mutex<HashMap<Key, Arc<Flight>>>,
    parts: Parts,
    ways: Mutex<VecDeque<(Key, Arc<Ways>)>>,
}

/// Somebody who asks, for as long as they wait: dropped with their request.
#[derive(Default)]
pub struct Asker(Arc<()>);

/// Whether somebody who asked still waits.
#[derive(Clone)]
pub struct Waiting {
    asker: Weak<()>,
    /// A change to the database waits for it, with its connection.
    in_change: bool,
}

impl Asker {
    /// How others see that this one waits.
    pub fn waiting(&self) -> Waiting {
        Waiting { asker: Arc::downgrade(&self.0), in_change: false }
    }

    /// The same inside a change, which should find what it needs.
    pub fn waiting_in_change(&self) -> Waiting {
        Waiting { in_change: true, ..self.waiting() }
    }
}

impl Waiting {
    fn still(&self) -> bool {
        self.asker.strong_count() > 0
    }
}

/// A plan that is being made, for all who ask for it at once.
#[derive(Default)]
struct Flight {
    made: OnceLock<Result<Arc<ClassPlan>, Stopped>>,
    for_whom: Mutex<Vec<Waiting>>,
}

impl Flight {
    fn for_whom(&self) -> MutexGuard<'_, Vec<Waiting>> {
        self.for_whom.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// The parts that are known, as the maker of one plan sees them.
struct Flying<'a> {
    parts: &'a Parts,
    flight: &'a Flight,
}

impl Memo for Flying<'_> {
    fn find(&self, key: Key) -> Option<Kept> {
        self.parts.find(key)
    }

    fn keep(&self, key: Key, value: Kept) {
        self.parts.keep(key, value);
    }

    fn wanted(&self) -> bool {
        self.flight.for_whom().iter().any(Waiting::still)
    }
}

/// Parts of plans: what a decision does not touch is not computed again.
#[derive(Default)]
struct Parts(Mutex<Known>);

#[derive(Default)]
struct Known {
    now: u64,
    values: HashMap<Key, (u64, Kept)>,
}

impl Parts {
    fn lock(&self) -> MutexGuard<'_, Known> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

impl Memo for Parts {
    fn find(&self, key: Key) -> Option<Kept> {
        let mut known = self.lock();
        known.now += 1;
        let now = known.now;
        known.values.get_mut(&key).map(|(used, value)| {
            *used = now;
            Arc::clone(value)
        })
    }

    fn keep(&self, key: Key, value: Kept) {
        let mut known = self.lock();
        known.now += 1;
        let now = known.now;
        known.values.insert(key, (now, value));
        if known.values.len() > PARTS_KEPT {
            // the half that was used longest ago is forgotten
            let mut used: Vec<u64> = known.values.values().map(|(u, _)| *u).collect();
            used.sort_unstable();
            let from = used.get(used.len() / 2).copied().unwrap_or(0);
            known.values.retain(|_, (u, _)| *u >= from);
        }
    }
}

impl PlanCache {
    /// Nothing is known yet.
    pub fn new(counts: PlanCounts) -> PlanCache {
        PlanCache {
            counts,
            whole: Mutex::default(),
            making: Mutex::default(),
            parts: Parts::default(),
            ways: Mutex::default(),
        }
    }

    /// The plan of these inputs, made or found.
    ///
    /// # Errors
    /// `Stopped` where nobody who asked for it waits any more.
    pub fn plan(&self, of: PlanOf, waiting: &Waiting) -> Result<Arc<ClassPlan>, Stopped> {
        let key = Key::of(&of);
        loop {
            if let Some(found) = self.known(key) {
                self.counts.found.inc();
                return Ok(found);
            }
            let flight = Arc::clone(self.flights().entry(key).or_default());
            flight.for_whom().push(waiting.clone());
            let make = || match self.known(key) {
                // it may have been kept between the look and the flight
                Some(found) => Ok(found),
                None => self.make(&of, &flight, waiting),
            };
            let made = flight.made.get_or_init(make).clone();
            if let Ok(plan) = &made
                && self.known(key).is_none()
            {
                let mut kept = self.lock();
                kept.push_front((key, Arc::clone(plan)));
                kept.truncate(KEPT);
            }
            let mut flights = self.flights();
            if flights.get(&key).is_some_and(|f| Arc::ptr_eq(f, &flight)) {
                flights.remove(&key);
            }
            // who came when it had just been given up asks again
            if made.is_ok() || !waiting.still() {
                return made;
            }
        }
    }

    fn make(&self, of: &PlanOf, flight: &Flight, by: &Waiting) -> Result<Arc<ClassPlan>, Stopped> {
        if by.in_change {
            self.counts.in_change.inc();
        }
        let from = Instant::now();
        let made = of.make(&Flying { parts: &self.parts, flight }).map(Arc::new);
        match made {
            Ok(_) => {
                self.counts.made.inc();
                self.counts.made_s.observe(from.elapsed().as_secs_f64());
            }
            Err(Stopped) => self.counts.given_up.inc(),
        }
        made
    }

    /// Ways to make the day of a plan fit, weighed or found.
    ///
    /// # Errors
    /// `Stopped` where who asked for them does not wait any more.
    pub fn ways(&self, of: &PlanOf, plan: &ClassPlan, waiting: &Waiting) -> Result<Arc<Ways>, Stopped> {
        let lock = || self.ways.lock().unwrap_or_else(PoisonError::into_inner);
        let key = Key::of(of);
        if let Some((_, found)) = lock().iter().find(|(k, _)| *k == key) {
            return Ok(Arc::clone(found));
        }
        let memo = Trying { below: &self.parts, own: Mutex::default(), waiting };
        let now = Gives::of(plan);
        let all = weigh(of, plan, &memo)?;
        let together = fitting(of, &now, &all, &memo)?;
        let made = Arc::new(Ways { now, all, together });
        let mut kept = lock();
        kept.push_front((key, Arc::clone(&made)));
        kept.truncate(KEPT);
        Ok(made)
    }

    /// What is remembered of parts of plans.
    pub fn parts(&self) -> &dyn Memo {
        &self.parts
    }

    fn known(&self, key: Key) -> Option<Arc<ClassPlan>> {
        self.lock().iter().find(|(k, _)| *k == key).map(|(_, p)| Arc::clone(p))
    }

    fn flights(&self) -> MutexGuard<'_, HashMap<Key, Arc<Flight>>> {
        self.making.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn lock(&self) -> MutexGuard<'_, VecDeque<(Key, Arc<ClassPlan>)>> {
        // a panic elsewhere leaves at worst a missing entry
        self.whole.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::kit::Kit;
    use lantern_core::plan::{Class, Options};
    use lantern_core::roster::Member;
    use lantern_core::settings::Settings;
    use lantern_core::sheet::{Sheet, read};

    fn cache() -> PlanCache {
        PlanCache::new(crate::metrics::Metrics::new().unwrap().1)
    }

    fn sheet() -> Sheet {
        read("# workout cap 12:00\n3 rounds for time\n10 burpees\n200 m run").sheet
    }

    fn class() -> Class {
        Class {
            members: Member::archetypes(),
            kit: Kit::usual(),
            date: "2026-11-24".parse().unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        }
    }

    /// Does something with the inputs of a plan of so many runs.
    fn with<T>(runs: u32, what: impl FnOnce(PlanOf) -> T) -> T {
        let (sheet, class, settings) = (sheet(), class(), Settings::default());
        let options = Options { runs, ..Options::default() };
        what(PlanOf { sheet: &sheet, class: &class, settings: &settings, decisions: &[], options })
    }

    #[test]
    fn who_asks_for_the_same_at_once_gets_the_one_that_is_made() {
        let (cache, asker) = (cache(), Asker::default());
        let ask = |runs: u32| with(runs, |of| cache.plan(of, &asker.waiting())).unwrap();
        let all: Vec<Arc<ClassPlan>> = std::thread::scope(|s| {
            let asked: Vec<_> = (0..4).map(|_| s.spawn(|| ask(40))).collect();
            asked.into_iter().map(|a| a.join().unwrap()).collect()
        });
        assert!(all.iter().all(|p| Arc::ptr_eq(p, &all[0])), "one plan for all of them");
        assert!(Arc::ptr_eq(&ask(40), &all[0]) && !Arc::ptr_eq(&ask(41), &all[0]));
        assert!(cache.flights().is_empty());
        let counts = &cache.counts;
        assert_eq!((counts.made.get(), counts.made_s.get_sample_count(), counts.given_up.get()), (2, 2, 0));
    }

    #[test]
    fn a_plan_that_nobody_waits_for_is_not_made_and_one_who_waits_is_enough() {
        let cache = cache();
        let (gone, stays) = (Asker::default().waiting(), Asker::default());
        assert!(!gone.still() && stays.waiting().still());
        assert_eq!(with(40, |of| cache.plan(of, &gone)).err(), Some(Stopped));
        assert!(cache.parts.lock().values.is_empty() && cache.lock().is_empty(), "nothing of it is made");
        assert_eq!((cache.counts.given_up.get(), cache.counts.made.get()), (1, 0));
        // two ask for it, and one of them leaves
        let flight: Arc<Flight> = Arc::default();
        flight.for_whom().extend([gone.clone(), stays.waiting()]);
        let memo = Flying { parts: &cache.parts, flight: &flight };
        assert!(with(40, |of| of.make(&memo)).is_ok());
        drop(stays);
        assert!(!memo.wanted());
        assert!(with(41, |of| of.make(&memo)).is_err(), "the last one has left");
    }

    #[test]
    fn who_comes_when_it_was_just_given_up_gets_it_all_the_same() {
        let (cache, asker) = (cache(), Asker::default());
        let given_up = Flight { made: OnceLock::from(Err(Stopped)), for_whom: Mutex::default() };
        let key = with(40, |of| Key::of(&of));
        cache.flights().insert(key, Arc::new(given_up));
        assert!(with(40, |of| cache.plan(of, &asker.waiting())).is_ok());
        assert!(cache.flights().is_empty());
    }
}
