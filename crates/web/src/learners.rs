//! What halls have learnt, kept by the log that it follows from: it is worked out on from the longest beginning that is known.
//! Derived: losing one costs a moment and changes nothing.

use crate::error::WebError;
use chrono::NaiveDate;
use lantern_core::learning::{Held, Learner, Retest, first_day};
use lantern_store::{Connection, GymId, learning};
use std::collections::VecDeque;
use std::sync::{Arc, Mutex};

/// States that are kept: a few days of a few halls.
const KEPT: usize = 24;

/// The log that a state follows from: days with the count of their changes, and the tests of members.
#[derive(Debug, Clone, PartialEq)]
struct Log {
    gym: GymId,
    since: NaiveDate,
    days: Vec<(NaiveDate, i64)>,
    retests: Vec<Retest>,
}

/// The cache.
#[derive(Default)]
pub struct Learners(Mutex<VecDeque<(Log, Arc<Learner>)>>);

/// What is needed to learn until a day: a beginning, and the results that are new to it.
pub struct ToLearn {
    log: Log,
    begun: Option<Arc<Learner>>,
    held: Vec<Held>,
}

impl Learners {
    fn lock(&self) -> std::sync::MutexGuard<'_, VecDeque<(Log, Arc<Learner>)>> {
        // a panic elsewhere leaves at worst a missing entry
        self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
    }

    /// The longest known beginning of a log.
    fn beginning(&self, log: &Log) -> Option<(usize, Arc<Learner>)> {
        let begins = |l: &Log| {
            l.gym == log.gym
                && l.since == log.since
                && l.retests == log.retests
                && log.days.starts_with(&l.days)
        };
        let known = self.lock();
        let longest = known.iter().filter(|(l, _)| begins(l)).max_by_key(|(l, _)| l.days.len());
        longest.map(|(l, state)| (l.days.len(), Arc::clone(state)))
    }

    /// Reads what is needed to learn until a day: only results that are not learnt yet.
    ///
    /// # Errors
    /// When the database is away.
    pub fn read(&self, conn: &mut Connection, gym: GymId, until: NaiveDate) -> Result<ToLearn, WebError> {
        let since = first_day(until);
        let days = learning::days(conn, gym, until)?;
        let retests = learning::retests(conn, gym, since)?;
        let log = Log { gym, since, days, retests };
        let (done, begun) = match self.beginning(&log) {
            Some((done, state)) => (done, Some(state)),
            None => (0, None),
        };
        let held = match log.days.get(done) {
            Some((from, _)) => learning::log(conn, gym, *from, until)?,
            None => Vec::new(),
        };
        Ok(ToLearn { log, begun, held })
    }

    /// Learns it.
    pub fn learn(&self, to: ToLearn) -> Arc<Learner> {
        let ToLearn { log, begun, held } = to;
        let learnt = match (begun, held.is_empty()) {
            (Some(state), true) => state,
            (begun, _) => {
                let mut state =
                    begun.map_or_else(|| Learner::new(log.retests.clone()), |s| Learner::clone(&s));
                held.iter().for_each(|h| {
                    state.learn(h);
                });
                Arc::new(state)
            }
        };
        let mut kept = self.lock();
        kept.retain(|(l, _)| *l != log);
        kept.push_front((log, Arc::clone(&learnt)));
        kept.truncate(KEPT);
        learnt
    }
}
