//! The coach's own stimulus, typed on its screen in the words of the sheet.

use super::{Said, Stimulus};
use crate::sheet::{Severity, TargetUnit, Wish, read, read_clock, read_number};
use serde::{Deserialize, Serialize};

/// What the coach says a workout should be like.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Chosen {
    /// From, in the window's unit; open below without.
    pub low: Option<f64>,
    /// To; open above without.
    pub high: Option<f64>,
    /// s.
    pub cap_s: Option<f64>,
    /// What every version keeps.
    pub wishes: Vec<Wish>,
}

/// The fields as typed.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Typed {
    /// From.
    pub low: String,
    /// To.
    pub high: String,
    /// Cap.
    pub cap: String,
    /// One line each, as on a sheet.
    pub keep: String,
}

/// What is wrong with a field, in a sentence that says what to write.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Wrong {
    /// The window.
    pub window: Option<String>,
    /// The cap.
    pub cap: Option<String>,
    /// What to keep.
    pub keep: Option<String>,
}

/// Reads the fields for a window of some unit.
///
/// # Errors
/// The field and what to write there; nothing is taken when one is wrong.
pub fn read_typed(typed: &Typed, unit: TargetUnit) -> Result<Chosen, Wrong> {
    let mut wrong = Wrong::default();
    let mut window = |text: &str| -> Option<f64> {
        if text.trim().is_empty() {
            return None;
        }
        let value = match unit {
            TargetUnit::Seconds | TargetUnit::Rest => read_clock(text, 60.0).map(f64::from),
            TargetUnit::Rounds | TargetUnit::Reps => read_number(text),
        };
        if value.is_none() {
            wrong.window = Some(match unit {
                TargetUnit::Seconds | TargetUnit::Rest => {
                    format!("“{}” is no time. Write, say, 9:00.", text.trim())
                }
                _ => format!("“{}” is no number. Write, say, 5 or 5.5.", text.trim()),
            });
        }
        value
    };
    let (low, high) = (window(&typed.low), window(&typed.high));
    let cap_s = if typed.cap.trim().is_empty() {
        None
    } else {
        let cap = read_clock(&typed.cap, 60.0).filter(|s| *s >= 30).map(f64::from);
        if cap.is_none() {
            wrong.cap = Some("A cap is a time of at least 0:30. Write, say, 14:00.".to_owned());
        }
        cap
    };
    if let (Some(l), Some(h)) = (low, high)
        && l > h
    {
        wrong.window = Some("The window runs from high to low. Write the smaller figure first.".to_owned());
    }
    if let (TargetUnit::Seconds, Some(l), Some(c)) = (unit, low.or(high), cap_s)
        && high.unwrap_or(l) > c
    {
        wrong.window = Some("The window ends after the cap. Raise the cap or lower the window.".to_owned());
    }
    let wishes = match read_keep(&typed.keep) {
        Ok(wishes) => wishes,
        Err(message) => {
            wrong.keep = Some(message);
            Vec::new()
        }
    };
    if wrong == Wrong::default() { Ok(Chosen { low, high, cap_s, wishes }) } else { Err(wrong) }
}

/// Lines such as `sets: power clean <= 2`, read as on a sheet.
fn read_keep(text: &str) -> Result<Vec<Wish>, String> {
    const HEAD: u32 = 2;
    let lines: Vec<&str> = text.lines().filter(|l| !l.trim().is_empty()).collect();
    let reading = read(&format!("# workout\nfor time\n{}", lines.join("\n")));
    if let Some(p) = reading.problems.iter().find(|p| p.severity == Severity::Error && p.line > HEAD) {
        return Err(p.message.clone());
    }
    let wishes = reading.sheet.blocks.first().map(|b| b.wishes.clone()).unwrap_or_default();
    if wishes.len() < lines.len() {
        return Err(
            "Write one wish a line, say sets: power clean <= 2, or rest: >= 0:30 each cycle.".to_owned()
        );
    }
    Ok(wishes)
}

impl Stimulus {
    /// The stimulus with the coach's own window, cap and wishes.
    pub fn chosen(mut self, c: &Chosen) -> Stimulus {
        (self.low, self.high, self.cap_s) = (c.low, c.high, c.cap_s);
        self.wishes.clone_from(&c.wishes);
        self.said = Said::Coach;
        self
    }

    /// The fields as the screen shows them.
    pub fn typed(&self) -> Typed {
        let figure = |v: Option<f64>| v.map(|v| self.write(v)).unwrap_or_default();
        Typed {
            low: figure(self.low),
            high: figure(self.high),
            cap: self.cap_s.map(crate::units::clock).unwrap_or_default(),
            keep: self.wishes.iter().map(crate::sheet::wish_line).collect::<Vec<_>>().join("\n"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn typed(low: &str, high: &str, cap: &str, keep: &str) -> Typed {
        Typed { low: low.into(), high: high.into(), cap: cap.into(), keep: keep.into() }
    }

    #[test]
    fn a_window_is_read_in_the_unit_of_the_work() {
        let c = read_typed(
            &typed("9", "12:00", "14:00", "sets: power clean <= 2\n\nlimit: grip"),
            TargetUnit::Seconds,
        );
        let c = c.expect("all fields are good");
        assert_eq!((c.low, c.high, c.cap_s), (Some(540.0), Some(720.0), Some(840.0)));
        assert_eq!(c.wishes.len(), 2);
        let c = read_typed(&typed("5.5", "", "", ""), TargetUnit::Rounds).expect("rounds");
        assert_eq!((c.low, c.high, c.cap_s), (Some(5.5), None, None));
    }

    #[test]
    fn each_wrong_field_says_what_to_write() {
        let w = read_typed(&typed("soon", "12:00", "0:05", "be quick"), TargetUnit::Seconds)
            .expect_err("all wrong");
        assert!(w.window.is_some_and(|m| m.contains("soon")));
        assert!(w.cap.is_some() && w.keep.is_some());
        let w = read_typed(&typed("12:00", "9:00", "", ""), TargetUnit::Seconds).expect_err("backwards");
        assert!(w.window.is_some_and(|m| m.contains("high to low")));
        let w =
            read_typed(&typed("9:00", "12:00", "10:00", ""), TargetUnit::Seconds).expect_err("past the cap");
        assert!(w.window.is_some_and(|m| m.contains("cap")));
        let w =
            read_typed(&typed("", "", "", "sets: pogo hops <= 2"), TargetUnit::Reps).expect_err("unknown");
        assert!(w.keep.is_some_and(|m| m.contains("pogo hops")));
    }

    #[test]
    fn what_is_shown_reads_as_the_same() {
        let text = "# workout cap 14:00 target 9:00-12:00\n3 rounds for time\n9 pull-ups\nunbroken: pull-up >= half\nround: <= 4:00";
        let block = read(text).sheet.blocks[0].clone();
        let s = Stimulus::of_sheet(&block, block.target.expect("target"), None);
        let c = read_typed(&s.typed(), s.unit).expect("its own words");
        assert_eq!((c.low, c.high, c.cap_s, &c.wishes), (s.low, s.high, s.cap_s, &s.wishes));
    }
}
