//! What a hall warmed up with lately: the same drill day after day is one that nobody listens to any more.

use serde::{Deserialize, Deserializer};

/// Factors on the gain of a drill of the last day, and of the two before (own).
const LAST_DAY: f64 = 0.25;
const THREE_DAYS: f64 = 0.5;
/// A drill stands on no more than one day in so many, where another does as well (own).
const ONE_DAY_IN: usize = 4;
const TOO_OFTEN: f64 = 0.35;

/// Days of drills, the newest first, one list a day on which a class was held.
#[derive(Debug, Clone, Copy)]
pub(super) struct Lately<'a>(pub &'a [Vec<String>]);

impl Lately<'_> {
    fn on(&self, drill: &str) -> impl Iterator<Item = usize> + '_ {
        let drill = drill.to_owned();
        self.0.iter().enumerate().filter(move |(_, day)| day.contains(&drill)).map(|(i, _)| i)
    }

    /// It was done on the last day.
    pub fn yesterday(&self, drill: &str) -> bool {
        self.on(drill).next() == Some(0)
    }

    /// What is left of a drill's gain.
    pub fn share(&self, drill: &str) -> f64 {
        let near = match self.on(drill).next() {
            Some(0) => LAST_DAY,
            Some(1 | 2) => THREE_DAYS,
            _ => 1.0,
        };
        let often = (self.on(drill).count() + 1) * ONE_DAY_IN > self.0.len() + 1;
        if often && self.0.len() >= ONE_DAY_IN { near * TOO_OFTEN } else { near }
    }
}

/// Days of drills as they are kept now, or one list for all as they were.
///
/// # Errors
/// When it is neither.
pub fn days_of_drills<'de, D: Deserializer<'de>>(from: D) -> Result<Vec<Vec<String>>, D::Error> {
    #[derive(Deserialize)]
    #[serde(untagged)]
    enum Kept {
        Days(Vec<Vec<String>>),
        Together(Vec<String>),
    }
    Ok(match Kept::deserialize(from)? {
        Kept::Days(days) => days,
        Kept::Together(all) => vec![all],
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn days(of: &[&[&str]]) -> Vec<Vec<String>> {
        of.iter().map(|d| d.iter().map(|x| (*x).to_owned()).collect()).collect()
    }

    #[test]
    fn the_nearer_and_the_more_often_the_less() {
        let all = days(&[&["a"], &["b"], &["c"], &["d", "e"], &["e"], &["f"], &["g"]]);
        let l = Lately(&all);
        assert_eq!((l.share("a"), l.share("b"), l.share("c"), l.share("d")), (0.25, 0.5, 0.5, 1.0));
        // twice in seven days, and once more would be more than one day in four
        assert_eq!((l.share("e"), l.share("new")), (0.35, 1.0));
        assert!(l.yesterday("a") && !l.yesterday("b") && !l.yesterday("new"));
        assert_eq!(Lately(&[]).share("a"), 1.0);
    }

    #[test]
    fn lists_that_were_kept_together_are_still_read() {
        #[derive(Deserialize)]
        struct Kept {
            #[serde(deserialize_with = "days_of_drills")]
            drills: Vec<Vec<String>>,
        }
        let read = |text: &str| serde_json::from_str::<Kept>(text).unwrap().drills;
        assert_eq!(read(r#"{"drills":["a","b"]}"#), days(&[&["a", "b"]]));
        assert_eq!(read(r#"{"drills":[["a"],["b"]]}"#), days(&[&["a"], &["b"]]));
        assert!(read(r#"{"drills":[]}"#).is_empty());
    }
}
