//! What was computed before, by everything that it was computed from. A memo may forget anything at any time; a plan made with
//! one is the plan made without.

use serde::Serialize;
use std::any::Any;
use std::sync::Arc;

/// A value of any kind that several plans may share.
pub type Kept = Arc<dyn Any + Send + Sync>;

/// Remembers values by key, or does not.
pub trait Memo: Sync {
    /// The value of a key, if it is still known.
    fn find(&self, key: &str) -> Option<Kept>;
    /// Keeps a value, for as long as it likes.
    fn keep(&self, key: String, value: Kept);
}

/// Remembers nothing.
#[derive(Debug, Clone, Copy, Default)]
pub struct Forgetful;

impl Memo for Forgetful {
    fn find(&self, _: &str) -> Option<Kept> {
        None
    }

    fn keep(&self, _: String, _: Kept) {}
}

/// The value for these inputs, from the memo or made. The key is the inputs written out: no two inputs share one, and what
/// cannot be written is not kept.
pub fn recall<T: Send + Sync + 'static>(
    memo: &dyn Memo,
    kind: &str,
    inputs: impl Serialize,
    make: impl FnOnce() -> T,
) -> Arc<T> {
    let Ok(inputs) = serde_json::to_string(&inputs) else { return Arc::new(make()) };
    let key = format!("{kind} {inputs}");
    if let Some(found) = memo.find(&key).and_then(|v| v.downcast::<T>().ok()) {
        return found;
    }
    let made = Arc::new(make());
    memo.keep(key, made.clone());
    made
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::HashMap;
    use std::sync::Mutex;

    #[derive(Default)]
    struct All(Mutex<HashMap<String, Kept>>);

    impl Memo for All {
        fn find(&self, key: &str) -> Option<Kept> {
            self.0.lock().unwrap().get(key).cloned()
        }

        fn keep(&self, key: String, value: Kept) {
            self.0.lock().unwrap().insert(key, value);
        }
    }

    #[test]
    fn the_same_inputs_are_computed_once_and_others_anew() {
        let memo = All::default();
        let twice = |n: u32| *recall(&memo, "twice", n, || 2 * n);
        assert_eq!((twice(2), twice(3)), (4, 6));
        assert_eq!(*recall(&memo, "twice", 2, || 0u32), 4, "remembered");
        assert_eq!(*recall(&memo, "thrice", 2, || 6u32), 6, "another kind");
        assert_eq!(*recall(&Forgetful, "twice", 2, || 0u32), 0, "forgotten");
        assert_eq!(*recall(&memo, "twice", 2, String::new), String::new(), "another type is made anew");
    }
}
