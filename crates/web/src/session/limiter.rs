//! Tries at passwords and codes, by whose they are and from where: after five within ten minutes the next has to wait. Kept by
//! each process.

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
    /// Takes one try; of many at once each is counted. Who succeeds clears them.
    ///
    /// # Errors
    /// The sentence that says how long to wait for the next.
    pub fn take(&self, who: &str) -> Result<(), String> {
        let mut map = self.0.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if let Some(minutes) = wait(&map, who) {
            return Err(format!("Too many tries. Wait {minutes} min and try again."));
        }
        count(&mut map, who);
        Ok(())
    }

    /// Forgets the tries of somebody who got in.
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
    fn of_many_tries_at_once_five_are_let_through_and_success_forgets() {
        let l = Limiter::default();
        let through = (0..12).filter(|_| l.take("a").is_ok()).count();
        let wait = Err("Too many tries. Wait 10 min and try again.".to_owned());
        assert_eq!((through, l.take("a"), l.take("b")), (5, wait, Ok(())));
        l.clear("a");
        assert_eq!(l.take("a"), Ok(()));
    }
}
