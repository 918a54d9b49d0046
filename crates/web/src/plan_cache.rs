//! Plans made lately, by everything that they were made from. Derived: losing one costs a moment and changes nothing.

use lantern_core::plan::{Class, ClassPlan, Decision, Options, plan};
use lantern_core::settings::Settings;
use lantern_core::sheet::Sheet;
use std::collections::VecDeque;
use std::sync::{Arc, Mutex};

/// Plans that are kept: the classes of a few busy halls.
const KEPT: usize = 24;

/// The cache.
#[derive(Default)]
pub struct PlanCache(Mutex<VecDeque<(String, Arc<ClassPlan>)>>);

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
        if let Some(found) = self.lock().iter().find(|(k, _)| *k == key) {
            return Arc::clone(&found.1);
        }
        let made = Arc::new(plan(sheet, class, settings, decisions, options));
        let mut kept = self.lock();
        kept.push_front((key, Arc::clone(&made)));
        kept.truncate(KEPT);
        made
    }

    fn lock(&self) -> std::sync::MutexGuard<'_, VecDeque<(String, Arc<ClassPlan>)>> {
        // a panic elsewhere leaves at worst a missing entry
        self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
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
