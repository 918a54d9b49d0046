//! What was computed before, by everything that it was computed from. A memo may forget anything at any time; a plan made with
//! one is the plan made without.
//!
//! An [`Input`] makes its value from itself alone, and all of itself is the key: a part that is left out of the key cannot be
//! used, because it is not there. The key is a digest of the derived `Debug` text, which leaves out no field, says every bit of a
//! number and is written for all that a plan is made of (what is stored may skip a field: it is no key).

use sha2::{Digest, Sha256};
use std::any::{Any, type_name};
use std::fmt::{self, Debug, Write};
use std::ops::Deref;
use std::sync::{Arc, OnceLock};

/// A value of any kind that several plans may share.
pub type Kept = Arc<dyn Any + Send + Sync>;

/// Which value: no two inputs share one.
#[derive(Clone, Copy, PartialEq, Eq, Hash, Debug)]
pub struct Key {
    /// Of what type the input is.
    pub kind: &'static str,
    digest: [u8; 32],
}

impl Key {
    /// The key of a value of type `T` with all that is in it.
    pub fn of<T: Debug>(value: &T) -> Key {
        let mut to = Digesting(Sha256::new());
        // writing to a digest cannot fail, and no derived text does
        let _ = write!(to, "{value:?}");
        Key { kind: type_name::<T>(), digest: to.0.finalize().into() }
    }
}

struct Digesting(Sha256);

impl Write for Digesting {
    fn write_str(&mut self, s: &str) -> fmt::Result {
        self.0.update(s.as_bytes());
        Ok(())
    }
}

/// Remembers values by key, or does not.
pub trait Memo: Sync {
    /// The value of a key, if it is still known.
    fn find(&self, key: Key) -> Option<Kept>;
    /// Keeps a value, for as long as it likes.
    fn keep(&self, key: Key, value: Kept);
    /// Whether anything is kept at all: else no key is worked out.
    fn remembers(&self) -> bool {
        true
    }
    /// Whether somebody still waits for what is made: asked before each part.
    fn wanted(&self) -> bool {
        true
    }
}

/// Nobody waited for it any more: it was not made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("nobody waited for it any more")]
pub struct Stopped;

/// Remembers nothing.
#[derive(Debug, Clone, Copy, Default)]
pub struct Forgetful;

impl Memo for Forgetful {
    fn find(&self, _: Key) -> Option<Kept> {
        None
    }

    fn keep(&self, _: Key, _: Kept) {}

    fn remembers(&self) -> bool {
        false
    }
}

/// All that a value is made of.
pub trait Input: Debug {
    /// What is made of it.
    type Made: Send + Sync + 'static;

    /// Makes it of this alone. The memo is for what is made on the way.
    ///
    /// # Errors
    /// `Stopped` where a part that it needs was not made.
    fn make(&self, memo: &dyn Memo) -> Result<Self::Made, Stopped>;
}

/// The value of an input, from the memo or made.
///
/// # Errors
/// `Stopped` where it is not known and nobody waits for it.
pub fn recall<I: Input>(memo: &dyn Memo, input: &I) -> Result<Arc<I::Made>, Stopped> {
    let key = memo.remembers().then(|| Key::of(input));
    let known = key.and_then(|k| memo.find(k)).and_then(|v| v.downcast::<I::Made>().ok());
    if let Some(found) = known {
        return Ok(found);
    }
    if !memo.wanted() {
        return Err(Stopped);
    }
    let made = Arc::new(input.make(memo)?);
    if let Some(key) = key {
        memo.keep(key, made.clone());
    }
    Ok(made)
}

/// Something that many inputs hold: it cannot be changed any more, and stands in their keys by its own.
pub struct Sealed<T> {
    value: T,
    key: OnceLock<Key>,
}

impl<T> Sealed<T> {
    /// Closes it.
    pub fn new(value: T) -> Sealed<T> {
        Sealed { value, key: OnceLock::new() }
    }
}

