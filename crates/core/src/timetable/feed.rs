//! Bookings and cancellations that another program sends.

use crate::kinds::words;
use chrono::NaiveDateTime;
use serde::{Deserialize, Serialize};

/// Longest name of an event or a member, characters.
const MOST: usize = 80;

words! {
    /// What happened.
    Happened {
        Booked = "booked",
        Cancelled = "cancelled",
    }
}

words! {
    /// What became of an event.
    Outcome {
        Done = "done",
        AsItWas = "as-it-was",
        NoClass = "no-class",
        SeveralClasses = "several-classes",
        NoMember = "no-member",
    }
}

impl Outcome {
    /// Whether a coach has to look at it.
    pub fn open(self) -> bool {
        !matches!(self, Outcome::Done | Outcome::AsItWas)
    }

    /// As people read it.
    pub fn says(self) -> &'static str {
        match self {
            Outcome::Done => "done",
            Outcome::AsItWas => "it was so already",
            Outcome::NoClass => "no class starts then",
            Outcome::SeveralClasses => "several classes start then",
            Outcome::NoMember => "nobody here is called so",
        }
    }
}

/// Something that happened elsewhere.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Event {
    /// Its key there: sent again, it is done once.
    pub event: String,
    /// What.
    pub what: Happened,
    /// Start of the class on the hall's clock, `2026-11-24T18:00`.
    pub starts_at: String,
    /// Name of the member as in the hall's list.
    pub member: String,
}

impl Event {
    /// Reads one; what is wrong in words.
    ///
    /// # Errors
    /// Names the field.
    pub fn read(json: &str) -> Result<(Event, NaiveDateTime), String> {
        let e: Event = serde_json::from_str(json).map_err(|e| format!("this is no event: {e}"))?;
        for (name, text) in [("event", &e.event), ("member", &e.member)] {
            if text.trim().is_empty() || text.chars().count() > MOST || text.contains(char::is_control) {
                return Err(format!(
                    "{name}: 1 to {MOST} characters are needed, none of them a control sign"
                ));
            }
        }
        let at = ["%Y-%m-%dT%H:%M", "%Y-%m-%dT%H:%M:%S"]
            .into_iter()
            .find_map(|form| NaiveDateTime::parse_from_str(&e.starts_at, form).ok());
        let at = at.ok_or("starts_at: write day and hour on the hall's clock, say 2026-11-24T18:00")?;
        Ok((e, at))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_event_is_read_whole_or_refused_at_its_field() {
        let text = |at: &str, member: &str| {
            format!("{{\"event\":\"e1\",\"what\":\"booked\",\"starts_at\":\"{at}\",\"member\":\"{member}\"}}")
        };
        let (e, at) = Event::read(&text("2026-11-24T18:00", "Ada V.")).unwrap();
        assert_eq!((e.what, at.to_string().as_str()), (Happened::Booked, "2026-11-24 18:00:00"));
        assert!(Event::read(&text("2026-11-24T18:00:30", "Ada V.")).is_ok());
        for (json, words) in [
            (text("tonight", "Ada V."), "starts_at"),
            (text("2026-11-24T18:00", " "), "member"),
            (text("2026-11-24T18:00", &"a".repeat(81)), "member"),
            (text("2026-11-24T18:00", "Ada\\u0000"), "control sign"),
            (text("2026-11-24T18:00", "A").replace("booked", "eaten"), "eaten"),
            (text("2026-11-24T18:00", "A").replace("\"event\"", "\"evil\""), "evil"),
            ("[]".to_owned(), "no event"),
            (String::new(), "no event"),
        ] {
            let wrong = Event::read(&json).unwrap_err();
            assert!(wrong.contains(words), "{json}: {wrong}");
        }
    }
}
