//! Plans made lately, by everything that they were made from. Derived: losing one costs a moment and changes nothing.

use lantern_core::plan::{Class, ClassPlan, Decision, Kept, Memo, Options, plan_with};
use lantern_core::settings::Settings;
use lantern_core::sheet::Sheet;
use std::collections::{HashMap, VecDeque};
use std::sync::{Arc, Mutex, OnceLock};

/// Plans that are kept: the classes of a few busy halls.
const KEPT: usize = 24;

/// Parts of plans that are kept: a class of 20 with two workouts has about 60.
const PARTS_KEPT: usize = 1500;

/// The cache.
#[derive(Default)]
pub struct PlanCache {
    whole: Mutex<VecDeque<(String, Arc<ClassPlan>)>>,
    /// Plans that are being made: who asks for the same waits for the one that is made.
    making: Mutex<HashMap<String, Arc<OnceLock<Arc<ClassPlan>>>>>,
    parts: Parts,
}

/// Parts of plans: what a decision does not touch is not computed again.
#[derive(Default)]
struct Parts(Mutex<Known>);

#[derive(Default)]
struct Known {
    now: u64,
    values: HashMap<String, (u64, Kept)>,
}

impl Parts {
    fn lock(&self) -> std::sync::MutexGuard<'_, Known> {
        self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
    }
}

impl Memo for Parts {
    fn find(&self, key: &str) -> Option<Kept> {
        let mut known = self.lock();
        known.now += 1;
        let now = known.now;
        known.values.get_mut(key).map(|(used, value)| {
            *used = now;
            Arc::clone(value)
        })
    }

    fn keep(&self, key: String, value: Kept) {
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
    /// The plan for these inputs, made or found. `text` is the sheet's text: the sheet follows from it.
    pub fn plan(
        &self,
        text: &str,
        sheet: &Sheet,
        class: &Class,
        settings: &Settings,
        decisions: &[Decision],
        options: Options,
    ) -> Arc<ClassPlan> {
        let key = key(text, class, settings, decisions, options);
        let known = || self.lock().iter().find(|(k, _)| *k == key).map(|(_, p)| Arc::clone(p));
        if let Some(found) = known() {
            return found;
        }
        let flight = Arc::clone(self.flights().entry(key.clone()).or_default());
        // it may have been kept between the look and the flight
        let make = || {
            known().unwrap_or_else(|| {
                Arc::new(plan_with(sheet, class, settings, decisions, options, &self.parts))
            })
        };
        let made = Arc::clone(flight.get_or_init(make));
        if known().is_none() {
            let mut kept = self.lock();
            kept.push_front((key.clone(), Arc::clone(&made)));
            kept.truncate(KEPT);
        }
        self.flights().remove(&key);
        made
    }

    /// What is remembered of parts of plans.
    pub fn parts(&self) -> &dyn Memo {
        &self.parts
    }

    fn flights(&self) -> std::sync::MutexGuard<'_, HashMap<String, Arc<OnceLock<Arc<ClassPlan>>>>> {
        self.making.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, VecDeque<(String, Arc<ClassPlan>)>> {
        // a panic elsewhere leaves at worst a missing entry
        self.whole.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
    }
}

/// Everything that the plan is a function of, written out: no two inputs share a key.
fn key(text: &str, class: &Class, settings: &Settings, decisions: &[Decision], options: Options) -> String {
    let inputs = (
        text,
        &class.members,
        &class.kit,
        class.date,
        class.length_s,
        &class.recent_drills,
        &class.cycles,
        settings,
        decisions,
        (options.as_written, options.runs, options.seed),
    );
    serde_json::to_string(&inputs).unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::kit::Kit;
    use lantern_core::roster::Member;
    use lantern_core::sheet::read;

    #[test]
    fn who_asks_for_the_same_at_once_gets_the_one_that_is_made() {
        let text = "# workout cap 12:00\n3 rounds for time\n10 burpees\n200 m run";
        let sheet = read(text).sheet;
        let class = Class {
            members: Member::archetypes(),
            kit: Kit::usual(),
            date: "2026-11-24".parse().unwrap(),
            length_s: None,
            recent_drills: Vec::new(),
            cycles: Vec::new(),
        };
        let cache = PlanCache::default();
        let ask = |runs: u32| {
            let options = Options { runs, ..Options::default() };
            cache.plan(text, &sheet, &class, &Settings::default(), &[], options)
        };
        let all: Vec<Arc<ClassPlan>> = std::thread::scope(|s| {
            let asked: Vec<_> = (0..4).map(|_| s.spawn(|| ask(40))).collect();
            asked.into_iter().map(|a| a.join().unwrap()).collect()
        });
        assert!(all.iter().all(|p| Arc::ptr_eq(p, &all[0])), "one plan for all of them");
        assert!(Arc::ptr_eq(&ask(40), &all[0]) && !Arc::ptr_eq(&ask(41), &all[0]));
        assert!(cache.flights().is_empty());
    }
}
