//! Failed sign-ins by address: after five within ten minutes the next has to wait. Kept by each process.

use std::collections::HashMap;
use std::sync::Mutex;
use std::time::{Duration, Instant};

const MOST: usize = 5;
const WITHIN: Duration = Duration::from_secs(600);
/// Addresses kept: a flood of invented ones must not fill the memory.
const MOST_KEPT: usize = 10_000;

/// The counter.
#[derive(Default)]
pub struct Limiter(Mutex<HashMap<String, Vec<Instant>>>);

impl Limiter {
    /// Minutes to wait before the next try; `None`: try now.
    pub fn wait_minutes(&self, who: &str) -> Option<u64> {
        wait(&self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner), who)
    }

    /// Takes one try, or says how many minutes to wait for the next: of many at once each is counted. Who succeeds clears them.
    pub fn take(&self, who: &str) -> Result<(), u64> {
        let mut map = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        match wait(&map, who) {
            Some(minutes) => Err(minutes),
            None => {
                count(&mut map, who);
                Ok(())
            }
        }
    }

    /// Counts a failure.
    pub fn failed(&self, who: &str) {
        count(&mut self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner), who);
    }

    /// Forgets the failures of somebody who got in.
    pub fn clear(&self, who: &str) {
        self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner).remove(who);
    }
}

type Tries = HashMap<String, Vec<Instant>>;

fn wait(map: &Tries, who: &str) -> Option<u64> {
    let recent: Vec<&Instant> = map.get(who)?.iter().filter(|t| t.elapsed() < WITHIN).collect();
    let oldest = recent.iter().map(|t| t.elapsed()).max()?;
    (recent.len() >= MOST).then(|| (WITHIN.saturating_sub(oldest)).as_secs() / 60 + 1)
}

fn count(map: &mut Tries, who: &str) {
    if map.len() >= MOST_KEPT {
        map.retain(|_, v| v.iter().any(|t| t.elapsed() < WITHIN));
    }
    if map.len() < MOST_KEPT {
        let list = map.entry(who.to_owned()).or_default();
        list.retain(|t| t.elapsed() < WITHIN);
        list.push(Instant::now());
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_sixth_try_has_to_wait_and_success_forgets() {
        let l = Limiter::default();
        for _ in 0..5 {
            assert_eq!(l.wait_minutes("a"), None);
            l.failed("a");
        }
        assert_eq!(l.wait_minutes("a"), Some(10));
        assert_eq!(l.wait_minutes("b"), None);
        l.clear("a");
        assert_eq!(l.wait_minutes("a"), None);
    }

    #[test]
    fn of_many_tries_at_once_five_are_let_through() {
        let l = Limiter::default();
        let through = (0..12).filter(|_| l.take("a").is_ok()).count();
        assert_eq!((through, l.take("a"), l.take("b")), (5, Err(10), Ok(())));
        l.clear("a");
        assert_eq!(l.take("a"), Ok(()));
    }
}