impl<T> Deref for Sealed<T> {
    type Target = T;

    fn deref(&self) -> &T {
        &self.value
    }
}

impl<T: Debug> Debug for Sealed<T> {
    fn fmt(&self, f: &mut fmt::Formatter) -> fmt::Result {
        self.key.get_or_init(|| Key::of(&self.value)).fmt(f)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::HashMap;
    use std::sync::Mutex;

    #[derive(Default)]
    struct All {
        known: Mutex<HashMap<Key, Kept>>,
        left: bool,
    }

    impl Memo for All {
        fn find(&self, key: Key) -> Option<Kept> {
            self.known.lock().unwrap().get(&key).cloned()
        }

        fn keep(&self, key: Key, value: Kept) {
            self.known.lock().unwrap().insert(key, value);
        }

        fn wanted(&self) -> bool {
            !self.left
        }
    }

    #[derive(Debug)]
    struct Twice<'a>(&'a Sealed<f64>, Option<u32>);
    #[derive(Debug)]
    struct Thrice<'a>(&'a Sealed<f64>, Option<u32>);

    impl Input for Twice<'_> {
        type Made = f64;

        fn make(&self, _: &dyn Memo) -> Result<f64, Stopped> {
            Ok(2.0 * **self.0 + f64::from(self.1.unwrap_or(0)))
        }
    }

    impl Input for Thrice<'_> {
        type Made = f64;

        fn make(&self, memo: &dyn Memo) -> Result<f64, Stopped> {
            Ok(*recall(memo, &Twice(self.0, self.1))? + **self.0)
        }
    }

    #[test]
    fn the_same_inputs_are_computed_once_and_others_anew() {
        let memo = All::default();
        let (two, three) = (Sealed::new(2.0), Sealed::new(3.0));
        let thrice = |of: &Sealed<f64>, more| recall(&memo, &Thrice(of, more)).unwrap();
        let first = thrice(&two, None);
        assert_eq!((*first, memo.known.lock().unwrap().len()), (6.0, 2), "itself, and what it is made with");
        assert!(Arc::ptr_eq(&first, &thrice(&two, None)), "remembered");
        assert!(Arc::ptr_eq(&first, &thrice(&Sealed::new(2.0), None)), "by what is in it");
        assert_eq!(recall(&memo, &Twice(&two, None)).as_deref(), Ok(&4.0), "another kind");
        assert_eq!(*thrice(&three, None), 9.0);
        assert!(!Arc::ptr_eq(&first, &thrice(&two, Some(0))), "every field counts");
        let anew = || recall(&Forgetful, &Twice(&two, None)).unwrap();
        assert!(!Arc::ptr_eq(&anew(), &anew()), "forgotten");
    }

    #[test]
    fn what_nobody_waits_for_is_not_made_and_what_is_known_is_still_found() {
        let two = Sealed::new(2.0);
        let mut memo = All::default();
        let known = recall(&memo, &Twice(&two, None)).unwrap();
        memo.left = true;
        assert_eq!(recall(&memo, &Twice(&two, None)).as_deref(), Ok(&*known));
        assert_eq!(recall(&memo, &Thrice(&two, None)), Err(Stopped));
        assert_eq!(memo.known.lock().unwrap().len(), 1, "nothing half made is kept");
    }

    #[test]
    fn what_the_eye_takes_for_the_same_has_another_key() {
        let keys =
            [0.0, -0.0, f64::NAN, f64::INFINITY, f64::NEG_INFINITY, 0.1 + 0.2, 0.3].map(|x| Key::of(&x));
        for (i, k) in keys.iter().enumerate() {
            assert!(!keys[i + 1..].contains(k), "number {i}");
        }
        assert_ne!(Key::of(&("a", "b")), Key::of(&("a\", \"b",)));
        assert_ne!(Key::of(&1u8), Key::of(&1u16), "a type is part of it");
    }
}
